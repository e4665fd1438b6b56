//! Who may ask for what: users, and how they prove who they are.

use charter_check::SettingsError;
use charter_contract::{OperationId, Side};
use charter_session::Secret;
use charter_session::settings::table::Value;
use charter_source::nearest;

use crate::terms::read::Reader;

/// How somebody proves who he is.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Proof {
    /// Nobody has to.
    Nothing,
    /// HTTP Basic (RFC 7617).
    Basic,
    /// A user name with its password, as it is or as a digest (WS-Security, Username Token Profile 1.1).
    Token {
        /// Whether only a digest will do.
        digest: bool,
    },
    /// Values of the request: those at two wire paths, the second of which nobody may need.
    Values {
        /// Where the name is.
        user: String,
        /// Where the password is.
        password: Option<String>,
    },
    /// A certificate of the client.
    Certificate,
}

/// Who may ask for something.
#[derive(Debug, Clone)]
pub(crate) struct Entry {
    service: Option<String>,
    port: Option<String>,
    operation: Option<OperationId>,
    pub proof: Proof,
    /// The users who may, if not all may.
    pub users: Option<Vec<String>>,
    /// The fault of the operation by which others are refused.
    pub fault: Option<usize>,
}

impl Entry {
    /// Whether it takes values of the request.
    pub fn needs_values(&self) -> bool {
        matches!(self.proof, Proof::Values { .. })
    }
}

/// Who may ask for what.
#[derive(Debug, Default)]
pub(crate) struct Access {
    /// Users with their passwords.
    pub users: Vec<(String, String)>,
    entries: Vec<Entry>,
}

const KEYS: [&str; 8] = ["service", "port", "operation", "by", "user", "password", "users", "fault"];
const PROOFS: [&str; 6] = ["nothing", "basic", "password", "digest", "header", "certificate"];

impl Access {
    /// What is said of an operation by a port of a service: the first that fits.
    pub fn of(&self, service: &str, port: &str, operation: Option<OperationId>) -> Option<&Entry> {
        let fits =
            |wanted: &Option<String>, name: &str| wanted.as_deref().is_none_or(|wanted| wanted == name);
        self.entries.iter().find(|entry| {
            fits(&entry.service, service)
                && fits(&entry.port, port)
                && entry.operation.is_none_or(|wanted| operation == Some(wanted))
        })
    }

    /// Whether anybody proves who he is by a header block of WS-Security.
    pub fn has_tokens(&self) -> bool {
        !self.users.is_empty()
    }

    /// Whether anybody proves who he is by a certificate.
    pub fn has_certificates(&self) -> bool {
        self.entries.iter().any(|entry| entry.proof == Proof::Certificate)
    }

    /// Reads `[users]`.
    pub fn read_users(&mut self, value: Value<'_>) -> Result<(), SettingsError> {
        for (name, value) in value.table("users")?.entries(&[])? {
            let secret = Secret::parse(value.text()?).ok_or_else(|| {
                value.wrong(
                    "this says where a password is, and not the password",
                    "write \"env:NAME\" or \"file:PATH\"",
                )
            })?;
            let password = secret
                .reveal()
                .map_err(|failure| value.wrong(failure.message, failure.help.unwrap_or_default()))?;
            self.users.push((name.to_owned(), password));
        }
        Ok(())
    }

    /// Reads one of `[[access]]`.
    pub fn read_entry(&mut self, value: Value<'_>, reader: &Reader<'_>) -> Result<(), SettingsError> {
        let entries = value.table("access")?.entries(&KEYS)?;
        let of = |wanted: &str| entries.iter().find(|(key, _)| *key == wanted).map(|(_, value)| *value);
        let operation = of("operation").map(|value| reader.operation(value, of("port"))).transpose()?;
        let contract = reader.contract;
        let service = of("service").map(|value| {
            let all = contract.services.iter().map(|(_, service)| &*service.name.local);
            named(value, "service", all.collect())
        });
        let port = of("port").map(|value| {
            let all = contract.ports().map(|(_, port)| &*port.name.text);
            named(value, "port", all.collect())
        });
        let by = of("by").ok_or_else(|| {
            value.wrong("nothing says how users prove who they are", "add by = \"basic\", or another way")
        })?;
        let path = |key: &str| {
            let Some(value) = of(key) else { return Ok(None) };
            let path = value.text()?;
            if let Some(operation) = operation {
                reader
                    .leads(operation, Side::Input, path)
                    .map_err(|error| value.wrong(error.message, error.help))?;
            }
            Ok(Some(path.to_owned()))
        };
        let proof = proof(by, path)?;
        let users = of("users").map(|value| {
            let all: Vec<&str> = self.users.iter().map(|(name, _)| name.as_str()).collect();
            value
                .texts()?
                .into_iter()
                .map(|(value, _)| named(value, "user", all.clone()))
                .collect::<Result<Vec<String>, SettingsError>>()
        });
        let fault = of("fault").map(|value| match operation {
            Some(operation) => reader.fault(operation, value, "leave it out for one of SOAP itself"),
            None => Err(value.wrong("a fault is one of an operation", "add operation = \"…\"")),
        });
        self.entries.push(Entry {
            service: service.transpose()?,
            port: port.transpose()?,
            operation,
            proof,
            users: users.transpose()?,
            fault: fault.transpose()?,
        });
        Ok(())
    }
}

/// How users prove who they are; `path` reads a wire path of the entry.
fn proof(
    by: Value<'_>,
    path: impl Fn(&str) -> Result<Option<String>, SettingsError>,
) -> Result<Proof, SettingsError> {
    Ok(match by.text()? {
        "nothing" => Proof::Nothing,
        "basic" => Proof::Basic,
        "password" => Proof::Token { digest: false },
        "digest" => Proof::Token { digest: true },
        "certificate" => Proof::Certificate,
        "header" => Proof::Values {
            user: path("user")?.ok_or_else(|| {
                by.wrong(
                    "nothing says where the name is",
                    "add user = \"$header/…\", and password = \"$header/…\" if there is one",
                )
            })?,
            password: path("password")?,
        },
        other => {
            let help = match nearest(other, PROOFS) {
                Some(near) => format!("did you mean \"{near}\"?"),
                None => format!("there is {}", PROOFS.join(", ")),
            };
            return Err(by.wrong(format!("nobody proves who he is by \"{other}\""), help));
        }
    })
}

/// A name that must be one of some.
fn named(value: Value<'_>, what: &str, all: Vec<&str>) -> Result<String, SettingsError> {
    let name = value.text()?;
    if all.contains(&name) {
        return Ok(name.to_owned());
    }
    let help = match nearest(name, all.iter().copied()) {
        Some(near) => format!("did you mean \"{near}\"?"),
        None if all.is_empty() && what == "user" => "add it to [users]".to_owned(),
        None => format!("there is {}", all.join(", ")),
    };
    Err(value.wrong(format!("there is no {what} \"{name}\""), help))
}
