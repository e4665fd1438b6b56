//! A plausible value of a simple type, within its facets.

use std::cmp::Ordering;

use charter_schema::{Builtin, Facets, Schemas, Simple, TypeId, Variety, compare_values};

use crate::{pattern, words};

/// How deep lists and unions of each other are followed.
const DEEPEST: usize = 40;

/// What a value is for.
#[derive(Clone, Copy)]
pub(crate) struct Hint<'h> {
    /// The name of the element or attribute.
    pub name: &'h str,
    /// The name of what holds it.
    pub holder: &'h str,
    /// Counts the values given so far: identifiers must differ.
    pub turn: usize,
    /// Whether this is part of the second of two.
    pub second: bool,
    /// Whether this is an item of a list, which holds no white space.
    pub item: bool,
}

/// A value of the type that suits its name; `None` if the type seems to have none.
pub(crate) fn value(schemas: &Schemas, ty: TypeId, hint: Hint<'_>) -> Option<String> {
    within(schemas, ty, hint, 0)
}

fn within(schemas: &Schemas, ty: TypeId, hint: Hint<'_>, depth: usize) -> Option<String> {
    let simple = schemas.simple(ty).filter(|_| depth < DEEPEST)?;
    if let Some(values) = &simple.facets.enumeration {
        let mut sound = values.iter().filter(|value| fits(&simple, value) && single(hint, value));
        let first = sound.next();
        let second = if hint.second { sound.next() } else { None };
        return second.or(first).map(|value| value.trim().to_owned());
    }
    match &simple.variety {
        Variety::Atomic => atomic(&simple, hint),
        Variety::List(item) => list(schemas, &simple, *item, hint, depth),
        Variety::Union(members) => members
            .iter()
            .filter_map(|member| within(schemas, *member, hint, depth + 1))
            .find(|value| fits_patterns(&simple.facets, value)),
    }
}

fn list(
    schemas: &Schemas,
    simple: &Simple<'_>,
    item: TypeId,
    hint: Hint<'_>,
    depth: usize,
) -> Option<String> {
    let facets = &simple.facets;
    let least = facets.length.or(facets.min_length).unwrap_or(0);
    let most = facets.length.or(facets.max_length).unwrap_or(u64::MAX);
    let count = 2.clamp(least, most.max(least)).min(1000);
    let hint = Hint { item: true, ..hint };
    let Some(first) = within(schemas, item, hint, depth + 1) else {
        // A list need not have items, should none fit.
        return (least == 0 && fits_patterns(facets, "")).then(String::new);
    };
    let second = within(schemas, item, Hint { second: true, ..hint }, depth + 1)
        .filter(|second| *second != first)
        .or_else(|| another(schemas, item, &first))
        .unwrap_or_else(|| first.clone());
    let items: Vec<&str> =
        (0..count).map(|n| if n % 2 == 0 { first.as_str() } else { second.as_str() }).collect();
    let text = items.join(" ");
    fits_patterns(facets, &text).then_some(text)
}

/// Another item of a list of numbers: a little more than the first.
fn another(schemas: &Schemas, item: TypeId, first: &str) -> Option<String> {
    let simple = schemas.simple(item)?;
    let next = first.parse::<i64>().ok()?.checked_add(4)?.to_string();
    fits(&simple, &next).then_some(next)
}

/// Whether a value may stand where it is meant to: in a list, white space would part it.
fn single(hint: Hint<'_>, value: &str) -> bool {
    !hint.item || !(value.is_empty() || value.contains(|c: char| c.is_ascii_whitespace()))
}

fn atomic(simple: &Simple<'_>, hint: Hint<'_>) -> Option<String> {
    let sound = |candidate: &str| fits(simple, candidate) && single(hint, candidate);
    let mut candidates: Vec<String> = Vec::new();
    if !simple.facets.patterns.is_empty() {
        candidates
            .extend(words::candidates(hint.name, hint.holder, hint.second).into_iter().map(str::to_owned));
        let first = simple.facets.patterns.first()?;
        for more in [0, 1, 2, 4, 8, 16, 32, 64] {
            candidates.extend(first.iter().filter_map(|pattern| pattern::sample(pattern, more, hint.second)));
        }
        if let Some(found) = candidates.iter().find(|candidate| sound(candidate)) {
            return Some(found.clone());
        }
    }
    if matches!(simple.builtin.primitive(), Builtin::Decimal | Builtin::Float | Builtin::Double) {
        return numbers(simple, hint).into_iter().find(|candidate| sound(candidate));
    }
    if simple.builtin.is_within(Builtin::Id) {
        return Some(format!("{}-{}", identifier(hint.name), hint.turn + 1)).filter(|id| sound(id));
    }
    let suited = words::candidates(hint.name, hint.holder, hint.second).into_iter().map(str::to_owned);
    let mut all: Vec<String> = suited.collect();
    if hint.second && simple.builtin.is_within(Builtin::DateTime) {
        all.push("2026-03-14T18:45:00Z".to_owned());
    }
    all.extend(typical(simple.builtin, hint.name));
    all.extend(
        [simple.facets.min, simple.facets.max].into_iter().flatten().map(|bound| bound.value.to_owned()),
    );
    if let Some(found) = all.iter().find(|candidate| sound(candidate)) {
        return Some(found.clone());
    }
    all.iter()
        .filter(|candidate| single(hint, candidate))
        .filter_map(|candidate| stretched(candidate, simple))
        .find(|candidate| sound(candidate))
}

