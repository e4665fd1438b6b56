//! How an exchange is shown.

use charter_exchange::journal::without_secrets;
use charter_exchange::{Exchange, Finding, Outcome};
use charter_message::http::{HttpMessage, Start};
use charter_message::matching::Severity;

use crate::paint;

/// How wide a line of a message may be beside a finding.
const WIDTH: usize = 100;

/// A message as it went over the wire, without what nobody else may know.
pub fn message(message: &HttpMessage, after: &str) -> String {
    let shown = without_secrets(message);
    let mut text = match &shown.start {
        Start::Request { method, target } => format!("{} {target}\n", paint::strong(method)),
        Start::Reply { status } => format!("{}{after}\n", paint::strong(&format!("HTTP {status}"))),
    };
    for (name, value) in shown.headers.iter() {
        text.push_str(&paint::faint(&format!("{name}: {value}")));
        text.push('\n');
    }
    text.push('\n');
    match String::from_utf8(shown.body) {
        Ok(body) if body.trim_start().starts_with('<') => text.push_str(&paint::xml(&body)),
        Ok(body) => text.push_str(&body),
        Err(error) => text.push_str(&format!("({} octets that are no text)", error.as_bytes().len())),
    }
    if !text.ends_with('\n') {
        text.push('\n');
    }
    text
}

/// What is wrong with a side, each with the line that it is in.
pub fn findings(found: &[Finding], side: &str, of: &HttpMessage) -> String {
    let body = without_secrets(of).body;
    let body = String::from_utf8_lossy(&body);
    let mut text = String::new();
    for finding in found {
        let level = match finding.severity {
            Severity::Error => paint::error("error  "),
            Severity::Warning => paint::warning("warning"),
            Severity::Note => paint::faint("note   "),
        };
        text.push_str(&format!("{level} {side}, {}: {}\n", paint::path(&finding.path), finding.message));
        let line = body.lines().nth(finding.line.saturating_sub(1)).unwrap_or_default().trim();
        if !line.is_empty() && finding.path != "message" {
            let shown: String = line.chars().take(WIDTH).collect();
            text.push_str(&paint::faint(&format!("        {} │ {shown}\n", finding.line)));
        }
        if let Some(help) = &finding.help {
            text.push_str(&format!("        {help}\n"));
        }
        text.push_str(&paint::faint(&format!("        {}\n", finding.rule)));
    }
    text
}

/// What came of an exchange, in one line.
pub fn verdict(exchange: &Exchange) -> String {
    let about = &exchange.about;
    let wrong = errors(&about.reply);
    let count = crate::findings::count(wrong, 0, 0);
    match (about.outcome, wrong) {
        (Outcome::Replied, 0) => {
            format!("{}, and the reply is what the contract says", paint::good("replied"))
        }
        (Outcome::Taken, 0) => format!("{}, and nothing is to be replied", paint::good("taken")),
        (Outcome::Fault, 0) => format!("{}{}", paint::warning("fault"), reason(exchange)),
        (Outcome::Fault, _) => format!("{}{}, {count} in the reply", paint::error("fault"), reason(exchange)),
        (Outcome::Lost, _) => paint::error("lost"),
        (outcome, _) => format!("{}, {count} in the reply", paint::error(outcome.word())),
    }
}

/// How many of some findings are errors.
pub fn errors(found: &[Finding]) -> usize {
    found.iter().filter(|finding| finding.severity == Severity::Error).count()
}

/// Whether an exchange came out as one wants it: a reply that is right.
pub fn is_right(exchange: &Exchange) -> bool {
    matches!(exchange.about.outcome, Outcome::Replied | Outcome::Taken) && errors(&exchange.about.reply) == 0
}

/// What a fault says.
pub fn reason(exchange: &Exchange) -> String {
    let captured =
        exchange.reply.clone().map(|reply| charter_message::captured::Captured::received("reply", reply));
    match captured.and_then(|captured| captured.fault_words()) {
        Some(words) => format!(": {words}"),
        None => String::new(),
    }
}
