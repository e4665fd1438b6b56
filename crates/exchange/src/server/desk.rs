//! Who answers.

use std::sync::{Arc, PoisonError, RwLock};

use crate::StandIn;

/// Who answers the requests that a server takes.
pub enum Desk {
    /// The stand-in of a contract, which another may replace while it serves.
    StandIn(RwLock<Arc<StandIn>>),
}

impl Desk {
    /// A desk with a stand-in.
    pub fn stand_in(stand_in: StandIn) -> Desk {
        Desk::StandIn(RwLock::new(Arc::new(stand_in)))
    }

    /// Who stands in now. Whoever was being answered by another still is.
    pub fn now(&self) -> Arc<StandIn> {
        match self {
            Desk::StandIn(stand_in) => Arc::clone(&stand_in.read().unwrap_or_else(PoisonError::into_inner)),
        }
    }

    /// Puts another in the place of the stand-in.
    pub fn replace(&self, other: StandIn) {
        match self {
            Desk::StandIn(stand_in) => {
                *stand_in.write().unwrap_or_else(PoisonError::into_inner) = Arc::new(other);
            }
        }
    }
}
