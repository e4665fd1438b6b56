//! Whether every instance of one set of schemas is an instance of another, and where it is not, an instance that shows it.
//!
//! The question is taken apart into [`Pair`]s: an element as the one side judges it and as the other does, two types
//! that it may have there, and so on down. [`Inclusion::outcome`] says of one pair what is amiss at it alone, and to which
//! other pairs it leads; that is worked out once, so types that hold each other come to an end. Content models are led
//! side by side through all sequences of elements ([`content`]), or found to be alike without that ([`aligned`]); values are
//! decided on their texts ([`text`]). [`Inclusion::witness`] turns the way to a pair, and what is amiss there, into an
//! instance.
//!
//! What `xsi:type` may say is part of the language where it makes a difference: types derived from the declared one. That
//! it may also name the declared type itself is not.

mod aligned;
mod arrays;
mod attributes;
mod bounds;
mod content;
mod counterexample;
mod dead_ends;
mod identity;
mod inhabited;
mod meaning;
mod pairs;
mod reach;
mod text;
mod undecided;
mod wild;
mod witness;
mod words;

use std::cell::{Cell, OnceCell, RefCell};
use std::sync::Arc;

use charter_source::{Map, QName};

use crate::engine::Engine;
use crate::{DerivationSet, ElementId, Process, TypeId};
pub use counterexample::{Counterexample, Kind, Weight};
pub use meaning::Meaning;
pub use reach::Reached;
pub use text::Texts;
pub use undecided::Undecided;
pub use witness::{Route, Witness};

/// How a side judges an element.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Assessment {
    /// By a declaration.
    Element(ElementId),
    /// By a type alone.
    Type(TypeId),
    /// Not at all: a wildcard skips it.
    Skipped,
    /// It must have a declaration, and has none.
    Unknown,
}

/// Something to compare.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Pair {
    /// An element as the two sides judge it.
    Elements(Assessment, Assessment),
    /// Two declared types, and whatever may stand in their place.
    Declared(DeclaredType, DeclaredType),
    /// Two types that an element has in the end.
    Types(TypeId, TypeId),
    /// What two wildcards let in, by their number.
    Wild(u32),
}

/// A declared type, and what may not stand in its place.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct DeclaredType {
    /// The type.
    pub ty: TypeId,
    extension: bool,
    restriction: bool,
    /// Whether what stands there may be nil, so that it needs no content.
    nil: bool,
}

impl DeclaredType {
    fn new(ty: TypeId, block: DerivationSet) -> DeclaredType {
        DeclaredType { ty, extension: block.extension, restriction: block.restriction, nil: false }
    }

    fn block(self) -> DerivationSet {
        DerivationSet { extension: self.extension, restriction: self.restriction, ..DerivationSet::default() }
    }
}

/// How an instance gets from one pair to the next.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Edge {
    /// It is the same element.
    Same,
    /// It is the same element, which names that type.
    Named(TypeId),
    /// It is a child of that name, judged so by the first side; the elements before it, if they matter, are those of the
    /// trail.
    Child {
        /// Its name.
        name: QName,
        /// How the first side judges it.
        judged: Assessment,
        /// The place in the trail where it was reached.
        at: Option<u32>,
        /// Whether no declaration of the first side names it, or something that must stand before it: a wildcard lets it in.
        open: bool,
    },
}

/// An element on the way through two content models.
#[derive(Debug, Clone)]
pub(crate) struct Passed {
    /// The place of the element before it.
    pub before: Option<u32>,
    pub name: QName,
    pub judged: Assessment,
    /// Whether no declaration names it, or one before it.
    pub open: bool,
}

/// What was found at a pair.
#[derive(Debug, Default)]
pub struct Outcome {
    /// What the one side allows and the other does not.
    pub counterexamples: Vec<Counterexample>,
    /// What was not decided, and why.
    pub undecided: Vec<Undecided>,
    /// What was not decided of attributes that no declaration of the first side names, with their names.
    pub open_undecided: Vec<(Undecided, QName)>,
    /// Where it goes on.
    pub leads_to: Vec<(Edge, Pair)>,
    pub(crate) trail: Vec<Passed>,
}

