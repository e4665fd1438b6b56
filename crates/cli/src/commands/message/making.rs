//! Makes a message by the options: what fills it, the blocks beside it, and the form in which it is shown.

use std::cell::{OnceCell, RefCell};
use std::rc::Rc;

use charter_contract::{Component, Contract, OperationId, PortId, Side, WireShape};
use charter_exchange::fresh;
use charter_message::blocks::{Added, TimeAndIds, Wanted};
use charter_message::captured::Captured;
use charter_message::matching::{Matcher, Severity};
use charter_message::values::{self, ByPath, ValueError};
use charter_message::{
    Element, Marks, Message, Payload, SampleError, Size, WireContent, as_document, assemble, sample, template,
};
use charter_schema::Engine;
use charter_session::{Rows, Spot};
use serde_json::Value as Json;

use super::comments;
use crate::args::{FormArg, MessageArgs};
use crate::common::Common;
use crate::console::{Console, Failure};
use charter_source::Store;

/// What all messages of a run have in common.
pub struct Making<'m> {
    pub contract: &'m Contract,
    pub engine: &'m Engine<'m>,
    pub args: &'m MessageArgs,
    pub common: &'m Common,
    pub size: Size,
    time_and_ids: TimeAndIds,
    /// Whether values are taken that the contract does not allow.
    anyway: bool,
    /// The values of the shape that was asked for last: rows are of one shape.
    by_path: RefCell<Option<(ShapeKey, Rc<ByPath<'m>>)>>,
    matcher: OnceCell<Matcher<'m>>,
}

/// What tells a shape from others.
type ShapeKey = (OperationId, Side, Option<PortId>);

