//! What policies demand of requests, as types and in words.

use charter_contract::{Addressing, Contract, Demand, Demands, Need, Password, Replies, demands_in_words};
use charter_source::{Limits, Location, Overlay, QName};

const SP: &str = "http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702";

/// A contract of one operation whose binding has a policy, and what stands beside it.
fn contract(policy: &str) -> Contract {
    let text = format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:t='urn:saltmere:tides' \
         targetNamespace='urn:saltmere:tides' xmlns:p='http://www.w3.org/ns/ws-policy' xmlns:sp='{SP}' \
         xmlns:a='http://www.w3.org/2007/05/addressing/metadata' xmlns:u='http://www.w3.org/2006/05/addressing/wsdl' xmlns:q='urn:saltmere:quay'>\
         <w:message name='In'/><w:portType name='Tides'><w:operation name='next'><w:input message='t:In'/></w:operation></w:portType>\
         <w:binding name='TidesOverSoap11' type='t:Tides'>{policy}<s:binding transport='http://schemas.xmlsoap.org/soap/http'/>\
         <w:operation name='next'><s:operation soapAction=''/><w:input><s:body use='literal'/></w:input></w:operation></w:binding></w:definitions>"
    );
    let store = Overlay::of(&[("tides.wsdl", &text)]);
    Contract::load(&store, &Location::from_argument("tides.wsdl"), Limits::default()).unwrap()
}

fn demanded(policy: &str) -> Option<Demands> {
    let contract = contract(policy);
    let binding = contract.bindings.ids().next().unwrap();
    contract.demand(binding, 0, None)
}

/// The only way to satisfy a policy with some assertions.
fn of(assertions: &str) -> Vec<Demand> {
    let demands = demanded(&format!("<p:Policy>{assertions}</p:Policy>")).unwrap();
    assert_eq!(demands.ways.len(), 1, "{demands:?}");
    demands.ways[0].clone()
}

fn token(name: &str, inner: &str) -> String {
    format!(
        "<sp:SupportingTokens><p:Policy><sp:{name}><p:Policy>{inner}</p:Policy></sp:{name}></p:Policy></sp:SupportingTokens>"
    )
}

fn transport(inner: &str) -> String {
    format!(
        "<sp:TransportBinding><p:Policy><sp:TransportToken><p:Policy><sp:HttpsToken><p:Policy>{inner}</p:Policy></sp:HttpsToken></p:Policy></sp:TransportToken></p:Policy></sp:TransportBinding>"
    )
}

#[test]
fn each_assertion_is_a_demand() {
    let addressing = |replies| Demand::Addressing(Addressing { need: Need::Must, replies });
    for (assertions, expected) in [
        (token("UsernameToken", ""), vec![Demand::UserName(Password::Text)]),
        (token("UsernameToken", "<sp:HashPassword/>"), vec![Demand::UserName(Password::Digest)]),
        (token("UsernameToken", "<sp:NoPassword/>"), vec![Demand::UserName(Password::None)]),
        (transport(""), vec![Demand::Tls]),
        (transport("<sp:RequireClientCertificate/>"), vec![Demand::Tls, Demand::ClientCertificate]),
        (transport("<sp:HttpBasicAuthentication/>"), vec![Demand::Tls, Demand::HttpBasic]),
        (token("X509Token", ""), vec![Demand::Certificate]),
        (token("SamlToken", ""), vec![Demand::SamlAssertion]),
        ("<sp:SignedParts/>".to_owned(), vec![Demand::Signature]),
        ("<sp:EncryptedElements/>".to_owned(), vec![Demand::Encryption]),
        ("<a:Addressing/>".to_owned(), vec![addressing(Replies::Anywhere)]),
        (
            "<a:Addressing><p:Policy><a:AnonymousResponses/></p:Policy></a:Addressing>".to_owned(),
            vec![addressing(Replies::SameConnection)],
        ),
        (
            "<a:Addressing><p:Policy><a:NonAnonymousResponses/></p:Policy></a:Addressing>".to_owned(),
            vec![addressing(Replies::OwnAddress)],
        ),
        ("<q:RMAssertion/>".to_owned(), vec![Demand::ReliableMessaging]),
        ("<q:OptimizedMimeSerialization/>".to_owned(), vec![Demand::Attachments]),
        ("<q:Flag/>".to_owned(), vec![Demand::Other(QName::new("urn:saltmere:quay", "Flag"))]),
    ] {
        assert_eq!(of(&assertions), expected, "{assertions}");
    }
}

