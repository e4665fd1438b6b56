//! Keeps what schemas open into within bounds: groups within groups, unions of unions, chains of substitutes. A file of a few
//! kilobytes may mean millions of particles, and whoever follows references afterwards must come to an end. What goes beyond is
//! left out at the reference that leads there, and told.

use charter_source::{Fault, Map, Place, Set};

use crate::arena::Id;
use crate::edges::{Nested, nested_group_edges, nested_groups, type_edges};
use crate::particle::Term;
use crate::set::Schemas;
use crate::{Builtin, Content, ParticleId, SimpleDerivation, TypeId, TypeKind, Violation};

/// Leaves out what goes beyond the bounds. There are no circles any more.
pub(crate) fn keep(set: &mut Schemas) {
    groups(set);
    attribute_groups(set);
    unions(set);
    substitutes(set);
    tell_once(&mut set.faults);
}

/// One bound is told once, at the first place where it is met: whoever mends that sees what is left.
pub(crate) fn tell_once(faults: &mut Vec<Fault>) {
    let is_bound = |fault: &Fault| fault.rule == Violation::OPEN;
    let mut places: Map<String, usize> = Map::default();
    for fault in faults.iter().filter(|fault| is_bound(fault)) {
        *places.entry(fault.message.clone()).or_default() += 1;
    }
    faults.retain_mut(|fault| {
        if !is_bound(fault) {
            return true;
        }
        let Some(count) = places.remove(&fault.message) else { return false };
        match count - 1 {
            0 => {}
            1 => fault.message.push_str(", and in one more place"),
            more => fault.message.push_str(&format!(", and in {more} more places")),
        }
        true
    });
}

/// How deep model groups may nest when the groups they refer to are opened.
const DEEPEST_GROUPS: usize = 1000;
/// How many particles one content may hold when its groups are opened.
const LARGEST_CONTENT: u64 = 100_000;
/// How many all contents together may hold: so many, and so many for each that is written.
const LARGEST_OPENED: u64 = 300_000;
const OPENED_FOR_EACH: u64 = 4;

/// Cuts references to groups that would nest too deep, or hold too much once all are opened, so that whoever opens groups
/// may recurse, and comes to an end.
fn groups(set: &mut Schemas) {
    let mut opened = Opened { depths: vec![None; set.groups.len()], sizes: vec![0; set.groups.len()] };
    let inner = |node| nested_group_edges(set, node).into_iter().filter_map(|(_, _, to)| to).collect();
    for node in inner_first(set.groups.len(), inner) {
        opened.group(set, node);
    }
    opened.types(set);
}

/// All nodes, each behind those that it leads to. There are no circles.
fn inner_first(count: usize, inner: impl Fn(usize) -> Vec<usize>) -> Vec<usize> {
    let mut order = Vec::with_capacity(count);
    let mut seen = vec![false; count];
    for start in 0..count {
        let mut path: Vec<(usize, std::vec::IntoIter<usize>)> = Vec::new();
        let mut enter = |node: usize, path: &mut Vec<_>| {
            if !std::mem::replace(&mut seen[node], true) {
                path.push((node, inner(node).into_iter()));
            }
        };
        enter(start, &mut path);
        while let Some((node, waiting)) = path.last_mut() {
            match waiting.next() {
                Some(next) => enter(next, &mut path),
                None => {
                    order.push(*node);
                    path.pop();
                }
            }
        }
    }
    order
}

/// What is known of the groups that have been opened.
struct Opened {
    /// How deep each goes.
    depths: Vec<Option<usize>>,
    /// How many particles each holds.
    sizes: Vec<u64>,
}

impl Opened {
    /// Finds out about a group, all groups within it being known.
    fn group(&mut self, set: &mut Schemas, node: usize) {
        let mut deepest = 0;
        for (particle, nesting, to) in nested_group_edges(set, node) {
            let depth = nesting + to.and_then(|to| self.depths[to]).unwrap_or(0);
            if depth <= DEEPEST_GROUPS {
                deepest = deepest.max(depth);
            } else {
                cut(set, particle, format!("groups nest more than {DEEPEST_GROUPS} deep here"));
            }
        }
        self.depths[node] = Some(deepest + 1);
        let particle = set.groups[Id::new(node as u32)].particle;
        self.sizes[node] = particle.map_or(0, |particle| self.content(set, particle, LARGEST_CONTENT));
    }

