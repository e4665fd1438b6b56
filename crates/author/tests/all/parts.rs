//! Large contracts, of which only what a change can affect is read back: that is enough to find what the change breaks.

use charter_author::{
    Change, EditFailure, Editing, ReadBack, Renaming, add, edit, remove, rename, set, text_of,
};
use charter_contract::{Component, Contract};
use charter_notation::Convention;
use charter_source::{Limits, Location, Nowhere, Overlay};

/// Many berths that have nothing to do with the rest, and a few components that depend on each other.
fn contract(head: &str, rest: &str) -> String {
    let berths: String = (0..4_000)
        .map(|n| {
            format!("  <x:complexType name=\"Berth{n}\"><x:sequence><x:element name=\"depth\" type=\"x:decimal\"/></x:sequence></x:complexType>\n")
        })
        .collect();
    format!(
        "{head}<x:schema xmlns:x=\"http://www.w3.org/2001/XMLSchema\" xmlns:t=\"urn:t\" targetNamespace=\"urn:t\">\n{berths}{rest}</x:schema>\n"
    )
}

const TIDES: &str = r##"  <x:simpleType name="Level"><x:restriction base="x:int"/></x:simpleType>
  <x:complexType name="Tide"><x:sequence><x:element name="level" type="t:Level" default="3"/><x:element name="at" type="x:dateTime" minOccurs="0"/></x:sequence></x:complexType>
  <x:complexType name="HighTide"><x:complexContent><x:restriction base="t:Tide"><x:sequence><x:element name="level" type="t:Level"/></x:sequence></x:restriction></x:complexContent></x:complexType>
  <x:group name="Marks"><x:sequence><x:element name="mark" type="x:string" minOccurs="0"/></x:sequence></x:group>
  <x:complexType name="Gauge"><x:sequence><x:group ref="t:Marks"/><x:element name="reading" type="x:int"/></x:sequence></x:complexType>
  <x:element name="craft" type="x:string"/>
  <x:element name="tug" type="x:string" substitutionGroup="t:craft"/>
  <x:complexType name="Quay"><x:sequence><x:element ref="t:craft" minOccurs="0"/><x:element name="barge" type="x:string"/></x:sequence></x:complexType>
"##;

fn store(text: &str) -> Overlay<Nowhere> {
    Overlay::of(&[("port.xsd", text)])
}

fn load(text: &str) -> Contract {
    Contract::load(&store(text), &Location::from_argument("port.xsd"), Limits::default()).unwrap()
}

