//! Names that go to another namespace together: one change, whatever it reaches; and what else changed beside it.

use serde_json::Value;

use crate::program::folder::Folder;
use crate::program::settings::PORT;

/// A folder with the contract, and a revision of it by some settings.
fn revised(settings: &[&str]) -> Folder {
    let folder = Folder::empty();
    folder.write("port.charter", PORT);
    folder.run("new --from port.charter -o old.wsdl").ends(0);
    folder.write("new.wsdl", folder.read("old.wsdl"));
    for setting in settings {
        folder.run(&format!("set new.wsdl {setting}")).ends(0);
    }
    folder
}

/// What a comparison says, as `verdict rule path`, with its changes.
fn told(folder: &Folder, rest: &str) -> (Vec<String>, Vec<Value>) {
    let json = folder.run(&format!("compare old.wsdl new.wsdl --format json{rest}")).json();
    let changes = json["changes"].as_array().unwrap().clone();
    let line = |change: &Value| {
        let text = |key: &str| change[key].as_str().unwrap().to_owned();
        format!("{} {} {}", text("verdict"), text("rule"), text("path"))
    };
    (changes.iter().map(line).collect(), changes)
}

#[test]
fn a_new_target_namespace_is_one_change() {
    let folder = revised(&["contract namespace=urn:saltmere:port:2"]);
    let (lines, changes) = told(&folder, "");
    assert_eq!(lines, ["breaks namespace-moved contract"]);
    let change = &changes[0];
    let message = change["message"].as_str().unwrap();
    let said = "\"urn:saltmere:port:1\" is now \"urn:saltmere:port:2\", with 9 elements, 6 types, 1 header block and 4 actions";
    assert_eq!(message, said);
    let sides: Vec<String> = change["operations"]
        .as_array()
        .unwrap()
        .iter()
        .map(|it| format!("{} {}", it["operation"].as_str().unwrap(), it["side"].as_str().unwrap()))
        .collect();
    for side in ["dock input", "dock output", "dock fault Full", "leave input", "leave output"] {
        assert!(sides.iter().any(|known| known == side), "{side} is not in {sides:?}");
    }
    assert_eq!(sides.len(), 5, "{sides:?}");
    // It is shown, and the two versions part where it says.
    folder.write("body.xml", change["witness"]["body"].as_str().unwrap());
    let (accepts, refuses) =
        if change["witness"]["accepted_by"] == "old" { ("old", "new") } else { ("new", "old") };
    folder.run(&format!("match {accepts}.wsdl body.xml")).ends(0);
    folder.run(&format!("match {refuses}.wsdl body.xml")).ends(1);
}

#[test]
fn what_changed_beside_the_namespace_is_told_as_well() {
    let folder = revised(&[
        "contract namespace=urn:saltmere:port:2",
        "type/Vessel/draught range=0..20",
        "type/Vessel/tug occurs=0..3",
    ]);
    let (lines, changes) = told(&folder, "");
    let expected = [
        "breaks namespace-moved contract",
        "breaks range-narrowed type/Vessel/draught",
        "breaks occurrence-tightened type/Vessel/tug",
    ];
    assert_eq!(lines, expected, "{changes:#?}");
    // The move is shown by a message in the old names, all else by messages of consumers that have moved.
    for (change, namespace) in changes.iter().zip(["port:1", "port:2", "port:2"]) {
        let witness = &change["witness"];
        assert!(witness["body"].as_str().unwrap().contains(namespace), "{witness:#}");
    }
    let text = folder.run("compare old.wsdl new.wsdl").ends(1).out;
    assert!(
        text.starts_with(
            "breaks every consumer must move to \"urn:saltmere:port:2\"; beyond that, 2 changes break\n"
        ),
        "{text}"
    );
}

