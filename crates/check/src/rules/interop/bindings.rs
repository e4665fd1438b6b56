//! Port types, bindings and ports.

use charter_contract::{
    Contract, ExtensionKind, HeaderExtension, Label, Part, Pattern, Side, SoapVersion, Style, UseKind,
};
use charter_source::{Fault, Map, Place, QName, Set, ns};

use crate::profile::Profile;
use crate::rules::address;
use crate::rules::bound::{self, BoundSide};
use crate::rules::operations::is_absolute;
use crate::settings::Settings;

/// The sides that are bound to SOAP in a style. Where styles are mixed, that is what is wrong.
fn in_style(contract: &Contract, style: Style) -> impl Iterator<Item = BoundSide<'_>> {
    bound::sides(contract).filter(move |side| side.of.style() == Some(style) && !side.of.mixed)
}

fn is_literal(side: BoundSide<'_>) -> bool {
    side.body().is_none_or(|(_, body)| body.use_kind != Some(UseKind::Encoded))
}

pub(super) fn listed_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in in_style(contract, Style::Document).filter(|side| is_literal(*side)) {
        let Some([_, second, ..]) = side.body().and_then(|(_, body)| body.parts.as_deref()) else { continue };
        let message = format!("the body of {} names a second part", side.of_operation());
        let fault = Fault::new("R2201", second.place, message);
        faults.push(fault.help("name one part; others can be header blocks"));
    }
}

pub(super) fn several_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in in_style(contract, Style::Document).filter(|side| is_literal(*side)) {
        let Some((extension, _)) = side.body().filter(|(_, body)| body.parts.is_none()) else { continue };
        let parts = side.body_parts(true);
        // That a header block is among them is said for itself.
        let header_too = side.headers().any(|(_, header)| {
            bound::header_part(contract, header)
                .is_some_and(|it| parts.iter().any(|part| std::ptr::eq(*part, it)))
        });
        if parts.len() > 1 && !header_too {
            let message = format!("the body of {} holds {} elements", side.of_operation(), parts.len());
            let fault = Fault::new("R2210", extension.place, message);
            faults.push(fault.help("put everything into one element, or name one part in parts"));
        }
    }
}

/// A fault for each part of a body that is not as the style asks, said once for each part.
fn parts_in_style(
    contract: &Contract,
    style: Style,
    wrong: fn(&Part) -> bool,
    mut see: impl FnMut(&Part, &Label),
) {
    let mut seen = Set::default();
    for side in in_style(contract, style).filter(|side| !matches!(side.side, Side::Fault(_))) {
        for part in side.body_parts(true).into_iter().filter(|part| wrong(part)) {
            if seen.insert(part.place) {
                see(part, &side.of.bound.name);
            }
        }
    }
}

pub(super) fn rpc_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let of_element = |part: &Part| part.element.is_some() && part.ty.is_none();
    parts_in_style(contract, Style::Rpc, of_element, |part, operation| {
        let message = format!(
            "the part \"{}\" names an element, but \"{}\" is bound in rpc style",
            part.name.text, operation.text
        );
        let fault = Fault::new("R2203", part.place, message);
        faults.push(fault.help("name the type of the element instead"));
    });
}

pub(super) fn document_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let of_type = |part: &Part| part.element.is_none() && part.ty.is_some();
    parts_in_style(contract, Style::Document, of_type, |part, operation| {
        let message = format!(
            "the part \"{}\" names a type, but \"{}\" is bound in document style",
            part.name.text, operation.text
        );
        let fault = Fault::new("R2204", part.place, message);
        faults.push(fault.help("declare an element of that type and name it in the part"));
    });
}

