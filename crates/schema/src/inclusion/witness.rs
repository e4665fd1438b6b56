//! An instance that the first side allows and the other does not: the least there is around a counterexample.

use charter_source::{Files, Limits, Location, Overlay, Place, QName, ns};

use super::pairs::{Anywhere, forms};
use super::wild::{ELSEWHERE, unheard_of};
use super::words::{Wanted, Word};
use super::{Assessment, Counterexample, EFFORT_OF_BYTE, Edge, Inclusion, Kind, Outcome, Pair};
use crate::engine::{ContentKind, Engine};
use crate::sample::{
    Element, Generator, Node, PENDING, Sampler, SenderHabits, Size, Text, to_fragment, typical_values,
};
use crate::{Assess, Builtin, Report, TypeId, ValueConstraint};

/// Random instances that are tried where nothing else helps.
const MOST_TRIED: u64 = 60;

/// Bytes of an instance that costs too much to be made in several ways.
const LONG: usize = 4_000;

/// The way from an element to a pair below it.
pub type Route = [(Pair, Edge)];

/// An instance that shows a counterexample.
#[derive(Debug, Clone)]
pub struct Witness {
    /// The instance as it is written: the places in what is wrong are places in it.
    pub text: String,
    /// What the other side finds wrong with it; nothing if it only reads it in another way.
    pub refused: Report,
    /// Whether the other side would accept it without what it does not know there.
    pub ignorable: bool,
}

impl Inclusion<'_> {
    /// An instance that shows a counterexample at the end of a way down from an element of that name, judged by both sides:
    /// the first side finds nothing wrong with it, and the other does, unless it only means something else there.
    ///
    /// `way` holds each pair on the way with the edge that leads on; `end` is the last pair.
    pub fn witness(
        &self,
        name: &QName,
        way: &Route,
        end: Pair,
        counterexample: &Counterexample,
    ) -> Option<Witness> {
        self.found(way, end, counterexample, self.candidates(name, way, end, counterexample, None))
    }

    /// The same, of what is familiar, the element around it included, as far as the first side leaves a choice.
    pub fn familiar_witness(
        &self,
        name: &QName,
        way: &Route,
        end: Pair,
        counterexample: &Counterexample,
        habits: &SenderHabits,
    ) -> Option<Witness> {
        let tried = self.candidates(name, way, end, counterexample, Some(habits));
        self.found(way, end, counterexample, tried).or_else(|| self.witness(name, way, end, counterexample))
    }

    fn found(
        &self,
        way: &Route,
        end: Pair,
        counterexample: &Counterexample,
        tried: impl Iterator<Item = Element>,
    ) -> Option<Witness> {
        let root = way.first().map_or(end, |(pair, _)| *pair);
        let mut best: Option<Witness> = None;
        for element in tried {
            let Some(witness) = self.proves(root, element, counterexample) else { continue };
            // What is wrong in one respect alone shows that one, whatever else differs.
            let is_new =
                matches!(counterexample.kind, Kind::Unexpected { new: true, .. } | Kind::Attribute { .. });
            let is_clear = witness.refused.count <= 1 && (witness.ignorable || !is_new);
            if is_clear || witness.text.len() > LONG {
                return Some(witness);
            }
            let rank = |it: &Witness| (!it.ignorable, it.refused.count);
            if best.as_ref().is_none_or(|best| rank(&witness) < rank(best)) {
                best = Some(witness);
            }
        }
        best
    }

    fn candidates<'w>(
        &'w self,
        name: &'w QName,
        way: &'w Route,
        end: Pair,
        counterexample: &'w Counterexample,
        habits: Option<&'w SenderHabits>,
    ) -> impl Iterator<Item = Element> + 'w {
        let turns = match &counterexample.kind {
            Kind::Identity(_) => MOST_TRIED,
            Kind::Assessment => 5,
            _ => 3,
        };
        let able = move |_: &u64| self.effort.get() > 0;
        (0..turns).take_while(able).filter_map(move |turn| {
            // What else stands there is the least, unless that is not enough.
            let size = if turn == turns - 1 { Size::Typical } else { Size::Least };
            let generator =
                Generator::new(self.sub, size, turn == 1).within(self.encoded, 0).preferring(habits);
            let mut maker = Maker { inclusion: self, generator, counterexample, turn, around: None };
            let inside = habits.and_then(|habits| habits.below(&name.local));
            let mut element = maker.element(name, way, end, inside)?;
            maker.generator.point_references(&mut element).ok()?;
            Some(element)
        })
    }

    /// Judges an instance by both sides.
    fn proves(&self, root: Pair, element: Element, counterexample: &Counterexample) -> Option<Witness> {
        let (sub, sup) = assessed(root)?;
        let text = to_fragment(&element, &|_| None);
        if !self.spend(EFFORT_OF_BYTE * text.len() as u64) {
            return None;
        }
        let store = Overlay::of(&[("witness.xml", &text)]);
        let files = Files::load(&store, &Location::from_argument("witness.xml"), Limits::default()).ok()?;
        let node = files.first().root()?;
        let judge = |engine: &Engine<'_>, assess| {
            engine.validate_parts(files.first().id, &[(node, assess)], self.encoded, 4)
        };
        if !judge(self.sub, sub).is_valid() {
            return None;
        }
        let refused = match sup {
            Some(sup) => judge(self.sup, sup),
            None => Report { wrong: Vec::new(), count: 1, open: 0 },
        };
        if !refused.is_valid() && !refused.is_refused() {
            return None;
        }
        let misread = counterexample.weight() != super::Weight::Refused;
        if misread != refused.is_valid() {
            return None;
        }
        let ignorable = self.is_ignorable(root, element, counterexample);
        Some(Witness { text, refused, ignorable })
    }

    /// Whether the other side accepts an instance from which everything is left out that it does not know.
    fn is_ignorable(&self, root: Pair, mut element: Element, counterexample: &Counterexample) -> bool {
        match &counterexample.kind {
            Kind::Unexpected { name, new: true, .. } => {
                without(&mut element, &|child| child.name != *name, &|_| true);
            }
            Kind::Attribute { name, .. } => without(&mut element, &|_| true, &|attribute| attribute != name),
            // The type that is named is not known; the rest of what it adds is in the way as well.
            _ => return false,
        }
        let Some((_, Some(sup))) = assessed(root) else { return false };
        let text = to_fragment(&element, &|_| None);
        let store = Overlay::of(&[("witness.xml", &text)]);
        let files = Files::load(&store, &Location::from_argument("witness.xml"), Limits::default());
        let Ok(files) = files else { return false };
        let file = files.first();
        file.root()
            .is_some_and(|node| self.sup.validate_parts(file.id, &[(node, sup)], self.encoded, 0).is_valid())
    }
}

