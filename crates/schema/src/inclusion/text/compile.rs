//! Simple types as machines.

use super::machine::{Automaton, Machine, Trie};
use super::number::Bound;
use crate::engine::{Datatype, Limit, Variety};
use crate::{Builtin, Value};

/// What a machine leaves out: it accepts more than the type.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Gap {
    /// Which of the texts that look right are forms of the type: real days, whole octets.
    Variety,
    /// Bounds of values that are not decimals.
    Range,
    /// Lengths that are not those of the text.
    Length,
    /// Listed values that have many forms.
    Listed,
    /// Patterns that are too large.
    Patterns,
}

/// Any text of XML.
const ANY: &str = "[\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]*";
/// The characters that begin a name, without the colon, and those that go on with it (XML 1.0, fifth edition).
const STARTS: &str = "A-Z_a-z\u{C0}-\u{D6}\u{D8}-\u{F6}\u{F8}-\u{2FF}\u{370}-\u{37D}\u{37F}-\u{1FFF}\u{200C}-\u{200D}\
    \u{2070}-\u{218F}\u{2C00}-\u{2FEF}\u{3001}-\u{D7FF}\u{F900}-\u{FDCF}\u{FDF0}-\u{FFFD}\u{10000}-\u{EFFFF}";
const GOES_ON: &str = "\\-.0-9\u{B7}\u{300}-\u{36F}\u{203F}-\u{2040}";

/// The machine of a type, and what it leaves out; `None` if it would be too large.
pub(super) fn machine(ty: &Datatype, gaps: &mut Vec<Gap>) -> Option<Machine> {
    Some(Machine::Spaced(ty.white_space, Box::new(tidy(ty, gaps)?)))
}

/// The machine of a type for texts whose white space is treated.
fn tidy(ty: &Datatype, gaps: &mut Vec<Gap>) -> Option<Machine> {
    let mut parts = match &ty.variety {
        Variety::Atomic(builtin) => atomic(ty, *builtin, gaps)?,
        Variety::List(item) => {
            let least = ty.length.or(ty.min_length).unwrap_or(0);
            let most = ty.length.or(ty.max_length).unwrap_or(u64::MAX);
            vec![Machine::List { item: Box::new(tidy(item, gaps)?), least, most }]
        }
        Variety::Union(members) => {
            let ways: Option<Vec<Machine>> = members.iter().map(|member| machine(member, gaps)).collect();
            // Its patterns look at text without surplus space, whatever its members do.
            if ty.patterns.is_some() {
                gaps.push(Gap::Patterns);
            }
            vec![Machine::Any(ways?)]
        }
    };
    let is_union = matches!(ty.variety, Variety::Union(_));
    let mut step = ty.patterns.as_ref().filter(|_| !is_union);
    while let Some(here) = step {
        let automaton = || Automaton::new(here.texts.iter().map(|text| &**text));
        match here.is_usable().then(automaton).flatten() {
            Some(automaton) => parts.push(Machine::Regex(Box::new(automaton))),
            None => gaps.push(Gap::Patterns),
        }
        step = here.before.as_ref();
    }
    if let Some(enumeration) = &ty.enumeration {
        match ty.builtin().map(Builtin::primitive) {
            Some(Builtin::String | Builtin::AnyUri) => {
                parts.push(Machine::Listed(Trie::new(enumeration.texts.iter())));
            }
            Some(Builtin::Decimal) if enumeration.texts.len() <= 64 => {
                parts.push(Machine::Any(enumeration.texts.iter().filter_map(just).collect()));
            }
            _ => gaps.push(Gap::Listed),
        }
    }
    Some(if parts.len() == 1 { parts.swap_remove(0) } else { Machine::All(parts) })
}

/// All ways to write one decimal.
fn just(text: &str) -> Option<Machine> {
    let Some(Value::Decimal(canonical)) = Value::parse(Builtin::Decimal, text, |_| None) else { return None };
    let end = |lower| Machine::Range { bound: Bound::new(&canonical), lower, inclusive: true };
    Some(Machine::All(vec![end(true), end(false)]))
}

