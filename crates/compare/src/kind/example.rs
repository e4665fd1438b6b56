//! Examples: what stands in a small contract in its old and in its new version, so that one kind of change shows alone.

/// The place in the contract that the two pieces of an example take.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Slot {
    /// The whole file.
    File,
    /// What the schema declares.
    Schema,
    /// What the element of the request holds: the inside of its complex type.
    Request,
    /// What the element of the reply holds.
    Reply,
    /// What a value of the request is: the inside of its simple type.
    Value,
    /// The messages, and all that follows: port type, binding and service.
    Contract,
    /// The messages and the port type; the binding binds `findBerth` alone.
    Abstract,
    /// The inside of the binding.
    Binding,
    /// The binding and the service.
    Concrete,
    /// The inside of the service.
    Service,
}

/// An old and a new version of a small contract, as far as they differ.
#[derive(Debug, Clone, Copy)]
pub struct Example {
    /// Where the pieces stand.
    pub slot: Slot,
    /// The piece of the old version; words in braces stand for what examples have in common.
    old: &'static str,
    /// The piece of the new version; none if it is the old one with some words in the place of others.
    new: Option<&'static str>,
    /// Those words.
    edit: (&'static str, &'static str),
    /// Whether the two are the other way round.
    reversed: bool,
}

impl Example {
    pub(super) const fn of(slot: Slot, old: &'static str, new: &'static str) -> Example {
        Example { slot, old, new: Some(new), edit: ("", ""), reversed: false }
    }

    /// A piece, and the same with some words in the place of others.
    pub(super) const fn edited(
        slot: Slot,
        old: &'static str,
        from: &'static str,
        to: &'static str,
    ) -> Example {
        Example { slot, old, new: None, edit: (from, to), reversed: false }
    }

    /// The same the other way round.
    pub(super) const fn reversed(self) -> Example {
        Example { reversed: !self.reversed, ..self }
    }

    fn first(&self) -> String {
        opened(self.old)
    }

    fn second(&self) -> String {
        self.new.map_or_else(|| opened(&self.old.replacen(self.edit.0, self.edit.1, 1)), opened)
    }

    /// The piece of the old version, with all that it stands for.
    pub fn old_piece(&self) -> String {
        if self.reversed { self.second() } else { self.first() }
    }

    /// The piece of the new version, with all that it stands for.
    pub fn new_piece(&self) -> String {
        if self.reversed { self.first() } else { self.second() }
    }

    /// The whole old version.
    pub fn old_whole(&self) -> String {
        contract_with(self.slot, &self.old_piece())
    }

    /// The whole new version.
    pub fn new_whole(&self) -> String {
        contract_with(self.slot, &self.new_piece())
    }
}

const FILE: &str = r#"<w:definitions name="Berths" targetNamespace="urn:saltmere:berths:1" xmlns:t="urn:saltmere:berths:1"
    xmlns:x="http://www.w3.org/2001/XMLSchema" xmlns:w="http://schemas.xmlsoap.org/wsdl/"
    xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:soap12="http://schemas.xmlsoap.org/wsdl/soap12/"
    xmlns:http="http://schemas.xmlsoap.org/wsdl/http/" xmlns:mime="http://schemas.xmlsoap.org/wsdl/mime/"
    xmlns:wsp="http://www.w3.org/ns/ws-policy" xmlns:sp="http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702">
<w:types>
<x:schema targetNamespace="urn:saltmere:berths:1" elementFormDefault="qualified">
{schema}
</x:schema>
</w:types>
{contract}
</w:definitions>
"#;

const SCHEMA: &str = r#"<x:element name="findBerth"><x:complexType>{request}</x:complexType></x:element>
<x:element name="findBerthResponse"><x:complexType>{reply}</x:complexType></x:element>
<x:element name="agent" type="x:string"/>
<x:element name="harbourClosed" type="x:string"/>"#;

