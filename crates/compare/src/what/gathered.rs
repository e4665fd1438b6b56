//! What is told of many at once: what they have in common, and how many there are.

use std::fmt::{self, Display, Formatter};

use charter_source::Set;

use super::{Fact, Thing};

/// Names that went from one namespace to another.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Together {
    /// The local names, each once.
    pub names: Vec<String>,
    /// The namespace that they were in; empty if they were in none.
    pub from: String,
    /// The one that they are in.
    pub to: String,
}

impl Together {
    pub(crate) fn of<'n>(names: impl IntoIterator<Item = &'n str>, from: &str, to: &str) -> Together {
        let mut seen: Set<&str> = Set::default();
        let names = names.into_iter().filter(|name| seen.insert(name)).map(str::to_owned).collect();
        Together { names, from: from.to_owned(), to: to.to_owned() }
    }
}

impl Display for Together {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let Together { names, from, to } = self;
        match names.as_slice() {
            [] => {}
            [one] => write!(f, "\"{one}\"")?,
            [one, other] => write!(f, "\"{one}\" and \"{other}\"")?,
            [one, other, more @ ..] => write!(f, "\"{one}\", \"{other}\" and {} more names", more.len())?,
        }
        let verb = if names.len() == 1 { "is" } else { "are" };
        match (&**from, &**to) {
            (from, "") => write!(f, " {verb} in no namespace now, and no longer in \"{from}\""),
            ("", to) => write!(f, " {verb} in the namespace \"{to}\" now, and in none before"),
            (from, to) => write!(f, " moved from the namespace \"{from}\" to \"{to}\" together"),
        }
    }
}

impl Fact for Together {
    /// The namespaces alone: whichever names go along, the move is the same.
    fn fact(&self) -> String {
        [self.from.clone(), self.to.clone()].fact()
    }
}

/// Namespaces of which all names went to others, and how much went along.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Migration {
    /// The old and the new namespace of each.
    pub namespaces: Vec<(String, String)>,
    /// The local names that went into a namespace or out of it.
    pub locals: Vec<LocalNames>,
    /// Elements that are declared for all to use, header blocks among them.
    pub elements: usize,
    /// Types with a name.
    pub types: usize,
    /// Header blocks.
    pub headers: usize,
    /// Actions that hold the namespace, or the piece of it that is another.
    pub actions: usize,
    /// Fixed values that do.
    pub fixed: usize,
}

impl Display for Migration {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        for (at, (was, is)) in self.namespaces.iter().enumerate() {
            f.write_str(if at > 0 { ", and " } else { "" })?;
            write!(f, "\"{was}\" is now \"{is}\"")?;
        }
        for (at, locals) in self.locals.iter().enumerate() {
            f.write_str(if at > 0 || !self.namespaces.is_empty() { ", and " } else { "" })?;
            locals.fmt(f)?;
        }
        let count = |number: usize, one: &str| match number {
            0 => None,
            1 => Some(format!("1 {one}")),
            more => Some(format!("{more} {one}s")),
        };
        let parts = [
            count(self.elements, "element"),
            count(self.types, "type"),
            count(self.headers, "header block"),
            count(self.actions, "action"),
            count(self.fixed, "fixed value"),
        ];
        let parts: Vec<String> = parts.into_iter().flatten().collect();
        match parts.as_slice() {
            [] => Ok(()),
            [one] => write!(f, ", with {one}"),
            [all @ .., last] => write!(f, ", with {} and {last}", all.join(", ")),
        }
    }
}

impl Fact for Migration {
    /// The namespaces alone: whatever goes along, the move is the same.
    fn fact(&self) -> String {
        let pairs = self.namespaces.iter().flat_map(|(was, is)| [was.clone(), is.clone()]);
        pairs.chain(self.locals.iter().map(Fact::fact)).collect::<Vec<String>>().fact()
    }
}

