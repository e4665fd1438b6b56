//! Compares operations by their wire shapes, and gathers what reaches them.

use std::panic::resume_unwind;
use std::sync::Arc;

use charter_contract::{Bound, Component, Contract, OperationId, PortId, Side};
use charter_schema::Undecided;
use charter_schema::sample::to_fragment;
use charter_source::Place;

use crate::comparison::{Both, Comparison, Held, side_of_new};
use crate::decide::survey::{Decided, Direction, Finding, Proof, Root};
use crate::describe::names::{borrow, pair};
use crate::describe::renames::{self, Paired};
use crate::difference::{Aspect, Difference};
use crate::effect::{Effect, MessageFlow};
use crate::kind::Kind;
use crate::report::{Because, Confidence, Depends, Touched, UnknownContent, Verdict, Witness};
use crate::versions::{SideOf, Subject, Version};
use crate::what::{Doubt, Thing, Unsaid, What};

/// Bytes of the stack of a thread: schemas may be nested deeply.
const STACK: usize = 64 << 20;

impl Comparison<'_> {
    /// Compares all operations; how many both versions have.
    pub(crate) fn operations(&mut self) -> usize {
        let Paired { both, renamed, mut gone, mut come } = renames::operations(self.old, self.new);
        self.rebuilt_operations(&mut gone, &mut come);
        for id in gone {
            let name = self.old.operation(id).name.text.to_string();
            let what = What::ComponentGone { thing: Thing::Operation, name };
            let what = (Kind::OperationRemoved, what);
            self.ledger.component(Verdict::Breaks, what, Some(Component::Operation(id)), None);
            self.show_unknown(id);
        }
        for id in come {
            let name = self.new.operation(id).name.text.to_string();
            let what = (Kind::OperationAdded, What::ComponentNew { thing: Thing::Operation, name });
            self.ledger.component(Verdict::Keeps, what, None, Some(Component::Operation(id)));
        }
        for (was, is) in &renamed {
            let from = self.old.operation(*was).name.text.to_string();
            let to = self.new.operation(*is).name.text.to_string();
            let what = (Kind::OperationRenamed, What::OperationRenamedAlone { from, to });
            let components = (Component::Operation(*was), Component::Operation(*is));
            self.ledger.renamed(Verdict::Keeps, what, components, Confidence::Sure);
        }
        let is_wanted = |(old, _): &&Both| self.only.is_none_or(|only| only.contains(old));
        let wanted: Vec<Both> = both.iter().chain(&renamed).filter(is_wanted).copied().collect();
        for operations in wanted {
            self.operation(operations);
        }
        both.len() + renamed.len()
    }

    fn operation(&mut self, both: Both) {
        let sides = |contract: &Contract, id: OperationId| -> Vec<(String, Side)> {
            contract.sides(id).into_iter().map(|side| (contract.side_name(id, side), side)).collect()
        };
        let (old, new) = (sides(self.old, both.0), sides(self.new, both.1));
        let (mut kept, mut gone, mut come) = pair(&borrow(&old), &borrow(&new));
        kept.extend(self.renamed_faults(both, &mut gone, &mut come));
        for side in gone {
            let at = SideOf { version: Version::Old, operation: both.0, side };
            let (verdict, kind) = match side {
                Side::Fault(_) => (Verdict::Keeps, Kind::FaultRemoved),
                _ => (Verdict::Breaks, Kind::SideRemoved),
            };
            let operation = self.versions().operation_name(at).to_owned();
            let what = What::SideGone { side: self.versions().side_name(at), operation };
            let component = Component::OperationSide(both.0, side);
            let change = self.ledger.component(verdict, (kind, what), Some(component), None);
            change.operations.push(Touched { at, verdict });
            if verdict != Verdict::Keeps {
                self.show_side(at, Because::NoMessage(Version::New));
            }
        }
        for side in come {
            let at = side_of_new(both, side);
            let (verdict, kind) = match side {
                // Whoever calls a service must be ready for a fault, but this one nobody knows by name.
                Side::Fault(_) => (Verdict::Bends, Kind::FaultAdded),
                _ => (Verdict::Breaks, Kind::SideAdded),
            };
            let operation = self.versions().operation_name(at).to_owned();
            let what = What::SideNew { side: self.versions().side_name(at), operation };
            let component = Component::OperationSide(both.1, side);
            let change = self.ledger.component(verdict, (kind, what), None, Some(component));
            change.operations.push(Touched { at, verdict });
            self.show_side(at, Because::NoMessage(Version::Old));
        }
        for (old_side, new_side) in kept {
            self.side(both, (old_side, new_side));
        }
    }

    /// Compares a side through each port that both versions have; without ports, as the bindings have it.
    fn side(&mut self, both: Both, sides: (Side, Side)) {
        let mut compared = false;
        for (old_port, new_port) in self.ports.pairs() {
            let (old, new) = (offer(self.old, both.0, old_port), offer(self.new, both.1, new_port));
            match (old, new) {
                (Some(old), Some(new)) => {
                    compared = true;
                    self.offers(both, sides, (Some(old), Some(new)));
                }
                (Some(_), None) => {
                    let port = self.new.port(new_port).name.text.to_string();
                    let place = Some(self.new.port(new_port).place);
                    let what = (Kind::OperationUnbound, What::Unbound { port });
                    self.body(both, sides.1, what, Effect::OTHER, place);
                }
                (None, _) => {}
            }
        }
        if !compared {
            let (old, new) = (self.old.bound(both.0).next(), self.new.bound(both.1).next());
            self.offers(both, sides, (old, new));
        }
    }

    /// Compares a side as two bindings have it; where neither has a wire shape, by the parts of its messages.
    fn offers(&mut self, both: Both, sides: (Side, Side), offers: (Option<Bound<'_>>, Option<Bound<'_>>)) {
        let shape = |contract: &Contract, id, side, offer: Option<Bound<'_>>| {
            contract.wire_shape(id, side, offer.and_then(|offer| offer.port))
        };
        let old = shape(self.old, both.0, sides.0, offers.0);
        let new = shape(self.new, both.1, sides.1, offers.1);
        match (old, new) {
            (Ok(old), Ok(new)) => {
                self.shapes(both, &old, &new);
                if let (Some(old), Some(new), Side::Input) = (offers.0, offers.1, sides.1) {
                    self.demands(both, (old, new));
                    self.header_faults(both, (old, new));
                }
            }
            (Err(was), Err(error)) => {
                self.parts(both, sides);
                if was.is_lost || error.is_lost {
                    return self.lost(both, sides.1, Some(error.place));
                }
                let was = offers.0.map(|offer| written(self.old, offer, sides.0));
                if was != offers.1.map(|offer| written(self.new, offer, sides.1)) {
                    self.unshaped(both, sides.1, error.to_string(), Some(error.place));
                }
            }
            (_, Err(error)) => self.unshaped(both, sides.1, error.to_string(), Some(error.place)),
            (Err(error), _) => self.unshaped(both, sides.1, error.to_string(), None),
        }
    }

    /// What a side holds is not there, in either version.
    fn lost(&mut self, both: Both, side: Side, place: Option<Place>) {
        let doubt = Doubt::Schemas(Undecided::Unread);
        self.not_compared(both, side, (Kind::NotDecided, What::NotDecided { doubt }), place);
    }

    fn unshaped(&mut self, both: Both, side: Side, reason: String, place: Option<Place>) {
        let what = What::NotCompared { reason: Unsaid(reason) };
        self.not_compared(both, side, (Kind::NotCompared, what), place);
    }

    /// A side that was not looked at any more.
    fn beyond_bounds(&mut self, both: Both, side: Side) {
        let what = (Kind::NotCompared, What::TooMuch {});
        let about = (Aspect::Whole, Effect::UNDECIDED);
        let difference = Difference::of(self.versions(), Subject::new(Component::Contract), what, about);
        self.record(both, side, difference);
    }

    pub(crate) fn not_compared(&mut self, both: Both, side: Side, what: (Kind, What), place: Option<Place>) {
        let subject = Subject::new(Component::OperationSide(both.1, side));
        let about = (Aspect::Whole, Effect::UNDECIDED);
        let difference = Difference::of(self.versions(), subject, what, about);
        self.record(both, side, Difference { new_place: place, ..difference });
    }

    /// Notes what a side holds, whose differences are recorded when all operations have been seen.
    pub(crate) fn follow(&mut self, both: Both, side: Side, roots: &[Root]) {
        let known = self.sides.roots.entry((both.1, side)).or_default();
        for root in roots {
            // Several ports mostly carry the same.
            if !known
                .iter()
                .any(|other| (&other.name, other.old, other.new) == (&root.name, root.old, root.new))
            {
                known.push(root.clone());
            }
        }
        self.sides.held.push(Held { both, side, roots: roots.to_vec() });
    }

    /// Records everything that differs in what the sides hold. What is sent and what is read share nothing, and are gone
    /// through at the same time.
    pub(crate) fn contents(&mut self) {
        let held = std::mem::take(&mut self.sides.held);
        let (sent, read): (Vec<Held>, Vec<Held>) =
            held.into_iter().partition(|held| held.side == Side::Input);
        let (by_sent, by_read, to_read) = (&mut self.sent, &mut self.read, &read);
        let (of_sent, of_read) = std::thread::scope(|scope| {
            let builder = std::thread::Builder::new().stack_size(STACK);
            let other = builder.spawn_scoped(scope, move || all_findings(by_read, to_read));
            let of_sent = all_findings(by_sent, &sent);
            let of_read = other.map(|thread| thread.join().unwrap_or_else(|panic| resume_unwind(panic)));
            (of_sent, of_read)
        });
        // Where there is no other thread, one after the other.
        let of_read = of_read.unwrap_or_else(|_| all_findings(&mut self.read, &read));
        for (held, found) in sent.iter().zip(&of_sent).chain(read.iter().zip(&of_read)) {
            let Some(found) = found else {
                self.beyond_bounds(held.both, held.side);
                continue;
            };
            for finding in found {
                self.record_finding(held.both, held.side, finding);
            }
        }
    }

    /// What a finding does to a side, and what to show for it.
    fn record_finding(&mut self, both: Both, side: Side, finding: &Finding) {
        let strict = |proof: &Proof| match (&proof.depends, proof.witness.ignorable && side != Side::Input) {
            (Some(depends), _) => (Verdict::Bends, Some(*depends)),
            (None, true) => match self.reader {
                UnknownContent::Refused => (Verdict::Breaks, None),
                UnknownContent::Open => (Verdict::Bends, Some(Depends::StrictReaders)),
                UnknownContent::Ignored => (Verdict::Keeps, None),
            },
            (None, false) => (Verdict::Breaks, None),
        };
        let (verdict, depends) = match &finding.outcome {
            Decided::Harmless => (Verdict::Keeps, None),
            Decided::Depends(depends) => (Verdict::Bends, Some(*depends)),
            Decided::Proved(proof) => strict(proof),
        };
        let index = self.ledger.entry(&finding.difference);
        if let (Decided::Proved(proof), true) = (&finding.outcome, verdict != Verdict::Keeps) {
            // Made only if it will be shown.
            if self.ledger.all[index].shows_less(verdict, Some(proof.witness.text.len())) {
                self.ledger.all[index].witness = Some(self.witness(side, proof));
            }
        }
        self.ledger.touch(index, Touched { at: side_of_new(both, side), verdict }, depends);
    }

    pub(crate) fn witness(&self, side: Side, proof: &Proof) -> Witness {
        let way = if side == Side::Input { MessageFlow::Sent } else { MessageFlow::Read };
        let wrong = &proof.witness.refused.wrong;
        Witness {
            at: proof.side,
            accepted_by: way.from(),
            body: Some(proof.witness.text.clone()),
            refused: wrong.clone(),
            because: if wrong.is_empty() { Because::Misread } else { Because::Refused },
            misread: proof.misread,
        }
    }

    /// Adds what a difference that is no matter of schemas does to one side, to the change that it belongs to.
    pub(crate) fn record(&mut self, both: Both, side: Side, difference: Difference) {
        let (verdict, depends) = match side {
            Side::Input => difference.effect.sent(),
            _ => difference.effect.read(self.reader),
        };
        let index = self.ledger.entry(&Arc::new(difference));
        if verdict == Verdict::Breaks {
            let what = self.ledger.all[index].what.clone();
            let witness = self.smallest_message(both, side, what, None);
            let length = witness.as_ref().map(Witness::length);
            if self.ledger.all[index].shows_less(verdict, length) {
                self.ledger.all[index].witness = witness;
            }
        }
        self.ledger.touch(index, Touched { at: side_of_new(both, side), verdict }, depends);
    }

    /// The least message of a side, which suffers as all do; made of what its sender `sends`.
    pub(crate) fn smallest_message(
        &self,
        both: Both,
        side: Side,
        because: What,
        sends: Option<&[&[String]]>,
    ) -> Option<Witness> {
        let version = if side == Side::Input { MessageFlow::Sent } else { MessageFlow::Read }.from();
        let operation = if version == Version::Old { both.0 } else { both.1 };
        let contract = self.versions().of(version);
        let name = self.new.side_name(both.1, side);
        let is_named = |own: &Side| contract.side_name(operation, *own) == name;
        let side = contract.sides(operation).into_iter().find(is_named)?;
        let at = SideOf { version, operation, side };
        Some(Witness {
            at,
            accepted_by: version,
            body: self.least_body(at, sends)?,
            refused: Vec::new(),
            because: Because::Changed(because),
            misread: false,
        })
    }

    /// What the least message of a side holds; nothing in it, if it holds nothing.
    pub(crate) fn least_body(&self, at: SideOf, sends: Option<&[&[String]]>) -> Option<Option<String>> {
        let (contract, engine) = self.version(at.version);
        let offer = contract.bound(at.operation).next()?;
        let shape = contract.shape_of(at.operation, at.side, offer).ok()?;
        Some(crate::messages::smallest::body(engine, &shape, sends).map(|body| to_fragment(&body, &|_| None)))
    }
}

