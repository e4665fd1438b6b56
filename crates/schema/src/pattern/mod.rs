//! Patterns: the regular expressions of XML Schema, read by their own grammar and run as automata.

mod classes;
mod parse;
mod wide;

use regex_automata::meta::Regex;
use regex_automata::{Anchored, Input};
use regex_syntax::hir::{Class, Hir, HirKind, Look};

pub(crate) use wide::Classes;

/// Bytes that the automaton of one pattern over bytes may take.
const LARGEST_AUTOMATON: usize = 4 << 20;

/// Characters and classes in one pattern, once its counts are written out.
const LARGEST_WEIGHT: u64 = 500_000;

/// What is heavier is run by characters: there each step is counted, and none costs more than the pattern is long.
const HEAVY: u64 = 256;

/// An automaton over bytes with more ranges than that takes milliseconds and megabytes to build.
const BROAD: u64 = 4_000;

/// Less than that can be run by characters, whatever its classes are.
const LIGHT: u64 = 20_000;

/// Steps that a text may take for each of its characters without being an effort.
const EASY: u64 = 64;
/// Steps for one text whoever asks.
const MOST_STEPS: u64 = 50_000_000;

/// Why a pattern cannot be used.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum PatternError {
    /// It is not a regular expression of XML Schema.
    #[error("{message}")]
    Syntax {
        /// The offset in the pattern, in bytes.
        at: usize,
        /// What is wrong.
        message: String,
    },
    /// Its automaton would be too large.
    #[error("the pattern repeats or nests too much to be of use")]
    TooLarge,
}

/// One or more patterns of which a text must match one, as a whole (Part 2, 4.3.4.3).
///
/// ```
/// use charter_schema::Pattern;
///
/// let call_sign = Pattern::new(["[A-Z-[IO]]{2}\\d{2,5}"])?;
/// assert!(call_sign.matches("SM4170"));
/// assert!(!call_sign.matches("IO4170"));
/// # Ok::<(), charter_schema::PatternError>(())
/// ```
#[derive(Debug, Clone)]
pub struct Pattern {
    machine: Machine,
}

/// What runs a pattern.
#[derive(Debug, Clone)]
enum Machine {
    Bytes(Regex),
    Characters(wide::Wide),
}

/// Patterns that were read: one of them must match.
pub(crate) struct Read {
    ways: Hir,
    /// Characters and classes, once all counts are written out: what it takes to build an automaton.
    pub weight: u64,
}

/// Reads patterns.
///
/// # Errors
/// If one is not a regular expression of XML Schema, or all together grow too large.
pub(crate) fn read<'p>(patterns: impl IntoIterator<Item = &'p str>) -> Result<Read, PatternError> {
    let ways = patterns.into_iter().map(parse::parse).collect::<Result<Vec<Hir>, _>>()?;
    let weight = ways.iter().map(weight).fold(0, u64::saturating_add);
    // What is sure to be too large need not be tried.
    if weight > LARGEST_WEIGHT {
        return Err(PatternError::TooLarge);
    }
    Ok(Read { ways: Hir::alternation(ways), weight })
}

