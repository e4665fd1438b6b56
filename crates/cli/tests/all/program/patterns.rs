//! Patterns that are small to write and large to follow: each run ends soon, and what was not judged is said to be open.

use std::fmt::Write as _;

use crate::program::folder::{Folder, Run};
use crate::program::hostile::{port, quick};

/// A type of text with patterns.
fn text(name: &str, patterns: &[&str]) -> String {
    let patterns: String =
        patterns.iter().map(|pattern| format!("<xs:pattern value=\"{pattern}\"/>")).collect();
    format!(
        "<xs:simpleType name=\"{name}\"><xs:restriction base=\"xs:string\">{patterns}</xs:restriction></xs:simpleType>"
    )
}

/// A contract whose one message holds berths by that pattern.
fn berths(pattern: &str) -> String {
    let element = "<xs:element name=\"moor\"><xs:complexType><xs:sequence><xs:element name=\"berth\" type=\"t:Berth\" maxOccurs=\"unbounded\"/></xs:sequence></xs:complexType></xs:element>";
    port(&(text("Berth", &[pattern]) + element))
}

/// A message with these berths.
fn message(berths: &[&str]) -> String {
    let berths: String = berths.iter().map(|berth| format!("<berth>{berth}</berth>")).collect();
    format!(
        "<s:Envelope xmlns:s=\"http://schemas.xmlsoap.org/soap/envelope/\"><s:Body><moor xmlns=\"urn:saltmere:quay\">{berths}</moor></s:Body></s:Envelope>"
    )
}

/// The rules that the findings of the one message go by.
fn rules(run: &Run) -> Vec<String> {
    let json = run.json();
    let findings = json["messages"][0]["findings"].as_array().unwrap();
    findings.iter().map(|finding| finding["rule"].as_str().unwrap().to_owned()).collect()
}

#[test]
fn what_takes_too_long_to_find_out_is_not_said_to_match() {
    let folder = Folder::empty();
    folder.write("quay.wsdl", berths("([ab]?){20000}c?"));
    let matched = |berths: &[&str]| {
        folder.write("message.xml", message(berths));
        let run = quick(&folder, "match quay.wsdl message.xml --format json");
        (run.status, rules(&run))
    };
    assert_eq!(matched(&["abba", "bac"]), (0, vec![]));
    assert_eq!(matched(&["abx"]), (1, vec!["cvc-pattern-valid".to_owned()]));
    let long = "ab".repeat(8_000);
    let (status, found) = matched(&[&long]);
    assert_eq!((status, found), (1, vec!["schema-size".to_owned()]));
    // One effort more is no better, and what is none is judged still.
    let (status, found) = matched(&[&long, &long]);
    assert!(status == 1 && found.iter().all(|rule| rule == "schema-size"), "{found:?}");
    let words = quick(&folder, "match quay.wsdl message.xml");
    assert!(words.out.contains("would take too long to find out"), "{}", words.out);
}

#[test]
fn a_text_of_any_length_is_judged_where_that_is_no_effort() {
    let folder = Folder::empty();
    let long = "quay-7 ".repeat(12_000);
    for (pattern, status) in [(r"[a-z0-9 \-]{1,90000}", 0), (r"(\w|-| )+", 0), (r"[a-z]{300}|[ab]*", 1)] {
        folder.write("quay.wsdl", berths(pattern));
        folder.write("message.xml", message(&[&long]));
        let run = quick(&folder, "match quay.wsdl message.xml --format json");
        assert_eq!(run.status, status, "{pattern}");
        assert!(!rules(&run).contains(&"schema-size".to_owned()), "{pattern}");
    }
}

#[test]
fn classes_that_are_named_in_two_letters_are_counted() {
    let folder = Folder::empty();
    let long = r"\w".repeat(100_000);
    let less: String = (0..20_000).fold(String::new(), |mut all, number| {
        write!(all, r"[\w-[{}]]", char::from_u32(0x4E00 + number).unwrap()).unwrap();
        all
    });
    for pattern in [&long, &less] {
        folder.write("quay.wsdl", berths(pattern));
        let check = quick(&folder, "check quay.wsdl");
        assert_eq!(check.status, 1);
        assert!(check.out.contains("schema-size") && check.out.len() < 4_000, "{}", check.out.len());
        folder.write("message.xml", message(&["a"]));
        let matched = quick(&folder, "match quay.wsdl message.xml --format json");
        assert_eq!((matched.status, rules(&matched)), (1, vec!["schema-size".to_owned()]));
        assert_eq!(quick(&folder, "message quay.wsdl moor").status, 0);
    }
}

