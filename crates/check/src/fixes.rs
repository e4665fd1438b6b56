//! The safe ways to mend what rules find.

use charter_contract::Contract;
use charter_source::{Place, TextEdit};

/// Puts the elements of a contract into the order of its schema.
pub(crate) fn order(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}

pub(crate) fn body(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}

pub(crate) fn action(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}

pub(crate) fn literal(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}

pub(crate) fn fault_name(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}

pub(crate) fn without_namespace(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}

pub(crate) fn without_attribute(_: &Contract, _: Place) -> Option<Vec<TextEdit>> {
    None
}
