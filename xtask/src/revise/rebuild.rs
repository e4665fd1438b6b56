//! Changes of how a schema is put together, across its pieces.

use fastrand::Rng;

use super::edits::*;
use super::fits::*;
use crate::xml::Xml;

pub(super) fn retype(rng: &mut Rng, schema: &mut Xml, kind: &str) -> bool {
    let (names, prefix) = (names_of(schema, kind), own_prefix(schema));
    if names.is_empty() {
        return false;
    }
    let name = names[rng.usize(..names.len())].clone();
    one(rng, schema, &|x| is(x, "element") && plain_type(x) && !stated(x), &|_, x| {
        put(x, "type", &format!("{prefix}{name}"))
    })
}

/// Writes a named simple type in the place where it is used.
pub(super) fn inline_simple(rng: &mut Rng, schema: &mut Xml) -> bool {
    let prefix = own_prefix(schema);
    let types: Vec<Xml> = schema.children.iter().filter(|c| is(c, "simpleType")).cloned().collect();
    let find = |x: &Xml| {
        let own = value(x, "type")?.strip_prefix(prefix)?.to_owned();
        types.iter().find(|ty| value(ty, "name") == Some(own.as_str())).cloned()
    };
    one(rng, schema, &|x| is(x, "element") && find(x).is_some() && x.children.is_empty(), &|_, x| {
        let Some(mut ty) = find(x) else { return };
        ty.attributes.clear();
        x.attributes.retain(|(n, _)| n != "type");
        x.children.insert(0, ty);
    })
}

/// Gives the content of a type a name of its own.
pub(super) fn name_group(rng: &mut Rng, schema: &mut Xml) -> bool {
    let prefix = own_prefix(schema);
    let mut taken = None;
    let name = format!("N{}", rng.u32(..100_000));
    let mut paths = schema.paths();
    paths.retain(|path| {
        let x = schema.at(path);
        is(x, "complexType") && x.children.first().is_some_and(order)
    });
    if let Some(path) = paths.get(rng.usize(..paths.len().max(1))) {
        let x = schema.at(path);
        let mut inner = x.children[0].clone();
        let occurs: Vec<_> =
            inner.attributes.iter().filter(|(n, _)| n.ends_with("Occurs")).cloned().collect();
        inner.attributes.retain(|(n, _)| !n.ends_with("Occurs"));
        let mut reference = Xml::new("xs:group").with("ref", format!("{prefix}{name}"));
        reference.attributes.extend(occurs);
        x.children[0] = reference;
        taken = Some(inner);
    }
    let Some(inner) = taken else { return false };
    schema.children.push(Xml::new("xs:group").with("name", name).holding([inner]));
    true
}

pub(super) fn inline_group(rng: &mut Rng, schema: &mut Xml) -> bool {
    let prefix = own_prefix(schema);
    let groups: Vec<Xml> = schema.children.iter().filter(|c| is(c, "group")).cloned().collect();
    let find = |x: &Xml| {
        let own = value(x, "ref")?.strip_prefix(prefix)?.to_owned();
        groups.iter().find(|ty| value(ty, "name") == Some(own.as_str()))?.children.first().cloned()
    };
    one(rng, schema, &|x| is(x, "group") && find(x).is_some(), &|_, x| {
        let Some(mut inner) = find(x) else { return };
        inner.attributes.extend(x.attributes.iter().filter(|(n, _)| n.ends_with("Occurs")).cloned());
        *x = inner;
    })
}

pub(super) fn name_attributes(rng: &mut Rng, schema: &mut Xml) -> bool {
    let prefix = own_prefix(schema);
    let name = format!("M{}", rng.u32(..100_000));
    let mut taken = Vec::new();
    let mut paths = schema.paths();
    paths.retain(|path| {
        let x = schema.at(path);
        is(x, "complexType") && x.children.iter().any(|c| is(c, "attribute"))
    });
    if let Some(path) = paths.get(rng.usize(..paths.len().max(1))) {
        let x = schema.at(path);
        let at = x.children.iter().position(|c| is(c, "attribute")).unwrap_or(0);
        taken = x.children.iter().filter(|c| is(c, "attribute")).cloned().collect();
        x.children.retain(|c| !is(c, "attribute"));
        x.children.insert(
            at.min(x.children.len()),
            Xml::new("xs:attributeGroup").with("ref", format!("{prefix}{name}")),
        );
    }
    if taken.is_empty() {
        return false;
    }
    schema.children.push(Xml::new("xs:attributeGroup").with("name", name).holding(taken));
    true
}

