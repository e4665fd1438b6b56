//! The table of all rules.

use std::sync::OnceLock;

use charter_source::Map;

use crate::level::Level;
use crate::rule::{Family, Rule};
use crate::rules::{
    address, envelope, house, http, hygiene, instance, interop, mime, policy, schema, simple, soap, wire,
    wsdl, xml,
};

/// All rules, by family.
pub fn rules() -> impl Iterator<Item = &'static Rule> {
    [
        xml::RULES,
        schema::RULES,
        simple::RULES,
        instance::RULES,
        wsdl::RULES,
        soap::RULES,
        address::RULES,
        http::RULES,
        mime::RULES,
        policy::RULES,
        interop::OF_DOCUMENTS,
        interop::OF_BINDINGS,
        envelope::RULES,
        wire::RULES,
        hygiene::RULES,
        house::RULES,
    ]
    .into_iter()
    .flatten()
}

/// The rule of that name.
pub fn rule(name: &str) -> Option<&'static Rule> {
    // Asked once for each finding, and there may be many.
    static NAMES: OnceLock<Map<&'static str, &'static Rule>> = OnceLock::new();
    NAMES.get_or_init(|| rules().map(|rule| (rule.name, rule)).collect()).get(name).copied()
}

/// What stands for a rule that is not in the catalogue: what it finds is told all the same.
pub static UNLISTED: Rule = Rule {
    name: "unlisted",
    standard: "no standard; the catalogue lacks the rule",
    asks: "The catalogue of rules has what is found.",
    why: "A fault was found under a name that the catalogue does not have. That is a mistake in this program: the fault stands.",
    ..Rule::of(Family::Wsdl, Level::Error)
};

/// The rule of that name, or what stands for one that the catalogue lacks.
pub(crate) fn listed(name: &str) -> &'static Rule {
    let rule = rule(name);
    debug_assert!(rule.is_some(), "the rule {name} is not in the catalogue");
    rule.unwrap_or(&UNLISTED)
}
