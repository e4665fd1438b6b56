//! Bindings and services.

use charter_contract::{BindingId, ExtensionKind, PortId, ServiceId, SoapVersion, Style, UseKind};
use charter_source::ns;

use crate::page::quoted;
use crate::{Writer, convention};

impl Writer<'_, '_> {
    pub(crate) fn binding(&mut self, id: BindingId) {
        let binding = &self.contract.bindings[id];
        let mut head = format!("binding {} = {}", binding.name.local, self.protocol_words(id));
        if self.contract.port_types.len() != 1
            && let Some(name) = &binding.port_type.name
        {
            head.push_str(&format!(" of {}", self.names.name(name)));
        }
        let departs: Vec<usize> = (0..binding.operations.len())
            .filter(|index| !self.operation_words(id, *index).is_empty())
            .collect();
        let others: Vec<_> =
            binding.extensions.iter().filter(|e| matches!(e.kind, ExtensionKind::Other(_))).collect();
        if departs.is_empty() && others.is_empty() && binding.documentation.is_none() {
            return self.page.line(&head);
        }
        self.page.open(&head);
        self.about(binding.documentation.as_deref());
        others.iter().for_each(|extension| self.verbatim(extension.extent));
        departs.iter().for_each(|index| self.binding_operation(id, *index, false));
        self.page.close("");
    }

    /// The protocol of a binding: what its extension says, and the use that its bodies share.
    fn protocol_words(&self, id: BindingId) -> String {
        let binding = &self.contract.bindings[id];
        let found = binding.extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapBinding { version, style, transport } => {
                let style = style.unwrap_or(Style::Document).name();
                let mut words = format!("soap {} {style} {}", version.number(), self.common_use(id));
                match transport.as_ref().map(|label| &*label.text) {
                    Some(ns::SOAP_OVER_HTTP) => {}
                    Some(other) => words.push_str(&format!(" over {}", quoted(other))),
                    None => words.push_str(" over nothing"),
                }
                Some(words)
            }
            ExtensionKind::HttpBinding { verb } => {
                Some(format!("http {}", verb.as_ref().map_or("…", |verb| &verb.text)))
            }
            _ => None,
        });
        found.unwrap_or_else(|| "no protocol".to_owned())
    }

    fn common_use(&self, id: BindingId) -> &'static str {
        let operations = self.contract.bindings[id].operations.iter();
        let sides = operations.flat_map(|bound| bound.input.iter().chain(&bound.output));
        let encoded = sides.flat_map(|side| &side.extensions).any(|extension| {
            matches!(&extension.kind, ExtensionKind::SoapBody(body) if body.use_kind == Some(UseKind::Encoded))
        });
        if encoded { "encoded" } else { "literal" }
    }

    /// What a bound operation says beyond the convention.
    fn operation_words(&self, id: BindingId, index: usize) -> Vec<String> {
        let binding = &self.contract.bindings[id];
        let bound = &binding.operations[index];
        let mut words = Vec::new();
        let default = self.contract.protocol(id).map(|(_, style)| style);
        for extension in &bound.extensions {
            match &extension.kind {
                ExtensionKind::SoapOperation { action, style, version } => {
                    let expected = convention::action(&binding.name.namespace, &bound.name.text);
                    match action.as_ref().map(|label| &*label.text) {
                        Some(action) if action == expected => {}
                        Some("") => words.push("without action".to_owned()),
                        Some(action) => words.push(format!("action {}", quoted(action))),
                        None if *version == SoapVersion::V11 => words.push("without action".to_owned()),
                        None => {}
                    }
                    words.extend(style.filter(|own| Some(*own) != default).map(|own| own.name().to_owned()));
                }
                ExtensionKind::HttpOperation { location: Some(location) } => {
                    words.push(format!("at {}", quoted(&location.text)));
                }
                ExtensionKind::Other(_) => words.push("extended".to_owned()),
                _ => {}
            }
        }
        words
    }

    pub(crate) fn binding_operation(&mut self, id: BindingId, index: usize, alone: bool) {
        let bound = &self.contract.bindings[id].operations[index];
        let mut words = self.operation_words(id, index);
        words.retain(|word| word != "extended");
        if alone && words.is_empty() {
            words.push(format!(
                "action {}",
                quoted(&convention::action(&self.contract.bindings[id].name.namespace, &bound.name.text))
            ));
        }
        let line = format!("operation {} {}", bound.name.text, words.join(" "));
        self.page.line(line.trim_end());
        for extension in bound.extensions.iter().filter(|e| matches!(e.kind, ExtensionKind::Other(_))) {
            self.verbatim(extension.extent);
        }
    }

    pub(crate) fn service(&mut self, id: ServiceId) {
        let service = &self.contract.services[id];
        self.page.open(&format!("service {}", service.name.local));
        self.about(service.documentation.as_deref());
        (0..service.ports.len()).for_each(|index| self.port(PortId { service: id, index }));
        self.page.close("");
    }

    pub(crate) fn port(&mut self, id: PortId) {
        let port = self.contract.port(id);
        let binding = port.binding.name.as_ref().map_or("…".to_owned(), |name| self.names.name(name));
        let address =
            port.address().map_or(String::new(), |address| format!(" at {}", quoted(&address.text)));
        let about =
            port.documentation.as_ref().map_or(String::new(), |text| format!(" about {}", quoted(text)));
        self.page.line(&format!("port {} = {binding}{address}{about}", port.name.text));
        for extension in port.extensions.iter().filter(|e| matches!(e.kind, ExtensionKind::Other(_))) {
            self.verbatim(extension.extent);
        }
    }
}
