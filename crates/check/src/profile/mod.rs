//! Profiles of the Web Services Interoperability Organization: what contracts and messages must keep to so that everybody
//! reads them alike. Each of their requirements is one row of one table, with the rule that sees it, or the reason why
//! none can.

mod requirements;

use charter_contract::{Contract, ExtensionKind, SoapVersion};
use charter_source::{Map, ns};

/// A profile.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Profile {
    /// Basic Profile 1.1, for SOAP 1.1.
    Basic11,
    /// Basic Profile 1.2, for SOAP 1.1 with addressing.
    Basic12,
    /// Basic Profile 2.0, for SOAP 1.2.
    Basic20,
    /// Simple SOAP Binding Profile 1.0, which goes with Basic Profile 1.1.
    SimpleSoap10,
    /// Attachments Profile 1.0.
    Attachments10,
}

impl Profile {
    /// All of them.
    pub const ALL: [Profile; 5] =
        [Profile::Basic11, Profile::Basic12, Profile::Basic20, Profile::SimpleSoap10, Profile::Attachments10];

    /// Its name as an option has it.
    pub fn name(self) -> &'static str {
        match self {
            Profile::Basic11 => "basic-1.1",
            Profile::Basic12 => "basic-1.2",
            Profile::Basic20 => "basic-2.0",
            Profile::SimpleSoap10 => "simple-soap-1.0",
            Profile::Attachments10 => "attachments-1.0",
        }
    }

    /// Its title.
    pub fn title(self) -> &'static str {
        match self {
            Profile::Basic11 => "WS-I Basic Profile 1.1",
            Profile::Basic12 => "WS-I Basic Profile 1.2",
            Profile::Basic20 => "WS-I Basic Profile 2.0",
            Profile::SimpleSoap10 => "WS-I Simple SOAP Binding Profile 1.0",
            Profile::Attachments10 => "WS-I Attachments Profile 1.0",
        }
    }

    /// The profile of a name.
    pub fn named(name: &str) -> Option<Profile> {
        Profile::ALL.into_iter().find(|profile| profile.name() == name)
    }

    /// What it asks.
    pub fn requirements(self) -> impl Iterator<Item = &'static Requirement> {
        requirements().filter(move |requirement| requirement.profiles.contains(&self))
    }

    /// The profiles that a contract can be expected to keep to: by the versions of SOAP that it uses, and by its
    /// attachments.
    pub(crate) fn expected(contract: &Contract) -> Vec<Profile> {
        let mut found = Vec::new();
        for (id, binding) in contract.bindings.iter() {
            found.extend(match contract.protocol(id) {
                Some((SoapVersion::V11, _)) => [Profile::Basic11, Profile::SimpleSoap10].as_slice(),
                Some((SoapVersion::V12, _)) => [Profile::Basic20].as_slice(),
                None => [].as_slice(),
            });
            let sides = binding.operations.iter().flat_map(|bound| bound.sides());
            let mut extensions = sides.flat_map(|(_, side)| &side.extensions);
            if extensions.any(|it| matches!(it.kind, ExtensionKind::MimeMultipart(_))) {
                found.push(Profile::Attachments10);
            }
        }
        if contract.files.first().has_root(ns::SOAP12_ENVELOPE, "Envelope") {
            found.push(Profile::Basic20);
        }
        // What no binding decides, the oldest of them have an opinion on.
        if found.is_empty() {
            found.extend([Profile::Basic11, Profile::SimpleSoap10]);
        }
        found.sort_unstable();
        found.dedup();
        found
    }
}

/// What a requirement speaks of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum On {
    /// A contract.
    Description,
    /// An envelope.
    Envelope,
    /// A message with its HTTP headers.
    Exchange,
    /// A running program: a consumer, a provider, a sender, a receiver.
    Program,
}

/// How strongly something is asked for (RFC 2119).
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Strength {
    /// It must be so.
    Must,
    /// It should be so.
    Should,
    /// It may be so: nothing can break it.
    May,
}

impl Strength {
    /// The word for it.
    pub fn name(self) -> &'static str {
        match self {
            Strength::Must => "must",
            Strength::Should => "should",
            Strength::May => "may",
        }
    }
}

/// What sees that a requirement is broken.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Seen {
    /// A rule of the catalogue.
    By(&'static str),
    /// Nothing, for this reason.
    Never(&'static str),
}

/// A requirement of one or more profiles.
#[derive(Debug)]
pub struct Requirement {
    /// Its number, such as `R2706`.
    pub number: &'static str,
    /// The profiles that ask for it.
    pub profiles: &'static [Profile],
    /// What it speaks of.
    pub on: On,
    /// How strongly it is asked for.
    pub strength: Strength,
    /// What it asks, in our words.
    pub asks: &'static str,
    /// What sees it.
    pub seen: Seen,
}

/// The requirements of all profiles.
pub fn requirements() -> impl Iterator<Item = &'static Requirement> {
    requirements::TABLE.iter()
}

/// The rules that profiles ask for, with the strength in which the strictest of them does.
pub(crate) fn asked(profiles: &[Profile]) -> Map<&'static str, Strength> {
    let mut asked: Map<&'static str, Strength> = Map::default();
    for requirement in requirements() {
        let Seen::By(rule) = requirement.seen else { continue };
        if requirement.profiles.iter().any(|profile| profiles.contains(profile)) {
            let strength = asked.entry(rule).or_insert(requirement.strength);
            if requirement.strength == Strength::Must {
                *strength = Strength::Must;
            }
        }
    }
    asked
}
