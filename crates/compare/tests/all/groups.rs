//! What is told of groups and wildcards that came, went, or became others.

use charter_compare::{OpenContent, Options, compare_by};

use crate::changes::contract;

/// All that is told of a type with one content and with another.
fn told(old: &str, new: &str) -> Vec<String> {
    let ty = |content: &str| contract(&format!("<x:complexType name='T'>{content}</x:complexType>"));
    let options = Options { open: OpenContent::Named, ..Options::default() };
    let report = compare_by(&ty(old), &ty(new), options);
    let words = |change: &charter_compare::Change| format!("{} {}", change.verdict.name(), change.what);
    let mut told: Vec<String> = report.changes.iter().map(words).collect();
    told.sort();
    told
}

fn element(name: &str) -> String {
    format!("<x:element name='{name}' type='x:int'/>")
}

fn sequence(content: &str) -> String {
    format!("<x:sequence>{content}</x:sequence>")
}

/// Told of `old` and `new` is one thing, and one thing of the way back.
#[track_caller]
fn one_thing(old: &str, new: &str, there: &str, back: &str) {
    assert_eq!(told(old, new), [there], "there");
    assert_eq!(told(new, old), [back], "back");
}

#[test]
fn elements_that_became_a_group_are_still_there() {
    let (first, pair, last) = (element("first"), element("berth") + &element("buoy"), element("last"));
    let group = |bounds: &str| format!("{first}<x:sequence {bounds}>{pair}</x:sequence>{last}");
    one_thing(
        &sequence(&group("")),
        &sequence(&group("minOccurs='0'")),
        "breaks the sequence of \"berth\" and \"buoy\" may now be left out",
        "breaks the sequence of \"berth\" and \"buoy\" must now be there",
    );
    one_thing(
        &sequence(&group("")),
        &sequence(&group("maxOccurs='3'")),
        "breaks the sequence of \"berth\" and \"buoy\" may be there at most 3 times now",
        "breaks the sequence of \"berth\" and \"buoy\" may no longer be repeated",
    );
    // Neither does the whole content become another, nor a group in which any order is right.
    let whole = |kind: &str, bounds: &str| format!("<x:{kind} {bounds}>{first}{pair}{last}</x:{kind}>");
    for (kind, word) in [("sequence", "sequence"), ("all", "group")] {
        one_thing(
            &whole(kind, ""),
            &whole(kind, "minOccurs='0'"),
            &format!("breaks the {word} from \"first\" to \"last\" may now be left out"),
            &format!("breaks the {word} from \"first\" to \"last\" must now be there"),
        );
    }
}

#[test]
fn a_group_in_what_became_a_group_stays_what_it_is() {
    let inner = format!(
        "<x:sequence minOccurs='0' maxOccurs='9'>{}{}</x:sequence>",
        element("berth"),
        element("buoy")
    );
    let content = inner + &element("first") + &element("last");
    one_thing(
        &sequence(&content),
        &format!("<x:sequence minOccurs='0'>{content}</x:sequence>"),
        "breaks the sequence of \"first\" and \"last\" may now be left out",
        "breaks the sequence of \"first\" and \"last\" must now be there",
    );
}

#[test]
fn an_element_that_became_one_of_several_is_still_there() {
    let (first, berth) = (element("first"), element("berth"));
    let choice = format!("<x:choice>{berth}{}{}</x:choice>", element("buoy"), element("quay"));
    assert_eq!(
        told(&sequence(&(first.clone() + &berth)), &sequence(&(first.clone() + &choice))),
        ["breaks \"buoy\" is a new alternative", "breaks \"quay\" is a new alternative"]
    );
    // How often it may be there is said where the other version says it.
    let optional = |text: &str| text.replace("type=", "minOccurs='0' type=");
    let inside = choice.replacen(&berth, &optional(&berth), 1);
    let outside = choice.replacen("<x:choice>", "<x:choice minOccurs='0'>", 1);
    for new in [inside, outside] {
        let told = told(&sequence(&(first.clone() + &optional(&berth))), &sequence(&(first.clone() + &new)));
        assert!(told.iter().all(|said| said.contains("is a new alternative")) && told.len() == 2, "{told:?}");
    }
    // So is one of the alternatives that became the first of several.
    let alone = format!("<x:choice>{first}{berth}</x:choice>");
    let more = format!("<x:choice>{first}<x:sequence>{berth}{}</x:sequence></x:choice>", element("buoy"));
    one_thing(&alone, &more, "breaks \"buoy\" is new, and must be there", "breaks \"buoy\" is gone");
}

