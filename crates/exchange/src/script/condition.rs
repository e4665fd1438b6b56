//! What must hold for a value of a request.

use serde_json::Value as Json;

/// What must hold for a value.
#[derive(Debug, Clone, PartialEq)]
pub(crate) enum Condition {
    /// It is this.
    Is(String),
    /// It is not this, or not there.
    Not(String),
    /// It is one of these.
    OneOf(Vec<String>),
    /// It is a number above this.
    Above(f64),
    /// It is a number below this.
    Below(f64),
    /// It begins with this.
    Begins(String),
    /// Whether it is there.
    There(bool),
    /// All of these hold.
    All(Vec<Condition>),
}

impl Condition {
    /// Whether it holds for the value at a path, if there is one.
    pub fn holds(&self, value: Option<&Json>) -> bool {
        let text = value.and_then(text);
        let number = || text.as_deref().and_then(|text| text.trim().parse::<f64>().ok());
        match self {
            Condition::Is(wanted) => text.is_some_and(|text| same(&text, wanted)),
            Condition::Not(wanted) => !text.is_some_and(|text| same(&text, wanted)),
            Condition::OneOf(all) => text.is_some_and(|text| all.iter().any(|wanted| same(&text, wanted))),
            Condition::Above(bound) => number().is_some_and(|number| number > *bound),
            Condition::Below(bound) => number().is_some_and(|number| number < *bound),
            Condition::Begins(start) => text.is_some_and(|text| text.starts_with(start)),
            Condition::There(wanted) => value.is_some() == *wanted,
            Condition::All(all) => all.iter().all(|condition| condition.holds(value)),
        }
    }
}

/// Two texts are the same value also as numbers: 9.40 is 9.4.
fn same(text: &str, wanted: &str) -> bool {
    let number = |text: &str| text.trim().parse::<f64>().ok();
    text == wanted || number(text).is_some_and(|it| number(wanted) == Some(it))
}

/// The text of a value that is one.
pub(super) fn text(value: &Json) -> Option<String> {
    match value {
        Json::String(text) => Some(text.clone()),
        Json::Number(_) | Json::Bool(_) => Some(value.to_string()),
        Json::Object(object) => object.get("$text").and_then(text),
        Json::Null | Json::Array(_) => None,
    }
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn conditions_hold_for_what_they_say() {
        let holds = |condition: &Condition, value: Json| condition.holds(Some(&value));
        assert!(holds(&Condition::Is("9.40".into()), json!(9.4)));
        assert!(holds(&Condition::Is("N4".into()), json!({ "$text": "N4", "@side": "port" })));
        assert!(!holds(&Condition::Is("N4".into()), json!("N5")));
        assert!(holds(&Condition::Not("N4".into()), json!("N5")) && Condition::Not("N4".into()).holds(None));
        assert!(holds(&Condition::OneOf(vec!["N4".into(), "S2".into()]), json!("S2")));
        let between = Condition::All(vec![Condition::Above(9.0), Condition::Below(12.5)]);
        assert!(
            holds(&between, json!("12.4")) && !holds(&between, json!(9)) && !holds(&between, json!("deep"))
        );
        assert!(holds(&Condition::Begins("SM-".into()), json!("SM-4")));
        assert!(Condition::There(false).holds(None) && !holds(&Condition::There(false), json!([1])));
    }
}
