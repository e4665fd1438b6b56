//! Compares two versions of a contract: the phases, one after the other.

use std::cmp::Reverse;

use charter_contract::{Component, Contract, OperationId};
use charter_schema::Engine;
use charter_source::{Map, Set};

use crate::comparison::Comparison;
use crate::moved::Moved;
use crate::report::{Change, Options, Report, Surface, UnknownContent, Verdict};
use crate::tell::consumers::{Consequence, Usage};
use crate::tell::moved_along::Migrating;
use crate::versions::{Subject, Version};

/// Compares two versions of a contract, for consumers that read as `reader` says.
///
/// ```
/// use charter_compare::{UnknownContent, Verdict, compare};
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
/// let report = compare(&old, &new, UnknownContent::Open);
/// assert_eq!((report.verdict, report.changes[0].path.as_str()), (Verdict::Breaks, "operation/last"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn compare(old: &Contract, new: &Contract, reader: UnknownContent) -> Report {
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
    let Compared { report, consequences, .. } = compare_whole(old, new, options, consumers);
    (report, consequences)
}

/// A comparison with what it was made on.
pub struct Compared {
    /// What it says.
    pub report: Report,
    /// What the changes do to each consumer.
    pub consequences: Vec<Vec<Consequence>>,
    /// The old version as it would be if its namespaces had moved as those of the new one and nothing else, if they did. It has
    /// the files of the old version under the same numbers, and the same elements in them.
    pub beyond_move: Option<Contract>,
}

/// Compares two versions, and keeps what a trial of another new version needs ([`compare_again`]).
pub fn compare_whole(old: &Contract, new: &Contract, options: Options, consumers: &[Usage]) -> Compared {
    // What moved as a whole is one change; all else is compared beyond it.
    let moved = Moved::of(old, new);
    let (report, consequences) =
        compared((old, moved.as_ref()), new, options, Looked { consumers, only: None, open: true });
    Compared { report, consequences, beyond_move: moved.map(|moved| moved.contract) }
}

/// Compares the old version, beyond its move if it has one, with another new one, as far as something that is named is concerned:
/// what shows in open content alone is not told. Of the messages of some operations alone if there are any.
pub fn compare_again(
    old: &Contract,
    new: &Contract,
    options: Options,
    only: Option<&Set<OperationId>>,
) -> Report {
    compared((old, None), new, options, Looked { consumers: &[], only, open: false }).0
}

/// What is looked at.
struct Looked<'l> {
    consumers: &'l [Usage],
    only: Option<&'l Set<OperationId>>,
    /// Whether it is told what differs in open content.
    open: bool,
}

fn compared(
    (original, moved): (&Contract, Option<&Moved>),
    new: &Contract,
    options: Options,
    looked: Looked<'_>,
) -> (Report, Vec<Vec<Consequence>>) {
    let old = moved.map_or(original, |moved| &moved.contract);
    let old_engine = Engine::new(&old.files, &old.schemas);
    let new_engine = Engine::new(&new.files, &new.schemas);
    let mut comparison = Comparison::new((old, &old_engine), (new, &new_engine), options, looked.open);
    comparison.only = looked.only;
    let compared = comparison.operations();
    comparison.contents();
    comparison.ports();
    comparison.globals();
    let migration = moved.and_then(|moved| comparison.migration(&Migrating { original, moved }));
    if options.surface == Surface::Code {
        comparison.code();
        // What moved says so itself.
        if migration.is_none() {
            comparison.code_namespaces(original);
        }
    }
    comparison.gather_open();
    comparison.gather_moved();
    comparison.gather_together();
    comparison.gather_unread();
    let mut changes = std::mem::take(&mut comparison.ledger.all);
    if let Some(moved) = moved {
        let places = changes.iter_mut().filter_map(|change| change.old_place.as_mut());
        places.for_each(|place| *place = moved.original(*place));
    }
    changes.extend(migration);
    // What moved comes first, and then the worst.
    let order = |change: &Change| (!change.is_migration(), Reverse(change.verdict), change.new_place);
    changes.sort_by_key(order);
    let consequences =
        looked.consumers.iter().map(|usage| comparison.consequences(usage, &changes)).collect();
    let report = reported(&comparison, changes, original, compared);
    // What was found out about thousands of types takes a while to let go.
    let Comparison { sent, read, .. } = comparison;
    std::thread::scope(|scope| {
        // Where there is no other thread, it goes here.
        let _ = std::thread::Builder::new().spawn_scoped(scope, move || drop(sent));
        drop(read);
    });
    (report, consequences)
}

/// The report of a comparison of so many operations that both versions have.
fn reported(
    comparison: &Comparison<'_>,
    changes: Vec<Change>,
    original: &Contract,
    compared: usize,
) -> Report {
    let (old, new) = (comparison.old, comparison.new);
    let operation_pairs = comparison.operation_pairs();
    let none = |contract: &Contract| contract.operations().next().is_none();
    let namespace =
        |contract: &Contract| contract.definitions.iter().next().map(|(_, first)| first.namespace.clone());
    let related = compared > 0
        || none(old)
        || none(new)
        || !comparison.port_pairs().is_empty()
        || namespace(old) == namespace(new);
    Report {
        verdict: changes.iter().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps),
        changed: !changes.is_empty(),
        operations: original.operations().count(),
        broken: broken(&changes, &operation_pairs),
        changes,
        operation_pairs,
        related,
    }
}

/// How many operations of the old version some change breaks: those that are gone, and those with a side that it reaches.
fn broken(changes: &[Change], pairs: &[(OperationId, OperationId)]) -> usize {
    let old: Map<OperationId, OperationId> = pairs.iter().map(|(old, new)| (*new, *old)).collect();
    let mut found: Set<OperationId> = Set::default();
    for change in changes.iter().filter(|change| change.verdict == Verdict::Breaks) {
        if let Subject { version: Version::Old, component: Component::Operation(id) } = change.subject {
            found.insert(id);
        }
        found.extend(change.worst().filter_map(|touched| match touched.at.version {
            Version::Old => Some(touched.at.operation),
            Version::New => old.get(&touched.at.operation).copied(),
        }));
    }
    found.len()
}
