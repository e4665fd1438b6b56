//! Reads a document type declaration for the entities that it declares (XML 1.0, sections 2.8, 4.1 to 4.5). What it says about
//! elements and attributes is gone over, and nothing that lies outside of the text is read.

use super::error::{Problem, XmlError};
use super::scopes::Stretch;
use super::stream::{Stream, is_char};
use crate::Map;

/// How deep entities may refer to each other.
pub(super) const ENTITY_DEPTH: usize = 40;

/// The text of an entity, or that it lies elsewhere.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Entity {
    Internal(Stretch),
    External,
}

/// What a document type declaration declares.
#[derive(Debug, Default)]
pub(super) struct Dtd {
    pub entities: Map<String, Entity>,
    parameters: Map<String, Entity>,
    /// Texts that are not written anywhere as they are: their references to characters are replaced.
    pub texts: String,
    /// Where each of them comes from: its stretch, and the one of the text that it was written as.
    pub origins: Vec<(Stretch, Stretch)>,
    /// Whether something was named that lies outside of the text, and may declare more.
    pub unread: bool,
}

/// How much parameter entities may expand to, and how deep they may refer to each other.
struct Budget {
    left: usize,
    whole: usize,
    open: Vec<String>,
    /// Where the outermost of those that are open is called for.
    called: Stretch,
}

/// Reads a declaration from `<!DOCTYPE` to its `>`. `length` is that of the whole text, `budget` what entities may expand to.
pub(super) fn read(stream: &mut Stream<'_>, length: usize, budget: usize) -> Result<Dtd, XmlError> {
    let mut dtd = Dtd::default();
    stream.take("<!DOCTYPE");
    if !stream.space() {
        return Err(stream.error(Problem::Expected("a space")));
    }
    stream.name()?;
    if stream.space() && external_id(stream)? {
        dtd.unread = true;
        stream.space();
    }
    if stream.take("[") {
        let mut budget = Budget { left: budget, whole: budget, open: Vec::new(), called: (0, 0) };
        dtd.declarations(stream, length, &mut budget, true)?;
        stream.expect("]", "\"]\"")?;
        stream.space();
    }
    stream.expect(">", "\">\"")?;
    Ok(dtd)
}

impl Dtd {
    /// Declarations one after the other, up to the `]` or the end.
    fn declarations(
        &mut self,
        stream: &mut Stream<'_>,
        length: usize,
        budget: &mut Budget,
        written: bool,
    ) -> Result<(), XmlError> {
        loop {
            stream.space();
            if stream.ended() || written && stream.peek() == Some(b']') {
                return Ok(());
            }
            if stream.peek() == Some(b'%') {
                self.parameter(stream, length, budget)?;
            } else if stream.starts_with("<!ENTITY") {
                self.entity(stream, length, (!written).then_some(budget.called))?;
            } else if ["<!ELEMENT", "<!ATTLIST", "<!NOTATION"].iter().any(|word| stream.starts_with(word)) {
                declaration(stream)?;
            } else if stream.starts_with("<!--") {
                comment(stream)?;
            } else if stream.starts_with("<?") {
                instruction(stream)?;
            } else {
                return Err(stream.error(Problem::Expected("a declaration or \"]\"")));
            }
        }
    }

