//! Decimals of any length (Part 2, 3.2.3).

use std::cmp::Ordering;

/// A decimal number by its digits: no leading or trailing zeros, and no negative zero.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(crate) struct Decimal<'t> {
    negative: bool,
    whole: &'t str,
    fraction: &'t str,
}

impl<'t> Decimal<'t> {
    /// Reads the lexical form: digits with an optional sign and an optional point.
    pub fn parse(text: &'t str) -> Option<Self> {
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

    /// Significant digits (Part 2, 4.3.11): leading zeros before and trailing zeros after the point do not count.
    pub fn total_digits(&self) -> u64 {
        // Of 0.012, the digits that tell it from others of its scale are 012.
        (self.whole.len() + self.fraction.len()).max(1) as u64
    }

    /// Digits after the point, without trailing zeros (Part 2, 4.3.12).
    pub fn fraction_digits(&self) -> u64 {
        self.fraction.len() as u64
    }

    /// The one way to write it.
    pub fn canonical(&self) -> String {
        let sign = if self.negative { "-" } else { "" };
        let whole = if self.whole.is_empty() { "0" } else { self.whole };
        match self.fraction {
            "" => format!("{sign}{whole}"),
            fraction => format!("{sign}{whole}.{fraction}"),
        }
    }

    fn magnitude(&self, other: &Self) -> Ordering {
        let by_length = self.whole.len().cmp(&other.whole.len());
        by_length.then_with(|| self.whole.cmp(other.whole)).then_with(|| self.fraction.cmp(other.fraction))
    }
}

impl PartialOrd for Decimal<'_> {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl Ord for Decimal<'_> {
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

    fn compare(a: &str, b: &str) -> Option<Ordering> {
        Some(Decimal::parse(a)?.cmp(&Decimal::parse(b)?))
    }

    #[test]
    fn decimals_of_any_length() {
        let greater = compare("100000000000000000000000.1", "99999999999999999999999.9");
        assert_eq!(greater, Some(Ordering::Greater));
        assert_eq!(compare("-0.0", "0"), Some(Ordering::Equal));
        assert_eq!(compare("-2", "-10"), Some(Ordering::Greater));
        assert_eq!(compare("+.5", "0.50"), Some(Ordering::Equal));
        for wrong in ["1e3", "", ".", "+", "1.2.3", "1,5", "+-1", "0x1"] {
            assert_eq!(Decimal::parse(wrong), None, "{wrong}");
        }
    }

    #[test]
    fn digits_are_counted_in_the_value() {
        let digits = |text| {
            let value = Decimal::parse(text).unwrap();
            (value.total_digits(), value.fraction_digits())
        };
        assert_eq!(digits("0012.3400"), (4, 2));
        assert_eq!(digits("0"), (1, 0));
        assert_eq!(digits("-0.012"), (3, 3));
        assert_eq!(digits("100"), (3, 0));
        assert_eq!(Decimal::parse("-012.50").unwrap().canonical(), "-12.5");
    }
}
