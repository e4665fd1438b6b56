//! The automata of patterns. Types share them by what they say; all together they take so much room and so much time and no
//! more. What is beyond that is not judged.

use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use charter_source::Map;

use super::budget::take;
use crate::pattern::{self, Classes};
use crate::{Pattern, TypeId};

/// Bytes of automata that run fast.
const FAST: u64 = 24 << 20;
/// Bytes of all automata that are kept: so many, and so many for each byte of the schemas.
const ROOM: u64 = 24 << 20;
const ROOM_FOR_EACH: u64 = 2;
/// What building all automata may cost, in characters of patterns whose counts are written out, and all steps that are an
/// effort: so many, and so many for each byte of the schemas.
const WORK: u64 = 60_000_000;
const WORK_FOR_EACH: u64 = 4;

/// The patterns of one step of a derivation, and those of the steps before it.
#[derive(Debug)]
pub struct PatternStep {
    /// As they are written; one of them must match.
    pub texts: Arc<[Box<str>]>,
    /// The steps towards the base.
    pub before: Option<Arc<PatternStep>>,
    automaton: OnceLock<Automaton>,
    all: Arc<Automata>,
}

impl PatternStep {
    /// A step with these patterns after others.
    pub(super) fn new(
        texts: Vec<Box<str>>,
        before: Option<Arc<PatternStep>>,
        all: &Arc<Automata>,
    ) -> PatternStep {
        PatternStep { texts: texts.into(), before, automaton: OnceLock::new(), all: all.clone() }
    }

    fn automaton(&self) -> &Automaton {
        self.automaton.get_or_init(|| self.all.of(&self.texts))
    }

    /// Whether a text can be judged at all: the patterns are regular expressions, and not too large.
    pub fn is_usable(&self) -> bool {
        !matches!(self.automaton(), Automaton::None | Automaton::Wrong)
    }

    /// Whether a text matches one of the patterns.
    pub fn judge(&self, text: &str) -> Judgement {
        let found = match self.automaton() {
            // What is no pattern is a fault of the schema, not of the value.
            Automaton::Wrong => return Judgement::Matches,
            Automaton::None => None,
            Automaton::Kept(pattern) => self.all.run(pattern, text),
            Automaton::Passing => {
                self.all.small(&self.texts).and_then(|pattern| self.all.run(&pattern, text))
            }
        };
        match found {
            Some(true) => Judgement::Matches,
            Some(false) => Judgement::Differs,
            None => Judgement::Open,
        }
    }
}

impl Drop for PatternStep {
    /// Takes a long chain apart step by step, not by recursion.
    fn drop(&mut self) {
        let mut next = self.before.take();
        while let Some(mut step) = next.and_then(|step| Arc::try_unwrap(step).ok()) {
            next = step.before.take();
        }
    }
}

/// What a pattern says of a text.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Judgement {
    /// It matches.
    Matches,
    /// It does not.
    Differs,
    /// To find out would take more than there is.
    Open,
}

/// What there is of patterns.
#[derive(Debug, Clone)]
enum Automaton {
    Kept(Arc<Pattern>),
    /// There is no room left to keep it: it is built each time.
    Passing,
    /// It is too large.
    None,
    /// It is no regular expression.
    Wrong,
}

/// What a text is an example of: a value of that type, or of another, second one, or of an item of a list of it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) struct ExampleOf {
    pub ty: TypeId,
    pub second: bool,
    pub item: bool,
}

/// Examples are kept if they are not much longer than the patterns.
const LONGER: usize = 64;

/// The automata of all patterns of an engine.
#[derive(Debug)]
pub(crate) struct Automata {
    known: Mutex<Map<Arc<[Box<str>]>, Automaton>>,
    classes: Mutex<Classes>,
    examples: Mutex<Map<ExampleOf, Option<Box<str>>>>,
    fast: AtomicU64,
    room: AtomicU64,
    work: AtomicU64,
}

impl Automata {
    /// For schemas of so many bytes.
    pub fn of_schemas(bytes: u64) -> Automata {
        Automata {
            known: Mutex::default(),
            classes: Mutex::default(),
            examples: Mutex::default(),
            fast: AtomicU64::new(FAST),
            room: AtomicU64::new(ROOM + ROOM_FOR_EACH * bytes),
            work: AtomicU64::new(WORK + WORK_FOR_EACH * bytes),
        }
    }

    fn of(&self, texts: &Arc<[Box<str>]>) -> Automaton {
        let known = || self.known.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = known().get(texts) {
            return known.clone();
        }
        let built = self.build(texts);
        known().insert(texts.clone(), built.clone());
        built
    }

