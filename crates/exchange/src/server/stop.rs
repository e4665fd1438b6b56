//! Tells a server to stop.

use std::time::Duration;

use tokio::sync::watch;

/// How long what was begun may take before a server stops all the same.
pub(super) const LONGEST: Duration = Duration::from_secs(5);

/// Tells a server to stop, from wherever it is known.
#[derive(Debug, Clone)]
pub struct Stop {
    said: watch::Sender<bool>,
    /// Whether the signals that end a program are heard.
    signals: bool,
}

impl Stop {
    /// A server that stops when this says so, or when the system asks the program to end (SIGINT, SIGTERM).
    pub fn on_signals() -> Stop {
        Stop { said: watch::Sender::new(false), signals: true }
    }

    /// A server that stops only when this says so.
    pub fn by_word() -> Stop {
        Stop { said: watch::Sender::new(false), signals: false }
    }

    /// Stops it.
    pub fn stop(&self) {
        self.said.send_replace(true);
    }

    /// Waits until somebody says so.
    pub(super) async fn wait(&self) {
        let mut said = self.said.subscribe();
        let word = async {
            // Whoever could say so is this.
            let _ = said.wait_for(|said| *said).await;
        };
        if self.signals {
            tokio::select! {
                () = word => {}
                () = signal() => {}
            }
        } else {
            word.await;
        }
    }
}

#[cfg(unix)]
async fn signal() {
    use tokio::signal::unix::{SignalKind, signal};
    match signal(SignalKind::terminate()) {
        Ok(mut terminate) => tokio::select! {
            _ = terminate.recv() => {}
            _ = tokio::signal::ctrl_c() => {}
        },
        Err(_) => _ = tokio::signal::ctrl_c().await,
    }
}

#[cfg(not(unix))]
async fn signal() {
    let _ = tokio::signal::ctrl_c().await;
}
