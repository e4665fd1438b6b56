//! `charter explain`

mod kinds;
mod profiles;
mod rules;

use charter_check::{Profile, requirements, rule};
use charter_compare::Kind;
use charter_source::nearest;
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Failure, Status};

pub fn run(name: Option<&str>, format: Format, console: &mut Console) -> Outcome {
    let Some(name) = name else {
        match format {
            Format::Json => {
                #[derive(Serialize)]
                struct All {
                    rules: Vec<rules::RuleJson>,
                    kinds: Vec<kinds::KindJson>,
                }
                let rules = charter_check::rules().map(rules::RuleJson::of).collect();
                console
                    .json(&All { rules, kinds: charter_compare::kinds().map(kinds::KindJson::of).collect() });
            }
            _ => {
                rules::list(console);
                kinds::list(console);
            }
        }
        return Ok(Status::Yes);
    };
    if let Some(profile) = Profile::named(name) {
        return Ok(profiles::of_profile(profile, format, console));
    }
    if let Some(kind) = Kind::named(name) {
        match format {
            Format::Json => console.json(&kinds::KindJson::of(kind.entry())),
            _ => console.out(&kinds::explanation(kind.entry())),
        }
        return Ok(Status::Yes);
    }
    let Some(rule) = rule(name) else {
        // A requirement may be seen by a rule of another name, or by none.
        if let Some(requirement) = requirements().find(|it| it.number == name) {
            return Ok(profiles::of_requirement(requirement, format, console));
        }
        let profiles = Profile::ALL.iter().map(|profile| profile.name());
        let kinds = Kind::ALL.iter().map(|kind| kind.name());
        let known = charter_check::rules().map(|rule| rule.name).chain(kinds);
        let near = nearest(name, known.chain(profiles));
        let help = near.map_or_else(
            || "charter explain lists them all".to_owned(),
            |near| format!("did you mean \"{near}\"? charter explain lists them all"),
        );
        return Err(Failure::new(format!("there is no rule or kind of change \"{name}\"")).help(help));
    };
    match format {
        Format::Json => console.json(&rules::RuleJson::of(rule)),
        _ => console.out(&rules::explanation(rule)),
    }
    Ok(Status::Yes)
}

fn indented(text: &str) -> String {
    text.lines().map(|line| format!("  {line}")).collect::<Vec<_>>().join("\n")
}

/// Plain text in lines of a readable length.
fn folded(text: &str) -> String {
    let mut result = String::new();
    let mut length = 0;
    for word in text.split_ascii_whitespace() {
        if length > 0 && length + 1 + word.len() > 90 {
            result.push('\n');
            length = 0;
        } else if length > 0 {
            result.push(' ');
            length += 1;
        }
        result.push_str(word);
        length += word.len();
    }
    result
}
