//! What holds for every component of every contract of the demo.

use charter_contract::{Carrier, Component, Contract, Direction, Side, SoapVersion};
use charter_source::{Limits, Location, Overlay, Place, Span};

const DEMO: &[(&str, &[(&str, &str)])] = &[
    (
        "v1",
        &[
            ("pilotage.wsdl", include_str!("../../../cli/demo/v1/pilotage.wsdl")),
            ("vessel.xsd", include_str!("../../../cli/demo/v1/vessel.xsd")),
        ],
    ),
    (
        "v2",
        &[
            ("pilotage.wsdl", include_str!("../../../cli/demo/v2/pilotage.wsdl")),
            ("vessel.xsd", include_str!("../../../cli/demo/v2/vessel.xsd")),
        ],
    ),
    (
        "v3",
        &[
            ("pilotage.wsdl", include_str!("../../../cli/demo/v3/pilotage.wsdl")),
            ("vessel.xsd", include_str!("../../../cli/demo/v3/vessel.xsd")),
        ],
    ),
    ("office", &[("harbour.wsdl", include_str!("../../../cli/demo/office/harbour.wsdl"))]),
    ("draft", &[("towage.wsdl", include_str!("../../../cli/demo/draft/towage.wsdl"))]),
];

fn contracts() -> impl Iterator<Item = (&'static str, Contract)> {
    DEMO.iter().map(|(name, files)| {
        let store = Overlay::of(files);
        let location = Location::from_argument(files[0].0);
        (*name, Contract::load(&store, &location, Limits::default()).unwrap())
    })
}

/// Every component that has a name of its own.
fn components(contract: &Contract) -> Vec<Component> {
    let mut all = vec![Component::Contract];
    for (id, message) in contract.messages.iter() {
        all.push(Component::Message(id));
        all.extend((0..message.parts.len()).map(|at| Component::Part(id, at)));
    }
    all.extend(contract.port_types.ids().map(Component::PortType));
    for (id, operation) in contract.operations() {
        all.push(Component::Operation(id));
        all.extend(operation.sides().map(|(side, _)| Component::OperationSide(id, side)));
    }
    for (id, binding) in contract.bindings.iter() {
        all.push(Component::Binding(id));
        for (at, operation) in binding.operations.iter().enumerate() {
            all.push(Component::BindingOperation(id, at));
            all.extend(operation.sides().map(|(side, _)| Component::BindingSide(id, at, side)));
        }
    }
    all.extend(contract.services.ids().map(Component::Service));
    all.extend(contract.ports().map(|(id, _)| Component::Port(id)));
    all.extend(contract.schemas.elements.ids().map(Component::Element));
    all.extend(contract.schemas.types.ids().map(Component::Type));
    all.extend(contract.schemas.attribute_decls.ids().map(Component::Attribute));
    all.extend(contract.schemas.groups.ids().map(Component::Group));
    all.extend(contract.schemas.attribute_groups.ids().map(Component::AttributeGroup));
    all.retain(|component| !contract.is_built_in(*component));
    all
}

#[test]
fn every_path_leads_back_to_its_component() {
    for (name, contract) in contracts() {
        let all = components(&contract);
        assert!(all.len() > 20, "{name}: {}", all.len());
        for component in all {
            let path = contract.path(component);
            let found = contract.find(path.as_str()).unwrap_or_else(|error| panic!("{name} {path}: {error}"));
            // An anonymous type goes by what it stands in.
            let same = contract.path(found) == path;
            assert!(found == component || same, "{name} {path}: {found:?} is not {component:?}");
        }
    }
}

