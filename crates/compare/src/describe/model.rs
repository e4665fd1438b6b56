//! Content models brought to one form: groups by reference opened, sequences within sequences and groups of
//! one member dissolved, derivation followed. What is the same on the wire then looks the same.

use charter_schema::{
    Compositor, ElementId, NamespaceConstraint, Occurs, ParticleId, Process, Schemas, Term, TypeId,
};

/// A piece of a content model.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Model {
    Element { element: ElementId, occurs: Occurs },
    Group { compositor: Compositor, members: Vec<Model>, occurs: Occurs },
    Any { namespaces: NamespaceConstraint, process: Process, occurs: Occurs },
}

impl Model {
    pub fn occurs(&self) -> Occurs {
        match self {
            Model::Element { occurs, .. } | Model::Group { occurs, .. } | Model::Any { occurs, .. } => {
                *occurs
            }
        }
    }

    /// Whether nothing of it need be there.
    pub fn is_optional(&self) -> bool {
        self.occurs().optional() || self.is_empty()
    }

    /// Whether it may be there with nothing in it.
    pub fn is_empty(&self) -> bool {
        match self {
            Model::Group { compositor: Compositor::Choice, members, .. } => {
                members.iter().any(Model::is_optional)
            }
            Model::Group { members, .. } => members.iter().all(Model::is_optional),
            _ => false,
        }
    }

    /// The element, if it is one.
    pub fn element(&self) -> Option<ElementId> {
        match self {
            Model::Element { element, .. } => Some(*element),
            _ => None,
        }
    }

    /// The same piece, occurring within something that itself occurs `outer` times. That is right only where
    /// one of the two bounds does not repeat.
    fn within(mut self, outer: Occurs) -> Model {
        match &mut self {
            Model::Element { occurs, .. } | Model::Group { occurs, .. } | Model::Any { occurs, .. } => {
                *occurs = occurs.within(outer);
            }
        }
        self
    }
}

/// The content of a type, as a list of pieces that follow each other, and whether they may do so in any order.
pub(crate) fn content(schemas: &Schemas, ty: TypeId) -> (Vec<Model>, bool) {
    let mut pieces = Vec::new();
    for particle in schemas.content(ty) {
        pieces.extend(model(schemas, particle));
    }
    // A single sequence or all-group is the whole content.
    let in_any_order = match pieces.as_slice() {
        [Model::Group { compositor: Compositor::All, occurs: Occurs::ONCE, .. }] => true,
        [Model::Group { compositor: Compositor::Sequence, occurs: Occurs::ONCE, .. }] => false,
        // One that may be left out stays a group; nothing else stands beside it.
        [Model::Group { compositor: Compositor::All, .. }] => return (pieces, true),
        _ => return (flatten(pieces), false),
    };
    match pieces.pop() {
        Some(Model::Group { members, .. }) => (flatten(members), in_any_order),
        _ => (Vec::new(), false),
    }
}

/// Dissolves sequences that occur once in what is itself a sequence.
fn flatten(pieces: Vec<Model>) -> Vec<Model> {
    let mut flat = Vec::new();
    for piece in pieces {
        match piece {
            Model::Group { compositor: Compositor::Sequence, members, occurs: Occurs::ONCE } => {
                flat.extend(flatten(members));
            }
            other => flat.push(other),
        }
    }
    flat
}

fn model(schemas: &Schemas, id: ParticleId) -> Option<Model> {
    let particle = &schemas.particles[id];
    let occurs = particle.occurs;
    if occurs.max == Some(0) {
        return None;
    }
    if let Some(element) = schemas.particle_element(id) {
        return Some(Model::Element { element, occurs });
    }
    if let Term::Any(any) = &particle.term {
        return Some(Model::Any { namespaces: any.namespaces.clone(), process: any.process, occurs });
    }
    let (compositor, members) = schemas.particle_group(id)?;
    let mut pieces: Vec<Model> = members.iter().filter_map(|member| model(schemas, *member)).collect();
    if compositor == Compositor::Sequence {
        pieces = flatten(pieces);
    }
    if let [only] = pieces.as_slice()
        && (only.occurs() == Occurs::ONCE || occurs == Occurs::ONCE)
    {
        return pieces.pop().map(|only| only.within(occurs));
    }
    // A reference to a group occurs as often as it says, and so does the group within.
    let inner = match &particle.term {
        Term::GroupRef(group) => {
            let within = group.target.and_then(|group| schemas.groups[group].particle);
            within.map_or(Occurs::ONCE, |within| schemas.particles[within].occurs)
        }
        _ => Occurs::ONCE,
    };
    (!pieces.is_empty()).then(|| Model::Group { compositor, members: pieces, occurs: occurs.within(inner) })
}
