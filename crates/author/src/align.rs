//! Which child of one element info is which of another: the same one, changed or not, in the same order.

use charter_notation::{ElementInfo, Value};
use charter_source::Map;

/// What an element goes by among its siblings.
pub(crate) fn key(info: &ElementInfo) -> String {
    let mut key = info.name.local.to_string();
    let value = |name: &str| {
        info.attributes.iter().find(|(known, _)| known.is("", name)).map(|(_, value)| match value {
            Value::Text(text) => text.clone(),
            Value::Names(names) => names.iter().map(|name| format!("{name} ")).collect(),
        })
    };
    let named = ["name", "ref", "targetNamespace", "namespace"].iter().find_map(|name| value(name));
    let own = match &*info.name.local {
        "enumeration" | "pattern" => value("value"),
        "header" | "headerfault" => {
            value("part").map(|part| format!("{part} {}", value("message").unwrap_or_default()))
        }
        "selector" | "field" => value("xpath"),
        _ => named,
    };
    key.push(' ');
    key.push_str(&own.unwrap_or_default());
    // Operations of one name differ in the name of their input.
    if info.is_wsdl("operation") {
        let input = info.elements().find(|side| side.is_wsdl("input")).and_then(|input| input.text("name"));
        key.push_str(&format!(" {}", input.unwrap_or("")));
    }
    key
}

/// The keys of element infos, each with how many of it came before.
pub(crate) fn keys<'f>(infos: impl Iterator<Item = &'f ElementInfo>) -> Vec<(String, usize)> {
    let mut seen: Map<String, usize> = Map::default();
    infos
        .map(|info| {
            let key = key(info);
            let count = seen.entry(key.clone()).or_insert(0);
            *count += 1;
            (key, *count)
        })
        .collect()
}

/// For each element info of `new`, the one of `old` that it is.
pub(crate) fn pairs(old: &[&ElementInfo], new: &[&ElementInfo]) -> Vec<Option<usize>> {
    let old_keys = keys(old.iter().copied());
    let at: Map<&(String, usize), usize> = old_keys.iter().enumerate().map(|(at, key)| (key, at)).collect();
    let new_keys = keys(new.iter().copied());
    let mut found: Vec<Option<usize>> = new_keys.iter().map(|key| at.get(key).copied()).collect();
    keep_order(&mut found);
    // Between those that are surely the same, one that lost its name and one that got it are the same too.
    let mut next_old = 0;
    let mut index = 0;
    while index < found.len() {
        if let Some(old_at) = found[index] {
            next_old = old_at + 1;
            index += 1;
            continue;
        }
        let end = (index..found.len()).find(|at| found[*at].is_some()).unwrap_or(found.len());
        let old_end = found.get(end).copied().flatten().unwrap_or(old.len());
        let mut candidate = next_old;
        for at in index..end {
            let same =
                (candidate..old_end).find(|it| old[*it].name == new[at].name && is_like(old[*it], new[at]));
            if let Some(same) = same {
                found[at] = Some(same);
                candidate = same + 1;
            }
        }
        next_old = old_end;
        index = end;
    }
    found
}

/// Whether one element info can be the other after a change: components of a schema are told apart by their names.
fn is_like(old: &ElementInfo, new: &ElementInfo) -> bool {
    let named = |info: &ElementInfo| info.text("name").is_some();
    let is_local = ["element", "attribute"].iter().any(|local| old.is_xsd(local));
    named(old) == named(new) && (!named(old) || is_local)
}

/// Leaves out pairs that cross others: the longest run in order stays.
fn keep_order(found: &mut [Option<usize>]) {
    // The last of each run by its length, and what came before each.
    let mut tails: Vec<usize> = Vec::new();
    let mut before: Vec<Option<usize>> = vec![None; found.len()];
    for (index, pair) in found.iter().enumerate() {
        let Some(value) = pair else { continue };
        let length = tails.partition_point(|tail| found[*tail].is_some_and(|it| it < *value));
        before[index] = length.checked_sub(1).map(|at| tails[at]);
        if length == tails.len() { tails.push(index) } else { tails[length] = index }
    }
    let mut kept = vec![false; found.len()];
    let mut here = tails.last().copied();
    while let Some(index) = here {
        kept[index] = true;
        here = before[index];
    }
    for (pair, kept) in found.iter_mut().zip(kept) {
        if !kept {
            *pair = None;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn infos(names: &str) -> Vec<ElementInfo> {
        names.chars().map(|name| ElementInfo::xsd("element").with("name", name.to_string())).collect()
    }

    fn paired(old: &str, new: &str) -> Vec<Option<usize>> {
        let (old, new) = (infos(old), infos(new));
        pairs(&old.iter().collect::<Vec<_>>(), &new.iter().collect::<Vec<_>>())
    }

    #[test]
    fn what_stays_is_found_and_what_is_renamed_too() {
        assert_eq!(paired("abc", "abc"), [Some(0), Some(1), Some(2)]);
        assert_eq!(paired("abc", "axc"), [Some(0), Some(1), Some(2)]);
        assert_eq!(paired("abc", "axbc"), [Some(0), None, Some(1), Some(2)]);
        assert_eq!(paired("abc", "ac"), [Some(0), Some(2)]);
        assert_eq!(paired("abc", "bca"), [Some(1), Some(2), None]);
        assert_eq!(paired("aab", "ab"), [Some(0), Some(2)]);
    }
}