impl Pattern {
    /// Reads the patterns and builds their automaton.
    ///
    /// # Errors
    /// If one is not a regular expression of XML Schema, or all together grow too large.
    pub fn new<'p>(patterns: impl IntoIterator<Item = &'p str>) -> Result<Pattern, PatternError> {
        Pattern::fast(&read(patterns)?, &mut Classes::default())
    }

    /// The automaton of patterns that runs fastest.
    pub(crate) fn fast(read: &Read, classes: &mut Classes) -> Result<Pattern, PatternError> {
        if read.weight > HEAVY || breadth(&read.ways) > BROAD {
            return Pattern::small(read, classes);
        }
        let whole = Hir::concat(vec![read.ways.clone(), Hir::look(Look::End)]);
        let config = Regex::config().nfa_size_limit(Some(LARGEST_AUTOMATON));
        match Regex::builder().configure(config).build_from_hir(&whole) {
            Ok(regex) => Ok(Pattern { machine: Machine::Bytes(regex) }),
            Err(_) => Pattern::small(read, classes),
        }
    }

    /// The automaton of patterns that takes the least room.
    pub(crate) fn small(read: &Read, classes: &mut Classes) -> Result<Pattern, PatternError> {
        let wide = wide::Wide::of(&read.ways, classes).ok_or(PatternError::TooLarge)?;
        Ok(Pattern { machine: Machine::Characters(wide) })
    }

    /// Whether the text, as a whole, matches one of the patterns. One that would take too long to find out is let pass.
    pub fn matches(&self, text: &str) -> bool {
        self.assessment(text, MOST_STEPS).0.unwrap_or(true)
    }

    /// The same with so many steps to spare for what is an effort; `None` if that takes more. Then the steps that it took.
    pub(crate) fn assessment(&self, text: &str, spare: u64) -> (Option<bool>, u64) {
        match &self.machine {
            Machine::Bytes(regex) => (Some(regex.is_match(Input::new(text).anchored(Anchored::Yes))), 0),
            Machine::Characters(wide) => {
                let easy = EASY * (text.len() as u64 + 1);
                let (found, steps) = wide.assessment(text, easy.saturating_add(spare.min(MOST_STEPS)));
                (found, steps.saturating_sub(easy))
            }
        }
    }

    /// About how many bytes it takes.
    pub(crate) fn bytes(&self) -> u64 {
        match &self.machine {
            // What it writes out while it runs comes on top.
            Machine::Bytes(regex) => 2 * regex.memory_usage() as u64 + (8 << 10),
            Machine::Characters(wide) => wide.bytes(),
        }
    }
}

/// How many ranges of characters a pattern has once its counts are written out: about how large its automaton over bytes is.
fn breadth(hir: &Hir) -> u64 {
    match hir.kind() {
        HirKind::Class(Class::Unicode(class)) => class.ranges().len() as u64,
        HirKind::Repetition(repetition) => {
            let times = repetition.max.unwrap_or(repetition.min.saturating_add(1));
            breadth(&repetition.sub).saturating_mul(u64::from(times.max(1)))
        }
        HirKind::Concat(parts) | HirKind::Alternation(parts) => {
            parts.iter().map(breadth).fold(0, u64::saturating_add)
        }
        HirKind::Capture(capture) => breadth(&capture.sub),
        _ => 1,
    }
}

/// Whether a pattern is sure to be no larger than can be run.
pub(crate) fn is_light(hir: &Hir) -> bool {
    weight(hir) < LIGHT
}

/// How many characters and classes a pattern has once its counts are written out.
fn weight(hir: &Hir) -> u64 {
    match hir.kind() {
        HirKind::Repetition(repetition) => {
            let times = repetition.max.unwrap_or(repetition.min.saturating_add(1));
            weight(&repetition.sub).saturating_mul(u64::from(times.max(1)))
        }
        HirKind::Concat(parts) | HirKind::Alternation(parts) => {
            parts.iter().map(weight).fold(0, u64::saturating_add)
        }
        HirKind::Capture(capture) => weight(&capture.sub),
        _ => 1,
    }
}

