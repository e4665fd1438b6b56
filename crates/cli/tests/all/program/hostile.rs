//! What comes from others may be made to do harm: each run ends in good time, says plainly what is wrong, and prints nothing that
//! would act on a terminal, a page, a shell or a connection.

use std::fmt::Write as _;
use std::time::{Duration, Instant};

use crate::program::folder::{Folder, Run, contract};

const XS: &str = "xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"";

/// A contract whose one operation has an element of these declarations.
pub fn port(declarations: &str) -> String {
    format!(
        r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" {XS} xmlns:t="urn:saltmere:quay" targetNamespace="urn:saltmere:quay" name="Quay"><w:types><xs:schema targetNamespace="urn:saltmere:quay" elementFormDefault="qualified">{declarations}</xs:schema></w:types><w:message name="In"><w:part name="p" element="t:moor"/></w:message><w:portType name="P"><w:operation name="moor"><w:input message="t:In"/><w:output message="t:In"/></w:operation></w:portType><w:binding name="B" type="t:P"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/><w:operation name="moor"><s:operation soapAction="moor"/><w:input><s:body use="literal"/></w:input><w:output><s:body use="literal"/></w:output></w:operation></w:binding><w:service name="S"><w:port name="Q" binding="t:B"><s:address location="http://quay.saltmere.example/"/></w:port></w:service></w:definitions>"#
    )
}

/// Runs a command, which must come to an end without being killed; what takes two minutes here would take for ever.
#[track_caller]
pub fn quick(folder: &Folder, words: &str) -> Run {
    let started = Instant::now();
    let run = folder.run(words);
    assert!(started.elapsed() < Duration::from_secs(120), "{words} took {:?}", started.elapsed());
    assert!((0..=2).contains(&run.status), "{words}: {}", run.status);
    assert!(!run.err.contains("panicked"), "{words}: {}", run.err);
    run
}

/// All that reads a contract.
fn everything(folder: &Folder, file: &str) -> Vec<Run> {
    let commands = [
        format!("check {file} --notes"),
        format!("show {file}"),
        format!("message {file} moor"),
        format!("message {file} moor --size random"),
        format!("message {file} moor --hostile --format json"),
        format!("compare {file} {file}"),
        format!("set {file} contract about=Quay --dry-run"),
    ];
    commands.iter().map(|words| quick(folder, words)).collect()
}

