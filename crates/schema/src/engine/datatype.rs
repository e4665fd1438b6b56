//! A simple type made ready to judge values: its variety, its facets as values, its patterns as automata.

use std::sync::Arc;

use charter_source::QName;

use super::enumeration::Enumeration;
use super::patterns::PatternStep;
use super::wording::{article, shown};
use crate::{Builtin, FacetKind, TypeId, Value, WhiteSpace};

/// A simple type, or the simple content of a complex one, with its whole derivation in it.
#[derive(Debug, Clone)]
pub struct Datatype {
    /// The type that this judges for.
    pub id: TypeId,
    /// Atomic, list or union.
    pub variety: Variety,
    /// How white space is treated first.
    pub white_space: WhiteSpace,
    /// Exactly, at least, at most so long.
    pub length: Option<u64>,
    /// At least so long.
    pub min_length: Option<u64>,
    /// At most so long.
    pub max_length: Option<u64>,
    /// The patterns of every step.
    pub patterns: Option<Arc<PatternStep>>,
    /// The only values.
    pub enumeration: Option<Arc<Enumeration>>,
    /// The least value.
    pub min: Option<Limit>,
    /// The greatest value.
    pub max: Option<Limit>,
    /// Digits at most.
    pub total_digits: Option<u64>,
    /// Digits after the point at most.
    pub fraction_digits: Option<u64>,
    /// The facets that a derived type may not change, as bits.
    pub(crate) fixed: u16,
    /// Whether the range is narrower than that of the built-in type.
    pub(crate) narrowed: bool,
}

/// The variety of a datatype.
#[derive(Debug, Clone)]
pub enum Variety {
    /// A value of the nearest built-in type.
    Atomic(Builtin),
    /// Values of one type, with spaces between them.
    List(Arc<Datatype>),
    /// A value of one of the types, the first that fits.
    Union(Arc<[Arc<Datatype>]>),
}

/// An end of a range.
#[derive(Debug, Clone, PartialEq)]
pub struct Limit {
    /// The value.
    pub value: Value,
    /// The value as it is written.
    pub text: Box<str>,
    /// Whether it is allowed itself.
    pub inclusive: bool,
}

/// What the text around a value says about names in it.
pub trait Context {
    /// The expanded name of a QName; `None` if its prefix is not declared.
    fn name(&self, text: &str) -> Option<QName>;
    /// Whether a notation of that name is declared.
    fn has_notation(&self, name: &QName) -> bool;
    /// Whether an unparsed entity of that name is declared.
    fn has_entity(&self, name: &str) -> bool;
}

/// A value that was accepted.
#[derive(Debug, Clone)]
pub struct Accepted {
    /// The value, if the type or the caller needed it.
    pub value: Option<Value>,
    /// The ID and IDREF values in it.
    pub ids: Vec<(Builtin, String)>,
}

impl Datatype {
    /// The nearest built-in type of an atomic one.
    pub fn builtin(&self) -> Option<Builtin> {
        match self.variety {
            Variety::Atomic(builtin) => Some(builtin),
            _ => None,
        }
    }

    /// Whether a facet may not be changed by a derived type.
    pub(crate) fn fixed_at(&self, kind: FacetKind) -> bool {
        self.fixed >> kind as u16 & 1 == 1
    }

    /// Whether values of this type may identify or refer to elements.
    pub fn has_ids(&self) -> bool {
        match &self.variety {
            Variety::Atomic(builtin) => is_id(*builtin),
            Variety::List(item) => item.has_ids(),
            Variety::Union(members) => members.iter().any(|member| member.has_ids()),
        }
    }

    /// The type in a few words: `a decimal from 0 to 30`.
    pub fn describe(&self) -> String {
        let mut words = match &self.variety {
            Variety::Atomic(builtin) => article(builtin.name()),
            Variety::List(item) => format!("a list, each item {}", item.describe()),
            Variety::Union(members) => {
                let members: Vec<String> = members.iter().take(4).map(|member| member.describe()).collect();
                members.join(" or ")
            }
        };
        if let Some(enumeration) = &self.enumeration {
            return format!("one of {}", shown(enumeration.texts.iter(), enumeration.texts.len()));
        }
        let end = |limit: &Limit, inclusive: &str, exclusive: &str| {
            format!(" {} {}", if limit.inclusive { inclusive } else { exclusive }, limit.text)
        };
        if self.narrowed {
            words.extend(self.min.as_ref().map(|limit| end(limit, "from", "above")));
            words.extend(self.max.as_ref().map(|limit| end(limit, "to", "below")));
        }
        if let Some(step) = &self.patterns {
            words.push_str(&format!(
                " like {}",
                shown(step.texts.iter().map(|text| &**text), step.texts.len())
            ));
        }
        words
    }
}

pub(super) fn is_id(builtin: Builtin) -> bool {
    builtin.is_within(Builtin::Id) || builtin.is_within(Builtin::IdRef)
}
