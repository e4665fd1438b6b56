//! Removing components of every kind: what is left is sound, and what was removed can be put back.

use crate::program::folder::{Folder, Run};
use crate::program::settings::PORT;

/// What nothing else uses: it goes, and comes back as it was.
const FREE: &[&str] = &[
    "type/Sign",
    "type/Depth",
    "type/Tanker",
    "type/Place",
    "element/craft",
    "element/ferry",
    "element/note",
    "attribute/unit",
    "attribute-group/Marks",
    "group/Hull",
    "operation/dock",
    "operation/leave",
    "message/Notice",
    "service/PortService",
];

/// What is used, with each place that uses it, and all that goes with it.
const USED: &[(&str, &[&str], &[&str])] = &[
    (
        "type/Vessel",
        &["type/Tanker", "element/craft", "element/ferry", "element/dock/vessel", "element/leave/vessel"],
        &[
            "element/craft",
            "element/dock/vessel",
            "element/ferry",
            "element/leave/vessel",
            "type/Tanker",
            "type/Vessel",
        ],
    ),
    ("type/Kind", &["type/Vessel/kind"], &["type/Kind", "type/Vessel/kind"]),
    (
        "binding/PortOverSoap11",
        &["service/PortService/port/PortPort"],
        &["binding/PortOverSoap11", "service/PortService/port/PortPort"],
    ),
    (
        "port-type/Port",
        &["binding/PortOverSoap11", "binding/PortOverSoap12"],
        &[
            "binding/PortOverSoap11",
            "binding/PortOverSoap12",
            "port-type/Port",
            "service/PortService/port/PortPort",
            "service/PortService/port/PortPort12",
        ],
    ),
    (
        "message/dockInput",
        &["operation/dock/input"],
        &[
            "binding/PortOverSoap11/operation/dock",
            "binding/PortOverSoap12/operation/dock",
            "message/dockInput",
            "operation/dock",
        ],
    ),
    ("element/Pass", &["message/PassHeader/part/pass"], &["element/Pass", "message/PassHeader"]),
    (
        "operation/dock/output",
        &["operation/dock/fault/Full"],
        &[
            "binding/PortOverSoap11/operation/dock/fault/Full",
            "binding/PortOverSoap11/operation/dock/output",
            "binding/PortOverSoap12/operation/dock/fault/Full",
            "binding/PortOverSoap12/operation/dock/output",
            "element/Full",
            "element/dockResponse",
            "message/FullFault",
            "message/dockOutput",
            "operation/dock/fault/Full",
            "operation/dock/output",
        ],
    ),
];

/// A folder with the contract, twice.
fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("port.charter", PORT);
    folder.run("new --from port.charter -o port.wsdl").ends(0);
    folder.write("before.wsdl", folder.read("port.wsdl"));
    folder
}

/// The components that a run removed.
fn removed(run: &Run) -> Vec<String> {
    let lines = run.err.lines().chain(run.out.lines());
    lines.filter_map(|line| line.strip_prefix("removed ")).map(|path| path.trim().to_owned()).collect()
}

/// The contract is as sound as it was.
fn is_sound(folder: &Folder, path: &str) {
    let run = folder.run("check port.wsdl");
    assert_eq!(run.status, 0, "{path}: {}", run.out);
}

#[test]
fn what_nothing_uses_goes_and_comes_back_as_it_was() {
    let folder = folder();
    let before = folder.read("before.wsdl");
    for path in FREE {
        folder.write("port.wsdl", &before);
        let shown = folder.run(&format!("show port.wsdl {path}")).ends(0).out;
        let run = folder.run(&format!("remove port.wsdl {path}")).ends(0);
        assert!(removed(&run).iter().any(|gone| gone == path), "{path}: {}", run.err);
        is_sound(&folder, path);
        folder.run(&format!("show port.wsdl {path}")).ends(2).complains("there is no");
        folder.run(&format!("add port.wsdl {}", shown.replace(' ', "~"))).ends(0);
        let run = folder.run("compare before.wsdl port.wsdl --surface code --format json").ends(0);
        assert_eq!(run.json()["changes"], serde_json::json!([]), "{path}");
        assert_eq!(folder.run(&format!("show port.wsdl {path}")).out, shown, "{path}");
    }
}

