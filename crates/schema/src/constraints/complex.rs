//! Complex types: their derivation (Part 1, 3.4.6: ct-props-correct, cos-ct-extends, derivation-ok-restriction;
//! 3.4.3: src-ct).

use charter_source::Place;

use super::Judge;
use super::inherited::{Contained, Inherited, Own};
use super::particles::emptiable;
use crate::engine::{ContentKind, Model};
use crate::{Builtin, ComplexType, Compositor, Content, Derivation, Ref, Term, TypeDef, TypeId, TypeKind};

impl<'e> Judge<'e> {
    /// Judges a type with what it has from its base; what it adds to that.
    pub(super) fn complex_type(
        &mut self,
        id: TypeId,
        ty: &TypeDef,
        complex: &'e ComplexType,
        inherited: &Inherited<'e>,
    ) -> Own<'e> {
        let mut own = self.type_attributes(complex, inherited);
        if let Some(base) = complex.base.target.filter(|_| complex.base.name.is_some()) {
            match (&complex.content, complex.derivation) {
                (Content::Simple { .. }, _) => self.simple_content(id, base, complex),
                (_, Derivation::Extension) => self.extended(base, complex, &inherited.content),
                (_, Derivation::Restriction) => self.restricted_content(id, base, complex),
            }
            let (forbidden, what): (fn(crate::DerivationSet) -> bool, _) = match complex.derivation {
                Derivation::Extension => (|set| set.extension, "extensions"),
                Derivation::Restriction => (|set| set.restriction, "restrictions"),
            };
            let rule = match complex.derivation {
                Derivation::Extension => "cos-ct-extends",
                Derivation::Restriction => "derivation-ok-restriction",
            };
            self.final_of(rule, &complex.base, forbidden, what);
        }
        if let Content::Elements(particle) = complex.content {
            self.all_limited(particle, true);
        }
        self.content_model(id, ty, complex, &inherited.content, &mut own);
        own
    }

    /// What `simpleContent` derives (src-ct.2, cos-ct-extends.1.4.1, derivation-ok-restriction.5.1).
    fn simple_content(&mut self, id: TypeId, base: TypeId, complex: &'e ComplexType) {
        let engine = self.engine;
        let kind = engine.content_kind(base);
        let base_is_simple = matches!(engine.schemas.types[base].kind, TypeKind::Simple(_));
        let Content::Simple { inline, facets } = &complex.content else { return };
        let name = self.type_name(base);
        match complex.derivation {
            Derivation::Extension if kind == ContentKind::Simple => {}
            Derivation::Extension => {
                let message = format!("{name} has no simple content that could be extended");
                self.say("src-ct", complex.base.place, message, "use complexContent, or name a simple type");
            }
            Derivation::Restriction if base_is_simple => {
                let message = format!("{name} is a simple type, which simpleContent cannot restrict");
                self.say(
                    "src-ct",
                    complex.base.place,
                    message,
                    "extend it, or restrict it in a simpleType of its own",
                );
            }
            Derivation::Restriction if kind == ContentKind::Simple => {
                if let (Some(inline), Some(old)) = (inline, engine.datatype(base)) {
                    let old = self.content_type(base).unwrap_or(old.id);
                    if engine.schemas.derivation(*inline, old).is_none() {
                        let message =
                            format!("the type written here is not derived from the content of {name}");
                        self.say(
                            "derivation-ok-restriction",
                            engine.schemas.types[*inline].place,
                            message,
                            "derive it from that type",
                        );
                    }
                }
                self.facets(id, inline.unwrap_or(base), facets);
            }
            Derivation::Restriction => {
                let emptiable =
                    kind == ContentKind::Mixed && engine.model(base).is_none_or(|model| emptiable(model));
                if !emptiable {
                    let message = format!("{name} has no simple content that could be restricted");
                    self.say("src-ct", complex.base.place, message, "use complexContent");
                } else if let Some(inline) = inline {
                    self.facets(id, *inline, facets);
                } else {
                    let message =
                        format!("{name} has mixed content, so its restriction needs a type for the text");
                    self.say("src-ct", complex.base.place, message, "add an xsd:simpleType inside");
                }
            }
        }
    }

    /// The simple type that the content of a type has, by the nearest definition.
    fn content_type(&self, id: TypeId) -> Option<TypeId> {
        let mut here = id;
        loop {
            let TypeKind::Complex(complex) = &self.engine.schemas.types[here].kind else { return Some(here) };
            match &complex.content {
                Content::Simple { inline: Some(inline), .. } => return Some(*inline),
                // Facets make a type of their own, which nothing written inside can be derived from.
                Content::Simple { inline: None, facets } if !facets.is_empty() => {
                    here = complex.base.target?
                }
                Content::Simple { .. } | Content::Empty => here = complex.base.target?,
                Content::Elements(_) => return None,
            }
        }
    }

    fn must_be_complex(&mut self, base: TypeId, reference: &Ref<TypeDef>) -> bool {
        let complex = matches!(self.engine.schemas.types[base].kind, TypeKind::Complex(_));
        if !complex {
            let message =
                format!("{} is a simple type, and complexContent needs a complex one", self.type_name(base));
            self.say("src-ct", reference.place, message, "use simpleContent, or name a complex type");
        }
        complex
    }

    /// cos-ct-extends.1.4.
    fn extended(&mut self, base: TypeId, complex: &ComplexType, inherited: &Contained) {
        if !self.must_be_complex(base, &complex.base) {
            return;
        }
        let schemas = self.engine.schemas;
        let kind = self.engine.content_kind(base);
        let own = match complex.content {
            Content::Elements(particle) => !schemas.is_void(particle),
            _ => false,
        };
        let name = self.type_name(base);
        match (kind, own || complex.mixed) {
            (ContentKind::Empty, _) | (_, false) => {}
            (ContentKind::Simple, true) => {
                let message = format!("{name} has simple content, which elements cannot be added to");
                self.say(
                    "cos-ct-extends",
                    complex.base.place,
                    message,
                    "extend it by attributes alone, in simpleContent",
                );
            }
            (ContentKind::Elements, true) if complex.mixed => {
                let message = format!("{name} allows no text between its elements, so its extension cannot");
                self.say(
                    "cos-ct-extends",
                    complex.base.place,
                    message,
                    "leave mixed out, or add it to the base type",
                );
            }
            (ContentKind::Mixed, true) if !complex.mixed => {
                let message = format!("{name} allows text between its elements, so its extension must");
                self.say("cos-ct-extends", complex.base.place, message, "add mixed=\"true\"");
            }
            _ => {}
        }
        // Text between no elements is an empty sequence of its own.
        let own_step = own || complex.mixed;
        let written = match complex.content {
            Content::Elements(particle) if own => Some(particle),
            _ => None,
        };
        let is_all = |particle: &crate::ParticleId| {
            schemas.particle_group(*particle).is_some_and(|(compositor, _)| compositor == Compositor::All)
        };
        let all = inherited.all.or(written.filter(is_all));
        let steps = inherited.steps + usize::from(own);
        if let Some(all) = all.filter(|_| steps > 1 || (own_step && !own)) {
            let place = if written == Some(all) { schemas.particles[all].place } else { complex.base.place };
            let message = "elements that stand in any order cannot be put after or before others";
            self.say("cos-all-limited", place, message, "use a sequence instead of all");
        }
    }

    /// derivation-ok-restriction.5.
    fn restricted_content(&mut self, id: TypeId, base: TypeId, complex: &ComplexType) {
        if !self.must_be_complex(base, &complex.base) || base == Builtin::AnyType.id() {
            return;
        }
        let engine = self.engine;
        let (kind, old) = (engine.content_kind(id), engine.content_kind(base));
        let name = self.type_name(base);
        let place = match complex.content {
            Content::Elements(particle) => engine.schemas.particles[particle].place,
            _ => complex.base.place,
        };
        const RULE: &str = "derivation-ok-restriction";
        match (kind, old) {
            (_, ContentKind::Simple) => {
                let message = format!("{name} has simple content, which complexContent cannot restrict");
                self.say(RULE, complex.base.place, message, "use simpleContent");
            }
            (ContentKind::Empty, ContentKind::Empty) => {}
            (ContentKind::Empty, _) => {
                if !engine.model(base).is_none_or(|model| emptiable(model)) {
                    let message = format!("{name} cannot be empty, so its restriction cannot");
                    self.say(RULE, place, message, "keep the elements that the base type requires");
                }
            }
            (_, ContentKind::Empty) => {
                let message = format!("{name} has no content, so its restriction cannot have any");
                self.say(RULE, place, message, "extend it instead");
            }
            (ContentKind::Mixed, ContentKind::Elements) => {
                let message =
                    format!("{name} allows no text between its elements, so its restriction cannot");
                self.say(RULE, place, message, "leave mixed out");
            }
            _ => self.particle_restricts(id, base, place),
        }
    }

    /// Whether a particle, and the groups in it, use `all` only where that is allowed (cos-all-limited): as the whole
    /// content of a type or of a group, of elements that occur at most once.
    pub(super) fn all_limited(&mut self, particle: crate::ParticleId, top: bool) {
        let schemas = self.engine.schemas;
        let written = &schemas.particles[particle];
        let Some((compositor, members)) = schemas.particle_group(particle) else { return };
        if written.occurs.max == Some(0) {
            return;
        }
        let by_name = matches!(written.term, Term::GroupRef(_));
        if compositor == Compositor::All {
            let message = match (top, written.occurs.max) {
                (false, _) => "elements that stand in any order must be the whole content of a type",
                (true, Some(0 | 1)) => "",
                (true, _) => "elements that stand in any order cannot be repeated as a whole",
            };
            if !message.is_empty() {
                self.say("cos-all-limited", written.place, message, "use a sequence or a choice");
            }
            if !by_name {
                for member in members.iter().map(|member| &schemas.particles[*member]) {
                    if member.occurs.max.is_none_or(|max| max > 1) {
                        let message = "in xsd:all, each element occurs at most once";
                        self.say(
                            "cos-all-limited",
                            member.place,
                            message,
                            "use a sequence, or a list in an element",
                        );
                    }
                }
            }
        }
        // The members of a named group are judged where it is defined.
        if !by_name {
            members.iter().for_each(|member| self.all_limited(*member, false));
        }
    }

    pub(super) fn groups(&mut self) {
        for (_, group) in self.engine.schemas.groups.iter() {
            if let Some(particle) = group.particle {
                self.all_limited(particle, true);
            }
        }
    }

    /// Where a node of a model is written; a place to fall back on for what is made of several.
    pub(super) fn node_place(&self, model: &Model, node: u32) -> Place {
        let particle = model.nodes[node as usize].particle;
        particle.map_or_else(Place::default, |particle| self.engine.schemas.particles[particle].place)
    }
}