pub(super) fn derive(rng: &mut Rng, schema: &mut Xml) -> bool {
    let (names, prefix) = (names_of(schema, "complexType"), own_prefix(schema));
    if names.is_empty() {
        return false;
    }
    let base = format!("{prefix}{}", names[rng.usize(..names.len())]);
    let element = fresh_element(rng).with("minOccurs", "0");
    let extension =
        Xml::new("xs:extension").with("base", base).holding([Xml::new("xs:sequence").holding([element])]);
    let content = Xml::new("xs:complexContent").holding([extension]);
    schema
        .children
        .push(Xml::new("xs:complexType").with("name", format!("D{}", rng.u32(..100_000))).holding([content]));
    true
}

/// Gives a type another name everywhere.
pub(super) fn rename_type(rng: &mut Rng, schema: &mut Xml) -> bool {
    let prefix = own_prefix(schema);
    let mut names = names_of(schema, "complexType");
    names.extend(names_of(schema, "simpleType"));
    if names.is_empty() {
        return false;
    }
    let name = names[rng.usize(..names.len())].clone();
    let to = format!("R{}", rng.u32(..100_000));
    let (old, new) = (format!("{prefix}{name}"), format!("{prefix}{to}"));
    for path in schema.paths() {
        let x = schema.at(&path);
        let defines =
            (is(x, "complexType") || is(x, "simpleType")) && value(x, "name") == Some(name.as_str());
        for (attribute, text) in &mut x.attributes {
            if defines && attribute == "name" {
                to.clone_into(text);
            } else if matches!(attribute.as_str(), "type" | "base" | "itemType" | "memberTypes") {
                *text = text
                    .split(' ')
                    .map(|word| if word == old { new.as_str() } else { word })
                    .collect::<Vec<_>>()
                    .join(" ");
            }
        }
    }
    true
}

pub(super) fn substitute(rng: &mut Rng, schema: &mut Xml) -> bool {
    let prefix = own_prefix(schema);
    let heads: Vec<Xml> = schema
        .children
        .iter()
        .filter(|c| is(c, "element") && has(c, "type") && value(c, "name") != Some("root"))
        .cloned()
        .collect();
    if heads.is_empty() {
        return false;
    }
    let head = &heads[rng.usize(..heads.len())];
    let (name, ty) = (value(head, "name").unwrap_or("g1"), value(head, "type").unwrap_or("xs:int"));
    schema.children.push(
        Xml::new("xs:element")
            .with("name", format!("g{}", rng.u32(1000..100_000)))
            .with("type", ty)
            .with("substitutionGroup", format!("{prefix}{name}")),
    );
    true
}

/// Adds a constraint to the element that messages begin with, about a child and a value that are there.
pub(super) fn identity(rng: &mut Rng, schema: &mut Xml, kind: &str) -> bool {
    let qualified = value(schema, "elementFormDefault") == Some("qualified");
    let prefix = if qualified { own_prefix(schema) } else { "" };
    let number = rng.u32(..100_000);
    let Some(root) =
        schema.children.iter_mut().find(|c| is(c, "element") && value(c, "name") == Some("root"))
    else {
        return false;
    };
    let mut children = Vec::new();
    for path in root.paths() {
        let x = root.at(&path);
        if path.len() == 3 && is(x, "element") && has(x, "name") && plain_type(x) && !has(x, "form") {
            children.push(value(x, "name").unwrap_or("").to_owned());
        }
    }
    if children.is_empty() || root.children.iter().any(|c| is(c, "unique") || is(c, "key")) {
        return false;
    }
    let child = &children[rng.usize(..children.len())];
    let selector = Xml::new("xs:selector").with("xpath", format!("{prefix}{child}"));
    let field = Xml::new("xs:field").with("xpath", ".");
    root.children
        .push(Xml::new(&format!("xs:{kind}")).with("name", format!("k{number}")).holding([selector, field]));
    true
}
