//! Component paths: the name of any component, the same everywhere.
//!
//! `type/Vessel/draught`, `operation/requestPilot/input`, `service/PilotageService/port/PilotagePort`. Where a
//! local name alone could mean several components, the namespace stands before it in braces, an operation
//! stands behind its port type, and the second of two namesakes is written `name[2]`.

use std::fmt;

use charter_schema::{Content, ElementId, Owner, ParticleId, Ref, Term, TypeId, TypeKind};
use charter_source::QName;

use crate::{Component, Contract, OperationId, PortId, Side};

/// The words that a path can begin with.
pub(crate) const KINDS: [&str; 10] = [
    "attribute",
    "attribute-group",
    "binding",
    "element",
    "group",
    "message",
    "operation",
    "port-type",
    "service",
    "type",
];

/// The name of a component.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct ComponentPath(String);

impl fmt::Display for ComponentPath {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

impl ComponentPath {
    /// The path as text.
    pub fn as_str(&self) -> &str {
        &self.0
    }

    /// The path of the component with a name for all that is around it, or its own: of `type/Vessel/draught` it is
    /// `type/Vessel`.
    pub fn outermost(&self) -> &str {
        let end = self.0.match_indices('/').nth(1).map_or(self.0.len(), |(at, _)| at);
        &self.0[..end]
    }
}

/// Why a path names no component.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum PathError {
    /// The path does not begin with the kind of a component.
    #[error("\"{0}\" is not a component path: it must begin with {list}", list = KINDS.join("/, ") + "/")]
    Kind(String),
    /// Nothing goes by that name.
    #[error("there is no \"{path}\" in this contract")]
    Missing {
        /// The path as far as it leads nowhere.
        path: String,
        /// The nearest path there is.
        nearest: Option<String>,
    },
    /// Several components go by that name.
    #[error("\"{path}\" could be {}", candidates.join(" or "))]
    Ambiguous {
        /// The path that was given.
        path: String,
        /// The paths it could mean.
        candidates: Vec<String>,
    },
}

impl Contract {
    /// The path of a component.
    pub fn path(&self, component: Component) -> ComponentPath {
        ComponentPath(self.path_text(component))
    }

    pub(crate) fn path_text(&self, component: Component) -> String {
        let within = |outer: Component, inner: String| format!("{}/{inner}", self.path_text(outer));
        match component {
            Component::Contract => "contract".to_owned(),
            Component::Message(id) => self.root("message", &self.messages[id].name),
            Component::Part(id, index) => {
                within(Component::Message(id), format!("part/{}", self.messages[id].parts[index].name.text))
            }
            Component::PortType(id) => self.root("port-type", &self.port_types[id].name),
            Component::Operation(id) => self.operation_path(id),
            Component::OperationSide(id, side) => {
                let faults = &self.operation(id).faults;
                let name = |index: usize| faults[index].name.as_ref().map(|name| name.text.to_string());
                within(Component::Operation(id), side_path(side, name))
            }
            Component::Binding(id) => self.root("binding", &self.bindings[id].name),
            Component::BindingOperation(id, index) => {
                let name = &self.bindings[id].operations[index].name.text;
                let ordinal = self.ordinal(component);
                within(Component::Binding(id), format!("operation/{}", numbered(name, ordinal)))
            }
            Component::BindingSide(id, index, side) => {
                let faults = &self.bindings[id].operations[index].faults;
                let name = |index: usize| faults[index].name.as_ref().map(|name| name.text.to_string());
                within(Component::BindingOperation(id, index), side_path(side, name))
            }
            Component::Service(id) => self.root("service", &self.services[id].name),
            Component::Port(id) => {
                within(Component::Service(id.service), format!("port/{}", self.port(id).name.text))
            }
            Component::Type(id) => match &self.schemas.types[id].name {
                Some(name) => self.global("type", name, component),
                None => self.owner_path(self.schemas.types[id].owner),
            },
            Component::Element(id) => {
                let element = &self.schemas.elements[id];
                match element.owner {
                    Owner::Schema => self.global("element", &element.name, component),
                    owner => self.member(owner, component, &element.name),
                }
            }
            Component::ElementUse(id) => {
                let particle = &self.schemas.particles[id];
                match &particle.term {
                    Term::ElementRef(Ref { name: Some(name), .. }) => {
                        self.member(particle.owner, component, name)
                    }
                    _ => self.owner_path(particle.owner),
                }
            }
            Component::Attribute(id) => {
                let attribute = &self.schemas.attribute_decls[id];
                match attribute.owner {
                    Owner::Schema => self.global("attribute", &attribute.name, component),
                    owner => format!("{}/@{}", self.owner_path(owner), attribute.name.local),
                }
            }
            Component::Group(id) => self.global("group", &self.schemas.groups[id].name, component),
            Component::AttributeGroup(id) => {
                self.global("attribute-group", &self.schemas.attribute_groups[id].name, component)
            }
        }
    }