#[test]
fn what_demands_nothing_is_none() {
    assert_eq!(demanded(""), None);
    assert_eq!(demanded("<p:Policy/>"), None);
    assert_eq!(demanded("<p:Policy><q:Flag p:Ignorable='true'/></p:Policy>"), None);
}

#[test]
fn alternatives_are_ways_and_their_words_say_what_all_of_them_have() {
    let optional = "<p:Policy><sp:SignedParts/><q:Flag p:Optional='true'/></p:Policy>";
    let demands = demanded(optional).unwrap();
    assert_eq!(demands.ways.len(), 2);
    assert_eq!(demands.words(), "signed parts; Flag if the consumer likes");
    let either = "<p:Policy><p:ExactlyOne><q:Flag/><q:Horn/></p:ExactlyOne></p:Policy>";
    assert_eq!(demanded(either).unwrap().words(), "Flag or Horn");
    assert_eq!(demanded("<p:Policy><p:ExactlyOne/></p:Policy>").unwrap().words(), "what nobody can satisfy");
}

#[test]
fn the_extension_element_of_addressing_says_what_its_assertion_says() {
    let of_need = |need| vec![Demand::Addressing(Addressing { need, replies: Replies::Anywhere })];
    let with = |required: &str| {
        demanded(&format!("<p:Policy><sp:SignedParts/></p:Policy><u:UsingAddressing {required}/>")).unwrap()
    };
    assert_eq!(with("w:required='true'").ways[0][1..], of_need(Need::Must));
    assert_eq!(with("").ways[0][1..], of_need(Need::May));
    assert_eq!(with("").words(), "signed parts, addressing, if the consumer likes");
}

#[test]
fn a_certificate_of_the_client_is_said_with_the_connection() {
    let both = [Demand::Tls, Demand::ClientCertificate, Demand::Timestamp];
    assert_eq!(demands_in_words(&both), ["https with a certificate of the client", "a timestamp"]);
    assert_eq!(demands_in_words(&both[1..]), ["a certificate of the client", "a timestamp"]);
    assert!(demands_in_words(&[]).is_empty());
}

#[test]
fn only_what_comes_with_a_password_is_a_secret() {
    let secret =
        |inner| demanded(&format!("<p:Policy>{}</p:Policy>", token("UsernameToken", inner))).unwrap();
    assert!(secret("").has_secrets() && secret("<sp:HashPassword/>").has_secrets());
    assert!(!secret("<sp:NoPassword/>").has_secrets());
    assert!(!Demand::Certificate.is_secret());
}

#[test]
fn who_does_more_meets_what_asks_for_less() {
    let addressing = |need, replies| Demand::Addressing(Addressing { need, replies });
    let (anywhere, same) =
        (addressing(Need::Must, Replies::Anywhere), addressing(Need::Must, Replies::SameConnection));
    let free = addressing(Need::May, Replies::Anywhere);
    assert!(anywhere.is_met_by(&same) && !same.is_met_by(&anywhere));
    assert!(free.is_met_by(&anywhere) && !anywhere.is_met_by(&free) && free.is_optional());
    assert_eq!(anywhere.at_will(), Some(free));
    assert_eq!(Demand::Tls.at_will(), None);
    assert!(Demand::Tls.is_met_by(&Demand::Tls) && !Demand::Tls.is_met_by(&Demand::Timestamp));
}
