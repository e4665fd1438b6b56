//! Text edits: a list of replacements that leaves every other byte alone.

use crate::{Place, Span};

/// One replacement in one file.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub struct TextEdit {
    /// What is replaced; an empty span inserts.
    pub place: Place,
    /// What comes instead.
    pub replacement: String,
}

/// Why edits could not be applied.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum EditError {
    /// Two edits want to change the same bytes.
    #[error("two changes want to alter the same text (bytes {} to {})", .0.start, .0.end)]
    Overlap(Span),
    /// An edit names bytes that are not in the text, or cuts a character in two.
    #[error("a change falls outside the text (bytes {} to {})", .0.start, .0.end)]
    Outside(Span),
}

/// The text after all edits that name its file. Edits may come in any order; the same edit given twice counts
/// once.
///
/// ```
/// use charter_source::{FileId, Place, Span, TextEdit, apply};
///
/// let place = Place { file: FileId(0), span: Span::new(3, 8) };
/// let edit = TextEdit { place, replacement: "Pilot".into() };
/// assert_eq!(apply("<a>Pylot</a>", &[edit]).unwrap(), "<a>Pilot</a>");
/// ```
///
/// # Errors
/// If two edits overlap or one lies outside the text.
pub fn apply(text: &str, edits: &[TextEdit]) -> Result<String, EditError> {
    let mut ordered: Vec<&TextEdit> = edits.iter().collect();
    ordered.sort_by_key(|edit| edit.place.span);
    ordered.dedup();
    let added: usize = ordered.iter().map(|edit| edit.replacement.len()).sum();
    let mut result = String::with_capacity(text.len() + added);
    let mut done = 0;
    for edit in ordered {
        let span = edit.place.span;
        if (span.start as usize) < done {
            return Err(EditError::Overlap(span));
        }
        let before = text.get(done..span.start as usize).ok_or(EditError::Outside(span))?;
        text.get(span.range()).ok_or(EditError::Outside(span))?;
        result.push_str(before);
        result.push_str(&edit.replacement);
        done = span.end as usize;
    }
    result.push_str(&text[done..]);
    Ok(result)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::FileId;

    fn edit(start: usize, end: usize, replacement: &str) -> TextEdit {
        let place = Place { file: FileId(0), span: Span::new(start, end) };
        TextEdit { place, replacement: replacement.into() }
    }

    #[test]
    fn edits_apply_in_text_order_whatever_order_they_come_in() {
        let edits = [edit(4, 5, "E"), edit(0, 1, "AA"), edit(2, 2, "-"), edit(4, 5, "E")];
        assert_eq!(apply("abcdef", &edits).unwrap(), "AAb-cdEf");
    }

    #[test]
    fn doubtful_edits_are_refused() {
        assert!(matches!(apply("abc", &[edit(0, 2, ""), edit(1, 3, "")]), Err(EditError::Overlap(_))));
        assert!(matches!(apply("abc", &[edit(2, 9, "")]), Err(EditError::Outside(_))));
        assert!(matches!(apply("ü", &[edit(1, 2, "")]), Err(EditError::Outside(_))));
    }
}
