//! What a complex type has from its base, kept while the types derived from it are judged: a long derivation is not put
//! together anew for each of its types.

use std::rc::Rc;

use charter_source::{Map, NameKey};

use super::Judge;
use super::consistent::Declared;
use crate::content::complete_wildcard;
use crate::engine::attribution::{Attribution, Part, distinct, is_ambiguous};
use crate::engine::{Model, ModelTerm};
use crate::{
    Attribute, AttributeUse, Builtin, ComplexType, Compositor, Content, Derivation, ParticleId, Schemas,
    TypeDef, TypeId, TypeKind, Use, Wildcard,
};

/// Everything that a type has from its base.
#[derive(Debug, Clone, Default)]
pub(super) struct Inherited<'s> {
    pub attributes: Attributes<'s>,
    /// The wildcard for all other attributes.
    pub any: Option<Wildcard>,
    pub content: Contained,
}

/// Attributes by name.
#[derive(Debug, Clone, Default)]
pub(super) struct Attributes<'s> {
    by_name: Map<NameKey, Attribute<'s>>,
    /// How many of them are IDs.
    ids: usize,
}

impl<'s> Attributes<'s> {
    /// What the uses of a type or a group allow.
    pub fn of(judge: &Judge<'_>, schemas: &'s Schemas, uses: &[&'s AttributeUse]) -> Self {
        let mut attributes = Attributes::default();
        uses.iter().for_each(|usage| attributes.lay(judge, schemas, usage));
        attributes
    }

    pub fn get(&self, key: NameKey) -> Option<&Attribute<'s>> {
        self.by_name.get(&key)
    }

    /// Whether one of them is an ID.
    pub fn has_id(&self) -> bool {
        self.ids > 0
    }

    /// Lays the use of a derived type over what is there.
    fn lay(&mut self, judge: &Judge<'_>, schemas: &'s Schemas, usage: &'s AttributeUse) {
        let Some(attribute) = Attribute::of(schemas, usage) else { return };
        let (key, ty) = (attribute.name.key(), attribute.ty);
        let before = match usage.usage {
            Use::Prohibited => self.by_name.remove(&key),
            _ => {
                self.ids += usize::from(judge.is_id(Some(ty)));
                self.by_name.insert(key, attribute)
            }
        };
        self.ids -= usize::from(before.is_some_and(|before| judge.is_id(Some(before.ty))));
    }
}

/// The content that a type has from its base, and that what it adds comes after.
#[derive(Debug, Clone, Default)]
pub(super) struct Contained {
    /// What may come first and next; nothing if there are no particles.
    part: Option<Part>,
    elements: Declared,
    /// Whether a wildcard is among it.
    wild: bool,
    nodes: usize,
    /// How many steps of the derivation add something.
    pub steps: usize,
    /// A step whose elements may stand in any order.
    pub all: Option<ParticleId>,
    /// Whether nothing can be said about what follows: anything is allowed, or something is wrong already.
    lost: bool,
}

/// What a type itself writes.
pub(super) struct Own<'s> {
    pub uses: Vec<&'s AttributeUse>,
    pub any: Option<Wildcard>,
    /// Where the nodes of its content begin in the model, and which of them is the outermost.
    start: usize,
    root: Option<u32>,
    lost: bool,
}

impl<'s> Own<'s> {
    pub fn attributes(uses: Vec<&'s AttributeUse>, any: Option<Wildcard>) -> Self {
        Own { uses, any, start: 0, root: None, lost: false }
    }
}

impl<'e> Judge<'e> {
    /// Judges all types in a derivation, each after its base.
    pub(super) fn derivation(&mut self, root: TypeId) {
        let engine = self.engine;
        let mut waiting = vec![(root, Rc::new(Inherited::default()))];
        while let Some((id, base)) = waiting.pop() {
            let ty: &'e TypeDef = &engine.schemas.types[id];
            let TypeKind::Complex(complex) = &ty.kind else { continue };
            let start = self.model.nodes.len();
            let own = self.complex_type(id, ty, complex, &base);
            let is_complex = |id: &TypeId| engine.schemas.complex(*id).is_some();
            let derived: Vec<TypeId> =
                engine.relatives().derived(id).iter().copied().filter(is_complex).collect();
            if derived.is_empty() {
                self.model.nodes.truncate(start);
                continue;
            }
            // The last of those derived from one base takes what is inherited with it; the others copy it.
            let inherited = Rc::unwrap_or_clone(base);
            let inherited = Rc::new(self.with(inherited, complex, own));
            waiting.extend(derived.into_iter().rev().map(|id| (id, inherited.clone())));
        }
        self.model.nodes.clear();
    }

