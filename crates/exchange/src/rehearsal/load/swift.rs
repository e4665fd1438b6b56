//! One exchange among very many: what is the same each time is made once, and judged once.

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::hash::BuildHasher;
use std::time::Duration;

use charter_source::Map;
use serde_json::Value as Json;

use crate::client::{Came, Ready};
use crate::judge::judged_whole;
use crate::rehearsal::asking::With;
use crate::rehearsal::expected::Came as Judged;
use crate::rehearsal::run::{Row, words};
use crate::rehearsal::{Rehearsed, Runner, Unlike};
use crate::request::Request;
use crate::terms::Given;
use crate::{Client, Exchange, Outcome};

/// How many replies of one exchange are remembered; where they differ each time, it would not help.
const REMEMBERED: usize = 32;

/// Goes through exchanges quickly.
pub(super) struct Swift<'s> {
    pub runner: &'s Runner<'s>,
    client: &'s Client,
    /// The requests that are the same each time, with their values.
    fixed: Vec<Option<Fixed>>,
    /// What was found of replies, by the exchange and what came.
    judged: RefCell<Map<(usize, u64), Verdict>>,
    hasher: std::hash::RandomState,
}

struct Fixed {
    request: Request,
    values: Json,
    ready: Ready,
    /// Whether what is expected, and what is kept, is the same as well.
    whole: bool,
}

/// What was found of a reply.
#[derive(Clone, Copy)]
struct Verdict {
    outcome: Outcome,
    unlike: bool,
}

/// An exchange that is done.
pub(super) struct Done {
    /// How long it took, if something came.
    pub took: Option<Duration>,
    pub outcome: Outcome,
    unlike: bool,
    /// All of it, where it is looked at.
    pub whole: Option<Box<Rehearsed>>,
}

impl Done {
    pub fn is_unlike(&self) -> bool {
        self.unlike
    }
}

impl<'s> Swift<'s> {
    pub fn of(runner: &'s Runner<'s>, client: &'s Client) -> Swift<'s> {
        let fixed = runner.rehearsal.exchanges.iter().enumerate().map(|(at, planned)| {
            if planned.rows.is_some() || !runner.asking.is_fixed(planned) {
                return None;
            }
            let kept = runner.rehearsal.named();
            let with = With { kept: &kept, cells: &[], count: 1 };
            let (mut request, values) = runner.request(at, &with).ok()?;
            let ready = client.ready(&mut request.request).ok()?;
            let whole =
                planned.keep.is_empty() && planned.expected.is_fixed() && planned.expected.within.is_none();
            Some(Fixed { request, values, ready, whole })
        });
        let fixed = fixed.collect();
        Swift { runner, client, fixed, judged: RefCell::default(), hasher: Default::default() }
    }

    pub async fn one(&self, at: usize, row: Row<'_>, count: u64, kept: &mut BTreeMap<String, Json>) -> Done {
        match &self.fixed[at] {
            Some(fixed) if fixed.whole => self.quick(at, fixed).await,
            _ => done(self.runner.one(self.client, at, row, count, kept).await),
        }
    }

    async fn quick(&self, at: usize, fixed: &Fixed) -> Done {
        let came = match self.client.send_ready(&fixed.ready).await {
            Ok(came) => came,
            Err(error) => {
                let mut rehearsed = self.runner.named(&self.runner.rehearsal.exchanges[at], None);
                rehearsed.unlike.push(Unlike::Unsent(error));
                return done(rehearsed);
            }
        };
        let key = (at, self.hasher.hash_one((came.status, came.media_type(), &came.body)));
        let known = self.judged.borrow().get(&key).copied();
        if let Some(Verdict { outcome, unlike }) = known {
            return Done { took: Some(came.whole), outcome, unlike, whole: None };
        }
        let done = done(self.judge(at, fixed, came));
        let mut judged = self.judged.borrow_mut();
        if judged.len() < REMEMBERED * self.fixed.len() {
            judged.insert(key, Verdict { outcome: done.outcome, unlike: done.unlike });
        }
        done
    }

    fn judge(&self, at: usize, fixed: &Fixed, came: Came) -> Rehearsed {
        let planned = &self.runner.rehearsal.exchanges[at];
        let mut rehearsed = self.runner.named(planned, None);
        let took = came.whole;
        let reply = came.message();
        let Request { request, by_contract } = &fixed.request;
        let (about, known) =
            judged_whole(self.runner.contract, &self.runner.matcher, by_contract, Some(&reply));
        self.runner.take(known, &mut rehearsed);
        let began = jiff::Timestamp::now();
        let (request, reply) = (request.clone(), Some(reply));
        let exchange = Exchange { began, took, peer: None, request, reply, about };
        let came = Judged {
            about: &exchange.about,
            fault: rehearsed.fault,
            words: words(&exchange),
            values: rehearsed.values.as_ref(),
            took,
        };
        let named = BTreeMap::new();
        let given = Given { values: &fixed.values, named: &named, row: None, count: 1 };
        rehearsed.unlike = planned.expected.unlike(&came, &given, &[]);
        rehearsed.exchange = Some(exchange);
        rehearsed
    }
}

fn done(rehearsed: Rehearsed) -> Done {
    let exchange = rehearsed.exchange.as_ref();
    Done {
        took: exchange.map(|exchange| exchange.took),
        outcome: exchange.map_or(Outcome::Lost, |exchange| exchange.about.outcome),
        unlike: !rehearsed.unlike.is_empty(),
        whole: Some(Box::new(rehearsed)),
    }
}

#[cfg(test)]
impl Done {
    /// One that took so long, and was as expected.
    pub fn of(took: Duration, outcome: Outcome) -> Done {
        Done { took: Some(took), outcome, unlike: false, whole: None }
    }
}
