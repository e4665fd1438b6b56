//! Rules of `check`.

use charter_check::{Family, Rule, rules};
use serde::Serialize;

use super::{folded, indented};
use crate::console::Console;
use crate::paint;

#[derive(Serialize)]
pub struct RuleJson {
    rule: &'static str,
    family: &'static str,
    severity: &'static str,
    standard: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: Option<std::borrow::Cow<'static, str>>,
    right: Option<&'static str>,
    fix: bool,
}

impl RuleJson {
    pub fn of(rule: &'static Rule) -> RuleJson {
        RuleJson {
            rule: rule.name,
            family: rule.family.name(),
            severity: rule.level.name(),
            standard: rule.standard,
            asks: rule.asks,
            why: rule.why,
            wrong: rule.example.as_ref().map(|example| example.wrong()),
            right: rule.example.as_ref().map(|example| example.right),
            fix: rule.fix.is_some(),
        }
    }
}

pub fn list(console: &mut Console) {
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

pub fn explanation(rule: &Rule) -> String {
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
        text.push_str(&format!("\n{}\n{}\n", paint::error("wrong"), indented(&example.wrong())));
        text.push_str(&format!("\n{}\n{}\n", paint::good("right"), indented(right)));
    }
    text
}
