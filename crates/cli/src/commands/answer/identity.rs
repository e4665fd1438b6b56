//! Who the server is over https: a certificate that is there, or one of its own making.

use std::path::Path;

use charter_exchange::tls::{Identity, TlsError, own_certificate};
use charter_session::files;

use crate::args::AnswerArgs;
use crate::commands::send::reaching::bytes;
use crate::console::{Console, Failure};
use crate::paint;

/// What the options come to; nothing for plain HTTP. `some` says that only some are asked for a certificate.
pub fn of(args: &AnswerArgs, some: bool, console: &mut Console) -> Result<Option<Identity>, Failure> {
    let Some(path) = &args.certificate else { return Ok(None) };
    if !path.exists() {
        make(path, &args.host)?;
        let shown = path.display();
        let words = format!("made a certificate, {shown}: clients trust it with --authorities {shown}\n");
        console.note(&paint::faint(&words));
    }
    let clients = args.clients.as_deref().map(bytes).transpose()?;
    Ok(Some(Identity { own: bytes(path)?, clients, without: some }))
}

/// Makes a certificate for this machine, which nobody else may read: its key stands beside it.
fn make(path: &Path, host: &str) -> Result<(), Failure> {
    let mut names = vec!["localhost", "127.0.0.1", "::1"];
    if !names.contains(&host) && host != "0.0.0.0" && host != "::" {
        names.push(host);
    }
    let text = own_certificate(&names).map_err(|error| Failure::new(error.to_string()))?;
    files::create_private(path, &text)
}

/// Why a connection cannot be secured.
pub fn unusable(error: &TlsError, args: &AnswerArgs) -> Failure {
    let path = match error {
        TlsError::Clients(_) => &args.clients,
        _ => &args.certificate,
    };
    let failure = Failure::new(error.to_string());
    let failure = match path {
        Some(path) => failure.at(path.display().to_string()),
        None => failure,
    };
    failure
        .help("see the files of --certificate and --clients: both are in PEM, the key after its certificate")
}