pub(super) fn header_and_fault_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = Set::default();
    let mut see = |part: &Part, what: &str| {
        if part.element.is_none() && part.ty.is_some() && seen.insert(part.place) {
            let message = format!("the part \"{}\" names a type, but stands in {what}", part.name.text);
            let fault = Fault::new("R2205", part.place, message);
            faults.push(fault.help("declare an element of that type and name it in the part"));
        }
    };
    for side in bound::sides(contract).filter(|side| side.of.soap.is_some()) {
        for (_, header) in side.headers() {
            for one in header.with_faults() {
                bound::header_part(contract, one).iter().for_each(|part| see(part, "a header block"));
            }
        }
        let is_fault = side.bound.extensions.iter().any(|it| matches!(it.kind, ExtensionKind::SoapFault(_)));
        if let (true, Some(message)) = (is_fault, side.message) {
            message.parts.iter().for_each(|part| see(part, "a fault"));
        }
    }
}

pub(super) fn unbound_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    // A part may be bound anywhere in the binding: a header of one operation may be a part of the message of another.
    let mut headers: Map<_, Set<Place>> = Map::default();
    for side in bound::sides(contract) {
        let parts = side.headers().filter_map(|(_, header)| bound::header_part(contract, header));
        headers.entry(side.of.id).or_default().extend(parts.map(|part| part.place));
    }
    for side in bound::sides(contract).filter(|side| !matches!(side.side, Side::Fault(_))) {
        let (Some(message), Some((extension, body))) = (side.message, side.body()) else { continue };
        let Some(chosen) = &body.parts else { continue };
        // What is misspelt, or carried without a name, is meant for one of those that seem to be left out.
        let known = |label: &Label| message.parts.iter().any(|part| part.name.text == label.text);
        let nameless = side.all_extensions().any(|extension| {
            matches!(
                &extension.kind,
                ExtensionKind::MimeContent { part: None, .. } | ExtensionKind::MimeXml { part: None }
            )
        });
        if nameless || !chosen.iter().all(known) {
            continue;
        }
        let elsewhere = side.carried_elsewhere();
        for part in &message.parts {
            let in_body = chosen.iter().any(|label| label.text == part.name.text);
            let in_header = headers.get(&side.of.id).is_some_and(|headers| headers.contains(&part.place));
            if !in_body && !in_header && !elsewhere.contains(&&*part.name.text) {
                let text = format!("{} leaves out the part \"{}\"", side.of_operation(), part.name.text);
                let fault = Fault::new("R2209", extension.place, text);
                faults.push(fault.help("bind it to the body or a header, or remove it from the message"));
            }
        }
    }
}

pub(super) fn begun_by_provider(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, operation) in contract.operations() {
        if matches!(operation.pattern, Pattern::Notification | Pattern::SolicitResponse) {
            let message = format!("\"{}\" is begun by the provider", operation.name.text);
            let fault = Fault::new("R2303", operation.name.place, message);
            faults.push(fault.help("let the consumer ask, or offer the operation at the consumer"));
        }
    }
}

/// The names of input and output.
type SideNames = (Option<String>, Option<String>);

pub(super) fn overloaded(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, port_type) in contract.port_types.iter() {
        let mut seen: Map<&str, Set<SideNames>> = Map::default();
        for operation in &port_type.operations {
            let own = seen.entry(&operation.name.text).or_default();
            // Two that nothing tells apart break WSDL itself.
            if own.insert((operation.input_name(), operation.output_name())) && own.len() > 1 {
                let message = format!("there is another operation \"{}\"", operation.name.text);
                let fault = Fault::new("R2304", operation.name.place, message);
                faults.push(fault.help("give each operation a name of its own"));
            }
        }
    }
}

pub(super) fn protocols(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let asked = |profiles: &[Profile]| {
        settings.profiles.as_ref().is_some_and(|asked| asked.iter().any(|one| profiles.contains(one)))
    };
    let old = asked(&[Profile::Basic11, Profile::Basic12]);
    let new = asked(&[Profile::Basic20]);
    for (id, binding) in contract.bindings.iter() {
        let found = match contract.protocol(id) {
            None if contract.is_http(id) => "plain HTTP",
            Some((SoapVersion::V12, _)) if old && !new => "SOAP 1.2, and the profile is about SOAP 1.1",
            Some((SoapVersion::V11, _)) if new && !old => "SOAP 1.1, and the profile is about SOAP 1.2",
            _ => continue,
        };
        let message = format!("the binding \"{}\" binds to {found}", binding.name.local);
        let fault = Fault::new("R2401", binding.place, message);
        faults.push(fault.help("offer the port type by a binding to SOAP of that version as well"));
    }
}

