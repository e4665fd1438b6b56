//! Edits of random schemas, with the result read back in part and as a whole: both must find the same.

use charter_author::{Editing, ReadBack, Verb, replace};
use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::{Limits, Location, Overlay, Place, Span, TextEdit};
use fastrand::Rng;

use crate::{change, schemas};

/// What an edit came to: what happened to which component, or why it was refused.
type Outcome = Result<Vec<(Verb, String)>, String>;

/// Makes as many random edits, sound ones and others, and says how many were judged alike in part and as a whole.
pub fn read_back(count: usize, rng: &mut Rng) {
    let (mut alike, mut refused, mut in_part, mut tried) = (0, 0, 0, 0);
    for number in 0..count {
        let schema = schemas::Maker::new(rng).schema();
        let mut after = schema.clone();
        change::schema(rng, &mut after);
        let (before, after) = (schema.to_text(), after.to_text());
        let Some(edit) = difference(&before, &after) else { continue };
        tried += 1;
        let [(whole, _), (part, was_part)] =
            [ReadBack::Whole, ReadBack::Affected].map(|how| outcome(&before, edit.clone(), how));
        in_part += usize::from(was_part);
        refused += usize::from(whole.is_err());
        if whole == part {
            alike += 1;
        } else {
            println!("schema {number}:\n  whole {whole:?}\n  part  {part:?}\n{before}\n{edit:?}\n");
        }
    }
    println!(
        "{alike} of {tried} edits were judged alike; {refused} were refused, {in_part} read back in part"
    );
}

fn outcome(text: &str, edit: TextEdit, read_back: ReadBack) -> (Outcome, bool) {
    let store = Overlay::of(&[("s.xsd", text)]);
    let contract = match Contract::load(&store, &Location::from_argument("s.xsd"), Limits::default()) {
        Ok(contract) => contract,
        Err(error) => return (Err(error.to_string()), false),
    };
    let convention = Convention::default();
    let editing = Editing { read_back, ..Editing::of(&contract, &store, &convention) };
    match replace(editing, vec![edit]) {
        Ok(change) => (Ok(change.account), change.in_part),
        Err(error) => (Err(error.to_string()), false),
    }
}

/// The one stretch in which two texts differ.
fn difference(before: &str, after: &str) -> Option<TextEdit> {
    let start = before.bytes().zip(after.bytes()).take_while(|(a, b)| a == b).count();
    let most = before.len().min(after.len()) - start;
    let same = before.bytes().rev().zip(after.bytes().rev()).take(most).take_while(|(a, b)| a == b).count();
    let span = Span::new(start, before.len() - same);
    let replacement = after[start..after.len() - same].to_owned();
    let place = Place { file: Default::default(), span };
    (before != after).then_some(TextEdit { place, replacement })
}