impl Outcome {
    /// Whether everything was decided.
    pub fn is_decided(&self) -> bool {
        self.undecided.is_empty() && self.open_undecided.is_empty()
    }

    /// Whether an edge from a pair leads into what no declaration of the first side names: what a wildcard lets in, and what
    /// stands for `anyType`.
    pub fn leads_into_the_open(from: Pair, edge: &Edge, to: Pair) -> bool {
        let anything = |ty: TypeId| ty == crate::Builtin::AnyType.id();
        match (from, edge, to) {
            (_, _, Pair::Wild(_)) | (Pair::Wild(_), ..) => true,
            (_, Edge::Child { open, .. }, _) => *open,
            (Pair::Declared(declared, _), Edge::Named(_), _) => anything(declared.ty),
            _ => false,
        }
    }
}

/// What is kept of an outcome. There is one for each pair, so a large contract has a million.
enum Known {
    /// All is well, and the same element is judged by that pair: nearly all are so.
    Passes(Pair),
    Other(Arc<Outcome>),
}

impl Known {
    fn of(mut outcome: Outcome) -> Known {
        let sound = outcome.counterexamples.is_empty() && outcome.is_decided() && outcome.trail.is_empty();
        if let ([(Edge::Same, pair)], true) = (&*outcome.leads_to, sound) {
            return Known::Passes(*pair);
        }
        outcome.counterexamples.shrink_to_fit();
        outcome.undecided.shrink_to_fit();
        outcome.open_undecided.shrink_to_fit();
        outcome.leads_to.shrink_to_fit();
        outcome.trail.shrink_to_fit();
        Known::Other(Arc::new(outcome))
    }

    fn outcome(&self) -> Arc<Outcome> {
        match self {
            Known::Passes(pair) => {
                Arc::new(Outcome { leads_to: vec![(Edge::Same, *pair)], ..Outcome::default() })
            }
            Known::Other(outcome) => outcome.clone(),
        }
    }
}

/// What all witnesses may cost, in places of models that are looked at: so much, and so much for each byte of the schemas. A
/// thousand things that differ in a content of a thousand elements are a million elements in witnesses.
const EFFORT: u64 = 32_000_000;
const EFFORT_FOR_EACH: u64 = 16;
/// What a byte of a witness costs, which is written and judged by both sides.
const EFFORT_OF_BYTE: u64 = 8;
/// What it costs to try a step of a sequence, for each of the groups that it stands in.
const EFFORT_OF_STEP: u64 = 12;

/// Asks whether everything that `sub` allows is allowed by `sup`.
pub struct Inclusion<'e> {
    sub: &'e Engine<'e>,
    sup: &'e Engine<'e>,
    known: RefCell<Map<Pair, Known>>,
    texts: RefCell<Map<(TypeId, TypeId), Texts>>,
    inhabited: OnceCell<Vec<bool>>,
    /// Whether everything is taken to have an instance.
    assuming: bool,
    /// Whether values are written by the encoding of SOAP.
    encoded: bool,
    /// Whether instances of the first side may have identifiers.
    has_ids: OnceCell<bool>,
    /// What identity constraints of the other side look at.
    fields: OnceCell<identity::Fields>,
    wilds: RefCell<wild::Wilds>,
    /// The namespaces that either side speaks of.
    spoken_of: OnceCell<Vec<Arc<str>>>,
    /// What may still be spent on witnesses.
    effort: Cell<u64>,
    /// Names that `sub` and `sup` have for the same thing, by the type of `sub` that they stand in.
    renamed: RefCell<Map<(TypeId, QName), QName>>,
}