#[test]
fn what_is_used_goes_only_with_what_uses_it() {
    let folder = folder();
    let before = folder.read("before.wsdl");
    for (path, users, gone) in USED {
        folder.write("port.wsdl", &before);
        let run = folder.run(&format!("remove port.wsdl {path}")).ends(2).complains("it is still used");
        let named: Vec<&str> = run
            .err
            .lines()
            .filter_map(|line| line.trim_start().strip_prefix("port.wsdl:"))
            .filter_map(|rest| Some(rest.split_once("  ")?.1.trim()))
            .collect();
        assert_eq!(named, *users, "{path}");
        assert_eq!(folder.read("port.wsdl"), before, "{path}");
        let run = folder.run(&format!("remove port.wsdl {path} --with-references")).ends(0);
        assert_eq!(removed(&run), *gone, "{path}");
        is_sound(&folder, path);
    }
}

#[test]
fn a_header_block_goes_with_the_element_that_it_holds() {
    let folder = folder();
    folder.run("remove port.wsdl element/Pass --with-references").ends(0);
    assert!(!folder.read("port.wsdl").contains("soap:header"));
    folder.run("message port.wsdl dock --as envelope").ends(0).lacks("Header");
    // The element is put back, and is no header block any longer: that is the one change.
    folder.run("add port.wsdl element~Pass:~string").ends(0);
    let json = folder.run("compare before.wsdl port.wsdl --format json").ends(0).json();
    let changes: Vec<&str> =
        json["changes"].as_array().unwrap().iter().map(|it| it["rule"].as_str().unwrap()).collect();
    assert_eq!(changes, ["header-removed"]);
}

#[test]
fn parts_of_components_go_by_themselves() {
    let folder = folder();
    let before = folder.read("before.wsdl");
    for path in [
        "type/Vessel/name",
        "type/Vessel/draught",
        "type/Vessel/@flag",
        "attribute-group/Marks/@seen",
        "group/Hull/beam",
        "message/Notice/part/day",
        "operation/dock/fault/Full",
        "service/PortService/port/PortPort12",
    ] {
        folder.write("port.wsdl", &before);
        folder.run(&format!("remove port.wsdl {path}")).ends(0);
        folder.run(&format!("show port.wsdl {path}")).ends(2).complains("there is no");
        is_sound(&folder, path);
        // The file of notation says the same without it.
        folder.write("port.charter", PORT);
        folder.run(&format!("remove port.charter {path}")).ends(0);
        let run = folder.run("compare port.wsdl port.charter --surface code --format json").ends(0);
        assert_eq!(run.json()["changes"], serde_json::json!([]), "{path}");
    }
}

#[test]
fn every_type_of_the_demo_goes_with_all_that_uses_it() {
    let folder = Folder::with_demo();
    for contract in ["saltmere/v1/pilotage.wsdl", "saltmere/office/harbour.wsdl"] {
        let before = folder.read(contract);
        let shown = folder.run(&format!("show {contract}")).ends(0).out;
        let types = shown.lines().filter_map(|line| line.strip_prefix("  type "));
        let names: Vec<&str> = types.filter_map(|rest| rest.split([' ', '{', '=']).next()).collect();
        assert!(names.len() > 4, "{names:?}");
        for name in names {
            folder.write(contract, &before);
            let run = folder.run(&format!("remove {contract} type/{name} --with-references"));
            match run.status {
                0 => assert!(removed(&run).contains(&format!("type/{name}")), "{name}: {}", run.err),
                // What would leave something broken behind is refused, and says what.
                _ => {
                    run.ends(2).complains("the change would do harm");
                    assert_eq!(folder.read(contract), before, "{name}");
                    continue;
                }
            }
            let run = folder.run(&format!("check {contract}"));
            assert_eq!(run.status, 0, "{contract} without {name}: {}", run.out);
        }
    }
}
