//! Notation that is nested deep, torn, or changed by chance: it is read, or its errors stand where they belong.

use charter_contract::Contract;
use charter_notation::{Convention, NotationError, Prefixes, info_of, read, text_of};
use charter_source::{Disk, Limits, Location};

fn errors(text: &str) -> Vec<NotationError> {
    match read(text, &Convention::default()) {
        Ok(_) => Vec::new(),
        Err(errors) => errors,
    }
}

/// The notation of a contract of the demo.
fn demo(file: &str) -> String {
    let path = format!("{}/../cli/demo/{file}", env!("CARGO_MANIFEST_DIR"));
    let contract = Contract::load(&Disk, &Location::Path(path.into()), Limits::default()).unwrap();
    text_of(&info_of(&contract), &Prefixes::of(&contract), &Convention::default())
}

/// A contract with this content.
fn contract(content: &str) -> String {
    format!("contract Tides \"urn:saltmere:tides:1\" {{\n{content}\n}}\n")
}

/// What is written is what was read, laid out canonically.
#[track_caller]
fn settles(text: &str) -> String {
    let convention = Convention::default();
    let first = read(text, &convention).unwrap_or_else(|errors| panic!("{errors:#?}\n{text}"));
    let written = text_of(&first.info, &first.prefixes, &convention);
    let second = read(&written, &convention).unwrap_or_else(|errors| panic!("{errors:#?}\n{written}"));
    assert_eq!(text_of(&second.info, &second.prefixes, &convention), written);
    written
}

#[test]
fn types_within_types_keep_their_depth() {
    for depth in [1, 2, 10, 60] {
        let open: String = (0..depth).map(|at| format!("level{at}: {{ ")).collect();
        let text = contract(&format!("type Nest {{ {open}height: decimal {}}}", "} ".repeat(depth)));
        let written = settles(&text);
        for at in 0..depth {
            assert!(written.contains(&format!("level{at}: {{")), "{depth}: {written}");
        }
        assert_eq!(written.matches("height: decimal").count(), 1);
    }
}

#[test]
fn nesting_without_end_is_refused_and_does_no_harm() {
    for depth in [600, 20_000, 100_000] {
        let text = contract(&format!("type Nest {{ {} }}", "level: { ".repeat(depth)));
        assert!(!errors(&text).is_empty(), "{depth}");
        let closed =
            contract(&format!("type Nest {{ {} a: int {} }}", "level: { ".repeat(depth), "} ".repeat(depth)));
        // It is too deep, or it is read; in neither case does anything break.
        let _ = errors(&closed);
    }
}

#[test]
fn a_text_that_is_torn_anywhere_says_where() {
    let text = demo("v1/pilotage.wsdl");
    let mut torn = 0;
    for at in (0..text.len()).step_by(61).filter(|at| text.is_char_boundary(*at)) {
        for error in errors(&text[..at]) {
            torn += 1;
            assert!((error.span.start as usize) <= at, "{at}: {}", error.message);
            assert!(!error.message.is_empty(), "{at}");
        }
    }
    assert!(torn > 50, "{torn}");
    assert!(errors(&text).is_empty());
}

#[test]
fn a_text_without_one_of_its_characters_is_read_or_refused() {
    let text = demo("draft/towage.wsdl");
    let (mut read, mut refused) = (0, 0);
    for at in
        (0..text.len()).step_by(7).filter(|at| text.is_char_boundary(*at) && text.is_char_boundary(at + 1))
    {
        let changed = format!("{}{}", &text[..at], &text[at + 1..]);
        let found = errors(&changed);
        match found.is_empty() {
            true => read += 1,
            false => refused += 1,
        }
        assert!(found.iter().all(|error| (error.span.end as usize) <= changed.len() + 1), "{at}");
    }
    assert!(read > 10 && refused > 10, "{read} {refused}");
}

