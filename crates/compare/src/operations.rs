//! Compares operations by their wire shapes, and gathers what reaches them.

use std::panic::resume_unwind;
use std::sync::Arc;

use charter_contract::{Bound, Component, Contract, OperationId, PortId, Side};
use charter_schema::sample::to_fragment;
use charter_schema::{Engine, UNREAD};
use charter_source::{Map, Place, Set};

use crate::consumers::{Consequence, Usage};
use crate::names::{borrow, pair};
use crate::renames::{self, Paired};
use crate::report::{
    Aspect, Change, Confidence, Depends, Difference, Effect, Options, Reader, Report, Surface, Touched,
    Verdict, Version, Way, Witness,
};
use crate::survey::{Decided, Direction, Finding, Proof, Root};

/// Compares two versions of a contract, for consumers that read as `reader` says.
///
/// ```
/// use charter_compare::{Reader, Verdict, compare};
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" targetNamespace="urn:saltmere:tide">
///   <w:portType name="Tides"><w:operation name="next"/><w:operation name="last"/></w:portType>
/// </w:definitions>"#;
/// let load = |text: &str| {
///     Contract::load(&Overlay::of(&[("t.wsdl", text)]), &Location::from_argument("t.wsdl"), Limits::default())
/// };
/// let (old, new) = (load(text)?, load(&text.replace(r#"<w:operation name="last"/>"#, ""))?);
/// let report = compare(&old, &new, Reader::Unknown);
/// assert_eq!((report.verdict, report.changes[0].path.as_str()), (Verdict::Breaks, "operation/last"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn compare(old: &Contract, new: &Contract, reader: Reader) -> Report {
    compare_by(old, new, Options { reader, ..Options::default() })
}

/// Compares two versions of a contract as the options say.
pub fn compare_by(old: &Contract, new: &Contract, options: Options) -> Report {
    compare_for(old, new, options, &[]).0
}

/// The same, with what the changes do to each of some consumers.
pub fn compare_for(
    old: &Contract,
    new: &Contract,
    options: Options,
    consumers: &[Usage],
) -> (Report, Vec<Vec<Consequence>>) {
    let old_engine = Engine::new(&old.files, &old.schemas);
    let new_engine = Engine::new(&new.files, &new.schemas);
    let mut comparison = Comparison {
        sent: Direction::new((old, &old_engine), (new, &new_engine), Way::Sent),
        read: Direction::new((old, &old_engine), (new, &new_engine), Way::Read),
        old_engine: &old_engine,
        new_engine: &new_engine,
        old,
        new,
        reader: options.reader,
        changes: Vec::new(),
        known: Map::default(),
        ports: renames::ports(old, new),
        by_address: Map::default(),
        touched: Set::default(),
        roots: Map::default(),
        held: Vec::new(),
        rebuilt: Vec::new(),
        fault_names: Map::default(),
    };
    let operations = comparison.operations();
    comparison.contents();
    comparison.ports();
    comparison.globals();
    if options.surface == Surface::Code {
        comparison.code();
    }
    comparison.gather_moved();
    comparison.gather_unread();
    let mut changes = std::mem::take(&mut comparison.changes);
    let mut broken: Set<&str> = Set::default();
    for change in changes.iter().filter(|change| change.verdict == Verdict::Breaks) {
        broken.extend(change.worst().map(|touched| touched.operation.as_str()));
    }
    let broken = broken.len();
    changes.sort_by(|a, b| b.verdict.cmp(&a.verdict).then_with(|| a.new_place.cmp(&b.new_place)));
    let verdict = changes.iter().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps);
    let none = |contract: &Contract| contract.operations().next().is_none();
    let namespace =
        |contract: &Contract| contract.definitions.iter().next().map(|(_, first)| first.namespace.clone());
    let related = operations > 0
        || none(old)
        || none(new)
        || !comparison.port_pairs().is_empty()
        || namespace(old) == namespace(new);
    let consequences = consumers.iter().map(|usage| comparison.consequences(usage, &changes)).collect();
    let operation_pairs = comparison.operation_pairs();
    // What was found out about thousands of types takes a while to let go.
    let Comparison { sent, read, .. } = comparison;
    std::thread::scope(|scope| {
        // Where there is no other thread, it goes here.
        let _ = std::thread::Builder::new().spawn_scoped(scope, move || drop(sent));
        drop(read);
    });
    let changed = !changes.is_empty();
    (Report { verdict, changes, changed, operations, broken, operation_pairs, related }, consequences)
}

