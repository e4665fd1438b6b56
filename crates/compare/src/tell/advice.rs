//! What follows from a comparison for whoever publishes the new version: its number, its namespace, and whether it can be
//! offered beside the old one.

use std::borrow::Cow;

use charter_contract::{Carrier, Contract, SoapVersion, WireShape};
use charter_source::{QName, Set};

use crate::report::{Report, Verdict};

/// What a team does with version numbers.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Policy {
    /// The number that goes up if something breaks.
    pub breaks: Step,
    /// The number that goes up if something bends.
    pub bends: Step,
    /// The number that goes up if all keeps.
    pub keeps: Step,
    /// When the target namespace must be another.
    pub namespace: NamespaceRule,
    /// The version that the old contract has; `None`: that of its tag, or else the number at the end of its namespace.
    pub current: Option<String>,
    /// The nearest tag of the revision that the old contract is of.
    pub tagged: Option<String>,
    /// All tags of the repository: a version that is one of them has been given already.
    pub taken: Vec<String>,
}

/// A place in a version number.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Step {
    /// The first.
    Major,
    /// The second.
    Minor,
    /// The third.
    Patch,
    /// None.
    Same,
}

/// When the target namespace must be another.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum NamespaceRule {
    /// If something breaks.
    Breaks,
    /// With every revision.
    Always,
    /// Never.
    Never,
}

impl Default for Policy {
    fn default() -> Policy {
        Policy {
            breaks: Step::Major,
            bends: Step::Minor,
            keeps: Step::Minor,
            namespace: NamespaceRule::Breaks,
            current: None,
            tagged: None,
            taken: Vec::new(),
        }
    }
}

/// What to do about a revision.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Advice {
    /// The version that there was, if it is known.
    pub current: Option<String>,
    /// The next version.
    pub next: Option<String>,
    /// The namespace that the new version should have, if it should have another than it has.
    pub namespace: Option<String>,
    /// Where old and new can be offered side by side.
    pub beside: Beside,
}

/// Where two versions can be offered side by side.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Beside {
    /// One service can answer both: no message of the new version is also one of the old.
    OneAddress,
    /// Each needs an address of its own.
    TwoAddresses,
    /// There is no need: whoever uses the old version can use the new one.
    NoNeed,
}

/// What to do about a revision, as a policy has it.
///
/// ```
/// use charter_compare::{Beside, Policy, UnknownContent, advise, compare};
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" targetNamespace="urn:saltmere:tide:3">
///   <w:portType name="Tides"><w:operation name="next"/><w:operation name="last"/></w:portType>
/// </w:definitions>"#;
/// let load = |text: &str| {
///     Contract::load(&Overlay::of(&[("t.wsdl", text)]), &Location::from_argument("t.wsdl"), Limits::default())
/// };
/// let (old, new) = (load(text)?, load(&text.replace(r#"<w:operation name="last"/>"#, ""))?);
/// let advice = advise(&old, &new, &compare(&old, &new, UnknownContent::Open), &Policy::default());
/// assert_eq!((advice.current.as_deref(), advice.next.as_deref()), (Some("3"), Some("4")));
/// assert_eq!(advice.namespace.as_deref(), Some("urn:saltmere:tide:4"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn advise(old: &Contract, new: &Contract, report: &Report, policy: &Policy) -> Advice {
    let namespace = |contract: &Contract| {
        contract.definitions.iter().next().map_or_else(String::new, |(_, first)| first.namespace.to_string())
    };
    let (was, is) = (namespace(old), namespace(new));
    let numbered = |namespace: &str| {
        let stem = namespace.trim_end_matches(|c: char| c.is_ascii_digit());
        let number = namespace[stem.len()..].to_owned();
        (stem.to_owned(), Some(number).filter(|number| !number.is_empty()))
    };
    let (stem, number) = numbered(&was);
    let tagged = policy.tagged.clone().filter(|tag| numbers(tag).is_some());
    let current = policy.current.clone().or(tagged).or_else(|| number.clone());
    let step = match report.verdict {
        Verdict::Breaks => policy.breaks,
        Verdict::Bends => policy.bends,
        Verdict::Keeps => policy.keeps,
    };
    let unchanged = report.changes.is_empty();
    let current_version = current.as_deref().filter(|_| !unchanged);
    let next = current_version.and_then(|version| free(version, step, &policy.taken));
    let must_change = match policy.namespace {
        NamespaceRule::Breaks => report.verdict == Verdict::Breaks,
        NamespaceRule::Always => !unchanged,
        NamespaceRule::Never => false,
    };
    let wanted = number.and_then(|number| counted_on(&stem, &number)).unwrap_or_else(|| second(&was));
    let beside = match report.verdict {
        Verdict::Breaks if told_apart(old, new) => Beside::OneAddress,
        Verdict::Breaks => Beside::TwoAddresses,
        _ => Beside::NoNeed,
    };
    Advice { current, next, namespace: (must_change && was == is).then_some(wanted), beside }
}

