//! The order of values, where it is needed before instances are validated: for the bounds of ranges.

use std::cmp::Ordering;

use crate::Builtin;

/// Compares two values of a built-in type in its value space; `None` where they cannot be compared.
///
/// Decimals compare exactly, whatever their length (Part 2, 3.2.3). Dates and times compare when they are
/// written alike.
///
/// ```
/// use std::cmp::Ordering;
/// use charter_schema::{Builtin, compare_values};
///
/// assert_eq!(compare_values(Builtin::Decimal, "0.50", "0.5"), Some(Ordering::Equal));
/// assert_eq!(compare_values(Builtin::Int, "-10", "9"), Some(Ordering::Less));
/// ```
pub fn compare_values(builtin: Builtin, a: &str, b: &str) -> Option<Ordering> {
    let (a, b) = (a.trim(), b.trim());
    match builtin.primitive() {
        Builtin::Decimal => Some(Decimal::parse(a)?.cmp(&Decimal::parse(b)?)),
        Builtin::Float | Builtin::Double => float(a)?.partial_cmp(&float(b)?),
        Builtin::DateTime
        | Builtin::Date
        | Builtin::Time
        | Builtin::GYear
        | Builtin::GYearMonth
        | Builtin::GMonth
        | Builtin::GMonthDay
        | Builtin::GDay => alike(a, b).then(|| a.cmp(b)),
        _ => (a == b).then_some(Ordering::Equal),
    }
}

fn float(text: &str) -> Option<f64> {
    match text {
        "INF" => Some(f64::INFINITY),
        "-INF" => Some(f64::NEG_INFINITY),
        other if other.bytes().all(|b| b.is_ascii_digit() || b"+-.eE".contains(&b)) => other.parse().ok(),
        _ => None,
    }
}

/// Whether two dates have digits in the same places and agree in everything else.
fn alike(a: &str, b: &str) -> bool {
    let fits = |(x, y): (u8, u8)| x == y || (x.is_ascii_digit() && y.is_ascii_digit());
    a.len() == b.len() && !a.starts_with('-') && a.bytes().zip(b.bytes()).all(fits)
}

/// A decimal number, by its digits.
#[derive(Debug, PartialEq, Eq)]
struct Decimal<'t> {
    negative: bool,
    whole: &'t str,
    fraction: &'t str,
}

impl<'t> Decimal<'t> {
    fn parse(text: &'t str) -> Option<Self> {
        let (negative, digits) = match text.as_bytes().first()? {
            b'-' => (true, &text[1..]),
            b'+' => (false, &text[1..]),
            _ => (false, text),
        };
        let (whole, fraction) = digits.split_once('.').unwrap_or((digits, ""));
        let numeric = |part: &str| part.bytes().all(|byte| byte.is_ascii_digit());
        if (whole.is_empty() && fraction.is_empty()) || !numeric(whole) || !numeric(fraction) {
            return None;
        }
        let (whole, fraction) = (whole.trim_start_matches('0'), fraction.trim_end_matches('0'));
        let zero = whole.is_empty() && fraction.is_empty();
        Some(Decimal { negative: negative && !zero, whole, fraction })
    }

    fn magnitude(&self, other: &Self) -> Ordering {
        let by_length = self.whole.len().cmp(&other.whole.len());
        by_length.then_with(|| self.whole.cmp(other.whole)).then_with(|| self.fraction.cmp(other.fraction))
    }

    fn cmp(&self, other: &Self) -> Ordering {
        match (self.negative, other.negative) {
            (false, true) => Ordering::Greater,
            (true, false) => Ordering::Less,
            (false, false) => self.magnitude(other),
            (true, true) => other.magnitude(self),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn decimals_of_any_length() {
        let compare = |a, b| compare_values(Builtin::Decimal, a, b);
        assert_eq!(
            compare("100000000000000000000000.1", "99999999999999999999999.9"),
            Some(Ordering::Greater)
        );
        assert_eq!(compare("-0.0", "0"), Some(Ordering::Equal));
        assert_eq!(compare("-2", "-10"), Some(Ordering::Greater));
        assert_eq!(compare("+.5", "0.50"), Some(Ordering::Equal));
        assert_eq!(compare("1e3", "1"), None);
        assert_eq!(compare("", "1"), None);
    }

    #[test]
    fn dates_only_when_written_alike() {
        assert_eq!(compare_values(Builtin::Date, "2026-03-14", "2026-03-15"), Some(Ordering::Less));
        assert_eq!(compare_values(Builtin::Date, "2026-03-14Z", "2026-03-15"), None);
        assert_eq!(compare_values(Builtin::Double, "-INF", "1e9"), Some(Ordering::Less));
    }
}
