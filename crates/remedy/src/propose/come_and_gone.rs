//! What came, and may be left out or go again; what went, and comes back; and what goes by another name.

use charter_compare::Change;
use charter_contract::Component;
use charter_notation::{ElementInfo, Value};
use charter_source::QName;

use super::proposal::{INLINE, Proposal, Proposer, is_sent, name_of, occurs, only_sent};
use crate::amend::{Amendment, bare};
use crate::spot::Spot;
use crate::way::{Remedy, Respect, Step};

impl<'c> Proposer<'c> {
    /// What came may be left out.
    pub(super) fn left_out(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let info = is.info()?;
        if !is_sent(change) || info.text("minOccurs") == Some("0") || is.unit().id() == is.id() {
            return None;
        }
        let amendment = Amendment::Set { of: is.id(), name: "minOccurs", value: Some("0") };
        let remedy = Remedy::LetBeLeftOut(name_of(&info)?);
        let proposal = self.edited(remedy, is, vec![amendment])?;
        let value = occurs("0", info.text("maxOccurs").unwrap_or("1"));
        Some(self.set(change, proposal, "occurs", value))
    }

    /// The same of an attribute.
    pub(super) fn without_use(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let info = is.info()?;
        if !is_sent(change) || info.text("use") != Some("required") {
            return None;
        }
        let amendment = Amendment::Set { of: is.id(), name: "use", value: None };
        let proposal = self.edited(Remedy::LetBeLeftOut(name_of(&info)?), is, vec![amendment])?;
        Some(self.set(change, proposal, "use", "optional".to_owned()))
    }

    /// What came goes again.
    pub(super) fn taken_out(&self, is: Spot<'c>) -> Option<Proposal> {
        let name = name_of(&is.info()?)?;
        let is_whole = is.unit().id() == is.id();
        let amendment = Amendment::Remove { node: is.id() };
        (!is_whole).then(|| self.edited(Remedy::TakeOut(vec![name]), is, vec![amendment]))?
    }

    /// What went stands there again, so that it may be left out if an attribute for that is named.
    pub(super) fn put_back(&self, was: Spot<'c>, optional: Option<&'static str>) -> Option<Proposal> {
        let mut info = was.info()?;
        let name = name_of(&info)?;
        if optional.is_some() && info.text("minOccurs") == Some("0") {
            return None;
        }
        if was.unit().id() == was.id() {
            return self.declared_again(was, name);
        }
        if let Some(attribute) = optional {
            info.set(attribute, Value::Text("0".to_owned()));
        }
        let remedy = match optional {
            Some(_) => Remedy::PutBackOptional(name),
            None => Remedy::PutBack(vec![name]),
        };
        let taken = vec![info.clone()];
        let (into, insert) = self.inserted(was, info)?;
        Some(Proposal { taken, ..self.edited(remedy, into, vec![insert])? })
    }

    /// A service, a port type or the like that went stands there again, with what leads to it.
    pub(super) fn unit_put_back(&self, unit: Spot<'c>) -> Option<Proposal> {
        let info = unit.info()?;
        let name = name_of(&info)?;
        let mut beside = vec![bare(info.clone())];
        let mut taken = vec![info];
        if let Some(Component::PortType(id)) = unit.component() {
            for (_, binding) in self.old.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id)) {
                let bound = Spot::at(self.old, binding.extent)?;
                if bound.counterpart_unit(self.new).is_none() {
                    taken.push(bound.info()?);
                    beside.push(bare(bound.info()?));
                }
            }
        }
        Some(Proposal {
            remedy: Remedy::PutBack(vec![name]),
            component: Component::Contract,
            step: Step::Together,
            amendments: Vec::new(),
            taken,
            beside,
        })
    }

    /// A component of a schema that others may use is there again.
    pub(super) fn declared_again(&self, was: Spot<'c>, name: String) -> Option<Proposal> {
        let own = QName::new(was.namespace(), was.node.attribute("name")?);
        let user = match was.is_xsd(INLINE) {
            true => ElementInfo::xsd("element").naming("type", &own),
            false => ElementInfo::xsd(was.node.tag_name().name()).naming("ref", &own),
        };
        Some(Proposal {
            remedy: Remedy::PutBack(vec![name]),
            component: Component::Contract,
            step: Step::Together,
            amendments: Vec::new(),
            taken: vec![user],
            beside: Vec::new(),
        })
    }

    /// A declaration that goes by another name.
    pub(super) fn renamed(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Vec<Option<Proposal>> {
        let both = || {
            let (old, new) = (was.info()?, is.info()?);
            let (old_name, new_name) = (name_of(&old)?, name_of(&new)?);
            (is.unit().id() != is.id()).then_some((old, new, old_name, new_name))
        };
        let either = || {
            let (mut old, mut new, was, now) = both()?;
            let mut choice = ElementInfo::xsd("choice");
            // What may be left out is the choice, not what is chosen.
            for info in [&mut old, &mut new] {
                let is_free = info.text("minOccurs") == Some("0");
                info.attributes.retain(|(name, _)| !is_free || !name.is("", "minOccurs"));
            }
            if is.node.attribute("minOccurs") == Some("0") {
                choice = choice.with("minOccurs", "0");
            }
            let taken = vec![old.clone()];
            let by = choice.holding(old).holding(new);
            let amendment = Amendment::Replace { node: is.id(), by };
            Some(Proposal { taken, ..self.edited(Remedy::Either { was, is: now }, is, vec![amendment])? })
        };
        let beside = || {
            let (old, _, name, now) = both()?;
            let is_attribute = is.is_xsd(&["attribute"]);
            let free = match is_attribute {
                true => Amendment::Set { of: is.id(), name: "use", value: None },
                false => Amendment::Set { of: is.id(), name: "minOccurs", value: Some("0") },
            };
            let behind = is.before().next().map(Spot::id);
            let taken = vec![old.clone()];
            let insert = Amendment::Insert { into: is.parent()?.id(), behind, info: old };
            let remedy = Remedy::Beside { was: name, is: now };
            Some(Proposal { taken, ..self.edited(remedy, is, vec![free, insert])? })
        };
        let back = self.attributes(was, is, &["name", "ref"], Respect::Name);
        let is_element = is.is_xsd(&["element"]);
        match only_sent(change) && is_element {
            true => vec![either(), beside(), back],
            false => vec![beside(), back],
        }
    }
}
