//! Names: expanded names, their syntax, and the nearest one to a misspelt one.

use std::fmt;
use std::sync::Arc;

use crate::{Map, Set};

/// An expanded name: a namespace (empty for none) and a local name.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct QName {
    /// The namespace name; empty if the name is in no namespace.
    pub namespace: Arc<str>,
    /// The local name.
    pub local: Arc<str>,
}

impl QName {
    /// A name from its two halves.
    pub fn new(namespace: &str, local: &str) -> Self {
        QName { namespace: namespace.into(), local: local.into() }
    }

    /// Whether this is the given name.
    pub fn is(&self, namespace: &str, local: &str) -> bool {
        &*self.local == local && &*self.namespace == namespace
    }
}

/// An interned name as two addresses: quick to compare and to look up.
///
/// Two keys of one [`Interner`] are equal if their names are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct NameKey {
    local: usize,
    namespace: usize,
}

/// An interned namespace as an address.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct NamespaceKey(usize);

impl QName {
    /// The key of the name, if both halves were interned by one interner.
    pub fn key(&self) -> NameKey {
        NameKey { local: address(&self.local), namespace: address(&self.namespace) }
    }
}

fn address(text: &Arc<str>) -> usize {
    text.as_ptr() as usize
}

/// `{namespace}local`, or the local name alone for a name in no namespace.
impl fmt::Display for QName {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.namespace.is_empty() {
            write!(f, "{}", self.local)
        } else {
            write!(f, "{{{}}}{}", self.namespace, self.local)
        }
    }
}

/// Keeps one copy of each string, so that the thousand names of a schema share their namespace.
#[derive(Debug, Default)]
pub struct Interner {
    seen: Set<Arc<str>>,
    /// The first few namespaces: nearly all names are in one of them.
    namespaces: Vec<Arc<str>>,
    /// Names that are shared as a whole.
    whole: Map<NameKey, Arc<QName>>,
}

/// How many namespaces are looked for one by one.
const NEAR: usize = 6;

impl Interner {
    /// The one copy of `text`.
    pub fn intern(&mut self, text: &str) -> Arc<str> {
        if let Some(found) = self.seen.get(text) {
            return found.clone();
        }
        let new: Arc<str> = text.into();
        self.seen.insert(new.clone());
        new
    }

    /// Makes room for more names.
    pub fn reserve(&mut self, more: usize) {
        self.seen.reserve(more);
    }

    /// The one copy of a namespace.
    fn intern_namespace(&mut self, text: &str) -> Arc<str> {
        if let Some(found) = self.namespaces.iter().find(|namespace| ***namespace == *text) {
            return found.clone();
        }
        let new = self.intern(text);
        if self.namespaces.len() < NEAR {
            self.namespaces.push(new.clone());
        }
        new
    }

    /// The one copy of `text`, if it was interned before.
    pub fn find(&self, text: &str) -> Option<&Arc<str>> {
        self.seen.get(text)
    }

    /// The key of a name, if both its halves were interned before.
    pub fn key(&self, namespace: &str, local: &str) -> Option<NameKey> {
        Some(NameKey { local: address(self.find(local)?), namespace: address(self.find(namespace)?) })
    }

    /// The key of a namespace, if it was interned before.
    pub fn address(&self, namespace: &str) -> Option<NamespaceKey> {
        Some(NamespaceKey(address(self.find(namespace)?)))
    }

    /// The key of a name in a namespace, if it was interned before.
    pub fn key_in(&self, namespace: NamespaceKey, local: &str) -> Option<NameKey> {
        Some(NameKey { local: address(self.find(local)?), namespace: namespace.0 })
    }

    /// A name with both halves shared.
    pub fn qname(&mut self, namespace: &str, local: &str) -> QName {
        QName { namespace: self.intern_namespace(namespace), local: self.intern(local) }
    }

    /// The one copy of a name of which both halves are shared: what many refer to has one name.
    pub fn shared(&mut self, name: QName) -> Arc<QName> {
        let key = name.key();
        self.whole.entry(key).or_insert_with(|| Arc::new(name)).clone()
    }
}

