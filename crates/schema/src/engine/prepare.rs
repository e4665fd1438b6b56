//! Makes a simple type ready, from the one that it derives from and its own facets.

use std::sync::Arc;

use super::datatype::{Context, Datatype, Limit, Variety};
use super::enumeration::Enumeration;
use super::patterns::PatternStep;
use super::{Engine, Here};
use crate::simple::distinct;
use crate::{
    Builtin, Content, Facet, FacetKind, Kind, SimpleDerivation, TypeId, TypeKind, Value, WhiteSpace,
};

impl Engine<'_> {
    /// The simple type, or the simple content of a complex type, ready to judge; `None` if it has none.
    pub fn datatype(&self, id: TypeId) -> Option<&Arc<Datatype>> {
        if let Some(known) = self.datatypes[id.index()].get() {
            return known.as_ref();
        }
        // Derivations may be long, so what a type is made from is made before it, without recursion.
        let mut waiting = vec![id];
        while let Some(next) = waiting.last().copied() {
            let before = waiting.len();
            let unknown = |id: &TypeId| self.datatypes[id.index()].get().is_none();
            waiting.extend(self.made_from(next).into_iter().filter(unknown));
            if waiting.len() == before {
                self.datatypes[next.index()].get_or_init(|| self.make(next).map(Arc::new));
                waiting.pop();
            }
        }
        self.datatypes[id.index()].get().and_then(Option::as_ref)
    }

    fn known(&self, id: TypeId) -> Option<&Arc<Datatype>> {
        self.datatypes[id.index()].get().and_then(Option::as_ref)
    }

    /// The types that must be ready before this one.
    fn made_from(&self, id: TypeId) -> Vec<TypeId> {
        if let Some(builtin) = Builtin::from_id(id) {
            return match builtin.kind() {
                Kind::List(item) => vec![item.id()],
                _ => Vec::new(),
            };
        }
        match &self.schemas.types[id].kind {
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => {
                    base.target.into_iter().collect()
                }
                SimpleDerivation::Union(members) => distinct(members).collect(),
            },
            TypeKind::Complex(complex) => match &complex.content {
                Content::Simple { inline, .. } => inline.or(complex.base.target).into_iter().collect(),
                Content::Empty => {
                    complex.base.target.filter(|base| Builtin::from_id(*base).is_none()).into_iter().collect()
                }
                Content::Elements(_) => Vec::new(),
            },
        }
    }

    fn make(&self, id: TypeId) -> Option<Datatype> {
        if let Some(builtin) = Builtin::from_id(id) {
            return (builtin != Builtin::AnyType).then(|| self.builtin(builtin));
        }
        let any = || self.builtin(Builtin::AnySimpleType);
        match &self.schemas.types[id].kind {
            TypeKind::Simple(simple) => {
                let base = match &simple.derivation {
                    SimpleDerivation::Restriction(base) => base
                        .target
                        .and_then(|base| self.known(base))
                        .map_or_else(any, |base| (**base).clone()),
                    SimpleDerivation::List(item) => {
                        let item = item.target.and_then(|item| self.known(item)).cloned();
                        blank(id, Variety::List(item.unwrap_or_else(|| Arc::new(any()))))
                    }
                    SimpleDerivation::Union(members) => {
                        let members = distinct(members).filter_map(|member| self.known(member)).cloned();
                        blank(id, Variety::Union(members.collect()))
                    }
                };
                Some(self.restricted(id, base, &simple.facets))
            }
            TypeKind::Complex(complex) => match &complex.content {
                Content::Simple { inline, facets } => {
                    let base = inline.and_then(|id| self.known(id));
                    let base = base.or_else(|| self.known(complex.base.target?)).cloned()?;
                    Some(self.restricted(id, (*base).clone(), facets))
                }
                Content::Empty if complex.derivation == crate::Derivation::Extension => {
                    let base = self.known(complex.base.target?)?;
                    Some(Datatype { id, ..(**base).clone() })
                }
                _ => None,
            },
        }
    }

    fn builtin(&self, builtin: Builtin) -> Datatype {
        match builtin.kind() {
            Kind::List(item) => {
                let item = self.known(item.id()).cloned().unwrap_or_else(|| Arc::new(self.builtin(item)));
                Datatype { min_length: Some(1), ..blank(builtin.id(), Variety::List(item)) }
            }
            _ => {
                let end = |text: Option<&'static str>| {
                    let text = text?;
                    let value = Value::parse(Builtin::Decimal, text, |_| None)?;
                    Some(Limit { value, text: text.into(), inclusive: true })
                };
                let (least, greatest) = builtin.bounds();
                Datatype {
                    white_space: builtin.white_space(),
                    min: end(least),
                    max: end(greatest),
                    fraction_digits: builtin.is_within(Builtin::Integer).then_some(0),
                    fixed: builtin_fixed(builtin),
                    ..blank(builtin.id(), Variety::Atomic(builtin))
                }
            }
        }
    }

    /// The type with further facets: the new ones take the place of those of their kind, patterns add up.
    fn restricted(&self, id: TypeId, mut ty: Datatype, facets: &[Facet]) -> Datatype {
        ty.id = id;
        let mut patterns = Vec::new();
        let mut listed: Vec<&Facet> = Vec::new();
        let base = ty.clone();
        for facet in facets {
            let number = || crate::simple::count(&facet.value);
            ty.fixed |= u16::from(facet.fixed) << facet.kind as u16;
            match facet.kind {
                FacetKind::Pattern => patterns.push(facet.value.as_str().into()),
                FacetKind::Enumeration => listed.push(facet),
                FacetKind::Length => ty.length = number().or(ty.length),
                FacetKind::MinLength => ty.min_length = number().or(ty.min_length),
                FacetKind::MaxLength => ty.max_length = number().or(ty.max_length),
                FacetKind::TotalDigits => ty.total_digits = number().or(ty.total_digits),
                FacetKind::FractionDigits => ty.fraction_digits = number().or(ty.fraction_digits),
                FacetKind::MinInclusive => ty.min = limit(&base, facet, true).or(ty.min),
                FacetKind::MinExclusive => ty.min = limit(&base, facet, false).or(ty.min),
                FacetKind::MaxInclusive => ty.max = limit(&base, facet, true).or(ty.max),
                FacetKind::MaxExclusive => ty.max = limit(&base, facet, false).or(ty.max),
                FacetKind::WhiteSpace => {
                    ty.white_space = WhiteSpace::from_name(facet.value.trim()).unwrap_or(ty.white_space);
                }
            }
        }
        ty.narrowed = ty.narrowed || ty.min != base.min || ty.max != base.max;
        if !patterns.is_empty() {
            ty.patterns = Some(Arc::new(PatternStep::new(patterns, ty.patterns.take(), &self.automata)));
        }
        if !listed.is_empty() {
            ty.enumeration = Some(Arc::new(self.enumeration(&base, &listed)));
        }
        ty
    }

    /// The values of an enumeration; those that the base type does not have are a fault of the schema.
    fn enumeration(&self, base: &Datatype, listed: &[&Facet]) -> Enumeration {
        let strings = base.builtin().is_some_and(|builtin| builtin.primitive() == Builtin::String);
        let mut enumeration = Enumeration::new(listed.len(), strings);
        for facet in listed {
            let here = Here { engine: self, place: facet.place, node: facet.node };
            if let Ok(accepted) = base.accept(&facet.value, &here as &dyn Context, !strings) {
                enumeration.add(&base.white_space.normalize(&facet.value), accepted.value);
            }
        }
        enumeration
    }
}

