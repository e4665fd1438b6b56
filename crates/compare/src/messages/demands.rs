//! What policies demand of those who call: credentials, transport security, addressing. Who satisfied one of the old
//! ways must satisfy one of the new ones.

use charter_contract::{Bound, Component, Contract, Demand, Demands, Side};

use crate::comparison::{Both, Comparison};
use crate::difference::{Aspect, Difference};
use crate::effect::Effect;
use crate::kind::Kind;
use crate::line::Line;
use crate::versions::Subject;
use crate::what::{DemandList, What};

/// One way to satisfy what is demanded: all that has to be there.
type Alternative = Vec<Demand>;

impl Comparison<'_> {
    /// Compares what two ports demand of the requests of an operation.
    pub(crate) fn demands(&mut self, both: Both, offers: (Bound<'_>, Bound<'_>)) {
        let known = |contract: &Contract, offer: Bound<'_>| {
            contract.is_demand_known(offer.binding, offer.index, offer.port)
        };
        if !known(self.old, offers.0) || !known(self.new, offers.1) {
            let what = (Kind::NotCompared, What::DemandsUnknown {});
            let place = self.new.place(Component::Binding(offers.1.binding));
            return self.not_compared(both, Side::Input, what, Some(place));
        }
        let (was, is) = (demands(self.old, offers.0), demands(self.new, offers.1));
        let Some((kind, what, effect)) = compared(&ways(was.as_ref()), &ways(is.as_ref())) else { return };
        let (a, b) = (Component::Binding(offers.0.binding), Component::Binding(offers.1.binding));
        let difference =
            Difference::of(self.versions(), Subject::new(b), (kind, what), (Aspect::Whole, effect));
        let difference = Difference {
            old: Some(Line::Text(words(was.as_ref()))),
            new: Some(Line::Text(words(is.as_ref()))),
            old_place: Some(self.old.place(a)),
            new_place: Some(self.new.place(b)),
            ..difference
        };
        self.record(both, Side::Input, difference);
    }
}

fn demands(contract: &Contract, offer: Bound<'_>) -> Option<Demands> {
    contract.demand(offer.binding, offer.index, offer.port)
}

/// The ways to satisfy an operation; who demands nothing is satisfied by nothing.
fn ways(demands: Option<&Demands>) -> Vec<Alternative> {
    demands.map_or_else(|| vec![Vec::new()], |demands| demands.ways.clone())
}

fn words(demands: Option<&Demands>) -> String {
    demands.map_or_else(|| "no demands".to_owned(), |demands| format!("demands {}", demands.words()))
}

/// What differs between the old and the new ways, and what it does to requests.
fn compared(was: &[Alternative], is: &[Alternative]) -> Option<(Kind, What, Effect)> {
    if was == is {
        return None;
    }
    let lacking = was.iter().filter_map(|way| missing(way, is)).max_by_key(Vec::len);
    if let Some(demands) = lacking {
        let what = match demands.is_empty() {
            true => What::DemandsTooMuch {},
            false => What::DemandsMore { demands: DemandList(demands) },
        };
        return Some((Kind::DemandAdded, what, Effect::LESS));
    }
    let surplus = surplus(was, is);
    if !surplus.is_empty() {
        // Nobody shows a certificate to a server that does not ask for one, and no server minds a header field.
        let unseen =
            surplus.iter().all(|demand| matches!(demand, Demand::ClientCertificate | Demand::HttpBasic));
        let effect = if unseen { Effect::MORE } else { Effect::SURPLUS };
        return Some((Kind::DemandRemoved, What::DemandsLess { demands: DemandList(surplus) }, effect));
    }
    let free = left_free(was, is);
    let what = match free.is_empty() {
        true => What::DemandsOtherWay {},
        false => What::DemandsFree { demands: DemandList(free) },
    };
    Some((Kind::DemandLoosened, what, Effect::MORE))
}

/// What somebody who satisfies one way lacks for the new way that is nearest; `None` if some way lacks nothing.
fn missing(way: &[Demand], new: &[Alternative]) -> Option<Alternative> {
    let lacking = |wanted: &Alternative| -> Alternative {
        let needed = wanted.iter().filter(|demand| !demand.is_optional());
        needed.filter(|demand| !way.iter().any(|had| demand.is_met_by(had))).cloned().collect()
    };
    let nearest = new.iter().map(lacking).min_by_key(Vec::len).unwrap_or_default();
    (!nearest.is_empty() || new.is_empty()).then_some(nearest)
}

