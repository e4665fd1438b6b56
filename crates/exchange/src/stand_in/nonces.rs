//! The nonces that were used: none is good twice.

use std::hash::{BuildHasher, RandomState};
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

use charter_source::Set;

/// The nonces that were used, at least as long as a user name that has one is good.
pub(super) struct Nonces {
    /// How long they are remembered at least.
    long: Duration,
    /// A nonce is remembered by what it comes to here: nobody outside can find another that comes to the same.
    hasher: RandomState,
    seen: Mutex<Seen>,
}

/// Two sets: the older is thrown away as a whole, so that no request has to go through all of them.
struct Seen {
    since: Instant,
    now: Set<u64>,
    before: Set<u64>,
}

impl Nonces {
    /// None yet; each will be remembered for that long at least, and for twice that long at most.
    pub fn remembered(long: Duration) -> Nonces {
        let seen = Seen { since: Instant::now(), now: Set::default(), before: Set::default() };
        Nonces { long, hasher: RandomState::new(), seen: Mutex::new(seen) }
    }

    /// Whether a nonce of a user is new; from now on it is not.
    pub fn is_new(&self, user: &str, nonce: &str) -> bool {
        self.is_new_at(Instant::now(), user, nonce)
    }

    fn is_new_at(&self, time: Instant, user: &str, nonce: &str) -> bool {
        let key = self.hasher.hash_one((user, nonce));
        let mut seen = self.seen.lock().unwrap_or_else(PoisonError::into_inner);
        if time.duration_since(seen.since) >= self.long {
            // What came last before a long silence is too old as well.
            let is_old = time.duration_since(seen.since) >= self.long * 2;
            let last = std::mem::take(&mut seen.now);
            seen.before = if is_old { Set::default() } else { last };
            seen.since = time;
        }
        !seen.before.contains(&key) && seen.now.insert(key)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const LONG: Duration = Duration::from_secs(600);

    #[test]
    fn a_nonce_is_good_once_for_each_user() {
        let nonces = Nonces::remembered(LONG);
        assert!(nonces.is_new("tern", "a"));
        assert!(!nonces.is_new("tern", "a"));
        assert!(nonces.is_new("plover", "a"));
        assert!(nonces.is_new("tern", "b"));
        // Where the name ends and the nonce begins makes a difference.
        assert!(nonces.is_new("ter", "na"));
    }

    #[test]
    fn it_is_remembered_for_as_long_as_it_could_come_again_and_then_forgotten() {
        let nonces = Nonces::remembered(LONG);
        let begin = Instant::now();
        let after = |seconds: u64| begin + Duration::from_secs(seconds);
        for (at, nonce, is_new) in [
            (10, "a", true),
            (590, "b", true),
            (609, "a", false),
            (620, "c", true),
            (1189, "b", false),
            (1250, "a", true),
            (1251, "c", false),
            // Nothing came for a long time.
            (3000, "c", true),
            (3001, "c", false),
        ] {
            assert_eq!(nonces.is_new_at(after(at), "tern", nonce), is_new, "{at} {nonce}");
        }
    }
}
