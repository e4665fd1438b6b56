//! Edits on files of every make: the lines that an edit is not about stay as they are, byte by byte.

use charter_author::{Change, Editing, add, edit, remove, set, text_of};
use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::{Limits, Location, Overlay};

/// A file in memory, and the contract in it.
struct Desk {
    bytes: Vec<u8>,
}

impl Desk {
    fn of(text: &str) -> Desk {
        Desk { bytes: text.as_bytes().to_vec() }
    }

    fn run<T>(&self, act: impl FnOnce(Editing<'_>) -> T) -> T {
        let mut store = Overlay::of(&[]);
        let location = Location::from_argument("port.wsdl");
        store.put(&location, self.bytes.clone());
        let contract = Contract::load(&store, &location, Limits::default()).unwrap();
        act(Editing::of(&contract, &store, &Convention::default()))
    }

    /// The file after a change.
    #[track_caller]
    fn after(
        &self,
        what: &str,
        act: impl FnOnce(Editing<'_>) -> Result<Change, charter_author::EditFailure>,
    ) -> Desk {
        let change = self.run(act).unwrap_or_else(|error| panic!("{what}: {error} {error:?}"));
        Desk { bytes: change.files[0].after.bytes().into_owned() }
    }

    fn text(&self) -> String {
        charter_source::Text::decode(self.bytes.clone()).content().to_owned()
    }
}

/// A contract as tools and people write them; what is between braces is the way of writing.
fn contract(line: &str, unit: &str, quote: &str) -> String {
    let text = r#"<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE w:definitions [<!ENTITY port "Saltmere">]>
<!-- before everything -->
<w:definitions name="Tides"
  targetNamespace="urn:saltmere:tides:1"
  xmlns:my="urn:saltmere:tides:1"
  xmlns:w="http://schemas.xmlsoap.org/wsdl/"
  xmlns:sp="http://schemas.xmlsoap.org/wsdl/soap/">
  <!-- about types -->
  <w:types>
    <schema xmlns="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:saltmere:tides:1" elementFormDefault="qualified">
      <!-- a gauge -->
      <simpleType name="Gauge">
        <restriction base="string"><!-- values -->
          <enumeration value="pier"/> <!-- the old one -->
          <enumeration value="lock"/>
        </restriction>
      </simpleType>
      <complexType name="Tide"> <!-- one tide -->
        <sequence>
          <!-- first -->
          <element
            name="high"
            type="dateTime"
            minOccurs="0"/>
          <!-- second -->
          <element name="height" type="decimal"/><!-- in &port; -->
        </sequence>
        <attribute name="gauge" type="my:Gauge"/>
      </complexType>
      <element name="nextTide">
        <complexType>
          <sequence/>
        </complexType>
      </element>
    </schema>
    <x:schema xmlns:x="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:saltmere:other">
      <x:complexType name="Mark"><x:sequence><x:element name="at" type="x:string"/></x:sequence></x:complexType>
    </x:schema>
  </w:types>

  <w:message name="nextTideInput">
    <w:part name="parameters" element="my:nextTide"/>
  </w:message>

  <w:portType name="Tides">
    <w:operation name="nextTide">
      <w:input message="my:nextTideInput"/>
    </w:operation>
  </w:portType>
  <w:binding name="TidesOverSoap11" type="my:Tides">
    <sp:binding transport="http://schemas.xmlsoap.org/soap/http"/>
    <w:operation name="nextTide">
      <sp:operation soapAction="urn:saltmere:tides:1:nextTide"/>
      <w:input><!-- the body --><sp:body use="literal"/></w:input>
    </w:operation>
  </w:binding>
  <w:service name="TidesService">
    <w:port name="TidesPort" binding="my:TidesOverSoap11">
      <sp:address location="http://localhost:8080/tides"/>
    </w:port>
  </w:service>
</w:definitions>
<!-- after everything -->
"#;
    let lines: Vec<String> = text
        .lines()
        .map(|written| {
            let rest = written.trim_start();
            format!("{}{rest}", unit.repeat((written.len() - rest.len()) / 2))
        })
        .collect();
    let text = lines.join(line) + line;
    if quote == "\"" { text } else { text.replace('"', quote) }
}

/// Every way of writing that the tests go through.
fn layouts() -> Vec<(&'static str, Desk)> {
    let plain = contract("\n", "  ", "\"");
    let utf16: Vec<u8> = [0xFF, 0xFE]
        .into_iter()
        .chain(plain.replace("UTF-8", "UTF-16").encode_utf16().flat_map(u16::to_le_bytes))
        .collect();
    let mut bom = vec![0xEF, 0xBB, 0xBF];
    bom.extend(plain.as_bytes());
    vec![
        ("plain", Desk::of(&plain)),
        ("tabs", Desk::of(&contract("\n", "\t", "\""))),
        ("four spaces", Desk::of(&contract("\n", "    ", "\""))),
        ("CRLF", Desk::of(&contract("\r\n", "  ", "\""))),
        ("single quotes", Desk::of(&contract("\n", "  ", "'"))),
        ("UTF-16", Desk { bytes: utf16 }),
        ("a byte-order mark", Desk { bytes: bom }),
        ("one line", Desk::of(&contract(" ", "", "\""))),
    ]
}

/// The lines of `after` that are not in `before`, and the other way round.
fn differing(before: &str, after: &str) -> (Vec<String>, Vec<String>) {
    let (mut old, mut new): (Vec<&str>, Vec<&str>) = (before.lines().collect(), after.lines().collect());
    while let (Some(a), Some(b)) = (old.first(), new.first())
        && a == b
    {
        old.remove(0);
        new.remove(0);
    }
    while let (Some(a), Some(b)) = (old.last(), new.last())
        && a == b
    {
        old.pop();
        new.pop();
    }
    let own = |list: Vec<&str>, other: &[&str]| -> Vec<String> {
        list.into_iter().filter(|line| !other.contains(line)).map(|line| line.trim().to_owned()).collect()
    };
    let gone = own(old.clone(), &new);
    let come = own(new, &old);
    (gone, come)
}

#[test]
fn an_edit_touches_only_the_lines_that_it_is_about() {
    for (what, desk) in layouts() {
        let before = desk.text();
        let path = |path: &str, editing: Editing<'_>| editing.contract.find(path).unwrap();
        let cases: Vec<(&str, Desk, usize, usize)> = vec![
            ("add a field", desk.after(what, |e| add(e, path("type/Tide", e), "range: decimal?")), 0, 1),
            ("add a value", desk.after(what, |e| add(e, path("type/Gauge", e), "\"mole\"")), 0, 1),
            (
                "set a type",
                desk.after(what, |e| set(e, path("type/Tide/high", e), &[("type", "date")])),
                1,
                1,
            ),
            (
                "set a count",
                desk.after(what, |e| set(e, path("type/Tide/height", e), &[("occurs", "?")])),
                1,
                1,
            ),
            (
                "nil a field",
                desk.after(what, |e| set(e, path("type/Tide/high", e), &[("nillable", "true")])),
                1,
                2,
            ),
            ("remove a field", desk.after(what, |e| remove(e, path("type/Tide/height", e), false)), 1, 1),
            (
                "add to nothing",
                desk.after(what, |e| add(e, path("element/nextTide", e), "gauge: Gauge")),
                1,
                3,
            ),
            (
                "edit",
                desk.after(what, |e| {
                    let component = path("type/Tide", e);
                    let text = text_of(e, component).unwrap().replace("height: decimal", "metres: double");
                    edit(e, component, &text)
                }),
                1,
                1,
            ),
        ];
        for (kind, after, most_gone, most_come) in cases {
            let (gone, come) = differing(&before, &after.text());
            let lines = what != "one line";
            assert!(
                !lines || gone.len() <= most_gone && come.len() <= most_come,
                "{what}, {kind}\n- {gone:#?}\n+ {come:#?}"
            );
            for kept in ["<!-- the old one -->", "<!-- first -->", "&port;", "<!-- after everything -->"] {
                let in_it = kind == "remove a field" && kept == "&port;";
                assert!(in_it || after.text().contains(kept), "{what}, {kind}: {kept}\n{}", after.text());
            }
            let stray = after.text().replace("\r\n", "").contains('\n') && what == "CRLF";
            assert!(!stray, "{what}, {kind}: a line end of another kind");
        }
    }
}

#[test]
fn new_lines_look_like_those_around_them() {
    let find = |path: &'static str| move |e: Editing<'_>| e.contract.find(path).unwrap();
    for (what, unit, quote, line) in
        [("tabs", "\t", "\"", "\n"), ("single quotes", "  ", "'", "\n"), ("CRLF", "    ", "\"", "\r\n")]
    {
        let desk = Desk::of(&contract(line, unit, quote));
        let text = desk.after(what, |e| add(e, find("type/Tide")(e), "mark: string? length 1..9")).text();
        let expected = format!(
            "{line}{i5}<element name={q}mark{q} minOccurs={q}0{q}>{line}{i5}{unit}<simpleType>{line}{i5}{unit}{unit}<restriction base={q}string{q}>",
            i5 = unit.repeat(5),
            q = quote
        );
        assert!(text.contains(&expected), "{what}\n{text}");
        // Another prefix for the schema of another namespace.
        let text = desk.after(what, |e| add(e, find("type/Mark")(e), "seen: boolean")).text();
        assert!(
            text.contains(&format!("<x:element name={quote}seen{quote} type={quote}x:boolean{quote}/>")),
            "{text}"
        );
        let text = desk
            .after(what, |e| {
                add(e, find("port-type/Tides")(e), "operation lastTide { input {} output { tide: Tide } }")
            })
            .text();
        assert!(text.contains(&format!("element={quote}my:lastTideResponse{quote}")), "{text}");
        assert!(
            text.contains(&format!("<element name={quote}tide{quote} type={quote}my:Tide{quote}/>")),
            "{text}"
        );
    }
}

#[test]
fn an_edit_and_its_inverse_give_the_same_bytes() {
    for (what, desk) in layouts() {
        let back =
            |kind: &str,
             there: Desk,
             undo: &dyn Fn(Editing<'_>) -> Result<Change, charter_author::EditFailure>| {
                let again = there.after(kind, undo);
                assert!(again.bytes == desk.bytes, "{what}, {kind}\n{}\n{}", there.text(), again.text());
            };
        let find = |path: &str, e: Editing<'_>| e.contract.find(path).unwrap();
        back("a field", desk.after(what, |e| add(e, find("type/Tide", e), "range: decimal?")), &|e| {
            remove(e, find("type/Tide/range", e), false)
        });
        back(
            "the only field",
            desk.after(what, |e| add(e, find("element/nextTide", e), "gauge: Gauge")),
            &|e| remove(e, find("element/nextTide/gauge", e), false),
        );
        let contract = charter_contract::Component::Contract;
        back(
            "a type",
            desk.after(what, |e| add(e, contract, "type Berth { name: string, @deep: boolean? }")),
            &|e| remove(e, find("type/Berth", e), false),
        );
        back(
            "an operation",
            desk.after(what, |e| {
                add(e, contract, "operation lastTide { input {} output { tide: Tide } fault Dry {} }")
            }),
            &|e| remove(e, find("operation/lastTide", e), false),
        );
        back(
            "a binding",
            desk.after(what, |e| add(e, contract, "binding TidesOverSoap12 = soap 1.2 document literal")),
            &|e| remove(e, find("binding/TidesOverSoap12", e), false),
        );
        back(
            "a type of a field",
            desk.after(what, |e| set(e, find("type/Tide/high", e), &[("type", "date")])),
            &|e| set(e, find("type/Tide/high", e), &[("type", "dateTime")]),
        );
        back(
            "a new property",
            desk.after(what, |e| {
                set(e, find("type/Tide/height", e), &[("nillable", "true"), ("occurs", "2..5")])
            }),
            &|e| set(e, find("type/Tide/height", e), &[("nillable", ""), ("occurs", "")]),
        );
        back(
            "an address",
            desk.after(what, |e| {
                set(e, find("service/TidesService/port/TidesPort", e), &[("address", "http://quay")])
            }),
            &|e| {
                set(
                    e,
                    find("service/TidesService/port/TidesPort", e),
                    &[("address", "http://localhost:8080/tides")],
                )
            },
        );
        back(
            "documentation",
            desk.after(what, |e| set(e, find("type/Gauge", e), &[("about", "Where it is measured.")])),
            &|e| set(e, find("type/Gauge", e), &[("about", "")]),
        );
        back(
            "the namespace",
            desk.after(what, |e| set(e, contract, &[("namespace", "urn:saltmere:tides:2")])),
            &|e| set(e, contract, &[("namespace", "urn:saltmere:tides:1")]),
        );
    }
}
