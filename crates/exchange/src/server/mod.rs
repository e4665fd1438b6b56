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
use tokio_rustls::TlsAcceptor;

use crate::tls::{Identity, TlsError, server_config};
use crate::{Bounds, Exchange};
pub use aside::Aside;
use connection::Peer;
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
    secure: Option<TlsAcceptor>,
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
        Ok(Server { listener, address, secure: None })
    }

    /// The same over secure connections.
    ///
    /// # Errors
    /// If its certificate or its key cannot be read, or they do not go together.
    pub fn secured(self, identity: &Identity) -> Result<Server, TlsError> {
        Ok(Server { secure: Some(TlsAcceptor::from(Arc::new(server_config(identity)?))), ..self })
    }

    /// How it is reached: `http://127.0.0.1:8080`.
    pub fn base(&self) -> String {
        let scheme = if self.secure.is_some() { "https" } else { "http" };
        format!("{scheme}://{}", self.address)
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
        let base = self.base();
        let listener = tokio::net::TcpListener::from_std(self.listener).map_err(ServeError::System)?;
        let room = Arc::new(Semaphore::new(bounds.connections));
        let serving = connection::Serving::of(desk, bounds, told, base);
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
                Ok((stream, address)) => {
                    // A reply is written at once, and not kept back for more.
                    let _ = stream.set_nodelay(true);
                    let (serving, watcher) = (serving.clone(), graceful.watcher());
                    let Some(secure) = self.secure.clone() else {
                        let peer = Peer { address, secure: false, certified: false };
                        let connection = watcher.watch(serving.connection(stream, peer));
                        tokio::spawn(async move {
                            // What goes wrong on one connection is the matter of who made it.
                            let _ = connection.await;
                            drop(permit);
                        });
                        continue;
                    };
                    tokio::spawn(async move {
                        let agreed = tokio::time::timeout(bounds.patience, secure.accept(stream)).await;
                        if let Ok(Ok(stream)) = agreed {
                            let certified = stream.get_ref().1.peer_certificates().is_some();
                            let peer = Peer { address, secure: true, certified };
                            let _ = watcher.watch(serving.connection(stream, peer)).await;
                        }
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
