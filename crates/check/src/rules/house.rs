//! What the team has settled for its own contracts, in `charter.toml`.

use charter_contract::{Component, Contract, ExtensionKind, Pattern};
use charter_schema::{Builtin, Ref, SimpleDerivation, TypeDef, TypeKind};
use charter_source::{Fault, ImportKind, Place, QName, ns, schemas_in};

use super::bound;
use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, LookBySettings, Rule};
use crate::settings::{NamePattern, NamedKind, Settings};

const fn rule(
    name: &'static str,
    asks: &'static str,
    why: &'static str,
    wrong: &'static str,
    right: &'static str,
    look: LookBySettings,
) -> Rule {
    Rule {
        name,
        standard: "charter.toml",
        asks,
        why,
        example: Example::of(Slot::House, wrong, right),
        by_settings: Some(look),
        ..Rule::of(Family::House, Level::Error)
    }
}

pub(crate) const RULES: &[Rule] = &[
    rule(
        "house-name",
        "Names have the form that the house has settled for their kind.",
        "Contracts of one house read alike, and generated code does too. Settled in [house.names].",
        "[house.names]\noperation = \"[A-Z][A-Za-z]*\"\n",
        "[house.names]\noperation = \"[a-z][A-Za-z]*\"\n",
        names,
    ),
    rule(
        "house-header",
        "Every request carries the header blocks that the house has settled.",
        "Credentials, or a number to trace a request by, help only if no operation goes without. Settled in headers of \
         [house], by the names of their elements.",
        "[house]\nheaders = [\"credentials\"]\n",
        "[house]\nheaders = []\n",
        headers,
    ),
    rule(
        "house-fault",
        "Every operation with a reply declares the faults that the house has settled.",
        "Consumers handle them in one place for all operations. Settled in faults of [house].",
        "[house]\nfaults = [\"NotAllowed\"]\n",
        "[house]\nfaults = []\n",
        faults,
    ),
    rule(
        "house-documentation",
        "Components of the kinds that the house has settled say what they are for.",
        "Settled in documented of [house].",
        "[house]\ndocumented = [\"operation\"]\n",
        "[house]\ndocumented = []\n",
        documentation,
    ),
    rule(
        "house-type",
        "Contracts use the types that the house has settled, and none that it has ruled out.",
        "A type that one platform cannot hold, or that says too little, is best kept out from the start. Settled in \
         allowed and forbidden of [house.types].",
        "[house.types]\nforbidden = [\"token\"]\n",
        "[house.types]\nforbidden = [\"float\"]\n",
        types,
    ),
    rule(
        "house-namespace",
        "Contracts use the namespaces that the house has settled.",
        "Settled in namespaces of [house], as patterns in which * is anything.",
        "[house]\nnamespaces = [\"urn:saltmere:pilotage:*\"]\n",
        "[house]\nnamespaces = [\"urn:saltmere:*\"]\n",
        namespaces,
    ),
    rule(
        "house-version",
        "The target namespace bears the version, in the form that the house has settled.",
        "Two versions that share a namespace cannot be told apart by any tool, nor be offered side by side. Settled in \
         version of [house].",
        "[house]\nversion = \"urn:saltmere:[a-z]+:v[0-9]+\"\n",
        "[house]\nversion = \"urn:saltmere:[a-z]+:[0-9]+\"\n",
        version,
    ),
    rule(
        "house-soap",
        "Bindings use the versions of SOAP that the house has settled.",
        "Settled in soap of [house].",
        "[house]\nsoap = [\"1.2\"]\n",
        "[house]\nsoap = [\"1.1\", \"1.2\"]\n",
        soap,
    ),
    rule(
        "house-style",
        "Bindings use the styles that the house has settled.",
        "Settled in styles of [house].",
        "[house]\nstyles = [\"rpc\"]\n",
        "[house]\nstyles = [\"document\"]\n",
        styles,
    ),
    rule(
        "house-forbidden",
        "No component is there that the house has ruled out by its path.",
        "Settled in forbidden of [house], as patterns in which * is anything within a step, and ** any number of steps.",
        "[house]\nforbidden = [\"element/*Response\"]\n",
        "[house]\nforbidden = [\"element/*Reply\"]\n",
        forbidden,
    ),
];

