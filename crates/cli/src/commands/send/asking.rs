//! The requests that are to be sent: made of samples and values, or taken from a file.

use charter_contract::{Component, Contract, Side, WireShape};
use charter_exchange::Request;
use charter_message::http::{Headers, HttpMessage};
use charter_session::{Rows, Spot};

use super::reaching::Reaching;
use crate::args::{MessageArgs, SendArgs, SideArg, SizeArg};
use crate::commands::message::chosen;
use crate::commands::message::making::Making;
use crate::common::Common;
use crate::console::{Console, Failure};

/// A request that is to be sent.
pub struct Asking {
    /// The operation.
    pub operation: String,
    /// The port.
    pub port: String,
    /// The request, with its whole address.
    pub request: HttpMessage,
    /// The same as it would be sent to the address in the contract, by which it is judged.
    pub by_contract: HttpMessage,
}

/// The options of a message for those of what is sent.
pub fn message_args(args: &SendArgs, reaching: &Reaching) -> MessageArgs {
    MessageArgs {
        file: args.contract.clone(),
        operation: args.operation.clone(),
        settings: args.settings.clone(),
        side: SideArg::Input,
        fault: None,
        header_fault: None,
        port: args.port.clone(),
        size: if args.least { Some(SizeArg::Least) } else { args.size },
        seed: args.seed,
        form: None,
        values: args.values.clone(),
        fill: args.fill,
        comments: false,
        output: None,
        all: None,
        against: None,
        hostile: false,
        addressing: args.reach.addressing,
        user: reaching.user.clone(),
        password: reaching.password.clone().filter(|_| reaching.user.is_some()),
        digest: args.reach.digest,
        fresh: true,
        place: String::new(),
    }
}

/// Makes requests.
pub struct Maker<'m> {
    pub making: Making<'m>,
    pub reaching: &'m Reaching,
    pub common: &'m Common,
}

impl Maker<'_> {
    /// The request of a shape, with values by wire path if there is a row of them.
    pub fn asking(
        &mut self,
        shape: &WireShape,
        row: Option<(usize, &Rows, &[String])>,
        console: &mut Console,
    ) -> Result<Asking, Failure> {
        let contract = self.making.contract;
        self.making.renewed();
        let address = self.reaching.address(contract, shape)?;
        let cells = row.map(|(_, rows, cells)| (rows.heads.as_slice(), cells));
        let content = self.making.wire_content(shape, cells, console)?;
        let message = |shape: &WireShape| self.making.message(shape, content.clone());
        let request = Request::of(contract, shape, &address, message);
        Ok(self.named(shape, request))
    }

    /// The message in a file, as the request of a shape.
    pub fn of_file(&self, shape: &WireShape, file: &str) -> Result<Asking, Failure> {
        let contract = self.making.contract;
        let bytes = crate::commands::matching::read(self.common, file)?;
        let address = self.reaching.address(contract, shape)?;
        let fields = self.fields(shape)?;
        let request = Request::of_octets(shape, &address, &bytes, || fields);
        Ok(self.named(shape, request.map_err(|error| Failure::new(error.to_string()).at(file))?))
    }

    /// The header fields of the messages of a shape.
    fn fields(&self, shape: &WireShape) -> Result<Headers, Failure> {
        Ok(self.making.message(shape, self.making.sample(shape)?).headers)
    }

    fn named(&self, shape: &WireShape, request: Request) -> Asking {
        let (operation, port) = names(self.making.contract, shape);
        Asking { operation, port, request: request.request, by_contract: request.by_contract }
    }
}

/// The operation of a shape, and the port or the binding that offers it.
pub fn names(contract: &Contract, shape: &WireShape) -> (String, String) {
    let operation = contract.operation(shape.operation).name.text.to_string();
    (operation, contract.offered_by(shape.port, shape.binding).to_string())
}

/// An operation without a request, and why.
type Missing = (String, Failure);

/// Every request shape of a contract, by each port that offers it; and why others have none.
///
/// # Errors
/// If there is no such port.
pub fn all(contract: &Contract, port: Option<&str>) -> Result<(Vec<WireShape>, Vec<Missing>), Failure> {
    if let Some(port) = port {
        chosen::must_offer(contract, port)?;
    }
    let (mut shapes, mut missing) = (Vec::new(), Vec::new());
    for (id, operation) in contract.operations() {
        if operation.input.is_none() {
            continue;
        }
        for bound in contract.bound(id) {
            if port.is_some_and(|port| *port != **contract.offered_by(bound.port, bound.binding)) {
                continue;
            }
            match contract.shape_of(id, Side::Input, bound) {
                Ok(shape) => shapes.push(shape),
                Err(error) => missing.push((
                    operation.name.text.to_string(),
                    Failure::new(error.to_string())
                        .at(Spot::of(contract, error.place))
                        .of(contract.path(Component::OperationSide(id, Side::Input)).to_string()),
                )),
            }
        }
    }
    Ok((shapes, missing))
}

/// The shape that the options mean.
pub fn shape(contract: &Contract, args: &MessageArgs) -> Result<WireShape, Failure> {
    let shape = chosen::shape(contract, args.operation.as_deref().unwrap_or_default(), args)?;
    if let Some(transport) = shape.other_transport() {
        return Err(Failure::new(format!("the binding sends it by {transport}, not by HTTP"))
            .of(chosen::path(contract, &shape))
            .help("choose a port that HTTP reaches: --port NAME"));
    }
    Ok(shape)
}
