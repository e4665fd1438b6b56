//! What two lists share at their ends, so that what differs stands between.

/// How much two lists share at their beginnings, and at their ends; no more than the shorter one has.
pub fn ends<T: PartialEq>(a: &[T], b: &[T]) -> (usize, usize) {
    let begin = a.iter().zip(b).take_while(|(a, b)| a == b).count();
    let most = a.len().min(b.len()) - begin;
    let end = a.iter().rev().zip(b.iter().rev()).take(most).take_while(|(a, b)| a == b).count();
    (begin, end)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_is_counted_twice() {
        for (a, b, shared) in [
            ("abc", "axc", (1, 1)),
            ("abc", "abc", (3, 0)),
            ("aa", "aaa", (2, 0)),
            ("", "ab", (0, 0)),
            ("ab", "cd", (0, 0)),
        ] {
            assert_eq!(ends(a.as_bytes(), b.as_bytes()), shared, "{a} {b}");
        }
    }
}
