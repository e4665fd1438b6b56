//! Facets as they are written (Part 2, 4.3).

use charter_source::Place;

/// A facet as it is written.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Facet {
    /// Which.
    pub kind: FacetKind,
    /// Its value.
    pub value: String,
    /// Whether a derived type may not change it.
    pub fixed: bool,
    /// The place of its value.
    pub place: Place,
    /// The element that wrote it, in the tree of its file.
    pub node: charter_source::NodeId,
    /// The element in which its author says something about it.
    pub annotation: Option<charter_source::NodeId>,
}

/// Which facet (Part 2, 4.3).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
#[allow(missing_docs, reason = "each variant is the facet of that name")]
pub enum FacetKind {
    Length,
    MinLength,
    MaxLength,
    Pattern,
    Enumeration,
    WhiteSpace,
    MaxInclusive,
    MaxExclusive,
    MinInclusive,
    MinExclusive,
    TotalDigits,
    FractionDigits,
}

impl FacetKind {
    /// The facet of that element name.
    pub fn from_name(name: &str) -> Option<FacetKind> {
        use FacetKind::*;
        Some(match name {
            "length" => Length,
            "minLength" => MinLength,
            "maxLength" => MaxLength,
            "pattern" => Pattern,
            "enumeration" => Enumeration,
            "whiteSpace" => WhiteSpace,
            "maxInclusive" => MaxInclusive,
            "maxExclusive" => MaxExclusive,
            "minInclusive" => MinInclusive,
            "minExclusive" => MinExclusive,
            "totalDigits" => TotalDigits,
            "fractionDigits" => FractionDigits,
            _ => return None,
        })
    }
}
