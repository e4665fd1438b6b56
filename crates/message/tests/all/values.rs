//! Values: how JSON and elements stand for each other, and how one value is set by its path.

use charter_contract::{Component, Contract, Side, WireShape};
use charter_message::{Size, assemble, sample, values};
use charter_schema::Engine;
use charter_source::{Limits, Location, Overlay};
use serde_json::{Value as Json, json};

/// A contract whose operation takes an element with this content, beside these types.
fn contract(content: &str, types: &str) -> Contract {
    let text = format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'>
<w:types><x:schema targetNamespace='urn:t' elementFormDefault='qualified'><x:element name='ask'><x:complexType>{content}</x:complexType></x:element>{types}</x:schema></w:types>
<w:message name='m'><w:part name='p' element='t:ask'/></w:message>
<w:portType name='P'><w:operation name='o'><w:input message='t:m'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='o'><s:operation/><w:input><s:body use='literal'/></w:input></w:operation></w:binding></w:definitions>"
    );
    let store = Overlay::of(&[("c.wsdl", &text)]);
    let contract = Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    contract
}

fn shape(contract: &Contract) -> WireShape {
    let Ok(Component::Operation(id)) = contract.find("operation/o") else { panic!() };
    contract.wire_shape(id, Side::Input, None).unwrap()
}

/// The body that values make; what comes out of it is what went in.
fn body(contract: &Contract, given: &Json) -> Result<String, String> {
    let (text, back) = made(contract, given)?;
    assert_eq!(&back, given);
    Ok(text)
}

/// The body that values make, without the envelope, and the values of it.
fn made(contract: &Contract, given: &Json) -> Result<(String, Json), String> {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let shape = shape(contract);
    let wire_content = values::read(&engine, &shape, given).map_err(|errors| errors[0].to_string())?;
    let back = values::write(&engine, &shape, &wire_content);
    let text = assemble(&engine, &shape, wire_content, &[]).text(contract);
    let inner = text.split("<env:Body>").nth(1).unwrap().split("</env:Body>").next().unwrap();
    Ok((inner.lines().map(str::trim).collect::<String>().replace(" xmlns=\"urn:t\"", ""), back))
}

/// The values of the typical sample after one is set.
fn set(contract: &Contract, path: &str, text: &str) -> Result<Json, String> {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let shape = shape(contract);
    let mut all = values::write(&engine, &shape, &sample(&engine, &shape, Size::Typical).unwrap());
    values::ByPath::of(&engine, &shape).set(&mut all, path, text).map_err(|error| error.help)?;
    let wire_content = values::read(&engine, &shape, &all).map_err(|errors| errors[0].to_string())?;
    Ok(values::write(&engine, &shape, &wire_content))
}

#[test]
fn elements_stand_in_the_order_of_the_model_whatever_that_of_the_keys() {
    let contract = contract(
        "<x:sequence><x:element name='a' type='x:int'/><x:element name='b' type='x:int' minOccurs='0' maxOccurs='9'/><x:element name='c' type='x:int' minOccurs='0'/></x:sequence>",
        "",
    );
    assert_eq!(
        body(&contract, &json!({"c": 3, "b": [2, 4], "a": 1})).unwrap(),
        "<ask><a>1</a><b>2</b><b>4</b><c>3</c></ask>"
    );
    // An empty list is as good as none, and one value as a list of one.
    assert_eq!(made(&contract, &json!({"b": [], "a": 1})).unwrap().1, json!({"a": 1}));
    assert_eq!(made(&contract, &json!({"b": 2, "a": 1})).unwrap().1, json!({"a": 1, "b": [2]}));
}

#[test]
fn choices_and_repeated_groups_find_their_order() {
    let pairs = contract(
        "<x:sequence maxOccurs='unbounded'><x:element name='k' type='x:token'/><x:element name='v' type='x:int'/></x:sequence>",
        "",
    );
    let given = json!({"k": ["a", "b"], "v": [1, 2]});
    assert_eq!(body(&pairs, &given).unwrap(), "<ask><k>a</k><v>1</v><k>b</k><v>2</v></ask>");
    assert!(body(&pairs, &json!({"k": ["a", "b"], "v": [1]})).unwrap_err().contains("v: a value is missing"));
    // Taking each as soon as it fits would lead nowhere.
    let branches = contract(
        "<x:choice><x:sequence><x:element name='a' type='x:int'/></x:sequence><x:sequence><x:element name='b' type='x:int'/><x:element name='a' type='x:int'/></x:sequence></x:choice>",
        "",
    );
    assert_eq!(body(&branches, &json!({"b": 1, "a": [2]})).unwrap(), "<ask><b>1</b><a>2</a></ask>");
    assert_eq!(body(&branches, &json!({"a": [2]})).unwrap(), "<ask><a>2</a></ask>");
}

#[test]
fn what_is_the_same_in_another_order_is_spelled_out() {
    let all = contract(
        "<x:all><x:element name='a' type='x:int'/><x:element name='b' type='x:int' minOccurs='0'/></x:all>",
        "",
    );
    assert_eq!(body(&all, &json!({"a": 1, "b": 2})).unwrap(), "<ask><a>1</a><b>2</b></ask>");
    assert_eq!(
        body(&all, &json!({"$content": [{"b": 2}, {"a": 1}]})).unwrap(),
        "<ask><b>2</b><a>1</a></ask>"
    );
}

