//! Bindings to plain HTTP.

use charter_contract::{Contract, ExtensionKind, Label};
use charter_schema::TypeKind;
use charter_source::{Fault, Place};

use super::bound::{self, BoundSide};
use super::operations::is_absolute;
use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const RULE: Rule = Rule::of(Family::Http, Level::Error);
const WARNS: Rule = Rule::of(Family::Http, Level::Warning);

/// A binding of the operation of the tides to HTTP: its verb, its location, and its input.
macro_rules! tides {
    ($verb:literal, $location:literal, $input:literal) => {
        concat!(
            "<wsdl:binding name=\"TidesHttp\" type=\"tns:Tides\">\n  <http:binding verb=\"",
            $verb,
            "\"/>\n  <wsdl:operation name=\"reportTide\">\n    <http:operation location=\"",
            $location,
            "\"/>\n    ",
            $input,
            "\n  </wsdl:operation>\n</wsdl:binding>"
        )
    };
}

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "http-verb",
        standard: "WSDL 1.1, section 4.4; RFC 9110, section 9.1",
        asks: "The verb of an HTTP binding is GET or POST, in capitals.",
        why: "Methods are case-sensitive: a server does not know get. For other methods WSDL does not say where the parts \
              of the message go.",
        example: Example::of(
            Slot::Http,
            tides!("get", "tide", "<wsdl:input><http:urlEncoded/></wsdl:input>"),
            tides!("GET", "tide", "<wsdl:input><http:urlEncoded/></wsdl:input>"),
        ),
        look: Some(verbs),
        ..RULE
    },
    Rule {
        name: "http-location",
        standard: "WSDL 1.1, section 4.5",
        asks: "Every operation of an HTTP binding has a location, relative to the address of the port.",
        why: "Location and address together are the URL of the operation. An absolute location leaves no room for the \
              address, and without one all operations are one.",
        example: Example::of(
            Slot::Http,
            tides!(
                "GET",
                "https://tides.saltmere.example/report",
                "<wsdl:input><http:urlEncoded/></wsdl:input>"
            ),
            tides!("GET", "report", "<wsdl:input><http:urlEncoded/></wsdl:input>"),
        ),
        look: Some(locations),
        ..RULE
    },
    Rule {
        name: "http-replacement",
        standard: "WSDL 1.1, section 4.7",
        asks: "With urlReplacement, the location names every part of the message in brackets, and nothing else in brackets.",
        why: "A part that the location does not name is not sent; brackets around anything else are sent as they are.",
        example: Example::of(
            Slot::Http,
            tides!("GET", "tide/(day)", "<wsdl:input><http:urlReplacement/></wsdl:input>"),
            tides!("GET", "tide/(day)/(height)", "<wsdl:input><http:urlReplacement/></wsdl:input>"),
        ),
        look: Some(replacements),
        ..RULE
    },
    Rule {
        name: "http-input",
        standard: "WSDL 1.1, sections 4.6 and 4.7",
        asks: "The input of an HTTP binding says how its parts are sent, in one way.",
        why: "With urlEncoded they go behind a question mark, with urlReplacement into the path. Without either, or with \
              both, nobody knows where the provider looks for them.",
        example: Example::of(
            Slot::Http,
            tides!("GET", "tide", "<wsdl:input/>"),
            tides!("GET", "tide", "<wsdl:input><http:urlEncoded/></wsdl:input>"),
        ),
        look: Some(inputs),
        ..RULE
    },
    Rule {
        name: "http-part",
        standard: "WSDL 1.1, sections 4.6 and 4.7",
        asks: "Parts that go into a URL have simple types.",
        why: "A URL holds text. How an element or a structure would be written there, no standard says.",
        example: Example::edited(
            Slot::Binding,
            r#"<wsdl:binding name="BerthsOverSoap11" type="tns:Berths">
  <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
  <wsdl:operation name="findBerth">
    <soap:operation soapAction="urn:saltmere:berths:1:findBerth"/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>
<wsdl:binding name="BerthsHttp" type="tns:Berths">
  <http:binding verb="POST"/>
  <wsdl:operation name="findBerth">
    <http:operation location="berth"/>
    <wsdl:input><mime:mimeXml part="parameters"/></wsdl:input>
    <wsdl:output><mime:mimeXml part="parameters"/></wsdl:output>
  </wsdl:operation>
</wsdl:binding>"#,
            (
                r#"  <http:binding verb="POST"/>
  <wsdl:operation name="findBerth">
    <http:operation location="berth"/>
    <wsdl:input><mime:mimeXml part="parameters"/></wsdl:input>"#,
                r#"  <http:binding verb="GET"/>
  <wsdl:operation name="findBerth">
    <http:operation location="berth"/>
    <wsdl:input><http:urlEncoded/></wsdl:input>"#,
            ),
        ),
        look: Some(simple_parts),
        ..WARNS
    },
];

