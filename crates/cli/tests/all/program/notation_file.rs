//! Contracts that are kept as notation, and edited as such.

use crate::program::folder::Folder;

const TIDES: &str = r#"# Tides of Saltmere: kept by the harbour office.
contract Tides "urn:saltmere:tides:1" {
  type Gauge {     # one pole in the water
	name: string, depth: decimal   # in metres
    # the harbour master asked for this
    lit: boolean?
  }

  # What the pilots ask.
  operation nextTide {
    input  { gauge: string }     # by its name
    output { height: decimal }
  }

  binding TidesOverSoap11 = soap 1.1 document literal
  service TidesService {
    port TidesPort = TidesOverSoap11 at "http://localhost:8080/tides"
  }
}
"#;

fn folder() -> Folder {
    let folder = Folder::empty();
    folder.write("tides.charter", TIDES);
    folder
}

fn comments(text: &str) -> Vec<&str> {
    text.lines().filter_map(|line| Some(line[line.find('#')?..].trim())).collect()
}

#[test]
fn an_edit_changes_its_lines_and_keeps_layout_and_comments() {
    let cases = [
        ("set tides.charter type/Gauge/depth type=int", "depth: decimal ", "depth: int "),
        (
            "add tides.charter --to type/Gauge sea:~string?",
            "lit: boolean?\n",
            "lit: boolean?\n    sea: string?\n",
        ),
        ("rename tides.charter type/Gauge Pole", "type Gauge", "type Pole"),
        ("rename tides.charter operation/nextTide tideAfter", "operation nextTide", "operation tideAfter"),
        (
            "set tides.charter service/TidesService/port/TidesPort address=https://tides.saltmere.example/",
            "http://localhost:8080/tides",
            "https://tides.saltmere.example/",
        ),
        ("set tides.charter contract namespace=urn:saltmere:tides:2", "tides:1\"", "tides:2\""),
    ];
    for (command, from, to) in cases {
        let folder = folder();
        folder.run(command).ends(0).says("tides.charter");
        assert_eq!(folder.read("tides.charter"), TIDES.replace(from, to), "{command}");
        folder.run("new --from tides.charter -o tides.wsdl").ends(0);
        folder.run("check tides.wsdl").ends(0);
    }
}

#[test]
fn what_is_added_and_removed_again_leaves_no_trace() {
    let folder = folder();
    folder.run("add tides.charter operation~lastTide~{~input~{~gauge:~string~}~output~{~}~}").ends(0);
    let between = folder.read("tides.charter");
    assert!(between.contains("  operation lastTide {\n    input { gauge: string }\n"), "{between}");
    assert_eq!(comments(&between), comments(TIDES));
    folder.run("remove tides.charter operation/lastTide").ends(0).says("operation/lastTide");
    assert_eq!(folder.read("tides.charter"), TIDES);
    // A comment goes with what it stands behind, and stays if it stands before.
    folder.run("remove tides.charter type/Gauge/lit").ends(0);
    let after = folder.read("tides.charter");
    assert!(!after.contains("lit:"), "{after}");
    assert_eq!(comments(&after), comments(TIDES));
}

#[test]
fn all_of_it_can_be_replaced_comments_included() {
    let folder = folder();
    let text = TIDES.replace("# What the pilots ask.", "# Asked by pilots, and by agents since spring.");
    folder.write("new.charter", &text);
    folder.run("edit tides.charter --with new.charter --dry-run").ends(0).says("+  # Asked by pilots");
    folder.run("edit tides.charter --with new.charter").ends(0).says("only the way it is written changes");
    assert_eq!(folder.read("tides.charter"), text);
    folder.run("edit tides.charter --with new.charter").ends(0);
    folder.write("new.charter", text.replace("decimal   # in", "int # in whole"));
    folder.run("edit tides.charter --with new.charter").ends(0).says("type/Gauge/depth");
    assert_eq!(folder.read("tides.charter"), text.replace("decimal   # in", "int # in whole"));
}

#[test]
fn what_cannot_be_done_leaves_the_file_alone() {
    let cases = [
        ("set tides.charter type/Guage/depth type=int", "tides.charter says what there is"),
        ("set tides.charter type/Gauge/depth type=Depth", "Depth"),
        ("remove tides.charter message/nextTideInput", "operation/nextTide/input"),
        ("rename tides.charter type/Gauge 2nd", "is not a name"),
        ("add tides.charter type~Gauge~{~}", "there is a type \"Gauge\" already"),
        ("show tides.charter", "this is notation; a contract is wanted"),
        ("check tides.charter", "this is notation; a contract is wanted"),
        ("set gone.charter contract namespace=urn:x:y", "there is no such file"),
    ];
    for (command, words) in cases {
        let folder = folder();
        folder.run(command).ends(2).complains(words);
        assert_eq!(folder.read("tides.charter"), TIDES, "{command}");
    }
    let folder = folder();
    folder.write("broken.charter", TIDES.replace("input  {", "inputt {"));
    let run = folder.run("set broken.charter type/Gauge/depth type=int").ends(2);
    assert!(run.err.contains("broken.charter:11:5: ") && run.err.contains("^^^^^^"), "{}", run.err);
}