/// Everything that has a name, with what is said of it, in the files of the contract itself.
fn named(contract: &Contract, see: &mut dyn FnMut(NamedKind, &str, Place, bool)) {
    for (_, definitions) in contract.definitions.iter() {
        if let Some(name) = &definitions.name {
            see(NamedKind::Contract, &name.text, name.place, definitions.documentation.is_some());
        }
    }
    for (_, message) in contract.messages.iter() {
        see(NamedKind::Message, &message.name.local, message.place, message.documentation.is_some());
        for part in &message.parts {
            see(NamedKind::Part, &part.name.text, part.name.place, part.documentation.is_some());
        }
    }
    for (_, it) in contract.port_types.iter() {
        see(NamedKind::PortType, &it.name.local, it.place, it.documentation.is_some());
    }
    for (_, operation) in contract.operations() {
        let said = operation.documentation.is_some();
        see(NamedKind::Operation, &operation.name.text, operation.name.place, said);
        for fault in &operation.faults {
            if let Some(name) = &fault.name {
                see(NamedKind::Fault, &name.text, name.place, fault.documentation.is_some());
            }
        }
    }
    for (_, it) in contract.bindings.iter() {
        see(NamedKind::Binding, &it.name.local, it.place, it.documentation.is_some());
    }
    for (_, it) in contract.services.iter() {
        see(NamedKind::Service, &it.name.local, it.place, it.documentation.is_some());
        for port in &it.ports {
            see(NamedKind::Port, &port.name.text, port.name.place, port.documentation.is_some());
        }
    }
    let schemas = &contract.schemas;
    for (_, it) in schemas.own_types().filter(|(_, it)| !schemas.is_known(it.place)) {
        if let Some(name) = &it.name {
            see(NamedKind::Type, &name.local, it.place, it.annotation.is_some());
        }
    }
    for (_, it) in schemas.elements.iter().filter(|(_, it)| !schemas.is_known(it.place)) {
        see(NamedKind::Element, &it.name.local, it.place, it.annotation.is_some());
    }
    for (_, it) in schemas.attribute_decls.iter().filter(|(_, it)| !schemas.is_known(it.place)) {
        see(NamedKind::Attribute, &it.name.local, it.place, it.annotation.is_some());
    }
}

fn names(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let patterns = &settings.house.names;
    if patterns.is_empty() {
        return;
    }
    named(contract, &mut |kind, name, place, _| {
        for (_, pattern) in patterns.iter().filter(|(of, pattern)| *of == kind && !pattern.matches(name)) {
            let message = format!("\"{name}\" is no name for a {} in this house", kind.word());
            let fault = Fault::new("house-name", place, message);
            faults.push(fault.help(format!("it is to match {}", pattern.text)));
        }
    });
}

fn documentation(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let kinds = &settings.house.documented;
    if kinds.is_empty() {
        return;
    }
    named(contract, &mut |kind, name, place, said| {
        if !said && kinds.contains(&kind) {
            let message = format!("nothing says what the {} \"{name}\" is for", kind.word());
            let fault = Fault::new("house-documentation", place, message);
            faults.push(fault.help("add documentation"));
        }
    });
}

fn headers(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    if settings.house.headers.is_empty() {
        return;
    }
    for side in bound::sides(contract) {
        if side.side != charter_contract::Side::Input || side.of.soap.is_none() {
            continue;
        }
        let carried: Vec<&str> = side
            .headers()
            .filter_map(|(_, header)| bound::header_part(contract, header))
            .flat_map(|part| {
                let element = part.element.as_ref().and_then(|element| element.name.as_ref());
                [Some(&*part.name.text), element.map(|name| &*name.local)]
            })
            .flatten()
            .collect();
        for wanted in settings.house.headers.iter().filter(|wanted| !carried.contains(&&***wanted)) {
            let message = format!("{} carries no header block \"{wanted}\"", side.of_operation());
            let fault = Fault::new("house-header", side.bound.place, message);
            faults.push(fault.help("every request of this house carries it"));
        }
    }
}

