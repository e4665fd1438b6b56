//! Addresses that work only for some, or show too much.

use charter_contract::{BindingId, Contract};
use charter_source::{Address, Fault, Set};

use crate::rules::bound;

pub(super) fn local(contract: &Contract, faults: &mut Vec<Fault>) {
    for address in contract.ports().filter_map(|(_, port)| port.address()) {
        let Some(found) = Address::parse(&address.text) else { continue };
        if found.is_local() {
            let message = format!("{} is each consumer's own machine", found.host());
            let fault = Fault::new("address-localhost", address.place, message);
            faults.push(fault.help("write the address that consumers can reach"));
        }
    }
}

/// Words in the name of a header block that speak of credentials.
const SECRETS: [&str; 8] =
    ["password", "passwd", "credential", "secret", "token", "usernametoken", "login", "apikey"];

pub(super) fn open(contract: &Contract, faults: &mut Vec<Fault>) {
    let mut secret: Set<BindingId> = Set::default();
    for side in bound::sides(contract) {
        let named = side.headers().any(|(_, header)| {
            let part = bound::header_part(contract, header);
            let element =
                part.and_then(|part| part.element.as_ref()).and_then(|element| element.name.as_ref());
            let names = [part.map(|part| &*part.name.text), element.map(|name| &*name.local)];
            names.into_iter().flatten().any(|name| {
                let name = name.to_ascii_lowercase().replace(['-', '_'], "");
                SECRETS.iter().any(|word| name.contains(word))
            })
        });
        if named {
            secret.insert(side.of.id);
        }
    }
    for (_, port) in contract.ports() {
        let Some(address) = port.address() else { continue };
        let plain = address.text.get(..7).is_some_and(|scheme| scheme.eq_ignore_ascii_case("http://"));
        let carries = port.binding.target.is_some_and(|id| {
            secret.contains(&id) || crate::rules::policy::demands_credentials(contract, id)
        });
        if plain && carries && !Address::parse(&address.text).is_some_and(|address| address.is_local()) {
            let message = "credentials travel to this address in the clear";
            let fault = Fault::new("address-open", address.place, message);
            faults.push(fault.help("offer the service by https alone"));
        }
    }
}
