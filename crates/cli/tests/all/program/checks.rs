//! What a check takes besides files, and the forms in which it answers.

use std::io::{BufRead, BufReader, Read};
use std::process::{Command, Stdio};

use crate::program::folder::{Folder, contract};

/// A contract that a profile finds fault with.
fn encoded() -> String {
    contract(&[
        ("style=\"document\"", "style=\"rpc\""),
        (
            "<wsdl:part name=\"parameters\" element=\"tns:nextTide\"/>",
            "<wsdl:part name=\"gauge\" type=\"tns:Gauge\"/>",
        ),
        (
            "<wsdl:part name=\"parameters\" element=\"tns:nextTideResponse\"/>",
            "<wsdl:part name=\"tide\" type=\"tns:Tide\"/>",
        ),
        (
            "<soap:body use=\"literal\"/>",
            "<soap:body use=\"encoded\" namespace=\"urn:saltmere:tides:1\" encodingStyle=\"http://schemas.xmlsoap.org/soap/encoding/\"/>",
        ),
    ])
}

#[test]
fn folders_patterns_and_what_is_not_there() {
    let folder = Folder::with_demo();
    folder
        .run("check saltmere/v1 saltmere/v2/*.wsdl")
        .ends(0)
        .says("saltmere/v1/vessel.xsd: no findings")
        .says("all: no findings");
    // What two contracts import is checked with both, and said once.
    folder.write(
        "two/a.wsdl",
        contract(&[]).replace(
            "<wsdl:types>",
            "<wsdl:types><xs:schema><xs:import namespace=\"urn:b\" schemaLocation=\"b.xsd\"/></xs:schema>",
        ),
    );
    folder.write("two/c.wsdl", folder.read("two/a.wsdl"));
    folder.write("two/b.xsd", "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:b\"><xs:element name=\"b\" type=\"xs:nit\"/></xs:schema>");
    let run = folder.run("check two").ends(1);
    assert_eq!(run.out.matches("there is no type \"nit\"").count(), 1, "{}", run.out);
    folder.write("empty/readme.txt", "");
    folder.run("check empty").ends(2).complains("empty: there is no contract and no schema in this folder");
    folder.run("check saltmere/*.wsld").ends(2).complains("no file fits this pattern");
    folder.run("check saltmere/[.wsdl").ends(2).complains("this is no pattern of files");
}

#[test]
fn a_profile_that_is_asked_for_makes_errors_of_what_it_asks() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", encoded());
    folder
        .run("check tides.wsdl")
        .ends(0)
        .says("warning binding/TidesOverSoap11")
        .says("R2706")
        .says("not interoperable (2 findings)");
    folder
        .run("check tides.wsdl --profile basic-1.1")
        .ends(1)
        .says("error   binding/TidesOverSoap11")
        .says("R2706");
    folder.run("check tides.wsdl --profile none").ends(0).lacks("R2706").says("interoperable");
    folder
        .run("check tides.wsdl --profile basic-2.0")
        .ends(1)
        .says("binds to SOAP 1.1, and the profile is about SOAP 1.2");
    folder.run("check tides.wsdl --profile basic-2.1").ends(2).complains("did you mean basic-");
    folder.write("charter.toml", "[check]\nprofiles = [\"basic-1.1\"]\n");
    folder.run("check tides.wsdl").ends(1).says("R2706");
    folder.run("explain basic-1.1").ends(0).says("WS-I Basic Profile 1.1").says("R2706");
    folder.run("explain R2718").ends(0).says("seen by binding-operation-missing");
    folder.run("explain R2707").ends(0).says("not seen: ");
}

