//! The change of those whose contract moved to other namespaces: one entry, before all that differs beyond the move.

use std::sync::Arc;

use charter_contract::{Body, Carrier, Component, Contract, OperationId, Side, WireShape};
use charter_schema::sample::to_fragment;
use charter_schema::{Engine, Owner};
use charter_source::{Map, QName, Set};

use crate::comparison::{Both, Comparison, side_of_new};
use crate::decide::survey::{Decided, Direction, Open, Root, assessment};
use crate::effect::MessageFlow;
use crate::kind::Kind;
use crate::messages::smallest;
use crate::moved::{Carriers, Form, Locals, Move, Moved};
use crate::report::{Because, Change, Confidence, OpenContent, Touched, Verdict, Witness};
use crate::versions::{SideOf, Subject, Version};
use crate::what::{LocalNames, Migration, Thing, What};

/// The old version, as it is and moved.
pub(crate) struct Migrating<'c> {
    pub original: &'c Contract,
    pub moved: &'c Moved,
}

impl Comparison<'_> {
    /// The change that says what moved, with all that it reaches; nothing, if no message knows of it.
    pub(crate) fn migration(&self, migrating: &Migrating<'_>) -> Option<Change> {
        let Migrating { original, moved } = *migrating;
        let engine = Engine::new(&original.files, &original.schemas);
        let Reached { operations, headers, shown } = self.reached(migrating, &engine);
        let migration = migration(original, moved, headers.len());
        let names: usize = migration.locals.iter().map(|it| it.count).sum();
        let is_seen = migration.elements + migration.types + names > 0;
        let only_schemas = original.operations().next().is_none() && is_seen;
        if operations.is_empty() && !only_schemas {
            return None;
        }
        let what = What::Migrated { migration };
        let witness = self.shortest(migrating, &engine, shown, &what);
        let subject = Subject::new(Component::Contract);
        let lines = |which: fn(&Move) -> &Arc<str>, is_new: bool| {
            let namespaces = moved.namespaces.0.iter().map(|pair| format!("namespace {}", which(pair)));
            let forms = moved.forms.iter().map(|form| {
                let value = if form.qualified == is_new { "qualified" } else { "unqualified" };
                format!("{}=\"{value}\"", form.of.attribute())
            });
            Some(namespaces.chain(forms).collect::<Vec<_>>().join("\n"))
        };
        Some(Change {
            verdict: if operations.is_empty() { Verdict::Keeps } else { Verdict::Breaks },
            old: lines(|it| &it.was, false),
            new: lines(|it| &it.is, true),
            old_place: Some(original.place(Component::Contract)),
            new_place: Some(self.new.place(Component::Contract)),
            operations,
            witness,
            confidence: Some(Confidence::Sure),
            ..Change::bare(subject, self.versions().path(subject), Kind::NamespaceMoved, what)
        })
    }

    /// Everything that carries a name that moved.
    fn reached(&self, migrating: &Migrating<'_>, engine: &Engine<'_>) -> Reached {
        let Migrating { original, moved } = *migrating;
        let carriers = Carriers::of(engine, &moved.contract.schemas);
        let mut reached = Reached::default();
        let pairs: Map<OperationId, OperationId> = self.operation_pairs().into_iter().collect();
        for (id, _) in original.operations() {
            for side in original.sides(id) {
                let carried = self.carried(migrating, &carriers, (id, side), &mut reached.headers);
                let Some(carried) = carried else { continue };
                let in_new = pairs.get(&id).and_then(|new| self.side_in_new((id, *new), side));
                let at = in_new.unwrap_or(SideOf { version: Version::Old, operation: id, side });
                reached.operations.push(Touched { at, verdict: Verdict::Breaks });
                let rank = (carried, side != Side::Input);
                reached.shown.push(Shown { rank, at, of_old: (id, side) });
            }
        }
        reached
    }

    /// The shortest of some messages that show it: requests that begin with what moved say most in the least room.
    fn shortest(
        &self,
        migrating: &Migrating<'_>,
        engine: &Engine<'_>,
        mut shown: Vec<Shown>,
        what: &What,
    ) -> Option<Witness> {
        let best = shown.iter().map(|it| it.rank).min()?;
        shown.retain(|it| it.rank == best);
        let made =
            shown.iter().take(MOST_TRIED).filter_map(
                |Shown { rank: (carried, _), at, of_old }| match carried {
                    Carried::Around => least(migrating, engine, *of_old, what),
                    Carried::Within => self.deep(migrating, engine, *at, *of_old),
                },
            );
        made.min_by_key(Witness::length)
    }

    /// The side of the new version that a side of the old one is.
    fn side_in_new(&self, both: Both, side: Side) -> Option<SideOf> {
        let name = self.old.side_name(both.0, side);
        let mut sides = self.new.sides(both.1).into_iter();
        sides.find(|own| self.new.side_name(both.1, *own) == name).map(|own| side_of_new(both, own))
    }

    /// Whether the messages of a side carry a name that moved, as any port has it.
    fn carried(
        &self,
        migrating: &Migrating<'_>,
        carriers: &Carriers,
        (id, side): (OperationId, Side),
        headers: &mut Set<QName>,
    ) -> Option<Carried> {
        let Migrating { original, moved } = *migrating;
        let mut found: Option<Carried> = None;
        for offer in original.bound(id) {
            let Ok(shape) = original.shape_of(id, side, offer) else { continue };
            let has_moved = |name: &QName| moved.namespaces.target(&name.namespace).is_some();
            let mut around = action_moved(migrating, id, side, &shape);
            if let Carrier::Soap(soap) = &shape.carrier {
                around |= matches!(&soap.body, Body::Wrapper { name, .. } if has_moved(name));
                for block in &soap.headers {
                    let name = block.content.name(&original.schemas);
                    if has_moved(name) {
                        headers.insert(name.clone());
                    }
                }
            }
            let contents = shape.contents();
            around |= contents.iter().any(|content| has_moved(content.name(&original.schemas)));
            let within = contents.iter().any(|content| carriers.is_carrier(content.ty(&original.schemas)));
            let here = if around { Some(Carried::Around) } else { within.then_some(Carried::Within) };
            found = match (found, here) {
                (Some(known), Some(here)) => Some(known.min(here)),
                (known, here) => known.or(here),
            };
        }
        found
    }

    /// A message that carries something that moved further down.
    fn deep(
        &self,
        migrating: &Migrating<'_>,
        engine: &Engine<'_>,
        at: SideOf,
        (id, side): (OperationId, Side),
    ) -> Option<Witness> {
        let Migrating { original, moved } = *migrating;
        let way = if side == Side::Input { MessageFlow::Sent } else { MessageFlow::Read };
        let direction = Direction::new(
            (original, engine),
            (&moved.contract, self.old_engine),
            way,
            Open { counts: OpenContent::Named, is_told: false },
        );
        let shape = original.shape_of(id, side, original.bound(id).next()?).ok()?;
        let is = moved.contract.wire_shape(id, side, shape.port).ok()?;
        let pairs = shape.contents().into_iter().zip(is.contents());
        pairs.into_iter().find_map(|(was, is)| {
            let name = match way.from() {
                Version::Old => was.name(&original.schemas),
                Version::New => is.name(&moved.contract.schemas),
            };
            let (old, new) = (assessment(&was), assessment(&is));
            let root = Root { name: name.clone(), side: at, old, new, encoded: false, from: None };
            direction.findings(&root).into_iter().find_map(|finding| match finding.outcome {
                Decided::Proved(proof) => Some(self.witness(side, &proof)),
                _ => None,
            })
        })
    }
}

