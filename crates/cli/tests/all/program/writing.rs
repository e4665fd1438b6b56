//! What is written: whole, as the file was in every other respect, and not at all without saying so.

use std::process::{Command, Stdio};

use crate::program::folder::{Folder, contract};

const SET: &str = "set tides.wsdl contract about=Tides";

fn tides() -> Folder {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    folder
}

#[test]
#[cfg(target_os = "linux")]
fn a_result_that_cannot_be_written_is_no_answer() {
    let folder = Folder::with_demo();
    let contract = "saltmere/v1/pilotage.wsdl";
    for words in [
        format!("show {contract}"),
        format!("check {contract}"),
        format!("check {contract} --format json"),
        format!("message {contract} requestPilot"),
        "new Berths --namespace urn:saltmere:berths:1".to_owned(),
        format!("compare {contract} saltmere/v2/pilotage.wsdl"),
        format!("match {contract} saltmere/sent/declare-cargo.xml"),
        "explain".to_owned(),
        "--help".to_owned(),
    ] {
        let full = std::fs::OpenOptions::new().write(true).open("/dev/full").unwrap();
        let output = Command::new(env!("CARGO_BIN_EXE_charter"))
            .args(words.split(' '))
            .current_dir(folder.path(""))
            .stdout(full)
            .stderr(Stdio::piped())
            .output()
            .unwrap();
        assert_eq!(output.status.code(), Some(2), "{words}");
        let said = String::from_utf8_lossy(&output.stderr);
        assert!(words == "--help" || said.contains("the result could not be written"), "{words}: {said}");
    }
}

#[test]
fn whoever_stops_reading_is_told_nothing() {
    let folder = Folder::with_demo();
    // Nobody reads from the beginning.
    let (reader, writer) = std::io::pipe().unwrap();
    drop(reader);
    let output = Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(["check", "saltmere/v1/pilotage.wsdl", "--notes"])
        .current_dir(folder.path(""))
        .stdout(writer)
        .stderr(Stdio::piped())
        .output()
        .unwrap();
    assert_eq!(output.status.code(), Some(2));
    assert_eq!(String::from_utf8_lossy(&output.stderr), "");
}

#[test]
#[cfg(unix)]
fn new_files_have_what_the_mask_leaves_and_old_ones_keep_what_they_had() {
    use std::os::unix::fs::{MetadataExt, PermissionsExt};
    let folder = Folder::with_demo();
    let v1 = "saltmere/v1/pilotage.wsdl";
    let mode = |name: &str| std::fs::metadata(folder.path(name)).unwrap().permissions().mode() & 0o777;
    folder.write("mask", "");
    // A new file of anybody's tells what the mask leaves.
    let usual = mode("mask");
    let writers = [
        (format!("message {v1} requestPilot -o out.xml"), "out.xml"),
        (format!("message {v1} --all messages"), "messages/requestPilot.input.PilotagePort.xml"),
        (format!("match {v1} saltmere/sent/declare-cargo.xml --learn desk.toml"), "desk.toml"),
        (format!("check {v1} --write-baseline known.toml"), "known.toml"),
        (format!("compare {v1} saltmere/v2/pilotage.wsdl --as notes -o notes.md"), "notes.md"),
        ("new Berths --namespace urn:saltmere:berths:1 -o berths.wsdl".to_owned(), "berths.wsdl"),
    ];
    for (words, name) in &writers {
        let run = folder.run(words);
        assert!(run.status < 2, "{words}\n{}", run.err);
        assert_eq!(mode(name), usual, "{words}");
    }
    // A link stays one, and rights that were given stay.
    for (words, name) in &writers[..5] {
        std::fs::remove_file(folder.path(name)).unwrap();
        folder.write("real", if *name == "desk.toml" { "name = \"Desk\"\n" } else { "" });
        std::fs::set_permissions(folder.path("real"), std::fs::Permissions::from_mode(0o664)).unwrap();
        std::os::unix::fs::symlink(folder.path("real"), folder.path(name)).unwrap();
        let run = folder.run(words);
        assert!(run.status < 2, "{words}\n{}", run.err);
        assert!(std::fs::symlink_metadata(folder.path(name)).unwrap().is_symlink(), "{words}");
        assert_eq!(mode("real"), 0o664, "{words}");
        assert!(std::fs::metadata(folder.path("real")).unwrap().len() > 0, "{words}");
    }
    // A link that leads to nothing yet leads to the file then.
    std::os::unix::fs::symlink(folder.path("later.xml"), folder.path("soon.xml")).unwrap();
    folder.run(&format!("message {v1} requestPilot -o soon.xml")).ends(0);
    assert!(folder.read("later.xml").contains("requestPilot"));
    // What is no file is written to.
    folder.run(&format!("message {v1} requestPilot -o /dev/null")).ends(0);
    assert!(!std::fs::metadata("/dev/null").unwrap().is_file());
    // Two names of one file stay two names of one file.
    let folder = tides();
    std::fs::hard_link(folder.path("tides.wsdl"), folder.path("other.wsdl")).unwrap();
    let number = std::fs::metadata(folder.path("tides.wsdl")).unwrap().ino();
    folder.run(SET).ends(0);
    assert_eq!(std::fs::metadata(folder.path("tides.wsdl")).unwrap().ino(), number);
    assert_eq!(folder.read("tides.wsdl"), folder.read("other.wsdl"));
    assert!(folder.read("other.wsdl").contains("Tides</wsdl:documentation>"));
    // Shorter texts as well.
    folder.run("set tides.wsdl contract about=").ends(0);
    assert!(!folder.read("other.wsdl").contains("Tides</wsdl:documentation>"));
    folder.run("check other.wsdl").ends(0);
    assert_eq!(std::fs::read_dir(folder.path("")).unwrap().count(), 2);
}

