//! Faults planted in sound contracts, one at a time: the check names each at its line, first, and does not bury it.

mod faults;

use faults::FAULTS;

use crate::program::folder::Folder;

const HARBOUR: &str = include_str!("planted/harbour.wsdl");

/// The one thing about the contract that a profile finds fault with, and that is meant.
const SETTLED: &str = "[[check.except]]\nrule = \"R2401\"\nreason = \"gauges are read by hand as well\"\n";

fn harbour(text: &str) -> Folder {
    let folder = Folder::empty();
    folder.write("harbour.wsdl", text);
    folder.write("vessel.xsd", include_str!("planted/vessel.xsd"));
    folder.write("notice.xml", "<notice/>");
    folder.write("charter.toml", SETTLED);
    folder
}

#[test]
fn the_contract_is_sound_before_anything_is_planted() {
    harbour(HARBOUR).run("check harbour.wsdl --notes").ends(0).says("harbour.wsdl: no findings");
}

#[test]
fn each_planted_fault_is_named_at_its_line_and_first() {
    assert!(FAULTS.len() >= 120, "{}", FAULTS.len());
    let mut others = 0;
    let mut wrong = Vec::new();
    for (rule, from, to) in FAULTS {
        let (rule, elsewhere) = match rule.strip_prefix('~') {
            Some(rule) => (rule, true),
            None => (*rule, false),
        };
        let at = HARBOUR.find(from).unwrap_or_else(|| panic!("{from:?} is not in the contract"));
        let run = harbour(&HARBOUR.replacen(from, to, 1)).run("check harbour.wsdl --format json");
        let json = run.json();
        let found = json["findings"].as_array().unwrap();
        let rules: Vec<&str> = found.iter().map(|finding| finding["rule"].as_str().unwrap()).collect();
        if rules.first() != Some(&rule) {
            wrong.push(format!("{rule} ({to}): {rules:?}"));
            continue;
        }
        let lines = |text: &str| text.lines().count() as u64;
        let (first, last) = (lines(&HARBOUR[..at]).max(1), lines(&HARBOUR[..at + from.len()]) + 1);
        let line = found[0]["line"].as_u64().unwrap();
        // What is gone is missed in what should hold it, which begins a few lines above.
        let near = if to.len() < from.len() { 12 } else { 1 };
        if !elsewhere && !(first.saturating_sub(near)..=last).contains(&line) {
            wrong.push(format!("{rule} ({to}): at line {line}, planted at {first}"));
        }
        others += found.len() - 1;
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    let average = others as f64 / FAULTS.len() as f64;
    assert!(average <= 2.0, "{average}");
}
