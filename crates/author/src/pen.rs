//! Writes on one file: puts elements in, takes them out, sets attributes, each as a text edit that fits the file.

use std::ops::Range;

use charter_notation::{ElementInfo, Value};
use charter_source::xml::{Escape, escaped};
use charter_source::{File, Map, Node, Place, QName, Span, TextEdit, element_at, elements};

use crate::failure::EditFailure;
use crate::writer::{Layout, Scope, Writer, qualified};

/// Edits of one file, in the order in which they are made.
pub(crate) struct Pen<'f> {
    file: &'f File,
    layout: Layout,
    edits: Vec<TextEdit>,
    /// What is put in at an offset, one thing behind the other.
    insertions: Map<usize, String>,
    /// Elements without content that get some.
    opened: Map<usize, Opened>,
    /// How many children were taken out of each element, by where it begins.
    removed: Map<usize, Vec<(usize, usize)>>,
}

struct Opened {
    content: String,
    place: (usize, usize),
    close: String,
}

/// An element that has lost all that it held: where that stood, and where the element ends.
struct Emptied {
    content: Range<usize>,
    end: usize,
}

impl<'f> Pen<'f> {
    pub fn new(file: &'f File) -> Pen<'f> {
        let layout = layout_of(file);
        Pen {
            file,
            layout,
            edits: Vec::new(),
            insertions: Map::default(),
            opened: Map::default(),
            removed: Map::default(),
        }
    }

    fn text(&self) -> &'f str {
        self.file.text().content()
    }

    fn edit(&mut self, start: usize, end: usize, replacement: String) {
        let place = Place { file: self.file.id, span: Span::new(start, end) };
        self.edits.push(TextEdit { place, replacement });
    }

    /// All edits.
    pub fn finish(mut self) -> Vec<TextEdit> {
        self.collapse();
        let opened = std::mem::take(&mut self.opened);
        for Opened { content, place, close } in opened.into_values() {
            self.edit(place.0, place.1, format!(">{content}{close}"));
        }
        let insertions = std::mem::take(&mut self.insertions);
        let taking = self.edits.iter().enumerate().filter(|(_, edit)| !edit.place.span.is_empty());
        let mut at_start: Map<usize, usize> = Map::default();
        taking.for_each(|(at, edit)| {
            at_start.entry(edit.place.span.start as usize).or_insert(at);
        });
        for (at, text) in insertions {
            // What is put in where something is taken out goes together with that.
            match at_start.get(&at) {
                Some(taken) => self.edits[*taken].replacement.insert_str(0, &text),
                None => self.edit(at, at, text),
            }
        }
        self.edits
    }

