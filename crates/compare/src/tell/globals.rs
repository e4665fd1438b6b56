//! What a schema declares for all to use: what came, what went, and what goes by another name.

use std::sync::Arc;

use charter_contract::{Component, Contract};
use charter_notation::{Child, ElementInfo, Value, own_info};
use charter_schema::Owner;
use charter_source::{QName, Set};

use crate::comparison::Comparison;
use crate::describe::names::{Alike, apart, renamed_by_key};
use crate::describe::renames;
use crate::kind::Kind;
use crate::report::{Confidence, Verdict};
use crate::what::{Renaming, Thing, What};

/// What a schema declares for all to use.
struct Globals {
    thing: Thing,
    gone: Kind,
    come: Kind,
    renamed: Kind,
    of: fn(&Contract) -> Vec<(&QName, Component)>,
}

const GLOBALS: [Globals; 2] = [
    Globals {
        thing: Thing::Type,
        gone: Kind::TypeRemoved,
        come: Kind::TypeAdded,
        renamed: Kind::TypeRenamed,
        of: types,
    },
    Globals {
        thing: Thing::Element,
        gone: Kind::ElementRemoved,
        come: Kind::ElementAdded,
        renamed: Kind::ElementRenamed,
        of: elements,
    },
];

fn types(contract: &Contract) -> Vec<(&QName, Component)> {
    let own = contract.schemas.own_types();
    own.filter_map(|(id, ty)| Some((ty.name.as_ref()?, Component::Type(id)))).collect()
}

fn elements(contract: &Contract) -> Vec<(&QName, Component)> {
    // An element that is a message part comes and goes with its operation or header.
    let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
    let in_parts: Set<_> = parts.filter_map(|part| part.element.as_ref()?.target).collect();
    let all = contract.schemas.elements.iter().filter(|(_, element)| element.owner == Owner::Schema);
    all.filter(|(id, element)| !in_parts.contains(id) && !contract.schemas.is_known(element.place))
        .map(|(id, element)| (&element.name, Component::Element(id)))
        .collect()
}

impl Comparison<'_> {
    /// Global types and elements that came or went. On the wire only their use counts, which is compared
    /// above; but an architect wants to see them.
    pub(crate) fn globals(&mut self) {
        let renamed =
            renames::types(self.old, self.new, &self.sent.survey.inclusion, &self.read.survey.inclusion);
        for (was, is) in &renamed {
            let (from, to) = (&self.old.schemas.types[*was].name, &self.new.schemas.types[*is].name);
            let (Some(from), Some(to)) = (from, to) else { continue };
            let what = (Kind::TypeRenamed, What::renamed(Thing::Type, from, to));
            let components = (Component::Type(*was), Component::Type(*is));
            self.ledger.renamed(Verdict::Keeps, what, components, Confidence::Sure);
        }
        let then: Set<Component> = renamed.iter().map(|(was, _)| Component::Type(*was)).collect();
        let now: Set<Component> = renamed.iter().map(|(_, is)| Component::Type(*is)).collect();
        // What stands in the place of something under another name says so itself.
        let told: Set<Renaming> =
            self.ledger.all.iter().filter_map(|change| standing(&change.what)).collect();
        // An element that became a message part, or is one no longer, was there all the time.
        let is_there = |own: &Contract, other: &Contract, component: &Component| match component {
            Component::Element(id) => other.schemas.element_named(&own.schemas.elements[*id].name).is_some(),
            _ => false,
        };
        for globals in GLOBALS {
            let (mut gone, mut come) = apart(&(globals.of)(self.old), &(globals.of)(self.new));
            gone.retain(|it| !then.contains(it) && !is_there(self.old, self.new, it));
            come.retain(|it| !now.contains(it) && !is_there(self.new, self.old, it));
            for alike in self.built_the_same(&mut gone, &mut come) {
                self.global_renamed(&globals, alike, &told);
            }
            let thing = globals.thing;
            for component in gone {
                let what = What::ComponentGone { thing, name: name_of(self.old, component) };
                self.ledger.component(Verdict::Keeps, (globals.gone, what), Some(component), None);
            }
            for component in come {
                let what = What::ComponentNew { thing, name: name_of(self.new, component) };
                self.ledger.component(Verdict::Keeps, (globals.come, what), None, Some(component));
            }
        }
    }

    /// Takes pairs of an old and a new component out of the lists: those that have one name in two namespaces, then those
    /// that are written the same but for their names.
    fn built_the_same(&self, gone: &mut Vec<Component>, come: &mut Vec<Component>) -> Vec<Alike<Component>> {
        let local = |contract: &Contract, component: Component| {
            qname(contract, component).map(|name| name.local.to_string())
        };
        let mut found = renamed_by_key(gone, come, &|was| local(self.old, was), &|is| local(self.new, is));
        if !gone.is_empty() && !come.is_empty() {
            let build =
                |contract: &Contract, component: Component| Some(build(nameless(contract, component)?));
            found.extend(renamed_by_key(gone, come, &|was| build(self.old, was), &|is| build(self.new, is)));
        }
        found
    }

    /// Says that a global component goes by another name, unless it was said where that matters.
    fn global_renamed(&mut self, globals: &Globals, alike: Alike<Component>, told: &Set<Renaming>) {
        let (Some(from), Some(to)) = (qname(self.old, alike.old), qname(self.new, alike.new)) else { return };
        let renaming = Renaming { thing: globals.thing, was: from.clone(), is: to.clone() };
        if !told.contains(&renaming) {
            let what = (globals.renamed, What::Renamed { renaming });
            self.ledger.renamed(Verdict::Keeps, what, (alike.old, alike.new), alike.confidence);
        }
    }
}

