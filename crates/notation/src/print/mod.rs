//! Writes element infos in the notation. What a construct has no words for makes its writer give up, and the smallest
//! thing around it that can stand by itself is written as XML.

pub(crate) mod complex;
pub(crate) mod operation;
pub(crate) mod schema;
pub(crate) mod simple;
pub(crate) mod taking;
pub(crate) mod verbatim;
pub(crate) mod wsdl;

use charter_source::QName;

use crate::info::ElementInfo;
use crate::layout::Line;
use crate::prefixes::Prefixes;

/// Writes element infos, as seen from one namespace.
#[derive(Clone)]
pub(crate) struct Printer<'p> {
    pub prefixes: &'p Prefixes,
}

impl Printer<'_> {
    pub(crate) fn name(&self, name: &QName) -> String {
        self.prefixes.name(name)
    }

    pub(crate) fn type_name(&self, name: &QName) -> String {
        self.prefixes.type_name(name)
    }

    /// An entry, or the element info as XML if there are no words for it.
    pub(crate) fn or_verbatim(&self, info: &ElementInfo, entry: Option<Line>) -> Line {
        entry.unwrap_or_else(|| self.verbatim(info))
    }
}

/// How often, behind the name of a type; `None` if the bounds are no numbers.
pub(crate) fn mark(min: Option<&str>, max: Option<&str>) -> Option<String> {
    let is_number = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
    let (min, max) = (min.unwrap_or("1"), max.unwrap_or("1"));
    if !is_number(min) || !(is_number(max) || max == "unbounded") {
        return None;
    }
    Some(match (min, max) {
        ("1", "1") => String::new(),
        ("0", "1") => "?".to_owned(),
        ("0", "unbounded") => "*".to_owned(),
        ("1", "unbounded") => "+".to_owned(),
        (min, "unbounded") => format!("[{min}..]"),
        (min, max) if min == max => format!("[{min}]"),
        (min, max) => format!("[{min}..{max}]"),
    })
}

/// The documentation of something that has a block: the first lines in it.
pub(crate) fn about_lines(about: &[String]) -> Vec<Line> {
    about.iter().map(|about| Line::of(about.clone())).collect()
}

/// The documentation of something on one line: behind it.
pub(crate) fn about_tail(about: &[String]) -> String {
    about.iter().map(|about| format!(" {about}")).collect()
}
