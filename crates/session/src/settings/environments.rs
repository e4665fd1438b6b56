//! `[environments.NAME]`: where a provider is, and how it is reached there.

use std::path::{Path, PathBuf};

use charter_check::SettingsError;

use super::table::{Table, Value};
use crate::{Failure, read};

/// Where a provider is, and how it is reached there.
///
/// ```
/// use charter_session::Settings;
///
/// let text = "[environments.test]\naddress = \"https://{host}/1\"\nvariables = { host = \"test.saltmere.example\" }\npassword = \"env:QUAY\"\n";
/// let settings = Settings::read(text)?;
/// let (name, test) = &settings.environments[0];
/// assert_eq!(name, "test");
/// assert_eq!(test.address("PilotagePort").unwrap().unwrap(), "https://test.saltmere.example/1");
/// # Ok::<(), charter_check::SettingsError>(())
/// ```
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Environment {
    /// The address of every port, unless it has one of its own.
    pub address: Option<String>,
    /// The addresses of ports, by their names.
    pub addresses: Vec<(String, String)>,
    /// What `{name}` stands for in addresses, header fields and rehearsals.
    pub variables: Vec<(String, String)>,
    /// The name of who asks, in the header block of WS-Security.
    pub user: Option<String>,
    /// The name of who asks, by HTTP Basic.
    pub basic: Option<String>,
    /// The password that goes with either name.
    pub password: Option<Secret>,
    /// A token that is shown to HTTP.
    pub bearer: Option<Secret>,
    /// Header fields that go along.
    pub headers: Vec<(String, String)>,
    /// A file of certificates of those who vouch for the server.
    pub authorities: Option<PathBuf>,
    /// A file with the certificate of who asks, and its key.
    pub certificate: Option<PathBuf>,
    /// Where requests go first.
    pub proxy: Option<String>,
    /// How many seconds a reply may take.
    pub timeout: Option<u32>,
}

/// Where a secret is: it never stands in settings, nor on a command line.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Secret {
    /// In a variable of the process.
    Variable(String),
    /// In a file, without the line end behind it.
    File(PathBuf),
}

impl Secret {
    /// Reads `env:NAME` or `file:PATH`; `None` for anything else.
    pub fn parse(text: &str) -> Option<Secret> {
        match text.split_once(':')? {
            ("env", name) if !name.is_empty() => Some(Secret::Variable(name.to_owned())),
            ("file", path) if !path.is_empty() => Some(Secret::File(path.into())),
            _ => None,
        }
    }

    /// The secret itself.
    ///
    /// # Errors
    /// If it is not there.
    pub fn reveal(&self) -> Result<String, Failure> {
        match self {
            Secret::Variable(name) => std::env::var(name).map_err(|_| {
                Failure::new(format!("the variable {name} is not set, and a secret is to be in it"))
                    .help(format!("set it: export {name}=…"))
            }),
            Secret::File(path) => {
                let text = read::small(path).map_err(|error| {
                    Failure::new(format!("the secret cannot be read: {error}"))
                        .at(path.display().to_string())
                        .help("check the path, and that the file may be read")
                })?;
                Ok(text.trim_end_matches(['\r', '\n']).to_owned())
            }
        }
    }
}

impl Environment {
    /// The files that it names are found from the folder that it is settled in.
    pub(super) fn within(&mut self, folder: &Path) {
        let secrets = [&mut self.password, &mut self.bearer].into_iter().flatten();
        let of_secrets = secrets.filter_map(|secret| match secret {
            Secret::File(path) => Some(path),
            Secret::Variable(_) => None,
        });
        let own = [&mut self.authorities, &mut self.certificate].into_iter().flatten();
        own.chain(of_secrets).for_each(|path| *path = folder.join(&*path));
    }

    /// The address of a port; `None` if nothing is said of it.
    ///
    /// # Errors
    /// The name of a variable in it that is not there.
    pub fn address(&self, port: &str) -> Option<Result<String, String>> {
        let own = self.addresses.iter().find(|(name, _)| name == port).map(|(_, address)| address);
        own.or(self.address.as_ref()).map(|address| self.filled(address))
    }

