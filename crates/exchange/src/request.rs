//! A request that is to be sent: as it goes to an address, and as it would go to the one in the contract, by which it is judged.

use charter_contract::{Contract, WireShape};
use charter_message::Message;
use charter_message::http::{Headers, HttpMessage, Start};

/// A request that is to be sent.
#[derive(Debug, Clone)]
pub struct Request {
    /// The request, with its whole address.
    pub request: HttpMessage,
    /// The same as it would be sent to the address in the contract.
    pub by_contract: HttpMessage,
}

/// It is a reply, and a request was wanted.
#[derive(Debug, Clone, Copy, PartialEq, Eq, thiserror::Error)]
#[error("this is a reply, and a request is to be sent")]
pub struct IsReply;

impl Request {
    /// The request of a shape to an address. `message` makes it for a shape that has some address.
    pub fn of(
        contract: &Contract,
        shape: &WireShape,
        address: &str,
        message: impl Fn(&WireShape) -> Message,
    ) -> Request {
        let mut moved = shape.clone();
        moved.address = Some(address.to_owned());
        Request { request: whole(message(&moved), contract), by_contract: whole(message(shape), contract) }
    }

    /// Octets as the request of a shape: a whole HTTP request, or a body, to which the header fields are given.
    ///
    /// # Errors
    /// If they are a reply.
    pub fn of_octets(
        shape: &WireShape,
        address: &str,
        octets: &[u8],
        fields: impl FnOnce() -> Headers,
    ) -> Result<Request, IsReply> {
        let start = Start::Request { method: shape.method.to_owned(), target: address.to_owned() };
        let request = match HttpMessage::read(octets) {
            Some(message) if !message.start.is_request() => return Err(IsReply),
            Some(mut message) => {
                // How long it is, and how it was packed, is said anew.
                let headers = std::mem::take(&mut message.headers).unpacked();
                HttpMessage { start, headers, body: message.body }
            }
            None => HttpMessage { start, headers: fields(), body: octets.to_vec() },
        };
        let mut by_contract = request.clone();
        if let (Start::Request { target, .. }, Some(own)) = (&mut by_contract.start, &shape.address) {
            target.clone_from(own);
        }
        Ok(Request { request, by_contract })
    }
}

/// A message with its whole address.
pub(crate) fn whole(message: Message, contract: &Contract) -> HttpMessage {
    let target = message.address().unwrap_or_default().to_owned();
    let mut http = message.http(contract);
    if let Start::Request { target: own, .. } = &mut http.start {
        *own = target;
    }
    http
}