#[test]
fn small_schemas_that_mean_a_great_deal_are_bounded() {
    let folder = Folder::empty();
    let nested = |levels: usize, first: &str, step: &dyn Fn(usize) -> String| {
        let steps: String = (1..levels).map(step).collect();
        format!("{first}{steps}")
    };
    let element = |content: &str| {
        format!("<xs:element name=\"moor\"><xs:complexType>{content}</xs:complexType></xs:element>")
    };
    let group = |level: usize, inner: &str| {
        format!("<xs:group name=\"g{level}\"><xs:sequence>{inner}</xs:sequence></xs:group>")
    };
    let twice = |level: usize| format!("<xs:group ref=\"t:g{0}\"/><xs:group ref=\"t:g{0}\"/>", level - 1);
    let groups = nested(30, &group(0, "<xs:element name=\"a\" type=\"xs:int\"/>"), &|level| {
        group(level, &twice(level))
    });
    let circle = groups.replace(
        &group(0, "<xs:element name=\"a\" type=\"xs:int\"/>"),
        &group(0, "<xs:group ref=\"t:g29\"/>"),
    );
    let union = |level: usize| {
        format!(
            "<xs:simpleType name=\"T{level}\"><xs:union memberTypes=\"t:T{0} t:T{0}\"/></xs:simpleType>",
            level - 1
        )
    };
    let unions =
        nested(60, "<xs:simpleType name=\"T0\"><xs:restriction base=\"xs:int\"/></xs:simpleType>", &union);
    let narrowed = |level: usize| {
        let half = |name: &str, pattern: &str| {
            format!(
                "<xs:simpleType name=\"{name}{level}\"><xs:restriction base=\"t:T{}\"><xs:pattern value=\"{pattern}\"/></xs:restriction></xs:simpleType>",
                level - 1
            )
        };
        format!(
            "{}{}<xs:simpleType name=\"T{level}\"><xs:union memberTypes=\"t:A{level} t:B{level}\"/></xs:simpleType>",
            half("A", "1.*"),
            half("B", "2.*")
        )
    };
    let restricted =
        nested(40, "<xs:simpleType name=\"T0\"><xs:restriction base=\"xs:int\"/></xs:simpleType>", &narrowed);
    let types = nested(60, "<xs:complexType name=\"T0\"><xs:sequence/></xs:complexType>", &|level| {
        let member = |name: &str| format!("<xs:element name=\"{name}\" type=\"t:T{}\"/>", level - 1);
        format!(
            "<xs:complexType name=\"T{level}\"><xs:sequence>{}{}</xs:sequence></xs:complexType>",
            member("a"),
            member("b")
        )
    });
    let counted: String = (2..22)
        .map(|count| format!("<xs:sequence minOccurs=\"0\" maxOccurs=\"{count}\"><xs:element name=\"a\" type=\"xs:int\" minOccurs=\"0\" maxOccurs=\"{}\"/></xs:sequence>", count + 1))
        .collect();
    let chain: String = (1..6_000)
        .map(|n| format!("<xs:element name=\"s{n}\" type=\"xs:int\" substitutionGroup=\"t:s{}\"/>", n - 1))
        .collect();
    let fields: String = (0..2_000).map(|n| format!("<xs:element name=\"f{n}\" type=\"xs:int\"/>")).collect();
    let patterns: String =
        (0..300).map(|n| format!("<xs:pattern value=\"\\w{{1,{}}}x{n}\"/>", 40 + n)).collect();
    for (name, declarations) in [
        ("groups", format!("{groups}{}", element("<xs:group ref=\"t:g29\"/>"))),
        ("circle", format!("{circle}{}", element("<xs:group ref=\"t:g29\"/>"))),
        ("unions", format!("{unions}<xs:element name=\"moor\" type=\"t:T59\"/>")),
        ("restricted", format!("{restricted}<xs:element name=\"moor\" type=\"t:T39\"/>")),
        ("types", format!("{types}<xs:element name=\"moor\" type=\"t:T59\"/>")),
        ("counted", element(&format!("<xs:sequence>{counted}</xs:sequence>"))),
        (
            "chain",
            format!(
                "<xs:element name=\"s0\" type=\"xs:int\"/>{chain}{}",
                element("<xs:sequence><xs:element ref=\"t:s0\"/></xs:sequence>")
            ),
        ),
        ("fields", element(&format!("<xs:sequence>{fields}</xs:sequence>"))),
        (
            "patterns",
            format!(
                "<xs:element name=\"moor\"><xs:simpleType><xs:restriction base=\"xs:string\">{patterns}</xs:restriction></xs:simpleType></xs:element>"
            ),
        ),
    ] {
        folder.write("x.wsdl", port(&declarations));
        let runs = everything(&folder, "x.wsdl");
        let compared = &runs[5];
        // What was left out of both versions is not decided.
        match runs[0].out.contains("schema-size") {
            true => assert!(compared.out.starts_with("bends"), "{name}: {}", compared.out),
            false => assert!(compared.out.starts_with("keeps"), "{name}: {}", compared.out),
        }
        if name == "unions" {
            assert!(runs[2].out.contains("<moor") && runs[0].status == 0, "{}{}", runs[2].out, runs[2].err);
        }
    }
}

#[test]
fn prefixes_are_found_for_every_namespace() {
    let folder = Folder::empty();
    for namespace in [
        "urn:saltmere:xml",
        "http://saltmere.example/xmldsig#",
        "urn:XMLquay",
        "urn:xml-xml",
        "urn:1:2",
        "urn:ü",
    ] {
        let schema = format!(
            "<xs:schema {XS} xmlns:q=\"{namespace}\" targetNamespace=\"{namespace}\" elementFormDefault=\"qualified\"><xs:element name=\"moor\" type=\"xs:int\"/></xs:schema>"
        );
        folder.write("q.xsd", schema);
        let run = quick(&folder, "message q.xsd element/moor").ends(0);
        folder.write("q.xml", &run.out);
        quick(&folder, "match q.xsd q.xml").ends(0);
        let import = format!(
            "<xs:import namespace=\"{namespace}\" schemaLocation=\"q.xsd\"/><xs:element name=\"moor\"><xs:complexType><xs:sequence><xs:element ref=\"q:moor\" xmlns:q=\"{namespace}\"/></xs:sequence><xs:attribute ref=\"q:a\" xmlns:q=\"{namespace}\"/></xs:complexType></xs:element>"
        );
        folder.write("x.wsdl", port(&import));
        let run = quick(&folder, "message x.wsdl moor").ends(0);
        folder.write("x.xml", &run.out);
        assert!(!run.out.contains("xmlns:xml"), "{}", run.out);
    }
}