    fn build(&self, texts: &[Box<str>]) -> Automaton {
        let read = match pattern::read(texts.iter().map(|text| &**text)) {
            Ok(read) => read,
            Err(pattern::PatternError::Syntax { .. }) => return Automaton::Wrong,
            Err(pattern::PatternError::TooLarge) => return Automaton::None,
        };
        if !take(&self.work, read.weight) {
            return Automaton::None;
        }
        let mut classes = self.classes.lock().unwrap_or_else(PoisonError::into_inner);
        let built = match self.fast.load(Ordering::Relaxed) {
            0 => Pattern::small(&read, &mut classes),
            _ => Pattern::fast(&read, &mut classes),
        };
        let Ok(built) = built else { return Automaton::None };
        let bytes = built.bytes();
        let less = |left: u64| Some(left.saturating_sub(bytes));
        let _ = self.fast.fetch_update(Ordering::Relaxed, Ordering::Relaxed, less);
        match take(&self.room, bytes) {
            true => Automaton::Kept(Arc::new(built)),
            false => Automaton::Passing,
        }
    }

    /// An automaton for one text.
    fn small(&self, texts: &[Box<str>]) -> Option<Pattern> {
        let read = pattern::read(texts.iter().map(|text| &**text)).ok()?;
        let mut classes = self.classes.lock().unwrap_or_else(PoisonError::into_inner);
        take(&self.work, read.weight).then(|| Pattern::small(&read, &mut classes).ok()).flatten()
    }

    /// A text that the patterns of a step match, made by `make` when it is first asked for: to read large patterns costs more
    /// than to write what they match.
    pub fn example(
        &self,
        of: ExampleOf,
        step: &PatternStep,
        make: impl FnOnce() -> Option<String>,
    ) -> Option<String> {
        let known = || self.examples.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(known) = known().get(&of) {
            return known.as_deref().map(str::to_owned);
        }
        let made = make();
        let most = LONGER + step.texts.iter().map(|text| text.len()).sum::<usize>();
        if made.as_ref().is_none_or(|text| text.len() <= most) {
            known().insert(of, made.as_deref().map(Box::from));
        }
        made
    }

    fn run(&self, pattern: &Pattern, text: &str) -> Option<bool> {
        let (found, steps) = pattern.assessment(text, self.work.load(Ordering::Relaxed));
        if !take(&self.work, steps) {
            self.work.store(0, Ordering::Relaxed);
        }
        found
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn step(pattern: &str, all: &Arc<Automata>) -> PatternStep {
        PatternStep::new(vec![pattern.into()], None, all)
    }

    #[test]
    fn patterns_that_say_the_same_share_an_automaton() {
        let all = Arc::new(Automata::of_schemas(0));
        let steps: Vec<PatternStep> = (0..1000).map(|_| step("[A-Z]{4,7}", &all)).collect();
        assert!(steps.iter().all(|step| step.judge("SM4170") == Judgement::Differs));
        assert!(steps.iter().all(|step| step.judge("SALT") == Judgement::Matches));
        assert_eq!(all.known.lock().unwrap().len(), 1);
    }

    #[test]
    fn an_example_is_made_once_but_for_a_long_one() {
        let all = Arc::new(Automata::of_schemas(0));
        let short = step("[a-z]+", &all);
        let of = |second| ExampleOf { ty: crate::Builtin::String.id(), second, item: false };
        let again = || -> Option<String> { panic!("it is known") };
        assert_eq!(all.example(of(false), &short, || Some("quay".into())).as_deref(), Some("quay"));
        assert_eq!(all.example(of(false), &short, again).as_deref(), Some("quay"));
        assert_eq!(all.example(of(true), &short, || Some("q".repeat(5_000))).map(|it| it.len()), Some(5_000));
        assert_eq!(all.example(of(true), &short, || None), None);
        assert_eq!(all.example(of(true), &short, again), None);
    }

    #[test]
    fn where_room_is_short_automata_are_small_and_then_passing() {
        let all = Arc::new(Automata::of_schemas(0));
        for number in 0..4_000 {
            let own = step(&format!("[a-z]{{1,200}}-{number}"), &all);
            assert_eq!(own.judge(&format!("quay-{number}")), Judgement::Matches);
            assert_eq!(own.judge("quay-"), Judgement::Differs);
        }
        assert_eq!(all.fast.load(Ordering::Relaxed), 0);
        all.room.store(0, Ordering::Relaxed);
        let late = step("[a-z]+-late", &all);
        assert!(matches!(late.automaton(), Automaton::Passing) && late.is_usable());
        assert_eq!((late.judge("quay-late"), late.judge("quay")), (Judgement::Matches, Judgement::Differs));
    }

    #[test]
    fn what_there_is_no_time_for_stays_open() {
        let all = Arc::new(Automata::of_schemas(0));
        let heavy = step("([ab]?){20000}c?", &all);
        let text = "ab".repeat(8_000);
        assert_eq!((heavy.judge("abc"), heavy.judge("abd")), (Judgement::Matches, Judgement::Differs));
        assert_eq!(heavy.judge(&text), Judgement::Open);
        // Nor is there time for anything else that is an effort; what is none is judged.
        all.work.store(0, Ordering::Relaxed);
        assert_eq!(heavy.judge("abc"), Judgement::Open);
        assert!(!step("[a-z]{9}", &all).is_usable());
        assert_eq!(step("[a-z]{9}", &all).judge("a"), Judgement::Open);
        // What is no pattern is told of the schema.
        assert_eq!(step("[", &all).judge("a"), Judgement::Matches);
    }
}
