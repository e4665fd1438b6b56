//! Declarations that go by another name.

use charter_compare::Change;
use charter_notation::ElementInfo;

use super::proposal::{Both, Proposal, Proposer, name_of, only_sent};
use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{Remedy, Respect};

impl<'c> Proposer<'c> {
    /// What may help whoever uses the old name.
    pub(super) fn renamed(&self, change: &Change, both: Both<'c>) -> Vec<Option<Proposal>> {
        let back = self.attributes(both, &["name", "ref"], Respect::Name);
        // Declarations for all cannot stand beside each other in one place.
        if both.is.unit().id() == both.is.id() {
            return vec![back];
        }
        match only_sent(change) && both.is.is_xsd(&["element"]) {
            true => vec![self.either(both), self.beside(both), back],
            false => vec![self.beside(both), back],
        }
    }

    /// A choice of both names.
    fn either(&self, Both { was, is }: Both<'c>) -> Option<Proposal> {
        let (mut old, mut new) = (was.info()?, is.info()?);
        let remedy = Remedy::Either { was: name_of(&old)?, is: name_of(&new)? };
        let mut choice = ElementInfo::xsd("choice");
        // What may be left out is the choice, not what is chosen.
        for info in [&mut old, &mut new] {
            let is_free = info.text("minOccurs") == Some("0");
            info.attributes.retain(|(name, _)| !is_free || !name.is("", "minOccurs"));
        }
        if is.node.attribute("minOccurs") == Some("0") {
            choice = choice.with("minOccurs", "0");
        }
        let by = choice.holding(old.clone()).holding(new);
        let amendment = Amendment::Replace { node: is.id(), by };
        Some(self.edited(remedy, is, vec![amendment])?.taking(old))
    }

    /// The new one beside the old one, which stays; nobody has to send the new one.
    fn beside(&self, Both { was, is }: Both<'c>) -> Option<Proposal> {
        let old = was.info()?;
        let remedy = Remedy::Beside { was: name_of(&old)?, is: name_of(&is.info()?)? };
        let of = is.id();
        let free = match is.is_xsd(&["attribute"]) {
            true => Amendment::Set { of, name: "use", value: None },
            false => Amendment::Set { of, name: "minOccurs", value: Some("0") },
        };
        let behind = is.before().next().map(Spot::id);
        let insert = Amendment::Insert { into: is.parent()?.id(), behind, info: old.clone() };
        Some(self.edited(remedy, is, vec![free, insert])?.taking(old))
    }
}
