//! What `compare` costs, as a ratio to reading both versions: 20,000 types of which none or 500 changed; then inclusion at
//! its worst, which must end in bounded time.
//!
//! `cargo bench --bench compare` prints the medians. Absolute times depend on the machine, ratios hardly do.

mod common;

use std::fmt::Write as _;
use std::fs;
use std::hint::black_box;
use std::process::Command;
use std::time::Duration;

use charter_compare::{UnknownContent, Verdict, compare};
use charter_contract::Contract;
use charter_source::{Disk, Limits, Location, Overlay};

use common::{median, time};

fn main() {
    // `cargo test --benches` only wants to know that this runs; `-- worst` leaves the large contract out.
    let has = |word: &str| std::env::args().any(|argument| argument == word);
    let quick = has("--test");
    if !has("worst") {
        large(quick);
    }
    println!("\n{:<60} {:>12}", "the worst", "time");
    for (name, old, new) in worst(if quick { 10 } else { 3_000 }) {
        let took = time(|| {
            black_box(compare(&load(&around(&old)), &load(&around(&new)), UnknownContent::Open));
        });
        println!("{name:<60} {took:>12.2?}");
    }
}

fn large(quick: bool) {
    let (types, operations, rounds) = if quick { (200, 10, 1) } else { (20_000, 200, 9) };
    println!("   types  changed      bytes    read both      compare  ratio");
    for changed in [0, types / 40] {
        let (old, new) = (contract(types, operations, 0), contract(types, operations, changed));
        let (mut reading, mut whole) = (Vec::new(), Vec::new());
        // In turn, so that a change of the machine's speed meets both alike.
        for _ in 0..rounds {
            reading.push(time(|| drop(black_box((load(&old), load(&new))))));
            whole.push(time(|| compared(&old, &new, changed)));
        }
        row(types, changed, old.len(), median(reading), median(whole));
        if !quick && changed > 0 {
            process(&old, &new, rounds);
        }
    }
}

fn row(types: usize, changed: usize, bytes: usize, reading: Duration, whole: Duration) {
    let ratio = whole.as_secs_f64() / reading.as_secs_f64();
    println!("{types:>8} {changed:>8} {bytes:>10} {reading:>12.2?} {whole:>12.2?} {ratio:>6.2}");
}

fn load(text: &str) -> Contract {
    let location = Location::Path("memory/bench.wsdl".into());
    let mut store = Overlay::new(Disk);
    store.put(&location, text.as_bytes().to_vec());
    Contract::load(&store, &location, Limits::default()).unwrap()
}

fn compared(old: &str, new: &str, changed: usize) {
    let report = compare(&load(old), &load(new), UnknownContent::Open);
    assert_eq!(report.verdict == Verdict::Keeps, changed == 0);
    // Some types are used by no message.
    assert!(report.changes.len() >= changed * 4 / 5, "{} of {changed}", report.changes.len());
}

/// `charter compare` on files, start to end.
fn process(old: &str, new: &str, rounds: usize) {
    let folder = std::env::temp_dir().join(format!("charter-bench-compare-{}", std::process::id()));
    fs::create_dir_all(&folder).unwrap();
    for (name, text) in [("old.wsdl", old), ("new.wsdl", new)] {
        fs::write(folder.join(name), text).unwrap();
    }
    let run = || {
        let program = env!("CARGO_BIN_EXE_charter");
        let words = ["compare", "old.wsdl", "new.wsdl"];
        let output = Command::new(program).args(words).current_dir(&folder).output().unwrap();
        assert_eq!(output.status.code(), Some(1));
    };
    let times = (0..rounds).map(|_| time(run)).collect();
    println!("  the same, whole process: {:.2?}", median(times));
    let _ = fs::remove_dir_all(&folder);
}