/// A namespace that ends in a number with the next one, as long as that was.
fn counted_on(stem: &str, number: &str) -> Option<String> {
    let next = number.parse::<u64>().ok()?.checked_add(1)?;
    Some(format!("{stem}{next:0width$}", width = number.len()))
}

/// The second of a namespace without a number, in the way in which it is put together.
fn second(namespace: &str) -> String {
    let between = match namespace {
        _ if namespace.ends_with(['/', ':', '#']) => "",
        _ if namespace.contains("://") => "/",
        _ => ":",
    };
    format!("{namespace}{between}2")
}

/// A version that is so much further on, and has not been given yet.
fn free(version: &str, step: Step, taken: &[String]) -> Option<String> {
    let mut next = raised(version, step)?;
    // Each tag is in the way once at most.
    for _ in taken {
        if step == Step::Same || !taken.contains(&next) {
            break;
        }
        next = raised(&next, step)?;
    }
    Some(next)
}

/// What stands before the numbers of a version, and these, if it ends in such.
fn numbers(version: &str) -> Option<(&str, Vec<u64>)> {
    let mark = version.trim_end_matches(|c: char| c.is_ascii_digit() || c == '.');
    let numbers = version[mark.len()..].split('.').map(|number| number.parse::<u64>().ok());
    Some((mark, numbers.collect::<Option<Vec<u64>>>()?))
}

/// A version with one of its numbers raised; those behind it begin anew.
fn raised(version: &str, step: Step) -> Option<String> {
    let (mark, mut numbers) = numbers(version)?;
    let at = match step {
        Step::Major => 0,
        Step::Minor => 1,
        Step::Patch => 2,
        Step::Same => return Some(version.to_owned()),
    };
    let length = numbers.len().max(at + 1);
    numbers.resize(length, 0);
    numbers[at] = numbers[at].checked_add(1)?;
    numbers[at + 1..].fill(0);
    let shown: Vec<String> = numbers.iter().map(u64::to_string).collect();
    Some(format!("{mark}{}", shown.join(".")))
}

/// What shows whose message a request is.
#[derive(PartialEq, Eq, Hash)]
enum Sign {
    /// The envelope, and the first element of the body.
    Envelope(SoapVersion, Option<QName>),
    /// The method, and the address.
    Request(Cow<'static, str>, Option<String>),
}

/// Whether every request of the new version shows by its method or its first element that it is none of the old.
fn told_apart(old: &Contract, new: &Contract) -> bool {
    let known: Set<Sign> = signs(old).into_iter().collect();
    let own = signs(new);
    !own.is_empty() && own.iter().all(|sign| !known.contains(sign))
}

fn signs(contract: &Contract) -> Vec<Sign> {
    let mut signs = Vec::new();
    for (id, _) in contract.operations() {
        for offer in contract.bound(id) {
            for side in contract.sides(id) {
                let Ok(shape) = contract.shape_of(id, side, offer) else { continue };
                if shape.is_request() {
                    signs.push(sign(contract, &shape));
                }
            }
        }
    }
    signs
}

fn sign(contract: &Contract, shape: &WireShape) -> Sign {
    match &shape.carrier {
        Carrier::Soap(soap) => {
            let contents = shape.contents();
            let first = contents.get(soap.headers.len());
            Sign::Envelope(soap.version, first.map(|content| content.name(&contract.schemas).clone()))
        }
        Carrier::Http(_) => Sign::Request(shape.method.to_string().into(), shape.address.clone()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_go_up() {
        for (version, step, next) in [
            ("1", Step::Major, Some("2")),
            ("1", Step::Minor, Some("1.1")),
            ("v2.4.1", Step::Minor, Some("v2.5.0")),
            ("2.4.1", Step::Patch, Some("2.4.2")),
            ("2.4.1", Step::Major, Some("3.0.0")),
            ("2.4", Step::Same, Some("2.4")),
            ("pilotage-2.4", Step::Minor, Some("pilotage-2.5")),
            ("spring", Step::Major, None),
        ] {
            assert_eq!(raised(version, step).as_deref(), next, "{version} {step:?}");
        }
    }

    #[test]
    fn what_was_given_is_not_given_again() {
        let taken: Vec<String> = ["v2.0", "v2.1", "v3.0"].map(str::to_owned).into();
        assert_eq!(free("v2.0", Step::Minor, &taken).as_deref(), Some("v2.2"));
        assert_eq!(free("v2.0", Step::Major, &taken).as_deref(), Some("v4.0"));
        assert_eq!(free("v2.0", Step::Same, &taken).as_deref(), Some("v2.0"));
        assert_eq!(free("2.0", Step::Major, &taken).as_deref(), Some("3.0"));
    }
}
