//! Small random changes, to schemas and to messages: each may break something or nothing.

use fastrand::Rng;

use crate::xml::Xml;

/// Values that stand in schemas, to put one in the place of another.
const SCHEMA_VALUES: &[(&str, &[&str])] = &[
    (
        "type",
        &[
            "xs:int",
            "xs:string",
            "xs:anyType",
            "xs:decimal",
            "xs:ID",
            "xs:NOTATION",
            "t:S1",
            "t:C1",
            "t:C2",
            "t:gone",
            "xs:anySimpleType",
        ],
    ),
    (
        "base",
        &[
            "xs:int",
            "xs:string",
            "xs:token",
            "xs:anyType",
            "xs:anySimpleType",
            "t:S1",
            "t:C1",
            "t:C2",
            "t:gone",
        ],
    ),
    ("minOccurs", &["0", "1", "2", "5", "-1", "x"]),
    ("maxOccurs", &["0", "1", "2", "unbounded", "many"]),
    ("name", &["e1", "e2", "C1", "S1", "g1", "a1", "tide", "a b", "xmlns"]),
    ("ref", &["t:g1", "t:G1", "t:A1", "t:gone", "t:ga1"]),
    ("use", &["required", "optional", "prohibited", "always"]),
    ("value", &["0", "1", "3", "7", "-4", "a", "[a-z", "a{2,1}", "", "2026-03-14", "preserve", "collapse"]),
    ("itemType", &["xs:NMTOKENS", "t:S1", "t:S2", "xs:anyType", "t:C1"]),
    ("memberTypes", &["xs:int t:S1", "t:S2", "t:C1", ""]),
    ("namespace", &["##any", "##other", "##local", "##targetNamespace", "urn:o", "##none", "urn:o ##local"]),
    ("processContents", &["lax", "skip", "strict", "loose"]),
    ("mixed", &["true", "false", "maybe"]),
    ("nillable", &["true", "false"]),
    ("abstract", &["true", "false"]),
    ("block", &["#all", "extension", "restriction", "substitution", "list"]),
    ("final", &["#all", "extension", "restriction", "list", "union", "substitution"]),
    ("default", &["7", "tide", "", "true"]),
    ("fixed", &["7", "tide", "", "true"]),
    ("form", &["qualified", "unqualified", "half"]),
    ("substitutionGroup", &["t:g1", "t:g2", "t:gone", "t:root"]),
    ("xpath", &["*", ".", "@a", "a/b", "a[1]", "../a", "t:a|b", ".//a", "//a", ""]),
    ("refer", &["t:k1", "t:gone"]),
    ("elementFormDefault", &["qualified", "unqualified", "x"]),
    ("targetNamespace", &["urn:u", ""]),
];

/// Changes one thing in a schema.
pub fn schema(rng: &mut Rng, schema: &mut Xml) {
    let paths = schema.paths();
    for _ in 0..20 {
        let path = paths[rng.usize(..paths.len())].clone();
        let done = match rng.u32(..10) {
            0..=4 => change_value(rng, schema.at(&path)),
            5 => add_value(rng, schema.at(&path)),
            6 => {
                let element = schema.at(&path);
                let some = !element.attributes.is_empty() && !path.is_empty();
                if some {
                    let at = rng.usize(..element.attributes.len());
                    element.attributes.remove(at);
                }
                some
            }
            _ => structure(rng, schema, &path),
        };
        if done {
            return;
        }
    }
}

fn change_value(rng: &mut Rng, element: &mut Xml) -> bool {
    if element.attributes.is_empty() {
        return false;
    }
    let at = rng.usize(..element.attributes.len());
    let (name, value) = &mut element.attributes[at];
    let Some((_, values)) = SCHEMA_VALUES.iter().find(|(known, _)| known == name) else { return false };
    *value = values[rng.usize(..values.len())].to_owned();
    true
}

fn add_value(rng: &mut Rng, element: &mut Xml) -> bool {
    let (name, values) = SCHEMA_VALUES[rng.usize(..SCHEMA_VALUES.len())];
    // Mostly where such a thing may stand.
    let suits = match name {
        "minOccurs" | "maxOccurs" => matches!(
            element.name.as_str(),
            "xs:element" | "xs:sequence" | "xs:choice" | "xs:any" | "xs:group"
        ),
        "use" => element.name == "xs:attribute",
        "nillable" | "abstract" | "substitutionGroup" | "block" => element.name == "xs:element",
        "default" | "fixed" | "form" | "type" => {
            matches!(element.name.as_str(), "xs:element" | "xs:attribute")
        }
        "final" | "mixed" => element.name == "xs:complexType",
        _ => rng.u32(..6) == 0,
    };
    let free = !element.attributes.iter().any(|(known, _)| known == name);
    if suits && free {
        element.attributes.push((name.to_owned(), values[rng.usize(..values.len())].to_owned()));
    }
    suits && free
}

