//! What holds for every rule, on the contract that breaks it: levels, exceptions, baselines, places and paths of findings.

use charter_check::{
    Baseline, Exception, Finding, Level, LevelChange, PathPattern, Settings, Slot, check_by, rules,
};
use charter_contract::{Contract, PathError};
use charter_source::{Limits, Location, Overlay};

/// The rules about contracts, with the contract that breaks each. What an example imports is not there: each is judged by what it
/// says itself.
fn broken() -> Vec<(&'static str, Contract)> {
    let apart = [Slot::Message, Slot::Exchange, Slot::House, Slot::File, Slot::Prolog];
    let examples = rules().filter_map(|rule| Some((rule.name, rule.example.as_ref()?)));
    let own = examples.filter(|(_, example)| !apart.contains(&example.slot));
    own.map(|(name, example)| {
        let text = example.wrong_whole();
        let store = Overlay::of(&[("berths.wsdl", &text)]);
        let location = Location::from_argument("berths.wsdl");
        (name, Contract::load(&store, &location, Limits::default()).unwrap())
    })
    .collect()
}

fn noting() -> Settings {
    Settings { notes: true, ..Settings::default() }
}

fn of_rule<'f>(findings: &'f [Finding], name: &str) -> Vec<&'f Finding> {
    findings.iter().filter(|finding| finding.rule.name == name).collect()
}

/// The contracts whose rule is seen without the files beside them.
fn seen() -> Vec<(&'static str, Contract, Vec<Finding>)> {
    let all = broken().into_iter().map(|(name, contract)| {
        let findings = check_by(&contract, &noting()).findings;
        (name, contract, findings)
    });
    let seen: Vec<_> = all.filter(|(name, _, findings)| !of_rule(findings, name).is_empty()).collect();
    assert!(seen.len() > 140, "{}", seen.len());
    seen
}

#[test]
fn every_finding_says_where_what_and_what_to_do() {
    for (name, contract, findings) in seen() {
        for finding in &findings {
            let text = contract.files.get(finding.place.file).text().content();
            let (from, to) = (finding.place.span.start as usize, finding.place.span.end as usize);
            assert!(from <= to && to <= text.len(), "{name}: {}", finding.message);
            assert!(
                !finding.message.is_empty() && !finding.message.ends_with('.'),
                "{name}: {}",
                finding.message
            );
            assert!(!finding.message.contains('\n'), "{name}: {}", finding.message);
            assert!(finding.help.as_ref().is_none_or(|help| !help.is_empty() && !help.contains('\n')));
            let path = finding.path.as_str();
            // Of two that have one name, the path is that of both.
            let found = matches!(contract.find(path), Ok(_) | Err(PathError::Ambiguous { .. }));
            assert!(path == "contract" || found, "{name}: {path}");
            assert_eq!(contract.path(finding.component).as_str(), path, "{name}");
            assert_eq!(finding.name, finding.rule.name, "{name}");
        }
    }
}

#[test]
fn findings_come_with_the_worst_first() {
    for (name, contract, findings) in seen() {
        let levels: Vec<(u32, Level)> = findings
            .iter()
            .map(|finding| (contract.files.get(finding.place.file).id.0, finding.level))
            .collect();
        assert!(levels.is_sorted(), "{name}: {levels:?}");
    }
}

#[test]
fn a_rule_has_the_level_that_it_is_given() {
    for (name, contract, findings) in seen() {
        let count = of_rule(&findings, name).len();
        for level in [Some(Level::Error), Some(Level::Warning), Some(Level::Note), None] {
            let change = LevelChange { rule: name.to_owned(), level, paths: Vec::new() };
            let settings = Settings { levels: vec![change], ..noting() };
            let findings = check_by(&contract, &settings).findings;
            let own = of_rule(&findings, name);
            match level {
                Some(level) => {
                    assert!(!own.is_empty() && own.len() <= count.max(own.len()), "{name}");
                    assert!(own.iter().all(|finding| finding.level == level), "{name}: {level:?}");
                }
                None => assert!(own.is_empty(), "{name} is off"),
            }
        }
    }
}

#[test]
fn the_last_of_several_levels_holds_and_only_where_it_is_meant() {
    for (name, contract, findings) in seen() {
        let path = of_rule(&findings, name)[0].path.as_str().to_owned();
        let here = PathPattern::new(&path.replace('[', "[[]")).unwrap();
        let elsewhere = PathPattern::new("service/Nowhere").unwrap();
        let change = |level, paths| LevelChange { rule: name.to_owned(), level, paths };
        let levels = |levels| check_by(&contract, &Settings { levels, ..noting() }).findings;
        let off_here = levels(vec![change(Some(Level::Error), Vec::new()), change(None, vec![here])]);
        assert!(
            of_rule(&off_here, name).iter().all(|finding| finding.path.as_str() != path),
            "{name} at {path}"
        );
        let off_elsewhere =
            levels(vec![change(Some(Level::Error), Vec::new()), change(None, vec![elsewhere])]);
        assert!(!of_rule(&off_elsewhere, name).is_empty(), "{name}");
    }
}

#[test]
fn exceptions_hold_until_their_day_is_over() {
    for (name, contract, findings) in seen() {
        let count = of_rule(&findings, name).len();
        let exception = |until: Option<&str>| Exception {
            rule: name.to_owned(),
            paths: Vec::new(),
            reason: "until the next version".to_owned(),
            until: until.map(str::to_owned),
        };
        for (until, holds) in [
            (None, true),
            (Some("2026-12-31"), true),
            (Some("2026-11-30"), true),
            (Some("2026-11-29"), false),
        ] {
            let settings =
                Settings { exceptions: vec![exception(until)], today: "2026-11-30".to_owned(), ..noting() };
            let checked = check_by(&contract, &settings);
            let (left, excepted) = (of_rule(&checked.findings, name), of_rule(&checked.excepted, name));
            assert_eq!(left.is_empty(), holds, "{name} until {until:?}");
            assert_eq!(excepted.len(), if holds { count } else { 0 }, "{name} until {until:?}");
        }
    }
}

#[test]
fn what_a_baseline_knows_it_takes_once() {
    for (name, _, findings) in seen() {
        let text = Baseline::of(&findings).text();
        let mut known = Baseline::read(&text).unwrap_or_else(|error| panic!("{name}: {error}\n{text}"));
        assert!(known.len() <= findings.len() && !known.is_empty(), "{name}");
        for finding in &findings {
            assert!(known.takes(finding), "{name}: {}", finding.message);
        }
        // What comes again is new.
        assert!(!known.takes(&findings[0]), "{name}: {}", findings[0].message);
        // And what is read is written again as it was.
        assert_eq!(Baseline::read(&text).unwrap().text(), text, "{name}");
    }
}

#[test]
fn a_baseline_of_one_rule_does_not_take_another() {
    let all = seen();
    for pair in all.windows(2) {
        let [(first, _, one), (second, _, other)] = pair else { continue };
        let own: Vec<&Finding> = of_rule(one, first);
        let mut known = Baseline::of(own.iter().copied());
        let strangers = of_rule(other, second);
        assert!(first == second || !known.takes(strangers[0]), "{first} {second}");
    }
}
