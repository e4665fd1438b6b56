//! What a simple type allows once its whole derivation is taken into account.

use charter_source::Set;

use crate::{
    Builtin, Content, Facet, FacetKind, Kind, Ref, Schemas, SimpleDerivation, TypeDef, TypeId, TypeKind,
    WhiteSpace,
};

/// A simple type with its derivation taken into account.
#[derive(Debug, Clone)]
pub struct Simple<'s> {
    /// Atomic, list or union.
    pub variety: SimpleVariety,
    /// The nearest built-in type that it comes from; `anySimpleType` for lists and unions of one's own.
    pub builtin: Builtin,
    /// The facets in force.
    pub facets: Facets<'s>,
}

/// The variety of a simple type.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum SimpleVariety {
    /// One value.
    Atomic,
    /// A list of values of the type.
    List(TypeId),
    /// A value of one of the types.
    Union(Vec<TypeId>),
}

/// A bound of a range.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Bound<'s> {
    /// The bound in its lexical form.
    pub value: &'s str,
    /// Whether the bound itself is allowed.
    pub inclusive: bool,
}

/// The facets in force after every step of a derivation: the most derived one of each kind, the patterns of
/// all steps.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Facets<'s> {
    /// Exactly so long.
    pub length: Option<u64>,
    /// At least so long.
    pub min_length: Option<u64>,
    /// At most so long.
    pub max_length: Option<u64>,
    /// Patterns: the value must match one of each inner list.
    pub patterns: Vec<Vec<&'s str>>,
    /// The only values.
    pub enumeration: Option<Vec<&'s str>>,
    /// The least value.
    pub min: Option<Bound<'s>>,
    /// The greatest value.
    pub max: Option<Bound<'s>>,
    /// Digits at most.
    pub total_digits: Option<u64>,
    /// Digits after the point at most.
    pub fraction_digits: Option<u64>,
    /// White space.
    pub white_space: Option<WhiteSpace>,
}

impl<'s> Facets<'s> {
    /// Adds the facets of the next step towards the base: what is there already is more derived and stays.
    fn add_step(&mut self, step: &'s [Facet]) {
        let mut patterns = Vec::new();
        let mut enumeration = Vec::new();
        for facet in step {
            let value = facet.value.as_str();
            match facet.kind {
                FacetKind::Pattern => patterns.push(value),
                FacetKind::Enumeration => enumeration.push(value),
                FacetKind::Length => keep(&mut self.length, count(value)),
                FacetKind::MinLength => keep(&mut self.min_length, count(value)),
                FacetKind::MaxLength => keep(&mut self.max_length, count(value)),
                FacetKind::TotalDigits => keep(&mut self.total_digits, count(value)),
                FacetKind::FractionDigits => keep(&mut self.fraction_digits, count(value)),
                FacetKind::MinInclusive => keep(&mut self.min, bound(value, true)),
                FacetKind::MinExclusive => keep(&mut self.min, bound(value, false)),
                FacetKind::MaxInclusive => keep(&mut self.max, bound(value, true)),
                FacetKind::MaxExclusive => keep(&mut self.max, bound(value, false)),
                FacetKind::WhiteSpace => keep(&mut self.white_space, WhiteSpace::from_name(value.trim())),
            }
        }
        if !patterns.is_empty() {
            self.patterns.push(patterns);
        }
        if !enumeration.is_empty() {
            keep(&mut self.enumeration, Some(enumeration));
        }
    }
}

fn keep<T>(slot: &mut Option<T>, value: Option<T>) {
    if slot.is_none() {
        *slot = value;
    }
}

/// The number that a length or a count of digits states; more than can be counted is as good as that many.
pub(crate) fn count(value: &str) -> Option<u64> {
    let value = value.trim();
    let digits = value.strip_prefix('+').unwrap_or(value);
    let digits = if digits.is_empty() || !digits.bytes().all(|byte| byte.is_ascii_digit()) {
        value.strip_prefix('-').filter(|rest| !rest.is_empty() && rest.bytes().all(|byte| byte == b'0'))?
    } else {
        digits
    };
    Some(digits.parse().unwrap_or(u64::MAX))
}

fn bound(value: &str, inclusive: bool) -> Option<Bound<'_>> {
    Some(Bound { value: value.trim(), inclusive })
}

impl Schemas {
    /// The simple type, or the simple content of a complex type, that `id` names; `None` if it has none.
    pub fn simple(&self, id: TypeId) -> Option<Simple<'_>> {
        let mut facets = Facets::default();
        let mut here = id;
        loop {
            if let Some(builtin) = Builtin::from_id(here) {
                return builtin_simple(builtin, facets);
            }
            here = match &self.types[here].kind {
                TypeKind::Simple(simple) => {
                    facets.add_step(&simple.facets);
                    match &simple.derivation {
                        SimpleDerivation::Restriction(base) => {
                            base.target.unwrap_or(Builtin::AnySimpleType.id())
                        }
                        SimpleDerivation::List(item) => {
                            let item = item.target.unwrap_or(Builtin::AnySimpleType.id());
                            return Some(composed(SimpleVariety::List(item), facets));
                        }
                        SimpleDerivation::Union(members) => {
                            let members = distinct(members).collect();
                            return Some(composed(SimpleVariety::Union(members), facets));
                        }
                    }
                }
                TypeKind::Complex(complex) => match &complex.content {
                    Content::Simple { inline, facets: step } => {
                        facets.add_step(step);
                        inline.or(complex.base.target)?
                    }
                    Content::Empty if complex.derivation == crate::Derivation::Extension => {
                        complex.base.target?
                    }
                    _ => return None,
                },
            };
        }
    }
}

fn builtin_simple<'s>(builtin: Builtin, mut facets: Facets<'s>) -> Option<Simple<'s>> {
    let variety = match builtin.kind() {
        Kind::Root if builtin == Builtin::AnyType => return None,
        Kind::List(item) => SimpleVariety::List(item.id()),
        _ => SimpleVariety::Atomic,
    };
    let (least, greatest) = builtin.bounds();
    keep(&mut facets.min, least.and_then(|value| bound(value, true)));
    keep(&mut facets.max, greatest.and_then(|value| bound(value, true)));
    if builtin.is_within(Builtin::Integer) {
        keep(&mut facets.fraction_digits, Some(0));
    }
    keep(&mut facets.white_space, Some(builtin.white_space()));
    Some(Simple { variety, builtin, facets })
}

fn composed(variety: SimpleVariety, mut facets: Facets<'_>) -> Simple<'_> {
    keep(&mut facets.white_space, Some(WhiteSpace::Collapse));
    Simple { variety, builtin: Builtin::AnySimpleType, facets }
}

/// The members of a union, each once: the first that fits decides, so that one that stands twice is never asked a second time
/// (Part 2, 2.5.1.3).
pub(crate) fn distinct(members: &[Ref<TypeDef>]) -> impl Iterator<Item = TypeId> + '_ {
    let mut seen = Set::default();
    members.iter().filter_map(|member| member.target).filter(move |id| seen.insert(*id))
}
