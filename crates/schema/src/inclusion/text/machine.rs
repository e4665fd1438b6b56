//! Machines that read a text byte by byte and say whether they accept it.

use charter_source::Map;
use regex_automata::hybrid::LazyStateID;
use regex_automata::hybrid::dfa::{Cache, DFA};
use regex_automata::util::start;
use regex_automata::{Anchored, MatchKind};
use regex_syntax::hir::{Hir, Look};

use super::number::{Against, Bound, Digits};
use crate::{WhiteSpace, parse_pattern};

/// Bytes that one automaton may take while it is written out, and states that are kept of it.
const LARGEST_AUTOMATON: usize = 4 << 20;
const LARGEST_CACHE: usize = 16 << 20;

/// What reads a text.
pub(super) enum Machine {
    /// A regular expression.
    Regex(Box<Automaton>),
    /// So many characters.
    Length { least: u64, most: u64 },
    /// A decimal that is not less (or not greater) than a bound.
    Range { bound: Bound, lower: bool, inclusive: bool },
    /// A decimal of no more digits.
    Digits { total: Option<u64>, fraction: Option<u64> },
    /// One of some texts.
    Listed(Trie),
    /// What all of them accept.
    All(Vec<Machine>),
    /// What one of them accepts.
    Any(Vec<Machine>),
    /// Items with single spaces between them.
    List { item: Box<Machine>, least: u64, most: u64 },
    /// What the inner machine accepts once white space is treated.
    Spaced(WhiteSpace, Box<Machine>),
}

/// Where a machine is in a text.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) enum State {
    Regex(LazyStateID),
    Count(u64),
    Range(Against),
    Digits(Digits),
    Node(u32),
    All(Box<[State]>),
    Any(Box<[Option<State>]>),
    List { count: u64, item: Option<Box<State>> },
    Spaced { begun: bool, pending: bool, inner: Box<State> },
}

/// There were more states than can be kept.
pub(super) struct TooLarge;

/// Is told of a way to tell bytes apart.
type Mark<'m> = &'m mut dyn FnMut(&dyn Fn(u8) -> u32);

type Stepped = Result<Option<State>, TooLarge>;

/// An automaton that is written out as far as it is used.
pub(super) struct Automaton {
    dfa: DFA,
    cache: Cache,
}

impl Automaton {
    /// Of patterns of which one must match; `None` if that would be too large.
    pub fn new<'p>(patterns: impl IntoIterator<Item = &'p str>) -> Option<Automaton> {
        let ways = patterns.into_iter().map(parse_pattern).collect::<Result<Vec<_>, _>>().ok()?;
        let whole = Hir::concat(vec![Hir::alternation(ways), Hir::look(Look::End)]);
        let limits = regex_automata::nfa::thompson::Config::new().nfa_size_limit(Some(LARGEST_AUTOMATON));
        let nfa = regex_automata::nfa::thompson::Compiler::new().configure(limits).build_from_hir(&whole);
        // States that were forgotten and found again would look like others: better to give up.
        let config = DFA::config()
            .match_kind(MatchKind::All)
            .cache_capacity(LARGEST_CACHE)
            .skip_cache_capacity_check(true)
            .minimum_cache_clear_count(Some(0));
        let dfa = DFA::builder().configure(config).build_from_nfa(nfa.ok()?).ok()?;
        let cache = dfa.create_cache();
        Some(Automaton { dfa, cache })
    }
}

/// Texts by their bytes.
#[derive(Default)]
pub(super) struct Trie {
    edges: Map<(u32, u8), u32>,
    ends: Vec<bool>,
}

impl Trie {
    pub fn new<'t>(texts: impl IntoIterator<Item = &'t str>) -> Trie {
        let mut trie = Trie { edges: Map::default(), ends: vec![false] };
        for text in texts {
            let mut here = 0;
            for byte in text.bytes() {
                let fresh = trie.ends.len() as u32;
                here = *trie.edges.entry((here, byte)).or_insert(fresh);
                if here == fresh {
                    trie.ends.push(false);
                }
            }
            trie.ends[here as usize] = true;
        }
        trie
    }
}

