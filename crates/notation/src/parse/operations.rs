//! Reads operations: each is an operation of the port type, its messages, and the elements in them.

use charter_source::{Map, QName, Span};

use super::cursor::{Cursor, Parsed};
use super::particles::{Local, opens_type, typed};
use super::simple::type_name;
use super::{About, abouts, document, is_about, verbatim, with};
use crate::bound::{BodyParts, Header, Headers};
use crate::convention::{Convention, SideKind};
use crate::info::{ElementInfo, Value};

/// What operations are made of, as they are read one after the other.
#[derive(Default)]
pub(crate) struct Made {
    /// Messages.
    pub messages: Listed,
    /// Elements of the contract's own schema.
    pub elements: Listed,
}

/// Element infos with where each was first written, found by their names.
#[derive(Default)]
pub(crate) struct Listed {
    list: Vec<(ElementInfo, Span)>,
    by_name: Map<Option<String>, usize>,
}

impl Listed {
    /// The element infos, in the order in which they were written.
    pub fn infos(self) -> impl Iterator<Item = ElementInfo> {
        self.list.into_iter().map(|(info, _)| info)
    }

    /// Adds an element info, whatever has its name.
    pub fn push(&mut self, info: ElementInfo, span: Span) {
        let name = info.text("name").map(str::to_owned);
        self.by_name.entry(name).or_insert(self.list.len());
        self.list.push((info, span));
    }

    /// Those of the element infos that are wanted.
    pub fn filter(self, wanted: impl Fn(&ElementInfo) -> bool) -> Listed {
        let mut kept = Listed::default();
        self.list.into_iter().filter(|(info, _)| wanted(info)).for_each(|(info, span)| kept.push(info, span));
        kept
    }

    /// Adds a message or an element, which may stand in several places if it is the same in all.
    fn add(&mut self, info: ElementInfo, span: Span, cursor: &mut Cursor<'_>) {
        let name = info.text("name").map(str::to_owned);
        match self.by_name.get(&name).map(|at| &self.list[*at]) {
            None => self.push(info, span),
            Some((known, _)) if *known == info => {}
            Some((_, first)) => {
                let line = cursor.text[..first.start as usize].matches('\n').count() + 1;
                let name = name.unwrap_or_default();
                let message = format!("\"{name}\" is not what it is on line {line}");
                let help = "write the same in both places, or give one of them another name".to_owned();
                cursor.fail(span, message, Some(help));
            }
        }
    }
}

/// An operation, and what its bindings have to say about it.
pub(crate) struct OperationReading {
    pub info: ElementInfo,
    pub headers: Headers,
    pub parts: BodyParts,
}

/// What is around an operation.
pub(crate) struct Around<'a> {
    pub convention: &'a Convention,
    pub target: &'a str,
    pub local: Local,
}

impl Around<'_> {
    fn own(&self, local: &str) -> QName {
        QName::new(self.target, local)
    }
}

/// A header block that goes into the message of a side.
struct Within {
    side: SideKind,
    part: ElementInfo,
}

