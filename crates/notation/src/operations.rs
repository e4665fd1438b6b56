//! Port types, operations and messages.

use charter_contract::{
    ExtensionKind, MessageId, MessageUse, Operation, OperationId, Part, Pattern, PortTypeId, Side,
};
use charter_schema::{ComplexType, Compositor, Content, ElementId, Occurs, Term, TypeKind};
use charter_source::Set;

use crate::page::quoted;
use crate::{Writer, convention};

/// How wide a line may be before its fields go to lines of their own.
const WIDTH: usize = 96;

impl Writer<'_, '_> {
    pub(crate) fn port_types(&mut self) {
        let conventional = convention::port_type(&convention::contract_name(self.contract));
        let types: Vec<PortTypeId> = self.contract.port_types.ids().collect();
        let alone = matches!(types.as_slice(), [only] if *self.contract.port_types[*only].name.local == *conventional);
        for id in types {
            self.page.gap();
            if alone {
                self.operations(id);
            } else {
                self.port_type(id);
            }
        }
    }

    pub(crate) fn port_type(&mut self, id: PortTypeId) {
        let port_type = &self.contract.port_types[id];
        self.page.open(&format!("port-type {}", port_type.name.local));
        self.about(port_type.documentation.as_deref());
        if port_type.documentation.is_some() {
            self.page.gap();
        }
        self.operations(id);
        self.page.close("");
    }

    fn operations(&mut self, port_type: PortTypeId) {
        for index in 0..self.contract.port_types[port_type].operations.len() {
            if index > 0 {
                self.page.gap();
            }
            self.operation(OperationId { port_type, index });
        }
    }

    pub(crate) fn operation(&mut self, id: OperationId) {
        let operation = self.contract.operation(id);
        let pattern = match operation.pattern {
            Pattern::SolicitResponse | Pattern::Notification => " from the provider",
            _ => "",
        };
        self.page.open(&format!("operation {}{pattern}", operation.name.text));
        self.about(operation.documentation.as_deref());
        if !operation.parameter_order.is_empty() {
            let names: Vec<&str> = operation.parameter_order.iter().map(|label| &*label.text).collect();
            self.page.line(&format!("parameters {}", names.join(", ")));
        }
        for (side, word) in [(Side::Input, "header"), (Side::Output, "reply header")] {
            for line in self.headers(id, side) {
                self.page.line(&format!("{word} {line}"));
            }
        }
        let sides = self.contract.sides(id);
        for side in &sides {
            self.operation_side(id, *side);
        }
        if sides.first() == Some(&Side::Input) && operation.pattern == Pattern::OneWay {
            self.page.line("one-way");
        }
        self.page.close("");
    }

    /// The header blocks that the bindings of an operation add to a side, each once.
    fn headers(&self, id: OperationId, side: Side) -> Vec<String> {
        let mut seen = Set::default();
        let mut lines = Vec::new();
        for bound in self.contract.bound(id) {
            let side = match side {
                Side::Input => bound.operation.input.as_ref(),
                _ => bound.operation.output.as_ref(),
            };
            for extension in side.iter().flat_map(|side| &side.extensions) {
                let ExtensionKind::SoapHeader(header) = &extension.kind else { continue };
                let (Some(message), Some(label)) = (header.message.target, &header.part) else { continue };
                let parts = &self.contract.messages[message].parts;
                let Some(part) = parts.iter().find(|part| part.name.text == label.text) else { continue };
                let line = match part.element.as_ref().and_then(|element| element.name.as_ref()) {
                    Some(element) => format!("{}: {}", part.name.text, self.names.name(element)),
                    None => self.names.part(part),
                };
                if seen.insert(line.clone()) {
                    lines.push(line);
                }
            }
        }
        lines
    }

    pub(crate) fn operation_side(&mut self, id: OperationId, side: Side) {
        let operation = self.contract.operation(id);
        let (usage, word) = match side {
            Side::Input => (operation.input.as_ref(), "input".to_owned()),
            Side::Output => (operation.output.as_ref(), "output".to_owned()),
            Side::Fault(index) => {
                let fault = operation.faults.get(index);
                let name = fault.and_then(|fault| fault.name.as_ref()).map_or("…", |name| &name.text);
                (fault, format!("fault {name}"))
            }
        };
        let Some(usage) = usage else { return };
        let head = format!("{word}{}", self.departures(operation, side, usage));
        let about =
            usage.documentation.as_ref().map_or(String::new(), |text| format!(" about {}", quoted(text)));
        let Some(message) = usage.message.target else {
            let name = usage.message.name.as_ref().map_or("…".to_owned(), |name| self.names.name(name));
            return self.page.line(&format!("{head} message {name}{about}"));
        };
        let parts = &self.contract.messages[message].parts;
        match self.inline_element(operation, side, usage) {
            Some(element) => self.inline(&head, element, &about),
            None => {
                let parts: Vec<String> = parts.iter().map(|part: &Part| self.names.part(part)).collect();
                self.page.line(&format!("{head} ({}){about}", parts.join(", ")));
            }
        }
    }

