//! The laws of the notation, on the demo and on contracts of many kinds.

use charter_contract::Contract;
use charter_notation::{Child, Convention, ElementInfo, Prefixes, info_of, read, text_of};
use charter_source::{Disk, Limits, Location, Overlay};

/// An element info whose components are in an order that does not depend on where they were written.
fn sorted(mut info: ElementInfo) -> ElementInfo {
    let key = |child: &Child| match child {
        Child::Element(info) => {
            let space = info.text("targetNamespace").unwrap_or("").to_owned();
            (info.name.local.to_string(), space, info.text("name").unwrap_or("").to_owned())
        }
        Child::Text(text) | Child::Comment(text) => (String::new(), String::new(), text.clone()),
    };
    let unordered = ["definitions", "types", "schema"].iter().any(|local| &*info.name.local == *local);
    for child in info.elements_mut() {
        *child = sorted(child.clone());
    }
    let is_binding = info.is_wsdl("binding");
    if unordered || is_binding {
        info.children.sort_by_key(key);
    }
    info
}

/// WSDL to notation to WSDL: the same components; and the notation of that: the same text.
#[track_caller]
fn keeps(contract: &Contract) {
    let convention = Convention::default();
    let info = info_of(contract);
    let text = text_of(&info, &Prefixes::of(contract), &convention);
    let written = read(&text, &convention).unwrap_or_else(|errors| panic!("{errors:#?}\n{text}"));
    let (before, after) = (sorted(info), sorted(written.info.clone()));
    if before != after {
        let differs = differs(&before, &after);
        panic!("{text}\n{differs}");
    }
    let again = text_of(&written.info, &written.prefixes, &convention);
    assert_eq!(again, text);
}

/// Where two element infos differ first.
fn differs(a: &ElementInfo, b: &ElementInfo) -> String {
    let pairs = a.elements().zip(b.elements());
    let inner = pairs.filter(|(a, b)| a != b).map(|(a, b)| differs(a, b)).next();
    match inner {
        Some(inner)
            if a.name == b.name
                && a.attributes.len() == b.attributes.len()
                && a.children.len() == b.children.len() =>
        {
            inner
        }
        _ => format!("BEFORE {a:#?}\nAFTER {b:#?}"),
    }
}

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

#[test]
fn the_demo() {
    for file in
        ["v1/pilotage.wsdl", "v2/pilotage.wsdl", "v3/pilotage.wsdl", "draft/towage.wsdl", "v1/vessel.xsd"]
    {
        let path = format!("{}/../cli/demo/{file}", env!("CARGO_MANIFEST_DIR"));
        let contract = Contract::load(&Disk, &Location::Path(path.into()), Limits::default()).unwrap();
        keeps(&contract);
    }
}

/// A schema with this content keeps the laws.
#[track_caller]
fn schema_keeps(content: &str) {
    keeps(&load(&format!(
        "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' xmlns:v='urn:v' targetNamespace='urn:t' elementFormDefault='qualified'>{content}</x:schema>"
    )));
}

