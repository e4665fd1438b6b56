//! Facets as words behind a type.

use charter_schema::{Facet, FacetKind};

use crate::page::exactly;

/// The facets of one step, each with a space before it.
pub(crate) fn facets(facets: &[Facet]) -> String {
    let of = |kind: FacetKind| facets.iter().find(|facet| facet.kind == kind).map(|facet| facet.value.trim());
    let all = |kind: FacetKind| {
        let values = facets.iter().filter(|facet| facet.kind == kind).map(|facet| exactly(&facet.value));
        values.collect::<Vec<_>>()
    };
    let mut words = String::new();
    if let Some(length) = of(FacetKind::Length) {
        words.push_str(&format!(" length {length}"));
    }
    let (least, most) = (of(FacetKind::MinLength), of(FacetKind::MaxLength));
    if least.is_some() || most.is_some() {
        words.push_str(&format!(" length {}..{}", least.unwrap_or(""), most.unwrap_or("")));
    }
    let least = of(FacetKind::MinInclusive).map(|value| format!("{value}.."));
    let least = least.or(of(FacetKind::MinExclusive).map(|value| format!("{value}<..")));
    let most = of(FacetKind::MaxInclusive).map(str::to_owned);
    let most = most.or(of(FacetKind::MaxExclusive).map(|value| format!("<{value}")));
    if least.is_some() || most.is_some() {
        let least = least.unwrap_or_else(|| "..".to_owned());
        words.push_str(&format!(" range {least}{}", most.unwrap_or_default()));
    }
    if let Some(digits) = of(FacetKind::TotalDigits) {
        words.push_str(&format!(" digits {digits}"));
    }
    if let Some(digits) = of(FacetKind::FractionDigits) {
        words.push_str(&format!(" decimals {digits}"));
    }
    if let Some(how) = of(FacetKind::WhiteSpace) {
        words.push_str(&format!(" white-space {how}"));
    }
    let patterns = all(FacetKind::Pattern);
    if !patterns.is_empty() {
        words.push_str(&format!(" like {}", patterns.join(" or ")));
    }
    let values = all(FacetKind::Enumeration);
    if !values.is_empty() {
        words.push_str(&format!(" one-of {}", values.join(", ")));
    }
    words
}
