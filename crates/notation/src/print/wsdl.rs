//! The whole of a contract: bindings, services, and what stands around everything.

use charter_source::ns;

use super::operation::{Covered, Operations};
use super::taking::Taking;
use super::{Printer, about_lines, about_tail};
use crate::bound::{Departure, Protocol, bound_operation};
use crate::convention::Convention;
use crate::info::ElementInfo;
use crate::layout::{Line, quoted};
use crate::prefixes::Prefixes;
use crate::view::{Bound, View};

/// A contract, with the lines that declare the prefixes it needs.
pub(crate) fn contract(definitions: &ElementInfo, prefixes: &Prefixes, convention: &Convention) -> Line {
    let own = prefixes.seen_from(definitions.text("targetNamespace").unwrap_or(""));
    let printer = Printer { prefixes: &own };
    printer.contract(definitions, convention).unwrap_or_else(|| printer.verbatim(definitions))
}

/// The words of the protocol in the head of a binding, without how the operations are written.
fn soap_number(namespace: &str) -> &'static str {
    if namespace == ns::WSDL_SOAP12 { "1.2" } else { "1.1" }
}

impl Printer<'_> {
    fn contract(&self, definitions: &ElementInfo, convention: &Convention) -> Option<Line> {
        let view = View::new(definitions, convention);
        let mut taking = Taking::new(definitions);
        let mut head = "contract".to_owned();
        if let Some(name) = taking.ncname("name") {
            head.push_str(&format!(" {name}"));
        }
        if let Some(target) = taking.text("targetNamespace") {
            head.push_str(&format!(" {}", quoted(target)));
        }
        let mut entries = about_lines(&taking.about(self)?);
        let others = taking.others(self.prefixes)?;
        if !others.is_empty() {
            entries.push(Line::of(others.trim_start()));
        }
        let mut operations = Operations { printer: self.clone(), view: &view, shown: Covered::default() };
        let port_types: Vec<Line> = self.port_types(&mut operations);
        let shown = operations.shown;
        let mut schemas = Vec::new();
        let (mut messages, mut bindings, mut services, mut others) =
            (Vec::new(), Vec::new(), Vec::new(), Vec::new());
        while let Some(child) = taking.next() {
            match &*child.name.local {
                _ if *child.name.namespace != *ns::WSDL => others.push(self.verbatim(child)),
                "types" => schemas.extend(self.types(child, &view, &shown)),
                // Of several of one name, the first is meant.
                "message" if view.shows_message(child, &shown.messages) => {}
                "message" => messages.push(self.or_verbatim(child, self.message(child))),
                "portType" => {}
                "binding" => bindings.push(self.binding(child, &view, &shown)),
                "service" => services.push(self.or_verbatim(child, self.service(child, &view)).apart()),
                // One that stands in no port type would be taken for one of the first.
                "operation" => return None,
                "definitions" => services.push(contract(child, self.prefixes, convention).apart()),
                _ => others.push(self.verbatim(child)),
            }
        }
        for list in [others, schemas, messages, port_types, bindings, services] {
            if let (Some(last), false) = (entries.last_mut(), list.is_empty()) {
                // One kind is set off from the next.
                last.last = true;
            }
            entries.extend(list);
        }
        Some(Line::block(head, entries))
    }

    fn port_types(&self, operations: &mut Operations<'_, '_>) -> Vec<Line> {
        let view = operations.view;
        let conventional = Convention::apply(&view.convention.port_type, &view.stem);
        let mut entries = Vec::new();
        for info in &view.port_types {
            let name = info.text("name").unwrap_or("");
            // Without a name of the contract, that of its port type does not follow from it.
            let plain = view.named
                && view.port_types.first().is_some_and(|first| std::ptr::eq(*first, *info))
                && name == conventional
                && info.attributes.len() == 1
                && info.elements().next().is_some()
                && info.elements().all(|child| child.is_wsdl("operation"));
            if plain {
                let all: Vec<Line> = info.elements().map(|child| operations.operation(name, child)).collect();
                entries.extend(all);
                continue;
            }
            let entry = self.port_type(info, operations);
            entries.push(self.or_verbatim(info, entry).apart());
        }
        entries
    }

    pub(crate) fn port_type(&self, info: &ElementInfo, operations: &mut Operations<'_, '_>) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mut entries = about_lines(&taking.about(self)?);
        if let Some(last) = entries.last_mut() {
            last.last = true;
        }
        while let Some(child) = taking.next() {
            if child.is_wsdl("operation") {
                entries.push(operations.operation(name, child));
            } else if *child.name.namespace != *ns::WSDL {
                entries.push(self.verbatim(child));
            } else {
                return None;
            }
        }
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::block(format!("port-type {name}{others}"), entries))
    }

    /// The schemas: that of the contract's own namespace without a block around it, if it says nothing of itself.
    fn types(&self, info: &ElementInfo, view: &View<'_>, shown: &Covered) -> Vec<Line> {
        let mut entries = Vec::new();
        let is_own = |info: &ElementInfo| {
            info.is_xsd("schema") && info.text("targetNamespace").unwrap_or("") == view.target
        };
        let own = info.elements().filter(|child| is_own(child));
        let others = info.elements().filter(|child| !is_own(child));
        for child in own.chain(others) {
            if !child.is_xsd("schema") {
                entries.push(self.verbatim(child));
                continue;
            }
            if !is_own(child) {
                entries.push(self.schema(child));
                continue;
            }
            let is_shown =
                |info: &&ElementInfo| !(info.is_xsd("element") && view.shows_element(info, &shown.elements));
            let plain = child.attributes.iter().all(|(name, _)| {
                ["targetNamespace", "elementFormDefault", "attributeFormDefault"]
                    .iter()
                    .any(|known| name.is("", known))
            });
            let annotated = child.elements().any(|child| child.is_xsd("annotation"));
            if let (true, Some(settings)) = (plain && !annotated, self.schema_settings(child)) {
                entries.extend(settings);
                entries.extend(child.elements().filter(is_shown).flat_map(|child| self.global(child)));
                continue;
            }
            let mut rest = ElementInfo { children: Vec::new(), ..child.clone() };
            child.elements().filter(is_shown).for_each(|info| rest.push(info.clone()));
            entries.push(self.schema(&rest));
        }
        entries
    }

    pub(crate) fn binding(&self, info: &ElementInfo, view: &View<'_>, shown: &Covered) -> Line {
        let found = view.bindings.iter().find(|bound| std::ptr::eq(bound.info, info));
        let entry = found.and_then(|bound| self.try_binding(bound, view, shown));
        self.or_verbatim(info, entry)
    }

    fn try_binding(&self, bound: &Bound<'_>, view: &View<'_>, shown: &Covered) -> Option<Line> {
        let mut taking = Taking::new(bound.info);
        let name = taking.ncname("name")?;
        let port_type = taking.name("type")?;
        let mut entries = about_lines(&taking.about(self)?);
        let mut head = format!("binding {name}{}", self.protocol(&bound.protocol));
        if Some(port_type) != view.first_port_type().as_ref() {
            head.push_str(&format!(" of {}", self.name(port_type)));
        }
        head.push_str(&taking.others(self.prefixes)?);
        let extension = bound.protocol.extension();
        let mut seen_extension = extension.is_none();
        let mut strangers = Vec::new();
        while let Some(child) = taking.next() {
            if child.is_wsdl("operation") {
                strangers.push(child);
            } else if extension.as_ref() == Some(child) && !seen_extension {
                seen_extension = true;
            } else if *child.name.namespace == *ns::WSDL || !seen_extension && &*child.name.local == "binding"
            {
                return None;
            } else {
                entries.push(self.verbatim(child));
            }
        }
        taking.done()?;
        let info = view.port_types.iter().find(|it| view.own(it.text("name").unwrap_or("")) == *port_type);
        for operation in
            info.into_iter().flat_map(|info| info.elements()).filter(|it| it.is_wsdl("operation"))
        {
            let name = operation.text("name").unwrap_or("");
            match bound.operation(operation) {
                None => entries.push(Line::of(format!("omit {name}"))),
                Some(actual) => {
                    strangers.retain(|it| !std::ptr::eq(*it, actual));
                    let is_verbatim =
                        shown.verbatim.contains(&(port_type.local.to_string(), name.to_owned()));
                    entries.extend(if is_verbatim {
                        Some(self.or_verbatim(actual, self.bound_in_full(&bound.protocol, actual)))
                    } else {
                        self.departure(bound, view, &port_type.local, operation, actual)
                    });
                }
            }
        }
        // Operations that the port type does not have; one that it has, bound twice, could not be told from the first.
        let names: Vec<_> =
            info.into_iter().flat_map(|it| it.elements()).filter_map(|it| it.text("name")).collect();
        if strangers.iter().any(|it| it.text("name").is_some_and(|name| names.contains(&name))) {
            return None;
        }
        for stranger in strangers {
            entries.push(self.or_verbatim(stranger, self.bound_in_full(&bound.protocol, stranger)));
        }
        Some(if entries.is_empty() { Line::of(head) } else { Line::block(head, entries).apart() })
    }

    fn protocol(&self, protocol: &Protocol) -> String {
        match protocol {
            Protocol::None => String::new(),
            Protocol::Http(verb) => format!(" = http {verb}"),
            Protocol::Soap(soap) => {
                let mut words =
                    format!(" = soap {} {} {}", soap_number(soap.namespace), soap.style, soap.usage);
                if let Some(encoding) = &soap.encoding {
                    words.push_str(&format!(" by {}", quoted(encoding)));
                }
                if let Some(wrapper) = soap.wrapper.as_ref().filter(|wrapper| **wrapper != self.prefixes.own)
                {
                    words.push_str(&format!(" namespace {}", quoted(wrapper)));
                }
                match soap.transport.as_deref() {
                    Some(ns::SOAP_OVER_HTTP) => {}
                    Some(other) => words.push_str(&format!(" over {}", quoted(other))),
                    None => words.push_str(" over nothing"),
                }
                words
            }
        }
    }

    /// What a bound operation says that does not follow.
    fn departure(
        &self,
        bound: &Bound<'_>,
        view: &View<'_>,
        port_type: &str,
        operation: &ElementInfo,
        actual: &ElementInfo,
    ) -> Option<Line> {
        let (headers, parts) = view.headers(port_type, operation);
        let expected = |departure: &Departure| {
            bound_operation(&bound.protocol, operation, &headers, &parts, departure, &view.target)
        };
        let own = Departure::of(actual);
        let name = operation.text("name").unwrap_or("");
        let unique = actual.text("name") == Some(name);
        if expected(&Departure::default()) == *actual {
            return None;
        }
        if expected(&own) == *actual && unique {
            let words = self.departure_words(&bound.protocol, &own, name, &view.target);
            return Some(Line::of(format!("operation {name}{words}")));
        }
        Some(self.or_verbatim(actual, self.bound_in_full(&bound.protocol, actual)))
    }

    pub(crate) fn departure_words(
        &self,
        protocol: &Protocol,
        own: &Departure,
        name: &str,
        target: &str,
    ) -> String {
        let mut words = String::new();
        match (&own.action, protocol) {
            (Some(Some(action)), Protocol::Soap(_)) if *action != crate::convention::action(target, name) => {
                words.push_str(&format!(" action {}", quoted(action)));
            }
            (Some(None), Protocol::Soap(_)) => words.push_str(" without action"),
            _ => {}
        }
        if let Some(style) = &own.style {
            words.push_str(&format!(" {style}"));
        }
        if let Some(location) = &own.location {
            words.push_str(&format!(" at {}", quoted(location)));
        }
        words
    }

    /// A bound operation with everything that it says.
    pub(crate) fn bound_in_full(&self, protocol: &Protocol, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mut entries = about_lines(&taking.about(self)?);
        let own = Departure::of(info);
        let mut words = self.departure_words(protocol, &own, "", "\u{1}");
        if matches!(protocol, Protocol::Soap(_)) && own.action.is_none() {
            return None;
        }
        if words.is_empty() && !matches!(protocol, Protocol::None) {
            return None;
        }
        let extension = own.extension(protocol);
        let mut passed = false;
        while let Some(child) = taking.next() {
            if extension.as_ref() == Some(child) {
                passed = true;
                continue;
            }
            match &*child.name.local {
                "input" | "output" | "fault" if *child.name.namespace == *ns::WSDL => {
                    entries.push(self.bound_side(protocol, child)?);
                }
                _ if *child.name.namespace == *ns::WSDL => return None,
                "operation" => return None,
                // What is not of the binding is read to stand before what is.
                _ if passed => return None,
                _ => entries.push(self.verbatim(child)),
            }
        }
        words.push_str(&taking.others(self.prefixes)?);
        taking.done()?;
        Some(Line::block(format!("operation {name}{words}"), entries))
    }

    fn bound_side(&self, protocol: &Protocol, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mut head = info.name.local.to_string();
        match (taking.ncname("name"), info.is_wsdl("fault")) {
            (Some(name), true) => head.push_str(&format!(" {name}")),
            (Some(name), false) => head.push_str(&format!(" named {name}")),
            (None, true) => return None,
            (None, false) => {}
        }
        let mut entries = about_lines(&taking.about(self)?);
        while let Some(child) = taking.next() {
            entries.push(self.bound_part(protocol, child));
        }
        head.push_str(&taking.others(self.prefixes)?);
        taking.done()?;
        Some(Line::block(head, entries))
    }

    /// An extension element of a bound message.
    fn bound_part(&self, protocol: &Protocol, info: &ElementInfo) -> Line {
        let entry = match &*info.name.namespace {
            ns::WSDL_SOAP11 | ns::WSDL_SOAP12 => match protocol {
                Protocol::Soap(soap) if *soap.namespace == *info.name.namespace => self.soap_part(info),
                _ => None,
            },
            ns::WSDL_MIME => self.mime_part(protocol, info),
            ns::WSDL_HTTP => {
                let word = match &*info.name.local {
                    "urlEncoded" => Some("url-encoded"),
                    "urlReplacement" => Some("url-replacement"),
                    _ => None,
                };
                let bare = info.attributes.is_empty() && info.children.is_empty();
                word.filter(|_| bare).map(Line::of)
            }
            _ => None,
        };
        self.or_verbatim(info, entry)
    }

    fn soap_part(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mut words = match &*info.name.local {
            "body" => match taking.text("parts") {
                Some("") => "body without parts".to_owned(),
                Some(parts) => format!("body parts {}", quoted(parts)),
                None => "body".to_owned(),
            },
            local @ ("header" | "headerfault") => {
                let word = if local == "header" { "header" } else { "header-fault" };
                let message = self.name(taking.name("message")?);
                format!("{word} {} of {message}", taking.ncname("part")?)
            }
            "fault" => format!("fault {}", taking.ncname("name")?),
            _ => return None,
        };
        match taking.text("use") {
            Some(usage @ ("literal" | "encoded")) => words.push_str(&format!(" {usage}")),
            Some(_) => return None,
            None => {}
        }
        if let Some(encoding) = taking.text("encodingStyle") {
            words.push_str(&format!(" by {}", quoted(encoding)));
        }
        if let Some(namespace) = taking.text("namespace") {
            words.push_str(&format!(" namespace {}", quoted(namespace)));
        }
        words.push_str(&taking.others(self.prefixes)?);
        let mut entries = Vec::new();
        while let Some(child) = taking.next() {
            let known = &*child.name.local == "headerfault" && child.name.namespace == info.name.namespace;
            entries.push(if known {
                self.or_verbatim(child, self.soap_part(child))
            } else {
                self.verbatim(child)
            });
        }
        taking.done()?;
        Some(if entries.is_empty() { Line::of(words) } else { Line::block(words, entries) })
    }

    fn mime_part(&self, protocol: &Protocol, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mut words = match &*info.name.local {
            "content" => "content".to_owned(),
            "mimeXml" => "xml-content".to_owned(),
            "multipartRelated" => "multipart".to_owned(),
            "part" => "part".to_owned(),
            _ => return None,
        };
        if let Some(name) = taking.ncname("name") {
            words.push_str(&format!(" named {name}"));
        }
        if let Some(part) = taking.ncname("part") {
            words.push_str(&format!(" of {part}"));
        }
        if let Some(media) = taking.text("type") {
            words.push_str(&format!(" as {}", quoted(media)));
        }
        words.push_str(&taking.others(self.prefixes)?);
        let mut entries = Vec::new();
        while let Some(child) = taking.next() {
            entries.push(self.bound_part(protocol, child));
        }
        taking.done()?;
        let is_block = matches!(&*info.name.local, "multipartRelated" | "part");
        if !is_block && !entries.is_empty() {
            return None;
        }
        Some(if is_block { Line::block(words, entries) } else { Line::of(words) })
    }

    pub(crate) fn service(&self, info: &ElementInfo, view: &View<'_>) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mut entries = about_lines(&taking.about(self)?);
        while let Some(child) = taking.next() {
            if child.is_wsdl("port") {
                entries.push(self.or_verbatim(child, self.port(child, view)));
            } else if *child.name.namespace != *ns::WSDL {
                entries.push(self.verbatim(child));
            } else {
                return None;
            }
        }
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::block(format!("service {name}{others}"), entries))
    }

    pub(crate) fn port(&self, info: &ElementInfo, view: &View<'_>) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mut line = format!("port {} = ", taking.ncname("name")?);
        let binding = taking.name("binding")?;
        line.push_str(&self.name(binding));
        let about = about_tail(&taking.about(self)?);
        let bound = view
            .bindings
            .iter()
            .find(|it| it.info.text("name").is_some_and(|name| view.own(name) == *binding));
        let protocol = bound.map_or(&Protocol::None, |bound| &bound.protocol);
        let mut entries = Vec::new();
        let mut addressed = false;
        while let Some(child) = taking.next() {
            let location = child.text("location").filter(|_| &*child.name.local == "address");
            // A second address could not be told from the first again.
            if location.is_some() && addressed {
                return None;
            }
            let words = location.and_then(|location| address(protocol, child, location));
            match words {
                Some(words) => {
                    addressed = true;
                    line.push_str(&words);
                }
                None => entries.push(self.verbatim(child)),
            }
        }
        line.push_str(&taking.others(self.prefixes)?);
        taking.done()?;
        Some(if entries.is_empty() {
            Line::of(format!("{line}{about}"))
        } else {
            Line::block(line, entries).tail(&about)
        })
    }
}

