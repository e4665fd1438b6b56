//! More input that is made to be hard: what contracts have beside their schemas, policies, tables, values, settings.

use super::generators::{Generator, XS, chained, each, envelope, last_of, moor, port};

const POLICY: &str = "xmlns:wsp=\"http://www.w3.org/ns/ws-policy\" xmlns:q=\"urn:saltmere:demands\"";

/// The contract with pieces before others.
fn with(pieces: &[(&str, String)]) -> String {
    pieces
        .iter()
        .fold(port(&moor("")), |text, (before, piece)| text.replacen(before, &format!("{piece}{before}"), 1))
}

/// A contract whose binding has a policy of these operators.
fn demanding(operators: &str) -> String {
    with(&[(
        "<w:operation name=\"moor\"><s:operation",
        format!("<wsp:Policy {POLICY}>{operators}</wsp:Policy>"),
    )])
}

/// A schema of these declarations.
fn schema(declarations: &str) -> String {
    format!(
        "<xs:schema {XS} xmlns:t=\"urn:saltmere:quay\" targetNamespace=\"urn:saltmere:quay\">{declarations}</xs:schema>"
    )
}

/// Fields of types that differ in their pattern, which comes from their number.
fn patterned(n: usize, more: &str, pattern: impl Fn(usize) -> String) -> String {
    let types = each(n, |n| {
        let pattern = pattern(n);
        format!(
            "<xs:simpleType name=\"P{n}\"><xs:restriction base=\"xs:string\"><xs:pattern value=\"{pattern}\"/></xs:restriction></xs:simpleType>"
        )
    });
    let fields = each(n, |n| format!("<xs:element name=\"f{n}\" type=\"t:P{n}\"{more}/>"));
    port(&(types + &moor(&format!("<xs:sequence>{fields}</xs:sequence>"))))
}

