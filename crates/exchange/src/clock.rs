//! The time of now, and identifiers that no other message has.

use charter_message::blocks::TimeAndIds;

/// How long a message is valid, where it says so.
const VALID: jiff::SignedDuration = jiff::SignedDuration::from_mins(5);

/// Time and identifiers of now.
pub fn fresh() -> TimeAndIds {
    let now = jiff::Timestamp::now();
    let shown = |time: jiff::Timestamp| time.strftime("%Y-%m-%dT%H:%M:%SZ").to_string();
    TimeAndIds {
        created: shown(now),
        expires: shown(now.checked_add(VALID).unwrap_or(now)),
        nonce: uuid::Uuid::new_v4().as_bytes().to_vec(),
        message_id: message_id(),
    }
}

/// The identifier of a message (WS-Addressing 1.0, section 3.1).
pub(crate) fn message_id() -> String {
    uuid::Uuid::new_v4().urn().to_string()
}
