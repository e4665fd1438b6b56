//! Ways out, on small contracts.

mod kinds;
mod proposals;