/// The form of a pattern that regular-expression libraries work on.
///
/// # Errors
/// If it is not a regular expression of XML Schema.
pub fn parse_pattern(pattern: &str) -> Result<Hir, PatternError> {
    parse::parse(pattern)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn matches(pattern: &str, text: &str) -> bool {
        Pattern::new([pattern]).unwrap_or_else(|error| panic!("{pattern}: {error}")).matches(text)
    }

    #[test]
    fn the_language_of_the_recommendation() {
        for (pattern, right, wrong) in [
            ("a|b", "b", "ab"),
            ("", "", "a"),
            ("(ab){2,3}", "ababab", "ab"),
            ("x{2,}", "xxx", "x"),
            ("[a-z-[aeiou]]+", "bcd", "bad"),
            ("[^a-z]", "A", "a"),
            ("[^a-z-[A-Z]]", "1", "B"),
            ("[a-]", "-", "b"),
            ("[-a]", "-", "b"),
            ("[+-]", "-", ","),
            (r"\i\c*", "ns:vessel-1", "1a"),
            (r"[\i-[:]][\c-[:]]*", "vessel", "a:b"),
            (r"\d{2}", "١٢", "ab"),
            (r"\w+", "é1", "a b"),
            (r"\p{Lu}\P{Lu}", "Ab", "AB"),
            (r"\p{IsBasicLatin}", "a", "é"),
            (r"\P{IsBasicLatin}", "é", "a"),
            (r"\p{IsLatin-1Supplement}", "é", "a"),
            (".", "é", "\n"),
            (r"\s\S", " a", "a "),
            (r"x^y$z", "x^y$z", "xyz"),
            (r"\^\-\.\\", r"^-.\", "^-x\\"),
            ("[.^$]", "^", "a"),
            ("a?b*c+", "c", "ab"),
            ("(a|)b", "b", "c"),
            (r"[\p{Nd}x]", "5", "y"),
            ("[a-c-[b]]", "c", "b"),
        ] {
            assert!(matches(pattern, right), "{pattern} {right:?}");
            assert!(!matches(pattern, wrong), "{pattern} {wrong:?}");
        }
    }

    #[test]
    fn what_other_languages_allow_is_refused() {
        for pattern in [
            "[",
            "]",
            "(",
            ")",
            "a**",
            "*a",
            "a{2,1}",
            "a{,2}",
            "a{",
            "{1}",
            "a}",
            "[]",
            "[^]",
            "[z-a]",
            r"\b",
            r"\$",
            r"\p{Xx}",
            r"\p{L",
            r"\pL",
            "[a-z-[b]c]",
            "[a--z]",
            r"[a-\d]",
            "(?:a)",
            "a\\",
            "[[a]]",
            r"\u0041",
            r"\p{IsKlingon}",
        ] {
            assert!(matches!(Pattern::new([pattern]), Err(PatternError::Syntax { .. })), "{pattern}");
        }
    }

    #[test]
    fn what_explodes_is_refused_in_good_time() {
        for pattern in
            ["(((a{1000}){1000}){1000}){1000}", "a{99999999999}", &"(".repeat(5000), &"[a-".repeat(5000)]
        {
            assert_eq!(Pattern::new([pattern]).unwrap_err(), PatternError::TooLarge, "{:.20}", pattern);
        }
        assert!(matches("(a*)*b", &("a".repeat(10_000) + "b")));
        // Many steps of large classes are no explosion.
        assert!(matches(r"\w{1,500}", &"é".repeat(500)) && !matches(r"\w{1,500}", &"é".repeat(501)));
        assert!(matches(r"(\w{1,90}\.){1,90}", "a.b.") && !matches(r"(\w{1,90}\.){1,90}", "a.b"));
        // Classes that are named in two letters have hundreds of ranges each.
        assert_eq!(Pattern::new([&*r"\w".repeat(100_000)]).unwrap_err(), PatternError::TooLarge);
    }

    #[test]
    fn an_effort_is_counted_and_ends_with_what_there_is_to_spare() {
        let heavy = Pattern::new(["([ab]?){20000}c?"]).unwrap();
        let text = "ab".repeat(5_000);
        let (found, steps) = heavy.assessment(&text, MOST_STEPS);
        assert!(found.is_none() && steps >= MOST_STEPS, "{found:?} {steps}");
        assert_eq!(heavy.assessment("ab", MOST_STEPS).0, Some(true));
        assert_eq!(heavy.assessment("abd", MOST_STEPS).0, Some(false));
        // What is no effort costs nothing, however long the text is.
        let plain = Pattern::new(["[a-c]{1,20000}"]).unwrap();
        assert_eq!(plain.assessment(&"abc".repeat(5_000), 0), (Some(true), 0));
        assert_eq!(plain.assessment(&"abc".repeat(7_000), 0), (Some(false), 0));
    }
}
