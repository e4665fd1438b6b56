//! Samples: values within their types, elements in their places, envelopes as SOAP asks.

use charter_contract::{Contract, Side, WireShape};
use charter_message::http::Start;
use charter_message::{Element, Message, Node, SampleError, Size, Text, assemble, sample, to_xml};
use charter_schema::Engine;
use charter_schema::sample::Sampler;
use charter_source::{Limits, Location, Overlay, QName};

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text)]);
    let contract = Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    contract
}

fn schema(content: &str) -> Contract {
    load(&format!(
        "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'>{content}</x:schema>"
    ))
}

fn element(contract: &Contract, name: &str) -> Result<Element, SampleError> {
    let id = contract.schemas.element_named(&QName::new("urn:t", name)).unwrap();
    Sampler::new(&Engine::new(&contract.files, &contract.schemas), Size::Typical).element(id)
}

/// The typical message of a shape.
fn assembled(contract: &Contract, shape: &WireShape) -> Message {
    let engine = Engine::new(&contract.files, &contract.schemas);
    assemble(&engine, shape, sample(&engine, shape, Size::Typical).unwrap(), &[])
}

/// The text of the sample of an element of a simple type.
fn value(name: &str, ty: &str) -> String {
    let contract = schema(&format!("<x:element name='{name}'><x:simpleType>{ty}</x:simpleType></x:element>"));
    text(&element(&contract, name).unwrap_or_else(|error| panic!("{ty}: {error}")))
}

fn text(element: &Element) -> String {
    element
        .children
        .iter()
        .map(|child| match child {
            Node::Text(Text::Plain(text)) => text.clone(),
            Node::Text(text) => text.names().iter().map(ToString::to_string).collect::<Vec<_>>().join(" "),
            other => panic!("{other:?}"),
        })
        .collect()
}

/// The names of an element and all in it, by depth.
fn outline(element: &Element) -> String {
    let inner: Vec<String> = element.elements().map(outline).collect();
    if inner.is_empty() {
        element.name.local.to_string()
    } else {
        format!("{}({})", element.name.local, inner.join(" "))
    }
}

#[test]
fn every_built_in_type_has_a_value_of_its_kind() {
    for (ty, expected) in [
        ("string", "low water"),
        ("boolean", "true"),
        ("decimal", "12.5"),
        ("float", "12.5"),
        ("double", "12.5"),
        ("duration", "PT1H30M"),
        ("dateTime", "2026-03-14T06:30:00Z"),
        ("time", "06:30:00"),
        ("date", "2026-03-14"),
        ("gYearMonth", "2026-03"),
        ("gYear", "2026"),
        ("gMonthDay", "--03-14"),
        ("gDay", "---14"),
        ("gMonth", "--03"),
        ("hexBinary", "53616D70"),
        ("base64Binary", "U2FtcGxl"),
        ("anyURI", "https://example.org/1"),
        ("QName", "low-water"),
        ("normalizedString", "low water"),
        ("token", "low water"),
        ("language", "en"),
        ("NMTOKEN", "low-water"),
        ("NMTOKENS", "low-water low-water"),
        ("Name", "low-water"),
        ("NCName", "low-water"),
        ("ID", "low-water-1"),
        ("integer", "12"),
        ("nonPositiveInteger", "0"),
        ("negativeInteger", "-1"),
        ("long", "12"),
        ("int", "12"),
        ("short", "12"),
        ("byte", "12"),
        ("nonNegativeInteger", "12"),
        ("unsignedLong", "12"),
        ("unsignedByte", "12"),
        ("positiveInteger", "12"),
        ("anySimpleType", "low water"),
    ] {
        let contract = schema(&format!("<x:element name='lowWater' type='x:{ty}'/>"));
        assert_eq!(text(&element(&contract, "lowWater").unwrap()), expected, "{ty}");
    }
}

