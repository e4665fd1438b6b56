//! Values: what a lexical form of a built-in type means, when two are the same, and which comes first.

mod binary;
mod decimal;
mod duration;
mod lexical;
mod moment;
mod uri;

use std::borrow::Cow;
use std::cmp::Ordering;
use std::fmt;

use charter_source::QName;

use crate::{Builtin, WhiteSpace};
pub(crate) use decimal::Decimal;
pub use duration::Duration;
pub use lexical::is_lexical;
pub use moment::Moment;

/// A value of a simple type. Two are equal if they are the same value of the same primitive type
/// (Part 2, 4.2.1); the hash agrees with that, so that enumerations and keys can be looked up. Since there may be many,
/// the larger ones are boxed.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum Value {
    /// Characters.
    Text(Box<str>),
    /// A URI reference.
    Uri(Box<str>),
    /// True or false.
    Boolean(bool),
    /// A decimal, in its canonical form.
    Decimal(Box<str>),
    /// A single-precision number by its bits; all zeros are one, and so is every NaN.
    Float(u32),
    /// A double-precision number likewise.
    Double(u64),
    /// A duration.
    Duration(Box<Duration>),
    /// A date or time of the given primitive type.
    Moment(Builtin, Box<Moment>),
    /// Octets, written in hex.
    Hex(Box<[u8]>),
    /// Octets, written in base64.
    Base64(Box<[u8]>),
    /// A name.
    Name(Box<QName>),
    /// The name of a notation.
    Notation(Box<QName>),
    /// A list.
    List(Vec<Value>),
}

impl Value {
    /// The value of a text, its white space already treated, as one of the built-in atomic type. `name` says
    /// what a prefix means, for names.
    pub fn parse(ty: Builtin, text: &str, name: impl FnOnce(&str) -> Option<QName>) -> Option<Value> {
        if !is_lexical(ty, text) {
            return None;
        }
        Some(match ty.primitive() {
            Builtin::Boolean => Value::Boolean(matches!(text, "true" | "1")),
            Builtin::Decimal => Value::Decimal(Decimal::parse(text)?.canonical().into()),
            Builtin::Float => {
                let number = special(text).map_or_else(|| text.parse::<f32>(), |it| Ok(it as f32)).ok()?;
                Value::Float(if number == 0.0 { 0 } else { number.to_bits() })
            }
            Builtin::Double => {
                let number = special(text).map_or_else(|| text.parse::<f64>(), Ok).ok()?;
                Value::Double(if number == 0.0 { 0 } else { number.to_bits() })
            }
            Builtin::Duration => Value::Duration(Box::new(Duration::parse(text)?)),
            Builtin::HexBinary => Value::Hex(binary::hex(text)?.into()),
            Builtin::Base64Binary => Value::Base64(binary::base64(text)?.into()),
            Builtin::AnyUri => Value::Uri(text.into()),
            Builtin::QName => Value::Name(Box::new(name(text)?)),
            Builtin::Notation => Value::Notation(Box::new(name(text)?)),
            primitive => match Moment::parse(primitive, text) {
                Some(moment) => Value::Moment(primitive, Box::new(moment)),
                None => Value::Text(text.into()),
            },
        })
    }

    /// How long the value is, in the unit of its type (Part 2, 4.3.1): characters, octets or items.
    pub fn length(&self) -> Option<u64> {
        match self {
            Value::Text(text) | Value::Uri(text) => Some(text.chars().count() as u64),
            Value::Hex(octets) | Value::Base64(octets) => Some(octets.len() as u64),
            Value::List(items) => Some(items.len() as u64),
            _ => None,
        }
    }
}

/// The value in a form to be read by people.
impl fmt::Display for Value {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Value::Text(text) | Value::Uri(text) | Value::Decimal(text) => f.write_str(text),
            Value::Boolean(value) => write!(f, "{value}"),
            Value::Float(bits) => write!(f, "{}", f32::from_bits(*bits)),
            Value::Double(bits) => write!(f, "{}", f64::from_bits(*bits)),
            Value::Duration(_) => f.write_str("this duration"),
            Value::Moment(..) => f.write_str("this time"),
            Value::Hex(octets) | Value::Base64(octets) => {
                octets.iter().try_for_each(|octet| write!(f, "{octet:02X}"))
            }
            Value::Name(name) | Value::Notation(name) => write!(f, "{name}"),
            Value::List(items) => {
                let items: Vec<String> = items.iter().map(Value::to_string).collect();
                f.write_str(&items.join(" "))
            }
        }
    }
}

fn special(text: &str) -> Option<f64> {
    match text {
        "INF" => Some(f64::INFINITY),
        "-INF" => Some(f64::NEG_INFINITY),
        "NaN" => Some(f64::NAN),
        _ => None,
    }
}