#[test]
fn groups_that_came_or_went_are_named() {
    let first = element("first");
    let with = |bounds: &str| {
        let choice = format!("<x:choice {bounds}>{}{}</x:choice>", element("berth"), element("buoy"));
        sequence(&(first.clone() + &choice))
    };
    let gone = "breaks the choice of \"berth\" and \"buoy\" is gone";
    let without = sequence(&first);
    one_thing(
        &without,
        &with(""),
        "breaks the choice of \"berth\" and \"buoy\" is new, and must be there",
        gone,
    );
    let optional = with("minOccurs='0'");
    one_thing(
        &without,
        &optional,
        "bends the choice of \"berth\" and \"buoy\" is new, and may be left out",
        gone,
    );
    let pair = sequence(&(element("berth") + &element("buoy")));
    let alternatives = |more: &str| format!("<x:choice>{first}{}{more}</x:choice>", element("last"));
    one_thing(
        &alternatives(""),
        &alternatives(&pair),
        "breaks the sequence of \"berth\" and \"buoy\" is a new alternative",
        "breaks the sequence of \"berth\" and \"buoy\" is gone",
    );
}

#[test]
fn a_group_that_became_one_of_another_sort_is_the_one_that_it_was() {
    let pair = element("berth") + &element("buoy");
    let (first, last) = (element("first"), element("last"));
    let of = |kind: &str| sequence(&format!("{first}<x:{kind}>{pair}</x:{kind}>{last}"));
    one_thing(
        &of("sequence"),
        &of("choice"),
        "breaks the sequence of \"berth\" and \"buoy\" became the choice of \"berth\" and \"buoy\"",
        "breaks the choice of \"berth\" and \"buoy\" became the sequence of \"berth\" and \"buoy\"",
    );
}

#[test]
fn of_several_groups_each_is_compared_with_itself() {
    let choice =
        |names: [&str; 2]| format!("<x:choice>{}{}</x:choice>", element(names[0]), element(names[1]));
    let (a, b, c) = (choice(["a", "b"]), choice(["c", "d"]), choice(["e", "f"]));
    // One came before the others, and one of them has an alternative more.
    let more = b.replace("</x:choice>", &(element("g") + "</x:choice>"));
    assert_eq!(
        told(&sequence(&(a.clone() + &b)), &sequence(&(c + &a + &more))),
        [
            "breaks \"g\" is a new alternative",
            "breaks the choice of \"e\" and \"f\" is new, and must be there"
        ]
    );
    assert_eq!(
        told(&sequence(&(a.clone() + &b)), &sequence(&(b + &a))),
        ["breaks its elements stand in another order"]
    );
}

#[test]
fn wildcards_that_came_or_went_are_not_their_neighbours() {
    let any = "<x:any namespace='##other' processContents='skip' minOccurs='0'/>";
    let first = element("first");
    one_thing(
        &sequence(&first),
        &sequence(&(first.clone() + any)),
        "bends a wildcard is new: other elements may stand there",
        "breaks a wildcard is gone: no other elements may stand there",
    );
    // Of two wildcards, each is compared with the one like it.
    let (other, local) = (any, any.replace("##other", "##local"));
    one_thing(
        &sequence(&(first.clone() + other)),
        &sequence(&(local + &first + other)),
        "bends a wildcard is new: other elements may stand there",
        "breaks a wildcard is gone: no other elements may stand there",
    );
    // What is refused because the wildcard is gone is not charged to an element that is still there.
    let (berth, buoy) = (element("berth"), element("buoy"));
    let choice = format!("<x:choice>{berth}{buoy}</x:choice>");
    assert_eq!(
        told(
            &sequence(&(choice.clone() + any)),
            &sequence(&choice.replace("<x:choice>", "<x:choice minOccurs='0'>"))
        ),
        [
            "breaks a wildcard is gone: no other elements may stand there",
            "breaks the choice of \"berth\" and \"buoy\" may now be left out"
        ]
    );
}
