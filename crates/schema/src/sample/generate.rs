//! Generates one instance: elements by their content models, values by their types.

use charter_source::{Place, QName, Set, ns};
use fastrand::Rng;

use super::values::{Hint, Values};
use super::{Element, Node, SampleError, SenderHabits, Size, Text};
use crate::engine::{ContentKind, EncodedArray, Engine};
use crate::{
    Builtin, Compositor, ElementId, NamespaceConstraint, Occurs, Owner, ParticleId, Process, Schemas, Term,
    TypeId, ValueConstraint,
};

/// Elements in one instance; beyond, what is optional is left out.
const ROOMY: usize = 2_000;
/// Elements in one instance; beyond, there is none.
const LARGEST: usize = 200_000;
/// Elements nested in each other; beyond, what is optional is left out.
const DEEP: usize = 40;
/// Elements nested in each other; beyond, there is no instance.
const DEEPEST: usize = 250;
/// Stands for a reference to an ID until all IDs are known; no value can hold it.
pub(crate) const PENDING: &str = "\u{1}";

/// How much room there is for what may be left out.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Room {
    /// How deep it may stand.
    pub depth: usize,
    /// How much of it may stand in one content.
    pub each: usize,
    /// Whether what repeats is there twice.
    pub twice: bool,
}

impl Room {
    pub const ALL: Room = Room { depth: usize::MAX, each: usize::MAX, twice: true };
    /// From the largest to the smallest.
    pub const SHRINKING: [Room; 10] = [
        Room::ALL,
        Room { depth: 4, each: 12, twice: true },
        Room { depth: 3, each: 10, twice: true },
        Room { depth: 3, each: 6, twice: true },
        Room { depth: 2, each: 8, twice: true },
        Room { depth: 3, each: 6, twice: false },
        Room { depth: 2, each: 8, twice: false },
        Room { depth: 2, each: 5, twice: false },
        Room { depth: 1, each: 6, twice: false },
        Room { depth: 1, each: 4, twice: false },
    ];
}

/// Generates one instance.
pub(crate) struct Generator<'e> {
    pub(super) engine: &'e Engine<'e>,
    pub(super) schemas: &'e Schemas,
    pub(super) size: Size,
    pub(super) values: Values<'e>,
    /// Whether values must differ from each other.
    pub(super) distinct: bool,
    /// The types of the elements around the one being made.
    pub(super) open: Vec<TypeId>,
    pub(super) made: usize,
    pub(super) turn: usize,
    /// Whether what is made is part of the second of two.
    pub(super) second: bool,
    pub(super) ids: Vec<String>,
    /// Whether nothing is made yet.
    pub(super) outermost: bool,
    /// Whether arrays of the encoding of SOAP have members.
    pub(super) encoded: bool,
    /// What is preferred where there is a choice, within the element being made.
    pub(crate) habits: Option<&'e SenderHabits>,
    /// How much room there is for what may be left out, and how much of it is left in the content being made.
    pub(super) room: Room,
    pub(super) left: usize,
    /// Whether what is made is part of something that repeats.
    repeats: bool,
    /// Whether there is nothing for references to refer to, so that there are none.
    pub(super) no_references: bool,
}

impl<'e> Generator<'e> {
    pub fn new(engine: &'e Engine<'e>, size: Size, distinct: bool) -> Self {
        Generator {
            engine,
            schemas: engine.schemas,
            size,
            values: Values { engine, rng: size.rng() },
            distinct,
            open: Vec::new(),
            made: 0,
            turn: 0,
            second: false,
            ids: Vec::new(),
            outermost: false,
            encoded: false,
            habits: None,
            room: Room::ALL,
            left: usize::MAX,
            repeats: false,
            no_references: false,
        }
    }

    /// The same generator for what is written by the encoding of SOAP, and comes after so many values.
    pub fn within(self, encoded: bool, before: usize) -> Self {
        Generator { encoded, turn: before, ..self }
    }

    /// The same generator with so much room for what may be left out.
    pub(super) fn with_room(self, room: Room, no_references: bool) -> Self {
        Generator { room, left: room.each, no_references, ..self }
    }