/// The ways in which a type of a revision differs, in turn: what is replaced in its text, with what.
const CHANGES: &[(&str, &str)] = &[
    (
        "  </xs:sequence>",
        "    <xs:element name=\"berthed\" type=\"xs:date\" minOccurs=\"0\"/>\n  </xs:sequence>",
    ),
    ("type=\"xs:int\" minOccurs=\"0\"", "type=\"xs:int\""),
    ("type=\"xs:int\"", "type=\"xs:short\""),
    ("name=\"f1of", "name=\"first"),
    ("<xs:attribute", "<xs:attribute name=\"berth\" type=\"xs:int\"/>\n  <xs:attribute"),
    ("type=\"xs:dateTime\"/>\n  </xs:sequence>", "type=\"xs:date\"/>\n  </xs:sequence>"),
    (
        "    <xs:element name=\"f2of",
        "    <xs:element name=\"added\" type=\"xs:int\"/>\n    <xs:element name=\"f2of",
    ),
];

/// A contract in document style with types of six fields, some of which have types that stand before; so many of them,
/// spread over all, are changed.
fn contract(types: usize, operations: usize, changed: usize) -> String {
    let mut schema = String::new();
    let every = types.checked_div(changed).unwrap_or(usize::MAX);
    for n in 0..types {
        let mut text = record(n);
        if n % every == every / 2 {
            // The next kind of change that there is room for.
            let turn = (0..CHANGES.len()).map(|more| CHANGES[(n / every + more) % CHANGES.len()]);
            let (from, to) = turn.into_iter().find(|(from, _)| text.contains(from)).unwrap();
            text = text.replacen(from, to, 1);
        }
        schema.push_str(&text);
    }
    let (mut elements, mut messages, mut port_type, mut binding) =
        <(String, String, String, String)>::default();
    for n in 0..operations {
        let root = types * (n + 1) / operations - 1;
        for (suffix, element) in [("In", "call"), ("Out", "reply")] {
            let _ = writeln!(elements, "<xs:element name=\"{element}{n}\" type=\"tns:T{root}\"/>");
            let _ = writeln!(
                messages,
                "<w:message name=\"{suffix}{n}\"><w:part name=\"part\" element=\"tns:{element}{n}\"/></w:message>"
            );
        }
        let _ = writeln!(
            port_type,
            "<w:operation name=\"visit{n}\"><w:input message=\"tns:In{n}\"/><w:output message=\"tns:Out{n}\"/></w:operation>"
        );
        let _ = writeln!(
            binding,
            "<w:operation name=\"visit{n}\"><s:operation soapAction=\"urn:saltmere:visits:visit{n}\"/><w:input><s:body use=\"literal\"/></w:input><w:output><s:body use=\"literal\"/></w:output></w:operation>"
        );
    }
    definitions(&format!("{schema}{elements}"), &messages, &port_type, &binding)
}

/// One type, with a word of documentation: three of its six fields may have types that stand before it.
fn record(n: usize) -> String {
    let about = format!("  <xs:annotation><xs:documentation>Visit {n}.</xs:documentation></xs:annotation>\n");
    let mut text = format!("<xs:complexType name=\"T{n}\">\n{about}  <xs:sequence>\n");
    for field in 0..6 {
        let chance = spread(n * 6 + field);
        let ty = match (field, chance % 3) {
            (1 | 3 | 4, 0 | 1) if n > 0 => format!("tns:T{}", n - 1 - chance / 3 % n.min(40)),
            (5, _) => "xs:dateTime".to_owned(),
            (_, 2) if field > 1 => "xs:string".to_owned(),
            _ => "xs:int".to_owned(),
        };
        let optional =
            if ty.starts_with("tns") || (field < 5 && chance % 5 < 2) { " minOccurs=\"0\"" } else { "" };
        let _ = writeln!(text, "    <xs:element name=\"f{field}of{n}\" type=\"{ty}\"{optional}/>");
    }
    let _ = writeln!(
        text,
        "  </xs:sequence>\n  <xs:attribute name=\"revised{n}\" type=\"xs:dateTime\"/>\n</xs:complexType>"
    );
    text
}