/// The `soap:binding` elements, each with its transport.
fn transports(contract: &Contract) -> impl Iterator<Item = (Place, SoapVersion, Option<&Label>)> {
    let extensions = contract.bindings.iter().flat_map(|(_, binding)| &binding.extensions);
    extensions.filter_map(|extension| match &extension.kind {
        ExtensionKind::SoapBinding { version, transport, .. } => {
            Some((extension.place, *version, transport.as_ref()))
        }
        _ => None,
    })
}

pub(super) fn transport_missing(contract: &Contract, faults: &mut Vec<Fault>) {
    for (place, ..) in transports(contract).filter(|(.., transport)| transport.is_none()) {
        let fault = Fault::new("R2701", place, "this binding names no transport");
        faults.push(fault.help(format!("add transport=\"{}\"", ns::SOAP_OVER_HTTP)));
    }
}

const SOAP12_OVER_HTTP: &str = "http://www.w3.org/2003/05/soap/bindings/HTTP/";

pub(super) fn other_transport(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, version, label) in transports(contract) {
        let Some(label) = label else { continue };
        // SOAP 1.2 has a URI of its own for its binding to HTTP, which some contracts name.
        let own = version == SoapVersion::V12 && &*label.text == SOAP12_OVER_HTTP;
        if &*label.text != ns::SOAP_OVER_HTTP && !own {
            let fault = Fault::new("R2702", label.place, "this transport is not HTTP");
            faults.push(fault.help(format!("write {}", ns::SOAP_OVER_HTTP)));
        }
    }
}

pub(super) fn mixed_style(contract: &Contract, faults: &mut Vec<Fault>) {
    for operation in bound::operations(contract).filter(|operation| operation.mixed) {
        let Some((_, default)) = contract.protocol(operation.id) else { continue };
        let own = operation.bound.extensions.iter().find_map(|extension| match extension.kind {
            ExtensionKind::SoapOperation { style: Some(style), .. } => Some((extension.place, style)),
            _ => None,
        });
        let Some((place, style)) = own else { continue };
        let message = format!(
            "this operation is in {} style, its binding \"{}\" in {} style",
            style.name(),
            operation.binding.name.local,
            default.name()
        );
        let fault = Fault::new("R2705", place, message);
        faults.push(fault.help("put operations of another style into a port type and binding of their own"));
    }
}

pub(super) fn encoded(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        for extension in side.all_extensions() {
            let used: Vec<(Place, Option<UseKind>)> = match &extension.kind {
                ExtensionKind::SoapBody(body) => vec![(extension.place, body.use_kind)],
                ExtensionKind::SoapFault(fault) => vec![(extension.place, fault.use_kind)],
                ExtensionKind::SoapHeader(header) => {
                    header.with_faults().map(|it| (it.place, it.use_kind)).collect()
                }
                _ => continue,
            };
            for (place, _) in used.into_iter().filter(|(_, used)| *used == Some(UseKind::Encoded)) {
                let message = format!("{} is encoded, not literal", side.of_operation());
                let fault = Fault::new("R2706", place, message);
                faults.push(fault.help("make it literal: every message then is what its schema says"));
            }
        }
    }
}

/// What the body of a request begins with, in document style: the element that a provider tells operations apart by.
pub(super) fn alike_on_the_wire(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen: Map<(charter_contract::BindingId, Option<std::sync::Arc<QName>>), &str> = Map::default();
    for side in in_style(contract, Style::Document) {
        if side.side != Side::Input || !is_literal(side) || side.body().is_none() || side.message.is_none() {
            continue;
        }
        let parts = side.body_parts(true);
        let first = match parts.as_slice() {
            [] => None,
            [part, ..] => match &part.element {
                Some(element) if element.target.is_some() => element.name.clone(),
                _ => continue,
            },
        };
        let name = &side.of.bound.name;
        match seen.get(&(side.of.id, first.clone())) {
            Some(other) if **other != *name.text => {
                let what = first
                    .map_or("an empty body".to_owned(), |first| format!("the element \"{}\"", first.local));
                let message = format!("\"{}\" and \"{other}\" both send {what}", name.text);
                let fault = Fault::new("R2710", name.place, message);
                faults.push(fault.help("give each operation an element of its own"));
            }
            Some(_) => {}
            None => drop(seen.insert((side.of.id, first), &name.text)),
        }
    }
}

