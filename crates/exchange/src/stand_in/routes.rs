//! Which ports are reached at which path.

use charter_contract::{Contract, PortId, SoapVersion};
use charter_message::matching::Matcher;
use charter_schema::Engine;
use charter_source::{Address, ns};

/// How many things about one request are told.
const TOLD: usize = 20;
/// A stand-in understands these header blocks whatever the contract says of them.
const UNDERSTOOD: &[&str] = &[ns::ADDRESSING];

/// What is reached at a path.
pub(super) struct Route<'c> {
    /// The path, as the address of its ports has it.
    pub path: String,
    /// Knows what they offer.
    pub matcher: Matcher<'c>,
    /// The versions of SOAP that they offer.
    pub versions: Vec<SoapVersion>,
    /// Whether one of them is bound to plain HTTP, where each operation has an address of its own below.
    pub plain: bool,
}

/// All paths of a contract.
pub(super) struct Routes<'c> {
    all: Vec<Route<'c>>,
    /// Every port, for who sends to no path.
    anywhere: Route<'c>,
}

impl<'c> Routes<'c> {
    pub fn of(contract: &'c Contract, engine: &'c Engine<'c>) -> Routes<'c> {
        let mut paths: Vec<(String, Vec<PortId>)> = Vec::new();
        for (id, _) in contract.ports() {
            let target = target(contract, id);
            let path = target.split('?').next().unwrap_or_default().to_owned();
            match paths.iter_mut().find(|(known, _)| *known == path) {
                Some((_, ports)) => ports.push(id),
                None => paths.push((path, vec![id])),
            }
        }
        let anywhere = route(contract, engine, "/".to_owned(), contract.ports().map(|(id, _)| id).collect());
        let all = paths.into_iter().map(|(path, ports)| route(contract, engine, path, ports));
        Routes { all: all.collect(), anywhere }
    }

    /// What is reached at a path: that of a port, an address below one over plain HTTP, or all of it at the top.
    pub fn at(&self, path: &str) -> Option<&Route<'c>> {
        let exactly = self.all.iter().find(|route| route.path == path);
        let below = || {
            let fitting = self.all.iter().filter(|route| route.plain && path.starts_with(&route.path));
            fitting.max_by_key(|route| route.path.len())
        };
        exactly.or_else(below).or_else(|| (path == "/").then_some(&self.anywhere))
    }

    /// The same, or all of it where nothing is reached.
    pub fn or_any(&self, path: &str) -> &Route<'c> {
        self.at(path).unwrap_or(&self.anywhere)
    }

    /// Every path that is an address of a port.
    pub fn paths(&self) -> impl Iterator<Item = &str> {
        self.all.iter().map(|route| route.path.as_str())
    }
}

fn route<'c>(contract: &'c Contract, engine: &'c Engine<'c>, path: String, ports: Vec<PortId>) -> Route<'c> {
    let bindings = || ports.iter().filter_map(|port| contract.port(*port).binding.target);
    let mut versions: Vec<SoapVersion> =
        bindings().filter_map(|binding| contract.protocol(binding)).map(|(version, _)| version).collect();
    versions.dedup();
    let plain = bindings().any(|binding| contract.is_http(binding));
    let matcher = Matcher::of_ports(contract, engine, &ports, TOLD).understanding(UNDERSTOOD);
    Route { path, matcher, versions, plain }
}

/// Where a port is reached: the path and the query of its address, or its names where it has no address that is one.
pub(super) fn target(contract: &Contract, id: PortId) -> String {
    let port = contract.port(id);
    let address = port.address().and_then(|address| Address::parse(address.text.trim()));
    match address {
        Some(address) => address.target().to_owned(),
        None => format!("/{}/{}", contract.services[id.service].name.local, port.name.text),
    }
}