/// How many places are looked at in one direction, once for each message that leads there, and how many findings are kept.
const MOST_STEPS: usize = 20_000_000;
const MOST_FINDINGS: usize = 400_000;

/// What differs in what sides hold, of each side; nothing for those that are beyond the bounds. Whoever else knows a direction
/// must wait.
fn all_findings(direction: &mut Direction<'_>, held: &[Held]) -> Vec<Option<Vec<Finding>>> {
    let mut kept = 0;
    let of_one = |held: &Held| {
        let enough = direction.survey.steps() > MOST_STEPS || kept > MOST_FINDINGS;
        let found = |root| direction.findings(root);
        let found: Option<Vec<Finding>> = (!enough).then(|| held.roots.iter().flat_map(found).collect());
        kept += found.as_ref().map_or(0, Vec::len);
        found
    };
    held.iter().map(of_one).collect()
}

/// The operation as a port offers it.
fn offer(contract: &Contract, id: OperationId, port: PortId) -> Option<Bound<'_>> {
    contract.bound(id).find(|bound| bound.port == Some(port))
}

/// What a binding says about a side of an operation, as it is written, white space aside.
fn written(contract: &Contract, offer: Bound<'_>, side: Side) -> Vec<String> {
    let binding = &contract.bindings[offer.binding].extensions;
    let sides = offer.operation.side(side).into_iter().flat_map(|side| &side.extensions);
    let all = binding.iter().chain(&offer.operation.extensions).chain(sides);
    let source = |place| contract.files.slice(place).split_ascii_whitespace().collect::<Vec<_>>().join(" ");
    all.map(|extension| source(extension.extent)).collect()
}
