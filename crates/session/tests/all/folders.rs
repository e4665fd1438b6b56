//! Which files arguments mean.

use charter_session::folders::{contracts, files_below, messages};
use charter_session::versions::between;

use crate::shared::{CONTRACT, Folder, failed};

fn names(files: Vec<String>) -> Vec<String> {
    files.iter().map(|file| file.rsplit('/').next().unwrap().to_owned()).collect()
}

#[test]
fn folders_are_gone_through_in_order_and_what_is_hidden_is_left_out() {
    let folder = Folder::empty();
    for name in
        ["b/two.wsdl", "a.xsd", "b/one.XSD", "c.txt", ".git/three.wsdl", "b/.four.wsdl", "b/d/five.wsdl"]
    {
        folder.write(name, CONTRACT);
    }
    let (found, unread) = contracts(&[folder.name("")]).unwrap();
    assert_eq!(names(found), ["a.xsd", "five.wsdl", "one.XSD", "two.wsdl"]);
    assert!(unread.is_empty());
    let found = messages(&[folder.name(""), "-".to_owned()]).unwrap();
    assert_eq!(names(found), ["a.xsd", "five.wsdl", "one.XSD", "two.wsdl", "c.txt", "-"]);
}

#[test]
fn a_file_is_meant_once_however_often_it_is_named() {
    let folder = Folder::with_contract();
    let file = folder.name("tides.wsdl");
    let arguments = [file.clone(), folder.name(""), file, folder.name("*.wsdl"), folder.name("nothing.wsdl")];
    let (found, _) = contracts(&arguments).unwrap();
    let pattern = folder.name("*.wsdl");
    assert!(!found.contains(&pattern));
    assert_eq!(names(found), ["tides.wsdl", "tide.xsd", "nothing.wsdl"]);
}

#[test]
fn what_means_nothing_says_so() {
    let folder = Folder::empty();
    folder.write("notes.txt", "");
    let said = |arguments: &[String]| failed(contracts(arguments)).message;
    assert_eq!(said(&[folder.name("")]), "there is no contract and no schema in this folder");
    assert_eq!(said(&[folder.name("*.wsdl")]), "no file fits this pattern");
    assert!(said(&[folder.name("***.wsdl")]).starts_with("this is no pattern of files"));
    let empty = Folder::empty();
    assert_eq!(failed(messages(&[empty.name("")])).message, "there is no message in this folder");
}

#[cfg(unix)]
#[test]
fn links_lead_to_files_but_not_round_in_circles() {
    let folder = Folder::with_contract();
    std::os::unix::fs::symlink(folder.path("tides.wsdl"), folder.path("other.wsdl")).unwrap();
    std::os::unix::fs::symlink(folder.path(""), folder.path("again")).unwrap();
    std::os::unix::fs::symlink(folder.path("nowhere"), folder.path("broken.wsdl")).unwrap();
    let (found, unread) = contracts(&[folder.name("")]).unwrap();
    assert_eq!(names(found), ["other.wsdl", "tide.xsd", "tides.wsdl"]);
    assert!(unread.is_empty());
}

#[test]
fn a_folder_that_is_gone_is_a_failure() {
    let folder = Folder::empty();
    let all: Vec<_> = files_below(&folder.path("gone")).collect();
    assert_eq!(all.len(), 1);
    let failure = all.into_iter().next().unwrap().unwrap_err();
    assert!(failure.message.starts_with("the folder cannot be read"), "{failure}");
}

#[test]
fn two_folders_are_paired_by_what_lies_where() {
    let folder = Folder::empty();
    for name in ["old/tides.wsdl", "new/tides.wsdl", "old/berths.wsdl", "new/in/desk.wsdl", "new/notes.txt"] {
        folder.write(name, CONTRACT);
    }
    let pairs = between(&folder.name("old"), &folder.name("new")).unwrap();
    let shown: Vec<_> =
        pairs.iter().map(|pair| (pair.name.as_str(), pair.old.is_some(), pair.new.is_some())).collect();
    assert_eq!(
        shown,
        [("berths.wsdl", true, false), ("in/desk.wsdl", false, true), ("tides.wsdl", true, true)]
    );
    let one = between(&folder.name("old/tides.wsdl"), &folder.name("new/tides.wsdl")).unwrap();
    assert_eq!(one.len(), 1);
    let mixed = failed(between(&folder.name("old/tides.wsdl"), &folder.name("new")));
    assert!(mixed.message.contains("one is a file, one holds many"), "{mixed}");
    let empty = Folder::empty();
    let none = failed(between(&empty.name(""), &empty.name("")));
    assert_eq!(none.help.as_deref(), Some("contracts are files whose names end in .wsdl"));
}
