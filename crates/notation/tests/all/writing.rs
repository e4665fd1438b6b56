//! The notation of what the demo does not hold.

use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::{Limits, Location, Overlay};

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

/// The notation of a component of a schema.
#[track_caller]
fn shows(content: &str, path: &str, expected: &str) {
    let contract = load(&format!(
        "<x:schema xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' xmlns:v='urn:v' targetNamespace='urn:t' elementFormDefault='qualified'>{content}</x:schema>"
    ));
    let component = contract.find(path).unwrap();
    assert_eq!(charter_notation::component(&contract, component, &Convention::default()), expected);
}

#[test]
fn simple_types() {
    for (body, expected) in [
        ("<x:restriction base='x:string'><x:length value='4'/></x:restriction>", "string length 4"),
        ("<x:restriction base='x:string'><x:minLength value='4'/></x:restriction>", "string length 4.."),
        ("<x:restriction base='x:string'><x:maxLength value='4'/></x:restriction>", "string length ..4"),
        (
            "<x:restriction base='x:int'><x:minInclusive value='-4'/><x:maxExclusive value='9'/></x:restriction>",
            "int range -4..<9",
        ),
        ("<x:restriction base='x:int'><x:maxExclusive value='9'/></x:restriction>", "int range ..<9"),
        ("<x:restriction base='x:int'><x:minExclusive value='9'/></x:restriction>", "int range 9<.."),
        (
            "<x:restriction base='x:decimal'><x:totalDigits value='9'/><x:fractionDigits value='2'/></x:restriction>",
            "decimal digits 9 decimals 2",
        ),
        (
            "<x:restriction base='x:string'><x:whiteSpace value='collapse'/></x:restriction>",
            "string white-space collapse",
        ),
        (
            "<x:restriction base='x:string'><x:pattern value='a\\d'/><x:pattern value='b\"'/></x:restriction>",
            "string like \"a\\\\d\" or \"b\\\"\"",
        ),
        ("<x:list itemType='x:date'/>", "list of date"),
        ("<x:union memberTypes='x:date t:T2'/>", "either date or T2"),
        (
            "<x:union><x:simpleType><x:restriction base='x:int'><x:maxInclusive value='4'/></x:restriction></x:simpleType></x:union>",
            "either int range ..4",
        ),
        ("<x:restriction base='x:QName'/>", "QName"),
    ] {
        let content = format!(
            "<x:simpleType name='T'>{body}</x:simpleType><x:simpleType name='T2'><x:restriction base='x:int'/></x:simpleType>"
        );
        shows(&content, "type/T", &format!("type T = {expected}\n"));
    }
}

#[test]
fn complex_types() {
    for (ty, expected) in [
        ("<x:complexType name='T'/>", "type T {\n  empty\n}\n"),
        ("<x:complexType name='T' mixed='true' abstract='true'/>", "abstract mixed type T {\n  empty\n}\n"),
        (
            "<x:complexType name='T'><x:sequence minOccurs='0' maxOccurs='unbounded'><x:element name='a' type='x:int' maxOccurs='unbounded'/><x:element name='b' minOccurs='2' maxOccurs='5' type='t:T'/></x:sequence></x:complexType>",
            "type T {\n  sequence {\n    a: int+\n    b: T[2..5]\n  }*\n}\n",
        ),
        (
            "<x:complexType name='T'><x:sequence><x:element ref='t:e' minOccurs='0'/><x:group ref='t:G'/><x:any namespace='##other' processContents='lax' maxOccurs='3'/></x:sequence><x:attributeGroup ref='t:A'/><x:anyAttribute processContents='skip'/></x:complexType>",
            "type T {\n  element e?\n  group G\n  any[1..3] from other namespaces lax\n  attributes A\n  any attribute skip\n}\n",
        ),
        (
            "<x:complexType name='T'><x:sequence><x:element name='inner' minOccurs='0'><x:complexType><x:choice><x:element name='l' type='x:int' fixed='4'/><x:element name='r'><x:simpleType><x:restriction base='x:int'><x:maxInclusive value='9'/></x:restriction></x:simpleType></x:element></x:choice></x:complexType></x:element></x:sequence></x:complexType>",
            "type T {\n  inner: {\n    choice {\n      l: int fixed \"4\"\n      r: int range ..9\n    }\n  }?\n}\n",
        ),
        (
            "<x:complexType name='T'><x:simpleContent><x:restriction base='t:S'><x:maxInclusive value='4'/><x:attribute name='u' use='prohibited'/></x:restriction></x:simpleContent></x:complexType>",
            "type T = restricting S range ..4 {\n  @u prohibited\n}\n",
        ),
        (
            "<x:complexType name='T'><x:annotation><x:documentation>Two\n   lines.</x:documentation></x:annotation><x:sequence><x:element name='a' nillable='true' default='1' type='x:int'><x:annotation><x:documentation>Says.</x:documentation></x:annotation></x:element></x:sequence><x:attribute ref='xml:lang' use='required'/></x:complexType>",
            "type T {\n  about \"Two\n    lines.\"\n  a: int nillable default \"1\" about \"Says.\"\n  attribute xml:lang\n}\n",
        ),
    ] {
        let others = "<x:element name='e'/><x:group name='G'><x:sequence/></x:group><x:attributeGroup name='A'/><x:complexType name='S'><x:simpleContent><x:extension base='x:int'><x:attribute name='u'/></x:extension></x:simpleContent></x:complexType>";
        shows(&format!("{ty}{others}"), "type/T", expected);
    }
}

