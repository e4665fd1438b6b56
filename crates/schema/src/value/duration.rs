//! Durations (Part 2, 3.2.6).

use std::cmp::Ordering;

/// The digits of a field that are told apart.
const FIELD_DIGITS: usize = 15;

/// A duration: months and seconds, which have no common measure.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Duration {
    months: i128,
    seconds: i128,
    /// The digits of the fraction of a second, without trailing zeros.
    fraction: Box<str>,
    negative: bool,
}

impl Duration {
    /// Reads `PnYnMnDTnHnMnS`: at least one field, each at most once, in this order.
    pub fn parse(text: &str) -> Option<Duration> {
        let (negative, text) = text.strip_prefix('-').map_or((false, text), |rest| (true, rest));
        let mut rest = text.strip_prefix('P')?;
        let mut found = Duration { months: 0, seconds: 0, fraction: "".into(), negative };
        // The designators that may still come, before and after the T.
        let mut left: &[(char, i128)] = &[('Y', 12), ('M', 1), ('D', 86_400)];
        let mut in_time = false;
        let mut any = false;
        while !rest.is_empty() {
            if let Some(after) = rest.strip_prefix('T').filter(|_| !in_time) {
                in_time = true;
                left = &[('H', 3600), ('M', 60), ('S', 1)];
                any = false;
                rest = after;
                continue;
            }
            let digits = rest.bytes().take_while(u8::is_ascii_digit).count();
            let (number, after) = rest.split_at(digits);
            let mut after = after;
            let mut fraction = None;
            if let Some(behind) = after.strip_prefix('.') {
                let digits = behind.bytes().take_while(u8::is_ascii_digit).count();
                fraction = Some(&behind[..digits]);
                after = &behind[digits..];
            }
            let designator = after.chars().next()?;
            let at = left.iter().position(|(letter, _)| *letter == designator)?;
            if number.is_empty() || (fraction.is_some() && designator != 'S') || fraction == Some("") {
                return None;
            }
            let value: i128 = number
                .trim_start_matches('0')
                .chars()
                .take(FIELD_DIGITS)
                .collect::<String>()
                .parse()
                .unwrap_or(0);
            match (in_time, designator) {
                (false, 'Y' | 'M') => found.months += value * left[at].1,
                _ => found.seconds += value * left[at].1,
            }
            found.fraction = fraction.unwrap_or("").trim_end_matches('0').into();
            left = &left[at + 1..];
            any = true;
            rest = &after[designator.len_utf8()..];
        }
        // Neither a bare P nor a T with nothing after it.
        if !any {
            return None;
        }
        let zero = found.months == 0 && found.seconds == 0 && found.fraction.is_empty();
        found.negative = negative && !zero;
        Some(found)
    }

    /// Seconds after a month has begun, when the duration is added to it: whole seconds, and its fraction.
    fn after(&self, start_days: impl Fn(i128) -> i128) -> (i128, i128) {
        let sign = if self.negative { -1 } else { 1 };
        let fraction: String = self.fraction.chars().chain(std::iter::repeat('0')).take(30).collect();
        let fraction: i128 = fraction.parse().unwrap_or(0);
        (start_days(sign * self.months) * 86_400 + sign * self.seconds, sign * fraction)
    }
}

/// The four months that any two durations are measured from (Part 2, 3.2.6.2), as months since March of the
/// year 0: September 1696, February 1697, March 1903 and July 1903.
const STARTS: [i128; 4] = [1696 * 12 + 6, 1696 * 12 + 11, 1903 * 12, 1903 * 12 + 4];

/// Days from March of the year 0 to the first of a month.
fn first_of(month: i128) -> i128 {
    let (year, month) = (month.div_euclid(12), month.rem_euclid(12));
    year * 365 + year.div_euclid(4) - year.div_euclid(100) + year.div_euclid(400) + (month * 153 + 2) / 5
}

impl PartialOrd for Duration {
    /// Part 2, 3.2.6.2: one is less than the other if it ends earlier from each of four starts.
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        let from = |start: i128| {
            let end = |months: i128| first_of(start + months);
            let ((a, a_part), (b, b_part)) = (self.after(end), other.after(end));
            // Whole seconds and fraction may have different signs against each other.
            let scale = 10i128.pow(30);
            match a - b {
                difference if difference.abs() > 1 => difference.cmp(&0),
                difference => (difference * scale + a_part - b_part).cmp(&0),
            }
        };
        let first = from(STARTS[0]);
        STARTS[1..].iter().all(|start| from(*start) == first).then_some(first)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn lexical_forms() {
        for right in ["P1Y2M3DT4H5M6.7S", "-P1M", "PT0S", "P0Y", "PT36H", "P1YT1M", "PT1.5S"] {
            assert!(Duration::parse(right).is_some(), "{right}");
        }
        for wrong in [
            "P", "PT", "P1YT", "1Y", "P1S", "P-1Y", "PT1.S", "PT.5S", "P1.5Y", "P1M1Y", "P1Y1Y", "PTT1S",
            "P1", "+P1Y", "P 1Y",
        ] {
            assert!(Duration::parse(wrong).is_none(), "{wrong}");
        }
    }

    #[test]
    fn the_order_is_partial() {
        let compare = |a, b| Duration::parse(a).unwrap().partial_cmp(&Duration::parse(b).unwrap());
        assert_eq!(compare("P1Y", "P12M"), Some(Ordering::Equal));
        assert_eq!(compare("P1D", "PT24H"), Some(Ordering::Equal));
        assert_eq!(compare("P1M", "P30D"), None);
        assert_eq!(compare("P1M", "P27D"), Some(Ordering::Greater));
        assert_eq!(compare("P1M", "P32D"), Some(Ordering::Less));
        assert_eq!(compare("P1Y", "P366D"), None);
        assert_eq!(compare("P1Y", "P364D"), Some(Ordering::Greater));
        assert_eq!(compare("-P1D", "PT0.001S"), Some(Ordering::Less));
        assert_eq!(compare("-PT0.5S", "-PT0.25S"), Some(Ordering::Less));
        assert_eq!(compare("PT1S", "PT0.999S"), Some(Ordering::Greater));
        assert_eq!(Duration::parse("-PT0S"), Duration::parse("P0Y"));
    }
}
