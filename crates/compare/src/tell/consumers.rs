//! What the changes do to one consumer: by the operations that it uses, what it sends and reads, and how it reads.

use std::fmt;
use std::sync::Arc;

use charter_contract::{Component, ComponentPath, PortId, Side};
use charter_source::Map;

use crate::comparison::{Both, Comparison};
use crate::decide::paths::{self, FAULT, HEADER};
use crate::decide::survey::{Decided, Finding, Proof, Root};
use crate::kind::Kind;
use crate::messages::alike::fault_name;
use crate::report::{Change, Depends, Verdict, Witness};
use crate::versions::{SideOf, Version};
use crate::what::What;

/// How a consumer reads replies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum ReadsReplies {
    /// It refuses what it does not know.
    Strict,
    /// It ignores what it does not know.
    #[default]
    Lenient,
    /// It takes elements by the order in which they stand, whatever they are called.
    Position,
    /// It takes elements by their local names, wherever they stand and whatever their namespace is.
    Name,
}

impl ReadsReplies {
    /// All of them, with the word that a record has for each.
    pub const ALL: [(ReadsReplies, &'static str); 4] = [
        (ReadsReplies::Strict, "strict"),
        (ReadsReplies::Lenient, "lenient"),
        (ReadsReplies::Position, "position"),
        (ReadsReplies::Name, "name"),
    ];
}

/// What one consumer uses of a contract.
#[derive(Debug, Clone, Default)]
pub struct Usage {
    /// How it reads.
    pub reading: ReadsReplies,
    /// The ports that it calls, by their names in the old version; nothing if that is not known.
    pub ports: Option<Vec<String>>,
    /// The operations that it calls, by their names in the old version.
    pub operations: Vec<UsedOperation>,
}

/// An operation that a consumer uses.
#[derive(Debug, Clone, Default)]
pub struct UsedOperation {
    /// Its name.
    pub name: String,
    /// The wire paths of what it sends, each as its steps: local names, without numbers; nothing if that is not known.
    pub sends: Option<Vec<Vec<String>>>,
    /// The wire paths of what it reads in replies.
    pub reads: Option<Vec<Vec<String>>>,
}

/// What a change does to a consumer.
#[derive(Debug, Clone)]
pub struct Consequence {
    /// The change, by its place in the report.
    pub change: usize,
    /// The verdict for this consumer.
    pub verdict: Verdict,
    /// Why.
    pub reason: Reason,
    /// A message that it may send, or be sent, that shows it.
    pub witness: Option<Witness>,
}

/// Why a change concerns a consumer.
///
/// As text it is a few words.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Reason {
    /// It calls an operation that is gone.
    CallsIt,
    /// It calls an operation that goes by another name.
    CallsByOldName,
    /// It calls the service at a port.
    CallsThere,
    /// It uses a side of an operation, which is named as the old version does.
    Uses(String, UsedSide),
    /// It reads what changed.
    Reads,
    /// It sends what changed.
    Sends,
    /// It depends on something else.
    Depends(Depends),
    /// It refuses what it does not know.
    RefusesUnknown,
    /// It judges replies by the old version.
    JudgesByOld,
    /// It reads by position, and that has changed.
    Moved,
}

impl fmt::Display for Reason {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Reason::CallsIt => "it calls this operation",
            Reason::CallsByOldName => "it calls this operation by its old name",
            Reason::CallsThere => "it calls the service there",
            Reason::Uses(operation, side) => return write!(f, "it uses {operation} ({side})"),
            Reason::Reads => "it reads this",
            Reason::Sends => "it sends this",
            Reason::Depends(depends) => return write!(f, "it depends on {}", depends.words()),
            Reason::RefusesUnknown => "it refuses what it does not know",
            Reason::JudgesByOld => "it judges replies by the old version",
            Reason::Moved => "what it reads no longer stands where it did",
        })
    }
}

/// A side of an operation by what it is called, as consumer records name it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum UsedSide {
    /// What goes to the service.
    Input,
    /// What comes from it.
    Output,
    /// The fault of that name.
    Fault(String),
}

