//! The requests of a rehearsal.

use std::collections::BTreeMap;
use std::sync::OnceLock;

use charter_contract::WireShape;
use charter_message::blocks::{Added, Wanted};
use charter_message::values::{self, ByPath, ValueError};
use charter_message::{Element, assemble, sample};
use charter_schema::Engine;
use serde_json::Value as Json;

use super::expected::not_filled;
use super::{Content, NotAsked, Planned};
use crate::clock::fresh;
use crate::request::Request;
use crate::terms::Given;

/// Makes requests.
pub(super) struct Asking<'a> {
    pub contract: &'a charter_contract::Contract,
    pub engine: &'a Engine<'a>,
    /// What goes along with every request.
    pub added: &'a Added,
}

/// What a request is made with.
pub(super) struct With<'w> {
    /// What was kept of earlier replies.
    pub kept: &'w BTreeMap<String, Json>,
    /// Values of a row, by wire path.
    pub cells: &'w [(&'w str, &'w str)],
    /// The so-many-th time.
    pub count: u64,
}

impl Asking<'_> {
    /// The header blocks that the contract itself does not name.
    pub fn blocks(&self, shape: &WireShape) -> Vec<Element> {
        self.wanted(shape).blocks(self.contract, shape, &fresh())
    }

    fn wanted(&self, shape: &WireShape) -> Wanted {
        Wanted::of(self.contract, shape).and(self.contract, shape, self.added)
    }

    /// Whether a request is the same each time.
    pub fn is_fixed(&self, planned: &Planned) -> bool {
        let content = match &planned.content {
            Content::Values { set, .. } => set.iter().all(|(_, filling)| filling.is_fixed()),
            Content::Octets(_) => true,
        };
        content && !self.wanted(&planned.shape).differs()
    }

    /// The request of an exchange to an address, and its values. `known` keeps those of its sample for the next time.
    ///
    /// # Errors
    /// Why it cannot be made.
    pub fn request(
        &self,
        planned: &Planned,
        address: &str,
        known: &OnceLock<Json>,
        with: &With<'_>,
    ) -> Result<(Request, Json), NotAsked> {
        let shape = &planned.shape;
        match &planned.content {
            Content::Octets(octets) => {
                let fields = || {
                    let content = sample(self.engine, shape, charter_message::Size::Least);
                    let message = |content| assemble(self.engine, shape, content, &[]);
                    content.map(|content| message(content).headers).unwrap_or_default()
                };
                let request = Request::of_octets(shape, address, octets, fields);
                request
                    .map(|request| (request, Json::Null))
                    .map_err(|error| NotAsked::NotMade(error.to_string()))
            }
            Content::Values { size, file, set, anyway } => {
                let mut all = match (file, known.get()) {
                    (Some(values), _) | (None, Some(values)) => values.clone(),
                    (None, None) => {
                        let content = sample(self.engine, shape, *size);
                        let content = content.map_err(|error| NotAsked::NotMade(error.to_string()))?;
                        known.get_or_init(|| values::write(self.engine, shape, &content)).clone()
                    }
                };
                let by_path = ByPath::of(self.engine, shape);
                for (path, text) in with.cells {
                    by_path.set(&mut all, path, text).map_err(not_made)?;
                }
                let named = with.kept;
                for (path, filling) in set {
                    let given = Given { values: &all, named, row: None, count: with.count };
                    let text = filling.filled(&given).map_err(not_filled)?;
                    by_path.set(&mut all, path, &text).map_err(not_made)?;
                }
                let read = if *anyway { values::read_anyway } else { values::read };
                let content = read(self.engine, shape, &all).map_err(|mut errors| match errors.pop() {
                    Some(error) => not_made(error),
                    None => NotAsked::NotMade("the values do not fit".to_owned()),
                })?;
                let blocks = self.blocks(shape);
                let message = |shape: &WireShape| assemble(self.engine, shape, content.clone(), &blocks);
                Ok((Request::of(self.contract, shape, address, message), all))
            }
        }
    }
}

fn not_made(error: ValueError) -> NotAsked {
    NotAsked::NotMade(format!("{}: {}", error.path, error.message))
}
