//! The bounds of ranges and lengths, and how the facets of one type go together (Part 2, 4.3.1.4 to 4.3.12.4).

use std::cmp::Ordering::{Equal, Greater, Less};
use std::sync::Arc;

use super::Judge;
use crate::engine::{Datatype, Limit, quoted};
use crate::{Facet, FacetKind, Value};

impl Judge<'_> {
    /// A bound against the range of the base type.
    pub(super) fn bound(&mut self, base: &Arc<Datatype>, facet: &Facet) {
        use FacetKind::*;
        let Some(builtin) = base.builtin() else { return };
        let text = base.white_space.normalize(&facet.value);
        let Some(value) = Value::parse(builtin.primitive(), &text, |_| None) else {
            let message = format!("{} is no value of the base type", quoted(&facet.value));
            return self.say("schema-attribute", facet.place, message, format!("write {}", base.describe()));
        };
        // A bound is a value of the base type, its list and its patterns included; only the ranges are compared below.
        let unbounded = Datatype { min: None, max: None, narrowed: false, ..(**base).clone() };
        let here = self.engine.here(facet.place, facet.node);
        if let Err(violation) = unbounded.accept(&facet.value, &here, false) {
            let message = format!("{}, so it cannot be a bound", violation.message);
            return self.say("schema-attribute", facet.place, message, violation.help);
        }
        let (rule, lower, inclusive) = match facet.kind {
            MinInclusive => ("minInclusive-valid-restriction", true, true),
            MinExclusive => ("minExclusive-valid-restriction", true, false),
            MaxInclusive => ("maxInclusive-valid-restriction", false, true),
            _ => ("maxExclusive-valid-restriction", false, false),
        };
        let within = |limit: &Limit, least: bool| {
            let order = value.partial_cmp(&limit.value);
            let inside = order == Some(if least { Greater } else { Less });
            // Equal bounds are told apart clause by clause: an exclusive one only touches one of its own kind, an
            // inclusive one anything but an upper bound that would leave nothing above it.
            let touches = order == Some(Equal)
                && match limit.inclusive {
                    true => inclusive || lower || !least,
                    false => !inclusive && least == lower,
                };
            inside || touches
        };
        let fits = base.min.as_ref().is_none_or(|limit| within(limit, true))
            && base.max.as_ref().is_none_or(|limit| within(limit, false));
        if !fits {
            let message =
                format!("{} lies outside of the base type, {}", quoted(&facet.value), base.describe());
            self.say(rule, facet.place, message, "write a value within its range");
        }
        let old = if lower { &base.min } else { &base.max };
        let same = old.as_ref().is_some_and(|old| old.value == value && old.inclusive == inclusive);
        if base.fixed_at(facet.kind) && !same {
            let message = format!("{} is fixed in the base type", facet.kind.name());
            self.say("st-restrict-facets", facet.place, message, "remove it, or write the same value");
        }
    }

    /// The facets of a type together, where this step has changed one of them.
    pub(super) fn together(&mut self, base: &Datatype, ty: &Datatype, facets: &[Facet]) {
        use FacetKind::*;
        let place = |kinds: &[FacetKind]| {
            facets.iter().rfind(|facet| kinds.contains(&facet.kind)).map(|facet| facet.place)
        };
        let here = |kind: FacetKind| facets.iter().any(|facet| facet.kind == kind);
        if let Some(at) = place(&[Length, MinLength, MaxLength]) {
            self.lengths(base, ty, at, here(Length), here(MinLength) || here(MaxLength));
        }
        if let Some(at) = place(&[MinInclusive, MinExclusive, MaxInclusive, MaxExclusive]) {
            self.ranges(ty, at, &here);
        }
        if let (Some(at), Some(total), Some(fraction)) =
            (place(&[TotalDigits, FractionDigits]), ty.total_digits, ty.fraction_digits)
            && fraction > total
        {
            let message = format!("fractionDigits {fraction} is more than totalDigits {total}");
            self.say("fractionDigits-totalDigits", at, message, "raise totalDigits or lower fractionDigits");
        }
    }

    fn lengths(
        &mut self,
        base: &Datatype,
        ty: &Datatype,
        at: charter_source::Place,
        own: bool,
        others: bool,
    ) {
        let (least, most) = (ty.min_length, ty.max_length);
        if let (Some(least), Some(most)) = (least, most)
            && least > most
        {
            let message = format!("minLength {least} is more than maxLength {most}");
            let rule = "minLength-less-than-equal-to-maxLength";
            self.say(rule, at, message, "raise maxLength or lower minLength");
        }
        let Some(length) = ty.length else { return };
        let outside = least.is_some_and(|least| length < least) || most.is_some_and(|most| length > most);
        // A length may only come after a minLength or maxLength that stands in an earlier step.
        let changed = base.min_length != least || base.max_length != most;
        let mixed = others && (own || (base.length.is_some() && changed));
        if outside || mixed {
            let message = "length stands beside minLength or maxLength";
            self.say("length-minLength-maxLength", at, message, "keep length alone, or the other two");
        }
    }

    fn ranges(&mut self, ty: &Datatype, at: charter_source::Place, here: &dyn Fn(FacetKind) -> bool) {
        use FacetKind::*;
        if here(MinInclusive) && here(MinExclusive) {
            let message = "minInclusive and minExclusive stand side by side";
            self.say("minInclusive-minExclusive", at, message, "keep one of them");
        }
        if here(MaxInclusive) && here(MaxExclusive) {
            let message = "maxInclusive and maxExclusive stand side by side";
            self.say("maxInclusive-maxExclusive", at, message, "keep one of them");
        }
        let (Some(min), Some(max)) = (&ty.min, &ty.max) else { return };
        let order = min.value.partial_cmp(&max.value);
        let (rule, fits) = match (min.inclusive, max.inclusive) {
            (true, true) => ("minInclusive-less-than-equal-to-maxInclusive", order != Some(Greater)),
            (false, false) => ("minExclusive-less-than-equal-to-maxExclusive", order != Some(Greater)),
            (false, true) => {
                ("minExclusive-less-than-maxInclusive", order != Some(Greater) && order != Some(Equal))
            }
            (true, false) => {
                ("minInclusive-less-than-maxExclusive", order != Some(Greater) && order != Some(Equal))
            }
        };
        if !fits {
            let message = format!("no value lies between {} and {}", min.text, max.text);
            self.say(rule, at, message, "raise the greatest value or lower the least");
        }
    }
}
