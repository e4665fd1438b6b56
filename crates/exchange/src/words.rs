//! Why something did not work out, in the words that say most: the innermost cause, as people know it.

use std::error::Error;
use std::io::ErrorKind;

/// The error of a secure connection that an error is, or holds: what an error of the system holds is not its source.
fn tls_within<'e>(error: &'e (dyn Error + 'static)) -> Option<&'e rustls::Error> {
    error.downcast_ref().or_else(|| tls_within(error.downcast_ref::<std::io::Error>()?.get_ref()?))
}

/// Why a connection could not be secured.
fn of_tls(error: &rustls::Error) -> Option<String> {
    use rustls::CertificateError::{
        BadSignature, Expired, ExpiredContext, NotValidForName, NotValidForNameContext, NotValidYet,
        NotValidYetContext, UnknownIssuer,
    };
    Some(match error {
        rustls::Error::InvalidCertificate(reason) => match reason {
            UnknownIssuer | BadSignature => {
                "nobody who is trusted here vouches for its certificate; --authorities FILE says who is"
                    .to_owned()
            }
            NotValidForName | NotValidForNameContext { .. } => {
                "its certificate is for another name".to_owned()
            }
            Expired | ExpiredContext { .. } => "its certificate has expired".to_owned(),
            NotValidYet | NotValidYetContext { .. } => "its certificate is not valid yet".to_owned(),
            other => format!("its certificate is not accepted: {other:?}"),
        },
        rustls::Error::AlertReceived(alert) => {
            format!("it refuses the secure connection ({alert:?}); does it ask for a certificate?")
        }
        _ => return None,
    })
}

/// The cause of an error on the network.
pub(crate) fn cause(error: &(dyn Error + 'static)) -> String {
    let mut innermost = error;
    let mut io = None;
    loop {
        if let Some(words) = tls_within(innermost).and_then(of_tls) {
            return words;
        }
        if let Some(found) = innermost.downcast_ref::<std::io::Error>() {
            io = Some(found.kind());
        }
        match innermost.source() {
            Some(source) => innermost = source,
            None => break,
        }
    }
    let text = innermost.to_string();
    match io {
        Some(ErrorKind::ConnectionRefused) => "nobody answers there".to_owned(),
        Some(ErrorKind::ConnectionReset | ErrorKind::BrokenPipe) => "the connection was reset".to_owned(),
        Some(ErrorKind::UnexpectedEof) => "the connection ended in the middle".to_owned(),
        Some(ErrorKind::TimedOut) => "it took too long".to_owned(),
        Some(ErrorKind::HostUnreachable | ErrorKind::NetworkUnreachable) => {
            "there is no way to that host".to_owned()
        }
        _ if text.contains("failed to lookup address") || text.contains("Name or service not known") => {
            "there is no such host".to_owned()
        }
        _ if text.contains("message completed") || text.contains("unexpected EOF") => {
            "the connection ended in the middle".to_owned()
        }
        _ => text,
    }
}
