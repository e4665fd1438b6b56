//! Changes that are no matter of schema: operations, headers, faults, parts, ports, protocols.

use charter_compare::{
    Change, Confidence, Depends, Kind, Options, Surface, UnknownContent, Verdict, Versions, compare,
    compare_by,
};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A contract with an operation of each style, and pieces of its text replaced.
fn text(changes: &[(&str, &str)]) -> String {
    let mut text = String::from(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'>
<w:types><x:schema targetNamespace='urn:t'><x:element name='ask' type='x:int'/><x:element name='tell' type='x:int'/><x:element name='mark' type='x:token'/><x:element name='seal' type='x:token'/></x:schema></w:types>
<w:message name='Ask'><w:part name='p' element='t:ask'/></w:message><w:message name='Tell'><w:part name='p' element='t:tell'/></w:message>
<w:message name='Marks'><w:part name='m' element='t:mark'/><w:part name='n' element='t:seal'/></w:message>
<w:message name='Call'><w:part name='day' type='x:date'/><w:part name='berth' type='x:int'/></w:message><w:message name='Back'><w:part name='free' type='x:boolean'/></w:message>
<w:portType name='D'><w:operation name='doc'><w:input message='t:Ask'/><w:output message='t:Tell'/><w:fault name='F' message='t:Tell'/></w:operation></w:portType>
<w:portType name='R'><w:operation name='rpc'><w:input message='t:Call'/><w:output message='t:Back'/></w:operation></w:portType>
<w:binding name='DB' type='t:D'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='doc'><s:operation soapAction='doc'/><w:input><s:header message='t:Marks' part='m' use='literal'/><s:body use='literal'/></w:input><w:output><s:header message='t:Marks' part='m' use='literal'/><s:body use='literal'/></w:output><w:fault name='F'><s:fault name='F' use='literal'/></w:fault></w:operation></w:binding>
<w:binding name='RB' type='t:R'><s:binding style='rpc' transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='rpc'><s:operation soapAction='rpc'/><w:input><s:body use='literal' namespace='urn:rpc'/></w:input><w:output><s:body use='literal' namespace='urn:rpc'/></w:output></w:operation></w:binding>
<w:service name='S'><w:port name='DP' binding='t:DB'><s:address location='https://t.example/d'/></w:port><w:port name='RP' binding='t:RB'><s:address location='https://t.example/r'/></w:port></w:service></w:definitions>",
    );
    for (from, to) in changes {
        assert!(text.contains(from), "{from}");
        text = text.replacen(from, to, 1);
    }
    text
}

fn contract(changes: &[(&str, &str)]) -> Contract {
    load(&text(changes))
}

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

/// The changes from the contract to a changed one, each as `verdict rule path: sides`.
fn changes(from: &str, to: &str) -> Vec<String> {
    between(&contract(&[]), &contract(&[(from, to)]))
}

fn back(from: &str, to: &str) -> Vec<String> {
    between(&contract(&[(from, to)]), &contract(&[]))
}

fn between(old: &Contract, new: &Contract) -> Vec<String> {
    shown(Versions { old, new }, &compare(old, new, UnknownContent::Open).changes)
}

fn shown(names: Versions<'_>, changes: &[Change]) -> Vec<String> {
    let sides = |change: &Change| {
        change
            .worst()
            .map(|t| format!("{} {}", names.operation_name(t.at), names.side_name(t.at)))
            .collect::<Vec<_>>()
            .join(", ")
    };
    changes.iter().map(|c| format!("{} {} {}: {}", c.verdict.name(), c.kind, c.path, sides(c))).collect()
}

const REQUEST: &str = "<w:input><s:header message='t:Marks' part='m' use='literal'/>";
const REPLY: &str = "<w:output><s:header message='t:Marks' part='m' use='literal'/>";

#[test]
fn headers_of_requests() {
    let two = "<w:input><s:header message='t:Marks' part='m' use='literal'/><s:header message='t:Marks' part='n' use='literal'/>";
    assert_eq!(changes(REQUEST, two), ["breaks header-added element/seal: doc input"]);
    // A header that is no longer asked for may still be sent.
    assert_eq!(back(REQUEST, two), ["bends header-removed element/seal: doc input"]);
}