    fn rng(&mut self) -> Option<&mut Rng> {
        self.values.rng.as_mut()
    }

    /// Whether a random sample takes a chance of one in so many; others never do.
    pub(super) fn chance(&mut self, one_in: u32) -> bool {
        self.rng().is_some_and(|rng| rng.u32(..one_in) == 0)
    }

    /// Whether there is no room for the attributes of a type that may be left out: beside a value they say little.
    pub(super) fn is_bare(&self, ty: TypeId) -> bool {
        self.is_full() || (self.room != Room::ALL && self.engine.datatype(ty).is_some())
    }

    /// Whether there is no room for what may be left out where something is made.
    pub(super) fn is_full(&self) -> bool {
        self.open.len() > self.room.depth
    }

    fn roomy(&self) -> bool {
        self.made < ROOMY && self.open.len() < DEEP
    }

    /// A whole instance.
    pub fn instance(mut self, id: ElementId) -> Result<Element, SampleError> {
        self.outermost = true;
        let mut element = self.element(id, "")?;
        self.point_references(&mut element)?;
        Ok(element)
    }

    /// Gives an element the attributes and the content of a type.
    pub fn fill(mut self, element: &mut Element, ty: TypeId, place: Place) -> Result<(), SampleError> {
        let bare = element.clone();
        match self.fill_by(element, ty, place, true) {
            // A type that was drawn may need what its base can do without.
            Err(SampleError::Endless { .. }) if self.values.rng.is_some() => {
                *element = bare;
                self.open.clear();
                self.fill_by(element, ty, place, false)?;
            }
            made => made?,
        }
        self.point_references(element)
    }

    fn fill_by(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        place: Place,
        by_chance: bool,
    ) -> Result<(), SampleError> {
        let name = element.name.local.to_string();
        let block = self.schemas.prohibited(ty);
        let ty = self
            .standing_for(ty, block, (true, by_chance), element)
            .ok_or_else(|| SampleError::Abstract { name: name.clone(), place })?;
        element.ty = Some(ty);
        self.fill_named(element, ty, &name, "", place)
    }

    /// Lets references point to the IDs that there are.
    pub(crate) fn point_references(&mut self, element: &mut Element) -> Result<(), SampleError> {
        let mut ids = std::mem::take(&mut self.ids);
        // What was begun and given up again has left its IDs behind.
        let mut there: Set<String> = Set::default();
        let made: Set<&String> = ids.iter().collect();
        walk(element, &mut |text| {
            if made.contains(text) {
                there.insert(text.clone());
            }
            true
        });
        ids.retain(|id| there.contains(id));
        let mut turn = 0;
        let mut point = |text: &mut String| {
            while let Some(at) = text.find(PENDING) {
                let Some(id) = ids.get(turn % ids.len().max(1)) else { return false };
                text.replace_range(at..at + PENDING.len(), id);
                turn += 1;
            }
            true
        };
        if walk(element, &mut point) {
            return Ok(());
        }
        let name = element.name.local.to_string();
        Err(SampleError::NoValue { name, place: Place::default() })
    }

    pub(crate) fn element(&mut self, id: ElementId, holder: &str) -> Result<Element, SampleError> {
        if self.schemas.elements[id].is_abstract {
            return self.substitute(id, holder);
        }
        // What stands at the root is asked for by its name.
        let outermost = std::mem::take(&mut self.outermost);
        if !outermost
            && self.chance(4)
            && let Ok(other) = self.substitute(id, holder)
        {
            return Ok(other);
        }
        if outermost {
            return self.inside(id, holder);
        }
        if let Some(member) = self.familiar_substitute(id)
            && let Ok(other) = self.itself(member, holder)
        {
            return Ok(other);
        }
        self.itself(id, holder)
    }

    /// An element that nothing stands for.
    pub(super) fn itself(&mut self, id: ElementId, holder: &str) -> Result<Element, SampleError> {
        let around = self.habits;
        self.habits = around.and_then(|habits| habits.below(&self.schemas.elements[id].name.local));
        let made = self.inside(id, holder);
        self.habits = around;
        made
    }

