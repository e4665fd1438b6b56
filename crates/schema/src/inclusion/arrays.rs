//! Arrays of the encoding of SOAP: what counts is what they hold, and how much of it.

use charter_source::QName;

use super::{Assessment, Counterexample, Edge, Inclusion, Kind, Outcome, Pair};
use crate::engine::EncodedArray;
use crate::{Engine, TypeId};

impl Inclusion<'_> {
    /// Compares two types as arrays; whether either is one.
    pub(super) fn arrays(&self, sub: TypeId, sup: TypeId, outcome: &mut Outcome) -> bool {
        if !self.encoded {
            return false;
        }
        let (a, b) = match (self.sub.encoded_array(sub), self.sup.encoded_array(sup)) {
            (None, None) => return false,
            (Some(a), Some(b)) => (a, b),
            _ => {
                outcome.counterexamples.push(Counterexample::new(Kind::Elements));
                return true;
            }
        };
        if a.inner.matches('[').count() != b.inner.matches('[').count() {
            outcome.counterexamples.push(Counterexample::new(Kind::Elements));
            return true;
        }
        let most = |array: &EncodedArray| array.occurs.max.unwrap_or(u32::MAX);
        if most(&a) > most(&b) {
            let name = a.member.clone();
            outcome.counterexamples.push(Counterexample::new(Kind::Unexpected {
                name,
                new: false,
                decl: None,
            }));
        }
        if a.occurs.min < b.occurs.min {
            outcome.counterexamples.push(Counterexample::new(Kind::Missing { name: Some(b.member.clone()) }));
        }
        if a.inner.is_empty() {
            let judged = Assessment::Type(a.item);
            let edge = Edge::Child { name: a.member, judged, at: None, open: false };
            outcome.leads_to.push((edge, Pair::Elements(judged, Assessment::Type(b.item))));
        }
        true
    }

    /// The members that an array needs to show a counterexample: so many of that name.
    pub(super) fn array_members(
        &self,
        sub: TypeId,
        sup: TypeId,
        kind: &Kind,
    ) -> Option<(QName, TypeId, u32)> {
        let array = self.array_of(self.sub, sub)?;
        let theirs = self.array_of(self.sup, sup);
        let count = match kind {
            Kind::Unexpected { .. } => theirs?.occurs.max?.saturating_add(1),
            Kind::Missing { .. } => array.occurs.min,
            _ => array.occurs.min.max(1),
        };
        (count <= 10_000).then_some((array.member, array.item, count))
    }

    fn array_of(&self, engine: &Engine<'_>, ty: TypeId) -> Option<EncodedArray> {
        if self.encoded { engine.encoded_array(ty) } else { None }
    }
}
