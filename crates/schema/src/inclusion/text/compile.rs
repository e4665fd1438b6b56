//! Simple types as machines.

use super::machine::{Automaton, Machine, Trie};
use super::number::Bound;
use crate::engine::{Datatype, Form, Limit};
use crate::{Builtin, Value};

/// What a machine leaves out: it accepts more than the type.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Gap {
    /// Which of the texts that look right are forms of the type: real days, whole octets.
    Form,
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
    let mut parts = match &ty.form {
        Form::Atomic(builtin) => atomic(ty, *builtin, gaps)?,
        Form::List(item) => {
            let least = ty.length.or(ty.min_length).unwrap_or(0);
            let most = ty.length.or(ty.max_length).unwrap_or(u64::MAX);
            vec![Machine::List { item: Box::new(tidy(item, gaps)?), least, most }]
        }
        Form::Union(members) => {
            let ways: Option<Vec<Machine>> = members.iter().map(|member| machine(member, gaps)).collect();
            // Its patterns look at text without surplus space, whatever its members do.
            if ty.patterns.is_some() {
                gaps.push(Gap::Patterns);
            }
            vec![Machine::Any(ways?)]
        }
    };
    let is_union = matches!(ty.form, Form::Union(_));
    let mut step = ty.patterns.as_ref().filter(|_| !is_union);
    while let Some(here) = step {
        match Automaton::new(here.texts.iter().map(|text| &**text)) {
            Some(automaton) => parts.push(Machine::Regex(Box::new(automaton))),
            None if here.automaton().is_err() => {}
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
        gaps.push(Gap::Form);
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
    let zone = "(Z|[+\\-](0[0-9]|1[0-4]):[0-5][0-9])?";
    let year = "-?([1-9][0-9]{3,}|0[0-9]{3})";
    let time = "[0-2][0-9]:[0-5][0-9]:[0-5][0-9](\\.[0-9]+)?";
    let (month, day) = ("(0[1-9]|1[0-2])", "(0[1-9]|[12][0-9]|3[01])");
    let exact = |text: &str| (text.to_owned(), true);
    let roughly = |text| (text, false);
    match builtin {
        Boolean => exact("true|false|1|0"),
        Decimal => exact("[+\\-]?([0-9]+(\\.[0-9]*)?|\\.[0-9]+)"),
        Float | Double => exact("[+\\-]?([0-9]+(\\.[0-9]*)?|\\.[0-9]+)([eE][+\\-]?[0-9]+)?|INF|-INF|NaN"),
        Duration => roughly("-?P[0-9YMDTHS.]+".into()),
        DateTime => roughly(format!("{year}-{month}-{day}T{time}{zone}")),
        Time => roughly(format!("{time}{zone}")),
        Date => roughly(format!("{year}-{month}-{day}{zone}")),
        GYearMonth => roughly(format!("{year}-{month}{zone}")),
        GYear => roughly(format!("{year}{zone}")),
        GMonthDay => roughly(format!("--{month}-{day}{zone}")),
        GDay => roughly(format!("---{day}{zone}")),
        GMonth => roughly(format!("--{month}(--)?{zone}")),
        HexBinary => exact("([0-9a-fA-F]{2})*"),
        Base64Binary => roughly("[A-Za-z0-9+/= ]*".into()),
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

    #[test]
    fn the_patterns_of_the_built_in_types_hold_all_their_forms() {
        let texts = [
            "",
            "true",
            "0",
            "1",
            "-0",
            "+7",
            "1.",
            ".5",
            "1.5",
            "1e3",
            "INF",
            "NaN",
            "P1D",
            "PT1.5S",
            "-P1Y2M",
            "P",
            "2026-03-14",
            "2026-02-30",
            "2026-03-14T06:30:00Z",
            "2026-03-14T24:00:00",
            "06:30:00.5+01:00",
            "2026-03",
            "2026",
            "-0044",
            "--03-14",
            "---14",
            "--03",
            "--03--",
            "0a",
            "0A1",
            "U2FsdA==",
            "U 2 F s",
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
            "é",
            "ns:a:b",
            "\u{37E}",
            "1.5.1",
        ];
        for builtin in Builtin::all().filter(|it| !matches!(it.kind(), crate::Kind::List(_))) {
            let (form, exact) = lexical(builtin);
            let pattern = Pattern::new([form.as_str()]).unwrap();
            for text in texts {
                let integer = builtin.bounds() != (None, None);
                let (is, fits) = (is_lexical(builtin, text), pattern.matches(text));
                assert!(fits || !is, "{builtin:?} {text:?}");
                assert!(is == fits || !exact || integer, "{builtin:?} {text:?}");
            }
        }
    }
}
