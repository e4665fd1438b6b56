//! Findings for people: each with the piece of source that it is about.

use charter_check::{Finding, Level, rule};
use charter_contract::Contract;
use charter_exchange::Outcome;
use charter_source::{Fault, File, Place};
use serde::Serialize;
use unicode_width::{UnicodeWidthChar, UnicodeWidthStr};

use crate::paint;

/// How far the lines below the first stand in.
const INDENT: &str = "        ";
/// What a tab is shown as.
const TAB: &str = "  ";

/// A finding for programs.
#[derive(Serialize)]
pub struct FindingJson {
    rule: &'static str,
    severity: &'static str,
    message: String,
    file: String,
    line: usize,
    column: usize,
    end_line: usize,
    end_column: usize,
    path: String,
    help: Option<String>,
    standard: &'static str,
}

impl FindingJson {
    /// What is wrong in a file, by a rule of the catalogue.
    pub fn new(fault: Fault, level: Level, path: String, file: &File) -> FindingJson {
        let position = file.text().position(fault.place.span.start);
        let end = file.text().position(fault.place.span.end);
        FindingJson {
            rule: fault.rule,
            severity: level.name(),
            message: fault.message,
            file: file.location.to_string(),
            line: position.line,
            column: position.column,
            end_line: end.line,
            end_column: end.column,
            path,
            help: fault.help,
            standard: rule(fault.rule).map_or("", |rule| rule.standard),
        }
    }

    pub fn rule(&self) -> &'static str {
        self.rule
    }

    pub fn severity(&self) -> &'static str {
        self.severity
    }

    pub fn message(&self) -> &str {
        &self.message
    }

    pub fn file(&self) -> &str {
        &self.file
    }

    pub fn path(&self) -> &str {
        &self.path
    }

    pub fn help(&self) -> Option<&str> {
        self.help.as_deref()
    }

    /// Line and column where it begins, and where it ends.
    pub fn region(&self) -> (usize, usize, usize, usize) {
        (self.line, self.column, self.end_line, self.end_column)
    }

    /// What tells it from other findings.
    pub fn key(&self) -> (&'static str, String, usize, usize, String) {
        (self.rule, self.file.clone(), self.line, self.column, self.message.clone())
    }

    /// All of it in one line.
    pub fn line(&self) -> String {
        let FindingJson { file, line, column, severity, path, message, rule, .. } = self;
        format!("{file}:{line}:{column}: {severity}: {path}: {message} ({rule})")
    }
}

/// A finding of a check, for programs.
pub fn entry(contract: &Contract, finding: &Finding) -> FindingJson {
    let fault = Fault {
        rule: finding.name,
        place: finding.place,
        message: finding.message.clone(),
        help: finding.help.clone(),
    };
    FindingJson::new(fault, finding.level, finding.path.to_string(), contract.files.get(finding.place.file))
}

/// What is said about one thing that is wrong.
pub struct FindingText<'f> {
    pub level: Level,
    /// The component path, or the path in a message.
    pub path: &'f str,
    pub message: &'f str,
    pub help: Option<&'f str>,
    pub rule: &'f str,
    pub standard: &'f str,
}

/// A finding of a check.
pub fn text(contract: &Contract, finding: &Finding, width: usize) -> String {
    let shown = FindingText {
        level: finding.level,
        path: finding.path.as_str(),
        message: &finding.message,
        help: finding.help.as_deref(),
        rule: finding.name,
        standard: finding.rule.standard,
    };
    block(&shown, contract.files.get(finding.place.file), finding.place, width)
}

/// What is wrong and where, the source with the trouble underlined, what to do, and the rule.
pub fn block(shown: &FindingText<'_>, file: &File, place: Place, width: usize) -> String {
    let level = format!("{:7}", shown.level.name());
    let level = match shown.level {
        Level::Error => paint::error(&level),
        Level::Warning => paint::warning(&level),
        Level::Note => paint::note(&level),
    };
    let mut text = format!("{level} {}: {}\n", paint::path(shown.path), shown.message);
    let position = file.text().position(place.span.start);
    let content = file.text().content();
    // What is no XML may be anything, and none of our business.
    let is_xml = content.trim_start().starts_with('<');
    if let Some(excerpt) = Excerpt::of(content, place.span.range(), width.max(60) - 20).filter(|_| is_xml) {
        let number = position.line.to_string();
        let line = paint::underlined(shown.level, &"━".repeat(excerpt.marked.max(1)));
        text.push_str(&format!("{INDENT}{} {}\n", paint::faint(&format!("{number} │")), excerpt.line));
        let gutter = paint::faint(&format!("{} │", " ".repeat(number.len())));
        text.push_str(&format!("{INDENT}{gutter} {}{line}\n", " ".repeat(excerpt.before)));
    }
    if let Some(help) = shown.help {
        text.push_str(&format!("{INDENT}{help}\n"));
    }
    let place = format!("{}:{}:{}", file.location, position.line, position.column);
    let rule = format!("{}  {place}  {}", shown.rule, shown.standard);
    text.push_str(&format!("{INDENT}{}\n\n", paint::faint(&rule)));
    text
}