#[test]
fn headers_of_replies() {
    let two = "<w:output><s:header message='t:Marks' part='m' use='literal'/><s:header message='t:Marks' part='n' use='literal'/>";
    assert_eq!(changes(REPLY, two), ["bends header-added element/seal: doc output"]);
    assert_eq!(back(REPLY, two), ["breaks header-removed element/seal: doc output"]);
}

#[test]
fn the_type_of_a_header_counts_by_direction() {
    let found =
        changes("<x:element name='mark' type='x:token'/>", "<x:element name='mark' type='x:string'/>");
    // Every string is a token once its white space is treated, and the reverse; but it means another string.
    assert_eq!(found, ["bends type-changed element/mark: doc input, doc output"]);
    let found =
        changes("<x:element name='mark' type='x:token'/>", "<x:element name='mark' type='x:NCName'/>");
    assert_eq!(found, ["breaks type-changed element/mark: doc input"]);
}

#[test]
fn faults_that_come_and_go() {
    let gone = "<w:fault name='F' message='t:Tell'/>";
    assert_eq!(changes(gone, ""), ["keeps fault-removed operation/doc/fault/F: doc fault F"]);
    assert_eq!(back(gone, ""), ["bends fault-added operation/doc/fault/F: doc fault F"]);
}

#[test]
fn a_reply_that_goes_breaks() {
    assert_eq!(
        changes("<w:output message='t:Tell'/>", ""),
        ["breaks side-removed operation/doc/output: doc output"]
    );
}

#[test]
fn parts_of_rpc_bodies() {
    let part = "<w:part name='berth' type='x:int'/>";
    assert_eq!(changes(part, ""), ["breaks part-removed message/Call/part/berth: rpc input"]);
    assert_eq!(
        changes(part, &format!("{part}<w:part name='size' type='x:int'/>")),
        ["breaks part-added message/Call/part/size: rpc input"]
    );
    assert_eq!(
        changes(part, "<w:part name='berth' type='x:long'/>"),
        ["keeps type-changed message/Call/part/berth: rpc input"]
    );
    let reply = "<w:part name='free' type='x:boolean'/>";
    assert_eq!(
        changes(reply, &format!("{reply}<w:part name='until' type='x:date'/>")),
        ["bends part-added message/Back/part/until: rpc output"]
    );
    assert_eq!(
        changes(
            "<s:body use='literal' namespace='urn:rpc'/></w:input>",
            "<s:body use='literal' namespace='urn:else'/></w:input>"
        ),
        ["breaks body-changed operation/rpc/input: rpc input"]
    );
}

#[test]
fn parts_stand_in_the_order_of_the_signature_encoded_or_not() {
    const DAY: &str = "<w:part name='day' type='x:date'/>";
    const BERTH: &str = "<w:part name='berth' type='x:int'/>";
    let moved = (&*format!("{DAY}{BERTH}"), &*format!("{BERTH}{DAY}"));
    let body = |word: &str| {
        format!(
            "<s:body use='{word}' namespace='urn:rpc' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/'/></w:input>"
        )
    };
    for word in ["literal", "encoded"] {
        let bound = ("<s:body use='literal' namespace='urn:rpc'/></w:input>", &*body(word));
        let (old, new) = (&contract(&[bound]), &contract(&[bound, moved]));
        let report = compare(old, new, UnknownContent::Open);
        assert_eq!(
            shown(Versions { old, new }, &report.changes),
            ["breaks order-changed message/Call: rpc input"]
        );
        // The least call shows it, as a whole.
        let witness = report.changes[0].witness.as_ref().unwrap();
        let shown: String = witness.body.as_deref().unwrap().split_whitespace().collect();
        assert!(shown.contains("</day><berth>") && shown.ends_with(":rpc>"), "{shown}");
        assert!(report.changes[0].old_place.is_some() && report.changes[0].new_place.is_some());
    }
}

