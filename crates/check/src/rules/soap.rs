//! SOAP bindings.

use charter_contract::{Binding, BindingMessage, Contract, ExtensionKind, Pattern, SoapVersion, UseKind};
use charter_source::{Fault, Place, ns};

use super::bound::{self, BoundSide};
use super::operations::is_standard;
use crate::example::{Example, Slot};
use crate::fixes;
use crate::level::Level;
use crate::rule::{Family, Fix, Rule};

const RULE: Rule = Rule::of(Family::Soap, Level::Error);
const WARNS: Rule = Rule::of(Family::Soap, Level::Warning);

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "binding-protocol",
        standard: "WSDL 1.1, sections 2.5, 3.3 and 4.4",
        asks: "Every binding says which protocol it binds to, and only one.",
        why: "Without a soap:binding or http:binding nobody knows how a message is sent; with two, nobody knows which of \
              them holds.",
        example: Example::of(
            Slot::Binding,
            r#"<wsdl:binding name="BerthsOverSoap11" type="tns:Berths">
  <wsdl:operation name="findBerth">
    <wsdl:input/>
    <wsdl:output/>
  </wsdl:operation>
</wsdl:binding>"#,
            r#"<wsdl:binding name="BerthsOverSoap11" type="tns:Berths">
  <soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    <soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#,
        ),
        look: Some(protocol),
        ..RULE
    },
    Rule {
        name: "protocol-mixed",
        standard: "WSDL 1.1, sections 2.5, 3 and 4",
        asks: "Everything in a binding speaks the protocol of the binding.",
        why: "A reader of a SOAP 1.1 binding does not look for elements of SOAP 1.2 or of HTTP in it: to that reader, the \
              message has no body.",
        example: Example::of(Slot::Input, r#"<soap12:body use="literal"/>"#, r#"<soap:body use="literal"/>"#),
        look: Some(mixed_protocols),
        ..RULE
    },
    Rule {
        name: "soap-body",
        standard: "WSDL 1.1, section 3.5",
        asks: "Every input and output of a SOAP binding has one soap:body.",
        why: "It says which parts of the message stand in the body, and how. Without one, tools leave the body empty or \
              guess; with two, they take one of them.",
        example: Example::of(Slot::Input, "", r#"<soap:body use="literal"/>"#),
        look: Some(bodies),
        fix: Some(Fix::in_place(fixes::body)),
        ..RULE
    },
    Rule {
        name: "soap-action",
        standard: "WSDL 1.1, section 3.4",
        asks: "Every operation that SOAP 1.1 carries over HTTP names its action.",
        why: "The action has no default: some tools send an empty one, others the name of the operation, and providers \
              that tell operations apart by it refuse one or the other.",
        example: Example::of(
            Slot::Bound,
            r#"<wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#,
            r#"<soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#,
        ),
        look: Some(actions),
        fix: Some(Fix::in_place(fixes::action)),
        ..WARNS
    },
    Rule {
        name: "soap-use",
        standard: "WSDL 1.1, section 3.5; Basic Profile 1.1, R2707",
        asks: "Every body, header and fault says whether it is literal or encoded.",
        why: "WSDL knows no default. Profiles read it as literal, but older tools as encoded, which is another message.",
        example: Example::of(Slot::Input, "<soap:body/>", r#"<soap:body use="literal"/>"#),
        look: Some(uses),
        fix: Some(Fix::in_place(fixes::literal)),
        ..WARNS
    },
    Rule {
        name: "soap-encoding",
        standard: "WSDL 1.1, section 3.5",
        asks: "What is encoded says by which encoding.",
        why: "There are several, and the message looks different in each.",
        example: Example::of(
            Slot::Rpc,
            r#"<soap:body use="encoded" namespace="urn:saltmere:berths:1"/>"#,
            r#"<soap:body use="encoded" namespace="urn:saltmere:berths:1" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"/>"#,
        ),
        look: Some(encodings),
        ..WARNS
    },
    Rule {
        name: "encoded-part",
        standard: "WSDL 1.1, section 3.5",
        asks: "The parts of an encoded body name types.",
        why: "An encoding makes a message from an abstract type; an element is concrete already.",
        example: Example::of(
            Slot::Input,
            r#"<soap:body use="encoded" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/"/>"#,
            r#"<soap:body use="literal"/>"#,
        ),
        look: Some(encoded_parts),
        ..RULE
    },
    Rule {
        name: "header-in-body",
        standard: "WSDL 1.1, sections 3.5 and 3.7",
        asks: "A part that is a header block does not stand in the body as well.",
        why: "soap:body without parts carries all parts of the message, so the header block is sent twice, or by some \
              tools in one place and by others in the other.",
        example: Example::edited(
            Slot::Messages,
            r#"<wsdl:message name="mooringInput">
  <wsdl:part name="parameters" element="tns:findBerth"/>
  <wsdl:part name="licence" element="tns:findBerthResponse"/>
</wsdl:message>
<wsdl:portType name="Moorings">
  <wsdl:operation name="moor"><wsdl:input message="tns:mooringInput"/></wsdl:operation>
</wsdl:portType>
<wsdl:binding name="MooringsOverSoap11" type="tns:Moorings">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="moor">
    <soap:operation soapAction="urn:saltmere:berths:1:moor"/>
    <wsdl:input>
      <soap:header message="tns:mooringInput" part="licence" use="literal"/>
      <soap:body use="literal" parts="parameters"/>
    </wsdl:input>
  </wsdl:operation>
</wsdl:binding>"#,
            (r#"use="literal" parts="parameters""#, r#"use="literal""#),
        ),
        look: Some(headers_in_bodies),
        ..WARNS
    },
    Rule {
        name: "soap-fault",
        standard: "WSDL 1.1, section 3.6; Basic Profile 1.1, R2740 and R2754",
        asks: "Every bound fault has a soap:fault, which bears the name of the fault.",
        why: "The name is all that ties the detail of a fault to the operation. With another name, generated code throws \
              an error that nobody declared.",
        example: Example::edited(
            Slot::PortType,
            r#"<wsdl:portType name="Berths">
  <wsdl:operation name="findBerth">
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>
  </wsdl:operation>
</wsdl:portType>
<wsdl:portType name="Lights">
  <wsdl:operation name="dim">
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>
    <wsdl:fault name="Fog" message="tns:findBerthOutput"/>
  </wsdl:operation>
</wsdl:portType>
<wsdl:binding name="LightsOverSoap11" type="tns:Lights">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="dim">
    <soap:operation soapAction="urn:saltmere:berths:1:dim"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
    <wsdl:fault name="Fog"><soap:fault name="Fog" use="literal"/></wsdl:fault>
  </wsdl:operation>
</wsdl:binding>"#,
            (
                r#"    <wsdl:fault name="Fog"><soap:fault name="Fog" use="literal"/></wsdl:fault>"#,
                r#"    <wsdl:fault name="Fog"><soap:fault name="Mist" use="literal"/></wsdl:fault>"#,
            ),
        ),
        look: Some(soap_faults),
        fix: Some(Fix::in_place(fixes::fault_name)),
        ..RULE
    },
    Rule {
        name: "fault-parts",
        standard: "WSDL 1.1, section 3.6",
        asks: "The message of a fault has a single part.",
        why: "The detail of a fault is one element; what other parts there are has no place.",
        example: Example::edited(
            Slot::Messages,
            r#"<wsdl:message name="fogFault"><wsdl:part name="fault" element="tns:findBerth"/></wsdl:message>
<wsdl:portType name="Lights">
  <wsdl:operation name="dim">
    <wsdl:input message="tns:findBerthInput"/>
    <wsdl:output message="tns:findBerthOutput"/>
    <wsdl:fault name="Fog" message="tns:fogFault"/>
  </wsdl:operation>
</wsdl:portType>
<wsdl:binding name="LightsOverSoap11" type="tns:Lights">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="dim">
    <soap:operation soapAction="urn:saltmere:berths:1:dim"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
    <wsdl:fault name="Fog"><soap:fault name="Fog" use="literal"/></wsdl:fault>
  </wsdl:operation>
</wsdl:binding>"#,
            (
                r#"<wsdl:message name="fogFault"><wsdl:part name="fault" element="tns:findBerth"/></wsdl:message>"#,
                r#"<wsdl:message name="fogFault">
  <wsdl:part name="fault" element="tns:findBerth"/>
  <wsdl:part name="until" element="tns:findBerthResponse"/>
</wsdl:message>"#,
            ),
        ),
        look: Some(fault_parts),
        ..RULE
    },
];

fn protocol(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, binding) in contract.bindings.iter() {
        let protocols = || {
            binding.extensions.iter().filter(|extension| {
                matches!(
                    extension.kind,
                    ExtensionKind::SoapBinding { .. } | ExtensionKind::HttpBinding { .. }
                )
            })
        };
        let other = |extension: &charter_contract::Extension| match &extension.kind {
            ExtensionKind::Other(name) => !is_standard(&name.namespace),
            _ => true,
        };
        if let Some(second) = protocols().nth(1) {
            let message = format!("the binding \"{}\" names a protocol already", binding.name.local);
            let fault = Fault::new("binding-protocol", second.place, message);
            faults.push(fault.help("write a binding for each protocol"));
        } else if !binding.extensions.iter().any(other) {
            let message = format!("the binding \"{}\" names no protocol", binding.name.local);
            let fault = Fault::new("binding-protocol", binding.place, message);
            faults.push(fault.help("add a soap:binding with its transport"));
        }
    }
}

/// The protocol that an extension element belongs to; none for those of MIME, which go with any.
fn protocol_of(kind: &ExtensionKind) -> Option<&'static str> {
    let of_version = |version: SoapVersion| match version {
        SoapVersion::V11 => "SOAP 1.1",
        SoapVersion::V12 => "SOAP 1.2",
    };
    Some(match kind {
        ExtensionKind::SoapBinding { version, .. } | ExtensionKind::SoapOperation { version, .. } => {
            of_version(*version)
        }
        ExtensionKind::SoapBody(body) => of_version(body.version),
        ExtensionKind::SoapHeader(header) => of_version(header.version),
        ExtensionKind::SoapFault(fault) => of_version(fault.version),
        ExtensionKind::HttpBinding { .. }
        | ExtensionKind::HttpOperation { .. }
        | ExtensionKind::HttpUrlEncoded
        | ExtensionKind::HttpUrlReplacement => "HTTP",
        _ => return None,
    })
}

fn mixed_protocols(contract: &Contract, faults: &mut Vec<Fault>) {
    for operation in bound::operations(contract) {
        let mut own = operation.binding.extensions.iter().filter_map(|it| protocol_of(&it.kind));
        // Of a binding to two protocols, that is what is wrong.
        let (Some(wanted), None) = (own.next(), own.next()) else { continue };
        let of_sides = operation.sides(contract).flat_map(BoundSide::all_extensions);
        for extension in operation.bound.extensions.iter().chain(of_sides) {
            if let Some(found) = protocol_of(&extension.kind).filter(|found| *found != wanted) {
                let message = format!(
                    "this belongs to {found}, but \"{}\" binds to {wanted}",
                    operation.binding.name.local
                );
                let fault = Fault::new("protocol-mixed", extension.place, message);
                faults.push(fault.help("write it with the prefix of the binding's protocol"));
            }
        }
    }
}

fn bodies(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract).filter(|side| side.of.soap.is_some() && !is_fault(*side)) {
        let mut bodies = side.all_extensions().filter(|it| matches!(it.kind, ExtensionKind::SoapBody(_)));
        let (first, second) = (bodies.next(), bodies.next());
        if let Some(second) = second {
            let fault =
                Fault::new("soap-body", second.place, format!("{} has two bodies", side.of_operation()));
            faults.push(fault.help("join the two"));
        } else if first.is_none() && !is_foreign(side.bound) {
            let message = format!("{} has no soap:body", side.of_operation());
            let fault = Fault::new("soap-body", side.bound.place, message);
            faults.push(fault.help("add <soap:body use=\"literal\"/>"));
        }
    }
}

