//! Where requests go, and how: what an environment of `charter.toml` says, and what options say instead.

use std::path::Path;
use std::time::Duration;

use base64::Engine as _;
use base64::engine::general_purpose::STANDARD;
use charter_contract::{Contract, WireShape};
use charter_exchange::tls::Trust;
use charter_exchange::{Client, ClientError, Reach};
use charter_message::http::Headers;
use charter_session::{Environment, Secret, Settings, read};
use charter_source::{Address, nearest};

use crate::args::ReachArgs;
use crate::console::Failure;

/// Where requests go, and how.
pub struct Reaching {
    /// The address that an option gives for every port.
    to: Option<String>,
    pub environment: Environment,
    /// The user name and the password of WS-Security.
    pub user: Option<String>,
    pub password: Option<String>,
    pub client: Client,
}

/// What a user says of it.
pub struct Wanted<'w> {
    pub to: Option<&'w str>,
    pub environment: Option<&'w str>,
    pub reach: &'w ReachArgs,
}

impl Reaching {
    /// What options and settings come to.
    ///
    /// # Errors
    /// If an address, a file, a secret or an environment is none.
    pub fn of(wanted: &Wanted<'_>, settings: &Settings) -> Result<Reaching, Failure> {
        let environment = match wanted.environment {
            Some(name) => environment(name, settings)?,
            None => Environment::default(),
        };
        if let Some(to) = wanted.to {
            must_be_address(to)?;
        }
        let args = wanted.reach;
        let password = secret(args.password.as_deref(), environment.password.as_ref(), "--password")?;
        let user = args.user.clone().or_else(|| environment.user.clone());
        let reach = reach(args, &environment, password.as_deref())?;
        let client = Client::new(reach).map_err(|error| unusable(&error))?.asking_once();
        Ok(Reaching { to: wanted.to.map(str::to_owned), environment, user, password, client })
    }

    /// Where the request of a shape goes.
    ///
    /// # Errors
    /// If nobody says where.
    pub fn address(&self, contract: &Contract, shape: &WireShape) -> Result<String, Failure> {
        let port = shape.port.map(|id| contract.port(id));
        let name = port.map_or("", |port| &port.name.text);
        let own = port.and_then(|port| port.address()).map_or("", |address| address.text.trim());
        let to = match (&self.to, self.environment.address(name)) {
            (Some(to), _) => Some(to.clone()),
            (None, Some(address)) => Some(address.map_err(|variable| unknown_variable(&variable))?),
            (None, None) => None,
        };
        let address = match to {
            // Over plain HTTP, an operation has an address of its own below that of its port.
            Some(to) => {
                let below = shape.address.as_deref().and_then(|address| address.strip_prefix(own));
                format!("{}{}", at_host(&to, own), below.unwrap_or_default())
            }
            None => shape.address.clone().unwrap_or_default(),
        };
        // What a value will stand for is no part of an address yet.
        let plain = address.replace(['(', ')'], "");
        if Address::parse(&plain).is_none_or(|_| !plain.starts_with("http")) {
            let of = if name.is_empty() { "the operation".to_owned() } else { format!("the port {name}") };
            return Err(Failure::new(format!("the contract has no address for {of} that could be asked"))
                .help("say where with --to URL, or with an environment of charter.toml"));
        }
        Ok(address)
    }

    /// A text with what the variables of the environment stand for; without one, it stays what it is.
    ///
    /// # Errors
    /// If a variable is not there.
    pub fn filled(&self, text: &str) -> Result<String, Failure> {
        match self.environment.variables.is_empty() {
            true => Ok(text.to_owned()),
            false => self.environment.filled(text).map_err(|variable| unknown_variable(&variable)),
        }
    }
}

/// An address; where it names a host alone, the path is that of the port in the contract.
fn at_host(to: &str, own: &str) -> String {
    let bare = to.strip_suffix('/').unwrap_or(to);
    let is_host = bare.split_once("://").is_some_and(|(_, rest)| !rest.contains(['/', '?']));
    match Address::parse(own).filter(|_| is_host) {
        Some(own) => format!("{bare}{}", own.target()),
        None => to.to_owned(),
    }
}