#[test]
fn thousands_of_patterns_share_one_budget() {
    let folder = Folder::empty();
    // Each is heavy, or each has an automaton of its own.
    for (pattern, sound) in
        [("[ab]{1,250000}", false), ("([a-z][0-9]?){1,900}", true), ("[A-Z0-9]{1000,3000}", true)]
    {
        let (mut types, mut fields) = (String::new(), String::new());
        for number in 0..600 {
            types += &text(&format!("P{number}"), &[&format!("{pattern}{number}")]);
            write!(fields, "<xs:element name=\"f{number}\" type=\"t:P{number}\"/>").unwrap();
        }
        let element = format!(
            "<xs:element name=\"moor\"><xs:complexType><xs:sequence>{fields}</xs:sequence></xs:complexType></xs:element>"
        );
        folder.write("quay.wsdl", port(&(types + &element)));
        let check = quick(&folder, "check quay.wsdl");
        assert_eq!(check.status, i32::from(!sound), "{pattern}");
        if !sound {
            // One bound is told once.
            assert_eq!(check.out.matches("schema-size").count(), 1, "{}", check.out);
            check.says("and in 599 more places");
        }
        let made = quick(&folder, "message quay.wsdl moor");
        assert_eq!(made.status, 0, "{pattern}: {}", made.err);
        folder.write("message.xml", &made.out);
        let matched = quick(&folder, "match quay.wsdl message.xml --format json");
        assert_eq!(matched.status == 0, sound, "{pattern}: {:?}", rules(&matched));
        assert_eq!(quick(&folder, "message quay.wsdl moor --hostile --format json").status, 0, "{pattern}");
    }
}

#[test]
fn a_pattern_that_cannot_be_followed_breaks_nothing_for_certain() {
    let folder = Folder::empty();
    folder.write("plain.wsdl", berths("[a-z]{9}"));
    folder.write("wide.wsdl", berths(&r"\w".repeat(100_000)));
    folder.write("deep.wsdl", berths("([ab]?){20000}"));
    folder.write("deeper.wsdl", berths("([ab]?){20001}"));
    let compared = |old: &str, new: &str| {
        let run = quick(&folder, &format!("compare {old}.wsdl {new}.wsdl --format json"));
        run.json()["verdict"].as_str().unwrap().to_owned()
    };
    for (old, new) in [("deep", "deeper"), ("deeper", "deep")] {
        assert_eq!(compared(old, new), "bends", "{old} {new}");
    }
    // What the one cannot say of a text is no refusal of it.
    assert_eq!(compared("wide", "wide"), "keeps");
    let run = quick(&folder, "compare plain.wsdl wide.wsdl");
    assert!(!run.out.contains("too long to find out"), "{}", run.out);
    assert!(run.out.lines().all(|line| line.chars().count() < 400), "a line is too long to be read");
    // What is sure is told all the same.
    assert_eq!(compared("plain", "deep"), "breaks");
}

#[test]
fn patterns_of_unions_and_derivations_are_open_only_where_nothing_else_decides() {
    let folder = Folder::empty();
    let heavy = "([ab]?){20000}c?";
    let types = text("Heavy", &[heavy])
        + &text("Digits", &["[0-9]+"])
        + "<xs:simpleType name=\"Either\"><xs:union memberTypes=\"t:Heavy t:Digits\"/></xs:simpleType>"
        + "<xs:simpleType name=\"Narrow\"><xs:restriction base=\"t:Heavy\"><xs:pattern value=\"a.*\"/></xs:restriction></xs:simpleType>"
        + "<xs:simpleType name=\"Listed\"><xs:restriction base=\"t:Heavy\"><xs:enumeration value=\"ab\"/></xs:restriction></xs:simpleType>";
    let field = |name: &str| {
        format!("<xs:element name=\"{}\" type=\"t:{name}\" minOccurs=\"0\"/>", name.to_lowercase())
    };
    let fields: String = ["Either", "Narrow", "Listed"].map(field).concat();
    let element = format!(
        "<xs:element name=\"moor\"><xs:complexType><xs:sequence>{fields}</xs:sequence></xs:complexType></xs:element>"
    );
    folder.write("quay.wsdl", port(&(types + &element)));
    let long = "ba".repeat(9_000);
    for (field, value, rule) in [
        ("either", "4170", None),
        ("either", long.as_str(), Some("schema-size")),
        ("either", "quay", Some("cvc-datatype-valid")),
        ("narrow", long.as_str(), Some("cvc-pattern-valid")),
        ("narrow", "abba", None),
        ("listed", long.as_str(), Some("cvc-enumeration-valid")),
        ("listed", "ab", None),
    ] {
        let own = format!("<{field}>{value}</{field}>");
        folder.write("message.xml", message(&[]).replace("></moor>", &format!(">{own}</moor>")));
        let run = quick(&folder, "match quay.wsdl message.xml --format json");
        assert_eq!(rules(&run).first().map(String::as_str), rule, "{field} {value:.20}");
    }
}