fn atomic(ty: &Datatype, builtin: Builtin, gaps: &mut Vec<Gap>) -> Option<Vec<Machine>> {
    let (form, exact) = lexical(builtin);
    if !exact {
        gaps.push(Gap::Variety);
    }
    let mut parts = vec![Machine::Regex(Box::new(Automaton::new([form.as_str()])?))];
    let primitive = builtin.primitive();
    for (limit, lower) in [(&ty.min, true), (&ty.max, false)] {
        match limit {
            Some(Limit { value: Value::Decimal(canonical), inclusive, .. }) => {
                parts.push(Machine::Range { bound: Bound::new(canonical), lower, inclusive: *inclusive });
            }
            Some(_) => gaps.push(Gap::Range),
            None => {}
        }
    }
    let fraction = ty.fraction_digits.filter(|_| !builtin.is_within(Builtin::Integer));
    if ty.total_digits.is_some() || fraction.is_some() {
        parts.push(Machine::Digits { total: ty.total_digits, fraction });
    }
    if ty.length.is_some() || ty.min_length.is_some() || ty.max_length.is_some() {
        let least = ty.length.or(ty.min_length).unwrap_or(0);
        let most = ty.length.or(ty.max_length).unwrap_or(u64::MAX);
        match primitive {
            Builtin::HexBinary => {
                let twice = |octets: u64| octets.saturating_mul(2);
                parts.push(Machine::Length { least: twice(least), most: twice(most) });
            }
            Builtin::Base64Binary => gaps.push(Gap::Length),
            Builtin::QName | Builtin::Notation => {}
            _ => parts.push(Machine::Length { least, most }),
        }
    }
    Some(parts)
}