#[test]
fn simple_types() {
    for body in [
        "<x:restriction base='x:string'><x:length value='4'/></x:restriction>",
        "<x:restriction base='x:string'><x:length value='4' fixed='true'/></x:restriction>",
        "<x:restriction base='x:string'><x:maxLength value='4'/><x:minLength value='1'/></x:restriction>",
        "<x:restriction base='x:string'><x:minLength value='1' fixed='1'/><x:maxLength value='4'/></x:restriction>",
        "<x:restriction base='x:int'><x:minInclusive value='-4'/><x:maxExclusive value='9'/></x:restriction>",
        "<x:restriction base='x:date'><x:minExclusive value='2026-01-01'/></x:restriction>",
        "<x:restriction base='x:decimal'><x:totalDigits value='9'/><x:fractionDigits value='2'/></x:restriction>",
        "<x:restriction base='x:string'><x:whiteSpace value='collapse'/></x:restriction>",
        "<x:restriction base='x:string'><x:pattern value='a\\d'/><x:pattern value='b&quot;'/></x:restriction>",
        "<x:restriction base='x:string'><x:enumeration value='a'/><x:pattern value='b'/><x:enumeration value=''/></x:restriction>",
        "<x:restriction base='x:string'><x:enumeration value='a'><x:annotation><x:documentation>First.\n  Of all.</x:documentation></x:annotation></x:enumeration><x:enumeration value='b'/></x:restriction>",
        "<x:list itemType='x:date'/>",
        "<x:list><x:simpleType><x:restriction base='x:string'><x:maxLength value='4'/></x:restriction></x:simpleType></x:list>",
        "<x:list><x:simpleType><x:restriction base='x:string'/></x:simpleType></x:list>",
        "<x:list><x:simpleType><x:list itemType='x:date'/></x:simpleType></x:list>",
        "<x:restriction><x:simpleType><x:list itemType='x:date'/></x:simpleType><x:maxLength value='4'/></x:restriction>",
        "<x:restriction><x:simpleType><x:restriction base='x:string'><x:maxLength value='4'/></x:restriction></x:simpleType></x:restriction>",
        "<x:union memberTypes='x:date t:T2'/>",
        "<x:union memberTypes='x:date'><x:simpleType><x:restriction base='x:int'><x:maxInclusive value='4'/></x:restriction></x:simpleType><x:simpleType><x:list itemType='x:date'/></x:simpleType></x:union>",
        "<x:restriction base='x:QName'/>",
        "<x:restriction base='t:date'/>",
        "<x:restriction base='x:string'><x:maxLength value='4'><x:annotation><x:documentation>Why.</x:documentation></x:annotation></x:maxLength></x:restriction>",
    ] {
        for (attributes, annotation) in [
            ("", ""),
            (
                " final='list union'",
                "<x:annotation><x:documentation xml:lang='en'>Says.</x:documentation></x:annotation>",
            ),
            (" id='i' v:note='n'", "<x:annotation id='q'><x:appinfo>machine</x:appinfo></x:annotation>"),
        ] {
            schema_keeps(&format!(
                "<x:simpleType name='T'{attributes}>{annotation}{body}</x:simpleType>
                 <x:simpleType name='T2'><x:restriction base='x:int'/></x:simpleType><x:simpleType name='date'><x:restriction base='x:date'/></x:simpleType>"
            ));
            // The same in place, under an element and an attribute, in every count.
            for (min, max) in [("1", "1"), ("0", "1"), ("0", "unbounded"), ("2", "2"), ("2", "5")] {
                schema_keeps(&format!(
                    "<x:complexType name='C'><x:sequence><x:element name='e' minOccurs='{min}' maxOccurs='{max}'><x:simpleType>{body}</x:simpleType></x:element></x:sequence>
                     <x:attribute name='a'><x:simpleType>{body}</x:simpleType></x:attribute><x:attribute name='b' use='required'><x:simpleType>{body}</x:simpleType></x:attribute></x:complexType>"
                ));
            }
        }
    }
}

