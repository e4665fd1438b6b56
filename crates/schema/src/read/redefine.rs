//! `xsd:redefine`: components that take the place of others of the same name, which live on under a name of their
//! own so that the new ones can refer to them (Part 1, 4.2.2).

use charter_source::{Fault, Node, Place, QName, elements, ns};

use super::SchemaReader;
use super::scope::Scope;
use crate::set::Names;
use crate::{Arena, Id, Occurs};

/// Which kind of component is redefined.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    Type,
    Group,
    AttributeGroup,
}

/// A component that takes the place of another.
#[derive(Debug)]
struct Redefinition {
    kind: Kind,
    name: QName,
    /// The name that the other one goes by from then on; no name can be written that way.
    original: QName,
    place: Place,
    id: Option<usize>,
}

/// The redefinitions of all documents, in the order in which they are read.
#[derive(Debug, Default)]
pub(super) struct Redefinitions {
    all: Vec<Redefinition>,
    /// Whether the component of the last one is being read.
    open: bool,
}

impl Redefinitions {
    /// Takes the component that is being redefined, instead of making it known by its name.
    pub fn defer(&mut self, name: &QName, place: Place, id: usize) -> bool {
        let Some(last) = self.all.last_mut().filter(|_| self.open) else { return false };
        let this = last.name == *name && last.id.is_none();
        if this {
            last.id = Some(id);
            last.place = place;
        }
        this
    }
}

impl SchemaReader<'_> {
    /// Reads the components of a redefine element.
    pub(super) fn redefine(&mut self, scope: &Scope, node: Node<'_>) {
        for child in elements(node).filter(|child| child.tag_name().namespace() == Some(ns::XSD)) {
            let kind = match child.tag_name().name() {
                "simpleType" | "complexType" => Kind::Type,
                "group" => Kind::Group,
                "attributeGroup" => Kind::AttributeGroup,
                _ => continue,
            };
            let Some((name, place)) = self.global_name(scope, child) else { continue };
            let number = self.redefinitions.all.len() + 1;
            let local = self.set.interner.intern(&format!("{} (redefined {number})", name.local));
            let original = QName { namespace: name.namespace.clone(), local };
            self.redefinitions.all.push(Redefinition { kind, name, original, place, id: None });
            self.redefinitions.open = true;
            match kind {
                Kind::Type => drop(self.global_type(scope, child)),
                Kind::Group => self.global_group(scope, child),
                Kind::AttributeGroup => self.global_attribute_group(scope, child),
            }
            self.redefinitions.open = false;
            self.uses_itself(scope, child, kind);
        }
    }

    /// The name of the component that is redefined, where the new one refers to it by the name that both have.
    pub(super) fn original(&self, name: &QName, node: Node<'_>) -> Option<QName> {
        let last = self.redefinitions.all.last().filter(|_| self.redefinitions.open)?;
        let fits = match node.tag_name().name() {
            "restriction" | "extension" => last.kind == Kind::Type,
            "group" => last.kind == Kind::Group,
            "attributeGroup" => last.kind == Kind::AttributeGroup,
            _ => false,
        };
        (fits && last.name == *name).then(|| last.original.clone())
    }

    /// Whether a redefinition refers to what it redefines, as it must (src-redefine, 5 to 7).
    fn uses_itself(&mut self, scope: &Scope, node: Node<'_>, kind: Kind) {
        let Some(original) = self.redefinitions.all.last().map(|last| last.original.clone()) else { return };
        match kind {
            Kind::Type => {
                let parts =
                    |node: Node<'_>| elements(node).filter(|it| it.tag_name().name() != "annotation").count();
                let derivation = node.descendants().find(|inner| {
                    matches!(inner.tag_name().name(), "restriction" | "extension")
                        && self.depth_of(*inner, node) <= 2
                });
                let base =
                    derivation.and_then(|it| self.references::<()>(scope, it, "base").into_iter().next());
                let named = base.and_then(|base| base.name);
                let own = self.redefinitions.all.last().map(|last| last.name.clone());
                if parts(node) == 0 || named.as_deref() != own.as_ref() {
                    let message = "a redefined type must be derived from itself";
                    self.say(
                        "src-redefine",
                        scope,
                        node,
                        message,
                        "name it as the base of the restriction or extension",
                    );
                }
            }
            Kind::Group => {
                let uses = self.set.particles.iter().filter(|(_, particle)| {
                    matches!(&particle.term, crate::Term::GroupRef(group) if group.name.as_deref() == Some(&original))
                });
                let uses: Vec<Occurs> = uses.map(|(_, particle)| particle.occurs).collect();
                if uses.len() > 1 || uses.first().is_some_and(|occurs| *occurs != Occurs::ONCE) {
                    let message = "a redefined group may use itself only once, and exactly once";
                    self.say(
                        "src-redefine",
                        scope,
                        node,
                        message,
                        "leave one use, without minOccurs and maxOccurs",
                    );
                }
            }
            Kind::AttributeGroup => {
                let last = self.redefinitions.all.last().and_then(|last| last.id);
                let uses = last.map_or(0, |id| {
                    let group = &self.set.attribute_groups[Id::new(id as u32)];
                    group.groups.iter().filter(|used| used.name.as_deref() == Some(&original)).count()
                });
                if uses > 1 {
                    let message = "a redefined attribute group may use itself only once";
                    self.say("src-redefine", scope, node, message, "leave one use");
                }
            }
        }
    }

    fn depth_of(&self, inner: Node<'_>, outer: Node<'_>) -> usize {
        inner.ancestors().take_while(|node| *node != outer).count()
    }

    /// Once everything is read, gives each redefinition the place of what it redefines: the innermost first.
    pub(super) fn put_redefinitions_in_place(&mut self) {
        for redefinition in std::mem::take(&mut self.redefinitions.all).into_iter().rev() {
            let Some(id) = redefinition.id else { continue };
            let names = &mut self.set.names;
            let found = match redefinition.kind {
                Kind::Type => replace(&mut names.types, &redefinition, id).map(|old| {
                    let ty = &mut self.set.types[old];
                    ty.name = Some(redefinition.original.clone());
                }),
                Kind::Group => replace(&mut names.groups, &redefinition, id).map(|old| {
                    self.set.redefined_groups.push((Id::new(id as u32), old));
                    rename(&mut self.set.groups, old, &redefinition.original, |it| &mut it.name);
                }),
                Kind::AttributeGroup => replace(&mut names.attribute_groups, &redefinition, id).map(|old| {
                    self.set.redefined_attribute_groups.push((Id::new(id as u32), old));
                    rename(&mut self.set.attribute_groups, old, &redefinition.original, |it| &mut it.name);
                }),
            };
            if found.is_none() {
                let message = format!("there is no \"{}\" to redefine", redefinition.name.local);
                let fault = Fault::new("src-redefine", redefinition.place, message);
                self.set.faults.push(fault.help("correct the name, or declare it outside of xsd:redefine"));
            }
        }
    }
}

/// Puts the new component under the name, and the old one under the name of its own; the old one, if there is one.
fn replace<T>(names: &mut Names<T>, redefinition: &Redefinition, id: usize) -> Option<Id<T>> {
    let old = names.insert(redefinition.name.clone(), Id::new(id as u32))?;
    names.insert(redefinition.original.clone(), old);
    Some(old)
}

fn rename<T>(arena: &mut Arena<T>, id: Id<T>, name: &QName, of: impl Fn(&mut T) -> &mut QName) {
    *of(&mut arena[id]) = name.clone();
}
