//! Follows the references between components, and cuts circles among them.

use charter_source::{Dangling, Fault, Place, QName, Set};

use crate::component::*;
use crate::cycles::back_edges;
use crate::edges::{nested_group_edges, type_edges};
use crate::set::{GlobalNames, Names};
use crate::{Arena, Builtin, Id, Schemas, Term, TypeId};

/// Resolves every reference of the set. What is not there stays `None`, with a fault.
pub(crate) fn resolve(set: &mut Schemas) {
    let mut resolver = Resolver { names: std::mem::take(&mut set.names), dangling: Dangling::default() };
    resolver.types(set);
    resolver.elements(set);
    for id in set.attribute_decls.ids() {
        resolver.ty(&mut set.attribute_decls[id].ty);
    }
    for id in set.attribute_groups.ids() {
        let group = &mut set.attribute_groups[id];
        resolver.attributes(&mut group.attributes, &mut group.groups);
    }
    for id in set.particles.ids() {
        match &mut set.particles[id].term {
            Term::ElementRef(element) => resolver.element(element),
            Term::GroupRef(group) => {
                let names = &resolver.names.groups;
                group.target = find(names, group);
                resolver.missing("src-resolve", "model group", group, |names| &names.groups);
            }
            _ => {}
        }
    }
    for id in set.constraints.ids() {
        if let Some(refer) = &mut set.constraints[id].refer {
            refer.target = find(&resolver.names.constraints, refer);
            resolver.missing("src-resolve", "key", refer, |names| &names.constraints);
        }
    }
    for unseen in std::mem::take(&mut set.unseen) {
        resolver.unseen(unseen);
    }
    set.names = resolver.names;
    set.faults.append(&mut resolver.dangling.faults);
    cut_circles(set);
    crate::bounds::keep(set);
    inherit_types(set);
}

struct Resolver {
    names: GlobalNames,
    dangling: Dangling,
}

fn find<T>(names: &Names<T>, reference: &Ref<T>) -> Option<Id<T>> {
    match &reference.name {
        Some(name) => names.get(name.key()),
        None => reference.target,
    }
}

impl Resolver {
    fn types(&mut self, set: &mut Schemas) {
        for id in set.types.ids().skip(Builtin::all().count()) {
            match &mut set.types[id].kind {
                TypeKind::Simple(simple) => match &mut simple.derivation {
                    SimpleDerivation::Restriction(ty) | SimpleDerivation::List(ty) => self.ty(ty),
                    SimpleDerivation::Union(members) => members.iter_mut().for_each(|ty| self.ty(ty)),
                },
                TypeKind::Complex(complex) => {
                    self.ty(&mut complex.base);
                    self.attributes(&mut complex.attributes, &mut complex.attribute_groups);
                }
            }
        }
    }

    fn elements(&mut self, set: &mut Schemas) {
        for id in set.elements.ids() {
            self.ty(&mut set.elements[id].ty);
            if let Some(head) = &mut set.elements[id].substitution_group {
                self.element(head);
            }
        }
    }

    fn attributes(&mut self, uses: &mut [AttributeUse], groups: &mut [Ref<AttributeGroup>]) {
        for usage in uses {
            usage.attribute.target = find(&self.names.attributes, &usage.attribute);
            self.missing("src-resolve", "attribute", &usage.attribute, |names| &names.attributes);
        }
        for group in groups {
            group.target = find(&self.names.attribute_groups, group);
            self.missing("src-resolve", "attribute group", group, |names| &names.attribute_groups);
        }
    }

    /// A reference into a namespace that its schema does not import (src-resolve, 4). What is not there at all has
    /// been said already.
    fn unseen(&mut self, (name, place): (QName, Place)) {
        let names = &self.names;
        let key = name.key();
        let known = names.types.get(key).is_some()
            || names.elements.get(key).is_some()
            || names.attributes.get(key).is_some()
            || names.groups.get(key).is_some()
            || names.attribute_groups.get(key).is_some()
            || names.constraints.get(key).is_some();
        if known {
            let (message, help) = match &*name.namespace {
                "" => (
                    format!(
                        "\"{}\" is in no namespace, and this schema imports none without one",
                        name.local
                    ),
                    "add <xsd:import/>, or a prefix".to_owned(),
                ),
                namespace => (
                    format!("this schema does not import {namespace}"),
                    format!("add <xsd:import namespace=\"{namespace}\"/> at its beginning"),
                ),
            };
            self.dangling.faults.push(Fault::new("src-resolve", place, message).help(help));
        }
    }

