//! Lines and indentation.

/// A text that grows by lines.
#[derive(Default)]
pub(crate) struct Page {
    text: String,
    depth: usize,
    /// Whether a blank line is due before the next line.
    gap: bool,
}

impl Page {
    pub fn line(&mut self, line: &str) {
        if self.gap && !self.text.is_empty() && !self.text.ends_with("{\n") {
            self.text.push('\n');
        }
        self.gap = false;
        if !line.is_empty() {
            self.text.extend(std::iter::repeat_n("  ", self.depth));
            self.text.push_str(line);
        }
        self.text.push('\n');
    }

    /// A line that begins a block.
    pub fn open(&mut self, head: &str) {
        let line = if head.is_empty() { "{".to_owned() } else { format!("{head} {{") };
        self.line(&line);
        self.depth += 1;
    }

    /// The end of a block, and what stands behind its brace.
    pub fn close(&mut self, tail: &str) {
        self.depth -= 1;
        self.gap = false;
        if self.text.ends_with("{\n") {
            self.text.pop();
            self.text.push_str(&format!("}}{tail}\n"));
            return;
        }
        self.line(&format!("}}{tail}"));
    }

    /// A blank line before whatever comes next.
    pub fn gap(&mut self) {
        self.gap = true;
    }

    pub fn text(self) -> String {
        self.text
    }
}

/// Text in quotes; white space is folded, as it is in the documentation that it mostly comes from.
pub(crate) fn quoted(text: &str) -> String {
    let folded = text.split_ascii_whitespace().collect::<Vec<_>>().join(" ");
    exactly(&folded)
}

/// Text in quotes, every character kept.
pub(crate) fn exactly(text: &str) -> String {
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
