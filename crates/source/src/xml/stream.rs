//! A piece of text that is read from its beginning to its end.

use super::error::{Problem, XmlError};
use crate::{continues_name, starts_name};

/// A text, where the document keeps it, and how far it has been read.
#[derive(Debug, Clone, Copy)]
pub(super) struct Stream<'s> {
    pub text: &'s str,
    /// Where the text begins in what the document keeps.
    pub base: usize,
    pub at: usize,
}

impl<'s> Stream<'s> {
    pub fn new(text: &'s str, base: usize) -> Self {
        Stream { text, base, at: 0 }
    }

    pub fn bytes(&self) -> &'s [u8] {
        self.text.as_bytes()
    }

    pub fn peek(&self) -> Option<u8> {
        self.bytes().get(self.at).copied()
    }

    pub fn ended(&self) -> bool {
        self.at >= self.text.len()
    }

    /// Where it stands, in what the document keeps.
    pub fn place(&self) -> usize {
        self.base + self.at
    }

    pub fn starts_with(&self, word: &str) -> bool {
        self.bytes()[self.at.min(self.text.len())..].starts_with(word.as_bytes())
    }

    /// Goes over a word, if it stands here.
    pub fn take(&mut self, word: &str) -> bool {
        let there = self.starts_with(word);
        if there {
            self.at += word.len();
        }
        there
    }

    /// Goes over white space; whether there was any.
    pub fn space(&mut self) -> bool {
        let start = self.at;
        while let Some(b' ' | b'\t' | b'\n' | b'\r') = self.peek() {
            self.at += 1;
        }
        self.at > start
    }

    /// Where a word stands next.
    pub fn find(&self, word: &str) -> Option<usize> {
        memchr::memmem::find(&self.bytes()[self.at..], word.as_bytes()).map(|at| self.at + at)
    }

    /// What is wrong here.
    pub fn error(&self, problem: Problem) -> XmlError {
        self.error_at(self.at, problem)
    }

    pub fn error_at(&self, at: usize, problem: Problem) -> XmlError {
        // Where the text breaks off, that is what is wrong, unless it is about what was there.
        let problem = match problem {
            Problem::Expected(_) | Problem::Name if at >= self.text.len() => Problem::Ends,
            other => other,
        };
        XmlError { problem, at: self.base + at }
    }

    /// Goes over what must stand here.
    pub fn expect(&mut self, word: &'static str, words: &'static str) -> Result<(), XmlError> {
        if self.take(word) { Ok(()) } else { Err(self.error(Problem::Expected(words))) }
    }

    /// Goes over a name without a colon (Namespaces in XML, production 4).
    pub fn ncname(&mut self) -> Result<&'s str, XmlError> {
        let start = self.at;
        let bytes = self.bytes();
        while let Some(byte) = bytes.get(self.at) {
            if byte.is_ascii() {
                let fits = PLAIN[*byte as usize];
                if fits == 0 || (fits == 1 && self.at == start) {
                    break;
                }
                self.at += 1;
                continue;
            }
            let Some(c) = self.text[self.at..].chars().next() else { break };
            if !(if self.at == start { starts_name(c) } else { continues_name(c) }) {
                break;
            }
            self.at += c.len_utf8();
        }
        if self.at == start {
            return Err(self.error(Problem::Name));
        }
        if self.at - start > usize::from(u16::MAX) {
            return Err(self.error_at(start, Problem::LongName));
        }
        Ok(&self.text[start..self.at])
    }

    /// Goes over a qualified name; how long its prefix is, and its local part.
    pub fn qname(&mut self) -> Result<(usize, usize), XmlError> {
        let first = self.ncname()?.len();
        if self.peek() != Some(b':') {
            return Ok((0, first));
        }
        self.at += 1;
        Ok((first, self.ncname()?.len()))
    }

    /// Goes over a name in which colons are letters, as document type declarations have them.
    pub fn name(&mut self) -> Result<&'s str, XmlError> {
        let start = self.at;
        while self.take(":") {}
        while self.at == start || self.peek().is_some_and(|byte| byte != b':') {
            if self.ncname_rest(self.at == start).is_none() {
                break;
            }
            while self.take(":") {}
        }
        if self.at == start { Err(self.error(Problem::Name)) } else { Ok(&self.text[start..self.at]) }
    }

    /// Goes over the characters of a name; nothing if there is none.
    fn ncname_rest(&mut self, first: bool) -> Option<()> {
        let start = self.at;
        for c in self.text[start..].chars() {
            if !(if first && self.at == start { starts_name(c) } else { continues_name(c) }) {
                break;
            }
            self.at += c.len_utf8();
        }
        (self.at > start).then_some(())
    }

    /// Goes over a text in quotes; where it begins and ends.
    pub fn quoted(&mut self) -> Result<(usize, usize), XmlError> {
        let quote = match self.peek() {
            Some(quote @ (b'"' | b'\'')) => quote,
            _ => return Err(self.error(Problem::Expected("a quote"))),
        };
        let start = self.at + 1;
        match memchr::memchr(quote, &self.bytes()[start..]) {
            Some(length) => {
                self.at = start + length + 1;
                Ok((start, start + length))
            }
            None => {
                // What stands in the way of the end is most likely where the quote was forgotten.
                let rest = &self.bytes()[start..];
                match memchr::memchr2(b'<', b'>', rest) {
                    Some(at) if rest[at] == b'<' => Err(self.error_at(start + at, Problem::LessThan)),
                    _ => Err(self.error_at(self.text.len(), Problem::Ends)),
                }
            }
        }
    }

    /// Goes over a reference to a character, from the `&`; the character.
    pub fn character(&mut self) -> Result<char, XmlError> {
        let start = self.at;
        let (radix, digits) = if self.take("&#x") { (16, start + 3) } else { (10, start + 2) };
        self.at = digits;
        while self.peek().is_some_and(|byte| byte.is_ascii_alphanumeric()) {
            self.at += 1;
        }
        let written = &self.text[start + 2..self.at];
        let code = &self.text[digits..self.at];
        let valid = !code.is_empty() && code.bytes().all(|byte| char::from(byte).is_digit(radix));
        if !self.take(";") || !valid {
            return Err(self.error_at(start, Problem::LoneAmpersand));
        }
        let zeros = code.trim_start_matches('0');
        let number = if zeros.len() > 7 { None } else { u32::from_str_radix(zeros, radix).ok() };
        let found = number.and_then(char::from_u32).filter(|c| is_char(*c));
        found.ok_or_else(|| self.error_at(start, Problem::NoCharacter(written.chars().take(20).collect())))
    }

    /// Goes over a reference to an entity, from the sign before it; its name.
    pub fn entity(&mut self) -> Result<&'s str, XmlError> {
        let start = self.at;
        self.at += 1;
        let name = self.name();
        match name {
            Ok(name) if self.take(";") => Ok(name),
            _ => Err(self.error_at(start, Problem::LoneAmpersand)),
        }
    }
}