#[test]
#[cfg(target_os = "linux")]
fn extended_attributes_stay() {
    let folder = tides();
    let path = folder.path("tides.wsdl");
    if xattr::set(&path, "user.saltmere", b"kept").is_err() {
        return;
    }
    folder.run(SET).ends(0);
    assert_eq!(xattr::get(&path, "user.saltmere").unwrap().as_deref(), Some(&b"kept"[..]));
}

#[test]
#[cfg(unix)]
fn of_a_new_contract_in_several_files_all_are_written_or_none() {
    let folder = Folder::empty();
    folder.write("tides.xsd", "mine");
    let text = "contract Tides \"urn:saltmere:tides:1\" {\n  type Gauge { name: string }\n}\n";
    folder.write("tides.charter", text);
    let made = folder.run("new --from tides.charter --schema beside -o first/tides.wsdl");
    assert_eq!(made.status, 2, "{}", made.err);
    std::fs::create_dir(folder.path("first")).unwrap();
    folder.run("new --from tides.charter --schema beside -o first/tides.wsdl").ends(0);
    let beside: Vec<_> =
        std::fs::read_dir(folder.path("first")).unwrap().map(|it| it.unwrap().file_name()).collect();
    assert_eq!(beside.len(), 2, "{beside:?}");
    let schema = beside.iter().find(|name| name.to_string_lossy().ends_with(".xsd")).unwrap();
    std::fs::create_dir(folder.path("second")).unwrap();
    folder.write(&format!("second/{}", schema.to_string_lossy()), "mine");
    folder
        .run("new --from tides.charter --schema beside -o second/tides.wsdl")
        .ends(2)
        .complains("there is such a file already");
    assert_eq!(std::fs::read_dir(folder.path("second")).unwrap().count(), 1);
}

#[test]
#[cfg(unix)]
fn what_was_typed_in_an_editor_is_kept_whatever_happens() {
    use std::os::unix::fs::PermissionsExt;
    let folder = tides();
    folder.write("an editor", "#!/bin/sh\nsed -i '1a about \"Coming tides.\"' \"$2\"\n[ \"$1\" = fail ] && exit 3\n[ \"$1\" = meddle ] && echo >> tides.wsdl\ntrue\n");
    std::fs::set_permissions(folder.path("an editor"), std::fs::Permissions::from_mode(0o755)).unwrap();
    let editor = |word: &str| format!("'{}' {word}", folder.path("an editor").display());
    let kept = |word: &str, said: &str| {
        let run = folder.run_with(
            "edit tides.wsdl operation/nextTide",
            b"",
            &[("EDITOR", &editor(word)), ("VISUAL", "")],
        );
        let run = run.ends(2).complains(said).complains("the text is kept");
        let path = run.err.split("--with ").nth(1).unwrap().trim().to_owned();
        let text = std::fs::read_to_string(&path).unwrap();
        assert!(text.contains("Coming tides."), "{text}");
        std::fs::remove_dir_all(std::path::Path::new(&path).parent().unwrap()).unwrap();
    };
    kept("fail", "ended with an error");
    kept("meddle", "somebody else has changed the file");
    std::fs::set_permissions(folder.path("tides.wsdl"), std::fs::Permissions::from_mode(0o444)).unwrap();
    kept("plain", "may only be read");
    std::fs::set_permissions(folder.path("tides.wsdl"), std::fs::Permissions::from_mode(0o644)).unwrap();
    let run = folder.run_with(
        "edit tides.wsdl operation/nextTide",
        b"",
        &[("EDITOR", &editor("plain")), ("VISUAL", "")],
    );
    run.ends(0);
    assert!(folder.read("tides.wsdl").contains("Coming tides."));
    folder
        .run_with("edit tides.wsdl", b"", &[("EDITOR", "'unclosed"), ("VISUAL", "")])
        .ends(2)
        .complains("EDITOR is not understood");
}
