//! Content models: the walk against a plain matcher that tries everything, and the judgement on ambiguity against
//! a search for two particles that could both come next.

use std::collections::BTreeSet;

use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay};
use proptest::prelude::*;

/// A particle over the elements a, b and c.
#[derive(Debug, Clone)]
enum Part {
    Leaf(char, usize, usize),
    Group(bool, Vec<Part>, usize, usize),
}

fn part() -> impl Strategy<Value = Part> {
    let bounds = (0..3usize, 0..3usize).prop_map(|(least, more)| (least, (least + more).max(1)));
    let leaf = (prop::sample::select(vec!['a', 'b', 'c']), bounds.clone())
        .prop_map(|(letter, (least, most))| Part::Leaf(letter, least, most));
    leaf.prop_recursive(3, 8, 3, move |inner| {
        (any::<bool>(), prop::collection::vec(inner, 1..4), bounds.clone())
            .prop_map(|(choice, parts, (least, most))| Part::Group(choice, parts, least, most))
    })
}

impl Part {
    fn xml(&self) -> String {
        let occurs = |least: &usize, most: &usize| format!("minOccurs='{least}' maxOccurs='{most}'");
        match self {
            Part::Leaf(letter, least, most) => {
                format!("<xs:element name='{letter}' type='xs:string' {}/>", occurs(least, most))
            }
            Part::Group(choice, parts, least, most) => {
                let name = if *choice { "choice" } else { "sequence" };
                let inner: String = parts.iter().map(Part::xml).collect();
                format!("<xs:{name} {}>{inner}</xs:{name}>", occurs(least, most))
            }
        }
    }

    /// The places in a word where a match from `start` may end.
    fn ends(&self, word: &[char], start: usize) -> BTreeSet<usize> {
        let (least, most) = match self {
            Part::Leaf(_, least, most) | Part::Group(_, _, least, most) => (*least, *most),
        };
        let mut here = BTreeSet::from([start]);
        let mut found = if least == 0 { here.clone() } else { BTreeSet::new() };
        for times in 1..=most {
            here = here.iter().flat_map(|start| self.once(word, *start)).collect();
            if times >= least {
                found.extend(&here);
            }
        }
        found
    }

    fn once(&self, word: &[char], start: usize) -> BTreeSet<usize> {
        match self {
            Part::Leaf(letter, ..) => {
                (word.get(start) == Some(letter)).then_some(start + 1).into_iter().collect()
            }
            Part::Group(true, parts, ..) => parts.iter().flat_map(|part| part.ends(word, start)).collect(),
            Part::Group(false, parts, ..) => parts.iter().fold(BTreeSet::from([start]), |here, part| {
                here.iter().flat_map(|start| part.ends(word, *start)).collect()
            }),
        }
    }

    /// Its particles written out, each copy of a leaf with the number of that leaf: alternatives of sequences would be
    /// endless, so this is an automaton of edges between copies.
    fn edges(&self, automaton: &mut Automaton, from: &BTreeSet<usize>) -> BTreeSet<usize> {
        let (least, most) = match self {
            Part::Leaf(_, least, most) | Part::Group(_, _, least, most) => (*least, *most),
        };
        let first = automaton.leaves;
        let mut here = from.clone();
        let mut ends = if least == 0 { from.clone() } else { BTreeSet::new() };
        for times in 1..=most {
            // Every copy of a part has the same leaves.
            automaton.leaves = first;
            here = match self {
                Part::Leaf(letter, ..) => {
                    let state = automaton.state(*letter);
                    here.iter().for_each(|from| automaton.edges.push((*from, state)));
                    BTreeSet::from([state])
                }
                Part::Group(true, parts, ..) => {
                    parts.iter().flat_map(|part| part.edges(automaton, &here)).collect()
                }
                Part::Group(false, parts, ..) => {
                    parts.iter().fold(here.clone(), |here, part| part.edges(automaton, &here))
                }
            };
            if times >= least {
                ends.extend(&here);
            }
        }
        ends
    }
}

/// States are copies of leaves; the first is the beginning.
struct Automaton {
    /// The letter of each state, and the leaf that it is a copy of.
    states: Vec<(char, usize)>,
    edges: Vec<(usize, usize)>,
    leaves: usize,
}

impl Automaton {
    fn of(part: &Part) -> Automaton {
        let mut automaton = Automaton { states: vec![(' ', 0)], edges: Vec::new(), leaves: 0 };
        part.edges(&mut automaton, &BTreeSet::from([0]));
        automaton
    }

    fn state(&mut self, letter: char) -> usize {
        self.leaves += 1;
        self.states.push((letter, self.leaves));
        self.states.len() - 1
    }

    /// Whether after some word the next letter could belong to two different leaves.
    fn ambiguous(&self) -> bool {
        let mut seen = BTreeSet::from([BTreeSet::from([0])]);
        let mut waiting = vec![BTreeSet::from([0])];
        while let Some(here) = waiting.pop() {
            for letter in ['a', 'b', 'c'] {
                let next = self
                    .edges
                    .iter()
                    .filter(|(from, to)| here.contains(from) && self.states[*to].0 == letter);
                let next: BTreeSet<usize> = next.map(|(_, to)| *to).collect();
                let leaves: BTreeSet<usize> = next.iter().map(|state| self.states[*state].1).collect();
                if leaves.len() > 1 {
                    return true;
                }
                if !next.is_empty() && seen.insert(next.clone()) {
                    waiting.push(next);
                }
            }
        }
        false
    }
}

fn load(name: &str, text: &str) -> Files {
    Files::load(&Overlay::of(&[(name, text)]), &Location::from_argument(name), Limits::default()).unwrap()
}

fn with<T>(part: &Part, work: impl FnOnce(&Engine<'_>) -> T) -> T {
    let text = format!(
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'><xs:element name='r'><xs:complexType><xs:sequence>{}</xs:sequence></xs:complexType></xs:element></xs:schema>",
        part.xml()
    );
    let files = load("t.xsd", &text);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    assert!(schemas.faults().is_empty(), "{:?}", schemas.faults());
    work(&Engine::new(&files, &schemas))
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(400) })]

    #[test]
    fn a_walk_accepts_what_a_plain_matcher_accepts(part in part(), words in prop::collection::vec("[abc]{0,9}", 12)) {
        with(&part, |engine| {
            for word in &words {
                let letters: Vec<char> = word.chars().collect();
                let expected = part.ends(&letters, 0).contains(&letters.len());
                let inner: String = letters.iter().map(|letter| format!("<{letter}/>")).collect();
                let files = load("t.xml", &format!("<r>{inner}</r>"));
                let report = engine.validate(files.first().id, files.first().root().unwrap(), 5);
                prop_assert_eq!(report.is_valid(), expected, "{} {}: {:?}", part.xml(), word, report.wrong);
            }
            Ok(())
        })?;
    }

    #[test]
    fn ambiguity_is_found_where_a_search_finds_it(part in part()) {
        let found = with(&part, |engine| engine.judge().iter().any(|fault| fault.rule == "cos-nonambig"));
        prop_assert_eq!(found, Automaton::of(&part).ambiguous(), "{}", part.xml());
    }
}
