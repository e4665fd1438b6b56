//! What a schema declares for all to use: what came, what went, and what goes by another name.

use charter_contract::{Component, Contract};
use charter_notation::{Child, Form, Value, own_form};
use charter_schema::Owner;
use charter_source::{QName, Set};

use crate::moved::moved;
use crate::names::{Alike, apart, renamed_by_key};
use crate::operations::Comparison;
use crate::renames;
use crate::report::{Confidence, Verdict};

/// Changes that say under which name something stands in the place of another, and how they end.
const STANDING: [&str; 2] = ["derived-changed", "substitutes-changed"];
pub(crate) const IN_ITS_PLACE: &str = ", and stands in its place";

impl Comparison<'_> {
    /// Global types and elements that came or went. On the wire only their use counts, which is compared
    /// above; but an architect wants to see them.
    pub(crate) fn globals(&mut self) {
        fn types(contract: &Contract) -> Vec<(&QName, Component)> {
            let own = contract.schemas.own_types();
            own.filter_map(|(id, ty)| Some((ty.name.as_ref()?, Component::Type(id)))).collect()
        }
        fn elements(contract: &Contract) -> Vec<(&QName, Component)> {
            // An element that is a message part comes and goes with its operation or header.
            let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
            let in_parts: Set<_> = parts.filter_map(|part| part.element.as_ref()?.target).collect();
            let all = contract.schemas.elements.iter().filter(|(_, element)| element.owner == Owner::Schema);
            all.filter(|(id, element)| !in_parts.contains(id) && !contract.schemas.is_known(element.place))
                .map(|(id, element)| (&element.name, Component::Element(id)))
                .collect()
        }
        let renamed =
            renames::types(self.old, self.new, &self.sent.survey.inclusion, &self.read.survey.inclusion);
        for (was, is) in &renamed {
            let (from, to) = (&self.old.schemas.types[*was].name, &self.new.schemas.types[*is].name);
            let (Some(from), Some(to)) = (from, to) else { continue };
            let message = match from.local == to.local {
                true => moved("type", from, to),
                false => another_name("type", &from.local, &to.local),
            };
            let (was, is) = (Some(Component::Type(*was)), Some(Component::Type(*is)));
            self.component(Verdict::Keeps, "type-renamed", message, was, is);
            self.say_confidence(Confidence::Sure);
        }
        let then: Set<Component> = renamed.iter().map(|(was, _)| Component::Type(*was)).collect();
        let now: Set<Component> = renamed.iter().map(|(_, is)| Component::Type(*is)).collect();
        let standing = self.changes.iter().filter(|change| STANDING.contains(&change.rule));
        let told: Set<String> =
            standing.map(|change| change.message.trim_end_matches(IN_ITS_PLACE).to_owned()).collect();
        // An element that became a message part, or is one no longer, was there all the time.
        let is_there = |own: &Contract, other: &Contract, component: &Component| match component {
            Component::Element(id) => other.schemas.element_named(&own.schemas.elements[*id].name).is_some(),
            _ => false,
        };
        type Globals = fn(&Contract) -> Vec<(&QName, Component)>;
        let kinds: [(&str, [&'static str; 3], Globals); 2] = [
            ("type", ["type-removed", "type-added", "type-renamed"], types),
            ("element", ["element-removed", "element-added", "element-renamed"], elements),
        ];
        for (kind, rules, all) in kinds {
            let (mut gone, mut come) = apart(&all(self.old), &all(self.new));
            gone.retain(|it| !then.contains(it) && !is_there(self.old, self.new, it));
            come.retain(|it| !now.contains(it) && !is_there(self.new, self.old, it));
            for alike in self.built_the_same(&mut gone, &mut come) {
                self.global_renamed(kind, rules[2], alike, &told);
            }
            for component in gone {
                let message = format!("the {kind} \"{}\" is gone", name_of(self.old, component));
                self.component(Verdict::Keeps, rules[0], message, Some(component), None);
            }
            for component in come {
                let message = format!("the {kind} \"{}\" is new", name_of(self.new, component));
                self.component(Verdict::Keeps, rules[1], message, None, Some(component));
            }
        }
    }

    /// Takes pairs of an old and a new component out of the lists: those that have one name in two namespaces, then those
    /// that are written the same but for their names.
    fn built_the_same(&self, gone: &mut Vec<Component>, come: &mut Vec<Component>) -> Vec<Alike<Component>> {
        let local = |contract: &Contract, component: Component| {
            qname(contract, component).map(|name| name.local.to_string())
        };
        let mut found = renamed_by_key(gone, come, &|was| local(self.old, was), &|is| local(self.new, is));
        if !gone.is_empty() && !come.is_empty() {
            let build =
                |contract: &Contract, component: Component| Some(build(&nameless(contract, component)?));
            found.extend(renamed_by_key(gone, come, &|was| build(self.old, was), &|is| build(self.new, is)));
        }
        found
    }

    /// Says that a global component goes by another name, unless it was said where that matters.
    fn global_renamed(
        &mut self,
        kind: &str,
        rule: &'static str,
        alike: Alike<Component>,
        told: &Set<String>,
    ) {
        let names = (qname(self.old, alike.old), qname(self.new, alike.new));
        let message = match names {
            (Some(from), Some(to)) if from.local == to.local => moved(kind, from, to),
            _ => another_name(kind, &name_of(self.old, alike.old), &name_of(self.new, alike.new)),
        };
        if !told.contains(&message) {
            self.component(Verdict::Keeps, rule, message, Some(alike.old), Some(alike.new));
            self.say_confidence(alike.confidence);
        }
    }
}

/// That a global component goes by another name, in words.
pub(crate) fn another_name(kind: &str, from: &str, to: &str) -> String {
    format!("the {kind} \"{from}\" is now \"{to}\"")
}

fn qname(contract: &Contract, component: Component) -> Option<&QName> {
    match component {
        Component::Type(id) => contract.schemas.types[id].name.as_ref(),
        Component::Element(id) => Some(&contract.schemas.elements[id].name),
        _ => None,
    }
}

fn name_of(contract: &Contract, component: Component) -> String {
    contract.path(component).as_str().rsplit('/').next().unwrap_or("").to_owned()
}

/// How a global component is written, without its name and what is said about it.
fn nameless(contract: &Contract, component: Component) -> Option<Form> {
    let place = match component {
        Component::Type(id) => contract.schemas.types[id].extent,
        Component::Element(id) => contract.schemas.elements[id].extent,
        _ => return None,
    };
    let mut form = own_form(contract, place)?;
    form.attributes.retain(|(name, _)| !(name.namespace.is_empty() && &*name.local == "name"));
    without_words(&mut form);
    Some(form)
}

fn without_words(form: &mut Form) {
    form.children.retain(|child| !matches!(child, Child::Element(it) if it.is_xsd("annotation")));
    form.elements_mut().for_each(without_words);
}

/// All that a form says, as a text that another says the same by.
fn build(form: &Form) -> String {
    let mut attributes: Vec<String> = form
        .attributes
        .iter()
        .map(|(name, value)| match value {
            Value::Text(text) => format!("{name}={text:?}"),
            Value::Names(names) => format!("{name}={names:?}"),
        })
        .collect();
    attributes.sort_unstable();
    let children: Vec<String> = form
        .children
        .iter()
        .map(|child| match child {
            Child::Element(inner) => build(inner),
            Child::Text(text) | Child::Comment(text) => format!("{text:?}"),
        })
        .collect();
    format!("{}({})[{}]", form.name, attributes.join(" "), children.join(" "))
}
