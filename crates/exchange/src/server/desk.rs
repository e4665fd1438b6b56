//! Who answers.

use std::sync::{Arc, PoisonError, RwLock};

use crate::StandIn;
use crate::relay::Relay;

/// Who answers the requests that a server takes: a stand-in, or the provider that a relay passes them on to. Then the stand-in
/// only judges.
pub struct Desk {
    stand_in: RwLock<Arc<StandIn>>,
    pub(super) relay: Option<Relay>,
}

impl Desk {
    /// A desk with a stand-in.
    pub fn stand_in(stand_in: StandIn) -> Desk {
        Desk { stand_in: RwLock::new(Arc::new(stand_in)), relay: None }
    }

    /// A desk from which everything is passed on.
    pub fn relay(stand_in: StandIn, relay: Relay) -> Desk {
        Desk { relay: Some(relay), ..Desk::stand_in(stand_in) }
    }

    /// Who stands in now. Whoever was being answered by another still is.
    pub fn now(&self) -> Arc<StandIn> {
        Arc::clone(&self.stand_in.read().unwrap_or_else(PoisonError::into_inner))
    }

    /// Puts another in the place of the stand-in.
    pub fn replace(&self, other: StandIn) {
        *self.stand_in.write().unwrap_or_else(PoisonError::into_inner) = Arc::new(other);
    }
}
