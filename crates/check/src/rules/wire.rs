//! Messages on the wire: what `charter match` asks of an envelope and of what stands around it.

use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const fn rule(
    name: &'static str,
    level: Level,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    right: &'static str,
) -> Rule {
    let rule = Rule::of(Family::Wire, level);
    Rule { name, standard, asks, why, example: Example::of(Slot::Exchange, wrong, right), ..rule }
}

/// A request or a reply over HTTP, its header lines and its body.
macro_rules! http {
    ($($line:literal),* ; $body:expr) => {
        concat!($($line, "\n",)* "\n", $body)
    };
}

/// A request to find a berth, with that in its envelope.
macro_rules! request {
    ($envelope:expr) => {
        http!("POST /1 HTTP/1.1", "Content-Type: text/xml", "SOAPAction: \"urn:saltmere:berths:1:findBerth\""; $envelope)
    };
}

/// An envelope of SOAP 1.1 with these header blocks and this body.
macro_rules! envelope {
    ($header:literal, $body:literal) => {
        concat!(
            "<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\" xmlns:b=\"urn:saltmere:berths:1\">\n",
            "  <env:Header>", $header, "</env:Header>\n  <env:Body>", $body, "</env:Body>\n</env:Envelope>"
        )
    };
    ($body:literal) => {
        concat!(
            "<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\" xmlns:b=\"urn:saltmere:berths:1\">\n",
            "  <env:Body>", $body, "</env:Body>\n</env:Envelope>"
        )
    };
}

/// An envelope whose body is written by the encoding of SOAP.
macro_rules! encoded {
    ($body:literal) => {
        concat!(
            "<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\" xmlns:b=\"urn:saltmere:berths:1\"\n",
            "    xmlns:enc=\"http://schemas.xmlsoap.org/soap/encoding/\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\">\n",
            "  <env:Body>", $body, "</env:Body>\n</env:Envelope>"
        )
    };
}

/// A chart that is drawn, with these lines after the envelope.
macro_rules! chart {
    ($rest:literal) => {
        http!(
            "POST /1 HTTP/1.1",
            "Content-Type: multipart/related; type=\"text/xml\"; boundary=saltmere",
            "SOAPAction: \"urn:saltmere:berths:1:drawChart\"";
            concat!("--saltmere\nContent-Type: text/xml\n\n", envelope!("<b:drawChart>N4</b:drawChart>"), "\n", $rest)
        )
    };
}

