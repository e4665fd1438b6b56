//! Changes that are no matter of schema: operations, headers, faults, parts, ports, protocols.

use charter_compare::{Change, Confidence, Reader, Verdict, compare};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A contract with an operation of each style, and pieces of its text replaced.
fn contract(changes: &[(&str, &str)]) -> Contract {
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
    let store = Overlay::of(&[("c.wsdl", &text)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

/// The changes from the contract to a changed one, each as `verdict rule path: sides`.
fn changes(from: &str, to: &str) -> Vec<String> {
    shown(&compare(&contract(&[]), &contract(&[(from, to)]), Reader::Unknown).changes)
}

fn back(from: &str, to: &str) -> Vec<String> {
    shown(&compare(&contract(&[(from, to)]), &contract(&[]), Reader::Unknown).changes)
}

fn shown(changes: &[Change]) -> Vec<String> {
    let sides = |change: &Change| {
        change.worst().map(|t| format!("{} {}", t.operation, t.side)).collect::<Vec<_>>().join(", ")
    };
    changes.iter().map(|c| format!("{} {} {}: {}", c.verdict.name(), c.rule, c.path, sides(c))).collect()
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
        ["breaks pattern-changed operation/doc/output: doc output"]
    );
}

#[test]
fn parts_of_rpc_bodies() {
    let part = "<w:part name='berth' type='x:int'/>";
    assert_eq!(changes(part, ""), ["breaks part-removed operation/rpc/input: rpc input"]);
    assert_eq!(
        changes(part, &format!("{part}<w:part name='size' type='x:int'/>")),
        ["breaks part-added operation/rpc/input: rpc input"]
    );
    assert_eq!(
        changes(part, "<w:part name='berth' type='x:long'/>"),
        ["keeps type-changed message/Call/part/berth: rpc input"]
    );
    let reply = "<w:part name='free' type='x:boolean'/>";
    assert_eq!(
        changes(reply, &format!("{reply}<w:part name='until' type='x:date'/>")),
        ["bends part-added operation/rpc/output: rpc output"]
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
        let report = compare(&contract(&[]), &contract(&pairs), Reader::Strict);
        assert!(report.changes.is_empty(), "{:?}", shown(&report.changes));
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
    let report = compare(&contract(&[]), &contract(&renamed), Reader::Strict);
    assert!(report.changes.is_empty(), "{:?}", shown(&report.changes));
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
        compare(&contract(&[]), &contract(&changed), Reader::Strict)
    };
    assert_eq!(shown(&rename("doc").changes), ["keeps operation-renamed operation/docAgain: "]);
    assert_eq!(rename("doc").changes[0].confidence, Some(Confidence::Sure));
    assert_eq!(rename("rpc").verdict, Verdict::Breaks);
    let report = compare(&contract(&[]), &contract(&[]), Reader::Strict);
    assert_eq!((report.operations, report.broken, report.verdict), (2, 0, Verdict::Keeps));
}
