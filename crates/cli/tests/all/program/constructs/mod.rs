//! Every construct of the notation, with the XML that it stands for; and what is said where something else stands.

mod contract;
mod schema;
mod wrong;

use self::contract::{OPERATIONS, SCHEMAS};
use self::schema::{COMPLEX, GLOBAL, SIMPLE};
use self::wrong::WRONG;
use crate::program::folder::{Folder, Run};

/// Makes the contract of a text, in a folder of its own.
fn made(content: &str) -> (Folder, Run) {
    let folder = Folder::empty();
    folder.write("port.charter", format!("contract Port \"urn:saltmere:port:1\" {{\n  {content}\n}}\n"));
    let run = folder.run("new --from port.charter -o port.wsdl");
    (folder, run)
}

/// A file without the blanks between its tags.
fn dense(text: &str) -> String {
    let mut dense = String::new();
    for line in text.lines().map(str::trim) {
        if !dense.is_empty() && !dense.ends_with('>') {
            dense.push(' ');
        }
        dense.push_str(line);
    }
    dense
}

/// What was written is shown as a text that stands for the same contract, and is shown for that as well.
fn comes_back(folder: &Folder, content: &str) {
    let shown = folder.run("show port.wsdl").ends(0);
    folder.write("again.charter", &shown.out);
    folder.run("new --from again.charter -o again.wsdl").ends(0);
    assert_eq!(folder.run("show again.wsdl").ends(0).out, shown.out, "{content}");
    let compared = folder.run("compare port.wsdl again.wsdl --surface code --format json").ends(0).json();
    assert_eq!(compared["changes"], serde_json::json!([]), "{content}\n{}", shown.out);
}

#[test]
fn schema_components_stand_for_their_xml() {
    for (content, xml) in [SIMPLE, COMPLEX, GLOBAL].concat() {
        let (folder, run) = made(content);
        run.ends(0);
        let written = dense(&folder.read("port.wsdl"));
        let (_, schema) = written.split_once("<xs:schema ").unwrap();
        let (_, schema) = schema.split_once('>').unwrap();
        let (schema, _) = schema.split_once("</xs:schema>").unwrap();
        assert_eq!(schema, xml, "{content}");
        comes_back(&folder, content);
    }
}

#[test]
fn operations_bindings_and_services_stand_for_their_xml() {
    for (content, pieces) in [OPERATIONS, SCHEMAS].concat() {
        let (folder, run) = made(content);
        run.ends(0);
        let written = dense(&folder.read("port.wsdl"));
        for piece in pieces {
            assert!(written.contains(piece), "{content}: {piece} is not in {written}");
        }
        comes_back(&folder, content);
    }
}

#[test]
fn what_stands_in_the_wrong_place_is_told_at_its_place() {
    for (content, place, wrong, help) in WRONG {
        let (folder, run) = made(content);
        let run = run.ends(2).complains(&format!("charter: port.charter:{place}: {wrong}\n"));
        assert!(
            run.err.contains(&format!("\n         {help}\n")),
            "{content}: {help:?} is not in\n{}",
            run.err
        );
        assert!(!folder.path("port.wsdl").exists(), "{content}");
    }
}

#[test]
fn what_has_no_end_is_told_where_it_begins() {
    let (_, run) = made("type Vessel {");
    run.ends(2).complains("port.charter:1:37: this block has no end");
    for (content, place) in
        [("about \"never closed", "2:9: this text has no end"), ("xml <a>", "2:7: this XML has no end")]
    {
        let (_, run) = made(content);
        assert!(run.ends(2).err.contains(place), "{content}");
    }
}
