//! What both versions have, as it was in one respect or in all.

use charter_compare::{Change, What};
use charter_contract::{Component, Contract};
use charter_notation::{ElementInfo, Prefixes};
use charter_source::{QName, ns};

use super::proposal::{Both, INLINE, OCCURRENCE, Proposal, Proposer, name_of, occurs};
use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{Remedy, Respect};

impl<'c> Proposer<'c> {
    /// Attributes of an element as they were.
    pub(super) fn attributes(
        &self,
        both: Both<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let (like, now) = (both.was.info()?, both.is.info()?);
        let differs = names.iter().any(|name| like.text(name) != now.text(name));
        let amendment = Amendment::Attributes { of: both.is.id(), names, like };
        differs.then(|| self.edited(Remedy::AsItWas(respect), both.is, vec![amendment]))?
    }

    /// A property as it was: the first of some attributes, which the others go along with.
    pub(super) fn property(
        &self,
        change: &Change,
        both: Both<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let proposal = self.attributes(both, names, respect)?;
        let (key, others) = names.split_first()?;
        let (like, now) = (both.was.info()?, both.is.info()?);
        let value = match (*key, like.text(key)) {
            ("use", None) => "optional".to_owned(),
            (_, value) => value.unwrap_or("").to_owned(),
        };
        // What goes along is not set with it.
        match others.iter().all(|other| like.text(other) == now.text(other)) {
            true => Some(self.set(change, proposal, key, value)),
            false => Some(proposal),
        }
    }

    /// Whether an attribute may be left out, as it was.
    pub(super) fn demand(&self, change: &Change, both: Both<'c>) -> Option<Proposal> {
        let proposal = self.property(change, both, &["use"], Respect::Demanded)?;
        match both.was.info()?.text("use") {
            None => Some(Proposal { remedy: Remedy::LetBeLeftOut(name_of(&both.is.info()?)?), ..proposal }),
            Some(_) => Some(proposal),
        }
    }

    /// Attributes of the first element as they were that is inside both under one of some names.
    pub(super) fn attributes_inside(
        &self,
        both: Both<'c>,
        inside: &[&str],
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let pairs = inside.iter().filter_map(|name| both.inner(&[*name]));
        pairs.into_iter().find_map(|both| self.attributes(both, names, respect))
    }

    /// What stands in an element as it was.
    pub(super) fn content(
        &self,
        both: Both<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let like = both.was.info()?;
        let amendment = Amendment::Content { of: both.is.id(), names, like: like.clone() };
        Some(self.edited(Remedy::AsItWas(respect), both.is, vec![amendment])?.taking(like))
    }

    /// What stands in the complex type at hand as it was.
    pub(super) fn inside(
        &self,
        both: Both<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        const HOLDERS: [&[&str]; 3] = [&["extension", "restriction"], &["complexType"], &["group"]];
        self.content(HOLDERS.iter().find_map(|names| both.inner(names))?, names, respect)
    }

    /// An element as a whole as it was.
    pub(super) fn replaced(&self, both: Both<'c>, respect: Respect) -> Option<Proposal> {
        if both.was.node.tag_name().name() != both.is.node.tag_name().name() {
            return None;
        }
        let by = both.was.info()?;
        let amendment = Amendment::Replace { node: both.is.id(), by: by.clone() };
        Some(self.edited(Remedy::AsItWas(respect), both.is, vec![amendment])?.taking(by))
    }

    /// The component with a name around what changed, as it was in every respect.
    pub(super) fn unit_as_it_was(&self, was: Option<Spot<'c>>, is: Option<Spot<'c>>) -> Option<Proposal> {
        let is = is.map(Spot::unit).or_else(|| was?.unit().counterpart_unit(self.new))?;
        if is.node.tag_name().namespace() != Some(ns::XSD) {
            return None;
        }
        self.replaced(Both { was: is.counterpart_unit(self.old)?, is }, Respect::Whole)
    }

    /// A type as it was, whatever it was built like.
    pub(super) fn whole_type(&self, both: Both<'c>, respect: Respect) -> Option<Proposal> {
        (both.was.is_xsd(INLINE) && both.is.is_xsd(INLINE)).then(|| self.replaced(both, respect))?
    }

    /// The type of a declaration as it was.
    pub(super) fn typed(&self, change: &Change, both: Both<'c>) -> Option<Proposal> {
        let declares = |spot: Spot<'c>| spot.is_xsd(&["element", "attribute"]);
        if !declares(both.was) || !declares(both.is) {
            return None;
        }
        let (like, now) = (both.was.info()?, both.is.info()?);
        let of = both.is.id();
        let amendments = vec![
            Amendment::Attributes { of, names: &["type"], like: like.clone() },
            Amendment::Content { of, names: INLINE, like: like.clone() },
        ];
        let is_inline =
            |info: &ElementInfo| info.elements().any(|it| INLINE.iter().any(|name| it.is_xsd(name)));
        let named = like.named("type").filter(|_| !is_inline(&like) && !is_inline(&now)).cloned();
        let proposal = self.edited(Remedy::AsItWas(Respect::Type), both.is, amendments)?.taking(like);
        Some(match named {
            Some(name) => {
                let value = Prefixes::of(self.new).seen_from(both.is.namespace()).type_name(&name);
                self.set(change, proposal, "type", value)
            }
            None => proposal,
        })
    }

    /// How often something may be there, as it was.
    pub(super) fn occurrence(&self, change: &Change, both: Both<'c>) -> Option<Proposal> {
        let proposal = self.attributes(both, OCCURRENCE, Respect::Occurrence)?;
        let like = both.was.info()?;
        let (least, most) = (like.text("minOccurs").unwrap_or("1"), like.text("maxOccurs").unwrap_or("1"));
        let is_free = least == "0" && both.is.info()?.text("minOccurs").is_none();
        let remedy = match (is_free, both.is.node.attribute("name")) {
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
                        let user = ElementInfo::xsd("element").naming("ref", &name);
                        Some(self.edited(remedy, is, Vec::new())?.taking(user))
                    }
                }
            }
            What::TypeStandsNoMore { name } => {
                let is_it = |known: &&QName| &*known.local == name.as_str();
                let name = self.old.schemas.type_names().find(is_it)?;
                let user = ElementInfo::xsd("element").naming("type", name);
                Some(self.edited(remedy, is, Vec::new())?.taking(user))
            }
            _ => {
                let both = Both { was: is.counterpart(self.old)?, is };
                self.attributes(both, &["block", "final", "abstract"], Respect::Substitutes)
            }
        }
    }
}
