//! Replies that could be real: a typical message for each operation and port, made once.

use std::sync::{Arc, PoisonError, RwLock};

use charter_contract::{Bound, Contract, OperationId, PortId, Side, WireShape};
use charter_message::blocks::Wanted;
use charter_message::http::HttpMessage;
use charter_message::{Element, Size, WireContent, assemble, sample, values};
use charter_schema::Engine;
use charter_source::{Map, QName, ns};
use serde_json::Value as Json;

use super::asked::Asked;
use crate::clock::{fresh, message_id};

/// The typical replies that were asked for.
#[derive(Default)]
pub(super) struct Typical {
    made: RwLock<Map<(OperationId, Option<PortId>), Known>>,
    /// The values of samples, on which those of a script lie.
    values: RwLock<Map<Shape, Arc<Json>>>,
}

/// What a message is one of.
type Shape = (OperationId, Side, Option<PortId>);

/// A reply that was made, or why it cannot be.
type Known = Result<Arc<Made>, String>;

/// A reply without what differs from one time to the next.
pub(super) struct Made {
    shape: WireShape,
    content: WireContent,
    wanted: Wanted,
    /// The whole of it, where nothing differs.
    ready: HttpMessage,
}

impl Typical {
    /// The values of a sample of a shape, or why there is none.
    pub fn values(&self, engine: &Engine<'_>, shape: &WireShape) -> Result<Arc<Json>, String> {
        let key = (shape.operation, shape.side, shape.port);
        // Bindings that no port uses may hold different things under one name.
        let known = || self.values.read().unwrap_or_else(PoisonError::into_inner).get(&key).cloned();
        if let Some(known) = known().filter(|_| shape.port.is_some()) {
            return Ok(known);
        }
        let content = sample(engine, shape, Size::Typical).map_err(|error| error.to_string())?;
        let values = Arc::new(values::write(engine, shape, &content));
        self.values.write().unwrap_or_else(PoisonError::into_inner).insert(key, Arc::clone(&values));
        Ok(values)
    }

    /// The reply of an operation by a port, or why there is none.
    pub fn reply(
        &self,
        contract: &Contract,
        engine: &Engine<'_>,
        (operation, bound): (OperationId, Bound<'_>),
    ) -> Known {
        let key = (operation, bound.port);
        let known = self.made.read().unwrap_or_else(PoisonError::into_inner).get(&key).cloned();
        if let Some(known) = known {
            return known;
        }
        let made = made(contract, engine, operation, bound).map(Arc::new);
        self.made.write().unwrap_or_else(PoisonError::into_inner).insert(key, made.clone());
        made
    }
}

fn made(
    contract: &Contract,
    engine: &Engine<'_>,
    operation: OperationId,
    bound: Bound<'_>,
) -> Result<Made, String> {
    let shape = contract.shape_of(operation, Side::Output, bound).map_err(|error| error.to_string())?;
    let content = sample(engine, &shape, Size::Typical).map_err(|error| error.to_string())?;
    Ok(Made::of(contract, engine, shape, content))
}

impl Made {
    /// The reply of a shape, with what fills it.
    pub fn of(contract: &Contract, engine: &Engine<'_>, shape: WireShape, content: WireContent) -> Made {
        let wanted = Wanted::of(contract, &shape);
        let ready = assemble(engine, &shape, content.clone(), &[]).http(contract);
        Made { shape, content, wanted, ready }
    }

    /// The reply to a request.
    pub fn to(&self, contract: &Contract, engine: &Engine<'_>, asked: &Asked) -> HttpMessage {
        let addressed = (asked.addressed || self.wanted.addressing) && self.shape.soap().is_some();
        if !addressed && !self.wanted.timestamp && !asked.optimized {
            return self.ready.clone();
        }
        let wanted = Wanted { addressing: addressed, ..self.wanted.clone() };
        let mut time_and_ids = fresh();
        time_and_ids.message_id = asked.message_id.clone().unwrap_or_default();
        let mut blocks = wanted.blocks(contract, &self.shape, &time_and_ids);
        if addressed {
            let named = |local: &str| QName::new(ns::ADDRESSING, local);
            // A request without an identifier leaves a reply nothing to relate to.
            if asked.message_id.is_none() {
                blocks.retain(|block| block.name != named("RelatesTo"));
            }
            blocks.push(Element::new(named("MessageID")).text(message_id()));
        }
        let message = assemble(engine, &self.shape, self.content.clone(), &blocks);
        let message = if asked.optimized { message.optimized(engine) } else { message };
        message.http(contract)
    }
}