/// A line of source as it is shown: without its indentation, and no wider than the screen.
pub struct Excerpt {
    pub line: String,
    /// How many columns stand before what is underlined.
    pub before: usize,
    /// How many columns are underlined.
    pub marked: usize,
}

impl Excerpt {
    /// The line that a span begins in; `None` if there is nothing on it to show.
    pub fn of(content: &str, span: std::ops::Range<usize>, width: usize) -> Option<Excerpt> {
        // A file may be one line of megabytes, so no more of it is looked at than can be shown.
        let reach = 4 * width;
        let from = floor(content, span.start.saturating_sub(reach));
        let to = floor(content, (span.start + reach).min(content.len()));
        let (begins, start) = match content[from..span.start].rfind('\n') {
            Some(at) => (true, from + at + 1),
            None => (from == 0, from),
        };
        let end = content[span.start..to].find('\n').map_or(to, |at| span.start + at);
        let line = content[start..end].trim_end();
        let start = start + (line.len() - line.trim_start().len());
        let line = line.trim_start();
        if line.is_empty() {
            return None;
        }
        let within = |offset: usize| offset.clamp(start, start + line.len()) - start;
        let (from, to) = (within(span.start), within(span.end));
        // In a long line, the trouble stands a quarter of the way along.
        let first = if !begins || line.width() > width { back(line, from, width / 4) } else { 0 };
        let mut shown = String::from(if first > 0 || !begins { "…" } else { "" });
        let mut columns = shown.width();
        let (mut before, mut marked) = (columns, 0);
        for (at, c) in line.char_indices().skip_while(|(at, _)| *at < first) {
            let piece =
                if c == '\t' { TAB.to_owned() } else { paint::picture(c).unwrap_or_else(|| c.to_string()) };
            if columns + piece.width() > width {
                shown.push('…');
                break;
            }
            columns += piece.width();
            if at < from {
                before = columns;
            } else if at < to {
                marked = columns - before;
            }
            shown.push_str(&piece);
        }
        Some(Excerpt { line: shown, before, marked })
    }
}

/// The nearest beginning of a character at or before an offset.
fn floor(text: &str, mut offset: usize) -> usize {
    while !text.is_char_boundary(offset) {
        offset -= 1;
    }
    offset
}

/// The offset that lies so many columns before another.
fn back(line: &str, from: usize, columns: usize) -> usize {
    let mut left = columns;
    let mut at = from;
    for (offset, c) in line[..from].char_indices().rev() {
        let width = c.width().unwrap_or(1);
        if width > left {
            break;
        }
        left -= width;
        at = offset;
    }
    at
}

/// So many of something, in words.
pub fn of(count: usize, word: &str) -> String {
    format!("{count} {word}{}", if count == 1 { "" } else { "s" })
}

/// What several exchanges came to: some replied, others were faults.
pub fn counted(outcome: Outcome, count: u64) -> &'static str {
    match outcome {
        Outcome::Fault if count != 1 => "faults",
        outcome => outcome.word(),
    }
}

/// How many findings there are, in words.
pub fn count(errors: usize, warnings: usize, notes: usize) -> String {
    let all = [
        (errors, paint::error(&of(errors, "error"))),
        (warnings, paint::warning(&of(warnings, "warning"))),
        (notes, paint::note(&of(notes, "note"))),
    ];
    let there: Vec<String> =
        all.into_iter().filter(|(count, _)| *count > 0).map(|(_, words)| words).collect();
    if there.is_empty() { paint::good("no findings") } else { there.join(", ") }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn long_lines_are_cut_around_the_trouble() {
        let line = format!("\t{}<wrong/>{}", "ab ".repeat(100), "cd ".repeat(100));
        let at = line.find("<wrong").unwrap();
        let excerpt = Excerpt::of(&line, at..at + 8, 80).unwrap();
        assert!(excerpt.line.width() <= 81, "{}", excerpt.line);
        assert_eq!(excerpt.marked, 8);
        let shown: String = excerpt.line.chars().skip(excerpt.before).take(8).collect();
        assert_eq!(shown, "<wrong/>");
    }

    #[test]
    fn wide_and_strange_characters_keep_the_line_under_its_word() {
        let excerpt = Excerpt::of("  港口\t<a\u{1b}b>\n", 9..13, 80).unwrap();
        assert_eq!(excerpt.line, "港口  <a␛b>");
        assert_eq!((excerpt.before, excerpt.marked), (6, 4));
        assert!(Excerpt::of("\n \n", 1..1, 80).is_none());
    }
}
