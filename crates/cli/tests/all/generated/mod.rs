//! Random contracts.
#![allow(dead_code, reason = "each test uses what it needs")]

use proptest::prelude::*;

/// A complex type: its fields, each with a type and an occurrence, and how they stand together.
#[derive(Debug, Clone)]
pub struct Shape {
    fields: Vec<(usize, usize)>,
    compositor: usize,
    extends: Option<usize>,
}

const SIMPLE: [&str; 8] =
    ["xs:string", "xs:int", "xs:dateTime", "xs:decimal", "xs:boolean", "tns:Code", "tns:Grade", "tns:Depths"];
const OCCURS: [&str; 5] = [
    "",
    " minOccurs=\"0\"",
    " minOccurs=\"0\" maxOccurs=\"unbounded\"",
    " minOccurs=\"2\" maxOccurs=\"4\"",
    " nillable=\"true\"",
];

pub fn shapes() -> impl Strategy<Value = Vec<Shape>> {
    let field = (0..SIMPLE.len() + 4, 0..OCCURS.len());
    let shape = (prop::collection::vec(field, 0..6), 0..3usize, prop::option::of(0..8usize));
    let shape = shape.prop_map(|(fields, compositor, extends)| Shape { fields, compositor, extends });
    prop::collection::vec(shape, 1..8)
}

/// A contract whose operations carry the types, each of which refers only to those before it.
pub fn contract(shapes: &[Shape], qualified: bool, version: &str) -> String {
    let mut types = String::new();
    let mut elements = String::new();
    let mut parts = (String::new(), String::new(), String::new());
    for (n, shape) in shapes.iter().enumerate() {
        // An all-group cannot be extended, and bounds how often its members occur.
        let extends = shape.extends.filter(|base| *base < n && shapes[*base].compositor < 2);
        let compositor = if extends.is_some() { shape.compositor % 2 } else { shape.compositor };
        // A choice of nothing cannot be satisfied.
        let word =
            if shape.fields.is_empty() { "sequence" } else { ["sequence", "choice", "all"][compositor] };
        let mut fields = String::new();
        for (index, (ty, occurs)) in shape.fields.iter().enumerate() {
            let ty = match SIMPLE.get(*ty) {
                Some(simple) => (*simple).to_owned(),
                None => format!("tns:T{}", (*ty - SIMPLE.len()) % n.max(1)),
            };
            let ty = if ty == format!("tns:T{n}") { "xs:token".to_owned() } else { ty };
            let occurs = if compositor == 2 { OCCURS[occurs % 2] } else { OCCURS[*occurs] };
            fields.push_str(&format!("<xs:element name=\"f{n}x{index}\" type=\"{ty}\"{occurs}/>"));
        }
        let content =
            format!("<xs:{word}>{fields}</xs:{word}><xs:attribute name=\"a{n}\" type=\"xs:token\"/>");
        let content = match extends {
            Some(base) => format!(
                "<xs:complexContent><xs:extension base=\"tns:T{base}\">{content}</xs:extension></xs:complexContent>"
            ),
            None => content,
        };
        types.push_str(&format!("<xs:complexType name=\"T{n}\">{content}</xs:complexType>\n"));
        elements.push_str(&format!(
            "<xs:element name=\"op{n}\" type=\"tns:T{n}\"/>\n<xs:element name=\"op{n}Response\" type=\"tns:T{n}\"/>\n"
        ));
        parts.0.push_str(&format!(
            "<wsdl:message name=\"op{n}Input\"><wsdl:part name=\"parameters\" element=\"tns:op{n}\"/></wsdl:message>\n<wsdl:message name=\"op{n}Output\"><wsdl:part name=\"parameters\" element=\"tns:op{n}Response\"/></wsdl:message>\n"
        ));
        parts.1.push_str(&format!(
            "<wsdl:operation name=\"op{n}\"><wsdl:input message=\"tns:op{n}Input\"/><wsdl:output message=\"tns:op{n}Output\"/></wsdl:operation>\n"
        ));
        parts.2.push_str(&format!(
            "<wsdl:operation name=\"op{n}\"><soap:operation soapAction=\"urn:saltmere:g:op{n}\"/><wsdl:input><soap:body use=\"literal\"/></wsdl:input><wsdl:output><soap:body use=\"literal\"/></wsdl:output></wsdl:operation>\n"
        ));
    }
    let form = if qualified { " elementFormDefault=\"qualified\"" } else { "" };
    format!(
        "<wsdl:definitions name=\"G\" targetNamespace=\"urn:saltmere:g\" xmlns:tns=\"urn:saltmere:g\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/{version}/\" xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\">
<wsdl:types><xs:schema targetNamespace=\"urn:saltmere:g\"{form}>
<xs:simpleType name=\"Code\"><xs:restriction base=\"xs:string\"><xs:pattern value=\"[A-Z]{{2}}[0-9]+\"/></xs:restriction></xs:simpleType>
<xs:simpleType name=\"Grade\"><xs:restriction base=\"xs:string\"><xs:enumeration value=\"first\"/><xs:enumeration value=\"second\"/></xs:restriction></xs:simpleType>
<xs:simpleType name=\"Depths\"><xs:list itemType=\"xs:decimal\"/></xs:simpleType>
<xs:element name=\"every\"><xs:complexType><xs:sequence><xs:element name=\"a\" type=\"tns:Code\"/><xs:element name=\"b\" type=\"tns:Grade\"/><xs:element name=\"c\" type=\"tns:Depths\"/></xs:sequence></xs:complexType></xs:element>
{types}{elements}</xs:schema></wsdl:types>
{}<wsdl:portType name=\"G\">
{}</wsdl:portType>
<wsdl:binding name=\"GOverSoap11\" type=\"tns:G\"><soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>
{}</wsdl:binding>
<wsdl:service name=\"GService\"><wsdl:port name=\"GPort\" binding=\"tns:GOverSoap11\"><soap:address location=\"https://g.saltmere.example/\"/></wsdl:port></wsdl:service>
</wsdl:definitions>
",
        parts.0, parts.1, parts.2
    )
}

