//! Each property that `set` knows: what it writes, and what it refuses.

use std::collections::BTreeMap;

use crate::program::folder::Folder;

const QUAYS: &str = r#"contract Quays "urn:saltmere:quays:1" {
  type Side = string length 1..9
  type Depth = decimal
  type Berth {
    no: int
    side: Side?
    @deep: boolean?
  }
  type Pier extends Berth {
    lit: boolean
  }
  type Mark {
    text: string
  }
  element berth: Berth
  element pier: Pier
  attribute unit: token
  operation moor {
    input { berth: Berth }
    output {}
  }
  message Note (text: string, mark: element berth)
  binding QuaysOverSoap11 = soap 1.1 document literal
  binding QuaysHttp = http GET
  service QuaysService {
    port QuaysPort = QuaysOverSoap11 at "http://quay.saltmere.example/"
  }
}
"#;

/// A component, a property with its value, and the lines that go and come.
const DONE: &[(&str, &str, &[&str])] = &[
    ("contract", "about=Where ships lie.", &["+ <wsdl:documentation>Where ships lie.</wsdl:documentation>"]),
    (
        "contract",
        "elements=unqualified",
        &[
            r#"- <xs:schema targetNamespace="urn:saltmere:quays:1" elementFormDefault="qualified">"#,
            r#"+ <xs:schema targetNamespace="urn:saltmere:quays:1" elementFormDefault="unqualified">"#,
        ],
    ),
    (
        "contract",
        "attributes=qualified",
        &[
            r#"- <xs:schema targetNamespace="urn:saltmere:quays:1" elementFormDefault="qualified">"#,
            r#"+ <xs:schema targetNamespace="urn:saltmere:quays:1" elementFormDefault="qualified" attributeFormDefault="qualified">"#,
        ],
    ),
    (
        "contract",
        "namespace=urn:saltmere:quays:2",
        &[
            r#"- targetNamespace="urn:saltmere:quays:1""#,
            r#"- xmlns:tns="urn:saltmere:quays:1""#,
            r#"- <xs:schema targetNamespace="urn:saltmere:quays:1" elementFormDefault="qualified">"#,
            r#"- <soap:operation soapAction="urn:saltmere:quays:1:moor"/>"#,
            r#"+ targetNamespace="urn:saltmere:quays:2""#,
            r#"+ xmlns:tns="urn:saltmere:quays:2""#,
            r#"+ <xs:schema targetNamespace="urn:saltmere:quays:2" elementFormDefault="qualified">"#,
            r#"+ <soap:operation soapAction="urn:saltmere:quays:2:moor"/>"#,
        ],
    ),
    (
        "type/Side",
        "about=Of a ship.",
        &["+ <xs:annotation>", "+ <xs:documentation>Of a ship.</xs:documentation>", "+ </xs:annotation>"],
    ),
    (
        "type/Side",
        "length=..5",
        &[
            r#"- <xs:minLength value="1"/>"#,
            r#"- <xs:maxLength value="9"/>"#,
            r#"+ <xs:maxLength value="5"/>"#,
        ],
    ),
    (
        "type/Side",
        "length=4",
        &[r#"- <xs:minLength value="1"/>"#, r#"- <xs:maxLength value="9"/>"#, r#"+ <xs:length value="4"/>"#],
    ),
    (
        "type/Side",
        "length=",
        &[
            r#"- <xs:restriction base="xs:string">"#,
            r#"- <xs:minLength value="1"/>"#,
            r#"- <xs:maxLength value="9"/>"#,
            "- </xs:restriction>",
            r#"+ <xs:restriction base="xs:string"/>"#,
        ],
    ),
    ("type/Side", "like=[A-Z]+", &[r#"+ <xs:pattern value="[A-Z]+"/>"#]),
    (
        "type/Side",
        r#"one-of="east", "west""#,
        &[r#"+ <xs:enumeration value="east"/>"#, r#"+ <xs:enumeration value="west"/>"#],
    ),
    ("type/Side", "white-space=collapse", &[r#"+ <xs:whiteSpace value="collapse"/>"#]),
    (
        "type/Side",
        "base=token",
        &[r#"- <xs:restriction base="xs:string">"#, r#"+ <xs:restriction base="xs:token">"#],
    ),
    (
        "type/Side",
        "final=all",
        &[r#"- <xs:simpleType name="Side">"#, r##"+ <xs:simpleType name="Side" final="#all">"##],
    ),
    (
        "type/Side",
        "final=list",
        &[r#"- <xs:simpleType name="Side">"#, r#"+ <xs:simpleType name="Side" final="list">"#],
    ),
    (
        "type/Depth",
        "range=0..30",
        &[
            r#"- <xs:restriction base="xs:decimal"/>"#,
            r#"+ <xs:restriction base="xs:decimal">"#,
            r#"+ <xs:minInclusive value="0"/>"#,
            r#"+ <xs:maxInclusive value="30"/>"#,
            "+ </xs:restriction>",
        ],
    ),
    (
        "type/Depth",
        "range=0<..<30",
        &[
            r#"- <xs:restriction base="xs:decimal"/>"#,
            r#"+ <xs:restriction base="xs:decimal">"#,
            r#"+ <xs:minExclusive value="0"/>"#,
            r#"+ <xs:maxExclusive value="30"/>"#,
            "+ </xs:restriction>",
        ],
    ),
    (
        "type/Depth",
        "digits=4",
        &[
            r#"- <xs:restriction base="xs:decimal"/>"#,
            r#"+ <xs:restriction base="xs:decimal">"#,
            r#"+ <xs:totalDigits value="4"/>"#,
            "+ </xs:restriction>",
        ],
    ),
    (
        "type/Depth",
        "decimals=1",
        &[
            r#"- <xs:restriction base="xs:decimal"/>"#,
            r#"+ <xs:restriction base="xs:decimal">"#,
            r#"+ <xs:fractionDigits value="1"/>"#,
            "+ </xs:restriction>",
        ],
    ),
    (
        "type/Depth",
        "base=int",
        &[r#"- <xs:restriction base="xs:decimal"/>"#, r#"+ <xs:restriction base="xs:int"/>"#],
    ),
    (
        "type/Berth",
        "abstract=true",
        &[r#"- <xs:complexType name="Berth">"#, r#"+ <xs:complexType name="Berth" abstract="true">"#],
    ),
    (
        "type/Mark",
        "mixed=true",
        &[r#"- <xs:complexType name="Mark">"#, r#"+ <xs:complexType name="Mark" mixed="true">"#],
    ),
    (
        "type/Berth",
        "block=extension",
        &[r#"- <xs:complexType name="Berth">"#, r#"+ <xs:complexType name="Berth" block="extension">"#],
    ),
    (
        "type/Berth",
        "final=restriction",
        &[r#"- <xs:complexType name="Berth">"#, r#"+ <xs:complexType name="Berth" final="restriction">"#],
    ),
    (
        "type/Berth/no",
        "type=long",
        &[r#"- <xs:element name="no" type="xs:int"/>"#, r#"+ <xs:element name="no" type="xs:long"/>"#],
    ),
    (
        "type/Berth/no",
        "type=Side",
        &[r#"- <xs:element name="no" type="xs:int"/>"#, r#"+ <xs:element name="no" type="tns:Side"/>"#],
    ),
    (
        "type/Berth/no",
        "type=",
        &[r#"- <xs:element name="no" type="xs:int"/>"#, r#"+ <xs:element name="no"/>"#],
    ),
    (
        "type/Berth/no",
        "occurs=?",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" minOccurs="0"/>"#,
        ],
    ),
    (
        "type/Berth/no",
        "occurs=*",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" minOccurs="0" maxOccurs="unbounded"/>"#,
        ],
    ),
    (
        "type/Berth/no",
        "occurs=2..5",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" minOccurs="2" maxOccurs="5"/>"#,
        ],
    ),
    (
        "type/Berth/no",
        "nillable=true",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" nillable="true"/>"#,
        ],
    ),
    (
        "type/Berth/no",
        "default=4",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" default="4"/>"#,
        ],
    ),
    (
        "type/Berth/no",
        "fixed=7",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" fixed="7"/>"#,
        ],
    ),
    (
        "type/Berth/no",
        "form=unqualified",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no" type="xs:int" form="unqualified"/>"#,
        ],
    ),
    ("type/Berth/no", "form=qualified", &[]),
    (
        "type/Berth/no",
        "range=1..9",
        &[
            r#"- <xs:element name="no" type="xs:int"/>"#,
            r#"+ <xs:element name="no">"#,
            "+ <xs:simpleType>",
            r#"+ <xs:restriction base="xs:int">"#,
            r#"+ <xs:minInclusive value="1"/>"#,
            r#"+ <xs:maxInclusive value="9"/>"#,
            "+ </xs:restriction>",
            "+ </xs:simpleType>",
            "+ </xs:element>",
        ],
    ),
    (
        "type/Berth/side",
        "length=3",
        &[
            r#"- <xs:element name="side" type="tns:Side" minOccurs="0"/>"#,
            r#"+ <xs:element name="side" minOccurs="0">"#,
            "+ <xs:simpleType>",
            r#"+ <xs:restriction base="tns:Side">"#,
            r#"+ <xs:length value="3"/>"#,
            "+ </xs:restriction>",
            "+ </xs:simpleType>",
            "+ </xs:element>",
        ],
    ),
    (
        "type/Berth/side",
        "occurs=1",
        &[
            r#"- <xs:element name="side" type="tns:Side" minOccurs="0"/>"#,
            r#"+ <xs:element name="side" type="tns:Side"/>"#,
        ],
    ),
    (
        "type/Berth/@deep",
        "use=required",
        &[
            r#"- <xs:attribute name="deep" type="xs:boolean"/>"#,
            r#"+ <xs:attribute name="deep" type="xs:boolean" use="required"/>"#,
        ],
    ),
    (
        "type/Berth/@deep",
        "use=prohibited",
        &[
            r#"- <xs:attribute name="deep" type="xs:boolean"/>"#,
            r#"+ <xs:attribute name="deep" type="xs:boolean" use="prohibited"/>"#,
        ],
    ),
    (
        "type/Berth/@deep",
        "occurs=1",
        &[
            r#"- <xs:attribute name="deep" type="xs:boolean"/>"#,
            r#"+ <xs:attribute name="deep" type="xs:boolean" use="required"/>"#,
        ],
    ),
    (
        "type/Berth/@deep",
        "default=true",
        &[
            r#"- <xs:attribute name="deep" type="xs:boolean"/>"#,
            r#"+ <xs:attribute name="deep" type="xs:boolean" default="true"/>"#,
        ],
    ),
    (
        "type/Berth/@deep",
        "form=qualified",
        &[
            r#"- <xs:attribute name="deep" type="xs:boolean"/>"#,
            r#"+ <xs:attribute name="deep" type="xs:boolean" form="qualified"/>"#,
        ],
    ),
    (
        "element/berth",
        "abstract=true",
        &[
            r#"- <xs:element name="berth" type="tns:Berth"/>"#,
            r#"+ <xs:element name="berth" type="tns:Berth" abstract="true"/>"#,
        ],
    ),
    (
        "element/berth",
        "nillable=true",
        &[
            r#"- <xs:element name="berth" type="tns:Berth"/>"#,
            r#"+ <xs:element name="berth" type="tns:Berth" nillable="true"/>"#,
        ],
    ),
    (
        "element/berth",
        "block=substitution",
        &[
            r#"- <xs:element name="berth" type="tns:Berth"/>"#,
            r#"+ <xs:element name="berth" type="tns:Berth" block="substitution"/>"#,
        ],
    ),
    (
        "element/pier",
        "replaces=berth",
        &[
            r#"- <xs:element name="pier" type="tns:Pier"/>"#,
            r#"+ <xs:element name="pier" type="tns:Pier" substitutionGroup="tns:berth"/>"#,
        ],
    ),
    (
        "element/pier",
        "type=Side",
        &[r#"- <xs:element name="pier" type="tns:Pier"/>"#, r#"+ <xs:element name="pier" type="tns:Side"/>"#],
    ),
    (
        "attribute/unit",
        "type=string",
        &[
            r#"- <xs:attribute name="unit" type="xs:token"/>"#,
            r#"+ <xs:attribute name="unit" type="xs:string"/>"#,
        ],
    ),
    (
        "attribute/unit",
        "default=m",
        &[
            r#"- <xs:attribute name="unit" type="xs:token"/>"#,
            r#"+ <xs:attribute name="unit" type="xs:token" default="m"/>"#,
        ],
    ),
    (
        "message/Note/part/text",
        "type=Side",
        &[r#"- <wsdl:part name="text" type="xs:string"/>"#, r#"+ <wsdl:part name="text" type="tns:Side"/>"#],
    ),
    (
        "message/Note/part/text",
        "element=berth",
        &[
            r#"- <wsdl:part name="text" type="xs:string"/>"#,
            r#"+ <wsdl:part name="text" element="tns:berth"/>"#,
        ],
    ),
    (
        "message/Note/part/mark",
        "element=pier",
        &[
            r#"- <wsdl:part name="mark" element="tns:berth"/>"#,
            r#"+ <wsdl:part name="mark" element="tns:pier"/>"#,
        ],
    ),
    (
        "operation/moor",
        "about=Ties a ship up.",
        &["+ <wsdl:documentation>Ties a ship up.</wsdl:documentation>"],
    ),
    (
        "operation/moor/input",
        "about=What is sent.",
        &[
            r#"- <wsdl:input message="tns:moorInput"/>"#,
            r#"+ <wsdl:input message="tns:moorInput">"#,
            "+ <wsdl:documentation>What is sent.</wsdl:documentation>",
            "+ </wsdl:input>",
        ],
    ),
    (
        "binding/QuaysOverSoap11",
        "style=rpc",
        &[
            r#"- <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>"#,
            r#"+ <soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>"#,
        ],
    ),
    (
        "binding/QuaysOverSoap11",
        "transport=urn:x",
        &[
            r#"- <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>"#,
            r#"+ <soap:binding style="document" transport="urn:x"/>"#,
        ],
    ),
    (
        "binding/QuaysOverSoap11",
        "use=encoded",
        &[
            r#"- <soap:body use="literal"/>"#,
            r#"- <soap:body use="literal"/>"#,
            r#"+ <soap:body use="encoded"/>"#,
            r#"+ <soap:body use="encoded"/>"#,
        ],
    ),
    (
        "binding/QuaysOverSoap11/operation/moor",
        "action=urn:saltmere:moor",
        &[
            r#"- <soap:operation soapAction="urn:saltmere:quays:1:moor"/>"#,
            r#"+ <soap:operation soapAction="urn:saltmere:moor"/>"#,
        ],
    ),
    (
        "binding/QuaysOverSoap11/operation/moor",
        "action=",
        &[r#"- <soap:operation soapAction="urn:saltmere:quays:1:moor"/>"#, "+ <soap:operation/>"],
    ),
    (
        "binding/QuaysOverSoap11/operation/moor",
        "style=rpc",
        &[
            r#"- <soap:operation soapAction="urn:saltmere:quays:1:moor"/>"#,
            r#"+ <soap:operation soapAction="urn:saltmere:quays:1:moor" style="rpc"/>"#,
        ],
    ),
    (
        "binding/QuaysOverSoap11/operation/moor/input",
        "use=encoded",
        &[r#"- <soap:body use="literal"/>"#, r#"+ <soap:body use="encoded"/>"#],
    ),
    (
        "binding/QuaysHttp/operation/moor",
        "location=/tie",
        &[r#"- <http:operation location="/moor"/>"#, r#"+ <http:operation location="/tie"/>"#],
    ),
    (
        "service/QuaysService/port/QuaysPort",
        "address=https://quay.saltmere.example/",
        &[
            r#"- <soap:address location="http://quay.saltmere.example/"/>"#,
            r#"+ <soap:address location="https://quay.saltmere.example/"/>"#,
        ],
    ),
    (
        "service/QuaysService/port/QuaysPort",
        "address=",
        &[r#"- <soap:address location="http://quay.saltmere.example/"/>"#, "+ <soap:address/>"],
    ),
    (
        "service/QuaysService/port/QuaysPort",
        "binding=QuaysHttp",
        &[
            r#"- <wsdl:port name="QuaysPort" binding="tns:QuaysOverSoap11">"#,
            r#"+ <wsdl:port name="QuaysPort" binding="tns:QuaysHttp">"#,
        ],
    ),
];

/// A component, a property with a value that it cannot have, and what is said.
const REFUSED: &[(&str, &str, &str)] = &[
    (
        "contract",
        "elements=both",
        r#"contract: "both" is no value of elements: expected qualified or unqualified"#,
    ),
    (
        "contract",
        "type=string",
        "contract: it has no type: that is set of an element, an attribute or a message part",
    ),
    (
        "type/Side",
        "length=9..1",
        "type/Side: the change would do harm: minLength 9 is more than maxLength 1 (minLength-less-than-equal-to-maxLength in type/Side)",
    ),
    (
        "type/Side",
        "length=long",
        r#"type/Side: the change would do harm: "long" is no value for length (schema-attribute in type/Side)"#,
    ),
    (
        "type/Side",
        "like=[A-Z",
        r#"type/Side: the change would do harm: this is no regular expression: a "[" is not closed (pattern-syntax in type/Side)"#,
    ),
    ("type/Side", "one-of=east", r#"type/Side: "east" is no value of one-of: expected a value in quotes"#),
    (
        "type/Side",
        "white-space=squeeze",
        r#"type/Side: the change would do harm: "squeeze" is no way to treat white space (schema-attribute in type/Side)"#,
    ),
    (
        "type/Side",
        "range=1..2",
        "type/Side: the change would do harm: minInclusive does not apply to a string (cos-applicable-facets in type/Side)",
    ),
    (
        "type/Side",
        "digits=3",
        "type/Side: the change would do harm: totalDigits does not apply to a string (cos-applicable-facets in type/Side)",
    ),
    (
        "type/Side",
        "base=Berth",
        "type/Side: the change would do harm: Berth is a complex type, and only a simple type can stand here (st-props-correct in type/Side)",
    ),
    (
        "type/Side",
        "base=Nothing",
        r#"type/Side: the change would do harm: there is no type "Nothing" in urn:saltmere:quays:1 (src-resolve in type/Side)"#,
    ),
    (
        "type/Side",
        "final=some",
        r#"type/Side: "some" is no value of final: expected all, none, extension, restriction, substitution, list or union"#,
    ),
    (
        "type/Side",
        "block=all",
        "type/Side: the change would do harm: the attribute block has no place on simpleType here (schema-attribute in type/Side)",
    ),
    (
        "type/Side",
        "abstract=true",
        "type/Side: it has no abstract: that is set of an element or a complex type: true or false",
    ),
    (
        "type/Depth",
        "range=30..0",
        "type/Depth: the change would do harm: no value lies between 30 and 0 (minInclusive-less-than-equal-to-maxInclusive in type/Depth)",
    ),
    (
        "type/Depth",
        "range=deep",
        r#"type/Depth: "deep" is no value of range: expected a range, such as 0..30, 0<.. or ..<30"#,
    ),
    (
        "type/Depth",
        "decimals=-1",
        r#"type/Depth: the change would do harm: "-1" is no value for fractionDigits (schema-attribute in type/Depth)"#,
    ),
    (
        "type/Berth",
        "abstract=perhaps",
        r#"type/Berth: "perhaps" is no value of abstract: expected true or false"#,
    ),
    (
        "type/Berth",
        "mixed=true",
        "type/Berth: the change would do harm: Berth allows text between its elements, so its extension must (cos-ct-extends in type/Pier)",
    ),
    ("type/Berth", "length=3", "type/Berth: it has no length: that is set of a simple type, such as 1..60"),
    (
        "type/Pier",
        "base=Side",
        "type/Pier: the change would do harm: Side is a simple type, and complexContent needs a complex one (src-ct in type/Pier)",
    ),
    (
        "type/Berth/no",
        "type=Gone",
        r#"type/Berth/no: the change would do harm: there is no type "Gone" in urn:saltmere:quays:1 (src-resolve in type/Berth/no)"#,
    ),
    (
        "type/Berth/no",
        "occurs=5..2",
        "type/Berth/no: the change would do harm: minOccurs 5 is more than maxOccurs 2 (p-props-correct in type/Berth/no)",
    ),
    (
        "type/Berth/no",
        "occurs=often",
        r#"type/Berth/no: "often" is no value of occurs: expected ?, *, +, a number, or two, such as 2..5 or 2.."#,
    ),
    (
        "type/Berth/no",
        "default=four",
        r#"type/Berth/no: the change would do harm: "four" is not an int, so it cannot be the default value (e-props-correct in type/Berth/no)"#,
    ),
    (
        "type/Berth/no",
        "replaces=pier",
        "type/Berth/no: the change would do harm: the attribute substitutionGroup has no place on element here (schema-attribute in type/Berth/no)",
    ),
    (
        "type/Berth/@deep",
        "use=maybe",
        r#"type/Berth/@deep: "maybe" is no value of use: expected required or optional or prohibited"#,
    ),
    (
        "type/Berth/@deep",
        "default=deep",
        r#"type/Berth/@deep: the change would do harm: "deep" is not a boolean, so it cannot be the default value (a-props-correct in type/Berth/@deep)"#,
    ),
    (
        "type/Berth/@deep",
        "nillable=true",
        "type/Berth/@deep: it has no nillable: that is set of an element: true or false",
    ),
    (
        "element/berth",
        "replaces=Gone",
        r#"element/berth: the change would do harm: there is no element "Gone" in urn:saltmere:quays:1 (src-resolve in element/berth)"#,
    ),
    (
        "element/berth",
        "occurs=2",
        "element/berth: the change would do harm: the attribute minOccurs has no place on element here (schema-attribute in element/berth)",
    ),
    (
        "element/berth",
        "default=x",
        r#"element/berth: the change would do harm: "berth" has elements inside, so it can have no default or fixed value (e-props-correct in element/berth)"#,
    ),
    (
        "attribute/unit",
        "occurs=1",
        "attribute/unit: it has no occurs: that is set of a local element, such as ?, *, 1, 2..5 or 1..; a local attribute: ? or 1",
    ),
    (
        "message/Note/part/text",
        "element=Gone",
        r#"message/Note/part/text: the change would do harm: there is no element "Gone" in urn:saltmere:quays:1 (element-unknown in message/Note/part/text)"#,
    ),
    (
        "message/Note/part/text",
        "occurs=2",
        "message/Note/part/text: it has no occurs: that is set of a local element, such as ?, *, 1, 2..5 or 1..; a local attribute: ? or 1",
    ),
    (
        "operation/moor",
        "action=urn:x",
        "operation/moor: it has no action: that is set of an operation of a binding",
    ),
    (
        "binding/QuaysOverSoap11",
        "style=free",
        r#"binding/QuaysOverSoap11: "free" is no value of style: expected document or rpc"#,
    ),
    (
        "binding/QuaysOverSoap11",
        "use=either",
        r#"binding/QuaysOverSoap11: "either" is no value of use: expected literal or encoded"#,
    ),
    (
        "binding/QuaysOverSoap11/operation/moor",
        "location=/moor",
        "binding/QuaysOverSoap11/operation/moor: the change would do harm: operation has no attribute location (wsdl-attribute in binding/QuaysOverSoap11/operation/moor)",
    ),
    (
        "binding/QuaysHttp/operation/moor",
        "action=urn:x",
        "binding/QuaysHttp/operation/moor: the change would do harm: operation has no attribute soapAction (wsdl-attribute in binding/QuaysHttp/operation/moor)",
    ),
    (
        "service/QuaysService/port/QuaysPort",
        "binding=Gone",
        r#"service/QuaysService/port/QuaysPort: the change would do harm: there is no binding "Gone" in urn:saltmere:quays:1 (binding-unknown in service/QuaysService/port/QuaysPort)"#,
    ),
    (
        "service/QuaysService",
        "address=https://quay.saltmere.example/",
        "service/QuaysService: it has no address: that is set of a port",
    ),
    ("type/Berth", "ocurs=2", r#"type/Berth: there is no property "ocurs"; did you mean occurs?"#),
    ("type/Gone", "about=x", r#"there is no "type/Gone" in this contract"#),
];

/// The contract, as it is written.
fn quays() -> (Folder, String) {
    let folder = Folder::empty();
    folder.write("quays.charter", QUAYS);
    folder.run("new --from quays.charter -o quays.wsdl").ends(0);
    let text = folder.read("quays.wsdl");
    (folder, text)
}

/// The lines of one text that the other has not, as often as it has them.
fn surplus<'t>(text: &'t str, other: &'t str, sign: char) -> Vec<String> {
    let mut left: BTreeMap<&str, usize> = BTreeMap::new();
    other.lines().for_each(|line| *left.entry(line.trim()).or_default() += 1);
    let mut found = Vec::new();
    for line in text.lines().map(str::trim) {
        match left.get_mut(line).filter(|count| **count > 0) {
            Some(count) => *count -= 1,
            None => found.push(format!("{sign} {line}")),
        }
    }
    found
}

#[test]
fn a_property_is_written_where_it_belongs() {
    let (folder, before) = quays();
    for (path, setting, lines) in DONE {
        folder.write("quays.wsdl", &before);
        // A blank in a value is no end of a word.
        folder.run(&format!("set quays.wsdl {path} {}", setting.replace(' ', "~"))).ends(0);
        let after = folder.read("quays.wsdl");
        let told = [surplus(&before, &after, '-'), surplus(&after, &before, '+')].concat();
        assert_eq!(told, *lines, "{path} {setting}");
        // Once more changes nothing.
        folder.run(&format!("set quays.wsdl {path} {}", setting.replace(' ', "~")));
        assert_eq!(folder.read("quays.wsdl"), after, "{path} {setting}");
    }
}

#[test]
fn a_value_that_does_not_fit_changes_nothing() {
    let (folder, before) = quays();
    for (path, setting, words) in REFUSED {
        let run = folder.run(&format!("set quays.wsdl {path} {}", setting.replace(' ', "~"))).ends(2);
        let first = run.err.lines().next().unwrap_or("");
        assert_eq!(first, format!("charter: quays.wsdl: {words}"), "{path} {setting}");
        assert_eq!(folder.read("quays.wsdl"), before, "{path} {setting}");
    }
}

/// Every property has a case above, one that works, and so has the list of them that is told.
#[test]
fn every_property_is_tried() {
    let (folder, _) = quays();
    let help = folder.run("set quays.wsdl type/Berth nothing=1").ends(2).err;
    let known: Vec<&str> = DONE.iter().filter_map(|(_, setting, _)| setting.split('=').next()).collect();
    let all = help.lines().next().and_then(|line| line.split_once("there are ")).unwrap().1;
    assert!(all.split(", ").count() > 30, "{help}");
    for property in all.split(", ") {
        assert!(known.contains(&property), "{property}\n{help}");
    }
}
