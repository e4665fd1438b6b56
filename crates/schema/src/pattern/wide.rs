//! Runs patterns whose automaton over bytes would be too large: `\w{1,500}` has hundreds of ranges of bytes in each of its
//! five hundred steps. Here a step is one state, and its class is kept once.

use regex_syntax::hir::{Class, Hir, HirKind, Look};

/// States of one pattern.
const MOST_STATES: usize = 50_000;
/// Steps through states for one text.
const MOST_STEPS: usize = 50_000_000;

#[derive(Debug, Clone, Copy)]
enum State {
    /// A character of a class, then the next state.
    Take(u32),
    /// Either way.
    Either(u32, u32),
    /// Another state.
    To(u32),
    End,
}

/// A pattern as states over characters.
#[derive(Debug, Clone, Default)]
pub(super) struct Wide {
    states: Vec<State>,
    /// The classes, as ranges in order.
    classes: Vec<Vec<(char, char)>>,
}

impl Wide {
    /// The states of a pattern; `None` if there would be too many.
    pub fn of(hir: &Hir) -> Option<Wide> {
        let mut wide = Wide::default();
        wide.add(hir)?;
        wide.states.push(State::End);
        Some(wide)
    }

    /// Adds the states of a part, which lead to whatever is added next.
    fn add(&mut self, hir: &Hir) -> Option<()> {
        if self.states.len() > MOST_STATES {
            return None;
        }
        match hir.kind() {
            HirKind::Empty | HirKind::Look(Look::End | Look::Start) => {}
            HirKind::Look(_) => return None,
            HirKind::Literal(literal) => {
                for c in std::str::from_utf8(&literal.0).ok()?.chars() {
                    self.take(vec![(c, c)]);
                }
            }
            HirKind::Class(Class::Unicode(class)) => {
                self.take(class.iter().map(|range| (range.start(), range.end())).collect());
            }
            HirKind::Class(Class::Bytes(class)) => {
                self.take(class.iter().map(|range| (range.start() as char, range.end() as char)).collect());
            }
            HirKind::Capture(capture) => self.add(&capture.sub)?,
            HirKind::Concat(parts) => parts.iter().try_for_each(|part| self.add(part))?,
            HirKind::Alternation(ways) => self.alternation(ways)?,
            HirKind::Repetition(repetition) => {
                for _ in 0..repetition.min {
                    self.add(&repetition.sub)?;
                }
                match repetition.max {
                    None => {
                        let split = self.hole();
                        self.add(&repetition.sub)?;
                        self.states.push(State::To(split));
                        self.states[split as usize] = State::Either(split + 1, self.states.len() as u32);
                    }
                    Some(max) => {
                        let mut splits = Vec::new();
                        for _ in repetition.min..max {
                            splits.push(self.hole());
                            self.add(&repetition.sub)?;
                        }
                        let end = self.states.len() as u32;
                        splits
                            .into_iter()
                            .for_each(|at| self.states[at as usize] = State::Either(at + 1, end));
                    }
                }
            }
        }
        Some(())
    }

    fn alternation(&mut self, ways: &[Hir]) -> Option<()> {
        let mut ends = Vec::new();
        for (number, way) in ways.iter().enumerate() {
            let last = number + 1 == ways.len();
            let split = (!last).then(|| self.hole());
            self.add(way)?;
            if let Some(split) = split {
                ends.push(self.hole());
                self.states[split as usize] = State::Either(split + 1, self.states.len() as u32);
            }
        }
        let end = self.states.len() as u32;
        ends.into_iter().for_each(|at| self.states[at as usize] = State::To(end));
        Some(())
    }

    /// A state that is filled in later.
    fn hole(&mut self) -> u32 {
        self.states.push(State::End);
        self.states.len() as u32 - 1
    }

    fn take(&mut self, class: Vec<(char, char)>) {
        let known = self.classes.last() == Some(&class);
        if !known {
            self.classes.push(class);
        }
        self.states.push(State::Take(self.classes.len() as u32 - 1));
    }

    /// Whether the text as a whole matches. One that would take too long to find out is let pass.
    pub fn matches(&self, text: &str) -> bool {
        let mut seen = vec![0u32; self.states.len()];
        let (mut here, mut next) = (Vec::new(), Vec::new());
        let mut steps = 0;
        self.reach(0, 1, &mut seen, &mut here);
        for (number, c) in text.chars().enumerate() {
            let mark = number as u32 + 2;
            for state in here.drain(..) {
                let State::Take(class) = self.states[state as usize] else { continue };
                if contains(&self.classes[class as usize], c) {
                    self.reach(state + 1, mark, &mut seen, &mut next);
                }
            }
            std::mem::swap(&mut here, &mut next);
            steps += here.len() + 1;
            if here.is_empty() {
                return false;
            }
            if steps > MOST_STEPS {
                return true;
            }
        }
        here.iter().any(|state| matches!(self.states[*state as usize], State::End))
    }

    /// Adds the states that a state leads to without a character, each once.
    fn reach(&self, start: u32, mark: u32, seen: &mut [u32], found: &mut Vec<u32>) {
        let mut waiting = vec![start];
        while let Some(state) = waiting.pop() {
            if std::mem::replace(&mut seen[state as usize], mark) == mark {
                continue;
            }
            match self.states[state as usize] {
                State::Either(a, b) => waiting.extend([b, a]),
                State::To(to) => waiting.push(to),
                State::Take(_) | State::End => found.push(state),
            }
        }
    }
}

fn contains(class: &[(char, char)], c: char) -> bool {
    let at = class.partition_point(|(_, end)| *end < c);
    class.get(at).is_some_and(|(start, _)| *start <= c)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse_pattern;

    #[test]
    fn it_agrees_with_the_automaton_over_bytes() {
        let texts =
            ["", "a", "b", "ab", "aab", "abab", "é1", "aé", "aaaa", "ba", "1a2b", "x-y", "\u{10FFFF}"];
        for pattern in [
            "",
            "a",
            "a?",
            "a*",
            "a+",
            "a{2}",
            "a{1,3}",
            "a{2,}",
            "(ab)*",
            "a|b",
            "(a|ab)(b|)",
            "a|",
            r"\w+",
            r"[^a]",
            r"(\w|-){1,3}",
            r"\i\c*",
            "(a*)*b",
            "((a|b)|(ab)){0,2}",
            r"\P{Lu}*",
            ".*",
        ] {
            let hir = parse_pattern(pattern).unwrap();
            let wide = Wide::of(&hir).unwrap();
            let pattern_itself = crate::Pattern::new([pattern]).unwrap();
            for text in texts {
                assert_eq!(wide.matches(text), pattern_itself.matches(text), "{pattern} {text}");
            }
        }
    }
}
