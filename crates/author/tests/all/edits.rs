//! Renames across files, and edits that are refused.

use charter_author::{Change, EditFailure, Editing, Renaming, rename};
use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::{Limits, Location, Nowhere, Overlay};

const HEAD: &str = "xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' xmlns:m='http://schemas.xmlsoap.org/wsdl/mime/'";

fn load(texts: &[(&str, &str)]) -> Contract {
    Contract::load(&Overlay::of(texts), &Location::from_argument(texts[0].0), Limits::default()).unwrap()
}

fn renamed(contract: &Contract, path: &str, name: &str) -> Result<Change, EditFailure> {
    let convention = Convention::default();
    let editing = Editing::of(contract, &Nowhere, &convention);
    rename(editing, contract.find(path).unwrap(), Renaming { name, only: true })
}

/// The new text of each file that a rename changes; the places that change held the old name, and the result
/// has no new faults.
fn apply(texts: &[(&str, &str)], path: &str, name: &str) -> Vec<(String, String)> {
    let contract = load(texts);
    let before = contract.faults().len();
    let change = renamed(&contract, path, name).unwrap_or_else(|error| panic!("{path}: {error}"));
    let old = path.rsplit(['/', '}']).next().unwrap();
    for place in &change.places {
        assert_eq!(contract.files.slice(*place), old);
    }
    let after: Vec<(String, String)> =
        change.files.iter().map(|file| (file.location.to_string(), file.after.text().to_owned())).collect();
    let all: Vec<(&str, &str)> = texts
        .iter()
        .map(|(path, text)| {
            let new = after.iter().find(|(name, _)| name == path).map(|(_, text)| text.as_str());
            (*path, new.unwrap_or(text))
        })
        .collect();
    assert_eq!(load(&all).faults().len(), before);
    after
}

#[test]
fn references_of_every_form_follow_a_type() {
    let schema = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns='urn:t' targetNamespace='urn:t'>
<x:complexType name='Row'><x:sequence><x:element name='next' type='Row' minOccurs='0'/></x:sequence></x:complexType>
<x:complexType name='Wide'><x:complexContent><x:extension base='Row'/></x:complexContent></x:complexType>
<x:element name='row' type='Row'/></x:schema>";
    let wsdl = format!(
        "<w:definitions {HEAD} targetNamespace='urn:w'><w:types><x:schema targetNamespace='urn:w'><x:import namespace='urn:t' schemaLocation='row.xsd'/><x:complexType name='Row'/></x:schema></w:types><w:message name='M'><w:part name='Row' type='t:Row'/></w:message></w:definitions>"
    );
    let after = apply(&[("main.wsdl", &wsdl), ("row.xsd", schema)], "type/{urn:t}Row", "Line");
    // The type of the same name in the other namespace stays, and so does the part.
    assert_eq!(after[0].1, wsdl.replace("'t:Row'", "'t:Line'"));
    assert_eq!(after[1].1, schema.replace("'Row'", "'Line'"));
}

#[test]
fn references_of_every_form_follow_an_element() {
    let text = format!(
        "<w:definitions {HEAD} targetNamespace='urn:t'><w:types><x:schema targetNamespace='urn:t'><x:element name='ask' type='x:int'/><x:element name='more' substitutionGroup='t:ask'/><x:group name='G'><x:sequence><x:element ref='t:ask'/></x:sequence></x:group><x:element name='list'><x:complexType><x:sequence><x:element name='ask' type='x:int'/></x:sequence></x:complexType></x:element></x:schema></w:types><w:message name='M'><w:part name='ask' element='t:ask'/></w:message></w:definitions>"
    );
    let after = apply(&[("a.wsdl", &text)], "element/ask", "question");
    let expected =
        text.replacen("name='ask' type", "name='question' type", 1).replace("'t:ask'", "'t:question'");
    // The local element and the part of the same name stay what they are.
    assert_eq!(after[0].1, expected);
}

#[test]
fn a_schema_included_under_two_namespaces_is_renamed_as_one() {
    let shared = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'><x:simpleType name='Code'><x:restriction base='x:string'/></x:simpleType><x:element name='code' type='Code'/></x:schema>";
    let text = format!(
        "<w:definitions {HEAD} xmlns:a='urn:a' xmlns:b='urn:b' targetNamespace='urn:t'><w:types><x:schema targetNamespace='urn:a'><x:include schemaLocation='shared.xsd'/></x:schema><x:schema targetNamespace='urn:b'><x:include schemaLocation='shared.xsd'/></x:schema></w:types><w:message name='M'><w:part name='p' type='a:Code'/><w:part name='q' type='b:Code'/></w:message></w:definitions>"
    );
    let texts = [("a.wsdl", text.as_str()), ("shared.xsd", shared)];
    let contract = load(&texts);
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    let change = renamed(&contract, "type/{urn:a}Code", "Mark").unwrap();
    assert_eq!(change.places.len(), 4);
    assert_eq!(change.files.len(), 2);
    assert!(change.files.iter().all(|file| !file.after.text().contains("Code'")), "{:?}", change.files);
}

