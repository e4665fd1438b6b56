//! A frozen selection of the development run against another validator: verdicts on random schemas and messages on
//! which both agreed, for every clause the smallest cases that break it. `docs/conformance.md` says how it is made.

use std::collections::BTreeMap;

use charter_check::{Level, check};
use charter_contract::Contract;
use charter_schema::Engine;
use charter_source::{Files, Limits, Location, Overlay};

fn load(name: &str, text: &str) -> Files {
    Files::load(&Overlay::of(&[(name, text)]), &Location::from_argument(name), Limits::default()).unwrap()
}

/// The clause that a schema breaks; `valid` if none.
fn judged(contract: &Contract) -> String {
    let findings = check(contract);
    let mut broken: Vec<&str> =
        findings.iter().filter(|it| it.level == Level::Error).map(|it| it.rule.name).collect();
    broken.dedup();
    if broken.is_empty() { "valid".into() } else { broken.join(" ") }
}

#[test]
fn every_verdict_is_what_it_was() {
    let mut contracts: BTreeMap<&str, Contract> = BTreeMap::new();
    let cases = include_str!("verdicts.txt").split("%% ").skip(1);
    let (mut schemas, mut messages) = (0, 0);
    for case in cases {
        let (heading, text) = case.split_once('\n').unwrap();
        let words: Vec<&str> = heading.split(' ').collect();
        let [kind, name, expected] = words[..] else { panic!("{heading}") };
        if kind == "schema" {
            let contract = Contract::read(load(name, text));
            assert_eq!(judged(&contract), expected, "{heading}\n{text}");
            contracts.insert(name, contract);
            schemas += 1;
            continue;
        }
        let contract = &contracts[name];
        let files = load("message.xml", text);
        let engine = Engine::new(&contract.files, &contract.schemas);
        let root = files.first().root().unwrap();
        let report = engine.validate(files.first().id, root, 100);
        let mut broken: Vec<&str> = report.wrong.iter().map(|wrong| wrong.fault.rule).collect();
        broken.dedup();
        let verdict = if report.is_valid() { "valid".into() } else { broken.join(" ") };
        assert_eq!(verdict, expected, "{heading}\n{text}\n{:?}", report.wrong);
        messages += 1;
    }
    assert!(schemas > 100 && messages > 30, "{schemas} schemas, {messages} messages");
}
