//! What the changes do to one consumer: by the operations that it uses, what it sends and reads, and how it reads.

use charter_contract::{OperationId, Side};
use charter_source::{Map, Set};

use crate::operations::{Both, Comparison};
use crate::report::{Change, Verdict, Way, Witness};
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
    /// The operations that it calls, by their names in the old version.
    pub operations: Vec<UsedOperation>,
}

/// An operation that a consumer uses.
#[derive(Debug, Clone, Default)]
pub struct UsedOperation {
    /// Its name.
    pub name: String,
    /// The wire paths of what it sends, each as its steps; nothing if that is not known.
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
            "port-removed" | "address-changed" if !usage.operations.is_empty() => {
                made(change.verdict, "it calls the service there")
            }
            _ => None,
        }
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
                    let paths = if is_input { &used.sends } else { &used.reads };
                    self.findings_of(both.1, &touched.side, paths.as_deref())
                });
                let Some((finding, on_path)) = side.of(change) else {
                    // No matter of schemas: it meets everybody who uses the operation.
                    all.push(Consequence {
                        change: number,
                        verdict: touched.verdict,
                        reason: format!("it uses {} ({})", used.name, touched.side),
                        witness: change.witness.clone(),
                    });
                    continue;
                };
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

    /// Everything that differs on a side, and what of it lies on some paths.
    fn findings_of(&self, operation: OperationId, side: &str, paths: Option<&[Vec<String>]>) -> SideFindings {
        let mut found = SideFindings { anywhere: Vec::new(), on_paths: None };
        let Some(roots) = self.roots.get(&(operation, side.to_owned())) else { return found };
        let survey = if side == "input" { &self.sent } else { &self.read };
        for root in roots {
            found.anywhere.extend(survey.own_findings(&self.types, root));
        }
        found.on_paths = paths.map(|paths| {
            let starts = paths.iter().flat_map(|path| starting(roots, path));
            starts.flat_map(|(root, steps)| survey.along(&self.types, root, steps)).collect()
        });
        found
    }
}

/// What differs on a side, and what of it a consumer meets; nothing if it is not known what it uses.
struct SideFindings {
    anywhere: Vec<Finding>,
    on_paths: Option<Vec<Finding>>,
}

impl SideFindings {
    /// What is behind a change, and whether the consumer meets it; nothing if schemas have no part in it.
    fn of(&self, change: &Change) -> Option<(&Finding, bool)> {
        let same = |finding: &&Finding| {
            finding.difference.path == change.path
                && finding.difference.rule == change.rule
                && finding.difference.message == change.message
        };
        let anywhere = self.anywhere.iter().find(same)?;
        match &self.on_paths {
            None => Some((anywhere, true)),
            Some(met) => Some(met.iter().find(same).map_or((anywhere, false), |finding| (finding, true))),
        }
    }
}

/// The roots that a wire path may begin in, with the steps that are left.
fn starting<'r, 'p>(roots: &'r [Root], path: &'p [String]) -> Vec<(&'r Root, &'p [String])> {
    match path {
        [head, name, rest @ ..] if head == "$header" || head == "$attached" => {
            roots.iter().filter(|root| *root.name.local == **name).map(|root| (root, rest)).collect()
        }
        [first, rest @ ..] => {
            // Several parts go each by its own name; the content of a single element goes without.
            let mut found: Vec<_> = roots.iter().map(|root| (root, path)).collect();
            found.extend(roots.iter().filter(|root| *root.name.local == **first).map(|root| (root, rest)));
            found
        }
        [] => Vec::new(),
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
        Reading::Name if change.message.contains("moved from the namespace") => {
            (Verdict::Keeps, String::new())
        }
        _ if new || !on_path => (Verdict::Keeps, String::new()),
        _ => (Verdict::Breaks, "it reads this".to_owned()),
    }
}

/// Whether a difference found on the way matters to who goes on with a step, or stops here.
pub(crate) fn concerns(finding: &Finding, next: Option<&str>, way: Way, other_names: &Set<String>) -> bool {
    use crate::report::Aspect;
    match &finding.difference.aspect {
        Aspect::Member(name) => {
            let own = next.is_some_and(|next| *name.local == *next || other_names.contains(&*name.local));
            // Whoever sends the old message lacks what must now be there, whatever else it sends.
            own || (way == Way::Sent && finding.difference.effect.less && finding.difference.old.is_none())
        }
        Aspect::Attribute(name) => {
            let own = next.and_then(|next| next.strip_prefix('@')).is_some_and(|next| *name.local == *next);
            own || (way == Way::Sent && finding.difference.effect.less && finding.difference.old.is_none())
        }
        Aspect::Value => next.is_none(),
        Aspect::OtherAttributes => next.is_some_and(|next| next.starts_with('@')),
        _ => true,
    }
}