    /// The same, when what is familiar is known for its inside.
    fn inside(&mut self, id: ElementId, holder: &str) -> Result<Element, SampleError> {
        let declared = &self.schemas.elements[id];
        let (name, place) = (declared.name.local.to_string(), declared.place);
        self.made += 1;
        if self.made > LARGEST || self.open.len() > DEEPEST {
            return Err(SampleError::TooLarge { name, place });
        }
        let own = self.schemas.element_type(id);
        let (made, depth) = (self.of_type(id, holder, true), self.open.len());
        match made {
            // A type that was drawn may need what its base can do without.
            Err(SampleError::Endless { .. } | SampleError::TooLarge { .. })
                if self.values.rng.is_some() && self.made <= LARGEST && !self.open.contains(&own) =>
            {
                self.open.truncate(depth);
                self.of_type(id, holder, false)
            }
            made => made,
        }
    }

    /// An element of its own type, or by chance of one that may stand for it.
    fn of_type(&mut self, id: ElementId, holder: &str, by_chance: bool) -> Result<Element, SampleError> {
        let declared = &self.schemas.elements[id];
        let (name, place) = (declared.name.local.to_string(), declared.place);
        let mut element = Element::new(declared.name.clone());
        let ty = self.concrete(id, &mut element, by_chance)?;
        element.ty = Some(ty);
        if let Some(ValueConstraint::Fixed(text) | ValueConstraint::Default(text)) = declared.value.as_deref()
            && self.schemas.element_type(id) == ty
        {
            self.attributes(&mut element, ty, &name)?;
            element.children.push(Node::Text(self.stated(ty, text, declared.place, declared.node)));
            return Ok(element);
        }
        if self.open.contains(&ty) && self.schemas.complex(ty).is_some() && ty != Builtin::AnyType.id() {
            return Err(SampleError::Endless { name, place });
        }
        if declared.nillable && declared.value.is_none() && self.chance(5) {
            self.attributes(&mut element, ty, &name)?;
            element.attributes.push((QName::new(ns::XSI, "nil"), Text::Plain("true".into())));
            return Ok(element);
        }
        self.open.push(ty);
        let filled = self.fill_named(&mut element, ty, &name, holder, place);
        self.open.pop();
        filled.map(|()| element)
    }

    pub(crate) fn fill_named(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        name: &str,
        holder: &str,
        place: Place,
    ) -> Result<(), SampleError> {
        if let Some(array) = self.array(ty) {
            return self.members(element, &array, name, place);
        }
        self.attributes(element, ty, name)?;
        if self.engine.datatype(ty).is_some() {
            let text = self.value(ty, name, holder, place)?;
            element.children.push(Node::Text(text));
            return Ok(());
        }
        let mixed = self.engine.content_kind(ty) == ContentKind::Mixed;
        if mixed && self.chance(2) {
            element.children.push(Node::Text(Text::Plain("Some text.".into())));
        }
        if self.schemas.is_any(ty) {
            return Ok(());
        }
        let inner = match &self.schemas.types[ty].name {
            Some(type_name) => type_name.local.to_string(),
            None => name.to_owned(),
        };
        let around = std::mem::replace(&mut self.left, self.room.each);
        let mut content = self.schemas.content(ty).into_iter();
        let made = content.try_for_each(|particle| self.particle(particle, &inner, &mut element.children));
        self.left = around;
        made
    }

    /// What a type holds that is an array of the encoding of SOAP.
    fn array(&self, ty: TypeId) -> Option<EncodedArray> {
        if self.encoded { self.engine.encoded_array(ty) } else { None }
    }

