//! What a change says: the words of each kind of statement, and the facts that its mark is made of.

use charter_compare::what::{
    Bounds, Differences, Digits, End, Files, GroupOf, InPlace, Length, Media, Missing, Occurrence, Occurring,
    OneOf, Renaming, Thing, Unit, Values,
};
use charter_compare::{Doubt, What};
use charter_schema::{Builtin, Compositor, Occurs, Undecided};
use charter_source::QName;

fn texts(all: &[&str]) -> Vec<String> {
    all.iter().map(|text| (*text).to_owned()).collect()
}

fn renamed(thing: Thing, was: (&str, &str), is: (&str, &str)) -> What {
    What::Renamed { renaming: Renaming { thing, was: QName::new(was.0, was.1), is: QName::new(is.0, is.1) } }
}

#[test]
fn names_are_said_with_what_they_name() {
    let (a, b) = ("urn:saltmere:a", "urn:saltmere:b");
    for (what, words) in [
        (renamed(Thing::Member, (a, "quay"), (a, "pier")), "\"quay\" is now \"pier\""),
        (renamed(Thing::Attribute, ("", "unit"), ("", "units")), "\"@unit\" is now \"@units\""),
        (renamed(Thing::Type, (a, "Quay"), (a, "Pier")), "the type \"Quay\" is now \"Pier\""),
        (renamed(Thing::Header, (a, "pass"), (a, "seal")), "the header \"pass\" is now \"seal\""),
        (
            renamed(Thing::Element, (a, "quay"), (b, "quay")),
            "the element \"quay\" moved from the namespace \"urn:saltmere:a\" to \"urn:saltmere:b\"",
        ),
        (
            renamed(Thing::Attribute, ("", "unit"), (b, "unit")),
            "\"@unit\" moved from the namespace \"\" to \"urn:saltmere:b\"",
        ),
        (What::ComponentGone { thing: Thing::Port, name: "Desk".into() }, "the port \"Desk\" is gone"),
        (
            What::NameInCode { thing: Thing::PortType, from: "Tides".into(), to: "Tide".into() },
            "the port type \"Tides\" is now \"Tide\"",
        ),
    ] {
        assert_eq!(what.to_string(), words);
    }
}

#[test]
fn only_a_name_that_kept_its_local_part_moved() {
    let moved = renamed(Thing::Member, ("urn:a", "quay"), ("urn:b", "quay"));
    let (was, is) = moved.as_move().unwrap();
    assert_eq!((&*was.namespace, &*is.namespace), ("urn:a", "urn:b"));
    assert!(renamed(Thing::Member, ("urn:a", "quay"), ("urn:a", "pier")).as_move().is_none());
    assert!(What::PatternOther {}.as_move().is_none());
    let renaming =
        Renaming { thing: Thing::Type, was: QName::new("urn:a", "T"), is: QName::new("urn:b", "T") };
    let in_place = What::RenamedInPlace { renaming, also: InPlace { renamed: false } };
    assert!(in_place.as_move().is_some() && !in_place.to_string().contains("in its place"));
}

#[test]
fn occurrences_are_said_as_a_person_says_them() {
    let said = |was: (u32, Option<u32>), is: (u32, Option<u32>)| {
        let of = |(min, max)| Occurs { min, max };
        let change = Occurrence { was: of(was), is: of(is) };
        What::Occurs { what: Occurring::Element("tug".into()), change }.to_string()
    };
    for (was, is, words) in [
        ((0, Some(1)), (1, Some(1)), "\"tug\" must now be there"),
        ((1, Some(1)), (0, Some(1)), "\"tug\" may now be left out"),
        ((1, Some(1)), (1, None), "\"tug\" may now be repeated without end"),
        ((1, None), (1, Some(1)), "\"tug\" may no longer be repeated"),
        ((1, Some(1)), (1, Some(2)), "\"tug\" may be there at most twice now"),
        ((1, Some(9)), (3, Some(9)), "\"tug\" must be there 3 times, not once"),
        ((0, Some(1)), (1, None), "\"tug\" must now be there and may now be repeated without end"),
    ] {
        assert_eq!(said(was, is), words);
    }
    let group = |what| {
        let change = Occurrence { was: Occurs { min: 0, max: Some(1) }, is: Occurs::ONCE };
        What::Occurs { what, change }.to_string()
    };
    for (names, words) in [
        (&[][..], "the choice must now be there"),
        (&["tug"], "the choice of \"tug\" must now be there"),
        (&["tug", "pilot"], "the choice of \"tug\" and \"pilot\" must now be there"),
        (&["tug", "pilot", "buoy"], "the choice from \"tug\" to \"buoy\" must now be there"),
    ] {
        let names = names.iter().map(|name| (*name).to_owned()).collect();
        assert_eq!(group(Occurring::Group(GroupOf { compositor: Compositor::Choice, names })), words);
    }
    assert_eq!(group(Occurring::Wildcard), "the wildcard must now be there");
}

#[test]
fn lengths_are_counted_in_what_they_count() {
    let said = |end, tighter, now, unit| match end {
        End::From => What::LengthLeast { length: Length { end, tighter, now, unit } }.to_string(),
        End::UpTo => What::LengthMost { length: Length { end, tighter, now, unit } }.to_string(),
    };
    for (said, words) in [
        (said(End::From, true, Some(1), Unit::Characters), "the value must have at least 1 character now"),
        (said(End::From, true, Some(4), Unit::Items), "the value must have at least 4 items now"),
        (said(End::From, false, Some(0), Unit::Bytes), "the value may be empty now"),
        (said(End::From, false, Some(2), Unit::Bytes), "the value need have only 2 bytes now"),
        (said(End::UpTo, true, Some(7), Unit::Characters), "the value must have at most 7 characters now"),
        (said(End::UpTo, false, Some(9), Unit::Characters), "the value may have up to 9 characters now"),
        (said(End::UpTo, false, None, Unit::Items), "the value may be of any length now"),
    ] {
        assert_eq!(said, words);
    }
}