/// An address: its kind is said where it is not that of the binding.
fn address(protocol: &Protocol, info: &ElementInfo, location: &str) -> Option<String> {
    let plain = ElementInfo::new(&info.name.namespace, "address").with("location", location);
    if *info != plain {
        return None;
    }
    let kind = match &*info.name.namespace {
        _ if protocol.address(location).as_ref() == Some(info) => "",
        ns::WSDL_SOAP11 => " soap 1.1",
        ns::WSDL_SOAP12 => " soap 1.2",
        ns::WSDL_HTTP => " http",
        _ => return None,
    };
    Some(format!(" at{kind} {}", quoted(location)))
}

impl Departure {
    /// What the extension element of a bound operation says.
    pub(crate) fn of(bound: &ElementInfo) -> Departure {
        let Some(extension) = bound
            .elements()
            .find(|child| &*child.name.local == "operation" && *child.name.namespace != *ns::WSDL)
        else {
            return Departure::default();
        };
        if *extension.name.namespace == *ns::WSDL_HTTP {
            return Departure {
                location: extension.text("location").map(str::to_owned),
                ..Departure::default()
            };
        }
        Departure {
            action: Some(extension.text("soapAction").map(str::to_owned)),
            style: extension.text("style").map(str::to_owned),
            location: None,
        }
    }

