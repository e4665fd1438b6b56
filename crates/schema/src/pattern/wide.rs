//! Runs patterns whose automaton over bytes would be too large: `\w{1,500}` has hundreds of ranges of bytes in each of its
//! five hundred steps. Here a step is one state, and its class is kept once, whatever patterns have it. What a text costs is
//! counted.

use std::ops::Range;
use std::sync::Arc;

use charter_source::{Map, Set};
use regex_syntax::hir::{Class, Hir, HirKind, Look, Repetition};

/// States of one pattern.
const MOST_STATES: usize = 200_000;
/// Marks that are cleared in one step.
const CLEARED: u64 = 32;

/// Ranges of characters, in order.
type Ranges = Arc<[(char, char)]>;

/// The classes of many patterns, each kept once: some have hundreds of ranges.
#[derive(Debug, Default)]
pub(crate) struct Classes(Set<Ranges>);

impl Classes {
    fn one(&mut self, ranges: Vec<(char, char)>) -> Ranges {
        match self.0.get(&*ranges) {
            Some(known) => known.clone(),
            None => {
                let ranges = Ranges::from(ranges);
                self.0.insert(ranges.clone());
                ranges
            }
        }
    }
}

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
    classes: Vec<Ranges>,
}

/// Makes the states of a pattern.
struct Maker<'c> {
    wide: Wide,
    classes: &'c mut Classes,
    /// Where each class of this pattern is.
    known: Map<*const (char, char), u32>,
}

impl Wide {
    /// The states of a pattern; `None` if there would be too many.
    pub fn of(hir: &Hir, classes: &mut Classes) -> Option<Wide> {
        let mut maker = Maker { wide: Wide::default(), classes, known: Map::default() };
        maker.add(hir)?;
        let mut wide = maker.wide;
        wide.states.push(State::End);
        wide.states.shrink_to_fit();
        wide.classes.shrink_to_fit();
        Some(wide)
    }
}

impl Maker<'_> {
    /// Adds the states of a part, which lead to whatever is added next.
    fn add(&mut self, hir: &Hir) -> Option<()> {
        if self.wide.states.len() > MOST_STATES {
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
            HirKind::Repetition(repetition) => self.repetition(repetition)?,
        }
        Some(())
    }

    fn repetition(&mut self, repetition: &Repetition) -> Option<()> {
        let mut once = None;
        for _ in 0..repetition.min {
            self.again(&repetition.sub, &mut once)?;
        }
        let Some(max) = repetition.max else {
            let split = self.hole();
            self.again(&repetition.sub, &mut once)?;
            self.wide.states.push(State::To(split));
            self.wide.states[split as usize] = State::Either(split + 1, self.wide.states.len() as u32);
            return Some(());
        };
        let mut splits = Vec::new();
        for _ in repetition.min..max {
            splits.push(self.hole());
            self.again(&repetition.sub, &mut once)?;
        }
        let end = self.wide.states.len() as u32;
        splits.into_iter().for_each(|at| self.wide.states[at as usize] = State::Either(at + 1, end));
        Some(())
    }

    /// Adds the states of a part once more: those that were added first, further on.
    fn again(&mut self, part: &Hir, once: &mut Option<Range<usize>>) -> Option<()> {
        let states = &mut self.wide.states;
        let start = states.len();
        let Some(first) = once else {
            self.add(part)?;
            *once = Some(start..self.wide.states.len());
            return Some(());
        };
        if start > MOST_STATES {
            return None;
        }
        let further = |to: u32| to + (start - first.start) as u32;
        states.extend_from_within(first.clone());
        for state in &mut states[start..] {
            *state = match *state {
                State::Either(a, b) => State::Either(further(a), further(b)),
                State::To(to) => State::To(further(to)),
                state => state,
            };
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
                self.wide.states[split as usize] = State::Either(split + 1, self.wide.states.len() as u32);
            }
        }
        let end = self.wide.states.len() as u32;
        ends.into_iter().for_each(|at| self.wide.states[at as usize] = State::To(end));
        Some(())
    }

    /// A state that is filled in later.
    fn hole(&mut self) -> u32 {
        self.wide.states.push(State::End);
        self.wide.states.len() as u32 - 1
    }

    fn take(&mut self, ranges: Vec<(char, char)>) {
        let ranges = self.classes.one(ranges);
        let wide = &mut self.wide;
        let number = *self.known.entry(ranges.as_ptr()).or_insert_with(|| {
            wide.classes.push(ranges.clone());
            wide.classes.len() as u32 - 1
        });
        wide.states.push(State::Take(number));
    }
}

impl Wide {
    /// About how many bytes it takes.
    pub fn bytes(&self) -> u64 {
        (self.states.len() * size_of::<State>() + self.classes.len() * size_of::<Ranges>() + 128) as u64
    }

    /// Whether the text as a whole matches; `None` if that takes more than so many steps. Then the steps that it took.
    pub fn assessment(&self, text: &str, most: u64) -> (Option<bool>, u64) {
        let mut walk =
            Walk { wide: self, seen: vec![0u32; self.states.len()], waiting: Vec::new(), steps: 0 };
        walk.steps = self.states.len() as u64 / CLEARED;
        let (mut here, mut next) = (Vec::new(), Vec::new());
        walk.reach(0, 1, &mut here);
        for (number, c) in text.chars().enumerate() {
            let mark = number as u32 + 2;
            for state in here.drain(..) {
                let State::Take(class) = self.states[state as usize] else { continue };
                if contains(&self.classes[class as usize], c) {
                    walk.reach(state + 1, mark, &mut next);
                }
            }
            std::mem::swap(&mut here, &mut next);
            if here.is_empty() {
                return (Some(false), walk.steps);
            }
            if walk.steps > most {
                return (None, walk.steps);
            }
        }
        (Some(here.iter().any(|state| matches!(self.states[*state as usize], State::End))), walk.steps)
    }
}

/// A text on its way through the states.
struct Walk<'w> {
    wide: &'w Wide,
    /// By which character each state was reached last.
    seen: Vec<u32>,
    waiting: Vec<u32>,
    steps: u64,
}

impl Walk<'_> {
    /// Adds the states that a state leads to without a character, each once.
    fn reach(&mut self, start: u32, mark: u32, found: &mut Vec<u32>) {
        self.waiting.push(start);
        while let Some(state) = self.waiting.pop() {
            self.steps += 1;
            if std::mem::replace(&mut self.seen[state as usize], mark) == mark {
                continue;
            }
            match self.wide.states[state as usize] {
                State::Either(a, b) => self.waiting.extend([b, a]),
                State::To(to) => self.waiting.push(to),
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
        let mut classes = Classes::default();
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
            "((a|b)|(ab)){3,4}",
            "((a|b){2}x*){0,3}b?",
            "((a{1,2}|b)*-?){2,}",
            r"\P{Lu}*",
            ".*",
        ] {
            let hir = parse_pattern(pattern).unwrap();
            let wide = Wide::of(&hir, &mut classes).unwrap();
            let pattern_itself = crate::Pattern::new([pattern]).unwrap();
            assert!(wide.bytes() < pattern_itself.bytes(), "{pattern}");
            for text in texts {
                let (found, steps) = wide.assessment(text, 1_000);
                assert_eq!(found, Some(pattern_itself.matches(text)), "{pattern} {text}");
                assert!(steps < 200, "{pattern} {text}");
            }
        }
    }
}
