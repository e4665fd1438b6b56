//! Validity of schemas: the Schema Component Constraints of Part 1 and Part 2, each under the name of its clause.
//!
//! What can be judged on a single element of a schema document is judged while it is read; here is what shows on
//! the components once their references are resolved.

mod attributes;
mod complex;
mod declarations;
mod facets;
mod identity;
mod limits;
mod particles;
mod restriction;
mod simple;
mod unique;

use charter_source::{Fault, Place, QName};

use crate::engine::Engine;
use crate::{Builtin, TypeId, TypeKind};
pub(crate) use unique::clash;

impl Engine<'_> {
    /// Everything that is wrong with the components of the schemas.
    ///
    /// ```
    /// use charter_schema::{Engine, Schemas};
    /// use charter_source::{Files, Limits, Location, Overlay};
    ///
    /// let schema = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
    ///   <xs:element name="draught" type="xs:decimal" default="deep"/>
    /// </xs:schema>"#;
    /// let store = Overlay::of(&[("port.xsd", schema)]);
    /// let files = Files::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
    /// let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    /// let faults = Engine::new(&files, &schemas).judge();
    /// assert_eq!(faults[0].rule, "e-props-correct");
    /// # Ok::<(), charter_source::ReadError>(())
    /// ```
    pub fn judge(&self) -> Vec<Fault> {
        let mut judge = Judge { engine: self, faults: Vec::new() };
        for (id, ty) in self.schemas.own_types() {
            match &ty.kind {
                TypeKind::Simple(simple) => judge.simple_type(id, simple),
                TypeKind::Complex(complex) => judge.complex_type(id, ty, complex),
            }
        }
        judge.declarations();
        judge.groups();
        judge.attribute_groups();
        judge.constraints();
        judge.faults
    }
}

/// Judges components one after the other.
struct Judge<'e> {
    engine: &'e Engine<'e>,
    faults: Vec<Fault>,
}

impl Judge<'_> {
    fn say(&mut self, rule: &'static str, place: Place, message: impl Into<String>, help: impl Into<String>) {
        self.faults.push(Fault::new(rule, place, message).help(help));
    }

    /// The name of a type, for messages.
    fn type_name(&self, id: TypeId) -> String {
        match &self.engine.schemas.types[id].name {
            Some(name) if Builtin::from_id(id).is_some() => format!("xsd:{}", name.local),
            Some(name) => name.local.to_string(),
            None => "the type written here".into(),
        }
    }
}

/// A name in quotes.
fn named(name: &QName) -> String {
    format!("\"{}\"", name.local)
}
