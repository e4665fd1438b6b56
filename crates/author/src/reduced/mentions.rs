//! What a stretch of text says about components: which it declares, and which it names.

use crate::tags::{Tag, local, tags};

/// How much of a component something depends on that names it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Bond {
    /// On what it is called, and on what it is derived from: the type of an element.
    Kind,
    /// On all that it consists of: a type that is extended, a group that is used.
    Content,
}

/// What a stretch of text says about components.
#[derive(Debug, Default)]
pub(super) struct Mentions<'t> {
    /// Names that it gives to components, keys and ids.
    pub declared: Vec<&'t str>,
    /// Names of components that it refers to.
    pub named: Vec<(&'t str, Bond)>,
    /// The elements that its elements may stand in for.
    pub heads: Vec<&'t str>,
    /// The keys that it refers to.
    pub keys: Vec<&'t str>,
    /// Whether a name may be written with a character reference, so that it is not what it looks like.
    pub disguised: bool,
}

impl<'t> Mentions<'t> {
    pub fn of(text: &'t str) -> Mentions<'t> {
        let mut mentions = Mentions::default();
        for tag in tags(text) {
            for (name, value) in tag.attributes() {
                mentions.attribute(&tag, local(name), value);
            }
        }
        mentions
    }

    fn attribute(&mut self, tag: &Tag<'t>, name: &str, value: &'t str) {
        let bond = match name {
            "name" if declares(tag) => return self.declare(value),
            "id" => return self.declare(value),
            "base" | "ref" | "substitutionGroup" | "memberTypes" | "itemType" | "refer" => Bond::Content,
            "type" | "element" | "message" | "binding" | "arrayType" => Bond::Kind,
            _ => return,
        };
        self.disguised |= value.contains('&');
        for word in value.split_ascii_whitespace() {
            let word = local(word).split('[').next().unwrap_or("");
            self.named.push((word, bond));
            match name {
                "substitutionGroup" => self.heads.push(word),
                "refer" => self.keys.push(word),
                _ => {}
            }
        }
    }

    fn declare(&mut self, name: &'t str) {
        self.disguised |= name.contains('&');
        self.declared.push(name.trim());
    }
}

/// Whether the name of an element is one that others refer to it by.
fn declares(tag: &Tag<'_>) -> bool {
    let is_key = matches!(tag.local, "key" | "unique" | "keyref");
    let is_global = |around| matches!(around, "definitions" | "types" | "schema" | "portType" | "binding");
    is_key || tag.around.is_none_or(is_global)
}
