//! The table of what profiles ask, and the page that shows it.

use charter_check::{Profile, Requirement, Seen, requirements, rule, rules};

/// A requirement as a row of `docs/conformance.md`.
fn row(requirement: &Requirement) -> String {
    let profiles: Vec<&str> = requirement.profiles.iter().map(|profile| profile.name()).collect();
    let seen = match requirement.seen {
        Seen::By(rule) => format!("`{rule}`"),
        Seen::Never(reason) => reason.to_owned(),
    };
    let Requirement { number, strength, asks, .. } = requirement;
    format!("| {number} | {} | {} | {asks} | {seen} |", profiles.join(", "), strength.name())
}

#[test]
fn the_page_has_a_row_for_each_requirement() {
    let page = include_str!("../../../../docs/conformance.md");
    let rows: Vec<String> = requirements().map(row).collect();
    let missing: Vec<&String> = rows.iter().filter(|row| !page.lines().any(|line| line == **row)).collect();
    assert!(
        missing.is_empty(),
        "not in docs/conformance.md:\n{}",
        missing.iter().map(|it| it.as_str()).collect::<Vec<_>>().join("\n")
    );
    let shown = page.lines().filter(|line| line.starts_with("| R")).count();
    assert_eq!(shown, rows.len(), "rows that nobody asks for");
}

#[test]
fn requirements_are_in_order_and_their_rules_are_there() {
    let numbers: Vec<&str> = requirements().map(|requirement| requirement.number).collect();
    assert!(numbers.is_sorted(), "{numbers:?}");
    for requirement in requirements() {
        assert!(!requirement.profiles.is_empty(), "{}", requirement.number);
        if let Seen::By(name) = requirement.seen {
            assert!(rule(name).is_some(), "{}: {name}", requirement.number);
        }
    }
    // A rule under a number is asked for under that number.
    for rule in rules().filter(|rule| rule.name.starts_with('R')) {
        let own = requirements().find(|requirement| requirement.number == rule.name);
        assert_eq!(own.map(|own| own.seen), Some(Seen::By(rule.name)), "{}", rule.name);
    }
    for profile in Profile::ALL {
        assert_eq!(Profile::named(profile.name()), Some(profile));
        assert!(profile.requirements().count() >= 5, "{}", profile.name());
    }
}
