//! Input that is made to be hard: each generator takes a size, and its file is read by everything that reads such files.

use std::fmt::Write as _;

pub(super) const XS: &str = "xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"";

/// A contract whose one operation has an element of these declarations.
pub(super) fn port(declarations: &str) -> String {
    format!(
        r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" {XS} xmlns:t="urn:saltmere:quay" targetNamespace="urn:saltmere:quay" name="Quay"><w:types><xs:schema targetNamespace="urn:saltmere:quay" elementFormDefault="qualified">{declarations}</xs:schema></w:types><w:message name="In"><w:part name="p" element="t:moor"/></w:message><w:portType name="P"><w:operation name="moor"><w:input message="t:In"/><w:output message="t:In"/></w:operation></w:portType><w:binding name="B" type="t:P"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/><w:operation name="moor"><s:operation soapAction="moor"/><w:input><s:body use="literal"/></w:input><w:output><s:body use="literal"/></w:output></w:operation></w:binding><w:service name="S"><w:port name="Q" binding="t:B"><s:address location="http://quay.saltmere.example/"/></w:port></w:service></w:definitions>"#
    )
}

pub(super) fn moor(content: &str) -> String {
    format!("<xs:element name=\"moor\"><xs:complexType>{content}</xs:complexType></xs:element>")
}

pub(super) fn each(count: usize, piece: impl Fn(usize) -> String) -> String {
    (0..count).map(piece).collect()
}

pub(super) fn chained(count: usize, first: &str, piece: impl Fn(usize, usize) -> String) -> String {
    first.to_owned() + &(1..count).map(|n| piece(n, n - 1)).collect::<String>()
}

/// A SOAP message with that in its body.
pub(super) fn envelope(body: &str) -> String {
    format!(
        "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body>{body}</e:Body></e:Envelope>"
    )
}

/// A contract whose element is of the last of `n` types.
pub(super) fn last_of(types: &str, n: usize) -> String {
    port(&format!("{types}<xs:element name=\"moor\" type=\"t:T{}\"/>", n - 1))
}

pub(super) type Generator = (&'static str, &'static str, fn(usize) -> String);

