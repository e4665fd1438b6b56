//! Which entry applies to a reference (XML Catalogs 1.1, section 7).

use super::{Catalogs, Matchers, Prefer, identifier};
use crate::{Location, Set, Wanted};

pub(super) fn find(catalogs: &Catalogs, wanted: &Wanted<'_>) -> Option<Location> {
    let mut addresses: Vec<String> = wanted.location.and_then(identifier::of_location).into_iter().collect();
    let written = wanted.reference.map(identifier::address).filter(|text| !text.is_empty());
    addresses.extend(written.filter(|text| addresses.first() != Some(text)));
    let namespace = wanted.namespace.filter(|name| !name.is_empty());
    let public = namespace.map(identifier::public);
    let name: Vec<String> = namespace.map(identifier::address).into_iter().collect();
    let has_address = !addresses.is_empty();
    let queries = [
        Query { kind: Kind::Uri, addresses: &addresses, public: None, has_address },
        Query { kind: Kind::System, addresses: &addresses, public: public.as_deref(), has_address },
        Query { kind: Kind::Uri, addresses: &name, public: None, has_address },
    ];
    queries.iter().find_map(|query| {
        match (Search { catalogs, asked: Set::default() }).each(&catalogs.start, query) {
            Outcome::Found(location) => Some(location),
            Outcome::Settled | Outcome::Open => None,
        }
    })
}

/// Whether an address is looked for as a URI reference or as a system identifier.
#[derive(Debug, Clone, Copy)]
enum Kind {
    Uri,
    System,
}

/// What is asked of one catalog after the other.
#[derive(Debug, Clone, Copy)]
struct Query<'q> {
    kind: Kind,
    /// The forms of the address; the first that an entry knows counts.
    addresses: &'q [String],
    public: Option<&'q str>,
    /// Whether there was an address at first, which some catalogs prefer.
    has_address: bool,
}

/// What a search came to.
enum Outcome {
    Found(Location),
    /// The entries left the answer to other catalogs, which have none: nobody else is asked.
    Settled,
    /// No entry applies.
    Open,
}

/// A walk through the catalogs. Each is asked once, so that circles end.
struct Search<'c> {
    catalogs: &'c Catalogs,
    asked: Set<usize>,
}

impl Search<'_> {
    /// Asks catalogs one after the other until one has settled the matter.
    fn each(&mut self, among: &[usize], query: &Query<'_>) -> Outcome {
        for index in among {
            if self.asked.insert(*index) {
                match self.one(*index, query) {
                    Outcome::Open => {}
                    settled => return settled,
                }
            }
        }
        Outcome::Open
    }

    /// Section 7.1.2, steps 2 to 7, and section 7.2.2.
    fn one(&mut self, index: usize, query: &Query<'_>) -> Outcome {
        let file = &self.catalogs.files[index];
        let entries = match query.kind {
            Kind::Uri => &file.uri,
            Kind::System => &file.system,
        };
        if let Some(location) = query.addresses.iter().find_map(|address| entries.find(address)) {
            return Outcome::Found(location);
        }
        let begins = |start: &str| query.addresses.iter().any(|address| address.starts_with(start));
        let delegates = entries.delegate.iter().filter(|(start, _)| begins(start));
        let delegates: Vec<(&str, usize)> = delegates.map(|(start, to)| (start.as_str(), *to)).collect();
        if !delegates.is_empty() {
            return self.leave_to(delegates, &Query { public: None, ..*query });
        }
        if let Some(id) = query.public {
            let counts = |prefer: Prefer| prefer == Prefer::Public || !query.has_address;
            if let Some(entry) = file.public.iter().find(|entry| entry.id == id && counts(entry.prefer)) {
                return Outcome::Found(entry.location.clone());
            }
            let delegates = file.delegate_public.iter();
            let delegates =
                delegates.filter(|(start, _, prefer)| id.starts_with(start.as_str()) && counts(*prefer));
            let delegates: Vec<(&str, usize)> =
                delegates.map(|(start, to, _)| (start.as_str(), *to)).collect();
            if !delegates.is_empty() {
                return self.leave_to(delegates, &Query { addresses: &[], ..*query });
            }
        }
        self.each(&file.next, query)
    }

    /// Asks the catalogs that entries leave the answer to, the one of the longest beginning first, and nobody else.
    fn leave_to(&mut self, mut delegates: Vec<(&str, usize)>, query: &Query<'_>) -> Outcome {
        delegates.sort_by_key(|(start, _)| std::cmp::Reverse(start.len()));
        let others: Vec<usize> = delegates.into_iter().map(|(_, index)| index).collect();
        match self.each(&others, query) {
            Outcome::Open => Outcome::Settled,
            settled => settled,
        }
    }
}

impl Matchers {
    /// The entry that applies by itself: the same address, else the longest beginning, else the longest ending.
    fn find(&self, address: &str) -> Option<Location> {
        if let Some((_, location)) = self.exact.iter().find(|(name, _)| name == address) {
            return Some(location.clone());
        }
        let begins = self.rewrite.iter().filter(|(start, ..)| address.starts_with(start.as_str()));
        if let Some((start, base, prefix)) = longest(begins, |(start, ..)| start) {
            return Some(base.join(&format!("{prefix}{}", &address[start.len()..])));
        }
        let ends = self.suffix.iter().filter(|(end, _)| address.ends_with(end.as_str()));
        longest(ends, |(end, _)| end).map(|(_, location)| location.clone())
    }
}

/// The first of those whose text is the longest.
fn longest<'a, T>(all: impl Iterator<Item = &'a T>, text: impl Fn(&T) -> &String) -> Option<&'a T> {
    all.reduce(|best, next| if text(next).len() > text(best).len() { next } else { best })
}
