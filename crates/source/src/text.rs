//! A text: characters, how they were encoded, and where its lines begin.

use std::sync::{Arc, OnceLock};

use crate::encoding::{decode, is_plain};
use crate::{CodeUnits, Encoded, Encoding, Position, Set, Span};

/// Characters are counted up to each multiple of this many bytes, so that a column is found in constant time
/// even in a file of one long line.
const BLOCK: usize = 1024;

/// The whole text of a file.
///
/// ```
/// use charter_source::Text;
///
/// let text = Text::from("<a>\n  <b/>\n</a>");
/// let position = text.position(6);
/// assert_eq!((position.line, position.column), (2, 3));
/// ```
#[derive(Debug)]
pub struct Text {
    content: Arc<String>,
    encoding: Encoding,
    fault: Option<(Span, String)>,
    /// Whether it comes back byte for byte when it is encoded again.
    faithful: bool,
    /// How many lines of its file stand before it, if it is a piece of one.
    lines_before: usize,
    index: OnceLock<Index>,
}

#[derive(Debug)]
struct Index {
    /// The offset at which each line begins.
    lines: Vec<u32>,
    /// How many characters stand before each block; empty if every character is one byte.
    characters: Vec<u32>,
}

/// Where a word stands in a text, quickly: a text may be many megabytes.
pub fn places_of<'t>(text: &'t str, word: &'t str) -> impl Iterator<Item = usize> + 't {
    memchr::memmem::find_iter(text.as_bytes(), word.as_bytes())
}

/// Whether a word stands in a text anywhere.
pub fn mentions(text: &str, word: &str) -> bool {
    memchr::memmem::find(text.as_bytes(), word.as_bytes()).is_some()
}

/// The words that stand directly before a colon and a name in a text: the prefixes that it uses, and more.
///
/// ```
/// use charter_source::words_before_colons;
///
/// let words = words_before_colons("<p:a q='r:s'/>");
/// assert!(words.contains("p") && words.contains("r") && !words.contains("q"));
/// ```
pub fn words_before_colons(text: &str) -> Set<&str> {
    let bytes = text.as_bytes();
    let in_word = |byte: &u8| byte.is_ascii_alphanumeric() || b"-_.".contains(byte) || *byte >= 0x80;
    let mut words = Set::default();
    let mut last = 0;
    for colon in memchr::memchr_iter(b':', bytes) {
        let length = bytes[last..colon].iter().rev().take_while(|byte| in_word(byte)).count();
        // What a colon stands before is no prefix.
        let names = bytes
            .get(colon + 1)
            .is_some_and(|byte| byte.is_ascii_alphabetic() || *byte == b'_' || *byte >= 0x80);
        if names && (colon - length > last || last == 0) {
            words.insert(&text[colon - length..colon]);
        }
        last = colon + 1;
    }
    words
}

impl Text {
    /// Decodes the bytes of a file. What cannot be decoded stands as U+FFFD, and [`Text::fault`] says where.
    pub fn decode(bytes: Vec<u8>) -> Self {
        let decoded = decode(bytes);
        Text {
            faithful: decoded.faithful,
            content: Arc::new(decoded.content),
            encoding: decoded.encoding,
            fault: decoded.fault,
            lines_before: 0,
            index: OnceLock::new(),
        }
    }

    /// The same for what was encoded here: nothing is copied where the bytes are the text.
    pub fn of(encoded: &Encoded) -> Self {
        match encoded.encoding() {
            encoding @ Encoding { units: CodeUnits::Utf8, bom: false }
                if is_plain(encoded.text().as_bytes()) =>
            {
                Text {
                    content: encoded.shared(),
                    encoding,
                    fault: None,
                    faithful: true,
                    lines_before: 0,
                    index: OnceLock::new(),
                }
            }
            _ => Text::decode(encoded.bytes().into_owned()),
        }
    }

    /// The text as it is encoded; `None` if it would not come back byte for byte.
    pub fn encoded(&self) -> Option<Encoded> {
        self.faithful.then(|| Encoded::shared_of(self.content.clone(), self.encoding)).flatten()
    }

    /// The text as a piece of a file, in which so many lines stand before it.
    pub fn behind_lines(mut self, lines: usize) -> Self {
        self.lines_before = lines;
        self
    }