/// Of each byte: 2 if a name may begin with it, 1 if it may go on with it, 0 otherwise.
const PLAIN: [u8; 128] = {
    let mut plain = [0; 128];
    let mut byte = 0;
    while byte < 128 {
        plain[byte] = match byte as u8 {
            b'A'..=b'Z' | b'a'..=b'z' | b'_' => 2,
            b'-' | b'.' | b'0'..=b'9' => 1,
            _ => 0,
        };
        byte += 1;
    }
    plain
};

/// Whether a character may stand in XML (XML 1.0, production 2).
pub(super) fn is_char(c: char) -> bool {
    matches!(c, '\t' | '\n' | '\r' | '\u{20}'..='\u{D7FF}' | '\u{E000}'..='\u{FFFD}' | '\u{10000}'..)
}

/// The first character of a text that may not stand in XML.
pub(super) fn bad_character(text: &str) -> Option<(usize, char)> {
    // One look at all bytes, wide at a time, finds nothing in nearly every text.
    let control = |byte: u8| byte < 0x20 && !matches!(byte, b'\t' | b'\n' | b'\r');
    let any =
        text.as_bytes().chunks(4096).any(|chunk| chunk.iter().fold(false, |any, byte| any | control(*byte)));
    if !any && memchr::memmem::find(text.as_bytes(), b"\xEF\xBF").is_none() {
        return None;
    }
    text.char_indices().find(|(_, c)| !is_char(*c))
}
