//! Complex types, elements and what stands in them.

use charter_source::ns;

use super::simple::TypeWords;
use super::taking::Taking;
use super::{Printer, about_lines, about_tail, mark};
use crate::info::ElementInfo;
use crate::layout::{Line, quoted};
use crate::paths;
use crate::prefixes::word;

/// What a type is made of, as the notation puts it.
pub(crate) struct Shape {
    /// The words between the name and the block.
    pub words: String,
    /// The block; `None` if there is none.
    pub entries: Option<Vec<Line>>,
}

impl Printer<'_> {
    /// The content of a complex type, whose annotation and attributes but `mixed` have been taken.
    pub(crate) fn shape(&self, taking: &mut Taking<'_>, value_word: &str) -> Option<Shape> {
        let Some(first) = taking.peek() else {
            return Some(Shape { words: String::new(), entries: Some(vec![Line::of("empty")]) });
        };
        if first.is_xsd("simpleContent") || first.is_xsd("complexContent") {
            taking.next();
            let mut content = Taking::new(first);
            let derivation = content.next()?;
            content.done()?;
            return if first.is_xsd("simpleContent") {
                self.simple_content(derivation, value_word)
            } else {
                self.complex_content(derivation)
            };
        }
        let entries = self.body(taking)?;
        Some(Shape { words: String::new(), entries: Some(entries) })
    }

    fn complex_content(&self, info: &ElementInfo) -> Option<Shape> {
        let word = match &*info.name.local {
            "extension" => "extends",
            "restriction" => "restricts",
            _ => return None,
        };
        let mut taking = Taking::new(info);
        let words = format!(" {word} {}", self.type_name(taking.name("base")?));
        let entries = match taking.peek() {
            Some(_) => Some(self.body(&mut taking)?),
            None => None,
        };
        taking.done()?;
        Some(Shape { words, entries })
    }

    fn simple_content(&self, info: &ElementInfo, value_word: &str) -> Option<Shape> {
        let mut taking = Taking::new(info);
        let base = self.type_name(taking.name("base")?);
        if info.is_xsd("extension") {
            let entries = self.attributes(&mut taking)?;
            taking.done()?;
            return Some(Shape { words: format!("{value_word} {base}"), entries: Some(entries) });
        }
        let inline = match taking.xsd("simpleType") {
            Some(inline) => format!(" as ({})", self.inline_simple(inline)?.text()),
            None => String::new(),
        };
        let facets = self.facets(&mut taking)?;
        let entries = self.attributes(&mut taking)?;
        taking.done()?;
        let entries = (!entries.is_empty()).then_some(entries);
        Some(Shape { words: format!("{value_word} restricting {base}{inline}{facets}"), entries })
    }

    /// The particle and the attributes of a type.
    pub(crate) fn body(&self, taking: &mut Taking<'_>) -> Option<Vec<Line>> {
        let mut entries = Vec::new();
        let is_group = |info: &ElementInfo| {
            ["sequence", "choice", "all", "group"].iter().any(|local| info.is_xsd(local))
        };
        let has_particle = taking.peek().is_some_and(is_group);
        if let Some(top) = taking.peek().filter(|info| is_group(info)) {
            taking.next();
            entries = self.top(top);
        }
        let attributes = self.attributes(taking)?;
        if has_particle && entries.is_empty() && !attributes.is_empty() {
            entries.push(Line::block("sequence", Vec::new()));
        }
        entries.extend(attributes);
        if !has_particle && entries.is_empty() {
            entries.push(Line::of("empty"));
        }
        Some(entries)
    }

    /// The particle at the top of a type: a plain sequence needs no word, unless one group is all it holds.
    pub(crate) fn top(&self, info: &ElementInfo) -> Vec<Line> {
        let is_plain = info.is_xsd("sequence") && info.attributes.is_empty();
        let members: Vec<&ElementInfo> = info.elements().collect();
        let annotated = members.first().is_some_and(|first| first.is_xsd("annotation"));
        let alone = matches!(members.as_slice(), [only] if !only.is_xsd("element") && !only.is_xsd("any"));
        if is_plain && !alone && !annotated {
            return members.into_iter().flat_map(|member| self.particle(member)).collect();
        }
        self.particle(info)
    }

    /// A particle: one entry, and one more for each identity constraint.
    pub(crate) fn particle(&self, info: &ElementInfo) -> Vec<Line> {
        let found = match &*info.name.local {
            "element" if info.named("ref").is_some() => self.element_use(info).map(|entry| vec![entry]),
            "element" => self.element(info, "", true),
            "sequence" | "choice" | "all" => self.model_group(info).map(|entry| vec![entry]),
            "group" => self.reference(info, "group").map(|entry| vec![entry]),
            "any" => self.wildcard(info, "any").map(|entry| vec![entry]),
            _ => None,
        };
        found.filter(|_| *info.name.namespace == *ns::XSD).unwrap_or_else(|| vec![self.verbatim(info)])
    }

    fn occurrence(&self, taking: &mut Taking<'_>) -> Option<String> {
        let (min, max) = (taking.text("minOccurs"), taking.text("maxOccurs"));
        mark(min, max)
    }

    fn model_group(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mark = self.occurrence(&mut taking)?;
        let mut entries = about_lines(&taking.about(self)?);
        while let Some(member) = taking.next() {
            entries.extend(self.particle(member));
        }
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::block(info.name.local.to_string(), entries).tail(&format!("{mark}{others}")))
    }

    /// The use of a global element.
    fn element_use(&self, info: &ElementInfo) -> Option<Line> {
        self.reference(info, "element")
    }

    /// The use of something global: a word, its name, how often.
    fn reference(&self, info: &ElementInfo, what: &str) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = self.name(taking.name("ref")?);
        let mark = self.occurrence(&mut taking)?;
        let about = about_tail(&taking.about(self)?);
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::of(format!("{what} {name}{mark}{others}{about}")))
    }

    /// `any` or `any attribute`.
    fn wildcard(&self, info: &ElementInfo, what: &str) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mark = if what == "any" { self.occurrence(&mut taking)? } else { String::new() };
        let mut words = match taking.text("namespace") {
            None => String::new(),
            Some(namespaces) => {
                let each = namespaces.split_ascii_whitespace().map(|token| match token {
                    "##other" => "other namespaces".to_owned(),
                    "##targetNamespace" => "this namespace".to_owned(),
                    "##local" => "no namespace".to_owned(),
                    namespace => quoted(namespace),
                });
                let each: Vec<String> = each.collect();
                // Nothing at all is let in.
                if each.is_empty() { return None } else { format!(" from {}", each.join(", ")) }
            }
        };
        match taking.text("processContents") {
            Some(how @ ("lax" | "skip")) => words.push_str(&format!(" {how}")),
            Some(_) => return None,
            None => {}
        }
        let about = about_tail(&taking.about(self)?);
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::of(format!("{what}{mark}{words}{others}{about}")))
    }

    /// An element declaration, with its identity constraints behind it. `what` stands before its name.
    pub(crate) fn element(&self, info: &ElementInfo, what: &str, local: bool) -> Option<Vec<Line>> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mark = if local { self.occurrence(&mut taking)? } else { String::new() };
        let about = taking.about(self)?;
        let named =
            taking.name("type").map(|name| TypeWords { head: self.type_name(name), facets: String::new() });
        let typed = match (named, taking.xsd("simpleType")) {
            (Some(_), Some(_)) => return None,
            (named, None) => named,
            (None, Some(inline)) => Some(self.inline_use(inline)?),
        };
        let block = if typed.is_none() { taking.xsd("complexType") } else { None };
        let mut entries = Vec::new();
        let entry = match (typed, block) {
            (Some(typed), _) => Line::of(format!("{what}{name}: {}", typed.marked(&mark))),
            (None, None) => Line::of(format!(
                "{what}{}{mark}",
                if what.is_empty() { word(name) } else { name.to_owned() }
            )),
            (None, Some(block)) => {
                self.element_block(block, &format!("{what}{name}"), what.is_empty(), &mark)?
            }
        };
        let constraints = self.constraints(&mut taking)?;
        let tail = self.element_tail(&mut taking)?;
        taking.done()?;
        entries.push(entry.tail(&format!("{tail}{}", about_tail(&about))));
        entries.extend(constraints);
        Some(entries)
    }

    /// An inline simple type where a mark of occurrence may follow.
    pub(crate) fn inline_use(&self, info: &ElementInfo) -> Option<TypeWords> {
        let words = self.inline_simple(info)?;
        let is_plain = info.elements().all(|inner| inner.is_xsd("restriction"));
        Some(if is_plain {
            words
        } else {
            TypeWords { head: format!("({})", words.text()), facets: String::new() }
        })
    }

    fn element_block(&self, info: &ElementInfo, head: &str, colon: bool, mark: &str) -> Option<Line> {
        let mut taking = Taking::new(info);
        let mixed = if taking.flag("mixed") { " mixed" } else { "" };
        let about = taking.about(self)?;
        let shape = self.shape(&mut taking, "")?;
        // What stands behind the brace is about the element.
        taking.done()?;
        let is_value = info.elements().any(|child| child.is_xsd("simpleContent"));
        let colon = if colon || is_value { ":" } else { "" };
        let head = format!("{head}{colon}{mixed}{}", shape.words);
        let mut entries = about_lines(&about);
        match shape.entries {
            Some(inner) => entries.extend(inner),
            None if entries.is_empty() => return Some(Line::of(format!("{head}{mark}"))),
            None => entries.push(Line::of("empty")),
        }
        Some(Line::block(head, entries).tail(mark))
    }

    /// What stands behind the type of an element.
    pub(crate) fn element_tail(&self, taking: &mut Taking<'_>) -> Option<String> {
        let mut tail = String::new();
        for word in ["nillable", "abstract"] {
            if taking.flag(word) {
                tail.push_str(&format!(" {word}"));
            }
        }
        tail.push_str(&qualification(taking)?);
        if let Some(head) = taking.name("substitutionGroup") {
            tail.push_str(&format!(" replaces {}", self.name(head)));
        }
        tail.push_str(&self.value(taking));
        tail.push_str(&derivations(taking)?);
        tail.push_str(&taking.others(self.prefixes)?);
        Some(tail)
    }

    /// A default or fixed value.
    fn value(&self, taking: &mut Taking<'_>) -> String {
        let default = taking.text("default").map(|text| format!(" default {}", quoted(text)));
        let fixed = taking.text("fixed").map(|text| format!(" fixed {}", quoted(text)));
        format!("{}{}", default.unwrap_or_default(), fixed.unwrap_or_default())
    }

    fn constraints(&self, taking: &mut Taking<'_>) -> Option<Vec<Line>> {
        let mut entries = Vec::new();
        while let Some(info) = taking.peek() {
            let word = match &*info.name.local {
                "unique" => "unique",
                "key" => "key",
                "keyref" => "key-reference",
                _ => break,
            };
            taking.next();
            let mut inside = Taking::new(info);
            let name = inside.ncname("name")?;
            let refer = inside.name("refer").map_or(String::new(), |name| format!(" to {}", self.name(name)));
            let about = about_tail(&inside.about(self)?);
            let selector = self.path(inside.xsd("selector")?)?;
            let mut fields = Vec::new();
            while let Some(field) = inside.xsd("field") {
                fields.push(self.path(field)?);
            }
            inside.done()?;
            if fields.is_empty() {
                return None;
            }
            let by = fields.join(", ");
            entries.push(Line::of(format!("{word} {name} of {selector} by {by}{refer}{about}")));
        }
        Some(entries)
    }

    fn path(&self, info: &ElementInfo) -> Option<String> {
        let mut taking = Taking::new(info);
        let path = taking.text("xpath")?;
        taking.done()?;
        let unknown =
            paths::namespaces(path).any(|namespace| self.prefixes.of_namespace(namespace).is_none());
        // A prefix that nobody declared is left as it is.
        let undeclared = paths::prefixed(path, &|_| Some("p".to_owned()))
            .replace("p:", "")
            .replace("::", "")
            .contains(':');
        if unknown || undeclared {
            return None;
        }
        Some(quoted(&paths::prefixed(path, &|namespace| {
            self.prefixes.of_namespace(namespace).map(str::to_owned)
        })))
    }

    /// The attributes of a type, in the order of the text.
    pub(crate) fn attributes(&self, taking: &mut Taking<'_>) -> Option<Vec<Line>> {
        let mut entries = Vec::new();
        while let Some(info) = taking.peek() {
            let entry = match &*info.name.local {
                "attribute" if info.named("ref").is_some() => self.attribute_use(info),
                "attribute" => self.attribute(info, "@", true),
                "attributeGroup" => self.reference(info, "attributes"),
                "anyAttribute" => self.wildcard(info, "any attribute"),
                _ => return None,
            };
            taking.next();
            entries.push(self.or_verbatim(info, entry));
        }
        Some(entries)
    }

    fn usage(taking: &mut Taking<'_>) -> Option<&'static str> {
        Some(match taking.text("use") {
            None => "?",
            Some("required") => "",
            Some("prohibited") => " prohibited",
            Some(_) => return None,
        })
    }

    fn attribute_use(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = self.name(taking.name("ref")?);
        let mark = Self::usage(&mut taking)?;
        let value = self.value(&mut taking);
        let about = about_tail(&taking.about(self)?);
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::of(format!("attribute {name}{mark}{value}{others}{about}")))
    }

    /// A declared attribute; `what` stands before its name.
    pub(crate) fn attribute(&self, info: &ElementInfo, what: &str, local: bool) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mark = if local { Self::usage(&mut taking)? } else { "" };
        let about = taking.about(self)?;
        let named =
            taking.name("type").map(|name| TypeWords { head: self.type_name(name), facets: String::new() });
        let typed = match (named, taking.xsd("simpleType")) {
            (Some(_), Some(_)) => return None,
            (named, None) => named,
            (None, Some(inline)) => Some(self.inline_use(inline)?),
        };
        let mut line = match typed {
            Some(typed) => format!("{what}{name}: {}", typed.marked(mark)),
            None => format!("{what}{name}{mark}"),
        };
        line.push_str(&qualification(&mut taking)?);
        line.push_str(&self.value(&mut taking));
        line.push_str(&taking.others(self.prefixes)?);
        taking.done()?;
        Some(Line::of(format!("{line}{}", about_tail(&about))))
    }
}

/// Whether a local name is qualified, where that is not as usual.
fn qualification(taking: &mut Taking<'_>) -> Option<String> {
    match taking.text("form") {
        None => Some(String::new()),
        Some(info @ ("qualified" | "unqualified")) => Some(format!(" {info}")),
        Some(_) => None,
    }
}

/// `block` and `final`.
pub(crate) fn derivations(taking: &mut Taking<'_>) -> Option<String> {
    let mut words = String::new();
    for name in ["block", "final"] {
        let Some(set) = taking.text(name) else { continue };
        let known = ["#all", "extension", "restriction", "substitution", "list", "union"];
        if !set.split_ascii_whitespace().all(|word| known.contains(&word)) {
            return None;
        }
        let set: Vec<&str> = set.split_ascii_whitespace().map(|word| word.trim_start_matches('#')).collect();
        words
            .push_str(&format!(" {name} {}", if set.is_empty() { "none".to_owned() } else { set.join(" ") }));
    }
    Some(words)
}
