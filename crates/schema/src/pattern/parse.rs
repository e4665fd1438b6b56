//! Reads the regular expressions of XML Schema (Part 2, appendix F) into the form that the automata are built from.

use regex_syntax::hir::{Class, ClassUnicode, ClassUnicodeRange, Hir, Repetition};

use super::PatternError;
use super::classes;

/// How deep parentheses and subtractions may nest.
const DEEPEST: usize = 200;

/// How many ranges of characters the classes of an expression may have together: some are long, and named in two letters.
const MOST_RANGES: usize = 500_000;

/// Reads a whole expression.
pub(super) fn parse(pattern: &str) -> Result<Hir, PatternError> {
    let mut parser = Parser { pattern, at: 0, depth: 0, ranges: 0 };
    let found = parser.expression()?;
    match parser.peek() {
        None => Ok(found),
        Some(c) => Err(parser.error(format!("there is no \"(\" for this \"{c}\""))),
    }
}

struct Parser<'p> {
    pattern: &'p str,
    at: usize,
    depth: usize,
    ranges: usize,
}

impl Parser<'_> {
    fn peek(&self) -> Option<char> {
        self.pattern[self.at..].chars().next()
    }

    fn next(&mut self) -> Option<char> {
        let c = self.peek()?;
        self.at += c.len_utf8();
        Some(c)
    }

    fn eat(&mut self, c: char) -> bool {
        let found = self.peek() == Some(c);
        if found {
            self.at += c.len_utf8();
        }
        found
    }

    fn error(&self, message: impl Into<String>) -> PatternError {
        PatternError::Syntax { at: self.at, message: message.into() }
    }

    /// A class, if there is room for it.
    fn kept(&mut self, class: ClassUnicode) -> Result<Hir, PatternError> {
        self.ranges += class.ranges().len();
        if self.ranges > MOST_RANGES {
            return Err(PatternError::TooLarge);
        }
        Ok(Hir::class(Class::Unicode(class)))
    }

    fn deeper(&mut self) -> Result<(), PatternError> {
        self.depth += 1;
        if self.depth > DEEPEST {
            return Err(PatternError::TooLarge);
        }
        Ok(())
    }

    /// `branch ( "|" branch )*`
    fn expression(&mut self) -> Result<Hir, PatternError> {
        self.deeper()?;
        let mut branches = vec![self.branch()?];
        while self.eat('|') {
            branches.push(self.branch()?);
        }
        self.depth -= 1;
        Ok(if branches.len() == 1 { branches.remove(0) } else { Hir::alternation(branches) })
    }

    /// `( atom quantifier? )*`
    fn branch(&mut self) -> Result<Hir, PatternError> {
        let mut pieces = Vec::new();
        while let Some(c) = self.peek() {
            let atom = match c {
                '|' | ')' => break,
                '(' => {
                    self.next();
                    let inner = self.expression()?;
                    if !self.eat(')') {
                        return Err(self.error("a \"(\" is not closed"));
                    }
                    inner
                }
                '[' => {
                    self.next();
                    let class = self.class()?;
                    self.kept(class)?
                }
                '\\' => {
                    self.next();
                    let class = self.escape()?;
                    self.kept(class)?
                }
                '.' => {
                    self.next();
                    self.kept(classes::dot())?
                }
                '?' | '*' | '+' => return Err(self.error(format!("there is nothing for \"{c}\" to repeat"))),
                ']' | '{' | '}' => {
                    return Err(self.error(format!("\"{c}\" stands for itself only as \"\\{c}\"")));
                }
                c => {
                    self.next();
                    Hir::literal(c.to_string().into_bytes())
                }
            };
            pieces.push(self.quantified(atom)?);
        }
        Ok(Hir::concat(pieces))
    }

    /// `? * + {n} {n,} {n,m}` after an atom.
    fn quantified(&mut self, atom: Hir) -> Result<Hir, PatternError> {
        let (min, max) = match self.peek() {
            Some('?') => (0, Some(1)),
            Some('*') => (0, None),
            Some('+') => (1, None),
            Some('{') => {
                self.next();
                let min = self.number()?;
                let max = match self.eat(',') {
                    false => Some(min),
                    true if self.peek() == Some('}') => None,
                    true => Some(self.number()?),
                };
                if self.peek() != Some('}') {
                    return Err(self.error("a count is written {n}, {n,} or {n,m}"));
                }
                if max.is_some_and(|max| max < min) {
                    return Err(self.error(format!("{min} is more than {}", max.unwrap_or(0))));
                }
                (min, max)
            }
            _ => return Ok(atom),
        };
        self.next();
        Ok(Hir::repetition(Repetition { min, max, greedy: true, sub: Box::new(atom) }))
    }

    fn number(&mut self) -> Result<u32, PatternError> {
        let start = self.at;
        while self.peek().is_some_and(|c| c.is_ascii_digit()) {
            self.next();
        }
        if start == self.at {
            return Err(self.error("a count is written {n}, {n,} or {n,m}"));
        }
        self.pattern[start..self.at].parse().map_err(|_| PatternError::TooLarge)
    }

    /// A class after its `[`, with its `]`.
    fn class(&mut self) -> Result<ClassUnicode, PatternError> {
        self.deeper()?;
        let negated = self.eat('^');
        let mut class = ClassUnicode::empty();
        let mut empty = true;
        loop {
            match self.peek() {
                None => return Err(self.error("a \"[\" is not closed")),
                Some(']') if !empty => break,
                Some('-') if self.pattern[self.at..].starts_with("-[") && !empty => break,
                Some(c @ ('[' | ']')) => {
                    return Err(self.error(format!("\"{c}\" stands for itself only as \"\\{c}\"")));
                }
                Some(_) => self.class_part(&mut class, empty)?,
            }
            empty = false;
        }
        if negated {
            class.negate();
        }
        if self.eat('-') {
            self.next();
            let less = self.class()?;
            class.difference(&less);
            if self.peek() != Some(']') {
                return Err(self.error("nothing may follow what is taken away from a class"));
            }
        }
        self.next();
        self.depth -= 1;
        Ok(class)
    }

    /// A character, a range or an escape inside a class.
    fn class_part(&mut self, class: &mut ClassUnicode, first: bool) -> Result<(), PatternError> {
        let start = match self.next() {
            Some('\\') => match self.single_or_class()? {
                Ok(c) => c,
                Err(escaped) => {
                    class.union(&escaped);
                    return Ok(());
                }
            },
            Some('-') => {
                // A hyphen for itself is the first or the last of its class.
                if !first && self.peek() != Some(']') && !self.pattern[self.at..].starts_with("-[") {
                    return Err(self.error("a hyphen for itself stands first or last, or as \"\\-\""));
                }
                class.push(ClassUnicodeRange::new('-', '-'));
                return Ok(());
            }
            Some(c) => c,
            None => return Err(self.error("a \"[\" is not closed")),
        };
        let mut end = start;
        let rest = &self.pattern[self.at..];
        if rest.starts_with('-')
            && !rest.starts_with("-]")
            && !rest.starts_with("-[")
            && !rest.starts_with("--[")
        {
            self.next();
            end = match self.next() {
                Some('\\') => match self.single_or_class()? {
                    Ok(c) => c,
                    Err(_) => return Err(self.error("a range ends with a single character")),
                },
                Some(c) if c != '-' => c,
                _ => return Err(self.error("a hyphen for itself stands first or last, or as \"\\-\"")),
            };
            if end < start {
                return Err(self.error(format!("\"{start}\" comes after \"{end}\"")));
            }
        }
        class.push(ClassUnicodeRange::new(start, end));
        Ok(())
    }

    /// An escape after its backslash, as a class.
    fn escape(&mut self) -> Result<ClassUnicode, PatternError> {
        Ok(match self.single_or_class()? {
            Ok(c) => ClassUnicode::new([ClassUnicodeRange::new(c, c)]),
            Err(class) => class,
        })
    }

    /// An escape after its backslash: one character, or a class.
    fn single_or_class(&mut self) -> Result<Result<char, ClassUnicode>, PatternError> {
        let Some(c) = self.next() else { return Err(self.error("nothing follows the backslash")) };
        Ok(match c {
            'n' => Ok('\n'),
            'r' => Ok('\r'),
            't' => Ok('\t'),
            '\\' | '|' | '.' | '?' | '*' | '+' | '(' | ')' | '{' | '}' | '-' | '[' | ']' | '^' => Ok(c),
            'p' | 'P' => {
                let mut class = self.property()?;
                if c == 'P' {
                    class.negate();
                }
                Err(class)
            }
            letter => match classes::multi(letter) {
                Some(class) => Err(class),
                None => return Err(self.error(format!("\"\\{letter}\" means nothing"))),
            },
        })
    }

    /// The braces of `\p{…}`.
    fn property(&mut self) -> Result<ClassUnicode, PatternError> {
        if !self.eat('{') {
            return Err(self.error("a property is written \\p{…}"));
        }
        let rest = &self.pattern[self.at..];
        let Some(end) = rest.find('}') else { return Err(self.error("a \"{\" is not closed")) };
        let name = &rest[..end];
        let found = classes::property(name);
        self.at += end + 1;
        found.ok_or_else(|| self.error(format!("there is no property \"{name}\"")))
    }
}
