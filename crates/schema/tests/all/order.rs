//! The order of values, against arithmetic that is known to be right.

use std::cmp::Ordering;

use charter_schema::{Builtin, compare_values};
use proptest::prelude::*;

/// A whole number of hundredths, written as a decimal with idle zeros.
fn written(hundredths: i64, zeros: usize) -> String {
    let sign = if hundredths < 0 { "-" } else { "" };
    let number = hundredths.unsigned_abs();
    format!("{sign}{}{}.{:02}{}", "0".repeat(zeros), number / 100, number % 100, "0".repeat(zeros))
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::default() })]

    #[test]
    fn decimals_order_as_their_numbers_do(a in any::<i64>(), b in any::<i64>(), zeros in 0..4usize) {
        let compared = compare_values(Builtin::Decimal, &written(a, zeros), &written(b, 0));
        prop_assert_eq!(compared, Some(a.cmp(&b)));
    }

    #[test]
    fn near_decimals_too(a in -300..300i64, b in -300..300i64, zeros in 0..3usize) {
        let compared = compare_values(Builtin::Decimal, &written(a, 0), &written(b, zeros));
        prop_assert_eq!(compared, Some(a.cmp(&b)));
    }

    #[test]
    fn the_order_is_the_same_from_both_ends(a in "[-+]?[0-9]{0,9}(\\.[0-9]{0,9})?", b in "[-+]?[0-9]{0,9}(\\.[0-9]{0,9})?") {
        let there = compare_values(Builtin::Decimal, &a, &b);
        let back = compare_values(Builtin::Decimal, &b, &a);
        prop_assert_eq!(there, back.map(Ordering::reverse));
        // A value that is one is equal to itself.
        let own = compare_values(Builtin::Decimal, &a, &a);
        prop_assert!(own.is_none() || own == Some(Ordering::Equal));
    }

    #[test]
    fn dates_order_by_day(a in 1..28u32, b in 1..28u32, month in 1..12u32) {
        let date = |day: u32| format!("2026-{month:02}-{day:02}");
        prop_assert_eq!(compare_values(Builtin::Date, &date(a), &date(b)), Some(a.cmp(&b)));
    }

    #[test]
    fn no_text_is_too_strange_to_compare(a in any::<String>(), b in any::<String>()) {
        for builtin in Builtin::all() {
            compare_values(builtin, &a, &b);
        }
    }
}
