//! Lines, blocks and quotes: how the notation is laid out.

/// How wide a line may be before the fields in its block go to lines of their own.
const WIDTH: usize = 100;

/// A line of the notation, with the block that it opens.
#[derive(Debug, Clone, Default)]
pub(crate) struct Line {
    pub head: String,
    pub block: Option<Block>,
    /// Whether a blank line sets it off from what stands before it.
    pub first: bool,
    /// Whether a blank line sets it off from what follows.
    pub last: bool,
}

/// What stands between braces, and what stands behind the closing one.
#[derive(Debug, Clone, Default)]
pub(crate) struct Block {
    pub entries: Vec<Line>,
    pub tail: String,
    /// Whether it may stand on the line of its head.
    pub inline: bool,
}

impl Line {
    pub fn of(head: impl Into<String>) -> Line {
        Line { head: head.into(), ..Line::default() }
    }

    pub fn block(head: impl Into<String>, entries: Vec<Line>) -> Line {
        let block = Block { entries, tail: String::new(), inline: false };
        Line { head: head.into(), block: Some(block), ..Line::default() }
    }

    #[must_use]
    pub fn tail(mut self, tail: &str) -> Line {
        match &mut self.block {
            Some(block) => block.tail.push_str(tail),
            None => self.head.push_str(tail),
        }
        self
    }

    #[must_use]
    pub fn inline(mut self) -> Line {
        if let Some(block) = &mut self.block {
            block.inline = true;
        }
        self
    }

    #[must_use]
    pub fn apart(mut self) -> Line {
        self.first = true;
        self.last = true;
        self
    }
}

/// The text of entries.
pub(crate) fn text(entries: &[Line]) -> String {
    let mut page = String::new();
    write(entries, 0, &mut page);
    page
}

fn write(entries: &[Line], depth: usize, page: &mut String) {
    for (index, entry) in entries.iter().enumerate() {
        if index > 0 && (entry.first || entries[index - 1].last) {
            page.push('\n');
        }
        indent(depth, page);
        write_lines(&entry.head, depth, page);
        if let Some(block) = &entry.block {
            write_block(&entry.head, block, depth, page);
        }
        page.push('\n');
    }
}

/// Writes words; where they break, the next line stands further in.
fn write_lines(words: &str, depth: usize, page: &mut String) {
    for (index, line) in words.split('\n').enumerate() {
        if index > 0 {
            page.push('\n');
            if !line.is_empty() {
                indent(depth + 1, page);
            }
        }
        page.push_str(line);
    }
}

fn write_block(head: &str, block: &Block, depth: usize, page: &mut String) {
    if !head.is_empty() {
        page.push(' ');
    }
    if block.entries.is_empty() {
        page.push_str("{}");
        write_lines(&block.tail, depth, page);
        return;
    }
    if let Some(line) = on_one_line(head, block, depth) {
        page.push_str(&line);
        return;
    }
    page.push_str("{\n");
    write(&block.entries, depth + 1, page);
    indent(depth, page);
    page.push('}');
    write_lines(&block.tail, depth, page);
}

fn on_one_line(head: &str, block: &Block, depth: usize) -> Option<String> {
    let plain = block.inline
        && !head.contains('\n')
        && !block.tail.contains('\n')
        && block.entries.iter().all(|entry| entry.block.is_none() && !entry.head.contains('\n'));
    if !plain {
        return None;
    }
    let fields: Vec<&str> = block.entries.iter().map(|entry| entry.head.as_str()).collect();
    let line = format!("{{ {} }}{}", fields.join(", "), block.tail);
    (head.chars().count() + 1 + line.chars().count() + 2 * depth <= WIDTH).then_some(line)
}

fn indent(depth: usize, page: &mut String) {
    page.extend(std::iter::repeat_n("  ", depth));
}

/// Text in quotes as the notation has it, every character kept.
pub fn quoted(text: &str) -> String {
    let mut result = String::with_capacity(text.len() + 2);
    result.push('"');
    for c in text.chars() {
        match c {
            '"' => result.push_str("\\\""),
            '\\' => result.push_str("\\\\"),
            '\n' => result.push_str("\\n"),
            '\r' => result.push_str("\\r"),
            '\t' => result.push_str("\\t"),
            other => result.push(other),
        }
    }
    result.push('"');
    result
}

/// A value without quotes where none are needed to tell where it ends.
pub(crate) fn bare(value: &str) -> String {
    let plain = |c: char| c.is_ascii_alphanumeric() || matches!(c, '-' | '+' | '.' | ':');
    let clear = !value.is_empty()
        && value.chars().all(plain)
        && !value.contains("..")
        && !value.starts_with('.')
        && !value.ends_with('.');
    if clear { value.to_owned() } else { quoted(value) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn blocks_stand_on_a_line_while_they_fit() {
        let fields = |name: &str| vec![Line::of(format!("{name}: string")), Line::of("draught: decimal?")];
        let short = Line::block("input", fields("vessel")).inline();
        assert_eq!(text(&[short]), "input { vessel: string, draught: decimal? }\n");
        let long = Line::block("input", fields(&"v".repeat(80))).inline().tail("?");
        assert!(text(&[long]).ends_with("string\n  draught: decimal?\n}?\n"));
    }

    #[test]
    fn gaps_stand_between_entries_alone() {
        let entries = [Line::of("a").apart(), Line::of("b"), Line::block("c", Vec::new()).apart()];
        assert_eq!(text(&entries), "a\n\nb\n\nc {}\n");
    }

    #[test]
    fn values_are_quoted_where_they_could_be_misread() {
        for (value, shown) in [("-4.50", "-4.50"), ("2026-11-03T10:00:00+01:00", "2026-11-03T10:00:00+01:00")]
        {
            assert_eq!(bare(value), shown);
        }
        for value in ["", "5.", ".5", "a b", "1..2", "ü"] {
            assert_eq!(bare(value), quoted(value));
        }
    }
}