fn faults(contract: &Contract, settings: &Settings, found: &mut Vec<Fault>) {
    for (_, operation) in contract.operations().filter(|(_, it)| it.pattern == Pattern::RequestResponse) {
        for wanted in &settings.house.faults {
            let declares = |fault: &charter_contract::MessageUse| {
                fault.name.as_ref().is_some_and(|name| &*name.text == wanted.as_str())
            };
            if !operation.faults.iter().any(declares) {
                let message = format!("\"{}\" declares no fault \"{wanted}\"", operation.name.text);
                let fault = Fault::new("house-fault", operation.name.place, message);
                found.push(fault.help("every operation of this house declares it"));
            }
        }
    }
}

/// The types that elements, attributes, parts and other types name.
fn uses_of_types(contract: &Contract, see: &mut dyn FnMut(&QName, Place)) {
    let schemas = &contract.schemas;
    let mut see = |reference: &Ref<TypeDef>| {
        if let Some(name) = reference.name.as_ref().filter(|_| !schemas.is_known(reference.place)) {
            see(name, reference.place);
        }
    };
    schemas.elements.iter().for_each(|(_, it)| see(&it.ty));
    schemas.attribute_decls.iter().for_each(|(_, it)| see(&it.ty));
    for (_, ty) in schemas.own_types() {
        match &ty.kind {
            TypeKind::Complex(complex) => see(&complex.base),
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) | SimpleDerivation::List(base) => see(base),
                SimpleDerivation::Union(members) => members.iter().for_each(&mut see),
            },
        }
    }
    let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
    parts.filter_map(|part| part.ty.as_ref()).for_each(see);
}

fn types(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let house = &settings.house;
    if house.forbidden_types.is_empty() && house.allowed_types.is_none() {
        return;
    }
    uses_of_types(contract, &mut |name, place| {
        let built_in = &*name.namespace == ns::XSD && Builtin::from_name(&name.local).is_some();
        // A type without a base, or an element without a type, names anyType nowhere.
        let forbidden = house.forbidden_types.iter().any(|it| it.as_str() == &*name.local);
        let left_out = built_in
            && house
                .allowed_types
                .as_ref()
                .is_some_and(|all| !all.iter().any(|it| it.as_str() == &*name.local));
        if forbidden || left_out {
            let message = format!("this house does not use the type \"{}\"", name.local);
            let help = match house.allowed_types.as_deref().filter(|_| left_out) {
                Some(all) => format!("it uses {}", all.join(", ")),
                None => "choose another one".to_owned(),
            };
            faults.push(Fault::new("house-type", place, message).help(help));
        }
    });
}

/// A namespace as it is written, with its place.
fn namespaces(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let Some(patterns) = &settings.house.namespaces else { return };
    let mut see = |namespace: &str, place: Place| {
        // Slashes are steps of a path in a pattern, and no more than characters in a namespace.
        let standard = namespace.starts_with("http://www.w3.org/")
            || namespace.starts_with("http://schemas.xmlsoap.org/");
        if !standard && !patterns.iter().any(|pattern| pattern.matches(namespace)) {
            let message = format!("this house does not use the namespace {namespace}");
            let fault = Fault::new("house-namespace", place, message);
            faults.push(fault.help("see namespaces in charter.toml"));
        }
    };
    target_namespaces(contract).for_each(|(namespace, place)| see(&namespace, place));
    for import in contract.files.imports() {
        let file = contract.files.get(import.place.file);
        let named =
            import.namespace.as_deref().filter(|_| !file.is_known() && import.kind != ImportKind::Include);
        if let Some(namespace) = named {
            see(namespace, import.place);
        }
    }
}

/// The target namespaces of contracts and schemas.
fn target_namespaces(contract: &Contract) -> impl Iterator<Item = (String, Place)> {
    let files = contract.files.iter().filter(|file| !file.is_known());
    files.flat_map(|file| {
        let root = file.root();
        root.into_iter().chain(schemas_in(file)).filter_map(move |node| {
            let attribute = node.attribute_node("targetNamespace")?;
            Some((attribute.value().to_owned(), charter_source::attribute_place(file.id, &attribute)))
        })
    })
}