    fn root(&self, kind: &'static str, name: &QName) -> String {
        if self.names().roots.several(kind, &name.local) && !name.namespace.is_empty() {
            format!("{kind}/{{{}}}{}", name.namespace, name.local)
        } else {
            format!("{kind}/{}", name.local)
        }
    }

    /// The path of a global component of a schema. What comes with the program gives way to a namesake of the
    /// contract.
    fn global(&self, kind: &'static str, name: &QName, component: Component) -> String {
        if !self.is_built_in(component) {
            return self.root(kind, name);
        }
        let index = self.names();
        let taken = index.roots.of(kind, &name.local).next().is_some();
        if taken || index.built_in.several(kind, &name.local) {
            format!("{kind}/{{{}}}{}", name.namespace, name.local)
        } else {
            format!("{kind}/{}", name.local)
        }
    }

    /// Whether a component comes with the program: a built-in type, or one of a namespace that is known without a file.
    pub fn is_built_in(&self, component: Component) -> bool {
        match component {
            Component::Type(id) if charter_schema::Builtin::from_id(id).is_some() => true,
            other => self.schemas.is_known(self.place(other)),
        }
    }

    fn member(&self, owner: Owner, component: Component, name: &QName) -> String {
        let ordinal = self.ordinal(component);
        format!("{}/{}", self.owner_path(owner), numbered(&name.local, ordinal))
    }

    fn owner_path(&self, owner: Owner) -> String {
        match owner {
            Owner::Schema => "contract".to_owned(),
            Owner::Type(id) => self.path_text(Component::Type(id)),
            Owner::Element(id) => self.path_text(Component::Element(id)),
            Owner::Attribute(id) => self.path_text(Component::Attribute(id)),
            Owner::Group(id) => self.path_text(Component::Group(id)),
            Owner::AttributeGroup(id) => self.path_text(Component::AttributeGroup(id)),
        }
    }

    fn operation_path(&self, id: OperationId) -> String {
        let operation = self.operation(id);
        let name = &operation.name.text;
        let namesakes = self.names().roots.of("operation", name);
        let own = |other: &Component| match other {
            Component::Operation(other) => other.port_type == id.port_type,
            _ => false,
        };
        let overloaded = namesakes.clone().filter(own).nth(1).is_some();
        let elsewhere = !namesakes.clone().all(|other| own(&other));
        let signature = match overloaded.then(|| operation.input_name().or(operation.output_name())).flatten()
        {
            Some(side) => format!("{name}({side})"),
            None => name.to_string(),
        };
        if elsewhere {
            format!("{}/operation/{signature}", self.path_text(Component::PortType(id.port_type)))
        } else {
            format!("operation/{signature}")
        }
    }

    pub(crate) fn namespace(&self, component: Component) -> Option<&str> {
        let name = match component {
            Component::Message(id) => &self.messages[id].name,
            Component::PortType(id) => &self.port_types[id].name,
            Component::Binding(id) => &self.bindings[id].name,
            Component::Service(id) => &self.services[id].name,
            Component::Type(id) => self.schemas.types[id].name.as_ref()?,
            Component::Element(id) => &self.schemas.elements[id].name,
            Component::Attribute(id) => &self.schemas.attribute_decls[id].name,
            Component::Group(id) => &self.schemas.groups[id].name,
            Component::AttributeGroup(id) => &self.schemas.attribute_groups[id].name,
            _ => return None,
        };
        Some(&name.namespace)
    }