    /// The characters, line ends as they stand in the file, without the byte-order mark.
    pub fn content(&self) -> &str {
        &self.content
    }

    /// How the file was encoded.
    pub fn encoding(&self) -> Encoding {
        self.encoding
    }

    /// Whether the text comes back byte for byte when it is encoded again. In some encodings one character may be written
    /// in several ways.
    pub fn is_faithful(&self) -> bool {
        self.faithful
    }

    /// The first place that could not be decoded, and why.
    pub fn fault(&self) -> Option<(Span, &str)> {
        self.fault.as_ref().map(|(span, why)| (*span, why.as_str()))
    }

    /// The stretch of the text at `span`.
    pub fn slice(&self, span: Span) -> &str {
        self.content.get(span.range()).unwrap_or("")
    }

    /// The line end that the file uses: the first one in it, or a line feed.
    pub fn line_end(&self) -> &'static str {
        match self.content.find('\n') {
            Some(at) if self.content[..at].ends_with('\r') => "\r\n",
            _ => "\n",
        }
    }

    /// Line and column of an offset, the lines counted as in the file. An offset past the end is taken for the end.
    pub fn position(&self, offset: u32) -> Position {
        let index = self.index();
        let offset = (offset as usize).min(self.content.len());
        let line = index.lines.partition_point(|start| *start as usize <= offset);
        let start = index.lines[line - 1] as usize;
        let line = line + self.lines_before;
        Position { line, column: self.characters_before(offset) - self.characters_before(start) + 1 }
    }

    /// The offset of a line and column, as [`Text::position`] counts them; the nearest there is.
    pub fn offset(&self, position: Position) -> u32 {
        let index = self.index();
        let line = position.line.saturating_sub(self.lines_before).clamp(1, index.lines.len()) - 1;
        let start = index.lines[line] as usize;
        let rest = &self.content[start..];
        let within =
            rest.char_indices().nth(position.column.saturating_sub(1)).map_or(rest.len(), |(at, _)| at);
        (start + within) as u32
    }

    /// How many lines there are.
    pub fn line_count(&self) -> usize {
        self.index().lines.len()
    }

    fn characters_before(&self, offset: usize) -> usize {
        let index = self.index();
        if index.characters.is_empty() {
            return offset;
        }
        let block = offset / BLOCK;
        let from = block * BLOCK;
        index.characters[block] as usize + count(&self.content.as_bytes()[from..offset])
    }

    fn index(&self) -> &Index {
        self.index.get_or_init(|| {
            let bytes = self.content.as_bytes();
            let mut lines = vec![0];
            lines.extend(memchr::memchr_iter(b'\n', bytes).map(|at| at as u32 + 1));
            let mut characters = Vec::new();
            if !bytes.is_ascii() {
                let mut before = 0;
                for block in bytes.chunks(BLOCK) {
                    characters.push(before);
                    before += count(block) as u32;
                }
                characters.push(before);
            }
            Index { lines, characters }
        })
    }
}

/// Counts the characters that begin in these bytes of UTF-8.
fn count(bytes: &[u8]) -> usize {
    bytes.iter().filter(|byte| **byte & 0xC0 != 0x80).count()
}

impl From<&str> for Text {
    fn from(content: &str) -> Self {
        Text {
            content: Arc::new(content.to_owned()),
            encoding: Encoding { units: CodeUnits::Utf8, bom: false },
            fault: None,
            faithful: true,
            lines_before: 0,
            index: OnceLock::new(),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_count_characters_also_far_into_a_long_line() {
        let content = format!("{}x\r\ny", "ü".repeat(5000));
        let text = Text::from(content.as_str());
        assert_eq!(text.position(10_000), Position { line: 1, column: 5001 });
        assert_eq!(text.position(10_003), Position { line: 2, column: 1 });
        for offset in [0, 2, 1022, 1024, 2048, 10_000, 10_003, 10_004] {
            assert_eq!(text.offset(text.position(offset)), offset);
        }
        assert_eq!(text.line_end(), "\r\n");
    }

    #[test]
    fn an_offset_past_the_end_is_the_end() {
        assert_eq!(Text::from("a\n").position(99), Position { line: 2, column: 1 });
        assert_eq!(Text::from("").position(0), Position { line: 1, column: 1 });
    }
}
