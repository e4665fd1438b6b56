//! Which groups and wildcards of one content are those of another.
//!
//! A group that may be left out where it had to be there, or that became a choice, is still the group that it was, though one of
//! the two versions may not write it as a group at all.

use std::borrow::Cow;
use std::collections::VecDeque;

use charter_contract::Contract;
use charter_schema::{Compositor, Occurs};
use charter_source::{Map, Set};

use crate::describe::model::Model;
use crate::what::GroupOf;

/// A group or a wildcard with its place in the list that it stands in.
pub(crate) type Other<'l> = (usize, &'l Model);

/// The groups and wildcards of two lists.
pub(crate) struct Paired<'l> {
    pub both: Vec<(Other<'l>, Other<'l>)>,
    pub gone: Vec<Other<'l>>,
    pub come: Vec<Other<'l>>,
}

/// The local name of an element of a list.
fn name<'c>(contract: &'c Contract, model: &Model) -> Option<&'c str> {
    model.element().map(|id| &*contract.schemas.elements[id].name.local)
}

/// The names of all elements in a group, however deep.
fn names<'c>(contract: &'c Contract, group: &Model) -> Vec<&'c str> {
    let mut found = Vec::new();
    let mut open = vec![group];
    while let Some(model) = open.pop() {
        found.extend(name(contract, model));
        if let Model::Group { members, .. } = model {
            open.extend(members.iter().rev());
        }
    }
    found
}

/// What a group is told as: its compositor, and the elements that stand right in it.
pub(crate) fn group_of(contract: &Contract, compositor: Compositor, members: &[Model]) -> GroupOf {
    let names = members.iter().filter_map(|member| name(contract, member).map(str::to_owned));
    GroupOf { compositor, names: names.collect() }
}

impl<'l> Paired<'l> {
    /// Pairs those that have elements in common, then those that are left in the order in which they come.
    pub fn of((old, was): (&Contract, &[Other<'l>]), (new, is): (&Contract, &[Other<'l>])) -> Paired<'l> {
        let mut by_name: Map<&str, usize> = Map::default();
        for (number, (_, model)) in is.iter().enumerate() {
            for name in names(new, model) {
                by_name.entry(name).or_insert(number);
            }
        }
        let mut taken = vec![false; is.len()];
        let mut both = Vec::new();
        let mut alone = Vec::new();
        for of_old in was {
            let shared = names(old, of_old.1).into_iter().filter_map(|name| by_name.get(name).copied());
            match shared.into_iter().find(|number| !taken[*number]) {
                Some(number) => {
                    taken[number] = true;
                    both.push((*of_old, is[number]));
                }
                None => alone.push(*of_old),
            }
        }
        let mut left: VecDeque<Other<'l>> =
            is.iter().zip(taken).filter(|(_, taken)| !taken).map(|(model, _)| *model).collect();
        // The same wildcards, and then what is of one sort: something may have come between.
        for fits in [is_same_wildcard, is_alike] {
            alone.retain(|of_old| {
                let fitting = left.iter().position(|of_new| fits(of_old.1, of_new.1));
                let of_new = fitting.and_then(|at| left.remove(at));
                both.extend(of_new.map(|of_new| (*of_old, of_new)));
                of_new.is_none()
            });
        }
        both.sort_by_key(|((at, _), _)| *at);
        Paired { both, gone: alone, come: left.into() }
    }
}

fn is_same_wildcard(was: &Model, is: &Model) -> bool {
    matches!((was, is), (
        Model::Any { namespaces: a, process: p, .. },
        Model::Any { namespaces: b, process: q, .. },
    ) if a == b && p == q)
}

/// Whether two that have no element in common may be one: two wildcards, or two groups of one compositor.
fn is_alike(was: &Model, is: &Model) -> bool {
    match (was, is) {
        (Model::Any { .. }, Model::Any { .. }) => true,
        (Model::Group { compositor: a, .. }, Model::Group { compositor: b, .. }) => a == b,
        _ => false,
    }
}