fn version(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let Some(pattern): Option<&NamePattern> = settings.house.version.as_ref() else { return };
    for (_, definitions) in contract.definitions.iter() {
        let file = contract.files.get(definitions.file);
        let attribute = file.root().and_then(|root| root.attribute_node("targetNamespace"));
        let place = attribute.map_or(definitions.place, |it| charter_source::attribute_place(file.id, &it));
        if !pattern.matches(&definitions.namespace) {
            let message = format!("the namespace \"{}\" does not bear its version", definitions.namespace);
            let fault = Fault::new("house-version", place, message);
            faults.push(fault.help(format!("it is to match {}", pattern.text)));
        }
    }
}

fn soap(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let Some(allowed) = &settings.house.soap else { return };
    for (id, binding) in contract.bindings.iter() {
        let Some((version, _)) = contract.protocol(id).filter(|(version, _)| !allowed.contains(version))
        else {
            continue;
        };
        let extension =
            binding.extensions.iter().find(|it| matches!(it.kind, ExtensionKind::SoapBinding { .. }));
        let place = extension.map_or(binding.place, |it| it.place);
        let message = format!("this house does not use SOAP {}", version.number());
        let numbers: Vec<&str> = allowed.iter().map(|version| version.number()).collect();
        let fault = Fault::new("house-soap", place, message);
        faults.push(fault.help(format!("it uses SOAP {}", numbers.join(" and "))));
    }
}

fn styles(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let Some(allowed) = &settings.house.styles else { return };
    for operation in bound::operations(contract) {
        let Some(style) = operation.style().filter(|style| !allowed.contains(style)) else { continue };
        let name = &operation.bound.name;
        let message =
            format!("\"{}\" is bound in {} style, which this house does not use", name.text, style.name());
        let names: Vec<&str> = allowed.iter().map(|style| style.name()).collect();
        let fault = Fault::new("house-style", name.place, message);
        faults.push(fault.help(format!("it uses {} style", names.join(" and "))));
    }
}

fn forbidden(contract: &Contract, settings: &Settings, faults: &mut Vec<Fault>) {
    let patterns = &settings.house.forbidden;
    if patterns.is_empty() {
        return;
    }
    let mut see = |component: Component, place: Place| {
        let path = contract.path(component);
        if patterns.iter().any(|pattern| pattern.matches(path.as_str())) {
            let message = format!("this house has ruled out {path}");
            let fault = Fault::new("house-forbidden", place, message);
            faults.push(fault.help("see forbidden in charter.toml"));
        }
    };
    contract.messages.iter().for_each(|(id, it)| see(Component::Message(id), it.place));
    contract.port_types.iter().for_each(|(id, it)| see(Component::PortType(id), it.place));
    contract.operations().for_each(|(id, it)| see(Component::Operation(id), it.name.place));
    for (id, binding) in contract.bindings.iter() {
        see(Component::Binding(id), binding.place);
        for (index, operation) in binding.operations.iter().enumerate() {
            see(Component::BindingOperation(id, index), operation.name.place);
        }
    }
    contract.services.iter().for_each(|(id, it)| see(Component::Service(id), it.place));
    contract.ports().for_each(|(id, it)| see(Component::Port(id), it.name.place));
    let schemas = &contract.schemas;
    let own = |place: Place| !schemas.is_known(place);
    schemas
        .own_types()
        .filter(|(_, it)| own(it.place))
        .for_each(|(id, it)| see(Component::Type(id), it.place));
    let elements = schemas.elements.iter().filter(|(_, it)| own(it.place));
    elements.for_each(|(id, it)| see(Component::Element(id), it.place));
    let attributes = schemas.attribute_decls.iter().filter(|(_, it)| own(it.place));
    attributes.for_each(|(id, it)| see(Component::Attribute(id), it.place));
    let groups = schemas.groups.iter().filter(|(_, it)| own(it.place));
    groups.for_each(|(id, it)| see(Component::Group(id), it.place));
}
