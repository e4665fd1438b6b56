//! Edits of several files happen together, even if the program is cut off in the middle.

use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use crate::folder::Folder;

fn both(folder: &Folder) -> [String; 2] {
    [folder.read("tides.wsdl"), folder.read("parts/desk.wsdl")]
}

fn note_of(file: &Path) -> std::path::PathBuf {
    file.with_file_name(format!(".{}.charter-unfinished", file.file_name().unwrap().to_str().unwrap()))
}

const RENAME: &str = "rename tides.wsdl operation/nextTide followingTide";

/// A folder as it is after the first of two files was replaced: old and new texts of both, and the notes beside them.
fn cut_off() -> (Folder, [String; 2], [String; 2]) {
    let folder = Folder::with_parts();
    let old = both(&folder);
    folder.run(RENAME).ends(0).says("in 2 files");
    let new = both(&folder);
    folder.write("parts/desk.wsdl", &old[1]);
    folder.write("parts/waiting", &new[1]);
    let real = |name: &str| std::fs::canonicalize(folder.path(name)).unwrap();
    let sum = |text: &str| {
        let step = |sum: u64, byte: u8| (sum ^ u64::from(byte)).wrapping_mul(0x100_0000_01b3);
        format!("{:016x}", text.bytes().fold(0xcbf2_9ce4_8422_2325, step))
    };
    let note = serde_json::json!({"files": [
        {"file": real("tides.wsdl"), "new": real("tides.wsdl").with_file_name("gone"), "before": sum(&old[0])},
        {"file": real("parts/desk.wsdl"), "new": real("parts/waiting"), "before": sum(&old[1])},
    ]});
    for name in ["tides.wsdl", "parts/desk.wsdl"] {
        std::fs::write(note_of(&real(name)), note.to_string()).unwrap();
    }
    (folder, old, new)
}

#[test]
fn an_edit_that_was_cut_off_is_done_by_whoever_reads_one_of_its_files() {
    for command in
        ["check tides.wsdl", "show parts/desk.wsdl", "set tides.wsdl type/Tide/height type=double --dry-run"]
    {
        let (folder, _, new) = cut_off();
        let run = folder.run(command).ends(0);
        assert!(run.err.starts_with("an edit that was cut off is now done: "), "{}", run.err);
        assert_eq!(both(&folder), new, "{command}");
        for name in ["tides.wsdl", "parts/desk.wsdl"] {
            assert!(!note_of(&folder.path(name)).exists(), "{command}");
        }
        assert!(!folder.path("parts/waiting").exists());
        // That is told once.
        assert!(!folder.run("check tides.wsdl").ends(0).err.contains("cut off"));
    }
}

#[test]
fn what_was_changed_since_is_not_overwritten() {
    let (folder, old, new) = cut_off();
    folder.write("parts/desk.wsdl", old[1].replace("height", "level"));
    let run = folder.run("check tides.wsdl").ends(2).complains("has been changed since");
    run.complains("parts/waiting").complains("desk.wsdl.charter-unfinished");
    assert_eq!(both(&folder), [new[0].clone(), old[1].replace("height", "level")]);

    // Nothing was replaced yet: the edit has not happened.
    let (folder, old, _) = cut_off();
    folder.write("tides.wsdl", &old[0]);
    folder.write("gone", "");
    folder.write("parts/desk.wsdl", old[1].replace("height", "level"));
    folder.run("show tides.wsdl").ends(0);
    assert_eq!(both(&folder), [old[0].clone(), old[1].replace("height", "level")]);
    assert!(!folder.path("gone").exists() && !folder.path("parts/waiting").exists());
    assert!(!note_of(&folder.path("tides.wsdl")).exists());

    folder.write(".tides.wsdl.charter-unfinished", "{}");
    folder.run("show tides.wsdl").ends(2).complains("this is no note of an edit").complains("remove it");
}

#[test]
#[cfg(unix)]
fn killed_at_any_moment_an_edit_of_two_files_is_done_whole_or_not_at_all() {
    let folder = Folder::with_parts();
    let old = both(&folder);
    let command = || {
        let mut command = Command::new(env!("CARGO_BIN_EXE_charter"));
        command.args(RENAME.split(' ')).current_dir(folder.path(""));
        command.stdout(Stdio::null()).stderr(Stdio::null());
        command
    };
    let started = Instant::now();
    assert!(command().status().unwrap().success());
    let whole = started.elapsed();
    let new = both(&folder);
    let mut killed = 0;
    for moment in 0..60u32 {
        folder.write("tides.wsdl", &old[0]);
        folder.write("parts/desk.wsdl", &old[1]);
        let mut child = command().spawn().unwrap();
        std::thread::sleep(whole * moment / 55 + Duration::from_micros(u64::from(moment) * 11));
        killed += u32::from(child.try_wait().unwrap().is_none());
        let _ = child.kill();
        child.wait().unwrap();
        folder.run("check tides.wsdl").ends(0);
        let found = both(&folder);
        assert!(found == old || found == new, "a mixture after {moment}");
    }
    assert!(killed > 5, "{killed}");
}
