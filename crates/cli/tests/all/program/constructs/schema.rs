//! Components of schemas, each with the XML that it stands for.

/// Simple types.
pub const SIMPLE: &[(&str, &str)] = &[
    (
        "type Quay = string",
        r#"<xs:simpleType name="Quay"><xs:restriction base="xs:string"/></xs:simpleType>"#,
    ),
    (
        "type Berth = string length 4",
        r#"<xs:simpleType name="Berth"><xs:restriction base="xs:string"><xs:length value="4"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Berth = string length 1..60",
        r#"<xs:simpleType name="Berth"><xs:restriction base="xs:string"><xs:minLength value="1"/><xs:maxLength value="60"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Berth = string length 3..",
        r#"<xs:simpleType name="Berth"><xs:restriction base="xs:string"><xs:minLength value="3"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Berth = string length ..60",
        r#"<xs:simpleType name="Berth"><xs:restriction base="xs:string"><xs:maxLength value="60"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Berth = string length 3 fixed",
        r#"<xs:simpleType name="Berth"><xs:restriction base="xs:string"><xs:length value="3" fixed="true"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Draught = decimal range 0..30",
        r#"<xs:simpleType name="Draught"><xs:restriction base="xs:decimal"><xs:minInclusive value="0"/><xs:maxInclusive value="30"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Draught = decimal range 0<..",
        r#"<xs:simpleType name="Draught"><xs:restriction base="xs:decimal"><xs:minExclusive value="0"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Draught = decimal range ..<30",
        r#"<xs:simpleType name="Draught"><xs:restriction base="xs:decimal"><xs:maxExclusive value="30"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Draught = decimal range 0<..<30",
        r#"<xs:simpleType name="Draught"><xs:restriction base="xs:decimal"><xs:minExclusive value="0"/><xs:maxExclusive value="30"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Draught = decimal digits 9 decimals 2",
        r#"<xs:simpleType name="Draught"><xs:restriction base="xs:decimal"><xs:totalDigits value="9"/><xs:fractionDigits value="2"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Draught = decimal decimals 2 fixed",
        r#"<xs:simpleType name="Draught"><xs:restriction base="xs:decimal"><xs:fractionDigits value="2" fixed="true"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        r#"type Sign = string like "[A-Z]+""#,
        r#"<xs:simpleType name="Sign"><xs:restriction base="xs:string"><xs:pattern value="[A-Z]+"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        r#"type Sign = string like "[A-Z]+" or "[0-9]+""#,
        r#"<xs:simpleType name="Sign"><xs:restriction base="xs:string"><xs:pattern value="[A-Z]+"/><xs:pattern value="[0-9]+"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        r#"type Side = string one-of "north", "south" means "All the rest.""#,
        r#"<xs:simpleType name="Side"><xs:restriction base="xs:string"><xs:enumeration value="north"/><xs:enumeration value="south"><xs:annotation><xs:documentation>All the rest.</xs:documentation></xs:annotation></xs:enumeration></xs:restriction></xs:simpleType>"#,
    ),
    (
        r#"type Side = string one-of "a \"quoted\" one", "back\\slash", "two\nlines""#,
        r#"<xs:simpleType name="Side"><xs:restriction base="xs:string"><xs:enumeration value="a &quot;quoted&quot; one"/><xs:enumeration value="back\slash"/><xs:enumeration value="two&#10;lines"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Name = string white-space collapse",
        r#"<xs:simpleType name="Name"><xs:restriction base="xs:string"><xs:whiteSpace value="collapse"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Name = string white-space replace fixed",
        r#"<xs:simpleType name="Name"><xs:restriction base="xs:string"><xs:whiteSpace value="replace" fixed="true"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type Days = list of date",
        r#"<xs:simpleType name="Days"><xs:list itemType="xs:date"/></xs:simpleType>"#,
    ),
    (
        "type Days = list of string length ..9",
        r#"<xs:simpleType name="Days"><xs:list><xs:simpleType><xs:restriction base="xs:string"><xs:maxLength value="9"/></xs:restriction></xs:simpleType></xs:list></xs:simpleType>"#,
    ),
    (
        "type Days = (list of date) length 2..4",
        r#"<xs:simpleType name="Days"><xs:restriction><xs:simpleType><xs:list itemType="xs:date"/></xs:simpleType><xs:minLength value="2"/><xs:maxLength value="4"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        "type When = either date or dateTime",
        r#"<xs:simpleType name="When"><xs:union memberTypes="xs:date xs:dateTime"/></xs:simpleType>"#,
    ),
    (
        "type When = either date or (string length 3)",
        r#"<xs:simpleType name="When"><xs:union memberTypes="xs:date"><xs:simpleType><xs:restriction base="xs:string"><xs:length value="3"/></xs:restriction></xs:simpleType></xs:union></xs:simpleType>"#,
    ),
    (
        r#"type When = (either date or int) one-of "3""#,
        r#"<xs:simpleType name="When"><xs:restriction><xs:simpleType><xs:union memberTypes="xs:date xs:int"/></xs:simpleType><xs:enumeration value="3"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        r#"about "All of the port.", type Quay = string"#,
        r#"<xs:simpleType name="Quay"><xs:restriction base="xs:string"/></xs:simpleType>"#,
    ),
    (
        "type Sealed final all = string",
        r##"<xs:simpleType name="Sealed" final="#all"><xs:restriction base="xs:string"/></xs:simpleType>"##,
    ),
    (
        "type Sealed final restriction list = string",
        r#"<xs:simpleType name="Sealed" final="restriction list"><xs:restriction base="xs:string"/></xs:simpleType>"#,
    ),
    (
        "type Since = dateTime range 2026-01-01T00:00:00Z..",
        r#"<xs:simpleType name="Since"><xs:restriction base="xs:dateTime"><xs:minInclusive value="2026-01-01T00:00:00Z"/></xs:restriction></xs:simpleType>"#,
    ),
    (
        r#"type Since = date range "2026-01-01".."2026-12-31""#,
        r#"<xs:simpleType name="Since"><xs:restriction base="xs:date"><xs:minInclusive value="2026-01-01"/><xs:maxInclusive value="2026-12-31"/></xs:restriction></xs:simpleType>"#,
    ),
];

