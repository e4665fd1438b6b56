//! What came, and may be left out or go again; and what went, and comes back.

use charter_compare::Change;
use charter_contract::Component;
use charter_notation::{ElementInfo, Value};
use charter_source::QName;

use super::proposal::{INLINE, Proposal, Proposer, is_sent, name_of, occurs};
use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{Remedy, Step};

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
        let (into, insert) = self.inserted(was, info.clone())?;
        Some(self.edited(remedy, into, vec![insert])?.taking(info))
    }

    /// A service, a port type or the like that went stands there again, with what leads to it.
    pub(super) fn unit_put_back(&self, unit: Spot<'c>) -> Option<Proposal> {
        let info = unit.info()?;
        let name = name_of(&info)?;
        let mut beside = vec![info.clone()];
        let mut taken = vec![info];
        if let Some(Component::PortType(id)) = unit.component() {
            for (_, binding) in self.old.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id)) {
                let bound = Spot::at(self.old, binding.extent)?;
                if bound.counterpart_unit(self.new).is_none() {
                    taken.push(bound.info()?);
                    beside.push(bound.info()?);
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
}