fn environment(name: &str, settings: &Settings) -> Result<Environment, Failure> {
    let names = || settings.environments.iter().map(|(name, _)| name.as_str());
    let found = settings.environments.iter().find(|(known, _)| known == name);
    found.map(|(_, environment)| environment.clone()).ok_or_else(|| {
        let all: Vec<&str> = names().collect();
        let help = match nearest(name, names()) {
            Some(near) => format!("did you mean \"{near}\"?"),
            None if all.is_empty() => {
                format!("write [environments.{name}] into charter.toml, with its address")
            }
            None => format!("there is {}", all.join(", ")),
        };
        Failure::new(format!("there is no environment \"{name}\"")).help(help)
    })
}

fn unknown_variable(name: &str) -> Failure {
    Failure::new(format!("the environment has no variable \"{name}\""))
        .help(format!("add it: variables = {{ {name} = \"…\" }}; {{{{ stands for one brace"))
}

/// Whether a text is an address that can be asked.
pub fn must_be_address(text: &str) -> Result<(), Failure> {
    let has_scheme = ["http://", "https://"].iter().any(|scheme| text.starts_with(scheme));
    if has_scheme && Address::parse(text).is_some() {
        return Ok(());
    }
    let local = text.starts_with("localhost") || text.starts_with("127.");
    let help = match text.split_once("://") {
        None if local => format!("did you mean http://{text}?"),
        None => format!("did you mean https://{text}?"),
        Some(_) => "give one like https://host/path".to_owned(),
    };
    Err(Failure::new(format!("\"{text}\" is no address to send to")).help(help))
}

/// A secret: where an option says, or else where the environment says.
fn secret(option: Option<&str>, settled: Option<&Secret>, name: &str) -> Result<Option<String>, Failure> {
    let said = match option {
        // What was given is not repeated: it may be the secret.
        Some(from) => Some(Secret::parse(from).ok_or_else(|| {
            Failure::new(format!(
                "{name} says where a secret is, and not the secret: others can see a command line"
            ))
            .help(format!("{name} env:NAME takes it from a variable, {name} file:PATH from a file"))
        })?),
        None => settled.cloned(),
    };
    said.map(|secret| secret.reveal()).transpose()
}

fn reach(args: &ReachArgs, environment: &Environment, password: Option<&str>) -> Result<Reach, Failure> {
    let mut fields = Headers::default();
    for (name, value) in &environment.headers {
        fields.push(name, environment.filled(value).map_err(|variable| unknown_variable(&variable))?);
    }
    for header in &args.headers {
        let (name, value) = header.split_once(':').ok_or_else(|| {
            Failure::new(format!("\"{header}\" is no header field")).help("write 'NAME: VALUE'")
        })?;
        fields.set(name.trim(), value.trim());
    }
    if let Some(name) = args.basic.as_ref().or(environment.basic.as_ref()) {
        let password = password.ok_or_else(|| {
            Failure::new("HTTP Basic takes a password")
                .help("say where it is: --password env:NAME or file:PATH")
        })?;
        fields.set("Authorization", format!("Basic {}", STANDARD.encode(format!("{name}:{password}"))));
    }
    if let Some(token) = secret(args.bearer.as_deref(), environment.bearer.as_ref(), "--bearer")? {
        fields.set("Authorization", format!("Bearer {token}"));
    }
    let authorities = args.authorities.as_deref().or(environment.authorities.as_deref());
    let certificate = args.certificate.as_deref().or(environment.certificate.as_deref());
    let seconds = args.timeout.or(environment.timeout).unwrap_or(30);
    Ok(Reach {
        trust: Trust {
            authorities: authorities.map(bytes).transpose()?,
            own: certificate.map(bytes).transpose()?,
        },
        proxy: args.proxy.clone().or_else(|| environment.proxy.clone()),
        timeout: Duration::from_secs(u64::from(seconds)),
        retries: args.retries,
        fields,
    })
}

/// What stands in a file of certificates.
///
/// # Errors
/// If it cannot be read.
pub fn bytes(path: &Path) -> Result<Vec<u8>, Failure> {
    let text = read::small(path).map_err(|error| {
        Failure::new(format!("it cannot be read: {error}"))
            .at(path.display().to_string())
            .help("give a file of certificates in PEM")
    })?;
    Ok(text.into_bytes())
}

fn unusable(error: &ClientError) -> Failure {
    Failure::new(error.to_string()).help(match error {
        ClientError::Tls(_) => "see the files of --authorities and --certificate: both are in PEM",
        ClientError::Proxy(_) => "give one like http://host:3128",
        ClientError::Field(_) => "write 'NAME: VALUE', on one line",
        ClientError::System(_) => "see what the system lacks",
    })
}
