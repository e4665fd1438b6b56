//! The same message of two contracts side by side, so that a silent change is seen at a glance.

use charter_contract::WireShape;
use charter_message::as_document;
use serde::Serialize;
use similar::{ChangeTag, TextDiff};
use unicode_width::UnicodeWidthChar;

use super::chosen;
use super::making::Making;
use crate::args::{Format, MessageArgs};
use crate::commands::Outcome;
use crate::common::Common;
use crate::console::{Console, Status};
use crate::paint;

#[derive(Serialize)]
struct Beside {
    operation: String,
    side: String,
    same: bool,
    lines: Vec<Line>,
}

/// A line of each, or of one alone.
#[derive(Serialize)]
struct Line {
    old: Option<String>,
    new: Option<String>,
    change: &'static str,
}

pub fn run(
    making: &Making<'_>,
    shape: &WireShape,
    other: &str,
    common: &Common,
    console: &mut Console,
) -> Outcome {
    let loaded = common.session.open(other)?;
    let (contract, engine) = (loaded.contract(), loaded.engine());
    charter_session::is_contract(contract)?;
    let name = making.args.operation.as_deref().unwrap_or_default();
    let args = theirs(making.args, contract);
    let their_making = Making::of(contract, engine, &args, common);
    let their_shape = chosen::shape(contract, name, &args)?;
    let (ours, theirs) = (text(making, shape)?, text(&their_making, &their_shape)?);
    let lines = aligned(&ours, &theirs);
    let same = lines.iter().all(|line| line.change == "same");
    let path = chosen::path(making.contract, shape);
    if common.format == Format::Json {
        console.json(&Beside {
            operation: making.contract.operation(shape.operation).name.text.to_string(),
            side: chosen::side_name(making.contract, shape),
            same,
            lines,
        });
    } else {
        console.note(&format!("{}\n", paint::path(&path)));
        console.out(&columns(&lines, &making.args.file, other, console.width()));
        let count = lines.iter().filter(|line| line.change != "same").count();
        let verdict = match count {
            0 => paint::good("the same"),
            count => paint::error(
                &format!("{} differ", crate::findings::of(count, "line"))
                    .replace("1 line differ", "1 line differs"),
            ),
        };
        console.out(&format!("{path}: {verdict}\n"));
    }
    Ok(if same { Status::Yes } else { Status::No })
}

/// The options for the other contract: its own port, if it has none of that name.
fn theirs(args: &MessageArgs, contract: &charter_contract::Contract) -> MessageArgs {
    let known = |name: &String| contract.ports().any(|(_, port)| *port.name.text == **name);
    MessageArgs { port: args.port.clone().filter(known), ..args.clone() }
}

fn text(making: &Making<'_>, shape: &WireShape) -> Result<String, crate::console::Failure> {
    let wire_content = making.wire_content(shape, None, &mut Console::new(crate::args::Color::Never))?;
    if let Some(form) = making.args.form {
        return Ok(String::from_utf8_lossy(&making.rendered(shape, &wire_content, form)?).replace('\r', ""));
    }
    let message = making.message(shape, wire_content);
    Ok(match message.envelope() {
        Some(envelope) => as_document(envelope, making.contract),
        None => String::from_utf8_lossy(&message.http(making.contract).to_bytes()).replace('\r', ""),
    })
}

/// Two texts beside each other, and whether they are the same.
pub fn beside(texts: (&str, &str), names: (&str, &str), width: usize) -> (String, bool) {
    let lines = aligned(texts.0, texts.1);
    let same = lines.iter().all(|line| line.change == "same");
    (columns(&lines, names.0, names.1, width), same)
}

/// The lines of both, those that belong together in one row.
fn aligned(old: &str, new: &str) -> Vec<Line> {
    let diff = TextDiff::from_lines(old, new);
    let mut lines: Vec<Line> = Vec::new();
    for change in diff.iter_all_changes() {
        let text = change.value().trim_end().to_owned();
        match change.tag() {
            ChangeTag::Equal => lines.push(Line { old: Some(text.clone()), new: Some(text), change: "same" }),
            ChangeTag::Delete => lines.push(Line { old: Some(text), new: None, change: "removed" }),
            ChangeTag::Insert => {
                // The first of the removed lines before it that has no partner yet, and none behind it that has.
                let open = lines.iter().rposition(|line| line.change != "removed").map_or(0, |at| at + 1);
                match lines.get_mut(open) {
                    Some(line) => *line = Line { old: line.old.take(), new: Some(text), change: "changed" },
                    None => lines.push(Line { old: None, new: Some(text), change: "added" }),
                }
            }
        }
    }
    lines
}

/// How a cell is painted.
type Painted = fn(&str) -> String;

/// Two columns with a mark between them.
fn columns(lines: &[Line], old: &str, new: &str, width: usize) -> String {
    let half = (width.max(60) - 5) / 2;
    let mut text = row(old, "", new, half, paint::strong, paint::strong);
    for line in lines {
        let plain: Painted = str::to_owned;
        let (mark, left, right): (&str, Painted, Painted) = match line.change {
            "same" => (" ", plain, plain),
            "removed" => ("-", paint::removed, plain),
            "added" => ("+", plain, paint::added),
            _ => ("≠", paint::removed, paint::added),
        };
        let (a, b) = (line.old.as_deref().unwrap_or(""), line.new.as_deref().unwrap_or(""));
        text.push_str(&row(a, mark, b, half, left, right));
    }
    text.push('\n');
    text
}

/// A row of two cells; what is too long goes on below.
fn row(old: &str, mark: &str, new: &str, half: usize, left: Painted, right: Painted) -> String {
    let (old, new) = (wrapped(old, half), wrapped(new, half));
    let mut text = String::new();
    for number in 0..old.len().max(new.len()) {
        let (a, a_width) = old.get(number).cloned().unwrap_or_default();
        let (b, _) = new.get(number).cloned().unwrap_or_default();
        let mark = match if number == 0 { mark } else { "" } {
            "-" => paint::removed("-"),
            "+" => paint::added("+"),
            "≠" => paint::warning("≠"),
            _ => " ".to_owned(),
        };
        let gap = " ".repeat(half - a_width.min(half));
        let line = format!("{}{gap} {mark} {} {}", left(&a), paint::faint("│"), right(&b));
        text.push_str(line.trim_end());
        text.push('\n');
    }
    text
}

/// A line in pieces of a width, each with how wide it is; what goes on stands in as far as the line does.
fn wrapped(line: &str, width: usize) -> Vec<(String, usize)> {
    let indent = (line.len() - line.trim_start().len()).min(width / 2);
    let mut pieces = vec![(String::new(), 0)];
    for c in line.chars() {
        let wide = c.width().unwrap_or(0);
        if pieces.last().is_some_and(|(_, so_far)| so_far + wide > width) {
            pieces.push((" ".repeat(indent + 2), indent + 2));
        }
        if let Some((piece, so_far)) = pieces.last_mut() {
            piece.push(c);
            *so_far += wide;
        }
    }
    pieces
}
