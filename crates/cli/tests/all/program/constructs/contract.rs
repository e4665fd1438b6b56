//! Operations with what belongs to them, and schemas of several namespaces, each with pieces of the XML that they stand for.

/// An operation with what belongs to it, and pieces of the XML that it stands for.
pub const OPERATIONS: &[(&str, &[&str])] = &[
    (
        "operation dock { input { berth: string } output { at: time } }",
        &[
            r#"<xs:element name="dock"><xs:complexType><xs:sequence><xs:element name="berth" type="xs:string"/></xs:sequence></xs:complexType></xs:element>"#,
            r#"<xs:element name="dockResponse">"#,
            r#"<wsdl:message name="dockInput"><wsdl:part name="parameters" element="tns:dock"/></wsdl:message>"#,
            r#"<wsdl:message name="dockOutput"><wsdl:part name="parameters" element="tns:dockResponse"/></wsdl:message>"#,
            r#"<wsdl:portType name="Port"><wsdl:operation name="dock"><wsdl:input message="tns:dockInput"/><wsdl:output message="tns:dockOutput"/></wsdl:operation></wsdl:portType>"#,
        ],
    ),
    (
        "type Berth = string, operation dock { input: Berth, output: Berth }",
        &[
            r#"<xs:element name="dock" type="tns:Berth"/>"#,
            r#"<xs:element name="dockResponse" type="tns:Berth"/>"#,
        ],
    ),
    (
        "operation dock { input { berth: string } one-way }",
        &[r#"<wsdl:operation name="dock"><wsdl:input message="tns:dockInput"/></wsdl:operation>"#],
    ),
    (
        "operation dock { input { berth: string } output { at: time } fault Full { until: time } }",
        &[
            r#"<xs:element name="Full"><xs:complexType>"#,
            r#"<wsdl:message name="FullFault"><wsdl:part name="fault" element="tns:Full"/></wsdl:message>"#,
            r#"<wsdl:fault name="Full" message="tns:FullFault"/>"#,
        ],
    ),
    (
        "operation dock { about \"Makes fast.\", input { berth: string } output { at: time } }",
        &[r#"<wsdl:operation name="dock"><wsdl:documentation>Makes fast.</wsdl:documentation>"#],
    ),
    (
        "operation dock { input (day: date, row: int) output (at: time) parameters row, day }",
        &[
            r#"<wsdl:part name="day" type="xs:date"/><wsdl:part name="row" type="xs:int"/></wsdl:message>"#,
            r#"<wsdl:operation name="dock" parameterOrder="row day">"#,
        ],
    ),
    (
        "element Row: int, operation dock { input (day: date, row: element Row) output (at: time) }",
        &[r#"<wsdl:part name="day" type="xs:date"/><wsdl:part name="row" element="tns:Row"/>"#],
    ),
    (
        "operation dock { input message Ask part p named n { berth: string } output { at: time } }",
        &[
            r#"<wsdl:message name="Ask"><wsdl:part name="p" element="tns:dock"/></wsdl:message>"#,
            r#"<wsdl:input name="n" message="tns:Ask"/>"#,
        ],
    ),
    (
        "operation dock { output { at: time } input { berth: string } }",
        &[r#"<wsdl:output message="tns:dockOutput"/><wsdl:input message="tns:dockInput"/>"#],
    ),
    (
        "operation tide from the provider { output { at: time } one-way }",
        &[r#"<wsdl:operation name="tide"><wsdl:output message="tns:tideOutput"/></wsdl:operation>"#],
    ),
    (
        "element Pass: string, operation dock { header pass: Pass, input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal",
        &[
            r#"<wsdl:message name="PassHeader"><wsdl:part name="pass" element="tns:Pass"/></wsdl:message>"#,
            r#"<wsdl:input><soap:body use="literal"/><soap:header message="tns:PassHeader" part="pass" use="literal"/></wsdl:input>"#,
        ],
    ),
    (
        "operation dock { header pass: Pass = string, input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal",
        &[
            r#"<xs:element name="Pass" type="xs:string"/>"#,
            r#"<soap:header message="tns:PassHeader" part="pass" use="literal"/>"#,
        ],
    ),
    (
        "operation dock { header pass: Pass { user: string }, input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal",
        &[
            r#"<xs:element name="Pass"><xs:complexType><xs:sequence><xs:element name="user" type="xs:string"/>"#,
        ],
    ),
    (
        "operation dock { reply header seal: Seal = string, input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal",
        &[
            r#"<wsdl:output><soap:body use="literal"/><soap:header message="tns:SealHeader" part="seal" use="literal"/></wsdl:output>"#,
        ],
    ),
    (
        "operation dock { input { berth: string } output { at: time } fault Full { until: time } }, binding PortOverSoap11 = soap 1.1 document literal",
        &[
            r#"<wsdl:binding name="PortOverSoap11" type="tns:Port"><soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>"#,
            r#"<soap:operation soapAction="urn:saltmere:port:1:dock"/><wsdl:input><soap:body use="literal"/></wsdl:input>"#,
            r#"<wsdl:fault name="Full"><soap:fault name="Full" use="literal"/></wsdl:fault>"#,
        ],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap12 = soap 1.2 document literal",
        &[
            r#"xmlns:soap12="http://schemas.xmlsoap.org/wsdl/soap12/""#,
            r#"<soap12:operation soapAction="urn:saltmere:port:1:dock"/><wsdl:input><soap12:body use="literal"/></wsdl:input>"#,
        ],
    ),
    (
        "operation dock { input (berth: string) output (at: time) }, binding PortOverSoap11 = soap 1.1 rpc literal",
        &[
            r#"<soap:binding style="rpc" "#,
            r#"<wsdl:input><soap:body use="literal" namespace="urn:saltmere:port:1"/></wsdl:input>"#,
        ],
    ),
    (
        "operation dock { input (berth: string) output (at: time) }, binding PortOverSoap11 = soap 1.1 rpc encoded by \"http://schemas.xmlsoap.org/soap/encoding/\" namespace \"urn:saltmere:rpc\"",
        &[
            r#"<soap:body use="encoded" encodingStyle="http://schemas.xmlsoap.org/soap/encoding/" namespace="urn:saltmere:rpc"/>"#,
        ],
    ),
    (
        "operation dock { input (berth: string) output (at: time) }, binding PortOverGet = http GET",
        &[
            r#"<http:binding verb="GET"/><wsdl:operation name="dock"><http:operation location="/dock"/>"#,
            r#"<wsdl:input><http:urlEncoded/></wsdl:input><wsdl:output><mime:mimeXml/></wsdl:output>"#,
        ],
    ),
    (
        "operation dock { input (berth: string) output (at: time) }, binding PortOverPost = http POST",
        &[
            r#"<http:binding verb="POST"/>"#,
            r#"<wsdl:input><mime:content type="application/x-www-form-urlencoded"/></wsdl:input>"#,
        ],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal { operation dock action \"urn:do\" }",
        &[r#"<soap:operation soapAction="urn:do"/>"#],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal { operation dock without action }",
        &["<soap:operation/>"],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal { omit dock }",
        &[r#"transport="http://schemas.xmlsoap.org/soap/http"/></wsdl:binding>"#],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal over \"urn:saltmere:mail\"",
        &[r#"<soap:binding style="document" transport="urn:saltmere:mail"/>"#],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap11 = soap 1.1 document literal, service PortService { about \"All day.\", port East = PortOverSoap11 at \"https://east.saltmere.example/\", port West = PortOverSoap11 at \"https://west.saltmere.example/\" }",
        &[
            r#"<wsdl:service name="PortService"><wsdl:documentation>All day.</wsdl:documentation>"#,
            r#"<wsdl:port name="East" binding="tns:PortOverSoap11"><soap:address location="https://east.saltmere.example/"/></wsdl:port><wsdl:port name="West""#,
        ],
    ),
    (
        "operation dock { input { berth: string } output { at: time } }, binding PortOverSoap12 = soap 1.2 document literal, service PortService { port PortPort = PortOverSoap12 at \"https://port.saltmere.example/\" }",
        &[r#"<soap12:address location="https://port.saltmere.example/"/>"#],
    ),
    (
        "message Note (text: string)",
        &[r#"<wsdl:message name="Note"><wsdl:part name="text" type="xs:string"/></wsdl:message>"#],
    ),
    (
        "port-type Quay { operation dock { input (berth: string) one-way } }, binding B = soap 1.1 rpc literal of Quay",
        &[
            r#"<wsdl:portType name="Quay"><wsdl:operation name="dock">"#,
            r#"<wsdl:binding name="B" type="tns:Quay">"#,
        ],
    ),
];

/// Schemas of several namespaces: the text, and pieces of the XML that it stands for.
pub const SCHEMAS: &[(&str, &[&str])] = &[
    (
        "schema \"urn:saltmere:port:2\" { type Quay = string }",
        &[
            r#"<xs:schema targetNamespace="urn:saltmere:port:2" elementFormDefault="qualified"><xs:simpleType name="Quay">"#,
        ],
    ),
    (
        "schema \"urn:saltmere:port:2\" { elements unqualified, attributes qualified, block extension, final all, type Quay = string }",
        &[
            r##"<xs:schema targetNamespace="urn:saltmere:port:2" attributeFormDefault="qualified" blockDefault="extension" finalDefault="#all">"##,
        ],
    ),
    (
        "prefix v = \"urn:saltmere:vessel:1\", type Vessel { flag: v:Flag }, schema \"urn:saltmere:vessel:1\" { type Flag = string }",
        &[
            r#"xmlns:v="urn:saltmere:vessel:1""#,
            r#"<xs:import namespace="urn:saltmere:vessel:1"/>"#,
            r#"<xs:element name="flag" type="v:Flag"/>"#,
        ],
    ),
    (
        "type Vessel { flag: {urn:saltmere:vessel:1}Flag? }, schema \"urn:saltmere:vessel:1\" { type Flag = string }",
        &[
            r#"<xs:import namespace="urn:saltmere:vessel:1"/>"#,
            r#"xmlns:ns="urn:saltmere:vessel:1""#,
            r#"<xs:element name="flag" type="ns:Flag" minOccurs="0"/>"#,
        ],
    ),
    (
        "element visit: {urn:saltmere:vessel:1}Flag, schema \"urn:saltmere:vessel:1\" { type Flag = string }",
        &[r#"<xs:element name="visit" type="ns:Flag""#],
    ),
    (
        "type Vessel { kind: {}Kind }, schema { type Kind = string }",
        &["<xs:import/>", r#"<xs:element name="kind" type="Kind"/>"#],
    ),
    (
        "prefix t = \"urn:saltmere:port:1\", element visits { visit: { @no: int }* } key once of \"t:visit\" by \"@no\"",
        &[
            r#"<xs:key name="once"><xs:selector xpath="t:visit"/><xs:field xpath="@no"/></xs:key></xs:element>"#,
        ],
    ),
    (
        "prefix v = \"urn:saltmere:notes\", type Vessel { name: string with v:note \"seen\" }",
        &[r#"<xs:element name="name" type="xs:string" v:note="seen"/>"#],
    ),
];
