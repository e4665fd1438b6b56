//! Whether one schema is within another, against all short instances: of content models, all sequences of three elements;
//! of values, all texts of a few characters.

mod included;

use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay};
use included::{Found, asked, files};
use proptest::prelude::*;

/// The longest sequence, and the longest text.
const ELEMENTS: usize = 5;
const CHARACTERS: usize = 4;

/// A particle over three elements without content, with counts that make sequences of up to five interesting.
fn particle() -> impl Strategy<Value = String> {
    let occurs = || {
        prop_oneof![
            4 => Just(String::new()),
            2 => Just(" minOccurs='0'".to_owned()),
            1 => Just(" maxOccurs='2'".to_owned()),
            1 => Just(" minOccurs='0' maxOccurs='0'".to_owned()),
            1 => Just(" minOccurs='2' maxOccurs='3'".to_owned()),
            1 => Just(" minOccurs='0' maxOccurs='unbounded'".to_owned()),
        ]
    };
    let leaf = (0..3usize, occurs()).prop_map(|(name, occurs)| {
        format!("<x:element name='{}' type='t:E'{occurs}/>", ["a", "b", "c"][name])
    });
    leaf.prop_recursive(3, 10, 3, move |inner| {
        (prop_oneof![Just("sequence"), Just("choice")], prop::collection::vec(inner, 1..4), occurs())
            .prop_map(|(group, members, occurs)| {
                format!("<x:{group}{occurs}>{}</x:{group}>", members.concat())
            })
    })
}

fn with_content(particle: &str) -> String {
    format!(
        "<x:complexType name='E'/><x:element name='r'><x:complexType><x:sequence>{particle}</x:sequence></x:complexType></x:element>"
    )
}

/// A simple type of short texts: a built-in type with facets, a list or a union.
fn simple() -> impl Strategy<Value = String> {
    let restricted = |base: &str, facets: String| {
        format!("<x:simpleType><x:restriction base='x:{base}'>{facets}</x:restriction></x:simpleType>")
    };
    let facet = |name: &str, value: &dyn std::fmt::Display| format!("<x:{name} value='{value}'/>");
    let number = (
        prop_oneof![Just("int"), Just("decimal"), Just("byte"), Just("integer")],
        -12..12i32,
        -12..12i32,
        0..6usize,
    )
        .prop_map(move |(base, low, high, which)| {
            let facets = match which {
                0 => String::new(),
                1 => facet("minInclusive", &low),
                2 => facet("maxExclusive", &high),
                3 => facet("minInclusive", &low.min(high)) + &facet("maxInclusive", &low.max(high)),
                4 => facet("totalDigits", &(1 + low.unsigned_abs() % 3)),
                _ => facet("enumeration", &low) + &facet("enumeration", &high),
            };
            restricted(base, facets)
        });
    let patterns =
        ["[ab]+", "a*", "(ab)*", "a?b?1?", "[^a]*", "-?[01]{1,2}", "[ab1]{2}", "(a|b1)*", "\\d+", "1+|a"];
    let text = (
        prop_oneof![Just("string"), Just("token"), Just("normalizedString")],
        0..patterns.len(),
        0..4usize,
        0..5usize,
    )
        .prop_map(move |(base, pattern, length, which)| {
            let pattern = facet("pattern", &patterns[pattern]);
            let facets = match which {
                0 => pattern,
                1 => facet("maxLength", &length),
                2 => facet("length", &length),
                3 => pattern + &facet("maxLength", &length),
                _ => facet("enumeration", &"a1") + &facet("enumeration", &"b") + &facet("enumeration", &"10"),
            };
            restricted(base, facets)
        });
    let atom = prop_oneof![3 => number, 3 => text, 1 => Just(restricted("boolean", String::new()))];
    let listed = (atom.clone(), 0..3usize).prop_map(|(item, least)| {
        let list = format!("<x:simpleType><x:list>{item}</x:list></x:simpleType>");
        format!(
            "<x:simpleType><x:restriction>{list}<x:minLength value='{least}'/></x:restriction></x:simpleType>"
        )
    });
    let either = (atom.clone(), atom.clone())
        .prop_map(|(one, other)| format!("<x:simpleType><x:union>{one}{other}</x:union></x:simpleType>"));
    prop_oneof![6 => atom, 1 => listed, 2 => either]
}

fn with_value(ty: &str) -> String {
    format!("<x:element name='r'>{ty}</x:element>")
}

/// All sequences of so many pieces at most.
fn all(pieces: &[&str], most: usize) -> Vec<String> {
    let mut all = vec![String::new()];
    let mut from = 0;
    for _ in 0..most {
        let until = all.len();
        for at in from..until {
            for piece in pieces {
                all.push(format!("{}{piece}", all[at]));
            }
        }
        from = until;
    }
    all
}

/// The messages that a schema accepts.
fn accepted(schema: &str, messages: &[Files]) -> Vec<bool> {
    let files = files(schema);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    let engine = Engine::new(&files, &schemas);
    let accepts =
        |message: &Files| engine.validate(message.first().id, message.first().root().unwrap(), 1).is_valid();
    messages.iter().map(accepts).collect()
}

fn messages(contents: Vec<String>) -> Vec<Files> {
    let load = |content: String| {
        let text = format!("<t:r xmlns:t='urn:t'>{content}</t:r>");
        Files::load(&Overlay::of(&[("m.xml", &text)]), &Location::from_argument("m.xml"), Limits::default())
            .unwrap()
    };
    contents.into_iter().map(load).collect()
}

/// What is said of two schemas must be so for all messages; whether it was said at all.
fn judged(sub: &str, sup: &str, messages: &[Files]) -> bool {
    let (ours, theirs) = (accepted(sub, messages), accepted(sup, messages));
    let beyond = ours.iter().zip(&theirs).position(|(a, b)| *a && !*b);
    match (asked(sub, sup), beyond) {
        (Found::Within, Some(at)) => {
            panic!("said to be within: {sub}\n{sup}\n{}", messages[at].first().text().content())
        }
        (Found::Undecided, _) => false,
        _ => true,
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 80, failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn contents_are_within_as_all_short_sequences_say(a in particle(), b in particle()) {
        let elements = ["<t:a xmlns:t='urn:t'/>", "<t:b xmlns:t='urn:t'/>", "<t:c xmlns:t='urn:t'/>"];
        let messages = messages(all(&elements, ELEMENTS));
        prop_assert!(judged(&with_content(&a), &with_content(&b), &messages), "{a}\n{b}");
        prop_assert!(judged(&with_content(&a), &with_content(&a), &messages), "{a}");
    }

    #[test]
    fn values_are_within_as_all_short_texts_say(a in simple(), b in simple()) {
        let messages = messages(all(&["a", "b", "1", "0", "-", "+", ".", " "], CHARACTERS));
        prop_assert!(judged(&with_value(&a), &with_value(&b), &messages), "{a}\n{b}");
        prop_assert!(judged(&with_value(&a), &with_value(&a), &messages), "{a}");
    }
}
