//! The way in which a house lays out its contracts, to write a new one likewise.

use charter_source::{File, elements, ns};

use crate::pen::layout_of;
use crate::writer::Layout;

/// How a file as a whole is laid out.
#[derive(Debug, Clone)]
pub(crate) struct Style {
    pub layout: Layout,
    /// Whether each attribute of the root has a line of its own.
    pub root_lines: bool,
    /// Whether blank lines set components off from each other.
    pub apart: bool,
    /// The namespace of names without a prefix.
    pub default: Option<String>,
}

impl Style {
    /// Our own.
    pub fn own() -> Style {
        let layout = Layout { unit: "  ".to_owned(), line_end: "\n", quote: '"' };
        Style { layout, root_lines: true, apart: true, default: None }
    }

    /// That of a file.
    pub fn of(file: &File) -> Style {
        let text = file.text().content();
        let Some(root) = file.root() else { return Style::own() };
        let first = root.first_element_child().map_or(root.range().end, |child| child.range().start);
        let tag = &text[root.range().start..first];
        let tag = &tag[..tag.find('>').map_or(tag.len(), |end| end + 1)];
        // Short ones of a kind stand close in any layout.
        let children: Vec<_> = elements(root).collect();
        let turns: Vec<usize> = children
            .windows(2)
            .filter(|pair| pair[0].tag_name() != pair[1].tag_name())
            .map(|pair| pair[1].range().start)
            .collect();
        let is_apart = |start: &&usize| {
            let before = &text[..**start];
            before[before.trim_end().len()..].matches('\n').count() > 1
        };
        let apart = turns.iter().filter(is_apart).count();
        let default = root.default_namespace().filter(|it| matches!(*it, ns::WSDL | ns::XSD));
        Style {
            layout: layout_of(file),
            root_lines: tag.contains('\n'),
            apart: apart * 2 > turns.len(),
            default: default.map(str::to_owned),
        }
    }

    /// The indentation of so many levels.
    pub fn indent(&self, levels: usize) -> String {
        self.layout.unit.repeat(levels)
    }

    /// A blank line, if components are set off by them.
    pub fn gap(&self) -> &'static str {
        if self.apart { "\n" } else { "" }
    }

    /// A whole text with the line ends of the house.
    pub fn finished(&self, text: String) -> String {
        if self.layout.line_end == "\n" { text } else { text.replace('\n', self.layout.line_end) }
    }
}