pub(crate) fn operation(
    cursor: &mut Cursor<'_>,
    around: &Around<'_>,
    made: &mut Made,
) -> Parsed<OperationReading> {
    cursor.keyword("operation");
    let name = cursor.name("the name of the operation")?;
    let mut info = ElementInfo::wsdl("operation").with("name", name.as_str());
    if cursor.keyword("from") && !(cursor.keyword("the") && cursor.keyword("provider")) {
        return Err(cursor.expected("the words \"the provider\""));
    }
    with(cursor, &mut info)?;
    let mut headers = Headers::default();
    let mut within: Vec<Within> = Vec::new();
    let mut sides: Vec<SideReading> = Vec::new();
    let mut one_way = None;
    cursor.block(|cursor| {
        match cursor.word() {
            Some("about") => document(&mut info, &abouts(cursor, "about")?),
            Some("parameters") => {
                cursor.keyword("parameters");
                info.set("parameterOrder", Value::Text(names(cursor)?.join(" ")));
            }
            Some(word @ "one-way") => {
                one_way = Some(Span::new(cursor.at, cursor.at + word.len()));
                cursor.keyword(word);
            }
            Some("header" | "reply") => {
                let (kind, header, part) = header(cursor, around, made)?;
                match (header, part) {
                    (Some(header), _) if kind == SideKind::Input => headers.request.push(header),
                    (Some(header), _) => headers.reply.push(header),
                    (None, Some(part)) => within.push(Within { side: kind, part }),
                    (None, None) => {}
                }
            }
            Some("input" | "output" | "fault") => sides.push(side(cursor, around, &name)?),
            _ if verbatim::is_next(cursor) => {
                let xml = verbatim::xml(cursor, around.local.qualified)?;
                if is_about(&xml) { document(&mut info, &[About::Xml(xml)]) } else { info.push(xml) }
            }
            _ => {
                return Err(cursor
                    .expected("about, header, reply header, input, output, fault, one-way or parameters"));
            }
        }
        Ok(())
    })?;
    let has = |kind| sides.iter().any(|side: &SideReading| side.kind == kind);
    if let Some(span) = one_way.filter(|_| has(SideKind::Input) && has(SideKind::Output)) {
        let help = "leave out \"one-way\", or the output".to_owned();
        cursor.fail(span, "a one-way operation has no reply".to_owned(), Some(help));
    }
    let mut parts = BodyParts::default();
    for side in sides {
        let kind = side.kind;
        let own: Vec<&Within> = within.iter().filter(|it| it.side == kind).collect();
        let message = side.usage.named("message").cloned();
        let mut definition = side.message;
        if let (Some(message), Some(name)) = (&mut definition, message) {
            if !own.is_empty() {
                let body: Vec<&str> = message.elements().filter_map(|part| part.text("name")).collect();
                parts[usize::from(kind == SideKind::Output)] = Some(body.join(" "));
            }
            for Within { part, .. } in own {
                message.push(part.clone());
                let header =
                    Header { message: name.clone(), part: part.text("name").unwrap_or("").to_owned() };
                if kind == SideKind::Input {
                    headers.request.push(header)
                } else {
                    headers.reply.push(header)
                }
            }
        }
        if let Some(message) = definition {
            made.messages.add(message, side.span, cursor);
        }
        if let Some(element) = side.element {
            made.elements.add(element, side.span, cursor);
        }
        info.push(side.usage);
    }
    Ok(OperationReading { info, headers, parts })
}

fn names(cursor: &mut Cursor<'_>) -> Parsed<Vec<String>> {
    let mut found = Vec::new();
    loop {
        found.push(cursor.name("the name of a part")?);
        if !cursor.mark(",") {
            return Ok(found);
        }
    }
}

/// `header credentials: AgentCredentials`, with what that holds if it is new, and with its message if that has another
/// name, or `in input`.
pub(crate) fn header(
    cursor: &mut Cursor<'_>,
    around: &Around<'_>,
    made: &mut Made,
) -> Parsed<(SideKind, Option<Header>, Option<ElementInfo>)> {
    let start = cursor.at;
    let kind = if cursor.keyword("reply") { SideKind::Output } else { SideKind::Input };
    if !cursor.keyword("header") {
        return Err(cursor.expected("\"header\""));
    }
    let part = cursor.name("the name of the part")?;
    if cursor.keyword("of") {
        let message = cursor.qname("the name of a message")?;
        return Ok((kind, Some(Header { message, part }), None));
    }
    cursor.expect(":")?;
    let element = cursor.qname("the name of the element of the header block")?;
    header_element(cursor, around, &element, made)?;
    let info = ElementInfo::wsdl("part").with("name", part.as_str()).naming("element", &element);
    if cursor.keyword("in") {
        let word = if kind == SideKind::Input { "input" } else { "output" };
        if !cursor.keyword(word) {
            return Err(cursor.expected(&format!("\"{word}\"")));
        }
        return Ok((kind, None, Some(info)));
    }
    let message = if cursor.keyword("of") {
        cursor.name("the name of the message")?
    } else {
        Convention::apply(&around.convention.header_message, &element.local)
    };
    let span = Span::new(start, cursor.at);
    let definition = ElementInfo::wsdl("message").with("name", message.as_str()).holding(info);
    made.messages.add(definition, span, cursor);
    Ok((kind, Some(Header { message: around.own(&message), part }), None))
}

/// What the element of a header block holds, if that is said here: `Credentials { … }`, or `Pass = string`.
fn header_element(cursor: &mut Cursor<'_>, around: &Around<'_>, name: &QName, made: &mut Made) -> Parsed<()> {
    let start = cursor.at;
    cursor.blanks();
    if !cursor.mark("=") && !opens_type(cursor) {
        return Ok(());
    }
    if *name.namespace != *around.target {
        let message = format!("the element {name} is in another namespace and cannot be defined here");
        return Err(cursor.fail(Span::new(start, cursor.at), message, None));
    }
    let mut info = ElementInfo::xsd("element").with("name", &*name.local);
    typed(cursor, &mut info, around.local, false)?;
    let span = Span::new(start, cursor.at);
    made.elements.add(info, span, cursor);
    Ok(())
}

