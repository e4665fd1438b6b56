//! What is written: whole or not at all, by one at a time.

use std::fs;
use std::path::PathBuf;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::Duration;

use charter_session::files::{self, Writers, create, create_all, save, save_result, settle, stamp};

use crate::shared::{CONTRACT, Folder, failed, schema, session};

/// The names in a folder, hidden ones too.
fn names(folder: &Folder) -> Vec<String> {
    let entries = fs::read_dir(folder.path("")).unwrap();
    let mut names: Vec<String> =
        entries.map(|entry| entry.unwrap().file_name().into_string().unwrap()).collect();
    names.sort();
    names
}

#[test]
fn a_file_is_saved_whatever_it_held() {
    let folder = Folder::empty();
    let writers = Writers::default();
    let path = folder.path("tide.txt");
    for text in ["", "ebb", "flood and ebb", "x"] {
        save(&writers, &path, text.as_bytes()).unwrap();
        assert_eq!(fs::read_to_string(&path).unwrap(), text);
    }
    assert_eq!(names(&folder), ["tide.txt"], "nothing is left beside it");
}

#[test]
fn a_folder_is_no_file_and_one_that_is_gone_takes_none() {
    let folder = Folder::empty();
    let writers = Writers::default();
    fs::create_dir(folder.path("quay")).unwrap();
    let failure = failed(save(&writers, &folder.path("quay"), b"x"));
    assert!(failure.message.starts_with("it could not be written"), "{failure}");
    let failure = failed(save(&writers, &folder.path("gone/tide.txt"), b"x"));
    assert!(failure.help.is_some() && failure.place.is_some());
    assert_eq!(names(&folder), ["quay"]);
}

#[test]
fn new_files_come_together_or_not_at_all() {
    let folder = Folder::empty();
    let writers = Writers::default();
    let all = |names: &[&str]| names.iter().map(|name| (folder.path(name), "text")).collect::<Vec<_>>();
    create_all(&writers, &all(&["a.wsdl", "b.xsd"])).unwrap();
    let failure = failed(create_all(&writers, &all(&["c.wsdl", "b.xsd", "d.xsd"])));
    assert_eq!(failure.message, "there is such a file already");
    assert_eq!(names(&folder), ["a.wsdl", "b.xsd"]);
    let failure = failed(create(&writers, &folder.path("a.wsdl"), "other"));
    assert!(failure.help.unwrap().starts_with("nothing was written"));
    assert_eq!(fs::read_to_string(folder.path("a.wsdl")).unwrap(), "text");
}

#[test]
fn results_that_are_there_already_are_not_written_again() {
    let folder = Folder::empty();
    let writers = Writers::default();
    let path = folder.path("message.xml");
    save_result(&writers, &path, b"<a/>").unwrap();
    let before = stamp(&path);
    assert!(before.is_some());
    std::thread::sleep(Duration::from_millis(20));
    save_result(&writers, &path, b"<a/>").unwrap();
    assert_eq!(stamp(&path), before);
    save_result(&writers, &path, b"<b/>").unwrap();
    assert_ne!(stamp(&path), before);
    files::keep_results(&folder.path(""));
    assert_eq!(stamp(&folder.path("nothing.xml")), None);
}

#[test]
fn one_writes_in_a_folder_at_a_time() {
    let folder = Folder::empty();
    let path = folder.path("tide.txt");
    let first = Writers::default();
    save(&first, &path, b"first").unwrap();
    // The same may go on; another waits until it is let in.
    save(&first, &path, b"again").unwrap();
    let done = AtomicBool::new(false);
    std::thread::scope(|scope| {
        scope.spawn(|| {
            save(&Writers::default(), &path, b"second").unwrap();
            done.store(true, Ordering::SeqCst);
        });
        std::thread::sleep(Duration::from_millis(200));
        assert!(!done.load(Ordering::SeqCst), "nobody let it in");
        assert_eq!(fs::read(&path).unwrap(), b"again");
        first.leave();
    });
    assert_eq!(fs::read(&path).unwrap(), b"second");
}

#[cfg(unix)]
#[test]
fn links_stay_links_and_rights_stay_rights() {
    use std::os::unix::fs::PermissionsExt;
    let folder = Folder::empty();
    let writers = Writers::default();
    let real = folder.write("real.txt", "old");
    fs::set_permissions(&real, fs::Permissions::from_mode(0o640)).unwrap();
    std::os::unix::fs::symlink(&real, folder.path("link.txt")).unwrap();
    save(&writers, &folder.path("link.txt"), b"new").unwrap();
    assert!(folder.path("link.txt").is_symlink());
    assert_eq!(fs::read(&real).unwrap(), b"new");
    assert_eq!(fs::metadata(&real).unwrap().permissions().mode() & 0o777, 0o640);
}

#[test]
fn a_change_of_several_files_is_made_whole() {
    let folder = Folder::with_contract();
    let session = session();
    let opened = session.edit(&folder.name("tides.wsdl"), true).unwrap();
    let component = charter_session::find(&opened.contract, "element/tide").unwrap();
    let renaming = charter_author::Renaming { name: "highTide", only: false };
    let change = charter_author::rename(opened.editing(false), component, renaming).unwrap();
    assert_eq!(change.files.len(), 2);
    files::replace(&session.writers, &change.files).unwrap();
    assert!(fs::read_to_string(folder.path("tide.xsd")).unwrap().contains("highTide"));
    assert!(fs::read_to_string(folder.path("tides.wsdl")).unwrap().contains("t:highTide"));
    assert_eq!(names(&folder), ["tide.xsd", "tides.wsdl"]);
}

#[test]
fn what_somebody_else_has_changed_is_not_written_over() {
    let folder = Folder::with_contract();
    let session = session();
    let opened = session.edit(&folder.name("tides.wsdl"), true).unwrap();
    let component = charter_session::find(&opened.contract, "element/tide").unwrap();
    let renaming = charter_author::Renaming { name: "highTide", only: false };
    let change = charter_author::rename(opened.editing(false), component, renaming).unwrap();
    // An editor knows nothing of our locks.
    folder.write("tide.xsd", schema("ebb", "int"));
    let failure = failed(files::replace(&session.writers, &change.files));
    assert_eq!(failure.message, "somebody else has changed the file since it was read");
    assert_eq!(fs::read_to_string(folder.path("tides.wsdl")).unwrap(), CONTRACT);
    assert_eq!(fs::read_to_string(folder.path("tide.xsd")).unwrap(), schema("ebb", "int"));
    assert_eq!(names(&folder), ["tide.xsd", "tides.wsdl"]);
}

#[test]
fn where_nothing_was_cut_off_there_is_nothing_to_settle() {
    let folder = Folder::with_contract();
    let files: Vec<PathBuf> =
        vec![folder.path("tides.wsdl"), folder.path("tide.xsd"), folder.path("gone.xsd")];
    let (notices, changed) = settle(&Writers::default(), &files).unwrap();
    assert!(notices.is_empty() && !changed);
    assert!(!files::is_open(&files[0]) && files::age(&files[0]).is_none());
}

#[test]
fn a_diff_shows_the_lines_that_changed() {
    let shown = files::diff("tide.xsd", "a\nb\nc\nd\ne\nf\n", "a\nb\nC\nd\ne\nf\n");
    assert!(shown.starts_with("--- tide.xsd\n+++ tide.xsd\n@@ "), "{shown}");
    assert!(shown.contains("-c\n+C\n") && !shown.contains("f\n"), "{shown}");
    assert_eq!(files::diff("tide.xsd", "a\n", "a\n"), "");
}