/// The name of each, the ending of its file, and what it makes of a size.
pub(super) const ALL: &[Generator] = &[
    ("groups twice", "wsdl", |n| {
        let first = "<xs:group name=\"g0\"><xs:sequence><xs:element name=\"a\" type=\"xs:int\"/></xs:sequence></xs:group>";
        let groups = chained(n.min(3000), first, |n, m| {
            format!(
                "<xs:group name=\"g{n}\"><xs:sequence><xs:group ref=\"t:g{m}\"/><xs:group ref=\"t:g{m}\"/></xs:sequence></xs:group>"
            )
        });
        port(&(groups + &moor(&format!("<xs:group ref=\"t:g{}\"/>", n.min(3000) - 1))))
    }),
    ("types twice", "wsdl", |n| {
        let types = chained(n, "<xs:complexType name=\"T0\"><xs:sequence/></xs:complexType>", |n, m| {
            format!(
                "<xs:complexType name=\"T{n}\"><xs:sequence><xs:element name=\"a\" type=\"t:T{m}\"/><xs:element name=\"b\" type=\"t:T{m}\"/></xs:sequence></xs:complexType>"
            )
        });
        last_of(&types, n)
    }),
    ("derivation", "wsdl", |n| {
        let types = chained(
            n,
            "<xs:complexType name=\"T0\"><xs:sequence><xs:element name=\"a0\" type=\"xs:int\"/></xs:sequence></xs:complexType>",
            |n, m| {
                format!(
                    "<xs:complexType name=\"T{n}\"><xs:complexContent><xs:extension base=\"t:T{m}\"><xs:sequence><xs:element name=\"a{n}\" type=\"xs:int\"/></xs:sequence></xs:extension></xs:complexContent></xs:complexType>"
                )
            },
        );
        last_of(&types, n)
    }),
    ("unions twice", "wsdl", |n| {
        let types = chained(
            n,
            "<xs:simpleType name=\"T0\"><xs:restriction base=\"xs:int\"/></xs:simpleType>",
            |n, m| {
                format!(
                    "<xs:simpleType name=\"A{n}\"><xs:restriction base=\"t:T{m}\"><xs:pattern value=\"1.*\"/></xs:restriction></xs:simpleType><xs:simpleType name=\"T{n}\"><xs:union memberTypes=\"t:A{n} t:T{m}\"/></xs:simpleType>"
                )
            },
        );
        last_of(&types, n)
    }),
    ("substitutes in a chain", "wsdl", |n| {
        let chain = chained(n, "<xs:element name=\"s0\" type=\"xs:int\"/>", |n, m| {
            format!("<xs:element name=\"s{n}\" type=\"xs:int\" substitutionGroup=\"t:s{m}\"/>")
        });
        port(&(chain + &moor("<xs:sequence><xs:element ref=\"t:s0\"/></xs:sequence>")))
    }),
    ("substitutes of one", "wsdl", |n| {
        let all = each(n, |n| {
            format!("<xs:element name=\"s{}\" type=\"xs:int\" substitutionGroup=\"t:head\"/>", n + 1)
        });
        port(&format!(
            "<xs:element name=\"head\" type=\"xs:int\"/>{all}{}",
            moor("<xs:sequence><xs:element ref=\"t:head\"/></xs:sequence>")
        ))
    }),
    ("fields", "wsdl", |n| {
        port(&moor(&format!(
            "<xs:sequence>{}</xs:sequence>",
            each(n, |n| format!("<xs:element name=\"f{n}\" type=\"xs:int\" minOccurs=\"0\"/>"))
        )))
    }),
    ("attributes", "wsdl", |n| {
        port(&moor(&each(n, |n| format!("<xs:attribute name=\"f{n}\" type=\"xs:int\" use=\"required\"/>"))))
    }),
    ("choices that repeat", "wsdl", |n| {
        port(&moor(&format!(
            "<xs:sequence>{}</xs:sequence>",
            each(n, |_| {
                "<xs:choice minOccurs=\"0\" maxOccurs=\"unbounded\"><xs:element name=\"a\" type=\"xs:int\"/><xs:element name=\"b\" type=\"xs:int\" minOccurs=\"0\"/></xs:choice>".to_owned()
            })
        )))
    }),
    ("counts in counts", "wsdl", |n| {
        port(&moor(&format!(
            "<xs:sequence>{}</xs:sequence>",
            each(n.min(400), |n| format!(
                "<xs:sequence minOccurs=\"0\" maxOccurs=\"{}\"><xs:element name=\"a\" type=\"xs:int\" minOccurs=\"0\" maxOccurs=\"{}\"/></xs:sequence>",
                n + 2,
                n + 3
            ))
        )))
    }),
    ("patterns", "wsdl", |n| {
        port(&format!(
            "<xs:element name=\"moor\"><xs:simpleType><xs:restriction base=\"xs:string\">{}</xs:restriction></xs:simpleType></xs:element>",
            each(n.min(2000), |n| format!("<xs:pattern value=\"\\w{{1,{}}}x{n}\"/>", 40 + n % 400))
        ))
    }),
    ("values", "wsdl", |n| {
        port(&format!(
            "<xs:element name=\"moor\"><xs:simpleType><xs:restriction base=\"xs:string\">{}</xs:restriction></xs:simpleType></xs:element>",
            each(n, |n| format!("<xs:enumeration value=\"v{n}\"/>"))
        ))
    }),
    ("names that lead nowhere", "wsdl", |n| {
        port(&moor(&format!(
            "<xs:sequence>{}</xs:sequence>",
            each(n, |n| format!("<xs:element ref=\"t:gone{n}\"/>"))
        )))
    }),
    ("keys", "wsdl", |n| {
        let keys = each(n.min(3000), |n| {
            format!(
                "<xs:key name=\"k{n}\"><xs:selector xpath=\".//t:a|t:b/t:c\"/><xs:field xpath=\"@x|t:y\"/></xs:key>"
            )
        });
        port(&format!(
            "<xs:element name=\"moor\"><xs:complexType><xs:sequence><xs:element name=\"a\" type=\"xs:int\" maxOccurs=\"9\"/></xs:sequence></xs:complexType>{keys}</xs:element>"
        ))
    }),
    ("imports", "wsdl", |n| {
        port(&format!(
            "{}{}",
            each(n, |n| format!("<xs:import namespace=\"urn:{n}\" schemaLocation=\"gone{n}.xsd\"/>")),
            moor("")
        ))
    }),
    ("messages", "wsdl", |n| {
        port(&moor("")).replace(
            "<w:portType",
            &(each(n, |n| {
                format!("<w:message name=\"M{n}\"><w:part name=\"p\" element=\"t:moor\"/></w:message>")
            }) + "<w:portType"),
        )
    }),
    ("operations", "wsdl", |n| {
        port(&moor("")).replace(
            "<w:operation name=\"moor\"><w:input",
            &(each(n, |n| format!("<w:operation name=\"op{n}\"><w:input message=\"t:In\"/></w:operation>"))
                + "<w:operation name=\"moor\"><w:input"),
        )
    }),
    ("attributes of one tag", "xsd", |n| {
        format!("<xs:schema {XS}><xs:element name=\"e\"{}/></xs:schema>", each(n, |n| format!(" a{n}=\"1\"")))
    }),
    ("prefixes", "xsd", |n| {
        format!(
            "<xs:schema {XS}{}><xs:element name=\"e\" type=\"xs:int\"/></xs:schema>",
            each(n, |n| format!(" xmlns:n{n}=\"urn:n:{n}\""))
        )
    }),
    ("prefixes on every element", "xsd", |n| {
        format!(
            "<xs:schema {XS}{}>{}</xs:schema>",
            each(n / 10, |n| format!(" xmlns:n{n}=\"urn:n:{n}\"")),
            each(n, |n| format!("<xs:element xmlns:q=\"u{n}\" name=\"e{n}\" type=\"xs:int\"/>"))
        )
    }),
    ("depth", "xsd", |n| format!("<xs:schema {XS}>{}{}</xs:schema>", "<a>".repeat(n), "</a>".repeat(n))),
    ("empty elements", "xsd", |n| format!("<xs:schema {XS}>{}</xs:schema>", "<a/>".repeat(n * 4))),
    ("documentation", "xsd", |n| {
        format!(
            "<xs:schema {XS}><xs:annotation><xs:documentation>{}</xs:documentation></xs:annotation></xs:schema>",
            "port &amp; starboard ".repeat(n)
        )
    }),
    ("entities", "xsd", |n| {
        format!(
            "<!DOCTYPE s [<!ENTITY a \"{}\">]><xs:schema {XS}><xs:annotation><xs:documentation>{}</xs:documentation></xs:annotation></xs:schema>",
            "a".repeat(n),
            "&a;".repeat(n)
        )
    }),
    ("entities within entities", "xsd", |n| {
        let mut text = "<!DOCTYPE s [<!ENTITY e0 \"\">".to_owned();
        (1..n.min(200)).for_each(|n| write!(text, "<!ENTITY e{n} \"&e{0};&e{0};\">", n - 1).unwrap());
        format!("{text}]><xs:schema {XS}>&e{};</xs:schema>", n.min(200) - 1)
    }),
    ("envelopes", "http", |n| {
        "POST /1 HTTP/1.1\r\nContent-Type: text/xml\r\nSOAPAction: \"moor\"\r\n\r\n<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><moor xmlns=\"urn:saltmere:quay\"/></e:Body></e:Envelope>\r\n".repeat(n / 2)
    }),
    ("chunks", "http", |n| {
        format!(
            "HTTP/1.1 200 OK\r\nTransfer-Encoding: chunked\r\nContent-Type: text/xml\r\n\r\n{}ffffffffffffffff\r\n",
            "1\r\n<\r\n".repeat(n)
        )
    }),
    ("header lines", "http", |n| {
        format!("POST / HTTP/1.1\r\n{}\r\n<a/>", each(n, |n| format!("X-{n}: y\r\n")))
    }),
    ("parts", "http", |n| {
        format!(
            "POST / HTTP/1.1\r\nContent-Type: multipart/related; boundary=b\r\n\r\n{}--b--\r\n",
            "--b\r\nContent-Type: text/xml\r\n\r\n<a/>\r\n".repeat(n)
        )
    }),
    ("lines", "jsonl", |n| {
        "{\"body\":\"<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body><moor xmlns='urn:saltmere:quay'/></e:Body></e:Envelope>\"}\n".repeat(n)
    }),
    ("wrong children", "xml", |n| {
        let children = each(n, |n| format!("<w{n}><x>1</x></w{n}>"));
        envelope(&format!("<moor xmlns=\"urn:saltmere:quay\">{children}</moor>"))
    }),
    ("blocks in blocks", "charter", |n| {
        format!(
            "contract Deep \"urn:saltmere:deep:1\" {{\n  type T {{\n{}b: string{}\n  }}\n}}\n",
            "a: { ".repeat(n),
            " }".repeat(n)
        )
    }),
    ("errors", "charter", |n| {
        format!("contract Wrong \"urn:saltmere:wrong:1\" {{\n{}}}\n", "  what is this \"\n".repeat(n))
    }),
    ("types of notation", "charter", |n| {
        format!(
            "contract Many \"urn:saltmere:many:1\" {{\n{}}}\n",
            each(n, |n| format!("  type T{n} {{ a: string? b: T{}* }}\n", n / 2))
        )
    }),
    ("conditions", "sql", |n| format!("create table t (a int check ({}a>1))", "a>1 and ".repeat(n))),
    ("cases", "sql", |n| {
        format!("create table t (a int default {}1", "case when 1 then ".repeat(n.min(500)))
    }),
    ("columns", "sql", |n| {
        format!(
            "create table t ({})",
            each(n, |n| format!("c{n} int check (((((c{n} > 1))))),")).trim_end_matches(',')
        )
    }),
    ("cells", "csv", |n| format!("{}\n{}\n", each(n, |n| format!("c{n},")), "1,".repeat(n))),
];

