//! Spans: where something stands.

use std::ops::Range;

/// A stretch of a text, in bytes of its UTF-8 form; `end` is exclusive.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub struct Span {
    /// The first byte.
    pub start: u32,
    /// One past the last byte.
    pub end: u32,
}

impl Span {
    /// A span from `start` up to, not including, `end`.
    pub fn new(start: usize, end: usize) -> Self {
        // Texts are limited to well below 4 GiB when they are read, so an offset always fits.
        Span { start: start as u32, end: end as u32 }
    }

    /// The span as a range, to slice a text with.
    pub fn range(self) -> Range<usize> {
        self.start as usize..self.end as usize
    }

    /// How many bytes it covers.
    pub fn len(self) -> usize {
        (self.end - self.start) as usize
    }

    /// Whether it covers nothing, and only says where.
    pub fn is_empty(self) -> bool {
        self.start == self.end
    }

    /// Whether `other` lies within this span.
    pub fn covers(self, other: Span) -> bool {
        self.start <= other.start && other.end <= self.end
    }
}

impl From<Range<usize>> for Span {
    fn from(range: Range<usize>) -> Self {
        Span::new(range.start, range.end)
    }
}

/// Which of the loaded [`Files`](crate::Files).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub struct FileId(pub u32);

/// A span in a file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Default)]
pub struct Place {
    /// The file.
    pub file: FileId,
    /// The stretch of its text.
    pub span: Span,
}

/// Where an offset stands for a person: both counted from 1, the column in characters.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Position {
    /// The line.
    pub line: usize,
    /// The column, in characters.
    pub column: usize,
}
