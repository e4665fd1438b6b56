//! Ways out, on small contracts.

mod kinds;
