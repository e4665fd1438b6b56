//! Generates what stands in an element by its content model: how much of what, which of several, and what a wildcard lets in.

use charter_source::{Place, QName};

use super::generate::{Generator, LARGEST};
use super::room::Room;
use super::{Element, Node, SampleError, Size};
use crate::{Compositor, ElementId, NamespaceConstraint, Occurs, Owner, ParticleId, Process, Term, TypeId};

/// Elements in one instance; beyond, what is optional is left out.
const ROOMY: usize = 2_000;
/// Elements nested in each other; beyond, what is optional is left out.
const DEEP: usize = 40;

impl Generator<'_> {
    fn roomy(&self) -> bool {
        self.made < ROOMY && self.open.len() < DEEP
    }

    /// Whether there is no room for what may be left out where something is made.
    fn is_full(&self) -> bool {
        self.open.len() > self.room.depth
    }

    /// Whether there is no room for the attributes of a type that may be left out: beside a value they say little.
    pub(super) fn is_bare(&self, ty: TypeId) -> bool {
        self.is_full() || (self.room != Room::ALL && self.engine.datatype(ty).is_some())
    }

    /// How many of a particle the sample has.
    pub(super) fn count(&mut self, occurs: Occurs, wildcard: bool) -> u32 {
        let Occurs { min, max } = occurs;
        let most = max.unwrap_or(u32::MAX);
        let roomy = self.roomy();
        let wish = match self.size {
            Size::Least => min,
            _ if !roomy => min.max(u32::from(min > 0)),
            // One shows that anything may stand there.
            Size::Most if wildcard => min.max(1),
            Size::Most => most.min(2),
            Size::Typical if wildcard => min,
            // One of something within one of many shows as much as two.
            Size::Typical if !self.room.twice || (self.repeats && self.room != Room::ALL) => 1,
            Size::Typical => most.min(2),
            Size::Random(_) => {
                let extra = most.saturating_sub(min).min(3);
                min + self.rng().map_or(0, |rng| rng.u32(..=extra))
            }
        };
        wish.clamp(min, most.max(min))
    }

    /// As many of a particle as the sample has.
    pub(super) fn particle(
        &mut self,
        id: ParticleId,
        holder: &str,
        into: &mut Vec<Node>,
    ) -> Result<(), SampleError> {
        let particle = &self.schemas.particles[id];
        let occurs = particle.occurs;
        if occurs.max == Some(0) {
            return Ok(());
        }
        if occurs.min == 0 && !self.is_familiar(id) {
            return Ok(());
        }
        let is_free = self.size == Size::Typical && occurs.min == 0;
        if is_free && (self.left == 0 || self.is_full()) {
            return Ok(());
        }
        let begin = into.len();
        let count = self.count(occurs, matches!(particle.term, Term::Any(_)));
        self.repeated(id, count, holder, into)?;
        if is_free && into.len() > begin {
            // Nobody begins by sending something that says nothing.
            let is_idle = |node: &Node| matches!(node, Node::Element(made) if self.says_nothing(made));
            if into[begin..].iter().all(is_idle) {
                into.truncate(begin);
                return Ok(());
            }
            self.left = self.left.saturating_sub(1);
        }
        Ok(())
    }

    /// Whether an element is empty though it need not be.
    fn says_nothing(&self, made: &Element) -> bool {
        let has_content =
            |ty: TypeId| self.schemas.complex(ty).is_some() && !self.schemas.content(ty).is_empty();
        made.children.is_empty() && made.attributes.is_empty() && made.ty.is_some_and(has_content)
    }

    /// So many of a particle.
    fn repeated(
        &mut self,
        id: ParticleId,
        count: u32,
        holder: &str,
        into: &mut Vec<Node>,
    ) -> Result<(), SampleError> {
        let particle = &self.schemas.particles[id];
        let occurs = particle.occurs;
        for turn in 0..count {
            let length = into.len();
            let (around, repeats) = (self.second, self.repeats);
            if count > 1 {
                self.second = turn == 1;
                self.repeats = true;
            }
            let made = self.term(id, turn, holder, into);
            self.second = around;
            self.repeats = repeats;
            match made {
                // What may be nothing once may be nothing every time.
                Ok(()) if into.len() == length => return Ok(()),
                Ok(()) => {}
                // What may be left out is, if it cannot be made.
                Err(SampleError::TooLarge { name, place }) if self.made > LARGEST => {
                    return Err(SampleError::TooLarge { name, place });
                }
                Err(_) if turn >= occurs.min => {
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

    fn term(
        &mut self,
        id: ParticleId,
        turn: u32,
        holder: &str,
        into: &mut Vec<Node>,
    ) -> Result<(), SampleError> {
        if let Some(element) = self.schemas.particle_element(id) {
            into.push(Node::Element(self.element(element, holder)?));
            return Ok(());
        }
        let schemas = self.schemas;
        if let Some((compositor, members)) = schemas.particle_group(id) {
            return match compositor {
                Compositor::Sequence => {
                    members.iter().try_for_each(|member| self.particle(*member, holder, into))
                }
                Compositor::All => {
                    let mut members = members.to_vec();
                    if let Some(rng) = self.rng() {
                        rng.shuffle(&mut members);
                    }
                    members.into_iter().try_for_each(|member| self.particle(member, holder, into))
                }
                Compositor::Choice => self.choice(members, turn, holder, into, id),
            };
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

    /// One of several: the first that can be made; for the most, each time another; for the least, the smallest.
    fn choice(
        &mut self,
        members: &[ParticleId],
        turn: u32,
        holder: &str,
        into: &mut Vec<Node>,
        id: ParticleId,
    ) -> Result<(), SampleError> {
        let occurs = |member: &&ParticleId| self.schemas.particles[**member].occurs.max != Some(0);
        let mut order: Vec<ParticleId> = members.iter().filter(occurs).copied().collect();
        match self.size {
            Size::Most if !order.is_empty() => {
                let turn = turn as usize % order.len();
                order.rotate_left(turn);
            }
            Size::Random(_) => {
                if let Some(rng) = self.rng() {
                    rng.shuffle(&mut order);
                }
            }
            Size::Least => order.sort_by_key(|member| self.schemas.particles[*member].occurs.min.min(1)),
            _ => {}
        }
        order.sort_by_key(|member| !self.is_familiar(*member));
        let place = self.schemas.particles[id].place;
        let mut outcome = Err(SampleError::Nothing { place });
        for member in order {
            let length = into.len();
            outcome = self.particle(member, holder, into);
            if outcome.is_ok() {
                break;
            }
            into.truncate(length);
        }
        outcome
    }

    /// An element that a wildcard lets in, as small as can be: what stands there is anybody's guess.
    fn anything(
        &mut self,
        namespaces: &NamespaceConstraint,
        process: Process,
        place: Place,
    ) -> Result<Element, SampleError> {
        let size = self.size;
        if !matches!(size, Size::Random(_)) {
            self.size = Size::Least;
        }
        let made = self.something(namespaces, process, place);
        self.size = size;
        made
    }

    /// One of the schemas if a wildcard asks for that, else one of no schema.
    fn something(
        &mut self,
        namespaces: &NamespaceConstraint,
        process: Process,
        place: Place,
    ) -> Result<Element, SampleError> {
        let engine = self.engine;
        if process == Process::Strict {
            let globals = self.schemas.elements.iter().filter(|(_, element)| {
                element.owner == Owner::Schema
                    && !self.schemas.is_known(element.place)
                    && namespaces.allows(&element.name.namespace)
            });
            let mut globals: Vec<ElementId> = globals.map(|(id, _)| id).collect();
            // Values first: what they need cannot nest without end.
            globals.sort_by_key(|id| engine.datatype(self.schemas.element_type(*id)).is_none());
            let mut outcome = Err(SampleError::Wildcard { place });
            for id in globals {
                outcome = self.element(id, "");
                if outcome.is_ok() {
                    break;
                }
            }
            return outcome;
        }
        let namespace = a_namespace(namespaces).ok_or(SampleError::Wildcard { place })?;
        let name = QName::new(namespace, "anything");
        // An element of that name that is declared would be judged by its declaration.
        if let Some(declared) = self.schemas.element_named(&name) {
            return self.element(declared, "");
        }
        Ok(Element::new(name).text("Some text."))
    }
}

/// A namespace that a wildcard lets in.
pub(super) fn a_namespace(namespaces: &NamespaceConstraint) -> Option<&str> {
    match namespaces {
        NamespaceConstraint::OneOf(these) => these.first().map(|first| &**first),
        NamespaceConstraint::Not(not) if &**not == "urn:example:other" => Some("urn:example:other:2"),
        _ => Some("urn:example:other"),
    }
}
