//! Why something did not work out, in the words that say most: the innermost cause, as people know it.

use std::error::Error;
use std::io::ErrorKind;

/// The cause of an error on the network.
pub(crate) fn cause(error: &(dyn Error + 'static)) -> String {
    let mut innermost = error;
    let mut io = None;
    loop {
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
