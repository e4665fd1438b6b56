//! Carries a change of the canonical text into the text that a person laid out and commented.

use std::ops::Range;

use similar::{Algorithm, DiffOp, capture_diff_slices};

use crate::parse::cursor::Cursor;
use crate::parse::verbatim;
use crate::prefixes::Prefixes;

/// A word, mark, string or block of XML, and what stands before it: space, comments, commas.
#[derive(Debug)]
struct Token<'t> {
    before: &'t str,
    text: &'t str,
}

/// What `canonical` says, in the layout and with the comments of `own` wherever the two say the same.
///
/// A comment goes only with what it stands inside of, or behind.
///
/// ```
/// use charter_notation::merged;
///
/// let own = "type Quay {\n\tname: string  # as on the chart\n\tdepth: int\n}\n";
/// let canonical = "type Quay {\n  name: token\n  depth: int\n  lit: boolean?\n}\n";
/// let merged = merged(own, canonical);
/// assert_eq!(merged, "type Quay {\n\tname: token  # as on the chart\n\tdepth: int\n  lit: boolean?\n}\n");
/// ```
pub fn merged(own: &str, canonical: &str) -> String {
    let (own, own_end) = tokens(own);
    let (new, new_end) = tokens(canonical);
    let words = |tokens: &[Token<'_>]| tokens.iter().map(|token| token.text.to_owned()).collect::<Vec<_>>();
    // The shortest difference: where something is only added, nothing of the own text is taken for gone.
    let operations = capture_diff_slices(Algorithm::Myers, &words(&own), &words(&new));
    let mut merging =
        Merging { own, new, own_end, new_end, result: String::new(), waiting: String::new(), at_seam: false };
    for operation in operations {
        match operation {
            DiffOp::Equal { old_index, new_index, len } => merging.keep(old_index, new_index, len),
            DiffOp::Delete { old_index, old_len, .. } => merging.leave_out(old_index..old_index + old_len),
            DiffOp::Insert { old_index, new_index, new_len } => {
                merging.put_in(old_index..old_index, new_index..new_index + new_len);
            }
            DiffOp::Replace { old_index, old_len, new_index, new_len } => {
                merging.put_in(old_index..old_index + old_len, new_index..new_index + new_len);
            }
        }
    }
    merging.end()
}

struct Merging<'t> {
    own: Vec<Token<'t>>,
    new: Vec<Token<'t>>,
    own_end: &'t str,
    new_end: &'t str,
    result: String,
    /// Comments for the end of the line.
    waiting: String,
    /// Whether what was said last is not what stood before the next word that is kept.
    at_seam: bool,
}

impl<'t> Merging<'t> {
    /// What stands before a word of one's own, or at the end.
    fn gap(&self, at: usize) -> &'t str {
        self.own.get(at).map_or(self.own_end, |token| token.before)
    }

    fn keep(&mut self, own: usize, new: usize, count: usize) {
        for step in 0..count {
            let gap = self.gap(own + step);
            if step == 0 && self.at_seam {
                self.seam(gap, self.new[new].before);
            } else {
                self.space(gap);
            }
            self.result.push_str(self.own[own + step].text);
        }
        self.at_seam = false;
    }

    /// The space before a word. Comments that wait for the end of the line go before that.
    fn space(&mut self, gap: &str) {
        if gap.contains('\n') {
            let waiting = std::mem::take(&mut self.waiting);
            self.result.push_str(&waiting);
        }
        self.result.push_str(gap);
    }

    /// The space before a word that is kept behind something new, or behind something that is gone.
    fn seam(&mut self, own: &str, new: &str) {
        let fits = match new {
            "" => own.is_empty(),
            new if new.contains(',') => own.contains(','),
            new if new.contains('\n') => own.contains(['\n', ',']),
            _ => !own.is_empty() && !own.contains(['\n', ',']),
        };
        if fits {
            self.space(own);
            return;
        }
        self.wait(comments(own));
        self.space(new);
    }

    fn wait(&mut self, comments: &str) {
        self.waiting.push_str(comments.trim_end());
    }

    /// Words that are there no more. What is said before them stays; what is said in them goes, and what is said behind
    /// them if they begin their line.
    fn leave_out(&mut self, own: Range<usize>) {
        let gap = self.gap(own.start);
        self.wait(comments(gap));
        self.at_seam = true;
        let last = self.gap(own.end);
        let behind = trailing(last);
        if !gap.contains(['\n', ',']) {
            self.wait(behind);
        }
        self.set_gap(own.end, &last[behind.len()..]);
    }

    /// New words, in the place of some, or of none. A comment at the end of the line stays there.
    fn put_in(&mut self, own: Range<usize>, new: Range<usize>) {
        let gap = self.gap(own.start);
        if own.is_empty() {
            let comment = trailing(gap);
            self.wait(comment);
            self.set_gap(own.start, &gap[comment.len()..]);
        }
        for (step, index) in new.enumerate() {
            let before = self.new[index].before;
            // What replaces a word stands where that stood.
            if own.is_empty() || step > 0 {
                self.space(before)
            } else {
                self.seam(gap, before)
            }
            self.result.push_str(self.new[index].text);
        }
        self.at_seam = true;
    }

    /// What is left to say before a word, or at the end.
    fn set_gap(&mut self, at: usize, gap: &'t str) {
        match self.own.get_mut(at) {
            Some(token) => token.before = gap,
            None => self.own_end = gap,
        }
    }

    fn end(mut self) -> String {
        let end = if self.at_seam && !self.own_end.contains('\n') { self.new_end } else { self.own_end };
        self.result.push_str(&self.waiting);
        self.result.push_str(end);
        self.result
    }
}

