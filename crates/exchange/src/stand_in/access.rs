//! Whether somebody may ask for what he asks for.

use std::time::Duration;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_message::blocks::{Wanted, digest};
use charter_message::captured::Captured;
use charter_message::http::Headers;
use charter_source::{Node, elements, ns};
use jiff::{SignedDuration, Timestamp};
use serde_json::Value as Json;

use super::Caller;
use super::nonces::Nonces;
use crate::script::{Access, Entry, Proof};
use crate::terms::{at, text};

/// How old a user name with a nonce may be, and how far in the future (Username Token Profile 1.1, section 3.1, recommends five
/// minutes).
const FRESH: Duration = Duration::from_secs(300);
/// How long a nonce is remembered: what is older is refused for its age, whatever clock it goes by.
pub(super) const REMEMBERED: Duration = Duration::from_secs(600);

/// Why somebody is refused.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Refusal {
    /// Nobody has said who he is, or he is not: by HTTP.
    Unauthorized(String),
    /// He shows no certificate.
    Forbidden(String),
    /// His user name, or what proves it, is not right: what WS-Security calls it, and in words.
    Token(&'static str, String),
    /// The same for values of the request.
    Values(String),
}

impl Refusal {
    /// In words.
    pub fn words(&self) -> &str {
        match self {
            Refusal::Unauthorized(words)
            | Refusal::Forbidden(words)
            | Refusal::Token(_, words)
            | Refusal::Values(words) => words,
        }
    }
}

/// What somebody asks for, and how he comes.
pub(super) struct Asking<'a> {
    pub caller: &'a Caller<'a>,
    pub headers: &'a Headers,
    pub captured: &'a Captured,
    /// The values of the request, if it is one of an operation.
    pub values: &'a Json,
}

/// Whether he may, by what the script says of it, or else by what the policies demand.
pub(super) fn may(
    access: &Access,
    nonces: &Nonces,
    entry: Option<&Entry>,
    wanted: Option<&Wanted>,
    asking: &Asking<'_>,
) -> Result<(), Refusal> {
    let by_policy = |wanted: &Wanted| -> Vec<Proof> {
        let token = wanted.user_name.filter(|_| !access.users.is_empty());
        let token = token.map(|kind| Proof::Token { digest: kind == charter_contract::Password::Digest });
        let certificate = wanted.client_certificate && asking.caller.secure;
        let certificate = certificate.then_some(Proof::Certificate);
        let basic = wanted.http_basic.then_some(Proof::Basic);
        token.into_iter().chain(certificate).chain(basic).collect()
    };
    let proofs = match entry {
        Some(entry) => vec![entry.proof.clone()],
        None => wanted.map(by_policy).unwrap_or_default(),
    };
    for proof in proofs {
        let user = match &proof {
            Proof::Nothing => continue,
            Proof::Certificate => {
                if !asking.caller.certified {
                    let words = "a certificate of the client is asked for, and none was shown";
                    return Err(Refusal::Forbidden(words.to_owned()));
                }
                continue;
            }
            Proof::Basic => basic(access, asking)?,
            Proof::Token { digest } => token(access, nonces, *digest, asking)?,
            Proof::Values { user, password } => values(access, user, password.as_deref(), asking)?,
        };
        if let Some(users) = entry.and_then(|entry| entry.users.as_ref())
            && !users.contains(&user)
        {
            return Err(refused(&proof, format!("{user} may not ask for this")));
        }
    }
    Ok(())
}

fn refused(proof: &Proof, words: String) -> Refusal {
    match proof {
        Proof::Basic => Refusal::Unauthorized(words),
        Proof::Token { .. } => Refusal::Token("FailedAuthentication", words),
        _ => Refusal::Values(words),
    }
}

/// The user who asks, by HTTP Basic. Without users, anybody is one.
fn basic(access: &Access, asking: &Asking<'_>) -> Result<String, Refusal> {
    let none = || Refusal::Unauthorized("a user name and a password are asked for".to_owned());
    let field = asking.headers.get("Authorization").ok_or_else(none)?;
    let (scheme, rest) = field.split_once(' ').ok_or_else(none)?;
    if !scheme.eq_ignore_ascii_case("basic") {
        return Err(none());
    }
    let octets = STANDARD.decode(rest.trim()).map_err(|_| none())?;
    let pair = String::from_utf8(octets).map_err(|_| none())?;
    let (user, password) = pair.split_once(':').ok_or_else(none)?;
    match access.users.is_empty() || is_password(access, user, |known| same(known, password)) {
        true => Ok(user.to_owned()),
        false => Err(Refusal::Unauthorized(format!("the password is not that of {user}"))),
    }
}

