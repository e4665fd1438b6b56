//! WS-Addressing 1.0: where a message goes, what it is, and what it answers (Core, section 3).

use charter_contract::{Contract, WireShape};
use charter_source::{QName, ns};

use super::TimeAndIds;
use crate::Element;

/// The address of who waits on the same connection.
const ANONYMOUS: &str = "http://www.w3.org/2005/08/addressing/anonymous";

pub(super) fn blocks(contract: &Contract, shape: &WireShape, time_and_ids: &TimeAndIds) -> Vec<Element> {
    let named = |local: &str| Element::new(QName::new(ns::ADDRESSING, local));
    let soap_action = shape.soap().and_then(|soap| soap.action.as_deref());
    let action = contract.addressing_action(shape.operation, shape.side, soap_action);
    let mut blocks = Vec::new();
    if shape.is_request() {
        if let Some(address) = &shape.address {
            blocks.push(named("To").text(address.as_str()));
        }
        blocks.push(named("Action").text(action));
        blocks.push(named("MessageID").text(time_and_ids.message_id.as_str()));
        blocks.push(named("ReplyTo").with(named("Address").text(ANONYMOUS)));
    } else {
        blocks.push(named("Action").text(action));
        blocks.push(named("RelatesTo").text(time_and_ids.message_id.as_str()));
    }
    blocks
}
