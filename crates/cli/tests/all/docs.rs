//! The console blocks of the README and of `docs/` are run, so that no page can lie.

use std::fs;
use std::path::Path;

use sha2::Digest;

use crate::program::demo::without_times;
use crate::program::folder::Folder;

/// Copies a folder with everything in it.
fn copy_all(from: &Path, to: &Path) {
    fs::create_dir_all(to).unwrap();
    for entry in fs::read_dir(from).unwrap() {
        let entry = entry.unwrap();
        let target = to.join(entry.file_name());
        match entry.file_type().unwrap().is_dir() {
            true => copy_all(&entry.path(), &target),
            false => drop(fs::copy(entry.path(), target).unwrap()),
        }
    }
}

#[test]
fn the_pages_show_what_the_program_does() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    for page in [
        "README",
        "docs/commands",
        "docs/checks",
        "docs/paths",
        "docs/notation",
        "docs/values",
        "docs/compare",
    ] {
        // Each page has a folder of its own with the demo data, since its commands may change it.
        let work = tempfile::tempdir().unwrap();
        let name = Path::new(page).file_name().unwrap().to_str().unwrap();
        let copy = work.path().join(format!("{name}.md"));
        fs::copy(root.join(format!("{page}.md")), &copy).unwrap();
        let data = work.path().join(format!("{name}.in/saltmere"));
        copy_all(&root.join("crates/cli/demo"), &data);
        // A page may show a file of notation and go on with it.
        let text = fs::read_to_string(&copy).unwrap();
        if let Some((_, rest)) = text.split_once("```charter\n") {
            fs::write(data.join("tides.charter"), rest.split("```").next().unwrap()).unwrap();
        }
        let cases = trycmd::TestCases::new();
        cases.register_bin("charter", Path::new(env!("CARGO_BIN_EXE_charter"))).case(&copy);
        cases.run();
    }
}

/// The settings that a page shows are settings.
#[test]
fn the_settings_on_the_page_can_be_read() {
    let page = include_str!("../../../../docs/checks.md");
    let toml = page.split("```toml\n").nth(1).unwrap().split("```").next().unwrap();
    let settings = charter_session::Settings::read(toml).unwrap().check;
    assert!(settings.has_house());
    assert_eq!((settings.levels.len(), settings.exceptions.len(), settings.house.names.len()), (3, 1, 2));
}

/// The page lists the kinds of change from the catalogue.
#[test]
fn the_kinds_of_change_on_the_page_are_those_of_the_catalogue() {
    let page = include_str!("../../../../docs/compare.md");
    for topic in charter_compare::Topic::ALL {
        let mut table = format!("### {}\n\n| kind | says | concerns |\n| --- | --- | --- |\n", topic.name());
        for entry in charter_compare::kinds().filter(|entry| entry.topic == topic) {
            let row = format!("| `{}` | {} | {} |\n", entry.kind, entry.says, entry.concerns.words());
            table.push_str(&row);
        }
        assert!(page.contains(&table), "docs/compare.md should have:\n{table}");
    }
}

/// A picture, as `docs/screenshots/make` writes down what it shows.
struct Picture<'t> {
    name: &'t str,
    /// The first line that is shown.
    first: usize,
    checksum: &'t str,
    command: &'t str,
    /// The contract for which a stand-in answers meanwhile.
    answering: Option<&'t str>,
    text: Vec<&'t str>,
}

/// Where the stand-in of a picture is, as the picture has it.
const HOST: &str = "localhost:8080";

fn pictures(shown: &str) -> Vec<Picture<'_>> {
    let mut found: Vec<Picture<'_>> = Vec::new();
    for line in shown.lines() {
        match (line.strip_prefix("== "), found.last_mut()) {
            (Some(head), _) => {
                let words: Vec<&str> = head.split(' ').collect();
                let (name, first, checksum) = (words[0], words[1].parse().unwrap(), words[2]);
                let answering = words.get(3).copied();
                found.push(Picture { name, first, checksum, command: "", answering, text: Vec::new() });
            }
            (None, Some(last)) if last.command.is_empty() => last.command = line.strip_prefix("$ ").unwrap(),
            (None, Some(last)) => last.text.push(line),
            (None, None) => panic!("{line}"),
        }
    }
    found
}

