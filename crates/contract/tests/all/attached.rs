//! Where policies may be attached, and how they refer to each other.

use charter_contract::{Contract, Demand, PortId};
use charter_source::{Limits, Location, Overlay};

/// A contract with something at each place where a policy for a request may stand; the places go by the words in brackets.
const PLACES: &str = "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' \
xmlns:t='urn:saltmere:tides' targetNamespace='urn:saltmere:tides' xmlns:p='http://www.w3.org/ns/ws-policy' xmlns:q='urn:saltmere:quay' \
xmlns:u='http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd'>[top]\
<w:message name='In'>[message]</w:message>\
<w:portType name='Tides'>[port type]<w:operation name='next'>[operation]<w:input message='t:In'>[input]</w:input></w:operation></w:portType>\
<w:binding name='TidesOverSoap11' type='t:Tides'>[binding]<s:binding transport='http://schemas.xmlsoap.org/soap/http'/>\
<w:operation name='next'>[bound]<s:operation soapAction=''/><w:input>[bound input]<s:body use='literal'/></w:input></w:operation></w:binding>\
<w:service name='TidesService'>[service]<w:port name='TidesPort' binding='t:TidesOverSoap11'>[port]<s:address location='https://tides.saltmere.example/'/></w:port></w:service>\
</w:definitions>";

/// The contract with texts at some places.
fn with(texts: &[(&str, &str)]) -> Contract {
    let mut text = PLACES.to_owned();
    for (place, content) in texts {
        let mark = format!("[{place}]");
        assert!(text.contains(&mark), "{place}");
        text = text.replace(&mark, content);
    }
    let mut bare = String::new();
    for piece in text.split('[') {
        bare.push_str(piece.split_once(']').map_or(piece, |(_, rest)| rest));
    }
    let store = Overlay::of(&[("tides.wsdl", &bare)]);
    Contract::load(&store, &Location::from_argument("tides.wsdl"), Limits::default()).unwrap()
}

/// The local names of what is demanded, each way by itself; nothing if there is nothing.
fn demanded(contract: &Contract, port: Option<PortId>) -> Vec<Vec<String>> {
    let binding = contract.bindings.ids().next().unwrap();
    let Some(demands) = contract.demand(binding, 0, port) else { return Vec::new() };
    let name = |demand: &Demand| match demand {
        Demand::Other(name) => name.local.to_string(),
        other => panic!("{other}"),
    };
    demands.ways.iter().map(|way| way.iter().map(name).collect()).collect()
}

fn policy(content: &str) -> String {
    format!("<p:Policy>{content}</p:Policy>")
}

fn port(contract: &Contract) -> PortId {
    contract.ports().next().unwrap().0
}

#[test]
fn a_policy_holds_wherever_it_is_attached() {
    for place in
        ["message", "port type", "operation", "input", "binding", "bound", "bound input", "service", "port"]
    {
        let contract = with(&[(place, &policy("<q:Bell/>"))]);
        // Where no element of others may stand, what it says holds all the same.
        assert!(contract.faults().iter().all(|fault| fault.rule == "wsdl-extension-place"), "{place}");
        assert_eq!(demanded(&contract, Some(port(&contract))), [["Bell"]], "{place}");
        // What is attached to a port or its service holds for those who call by it.
        let without = demanded(&contract, None);
        assert_eq!(without.is_empty(), matches!(place, "service" | "port"), "{place}");
    }
}

#[test]
fn what_is_attached_to_several_places_holds_together() {
    let contract = with(&[
        ("binding", &policy("<q:Bell/>")),
        ("bound", &policy("<q:Lamp/>")),
        ("port", &policy("<p:ExactlyOne><q:Flag/><q:Horn/></p:ExactlyOne>")),
    ]);
    let ways = demanded(&contract, Some(port(&contract)));
    assert_eq!(ways.len(), 2);
    for (way, last) in ways.iter().zip(["Flag", "Horn"]) {
        let mut way = way.clone();
        way.sort();
        let mut wanted = vec!["Bell".to_owned(), "Lamp".to_owned(), last.to_owned()];
        wanted.sort();
        assert_eq!(way, wanted);
    }
    assert_eq!(demanded(&contract, None).len(), 1);
}

