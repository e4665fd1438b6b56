//! `charter match`

pub mod learn;

use charter_check::{Level, rule};
use charter_contract::{Component, Contract, DocumentKind};
use charter_message::captured::{Captured, Raw, split};
use charter_message::matching::{Matched, Matcher, Severity};
use charter_message::values;
use charter_schema::Engine;
use charter_source::Store;
use rayon::prelude::*;
use serde::Serialize;

use super::Outcome;
use crate::args::{Format, MatchArgs};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::findings::{self, FindingJson, FindingText};
use crate::paint;
use crate::progress::Progress;

/// How many things that are wrong with one message are shown; the rest is counted.
const SHOWN: usize = 100;
/// Files that are read before they are judged, so that not all of them are held at once.
const AT_ONCE: usize = 512;

#[derive(Serialize)]
struct Answer {
    messages: Vec<Message>,
}

/// What there is to say about a message.
#[derive(Serialize)]
struct Message {
    file: String,
    /// The element at the root.
    element: Option<String>,
    operation: Option<String>,
    side: Option<String>,
    port: Option<String>,
    valid: bool,
    findings: Vec<FindingJson>,
    errors: usize,
    #[serde(skip_serializing_if = "Option::is_none")]
    values: Option<serde_json::Value>,
    /// What a record learns from it.
    #[serde(skip)]
    learned: Option<learn::Lesson>,
    /// What is shown to people.
    #[serde(skip)]
    text: String,
}

/// What all messages of a run have in common.
struct Judge<'j> {
    contract: &'j Contract,
    engine: &'j Engine<'j>,
    /// None where a schema alone decides.
    matcher: Option<Matcher<'j>>,
    args: &'j MatchArgs,
    format: Format,
    width: usize,
}

pub fn run(args: &MatchArgs, common: &Common, console: &mut Console) -> Outcome {
    if args.contract == "-" && args.files.iter().any(|file| file == "-") {
        return Err(Failure::new("standard input cannot be both the contract and a message")
            .help("save one of them as a file"));
    }
    let loaded = common.session.open(&args.contract)?;
    let (contract, engine) = (loaded.contract(), loaded.engine());
    told_of_errors(contract, &args.contract, console);
    let matcher = (contract.kind() == DocumentKind::Contract).then(|| Matcher::new(contract, engine, SHOWN));
    let judge = Judge { contract, engine, matcher, args, format: common.format, width: console.width() };
    let files = files(&args.files)?;
    let progress = Progress::over(files.len(), "messages");
    let mut answer = Answer { messages: Vec::new() };
    let mut failures = Vec::new();
    let (mut all, mut valid) = (0, 0);
    let mut learned = learn::Learned::default();
    for some in files.chunks(AT_ONCE) {
        let judged: Vec<Result<Vec<Message>, Failure>> = some
            .par_iter()
            .map(|file| read(common, file).map(|bytes| judge.file(file, &bytes, &progress)))
            .collect();
        for one in judged {
            match one {
                Ok(messages) => {
                    all += messages.len();
                    valid += messages.iter().filter(|message| message.valid).count();
                    for message in &messages {
                        if let (Some(operation), Some(lesson)) = (&message.operation, &message.learned) {
                            learned.add(operation, lesson);
                        }
                    }
                    judge.show(messages, &mut answer, console);
                }
                Err(failure) => failures.push(failure),
            }
        }
    }
    progress.done();
    if common.format == Format::Json || args.values {
        answer.show(args.values && common.format != Format::Json, console);
    } else if all > 1 {
        console.out(&format!("all: {valid} of {all} match\n"));
    }
    if let Some(record) = &args.learn {
        console.note(&learned.write(&common.session.writers, record, &args.contract)?);
    }
    for failure in &failures {
        console.fail(failure);
    }
    Ok(match (failures.is_empty(), valid == all) {
        (false, _) => Status::NoAnswer,
        (true, true) => Status::Yes,
        (true, false) => Status::No,
    })
}