#[test]
fn local_names_that_gain_or_lose_their_namespace_are_one_change() {
    for (setting, said) in [
        ("contract elements=unqualified", "local elements are no longer in \"urn:saltmere:port:1\""),
        ("contract attributes=qualified", "3 local attributes are in \"urn:saltmere:port:1\" now"),
    ] {
        let folder = revised(&[setting]);
        let (lines, changes) = told(&folder, "");
        assert_eq!(lines, ["breaks namespace-moved contract"], "{setting}");
        assert!(changes[0]["message"].as_str().unwrap().ends_with(said), "{:#}", changes[0]);
    }
    // All else is told beyond it, in the new names.
    let folder = revised(&["contract elements=unqualified", "type/Vessel/name occurs=2"]);
    let run = folder.run("compare old.wsdl new.wsdl").ends(1);
    let head = "local elements out of \"urn:saltmere:port:1\"; beyond that, 1 change breaks";
    run.says("breaks every consumer must move ")
        .says(head)
        .says("type/Vessel/name")
        .says("<name>")
        .says("no way out: the schema says it of all its local names");
    let notes = folder.run("compare old.wsdl new.wsdl --as notes").ends(1);
    let page = folder.run("compare old.wsdl new.wsdl --as page").ends(1);
    page.says("local elements are no longer in")
        .says("elementFormDefault")
        .lacks("one thing under two names");
    // A typical message shows where its names are, today and from now on.
    notes
        .says("names in what you send and read are in another namespace")
        .says("<dock xmlns=\"urn:saltmere:port:1\">")
        .says("<port:dock xmlns:port=\"urn:saltmere:port:1\">");
    // One alone is told where it stands.
    let (lines, _) = told(&revised(&["type/Vessel/name form=unqualified"]), "");
    assert_eq!(lines, ["breaks element-renamed type/Vessel/name"]);
    let (lines, changes) = told(&revised(&["type/Vessel/@flag form=qualified"]), "");
    assert_eq!(lines, ["breaks attribute-renamed type/Vessel/@flag"]);
    assert_eq!(changes[0]["message"], "\"@flag\" moved from the namespace \"\" to \"urn:saltmere:port:1\"");
}

#[test]
fn who_reads_by_local_names_does_not_notice_another_namespace_in_replies() {
    let folder = revised(&["contract namespace=urn:saltmere:port:2"]);
    for (name, reading) in [("Names", "name"), ("Lenient", "lenient"), ("Strict", "strict")] {
        for (what, sends) in [("Sends", "sends = [\"vessel/name\"]"), ("Reads", "")] {
            let record = format!(
                "name = \"{name}{what}\"\nreading = \"{reading}\"\n[operations.leave]\n{sends}\nreads = [\"at\"]\n"
            );
            folder.write(&format!("consumers/{name}{what}.toml"), record);
        }
    }
    let json = folder.run("compare old.wsdl new.wsdl --consumers consumers --format json").ends(1).json();
    // Everybody who calls the operation sends a request.
    for consumer in json["consumers"].as_array().unwrap() {
        assert_eq!(consumer["verdict"], "breaks", "{consumer:#}");
    }
}

#[test]
fn another_style_is_one_change() {
    let folder = revised(&["binding/PortOverSoap11 style=rpc"]);
    let (lines, _) = told(&folder, "");
    assert_eq!(lines, ["breaks style-changed binding/PortOverSoap11"]);
}

#[test]
fn bounds_are_told_in_plain_words() {
    for (there, back, said, said_back) in [
        (
            "type/Vessel/name type=string~length~1..60",
            "type/Vessel/name type=string",
            &[
                "the value must have at least 1 character now",
                "the value must have at most 60 characters now",
            ][..],
            &["the value may be empty now", "the value may be of any length now"][..],
        ),
        (
            "type/Vessel/name occurs=2..5",
            "type/Vessel/name occurs=1",
            &["\"name\" must be there twice, not once and may be there at most 5 times now"],
            &["\"name\" must be there once, not twice and may no longer be repeated"],
        ),
        (
            "type/Vessel/name default=Tern",
            "type/Vessel/name default=",
            &["\"name\" now means \"Tern\" where it is empty"],
            &["\"name\" no longer means \"Tern\" where it is empty"],
        ),
        (
            "type/Vessel/@flag default=SM",
            "type/Vessel/@flag default=",
            &["\"@flag\" now means \"SM\" where it is left out"],
            &["\"@flag\" no longer means \"SM\" where it is left out"],
        ),
    ] {
        let folder = revised(&[there]);
        let messages = |folder: &Folder| -> Vec<String> {
            told(folder, "").1.iter().map(|change| change["message"].as_str().unwrap().to_owned()).collect()
        };
        assert_eq!(messages(&folder), said, "{there}");
        let (old, new) = (folder.read("old.wsdl"), folder.read("new.wsdl"));
        folder.write("old.wsdl", new);
        folder.write("new.wsdl", &old);
        assert_eq!(messages(&folder), said_back, "{back}");
        // The setting itself can be taken back.
        folder.run(&format!("set old.wsdl {back}")).ends(0);
        assert_eq!(folder.read("old.wsdl"), old, "{back}");
    }
}
