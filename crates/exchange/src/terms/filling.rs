//! A text, and what stands in its braces: values of the request, names that values were kept by, columns of a row, times,
//! counters, what is random.

use std::collections::BTreeMap;

use charter_message::values::steps;
use jiff::{SignedDuration, Timestamp, Unit};
use serde_json::Value as Json;

use super::value::{at, text, whole_at};

/// A text with what is worked out each time.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Filling(Vec<Piece>);

/// A text that is nothing but a value in braces.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Lone {
    /// A value of the request.
    Value,
    /// A column of a row.
    Column,
}

/// What a text is filled from.
#[derive(Clone, Copy)]
pub(crate) struct Given<'g> {
    /// The values of the request.
    pub values: &'g Json,
    /// Values that have a name, which come before those of the request.
    pub named: &'g BTreeMap<String, Json>,
    /// A row of a table, if one is spoken of.
    pub row: Option<Row<'g>>,
    /// The so-many-th time.
    pub count: u64,
}

/// A row of a table.
#[derive(Clone, Copy)]
pub(crate) struct Row<'g> {
    /// Its number in the table, which no other row of it ever has.
    pub number: u64,
    /// Its columns.
    pub columns: &'g serde_json::Map<String, Json>,
}

#[derive(Debug, Clone, PartialEq)]
enum Piece {
    Plain(String),
    /// The value of that name, or of the request at a wire path.
    Value(String),
    /// A column of the row.
    Column(String),
    /// The number of the row, counted from a number.
    Number(u64),
    /// The time of now, and so much later.
    Now(SignedDuration),
    /// The day of today, and so many days later.
    Today(i64),
    /// How many requests this reply has answered, counted from a number.
    Counter(u64),
    /// An identifier that nothing else has.
    Uuid,
    /// A number between two.
    Between(i64, i64),
    /// One of some texts.
    OneOf(Vec<String>),
}

/// Why a text has no meaning.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub(crate) enum NotFilled {
    /// A brace is open.
    #[error("a brace is not closed")]
    Open,
    /// The words in braces mean nothing.
    #[error("\"{0}\" means nothing in braces")]
    Unknown(String),
    /// The request has no value at a path.
    #[error("the request has no value at \"{0}\"")]
    Missing(String),
    /// The row has no such column.
    #[error("the row has no \"{0}\"")]
    NoColumn(String),
    /// There is no row.
    #[error("\"{0}\" is of a row, and no row is spoken of")]
    NoRow(String),
}

impl Filling {
    /// Reads a text; two braces stand for one.
    pub fn parse(text: &str) -> Result<Filling, NotFilled> {
        let mut pieces = Vec::new();
        let mut plain = String::new();
        let mut rest = text;
        while let Some(at) = rest.find(['{', '}']) {
            plain.push_str(&rest[..at]);
            let brace = &rest[at..=at];
            rest = &rest[at + 1..];
            if let Some(after) = rest.strip_prefix(brace) {
                plain.push_str(brace);
                rest = after;
            } else if brace == "}" {
                plain.push('}');
            } else {
                let (inside, after) = rest.split_once('}').ok_or(NotFilled::Open)?;
                pieces.push(Piece::Plain(std::mem::take(&mut plain)));
                pieces.push(piece(inside.trim())?);
                rest = after;
            }
        }
        plain.push_str(rest);
        pieces.push(Piece::Plain(plain));
        pieces.retain(|piece| *piece != Piece::Plain(String::new()));
        Ok(Filling(pieces))
    }

    /// The wire paths of the request that it speaks of.
    pub fn paths(&self) -> impl Iterator<Item = &str> {
        self.0.iter().filter_map(|piece| match piece {
            Piece::Value(path) => Some(path.as_str()),
            _ => None,
        })
    }

    /// Whether it is the same each time, whatever is given.
    pub fn is_fixed(&self) -> bool {
        self.0.iter().all(|piece| matches!(piece, Piece::Plain(_)))
    }

    /// What it is, if it is nothing but a value in braces.
    pub fn lone(&self) -> Option<Lone> {
        match self.0.as_slice() {
            [Piece::Value(_)] => Some(Lone::Value),
            [Piece::Column(_)] => Some(Lone::Column),
            _ => None,
        }
    }

