//! `charter explain`

use charter_check::{Family, Profile, Requirement, Rule, Seen, requirements, rule, rules};
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
    fix: bool,
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
            fix: rule.fix.is_some(),
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
            _ => list(console),
        }
        return Ok(Status::Yes);
    };
    if let Some(profile) = Profile::named(name) {
        return Ok(of_profile(profile, format, console));
    }
    let Some(rule) = rule(name) else {
        // A requirement may be seen by a rule of another name, or by none.
        if let Some(requirement) = requirements().find(|it| it.number == name) {
            return Ok(of_requirement(requirement, format, console));
        }
        let profiles = Profile::ALL.iter().map(|profile| profile.name());
        let near = nearest(name, rules().map(|rule| rule.name).chain(profiles));
        let help = near.map_or_else(
            || "charter explain lists them all".to_owned(),
            |near| format!("did you mean \"{near}\"? charter explain lists them all"),
        );
        return Err(Failure::new(format!("there is no rule \"{name}\"")).help(help));
    };
    match format {
        Format::Json => console.json(&Entry::of(rule)),
        _ => console.out(&whole(rule)),
    }
    Ok(Status::Yes)
}

/// A requirement for programs.
#[derive(Serialize)]
struct Asked {
    number: &'static str,
    strength: &'static str,
    asks: &'static str,
    profiles: Vec<&'static str>,
    rule: Option<&'static str>,
    unseen: Option<&'static str>,
}

impl Asked {
    fn of(requirement: &Requirement) -> Asked {
        let (rule, unseen) = match requirement.seen {
            Seen::By(rule) => (Some(rule), None),
            Seen::Never(reason) => (None, Some(reason)),
        };
        Asked {
            number: requirement.number,
            strength: requirement.strength.name(),
            asks: requirement.asks,
            profiles: requirement.profiles.iter().map(|profile| profile.name()).collect(),
            rule,
            unseen,
        }
    }

    fn seen(&self) -> String {
        match (self.rule, self.unseen) {
            (Some(rule), _) if rule == self.number => String::new(),
            (Some(rule), _) => format!("seen by {rule}"),
            (None, reason) => format!("not seen: {}", reason.unwrap_or("")),
        }
    }
}

/// What a profile asks, by number.
fn of_profile(profile: Profile, format: Format, console: &mut Console) -> Status {
    let all: Vec<Asked> = profile.requirements().map(Asked::of).collect();
    if format == Format::Json {
        #[derive(Serialize)]
        struct Whole {
            profile: &'static str,
            title: &'static str,
            requirements: Vec<Asked>,
        }
        console.json(&Whole { profile: profile.name(), title: profile.title(), requirements: all });
        return Status::Yes;
    }
    let seen = all.iter().filter(|asked| asked.rule.is_some()).count();
    let title = paint::strong(profile.title());
    console.out(&format!("{title}: {} requirements, {seen} of them seen by rules\n", all.len()));
    for asked in all {
        console.out(&format!("  {:6} {:7} {}", asked.number, asked.strength, asked.asks));
        let seen = asked.seen();
        let gap = if seen.is_empty() { "" } else { "  " };
        console.out(&format!("{gap}{}\n", paint::faint(&seen)));
    }
    Status::Yes
}

fn of_requirement(requirement: &Requirement, format: Format, console: &mut Console) -> Status {
    let asked = Asked::of(requirement);
    if format == Format::Json {
        console.json(&asked);
        return Status::Yes;
    }
    let titles: Vec<&str> = requirement.profiles.iter().map(|profile| profile.title()).collect();
    console.out(&format!(
        "{}  {}\n{}\n\n{} {}\n{}\n",
        paint::strong(asked.number),
        paint::faint(asked.strength),
        asked.asks,
        paint::faint("asked by"),
        titles.join(", "),
        asked.seen()
    ));
    Status::Yes
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
    if rule.fix.is_some() {
        text.push_str(&format!("{} charter check --fix\n", paint::faint("mended by")));
    }
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
