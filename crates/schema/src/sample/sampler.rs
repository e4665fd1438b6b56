//! Makes samples of a size, and sees that they are valid.

use charter_source::{Files, Limits, Location, Overlay, Place, QName};

use super::generate::Generator;
use super::room::Room;
use super::{Element, Node, SampleError, SenderHabits, Size, to_document};
use crate::engine::Engine;
use crate::{Assess, ElementId, TypeId};

/// Makes samples of the elements of a set of schemas.
pub struct Sampler<'e> {
    pub(super) engine: &'e Engine<'e>,
    size: Size,
    encoded: bool,
    /// How many values other samples of the same document have.
    before: usize,
    habits: Option<&'e SenderHabits>,
}

impl<'e> Sampler<'e> {
    /// A sampler for samples of that size.
    pub fn new(engine: &'e Engine<'e>, size: Size) -> Sampler<'e> {
        Sampler { engine, size, encoded: false, before: 0, habits: None }
    }

    /// The same sampler for what is written by the encoding of SOAP: arrays have members there, whatever their content
    /// model says.
    pub fn encoded(self, encoded: bool) -> Sampler<'e> {
        Sampler { encoded, ..self }
    }

    /// The same sampler for one of several samples of one document, in which all identifiers must differ.
    pub fn after(self, before: usize) -> Sampler<'e> {
        Sampler { before, ..self }
    }

    /// The same sampler for samples of what a sender is known to send, as far as the schemas leave a choice. It is about
    /// what stands in the element that a sample is made of.
    pub fn preferring(self, habits: Option<&'e SenderHabits>) -> Sampler<'e> {
        Sampler { habits, ..self }
    }

    /// A sample of a declared element.
    ///
    /// ```
    /// use charter_schema::sample::{Sampler, Size, to_document};
    /// use charter_schema::{Engine, Schemas};
    /// use charter_source::{Files, Limits, Location, Overlay, QName};
    ///
    /// let schema = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
    ///   <xs:element name="callSign"><xs:simpleType><xs:restriction base="xs:token">
    ///     <xs:pattern value="[A-Z0-9]{4,7}"/></xs:restriction></xs:simpleType></xs:element>
    /// </xs:schema>"#;
    /// let store = Overlay::of(&[("port.xsd", schema)]);
    /// let files = Files::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
    /// let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    /// let engine = Engine::new(&files, &schemas);
    /// let element = schemas.element_named(&QName::new("", "callSign")).unwrap();
    /// let sample = Sampler::new(&engine, Size::Typical).element(element).unwrap();
    /// assert_eq!(to_document(&sample), "<callSign>ABCD</callSign>\n");
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    ///
    /// # Errors
    /// If no instance of bearable size is valid, or none was found.
    pub fn element(&self, id: ElementId) -> Result<Element, SampleError> {
        let declared = &self.engine.schemas.elements[id];
        let assess = |element: &Element| {
            // Another may stand in the place of one that is abstract.
            let own = (declared.name == element.name).then_some(id);
            let by = own.or_else(|| self.engine.schemas.element_named(&element.name));
            by.map_or(Assess::Strict, Assess::By)
        };
        let found = self.sound(&|generator| generator.instance(id), &assess)?;
        let (name, place) = (declared.name.local.to_string(), declared.place);
        found.ok_or(SampleError::Identity { name, place })
    }

    /// Gives an element the attributes and the content of a type.
    ///
    /// # Errors
    /// If no instance of bearable size is valid, or none was found.
    pub fn fill(&self, element: &mut Element, ty: TypeId, place: Place) -> Result<(), SampleError> {
        let make = |generator: Generator<'e>| {
            let mut element = element.clone();
            generator.fill(&mut element, ty, place).map(|()| element)
        };
        let found = self.sound(&make, &|_| Assess::As(ty))?;
        let name = element.name.local.to_string();
        *element = found.ok_or(SampleError::Identity { name, place })?;
        Ok(())
    }

    /// What is made, if it is valid; or else with values that differ, and then as little as can be: values that suit their names
    /// may be the same where a key wants them to differ.
    fn sound(
        &self,
        make: &dyn Fn(Generator<'e>) -> Result<Element, SampleError>,
        assess: &dyn Fn(&Element) -> Assess,
    ) -> Result<Option<Element>, SampleError> {
        for (size, distinct) in [(self.size, false), (self.size, true), (Size::Least, true)] {
            let element = self.with_room(size, distinct, make)?;
            // What an encoding writes is not for the schema to judge.
            if self.encoded || self.is_valid(&element, assess(&element)) {
                return Ok(Some(element));
            }
        }
        Ok(None)
    }

    /// What is made with as much room as lets it fit a screen. References are left out where there is nothing to refer to.
    fn with_room(
        &self,
        size: Size,
        distinct: bool,
        make: &dyn Fn(Generator<'e>) -> Result<Element, SampleError>,
    ) -> Result<Element, SampleError> {
        let rooms: &[Room] = if size == Size::Typical { &Room::SHRINKING } else { &[Room::ALL] };
        let generator = |room: Room, no_references| {
            Generator::new(self.engine, size, distinct)
                .within(self.encoded, self.before)
                .preferring(self.habits)
                .with_room(room, no_references)
        };
        let mut best: Option<(usize, Element)> = None;
        for room in rooms {
            let element = match make(generator(*room, false)) {
                Err(SampleError::NoValue { .. }) => make(generator(*room, true))?,
                made => made?,
            };
            let count = elements(&element);
            let is_smaller = best.as_ref().is_none_or(|(known, _)| count < *known);
            if is_smaller {
                best = Some((count, element));
            }
            if count <= ON_A_SCREEN {
                break;
            }
        }
        let nothing = SampleError::Nothing { place: Place::default() };
        best.map(|(_, element)| element).ok_or(nothing)
    }

    fn is_valid(&self, element: &Element, assess: Assess) -> bool {
        let text = match element.name.local.is_empty() {
            // What stands right in the body of an envelope has no element of its own.
            true => to_document(&Element { name: QName::new("", "content"), ..element.clone() }),
            false => to_document(element),
        };
        let store = Overlay::of(&[("sample.xml", &text)]);
        let Ok(files) = Files::load(&store, &Location::from_argument("sample.xml"), Limits::default()) else {
            return false;
        };
        let first = files.first();
        let judged = |root| self.engine.validate_parts(first.id, &[(root, assess)], false, 1);
        first.root().is_some_and(|root| !judged(root).is_refused())
    }
}

/// Elements of a typical message that fit a screen.
const ON_A_SCREEN: usize = 40;

/// How many elements there are, itself included.
fn elements(element: &Element) -> usize {
    let inner = element.children.iter().map(|child| match child {
        Node::Element(child) => elements(child),
        Node::Text(_) => 0,
    });
    1 + inner.sum::<usize>()
}