impl PartialOrd for Value {
    /// The order of the value space (Part 2, 4.2.2.1); `None` where there is none.
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        match (self, other) {
            (Value::Decimal(a), Value::Decimal(b)) => Decimal::parse(a)?.partial_cmp(&Decimal::parse(b)?),
            // Equal by their bits first: NaN is the same as itself, though it is neither less nor greater.
            (a, b) if a == b => Some(Ordering::Equal),
            (Value::Float(a), Value::Float(b)) => f32::from_bits(*a).partial_cmp(&f32::from_bits(*b)),
            (Value::Double(a), Value::Double(b)) => f64::from_bits(*a).partial_cmp(&f64::from_bits(*b)),
            (Value::Duration(a), Value::Duration(b)) => a.partial_cmp(b),
            (Value::Moment(kind, a), Value::Moment(other, b)) if kind == other => a.partial_cmp(b),
            _ => None,
        }
    }
}

/// Compares two values of a built-in type in its value space; `None` where they cannot be compared.
///
/// Decimals compare exactly, whatever their length (Part 2, 3.2.3); dates and durations are ordered in part.
///
/// ```
/// use std::cmp::Ordering;
/// use charter_schema::{Builtin, compare_values};
///
/// assert_eq!(compare_values(Builtin::Decimal, "0.50", "0.5"), Some(Ordering::Equal));
/// assert_eq!(compare_values(Builtin::Int, "-10", "9"), Some(Ordering::Less));
/// assert_eq!(compare_values(Builtin::Duration, "P1M", "P30D"), None);
/// ```
pub fn compare_values(builtin: Builtin, a: &str, b: &str) -> Option<Ordering> {
    let primitive = builtin.primitive();
    let value = |text: &str| Value::parse(primitive, text.trim(), |name| Some(QName::new("", name)));
    value(a)?.partial_cmp(&value(b)?)
}

impl WhiteSpace {
    /// The text with its white space treated (Part 2, 4.3.6).
    pub fn normalize(self, text: &str) -> Cow<'_, str> {
        let is_space = |c: char| matches!(c, ' ' | '\t' | '\n' | '\r');
        match self {
            WhiteSpace::Preserve => Cow::Borrowed(text),
            WhiteSpace::Replace if text.contains(['\t', '\n', '\r']) => {
                Cow::Owned(text.replace(['\t', '\n', '\r'], " "))
            }
            WhiteSpace::Replace => Cow::Borrowed(text),
            WhiteSpace::Collapse => {
                let trimmed = text.trim_matches(is_space);
                let bytes = trimmed.as_bytes();
                let untidy = |at: usize| match bytes[at] {
                    b'\t' | b'\n' | b'\r' => true,
                    b' ' => bytes[at - 1] == b' ',
                    _ => false,
                };
                if !(1..bytes.len()).any(untidy) {
                    return Cow::Borrowed(trimmed);
                }
                let words: Vec<&str> = trimmed.split(is_space).filter(|word| !word.is_empty()).collect();
                Cow::Owned(words.join(" "))
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn value(ty: Builtin, text: &str) -> Value {
        Value::parse(ty, text, |name| Some(QName::new("", name))).unwrap_or_else(|| panic!("{ty:?} {text}"))
    }

    #[test]
    fn the_same_value_in_other_forms() {
        use Builtin::*;
        for (ty, a, b) in [
            (Boolean, "1", "true"),
            (Decimal, "+01.50", "1.5"),
            (Float, "-0", "0.0E5"),
            (Double, "1e3", "1000"),
            (Float, "16777217", "16777216"),
            (HexBinary, "0a", "0A"),
            (Base64Binary, "U2Fs", "U 2 F s"),
            (DateTime, "2026-03-14T12:00:00Z", "2026-03-14T11:00:00-01:00"),
        ] {
            assert_eq!(value(ty, a), value(ty, b), "{ty:?}");
        }
        assert_eq!(value(Float, "NaN"), value(Float, "NaN"));
        assert_ne!(value(Double, "16777217"), value(Double, "16777216"));
        assert_ne!(value(HexBinary, "4A"), value(Base64Binary, "Sg=="));
    }

    #[test]
    fn orders_that_do_not_exist() {
        use Builtin::*;
        assert_eq!(value(Float, "NaN").partial_cmp(&value(Float, "1")), None);
        assert_eq!(value(String, "a").partial_cmp(&value(String, "b")), None);
        assert_eq!(value(Float, "-INF").partial_cmp(&value(Float, "INF")), Some(Ordering::Less));
    }

    #[test]
    fn white_space() {
        assert_eq!(WhiteSpace::Collapse.normalize(" a \t b\n"), "a b");
        assert_eq!(WhiteSpace::Collapse.normalize("a b"), "a b");
        assert_eq!(WhiteSpace::Collapse.normalize("  "), "");
        assert_eq!(WhiteSpace::Replace.normalize(" a\tb\n"), " a b ");
        assert_eq!(WhiteSpace::Preserve.normalize("\t"), "\t");
        // A no-break space is no white space.
        assert_eq!(WhiteSpace::Collapse.normalize("\u{A0}a"), "\u{A0}a");
    }
}