#[test]
fn complex_types() {
    let others = "<x:element name='e'/><x:group name='G'><x:sequence><x:element name='g'/></x:sequence></x:group><x:attributeGroup name='A'/><x:attribute name='u' type='x:int'/><x:complexType name='S'><x:simpleContent><x:extension base='x:int'><x:attribute name='u'/></x:extension></x:simpleContent></x:complexType>";
    let field = "<x:element name='f' type='x:int'/>";
    let bodies = [
        String::new(),
        "<x:sequence/>".into(),
        "<x:attribute name='a' type='x:int'/>".into(),
        "<x:sequence/><x:attribute name='a' type='x:int'/>".into(),
        format!("<x:sequence>{field}</x:sequence>"),
        format!("<x:choice>{field}</x:choice>"),
        format!("<x:all>{field}</x:all>"),
        format!("<x:sequence minOccurs='0'>{field}</x:sequence>"),
        format!("<x:sequence><x:sequence>{field}</x:sequence></x:sequence>"),
        format!("<x:sequence><x:choice maxOccurs='3'>{field}<x:element name='choice'/></x:choice></x:sequence>"),
        format!("<x:sequence><x:annotation><x:documentation>In order.</x:documentation></x:annotation>{field}</x:sequence>"),
        "<x:group ref='t:G'><x:annotation><x:appinfo>a &lt; b<v:b/>\n c</x:appinfo></x:annotation></x:group>".into(),
        "<x:sequence><x:element name='f'><x:annotation><x:appinfo/></x:annotation></x:element></x:sequence><x:attribute name='a'><x:annotation><x:documentation>See <v:b>there</v:b></x:documentation></x:annotation></x:attribute>".into(),
        "<x:sequence><x:group ref='t:G' minOccurs='0'/></x:sequence>".into(),
        "<x:sequence><x:element ref='t:e' minOccurs='0'/><x:any/><x:any namespace='##other urn:q' processContents='lax' maxOccurs='3'/></x:sequence><x:attributeGroup ref='t:A'/><x:attribute ref='t:u'/><x:attribute ref='xml:lang' use='required'/><x:anyAttribute namespace='##local ##targetNamespace' processContents='skip'/>".into(),
        "<x:sequence><x:element name='any'/><x:element name='key' type='x:int'/><x:element name='about' minOccurs='0'/><x:element name='type' form='unqualified' nillable='true' default='a&#10;b'><x:annotation><x:documentation>One\n two.</x:documentation></x:annotation></x:element></x:sequence><x:attribute name='w' form='qualified' fixed='x'/>".into(),
        "<x:simpleContent><x:extension base='x:decimal'><x:attribute name='a' type='x:int' use='prohibited'/></x:extension></x:simpleContent>".into(),
        "<x:simpleContent><x:extension base='x:decimal'/></x:simpleContent>".into(),
        "<x:simpleContent><x:restriction base='t:S'><x:maxInclusive value='4'/></x:restriction></x:simpleContent>".into(),
        "<x:simpleContent><x:restriction base='t:S'><x:simpleType><x:restriction base='x:int'><x:minInclusive value='1'/></x:restriction></x:simpleType><x:attribute name='u' use='required'/></x:restriction></x:simpleContent>".into(),
        "<x:complexContent><x:extension base='t:T'/></x:complexContent>".into(),
        "<x:complexContent mixed='true'><x:extension base='t:T'><x:sequence/></x:extension></x:complexContent>".into(),
        format!("<x:complexContent><x:restriction base='x:anyType'><x:sequence>{field}</x:sequence><x:anyAttribute/></x:restriction></x:complexContent>"),
    ];
    for body in &bodies {
        for (attributes, annotation) in [
            ("", ""),
            (
                "",
                "<x:annotation><x:appinfo source='urn:q'><v:gen class='Q'/></x:appinfo><x:documentation>And.</x:documentation></x:annotation>",
            ),
            (
                " mixed='true' abstract='1' block='#all' final=''",
                "<x:annotation><x:documentation>Says.</x:documentation><x:documentation xml:lang='de'>Sagt.</x:documentation></x:annotation>",
            ),
        ] {
            schema_keeps(&format!(
                "<x:complexType name='T'{attributes}>{annotation}{body}</x:complexType>{others}"
            ));
        }
        schema_keeps(&format!(
            "{others}<x:element name='E' nillable='true'><x:complexType mixed='true'>{body}</x:complexType><x:unique name='once'><x:selector xpath='t:f|.//v:g'/><x:field xpath='@a'/><x:field xpath='child::t:f'/></x:unique><x:keyref name='r' refer='t:once'><x:selector xpath='.'/><x:field xpath='.'/></x:keyref></x:element>"
        ));
        schema_keeps(&format!(
            "{others}<x:complexType name='O'><x:sequence><x:element name='E' maxOccurs='unbounded'><x:complexType><x:annotation><x:documentation>Here.</x:documentation></x:annotation>{body}</x:complexType></x:element></x:sequence></x:complexType>"
        ));
    }
}

