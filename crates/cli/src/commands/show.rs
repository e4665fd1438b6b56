//! `charter show`

use charter_contract::{Component, Contract, demands_in_words};
use charter_notation::{Prefixes, info_of, text_of};
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::common::Common;
use crate::console::{Console, Status};
use crate::paint;

#[derive(Serialize)]
struct ComponentJson {
    path: String,
    notation: String,
    #[serde(skip_serializing_if = "Vec::is_empty")]
    demands: Vec<Demanded>,
}

/// What an operation demands of who calls it, by the policies of its contract.
#[derive(Serialize)]
struct Demanded {
    operation: String,
    port: String,
    /// The ways to satisfy it.
    ways: Vec<Vec<String>>,
    #[serde(skip)]
    words: String,
}

pub fn run(file: &str, path: Option<&str>, common: &Common, console: &mut Console) -> Outcome {
    let contract = common.session.readable(file)?;
    let component = charter_session::find(&contract, path.unwrap_or("contract"))?;
    let convention = common.session.settings(file)?.names.clone();
    let demands = demands(&contract, component);
    let (path, faults) = (contract.path(component).to_string(), contract.faults().len());
    let notation = match component {
        Component::Contract => {
            let (info, prefixes) = (info_of(&contract), Prefixes::of(&contract));
            // A contract, what it says, and how that is written are each as large.
            drop(contract);
            text_of(&info, &prefixes, &convention)
        }
        _ => charter_notation::component(&contract, component, &convention),
    };
    if common.format == Format::Json {
        console.json(&ComponentJson { path, notation, demands });
        return Ok(Status::Yes);
    }
    console.data(&paint::notation(&notation));
    console.out(&comments(&demands));
    if faults > 0 {
        let what = if faults == 1 { "is one fault".to_owned() } else { format!("are {faults} faults") };
        console.note(&format!("there {what} in what was read: charter check {file} shows more\n"));
    }
    Ok(Status::Yes)
}

/// What the operations that a component is about demand.
fn demands(contract: &Contract, component: Component) -> Vec<Demanded> {
    let mut found = Vec::new();
    if contract.policies().is_empty() && !has_addressing(contract) {
        return found;
    }
    for (id, operation) in contract.operations() {
        let meant = match component {
            Component::Contract => true,
            Component::PortType(port_type) => port_type == id.port_type,
            Component::Operation(own) | Component::OperationSide(own, _) => own == id,
            _ => false,
        };
        for bound in contract.bound(id).filter(|_| meant) {
            let index = contract.bindings[bound.binding]
                .operations
                .iter()
                .position(|it| std::ptr::eq(it, bound.operation));
            let demand = index.and_then(|index| contract.demand(bound.binding, index, bound.port));
            let Some(demand) = demand else { continue };
            let port = contract.offered_by(bound.port, bound.binding).to_string();
            let words = demand.words();
            found.push(Demanded {
                operation: operation.name.text.to_string(),
                port,
                ways: demand.ways.iter().map(demands_in_words).collect(),
                words,
            });
        }
    }
    found
}

/// Whether a binding or a port says by itself that addressing is used.
fn has_addressing(contract: &Contract) -> bool {
    let texts = contract.files.iter().map(|file| file.text().content());
    texts.into_iter().any(|text| charter_source::mentions(text, charter_source::ns::WSAW))
}

/// The demands as comments of the notation: operations that demand the same stand together.
fn comments(demands: &[Demanded]) -> String {
    let mut text = String::new();
    let mut said: Vec<(&str, &str)> = Vec::new();
    for demand in demands {
        let key = (&*demand.port, &*demand.words);
        if said.contains(&key) {
            continue;
        }
        said.push(key);
        let of_port = demands.iter().filter(|it| it.port == demand.port);
        let all = of_port.clone().all(|it| it.words == demand.words);
        let names: Vec<&str> =
            of_port.filter(|it| it.words == demand.words).map(|it| &*it.operation).collect();
        let which = if all { String::new() } else { format!(" for {}", names.join(", ")) };
        let line = format!("# {} demands {}{which}\n", demand.port, demand.words);
        text.push_str(&paint::faint(&line));
    }
    text
}
