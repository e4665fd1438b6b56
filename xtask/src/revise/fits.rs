//! What a piece of a schema is, for a change to know what it fits.

use crate::xml::Xml;

pub(super) fn is(x: &Xml, name: &str) -> bool {
    x.name.strip_prefix("xs:") == Some(name)
}
pub(super) fn value<'x>(x: &'x Xml, name: &str) -> Option<&'x str> {
    x.attributes.iter().find(|(n, _)| n == name).map(|(_, v)| v.as_str())
}
pub(super) fn has(x: &Xml, name: &str) -> bool {
    value(x, name).is_some()
}
pub(super) fn number(x: &Xml, name: &str) -> Option<i64> {
    value(x, name)?.parse().ok()
}
pub(super) fn stated(x: &Xml) -> bool {
    has(x, "default") || has(x, "fixed")
}
pub(super) fn group(x: &Xml) -> bool {
    order(x) || is(x, "all")
}
pub(super) fn order(x: &Xml) -> bool {
    is(x, "sequence") || is(x, "choice")
}
pub(super) fn in_order(x: &Xml) -> bool {
    is(x, "sequence")
}
pub(super) fn flat(x: &Xml) -> bool {
    is(x, "sequence")
        && !has(x, "maxOccurs")
        && !x.children.is_empty()
        && x.children.iter().all(|c| is(c, "element") && !has(c, "maxOccurs"))
}
pub(super) fn plain_type(x: &Xml) -> bool {
    value(x, "type").is_some_and(|t| first_value(t).is_some())
}
pub(super) fn holds_attributes(x: &Xml) -> bool {
    (is(x, "complexType") && !x.children.iter().any(|c| c.name.ends_with("Content")))
        || (is(x, "extension") && !x.children.iter().any(|c| is(c, "anyAttribute")))
}

/// Whether an element stands in a group: those at the top are marked while a change is looked for.
pub(super) fn local(x: &Xml) -> bool {
    !has(x, "substitutionGroup")
        && !has(x, "abstract")
        && value(x, "name") != Some("root")
        && !value(x, "name").is_some_and(|name| name.starts_with('g'))
}

pub(super) fn first_value(ty: &str) -> Option<&'static str> {
    crate::schemas::values_of(ty.strip_prefix("xs:")?).first().copied()
}