/// Messages of which the shortest is shown.
const MOST_TRIED: usize = 12;

/// What carries a name that moved.
#[derive(Default)]
struct Reached {
    operations: Vec<Touched>,
    headers: Set<QName>,
    shown: Vec<Shown>,
}

/// A side whose message may be shown.
struct Shown {
    /// The less, the better it shows the move.
    rank: (Carried, bool),
    at: SideOf,
    of_old: (OperationId, Side),
}

/// Where in a message something stands that moved.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Carried {
    /// In what every message has: its action, or what it begins with.
    Around,
    /// Further down, where it may be left out.
    Within,
}

/// Whether the action of a request followed.
fn action_moved(migrating: &Migrating<'_>, id: OperationId, side: Side, shape: &WireShape) -> bool {
    let is = migrating.moved.contract.wire_shape(id, side, shape.port);
    let action = |shape: &WireShape| shape.soap().and_then(|soap| soap.action.clone());
    side == Side::Input && is.is_ok_and(|is| action(&is) != action(shape))
}

/// The least message of a side of the old version as it is.
fn least(
    Migrating { original, moved }: &Migrating<'_>,
    engine: &Engine<'_>,
    (id, side): (OperationId, Side),
    what: &What,
) -> Option<Witness> {
    let shape = original.shape_of(id, side, original.bound(id).next()?).ok()?;
    let body = smallest::body(engine, &shape, None).map(|body| to_fragment(&body, &|_| None));
    let at = SideOf { version: Version::Old, operation: id, side };
    let because = match moved.namespaces.0.as_slice() {
        [Move { was, .. }] => Because::NoNamespace(was.to_string()),
        _ => Because::Changed(what.clone()),
    };
    Some(Witness { at, accepted_by: Version::Old, body, refused: Vec::new(), because, misread: false })
}

/// What moved, counted.
fn migration(original: &Contract, moved: &Moved, headers: usize) -> Migration {
    let has_moved = |name: &QName| moved.namespaces.target(&name.namespace).is_some();
    let schemas = &original.schemas;
    let elements = schemas.elements.iter();
    let elements = elements.filter(|(_, it)| it.owner == Owner::Schema && has_moved(&it.name)).count();
    let types = schemas.own_types().filter(|(_, it)| it.name.as_ref().is_some_and(has_moved)).count();
    let owned = |it: &Move| (it.was.to_string(), it.is.to_string());
    Migration {
        namespaces: moved.namespaces.0.iter().map(owned).collect(),
        locals: moved.forms.iter().map(|form| local_names(original, moved, form)).collect(),
        elements,
        types,
        headers,
        actions: moved.actions,
        fixed: moved.fixed,
    }
}

/// Local names that went into their namespace or out of it, counted.
fn local_names(original: &Contract, moved: &Moved, form: &Form) -> LocalNames {
    let of = match form.of {
        Locals::Elements => Thing::Element,
        Locals::Attributes => Thing::Attribute,
    };
    let count = form.count(&original.schemas, &moved.contract.schemas);
    LocalNames { of, namespace: form.is.to_string(), qualified: form.qualified, count }
}
