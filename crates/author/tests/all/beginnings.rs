//! New contracts: whatever is asked for, what comes is sound, follows its convention, and says no more than was given.

use charter_author::{Beginning, EditFailure, NewFile, SchemaPlace, new_contract, written_contract};
use charter_contract::{Contract, Side, SoapVersion, Style};
use charter_notation::{Convention, Prefixes, info_of, text_of};
use charter_source::{Limits, Location, Overlay};

const SIGNATURES: [&str; 6] = [
    "requestPilot(callSign: string, eta: dateTime) -> pilot: string",
    "moor(vessel: Vessel, berth: string?)",
    "listBerths() -> berth: Berth*",
    "report(at: dateTime, height: decimal) -> accepted: boolean",
    "leave",
    "announce(notice: string) ->",
];

fn beginning<'b>(operations: &'b [String], soap: &'b [String], convention: &'b Convention) -> Beginning<'b> {
    Beginning {
        name: "Harbour",
        namespace: "urn:saltmere:harbour:1",
        operations,
        address: None,
        soap,
        rpc: false,
        schema: SchemaPlace::Embedded,
        convention,
    }
}

fn loaded(files: &[NewFile]) -> Contract {
    let name = |file: &NewFile| file.name.clone().unwrap_or_else(|| "harbour.wsdl".to_owned());
    let names: Vec<String> = files.iter().map(name).collect();
    let texts: Vec<(&str, &str)> =
        names.iter().map(String::as_str).zip(files.iter().map(|file| file.text.as_str())).collect();
    let location = Location::from_argument(texts[0].0);
    Contract::load(&Overlay::of(&texts), &location, Limits::default()).unwrap()
}

/// The signatures that can be read, each by itself.
fn readable() -> Vec<String> {
    let convention = Convention::default();
    let fine = |signature: &&&str| {
        let operations = [(**signature).to_owned()];
        new_contract(&beginning(&operations, &[], &convention)).is_ok()
    };
    let found: Vec<String> = SIGNATURES.iter().filter(fine).map(|&signature| signature.to_owned()).collect();
    assert!(found.len() >= 5, "{found:?}");
    found
}

/// Every way to begin, with the contract that comes of it.
fn each(mut look: impl FnMut(&Beginning<'_>, &[NewFile], &Contract)) {
    let operations = readable();
    // In rpc style, every part is there once.
    let single = |signature: &&String| !signature.contains(['?', '*']);
    let rpc_operations: Vec<String> = operations.iter().filter(single).cloned().collect();
    let team = Convention {
        port_type: "PT_*".to_owned(),
        binding: "BI_*".to_owned(),
        binding_12: "BI_*_12".to_owned(),
        service: "SV_*".to_owned(),
        request_message: "MI_*".to_owned(),
        part: "body".to_owned(),
        ..Convention::default()
    };
    let usual = Convention::default();
    for versions in [&[][..], &["1.1"], &["1.2"], &["1.1", "1.2"]] {
        let soap: Vec<String> = versions.iter().map(|&version| version.to_owned()).collect();
        for convention in [&usual, &team] {
            for (rpc, schema, address) in [
                (false, SchemaPlace::Embedded, None),
                (true, SchemaPlace::Embedded, Some("https://harbour.saltmere.example/1?a=b&c")),
                (false, SchemaPlace::Beside, Some("https://harbour.saltmere.example/1")),
            ] {
                let all = if rpc { &rpc_operations } else { &operations };
                let beginning = Beginning { rpc, schema, address, ..beginning(all, &soap, convention) };
                let files = new_contract(&beginning).unwrap();
                look(&beginning, &files, &loaded(&files));
            }
        }
    }
}

#[test]
fn whatever_is_asked_for_is_sound() {
    each(|beginning, files, contract| {
        assert!(contract.faults().is_empty(), "{beginning:?}: {:?}", contract.faults());
        assert_eq!(contract.operations().count(), beginning.operations.len());
        assert_eq!(contract.services.iter().count(), 1);
        assert_eq!(files.len() > 1, beginning.schema != SchemaPlace::Embedded, "{beginning:?}");
    });
}

#[test]
fn it_is_offered_by_every_version_that_was_asked_for() {
    each(|beginning, _, contract| {
        let wanted: Vec<SoapVersion> = match beginning.soap {
            [] => vec![SoapVersion::V11],
            versions => versions
                .iter()
                .map(|version| if version == "1.2" { SoapVersion::V12 } else { SoapVersion::V11 })
                .collect(),
        };
        let style = if beginning.rpc { Style::Rpc } else { Style::Document };
        let found: Vec<_> = contract.bindings.ids().map(|id| contract.protocol(id).unwrap()).collect();
        assert_eq!(found, wanted.into_iter().map(|version| (version, style)).collect::<Vec<_>>());
        assert_eq!(contract.ports().count(), found.len());
        for (_, port) in contract.ports() {
            let address = &*port.address().unwrap().text;
            assert_eq!(address, beginning.address.unwrap_or("http://localhost:8080/harbour"));
        }
    });
}

#[test]
fn every_side_has_a_message_by_every_port() {
    each(|beginning, _, contract| {
        for (id, operation) in contract.operations() {
            for (side, _) in operation.sides() {
                assert!(contract.bound(id).count() > 0, "{beginning:?}");
                for offer in contract.bound(id) {
                    let shape = contract.shape_of(id, side, offer).unwrap();
                    assert_eq!(shape.is_request(), side == Side::Input);
                }
            }
        }
    });
}

#[test]
fn names_follow_the_convention_so_none_is_spelled_out() {
    each(|beginning, _, contract| {
        let text = text_of(&info_of(contract), &Prefixes::of(contract), beginning.convention);
        for word in ["port-type", "message ", "PT_", "MI_"] {
            assert!(!text.contains(word), "{word} is in\n{text}");
        }
        // And the way back leads to the same contract.
        let again = written_contract(&text, beginning.convention, SchemaPlace::Embedded).unwrap();
        let again = loaded(&again);
        assert!(again.faults().is_empty(), "{:?}\n{text}", again.faults());
        assert_eq!(text_of(&info_of(&again), &Prefixes::of(&again), beginning.convention), text);
    });
}

#[test]
fn types_that_nobody_has_defined_are_there_to_be_filled() {
    let operations = ["moor(vessel: Vessel, berth: Berth*) -> bill: Bill".to_owned()];
    let convention = Convention::default();
    let contract = loaded(&new_contract(&beginning(&operations, &[], &convention)).unwrap());
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    for name in ["Vessel", "Berth", "Bill"] {
        assert!(contract.find(&format!("type/{name}")).is_ok(), "{name}");
    }
}

#[test]
fn what_cannot_be_begun_says_why() {
    let convention = Convention::default();
    let refused = |operations: &[&str]| {
        let operations: Vec<String> = operations.iter().map(|&text| text.to_owned()).collect();
        new_contract(&beginning(&operations, &[], &convention))
            .err()
            .unwrap_or_else(|| panic!("{operations:?}"))
    };
    assert!(matches!(refused(&["moor", "leave", "moor"]), EditFailure::Twice(name) if name == "moor"));
    assert!(matches!(refused(&["4th"]), EditFailure::Name(_)));
    assert!(matches!(refused(&["moor(a: string"]), EditFailure::Notation(_)));
    for name in ["", "Har bour", "1st", "a:b", "Har/bour", "é\u{0}"] {
        let wrong = Beginning { name, ..beginning(&[], &[], &convention) };
        assert!(matches!(new_contract(&wrong), Err(EditFailure::Name(_))), "{name}");
    }
}
