//! Compares two wire shapes: what goes around the schemas, and where these come in.

use charter_contract::{
    Body, Carrier, Component, Contract, MessageId, OperationId, Side, SoapShape, WireElement, WireShape,
};
use charter_schema::{Judged, TypeId};
use charter_source::{Place, QName};

use crate::content::renaming;
use crate::names::{borrow, pair};
use crate::operations::{Both, Comparison};
use crate::report::{Aspect, Difference, Effect, Version};
use crate::survey::{Root, judged};

/// A wire shape, and the envelope in it.
pub(crate) type Enveloped<'s> = (&'s WireShape, &'s SoapShape);

impl Comparison<'_> {
    /// Compares a side by the two shapes that it has on the wire.
    pub(crate) fn shapes(&mut self, both: Both, old: &WireShape, new: &WireShape) {
        match (&old.carrier, &new.carrier) {
            (Carrier::Soap(a), Carrier::Soap(b)) => self.envelopes(both, (old, a), (new, b)),
            (Carrier::Http(a), Carrier::Http(b)) => self.plain(both, (old, a), (new, b)),
            (_, is) => {
                let words = match is {
                    Carrier::Soap(_) => "the messages travel in an envelope now",
                    Carrier::Http(_) => "the messages travel without an envelope now",
                };
                let place = Some(self.new.bindings[new.binding].place);
                self.body(both, new.side, "carrier-changed", words.to_owned(), Effect::OTHER, place);
            }
        }
    }

    fn envelopes(&mut self, both: Both, old: Enveloped<'_>, new: Enveloped<'_>) {
        self.protocol(both, old, new);
        self.headers(both, old, new);
        let (_, a) = old;
        let (new, b) = new;
        let place = Some(self.new.operation(both.1).place);
        if a.encoding != b.encoding {
            let shown = |encoding: &Option<String>| if encoding.is_some() { "encoded" } else { "literal" };
            let (was, is) = (shown(&a.encoding), shown(&b.encoding));
            let message = match was == is {
                true => "the body is written by another encoding".to_owned(),
                false => format!("the body was {was} and is {is}"),
            };
            self.body(both, new.side, "encoding-changed", message, Effect::OTHER, place);
        }
        self.media(both, new, &a.attachments, &b.attachments, false);
        match (&a.body, &b.body) {
            (Body::Elements(a), Body::Elements(b)) => self.elements(both, new, a, b),
            (Body::Content(a), Body::Content(b)) => {
                // What stands in the body has no name of its own.
                let side = |id, side| Component::OperationSide(id, side);
                let root = Root {
                    name: QName::new("", "content"),
                    side: self.named_side(both, new.side),
                    old: Judged::Type(*a),
                    new: Judged::Type(*b),
                    encoded: false,
                    from: Some((side(both.0, new.side), side(both.1, new.side))),
                };
                self.follow(both, new.side, &[root]);
            }
            (Body::Wrapper { name: was, parts: a }, Body::Wrapper { name: is, parts: b }) => {
                if was != is {
                    self.body(both, new.side, "body-changed", renaming(was, is), Effect::OTHER, place);
                }
                self.fields(both, new, a, b);
            }
            // Another style says so.
            _ if a.style != b.style => {}
            _ => {
                let message = "the body is built differently".to_owned();
                self.body(both, new.side, "body-changed", message, Effect::OTHER, place);
            }
        }
    }

    /// Everything that a consumer must do differently though the body is the same.
    fn protocol(&mut self, both: Both, (was, old): Enveloped<'_>, (is, new): Enveloped<'_>) {
        let side = is.side;
        let (old_binding, new_binding) = (was.binding, is.binding);
        let binding = Component::Binding(new_binding);
        let place = Some(self.new.bindings[new_binding].place);
        let mut changes = Vec::new();
        if old.version != new.version {
            let words = format!("SOAP {} became SOAP {}", old.version.number(), new.version.number());
            let (was, is) = (old.version.number().to_owned(), new.version.number().to_owned());
            changes.push(("soap-version-changed", words, was, is));
        }
        if old.style != new.style {
            let words = format!("the style {} became {}", old.style.name(), new.style.name());
            let (was, is) = (old.style.name().to_owned(), new.style.name().to_owned());
            changes.push(("style-changed", words, was, is));
        }
        if old.transport != new.transport {
            let words = "the messages travel by another transport".to_owned();
            let shown = |transport: &Option<String>| transport.clone().unwrap_or_else(|| "none".to_owned());
            changes.push(("transport-changed", words, shown(&old.transport), shown(&new.transport)));
        }
        for (rule, message, was, is) in changes {
            let difference = Difference {
                path: self.new.path(binding).to_string(),
                rule,
                message,
                aspect: Aspect::Whole,
                effect: Effect::OTHER,
                old: Some(was),
                new: Some(is),
                old_place: Some(self.old.bindings[old_binding].place),
                new_place: place,
                confidence: None,
            };
            self.record(both, side, difference);
        }
        if old.action != new.action {
            let shown = |action: &Option<String>| action.clone().unwrap_or_else(|| "none".to_owned());
            let difference = Difference {
                path: format!(
                    "{}/operation/{}",
                    self.new.path(binding),
                    self.new.operation(both.1).name.text
                ),
                rule: "action-changed",
                message: "the action is another: providers that look at it refuse the old one".to_owned(),
                aspect: Aspect::Whole,
                effect: Effect::OTHER,
                old: Some(format!("action {}", shown(&old.action))),
                new: Some(format!("action {}", shown(&new.action))),
                old_place: Some(self.old.operation(both.0).place),
                new_place: Some(self.new.operation(both.1).place),
                confidence: None,
            };
            self.record(both, side, difference);
        }
    }

    /// Compares the elements of a body.
    fn elements(&mut self, both: Both, new: &WireShape, a: &[WireElement], b: &[WireElement]) {
        let encoded = new.soap().is_some_and(|soap| soap.encoding.is_some());
        let mut roots = Vec::new();
        if a.len() != b.len() {
            let message = format!("the body held {} elements and now holds {}", a.len(), b.len());
            let place = Some(self.new.operation(both.1).place);
            return self.body(both, new.side, "body-changed", message, Effect::OTHER, place);
        }
        for (was, is) in a.iter().zip(b) {
            let (old_name, new_name) = (element_name(self.old, was), element_name(self.new, is));
            if old_name != new_name {
                let place = match is {
                    WireElement::Declared(id) => self.new.schemas.elements[*id].place,
                    WireElement::Typed { .. } => self.new.operation(both.1).place,
                };
                self.body(
                    both,
                    new.side,
                    "element-renamed",
                    renaming(&old_name, &new_name),
                    Effect::OTHER,
                    Some(place),
                );
            }
            roots.push(self.root((both, new.side), encoded, was, is));
        }
        self.follow(both, new.side, &roots);
    }

    /// A side of the new version, as an example names it.
    pub(crate) fn named_side(&self, both: Both, side: Side) -> (OperationId, String) {
        (both.1, self.new.side_name(both.1, side))
    }

    /// Where two elements of an envelope begin.
    pub(crate) fn root(
        &self,
        (both, side): (Both, Side),
        encoded: bool,
        was: &WireElement,
        is: &WireElement,
    ) -> Root {
        // Messages that show something are those of the version that may send them.
        let name = if side == Side::Input { element_name(self.old, was) } else { element_name(self.new, is) };
        let side = self.named_side(both, side);
        Root { name, side, old: judged(was), new: judged(is), encoded, from: None }
    }

    /// A difference of the body as a whole.
    pub(crate) fn body(
        &mut self,
        both: Both,
        side: Side,
        rule: &'static str,
        message: String,
        effect: Effect,
        place: Option<Place>,
    ) {
        let path = self.new.path(Component::OperationSide(both.1, side)).to_string();
        self.body_at(both, (side, path), rule, message, effect, (None, place));
    }

    /// The same, with the path that it is pinned to and the places in both versions.
    pub(crate) fn body_at(
        &mut self,
        both: Both,
        (side, path): (Side, String),
        rule: &'static str,
        message: String,
        effect: Effect,
        (old_place, new_place): (Option<Place>, Option<Place>),
    ) {
        let difference = Difference {
            path,
            rule,
            message,
            aspect: Aspect::Whole,
            effect,
            old: None,
            new: None,
            old_place,
            new_place,
            confidence: None,
        };
        self.record(both, side, difference);
    }

    /// Compares the parts of the messages of a side, whatever the binding makes of them.
    pub(crate) fn parts(&mut self, both: Both, sides: (Side, Side)) {
        let message = |contract: &Contract, id: OperationId, side: Side| {
            contract.operation(id).side(side).and_then(|usage| usage.message.target)
        };
        let (Some(was), Some(is)) = (message(self.old, both.0, sides.0), message(self.new, both.1, sides.1))
        else {
            return;
        };
        let names = |contract: &Contract, id: MessageId| -> Vec<(String, usize)> {
            let parts = contract.messages[id].parts.iter().enumerate();
            parts.map(|(index, part)| (part.name.text.to_string(), index)).collect()
        };
        let (old, new) = (names(self.old, was), names(self.new, is));
        let (kept, gone, come) = pair(&borrow(&old), &borrow(&new));
        let mut roots = Vec::new();
        for (a, b) in kept {
            let (a, b) = (Component::Part(was, a), Component::Part(is, b));
            if let (Some(x), Some(y)) = (part_type(self.old, a), part_type(self.new, b)) {
                let name = QName::new("", &self.new.messages[is].parts[index_of(b)].name.text);
                let side = self.named_side(both, sides.1);
                let (old, new) = (Judged::Type(x), Judged::Type(y));
                roots.push(Root { name, side, old, new, encoded: false, from: Some((a, b)) });
            }
        }
        for index in gone {
            let name = self.old.messages[was].parts[index].name.text.to_string();
            self.part_of_one(both, sides.1, &name, Version::Old);
        }
        for index in come {
            let name = self.new.messages[is].parts[index].name.text.to_string();
            self.part_of_one(both, sides.1, &name, Version::New);
        }
        self.follow(both, sides.1, &roots);
    }

    /// Says that a part of a side goes with one version only. It is pinned to the message, unless the messages of both have
    /// it, and only the binding leaves it out.
    pub(crate) fn part_of_one(&mut self, both: Both, side: Side, name: &str, version: Version) {
        let side_name = self.new.side_name(both.1, side);
        let part = |contract: &Contract, id: OperationId| -> Option<(Component, Place)> {
            let side =
                contract.sides(id).into_iter().find(|own| contract.side_name(id, *own) == side_name)?;
            let message = contract.operation(id).side(side)?.message.target?;
            let index = contract.messages[message].parts.iter().position(|part| *part.name.text == *name)?;
            Some((Component::Part(message, index), contract.messages[message].parts[index].place))
        };
        let (was, is) = (part(self.old, both.0), part(self.new, both.1));
        let (rule, words, effect) = match version {
            Version::Old => ("part-removed", "is gone", Effect::OTHER),
            Version::New => ("part-added", "is new", Effect::NEW_REQUIRED),
        };
        let path = match (was, is) {
            (Some((part, _)), None) => self.old.path(part),
            (None, Some((part, _))) => self.new.path(part),
            _ => self.new.path(Component::OperationSide(both.1, side)),
        };
        let places = (was.map(|(_, place)| place), is.map(|(_, place)| place));
        let message = format!("the part \"{name}\" {words}");
        self.body_at(both, (side, path.to_string()), rule, message, effect, places);
    }
}

fn index_of(part: Component) -> usize {
    match part {
        Component::Part(_, index) => index,
        _ => 0,
    }
}

pub(crate) fn element_name(contract: &Contract, element: &WireElement) -> QName {
    match element {
        WireElement::Declared(id) => contract.schemas.elements[*id].name.clone(),
        WireElement::Typed { name, .. } => name.clone(),
    }
}

/// The type of a message part, or of its element.
fn part_type(contract: &Contract, part: Component) -> Option<TypeId> {
    let Component::Part(message, index) = part else { return None };
    let part = &contract.messages[message].parts[index];
    let of_element = part.element.as_ref().and_then(|element| element.target);
    let ty = part.ty.as_ref().and_then(|ty| ty.target);
    ty.or(of_element.map(|element| contract.schemas.element_type(element)))
}