impl fmt::Display for UsedSide {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            UsedSide::Input => f.write_str("input"),
            UsedSide::Output => f.write_str("output"),
            UsedSide::Fault(name) if name.is_empty() => f.write_str("fault"),
            UsedSide::Fault(name) => write!(f, "fault {name}"),
        }
    }
}

impl Comparison<'_> {
    /// What the changes do to a consumer. `changes` are those of the report, in its order.
    pub(crate) fn consequences(&self, usage: &Usage, changes: &[Change]) -> Vec<Consequence> {
        let mut all: Vec<Consequence> = Vec::new();
        for (number, change) in changes.iter().enumerate() {
            if let Some(found) = self.of_component(usage, number, change) {
                all.push(found);
            }
        }
        for used in &usage.operations {
            for both in self.operation_pairs() {
                if *self.old.operation(both.0).name.text == *used.name {
                    self.of_operation(usage.reading, used, both, changes, &mut all);
                }
            }
        }
        // The worst of what is said of one change.
        all.sort_by(|a, b| a.change.cmp(&b.change).then(b.verdict.cmp(&a.verdict)));
        all.dedup_by_key(|found| found.change);
        all.retain(|found| found.verdict != Verdict::Keeps);
        all
    }

    /// A change of a component that everybody uses, or of an operation as a whole.
    fn of_component(&self, usage: &Usage, number: usize, change: &Change) -> Option<Consequence> {
        let calls = |name: &str| usage.operations.iter().any(|used| used.name == name);
        let reason = match (change.kind, &change.what, change.subject.component) {
            (Kind::OperationRemoved, _, Component::Operation(id)) => {
                calls(&self.old.operation(id).name.text).then_some(Reason::CallsIt)
            }
            (Kind::OperationRenamed, What::OperationRenamed { from, .. }, _) => {
                calls(from).then_some(Reason::CallsByOldName)
            }
            (Kind::PortRemoved | Kind::AddressChanged, ..) => {
                let at = if change.members.is_empty() { &[change.subject][..] } else { &change.members };
                let is_called = at.iter().any(|subject| match subject.component {
                    Component::Port(port) => {
                        let port = self.old_port(subject.version, port);
                        usage.ports.as_ref().is_none_or(|ports| ports.contains(&port))
                    }
                    _ => false,
                });
                (is_called && !usage.operations.is_empty()).then_some(Reason::CallsThere)
            }
            _ => None,
        };
        Some(Consequence { change: number, verdict: change.verdict, reason: reason?, witness: None })
    }

    /// The name that a port had in the old version.
    fn old_port(&self, version: Version, port: PortId) -> String {
        let pair = self.port_pairs().into_iter().find(|(_, new)| *new == port);
        match (version, pair) {
            (Version::New, Some((old, _))) => self.old.port(old).name.text.to_string(),
            (version, _) => self.versions().of(version).port(port).name.text.to_string(),
        }
    }

    fn of_operation(
        &self,
        reading: ReadsReplies,
        used: &UsedOperation,
        both: Both,
        changes: &[Change],
        all: &mut Vec<Consequence>,
    ) {
        let mut sides: Map<SideOf, SideFindings> = Map::default();
        for (number, change) in changes.iter().enumerate() {
            for touched in change.operations.iter().filter(|touched| is_of(both, touched.at)) {
                let is_input = touched.at.side == Side::Input;
                let side = sides.entry(touched.at).or_insert_with(|| {
                    let paths = used.paths_of(&self.old_side(touched.at));
                    self.findings_of(touched.at, paths)
                });
                if change.open.is_some() {
                    let judged = side.of_open(change, is_input, reading);
                    all.extend(judged.into_iter().map(|(verdict, reason, proof)| Consequence {
                        change: number,
                        verdict,
                        reason,
                        witness: proof.map(|proof| self.witness(touched.at.side, &proof)),
                    }));
                    continue;
                }
                let behind = side.of(change);
                if change.kind == Kind::NamespaceMoved && !is_input && reading == ReadsReplies::Name {
                    continue;
                }
                if behind.is_empty() {
                    // No matter of schemas: it meets everybody who uses the operation.
                    all.push(Consequence {
                        change: number,
                        verdict: touched.verdict,
                        reason: Reason::Uses(used.name.clone(), self.named(touched.at)),
                        witness: self.example(both, used, touched.at, change),
                    });
                }
                for (finding, on_path) in behind {
                    let judged = assessment(finding, on_path, is_input, reading, change);
                    let Some((verdict, reason)) = judged else { continue };
                    let witness = match &finding.outcome {
                        Decided::Proved(proof) => Some(self.witness(touched.at.side, proof)),
                        _ => None,
                    };
                    all.push(Consequence { change: number, verdict, reason, witness });
                }
            }
        }
    }

    /// What a side is called.
    fn named(&self, at: SideOf) -> UsedSide {
        match at.side {
            Side::Input => UsedSide::Input,
            Side::Output => UsedSide::Output,
            Side::Fault(_) => {
                UsedSide::Fault(fault_name(self.versions().of(at.version), at.operation, at.side))
            }
        }
    }

    /// What a side was called in the old version.
    fn old_side(&self, at: SideOf) -> UsedSide {
        let old_name =
            self.sides.old_faults.get(&(at.operation, at.side)).filter(|_| at.version == Version::New);
        old_name.map_or_else(|| self.named(at), |name| UsedSide::Fault(name.clone()))
    }

    /// A message of a side that suffers from a change which is no matter of schemas; of what the consumer sends.
    fn example(&self, both: Both, used: &UsedOperation, at: SideOf, change: &Change) -> Option<Witness> {
        let shown = change.witness.as_ref()?;
        if at.version == Version::Old {
            return Some(shown.clone());
        }
        let sends = if at.side == Side::Input { used.paths_of(&UsedSide::Input) } else { None };
        let of_its_own = self.smallest_message(both, at.side, change.what.clone(), sends.as_deref());
        of_its_own.or_else(|| Some(shown.clone()))
    }

    /// Everything that differs on a side, and what of it lies on some paths.
    fn findings_of(&self, at: SideOf, paths: Option<Vec<&[String]>>) -> SideFindings {
        let mut found = SideFindings::default();
        let known = self.sides.roots.get(&(at.operation, at.side)).filter(|_| at.version == Version::New);
        let Some(roots) = known else { return found };
        let is_input = at.side == Side::Input;
        let direction = if is_input { &self.sent } else { &self.read };
        found.anywhere = ByChange::all(roots.iter().flat_map(|root| direction.own_findings(root)));
        found.on_paths = paths.and_then(|paths| {
            let of_root = |root: &Root| {
                let own = paths::beginning_in(&root.name.local, &paths);
                let habits = if is_input { paths::habits(&own) } else { None };
                let habits = habits.map(|habits| habits.within(&root.name.local));
                direction.along(root, &own, habits.as_ref())
            };
            // Where there is too much to look at, all of the side counts as used.
            let all: Option<Vec<_>> = roots.iter().map(of_root).collect();
            all.map(|all| ByChange::all(all.into_iter().flatten()))
        });
        found
    }
}

