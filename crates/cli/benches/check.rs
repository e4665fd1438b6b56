//! What `check` costs, as a ratio to the bare tree parse of the same bytes, on contracts of growing size; and
//! the whole process on the demo contract.
//!
//! `cargo bench` prints the medians. Absolute times depend on the machine, ratios hardly do.

mod common;

use std::fmt::Write as _;
use std::fs;
use std::hint::black_box;
use std::process::Command;

use charter_contract::Contract;
use charter_source::{Disk, Limits, Location, Overlay};

use common::{median, time};

fn main() {
    // `cargo test --benches` only wants to know that this runs.
    let quick = std::env::args().any(|argument| argument == "--test");
    let sizes: &[usize] = if quick { &[100] } else { &[100, 1_000, 10_000, 20_000] };
    println!("{:>8} {:>10} {:>12} {:>12} {:>8}", "types", "bytes", "parse", "check", "ratio");
    for &types in sizes {
        let text = contract(types);
        let mut parse = Vec::new();
        let mut check = Vec::new();
        // In turn, so that a change of the machine's speed meets both alike.
        for _ in 0..if quick { 1 } else { rounds(types) } {
            parse.push(time(|| drop(black_box(roxmltree::Document::parse(black_box(&text)).unwrap()))));
            check.push(time(|| check_once(&text)));
        }
        let (parse, check) = (median(parse), median(check));
        let ratio = check.as_secs_f64() / parse.as_secs_f64();
        println!("{types:>8} {:>10} {parse:>12.2?} {check:>12.2?} {ratio:>8.2}", text.len());
    }
    if !quick {
        process();
        side_by_side();
    }
}

fn rounds(types: usize) -> usize {
    (200_000 / types).clamp(15, 200)
}

/// Decodes, loads, resolves and checks, as the program does once it has the bytes.
fn check_once(text: &str) {
    let location = Location::Path("memory/bench.wsdl".into());
    let mut store = Overlay::new(Disk);
    store.put(&location, text.as_bytes().to_vec());
    let contract = Contract::load(&store, &location, Limits::default()).unwrap();
    let findings = charter_check::check(&contract);
    assert!(findings.is_empty(), "{:?}", findings[0].message);
}

/// `charter check` on the demo contract, start to end.
fn process() {
    let program = env!("CARGO_BIN_EXE_charter");
    let folder = std::env::temp_dir().join(format!("charter-bench-{}", std::process::id()));
    fs::create_dir_all(&folder).unwrap();
    let source = concat!(env!("CARGO_MANIFEST_DIR"), "/demo/v1/");
    for name in ["pilotage.wsdl", "vessel.xsd"] {
        fs::copy(format!("{source}{name}"), folder.join(name)).unwrap();
    }
    let file = folder.join("pilotage.wsdl");
    let run = || {
        let output = Command::new(program).arg("check").arg(&file).output().unwrap();
        assert!(output.status.success());
    };
    run();
    let times = (0..50).map(|_| time(run)).collect();
    println!("\ncharter check on the demo contract, whole process: {:.2?}", median(times));
    let _ = fs::remove_dir_all(&folder);
}

/// `charter check` on a folder of 200 contracts: on all cores, and on one.
fn side_by_side() {
    let folder = std::env::temp_dir().join(format!("charter-bench-many-{}", std::process::id()));
    fs::create_dir_all(&folder).unwrap();
    for n in 0..200 {
        fs::write(folder.join(format!("visits{n}.wsdl")), contract(400)).unwrap();
    }
    let run = |threads: Option<&str>| {
        let mut command = Command::new(env!("CARGO_BIN_EXE_charter"));
        command.arg("check").arg(&folder).envs(threads.map(|threads| ("RAYON_NUM_THREADS", threads)));
        assert!(command.output().unwrap().status.success());
    };
    let (mut all, mut one) = (Vec::new(), Vec::new());
    for _ in 0..9 {
        all.push(time(|| run(None)));
        one.push(time(|| run(Some("1"))));
    }
    let (all, one) = (median(all), median(one));
    let ratio = all.as_secs_f64() / one.as_secs_f64();
    println!(
        "200 contracts, whole process: {all:.2?} side by side, {one:.2?} one after the other, ratio {ratio:.2}"
    );
    let _ = fs::remove_dir_all(&folder);
}

