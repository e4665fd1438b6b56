//! The simple type that values bear out.

use charter_notation::{ElementInfo, Value};
use charter_schema::{Builtin, is_lexical};
use charter_source::{QName, Set, ns};

/// Up to how many different values are taken for all there are.
const FEW: usize = 10;
/// How often each of them must occur on average.
const OFTEN: usize = 3;
/// A value longer than this is a text, not one of a list.
const SHORT: usize = 40;

/// The types that are tried, the narrowest first.
const TYPES: [Builtin; 9] = [
    Builtin::Boolean,
    Builtin::Int,
    Builtin::Long,
    Builtin::Integer,
    Builtin::Decimal,
    Builtin::Double,
    Builtin::Date,
    Builtin::Time,
    Builtin::DateTime,
];

/// The type of a set of values.
pub(super) enum Type {
    /// A built-in one.
    Builtin(Builtin),
    /// A string that is one of these.
    OneOf(Vec<String>),
}

/// The narrowest type that all values have.
pub(super) fn of<'v>(values: impl Iterator<Item = &'v str> + Clone) -> Type {
    let count = values.clone().count();
    if count == 0 {
        return Type::Builtin(Builtin::String);
    }
    let fits = |builtin: &Builtin| values.clone().all(|value| has(*builtin, value));
    if let Some(builtin) = TYPES.iter().find(|builtin| fits(builtin)) {
        return Type::Builtin(*builtin);
    }
    let mut seen: Set<&str> = Set::default();
    let mut distinct: Vec<&str> = Vec::new();
    for value in values.clone() {
        if seen.insert(value) {
            distinct.push(value);
        }
        if distinct.len() > FEW {
            return Type::Builtin(Builtin::String);
        }
    }
    let plain = distinct
        .iter()
        .all(|value| !value.trim().is_empty() && value.chars().count() <= SHORT && !value.contains('\n'));
    if plain && distinct.len() > 1 && count >= OFTEN * distinct.len() {
        return Type::OneOf(distinct.into_iter().map(str::to_owned).collect());
    }
    Type::Builtin(Builtin::String)
}

/// Whether a text is a value of a type, as people write it: a number with a leading zero or a plus is a name for something,
/// such as a telephone.
fn has(builtin: Builtin, value: &str) -> bool {
    let text = value.trim();
    let digits = text.trim_start_matches(['+', '-']);
    let has_zero = digits.len() > 1 && digits.starts_with('0') && !digits.starts_with("0.");
    let is_code = has_zero || text.starts_with('+');
    match builtin {
        Builtin::Boolean => matches!(text, "true" | "false"),
        Builtin::Int => text.parse::<i32>().is_ok() && !is_code,
        Builtin::Long => text.parse::<i64>().is_ok() && !is_code,
        Builtin::Integer | Builtin::Decimal => is_lexical(builtin, text) && !is_code,
        // An exponent tells a measured number from a name.
        Builtin::Double => {
            is_lexical(builtin, text) && !is_code && text.contains(|c: char| c.is_ascii_digit())
        }
        other => is_lexical(other, text),
    }
}

/// Gives an element or an attribute a type.
pub(super) fn give(info: &mut ElementInfo, ty: &Type) {
    match ty {
        Type::Builtin(builtin) => info.set("type", Value::name(&name(*builtin))),
        Type::OneOf(values) => {
            let mut restriction = ElementInfo::xsd("restriction").naming("base", &name(Builtin::String));
            for value in values {
                restriction.push(ElementInfo::xsd("enumeration").with("value", value.as_str()));
            }
            info.push(ElementInfo::xsd("simpleType").holding(restriction));
        }
    }
}

pub(super) fn name(builtin: Builtin) -> QName {
    QName::new(ns::XSD, builtin.name())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn shown(values: &[&str]) -> String {
        match of(values.iter().copied()) {
            Type::Builtin(builtin) => builtin.name().to_owned(),
            Type::OneOf(values) => values.join("|"),
        }
    }

    #[test]
    fn the_narrowest_type_is_taken() {
        for (values, expected) in [
            (&["1", "-20"][..], "int"),
            (&["1", "3000000000"], "long"),
            (&["1", "99999999999999999999"], "integer"),
            (&["1", "2.50"], "decimal"),
            (&["1.5e3", "2"], "double"),
            (&["true", "false"], "boolean"),
            (&["0", "1"], "int"),
            (&["007", "12"], "string"),
            (&["0.07", "-0.5"], "decimal"),
            (&["+3", "4"], "string"),
            (&["+3.5", "1e3"], "string"),
            (&["2147483647", "-2147483648"], "int"),
            (&["2147483648"], "long"),
            (&["9223372036854775808"], "integer"),
            (&["INF", "1"], "string"),
            (&["true", "1"], "string"),
            (&["1,000", "2"], "string"),
            (&["2026-11-23T10:00:00", "2026-11-23"], "string"),
            (&["2026-11-23"], "date"),
            (&["2026-11-23", "2026-02-30"], "string"),
            (&["2026-11-23T10:00:00Z"], "dateTime"),
            (&["10:30:00"], "time"),
            (&["10:30"], "string"),
            (&["north", "south", "north", "north", "south", "north"], "north|south"),
            (&["north", "south"], "string"),
            (&[], "string"),
        ] {
            assert_eq!(shown(values), expected, "{values:?}");
        }
    }
}
