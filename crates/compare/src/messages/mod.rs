//! What goes around the schemas: operations and their sides, envelopes and plain HTTP, header blocks, policies, ports.

pub(crate) mod alike;
pub(crate) mod demands;
pub(crate) mod headers;
pub(crate) mod operations;
pub(crate) mod plain_http;
pub(crate) mod ports;
pub(crate) mod shapes;
pub(crate) mod smallest;
