//! Texts that are likely to tell two types apart: the ends of ranges and lengths, listed values, other ways to write
//! the same. What most revisions change is found here, with a text that a person would have thought of.

use std::sync::Arc;

use super::Judge;
use crate::engine::{Datatype, Engine, Variety};
use crate::sample::typical_values;
use crate::{Builtin, Value};

/// Listed values that are tried.
const MOST_LISTED: usize = 20_000;
/// Characters in a text that is made to be long.
const LONGEST: u64 = 20_000;

/// A text that the first type accepts and the second does not, if there is one among the likely ones.
pub(super) fn beyond(judge: &Judge<'_, '_>) -> Option<String> {
    let (a, b) = (judge.sub.1, judge.sup.1);
    if let Some(found) = listed(judge) {
        return Some(found);
    }
    // What stands at an end of a range says more than a value from its middle.
    let mut all = Vec::new();
    edges(b, &mut all);
    edges(a, &mut all);
    all.extend(typical_values(judge.sub.0, a));
    members(a, judge, &mut all);
    let variants: Vec<String> = all.iter().flat_map(|text| other_forms(text, a)).collect();
    // The plain ones before the odd ones, the short before the long.
    all.iter().chain(&variants).find(|text| judge.parts(text)).cloned()
}

/// Values of a type, as different from each other as can be had.
pub(crate) fn likely(engine: &Engine<'_>, ty: &Arc<Datatype>) -> Vec<String> {
    let mut all = typical_values(engine, ty);
    if let Some(enumeration) = &ty.enumeration {
        all.extend(enumeration.texts.iter().take(50).map(str::to_owned));
    }
    edges(ty, &mut all);
    if let Variety::List(item) = &ty.variety {
        let items = likely(engine, item);
        all.extend(items.iter().flat_map(|item| [item.clone(), format!("{item} {item}")]));
    }
    if let Variety::Union(members) = &ty.variety {
        members.iter().for_each(|member| all.extend(typical_values(engine, member)));
    }
    let bare = super::Bare(engine);
    all.retain(|value| ty.accept(value, &bare, false).is_ok());
    all
}

/// A listed value that is no longer allowed.
fn listed(judge: &Judge<'_, '_>) -> Option<String> {
    let enumeration = judge.sub.1.enumeration.as_ref()?;
    enumeration.texts.iter().take(MOST_LISTED).find(|text| judge.parts(text)).map(str::to_owned)
}

/// The values of items and members.
fn members(ty: &Datatype, judge: &Judge<'_, '_>, all: &mut Vec<String>) {
    match &ty.variety {
        Variety::Atomic(_) => {}
        Variety::List(item) => {
            let mut items = typical_values(judge.sub.0, item);
            if let Some(enumeration) = &item.enumeration {
                items.extend(enumeration.texts.iter().take(50).map(str::to_owned));
            }
            edges(item, &mut items);
            let (least, most) = lengths(ty);
            let (of_least, of_most) = lengths(judge.sup.1);
            let counts = [least, most, of_least.saturating_sub(1), of_most.saturating_add(1), 1, 2, 0];
            for count in counts.into_iter().filter(|count| (least..=most).contains(count) && *count <= 5_000)
            {
                all.extend(items.iter().map(|item| vec![item.as_str(); count as usize].join(" ")));
            }
        }
        Variety::Union(union) => {
            for member in union.iter() {
                all.extend(typical_values(judge.sub.0, member));
                if let Some(enumeration) = &member.enumeration {
                    all.extend(enumeration.texts.iter().take(200).map(str::to_owned));
                }
                edges(member, all);
                members(member, judge, all);
            }
        }
    }
}

fn lengths(ty: &Datatype) -> (u64, u64) {
    (ty.length.or(ty.min_length).unwrap_or(0), ty.length.or(ty.max_length).unwrap_or(u64::MAX))
}

