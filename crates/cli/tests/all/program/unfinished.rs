//! Edits of several files happen together, even if the program is cut off in the middle; only an edit brings to its end what
//! an edit has left, and only if it is its own.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use crate::program::folder::{Folder, contract};

fn both(folder: &Folder) -> [String; 2] {
    [folder.read("tides.wsdl"), folder.read("parts/desk.wsdl")]
}

fn note_of(file: &Path) -> PathBuf {
    file.with_file_name(format!(".{}.charter-unfinished", file.file_name().unwrap().to_str().unwrap()))
}

/// All files below a folder, with what they hold.
fn everything(folder: &Path) -> BTreeMap<PathBuf, u64> {
    let mut all = BTreeMap::new();
    let mut folders = vec![folder.to_owned()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            match path.is_dir() {
                true => folders.push(path),
                false => _ = all.insert(path.clone(), sum(&std::fs::read(path).unwrap())),
            }
        }
    }
    all
}

/// Stands for a text, so that a test that fails stays readable.
fn sum(bytes: &[u8]) -> u64 {
    use std::hash::{DefaultHasher, Hasher};
    let mut hasher = DefaultHasher::new();
    hasher.write(bytes);
    hasher.finish()
}

const RENAME: &str = "rename tides.wsdl operation/nextTide followingTide";
const SET: &str = "set tides.wsdl contract about=Tides~at~the~bar";

fn command(folder: &Folder, words: &str) -> Command {
    let mut command = Command::new(env!("CARGO_BIN_EXE_charter"));
    command.args(words.split(' ').map(|word| word.replace('~', " "))).current_dir(folder.path(""));
    command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
    command
}

/// Kills an edit of two files at every moment that can be hit, and hands what is left to `look`.
fn killed(mut look: impl FnMut(&Folder, &[String; 2], &[String; 2])) -> u32 {
    let folder = Folder::with_parts();
    let old = both(&folder);
    let started = Instant::now();
    assert!(command(&folder, RENAME).status().unwrap().success());
    let whole = started.elapsed();
    let new = both(&folder);
    let mut killed = 0;
    for moment in 0..80u32 {
        let folder = Folder::with_parts();
        let mut child = command(&folder, RENAME).spawn().unwrap();
        std::thread::sleep(whole * moment / 75 + Duration::from_micros(u64::from(moment) * 11));
        killed += u32::from(child.try_wait().unwrap().is_none());
        let _ = child.kill();
        child.wait().unwrap();
        look(&folder, &old, &new);
    }
    killed
}

#[test]
fn killed_at_any_moment_an_edit_of_two_files_is_done_whole_or_not_at_all_by_the_next() {
    let mut open = 0;
    let killed = killed(|folder, old, new| {
        // Whoever only reads changes nothing, and says what there is.
        let before = everything(&folder.path(""));
        let told = folder.run("check tides.wsdl").err.contains("an edit was cut off here");
        assert_eq!(everything(&folder.path("")), before);
        assert_eq!(
            told,
            note_of(&folder.path("tides.wsdl")).exists() || note_of(&folder.path("parts/desk.wsdl")).exists()
        );
        open += u32::from(told);

        folder.run(SET).ends(0);
        let found = both(folder)
            .map(|text| text.replace("<wsdl:documentation>Tides at the bar</wsdl:documentation>", ""));
        let same = |texts: &[String; 2]| {
            let squeezed = |text: &String| text.split_whitespace().collect::<String>();
            found.iter().map(squeezed).eq(texts.iter().map(squeezed))
        };
        assert!(same(old) || same(new), "a mixture: {found:?}");
        let names: Vec<_> = everything(&folder.path("")).into_keys().collect();
        assert_eq!(names, [folder.path("parts/desk.wsdl"), folder.path("tides.wsdl")], "something is left");
    });
    assert!(killed > 5, "{killed}");
    println!("{killed} killed, {open} with a note");
}