#[test]
fn what_grows_with_the_input_grows_no_faster() {
    let folder = Folder::empty();
    let mut attributes = format!("<xs:schema {XS}><xs:element name=\"e\"");
    (0..30_000).for_each(|n| write!(attributes, " a{n}=\"1\"").unwrap());
    folder.write("attributes.xsd", attributes + "/></xs:schema>");
    quick(&folder, "check attributes.xsd").ends(1);
    let mut prefixes = format!("<xs:schema {XS}");
    (0..20_000).for_each(|n| write!(prefixes, " xmlns:n{n}=\"urn:n:{n}\"").unwrap());
    folder.write("prefixes.xsd", prefixes + "><xs:element name=\"e\" type=\"xs:int\"/></xs:schema>");
    quick(&folder, "check prefixes.xsd --notes").ends(0).says("prefix-unused");
    quick(&folder, "show prefixes.xsd").ends(0);
    quick(&folder, "set prefixes.xsd type/e about=x --dry-run");
    folder.write("tides.wsdl", contract(&[]));
    let message = folder.run("message tides.wsdl nextTide --as http").ends(0).out;
    folder.write("log.http", message.repeat(5_000));
    let run = quick(&folder, "match tides.wsdl log.http --format json").ends(0);
    assert_eq!(run.json()["messages"].as_array().unwrap().len(), 5_000);
    let line = serde_json::json!({"body": message.split("\r\n\r\n").nth(1).unwrap()}).to_string();
    folder.write("log.jsonl", format!("{line}\n").repeat(5_000));
    quick(&folder, "match tides.wsdl log.jsonl").ends(0).says("all: 5000 of 5000 match");
}

#[test]
fn lines_of_a_log_are_those_of_the_file() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let good = folder.run("message tides.wsdl nextTide --as http").ends(0).out.replace("\r\n", "\n");
    let bad = good.replace("<gauge>", "<gauge>\n<what/>");
    folder.write("log.http", format!("{good}\n{good}\n{bad}"));
    let text = folder.read("log.http");
    let line = text.lines().position(|line| line.contains("<what/>")).unwrap() + 1;
    let run = folder.run("match tides.wsdl log.http").ends(1);
    assert!(run.out.contains(&format!("log.http#3:{line}:")), "{line}: {}", run.out);
    // Sizes of chunks may be any numbers, and the body may be squeezed.
    let chunked =
        "HTTP/1.1 200 OK\nTransfer-Encoding: chunked\nContent-Type: text/xml\n\nfffffffffffffffe\n<a/>\n0\n";
    folder.write("chunked.http", chunked);
    quick(&folder, "match tides.wsdl chunked.http").ends(1);
    for size in ["ffffffffffffffff", "10000000000000000", "-1", "7fffffffffffffff"] {
        folder.write("chunked.http", chunked.replace("fffffffffffffffe", size));
        quick(&folder, "match tides.wsdl chunked.http");
    }
}

#[test]
fn entities_are_bounded_and_messages_have_none() {
    let folder = Folder::empty();
    let text = "a".repeat(20_000);
    let calls = "&a;".repeat(20_000);
    folder.write("quad.xsd", format!("<!DOCTYPE s [<!ENTITY a \"{text}\">]>\n<xs:schema {XS}><xs:annotation><xs:documentation>{calls}</xs:documentation></xs:annotation></xs:schema>"));
    quick(&folder, "check quad.xsd").ends(1).says("entities expand to more than");
    folder.write("quad.xml", format!("<!DOCTYPE s [<!ENTITY a \"{text}\">]>\n<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body>{calls}</e:Body></e:Envelope>"));
    quick(&folder, "check quad.xml").ends(1).says("a SOAP message may hold no document type declaration");
    folder.write("tides.wsdl", contract(&[]));
    quick(&folder, "match tides.wsdl quad.xml")
        .ends(1)
        .says("a SOAP message may hold no document type declaration");
    folder.write("parameter.xsd", format!("<!DOCTYPE xs:schema [<!ENTITY % p '<!ENTITY d \"Depths.\">'> %p;]>\n<xs:schema {XS}><xs:annotation><xs:documentation>&d;</xs:documentation></xs:annotation></xs:schema>"));
    quick(&folder, "check parameter.xsd").ends(0);
}

#[test]
fn notation_and_tables_may_be_nested_as_deep_as_they_like() {
    let folder = Folder::empty();
    for depth in [100, 149, 151, 600, 60_000] {
        let fields = format!("{}b: string{}", "a: { ".repeat(depth), " }".repeat(depth));
        folder.write(
            "deep.charter",
            format!("contract Deep \"urn:saltmere:deep:1\" {{\n  type T {{\n{fields}\n  }}\n}}\n"),
        );
        let run = quick(&folder, "new --from deep.charter -o deep.wsdl");
        if run.status == 0 {
            quick(&folder, "check deep.wsdl").ends(0);
            quick(&folder, "show deep.wsdl").ends(0);
            std::fs::remove_file(folder.path("deep.wsdl")).unwrap();
        } else {
            run.complains("deep in each other");
        }
        folder.write("tides.wsdl", contract(&[]));
        folder.write("piece.charter", format!("type Tide {{ {fields} }}"));
        quick(&folder, "edit tides.wsdl type/Tide --with piece.charter --dry-run");
        let marks =
            format!("type~Tide~=~{}string{}", "(".repeat(depth.min(3_000)), ")".repeat(depth.min(3_000)));
        quick(&folder, &format!("add tides.wsdl {marks} --dry-run"));
        let lists = format!("type~Tide~=~{}string", "list~of~".repeat(depth.min(3_000)));
        quick(&folder, &format!("add tides.wsdl {lists} --dry-run"));
    }
    for sql in [
        format!("create table t (a int check ({}a>1))", "a>1 and ".repeat(30_000)),
        format!("create table t (a int check ({}a>1{}))", "(".repeat(5_000), ")".repeat(5_000)),
        format!("select {}", "case when 1 then ".repeat(40)),
        format!("create table t (a int default {}1", "case when 1 then ".repeat(40)),
        format!("create table t (a int default {})", "-".repeat(10_000)),
        "create table t (a int check (a in (1,2) or (a between 3 and 4)))".to_owned(),
    ] {
        folder.write("t.sql", sql);
        quick(&folder, "derive t.sql");
    }
    folder.write("deep.json", format!("{}1{}", "{\"a\":".repeat(50_000), "}".repeat(50_000)));
    folder.write("tides.wsdl", contract(&[]));
    quick(&folder, "message tides.wsdl nextTide --values deep.json").ends(2);
    folder.write("deep.toml", format!("a = {}", "[".repeat(50_000)));
    std::fs::copy(folder.path("deep.toml"), folder.path("charter.toml")).unwrap();
    quick(&folder, "check tides.wsdl").ends(2);
}

