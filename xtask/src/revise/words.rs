//! Types, values and patterns that changes choose from.

pub(super) const TEXTS: &[&str] =
    &["xs:string", "xs:token", "xs:normalizedString", "xs:NMTOKEN", "xs:NCName", "xs:Name", "xs:anyURI"];
pub(super) const NUMBERS: &[&str] = &[
    "xs:decimal",
    "xs:integer",
    "xs:int",
    "xs:long",
    "xs:short",
    "xs:byte",
    "xs:nonNegativeInteger",
    "xs:positiveInteger",
    "xs:unsignedByte",
];
pub(super) const PATTERNS: &[&str] = &[
    "[A-Z0-9]{4,7}",
    "[A-Z0-9]{3,8}",
    "[a-z]+",
    "[a-z]+( [a-z]+)*",
    "\\c{1,8}",
    ".{0,6}",
    "a|b|[0-9-[5]]+",
    "\\p{L}\\w*",
    "[^ ]*",
    "(ab)*|c?",
];

/// Types, each with one that holds all its values and means the same by them.
pub(super) const WIDER: &[(&str, &str)] = &[
    ("xs:byte", "xs:short"),
    ("xs:short", "xs:int"),
    ("xs:int", "xs:long"),
    ("xs:long", "xs:integer"),
    ("xs:integer", "xs:decimal"),
    ("xs:unsignedByte", "xs:int"),
    ("xs:positiveInteger", "xs:nonNegativeInteger"),
    ("xs:nonNegativeInteger", "xs:integer"),
    ("xs:NCName", "xs:Name"),
    ("xs:Name", "xs:NMTOKEN"),
    ("xs:language", "xs:NMTOKEN"),
    ("xs:NMTOKEN", "xs:token"),
    ("xs:token", "xs:normalizedString"),
    ("xs:normalizedString", "xs:string"),
];
