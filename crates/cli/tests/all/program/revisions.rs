//! `charter compare` beyond two files: witnesses, consumers, git, gates, accepted changes, and the forms of its report.

use serde_json::Value;

use crate::program::folder::Folder;

const V2: &str = "saltmere/v2/pilotage.wsdl";
const V3: &str = "saltmere/v3/pilotage.wsdl";

/// A repository with the demo contract in three revisions: two tagged, and one not committed.
fn repository() -> Folder {
    let folder = Folder::with_demo();
    let copy = |version: &str| {
        for file in ["pilotage.wsdl", "vessel.xsd"] {
            folder.write(&format!("contracts/{file}"), folder.read(&format!("saltmere/{version}/{file}")));
        }
    };
    folder.git(&["init", "-q"]);
    for version in ["v1", "v2"] {
        copy(version);
        folder.git(&["add", "contracts"]);
        folder.git(&["commit", "-qm", version]);
        folder.git(&["tag", version]);
    }
    copy("v3");
    folder
}

#[test]
fn every_break_has_a_message_that_one_version_accepts_and_the_other_refuses() {
    let folder = Folder::with_demo();
    let json = folder.run(&format!("compare {V2} {V3} --format json")).ends(1).json();
    let breaks: Vec<&Value> =
        json["changes"].as_array().unwrap().iter().filter(|change| change["verdict"] == "breaks").collect();
    assert_eq!(breaks.len(), 4);
    for change in breaks.into_iter().filter(|change| change["rule"] != "header-added") {
        let witness = &change["witness"];
        let by = witness["accepted_by"].as_str().unwrap();
        folder.write("body.xml", witness["body"].as_str().unwrap());
        let (accepts, refuses) = if by == "old" { (V2, V3) } else { (V3, V2) };
        folder.run(&format!("match {accepts} body.xml")).ends(0);
        folder.run(&format!("match {refuses} body.xml")).ends(1).says(witness["because"].as_str().unwrap());
    }
    // The line in question is marked, with what is wrong beside it.
    folder
        .run(&format!("compare {V2} {V3}"))
        .says("<pageSize>101</pageSize>                      > \"101\" is not at most 100")
        .says("the old version accepts");
}

#[test]
fn revisions_in_git() {
    let folder = repository();
    folder
        .run("compare v1:contracts/pilotage.wsdl v2:contracts/pilotage.wsdl")
        .ends(0)
        .says("from v1:contracts/pilotage.wsdl to v2:contracts/pilotage.wsdl");
    folder.run("compare v2 contracts/pilotage.wsdl").ends(1).says("v2:contracts/pilotage.wsdl:102:28");
    folder.run("compare v1 v2").ends(0).says("contracts/pilotage.wsdl").says("estimateDues");
    let run = folder.run("compare --since v1 --format json").ends(1);
    // The demo data lies in the repository too, and was not there then.
    assert!(run.err.contains("saltmere/v1/pilotage.wsdl is new"), "{}", run.err);
    assert_eq!(run.json()["contracts"][0]["contract"], "contracts/pilotage.wsdl");
    folder.run("compare --since v2 contracts/pilotage.wsdl").ends(1).says("assignedPilot");
}

#[test]
fn revisions_that_are_not_there() {
    let folder = repository();
    folder.run("compare v9:contracts/pilotage.wsdl x.wsdl").ends(2).complains("git knows no revision v9");
    folder.run("compare --since v9").ends(2).complains("git knows no revision v9");
    folder
        .run("compare v1:contracts/berths.wsdl contracts/pilotage.wsdl")
        .ends(2)
        .complains("the revision v1 has no contracts/berths.wsdl");
    folder
        .run("compare v9 contracts/pilotage.wsdl")
        .ends(2)
        .complains("v9 is neither a file nor a revision that git knows");
    folder.run("compare v9.wsdl contracts/pilotage.wsdl").ends(2).complains("v9.wsdl: there is no such file");
    let outside = Folder::with_demo();
    outside.run(&format!("compare v1:pilotage.wsdl {V2}")).ends(2).complains("in no git repository");
    outside.run("compare --since v1").ends(2).complains("in no git repository");
}

