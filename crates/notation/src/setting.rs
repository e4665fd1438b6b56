//! Sets single properties of a component: `type`, `occurs`, `length`, `action`, and whatever else has a name.

use charter_contract::{Component, Contract};
use charter_schema::Owner;
use charter_source::ns;

use crate::addition::AdditionError;
use crate::info::{Child, ElementInfo, Value};
use crate::parse::cursor::{Cursor, Parsed};
use crate::parse::particles::derivations;
use crate::parse::simple::{TypeUse, facets, type_name, type_use};
use crate::parse::{annotate, document, occurrence, plain_about};
use crate::prefixes::Prefixes;

/// The properties that can be set, and of what.
const KEYS: [(&str, &str); 31] = [
    ("about", "anything: documentation"),
    ("abstract", "an element or a complex type: true or false"),
    ("action", "an operation of a binding"),
    ("address", "a port"),
    ("attributes", "the contract: whether local attributes are qualified or unqualified"),
    ("base", "a type that derives from another"),
    ("binding", "a port"),
    ("block", "an element or a complex type: all, none, or kinds of derivation"),
    ("decimals", "a simple type"),
    ("default", "an element or an attribute"),
    ("digits", "a simple type"),
    ("element", "a message part"),
    ("elements", "the contract: whether local elements are qualified or unqualified"),
    ("final", "an element or a type: all, none, or kinds of derivation"),
    ("fixed", "an element or an attribute"),
    ("form", "a local element or attribute: qualified or unqualified"),
    ("length", "a simple type, such as 1..60"),
    ("like", "a simple type: a pattern"),
    ("location", "an operation of an HTTP binding"),
    ("mixed", "a complex type: true or false"),
    ("namespace", "the contract: its target namespace"),
    ("nillable", "an element: true or false"),
    ("occurs", "a local element, such as ?, *, 1, 2..5 or 1..; a local attribute: ? or 1"),
    ("one-of", "a simple type: values in quotes"),
    ("range", "a simple type, such as 0..30"),
    ("replaces", "a global element: the head of its substitution group"),
    ("style", "a binding or an operation of one: document or rpc"),
    ("transport", "a SOAP binding"),
    ("type", "an element, an attribute or a message part"),
    ("use", "an attribute: required, optional or prohibited; a binding or a side in one: literal or encoded"),
    ("white-space", "a simple type: preserve, replace or collapse"),
];

/// The element info at a component's own element, as it is in the files.
pub fn own_info(contract: &Contract, place: charter_source::Place) -> Option<ElementInfo> {
    crate::gather::Gathering::new(contract).at(place)
}

/// The element info at an element with nothing in it but what its author says about it.
pub fn bare_info(contract: &Contract, place: charter_source::Place) -> Option<ElementInfo> {
    crate::gather::Gathering::new(contract).bare(place)
}

