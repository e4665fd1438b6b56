//! The rules, a file for each family; what looks for them stands beside, a file for what it looks at.

pub(crate) mod address;
mod bindings;
mod bound;
pub(crate) mod envelope;
pub(crate) mod house;
pub(crate) mod http;
pub(crate) mod hygiene;
pub(crate) mod instance;
pub(crate) mod interop;
pub(crate) mod mime;
mod operations;
pub(crate) mod policy;
pub(crate) mod schema;
pub(crate) mod simple;
pub(crate) mod soap;
pub(crate) mod wire;
pub(crate) mod wsdl;
pub(crate) mod xml;
