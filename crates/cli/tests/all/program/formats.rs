//! Files that say what was settled once: those that were written before are still read, and later ones are not misread.

use crate::program::folder::{Folder, Run};

const DRAFT: &str = "saltmere/draft/towage.wsdl";

/// A file of known findings as the first version of the program wrote it, by the words of each.
fn known_by_words(folder: &Folder) -> String {
    let json = folder.run(&format!("check {DRAFT} --format json")).json();
    let quoted = |text: &serde_json::Value| text.to_string();
    let findings = json["findings"].as_array().unwrap().iter();
    let entry = |it: &serde_json::Value| {
        let (rule, path, message) = (quoted(&it["rule"]), quoted(&it["path"]), quoted(&it["message"]));
        format!("[[finding]]\nrule = {rule}\npath = {path}\nmessage = {message}\n\n")
    };
    findings.map(entry).collect()
}

#[test]
fn findings_that_are_known_by_their_words_are_still_known() {
    let folder = Folder::with_demo();
    folder.write("known.toml", known_by_words(&folder));
    let run = folder.run(&format!("check {DRAFT} --baseline known.toml")).ends(0);
    run.says("no findings").says("12 known already");
}

#[test]
fn a_baseline_says_what_stands_at_each_place_and_not_what_is_said_of_it() {
    let folder = Folder::with_demo();
    folder.run(&format!("check {DRAFT} --write-baseline known.toml")).ends(0);
    let known = folder.read("known.toml");
    assert!(known.contains("format = 2\n") && !known.contains("message = "), "{known}");
    assert!(known.contains("at = \"../v1/vessels.xsd\""), "{known}");
    // Another thing that is wrong in the same way at the same component is new.
    let text = folder.read(DRAFT).replace("../v1/vessels.xsd", "../v1/tugs.xsd");
    folder.write(DRAFT, text);
    folder.run(&format!("check {DRAFT} --baseline known.toml")).ends(1).says("tugs.xsd cannot be imported");
}

#[test]
fn a_baseline_of_a_later_form_or_half_a_finding_is_refused() {
    let folder = Folder::with_demo();
    let refused = |text: &str| -> Run {
        folder.write("known.toml", text);
        folder.run(&format!("check {DRAFT} --baseline known.toml")).ends(2)
    };
    let run = refused("format = 3\n");
    run.complains("the file has the format 3, and this program knows up to 2").complains("newer version");
    refused("format = 2\n[[finding]]\nrule = \"type-unused\"\npath = \"type/Tug\"\n")
        .complains("says neither at nor message");
    refused("format = 2\n[[finding]]\nrule = \"r\"\npath = \"p\"\nat = \"a\"\ncolour = \"red\"\n")
        .complains("colour");
}

/// The comparison of the demo's second and third version, with a file of acceptances beside the latter.
fn compared(folder: &Folder, options: &str) -> Run {
    folder.run(format!("compare saltmere/v2/pilotage.wsdl saltmere/v3/pilotage.wsdl {options}").trim_end())
}

/// The mark of a change, of either form, as SARIF has it.
fn mark(folder: &Folder, path: &str, form: &str) -> String {
    let log = compared(folder, "--format sarif").json();
    let results = log["runs"][0]["results"].as_array().unwrap();
    let result = results.iter().find(|it| it["properties"]["path"] == path).unwrap();
    result["partialFingerprints"][form].as_str().unwrap().to_owned()
}

const ACCEPTED: &str = "saltmere/v3/pilotage.accepted.toml";

#[test]
fn an_acceptance_rests_on_facts_and_one_of_the_first_form_on_words() {
    let folder = Folder::with_demo();
    let words = mark(&folder, "type/PageSize", "charterChange/v1");
    let facts = mark(&folder, "type/PageSize", "charterChange/v2");
    assert_ne!(words, facts);
    let entry = |mark: &str| {
        format!(
            "[[accepted]]\npath = \"type/PageSize\"\nrule = \"range-narrowed\"\nchange = \"{mark}\"\nreason = \"agreed\"\n"
        )
    };
    for (text, holds) in [
        (entry(&words), true),
        (format!("format = 2\n{}", entry(&facts)), true),
        // Each form has its own marks.
        (entry(&facts), false),
        (format!("format = 2\n{}", entry(&words)), false),
    ] {
        folder.write(ACCEPTED, &text);
        let run = compared(&folder, "").ends(1);
        match holds {
            true => run.says("accepted: agreed"),
            false => {
                run.lacks("accepted: agreed").complains("was accepted as it was then, and has changed again")
            }
        };
    }
}

#[test]
fn accepting_more_keeps_what_was_accepted_by_words() {
    let folder = Folder::with_demo();
    let words = mark(&folder, "type/PageSize", "charterChange/v1");
    folder.write(
        ACCEPTED,
        format!("[[accepted]]\npath = \"type/PageSize\"\nrule = \"range-narrowed\"\nchange = \"{words}\"\nreason = \"agreed\"\n"),
    );
    let accept = "--accept type/BoardingPoint=known~to~all";
    compared(&folder, accept).says("accepted: agreed").says("accepted: known to all");
    let text = folder.read(ACCEPTED);
    assert!(text.contains("format = 2\n") && text.matches("by_words = true").count() == 1, "{text}");
    compared(&folder, "").says("accepted: agreed").says("accepted: known to all");
    // Accepted again, it goes by the facts.
    compared(&folder, "--accept type/PageSize=still~agreed").says("accepted: still agreed");
    assert!(!folder.read(ACCEPTED).contains("by_words"), "{}", folder.read(ACCEPTED));
}

#[test]
fn acceptances_of_a_later_form_are_refused() {
    let folder = Folder::with_demo();
    folder.write(ACCEPTED, "format = 9\n");
    let run = compared(&folder, "").ends(2);
    run.complains("the file has the format 9, and this program knows up to 2")
        .complains("pilotage.accepted.toml");
}