/// Local names that went into their namespace, or out of it.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct LocalNames {
    /// Elements or attributes.
    pub of: Thing,
    /// The namespace.
    pub namespace: String,
    /// Whether they are in it now.
    pub qualified: bool,
    /// How many.
    pub count: usize,
}

impl LocalNames {
    /// What they are, with their number: `15 local elements`.
    pub fn counted(&self) -> String {
        let LocalNames { of, count, .. } = self;
        format!("{count} local {}{}", of.fact(), if *count == 1 { "" } else { "s" })
    }
}

impl Display for LocalNames {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let are = if self.count == 1 { "is" } else { "are" };
        match self.qualified {
            true => write!(f, "{} {are} in \"{}\" now", self.counted(), self.namespace),
            false => write!(f, "{} {are} no longer in \"{}\"", self.counted(), self.namespace),
        }
    }
}

impl Fact for LocalNames {
    fn fact(&self) -> String {
        let form = if self.qualified { "qualified" } else { "unqualified" };
        format!("{} {} {form}", self.namespace, self.of.fact())
    }
}

/// What differs in open content, counted.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct OpenKinds {
    /// How many components differ.
    pub kinds: usize,
    /// At how many places such content may stand.
    pub points: usize,
}

impl Display for OpenKinds {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str("what may stand where no declaration names it differs")?;
        match self.points {
            0 | 1 => write!(f, " here")?,
            points => write!(f, " at {points} places")?,
        }
        match self.kinds {
            1 => write!(f, ", in one component"),
            kinds => write!(f, ", in {kinds} components"),
        }
    }
}

impl Fact for OpenKinds {
    /// Nothing: what may stand there is not settled by the contract, whatever differs in it.
    fn fact(&self) -> String {
        String::new()
    }
}

/// How many there are, which is no part of what changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Count(pub usize);

impl Display for Count {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

impl Fact for Count {
    /// Nothing: the change is the same wherever it shows.
    fn fact(&self) -> String {
        String::new()
    }
}

/// One piece of text in the place of another, in many places.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Everywhere {
    /// What stood there.
    pub was: String,
    /// What stands there.
    pub is: String,
}

impl Display for Everywhere {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let Everywhere { was, is } = self;
        write!(f, "\"{is}\" stands for \"{was}\"")
    }
}

impl Fact for Everywhere {
    /// The pieces alone: wherever they stand, the change is the same.
    fn fact(&self) -> String {
        [self.was.clone(), self.is.clone()].fact()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn few_names_are_named_and_many_are_counted() {
        let words = |names: &[&str], from, to| Together::of(names.iter().copied(), from, to).to_string();
        assert_eq!(
            words(&["a", "a"], "urn:a", ""),
            "\"a\" is in no namespace now, and no longer in \"urn:a\""
        );
        assert_eq!(
            words(&["a", "b"], "", "urn:b"),
            "\"a\" and \"b\" are in the namespace \"urn:b\" now, and in none before"
        );
        let many = words(&["a", "b", "c", "d"], "urn:a", "urn:b");
        assert_eq!(
            many,
            "\"a\", \"b\" and 2 more names moved from the namespace \"urn:a\" to \"urn:b\" together"
        );
    }

    #[test]
    fn a_move_is_told_with_what_goes_along() {
        let of = |elements, types, headers| Migration {
            locals: Vec::new(),
            namespaces: vec![("urn:a:1".to_owned(), "urn:a:2".to_owned())],
            elements,
            types,
            headers,
            actions: 0,
            fixed: 0,
        };
        assert_eq!(of(0, 0, 0).to_string(), "\"urn:a:1\" is now \"urn:a:2\"");
        assert_eq!(of(1, 0, 0).to_string(), "\"urn:a:1\" is now \"urn:a:2\", with 1 element");
        assert_eq!(
            of(2, 1, 3).to_string(),
            "\"urn:a:1\" is now \"urn:a:2\", with 2 elements, 1 type and 3 header blocks"
        );
        // However much goes along, the move is the same.
        assert_eq!(of(0, 0, 0).fact(), of(2, 1, 3).fact());
    }
}