#[test]
fn messages_follow_into_headers_header_faults_and_multiparts() {
    let text = format!(
        "<w:definitions {HEAD} targetNamespace='urn:t'><w:types><x:schema targetNamespace='urn:t'><x:element name='e'/></x:schema></w:types><w:message name='H'><w:part name='p' element='t:e'/></w:message><w:portType name='P'><w:operation name='o'><w:input message='t:H'/><w:output message='t:H'/><w:fault name='f' message='t:H'/></w:operation></w:portType><w:binding name='B' type='t:P'><s:binding/><w:operation name='o'><w:input><s:header message='t:H' part='p'><s:headerfault message='t:H' part='p'/></s:header><s:body/></w:input><w:output><m:multipartRelated><m:part><s:header message='t:H' part='p'/></m:part></m:multipartRelated></w:output><w:fault name='f'/></w:operation></w:binding></w:definitions>"
    );
    let contract = load(&[("a.wsdl", &text)]);
    let change = renamed(&contract, "message/H", "Head").unwrap();
    assert_eq!(change.places.len(), 7);
    assert_eq!(change.files[0].after.text().matches("'t:Head'").count(), 6);
}

#[test]
fn paths_of_identity_constraints_are_pointed_out() {
    let schema = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'><x:element name='day'><x:complexType><x:sequence><x:element name='visit' type='x:date'/></x:sequence></x:complexType><x:unique name='once'><x:selector xpath='.//t:visit'/><x:field xpath='.'/></x:unique></x:element></x:schema>";
    let contract = load(&[("a.xsd", schema)]);
    let change = renamed(&contract, "element/day/visit", "call").unwrap();
    assert_eq!(change.notes, ["the paths of \"once\" mention \"visit\": see whether they mean this element"]);
    assert!(renamed(&contract, "element/day", "date").unwrap().notes.is_empty());
}

#[test]
fn what_would_do_harm_or_cannot_be_done_is_refused() {
    let text = format!(
        "<w:definitions {HEAD} targetNamespace='urn:t'><w:types><x:schema targetNamespace='urn:t'><x:element name='a'/><x:element name='b'/><x:simpleType name='T'><x:restriction base='x:int'/></x:simpleType></x:schema></w:types><w:message name='M'/><w:portType name='P'><w:operation name='o'><w:input message='t:M'/></w:operation><w:operation name='p'/></w:portType><w:binding name='B' type='t:P'/><w:binding name='C' type='t:P'/></w:definitions>"
    );
    let contract = load(&[("a.wsdl", &text)]);
    for (path, name) in [("element/a", "b"), ("operation/o", "p"), ("binding/B", "C")] {
        assert!(matches!(renamed(&contract, path, name), Err(EditFailure::Taken(_))), "{path}");
    }
    assert!(matches!(renamed(&contract, "message/M", "M"), Err(EditFailure::Unsupported(_))));
    for path in ["operation/o/input", "type/int"] {
        assert!(matches!(renamed(&contract, path, "other"), Err(EditFailure::Unsupported(_))), "{path}");
    }
    for name in ["", "a b", "t:a", "1"] {
        assert!(matches!(renamed(&contract, "type/T", name), Err(EditFailure::Name(_))), "{name:?}");
    }
}

#[test]
fn a_contract_with_faults_can_be_edited_but_gets_no_more_of_them() {
    let text = format!(
        "<w:definitions {HEAD} targetNamespace='urn:t'><w:message name='M'><w:part name='p' element='t:gone'/></w:message><w:portType name='P'><w:operation name='o'><w:input message='t:M'/></w:operation></w:portType></w:definitions>"
    );
    let after = apply(&[("a.wsdl", &text)], "message/M", "Message");
    assert_eq!(after[0].1, text.replace("name='M'", "name='Message'").replace("'t:M'", "'t:Message'"));
}

#[test]
fn a_name_that_makes_the_content_ambiguous_is_refused() {
    let text = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'><x:complexType name='Visit'><x:sequence><x:element name='pier' type='x:string' minOccurs='0'/><x:element name='quay' type='x:string'/></x:sequence></x:complexType></x:schema>";
    let contract = load(&[("port.xsd", text)]);
    let refused = renamed(&contract, "type/Visit/quay", "pier").unwrap_err();
    assert!(matches!(&refused, EditFailure::Harm(why) if why.contains("pier")), "{refused}");
    assert!(renamed(&contract, "type/Visit/quay", "berth").is_ok());
}
