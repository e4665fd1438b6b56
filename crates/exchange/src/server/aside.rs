//! A stand-in that serves while something else goes on in the same program.

use std::sync::Arc;
use std::thread::JoinHandle;

use super::{Desk, ServeError, Server, Stop, Told};
use crate::{Bounds, StandIn};

/// A stand-in that serves on this machine until it is dropped.
pub struct Aside {
    base: String,
    stop: Stop,
    serving: Option<JoinHandle<Result<(), ServeError>>>,
}

impl Aside {
    /// Begins to serve, on a port that is free.
    ///
    /// # Errors
    /// If there is none.
    pub fn begin(stand_in: StandIn) -> Result<Aside, ServeError> {
        Aside::at(Desk::stand_in(stand_in), Arc::new(|_| {}))
    }

    /// The same at a desk; somebody is told of each exchange.
    ///
    /// # Errors
    /// If no port is free.
    pub fn at(desk: Desk, told: Told) -> Result<Aside, ServeError> {
        let server = Server::bind("127.0.0.1", 0)?;
        let base = format!("http://{}", server.address());
        let (desk, stop) = (Arc::new(desk), Stop::by_word());
        let stopped = stop.clone();
        let serving = std::thread::spawn(move || server.serve(desk, Bounds::default(), told, &stopped));
        Ok(Aside { base, stop, serving: Some(serving) })
    }

    /// Where it is reached: `http://127.0.0.1:40123`.
    pub fn base(&self) -> &str {
        &self.base
    }
}

impl Drop for Aside {
    fn drop(&mut self) {
        self.stop.stop();
        // What it may have died of is no matter of whoever used it.
        let _ = self.serving.take().map(JoinHandle::join);
    }
}
