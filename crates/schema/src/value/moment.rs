//! Dates and times (Part 2, 3.2.7 to 3.2.14): points on one time line, or recurring ones, with or without a
//! time zone.

use std::cmp::Ordering;

use crate::Builtin;

/// Years of more digits than this are not told apart; Part 2, 5.4 asks for four.
const YEAR_DIGITS: usize = 18;
/// The largest time zone offset, in seconds.
const FOURTEEN_HOURS: i128 = 14 * 3600;

/// A date or time, as seconds on a time line. Those with a time zone are counted in UTC, those without as if they
/// were; the two kinds compare only if they lie more than fourteen hours apart.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct Moment {
    zoned: bool,
    seconds: i128,
    /// The digits of the fraction of a second, without trailing zeros.
    fraction: Box<str>,
}

impl PartialOrd for Moment {
    /// Part 2, 3.2.7.4: where a time zone is missing, both ends of what it could be must agree.
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        let plain = |shift: i128| {
            (self.seconds + shift).cmp(&other.seconds).then_with(|| self.fraction.cmp(&other.fraction))
        };
        if self.zoned == other.zoned {
            return Some(plain(0));
        }
        let (early, late) = (plain(-FOURTEEN_HOURS), plain(FOURTEEN_HOURS));
        (early == late && early != Ordering::Equal).then_some(early)
    }
}

/// The fields of a date or time as they are written; what a type does not have is filled from a day in a leap year.
struct Fields {
    year: i64,
    month: u32,
    day: u32,
    seconds: i64,
}

/// Reads one lexical form from left to right.
struct MomentParser<'t> {
    rest: &'t [u8],
}

impl<'t> MomentParser<'t> {
    fn take(&mut self, byte: u8) -> Option<()> {
        let (first, rest) = self.rest.split_first()?;
        (*first == byte).then(|| self.rest = rest)
    }

    fn digits(&mut self) -> &'t [u8] {
        let count = self.rest.iter().take_while(|byte| byte.is_ascii_digit()).count();
        let (digits, rest) = self.rest.split_at(count);
        self.rest = rest;
        digits
    }

    /// Two digits from `least` to `most`.
    fn two(&mut self, least: u32, most: u32) -> Option<u32> {
        let [a, b, rest @ ..] = self.rest else { return None };
        if !a.is_ascii_digit() || !b.is_ascii_digit() {
            return None;
        }
        self.rest = rest;
        let value = u32::from(a - b'0') * 10 + u32::from(b - b'0');
        (least..=most).contains(&value).then_some(value)
    }

    /// A year: at least four digits, more only without leading zeros, and none is 0000.
    fn year(&mut self) -> Option<i64> {
        let negative = self.take(b'-').is_some();
        let digits = self.digits();
        if digits.len() < 4 || (digits.len() > 4 && digits[0] == b'0') {
            return None;
        }
        let kept = &digits[..digits.len().min(YEAR_DIGITS)];
        let year = kept.iter().fold(0i64, |year, digit| year * 10 + i64::from(digit - b'0'));
        (year != 0).then_some(if negative { -year } else { year })
    }

    /// `hh:mm:ss` with an optional fraction, in seconds and fraction digits.
    fn time(&mut self) -> Option<(i64, &'t str)> {
        let hours = self.two(0, 24)?;
        self.take(b':')?;
        let minutes = self.two(0, 59)?;
        self.take(b':')?;
        let seconds = self.two(0, 59)?;
        let mut fraction = "";
        if self.take(b'.').is_some() {
            let digits = self.digits();
            if digits.is_empty() {
                return None;
            }
            fraction = std::str::from_utf8(digits).ok()?.trim_end_matches('0');
        }
        // Midnight may be written as the end of the day before.
        if hours == 24 && (minutes > 0 || seconds > 0 || !fraction.is_empty()) {
            return None;
        }
        Some((i64::from(hours * 3600 + minutes * 60 + seconds), fraction))
    }

    /// The offset of the time zone in seconds, if there is one. The outer option is whether it is well written.
    #[allow(clippy::option_option, reason = "the inner one is a value: no time zone")]
    fn zone(&mut self) -> Option<Option<i64>> {
        let Some((first, rest)) = self.rest.split_first() else { return Some(None) };
        self.rest = rest;
        let sign = match first {
            b'Z' => return Some(Some(0)),
            b'+' => 1,
            b'-' => -1,
            _ => return None,
        };
        let hours = self.two(0, 14)?;
        self.take(b':')?;
        let minutes = self.two(0, if hours == 14 { 0 } else { 59 })?;
        Some(Some(sign * i64::from(hours * 3600 + minutes * 60)))
    }
}

fn is_leap(year: i64) -> bool {
    year % 4 == 0 && (year % 100 != 0 || year % 400 == 0)
}

fn days_in(year: i64, month: u32) -> u32 {
    match month {
        4 | 6 | 9 | 11 => 30,
        2 if is_leap(year) => 29,
        2 => 28,
        _ => 31,
    }
}

/// Days since 1 March of the year 0 in the Gregorian calendar, carried on in both directions.
fn day_number(year: i64, month: u32, day: u32) -> i128 {
    let year = i128::from(if month <= 2 { year - 1 } else { year });
    let month = i128::from((month + 9) % 12);
    year * 365 + year.div_euclid(4) - year.div_euclid(100)
        + year.div_euclid(400)
        + (month * 153 + 2) / 5
        + i128::from(day)
        - 1
}