#[test]
fn a_text_with_a_stranger_in_it_is_read_or_refused() {
    let text = demo("v1/vessel.xsd");
    for stranger in
        ["{", "}", "\"", "<", "&", ":", ",", "xml ", "type ", "\u{0}", "é", "\\", "@", "\n", "..", "="]
    {
        for at in (0..text.len()).step_by(97).filter(|at| text.is_char_boundary(*at)) {
            let changed = format!("{}{stranger}{}", &text[..at], &text[at..]);
            for error in errors(&changed) {
                assert!(
                    (error.span.start as usize) <= changed.len(),
                    "{stranger:?} at {at}: {}",
                    error.message
                );
            }
        }
    }
}

#[test]
fn every_error_says_what_was_expected() {
    for (content, words) in [
        ("type", "name"),
        ("type = 4", "name"),
        ("type A {", "}"),
        ("type A { b: }", "type"),
        ("type A { : int }", ""),
        ("type A { b: int! }", ""),
        ("type A = string one-of", ""),
        ("type A = string range", ""),
        ("type A = string like", ""),
        ("type A { b: \"int\" }", "type"),
        ("operation", "name"),
        ("operation ask { output { a: int }", ""),
        ("operation ask { fault { a: int } }", "name"),
        ("operation ask { header }", ""),
        ("binding", "name"),
        ("binding B = soap 1.3 document literal", ""),
        ("service", "name"),
        ("service S { port }", "name"),
        ("service S { port P = }", ""),
        ("about", ""),
        ("about 4", ""),
        ("prefix = \"urn:a\"", ""),
        ("nonsense here", ""),
        ("xml <a>", ""),
        ("xml <a></b>", ""),
    ] {
        let text = contract(content);
        let found = errors(&text);
        assert!(!found.is_empty(), "{content}");
        let said: String = found
            .iter()
            .map(|error| format!("{} {}", error.message, error.help.as_deref().unwrap_or("")))
            .collect();
        assert!(said.contains(words), "{content}: {said}");
    }
}

#[test]
fn one_error_does_not_hide_the_next() {
    let text = contract("type A { b: int! }\ntype C { d: int! }\ntype E { f: int }\ntype G { h: int! }");
    let lines: Vec<usize> =
        errors(&text).iter().map(|error| text[..error.span.start as usize].matches('\n').count()).collect();
    assert_eq!(lines, [1, 2, 4]);
}

#[test]
fn names_by_convention_are_left_out_and_others_are_spelled_out() {
    let text = contract(
        "operation next { input { day: date } output { height: decimal } }\n\
         binding TidesOverSoap11 = soap 1.1 document literal\n\
         service TidesService { port TidesPort = TidesOverSoap11 at \"https://tides.saltmere.example/\" }",
    );
    let written = settles(&text);
    assert!(!written.contains("port-type") && !written.contains("message "), "{written}");
    let other = text.replace("TidesOverSoap11", "TidesSoap").replace("TidesService", "Desk");
    let written = settles(&other);
    assert!(written.contains("binding TidesSoap") && written.contains("service Desk"), "{written}");
    let team = Convention { binding: "BI_*".to_owned(), service: "SV_*".to_owned(), ..Convention::default() };
    let own = text.replace("TidesOverSoap11", "BI_Tides").replace("TidesService", "SV_Tides");
    let info = read(&own, &team).unwrap();
    assert_eq!(text_of(&info.info, &info.prefixes, &team).lines().count(), settles(&text).lines().count());
}

#[test]
fn quoted_texts_come_back_whatever_is_in_them() {
    for text in [
        "plain",
        "a \\\"quote\\\"",
        "back\\\\slash",
        "größe",
        "a & b < c > d",
        "tab\\tand more",
        "{ } , : @ # = ..",
    ] {
        let notation = contract(&format!("about \"{text}\"\ntype A {{ b: int }}"));
        if errors(&notation).is_empty() {
            settles(&notation);
        } else {
            assert!(text.contains('\\'), "{text}: {:?}", errors(&notation));
        }
    }
}