#[test]
fn references_lead_to_policies_of_the_file() {
    let named = "<p:Policy u:Id='Watch'><q:Bell/><p:PolicyReference URI='#Light'/></p:Policy><p:Policy u:Id='Light'><q:Lamp/></p:Policy>";
    let contract = with(&[("top", named), ("binding", "<p:PolicyReference URI='#Watch'/>")]);
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    assert_eq!(demanded(&contract, None), [["Bell", "Lamp"]]);
    assert!(!contract.policies().is_empty());
}

#[test]
fn a_reference_that_leads_nowhere_leaves_the_demand_open() {
    let contract = with(&[("binding", "<p:PolicyReference URI='#Nothing'/>")]);
    let binding = contract.bindings.ids().next().unwrap();
    assert!(!contract.is_demand_known(binding, 0, None));
    assert!(!contract.policies().faults().is_empty());
    let sound = with(&[("binding", &policy("<q:Bell/>"))]);
    assert!(sound.is_demand_known(binding, 0, None));
}

#[test]
fn references_in_a_circle_come_to_an_end() {
    let circle = "<p:Policy u:Id='A'><q:Bell/><p:PolicyReference URI='#B'/></p:Policy><p:Policy u:Id='B'><p:PolicyReference URI='#A'/></p:Policy>";
    let contract = with(&[("top", circle), ("binding", "<p:PolicyReference URI='#A'/>")]);
    let binding = contract.bindings.ids().next().unwrap();
    // Whatever it says, it says it.
    let _ = contract.demand(binding, 0, None);
    assert!(!contract.policies().faults().is_empty());
}

#[test]
fn choices_within_choices_are_laid_out() {
    for (content, ways) in [
        ("<q:Bell/>", vec![vec!["Bell"]]),
        ("<p:All><q:Bell/><q:Lamp/></p:All>", vec![vec!["Bell", "Lamp"]]),
        ("<p:ExactlyOne><q:Bell/><q:Lamp/></p:ExactlyOne>", vec![vec!["Bell"], vec!["Lamp"]]),
        (
            "<p:ExactlyOne><p:All><q:Bell/><q:Flag/></p:All><p:ExactlyOne><q:Lamp/><q:Horn/></p:ExactlyOne></p:ExactlyOne>",
            vec![vec!["Bell", "Flag"], vec!["Lamp"], vec!["Horn"]],
        ),
        (
            "<p:All><p:ExactlyOne><q:A/><q:B/></p:ExactlyOne><p:ExactlyOne><q:C/><q:D/></p:ExactlyOne></p:All>",
            vec![vec!["A", "C"], vec!["A", "D"], vec!["B", "C"], vec!["B", "D"]],
        ),
        ("<q:Bell p:Optional='true'/>", vec![vec!["Bell"], vec![]]),
        ("<q:Bell p:Optional='false'/>", vec![vec!["Bell"]]),
    ] {
        let contract = with(&[("binding", &policy(content))]);
        let mut found = demanded(&contract, None);
        let mut wanted: Vec<Vec<String>> =
            ways.iter().map(|way| way.iter().map(|&name| name.to_owned()).collect()).collect();
        found.sort();
        wanted.sort();
        assert_eq!(found, wanted, "{content}");
    }
}

#[test]
fn more_ways_than_anybody_looks_at_are_not_known() {
    let pair = |number: usize| format!("<p:ExactlyOne><q:A{number}/><q:B{number}/></p:ExactlyOne>");
    let contract = with(&[("binding", &policy(&(0..20).map(pair).collect::<String>()))]);
    let binding = contract.bindings.ids().next().unwrap();
    assert!(!contract.is_demand_known(binding, 0, None));
    let few = with(&[("binding", &policy(&(0..5).map(pair).collect::<String>()))]);
    assert!(few.is_demand_known(binding, 0, None));
    assert_eq!(demanded(&few, None).len(), 32);
}