    /// Gives an array its members.
    fn members(
        &mut self,
        element: &mut Element,
        array: &EncodedArray,
        name: &str,
        place: Place,
    ) -> Result<(), SampleError> {
        let count = self.count(array.occurs, false);
        let (around, inner) = (self.second, array.inner.matches('[').count());
        for turn in 0..count {
            if count > 1 {
                self.second = turn == 1;
            }
            let mut member = Element::new(array.member.clone());
            member.ty = (inner == 0).then_some(array.item);
            self.made += 1;
            if self.open.len() > DEEPEST || self.open.contains(&array.item) {
                self.second = around;
                return Ok(());
            }
            self.open.push(array.item);
            let filled = match inner {
                0 => self.fill_named(&mut member, array.item, &array.member.local, name, place),
                _ => {
                    let mut innermost = EncodedArray { inner: "[]".repeat(inner - 1), ..array.clone() };
                    innermost.occurs.max = innermost.occurs.max.map(|max| max.min(2));
                    self.members(&mut member, &innermost, name, place)
                }
            };
            self.open.pop();
            filled?;
            element.children.push(Node::Element(member));
        }
        self.second = around;
        Ok(())
    }

    pub(super) fn value(
        &mut self,
        ty: TypeId,
        name: &str,
        holder: &str,
        place: Place,
    ) -> Result<Text, SampleError> {
        let hint =
            Hint { name, holder, turn: self.turn, second: self.second, item: false, distinct: self.distinct };
        self.turn += 1;
        let missing = || SampleError::NoValue { name: name.to_owned(), place };
        let datatype = self.engine.datatype(ty).ok_or_else(missing)?;
        if let Some(text) = reference(datatype) {
            if self.no_references {
                return Err(missing());
            }
            return Ok(Text::Plain(text));
        }
        let text = self.values.value(datatype, hint).ok_or_else(missing)?;
        if let (Text::Plain(text), true) =
            (&text, datatype.builtin().is_some_and(|it| it.is_within(Builtin::Id)))
        {
            self.ids.push(text.clone());
        }
        Ok(text)
    }

    /// How many of a particle the sample has.
    fn count(&mut self, occurs: Occurs, wildcard: bool) -> u32 {
        let Occurs { min, max } = occurs;
        let most = max.unwrap_or(u32::MAX);
        let roomy = self.roomy();
        let wish = match self.size {
            Size::Least => min,
            _ if !roomy => min.max(u32::from(min > 0)),
            // One shows that anything may stand there.
            Size::Most if wildcard => min.max(1),
            Size::Most => {
                if most > 1 {
                    2
                } else {
                    1
                }
            }
            Size::Typical if wildcard => min,
            // One of something within one of many shows as much as two.
            Size::Typical if !self.room.twice || (self.repeats && self.room != Room::ALL) => 1,
            Size::Typical => {
                if most > 1 {
                    2
                } else {
                    1
                }
            }
            Size::Random(_) => {
                let extra = most.saturating_sub(min).min(3);
                min + self.rng().map_or(0, |rng| rng.u32(..=extra))
            }
        };
        wish.clamp(min, most.max(min))
    }

    /// As many of a particle as the sample has.
    fn particle(&mut self, id: ParticleId, holder: &str, into: &mut Vec<Node>) -> Result<(), SampleError> {
        let particle = &self.schemas.particles[id];
        let occurs = particle.occurs;
        if occurs.max == Some(0) {
            return Ok(());
        }
        if occurs.min == 0 && !self.is_familiar(id) {
            return Ok(());
        }
        let is_free = self.size == Size::Typical && occurs.min == 0;
        if is_free && (self.left == 0 || self.is_full()) {
            return Ok(());
        }
        let begin = into.len();
        let count = self.count(occurs, matches!(particle.term, Term::Any(_)));
        self.repeated(id, count, holder, into)?;
        if is_free && into.len() > begin {
            // Nobody begins by sending something that says nothing.
            let is_idle = |node: &Node| matches!(node, Node::Element(made) if self.says_nothing(made));
            if into[begin..].iter().all(is_idle) {
                into.truncate(begin);
                return Ok(());
            }
            self.left = self.left.saturating_sub(1);
        }
        Ok(())
    }

    /// Whether an element is empty though it need not be.
    fn says_nothing(&self, made: &Element) -> bool {
        let has_content =
            |ty: TypeId| self.schemas.complex(ty).is_some() && !self.schemas.content(ty).is_empty();
        made.children.is_empty() && made.attributes.is_empty() && made.ty.is_some_and(has_content)
    }

