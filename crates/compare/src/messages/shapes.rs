//! Compares two wire shapes: what goes around the schemas, and where these come in.

use charter_contract::{
    Body, Carrier, Component, Contract, MessageId, OperationId, Side, SoapShape, UseKind, WireElement,
    WireShape,
};
use charter_schema::{Assessment, TypeId};
use charter_source::{Place, QName};

use crate::comparison::{Both, Comparison, side_of_new};
use crate::decide::survey::{Root, assessment};
use crate::describe::names::{borrow, pair};
use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::versions::{Subject, Version};
use crate::what::{Thing, What};

/// A wire shape, and the envelope in it.
pub(crate) type Enveloped<'s> = (&'s WireShape, &'s SoapShape);

impl Comparison<'_> {
    /// Compares a side by the two shapes that it has on the wire.
    pub(crate) fn shapes(&mut self, both: Both, old: &WireShape, new: &WireShape) {
        match (&old.carrier, &new.carrier) {
            (Carrier::Soap(a), Carrier::Soap(b)) => self.envelopes(both, (old, a), (new, b)),
            (Carrier::Http(a), Carrier::Http(b)) => self.plain(both, (old, a), (new, b)),
            (_, is) => {
                let what = match is {
                    Carrier::Soap(_) => What::InEnvelope {},
                    Carrier::Http(_) => What::WithoutEnvelope {},
                };
                let place = Some(self.new.bindings[new.binding].place);
                self.body(both, new.side, (Kind::CarrierChanged, what), Effect::OTHER, place);
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
            let how = |encoding: &Option<String>| match encoding {
                Some(_) => UseKind::Encoded,
                None => UseKind::Literal,
            };
            let (was, is) = (how(&a.encoding), how(&b.encoding));
            let what = match was == is {
                true => What::EncodedOtherwise {},
                false => What::Encoded { was, is },
            };
            self.body(both, new.side, (Kind::EncodingChanged, what), Effect::OTHER, place);
        }
        self.media(both, new, &a.attachments, &b.attachments, false);
        match (&a.body, &b.body) {
            (Body::Elements(a), Body::Elements(b)) => self.elements(both, new, a, b),
            (Body::Content(a), Body::Content(b)) => {
                // What stands in the body has no name of its own.
                let side = |id, side| Component::OperationSide(id, side);
                let root = Root {
                    name: QName::new("", "content"),
                    side: side_of_new(both, new.side),
                    old: Assessment::Type(*a),
                    new: Assessment::Type(*b),
                    encoded: false,
                    from: Some((side(both.0, new.side), side(both.1, new.side))),
                };
                self.follow(both, new.side, &[root]);
            }
            (Body::Wrapper { name: was, parts: a }, Body::Wrapper { name: is, parts: b }) => {
                if was != is {
                    let what = What::renamed(Thing::Member, was, is);
                    self.body(both, new.side, (Kind::BodyChanged, what), Effect::OTHER, place);
                }
                self.fields(both, new, a, b);
            }
            // Another style says so.
            _ if a.style != b.style => {}
            _ => {
                let what = (Kind::BodyChanged, What::BodyBuiltOtherwise {});
                self.body(both, new.side, what, Effect::OTHER, place);
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
            let what = What::SoapVersion { was: old.version, is: new.version };
            let (was, is) = (old.version.to_string(), new.version.to_string());
            changes.push((Kind::SoapVersionChanged, what, was, is));
        }
        if old.style != new.style {
            let what = What::Style { was: old.style, is: new.style };
            changes.push((Kind::StyleChanged, what, old.style.to_string(), new.style.to_string()));
        }
        let shown = |text: &Option<String>| text.clone().unwrap_or_else(|| "none".to_owned());
        if old.transport != new.transport {
            let (was, is) = (shown(&old.transport), shown(&new.transport));
            changes.push((Kind::TransportChanged, What::Transport {}, was, is));
        }
        for (kind, what, was, is) in changes {
            let about = (Aspect::Whole, Effect::OTHER);
            let difference = Difference {
                old: Some(Line::Text(was)),
                new: Some(Line::Text(is)),
                old_place: Some(self.old.bindings[old_binding].place),
                new_place: place,
                ..Difference::of(self.versions(), Subject::new(binding), (kind, what), about)
            };
            self.record(both, side, difference);
        }
        if old.action != new.action {
            let what = What::Action { was: old.action.clone(), is: new.action.clone() };
            let bound = self.new.bound(both.1).find(|bound| bound.binding == new_binding);
            let component =
                bound.map_or(binding, |bound| Component::BindingOperation(new_binding, bound.index));
            let about = (Aspect::Whole, Effect::OTHER);
            let what = (Kind::ActionChanged, what);
            let difference = Difference {
                old: Some(Line::Text(format!("action {}", shown(&old.action)))),
                new: Some(Line::Text(format!("action {}", shown(&new.action)))),
                old_place: Some(self.old.operation(both.0).place),
                new_place: Some(self.new.operation(both.1).place),
                ..Difference::of(self.versions(), Subject::new(component), what, about)
            };
            self.record(both, side, difference);
        }
    }

    /// Compares the elements of a body.
    fn elements(&mut self, both: Both, new: &WireShape, a: &[WireElement], b: &[WireElement]) {
        let encoded = new.soap().is_some_and(|soap| soap.encoding.is_some());
        let mut roots = Vec::new();
        if a.len() != b.len() {
            let what = (Kind::BodyChanged, What::BodyCount { was: a.len(), is: b.len() });
            let place = Some(self.new.operation(both.1).place);
            return self.body(both, new.side, what, Effect::OTHER, place);
        }
        for (was, is) in a.iter().zip(b) {
            let (old_name, new_name) = (element_name(self.old, was), element_name(self.new, is));
            if old_name != new_name {
                let place = match is {
                    WireElement::Declared(id) => self.new.schemas.elements[*id].place,
                    WireElement::Typed { .. } => self.new.operation(both.1).place,
                };
                let what = What::renamed(Thing::Member, &old_name, &new_name);
                self.body(both, new.side, (Kind::ElementRenamed, what), Effect::OTHER, Some(place));
            }
            roots.push(self.root((both, new.side), encoded, was, is));
        }
        self.follow(both, new.side, &roots);
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
        let side = side_of_new(both, side);
        Root { name, side, old: assessment(was), new: assessment(is), encoded, from: None }
    }

    /// A difference of the body as a whole.
    pub(crate) fn body(
        &mut self,
        both: Both,
        side: Side,
        what: (Kind, What),
        effect: Effect,
        place: Option<Place>,
    ) {
        let subject = Subject::new(Component::OperationSide(both.1, side));
        self.body_at(both, side, subject, what, effect, (None, place));
    }

    /// The same, with the component that it is pinned to and the places in both versions.
    pub(crate) fn body_at(
        &mut self,
        both: Both,
        side: Side,
        subject: Subject,
        what: (Kind, What),
        effect: Effect,
        (old_place, new_place): (Option<Place>, Option<Place>),
    ) {
        let difference = Difference::of(self.versions(), subject, what, (Aspect::Whole, effect));
        self.record(both, side, Difference { old_place, new_place, ..difference });
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
                let side = side_of_new(both, sides.1);
                let (old, new) = (Assessment::Type(x), Assessment::Type(y));
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
        let (thing, name) = (Thing::Part, name.to_owned());
        let (what, effect) = match version {
            Version::Old => ((Kind::PartRemoved, What::ComponentGone { thing, name }), Effect::OTHER),
            Version::New => ((Kind::PartAdded, What::ComponentNew { thing, name }), Effect::NEW_REQUIRED),
        };
        let subject = match (was, is) {
            (Some((part, _)), None) => Subject::old(part),
            (None, Some((part, _))) => Subject::new(part),
            _ => Subject::new(Component::OperationSide(both.1, side)),
        };
        let places = (was.map(|(_, place)| place), is.map(|(_, place)| place));
        self.body_at(both, side, subject, what, effect, places);
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
