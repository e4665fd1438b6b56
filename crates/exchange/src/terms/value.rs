//! Values: where they stand, and their texts.

use charter_message::values::steps;
use serde_json::Value as Json;

/// The value at a wire path; of several, the first if it names none.
pub(crate) fn at<'v>(values: &'v Json, path: &str) -> Option<&'v Json> {
    match whole_at(values, path)? {
        // What a number leads to is one, if it is a list itself.
        Json::Array(several) if !path.ends_with(']') => several.first(),
        one => Some(one),
    }
}

/// The value at a wire path; of several, all of them if the path ends without a number.
pub(super) fn whole_at<'v>(values: &'v Json, path: &str) -> Option<&'v Json> {
    let mut here = values;
    for step in steps(path).ok()? {
        if let Json::Array(several) = here {
            here = several.first()?;
        }
        let Some(found) = here.get(&step.key) else {
            here = in_order(here, &step.key, step.number.unwrap_or(1))?;
            continue;
        };
        here = found;
        here = match (here, step.number) {
            (Json::Array(several), Some(number)) => several.get(number - 1)?,
            (one, None | Some(1)) => one,
            _ => return None,
        };
    }
    Some(here)
}

/// The element of a name and a number among elements whose order counts.
fn in_order<'v>(value: &'v Json, name: &str, number: usize) -> Option<&'v Json> {
    let elements = value.get("$content")?.as_array()?.iter();
    elements.filter_map(|element| element.get(name)).nth(number.checked_sub(1)?)
}

/// The text of a value that is one; that of a list has its items, parted by spaces.
pub(crate) fn text(value: &Json) -> Option<String> {
    match value {
        Json::String(text) => Some(text.clone()),
        Json::Number(_) | Json::Bool(_) => Some(value.to_string()),
        Json::Object(object) => object.get("$text").and_then(text),
        Json::Array(items) => Some(items.iter().map(text).collect::<Option<Vec<String>>>()?.join(" ")),
        Json::Null => None,
    }
}
