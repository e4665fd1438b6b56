//! Where the reader of the notation stands, and the words, names and strings that come next.

use charter_source::{QName, Span};

use crate::prefixes::Prefixes;

/// Something that the notation does not allow.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NotationError {
    /// Where.
    pub span: Span,
    /// What is wrong.
    pub message: String,
    /// What was expected there.
    pub help: Option<String>,
}

/// The error has been noted; whoever gets this finds a place to go on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Noted;

pub(crate) type Parsed<T> = Result<T, Noted>;

/// A place in a text of the notation.
pub(crate) struct Cursor<'t> {
    pub text: &'t str,
    pub at: usize,
    pub prefixes: Prefixes,
    pub errors: Vec<NotationError>,
    /// How deep in blocks and types the place is.
    depth: usize,
    /// Whether enough is known to be wrong: nothing is noted any more.
    stopped: bool,
}

/// Blocks and types within each other. Each becomes up to three elements of XML within each other, of which 500 are read.
const DEPTH: usize = 150;
/// So many errors are enough to see that a text is something else.
const ERRORS: usize = 100;

fn is_name_start(c: char) -> bool {
    c.is_alphabetic() || c == '_'
}

fn is_name_char(c: char) -> bool {
    c.is_alphanumeric() || matches!(c, '_' | '-' | '.' | '\u{b7}') || !c.is_ascii() && !c.is_whitespace()
}

impl<'t> Cursor<'t> {
    /// At the beginning of a text.
    pub fn new(text: &'t str, prefixes: Prefixes) -> Self {
        Cursor { text, at: 0, prefixes, errors: Vec::new(), depth: 0, stopped: false }
    }

    /// Reads what stands within a block or a type, unless that is too deep to go on.
    pub fn within<T>(&mut self, read: impl FnOnce(&mut Self) -> Parsed<T>) -> Parsed<T> {
        if self.depth == DEPTH {
            let span = Span::new(self.at, (self.at + 1).min(self.text.len()));
            let message = format!("blocks and types stand more than {DEPTH} deep in each other here");
            let noted = self.fail(span, message, Some("give what is in them names of their own".to_owned()));
            self.stopped = true;
            self.at = self.text.len();
            return Err(noted);
        }
        self.depth += 1;
        let result = read(self);
        self.depth -= 1;
        result
    }