/// How the two sides judge the element at a pair; `None` for a side that never accepts it.
fn assessed(pair: Pair) -> Option<(Assess, Option<Assess>)> {
    let assess = |judged: Assessment| match judged {
        Assessment::Element(id) => Some(Assess::By(id)),
        Assessment::Type(id) => Some(Assess::As(id)),
        Assessment::Skipped => Some(Assess::As(Builtin::AnyType.id())),
        Assessment::Unknown => None,
    };
    Some(match pair {
        Pair::Elements(sub, sup) => (assess(sub)?, assess(sup)),
        Pair::Declared(sub, sup) => (Assess::As(sub.ty), Some(Assess::As(sup.ty))),
        Pair::Types(sub, sup) => (Assess::As(sub), Some(Assess::As(sup))),
        Pair::Wild(_) => return None,
    })
}

struct Maker<'w, 'e> {
    inclusion: &'w Inclusion<'e>,
    generator: Generator<'w>,
    counterexample: &'w Counterexample,
    /// Which of several ways to make it.
    turn: u64,
    /// What is preferred around the element being made; the generator has what is preferred within it.
    around: Option<&'w SenderHabits>,
}

impl<'w> Maker<'w, '_> {
    /// The element at the beginning of a way, with what is preferred within it.
    fn element(
        &mut self,
        name: &QName,
        way: &Route,
        end: Pair,
        inside: Option<&'w SenderHabits>,
    ) -> Option<Element> {
        let before = (self.around, self.generator.habits);
        (self.around, self.generator.habits) = (before.1, inside);
        let made = self.led(name, way, end);
        (self.around, self.generator.habits) = before;
        made
    }

    fn led(&mut self, name: &QName, way: &Route, end: Pair) -> Option<Element> {
        let mut element = Element::new(name.clone());
        let mut way = way;
        let (mut types, mut declared) = (None, None);
        while let Some(((pair, edge), rest)) = way.split_first() {
            // Between a type and what its wildcards let in there is a pair that is about neither.
            match pair {
                Pair::Types(ty, _) => types = Some((*ty, *pair)),
                Pair::Elements(Assessment::Element(id), _) => declared = Some(*id),
                _ => {}
            }
            match edge {
                Edge::Same => {}
                Edge::Named(ty) => self.say_type(&mut element, *ty),
                Edge::Child { name: child, judged, at, .. } => {
                    self.parent(&mut element, types?, (child, *judged, *at), rest, end)?;
                    return Some(element);
                }
            }
            way = rest;
        }
        self.counterexampleing(&mut element, end)?;
        if let (Some(id), Kind::Value(_)) = (declared, &self.counterexample.kind)
            && let Some(ValueConstraint::Fixed(fixed)) =
                self.inclusion.sub.schemas.elements[id].value.as_deref()
        {
            // No other value can be there; but it has other forms.
            let (sub, sup) = (self.inclusion.sub, self.inclusion.sup);
            let forms = match end {
                Pair::Types(ty, _) => sub.datatype(ty).map(|ty| forms(sub, ty, fixed)).unwrap_or_default(),
                _ => Vec::new(),
            };
            let theirs = if let Pair::Types(_, ty) = end { sup.datatype(ty) } else { None };
            let refused = |text: &&String| theirs.is_some_and(|ty| ty.refuses(text, &Anywhere));
            let text = forms.iter().find(refused).unwrap_or(fixed);
            element.children.retain(|child| !matches!(child, Node::Text(_)));
            element.children.push(Node::Text(value_of(text)));
        }
        Some(element)
    }

    fn say_type(&self, element: &mut Element, ty: TypeId) {
        if let Some(name) = &self.inclusion.sub.schemas.types[ty].name {
            element.attributes.push((QName::new(ns::XSI, "type"), Text::Name(name.clone())));
        }
    }

    /// An element with the child that the way leads through.
    fn parent(
        &mut self,
        element: &mut Element,
        (ty, pair): (TypeId, Pair),
        (child, judged, at): (&QName, Assessment, Option<u32>),
        rest: &Route,
        end: Pair,
    ) -> Option<()> {
        let inclusion = self.inclusion;
        let word = match (at, self.generator.habits) {
            (Some(_), None) => inclusion.completed(ty, &inclusion.outcome(pair).trail, at)?,
            (_, habits) => inclusion.holding(ty, &Wanted::Element(child, judged), habits)?,
        };
        self.attributes(element, ty)?;
        let below = (rest, end);
        self.children(element, &word, Some(&below))
    }

    fn attributes(&mut self, element: &mut Element, ty: TypeId) -> Option<()> {
        let name = element.name.local.to_string();
        self.generator.attributes(element, ty, &name).ok()
    }

    /// Gives an element the children of a sequence; the one that it is about is made by the rest of the way.
    fn children(&mut self, element: &mut Element, word: &Word, below: Option<&(&Route, Pair)>) -> Option<()> {
        for (at, (name, judged)) in word.elements.iter().enumerate() {
            let child = match below {
                Some((rest, end)) if word.at == Some(at) => {
                    let inside = self.within(name, *judged);
                    self.element(name, rest, *end, inside)?
                }
                _ => self.smallest(name, *judged)?,
            };
            element.children.push(Node::Element(child));
        }
        Some(())
    }

    /// What is preferred within a child.
    fn within(&self, name: &QName, judged: Assessment) -> Option<&'w SenderHabits> {
        let habits = self.generator.habits?;
        // The members of arrays have no part in the paths of what is sent.
        let is_member = matches!(judged, Assessment::Type(_)) && !habits.knows(&name.local);
        if is_member { Some(habits) } else { habits.below(&name.local) }
    }

    /// What an element is by its declaration alone, in the place of the one being made.
    fn instead(&mut self, name: &QName, judged: Assessment) -> Option<Element> {
        let inside = self.generator.habits;
        self.generator.habits = self.around;
        let made = self.smallest(name, judged);
        self.generator.habits = inside;
        made
    }

    /// The least element of a name.
    fn smallest(&mut self, name: &QName, judged: Assessment) -> Option<Element> {
        match judged {
            Assessment::Element(id) => self.generator.element(id, "").ok(),
            Assessment::Type(ty) => {
                let mut element = Element::new(name.clone());
                let around = self.generator.habits;
                self.generator.habits = self.within(name, judged);
                let filled = self.filled(&mut element, ty);
                self.generator.habits = around;
                filled.map(|()| element)
            }
            Assessment::Skipped => Some(Element::new(name.clone())),
            Assessment::Unknown => None,
        }
    }

    fn filled(&mut self, element: &mut Element, ty: TypeId) -> Option<()> {
        let name = element.name.local.to_string();
        element.ty = Some(ty);
        if !self.inclusion.is_type_inhabited(ty) {
            // What has no content can still be nil.
            self.attributes(element, ty)?;
            element.attributes.push((QName::new(ns::XSI, "nil"), Text::Plain("true".into())));
            return Some(());
        }
        self.generator.fill_named(element, ty, &name, "", Place::default()).ok()
    }

    /// The element where the counterexample is.
    fn counterexampleing(&mut self, element: &mut Element, end: Pair) -> Option<()> {
        match end {
            Pair::Elements(sub, _) => self.declared(element, sub),
            Pair::Declared(sub, _) => match self.counterexample.kind {
                Kind::TypeName(ty) => {
                    self.say_type(element, ty);
                    self.filled(element, ty)
                }
                _ => self.filled(element, sub.ty),
            },
            Pair::Types(sub, sup) => {
                let outcome = self.inclusion.outcome(Pair::Types(sub, sup));
                self.typed(element, sub, sup, &outcome)
            }
            Pair::Wild(_) => None,
        }
    }

    /// A counterexample of declarations.
    fn declared(&mut self, element: &mut Element, judged: Assessment) -> Option<()> {
        let inclusion = self.inclusion;
        let ty = match judged {
            Assessment::Element(id) => inclusion.sub.schemas.element_type(id),
            Assessment::Type(ty) => ty,
            Assessment::Skipped => return self.unjudged(element),
            Assessment::Unknown => return None,
        };
        match &self.counterexample.kind {
            Kind::Nil => {
                // What has a fixed value can only say that it is not nil.
                let Assessment::Element(id) = judged else { return None };
                let fixed = matches!(
                    inclusion.sub.schemas.elements[id].value.as_deref(),
                    Some(ValueConstraint::Fixed(_))
                );
                match fixed {
                    true => *element = self.instead(&element.name, judged)?,
                    false => {
                        // What is abstract is nil as one of the types that stand for it.
                        let ty = self.generator.type_of(id, element)?;
                        self.attributes(element, ty)?;
                    }
                }
                let nil = if fixed { "false" } else { "true" };
                element.attributes.push((QName::new(ns::XSI, "nil"), Text::Plain(nil.into())));
                Some(())
            }
            Kind::Fixed(value) | Kind::Value(value) => {
                self.attributes(element, ty)?;
                element.children.push(Node::Text(Text::Plain(value.clone())));
                Some(())
            }
            Kind::Default { .. } => self.attributes(element, ty),
            Kind::Identity(_) => self.repeating(element, judged),
            _ => {
                *element = self.instead(&element.name, judged)?;
                Some(())
            }
        }
    }

    /// What was skipped so far: something that no declaration would allow.
    fn unjudged(&mut self, element: &mut Element) -> Option<()> {
        let unknown = unheard_of(ELSEWHERE);
        match self.turn {
            0 => {}
            1 => element.children.push(Node::Text(Text::Plain("~".into()))),
            2 => element.children.push(Node::Element(Element::new(unknown))),
            _ => element.attributes.push((QName::new(ns::XSI, "type"), Text::Name(unknown))),
        }
        Some(())
    }

    /// Instances in which what repeats is the same each time, so that nothing is unique.
    fn repeating(&mut self, element: &mut Element, judged: Assessment) -> Option<()> {
        let Assessment::Element(id) = judged else { return None };
        let size = match self.turn / 2 {
            0 => Size::Least,
            1 => Size::Typical,
            2 => Size::Most,
            turn => Size::Random(turn),
        };
        let mut made = Sampler::new(self.inclusion.sub, size).element(id).ok()?;
        if self.turn % 2 == 1 {
            alike(&mut made);
        }
        *element = made;
        Some(())
    }

    /// The children that lead to the counterexample, where elements have no place or are missing.
    fn reaching(&self, sub: TypeId, outcome: &Outcome) -> Option<Word> {
        let inclusion = self.inclusion;
        let Some(habits) = self.generator.habits else {
            return inclusion.completed(sub, &outcome.trail, self.counterexample.at);
        };
        // What comes before the counterexample may go another way than where it was found.
        let passed = self.counterexample.at.and_then(|at| outcome.trail.get(at as usize));
        let wanted = passed.map_or(Wanted::Anything, |passed| Wanted::Element(&passed.name, passed.judged));
        inclusion.holding(sub, &wanted, Some(habits))
    }

    /// A counterexample of types.
    fn typed(&mut self, element: &mut Element, sub: TypeId, sup: TypeId, outcome: &Outcome) -> Option<()> {
        let inclusion = self.inclusion;
        let text = |element: &mut Element, value: &str| element.children.push(Node::Text(value_of(value)));
        if let Some((name, item, count)) = inclusion.array_members(sub, sup, &self.counterexample.kind) {
            let elements = vec![(name, Assessment::Type(item)); count as usize];
            return self.children(element, &Word { elements, at: None }, None);
        }
        match &self.counterexample.kind {
            Kind::Value(value) => {
                self.attributes(element, sub)?;
                text(element, value);
            }
            Kind::Meaning { attribute: None, .. } => {
                self.attributes(element, sub)?;
                text(element, &inclusion.accepted_by_both(sub, sup)?);
            }
            Kind::Unexpected { .. } | Kind::Missing { .. } | Kind::Renamed { .. } => {
                self.attributes(element, sub)?;
                if inclusion.sub.schemas.is_any(sub) {
                    // What lacks something holds nothing.
                    if let Kind::Unexpected { name, .. } = &self.counterexample.kind {
                        element.children.push(Node::Element(Element::new(name.clone())));
                    }
                    return Some(());
                }
                let word = self.reaching(sub, outcome)?;
                self.children(element, &word, None)?;
            }
            Kind::Mixed => {
                self.filled(element, sub)?;
                element.children.insert(0, Node::Text(Text::Plain("Some text.".into())));
            }
            Kind::Elements => {
                self.attributes(element, sub)?;
                if inclusion.sub.content_kind(sub) == ContentKind::Mixed && self.turn == 0 {
                    text(element, "Some text.");
                } else if let Some(word) = inclusion.holding(sub, &Wanted::Something, self.generator.habits) {
                    self.children(element, &word, None)?;
                }
            }
            Kind::Attribute { name, value, .. } | Kind::AttributeValue { name, value, .. } => {
                self.filled(element, sub)?;
                element.attributes.retain(|(known, _)| known != name);
                let value = if inclusion.is_reference(sub, name) { PENDING } else { value };
                element.attributes.push((name.clone(), value_of(value)));
            }
            Kind::Meaning { attribute: Some(name), .. } => {
                self.filled(element, sub)?;
                let find = |engine: &Engine<'_>, ty| {
                    let allowed = engine.allowed(ty).all();
                    let mut all = allowed.iter();
                    all.find(|own| engine.schemas.attribute_decls[own.decl].name == *name).map(|own| own.ty)
                };
                let (a, b) = (find(inclusion.sub, sub)?, find(inclusion.sup, sup)?);
                element.attributes.retain(|(known, _)| known != name);
                element.attributes.push((name.clone(), value_of(&inclusion.accepted_by_both(a, b)?)));
            }
            _ => self.filled(element, sub)?,
        }
        Some(())
    }
}

