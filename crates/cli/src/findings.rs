//! Findings for people: each with the piece of source that it is about.

use annotate_snippets::renderer::DecorStyle;
use annotate_snippets::{AnnotationKind, Group, Level as Mark, Origin, Renderer, Snippet};
use charter_check::{Finding, Level};
use charter_contract::Contract;

use crate::paint;

/// The longest piece of a line that is shown.
const LONGEST: usize = 160;

/// A finding with its source, place, component path, and the standard behind it.
pub fn text(contract: &Contract, finding: &Finding, width: usize) -> String {
    let file = contract.files.get(finding.place.file);
    let position = file.text().position(finding.place.span.start);
    let location = file.location.to_string();
    let mark = match finding.level {
        Level::Error => Mark::ERROR,
        Level::Warning => Mark::WARNING,
    };
    let origin = Origin::path(location.as_str()).line(position.line).char_column(position.column);
    let mut group = Group::with_title(mark.primary_title(finding.message.as_str()));
    let excerpt = excerpt(file.text().content(), finding.place.span.range());
    group = match &excerpt {
        None => group.element(origin),
        Some(Excerpt { line, span, cut }) => {
            let annotation = AnnotationKind::Primary.span(span.clone());
            let snippet = Snippet::source(line.as_str()).line_start(position.line).annotation(annotation);
            // Where a line is cut, its columns are not those of the file.
            if *cut { group.element(origin).element(snippet) } else { group.element(snippet.path(location.as_str())) }
        }
    };
    let path = finding.path.to_string();
    let rule = format!("{} ({})", finding.rule.name, finding.rule.standard);
    let mut lines = vec![Mark::NOTE.with_name("in").message(path.as_str())];
    if let Some(help) = &finding.help {
        lines.push(Mark::HELP.with_name("do").message(help.as_str()));
    }
    lines.push(Mark::INFO.with_name("rule").message(rule.as_str()));
    let report = [group.elements(lines)];
    let renderer = Renderer::styled().decor_style(DecorStyle::Unicode).term_width(width);
    renderer.render(&report) + "\n\n"
}

/// The line that a span begins in.
struct Excerpt {
    line: String,
    /// The span within the line.
    span: std::ops::Range<usize>,
    /// Whether only a piece of the line is shown.
    cut: bool,
}

fn excerpt(content: &str, span: std::ops::Range<usize>) -> Option<Excerpt> {
    let start = content[..span.start].rfind('\n').map_or(0, |at| at + 1);
    let end = content[span.start..].find('\n').map_or(content.len(), |at| span.start + at);
    let line = content[start..end].trim_end_matches('\r');
    if line.trim().is_empty() {
        return None;
    }
    let within = |offset: usize| offset.clamp(start, start + line.len()) - start;
    let span = within(span.start)..within(span.end);
    if line.len() <= LONGEST {
        return Some(Excerpt { line: line.to_owned(), span, cut: false });
    }
    let from = floor(line, span.start.saturating_sub(LONGEST / 4));
    let to = floor(line, (from + LONGEST).min(line.len()));
    let span = span.start - from..span.end.min(to) - from;
    Some(Excerpt { line: line[from..to].to_owned(), span, cut: true })
}

/// The nearest beginning of a character at or before an offset.
fn floor(text: &str, mut offset: usize) -> usize {
    while !text.is_char_boundary(offset) {
        offset -= 1;
    }
    offset
}

/// How many findings there are, in words.
pub fn count(errors: usize, warnings: usize) -> String {
    let of = |count: usize, word: &str| format!("{count} {word}{}", if count == 1 { "" } else { "s" });
    match (errors, warnings) {
        (0, 0) => paint::good("no findings"),
        (0, _) => paint::warning(&of(warnings, "warning")),
        (_, 0) => paint::error(&of(errors, "error")),
        _ => format!("{}, {}", paint::error(&of(errors, "error")), paint::warning(&of(warnings, "warning"))),
    }
}
