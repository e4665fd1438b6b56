//! Compares the header blocks of messages, and the faults that answer them.

use charter_contract::{Bound, Carrier, Component, Contract, HeaderBlock, Side, WireElement};

use crate::comparison::{Both, Comparison};
use crate::describe::names::{borrow, pair};
use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::messages::shapes::{Enveloped, element_name};
use crate::report::Confidence;
use crate::versions::Subject;
use crate::what::{Thing, What};

impl Comparison<'_> {
    /// Compares the faults about header blocks by which requests may be answered (WSDL 1.1, 3.7).
    pub(crate) fn header_faults(&mut self, both: Both, offers: (Bound<'_>, Bound<'_>)) {
        let all = |contract: &Contract, id, offer| -> Vec<(String, HeaderBlock)> {
            let shapes = contract.header_faults(id, Side::Input, offer).unwrap_or_default();
            let blocks = shapes.into_iter().filter_map(|shape| match shape.carrier {
                Carrier::Soap(soap) => soap.headers.into_iter().next(),
                Carrier::Http(_) => None,
            });
            blocks.map(|block| (element_name(contract, &block.content).to_string(), block)).collect()
        };
        let (old, new) = (all(self.old, both.0, offers.0), all(self.new, both.1, offers.1));
        let (kept, gone, come) = pair(&by_index(&old), &by_index(&new));
        let roots = kept.into_iter().map(|(was, is)| {
            let (was, is) = (&old[was].1, &new[is].1);
            self.root((both, Side::Output), is.encoding.is_some(), &was.content, &is.content)
        });
        let roots: Vec<_> = roots.collect();
        self.follow(both, Side::Output, &roots);
        for index in gone {
            let what = What::HeaderFaultGone { part: old[index].1.part.clone() };
            let what = ((Kind::HeaderFaultRemoved, what), None);
            self.header(both, Side::Output, what, Effect::NONE, (Some(&old[index].1), None));
        }
        for index in come {
            let what = What::HeaderFaultNew { part: new[index].1.part.clone() };
            let what = ((Kind::HeaderFaultAdded, what), None);
            self.header(both, Side::Output, what, Effect::SURPRISE, (None, Some(&new[index].1)));
        }
    }

    /// Compares the header blocks of a side.
    pub(crate) fn headers(&mut self, both: Both, (_, old): Enveloped<'_>, (is, new): Enveloped<'_>) {
        let side = is.side;
        let keys = |contract: &Contract, headers: &[HeaderBlock]| -> Vec<(String, usize)> {
            let name = |block: &HeaderBlock| element_name(contract, &block.content).to_string();
            headers.iter().enumerate().map(|(index, block)| (name(block), index)).collect()
        };
        let (old_keys, new_keys) = (keys(self.old, &old.headers), keys(self.new, &new.headers));
        let (kept, mut gone, mut come) = pair(&borrow(&old_keys), &borrow(&new_keys));
        self.renamed_headers((both, side), (&old.headers, &mut gone), (&new.headers, &mut come));
        let mut roots = Vec::new();
        for (was, is) in kept {
            let (was, is) = (&old.headers[was], &new.headers[is]);
            if was.encoding.is_some() != is.encoding.is_some() {
                let what = What::HeaderEncodedOtherwise { part: is.part.clone() };
                self.body(both, side, (Kind::EncodingChanged, what), Effect::OTHER, Some(is.place));
            }
            roots.push(self.root((both, side), is.encoding.is_some(), &was.content, &is.content));
        }
        self.follow(both, side, &roots);
        let request = side == Side::Input;
        for index in gone {
            let block = &old.headers[index];
            let name = element_name(self.old, &block.content).local.to_string();
            let what = (Kind::HeaderRemoved, What::ComponentGone { thing: Thing::Header, name });
            // A header that is still sent may be ignored; one that was read is missed.
            let effect = if request { Effect::SURPLUS } else { Effect::OTHER };
            self.header(both, side, (what, None), effect, (Some(block), None));
        }
        for index in come {
            let block = &new.headers[index];
            let name = element_name(self.new, &block.content).local.to_string();
            let what = match request {
                true => What::HeaderDemanded { name },
                false => What::ComponentNew { thing: Thing::Header, name },
            };
            let effect = Effect::NEW_REQUIRED;
            self.header(both, side, ((Kind::HeaderAdded, what), None), effect, (None, Some(block)));
        }
    }

    /// A header block that one version has and the other has not.
    pub(crate) fn header(
        &mut self,
        both: Both,
        side: Side,
        (what, confidence): ((Kind, What), Option<Confidence>),
        effect: Effect,
        (was, is): (Option<&HeaderBlock>, Option<&HeaderBlock>),
    ) {
        let line = |contract: &Contract, block: &HeaderBlock| {
            format!("header {}: {}", block.part, element_name(contract, &block.content).local)
        };
        let component = |block: &HeaderBlock| match &block.content {
            WireElement::Declared(id) => Some(Component::Element(*id)),
            WireElement::Typed { .. } => None,
        };
        let of_side = Subject::new(Component::OperationSide(both.1, side));
        let subject = match (was, is) {
            (_, Some(is)) => component(is).map(Subject::new),
            (Some(was), None) => component(was).map(Subject::old),
            (None, None) => None,
        };
        let about = (Aspect::Whole, effect);
        let difference = Difference {
            old: was.map(|was| Line::Text(line(self.old, was))),
            new: is.map(|is| Line::Text(line(self.new, is))),
            old_place: was.map(|was| was.place),
            new_place: is.map(|is| is.place),
            confidence,
            ..Difference::of(self.versions(), subject.unwrap_or(of_side), what, about)
        };
        self.record(both, side, difference);
    }
}

/// Names with their places.
fn by_index<T>(all: &[(String, T)]) -> Vec<(&str, usize)> {
    all.iter().enumerate().map(|(index, (name, _))| (name.as_str(), index)).collect()
}