/// Says that a contract has errors, by which verdicts may be wrong.
pub fn told_of_errors(contract: &Contract, name: &str, console: &mut Console) {
    let errors =
        charter_check::check(contract).iter().filter(|finding| finding.level == Level::Error).count();
    if errors > 0 {
        let many = if errors == 1 { "an error".to_owned() } else { format!("{errors} errors") };
        console.note(&format!(
            "{} {name} has {many}, so verdicts may be wrong: charter check {name}\n",
            paint::warning("charter:")
        ));
    }
}

pub use charter_session::folders::messages as files;

/// The bytes of a file of messages.
pub fn read(common: &Common, file: &str) -> Result<Vec<u8>, Failure> {
    charter_session::read::bytes(file, common.session.store.limits()).map_err(|error| {
        let help = charter_session::read::advice(&error, "check that the file may be read");
        Failure::new(error.to_string()).at(file).help(help)
    })
}

impl Answer {
    fn show(&self, values: bool, console: &mut Console) {
        if !values {
            return console.json(self);
        }
        for message in &self.messages {
            match &message.values {
                Some(values) => console.json(values),
                None => console.note(&format!(
                    "{} {}: its values are not known, since it matches no message of the contract whole\n",
                    paint::warning("charter:"),
                    message.file
                )),
            }
        }
    }
}

