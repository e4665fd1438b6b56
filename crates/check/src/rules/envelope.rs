//! What profiles ask of envelopes that were captured, each under the number of its requirement. One walk over the
//! envelope finds them all.

use charter_contract::{Contract, DocumentKind, SoapVersion};
use charter_source::{
    CodeUnits, Fault, File, Node, Place, QName, Span, attribute_place, elements, ns, resolve_qname, tag_place,
};

use super::interop::{declaration, xml_declared};
use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const RULE: Rule = Rule::of(Family::Envelope, Level::Error);

/// An envelope of SOAP 1.1 around what stands in it.
macro_rules! envelope {
    ($content:literal) => {
        envelope!("", $content)
    };
    ($attributes:literal, $content:literal) => {
        concat!(
            "<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"",
            $attributes,
            ">\n  ",
            $content,
            "\n</env:Envelope>"
        )
    };
}

const RIGHT: &str =
    envelope!("<env:Body>\n    <findBerth xmlns=\"urn:saltmere:berths:1\">quay</findBerth>\n  </env:Body>");
const RIGHT_FAULT: &str = envelope!(
    "<env:Body><env:Fault><faultcode>env:Server</faultcode><faultstring>The quay is full</faultstring></env:Fault></env:Body>"
);

const fn rule(
    name: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    right: &'static str,
) -> Rule {
    Rule { name, standard, asks, why, example: Example::of(Slot::Envelope, wrong, right), ..RULE }
}