#[test]
#[cfg(unix)]
fn only_files_are_read_and_only_what_was_expected_is_shown() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let made = std::process::Command::new("mkfifo").arg(folder.path("pipe")).status();
    let mut odd = vec!["/dev/zero".to_owned(), "/dev/tty".to_owned()];
    if made.is_ok_and(|status| status.success()) {
        odd.push(folder.path("pipe").display().to_string());
    }
    for name in &odd {
        folder.write("x.xsd", format!("<xs:schema {XS}><xs:include schemaLocation=\"{name}\"/></xs:schema>"));
        quick(&folder, "check x.xsd").ends(1).says("this is a pipe or a device, not a file");
        for words in [
            format!("check {name}"),
            format!("match tides.wsdl {name}"),
            format!("message tides.wsdl nextTide --values {name}"),
            format!("new --from {name}"),
            format!("derive {name}"),
            format!("check tides.wsdl --baseline {name}"),
            format!("check tides.wsdl --catalog {name}"),
            format!("edit tides.wsdl --with {name}"),
            format!("compare {name} tides.wsdl"),
        ] {
            quick(&folder, &words).ends(2).complains("pipe or a device");
        }
    }
    // What is in a file that is something else is nobody's business.
    folder.write("secret", "root:secret-words:0:0\nmore of it\n");
    folder.write("x.xsd", format!("<xs:schema {XS}><xs:include schemaLocation=\"secret\"/></xs:schema>"));
    for words in [
        "check x.xsd",
        "check secret",
        "match tides.wsdl secret",
        "new --from secret",
        "edit tides.wsdl --with secret",
        "derive secret",
        "message tides.wsdl nextTide --values secret",
        "check tides.wsdl --baseline secret",
        "check tides.wsdl --catalog secret",
        "compare secret tides.wsdl",
    ] {
        let run = quick(&folder, words);
        assert!(run.status > 0, "{words}");
        for text in [&run.out, &run.err] {
            assert!(!text.contains("secret-words") && !text.contains("more of it"), "{words}: {text}");
        }
    }
    // Large files are read if that is wanted.
    let large = std::fs::File::create(folder.path("large.wsdl")).unwrap();
    large.set_len(3 << 20).unwrap();
    quick(&folder, "check large.wsdl --size-limit 2")
        .ends(2)
        .complains("it is larger than 2 MB")
        .complains("--size-limit");
    quick(&folder, "check large.wsdl --size-limit 4").ends(1);
}