pub(crate) struct Comparison<'c> {
    pub sent: Direction<'c>,
    pub read: Direction<'c>,
    pub old_engine: &'c Engine<'c>,
    pub new_engine: &'c Engine<'c>,
    pub old: &'c Contract,
    pub new: &'c Contract,
    reader: Reader,
    pub(crate) changes: Vec<Change>,
    /// Changes by what tells them apart: one cause is one entry.
    known: Map<(String, &'static str, String), usize>,
    /// Ports that both versions have, by the names of service and port.
    pub ports: Paired<PortId>,
    /// The same by the difference itself, which is kept so that its address stays its own.
    by_address: Map<*const Difference, (Arc<Difference>, usize)>,
    /// The sides that each change reaches.
    touched: Set<(usize, OperationId, Side)>,
    /// Where the messages of each side begin.
    pub roots: Map<(OperationId, String), Vec<Root>>,
    /// What the sides of operations hold, still to be gone through.
    held: Vec<Held>,
    /// The old and new names of operations whose messages go by other names too.
    pub rebuilt: Vec<(String, String)>,
    /// The sides of faults under new names, with their old ones.
    pub fault_names: Map<(OperationId, String), String>,
}

/// Where the schemas of a side begin.
struct Held {
    both: Both,
    side: Side,
    roots: Vec<Root>,
}

/// Bytes of the stack of a thread: schemas may be nested deeply.
const STACK: usize = 64 << 20;

/// The versions of one operation.
pub(crate) type Both = (OperationId, OperationId);

