//! Every rule of the catalogue, by its own examples.

use charter_author::Editing;
use charter_check::{Example, Family, Fixes, Level, Settings, Slot, check, check_by, rules};
use charter_contract::Contract;
use charter_message::captured::split;
use charter_message::matching::Matcher;
use charter_notation::Convention;
use charter_schema::Engine;
use charter_source::{Files, Limits, Location, Nowhere, Overlay, TextEdit, apply};

/// The rules that a text breaks, with their levels.
fn broken(text: &str, settings: &Settings) -> Vec<(&'static str, Level, String)> {
    let findings = check_by(&load(&store(text)), settings).findings;
    findings.into_iter().map(|finding| (finding.rule.name, finding.level, finding.message)).collect()
}

fn load(store: &Overlay<Nowhere>) -> Contract {
    Contract::load(store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap()
}

/// A contract with all that the examples import.
fn store(text: &str) -> Overlay<Nowhere> {
    Overlay::of(&[
        ("berths.wsdl", text),
        ("vessel.xsd", VESSEL),
        ("notice.xml", "<notice/>"),
        ("tugs.wsdl", TUGS),
        ("quays.wsdl", QUAYS),
        ("loose.wsdl", "<wsdl:definitions xmlns:wsdl='http://schemas.xmlsoap.org/wsdl/' />"),
        ("piers.wsdl", PIERS),
    ])
}

const VESSEL: &str =
    "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:saltmere:vessel:1'/>";

const TUGS: &str = "<wsdl:definitions xmlns:wsdl='http://schemas.xmlsoap.org/wsdl/' xmlns:t='urn:saltmere:tugs:1' targetNamespace='urn:saltmere:tugs:1'>
<wsdl:message name='tugCall'/><wsdl:portType name='Tugs'><wsdl:operation name='call'><wsdl:input message='t:tugCall'/></wsdl:operation></wsdl:portType></wsdl:definitions>";

const QUAYS: &str =
    "<wsdl:definitions xmlns:wsdl='http://schemas.xmlsoap.org/wsdl/' targetNamespace='urn:saltmere:quays:1'>
<wsdl:import namespace='urn:saltmere:tugs:1' location='tugs.wsdl'/>
</wsdl:definitions>";

const PIERS: &str = "<wsdl:definitions xmlns:wsdl='http://schemas.xmlsoap.org/wsdl/' targetNamespace='urn:saltmere:piers:1'>
<wsdl:types><xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:saltmere:quay:1'><xs:element name='quay' type='xs:token'/></xs:schema></wsdl:types>
</wsdl:definitions>";

#[test]
fn every_wrong_example_breaks_its_rule_alone_and_every_right_one_is_sound() {
    let mut companions = Vec::new();
    for rule in rules() {
        let of_message = |example: &&Example| matches!(example.slot, Slot::Message | Slot::Exchange);
        let Some(example) = rule.example.as_ref().filter(|example| !of_message(example)) else {
            continue;
        };
        // What is not SOAP, or not literal, breaks some profile by its nature.
        let none = rule.family == Family::Http || ["soap-encoding", "encoded-part"].contains(&rule.name);
        let house = |text| match example.slot {
            Slot::House => charter_session::Settings::read(text).unwrap().check,
            _ => Settings::default(),
        };
        let settings = |text| Settings { profiles: none.then(Vec::new), notes: true, ..house(text) };
        let text = example.wrong();
        let wrong = broken(&example.wrong_whole(), &settings(&text));
        assert!(wrong.iter().any(|(name, ..)| *name == rule.name), "{}: {wrong:?}", rule.name);
        let others = wrong.iter().filter(|(name, level, _)| *name != rule.name && *level != Level::Note);
        companions.extend(others.map(|(name, _, message)| format!("{}: {name}: {message}", rule.name)));
        let right = broken(&example.right_whole(), &settings(example.right));
        assert!(right.iter().all(|(name, ..)| *name != rule.name), "{}: {right:?}", rule.name);
        assert!(right.iter().all(|(_, level, _)| *level != Level::Error), "{}: {right:?}", rule.name);
    }
    assert!(companions.is_empty(), "{companions:#?}");
}

/// The text once all that one rule finds in it has been mended.
fn mended(text: &str, rule: &str) -> String {
    let (store, convention) = (store(text), Convention::default());
    let contract = load(&store);
    let editing = Editing::of(&contract, &store, &convention);
    let settings = Settings { notes: true, ..Settings::default() };
    let findings = check_by(&contract, &settings).findings;
    let found = findings.iter().filter(|finding| finding.rule.name == rule);
    let mut fixes = Fixes::of(editing);
    let edits: Vec<TextEdit> =
        found.filter_map(|finding| fixes.fix(finding)).flat_map(|edits| edits.to_vec()).collect();
    assert!(!edits.is_empty(), "{rule}: nothing is mended");
    apply(text, &edits).unwrap()
}

#[test]
fn every_fix_mends_the_wrong_example_and_breaks_nothing() {
    let mut fixed = 0;
    for rule in rules().filter(|rule| rule.fix.is_some()) {
        let example = rule.example.as_ref().unwrap();
        let wrong = example.wrong_whole();
        let text = mended(&wrong, rule.name);
        let settings = Settings { notes: true, ..Settings::default() };
        let (before, after) = (broken(&wrong, &settings), broken(&text, &settings));
        assert!(after.iter().all(|(name, ..)| *name != rule.name), "{}: {after:?}\n{text}", rule.name);
        let new: Vec<_> = after.iter().filter(|finding| !before.contains(finding)).collect();
        assert!(new.is_empty(), "{}: {new:?}\n{text}", rule.name);
        fixed += 1;
    }
    assert!(fixed >= 12, "{fixed}");
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
        let wrong = broken_by(&example.wrong());
        assert!(
            !wrong.is_empty() && wrong.iter().all(|(name, _)| *name == rule.name),
            "{}: {wrong:?}",
            rule.name
        );
        assert_eq!(broken_by(example.right), [], "{}", rule.name);
    }
}