    /// What those that are derived from a type inherit.
    fn with(&self, base: Inherited<'e>, complex: &ComplexType, own: Own<'e>) -> Inherited<'e> {
        let mut inherited = base;
        inherited.any = complete_wildcard(complex.derivation, own.any, inherited.any);
        own.uses.iter().for_each(|usage| inherited.attributes.lay(self, self.engine.schemas, usage));
        if complex.derivation == Derivation::Restriction {
            inherited.content = Contained::default();
        }
        let content = &mut inherited.content;
        content.lost |= own.lost || extends_anything(complex);
        let Content::Elements(particle) = complex.content else { return inherited };
        if !self.engine.schemas.is_void(particle) {
            content.steps += 1;
            let all = |it: &ParticleId| {
                self.engine.schemas.particle_group(*it).is_some_and(|(kind, _)| kind == Compositor::All)
            };
            content.all = content.all.or(Some(particle).filter(all));
        }
        let nodes = &self.model.nodes[own.start..];
        if let Some(root) = own.root.filter(|_| !content.lost) {
            content.nodes += nodes.len();
            content.elements.add(self.engine, nodes);
            content.wild |= nodes.iter().any(|node| matches!(node.term, ModelTerm::Any(_)));
            let attribution = Attribution { engine: self.engine, model: &self.model, guesses: false };
            match (attribution.part(root), content.part.take()) {
                (Ok(part), None) => content.part = Some(part),
                (Ok(part), Some(before)) => content.part = Some(attribution.followed(before, part)),
                (Err(_), _) => content.lost = true,
            }
        }
        inherited
    }

    /// Judges the content model of a type, as far as it is its own: attribution and consistency.
    pub(super) fn content_model(
        &mut self,
        id: TypeId,
        ty: &TypeDef,
        complex: &ComplexType,
        before: &Contained,
        own: &mut Own<'e>,
    ) {
        own.start = self.model.nodes.len();
        let Content::Elements(particle) = complex.content else { return };
        let nothing = Contained::default();
        let before = if complex.derivation == Derivation::Extension { before } else { &nothing };
        if before.lost || extends_anything(complex) {
            return;
        }
        let engine = self.engine;
        let Some(root) = self.model.extend(engine.schemas, particle, before.nodes) else {
            own.lost = true;
            let message = "the content model is too large to be followed, once its groups are opened";
            return self.say("schema-size", ty.place, message, "use fewer groups in each other");
        };
        own.root = root;
        let Some(root) = root else { return };
        let plain = distinct(engine, &self.model.nodes[own.start..]);
        if plain.is_some_and(|keys| !before.wild && !keys.iter().any(|key| before.elements.has(*key))) {
            return;
        }
        let attribution = Attribution { engine, model: &self.model, guesses: false };
        let outcome = attribution.part(root).and_then(|part| match &before.part {
            Some(before) => attribution.meet(before, &part),
            None => Ok(()),
        });
        if let Err(clash) = outcome {
            own.lost = true;
            if !self.cleared(id) {
                self.ambiguous(clash);
            }
        }
        self.consistency(&before.elements, own.start);
    }
}

impl Judge<'_> {
    /// Whether a type that seems ambiguous is not, once its content is written out.
    fn cleared(&self, id: TypeId) -> bool {
        let (engine, schemas) = (self.engine, self.engine.schemas);
        Model::of(schemas, &schemas.content(id)).and_then(|model| is_ambiguous(engine, &model)) == Some(false)
    }
}

/// Whether a type extends the one that allows anything, and so does itself.
fn extends_anything(complex: &ComplexType) -> bool {
    complex.derivation == Derivation::Extension && complex.base.target == Some(Builtin::AnyType.id())
}