#[test]
fn names_suggest_values_where_the_type_lets_them() {
    for (name, ty, expected) in [
        ("depth", "<x:restriction base='x:decimal'/>", "12.6"),
        ("depth", "<x:restriction base='x:int'/>", "12"),
        ("draught", "<x:restriction base='x:decimal'><x:maxInclusive value='5'/></x:restriction>", "3.5"),
        ("vesselName", "<x:restriction base='x:string'/>", "First vessel"),
        ("contactPerson", "<x:restriction base='x:string'/>", "Kim Jansen"),
        ("languageCode", "<x:restriction base='x:string'/>", "en"),
        ("country", "<x:restriction base='x:string'/>", "NL"),
        ("iso3Country", "<x:restriction base='x:string'><x:length value='3'/></x:restriction>", "NLD"),
        ("contactEmail", "<x:restriction base='x:string'/>", "kim.jansen@example.org"),
        ("remark", "<x:restriction base='x:string'><x:maxLength value='8'/></x:restriction>", "remark"),
        ("from", "<x:restriction base='x:date'/>", "2026-03-14"),
        ("until", "<x:restriction base='x:dateTime'/>", "2026-03-14T08:00:00Z"),
        ("country", "<x:restriction base='x:string'><x:length value='2'/></x:restriction>", "NL"),
        (
            "callSign",
            "<x:restriction base='x:string'><x:pattern value='[A-Z0-9]{4,7}'/></x:restriction>",
            "ABCD",
        ),
        (
            "booking",
            "<x:restriction base='x:string'><x:pattern value='SM-[0-9]{6}'/></x:restriction>",
            "SM-417025",
        ),
        (
            "grade",
            "<x:restriction base='x:string'><x:enumeration value='first'/><x:enumeration value='second'/></x:restriction>",
            "first",
        ),
    ] {
        assert_eq!(value(name, ty), expected, "{name}");
    }
}

#[test]
fn facets_hold() {
    let length = |ty: &str| value("lowWater", ty).chars().count();
    assert_eq!(length("<x:restriction base='x:string'><x:length value='1'/></x:restriction>"), 1);
    assert_eq!(length("<x:restriction base='x:token'><x:minLength value='100'/></x:restriction>"), 100);
    assert_eq!(length("<x:restriction base='x:hexBinary'><x:length value='2'/></x:restriction>"), 4);
    assert_eq!(length("<x:restriction base='x:base64Binary'><x:length value='4'/></x:restriction>"), 8);
    assert_eq!(
        length(
            "<x:restriction base='x:string'><x:pattern value='[a-z]*'/><x:minLength value='9'/></x:restriction>"
        ),
        16
    );
    let number = |ty: &str| value("n", ty).parse::<f64>().unwrap();
    assert_eq!(
        number(
            "<x:restriction base='x:decimal'><x:minInclusive value='7'/><x:maxInclusive value='7'/></x:restriction>"
        ),
        7.0
    );
    let n = number(
        "<x:restriction base='x:decimal'><x:minExclusive value='7'/><x:maxExclusive value='7.01'/></x:restriction>",
    );
    assert!(n > 7.0 && n < 7.01, "{n}");
    let n = number("<x:restriction base='x:int'><x:minExclusive value='1000'/></x:restriction>");
    assert!(n > 1000.0 && n.fract() == 0.0, "{n}");
    assert_eq!(
        value("d", "<x:restriction base='x:date'><x:minInclusive value='2031-01-01'/></x:restriction>"),
        "2031-01-01"
    );
    assert_eq!(value("c", "<x:restriction base='x:decimal'><x:totalDigits value='1'/></x:restriction>"), "1");
}

#[test]
fn lists_and_unions_have_items_and_members() {
    assert_eq!(value("radio", "<x:list itemType='x:int'/>"), "12 16");
    assert_eq!(
        value(
            "l",
            "<x:restriction><x:simpleType><x:list itemType='x:boolean'/></x:simpleType><x:minLength value='4'/></x:restriction>"
        ),
        "true true true true"
    );
    assert_eq!(value("u", "<x:union memberTypes='x:gYear x:string'/>"), "2026");
    assert_eq!(
        value(
            "l",
            "<x:list><x:simpleType><x:restriction base='x:string'><x:enumeration value='a'/><x:enumeration value='b'/></x:restriction></x:simpleType></x:list>"
        ),
        "a b"
    );
}

#[test]
fn a_name_never_overrules_its_type() {
    for (name, ty) in [
        ("amount", "integer"),
        ("remark", "duration"),
        ("eta", "anyURI"),
        ("berth", "language"),
        ("eta", "token"),
        ("email", "NMTOKEN"),
        ("position", "QName"),
        ("revision", "base64Binary"),
        ("depth", "hexBinary"),
    ] {
        let contract = schema(&format!("<x:element name='{name}' type='x:{ty}'/>"));
        let value = text(&element(&contract, name).unwrap());
        let sound = match ty {
            "integer" => value.bytes().all(|b| b.is_ascii_digit()),
            "duration" => value.starts_with('P'),
            "anyURI" => value.starts_with("https://") || !value.contains(':'),
            "language" => value.bytes().all(|b| b.is_ascii_alphabetic()),
            "NMTOKEN" | "QName" => !value.contains([' ', '@']),
            "base64Binary" => value.len().is_multiple_of(4) && !value.contains('-'),
            "hexBinary" => value.len().is_multiple_of(2) && value.bytes().all(|b| b.is_ascii_hexdigit()),
            _ => !value.is_empty(),
        };
        assert!(sound, "{name}: {ty}: {value}");
    }
}

