//! Patterns: the regular expressions of XML Schema (Part 2, appendix F), matched and sampled.

use regex_automata::meta::Regex;
use regex_syntax::hir::{Class, Hir, HirKind};

/// A pattern in the syntax of the regular-expression crates. There, `^` and `$` are anchors, `\i` and `\c` are
/// unknown, and a subtracted class is written with two hyphens.
pub(crate) fn translate(pattern: &str) -> String {
    let mut result = String::with_capacity(pattern.len() + 8);
    let mut characters = pattern.chars().peekable();
    let mut depth = 0usize;
    let mut class_start = false;
    while let Some(c) = characters.next() {
        let started = std::mem::replace(&mut class_start, false);
        match c {
            '\\' => match characters.next() {
                Some('i') => result.push_str(r"[_:\p{L}\p{Nl}]"),
                Some('I') => result.push_str(r"[^_:\p{L}\p{Nl}]"),
                Some('c') => result.push_str(r"[-._:\p{L}\p{Nl}\p{Nd}\p{M}]"),
                Some('C') => result.push_str(r"[^-._:\p{L}\p{Nl}\p{Nd}\p{M}]"),
                Some('w') => result.push_str(r"[^\p{P}\p{Z}\p{C}]"),
                Some('W') => result.push_str(r"[\p{P}\p{Z}\p{C}]"),
                Some(other) => {
                    result.push('\\');
                    result.push(other);
                }
                None => result.push_str(r"\\"),
            },
            '[' if depth > 0 && !started => {
                depth += 1;
                // A hyphen before an inner class subtracts it.
                if result.ends_with('-') {
                    result.push('-');
                }
                result.push('[');
                class_start = true;
            }
            '[' => {
                depth += 1;
                result.push('[');
                class_start = true;
            }
            ']' if depth > 0 => {
                depth -= 1;
                result.push(']');
            }
            '^' if depth > 0 && started => {
                result.push('^');
                class_start = true;
            }
            '^' | '$' | '&' | '~' => {
                result.push('\\');
                result.push(c);
            }
            '.' if depth == 0 => result.push_str(r"[^\r\n]"),
            other => result.push(other),
        }
    }
    result
}

/// Whether a value matches a pattern as a whole; a pattern that is not understood matches nothing.
pub(crate) fn matches(pattern: &str, value: &str) -> bool {
    Regex::new(&format!(r"\A(?:{})\z", translate(pattern))).is_ok_and(|regex| regex.is_match(value))
}

/// A readable string that the pattern matches, about `more` repetitions longer than the shortest; or a
/// second one.
pub(crate) fn sample(pattern: &str, more: u32, second: bool) -> Option<String> {
    let hir = regex_syntax::Parser::new().parse(&translate(pattern)).ok()?;
    let mut sampler = Sampler {
        text: String::new(),
        letters: if second { 4 } else { 0 },
        digits: if second { 5 } else { 0 },
        more,
    };
    sampler.write(&hir)?;
    Some(sampler.text)
}

/// Strings longer than this are no sample for a person to read.
const LONGEST: usize = 4096;

struct Sampler {
    text: String,
    letters: usize,
    digits: usize,
    more: u32,
}

impl Sampler {
    fn write(&mut self, hir: &Hir) -> Option<()> {
        if self.text.len() > LONGEST {
            return None;
        }
        match hir.kind() {
            HirKind::Empty | HirKind::Look(_) => {}
            HirKind::Literal(literal) => self.text.push_str(std::str::from_utf8(&literal.0).ok()?),
            HirKind::Class(Class::Unicode(class)) => {
                let inside =
                    |c: char| class.ranges().iter().any(|range| range.start() <= c && c <= range.end());
                let first = class.ranges().first()?.start();
                self.pick(inside, first);
            }
            HirKind::Class(Class::Bytes(class)) => {
                let inside = |c: char| {
                    u8::try_from(c)
                        .is_ok_and(|b| class.ranges().iter().any(|r| r.start() <= b && b <= r.end()))
                };
                let first = class.ranges().first()?.start() as char;
                self.pick(inside, first);
            }
            HirKind::Repetition(repetition) => {
                let wish = repetition.min.saturating_add(self.more).max(1);
                let count = repetition.max.map_or(wish, |max| wish.min(max)).max(repetition.min);
                // What may be left out is: a sign, an extension.
                let optional = repetition.min == 0 && repetition.max == Some(1) && self.more == 0;
                for _ in 0..if optional { 0 } else { count } {
                    self.write(&repetition.sub)?;
                }
            }
            HirKind::Capture(capture) => self.write(&capture.sub)?,
            HirKind::Concat(parts) => {
                for part in parts {
                    self.write(part)?;
                }
            }
            HirKind::Alternation(ways) => self.write(ways.first()?)?,
        }
        Some(())
    }

    /// A letter or digit that reads well, or else the first character of the class.
    fn pick(&mut self, inside: impl Fn(char) -> bool, first: char) {
        let from = |wheel: &str, turn: usize| {
            let length = wheel.len();
            (0..length).map(|step| wheel.as_bytes()[(turn + step) % length] as char).find(|c| inside(*c))
        };
        if let Some(c) = from("SALTMERE", self.letters).or_else(|| from("saltmere", self.letters)) {
            self.letters += 1;
            self.text.push(c);
        } else if let Some(c) = from("4170258369", self.digits) {
            self.digits += 1;
            self.text.push(c);
        } else if let Some(c) = from("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz -_./", 0) {
            self.text.push(c);
        } else {
            self.text.push(first);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn samples_match_their_patterns() {
        for pattern in [
            "[A-Z0-9]{4,7}",
            "SM-[0-9]{6}",
            r"\+?[0-9 ]{5,20}",
            r"[1-9](\.[1-6])?",
            r"\i\c*",
            "a|b",
            "[a-z-[aeiou]]{3}",
            "x^y$z",
            ".{3}",
            r"\d{2}/\w+",
            "[^a-z]{2}",
            r"[\i-[:]][\c-[:]]*",
            "[&~]+",
        ] {
            let text = sample(pattern, 0, false).unwrap_or_else(|| panic!("{pattern}"));
            assert!(matches(pattern, &text), "{pattern}: {text:?}");
        }
        assert_eq!(sample("[A-Z0-9]{4,7}", 0, false).unwrap(), "SALT");
        assert_eq!(sample("SM-[0-9]{6}", 0, false).unwrap(), "SM-417025");
    }

    #[test]
    fn a_pattern_that_is_not_understood_gives_nothing() {
        assert_eq!(sample("[", 0, false), None);
        assert!(!matches("[", "["));
        assert_eq!(sample("a{100000}b{100000}", 0, true), None);
    }
}