/// A pattern for the lexical space of a built-in type, and whether it is all there is to it.
fn lexical(builtin: Builtin) -> (String, bool) {
    use Builtin::*;
    let zone = "(Z|[+\\-]((0[0-9]|1[0-3]):[0-5][0-9]|14:00))?";
    let year = "-?([1-9][0-9]{3,}|0([0-9]{2}[1-9]|[0-9][1-9]0|[1-9]00))";
    // Midnight may be written as the end of the day before.
    let time = "(([01][0-9]|2[0-3]):[0-5][0-9]:[0-5][0-9](\\.[0-9]+)?|24:00:00(\\.0+)?)";
    let month = "(0[1-9]|1[0-2])";
    let any_year = "(0[13578]|1[02])-(0[1-9]|[12][0-9]|3[01])|(0[469]|11)-(0[1-9]|[12][0-9]|30)|02-(0[1-9]|1[0-9]|2[0-8])";
    // Years that can be divided by four: those of whole centuries, by four hundred.
    let by_four = "0[48]|[2468][048]|[13579][26]";
    let leap =
        format!("-?(([0-9]{{2}}|[1-9][0-9]{{2,}})({by_four})|({by_four}|[1-9][0-9]*(00|{by_four}))00)");
    let date = format!("({year}-({any_year})|{leap}-02-29)");
    let exact = |text: &str| (text.to_owned(), true);
    let roughly = |text| (text, false);
    match builtin {
        Boolean => exact("true|false|1|0"),
        Decimal => exact("[+\\-]?([0-9]+(\\.[0-9]*)?|\\.[0-9]+)"),
        Float | Double => exact("[+\\-]?([0-9]+(\\.[0-9]*)?|\\.[0-9]+)([eE][+\\-]?[0-9]+)?|INF|-INF|NaN"),
        Duration => {
            let (y, mo, d) = ("[0-9]+Y", "[0-9]+M", "[0-9]+D");
            let (h, mi, sec) = ("[0-9]+H", "[0-9]+M", "[0-9]+(\\.[0-9]+)?S");
            let days = format!("{y}({mo})?({d})?|{mo}({d})?|{d}");
            let hours = format!("T({h}({mi})?({sec})?|{mi}({sec})?|{sec})");
            exact(&format!("-?P(({days})({hours})?|{hours})"))
        }
        DateTime => exact(&format!("{date}T{time}{zone}")),
        Time => exact(&format!("{time}{zone}")),
        Date => exact(&format!("{date}{zone}")),
        GYearMonth => exact(&format!("{year}-{month}{zone}")),
        GYear => exact(&format!("{year}{zone}")),
        GMonthDay => exact(&format!("--({any_year}|02-29){zone}")),
        GDay => exact(&format!("---(0[1-9]|[12][0-9]|3[01]){zone}")),
        GMonth => exact(&format!("--{month}{zone}")),
        HexBinary => exact("([0-9a-fA-F]{2})*"),
        // Groups of four, with single spaces between any two characters; the last may be padded (Part 2, 3.2.16).
        Base64Binary => {
            let one = "[A-Za-z0-9+/]";
            let whole = format!("{one} ?{one} ?{one} ?{one}");
            let (by_two, by_one) = ("[AEIMQUYcgkosw048] ?=", "[AQgw] ?= ?=");
            (format!("(({whole} ?)*({whole}|{one} ?{one} ?{by_two}|{one} ?{by_one}))?"), true)
        }
        AnyUri => roughly(ANY.into()),
        Language => exact("[a-zA-Z]{1,8}(-[a-zA-Z0-9]{1,8})*"),
        NmToken => (format!("[:{STARTS}{GOES_ON}]+"), true),
        Name => (format!("[:{STARTS}][:{STARTS}{GOES_ON}]*"), true),
        NcName | Id | IdRef | Entity => (format!("[{STARTS}][{STARTS}{GOES_ON}]*"), true),
        QName | Notation => {
            let name = format!("[{STARTS}][{STARTS}{GOES_ON}]*");
            roughly(format!("{name}(:{name})?"))
        }
        other if other.is_within(Integer) => exact("[+\\-]?[0-9]+"),
        _ => exact(ANY),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Pattern, is_lexical};

    /// Forms of types of all kinds, and some that look like it.
    const TEXTS: &[&str] = &[
        "",
        "true",
        "0",
        "-0",
        "+7",
        "1.",
        ".5",
        "1.5",
        "1e3",
        "1.5E-10",
        "INF",
        "-INF",
        "NaN",
        "P1D",
        "PT1.5S",
        "-P1Y2M3DT4H5M6.7S",
        "P2MT3M",
        "2026-03-14",
        "2026-02-30",
        "2024-02-29",
        "2000-02-29",
        "1900-02-29",
        "-0004-02-29",
        "0000-01-01",
        "12000-02-29",
        "10100-02-29",
        "2026-11-30",
        "2026-03-14T06:30:00Z",
        "2026-03-14T24:00:00",
        "2024-02-29T23:59:59.125+14:00",
        "06:30:00.5+01:00",
        "24:00:00.0",
        "2026-03",
        "2026",
        "-0044",
        "12026",
        "2026-13:30",
        "--03-14",
        "--02-29",
        "--11-31",
        "---14",
        "---31Z",
        "--03",
        "--03--",
        "0a",
        "0A1",
        "U2FsdA==",
        "U 2 F s",
        "U 2Fsd A= =",
        "U2FsdB==",
        "U2FsdGE=",
        "U2FsdGF=",
        "U2Fs=",
        "=",
        "%",
        "urn:a",
        "en",
        "en-x-harbour",
        "toolonglang",
        "a:b",
        ":a",
        "1a",
        "-a",
        "a b",
        "\u{e9}",
        "ns:a:b",
        "\u{37E}",
        "1.5.1",
    ];

    /// The same with one character more, less or other.
    fn nearby(text: &str) -> Vec<String> {
        const LETTERS: &str = "0123459-+:.TZPYMDHSeEINFa =/";
        let whole: Vec<char> = text.chars().collect();
        let mut all = vec![text.to_owned()];
        for at in 0..=whole.len() {
            let (before, after) = whole.split_at(at);
            let mut put = |middle: Option<char>, skip: usize| {
                all.push(
                    before.iter().copied().chain(middle).chain(after.iter().skip(skip).copied()).collect(),
                );
            };
            put(None, 1);
            LETTERS.chars().for_each(|letter| {
                put(Some(letter), 0);
                put(Some(letter), 1);
            });
        }
        all
    }

    #[test]
    fn the_patterns_of_the_built_in_types_hold_their_forms_and_nothing_else() {
        let texts: Vec<String> = TEXTS.iter().flat_map(|text| nearby(text)).collect();
        for builtin in Builtin::all().filter(|it| !matches!(it.kind(), crate::Kind::List(_))) {
            let (form, exact) = lexical(builtin);
            let pattern = Pattern::new([form.as_str()]).unwrap();
            // Its bounds are told apart from its form.
            let bounded = builtin.bounds() != (None, None);
            for text in &texts {
                // Surplus space is gone before anybody looks.
                if text.starts_with(' ') || text.ends_with(' ') || text.contains("  ") {
                    continue;
                }
                let (is, fits) = (is_lexical(builtin, text), pattern.matches(text));
                assert!(fits || !is, "{builtin:?} {text:?}");
                assert!(is == fits || !exact || bounded, "{builtin:?} {text:?}");
            }
        }
    }
}