#[test]
fn items_of_lists_hold_no_white_space() {
    let items =
        |item: &str| value("vesselName", &format!("<x:list><x:simpleType>{item}</x:simpleType></x:list>"));
    let both = items("<x:restriction base='x:string'/>");
    assert_eq!(both.split(' ').count(), 2, "{both}");
    assert_eq!(
        items(
            "<x:restriction base='x:string'><x:enumeration value='a b'/><x:enumeration value='c'/></x:restriction>"
        ),
        "c c"
    );
    // No item fits, and none is needed.
    assert_eq!(items("<x:restriction base='x:string'><x:enumeration value='a b'/></x:restriction>"), "");
}

#[test]
fn types_without_values_are_said_to_have_none() {
    for ty in [
        "<x:restriction base='x:int'><x:minInclusive value='9'/><x:maxInclusive value='1'/></x:restriction>",
        "<x:restriction base='x:string'><x:pattern value='a'/><x:length value='2'/></x:restriction>",
    ] {
        let contract = schema(&format!("<x:element name='e'><x:simpleType>{ty}</x:simpleType></x:element>"));
        assert!(matches!(element(&contract, "e"), Err(SampleError::NoValue { .. })), "{ty}");
    }
}

#[test]
fn a_pattern_that_cannot_be_read_leaves_the_message_to_be_seen() {
    let ty =
        "<x:restriction base='x:string'><x:pattern value='[a-'/><x:maxLength value='3'/></x:restriction>";
    let contract = schema(&format!("<x:element name='e'><x:simpleType>{ty}</x:simpleType></x:element>"));
    assert!(text(&element(&contract, "e").unwrap()).len() <= 3);
}

#[test]
fn content_models_are_filled_in_order() {
    let contract = schema(
        "<x:group name='G'><x:sequence><x:element name='g' type='x:int' minOccurs='0'/></x:sequence></x:group>
         <x:complexType name='Base'><x:sequence><x:element name='a' type='x:int'/></x:sequence></x:complexType>
         <x:element name='e'><x:complexType><x:complexContent><x:extension base='t:Base'><x:sequence><x:group ref='t:G'/><x:choice><x:element name='l' type='x:int'/><x:element name='r' type='x:int'/></x:choice><x:element name='many' type='x:int' maxOccurs='unbounded'/><x:element name='four' type='x:int' minOccurs='4' maxOccurs='9'/><x:element name='no' type='x:int' minOccurs='0' maxOccurs='0'/><x:any minOccurs='0'/></x:sequence></x:extension></x:complexContent></x:complexType></x:element>",
    );
    assert_eq!(outline(&element(&contract, "e").unwrap()), "e(a g l many many four four four four)");
}

#[test]
fn choices_take_the_first_way_that_leads_somewhere() {
    let contract = schema(
        "<x:complexType name='R'><x:choice><x:element name='again' type='t:R'/><x:element name='end' type='x:int'/></x:choice></x:complexType>
         <x:element name='e' type='t:R'/>",
    );
    assert_eq!(outline(&element(&contract, "e").unwrap()), "e(end)");
}

#[test]
fn what_stands_for_abstract_elements_and_types() {
    let contract = schema(
        "<x:element name='head' abstract='true'/><x:element name='none' abstract='true'/>
         <x:element name='half' abstract='true' substitutionGroup='t:head'/><x:element name='member' type='x:int' substitutionGroup='t:half'/>
         <x:complexType name='Abstract' abstract='true'/><x:element name='bare' type='t:Abstract'/>",
    );
    assert_eq!(outline(&element(&contract, "head").unwrap()), "member");
    assert!(matches!(element(&contract, "none"), Err(SampleError::Abstract { .. })));
    assert!(matches!(element(&contract, "bare"), Err(SampleError::Abstract { .. })));
}

#[test]
fn wildcards_that_must_be_filled() {
    let of = |any: &str| {
        let contract = schema(&format!(
            "<x:element name='known' type='x:int'/><x:element name='e'><x:complexType><x:sequence>{any}</x:sequence></x:complexType></x:element>"
        ));
        element(&contract, "e").map(|element| {
            let inner = element.elements().next().unwrap().name.clone();
            inner.to_string()
        })
    };
    assert_eq!(of("<x:any/>").unwrap(), "{urn:t}known");
    assert_eq!(of("<x:any namespace='urn:v' processContents='skip'/>").unwrap(), "{urn:v}anything");
    assert_eq!(of("<x:any namespace='##local' processContents='lax'/>").unwrap(), "anything");
    assert!(matches!(of("<x:any namespace='urn:v'/>"), Err(SampleError::Wildcard { .. })));
}

