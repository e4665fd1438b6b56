//! What is wrong with a value, in words.

use std::sync::Arc;

use super::datatype::{Datatype, Limit};
use super::enumeration::Texts;
use super::wording::{LISTED, article, quoted, shown};
use crate::{Builtin, FacetKind};

/// Why a value was refused: the clause that it breaks, and what to say about it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Violation {
    /// The name of the clause, a rule of the catalogue.
    pub rule: &'static str,
    /// What is wrong.
    pub message: String,
    /// What to write instead.
    pub help: String,
}

impl Violation {
    /// The rule of what was not judged.
    pub(crate) const OPEN: &'static str = "schema-size";

    /// Whether it was not judged at all.
    pub fn is_open(&self) -> bool {
        self.rule == Violation::OPEN
    }

    fn new(rule: &'static str, message: String, help: String) -> Violation {
        Violation { rule, message, help }
    }

    pub(super) fn not_a(text: &str, builtin: Builtin) -> Violation {
        let message = format!("{} is not {}", quoted(text), article(builtin.name()));
        Violation::new("cvc-datatype-valid", message, format!("write {}", form(builtin)))
    }

    pub(super) fn no_member(text: &str, members: &[Arc<Datatype>]) -> Violation {
        let all: Vec<String> = members.iter().take(LISTED).map(|member| member.describe()).collect();
        let message = format!("{} fits none of the types that it may have", quoted(text));
        Violation::new("cvc-datatype-valid", message, format!("allowed is {}", all.join(", or ")))
    }

    pub(super) fn not_listed(text: &str, texts: &Texts) -> Violation {
        let near = charter_source::nearest(text, texts.iter().take(1000));
        let help = match near {
            Some(near) => format!("did you mean \"{near}\"?"),
            None => format!("allowed is {}", shown(texts.iter(), texts.len())),
        };
        Violation::new(
            "cvc-enumeration-valid",
            format!("{} is not one of the listed values", quoted(text)),
            help,
        )
    }

    pub(super) fn no_match(text: &str, patterns: &[Box<str>]) -> Violation {
        let message = format!("{} does not have the required form", quoted(text));
        Violation::new(
            "cvc-pattern-valid",
            message,
            format!("it must match {}", shown(patterns.iter().map(|text| &**text), patterns.len())),
        )
    }

    /// What nobody knows, because to find out takes too long.
    pub(super) fn open(text: &str) -> Violation {
        let message =
            format!("whether {} has the required form would take too long to find out", quoted(text));
        Violation::new(
            Violation::OPEN,
            message,
            "use length facets, or fewer repetitions in each other".into(),
        )
    }

    pub(super) fn no_notation(text: &str) -> Violation {
        let message = format!("there is no notation {}", quoted(text));
        Violation::new("cvc-datatype-valid", message, "name a notation that the schema declares".into())
    }

    pub(super) fn no_prefix(text: &str) -> Violation {
        let prefix = text.split_once(':').map_or("", |(prefix, _)| prefix);
        let message = format!("the prefix \"{prefix}\" is not declared");
        let help = format!("add xmlns:{prefix}=\"…\" to this element or to one around it");
        Violation::new("cvc-datatype-valid", message, help)
    }

    pub(super) fn no_entity(text: &str) -> Violation {
        let message = format!("there is no unparsed entity {}", quoted(text));
        let help = "declare it in the document type, with NDATA".into();
        Violation::new("cvc-simple-type", message, help)
    }

    pub(super) fn length(
        kind: FacetKind,
        text: &str,
        found: u64,
        asked: Option<u64>,
        unit: &str,
    ) -> Violation {
        let asked = asked.unwrap_or(0);
        let units = |count: u64| format!("{count} {unit}{}", if count == 1 { "" } else { "s" });
        let (rule, bound) = match kind {
            FacetKind::MinLength => ("cvc-minLength-valid", "at least "),
            FacetKind::MaxLength => ("cvc-maxLength-valid", "at most "),
            _ => ("cvc-length-valid", "exactly "),
        };
        let message = format!("{} has {}", quoted(text), units(found));
        Violation::new(rule, message, format!("write {bound}{}", units(asked)))
    }

    pub(super) fn digits(kind: FacetKind, text: &str, found: u64, most: u64) -> Violation {
        let (rule, what) = match kind {
            FacetKind::TotalDigits => ("cvc-totalDigits-valid", "digits"),
            _ => ("cvc-fractionDigits-valid", "digits after the point"),
        };
        let message = format!("{} has {found} {what}", quoted(text));
        Violation::new(rule, message, format!("write at most {most}"))
    }

    pub(super) fn range(text: &str, limit: &Limit, least: bool) -> Violation {
        let (rule, what) = match (least, limit.inclusive) {
            (true, true) => ("cvc-minInclusive-valid", "at least"),
            (true, false) => ("cvc-minExclusive-valid", "more than"),
            (false, true) => ("cvc-maxInclusive-valid", "at most"),
            (false, false) => ("cvc-maxExclusive-valid", "less than"),
        };
        let message = format!("{} is not {what} {}", quoted(text), limit.text);
        Violation::new(rule, message, format!("write a value that is {what} {}", limit.text))
    }
}

/// What values of a built-in type look like.
fn form(builtin: Builtin) -> String {
    let bounds = match builtin.bounds() {
        (Some(least), Some(greatest)) => format!(" from {least} to {greatest}"),
        (Some(least), None) => format!(" from {least}"),
        (None, Some(greatest)) => format!(" up to {greatest}"),
        (None, None) => String::new(),
    };
    let example = match builtin.primitive() {
        Builtin::Boolean => "true or false",
        Builtin::Decimal if builtin.is_within(Builtin::Integer) => "a whole number",
        Builtin::Decimal => "a number such as 9.4",
        Builtin::Float | Builtin::Double => "a number such as 9.4, 1.2E3 or INF",
        Builtin::Duration => "a duration such as P1DT2H30M",
        Builtin::DateTime => "a date and time such as 2026-03-14T06:40:00Z",
        Builtin::Time => "a time such as 06:40:00",
        Builtin::Date => "a date such as 2026-03-14",
        Builtin::GYearMonth => "a month of a year such as 2026-03",
        Builtin::GYear => "a year such as 2026",
        Builtin::GMonthDay => "a day of a month such as --03-14",
        Builtin::GDay => "a day such as ---14",
        Builtin::GMonth => "a month such as --03",
        Builtin::HexBinary => "pairs of hexadecimal digits",
        Builtin::Base64Binary => "octets in base64",
        Builtin::AnyUri => "a URI, its % escapes whole",
        Builtin::QName | Builtin::Notation => "a name, with a declared prefix if it has one",
        _ => match builtin {
            Builtin::Language => "a language tag such as en or de-AT",
            Builtin::NmToken => "letters, digits, -, _, . and :",
            Builtin::Name => "a name; it begins with a letter, _ or :",
            _ => "a name; it begins with a letter or _ and holds no colon",
        },
    };
    format!("{example}{bounds}")
}
