//! The console blocks of the README and of `docs/` are run, so that no page can lie.

use std::fs;
use std::path::Path;

#[test]
fn the_pages_show_what_the_program_does() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    for page in ["README", "docs/commands", "docs/checks", "docs/paths", "docs/notation", "docs/values"] {
        // Each page has a folder of its own with the demo data, since its commands may change it.
        let work = tempfile::tempdir().unwrap();
        let name = Path::new(page).file_name().unwrap().to_str().unwrap();
        let copy = work.path().join(format!("{name}.md"));
        fs::copy(root.join(format!("{page}.md")), &copy).unwrap();
        let data = work.path().join(format!("{name}.in/saltmere"));
        for version in fs::read_dir(root.join("crates/cli/demo")).unwrap() {
            let version = version.unwrap();
            let folder = data.join(version.file_name());
            fs::create_dir_all(&folder).unwrap();
            for file in fs::read_dir(version.path()).unwrap() {
                let file = file.unwrap();
                fs::copy(file.path(), folder.join(file.file_name())).unwrap();
            }
        }
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
    let page = include_str!("../../../docs/checks.md");
    let toml = page.split("```toml\n").nth(1).unwrap().split("```").next().unwrap();
    let settings = charter_check::Settings::read(toml).unwrap();
    assert!(settings.has_house());
    assert_eq!((settings.levels.len(), settings.exceptions.len(), settings.house.names.len()), (3, 1, 2));
}
