//! Schemas and their global components.

use super::complex::derivations;
use super::taking::Taking;
use super::{Printer, about_lines, about_tail};
use crate::info::ElementInfo;
use crate::layout::{Line, quoted};

impl Printer<'_> {
    /// The lines of a schema that say what holds for all in it; `None` if there are no words for something.
    pub(crate) fn schema_settings(&self, info: &ElementInfo) -> Option<Vec<Line>> {
        let mut taking = Taking::new(info);
        taking.text("targetNamespace");
        let mut entries = Vec::new();
        match taking.text("elementFormDefault") {
            Some("qualified") => {}
            None => entries.push(Line::of("elements unqualified")),
            Some(_) => return None,
        }
        match taking.text("attributeFormDefault") {
            Some("qualified") => entries.push(Line::of("attributes qualified")),
            None => {}
            Some(_) => return None,
        }
        for (attribute, word) in [("blockDefault", "block"), ("finalDefault", "final")] {
            if let Some(set) = taking.text(attribute) {
                let plain = ElementInfo::xsd("complexType").with(word, set);
                entries.push(Line::of(derivations(&mut Taking::new(&plain))?.trim_start()));
            }
        }
        let about = taking.about(self)?;
        let others = taking.others(self.prefixes)?;
        if !others.is_empty() {
            entries.push(Line::of(others.trim_start()));
        }
        let mut all = about_lines(&about);
        if let Some(last) = entries.last_mut() {
            last.last = true;
        } else if let Some(last) = all.last_mut() {
            last.last = true;
        }
        all.extend(entries);
        Some(all)
    }

    /// A global component of a schema: one entry, and one more for each identity constraint.
    pub(crate) fn global(&self, info: &ElementInfo) -> Vec<Line> {
        let found = match &*info.name.local {
            "simpleType" => self.simple_type(info).map(|entry| vec![entry]),
            "complexType" => self.complex_type(info).map(|entry| vec![entry]),
            "element" => self.element(info, "element ", false),
            "attribute" => self.attribute(info, "attribute ", false).map(|entry| vec![entry]),
            "group" => self.group(info).map(|entry| vec![entry]),
            "attributeGroup" => self.attribute_group(info).map(|entry| vec![entry]),
            _ => None,
        };
        let mut entries = found.unwrap_or_else(|| vec![self.verbatim(info)]);
        let apart = entries.iter().any(|entry| entry.block.is_some() || entry.head.contains('\n'));
        if let Some(first) = entries.first_mut() {
            first.first = apart;
        }
        if let Some(last) = entries.last_mut() {
            last.last = apart;
        }
        entries
    }

    fn simple_type(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let derivations = derivations(&mut taking)?;
        let definition = self.simple_definition(&mut taking)?;
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        let about = about_tail(&definition.about);
        Some(Line::of(
            format!("type {name}{derivations}{others} = {}{about}", definition.words).replace(" \n", "\n"),
        ))
    }

    fn complex_type(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mut head = String::new();
        for word in ["abstract", "mixed"] {
            if taking.flag(word) {
                head.push_str(&format!("{word} "));
            }
        }
        let derivations = derivations(&mut taking)?;
        let about = taking.about(self)?;
        let shape = self.shape(&mut taking, " =")?;
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        head.push_str(&format!("type {name}{derivations}{others}{}", shape.words));
        let Some(inner) = shape.entries else {
            return Some(Line::of(format!("{head}{}", about_tail(&about))));
        };
        let mut entries = about_lines(&about);
        entries.extend(inner);
        Some(Line::block(head, entries))
    }

    fn group(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mut entries = about_lines(&taking.about(self)?);
        entries.extend(self.top(taking.next()?));
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::block(format!("group {name}{others}"), entries))
    }

    fn attribute_group(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let mut entries = about_lines(&taking.about(self)?);
        entries.extend(self.attributes(&mut taking)?);
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::block(format!("attributes {name}{others}"), entries))
    }

    /// A schema in a block of its own.
    pub(crate) fn schema(&self, info: &ElementInfo) -> Line {
        let namespace = info.text("targetNamespace").unwrap_or("");
        let own = self.prefixes.seen_from(namespace);
        let printer = Printer { prefixes: &own };
        let Some(mut entries) = printer.schema_settings(info) else { return self.verbatim(info) };
        for child in info.elements().filter(|child| !child.is_xsd("annotation")) {
            entries.extend(printer.global(child));
        }
        Line::block(format!("schema {}", quoted(namespace)), entries).apart()
    }
}