    /// The white space before an element on its line; nothing if it does not begin one.
    fn indentation(&self, start: usize) -> Option<&'f str> {
        let before = &self.text()[..start];
        let line = before.trim_end_matches([' ', '\t']);
        (line.is_empty() || line.ends_with('\n')).then(|| &before[line.len()..])
    }

    /// The indentation of an element's line, whether or not the element begins it.
    fn line_indentation(&self, start: usize) -> &'f str {
        let line = self.text()[..start].rfind('\n').map_or(0, |newline| newline + 1);
        let rest = &self.text()[line..];
        &rest[..rest.len() - rest.trim_start_matches([' ', '\t']).len()]
    }

    fn start_tag_end(&self, node: Node<'_>) -> usize {
        let start = node.range().start;
        let mut quote = None;
        for (at, c) in self.text()[start..].char_indices() {
            match (quote, c) {
                (None, '"' | '\'') => quote = Some(c),
                (Some(open), c) if open == c => quote = None,
                (None, '>') => return start + at + 1,
                _ => {}
            }
        }
        node.range().end
    }

    /// The end of what stands on the line of an element behind it, if that is only a comment.
    fn end_with_comment(&self, end: usize) -> usize {
        let rest = &self.text()[end..];
        // All may stand on one line, which is not gone through for each element.
        if !rest.trim_start_matches([' ', '\t']).starts_with("<!--") {
            return end;
        }
        let line = rest.find('\n').map_or(rest, |newline| &rest[..newline]);
        let comment = line.trim_end().ends_with("-->") && line.matches("-->").count() == 1;
        if comment { end + line.trim_end().len() } else { end }
    }

    /// Whether a blank line stands before the line of an element.
    fn blank_before(&self, start: usize) -> Option<usize> {
        let line = start - self.indentation(start)?.len();
        let before = self.text()[..line].strip_suffix('\n')?.trim_end_matches([' ', '\t', '\r']);
        (before.is_empty() || before.ends_with('\n')).then_some(before.len())
    }

    /// Whether a blank line, or the end of the element around it, follows what ends here.
    fn ends_group(&self, end: usize) -> bool {
        let line = |text: &'f str| text.trim_start_matches([' ', '\t', '\r']);
        let Some(next) = line(&self.text()[end..]).strip_prefix('\n').map(line) else { return false };
        next.is_empty() || next.starts_with('\n') || next.starts_with("</")
    }

    /// Whether blank lines set an element off, so that one beside it is set off too.
    fn stands_apart(&self, node: Node<'_>) -> bool {
        let range = node.range();
        self.blank_before(range.start).is_some() && self.ends_group(self.end_with_comment(range.end))
    }

    /// Puts an element into another: behind a child, or before one, or where there are none.
    pub fn insert(
        &mut self,
        parent: Node<'f>,
        at: Position<'f>,
        info: &ElementInfo,
        wished: &dyn Fn(&str) -> Option<String>,
    ) {
        let first = elements(parent).next();
        let model = match at {
            Position::Behind(node) | Position::Before(node) => Some(node),
            Position::First => first,
        };
        let own_indent = self.line_indentation(parent.range().start).to_owned();
        let beside = model.map(|node| self.indentation(node.range().start));
        let on_lines = !matches!(beside, Some(None));
        let indent = match beside {
            Some(Some(indent)) => indent.to_owned(),
            _ => format!("{own_indent}{}", self.layout.unit),
        };
        let tag = self.start_tag_end(parent);
        let text = self.text();
        let is_empty_tag = text[..tag].ends_with("/>");
        // An element without white space in it, in a file on one line, stays so.
        let on_lines = on_lines
            && (model.is_some()
                || is_empty_tag
                || text[tag..].trim_start_matches([' ', '\t', '\r']).starts_with('\n'));
        let on_lines = on_lines && (text.contains('\n') || model.is_none());
        let scope = Scope::of(parent);
        let like = prefix_of(text, parent);
        let writer = Writer { layout: &self.layout, wished, lines: on_lines };
        let words = writer.element(info, &scope, &indent, Some(like));
        let apart = matches!(at, Position::Behind(node) if self.stands_apart(node));
        let line_text = if on_lines {
            let blank = if apart { self.layout.line_end } else { "" };
            format!("{blank}{}{indent}{words}", self.layout.line_end)
        } else {
            words
        };
        if is_empty_tag {
            let place = (tag - 2, tag);
            let start = text[..place.0].trim_end().len();
            let close =
                if on_lines { format!("{}{own_indent}", self.layout.line_end) } else { String::new() };
            let close = format!("{close}</{}>", qualified(like, parent.tag_name().name()));
            let opened = self.opened.entry(tag).or_insert_with(|| Opened {
                content: String::new(),
                place: (start, tag),
                close,
            });
            opened.content.push_str(&line_text);
            return;
        }
        let offset = match at {
            Position::Behind(node) => self.end_with_comment(node.range().end),
            Position::Before(node) if on_lines => {
                // Before the line of the element that follows.
                let start = node.range().start;
                let line = start - self.indentation(start).map_or(0, str::len);
                let before = format!("{}{}", &line_text[self.layout.line_end.len()..], self.layout.line_end);
                self.insertions.entry(line).or_default().push_str(&before);
                return;
            }
            Position::Before(node) => node.range().start,
            Position::First => tag,
        };
        self.insertions.entry(offset).or_default().push_str(&line_text);
    }

    /// Takes an element out, with its line if it has one to itself.
    pub fn remove(&mut self, node: Node<'f>) {
        let range = node.range();
        let text = self.text();
        let mut place = (range.start, range.end);
        if let Some(indent) = self.indentation(range.start) {
            let rest = &text[range.end..];
            let blank = rest.len() - rest.trim_start_matches([' ', '\t', '\r']).len();
            if rest[blank..].starts_with('\n') {
                place = (range.start - indent.len(), range.end + blank + 1);
                if let Some(before) = self.blank_before(range.start).filter(|_| self.ends_group(range.end)) {
                    place.0 = before;
                }
            }
        }
        if let Some(parent) = node.parent_element() {
            self.removed.entry(parent.range().start).or_default().push(place);
        }
        self.edit(place.0, place.1, String::new());
    }

    /// An element that loses all that it held, and gets nothing else, has no content any more.
    fn collapse(&mut self) {
        let removed = std::mem::take(&mut self.removed);
        let mut inserted: Vec<usize> = self.insertions.keys().copied().collect();
        inserted.sort_unstable();
        let mut emptied: Vec<Emptied> = Vec::new();
        for (start, places) in removed {
            let root = self.file.root();
            let Some(node) = root.and_then(|root| element_at(root, start as u32)) else { continue };
            let count = elements(node).count();
            let words = node.children().any(|child| {
                !child.is_element()
                    && (child.is_comment() || child.text().is_some_and(|text| !text.trim().is_empty()))
            });
            let content =
                (self.start_tag_end(node), self.text()[..node.range().end].rfind("</").unwrap_or(0));
            let next = inserted.get(inserted.partition_point(|at| *at < content.0));
            let gets = next.is_some_and(|at| *at <= content.1);
            if count == places.len() && !words && !gets {
                emptied.push(Emptied { content: content.0..content.1.max(content.0), end: node.range().end });
            }
        }
        emptied.sort_by_key(|it| (it.content.start, std::cmp::Reverse(it.content.end)));
        // One within another goes with that.
        let mut reached = 0;
        emptied.retain(|it| {
            let outer = reached <= it.content.start;
            reached = reached.max(it.end);
            outer
        });
        self.edits.retain(|edit| {
            let behind = emptied.partition_point(|it| it.content.start <= edit.place.span.start as usize);
            let around = behind.checked_sub(1).map(|at| &emptied[at].content);
            around.is_none_or(|content| content.end < edit.place.span.end as usize)
        });
        emptied.iter().for_each(|it| self.edit(it.content.start - 1, it.end, "/>".to_owned()));
    }

    /// Sets an attribute of an element.
    pub fn set(
        &mut self,
        node: Node<'f>,
        info: &ElementInfo,
        name: &QName,
        value: &Value,
        wished: &dyn Fn(&str) -> Option<String>,
    ) -> Result<(), EditFailure> {
        let mut scope = Scope::of(node);
        let mut declared = String::new();
        let names: Vec<&QName> = match value {
            Value::Names(names) => names.iter().map(|name| &**name).collect(),
            Value::Text(_) => Vec::new(),
        };
        let writer = Writer { layout: &self.layout, wished, lines: true };
        for name in names {
            if name.namespace.is_empty() && scope.has_default() {
                return Err(EditFailure::Unsupported(format!(
                    "\"{}\" has no namespace, and cannot be named where a default namespace is declared",
                    name.local
                )));
            }
            if let Some((prefix, namespace)) = needed(&scope, name, false, wished) {
                scope.bind(&prefix, &namespace);
                declared.push_str(&format!(" {}={}", qualified("xmlns", &prefix), writer.quoted(&namespace)));
            }
        }
        let words = writer.value(info, name, value, &scope);
        let found = node
            .attributes()
            .find(|it| it.name() == &*name.local && it.namespace().unwrap_or("") == &*name.namespace);
        if let Some(attribute) = found {
            let range = attribute.range_value();
            let quote = self.text()[..range.start].chars().next_back().filter(|c| matches!(c, '"' | '\''));
            let words = escaped(&words, Escape::Value(quote.unwrap_or('"')));
            self.edit(range.start, range.end, words);
            if !declared.is_empty() {
                self.insertions.entry(attribute.range().end).or_default().push_str(&declared);
            }
            return Ok(());
        }
        if let Some((prefix, namespace)) = needed(&scope, name, true, wished) {
            declared.push_str(&format!(" {}={}", qualified("xmlns", &prefix), writer.quoted(&namespace)));
            scope.bind(&prefix, &namespace);
        }
        let own = qualified(scope.prefix(&name.namespace, false, None).unwrap_or(""), &name.local);
        let words = format!("{}{own}={}{declared}", self.separator(node), writer.quoted(&words));
        let at = self.attributes_end(node);
        self.insertions.entry(at).or_default().push_str(&words);
        Ok(())
    }

    /// What stands before an attribute: a space, or a line of its own where the others have that.
    fn separator(&self, node: Node<'_>) -> String {
        let last = node.attributes().next_back().map(|attribute| attribute.range().start);
        match last {
            Some(start) if node.attributes().len() > 1 => match self.indentation(start) {
                Some(indent) => format!("{}{indent}", self.layout.line_end),
                None => " ".to_owned(),
            },
            _ => " ".to_owned(),
        }
    }

    /// Behind the last attribute, or behind the name of the element.
    fn attributes_end(&self, node: Node<'_>) -> usize {
        let name = node.range().start + 1;
        let name_end =
            name + self.text()[name..].find(|c: char| c.is_whitespace() || c == '/' || c == '>').unwrap_or(0);
        node.attributes().map(|attribute| attribute.range().end).max().unwrap_or(name_end)
    }

    /// Takes an attribute away, with the white space before it.
    pub fn unset(&mut self, node: Node<'f>, name: &QName) {
        let found = node
            .attributes()
            .find(|it| it.name() == &*name.local && it.namespace().unwrap_or("") == &*name.namespace);
        if let Some(attribute) = found {
            let range = attribute.range();
            let start = self.text()[..range.start].trim_end().len();
            self.edit(start, range.end, String::new());
        }
    }

    /// Writes an element anew.
    pub fn replace(&mut self, node: Node<'f>, info: &ElementInfo, wished: &dyn Fn(&str) -> Option<String>) {
        let range = node.range();
        let lines = self.indentation(range.start).is_some();
        let indent = self.line_indentation(range.start).to_owned();
        let scope = node.parent_element().map_or_else(Scope::default, Scope::of);
        let like = prefix_of(self.text(), node);
        let words = Writer { layout: &self.layout, wished, lines }.element(info, &scope, &indent, Some(like));
        self.edit(range.start, range.end, words);
    }
}