/// The rules that a message on the wire breaks, notes included.
fn broken_on_the_wire(message: &str) -> Vec<(&'static str, String)> {
    let store = Overlay::of(&[("berths.wsdl", Example::exchange_contract())]);
    let files = Files::load(&store, &Location::from_argument("berths.wsdl"), Limits::default()).unwrap();
    let contract = Contract::read(files);
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(&contract, &engine, 100);
    let messages = split("message", message.as_bytes());
    let found = messages.iter().flat_map(|raw| matcher.judge(&raw.open()).found);
    found.map(|found| (found.fault.rule, found.fault.message)).collect()
}

#[test]
fn every_wrong_message_on_the_wire_breaks_its_rule_alone_and_every_right_one_matches() {
    let mut seen = 0;
    for rule in rules() {
        let Some(example) = rule.example.as_ref().filter(|example| example.slot == Slot::Exchange) else {
            continue;
        };
        let wrong = broken_on_the_wire(&example.wrong());
        assert!(
            !wrong.is_empty() && wrong.iter().all(|(name, _)| *name == rule.name),
            "{}: {wrong:?}",
            rule.name
        );
        assert_eq!(broken_on_the_wire(example.right), [], "{}", rule.name);
        seen += 1;
    }
    assert!(seen > 20, "{seen}");
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

/// All sources of the crates that find faults.
fn sources() -> Vec<String> {
    let crates = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).parent().unwrap();
    let mut folders: Vec<_> = ["source", "schema", "contract", "check", "message"]
        .iter()
        .map(|name| crates.join(name).join("src"))
        .collect();
    let mut found = Vec::new();
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                folders.push(path);
            } else if path.extension().is_some_and(|end| end == "rs") {
                found.push(std::fs::read_to_string(path).unwrap());
            }
        }
    }
    found
}

/// The names of functions that are given a rule.
fn takers(sources: &[String]) -> Vec<String> {
    let mut names = vec!["Fault::new".to_owned()];
    for text in sources {
        for (at, _) in text.match_indices("fn ") {
            let head: String = text[at + 3..].chars().take_while(|c| *c != '{').collect();
            let Some((name, arguments)) = head.split_once('(') else { continue };
            if ["rule: &'static str", "clause: &'static str"].iter().any(|it| arguments.contains(it)) {
                names.push(name.split('<').next().unwrap().to_owned());
            }
        }
    }
    names.sort();
    names.dedup();
    names
}

/// The first text that a call is given, if that may be the name of a rule.
fn first_text(call: &str) -> Option<&str> {
    let end = call.find(';').unwrap_or(call.len());
    let (_, rest) = call[..end].split_once('"')?;
    let (text, _) = rest.split_once('"')?;
    let is_name = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '.' | '_');
    let plain = !text.is_empty()
        && text.chars().all(is_name)
        && text.contains(|c: char| c == '-' || c.is_ascii_digit());
    plain.then_some(text)
}

#[test]
fn every_fault_that_is_found_has_a_rule() {
    let sources = sources();
    let mut named = std::collections::BTreeSet::new();
    for taker in takers(&sources) {
        let call = format!("{taker}(");
        for text in &sources {
            // Tests beside the code may make up what they like.
            let code = text.split("#[cfg(test)]").next().unwrap();
            for (at, _) in code.match_indices(&call) {
                let is_whole = !code[..at].ends_with(|c: char| c.is_alphanumeric() || c == '_');
                if is_whole && !code[..at].ends_with("fn ") {
                    named.extend(first_text(&code[at + call.len()..]));
                }
            }
        }
    }
    assert!(named.len() > 150, "{}", named.len());
    // Values that samples hold and encodings are no rules, though a function of the same name is given them.
    let others = ["no-such-thing", "unheard-of", "utf-8", "12"];
    let listed = |name: &&&str| others.contains(*name) || charter_check::rule(name).is_some();
    let unlisted: Vec<&&str> = named.iter().filter(|name| !listed(name)).collect();
    assert!(unlisted.is_empty(), "{unlisted:?}");
}

#[test]
fn what_stands_for_a_rule_that_is_not_listed_is_an_error() {
    let unlisted = &charter_check::UNLISTED;
    assert_eq!((unlisted.name, unlisted.level), ("unlisted", charter_check::Level::Error));
    assert!(charter_check::rule(unlisted.name).is_none());
}
