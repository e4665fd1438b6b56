//! What the components of a contract lead to.

use charter_schema::{
    ElementId, Owner, Ref, Relatives, Schemas, SimpleDerivation, Term, TypeDef, TypeId, TypeKind,
};
use charter_source::{Files, Set};

use crate::usage::Usage;
use crate::{Contract, ExtensionKind, MessageId};

impl Usage {
    /// What the operations and global elements of a contract lead to.
    pub(crate) fn of(contract: &Contract) -> Usage {
        let messages = used_messages(contract);
        let parts = messages.iter().flat_map(|id| &contract.messages[*id].parts);
        let mut elements = Vec::new();
        let mut types = Vec::new();
        for part in parts {
            elements.extend(part.element.as_ref().and_then(|element| element.target));
            types.extend(part.ty.as_ref().and_then(|ty| ty.target));
        }
        let reached = contract.reachable(elements, types.clone());
        let global = contract.schemas.elements.iter().filter(|(_, element)| element.owner == Owner::Schema);
        let all = contract.reachable(global.map(|(id, _)| id).collect(), types);
        Usage { messages, elements: reached.0, types: all.1 }
    }
}

fn used_messages(contract: &Contract) -> Set<MessageId> {
    let mut found: Set<MessageId> = Set::default();
    for (_, operation) in contract.operations() {
        found.extend(operation.sides().filter_map(|(_, usage)| usage.message.target));
    }
    for (_, binding) in contract.bindings.iter() {
        let operations = binding.operations.iter();
        let sides = operations.flat_map(|bound| bound.sides().map(|(_, side)| side));
        for extension in sides.flat_map(|side| &side.extensions) {
            if let ExtensionKind::SoapHeader(header) = &extension.kind {
                found.extend(header.message.target);
                found.extend(header.faults.iter().filter_map(|fault| fault.message.target));
            }
        }
    }
    found
}

impl Contract {
    /// What is used: found out when first asked for.
    pub fn usage(&self) -> &Usage {
        self.usage.get_or_init(|| Usage::of(self))
    }

    /// All elements and types that the given ones lead to: through content, attributes and derivation, by
    /// substitution, and from a base to what derives from it, since `xsi:type` may name that.
    pub fn reachable(&self, elements: Vec<ElementId>, types: Vec<TypeId>) -> (Set<ElementId>, Set<TypeId>) {
        let schemas = &self.schemas;
        let relatives = self.index.relatives.get_or_init(|| Relatives::of(schemas));
        let mut reach = Reach {
            files: &self.files,
            schemas,
            elements: Set::default(),
            types: Set::default(),
            groups: Set::default(),
            waiting: types,
        };
        let mut heads = elements;
        loop {
            while let Some(id) = heads.pop() {
                if reach.elements.insert(id) {
                    reach.waiting.extend(schemas.elements[id].ty.target);
                    heads.extend(relatives.substitutes(id));
                }
            }
            let Some(id) = reach.waiting.pop() else { break };
            if reach.types.insert(id) {
                reach.waiting.extend(relatives.derived(id));
                reach.type_def(&schemas.types[id], &mut heads);
            }
        }
        (reach.elements, reach.types)
    }
}

struct Reach<'s> {
    files: &'s Files,
    schemas: &'s Schemas,
    elements: Set<ElementId>,
    types: Set<TypeId>,
    groups: Set<charter_schema::GroupId>,
    waiting: Vec<TypeId>,
}

impl Reach<'_> {
    fn type_def(&mut self, ty: &TypeDef, heads: &mut Vec<ElementId>) {
        let targets = |refs: &[Ref<TypeDef>]| refs.iter().filter_map(|ty| ty.target).collect::<Vec<_>>();
        match &ty.kind {
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => {
                    self.waiting.extend(base.target);
                }
                SimpleDerivation::Union(members) => self.waiting.extend(targets(members)),
            },
            TypeKind::Complex(complex) => {
                self.waiting.extend(complex.base.target);
                if let charter_schema::Content::Simple { inline, .. } = &complex.content {
                    self.waiting.extend(*inline);
                }
                if let charter_schema::Content::Elements(particle) = complex.content {
                    self.particle(particle, heads);
                }
                let mut uses: Vec<_> = complex.attributes.iter().collect();
                let mut groups: Vec<_> = complex.attribute_groups.iter().filter_map(|g| g.target).collect();
                let mut seen = Set::default();
                while let Some(id) = groups.pop() {
                    if seen.insert(id) {
                        let group = &self.schemas.attribute_groups[id];
                        uses.extend(&group.attributes);
                        groups.extend(group.groups.iter().filter_map(|group| group.target));
                    }
                }
                // The members of an array of the SOAP encoding are named nowhere else.
                let of_array = |usage: &&charter_schema::AttributeUse| {
                    usage.attribute.name.as_ref().is_some_and(|name| &*name.local == "arrayType")
                };
                for usage in complex.attributes.iter().filter(of_array) {
                    let item = charter_schema::written_array_type(self.files, usage);
                    self.waiting.extend(item.and_then(|(name, _)| self.schemas.type_named(&name)));
                }
                let attributes = uses.into_iter().filter_map(|usage| usage.attribute.target);
                self.waiting.extend(attributes.filter_map(|id| self.schemas.attribute_decls[id].ty.target));
            }
        }
    }

    fn particle(&mut self, id: charter_schema::ParticleId, heads: &mut Vec<ElementId>) {
        let mut waiting = vec![id];
        while let Some(id) = waiting.pop() {
            match &self.schemas.particles[id].term {
                Term::Element(element) => heads.push(*element),
                Term::ElementRef(element) => heads.extend(element.target),
                Term::Group(_, members) => waiting.extend(members),
                // Groups that use groups would multiply if each use were followed.
                Term::GroupRef(group) => {
                    let new = group.target.filter(|group| self.groups.insert(*group));
                    waiting.extend(new.and_then(|group| self.schemas.groups[group].particle));
                }
                Term::Any(_) => {}
            }
        }
    }
}
