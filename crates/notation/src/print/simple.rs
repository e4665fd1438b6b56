//! Simple types and their facets.

use super::Printer;
use super::taking::Taking;
use crate::info::ElementInfo;
use crate::layout::{bare, quoted};

/// A type as it is used: what stands before the mark of occurrence, and what behind it.
pub(crate) struct TypeWords {
    pub head: String,
    pub facets: String,
}

impl TypeWords {
    pub fn text(&self) -> String {
        format!("{}{}", self.head, self.facets)
    }

    /// The words with a mark of occurrence.
    pub fn marked(&self, mark: &str) -> String {
        format!("{}{mark}{}", self.head, self.facets)
    }
}

/// The words behind `=` in the definition of a simple type, and its documentation.
pub(crate) struct Definition {
    pub words: String,
    pub about: Vec<String>,
}

impl Printer<'_> {
    /// What a `simpleType` without a name is; its documentation has no place here.
    pub(crate) fn inline_simple(&self, info: &ElementInfo) -> Option<TypeWords> {
        let mut taking = Taking::new(info);
        let words = self.derivation(taking.next()?)?;
        taking.done()?;
        Some(words)
    }

    pub(crate) fn simple_definition(&self, taking: &mut Taking<'_>) -> Option<Definition> {
        let about = taking.about(self)?;
        let next = taking.next()?;
        let words = match self.derivation(next)? {
            // A restriction that adds nothing to a named type needs no parentheses where a type is defined.
            TypeWords { head, facets } if facets.is_empty() && next.is_xsd("restriction") => {
                head.strip_prefix('(').and_then(|head| head.strip_suffix(')')).map_or(head.clone(), |inner| {
                    if next.named("base").is_some() { inner.to_owned() } else { head.clone() }
                })
            }
            words => words.text(),
        };
        Some(Definition { words, about })
    }

    fn derivation(&self, info: &ElementInfo) -> Option<TypeWords> {
        let mut taking = Taking::new(info);
        let words = if info.is_xsd("restriction") {
            self.restriction(&mut taking)?
        } else if info.is_xsd("list") {
            let item = self.member(&mut taking, "itemType")?;
            TypeWords { head: format!("list of {item}"), facets: String::new() }
        } else if info.is_xsd("union") {
            let mut members: Vec<String> =
                taking.names("memberTypes").unwrap_or(&[]).iter().map(|name| self.type_name(name)).collect();
            while let Some(inline) = taking.xsd("simpleType") {
                members.push(self.inline_member(inline)?);
            }
            if members.is_empty() {
                return None;
            }
            TypeWords { head: format!("either {}", members.join(" or ")), facets: String::new() }
        } else {
            return None;
        };
        taking.done()?;
        Some(words)
    }

    fn member(&self, taking: &mut Taking<'_>, attribute: &str) -> Option<String> {
        match taking.name(attribute) {
            Some(name) => Some(self.type_name(name)),
            None => self.inline_member(taking.xsd("simpleType")?),
        }
    }

    /// An anonymous type within a list or a union.
    fn inline_member(&self, info: &ElementInfo) -> Option<String> {
        let words = self.inline_simple(info)?;
        let is_plain = info.elements().all(|inner| inner.is_xsd("restriction"));
        Some(if is_plain { words.text() } else { format!("({})", words.text()) })
    }

    fn restriction(&self, taking: &mut Taking<'_>) -> Option<TypeWords> {
        let base = taking.name("base").map(|name| self.type_name(name));
        let (head, inline) = match base {
            Some(name) => (name, false),
            None => (format!("({})", self.inline_simple(taking.xsd("simpleType")?)?.text()), true),
        };
        let facets = self.facets(taking)?;
        let head = if facets.is_empty() && !inline { format!("({head})") } else { head };
        // An anonymous base that is itself narrowed by nothing would read as the base.
        (!(inline && facets.is_empty())).then_some(TypeWords { head, facets })
    }

    /// The facets that come next, each with a space before it.
    pub(crate) fn facets(&self, taking: &mut Taking<'_>) -> Option<String> {
        let mut words = String::new();
        while let Some(first) = taking.peek() {
            let local = first.name.local.to_string();
            match &*local {
                "pattern" => words.push_str(&format!(" like {}", self.patterns(taking)?)),
                "enumeration" => {
                    words.push_str(&format!(" one-of {}", self.enumeration(taking)?).replace(" \n", "\n"))
                }
                "attribute" | "attributeGroup" | "anyAttribute" => break,
                _ => words.push_str(&single(taking)?),
            }
        }
        Some(words)
    }

    fn patterns(&self, taking: &mut Taking<'_>) -> Option<String> {
        let mut found = Vec::new();
        while let Some(pattern) = taking.xsd("pattern") {
            let mut inside = Taking::new(pattern);
            found.push(quoted(inside.text("value")?));
            inside.done()?;
        }
        Some(found.join(" or "))
    }

    fn enumeration(&self, taking: &mut Taking<'_>) -> Option<String> {
        let mut found = Vec::new();
        let mut documented = false;
        while let Some(value) = taking.xsd("enumeration") {
            let mut inside = Taking::new(value);
            let about = inside.about(self)?;
            documented |= !about.is_empty();
            let words: String = about
                .iter()
                .map(|about| format!(" means {}", about.strip_prefix("about ").unwrap_or(about)))
                .collect();
            found.push(format!("{}{words}", quoted(inside.text("value")?)));
            inside.done()?;
        }
        // A line break stands for one that goes on with the line, further in.
        Some(if documented { format!("\n{}", found.join(",\n")) } else { found.join(", ") })
    }
}

/// A facet that stands alone, or the two ends of a range.
fn single(taking: &mut Taking<'_>) -> Option<String> {
    let first = taking.next()?;
    let (value, fixed) = facet(first)?;
    // The upper end of a range goes with the lower one, if it stands right behind it.
    let upper = taking.peek().and_then(|next| Some((next.name.local.to_string(), facet(next)?)));
    let with = |locals: [&str; 2]| {
        upper.as_ref().filter(|(local, (_, same))| locals.contains(&local.as_str()) && *same == fixed)
    };
    let is_fixed = if fixed { " fixed" } else { "" };
    let words = match &*first.name.local {
        "length" => format!(" length {value}"),
        "minLength" => match with(["maxLength", ""]) {
            Some((_, (most, _))) => {
                taking.next();
                format!(" length {value}..{most}")
            }
            None => format!(" length {value}.."),
        },
        "maxLength" => format!(" length ..{value}"),
        "minInclusive" | "minExclusive" => {
            let mark = if &*first.name.local == "minExclusive" { "<" } else { "" };
            match with(["maxInclusive", "maxExclusive"]) {
                Some((local, (most, _))) => {
                    taking.next();
                    let other = if local == "maxExclusive" { "<" } else { "" };
                    format!(" range {value}{mark}..{other}{most}")
                }
                None => format!(" range {value}{mark}.."),
            }
        }
        "maxInclusive" => format!(" range ..{value}"),
        "maxExclusive" => format!(" range ..<{value}"),
        "totalDigits" => format!(" digits {value}"),
        "fractionDigits" => format!(" decimals {value}"),
        "whiteSpace" => format!(" white-space {value}"),
        _ => return None,
    };
    Some(format!("{words}{is_fixed}"))
}

/// The value of a facet, and whether it is fixed.
fn facet(info: &ElementInfo) -> Option<(String, bool)> {
    let mut taking = Taking::new(info);
    let value = bare(taking.text("value")?);
    let fixed = taking.flag("fixed");
    taking.done()?;
    Some((value, fixed))
}
