//! Compares the header blocks of messages, and the faults that answer them.

use charter_contract::{Bound, Carrier, Component, Contract, HeaderBlock, Side, WireElement};

use crate::names::{borrow, pair};
use crate::operations::{Both, Comparison};
use crate::report::{Aspect, Confidence, Difference, Effect};
use crate::shapes::{Enveloped, element_name};

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
            let message =
                format!("requests are no longer answered by the header fault \"{}\"", old[index].1.part);
            let blocks = (Some(&old[index].1), None);
            self.header(both, Side::Output, ("header-fault-removed", None), message, Effect::NONE, blocks);
        }
        for index in come {
            let message =
                format!("requests may now be answered by the header fault \"{}\"", new[index].1.part);
            let blocks = (None, Some(&new[index].1));
            self.header(both, Side::Output, ("header-fault-added", None), message, Effect::SURPRISE, blocks);
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
                let message = format!("the header \"{}\" is written by another encoding", is.part);
                self.body(both, side, "encoding-changed", message, Effect::OTHER, Some(is.place));
            }
            roots.push(self.root((both, side), is.encoding.is_some(), &was.content, &is.content));
        }
        self.follow(both, side, &roots);
        let request = side == Side::Input;
        for index in gone {
            let block = &old.headers[index];
            let name = element_name(self.old, &block.content);
            let message = format!("the header \"{}\" is gone", name.local);
            // A header that is still sent may be ignored; one that was read is missed.
            let effect = if request { Effect::SURPLUS } else { Effect::OTHER };
            self.header(both, side, ("header-removed", None), message, effect, (Some(block), None));
        }
        for index in come {
            let block = &new.headers[index];
            let name = element_name(self.new, &block.content);
            let message = if request {
                format!("the header \"{}\" must now be sent", name.local)
            } else {
                format!("the header \"{}\" is new", name.local)
            };
            let effect = Effect::NEW_REQUIRED;
            self.header(both, side, ("header-added", None), message, effect, (None, Some(block)));
        }
    }

    /// A header block that one version has and the other has not.
    pub(crate) fn header(
        &mut self,
        both: Both,
        side: Side,
        (rule, confidence): (&'static str, Option<Confidence>),
        message: String,
        effect: Effect,
        (was, is): (Option<&HeaderBlock>, Option<&HeaderBlock>),
    ) {
        let line = |contract: &Contract, block: &HeaderBlock| {
            format!("header {}: {}", block.part, element_name(contract, &block.content).local)
        };
        let side_path = self.new.path(Component::OperationSide(both.1, side)).to_string();
        let path = |contract: &Contract, block: &HeaderBlock| match &block.content {
            WireElement::Declared(id) => contract.path(Component::Element(*id)).to_string(),
            WireElement::Typed { .. } => side_path.clone(),
        };
        let of_old = was.map(|was| path(self.old, was));
        let path = is.map(|is| path(self.new, is)).or(of_old).unwrap_or_default();
        let difference = Difference {
            path,
            rule,
            message,
            aspect: Aspect::Whole,
            effect,
            old: was.map(|was| line(self.old, was)),
            new: is.map(|is| line(self.new, is)),
            old_place: was.map(|was| was.place),
            new_place: is.map(|is| is.place),
            confidence,
        };
        self.record(both, side, difference);
    }
}

/// Names with their places.
fn by_index<T>(all: &[(String, T)]) -> Vec<(&str, usize)> {
    all.iter().enumerate().map(|(index, (name, _))| (name.as_str(), index)).collect()
}
