//! The ways out of a comparison: what each says, the command that takes it, and all of them as one diff.

use charter_compare::Change;
use charter_contract::Contract;
use charter_remedy::{NoWay, Remedy, Step, Way, WayOut, WaysOut};
use charter_session::files;
use charter_source::{TextEdit, apply};

use super::witness::INDENT;
use crate::console::Failure;
use crate::paint;

/// Lines of notation that are shown of one way out.
const MOST_LINES: usize = 4;

/// For each change of a report its way out, if it needs one.
#[derive(Default)]
pub struct Ways {
    of: Vec<Option<WayOut>>,
    edits: Vec<TextEdit>,
    /// How the two versions are called in commands; nothing, if commands cannot change the new one.
    files: Option<(String, String)>,
}

impl Ways {
    pub fn new(found: WaysOut, changes: usize, files: Option<(String, String)>) -> Ways {
        let mut of = vec![None; changes];
        for (number, way) in found.all {
            if let Some(place) = of.get_mut(number) {
                *place = Some(way);
            }
        }
        Ways { of, edits: found.edits, files }
    }

    /// The way out of a change, by its number in the report.
    pub fn of(&self, number: usize) -> Option<&WayOut> {
        self.of.get(number)?.as_ref()
    }

    /// Leaves out those of the changes that are left out.
    pub fn retain(&mut self, kept: &[bool]) {
        let mut kept = kept.iter();
        self.of.retain(|_| kept.next() == Some(&true));
    }

    /// The command that takes a way out.
    pub fn command(&self, way: &Way) -> Option<String> {
        let (old, new) = self.files.as_ref()?;
        let (old, new) = (quoted(old), quoted(new));
        Some(match &way.step {
            Step::Set { key, value } => {
                format!("charter set {new} {} {}", way.path, quoted(&format!("{key}={value}")))
            }
            Step::Edit => format!("charter edit {new} {}", way.path),
            Step::Together => format!("charter compare {old} {new} --way-out"),
            Step::Add { from } => format!("charter add {new} \"$(charter show {old} {from})\""),
        })
    }

    /// What a report says of the way out of a change; why there is none, it says once.
    pub fn text(&self, number: usize, said: &mut Vec<NoWay>) -> String {
        match self.of(number) {
            None => String::new(),
            Some(WayOut::None(why)) => {
                let words = if said.contains(why) { "as above".to_owned() } else { why.to_string() };
                said.push(*why);
                format!("{INDENT}{} {words}\n", paint::faint("no way out:"))
            }
            Some(WayOut::Edit(way)) => {
                let mut text = format!(
                    "{INDENT}{} {}; then it {}\n",
                    paint::good("way out:"),
                    way.remedy,
                    way.verdict.name()
                );
                for line in self.notation(way) {
                    text.push_str(&format!("{INDENT}  {line}\n"));
                }
                if let Some(command) = self.command(way) {
                    text.push_str(&format!("{INDENT}  {}\n", paint::path(&command)));
                }
                text
            }
        }
    }

    /// The lines of notation to show.
    pub fn notation(&self, way: &Way) -> Vec<String> {
        // What goes has no notation.
        let lines: &[String] = if matches!(way.remedy, Remedy::TakeOut(_)) { &[] } else { &way.notation };
        let mut shown: Vec<String> = lines.iter().take(MOST_LINES).cloned().collect();
        if lines.len() > MOST_LINES {
            shown.push("...".to_owned());
        }
        shown
    }

    /// All edits as one diff of the new version.
    pub fn diff(&self, new: &Contract) -> Result<String, Failure> {
        let mut text = String::new();
        for file in new.files.iter() {
            let own: Vec<TextEdit> =
                self.edits.iter().filter(|edit| edit.place.file == file.id).cloned().collect();
            if own.is_empty() {
                continue;
            }
            let before = file.text().content();
            let after = apply(before, &own).map_err(|error| Failure::new(error.to_string()))?;
            text.push_str(&files::diff(&file.location.to_string(), before, &after));
        }
        Ok(text)
    }

    /// How many changes break, and how many of them have a way out.
    pub fn count(&self, changes: &[Change]) -> (usize, usize) {
        let breaking = self.of.iter().zip(changes).filter_map(|(way, _)| way.as_ref());
        let all: Vec<&WayOut> = breaking.collect();
        (all.len(), all.iter().filter(|way| matches!(way, WayOut::Edit(_))).count())
    }
}

/// A word as a shell takes it.
fn quoted(word: &str) -> String {
    let is_plain = |c: char| c.is_ascii_alphanumeric() || "-_./:@,=+%".contains(c);
    match word.chars().all(is_plain) && !word.is_empty() {
        true => word.to_owned(),
        false => format!("'{}'", word.replace('\'', r"'\''")),
    }
}
