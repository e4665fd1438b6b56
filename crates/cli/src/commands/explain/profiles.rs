//! Profiles and their requirements.

use charter_check::{Profile, Requirement, Seen};
use serde::Serialize;

use crate::args::Format;
use crate::console::{Console, Status};
use crate::paint;

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
pub fn of_profile(profile: Profile, format: Format, console: &mut Console) -> Status {
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

pub fn of_requirement(requirement: &Requirement, format: Format, console: &mut Console) -> Status {
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