pub(crate) const RULES: &[Rule] = &[
    Rule {
        look: Some(judge),
        ..rule(
            "R9980",
            "Basic Profile, R9980; SOAP 1.1, section 4; SOAP 1.2 Part 1, section 5",
            "An envelope has a body, perhaps a header before it, and nothing else.",
            "A receiver looks for these two alone, in this order.",
            envelope!("<env:Header/>"),
            RIGHT,
        )
    },
    rule(
        "R9981",
        "Basic Profile, R9981",
        "A body has one child at most.",
        "Most receivers read the first child and never see the others.",
        envelope!(
            "<env:Body><findBerth xmlns=\"urn:saltmere:berths:1\"/><findBerth xmlns=\"urn:saltmere:berths:1\"/></env:Body>"
        ),
        RIGHT,
    ),
    rule(
        "R9701",
        "Simple SOAP Binding Profile 1.0, R9701",
        "An envelope is in XML 1.0.",
        "Hardly any parser reads XML 1.1, and SOAP forbids it.",
        "<?xml version=\"1.1\"?>\n<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"><env:Body/></env:Envelope>",
        "<?xml version=\"1.0\"?>\n<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"><env:Body/></env:Envelope>",
    ),
    rule(
        "R1012",
        "Simple SOAP Binding Profile 1.0, R1012",
        "An envelope is in UTF-8 or UTF-16.",
        "A receiver need not know any other encoding.",
        "<?xml version=\"1.0\" encoding=\"ISO-8859-1\"?>\n<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"><env:Body/></env:Envelope>",
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"><env:Body/></env:Envelope>",
    ),
    rule(
        "R1008",
        "Basic Profile, R1008; SOAP 1.1, section 3",
        "An envelope has no document type declaration.",
        "Receivers refuse it, since entities can be made to do harm.",
        "<!DOCTYPE berth>\n<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"><env:Body/></env:Envelope>",
        RIGHT,
    ),
    rule(
        "R1009",
        "Basic Profile, R1009; SOAP 1.1, section 3",
        "An envelope has no processing instructions.",
        "SOAP forbids them, and receivers refuse the message.",
        envelope!("<env:Body><?berth quay?></env:Body>"),
        RIGHT,
    ),
    rule(
        "R1011",
        "Basic Profile, R1011",
        "Nothing follows the body.",
        "SOAP 1.1 lets elements stand there, and hardly any receiver looks at them.",
        envelope!("<env:Body/>\n  <seal xmlns=\"urn:saltmere:berths:1\"/>"),
        RIGHT,
    ),
    rule(
        "R1014",
        "Basic Profile, R1014",
        "The children of the body are in a namespace.",
        "A receiver tells messages apart by the names of these, with their namespaces.",
        envelope!("<env:Body><findBerth/></env:Body>"),
        RIGHT,
    ),
    rule(
        "R1015",
        "Basic Profile, R1015",
        "The root of a message is an Envelope in the namespace of SOAP 1.1 or 1.2.",
        "A receiver answers any other root with a fault of the wrong version.",
        "<env:Envelope xmlns:env=\"urn:saltmere:envelope\"><env:Body/></env:Envelope>",
        RIGHT,
    ),
    rule(
        "R1032",
        "Basic Profile, R1032",
        "Envelope, Header and Body carry no attributes of the namespace of SOAP 1.1.",
        "What such an attribute would mean there is nowhere defined.",
        envelope!("<env:Body env:mustUnderstand=\"1\"/>"),
        RIGHT,
    ),
    Rule {
        level: Level::Warning,
        ..rule(
            "R1033",
            "Basic Profile, R1033",
            "An envelope does not declare the prefix xml.",
            "It is declared in every document. Some older parsers refuse to see it declared again.",
            envelope!(" xmlns:xml=\"http://www.w3.org/XML/1998/namespace\"", "<env:Body/>"),
            RIGHT,
        )
    },
    rule(
        "R1005",
        "Basic Profile, R1005",
        "No element of SOAP carries encodingStyle.",
        "These elements are never encoded; some receivers then expect an encoded message.",
        envelope!("<env:Body env:encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\"/>"),
        RIGHT,
    ),
    rule(
        "R1006",
        "Basic Profile, R1006 and R1007",
        "No child of the body, and nothing in it, carries encodingStyle.",
        "A literal message is what its schema says, and nothing is encoded.",
        envelope!(
            "<env:Body><findBerth xmlns=\"urn:saltmere:berths:1\" env:encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\"/></env:Body>"
        ),
        RIGHT,
    ),
    rule(
        "R1013",
        "Basic Profile, R1013; SOAP 1.1, section 4.2.3",
        "mustUnderstand is 0 or 1.",
        "SOAP 1.1 knows no true and no false. A receiver that goes by its schema refuses them.",
        envelope!(
            "<env:Header><seal xmlns=\"urn:saltmere:berths:1\" env:mustUnderstand=\"true\"/></env:Header>\n  <env:Body/>"
        ),
        RIGHT,
    ),
    rule(
        "R1000",
        "Basic Profile, R1000; SOAP 1.1, section 4.4",
        "A fault holds faultcode, faultstring, faultactor and detail, and nothing else.",
        "A receiver finds nothing else; what is special to a fault goes into its detail.",
        envelope!(
            "<env:Body><env:Fault><faultcode>env:Server</faultcode><faultstring>The quay is full</faultstring><quay>east</quay></env:Fault></env:Body>"
        ),
        RIGHT_FAULT,
    ),
    rule(
        "R1001",
        "Basic Profile, R1001; SOAP 1.1, section 4.4",
        "The children of a fault are in no namespace.",
        "A receiver of SOAP 1.1 looks for faultcode, and not for env:faultcode.",
        envelope!(
            "<env:Body><env:Fault><env:faultcode>env:Server</env:faultcode><env:faultstring>The quay is full</env:faultstring></env:Fault></env:Body>"
        ),
        RIGHT_FAULT,
    ),
    Rule {
        level: Level::Warning,
        ..rule(
            "R1004",
            "Basic Profile, R1004; SOAP 1.1, section 4.4.1",
            "A faultcode is one of SOAP 1.1, or a name in a namespace of its author.",
            "A name in no namespace belongs to nobody: receivers cannot tell what it means.",
            envelope!(
                "<env:Body><env:Fault><faultcode>QuayFull</faultcode><faultstring>The quay is full</faultstring></env:Fault></env:Body>"
            ),
            RIGHT_FAULT,
        )
    },
    Rule {
        level: Level::Warning,
        ..rule(
            "R1031",
            "Basic Profile, R1031",
            "A faultcode is not refined by a dot.",
            "Receivers compare the whole name, and do not know Server.QuayFull.",
            envelope!(
                "<env:Body><env:Fault><faultcode>env:Server.QuayFull</faultcode><faultstring>The quay is full</faultstring></env:Fault></env:Body>"
            ),
            RIGHT_FAULT,
        )
    },
    rule(
        "R2113",
        "Basic Profile, R2113",
        "No element carries arrayType of the SOAP encoding.",
        "In a literal message an array is a sequence of elements, and its type stands in the schema.",
        envelope!(
            " xmlns:enc=\"http://schemas.xmlsoap.org/soap/encoding/\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"",
            "<env:Body><berths xmlns=\"urn:saltmere:berths:1\" enc:arrayType=\"xs:token[1]\"><berth>east</berth></berths></env:Body>"
        ),
        RIGHT,
    ),
];