fn is_fault(side: BoundSide<'_>) -> bool {
    matches!(side.side, charter_contract::Side::Fault(_))
}

/// Whether a side is bound in a way that is not SOAP's own: by MIME, or by an extension that nobody knows.
fn is_foreign(side: &BindingMessage) -> bool {
    side.extensions.iter().any(|extension| match &extension.kind {
        ExtensionKind::MimeMultipart(_)
        | ExtensionKind::MimeContent { .. }
        | ExtensionKind::MimeXml { .. } => true,
        ExtensionKind::Other(name) => !is_standard(&name.namespace),
        _ => false,
    })
}

fn actions(contract: &Contract, faults: &mut Vec<Fault>) {
    for operation in bound::operations(contract) {
        // Where the provider begins, no request bears an action.
        let begun_by_consumer = operation
            .operation
            .is_some_and(|it| matches!(it.pattern, Pattern::OneWay | Pattern::RequestResponse));
        if !begun_by_consumer {
            continue;
        }
        let named = operation.bound.extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapOperation { action, required, .. } => {
                let required = required.as_ref().is_some_and(|it| matches!(&*it.text, "true" | "1"));
                Some((extension.place, action.is_some(), required))
            }
            _ => None,
        });
        // SOAP 1.2 can do without an action, unless the binding says that it cannot.
        let wanted = match named {
            Some((_, _, true)) => true,
            _ => is_soap11_over_http(operation.binding),
        };
        let place: Place = match named {
            _ if !wanted => continue,
            Some((_, true, _)) => continue,
            Some((place, false, _)) => place,
            None => operation.bound.name.place,
        };
        let message = format!("\"{}\" names no action", operation.bound.name.text);
        let fault = Fault::new("soap-action", place, message);
        faults.push(fault.help("add a soap:operation with its soapAction; an empty one will do"));
    }
}