/// The part of a gap that belongs to the word before it: a comment on the same line.
fn trailing(gap: &str) -> &str {
    let line = gap.find('\n').map_or(gap, |end| &gap[..end]);
    if line.contains('#') { line } else { "" }
}

/// A gap up to the end of its last comment; nothing if there is none.
fn comments(gap: &str) -> &str {
    let mut end = 0;
    let mut at = 0;
    for line in gap.split_inclusive('\n') {
        at += line.len();
        if line.contains('#') {
            end = at;
        }
    }
    &gap[..end]
}

/// The tokens of a text, and what is left behind the last.
fn tokens(text: &str) -> (Vec<Token<'_>>, &str) {
    let mut cursor = Cursor::new(text, Prefixes::default());
    let mut tokens = Vec::new();
    loop {
        let start = cursor.at;
        cursor.space();
        while cursor.mark(",") {
            cursor.space();
        }
        let begin = cursor.at;
        let Some(first) = cursor.peek() else { return (tokens, &text[start..]) };
        if verbatim::is_next(&mut cursor) {
            let _ = verbatim::xml(&mut cursor, (true, true));
        }
        if cursor.at == begin {
            match (first, cursor.word()) {
                ('"', _) => _ = cursor.string("text"),
                (_, Some(word)) => cursor.at += word.len(),
                _ => cursor.at += quoted(cursor.rest(), first).unwrap_or(first.len_utf8()),
            }
        }
        tokens.push(Token { before: &text[start..begin], text: &text[begin..cursor.at] });
    }
}

/// How long a name in backticks or a namespace in braces is.
fn quoted(rest: &str, first: char) -> Option<usize> {
    let end = match first {
        '`' => '`',
        '{' => '}',
        _ => return None,
    };
    let length = rest.char_indices().skip(1).find(|(_, c)| *c == end || c.is_whitespace());
    length.filter(|(_, c)| *c == end).map(|(at, _)| at + 1)
}

#[cfg(test)]
mod tests {
    use super::*;

    const OWN: &str = "# Pilots of Saltmere.\ntype Vessel {   # any ship\n    name: string, length: int  # over all\n\n    # asked for since spring\n    flag: string one-of \"sm\", \"tm\"\n}\n# the end\n";

    const CANONICAL: &str =
        "type Vessel {\n  name: string\n  length: int\n  flag: string one-of \"sm\", \"tm\"\n}\n";

    #[test]
    fn what_stays_the_same_stays_as_it_is_written() {
        assert_eq!(merged(OWN, CANONICAL), OWN);
    }

    #[test]
    fn what_is_new_or_changed_leaves_the_comments_where_they_are() {
        let cases = [
            (
                "name: string",
                "name: string\n  beam: int",
                "name: string\n  beam: int, length: int  # over all",
            ),
            (
                "length: int",
                "length: int\n  beam: int",
                "length: int  # over all\n  beam: int\n\n    # asked",
            ),
            ("length: int", "length: short", "length: short  # over all\n"),
            ("one-of", "one-of \"am\",", "one-of \"am\", \"sm\", \"tm\"\n}"),
            ("\"sm\", ", "", "# asked for since spring\n    flag: string one-of \"tm\"\n}"),
            // With a field goes what is said behind it, but not what is said before it.
            ("  length: int\n", "", "name: string\n\n    # asked for since spring\n    flag"),
            ("  flag: string one-of \"sm\", \"tm\"\n", "", "# over all\n\n    # asked for since spring\n}"),
        ];
        for (from, to, words) in cases {
            let canonical = CANONICAL.replace(from, to);
            let result = merged(OWN, &canonical);
            assert!(result.contains(words), "{from} {to}\n{result}");
            assert!(result.starts_with("# Pilots") && result.ends_with("# the end\n"), "{result}");
            let plain = |text: &str| tokens(text).0.iter().map(|it| it.text.to_owned()).collect::<Vec<_>>();
            assert_eq!(plain(&result), plain(&canonical), "{result}");
        }
    }
}
