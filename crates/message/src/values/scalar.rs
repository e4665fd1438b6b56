//! Values of simple types: text on the wire, and a number, a truth value, a string or a list among values.

use charter_schema::{Builtin, Context, Datatype, TypeId, Variety};
use charter_source::QName;
use serde_json::Value as Json;

use super::{Mapper, ValueError};
use crate::Text;

/// A context in which names may have any prefix: what they mean is settled when they are written.
pub(super) struct Free;

impl Context for Free {
    fn name(&self, text: &str) -> Option<QName> {
        Some(QName::new("", text))
    }

    fn has_notation(&self, _: &QName) -> bool {
        true
    }

    fn has_entity(&self, _: &str) -> bool {
        true
    }
}

/// A name as a value: its namespace in braces, if it has one.
pub(super) fn name_value(name: &QName) -> String {
    name.to_string()
}

/// The name that a value means.
pub(super) fn name_of(value: &str) -> QName {
    match value.strip_prefix('{').and_then(|rest| rest.split_once('}')) {
        Some((namespace, local)) => QName::new(namespace, local),
        None => QName::new("", value),
    }
}

impl Mapper<'_> {
    /// The value of a text.
    pub(super) fn scalar(&self, ty: TypeId, text: &Text) -> Json {
        match text {
            Text::Name(name) => Json::String(name_value(name)),
            Text::Names(names) => names.iter().map(|name| Json::String(name_value(name))).collect(),
            Text::Plain(text) => match self.engine.datatype(ty) {
                Some(datatype) => plain(datatype, text),
                None => Json::String(text.clone()),
            },
        }
    }

    /// The text of a value, which the type accepts.
    pub(super) fn text(&self, ty: TypeId, value: &Json, path: &str) -> Result<Text, ValueError> {
        let Some(datatype) = self.engine.datatype(ty) else {
            return Ok(Text::Plain(flat(value).unwrap_or_default()));
        };
        if is_name(datatype) && value.is_string() {
            return Ok(Text::Name(name_of(value.as_str().unwrap_or(""))));
        }
        if let (Variety::List(item), Json::Array(items)) = (&datatype.variety, value)
            && is_name(item)
        {
            return Ok(Text::Names(items.iter().map(|item| name_of(item.as_str().unwrap_or(""))).collect()));
        }
        if value.is_array() && !may_be_list(datatype) {
            let help = format!("its value is {}", datatype.describe());
            return Err(ValueError::new(path, "one value is wanted here, not a list", help));
        }
        let Some(text) = flat(value) else {
            let help = format!("its value is {}", datatype.describe());
            return Err(ValueError::new(path, "a value is wanted here, not a structure", help));
        };
        let text = match value {
            // A truth value may be written in two ways, and a type may have only one, or take the other for something
            // else.
            Json::Bool(_) => {
                let digit = if text == "true" { "1" } else { "0" };
                let means = |text: &str| {
                    datatype.accept(text, &Free, false).is_ok() && plain(datatype, text) == *value
                };
                if !means(&text) && means(digit) { digit.to_owned() } else { text }
            }
            _ => text,
        };
        match datatype.accept(&text, &Free, false) {
            Ok(_) => Ok(Text::Plain(text)),
            Err(_) if self.anyway => Ok(Text::Plain(text)),
            Err(violation) => Err(ValueError::new(path, violation.message, violation.help)),
        }
    }
}

/// Whether values of the type are names, whose prefixes mean something.
pub(super) fn is_name(datatype: &Datatype) -> bool {
    let primitive = datatype.builtin().map(Builtin::primitive);
    matches!(primitive, Some(Builtin::QName | Builtin::Notation))
}

/// Whether a value of the type may have several items.
fn may_be_list(datatype: &Datatype) -> bool {
    match &datatype.variety {
        Variety::List(_) => true,
        Variety::Union(members) => members.iter().any(|member| may_be_list(member)),
        Variety::Atomic(_) => false,
    }
}

/// The text of a value without structure; items of a list are parted by spaces.
fn flat(value: &Json) -> Option<String> {
    match value {
        Json::Bool(value) => Some(value.to_string()),
        Json::Number(number) => Some(number.to_string()),
        Json::String(text) => Some(text.clone()),
        Json::Array(items) => {
            let items: Option<Vec<String>> =
                items.iter().map(|item| if item.is_array() { None } else { flat(item) }).collect();
            Some(items?.join(" "))
        }
        Json::Null | Json::Object(_) => None,
    }
}

fn plain(datatype: &Datatype, text: &str) -> Json {
    match &datatype.variety {
        Variety::Atomic(builtin) => {
            let tidy = datatype.white_space.normalize(text);
            match builtin.primitive() {
                Builtin::Boolean => match &*tidy {
                    "true" | "1" => Json::Bool(true),
                    "false" | "0" => Json::Bool(false),
                    other => Json::String(other.to_owned()),
                },
                Builtin::Decimal | Builtin::Float | Builtin::Double if is_json_number(&tidy) => {
                    serde_json::from_str(&tidy).unwrap_or_else(|_| Json::String(tidy.into_owned()))
                }
                Builtin::Float | Builtin::Double => {
                    with_exponent(datatype, &tidy).unwrap_or_else(|| Json::String(tidy.into_owned()))
                }
                _ => Json::String(tidy.into_owned()),
            }
        }
        Variety::List(item) => text.split_ascii_whitespace().map(|word| plain(item, word)).collect(),
        Variety::Union(members) => {
            match members.iter().find(|member| member.accept(text, &Free, false).is_ok()) {
                // Written again, a list within a union might be taken for a value of another member.
                Some(member) if matches!(member.variety, Variety::List(_)) => Json::String(text.to_owned()),
                Some(member) => plain(member, text),
                None => Json::String(text.to_owned()),
            }
        }
    }
}

/// A number with an exponent. JSON has its own way to write one, which a pattern may not allow.
fn with_exponent(datatype: &Datatype, text: &str) -> Option<Json> {
    let (number, _) = text.split_once(['e', 'E'])?;
    let value: Json = serde_json::from_str(text).ok().filter(|_| is_json_number(number))?;
    datatype.accept(&value.to_string(), &Free, false).is_ok().then_some(value)
}

/// Whether a text is a number as JSON writes it (RFC 8259, section 6), without an exponent.
fn is_json_number(text: &str) -> bool {
    let bare = text.strip_prefix('-').unwrap_or(text);
    let (whole, fraction) = match bare.split_once('.') {
        Some((whole, fraction)) => (whole, Some(fraction)),
        None => (bare, None),
    };
    let digits = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
    digits(whole) && (whole == "0" || !whole.starts_with('0')) && fraction.is_none_or(digits)
}
