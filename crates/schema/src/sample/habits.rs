//! What a sender is known to send: samples and examples are made of it where there is a choice.

use std::collections::BTreeMap;

/// The names that a sender puts into an element, and into what stands in it: local names of elements, and of attributes
/// after an `@`.
///
/// ```
/// use charter_schema::sample::SenderHabits;
///
/// let mut sent = SenderHabits::default();
/// sent.add(&["ship", "name"]);
/// sent.add(&["berth"]);
/// assert!(sent.knows("ship") && !sent.knows("name"));
/// assert!(sent.below("ship").unwrap().knows("name"));
/// // Whoever sends a berth may send all of it.
/// assert_eq!(sent.below("berth"), None);
/// ```
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct SenderHabits {
    /// What is known of each; `None` for one that is sent with all that it may hold.
    below: BTreeMap<String, Option<SenderHabits>>,
}

impl SenderHabits {
    /// Adds a path of names. What the last of them names is sent with all that it may hold.
    pub fn add(&mut self, path: &[impl AsRef<str>]) {
        let Some((first, rest)) = path.split_first() else { return };
        if rest.is_empty() {
            self.below.insert(first.as_ref().to_owned(), None);
            return;
        }
        let known =
            self.below.entry(first.as_ref().to_owned()).or_insert_with(|| Some(SenderHabits::default()));
        if let Some(known) = known {
            known.add(rest);
        }
    }

    /// Whether something of that name is sent here.
    pub fn knows(&self, name: &str) -> bool {
        self.below.contains_key(name)
    }

    /// What is sent within something of that name, if it is known to be less than all.
    pub fn below(&self, name: &str) -> Option<&SenderHabits> {
        self.below.get(name)?.as_ref()
    }

    /// What is sent around an element of that name, in which this is sent.
    pub fn within(self, name: &str) -> SenderHabits {
        SenderHabits { below: BTreeMap::from([(name.to_owned(), Some(self))]) }
    }
}