    /// So many of a particle.
    fn repeated(
        &mut self,
        id: ParticleId,
        count: u32,
        holder: &str,
        into: &mut Vec<Node>,
    ) -> Result<(), SampleError> {
        let particle = &self.schemas.particles[id];
        let occurs = particle.occurs;
        for turn in 0..count {
            let length = into.len();
            let (around, repeats) = (self.second, self.repeats);
            if count > 1 {
                self.second = turn == 1;
                self.repeats = true;
            }
            let made = self.term(id, turn, holder, into);
            self.second = around;
            self.repeats = repeats;
            match made {
                // What may be nothing once may be nothing every time.
                Ok(()) if into.len() == length => return Ok(()),
                Ok(()) => {}
                // What may be left out is, if it cannot be made.
                Err(SampleError::TooLarge { name, place }) if self.made > LARGEST => {
                    return Err(SampleError::TooLarge { name, place });
                }
                Err(_) if turn >= occurs.min => {
                    into.truncate(length);
                    return Ok(());
                }
                Err(error) => return Err(error),
            }
            if self.made > LARGEST {
                return Err(SampleError::TooLarge { name: holder.to_owned(), place: particle.place });
            }
        }
        Ok(())
    }

    fn term(
        &mut self,
        id: ParticleId,
        turn: u32,
        holder: &str,
        into: &mut Vec<Node>,
    ) -> Result<(), SampleError> {
        if let Some(element) = self.schemas.particle_element(id) {
            into.push(Node::Element(self.element(element, holder)?));
            return Ok(());
        }
        let schemas = self.schemas;
        if let Some((compositor, members)) = schemas.particle_group(id) {
            return match compositor {
                Compositor::Sequence => {
                    members.iter().try_for_each(|member| self.particle(*member, holder, into))
                }
                Compositor::All => {
                    let mut members = members.to_vec();
                    if let Some(rng) = self.rng() {
                        rng.shuffle(&mut members);
                    }
                    members.into_iter().try_for_each(|member| self.particle(member, holder, into))
                }
                Compositor::Choice => self.choice(members, turn, holder, into, id),
            };
        }
        if let Term::Any(wildcard) = &schemas.particles[id].term {
            into.push(Node::Element(self.anything(
                &wildcard.namespaces,
                wildcard.process,
                wildcard.place,
            )?));
        }
        Ok(())
    }

    /// One of several: the first that can be made; for the most, each time another; for the least, the smallest.
    fn choice(
        &mut self,
        members: &[ParticleId],
        turn: u32,
        holder: &str,
        into: &mut Vec<Node>,
        id: ParticleId,
    ) -> Result<(), SampleError> {
        let occurs = |member: &&ParticleId| self.schemas.particles[**member].occurs.max != Some(0);
        let mut order: Vec<ParticleId> = members.iter().filter(occurs).copied().collect();
        match self.size {
            Size::Most if !order.is_empty() => {
                let turn = turn as usize % order.len();
                order.rotate_left(turn);
            }
            Size::Random(_) => {
                if let Some(rng) = self.rng() {
                    rng.shuffle(&mut order);
                }
            }
            Size::Least => order.sort_by_key(|member| self.schemas.particles[*member].occurs.min.min(1)),
            _ => {}
        }
        order.sort_by_key(|member| !self.is_familiar(*member));
        let place = self.schemas.particles[id].place;
        let mut outcome = Err(SampleError::Nothing { place });
        for member in order {
            let length = into.len();
            outcome = self.particle(member, holder, into);
            if outcome.is_ok() {
                break;
            }
            into.truncate(length);
        }
        outcome
    }

    /// An element that a wildcard lets in, as small as can be: what stands there is anybody's guess.
    fn anything(
        &mut self,
        namespaces: &NamespaceConstraint,
        process: Process,
        place: Place,
    ) -> Result<Element, SampleError> {
        let size = self.size;
        if !matches!(size, Size::Random(_)) {
            self.size = Size::Least;
        }
        let made = self.something(namespaces, process, place);
        self.size = size;
        made
    }

