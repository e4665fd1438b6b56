//! How two versions of a line are shown: whole if they are short, else around what differs.

use crate::alike;

/// Characters of a line that is shown whole, and of one that is cut.
const SHORT: usize = 100;
const LONGEST: usize = 200;
/// Characters that are shown before the first one that differs, and behind the last.
const AROUND: usize = 40;

/// An old and a new line, as they are shown.
pub fn shown(old: Option<&str>, new: Option<&str>) -> (Option<String>, Option<String>) {
    let (before, after) = match (old, new) {
        (Some(old), Some(new)) => {
            let characters = |line: &str| line.chars().collect::<Vec<char>>();
            alike::ends(&characters(old), &characters(new))
        }
        _ => (0, 0),
    };
    let cut = |line: &str| {
        let length = line.chars().count();
        if length <= SHORT {
            return line.to_owned();
        }
        let from = before.saturating_sub(AROUND);
        let to = (length - after + AROUND).clamp(from, length).min(from + LONGEST);
        let middle: String = line.chars().skip(from).take(to - from).collect();
        format!("{}{middle}{}", if from > 0 { "…" } else { "" }, if to < length { "…" } else { "" })
    };
    (old.map(cut), new.map(cut))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn short_lines_are_whole() {
        assert_eq!(shown(Some("draught: int"), None), (Some("draught: int".into()), None));
        let (old, new) = shown(Some("a"), Some("b"));
        assert_eq!((old.as_deref(), new.as_deref()), (Some("a"), Some("b")));
    }

    #[test]
    fn long_ones_are_shown_where_they_differ() {
        let values: Vec<String> = (0..70).map(|n| format!("\"berth {n}\"")).collect();
        let listed = |all: &[String]| format!("type Berth = string one-of {}", all.join(", "));
        let without: Vec<String> = values.iter().filter(|it| *it != "\"berth 40\"").cloned().collect();
        let (old, new) = shown(Some(&listed(&values)), Some(&listed(&without)));
        let (old, new) = (old.unwrap(), new.unwrap());
        assert!(old.contains("\"berth 39\", \"berth 40\", \"berth 41\""), "{old}");
        assert!(new.contains("\"berth 39\", \"berth 41\"") && !new.contains("berth 40"), "{new}");
        for line in [&old, &new] {
            assert!(line.starts_with('…') && line.ends_with('…') && line.chars().count() < 120, "{line}");
        }
    }

    #[test]
    fn what_differs_from_end_to_end_is_cut() {
        let (old, new) = shown(Some(&"ü".repeat(1000)), Some(&"a".repeat(150)));
        let (old, new) = (old.unwrap(), new.unwrap());
        assert_eq!((old.chars().count(), new.chars().count()), (LONGEST + 1, 150));
        assert!(old.ends_with('…') && !new.ends_with('…'));
        // Of a line alone, the beginning.
        let (alone, _) = shown(Some(&"b".repeat(1000)), None);
        assert_eq!(alone.unwrap().chars().count(), LONGEST + 1);
    }
}