fn value_of(text: &str) -> Text {
    Text::Plain(text.to_owned())
}

impl Inclusion<'_> {
    /// Whether an attribute refers to an ID on the first side.
    fn is_reference(&self, ty: TypeId, name: &QName) -> bool {
        let allowed = self.sub.allowed(ty).all();
        let own = allowed.iter().find(|own| self.sub.schemas.attribute_decls[own.decl].name == *name);
        let datatype = own.and_then(|own| self.sub.datatype(own.ty));
        let builtin = datatype.and_then(|datatype| datatype.builtin());
        builtin.is_some_and(|builtin| builtin.is_within(Builtin::IdRef))
    }

    /// A value that both accept.
    fn accepted_by_both(&self, sub: TypeId, sup: TypeId) -> Option<String> {
        let a = self.sub.datatype(sub)?;
        let Some(b) = self.sup.datatype(sup) else { return typical_values(self.sub, a).into_iter().next() };
        let values = typical_values(self.sub, a).into_iter().chain(typical_values(self.sup, b));
        let both = |value: &String| {
            a.accept(value, &Anywhere, false).is_ok() && b.accept(value, &Anywhere, false).is_ok()
        };
        values.into_iter().find(both)
    }
}

/// Takes out the elements and attributes that are not to be kept.
fn without(
    element: &mut Element,
    keeps: &dyn Fn(&Element) -> bool,
    keeps_attribute: &dyn Fn(&QName) -> bool,
) {
    element.attributes.retain(|(name, _)| keeps_attribute(name));
    element.children.retain(|child| !matches!(child, Node::Element(child) if !keeps(child)));
    for child in &mut element.children {
        if let Node::Element(child) = child {
            without(child, keeps, keeps_attribute);
        }
    }
}

/// Makes elements of one name that stand beside each other the same.
fn alike(element: &mut Element) {
    let mut first: Vec<Element> = Vec::new();
    for child in &mut element.children {
        let Node::Element(child) = child else { continue };
        alike(child);
        match first.iter().find(|known| known.name == child.name) {
            Some(known) => *child = known.clone(),
            None => first.push(child.clone()),
        }
    }
}
