//! Decimals read digit by digit: whether they are within bounds, and how many digits their values have.

use std::cmp::Ordering;

/// A decimal bound by its digits.
#[derive(Debug, Clone)]
pub(super) struct Bound {
    negative: bool,
    whole: Vec<u8>,
    fraction: Vec<u8>,
    zero: bool,
}

impl Bound {
    /// Of the canonical form of a decimal.
    pub fn new(canonical: &str) -> Bound {
        let negative = canonical.starts_with('-');
        let digits = canonical.trim_start_matches(['-', '+']);
        let (whole, fraction) = digits.split_once('.').unwrap_or((digits, ""));
        let whole: Vec<u8> = whole.trim_start_matches('0').into();
        let fraction: Vec<u8> = fraction.trim_end_matches('0').into();
        let zero = whole.is_empty() && fraction.is_empty();
        Bound { negative: negative && !zero, whole, fraction, zero }
    }
}

/// Where the reading of a decimal is, seen from one bound.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(super) struct Against {
    negative: bool,
    in_fraction: bool,
    /// Digits since the first that is not zero, or since the point; no more than can make a difference.
    read: u32,
    /// How what was read compares to as many digits of the bound.
    so_far: Ordering,
    zero: bool,
}

impl Against {
    pub fn start() -> Against {
        Against { negative: false, in_fraction: false, read: 0, so_far: Ordering::Equal, zero: true }
    }

    /// Reads a byte of a lexical form that something else holds to be one.
    pub fn step(&self, bound: &Bound, byte: u8) -> Against {
        let mut next = self.clone();
        match byte {
            b'-' => next.negative = true,
            b'.' => {
                next.so_far = self.digits_before_point(bound);
                next.in_fraction = true;
                next.read = 0;
            }
            b'0'..=b'9' if self.in_fraction => {
                next.zero &= byte == b'0';
                let digit = bound.fraction.get(self.read as usize).copied().unwrap_or(b'0');
                next.so_far = self.so_far.then(byte.cmp(&digit));
                next.read = (self.read + 1).min(bound.fraction.len() as u32);
            }
            b'0' if self.read == 0 => {}
            b'0'..=b'9' => {
                next.zero = false;
                if let Some(digit) = bound.whole.get(self.read as usize) {
                    next.so_far = self.so_far.then(byte.cmp(digit));
                }
                next.read = (self.read + 1).min(bound.whole.len() as u32 + 1);
            }
            _ => {}
        }
        next
    }

    /// How the digits before the point compare.
    fn digits_before_point(&self, bound: &Bound) -> Ordering {
        (self.read as usize).cmp(&bound.whole.len()).then(self.so_far)
    }

    /// How the value that was read compares to the bound.
    pub fn end(&self, bound: &Bound) -> Ordering {
        let magnitude = if self.in_fraction {
            let more = self.read as usize >= bound.fraction.len();
            self.so_far.then(if more { Ordering::Equal } else { Ordering::Less })
        } else {
            self.digits_before_point(bound).then(if bound.fraction.is_empty() {
                Ordering::Equal
            } else {
                Ordering::Less
            })
        };
        match (self.negative && !self.zero, bound.negative) {
            (false, true) => Ordering::Greater,
            (true, false) => Ordering::Less,
            (true, true) => magnitude.reverse(),
            (false, false) if self.zero && bound.zero => Ordering::Equal,
            (false, false) => magnitude,
        }
    }
}

/// How many digits the value has that was read so far.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub(super) struct Digits {
    whole: u64,
    fraction: u64,
    /// Zeros after the point that count if another digit follows.
    pending: u64,
    in_fraction: bool,
}

impl Digits {
    /// Reads a byte; nothing is counted beyond `most`.
    pub fn step(&self, byte: u8, most: u64) -> Digits {
        let mut next = self.clone();
        match byte {
            b'.' => next.in_fraction = true,
            b'0' if self.in_fraction => next.pending = (self.pending + 1).min(most + 1),
            b'1'..=b'9' if self.in_fraction => {
                next.fraction = (self.fraction + self.pending + 1).min(most + 1);
                next.pending = 0;
            }
            b'0' if self.whole == 0 => {}
            b'0'..=b'9' => next.whole = (self.whole + 1).min(most + 1),
            _ => {}
        }
        next
    }

    /// Whether there are no more than so many in all, and after the point.
    pub fn fit(&self, total: Option<u64>, fraction: Option<u64>) -> bool {
        total.is_none_or(|most| self.whole + self.fraction <= most)
            && fraction.is_none_or(|most| self.fraction <= most)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::value::Decimal;

    const NUMBERS: &[&str] = &[
        "0",
        "-0",
        "+0.0",
        "1",
        "-1",
        "01",
        "10",
        "9.40",
        "-9.4",
        "9.39999",
        "9.5",
        "100",
        "99.99",
        "-100.01",
        "0.05",
        ".5",
        "5.",
        "-.5",
        "000.050",
        "12345678901234567890",
        "12345678901234567890.1",
    ];

    #[test]
    fn reading_compares_as_the_values_do() {
        for bound in NUMBERS {
            let canonical = Decimal::parse(bound).unwrap();
            let wanted = Bound::new(&canonical.canonical());
            for number in NUMBERS {
                let mut state = Against::start();
                number.bytes().for_each(|byte| state = state.step(&wanted, byte));
                let order = Decimal::parse(number).unwrap().cmp(&canonical);
                assert_eq!(state.end(&wanted), order, "{number} against {bound}");
            }
        }
    }

    #[test]
    fn digits_are_those_of_the_value() {
        for number in NUMBERS {
            let mut state = Digits::default();
            number.bytes().for_each(|byte| state = state.step(byte, 100));
            let value = Decimal::parse(number).unwrap();
            for most in 0..25 {
                // Zero has one digit.
                assert_eq!(
                    state.fit(Some(most.max(1)), None),
                    value.total_digits() <= most.max(1),
                    "{number}"
                );
                assert_eq!(state.fit(None, Some(most)), value.fraction_digits() <= most, "{number}");
            }
        }
    }
}