    /// The columns of a row that it speaks of.
    pub fn columns(&self) -> impl Iterator<Item = &str> {
        self.0.iter().filter_map(|piece| match piece {
            Piece::Column(name) => Some(name.as_str()),
            _ => None,
        })
    }

    /// Whether it speaks of a row.
    pub fn needs_row(&self) -> bool {
        self.0.iter().any(|piece| matches!(piece, Piece::Column(_) | Piece::Number(_)))
    }

    /// What it comes to as a value: if it is nothing but a value in braces, that value with all that is in it, or none if
    /// there is none; else a text.
    pub fn value(&self, given: &Given<'_>) -> Result<Option<Json>, NotFilled> {
        match self.0.as_slice() {
            [Piece::Value(path)] => {
                let named = given.named.get(path);
                Ok(named.or_else(|| whole_at(given.values, path)).cloned())
            }
            [Piece::Column(name)] => {
                let row = given.row.ok_or_else(|| NotFilled::NoRow(format!("row.{name}")))?;
                Ok(row.columns.get(name).cloned())
            }
            _ => self.filled(given).map(Json::String).map(Some),
        }
    }

    /// The text that it comes to.
    pub fn filled(&self, given: &Given<'_>) -> Result<String, NotFilled> {
        let mut result = String::new();
        for piece in &self.0 {
            match piece {
                Piece::Plain(text) => result.push_str(text),
                Piece::Value(path) => {
                    let value = found(given, path).and_then(text);
                    result.push_str(&value.ok_or_else(|| NotFilled::Missing(path.clone()))?);
                }
                Piece::Column(name) => {
                    let value = text(column(given, name)?);
                    result.push_str(&value.ok_or_else(|| NotFilled::NoColumn(name.clone()))?);
                }
                Piece::Number(from) => {
                    let row = given.row.ok_or_else(|| NotFilled::NoRow("number".to_owned()))?;
                    result.push_str(&(from + row.number - 1).to_string());
                }
                Piece::Now(later) => result.push_str(&shown(*later, "%Y-%m-%dT%H:%M:%SZ")),
                Piece::Today(days) => {
                    result.push_str(&shown(SignedDuration::from_hours(days * 24), "%Y-%m-%d"))
                }
                Piece::Counter(from) => result.push_str(&(from + given.count - 1).to_string()),
                Piece::Uuid => result.push_str(&uuid::Uuid::new_v4().to_string()),
                Piece::Between(from, to) => result.push_str(&fastrand::i64(*from..=*to).to_string()),
                Piece::OneOf(all) => result.push_str(fastrand::choice(all).map_or("", String::as_str)),
            }
        }
        Ok(result)
    }
}

/// The value of a name, or of the request at a wire path.
fn found<'g>(given: &Given<'g>, path: &str) -> Option<&'g Json> {
    given.named.get(path).or_else(|| at(given.values, path))
}

fn column<'g>(given: &Given<'g>, name: &str) -> Result<&'g Json, NotFilled> {
    let row = given.row.ok_or_else(|| NotFilled::NoRow(format!("row.{name}")))?;
    row.columns.get(name).ok_or_else(|| NotFilled::NoColumn(name.to_owned()))
}

fn shown(later: SignedDuration, form: &str) -> String {
    let now = Timestamp::now();
    now.checked_add(later).unwrap_or(now).strftime(form).to_string()
}

/// What stands in braces.
fn piece(words: &str) -> Result<Piece, NotFilled> {
    let unknown = || NotFilled::Unknown(words.to_owned());
    let (first, rest) =
        words.split_once(char::is_whitespace).map_or((words, ""), |(first, rest)| (first, rest.trim()));
    Ok(match (first, rest) {
        ("uuid", "") => Piece::Uuid,
        ("now", later) => Piece::Now(offset(later).ok_or_else(unknown)?),
        ("today", later) => {
            let hours = offset(later).ok_or_else(unknown)?.as_hours();
            Piece::Today(if hours % 24 == 0 { hours / 24 } else { return Err(unknown()) })
        }
        ("counter", "") => Piece::Counter(1),
        ("counter", from) => Piece::Counter(from.parse().map_err(|_| unknown())?),
        ("number", "") => Piece::Number(1),
        ("number", from) => Piece::Number(from.parse().map_err(|_| unknown())?),
        (name, "") if name.starts_with("row.") => Piece::Column(name[4..].to_owned()),
        ("random", choice) => match choice.split_once("..") {
            Some((from, to)) => {
                let (from, to) = (from.trim().parse().ok(), to.trim().parse().ok());
                match (from, to) {
                    (Some(from), Some(to)) if from <= to => Piece::Between(from, to),
                    _ => return Err(unknown()),
                }
            }
            None if choice.is_empty() => return Err(unknown()),
            None => Piece::OneOf(choice.split('|').map(|word| word.trim().to_owned()).collect()),
        },
        (path, "") if steps(path).is_ok() => Piece::Value(path.to_owned()),
        _ => return Err(unknown()),
    })
}

