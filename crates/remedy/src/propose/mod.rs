//! What might keep a change from breaking: for each kind of change some edits of the new version, the one that takes the least
//! of the revision back first. Whether they help is found out by trying (`trial.rs`).

mod as_it_was;
mod come_and_gone;
mod exchange;
mod proposal;
mod renamed;
mod values;

use charter_compare::{Change, Kind, What};
use charter_source::{Place, ns};

use crate::spot::Spot;
use crate::way::{NoWay, Respect};

use proposal::{Both, DECLARED, GROUPS, OCCURRENCE, only_sent};
pub(crate) use proposal::{Proposal, Proposer};
use values::is_of_values;

impl<'c> Proposer<'c> {
    /// What may help against a change, the gentlest first; or why nothing can.
    pub fn proposals(&self, change: &Change) -> Result<Vec<Proposal>, NoWay> {
        match &change.what {
            What::Migrated { migration } if migration.namespaces.is_empty() => return Err(NoWay::LocalNames),
            What::TypeNamed { .. } => return Err(NoWay::TypeNamed),
            _ => {}
        }
        if change.is_migration() || is_between_namespaces(&change.what) {
            return Err(NoWay::Moved);
        }
        let was = change.old_place.and_then(|place| self.old_spot(place));
        let is = change.new_place.and_then(|place| Spot::at(self.new, place));
        let mut found = match (was, is) {
            (Some(was), Some(is)) => self.changed(change, Both { was, is })?,
            (Some(was), None) => self.gone(change, was)?,
            (None, Some(is)) => self.come(change, is)?,
            (None, None) => Vec::new(),
        };
        found.push(self.unit_as_it_was(was, is));
        Ok(found.into_iter().flatten().collect())
    }

    fn old_spot(&self, place: Place) -> Option<Spot<'c>> {
        Spot::at(self.original, place)?.same_in(self.old)
    }

    /// What both versions have.
    fn changed(&self, change: &Change, both: Both<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        use Respect::{Content, OtherAttributes};
        let kind = change.kind;
        let Both { was, is } = both;
        let restored = |names, respect| vec![self.property(change, both, names, respect)];
        Ok(match kind {
            Kind::DefaultChanged => return Err(NoWay::OneMeaning),
            Kind::OccurrenceTightened | Kind::OccurrenceLoosened if is.is_xsd(DECLARED) => {
                vec![self.occurrence(change, both)]
            }
            Kind::OccurrenceTightened | Kind::OccurrenceLoosened => vec![
                self.attributes_inside(both, &["sequence", "choice", "all"], OCCURRENCE, Respect::Occurrence),
                self.inside(both, GROUPS, Content),
                self.replaced(both, Content),
            ],
            Kind::NilAllowed | Kind::NilRefused => {
                restored(&["nillable"], Respect::Nil(kind == Kind::NilRefused))
            }
            Kind::AbstractChanged => {
                restored(&["abstract"], Respect::Standing(is.node.attribute("abstract").is_some()))
            }
            Kind::FixedChanged => restored(
                &["fixed", "default"],
                Respect::Fixed(matches!(change.what, What::FixedNoMore { .. })),
            ),
            Kind::AttributeRequired | Kind::AttributeOptional => vec![self.demand(change, both)],
            Kind::MixedChanged => {
                let respect = Respect::Mixed(matches!(change.what, What::MixedNoMore { .. }));
                vec![
                    self.attributes_inside(both, &["complexContent", "complexType"], &["mixed"], respect),
                    self.inside(both, GROUPS, respect),
                ]
            }
            Kind::IdentityChanged => {
                vec![self.content(both, &["key", "keyref", "unique"], Respect::Keys)]
            }
            Kind::WildcardChanged => vec![
                self.inside(both, &["anyAttribute"], OtherAttributes),
                self.inside(both, GROUPS, Content),
            ],
            Kind::SubstitutesChanged | Kind::DerivedChanged => vec![self.standing(change, is)],
            Kind::ElementRenamed | Kind::AttributeRenamed => self.renamed(change, both),
            Kind::HeaderRenamed => vec![self.header_named(both), self.replaced(both, Respect::Header)],
            Kind::ActionChanged => vec![self.actions(change, is), self.port_beside(change, is)],
            Kind::PathChanged | Kind::MethodChanged => {
                let names = &["location", "verb"];
                vec![self.attributes(both, names, Respect::Binding), self.port_beside(change, is)]
            }
            Kind::PartRenamed => {
                vec![self.attributes(both, &["name"], Respect::Name), self.port_beside(change, is)]
            }
            Kind::SideAdded | Kind::SideRemoved => return Err(NoWay::OneExchange),
            Kind::OperationRenamed => vec![self.operation(was)],
            kind if is_of_values(kind) => vec![
                self.facets(change, both),
                self.typed(change, both),
                self.whole_type(both, Respect::Values),
            ],
            Kind::TypeChanged => vec![self.typed(change, both), self.whole_type(both, Respect::Type)],
            kind if is_of_the_wire(kind) => vec![self.port_beside(change, is)],
            _ => vec![
                self.inside(both, GROUPS, Content),
                self.replaced(both, Content),
                self.typed(change, both),
            ],
        })
    }

    /// What only the old version has.
    fn gone(&self, change: &Change, was: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        let unit = was.unit();
        let of_wsdl = unit.node.tag_name().namespace() == Some(ns::WSDL);
        if of_wsdl && unit.counterpart_unit(self.new).is_none() {
            let has_place = |it: &charter_contract::Definitions| *it.namespace == *unit.namespace();
            return match self.new.definitions.iter().next().is_some_and(|(_, first)| has_place(first)) {
                true => Ok(vec![self.unit_put_back(unit)]),
                false => Err(NoWay::Elsewhere),
            };
        }
        Ok(match change.kind {
            Kind::OperationRemoved | Kind::OperationRenamed => vec![self.operation(was)],
            Kind::SideRemoved => return Err(NoWay::OneExchange),
            Kind::ElementRemoved if only_sent(change) => {
                vec![self.put_back(was, Some("minOccurs")), self.put_back(was, None)]
            }
            _ => vec![self.put_back(was, None)],
        })
    }

    /// What only the new version has.
    fn come(&self, change: &Change, is: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        Ok(match change.kind {
            Kind::SideAdded => return Err(NoWay::OneExchange),
            Kind::ElementAdded => vec![self.left_out(change, is), self.taken_out(is)],
            Kind::AttributeAdded => vec![self.without_use(change, is), self.taken_out(is)],
            Kind::HeaderAdded => vec![self.header_taken_out(change, is)],
            Kind::OperationUnbound => vec![self.bound_again(change)],
            Kind::PartAdded => vec![self.taken_out(is), self.port_beside(change, is)],
            kind if is_of_the_wire(kind) => vec![self.port_beside(change, is)],
            _ => vec![self.taken_out(is)],
        })
    }

    /// Why nothing helps against a kind of change where nothing does.
    pub fn why_none(kind: Kind) -> NoWay {
        match kind {
            Kind::DemandAdded => NoWay::Demanded,
            kind if is_of_the_wire(kind) => NoWay::OtherWire,
            _ => NoWay::NotFound,
        }
    }
}

/// Whether names went from one namespace to another; a name may also get one, or lose it.
fn is_between_namespaces(what: &What) -> bool {
    matches!(what, What::MovedTogether { names } if !names.from.is_empty() && !names.to.is_empty())
}

/// Whether a kind of change is about how messages travel, not about what they hold.
fn is_of_the_wire(kind: Kind) -> bool {
    kind.entry().topic == charter_compare::Topic::Messages
}