/// A list of one version, in which what the `other` version has in a group stands in a group as well: an element that is one of
/// several there is a choice of one, and elements that follow each other are a group, which occurs once. The list stands `inside` a
/// group itself.
pub(crate) fn grouped<'l>(
    (own, list): (&Contract, &'l [Model]),
    (other, others): (&Contract, &[Model]),
    inside: Compositor,
) -> Cow<'l, [Model]> {
    let mut groups: Vec<(Compositor, Occurs)> = Vec::new();
    let mut by_name: Map<&str, usize> = Map::default();
    for model in others {
        if let Model::Group { compositor, occurs, .. } = model {
            names(other, model).into_iter().for_each(|name| {
                by_name.entry(name).or_insert(groups.len());
            });
            groups.push((*compositor, *occurs));
        }
    }
    // Nearly all lists are without a group.
    if groups.is_empty() {
        return Cow::Borrowed(list);
    }
    let alone: Set<&str> = others.iter().filter_map(|model| name(other, model)).collect();
    let mut spans: Vec<Span> = vec![Span::default(); groups.len()];
    for (at, model) in list.iter().enumerate() {
        let of_piece = names(own, model);
        let Some(group) =
            of_piece.iter().find(|name| !alone.contains(*name)).and_then(|name| by_name.get(name))
        else {
            continue;
        };
        let span = &mut spans[*group];
        span.ends = Some((span.ends.map_or(at, |(first, _)| first), at));
        match model {
            Model::Group { compositor, occurs, .. } => {
                span.is_there |= (*compositor, *occurs) == groups[*group];
            }
            _ => span.is_flat = true,
        }
    }
    let is_free = |model: &Model, group: usize| {
        let of_piece = names(own, model);
        let fits =
            |name: &&str| !alone.contains(name) && by_name.get(name).is_none_or(|known| *known == group);
        !of_piece.is_empty() && of_piece.iter().all(fits)
    };
    let mut made: Map<usize, (usize, Model)> = Map::default();
    for (group, span) in spans.into_iter().enumerate() {
        if let Some((first, last)) = span.ends.filter(|_| span.is_flat && !span.is_there)
            && (inside != Compositor::Choice || first == last)
            && list[first..=last].iter().all(|model| is_free(model, group))
        {
            made.insert(first, (last, as_group(&list[first..=last], groups[group], inside)));
        }
    }
    if made.is_empty() {
        return Cow::Borrowed(list);
    }
    let mut found = Vec::new();
    let mut at = 0;
    while let Some(model) = list.get(at) {
        let (last, model) = made.remove(&at).unwrap_or_else(|| (at, model.clone()));
        found.push(model);
        at = last + 1;
    }
    Cow::Owned(found)
}

/// Where in a list that stands which the other version has in a group.
#[derive(Clone, Copy, Default)]
struct Span {
    /// The first and the last piece.
    ends: Option<(usize, usize)>,
    /// Whether an element of it stands right in the list.
    is_flat: bool,
    /// Whether the list has such a group.
    is_there: bool,
}

/// What stands in a list by itself, as a group that says the same.
fn as_group(pieces: &[Model], (like, often): (Compositor, Occurs), inside: Compositor) -> Model {
    match pieces {
        [Model::Element { element, occurs }] if like == Compositor::Choice => {
            // How often it stands there is said of the one or of the other.
            let (within, around) = match often {
                Occurs::ONCE => (*occurs, Occurs::ONCE),
                _ => (Occurs::ONCE, *occurs),
            };
            Model::Group {
                compositor: Compositor::Choice,
                members: vec![Model::Element { element: *element, occurs: within }],
                occurs: around,
            }
        }
        _ => Model::Group {
            compositor: match inside {
                Compositor::All => Compositor::All,
                _ => Compositor::Sequence,
            },
            members: pieces.to_vec(),
            occurs: Occurs::ONCE,
        },
    }
}