#[test]
fn nothing_acts_on_the_terminal() {
    let evil = "\u{1b}]0;pwn\u{7}\u{1b}[31m\u{9b}2J\u{202e}\u{2066}x";
    let folder = Folder::empty();
    let escaped = "%1b%5d0;pwn%07%1b%5b31m%c2%9b2J%e2%80%ae%e2%81%a6x";
    let import = format!("<xs:import namespace=\"urn:gone\" schemaLocation=\"{escaped}\"/>");
    let about = "<xs:annotation><xs:documentation>\u{9b}2J\u{202e}x</xs:documentation></xs:annotation>";
    let text = contract(&[
        ("<xs:simpleType name=\"Gauge\">", &format!("{import}<xs:simpleType name=\"Gauge\">{about}")),
        ("value=\"lock\"", "value=\"lock\u{9b}\u{202e}\""),
    ]);
    folder.write("tides.wsdl", &text);
    folder.write("other.wsdl", text.replace("value=\"lock\u{9b}\u{202e}\"", "value=\"pier\u{9b}\u{202e}x\""));
    folder.write("records/desk.toml", format!("name = {}\ncontact = {}\ncontract = \"1\"\nreading = \"strict\"\n[operations.nextTide]\nreads = [\"height\"]\nsends = [\"gauge\"]\n", serde_json::json!(evil), serde_json::json!(evil)));
    folder.write("keys.json", serde_json::json!({evil: 1, "gauge": evil}).to_string());
    folder.write("bad.charter", format!("contract T \"urn:t\" {{\n  type {evil} nonsense\n}}\n"));
    folder.write("message.xml", format!("<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><nextTide xmlns=\"urn:saltmere:tides:1\"><gauge>{}</gauge></nextTide></e:Body></e:Envelope>", "\u{9b}\u{202e}"));
    let name = format!("{}.wsdl", evil.replace('/', ""));
    folder.write(&name, "<oops");
    let commands = [
        "check tides.wsdl --notes".to_owned(),
        "check . --notes".to_owned(),
        "show tides.wsdl".to_owned(),
        "compare tides.wsdl other.wsdl --consumers records".to_owned(),
        "message tides.wsdl nextTide --values keys.json".to_owned(),
        "new --from bad.charter".to_owned(),
        "match tides.wsdl message.xml".to_owned(),
        format!("check {name}"),
        format!("set tides.wsdl contract about={evil} --dry-run"),
        format!("show tides.wsdl type/{evil}"),
        evil.to_owned(),
    ];
    for words in commands {
        for (color, environment) in
            [("--color always", ("TERM", "xterm")), ("--color never", ("TERM", "dumb"))]
        {
            // A terminal is where people read, and `always` says that there is one.
            let run = folder.run_with(&format!("{words} {color}"), b"", &[environment]);
            let shown =
                if color == "--color always" { format!("{}{}", run.out, run.err) } else { run.err.clone() };
            for c in ['\u{7}', '\u{9b}', '\u{202e}', '\u{2066}'] {
                assert!(!shown.contains(c), "{words} {color}: {c:?}\n{shown:?}");
            }
            // Colours of our own: bold, dim, and the six that are named, and an end to each.
            for piece in shown.split('\u{1b}').skip(1) {
                let code =
                    piece.strip_prefix('[').and_then(|rest| rest.split_once('m')).map(|(code, _)| code);
                assert!(
                    matches!(code, Some("0" | "1" | "2" | "31" | "32" | "33" | "36")),
                    "{words}: {piece:?}"
                );
            }
        }
    }
    // For programs, the text is what it is, in a form that acts on nothing.
    let run = folder.run("check tides.wsdl --format json --notes");
    assert!(run.out.contains("\\u202e") && !run.out.contains('\u{202e}'), "{}", run.out);
    assert!(run.json()["findings"].to_string().contains('\u{202e}'));
    let run = folder.run("compare tides.wsdl other.wsdl --format json");
    assert!(!run.out.contains('\u{202e}') && run.json()["changes"].to_string().contains('\u{202e}'));
}

#[test]
fn nothing_gets_out_of_what_it_stands_in() {
    let folder = Folder::empty();
    let service = "<soap:address location=\"https://tides.saltmere.example/1\"/>";
    let action = "soapAction=\"urn:saltmere:tides:1:nextTide\"";
    let text = contract(&[
        (service, "<soap:address location=\"http://h/a&#13;&#10;Evil: 1&#13;&#10;&#13;&#10;GET /b\"/>"),
        (action, "soapAction=\"act&#13;&#10;Injected: yes\""),
    ]);
    folder.write("tides.wsdl", &text);
    let run = folder.run("message tides.wsdl nextTide --as http").ends(0);
    let head = run.out.split("\r\n\r\n").next().unwrap();
    assert!(head.lines().all(|line| !line.starts_with("Evil") && !line.starts_with("Injected")), "{head}");
    assert!(!head.contains("GET /b HTTP") || head.starts_with("POST"), "{head}");
    let run = folder.run("message tides.wsdl nextTide --as curl").ends(0);
    assert!(run.out.contains("--url 'http://h/a%0D%0AEvil:%201"), "{}", run.out);
    folder.write("option.wsdl", contract(&[(service, "<soap:address location=\"-Krc\"/>")]));
    folder.run("message option.wsdl nextTide --as curl").ends(0).says("--url '-Krc'");
    // A block of code in Markdown ends where we end it, and a page shows tags as text.
    let tag = "&#10;```&#10;&lt;script&gt;alert(1)&lt;/script&gt;&#10;";
    folder.write(
        "evil.wsdl",
        contract(&[
            (action, &format!("soapAction=\"act{tag}\"")),
            (service, &format!("<soap:address location=\"http://h/{tag}\"/>")),
        ]),
    );
    folder.write("plain.wsdl", contract(&[]));
    let notes = folder.run("compare plain.wsdl evil.wsdl --as notes").out;
    let (mut fence, mut outside) = (None, String::new());
    for line in notes.lines() {
        let bare = line.trim_start();
        let ticks = bare.len() - bare.trim_start_matches('`').len();
        match fence {
            None if ticks >= 3 => fence = Some(ticks),
            Some(open) if ticks >= open && bare.trim_matches('`').is_empty() => fence = None,
            None => outside.push_str(line),
            Some(_) => {}
        }
    }
    assert!(fence.is_none() && !outside.contains("<script>"), "{notes}");
    let page = folder.run("compare plain.wsdl evil.wsdl --as page").out;
    assert!(!page.contains("<script>alert"), "{page}");
    let junit = folder.run("check evil.wsdl --format junit").out;
    roxmltree::Document::parse(&junit).unwrap();
}