/// The facets that a built-in type does not let others change (Part 2, 3.2 and 3.3): white space where it is
/// collapsed from the beginning, and the fraction digits of integers.
fn builtin_fixed(builtin: Builtin) -> u16 {
    let collapsed = builtin.primitive() != Builtin::String && builtin != Builtin::AnySimpleType;
    let white_space = u16::from(collapsed) << FacetKind::WhiteSpace as u16;
    let fraction = u16::from(builtin.is_within(Builtin::Integer)) << FacetKind::FractionDigits as u16;
    white_space | fraction
}

/// A type of that form without facets.
fn blank(id: TypeId, variety: Variety) -> Datatype {
    let white_space = match variety {
        // Each member of a union treats white space as it likes.
        Variety::Union(_) => WhiteSpace::Preserve,
        _ => WhiteSpace::Collapse,
    };
    Datatype {
        id,
        variety,
        white_space,
        length: None,
        min_length: None,
        max_length: None,
        patterns: None,
        enumeration: None,
        min: None,
        max: None,
        total_digits: None,
        fraction_digits: None,
        fixed: 0,
        narrowed: false,
    }
}

fn limit(base: &Datatype, facet: &Facet, inclusive: bool) -> Option<Limit> {
    let text = facet.value.trim();
    let value = Value::parse(base.builtin()?.primitive(), text, |_| None)?;
    Some(Limit { value, text: text.into(), inclusive })
}
