//! Small edits of one piece of a schema.

use fastrand::Rng;

use super::fits::*;
use super::words::*;
use crate::xml::Xml;

pub(super) fn put(x: &mut Xml, name: &str, to: &str) {
    match x.attributes.iter_mut().find(|(n, _)| n == name) {
        Some((_, value)) => to.clone_into(value),
        None => x.attributes.push((name.to_owned(), to.to_owned())),
    }
}

pub(super) fn toggle(x: &mut Xml, name: &str) {
    let to = if value(x, name) == Some("qualified") { "unqualified" } else { "qualified" };
    put(x, name, to);
}

pub(super) fn bump(x: &mut Xml, name: &str, by: i64) {
    if let Some(number) = number(x, name) {
        put(x, name, &(number + by).to_string());
    }
}

pub(super) fn wider(x: &Xml, name: &str) -> Option<&'static str> {
    let own = value(x, name)?;
    WIDER.iter().find(|(from, _)| *from == own).map(|(_, to)| *to)
}

pub(super) fn narrower(x: &Xml, name: &str) -> Option<&'static str> {
    let own = value(x, name)?;
    WIDER.iter().find(|(_, to)| *to == own).map(|(from, _)| *from)
}

pub(super) fn a_value(x: &Xml) -> &'static str {
    value(x, "type").and_then(first_value).unwrap_or("")
}

pub(super) fn a_second_value(x: &Xml) -> &'static str {
    let values = value(x, "type")
        .and_then(|ty| ty.strip_prefix("xs:"))
        .map(crate::schemas::values_of)
        .unwrap_or_default();
    values.last().copied().unwrap_or("7")
}

pub(super) fn more_values(x: &Xml) -> &'static str {
    let values = value(x, "base")
        .and_then(|ty| ty.strip_prefix("xs:"))
        .map(crate::schemas::values_of)
        .unwrap_or_default();
    let known = |v: &&str| x.children.iter().any(|c| value(c, "value") == Some(v));
    values.iter().find(|v| !known(v)).copied().unwrap_or("zz")
}

pub(super) fn fresh_element(rng: &mut Rng) -> Xml {
    let ty = ["xs:int", "xs:string", "xs:date", "xs:token", "xs:boolean"][rng.usize(..5)];
    Xml::new("xs:element").with("name", format!("n{}", rng.u32(..1000))).with("type", ty)
}

pub(super) fn fresh_attribute(rng: &mut Rng) -> Xml {
    let ty = ["xs:int", "xs:string", "xs:date", "xs:token"][rng.usize(..4)];
    Xml::new("xs:attribute").with("name", format!("b{}", rng.u32(..1000))).with("type", ty)
}

/// Changes one of the elements that fit.
pub(super) fn one(
    rng: &mut Rng,
    schema: &mut Xml,
    fits: &dyn Fn(&Xml) -> bool,
    change: &dyn Fn(&mut Rng, &mut Xml),
) -> bool {
    let mut paths = schema.paths();
    paths.retain(|path| fits(schema.at(path)));
    if paths.is_empty() {
        return false;
    }
    let path = paths[rng.usize(..paths.len())].clone();
    change(rng, schema.at(&path));
    true
}

pub(super) fn set_one(
    rng: &mut Rng,
    schema: &mut Xml,
    fits: &dyn Fn(&Xml) -> bool,
    name: &'static str,
    to: &'static str,
) -> bool {
    one(rng, schema, fits, &|_, x| put(x, name, to))
}

pub(super) fn drop_one(
    rng: &mut Rng,
    schema: &mut Xml,
    fits: &dyn Fn(&Xml) -> bool,
    name: &'static str,
) -> bool {
    one(rng, schema, fits, &|_, x| x.attributes.retain(|(n, _)| n != name))
}

pub(super) fn rename(rng: &mut Rng, schema: &mut Xml, from: &str, to: &str) -> bool {
    one(rng, schema, &|x| is(x, from), &|_, x| x.name = format!("xs:{to}"))
}

/// Removes an element that fits, which is not at the top.
pub(super) fn remove(rng: &mut Rng, schema: &mut Xml, fits: &dyn Fn(&Xml) -> bool) -> bool {
    one(rng, schema, &|x| !is(x, "schema") && x.children.iter().any(fits), &|rng, x| {
        let all: Vec<usize> = (0..x.children.len()).filter(|at| fits(&x.children[*at])).collect();
        x.children.remove(all[rng.usize(..all.len())]);
    })
}

/// Removes something at the top.
pub(super) fn top(rng: &mut Rng, schema: &mut Xml, fits: &dyn Fn(&Xml) -> bool) -> bool {
    let all: Vec<usize> = (0..schema.children.len()).filter(|at| fits(&schema.children[*at])).collect();
    if all.is_empty() {
        return false;
    }
    schema.children.remove(all[rng.usize(..all.len())]);
    true
}

pub(super) fn swap(rng: &mut Rng, schema: &mut Xml, fits: &dyn Fn(&Xml) -> bool) -> bool {
    one(rng, schema, &|x| fits(x) && x.children.len() > 1, &|rng, x| {
        let at = rng.usize(1..x.children.len());
        x.children.swap(at, at - 1);
    })
}

#[derive(Clone, Copy)]
pub(super) enum End {
    First,
    Last,
    Any,
    /// Behind the content and before a wildcard for attributes.
    Attribute,
    /// Behind everything.
    Very,
}

pub(super) fn insert(
    rng: &mut Rng,
    schema: &mut Xml,
    fits: &dyn Fn(&Xml) -> bool,
    end: End,
    make: fn(&mut Rng) -> Xml,
) -> bool {
    one(rng, schema, fits, &|rng, x| {
        let made = make(rng);
        let count = x.children.len();
        let at = match end {
            End::First => 0,
            End::Last | End::Very => count,
            End::Any => rng.usize(..=count),
            End::Attribute => x.children.iter().position(|c| is(c, "anyAttribute")).unwrap_or(count),
        };
        x.children.insert(at, made);
    })
}

/// Adds a facet to a restriction of one of some types.
pub(super) fn facet(
    rng: &mut Rng,
    schema: &mut Xml,
    bases: &[&str],
    name: &'static str,
    make: fn(&mut Rng) -> String,
) -> bool {
    let fits = |x: &Xml| {
        is(x, "restriction")
            && value(x, "base").is_some_and(|base| bases.contains(&base))
            && !x.children.iter().any(|c| is(c, name))
    };
    one(rng, schema, &fits, &|rng, x| {
        let made = Xml::new(&format!("xs:{name}")).with("value", make(rng));
        x.children.push(made);
    })
}

/// The prefix of names of the schema itself.
pub(super) fn own_prefix(schema: &Xml) -> &'static str {
    if has(schema, "targetNamespace") { "t:" } else { "" }
}

pub(super) fn names_of(schema: &Xml, kind: &str) -> Vec<String> {
    let all = schema.children.iter().filter(|c| is(c, kind));
    all.filter_map(|c| value(c, "name").map(str::to_owned)).collect()
}
