//! References that lead nowhere: said in one way, with what may have been meant.

use crate::{Fault, Place, QName, Suggestions, nearest};

/// Collects the faults of references that lead nowhere.
#[derive(Debug, Default)]
pub struct Dangling {
    /// The faults so far.
    pub faults: Vec<Fault>,
    suggestions: Suggestions,
}

impl Dangling {
    /// A reference by `name` found no component of that `kind`. `all` lists the names of those there are.
    pub fn report<'a, I: Iterator<Item = &'a QName>>(
        &mut self,
        rule: &'static str,
        kind: &str,
        name: &QName,
        place: Place,
        all: impl Fn() -> I,
    ) {
        let help = self.suggestions.one_more().then(|| advice(name, kind, all)).flatten();
        let message = match &*name.namespace {
            "" => format!("there is no {kind} \"{}\" without a namespace", name.local),
            namespace => format!("there is no {kind} \"{}\" in {namespace}", name.local),
        };
        let help = help.unwrap_or_else(|| format!("declare the {kind}, or correct the name"));
        self.faults.push(Fault::new(rule, place, message).help(help));
    }
}

/// What a name that leads nowhere may have meant.
fn advice<'a, I: Iterator<Item = &'a QName>>(
    name: &QName,
    kind: &str,
    all: impl Fn() -> I,
) -> Option<String> {
    if let Some(other) = all().filter(|other| other.local == name.local).min() {
        return Some(if other.namespace.is_empty() {
            format!("there is one without a namespace: leave the prefix out, or qualify the {kind}")
        } else {
            format!("there is one in {}: is the prefix right?", other.namespace)
        });
    }
    let mut near: Vec<&str> =
        all().filter(|other| other.namespace == name.namespace).map(|other| &*other.local).collect();
    if near.is_empty() && !name.namespace.is_empty() && matches!(kind, "type" | "element" | "attribute") {
        return Some(format!(
            "no {kind} in {} was read: import its schema, or correct the prefix",
            name.namespace
        ));
    }
    // Names come in no order, and of two that are as near the same one should be taken each time.
    near.sort_unstable();
    nearest(&name.local, near).map(|near| format!("did you mean \"{near}\"?"))
}