#[test]
fn notes_that_came_from_elsewhere_are_left_and_told() {
    let folder = Folder::with_parts();
    let tides = folder.read("tides.wsdl");
    let precious = folder.path("victim/precious.txt");
    folder.write("victim/precious.txt", "keep me");
    folder.write("parts/.desk.wsdl.0123456789abcdef.charter-new", "<evil/>");
    let sum = "0".repeat(64);
    let here = std::fs::canonicalize(folder.path("")).unwrap();
    let entry = |folder: &Path, name: &str, new: &str| serde_json::json!({"folder": folder, "name": name, "new": new, "stamp": "1-2-3.4", "before": sum, "after": sum});
    let notes = [
        "{}".to_owned(),
        "no JSON".to_owned(),
        serde_json::json!({"files": [{"file": "tides.wsdl", "new": precious, "before": "0"}]}).to_string(),
        serde_json::json!({"version": 2, "files": [entry(&here, "tides.wsdl", "victim/precious.txt")]}).to_string(),
        serde_json::json!({"version": 2, "files": [entry(&here.join("victim"), "precious.txt", ".precious.txt.0123456789abcdef.charter-new")]}).to_string(),
        serde_json::json!({"version": 2, "files": [entry(&here, "../victim/precious.txt", "x")]}).to_string(),
        serde_json::json!({"version": 2, "files": [entry(&here, "tides.wsdl", ".tides.wsdl.0123456789abcdef.charter-new"), entry(&here.join("parts"), "desk.wsdl", ".desk.wsdl.0123456789abcdef.charter-new")]}).to_string(),
        "[".repeat(100_000),
    ];
    for note in notes {
        folder.write(".tides.wsdl.charter-unfinished", &note);
        std::fs::File::open(folder.path(".tides.wsdl.charter-unfinished"))
            .unwrap()
            .set_modified(std::time::SystemTime::now() - Duration::from_secs(60))
            .unwrap();
        let before = everything(&folder.path(""));
        for command in [
            "check tides.wsdl",
            "show tides.wsdl",
            "message tides.wsdl nextTide",
            "compare tides.wsdl tides.wsdl",
        ] {
            folder.run(command).ends(0);
        }
        assert_eq!(everything(&folder.path("")), before, "{note}");
        folder.run(&format!("{SET} --dry-run")).ends(0);
        assert_eq!(everything(&folder.path("")), before, "{note}");
        // An edit of one file goes on, and one of several says what is in its way.
        let run = folder
            .run("set tides.wsdl service/TidesService/port/TidesPort address=http://tides.saltmere.example/")
            .ends(0);
        assert!(run.err.contains("this note of an edit is not known to be yours"), "{}", run.err);
        let after = everything(&folder.path(""));
        let changed: Vec<_> =
            after.iter().filter(|(path, bytes)| before.get(*path) != Some(*bytes)).collect();
        assert_eq!(changed.len(), 1, "{changed:?}");
        assert_eq!(after.len(), before.len());
        folder.run(RENAME).ends(2).complains(".tides.wsdl.charter-unfinished");
        assert_eq!(everything(&folder.path("")), after);
        folder.write("tides.wsdl", &tides);
    }
    // A link in the place of a note or of a new text is none of ours.
    #[cfg(unix)]
    {
        std::fs::remove_file(note_of(&folder.path("tides.wsdl"))).unwrap();
        std::os::unix::fs::symlink(&precious, folder.path(".tides.wsdl.0123456789abcdef.charter-new"))
            .unwrap();
        folder.run(SET).ends(0);
        assert!(folder.path(".tides.wsdl.0123456789abcdef.charter-new").is_symlink());
        assert_eq!(folder.read("victim/precious.txt"), "keep me");
    }
}

#[test]
fn texts_that_a_killed_edit_has_left_go_with_the_next() {
    let folder = Folder::with_parts();
    folder.write(".tides.wsdl.00112233445566aa.charter-new", "half a te");
    folder.write(".tides.wsdl.backup.charter-new", "somebody's own");
    folder.write(".gauges.wsdl.00112233445566aa.charter-new", "of another contract");
    folder.run("check tides.wsdl").ends(0);
    assert!(folder.path(".tides.wsdl.00112233445566aa.charter-new").exists());
    folder.run(SET).ends(0);
    assert!(!folder.path(".tides.wsdl.00112233445566aa.charter-new").exists());
    assert!(folder.path(".tides.wsdl.backup.charter-new").exists());
    assert!(folder.path(".gauges.wsdl.00112233445566aa.charter-new").exists());
}

#[test]
fn of_edits_at_one_time_none_is_lost() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let operations: Vec<String> = (0..12).map(|number| format!("watch{number}")).collect();
    let children: Vec<_> = operations
        .iter()
        .map(|name| command(&folder, &format!("add tides.wsdl operation~{name}~{{~input~{{~gauge:~string~}}~output~{{~height:~decimal~}}~}}")).spawn().unwrap())
        .collect();
    let mut done = Vec::new();
    for (mut child, name) in children.into_iter().zip(&operations) {
        if child.wait().unwrap().success() {
            done.push(name);
        }
    }
    let text = folder.read("tides.wsdl");
    assert!(!done.is_empty());
    for name in done {
        assert!(text.contains(&format!("<wsdl:operation name=\"{name}\">")), "{name} is lost");
    }
    folder.run("check tides.wsdl").ends(0);
}

#[test]
fn whoever_reads_while_an_edit_writes_sees_all_of_it_or_nothing() {
    let folder = Folder::with_parts();
    let names = ["nextTide", "followingTide"];
    let writer = std::thread::scope(|threads| {
        let writer = threads.spawn(|| {
            for round in 0..25 {
                let (from, to) = (names[round % 2], names[(round + 1) % 2]);
                let status =
                    command(&folder, &format!("rename tides.wsdl operation/{from} {to}")).status().unwrap();
                assert!(status.success(), "round {round}");
            }
        });
        let mut reads = 0;
        while !writer.is_finished() {
            // A mixture has a binding of an operation that the port type lacks.
            let run = folder.run("check tides.wsdl");
            assert_eq!(run.status, 0, "{}\n{}", run.out, run.err);
            reads += 1;
        }
        assert!(reads > 5, "{reads}");
        writer.join()
    });
    writer.unwrap();
    let names: Vec<_> = everything(&folder.path("")).into_keys().collect();
    assert_eq!(names, [folder.path("parts/desk.wsdl"), folder.path("tides.wsdl")]);
}

#[test]
#[cfg(target_os = "linux")]
fn an_edit_waits_for_another_and_then_says_so() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let lock = std::fs::File::open(folder.path("")).unwrap();
    lock.lock().unwrap();
    // Whoever reads does not care.
    folder.run("check tides.wsdl").ends(0);
    folder.run(&format!("{SET} --dry-run")).ends(0);
    folder.run(SET).ends(2).complains("somebody else is editing here").complains("run the command again");
    drop(lock);
    folder.run(SET).ends(0);
}