#[test]
fn what_is_amiss_with_one_message_is_told_once() {
    let both = [("<w:output message='t:Back'/>", "<w:output message='t:Call'/>")];
    let new = [both[0], ("<w:part name='berth' type='x:int'/>", "")];
    assert_eq!(
        between(&contract(&both), &contract(&new)),
        ["breaks part-removed message/Call/part/berth: rpc input, rpc output"]
    );
}

#[test]
fn another_element_in_the_body() {
    let found = changes("<w:part name='p' element='t:ask'/>", "<w:part name='p' element='t:tell'/>");
    assert!(found.contains(&"breaks element-renamed operation/doc/input: doc input".to_owned()), "{found:?}");
}

#[test]
fn protocols_and_actions() {
    assert_eq!(
        changes("soapAction='doc'", "soapAction='other'"),
        ["breaks action-changed binding/DB/operation/doc: doc input"]
    );
    let found = changes("<s:binding style='rpc' ", "<s:binding ");
    assert!(found.iter().any(|line| line.starts_with("breaks style-changed binding/RB")), "{found:?}");
}

#[test]
fn names_that_are_not_on_the_wire_do_not_count() {
    for (from, to) in [
        ("name='DB' type", "name='DocBinding' type"),
        ("<w:message name='Ask'>", "<w:message name='Question'>"),
        ("<w:part name='p' element='t:ask'/>", "<w:part name='body' element='t:ask'/>"),
    ] {
        let mut pairs = vec![(from, to)];
        if from.contains("DB") {
            pairs.push(("binding='t:DB'", "binding='t:DocBinding'"));
        }
        if from.contains("Ask") {
            pairs.push(("message='t:Ask'", "message='t:Question'"));
        }
        let report = compare(&contract(&[]), &contract(&pairs), UnknownContent::Refused);
        assert!(report.changes.is_empty(), "{:?}", report.changes);
    }
}

#[test]
fn another_encoding_is_another_message() {
    let found = changes(
        "<w:input><s:body use='literal' namespace='urn:rpc'/>",
        "<w:input><s:body use='encoded' namespace='urn:rpc'/>",
    );
    assert_eq!(found, ["breaks encoding-changed operation/rpc/input: rpc input"]);
}

#[test]
fn a_namesake_elsewhere_does_not_hide_an_operation() {
    let more = "<w:portType name='E'><w:operation name='doc'><w:input message='t:Ask'/></w:operation></w:portType><w:portType name='R'>";
    assert_eq!(changes("<w:portType name='R'>", more), ["keeps operation-added port-type/E/operation/doc: "]);
    let renamed = [("<w:portType name='D'>", "<w:portType name='Desk'>"), ("type='t:D'", "type='t:Desk'")];
    let report = compare(&contract(&[]), &contract(&renamed), UnknownContent::Refused);
    assert!(report.changes.is_empty(), "{:?}", report.changes);
}

#[test]
fn operations_and_ports_by_name() {
    // What answers at the same address in the same way is the same port.
    let found = changes("<w:port name='RP'", "<w:port name='RpcPort'");
    assert_eq!(found, ["keeps port-renamed service/S/port/RpcPort: "]);
    let moved = "<w:port name='RpcPort' binding='t:RB'><s:address location='https://t.example/rpc'/>";
    let found =
        changes("<w:port name='RP' binding='t:RB'><s:address location='https://t.example/r'/>", moved);
    assert_eq!(
        found,
        ["breaks port-removed service/S/port/RP: ", "keeps port-added service/S/port/RpcPort: "]
    );
    // An operation of document style has no name on the wire; one of rpc style has.
    let rename = |name: &str| {
        let from = format!("<w:operation name='{name}'>");
        let to = format!("<w:operation name='{name}Again'>");
        let changed = [(from.as_str(), to.as_str()), (from.as_str(), to.as_str())];
        (contract(&[]), contract(&changed))
    };
    let (old, new) = rename("doc");
    assert_eq!(between(&old, &new), ["keeps operation-renamed operation/docAgain: "]);
    assert_eq!(compare(&old, &new, UnknownContent::Refused).changes[0].confidence, Some(Confidence::Sure));
    let (old, new) = rename("rpc");
    assert_eq!(compare(&old, &new, UnknownContent::Refused).verdict, Verdict::Breaks);
    let report = compare(&contract(&[]), &contract(&[]), UnknownContent::Refused);
    assert_eq!((report.operations, report.broken, report.verdict), (2, 0, Verdict::Keeps));
}