impl Comparison<'_> {
    /// Compares all operations; how many both versions have.
    fn operations(&mut self) -> usize {
        let Paired { both, renamed, mut gone, mut come } = renames::operations(self.old, self.new);
        self.rebuilt_operations(&mut gone, &mut come);
        for id in gone {
            let operation = self.old.operation(id);
            let message = format!("the operation \"{}\" is gone", operation.name.text);
            self.component(
                Verdict::Breaks,
                "operation-removed",
                message,
                Some(Component::Operation(id)),
                None,
            );
            self.show_unknown(id);
        }
        for id in come {
            let operation = self.new.operation(id);
            let message = format!("the operation \"{}\" is new", operation.name.text);
            self.component(Verdict::Keeps, "operation-added", message, None, Some(Component::Operation(id)));
        }
        for (was, is) in &renamed {
            let (from, to) = (&self.old.operation(*was).name.text, &self.new.operation(*is).name.text);
            let message = format!("the operation \"{from}\" is now \"{to}\": its messages do not say so");
            let (was, is) = (Some(Component::Operation(*was)), Some(Component::Operation(*is)));
            self.component(Verdict::Keeps, "operation-renamed", message, was, is);
            self.say_confidence(Confidence::Sure);
        }
        for operations in both.iter().chain(&renamed) {
            self.operation(*operations);
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
            let name = self.old.side_name(both.0, side);
            let (verdict, rule) = match side {
                Side::Fault(_) => (Verdict::Keeps, "fault-removed"),
                _ => (Verdict::Breaks, "pattern-changed"),
            };
            let operation = &self.old.operation(both.0).name.text;
            let message = format!("the {name} of \"{operation}\" is gone");
            self.component(verdict, rule, message, Some(Component::OperationSide(both.0, side)), None);
            self.touch_last(both, &name);
            if verdict != Verdict::Keeps {
                self.show_side(Version::Old, (both.0, side), "the new version has no such message");
            }
        }
        for side in come {
            let name = self.new.side_name(both.1, side);
            let (verdict, rule) = match side {
                // Whoever calls a service must be ready for a fault, but this one nobody knows by name.
                Side::Fault(_) => (Verdict::Bends, "fault-added"),
                _ => (Verdict::Breaks, "pattern-changed"),
            };
            let operation = &self.new.operation(both.1).name.text;
            let message = format!("the {name} of \"{operation}\" is new");
            self.component(verdict, rule, message, None, Some(Component::OperationSide(both.1, side)));
            self.touch_last(both, &name);
            self.show_side(Version::New, (both.1, side), "the old version has no such message");
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
                    let port = &self.new.port(new_port).name.text;
                    let message = format!("the port \"{port}\" no longer offers the operation");
                    let place = Some(self.new.port(new_port).place);
                    self.body(both, sides.1, "operation-unbound", message, Effect::OTHER, place);
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
        self.not_compared(both, side, "not-decided", UNREAD.to_owned(), place);
    }

    fn unshaped(&mut self, both: Both, side: Side, reason: String, place: Option<Place>) {
        let message = format!("the two versions could not be compared here: {reason}");
        self.not_compared(both, side, "not-compared", message, place);
    }

    /// A side that was not looked at any more.
    fn beyond_bounds(&mut self, both: Both, side: Side) {
        let message =
            "there is too much that differs in too many messages: these were not compared".to_owned();
        let difference =
            Difference { path: "contract".to_owned(), ..self.undecided("not-compared", message) };
        self.record(both, side, difference);
    }

    pub(crate) fn not_compared(
        &mut self,
        both: Both,
        side: Side,
        rule: &'static str,
        message: String,
        place: Option<Place>,
    ) {
        let path = self.new.path(Component::OperationSide(both.1, side)).to_string();
        let difference = Difference { path, new_place: place, ..self.undecided(rule, message) };
        self.record(both, side, difference);
    }

    fn undecided(&self, rule: &'static str, message: String) -> Difference {
        Difference {
            path: String::new(),
            rule,
            message,
            aspect: Aspect::Whole,
            effect: Effect::UNDECIDED,
            old: None,
            new: None,
            old_place: None,
            new_place: None,
            confidence: None,
        }
    }

    /// Notes what a side holds, whose differences are recorded when all operations have been seen.
    pub(crate) fn follow(&mut self, both: Both, side: Side, roots: &[Root]) {
        let name = self.new.side_name(both.1, side);
        let known = self.roots.entry((both.1, name)).or_default();
        for root in roots {
            // Several ports mostly carry the same.
            if !known
                .iter()
                .any(|other| (&other.name, other.old, other.new) == (&root.name, root.old, root.new))
            {
                known.push(root.clone());
            }
        }
        self.held.push(Held { both, side, roots: roots.to_vec() });
    }

    /// Records everything that differs in what the sides hold. What is sent and what is read share nothing, and are gone
    /// through at the same time.
    fn contents(&mut self) {
        let held = std::mem::take(&mut self.held);
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
                Reader::Strict => (Verdict::Breaks, None),
                Reader::Unknown => (Verdict::Bends, Some(Depends::StrictReaders)),
                Reader::Lenient => (Verdict::Keeps, None),
            },
            (None, false) => (Verdict::Breaks, None),
        };
        let (verdict, depends) = match &finding.outcome {
            Decided::Harmless => (Verdict::Keeps, None),
            Decided::Depends(depends) => (Verdict::Bends, Some(*depends)),
            Decided::Proved(proof) => strict(proof),
        };
        let index = self.change_of(&finding.difference);
        if let (Decided::Proved(proof), true) = (&finding.outcome, verdict != Verdict::Keeps) {
            // Made only if it will be shown.
            if self.changes[index].shows_less(verdict, Some(proof.witness.text.len())) {
                self.changes[index].witness = Some(self.witness(side, proof));
            }
        }
        self.touch(both, side, index, verdict, depends);
    }

    pub(crate) fn witness(&self, side: Side, proof: &Proof) -> Witness {
        let way = if side == Side::Input { Way::Sent } else { Way::Read };
        let because = match proof.witness.refused.wrong.first() {
            Some(wrong) => wrong.fault.message.clone(),
            None => "it is accepted, and means something else".to_owned(),
        };
        Witness {
            operation: self.new.operation(proof.side.0).name.text.to_string(),
            side: proof.side.1.clone(),
            accepted_by: way.from(),
            body: Some(proof.witness.text.clone()),
            refused: proof.witness.refused.wrong.clone(),
            because,
            misread: proof.misread,
        }
    }

    /// Adds what a difference that is no matter of schemas does to one side, to the change that it belongs to.
    pub(crate) fn record(&mut self, both: Both, side: Side, difference: Difference) {
        let (verdict, depends) = match side {
            Side::Input => difference.effect.sent(),
            _ => difference.effect.read(self.reader),
        };
        let index = self.change_of(&Arc::new(difference));
        if verdict == Verdict::Breaks {
            let message = self.changes[index].message.clone();
            let witness = self.least(both, side, &message, None);
            let length = witness.as_ref().map(|witness| witness.body.as_ref().map_or(0, String::len));
            if self.changes[index].shows_less(verdict, length) {
                self.changes[index].witness = witness;
            }
        }
        self.touch(both, side, index, verdict, depends);
    }

    /// The least message of a side, which suffers as all do; made of what its sender `sends`.
    pub(crate) fn least(
        &self,
        both: Both,
        side: Side,
        because: &str,
        sends: Option<&[&[String]]>,
    ) -> Option<Witness> {
        let accepted_by = if side == Side::Input { Way::Sent } else { Way::Read }.from();
        let (contract, id) = match accepted_by {
            Version::Old => (self.old, both.0),
            Version::New => (self.new, both.1),
        };
        let name = self.new.side_name(both.1, side);
        let side = contract.sides(id).into_iter().find(|own| contract.side_name(id, *own) == name)?;
        Some(Witness {
            operation: contract.operation(id).name.text.to_string(),
            side: name,
            accepted_by,
            body: self.least_body(accepted_by, (id, side), sends)?,
            refused: Vec::new(),
            because: because.to_owned(),
            misread: false,
        })
    }

    /// What the least message of a side holds; nothing in it, if it holds nothing.
    pub(crate) fn least_body(
        &self,
        version: Version,
        (id, side): (OperationId, Side),
        sends: Option<&[&[String]]>,
    ) -> Option<Option<String>> {
        let (contract, engine) = match version {
            Version::Old => (self.old, self.old_engine),
            Version::New => (self.new, self.new_engine),
        };
        let shape = contract.shape_of(id, side, contract.bound(id).next()?).ok()?;
        Some(crate::least::body(engine, &shape, sends).map(|body| to_fragment(&body, &|_| None)))
    }

    /// The change that a difference belongs to, by its place.
    fn change_of(&mut self, difference: &Arc<Difference>) -> usize {
        // Differences of schemas are found again for every message that they reach.
        let address = Arc::as_ptr(difference);
        if let Some((_, index)) = self.by_address.get(&address) {
            return *index;
        }
        let key = (difference.path.clone(), difference.rule, difference.message.clone());
        let index = *self.known.entry(key).or_insert_with(|| {
            self.changes.push(Change {
                path: difference.path.clone(),
                verdict: Verdict::Keeps,
                rule: difference.rule,
                message: difference.message.clone(),
                old: difference.old.clone().filter(|line| !line.is_empty()),
                new: difference.new.clone().filter(|line| !line.is_empty()),
                old_place: difference.old_place,
                new_place: difference.new_place,
                operations: Vec::new(),
                witness: None,
                depends: None,
                confidence: difference.confidence,
                accepted: None,
            });
            self.changes.len() - 1
        });
        self.by_address.insert(address, (difference.clone(), index));
        index
    }

    /// Says what a change does to a side.
    fn touch(&mut self, both: Both, side: Side, index: usize, verdict: Verdict, depends: Option<Depends>) {
        let operation = self.new.operation(both.1).name.text.to_string();
        let touched = Touched { operation, side: self.new.side_name(both.1, side), verdict };
        let change = &mut self.changes[index];
        if verdict > change.verdict {
            change.depends = depends;
        }
        change.verdict = change.verdict.max(verdict);
        if self.touched.insert((index, both.1, side)) {
            change.operations.push(touched);
        } else if let Some(known) = change
            .operations
            .iter_mut()
            .find(|known| known.operation == touched.operation && known.side == touched.side)
        {
            known.verdict = known.verdict.max(verdict);
        }
    }

    /// The operations that both versions have.
    pub(crate) fn operation_pairs(&self) -> Vec<Both> {
        renames::operations(self.old, self.new).pairs()
    }

    /// The ports that both versions have.
    pub(crate) fn port_pairs(&self) -> Vec<(PortId, PortId)> {
        self.ports.pairs()
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
