//! What must hold for a value.

use std::sync::Arc;

use charter_schema::Pattern;
use serde_json::Value as Json;

use super::filling::{Filling, Given, NotFilled};
use super::value::text;

/// What must hold for a value. What it is compared with is a text, or at first a pattern that comes to one.
#[derive(Debug, Clone, PartialEq)]
pub enum Condition<T = String> {
    /// It is this.
    Is(T),
    /// It is not this, or not there.
    Not(T),
    /// It is one of these.
    OneOf(Vec<T>),
    /// It is a number above this.
    Above(f64),
    /// It is a number below this.
    Below(f64),
    /// It is a number between these two, or one of them.
    Between(f64, f64),
    /// It begins with this.
    Begins(T),
    /// All of it matches a pattern.
    Like(Like),
    /// Whether it is there.
    There(bool),
    /// It is there, and differs from one time to the next.
    Varies,
    /// All of these hold.
    All(Vec<Condition<T>>),
}

/// A pattern of XML Schema (Part 2, appendix F).
#[derive(Debug, Clone)]
pub struct Like {
    /// The pattern, as it is written.
    pub text: String,
    pattern: Arc<Pattern>,
}

impl Like {
    /// Reads a pattern.
    ///
    /// # Errors
    /// If it is none.
    pub(crate) fn parse(text: &str) -> Result<Like, charter_schema::PatternError> {
        Ok(Like { text: text.to_owned(), pattern: Arc::new(Pattern::new([text])?) })
    }
}

impl PartialEq for Like {
    fn eq(&self, other: &Like) -> bool {
        self.text == other.text
    }
}

impl Condition {
    /// Whether it holds for a value, if there is one.
    pub fn holds(&self, value: Option<&Json>) -> bool {
        let text = value.and_then(text);
        let number = || text.as_deref().and_then(|text| text.trim().parse::<f64>().ok());
        match self {
            Condition::Is(wanted) => text.is_some_and(|text| same(&text, wanted)),
            Condition::Not(wanted) => !text.is_some_and(|text| same(&text, wanted)),
            Condition::OneOf(all) => text.is_some_and(|text| all.iter().any(|wanted| same(&text, wanted))),
            Condition::Above(bound) => number().is_some_and(|number| number > *bound),
            Condition::Below(bound) => number().is_some_and(|number| number < *bound),
            Condition::Between(from, to) => number().is_some_and(|number| (*from..=*to).contains(&number)),
            Condition::Begins(start) => text.is_some_and(|text| text.starts_with(start)),
            Condition::Like(like) => text.is_some_and(|text| like.pattern.matches(&text)),
            Condition::There(wanted) => value.is_some() == *wanted,
            Condition::Varies => value.is_some(),
            Condition::All(all) => all.iter().all(|condition| condition.holds(value)),
        }
    }
}

impl Condition<Filling> {
    /// The same with what its braces come to.
    pub(crate) fn filled(&self, given: &Given<'_>) -> Result<Condition, NotFilled> {
        let text = |filling: &Filling| filling.filled(given);
        Ok(match self {
            Condition::Is(wanted) => Condition::Is(text(wanted)?),
            Condition::Not(wanted) => Condition::Not(text(wanted)?),
            Condition::Begins(start) => Condition::Begins(text(start)?),
            Condition::OneOf(all) => Condition::OneOf(all.iter().map(text).collect::<Result<_, _>>()?),
            Condition::All(all) => {
                Condition::All(all.iter().map(|one| one.filled(given)).collect::<Result<_, _>>()?)
            }
            Condition::Above(bound) => Condition::Above(*bound),
            Condition::Below(bound) => Condition::Below(*bound),
            Condition::Between(from, to) => Condition::Between(*from, *to),
            Condition::Like(like) => Condition::Like(like.clone()),
            Condition::There(wanted) => Condition::There(*wanted),
            Condition::Varies => Condition::Varies,
        })
    }