#[test]
fn every_component_stands_in_a_file_and_covers_its_place() {
    for (name, contract) in contracts() {
        for component in components(&contract) {
            let place = contract.place(component);
            let text = contract.files.get(place.file).text().content();
            assert!((place.span.end as usize) <= text.len(), "{name} {}", contract.path(component));
            if matches!(component, Component::Contract) {
                continue;
            }
            let covering = contract.component_at(place);
            let (own, found) = (contract.path(component), contract.path(covering));
            // A name may stand on what the component stands in, as the type of an element does.
            let related =
                own.as_str().starts_with(found.as_str()) || found.as_str().starts_with(own.as_str());
            assert!(related, "{name}: {own} is covered by {found}");
        }
    }
}

#[test]
fn every_offset_belongs_to_a_component_that_can_be_found() {
    for (name, contract) in contracts() {
        for file in contract.files.iter() {
            let length = file.text().content().len();
            for at in (0..length).step_by(97) {
                let place = Place { file: file.id, span: Span::new(at, at) };
                let path = contract.path(contract.component_at(place));
                assert!(
                    contract.find(path.as_str()).is_ok() || path.as_str() == "contract",
                    "{name}: {path}"
                );
            }
        }
    }
}

#[test]
fn a_path_with_a_slip_is_answered_with_the_right_one() {
    for (name, contract) in contracts() {
        let (mut slips, mut answered) = (0, 0);
        for (_, operation) in contract.operations() {
            let right = format!("operation/{}", operation.name.text);
            let wrong = format!("{}x", &right[..right.len() - 1]);
            if contract.find(&wrong).is_ok() {
                continue;
            }
            slips += 1;
            let error = contract.find(&wrong).unwrap_err();
            answered += usize::from(error.to_string().contains(&wrong));
            if let charter_contract::PathError::Missing { nearest, .. } = error {
                assert!(nearest.is_some(), "{name}: {wrong}");
            }
        }
        assert_eq!(slips, answered, "{name}");
    }
}

#[test]
fn shapes_go_the_way_that_their_sides_say() {
    for (name, contract) in contracts().filter(|(name, _)| *name != "draft") {
        let mut shaped = 0;
        for (id, operation) in contract.operations() {
            for (side, _) in operation.sides() {
                for offer in contract.bound(id) {
                    let Ok(shape) = contract.shape_of(id, side, offer) else { continue };
                    shaped += 1;
                    let wanted = if side == Side::Input { Direction::Request } else { Direction::Reply };
                    let path = contract.path(Component::OperationSide(id, side));
                    assert_eq!(shape.direction, wanted, "{name} {path}");
                    assert_eq!(shape.is_request(), side == Side::Input);
                    assert_eq!(shape.fault().is_some(), matches!(side, Side::Fault(_)), "{name} {path}");
                    let address = offer.port.and_then(|port| contract.port(port).address());
                    if side == Side::Input && matches!(shape.carrier, Carrier::Soap(_)) {
                        assert_eq!(shape.address.as_deref(), address.map(|it| &*it.text), "{name} {path}");
                    }
                    // Only the detail of a fault may be of a type alone.
                    for content in shape.contents() {
                        let named = !content.name(&contract.schemas).local.is_empty();
                        assert!(named || shape.fault().is_some(), "{name} {path}");
                    }
                }
            }
        }
        assert!(shaped > 10, "{name}: {shaped}");
    }
}

#[test]
fn bindings_know_their_version_of_soap() {
    let versions = |contract: &Contract| -> Vec<Option<SoapVersion>> {
        contract.bindings.ids().map(|id| contract.protocol(id).map(|(version, _)| version)).collect()
    };
    for (name, contract) in contracts() {
        let found = versions(&contract);
        match name {
            "v1" | "v2" | "v3" => assert_eq!(found, [Some(SoapVersion::V11), Some(SoapVersion::V12)]),
            "office" => {
                assert_eq!(found.iter().filter(|version| version.is_none()).count(), 3);
                let plain = contract.bindings.ids().filter(|id| contract.is_http(*id)).count();
                assert_eq!(plain, 3);
            }
            _ => assert!(!found.is_empty()),
        }
    }
}
