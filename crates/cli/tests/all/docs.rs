//! The console blocks of the README and of `docs/` are run, so that no page can lie.

use std::fs;
use std::path::Path;

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