    pub fn rest(&self) -> &'t str {
        &self.text[self.at..]
    }

    pub fn peek(&self) -> Option<char> {
        self.rest().chars().next()
    }

    /// Skips what separates words of one line.
    pub fn blanks(&mut self) {
        loop {
            let rest = self.rest();
            self.at += rest.len() - rest.trim_start_matches([' ', '\t', '\r']).len();
            if self.peek() != Some('#') {
                return;
            }
            self.at += self.rest().find('\n').unwrap_or(self.rest().len());
        }
    }

    /// Skips what separates lines, comments included.
    pub fn space(&mut self) {
        loop {
            self.blanks();
            if self.peek() != Some('\n') {
                return;
            }
            self.at += 1;
        }
    }

    /// Whether nothing but space is left.
    pub fn at_end(&mut self) -> bool {
        self.space();
        self.at == self.text.len()
    }

    /// The word that comes next on the line; one in backticks is a name and no word.
    pub fn word(&mut self) -> Option<&'t str> {
        self.blanks();
        let rest = self.rest();
        if !rest.starts_with(is_name_start) {
            return None;
        }
        let end = rest.find(|c: char| !is_name_char(c)).unwrap_or(rest.len());
        Some(&rest[..end])
    }

    /// Takes a word if it comes next.
    pub fn keyword(&mut self, word: &str) -> bool {
        if self.word() != Some(word) {
            return false;
        }
        self.at += word.len();
        true
    }

    /// Takes a mark if it comes next on the line.
    pub fn mark(&mut self, mark: &str) -> bool {
        self.blanks();
        if !self.rest().starts_with(mark) {
            return false;
        }
        self.at += mark.len();
        true
    }

    /// The character that follows the next word on its line.
    pub fn after_word(&mut self) -> Option<char> {
        let word = self.word()?;
        self.text[self.at + word.len()..].trim_start_matches([' ', '\t']).chars().next()
    }

    /// What comes next, as a message shows it.
    pub fn shown(&mut self) -> String {
        self.blanks();
        let rest = self.rest();
        match rest.chars().next() {
            None => "the end".to_owned(),
            Some('\n') => "the end of the line".to_owned(),
            Some(c) => {
                let word = self.word().map_or_else(|| c.to_string(), str::to_owned);
                format!("\"{word}\"")
            }
        }
    }

    /// Notes that something else was expected here.
    pub fn expected(&mut self, what: &str) -> Noted {
        let shown = self.shown();
        let length = self.word().map_or_else(|| self.peek().map_or(0, char::len_utf8), str::len);
        let span = Span::new(self.at, self.at + length);
        self.fail(span, format!("{shown} cannot stand here"), Some(format!("expected {what}")))
    }

    pub fn fail(&mut self, span: Span, message: String, help: Option<String>) -> Noted {
        if !self.stopped {
            self.errors.push(NotationError { span, message, help });
            self.stopped = self.errors.len() == ERRORS;
        }
        if self.stopped {
            self.at = self.text.len();
        }
        Noted
    }

    pub fn expect(&mut self, mark: &str) -> Parsed<()> {
        if self.mark(mark) { Ok(()) } else { Err(self.expected(&format!("\"{mark}\""))) }
    }

    /// A name, in backticks or not.
    pub fn name(&mut self, what: &str) -> Parsed<String> {
        self.blanks();
        if let Some(quoted) = self.rest().strip_prefix('`')
            && let Some(end) = quoted.find('`')
            && charter_source::is_ncname(&quoted[..end])
        {
            self.at += end + 2;
            return Ok(quoted[..end].to_owned());
        }
        match self.word() {
            Some(word) if charter_source::is_ncname(word) => {
                self.at += word.len();
                Ok(word.to_owned())
            }
            _ => Err(self.expected(what)),
        }
    }

    /// A name with its namespace: bare, with a prefix, or with the namespace in braces.
    pub fn qname(&mut self, what: &str) -> Parsed<QName> {
        let own = self.prefixes.own.clone();
        self.qname_or(what, &own)
    }

    /// The same, where a bare name is in another namespace.
    fn qname_or(&mut self, what: &str, bare: &str) -> Parsed<QName> {
        let shared = |namespace: &str, local: &str| (*crate::info::shared(namespace, local)).clone();
        self.blanks();
        if self.at_full_name()
            && let Some((namespace, _)) = self.rest()[1..].split_once('}')
        {
            let (namespace, end) = (namespace.to_owned(), namespace.len());
            self.at += end + 2;
            let local = self.name(what)?;
            return Ok(shared(&namespace, &local));
        }
        let start = self.at;
        let first = self.name(what)?;
        let follows = self
            .rest()
            .strip_prefix(':')
            .is_some_and(|rest| rest.starts_with(|c| is_name_start(c) || c == '`'));
        if !follows {
            return Ok(shared(bare, &first));
        }
        self.at += 1;
        let local = self.name(what)?;
        match self.prefixes.namespace(&first) {
            Some(namespace) => Ok(shared(namespace, &local)),
            None => {
                let message = format!("the prefix \"{first}\" is not declared");
                let help = format!("add a line: prefix {first} = \"…\"");
                Err(self.fail(Span::new(start, start + first.len()), message, Some(help)))
            }
        }
    }

    /// Whether a name follows that is written in full, with its namespace in braces; a block has a blank behind it.
    pub fn at_full_name(&self) -> bool {
        let Some(rest) = self.rest().strip_prefix('{') else { return false };
        let end = rest.find(|c: char| c.is_whitespace() || matches!(c, '{' | '}' | '"' | ','));
        end.is_some_and(|end| {
            let behind = rest[end..].strip_prefix('}');
            behind.is_some_and(|behind| behind.starts_with(|c| is_name_start(c) || c == '`'))
        })
    }

    /// The name of an attribute outside the vocabulary: a bare one is in no namespace.
    pub fn attribute_name(&mut self) -> Parsed<QName> {
        self.qname_or("the name of an attribute", "")
    }

    pub fn at_string(&mut self) -> bool {
        self.blanks();
        self.peek() == Some('"')
    }

    /// Text in quotes. A line break in it counts; the indentation behind it does not.
    pub fn string(&mut self, what: &str) -> Parsed<String> {
        if !self.at_string() {
            return Err(self.expected(&format!("{what} in quotes")));
        }
        let start = self.at;
        let mut result = String::new();
        let mut characters = self.rest().char_indices().skip(1).peekable();
        while let Some((at, c)) = characters.next() {
            match c {
                '"' => {
                    self.at = start + at + 1;
                    return Ok(result);
                }
                '\\' => match characters.next() {
                    Some((_, 'n')) => result.push('\n'),
                    Some((_, 'r')) => result.push('\r'),
                    Some((_, 't')) => result.push('\t'),
                    Some((_, c @ ('"' | '\\'))) => result.push(c),
                    other => {
                        let end = other.map_or(at + 1, |(at, c)| at + c.len_utf8());
                        let span = Span::new(start + at, start + end);
                        let message = "a backslash stands before \\ \" n r t alone".to_owned();
                        self.fail(span, message, Some("write \\\\ for a backslash".to_owned()));
                    }
                },
                '\n' => {
                    while result.ends_with([' ', '\t', '\r']) {
                        result.pop();
                    }
                    result.push('\n');
                    while characters.next_if(|(_, c)| matches!(c, ' ' | '\t' | '\r')).is_some() {}
                }
                other => result.push(other),
            }
        }
        let line = self.rest().find('\n').map_or(self.text.len(), |end| start + end);
        let span = Span::new(start, line);
        self.at = self.text.len();
        Err(self.fail(span, "this text has no end".to_owned(), Some("close it with \"".to_owned())))
    }

    /// Goes on behind the line of an error, or behind the block that begins on it.
    pub fn recover(&mut self) {
        let mut depth = 0;
        while let Some(c) = self.peek() {
            match c {
                '\n' if depth == 0 => return,
                '}' if depth == 0 => return,
                '{' => depth += 1,
                '}' => depth -= 1,
                '"' => {
                    let errors = self.errors.len();
                    let before = self.at;
                    if self.string("text").is_err() {
                        self.at = before + self.text[before..].find('\n').unwrap_or(self.text.len() - before);
                    }
                    self.errors.truncate(errors);
                    continue;
                }
                '#' => {
                    self.blanks();
                    continue;
                }
                _ => {}
            }
            self.at += c.len_utf8();
        }
    }

    /// The items of a block: each by itself, so that one that is wrong does not hide the others.
    pub fn block(&mut self, mut item: impl FnMut(&mut Self) -> Parsed<()>) -> Parsed<()> {
        let open = self.at;
        self.expect("{")?;
        self.within(|cursor| cursor.items(open, &mut item))
    }

    /// The items of a block that begins at `open`, up to its end.
    fn items(&mut self, open: usize, item: &mut impl FnMut(&mut Self) -> Parsed<()>) -> Parsed<()> {
        loop {
            self.space();
            if self.mark("}") {
                return Ok(());
            }
            if self.at == self.text.len() {
                let span = Span::new(open, (open + 1).min(self.text.len()));
                return Err(self.fail(
                    span,
                    "this block has no end".to_owned(),
                    Some("close it with }".to_owned()),
                ));
            }
            let before = self.at;
            let done = item(self).is_ok() && self.item_end();
            if !done {
                self.recover();
            }
            if self.at == before {
                self.at += self.peek().map_or(0, char::len_utf8);
            }
        }
    }

    /// The end of an item: of the line, a comma, or the end of the block. Behind a block, a space is enough.
    pub fn item_end(&mut self) -> bool {
        let closed = self.text[..self.at].trim_end_matches([' ', '\t']).ends_with(['}', ')']);
        self.blanks();
        if closed && self.peek().is_some_and(is_name_start) {
            return true;
        }
        match self.peek() {
            None | Some('\n' | '}') => true,
            Some(',') => {
                self.at += 1;
                true
            }
            _ => {
                self.expected("the end of the line");
                false
            }
        }
    }
}
