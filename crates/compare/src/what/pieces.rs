//! What statements are made of: things that came, went or changed, and the words for each.

use std::fmt::{self, Display, Formatter};

use charter_contract::{Demand, demands_in_words};
use charter_schema::{Builtin, Compositor, Occurs, Undecided};
use charter_source::QName;

use super::{Fact, What};

/// Words and facts of an enum without fields.
macro_rules! words {
    ($type:ty { $($variant:ident $fact:literal = $words:literal),* $(,)? }) => {
        impl Display for $type {
            fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
                f.write_str(match self {
                    $(<$type>::$variant => $words,)*
                })
            }
        }

        impl Fact for $type {
            fn fact(&self) -> String {
                match self {
                    $(<$type>::$variant => $fact,)*
                }
                .to_owned()
            }
        }
    };
}

/// What a statement names.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Thing {
    /// An element in a content.
    Member,
    /// An attribute of a type.
    Attribute,
    /// A type of the schema.
    Type,
    /// An element that the schema declares for all.
    Element,
    /// A header block.
    Header,
    /// An operation.
    Operation,
    /// A message part.
    Part,
    /// A port.
    Port,
    /// A port type.
    PortType,
    /// A service.
    Service,
}

words!(Thing {
    Member "member" = "",
    Attribute "attribute" = "",
    Type "type" = "the type ",
    Element "element" = "the element ",
    Header "header" = "the header ",
    Operation "operation" = "the operation ",
    Part "part" = "the part ",
    Port "port" = "the port ",
    PortType "port-type" = "the port type ",
    Service "service" = "the service ",
});

/// Another name for something, or another namespace of its name.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Renaming {
    /// What it is.
    pub thing: Thing,
    /// Its old name.
    pub was: QName,
    /// Its new name.
    pub is: QName,
}

impl Display for Renaming {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let Renaming { thing, was, is } = self;
        let at = if *thing == Thing::Attribute { "@" } else { "" };
        match was.local == is.local {
            true => write!(
                f,
                "{thing}\"{at}{}\" moved from the namespace \"{}\" to \"{}\"",
                is.local, was.namespace, is.namespace
            ),
            false => write!(f, "{thing}\"{at}{}\" is now \"{at}{}\"", was.local, is.local),
        }
    }
}

impl Fact for Renaming {
    fn fact(&self) -> String {
        format!("{} {} {}", self.thing.fact(), self.was.fact(), self.is.fact())
    }
}

/// That what goes by another name stands in the place of something.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct InPlace {
    /// Whether its local name is another; where only the namespace is, that says it all.
    pub renamed: bool,
}

impl Display for InPlace {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(if self.renamed { ", and stands in its place" } else { "" })
    }
}

impl Fact for InPlace {
    fn fact(&self) -> String {
        self.renamed.fact()
    }
}

/// The addresses of a port.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Addresses {
    /// The old one.
    pub was: Option<String>,
    /// The new one.
    pub is: Option<String>,
}

impl Fact for Addresses {
    fn fact(&self) -> String {
        [self.was.clone(), self.is.clone()].fact()
    }
}

/// Why it was not decided what is accepted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Doubt {
    /// The schemas could not be compared.
    Schemas(Undecided),
    /// The messages could not be compared.
    NotCompared,
    /// No message was found that shows what differs.
    NoExample,
    /// No message can be made of the schemas as they are.
    NoMessage,
}

impl Display for Doubt {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Doubt::Schemas(reason) => reason.fmt(f),
            Doubt::NotCompared => f.write_str("the messages could not be compared"),
            Doubt::NoExample => f.write_str("no message was found that shows it"),
            Doubt::NoMessage => f.write_str("no message can be made of the schemas as they are"),
        }
    }
}

impl Fact for Doubt {
    fn fact(&self) -> String {
        match self {
            Doubt::Schemas(reason) => reason.name().to_owned(),
            Doubt::NotCompared => "not-compared".to_owned(),
            Doubt::NoExample => "no-example".to_owned(),
            Doubt::NoMessage => "no-message".to_owned(),
        }
    }
}

/// Why a binding does not say what goes over the wire. That is no fact of the change, so a mark does not hold it.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Unsaid(pub String);

impl Display for Unsaid {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0)
    }
}

impl Fact for Unsaid {
    fn fact(&self) -> String {
        String::new()
    }
}

/// Files that were not read.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Files {
    /// Their addresses, as they are referred to; none if no file is missing, but a component.
    pub files: Vec<String>,
    /// In how many places something is referred to that is not there.
    pub places: usize,
}

impl Files {
    /// How many of them are named.
    const NAMED: usize = 3;
}