/// What was demanded in some way and is not even known any more.
fn surplus(old: &[Alternative], new: &[Alternative]) -> Alternative {
    let known = |demand: &Demand| new.iter().flatten().any(|other| other.is_met_by(demand));
    let mut found: Alternative = Vec::new();
    for demand in old.iter().flatten().filter(|demand| !known(demand)) {
        if !found.contains(demand) {
            found.push(demand.clone());
        }
    }
    found
}

/// What every old way demanded, and what a new way may have or not.
fn left_free(old: &[Alternative], new: &[Alternative]) -> Alternative {
    let always = |demand: &&Demand| old.iter().all(|way| way.contains(demand));
    let free = |demand: &&Demand| {
        let without =
            |way: &Alternative| way.iter().filter(|it| it != demand).cloned().collect::<Alternative>();
        let at_will = demand.at_will();
        new.iter().any(|way| way.contains(demand) && new.contains(&without(way)))
            || at_will.is_some_and(|demand| new.iter().all(|way| way.contains(&demand)))
    };
    let first = old.first().map_or(&[][..], Vec::as_slice);
    first.iter().filter(always).filter(free).cloned().collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use charter_contract::{Addressing, Need, Password, Replies};

    fn addressing(need: Need, replies: Replies) -> Demand {
        Demand::Addressing(Addressing { need, replies })
    }

    #[test]
    fn whoever_did_more_does_enough() {
        let (tls, certificate) = (Demand::Tls, Demand::ClientCertificate);
        let name = Demand::UserName(Password::Text);
        let digest = Demand::UserName(Password::Digest);
        let anywhere = addressing(Need::Must, Replies::Anywhere);
        let same = addressing(Need::Must, Replies::SameConnection);
        let free = addressing(Need::May, Replies::Anywhere);
        let way = |demands: &[&Demand]| demands.iter().map(|it| (*it).clone()).collect::<Alternative>();
        for (was, is, kind, said) in [
            (
                vec![way(&[&tls, &certificate])],
                vec![way(&[&tls])],
                Kind::DemandRemoved,
                "requests need no longer have: a certificate of the client",
            ),
            (
                vec![way(&[&tls])],
                vec![way(&[&tls, &certificate])],
                Kind::DemandAdded,
                "requests must now have: a certificate of the client",
            ),
            (
                vec![way(&[])],
                vec![way(&[&tls, &certificate])],
                Kind::DemandAdded,
                "requests must now have: https with a certificate of the client",
            ),
            (
                vec![way(&[&same])],
                vec![way(&[&anywhere])],
                Kind::DemandLoosened,
                "there is another way to satisfy what is demanded",
            ),
            (
                vec![way(&[&anywhere])],
                vec![way(&[&same])],
                Kind::DemandAdded,
                "requests must now have: addressing, replies on the same connection",
            ),
            (
                vec![way(&[&free])],
                vec![way(&[&anywhere])],
                Kind::DemandAdded,
                "requests must now have: addressing",
            ),
            (
                vec![way(&[&anywhere])],
                vec![way(&[&free])],
                Kind::DemandLoosened,
                "requests may now leave out: addressing",
            ),
            (
                vec![way(&[&name])],
                vec![way(&[&name]), way(&[&digest])],
                Kind::DemandLoosened,
                "there is another way to satisfy what is demanded",
            ),
            (
                vec![way(&[&name])],
                vec![],
                Kind::DemandAdded,
                "requests must now have what nobody can satisfy",
            ),
        ] {
            let (found, what, _) = compared(&was, &is).expect("they differ");
            assert_eq!((found, what.to_string().as_str()), (kind, said));
        }
        assert!(compared(&[way(&[&tls])], &[way(&[&tls])]).is_none());
    }

    #[test]
    fn a_certificate_that_nobody_asks_for_costs_nothing() {
        let effect = |was: Vec<Demand>, is: Vec<Demand>| compared(&[was], &[is]).map(|found| found.2);
        let both = vec![Demand::Tls, Demand::ClientCertificate];
        assert_eq!(effect(both, vec![Demand::Tls]), Some(Effect::MORE));
        assert_eq!(effect(vec![Demand::Timestamp], vec![]), Some(Effect::SURPLUS));
    }
}