/// What an edit comes to, the same in part and as a whole.
fn outcome(
    text: &str,
    act: impl Fn(Editing<'_>) -> Result<Change, EditFailure>,
) -> Result<Change, EditFailure> {
    let (contract, store, convention) = (load(text), store(text), Convention::default());
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    let editing = Editing::of(&contract, &store, &convention);
    let whole = act(Editing { read_back: ReadBack::Whole, ..editing });
    let part = act(editing);
    match (&whole, &part) {
        (Ok(whole), Ok(part)) => {
            assert!(!whole.in_part);
            assert_eq!(whole.files[0].after, part.files[0].after);
            assert_eq!(whole.account, part.account);
        }
        (Err(whole), Err(part)) => assert_eq!(whole.to_string(), part.to_string()),
        _ => panic!("{whole:?}\n{part:?}"),
    }
    part
}

type Act = fn(Editing<'_>, Component) -> Result<Change, EditFailure>;

fn at<'e>(editing: Editing<'e>, path: &str) -> (Editing<'e>, Component) {
    (editing, editing.contract.find(path).unwrap())
}

#[test]
fn a_sound_change_is_read_back_in_part() {
    let text = contract("", TIDES);
    let paths: [(&str, Act); 6] = [
        ("type/Tide/at", |editing, it| set(editing, it, &[("type", "date")])),
        ("type/Berth77/depth", |editing, it| remove(editing, it, false)),
        ("type/Level", |editing, it| rename(editing, it, Renaming { name: "Pegel", only: false })),
        ("type/Gauge", |editing, it| {
            edit(editing, it, &text_of(editing, it)?.replace("reading: int", "reading: long"))
        }),
        ("type/Berth3999", |editing, it| add(editing, it, "@lit: boolean?")),
        ("contract", |editing, it| add(editing, it, "type Anchorage { in: Berth9, tide: HighTide }")),
    ];
    for (path, act) in paths {
        let change = outcome(&text, |editing| {
            let (editing, component) = at(editing, path);
            act(editing, component)
        });
        let change = change.unwrap_or_else(|error| panic!("{path}: {error}"));
        assert!(change.in_part, "{path}");
    }
}

/// Types that are derived from each other, and names by the hundred that a change meets: the part is the same as the whole.
#[test]
fn a_change_that_goes_far_is_found_as_a_whole_would_find_it() {
    let chain: String = (1..40)
        .map(|n| {
            format!("  <x:simpleType name=\"L{n}\"><x:restriction base=\"t:L{}\"/></x:simpleType>\n", n - 1)
        })
        .collect();
    let last = "  <x:complexType name=\"Log\"><x:sequence><x:element name=\"level\" type=\"t:L39\" default=\"3\"/></x:sequence></x:complexType>\n";
    let text = contract(
        "",
        &format!("  <x:simpleType name=\"L0\"><x:restriction base=\"x:int\"/></x:simpleType>\n{chain}{last}"),
    );
    let wide = outcome(&text, |editing| {
        let (editing, component) = at(editing, "type/L0");
        set(editing, component, &[("range", "..9")])
    });
    assert!(wide.unwrap().in_part);
    // Forty steps away there is a default that is no value any more.
    let narrow = outcome(&text, |editing| {
        let (editing, component) = at(editing, "type/L0");
        set(editing, component, &[("range", "..2")])
    });
    assert!(
        matches!(&narrow, Err(EditFailure::Harm(words)) if words.contains("type/Log/level")),
        "{narrow:?}"
    );
    // Names by the hundred.
    let users: String = (0..400)
        .map(|n| {
            format!(
                "  <x:complexType name=\"U{n}\"><x:complexContent><x:extension base=\"t:Root\"/></x:complexContent></x:complexType>\n  <x:complexType name=\"V{n}\"><x:complexContent><x:extension base=\"t:U{n}\"><x:sequence><x:element name=\"w\" type=\"t:U{n}\"/></x:sequence></x:extension></x:complexContent></x:complexType>\n"
            )
        })
        .collect();
    let root = "  <x:complexType name=\"Root\"><x:sequence><x:element name=\"v\" type=\"x:int\"/></x:sequence></x:complexType>\n";
    let text = contract("", &format!("{root}{users}"));
    for (field, sound) in [("depth: decimal?", true), ("w: string", false)] {
        let added = outcome(&text, |editing| {
            let (editing, component) = at(editing, "type/Root");
            add(editing, component, field)
        });
        match added {
            Ok(change) => assert!(sound && change.in_part, "{field}"),
            Err(error) => {
                assert!(!sound && error.to_string().contains("cos-element-consistent"), "{field}: {error}")
            }
        }
    }
}

#[test]
fn what_a_change_breaks_elsewhere_is_found() {
    let text = contract("", TIDES);
    let sets = [
        // A restriction elsewhere is no restriction any more.
        ("type/Tide/level", ("occurs", "2"), "type/HighTide"),
        // A default elsewhere is no value any more.
        ("type/Level", ("range", "..2"), "type/Tide/level"),
        // What a substitute is called is what another model has beside its head.
        ("element/tug", ("type", "int"), "element/tug"),
    ];
    for (path, (key, value), at_fault) in sets {
        let result = outcome(&text, |editing| {
            let (editing, component) = at(editing, path);
            set(editing, component, &[(key, value)])
        });
        let Err(EditFailure::Harm(words)) = result else { panic!("{path}: {result:?}") };
        assert!(words.contains(at_fault), "{path}: {words}");
    }
    let marks = outcome(&text, |editing| {
        let (editing, component) = at(editing, "group/Marks");
        add(editing, component, "reading: int?")
    });
    assert!(matches!(&marks, Err(EditFailure::Harm(words)) if words.contains("reading")), "{marks:?}");
    let barge = outcome(&text, |editing| {
        let (editing, component) = at(editing, "contract");
        add(editing, component, "element barge: string substitutes craft")
    });
    assert!(barge.is_err(), "{barge:?}");
    for (path, uses) in [("type/Level", 2), ("group/Marks", 1), ("element/craft", 2)] {
        let used = outcome(&text, |editing| {
            let (editing, component) = at(editing, path);
            remove(editing, component, false)
        });
        assert!(matches!(&used, Err(EditFailure::Used(found)) if found.len() == uses), "{path}: {used:?}");
    }
    let taken = outcome(&text, |editing| {
        let (editing, component) = at(editing, "type/Tide");
        rename(editing, component, Renaming { name: "Berth123", only: false })
    });
    assert!(matches!(taken, Err(EditFailure::Taken(_))), "{taken:?}");
}

#[test]
fn what_cannot_be_read_in_part_is_read_as_a_whole() {
    let numbered = TIDES.replace("base=\"t:Tide\"", "base=\"t:T&#105;de\"");
    let texts = [
        ("entities", contract("<!DOCTYPE x:schema [<!ENTITY port \"Saltmere\">]>\n", TIDES)),
        ("a name in disguise", contract("", &numbered)),
    ];
    for (what, text) in texts {
        let change = outcome(&text, |editing| {
            let (editing, component) = at(editing, "type/Tide/at");
            set(editing, component, &[("type", "date")])
        });
        assert!(change.is_ok_and(|change| !change.in_part || what != "entities"), "{what}");
    }
    // The whole has a target namespace that every name depends on.
    let change = outcome(&contract("", TIDES), |editing| {
        set(editing, Component::Contract, &[("namespace", "urn:saltmere:tides:2")])
    });
    assert!(change.is_ok_and(|change| !change.in_part));
}