    /// A reference to a parameter entity between declarations: those of its text stand here.
    fn parameter(
        &mut self,
        stream: &mut Stream<'_>,
        length: usize,
        budget: &mut Budget,
    ) -> Result<(), XmlError> {
        let start = stream.at;
        let name = stream.entity()?.to_owned();
        match self.parameters.get(&name).copied() {
            None => return Err(stream.error_at(start, Problem::UnknownEntity(name))),
            Some(Entity::External) => self.unread = true,
            Some(Entity::Internal((from, to))) => {
                if budget.open.contains(&name) {
                    return Err(stream.error_at(start, Problem::EntityLoop(name)));
                }
                let cost = (to - from) as usize + 1;
                budget.left = budget
                    .left
                    .checked_sub(cost)
                    .filter(|_| budget.open.len() < ENTITY_DEPTH)
                    .ok_or_else(|| stream.error_at(start, Problem::EntityBudget(budget.whole)))?;
                let text = self.texts[from as usize - length..to as usize - length].to_owned();
                if budget.open.is_empty() {
                    budget.called = ((stream.base + start) as u32, stream.place() as u32);
                }
                budget.open.push(name);
                let mut inner = Stream::new(&text, 0);
                // What is wrong inside is shown where it is called for.
                let read = self.declarations(&mut inner, length, budget, false);
                read.map_err(|error| stream.error_at(start, error.problem))?;
                budget.open.pop();
            }
        }
        Ok(())
    }

    /// `place` is where to say that it stands, if not where it is read.
    fn entity(
        &mut self,
        stream: &mut Stream<'_>,
        length: usize,
        place: Option<Stretch>,
    ) -> Result<(), XmlError> {
        stream.take("<!ENTITY");
        let space = |stream: &mut Stream<'_>| {
            if stream.space() { Ok(()) } else { Err(stream.error(Problem::Expected("a space"))) }
        };
        space(stream)?;
        let is_parameter = stream.take("%");
        if is_parameter {
            space(stream)?;
        }
        let name = stream.name()?.to_owned();
        space(stream)?;
        let entity = if external_id(stream)? {
            if stream.space() && !is_parameter && stream.take("NDATA") {
                space(stream)?;
                stream.name()?;
            }
            Entity::External
        } else {
            let (from, to) = stream.quoted()?;
            self.value(stream, (from, to), length, (place, !is_parameter))?
        };
        stream.space();
        stream.expect(">", "\">\"")?;
        // The first declaration counts (section 4.2).
        let known = if is_parameter { &mut self.parameters } else { &mut self.entities };
        known.entry(name).or_insert(entity);
        Ok(())
    }

    /// The text of an entity as its references to characters make it (section 4.5). As far as there are none, it is what
    /// is `written`.
    fn value(
        &mut self,
        stream: &Stream<'_>,
        (from, to): (usize, usize),
        length: usize,
        (place, written): (Option<Stretch>, bool),
    ) -> Result<Entity, XmlError> {
        let mut value = Stream { at: from, ..*stream };
        let start = self.texts.len();
        while value.at < to {
            let rest = &value.bytes()[value.at..to];
            let next = memchr::memchr2(b'&', b'%', rest).map_or(to, |at| value.at + at);
            self.texts.push_str(&value.text[value.at..next]);
            value.at = next;
            if next == to {
                break;
            }
            if rest[next - (to - rest.len())] == b'%' {
                return Err(value.error(Problem::Expected("text without \"%\"")));
            }
            if value.starts_with("&#") {
                self.texts.push(value.character()?);
            } else {
                let begins = value.at;
                value.entity()?;
                self.texts.push_str(&value.text[begins..value.at]);
            }
            if value.at > to {
                return Err(value.error_at(next, Problem::LoneAmpersand));
            }
        }
        let stretch = |from: usize, to: usize| (from as u32, to as u32);
        let literal = place.unwrap_or_else(|| stretch(stream.base + from, stream.base + to));
        if written && place.is_none() && self.texts[start..] == stream.text[from..to] {
            self.texts.truncate(start);
            return Ok(Entity::Internal(literal));
        }
        let made = stretch(length + start, length + self.texts.len());
        self.origins.push((made, literal));
        Ok(Entity::Internal(made))
    }
}

/// Goes over `SYSTEM "…"` or `PUBLIC "…" "…"`; whether it stood there.
fn external_id(stream: &mut Stream<'_>) -> Result<bool, XmlError> {
    let public = stream.starts_with("PUBLIC");
    if !public && !stream.starts_with("SYSTEM") {
        return Ok(false);
    }
    stream.at += "SYSTEM".len();
    for _ in 0..1 + usize::from(public) {
        if !stream.space() {
            return Err(stream.error(Problem::Expected("a space")));
        }
        stream.quoted()?;
    }
    Ok(true)
}