/// A contract in document style with that many types, half of them simple, and an operation for every fifty.
fn contract(types: usize) -> String {
    let mut schema = String::new();
    for n in 0..types / 2 {
        let _ = writeln!(
            schema,
            "      <xs:simpleType name=\"Code{n}\">
        <xs:annotation><xs:documentation>The code of visit {n}, as the harbour office writes it into its log of arrivals and departures; capital letters, at most eight of them.</xs:documentation></xs:annotation>
        <xs:restriction base=\"xs:string\">
          <xs:maxLength value=\"{}\"/>
          <xs:pattern value=\"[A-Z]{{1,8}}\"/>
        </xs:restriction>
      </xs:simpleType>
      <xs:complexType name=\"Record{n}\">
        <xs:annotation><xs:documentation>What is kept of visit {n}.</xs:documentation></xs:annotation>
        <xs:sequence>
          <xs:element name=\"code\" type=\"tns:Code{n}\"/>
          <xs:element name=\"earlier\" type=\"tns:Record{}\" minOccurs=\"0\" maxOccurs=\"unbounded\"/>
          <xs:element name=\"arrived\" type=\"xs:dateTime\"/>
          <xs:element name=\"draught\" type=\"xs:decimal\" minOccurs=\"0\"/>
        </xs:sequence>
        <xs:attribute name=\"verified\" type=\"xs:boolean\"/>
      </xs:complexType>",
            n % 40 + 8,
            n / 2
        );
    }
    let operations = (types / 50).max(1);
    let (mut elements, mut messages, mut port_type, mut binding) =
        <(String, String, String, String)>::default();
    for n in 0..operations {
        let record = (n * 25).min(types / 2 - 1);
        let _ = writeln!(
            elements,
            "      <xs:element name=\"visit{n}\" type=\"tns:Record{record}\"/>\n      <xs:element name=\"visit{n}Response\" type=\"tns:Record{record}\"/>"
        );
        for (suffix, element) in [("Input", ""), ("Output", "Response")] {
            let _ = writeln!(
                messages,
                "  <wsdl:message name=\"visit{n}{suffix}\"><wsdl:part name=\"parameters\" element=\"tns:visit{n}{element}\"/></wsdl:message>"
            );
        }
        let _ = writeln!(
            port_type,
            "    <wsdl:operation name=\"visit{n}\"><wsdl:input message=\"tns:visit{n}Input\"/><wsdl:output message=\"tns:visit{n}Output\"/></wsdl:operation>"
        );
        let _ = writeln!(
            binding,
            "    <wsdl:operation name=\"visit{n}\"><soap:operation soapAction=\"urn:saltmere:visits:visit{n}\"/><wsdl:input><soap:body use=\"literal\"/></wsdl:input><wsdl:output><soap:body use=\"literal\"/></wsdl:output></wsdl:operation>"
        );
    }
    // Each record that no operation carries is reached from an element of its own.
    let _ = writeln!(elements, "      <xs:element name=\"everything\"><xs:complexType><xs:choice>");
    for n in 0..types / 2 {
        let _ = writeln!(elements, "        <xs:element name=\"record{n}\" type=\"tns:Record{n}\"/>");
    }
    elements.push_str("      </xs:choice></xs:complexType></xs:element>\n");
    format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>
<wsdl:definitions name=\"Visits\" targetNamespace=\"urn:saltmere:visits\" xmlns:tns=\"urn:saltmere:visits\"
    xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/soap/\"
    xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\">
  <wsdl:types>
    <xs:schema targetNamespace=\"urn:saltmere:visits\" elementFormDefault=\"qualified\">
{schema}{elements}    </xs:schema>
  </wsdl:types>
{messages}  <wsdl:portType name=\"Visits\">
{port_type}  </wsdl:portType>
  <wsdl:binding name=\"VisitsOverSoap11\" type=\"tns:Visits\">
    <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>
{binding}  </wsdl:binding>
  <wsdl:service name=\"VisitsService\">
    <wsdl:port name=\"VisitsPort\" binding=\"tns:VisitsOverSoap11\"><soap:address location=\"https://visits.saltmere.example/\"/></wsdl:port>
  </wsdl:service>
</wsdl:definitions>
"
    )
}