#[test]
fn a_contract_that_was_moved_is_the_same_one() {
    let folder = repository();
    folder.write("contracts/tides.wsdl", crate::program::folder::contract(&[]));
    folder.git(&["add", "contracts"]);
    folder.git(&["commit", "-qm", "v3"]);
    folder.git(&["tag", "v3"]);
    folder.git(&["mv", "contracts/tides.wsdl", "contracts/water.wsdl"]);
    folder.git(&["mv", "contracts/pilotage.wsdl", "contracts/pilots.wsdl"]);
    let run = folder.run("compare --since v3 contracts --format json").ends(0);
    assert_eq!(run.err, "");
    let json = run.json();
    let names: Vec<&str> =
        json["contracts"].as_array().unwrap().iter().map(|one| one["contract"].as_str().unwrap()).collect();
    assert_eq!(names, ["pilots.wsdl", "water.wsdl"]);
    folder
        .run("compare --since v3 contracts")
        .ends(0)
        .says("from v3:contracts/tides.wsdl to contracts/water.wsdl");
    // Of two that might be the one that is gone, neither is taken for it.
    folder.write("contracts/waters.wsdl", crate::program::folder::contract(&[]));
    let run = folder.run("compare --since v3 contracts").ends(1);
    assert!(run.err.contains("tides.wsdl is gone: its consumers are cut off"), "{}", run.err);
    assert!(run.err.contains("water.wsdl is new") && run.err.contains("waters.wsdl is new"), "{}", run.err);
}

#[test]
fn revisions_are_named_as_git_names_them() {
    let folder = repository();
    folder.git(&["add", "contracts"]);
    folder.git(&["commit", "-qm", "v3"]);
    folder.git(&["tag", "release/3"]);
    folder.git(&["branch", "next"]);
    for (old, new) in [
        ("v2", "HEAD"),
        ("HEAD^", "HEAD"),
        ("HEAD^", "next"),
        ("v2", "release/3"),
        ("v2:contracts", "release/3:contracts"),
        ("v2:contracts/pilotage.wsdl", "release/3:contracts/pilotage.wsdl"),
        ("v2:contracts/pilotage.wsdl", "next"),
        ("v2", "HEAD:contracts/pilotage.wsdl"),
    ] {
        folder.run(&format!("compare {old} {new}")).ends(1).says("breaks 5 of 11 operations");
    }
    folder.run("compare v2:./contracts/pilotage.wsdl HEAD:./contracts/pilotage.wsdl").ends(1);
    folder
        .run("compare v2:contracts HEAD:contracts/pilotage.wsdl")
        .ends(2)
        .complains("one is a file, one holds many");
    folder.run("compare v2 -").ends(2).complains("what comes from standard input has no place in v2");
    folder.run("compare --since v2 nowhere").ends(2).complains("nowhere: there is no such file or folder");
    folder.run("compare v2:saltmere HEAD:contracts").ends(2).complains("the revision v2 has no saltmere");
    folder.git(&["rm", "-rq", "--cached", "contracts"]);
    folder.git(&["commit", "-qm", "none"]);
    folder.run("compare HEAD HEAD").ends(2).complains("there is no contract in this folder");
}

#[test]
fn without_git_only_files_are_compared() {
    let folder = repository();
    let run = |words: &str| folder.run_with(words, b"", &[("PATH", "")]);
    run("compare v1 v2").ends(2).complains("git cannot be run");
    run(&format!("compare {V2} {V3}")).ends(1);
}

#[test]
fn an_import_that_one_revision_lacks_is_said() {
    let folder = repository();
    folder.git(&["rm", "-q", "--cached", "contracts/vessel.xsd"]);
    folder.git(&["commit", "-qm", "lost"]);
    let run = folder.run("compare HEAD contracts/pilotage.wsdl");
    assert!(run.err.contains("HEAD:contracts/pilotage.wsdl has faults"), "{}", run.err);
    assert!(run.err.contains("there is no such file"), "{}", run.err);
}

