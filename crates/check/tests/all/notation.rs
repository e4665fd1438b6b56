//! The notation on every example of the catalogue, the wrong ones too: what they say goes through it and comes back.

use charter_check::{Slot, rules};
use charter_contract::{Contract, DocumentKind};
use charter_notation::{Child, Convention, ElementInfo, Prefixes, info_of, read, text_of};
use charter_source::{Limits, Location, Overlay};

/// A form whose parts are in an order that does not depend on where they are written.
fn sorted(mut info: ElementInfo) -> ElementInfo {
    for child in info.elements_mut() {
        *child = sorted(child.clone());
    }
    if ["definitions", "types", "schema", "binding"].iter().any(|local| &*info.name.local == *local) {
        info.children.sort_by_key(|child| match child {
            Child::Element(info) => format!(
                "{} {:?} {info:?}",
                info.name.local,
                info.text("targetNamespace").or(info.text("name"))
            )
            .replace(", origin: None", ""),
            _ => String::new(),
        });
    }
    info
}

/// Where something was read is not part of what it says.
fn without_origins(mut info: ElementInfo) -> ElementInfo {
    info.origin = None;
    info.prefixes = None;
    info.elements_mut().for_each(|child| *child = without_origins(child.clone()));
    info
}

#[test]
fn every_example_goes_through_the_notation_and_comes_back() {
    let vessel =
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:saltmere:vessel:1'/>";
    let convention = Convention::default();
    let mut seen = 0;
    let mut failed: Vec<String> = Vec::new();
    for rule in rules() {
        let example =
            rule.example.as_ref().filter(|example| !matches!(example.slot, Slot::Message | Slot::Exchange));
        // Which of two of one name is meant, nobody can say.
        // An import that stands in no schema is read as one of the schema.
        let meant = !["duplicate-name", "R2003"].contains(&rule.name);
        let Some(example) = example.filter(|_| meant) else { continue };
        for text in [example.wrong_whole(), example.right_whole()] {
            let store =
                Overlay::of(&[("berths.wsdl", &*text), ("vessel.xsd", vessel), ("notice.xml", "<notice/>")]);
            let contract =
                Contract::load(&store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap();
            if !matches!(contract.kind(), DocumentKind::Contract | DocumentKind::Schema) {
                continue;
            }
            let info = info_of(&contract);
            let notation = text_of(&info, &Prefixes::of(&contract), &convention);
            let written = match read(&notation, &convention) {
                Ok(written) => written,
                Err(errors) => {
                    failed.push(format!("{}: {errors:?}\n{notation}", rule.name));
                    continue;
                }
            };
            let again = text_of(&written.info, &written.prefixes, &convention);
            let (before, after) = (sorted(without_origins(info)), sorted(without_origins(written.info)));
            if before != after || again != notation {
                failed.push(format!("{}: {notation}\n{again}", rule.name));
            }
            seen += 1;
        }
    }
    assert!(failed.is_empty(), "{}", failed.join("\n"));
    assert!(seen >= 200, "{seen}");
}
