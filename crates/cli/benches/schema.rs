//! What schemas and instances cost, as ratios: loading a schema and judging it, and judging an instance, each to the
//! bare tree parse of its bytes; and how the cost grows when one dimension alone grows tenfold.
//!
//! `cargo bench --bench schema` prints the medians; `-- schema`, `-- instance` or `-- growth` does one of the three.

mod common;

use std::fmt::Write as _;
use std::hint::black_box;
use std::time::Duration;

use charter_contract::Contract;
use charter_schema::Engine;
use charter_source::{Files, Limits, Location, ReadError, Store};

use common::{median, time};

fn main() {
    // `cargo test --benches` only wants to know that this runs.
    let quick = std::env::args().any(|argument| argument == "--test");
    let scale = if quick { 100 } else { 1 };
    let chosen: Vec<String> = std::env::args().skip(1).filter(|it| !it.starts_with("--")).collect();
    let wanted = |part: &str| chosen.is_empty() || chosen.iter().any(|it| it == part);
    if wanted("schema") {
        schemas(scale);
    }
    if wanted("instance") {
        instances(scale);
    }
    if wanted("growth") {
        println!(
            "{:>28} {:>10} {:>12} {:>12} {:>8}",
            "tenfold growth", "parse", "small", "tenfold", "factor"
        );
        growth(scale);
    }
}

fn schemas(scale: usize) {
    println!(
        "{:>28} {:>10} {:>12} {:>12} {:>8}",
        "load and judge a schema", "bytes", "parse", "whole", "ratio"
    );
    for types in [2_000, 20_000] {
        let text = schema(types / scale);
        row(&format!("{types} types"), &text, &|text| judge(text, 0));
    }
}

fn instances(scale: usize) {
    println!("{:>28} {:>10} {:>12} {:>12} {:>8}", "judge an instance", "bytes", "parse", "whole", "ratio");
    let text = schema(200 / scale.min(20));
    let files = load("visits.xsd", &text);
    let contract = Contract::read(files);
    let engine = Engine::new(&contract.files, &contract.schemas);
    for visits in [5_000, 50_000] {
        let text = instance(visits / scale);
        row(&format!("{visits} records"), &text, &|text| validate(&engine, text, 0));
    }
}

/// A measured line: the bare parse, and the whole work.
fn row(name: &str, text: &str, work: &dyn Fn(&str)) {
    let (mut parse, mut whole) = (Vec::new(), Vec::new());
    // In turn, so that a change of the machine's speed meets both alike.
    for _ in 0..15 {
        parse.push(time(|| self::parse(text)));
        whole.push(time(|| work(text)));
    }
    let (parse, whole) = (median(parse), median(whole));
    let ratio = whole.as_secs_f64() / parse.as_secs_f64();
    println!("{name:>28} {:>10} {parse:>12.2?} {whole:>12.2?} {ratio:>8.2}", text.len());
}

/// What grows, how much of it there is at first, what makes it, and how many findings there are at least.
type Dimension = (&'static str, usize, fn(usize) -> String, usize);

/// Each dimension by itself, ten times as much.
fn growth(scale: usize) {
    let judged: [Dimension; 7] = [
        ("types", 2_000, schema, 0),
        ("particles of one model", 2_000, particles, 0),
        ("attributes of one type", 1_000, attributes, 0),
        ("values of an enumeration", 5_000, enumeration, 0),
        ("types derived in a chain", 300, chain, 0),
        ("substitutes of one element", 1_000, substitutes, 0),
        ("findings", 2_000, findings, 1),
    ];
    for (name, size, make, faults) in judged {
        let texts = [make(size / scale), make(size / scale * 10)];
        factor(name, &texts, &|text| judge(text, faults));
    }
    let files = load("visits.xsd", &schema(200 / scale.min(20)));
    let contract = Contract::read(files);
    let engine = Engine::new(&contract.files, &contract.schemas);
    let broken = |visits: usize| instance(visits).replace("SALT", "salt");
    let texts = [broken(2_000 / scale), broken(20_000 / scale)];
    factor("findings in an instance", &texts, &|text| validate(&engine, text, 1));
}

/// How much more the tenfold text costs, and how much more its bare parse does.
fn factor(name: &str, texts: &[String; 2], work: &dyn Fn(&str)) {
    let mut times = [const { Vec::new() }; 4];
    // In turn, so that a change of the machine's speed meets all alike.
    for _ in 0..15 {
        for (at, text) in texts.iter().enumerate() {
            times[at].push(time(|| work(text)));
            times[2 + at].push(time(|| parse(text)));
        }
    }
    let [small, large, parse_small, parse_large] = times.map(median);
    let times = |small: Duration, large: Duration| large.as_secs_f64() / small.as_secs_f64();
    println!(
        "{name:>28} {:>10.2} {small:>12.2?} {large:>12.2?} {:>8.2}",
        times(parse_small, parse_large),
        times(small, large)
    );
}

fn parse(text: &str) {
    drop(black_box(roxmltree::Document::parse(black_box(text)).unwrap()));
}

fn load(name: &str, text: &str) -> Files {
    Files::load(&OneText(text), &Location::from_argument(name), Limits::default()).unwrap()
}

/// A store with one text in it: copied once, as from a disk.
struct OneText<'t>(&'t str);

impl Store for OneText<'_> {
    fn read(&self, _: &Location, _: u64) -> Result<Vec<u8>, ReadError> {
        Ok(self.0.as_bytes().to_vec())
    }
}

/// Decodes, loads, resolves and judges. `faults` is how many there are at least; none means none.
fn judge(text: &str, faults: usize) {
    let contract = Contract::read(load("visits.xsd", text));
    let findings = charter_check::check(&contract);
    assert!(findings.len() >= faults && (faults > 0 || findings.is_empty()), "{:?}", findings.first());
}

