//! Facets: each against the type that it restricts, and against the others of its step (Part 1, 3.14.6,
//! st-restrict-facets; Part 2, 4.1.5 and 4.3).

use std::sync::Arc;

use charter_source::Place;

use super::Judge;
use crate::engine::{Datatype, Variety, quoted};
use crate::simple::count;
use crate::{Builtin, Facet, FacetKind, PatternError, TypeId, WhiteSpace, parse_pattern};

impl FacetKind {
    /// Its element name.
    pub fn name(self) -> &'static str {
        use FacetKind::*;
        match self {
            Length => "length",
            MinLength => "minLength",
            MaxLength => "maxLength",
            Pattern => "pattern",
            Enumeration => "enumeration",
            WhiteSpace => "whiteSpace",
            MaxInclusive => "maxInclusive",
            MaxExclusive => "maxExclusive",
            MinInclusive => "minInclusive",
            MinExclusive => "minExclusive",
            TotalDigits => "totalDigits",
            FractionDigits => "fractionDigits",
        }
    }

    /// Whether the facet applies to a type of that form (Part 2, 4.1.5, cos-applicable-facets).
    fn applies_to(self, variety: &Variety) -> bool {
        use FacetKind::*;
        let sized = matches!(self, Length | MinLength | MaxLength);
        let listed = matches!(self, Pattern | Enumeration);
        let ranged = matches!(self, MinInclusive | MinExclusive | MaxInclusive | MaxExclusive);
        match variety {
            Variety::Union(_) => listed,
            Variety::List(_) => sized || listed || self == WhiteSpace,
            Variety::Atomic(builtin) => match builtin.primitive() {
                Builtin::Boolean => matches!(self, Pattern | WhiteSpace),
                Builtin::String
                | Builtin::AnyUri
                | Builtin::HexBinary
                | Builtin::Base64Binary
                | Builtin::QName
                | Builtin::Notation => sized || listed || self == WhiteSpace,
                Builtin::Decimal => !sized,
                Builtin::AnySimpleType => false,
                _ => ranged || listed || self == WhiteSpace,
            },
        }
    }

    fn bit(self) -> u16 {
        1 << self as u16
    }
}

impl<'e> Judge<'e> {
    /// The facets of a step that restricts `base`; `id` is the type that results.
    pub(super) fn facets(&mut self, id: TypeId, base: TypeId, facets: &'e [Facet]) {
        let engine = self.engine;
        let Some(base) = engine.datatype(base) else { return };
        // Whoever made the type ready has tried its values; only if one was refused must it be found.
        let listed = facets.iter().filter(|facet| facet.kind == FacetKind::Enumeration).count();
        let ready = engine.datatype(id).and_then(|datatype| datatype.enumeration.as_ref());
        let all_fit = ready.is_some_and(|enumeration| enumeration.texts.len() == listed);
        let mut seen = 0u16;
        for facet in facets {
            let kind = facet.kind;
            if !kind.applies_to(&base.variety) {
                let message = format!("{} does not apply to {}", kind.name(), base.describe());
                self.say("cos-applicable-facets", facet.place, message, "remove it");
                continue;
            }
            let repeats = matches!(kind, FacetKind::Pattern | FacetKind::Enumeration);
            if seen & kind.bit() != 0 && !repeats {
                let message = format!("{} stands here twice", kind.name());
                self.say("src-single-facet-value", facet.place, message, "keep one of them");
            }
            seen |= kind.bit();
            if kind != FacetKind::Enumeration || !all_fit {
                self.facet(base, facet);
            }
        }
        if let Some(datatype) = engine.datatype(id) {
            self.together(base, datatype, facets);
        }
        self.explodes(id, facets);
    }

    /// One facet against the base type.
    fn facet(&mut self, base: &Arc<Datatype>, facet: &'e Facet) {
        use FacetKind::*;
        match facet.kind {
            Pattern => self.pattern(facet),
            Enumeration => self.enumerated(base, facet),
            WhiteSpace => self.white_space(base, facet),
            Length | MinLength | MaxLength | TotalDigits | FractionDigits => self.number(base, facet),
            MinInclusive | MinExclusive | MaxInclusive | MaxExclusive => self.bound(base, facet),
        }
    }

    fn pattern(&mut self, facet: &'e Facet) {
        // Many types share a pattern.
        if self.patterns.contains(facet.value.as_str()) {
            return;
        }
        match parse_pattern(&facet.value) {
            Ok(_) => drop(self.patterns.insert(&facet.value)),
            Err(PatternError::Syntax { at, message }) => {
                // The place within the value, where it is written as it is read.
                let text = self.engine.files.slice(facet.place);
                let plain = text == facet.value;
                let offset = at.saturating_sub(1);
                let place = match plain && facet.value.is_char_boundary(offset) && offset < facet.value.len()
                {
                    true => {
                        let start = facet.place.span.range().start + offset;
                        let width = facet.value[offset..].chars().next().map_or(1, char::len_utf8);
                        Place { span: charter_source::Span::new(start, start + width), ..facet.place }
                    }
                    false => facet.place,
                };
                self.say(
                    "pattern-syntax",
                    place,
                    format!("this is no regular expression: {message}"),
                    "charter explain pattern-syntax shows how they are written",
                );
            }
            Err(PatternError::TooLarge) => self.too_large(facet.place),
        }
    }