/// What reads a file with that ending; X is its name.
pub(super) fn commands(ending: &str) -> &'static [&'static str] {
    match ending {
        "wsdl" => &[
            "check X --notes",
            "show X",
            "message X moor",
            "message X moor --hostile",
            "message X moor --size random",
            "compare X X",
            "set X contract about=Quay --dry-run",
            "match X message.xml",
            "message X --all out",
            "check X --format json",
            "check X --fix",
            "rename X element/moor tie --dry-run",
            "message X moor -o own.xml",
            "match X own.xml",
            "compare quay.wsdl X",
            "compare X quay.wsdl",
            "set X element/moor about=Quay --dry-run",
            "remove X --unused --dry-run",
            "remove X element/moor --with-references --dry-run",
        ],
        "xsd" => &[
            "check X --notes",
            "show X",
            "set X contract about=Quay --dry-run",
            "check X --format json",
            "match X message.xml",
        ],
        "http" | "jsonl" | "xml" => &[
            "match quay.wsdl X",
            "match quay.wsdl X --format json",
            "check X",
            "derive X",
            "match quay.wsdl X --values",
        ],
        "charter" => &[
            "new --from X",
            "compare X X",
            "set X contract about=Deep --dry-run",
            "edit quay.wsdl --with X --dry-run",
        ],
        "toml" => &[
            "check quay.wsdl --baseline X",
            "compare quay.wsdl quay.wsdl --consumers records",
            "check settled/quay.wsdl",
        ],
        _ => &["derive X", "message quay.wsdl moor --values X -o out"],
    }
}
