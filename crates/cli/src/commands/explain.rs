//! `charter explain`

use charter_check::{Family, Rule, rule, rules};
use charter_source::nearest;
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Failure, Status};
use crate::paint;

#[derive(Serialize)]
struct Entry {
    rule: &'static str,
    family: &'static str,
    severity: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: Option<&'static str>,
    right: Option<&'static str>,
}

impl Entry {
    fn of(rule: &'static Rule) -> Entry {
        Entry {
            rule: rule.name,
            family: rule.family.name(),
            severity: rule.level.name(),
            standard: rule.standard,
            asks: rule.asks,
            why: rule.why,
            wrong: rule.example.as_ref().map(|example| example.wrong),
            right: rule.example.as_ref().map(|example| example.right),
        }
    }
}

pub fn run(name: Option<&str>, format: Format, console: &mut Console) -> Outcome {
    let Some(name) = name else {
        match format {
            Format::Json => {
                #[derive(Serialize)]
                struct All {
                    rules: Vec<Entry>,
                }
                console.json(&All { rules: rules().map(Entry::of).collect() });
            }
            Format::Text => list(console),
        }
        return Ok(Status::Yes);
    };
    let Some(rule) = rule(name) else {
        let near = nearest(name, rules().map(|rule| rule.name));
        let help = near.map_or_else(
            || "charter explain lists them all".to_owned(),
            |near| format!("did you mean \"{near}\"? charter explain lists them all"),
        );
        return Err(Failure::new(format!("there is no rule \"{name}\"")).help(help));
    };
    match format {
        Format::Json => console.json(&Entry::of(rule)),
        Format::Text => console.out(&whole(rule)),
    }
    Ok(Status::Yes)
}

fn list(console: &mut Console) {
    let mut family: Option<Family> = None;
    for rule in rules() {
        if family != Some(rule.family) {
            let gap = if family.is_some() { "\n" } else { "" };
            console.out(&format!("{gap}{}\n", paint::strong(rule.family.name())));
            family = Some(rule.family);
        }
        console.out(&format!("  {:26} {:8} {}\n", rule.name, rule.level.name(), rule.asks));
    }
}

fn whole(rule: &Rule) -> String {
    let mut text = format!(
        "{}  {}\n{}\n\n{}\n\n{} {}\n",
        paint::strong(rule.name),
        paint::faint(&format!("{}, {}", rule.family.name(), rule.level.name())),
        rule.asks,
        folded(rule.why),
        paint::faint("asked by"),
        rule.standard
    );
    if let Some(example) = &rule.example {
        let right = if example.right.is_empty() { "(leave it out)" } else { example.right };
        text.push_str(&format!("\n{}\n{}\n", paint::error("wrong"), indented(example.wrong)));
        text.push_str(&format!("\n{}\n{}\n", paint::good("right"), indented(right)));
    }
    text
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
