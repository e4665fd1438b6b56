//! Strings that patterns match: readable ones, random ones, and any at all that a combination of patterns and lengths
//! leaves.

use std::collections::VecDeque;

use charter_source::Set;
use fastrand::Rng;
use regex_automata::hybrid::LazyStateID;
use regex_automata::hybrid::dfa::{Cache, DFA};
use regex_automata::util::start;
use regex_automata::{Anchored, MatchKind};
use regex_syntax::hir::{Class, Hir, HirKind, Look};

use crate::parse_pattern;

/// Readable strings that the pattern matches, the shortest one first; or second ones.
pub(super) fn readable(pattern: &str, second: bool) -> impl Iterator<Item = String> {
    let hir = parse_pattern(pattern).ok();
    hir.into_iter().flat_map(move |hir| {
        MORE.into_iter().filter_map(move |more| {
            let mut sampler = Sampler {
                text: String::new(),
                letters: if second { 4 } else { 0 },
                digits: if second { 5 } else { 0 },
                more,
            };
            sampler.write(&hir).map(|()| sampler.text)
        })
    })
}

/// How many repetitions more than the fewest are tried.
const MORE: [u32; 8] = [0, 1, 2, 4, 8, 16, 32, 64];

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
        if let Some(c) = from("ABCDEF", self.letters).or_else(|| from("abcdef", self.letters)) {
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

/// A random string that the pattern matches.
pub(super) fn random(pattern: &str, rng: &mut Rng) -> Option<String> {
    let hir = parse_pattern(pattern).ok()?;
    let mut text = String::new();
    throw(&hir, rng, &mut text)?;
    Some(text)
}

fn throw(hir: &Hir, rng: &mut Rng, text: &mut String) -> Option<()> {
    if text.len() > LONGEST {
        return None;
    }
    match hir.kind() {
        HirKind::Empty | HirKind::Look(_) => {}
        HirKind::Literal(literal) => text.push_str(std::str::from_utf8(&literal.0).ok()?),
        HirKind::Class(Class::Unicode(class)) => {
            let ranges = class.ranges();
            // Mostly a character that can be typed.
            let range = match rng.u32(..4) {
                0 if rng.u32(..8) == 0 => ranges.get(rng.usize(..ranges.len().max(1)))?,
                _ => ranges.iter().find(|range| range.end() >= ' ').or(ranges.first())?,
            };
            let (start, end) = (u32::from(range.start().max(' ').min(range.end())), u32::from(range.end()));
            let end = if start < 0x7F && rng.u32(..8) > 0 { end.min(0x7E) } else { end };
            text.push(char::from_u32(rng.u32(start..=end)).unwrap_or(range.start()));
        }
        HirKind::Class(Class::Bytes(class)) => {
            let range = class.ranges().first()?;
            text.push(rng.u8(range.start()..=range.end()) as char);
        }
        HirKind::Repetition(repetition) => {
            let most = repetition.max.unwrap_or(u32::MAX).min(repetition.min.saturating_add(4));
            for _ in 0..rng.u32(repetition.min..=most) {
                throw(&repetition.sub, rng, text)?;
            }
        }
        HirKind::Capture(capture) => throw(&capture.sub, rng, text)?,
        HirKind::Concat(parts) => parts.iter().try_for_each(|part| throw(part, rng, text))?,
        HirKind::Alternation(ways) => throw(ways.get(rng.usize(..ways.len()))?, rng, text)?,
    }
    Some(())
}

/// States of the product that are looked at before the search is given up.
const MOST_STATES: usize = 50_000;
/// The bytes that are tried, the readable ones first. Others begin and go on with characters beyond ASCII.
const BYTES: &[u8] = b"ABCDEFGHabcdefgh4170258369IJKLMNOPQRSTUVWXYZijklmnopqrstuvwxyz -_.:,/+@()'\"!?#%&*;<=>[]^`{|}~$\\\t\n\r";

/// A string that one pattern of every step matches and that has the right length, found by following the automata of
/// all steps side by side; nothing if there is none, or none was found within bounds.
pub(super) fn search(steps: &[Vec<&str>], least: u64, most: u64) -> Option<String> {
    let mut automata = Vec::new();
    for step in steps {
        let ways = step.iter().map(|pattern| parse_pattern(pattern)).collect::<Result<Vec<_>, _>>().ok()?;
        let whole = Hir::concat(vec![Hir::alternation(ways), Hir::look(Look::End)]);
        let nfa = regex_automata::nfa::thompson::Compiler::new()
            .configure(regex_automata::nfa::thompson::Config::new().nfa_size_limit(Some(4 << 20)))
            .build_from_hir(&whole)
            .ok()?;
        let config =
            DFA::config().match_kind(MatchKind::All).cache_capacity(8 << 20).skip_cache_capacity_check(true);
        let dfa = DFA::builder().configure(config).build_from_nfa(nfa).ok()?;
        let cache = dfa.create_cache();
        automata.push((dfa, cache));
    }
    follow(&mut automata, least, most)
}

/// Where all automata are after the same bytes, and how many characters these are.
type Spot = (Vec<LazyStateID>, u64);

fn follow(automata: &mut [(DFA, Cache)], least: u64, most: u64) -> Option<String> {
    let config = start::Config::new().anchored(Anchored::Yes);
    let begin = automata
        .iter_mut()
        .map(|(dfa, cache)| dfa.start_state(cache, &config).ok())
        .collect::<Option<Vec<_>>>()?;
    let mut seen: Set<Spot> = Set::default();
    // Each spot with the one before it and the byte between them.
    let mut spots: Vec<(Spot, usize, u8)> = vec![((begin, 0), 0, 0)];
    let mut waiting = VecDeque::from([0]);
    while let Some(at) = waiting.pop_front() {
        let (states, length) = spots[at].0.clone();
        if length >= least && length <= most && ends(automata, &states) {
            return spell(&spots, at);
        }
        let continuation = |byte: u8| (0x80..0xC0).contains(&byte);
        for byte in BYTES.iter().copied().chain(0x80..=0xF4) {
            let length = if continuation(byte) { length } else { length + 1 };
            if length > most || spots.len() > MOST_STATES {
                continue;
            }
            let step = |((dfa, cache), state): (&mut (DFA, Cache), &LazyStateID)| {
                let next = dfa.next_state(cache, *state, byte).ok()?;
                (!next.is_dead() && !next.is_quit()).then_some(next)
            };
            let Some(next) = automata.iter_mut().zip(&states).map(step).collect::<Option<Vec<_>>>() else {
                continue;
            };
            // Lengths beyond the least make no difference if there is no greatest.
            let counted = if most == u64::MAX { length.min(least) } else { length };
            if seen.insert((next.clone(), counted)) {
                spots.push(((next, length), at, byte));
                waiting.push_back(spots.len() - 1);
            }
        }
    }
    None
}

fn ends(automata: &mut [(DFA, Cache)], states: &[LazyStateID]) -> bool {
    let mut each = automata.iter_mut().zip(states);
    each.all(|((dfa, cache), state)| dfa.next_eoi_state(cache, *state).is_ok_and(|end| end.is_match()))
}

/// The bytes that lead to a spot.
fn spell(spots: &[(Spot, usize, u8)], mut at: usize) -> Option<String> {
    let mut bytes = Vec::new();
    while at > 0 {
        bytes.push(spots[at].2);
        at = spots[at].1;
    }
    bytes.reverse();
    String::from_utf8(bytes).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Pattern;

    #[test]
    fn samples_match_their_patterns() {
        let mut rng = Rng::with_seed(4);
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
            let automaton = Pattern::new([pattern]).unwrap();
            let text = readable(pattern, false).next().unwrap_or_else(|| panic!("{pattern}"));
            assert!(automaton.matches(&text), "{pattern}: {text:?}");
            for _ in 0..50 {
                let text = random(pattern, &mut rng).unwrap();
                assert!(automaton.matches(&text), "{pattern}: {text:?}");
            }
        }
        assert_eq!(readable("[A-Z0-9]{4,7}", false).next().unwrap(), "ABCD");
        assert_eq!(readable("SM-[0-9]{6}", false).next().unwrap(), "SM-417025");
    }

    #[test]
    fn a_pattern_that_is_not_understood_gives_nothing() {
        assert_eq!(readable("[", false).next(), None);
        assert_eq!(readable("a{100000}b{100000}", true).next(), None);
    }

    #[test]
    fn patterns_and_lengths_together() {
        let found = |steps: &[Vec<&str>], least, most| search(steps, least, most);
        assert_eq!(found(&[vec!["[a-m]+"], vec!["[k-z]+", "x"]], 3, 3).unwrap().len(), 3);
        assert_eq!(found(&[vec!["(ab)+"]], 7, 7), None);
        assert_eq!(found(&[vec!["(ab)+"]], 7, 9).unwrap(), "abababab");
        assert_eq!(found(&[vec!["a+"], vec!["b+"]], 0, u64::MAX), None);
        assert_eq!(found(&[vec![r"\p{IsGreek}{2}"]], 0, u64::MAX).unwrap().chars().count(), 2);
    }
}