impl<'m> Making<'m> {
    pub fn of(
        contract: &'m Contract,
        engine: &'m Engine<'m>,
        args: &'m MessageArgs,
        common: &'m Common,
    ) -> Making<'m> {
        let size = super::size(args.size, args.seed);
        let time_and_ids = if args.fresh { fresh() } else { TimeAndIds::default() };
        Making {
            contract,
            engine,
            args,
            common,
            size,
            time_and_ids,
            anyway: false,
            by_path: RefCell::default(),
            matcher: OnceCell::new(),
        }
    }

    /// The same for messages that are to be refused: values are taken that the contract does not allow.
    pub fn anyway(self) -> Making<'m> {
        Making { anyway: true, ..self }
    }

    /// The same with a time and identifiers of its own.
    pub fn renewed(&mut self) {
        self.time_and_ids = fresh();
    }

    /// The form in which a message is shown: an envelope, or the whole of what has none or more than that.
    pub fn form(&self, shape: &WireShape) -> FormArg {
        let whole = shape.soap().is_none_or(|soap| !soap.attachments.is_empty());
        self.args.form.unwrap_or(if whole { FormArg::Http } else { FormArg::Envelope })
    }

    /// The header blocks that the contract itself does not name.
    pub fn blocks(&self, shape: &WireShape) -> Vec<Element> {
        let added = Added {
            addressing: self.args.addressing,
            user: self.args.user.clone(),
            password: self.args.password.clone(),
            digest: self.args.digest,
        };
        let wanted = Wanted::of(self.contract, shape).and(self.contract, shape, &added);
        wanted.blocks(self.contract, shape, &self.time_and_ids)
    }

    pub fn message(&self, shape: &WireShape, wire_content: WireContent) -> Message {
        assemble(self.engine, shape, wire_content, &self.blocks(shape))
    }

    pub fn sample(&self, shape: &WireShape) -> Result<WireContent, Failure> {
        let path = self.contract.path(Component::OperationSide(shape.operation, shape.side)).to_string();
        let failed = |error: SampleError| {
            Failure::new(error.to_string())
                .at(Spot::of(self.contract, error.place()))
                .of(path.clone())
                .help("change the type so that a message can be made")
        };
        sample(self.engine, shape, self.size).map_err(failed)
    }

    /// What fills a shape: a sample, or the values that the options give. `row` are values by wire path.
    pub fn wire_content(
        &self,
        shape: &WireShape,
        row: Option<(&[String], &[String])>,
        console: &mut Console,
    ) -> Result<WireContent, Failure> {
        let given = self.args.values.is_some() || !self.args.settings.is_empty() || row.is_some();
        if !given {
            return self.sample(shape);
        }
        let from_file = row.is_none().then_some(self.args.values.as_deref()).flatten();
        let mut all = match from_file {
            Some(file) => json(self.common, file)?,
            None => values::write(self.engine, shape, &self.sample(shape)?),
        };
        if self.args.fill && from_file.is_some() {
            let mut sample = values::write(self.engine, shape, &self.sample(shape)?);
            lay_over(&mut sample, all);
            all = sample;
        }
        let source = self.args.values.as_deref().unwrap_or(&self.args.file);
        let of = |error: &ValueError| {
            Failure::new(error.message.clone()).at(source).of(error.path.clone()).help(error.help.clone())
        };
        let pairs = self.pairs()?;
        let by_path = self.by_path(shape);
        let cells = row.map(|(paths, cells)| paths.iter().cloned().zip(cells.iter().cloned()));
        for (path, text) in cells.into_iter().flatten().chain(pairs) {
            by_path.set(&mut all, &path, &text).map_err(|error| of(&error))?;
        }
        let read = if self.anyway { values::read_anyway } else { values::read };
        let wire_content = read(self.engine, shape, &all).map_err(|mut errors| {
            let last = errors.pop();
            for error in &errors {
                console.fail(&of(error));
            }
            last.as_ref().map_or_else(|| Failure::new("the values do not fit"), of)
        })?;
        if !self.anyway {
            self.must_match(shape, &wire_content, source)?;
        }
        Ok(wire_content)
    }

    fn by_path(&self, shape: &WireShape) -> Rc<ByPath<'m>> {
        let of = (shape.operation, shape.side, shape.port);
        let mut known = self.by_path.borrow_mut();
        match &*known {
            Some((own, by_path)) if *own == of => by_path.clone(),
            _ => known.insert((of, Rc::new(ByPath::of(self.engine, shape)))).1.clone(),
        }
    }

    /// The wire paths and values on the command line.
    fn pairs(&self) -> Result<Vec<(String, String)>, Failure> {
        let pair = |setting: &String| {
            // A namespace in a path may hold an equals sign.
            let mut inside = false;
            let at = setting.char_indices().find(|(_, c)| {
                inside = (inside || *c == '{') && *c != '}';
                *c == '=' && !inside
            });
            match at.map(|(at, _)| (&setting[..at], &setting[at + 1..])) {
                Some((path, value)) => Ok((path.to_owned(), value.to_owned())),
                None => Err(Failure::new(format!("\"{setting}\" sets nothing"))
                    .help("write PATH=VALUE, such as vessel/draught=9.4")),
            }
        };
        self.args.settings.iter().map(pair).collect()
    }

    /// Whether a message that was made of given values is what the contract asks for: keys and identifiers are only seen
    /// on the whole.
    fn must_match(&self, shape: &WireShape, wire_content: &WireContent, source: &str) -> Result<(), Failure> {
        // What an option adds, the contract does not know.
        let blocks = Wanted::of(self.contract, shape).blocks(self.contract, shape, &self.time_and_ids);
        let message = assemble(self.engine, shape, wire_content.clone(), &blocks).http(self.contract);
        let matcher = self.matcher.get_or_init(|| Matcher::new(self.contract, self.engine, 5));
        let matched = matcher.judge(&Captured::received("values", message));
        match matched.found.iter().find(|found| found.severity == Severity::Error) {
            None => Ok(()),
            Some(found) => {
                let failure = Failure::new(found.fault.message.clone()).at(source).of(found.path.clone());
                Err(match &found.fault.help {
                    Some(help) => failure.help(help.clone()),
                    None => failure,
                })
            }
        }
    }

    /// The message in a form.
    pub fn rendered(
        &self,
        shape: &WireShape,
        wire_content: &WireContent,
        form: FormArg,
    ) -> Result<Vec<u8>, Failure> {
        if form == FormArg::Json {
            let values = values::write(self.engine, shape, wire_content);
            return Ok(pretty(&values).into_bytes());
        }
        if form == FormArg::Template {
            let marks = Marks { place: self.args.place.clone() };
            return Ok(template(self.contract, self.engine, shape, &self.blocks(shape), &marks).into_bytes());
        }
        self.written(shape, self.message(shape, wire_content.clone()), form)
    }

    /// A message in a form that shows all of it.
    pub fn written(
        &self,
        shape: &WireShape,
        mut message: Message,
        form: FormArg,
    ) -> Result<Vec<u8>, Failure> {
        if let (FormArg::Http | FormArg::Curl, Some(transport)) = (form, shape.other_transport()) {
            let failure = Failure::new(format!("the binding sends it by {transport}, not by HTTP"));
            let path = super::chosen::path(self.contract, shape);
            return Err(failure.of(path).help("see it with --as envelope"));
        }
        if self.args.comments {
            message = comments::noted(self.contract, message);
        }
        Ok(match form {
            FormArg::Http => message.http(self.contract).to_bytes(),
            FormArg::Curl => {
                if !message.start.is_request() {
                    let failure =
                        Failure::new("a reply cannot be sent").of(super::chosen::path(self.contract, shape));
                    return Err(failure.help("--as curl is for what begins an exchange: --side input"));
                }
                message.curl(self.contract).into_bytes()
            }
            FormArg::Body => match message.envelope().map(body) {
                Some(elements) => {
                    let texts = elements.iter().map(|element| as_document(element, self.contract));
                    texts.collect::<String>().into_bytes()
                }
                None => message.body(self.contract),
            },
            _ => match message.envelope() {
                Some(envelope) => as_document(envelope, self.contract).into_bytes(),
                None => {
                    let path = super::chosen::path(self.contract, shape);
                    let failure = Failure::new("this message has no envelope").of(path);
                    return Err(failure.help("see it with --as http or --as body"));
                }
            },
        })
    }
}