/// A policy with one demand, put in front of the document binding's style.
fn demanding(assertion: &str) -> String {
    format!(
        "<p:Policy xmlns:p='http://www.w3.org/ns/ws-policy' xmlns:sp='http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702' \
         xmlns:a='http://www.w3.org/2007/05/addressing/metadata'>{assertion}</p:Policy>{DOCUMENT}"
    )
}

const DOCUMENT: &str = "<s:binding transport='http://schemas.xmlsoap.org/soap/http'/>";
const PASSWORD: &str = "<sp:SupportingTokens><p:Policy><sp:UsernameToken><p:Policy/></sp:UsernameToken></p:Policy></sp:SupportingTokens>";

/// The rule and the message of each change between two demands.
fn demands(old: &str, new: &str) -> Vec<String> {
    let (old, new) = (demanding(old), demanding(new));
    let report =
        compare(&contract(&[(DOCUMENT, &old)]), &contract(&[(DOCUMENT, &new)]), UnknownContent::Open);
    report.changes.iter().map(|it| format!("{} {}: {}", it.verdict.name(), it.kind, it.what)).collect()
}

#[test]
fn what_policies_demand() {
    assert!(demands(PASSWORD, PASSWORD).is_empty());
    assert_eq!(
        demands("", PASSWORD),
        ["breaks demand-added: requests must now have: user name with password"]
    );
    assert_eq!(
        demands(PASSWORD, ""),
        ["bends demand-removed: requests need no longer have: user name with password"]
    );
    let addressed = format!("{PASSWORD}<a:Addressing/>");
    assert_eq!(demands(PASSWORD, &addressed), ["breaks demand-added: requests must now have: addressing"]);
    // One way of two is still open to everybody; the way that is gone was somebody's.
    let either =
        format!("<p:ExactlyOne><p:All>{PASSWORD}</p:All><p:All><a:Addressing/></p:All></p:ExactlyOne>");
    assert_eq!(
        demands(PASSWORD, &either),
        ["keeps demand-loosened: there is another way to satisfy what is demanded"]
    );
    assert_eq!(
        demands(&either, PASSWORD),
        ["breaks demand-added: requests must now have: user name with password"]
    );
    let optional = format!("{PASSWORD}<a:Addressing p:Optional='true'/>");
    assert_eq!(
        demands(&addressed, &optional),
        ["keeps demand-loosened: requests may now leave out: addressing"]
    );
    assert_eq!(demands(&optional, &addressed), ["breaks demand-added: requests must now have: addressing"]);
    let nobody = "<p:ExactlyOne/>";
    assert_eq!(demands("", nobody), ["breaks demand-added: requests must now have what nobody can satisfy"]);
}

#[test]
fn demands_are_shown_by_the_least_request_and_told_once() {
    let new = demanding(PASSWORD);
    let report = compare(&contract(&[]), &contract(&[(DOCUMENT, &new)]), UnknownContent::Open);
    let [change] = report.changes.as_slice() else { panic!("{:?}", report.changes) };
    assert_eq!(change.path.as_str(), "binding/DB");
    let witness = change.witness.as_ref().unwrap();
    assert!(witness.body.as_ref().unwrap().contains("ask"), "{witness:?}");
    assert_eq!(
        (change.old.as_deref(), change.new.as_deref()),
        (Some("no demands"), Some("demands user name with password"))
    );
}

