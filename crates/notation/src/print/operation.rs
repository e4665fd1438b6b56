//! Operations with their messages and the elements in them.

use charter_source::{QName, Set};

use super::taking::Taking;
use super::{Printer, about_lines, about_tail};
use crate::bound::{Header, Headers};
use crate::convention::{Convention, SideKind};
use crate::info::ElementInfo;
use crate::layout::Line;
use crate::prefixes::word;
use crate::view::{View, part_element};

/// What operations show, so that it need not stand by itself.
#[derive(Default)]
pub(crate) struct Covered {
    pub messages: Set<String>,
    pub elements: Set<String>,
    /// Operations that stand as XML, so that nothing is known of their header blocks where they are read again.
    pub verbatim: Set<(String, String)>,
}

/// Writes operations.
pub(crate) struct Operations<'v, 'f> {
    pub printer: Printer<'v>,
    pub view: &'v View<'f>,
    pub shown: Covered,
}

impl Operations<'_, '_> {
    /// An operation of a port type.
    pub fn operation(&mut self, port_type: &str, info: &ElementInfo) -> Line {
        let entry = self.try_operation(port_type, info);
        if entry.is_none() {
            self.shown.verbatim.insert((port_type.to_owned(), info.text("name").unwrap_or("").to_owned()));
        }
        self.printer.or_verbatim(info, entry)
    }

    fn try_operation(&mut self, port_type: &str, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let (headers, _) = self.view.headers(port_type, info);
        let mut entries = about_lines(&taking.about(&self.printer)?);
        if let Some(order) = taking.text("parameterOrder") {
            let names: Vec<&str> = order.split_ascii_whitespace().collect();
            entries.push(Line::of(format!("parameters {}", names.join(", "))));
        }
        let mut before = std::mem::take(&mut self.shown);
        let sides = self.sides(name, &headers, &mut taking);
        std::mem::swap(&mut before, &mut self.shown);
        let (sides, from_provider) = sides?;
        // Only an operation that has words hides its messages.
        self.shown.messages.extend(before.messages);
        self.shown.elements.extend(before.elements);
        self.shown.verbatim.extend(before.verbatim);
        entries.extend(sides);
        let others = taking.others(self.printer.prefixes)?;
        taking.done()?;
        let from = if from_provider { " from the provider" } else { "" };
        Some(Line::block(format!("operation {name}{from}{others}"), entries).apart())
    }

    fn sides(&mut self, name: &str, headers: &Headers, taking: &mut Taking<'_>) -> Option<(Vec<Line>, bool)> {
        let mut sides = Vec::new();
        let mut extra = Vec::new();
        while let Some(side) = taking.next() {
            match &*side.name.local {
                "input" | "output" | "fault" if side.is_wsdl(&side.name.local) => sides.push(side),
                _ if *side.name.namespace != *charter_source::ns::WSDL => {
                    extra.push(self.printer.verbatim(side))
                }
                _ => return None,
            }
        }
        let mut entries = extra;
        let message_of = |local: &str| {
            sides.iter().find(|side| side.is_wsdl(local)).and_then(|side| side.named("message")).cloned()
        };
        let (request, reply) = (message_of("input"), message_of("output"));
        for (list, what, word, message) in [
            (&headers.request, "input", "header", request),
            (&headers.reply, "output", "reply header", reply),
        ] {
            for header in list {
                entries.push(self.header(header, what, word, message.as_ref())?);
            }
        }
        for side in &sides {
            entries.push(self.side(name, side, headers)?);
        }
        let first_is_output = sides.first().is_some_and(|side| side.is_wsdl("output"));
        if sides.len() == 1 && sides[0].is_wsdl("input") {
            entries.push(Line::of("one-way"));
        }
        Some((entries, first_is_output))
    }

    /// A header block: the part, the element, and the message if its name does not follow from them.
    fn header(&mut self, header: &Header, what: &str, word: &str, side: Option<&QName>) -> Option<Line> {
        let message = self.view.message(&header.message)?;
        let part = message.elements().find(|part| part.text("name") == Some(&header.part))?;
        let Some(element) = part_element(part) else {
            return Some(Line::of(format!(
                "{word} {} of {}",
                header.part,
                self.printer.name(&header.message)
            )));
        };
        let shown = format!("{word} {}: {}", header.part, self.printer.name(element));
        if side == Some(&header.message) {
            return Some(Line::of(format!("{shown} in {what}")));
        }
        let alone = ElementInfo::wsdl("part").with("name", header.part.as_str()).naming("element", element);
        let local = header.message.local.to_string();
        if *message != ElementInfo::wsdl("message").with("name", local.as_str()).holding(alone) {
            return Some(Line::of(format!(
                "{word} {} of {}",
                header.part,
                self.printer.name(&header.message)
            )));
        }
        let conventional = Convention::apply(&self.view.convention.header_message, &element.local);
        self.shown.messages.insert(local.clone());
        let of = if local == conventional { String::new() } else { format!(" of {local}") };
        Some(Line::of(format!("{shown}{of}")))
    }