#[test]
fn what_was_not_read_is_not_decided() {
    let folder = Folder::with_parts();
    folder.write("lost.wsdl", folder.read("tides.wsdl").replace("parts/desk.wsdl", "parts/gone.wsdl"));
    for words in
        ["compare tides.wsdl lost.wsdl", "compare lost.wsdl tides.wsdl", "compare lost.wsdl lost.wsdl"]
    {
        let run = folder.run(words);
        assert!(!run.out.contains("keeps  nothing"), "{words}: {}", run.out);
        assert!(!run.out.starts_with("keeps"), "{words}: {}", run.out);
    }
    let import = "<xs:import namespace=\"urn:saltmere:depth:1\" schemaLocation=\"http://depth.saltmere.example/depth.xsd\"/>";
    let uses = |ty: &str| {
        contract(&[
            ("<xs:simpleType name=\"Gauge\">", &format!("{import}<xs:simpleType name=\"Gauge\">")),
            (
                "name=\"height\" type=\"xs:decimal\"",
                &format!("name=\"height\" type=\"d:{ty}\" xmlns:d=\"urn:saltmere:depth:1\""),
            ),
        ])
    };
    folder.write("old.wsdl", uses("Depth"));
    folder.write("new.wsdl", uses("Level"));
    for words in ["compare old.wsdl new.wsdl", "compare old.wsdl old.wsdl"] {
        let run = folder.run(words).ends(0);
        let run = run.says("bends  contract: http://depth.saltmere.example/depth.xsd could not be read");
        let run = run.says("in nextTide (output)");
        assert_eq!(run.out.matches("bends  ").count(), 2, "said once: {}", run.out);
    }
    let run = folder.run("compare old.wsdl new.wsdl --format json").ends(0);
    assert_eq!(run.json()["verdict"], "bends");
    // How far the contract gets is not known either.
    let run = folder.run("check old.wsdl");
    assert!(run.out.contains("not known: standard, interoperable (an import was not read)"), "{}", run.out);
    let json = folder.run("check old.wsdl --format json").json();
    assert!(json.to_string().contains("\"unknown\":[\"standard\""), "{json}");
}

/// Every way in which a schema may depend on a type that is not there.
const DEPENDS: &[(&str, &str)] = &[
    (
        "an attribute",
        "<xs:element name=\"moor\"><xs:complexType><xs:attribute name=\"a\" type=\"t:Lost\"/></xs:complexType></xs:element>",
    ),
    (
        "an attribute of a group in a group",
        "<xs:attributeGroup name=\"G\"><xs:attribute name=\"a\" type=\"t:Lost\"/></xs:attributeGroup><xs:attributeGroup name=\"H\"><xs:attributeGroup ref=\"t:G\"/></xs:attributeGroup><xs:element name=\"moor\"><xs:complexType><xs:attributeGroup ref=\"t:H\"/></xs:complexType></xs:element>",
    ),
    (
        "an attribute of its own",
        "<xs:attribute name=\"a\" type=\"t:Lost\"/><xs:element name=\"moor\"><xs:complexType><xs:attribute ref=\"t:a\"/></xs:complexType></xs:element>",
    ),
    (
        "a member of a union",
        "<xs:simpleType name=\"U\"><xs:union memberTypes=\"t:Lost xs:int\"/></xs:simpleType><xs:element name=\"moor\" type=\"t:U\"/>",
    ),
    (
        "a list of a union",
        "<xs:simpleType name=\"U\"><xs:union memberTypes=\"xs:int t:Lost\"/></xs:simpleType><xs:simpleType name=\"L\"><xs:list itemType=\"t:U\"/></xs:simpleType><xs:element name=\"moor\" type=\"t:L\"/>",
    ),
    (
        "the base of a simple content",
        "<xs:element name=\"moor\"><xs:complexType><xs:simpleContent><xs:extension base=\"t:Lost\"><xs:attribute name=\"a\"/></xs:extension></xs:simpleContent></xs:complexType></xs:element>",
    ),
    (
        "an element in a group",
        "<xs:group name=\"G\"><xs:sequence><xs:element name=\"a\" type=\"t:Lost\"/></xs:sequence></xs:group><xs:element name=\"moor\"><xs:complexType><xs:group ref=\"t:G\"/></xs:complexType></xs:element>",
    ),
    (
        "the base of a base",
        "<xs:simpleType name=\"A\"><xs:restriction base=\"t:Lost\"/></xs:simpleType><xs:simpleType name=\"B\"><xs:restriction base=\"t:A\"/></xs:simpleType><xs:element name=\"moor\" type=\"t:B\"/>",
    ),
];

