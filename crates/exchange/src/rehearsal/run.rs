//! Goes through a rehearsal once.

use std::collections::BTreeMap;
use std::sync::{Arc, OnceLock};

use charter_contract::{Contract, Side, WireShape};
use charter_message::blocks::Added;
use charter_message::captured::Captured;
use charter_message::matching::Matcher;
use charter_message::values;
use charter_schema::Engine;
use charter_source::ns;
use serde_json::Value as Json;

use super::asking::{Asking, With};
use super::expected::Came;
use super::read::REPLY;
use super::{NotAsked, Planned, Rehearsal, Unlike};
use crate::exchange::offered_by;
use crate::judge::{KnownReply, judged_whole};
use crate::request::Request;
use crate::terms::{Given, at};
use crate::{Client, Exchange};

/// What options add to a request, whatever the contract says of it, is no mistake of it.
const ADDED: [&str; 2] = [ns::ADDRESSING, ns::WSSE];
/// How many things that are wrong with one message are found.
const FOUND: usize = 20;

/// An exchange that was rehearsed.
#[derive(Debug, Clone)]
pub struct Rehearsed {
    /// Where it stands in the rehearsal, from 1.
    pub number: usize,
    /// What it is called.
    pub name: String,
    /// The row of its values.
    pub row: Option<usize>,
    /// The operation.
    pub operation: Arc<str>,
    /// The port.
    pub port: Arc<str>,
    /// Both messages, if there were any.
    pub exchange: Option<Exchange>,
    /// The values of what came, if the contract knows it.
    pub values: Option<Json>,
    /// The fault of the contract that came, if it was one.
    pub fault: Option<usize>,
    /// What is not as expected.
    pub unlike: Vec<Unlike>,
}

/// Goes through a rehearsal.
pub struct Runner<'r> {
    pub(super) rehearsal: &'r Rehearsal,
    pub(super) contract: &'r Contract,
    pub(super) asking: Asking<'r>,
    /// The values of the sample of each request that is made of one.
    samples: Vec<OnceLock<Json>>,
    pub(super) matcher: Matcher<'r>,
    /// Where the request of each planned exchange goes.
    pub(super) addresses: Vec<String>,
}

/// A row of values, if an exchange has some: its number, and what stands in it or is wrong with it.
pub(super) type Row<'r> = Option<(usize, &'r Result<Vec<String>, String>)>;

