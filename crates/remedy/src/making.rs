//! Makes proposals: what becomes of the components of the new version, and what is taken over from the old one.

use charter_author::component_named;
use charter_notation::{ElementInfo, Rewriting, Value, own_info};
use charter_source::{Map, NodeId, Place, QName, Set, Span, ns};

use crate::amend::{Amendment, bare};
use crate::propose::{Proposal, Proposer};

impl Proposer<'_> {
    /// What becomes of the new version by some proposals.
    pub fn rewriting(&self, all: &[&Proposal]) -> Option<Rewriting> {
        let new = self.new;
        let mut changed: Vec<(Place, ElementInfo)> = Vec::new();
        let mut beside: Vec<ElementInfo> = Vec::new();
        let mut made: Vec<&(Place, Amendment)> = Vec::new();
        let amendments = || all.iter().flat_map(|proposal| &proposal.amendments);
        // What is put back as a whole is put back in every respect.
        let mut whole: Map<Place, &ElementInfo> = Map::default();
        for (place, amendment) in amendments() {
            if let Some(by) = amendment.replaces(|node| self.is_at(*place, node)) {
                whole.insert(*place, by);
            }
        }
        for proposal in all {
            for both @ (place, amendment) in &proposal.amendments {
                if whole.contains_key(place) {
                    continue;
                }
                // What serves several changes is made once.
                if made.contains(&both) {
                    continue;
                }
                made.push(both);
                let at = match changed.iter().position(|(known, _)| known == place) {
                    Some(at) => at,
                    None => {
                        changed.push((*place, own_info(new, *place)?));
                        changed.len() - 1
                    }
                };
                if !amendment.apply(&mut changed[at].1) {
                    return None;
                }
            }
            proposal.beside.iter().for_each(|info| push_new(&mut beside, bare(info.clone())));
        }
        changed.extend(whole.into_iter().map(|(place, by)| (place, bare(by.clone()))));
        let taken = all.iter().flat_map(|proposal| &proposal.taken);
        let mut come = Vec::new();
        self.missing(taken, &mut come, &mut beside);
        Some(Rewriting { changed, come, beside })
    }

    /// Whether an element stands at a place of the new version.
    fn is_at(&self, place: Place, node: NodeId) -> bool {
        let tree = &self.new.files.get(place.file).tree;
        tree.node(node).is_some_and(|node| Span::from(node.range()) == place.span)
    }

    /// What is named by something that is taken over, and is not in the new version.
    fn missing<'i>(
        &self,
        taken: impl Iterator<Item = &'i ElementInfo>,
        come: &mut Vec<(String, ElementInfo)>,
        beside: &mut Vec<ElementInfo>,
    ) {
        let (old, new) = (self.old, self.new);
        let mut seen: Set<(&str, QName)> = Set::default();
        let mut open: Vec<(&'static str, QName)> = Vec::new();
        taken.for_each(|info| named(info, &mut open));
        while let Some((kind, name)) = open.pop() {
            if component_named(new, kind, &name).is_some() || !seen.insert((kind, name.clone())) {
                continue;
            }
            let place = component_named(old, kind, &name).and_then(|it| old.extent(it));
            let Some(info) = place.and_then(|place| own_info(old, place)) else { continue };
            named(&info, &mut open);
            match kind {
                "message" | "binding" | "portType" => push_new(beside, bare(info)),
                _ => come.push((name.namespace.to_string(), bare(info))),
            }
        }
    }
}

fn push_new(all: &mut Vec<ElementInfo>, info: ElementInfo) {
    if !all.contains(&info) {
        all.push(info);
    }
}

/// The components that an element info names, each with the element that declares such a one.
fn named(info: &ElementInfo, found: &mut Vec<(&'static str, QName)>) {
    for (attribute, value) in &info.attributes {
        let Value::Names(names) = value else { continue };
        let own = &*info.name.local;
        let kind = match (&*attribute.local, own) {
            ("type", "binding") => "portType",
            ("type" | "base" | "itemType" | "memberTypes", _) => "complexType",
            ("substitutionGroup" | "element", _) => "element",
            ("ref", "element") => "element",
            ("ref", "attribute") => "attribute",
            ("ref", "group") => "group",
            ("ref", "attributeGroup") => "attributeGroup",
            ("message", _) => "message",
            ("binding", _) => "binding",
            _ => continue,
        };
        let own = names.iter().filter(|name| *name.namespace != *ns::XSD);
        found.extend(own.map(|name| (kind, (**name).clone())));
    }
    info.elements().for_each(|child| named(child, found));
}
