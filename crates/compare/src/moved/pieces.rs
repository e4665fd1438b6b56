//! The piece by which two versions of a name differ, and what follows it elsewhere: the `v2` of a namespace in an action, the
//! `2` in a fixed version number.

/// One piece of text in the place of another.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub(crate) struct Piece {
    pub was: String,
    pub is: String,
}

impl Piece {
    /// The pieces by which one text became another: as whole words and numbers, then without the letters that both begin with.
    pub fn between(was: &str, is: &str) -> Vec<Piece> {
        let Some(words) = differing(was, is) else { return Vec::new() };
        let letters =
            |text: &str| text.chars().take_while(|c| c.is_alphabetic()).map(char::len_utf8).sum::<usize>();
        let (a, b) = (letters(&words.was), letters(&words.is));
        let numbers = Piece { was: words.was[a..].to_owned(), is: words.is[b..].to_owned() };
        let both =
            a > 0 && words.was[..a] == words.is[..b] && !numbers.was.is_empty() && !numbers.is.is_empty();
        let mut pieces = vec![words];
        pieces.extend(both.then_some(numbers));
        pieces
    }

    /// A text with this piece put in the place of the other wherever that stands as a whole word; `None` if it stands nowhere.
    pub fn applied(&self, text: &str) -> Option<String> {
        let mut result = String::new();
        let mut done = 0;
        for (at, _) in text.match_indices(&*self.was) {
            let end = at + self.was.len();
            let whole = !text[..at].chars().next_back().is_some_and(is_word)
                && !text[end..].chars().next().is_some_and(is_word);
            // Of what overlaps, the first.
            if whole && at >= done {
                result.push_str(&text[done..at]);
                result.push_str(&self.is);
                done = end;
            }
        }
        if done == 0 {
            return None;
        }
        result.push_str(&text[done..]);
        Some(result)
    }
}

/// Whether a character belongs to a word or number that stands for one thing.
fn is_word(c: char) -> bool {
    c.is_alphanumeric()
}

/// A character of a version or a date: these are one thing too.
fn is_in_piece(c: char) -> bool {
    c.is_alphanumeric() || matches!(c, '.' | '-' | '_')
}

/// What stands in the middle of two texts that begin and end alike, made whole to words.
fn differing(was: &str, is: &str) -> Option<Piece> {
    if was == is {
        return None;
    }
    let mut start = was
        .char_indices()
        .zip(is.chars())
        .find(|((_, a), b)| a != b)
        .map_or(was.len().min(is.len()), |((at, _), _)| at);
    while let Some(c) = was[..start].chars().next_back().filter(|c| is_in_piece(*c)) {
        start -= c.len_utf8();
    }
    let (a, b) = (&was[start..], &is[start..]);
    let mut same_end: usize =
        a.chars().rev().zip(b.chars().rev()).take_while(|(a, b)| a == b).map(|(c, _)| c.len_utf8()).sum();
    while let Some(c) = a[a.len() - same_end..].chars().next().filter(|c| is_in_piece(*c)) {
        same_end -= c.len_utf8();
    }
    let piece = Piece { was: a[..a.len() - same_end].to_owned(), is: b[..b.len() - same_end].to_owned() };
    (!piece.was.is_empty() && !piece.is.is_empty()).then_some(piece)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pieces(was: &str, is: &str) -> Vec<(String, String)> {
        Piece::between(was, is).into_iter().map(|piece| (piece.was, piece.is)).collect()
    }

    #[test]
    fn pieces_are_whole_words_and_numbers() {
        let owned = |all: &[(&str, &str)]| -> Vec<(String, String)> {
            all.iter().map(|(a, b)| ((*a).to_owned(), (*b).to_owned())).collect()
        };
        for (was, is, found) in [
            ("urn:saltmere:berths:1", "urn:saltmere:berths:2", &[("1", "2")] as &[(&str, &str)]),
            (
                "http://saltmere.example/berths/v16",
                "http://saltmere.example/berths/v24",
                &[("v16", "v24"), ("16", "24")],
            ),
            ("http://saltmere.example/API/10.5", "http://saltmere.example/API/11.0", &[("10.5", "11.0")]),
            ("urn:saltmere:2008-01:berths", "urn:saltmere:2009-03:berths", &[("2008-01", "2009-03")]),
            ("urn:saltmere:a", "urn:saltmere:a", &[]),
        ] {
            assert_eq!(pieces(was, is), owned(found), "{was} {is}");
        }
        // Nothing stands in the place of nothing.
        assert_eq!(pieces("urn:saltmere:berths", "urn:saltmere:berths:2"), owned(&[("berths", "berths:2")]));
    }

    #[test]
    fn a_piece_is_put_where_it_stands_as_a_word() {
        let piece = Piece { was: "16".into(), is: "24".into() };
        assert_eq!(piece.applied("16.0.0").as_deref(), Some("24.0.0"));
        assert_eq!(piece.applied("berths 16, not 160 or v16").as_deref(), Some("berths 24, not 160 or v16"));
        assert_eq!(piece.applied("160"), None);
    }
}