/// Texts at the ends of what the facets of a type allow, and just beyond.
fn edges(ty: &Datatype, all: &mut Vec<String>) {
    for limit in [&ty.min, &ty.max].into_iter().flatten() {
        if let Value::Decimal(canonical) = &limit.value {
            all.extend(beside(canonical));
        }
        all.push(limit.text.to_string());
        if let Ok(number) = limit.text.parse::<f64>() {
            all.extend([1.0, -1.0, 0.1, -0.1].map(|step| format!("{}", number + step)));
        }
        all.extend(MOMENTS.iter().map(|&text| text.to_owned()));
    }
    let (least, most) = lengths(ty);
    for length in [least, least.saturating_sub(1), most, most.saturating_add(1)] {
        if length > 0 && length <= LONGEST {
            let length = length as usize;
            all.extend(["S", "7", "s"].map(|letter| letter.repeat(length)));
            all.push("53".repeat(length));
            all.extend(octets(length));
        }
    }
    let digits = ty.total_digits.into_iter().chain(ty.fraction_digits);
    for count in digits.filter(|count| *count < 1_000) {
        let ones = |count: u64| "1".repeat(count as usize);
        all.extend([ones(count.max(1)), ones(count + 1)]);
        all.extend([
            format!("0.{}", ones(count)),
            format!("0.{}", ones(count + 1)),
            format!("1.{}", ones(count)),
        ]);
    }
    all.extend(match ty.builtin().map(Builtin::primitive) {
        Some(Builtin::Decimal) => {
            strings(&["0", "-1", "1", "0.5", "-0.5", "1000000", "99999999999999999999"])
        }
        Some(Builtin::Float | Builtin::Double) => strings(&["0", "INF", "NaN", "1.5E3", "-1"]),
        Some(Builtin::Boolean) => strings(&["true", "false", "1", "0"]),
        Some(Builtin::String | Builtin::AnyUri) => {
            strings(&["", "7", "two words", "a:b", "Text", "é", "-", "urn:example:1", "100 %"])
        }
        Some(Builtin::Base64Binary) => strings(&["", "Uw==", "U1M=", "U0FM", "U 0FM"]),
        Some(Builtin::HexBinary) => strings(&["", "53", "5341"]),
        _ => Vec::new(),
    });
}

fn strings(texts: &[&str]) -> Vec<String> {
    texts.iter().map(|&text| text.to_owned()).collect()
}

/// Dates and times of all kinds, early and late.
const MOMENTS: &[&str] = &[
    "1000-01-01",
    "9000-01-01",
    "1000-01-01T00:00:00Z",
    "9000-01-01T00:00:00Z",
    "1000-01-01T00:00:00",
    "9000-01-01T00:00:00",
    "00:00:00",
    "23:59:59",
    "00:00:00Z",
    "23:59:59Z",
    "1000",
    "9000",
    "1000-01",
    "9000-01",
    "--01-01",
    "--12-31",
    "---01",
    "---31",
    "--01",
    "--12",
    "-P1000Y",
    "P1000Y",
    "PT0S",
    "P1D",
];

/// The integers and hundredths next to a decimal.
fn beside(canonical: &str) -> Vec<String> {
    let mut found = Vec::new();
    if let Ok(number) = canonical.parse::<i128>() {
        found.extend([number + 1, number - 1].map(|number| number.to_string()));
        let (below, zero) =
            (number - 1, if number == 0 { "-0.5".to_owned() } else { format!("{}.5", number) });
        found.extend([zero, format!("{below}.5")]);
    } else {
        found.extend([format!("{canonical}1"), format!("{canonical}9")]);
        let whole = canonical.split('.').next().unwrap_or(canonical);
        found.push(whole.to_owned());
    }
    found
}

/// So many octets in base64.
fn octets(count: usize) -> Option<String> {
    if count > 5_000 {
        return None;
    }
    let (threes, rest) = (count / 3, ["", "Uw==", "U1M="][count % 3]);
    Some("U0FM".repeat(threes) + rest)
}

/// Other ways to write a value.
fn other_forms(text: &str, ty: &Datatype) -> Vec<String> {
    let spaced = [format!(" {text} "), format!("{text}\n"), text.replace(' ', "  ")];
    let mut found = match ty.builtin().map(Builtin::primitive) {
        Some(Builtin::Decimal | Builtin::Float | Builtin::Double) if !text.is_empty() => {
            let mut forms = vec![format!("+{text}"), format!("0{text}")];
            forms.push(if text.contains('.') { format!("{text}0") } else { format!("{text}.0") });
            forms
        }
        Some(Builtin::HexBinary) => vec![text.to_lowercase(), text.to_uppercase()],
        Some(
            Builtin::DateTime
            | Builtin::Time
            | Builtin::Date
            | Builtin::GYear
            | Builtin::GYearMonth
            | Builtin::GDay
            | Builtin::GMonth
            | Builtin::GMonthDay,
        ) => {
            let bare = text.trim_end_matches('Z');
            vec![bare.to_owned(), format!("{bare}Z"), format!("{bare}+01:00"), format!("-{bare}")]
        }
        Some(Builtin::String) => vec![text.to_lowercase(), text.to_uppercase()],
        _ => Vec::new(),
    };
    found.extend(spaced);
    found
}
