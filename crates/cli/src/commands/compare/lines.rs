//! How two versions of a line are shown: whole if they are short, else around what differs.

/// Characters of a line that is shown whole.
const LONGEST: usize = 240;
/// Characters that are shown before the first one that differs.
const BEFORE: usize = 60;

/// An old and a new line, as they are shown.
pub fn shown(old: Option<&str>, new: Option<&str>) -> (Option<String>, Option<String>) {
    let same = match (old, new) {
        (Some(old), Some(new)) => old.chars().zip(new.chars()).take_while(|(a, b)| a == b).count(),
        _ => 0,
    };
    let cut = |line: &str| {
        let length = line.chars().count();
        if length <= LONGEST {
            return line.to_owned();
        }
        let from = same.saturating_sub(BEFORE).min(length - LONGEST);
        let middle: String = line.chars().skip(from).take(LONGEST).collect();
        let (before, after) =
            (if from > 0 { "…" } else { "" }, if from + LONGEST < length { "…" } else { "" });
        format!("{before}{middle}{after}")
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
        let line = |at: usize| format!("{}ü{}", "a".repeat(at), "b".repeat(1000 - at));
        let (old, new) = shown(Some(&line(500)), Some(&line(900)));
        let (old, new) = (old.unwrap(), new.unwrap());
        assert!(old.starts_with("…aaa") && old.contains("aüb") && old.ends_with("b…"), "{old}");
        assert!(new.starts_with("…aaa") && !new.contains('ü') && new.chars().count() == LONGEST + 2, "{new}");
        // What one has at its end is shown to its end.
        let (old, _) = shown(Some(&line(990)), Some(&line(991)));
        assert!(old.unwrap().ends_with("aübbbbbbbbbb"));
        let (alone, _) = shown(Some(&line(5)), None);
        assert!(alone.unwrap().starts_with("aaaaaüb"));
    }
}
