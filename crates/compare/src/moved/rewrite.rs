//! Writes the old version otherwise: the new namespaces wherever the old ones are named, and what follows them.

use std::collections::BTreeMap;

use charter_contract::Contract;
use charter_source::xml::{Escape, escaped};
use charter_source::{Attribute, File, Node, Place, Set, Span, TextEdit, attribute_place, ns};

use super::namespaces::{Move, Moves};
use super::pieces::Piece;
use super::written::written_as;

/// What is written otherwise.
#[derive(Default)]
pub(super) struct Written {
    pub edits: Vec<TextEdit>,
    pub actions: usize,
    pub fixed: usize,
}

/// Attributes whose values name a file or a value, whatever else they look like.
const NO_NAMESPACES: [&str; 7] =
    ["schemaLocation", "location", "fixed", "default", "value", "soapAction", "Action"];

pub(super) fn written(old: &Contract, new: &Contract, moves: &Moves) -> Written {
    let known = Following::of(new);
    let mut written = Written::default();
    for file in old.files.iter().filter(|file| !file.is_known()) {
        let text = file.text().content();
        let mut edits: BTreeMap<u32, TextEdit> = BTreeMap::new();
        let mut put = |span: Span, replacement: &str| {
            let place = Place { file: file.id, span };
            let replacement = escaped(replacement, Escape::Value('"'));
            edits.insert(span.start, TextEdit { place, replacement });
        };
        for Move { was, is } in &moves.0 {
            for span in written_as(text, was) {
                let is_other = attribute_around(text, span).is_none_or(|name| NO_NAMESPACES.contains(&name));
                if !is_other {
                    put(span, is);
                }
            }
        }
        for follower in followers(file) {
            let Some(to) = known.followed(&follower, moves) else { continue };
            match follower {
                Follower::Action(_) => written.actions += 1,
                Follower::Fixed { .. } => written.fixed += 1,
            }
            put(attribute_place(file.id, follower.attribute()).span, &to);
        }
        written.edits.extend(edits.into_values());
    }
    written
}

/// The local name of the attribute in whose value something stands, if that is what is around it.
fn attribute_around(text: &str, span: Span) -> Option<&str> {
    let before = &text[..span.start as usize];
    let quote =
        before.rfind(['"', '\'', '<', '>']).filter(|at| matches!(before.as_bytes()[*at], b'"' | b'\''))?;
    let name = before[..quote].trim_end().strip_suffix('=')?.trim_end();
    let start = name.rfind(|c: char| c.is_ascii_whitespace()).map_or(0, |at| at + 1);
    let name = &name[start..];
    Some(name.rsplit(':').next().unwrap_or(name))
}

/// What may follow a namespace.
enum Follower<'f> {
    /// The action of an operation.
    Action(Attribute<'f>),
    /// The value that something must have.
    Fixed {
        /// The name of what must have it.
        of: &'f str,
        value: Attribute<'f>,
    },
}

impl<'f> Follower<'f> {
    fn attribute(&self) -> &Attribute<'f> {
        match self {
            Follower::Action(value) | Follower::Fixed { value, .. } => value,
        }
    }
}

fn followers(file: &File) -> impl Iterator<Item = Follower<'_>> {
    let elements = file.root().into_iter().flat_map(|root| root.descendants());
    elements.filter(Node::is_element).flat_map(|node| {
        let of_schema = node.tag_name().namespace() == Some(ns::XSD);
        let of = node.attribute("name").or_else(|| node.attribute("ref")).unwrap_or("");
        node.attributes().filter_map(move |value| match value.name() {
            "soapAction" | "Action" => Some(Follower::Action(value)),
            "fixed" if of_schema => Some(Follower::Fixed { of, value }),
            _ => None,
        })
    })
}

/// What the new version has that may have followed.
struct Following<'c> {
    actions: Set<&'c str>,
    fixed: Set<(&'c str, &'c str)>,
}

impl<'c> Following<'c> {
    fn of(new: &'c Contract) -> Following<'c> {
        let mut found = Following { actions: Set::default(), fixed: Set::default() };
        for follower in new.files.iter().filter(|file| !file.is_known()).flat_map(followers) {
            match follower {
                Follower::Action(value) => drop(found.actions.insert(value.value())),
                Follower::Fixed { of, value } => drop(found.fixed.insert((of, value.value()))),
            }
        }
        found
    }

    fn has(&self, follower: &Follower<'_>, value: &str) -> bool {
        match follower {
            Follower::Action(_) => self.actions.contains(value),
            Follower::Fixed { of, .. } => self.fixed.contains(&(*of, value)),
        }
    }

    /// What became of a value, if it is one that followed: the new version has it written so, and no longer as it was.
    fn followed(&self, follower: &Follower<'_>, moves: &Moves) -> Option<String> {
        let value = follower.attribute().value();
        if value.is_empty() || self.has(follower, value) {
            return None;
        }
        moves.0.iter().find_map(|Move { was, is }| {
            let whole = value.contains(&**was).then(|| value.replace(&**was, is));
            let by_piece = Piece::between(was, is).into_iter().filter_map(|piece| piece.applied(value));
            whole.into_iter().chain(by_piece).find(|to| self.has(follower, to))
        })
    }
}