    /// How many particles a content holds once its groups are opened, those that make it too many being cut.
    fn content(&self, set: &mut Schemas, particle: ParticleId, most: u64) -> u64 {
        let (own, edges) = nested_groups(set, particle);
        let size = |edge: &Nested| edge.2.map_or(1, |to| self.sizes[to]);
        let mut whole = own + edges.iter().map(size).sum::<u64>();
        let mut largest = edges;
        largest.sort_by_key(|edge| std::cmp::Reverse(size(edge)));
        for edge in largest {
            if whole <= most || size(&edge) <= 1 {
                break;
            }
            whole -= size(&edge) - 1;
            cut(
                set,
                edge.0,
                format!("with all groups in each other opened, more than {most} particles stand here"),
            );
        }
        whole
    }

    /// Keeps what all types hold together within bounds.
    fn types(&self, set: &mut Schemas) {
        let mut left = LARGEST_OPENED + OPENED_FOR_EACH * set.particles.len() as u64;
        for id in set.types.ids() {
            let TypeKind::Complex(complex) = &set.types[id].kind else { continue };
            let Content::Elements(particle) = complex.content else { continue };
            let size = self.content(set, particle, LARGEST_CONTENT.min(left));
            left = left.saturating_sub(size);
        }
    }
}

/// Leaves a reference to a group out.
fn cut(set: &mut Schemas, particle: ParticleId, message: String) {
    if let Term::GroupRef(reference) = &mut set.particles[particle].term {
        reference.target = None;
        let fault = Fault::new("schema-size", reference.place, message);
        set.faults.push(fault.help("no contract needs this; the group was left out"));
    }
}

/// How many groups and attributes one group of attributes may lead to by all ways, and all together: so many, and so many for
/// each that is written.
const LARGEST_ATTRIBUTES: u64 = 20_000;
const LARGEST_GATHERED: u64 = 400_000;
const GATHERED_FOR_EACH: u64 = 8;

/// Cuts references to groups of attributes that lead to too many: whoever asks for the attributes of a group gathers all of them.
fn attribute_groups(set: &mut Schemas) {
    let mut weights: Vec<Option<u64>> = vec![None; set.attribute_groups.len()];
    let mut left = LARGEST_GATHERED + GATHERED_FOR_EACH * weights.len() as u64;
    let group = |node: usize| &set.attribute_groups[Id::new(node as u32)];
    let inner = |node| group(node).groups.iter().filter_map(|it| Some(it.target?.index())).collect();
    for node in inner_first(weights.len(), inner) {
        let weight = gathered(set, node, &weights, LARGEST_ATTRIBUTES.min(left));
        // What leads to nothing else is looked at once in any case.
        let leads_on = !set.attribute_groups[Id::new(node as u32)].groups.is_empty();
        left = left.saturating_sub(if leads_on { weight } else { 0 });
        weights[node] = Some(weight);
    }
}

/// How much a group of attributes leads to; references to what is too much are cut.
fn gathered(set: &mut Schemas, node: usize, weights: &[Option<u64>], most: u64) -> u64 {
    let group = &mut set.attribute_groups[Id::new(node as u32)];
    let mut whole = 1 + group.attributes.len() as u64;
    // What is named twice is gathered once.
    let mut kept = Set::default();
    let mut cut: Vec<Place> = Vec::new();
    for nested in &mut group.groups {
        let Some(target) = nested.target.filter(|target| !kept.contains(target)) else { continue };
        let weight = weights[target.index()].unwrap_or(1);
        if whole + weight > most {
            nested.target = None;
            cut.push(nested.place);
        } else {
            whole += weight;
            kept.insert(target);
        }
    }
    for place in cut {
        let message = "too many groups of attributes stand in each other";
        set.faults.push(
            Fault::new("schema-size", place, message).help("no contract needs this; the group was left out"),
        );
    }
    whole
}