pub(super) fn shared_addresses(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = Set::default();
    for extension in contract.ports().flat_map(|(_, port)| &port.extensions) {
        let ExtensionKind::SoapAddress { version, location: Some(location) } = &extension.kind else {
            continue;
        };
        if !location.text.is_empty() && !seen.insert((*version, location.text.clone())) {
            let fault = Fault::new("R2711", location.place, "another port has this address as well");
            faults.push(fault.help("give each port an address of its own"));
        }
    }
}

fn header_namespaces(side: BoundSide<'_>) -> Vec<&Label> {
    let mut found = Vec::new();
    for extension in side.all_extensions() {
        match &extension.kind {
            ExtensionKind::SoapHeader(header) => {
                let all = header.with_faults();
                found.extend(all.filter_map(|it: &HeaderExtension| it.namespace.as_ref()));
            }
            ExtensionKind::SoapFault(fault) => found.extend(fault.namespace.as_ref()),
            _ => {}
        }
    }
    found
}

pub(super) fn document_namespaces(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in in_style(contract, Style::Document).filter(|side| is_literal(*side)) {
        let of_body = side.body().and_then(|(_, body)| body.namespace.as_ref());
        for label in of_body.into_iter().chain(header_namespaces(side)) {
            let message = "in document style, the element has a namespace of its own";
            let fault = Fault::new("R2716", label.place, message);
            faults.push(fault.help("remove the namespace attribute"));
        }
    }
}

pub(super) fn rpc_namespaces(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in in_style(contract, Style::Rpc).filter(|side| is_literal(*side)) {
        let Some((extension, body)) = side.body() else { continue };
        let (place, message) = match &body.namespace {
            None => (extension.place, format!("{} has no namespace for its wrapper", side.of_operation())),
            Some(label) if !is_absolute(&label.text) => {
                (label.place, format!("the namespace \"{}\" is relative", label.text))
            }
            Some(_) => continue,
        };
        let fault = Fault::new("R2717", place, message);
        let own = contract.definitions.iter().next().map_or("", |(_, it)| &*it.namespace);
        faults.push(fault.help(format!("add a namespace, such as that of the contract, {own}")));
    }
}

pub(super) fn rpc_header_namespaces(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in in_style(contract, Style::Rpc).filter(|side| is_literal(*side)) {
        for label in header_namespaces(side) {
            let message = "the element of a header or fault has a namespace of its own";
            faults.push(Fault::new("R2726", label.place, message).help("remove the namespace attribute"));
        }
    }
}

pub(super) fn other_schemes(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, port) in contract.ports() {
        let over_http = port.binding.target.is_some_and(|id| {
            contract.bindings[id].extensions.iter().any(|extension| match &extension.kind {
                ExtensionKind::SoapBinding { transport: Some(transport), .. } => {
                    &*transport.text == ns::SOAP_OVER_HTTP
                }
                _ => false,
            })
        });
        let Some(address) = port.address().filter(|_| over_http) else { continue };
        let scheme = address.text.split_once(':').map_or("", |(scheme, _)| scheme);
        let http = ["http", "https"].iter().any(|known| scheme.eq_ignore_ascii_case(known));
        // What has no scheme at all, or is still to be written, is said to be that.
        if is_absolute(&address.text) && !http && address::is_written(&address.text) {
            let message = format!("{scheme} is not the scheme of HTTP");
            let fault = Fault::new("R5001", address.place, message);
            faults.push(fault.help("write an address that begins with https://"));
        }
    }
}