/// A side of an operation.
pub(crate) struct SideReading {
    pub kind: SideKind,
    pub usage: ElementInfo,
    pub message: Option<ElementInfo>,
    pub element: Option<ElementInfo>,
    pub span: Span,
}

pub(crate) fn side(cursor: &mut Cursor<'_>, around: &Around<'_>, operation: &str) -> Parsed<SideReading> {
    let start = cursor.at;
    let word = cursor.word().unwrap_or("");
    let kind = match word {
        "input" => SideKind::Input,
        "output" => SideKind::Output,
        _ => SideKind::Fault,
    };
    let mut usage = ElementInfo::wsdl(word);
    cursor.keyword(word);
    let stem = match kind {
        SideKind::Fault => cursor.name("the name of the fault")?,
        _ => operation.to_owned(),
    };
    if kind == SideKind::Fault {
        usage = usage.with("name", stem.as_str());
    }
    let mut message = around.own(&around.convention.message(&stem, kind));
    let mut part = around.convention.part(kind).to_owned();
    loop {
        match cursor.word() {
            Some("named") => {
                cursor.keyword("named");
                usage = usage.with("name", cursor.name("the name of the side")?);
            }
            Some("message") => {
                cursor.keyword("message");
                message = cursor.qname("the name of a message")?;
            }
            Some("part") => {
                cursor.keyword("part");
                part = cursor.name("the name of the part")?;
            }
            Some("with") if cursor.after_word() != Some(':') => with(cursor, &mut usage)?,
            _ => break,
        }
    }
    usage.set("message", Value::name(&message));
    let mut definition = ElementInfo::wsdl("message").with("name", &*message.local);
    let mut element = None;
    cursor.blanks();
    let is_own = *message.namespace == *around.target;
    let holds = cursor.peek() == Some('(');
    let inline = !holds && (cursor.mark(":") || opens_type(cursor));
    if (holds || inline) && !is_own {
        let span = Span::new(start, cursor.at);
        let message = format!("the message {message} is in another namespace and cannot be defined here");
        return Err(cursor.fail(span, message, None));
    }
    if holds {
        definition.children = parts(cursor)?.into_iter().map(crate::info::Child::Element).collect();
    } else if inline {
        let name = around.own(&around.convention.element(&stem, kind));
        let mut info = ElementInfo::xsd("element").with("name", &*name.local);
        typed(cursor, &mut info, around.local, false)?;
        definition.push(ElementInfo::wsdl("part").with("name", part).naming("element", &name));
        element = Some(info);
    }
    let span = Span::new(start, cursor.at);
    document(&mut usage, &abouts(cursor, "about")?);
    Ok(SideReading { kind, usage, message: (holds || inline).then_some(definition), element, span })
}

/// The parts of a message in parentheses.
pub(crate) fn parts(cursor: &mut Cursor<'_>) -> Parsed<Vec<ElementInfo>> {
    cursor.expect("(")?;
    let mut found = Vec::new();
    loop {
        cursor.space();
        if cursor.mark(")") {
            return Ok(found);
        }
        found.push(part(cursor)?);
        cursor.space();
        if !cursor.mark(",") {
            cursor.expect(")")?;
            return Ok(found);
        }
    }
}

/// A part: its name, and its type or its element.
pub(crate) fn part(cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
    let mut info = ElementInfo::wsdl("part").with("name", cursor.name("the name of a part")?);
    if cursor.mark(":") {
        if cursor.keyword("element") {
            info.set("element", Value::name(&cursor.qname("the name of an element")?));
        } else {
            info.set("type", Value::name(&type_name(cursor)?));
        }
    }
    with(cursor, &mut info)?;
    document(&mut info, &abouts(cursor, "about")?);
    Ok(info)
}

/// A message by itself.
pub(crate) fn message(cursor: &mut Cursor<'_>) -> Parsed<ElementInfo> {
    cursor.keyword("message");
    let mut info = ElementInfo::wsdl("message").with("name", cursor.name("the name of the message")?);
    with(cursor, &mut info)?;
    info.children = parts(cursor)?.into_iter().map(crate::info::Child::Element).collect();
    document(&mut info, &abouts(cursor, "about")?);
    Ok(info)
}
