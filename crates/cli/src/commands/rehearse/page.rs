//! A rehearsal on a page, in HTML that needs nothing else.

use charter_exchange::journal::without_secrets;
use charter_exchange::rehearsal::{Figures, Rehearsed};
use charter_message::http::{HttpMessage, Start};
use minijinja::context;
use serde::Serialize;

use super::{Report, plot, text, words};
use crate::commands::send::shown_time;
use crate::paint;

/// How much of a message is on the page.
const LONGEST: usize = 100_000;

#[derive(Serialize)]
struct Row {
    right: bool,
    word: &'static str,
    name: String,
    operation: String,
    port: String,
    status: String,
    took: String,
    unlike: Vec<Difference>,
    messages: Vec<Shown>,
}

#[derive(Serialize)]
struct Difference {
    path: Option<String>,
    words: String,
    pair: Option<(String, String)>,
}

#[derive(Serialize)]
struct Shown {
    title: String,
    text: String,
}

/// The page of a rehearsal.
pub fn page(report: &Report<'_>) -> String {
    let others = report.beside.as_ref().map(|beside| &beside.exchanges);
    let rows: Vec<Row> = report
        .exchanges
        .iter()
        .enumerate()
        .map(|(at, one)| row(report, one, others.and_then(|all| all.get(at)), "as expected"))
        .collect();
    let hostile: Vec<Row> =
        report.hostile.iter().flatten().map(|one| row(report, one, None, "refused")).collect();
    let figures = report.figures.as_ref();
    crate::escape::page(
        include_str!("page.html"),
        context! {
            title => report.title,
            against => report.against,
            beside => report.beside.as_ref().map(|beside| &beside.address),
            about => report.about,
            right => report.is_right(),
            summary => paint::plain(text::summary(report).trim_end()),
            figures => figures.map(table),
            plot => figures.and_then(plot::latency),
            pair => if others.is_some() { ("here", "there") } else { ("expected", "came") },
            rows, hostile,
        },
    )
}

fn row(report: &Report<'_>, one: &Rehearsed, other: Option<&Rehearsed>, word: &'static str) -> Row {
    let exchange = one.exchange.as_ref();
    let status = exchange.and_then(|exchange| exchange.reply.as_ref()?.start.status());
    let difference = |unlike| {
        let path = words::path(unlike).map(str::to_owned);
        let words = words::of(report.contract, one, unlike);
        let words = match &path {
            Some(path) => words.strip_prefix(&format!("{path}: ")).map_or(words.clone(), str::to_owned),
            None => words,
        };
        Difference { path, words, pair: words::pair(unlike) }
    };
    let mut messages = Vec::new();
    if let Some(exchange) = exchange {
        messages.push(shown("the request", &exchange.request));
        let title = if other.is_some() { "the reply here" } else { "the reply" };
        messages.extend(exchange.reply.as_ref().map(|reply| shown(title, reply)));
    }
    let theirs = other.and_then(|other| other.exchange.as_ref()?.reply.as_ref());
    messages.extend(theirs.map(|reply| shown("the reply there", reply)));
    let right = one.unlike.is_empty();
    Row {
        right,
        word: match (right, other.is_some(), word) {
            (true, true, _) => "the same",
            (true, false, word) => word,
            (false, ..) if text::is_taken(one) => "taken",
            (false, ..) => "differs",
        },
        name: text::name(one),
        operation: one.operation.to_string(),
        port: one.port.to_string(),
        status: status.map_or("–".to_owned(), |status| status.to_string()),
        took: exchange.map_or(String::new(), |exchange| shown_time(exchange.took)),
        unlike: one.unlike.iter().map(difference).collect(),
        messages,
    }
}

fn shown(title: &str, message: &HttpMessage) -> Shown {
    let message = without_secrets(message);
    let first = match &message.start {
        Start::Request { method, target } => format!("{method} {target}"),
        Start::Reply { status } => format!("HTTP {status}"),
    };
    let fields: String = message.headers.iter().map(|(name, value)| format!("{name}: {value}\n")).collect();
    let body = match String::from_utf8(message.body) {
        Ok(body) => body,
        Err(error) => format!("({} octets that are no text)", error.as_bytes().len()),
    };
    let body = match body.char_indices().nth(LONGEST) {
        Some((end, _)) => format!("{}\n… and {} octets more", &body[..end], body.len() - end),
        None => body,
    };
    Shown { title: title.to_owned(), text: format!("{first}\n{fields}\n{body}") }
}

/// What was measured, as pairs of what it is and how much.
fn table(figures: &Figures) -> Vec<(String, String)> {
    let row = |name: &str, value: String| (name.to_owned(), value);
    let mut rows = vec![
        row("exchanges", text::grouped(figures.exchanges)),
        row("a second", text::grouped(figures.rate().round() as u64)),
        row("half within", shown_time(figures.within(0.5))),
        row("99 % within", shown_time(figures.within(0.99))),
        row("the slowest", shown_time(figures.slowest())),
        row("not as expected", text::grouped(figures.unlike)),
    ];
    rows.extend(
        figures
            .outcomes
            .iter()
            .map(|(outcome, count)| row(crate::findings::counted(*outcome, *count), text::grouped(*count))),
    );
    rows
}
