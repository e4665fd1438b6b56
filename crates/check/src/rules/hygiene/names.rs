//! Names and what is said of them.

use charter_contract::Contract;
use charter_schema::Owner;
use charter_source::{Fault, Map, Place};

pub(super) fn by_case(contract: &Contract, faults: &mut Vec<Fault>) {
    let schemas = &contract.schemas;
    let operations = contract.operations().map(|(_, it)| ("operation", "", &*it.name.text, it.name.place));
    see(operations, faults);
    let elements = schemas.elements.iter().filter(|(_, it)| it.owner == Owner::Schema);
    let elements = elements.map(|(_, it)| ("element", &*it.name.namespace, &*it.name.local, it.place));
    see(elements.filter(|it| !schemas.is_known(it.3)), faults);
    let types = schemas.own_types().filter_map(|(_, it)| {
        let name = it.name.as_ref().filter(|_| it.owner == Owner::Schema)?;
        Some(("type", &*name.namespace, &*name.local, it.place))
    });
    see(types, faults);
}

fn see<'c>(named: impl Iterator<Item = (&'static str, &'c str, &'c str, Place)>, faults: &mut Vec<Fault>) {
    let mut seen: Map<(&str, String), &str> = Map::default();
    for (kind, namespace, name, place) in named {
        match seen.get(&(namespace, name.to_lowercase())) {
            Some(other) if *other != name => {
                let message = format!("this {kind} is named \"{name}\", and another \"{other}\"");
                let fault = Fault::new("names-by-case", place, message);
                faults.push(fault.help("rename one of the two"));
            }
            Some(_) => {}
            None => drop(seen.insert((namespace, name.to_lowercase()), name)),
        }
    }
}

pub(super) fn undocumented(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, operation) in contract.operations().filter(|(_, it)| it.documentation.is_none()) {
        let message = format!("nothing says what \"{}\" is for", operation.name.text);
        let fault = Fault::new("documentation-missing", operation.name.place, message);
        faults.push(fault.help("add documentation"));
    }
}