impl Moment {
    /// Reads a value of one of the eight primitive types of dates and times.
    pub fn parse(ty: Builtin, text: &str) -> Option<Moment> {
        let mut reader = MomentParser { rest: text.as_bytes() };
        let mut fields = Fields { year: 2000, month: 1, day: 1, seconds: 0 };
        let mut fraction = "";
        match ty {
            Builtin::DateTime => {
                date(&mut reader, &mut fields)?;
                reader.take(b'T')?;
                (fields.seconds, fraction) = reader.time()?;
            }
            Builtin::Date => date(&mut reader, &mut fields)?,
            Builtin::Time => (fields.seconds, fraction) = reader.time()?,
            Builtin::GYearMonth => {
                fields.year = reader.year()?;
                reader.take(b'-')?;
                fields.month = reader.two(1, 12)?;
            }
            Builtin::GYear => fields.year = reader.year()?,
            Builtin::GMonthDay => {
                reader.take(b'-')?;
                reader.take(b'-')?;
                fields.month = reader.two(1, 12)?;
                reader.take(b'-')?;
                fields.day = reader.two(1, days_in(2000, fields.month))?;
            }
            Builtin::GDay => {
                (0..3).try_for_each(|_| reader.take(b'-'))?;
                fields.day = reader.two(1, 31)?;
            }
            Builtin::GMonth => {
                (0..2).try_for_each(|_| reader.take(b'-'))?;
                fields.month = reader.two(1, 12)?;
            }
            _ => return None,
        }
        let zone = reader.zone()?;
        if !reader.rest.is_empty() {
            return None;
        }
        let days = day_number(fields.year, fields.month, fields.day);
        let mut seconds = days * 86_400 + i128::from(fields.seconds) - i128::from(zone.unwrap_or(0));
        // The end of a day that recurs is its beginning.
        if ty == Builtin::Time && fields.seconds == 86_400 {
            seconds -= 86_400;
        }
        Some(Moment { zoned: zone.is_some(), seconds, fraction: fraction.into() })
    }
}

fn date(reader: &mut MomentParser<'_>, fields: &mut Fields) -> Option<()> {
    fields.year = reader.year()?;
    reader.take(b'-')?;
    fields.month = reader.two(1, 12)?;
    reader.take(b'-')?;
    fields.day = reader.two(1, days_in(fields.year, fields.month))?;
    Some(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use Builtin::*;

    fn compare(ty: Builtin, a: &str, b: &str) -> Option<Ordering> {
        Moment::parse(ty, a).unwrap().partial_cmp(&Moment::parse(ty, b).unwrap())
    }

    #[test]
    fn lexical_forms() {
        for (ty, right) in [
            (DateTime, "2026-03-14T24:00:00Z"),
            (DateTime, "-0044-03-15T12:00:00.000-14:00"),
            (DateTime, "12026-03-14T00:00:00"),
            (Date, "2024-02-29+05:30"),
            (Time, "23:59:59.999"),
            (GYear, "-0001"),
            (GYearMonth, "2026-03Z"),
            (GMonthDay, "--02-29"),
            (GDay, "---31"),
            (GMonth, "--12-01:00"),
        ] {
            assert!(Moment::parse(ty, right).is_some(), "{right}");
        }
        for (ty, wrong) in [
            (DateTime, "2026-03-14"),
            (DateTime, "2026-03-14T24:00:01"),
            (DateTime, "2026-03-14T12:00:60"),
            (DateTime, "2026-03-14T12:00:00."),
            (DateTime, "2026-03-14T12:00:00+14:01"),
            (Date, "2026-02-29"),
            (Date, "0000-01-01"),
            (Date, "02026-01-01"),
            (Date, "226-01-01"),
            (Date, "+2026-01-01"),
            (GMonthDay, "--02-30"),
            (GMonth, "--13"),
            (GDay, "---00"),
            (Time, "1:00:00"),
            (Time, "25:00:00"),
        ] {
            assert!(Moment::parse(ty, wrong).is_none(), "{wrong}");
        }
    }

    #[test]
    fn time_zones_make_the_order_partial() {
        assert_eq!(
            compare(DateTime, "2026-03-14T12:00:00Z", "2026-03-14T13:00:00+01:00"),
            Some(Ordering::Equal)
        );
        assert_eq!(compare(DateTime, "2026-03-14T12:00:00Z", "2026-03-14T12:00:00"), None);
        assert_eq!(compare(DateTime, "2026-03-14T12:00:00Z", "2026-03-15T12:00:00"), Some(Ordering::Less));
        assert_eq!(compare(DateTime, "2026-03-14T24:00:00", "2026-03-15T00:00:00.0"), Some(Ordering::Equal));
        assert_eq!(compare(Date, "-0002-01-01", "-0001-01-01"), Some(Ordering::Less));
        assert_eq!(compare(GYear, "20260", "9999"), Some(Ordering::Greater));
        assert_eq!(compare(Time, "10:00:00.5", "10:00:00.25"), Some(Ordering::Greater));
        assert_eq!(compare(Time, "24:00:00", "00:00:00"), Some(Ordering::Equal));
    }

    #[test]
    fn days_follow_each_other_over_the_ends_of_months_and_years() {
        let mut last = day_number(1899, 12, 31);
        for year in 1900..2101 {
            for month in 1..=12 {
                for day in 1..=days_in(year, month) {
                    let next = day_number(year, month, day);
                    assert_eq!(next, last + 1, "{year}-{month}-{day}");
                    last = next;
                }
            }
        }
    }
}
