//! The values that an enumeration lists, ready to be looked up.

use std::hash::BuildHasher;

use charter_source::{QName, Set};
use foldhash::fast::RandomState;
use hashbrown::HashTable;

use crate::Value;

/// The values of an enumeration.
#[derive(Debug)]
pub struct Enumeration {
    /// The values as they are written, in that order.
    pub texts: Texts,
    values: Listed,
}

/// How the values are looked up.
#[derive(Debug)]
enum Listed {
    /// Strings are what is written: the table holds their positions among the texts.
    Strings(HashTable<u32>, RandomState),
    Others(Set<Value>),
}

impl Enumeration {
    /// Room for so many values, which are strings or not.
    pub(super) fn new(count: usize, strings: bool) -> Enumeration {
        let values = match strings {
            true => Listed::Strings(HashTable::with_capacity(count), RandomState::default()),
            false => Listed::Others(Set::with_capacity_and_hasher(count, RandomState::default())),
        };
        Enumeration { texts: Texts::default(), values }
    }

    /// Whether the texts alone tell the values apart.
    pub(super) fn is_of_strings(&self) -> bool {
        matches!(self.values, Listed::Strings(..))
    }

    /// Adds a value, its text with the white space treated.
    pub(super) fn add(&mut self, text: &str, value: Option<Value>) {
        let at = self.texts.len() as u32;
        self.texts.push(text);
        match &mut self.values {
            Listed::Others(values) => values.extend(value),
            Listed::Strings(table, hasher) => {
                let texts = &self.texts;
                let same = |other: &u32| texts.get(*other as usize) == text;
                let hash = |other: &u32| hasher.hash_one(texts.get(*other as usize));
                table.entry(hasher.hash_one(text), same, hash).or_insert(at);
            }
        }
    }

    /// Whether a value is listed. Of a string, only the text is looked at.
    pub(super) fn lists(&self, text: &str, value: Option<&Value>) -> bool {
        match &self.values {
            Listed::Strings(table, hasher) => {
                table.find(hasher.hash_one(text), |at| self.texts.get(*at as usize) == text).is_some()
            }
            // What has no value is wrong in another way.
            Listed::Others(values) => value.is_none_or(|value| values.contains(value)),
        }
    }

    /// The names among the values, in order.
    pub(crate) fn names(&self) -> Vec<&QName> {
        let Listed::Others(values) = &self.values else { return Vec::new() };
        let mut names: Vec<&QName> = values
            .iter()
            .filter_map(|value| match value {
                Value::Name(name) | Value::Notation(name) => Some(&**name),
                _ => None,
            })
            .collect();
        names.sort();
        names
    }
}

/// Texts in one piece of memory.
#[derive(Debug, Default)]
pub struct Texts {
    all: String,
    ends: Vec<u32>,
}

impl Texts {
    fn push(&mut self, text: &str) {
        self.all.push_str(text);
        self.ends.push(self.all.len() as u32);
    }

    fn get(&self, at: usize) -> &str {
        let start = at.checked_sub(1).map_or(0, |before| self.ends[before]);
        &self.all[start as usize..self.ends[at] as usize]
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.ends.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.ends.is_empty()
    }

    /// The texts in the order in which they were added.
    pub fn iter(&self) -> impl Iterator<Item = &str> {
        (0..self.ends.len()).map(|at| self.get(at))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn strings_are_found_by_their_text_and_others_by_their_value() {
        let mut berths = Enumeration::new(2, true);
        ["N4", "S2", "N4", ""].iter().for_each(|text| berths.add(text, None));
        assert_eq!(berths.texts.iter().collect::<Vec<_>>(), ["N4", "S2", "N4", ""]);
        assert!(berths.lists("S2", None) && berths.lists("", None) && !berths.lists("S", None));
        let mut depths = Enumeration::new(1, false);
        let number = |text: &str| Value::parse(crate::Builtin::Decimal, text, |_| None);
        depths.add("9.40", number("9.40"));
        assert!(depths.lists("9.4", number("9.4").as_ref()) && !depths.lists("9.40", number("9").as_ref()));
    }
}
