//! What profiles ask of contracts, each under the number of its requirement. Requirements that say what the standards say
//! anyway are seen by the rules of those; `crate::profile` knows which.

mod bindings;
mod documents;
mod of_bindings;
mod of_documents;
mod types;

use crate::level::Level;
use crate::rule::{Family, Rule};

pub(super) use documents::{declaration, xml_declared};
pub(crate) use of_bindings::RULES as OF_BINDINGS;
pub(crate) use of_documents::RULES as OF_DOCUMENTS;

const RULE: Rule = Rule::of(Family::Interop, Level::Warning);
const NOTE: Rule = Rule::of(Family::Interop, Level::Note);
