//! Component paths: the name of any component, the same everywhere.
//!
//! `type/Vessel/draught`, `operation/requestPilot/input`, `service/PilotageService/port/PilotagePort`. Where a
//! local name alone could mean several components, the namespace stands before it in braces, an operation
//! stands behind its port type, and the second of two namesakes is written `name[2]`.

use std::fmt;

use charter_schema::{Content, ElementId, Owner, ParticleId, Ref, Term, TypeId, TypeKind};
use charter_source::{QName, nearest};

use crate::{Component, Contract, OperationId, PortId, Side};

/// The words that a path can begin with.
const KINDS: [&str; 10] = [
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

    fn path_text(&self, component: Component) -> String {
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
        let namesakes = self.names().roots.get(&(kind, name.local.clone())).map_or(0, Vec::len);
        if namesakes > 1 && !name.namespace.is_empty() {
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
        let key = (kind, name.local.clone());
        let index = self.names();
        let namesakes = index.built_in.get(&key).map_or(0, Vec::len);
        if namesakes > 1 || index.roots.contains_key(&key) {
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
        let key = ("operation", name.clone());
        let namesakes = self.names().roots.get(&key).map_or(&[][..], Vec::as_slice);
        let own = |other: &&Component| match other {
            Component::Operation(other) => other.port_type == id.port_type,
            _ => false,
        };
        let overloaded = namesakes.iter().filter(own).count() > 1;
        let elsewhere = !namesakes.iter().all(|other| own(&other));
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

    /// The component that a path names.
    ///
    /// # Errors
    /// If there is no such component, or several.
    pub fn find(&self, path: &str) -> Result<Component, PathError> {
        let segments = segments(path);
        let (Some(kind), Some(name)) = (segments.first(), segments.get(1)) else {
            return match segments.first() {
                Some(&"contract") => Ok(Component::Contract),
                _ => Err(PathError::Kind(path.to_owned())),
            };
        };
        let Some(kind) = KINDS.iter().find(|known| *known == kind) else {
            return Err(PathError::Kind(path.to_owned()));
        };
        let found = self.find_root(kind, name)?;
        let mut here = found;
        let mut rest = &segments[2..];
        let mut walked = format!("{kind}/{name}");
        while let Some(next) = rest.first() {
            let taken =
                if matches!(*next, "part" | "port" | "operation" | "fault") { 2.min(rest.len()) } else { 1 };
            let step = rest[..taken].join("/");
            match self.step(here, &rest[..taken]) {
                Some(component) => here = component,
                None => {
                    // A name such as "part" may also be that of an element.
                    if taken == 2
                        && let Some(component) = self.step(here, &rest[..1])
                    {
                        here = component;
                        walked = format!("{walked}/{next}");
                        rest = &rest[1..];
                        continue;
                    }
                    let names = self.steps(here);
                    let near = nearest(&step, names.iter().map(String::as_str));
                    let nearest = near.map(|near| format!("{walked}/{near}"));
                    return Err(PathError::Missing { path: format!("{walked}/{step}"), nearest });
                }
            }
            walked = format!("{walked}/{step}");
            rest = &rest[taken..];
        }
        Ok(here)
    }

    fn find_root(&self, kind: &'static str, name: &str) -> Result<Component, PathError> {
        let (namespace, local) = match name.strip_prefix('{').and_then(|rest| rest.split_once('}')) {
            Some((namespace, local)) => (Some(namespace), local),
            None => (None, name),
        };
        let (local, side) = match local.strip_suffix(')').and_then(|rest| rest.split_once('(')) {
            Some((local, side)) => (local, Some(side)),
            None => (local, None),
        };
        let all = self.names().roots.get(&(kind, local.into())).map_or(&[][..], Vec::as_slice);
        let fits = |component: &&Component| match component {
            Component::Operation(id) => {
                let operation = self.operation(*id);
                side.is_none_or(|side| {
                    operation.input_name().or(operation.output_name()).as_deref() == Some(side)
                })
            }
            other => namespace.is_none_or(|wanted| self.namespace(**other).is_some_and(|own| own == wanted)),
        };
        let mut found: Vec<Component> = all.iter().filter(fits).copied().collect();
        if found.is_empty() {
            let built_in = self.names().built_in.get(&(kind, local.into())).map_or(&[][..], Vec::as_slice);
            found = built_in.iter().filter(fits).copied().collect();
            // A type of XML Schema itself is what a bare name means first.
            if let Some(first) =
                found.iter().position(|it| self.namespace(*it) == Some(charter_source::ns::XSD))
            {
                found = vec![found[first]];
            }
        }
        match found.as_slice() {
            [only] => Ok(*only),
            [] => {
                let index = self.names();
                let names = index.roots.keys().chain(index.built_in.keys()).filter(|(k, _)| *k == kind);
                let mut names: Vec<&str> = names.map(|(_, name)| &**name).collect();
                names.sort_unstable();
                let nearest = nearest(local, names).map(|near| format!("{kind}/{near}"));
                Err(PathError::Missing { path: format!("{kind}/{name}"), nearest })
            }
            several => {
                let candidates = several.iter().map(|component| self.path_text(*component)).collect();
                Err(PathError::Ambiguous { path: format!("{kind}/{name}"), candidates })
            }
        }
    }

    fn namespace(&self, component: Component) -> Option<&str> {
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

    fn step(&self, from: Component, step: &[&str]) -> Option<Component> {
        self.inner(from).into_iter().find(|(name, _)| *name == step.join("/")).map(|(_, component)| component)
    }

    fn steps(&self, from: Component) -> Vec<String> {
        self.inner(from).into_iter().map(|(name, _)| name).collect()
    }

    /// The components right inside one, with the step that leads to each.
    fn inner(&self, from: Component) -> Vec<(String, Component)> {
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

    fn last_step(&self, component: Component, segments: usize) -> String {
        let path = self.path_text(component);
        let all = crate::path::segments(&path);
        all[all.len() - segments..].join("/")
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
fn segments(path: &str) -> Vec<&str> {
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
