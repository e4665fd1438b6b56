//! Which ports are reached at which path.

use charter_contract::{BindingId, Bound, Contract, PortId, SoapVersion};
use charter_message::matching::Matcher;
use charter_schema::Engine;
use charter_source::{Address, ns};

/// How many things about one request are told.
const TOLD: usize = 20;
/// A stand-in understands these header blocks whatever the contract says of them.
const UNDERSTOOD: &[&str] = &[ns::ADDRESSING];
/// The same where users prove who they are by a header block.
const WITH_TOKENS: &[&str] = &[ns::ADDRESSING, ns::WSSE];

/// One of the ways in which a contract is offered: by a port, or by a binding that no port uses.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Way {
    pub binding: BindingId,
    pub port: Option<PortId>,
}

impl Way {
    /// All of them, those by ports first.
    pub fn all(contract: &Contract) -> Vec<Way> {
        let of_port = |(id, port): (PortId, &charter_contract::Port)| {
            Some(Way { binding: port.binding.target?, port: Some(id) })
        };
        let ports: Vec<Way> = contract.ports().filter_map(of_port).collect();
        let unused = |binding: &BindingId| !ports.iter().any(|way| way.binding == *binding);
        let bindings = contract.bindings.iter().map(|(id, _)| id).filter(unused);
        let bindings: Vec<Way> = bindings.map(|binding| Way { binding, port: None }).collect();
        [ports, bindings].concat()
    }

    /// Whether an operation is offered so.
    pub fn is(self, bound: &Bound<'_>) -> bool {
        bound.binding == self.binding && bound.port == self.port
    }

    /// What people call it: the name of the port, or of the binding.
    pub fn name(self, contract: &Contract) -> &str {
        contract.offered_by(self.port, self.binding)
    }

    /// The name of its service; nothing if it has none.
    pub fn service(self, contract: &Contract) -> &str {
        self.port.map_or("", |port| &contract.services[port.service].name.local)
    }

    /// Where it is reached: the path and the query of its address, or its names where it has no address that is one.
    pub fn target(self, contract: &Contract) -> String {
        let address = self.port.and_then(|port| contract.port(port).address());
        match address.and_then(|address| Address::parse(address.text.trim())) {
            Some(address) => address.target().to_owned(),
            None => [self.service(contract), self.name(contract)]
                .iter()
                .filter(|name| !name.is_empty())
                .map(|name| format!("/{name}"))
                .collect(),
        }
    }
}

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
    /// All of it, for who sends to no path.
    anywhere: Route<'c>,
}

impl<'c> Routes<'c> {
    pub fn of(contract: &'c Contract, engine: &'c Engine<'c>, tokens: bool) -> Routes<'c> {
        let understood = if tokens { WITH_TOKENS } else { UNDERSTOOD };
        let route = |path, ways: &[Way]| route(contract, engine, path, ways).understanding(understood);
        let mut paths: Vec<(String, Vec<Way>)> = Vec::new();
        let ways = Way::all(contract);
        for way in &ways {
            let target = way.target(contract);
            let path = target.split('?').next().unwrap_or_default().to_owned();
            match paths.iter_mut().find(|(known, _)| *known == path) {
                Some((_, ways)) => ways.push(*way),
                None => paths.push((path, vec![*way])),
            }
        }
        let anywhere = route("/".to_owned(), &ways);
        let all = paths.into_iter().map(|(path, ways)| route(path, &ways));
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

impl<'c> Route<'c> {
    /// The same where header blocks of these namespaces are understood.
    fn understanding(self, namespaces: &'static [&'static str]) -> Route<'c> {
        Route { matcher: self.matcher.understanding(namespaces), ..self }
    }
}

fn route<'c>(contract: &'c Contract, engine: &'c Engine<'c>, path: String, ways: &[Way]) -> Route<'c> {
    let bindings = || ways.iter().map(|way| way.binding);
    let mut versions: Vec<SoapVersion> =
        bindings().filter_map(|binding| contract.protocol(binding)).map(|(version, _)| version).collect();
    versions.dedup();
    let plain = bindings().any(|binding| contract.is_http(binding));
    let counts = |bound: &Bound<'_>| ways.iter().any(|way| way.is(bound));
    let matcher = Matcher::of_ways(contract, engine, &counts, TOLD);
    Route { path, matcher, versions, plain }
}
