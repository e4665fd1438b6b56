//! The ways out that `charter compare` names: the commands work as they stand there, and so does the diff of all.

use std::process::Command;

use charter_compare::kinds;
use serde_json::Value;

use crate::program::folder::{Folder, contract};

const V2: &str = "saltmere/v2/pilotage.wsdl";
const V3: &str = "saltmere/v3/pilotage.wsdl";

/// Runs a line as a shell does, with the program on its path.
fn shell(folder: &Folder, line: &str) {
    let program = std::path::Path::new(env!("CARGO_BIN_EXE_charter"));
    let path = format!("{}:{}", program.parent().unwrap().display(), std::env::var("PATH").unwrap());
    let done = Command::new("sh")
        .args(["-c", line])
        .current_dir(folder.path(""))
        .env("PATH", path)
        .output()
        .unwrap();
    let (out, err) = (String::from_utf8_lossy(&done.stdout), String::from_utf8_lossy(&done.stderr));
    assert!(done.status.success(), "{line}\n{out}\n{err}");
}

fn breaking(json: &Value) -> Vec<&Value> {
    json["changes"].as_array().unwrap().iter().filter(|change| change["verdict"] == "breaks").collect()
}

#[test]
fn the_commands_work_as_they_stand_there() {
    let folder = Folder::empty();
    let (mut made, mut seen) = (0, Vec::new());
    for entry in kinds() {
        let texts = [entry.example.old_whole(), entry.example.new_whole()];
        for (old, new) in [(0, 1), (1, 0)] {
            folder.write("old.wsdl", &texts[old]);
            folder.write("new.wsdl", &texts[new]);
            let json = folder.run("compare old.wsdl new.wsdl --format json").json();
            for change in breaking(&json) {
                let Some(command) = change["way_out"]["command"].as_str() else { continue };
                // Those that open an editor, or print a diff, are for a person.
                if command.starts_with("charter edit") || command.starts_with("charter compare") {
                    continue;
                }
                folder.write("new.wsdl", &texts[new]);
                shell(&folder, command);
                made += 1;
                seen.push(command.split(' ').nth(1).unwrap().to_owned());
                let after = folder.run("compare old.wsdl new.wsdl --format json").json();
                let is_same =
                    |it: &&Value| it["path"] == change["path"] && it["message"] == change["message"];
                let left = breaking(&after).into_iter().find(is_same).cloned();
                assert_eq!(left, None, "{}: {command}", entry.kind);
            }
        }
    }
    seen.sort();
    seen.dedup();
    assert_eq!(seen, ["add", "set"]);
    assert!(made > 20, "{made}");
}

#[test]
fn a_report_says_what_would_keep_each_change_that_breaks() {
    let folder = Folder::with_demo();
    folder
        .run(&format!("compare {V2} {V3}"))
        .ends(1)
        .says("way out: put \"outer anchorage\" back; then it keeps\n")
        .says("charter set saltmere/v3/pilotage.wsdl type/PageSize range=1..500\n")
        .says("way out: keep \"pilot\", and offer \"assignedPilot\" beside it; then it bends\n         pilot: Pilot?\n");
    let json = folder.run(&format!("compare {V2} {V3} --format json")).json();
    for change in json["changes"].as_array().unwrap() {
        assert_eq!(change.get("way_out").is_some(), change["verdict"] == "breaks", "{change}");
    }
    let page = folder.run(&format!("compare {V2} {V3} --as page")).out;
    assert_eq!(page.matches("<b>Way out</b>").count(), 4, "{page}");
    // So does one that shows messages beside each other.
    folder.run(&format!("compare {V2} {V3} --side-by-side")).says("way out: put \"outer anchorage\" back");
    // Notes are for consumers, who cannot change the contract.
    folder.run(&format!("compare {V2} {V3} --as notes")).lacks("way out").lacks("charter set");
}

#[test]
fn all_ways_out_are_one_diff_of_the_new_version() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("compare {V2} {V3} --way-out")).ends(1);
    assert_eq!(run.err, "saltmere/v3/pilotage.wsdl: 4 of 4 changes that break have a way out\n");
    folder.write("ways.diff", &run.out);
    folder.git(&["apply", "-p0", "ways.diff"]);
    folder.run(&format!("compare {V2} {V3}")).ends(0).says("bends  it works on the wire");
    folder.run(&format!("check {V3}")).ends(0);
    // Nothing is left to be mended.
    let run = folder.run(&format!("compare {V2} {V3} --way-out")).ends(0);
    assert_eq!((run.out.as_str(), run.err.as_str()), ("", "saltmere/v3/pilotage.wsdl: nothing breaks\n"));
}

#[test]
fn where_there_is_no_way_out_it_says_why_once() {
    let folder = Folder::empty();
    let two = |value: &str| contract(&[("name=\"gauge\"", &format!("name=\"gauge\" default=\"{value}\""))]);
    folder.write("old.wsdl", two("north"));
    folder.write("new.wsdl", two("south"));
    folder.run("compare old.wsdl new.wsdl").ends(1).says(
        "no way out: what is left out can mean only one value: offer the new meaning under another name\n",
    );
    let run = folder.run("compare old.wsdl new.wsdl --way-out").ends(1);
    assert_eq!(run.out, "");
    assert!(run.err.contains("0 of 1 changes that break have a way out"), "{}", run.err);
}

#[test]
fn a_file_of_notation_and_a_revision_in_git_are_not_changed_by_commands() {
    let folder = Folder::with_demo();
    shell(
        &folder,
        "charter show saltmere/v2/pilotage.wsdl > old.charter && charter show saltmere/v3/pilotage.wsdl > new.charter",
    );
    folder.run("compare old.charter new.charter").ends(1).says("is no longer allowed").lacks("way out");
    shell(
        &folder,
        "git init -q && git add saltmere && git -c user.name=Ines -c user.email=ines@saltmere.example commit -qm all",
    );
    folder
        .run(&format!("compare {V2} HEAD:{V3}"))
        .ends(1)
        .says("way out: put \"outer anchorage\" back")
        .lacks("charter set");
}

#[test]
fn the_diff_goes_alone() {
    let folder = Folder::with_demo();
    for also in ["--as page", "--side-by-side", "--all"] {
        folder.run(&format!("compare {V2} {V3} --way-out {also}")).ends(2);
    }
    folder
        .run(&format!("compare {V2} {V3} --way-out --format json"))
        .ends(2)
        .complains("--way-out gives a diff");
}