    pub fn side(&mut self, operation: &str, info: &ElementInfo, headers: &Headers) -> Option<Line> {
        let mut taking = Taking::new(info);
        let message = taking.name("message")?;
        let name = taking.ncname("name");
        let about = about_tail(&taking.about(&self.printer)?);
        let others = taking.others(self.printer.prefixes)?;
        taking.done()?;
        let (kind, mut head) = match &*info.name.local {
            "input" => (SideKind::Input, "input".to_owned()),
            "output" => (SideKind::Output, "output".to_owned()),
            _ => (SideKind::Fault, format!("fault {}", name?)),
        };
        let stem = if kind == SideKind::Fault { name? } else { operation };
        if let Some(name) = name.filter(|_| kind != SideKind::Fault) {
            head.push_str(&format!(" named {name}"));
        }
        let conventional = self.view.own(&self.view.convention.message(stem, kind));
        if *message != conventional {
            head.push_str(&format!(" message {}", self.printer.name(message)));
        }
        let within: &[Header] = match kind {
            SideKind::Input => &headers.request,
            SideKind::Output => &headers.reply,
            SideKind::Fault => &[],
        };
        head.push_str(&others);
        let within: Vec<&str> = within
            .iter()
            .filter(|header| header.message == *message)
            .map(|header| header.part.as_str())
            .collect();
        let entry = self.message_content(&head, stem, kind, message, &within);
        Some(entry.unwrap_or_else(|| Line::of(head)).tail(&about))
    }

    /// What a message holds, apart from the parts that are header blocks; `None` if it must stand by itself.
    fn message_content(
        &mut self,
        head: &str,
        stem: &str,
        kind: SideKind,
        message: &QName,
        headers: &[&str],
    ) -> Option<Line> {
        let info = self.view.message(message)?;
        let mut taking = Taking::new(info);
        taking.ncname("name")?;
        let mut parts = Vec::new();
        while let Some(part) = taking.next() {
            parts.push(part);
        }
        taking.done()?;
        // Header blocks stand behind the body.
        let body = parts.len().checked_sub(headers.len())?;
        let behind = parts[body..].iter().map(|part| part.text("name").unwrap_or(""));
        if !behind.eq(headers.iter().copied()) {
            return None;
        }
        parts.truncate(body);
        let inline = self.inline(head, stem, kind, &parts);
        let entry = match inline {
            Some(entry) => entry,
            None => {
                let words: Option<Vec<String>> = parts.iter().map(|part| self.printer.part(part)).collect();
                Line::of(format!("{head} ({})", words?.join(", ")))
            }
        };
        self.shown.messages.insert(message.local.to_string());
        Some(entry)
    }

    /// The element of a side in place, since its name follows from that of the operation.
    fn inline(&mut self, head: &str, stem: &str, kind: SideKind, parts: &[&ElementInfo]) -> Option<Line> {
        let [part] = parts else { return None };
        let element = part_element(part)?;
        let name = part.text("name")?;
        let plain = ElementInfo::wsdl("part").with("name", name).naming("element", element);
        let follows = *element == self.view.own(&self.view.convention.element(stem, kind));
        if **part != plain || !follows {
            return None;
        }
        let own_part = name != self.view.convention.part(kind);
        let head = if own_part { format!("{head} part {name}") } else { head.to_owned() };
        let entry = self.printer.side_element(&head, self.view.element(element)?)?;
        self.shown.elements.insert(element.local.to_string());
        Some(entry)
    }
}

impl Printer<'_> {
    /// The element of a message, written where the message is used; `None` if it says more than its content.
    pub(crate) fn side_element(&self, head: &str, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        taking.ncname("name")?;
        let entry = match taking.name("type") {
            Some(name) => Line::of(format!("{head}: {}", self.type_name(name))),
            None => match taking.next()? {
                inline if inline.is_xsd("simpleType") => {
                    Line::of(format!("{head}: {}", self.inline_use(inline)?.text()))
                }
                block if block.is_xsd("complexType") => {
                    let entry = self.side_block(head, block)?;
                    entry.inline()
                }
                _ => return None,
            },
        };
        taking.done()?;
        Some(entry)
    }

    fn side_block(&self, head: &str, block: &ElementInfo) -> Option<Line> {
        let element = ElementInfo::xsd("element").with("name", "x").holding(block.clone());
        let mut entries = self.element(&element, "", false)?;
        let mut entry = entries.pop()?;
        let words = entry.head.strip_prefix("x:").unwrap_or(&entry.head).to_owned();
        let is_value = block.elements().any(|child| child.is_xsd("simpleContent"));
        entry.head = if is_value { format!("{head}:{words}") } else { format!("{head}{words}") };
        Some(entry)
    }

    /// A message part.
    pub(crate) fn part(&self, info: &ElementInfo) -> Option<String> {
        let mut taking = Taking::new(info);
        let name = word(taking.ncname("name")?);
        let typed = match (taking.name("element"), taking.name("type")) {
            (Some(element), None) => format!(": element {}", self.name(element)),
            (None, Some(ty)) => format!(": {}", self.type_name(ty)),
            (None, None) => String::new(),
            _ => return None,
        };
        let about = about_tail(&taking.about(self)?);
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        (!about.contains('\n')).then(|| format!("{name}{typed}{others}{about}"))
    }

    /// A message by itself.
    pub(crate) fn message(&self, info: &ElementInfo) -> Option<Line> {
        let mut taking = Taking::new(info);
        let name = taking.ncname("name")?;
        let about = about_tail(&taking.about(self)?);
        let mut parts = Vec::new();
        while let Some(part) = taking.next() {
            if !part.is_wsdl("part") {
                return None;
            }
            parts.push(self.part(part)?);
        }
        let others = taking.others(self.prefixes)?;
        taking.done()?;
        Some(Line::of(format!("message {name}{others} ({}){about}", parts.join(", "))))
    }
}
