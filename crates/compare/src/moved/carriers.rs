//! Which types hold names that moved, however far down.

use charter_schema::{ElementId, Engine, ParticleId, Schemas, TypeId};

/// Types by whether what they allow may hold a name that moved.
pub(crate) struct Carriers(Vec<bool>);

impl Carriers {
    /// Finds them: those that hold such a name themselves, then whatever leads to them.
    /// The schemas that moved have the same components under the same numbers.
    pub fn of(engine: &Engine<'_>, moved: &Schemas) -> Carriers {
        let schemas = engine.schemas();
        let mut carries = vec![false; schemas.types.len()];
        let mut leads_from: Vec<Vec<TypeId>> = vec![Vec::new(); schemas.types.len()];
        let mut waiting = Vec::new();
        for (id, _) in schemas.own_types() {
            let mut direct = false;
            let mut held = Vec::new();
            for particle in schemas.content(id) {
                elements(schemas, particle, &mut |id| {
                    direct |= schemas.elements[id].name != moved.elements[id].name;
                    held.push(schemas.element_type(id));
                });
            }
            let attributes = engine.allowed(id);
            direct |= attributes
                .all()
                .iter()
                .any(|own| schemas.attribute_decls[own.decl].name != moved.attribute_decls[own.decl].name);
            for derived in engine.relatives().derived(id) {
                // A type is named where it stands in the place of another.
                direct |= schemas.types[*derived].name != moved.types[*derived].name;
                held.push(*derived);
            }
            held.into_iter().for_each(|ty| leads_from[ty.index()].push(id));
            if direct {
                carries[id.index()] = true;
                waiting.push(id);
            }
        }
        while let Some(id) = waiting.pop() {
            for above in std::mem::take(&mut leads_from[id.index()]) {
                if !std::mem::replace(&mut carries[above.index()], true) {
                    waiting.push(above);
                }
            }
        }
        Carriers(carries)
    }

    /// Whether what a type allows may hold a name that moved.
    pub fn is_carrier(&self, ty: TypeId) -> bool {
        self.0[ty.index()]
    }
}

/// The elements of a content model.
fn elements(schemas: &Schemas, id: ParticleId, met: &mut dyn FnMut(ElementId)) {
    if let Some(element) = schemas.particle_element(id) {
        met(element);
    } else if let Some((_, members)) = schemas.particle_group(id) {
        members.iter().for_each(|member| elements(schemas, *member, met));
    }
}
