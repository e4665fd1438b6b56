//! The page for a browser: what a contract offers, a sample of each request, and a form that sends it.

use charter_contract::{Contract, OperationId, PortId, ServiceId, Side};
use charter_message::blocks::Wanted;
use charter_message::http::HttpMessage;
use charter_message::{Size, assemble, sample as sample_of};
use minijinja::{Environment, context};
use percent_encoding::{NON_ALPHANUMERIC, percent_decode_str, utf8_percent_encode};
use serde::Serialize;
use serde_json::json;

use super::{Answering, plain, reply, routes};
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
    let services: Vec<ServiceView> =
        contract.services.iter().map(|(id, _)| service(contract, id, base)).collect();
    let definitions = contract.definitions.iter().next();
    let about = definitions.and_then(|(_, definitions)| definitions.documentation.as_deref());
    let about = about.map(one_line);
    let mut environment = Environment::new();
    let made = environment
        .add_template("page.html", include_str!("page.html"))
        .and_then(|()| environment.get_template("page.html")?.render(context! { name, about, services }));
    match made {
        Ok(page) => reply(200, "text/html; charset=utf-8", page.into_bytes()),
        Err(error) => plain(500, &format!("the page cannot be made: {error}\n")),
    }
}

fn service(contract: &Contract, id: ServiceId, base: &str) -> ServiceView {
    let service = &contract.services[id];
    let all = || (0..service.ports.len()).map(move |index| PortId { service: id, index });
    let port = |id: PortId| PortView {
        name: contract.port(id).name.text.to_string(),
        carrier: carrier(contract, id),
        address: format!("{base}{}", routes::target(contract, id)),
    };
    let ports: Vec<PortView> = all().map(port).collect();
    let first = all().next().map_or_else(|| "/".to_owned(), |id| routes::target(contract, id));
    let offered = contract.operations().filter_map(|(operation, _)| operation_view(contract, operation, id));
    ServiceView {
        name: service.name.local.to_string(),
        about: service.documentation.as_deref().map(one_line),
        contract: format!("{base}{}?wsdl", first.split('?').next().unwrap_or_default()),
        ports,
        operations: offered.collect(),
    }
}

/// What carries the messages of a port, in a few words.
fn carrier(contract: &Contract, id: PortId) -> String {
    let binding = contract.port(id).binding.target;
    match binding.and_then(|binding| contract.protocol(binding)) {
        Some((version, _)) => format!("SOAP {}", version.number()),
        None => "HTTP".to_owned(),
    }
}

/// An operation as a service offers it; `None` if it does not, or if the service is the one that begins.
fn operation_view(contract: &Contract, id: OperationId, service: ServiceId) -> Option<OperationView> {
    let operation = contract.operation(id);
    operation.input.as_ref()?;
    let offered = contract.bound(id).filter_map(|bound| bound.port).filter(|port| port.service == service);
    let escaped = |text: &str| utf8_percent_encode(text, NON_ALPHANUMERIC).to_string();
    let way = |port: PortId| WayView {
        port: contract.port(port).name.text.to_string(),
        sample: format!(
            "{SAMPLE}?operation={}&service={}&port={}",
            escaped(&operation.name.text),
            escaped(&contract.services[port.service].name.local),
            escaped(&contract.port(port).name.text)
        ),
    };
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
    let ways = contract
        .operations()
        .filter(|(_, it)| *it.name.text == *operation)
        .flat_map(|(id, _)| contract.bound(id).filter_map(move |bound| bound.port.map(|port| (id, port))));
    let wanted = ways.into_iter().find(|(_, id)| {
        *contract.port(*id).name.text == *port && *contract.services[id.service].name.local == *service
    });
    let Some((operation, port)) = wanted else {
        return plain(404, "no port of that name offers such an operation\n");
    };
    let made = contract.wire_shape(operation, Side::Input, Some(port)).map_err(|error| error.to_string());
    let made = made.and_then(|mut shape| {
        let content = sample_of(engine, &shape, Size::Typical).map_err(|error| error.to_string())?;
        let own = shape.address.as_deref().map(|address| offset(address, contract, port, base));
        shape.address = own.or_else(|| Some(format!("{base}{}", routes::target(contract, port))));
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

/// An address of a port, or one below it, as it is at the stand-in.
fn offset(address: &str, contract: &Contract, port: PortId, base: &str) -> String {
    let own = contract.port(port).address().map_or("", |label| label.text.trim());
    let below = address.strip_prefix(own).unwrap_or_default();
    format!("{base}{}{below}", routes::target(contract, port))
}
