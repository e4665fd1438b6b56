//! What values of a simple type are allowed.

use charter_compare::{Change, Kind, What};
use charter_notation::ElementInfo;

use super::proposal::{Both, Proposal, Proposer};
use crate::amend::Amendment;
use crate::way::{Remedy, Respect};

impl<'c> Proposer<'c> {
    /// What values of a simple type are allowed, as it was in the respect that changed.
    pub(super) fn facets(&self, change: &Change, both: Both<'c>) -> Option<Proposal> {
        let names = facets_of(change.kind);
        let restriction = both.inner(&["restriction"])?;
        let like = restriction.was.info()?;
        let remedy = match &change.what {
            What::ValuesGone { values } => Remedy::PutBack(values.0.clone()),
            What::ValuesNew { values } => Remedy::TakeOut(values.0.clone()),
            _ => Remedy::AsItWas(Respect::Values),
        };
        let set = setting(change.kind, &like);
        let amendment = Amendment::Content { of: restriction.is.id(), names, like };
        let proposal = self.edited(remedy, both.is, vec![amendment])?;
        Some(match set {
            Some((key, value)) => self.set(change, proposal, key, value),
            None => proposal,
        })
    }
}

pub(super) fn is_of_values(kind: Kind) -> bool {
    !facets_of(kind).is_empty()
}

/// The facets that a kind of change is about.
pub(super) fn facets_of(kind: Kind) -> &'static [&'static str] {
    match kind {
        Kind::ValueAdded | Kind::ValueRemoved => &["enumeration"],
        Kind::RangeChanged | Kind::RangeNarrowed | Kind::RangeWidened => {
            &["minInclusive", "maxInclusive", "minExclusive", "maxExclusive"]
        }
        Kind::LengthChanged => &["length", "minLength", "maxLength"],
        Kind::PatternChanged => &["pattern"],
        Kind::DigitsChanged => &["totalDigits", "fractionDigits"],
        _ => &[],
    }
}

/// The property that says what the facets of a restriction say, in a line; nothing if it takes more.
pub(super) fn setting(kind: Kind, like: &ElementInfo) -> Option<(&'static str, String)> {
    const MOST_LISTED: usize = 8;
    let values = |name: &str| -> Vec<&str> {
        like.elements().filter(|it| it.is_xsd(name)).filter_map(|it| it.text("value")).collect()
    };
    let one = |name: &str| values(name).first().copied();
    let is_plain = |value: &&str| !value.contains(['"', '\\', '\n']);
    Some(match kind {
        Kind::ValueAdded | Kind::ValueRemoved => {
            let all = values("enumeration");
            if all.is_empty() || all.len() > MOST_LISTED || !all.iter().all(is_plain) {
                return None;
            }
            let listed: Vec<String> = all.iter().map(|value| format!("\"{value}\"")).collect();
            ("one-of", listed.join(", "))
        }
        Kind::RangeChanged | Kind::RangeNarrowed | Kind::RangeWidened => {
            if one("minExclusive").or(one("maxExclusive")).is_some() {
                return None;
            }
            ("range", between(one("minInclusive"), one("maxInclusive")))
        }
        Kind::LengthChanged => match one("length") {
            Some(length) => ("length", length.to_owned()),
            None => ("length", between(one("minLength"), one("maxLength"))),
        },
        Kind::PatternChanged => match values("pattern").as_slice() {
            [] => ("like", String::new()),
            [one] if is_plain(one) => ("like", format!("\"{one}\"")),
            _ => return None,
        },
        _ => return None,
    })
}

/// Two ends of a range, in the notation; nothing, if it has none.
fn between(least: Option<&str>, most: Option<&str>) -> String {
    match (least, most) {
        (None, None) => String::new(),
        (least, most) => format!("{}..{}", least.unwrap_or(""), most.unwrap_or("")),
    }
}