#[test]
fn ranges_digits_and_values() {
    let bounds = |end, inclusive, was: Option<&str>| What::RangeOther {
        bounds: Bounds { end, now: "30".into(), inclusive, was: was.map(str::to_owned) },
    };
    for (what, words) in [
        (bounds(End::UpTo, true, None), "the value may now go up to 30"),
        (bounds(End::UpTo, true, Some("20")), "the value may now go up to 30, not 20"),
        (bounds(End::From, false, None), "the value may now go from 30, but not that itself"),
        (What::RangeFree { end: End::From, was: "0".into() }, "the value need no longer stay from 0"),
        (
            What::DigitsFewer { count: 2, of: Digits::Fraction },
            "the value may now have 2 digits after the point at most",
        ),
        (What::DigitsMore { of: Digits::All }, "the value may now have more digits"),
        (What::ValuesGone { values: Values(texts(&["north"])) }, "\"north\" is no longer allowed"),
        (
            What::ValuesOnly { values: Values(texts(&["north", "south"])) },
            "only \"north\", \"south\" are allowed now",
        ),
        (
            What::BuiltinOther { was: OneOf(Builtin::Int), is: OneOf(Builtin::Decimal) },
            "the value was an int and is a decimal",
        ),
        (
            What::DefaultNow { name: "@unit".into(), value: "m".into(), where_it: Missing::LeftOut },
            "\"@unit\" now means \"m\" where it is left out",
        ),
        (
            What::DefaultOther {
                name: "unit".into(),
                was: "m".into(),
                is: "ft".into(),
                where_it: Missing::Empty,
            },
            "\"unit\" means \"ft\" where it is empty, no longer \"m\"",
        ),
        (
            What::MediaTypes {
                part: "chart".into(),
                was: Media(texts(&["image/png"])),
                is: Media(texts(&["image/png", "image/svg+xml"])),
            },
            "the part \"chart\" was image/png and is image/png or image/svg+xml",
        ),
    ] {
        assert_eq!(what.to_string(), words);
    }
}

#[test]
fn files_that_are_missing_are_named_until_there_are_too_many() {
    let said =
        |files: &[&str], places| What::NotRead { files: Files { files: texts(files), places } }.to_string();
    let rest = "could not be read, so what leads there could not be compared";
    assert_eq!(said(&["a.xsd"], 1), format!("a.xsd {rest}"));
    assert_eq!(
        said(&["a.xsd", "b.xsd", "c.xsd", "d.xsd", "e.xsd"], 9),
        format!("a.xsd, b.xsd, c.xsd and 2 more {rest}")
    );
    assert!(said(&[], 1).starts_with("something that this refers to is not there"));
    assert!(said(&[], 7).starts_with("in 7 places something is referred to"));
}

#[test]
fn of_many_differences_the_first_are_told() {
    let all = vec![
        What::PatternOther {},
        What::NilNow { name: "tug".into() },
        What::AnyOrder {},
        What::OrderOther {},
    ];
    let what = What::TypeOther { was: "Tide".into(), is: "Window".into(), how: Differences { all } };
    assert_eq!(
        what.to_string(),
        "it is of type Window now, not Tide: the pattern is another; \"tug\" may now be nil; the elements may now come in any order; and 1 more"
    );
    // But all of them are facts.
    assert!(what.facts()[2].contains("order-other"), "{:?}", what.facts());
}

#[test]
fn doubts_have_words_and_names_of_their_own() {
    let doubts = [
        Doubt::NotCompared,
        Doubt::NoExample,
        Doubt::NoMessage,
        Doubt::Schemas(Undecided::Unread),
        Doubt::Schemas(Undecided::ManyWays),
        Doubt::Schemas(Undecided::Prefixes),
    ];
    let said: std::collections::BTreeSet<String> =
        doubts.iter().map(|doubt| What::NotDecided { doubt: *doubt }.to_string()).collect();
    let facts: std::collections::BTreeSet<Vec<String>> =
        doubts.iter().map(|doubt| What::NotDecided { doubt: *doubt }.facts()).collect();
    assert_eq!((said.len(), facts.len()), (doubts.len(), doubts.len()));
}

#[test]
fn facts_hold_what_the_words_leave_out_and_nothing_of_the_words() {
    let action = |is: &str| What::Action { was: Some("a".into()), is: Some(is.into()) };
    assert_eq!(action("b").to_string(), action("c").to_string());
    assert_ne!(action("b").facts(), action("c").facts());
    assert_eq!(action("b").id(), "action");
    let none = What::Action { was: None, is: Some("-".into()) };
    assert_eq!(none.facts(), ["-", "=-"]);
    // Why one version has no wire shape is told by words that may change.
    let unshaped = |words: &str| What::NotCompared { reason: charter_compare::what::Unsaid(words.into()) };
    assert_eq!(unshaped("one").facts(), unshaped("another").facts());
    assert_ne!(unshaped("one").to_string(), unshaped("another").to_string());
}