    /// One of the schemas if a wildcard asks for that, else one of no schema.
    fn something(
        &mut self,
        namespaces: &NamespaceConstraint,
        process: Process,
        place: Place,
    ) -> Result<Element, SampleError> {
        let engine = self.engine;
        if process == Process::Strict {
            let globals = self.schemas.elements.iter().filter(|(_, element)| {
                element.owner == Owner::Schema
                    && !self.schemas.is_known(element.place)
                    && namespaces.allows(&element.name.namespace)
            });
            let mut globals: Vec<ElementId> = globals.map(|(id, _)| id).collect();
            // Values first: what they need cannot nest without end.
            globals.sort_by_key(|id| engine.datatype(self.schemas.element_type(*id)).is_none());
            let mut outcome = Err(SampleError::Wildcard { place });
            for id in globals {
                outcome = self.element(id, "");
                if outcome.is_ok() {
                    break;
                }
            }
            return outcome;
        }
        let namespace = a_namespace(namespaces).ok_or(SampleError::Wildcard { place })?;
        let name = QName::new(namespace, "anything");
        // An element of that name that is declared would be judged by its declaration.
        if let Some(declared) = self.schemas.element_named(&name) {
            return self.element(declared, "");
        }
        Ok(Element::new(name).text("Some text."))
    }
}

/// A namespace that a wildcard lets in.
pub(super) fn a_namespace(namespaces: &NamespaceConstraint) -> Option<&str> {
    match namespaces {
        NamespaceConstraint::OneOf(these) => these.first().map(|first| &**first),
        NamespaceConstraint::Not(not) if &**not == "urn:example:other" => Some("urn:example:other:2"),
        _ => Some("urn:example:other"),
    }
}

/// The text of a reference to an ID, or of a list of one; `None` for a type that is none.
fn reference(datatype: &crate::Datatype) -> Option<String> {
    let is_reference =
        |datatype: &crate::Datatype| datatype.builtin().is_some_and(|it| it.is_within(Builtin::IdRef));
    match &datatype.variety {
        crate::Variety::List(item) if is_reference(item) => {
            let count = datatype.length.or(datatype.min_length).unwrap_or(1).clamp(1, 100);
            Some(vec![PENDING; count as usize].join(" "))
        }
        _ => is_reference(datatype).then(|| PENDING.to_owned()),
    }
}

/// Calls `each` for every plain text in an element, until it says no.
fn walk(element: &mut Element, each: &mut impl FnMut(&mut String) -> bool) -> bool {
    let attributes = element.attributes.iter_mut().map(|(_, text)| text);
    let mut fine = true;
    for text in attributes {
        if let Text::Plain(text) = text {
            fine &= each(text);
        }
    }
    for child in &mut element.children {
        fine &= match child {
            Node::Element(child) => walk(child, each),
            Node::Text(Text::Plain(text)) => each(text),
            Node::Text(_) => true,
        };
    }
    fine
}

impl<'e> Generator<'e> {
    /// Prefers what is familiar where there is a choice, within the element that is made next.
    pub fn preferring(self, habits: Option<&'e SenderHabits>) -> Self {
        Generator { habits, ..self }
    }

    /// Whether an attribute of that name may be put in where it need not.
    pub(super) fn may_have(&self, attribute: &str) -> bool {
        self.habits.is_none_or(|habits| habits.knows(&format!("@{attribute}")))
    }

    /// Whether a particle holds an element with a familiar name; always, where no name is known.
    pub(super) fn is_familiar(&self, id: ParticleId) -> bool {
        let Some(habits) = self.habits else { return true };
        if let Some(element) = self.schemas.particle_element(id) {
            let own = &self.schemas.elements[element].name.local;
            return habits.knows(own) || self.familiar_substitute(element).is_some();
        }
        let group = self.schemas.particle_group(id);
        group.is_some_and(|(_, members)| members.iter().any(|member| self.is_familiar(*member)))
    }

    /// An element of a familiar name that may stand for one whose name is not familiar.
    pub(super) fn familiar_substitute(&self, id: ElementId) -> Option<ElementId> {
        let habits = self.habits?;
        if habits.knows(&self.schemas.elements[id].name.local) {
            return None;
        }
        let known = |member: &ElementId| habits.knows(&self.schemas.elements[*member].name.local);
        self.standing(id).into_iter().find(known)
    }
}
