//! The page for a browser: what a contract offers, a sample of each request, and a form that sends it.

use charter_contract::{Contract, OperationId, Side};
use charter_message::blocks::Wanted;
use charter_message::http::HttpMessage;
use charter_message::{Size, assemble, sample as sample_of};
use charter_source::pictured;
use minijinja::{Environment, context};
use percent_encoding::{NON_ALPHANUMERIC, percent_decode_str, utf8_percent_encode};
use serde::Serialize;
use serde_json::json;

use super::routes::Way;
use super::{Answering, plain, reply};
use crate::clock::fresh;

/// Where a sample of a request is had, by operation and port.
pub(super) const SAMPLE: &str = "/-/sample";

#[derive(Serialize)]
struct ServiceView {
    name: String,
    about: Option<String>,
    contract: String,
    ports: Vec<PortView>,
    operations: Vec<OperationView>,
}

#[derive(Serialize)]
struct PortView {
    name: String,
    carrier: String,
    address: String,
}

#[derive(Serialize)]
struct OperationView {
    name: String,
    about: Option<String>,
    /// Whether nothing is replied.
    one_way: bool,
    faults: Vec<String>,
    ways: Vec<WayView>,
}

/// A port that offers an operation, and where its sample is.
#[derive(Serialize)]
struct WayView {
    port: String,
    sample: String,
}

/// The page.
pub(super) fn page(answering: &Answering<'_>, base: &str) -> HttpMessage {
    let contract = answering.contract;
    let file = contract.files.first().location.to_string();
    let name = file.rsplit(['/', '\\']).next().unwrap_or_default();
    let mut services: Vec<ServiceView> = Vec::new();
    for way in Way::all(contract) {
        let service = way.service(contract);
        if !services.iter().any(|known| known.name == service) {
            services.push(service_view(contract, service, base));
        }
    }
    let definitions = contract.definitions.iter().next();
    let about = definitions.and_then(|(_, definitions)| definitions.documentation.as_deref());
    let about = about.map(one_line);
    let mut environment = Environment::new();
    let made = environment
        .add_template("page.html", include_str!("page.html"))
        .and_then(|()| environment.get_template("page.html")?.render(context! { name, about, services }));
    match made {
        Ok(page) => reply(200, "text/html; charset=utf-8", pictured(&page).into_owned().into_bytes()),
        Err(error) => plain(500, &format!("the page cannot be made: {error}\n")),
    }
}

/// A service, or all bindings without one.
fn service_view(contract: &Contract, name: &str, base: &str) -> ServiceView {
    let ways: Vec<Way> = Way::all(contract).into_iter().filter(|way| way.service(contract) == name).collect();
    let port = |way: &Way| PortView {
        name: way.name(contract).to_owned(),
        carrier: carrier(contract, *way),
        address: format!("{base}{}", way.target(contract)),
    };
    let first = ways.first().map_or_else(|| "/".to_owned(), |way| way.target(contract));
    let service = ways.first().and_then(|way| way.port).map(|port| &contract.services[port.service]);
    let offered =
        contract.operations().filter_map(|(operation, _)| operation_view(contract, operation, &ways));
    ServiceView {
        name: name.to_owned(),
        about: service.and_then(|service| service.documentation.as_deref()).map(one_line),
        contract: format!("{base}{}?wsdl", first.split('?').next().unwrap_or_default()),
        ports: ways.iter().map(port).collect(),
        operations: offered.collect(),
    }
}

/// What carries the messages of a port, in a few words.
fn carrier(contract: &Contract, way: Way) -> String {
    match contract.protocol(way.binding) {
        Some((version, _)) => format!("SOAP {}", version.number()),
        None => "HTTP".to_owned(),
    }
}

/// An operation as some ways offer it; `None` if they do not, or if the service is the one that begins.
fn operation_view(contract: &Contract, id: OperationId, ways: &[Way]) -> Option<OperationView> {
    let operation = contract.operation(id);
    operation.input.as_ref()?;
    let escaped = |text: &str| utf8_percent_encode(text, NON_ALPHANUMERIC).to_string();
    let way = |way: &Way| WayView {
        port: way.name(contract).to_owned(),
        sample: format!(
            "{SAMPLE}?operation={}&service={}&port={}",
            escaped(&operation.name.text),
            escaped(way.service(contract)),
            escaped(way.name(contract))
        ),
    };
    let offered = ways.iter().filter(|way| contract.bound(id).any(|bound| way.is(&bound)));
    let ways: Vec<WayView> = offered.map(way).collect();
    let faults = operation.faults.iter().filter_map(|fault| Some(fault.name.as_ref()?.text.to_string()));
    (!ways.is_empty()).then(|| OperationView {
        name: operation.name.text.to_string(),
        about: operation.documentation.as_deref().map(one_line),
        one_way: operation.output.is_none(),
        faults: faults.collect(),
        ways,
    })
}

/// A text without its layout.
fn one_line(text: &str) -> String {
    text.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// A sample of a request, as the page sends it: JSON with its method, target, header fields and body.
pub(super) fn sample(answering: &Answering<'_>, query: &str, base: &str) -> HttpMessage {
    let Answering { contract, engine, .. } = answering;
    let value = |name: &str| {
        let pairs = query.split('&').filter_map(|pair| pair.split_once('='));
        let found = pairs.into_iter().find(|(key, _)| *key == name).map(|(_, value)| value);
        percent_decode_str(found.unwrap_or_default()).decode_utf8_lossy().into_owned()
    };
    let (operation, service, port) = (value("operation"), value("service"), value("port"));
    let named = |way: &Way| way.name(contract) == port && way.service(contract) == service;
    let way = Way::all(contract).into_iter().find(named);
    let wanted = way.and_then(|way| {
        let named = contract.operations().filter(|(_, it)| *it.name.text == *operation);
        let bound = |(id, _)| contract.bound(id).find(|bound| way.is(bound)).map(|bound| (id, bound));
        Some((way, named.into_iter().find_map(bound)?))
    });
    let Some((way, (operation, bound))) = wanted else {
        return plain(404, "no port of that name offers such an operation\n");
    };
    let made = contract.shape_of(operation, Side::Input, bound).map_err(|error| error.to_string());
    let made = made.and_then(|mut shape| {
        let content = sample_of(engine, &shape, Size::Typical).map_err(|error| error.to_string())?;
        let below = shape.address.as_deref().map_or("", |address| below(address, contract, way));
        shape.address = Some(format!("{base}{}{below}", way.target(contract)));
        let blocks = Wanted::of(contract, &shape).blocks(contract, &shape, &fresh());
        Ok(assemble(engine, &shape, content, &blocks))
    });
    match made {
        Ok(message) => {
            let headers: Vec<_> = message.headers.iter().map(|(name, value)| json!([name, value])).collect();
            let target = message.address().unwrap_or_default().trim_start_matches(base);
            let sample = json!({
                "method": message.start.method(),
                "target": target,
                "headers": headers,
                "body": message.text(contract),
            });
            reply(200, "application/json", sample.to_string().into_bytes())
        }
        Err(reason) => plain(500, &format!("no message can be made: {reason}\n")),
    }
}

/// What an address of an operation adds to that of its port.
fn below<'a>(address: &'a str, contract: &Contract, way: Way) -> &'a str {
    let own = way.port.and_then(|port| contract.port(port).address());
    address.strip_prefix(own.map_or("", |label| label.text.trim())).unwrap_or_default()
}