#[test]
fn a_house_settles_levels_exceptions_and_rules() {
    let folder = Folder::empty();
    folder.write("port/tides.wsdl", encoded());
    let check = |toml: &str| {
        folder.write("charter.toml", toml);
        folder.run("check port/tides.wsdl")
    };
    check("[check.levels]\nR2706 = \"off\"\n").ends(0).says("tides.wsdl: no findings").says("interoperable");
    check("[check.levels]\nR2706 = \"error\"\n").ends(1).says("tides.wsdl: 2 errors");
    check("[[check.at]]\npaths = [\"binding/*/operation/*/input\"]\nlevels = { R2706 = \"off\" }\n")
        .ends(0)
        .says("tides.wsdl: 1 warning");
    let exception = |until: &str| {
        format!("[[check.except]]\nrule = \"R2706\"\nreason = \"the old gauge\"\nuntil = {until}\n")
    };
    check(&exception("2999-12-31")).ends(0).says("tides.wsdl: no findings").says("2 allowed by exceptions");
    check(&exception("2020-12-31")).ends(0).says("it was allowed until 2020-12-31: the old gauge");
    check("[house]\nsoap = [\"1.2\"]\nstyles = [\"document\"]\nheaders = [\"seal\"]\nfaults = [\"Fog\"]\n")
        .ends(1)
        .says("house-soap")
        .says("house-style")
        .says("house-header")
        .says("house-fault")
        .says("not house (4 findings)");
    check("[house.names]\ntype = \"[a-z]+\"\n[house.types]\nforbidden = [\"decimal\"]\n")
        .ends(1)
        .says("\"Gauge\" is no name for a type in this house")
        .says("house-type");
    check("[house]\nforbidden = [\"type/Tide/*\"]\nversion = \"urn:saltmere:[a-z]+:v[0-9]\"\nnamespaces = [\"urn:elsewhere:*\"]\ndocumented = [\"operation\"]\n")
        .ends(1)
        .says("this house has ruled out type/Tide/high")
        .says("house-version")
        .says("house-namespace")
        .says("house-documentation");
}

#[test]
fn settings_that_make_no_sense_are_named_with_their_place() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    for (toml, place, words) in [
        ("[check\n", "1:7", "charter.toml"),
        ("[chekc]\n", "1:2", "did you mean \"check\"?"),
        ("[check]\nprofile = []\n", "2:1", "did you mean \"profiles\"?"),
        ("[check]\nprofiles = [\"basic-9\"]\n", "2:13", "there is no profile \"basic-9\""),
        ("[check.levels]\ntype-unusd = \"off\"\n", "2:1", "did you mean \"type-unused\"?"),
        ("[check.levels]\ntype-unused = \"loud\"\n", "2:15", "\"loud\" is no level"),
        ("[[check.except]]\nrule = \"type-unused\"\n", "1:1", "gives no reason"),
        (
            "[[check.except]]\nrule = \"type-unused\"\nreason = \"r\"\nuntil = \"soon\"\n",
            "4:9",
            "this is no day",
        ),
        ("[house]\nsoap = [\"2.0\"]\n", "2:9", "there is no SOAP 2.0"),
        ("[house.names]\noperatoin = \"a\"\n", "2:1", "did you mean \"operation\"?"),
        ("[house.names]\noperation = \"(\"\n", "2:13", "is no pattern"),
        ("[check]\nbaseline = \"gone.toml\"\n", "", "the known findings cannot be read"),
        ("house = 1\n", "1:9", "\"house\" is no table"),
    ] {
        folder.write("charter.toml", toml);
        let run = folder.run("check tides.wsdl").ends(2);
        assert!(run.err.contains(words), "{toml}: {}", run.err);
        assert!(
            run.err.contains(&format!("charter.toml:{place}")) || place.is_empty(),
            "{toml}: {}",
            run.err
        );
        assert!(!run.err.contains("panicked"), "{}", run.err);
    }
}

#[test]
fn what_is_known_is_not_said_again() {
    let folder = Folder::with_demo();
    let draft = "saltmere/draft/towage.wsdl";
    folder
        .run(&format!("check {draft} --write-baseline known.toml"))
        .ends(0)
        .says("known.toml: 12 known findings");
    let run = folder.run(&format!("check {draft} --baseline known.toml")).ends(0);
    // How far it gets is another matter.
    run.says("no findings").says("12 known already").says("not standard");
    let text = folder.read(draft).replace("<xs:sequence>", "<!-- new lines\n\n -->\n<xs:sequence>");
    folder.write(draft, text.replace("type=\"xs:dateTime\"", "type=\"xs:datetime\""));
    let run = folder.run(&format!("check {draft} --baseline known.toml")).ends(1);
    run.says("there is no type \"datetime\"").says("towage.wsdl: 1 error");
    folder.write("known.toml", "[[finding]]\nrule = 1\n");
    folder.run(&format!("check {draft} --baseline known.toml")).ends(2).complains("known.toml:2:8");
}

