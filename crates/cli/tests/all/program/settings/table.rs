//! Properties of every kind of component, and what is refused.

/// A contract with a component of each kind.
pub const PORT: &str = r#"contract Port "urn:saltmere:port:1" {
  type Vessel {
    name: string
    draught: decimal? range 0..30
    tug: string*
    kind: Kind
    @flag: string?
    @home: string
  }
  type Kind = string one-of "tug", "ferry"
  type Sign = string length 4..7 like "[A-Z0-9]+"
  type Depth = decimal range 0..60 digits 4 decimals 1
  type Tanker extends Vessel { tanks: int }
  type Place { north: int, east: int }
  element craft: Vessel
  element ferry: Vessel
  element note: string
  attribute unit: token
  attributes Marks { @seen: date? }
  group Hull { length: decimal, beam: decimal }

  operation dock {
    header pass: Pass = string
    input { vessel: Vessel }
    output { berth: string }
    fault Full { until: dateTime }
  }
  operation leave { input { vessel: Vessel } output { at: dateTime } }

  message Notice (text: string, day: date)

  binding PortOverSoap11 = soap 1.1 document literal
  binding PortOverSoap12 = soap 1.2 document literal
  service PortService {
    port PortPort = PortOverSoap11 at "https://port.saltmere.example/1"
    port PortPort12 = PortOverSoap12 at "https://port.saltmere.example/12"
  }
}
"#;

/// A property that is set.
pub struct Setting {
    pub path: &'static str,
    pub setting: &'static str,
    /// The value that gives the same file again, where there is one.
    pub back: Option<&'static str>,
    /// The lines that go, and those that come.
    pub gone: &'static [&'static str],
    pub come: &'static [&'static str],
}