/// Sets a property in the element info of a component; an empty value takes it away.
///
/// # Errors
/// If the component has no such property, or the value is none.
pub fn set(
    contract: &Contract,
    component: Component,
    info: &mut ElementInfo,
    key: &str,
    value: &str,
) -> Result<(), AdditionError> {
    let own = own_namespace(contract, component);
    let setting = Setting { contract, own, key, value };
    let done = match key {
        "about" => {
            setting.about(info);
            true
        }
        "type" if has_type(info) => setting.ty(info)?,
        "element" if info.is_wsdl("part") => setting.part_element(info)?,
        "occurs" if !is_global_attribute(contract, component) => setting.occurs(info)?,
        "use" => setting.usage(info)?,
        "default" | "fixed" if has_type(info) && !info.is_wsdl("part") => {
            let other = if key == "default" { "fixed" } else { "default" };
            if !value.is_empty() {
                info.attributes.retain(|(name, _)| !name.is("", other));
            }
            setting.attribute(info, key)
        }
        "nillable" if info.is_xsd("element") => setting.truth(info)?,
        "abstract" if info.is_xsd("element") || info.is_xsd("complexType") => setting.truth(info)?,
        "mixed" if info.is_xsd("complexType") => setting.truth(info)?,
        "form" if info.is_xsd("element") || info.is_xsd("attribute") => {
            setting.one_of(&["qualified", "unqualified"])?;
            let usual = as_usual(contract, component, info);
            // What the schema settles for all is not said again.
            put(info, "form", if value == usual { "" } else { value })
        }
        "replaces" if info.is_xsd("element") => setting.name(info, "substitutionGroup")?,
        "block" | "final"
            if info.is_xsd("element") || info.is_xsd("complexType") || info.is_xsd("simpleType") =>
        {
            setting.derivations(info)?
        }
        "base" => setting.base(info)?,
        "length" | "range" | "digits" | "decimals" | "white-space" | "like" | "one-of" => {
            setting.facets(info)?
        }
        "address" if info.is_wsdl("port") => setting.extension(info, "address", "location"),
        "binding" if info.is_wsdl("port") => setting.name(info, "binding")?,
        "action" if info.is_wsdl("operation") => setting.extension(info, "operation", "soapAction"),
        "location" if info.is_wsdl("operation") => setting.extension(info, "operation", "location"),
        "style" if info.is_wsdl("operation") || info.is_wsdl("binding") => {
            setting.one_of(&["document", "rpc"])?;
            setting.extension(info, &info.name.local.clone(), "style")
        }
        "transport" if info.is_wsdl("binding") => setting.extension(info, "binding", "transport"),
        "elements" | "attributes" if info.is_xsd("schema") => {
            setting.one_of(&["qualified", "unqualified"])?;
            let name = if key == "elements" { "elementFormDefault" } else { "attributeFormDefault" };
            setting.attribute(info, name)
        }
        _ => false,
    };
    if done { Ok(()) } else { Err(setting.unknown()) }
}

fn own_namespace(contract: &Contract, component: Component) -> String {
    let place = contract.extent_in_schema(component);
    let document = place.and_then(|place| contract.schemas.document_of(place));
    match (document, contract.definitions.iter().next()) {
        (Some(document), _) => document.namespace.to_string(),
        (None, Some((_, first))) => first.namespace.to_string(),
        (None, None) => {
            contract.schemas.documents.first().map_or_else(String::new, |it| it.namespace.to_string())
        }
    }
}

/// How local elements and attributes of a component's document are qualified, unless they say so themselves.
fn as_usual(contract: &Contract, component: Component, info: &ElementInfo) -> &'static str {
    let place = contract.extent_in_schema(component);
    let document = place.and_then(|place| contract.schemas.document_of(place));
    let is_qualified = document.is_some_and(|document| match info.is_xsd("element") {
        true => document.elements_qualified,
        false => document.attributes_qualified,
    });
    if is_qualified { "qualified" } else { "unqualified" }
}

/// Gives an element info an attribute; an empty value takes it away.
fn put(info: &mut ElementInfo, name: &str, value: &str) -> bool {
    if value.is_empty() {
        info.attributes.retain(|(known, _)| !known.is("", name));
    } else {
        info.set(name, Value::Text(value.to_owned()));
    }
    true
}

fn is_global_attribute(contract: &Contract, component: Component) -> bool {
    let schemas = &contract.schemas;
    matches!(component, Component::Attribute(id) if schemas.attribute_decls[id].owner == Owner::Schema)
}

fn has_type(info: &ElementInfo) -> bool {
    info.is_xsd("element") || info.is_xsd("attribute") || info.is_wsdl("part")
}

struct Setting<'s> {
    contract: &'s Contract,
    own: String,
    key: &'s str,
    value: &'s str,
}