impl UsedOperation {
    /// The wire paths that are about a side; nothing if it is not known what is used of it.
    fn paths_of(&self, side: &UsedSide) -> Option<Vec<&[String]>> {
        let all = if *side == UsedSide::Input { &self.sends } else { &self.reads };
        let about = |path: &'_ Vec<String>| match (side, path.as_slice()) {
            (UsedSide::Fault(own), [head, name, ..]) => head == FAULT && name == own,
            (UsedSide::Fault(_), _) => false,
            // A fault about a header block comes with a block of its own, in the header of the reply.
            (_, [head, _, carrier, ..]) if head == FAULT => carrier == HEADER,
            (_, path) => path.first().is_none_or(|head| head != FAULT),
        };
        let steps = |path: &'_ Vec<String>| -> usize {
            if path.first().is_some_and(|head| head == FAULT) { 2 } else { 0 }
        };
        let about = all.as_ref()?.iter().filter(|path| about(path));
        Some(about.map(|path| &path[steps(path)..]).collect())
    }
}

/// What differs on a side, and what of it a consumer meets; nothing if it is not known what it uses.
#[derive(Default)]
struct SideFindings {
    anywhere: ByChange,
    on_paths: Option<ByChange>,
}

/// Whether a side is one of an operation, in either version.
fn is_of((old, new): Both, at: SideOf) -> bool {
    match at.version {
        Version::Old => at.operation == old,
        Version::New => at.operation == new,
    }
}

