//! Values written by the encoding of SOAP (SOAP 1.1, section 5; SOAP 1.2 Part 2, section 3): references from one value
//! to another, arrays, and the attributes that any value may carry.

use charter_source::{Attribute, Map, Node, attribute_place, ns, tag_place};

use super::{Assess, Validator};
use crate::TypeId;
use crate::engine::quoted;

impl<'v, 'd> Validator<'v, 'd> {
    /// Whether an attribute belongs to the envelope or to the encoding, and not to what stands there: any header block
    /// may say who must understand it (SOAP 1.1, 4.2; SOAP 1.2 Part 1, 5.2).
    pub(super) fn of_soap(&self, attribute: &Attribute<'_>) -> bool {
        let of_envelope = matches!(attribute.namespace(), Some(ns::SOAP11_ENVELOPE | ns::SOAP12_ENVELOPE));
        if self.in_envelope && self.depth == 1 && of_envelope {
            return OF_BLOCKS.contains(&attribute.name());
        }
        self.encoded
            && match attribute.namespace() {
                None => matches!(attribute.name(), "id" | "href"),
                Some(ns::SOAP11_ENCODING | ns::SOAP12_ENCODING) => true,
                Some(ns::SOAP11_ENVELOPE | ns::SOAP12_ENVELOPE) => attribute.name() == "encodingStyle",
                Some(_) => false,
            }
    }

    /// Judges what a reference leads to in its place; whether this is one.
    pub(super) fn refers(&mut self, node: Node<'d>, assess: Assess) -> bool {
        let older = node.attribute_node("href");
        let Some(attribute) = older.or_else(|| node.attribute_node((ns::SOAP12_ENCODING, "ref"))) else {
            return false;
        };
        let id = attribute.value().trim().trim_start_matches('#');
        let target = self.targets.get_or_init(|| targets(node)).get(id).copied();
        let Some(target) = target else {
            let place = attribute_place(self.file, &attribute);
            let message = format!("nothing here has the id {}", quoted(id));
            let help = "correct the reference, or give the value that it means that id";
            self.wrong("encoded-reference", place, node, Some(attribute.name()), message, help);
            return true;
        };
        // A graph may lead back to where it began.
        if !self.followed.contains(&target.id()) && self.followed.len() < MOST_FOLLOWED {
            self.followed.push(target.id());
            self.element(target, assess);
            self.followed.pop();
        }
        true
    }

    /// Judges the members of an array; whether the type is one.
    pub(super) fn array(&mut self, node: Node<'d>, ty: TypeId) -> bool {
        let engine = self.engine;
        let Some(array) = engine.encoded_array(ty) else { return false };
        let members: Vec<Node<'d>> = node.children().filter(Node::is_element).collect();
        let size = node.attribute_node((ns::SOAP11_ENCODING, "arrayType"));
        let size = size.or_else(|| node.attribute_node((ns::SOAP12_ENCODING, "arraySize")));
        let partial = node.attribute_node((ns::SOAP11_ENCODING, "offset")).is_some();
        if let Some(attribute) = size
            && let Some(count) = written_size(attribute.value())
            && count != members.len()
            && !partial
        {
            let place = attribute_place(self.file, &attribute);
            let message = format!("the array says that it has {count} members, and has {}", members.len());
            let help = "correct the size, or the members";
            self.wrong("encoded-array", place, node, Some(attribute.name()), message, help);
        }
        for child in node.children().filter(|child| child.is_text()) {
            let text = child.text().unwrap_or("");
            if !super::content::is_space(text) {
                let place = tag_place(self.file, node);
                let message = "an array holds members, not text";
                self.wrong("encoded-array", place, node, None, message, "put each value into an element");
            }
        }
        self.members(members, array.inner.matches('[').count(), array.item);
        true
    }

    /// Judges the members of an array, or those of the arrays that it holds.
    fn members(&mut self, members: Vec<Node<'d>>, deep: usize, item: TypeId) {
        for member in members {
            match deep {
                0 => self.element(member, Assess::As(item)),
                _ => self.members(member.children().filter(Node::is_element).collect(), deep - 1, item),
            }
        }
    }
}

/// What any header block may carry.
const OF_BLOCKS: &[&str] = &["mustUnderstand", "actor", "role", "relay", "encodingStyle"];
/// The values of an encoded message by the ids that others refer to them by.
pub fn targets(node: Node<'_>) -> Map<&str, Node<'_>> {
    let elements = node.document().descendants().filter(Node::is_element);
    let named = elements.filter_map(|element| {
        let id = element.attribute("id").or_else(|| element.attribute((ns::SOAP12_ENCODING, "id")))?;
        Some((id, element))
    });
    named.collect()
}

/// References that are followed from one to the next.
const MOST_FOLLOWED: usize = 100;

/// The size in `xsd:int[3]` or in `2 3`, if every dimension has one.
fn written_size(text: &str) -> Option<usize> {
    let inner = match text.rfind('[') {
        Some(open) => text[open + 1..].trim_end().strip_suffix(']')?,
        None => text,
    };
    let sizes = inner.split([',', ' ']).filter(|word| !word.is_empty());
    let sizes: Vec<usize> = sizes.map(|word| word.trim().parse().ok()).collect::<Option<_>>()?;
    (!sizes.is_empty()).then(|| sizes.into_iter().product())
}
