//! The lexical spaces of the built-in types, checked without building a value.

use charter_source::is_ncname;

use super::{binary, decimal::Decimal, duration::Duration, moment::Moment, uri};
use crate::Builtin;

/// Whether a text, its white space already treated, is in the lexical space of a built-in type.
///
/// Names that need a context (QName, ENTITY) are judged by their form alone.
///
/// ```
/// use charter_schema::{Builtin, is_lexical};
///
/// assert!(is_lexical(Builtin::Byte, "-128"));
/// assert!(!is_lexical(Builtin::Byte, "128"));
/// assert!(is_lexical(Builtin::Date, "2026-03-14+01:00"));
/// ```
pub fn is_lexical(ty: Builtin, text: &str) -> bool {
    use Builtin::*;
    match ty {
        AnyType | AnySimpleType | String | NormalizedString | Token => true,
        Boolean => matches!(text, "true" | "false" | "1" | "0"),
        Decimal => self::Decimal::parse(text).is_some(),
        Float | Double => is_float(text),
        Duration => self::Duration::parse(text).is_some(),
        DateTime | Time | Date | GYearMonth | GYear | GMonthDay | GDay | GMonth => {
            Moment::parse(ty, text).is_some()
        }
        HexBinary => text.len().is_multiple_of(2) && text.bytes().all(|byte| byte.is_ascii_hexdigit()),
        Base64Binary => binary::base64(text).is_some(),
        AnyUri => uri::is_uri(text),
        QName | Notation => is_qname(text),
        Language => is_language(text),
        NmToken => is_nmtoken(text),
        Name => is_name(text),
        NcName | Id | IdRef | Entity => is_ncname(text),
        NmTokens => items(text, is_nmtoken),
        IdRefs | Entities => items(text, is_ncname),
        Integer | NonPositiveInteger | NegativeInteger | Long | Int | Short | Byte | NonNegativeInteger
        | UnsignedLong | UnsignedInt | UnsignedShort | UnsignedByte | PositiveInteger => is_integer(ty, text),
    }
}

fn items(text: &str, each: impl Fn(&str) -> bool) -> bool {
    !text.is_empty() && text.split(' ').all(each)
}

/// Digits with a sign, within the bounds of the type.
fn is_integer(ty: Builtin, text: &str) -> bool {
    let digits = text.strip_prefix(['+', '-']).unwrap_or(text);
    if digits.is_empty() || !digits.bytes().all(|byte| byte.is_ascii_digit()) {
        return false;
    }
    let (least, greatest) = ty.bounds();
    if least.is_none() && greatest.is_none() {
        return true;
    }
    let within = |value: Decimal<'_>| {
        least.and_then(Decimal::parse).is_none_or(|least| least <= value)
            && greatest.and_then(Decimal::parse).is_none_or(|greatest| value <= greatest)
    };
    Decimal::parse(text).is_some_and(within)
}

/// Part 2, 3.2.4.1: a decimal with an optional exponent, or one of three words.
pub(super) fn is_float(text: &str) -> bool {
    if matches!(text, "INF" | "-INF" | "NaN") {
        return true;
    }
    let (mantissa, exponent) = match text.split_once(['e', 'E']) {
        Some((mantissa, exponent)) => (mantissa, Some(exponent)),
        None => (text, None),
    };
    let exponent_is_sound = exponent.is_none_or(|exponent| {
        let digits = exponent.strip_prefix(['+', '-']).unwrap_or(exponent);
        !digits.is_empty() && digits.bytes().all(|byte| byte.is_ascii_digit())
    });
    exponent_is_sound && Decimal::parse(mantissa).is_some()
}

/// RFC 3066: `[a-zA-Z]{1,8}(-[a-zA-Z0-9]{1,8})*`.
fn is_language(text: &str) -> bool {
    let mut parts = text.split('-');
    let sized = |part: &str| (1..=8).contains(&part.len());
    parts.next().is_some_and(|first| sized(first) && first.bytes().all(|byte| byte.is_ascii_alphabetic()))
        && parts.all(|part| sized(part) && part.bytes().all(|byte| byte.is_ascii_alphanumeric()))
}

fn is_qname(text: &str) -> bool {
    match text.split_once(':') {
        Some((prefix, local)) => is_ncname(prefix) && is_ncname(local),
        None => is_ncname(text),
    }
}

/// XML 1.0, production 5: a name that may hold colons.
fn is_name(text: &str) -> bool {
    !text.is_empty()
        && text.starts_with(|c: char| c == ':' || charter_source::starts_name(c))
        && text.chars().all(|c| c == ':' || charter_source::continues_name(c))
}

/// XML 1.0, production 7.
fn is_nmtoken(text: &str) -> bool {
    !text.is_empty() && text.chars().all(|c| c == ':' || charter_source::continues_name(c))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_type_has_its_own_forms() {
        use Builtin::*;
        let cases: &[(Builtin, &[&str], &[&str])] = &[
            (Boolean, &["true", "0"], &["TRUE", "yes", ""]),
            (Float, &["1", "-1.5E-3", "INF", "NaN", ".5e9"], &["+INF", "inf", "1e", "e5", "1e1.5", ""]),
            (Integer, &["-0", "+99999999999999999999"], &["1.0", "1.", "", "-", "1e3"]),
            (NegativeInteger, &["-1"], &["0", "-0"]),
            (NonPositiveInteger, &["0", "-0", "+0"], &["1"]),
            (UnsignedByte, &["255", "000255", "+1"], &["256", "-1"]),
            (Long, &["9223372036854775807"], &["9223372036854775808"]),
            (Language, &["en", "de-AT", "x-harbour1"], &["e1", "toolonglang", "en-", ""]),
            (NmToken, &["-a", "1:b"], &["a b", ""]),
            (NmTokens, &["a b"], &["", "a,b"]),
            (Name, &["a:b", ":a"], &["1a", ""]),
            (NcName, &["a.b"], &["a:b"]),
            (QName, &["p:a", "a"], &["p:", ":a", "p:a:b"]),
            (IdRefs, &["a b"], &["1a", ""]),
            (HexBinary, &["", "0A"], &["A", "0x"]),
        ];
        for (ty, right, wrong) in cases {
            right.iter().for_each(|text| assert!(is_lexical(*ty, text), "{ty:?} {text}"));
            wrong.iter().for_each(|text| assert!(!is_lexical(*ty, text), "{ty:?} {text}"));
        }
    }
}