#[test]
fn fixes_mend_what_is_beyond_doubt_and_touch_nothing_else() {
    let folder = Folder::empty();
    let sound = contract(&[]);
    let wrong = sound
        .replace("      <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n", "")
        .replace("<soap:operation soapAction=\"urn:saltmere:tides:1:nextTide\"/>", "<soap:operation/>")
        .replace("<wsdl:input><soap:body use=\"literal\"/>", "<wsdl:input><soap:body/>")
        .replace("xmlns:wsdl=", "xmlns:old=\"urn:saltmere:old\" xmlns:wsdl=");
    folder.write("tides.wsdl", &wrong);
    let dry = folder.run("check tides.wsdl --fix --dry-run").ends(0);
    assert_eq!(folder.read("tides.wsdl"), wrong);
    dry.says("-      <wsdl:input><soap:body/></wsdl:input>")
        .says("+      <wsdl:input><soap:body use=\"literal\"/></wsdl:input>");
    let run = folder.run("check tides.wsdl --fix").ends(0);
    run.says("binding-operation-missing, 1 place")
        .says("soap-action")
        .says("soap-use")
        .says("prefix-unused")
        .says("in tides.wsdl");
    let mended = folder.read("tides.wsdl");
    assert_eq!(mended, sound.replace("soapAction=\"urn:saltmere:tides:1:nextTide\"", "soapAction=\"\""));
    let again = folder.run("check tides.wsdl --fix").ends(0);
    assert!(again.err.contains("nothing to mend"), "{}", again.err);
    folder.run("check tides.wsdl --fix --format json").ends(2).complains("told as text alone");
    folder.run("check - --fix").ends(2).complains("standard input cannot be mended");
    folder.run("check tides.wsdl --dry-run").ends(2);
}

#[test]
fn elements_out_of_order_go_where_they_belong() {
    let folder = Folder::empty();
    let sound = contract(&[]);
    let (from, to) = (sound.find("  <wsdl:service").unwrap(), sound.find("</wsdl:definitions>").unwrap());
    let service = &sound[from..to];
    let first = sound.find("  <wsdl:message").unwrap();
    folder
        .write("tides.wsdl", format!("{}{service}{}{}", &sound[..first], &sound[first..from], &sound[to..]));
    folder.run("check tides.wsdl").ends(0).says("wsdl-order");
    folder.run("check tides.wsdl --fix").ends(0);
    folder.run("check tides.wsdl").ends(0).says("no findings");
    // Nothing is lost on the way.
    assert_eq!(folder.read("tides.wsdl").len(), sound.len());
}

/// Whether a value of SARIF has what its standard requires of it.
fn is_result(result: &serde_json::Value, rules: &[serde_json::Value]) {
    let region = &result["locations"][0]["physicalLocation"]["region"];
    for key in ["startLine", "startColumn", "endLine", "endColumn"] {
        assert!(region[key].as_u64().is_some_and(|number| number > 0), "{result}");
    }
    assert!(result["message"]["text"].is_string(), "{result}");
    let index = result["ruleIndex"].as_u64().unwrap() as usize;
    assert_eq!(rules[index]["id"], result["ruleId"]);
    assert!(["error", "warning", "note"].contains(&result["level"].as_str().unwrap()), "{result}");
}

#[test]
fn sarif_has_the_structure_that_its_standard_asks_for() {
    let folder = Folder::with_demo();
    folder.write("saltmere/charter.toml", "[[check.except]]\nrule = \"type-unused\"\nreason = \"later\"\n");
    let log = folder.run("check saltmere/draft/towage.wsdl --format sarif").ends(1).json();
    assert_eq!(log["version"], "2.1.0");
    let run = &log["runs"][0];
    let driver = &run["tool"]["driver"];
    assert_eq!(driver["name"], "charter");
    let rules = driver["rules"].as_array().unwrap();
    for rule in rules {
        assert!(
            rule["shortDescription"]["text"].is_string() && rule["defaultConfiguration"]["level"].is_string()
        );
    }
    let results = run["results"].as_array().unwrap();
    assert_eq!(results.len(), 12);
    results.iter().for_each(|result| is_result(result, rules));
    let muted: Vec<_> = results.iter().filter(|result| result["suppressions"].is_array()).collect();
    assert_eq!(muted.len(), 1);
    assert_eq!(muted[0]["suppressions"][0]["kind"], "external");
    let fix = results.iter().find(|result| result["ruleId"] == "binding-operation-missing").unwrap();
    let change = &fix["fixes"][0]["artifactChanges"][0];
    assert_eq!(change["artifactLocation"]["uri"], "saltmere/draft/towage.wsdl");
    assert!(change["replacements"][0]["insertedContent"]["text"].as_str().unwrap().contains("moveTug"));
    assert!(change["replacements"][0]["deletedRegion"]["startLine"].is_u64());
    folder
        .run("show saltmere/v1/pilotage.wsdl --format sarif")
        .ends(2)
        .complains("only check and compare write SARIF");
}

