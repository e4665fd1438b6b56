//! The rules, a file for each family.

pub(crate) mod hygiene;
pub(crate) mod instance;
pub(crate) mod schema;
pub(crate) mod simple;
pub(crate) mod soap;
pub(crate) mod wsdl;
pub(crate) mod xml;
