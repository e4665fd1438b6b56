//! Types, elements and groups.

use charter_schema::{
    AttributeGroupId, AttributeUse, ComplexType, Compositor, ConstraintKind, Content, ElementId, GroupId,
    NamespaceConstraint, Occurs, Owner, ParticleId, Process, Term, TypeId, TypeKind, Wildcard,
};

use charter_source::Set;

use crate::Writer;
use crate::names::{Names, occurrence};
use crate::page::{exactly, quoted};

/// A global component, with its place in the text to order it by.
#[derive(Clone, Copy)]
enum Global {
    Type(TypeId),
    Element(ElementId),
    Attribute(charter_schema::AttributeId),
    Group(GroupId),
    AttributeGroup(AttributeGroupId),
}

impl Writer<'_, '_> {
    /// The schema components of the contract: its own namespace first, the others each in a block.
    pub(crate) fn schemas(&mut self) {
        let mut namespaces: Vec<String> = vec![self.names.own.clone()];
        for document in &self.contract.schemas.documents {
            if self.contract.schemas.is_known(document.place) {
                continue;
            }
            if !namespaces.iter().any(|known| **known == *document.namespace) {
                namespaces.push(document.namespace.to_string());
            }
        }
        let hidden = self.inline_elements();
        for (index, namespace) in namespaces.iter().enumerate() {
            let globals = self.globals(namespace, &hidden);
            if globals.is_empty() {
                continue;
            }
            self.page.gap();
            if index == 0 {
                self.schema_settings(namespace);
                self.global_list(&globals);
                continue;
            }
            let outer =
                std::mem::replace(&mut self.names, Names { contract: self.contract, own: namespace.clone() });
            self.page.open(&format!("schema {}", quoted(namespace)));
            self.schema_settings(namespace);
            self.global_list(&globals);
            self.page.close("");
            self.names = outer;
        }
    }

    /// A schema that is no part of a contract.
    pub(crate) fn schemas_alone(&mut self) {
        let own = self.names.own.clone();
        self.page.open(&format!("schema {}", quoted(&own)));
        self.schema_settings(&own);
        let globals = self.globals(&own, &Set::default());
        self.global_list(&globals);
        self.page.close("");
    }

    fn schema_settings(&mut self, namespace: &str) {
        let documents = self.contract.schemas.documents.iter().filter(|d| *d.namespace == *namespace);
        let documents: Vec<_> = documents.collect();
        let texts: Vec<&String> = documents.iter().flat_map(|document| &document.documentation).collect();
        texts.iter().for_each(|text| self.page.line(&format!("about {}", quoted(text))));
        if documents.iter().any(|document| !document.elements_qualified) {
            self.page.line("elements unqualified");
        }
        if documents.iter().any(|document| document.attributes_qualified) {
            self.page.line("attributes qualified");
        }
        if !texts.is_empty() {
            self.page.gap();
        }
    }

    fn globals(&self, namespace: &str, hidden: &Set<ElementId>) -> Vec<Global> {
        let schemas = &self.contract.schemas;
        let mut found = Vec::new();
        for (id, ty) in schemas.own_types() {
            if ty.name.as_ref().is_some_and(|name| *name.namespace == *namespace) {
                found.push((ty.place, Global::Type(id)));
            }
        }
        for (id, element) in schemas.elements.iter() {
            let global = element.owner == Owner::Schema && *element.name.namespace == *namespace;
            if global && !hidden.contains(&id) {
                found.push((element.place, Global::Element(id)));
            }
        }
        for (id, attribute) in schemas.attribute_decls.iter() {
            if attribute.owner == Owner::Schema && *attribute.name.namespace == *namespace {
                found.push((attribute.place, Global::Attribute(id)));
            }
        }
        for (id, group) in schemas.groups.iter().filter(|(_, group)| *group.name.namespace == *namespace) {
            found.push((group.place, Global::Group(id)));
        }
        let groups = schemas.attribute_groups.iter();
        for (id, group) in groups.filter(|(_, group)| *group.name.namespace == *namespace) {
            found.push((group.place, Global::AttributeGroup(id)));
        }
        found.sort_by_key(|(place, _)| *place);
        found.into_iter().map(|(_, global)| global).collect()
    }