/// Numbers to try: those that suit the name, usual ones, and those near the bounds.
fn numbers(simple: &Simple<'_>, hint: Hint<'_>) -> Vec<String> {
    let mut found: Vec<String> =
        words::candidates(hint.name, hint.holder, hint.second).into_iter().map(str::to_owned).collect();
    let usual: &[&str] = if simple.builtin.is_within(Builtin::Integer) {
        &["12", "3", "1", "100", "0", "-1"]
    } else {
        &["12.5", "3.5", "1", "0.5", "100", "0.01", "0", "-1"]
    };
    found.extend(usual.iter().map(|&number| number.to_owned()));
    let facets = &simple.facets;
    for bound in [facets.min, facets.max].into_iter().flatten() {
        found.push(bound.value.to_owned());
        if let Ok(number) = bound.value.parse::<f64>() {
            for step in [1.0, -1.0, 0.5, -0.5, 0.1, -0.1, 0.01, -0.01] {
                found.push(format!("{}", number + step));
            }
        }
    }
    if let (Some(least), Some(most)) = (facets.min, facets.max)
        && let (Ok(least), Ok(most)) = (least.value.parse::<f64>(), most.value.parse::<f64>())
    {
        found.push(format!("{}", f64::midpoint(least, most)));
    }
    found
}

/// What a value of a built-in type usually looks like.
fn typical(builtin: Builtin, name: &str) -> Vec<String> {
    use Builtin::*;
    let fixed: &[&str] = match builtin {
        Boolean => &["true"],
        Duration => &["PT1H30M"],
        DateTime => &["2026-03-14T06:30:00Z"],
        Time => &["06:30:00"],
        Date => &["2026-03-14"],
        GYearMonth => &["2026-03"],
        GYear => &["2026"],
        GMonthDay => &["--03-14"],
        GDay => &["---14"],
        GMonth => &["--03"],
        HexBinary => &["53414C54"],
        Base64Binary => &["U2FsdG1lcmU="],
        AnyUri => &["https://notices.saltmere.example/17"],
        Language => &["en"],
        NmToken | Name | NcName | IdRef | Entity | QName | Notation => return vec![identifier(name)],
        _ => return vec![words::plain(name), "Saltmere".to_owned()],
    };
    fixed.iter().map(|&value| value.to_owned()).collect()
}

/// The name of an element as an identifier.
fn identifier(name: &str) -> String {
    let text = words::plain(name).replace(' ', "-");
    if text.starts_with(|c: char| c.is_ascii_alphabetic()) { text } else { format!("n-{text}") }
}

/// A text brought to the length that the facets ask for.
fn stretched(text: &str, simple: &Simple<'_>) -> Option<String> {
    let facets = &simple.facets;
    let least = facets.length.or(facets.min_length).unwrap_or(0).min(100_000) as usize;
    let most = facets.length.or(facets.max_length).unwrap_or(u64::MAX).min(100_000) as usize;
    match simple.builtin.primitive() {
        Builtin::String | Builtin::AnyUri => {
            // Cut anywhere, an address is none any more.
            let source = if text.is_empty() || text.contains(':') { "saltmere" } else { text };
            let wanted = source.chars().count().clamp(least, most.max(least));
            let mut long: String = source.chars().cycle().take(wanted).collect();
            // A value must not end in white space that is taken away.
            if long.ends_with(' ') {
                long.pop();
                long.push('s');
            }
            Some(long)
        }
        Builtin::HexBinary => Some("5A".repeat(1.clamp(least, most.max(least)))),
        Builtin::Base64Binary => {
            let wanted = 1.clamp(least, most.max(least));
            let tail = ["", "Uw==", "U2E="][wanted % 3];
            Some("U2Fs".repeat(wanted / 3) + tail)
        }
        _ => None,
    }
}

/// Whether a value is one of the type, as far as it is judged here: the facets, and the digits of numbers.
fn fits(simple: &Simple<'_>, value: &str) -> bool {
    let facets = &simple.facets;
    lexical(simple.builtin, value)
        && fits_length(simple, value)
        && fits_patterns(facets, value)
        && bounded(simple.builtin, facets, value)
        && digits(facets, value)
}