fn version_of(root: Node<'_>) -> Option<SoapVersion> {
    match root.tag_name().namespace() {
        Some(ns::SOAP11_ENVELOPE) => Some(SoapVersion::V11),
        Some(ns::SOAP12_ENVELOPE) => Some(SoapVersion::V12),
        _ => None,
    }
}

/// Whether the first file of what was loaded is a message, and no contract.
pub(crate) fn is_message(contract: &Contract) -> bool {
    matches!(contract.kind(), DocumentKind::Other(name) if &*name.local == "Envelope")
}

fn judge(contract: &Contract, faults: &mut Vec<Fault>) {
    if !is_message(contract) {
        return;
    }
    let file = contract.files.first();
    let Some(root) = file.root() else { return };
    let Some(version) = version_of(root) else {
        let fault = Fault::new("R1015", tag_place(file.id, root), "this is an Envelope, but not of SOAP");
        faults.push(fault.help(format!("put it into the namespace {}", ns::SOAP11_ENVELOPE)));
        return;
    };
    let mut judge = Judge { file, soap: version.envelope(), version, faults };
    judge.document(root);
    judge.structure(root);
    judge.everywhere(root);
}

struct Judge<'f> {
    file: &'f File,
    /// The namespace of the envelope.
    soap: &'static str,
    version: SoapVersion,
    faults: &'f mut Vec<Fault>,
}

