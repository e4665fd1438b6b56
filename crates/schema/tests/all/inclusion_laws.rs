//! Whether one schema is within another, against all short instances: of content models, all sequences of a few elements; of
//! values, all texts of a few characters; of attributes, all sets; of derived types, all names.

use crate::included::{Found, asked, files};
use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay};
use proptest::prelude::*;
use proptest::test_runner::RngSeed;

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
    let load = |content: String| message(&format!("<t:r xmlns:t='urn:t'>{content}</t:r>"));
    contents.into_iter().map(load).collect()
}

fn message(text: &str) -> Files {
    Files::load(&Overlay::of(&[("m.xml", text)]), &Location::from_argument("m.xml"), Limits::default())
        .unwrap()
}

/// Whether each element has one particle to be judged by.
fn is_unambiguous(schema: &str) -> bool {
    let files = files(schema);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    Engine::new(&files, &schemas).judge().iter().all(|fault| fault.rule != "cos-nonambig")
}

/// What is said of two schemas must be so for all messages; whether it was said at all.
fn assessment(sub: &str, sup: &str, messages: &[Files]) -> bool {
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

/// Attributes of an element without content: three of its own, and perhaps a wildcard.
fn attributes() -> impl Strategy<Value = String> {
    let ty = prop_oneof![
        Just((
            "1",
            "<x:simpleType><x:restriction base='x:int'><x:maxInclusive value='1'/></x:restriction></x:simpleType>"
        )),
        Just((
            "x",
            "<x:simpleType><x:restriction base='x:string'><x:maxLength value='1'/></x:restriction></x:simpleType>"
        )),
        Just((
            "2",
            "<x:simpleType><x:restriction base='x:token'><x:enumeration value='2'/><x:enumeration value='x'/></x:restriction></x:simpleType>"
        )),
        Just(("1", "<x:simpleType><x:list itemType='x:int'/></x:simpleType>")),
    ];
    let stated = prop_oneof![
        4 => Just(""),
        1 => Just(" use='required'"),
        1 => Just(" fixed='V'"),
        1 => Just(" use='required' fixed='V'"),
        1 => Just(" default='V'"),
    ];
    let one = prop::option::weighted(0.7, (ty, stated));
    let wildcard = prop::option::weighted(
        0.3,
        (
            prop_oneof![Just("##any"), Just("##local"), Just("##other"), Just("urn:u ##local")],
            prop_oneof![Just("skip"), Just("lax"), Just("strict")],
        ),
    );
    (prop::collection::vec(one, 3), wildcard).prop_map(|(all, wildcard)| {
        let mut text = String::new();
        for (name, one) in ["a", "b", "c"].iter().zip(all) {
            if let Some(((value, ty), stated)) = one {
                let stated = stated.replace('V', value);
                text += &format!("<x:attribute name='{name}'{stated}>{ty}</x:attribute>");
            }
        }
        if let Some((namespace, process)) = wildcard {
            text += &format!("<x:anyAttribute namespace='{namespace}' processContents='{process}'/>");
        }
        format!("<x:element name='r'><x:complexType>{text}</x:complexType></x:element>")
    })
}

/// All elements with each of three attributes left out or of one of some values, and perhaps one of elsewhere.
fn with_attributes() -> Vec<Files> {
    let values = ["", "1", "2", "x"];
    let mut all = vec![String::new(), " u:d='1' xmlns:u='urn:u'".to_owned()];
    for name in ["a", "b", "c"] {
        let with = |before: &String| -> Vec<String> {
            let one = |value: &&str| format!("{before} {name}='{value}'");
            std::iter::once(before.clone()).chain(values.iter().map(one)).collect()
        };
        all = all.iter().flat_map(with).collect();
    }
    all.into_iter().map(|attributes| message(&format!("<t:r xmlns:t='urn:t'{attributes}/>"))).collect()
}

/// What lets in what nobody declared, among declared elements.
fn open_particle() -> impl Strategy<Value = String> {
    let occurs = || prop_oneof![3 => Just(""), 1 => Just(" minOccurs='0'"), 1 => Just(" maxOccurs='2'"), 1 => Just(" minOccurs='0' maxOccurs='unbounded'")];
    let namespace = prop_oneof![
        Just("##any"),
        Just("##other"),
        Just("##targetNamespace"),
        Just("##local"),
        Just("urn:u ##local")
    ];
    let process = prop_oneof![Just("skip"), Just("lax"), Just("strict")];
    let any = (namespace, process, occurs()).prop_map(|(namespace, process, occurs)| {
        format!("<x:any namespace='{namespace}' processContents='{process}'{occurs}/>")
    });
    let declared = (prop_oneof![Just("t:g"), Just("t:h")], occurs())
        .prop_map(|(name, occurs)| format!("<x:element ref='{name}'{occurs}/>"));
    let leaf = prop_oneof![2 => any, 3 => declared];
    leaf.prop_recursive(2, 6, 3, move |inner| {
        (prop_oneof![Just("sequence"), Just("choice")], prop::collection::vec(inner, 1..4), occurs())
            .prop_map(|(group, members, occurs)| {
                format!("<x:{group}{occurs}>{}</x:{group}>", members.concat())
            })
    })
}

fn with_open_content(particle: &str) -> String {
    format!(
        "<x:element name='g' type='x:int'/><x:element name='h' type='x:string'/><x:element name='r'><x:complexType><x:sequence>{particle}</x:sequence></x:complexType></x:element>"
    )
}

/// The content of an all-group or of what may be within one.
fn any_order() -> impl Strategy<Value = String> {
    let group = prop_oneof![4 => Just("all"), 1 => Just("sequence"), 1 => Just("choice")];
    let members = prop::collection::vec((0..4usize, prop::bool::ANY), 1..4);
    (group, members, prop::bool::ANY).prop_map(|(group, members, optional)| {
        let mut seen = Vec::new();
        let mut text = String::new();
        for (name, may_miss) in members {
            if group == "all" && seen.contains(&name) {
                continue;
            }
            seen.push(name);
            let occurs = if may_miss { " minOccurs='0'" } else { "" };
            text += &format!("<x:element name='{}' type='t:E'{occurs}/>", ["a", "b", "c", "d"][name]);
        }
        let occurs = if optional { " minOccurs='0'" } else { "" };
        format!(
            "<x:complexType name='E'/><x:element name='r'><x:complexType><x:{group}{occurs}>{text}</x:{group}></x:complexType></x:element>"
        )
    })
}

/// A declaration whose type has derived ones, and what it says of them.
fn derivation() -> impl Strategy<Value = String> {
    let flag = |name: &'static str| prop::bool::weighted(0.2).prop_map(move |is| if is { name } else { "" });
    let block = || prop_oneof![4 => Just(""), 1 => Just(" block='extension'"), 1 => Just(" block='restriction'"), 1 => Just(" block='#all'")];
    let field = |name: &str, optional: bool| {
        let occurs = if optional { " minOccurs='0'" } else { "" };
        format!("<x:element name='{name}' type='t:E'{occurs}/>")
    };
    (
        (flag(" nillable='true'"), block(), prop::bool::ANY),
        (flag(" abstract='true'"), block(), flag(" abstract='true'")),
        (prop::bool::ANY, prop::bool::ANY, prop::bool::ANY),
    )
        .prop_map(move |((nil, blocked, optional), (base_abstract, base_blocked, more_abstract), (more, less, own))| {
            let mut text = format!(
                "<x:complexType name='E'/><x:complexType name='B'{base_abstract}{base_blocked}><x:sequence>{}</x:sequence></x:complexType>",
                field("a", optional)
            );
            if more {
                text += &format!(
                    "<x:complexType name='More'{more_abstract}><x:complexContent><x:extension base='t:B'><x:sequence>{}</x:sequence></x:extension></x:complexContent></x:complexType>",
                    field("b", own)
                );
            }
            if less {
                text += &format!(
                    "<x:complexType name='Less'><x:complexContent><x:restriction base='t:B'><x:sequence>{}</x:sequence></x:restriction></x:complexContent></x:complexType>",
                    field("a", optional && own)
                );
            }
            format!("{text}<x:element name='r' type='t:B'{nil}{blocked}/>")
        })
}

/// All ways to name a type and to be nil, with all short contents.
fn with_types() -> Vec<Files> {
    let mut all = Vec::new();
    for named in ["", " i:type='t:B'", " i:type='t:More'", " i:type='t:Less'"] {
        for nil in ["", " i:nil='true'", " i:nil='0'"] {
            for content in ["", "<t:a/>", "<t:a/><t:b/>", "<t:b/>", "<t:a/><t:a/>"] {
                all.push(message(&format!(
                    "<t:r xmlns:t='urn:t' xmlns:i='http://www.w3.org/2001/XMLSchema-instance'{named}{nil}>{content}</t:r>"
                )));
            }
        }
    }
    all
}

/// A head and what may stand for it.
fn substitution() -> impl Strategy<Value = String> {
    let member =
        || (prop::bool::weighted(0.8), prop_oneof![Just("t:h"), Just("t:m")], prop::bool::weighted(0.2));
    let occurs = prop_oneof![Just(""), Just(" minOccurs='0'"), Just(" maxOccurs='2'")];
    (member(), member(), prop::bool::weighted(0.2), prop_oneof![4 => Just(""), 1 => Just(" block='substitution'"), 1 => Just(" block='restriction'")], occurs)
        .prop_map(|((first, _, first_abstract), (second, of, second_abstract), head_abstract, block, occurs)| {
            let is_abstract = |is: bool| if is { " abstract='true'" } else { "" };
            let mut text = format!("<x:element name='h' type='x:int'{}{block}/>", is_abstract(head_abstract));
            // What nobody else stands for is declared all the same, so that it is known.
            let stands = if first { " substitutionGroup='t:h'" } else { "" };
            text += &format!("<x:element name='m' type='x:int'{stands}{}/>", is_abstract(first_abstract));
            let stands = if second { format!(" substitutionGroup='{of}'") } else { String::new() };
            text += &format!("<x:element name='n' type='x:short'{stands}{}/>", is_abstract(second_abstract));
            format!(
                "{text}<x:element name='r'><x:complexType><x:sequence><x:element ref='t:h'{occurs}/></x:sequence></x:complexType></x:element>"
            )
        })
}

/// An element with each kind of content, that may be nil, fixed or have a default.
fn kind_of_content() -> impl Strategy<Value = String> {
    let kinds = prop_oneof![
        Just(" type='x:int'/>"),
        Just(" type='x:string'/>"),
        Just(" type='x:token'/>"),
        Just("/>"),
        Just(" type='x:anySimpleType'/>"),
        Just("><x:complexType/></x:element>"),
        Just("><x:complexType mixed='true'/></x:element>"),
        Just(
            "><x:complexType><x:simpleContent><x:extension base='x:int'><x:attribute name='a' type='x:int'/></x:extension></x:simpleContent></x:complexType></x:element>"
        ),
        Just(
            "><x:complexType><x:simpleContent><x:extension base='x:string'/></x:simpleContent></x:complexType></x:element>"
        ),
        Just(
            "><x:complexType mixed='true'><x:sequence><x:element ref='t:g' minOccurs='0'/></x:sequence></x:complexType></x:element>"
        ),
        Just(
            "><x:complexType mixed='true'><x:sequence><x:element ref='t:g'/></x:sequence></x:complexType></x:element>"
        ),
        Just(
            "><x:complexType><x:sequence><x:element ref='t:g' minOccurs='0'/></x:sequence></x:complexType></x:element>"
        ),
        Just(
            "><x:complexType><x:sequence><x:any processContents='lax'/></x:sequence></x:complexType></x:element>"
        ),
    ];
    let stated = prop_oneof![4 => Just(""), 1 => Just(" fixed='1'"), 1 => Just(" default='1'"), 1 => Just(" fixed=''")];
    (kinds, stated, prop::bool::weighted(0.3)).prop_map(|(kind, stated, nil)| {
        let nil = if nil { " nillable='true'" } else { "" };
        format!("<x:element name='g' type='x:int'/><x:element name='r'{nil}{stated}{kind}")
    })
}

/// All contents of a few kinds, with and without an attribute, nil and not.
fn with_contents() -> Vec<Files> {
    let mut all = Vec::new();
    for attribute in ["", " a='1'", " a='x'", " z='1'"] {
        for nil in ["", " i:nil='true'", " i:nil='false'"] {
            for content in [
                "",
                " ",
                "1",
                " 1 ",
                "01",
                "x",
                "<t:g>1</t:g>",
                "<t:g>x</t:g>",
                "1<t:g>1</t:g>",
                "<t:z/>",
                "<t:g>1</t:g>1",
            ] {
                all.push(message(&format!(
                    "<t:r xmlns:t='urn:t' xmlns:i='http://www.w3.org/2001/XMLSchema-instance'{attribute}{nil}>{content}</t:r>"
                )));
            }
        }
    }
    all
}

/// Whether a schema says nothing that makes no sense.
fn is_sound(schema: &str) -> bool {
    let files = files(schema);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    schemas.faults().is_empty() && Engine::new(&files, &schemas).judge().is_empty()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 100, max_global_rejects: 10_000, failure_persistence: None, rng_seed: RngSeed::Fixed(7), ..ProptestConfig::default() })]

    #[test]
    fn contents_are_within_as_all_short_sequences_say(a in particle(), b in particle()) {
        let elements = ["<t:a xmlns:t='urn:t'/>", "<t:b xmlns:t='urn:t'/>", "<t:c xmlns:t='urn:t'/>"];
        let messages = messages(all(&elements, ELEMENTS));
        prop_assert!(assessment(&with_content(&a), &with_content(&b), &messages), "{a}\n{b}");
        prop_assert!(assessment(&with_content(&a), &with_content(&a), &messages), "{a}");
    }

    #[test]
    fn values_are_within_as_all_short_texts_say(a in simple(), b in simple()) {
        let messages = messages(all(&["a", "b", "1", "0", "-", "+", ".", " "], CHARACTERS));
        prop_assert!(assessment(&with_value(&a), &with_value(&b), &messages), "{a}\n{b}");
        prop_assert!(assessment(&with_value(&a), &with_value(&a), &messages), "{a}");
    }

    #[test]
    fn attributes_are_within_as_all_sets_of_them_say(a in attributes(), b in attributes()) {
        let messages = with_attributes();
        prop_assert!(assessment(&a, &b, &messages), "{a}\n{b}");
        prop_assert!(assessment(&a, &a, &messages), "{a}");
    }

    #[test]
    fn what_wildcards_let_in_is_within_as_all_short_sequences_say(a in open_particle(), b in open_particle()) {
        let elements = [
            "<t:g xmlns:t='urn:t'>1</t:g>",
            "<t:g xmlns:t='urn:t'>x</t:g>",
            "<t:h xmlns:t='urn:t'/>",
            "<t:z xmlns:t='urn:t'/>",
            "<z xmlns='urn:u'/>",
            "<z xmlns=''/>",
        ];
        let (a, b) = (with_open_content(&a), with_open_content(&b));
        // Where a wildcard and an element compete, it is nobody's guess how an element is judged.
        prop_assume!(is_unambiguous(&a) && is_unambiguous(&b));
        let messages = messages(all(&elements, 3));
        prop_assert!(assessment(&a, &b, &messages), "{a}\n{b}");
        prop_assert!(assessment(&a, &a, &messages), "{a}");
    }

    #[test]
    fn any_order_is_within_as_all_short_sequences_say(a in any_order(), b in any_order()) {
        let elements =
            ["<t:a xmlns:t='urn:t'/>", "<t:b xmlns:t='urn:t'/>", "<t:c xmlns:t='urn:t'/>", "<t:d xmlns:t='urn:t'/>"];
        let messages = messages(all(&elements, 4));
        prop_assert!(assessment(&a, &b, &messages), "{a}\n{b}");
        prop_assert!(assessment(&a, &a, &messages), "{a}");
    }

    #[test]
    fn derived_types_are_within_as_all_their_names_say(a in derivation(), b in derivation()) {
        let messages = with_types();
        prop_assert!(assessment(&a, &b, &messages), "{a}\n{b}");
        prop_assert!(assessment(&a, &a, &messages), "{a}");
    }

    #[test]
    fn substitutes_are_within_as_all_short_sequences_say(a in substitution(), b in substitution()) {
        let elements = [
            "<t:h xmlns:t='urn:t'>1</t:h>",
            "<t:m xmlns:t='urn:t'>1</t:m>",
            "<t:n xmlns:t='urn:t'>1</t:n>",
            "<t:m xmlns:t='urn:t'>40000</t:m>",
        ];
        let messages = messages(all(&elements, 3));
        prop_assert!(assessment(&a, &b, &messages), "{a}\n{b}");
        prop_assert!(assessment(&a, &a, &messages), "{a}");
    }

    #[test]
    fn kinds_of_content_are_within_as_all_short_contents_say(a in kind_of_content(), b in kind_of_content()) {
        prop_assume!(is_sound(&a) && is_sound(&b));
        let messages = with_contents();
        // Where a value is stated, there may be no message that shows what the types alone would.
        let stated = |schema: &str| schema.contains("fixed") || schema.contains("default");
        prop_assert!(assessment(&a, &b, &messages) || stated(&a) || stated(&b), "{a}\n{b}");
        prop_assert!(assessment(&a, &a, &messages), "{a}");
    }
}