fn is_soap11_over_http(binding: &Binding) -> bool {
    binding.extensions.iter().any(|extension| match &extension.kind {
        ExtensionKind::SoapBinding { version: SoapVersion::V11, transport, .. } => {
            transport.as_ref().is_some_and(|transport| &*transport.text == ns::SOAP_OVER_HTTP)
        }
        _ => false,
    })
}

/// The literal or encoded bodies, headers and faults of a side, each with its place, its use and its encoding.
fn coded(side: BoundSide<'_>) -> Vec<(Place, Option<UseKind>, bool)> {
    let mut found = Vec::new();
    for extension in side.all_extensions() {
        match &extension.kind {
            ExtensionKind::SoapBody(body) => {
                found.push((extension.place, body.use_kind, body.encoding_style.is_some()));
            }
            ExtensionKind::SoapFault(fault) => {
                found.push((extension.place, fault.use_kind, fault.encoding_style.is_some()));
            }
            ExtensionKind::SoapHeader(header) => {
                let all = header.with_faults();
                found.extend(all.map(|it| (it.place, it.use_kind, it.encoding_style.is_some())));
            }
            _ => {}
        }
    }
    found
}

fn uses(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        for (place, use_kind, _) in coded(side) {
            let written = contract.files.slice(place);
            if use_kind.is_none() && !says_use(contract, place) {
                let message = format!("{} does not say whether it is literal or encoded", &written[1..]);
                let fault = Fault::new("soap-use", place, message);
                faults.push(fault.help("add use=\"literal\""));
            }
        }
    }
}

