//! Generates one instance: elements by their content models, values by their types.

use charter_source::{Place, QName, ns};
use fastrand::Rng;

use super::references;
use super::room::Room;
use super::values::{Hint, Values};
use super::{Element, Node, SampleError, SenderHabits, Size, Text};
use crate::engine::{ContentKind, EncodedArray, Engine};
use crate::{Builtin, ElementId, Schemas, TypeId, ValueConstraint};

/// Elements in one instance; beyond, there is none.
pub(super) const LARGEST: usize = 200_000;
/// Elements nested in each other; beyond, there is no instance.
const DEEPEST: usize = 250;

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
    pub(super) repeats: bool,
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

    pub(super) fn rng(&mut self) -> Option<&mut Rng> {
        self.values.rng.as_mut()
    }

    /// Whether a random sample takes a chance of one in so many; others never do.
    pub(super) fn chance(&mut self, one_in: u32) -> bool {
        self.rng().is_some_and(|rng| rng.u32(..one_in) == 0)
    }

    /// A whole instance.
    pub fn instance(mut self, id: ElementId) -> Result<Element, SampleError> {
        self.outermost = true;
        let mut element = self.element(id, "")?;
        self.point_references(&mut element)?;
        Ok(element)
    }

    /// Lets references point to the IDs that there are.
    pub(crate) fn point_references(&mut self, element: &mut Element) -> Result<(), SampleError> {
        if references::point(element, std::mem::take(&mut self.ids)) {
            return Ok(());
        }
        let name = element.name.local.to_string();
        Err(SampleError::NoValue { name, place: Place::default() })
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
        if let Some(text) = references::reference(datatype) {
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
}
