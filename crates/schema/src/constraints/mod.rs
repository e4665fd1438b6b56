//! Validity of schemas: the Schema Component Constraints of Part 1 and Part 2, each under the name of its clause.
//!
//! What can be judged on a single element of a schema document is judged while it is read; here is what shows on
//! the components once their references are resolved.

mod ambiguity;
mod attributes;
mod complex;
mod consistent;
mod declarations;
mod facets;
mod identity;
mod inherited;
mod limits;
mod particles;
mod redefined;
mod restriction;
mod simple;

use charter_source::{Fault, Place, QName, Set};
use rayon::prelude::*;

use crate::engine::Engine;
use crate::{Builtin, Model, TypeId, TypeKind};

/// Types that one thread judges before it takes others.
const TYPES_AT_ONCE: usize = 256;

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
        // Types do not care for each other's verdicts but for those they are derived from, and large schemas are mostly
        // types.
        let roots: Vec<TypeId> = self.roots().collect();
        let types = |types: &[TypeId]| {
            let mut judge = Judge::new(self);
            types.iter().for_each(|id| judge.types_from(*id));
            judge.faults
        };
        let faults = match roots.len() > 2 * TYPES_AT_ONCE {
            true => roots.par_chunks(TYPES_AT_ONCE).map(types).collect::<Vec<_>>().concat(),
            false => types(&roots),
        };
        let mut judge = Judge { faults, ..Judge::new(self) };
        judge.declarations();
        judge.groups();
        judge.attribute_groups();
        judge.constraints();
        judge.redefinitions();
        // What comes with the program is as its standard has it, which its reader cannot help.
        judge.faults.retain(|fault| !self.schemas.is_known(fault.place));
        crate::bounds::tell_once(&mut judge.faults);
        judge.faults
    }

    /// The simple types, and the complex ones that are derived from no complex type of a schema.
    fn roots(&self) -> impl Iterator<Item = TypeId> {
        let all = self.schemas.types.iter().skip(Builtin::all().count());
        all.filter_map(|(id, ty)| match &ty.kind {
            TypeKind::Simple(_) => Some(id),
            TypeKind::Complex(complex) => {
                let base = complex.base.target.filter(|base| Builtin::from_id(*base).is_none());
                base.and_then(|base| self.schemas.complex(base)).is_none().then_some(id)
            }
        })
    }
}

/// Judges components one after the other.
struct Judge<'e> {
    engine: &'e Engine<'e>,
    faults: Vec<Fault>,
    /// The nodes of the content models that are being judged.
    model: Model,
    /// The patterns that were found to be regular expressions.
    patterns: Set<&'e str>,
}

impl<'e> Judge<'e> {
    fn new(engine: &'e Engine<'e>) -> Self {
        Judge { engine, faults: Vec::new(), model: Model::default(), patterns: Set::default() }
    }

    /// Judges a simple type, or a complex one with those derived from it.
    fn types_from(&mut self, id: TypeId) {
        match &self.engine.schemas.types[id].kind {
            TypeKind::Simple(simple) => self.simple_type(id, simple),
            TypeKind::Complex(_) => self.derivation(id),
        }
    }

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
