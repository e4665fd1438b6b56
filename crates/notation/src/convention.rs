//! The naming convention: the names that need not be said, because they follow from others.

use charter_contract::{Contract, Side};

/// The name of the whole contract: that of its definitions, else of its first port type or service.
pub fn contract_name(contract: &Contract) -> String {
    let definitions = contract.definitions.iter().next().and_then(|(_, first)| first.name.as_ref());
    let port_type = contract.port_types.iter().next().map(|(_, first)| &first.name.local);
    let service = contract.services.iter().next().map(|(_, first)| &first.name.local);
    let name = definitions.map(|name| &name.text).or(port_type).or(service);
    name.map_or_else(|| "Contract".to_owned(), |name| name.to_string())
}

/// The port type of a contract.
pub fn port_type(contract: &str) -> String {
    contract.to_owned()
}

/// The SOAP binding of a contract.
pub fn binding(contract: &str) -> String {
    format!("{contract}Soap")
}

/// The service of a contract.
pub fn service(contract: &str) -> String {
    format!("{contract}Service")
}

/// The port of a contract.
pub fn port(contract: &str) -> String {
    format!("{contract}Port")
}

/// The element in the body of a side of an operation; a fault's element is named as the fault.
pub fn element(operation: &str, side: Side) -> String {
    match side {
        Side::Output => format!("{operation}Response"),
        _ => operation.to_owned(),
    }
}

/// The message of a side of an operation; a fault's message is named after the fault.
pub fn message(name: &str, side: Side) -> String {
    match side {
        Side::Input => format!("{name}Input"),
        Side::Output => format!("{name}Output"),
        Side::Fault(_) => format!("{name}Fault"),
    }
}

/// The one part of a message that holds a body element.
pub fn part(side: Side) -> &'static str {
    match side {
        Side::Input | Side::Output => "parameters",
        Side::Fault(_) => "fault",
    }
}

/// The action of an operation.
pub fn action(namespace: &str, operation: &str) -> String {
    let separator = match namespace {
        urn if urn.starts_with("urn:") => ":",
        slash if slash.ends_with('/') => "",
        _ => "/",
    };
    format!("{namespace}{separator}{operation}")
}
