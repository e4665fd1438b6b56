//! Exchanges over HTTP: one request with its reply, both sides checked by the contract.
//!
//! [`StandIn`] answers in the place of a provider that is not there: what it replies to an HTTP message is worked out
//! without any network. [`server`] brings messages to it from real connections, within [`Bounds`]; instead of it, a
//! [`relay`] may pass them on to a real provider. What happened is an [`Exchange`], which a [`journal`] keeps. [`Client`] is
//! the other end: it sends a message and waits for what comes. A [`rehearsal`] sends many, and knows what is to come of each.
//!
//! HTTP lives here and nowhere else. Nothing here prints: whoever starts a server or sends is told of exchanges.

mod bounds;
mod client;
mod clock;
mod exchange;
pub mod journal;
mod judge;
pub mod rehearsal;
pub mod relay;
mod request;
mod script;
pub mod server;
pub mod stand_in;
mod store;
mod terms;
pub mod tls;
mod words;

pub use bounds::Bounds;
pub use client::{Client, ClientError, Reach, SendError, Sent, block_on};
pub use clock::fresh;
pub use exchange::{About, Exchange, Finding, Outcome, findings};
pub use judge::{Said, judged};
pub use request::{IsReply, Request};
pub use script::{Lost, Script};
pub use stand_in::StandIn;
pub use store::{Store, StoreError};
