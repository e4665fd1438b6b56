//! Names as the notation shows them, and the lines that consist of little else.

use charter_contract::{Contract, Part};
use charter_schema::{
    Annotation, AttributeId, AttributeUse, Builtin, Content, Derivation, ElementId, Occurs, Ref,
    SimpleDerivation, TypeDef, TypeId, TypeKind, Use, ValueConstraint,
};
use charter_source::{Place, QName, ns};
use roxmltree::NodeId;

use crate::page::{exactly, quoted};
use crate::simple;

/// Shows names from the viewpoint of one namespace.
#[derive(Clone)]
pub(crate) struct Names<'c> {
    pub contract: &'c Contract,
    /// The namespace whose names carry no prefix.
    pub own: String,
}

impl<'c> Names<'c> {
    pub fn new(contract: &'c Contract) -> Self {
        let definitions = contract.definitions.iter().next().map(|(_, first)| first.namespace.to_string());
        let schema = contract.schemas.documents.first().map(|document| document.namespace.to_string());
        Names { contract, own: definitions.or(schema).unwrap_or_default() }
    }

    /// Names as seen from the schema that a place stands in.
    pub fn at(contract: &'c Contract, place: Place) -> Self {
        match contract.schemas.document_of(place) {
            Some(document) => Names { contract, own: document.namespace.to_string() },
            None => Names::new(contract),
        }
    }

    /// The namespaces of the contract's schemas other than its own, with their prefixes.
    pub fn other_namespaces(&self) -> Vec<(String, String)> {
        let mut found: Vec<(String, String)> = Vec::new();
        for document in &self.contract.schemas.documents {
            let namespace = &*document.namespace;
            // The prefix xml is declared in every document.
            let known = namespace == ns::XML || found.iter().any(|(_, other)| other == namespace);
            if namespace != self.own && !namespace.is_empty() && !known {
                found.extend(self.prefix(namespace).map(|prefix| (prefix.to_owned(), namespace.to_owned())));
            }
        }
        found
    }