impl<'r> Runner<'r> {
    /// A runner of a rehearsal. `addresses` are those of [`Rehearsal::shapes`], `added` goes along with every request.
    pub fn of(
        rehearsal: &'r Rehearsal,
        contract: &'r Contract,
        engine: &'r Engine<'r>,
        added: &'r Added,
        addresses: Vec<String>,
    ) -> Runner<'r> {
        Runner {
            rehearsal,
            contract,
            asking: Asking { contract, engine, added },
            samples: rehearsal.exchanges.iter().map(|_| OnceLock::new()).collect(),
            matcher: Matcher::new(contract, engine, FOUND).understanding(&ADDED),
            addresses,
        }
    }

    /// What it goes through.
    pub fn rehearsal(&self) -> &'r Rehearsal {
        self.rehearsal
    }

    /// The same with other addresses.
    pub fn at(&self, addresses: Vec<String>) -> Runner<'r> {
        let Asking { contract, engine, added } = self.asking;
        Runner::of(self.rehearsal, contract, engine, added, addresses)
    }

    /// Goes through it once; `told` is told of each exchange.
    pub async fn once(&self, client: &Client, told: &mut dyn FnMut(Rehearsed)) {
        let mut kept = self.rehearsal.named();
        for (at, row) in self.all() {
            told(self.one(client, at, row, 1, &mut kept).await);
        }
    }

    /// Every exchange: where it stands, and its row.
    pub(super) fn all(&self) -> impl Iterator<Item = (usize, Row<'r>)> {
        self.rehearsal.exchanges.iter().enumerate().flat_map(|(at, planned)| {
            let rows: Vec<Row<'r>> = match &planned.rows {
                None => vec![None],
                Some(rows) => rows.rows.iter().map(|(number, row)| Some((*number, row))).collect(),
            };
            rows.into_iter().map(move |row| (at, row))
        })
    }

    /// One exchange.
    pub(super) async fn one(
        &self,
        client: &Client,
        at: usize,
        row: Row<'_>,
        count: u64,
        kept: &mut BTreeMap<String, Json>,
    ) -> Rehearsed {
        let planned = &self.rehearsal.exchanges[at];
        let mut rehearsed = self.named(planned, row);
        let (asked, expected) = match cells(planned, row) {
            Ok(cells) => cells,
            Err(words) => {
                rehearsed.unlike.push(Unlike::NotAsked(NotAsked::Row(words)));
                return rehearsed;
            }
        };
        let with = With { kept, cells: &asked, count };
        let (request, values) = match self.request(at, &with) {
            Ok(request) => request,
            Err(why) => {
                rehearsed.unlike.push(Unlike::NotAsked(why));
                return rehearsed;
            }
        };
        self.exchange(client, &request, &mut rehearsed).await;
        if let Some(exchange) = &rehearsed.exchange {
            let came = Came {
                about: &exchange.about,
                fault: rehearsed.fault,
                words: words(exchange),
                values: rehearsed.values.as_ref(),
                took: exchange.took,
            };
            let given = Given { values: &values, named: kept, row: None, count };
            rehearsed.unlike.extend(planned.expected.unlike(&came, &given, &expected));
        }
        keep(planned, &mut rehearsed, kept);
        rehearsed
    }

    /// The request of an exchange, and its values.
    pub(super) fn request(&self, at: usize, with: &With<'_>) -> Result<(Request, Json), NotAsked> {
        self.asking.request(&self.rehearsal.exchanges[at], &self.addresses[at], &self.samples[at], with)
    }

    /// What is known of an exchange before it begins.
    pub(super) fn named(&self, planned: &Planned, row: Row<'_>) -> Rehearsed {
        Rehearsed {
            number: planned.number,
            name: planned.name.clone(),
            row: row.map(|(number, _)| number),
            operation: self.contract.operation(planned.shape.operation).name.text.clone(),
            port: offered_by(self.contract, &planned.shape),
            exchange: None,
            values: None,
            fault: None,
            unlike: Vec::new(),
        }
    }

    /// Sends a request, and says what came.
    pub(super) async fn exchange(&self, client: &Client, request: &Request, into: &mut Rehearsed) {
        match client.send(request.request.clone()).await {
            Err(error) => into.unlike.push(Unlike::Unsent(error)),
            Ok(sent) => {
                let (about, known) =
                    judged_whole(self.contract, &self.matcher, &request.by_contract, Some(&sent.reply));
                self.take(known, into);
                into.exchange = Some(Exchange {
                    began: sent.began,
                    took: sent.whole,
                    peer: None,
                    request: sent.request,
                    reply: Some(sent.reply),
                    about,
                });
            }
        }
    }

    /// Takes out the values of what came.
    pub(super) fn take(&self, known: Option<KnownReply>, into: &mut Rehearsed) {
        let Some(known) = known else { return };
        let shape: &WireShape = &self.matcher.known()[known.shape].shape;
        if let Side::Fault(number) = shape.side {
            into.fault = Some(number);
        }
        into.values = Some(values::write(self.asking.engine, shape, &known.content));
    }
}

/// Cells of a row: wire paths with their values.
type Cells<'r> = Vec<(&'r str, &'r str)>;

/// The values of a row: those of the request, and those that are expected of the reply.
fn cells<'r>(planned: &'r Planned, row: Row<'r>) -> Result<(Cells<'r>, Cells<'r>), String> {
    let (mut asked, mut expected) = (Vec::new(), Vec::new());
    if let (Some(rows), Some((_, row))) = (&planned.rows, row) {
        let row = row.as_ref().map_err(Clone::clone)?;
        for (head, cell) in rows.heads.iter().zip(row) {
            match head.strip_prefix(REPLY) {
                Some(path) => expected.push((path.trim(), cell.as_str())),
                None => asked.push((head.as_str(), cell.as_str())),
            }
        }
    }
    Ok((asked, expected))
}

/// Keeps the values that later exchanges need.
fn keep(planned: &Planned, rehearsed: &mut Rehearsed, kept: &mut BTreeMap<String, Json>) {
    for (name, path) in &planned.keep {
        // What an exchange before kept by this name is not meant, nor a value of a request at a path of that name.
        let value = rehearsed.values.as_ref().and_then(|values| at(values, path));
        kept.insert(name.clone(), value.cloned().unwrap_or_default());
    }
}

/// What a fault says.
pub(super) fn words(exchange: &Exchange) -> Option<String> {
    Captured::received("reply", exchange.reply.clone()?).fault_words()
}
