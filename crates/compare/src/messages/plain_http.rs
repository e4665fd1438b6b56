//! Compares messages over plain HTTP, and what goes along with an envelope.

use charter_contract::{Component, HttpContent, HttpShape, MediaPart, RpcPart, WireShape};
use charter_schema::Assessment;
use charter_source::QName;

use crate::comparison::{Both, Comparison, side_of_new};
use crate::decide::survey::{Root, assessment};
use crate::describe::names::pair;
use crate::effect::Effect;
use crate::kind::Kind;
use crate::versions::{Subject, Version};
use crate::what::{Media, Thing, What};

impl Comparison<'_> {
    /// Compares a side by its two shapes over plain HTTP.
    pub(crate) fn plain(&mut self, both: Both, old: (&WireShape, &HttpShape), new: (&WireShape, &HttpShape)) {
        let (was, is) = (old.0, new.0);
        let place = Some(self.new.bindings[is.binding].place);
        if was.is_request() && was.method != is.method {
            let what = What::Method { was: was.method.to_string(), is: is.method.to_string() };
            self.body(both, is.side, (Kind::MethodChanged, what), Effect::OTHER, place);
        }
        let path = |contract: &charter_contract::Contract, shape: &WireShape| {
            let address = shape.address.as_deref()?;
            let port = shape.port.and_then(|port| contract.port(port).address());
            Some(port.and_then(|port| address.strip_prefix(&*port.text)).unwrap_or(address).to_owned())
        };
        let (from, to) = (path(self.old, was), path(self.new, is));
        if was.is_request() && from != to {
            let shown = |path: Option<String>| path.unwrap_or_default();
            let what = What::Path { was: shown(from), is: shown(to) };
            self.body(both, is.side, (Kind::PathChanged, what), Effect::OTHER, place);
        }
        match (&old.1.content, &new.1.content) {
            (HttpContent::Empty, HttpContent::Empty) => {}
            (HttpContent::Form(a), HttpContent::Form(b))
            | (HttpContent::InPath(a), HttpContent::InPath(b)) => {
                self.fields(both, is, a, b);
            }
            (HttpContent::Part(a), HttpContent::Part(b)) => {
                self.media(both, is, std::slice::from_ref(a), std::slice::from_ref(b), true);
            }
            (HttpContent::Multipart(a), HttpContent::Multipart(b)) => self.media(both, is, a, b, false),
            _ => {
                let what = (Kind::BodyChanged, What::PartsHeldOtherwise {});
                self.body(both, is.side, what, Effect::OTHER, place);
            }
        }
    }

    /// Compares parts that go by their own names: fields of a form, accessors of an rpc body.
    pub(crate) fn fields(&mut self, both: Both, new: &WireShape, a: &[RpcPart], b: &[RpcPart]) {
        let encoded = new.soap().is_some_and(|soap| soap.encoding.is_some());
        let old_keys: Vec<(&str, _)> = a.iter().map(|part| (part.name.as_str(), part)).collect();
        let new_keys: Vec<(&str, _)> = b.iter().map(|part| (part.name.as_str(), part)).collect();
        let (kept, gone, come) = pair(&old_keys, &new_keys);
        let mut roots = Vec::new();
        for (was, is) in &kept {
            let from = (self.old.component_at(was.place), self.new.component_at(is.place));
            roots.push(Root {
                name: QName::new("", &is.name),
                side: side_of_new(both, new.side),
                old: Assessment::Type(was.ty),
                new: Assessment::Type(is.ty),
                encoded,
                from: Some(from),
            });
        }
        let place = |part: &RpcPart, list: &[RpcPart]| list.iter().position(|other| other.name == part.name);
        // The parameters of a call are accessors in the order of the signature, encoded or not (SOAP 1.1, 7.1).
        let moved = kept.windows(2).find(|two| place(two[0].1, b) > place(two[1].1, b));
        if let (Some([_, (was, is)]), true) = (moved, new.soap().is_some()) {
            let component = match self.new.component_at(is.place) {
                Component::Part(message, _) => Component::Message(message),
                other => other,
            };
            let what = (Kind::OrderChanged, What::PartsOrder {});
            let places = (Some(was.place), Some(is.place));
            self.body_at(both, new.side, Subject::new(component), what, Effect::OTHER, places);
        }
        gone.iter().for_each(|part| self.part_of_one(both, new.side, &part.name, Version::Old));
        come.iter().for_each(|part| self.part_of_one(both, new.side, &part.name, Version::New));
        self.follow(both, new.side, &roots);
    }

    /// Compares parts that are documents of their own; `alone` if there is one, whose name nobody sees.
    pub(crate) fn media(
        &mut self,
        both: Both,
        new: &WireShape,
        a: &[MediaPart],
        b: &[MediaPart],
        alone: bool,
    ) {
        let place = Some(self.new.bindings[new.binding].place);
        let key = |part: &MediaPart| if alone { String::new() } else { part.name.clone() };
        let old_keys: Vec<(String, usize)> = a.iter().enumerate().map(|(at, part)| (key(part), at)).collect();
        let new_keys: Vec<(String, usize)> = b.iter().enumerate().map(|(at, part)| (key(part), at)).collect();
        let (kept, gone, come) =
            pair(&crate::describe::names::borrow(&old_keys), &crate::describe::names::borrow(&new_keys));
        let mut roots = Vec::new();
        for (was, is) in kept {
            let (was, is) = (&a[was], &b[is]);
            if let Some(effect) = media_change(was, is) {
                let (was, is_now) = (Media(was.allowed.clone()), Media(is.allowed.clone()));
                let what = What::MediaTypes { part: is.name.clone(), was, is: is_now };
                self.body(both, new.side, (Kind::MediaTypeChanged, what), effect, place);
            }
            let (old_name, new_name) =
                (was.content.name(&self.old.schemas), is.content.name(&self.new.schemas));
            if was.xml && is.xml && old_name != new_name {
                let what = What::renamed(Thing::Member, old_name, new_name);
                self.body(both, new.side, (Kind::ElementRenamed, what), Effect::OTHER, place);
            }
            roots.push(Root {
                name: QName::new("", &is.name),
                side: side_of_new(both, new.side),
                old: assessment(&was.content),
                new: assessment(&is.content),
                encoded: false,
                from: None,
            });
        }
        for at in gone {
            self.part_of_one(both, new.side, &a[at].name, Version::Old);
        }
        for at in come {
            self.part_of_one(both, new.side, &b[at].name, Version::New);
        }
        self.follow(both, new.side, &roots);
    }
}

/// What a change of the media types of a part does.
fn media_change(was: &MediaPart, is: &MediaPart) -> Option<Effect> {
    let more = is.allowed.iter().any(|ty| !was.allows(ty));
    let less = was.allowed.iter().any(|ty| !is.allows(ty));
    (more || less).then_some(Effect { more, less, ..Effect::NONE })
}