/// Goes over a declaration about elements, attributes or notations.
fn declaration(stream: &mut Stream<'_>) -> Result<(), XmlError> {
    stream.at += 2;
    loop {
        match stream.peek() {
            None => return Err(stream.error(Problem::Ends)),
            Some(b'>') => {
                stream.at += 1;
                return Ok(());
            }
            Some(b'"' | b'\'') => _ = stream.quoted()?,
            Some(b'<') => return Err(stream.error(Problem::Expected("\">\""))),
            // A character that is longer is no mark of the syntax, and neither are its bytes.
            Some(_) => stream.at += 1,
        }
    }
}

/// Goes over a comment; where its text begins and ends.
pub(super) fn comment(stream: &mut Stream<'_>) -> Result<Stretch, XmlError> {
    let start = stream.at + "<!--".len();
    stream.at = start;
    let Some(end) = stream.find("--") else { return Err(stream.error_at(stream.text.len(), Problem::Ends)) };
    if !stream.text[end..].starts_with("-->") {
        return Err(stream.error_at(end, Problem::Hyphens));
    }
    stream.at = end + "-->".len();
    Ok(((stream.base + start) as u32, (stream.base + end) as u32))
}

/// Goes over a processing instruction; where its text begins and ends.
pub(super) fn instruction(stream: &mut Stream<'_>) -> Result<Stretch, XmlError> {
    let start = stream.at;
    stream.at += 2;
    let target = stream.ncname()?;
    if target.eq_ignore_ascii_case("xml") {
        return Err(stream.error_at(start, Problem::LateDeclaration));
    }
    if !stream.starts_with("?>") && !stream.space() {
        return Err(stream.error(Problem::Expected("a space or \"?>\"")));
    }
    let Some(end) = stream.find("?>") else { return Err(stream.error_at(stream.text.len(), Problem::Ends)) };
    stream.at = end + 2;
    Ok(((stream.base + start + 2) as u32, (stream.base + end) as u32))
}

/// Goes over an XML declaration (section 2.8).
pub(super) fn xml_declaration(stream: &mut Stream<'_>) -> Result<(), XmlError> {
    stream.take("<?xml");
    let value = |stream: &mut Stream<'_>, name: &str, fits: &dyn Fn(&str) -> bool, words| {
        let before = stream.at;
        let spaced = stream.space();
        if !stream.take(name) {
            stream.at = before;
            return Ok(false);
        }
        if !spaced {
            return Err(stream.error_at(before, Problem::Expected("a space")));
        }
        stream.space();
        stream.expect("=", "\"=\"")?;
        stream.space();
        let at = stream.at;
        let (from, to) = stream.quoted()?;
        if fits(&stream.text[from..to]) {
            Ok(true)
        } else {
            Err(stream.error_at(at, Problem::Expected(words)))
        }
    };
    let version = |text: &str| {
        text.strip_prefix("1.")
            .is_some_and(|rest| !rest.is_empty() && rest.bytes().all(|it| it.is_ascii_digit()))
    };
    let encoding = |text: &str| {
        let continues = |byte: u8| byte.is_ascii_alphanumeric() || matches!(byte, b'.' | b'_' | b'-');
        text.starts_with(|c: char| c.is_ascii_alphabetic()) && text.bytes().all(continues)
    };
    let standalone = |text: &str| matches!(text, "yes" | "no");
    if !value(stream, "version", &version, "a version, \"1.0\",")? {
        return Err(stream.error(Problem::Expected("version=\"1.0\"")));
    }
    value(stream, "encoding", &encoding, "the name of an encoding")?;
    value(stream, "standalone", &standalone, "\"yes\" or \"no\"")?;
    stream.space();
    stream.expect("?>", "\"?>\"")?;
    debug_assert!(stream.text.chars().next().is_none_or(is_char));
    Ok(())
}