#[test]
fn schemas_and_their_rarer_parts() {
    schema_keeps(
        "<x:annotation><x:documentation>All of it.</x:documentation></x:annotation><x:element name='head' abstract='true' type='x:int'/><x:element name='member' substitutionGroup='t:head' final='extension' block='substitution'/><x:notation name='n' public='p'/><x:attribute name='unit' type='x:token' default='m'/><x:group name='G'><x:annotation><x:documentation>g</x:documentation></x:annotation><x:all><x:element name='a' type='x:int'/></x:all></x:group><x:group name='H'><x:sequence/></x:group><x:attributeGroup name='A'><x:attribute name='a'/><x:attributeGroup ref='t:B'/><x:anyAttribute/></x:attributeGroup><x:attributeGroup name='B'/>",
    );
    for settings in [
        "",
        " elementFormDefault='qualified' attributeFormDefault='qualified' blockDefault='#all' finalDefault='extension restriction' version='2' id='s'",
    ] {
        keeps(&load(&format!(
            "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'{settings}><x:element name='a'><x:complexType><x:sequence><x:element name='b' form='qualified'/><x:element name='c' form='unqualified'/></x:sequence><x:attribute name='d' form='qualified'/></x:complexType></x:element></x:schema>"
        )));
    }
    // One namespace from files that settle things differently, and one that takes on the namespace.
    let one = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:t' elementFormDefault='qualified'><x:include schemaLocation='b.xsd'/><x:include schemaLocation='c.xsd'/><x:element name='a'/></x:schema>";
    let two = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:t' blockDefault='extension'><x:complexType name='B'><x:sequence><x:element name='b'/></x:sequence></x:complexType></x:schema>";
    let three = "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema'><x:element name='c' type='C'/><x:simpleType name='C'><x:restriction base='x:int'/></x:simpleType></x:schema>";
    let store = Overlay::of(&[("a.xsd", one), ("b.xsd", two), ("c.xsd", three)]);
    let contract = Contract::load(&store, &Location::from_argument("a.xsd"), Limits::default()).unwrap();
    keeps(&contract);
    let text = charter_notation::contract(&contract, &Convention::default());
    assert!(
        text.contains("element c: C\n")
            && text.contains("type B block extension {\n")
            && text.contains("b unqualified block extension\n"),
        "{text}"
    );
}

/// A contract around these definitions keeps the laws.
#[track_caller]
fn contract_keeps(attributes: &str, content: &str) {
    keeps(&load(&contract(attributes, content)));
}

fn contract(attributes: &str, content: &str) -> String {
    format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:s12='http://schemas.xmlsoap.org/wsdl/soap12/' xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' xmlns:m='http://schemas.xmlsoap.org/wsdl/mime/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:p='urn:policy' xmlns:t='urn:t' {attributes}>{content}</w:definitions>"
    )
}

const MESSAGES: &str = "<w:message name='In'><w:part name='day' type='x:date'/><w:part name='row' type='x:int'><w:documentation>Which.</w:documentation></w:part></w:message><w:message name='Out'><w:part name='tide' type='x:time'/></w:message><w:message name='Head'><w:part name='who' element='t:Who'/></w:message><w:message name='Two'><w:part name='a' element='t:Who'/><w:part name='b'/></w:message><w:message name='Empty'/>";

const PORT_TYPE: &str = "<w:portType name='Tides'><w:operation name='next' parameterOrder='row day'><w:documentation>The <p:b>next</p:b>.</w:documentation><w:input message='t:In'/><w:output message='t:Out'/><w:fault name='Ebb' message='t:Two'/></w:operation><w:operation name='warn'><w:output name='call' message='t:Out'/></w:operation><w:operation name='ask'><w:output message='t:Out'/><w:input message='t:Empty'/></w:operation><w:operation name='tell'><w:input message='t:Gone'/></w:operation></w:portType>";

#[test]
fn port_types_and_messages() {
    let types = "<w:types><x:schema targetNamespace='urn:t'><x:element name='Who' type='x:string'/></x:schema></w:types>";
    for attributes in [
        "targetNamespace='urn:t'",
        "targetNamespace='urn:t' name='Tides'",
        "targetNamespace='urn:t' name='Other' p:note='x'",
        "name='Bare'",
    ] {
        contract_keeps(attributes, &format!("{types}{MESSAGES}{PORT_TYPE}"));
        contract_keeps(
            attributes,
            &format!(
                "<w:documentation>All\n  tides.</w:documentation><p:Policy level='2'><p:all/>text</p:Policy>{types}{MESSAGES}{PORT_TYPE}<w:portType name='Second'><w:documentation>More.</w:documentation><p:note/><w:operation name='next' p:x='y'><p:inner/><w:input name='one' message='t:In'/></w:operation><w:operation name='next'><w:input name='two' message='t:In'/></w:operation></w:portType>"
            ),
        );
    }
}

