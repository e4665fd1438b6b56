//! One request with what came of it.

use std::sync::Arc;
use std::time::Duration;

use charter_contract::{Contract, WireShape};
use charter_message::captured::Captured;
use charter_message::http::HttpMessage;
use charter_message::matching::{Matched, Severity};

/// One request with its reply.
#[derive(Debug, Clone)]
pub struct Exchange {
    /// When the request had arrived, or began to be sent.
    pub began: jiff::Timestamp,
    /// How long it took until the reply was there.
    pub took: Duration,
    /// Who sent the request, where that is known: an address and a port.
    pub peer: Option<String>,
    /// The request; its body as it came.
    pub request: HttpMessage,
    /// The reply, if there was one; its body before it was packed for its way.
    pub reply: Option<HttpMessage>,
    /// What it is by the contract.
    pub about: About,
}

/// What an exchange is by the contract.
#[derive(Debug, Clone, Default)]
pub struct About {
    /// What came of it.
    pub outcome: Outcome,
    /// The operation, if the request is one of an operation.
    pub operation: Option<Arc<str>>,
    /// The port.
    pub port: Option<Arc<str>>,
    /// What there is to say about the request.
    pub request: Vec<Finding>,
    /// What there is to say about the reply.
    pub reply: Vec<Finding>,
}

/// What came of a request.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash)]
pub enum Outcome {
    /// The reply of the operation.
    Replied,
    /// The request was taken; nothing is to be replied.
    Taken,
    /// A fault that the provider means: one of the contract, or one that stands for it.
    Fault,
    /// The request was not what the contract asks for, and was told so; or it was refused without a fault.
    Refused,
    /// Nothing was asked of an operation: the contract was read, or a page.
    #[default]
    Other,
    /// No reply came: the connection was dropped, or the provider could not be reached.
    Lost,
}

impl Outcome {
    /// Every outcome with the word that stands for it in a journal.
    pub const ALL: [(Outcome, &'static str); 6] = [
        (Outcome::Replied, "replied"),
        (Outcome::Taken, "taken"),
        (Outcome::Fault, "fault"),
        (Outcome::Refused, "refused"),
        (Outcome::Other, "other"),
        (Outcome::Lost, "lost"),
    ];

    /// The word that stands for it in a journal.
    pub fn word(self) -> &'static str {
        Outcome::ALL.into_iter().find(|(outcome, _)| *outcome == self).map_or("other", |(_, word)| word)
    }
}

/// Something about a message.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Finding {
    /// How serious it is.
    pub severity: Severity,
    /// The rule.
    pub rule: &'static str,
    /// What is wrong, in one line.
    pub message: String,
    /// What to do about it.
    pub help: Option<String>,
    /// The wire path.
    pub path: String,
    /// The line in the body.
    pub line: usize,
    /// The column in it.
    pub column: usize,
}

impl Finding {
    /// Something about a message as a whole.
    pub(crate) fn of_whole(
        rule: &'static str,
        message: impl Into<String>,
        help: impl Into<String>,
    ) -> Finding {
        Finding {
            severity: Severity::Error,
            rule,
            message: message.into(),
            help: Some(help.into()),
            path: "message".to_owned(),
            line: 1,
            column: 1,
        }
    }
}

/// What was found in a message, with places in its body; notes are left out.
pub fn findings(captured: &Captured, matched: Matched) -> Vec<Finding> {
    let counts = matched.found.into_iter().filter(|found| found.severity != Severity::Note);
    let finding = |found: charter_message::matching::Found| {
        let position = captured.file.text().position(found.fault.place.span.start);
        Finding {
            severity: found.severity,
            rule: found.fault.rule,
            message: found.fault.message,
            help: found.fault.help,
            path: found.path,
            line: position.line,
            column: position.column,
        }
    };
    counts.map(finding).collect()
}

/// The name of the port that offers a message; of its binding, if no port does.
pub(crate) fn offered_by(contract: &Contract, shape: &WireShape) -> Arc<str> {
    Arc::clone(contract.offered_by(shape.port, shape.binding))
}

impl About {
    /// Whether neither side is wrong.
    pub fn is_right(&self) -> bool {
        !self.request.iter().chain(&self.reply).any(|finding| finding.severity == Severity::Error)
    }
}
