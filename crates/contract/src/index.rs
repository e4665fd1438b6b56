//! Tables beside the components, made when first needed: by name, by place, and the order among namesakes.

use std::sync::{Arc, OnceLock};

use charter_source::{Map, Span};

use crate::{BindingId, Component, OperationId, PortId};

/// The tables, each made when it is first asked for.
#[derive(Default)]
pub(crate) struct Index {
    pub(crate) names: OnceLock<Names>,
    pub(crate) ordinals: OnceLock<Map<Component, u32>>,
    pub(crate) offers: OnceLock<Map<OperationId, Vec<Offer>>>,
    pub(crate) extents: OnceLock<Vec<Vec<Extent>>>,
    pub(crate) policies: OnceLock<crate::policy::Policies>,
    pub(crate) relatives: OnceLock<charter_schema::Relatives>,
}

/// Components that a path can begin with, by the word of their kind and their local name.
#[derive(Default)]
pub(crate) struct Names {
    /// Those of the contract.
    pub roots: Roots,
    /// Those that come with the program.
    pub built_in: Roots,
}

/// Components by kind and name. There may be half a million, and nearly all have a name of their own.
#[derive(Default)]
pub(crate) struct Roots(Map<&'static str, Named>);

/// The components of a kind, in their order, and by name.
#[derive(Default)]
struct Named {
    /// Each with the next of the same name.
    components: Vec<(Component, u32)>,
    /// The first and the last of each name.
    places: Map<Arc<str>, (u32, u32)>,
}

/// Where there is no next one.
const LAST: u32 = u32::MAX;

impl Roots {
    pub fn add(&mut self, kind: &'static str, name: &Arc<str>, component: Component) {
        let Named { components, places } = self.0.entry(kind).or_default();
        let at = components.len() as u32;
        components.push((component, LAST));
        match places.get_mut(name) {
            Some((_, last)) => components[std::mem::replace(last, at) as usize].1 = at,
            None => _ = places.insert(name.clone(), (at, at)),
        }
    }

    /// The components of a kind and a name.
    pub fn of(&self, kind: &str, name: &str) -> impl Iterator<Item = Component> + Clone {
        let named = self.0.get(kind);
        let first = named.and_then(|named| named.places.get(name)).map(|(first, _)| *first);
        let entry = move |at: u32| named.and_then(|named| named.components.get(at as usize)).copied();
        let all = std::iter::successors(first.and_then(entry), move |(_, next)| entry(*next));
        all.map(|(component, _)| component)
    }

    /// Whether there are several of a kind and a name.
    pub fn several(&self, kind: &str, name: &str) -> bool {
        self.of(kind, name).nth(1).is_some()
    }

    /// All names of a kind.
    pub fn names(&self, kind: &str) -> impl Iterator<Item = &str> {
        self.0.get(kind).into_iter().flat_map(|named| named.places.keys().map(|name| &**name))
    }
}

/// An operation of a binding, and a port that offers it.
#[derive(Clone, Copy)]
pub(crate) struct Offer {
    pub binding: BindingId,
    pub bound: usize,
    pub port: Option<PortId>,
}

/// The stretch that a component covers, and the extent around it.
pub(crate) struct Extent {
    pub span: Span,
    pub component: Component,
    pub parent: Option<u32>,
}