fn verbs(contract: &Contract, faults: &mut Vec<Fault>) {
    let bindings = contract.bindings.iter().flat_map(|(_, binding)| &binding.extensions);
    for extension in bindings {
        let ExtensionKind::HttpBinding { verb: Some(verb) } = &extension.kind else { continue };
        if !matches!(&*verb.text, "GET" | "POST") {
            let message = format!("\"{}\" is not GET or POST", verb.text);
            let capitals = verb.text.to_ascii_uppercase();
            let help = if matches!(&*capitals, "GET" | "POST") {
                format!("write {capitals}")
            } else {
                "bind to GET or POST".to_owned()
            };
            faults.push(Fault::new("http-verb", verb.place, message).help(help));
        }
    }
}

/// The sides of bindings to HTTP.
fn sides(contract: &Contract) -> impl Iterator<Item = BoundSide<'_>> {
    bound::sides(contract).filter(|side| contract.is_http(side.of.id))
}

fn location<'c>(operation: &bound::BoundOperation<'c>) -> Option<(Place, Option<&'c Label>)> {
    operation.bound.extensions.iter().find_map(|extension| match &extension.kind {
        ExtensionKind::HttpOperation { location } => Some((extension.place, location.as_ref())),
        _ => None,
    })
}

fn locations(contract: &Contract, faults: &mut Vec<Fault>) {
    for operation in bound::operations(contract).filter(|operation| contract.is_http(operation.id)) {
        let name = &operation.bound.name;
        match location(&operation) {
            None => {
                let message = format!("\"{}\" has no location", name.text);
                let fault = Fault::new("http-location", name.place, message);
                faults.push(fault.help(format!("add <http:operation location=\"{}\"/>", name.text)));
            }
            Some((_, Some(location))) if is_absolute(&location.text) => {
                let message = format!("the location \"{}\" is not relative", location.text);
                let fault = Fault::new("http-location", location.place, message);
                faults.push(fault.help("put the beginning into the address of the port, the rest here"));
            }
            _ => {}
        }
    }
}

fn has(side: BoundSide<'_>, wanted: fn(&ExtensionKind) -> bool) -> bool {
    side.bound.extensions.iter().any(|extension| wanted(&extension.kind))
}

fn is_replacement(kind: &ExtensionKind) -> bool {
    matches!(kind, ExtensionKind::HttpUrlReplacement)
}

fn is_encoded(kind: &ExtensionKind) -> bool {
    matches!(kind, ExtensionKind::HttpUrlEncoded)
}

fn replacements(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in sides(contract).filter(|side| has(*side, is_replacement)) {
        let (Some(message), Some((_, Some(location)))) = (side.message, location(&side.of)) else { continue };
        let named = bracketed(&location.text);
        for part in message.parts.iter().filter(|part| !named.contains(&&*part.name.text)) {
            let text = format!("the location does not name the part \"{}\"", part.name.text);
            let fault = Fault::new("http-replacement", location.place, text);
            faults.push(fault.help(format!("write ({}) where its value goes", part.name.text)));
        }
        for name in named.iter().filter(|name| !message.parts.iter().any(|part| *part.name.text == ***name)) {
            let text = format!("\"{}\" has no part \"{name}\"", message.name.local);
            let fault = Fault::new("http-replacement", location.place, text);
            faults.push(fault.help("write the name of a part in brackets"));
        }
    }
}

/// What stands in round brackets.
fn bracketed(location: &str) -> Vec<&str> {
    location.split('(').skip(1).filter_map(|rest| Some(rest.split_once(')')?.0)).collect()
}

fn inputs(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in sides(contract).filter(|side| side.side == charter_contract::Side::Input) {
        let (replaced, encoded) = (has(side, is_replacement), has(side, is_encoded));
        let empty = side.message.is_some_and(|message| message.parts.is_empty());
        let text = match (replaced, encoded) {
            (true, true) => "puts its parts both into the path and behind it",
            (false, false) if !empty && side.bound.extensions.is_empty() => {
                "does not say how its parts are sent"
            }
            _ => continue,
        };
        let fault = Fault::new("http-input", side.bound.place, format!("{} {text}", side.of_operation()));
        faults.push(fault.help("write http:urlEncoded or http:urlReplacement, or a mime element for a POST"));
    }
}

fn simple_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    for side in sides(contract).filter(|side| has(*side, is_replacement) || has(*side, is_encoded)) {
        for part in side.message.iter().flat_map(|message| &message.parts) {
            let complex = part
                .ty
                .as_ref()
                .and_then(|ty| ty.target)
                .is_some_and(|ty| matches!(contract.schemas.types[ty].kind, TypeKind::Complex(_)));
            if part.element.is_some() || complex {
                let what = if complex { "has a complex type" } else { "names an element" };
                let text = format!("the part \"{}\" {what}, and goes into a URL", part.name.text);
                let fault = Fault::new("http-part", part.place, text);
                faults.push(fault.help("give it a simple type, or send it in a POST"));
            }
        }
    }
}