impl Judge<'_> {
    /// Judges the messages of a file, side by side where there are many.
    fn file(&self, name: &str, bytes: &[u8], progress: &Progress) -> Vec<Message> {
        let messages = split(name, bytes);
        progress.more(messages.len().saturating_sub(1));
        let judged = messages.par_iter().with_min_len(16).map(|raw| {
            progress.step();
            self.message(raw)
        });
        judged.collect()
    }

    /// Keeps what is for programs, and shows what is for people.
    fn show(&self, messages: Vec<Message>, answer: &mut Answer, console: &mut Console) {
        if self.format == Format::Json || self.args.values {
            return answer.messages.extend(messages);
        }
        messages.iter().for_each(|message| console.out(&message.text));
    }

    fn message(&self, raw: &Raw<'_>) -> Message {
        let captured = raw.open();
        let mut matched = match &self.matcher {
            Some(matcher) => matcher.judge(&captured),
            None => self.by_schema(&captured),
        };
        if !self.args.notes {
            matched.found.retain(|found| found.severity != Severity::Note);
        }
        // What a message comes nearest to is not what it is.
        let shape = matched.shape.filter(|_| !matched.nearest);
        let known = shape.and_then(|at| self.matcher.as_ref()?.known().get(at)).map(|known| &known.shape);
        let operation = known.map(|shape| self.contract.operation(shape.operation).name.text.to_string());
        let side = known.map(|shape| match shape.fault() {
            Some(fault) if fault.of_header => format!("header fault {}", fault.name),
            _ => self.contract.side_name(shape.operation, shape.side),
        });
        let port =
            known.and_then(|shape| shape.port).map(|port| self.contract.port(port).name.text.to_string());
        let taken = || {
            let wire_content = self.matcher.as_ref()?.wire_content(&captured, &matched)?;
            Some(values::write(self.engine, known?, &wire_content))
        };
        let values = self.args.values.then(taken);
        // A message that is wrong teaches nothing.
        let learned = (self.args.learn.is_some() && matched.is_valid()).then(taken).flatten();
        let learned = known.and_then(|shape| {
            let fault = shape.fault().map(|fault| fault.name.to_string());
            Some(learn::Lesson { is_request: shape.is_request(), fault, values: learned? })
        });
        let text = match self.format {
            Format::Json => String::new(),
            _ => self.text(&raw.label, &captured, &matched),
        };
        let file = &captured.file;
        let valid = matched.is_valid();
        let entries =
            if self.format == Format::Json { std::mem::take(&mut matched.found) } else { Vec::new() };
        let entries =
            entries.into_iter().map(|it| FindingJson::new(it.fault, level(it.severity), it.path, file));
        Message {
            file: raw.label.clone(),
            element: file.root().map(|root| root.tag_name().name().to_owned()),
            operation,
            side,
            port,
            valid,
            findings: entries.collect(),
            errors: matched.errors,
            values: values.flatten(),
            learned,
            text,
        }
    }

    /// The verdict of a schema alone, by the global element of the root's name.
    fn by_schema(&self, captured: &Captured) -> Matched {
        let mut matched = Matched::default();
        match (&captured.fault, captured.file.root()) {
            (Some(fault), _) => matched.add_fault(fault.clone(), "document"),
            (None, Some(root)) => matched.add(self.engine.validate(captured.file.id, root, SHOWN)),
            (None, None) => {
                let place = charter_source::Place::default();
                let fault =
                    charter_source::Fault::new("message-unreadable", place, "this is no XML document");
                matched.add_fault(
                    fault.help("give a document, or the contract that the message belongs to"),
                    "document",
                );
            }
        }
        matched
    }

    /// What people read about a message: the findings, and the verdict.
    fn text(&self, label: &str, captured: &Captured, matched: &Matched) -> String {
        let mut text = String::new();
        for found in &matched.found {
            let shown = FindingText {
                level: level(found.severity),
                path: &found.path,
                message: &found.fault.message,
                help: found.fault.help.as_deref(),
                rule: found.fault.rule,
                standard: rule(found.fault.rule).map_or("", |rule| rule.standard),
            };
            text.push_str(&findings::block(&shown, &captured.file, found.fault.place, self.width));
        }
        let listed = matched.found.iter().filter(|found| found.severity == Severity::Error).count();
        if matched.errors > listed {
            text.push_str(&format!("{} more like these are not shown\n\n", matched.errors - listed));
        }
        let count = |severity| matched.found.iter().filter(|found| found.severity == severity).count();
        let (warnings, notes) = (count(Severity::Warning), count(Severity::Note));
        let what = self.what(matched);
        let verdict = match (matched.errors, warnings + notes) {
            (0, 0) => format!("{}{what}", paint::good("matches")),
            (0, _) => format!("{}{what}, {}", paint::good("matches"), findings::count(0, warnings, notes)),
            (errors, _) => {
                format!(
                    "{}{what}, {}",
                    paint::error("does not match"),
                    findings::count(errors, warnings, notes)
                )
            }
        };
        text.push_str(&format!("{label}: {verdict}\n"));
        text
    }

    /// Which operation and side a message is, and by which port.
    fn what(&self, matched: &Matched) -> String {
        let known = matched.shape.and_then(|at| self.matcher.as_ref()?.known().get(at));
        let Some(shape) = known.map(|known| &known.shape) else { return String::new() };
        let side = Component::OperationSide(shape.operation, shape.side);
        let path = match shape.fault() {
            Some(fault) if fault.of_header => {
                let operation = self.contract.path(Component::Operation(shape.operation));
                format!("{operation}, header fault {}", fault.name)
            }
            _ => self.contract.path(side).to_string(),
        };
        let path = paint::path(&path);
        if matched.nearest {
            return format!(", nearest to {path}");
        }
        if matched.body_alone {
            return format!(" {path}, the body alone");
        }
        let by =
            shape.port.map(|port| format!(" by {}", self.contract.port(port).name.text)).unwrap_or_default();
        match shape.soap() {
            Some(soap) => format!(" {path}{by}, SOAP {}", soap.version.number()),
            None => format!(" {path}{by}, HTTP {}", shape.method),
        }
    }
}

fn level(severity: Severity) -> Level {
    match severity {
        Severity::Error => Level::Error,
        Severity::Warning => Level::Warning,
        Severity::Note => Level::Note,
    }
}