impl Judge<'_> {
    fn fault(&mut self, rule: &'static str, node: Node<'_>, message: impl Into<String>, help: &str) {
        let place = tag_place(self.file.id, node);
        self.faults.push(Fault::new(rule, place, message).help(help));
    }

    fn is(&self, node: Node<'_>, local: &str) -> bool {
        node.has_tag_name((self.soap, local))
    }

    /// What stands around the envelope.
    fn document(&mut self, root: Node<'_>) {
        if let CodeUnits::Named(_) = self.file.text().encoding().units {
            let place = declaration(self.file, "encoding");
            let fault = Fault::new("R1012", place, "this envelope is neither in UTF-8 nor in UTF-16");
            self.faults.push(fault.help("send it in UTF-8"));
        }
        let version = declaration(self.file, "version");
        if !matches!(self.file.text().slice(version.span), "" | "1.0") {
            let fault = Fault::new("R9701", version, "this envelope is not in XML 1.0");
            self.faults.push(fault.help("write version=\"1.0\""));
        }
        let before = &self.file.text().content()[..root.range().start];
        if let Some(at) = before.find("<!DOCTYPE") {
            let place = Place { file: self.file.id, span: Span::new(at, at + "<!DOCTYPE".len()) };
            let fault = Fault::new("R1008", place, "an envelope has no document type declaration");
            self.faults.push(fault.help("remove it"));
        }
        xml_declared("R1033", self.file, self.faults);
        let instructions = root.document().root().descendants().filter(|node| node.is_pi());
        for node in instructions.collect::<Vec<_>>() {
            self.fault("R1009", node, "an envelope has no processing instructions", "remove it");
        }
    }

    fn structure(&mut self, root: Node<'_>) {
        let children: Vec<Node<'_>> = elements(root).collect();
        let Some(at) = children.iter().position(|child| self.is(*child, "Body")) else {
            return self.fault("R9980", root, "this envelope has no body", "add the Body of its namespace");
        };
        for (index, child) in children.iter().enumerate() {
            if index > at {
                let message = format!("{} follows the body", child.tag_name().name());
                self.fault("R1011", *child, message, "put it into the header, or into the body");
            } else if index < at && !(index == 0 && self.is(*child, "Header")) {
                let message = format!("{} has no place in an envelope", child.tag_name().name());
                self.fault("R9980", *child, message, "put it into the header, or into the body");
            }
        }
        if self.version == SoapVersion::V11 {
            for part in std::iter::once(root).chain(children[..=at].iter().copied()) {
                self.own_attributes(part);
            }
        }
        self.body(children[at]);
    }

    /// The attributes of SOAP 1.1 on its own elements.
    fn own_attributes(&mut self, node: Node<'_>) {
        let own = node.attributes().filter(|it| it.namespace() == Some(self.soap));
        let wrong: Vec<_> = own.filter(|it| it.name() != "encodingStyle").collect();
        for attribute in wrong {
            let message = format!("{} carries {}", node.tag_name().name(), attribute.name());
            let fault = Fault::new("R1032", attribute_place(self.file.id, &attribute), message);
            self.faults.push(fault.help("remove it, or put it on a header block"));
        }
    }

    fn body(&mut self, body: Node<'_>) {
        for (index, child) in elements(body).enumerate() {
            if index == 1 {
                self.fault("R9981", child, "a body has one child", "put everything into one element");
            }
            if child.tag_name().namespace().is_none_or(str::is_empty) {
                let message = format!("{} is in no namespace", child.tag_name().name());
                self.fault("R1014", child, message, "put it into the namespace of its schema");
            }
        }
        let fault = elements(body).find(|child| self.is(*child, "Fault"));
        if let Some(fault) = fault.filter(|_| self.version == SoapVersion::V11) {
            self.soap_fault(fault);
        }
    }

    fn soap_fault(&mut self, node: Node<'_>) {
        const KNOWN: [&str; 4] = ["faultcode", "faultstring", "faultactor", "detail"];
        for child in elements(node) {
            let name = child.tag_name();
            if !KNOWN.contains(&name.name()) {
                let message = format!("{} has no place in a fault", name.name());
                self.fault("R1000", child, message, "put it into the detail");
            } else if name.namespace().is_some_and(|namespace| !namespace.is_empty()) {
                let message = format!("{} is in a namespace", name.name());
                self.fault("R1001", child, message, "write it without a prefix, in no namespace");
            }
        }
        let code = elements(node).find(|child| child.tag_name().name() == "faultcode");
        let Some((code, text)) = code.and_then(|code| Some((code, code.text()?.trim()))) else { return };
        let name = resolve_qname(&mut charter_source::Interner::default(), code, text);
        match name {
            Ok(QName { namespace, .. }) if namespace.is_empty() => {
                let message = format!("the code \"{text}\" is in no namespace");
                self.fault("R1004", code, message, "write env:Client or env:Server, or a name of your own");
            }
            Ok(QName { namespace, local }) if &*namespace == self.soap && local.contains('.') => {
                let message = format!("the code \"{text}\" is refined by a dot");
                self.fault("R1031", code, message, "say the rest in the detail");
            }
            _ => {}
        }
    }

    /// Attributes that may stand anywhere, and where they may not.
    fn everywhere(&mut self, root: Node<'_>) {
        let body = elements(root).find(|child| self.is(*child, "Body"));
        for node in root.descendants().filter(Node::is_element) {
            if let Some(found) = node.attribute_node((self.soap, "encodingStyle")) {
                let own = node.tag_name().namespace() == Some(self.soap);
                let in_body = body.is_some_and(|body| node.ancestors().any(|it| it == body));
                let rule = match (own, in_body) {
                    (true, _) => Some(("R1005", "an element of SOAP")),
                    (false, true) => Some(("R1006", "an element of the body")),
                    (false, false) => None,
                };
                if let Some((rule, what)) = rule {
                    let place = attribute_place(self.file.id, &found);
                    let fault = Fault::new(rule, place, format!("{what} carries encodingStyle"));
                    self.faults.push(fault.help("remove it: nothing here is encoded"));
                }
            }
            if let Some(found) = node.attribute_node((self.soap, "mustUnderstand"))
                && self.version == SoapVersion::V11
                && !matches!(found.value(), "0" | "1")
            {
                let place = attribute_place(self.file.id, &found);
                let fault = Fault::new("R1013", place, format!("\"{}\" is not 0 or 1", found.value()));
                self.faults.push(fault.help("write 1 for yes, 0 for no"));
            }
            if let Some(found) = node.attribute_node((ns::SOAP11_ENCODING, "arrayType")) {
                let place = attribute_place(self.file.id, &found);
                let fault = Fault::new("R2113", place, "this element carries arrayType");
                self.faults.push(fault.help("remove it: the schema says what the element holds"));
            }
        }
    }
}
