//! Puts whole values into others, by their wire paths.

use charter_message::values::{Step, steps};
use serde_json::{Map, Value as Json};

/// Puts a value at a wire path, whatever is there.
pub(super) fn put(all: &mut Json, path: &str, value: Json) {
    let Ok(steps) = steps(path) else { return };
    let Some((last, before)) = steps.split_last() else { return };
    let mut here = all;
    for step in before {
        here = child(here, step);
    }
    match (last.number, value) {
        // All of several: nothing is left of what was there.
        (None, value) => match here {
            Json::Object(object) => drop(object.insert(last.key.clone(), value)),
            other => *other = Json::Object(Map::from_iter([(last.key.clone(), value)])),
        },
        (Some(_), value) => *child(here, last) = value,
    }
}

/// Takes away what is at a wire path.
pub(super) fn take(all: &mut Json, path: &str) {
    let Ok(steps) = steps(path) else { return };
    let Some((last, before)) = steps.split_last() else { return };
    let mut here = all;
    for step in before {
        here = child(here, step);
    }
    let Json::Object(object) = here else { return };
    match (object.get_mut(&last.key), last.number) {
        (Some(Json::Array(several)), Some(number)) if number <= several.len() => {
            several.remove(number - 1);
        }
        _ => drop(object.shift_remove(&last.key)),
    }
}

/// Makes so many of what is there once, or more often, at a wire path.
pub(super) fn spread(all: &mut Json, path: &str, count: usize) {
    let found = crate::terms::at(all, path).cloned().unwrap_or_else(|| Json::Object(Map::new()));
    match count {
        0 => take(all, path),
        _ => put(all, path, Json::Array(vec![found; count])),
    }
}

/// What a step leads to; it is made if it is not there.
fn child<'j>(here: &'j mut Json, step: &Step) -> &'j mut Json {
    if !here.is_object() {
        *here = Json::Object(Map::new());
    }
    let Json::Object(object) = here else { unreachable!("it was made an object") };
    let found = object.entry(step.key.clone()).or_insert_with(|| Json::Object(Map::new()));
    let number = step.number.unwrap_or(1);
    if number > 1 && !found.is_array() {
        *found = Json::Array(vec![found.take()]);
    }
    match found {
        Json::Array(several) => {
            while several.len() < number {
                several.push(Json::Object(Map::new()));
            }
            &mut several[number - 1]
        }
        one => one,
    }
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn whole_values_go_where_they_belong() {
        let mut all =
            json!({ "boarding": { "vessel": { "name": "Kittiwake" }, "step": [{ "n": 1 }, { "n": 2 }] } });
        put(&mut all, "boarding/vessel", json!({ "name": "Dunlin", "hazard": [] }));
        put(&mut all, "boarding/step[3]/n", json!(3));
        put(&mut all, "boarding/pilot/name", json!("Ines"));
        take(&mut all, "boarding/step[1]");
        take(&mut all, "boarding/vessel/hazard");
        take(&mut all, "boarding/none");
        assert_eq!(
            all,
            json!({ "boarding": { "vessel": { "name": "Dunlin" }, "step": [{ "n": 2 }, { "n": 3 }], "pilot": { "name": "Ines" } } })
        );
        spread(&mut all, "boarding/step", 3);
        assert_eq!(all["boarding"]["step"], json!([{ "n": 2 }, { "n": 2 }, { "n": 2 }]));
        spread(&mut all, "boarding/step", 0);
        assert_eq!(all["boarding"].get("step"), None);
    }
}