/// The elements in the body of an envelope.
fn body(envelope: &Element) -> Vec<Element> {
    let body = envelope.elements().find(|child| &*child.name.local == "Body");
    body.into_iter().flat_map(Element::elements).cloned().collect()
}

/// The file ending of a form.
pub fn ending(form: FormArg, message: &Message) -> &'static str {
    match (form, &message.payload) {
        (FormArg::Http, _) => "http",
        (FormArg::Curl, _) => "sh",
        (FormArg::Json, _) => "json",
        (_, Payload::Xml(_)) | (FormArg::Template, _) => "xml",
        _ => "txt",
    }
}

/// JSON for people.
pub fn pretty(values: &Json) -> String {
    serde_json::to_string_pretty(values).unwrap_or_default() + "\n"
}

/// Lays values over others: objects by key, everything else as a whole.
fn lay_over(base: &mut Json, over: Json) {
    match (base, over) {
        (Json::Object(base), Json::Object(over)) => {
            for (key, value) in over {
                match base.get_mut(&key) {
                    Some(known) => lay_over(known, value),
                    None => drop(base.insert(key, value)),
                }
            }
        }
        (base, over) => *base = over,
    }
}

fn text_of(common: &Common, file: &str) -> Result<Vec<u8>, Failure> {
    charter_session::read::bytes(file, common.session.store.limits()).map_err(|error| {
        let help =
            charter_session::read::advice(&error, "give a file of JSON or CSV; - reads standard input");
        Failure::new(error.to_string()).at(file).help(help)
    })
}

fn json(common: &Common, file: &str) -> Result<Json, Failure> {
    let bytes = text_of(common, file)?;
    let bare = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(&bytes);
    serde_json::from_slice(bare).map_err(|error| {
        let words = error.to_string();
        let words = words.split(" at line ").next().unwrap_or(&words);
        let failure = Failure::new(format!("this is not JSON: {words}"));
        failure
            .at(format!("{file}:{}:{}", error.line(), error.column()))
            .help("write an object: { \"name\": value }")
    })
}

/// The rows of a CSV file, if the values are in one.
pub fn rows(args: &MessageArgs, common: &Common) -> Result<Option<Rows>, Failure> {
    let Some(file) = args.values.as_deref() else { return Ok(None) };
    let ending = std::path::Path::new(file).extension();
    if !ending.is_some_and(|ending| ending.eq_ignore_ascii_case("csv")) {
        return Ok(None);
    }
    let bytes = text_of(common, file)?;
    let rows = Rows::read(&bytes).ok_or_else(|| {
        Failure::new("the file is empty").at(file).help("the first row names the wire paths")
    })?;
    Ok(Some(rows))
}