#[test]
fn folders_are_compared_contract_by_contract() {
    let folder = Folder::with_demo();
    folder.run("compare saltmere/v1 saltmere/v2").ends(0).says("pilotage.wsdl").says("keeps");
    let run = folder.run("compare saltmere/v1 saltmere/office").ends(1);
    assert!(run.err.contains("pilotage.wsdl is gone: its consumers are cut off"), "{}", run.err);
    folder.run(&format!("compare {V2} saltmere/v3")).ends(2).complains("one is a file, one holds many");
}

#[test]
fn unrelated_contracts_have_no_verdict() {
    let folder = Folder::with_demo();
    folder
        .run(&format!("compare {V2} saltmere/office/harbour.wsdl"))
        .ends(2)
        .complains("have no operation in common");
}

#[test]
fn the_gate() {
    let folder = Folder::with_demo();
    folder.run(&format!("compare {V2} {V3} --allow breaks")).ends(0);
    folder.run(&format!("compare {V2} {V3} --allow bends")).ends(1);
    folder.run(&format!("compare saltmere/v1/pilotage.wsdl {V2} --allow keeps")).ends(0);
    folder.write("saltmere/charter.toml", "[compare]\nallow = \"breaks\"\n");
    folder.run(&format!("compare {V2} {V3}")).ends(0);
    folder.write("saltmere/charter.toml", "[compare]\nallow = \"everything\"\n");
    folder
        .run(&format!("compare {V2} {V3}"))
        .ends(2)
        .complains("charter.toml:2:9: \"everything\" is not known here");
}

#[test]
fn only_what_was_asked_for_is_shown_and_the_verdict_is_of_the_whole() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("compare {V2} {V3} --only bends")).ends(1);
    run.says("breaks 5 of 11 operations").says("type/Hazard/packing").lacks("type/PageSize");
    folder
        .run(&format!("compare {V2} {V3} --operation listBoardings"))
        .ends(1)
        .says("breaks listBoardings: it no longer works as it did")
        .says("type/PageSize")
        .lacks("type/BoardingPoint");
    // Of one that nothing reaches that is said too, and the status is about it.
    let run = folder.run(&format!("compare {V2} {V3} --operation cancelBoarding --operation findBoarding"));
    run.ends(1).says("keeps  cancelBoarding: all that").says("breaks findBoarding: ");
    let run = folder.run(&format!("compare {V2} {V3} --operation cancelBoarding")).ends(0);
    run.says("breaks 5 of 11 operations")
        .says("keeps  cancelBoarding: all that consumers do with it still works");
}

#[test]
fn an_accepted_change_no_longer_counts_until_it_changes_again() {
    let folder = Folder::with_demo();
    let (old, new) = ("old.wsdl", "new.wsdl");
    let contract = |most: &str| {
        crate::program::folder::contract(&[(
            "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>",
            &format!(
                "<xs:element name=\"gauge\"><xs:simpleType><xs:restriction base=\"xs:string\"><xs:maxLength value=\"{most}\"/></xs:restriction></xs:simpleType></xs:element>"
            ),
        )])
    };
    folder.write(old, contract("9"));
    folder.write(new, contract("8"));
    let path =
        folder.run("compare old.wsdl new.wsdl --format json").ends(1).json()["changes"][0]["path"].clone();
    let path = path.as_str().unwrap();
    folder
        .run(&format!("compare {old} {new} --accept {path}=agreed~with~all"))
        .ends(0)
        .says("accepted: agreed with all");
    assert!(folder.read("new.accepted.toml").contains("reason = \"agreed with all\""));
    // What it is stays what it is, and so does the advice.
    let run =
        folder.run(&format!("compare {old} {new}")).ends(0).says("breaks (1 accepted) 1 of 1 operations");
    let json = folder.run(&format!("compare {old} {new} --format json")).ends(0).json();
    assert_eq!((&json["verdict"], &json["unaccepted"]), (&"breaks".into(), &"keeps".into()), "{}", run.out);
    folder.write("charter.toml", "[versions]\ncurrent = \"2.4\"\n");
    folder.run(&format!("compare {old} {new}")).ends(0).says("advice: version 2.4 becomes 3.0");
    folder.write(new, contract("7"));
    let run = folder.run(&format!("compare {old} {new}")).ends(1);
    assert!(run.err.contains("was accepted as it was then, and has changed again"), "{}", run.err);
    // What makes no sense is refused, and nothing is written.
    let before = folder.read("new.accepted.toml");
    folder.run(&format!("compare {old} {new} --accept {path}")).ends(2).complains("gives no reason");
    folder
        .run(&format!("compare {old} {new} --accept type/Gone=why"))
        .ends(2)
        .complains("nothing there bends or breaks");
    assert_eq!(folder.read("new.accepted.toml"), before);
    folder.write("new.accepted.toml", "[[accepted]]\npath = 7\n");
    folder.run(&format!("compare {old} {new}")).ends(2).complains("new.accepted.toml:2:8");
}