/// Complex types.
pub const COMPLEX: &[(&str, &str)] = &[
    (
        "type Vessel { name: string }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string? }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="0"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string* }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="0" maxOccurs="unbounded"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string+ }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" maxOccurs="unbounded"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string[3] }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="3" maxOccurs="3"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string[2..5] }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="2" maxOccurs="5"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string[2..] }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="2" maxOccurs="unbounded"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string[0..7] }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="0" maxOccurs="7"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { draught: decimal? range 0..30 }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="draught" minOccurs="0"><xs:simpleType><xs:restriction base="xs:decimal"><xs:minInclusive value="0"/><xs:maxInclusive value="30"/></xs:restriction></xs:simpleType></xs:element></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { hold: { size: int }* }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="hold" minOccurs="0" maxOccurs="unbounded"><xs:complexType><xs:sequence><xs:element name="size" type="xs:int"/></xs:sequence></xs:complexType></xs:element></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { hold: extends Room { size: int } }, type Room { }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="hold"><xs:complexType><xs:complexContent><xs:extension base="tns:Room"><xs:sequence><xs:element name="size" type="xs:int"/></xs:sequence></xs:extension></xs:complexContent></xs:complexType></xs:element></xs:sequence></xs:complexType><xs:complexType name="Room"><xs:sequence/></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string nillable }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" nillable="true"/></xs:sequence></xs:complexType>"#,
    ),
    (
        r#"type Vessel { name: string default "Tern" }"#,
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" default="Tern"/></xs:sequence></xs:complexType>"#,
    ),
    (
        r#"type Vessel { name: string fixed "Tern" }"#,
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" fixed="Tern"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string qualified }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" form="qualified"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string unqualified }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" form="unqualified"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string block extension restriction }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" block="extension restriction"/></xs:sequence></xs:complexType>"#,
    ),
    (
        r#"type Vessel { name: string about "As painted on the bow." }"#,
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string"><xs:annotation><xs:documentation>As painted on the bow.</xs:documentation></xs:annotation></xs:element></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { @verified: boolean }",
        r#"<xs:complexType name="Vessel"><xs:attribute name="verified" type="xs:boolean" use="required"/></xs:complexType>"#,
    ),
    (
        "type Vessel { @verified: boolean? }",
        r#"<xs:complexType name="Vessel"><xs:attribute name="verified" type="xs:boolean"/></xs:complexType>"#,
    ),
    (
        r#"type Vessel { @flag: string fixed "SM" }"#,
        r#"<xs:complexType name="Vessel"><xs:attribute name="flag" type="xs:string" use="required" fixed="SM"/></xs:complexType>"#,
    ),
    (
        "type Vessel { @flag: string prohibited }",
        r#"<xs:complexType name="Vessel"><xs:attribute name="flag" type="xs:string" use="prohibited"/></xs:complexType>"#,
    ),
    (
        "type Vessel { @flag: string? qualified }",
        r#"<xs:complexType name="Vessel"><xs:attribute name="flag" type="xs:string" form="qualified"/></xs:complexType>"#,
    ),
    (
        "type Vessel { choice { imo: int, flag: string } }",
        r#"<xs:complexType name="Vessel"><xs:choice><xs:element name="imo" type="xs:int"/><xs:element name="flag" type="xs:string"/></xs:choice></xs:complexType>"#,
    ),
    (
        "type Vessel { all { imo: int, flag: string? } }",
        r#"<xs:complexType name="Vessel"><xs:all><xs:element name="imo" type="xs:int"/><xs:element name="flag" type="xs:string" minOccurs="0"/></xs:all></xs:complexType>"#,
    ),
    (
        "type Vessel { sequence { imo: int, flag: string }* }",
        r#"<xs:complexType name="Vessel"><xs:sequence minOccurs="0" maxOccurs="unbounded"><xs:element name="imo" type="xs:int"/><xs:element name="flag" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { name: string, choice { imo: int, flag: string }+ }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string"/><xs:choice maxOccurs="unbounded"><xs:element name="imo" type="xs:int"/><xs:element name="flag" type="xs:string"/></xs:choice></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { choice { sequence { a: int, b: int }, c: int? }? }",
        r#"<xs:complexType name="Vessel"><xs:choice minOccurs="0"><xs:sequence><xs:element name="a" type="xs:int"/><xs:element name="b" type="xs:int"/></xs:sequence><xs:element name="c" type="xs:int" minOccurs="0"/></xs:choice></xs:complexType>"#,
    ),
    ("type Vessel {}", r#"<xs:complexType name="Vessel"><xs:sequence/></xs:complexType>"#),
    ("type Vessel { empty }", r#"<xs:complexType name="Vessel"/>"#),
    (
        "type Vessel { empty, @flag: string }",
        r#"<xs:complexType name="Vessel"><xs:attribute name="flag" type="xs:string" use="required"/></xs:complexType>"#,
    ),
    (
        "type Vessel { element Pilot? }, element Pilot: string",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element ref="tns:Pilot" minOccurs="0"/></xs:sequence></xs:complexType><xs:element name="Pilot" type="xs:string"/>"#,
    ),
    (
        "type Vessel { group Hull* }, group Hull { length: decimal, beam: decimal }",
        r#"<xs:complexType name="Vessel"><xs:group ref="tns:Hull" minOccurs="0" maxOccurs="unbounded"/></xs:complexType><xs:group name="Hull"><xs:sequence><xs:element name="length" type="xs:decimal"/><xs:element name="beam" type="xs:decimal"/></xs:sequence></xs:group>"#,
    ),
    (
        "type Vessel { attributes Marks }, attributes Marks { @flag: string, @home: string? }",
        r#"<xs:complexType name="Vessel"><xs:attributeGroup ref="tns:Marks"/></xs:complexType><xs:attributeGroup name="Marks"><xs:attribute name="flag" type="xs:string" use="required"/><xs:attribute name="home" type="xs:string"/></xs:attributeGroup>"#,
    ),
    (
        "type Vessel { attribute flag? }, attribute flag: token",
        r#"<xs:complexType name="Vessel"><xs:attribute ref="tns:flag"/></xs:complexType><xs:attribute name="flag" type="xs:token"/>"#,
    ),
    (
        "type Vessel { any }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:any/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { any* from other namespaces lax }",
        r###"<xs:complexType name="Vessel"><xs:sequence><xs:any minOccurs="0" maxOccurs="unbounded" namespace="##other" processContents="lax"/></xs:sequence></xs:complexType>"###,
    ),
    (
        "type Vessel { any? from this namespace skip }",
        r###"<xs:complexType name="Vessel"><xs:sequence><xs:any minOccurs="0" namespace="##targetNamespace" processContents="skip"/></xs:sequence></xs:complexType>"###,
    ),
    (
        "type Vessel { any from no namespace }",
        r###"<xs:complexType name="Vessel"><xs:sequence><xs:any namespace="##local"/></xs:sequence></xs:complexType>"###,
    ),
    (
        r#"type Vessel { any from "urn:saltmere:notes", no namespace }"#,
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:any namespace="urn:saltmere:notes ##local"/></xs:sequence></xs:complexType>"#,
    ),
    ("type Vessel { any attribute }", r#"<xs:complexType name="Vessel"><xs:anyAttribute/></xs:complexType>"#),
    (
        "type Vessel { any attribute from other namespaces lax }",
        r###"<xs:complexType name="Vessel"><xs:anyAttribute namespace="##other" processContents="lax"/></xs:complexType>"###,
    ),
    (
        "type Tanker extends Vessel { tanks: int }, type Vessel { name: string }",
        r#"<xs:complexType name="Tanker"><xs:complexContent><xs:extension base="tns:Vessel"><xs:sequence><xs:element name="tanks" type="xs:int"/></xs:sequence></xs:extension></xs:complexContent></xs:complexType><xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Tug restricts Vessel { name: string }, type Vessel { name: string? }",
        r#"<xs:complexType name="Tug"><xs:complexContent><xs:restriction base="tns:Vessel"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:restriction></xs:complexContent></xs:complexType><xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" minOccurs="0"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Tanker extends Vessel { @double: boolean }, type Vessel { name: string }",
        r#"<xs:complexType name="Tanker"><xs:complexContent><xs:extension base="tns:Vessel"><xs:attribute name="double" type="xs:boolean" use="required"/></xs:extension></xs:complexContent></xs:complexType><xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Depth = decimal { @unit: string }",
        r#"<xs:complexType name="Depth"><xs:simpleContent><xs:extension base="xs:decimal"><xs:attribute name="unit" type="xs:string" use="required"/></xs:extension></xs:simpleContent></xs:complexType>"#,
    ),
    (
        r#"type Depth = decimal { @unit: string? fixed "m" }"#,
        r#"<xs:complexType name="Depth"><xs:simpleContent><xs:extension base="xs:decimal"><xs:attribute name="unit" type="xs:string" fixed="m"/></xs:extension></xs:simpleContent></xs:complexType>"#,
    ),
    (
        "type Shallow = restricting Depth range ..5, type Depth = decimal { @unit: string }",
        r#"<xs:complexType name="Shallow"><xs:simpleContent><xs:restriction base="tns:Depth"><xs:maxInclusive value="5"/></xs:restriction></xs:simpleContent></xs:complexType><xs:complexType name="Depth"><xs:simpleContent><xs:extension base="xs:decimal"><xs:attribute name="unit" type="xs:string" use="required"/></xs:extension></xs:simpleContent></xs:complexType>"#,
    ),
    (
        "type Deep = Depth { @by: string }, type Depth = decimal { @unit: string }",
        r#"<xs:complexType name="Deep"><xs:simpleContent><xs:extension base="tns:Depth"><xs:attribute name="by" type="xs:string" use="required"/></xs:extension></xs:simpleContent></xs:complexType><xs:complexType name="Depth"><xs:simpleContent><xs:extension base="xs:decimal"><xs:attribute name="unit" type="xs:string" use="required"/></xs:extension></xs:simpleContent></xs:complexType>"#,
    ),
    (
        "abstract type Vessel { name: string }",
        r#"<xs:complexType name="Vessel" abstract="true"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "mixed type Note { bold: string* }",
        r#"<xs:complexType name="Note" mixed="true"><xs:sequence><xs:element name="bold" type="xs:string" minOccurs="0" maxOccurs="unbounded"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "abstract mixed type Note { bold: string* }",
        r#"<xs:complexType name="Note" abstract="true" mixed="true"><xs:sequence><xs:element name="bold" type="xs:string" minOccurs="0" maxOccurs="unbounded"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel block extension { name: string }",
        r#"<xs:complexType name="Vessel" block="extension"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel final all { name: string }",
        r##"<xs:complexType name="Vessel" final="#all"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"##,
    ),
    (
        "type Vessel block all final extension { name: string }",
        r##"<xs:complexType name="Vessel" block="#all" final="extension"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"##,
    ),
    (
        "type Vessel { cargo }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="cargo"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { cargo? nillable }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="cargo" minOccurs="0" nillable="true"/></xs:sequence></xs:complexType>"#,
    ),
    (
        r#"type Vessel { @verified: boolean? default "true" }"#,
        r#"<xs:complexType name="Vessel"><xs:attribute name="verified" type="xs:boolean" default="true"/></xs:complexType>"#,
    ),
    (
        "type Vessel { @note? }",
        r#"<xs:complexType name="Vessel"><xs:attribute name="note"/></xs:complexType>"#,
    ),
    (
        r#"type Vessel { about "A ship.", name: string }"#,
        r#"<xs:complexType name="Vessel"><xs:annotation><xs:documentation>A ship.</xs:documentation></xs:annotation><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { `choice`: int, `any`: int }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="choice" type="xs:int"/><xs:element name="any" type="xs:int"/></xs:sequence></xs:complexType>"#,
    ),
    (
        r#"type Vessel with id "x" { name: string }"#,
        r#"<xs:complexType name="Vessel" id="x"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        r#"type Vessel { name: string with id "n" }"#,
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string" id="n"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { hold: {size: int}, tank: {}, next: int }",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="hold"><xs:complexType><xs:sequence><xs:element name="size" type="xs:int"/></xs:sequence></xs:complexType></xs:element><xs:element name="tank"><xs:complexType><xs:sequence/></xs:complexType></xs:element><xs:element name="next" type="xs:int"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "type Vessel { flag: {urn:saltmere:port:1}Flag? }, type Flag = string",
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="flag" type="tns:Flag" minOccurs="0"/></xs:sequence></xs:complexType><xs:simpleType name="Flag"><xs:restriction base="xs:string"/></xs:simpleType>"#,
    ),
    (
        r#"type Vessel { xml <xs:sequence><xs:element name="a" type="xs:int"/></xs:sequence> }"#,
        r#"<xs:complexType name="Vessel"><xs:sequence><xs:element name="a" type="xs:int"/></xs:sequence></xs:complexType>"#,
    ),
];

/// Other global components.
pub const GLOBAL: &[(&str, &str)] = &[
    (
        "element visit: Visit, type Visit { day: date }",
        r#"<xs:element name="visit" type="tns:Visit"/><xs:complexType name="Visit"><xs:sequence><xs:element name="day" type="xs:date"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "element visit { day: date }",
        r#"<xs:element name="visit"><xs:complexType><xs:sequence><xs:element name="day" type="xs:date"/></xs:sequence></xs:complexType></xs:element>"#,
    ),
    ("element visit: date nillable", r#"<xs:element name="visit" type="xs:date" nillable="true"/>"#),
    (
        r#"element visit: string like "[A-Z]{3}""#,
        r#"<xs:element name="visit"><xs:simpleType><xs:restriction base="xs:string"><xs:pattern value="[A-Z]{3}"/></xs:restriction></xs:simpleType></xs:element>"#,
    ),
    (
        "element tug: Vessel replaces craft, element craft: Vessel abstract, type Vessel { name: string }",
        r#"<xs:element name="tug" type="tns:Vessel" substitutionGroup="tns:craft"/><xs:element name="craft" type="tns:Vessel" abstract="true"/><xs:complexType name="Vessel"><xs:sequence><xs:element name="name" type="xs:string"/></xs:sequence></xs:complexType>"#,
    ),
    (
        "element visit { @no: int }",
        r#"<xs:element name="visit"><xs:complexType><xs:attribute name="no" type="xs:int" use="required"/></xs:complexType></xs:element>"#,
    ),
    ("attribute unit: token", r#"<xs:attribute name="unit" type="xs:token"/>"#),
    (r#"attribute unit: token default "m""#, r#"<xs:attribute name="unit" type="xs:token" default="m"/>"#),
    (
        r#"attribute unit: string one-of "m", "ft""#,
        r#"<xs:attribute name="unit"><xs:simpleType><xs:restriction base="xs:string"><xs:enumeration value="m"/><xs:enumeration value="ft"/></xs:restriction></xs:simpleType></xs:attribute>"#,
    ),
    (
        "attributes Marks { @flag: string, any attribute lax }",
        r#"<xs:attributeGroup name="Marks"><xs:attribute name="flag" type="xs:string" use="required"/><xs:anyAttribute processContents="lax"/></xs:attributeGroup>"#,
    ),
    (
        "attributes More { attributes Marks, @home: string }, attributes Marks { @flag: string }",
        r#"<xs:attributeGroup name="More"><xs:attributeGroup ref="tns:Marks"/><xs:attribute name="home" type="xs:string" use="required"/></xs:attributeGroup><xs:attributeGroup name="Marks"><xs:attribute name="flag" type="xs:string" use="required"/></xs:attributeGroup>"#,
    ),
    (
        "group Hull { choice { length: decimal, beam: decimal } }",
        r#"<xs:group name="Hull"><xs:choice><xs:element name="length" type="xs:decimal"/><xs:element name="beam" type="xs:decimal"/></xs:choice></xs:group>"#,
    ),
    (
        "group Hull { all { length: decimal, beam: decimal } }",
        r#"<xs:group name="Hull"><xs:all><xs:element name="length" type="xs:decimal"/><xs:element name="beam" type="xs:decimal"/></xs:all></xs:group>"#,
    ),
    (
        r#"element visits { visit: { @no: int }* } unique once of "visit" by "@no""#,
        r#"<xs:element name="visits"><xs:complexType><xs:sequence><xs:element name="visit" minOccurs="0" maxOccurs="unbounded"><xs:complexType><xs:attribute name="no" type="xs:int" use="required"/></xs:complexType></xs:element></xs:sequence></xs:complexType><xs:unique name="once"><xs:selector xpath="visit"/><xs:field xpath="@no"/></xs:unique></xs:element>"#,
    ),
    ("element cargo abstract", r#"<xs:element name="cargo" abstract="true"/>"#),
];