#[test]
fn attributes_with_defaults_and_those_that_are_forbidden() {
    let contract = schema(
        "<x:complexType name='A'><x:attribute name='x' type='x:int'/><x:attribute name='y' fixed='as ever'/></x:complexType>
         <x:element name='e'><x:complexType><x:complexContent><x:restriction base='t:A'><x:attribute name='x' use='prohibited'/><x:attribute name='z' default='9'/></x:restriction></x:complexContent></x:complexType></x:element>",
    );
    let sample = element(&contract, "e").unwrap();
    let shown: Vec<(&str, &Text)> =
        sample.attributes.iter().map(|(name, value)| (&*name.local, value)).collect();
    assert_eq!(shown, [("y", &Text::Plain("as ever".into())), ("z", &Text::Plain("9".into()))]);
}

#[test]
fn a_tree_of_optional_parts_stays_bearable() {
    // Each type holds four of the next: complete, this would be a message of a million elements.
    let types: String = (0..10)
        .map(|n| {
            let fields: String = (0..4)
                .map(|f| format!("<x:element name='f{f}' type='t:T{}' minOccurs='0'/>", n + 1))
                .collect();
            format!("<x:complexType name='T{n}'><x:sequence>{fields}</x:sequence></x:complexType>")
        })
        .collect();
    let contract = schema(&format!("{types}<x:complexType name='T10'/><x:element name='e' type='t:T0'/>"));
    let sample = outline(&element(&contract, "e").unwrap());
    assert!(sample.matches('f').count() < 5_000);
    // The same with parts that must be there is refused.
    let types = types.replace(" minOccurs='0'", "");
    let contract = schema(&format!("{types}<x:complexType name='T10'/><x:element name='e' type='t:T0'/>"));
    assert!(matches!(element(&contract, "e"), Err(SampleError::TooLarge { .. })));
}

#[test]
fn envelopes_carry_what_the_shape_says() {
    let contract = load(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap12/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' xmlns:old='urn:t' targetNamespace='urn:t'>
<w:types><x:schema targetNamespace='urn:t'><x:element name='ask'><x:complexType><x:sequence><x:element name='plain' type='x:int'/></x:sequence></x:complexType></x:element><x:element name='mark' type='x:token'/></x:schema></w:types>
<w:message name='Ask'><w:part name='b' element='t:ask'/><w:part name='h' element='t:mark'/></w:message>
<w:portType name='P'><w:operation name='o'><w:input message='t:Ask'/><w:output message='t:Ask'/></w:operation></w:portType>
<w:binding name='B' type='t:P'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='o'><s:operation/><w:input><s:header message='t:Ask' part='h' use='literal'/><s:body parts='b' use='literal'/></w:input><w:output><s:body parts='b' use='literal'/></w:output></w:operation></w:binding></w:definitions>",
    );
    let (id, _) = contract.operations().next().unwrap();
    let shown = |side| {
        let shape = contract.wire_shape(id, side, None).unwrap();
        let message = assembled(&contract, &shape);
        (message.text(&contract), message)
    };
    let (xml, request) = shown(Side::Input);
    assert_eq!((request.start.method(), request.address()), (Some("POST"), None));
    assert_eq!(
        request.headers.iter().collect::<Vec<_>>(),
        [("Content-Type", "application/soap+xml; charset=utf-8")]
    );
    assert_eq!(
        xml,
        "<env:Envelope xmlns:env=\"http://www.w3.org/2003/05/soap-envelope\">
  <env:Header>
    <mark xmlns=\"urn:t\">mark</mark>
  </env:Header>
  <env:Body>
    <t:ask xmlns:t=\"urn:t\">
      <plain>12</plain>
    </t:ask>
  </env:Body>
</env:Envelope>
"
    );
    let (_, reply) = shown(Side::Output);
    assert_eq!(reply.start, Start::Reply { status: 200 });
}

#[test]
fn trees_are_written_with_the_prefixes_they_need() {
    let leaf = |namespace: &str, local: &str| Element::new(QName::new(namespace, local));
    let root = leaf("urn:e", "E")
        .with(leaf("urn:a", "a").with(leaf("urn:b", "b").text("<1 & \"2\">")).with(leaf("urn:b", "c")));
    let xml = to_xml(&root, "e", &|namespace| (namespace == "urn:b").then(|| "bee".to_owned()));
    assert_eq!(
        xml,
        "<e:E xmlns:e=\"urn:e\">\n  <a xmlns=\"urn:a\" xmlns:bee=\"urn:b\">\n    <bee:b>&lt;1 &amp; \"2\"&gt;</bee:b>\n    <bee:c/>\n  </a>\n</e:E>\n"
    );
}