#[test]
fn an_acceptance_may_have_an_end() {
    let folder = Folder::with_demo();
    let ends = |until: &str| {
        let rest =
            format!("--accept type/PageSize=agreed --accept type/BoardingPoint=known~to~all --until {until}");
        folder.run(&format!("compare {V2} {V3} --operation listBoardings {rest}"))
    };
    let file = "saltmere/v3/pilotage.accepted.toml";
    ends("2999-12-31").says("accepted: agreed");
    assert_eq!(folder.read(file).matches("until = \"2999-12-31\"").count(), 2);
    folder.write(file, folder.read(file).replace("2999-12-31", "2020-02-29"));
    let run = folder.run(&format!("compare {V2} {V3}")).ends(1).lacks("accepted: agreed");
    assert!(
        run.err.contains("type/PageSize was accepted until 2020-02-29, which is over: agreed"),
        "{}",
        run.err
    );
    // What is no day is refused, and nothing is written.
    let before = folder.read(file);
    ends("2021-02-29").ends(2).complains("\"2021-02-29\" is no day");
    ends("soon").ends(2).complains("\"soon\" is no day");
    assert_eq!(folder.read(file), before);
    folder.write(file, before.replacen("2020-02-29", "never", 1));
    folder.run(&format!("compare {V2} {V3}")).ends(2).complains("\"never\" is no day");
}

#[test]
fn the_status_is_about_the_operations_that_were_asked_for() {
    let folder = Folder::with_demo();
    folder.run(&format!("compare {V2} {V3}")).ends(1);
    folder.run(&format!("compare {V2} {V3} --operation requestPilot")).ends(1).says("breaks");
    folder.run(&format!("compare {V2} {V3} --operation declareCargo")).ends(0);
}

#[test]
fn advice_on_versions() {
    let folder = Folder::with_demo();
    folder.write("saltmere/charter.toml", "[versions]\ncurrent = \"2.4\"\n");
    folder
        .run(&format!("compare {V2} {V3}"))
        .says("advice: version 2.4 becomes 3.0; the target namespace must be another, such as urn:saltmere:pilotage:2")
        .says("at two addresses");
    folder.run(&format!("compare saltmere/v1/pilotage.wsdl {V2}")).says("advice: version 2.4 becomes 2.5");
    folder.write("saltmere/charter.toml", "[versions]\nnamespace = \"sometimes\"\n");
    folder.run(&format!("compare {V2} {V3}")).ends(2).complains("there is breaks, always, never");
}