    fn ty(&mut self, reference: &mut Ref<TypeDef>) {
        reference.target = find(&self.names.types, reference);
        self.missing("src-resolve", "type", reference, |names| &names.types);
    }

    fn element(&mut self, reference: &mut Ref<ElementDecl>) {
        reference.target = find(&self.names.elements, reference);
        self.missing("src-resolve", "element", reference, |names| &names.elements);
    }

    /// A fault for a name that leads nowhere.
    fn missing<T>(
        &mut self,
        rule: &'static str,
        kind: &str,
        reference: &Ref<T>,
        all: impl Fn(&GlobalNames) -> &Names<T>,
    ) {
        if let (Some(name), None) = (&reference.name, reference.target) {
            let names = all(&self.names);
            self.dangling.report(rule, kind, name, reference.place, || names.iter());
        }
    }
}

/// Cuts each circle of derivation, of groups and of substitution at the reference that closes it.
fn cut_circles(set: &mut Schemas) {
    let mut faults = Vec::new();
    let mut report = |rule: &'static str, place: Place, what: &str, name: Option<&QName>| {
        let name = name.map_or("this one", |name| &*name.local);
        let fault = Fault::new(rule, place, format!("the {what} \"{name}\" is defined by itself"));
        faults.push(fault.help("break the circle at one of its references"));
    };
    for (node, edge) in back_edges(set.types.len(), |node| type_edges(set, node)) {
        let ty = &mut set.types[TypeId::new(node as u32)];
        let (rule, reference) = match &mut ty.kind {
            TypeKind::Complex(complex) => ("ct-props-correct", Some(&mut complex.base)),
            TypeKind::Simple(simple) => match &mut simple.derivation {
                SimpleDerivation::Restriction(ty) | SimpleDerivation::List(ty) => {
                    ("st-props-correct", Some(ty))
                }
                SimpleDerivation::Union(members) => ("src-simple-type", members.get_mut(edge)),
            },
        };
        if let Some(reference) = reference {
            report(rule, reference.place, "type", reference.name.as_deref().or(ty.name.as_ref()));
            reference.target = None;
        }
    }
    let groups = set.groups.len();
    for (node, edge) in
        back_edges(groups, |node| nested_group_edges(set, node).iter().map(|(.., to)| *to).collect())
    {
        let particle = nested_group_edges(set, node)[edge].0;
        if let Term::GroupRef(reference) = &mut set.particles[particle].term {
            report("mg-props-correct", reference.place, "model group", reference.name.as_deref());
            reference.target = None;
        }
    }
    let edges = |set: &Schemas, node: usize| -> Vec<Option<usize>> {
        let group = &set.attribute_groups[Id::new(node as u32)];
        group.groups.iter().map(|group| group.target.map(Id::index)).collect()
    };
    for (node, edge) in back_edges(set.attribute_groups.len(), |node| edges(set, node)) {
        let reference = &mut set.attribute_groups[Id::new(node as u32)].groups[edge];
        report("src-attribute_group", reference.place, "attribute group", reference.name.as_deref());
        reference.target = None;
    }
    let head = |set: &Schemas, node: usize| -> Vec<Option<usize>> {
        let head = set.elements[Id::new(node as u32)].substitution_group.as_ref();
        head.map(|head| head.target.map(Id::index)).into_iter().collect()
    };
    for (node, _) in back_edges(set.elements.len(), |node| head(set, node)) {
        if let Some(reference) = &mut set.elements[Id::new(node as u32)].substitution_group {
            report("e-props-correct", reference.place, "substitution group", reference.name.as_deref());
            reference.target = None;
        }
    }
    set.faults.append(&mut faults);
}

/// Gives each member of a substitution group without a type of its own the type of its head (Part 1, 3.3.2).
fn inherit_types(set: &mut Schemas) {
    let elements: &mut Arena<ElementDecl> = &mut set.elements;
    for id in elements.ids() {
        if elements[id].ty.target.is_some() || elements[id].ty.name.is_some() {
            continue;
        }
        let mut chain = vec![id];
        let mut seen: Set<_> = [id].into_iter().collect();
        let mut here = id;
        let found = loop {
            let element = &elements[here];
            if element.ty.target.is_some() || element.ty.name.is_some() {
                break element.ty.target;
            }
            match element.substitution_group.as_ref().and_then(|head| head.target) {
                Some(head) if seen.insert(head) => {
                    chain.push(head);
                    here = head;
                }
                _ => break Some(Builtin::AnyType.id()),
            }
        };
        for link in chain {
            if elements[link].ty.name.is_none() {
                elements[link].ty.target = found;
            }
        }
    }
}
