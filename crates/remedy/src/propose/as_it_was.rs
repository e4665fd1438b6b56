//! What both versions have, as it was in one respect or in all.

use charter_compare::{Change, What};
use charter_contract::{Component, Contract};
use charter_notation::{ElementInfo, Prefixes};
use charter_source::{QName, ns};

use super::proposal::{INLINE, OCCURRENCE, Proposal, Proposer, occurs};
use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{Remedy, Respect};

impl<'c> Proposer<'c> {
    /// Attributes of an element as they were.
    pub(super) fn attributes(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let like = was.info()?;
        let now = is.info()?;
        let differs = names.iter().any(|name| like.text(name) != now.text(name));
        let amendment = Amendment::Attributes { of: is.id(), names, like };
        differs.then(|| self.edited(Remedy::AsItWas(respect), is, vec![amendment]))?
    }

    /// An attribute that stands for a property as it was.
    pub(super) fn property(
        &self,
        change: &Change,
        (was, is): (Spot<'c>, Spot<'c>),
        name: &'static str,
        respect: Respect,
    ) -> Option<Proposal> {
        let names: &'static [&'static str] = match name {
            "fixed" => &["fixed", "default"],
            "use" => &["use"],
            "abstract" => &["abstract"],
            _ => &["nillable"],
        };
        let proposal = self.attributes(was, is, names, respect)?;
        let like = was.info()?;
        let own = like.text("name").unwrap_or("");
        let is_free = name == "use" && like.text("use").is_none();
        let value = match (name, like.text(name)) {
            ("use", None) => "optional".to_owned(),
            ("fixed", Some(value)) => value.to_owned(),
            (_, value) => value.unwrap_or("").to_owned(),
        };
        let remedy = match is_free {
            true => Remedy::LetBeLeftOut(format!("@{own}")),
            false => proposal.remedy.clone(),
        };
        let proposal = Proposal { remedy, ..proposal };
        // What stood for a value that is left out comes back with it.
        let alone = name != "fixed" || like.text("default") == is.info()?.text("default");
        Some(if alone { self.set(change, proposal, name, value) } else { proposal })
    }

    pub(super) fn attributes_inside(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        inside: &[&'static str],
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let pair = |name: &&'static str| Some((was.inner(&[*name])?, is.inner(&[*name])?));
        inside.iter().filter_map(pair).find_map(|(was, is)| self.attributes(was, is, names, respect))
    }

    /// What stands in an element as it was.
    pub(super) fn content(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let like = was.info()?;
        let taken = vec![like.clone()];
        let amendment = Amendment::Content { of: is.id(), names, like };
        Some(Proposal { taken, ..self.edited(Remedy::AsItWas(respect), is, vec![amendment])? })
    }

    /// What stands in the complex type at hand as it was.
    pub(super) fn inside(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        const HOLDERS: [&[&str]; 3] = [&["extension", "restriction"], &["complexType"], &["group"]];
        let pair = |names: &&[&str]| Some((was.inner(names)?, is.inner(names)?));
        let (was, is) = HOLDERS.iter().find_map(pair)?;
        self.content(was, is, names, respect)
    }

    /// An element as a whole as it was.
    pub(super) fn replaced(&self, was: Spot<'c>, is: Spot<'c>, respect: Respect) -> Option<Proposal> {
        if was.node.tag_name().name() != is.node.tag_name().name() {
            return None;
        }
        let by = was.info()?;
        let taken = vec![by.clone()];
        let amendment = Amendment::Replace { node: is.id(), by };
        Some(Proposal { taken, ..self.edited(Remedy::AsItWas(respect), is, vec![amendment])? })
    }

    /// The component with a name around what changed, as it was in every respect.
    pub(super) fn unit_as_it_was(&self, was: Option<Spot<'c>>, is: Option<Spot<'c>>) -> Option<Proposal> {
        let new = is.map(Spot::unit).or_else(|| was?.unit().counterpart_unit(self.new))?;
        if new.node.tag_name().namespace() != Some(ns::XSD) {
            return None;
        }
        let old = new.counterpart_unit(self.old)?;
        self.replaced(old, new, Respect::Whole)
    }

    /// A type as it was, whatever it was built like.
    pub(super) fn whole_type(&self, was: Spot<'c>, is: Spot<'c>, respect: Respect) -> Option<Proposal> {
        (was.is_xsd(INLINE) && is.is_xsd(INLINE)).then(|| self.replaced(was, is, respect))?
    }

    /// The type of a declaration as it was.
    pub(super) fn typed(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Option<Proposal> {
        if !is.is_xsd(&["element", "attribute"]) || !was.is_xsd(&["element", "attribute"]) {
            return None;
        }
        let like = was.info()?;
        let like_named = like.named("type").cloned();
        let is_plain = !like.elements().any(|it| it.is_xsd("simpleType") || it.is_xsd("complexType"));
        let taken = vec![like.clone()];
        let amendments = vec![
            Amendment::Attributes { of: is.id(), names: &["type"], like: like.clone() },
            Amendment::Content { of: is.id(), names: INLINE, like },
        ];
        let proposal = Proposal { taken, ..self.edited(Remedy::AsItWas(Respect::Type), is, amendments)? };
        let now = is.info()?;
        let is_named = |info: &ElementInfo| {
            !info.elements().any(|it| it.is_xsd("simpleType") || it.is_xsd("complexType"))
        };
        Some(match (like_named, is_named(&now) && is_plain) {
            (Some(name), true) => {
                let value = Prefixes::of(self.new).seen_from(is.namespace()).type_name(&name);
                self.set(change, proposal, "type", value)
            }
            _ => proposal,
        })
    }

    pub(super) fn occurrence(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Option<Proposal> {
        let proposal = self.attributes(was, is, OCCURRENCE, Respect::Occurrence)?;
        let like = was.info()?;
        let (least, most) = (like.text("minOccurs").unwrap_or("1"), like.text("maxOccurs").unwrap_or("1"));
        let is_free = least == "0" && is.info()?.text("minOccurs").is_none();
        let remedy = match (is_free, is.node.attribute("name")) {
            (true, Some(name)) => Remedy::LetBeLeftOut(name.to_owned()),
            _ => proposal.remedy.clone(),
        };
        Some(Proposal { remedy, ..self.set(change, proposal, "occurs", occurs(least, most)) })
    }

    /// What stood in the place of something stands there again, and nothing else.
    pub(super) fn standing(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let named = |contract: &'c Contract, name: &str| {
            let schemas = &contract.schemas;
            let element = schemas
                .elements
                .iter()
                .find(|(_, it)| &*it.name.local == name && it.owner == charter_schema::Owner::Schema);
            element.map(|(id, it)| (Component::Element(id), it.extent, it.name.clone()))
        };
        let remedy = Remedy::AsItWas(Respect::Substitutes);
        match &change.what {
            What::ElementStandsNoMore { name } | What::ElementStandsNow { name } => {
                let was = named(self.old, name);
                match named(self.new, name) {
                    Some((component, extent, _)) => {
                        let spot = Spot::at(self.new, extent)?;
                        let like = was
                            .and_then(|(_, extent, _)| Spot::at(self.old, extent)?.info())
                            .unwrap_or_else(|| ElementInfo::xsd("element"));
                        let names = &["substitutionGroup"];
                        let amendment = Amendment::Attributes { of: spot.id(), names, like };
                        Some(Proposal { component, ..self.edited(remedy, spot, vec![amendment])? })
                    }
                    None => {
                        let (_, _, name) = was?;
                        let taken = vec![ElementInfo::xsd("element").naming("ref", &name)];
                        Some(Proposal { taken, ..self.edited(remedy, is, Vec::new())? })
                    }
                }
            }
            What::TypeStandsNoMore { name } => {
                let is_it = |known: &&QName| &*known.local == name.as_str();
                let name = self.old.schemas.type_names().find(is_it)?;
                let taken = vec![ElementInfo::xsd("element").naming("type", name)];
                Some(Proposal { taken, ..self.edited(remedy, is, Vec::new())? })
            }
            _ => {
                let was = is.counterpart(self.old)?;
                self.attributes(was, is, &["block", "final", "abstract"], Respect::Substitutes)
            }
        }
    }
}