    /// The names of a side that do not follow the convention.
    fn departures(&self, operation: &Operation, side: Side, usage: &MessageUse) -> String {
        let Some(id) = usage.message.target else { return String::new() };
        let message = &self.contract.messages[id];
        let own = match side {
            Side::Fault(_) => usage.name.as_ref().map_or(&operation.name.text, |name| &name.text),
            _ => &operation.name.text,
        };
        let mut words = String::new();
        if *message.name.local != convention::message(own, side) {
            words.push_str(&format!(" message {}", self.names.name(&message.name)));
        }
        if let [only] = message.parts.as_slice()
            && only.element.is_some()
            && *only.name.text != *convention::part(side)
        {
            words.push_str(&format!(" part {}", only.name.text));
        }
        if let (Some(name), Side::Input | Side::Output) = (&usage.name, side) {
            words.push_str(&format!(" named {}", name.text));
        }
        words
    }

    /// The element of a side that is written in place, since its name follows from that of the operation.
    fn inline_element(&self, operation: &Operation, side: Side, usage: &MessageUse) -> Option<ElementId> {
        let message = &self.contract.messages[usage.message.target?];
        let [only] = message.parts.as_slice() else { return None };
        let element = only.element.as_ref()?.target?;
        let declared = &self.contract.schemas.elements[element];
        let expected = match side {
            Side::Fault(_) => usage.name.as_ref()?.text.to_string(),
            _ => convention::element(&operation.name.text, side),
        };
        (*declared.name.local == *expected && *declared.name.namespace == *self.names.own).then_some(element)
    }

    /// The elements that operations show in place.
    pub(crate) fn inline_elements(&self) -> Set<ElementId> {
        let mut found = Set::default();
        for (_, operation) in self.contract.operations() {
            let sides = operation.sides();
            found.extend(sides.filter_map(|(side, usage)| self.inline_element(operation, side, usage)));
        }
        found
    }

    fn inline(&mut self, head: &str, element: ElementId, about: &str) {
        let schemas = &self.contract.schemas;
        let declared = &schemas.elements[element];
        if let Some(ty) = self.names.has_block(element)
            && let TypeKind::Complex(complex) = &schemas.types[ty].kind
        {
            let line = self.fields_in_a_line(complex).map(|fields| format!("{head} {{{fields}}}{about}"));
            match line.filter(|line| line.len() <= WIDTH) {
                Some(line) => self.page.line(&line),
                None => {
                    self.page.open(head);
                    self.complex_body(complex);
                    self.page.close(about);
                }
            }
            return;
        }
        let (name, facets) = self.names.type_use(&declared.ty);
        self.page.line(&format!("{head}: {name}{facets}{about}"));
    }

    /// The fields of a plain sequence, for a block on one line.
    fn fields_in_a_line(&self, complex: &ComplexType) -> Option<String> {
        let schemas = &self.contract.schemas;
        let plain = complex.attributes.is_empty()
            && complex.attribute_groups.is_empty()
            && complex.any_attribute.is_none()
            && !complex.mixed
            && complex.base.name.is_none();
        let members = match complex.content {
            Content::Empty => return plain.then(String::new),
            Content::Elements(id) => match &schemas.particles[id].term {
                Term::Group(Compositor::Sequence, members)
                    if schemas.particles[id].occurs == Occurs::ONCE =>
                {
                    members
                }
                _ => return None,
            },
            Content::Simple { .. } => return None,
        };
        let fields: Option<Vec<String>> = members
            .iter()
            .map(|member| match &schemas.particles[*member].term {
                Term::Element(element) if self.names.has_block(*element).is_none() => {
                    Some(self.names.field_line(*element, schemas.particles[*member].occurs))
                }
                _ => None,
            })
            .collect();
        let fields = fields.filter(|_| plain)?;
        Some(if fields.is_empty() { String::new() } else { format!(" {} ", fields.join(", ")) })
    }

    pub(crate) fn message(&mut self, id: MessageId) {
        let message = &self.contract.messages[id];
        let parts: Vec<String> = message.parts.iter().map(|part| self.names.part(part)).collect();
        self.page.line(&format!("message {} ({})", message.name.local, parts.join(", ")));
    }
}