#[test]
fn what_depends_on_the_unread_in_any_way_is_not_decided() {
    let folder = Folder::empty();
    // The type itself leads to another that is not there, or is not there at all.
    let leads = "<xs:simpleType name=\"Lost\"><xs:restriction base=\"t:Gone\"/></xs:simpleType>";
    for (way, declarations) in DEPENDS {
        for (lost, text) in [(true, leads), (true, ""), (false, &*leads.replace("t:Gone", "xs:token"))] {
            folder.write("x.wsdl", port(&format!("{text}{declarations}")));
            let run = folder.run("compare x.wsdl x.wsdl").ends(0);
            let begins = if lost { "bends  it was not decided" } else { "keeps" };
            assert!(run.out.starts_with(begins), "{way}, {text}: {}", run.out);
        }
    }
    // What is there is judged all the same.
    let beside = |ty: &str| {
        port(&format!(
            "{leads}<xs:element name=\"moor\"><xs:complexType><xs:sequence><xs:element name=\"b\" type=\"xs:{ty}\"/></xs:sequence><xs:attribute name=\"a\" type=\"t:Lost\"/></xs:complexType></xs:element>"
        ))
    };
    folder.write("old.wsdl", beside("string"));
    folder.write("new.wsdl", beside("int"));
    folder.run("compare old.wsdl new.wsdl").ends(1).says("breaks").says("element/moor/b");
}

#[test]
fn names_by_the_thousand_that_are_alike() {
    let folder = Folder::empty();
    let (cells, values) = ("a,".repeat(4_000), "1,".repeat(4_000));
    folder.write("same.csv", format!("{cells}b\n{values}2\n"));
    let run = quick(&folder, "derive same.csv").ends(0);
    run.says("  a: int\n  a2: int about \"a\"\n").says("  a4000: int about \"a\"\n  b: int\n");
    let columns = "a int, ".repeat(4_000);
    folder.write("same.sql", format!("create table quay ({columns} b int)"));
    quick(&folder, "derive same.sql").ends(0).says("  a4000: int?\n  b: int?\n");
    // Names of elements that become one name of a type.
    let name = |n: usize| format!("{n:b}").replace('0', "a_").replace('1', "a-");
    let elements: String = (1..3_000).map(|n| format!("<q{0}><x>1</x></q{0}>", name(n))).collect();
    folder.write("names.xml", format!("<quay>{elements}</quay>"));
    let run = quick(&folder, "derive names.xml").ends(0);
    folder.write("names.charter", format!("schema \"\" {{\n{}}}\n", run.out));
    quick(&folder, "new --from names.charter -o names.xsd").ends(0);
    quick(&folder, "match names.xsd names.xml").ends(0);
}

#[test]
fn messages_by_the_thousand_in_one_envelope() {
    let folder = Folder::empty();
    let roots: String = (0..2_500).map(|n| format!("<w{n} xmlns=\"urn:n:{n}\"><x>1</x></w{n}>")).collect();
    folder.write("roots.xml", format!("<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body>{roots}</e:Body></e:Envelope>"));
    quick(&folder, "derive roots.xml").ends(0).says("element w2499: W2499");
    let parts: String = (0..2_500).map(|n| format!("<w:part name=\"p{n}\" element=\"t:moor\"/>")).collect();
    let text = port("<xs:element name=\"moor\" type=\"xs:int\"/>");
    folder.write("parts.wsdl", text.replacen("<w:part name=\"p\"", &format!("{parts}<w:part name=\"p\""), 1));
    let run = quick(&folder, "message parts.wsdl moor --hostile").ends(0);
    assert!(run.out.len() < 20 << 20, "{}", run.out.len());
    let run = quick(&folder, "rename parts.wsdl element/moor tie").ends(0);
    run.says("element/moor is now named tie: 2502 places in 1 file\n").says("  parts.wsdl  line 1\n");
    assert_eq!(folder.read("parts.wsdl").matches("element=\"t:tie\"").count(), 2_501);
    let ports: String = (0..3_000)
        .map(|n| {
            format!("<w:port name=\"Q{n}\" binding=\"t:B\"><s:address location=\"http://q/\"/></w:port>")
        })
        .collect();
    folder.write("ports.wsdl", text.replacen("<w:port ", &format!("{ports}<w:port "), 1));
    quick(&folder, "message ports.wsdl --all out").ends(0).says("wrote 6002 messages");
    assert_eq!(std::fs::read_dir(folder.path("out")).unwrap().count(), 6_002);
    // Once more, over what is there.
    quick(&folder, "message ports.wsdl --all out").ends(0).says("wrote 6002 messages");
    assert!(
        folder.read("out/moor.input.Q2999.xml").contains("<moor"),
        "{}",
        folder.read("out/moor.input.Q2999.xml")
    );
}