pub fn contracts() -> impl Strategy<Value = String> {
    (shapes(), any::<bool>(), any::<bool>()).prop_map(|(shapes, qualified, twelve)| {
        contract(&shapes, qualified, if twelve { "soap12" } else { "soap" })
    })
}

/// A contract in which the types are parts: rpc literal and encoded, in both versions of SOAP, and, for what has one
/// value, plain HTTP in three ways.
pub fn parts_contract(shapes: &[Shape], qualified: bool) -> String {
    let whole = contract(shapes, qualified, "soap");
    let (types, _) = whole.split_once("<wsdl:message").unwrap();
    let types = types.replacen(
        "xmlns:wsdl=",
        "xmlns:soap12=\"http://schemas.xmlsoap.org/wsdl/soap12/\" xmlns:http=\"http://schemas.xmlsoap.org/wsdl/http/\" xmlns:mime=\"http://schemas.xmlsoap.org/wsdl/mime/\" xmlns:wsdl=",
        1,
    );
    let typed: String =
        (0..shapes.len()).map(|n| format!("<wsdl:part name=\"p{n}\" type=\"tns:T{n}\"/>")).collect();
    let simple = "<wsdl:part name=\"code\" type=\"tns:Code\"/><wsdl:part name=\"grade\" type=\"tns:Grade\"/><wsdl:part name=\"at\" type=\"xs:dateTime\"/>";
    let mut text = format!(
        "{types}<wsdl:message name=\"typed\">{typed}</wsdl:message>\n<wsdl:message name=\"simple\">{simple}</wsdl:message>\n<wsdl:message name=\"every\"><wsdl:part name=\"body\" element=\"tns:every\"/></wsdl:message>\n"
    );
    let operation = |name: &str, input: &str, output: &str| {
        format!(
            "<wsdl:portType name=\"{name}\"><wsdl:operation name=\"{name}Call\"><wsdl:input message=\"tns:{input}\"/><wsdl:output message=\"tns:{output}\"/></wsdl:operation></wsdl:portType>\n"
        )
    };
    let mut services = String::new();
    let mut bindings = String::new();
    for (name, version, kind) in [
        ("L11", "soap", "literal"),
        ("L12", "soap12", "literal"),
        ("E11", "soap", "encoded"),
        ("E12", "soap12", "encoded"),
    ] {
        text.push_str(&operation(name, "typed", "typed"));
        let body = format!("<{version}:body use=\"{kind}\" namespace=\"urn:saltmere:g\"/>");
        bindings.push_str(&format!("<wsdl:binding name=\"{name}B\" type=\"tns:{name}\"><{version}:binding style=\"rpc\" transport=\"http://schemas.xmlsoap.org/soap/http\"/><wsdl:operation name=\"{name}Call\"><{version}:operation soapAction=\"urn:saltmere:g:{name}\"/><wsdl:input>{body}</wsdl:input><wsdl:output>{body}</wsdl:output></wsdl:operation></wsdl:binding>\n"));
        services.push_str(&format!("<wsdl:port name=\"{name}Port\" binding=\"tns:{name}B\"><{version}:address location=\"https://g.saltmere.example/{name}\"/></wsdl:port>"));
    }
    for (name, verb, location, input) in [
        ("Get", "GET", "get", "<http:urlEncoded/>"),
        ("Path", "GET", "path/(code)/(grade)/(at)", "<http:urlReplacement/>"),
        ("Form", "POST", "form", "<mime:content type=\"application/x-www-form-urlencoded\"/>"),
    ] {
        text.push_str(&operation(name, "simple", "every"));
        bindings.push_str(&format!("<wsdl:binding name=\"{name}B\" type=\"tns:{name}\"><http:binding verb=\"{verb}\"/><wsdl:operation name=\"{name}Call\"><http:operation location=\"{location}\"/><wsdl:input>{input}</wsdl:input><wsdl:output><mime:mimeXml part=\"body\"/></wsdl:output></wsdl:operation></wsdl:binding>\n"));
        services.push_str(&format!("<wsdl:port name=\"{name}Port\" binding=\"tns:{name}B\"><http:address location=\"https://g.saltmere.example\"/></wsdl:port>"));
    }
    format!("{text}{bindings}<wsdl:service name=\"G\">{services}</wsdl:service>\n</wsdl:definitions>\n")
}

/// Contracts of both kinds.
pub fn all_contracts() -> impl Strategy<Value = String> {
    (shapes(), any::<bool>(), 0..3u8).prop_map(|(shapes, qualified, kind)| match kind {
        0 => contract(&shapes, qualified, "soap"),
        1 => contract(&shapes, qualified, "soap12"),
        _ => parts_contract(&shapes, qualified),
    })
}
