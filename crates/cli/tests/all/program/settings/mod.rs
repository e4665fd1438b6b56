//! Every property that can be set, of every kind of component: the lines that change, and the way back.

mod table;

use similar::{ChangeTag, TextDiff};

pub use self::table::PORT;
use self::table::{REFUSED, SETTINGS, Setting};
use crate::program::folder::Folder;

fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("port.charter", PORT);
    folder.run("new --from port.charter -o port.wsdl").ends(0);
    folder
}

/// A word as the command line of a test has it.
fn word(text: &str) -> String {
    text.replace(' ', "~")
}

/// The lines that go and those that come, without their indentation.
fn changed(before: &str, after: &str) -> (Vec<String>, Vec<String>) {
    let diff = TextDiff::from_lines(before, after);
    let of = |tag| {
        let lines = diff.iter_all_changes().filter(|change| change.tag() == tag);
        lines.map(|change| change.value().trim().to_owned()).collect()
    };
    (of(ChangeTag::Delete), of(ChangeTag::Insert))
}

#[test]
fn a_setting_changes_its_lines_and_can_be_taken_back() {
    let folder = folder();
    let before = folder.read("port.wsdl");
    for Setting { path, setting, back, gone, come } in SETTINGS {
        folder.write("port.wsdl", &before);
        folder.run(&format!("set port.wsdl {path} {}", word(setting))).ends(0);
        let after = folder.read("port.wsdl");
        let (was, is) = changed(&before, &after);
        assert_eq!((was.join("\n"), is.join("\n")), (gone.join("\n"), come.join("\n")), "{path} {setting}");
        if let Some(back) = back {
            let (key, _) = setting.split_once('=').unwrap();
            folder.run(&format!("set port.wsdl {path} {key}={}", word(back))).ends(0);
            assert_eq!(folder.read("port.wsdl"), before, "{path} {key}={back}");
        }
    }
}

#[test]
fn a_setting_of_a_file_of_notation_says_the_same() {
    let folder = folder();
    let before = folder.read("port.wsdl");
    for Setting { path, setting, .. } in SETTINGS {
        folder.write("port.wsdl", &before);
        folder.run(&format!("set port.wsdl {path} {}", word(setting))).ends(0);
        folder.write("port.charter", PORT);
        folder.run(&format!("set port.charter {path} {}", word(setting))).ends(0);
        let run = folder.run("compare port.wsdl port.charter --surface code --format json").ends(0);
        assert_eq!(
            run.json()["changes"],
            serde_json::json!([]),
            "{path} {setting}\n{}",
            folder.read("port.charter")
        );
    }
}

#[test]
fn what_is_so_already_changes_nothing() {
    let folder = folder();
    let before = folder.read("port.wsdl");
    for same in [
        "type/Vessel/name type=string",
        "type/Vessel/name occurs=1",
        "type/Vessel/name form=qualified",
        "type/Vessel/@flag occurs=?",
        "type/Vessel/@flag use=optional",
        "type/Depth digits=4",
        "contract elements=qualified",
        "binding/PortOverSoap11 style=document",
    ] {
        let run = folder.run(&format!("set port.wsdl {same}")).ends(0);
        assert!(run.err.contains("nothing changes: it is so already"), "{same}: {}", run.err);
        assert_eq!(folder.read("port.wsdl"), before, "{same}");
    }
}

#[test]
fn what_cannot_be_set_is_refused_and_nothing_changes() {
    let folder = folder();
    for file in ["port.wsdl", "port.charter"] {
        let before = folder.read(file);
        for (path, setting, said) in REFUSED {
            let run = folder.run(&format!("set {file} {path} {}", word(setting))).ends(2);
            run.complains(&format!("charter: {file}: {said}\n"));
            assert_eq!(folder.read(file), before, "{path} {setting}");
        }
    }
}