impl<'e> Inclusion<'e> {
    /// Asks whether everything that `sub` allows is allowed by `sup`.
    pub fn new(sub: &'e Engine<'e>, sup: &'e Engine<'e>) -> Inclusion<'e> {
        Inclusion {
            sub,
            sup,
            known: RefCell::default(),
            texts: RefCell::default(),
            inhabited: OnceCell::new(),
            assuming: false,
            encoded: false,
            has_ids: OnceCell::new(),
            fields: OnceCell::new(),
            wilds: RefCell::default(),
            spoken_of: OnceCell::new(),
            renamed: RefCell::default(),
            effort: Cell::new(EFFORT + EFFORT_FOR_EACH * sub.text_length()),
        }
    }

    /// The same question with every type taken to have an instance, whether there can be one or not: what differs is then
    /// found even where nobody can send it.
    pub fn assuming(self) -> Inclusion<'e> {
        Inclusion { assuming: true, ..self }
    }

    /// The same question for values that are written by the encoding of SOAP 1.1: arrays are their members then, and anything
    /// may be nil.
    pub fn encoded(self) -> Inclusion<'e> {
        Inclusion { encoded: true, ..self }
    }

    /// The engine of the one side.
    pub fn sub(&self) -> &'e Engine<'e> {
        self.sub
    }

    /// The engine of the other side.
    pub fn sup(&self) -> &'e Engine<'e> {
        self.sup
    }

    /// Says that what has a name in the content of a type of `sub` has another name in `sup`.
    pub fn rename(&self, within: TypeId, from: QName, to: QName) {
        self.renamed.borrow_mut().insert((within, from), to);
    }

    /// Pays for what it takes to make a witness; whether there was enough left.
    fn spend(&self, cost: u64) -> bool {
        let left = self.effort.get();
        self.effort.set(left.saturating_sub(cost));
        cost <= left
    }

    /// What there is at a pair, worked out once.
    pub fn outcome(&self, pair: Pair) -> Arc<Outcome> {
        if let Some(known) = self.known.borrow().get(&pair) {
            return known.outcome();
        }
        let known = Known::of(self.compare(pair));
        let outcome = known.outcome();
        self.known.borrow_mut().insert(pair, known);
        outcome
    }

    /// Whether the values of two types, simple or with simple content, are included.
    fn texts(&self, sub: TypeId, sup: TypeId) -> Texts {
        if let Some(known) = self.texts.borrow().get(&(sub, sup)) {
            return known.clone();
        }
        let found = match (self.sub.datatype(sub), self.sup.datatype(sup)) {
            (Some(a), Some(b)) => text::within((self.sub, a), (self.sup, b)),
            _ => Texts::Undecided(Undecided::UnknownType),
        };
        self.texts.borrow_mut().insert((sub, sup), found.clone());
        found
    }
}

impl Inclusion<'_> {
    /// What may stand for two elements where the first is abstract: each element of the first side that may, with what
    /// the other side makes of it.
    pub fn in_place_of(&self, sub: ElementId, sup: Assessment) -> Vec<(QName, Pair)> {
        let elements = &self.sub.schemas.elements;
        if !elements[sub].is_abstract {
            return Vec::new();
        }
        let theirs = match sup {
            Assessment::Element(id) => aligned::stand_ins(self.sup, id),
            _ => Vec::new(),
        };
        let ours = aligned::stand_ins(self.sub, sub).into_iter().filter(|id| !elements[*id].is_abstract);
        let pair = |id: ElementId| {
            let name = &elements[id].name;
            let other = theirs.iter().find(|other| self.sup.schemas.elements[**other].name == *name);
            let judged = other.map_or(Assessment::Unknown, |other| Assessment::Element(*other));
            (name.clone(), Pair::Elements(Assessment::Element(id), judged))
        };
        ours.map(pair).collect()
    }
}

/// How a wildcard of that strictness judges an element of a name.
fn let_in(engine: &Engine<'_>, process: Process, name: &QName) -> Assessment {
    let declared = || {
        let key = engine.schemas.interner.key(&name.namespace, &name.local);
        key.and_then(|key| engine.global_element(key)).map(Assessment::Element)
    };
    match process {
        Process::Skip => Assessment::Skipped,
        Process::Lax => declared().unwrap_or(Assessment::Type(crate::Builtin::AnyType.id())),
        Process::Strict => declared().unwrap_or(Assessment::Unknown),
    }
}