    fn too_large(&mut self, place: Place) {
        let message = "the pattern repeats or nests too much to be tested";
        self.say("schema-size", place, message, "use length facets, or fewer repetitions in each other");
    }

    /// The patterns of a step that cannot be built, though each can be read.
    fn explodes(&mut self, id: TypeId, facets: &[Facet]) {
        let Some(last) = facets.iter().rfind(|facet| facet.kind == FacetKind::Pattern) else { return };
        // Only a count can make an automaton much larger than its pattern.
        let large = |facet: &&Facet| facet.value.contains('{') || facet.value.len() > 1000;
        let patterns = || facets.iter().filter(|facet| facet.kind == FacetKind::Pattern);
        if !patterns().any(|facet| large(&facet))
            || patterns().any(|facet| !self.patterns.contains(facet.value.as_str()))
        {
            return;
        }
        if patterns().all(|facet| growth(&facet.value) < 1_000)
            || patterns()
                .all(|facet| parse_pattern(&facet.value).is_ok_and(|hir| crate::pattern::is_light(&hir)))
        {
            return;
        }
        let step = self.engine.datatype(id).and_then(|datatype| datatype.patterns.as_ref());
        if step.is_some_and(|step| !step.is_usable()) {
            self.too_large(last.place);
        }
    }

    fn enumerated(&mut self, base: &Arc<Datatype>, facet: &Facet) {
        let engine = self.engine;
        let here = engine.here(facet.place, facet.node);
        if let Err(violation) = base.accept(&facet.value, &here, false) {
            let message = format!("{}, so it cannot be listed here", violation.message);
            self.say("enumeration-valid-restriction", facet.place, message, violation.help);
        }
    }

    fn white_space(&mut self, base: &Arc<Datatype>, facet: &Facet) {
        let Some(value) = WhiteSpace::from_name(facet.value.trim()) else {
            let message = format!("{} is no way to treat white space", quoted(&facet.value));
            return self.say("schema-attribute", facet.place, message, "write preserve, replace or collapse");
        };
        if value < base.white_space {
            let message = "white space that the base type removes cannot be kept";
            self.say(
                "whiteSpace-valid-restriction",
                facet.place,
                message,
                "remove the facet, or choose another base",
            );
        }
        self.is_fixed(base, facet, value == base.white_space);
    }

    fn is_fixed(&mut self, base: &Arc<Datatype>, facet: &Facet, same: bool) {
        if base.fixed & facet.kind.bit() != 0 && !same {
            let message = format!("{} is fixed in the base type", facet.kind.name());
            self.say("st-restrict-facets", facet.place, message, "remove it, or write the same value");
        }
    }

    fn number(&mut self, base: &Arc<Datatype>, facet: &Facet) {
        use FacetKind::*;
        let least = u64::from(facet.kind == TotalDigits);
        let Some(value) = count(&facet.value).filter(|value| *value >= least) else {
            let message = format!("{} is no value for {}", quoted(&facet.value), facet.kind.name());
            return self.say(
                "schema-attribute",
                facet.place,
                message,
                format!("write a whole number from {least}"),
            );
        };
        let (rule, old, fits) = match facet.kind {
            Length => ("length-valid-restriction", base.length, base.length.is_none_or(|old| value == old)),
            MinLength => (
                "minLength-valid-restriction",
                base.min_length,
                base.min_length.is_none_or(|old| value >= old),
            ),
            MaxLength => (
                "maxLength-valid-restriction",
                base.max_length,
                base.max_length.is_none_or(|old| value <= old),
            ),
            TotalDigits => (
                "totalDigits-valid-restriction",
                base.total_digits,
                base.total_digits.is_none_or(|old| value <= old),
            ),
            _ => (
                "fractionDigits-valid-restriction",
                base.fraction_digits,
                base.fraction_digits.is_none_or(|old| value <= old),
            ),
        };
        if !fits {
            let message = format!(
                "the base type has {} {}, which {value} does not restrict",
                facet.kind.name(),
                old.unwrap_or(0)
            );
            self.say(rule, facet.place, message, "write a value that allows no more than the base type");
        }
        self.is_fixed(base, facet, old == Some(value));
    }
}

/// How many copies the counts in a pattern may make of a part of it, at most.
fn growth(pattern: &str) -> u64 {
    let mut product: u64 = pattern.len() as u64;
    for piece in pattern.split('{').skip(1) {
        let numbers = piece.split('}').next().unwrap_or("").split(',');
        let most = numbers.filter_map(|number| number.parse::<u64>().ok()).max().unwrap_or(1);
        product = product.saturating_mul(most.max(1));
    }
    product
}
