//! What the changes do to one consumer: by the operations that it uses, what it sends and reads, and how it reads.

use charter_contract::{OperationId, PortId, Side};
use charter_source::Map;

use crate::moved::is_move;
use crate::operations::{Both, Comparison};
use crate::paths;
use crate::report::{Change, Verdict, Witness};
use crate::survey::{Decided, Finding, Root};

/// How a consumer reads replies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Reading {
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

impl Reading {
    /// All of them, with the word that a record has for each.
    pub const ALL: [(Reading, &'static str); 4] = [
        (Reading::Strict, "strict"),
        (Reading::Lenient, "lenient"),
        (Reading::Position, "position"),
        (Reading::Name, "name"),
    ];
}

/// What one consumer uses of a contract.
#[derive(Debug, Clone, Default)]
pub struct Usage {
    /// How it reads.
    pub reading: Reading,
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

/// The first step of wire paths into a fault; the next is its name.
pub const FAULT: &str = "$fault";
/// The first step of wire paths into a header block; the next is its name.
pub(crate) const HEADER: &str = "$header";

/// What a change does to a consumer.
#[derive(Debug, Clone)]
pub struct Consequence {
    /// The change, by its place in the report.
    pub change: usize,
    /// The verdict for this consumer.
    pub verdict: Verdict,
    /// Why, in a line.
    pub reason: String,
    /// A message that it may send, or be sent, that shows it.
    pub witness: Option<Witness>,
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
        let made = |verdict, reason: &str| {
            Some(Consequence { change: number, verdict, reason: reason.to_owned(), witness: None })
        };
        match change.rule {
            "operation-removed" => {
                let name = change.path.rsplit('/').next()?;
                let used = usage.operations.iter().any(|used| used.name == name);
                if used { made(change.verdict, "it calls this operation") } else { None }
            }
            "operation-renamed" if change.verdict == Verdict::Breaks => {
                let name = change.path.rsplit('/').next()?;
                let from = self.rebuilt.iter().find(|(_, to)| to == name).map(|(from, _)| from)?;
                let used = usage.operations.iter().any(|used| used.name == *from);
                if used { made(change.verdict, "it calls this operation by its old name") } else { None }
            }
            "port-removed" | "address-changed" if !usage.operations.is_empty() => {
                let port = self.old_port(change.path.rsplit('/').next()?);
                let calls = usage.ports.as_ref().is_none_or(|ports| ports.contains(&port));
                if calls { made(change.verdict, "it calls the service there") } else { None }
            }
            _ => None,
        }
    }

    /// The name that a port had in the old version.
    fn old_port(&self, name: &str) -> String {
        let is = |(_, new): &(PortId, PortId)| *self.new.port(*new).name.text == *name;
        let pair = self.port_pairs().into_iter().find(is);
        pair.map_or_else(|| name.to_owned(), |(old, _)| self.old.port(old).name.text.to_string())
    }

    fn of_operation(
        &self,
        reading: Reading,
        used: &UsedOperation,
        both: Both,
        changes: &[Change],
        all: &mut Vec<Consequence>,
    ) {
        let name = &self.new.operation(both.1).name.text;
        let reached = |change: &Change| {
            change
                .operations
                .iter()
                .filter(|touched| *touched.operation == **name)
                .cloned()
                .collect::<Vec<_>>()
        };
        let mut sides: Map<String, SideFindings> = Map::default();
        for (number, change) in changes.iter().enumerate() {
            for touched in reached(change) {
                let is_input = touched.side == "input";
                let side = sides.entry(touched.side.clone()).or_insert_with(|| {
                    let known = self.fault_names.get(&(both.1, touched.side.clone()));
                    let paths = used.paths_of(known.unwrap_or(&touched.side));
                    self.findings_of(both.1, &touched.side, paths)
                });
                let behind = side.of(change);
                if change.rule == "namespace-moved" && !is_input && reading == Reading::Name {
                    continue;
                }
                if behind.is_empty() {
                    // No matter of schemas: it meets everybody who uses the operation.
                    all.push(Consequence {
                        change: number,
                        verdict: touched.verdict,
                        reason: format!("it uses {} ({})", used.name, touched.side),
                        witness: self.example(both, used, &touched.side, change),
                    });
                }
                for (finding, on_path) in behind {
                    let (verdict, reason) = judged(finding, on_path, is_input, reading, change);
                    let way = if is_input { Side::Input } else { Side::Output };
                    let witness = match &finding.outcome {
                        Decided::Proved(proof) => Some(self.witness(way, proof)),
                        _ => None,
                    };
                    all.push(Consequence { change: number, verdict, reason, witness });
                }
            }
        }
    }

