//! Generates an element of typical size: what is optional is there once, a list has two items.

use std::collections::VecDeque;

use charter_contract::{Contract, WireElement};
use charter_schema::{
    Builtin, Compositor, ElementId, NamespaceConstraint, Occurs, Owner, ParticleId, Process, Relatives,
    Schemas, Term, TypeId, TypeKind, ValueConstraint,
};
use charter_source::{Place, QName, ns};

use crate::values::{self, Hint};
use crate::{Element, Node, Text};

/// Elements in one message; beyond, what is optional is left out.
const ROOMY: usize = 2_000;
/// Elements in one message; beyond, there is no message.
const LARGEST: usize = 200_000;
/// Elements nested in each other; beyond, what is optional is left out.
const DEEP: usize = 40;
/// Elements nested in each other; beyond, there is no message.
const DEEPEST: usize = 250;

/// Why there is no message.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum SampleError {
    /// A type needs itself, without end.
    #[error("every message would be endless: \"{name}\" must contain itself")]
    Endless {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// The message would be too large or too deep to be of use.
    #[error("the message would be too large: \"{name}\" asks for too much")]
    TooLarge {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// No value could be found that the type allows.
    #[error("no value was found for \"{name}\" that its type allows")]
    NoValue {
        /// The element or attribute.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// An abstract element or type has nothing that can stand for it.
    #[error("\"{name}\" is abstract, and nothing can stand in its place")]
    Abstract {
        /// The element.
        name: String,
        /// Where it is declared.
        place: Place,
    },
    /// A strict wildcard must hold an element, and none is declared.
    #[error("a wildcard must hold an element, and no schema declares one for it")]
    Wildcard {
        /// The wildcard.
        place: Place,
    },
}

impl SampleError {
    /// Where the trouble is declared.
    pub fn place(&self) -> Place {
        match self {
            SampleError::Endless { place, .. }
            | SampleError::TooLarge { place, .. }
            | SampleError::NoValue { place, .. }
            | SampleError::Abstract { place, .. }
            | SampleError::Wildcard { place } => *place,
        }
    }
}

/// A sample of an element on the wire.
///
/// ```
/// use charter_contract::{Component, Contract, WireElement};
/// use charter_message::sample_element;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema"><xs:element name="draught" type="xs:decimal"/></xs:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let Ok(Component::Element(id)) = contract.find("element/draught") else { unreachable!() };
/// let sample = sample_element(&contract, &WireElement::Declared(id)).unwrap();
/// assert_eq!(sample.children.len(), 1);
/// # Ok::<(), charter_source::ReadError>(())
/// ```
///
/// # Errors
/// If there is no such element, or none of bearable size.
pub fn sample_element(contract: &Contract, element: &WireElement) -> Result<Element, SampleError> {
    let mut generator = Generator::new(&contract.schemas);
    match element {
        WireElement::Declared(id) => generator.element(*id, ""),
        WireElement::Typed { name, ty } => {
            let mut element = Element::new(name.clone());
            generator.fill(&mut element, *ty, &name.local, Place::default())?;
            Ok(element)
        }
    }
}

/// Generates one message.
pub(crate) struct Generator<'s> {
    schemas: &'s Schemas,
    /// What may stand for another, found when first needed.
    relatives: Option<Relatives>,
    /// The types of the elements around the one being made.
    open: Vec<TypeId>,
    made: usize,
    turn: usize,
    /// Whether what is made is part of the second of two.
    second: bool,
}

impl<'s> Generator<'s> {
    pub fn new(schemas: &'s Schemas) -> Self {
        Generator { schemas, relatives: None, open: Vec::new(), made: 0, turn: 0, second: false }
    }

    fn roomy(&self) -> bool {
        self.made < ROOMY && self.open.len() < DEEP
    }

    fn element(&mut self, id: ElementId, holder: &str) -> Result<Element, SampleError> {
        let declared = &self.schemas.elements[id];
        let (name, place) = (declared.name.local.to_string(), declared.place);
        if declared.is_abstract {
            return self.substitute(id, holder);
        }
        self.made += 1;
        if self.made > LARGEST || self.open.len() > DEEPEST {
            return Err(SampleError::TooLarge { name, place });
        }
        let mut element = Element::new(declared.name.clone());
        if let Some(ValueConstraint::Fixed(text) | ValueConstraint::Default(text)) = &declared.value {
            self.attributes(&mut element, self.schemas.element_type(id), &name)?;
            return Ok(element.text(text.clone()));
        }
        let ty = self.concrete(id, &mut element)?;
        if self.open.contains(&ty) && self.schemas.complex(ty).is_some() && ty != Builtin::AnyType.id() {
            return Err(SampleError::Endless { name, place });
        }
        self.open.push(ty);
        let filled = self.fill_named(&mut element, ty, &name, holder, place);
        self.open.pop();
        filled.map(|()| element)
    }

    fn relatives(&mut self) -> &Relatives {
        let schemas = self.schemas;
        self.relatives.get_or_insert_with(|| Relatives::of(schemas))
    }

    /// Another element of the substitution group, for one that is abstract: the nearest that can be made.
    fn substitute(&mut self, id: ElementId, holder: &str) -> Result<Element, SampleError> {
        let schemas = self.schemas;
        let declared = &schemas.elements[id];
        let mut found =
            Err(SampleError::Abstract { name: declared.name.local.to_string(), place: declared.place });
        let mut waiting: VecDeque<ElementId> = self.relatives().substitutes(id).iter().copied().collect();
        while let Some(member) = waiting.pop_front() {
            waiting.extend(self.relatives().substitutes(member));
            if !schemas.elements[member].is_abstract {
                found = self.element(member, holder);
                if found.is_ok() {
                    break;
                }
            }
        }
        found
    }

    /// The type that the element is given; an abstract one is replaced by the nearest derived from it.
    fn concrete(&mut self, id: ElementId, element: &mut Element) -> Result<TypeId, SampleError> {
        let schemas = self.schemas;
        let ty = schemas.element_type(id);
        let is_abstract = |ty| schemas.complex(ty).is_some_and(|complex| complex.is_abstract);
        if !is_abstract(ty) {
            return Ok(ty);
        }
        let mut waiting: VecDeque<TypeId> = self.relatives().derived(ty).iter().copied().collect();
        while let Some(derived) = waiting.pop_front() {
            waiting.extend(self.relatives().derived(derived));
            if let Some(name) = schemas.types[derived].name.as_ref().filter(|_| !is_abstract(derived)) {
                element.attributes.push((QName::new(ns::XSI, "type"), Text::Name(name.clone())));
                return Ok(derived);
            }
        }
        let declared = &schemas.elements[id];
        Err(SampleError::Abstract { name: declared.name.local.to_string(), place: declared.place })
    }

    /// Gives an element the attributes and the content of a type.
    pub fn fill(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        name: &str,
        place: Place,
    ) -> Result<(), SampleError> {
        self.fill_named(element, ty, name, "", place)
    }

    fn fill_named(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        name: &str,
        holder: &str,
        place: Place,
    ) -> Result<(), SampleError> {
        self.attributes(element, ty, name)?;
        if self.schemas.simple(ty).is_some() {
            let text = self.value(ty, name, holder, place)?;
            element.children.push(Node::Text(Text::Plain(text)));
            return Ok(());
        }
        if self.schemas.is_any(ty) {
            return Ok(());
        }
        let inner = match &self.schemas.types[ty].name {
            Some(type_name) => type_name.local.to_string(),
            None => name.to_owned(),
        };
        for particle in self.schemas.content(ty) {
            self.particle(particle, &inner, &mut element.children)?;
        }
        Ok(())
    }

    fn attributes(&mut self, element: &mut Element, ty: TypeId, name: &str) -> Result<(), SampleError> {
        if !matches!(self.schemas.types[ty].kind, TypeKind::Complex(_)) {
            return Ok(());
        }
        for attribute in self.schemas.attributes(ty).0 {
            let text = match attribute.value {
                Some(ValueConstraint::Fixed(text) | ValueConstraint::Default(text)) => Ok(text.clone()),
                None => {
                    let place = self.schemas.attribute_decls[attribute.decl].place;
                    self.value(attribute.ty, &attribute.name.local, name, place)
                }
            };
            match text {
                Ok(text) => element.attributes.push((attribute.name.clone(), Text::Plain(text))),
                Err(error) if attribute.required => return Err(error),
                Err(_) => {}
            }
        }
        Ok(())
    }

    fn value(&mut self, ty: TypeId, name: &str, holder: &str, place: Place) -> Result<String, SampleError> {
        let hint = Hint { name, holder, turn: self.turn, second: self.second, item: false };
        self.turn += 1;
        values::value(self.schemas, ty, hint)
            .ok_or_else(|| SampleError::NoValue { name: name.to_owned(), place })
    }

    /// As many of a particle as a typical message has.
    fn particle(&mut self, id: ParticleId, holder: &str, into: &mut Vec<Node>) -> Result<(), SampleError> {
        let particle = &self.schemas.particles[id];
        let Occurs { min, max } = particle.occurs;
        let wildcard = matches!(particle.term, Term::Any(_));
        let typical = match max {
            Some(0) => return Ok(()),
            _ if min == 0 && (wildcard || !self.roomy()) => return Ok(()),
            Some(1) => 1,
            _ if self.roomy() => 2,
            _ => min,
        };
        let count = typical.max(min).min(max.unwrap_or(u32::MAX));
        for turn in 0..count {
            let length = into.len();
            let around = self.second;
            if count > 1 {
                self.second = turn == 1;
            }
            let made = self.term(id, holder, into);
            self.second = around;
            match made {
                Ok(()) => {}
                // What may be left out is, if it cannot be made.
                Err(SampleError::TooLarge { name, place }) if self.made > LARGEST => {
                    return Err(SampleError::TooLarge { name, place });
                }
                Err(_) if turn >= min => {
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

    fn term(&mut self, id: ParticleId, holder: &str, into: &mut Vec<Node>) -> Result<(), SampleError> {
        if let Some(element) = self.schemas.particle_element(id) {
            into.push(Node::Element(self.element(element, holder)?));
            return Ok(());
        }
        let schemas = self.schemas;
        if let Some((compositor, members)) = schemas.particle_group(id) {
            if compositor != Compositor::Choice {
                return members.iter().try_for_each(|member| self.particle(*member, holder, into));
            }
            let mut outcome = Ok(());
            for member in members {
                let length = into.len();
                outcome = self.particle(*member, holder, into);
                if outcome.is_ok() {
                    break;
                }
                into.truncate(length);
            }
            return outcome;
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

    /// An element that a wildcard lets in: one of the schemas if it asks for that, else one of no schema.
    fn anything(
        &mut self,
        namespaces: &NamespaceConstraint,
        process: Process,
        place: Place,
    ) -> Result<Element, SampleError> {
        if process == Process::Strict {
            let global = self.schemas.elements.iter().find(|(_, element)| {
                let simple = element.ty.target.is_some_and(|ty| self.schemas.simple(ty).is_some());
                element.owner == Owner::Schema && simple && namespaces.allows(&element.name.namespace)
            });
            let (id, _) = global.ok_or(SampleError::Wildcard { place })?;
            return self.element(id, "");
        }
        let namespace = match namespaces {
            NamespaceConstraint::OneOf(these) => these.first().map_or("", |first| first),
            _ => "urn:saltmere:notice",
        };
        Ok(Element::new(QName::new(namespace, "notice")).text("The channel is closed until noon."))
    }
}
