//! Components under other names: what the command does and undoes, and what a comparison of the two says of it.

use serde_json::Value;

use crate::program::folder::Folder;
use crate::program::settings::PORT;

/// A component, whether what is named after it keeps its name, the verdict and the one change for messages, and the verdict
/// for generated code.
type Case = (&'static str, bool, &'static str, Option<(&'static str, &'static str)>, &'static str);

const CASES: &[Case] = &[
    // What is not on the wire.
    ("type/Vessel", false, "keeps", Some(("keeps", "type-renamed")), "bends"),
    ("type/Kind", false, "keeps", Some(("keeps", "type-renamed")), "bends"),
    ("type/Sign", false, "keeps", Some(("keeps", "type-renamed")), "bends"),
    ("element/craft", false, "keeps", Some(("keeps", "element-renamed")), "bends"),
    ("element/note", false, "keeps", Some(("keeps", "element-renamed")), "bends"),
    ("attribute/unit", false, "keeps", None, "keeps"),
    ("attribute-group/Marks", false, "keeps", None, "keeps"),
    ("group/Hull", false, "keeps", None, "keeps"),
    ("message/dockInput", false, "keeps", None, "keeps"),
    ("message/PassHeader", false, "keeps", None, "keeps"),
    ("message/PassHeader/part/pass", false, "keeps", None, "keeps"),
    ("message/FullFault", false, "keeps", None, "keeps"),
    ("binding/PortOverSoap11", false, "keeps", None, "keeps"),
    ("message/dockInput/part/parameters", false, "keeps", None, "bends"),
    ("port-type/Port", false, "keeps", None, "bends"),
    ("service/PortService", false, "keeps", Some(("keeps", "service-renamed")), "bends"),
    ("service/PortService/port/PortPort12", false, "keeps", Some(("keeps", "port-renamed")), "bends"),
    ("operation/dock/fault/Full", true, "keeps", Some(("keeps", "fault-renamed")), "bends"),
    ("operation/leave", true, "keeps", Some(("keeps", "operation-renamed")), "bends"),
    // What is.
    ("type/Tanker", false, "breaks", Some(("breaks", "derived-changed")), "breaks"),
    ("operation/dock", false, "breaks", Some(("breaks", "operation-renamed")), "breaks"),
    ("operation/dock/fault/Full", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("element/Pass", false, "breaks", Some(("breaks", "header-renamed")), "breaks"),
    ("element/dock", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("element/dock/vessel", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("element/dockResponse/berth", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("element/Full", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("element/Full/until", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("type/Vessel/name", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("type/Vessel/draught", false, "breaks", Some(("breaks", "element-renamed")), "breaks"),
    ("type/Vessel/@flag", false, "breaks", Some(("breaks", "attribute-renamed")), "breaks"),
    ("type/Vessel/@home", false, "breaks", Some(("breaks", "attribute-renamed")), "breaks"),
];

fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("port.charter", PORT);
    folder.run("new --from port.charter -o old.wsdl").ends(0);
    folder
}

fn compared(folder: &Folder, rest: &str) -> Value {
    folder.run(&format!("compare old.wsdl new.wsdl --format json{rest}")).json()
}

#[test]
fn another_name_is_one_change_and_told_as_such() {
    let folder = folder();
    folder.write("new.wsdl", "");
    for (path, only, verdict, change, of_code) in CASES {
        folder.write("new.wsdl", folder.read("old.wsdl"));
        let only = if *only { " --only" } else { "" };
        folder.run(&format!("rename new.wsdl {path} Pennant{only}")).ends(0);
        folder.run("check new.wsdl").ends(0);
        let json = compared(&folder, "");
        assert_eq!(json["verdict"], *verdict, "{path}: {json:#}");
        let changes = json["changes"].as_array().unwrap();
        let told: Vec<(&str, &str)> = changes
            .iter()
            .map(|change| (change["verdict"].as_str().unwrap(), change["rule"].as_str().unwrap()))
            .collect();
        assert_eq!(told, change.iter().copied().collect::<Vec<_>>(), "{path}: {json:#}");
        for change in changes {
            let message = change["message"].as_str().unwrap();
            let old = path.rsplit('/').next().unwrap();
            assert!(message.contains(old) && message.contains("Pennant"), "{path}: {message}");
            assert!(change["verdict"] != "breaks" || !change["witness"].is_null(), "{path}: {change:#}");
        }
        assert_eq!(compared(&folder, " --surface code")["verdict"], *of_code, "{path}");
        // The way back.
        let (around, name) = path.rsplit_once('/').unwrap();
        let at = if name.starts_with('@') { "@" } else { "" };
        folder
            .run(&format!("rename new.wsdl {around}/{at}Pennant {}{only}", name.trim_start_matches('@')))
            .ends(0);
        assert_eq!(folder.read("new.wsdl"), folder.read("old.wsdl"), "{path}");
    }
}

#[test]
fn the_message_that_shows_another_name_is_right_by_one_version_alone() {
    let folder = folder();
    for path in [
        "type/Tanker",
        "operation/dock",
        "element/dock",
        "type/Vessel/name",
        "type/Vessel/@flag",
        "type/Vessel/@home",
        "element/dockResponse/berth",
    ] {
        folder.write("new.wsdl", folder.read("old.wsdl"));
        folder.run(&format!("rename new.wsdl {path} Pennant")).ends(0);
        let json = compared(&folder, "");
        let witness = &json["changes"][0]["witness"];
        folder.write("body.xml", witness["body"].as_str().unwrap());
        let (accepts, refuses) =
            if witness["accepted_by"] == "old" { ("old", "new") } else { ("new", "old") };
        folder.run(&format!("match {accepts}.wsdl body.xml")).ends(0);
        folder.run(&format!("match {refuses}.wsdl body.xml")).ends(1);
    }
}

#[test]
fn several_operations_that_are_built_the_same_are_told_apart_by_their_names() {
    let folder = Folder::empty();
    let text = |names: &[&str]| {
        let operations: Vec<String> = names
            .iter()
            .map(|name| {
                format!("operation {name} {{ input {{ berth: string }} output {{ done: boolean }} }}")
            })
            .collect();
        format!(
            "contract Port \"urn:saltmere:port:1\" {{\n{}\nbinding PortOverSoap11 = soap 1.1 document literal\nservice PortService {{ port PortPort = PortOverSoap11 at \"https://port.saltmere.example/\" }}\n}}\n",
            operations.join("\n")
        )
    };
    let told = |old: &[&str], new: &[&str]| -> Vec<String> {
        folder.write("old.charter", text(old));
        folder.write("new.charter", text(new));
        let json = folder.run("compare old.charter new.charter --format json").json();
        let line = |change: &Value| {
            let confidence = change["confidence"].as_str().map(|sure| format!(" {sure}")).unwrap_or_default();
            format!("{} {}{confidence}", change["rule"].as_str().unwrap(), change["path"].as_str().unwrap())
        };
        json["changes"].as_array().unwrap().iter().map(line).collect()
    };
    assert_eq!(told(&["light"], &["lamp"]), ["operation-renamed operation/lamp sure"]);
    let several = told(&["openLock", "closeLock"], &["openLocks", "shutLock"]);
    assert_eq!(
        several,
        ["operation-renamed operation/openLocks likely", "operation-renamed operation/shutLock sure"]
    );
    // Neither name says which became which.
    let several = told(&["light", "dim"], &["moor", "weigh"]);
    assert_eq!(
        several,
        [
            "operation-removed operation/light",
            "operation-removed operation/dim",
            "operation-added operation/moor",
            "operation-added operation/weigh",
        ]
    );
}

#[test]
fn attributes_of_a_reply_break_every_reader_under_another_name() {
    let folder = Folder::empty();
    let text = |attribute: &str| {
        format!(
            "contract Port \"urn:saltmere:port:1\" {{\noperation dock {{ input {{ berth: string }} output {{ at: time, {attribute} }} }}\nbinding PortOverSoap11 = soap 1.1 document literal\nservice PortService {{ port PortPort = PortOverSoap11 at \"https://port.saltmere.example/\" }}\n}}\n"
        )
    };
    folder.write("old.charter", text("@zone: string?"));
    folder.write("new.charter", text("@offset: string?"));
    for reader in ["", " --reader strict", " --reader lenient"] {
        let json =
            folder.run(&format!("compare old.charter new.charter --format json{reader}")).ends(1).json();
        let changes = json["changes"].as_array().unwrap();
        assert_eq!(changes.len(), 1, "{json:#}");
        assert_eq!(
            (&changes[0]["verdict"], &changes[0]["rule"]),
            (&"breaks".into(), &"attribute-renamed".into())
        );
        assert_eq!(changes[0]["confidence"], "sure");
    }
    // Another type as well: one that is gone and one that is new, which readers may ignore.
    folder.write("new.charter", text("@offset: int?"));
    let json = folder.run("compare old.charter new.charter --format json").ends(0).json();
    let rules: Vec<&str> =
        json["changes"].as_array().unwrap().iter().map(|change| change["rule"].as_str().unwrap()).collect();
    assert_eq!(rules, ["attribute-removed", "attribute-added"], "{json:#}");
    // Another spelling is most likely the same.
    folder.write("new.charter", text("@zones: int?"));
    let json = folder.run("compare old.charter new.charter --format json").ends(1).json();
    assert_eq!(json["changes"][0]["confidence"], "possible", "{json:#}");
}

#[test]
fn consumers_are_met_under_the_names_that_they_know() {
    let folder = folder();
    for (name, rest) in [
        (
            "Docks",
            "[operations.dock]\nsends = [\"vessel/name\"]\nreads = [\"berth\", \"$fault/Full/until\"]\n",
        ),
        ("Leaves", "[operations.leave]\nsends = [\"vessel/name\"]\nreads = [\"at\"]\n"),
        ("Flags", "[operations.leave]\nsends = [\"vessel/@flag\"]\nreads = []\n"),
    ] {
        folder.write(&format!("consumers/{name}.toml"), format!("name = \"{name}\"\n{rest}"));
    }
    let met = |renames: &[(&str, &str)]| -> Vec<String> {
        folder.write("new.wsdl", folder.read("old.wsdl"));
        for (path, name) in renames {
            folder.run(&format!("rename new.wsdl {path} {name}")).ends(0);
        }
        let json = compared(&folder, " --consumers consumers");
        let consumers = json["consumers"].as_array().unwrap().iter();
        let met = consumers.filter(|one| one["verdict"] == "breaks");
        met.map(|one| one["name"].as_str().unwrap().to_owned()).collect()
    };
    assert_eq!(met(&[("operation/dock", "moor")]), ["Docks"]);
    assert_eq!(met(&[("operation/leave", "sail")]), ["Flags", "Leaves"]);
    assert_eq!(met(&[("type/Vessel/@flag", "pennant")]), ["Flags"]);
    assert_eq!(met(&[("type/Vessel/name", "shipName")]), ["Docks", "Leaves"]);
    assert_eq!(met(&[("element/Full/until", "ends")]), ["Docks"]);
    assert_eq!(met(&[("element/Pass", "Permit")]), ["Docks"]);
    assert_eq!(met(&[("type/Kind", "Sort"), ("service/PortService", "Quays")]), Vec::<String>::new());
}

#[test]
fn a_file_of_notation_has_paths_and_no_places() {
    let folder = folder();
    folder.write("new.charter", PORT.replace("tanks: int", "tanks: byte"));
    for (old, new) in
        [("old.wsdl", "new.charter"), ("new.charter", "old.wsdl"), ("port.charter", "new.charter")]
    {
        let json = folder.run(&format!("compare {old} {new} --format json")).json();
        let change = &json["changes"][0];
        assert_eq!(change["path"], "type/Tanker/tanks", "{json:#}");
        assert_eq!(change["old_place"].is_null(), old.ends_with(".charter"), "{old}");
        assert_eq!(change["new_place"].is_null(), new.ends_with(".charter"), "{new}");
        folder.run(&format!("compare {old} {new}")).says("type/Tanker/tanks").lacks(".charter:");
        folder.run(&format!("compare {old} {new} --format sarif")).says("\"ruleId\"");
        folder.run(&format!("compare {old} {new} --as page")).says("tanks").lacks(".charter:");
    }
}

#[test]
fn an_operation_or_a_side_that_one_version_alone_has_is_shown() {
    let folder = folder();
    let before = folder.read("old.wsdl");
    folder.write("new.wsdl", &before);
    folder.run("remove new.wsdl operation/leave").ends(0);
    let json = compared(&folder, "");
    let change = &json["changes"][0];
    assert_eq!((&change["rule"], &change["path"]), (&"operation-removed".into(), &"operation/leave".into()));
    let witness = &change["witness"];
    assert!(witness["body"].as_str().unwrap().starts_with("<leave "), "{witness:#}");
    assert_eq!((&witness["accepted_by"], &witness["side"]), (&"old".into(), &"input".into()));
    // A reply that is gone, and one that is new.
    folder.write("new.wsdl", &before);
    folder.run("remove new.wsdl operation/leave/output").ends(0);
    for (old, new, accepts) in [("old", "new", "old"), ("new", "old", "new")] {
        let json = folder.run(&format!("compare {old}.wsdl {new}.wsdl --format json")).ends(1).json();
        let change = &json["changes"][0];
        assert_eq!(change["rule"], if old == "old" { "side-removed" } else { "side-added" }, "{json:#}");
        let witness = &change["witness"];
        assert!(witness["body"].as_str().unwrap().starts_with("<leaveResponse "), "{witness:#}");
        assert_eq!(witness["accepted_by"], accepts, "{witness:#}");
    }
}

#[test]
fn what_stands_in_the_place_of_something_is_told_once() {
    let folder = Folder::empty();
    let text = |element: &str, derived: &str| {
        format!(
            "contract Port \"urn:saltmere:port:1\" {{\ntype Craft {{ name: string }}\ntype {derived} extends Craft {{ tanks: int }}\nelement craft: Craft\ntype Pull {{ tonnes: int }}\nelement {element}: Pull replaces other\nelement other: Pull\noperation dock {{ input {{ element craft, element other }} output {{ at: time }} }}\nbinding PortOverSoap11 = soap 1.1 document literal\nservice PortService {{ port PortPort = PortOverSoap11 at \"https://port.saltmere.example/\" }}\n}}\n"
        )
    };
    folder.write("old.charter", text("tug", "Tanker"));
    for (element, derived, rule, message) in [
        ("tug", "Oiler", "derived-changed", "the type \"Tanker\" is now \"Oiler\", and stands in its place"),
        (
            "tender",
            "Tanker",
            "substitutes-changed",
            "the element \"tug\" is now \"tender\", and stands in its place",
        ),
    ] {
        folder.write("new.charter", text(element, derived));
        let json = folder.run("compare old.charter new.charter --format json").ends(1).json();
        let changes = json["changes"].as_array().unwrap();
        assert_eq!(changes.len(), 1, "{json:#}");
        let told = (&changes[0]["rule"], &changes[0]["message"], &changes[0]["confidence"]);
        assert_eq!(told, (&rule.into(), &message.into(), &"sure".into()));
        assert!(changes[0]["witness"]["body"].is_string(), "{json:#}");
    }
}

#[test]
fn thousands_of_other_names_are_told_once_each() {
    let folder = Folder::empty();
    let text = |suffix: &str| {
        let types: String = (0..3_000)
            .map(|n| {
                format!(
                    "type T{n}{suffix} = string length ..{}\nelement e{n}{suffix}: int range {n}..\n",
                    n + 1
                )
            })
            .collect();
        format!(
            "contract Port \"urn:saltmere:port:1\" {{\n{types}operation dock {{ input {{ berth: string }} output {{ at: time }} }}\nbinding PortOverSoap11 = soap 1.1 document literal\nservice PortService {{ port PortPort = PortOverSoap11 at \"https://port.saltmere.example/\" }}\n}}\n"
        )
    };
    folder.write("old.charter", text(""));
    folder.write("new.charter", text("Now"));
    folder.run("new --from old.charter -o old.wsdl").ends(0);
    folder.run("new --from new.charter -o new.wsdl").ends(0);
    let json = folder.run("compare old.wsdl new.wsdl --format json").ends(0).json();
    let changes = json["changes"].as_array().unwrap();
    assert_eq!(changes.len(), 6_000);
    assert!(
        changes.iter().all(|change| change["rule"].as_str().unwrap().ends_with("-renamed")),
        "{:#}",
        changes[0]
    );
}

#[test]
fn what_is_left_out_of_a_report_is_not_denied() {
    let folder = folder();
    folder.write("new.wsdl", folder.read("old.wsdl"));
    folder.run("set new.wsdl type/Vessel/draught range=0..40").ends(0);
    for rest in ["", " --only breaks", " --operation leave --only bends"] {
        folder
            .run(&format!("compare old.wsdl new.wsdl{rest}"))
            .ends(0)
            .says("keeps  all that consumers of the old version do still works")
            .lacks("nothing that consumers can see");
    }
    // An operation as a whole is asked for by its old name and by its new one.
    folder.run("rename new.wsdl operation/leave sail").ends(0);
    for name in ["leave", "sail"] {
        let run = folder.run(&format!("compare old.wsdl new.wsdl --operation {name}")).ends(1);
        run.says("the operation \"leave\" is now \"sail\"").lacks("type/Vessel/draught");
    }
    // What is asked of one operation is answered of that one.
    folder
        .run("compare old.wsdl new.wsdl --operation dock")
        .ends(0)
        .says("type/Vessel/draught")
        .lacks("sail");
}