    /// A message of a side that suffers from a change which is no matter of schemas; of what the consumer sends.
    fn example(&self, both: Both, used: &UsedOperation, side: &str, change: &Change) -> Option<Witness> {
        let shown = change.witness.as_ref()?;
        let is_named = |own: &Side| self.new.side_name(both.1, *own) == side;
        let own = self.new.sides(both.1).into_iter().find(is_named)?;
        let sends = if own == Side::Input { used.paths_of(side) } else { None };
        let of_its_own = self.least(both, own, &change.message, sends.as_deref());
        of_its_own.or_else(|| Some(shown.clone()))
    }

    /// Everything that differs on a side, and what of it lies on some paths.
    fn findings_of(&self, operation: OperationId, side: &str, paths: Option<Vec<&[String]>>) -> SideFindings {
        let mut found = SideFindings::default();
        let Some(roots) = self.roots.get(&(operation, side.to_owned())) else { return found };
        let direction = if side == "input" { &self.sent } else { &self.read };
        found.anywhere = ByChange::of(roots.iter().flat_map(|root| direction.own_findings(root)));
        found.on_paths = paths.and_then(|paths| {
            let of_root = |root: &Root| {
                let own = paths::beginning_in(&root.name.local, &paths);
                let familiar = if side == "input" { paths::familiar(&own) } else { None };
                let familiar = familiar.map(|familiar| familiar.within(&root.name.local));
                direction.along(root, &own, familiar.as_ref())
            };
            // Where there is too much to look at, all of the side counts as used.
            let all: Option<Vec<_>> = roots.iter().map(of_root).collect();
            all.map(|all| ByChange::of(all.into_iter().flatten()))
        });
        found
    }
}

impl UsedOperation {
    /// The wire paths that are about a side; nothing if it is not known what is used of it.
    fn paths_of(&self, side: &str) -> Option<Vec<&[String]>> {
        let all = if side == "input" { &self.sends } else { &self.reads };
        let own = side.strip_prefix("fault ");
        let about = |path: &'_ Vec<String>| match (own, path.as_slice()) {
            (Some(own), [head, name, ..]) => head == FAULT && name == own,
            (Some(_), _) => false,
            // A fault about a header block comes with a block of its own, in the header of the reply.
            (None, [head, _, carrier, ..]) if head == FAULT => carrier == HEADER,
            (None, path) => path.first().is_none_or(|head| head != FAULT),
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

/// Findings by the path, the kind and the words of what differs.
#[derive(Default)]
struct ByChange(Map<(String, &'static str, String), Vec<Finding>>);

impl ByChange {
    fn of(findings: impl IntoIterator<Item = Finding>) -> ByChange {
        let mut all = ByChange::default();
        for finding in findings {
            let difference = &finding.difference;
            let key = (difference.path.clone(), difference.rule, difference.message.clone());
            all.0.entry(key).or_default().push(finding);
        }
        all
    }

    fn behind(&self, change: &Change) -> &[Finding] {
        let key = (change.path.clone(), change.rule, change.message.clone());
        self.0.get(&key).map_or(&[], Vec::as_slice)
    }
}

impl SideFindings {
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
fn judged(
    finding: &Finding,
    on_path: bool,
    is_input: bool,
    reading: Reading,
    change: &Change,
) -> (Verdict, String) {
    let proof = match &finding.outcome {
        Decided::Harmless => return (Verdict::Keeps, String::new()),
        Decided::Depends(depends) => {
            let missed = matches!(depends, crate::Depends::ReadersOfIt);
            return match (on_path, missed) {
                (false, _) => (Verdict::Keeps, String::new()),
                (true, true) => (Verdict::Breaks, "it reads this".to_owned()),
                (true, false) => (Verdict::Bends, format!("it depends on {}", depends.words())),
            };
        }
        Decided::Proved(proof) => proof,
    };
    if let Some(depends) = proof.depends {
        return match on_path {
            true => (Verdict::Bends, format!("it depends on {}", depends.words())),
            false => (Verdict::Keeps, String::new()),
        };
    }
    if is_input {
        return match on_path {
            true => (Verdict::Breaks, "it sends this".to_owned()),
            false => (Verdict::Keeps, String::new()),
        };
    }
    let new = proof.witness.ignorable;
    match reading {
        Reading::Strict if new => (Verdict::Breaks, "it refuses what it does not know".to_owned()),
        Reading::Strict => (Verdict::Breaks, "it judges replies by the old version".to_owned()),
        Reading::Position if change.rule == "element-renamed" => (Verdict::Keeps, String::new()),
        Reading::Position if new => {
            (Verdict::Breaks, "what it reads no longer stands where it did".to_owned())
        }
        Reading::Name if change.rule == "order-changed" => (Verdict::Keeps, String::new()),
        Reading::Name if is_move(&change.message) => (Verdict::Keeps, String::new()),
        _ if new || !on_path => (Verdict::Keeps, String::new()),
        _ => (Verdict::Breaks, "it reads this".to_owned()),
    }
}