    /// The texts in it.
    pub(crate) fn fillings(&self) -> Vec<&Filling> {
        match self {
            Condition::Is(one) | Condition::Not(one) | Condition::Begins(one) => vec![one],
            Condition::OneOf(all) => all.iter().collect(),
            Condition::All(all) => all.iter().flat_map(Condition::fillings).collect(),
            _ => Vec::new(),
        }
    }
}

/// Two texts are the same value also as numbers, and as moments: 9.40 is 9.4, and 06:30Z is 07:30+01:00.
fn same(text: &str, wanted: &str) -> bool {
    let number = |text: &str| text.trim().parse::<f64>().ok();
    let moment = |text: &str| text.trim().parse::<jiff::Timestamp>().ok();
    text == wanted
        || number(text).is_some_and(|it| number(wanted) == Some(it))
        || moment(text).is_some_and(|it| moment(wanted) == Some(it))
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn conditions_hold_for_what_they_say() {
        let holds = |condition: &Condition, value: Json| condition.holds(Some(&value));
        assert!(holds(&Condition::Is("9.40".into()), json!(9.4)));
        assert!(holds(&Condition::Is("2026-03-14T06:30:00Z".into()), json!("2026-03-14T07:30:00+01:00")));
        assert!(holds(&Condition::Is("N4".into()), json!({ "$text": "N4", "@side": "port" })));
        assert!(!holds(&Condition::Is("N4".into()), json!("N5")));
        assert!(holds(&Condition::Not("N4".into()), json!("N5")) && Condition::Not("N4".into()).holds(None));
        assert!(holds(&Condition::OneOf(vec!["N4".into(), "S2".into()]), json!("S2")));
        let between = Condition::All(vec![Condition::Above(9.0), Condition::Below(12.5)]);
        assert!(
            holds(&between, json!("12.4")) && !holds(&between, json!(9)) && !holds(&between, json!("deep"))
        );
        let range = Condition::Between(9.0, 12.5);
        assert!(holds(&range, json!(9)) && holds(&range, json!("12.50")) && !holds(&range, json!(12.6)));
        assert!(holds(&Condition::Begins("SM-".into()), json!("SM-4")));
        let like = Condition::Like(Like::parse("SM-\\d{6}").unwrap());
        assert!(holds(&like, json!("SM-417000")) && !holds(&like, json!("SM-4170001")));
        assert!(Condition::There(false).holds(None) && !holds(&Condition::There(false), json!([1])));
        assert!(holds(&Condition::Is("en nl".into()), json!(["en", "nl"])));
        assert!(holds(&Condition::Varies, json!({})) && !Condition::<String>::Varies.holds(None));
    }

    #[test]
    fn a_number_is_a_number_however_it_is_written() {
        let forms = ["9.4", "9.40", "09.4", "+9.4", "0.94e1", " 9.4 "];
        for one in forms {
            for other in forms.iter().chain(&["9.400000"]) {
                assert!(Condition::Is(one.to_owned()).holds(Some(&json!(other))), "{one} {other}");
            }
            for other in ["9.41", "9", "94", "9.4.0", "nine", ""] {
                assert!(!Condition::Is(one.to_owned()).holds(Some(&json!(other))), "{one} {other}");
                assert!(Condition::Not(one.to_owned()).holds(Some(&json!(other))), "{one} {other}");
            }
        }
        // A range has no room for what is no number.
        for odd in [json!("NaN"), json!("deep"), json!(null), json!({}), json!([]), json!(true)] {
            assert!(!Condition::<String>::Between(f64::MIN, f64::MAX).holds(Some(&odd)), "{odd}");
        }
        assert!(!Condition::<String>::Above(0.0).holds(None) && !Condition::<String>::Below(0.0).holds(None));
    }

    #[test]
    fn what_is_not_there_is_nothing_and_not_an_empty_text() {
        assert!(!Condition::Is(String::new()).holds(None));
        assert!(Condition::Is(String::new()).holds(Some(&json!(""))));
        assert!(!Condition::Begins(String::new()).holds(None));
        assert!(!Condition::OneOf(vec![String::new()]).holds(None));
        assert!(!Condition::Like(Like::parse(".*").unwrap()).holds(None));
        assert!(Condition::<String>::All(Vec::new()).holds(None));
    }
}