/// What a change says to stand under another name in the place of something.
fn standing(what: &What) -> Option<Renaming> {
    match what {
        What::RenamedInPlace { renaming, .. } => Some(renaming.clone()),
        _ => None,
    }
}

fn qname(contract: &Contract, component: Component) -> Option<&QName> {
    match component {
        Component::Type(id) => contract.schemas.types[id].name.as_ref(),
        Component::Element(id) => Some(&contract.schemas.elements[id].name),
        _ => None,
    }
}

fn name_of(contract: &Contract, component: Component) -> String {
    qname(contract, component).map_or_else(String::new, |name| name.local.to_string())
}

/// How a global component is written, without its name and what is said about it.
fn nameless(contract: &Contract, component: Component) -> Option<ElementInfo> {
    let place = match component {
        Component::Type(id) => contract.schemas.types[id].extent,
        Component::Element(id) => contract.schemas.elements[id].extent,
        _ => return None,
    };
    let mut info = own_info(contract, place)?;
    info.attributes.retain(|(name, _)| !(name.namespace.is_empty() && &*name.local == "name"));
    without_words(&mut info);
    Some(info)
}

fn without_words(info: &mut ElementInfo) {
    info.children.retain(|child| !matches!(child, Child::Element(it) if it.is_xsd("annotation")));
    info.elements_mut().for_each(without_words);
}

/// All that a form says, as far as it makes a difference.
#[derive(PartialEq, Eq, Hash)]
struct Build {
    name: Arc<QName>,
    attributes: Vec<(Arc<QName>, Value)>,
    children: Vec<Piece>,
}

#[derive(PartialEq, Eq, Hash)]
enum Piece {
    Element(Build),
    Text(String),
}

fn build(info: ElementInfo) -> Build {
    let mut attributes = info.attributes;
    attributes.sort_unstable_by(|(a, _), (b, _)| (&a.namespace, &a.local).cmp(&(&b.namespace, &b.local)));
    let piece = |child: Child| match child {
        Child::Element(inner) => Piece::Element(build(inner)),
        Child::Text(text) | Child::Comment(text) => Piece::Text(text),
    };
    Build { name: info.name, attributes, children: info.children.into_iter().map(piece).collect() }
}