/// What is set.
pub const SETTINGS: &[Setting] = &[
    Setting {
        path: "type/Vessel/name",
        setting: "type=token",
        back: Some("string"),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:token"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "type=Kind",
        back: Some("string"),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="tns:Kind"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "type=string length 1..60",
        back: Some("string"),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[
            r#"<xs:element name="name">"#,
            "<xs:simpleType>",
            r#"<xs:restriction base="xs:string">"#,
            r#"<xs:minLength value="1"/>"#,
            r#"<xs:maxLength value="60"/>"#,
            "</xs:restriction>",
            "</xs:simpleType>",
            "</xs:element>",
        ],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "occurs=?",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" minOccurs="0"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "occurs=*",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" minOccurs="0" maxOccurs="unbounded"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "occurs=+",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" maxOccurs="unbounded"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "occurs=2..5",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" minOccurs="2" maxOccurs="5"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "occurs=0..1",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" minOccurs="0"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "occurs=3",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" minOccurs="3" maxOccurs="3"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "nillable=true",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" nillable="true"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "default=Tern",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" default="Tern"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "fixed=Tern",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" fixed="Tern"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "form=unqualified",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" form="unqualified"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "block=extension",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[r#"<xs:element name="name" type="xs:string" block="extension"/>"#],
    },
    Setting {
        path: "type/Vessel/name",
        setting: "about=As painted.",
        back: Some(""),
        gone: &[r#"<xs:element name="name" type="xs:string"/>"#],
        come: &[
            r#"<xs:element name="name" type="xs:string">"#,
            "<xs:annotation>",
            "<xs:documentation>As painted.</xs:documentation>",
            "</xs:annotation>",
            "</xs:element>",
        ],
    },
    Setting {
        path: "type/Vessel/draught",
        setting: "range=0..40",
        back: Some("0..30"),
        gone: &[r#"<xs:maxInclusive value="30"/>"#],
        come: &[r#"<xs:maxInclusive value="40"/>"#],
    },
    Setting {
        path: "type/Vessel/draught",
        setting: "occurs=1",
        back: Some("?"),
        gone: &[r#"<xs:element name="draught" minOccurs="0">"#],
        come: &[r#"<xs:element name="draught">"#],
    },
    Setting {
        path: "type/Vessel/draught",
        setting: "type=decimal",
        back: Some("decimal range 0..30"),
        gone: &[
            r#"<xs:element name="draught" minOccurs="0">"#,
            "<xs:simpleType>",
            r#"<xs:restriction base="xs:decimal">"#,
            r#"<xs:minInclusive value="0"/>"#,
            r#"<xs:maxInclusive value="30"/>"#,
            "</xs:restriction>",
            "</xs:simpleType>",
            "</xs:element>",
        ],
        come: &[r#"<xs:element name="draught" minOccurs="0" type="xs:decimal"/>"#],
    },
    Setting {
        path: "type/Vessel/tug",
        setting: "occurs=0..3",
        back: Some("*"),
        gone: &[r#"<xs:element name="tug" type="xs:string" minOccurs="0" maxOccurs="unbounded"/>"#],
        come: &[r#"<xs:element name="tug" type="xs:string" minOccurs="0" maxOccurs="3"/>"#],
    },
    Setting {
        path: "type/Vessel/@flag",
        setting: "occurs=1",
        back: Some("?"),
        gone: &[r#"<xs:attribute name="flag" type="xs:string"/>"#],
        come: &[r#"<xs:attribute name="flag" type="xs:string" use="required"/>"#],
    },
    Setting {
        path: "type/Vessel/@flag",
        setting: "default=SM",
        back: Some(""),
        gone: &[r#"<xs:attribute name="flag" type="xs:string"/>"#],
        come: &[r#"<xs:attribute name="flag" type="xs:string" default="SM"/>"#],
    },
    Setting {
        path: "type/Vessel/@flag",
        setting: "fixed=SM",
        back: Some(""),
        gone: &[r#"<xs:attribute name="flag" type="xs:string"/>"#],
        come: &[r#"<xs:attribute name="flag" type="xs:string" fixed="SM"/>"#],
    },
    Setting {
        path: "type/Vessel/@flag",
        setting: "type=token",
        back: Some("string"),
        gone: &[r#"<xs:attribute name="flag" type="xs:string"/>"#],
        come: &[r#"<xs:attribute name="flag" type="xs:token"/>"#],
    },
    Setting {
        path: "type/Vessel/@flag",
        setting: "form=qualified",
        back: Some(""),
        gone: &[r#"<xs:attribute name="flag" type="xs:string"/>"#],
        come: &[r#"<xs:attribute name="flag" type="xs:string" form="qualified"/>"#],
    },
    Setting {
        path: "type/Vessel/@home",
        setting: "occurs=?",
        back: Some("1"),
        gone: &[r#"<xs:attribute name="home" type="xs:string" use="required"/>"#],
        come: &[r#"<xs:attribute name="home" type="xs:string"/>"#],
    },
    Setting {
        path: "type/Vessel",
        setting: "abstract=true",
        back: Some(""),
        gone: &[r#"<xs:complexType name="Vessel">"#],
        come: &[r#"<xs:complexType name="Vessel" abstract="true">"#],
    },
    Setting {
        path: "type/Vessel",
        setting: "block=all",
        back: Some(""),
        gone: &[r#"<xs:complexType name="Vessel">"#],
        come: &[r##"<xs:complexType name="Vessel" block="#all">"##],
    },
    Setting {
        path: "type/Vessel",
        setting: "about=A ship.",
        back: Some(""),
        gone: &[],
        come: &["<xs:annotation>", "<xs:documentation>A ship.</xs:documentation>", "</xs:annotation>"],
    },
    Setting {
        path: "type/Tanker",
        setting: "base=Place",
        back: Some("Vessel"),
        gone: &[r#"<xs:extension base="tns:Vessel">"#],
        come: &[r#"<xs:extension base="tns:Place">"#],
    },
    Setting {
        path: "type/Kind",
        setting: r#"one-of="tug","tender""#,
        back: Some(r#""tug","ferry""#),
        gone: &[r#"<xs:enumeration value="ferry"/>"#],
        come: &[r#"<xs:enumeration value="tender"/>"#],
    },
    Setting {
        path: "type/Kind",
        setting: "base=token",
        back: Some("string"),
        gone: &[r#"<xs:restriction base="xs:string">"#],
        come: &[r#"<xs:restriction base="xs:token">"#],
    },
    Setting {
        path: "type/Kind",
        setting: "length=3",
        back: Some(""),
        gone: &[],
        come: &[r#"<xs:length value="3"/>"#],
    },
    Setting {
        path: "type/Sign",
        setting: "length=5",
        back: Some("4..7"),
        gone: &[r#"<xs:minLength value="4"/>"#, r#"<xs:maxLength value="7"/>"#],
        come: &[r#"<xs:length value="5"/>"#],
    },
    Setting {
        path: "type/Sign",
        setting: "length=",
        back: None,
        gone: &[r#"<xs:minLength value="4"/>"#, r#"<xs:maxLength value="7"/>"#],
        come: &[],
    },
    Setting {
        path: "type/Sign",
        setting: "like=[A-Z]{4}",
        back: Some("[A-Z0-9]+"),
        gone: &[r#"<xs:pattern value="[A-Z0-9]+"/>"#],
        come: &[r#"<xs:pattern value="[A-Z]{4}"/>"#],
    },
    Setting {
        path: "type/Sign",
        setting: "like=",
        back: Some("[A-Z0-9]+"),
        gone: &[r#"<xs:pattern value="[A-Z0-9]+"/>"#],
        come: &[],
    },
    Setting {
        path: "type/Depth",
        setting: "range=0<..<70",
        back: Some("0..60"),
        gone: &[r#"<xs:minInclusive value="0"/>"#, r#"<xs:maxInclusive value="60"/>"#],
        come: &[r#"<xs:minExclusive value="0"/>"#, r#"<xs:maxExclusive value="70"/>"#],
    },
    Setting {
        path: "type/Depth",
        setting: "digits=5",
        back: Some("4"),
        gone: &[r#"<xs:totalDigits value="4"/>"#],
        come: &[r#"<xs:totalDigits value="5"/>"#],
    },
    Setting {
        path: "type/Depth",
        setting: "decimals=2",
        back: Some("1"),
        gone: &[r#"<xs:fractionDigits value="1"/>"#],
        come: &[r#"<xs:fractionDigits value="2"/>"#],
    },
    Setting {
        path: "type/Depth",
        setting: "decimals=",
        back: Some("1"),
        gone: &[r#"<xs:fractionDigits value="1"/>"#],
        come: &[],
    },
    Setting {
        path: "element/craft",
        setting: "type=Place",
        back: Some("Vessel"),
        gone: &[r#"<xs:element name="craft" type="tns:Vessel"/>"#],
        come: &[r#"<xs:element name="craft" type="tns:Place"/>"#],
    },
    Setting {
        path: "element/craft",
        setting: "abstract=true",
        back: Some(""),
        gone: &[r#"<xs:element name="craft" type="tns:Vessel"/>"#],
        come: &[r#"<xs:element name="craft" type="tns:Vessel" abstract="true"/>"#],
    },
    Setting {
        path: "element/ferry",
        setting: "replaces=craft",
        back: Some(""),
        gone: &[r#"<xs:element name="ferry" type="tns:Vessel"/>"#],
        come: &[r#"<xs:element name="ferry" type="tns:Vessel" substitutionGroup="tns:craft"/>"#],
    },
    Setting {
        path: "element/note",
        setting: "nillable=true",
        back: Some(""),
        gone: &[r#"<xs:element name="note" type="xs:string"/>"#],
        come: &[r#"<xs:element name="note" type="xs:string" nillable="true"/>"#],
    },
    Setting {
        path: "element/note",
        setting: "default=none",
        back: Some(""),
        gone: &[r#"<xs:element name="note" type="xs:string"/>"#],
        come: &[r#"<xs:element name="note" type="xs:string" default="none"/>"#],
    },
    Setting {
        path: "element/note",
        setting: "type=",
        back: Some("string"),
        gone: &[r#"<xs:element name="note" type="xs:string"/>"#],
        come: &[r#"<xs:element name="note"/>"#],
    },
    Setting {
        path: "attribute/unit",
        setting: "type=NMTOKEN",
        back: Some("token"),
        gone: &[r#"<xs:attribute name="unit" type="xs:token"/>"#],
        come: &[r#"<xs:attribute name="unit" type="xs:NMTOKEN"/>"#],
    },
    Setting {
        path: "attribute/unit",
        setting: "default=m",
        back: Some(""),
        gone: &[r#"<xs:attribute name="unit" type="xs:token"/>"#],
        come: &[r#"<xs:attribute name="unit" type="xs:token" default="m"/>"#],
    },
    Setting {
        path: "message/Notice/part/text",
        setting: "type=token",
        back: Some("string"),
        gone: &[r#"<wsdl:part name="text" type="xs:string"/>"#],
        come: &[r#"<wsdl:part name="text" type="xs:token"/>"#],
    },
    Setting {
        path: "message/Notice/part/text",
        setting: "element=note",
        back: None,
        gone: &[r#"<wsdl:part name="text" type="xs:string"/>"#],
        come: &[r#"<wsdl:part name="text" element="tns:note"/>"#],
    },
    Setting {
        path: "message/Notice",
        setting: "about=Shown on the board.",
        back: Some(""),
        gone: &[],
        come: &["<wsdl:documentation>Shown on the board.</wsdl:documentation>"],
    },
    Setting {
        path: "operation/dock",
        setting: "about=Makes fast.",
        back: Some(""),
        gone: &[],
        come: &["<wsdl:documentation>Makes fast.</wsdl:documentation>"],
    },
    Setting {
        path: "binding/PortOverSoap11",
        setting: "style=rpc",
        back: Some("document"),
        gone: &[r#"<soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>"#],
        come: &[r#"<soap:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>"#],
    },
    Setting {
        path: "binding/PortOverSoap11",
        setting: "transport=urn:saltmere:mail",
        back: Some("http://schemas.xmlsoap.org/soap/http"),
        gone: &[r#"<soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>"#],
        come: &[r#"<soap:binding style="document" transport="urn:saltmere:mail"/>"#],
    },
    Setting {
        path: "binding/PortOverSoap11/operation/dock",
        setting: "action=urn:do",
        back: Some("urn:saltmere:port:1:dock"),
        gone: &[r#"<soap:operation soapAction="urn:saltmere:port:1:dock"/>"#],
        come: &[r#"<soap:operation soapAction="urn:do"/>"#],
    },
    Setting {
        path: "binding/PortOverSoap11/operation/dock",
        setting: "action=",
        back: Some("urn:saltmere:port:1:dock"),
        gone: &[r#"<soap:operation soapAction="urn:saltmere:port:1:dock"/>"#],
        come: &["<soap:operation/>"],
    },
    Setting {
        path: "binding/PortOverSoap11/operation/dock",
        setting: "style=rpc",
        back: Some(""),
        gone: &[r#"<soap:operation soapAction="urn:saltmere:port:1:dock"/>"#],
        come: &[r#"<soap:operation soapAction="urn:saltmere:port:1:dock" style="rpc"/>"#],
    },
    Setting {
        path: "binding/PortOverSoap11/operation/dock/input",
        setting: "use=encoded",
        back: Some("literal"),
        gone: &[r#"<soap:body use="literal"/>"#],
        come: &[r#"<soap:body use="encoded"/>"#],
    },
    Setting {
        path: "service/PortService/port/PortPort",
        setting: "address=https://port.saltmere.example/2",
        back: Some("https://port.saltmere.example/1"),
        gone: &[r#"<soap:address location="https://port.saltmere.example/1"/>"#],
        come: &[r#"<soap:address location="https://port.saltmere.example/2"/>"#],
    },
    Setting {
        path: "service/PortService/port/PortPort",
        setting: "binding=PortOverSoap12",
        back: Some("PortOverSoap11"),
        gone: &[r#"<wsdl:port name="PortPort" binding="tns:PortOverSoap11">"#],
        come: &[r#"<wsdl:port name="PortPort" binding="tns:PortOverSoap12">"#],
    },
    Setting {
        path: "service/PortService",
        setting: "about=Day and night.",
        back: Some(""),
        gone: &[],
        come: &["<wsdl:documentation>Day and night.</wsdl:documentation>"],
    },
    Setting {
        path: "contract",
        setting: "elements=unqualified",
        back: Some("qualified"),
        gone: &[r#"<xs:schema targetNamespace="urn:saltmere:port:1" elementFormDefault="qualified">"#],
        come: &[r#"<xs:schema targetNamespace="urn:saltmere:port:1" elementFormDefault="unqualified">"#],
    },
    Setting {
        path: "contract",
        setting: "attributes=qualified",
        back: Some(""),
        gone: &[r#"<xs:schema targetNamespace="urn:saltmere:port:1" elementFormDefault="qualified">"#],
        come: &[
            r#"<xs:schema targetNamespace="urn:saltmere:port:1" elementFormDefault="qualified" attributeFormDefault="qualified">"#,
        ],
    },
    Setting {
        path: "contract",
        setting: "namespace=urn:saltmere:port:2",
        back: Some("urn:saltmere:port:1"),
        gone: &[
            r#"targetNamespace="urn:saltmere:port:1""#,
            r#"xmlns:tns="urn:saltmere:port:1""#,
            r#"<xs:schema targetNamespace="urn:saltmere:port:1" elementFormDefault="qualified">"#,
            r#"<soap:operation soapAction="urn:saltmere:port:1:dock"/>"#,
            r#"<soap:operation soapAction="urn:saltmere:port:1:leave"/>"#,
            r#"<soap12:operation soapAction="urn:saltmere:port:1:dock"/>"#,
            r#"<soap12:operation soapAction="urn:saltmere:port:1:leave"/>"#,
        ],
        come: &[
            r#"targetNamespace="urn:saltmere:port:2""#,
            r#"xmlns:tns="urn:saltmere:port:2""#,
            r#"<xs:schema targetNamespace="urn:saltmere:port:2" elementFormDefault="qualified">"#,
            r#"<soap:operation soapAction="urn:saltmere:port:2:dock"/>"#,
            r#"<soap:operation soapAction="urn:saltmere:port:2:leave"/>"#,
            r#"<soap12:operation soapAction="urn:saltmere:port:2:dock"/>"#,
            r#"<soap12:operation soapAction="urn:saltmere:port:2:leave"/>"#,
        ],
    },
    Setting {
        path: "contract",
        setting: "about=All of the port.",
        back: Some(""),
        gone: &[],
        come: &["<wsdl:documentation>All of the port.</wsdl:documentation>"],
    },
    Setting {
        path: "group/Hull/beam",
        setting: "type=double",
        back: Some("decimal"),
        gone: &[r#"<xs:element name="beam" type="xs:decimal"/>"#],
        come: &[r#"<xs:element name="beam" type="xs:double"/>"#],
    },
    Setting {
        path: "attribute-group/Marks/@seen",
        setting: "type=dateTime",
        back: Some("date"),
        gone: &[r#"<xs:attribute name="seen" type="xs:date"/>"#],
        come: &[r#"<xs:attribute name="seen" type="xs:dateTime"/>"#],
    },
    Setting {
        path: "operation/dock/fault/Full",
        setting: "about=No berth.",
        back: Some(""),
        gone: &[r#"<wsdl:fault name="Full" message="tns:FullFault"/>"#],
        come: &[
            r#"<wsdl:fault name="Full" message="tns:FullFault">"#,
            "<wsdl:documentation>No berth.</wsdl:documentation>",
            "</wsdl:fault>",
        ],
    },
    Setting {
        path: "type/Vessel",
        setting: "block=#all",
        back: Some(""),
        gone: &[r#"<xs:complexType name="Vessel">"#],
        come: &[r##"<xs:complexType name="Vessel" block="#all">"##],
    },
    Setting {
        path: "type/Vessel",
        setting: "block=none",
        back: Some(""),
        gone: &[r#"<xs:complexType name="Vessel">"#],
        come: &[r#"<xs:complexType name="Vessel" block="">"#],
    },
    Setting {
        path: "type/Vessel",
        setting: "block=extension restriction",
        back: Some(""),
        gone: &[r#"<xs:complexType name="Vessel">"#],
        come: &[r#"<xs:complexType name="Vessel" block="extension restriction">"#],
    },
    Setting {
        path: "type/Place",
        setting: "final=all",
        back: Some(""),
        gone: &[r#"<xs:complexType name="Place">"#],
        come: &[r##"<xs:complexType name="Place" final="#all">"##],
    },
    Setting {
        path: "type/Sign",
        setting: "final=list union",
        back: Some(""),
        gone: &[r#"<xs:simpleType name="Sign">"#],
        come: &[r#"<xs:simpleType name="Sign" final="list union">"#],
    },
    Setting {
        path: "type/Sign",
        setting: "white-space=collapse",
        back: Some(""),
        gone: &[],
        come: &[r#"<xs:whiteSpace value="collapse"/>"#],
    },
    Setting {
        path: "element/craft",
        setting: "block=substitution",
        back: Some(""),
        gone: &[r#"<xs:element name="craft" type="tns:Vessel"/>"#],
        come: &[r#"<xs:element name="craft" type="tns:Vessel" block="substitution"/>"#],
    },
];

/// What is refused: the path, the setting, what is said.
pub const REFUSED: &[(&str, &str, &str)] = &[
    (
        "type/Vessel/name",
        "nillable=yes",
        r#"type/Vessel/name: "yes" is no value of nillable: expected true or false"#,
    ),
    (
        "type/Vessel/@home",
        "default=quay",
        "type/Vessel/@home: the change would do harm: an attribute with a default must be optional (src-attribute in type/Vessel/@home)",
    ),
    (
        "type/Vessel",
        "mixed=true",
        "type/Vessel: the change would do harm: Vessel allows text between its elements, so its extension must (cos-ct-extends in type/Tanker)",
    ),
    (
        "type/Vessel",
        "final=extension",
        "type/Vessel: the change would do harm: Vessel is final: it forbids extensions (cos-ct-extends in type/Tanker)",
    ),
    ("type/Tanker", "base=", r#"type/Tanker: "" is no value of base: expected the name of a type"#),
    (
        "type/Kind",
        "one-of=tug,tender",
        r#"type/Kind: "tug,tender" is no value of one-of: expected a value in quotes"#,
    ),
    (
        "type/Depth",
        "base=double",
        "type/Depth: the change would do harm: totalDigits does not apply to a double (cos-applicable-facets in type/Depth)",
    ),
    ("type/Vessel/@home", "occurs=2", r#"type/Vessel/@home: "2" is no value of occurs: expected ? or 1"#),
    (
        "attribute/unit",
        "occurs=1",
        "attribute/unit: it has no occurs: that is set of a local element, such as ?, *, 1, 2..5 or 1..; a local attribute: ? or 1",
    ),
    (
        "type/Vessel",
        "block=everything",
        r#"type/Vessel: "everything" is no value of block: expected all, none, extension, restriction, substitution, list or union"#,
    ),
    (
        "type/Sign",
        "white-space=tight",
        r#"type/Sign: the change would do harm: "tight" is no way to treat white space (schema-attribute in type/Sign)"#,
    ),
    (
        "type/Vessel",
        "colour=grey",
        r#"type/Vessel: there is no property "colour"; there are about, abstract, action, address, attributes, base, binding, block, decimals, default, digits, element, elements, final, fixed, form, length, like, location, mixed, namespace, nillable, occurs, one-of, range, replaces, style, transport, type, use, white-space"#,
    ),
    ("type/Vessel", "ocurs=2", r#"type/Vessel: there is no property "ocurs"; did you mean occurs?"#),
    (
        "type/Vessel",
        "occurs=2",
        "type/Vessel: it has no occurs: that is set of a local element, such as ?, *, 1, 2..5 or 1..; a local attribute: ? or 1",
    ),
    (
        "operation/dock",
        "action=urn:x",
        "operation/dock: it has no action: that is set of an operation of a binding",
    ),
    (
        "service/PortService",
        "address=https://x.example/",
        "service/PortService: it has no address: that is set of a port",
    ),
    (
        "message/Notice",
        "type=string",
        "message/Notice: it has no type: that is set of an element, an attribute or a message part",
    ),
    (
        "contract",
        "type=string",
        "contract: it has no type: that is set of an element, an attribute or a message part",
    ),
    ("type/Missing", "occurs=2", r#"there is no "type/Missing" in this contract"#),
    (
        "string",
        "occurs=2",
        r#""string" is not a component path: it must begin with attribute/, attribute-group/, binding/, element/, group/, message/, operation/, port-type/, service/, type/"#,
    ),
    (
        "type/{http://www.w3.org/2001/XMLSchema}string",
        "final=all",
        r#"type/string: "type/string" comes with the program and cannot be changed"#,
    ),
];