    /// The prefix that the files of the contract use for a namespace.
    fn prefix(&self, namespace: &str) -> Option<&'c str> {
        if namespace == ns::XML {
            return Some("xml");
        }
        self.contract.files.iter().filter_map(|file| file.root()).find_map(|root| {
            let named =
                root.namespaces().find(|declared| declared.uri() == namespace && declared.name().is_some());
            named.and_then(|declared| declared.name())
        })
    }

    pub fn name(&self, name: &QName) -> String {
        if *name.namespace == *self.own {
            return name.local.to_string();
        }
        match self.prefix(&name.namespace) {
            Some(prefix) => format!("{prefix}:{}", name.local),
            None => name.to_string(),
        }
    }

    /// The name of a type: built-in ones carry no prefix, unless the contract has its own of that name.
    pub fn type_name(&self, name: &QName) -> String {
        let own = QName { namespace: self.own.as_str().into(), local: name.local.clone() };
        if *name.namespace == *ns::XSD && self.contract.schemas.type_named(&own).is_none() {
            return name.local.to_string();
        }
        if *name.namespace == *ns::XSD {
            return format!("xsd:{}", name.local);
        }
        self.name(name)
    }

    /// A type as a field shows it: its name, and the facets of one written in place.
    pub fn type_use(&self, ty: &Ref<TypeDef>) -> (String, String) {
        match (&ty.name, ty.target) {
            (Some(name), _) => (self.type_name(name), String::new()),
            (None, Some(id)) => self.type_parts(id),
            (None, None) => ("anyType".to_owned(), String::new()),
        }
    }

    fn type_parts(&self, id: TypeId) -> (String, String) {
        let ty = &self.contract.schemas.types[id];
        if let Some(name) = &ty.name {
            return (self.type_name(name), String::new());
        }
        match &ty.kind {
            TypeKind::Complex(_) => ("{…}".to_owned(), String::new()),
            TypeKind::Simple(simple) => {
                let facets = simple::facets(&simple.facets);
                let (head, inner) = match &simple.derivation {
                    SimpleDerivation::Restriction(base) => self.type_use(base),
                    SimpleDerivation::List(item) => {
                        let (head, facets) = self.type_use(item);
                        (format!("list of {head}{facets}"), String::new())
                    }
                    SimpleDerivation::Union(members) => {
                        let members = members.iter().map(|member| {
                            let (head, facets) = self.type_use(member);
                            format!("{head}{facets}")
                        });
                        (format!("either {}", members.collect::<Vec<_>>().join(" or ")), String::new())
                    }
                };
                (head, format!("{inner}{facets}"))
            }
        }
    }

    /// A type with its facets.
    pub fn type_expression(&self, id: TypeId) -> String {
        let (head, facets) = self.type_parts(id);
        format!("{head}{facets}")
    }

    /// Whether the type of an element is a complex one written in place.
    pub fn has_block(&self, element: ElementId) -> Option<TypeId> {
        let ty = &self.contract.schemas.elements[element].ty;
        let id = ty.target.filter(|_| ty.name.is_none())?;
        let definition = &self.contract.schemas.types[id];
        (definition.name.is_none() && matches!(definition.kind, TypeKind::Complex(_))).then_some(id)
    }

    /// What the author of a component says about it.
    pub fn documentation(&self, place: Place, annotation: Option<NodeId>) -> Vec<String> {
        Annotation::read(&self.contract.files, place.file, annotation).documentation
    }

    /// An element as a line.
    pub fn field_line(&self, element: ElementId, occurs: Occurs) -> String {
        let declared = &self.contract.schemas.elements[element];
        let (head, facets) = self.type_use(&declared.ty);
        format!("{}: {head}{}{facets}{}", declared.name.local, occurrence(occurs), self.element_tail(element))
    }

    /// What stands behind the type of an element.
    pub fn element_tail(&self, element: ElementId) -> String {
        let declared = &self.contract.schemas.elements[element];
        let mut tail = String::new();
        if declared.nillable {
            tail.push_str(" nillable");
        }
        if declared.is_abstract {
            tail.push_str(" abstract");
        }
        if let Some(head) = declared.substitution_group.as_ref().and_then(|head| head.name.as_ref()) {
            tail.push_str(&format!(" replaces {}", self.name(head)));
        }
        tail.push_str(&value(declared.value.as_ref()));
        let texts = self.documentation(declared.place, declared.annotation);
        texts.iter().for_each(|text| tail.push_str(&format!(" about {}", quoted(text))));
        tail
    }

    /// An attribute of a type as a line.
    pub fn attribute_line(&self, usage: &AttributeUse) -> String {
        let mark = match usage.usage {
            Use::Required => "",
            Use::Optional => "?",
            Use::Prohibited => " prohibited",
        };
        if let Some(name) = &usage.attribute.name {
            return format!("@{}{mark}{}", self.name(name), value(usage.value.as_ref()));
        }
        let Some(id) = usage.attribute.target else { return "@…".to_owned() };
        let declared = &self.contract.schemas.attribute_decls[id];
        let (head, facets) = self.type_use(&declared.ty);
        let value = value(usage.value.as_ref().or(declared.value.as_ref()));
        let mut line = format!("@{}: {head}{mark}{facets}{value}", declared.name.local);
        let texts = self.documentation(declared.place, declared.annotation);
        texts.iter().for_each(|text| line.push_str(&format!(" about {}", quoted(text))));
        line
    }

    /// An attribute by itself.
    pub fn attribute_declaration(&self, id: AttributeId) -> String {
        let declared = &self.contract.schemas.attribute_decls[id];
        let (head, facets) = self.type_use(&declared.ty);
        format!("attribute {}: {head}{facets}{}", declared.name.local, value(declared.value.as_ref()))
    }

    /// The first line of a type.
    pub fn type_head(&self, id: TypeId) -> String {
        let ty = &self.contract.schemas.types[id];
        let name = ty.name.as_ref().map_or_else(String::new, |name| format!(" {}", name.local));
        match &ty.kind {
            TypeKind::Simple(_) => format!("type{name} = {}", self.definition(id)),
            TypeKind::Complex(complex) => {
                let mut head = String::new();
                if complex.is_abstract {
                    head.push_str("abstract ");
                }
                if complex.mixed {
                    head.push_str("mixed ");
                }
                head.push_str(&format!("type{name}"));
                let base =
                    complex.base.name.as_ref().filter(|_| complex.base.target != Some(Builtin::AnyType.id()));
                if let Some(base) = base {
                    let word = match complex.derivation {
                        Derivation::Extension => "extends",
                        Derivation::Restriction => "restricts",
                    };
                    head.push_str(&format!(" {word} {}", self.type_name(base)));
                    if let Content::Simple { facets, .. } = &complex.content {
                        head.push_str(&simple::facets(facets));
                    }
                }
                head
            }
        }
    }

    /// What a simple type is, whether or not it has a name.
    fn definition(&self, id: TypeId) -> String {
        let TypeKind::Simple(simple) = &self.contract.schemas.types[id].kind else { return String::new() };
        let facets = simple::facets(&simple.facets);
        let of = |ty: &Ref<TypeDef>| {
            let (head, facets) = self.type_use(ty);
            format!("{head}{facets}")
        };
        match &simple.derivation {
            SimpleDerivation::Restriction(base) => format!("{}{facets}", of(base)),
            SimpleDerivation::List(item) => format!("list of {}{facets}", of(item)),
            SimpleDerivation::Union(members) => {
                format!("either {}{facets}", members.iter().map(of).collect::<Vec<_>>().join(" or "))
            }
        }
    }

    /// A message part.
    pub fn part(&self, part: &Part) -> String {
        let element = part.element.as_ref().and_then(|element| element.name.as_ref());
        let ty = part.ty.as_ref().and_then(|ty| ty.name.as_ref());
        match (element, ty) {
            (Some(element), _) => format!("{}: element {}", part.name.text, self.name(element)),
            (None, Some(ty)) => format!("{}: {}", part.name.text, self.type_name(ty)),
            (None, None) => format!("{}: anyType", part.name.text),
        }
    }
}

/// How often, behind the name of a type.
pub(crate) fn occurrence(occurs: Occurs) -> String {
    match (occurs.min, occurs.max) {
        (1, Some(1)) => String::new(),
        (0, Some(1)) => "?".to_owned(),
        (0, None) => "*".to_owned(),
        (1, None) => "+".to_owned(),
        (min, None) => format!("[{min}..]"),
        (min, Some(max)) if min == max => format!("[{min}]"),
        (min, Some(max)) => format!("[{min}..{max}]"),
    }
}

/// A default or fixed value.
pub(crate) fn value(value: Option<&ValueConstraint>) -> String {
    match value {
        None => String::new(),
        Some(ValueConstraint::Default(text)) => format!(" default {}", exactly(text)),
        Some(ValueConstraint::Fixed(text)) => format!(" fixed {}", exactly(text)),
    }
}