/// The name of each, the ending of its file, and what it makes of a size.
pub const MORE: &[Generator] = &[
    ("patterns of their own", "wsdl", |n| patterned(n / 2, "", |n| format!("([a-z][0-9]?){{1,900}}{n}"))),
    ("patterns that repeat much", "wsdl", |n| patterned(n / 2, "", |n| format!("[ab]{{1,250000}}{n}"))),
    ("patterns that take many ways", "wsdl", |n| {
        let value = format!(" default=\"{}\"", "ab".repeat(n / 8));
        patterned(n / 80 + 1, &value, |n| format!("([ab]?){{{}}}c?", 9_000 + n))
    }),
    ("patterns of wide classes", "wsdl", |n| {
        patterned(n / 100 + 1, "", |n| r"\w[\w-[\d]]".repeat(300 + n % 400))
    }),
    ("one pattern of wide classes", "wsdl", |n| patterned(1, "", |_| r"\w[\W-[\i]]".repeat(n * 4))),
    ("elements of a schema", "wsdl", |n| {
        let all = each(n, |n| format!("<xs:element name=\"e{n}\" type=\"xs:string\"/>"));
        let uses = each(n, |n| format!("<xs:element ref=\"t:e{n}\"/>"));
        port(&(all + &moor(&format!("<xs:sequence>{uses}</xs:sequence>"))))
    }),
    ("elements that nothing uses", "wsdl", |n| {
        port(&(each(n * 2, |n| format!("<xs:element name=\"e{n}\" type=\"xs:string\"/>")) + &moor("")))
    }),
    ("types in types", "wsdl", |n| {
        let inner = "<xs:complexType><xs:sequence><xs:element name=\"b\"><xs:complexType><xs:sequence><xs:element name=\"c\" type=\"xs:int\"/></xs:sequence></xs:complexType></xs:element></xs:sequence></xs:complexType>";
        let all = each(n / 2, |n| format!("<xs:element name=\"a{n}\">{inner}</xs:element>"));
        port(&moor(&format!("<xs:sequence>{all}</xs:sequence>")))
    }),
    ("groups of attributes twice", "wsdl", |n| {
        let groups = chained(
            n,
            "<xs:attributeGroup name=\"g0\"><xs:attribute name=\"a\" type=\"xs:int\"/></xs:attributeGroup>",
            |n, m| {
                format!(
                    "<xs:attributeGroup name=\"g{n}\"><xs:attributeGroup ref=\"t:g{m}\"/><xs:attributeGroup ref=\"t:g{m}\"/></xs:attributeGroup>"
                )
            },
        );
        port(&(groups + &moor(&format!("<xs:attributeGroup ref=\"t:g{}\"/>", n - 1))))
    }),
    ("groups of attributes by all", "wsdl", |n| {
        let group = each(n, |n| format!("<xs:attribute name=\"a{n}\" type=\"xs:int\"/>"));
        let types = each(n, |n| {
            format!("<xs:complexType name=\"T{n}\"><xs:attributeGroup ref=\"t:g\"/></xs:complexType>")
        });
        last_of(&format!("<xs:attributeGroup name=\"g\">{group}</xs:attributeGroup>{types}"), n)
    }),
    ("attributes inherited", "wsdl", |n| {
        let types = chained(
            n,
            "<xs:complexType name=\"T0\"><xs:attribute name=\"a0\"/></xs:complexType>",
            |n, m| {
                format!(
                    "<xs:complexType name=\"T{n}\"><xs:complexContent><xs:extension base=\"t:T{m}\"><xs:attribute name=\"a{n}\"/></xs:extension></xs:complexContent></xs:complexType>"
                )
            },
        );
        last_of(&types, n)
    }),
    ("lists of lists", "wsdl", |n| {
        let types = chained(
            n,
            "<xs:simpleType name=\"T0\"><xs:restriction base=\"xs:int\"/></xs:simpleType>",
            |n, m| {
                format!(
                    "<xs:simpleType name=\"T{n}\"><xs:restriction base=\"t:T{m}\"><xs:enumeration value=\"1\"/><xs:enumeration value=\"2\"/></xs:restriction></xs:simpleType>"
                )
            },
        );
        last_of(&types, n)
    }),
    ("schemas", "wsdl", |n| {
        let schemas = each(n, |n| {
            format!(
                "<xs:schema targetNamespace=\"urn:n:{n}\"><xs:element name=\"e\" type=\"xs:int\"/></xs:schema>"
            )
        });
        with(&[("<xs:schema ", schemas)])
    }),
    ("schemas of one namespace", "wsdl", |n| {
        let schemas = each(n, |n| {
            format!(
                "<xs:schema targetNamespace=\"urn:saltmere:quay\"><xs:element name=\"e{n}\" type=\"xs:int\"/></xs:schema>"
            )
        });
        with(&[("<xs:schema ", schemas)])
    }),
    ("imports of each by each", "wsdl", |n| {
        let schemas = each(n, |n| {
            format!(
                "<xs:schema targetNamespace=\"urn:n:{n}\"><xs:import namespace=\"urn:n:{}\"/><xs:element name=\"e\" type=\"xs:int\"/></xs:schema>",
                n + 1
            )
        });
        with(&[("<xs:schema ", schemas)])
    }),
    ("parts of a message", "wsdl", |n| {
        let parts = each(n, |n| format!("<w:part name=\"p{n}\" element=\"t:moor\"/>"));
        with(&[("<w:part name=\"p\"", parts)])
    }),
    ("header blocks", "wsdl", |n| {
        let parts = each(n, |n| format!("<w:part name=\"p{n}\" element=\"t:moor\"/>"));
        let headers = each(n, |n| format!("<s:header message=\"t:In\" part=\"p{n}\" use=\"literal\"/>"));
        with(&[("<w:part name=\"p\"", parts), ("<s:body", headers)])
    }),
    ("bindings", "wsdl", |n| {
        with(&[(
            "<w:service",
            each(n, |n| {
                format!(
                    "<w:binding name=\"B{n}\" type=\"t:P\"><s:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/></w:binding>"
                )
            }),
        )])
    }),
    ("ports", "wsdl", |n| {
        with(&[(
            "<w:port ",
            each(n, |n| {
                format!(
                    "<w:port name=\"Q{n}\" binding=\"t:B\"><s:address location=\"http://quay.saltmere.example/{n}\"/></w:port>"
                )
            }),
        )])
    }),
    ("faults", "wsdl", |n| {
        let faults = each(n, |n| format!("<w:fault name=\"f{n}\" message=\"t:In\"/>"));
        let bound =
            each(n, |n| format!("<w:fault name=\"f{n}\"><s:fault name=\"f{n}\" use=\"literal\"/></w:fault>"));
        port(&moor(""))
            .replace("<w:output message=\"t:In\"/>", &format!("<w:output message=\"t:In\"/>{faults}"))
            .replace(
                "</w:output></w:operation></w:binding>",
                &format!("</w:output>{bound}</w:operation></w:binding>"),
            )
    }),
    ("faults that are bound by other names", "wsdl", |n| {
        let faults = each(n, |n| format!("<w:fault name=\"fault{n}\" message=\"t:In\"/>"));
        let bound = each(n, |n| format!("<w:fault name=\"fauld{n}\"/>"));
        port(&moor(""))
            .replace("<w:output message=\"t:In\"/>", &format!("<w:output message=\"t:In\"/>{faults}"))
            .replace(
                "</w:output></w:operation></w:binding>",
                &format!("</w:output>{bound}</w:operation></w:binding>"),
            )
    }),
    ("parts that header blocks name by other names", "wsdl", |n| {
        let parts = each(n, |n| format!("<w:part name=\"part{n}\" element=\"t:moor\"/>"));
        let headers = each(n, |n| format!("<s:header message=\"t:In\" part=\"pard{n}\" use=\"literal\"/>"));
        with(&[("<w:part name=\"p\"", parts), ("<s:body", headers)])
    }),
    ("references to policies of other names", "wsdl", |n| {
        let policies = each(n, |n| format!("<wsp:Policy {POLICY} xml:id=\"policy{n}\"/>"));
        let references = each(n, |n| format!("<wsp:PolicyReference {POLICY} URI=\"#polizy{n}\"/>"));
        with(&[("<w:types", policies), ("<w:operation name=\"moor\"><s:operation", references)])
    }),
    ("operations bound", "wsdl", |n| {
        let operations =
            each(n, |n| format!("<w:operation name=\"op{n}\"><w:input message=\"t:In\"/></w:operation>"));
        let bound = each(n, |n| {
            format!("<w:operation name=\"op{n}\"><s:operation/><w:input><s:body/></w:input></w:operation>")
        });
        with(&[
            ("<w:operation name=\"moor\"><w:input", operations),
            ("<w:operation name=\"moor\"><s:operation", bound),
        ])
    }),
    ("operations of one name", "wsdl", |n| {
        with(&[(
            "<w:operation name=\"moor\"><w:input",
            "<w:operation name=\"moor\"><w:input message=\"t:In\"/></w:operation>".repeat(n),
        )])
    }),
    ("one name for all", "wsdl", |n| {
        port(&(moor("") + &"<xs:element name=\"moor\" type=\"xs:int\"/>".repeat(n)))
    }),
    ("alternatives", "wsdl", |n| {
        demanding(&each(n, |n| format!("<wsp:ExactlyOne><q:a{n}/><q:b{n}/></wsp:ExactlyOne>")))
    }),
    ("assertions", "wsdl", |n| demanding(&each(n, |n| format!("<q:a{n} wsp:Optional=\"true\"/>")))),
    ("policies", "wsdl", |n| {
        let policies = each(n, |n| {
            format!(
                "<wsp:Policy {POLICY} xml:id=\"p{n}\"><wsp:PolicyReference URI=\"#p{}\"/><wsp:PolicyReference URI=\"#p{}\"/></wsp:Policy>",
                n + 1,
                n + 1
            )
        });
        with(&[("<w:types", policies + &format!("<wsp:PolicyReference {POLICY} URI=\"#p0\"/>"))])
    }),
    ("documentation of one element", "wsdl", |n| {
        with(&[("<w:types", format!("<w:documentation>{}</w:documentation>", "quay \n".repeat(n * 8)))])
    }),
    ("comments", "wsdl", |n| with(&[("<w:types", "<!-- quay --><?quay north?>".repeat(n))])),
    ("one long value", "wsdl", |n| {
        port(&moor("")).replace("name=\"Quay\"", &format!("name=\"{}\"", "q".repeat(n * 60)))
    }),
    ("names that are alike", "wsdl", |n| {
        port(
            &(moor("")
                + &each(n, |n| format!("<xs:element name=\"e{n}\" type=\"t:{}{n}\"/>", "Long".repeat(5)))),
        )
    }),
    ("types of their own", "xsd", |n| {
        schema(&each(n, |n| {
            format!(
                "<xs:element name=\"e{n}\"><xs:simpleType><xs:restriction base=\"xs:string\"><xs:maxLength value=\"{n}\"/></xs:restriction></xs:simpleType></xs:element>"
            )
        }))
    }),
    ("wildcards", "xsd", |n| {
        schema(&moor(&format!(
            "<xs:sequence>{}</xs:sequence>",
            each(n, |n| format!("<xs:any namespace=\"urn:n:{n}\" minOccurs=\"0\"/>"))
        )))
    }),
    ("namespaces of a wildcard", "xsd", |n| {
        schema(&moor(&format!(
            "<xs:sequence><xs:any namespace=\"{}\"/></xs:sequence><xs:anyAttribute namespace=\"{}\"/>",
            each(n, |n| format!("urn:n:{n} ")),
            each(n, |n| format!("urn:m:{n} "))
        )))
    }),
    ("all", "xsd", |n| {
        schema(&moor(&format!(
            "<xs:all>{}</xs:all>",
            each(n, |n| format!("<xs:element name=\"a{n}\" type=\"xs:int\" minOccurs=\"0\"/>"))
        )))
    }),
    ("choice", "xsd", |n| {
        schema(&moor(&format!(
            "<xs:choice maxOccurs=\"unbounded\">{}</xs:choice>",
            each(n, |n| format!("<xs:element name=\"a{n}\" type=\"xs:int\"/>"))
        )))
    }),
    ("particles of one name", "xsd", |n| {
        schema(&moor(&format!(
            "<xs:sequence>{}</xs:sequence>",
            "<xs:element name=\"a\" type=\"xs:int\" minOccurs=\"0\"/>".repeat(n)
        )))
    }),
    ("redefinitions", "xsd", |n| {
        schema(&each(n, |n| {
            format!(
                "<xs:redefine schemaLocation=\"gone{n}.xsd\"><xs:simpleType name=\"T{n}\"><xs:restriction base=\"t:T{n}\"/></xs:simpleType></xs:redefine>"
            )
        }))
    }),
    ("long pattern", "xsd", |n| {
        schema(&format!(
            "<xs:simpleType name=\"T\"><xs:restriction base=\"xs:string\"><xs:pattern value=\"{}\"/></xs:restriction></xs:simpleType>",
            "(a|b)?[c-e]*".repeat(n)
        ))
    }),
    ("roots", "xml", |n| envelope(&each(n, |n| format!("<w{n} xmlns=\"urn:n:{n}\"><x>1</x></w{n}>")))),
    ("types named in messages", "xml", |n| {
        format!(
            "<moor xmlns=\"urn:saltmere:quay\" xmlns:xsi=\"http://www.w3.org/2001/XMLSchema-instance\" xmlns:t=\"urn:t\">{}</moor>",
            each(n, |n| format!("<a xsi:type=\"t:T{n}\">1</a>"))
        )
    }),
    ("names that become one", "xml", |n| {
        let name = |n: usize| format!("{n:b}").replace('0', "a_").replace('1', "a-");
        format!("<moor>{}</moor>", each(n, |n| format!("<q{0}><x>1</x></q{0}>", name(n))))
    }),
    ("values of one element", "xml", |n| format!("<moor>{}</moor>", each(n, |n| format!("<a>{n}</a>")))),
    ("attributes of elements", "xml", |n| {
        format!("<moor>{}</moor>", each(n, |n| format!("<a a{n}=\"{n}\"/>")))
    }),
    ("cells of one name", "csv", |n| format!("{}\n{}\n", "a,".repeat(n), "1,".repeat(n))),
    ("rows", "csv", |n| format!("a,b\n{}", each(n * 4, |n| format!("{n},x{n}\n")))),
    ("tables", "sql", |n| {
        each(n, |n| format!("create table t{n} (a int, b varchar(9) check (b in ('a','b')));\n"))
    }),
    ("columns of one name", "sql", |n| format!("create table t ({} b int)", "a int, ".repeat(n))),
    ("words of a list", "sql", |n| {
        format!("create table t (a varchar(9) check (a in ({}'x')))", each(n, |n| format!("'a{n}', ")))
    }),
    ("operations of notation", "charter", |n| {
        format!(
            "contract Deep \"urn:saltmere:deep:1\" {{\n{}}}\n",
            each(n, |n| format!(
                "  operation o{n} {{\n    input {{ a: string }}\n    output {{ b: T{n}? }}\n  }}\n"
            ))
        )
    }),
    ("fields of notation", "charter", |n| {
        format!(
            "contract Deep \"urn:saltmere:deep:1\" {{\n  type T {{\n{}  }}\n}}\n",
            each(n, |n| format!("    f{n}: string one-of \"a\", \"b\"\n"))
        )
    }),
    ("uses", "toml", |n| {
        let paths = each(n, |n| format!("\"a{n}\", "));
        format!(
            "name = \"Quay\"\ncontract = \"1\"\n[operations.moor]\nsends = [{paths}]\nreads = [{paths}]\n"
        )
    }),
    ("exceptions", "toml", |n| {
        each(n, |n| {
            format!(
                "[[check.except]]\nrule = \"prefix-unused\"\npaths = [\"operation/*{n}*\"]\nreason = \"x\"\n"
            )
        })
    }),
    ("known findings", "toml", |n| {
        each(n, |n| {
            format!("[[finding]]\nrule = \"prefix-unused\"\npath = \"contract\"\nmessage = \"m{n}\"\n")
        })
    }),
    ("keys of an object", "json", |n| {
        format!("{{{}\"z\": 1}}", each(n, |n| format!("\"a{n}\": {{\"b\": 1}}, ")))
    }),
    ("members of a list", "json", |n| format!("{{\"a\": [{}1]}}", each(n, |n| format!("{n}, ")))),
    ("lists in lists", "json", |n| format!("{{\"a\": {}{}}}", "[".repeat(n), "]".repeat(n))),
];