fn fits_patterns(facets: &Facets<'_>, value: &str) -> bool {
    facets.patterns.iter().all(|step| step.iter().any(|pattern| pattern::matches(pattern, value)))
}

fn fits_length(simple: &Simple<'_>, value: &str) -> bool {
    let facets = &simple.facets;
    if facets.length.is_none() && facets.min_length.is_none() && facets.max_length.is_none() {
        return true;
    }
    let length = match simple.builtin.primitive() {
        Builtin::HexBinary => value.len() / 2,
        Builtin::Base64Binary => value.len() / 4 * 3 - value.bytes().rev().take_while(|b| *b == b'=').count(),
        // The length of a QName says nothing (Part 2, 4.3.1.3).
        Builtin::QName | Builtin::Notation => return true,
        _ => value.chars().count(),
    } as u64;
    facets.length.is_none_or(|exact| length == exact)
        && facets.min_length.is_none_or(|least| length >= least)
        && facets.max_length.is_none_or(|most| length <= most)
}

fn bounded(builtin: Builtin, facets: &Facets<'_>, value: &str) -> bool {
    let against = |bound: &str| compare_values(builtin, value, bound);
    let above = facets.min.is_none_or(|least| match against(least.value) {
        Some(Ordering::Greater) => true,
        Some(Ordering::Equal) => least.inclusive,
        _ => false,
    });
    above
        && facets.max.is_none_or(|most| match against(most.value) {
            Some(Ordering::Less) => true,
            Some(Ordering::Equal) => most.inclusive,
            _ => false,
        })
}

fn digits(facets: &Facets<'_>, value: &str) -> bool {
    let (whole, fraction) = value.trim_start_matches(['-', '+']).split_once('.').unwrap_or((value, ""));
    let (whole, fraction) =
        (whole.trim_start_matches(['-', '+', '0']).len() as u64, fraction.trim_end_matches('0').len() as u64);
    facets.fraction_digits.is_none_or(|most| fraction <= most)
        && facets.total_digits.is_none_or(|most| whole + fraction <= most)
}

/// Whether the characters are those of the type.
fn lexical(builtin: Builtin, value: &str) -> bool {
    let all = |allowed: &str| value.chars().all(|c| c.is_ascii_digit() || allowed.contains(c));
    match builtin.primitive() {
        Builtin::Decimal => {
            let whole = !builtin.is_within(Builtin::Integer) || !value.contains('.');
            whole && compare_values(Builtin::Decimal, value, value).is_some()
        }
        Builtin::Float | Builtin::Double => compare_values(Builtin::Double, value, value).is_some(),
        Builtin::Boolean => matches!(value, "true" | "false" | "1" | "0"),
        Builtin::DateTime => {
            value.contains('T') && value.starts_with(|c: char| c.is_ascii_digit()) && all("-:TZ.+")
        }
        Builtin::Date => value.len() >= 10 && all("-Z+:") && value.as_bytes()[4] == b'-',
        Builtin::Time => value.contains(':') && all(":.Z+-"),
        Builtin::Duration => value.starts_with('P') && value.len() > 2 && all("PYMDTHS."),
        Builtin::GYear => all("-") && value.len() == 4,
        Builtin::GYearMonth => all("-") && value.len() == 7,
        Builtin::GMonthDay | Builtin::GDay | Builtin::GMonth => value.starts_with("--"),
        Builtin::HexBinary => value.len().is_multiple_of(2) && value.bytes().all(|b| b.is_ascii_hexdigit()),
        Builtin::Base64Binary => value.len().is_multiple_of(4) && !value.contains(['.', ' ', '-']),
        // A colon before any slash would end a scheme, and after a scheme comes a host.
        Builtin::AnyUri => {
            let plain = !value.contains([' ', ':', '/']);
            plain || (value.starts_with("https://") && value.len() > "https://".len())
        }
        Builtin::QName | Builtin::Notation => charter_source::is_ncname(value),
        _ => named(builtin, value),
    }
}

/// The types derived from string that restrict their characters.
fn named(builtin: Builtin, value: &str) -> bool {
    if builtin.is_within(Builtin::NcName) || builtin.is_within(Builtin::Name) {
        return charter_source::is_ncname(value);
    }
    if builtin.is_within(Builtin::NmToken) {
        return !value.is_empty() && value.chars().all(|c| c.is_alphanumeric() || "-._:".contains(c));
    }
    if builtin.is_within(Builtin::Language) {
        let part =
            |part: &str| (1..=8).contains(&part.len()) && part.bytes().all(|b| b.is_ascii_alphanumeric());
        let primary = value.split('-').next().unwrap_or("");
        return value.split('-').all(part) && primary.bytes().all(|b| b.is_ascii_alphabetic());
    }
    true
}