/// How much later, or earlier: `+ 2h`, `- 3d`, `+ 90m`, or nothing.
fn offset(text: &str) -> Option<SignedDuration> {
    if text.is_empty() {
        return Some(SignedDuration::ZERO);
    }
    let sign = match text.chars().next()? {
        '+' => 1,
        '-' => -1,
        _ => return None,
    };
    let amount = text[1..].trim();
    let (number, unit) = amount.split_at(amount.find(|c: char| !c.is_ascii_digit())?);
    let number = number.parse::<i64>().ok().filter(|number| *number < 1_000_000)? * sign;
    let unit = match unit.trim() {
        "s" => Unit::Second,
        "m" => Unit::Minute,
        "h" => Unit::Hour,
        "d" => Unit::Day,
        _ => return None,
    };
    Some(match unit {
        Unit::Second => SignedDuration::from_secs(number),
        Unit::Minute => SignedDuration::from_mins(number),
        Unit::Hour => SignedDuration::from_hours(number),
        _ => SignedDuration::from_hours(number * 24),
    })
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn braces_are_worked_out() {
        let values =
            json!({ "vessel": { "name": "Marsh Harrier", "hazard": [{ "class": 4 }, { "class": 5 }] } });
        let named = BTreeMap::from([("booking".to_owned(), json!("SM-417000"))]);
        let columns = json!({ "depth": 9.4, "vessel": { "name": "Kittiwake" } });
        let row = Some(Row { number: 7, columns: columns.as_object().unwrap() });
        let given = Given { values: &values, named: &named, row, count: 3 };
        let filled = |text: &str| Filling::parse(text).and_then(|filling| filling.filled(&given));
        assert_eq!(filled("{booking}, {row.depth} m, {number 100}"), Ok("SM-417000, 9.4 m, 106".into()));
        assert_eq!(filled("{row.draught}"), Err(NotFilled::NoColumn("draught".into())));
        let whole = Filling::parse("{row.vessel}").unwrap();
        assert_eq!(whole.value(&given), Ok(Some(json!({ "name": "Kittiwake" }))));
        let several = Filling::parse("{vessel/hazard}").unwrap().value(&given);
        assert_eq!(several, Ok(Some(json!([{ "class": 4 }, { "class": 5 }]))));
        assert_eq!(Filling::parse("{row.draught}").unwrap().value(&given), Ok(None));
        assert_eq!(whole.value(&Given { row: None, ..given }), Err(NotFilled::NoRow("row.vessel".into())));
        assert!(whole.needs_row() && !whole.is_fixed() && Filling::parse("N4 {{").unwrap().is_fixed());
        assert_eq!(filled("plain {{4}}"), Ok("plain {4}".into()));
        assert_eq!(
            filled("for {vessel/name}, {vessel/hazard[2]/class}/{vessel/hazard/class}"),
            Ok("for Marsh Harrier, 5/4".into())
        );
        assert_eq!(filled("SM-{counter 417000}{counter}"), Ok("SM-4170023".into()));
        assert_eq!(filled("{random 7..7}{random N4}"), Ok("7N4".into()));
        assert_eq!(filled("{today + 2d}").unwrap().len(), 10);
        assert!(filled("{now - 90m}").unwrap().ends_with('Z'));
        assert_eq!(filled("{uuid}").unwrap().len(), 36);
        assert_eq!(filled("{vessel/mane}"), Err(NotFilled::Missing("vessel/mane".into())));
        for wrong in ["{now + 2}", "{random}", "{random 9..1}", "{counter x}", "{a b c}", "{today + 1h}"] {
            assert!(matches!(filled(wrong), Err(NotFilled::Unknown(_))), "{wrong}");
        }
        assert_eq!(filled("{vessel"), Err(NotFilled::Open));
    }
}