#[test]
fn faults_about_headers() {
    let header = "<w:input><s:header message='t:Marks' part='m' use='literal'/>";
    let with = |part: &str| {
        format!(
            "<w:input><s:header message='t:Marks' part='m' use='literal'><s:headerfault message='t:Marks' part='{part}' use='literal'/></s:header>"
        )
    };
    assert_eq!(changes(header, &with("n")), ["bends header-fault-added element/seal: doc output"]);
    assert_eq!(back(header, &with("n")), ["keeps header-fault-removed element/seal: doc output"]);
    let (old, new) = (with("n"), with("m"));
    assert_eq!(
        between(&contract(&[(header, &old)]), &contract(&[(header, &new)])),
        [
            "bends header-fault-added element/mark: doc output",
            "keeps header-fault-removed element/seal: doc output"
        ]
    );
    // What such a fault holds is read like any reply.
    let seal = "<x:element name='seal' type='x:token'/>";
    let wider = [(header, old.as_str()), (seal, "<x:element name='seal' type='x:string' nillable='true'/>")];
    let found = between(&contract(&[(header, &old)]), &contract(&wider));
    assert_eq!(found[0], "breaks nil-allowed element/seal: doc output");
}

/// What code sees between the contract with one piece replaced and with another.
fn seen(pieces: [&[(&str, &str)]; 2]) -> Vec<String> {
    let [old, new] = pieces.map(contract);
    let options = Options { surface: Surface::Code, ..Options::default() };
    let report = compare_by(&old, &new, options);
    let of_code = report.changes.iter().filter(|it| it.depends == Some(Depends::GeneratedCode));
    of_code.map(|it| format!("{} {}", it.kind, it.path)).collect()
}

#[test]
fn what_code_sees_of_parameters() {
    let ask = "<x:element name='ask' type='x:int'/>";
    let tell = "<x:element name='tell' type='x:int'/>";
    let wraps = |name: &str, inside: &str| {
        format!("<x:element name='{name}'><x:complexType>{inside}</x:complexType></x:element>")
    };
    let named = ("<w:part name='p' element='t:ask'/>", "<w:part name='p' element='t:doc'/>");
    let ship = "<x:sequence><x:element name='ship' type='x:string'/></x:sequence>";
    let berth = "<x:sequence><x:element name='berth' type='x:string'/></x:sequence>";
    let (plain, reply) = (wraps("doc", ship), wraps("tell", berth));
    let marked = wraps("doc", &format!("{ship}<x:attribute name='urgent' type='x:boolean'/>"));
    let base = [named, (ask, plain.as_str()), (tell, reply.as_str())];
    let with = [named, (ask, marked.as_str()), (tell, reply.as_str())];
    let found = seen([&base, &with]);
    assert!(found.contains(&"parameters-wrapped operation/doc".to_owned()), "{found:?}");
    let found = seen([&with, &base]);
    assert!(found.contains(&"parameters-unwrapped operation/doc".to_owned()), "{found:?}");
    // One name in the request and in the reply becomes one parameter.
    let echo = wraps(
        "tell",
        "<x:sequence><x:element name='berth' type='x:string'/><x:element name='ship' type='x:string' minOccurs='0'/></x:sequence>",
    );
    let shared = [named, (ask, plain.as_str()), (tell, echo.as_str())];
    let found = seen([&base, &shared]);
    assert!(found.contains(&"parameters-shared operation/doc".to_owned()), "{found:?}");
    let found = seen([&shared, &base]);
    assert!(found.contains(&"parameters-parted operation/doc".to_owned()), "{found:?}");
}

#[test]
fn what_code_sees_of_namespaces() {
    let moved = load(
        &text(&[])
            .replace(
                "xmlns:t='urn:t' targetNamespace='urn:t'>\n<w:types>",
                "xmlns:t='urn:t' xmlns:u='urn:u' targetNamespace='urn:u'>\n<w:types>",
            )
            .replace("message='t:", "message='u:")
            .replace("type='t:D'", "type='u:D'")
            .replace("type='t:R'", "type='u:R'")
            .replace("binding='t:", "binding='u:"),
    );
    let options = |surface| Options { surface, ..Options::default() };
    let report = compare_by(&contract(&[]), &moved, options(Surface::Wire));
    assert!(report.changes.is_empty(), "{:?}", report.changes);
    let report = compare_by(&contract(&[]), &moved, options(Surface::Code));
    let kinds: Vec<(Kind, &str)> = report.changes.iter().map(|it| (it.kind, it.path.as_str())).collect();
    assert_eq!(kinds, [(Kind::NamespaceChanged, "contract")]);
}
