//! What a proposal is, and what all kinds of them are made of.

use charter_compare::{Change, Version};
use charter_contract::{Component, Contract, Side};
use charter_notation::ElementInfo;
use charter_source::Place;

use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{Remedy, Step};

/// An edit of the new version that may help.
#[derive(Debug, Clone)]
pub(crate) struct Proposal {
    pub remedy: Remedy,
    /// The component that it changes.
    pub component: Component,
    pub step: Step,
    /// What becomes of elements, with the place of the component with a name around each.
    pub amendments: Vec<(Place, Amendment)>,
    /// What is taken over from the old version, with what it refers to.
    pub taken: Vec<ElementInfo>,
    /// What is taken over to stand beside the rest.
    pub beside: Vec<ElementInfo>,
}

impl Proposal {
    /// The same with what is taken over from the old version, for what it refers to.
    pub fn taking(mut self, info: ElementInfo) -> Proposal {
        self.taken.push(info);
        self
    }
}

/// The two versions, as proposals see them.
pub(crate) struct Proposer<'c> {
    /// The old version as it is written.
    pub original: &'c Contract,
    /// The old version beyond a move of its namespaces.
    pub old: &'c Contract,
    pub new: &'c Contract,
}

/// What stands for one thing in both versions.
#[derive(Clone, Copy)]
pub(super) struct Both<'c> {
    pub was: Spot<'c>,
    pub is: Spot<'c>,
}

impl<'c> Both<'c> {
    /// The first elements in either that have one of these names of XML Schema.
    pub fn inner(self, names: &[&str]) -> Option<Both<'c>> {
        Some(Both { was: self.was.inner(names)?, is: self.is.inner(names)? })
    }
}

/// Attributes and elements of schemas that are put back together.
pub(super) const OCCURRENCE: &[&str] = &["minOccurs", "maxOccurs"];
pub(super) const GROUPS: &[&str] = &["sequence", "choice", "all", "group", "simpleContent", "complexContent"];
pub(super) const INLINE: &[&str] = &["simpleType", "complexType"];
pub(super) const DECLARED: &[&str] = &["element", "any", "group", "sequence", "choice", "all"];

impl<'c> Proposer<'c> {
    /// A proposal about elements of one component, made by editing it as a whole.
    pub(super) fn edited(
        &self,
        remedy: Remedy,
        at: Spot<'c>,
        amendments: Vec<Amendment>,
    ) -> Option<Proposal> {
        let unit = at.unit();
        let place = unit.place();
        Some(Proposal {
            remedy,
            component: unit.component()?,
            step: Step::Edit,
            amendments: amendments.into_iter().map(|amendment| (place, amendment)).collect(),
            taken: Vec::new(),
            beside: Vec::new(),
        })
    }

    /// The same made by setting a property, if the change is about a component that has it.
    pub(super) fn set(
        &self,
        change: &Change,
        proposal: Proposal,
        key: &'static str,
        value: String,
    ) -> Proposal {
        match (change.subject.version, change.subject.component) {
            (Version::New, component @ (Component::Element(_) | Component::ElementUse(_)))
            | (Version::New, component @ (Component::Attribute(_) | Component::Type(_))) => {
                Proposal { component, step: Step::Set { key, value }, ..proposal }
            }
            _ => proposal,
        }
    }

    /// Puts something of the old version where it stood; with the groups around it that are not there any more.
    pub(super) fn inserted(&self, was: Spot<'c>, info: ElementInfo) -> Option<(Spot<'c>, Amendment)> {
        let parent = was.parent()?;
        match parent.counterpart(self.new) {
            Some(into) => {
                let behind = was.nearest_before(into);
                Some((into, Amendment::Insert { into: into.id(), behind, info }))
            }
            None if parent.unit().id() == parent.id() => None,
            None => {
                let mut around = parent.info()?;
                around.children.clear();
                self.inserted(parent, around.holding(info))
            }
        }
    }
}

/// The name of what an element declares or refers to.
pub(super) fn name_of(info: &ElementInfo) -> Option<String> {
    let name = info.text("name").or_else(|| info.named("ref").map(|name| &*name.local))?;
    Some(format!("{}{name}", if info.is_xsd("attribute") { "@" } else { "" }))
}

/// Whether a change does its worst to requests alone.
pub(super) fn only_sent(change: &Change) -> bool {
    change.worst().all(|touched| touched.at.side == Side::Input) && change.worst().next().is_some()
}

/// Whether it does its worst to some request.
pub(super) fn is_sent(change: &Change) -> bool {
    change.worst().any(|touched| touched.at.side == Side::Input)
}

/// How often something may occur, in the notation.
pub(super) fn occurs(least: &str, most: &str) -> String {
    match (least, most) {
        ("0", "1") => "?".to_owned(),
        ("0", "unbounded") => "*".to_owned(),
        ("1", "1") => "1".to_owned(),
        (least, "unbounded") => format!("{least}.."),
        (least, most) => format!("{least}..{most}"),
    }
}