#[test]
fn policies_that_refer_to_policies_twice_each() {
    let folder = Folder::empty();
    let space = "xmlns:wsp=\"http://www.w3.org/ns/ws-policy\" xmlns:q=\"urn:saltmere:demands\"";
    let chain: String = (0..200)
        .map(|n| format!("<wsp:Policy {space} xml:id=\"p{n}\"><wsp:PolicyReference URI=\"#p{0}\"/><wsp:PolicyReference URI=\"#p{0}\"/></wsp:Policy>", n + 1))
        .collect();
    let last = format!("<wsp:Policy {space} xml:id=\"p200\"><q:lit/></wsp:Policy>");
    let text = port("<xs:element name=\"moor\" type=\"xs:int\"/>");
    let text = text.replacen("<w:types", &format!("{chain}{last}<w:types"), 1);
    let used = |policy: &str| {
        let reference = format!("<wsp:PolicyReference {space} URI=\"#{policy}\"/><s:binding");
        text.replacen("<s:binding", &reference, 1)
    };
    folder.write("few.wsdl", used("p197"));
    folder.write("many.wsdl", used("p0"));
    quick(&folder, "show few.wsdl operation/moor").ends(0);
    for words in ["check many.wsdl", "show many.wsdl operation/moor", "message many.wsdl moor"] {
        quick(&folder, words).ends(0);
    }
    // What a policy comes to beyond the bounds is not called the same.
    quick(&folder, "compare few.wsdl few.wsdl").ends(0).says("keeps");
    let assertions: String = (0..4_000).map(|n| format!("<q:a{n}/>")).collect();
    let inside = format!("<wsp:Policy {space}>{assertions}</wsp:Policy><s:binding");
    folder.write("wide.wsdl", text.replacen("<s:binding", &inside, 1));
    quick(&folder, "check wide.wsdl").ends(0);
    quick(&folder, "compare wide.wsdl wide.wsdl").ends(0).says("keeps");
}

#[test]
fn demands_that_are_not_known_are_not_the_same() {
    let folder = Folder::empty();
    let space = "xmlns:wsp=\"http://www.w3.org/ns/ws-policy\" xmlns:q=\"urn:saltmere:demands\"";
    let text = port("<xs:element name=\"moor\" type=\"xs:int\"/>");
    let with = |policy: &str| text.replacen("<s:binding", &format!("{policy}<s:binding"), 1);
    let choice = |n: usize| format!("<wsp:ExactlyOne><q:a{n}/><q:b{n}/></wsp:ExactlyOne>");
    let choices = |count| (0..count).map(choice).collect::<String>();
    folder.write("free.wsdl", &text);
    folder.write("few.wsdl", with(&format!("<wsp:Policy {space}>{}</wsp:Policy>", choices(3))));
    folder.write("many.wsdl", with(&format!("<wsp:Policy {space}>{}</wsp:Policy>", choices(12))));
    let reference = |uri: &str| with(&format!("<wsp:PolicyReference {space} URI=\"{uri}\"/>"));
    folder.write("remote.wsdl", reference("http://policies.saltmere.example/1"));
    folder.write("lost.wsdl", reference("#gone"));
    folder.run("compare few.wsdl few.wsdl").ends(0).says("keeps");
    folder.run("compare free.wsdl few.wsdl").ends(1).says("demand-added");
    for unknown in ["many", "remote", "lost"] {
        for words in ["free.wsdl X.wsdl", "X.wsdl free.wsdl", "X.wsdl X.wsdl", "few.wsdl X.wsdl"] {
            let run = quick(&folder, &format!("compare {}", words.replace('X', unknown))).ends(0);
            let run = run.says("bends  it was not decided").says("what the policies demand is not known");
            assert_eq!(run.out.matches("what the policies demand").count(), 1, "said once: {}", run.out);
        }
    }
}

#[test]
fn text_that_does_not_go_round_through_its_encoding_is_told() {
    let folder = Folder::empty();
    let mut bytes = b"<?xml version=\"1.0\" encoding=\"Shift_JIS\"?>\n<!-- \xFA\x54 -->\n".to_vec();
    bytes.extend(format!("<xs:schema {XS}><xs:element name=\"e\" type=\"xs:int\"/></xs:schema>\n").bytes());
    folder.write("x.xsd", &bytes);
    folder.run("check x.xsd").ends(0);
    folder
        .run("rename x.xsd element/e f")
        .ends(2)
        .complains("would not come back as they are")
        .complains("save it as UTF-8");
    assert_eq!(std::fs::read(folder.path("x.xsd")).unwrap(), bytes);
}