/// A number that looks like chance and is the same each time.
fn spread(n: usize) -> usize {
    let mut state = (n as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15);
    state = (state ^ (state >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    state = (state ^ (state >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    (state >> 33) as usize
}

fn definitions(schema: &str, messages: &str, port_type: &str, binding: &str) -> String {
    format!(
        "<w:definitions xmlns:w=\"http://schemas.xmlsoap.org/wsdl/\" xmlns:s=\"http://schemas.xmlsoap.org/wsdl/soap/\" xmlns:tns=\"urn:saltmere:visits\" targetNamespace=\"urn:saltmere:visits\">
<w:types><xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:saltmere:visits\" elementFormDefault=\"qualified\">
{schema}</xs:schema></w:types>
{messages}<w:portType name=\"Visits\">
{port_type}</w:portType>
<w:binding name=\"VisitsOverSoap11\" type=\"tns:Visits\"><s:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>
{binding}</w:binding>
<w:service name=\"VisitsService\"><w:port name=\"VisitsPort\" binding=\"tns:VisitsOverSoap11\"><s:address location=\"http://localhost:8080/visits\"/></w:port></w:service>
</w:definitions>
"
    )
}

/// One operation that sends and gets an element `visit`, which a schema declares.
fn around(schema: &str) -> String {
    definitions(
        schema,
        "<w:message name=\"Visit\"><w:part name=\"part\" element=\"tns:visit\"/></w:message>",
        "<w:operation name=\"visit\"><w:input message=\"tns:Visit\"/><w:output message=\"tns:Visit\"/></w:operation>",
        "<w:operation name=\"visit\"><s:operation soapAction=\"visit\"/><w:input><s:body use=\"literal\"/></w:input><w:output><s:body use=\"literal\"/></w:output></w:operation>",
    )
}

/// Pairs of schemas that are hard to compare, growing with `size`.
fn worst(size: usize) -> Vec<(String, String, String)> {
    let content = |inside: &str| {
        format!(
            "<xs:element name=\"visit\"><xs:complexType><xs:sequence>{inside}</xs:sequence></xs:complexType></xs:element>"
        )
    };
    let ship = "<xs:element name=\"ship\" type=\"xs:int\"/>";
    let nested = |depth: usize, last: &str| {
        let (open, close) = ("<xs:choice maxOccurs=\"unbounded\">", format!("{ship}{last}</xs:choice>"));
        content(&format!("{}{}", open.repeat(depth), close.repeat(depth)))
    };
    let bounds = |most: usize| {
        content(&format!(
            "<xs:sequence maxOccurs=\"{size}\"><xs:element name=\"ship\" type=\"xs:int\" maxOccurs=\"{size}\"/><xs:element name=\"tug\" type=\"xs:int\" maxOccurs=\"{most}\"/></xs:sequence>"
        ))
    };
    let mutual = |ty: &str| {
        let mut all = String::from("<xs:element name=\"visit\" type=\"tns:R0\"/>");
        for n in 0..size {
            let other = |by: usize| (n * 7 + by) % size;
            let _ = write!(
                all,
                "<xs:complexType name=\"R{n}\"><xs:choice minOccurs=\"0\" maxOccurs=\"unbounded\"><xs:element name=\"a\" type=\"tns:R{}\"/><xs:element name=\"b\" type=\"tns:R{}\"/><xs:element name=\"c\" type=\"{ty}\"/></xs:choice></xs:complexType>",
                other(1),
                other(3)
            );
        }
        all
    };
    let pattern = |count: usize| {
        format!(
            "<xs:element name=\"visit\"><xs:simpleType><xs:restriction base=\"xs:string\"><xs:pattern value=\"(a|b)*a(a|b){{{count}}}\"/></xs:restriction></xs:simpleType></xs:element>"
        )
    };
    let listed = |first: usize| {
        let mut all =
            String::from("<xs:element name=\"visit\"><xs:simpleType><xs:restriction base=\"xs:string\">");
        (first..first + size * 10).for_each(|n| {
            let _ = write!(all, "<xs:enumeration value=\"berth {n}\"/>");
        });
        all + "</xs:restriction></xs:simpleType></xs:element>"
    };
    let tug = "<xs:element name=\"tug\" type=\"xs:int\"/>";
    let case = |name: String, old, new| (name, old, new);
    vec![
        case(
            "choices in choices, 200 deep".to_owned(),
            nested(200.min(size), ""),
            nested(200.min(size), tug),
        ),
        case(format!("bounds of {size} in bounds of {size}"), bounds(size), bounds(size - 1)),
        case(format!("{size} types within each other"), mutual("xs:int"), mutual("xs:byte")),
        case("patterns with 2^17 states".to_owned(), pattern(16.min(size)), pattern(17.min(size))),
        case(format!("{} listed values", size * 10), listed(0), listed(1)),
    ]
}