/// How many types one simple type may lead to by all ways through unions and lists, and all together: so many, and so many for
/// each that is written.
const LARGEST_UNION: u64 = 10_000;
const LARGEST_UNIONS: u64 = 200_000;
const UNIONS_FOR_EACH: u64 = 8;

/// Cuts members of unions that lead to too many types.
fn unions(set: &mut Schemas) {
    let mut weights: Vec<Option<u64>> = vec![None; set.types.len()];
    let mut left = LARGEST_UNIONS + UNIONS_FOR_EACH * set.types.len() as u64;
    for node in inner_first(weights.len(), |node| simple_edges(set, node)) {
        let weight = weigh(set, node, &weights, LARGEST_UNION.min(left));
        left = left.saturating_sub(if weight > 1 { weight } else { 0 });
        weights[node] = Some(weight);
    }
}

/// What a simple type is made from.
fn simple_edges(set: &Schemas, node: usize) -> Vec<usize> {
    let id = TypeId::new(node as u32);
    let simple = Builtin::from_id(id).is_none() && matches!(set.types[id].kind, TypeKind::Simple(_));
    if simple { type_edges(set, node).into_iter().flatten().collect() } else { Vec::new() }
}

/// How many types a simple type leads to; those that are too many are cut.
fn weigh(set: &mut Schemas, node: usize, weights: &[Option<u64>], most: u64) -> u64 {
    let id = TypeId::new(node as u32);
    let of = |id: TypeId| weights[id.index()].unwrap_or(1);
    if Builtin::from_id(id).is_some() {
        return 1;
    }
    let TypeKind::Simple(simple) = &mut set.types[id].kind else { return 1 };
    let members = match &mut simple.derivation {
        SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => {
            return base.target.map_or(1, of);
        }
        SimpleDerivation::Union(members) => members,
    };
    let mut kept = Set::default();
    let mut whole = 0;
    let mut cut: Vec<Place> = Vec::new();
    for member in members {
        let Some(target) = member.target.filter(|target| !kept.contains(target)) else { continue };
        if whole + of(target) > most.max(1) && of(target) > 1 {
            member.target = None;
            cut.push(member.place);
        } else {
            whole += of(target);
            kept.insert(target);
        }
    }
    for place in cut {
        let fault =
            Fault::new("schema-size", place, format!("this union leads to more than {LARGEST_UNION} types"));
        set.faults.push(fault.help("no contract needs this; the member was left out"));
    }
    whole.max(1)
}

/// How many pairs of an element and one that it may stand for there may be: so many, and so many for each element.
const MOST_HEADS: usize = 1_000_000;
const HEADS_FOR_EACH: usize = 8;

/// Cuts chains of substitution groups where each element stands for all before it, and there are too many. What is abstract stands
/// for nothing.
fn substitutes(set: &mut Schemas) {
    let mut lengths: Vec<Option<usize>> = vec![None; set.elements.len()];
    let mut left = MOST_HEADS + HEADS_FOR_EACH * set.elements.len();
    for start in set.elements.ids() {
        let mut path = Vec::new();
        let mut here = Some(start);
        while let Some(id) = here.filter(|id| lengths[id.index()].is_none()) {
            path.push(id);
            here = set.elements[id].substitution_group.as_ref().and_then(|head| head.target);
        }
        let mut length = here.and_then(|id| lengths[id.index()]).unwrap_or(0);
        for id in path.into_iter().rev() {
            length += 1;
            let cost = if set.elements[id].is_abstract { 0 } else { length - 1 };
            if cost > left
                && let Some(head) = &mut set.elements[id].substitution_group
                && head.target.take().is_some()
            {
                let message = "too many elements are each a substitute of the next";
                let fault = Fault::new("schema-size", head.place, message);
                set.faults.push(fault.help("no contract needs this; the head was left out"));
                length = 1;
            } else {
                left -= cost.min(left);
            }
            lengths[id.index()] = Some(length);
        }
    }
}
