//! Requests that break one thing each, and must be refused: a provider that takes bad input is found.

use charter_message::{HostileMessage, hostile, one_of_each};

use super::run::words;
use super::{Kind, Rehearsed, Runner, Unlike};
use crate::request::{Request, whole};
use crate::{Client, Outcome};

impl Runner<'_> {
    /// Sends a wrong request of each kind for each request of the rehearsal; `told` is told of each exchange.
    pub async fn hostile(&self, client: &Client, told: &mut dyn FnMut(Rehearsed)) {
        for (at, planned) in self.rehearsal.exchanges.iter().enumerate() {
            let of = |shape: &charter_contract::WireShape| (shape.operation, shape.port, shape.binding);
            let before = &self.rehearsal.exchanges[..at];
            // The same request with other values is no other request.
            if before.iter().any(|before| of(&before.shape) == of(&planned.shape)) {
                continue;
            }
            let mut moved = planned.shape.clone();
            moved.address = Some(self.addresses[at].clone());
            let Ok(all) = hostile(self.asking.engine, &moved, &self.asking.blocks(&moved)) else { continue };
            for one in one_of_each(all) {
                told(self.refused(client, at, one).await);
            }
        }
    }

    /// Sends one that must be refused.
    async fn refused(&self, client: &Client, at: usize, one: HostileMessage) -> Rehearsed {
        let HostileMessage { rule, path, words: wrong, message, .. } = one;
        let http = whole(message, self.contract);
        let mut by_contract = http.clone();
        if let (charter_message::http::Start::Request { target, .. }, Some(own)) =
            (&mut by_contract.start, &self.rehearsal.exchanges[at].shape.address)
        {
            *target = target.replacen(&self.addresses[at], own, 1);
        }
        let mut rehearsed = self.named(&self.rehearsal.exchanges[at], None);
        rehearsed.name = format!("{path}: {wrong}");
        self.exchange(client, &Request { request: http, by_contract }, &mut rehearsed).await;
        let Some(exchange) = &rehearsed.exchange else { return rehearsed };
        match exchange.about.outcome {
            Outcome::Fault | Outcome::Refused => {}
            Outcome::Replied | Outcome::Taken => {
                rehearsed.unlike.push(Unlike::Swallowed { rule, path, words: wrong });
            }
            came @ (Outcome::Other | Outcome::Lost) => {
                let words = words(exchange);
                let unlike = Unlike::Kind { expected: Kind::Refused, came, fault: None, words };
                rehearsed.unlike.push(unlike);
            }
        }
        rehearsed
    }
}
