//! Contracts that are kept while their files change.

use std::fs;

use charter_session::{FileEvent, Kept};

use crate::shared::{CONTRACT, Folder, failed, schema, session};

fn elements(kept: &Kept<'_>) -> Vec<String> {
    let schemas = &kept.loaded().contract().schemas;
    schemas.elements.iter().map(|(_, element)| element.name.local.to_string()).collect()
}

#[test]
fn what_is_saved_counts_if_it_is_about_the_contract() {
    let folder = Folder::with_contract();
    let session = session();
    let mut kept = Kept::open(&session, &folder.path("tides.wsdl")).unwrap();
    assert_eq!(elements(&kept), ["tide"]);
    let other = folder.write("berths.xsd", schema("berth", "string"));
    assert!(!kept.tell(FileEvent::Saved(other)).unwrap());
    let file = folder.write("tide.xsd", schema("ebb", "decimal"));
    assert!(kept.tell(FileEvent::Saved(file)).unwrap());
    assert_eq!(elements(&kept), ["ebb"]);
}

#[test]
fn what_is_typed_counts_until_it_is_closed() {
    let folder = Folder::with_contract();
    let session = session();
    let mut kept = Kept::open(&session, &folder.path("tides.wsdl")).unwrap();
    let file = folder.path("tide.xsd");
    assert!(kept.tell(FileEvent::Typed(file.clone(), schema("flood", "decimal"))).unwrap());
    assert_eq!(elements(&kept), ["flood"]);
    // Somebody else saves it meanwhile: what is typed still holds.
    folder.write("tide.xsd", schema("ebb", "decimal"));
    assert!(!kept.tell(FileEvent::Saved(file.clone())).unwrap());
    assert_eq!(elements(&kept), ["flood"]);
    assert!(kept.tell(FileEvent::Closed(file)).unwrap());
    assert_eq!(elements(&kept), ["ebb"]);
}

#[test]
fn a_text_that_is_torn_while_it_is_typed_is_told_by_its_faults() {
    let folder = Folder::with_contract();
    let session = session();
    let mut kept = Kept::open(&session, &folder.path("tides.wsdl")).unwrap();
    for end in [10, 200, 400] {
        assert!(kept.tell(FileEvent::Typed(folder.path("tides.wsdl"), CONTRACT[..end].to_owned())).unwrap());
        assert!(!kept.loaded().contract().faults().is_empty(), "{end}");
    }
    assert!(kept.tell(FileEvent::Typed(folder.path("tides.wsdl"), CONTRACT.to_owned())).unwrap());
    assert_eq!(kept.loaded().contract().operations().count(), 1);
}

#[test]
fn a_file_that_was_missing_may_come() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", CONTRACT);
    let session = session();
    let mut kept = Kept::open(&session, &folder.path("tides.wsdl")).unwrap();
    assert!(elements(&kept).is_empty());
    let file = folder.write("tide.xsd", schema("tide", "decimal"));
    assert!(kept.tell(FileEvent::Saved(file.clone())).unwrap());
    assert_eq!(elements(&kept), ["tide"]);
    fs::remove_file(&file).unwrap();
    assert!(kept.tell(FileEvent::Saved(file.clone())).unwrap());
    assert!(elements(&kept).is_empty());
    // It may even be there only in somebody's editor.
    assert!(kept.tell(FileEvent::Typed(file, schema("ebb", "int"))).unwrap());
    assert_eq!(elements(&kept), ["ebb"]);
}

#[test]
fn settings_are_read_anew() {
    let folder = Folder::with_contract();
    let session = session();
    let mut kept = Kept::open(&session, &folder.path("tides.wsdl")).unwrap();
    assert_eq!(kept.loaded().settings().names.service, "*Service");
    let file = folder.write("charter.toml", "[names]\nservice = \"*Desk\"\n");
    assert!(kept.tell(FileEvent::Saved(file)).unwrap());
    assert_eq!(kept.loaded().settings().names.service, "*Desk");
    // What makes no sense is said, and what was there stays.
    let file = folder.write("charter.toml", "[names]\nservice = 4\n");
    let failure = failed(kept.tell(FileEvent::Saved(file)));
    assert_eq!(failure.message, "this is no text");
    assert_eq!(kept.loaded().settings().names.service, "*Desk");
}

#[test]
fn a_contract_that_is_gone_is_said_to_be() {
    let folder = Folder::with_contract();
    let session = session();
    let file = folder.path("tides.wsdl");
    let mut kept = Kept::open(&session, &file).unwrap();
    fs::remove_file(&file).unwrap();
    assert_eq!(failed(kept.tell(FileEvent::Saved(file.clone()))).message, "there is no such file");
    assert_eq!(kept.loaded().contract().operations().count(), 1);
    folder.write("tides.wsdl", CONTRACT);
    assert!(kept.tell(FileEvent::Saved(file)).unwrap());
}

/// How much memory the process holds, in kilobytes; nothing where the system does not say.
fn held() -> Option<u64> {
    let status = fs::read_to_string("/proc/self/status").ok()?;
    let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:"))?;
    line.trim().trim_end_matches("kB").trim().parse().ok()
}

/// Runs alone, in a process of its own: what other tests hold would count as well.
#[test]
#[ignore = "run by nothing_is_left_behind_by_a_change"]
fn alone_five_hundred_changes() {
    let folder = Folder::with_contract();
    let session = session();
    let mut kept = Kept::open(&session, &folder.path("tides.wsdl")).unwrap();
    let file = folder.path("tide.xsd");
    let large = |number: usize| {
        let elements: String = (0..300)
            .map(|at| format!("<xs:element name=\"tide{number}x{at}\" type=\"xs:decimal\"/>"))
            .collect();
        schema("tide", "decimal").replace("</xs:schema>", &format!("{elements}</xs:schema>"))
    };
    let mut change = |number| {
        assert!(kept.tell(FileEvent::Typed(file.clone(), large(number))).unwrap());
        assert_eq!(elements(&kept).len(), 301);
        let (id, _) = kept.loaded().contract().schemas.elements.iter().next().unwrap();
        assert!(kept.loaded().engine().datatype(kept.loaded().contract().schemas.element_type(id)).is_some());
    };
    (0..100).for_each(&mut change);
    let before = held();
    (100..500).for_each(&mut change);
    if let (Some(before), Some(after)) = (before, held()) {
        // Were anything kept of each, it would be a hundred kilobytes or more a time: 40 MB.
        assert!(after < before + 8_000, "{before} kB became {after} kB");
    }
}

#[test]
fn nothing_is_left_behind_by_a_change() {
    let program = std::env::current_exe().unwrap();
    let output = std::process::Command::new(program)
        .args(["--exact", "kept::alone_five_hundred_changes", "--ignored", "--test-threads", "1"])
        .output()
        .unwrap();
    let said = String::from_utf8_lossy(&output.stdout);
    assert!(output.status.success() && said.contains("1 passed"), "{said}");
}