#[test]
fn bindings_of_every_kind() {
    let body = |extra: &str| {
        format!(
            "<w:operation name='next'><s:operation soapAction='urn:t:next'/><w:input><s:body use='literal'/>{extra}</w:input><w:output><s:body use='literal'/></w:output><w:fault name='Ebb'><s:fault name='Ebb' use='literal'/></w:fault></w:operation>"
        )
    };
    let bindings = [
        format!("<w:binding name='B' type='t:Tides'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/>{}</w:binding>", body("")),
        format!("<w:binding name='B' type='t:Tides'><w:documentation>Bound.</w:documentation><p:UsingPolicy w:required='true'/><s:binding style='rpc' transport='urn:post'/>{}</w:binding>", body("<s:header message='t:Head' part='who' use='literal'/>")),
        format!("<w:binding name='B' type='t:Tides'><s:binding/>{}</w:binding>", body("<s:header message='t:Head' part='who' use='encoded' encodingStyle='urn:e' namespace='urn:n'><s:headerfault message='t:Two' part='a' use='literal'/></s:header><s:header message='t:In' part='row' use='literal'/>")),
        format!("<w:binding name='B' type='t:Tides'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/>{}</w:binding>", body("<s:header message='t:Two' part='b' use='literal'/>")),
        format!("<w:binding name='B' type='t:Tides'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/>{}</w:binding><w:binding name='B12' type='t:Tides'><s12:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='next'><s12:operation soapAction='' style='rpc' soapActionRequired='false'/><w:input><s12:body use='literal' parts='day'/></w:input><w:output><s12:body use='literal'/></w:output></w:operation></w:binding>", body("<s:header message='t:Head' part='who' use='literal'/>")),
        "<w:binding name='B' type='t:Tides'><s:binding style='rpc' transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='next'><s:operation soapAction='urn:t:next'/><w:input><s:body use='encoded' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/' namespace='urn:t'/></w:input><w:output><s:body use='encoded' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/' namespace='urn:t'/></w:output><w:fault name='Ebb'><s:fault name='Ebb' use='encoded' encodingStyle='http://schemas.xmlsoap.org/soap/encoding/'/></w:fault></w:operation></w:binding>".into(),
        "<w:binding name='G' type='t:Tides'><h:binding verb='GET'/><w:operation name='next'><h:operation location='/next'/><w:input><h:urlEncoded/></w:input><w:output><m:mimeXml/></w:output><w:fault name='Ebb'/></w:operation><w:operation name='warn'><h:operation location='w/(day)'/><w:output name='call'><m:content part='tide' type='text/plain'/><m:content type='text/html'/></w:output></w:operation></w:binding>".into(),
        "<w:binding name='P' type='t:Tides'><h:binding verb='POST'/><w:operation name='next'><h:operation location='/next'/><w:input><m:content type='application/x-www-form-urlencoded'/></w:input><w:output><m:multipartRelated><m:part><s:body use='literal' parts='tide'/></m:part><m:part name='photo'><m:content part='a' type='image/jpeg'/></m:part></m:multipartRelated></w:output></w:operation></w:binding>".into(),
        "<w:binding name='M' type='t:Tides'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='next'><s:operation/><w:input><m:multipartRelated><m:part><s:body use='literal' parts='' namespace='urn:z'/></m:part></m:multipartRelated></w:input><w:output><p:odd>x</p:odd></w:output></w:operation><w:operation name='stray'><w:documentation>Not there.</w:documentation><w:input/></w:operation></w:binding>".into(),
        "<w:binding name='N' type='t:Tides'/><w:binding name='Q' type='t:Gone'><w:operation name='a'/></w:binding><w:binding name='R'/>".into(),
    ];
    let service = "<w:service name='S'><w:documentation>Day and night.</w:documentation><p:note/><w:port name='A' binding='t:B'><w:documentation>First.</w:documentation><s:address location='http://a'/></w:port><w:port name='B' binding='t:B'><s12:address location='http://b'/><p:Reference>x</p:Reference></w:port><w:port name='C' binding='t:G'><h:address location='http://c'/></w:port><w:port name='D' binding='t:Gone'/></w:service>";
    let types = "<w:types><x:schema targetNamespace='urn:t'><x:element name='Who' type='x:string'/></x:schema></w:types>";
    for binding in &bindings {
        contract_keeps(
            "targetNamespace='urn:t' name='Tides'",
            &format!("{types}{MESSAGES}{PORT_TYPE}{binding}{service}"),
        );
    }
}