impl Display for Files {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let named = self.files.iter().take(Files::NAMED).map(String::as_str).collect::<Vec<_>>().join(", ");
        match (self.files.len(), self.places) {
            (0, 1) => f.write_str("something that this refers to is not there, so it could not be compared"),
            (0, places) => write!(
                f,
                "in {places} places something is referred to that is not there, so it could not be compared"
            ),
            (all, _) => {
                f.write_str(&named)?;
                if all > Files::NAMED {
                    write!(f, " and {} more", all - Files::NAMED)?;
                }
                f.write_str(" could not be read, so what leads there could not be compared")
            }
        }
    }
}

impl Fact for Files {
    fn fact(&self) -> String {
        self.files.fact()
    }
}

/// Media types, one of which a part is.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Media(pub Vec<String>);

impl Display for Media {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(&self.0.join(" or "))
    }
}

impl Fact for Media {
    fn fact(&self) -> String {
        self.0.fact()
    }
}

/// Several demands.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct DemandList(pub Vec<Demand>);

impl Display for DemandList {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        f.write_str(&demands_in_words(&self.0).join(", "))
    }
}

impl Fact for DemandList {
    fn fact(&self) -> String {
        self.0.fact()
    }
}

/// What differs between a type and the one in its place.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Differences {
    /// Each once.
    pub all: Vec<What>,
}

impl Differences {
    /// How many are told.
    const TOLD: usize = 3;
}

impl Display for Differences {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let told: Vec<String> = self.all.iter().take(Differences::TOLD).map(What::to_string).collect();
        f.write_str(&told.join("; "))?;
        match self.all.len().saturating_sub(Differences::TOLD) {
            0 => Ok(()),
            more => write!(f, "; and {more} more"),
        }
    }
}

impl Fact for Differences {
    fn fact(&self) -> String {
        let whole = |what: &What| [vec![what.id().to_owned()], what.facts()].concat().fact();
        self.all.iter().map(whole).collect::<Vec<String>>().fact()
    }
}

/// What a default stands for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Missing {
    /// An empty element.
    Empty,
    /// An attribute that is left out.
    LeftOut,
}

words!(Missing { Empty "empty" = "is empty", LeftOut "left-out" = "is left out" });

/// Something that occurs.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Occurring {
    /// An element of that name.
    Element(String),
    /// A group.
    Group(GroupOf),
    /// A wildcard.
    Wildcard,
}

impl Display for Occurring {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        match self {
            Occurring::Element(name) => write!(f, "\"{name}\""),
            Occurring::Group(group) => write!(f, "{group}"),
            Occurring::Wildcard => f.write_str("the wildcard"),
        }
    }
}

impl Fact for Occurring {
    fn fact(&self) -> String {
        match self {
            Occurring::Element(name) => format!("element {name}"),
            Occurring::Group(group) => format!("group {}", group.fact()),
            Occurring::Wildcard => "wildcard".to_owned(),
        }
    }
}

/// A group, as it is told.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct GroupOf {
    /// How its members stand in it.
    pub compositor: Compositor,
    /// The elements that stand right in it.
    pub names: Vec<String>,
}

impl Display for GroupOf {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let GroupOf { compositor, names } = self;
        let word = match compositor {
            Compositor::All => "group",
            other => other.name(),
        };
        match names.as_slice() {
            [] => write!(f, "the {word}"),
            [only] => write!(f, "the {word} of \"{only}\""),
            [first, second] => write!(f, "the {word} of \"{first}\" and \"{second}\""),
            [first, .., last] => write!(f, "the {word} from \"{first}\" to \"{last}\""),
        }
    }
}

impl Fact for GroupOf {
    fn fact(&self) -> String {
        let words = std::iter::once(self.compositor.name()).chain(self.names.iter().map(String::as_str));
        words.collect::<Vec<_>>().join(" ")
    }
}

/// How often something occurs, and did.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Occurrence {
    /// Before.
    pub was: Occurs,
    /// Now.
    pub is: Occurs,
}

impl Display for Occurrence {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let Occurrence { was, is } = self;
        let mut words = Vec::new();
        match (was.min, is.min) {
            (0, now) if now > 0 => words.push("must now be there".to_owned()),
            (then, 0) if then > 0 => words.push("may now be left out".to_owned()),
            (then, now) if then != now => {
                words.push(format!("must be there {}, not {}", times(now), times(then)));
            }
            _ => {}
        }
        if was.max != is.max {
            words.push(match is.max {
                None => "may now be repeated without end".to_owned(),
                Some(1) => "may no longer be repeated".to_owned(),
                Some(now) => format!("may be there at most {} now", times(now)),
            });
        }
        f.write_str(&words.join(" and "))
    }
}