    /// The components right inside one, with the step that leads to each.
    pub(crate) fn inner(&self, from: Component) -> Vec<(String, Component)> {
        match from {
            Component::Message(id) => {
                let parts = self.messages[id].parts.iter().enumerate();
                parts.map(|(n, part)| (format!("part/{}", part.name.text), Component::Part(id, n))).collect()
            }
            Component::PortType(port_type) => {
                let operations = self.port_types[port_type].operations.iter().enumerate();
                operations
                    .map(|(index, _)| {
                        let id = OperationId { port_type, index };
                        let path = self.operation_path(id);
                        let name = path.rsplit_once("operation/").map_or(path.as_str(), |(_, name)| name);
                        (format!("operation/{name}"), Component::Operation(id))
                    })
                    .collect()
            }
            Component::Operation(id) => self
                .operation(id)
                .sides()
                .map(|(side, usage)| {
                    let name = |_| usage.name.as_ref().map(|name| name.text.to_string());
                    (side_path(side, name), Component::OperationSide(id, side))
                })
                .collect(),
            Component::Binding(id) => {
                let operations = &self.bindings[id].operations;
                (0..operations.len())
                    .map(|index| Component::BindingOperation(id, index))
                    .map(|component| (self.last_step(component, 2), component))
                    .collect()
            }
            Component::BindingOperation(id, index) => {
                let operation = &self.bindings[id].operations[index];
                let name = |n: usize| operation.faults[n].name.as_ref().map(|name| name.text.to_string());
                operation
                    .sides()
                    .map(|(side, _)| (side_path(side, name), Component::BindingSide(id, index, side)))
                    .collect()
            }
            Component::Service(id) => {
                let ports = self.services[id].ports.iter().enumerate();
                ports
                    .map(|(n, port)| {
                        (
                            format!("port/{}", port.name.text),
                            Component::Port(PortId { service: id, index: n }),
                        )
                    })
                    .collect()
            }
            Component::Type(id) => self.type_members(id),
            Component::Element(id) => self.type_members(self.schemas.element_type(id)),
            Component::ElementUse(id) => match self.schemas.particle_element(id) {
                Some(element) => self.type_members(self.schemas.element_type(element)),
                None => Vec::new(),
            },
            Component::Group(id) => {
                let mut found = Vec::new();
                self.content_members(self.schemas.groups[id].particle, &mut found);
                found
            }
            Component::AttributeGroup(id) => {
                let attributes = &self.schemas.attribute_groups[id].attributes;
                attributes.iter().filter_map(|usage| self.attribute_step(usage)).collect()
            }
            _ => Vec::new(),
        }
    }

    fn last_step(&self, component: Component, steps: usize) -> String {
        let path = self.path_text(component);
        let all = segments(&path);
        all[all.len() - steps..].join("/")
    }

    /// The elements and attributes of a type, its own first, then those of its bases.
    fn type_members(&self, id: TypeId) -> Vec<(String, Component)> {
        let mut found = Vec::new();
        let mut next = Some(id);
        while let Some(id) = next {
            let TypeKind::Complex(complex) = &self.schemas.types[id].kind else { break };
            if let Content::Elements(particle) = complex.content {
                self.content_members(Some(particle), &mut found);
            }
            found.extend(complex.attributes.iter().filter_map(|usage| self.attribute_step(usage)));
            next = complex.base.target.filter(|base| *base != id);
        }
        found
    }

    fn attribute_step(&self, usage: &charter_schema::AttributeUse) -> Option<(String, Component)> {
        let id = usage.attribute.target?;
        Some((format!("@{}", self.schemas.attribute_decls[id].name.local), Component::Attribute(id)))
    }

    fn content_members(&self, particle: Option<ParticleId>, found: &mut Vec<(String, Component)>) {
        let Some(id) = particle else { return };
        let named = |name: &QName, component: Component| {
            let ordinal = self.ordinal(component);
            (numbered(&name.local, ordinal), component)
        };
        match &self.schemas.particles[id].term {
            Term::Element(element) => {
                found.push(named(&self.schemas.elements[*element].name, Component::Element(*element)));
            }
            Term::ElementRef(Ref { name: Some(name), .. }) => {
                found.push(named(name, Component::ElementUse(id)));
            }
            Term::Group(_, members) => {
                members.iter().for_each(|member| self.content_members(Some(*member), found));
            }
            Term::GroupRef(group) => {
                let particle = group.target.and_then(|group| self.schemas.groups[group].particle);
                self.content_members(particle, found);
            }
            _ => {}
        }
    }

    /// The element that a component is or uses.
    pub fn element_of(&self, component: Component) -> Option<ElementId> {
        match component {
            Component::Element(id) => Some(id),
            Component::ElementUse(id) => self.schemas.particle_element(id),
            _ => None,
        }
    }
}

fn side_path(side: Side, fault: impl Fn(usize) -> Option<String>) -> String {
    match side {
        Side::Input => "input".to_owned(),
        Side::Output => "output".to_owned(),
        Side::Fault(index) => format!("fault/{}", fault(index).unwrap_or_else(|| (index + 1).to_string())),
    }
}

fn numbered(name: &str, ordinal: u32) -> String {
    if ordinal > 1 { format!("{name}[{ordinal}]") } else { name.to_owned() }
}

/// Splits a path at its slashes, but not at those of a namespace in braces.
pub(crate) fn segments(path: &str) -> Vec<&str> {
    let mut found = Vec::new();
    let mut depth = 0usize;
    let mut start = 0;
    for (at, c) in path.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth = depth.saturating_sub(1),
            '/' if depth == 0 => {
                found.push(&path[start..at]);
                start = at + 1;
            }
            _ => {}
        }
    }
    found.push(&path[start..]);
    found
}