#[test]
fn global_elements_and_groups() {
    let content = "<x:element name='head' abstract='true' type='x:int'/><x:element name='member' type='x:int' substitutionGroup='t:head'/>
        <x:element name='day'><x:complexType><x:sequence><x:element name='visit' type='x:date' maxOccurs='unbounded'/></x:sequence></x:complexType><x:unique name='once'><x:selector xpath='t:visit'/><x:field xpath='.'/></x:unique></x:element>
        <x:group name='G'><x:all><x:element name='a' type='x:int'/></x:all></x:group><x:attribute name='unit' type='x:token' default='m'/>";
    shows(content, "element/head", "element head: int abstract\n");
    shows(content, "element/member", "element member: int replaces head\n");
    shows(content, "element/day", "element day {\n  visit: date+\n}\nunique once of \"t:visit\" by \".\"\n");
    shows(content, "group/G", "group G {\n  all {\n    a: int\n  }\n}\n");
    shows(content, "attribute/unit", "attribute unit: token default \"m\"\n");
}

#[test]
fn a_type_of_ones_own_with_a_built_in_name_is_told_apart() {
    let content = "<x:simpleType name='date'><x:restriction base='x:date'/></x:simpleType><x:element name='a' type='t:date'/><x:element name='b' type='x:date'/>";
    shows(content, "type/date", "type date = date\n");
    shows(content, "element/a", "element a: t:date\n");
    shows(content, "element/b", "element b: date\n");
}

#[test]
fn the_whole_of_a_contract_in_other_styles() {
    let contract = load(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:h='http://schemas.xmlsoap.org/wsdl/http/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'>
<w:message name='In'><w:part name='day' type='x:date'/><w:part name='row' type='x:int'/></w:message><w:message name='Out'><w:part name='tide' type='x:time'/></w:message>
<w:portType name='Tides'><w:documentation>All tides.</w:documentation><w:operation name='next' parameterOrder='row day'><w:documentation>The next.</w:documentation><w:input message='t:In'/><w:output message='t:Out'/></w:operation></w:portType>
<w:portType name='Notices'><w:operation name='warn'><w:output name='call' message='t:Out'/></w:operation></w:portType>
<w:binding name='Rpc' type='t:Tides'><s:binding style='rpc' transport='urn:post'/><w:operation name='next'><s:operation soapAction=''/><w:input><s:body use='encoded'/></w:input><w:output><s:body use='encoded'/></w:output></w:operation></w:binding>
<w:binding name='Get' type='t:Tides'><h:binding verb='GET'/><w:operation name='next'><h:operation location='/next'/><w:input><h:urlEncoded/></w:input><w:output/></w:operation></w:binding>
<w:binding name='Bare' type='t:Notices'/>
</w:definitions>",
    );
    assert_eq!(
        charter_notation::contract(&contract, &Convention::default()),
        r#"contract "urn:t" {
  port-type Tides {
    about "All tides."

    operation next {
      about "The next."
      parameters row, day
      input message In (day: date, row: int)
      output message Out (tide: time)
    }
  }

  port-type Notices {
    operation warn from the provider {
      output named call message Out (tide: time)
    }
  }

  binding Rpc = soap 1.1 rpc encoded over "urn:post" {
    operation next action "" {
      input {
        body encoded
      }
      output {
        body encoded
      }
    }
  }

  binding Get = http GET {
    operation next at "/next" {
      input {
        url-encoded
      }
      output {}
    }
  }

  binding Bare of Notices {
    omit warn
  }
}
"#
    );
}

#[test]
fn a_broken_contract_shows_what_there_is() {
    let contract = load(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:t='urn:t' targetNamespace='urn:t'><w:message name='M'><w:part name='p'/><w:part name='q' element='t:gone'/></w:message><w:portType name='P'><w:operation name='o'><w:input message='t:Gone'/><w:output message='t:M'/></w:operation><w:operation name='n'><w:fault message='z:Z'/></w:operation></w:portType><w:service name='S'><w:port name='Q' binding='t:Gone'/></w:service></w:definitions>",
    );
    let text = charter_notation::contract(&contract, &Convention::default());
    assert!(text.contains("input message Gone\n"), "{text}");
    assert!(text.contains("output message M (p, q: element gone)"), "{text}");
    assert!(text.contains("<wsdl:fault message=\"z:Z\"/>"), "{text}");
    assert!(text.contains("port Q = Gone\n"), "{text}");
}