const REQUEST: &str =
    r#"<x:sequence><x:element name="draught"><x:simpleType>{value}</x:simpleType></x:element></x:sequence>"#;
const VALUE: &str = r#"<x:restriction base="x:decimal"/>"#;
const REPLY: &str = r#"<x:sequence><x:element name="berth" type="x:string"/></x:sequence>"#;

const MESSAGES: &str = r#"<w:message name="findBerthInput"><w:part name="parameters" element="t:findBerth"/></w:message>
<w:message name="findBerthOutput"><w:part name="parameters" element="t:findBerthResponse"/></w:message>"#;

/// The same where their parts have types, as rpc style and plain HTTP have it.
const VALUES: &str = r#"<w:message name="findBerthInput"><w:part name="draught" type="x:decimal"/></w:message>
<w:message name="findBerthOutput"><w:part name="berth" type="x:string"/></w:message>"#;

const PORT_TYPE: &str = r#"<w:portType name="Berths">
  {operation findBerth}
</w:portType>"#;

const OPERATION: &str = r#"<w:operation name="NAME">
    <w:input message="t:findBerthInput"/>
    <w:output message="t:findBerthOutput"/>
  </w:operation>"#;

const BOUND: &str = r#"<w:operation name="NAME">
    <soap:operation soapAction="urn:saltmere:berths:1:NAME"/>
    <w:input><soap:body use="literal"/></w:input>
    <w:output><soap:body use="literal"/></w:output>
  </w:operation>"#;

const CONCRETE: &str = r#"<w:binding name="BerthsOverSoap11" type="t:Berths">
  {binding}
</w:binding>
<w:service name="BerthsService">
  {service}
</w:service>"#;

const BINDING: &str = r#"<soap:binding transport="http://schemas.xmlsoap.org/soap/http"/>
  {bound findBerth}"#;

const SERVICE: &str = r#"<w:port name="BerthsPort" binding="t:BerthsOverSoap11">
    <soap:address location="https://berths.saltmere.example/1"/>
  </w:port>"#;

/// A piece with all that the words in braces stand for.
fn opened(piece: &str) -> String {
    let offer = format!("<w:service name=\"BerthsService\">\n  {SERVICE}\n</w:service>");
    let mut text = piece
        .replace("{abstract}", &format!("{MESSAGES}\n{PORT_TYPE}"))
        .replace("{rpc}", &format!("{VALUES}\n{PORT_TYPE}"))
        .replace("{messages}", MESSAGES)
        .replace("{values}", VALUES)
        .replace("{concrete}", CONCRETE)
        .replace("{offer}", &offer)
        .replace("{binding}", BINDING)
        .replace("{service}", SERVICE);
    for (word, template) in [("{operation ", OPERATION), ("{bound ", BOUND)] {
        while let Some((before, rest)) = text.split_once(word) {
            let (name, after) = rest.split_once('}').unwrap_or((rest, ""));
            text = format!("{before}{}{after}", template.replace("NAME", name));
        }
    }
    text
}

/// A piece set into the small contract.
fn contract_with(slot: Slot, piece: &str) -> String {
    if slot == Slot::File {
        return opened(piece);
    }
    let at = |this: Slot, default: &str| if this == slot { piece.to_owned() } else { default.to_owned() };
    let request = at(Slot::Request, REQUEST).replace("{value}", &at(Slot::Value, VALUE));
    let schema = at(Slot::Schema, SCHEMA).replace("{request}", &request);
    let schema = schema.replace("{reply}", &at(Slot::Reply, REPLY));
    let concrete = at(Slot::Concrete, CONCRETE).replace("{binding}", &at(Slot::Binding, BINDING));
    let concrete = concrete.replace("{service}", &at(Slot::Service, SERVICE));
    let contract = at(Slot::Contract, &format!("{}\n{concrete}", at(Slot::Abstract, "{abstract}")));
    opened(&FILE.replace("{schema}", &schema).replace("{contract}", &contract))
}