/// Whether `name` is an NCName (Namespaces in XML 1.0, production 4).
pub fn is_ncname(name: &str) -> bool {
    let mut characters = name.chars();
    characters.next().is_some_and(starts_name) && characters.all(continues_name)
}

/// Whether `token` is an NMTOKEN (XML 1.0, production 7), a colon not counted out.
pub fn is_nmtoken(token: &str) -> bool {
    !token.is_empty() && token.chars().all(|c| c == ':' || continues_name(c))
}

/// Whether a name may begin with the character (XML 1.0, fifth edition, production 4, without the colon).
pub fn starts_name(c: char) -> bool {
    matches!(c,
        'A'..='Z' | '_' | 'a'..='z' | '\u{C0}'..='\u{D6}' | '\u{D8}'..='\u{F6}' | '\u{F8}'..='\u{2FF}'
        | '\u{370}'..='\u{37D}' | '\u{37F}'..='\u{1FFF}' | '\u{200C}'..='\u{200D}' | '\u{2070}'..='\u{218F}'
        | '\u{2C00}'..='\u{2FEF}' | '\u{3001}'..='\u{D7FF}' | '\u{F900}'..='\u{FDCF}' | '\u{FDF0}'..='\u{FFFD}'
        | '\u{10000}'..='\u{EFFFF}')
}

/// Whether a name may go on with the character (XML 1.0, fifth edition, production 4a, without the colon).
pub fn continues_name(c: char) -> bool {
    starts_name(c)
        || matches!(c, '-' | '.' | '0'..='9' | '\u{B7}' | '\u{300}'..='\u{36F}' | '\u{203F}'..='\u{2040}')
}

/// The candidate that `wanted` is most likely a slip for; `None` if nothing is near.
///
/// ```
/// use charter_source::nearest;
///
/// assert_eq!(nearest("Vesel", ["Pilot", "Vessel", "Berth"]), Some("Vessel"));
/// assert_eq!(nearest("Tide", ["Pilot", "Vessel"]), None);
/// ```
pub fn nearest<'a>(wanted: &str, candidates: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    let length = wanted.chars().count();
    // One slip in four characters is still a slip; more is another word.
    let bound = (length / 4).max(1);
    let folded = wanted.to_lowercase();
    candidates
        .into_iter()
        .filter(|candidate| candidate.chars().count().abs_diff(length) <= bound)
        .map(|candidate| (strsim::damerau_levenshtein(&folded, &candidate.to_lowercase()), candidate))
        .filter(|(distance, _)| *distance <= bound)
        .min_by_key(|(distance, _)| *distance)
        .map(|(_, candidate)| candidate)
}

/// How many names get a suggestion.
const SUGGESTIONS: u32 = 50;

/// Says what names may have meant, to the first who ask: each search looks at every name there is, and there may be
/// thousands of either.
#[derive(Debug, Default)]
pub struct Suggestions {
    asked: u32,
}

impl Suggestions {
    /// Whether there is one more, which is taken.
    pub fn one_more(&mut self) -> bool {
        self.asked = self.asked.saturating_add(1);
        self.asked <= SUGGESTIONS
    }

    /// As [`nearest`], for the first who ask.
    pub fn nearest<'a>(
        &mut self,
        wanted: &str,
        candidates: impl IntoIterator<Item = &'a str>,
    ) -> Option<&'a str> {
        self.one_more().then(|| nearest(wanted, candidates)).flatten()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_first_get_a_suggestion() {
        let mut suggestions = Suggestions::default();
        let answers: Vec<_> = (0..60).map(|_| suggestions.nearest("Vesel", ["Vessel"])).collect();
        assert_eq!(answers.iter().flatten().count(), 50);
        assert_eq!(answers[49..51], [Some("Vessel"), None]);
    }

    #[test]
    fn ncnames() {
        for name in ["Vessel", "_x", "élan", "a-b.c1"] {
            assert!(is_ncname(name), "{name}");
        }
        for name in ["", "1a", "a b", "p:a", "-a", "a/b"] {
            assert!(!is_ncname(name), "{name}");
        }
    }

    #[test]
    fn the_nearest_name_forgives_case() {
        assert_eq!(nearest("vessel", ["VESSEL"]), Some("VESSEL"));
        assert_eq!(nearest("vessel", []), None);
    }
}
