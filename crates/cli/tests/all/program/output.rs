//! What all commands have in common.

use crate::program::folder::Folder;

#[test]
fn colours_only_where_they_are_wanted() {
    let folder = Folder::with_demo();
    let check = "check saltmere/draft/towage.wsdl";
    assert!(!folder.run(check).out.contains('\u{1b}'));
    assert!(folder.run(&format!("{check} --color always")).out.contains('\u{1b}'));
    assert!(!folder.run(&format!("{check} --color never")).out.contains('\u{1b}'));
    let run = folder.run_with("show gone.wsdl", b"", &[("NO_COLOR", "1")]);
    assert!(!run.err.contains('\u{1b}'));
    // The same text, with and without.
    let bare = folder.run(check).out;
    let colored = folder.run(&format!("{check} --color always")).out;
    let mut stripped = String::new();
    let mut inside = false;
    for c in colored.chars() {
        match c {
            '\u{1b}' => inside = true,
            'm' if inside => inside = false,
            other if !inside => stripped.push(other),
            _ => {}
        }
    }
    assert_eq!(bare, stripped);
}

#[test]
fn json_is_never_coloured() {
    let folder = Folder::with_demo();
    let run = folder.run("check saltmere/draft/towage.wsdl --format json --color always").ends(1);
    assert_eq!(run.json()["errors"], 9);
}

#[test]
fn usage_mistakes_end_with_two_and_help_with_zero() {
    let folder = Folder::empty();
    for words in ["check", "chek x", "show", "compare one", "show a --format yaml", "message x y --side left"]
    {
        let run = folder.run(words).ends(2);
        assert!(!run.err.is_empty() && run.out.is_empty(), "{words}");
    }
    assert!(folder.run("--help").ends(0).out.contains("Author, check, try and revise"));
    assert!(folder.run("--version").ends(0).out.starts_with("charter "));
}

#[test]
fn a_contract_can_come_from_standard_input() {
    let folder = Folder::with_demo();
    let text = folder.read("saltmere/v1/vessel.xsd");
    folder.run_with("show - type/CallSign", text.as_bytes(), &[]).ends(0).says("like \"[A-Z0-9]{4,7}\"");
    folder.run_with("check -", text.as_bytes(), &[]).ends(0).says("-: no findings");
}

#[test]
fn a_closed_output_is_no_error() {
    use std::process::{Command, Stdio};
    let folder = Folder::with_demo();
    let mut child = Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(["show", "saltmere/v1/pilotage.wsdl"])
        .current_dir(folder.path("."))
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    drop(child.stdout.take());
    let output = child.wait_with_output().unwrap();
    assert!(!String::from_utf8_lossy(&output.stderr).contains("panicked"));
}

#[test]
fn the_fields_of_every_json_document_are_what_scripts_rely_on() {
    let folder = Folder::with_demo();
    let keys = |value: &serde_json::Value| -> Vec<String> {
        let mut keys: Vec<String> =
            value.as_object().unwrap_or_else(|| panic!("{value}")).keys().cloned().collect();
        keys.sort_unstable();
        keys
    };
    let json = |words: &str| folder.run(&format!("{words} --format json")).json();
    let contract = "saltmere/v1/pilotage.wsdl";

    let check = json("check saltmere/draft/towage.wsdl");
    assert_eq!(keys(&check), ["errors", "files", "findings", "notes", "warnings"]);
    assert_eq!(
        keys(&check["findings"][0]),
        [
            "column",
            "end_column",
            "end_line",
            "file",
            "help",
            "line",
            "message",
            "path",
            "rule",
            "severity",
            "standard"
        ]
    );
    let compare = json("compare saltmere/v2/pilotage.wsdl saltmere/v3/pilotage.wsdl");
    assert_eq!(keys(&compare), ["changes", "consumers", "unaccepted", "verdict"]);
    let change = &compare["changes"][0];
    assert_eq!(
        keys(change),
        [
            "accepted",
            "confidence",
            "depends_on",
            "message",
            "new",
            "new_place",
            "old",
            "old_place",
            "operations",
            "path",
            "rule",
            "verdict",
            "way_out",
            "witness"
        ]
    );
    assert_eq!(
        keys(&change["way_out"]),
        ["command", "message", "none_because", "notation", "path", "verdict"]
    );
    assert_eq!(keys(&change["witness"]), ["accepted_by", "because", "body", "misread", "operation", "side"]);
    assert_eq!(keys(&change["old_place"]), ["column", "file", "line"]);
    assert_eq!(keys(&change["operations"][0]), ["operation", "side", "verdict"]);
    let message = json(&format!("message {contract} requestPilot"));
    assert_eq!(
        keys(&message),
        [
            "address",
            "body",
            "encoding",
            "envelope",
            "headers",
            "method",
            "operation",
            "port",
            "side",
            "soap",
            "status",
            "style",
            "values"
        ]
    );
    assert_eq!(keys(&message["headers"][0]), ["name", "value"]);
    let matched = json(&format!("match {contract} saltmere/sent/declare-cargo-late.xml"));
    assert_eq!(
        keys(&matched["messages"][0]),
        ["element", "errors", "file", "findings", "operation", "port", "side", "valid"]
    );
    let beside = json(&format!("message {contract} requestPilot --against saltmere/v3/pilotage.wsdl"));
    assert_eq!(keys(&beside), ["lines", "operation", "same", "side"]);
    assert_eq!(keys(&beside["lines"][0]), ["change", "new", "old"]);
    assert_eq!(keys(&json(&format!("show {contract}"))), ["notation", "path"]);
    let rename = json(&format!("rename {contract} type/Agent ShipAgent --dry-run"));
    assert_eq!(keys(&rename), ["diff", "name", "notes", "path", "places", "written"]);
    assert_eq!((&rename["written"], rename["places"].as_array().unwrap().len()), (&false.into(), 2));
    assert_eq!(keys(&json("new B --namespace urn:b:c")), ["beside", "file", "text", "written"]);
    assert_eq!(
        keys(&json("explain part-content")),
        ["asks", "family", "fix", "right", "rule", "severity", "standard", "why", "wrong"]
    );
}