    /// The extension element that says this.
    pub(crate) fn extension(&self, protocol: &Protocol) -> Option<ElementInfo> {
        match protocol {
            Protocol::Soap(soap) => {
                let mut info = ElementInfo::new(soap.namespace, "operation");
                if let Some(Some(action)) = &self.action {
                    info = info.with("soapAction", action.as_str());
                }
                if let Some(style) = &self.style {
                    info = info.with("style", style.as_str());
                }
                Some(info)
            }
            Protocol::Http(_) => {
                let info = ElementInfo::new(ns::WSDL_HTTP, "operation");
                Some(match &self.location {
                    Some(location) => info.with("location", location.as_str()),
                    None => info,
                })
            }
            Protocol::None => None,
        }
    }
}

impl Printer<'_> {
    /// An operation of a binding by itself: with its action, even if that follows from the convention.
    pub(crate) fn bound_operation(&self, view: &View<'_>, binding: &str, name: &str) -> Option<Line> {
        let bound = view.bindings.iter().find(|bound| bound.info.text("name") == Some(binding))?;
        let actual =
            bound.info.elements().find(|it| it.is_wsdl("operation") && it.text("name") == Some(name))?;
        let port_type = &bound.port_type?.local;
        let info = view.port_types.iter().find(|it| it.text("name") == Some(port_type));
        let operation = info.and_then(|info| info.elements().find(|it| it.text("name") == Some(name)));
        let departs = match operation {
            Some(operation) => self.departure(bound, view, port_type, operation, actual),
            None => Some(self.or_verbatim(actual, self.bound_in_full(&bound.protocol, actual))),
        };
        Some(departs.unwrap_or_else(|| {
            let words = self.departure_words(&bound.protocol, &Departure::of(actual), "", "\u{1}");
            Line::of(format!("operation {name}{words}"))
        }))
    }
}
