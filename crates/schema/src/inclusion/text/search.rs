//! Leads two machines through all texts at once.

use std::collections::VecDeque;

use charter_source::Set;

use super::compile::{Gap, machine};
use super::machine::{Machine, State, TooLarge};
use super::{Judge, Texts, rules};
use crate::inclusion::Undecided;

/// Pairs of states that are looked at before the search is given up.
const MOST_STATES: usize = 60_000;
/// Texts that turn out not to be what the machines take them for, before the search is given up.
const MOST_MISTAKEN: usize = 40;
/// The readable bytes, which are tried first.
const READABLE: &[u8] =
    b"ABCDEFGH abcdefgh4170258369IJKLMNOPQRSTUVWXYZijklmnopqrstuvwxyz-_.:,/+@()'\"!?#%&*;<=>[]^`{|}~$\\";

/// Decides by machines.
pub(super) fn decide(judge: &Judge<'_, '_>) -> Texts {
    let (mut of_sub, mut of_sup) = (Vec::new(), Vec::new());
    let too_large = Texts::Undecided(Undecided::LargePattern);
    let Some(mut sub) = machine(judge.sub.1, &mut of_sub) else { return too_large };
    let Some(mut sup) = machine(judge.sup.1, &mut of_sup) else { return too_large };
    let exact = of_sup.iter().all(|gap| rules::covers(judge.sub.1, judge.sup.1, *gap));
    match search(judge, &mut sub, &mut sup) {
        Ok(Found::Text(text)) => Texts::Beyond(text),
        Ok(Found::Nothing) if exact => Texts::Within,
        Ok(Found::Nothing) => Texts::Undecided(reason(&of_sup)),
        Ok(Found::Mistaken) => Texts::Undecided(reason(&of_sub)),
        Err(TooLarge) => Texts::Undecided(Undecided::ManyValues),
    }
}

fn reason(gaps: &[Gap]) -> Undecided {
    match gaps.first() {
        Some(Gap::Range) => Undecided::Bounds,
        Some(Gap::Length) => Undecided::Lengths,
        Some(Gap::Listed) => Undecided::ListedValues,
        Some(Gap::Patterns) => Undecided::LargePattern,
        Some(Gap::Variety) | None => Undecided::Forms,
    }
}

/// What came of a search.
enum Found {
    /// A text that the first type accepts and the second does not.
    Text(String),
    Nothing,
    /// Texts of which the machines say so, and that are no forms of the type; others, which the machines do not tell from
    /// them, may be.
    Mistaken,
}

/// Where the machines are: the second may have refused already.
type Spot = (State, Option<State>);

/// The shortest text that the first machine accepts and the second does not, and that the types judge so too.
fn search(judge: &Judge<'_, '_>, sub: &mut Machine, sup: &mut Machine) -> Result<Found, TooLarge> {
    let bytes = representatives(&[sub, sup]);
    let Some(begin) = sub.start()? else { return Ok(Found::Nothing) };
    let begin = (begin, sup.start()?);
    let mut seen: Set<Spot> = Set::default();
    seen.insert(begin.clone());
    let mut spots: Vec<(Spot, usize, u8)> = vec![(begin, 0, 0)];
    let mut waiting = VecDeque::from([0]);
    // Where a text was mistaken, another that comes there may not be.
    let mut failing: Set<Spot> = Set::default();
    let mut mistaken = 0;
    while let Some(at) = waiting.pop_front() {
        let (a, b) = spots[at].0.clone();
        let refused = match &b {
            Some(b) => !sup.accepts(b)?,
            None => true,
        };
        if refused && sub.accepts(&a)? {
            match spell(&spots, at).filter(|text| judge.parts(text)) {
                Some(text) => return Ok(Found::Text(text)),
                None if mistaken >= MOST_MISTAKEN => return Ok(Found::Mistaken),
                None => {
                    mistaken += 1;
                    failing.insert((a.clone(), b.clone()));
                }
            }
        }
        for byte in &bytes {
            let Some(next) = sub.step(&a, *byte)? else { continue };
            let other = match &b {
                Some(b) => sup.step(b, *byte)?,
                None => None,
            };
            let next = (next, other);
            if seen.insert(next.clone()) {
                if spots.len() > MOST_STATES {
                    return Err(TooLarge);
                }
                spots.push((next, at, *byte));
                waiting.push_back(spots.len() - 1);
            } else if mistaken < MOST_MISTAKEN && failing.contains(&next) {
                mistaken += 1;
                spots.push((next, at, *byte));
                if let Some(text) = spell(&spots, spots.len() - 1).filter(|text| judge.parts(text)) {
                    return Ok(Found::Text(text));
                }
                spots.pop();
            }
        }
    }
    Ok(if failing.is_empty() { Found::Nothing } else { Found::Mistaken })
}

/// One byte of each class that no machine tells apart, a readable one where there is one.
fn representatives(machines: &[&mut Machine]) -> Vec<u8> {
    let mut signatures: Vec<Vec<u32>> = vec![Vec::new(); 256];
    for machine in machines {
        machine.classes(&mut |class| {
            (0..=255u8).for_each(|byte| signatures[byte as usize].push(class(byte)));
        });
    }
    let mut known: Set<&[u32]> = Set::default();
    let control = |byte: &u8| *byte >= 0x20 || matches!(byte, b'\t' | b'\n');
    let all = READABLE.iter().copied().chain((0..=255u8).filter(control));
    all.filter(|byte| known.insert(&signatures[*byte as usize])).collect()
}

/// The text that leads to a spot.
fn spell(spots: &[(Spot, usize, u8)], mut at: usize) -> Option<String> {
    let mut bytes = Vec::new();
    while at > 0 {
        bytes.push(spots[at].2);
        at = spots[at].1;
    }
    bytes.reverse();
    String::from_utf8(bytes).ok()
}
