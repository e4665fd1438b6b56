//! Whether every text that one simple type accepts is accepted by another, decided on the texts themselves.
//!
//! A type becomes a [`Machine`] that reads a text byte by byte: its lexical space and its patterns as automata, lengths,
//! ranges and digits as counters, lists and unions put together of those. Two machines are led side by side through all
//! texts at once; where the one accepts and the other does not, the text that led there is the answer.

mod candidates;
mod compile;
mod machine;
mod number;
mod rules;
mod search;

use std::sync::Arc;

use charter_source::QName;

use crate::engine::{Context, Datatype, Variety};
use crate::inclusion::Undecided;
use crate::{Builtin, Engine};

pub(crate) use candidates::likely;

/// Whether the texts of one type are among those of another.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Texts {
    /// All are.
    Within,
    /// This one is not.
    Beyond(String),
    /// It was not decided: why.
    Undecided(Undecided),
}

/// Whether every text that `sub` accepts is accepted by `sup`.
pub(crate) fn within(sub: (&Engine<'_>, &Arc<Datatype>), sup: (&Engine<'_>, &Arc<Datatype>)) -> Texts {
    let (sub, sup) = ((sub.0, peeled(sub.1)), (sup.0, peeled(sup.1)));
    let (a, b) = (sub.1, sup.1);
    if depth(a) > DEEPEST || depth(b) > DEEPEST {
        return Texts::Undecided(Undecided::DeepValue);
    }
    if rules::implied(a, b) {
        return Texts::Within;
    }
    let judge = Judge { sub, sup };
    if let Some(text) = candidates::beyond(&judge) {
        return Texts::Beyond(text);
    }
    if rules::by_members(a, b, &|a, b| within((sub.0, a), (sup.0, b)) == Texts::Within) {
        return Texts::Within;
    }
    if is_name(b) {
        return Texts::Undecided(Undecided::Prefixes);
    }
    if rules::finite(a, b, &|text| b.accept(text, &Bare(sup.0), false).is_ok()) {
        return Texts::Within;
    }
    search::decide(&judge)
}

/// How deep lists and unions of each other are followed.
const DEEPEST: usize = 200;

/// The one member of a union that says no more than that.
fn peeled(ty: &Arc<Datatype>) -> &Arc<Datatype> {
    let mut ty = ty;
    while let Variety::Union(members) = &ty.variety
        && let [only] = &**members
        && ty.patterns.is_none()
        && ty.enumeration.is_none()
    {
        ty = only;
    }
    ty
}

/// How deep lists and unions nest, counted no further than needed.
fn depth(ty: &Datatype) -> usize {
    let mut deepest = 0;
    let mut waiting = vec![(ty, 1)];
    while let Some((ty, depth)) = waiting.pop() {
        deepest = deepest.max(depth);
        if depth > DEEPEST {
            break;
        }
        match &ty.variety {
            Variety::Atomic(_) => {}
            Variety::List(item) => waiting.push((item, depth + 1)),
            Variety::Union(members) => waiting.extend(members.iter().map(|member| (&**member, depth + 1))),
        }
    }
    deepest
}

fn is_name(ty: &Datatype) -> bool {
    match &ty.variety {
        Variety::Atomic(builtin) => matches!(builtin.primitive(), Builtin::QName | Builtin::Notation),
        Variety::List(item) => is_name(item),
        Variety::Union(members) => members.iter().any(|member| is_name(member)),
    }
}

/// Two types, and what judges single texts by them.
pub(super) struct Judge<'j, 'e> {
    sub: (&'j Engine<'e>, &'j Arc<Datatype>),
    sup: (&'j Engine<'e>, &'j Arc<Datatype>),
}

impl Judge<'_, '_> {
    /// Whether the one accepts a text and the other does not.
    fn parts(&self, text: &str) -> bool {
        self.sub.1.accept(text, &Bare(self.sub.0), false).is_ok()
            && self.sup.1.refuses(text, &Bare(self.sup.0))
    }
}

/// What stands around a text of which nothing else is known: no prefix is declared, and no entity.
pub(super) struct Bare<'e>(&'e Engine<'e>);

impl Context for Bare<'_> {
    fn name(&self, text: &str) -> Option<QName> {
        (!text.contains(':')).then(|| QName::new("", text))
    }

    fn has_notation(&self, name: &QName) -> bool {
        self.0.has_notation(name)
    }

    fn has_entity(&self, _: &str) -> bool {
        true
    }
}
