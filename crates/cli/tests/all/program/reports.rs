//! What a comparison is written as: text, notes, page, JSON and SARIF, from the same data.

use serde_json::Value;

use crate::program::folder::{Folder, contract};

const V2: &str = "saltmere/v2/pilotage.wsdl";
const V3: &str = "saltmere/v3/pilotage.wsdl";

/// A value of an enumeration that means something to every form of a report.
const HOSTILE: &str = "&lt;script&gt;alert(1)&lt;/script&gt; `a|b` *c* [d](e) &amp;amp; \u{202e}";

/// The example contract with a hostile value, and without it.
fn hostile() -> Folder {
    let folder = Folder::empty();
    let listed = "<xs:enumeration value=\"lock\"/>";
    folder
        .write("old.wsdl", contract(&[(listed, &format!("{listed}<xs:enumeration value=\"{HOSTILE}\"/>"))]));
    folder.write("new.wsdl", contract(&[]));
    folder
}

#[test]
fn a_value_means_nothing_to_a_page() {
    let page = hostile().run("compare old.wsdl new.wsdl --as page").ends(1).out;
    assert!(!page.contains("<script>alert"), "{page}");
    assert!(page.contains("&lt;script&gt;alert(1)"), "{page}");
}

#[test]
fn a_value_means_nothing_to_markdown() {
    let notes = hostile().run("compare old.wsdl new.wsdl --as notes").ends(1).out;
    let line = notes.lines().find(|line| line.contains("is no longer allowed")).unwrap();
    assert!(
        line.contains("&lt;script>alert(1)&lt;/script> \\`a\\|b\\` \\*c\\* \\[d\\](e) &amp;amp;"),
        "{line}"
    );
    // Within the fence, everything is as it is.
    assert!(
        notes.contains(
            "\n  - type Gauge = string one-of \"pier\", \"lock\", \"<script>alert(1)</script> `a|b` *c*"
        ),
        "{notes}"
    );
}

#[test]
fn every_form_tells_of_the_same_changes() {
    let folder = Folder::with_demo();
    let run = |form: &str| folder.run(format!("compare {V2} {V3} {form}").trim_end()).ends(1);
    let json = run("--format json").json();
    let changes = json["changes"].as_array().unwrap();
    let (text, notes, page) = (run("").out, run("--as notes").out, run("--as page").out);
    let sarif = run("--format sarif").json();
    let results = sarif["runs"][0]["results"].as_array().unwrap();
    assert_eq!(results.len(), changes.len());
    for (change, result) in changes.iter().zip(results) {
        let (path, rule) = (change["path"].as_str().unwrap(), change["rule"].as_str().unwrap());
        let verdict = change["verdict"].as_str().unwrap();
        assert!(text.contains(&format!("{verdict:6} {path}: ")), "{path} is not in\n{text}");
        assert!(text.contains(&format!("       {rule}  ")), "{rule} is not in\n{text}");
        assert!(notes.contains(&format!("(`{path}`)")), "{path} is not in\n{notes}");
        assert!(page.contains(&path.replace('/', "&#x2f;")), "{path} is not in the page");
        assert_eq!(result["ruleId"], rule);
        assert_eq!(result["properties"]["path"], path);
        let level = if verdict == "breaks" { "error" } else { "warning" };
        assert_eq!(result["level"], level, "{path}");
    }
}

#[test]
fn places_of_changes_are_those_of_both_files() {
    let folder = Folder::with_demo();
    let json = folder.run(&format!("compare {V2} {V3} --format json")).ends(1).json();
    let mut seen = 0;
    for change in json["changes"].as_array().unwrap() {
        for (side, line) in [("old_place", "old"), ("new_place", "new")] {
            // What stands for many has the place of the first.
            let Some(place) = change[side].as_object().filter(|_| change["path"] != "contract") else {
                continue;
            };
            let file = place["file"].as_str().unwrap();
            let text = folder.read(file);
            let line_there = text.lines().nth(place["line"].as_u64().unwrap() as usize - 1).unwrap();
            let name = change["path"].as_str().unwrap().rsplit('/').next().unwrap().to_owned();
            let renamed = change["rule"].as_str().unwrap().ends_with("renamed") && line == "old";
            assert!(
                renamed || line_there.contains(&name) || line_there.contains("location="),
                "{name}: {line_there}"
            );
            seen += 1;
        }
    }
    assert!(seen >= 8, "{seen} places\n{json:#}");
}

#[test]
fn the_text_begins_with_the_verdict_and_the_worst() {
    let folder = Folder::with_demo();
    let text = folder.run(&format!("compare {V2} {V3}")).ends(1).out;
    let mut lines = text.lines();
    assert_eq!(lines.next(), Some("breaks 5 of 11 operations no longer work as they did"));
    assert_eq!(lines.next(), Some(&*format!("       from {V2} to {V3}")));
    let heads: Vec<&str> = text
        .lines()
        .skip(2)
        .filter(|line| {
            line.starts_with("breaks ") || line.starts_with("bends  ") || line.starts_with("keeps  ")
        })
        .map(|line| &line[..6])
        .collect();
    let mut sorted = heads.clone();
    sorted.sort_by_key(|head| ["breaks", "bends ", "keeps "].iter().position(|known| known == head));
    assert_eq!(heads, sorted, "{text}");
    assert!(heads.len() >= 6, "{text}");
}

#[test]
fn nothing_has_changed_in_any_form() {
    let folder = Folder::with_demo();
    let run = |form: &str| folder.run(format!("compare {V3} {V3} {form}").trim_end()).ends(0);
    run("").says("keeps  nothing that consumers can see has changed").lacks("depends on");
    run("--as notes").says("nothing that you can see has changed").lacks("## ");
    run("--as page").says("nothing that consumers can see has changed").lacks("<article");
    let json = run("--format json").json();
    assert_eq!((&json["verdict"], json["changes"].as_array().unwrap().len()), (&"keeps".into(), 0));
    let sarif = run("--format sarif").json();
    assert_eq!(sarif["runs"][0]["results"], Value::Array(Vec::new()));
    run("--side-by-side").says("the typical messages are the same in both versions");
}

#[test]
fn both_typical_messages_stand_beside_each_other() {
    let folder = Folder::with_demo();
    let text = folder.run(&format!("compare {V2} {V3} --operation findBoarding --side-by-side")).ends(1).out;
    let (_, beside) = text.split_once("findBoarding (output)\n").unwrap();
    // What differs is marked, and the same on both sides is not.
    let line = |words: &str| {
        beside.lines().find(|line| line.contains(words)).unwrap_or_else(|| panic!("{words}: {beside}"))
    };
    assert!(line("<assignedPilot>").contains("<pilot>"), "{beside}");
    let state = line("<state>");
    assert_eq!(state.matches("<state>").count(), 2, "{state}");
}

#[test]
fn an_operation_that_is_not_there_is_said_so() {
    let folder = Folder::with_demo();
    let run = |name: &str| folder.run(&format!("compare {V2} {V3} --operation {name}")).ends(2);
    run("listBoarding").complains("neither version has an operation \"listBoarding\"");
    assert!(run("listBoarding").err.contains("did you mean \"listBoardings\"?"));
    run("tow").complains("neither version has an operation \"tow\"");
}
