//! Names that must not be alike.

use charter_source::{Map, Set};

/// Names that differ: a number behind the second of two that are alike.
#[derive(Default)]
pub(crate) struct Distinct {
    taken: Set<String>,
    /// The last number behind each name that was wanted again.
    numbers: Map<String, usize>,
}

impl Distinct {
    /// The name, or the name with a number behind it.
    pub fn name(&mut self, wanted: String) -> String {
        if self.taken.insert(wanted.clone()) {
            return wanted;
        }
        let number = self.numbers.entry(wanted.clone()).or_insert(1);
        loop {
            *number += 1;
            let name = format!("{wanted}{number}");
            if self.taken.insert(name.clone()) {
                return name;
            }
        }
    }
}
