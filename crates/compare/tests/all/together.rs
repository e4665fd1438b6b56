//! One cause is one change, however many operations and ports it reaches; and each change is judged alone.

use charter_compare::{Change, Report, UnknownContent, Verdict, compare};
use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};

/// A contract with so many operations, each at its own port.
fn contract(operations: usize, host: &str, version: &str, fault: bool) -> Contract {
    let all = |of: &dyn Fn(usize) -> String| (0..operations).map(of).collect::<String>();
    let fault_of = |inner: &str| if fault { inner.to_owned() } else { String::new() };
    let text = format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:saltmere:t' targetNamespace='urn:saltmere:t'>
<w:types><x:schema targetNamespace='urn:saltmere:t'>{}<x:element name='tell' type='x:int'/></x:schema></w:types>{}<w:message name='Tell'><w:part name='p' element='t:tell'/></w:message>
<w:portType name='P'>{}</w:portType>
<w:binding name='B' type='t:P'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/>{}</w:binding>
<w:service name='S'><w:port name='Q' binding='t:B'><s:address location='{host}/q'/></w:port><w:port name='R' binding='t:B'><s:address location='{host}/r'/></w:port></w:service></w:definitions>",
        all(&|n| format!("<x:element name='ask{n}' type='x:int'/>")),
        all(&|n| format!("<w:message name='Ask{n}'><w:part name='p' element='t:ask{n}'/></w:message>")),
        all(&|n| format!(
            "<w:operation name='ask{n}'><w:input message='t:Ask{n}'/><w:output message='t:Tell'/>{}</w:operation>",
            fault_of("<w:fault name='Closed' message='t:Tell'/>")
        )),
        all(&|n| format!(
            "<w:operation name='ask{n}'><s:operation soapAction='port ver={version} ask{n}'/><w:input><s:body use='literal'/></w:input><w:output><s:body use='literal'/></w:output>{}</w:operation>",
            fault_of("<w:fault name='Closed'><s:fault name='Closed' use='literal'/></w:fault>")
        )),
    );
    let store = Overlay::of(&[("t.wsdl", &text)]);
    Contract::load(&store, &Location::from_argument("t.wsdl"), Limits::default()).unwrap()
}

fn told(report: &Report) -> Vec<String> {
    let line = |it: &Change| format!("{} {} {}: {}", it.verdict.name(), it.kind, it.path, it.what);
    report.changes.iter().map(line).collect()
}

#[test]
fn actions_that_differ_by_one_piece_are_one_change() {
    let host = "http://localhost:8080";
    let report =
        compare(&contract(9, host, "10.5", false), &contract(9, host, "11.0", false), UnknownContent::Open);
    assert_eq!(
        told(&report),
        [
            "breaks action-changed contract: \"11.0\" stands for \"10.5\" in the actions of 9 operations: providers that look at them refuse the old ones"
        ]
    );
    assert_eq!((report.changes[0].operations.len(), report.changes[0].members.len()), (9, 9));
    assert_eq!((report.broken, report.operations), (9, 9));
    // One alone is told where it stands.
    let report =
        compare(&contract(1, host, "10.5", false), &contract(1, host, "11.0", false), UnknownContent::Open);
    assert!(
        told(&report)[0].starts_with("breaks action-changed binding/B/operation/ask0: "),
        "{:?}",
        told(&report)
    );
}

#[test]
fn a_service_that_moved_to_another_host_is_one_change() {
    let report = compare(
        &contract(1, "http://localhost:8080", "1", false),
        &contract(1, "https://port.saltmere.example", "1", false),
        UnknownContent::Open,
    );
    assert_eq!(
        told(&report),
        [
            "bends address-changed contract: \"https://port.saltmere.example\" stands for \"http://localhost:8080\" in the addresses of 2 ports: \
consumers must be told, or the old ones must go on answering"
        ]
    );
}

#[test]
fn a_fault_that_many_operations_may_give_is_one_change() {
    let host = "http://localhost:8080";
    let (without, with) = (contract(5, host, "1", false), contract(5, host, "1", true));
    let report = compare(&without, &with, UnknownContent::Open);
    assert_eq!(told(&report), ["bends fault-added contract: the fault Closed of 5 operations is new"]);
    assert_eq!(report.changes[0].operations.len(), 5);
    let report = compare(&with, &without, UnknownContent::Open);
    assert_eq!(told(&report), ["keeps fault-removed contract: the fault Closed of 5 operations is gone"]);
}

#[test]
fn operations_that_are_gone_count_among_those_that_no_longer_work() {
    let host = "http://localhost:8080";
    let report =
        compare(&contract(3, host, "1", false), &contract(2, host, "1", false), UnknownContent::Open);
    assert_eq!((report.broken, report.operations, report.verdict), (1, 3, Verdict::Breaks));
}