#[test]
fn header_blocks_in_the_message_of_their_side() {
    let text = contract(
        "targetNamespace='urn:t' name='Tides'",
        "<w:types><x:schema targetNamespace='urn:t' elementFormDefault='qualified'><x:element name='Who' type='x:string'/><x:element name='next'><x:complexType><x:sequence/></x:complexType></x:element></x:schema></w:types>
        <w:message name='nextInput'><w:part name='parameters' element='t:next'/><w:part name='who' element='t:Who'/></w:message>
        <w:portType name='Tides'><w:operation name='next'><w:input message='t:nextInput'/></w:operation></w:portType>
        <w:binding name='TidesOverSoap11' type='t:Tides'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/><w:operation name='next'><s:operation soapAction='urn:t:next'/><w:input><s:body parts='parameters' use='literal'/><s:header message='t:nextInput' part='who' use='literal'/></w:input></w:operation></w:binding>",
    );
    let contract = load(&text);
    keeps(&contract);
    let text = charter_notation::contract(&contract, &Convention::default());
    assert!(text.contains("header who: Who in input\n    input {}\n"), "{text}");
    assert!(text.ends_with("binding TidesOverSoap11 = soap 1.1 document literal\n}\n"), "{text}");
}

#[test]
fn several_files_of_a_contract() {
    let head = "xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:x='http://www.w3.org/2001/XMLSchema'";
    let main = format!(
        "<w:definitions {head} xmlns:o='urn:o' targetNamespace='urn:t' name='Tides'><w:import namespace='urn:o' location='o.wsdl'/><w:import namespace='urn:t' location='t.wsdl'/><w:service name='S'/></w:definitions>"
    );
    let other = format!(
        "<w:definitions {head} xmlns:t='urn:o' targetNamespace='urn:o' name='Old'><w:types><x:schema targetNamespace='urn:o'><x:simpleType name='A'><x:restriction base='x:int'/></x:simpleType></x:schema></w:types><w:message name='M'><w:part name='a' type='t:A'/></w:message><w:portType name='P'><w:operation name='do'><w:input message='t:M'/></w:operation></w:portType></w:definitions>"
    );
    let same = format!(
        "<w:definitions {head} xmlns:t='urn:o' targetNamespace='urn:t'><w:message name='M'><w:part name='a' type='t:A'/></w:message><w:portType name='P'><w:operation name='do'><w:input message='t:M'/></w:operation></w:portType></w:definitions>"
    );
    let store = Overlay::of(&[("a.wsdl", &*main), ("o.wsdl", &*other), ("t.wsdl", &*same)]);
    let contract = Contract::load(&store, &Location::from_argument("a.wsdl"), Limits::default()).unwrap();
    keeps(&contract);
    let text = charter_notation::contract(&contract, &Convention::default());
    assert!(text.contains("contract Old \"urn:o\" {"), "{text}");
}

#[test]
fn what_is_wrong_is_kept_as_it_is() {
    for content in [
        "<x:simpleType name='T'><x:union/></x:simpleType>",
        "<x:element name='e'><x:complexType mixed='maybe'/><x:key name='k'><x:selector xpath='*'/></x:key></x:element>",
        "<x:element name='e'><x:complexType/><x:key name='k'><x:selector xpath='z:a|b'/><x:field xpath='*'/></x:key></x:element>",
        "<x:complexType name='T'><x:sequence><x:sequence/><x:element name='a' form='half'/></x:sequence><x:attribute name='b' form='half'/></x:complexType>",
        "<x:complexType name='1 T'><x:group ref='t:1'/></x:complexType><x:element/><x:attribute name='a' use='never'/>",
        "<x:complexType name='T'><x:sequence minOccurs='many'><x:any namespace='' processContents='no'/></x:sequence><x:sequence/></x:complexType>",
    ] {
        schema_keeps(content);
    }
    keeps(&load(
        "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' elementFormDefault='x'><x:element name='a'/></x:schema>",
    ));
    contract_keeps(
        "targetNamespace='urn:t' name='T'",
        "<w:types><x:schema targetNamespace='urn:t' attributeFormDefault='y'><x:element name='a'/></x:schema></w:types>",
    );
}

#[test]
fn words_in_the_wrong_place_are_said_and_passed_over() {
    let text = "contract A \"urn:a\" {\n type T { a: string about? b\n c: string with: x, @d: int about? }\n operation o { input with: x }\n}\n";
    let errors = read(text, &Convention::default()).unwrap_err();
    assert_eq!(errors.len(), 3, "{errors:?}");
    // What a value means may be more than words.
    schema_keeps(
        "<x:simpleType name='T'><x:restriction base='x:string'><x:enumeration value='a'><x:annotation><x:appinfo>b</x:appinfo></x:annotation></x:enumeration></x:restriction></x:simpleType>",
    );
}