/// The words of a command as a shell parts them: those in single quotes are one.
fn words(command: &str) -> Vec<String> {
    let mut found = Vec::new();
    for (at, piece) in command.split('\'').enumerate() {
        match at % 2 {
            0 => found.extend(piece.split_whitespace().map(str::to_owned)),
            _ => found.push(piece.to_owned()),
        }
    }
    found
}

/// No picture is older than what the program prints, and none was taken by another hand than the script's.
#[test]
fn pictures_show_what_the_program_prints() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/screenshots");
    let shown = fs::read_to_string(folder.join("shown.txt")).unwrap();
    let pictures = pictures(&shown);
    let work = Folder::with_demo();
    for picture in &pictures {
        let checksum = sha2::Sha256::digest(fs::read(folder.join(picture.name)).unwrap());
        let checksum: String = checksum.iter().map(|byte| format!("{byte:02x}")).collect();
        assert_eq!(checksum, picture.checksum, "{}: take it anew with docs/screenshots/make", picture.name);
        let serving = picture.answering.map(|contract| work.serve(&format!("answer {contract}")));
        let host = serving.as_ref().map_or(HOST, |serving| &serving.host);
        let printed = match picture.command.strip_prefix("GET ") {
            Some(path) => serving.as_ref().unwrap().get(path).text().replace("quay.example:81", HOST),
            None => printed(&work, &picture.command.replace(HOST, host)).replace(host, HOST),
        };
        let printed = if serving.is_some() { without_times(&printed) } else { printed };
        let all: Vec<&str> = printed.lines().skip(picture.first - 1).collect();
        let count = picture.text.len();
        assert_eq!(&all[..count.min(all.len())], picture.text, "{}: {}", picture.name, picture.command);
    }
    // Every picture of the folder is one of them.
    let there = fs::read_dir(&folder).unwrap().map(|entry| entry.unwrap().file_name().into_string().unwrap());
    let mut there: Vec<String> = there.filter(|name| name.ends_with(".png")).collect();
    there.sort();
    let mut known: Vec<&str> = pictures.iter().map(|picture| picture.name).collect();
    known.sort_unstable();
    assert_eq!(there, known);
}

/// What a command prints, on both streams as they stand on a screen.
fn printed(work: &Folder, command: &str) -> String {
    let screen = work.path("screen");
    let file = fs::File::create(&screen).unwrap();
    std::process::Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(&words(command)[1..])
        .current_dir(work.path(""))
        .env_remove("COLUMNS")
        .stdout(file.try_clone().unwrap())
        .stderr(file)
        .status()
        .unwrap();
    fs::read_to_string(&screen).unwrap()
}

/// The files that the pages about the house name are there.
#[test]
fn the_pages_about_the_house_name_files_that_are_there() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut all = Vec::new();
    for top in ["crates", "xtask", "fuzz", "docs"] {
        all.extend(walkdir::WalkDir::new(root.join(top)).into_iter().map(|entry| {
            let entry = entry.unwrap();
            let path = entry.path().strip_prefix(&root).unwrap().to_string_lossy().into_owned();
            if entry.file_type().is_dir() { format!("/{path}/") } else { format!("/{path}") }
        }));
    }
    let mut named = 0;
    for page in
        ["ARCHITECTURE.md", "docs/design/edits.md", "docs/design/inclusion.md", "docs/design/ambiguity.md"]
    {
        let text = fs::read_to_string(root.join(page)).unwrap();
        for word in text.split('`').skip(1).step_by(2) {
            let is_path = !word.contains(' ')
                && (word.ends_with(".rs") || word.ends_with('/') || word.ends_with(".md"));
            if is_path && !word.contains(['*', '(']) {
                named += 1;
                let end = format!("/{word}");
                let found = all.iter().any(|path| path.ends_with(&end));
                assert!(found, "{page} names {word}, which is not there");
            }
        }
    }
    assert!(named > 60, "{named}");
}
