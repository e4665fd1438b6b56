//! Whole components that came, went or go by another name: ports and services.

use charter_contract::{Component, Label, PortId};

use crate::comparison::Comparison;
use crate::describe::renames::Paired;
use crate::kind::Kind;
use crate::report::{Confidence, Verdict};
use crate::what::{Addresses, Thing, What};

impl Comparison<'_> {
    /// Compares ports: whether they are there, and where.
    pub(crate) fn ports(&mut self) {
        let Paired { both, renamed, gone, come } = self.ports.clone();
        for (was, is) in &renamed {
            let (from, to) = (&self.old.port(*was).name.text, &self.new.port(*is).name.text);
            if from == to {
                self.service_renamed((*was, *is));
                continue;
            }
            let what = What::PortRenamed { from: from.to_string(), to: to.to_string() };
            let components = (Component::Port(*was), Component::Port(*is));
            self.ledger.renamed(Verdict::Keeps, (Kind::PortRenamed, what), components, Confidence::Sure);
        }
        for port in gone {
            let name = self.old.port(port).name.text.to_string();
            let what = (Kind::PortRemoved, What::ComponentGone { thing: Thing::Port, name });
            self.ledger.component(Verdict::Breaks, what, Some(Component::Port(port)), None);
        }
        for port in come {
            let name = self.new.port(port).name.text.to_string();
            let what = (Kind::PortAdded, What::ComponentNew { thing: Thing::Port, name });
            self.ledger.component(Verdict::Keeps, what, None, Some(Component::Port(port)));
        }
        for (old, new) in both {
            let text = |label: Option<&Label>| label.map(|label| label.text.to_string());
            let (was, is) = (text(self.old.port(old).address()), text(self.new.port(new).address()));
            if was != is {
                let addresses = Addresses { was: was.clone(), is: is.clone() };
                let what = (Kind::AddressChanged, What::AddressOther { addresses });
                let (of_old, of_new) = (Some(Component::Port(old)), Some(Component::Port(new)));
                let change = self.ledger.component(Verdict::Bends, what, of_old, of_new);
                (change.old, change.new) = (was, is);
            }
        }
    }

    /// The services of two ports, if their names tell them apart; each once.
    fn service_renamed(&mut self, (was, is): (PortId, PortId)) {
        let (from, to) = (&self.old.services[was.service].name, &self.new.services[is.service].name);
        let what = What::ServiceRenamed { from: from.local.to_string(), to: to.local.to_string() };
        if !self.ledger.all.iter().any(|change| change.what == what) {
            let components = (Component::Service(was.service), Component::Service(is.service));
            let what = (Kind::ServiceRenamed, what);
            self.ledger.renamed(Verdict::Keeps, what, components, Confidence::Sure);
        }
    }
}
