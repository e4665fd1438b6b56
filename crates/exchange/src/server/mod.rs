//! Serves: brings HTTP messages from real connections to whoever answers them, within bounds.
//!
//! A [`Server`] is bound first, so that its port is known, and then serves until it is told to [`Stop`]. `connection.rs`
//! reads a request and writes a reply; what stands between is a [`Desk`].

mod aside;
mod connection;
mod desk;
mod packing;
mod stop;

use std::net::{SocketAddr, TcpListener};
use std::sync::Arc;

use hyper_util::server::graceful::GracefulShutdown;
use tokio::sync::Semaphore;

use crate::{Bounds, Exchange};
pub use aside::Aside;
pub use desk::Desk;
pub use stop::Stop;

/// Who is told of each exchange.
pub type Told = Arc<dyn Fn(Exchange) + Send + Sync>;

/// Why nobody can be served.
#[derive(Debug, thiserror::Error)]
pub enum ServeError {
    /// Somebody else listens there.
    #[error("somebody else listens at {0} already")]
    Busy(String),
    /// The host or the port is none that this machine has, or may have.
    #[error("nobody can listen at {address}: {error}")]
    Address {
        /// What was asked for.
        address: String,
        /// Why not.
        error: std::io::Error,
    },
    /// The system has no threads or no timers left.
    #[error("the server cannot be started: {0}")]
    System(std::io::Error),
}

/// A server that has a port, and serves nobody yet.
pub struct Server {
    listener: TcpListener,
    address: SocketAddr,
}

impl Server {
    /// Takes a port; 0 takes one that is free.
    ///
    /// # Errors
    /// If it cannot be had.
    pub fn bind(host: &str, port: u16) -> Result<Server, ServeError> {
        let address = format!("{host}:{port}");
        let listener = TcpListener::bind((host, port)).map_err(|error| match error.kind() {
            std::io::ErrorKind::AddrInUse => ServeError::Busy(address.clone()),
            _ => ServeError::Address { address: address.clone(), error },
        })?;
        listener.set_nonblocking(true).map_err(ServeError::System)?;
        let address = listener.local_addr().map_err(ServeError::System)?;
        Ok(Server { listener, address })
    }

    /// Where it listens.
    pub fn address(&self) -> SocketAddr {
        self.address
    }

    /// Serves until it is told to stop, and what was begun is done.
    ///
    /// # Errors
    /// If the system has no threads or no timers left.
    pub fn serve(self, desk: Arc<Desk>, bounds: Bounds, told: Told, stop: &Stop) -> Result<(), ServeError> {
        let runtime = tokio::runtime::Builder::new_multi_thread()
            .enable_all()
            .thread_name("charter-answer")
            .build()
            .map_err(ServeError::System)?;
        let stopped = runtime.block_on(self.accept(desk, bounds, told, stop));
        // What a hostile request has begun to be judged for need not be waited for.
        runtime.shutdown_background();
        stopped
    }

    async fn accept(
        self,
        desk: Arc<Desk>,
        bounds: Bounds,
        told: Told,
        stop: &Stop,
    ) -> Result<(), ServeError> {
        let listener = tokio::net::TcpListener::from_std(self.listener).map_err(ServeError::System)?;
        let room = Arc::new(Semaphore::new(bounds.connections));
        let serving = connection::Serving::of(desk, bounds, told, self.address);
        let graceful = GracefulShutdown::new();
        loop {
            let next = async {
                let permit = Arc::clone(&room).acquire_owned().await;
                (listener.accept().await, permit)
            };
            let (accepted, permit) = tokio::select! {
                next = next => next,
                () = stop.wait() => break,
            };
            match accepted {
                Ok((stream, peer)) => {
                    let connection = serving.connection(stream, peer);
                    let connection = graceful.watch(connection);
                    tokio::spawn(async move {
                        // What goes wrong on one connection is the matter of who made it.
                        let _ = connection.await;
                        drop(permit);
                    });
                }
                // Too many open files, most likely: others will be closed.
                Err(_) => tokio::time::sleep(std::time::Duration::from_millis(20)).await,
            }
        }
        drop(listener);
        let longest = bounds.patience.min(stop::LONGEST);
        let _ = tokio::time::timeout(longest, graceful.shutdown()).await;
        let _ = tokio::time::timeout(longest, serving.told_all()).await;
        Ok(())
    }
}