/// Whether an element has a `use`, if one of no meaning: that is said elsewhere.
fn says_use(contract: &Contract, place: Place) -> bool {
    let root = contract.files.get(place.file).root();
    root.and_then(|root| charter_source::element_at(root, place.span.start))
        .is_some_and(|node| node.has_attribute("use"))
}

fn encodings(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        for (place, use_kind, named) in coded(side) {
            if use_kind == Some(UseKind::Encoded) && !named {
                let message = format!("{} is encoded, but names no encoding", side.of_operation());
                let fault = Fault::new("soap-encoding", place, message);
                faults.push(fault.help(format!("add encodingStyle=\"{}\"", ns::SOAP11_ENCODING)));
            }
        }
    }
}

fn encoded_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = charter_source::Set::default();
    let is_encoded =
        |side: &BoundSide<'_>| side.body().is_some_and(|(_, body)| body.use_kind == Some(UseKind::Encoded));
    for side in bound::sides(contract).filter(is_encoded) {
        for part in side.body_parts(false) {
            if part.element.is_some() && part.ty.is_none() && seen.insert(part.place) {
                let message = format!(
                    "the part \"{}\" names an element, but {} is encoded",
                    part.name.text,
                    side.of_operation()
                );
                let fault = Fault::new("encoded-part", part.place, message);
                faults.push(fault.help("name a type, or make the body literal"));
            }
        }
    }
}

fn headers_in_bodies(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract) {
        let in_body = side.body_parts(false);
        for (extension, header) in side.headers() {
            let Some(part) = bound::header_part(contract, header) else { continue };
            if in_body.iter().any(|other| std::ptr::eq(*other, part)) {
                let message = format!(
                    "the part \"{}\" is a header block, and stands in the body of {} as well",
                    part.name.text,
                    side.of_operation()
                );
                let fault = Fault::new("header-in-body", extension.place, message);
                faults.push(fault.help("name the parts of the body in parts of soap:body"));
            }
        }
    }
}

fn soap_faults(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in bound::sides(contract).filter(|side| side.of.soap.is_some() && is_fault(*side)) {
        let Some(name) = &side.bound.name else { continue };
        let of_soap = side.bound.extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapFault(fault) => Some(fault),
            _ => None,
        });
        match of_soap {
            None if !is_foreign(side.bound) => {
                let message = format!("the fault \"{}\" has no soap:fault", name.text);
                let fault = Fault::new("soap-fault", side.bound.place, message);
                faults.push(fault.help(format!("add <soap:fault name=\"{}\" use=\"literal\"/>", name.text)));
            }
            Some(fault) if fault.name.as_ref().is_some_and(|own| own.text != name.text) => {
                let Some(own) = &fault.name else { continue };
                let message = format!("soap:fault is named \"{}\", its fault \"{}\"", own.text, name.text);
                let fault = Fault::new("soap-fault", own.place, message);
                faults.push(fault.help("give both the name of the port type's fault"));
            }
            _ => {}
        }
    }
}

fn fault_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut seen = charter_source::Set::default();
    for side in bound::sides(contract).filter(|side| side.of.soap.is_some() && is_fault(*side)) {
        let Some(message) = side.message.filter(|message| message.parts.len() != 1) else { continue };
        if seen.insert(message.place) {
            let text = format!(
                "the message \"{}\" is a fault, and has {} parts",
                message.name.local,
                message.parts.len()
            );
            let fault = Fault::new("fault-parts", message.place, text);
            faults.push(fault.help("put everything into the element of one part"));
        }
    }
}
