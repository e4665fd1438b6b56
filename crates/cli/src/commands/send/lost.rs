//! Requests that came to nothing: what is the same for several is said once.

use crate::console::Failure;

/// How many are named at most.
const NAMED: usize = 4;

/// Why requests came to nothing, in the order in which that was first found.
#[derive(Default)]
pub struct Lost(Vec<(Failure, Vec<String>)>);

impl Lost {
    /// One more, by its name: an operation, or a row.
    pub fn add(&mut self, name: &str, failure: Failure) {
        let same = |known: &&mut (Failure, Vec<String>)| {
            let known = &known.0;
            (&known.message, &known.help, &known.place) == (&failure.message, &failure.help, &failure.place)
        };
        match self.0.iter_mut().find(same) {
            Some((_, names)) => names.push(name.to_owned()),
            None => self.0.push((failure, vec![name.to_owned()])),
        }
    }

    /// What is to be told.
    pub fn failures(self) -> impl Iterator<Item = Failure> {
        self.0.into_iter().map(|(mut failure, mut names)| {
            // An operation is asked by each of its ports.
            names.dedup();
            let several = names.len() > 1;
            let more = names.len().saturating_sub(NAMED);
            names.truncate(NAMED);
            let (names, last) = match (more, names.pop()) {
                (0, last) => (names, last.unwrap_or_default()),
                (_, last) => {
                    names.extend(last);
                    (names, format!("{more} more"))
                }
            };
            let named = if names.is_empty() { last } else { format!("{} and {last}", names.join(", ")) };
            failure.message = format!("{named}: {}", failure.message);
            if several {
                failure.path = None;
            }
            failure
        })
    }
}
