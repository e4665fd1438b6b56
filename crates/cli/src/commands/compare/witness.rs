//! A message that shows what a change does, with what the other version has against it beside the line in question.

use charter_compare::Witness;

use crate::paint;

/// What stands before everything that belongs to a change.
pub const INDENT: &str = "       ";

/// Lines of a message that are shown around those in question.
const AROUND: usize = 2;
/// Lines of a message that is shown whole.
const SHORT: usize = 9;

/// Lines that are shown of a long message in which no line is wrong.
const UNMARKED: usize = 3;

/// A line of the message, and what is wrong there.
pub struct Line {
    pub text: String,
    pub wrong: Option<String>,
}

/// What the version that did not make a message does with it.
pub fn verb(witness: &Witness) -> &'static str {
    if witness.misread { "reads it differently" } else { "refuses it" }
}

/// The message in two columns, as text.
pub fn text(witness: &Witness, width: usize) -> String {
    let (by, other) = (witness.accepted_by.name(), witness.accepted_by.other().name());
    let verb = verb(witness);
    let Some(body) = &witness.body else { return String::new() };
    let lines = lines(body, witness);
    let widest = lines.iter().map(|line| line.text.chars().count()).max().unwrap_or(0);
    let left = widest.clamp(24, (width.max(80) - INDENT.len()) * 3 / 5);
    let head = format!("the {by} version accepts");
    let mut text = format!(
        "{INDENT}{}   {}\n",
        paint::faint(&format!("{head:left$}")),
        paint::faint(&format!("the {other} version {verb}"))
    );
    let marked = lines.iter().any(|line| line.wrong.is_some());
    let shown = chosen(&lines);
    let mut before = None;
    for at in shown {
        if before.is_some_and(|before| at > before + 1) || (before.is_none() && at > 0) {
            text.push_str(&format!("{INDENT}{}\n", paint::faint("...")));
        }
        before = Some(at);
        let line = &lines[at];
        let mut own: String = line.text.chars().take(left).collect();
        if line.text.chars().count() > left {
            own.pop();
            own.push('…');
        }
        match &line.wrong {
            Some(wrong) => text.push_str(&format!(
                "{INDENT}{} {} {}\n",
                paint::error(&format!("{own:left$}")),
                paint::error(">"),
                wrong
            )),
            None => text.push_str(&format!("{INDENT}{own}\n")),
        }
    }
    if before.is_some_and(|before| before + 1 < lines.len()) {
        text.push_str(&format!("{INDENT}{}\n", paint::faint("...")));
    }
    if !marked {
        text.push_str(&format!("{INDENT}{} {}\n", paint::error(">"), witness.because()));
    }
    text
}

/// The lines that are shown: all of a short message, else those around what is wrong.
fn chosen(lines: &[Line]) -> Vec<usize> {
    if lines.len() <= SHORT {
        return (0..lines.len()).collect();
    }
    let marked: Vec<usize> = (0..lines.len()).filter(|at| lines[*at].wrong.is_some()).collect();
    if marked.is_empty() {
        return (0..UNMARKED).collect();
    }
    let near = |at: &usize| marked.iter().any(|wrong| at.abs_diff(*wrong) <= AROUND);
    (0..lines.len()).filter(|at| *at == 0 || near(at)).collect()
}

/// The lines of a message.
pub fn lines(body: &str, witness: &Witness) -> Vec<Line> {
    let mut lines: Vec<Line> =
        body.lines().map(|line| Line { text: line.trim_end().to_owned(), wrong: None }).collect();
    for wrong in &witness.refused {
        let start = (wrong.fault.place.span.start as usize).min(body.len());
        let line = body.as_bytes()[..start].iter().filter(|byte| **byte == b'\n').count();
        if let Some(line) = lines.get_mut(line)
            && line.wrong.is_none()
        {
            line.wrong = Some(wrong.fault.message.clone());
        }
    }
    lines
}
