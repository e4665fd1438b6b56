//! `charter match`

use charter_check::{Level, rule};
use charter_schema::{Engine, Report, Wrong};
use charter_source::Files;
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Failure, Status};
use crate::findings::{self, Entry, Shown};
use crate::load::Common;
use crate::{load, paint};

/// How many things that are wrong with one message are shown; the rest is counted.
const SHOWN: usize = 100;

#[derive(Serialize)]
struct Answer {
    messages: Vec<Message>,
}

#[derive(Serialize)]
struct Message {
    file: String,
    /// The element at the root.
    element: Option<String>,
    operation: Option<String>,
    side: Option<String>,
    valid: bool,
    findings: Vec<Entry>,
    errors: usize,
}

pub fn run(schema: &str, files: &[String], common: &Common, console: &mut Console) -> Outcome {
    if schema == "-" && files.iter().any(|file| file == "-") {
        return Err(Failure::new("standard input cannot be both the schema and a message")
            .help("save one of them as a file"));
    }
    let contract = load::load_readable(common, schema)?;
    let errors =
        charter_check::check(&contract).iter().filter(|finding| finding.level == Level::Error).count();
    if errors > 0 {
        let many = if errors == 1 { "an error".to_owned() } else { format!("{errors} errors") };
        console.note(&format!(
            "{} {schema} has {many}, so verdicts may be wrong: charter check {schema}\n",
            paint::warning("charter:")
        ));
    }
    let engine = Engine::new(&contract.files, &contract.schemas);
    let mut answer = Answer { messages: Vec::new() };
    let mut failures = Vec::new();
    for name in files {
        match load::files(common, name) {
            Ok(files) => {
                let message = judge(&engine, &files, name, common.format, console);
                answer.messages.push(message);
            }
            Err(failure) => failures.push(failure),
        }
    }
    let valid = answer.messages.iter().filter(|message| message.valid).count();
    if common.format == Format::Json {
        console.json(&answer);
    } else if files.len() > 1 && !answer.messages.is_empty() {
        console.out(&format!("all: {valid} of {} match\n", answer.messages.len()));
    }
    for failure in &failures {
        console.fail(failure);
    }
    Ok(match (failures.is_empty(), valid == answer.messages.len()) {
        (false, _) => Status::NoAnswer,
        (true, true) => Status::Yes,
        (true, false) => Status::No,
    })
}

/// Judges one message, and shows what is wrong with it unless that is for a program to read.
fn judge(engine: &Engine<'_>, files: &Files, name: &str, format: Format, console: &mut Console) -> Message {
    let file = files.first();
    let report = match file.root() {
        Some(root) => engine.validate(file.id, root, SHOWN),
        None => not_xml(files),
    };
    if format == Format::Text {
        for wrong in &report.wrong {
            let shown = Shown {
                level: Level::Error,
                path: &wrong.path,
                message: &wrong.fault.message,
                help: wrong.fault.help.as_deref(),
                rule: wrong.fault.rule,
                standard: rule(wrong.fault.rule).map_or("", |rule| rule.standard),
            };
            console.out(&findings::block(&shown, file, wrong.fault.place, console.width()));
        }
        if report.count > report.wrong.len() {
            console.out(&format!("{} more like these are not shown\n\n", report.count - report.wrong.len()));
        }
        let verdict = match report.count {
            0 => paint::good("matches"),
            count => format!("{}, {}", paint::error("does not match"), findings::count(count, 0, 0)),
        };
        console.out(&format!("{name}: {verdict}\n"));
    }
    let entry = |wrong: Wrong| Entry::new(wrong.fault, Level::Error, wrong.path, file);
    Message {
        file: file.location.to_string(),
        element: file.root().map(|root| root.tag_name().name().to_owned()),
        operation: None,
        side: None,
        valid: report.is_valid(),
        errors: report.count,
        findings: report.wrong.into_iter().map(entry).collect(),
    }
}

/// The report on a text that is not well-formed.
fn not_xml(files: &Files) -> Report {
    let mut report = Report::default();
    for fault in files.faults() {
        report.count += 1;
        report.wrong.push(Wrong { fault: fault.clone(), path: "document".into() });
    }
    report
}