#[test]
fn values_of_each_kind_of_type() {
    let field = |ty: &str, types: &str| {
        contract(&format!("<x:sequence><x:element name='f' type='{ty}'/></x:sequence>"), types)
    };
    let of = |ty: &str, value: Json| body(&field(ty, ""), &json!({ "f": value }));
    for (ty, value, text) in [
        ("x:boolean", json!(true), "true"),
        ("x:decimal", serde_json::from_str("1480.00").unwrap(), "1480.00"),
        (
            "x:integer",
            serde_json::from_str("123456789012345678901234567890").unwrap(),
            "123456789012345678901234567890",
        ),
        ("x:double", json!("INF"), "INF"),
        ("x:int", json!("+3"), "+3"),
        ("x:string", json!("007"), "007"),
        ("x:date", json!("2026-03-14"), "2026-03-14"),
        ("x:NMTOKENS", json!(["a", "b"]), "a b"),
        ("x:base64Binary", json!("U2Fs"), "U2Fs"),
    ] {
        assert_eq!(of(ty, value).unwrap(), format!("<ask><f>{text}</f></ask>"), "{ty}");
    }
    assert!(of("x:int", json!(9.5)).unwrap_err().contains("f: \"9.5\" is not an int"));
    assert!(of("x:int", json!([1])).unwrap_err().contains("one value is wanted here"));
    let name = of("x:QName", json!("{urn:other}buoy")).unwrap();
    assert!(name.contains("xmlns:other=\"urn:other\"") && name.contains(":buoy<"), "{name}");
    // A type may have only one way to write a truth.
    let digit = field(
        "t:Digit",
        "<x:simpleType name='Digit'><x:restriction base='x:boolean'><x:pattern value='[01]'/></x:restriction></x:simpleType>",
    );
    assert_eq!(body(&digit, &json!({"f": true})).unwrap(), "<ask><f>1</f></ask>");
    let union =
        field("t:U", "<x:simpleType name='U'><x:union memberTypes='x:int x:date x:token'/></x:simpleType>");
    for value in [json!(3), json!("2026-03-14"), json!("soon")] {
        body(&union, &json!({ "f": value })).unwrap();
    }
}

#[test]
fn namespaces_are_written_only_where_names_are_not_enough() {
    let contract = contract(
        "<x:sequence><x:element name='mark' type='x:int'/><x:element name='mark' form='unqualified' type='x:int'/><x:any namespace='##other' processContents='lax' minOccurs='0' maxOccurs='2'/></x:sequence><x:anyAttribute namespace='##other' processContents='lax'/>",
        "",
    );
    let given = json!({"@{urn:o}by": "okker", "{urn:t}mark": 1, "{}mark": 2, "{urn:o}note": ["x"]});
    let text = body(&contract, &given).unwrap();
    assert!(text.contains(":mark>1</") && text.contains("<mark>2</mark>"), "{text}");
    let error = body(&contract, &json!({"mark": 1})).unwrap_err();
    assert!(error.contains("there are several of this name"), "{error}");
}

#[test]
fn paths_set_what_is_there_and_bring_in_what_is_not() {
    let contract = contract(
        "<x:sequence><x:element name='a' type='t:A' minOccurs='0'/><x:choice><x:element name='l' type='x:int'/><x:element name='r' type='t:A'/></x:choice><x:element name='n' type='x:int' nillable='true' maxOccurs='3'/></x:sequence><x:attribute name='by' type='x:token'/>",
        "<x:complexType name='A'><x:simpleContent><x:extension base='x:decimal'><x:attribute name='unit' type='x:token'/></x:extension></x:simpleContent></x:complexType>",
    );
    let set = |path: &str, text: &str| set(&contract, path, text);
    assert_eq!(set("a", "7.5").unwrap()["a"]["$text"].to_string(), "7.5");
    assert_eq!(set("a/@unit", "ft").unwrap()["a"]["@unit"], "ft");
    assert!(set("a", "").unwrap().get("a").is_none());
    let right = set("r/@unit", "m").unwrap();
    assert!(right.get("l").is_none() && right["r"]["@unit"] == "m", "{right}");
    assert_eq!(set("n[3]", "9").unwrap()["n"].as_array().unwrap().len(), 3);
    assert_eq!(set("n[1]", "").unwrap()["n"].as_array().unwrap().len(), 1);
    assert!(set("@by", "").unwrap().get("@by").is_none());
    assert_eq!(set("ask/l", "4").unwrap()["l"].to_string(), "4");
    assert_eq!(set("n[5]", "9").unwrap_err(), "the next would be n[3]");
    assert_eq!(set("unit", "m").unwrap_err(), "there are a, l, r, n");
    assert_eq!(set("@bye", "x").unwrap_err(), "did you mean \"@by\"?");
}

#[test]
fn steps_of_a_path() {
    let keys = |path: &str| -> Vec<(String, Option<usize>)> {
        values::steps(path).unwrap().into_iter().map(|step| (step.key, step.number)).collect()
    };
    assert_eq!(keys("a[2]/@b"), [("a".to_owned(), Some(2)), ("@b".to_owned(), None)]);
    assert_eq!(keys("{http://x/y}a/b"), [("{http://x/y}a".to_owned(), None), ("b".to_owned(), None)]);
    for path in ["", "a//b", "/a", "a[0]", "a[x]", "[1]"] {
        assert!(values::steps(path).is_err(), "{path}");
    }
}