fn validate(engine: &Engine<'_>, text: &str, faults: usize) {
    let files = load("visits.xml", text);
    let first = files.first();
    let report = engine.validate(first.id, first.root().unwrap(), 100);
    assert!(report.count >= faults && (faults > 0 || report.is_valid()), "{:?}", report.wrong.first());
}

fn document(content: &str) -> String {
    format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<xs:schema targetNamespace=\"urn:saltmere:visits\" xmlns:tns=\"urn:saltmere:visits\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" elementFormDefault=\"qualified\">\n{content}</xs:schema>\n"
    )
}

/// Half simple types with facets, half complex ones, each with documentation; elements of some.
fn schema(types: usize) -> String {
    let mut text = String::new();
    for n in 0..types / 2 {
        let _ = writeln!(
            text,
            "  <xs:simpleType name=\"Code{n}\">
    <xs:annotation><xs:documentation>The code of visit {n}, as the harbour office keeps it in its books.</xs:documentation></xs:annotation>
    <xs:restriction base=\"xs:string\">
      <xs:maxLength value=\"{}\"/>
      <xs:pattern value=\"[A-Z]{{1,8}}\"/>
    </xs:restriction>
  </xs:simpleType>
  <xs:complexType name=\"Record{n}\">
    <xs:annotation><xs:documentation>What is kept of visit {n}, from the first call to the last line.</xs:documentation></xs:annotation>
    <xs:sequence>
      <xs:element name=\"code\" type=\"tns:Code{n}\"/>
      <xs:element name=\"earlier\" type=\"tns:Record{}\" minOccurs=\"0\" maxOccurs=\"unbounded\"/>
      <xs:element name=\"arrived\" type=\"xs:dateTime\"/>
      <xs:element name=\"draught\" type=\"xs:decimal\" minOccurs=\"0\"/>
      <xs:element name=\"berth\" type=\"xs:token\" minOccurs=\"0\"/>
    </xs:sequence>
    <xs:attribute name=\"verified\" type=\"xs:boolean\"/>
  </xs:complexType>
  <xs:element name=\"visit{n}\" type=\"tns:Record{n}\"/>",
            n % 40 + 8,
            n / 2
        );
    }
    document(&text)
}

/// Records with values of several types.
fn instance(records: usize) -> String {
    let mut text =
        String::from("<visit0 xmlns=\"urn:saltmere:visits\" verified=\"true\">\n<code>ABC</code>\n");
    for n in 0..records {
        let _ = writeln!(
            text,
            "  <earlier verified=\"true\"><code>SALT</code><arrived>2026-03-14T06:40:{:02}Z</arrived><draught>{}.5</draught></earlier>",
            n % 60,
            n % 30
        );
    }
    text.push_str("<arrived>2026-03-14T06:40:00Z</arrived></visit0>");
    text
}

fn particles(count: usize) -> String {
    let mut text =
        String::from("<xs:element name=\"day\"><xs:complexType><xs:sequence maxOccurs=\"unbounded\">\n");
    for n in 0..count {
        let _ = writeln!(text, "<xs:element name=\"tide{n}\" type=\"xs:time\" minOccurs=\"0\"/>");
    }
    document(&(text + "</xs:sequence></xs:complexType></xs:element>"))
}

fn attributes(count: usize) -> String {
    let mut text = String::from("<xs:element name=\"day\"><xs:complexType>\n");
    for n in 0..count {
        let _ = writeln!(text, "<xs:attribute name=\"tide{n}\" type=\"xs:time\"/>");
    }
    document(&(text + "</xs:complexType></xs:element>"))
}

fn enumeration(count: usize) -> String {
    let mut text =
        String::from("<xs:element name=\"berth\"><xs:simpleType><xs:restriction base=\"xs:token\">\n");
    for n in 0..count {
        let _ = writeln!(text, "<xs:enumeration value=\"N{n}\"/>");
    }
    document(&(text + "</xs:restriction></xs:simpleType></xs:element>"))
}

fn chain(count: usize) -> String {
    let mut text = String::from("<xs:complexType name=\"T0\"><xs:sequence/></xs:complexType>\n");
    for n in 1..count {
        let _ = writeln!(
            text,
            "<xs:complexType name=\"T{n}\"><xs:complexContent><xs:extension base=\"tns:T{}\"><xs:sequence><xs:element name=\"e{n}\" type=\"xs:int\"/></xs:sequence><xs:attribute name=\"a{n}\" type=\"xs:int\"/></xs:extension></xs:complexContent></xs:complexType>",
            n - 1
        );
    }
    let last = count - 1;
    document(&(text + &format!("<xs:element name=\"day\" type=\"tns:T{last}\"/>")))
}

fn substitutes(count: usize) -> String {
    let mut text = String::from(
        "<xs:element name=\"notice\" type=\"xs:token\"/>\n<xs:element name=\"day\"><xs:complexType><xs:choice maxOccurs=\"unbounded\"><xs:element ref=\"tns:notice\"/></xs:choice></xs:complexType></xs:element>",
    );
    for n in 0..count {
        let _ = writeln!(
            text,
            "<xs:element name=\"notice{n}\" substitutionGroup=\"tns:notice\" type=\"xs:token\"/>"
        );
    }
    document(&text)
}

fn findings(count: usize) -> String {
    let mut text = String::new();
    for n in 0..count {
        let _ = writeln!(text, "<xs:element name=\"tide{n}\" type=\"xs:decimal\" default=\"high\"/>");
    }
    document(&text)
}