    /// One after the other; simple types without a blank line between them.
    fn global_list(&mut self, globals: &[Global]) {
        let is_line = |global: &Global| match global {
            Global::Type(id) => matches!(self.contract.schemas.types[*id].kind, TypeKind::Simple(_)),
            Global::Attribute(_) => true,
            _ => false,
        };
        let lines: Vec<bool> = globals.iter().map(is_line).collect();
        for (index, global) in globals.iter().enumerate() {
            if index > 0 && !(lines[index] && lines[index - 1]) {
                self.page.gap();
            }
            match global {
                Global::Type(id) => self.type_def(*id),
                Global::Element(id) => self.global_element(*id),
                Global::Attribute(id) => {
                    let line = self.names.attribute_declaration(*id);
                    self.page.line(&line);
                }
                Global::Group(id) => self.group(*id),
                Global::AttributeGroup(id) => self.attribute_group(*id),
            }
        }
    }

    pub(crate) fn type_def(&mut self, id: TypeId) {
        let schemas = &self.contract.schemas;
        let ty = &schemas.types[id];
        let texts = self.names.documentation(ty.place, ty.annotation);
        let head = self.names.type_head(id);
        match &ty.kind {
            TypeKind::Simple(_) => {
                let about = texts.iter().map(|text| format!(" about {}", quoted(text))).collect::<String>();
                self.page.line(&format!("{head}{about}"));
            }
            TypeKind::Complex(complex) => {
                self.page.open(&head);
                texts.iter().for_each(|text| self.page.line(&format!("about {}", quoted(text))));
                self.complex_body(complex);
                self.page.close("");
            }
        }
    }

    pub(crate) fn complex_body(&mut self, complex: &ComplexType) {
        if let Content::Elements(particle) = complex.content {
            self.top_particle(particle);
        }
        complex.attributes.iter().for_each(|usage| {
            let line = self.names.attribute_line(usage);
            self.page.line(&line);
        });
        self.attribute_rest(&complex.attribute_groups, complex.any_attribute.as_ref());
    }

    fn attribute_rest(
        &mut self,
        groups: &[charter_schema::Ref<charter_schema::AttributeGroup>],
        any: Option<&Wildcard>,
    ) {
        for name in groups.iter().filter_map(|group| group.name.as_ref()) {
            let line = format!("attributes {}", self.names.name(name));
            self.page.line(&line);
        }
        if let Some(any) = any {
            self.page.line(&format!("any attribute{}", wildcard(any)));
        }
    }

    /// A sequence that occurs once needs no word: its members stand right in the type.
    fn top_particle(&mut self, id: ParticleId) {
        let particle = &self.contract.schemas.particles[id];
        match &particle.term {
            Term::Group(Compositor::Sequence, members) if particle.occurs == Occurs::ONCE => {
                members.iter().for_each(|member| self.particle(*member));
            }
            _ => self.particle(id),
        }
    }

    pub(crate) fn particle(&mut self, id: ParticleId) {
        let particle = &self.contract.schemas.particles[id];
        let mark = occurrence(particle.occurs);
        match &particle.term {
            Term::Element(element) => self.element_line(*element, particle.occurs),
            Term::ElementRef(element) => {
                let name = element.name.as_ref().map_or("…".to_owned(), |name| self.names.name(name));
                self.page.line(&format!("element {name}{mark}"));
            }
            Term::Group(compositor, members) => {
                self.page.open(compositor.name());
                members.iter().for_each(|member| self.particle(*member));
                self.page.close(&mark);
            }
            Term::GroupRef(group) => {
                let name = group.name.as_ref().map_or("…".to_owned(), |name| self.names.name(name));
                self.page.line(&format!("group {name}{mark}"));
            }
            Term::Any(any) => self.page.line(&format!("any{mark}{}", wildcard(any))),
        }
    }