#[test]
fn other_forms_of_the_report() {
    let folder = Folder::with_demo();
    folder
        .run(&format!("compare {V2} {V3} --as notes"))
        .ends(1)
        .says("# Changes of PilotageService")
        .says("## What you must change")
        .says("- `listBoardings`: the value may now go up to 100, not 500 (`type/PageSize`)");
    let run = folder.run(&format!("compare {V2} {V3} --as page -o report.html")).ends(1);
    assert!(run.err.contains("wrote report.html"), "{}", run.err);
    let page = folder.read("report.html");
    assert!(page.contains("&lt;pageSize&gt;101&lt;&#x2f;pageSize&gt;") && !page.contains("None"), "{page}");
    let sarif = folder.run(&format!("compare {V2} {V3} --format sarif")).ends(1).json();
    let results = sarif["runs"][0]["results"].as_array().unwrap();
    assert_eq!(results.len(), 6);
    // A viewer opens the new version alone, whatever is gone; each kind of change has its text.
    for result in results {
        let uri = &result["locations"][0]["physicalLocation"]["artifactLocation"]["uri"];
        assert!(uri.as_str().unwrap().starts_with("saltmere/v3/"), "{result:#}");
    }
    for rule in sarif["runs"][0]["tool"]["driver"]["rules"].as_array().unwrap() {
        assert!(rule["help"]["text"].as_str().unwrap().len() > 40, "{rule:#}");
    }
    assert_eq!((&results[0]["level"], &results[0]["ruleId"]), (&"error".into(), &"value-removed".into()));
    folder
        .run(&format!("compare {V2} {V3} --operation findBoarding --side-by-side"))
        .says("findBoarding (output)")
        .says("<assignedPilot>")
        .lacks("requestPilot (input)\n");
}

#[test]
fn generated_code_sees_more() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!("compare saltmere/v1/pilotage.wsdl {V2} --surface code")).ends(0);
    run.says("bends  element/requestPilot/tugs")
        .says("depends on whether code is generated from the contract anew");
    let contract = crate::program::folder::contract;
    folder.write("old.wsdl", contract(&[]));
    folder.write(
        "new.wsdl",
        contract(&[]).replace("\"Tide\"", "\"Water\"").replace("tns:Tide\"", "tns:Water\""),
    );
    let rules = |options: &str| -> Vec<(String, String)> {
        let json = folder.run(&format!("compare old.wsdl new.wsdl --format json{options}")).json();
        let text = |value: &Value| value.as_str().unwrap().to_owned();
        json["changes"].as_array().unwrap().iter().map(|c| (text(&c["rule"]), text(&c["verdict"]))).collect()
    };
    assert_eq!(rules(""), [("type-renamed".to_owned(), "keeps".to_owned())]);
    assert_eq!(rules(" --surface code"), [("type-renamed".to_owned(), "bends".to_owned())]);
}

#[test]
fn a_contract_against_its_own_notation_has_not_changed() {
    let folder = Folder::with_demo();
    let notation = folder.run(&format!("show {V2}")).ends(0).out.clone();
    folder.write("saltmere/v2/pilotage.charter", notation);
    folder
        .run(&format!("compare {V2} saltmere/v2/pilotage.charter"))
        .ends(0)
        .says("nothing that consumers can see has changed");
}

#[test]
fn every_form_goes_to_a_file() {
    let folder = Folder::with_demo();
    for form in ["--format json", "--format sarif", "--as notes", "--as page", "--reader strict"] {
        let shown = folder.run(&format!("compare {V2} {V3} {form}")).ends(1);
        let written = folder.run(&format!("compare {V2} {V3} {form} -o report")).ends(1);
        assert_eq!((written.out.as_str(), folder.read("report")), ("", shown.out.clone()), "{form}");
        assert!(written.err.contains("wrote report"), "{}", written.err);
    }
}

/// A contract of so many operations, which all send the same fields, each an element of that type.
fn many_fields(operations: usize, ty: &str, fields: usize) -> String {
    let per_operation =
        |piece: &str| -> String { (0..operations).map(|n| piece.replace("N", &n.to_string())).collect() };
    let fields: String = (0..fields).map(|n| format!("<x:element name='depth{n}' type='x:{ty}'/>")).collect();
    let elements = per_operation("<x:element name='soundN' type='t:Sounding'/>");
    let messages =
        per_operation("<w:message name='SoundN'><w:part name='p' element='t:soundN'/></w:message>");
    let abstract_ones =
        per_operation("<w:operation name='soundN'><w:input message='t:SoundN'/></w:operation>");
    let bound = per_operation(
        "<w:operation name='soundN'><s:operation soapAction='soundN'/><w:input><s:body use='literal'/></w:input></w:operation>",
    );
    format!(
        "<w:definitions xmlns:w='http://schemas.xmlsoap.org/wsdl/' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/' xmlns:x='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:saltmere:soundings:1' targetNamespace='urn:saltmere:soundings:1'>
<w:types><x:schema targetNamespace='urn:saltmere:soundings:1'><x:complexType name='Sounding'><x:sequence>{fields}</x:sequence></x:complexType>{elements}</x:schema></w:types>
{messages}<w:portType name='Soundings'>{abstract_ones}</w:portType>
<w:binding name='SoundingsOverSoap11' type='t:Soundings'><s:binding transport='http://schemas.xmlsoap.org/soap/http'/>{bound}</w:binding>
</w:definitions>"
    )
}