/// Findings by the path, the kind and the facts of what differs.
#[derive(Default)]
struct ByChange(Map<(ComponentPath, Kind, What), Vec<Finding>>);

impl ByChange {
    fn all(findings: impl IntoIterator<Item = Finding>) -> ByChange {
        let mut all = ByChange::default();
        for finding in findings {
            let difference = &finding.difference;
            let key = (difference.path.clone(), difference.kind, difference.what.clone());
            all.0.entry(key).or_default().push(finding);
        }
        all
    }

    fn behind(&self, change: &Change) -> &[Finding] {
        self.of(&change.path, change.kind, &change.what)
    }

    fn of(&self, path: &ComponentPath, kind: Kind, what: &What) -> &[Finding] {
        let key = (path.clone(), kind, what.clone());
        self.0.get(&key).map_or(&[], Vec::as_slice)
    }
}

impl SideFindings {
    /// What a change of open content does to the consumer: nothing but what it puts there itself, or is sent; if that is not
    /// known, it depends.
    fn of_open(
        &self,
        change: &Change,
        is_input: bool,
        reading: ReadsReplies,
    ) -> Vec<(Verdict, Reason, Option<Arc<Proof>>)> {
        let Some(met) = &self.on_paths else {
            return vec![(Verdict::Bends, Reason::Depends(Depends::OpenContent), None)];
        };
        let differences = change.open.iter().flat_map(|open| &open.differences);
        let findings = differences.flat_map(|it| met.of(&it.path, it.kind, &it.what));
        let judged = findings.filter_map(|finding| {
            let (verdict, reason) = assessment(finding, true, is_input, reading, change)?;
            let proof = match &finding.outcome {
                Decided::Proved(proof) => Some(proof.clone()),
                _ => None,
            };
            Some((verdict, reason, proof))
        });
        judged.collect()
    }

    /// What is behind a change, each with whether the consumer meets it; nothing if schemas have no part in it.
    fn of(&self, change: &Change) -> Vec<(&Finding, bool)> {
        let anywhere = self.anywhere.behind(change);
        let (found, met) = match &self.on_paths {
            None => (anywhere, true),
            Some(met) => match met.behind(change) {
                [] => (anywhere, false),
                met if !anywhere.is_empty() => (met, true),
                _ => (anywhere, false),
            },
        };
        found.iter().map(|finding| (finding, met)).collect()
    }
}

/// What a finding does to a consumer who reads so, or sends.
fn assessment(
    finding: &Finding,
    on_path: bool,
    is_input: bool,
    reading: ReadsReplies,
    change: &Change,
) -> Option<(Verdict, Reason)> {
    let depending = |depends| on_path.then_some((Verdict::Bends, Reason::Depends(depends)));
    let proof = match &finding.outcome {
        Decided::Harmless => return None,
        Decided::Depends(Depends::ReadersOfIt) => {
            return on_path.then_some((Verdict::Breaks, Reason::Reads));
        }
        Decided::Depends(depends) => return depending(*depends),
        Decided::Proved(proof) => proof,
    };
    if let Some(depends) = proof.depends {
        return depending(depends);
    }
    if is_input {
        return on_path.then_some((Verdict::Breaks, Reason::Sends));
    }
    let new = proof.witness.ignorable;
    match reading {
        ReadsReplies::Strict if new => Some((Verdict::Breaks, Reason::RefusesUnknown)),
        ReadsReplies::Strict => Some((Verdict::Breaks, Reason::JudgesByOld)),
        ReadsReplies::Position if change.kind == Kind::ElementRenamed => None,
        ReadsReplies::Position if new => Some((Verdict::Breaks, Reason::Moved)),
        ReadsReplies::Name if change.kind == Kind::OrderChanged => None,
        ReadsReplies::Name if change.what.as_move().is_some() => None,
        _ if new || !on_path => None,
        _ => Some((Verdict::Breaks, Reason::Reads)),
    }
}
