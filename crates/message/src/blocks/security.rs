//! WS-Security 1.1: a user name with its password, and the time in which a message is valid (Username Token Profile 1.1,
//! section 3).

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_contract::{Password, SoapVersion};
use charter_schema::sample::Vocabulary;
use charter_source::{QName, ns};
use sha1::{Digest, Sha1};

use super::TimeAndIds;
use crate::Element;

const PROFILE: &str = "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-username-token-profile-1.0";
const OCTETS: &str =
    "http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-soap-message-security-1.0#Base64Binary";

/// Who sends a message.
#[derive(Debug, Clone)]
pub struct Credentials {
    /// The user name.
    pub user: String,
    /// The password.
    pub password: String,
    /// How it is sent.
    pub kind: Password,
}

impl Credentials {
    /// Made-up ones, in the words of a team if it has some.
    pub fn sample(kind: Password, words: &Vocabulary) -> Credentials {
        let word = |name: &str, usual: &str| {
            words.values("", name).first().map_or_else(|| usual.to_owned(), |&word| word.to_owned())
        };
        Credentials { user: word("user", "k.jansen"), password: word("password", "grey-stone-41"), kind }
    }
}

/// `wsse:Security`.
pub(super) fn block(
    version: SoapVersion,
    credentials: Option<&Credentials>,
    timestamp: bool,
    time_and_ids: &TimeAndIds,
) -> Element {
    let utility = |local: &str| Element::new(QName::new(ns::WSU, local));
    let must = match version {
        SoapVersion::V11 => "1",
        SoapVersion::V12 => "true",
    };
    let mut block = Element::new(QName::new(ns::WSSE, "Security"))
        .attribute(QName::new(version.envelope(), "mustUnderstand"), must);
    if timestamp {
        let created = utility("Created").text(time_and_ids.created.as_str());
        block = block.with(
            utility("Timestamp").with(created).with(utility("Expires").text(time_and_ids.expires.as_str())),
        );
    }
    match credentials {
        Some(credentials) => block.with(token(credentials, time_and_ids)),
        None => block,
    }
}

/// `wsse:UsernameToken`.
fn token(credentials: &Credentials, time_and_ids: &TimeAndIds) -> Element {
    let named = |local: &str| Element::new(QName::new(ns::WSSE, local));
    let created = Element::new(QName::new(ns::WSU, "Created")).text(time_and_ids.created.as_str());
    let password = |kind: &str, text: String| {
        named("Password").attribute(QName::new("", "Type"), format!("{PROFILE}#{kind}")).text(text)
    };
    let token = named("UsernameToken").with(named("Username").text(credentials.user.as_str()));
    let nonce = named("Nonce")
        .attribute(QName::new("", "EncodingType"), OCTETS)
        .text(STANDARD.encode(&time_and_ids.nonce));
    match credentials.kind {
        Password::None => token,
        Password::Text => token.with(password("PasswordText", credentials.password.clone())),
        Password::Digest => {
            let digest = digest(&time_and_ids.nonce, &time_and_ids.created, &credentials.password);
            token.with(password("PasswordDigest", digest)).with(nonce).with(created)
        }
    }
}

/// The digest of a password: `Base64(SHA-1(nonce + created + password))` (Username Token Profile 1.1, section 3.1).
pub fn digest(nonce: &[u8], created: &str, password: &str) -> String {
    let mut hash = Sha1::new();
    hash.update(nonce);
    hash.update(created.as_bytes());
    hash.update(password.as_bytes());
    STANDARD.encode(hash.finalize())
}