const FIND: &str = envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>");
const FIND_HTTP: &str =
    request!(envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>"));
const TIDE: &str = envelope!("<b:reportTide><day>2026-03-14</day><height>4.2</height></b:reportTide>");
const FAULT: &str = envelope!(
    "<env:Fault><faultcode>env:Server</faultcode><faultstring>The quay is full.</faultstring><detail><b:quayFull>until noon</b:quayFull></detail></env:Fault>"
);
const SIGNAL: &str = "<env:Envelope xmlns:env=\"http://www.w3.org/2003/05/soap-envelope\" xmlns:wsa=\"http://www.w3.org/2005/08/addressing\">
  <env:Header><wsa:Action>urn:saltmere:berths:1:raiseSignal</wsa:Action></env:Header>
  <env:Body><b:raiseSignal xmlns:b=\"urn:saltmere:berths:1\">red over green</b:raiseSignal></env:Body>
</env:Envelope>";
const VISIT: &str = "<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\" xmlns:wsse=\"http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd\">
  <env:Header><wsse:Security><wsse:UsernameToken><wsse:Username>north-desk</wsse:Username><wsse:Password>tide-4170</wsse:Password></wsse:UsernameToken></wsse:Security></env:Header>
  <env:Body><b:logVisit xmlns:b=\"urn:saltmere:berths:1\">Marsh Harrier</b:logVisit></env:Body>
</env:Envelope>";
const CHART: &str = chart!(
    "--saltmere\nContent-Type: image/png\nContent-ID: <chart=1@saltmere.example>\n\n...\n--saltmere--\n"
);

use Level::{Error, Note, Warning};

pub(crate) const RULES: &[Rule] = &[
    rule(
        "message-unreadable",
        Error,
        "SOAP 1.1, section 3; RFC 9112",
        "A message is XML, an HTTP message, or a line of JSON that holds one.",
        "Nothing else can be matched. A capture is often cut off, or compressed: save the body as it was read.",
        "find a berth at the east quay",
        FIND,
    ),
    rule(
        "envelope-missing",
        Error,
        "SOAP 1.1, section 4; SOAP 1.2 Part 1, section 5",
        "What is sent to a SOAP port is an envelope.",
        "The body alone says nothing about its version, and a provider refuses it.",
        request!("<b:findBerth xmlns:b=\"urn:saltmere:berths:1\"><b:quay>east</b:quay></b:findBerth>"),
        FIND_HTTP,
    ),
    rule(
        "envelope-version",
        Error,
        "SOAP 1.1, section 4.1.2; SOAP 1.2 Part 1, section 2.8",
        "An envelope is of the version of SOAP that the binding names.",
        "The version is told by the namespace of the envelope. A provider answers another one with the fault VersionMismatch.",
        "<env:Envelope xmlns:env=\"http://www.w3.org/2003/05/soap-envelope\" xmlns:b=\"urn:saltmere:berths:1\">
  <env:Header><b:desk>north</b:desk></env:Header>
  <env:Body><b:findBerth><b:quay>east</b:quay></b:findBerth></env:Body>
</env:Envelope>",
        FIND,
    ),
    rule(
        "envelope-structure",
        Error,
        "SOAP 1.1, section 4; SOAP 1.2 Part 1, section 5",
        "An envelope holds a header, which may be left out, and a body, and nothing else.",
        "A receiver looks for these two alone, in this order.",
        "<env:Envelope xmlns:env=\"http://schemas.xmlsoap.org/soap/envelope/\"><env:Header/></env:Envelope>",
        FIND,
    ),
    rule(
        "fault-structure",
        Error,
        "SOAP 1.1, section 4.4; SOAP 1.2 Part 1, section 5.4",
        "A fault has a code and a reason, in the order and the namespace of its version.",
        "The children of a fault have no namespace in SOAP 1.1, and that of the envelope in SOAP 1.2. Else a consumer does not see why it was refused.",
        envelope!(
            "<env:Fault><faultstring>The quay is full.</faultstring><detail><b:quayFull>until noon</b:quayFull></detail></env:Fault>"
        ),
        FAULT,
    ),
    rule(
        "fault-unknown",
        Warning,
        "WSDL 1.1, section 2.4.2",
        "The detail of a fault is one that the contract declares.",
        "A provider may answer with any fault, but no consumer is prepared for what the contract does not name.",
        envelope!(
            "<env:Fault><faultcode>env:Server</faultcode><faultstring>No.</faultstring><detail><b:strike>all day</b:strike></detail></env:Fault>"
        ),
        FAULT,
    ),
    rule(
        "no-operation",
        Error,
        "WSDL 1.1, section 3.5; Basic Profile 1.1, R2712",
        "The body of a message begins with an element that belongs to an operation.",
        "The name of that element, its namespace included, is how a provider tells operations apart. The nearest one is named: a wrong namespace, a slip, or another name for the same content.",
        envelope!("<b:desk>north</b:desk>", "<b:seekBerth><b:quay>east</b:quay></b:seekBerth>"),
        FIND,
    ),
    rule(
        "body-parts",
        Error,
        "WSDL 1.1, section 3.5; Basic Profile 1.1, R2201",
        "A body holds the elements of its message parts, no fewer and no more.",
        "A receiver reads the first element and never sees the others.",
        envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth><b:desk>south</b:desk>"),
        FIND,
    ),
    rule(
        "part-surplus",
        Error,
        "WSDL 1.1, section 3.5",
        "What stands in an rpc wrapper is a part of the message, each once.",
        "A receiver looks for the parts by their names.",
        envelope!("<b:reportTide><day>2026-03-14</day><height>4.2</height><gauge>3</gauge></b:reportTide>"),
        TIDE,
    ),
    rule(
        "part-missing",
        Error,
        "WSDL 1.1, section 3.5; Basic Profile 1.1, R2211",
        "Every part of the message is there.",
        "A part cannot be left out, and cannot be nil in a literal body.",
        envelope!("<b:reportTide><day>2026-03-14</day></b:reportTide>"),
        TIDE,
    ),
    rule(
        "part-order",
        Error,
        "SOAP 1.1, section 7.1; Basic Profile 1.1, R2301",
        "The parts stand in the order of the message.",
        "Some receivers read them one after the other.",
        envelope!("<b:reportTide><height>4.2</height><day>2026-03-14</day></b:reportTide>"),
        TIDE,
    ),
    rule(
        "part-namespace",
        Error,
        "Basic Profile 1.1, R2735",
        "The parts in an rpc wrapper are in no namespace.",
        "The wrapper has one, and a default namespace declared on it takes the parts along unseen.",
        envelope!("<b:reportTide><b:day>2026-03-14</b:day><height>4.2</height></b:reportTide>"),
        TIDE,
    ),
    rule(
        "header-missing",
        Error,
        "WSDL 1.1, section 3.7; Basic Profile 1.1, R2738",
        "Every header block that the binding names is there.",
        "A provider that asks for one refuses the message without it.",
        envelope!("<b:findBerth><b:quay>east</b:quay></b:findBerth>"),
        FIND,
    ),
    rule(
        "header-not-understood",
        Error,
        "SOAP 1.1, section 4.2.3; SOAP 1.2 Part 1, section 2.4",
        "A header block that must be understood is one that the contract names.",
        "A receiver must refuse the whole message for a block that it does not know and must.",
        envelope!(
            "<b:desk>north</b:desk><b:pass env:mustUnderstand=\"1\">P417</b:pass>",
            "<b:findBerth><b:quay>east</b:quay></b:findBerth>"
        ),
        FIND,
    ),
    rule(
        "header-unknown",
        Note,
        "Basic Profile 1.1, R2739",
        "A header block is one that the contract names.",
        "Others are allowed, and a receiver may ignore them: was it meant to be heard?",
        envelope!("<b:desk>north</b:desk><b:pass>P417</b:pass>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>"),
        FIND,
    ),
    rule(
        "must-understand-value",
        Error,
        "SOAP 1.1, section 4.2.3; SOAP 1.2 Part 1, section 5.2.3",
        "mustUnderstand is 0 or 1 in SOAP 1.1, and true or false in SOAP 1.2.",
        "Another value is read differently by each receiver.",
        envelope!(
            "<b:desk env:mustUnderstand=\"true\">north</b:desk>",
            "<b:findBerth><b:quay>east</b:quay></b:findBerth>"
        ),
        envelope!("<b:desk env:mustUnderstand=\"1\">north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>"),
    ),
    rule(
        "addressing-missing",
        Error,
        "WS-Addressing 1.0, Core, section 3.2, and Metadata, section 3",
        "Where the contract asks for addressing, a message says which action it is.",
        "A provider that goes by the action cannot tell what is wanted.",
        "<env:Envelope xmlns:env=\"http://www.w3.org/2003/05/soap-envelope\">
  <env:Body><b:raiseSignal xmlns:b=\"urn:saltmere:berths:1\">red over green</b:raiseSignal></env:Body>
</env:Envelope>",
        SIGNAL,
    ),
    rule(
        "credentials-missing",
        Error,
        "WS-SecurityPolicy 1.2, section 5.4.1; UsernameToken Profile 1.1, section 3.1",
        "Where every alternative of the policies asks for a user name, a request has one, and a password unless they ask for none.",
        "A provider that asks for one refuses the request.",
        envelope!("<b:logVisit>Marsh Harrier</b:logVisit>"),
        VISIT,
    ),
    rule(
        "action-wrong",
        Error,
        "SOAP 1.1, section 6.1.1; WS-Addressing 1.0, Metadata, section 4.4",
        "The action of a message is the one that the binding names.",
        "Providers that go by the action take the message for another one, or refuse it.",
        http!("POST /1 HTTP/1.1", "Content-Type: text/xml", "SOAPAction: \"urn:saltmere:berths:1:freeBerth\""; envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>")),
        FIND_HTTP,
    ),
    rule(
        "action-missing",
        Error,
        "SOAP 1.1, section 6.1.1; Basic Profile 1.1, R2744",
        "A request of SOAP 1.1 over HTTP has the header SOAPAction.",
        "The header is required even where it is empty.",
        http!("POST /1 HTTP/1.1", "Content-Type: text/xml"; envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>")),
        FIND_HTTP,
    ),
    rule(
        "content-type",
        Error,
        "SOAP 1.1, section 6; SOAP 1.2 Part 2, section 7.1.4",
        "The media type is text/xml for SOAP 1.1, and application/soap+xml for SOAP 1.2.",
        "Many receivers choose the version by the media type and never look at the envelope.",
        http!("POST /1 HTTP/1.1", "Content-Type: application/soap+xml", "SOAPAction: \"urn:saltmere:berths:1:findBerth\""; envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>")),
        FIND_HTTP,
    ),
    rule(
        "http-method",
        Error,
        "SOAP 1.1, section 6.1; Basic Profile 1.1, R1132",
        "An envelope is sent with POST.",
        "Other methods have no body, or another meaning.",
        http!("PUT /1 HTTP/1.1", "Content-Type: text/xml", "SOAPAction: \"urn:saltmere:berths:1:findBerth\""; envelope!("<b:desk>north</b:desk>", "<b:findBerth><b:quay>east</b:quay></b:findBerth>")),
        FIND_HTTP,
    ),
    rule(
        "http-status",
        Warning,
        "SOAP 1.1, section 6.2; Basic Profile 1.1, R1124 and R1126",
        "A fault comes with the status 500, and a reply with 200.",
        "A consumer that goes by the status takes the one for the other.",
        http!("HTTP/1.1 200 OK", "Content-Type: text/xml"; envelope!(
            "<env:Fault><faultcode>env:Server</faultcode><faultstring>The quay is full.</faultstring><detail><b:quayFull>until noon</b:quayFull></detail></env:Fault>"
        )),
        http!("HTTP/1.1 500 Internal Server Error", "Content-Type: text/xml"; envelope!(
            "<env:Fault><faultcode>env:Server</faultcode><faultstring>The quay is full.</faultstring><detail><b:quayFull>until noon</b:quayFull></detail></env:Fault>"
        )),
    ),
    rule(
        "attachment-missing",
        Error,
        "WSDL 1.1, section 5.4; SOAP Messages with Attachments, section 3",
        "Every part that the binding gives a media type goes along with the envelope.",
        "It is found by its Content-ID, which begins with the name of the part and an equals sign.",
        chart!("--saltmere--\n"),
        CHART,
    ),
    rule(
        "attachment-type",
        Warning,
        "WSDL 1.1, section 5.3",
        "What goes along has the media type that the binding names.",
        "A receiver that goes by the type cannot read it.",
        chart!("--saltmere\nContent-Type: image/gif\nContent-ID: <chart=1@saltmere.example>\n\n...\n--saltmere--\n"),
        CHART,
    ),
    rule(
        "encoded-reference",
        Error,
        "SOAP 1.1, section 5.4.1",
        "What an encoded value refers to is in the message.",
        "The reference names an id, and some value in the envelope must have it.",
        encoded!("<b:listDepths><depths href=\"#d1\"/></b:listDepths>"),
        encoded!("<b:listDepths><depths enc:arrayType=\"xs:decimal[1]\"><d href=\"#d1\"/></depths></b:listDepths><d id=\"d1\">9.4</d>"),
    ),
    rule(
        "encoded-array",
        Error,
        "SOAP 1.1, section 5.4.2",
        "An encoded array has as many members as it says.",
        "A receiver makes room by the size that is written in arrayType.",
        encoded!("<b:listDepths><depths enc:arrayType=\"xs:decimal[3]\"><d>9.4</d><d>8.1</d></depths></b:listDepths>"),
        encoded!("<b:listDepths><depths enc:arrayType=\"xs:decimal[2]\"><d>9.4</d><d>8.1</d></depths></b:listDepths>"),
    ),
];