#[test]
fn junit_counts_what_it_shows() {
    let folder = Folder::with_demo();
    let out =
        folder.run("check saltmere/draft/towage.wsdl saltmere/v1/pilotage.wsdl --format junit").ends(1).out;
    let document = roxmltree::Document::parse(&out).unwrap();
    let root = document.root_element();
    let cases = root.descendants().filter(|node| node.has_tag_name("testcase")).count();
    let failures = root.descendants().filter(|node| node.has_tag_name("failure")).count();
    assert_eq!(root.attribute("tests"), Some(&*cases.to_string()));
    assert_eq!(root.attribute("failures"), Some(&*failures.to_string()));
    assert_eq!(root.children().filter(|node| node.has_tag_name("testsuite")).count(), 2);
    assert!(out.contains("towage.wsdl:81:31: error: service/TowageService/port/TowagePort: "), "{out}");
}

#[test]
fn a_check_is_repeated_when_a_file_changes() {
    let folder = Folder::with_demo();
    let mut child = Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(["check", "saltmere/v1/pilotage.wsdl", "--watch"])
        .current_dir(folder.path("."))
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    // The program says when it is ready to see a change.
    let mut err = BufReader::new(child.stderr.take().unwrap()).lines();
    assert_eq!(err.next().unwrap().unwrap(), "watching 2 files; stop with Ctrl-C");
    // What it imports is watched too.
    let vessel = folder.read("saltmere/v1/vessel.xsd");
    folder.write("saltmere/v1/vessel.xsd", vessel.replacen("xs:string", "xs:strign", 1));
    err.next().unwrap().unwrap();
    child.kill().unwrap();
    child.wait().unwrap();
    let mut out = String::new();
    child.stdout.take().unwrap().read_to_string(&mut out).unwrap();
    let (before, after) =
        (out.find("no findings").unwrap(), out.find("there is no type \"strign\"").unwrap());
    assert!(before < after, "{out}");
    folder.run("check - --watch").ends(2).complains("standard input cannot be watched");
}

#[test]
fn envelopes_are_judged_by_what_profiles_ask_of_them() {
    let folder = Folder::empty();
    folder.write("a.xml", "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><berth/></e:Body></e:Envelope>");
    folder
        .run("check a.xml")
        .ends(1)
        .says("berth is in no namespace")
        .says("R1014")
        .says("well-formed, not interoperable");
    folder.write(
        "a.xml",
        "<e:Envelope xmlns:e=\"http://www.w3.org/2003/05/soap-envelope\"><e:Body/></e:Envelope>",
    );
    folder.run("check a.xml").ends(0).says("a.xml: no findings");
}

#[test]
fn a_contract_with_errors_can_be_used_as_far_as_it_is_understood() {
    let folder = Folder::with_demo();
    let draft = "saltmere/draft/towage.wsdl";
    let run = folder.run(&format!("show {draft}")).ends(0).says("operation releaseTug");
    assert!(run.err.contains("4 faults"), "{}", run.err);
    let run = folder.run(&format!("message {draft} sendTug")).ends(0).says("<at>");
    let words = "left out: element/sendTug/tug: there is no type \"TugNames\"";
    assert!(run.err.contains(words), "{}", run.err);
    let run = folder.run(&format!("message {draft} releaseTug")).ends(0);
    assert!(!run.err.contains("left out"), "{}", run.err);
    let run = folder
        .run(&format!("compare {draft} {draft}"))
        .ends(0)
        .says("bends  contract: ../v1/vessels.xsd could not be read");
    assert_eq!(run.out.matches("bends  ").count(), 2, "{}", run.out);
    assert!(run.err.contains("compared as far as it could be read"), "{}", run.err);
}

#[test]
fn what_policies_demand_is_shown_in_words() {
    let folder = Folder::empty();
    folder.write("harbour.wsdl", include_str!("planted/harbour.wsdl"));
    folder.write("vessel.xsd", include_str!("planted/vessel.xsd"));
    let words = "# MooringsPort demands user name with hashed password; addressing if the consumer likes";
    folder.run("show harbour.wsdl operation/moor").ends(0).says(words);
    folder.run("show harbour.wsdl operation/readGauge").ends(0).lacks("demands");
    let json = folder.run("show harbour.wsdl --format json").ends(0).json();
    assert_eq!(json["demands"][0]["port"], "MooringsPort");
    assert_eq!(json["demands"][0]["ways"].as_array().unwrap().len(), 2);
    // What is shown can be edited and put back: the demands are comments.
    let shown = folder.run("show harbour.wsdl operation/moor").out;
    folder.write("moor.charter", shown);
    folder.run("edit harbour.wsdl operation/moor --with moor.charter").ends(0);
}
