//! What a request asks for beside its operation: how it is addressed, and in which form it takes a reply.

use charter_message::captured::Captured;
use charter_message::http::{Headers, parameter};
use charter_source::{Node, elements, ns};

/// What a request asks for beside its operation.
#[derive(Debug, Default)]
pub(super) struct Asked {
    /// The identifier of the message, which a reply relates to.
    pub message_id: Option<String>,
    /// Where the reply is to go.
    pub reply_to: ReplyTo,
    /// Whether it is addressed at all.
    pub addressed: bool,
    /// Whether its binary content came in parts of its own, as that of the reply then does.
    pub optimized: bool,
}

/// Where a reply is to go (WS-Addressing 1.0, Core, section 2.1).
#[derive(Debug, Default, PartialEq, Eq)]
pub(super) enum ReplyTo {
    /// Back on the same connection.
    #[default]
    Back,
    /// Nowhere.
    Nowhere,
    /// To an address.
    Elsewhere(String),
}

impl Asked {
    pub fn of(captured: &Captured) -> Asked {
        let mut asked = Asked { optimized: is_optimized(&captured.headers), ..Asked::default() };
        let header = captured.file.root().into_iter().flat_map(elements);
        let header = header.filter(|child| child.tag_name().name() == "Header").flat_map(elements);
        for block in header.filter(|block| block.tag_name().namespace() == Some(ns::ADDRESSING)) {
            asked.addressed = true;
            match block.tag_name().name() {
                "MessageID" => asked.message_id = Some(text(block)),
                "ReplyTo" => asked.reply_to = reply_to(block),
                _ => {}
            }
        }
        asked
    }
}

fn text(node: Node<'_>) -> String {
    node.text().unwrap_or("").trim().to_owned()
}

fn reply_to(block: Node<'_>) -> ReplyTo {
    let address = elements(block).find(|child| child.has_tag_name((ns::ADDRESSING, "Address")));
    let address = address.map(text).unwrap_or_default();
    match address.strip_prefix(ns::ADDRESSING) {
        Some("/anonymous") => ReplyTo::Back,
        Some("/none") => ReplyTo::Nowhere,
        _ => ReplyTo::Elsewhere(address),
    }
}

/// Whether a message came with its binary content in parts of its own.
fn is_optimized(headers: &Headers) -> bool {
    let kind = headers.get("Content-Type").and_then(|value| parameter(value, "type"));
    kind.is_some_and(|kind| kind.eq_ignore_ascii_case("application/xop+xml"))
}