/// Where an element goes.
#[derive(Debug, Clone, Copy)]
pub(crate) enum Position<'f> {
    Behind(Node<'f>),
    Before(Node<'f>),
    First,
}

/// The prefix that the name of an element carries.
fn prefix_of<'t>(text: &'t str, node: Node<'_>) -> &'t str {
    let start = node.range().start + 1;
    let rest = &text[start..];
    let end = rest.find(|c: char| c.is_whitespace() || c == '/' || c == '>').unwrap_or(0);
    rest[..end].split_once(':').map_or("", |(prefix, _)| prefix)
}

/// The declaration that a name needs and the scope lacks.
fn needed(
    scope: &Scope,
    name: &QName,
    attribute: bool,
    wished: &dyn Fn(&str) -> Option<String>,
) -> Option<(String, String)> {
    let namespace = &*name.namespace;
    if namespace.is_empty() || scope.prefix(namespace, !attribute, None).is_some() {
        return None;
    }
    Some((scope.free(namespace, wished(namespace).as_deref()), namespace.to_owned()))
}

/// How a file is laid out: the indentation of one level, its line ends, its quotes.
pub(crate) fn layout_of(file: &File) -> Layout {
    let text = file.text().content();
    let mut unit = None;
    if let Some(root) = file.root() {
        let indent = |node: Node<'_>| {
            let start = node.range().start;
            let line = text[..start].rfind('\n').map_or(0, |newline| newline + 1);
            let before = &text[line..start];
            before.chars().all(|c| c == ' ' || c == '\t').then(|| before.to_owned())
        };
        // The first element that is further in than the one around it shows how far a level is.
        for node in root.descendants().filter(|node| node.is_element()).take(200) {
            let Some(outer) = node.parent_element().and_then(indent) else { continue };
            if let Some(own) = indent(node)
                && let Some(more) = own.strip_prefix(outer.as_str())
                && !more.is_empty()
            {
                unit = Some(more.to_owned());
                break;
            }
        }
    }
    let quote = file.root().and_then(|root| root.attributes().next()).and_then(|attribute| {
        text[..attribute.range_value().start].chars().next_back().filter(|c| matches!(c, '"' | '\''))
    });
    Layout {
        unit: unit.unwrap_or_else(|| "  ".to_owned()),
        line_end: file.text().line_end(),
        quote: quote.unwrap_or('"'),
    }
}