/// The user who asks, by values of the request.
fn values(
    access: &Access,
    user: &str,
    password: Option<&str>,
    asking: &Asking<'_>,
) -> Result<String, Refusal> {
    let value = |path: &str| at(asking.values, path).and_then(text);
    let name = value(user).ok_or_else(|| Refusal::Values("a user name is asked for".to_owned()))?;
    let known = match password {
        Some(path) => {
            let given = value(path).unwrap_or_default();
            is_password(access, &name, |known| same(known, &given))
        }
        None => access.users.iter().any(|(known, _)| *known == name),
    };
    match known {
        true => Ok(name),
        false => Err(Refusal::Values(format!("nobody is known as {name}, or the password is another"))),
    }
}

/// Whether one of the users by a name has a password for which something holds.
fn is_password(access: &Access, user: &str, holds: impl Fn(&str) -> bool) -> bool {
    access.users.iter().any(|(known, password)| known == user && holds(password))
}

/// Compares two secrets in a time that does not tell how much of them is the same.
fn same(one: &str, other: &str) -> bool {
    let differ = one.bytes().zip(other.bytes()).fold(0, |differ, (one, other)| differ | (one ^ other));
    one.len() == other.len() && differ == 0
}

/// The user who asks, by a user name of WS-Security.
fn token(
    access: &Access,
    nonces: &Nonces,
    only_digest: bool,
    asking: &Asking<'_>,
) -> Result<String, Refusal> {
    let none = || Refusal::Token("InvalidSecurity", "a user name with its password is asked for".to_owned());
    let token = username_token(asking.captured).ok_or_else(none)?;
    let child = |namespace, local| elements(token).find(|child| child.has_tag_name((namespace, local)));
    let text = |node: Node<'_>| node.text().unwrap_or("").trim().to_owned();
    let user = child(ns::WSSE, "Username").map(text).ok_or_else(none)?;
    let password = child(ns::WSSE, "Password").ok_or_else(none)?;
    let hashed = password.attribute("Type").is_some_and(|kind| kind.ends_with("#PasswordDigest"));
    if only_digest && !hashed {
        let words = "the password is to be sent as a digest".to_owned();
        return Err(Refusal::Token("UnsupportedSecurityToken", words));
    }
    let nonce = child(ns::WSSE, "Nonce").map(text);
    let created = child(ns::WSU, "Created").map(text);
    let wrong = || {
        let words = format!("the password is not that of {user}");
        Refusal::Token("FailedAuthentication", words)
    };
    let right = match (hashed, &nonce, &created) {
        (true, Some(nonce), Some(created)) => {
            let octets = STANDARD.decode(nonce).map_err(|_| wrong())?;
            let given = text(password);
            is_password(access, &user, |known| same(&digest(&octets, created, known), &given))
        }
        (true, ..) => {
            let words = "a digest needs its nonce, and when it was made".to_owned();
            return Err(Refusal::Token("InvalidSecurityToken", words));
        }
        (false, ..) => is_password(access, &user, |known| same(known, &text(password))),
    };
    if !right {
        return Err(wrong());
    }
    if let Some(created) = &created {
        fresh(created)?;
    }
    // Only who knows the password uses a nonce up.
    if let Some(nonce) = &nonce
        && !nonces.is_new(&user, nonce)
    {
        let words = "this nonce was used before".to_owned();
        return Err(Refusal::Token("InvalidSecurityToken", words));
    }
    Ok(user)
}

fn username_token(captured: &Captured) -> Option<Node<'_>> {
    let root = captured.file.root()?;
    let header = elements(root).find(|child| child.tag_name().name() == "Header")?;
    let security = elements(header).filter(|block| block.has_tag_name((ns::WSSE, "Security")));
    security.flat_map(elements).find(|child| child.has_tag_name((ns::WSSE, "UsernameToken")))
}

/// Whether a token was made a moment ago.
fn fresh(created: &str) -> Result<(), Refusal> {
    let wrong = |words: String| Refusal::Token("InvalidSecurityToken", words);
    let made: Timestamp =
        created.parse().map_err(|_| wrong(format!("\"{created}\" is no time with a time zone")))?;
    let apart = Timestamp::now().duration_since(made).abs();
    match apart <= SignedDuration::try_from(FRESH).unwrap_or(SignedDuration::MAX) {
        true => Ok(()),
        false => Err(wrong(format!("it was made at {created}, which is not within five minutes"))),
    }
}