#[test]
fn many_changes_are_counted_and_many_operations_are_not_all_named() {
    let folder = Folder::empty();
    let compared = |operations, fields| {
        folder.write("old.wsdl", many_fields(operations, "int", fields));
        folder.write("new.wsdl", many_fields(operations, "short", fields));
        folder.run("compare old.wsdl new.wsdl").ends(1).out
    };
    let text = compared(12, 21);
    // A page has all of them, folded away.
    let page = folder.run("compare old.wsdl new.wsdl --as page").ends(1).out;
    assert!(
        page.contains("<p>in all 12 operations</p>") && page.contains("<p>sound0 (input), sound1 (input), "),
        "{page}"
    );
    assert!(text.contains("\n\nbreaks 21: 21 type-changed\n\nbreaks type/Sounding/depth0: "), "{text}");
    assert!(text.contains("       in all 12 operations\n"), "{text}");
    // Where one is not reached, the others are named.
    let idle = |ty: &str| {
        many_fields(12, ty, 21)
            .replacen("</x:schema>", "<x:element name='idle' type='x:string'/></x:schema>", 1)
            .replacen(
                "<w:portType",
                "<w:message name='Idle'><w:part name='p' element='t:idle'/></w:message><w:portType",
                1,
            )
            .replacen(
                "</w:portType>",
                "<w:operation name='idle'><w:input message='t:Idle'/></w:operation></w:portType>",
                1,
            )
    };
    folder.write("old.wsdl", idle("int"));
    folder.write("new.wsdl", idle("short"));
    let text = folder.run("compare old.wsdl new.wsdl").ends(1).out;
    assert!(text.contains("sound4 (input), sound5 (input) and 6 more\n"), "{text}");
    assert!(!text.contains("sound6 (input)"), "{text}");
    // What can be taken in at a glance is not counted, and not cut short.
    let text = compared(8, 3);
    assert!(!text.contains("3 type-changed") && text.contains("sound7 (input)\n"), "{text}");
}

#[test]
fn a_report_of_any_size_fits_and_all_of_it_is_to_be_had() {
    let folder = Folder::empty();
    folder.write("old.wsdl", many_fields(1, "int", 160));
    folder.write("new.wsdl", many_fields(1, "short", 160));
    let text = folder.run("compare old.wsdl new.wsdl").ends(1).out;
    let lines = text.lines().count();
    assert!((300..=400).contains(&lines), "{lines}");
    // Some in full, some in a line each, and the rest counted, with what shows them.
    assert!(text.contains("       - depth0: int\n") && !text.contains("       - depth150: int\n"), "{text}");
    assert!(text.contains(" more: ") && text.contains(" type-changed; --all shows them\n"), "{text}");
    let more: usize = text.lines().find_map(|line| line.split_once(" more: ")?.0.parse().ok()).unwrap();
    let told = text.lines().filter(|line| line.starts_with("breaks type/Sounding/depth")).count();
    assert_eq!(told + more, 160, "{text}");
    let whole = folder.run("compare old.wsdl new.wsdl --all").ends(1).out;
    assert_eq!(whole.lines().filter(|line| line.starts_with("breaks type/Sounding/depth")).count(), 160);
    assert!(!whole.contains("--all"), "{whole}");
    let json = folder.run("compare old.wsdl new.wsdl --format json").ends(1).json();
    assert_eq!(json["changes"].as_array().unwrap().len(), 160);
    // What keeps is counted beside something else, and listed where it is all there is.
    folder.write("old.wsdl", many_fields(1, "int", 450));
    folder.write("new.wsdl", many_fields(1, "short", 450));
    let back = folder.run("compare new.wsdl old.wsdl").ends(0).out;
    assert!(back.lines().count() <= 400 && back.contains("keeps  450"), "{back}");
    assert!(folder.run("compare new.wsdl old.wsdl --all").ends(0).out.lines().count() > 450);
}