    /// A text with what its variables stand for; two braces stand for one.
    ///
    /// # Errors
    /// The name of a variable that is not there.
    pub fn filled(&self, text: &str) -> Result<String, String> {
        let mut result = String::new();
        let mut rest = text;
        while let Some(at) = rest.find(['{', '}']) {
            result.push_str(&rest[..at]);
            let brace = &rest[at..=at];
            rest = &rest[at + 1..];
            if let Some(after) = rest.strip_prefix(brace) {
                result.push_str(brace);
                rest = after;
                continue;
            }
            let Some((name, after)) = rest.split_once('}').filter(|_| brace == "{") else {
                result.push_str(brace);
                continue;
            };
            let known = self.variables.iter().find(|(known, _)| known == name.trim());
            result.push_str(known.map(|(_, value)| value).ok_or_else(|| name.trim().to_owned())?);
            rest = after;
        }
        result.push_str(rest);
        Ok(result)
    }
}

const KEYS: [&str; 12] = [
    "address",
    "addresses",
    "variables",
    "user",
    "basic",
    "password",
    "bearer",
    "headers",
    "authorities",
    "certificate",
    "proxy",
    "timeout",
];

pub(super) fn read(table: &Table<'_>) -> Result<Vec<(String, Environment)>, SettingsError> {
    let mut all = Vec::new();
    for (name, value) in table.entries(&[])? {
        all.push((name.to_owned(), environment(&value.table(&table.full(name))?)?));
    }
    Ok(all)
}

fn environment(table: &Table<'_>) -> Result<Environment, SettingsError> {
    let mut found = Environment::default();
    for (key, value) in table.entries(&KEYS)? {
        match key {
            "address" => found.address = Some(address(value)?),
            "addresses" => found.addresses = pairs(value, &table.full(key), address)?,
            "variables" => found.variables = pairs(value, &table.full(key), text)?,
            "user" => found.user = Some(text(value)?),
            "basic" => found.basic = Some(text(value)?),
            "password" => found.password = Some(secret(value)?),
            "bearer" => found.bearer = Some(secret(value)?),
            "headers" => found.headers = pairs(value, &table.full(key), text)?,
            "authorities" => found.authorities = Some(text(value)?.into()),
            "certificate" => found.certificate = Some(text(value)?.into()),
            "proxy" => found.proxy = Some(address(value)?),
            _ => found.timeout = Some(seconds(value)?),
        }
    }
    Ok(found)
}

fn text(value: Value<'_>) -> Result<String, SettingsError> {
    value.text().map(str::to_owned)
}

fn pairs(
    value: Value<'_>,
    name: &str,
    each: fn(Value<'_>) -> Result<String, SettingsError>,
) -> Result<Vec<(String, String)>, SettingsError> {
    let table = value.table(name)?;
    let entries = table.entries(&[])?.into_iter();
    entries.map(|(key, value)| Ok((key.to_owned(), each(value)?))).collect()
}

fn address(value: Value<'_>) -> Result<String, SettingsError> {
    let text = value.text()?;
    let fits = ["http://", "https://"].iter().any(|scheme| text.starts_with(scheme)) || text.starts_with('{');
    match fits {
        true => Ok(text.to_owned()),
        false => {
            let help = match text.contains("://") {
                true => "addresses begin with http:// or https://".to_owned(),
                false => format!("did you mean \"https://{text}\"?"),
            };
            Err(value.wrong(format!("\"{text}\" is no address to send to"), help))
        }
    }
}

fn secret(value: Value<'_>) -> Result<Secret, SettingsError> {
    // The text itself is not repeated: it may be the secret.
    Secret::parse(value.text()?).ok_or_else(|| {
        value.wrong(
            "a secret does not stand in a file that others read",
            "write \"env:NAME\" for a variable, or \"file:PATH\" for a file of its own",
        )
    })
}

fn seconds(value: Value<'_>) -> Result<u32, SettingsError> {
    let number = value.value.as_integer().and_then(|it| u32::from_str_radix(it.as_str(), it.radix()).ok());
    number
        .filter(|number| (1..=3600).contains(number))
        .ok_or_else(|| value.wrong("this is no number of seconds", "write a whole number from 1 to 3600"))
}
