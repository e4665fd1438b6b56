//! Makes samples of a size, and sees that they are valid.

use charter_source::{Files, Limits, Location, Overlay, Place};

use super::generate::Generator;
use super::{Element, SampleError, SenderHabits, Size, to_document};
use crate::engine::Engine;
use crate::{ElementId, TypeId};

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
        let element = self.instance_of(id, false)?;
        // Values that suit their names may be the same where a key wants them to differ.
        if self.encoded || self.engine.schemas.constraints.is_empty() || self.is_valid(&element) {
            return Ok(element);
        }
        let element = self.instance_of(id, true)?;
        if self.is_valid(&element) {
            return Ok(element);
        }
        let least = Generator::new(self.engine, Size::Least, true).instance(id)?;
        if self.is_valid(&least) {
            return Ok(least);
        }
        let declared = &self.engine.schemas.elements[id];
        Err(SampleError::Identity { name: declared.name.local.to_string(), place: declared.place })
    }

    fn instance_of(&self, id: ElementId, distinct: bool) -> Result<Element, SampleError> {
        self.generator(distinct).instance(id)
    }

    /// Gives an element the attributes and the content of a type.
    ///
    /// # Errors
    /// If no instance of bearable size is valid.
    pub fn fill(&self, element: &mut Element, ty: TypeId, place: Place) -> Result<(), SampleError> {
        self.generator(false).fill(element, ty, place)
    }

    fn generator(&self, distinct: bool) -> Generator<'e> {
        Generator::new(self.engine, self.size, distinct)
            .within(self.encoded, self.before)
            .preferring(self.habits)
    }

    fn is_valid(&self, element: &Element) -> bool {
        let text = to_document(element);
        let store = Overlay::of(&[("sample.xml", &text)]);
        let Ok(files) = Files::load(&store, &Location::from_argument("sample.xml"), Limits::default()) else {
            return false;
        };
        let first = files.first();
        first.root().is_some_and(|root| !self.engine.validate(first.id, root, 1).is_refused())
    }
}