    /// A local element: one line, or a block if its type is written in place.
    fn element_line(&mut self, id: ElementId, occurs: Occurs) {
        match self.names.has_block(id) {
            None => {
                let line = self.names.field_line(id, occurs);
                self.page.line(&line);
            }
            Some(ty) => {
                let name = self.contract.schemas.elements[id].name.local.clone();
                let tail = format!("{}{}", occurrence(occurs), self.names.element_tail(id));
                self.block(&format!("{name}:"), ty, &tail);
            }
        }
        self.constraints(id);
    }

    pub(crate) fn local_element(&mut self, id: ElementId) {
        let schemas = &self.contract.schemas;
        let particle =
            schemas.particles.iter().find(|(particle, _)| schemas.particle_element(*particle) == Some(id));
        self.element_line(id, particle.map_or(Occurs::ONCE, |(_, particle)| particle.occurs));
    }

    /// A complex type written in place.
    fn block(&mut self, head: &str, ty: TypeId, tail: &str) {
        let TypeKind::Complex(complex) = &self.contract.schemas.types[ty].kind else { return };
        let words = self.names.type_head(ty);
        let words = words
            .strip_suffix("type")
            .map(str::trim_end)
            .unwrap_or(words.strip_prefix("type ").unwrap_or(&words));
        let head = if words.is_empty() { head.to_owned() } else { format!("{head} {words}") };
        self.page.open(&head);
        self.complex_body(complex);
        self.page.close(tail);
    }

    pub(crate) fn global_element(&mut self, id: ElementId) {
        match self.names.has_block(id) {
            Some(ty) => {
                let name = self.contract.schemas.elements[id].name.local.clone();
                let tail = self.names.element_tail(id);
                self.block(&format!("element {name}"), ty, &tail);
            }
            None => {
                let line = self.names.field_line(id, Occurs::ONCE);
                self.page.line(&format!("element {line}"));
            }
        }
        self.constraints(id);
    }

    fn constraints(&mut self, id: ElementId) {
        for constraint in &self.contract.schemas.elements[id].constraints {
            let constraint = &self.contract.schemas.constraints[*constraint];
            let word = match constraint.kind {
                ConstraintKind::Unique => "unique",
                ConstraintKind::Key => "key",
                ConstraintKind::KeyRef => "key-reference",
            };
            let selector = constraint.selector.as_ref().map_or(String::new(), |path| exactly(&path.text));
            let fields =
                constraint.fields.iter().map(|path| exactly(&path.text)).collect::<Vec<_>>().join(", ");
            let refer = constraint.refer.as_ref().and_then(|refer| refer.name.as_ref());
            let refer = refer.map_or(String::new(), |name| format!(" to {}", self.names.name(name)));
            self.page.line(&format!("{word} {} of {selector} by {fields}{refer}", constraint.name.local));
        }
    }

    pub(crate) fn group(&mut self, id: GroupId) {
        let group = &self.contract.schemas.groups[id];
        self.page.open(&format!("group {}", group.name.local));
        if let Some(particle) = group.particle {
            self.top_particle(particle);
        }
        self.page.close("");
    }

    pub(crate) fn attribute_group(&mut self, id: AttributeGroupId) {
        let group = &self.contract.schemas.attribute_groups[id];
        self.page.open(&format!("attributes {}", group.name.local));
        let lines: Vec<String> =
            group.attributes.iter().map(|usage: &AttributeUse| self.names.attribute_line(usage)).collect();
        lines.iter().for_each(|line| self.page.line(line));
        self.attribute_rest(&group.groups, group.any_attribute.as_ref());
        self.page.close("");
    }
}

/// What stands behind `any`.
fn wildcard(any: &Wildcard) -> String {
    let mut words = match &any.namespaces {
        NamespaceConstraint::Any => String::new(),
        NamespaceConstraint::Not(_) => " from other namespaces".to_owned(),
        NamespaceConstraint::OneOf(these) => {
            format!(" from {}", these.iter().map(|ns| exactly(ns)).collect::<Vec<_>>().join(", "))
        }
    };
    words.push_str(match any.process {
        Process::Strict => "",
        Process::Lax => " lax",
        Process::Skip => " skip",
    });
    words
}