/// Removes, doubles or moves an element.
fn structure(rng: &mut Rng, root: &mut Xml, path: &[usize]) -> bool {
    let Some((last, parent)) = path.split_last() else { return false };
    let parent = root.at(parent);
    match rng.u32(..4) {
        0 => drop(parent.children.remove(*last)),
        1 => {
            let copy = parent.children[*last].clone();
            parent.children.insert(*last, copy);
        }
        2 if *last > 0 => parent.children.swap(*last, *last - 1),
        3 => {
            let element = &mut parent.children[*last];
            element.name = match element.name.as_str() {
                "xs:sequence" => "xs:choice".into(),
                "xs:choice" => ["xs:sequence", "xs:all"][rng.usize(..2)].into(),
                "xs:all" => "xs:sequence".into(),
                "xs:extension" => "xs:restriction".into(),
                "xs:restriction" => "xs:extension".into(),
                "xs:minInclusive" => "xs:maxInclusive".into(),
                "xs:maxLength" => "xs:length".into(),
                "xs:minLength" => "xs:maxLength".into(),
                "xs:simpleContent" => "xs:complexContent".into(),
                "xs:complexContent" => "xs:simpleContent".into(),
                "xs:key" => "xs:unique".into(),
                "xs:element" => "xs:any".into(),
                _ => return false,
            };
        }
        _ => return false,
    }
    true
}

/// Values for messages: each is right somewhere.
const MESSAGE_VALUES: &[&str] = &[
    "",
    " ",
    "7",
    "-4",
    "3.14159",
    "tide",
    "SMPL4",
    "true",
    "2026-03-14",
    "2026-03-14T06:40:00Z",
    "P1D",
    "a b c",
    "0FB7",
    "cQ==",
    "INF",
    "999999999999",
    "a:b",
    "xs:int",
    "--03-14",
    "é",
    "1e3",
    " 12 ",
    "00:00:00",
    "2026-02-30",
];

/// Changes one thing in a message.
pub fn message(rng: &mut Rng, root: &mut Xml) {
    let paths = root.paths();
    for _ in 0..20 {
        let path = paths[rng.usize(..paths.len())].clone();
        let value = MESSAGE_VALUES[rng.usize(..MESSAGE_VALUES.len())].to_owned();
        let done = match rng.u32(..12) {
            0..=2 => {
                let element = root.at(&path);
                let leaf = element.children.is_empty();
                if leaf {
                    element.text = value;
                }
                leaf
            }
            3 | 4 => {
                let element = root.at(&path);
                let own: Vec<usize> = (0..element.attributes.len())
                    .filter(|at| !element.attributes[*at].0.starts_with("xmlns"))
                    .collect();
                if !own.is_empty() {
                    let at = own[rng.usize(..own.len())];
                    if rng.bool() {
                        element.attributes[at].1 = value;
                    } else {
                        element.attributes.remove(at);
                    }
                }
                !own.is_empty()
            }
            5 => {
                let name = ["a1", "id1", "tide", "a2", "xml:lang"][rng.usize(..5)];
                let element = root.at(&path);
                let free = !element.attributes.iter().any(|(known, _)| known == name);
                if free {
                    element.attributes.push((name.into(), value));
                }
                free
            }
            6 => {
                let (name, value) = [
                    ("xsi:nil", "true"),
                    ("xsi:nil", "false"),
                    ("xsi:type", "t:C1"),
                    ("xsi:type", "t:C3"),
                    ("xsi:type", "xs:int"),
                    ("xsi:type", "t:S1"),
                    ("xsi:type", "xs:byte"),
                ][rng.usize(..7)];
                let element = root.at(&path);
                let free = !element.attributes.iter().any(|(known, _)| known == name);
                if free {
                    element.attributes.push((name.into(), value.into()));
                }
                free
            }
            7 => {
                let other = root.at(&paths[rng.usize(..paths.len())]).clone();
                let at = root.at(&path);
                let size = other.paths().len();
                if size < 20 {
                    let place = rng.usize(..=at.children.len());
                    at.children.insert(place, other);
                }
                size < 20
            }
            8 => {
                let element = root.at(&path);
                element.name = format!("{}x", element.name);
                true
            }
            _ => structure(rng, root, &path),
        };
        if done {
            return;
        }
    }
}