impl Setting<'_> {
    fn unknown(&self) -> AdditionError {
        if let Some((_, of)) = KEYS.iter().find(|(key, _)| *key == self.key) {
            return AdditionError::Unfit(format!("it has no {}: that is set of {of}", self.key));
        }
        let near = charter_source::nearest(self.key, KEYS.iter().map(|(key, _)| *key));
        let hint = near.map_or_else(
            || KEYS.map(|(key, _)| key).join(", ").replacen("about", "there are about", 1),
            |near| format!("did you mean {near}?"),
        );
        AdditionError::Unfit(format!("there is no property \"{}\"; {hint}", self.key))
    }

    fn wrong(&self, expected: &str) -> AdditionError {
        AdditionError::Unfit(format!("\"{}\" is no value of {}: expected {expected}", self.value, self.key))
    }

    /// Reads the value as notation, behind some words of it.
    fn read<T>(
        &self,
        before: &str,
        read: impl FnOnce(&mut Cursor<'_>) -> Parsed<T>,
    ) -> Result<T, AdditionError> {
        let text = format!("{before}{}", self.value);
        let prefixes = Prefixes::of(self.contract).seen_from(&self.own);
        let mut cursor = Cursor::new(&text, prefixes);
        let done = read(&mut cursor);
        if done.is_ok() && !cursor.at_end() {
            cursor.expected("nothing more");
        }
        match done {
            Ok(value) if cursor.errors.is_empty() => Ok(value),
            _ => {
                let first = cursor.errors.first();
                let help =
                    first.and_then(|error| error.help.clone()).or(first.map(|error| error.message.clone()));
                Err(self.wrong(help.unwrap_or_default().trim_start_matches("expected ")))
            }
        }
    }

    fn one_of(&self, allowed: &[&str]) -> Result<(), AdditionError> {
        if self.value.is_empty() || allowed.contains(&self.value) {
            Ok(())
        } else {
            Err(self.wrong(&allowed.join(" or ")))
        }
    }

    fn attribute(&self, info: &mut ElementInfo, name: &str) -> bool {
        put(info, name, self.value)
    }

    /// Kinds of derivation, in the words of the notation or in those of XML Schema.
    fn derivations(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        if self.value.is_empty() {
            return Ok(self.attribute(info, self.key));
        }
        let words = Setting { value: &self.value.replace("#all", "all"), own: self.own.clone(), ..*self };
        let mut read = ElementInfo::xsd("element");
        words.read(&format!("{} ", self.key), |cursor| derivations(cursor, &mut read))?;
        if let Some(text) = read.text(self.key) {
            info.set(self.key, Value::Text(text.to_owned()));
        }
        Ok(true)
    }

    fn truth(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        self.one_of(&["true", "false"])?;
        Ok(self.attribute(info, self.key))
    }

    fn name(&self, info: &mut ElementInfo, attribute: &str) -> Result<bool, AdditionError> {
        if self.value.is_empty() {
            info.attributes.retain(|(known, _)| !known.is("", attribute));
            return Ok(true);
        }
        let name = self.read("", |cursor| cursor.qname("a name"))?;
        info.set(attribute, Value::name(&name));
        Ok(true)
    }

    /// Documentation in place of what there is.
    fn about(&self, info: &mut ElementInfo) {
        let is_about = |child: &Child| matches!(child, Child::Element(it) if it.is_xsd("annotation") || it.is_wsdl("documentation"));
        let is_schema = *info.name.namespace == *ns::XSD;
        let existing = info.elements_mut().find(|it| it.is_xsd("annotation"));
        match existing {
            // What is for programs stays.
            Some(annotation) => {
                annotation
                    .children
                    .retain(|child| !matches!(child, Child::Element(it) if it.is_xsd("documentation")));
                if !self.value.is_empty() {
                    annotate(info, &[plain_about(self.value)]);
                }
                let empty = |child: &Child| matches!(child, Child::Element(it) if it.is_xsd("annotation") && it.children.is_empty());
                info.children.retain(|child| !empty(child));
            }
            None => {
                info.children.retain(|child| !is_about(child));
                match (self.value.is_empty(), is_schema) {
                    (true, _) => {}
                    (false, true) => annotate(info, &[plain_about(self.value)]),
                    (false, false) => document(info, &[plain_about(self.value)]),
                }
            }
        }
    }

    fn ty(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        let read =
            if self.value.is_empty() { None } else { Some(self.read("", |cursor| type_use(cursor, None))?) };
        info.attributes.retain(|(name, _)| {
            !(name.is("", "type") || info.name.is(ns::WSDL, "part") && name.is("", "element"))
        });
        info.children.retain(|child| {
            !matches!(child, Child::Element(it) if it.is_xsd("simpleType") || it.is_xsd("complexType"))
        });
        match read {
            None => {}
            Some(TypeUse::Named(name)) => info.set("type", Value::name(&name)),
            Some(TypeUse::Inline(_)) if info.is_wsdl("part") => return Err(self.wrong("the name of a type")),
            Some(TypeUse::Inline(inline)) => {
                let at = info.elements().take_while(|it| it.is_xsd("annotation")).count();
                info.children.insert(at, Child::Element(inline));
            }
        }
        Ok(true)
    }

    fn part_element(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        info.attributes.retain(|(name, _)| !name.is("", "type"));
        self.name(info, "element")
    }

    fn occurs(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        if info.is_xsd("attribute") {
            let usage = match self.value {
                "" | "?" | "0..1" => "",
                "1" => "required",
                _ => return Err(self.wrong("? or 1")),
            };
            return Ok(put(info, "use", usage));
        }
        let is_particle =
            ["element", "any", "sequence", "choice", "all", "group"].iter().any(|local| info.is_xsd(local));
        if !is_particle {
            return Ok(false);
        }
        let text = match self.value {
            "" => None,
            "?" | "*" | "+" => Some(self.value.to_owned()),
            other => Some(format!("[{other}]")),
        };
        let mut counts = ElementInfo::xsd("element");
        if let Some(text) = text {
            let mut cursor = Cursor::new(&text, Prefixes::new(""));
            if occurrence(&mut cursor, &mut counts).is_err() {
                return Err(self.wrong("?, *, +, a number, or two, such as 2..5 or 2.."));
            }
        }
        for (name, default) in [("minOccurs", "1"), ("maxOccurs", "1")] {
            let wanted = counts.text(name);
            match wanted {
                Some(wanted) => info.set(name, Value::Text(wanted.to_owned())),
                None if info.text(name).is_some_and(|known| known != default) || self.value.is_empty() => {
                    info.attributes.retain(|(known, _)| !known.is("", name));
                }
                None => {}
            }
        }
        Ok(true)
    }

    fn usage(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        if info.is_xsd("attribute") {
            self.one_of(&["required", "optional", "prohibited"])?;
            return Ok(put(info, "use", if self.value == "optional" { "" } else { self.value }));
        }
        let bound =
            ["binding", "operation", "input", "output", "fault"].iter().any(|local| info.is_wsdl(local));
        if !bound {
            return Ok(false);
        }
        self.one_of(&["literal", "encoded"])?;
        Ok(self.bodies(info))
    }

    /// Sets how all bodies in a part of a binding are written.
    fn bodies(&self, info: &mut ElementInfo) -> bool {
        let mut found = false;
        for child in info.elements_mut() {
            let is_soap = matches!(&*child.name.namespace, ns::WSDL_SOAP11 | ns::WSDL_SOAP12);
            if is_soap && matches!(&*child.name.local, "body" | "fault") {
                self.attribute(child, "use");
                found = true;
            } else if *child.name.namespace == *ns::WSDL || *child.name.namespace == *ns::WSDL_MIME {
                found |= self.bodies(child);
            }
        }
        found
    }

    /// Sets an attribute of an extension element.
    fn extension(&self, info: &mut ElementInfo, local: &str, attribute: &str) -> bool {
        let found =
            info.elements_mut().find(|it| *it.name.namespace != *ns::WSDL && &*it.name.local == local);
        found.is_some_and(|extension| self.attribute(extension, attribute))
    }

    fn base(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        let Some(derivation) = derivation(info) else { return Ok(false) };
        let name = self.read("", type_name)?;
        derivation.set("base", Value::name(&name));
        Ok(true)
    }

    /// Facets of one kind in place of those there are.
    fn facets(&self, info: &mut ElementInfo) -> Result<bool, AdditionError> {
        let kinds: &[&str] = match self.key {
            "length" => &["length", "minLength", "maxLength"],
            "range" => &["minInclusive", "minExclusive", "maxInclusive", "maxExclusive"],
            "digits" => &["totalDigits"],
            "decimals" => &["fractionDigits"],
            "like" => &["pattern"],
            "one-of" => &["enumeration"],
            _ => &["whiteSpace"],
        };
        let is_bare_pattern = self.key == "like" && !self.value.starts_with('"');
        let new = match self.value {
            "" => Vec::new(),
            _ if is_bare_pattern => vec![ElementInfo::xsd("pattern").with("value", self.value)],
            _ => self.read(&format!("{} ", self.key), facets)?,
        };
        // A type that is only named is narrowed where it is used.
        if has_type(info)
            && let Some(name) = info.named("type").cloned()
        {
            info.attributes.retain(|(name, _)| !name.is("", "type"));
            let inline =
                ElementInfo::xsd("simpleType").holding(ElementInfo::xsd("restriction").naming("base", &name));
            let at = info.elements().take_while(|it| it.is_xsd("annotation")).count();
            info.children.insert(at, Child::Element(inline));
        }
        let Some(restriction) = derivation(info).filter(|it| it.is_xsd("restriction")) else {
            return Ok(false);
        };
        let is_old =
            |child: &Child| matches!(child, Child::Element(it) if kinds.iter().any(|kind| it.is_xsd(kind)));
        let at = restriction.children.iter().position(is_old);
        let behind = restriction
            .elements()
            .take_while(|it| {
                !["attribute", "attributeGroup", "anyAttribute"].iter().any(|local| it.is_xsd(local))
            })
            .count();
        let old: Vec<Child> = restriction.children.iter().filter(|child| is_old(child)).cloned().collect();
        restriction.children.retain(|child| !is_old(child));
        let at = at.unwrap_or(behind - old.len().min(behind));
        // A value that stays keeps what its author says of it.
        let kept = new.into_iter().map(|info| {
            let same = old.iter().find(|child| matches!(child, Child::Element(it) if it.name == info.name && it.text("value") == info.text("value")));
            same.cloned().unwrap_or(Child::Element(info))
        });
        let kept: Vec<Child> = kept.collect();
        restriction.children.splice(at..at, kept);
        Ok(true)
    }
}

/// The element in which a type says what it derives from.
fn derivation(info: &mut ElementInfo) -> Option<&mut ElementInfo> {
    let mut here = info;
    loop {
        if here.is_xsd("restriction") || here.is_xsd("extension") {
            return Some(here);
        }
        let inner =
            ["simpleType", "complexType", "simpleContent", "complexContent", "restriction", "extension"];
        here = here.elements_mut().find(|it| inner.iter().any(|local| it.is_xsd(local)))?;
    }
}

/// Leaves out of an element info what it says by default anyway, as reading it from a file does.
pub fn without_defaults(info: &mut ElementInfo) {
    let name = info.name.clone();
    info.attributes.retain_mut(|(attribute, value)| match value {
        Value::Text(text) if attribute.namespace.is_empty() => {
            match crate::vocabulary::said(&name, &attribute.local, text) {
                Some(said) => {
                    *text = said;
                    true
                }
                None => false,
            }
        }
        _ => true,
    });
    info.elements_mut().for_each(without_defaults);
}