impl Fact for Occurrence {
    fn fact(&self) -> String {
        let one = |occurs: Occurs| format!("{}..{}", occurs.min, occurs.max.fact());
        format!("{} {}", one(self.was), one(self.is))
    }
}

fn times(count: u32) -> String {
    match count {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        many => format!("{many} times"),
    }
}

/// One of the built-in types, as one of its values is spoken of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct OneOf(pub Builtin);

impl Display for OneOf {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let name = self.0.name();
        let vowel = name.starts_with(['a', 'e', 'i', 'o', 'A', 'E', 'I']);
        write!(f, "{} {name}", if vowel { "an" } else { "a" })
    }
}

impl Fact for OneOf {
    fn fact(&self) -> String {
        self.0.fact()
    }
}

/// Values of a list, with what they are.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Values(pub Vec<String>);

impl Display for Values {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let quoted: Vec<String> = self.0.iter().map(|value| format!("\"{value}\"")).collect();
        write!(f, "{} {}", quoted.join(", "), if self.0.len() > 1 { "are" } else { "is" })
    }
}

impl Fact for Values {
    fn fact(&self) -> String {
        self.0.fact()
    }
}

/// What the length of a value is counted in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Unit {
    /// Characters of a text.
    Characters,
    /// Octets of a binary value.
    Bytes,
    /// Items of a list.
    Items,
}

words!(Unit { Characters "characters" = "characters", Bytes "bytes" = "bytes", Items "items" = "items" });

/// A bound of the length of a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Length {
    /// Which bound it is.
    pub end: End,
    /// Whether it allows less than before.
    pub tighter: bool,
    /// The bound; none if there is no such bound any more.
    pub now: Option<u64>,
    /// What it counts.
    pub unit: Unit,
}

impl Display for Length {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let unit = self.unit.to_string();
        let counted = |length: u64| match length {
            1 => format!("1 {}", unit.trim_end_matches('s')),
            many => format!("{many} {unit}"),
        };
        match (self.end, self.tighter, self.now) {
            (End::From, true, now) => {
                write!(f, "the value must have at least {} now", counted(now.unwrap_or(0)))
            }
            (End::From, false, None | Some(0)) => f.write_str("the value may be empty now"),
            (End::From, false, Some(least)) => write!(f, "the value need have only {} now", counted(least)),
            (End::UpTo, _, None) => f.write_str("the value may be of any length now"),
            (End::UpTo, true, Some(most)) => write!(f, "the value must have at most {} now", counted(most)),
            (End::UpTo, false, Some(most)) => write!(f, "the value may have up to {} now", counted(most)),
        }
    }
}

impl Fact for Length {
    fn fact(&self) -> String {
        format!("{} {} {}", self.end.fact(), self.now.fact(), self.unit.fact())
    }
}

/// An end of a range.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum End {
    /// The least.
    From,
    /// The most.
    UpTo,
}

words!(End { From "from" = "from", UpTo "up-to" = "up to" });

/// An end of the range of a value, and where it was before.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Bounds {
    /// Which end it is.
    pub end: End,
    /// The value there.
    pub now: String,
    /// Whether the range holds that value.
    pub inclusive: bool,
    /// The value before, if there was such an end.
    pub was: Option<String>,
}

impl Display for Bounds {
    fn fmt(&self, f: &mut Formatter<'_>) -> fmt::Result {
        let but = if self.inclusive { "" } else { ", but not that itself" };
        write!(f, "the value may now go {} {}{but}", self.end, self.now)?;
        match &self.was {
            Some(was) => write!(f, ", not {was}"),
            None => Ok(()),
        }
    }
}

impl Fact for Bounds {
    fn fact(&self) -> String {
        let parts = [Some(self.now.clone()), self.was.clone()];
        format!("{} {} {}", self.end.fact(), self.inclusive.fact(), parts.fact())
    }
}

/// Digits of a number.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Digits {
    /// All of them.
    All,
    /// Those after the point.
    Fraction,
}

words!(Digits { All "all" = "digits", Fraction "fraction" = "digits after the point" });

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lists_that_differ_have_facts_that_differ() {
        let list = |all: &[&str]| Values(all.iter().map(|it| (*it).to_owned()).collect()).fact();
        assert_ne!(list(&["a", "b"]), list(&["ab"]));
        assert_ne!(list(&["1:a"]), list(&["a", "a"]));
        assert_eq!(None::<String>.fact(), "-");
        assert_ne!(Some("-".to_owned()).fact(), None::<String>.fact());
    }
}
