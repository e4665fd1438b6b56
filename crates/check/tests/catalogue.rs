//! Every rule of the catalogue, by its own examples.

use charter_check::{Example, Level, Slot, check, rules};
use charter_contract::Contract;
use charter_schema::Engine;
use charter_source::{Files, Limits, Location, Overlay};

/// The rules that a text breaks, with their levels.
fn broken(text: &str) -> Vec<(&'static str, Level, String)> {
    let vessel =
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:saltmere:vessel:1'/>";
    let store = Overlay::of(&[("berths.wsdl", text), ("vessel.xsd", vessel), ("notice.xml", "<notice/>")]);
    let contract =
        Contract::load(&store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap();
    check(&contract).into_iter().map(|finding| (finding.rule.name, finding.level, finding.message)).collect()
}

#[test]
fn every_wrong_example_breaks_its_rule_and_every_right_one_is_sound() {
    for rule in rules() {
        let Some(example) = rule.example.as_ref().filter(|example| example.slot != Slot::Message) else {
            continue;
        };
        let wrong = broken(&example.wrong_whole());
        assert!(wrong.iter().any(|(name, ..)| *name == rule.name), "{}: {wrong:?}", rule.name);
        let right = broken(&example.right_whole());
        assert!(right.iter().all(|(name, ..)| *name != rule.name), "{}: {right:?}", rule.name);
        assert!(right.iter().all(|(_, level, _)| *level != Level::Error), "{}: {right:?}", rule.name);
    }
}

/// The rules that a message breaks.
fn broken_by(message: &str) -> Vec<(&'static str, String)> {
    let store = Overlay::of(&[("visit.xsd", Example::message_schema()), ("visit.xml", message)]);
    let load = |name| Files::load(&store, &Location::from_argument(name), Limits::default()).unwrap();
    let (contract, files) = (Contract::read(load("visit.xsd")), load("visit.xml"));
    assert!(check(&contract).is_empty(), "{:?}", check(&contract));
    let engine = Engine::new(&contract.files, &contract.schemas);
    let report = engine.validate(files.first().id, files.first().root().unwrap(), 100);
    report.wrong.into_iter().map(|wrong| (wrong.fault.rule, wrong.fault.message)).collect()
}

#[test]
fn every_wrong_message_breaks_its_rule_alone_and_every_right_one_is_valid() {
    for rule in rules() {
        let Some(example) = rule.example.as_ref().filter(|example| example.slot == Slot::Message) else {
            continue;
        };
        let wrong = broken_by(example.wrong);
        assert!(
            !wrong.is_empty() && wrong.iter().all(|(name, _)| *name == rule.name),
            "{}: {wrong:?}",
            rule.name
        );
        assert_eq!(broken_by(example.right), [], "{}", rule.name);
    }
}

#[test]
fn names_are_unique_and_only_one_rule_goes_without_an_example() {
    let mut names: Vec<&str> = rules().map(|rule| rule.name).collect();
    let count = names.len();
    names.sort_unstable();
    names.dedup();
    assert_eq!(names.len(), count);
    let without: Vec<&str> = rules().filter(|rule| rule.example.is_none()).map(|rule| rule.name).collect();
    assert_eq!(without, ["xml-depth"]);
}