impl Machine {
    /// Where the machine begins.
    pub fn start(&mut self) -> Stepped {
        Ok(Some(match self {
            Machine::Regex(automaton) => {
                let config = start::Config::new().anchored(Anchored::Yes);
                let state = automaton.dfa.start_state(&mut automaton.cache, &config);
                State::Regex(state.map_err(|_| TooLarge)?)
            }
            Machine::Length { .. } => State::Count(0),
            Machine::Range { .. } => State::Range(Against::start()),
            Machine::Digits { .. } => State::Digits(Digits::default()),
            Machine::Listed(_) => State::Node(0),
            Machine::All(parts) => {
                let mut states = Vec::with_capacity(parts.len());
                for part in parts {
                    let Some(state) = part.start()? else { return Ok(None) };
                    states.push(state);
                }
                State::All(states.into())
            }
            Machine::Any(ways) => {
                State::Any(ways.iter_mut().map(Machine::start).collect::<Result<Box<[_]>, _>>()?)
            }
            Machine::List { .. } => State::List { count: 0, item: None },
            Machine::Spaced(_, inner) => {
                let Some(inner) = inner.start()? else { return Ok(None) };
                State::Spaced { begun: false, pending: false, inner: Box::new(inner) }
            }
        }))
    }

    /// Reads a byte; nothing if no text that goes on so is accepted.
    pub fn step(&mut self, state: &State, byte: u8) -> Stepped {
        Ok(match (self, state) {
            (Machine::Regex(automaton), State::Regex(state)) => {
                let next = automaton.dfa.next_state(&mut automaton.cache, *state, byte);
                let next = next.map_err(|_| TooLarge)?;
                (!next.is_dead() && !next.is_quit()).then_some(State::Regex(next))
            }
            (Machine::Length { least, most }, State::Count(count)) => {
                // Bytes that go on with a character do not count.
                let count = count + u64::from(!(0x80..0xC0).contains(&byte));
                let counted = if *most == u64::MAX { count.min(*least) } else { count };
                (count <= *most).then_some(State::Count(counted))
            }
            (Machine::Range { bound, .. }, State::Range(state)) => {
                Some(State::Range(state.step(bound, byte)))
            }
            (Machine::Digits { total, fraction }, State::Digits(state)) => {
                let most = total.unwrap_or(0).max(fraction.unwrap_or(0));
                Some(State::Digits(state.step(byte, most)))
            }
            (Machine::Listed(trie), State::Node(node)) => {
                trie.edges.get(&(*node, byte)).map(|next| State::Node(*next))
            }
            (Machine::All(parts), State::All(states)) => {
                let mut next = Vec::with_capacity(states.len());
                for (part, state) in parts.iter_mut().zip(states) {
                    let Some(state) = part.step(state, byte)? else { return Ok(None) };
                    next.push(state);
                }
                Some(State::All(next.into()))
            }
            (Machine::Any(ways), State::Any(states)) => {
                let mut next = Vec::with_capacity(states.len());
                for (way, state) in ways.iter_mut().zip(states) {
                    next.push(match state {
                        Some(state) => way.step(state, byte)?,
                        None => None,
                    });
                }
                next.iter().any(Option::is_some).then(|| State::Any(next.into()))
            }
            (Machine::List { item, least, most }, State::List { count, item: here }) => {
                return list_step((item, *least, *most), *count, here.as_deref(), byte);
            }
            (Machine::Spaced(how, inner), State::Spaced { begun, pending, inner: state }) => {
                return spaced_step(*how, inner, (*begun, *pending), state, byte);
            }
            _ => None,
        })
    }