#[test]
fn open_content_is_told_apart_as_strictly_or_not_at_all() {
    let contract = |ty: &str| {
        many_fields(1, "int", 1)
            .replacen("</x:sequence>", "<x:any processContents='lax' minOccurs='0'/></x:sequence>", 1)
            .replacen("</x:schema>", &format!("<x:element name='buoy' type='x:{ty}'/></x:schema>"), 1)
    };
    let folder = Folder::empty();
    folder.write("old.wsdl", contract("string"));
    folder.write("new.wsdl", contract("int"));
    let run = folder.run("compare old.wsdl new.wsdl").ends(0);
    run.says(
        "bends  type/Sounding: what may stand where no declaration names it differs here, in one component",
    )
    .says("such as element/buoy: the value was a string and is an int")
    .says("depends on whether anybody puts such content there");
    folder.run("compare old.wsdl new.wsdl --open-content named").ends(1).says("breaks element/buoy");
    folder.run("compare old.wsdl new.wsdl --open-content ignored").ends(0).lacks("buoy");
    folder.write("charter.toml", "[compare]\nopen-content = \"named\"\n");
    folder.run("compare old.wsdl new.wsdl").ends(1).says("breaks element/buoy");
    folder.run("compare old.wsdl new.wsdl --open-content apart").ends(0);
    let json = folder.run("compare old.wsdl new.wsdl --open-content apart --format json").ends(0).json();
    let open = &json["changes"][0]["open"];
    assert_eq!(open["points"], serde_json::json!(["type/Sounding"]));
    assert_eq!(open["differences"][0]["path"], "element/buoy");
    folder.write("charter.toml", "[compare]\nopen-content = \"tide\"\n");
    folder.run("compare old.wsdl new.wsdl").ends(2).complains("charter.toml:2:16");
}

#[test]
fn notes_say_what_to_do_with_a_message_of_today_and_one_from_now_on() {
    let folder = Folder::with_demo();
    let notes =
        folder.run("compare saltmere/v3/pilotage.wsdl saltmere/v4/pilotage.wsdl --as notes").ends(1).out;
    let entry = |what: &str| -> &str {
        let from = notes.find(what).unwrap_or_else(|| panic!("{what}\n{notes}"));
        let rest = &notes[from..];
        &rest[..rest.find("\n- ").or(rest.find("\n\n## ")).unwrap_or(rest.len())]
    };
    let moved = entry("- all operations: \"urn:saltmere:pilotage:1\" is now \"urn:saltmere:pilotage:2\"");
    assert!(moved.contains("  Build anew from the new contract"), "{moved}");
    let sent = entry("- `reportPassage`: \"position\" must now be there");
    assert!(sent.contains("  Send it as the new version asks.\n"), "{sent}");
    let (before, after) = sent.split_once("  From now on:\n").unwrap();
    // Today is in the names of today.
    assert!(
        before.contains("<reportPassage xmlns=\"urn:saltmere:pilotage:1\">")
            && !before.contains("<position>"),
        "{before}"
    );
    assert!(
        after.contains("<reportPassage xmlns=\"urn:saltmere:pilotage:2\">") && after.contains("<position>"),
        "{after}"
    );
    let read = entry("is new, and may be left out (`type/Boarding/berth`)");
    assert!(read.contains("  Be ready to read it so.\n") && read.contains("<berth>"), "{read}");
    assert!(!notes.contains("\n\n\n  "), "{notes}");
    // Who calls the service elsewhere is told where.
    let notes = folder.run(&format!("compare {V2} {V3} --as notes")).ends(1).out;
    assert!(notes.contains("  Call the new address.\n"), "{notes}");
}