    /// Whether the text that led here is accepted.
    pub fn accepts(&mut self, state: &State) -> Result<bool, TooLarge> {
        Ok(match (self, state) {
            (Machine::Regex(automaton), State::Regex(state)) => {
                let end = automaton.dfa.next_eoi_state(&mut automaton.cache, *state);
                end.map_err(|_| TooLarge)?.is_match()
            }
            (Machine::Length { least, most }, State::Count(count)) => (*least..=*most).contains(count),
            (Machine::Range { bound, lower, inclusive }, State::Range(state)) => {
                let order = state.end(bound);
                let wanted = if *lower { std::cmp::Ordering::Greater } else { std::cmp::Ordering::Less };
                order == wanted || (*inclusive && order.is_eq())
            }
            (Machine::Digits { total, fraction }, State::Digits(state)) => state.fit(*total, *fraction),
            (Machine::Listed(trie), State::Node(node)) => trie.ends[*node as usize],
            (Machine::All(parts), State::All(states)) => {
                for (part, state) in parts.iter_mut().zip(states) {
                    if !part.accepts(state)? {
                        return Ok(false);
                    }
                }
                true
            }
            (Machine::Any(ways), State::Any(states)) => {
                for (way, state) in ways.iter_mut().zip(states) {
                    if let Some(state) = state
                        && way.accepts(state)?
                    {
                        return Ok(true);
                    }
                }
                false
            }
            (Machine::List { item, least, most }, State::List { count, item: here }) => match here {
                Some(here) => (*least..=*most).contains(&(count + 1)) && item.accepts(here)?,
                None => *count == 0 && *least == 0,
            },
            (Machine::Spaced(_, inner), State::Spaced { inner: state, .. }) => inner.accepts(state)?,
            _ => false,
        })
    }

    /// Marks the bytes that the machine may tell apart: equal classes, equal behaviour.
    pub fn classes(&self, mark: Mark<'_>) {
        match self {
            Machine::Regex(automaton) => {
                let classes = automaton.dfa.byte_classes();
                mark(&|byte| u32::from(classes.get(byte)));
            }
            Machine::Length { .. } => mark(&|byte| u32::from((0x80..0xC0).contains(&byte))),
            Machine::Range { .. } | Machine::Digits { .. } => {
                mark(&|byte| if byte.is_ascii_digit() || b"+-.".contains(&byte) { byte.into() } else { 0 });
            }
            Machine::Listed(trie) => {
                let mut used = [false; 256];
                trie.edges.keys().for_each(|(_, byte)| used[*byte as usize] = true);
                mark(&|byte| if used[byte as usize] { byte.into() } else { 0 });
            }
            Machine::All(parts) | Machine::Any(parts) => parts.iter().for_each(|part| part.classes(mark)),
            Machine::List { item: inner, .. } | Machine::Spaced(_, inner) => {
                mark(&|byte| match byte {
                    b' ' => 1,
                    b'\t' | b'\n' | b'\r' => 2,
                    _ => 0,
                });
                inner.classes(mark);
            }
        }
    }
}

fn list_step(
    (item, least, most): (&mut Machine, u64, u64),
    count: u64,
    here: Option<&State>,
    byte: u8,
) -> Stepped {
    if byte == b' ' {
        let ended = match here {
            Some(here) => item.accepts(here)?,
            None => false,
        };
        let counted = if most == u64::MAX { (count + 1).min(least) } else { count + 1 };
        return Ok((ended && counted < most).then_some(State::List { count: counted, item: None }));
    }
    let next = match here {
        Some(here) => item.step(here, byte)?,
        None if count >= most => None,
        None => match item.start()? {
            Some(start) => item.step(&start, byte)?,
            None => None,
        },
    };
    Ok(next.map(|next| State::List { count, item: Some(Box::new(next)) }))
}

fn spaced_step(
    how: WhiteSpace,
    inner: &mut Machine,
    (begun, pending): (bool, bool),
    state: &State,
    byte: u8,
) -> Stepped {
    let space = matches!(byte, b' ' | b'\t' | b'\n' | b'\r');
    let boxed = |inner: State| State::Spaced { begun: true, pending: false, inner: Box::new(inner) };
    Ok(match how {
        WhiteSpace::Preserve => inner.step(state, byte)?.map(boxed),
        WhiteSpace::Replace => inner.step(state, if space { b' ' } else { byte })?.map(boxed),
        WhiteSpace::Collapse if space => {
            Some(State::Spaced { begun, pending: begun, inner: Box::new(state.clone()) })
        }
        WhiteSpace::Collapse => {
            let before = if pending { inner.step(state, b' ')? } else { Some(state.clone()) };
            match before {
                Some(before) => inner.step(&before, byte)?.map(boxed),
                None => None,
            }
        }
    })
}
