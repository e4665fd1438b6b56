//! `add`, `set`, `remove`, `edit` and `new` as their users meet them.

use std::io::Read;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

use crate::program::folder::{Folder, contract};

const DEMO: &str = "saltmere/v1/pilotage.wsdl";

#[test]
fn an_operation_is_added_with_all_that_belongs_to_it_and_removed_without_a_trace() {
    let folder = Folder::with_demo();
    let before = folder.read(DEMO);
    let operation = "operation~moorVessel~{~header~credentials:~AgentCredentials,~input~{~vessel:~v:Vessel~}~output~{~berth:~string~}~fault~UnknownBooking~{~booking:~BookingNumber~}~}";
    folder
        .run(&format!("add {DEMO} {operation}"))
        .ends(0)
        .says("added   operation/moorVessel\n")
        .says("added   binding/PilotageOverSoap12/operation/moorVessel\n")
        .says("added   message/moorVesselOutput\n")
        .lacks("UnknownBookingFault")
        .lacks("changed");
    folder.run(&format!("check {DEMO}")).ends(0).says("no findings");
    folder.run(&format!("message {DEMO} moorVessel")).ends(0).says("<AgentCredentials").says("moorVessel");
    // One line of the notation, as if it had always been there.
    folder
        .run(&format!("show {DEMO} operation/moorVessel"))
        .ends(0)
        .says("header credentials: AgentCredentials\n")
        .says("output { berth: string }\n");
    folder
        .run(&format!("remove {DEMO} operation/moorVessel"))
        .ends(0)
        .says("removed element/moorVesselResponse");
    assert_eq!(folder.read(DEMO), before);
}

#[test]
fn a_header_block_goes_into_every_soap_binding_or_into_the_input() {
    let folder = Folder::with_demo();
    let run = folder.run(&format!(
        "add {DEMO} header~credentials:~AgentCredentials --to operation/findBoarding --dry-run --format json"
    ));
    let json = run.ends(0).json();
    assert_eq!(json["written"], false);
    let diff = json["diff"].as_str().unwrap().to_owned();
    assert_eq!(diff.matches("\n+").count(), 3, "{diff}");
    assert!(diff.contains("+        <soap12:header message=\"tns:AgentCredentialsHeader\""), "{diff}");
    folder
        .run(&format!("add {DEMO} header~credentials:~AgentCredentials~in~input --to operation/findBoarding"))
        .ends(0)
        .says("message/findBoardingInput/part/credentials");
    folder.run(&format!("check {DEMO}")).ends(0);
    folder
        .run(&format!("show {DEMO} operation/findBoarding"))
        .ends(0)
        .says("header credentials: AgentCredentials in input");
    folder.run(&format!("message {DEMO} findBoarding")).ends(0).says("<AgentCredentials");
}

#[test]
fn bindings_are_filled_with_all_operations() {
    let folder = Folder::with_demo();
    for binding in [
        "binding~PilotageGet~=~http~GET",
        "binding~PilotageRpc~=~soap~1.1~rpc~literal",
        "binding~PilotagePost~=~http~POST",
    ] {
        folder.run(&format!("add {DEMO} {binding}")).ends(0);
    }
    let text = folder.read(DEMO);
    assert_eq!(text.matches("<http:urlEncoded/>").count(), 10);
    assert_eq!(text.matches("<mime:content type=\"application/x-www-form-urlencoded\"/>").count(), 10);
    let shown = folder.run(&format!("show {DEMO}")).ends(0);
    shown.says("  binding PilotageGet = http GET\n").says("  binding PilotageRpc = soap 1.1 rpc literal\n");
}

#[test]
fn everything_that_can_be_added() {
    let folder = Folder::with_demo();
    for (to, notation) in [
        ("", "type~Berth~=~string~length~1..20"),
        ("", "element~berth:~Berth"),
        ("", "attribute~deep:~boolean"),
        ("", "attributes~Depth~{~@deepest:~decimal?~}"),
        ("", "group~Where~{~berth:~Berth~}"),
        ("", "message~Note~(text:~string)"),
        ("", "port-type~Notices~{~operation~tell~{~input~(text:~string)~}~}"),
        ("", "service~Spare~{~port~SparePort~=~PilotageOverSoap11~at~\"http://localhost/\"~}"),
        ("", "schema~\"urn:saltmere:new\"~{~type~A~=~int~}"),
        ("", "import~\"urn:saltmere:new\""),
        ("operation/tell", "about~\"For~everybody.\""),
        ("type/Charge", "note:~Berth*"),
        ("type/Charge", "@deep:~boolean?"),
        ("type/Charge", "about~\"What~it~costs.\""),
        ("type/CancelReason", "\"fog\",~\"ice\"~means~\"Too~much~of~it.\""),
        ("type/Currency", "length~3"),
        ("element/AgentCredentials", "issued:~date?"),
        ("message/Note", "more:~int"),
        ("operation/listPilots", "fault~NoPilots~{~day:~date~}"),
        ("service/PilotageService", "port~Third~=~PilotageOverSoap11~at~\"http://localhost/\""),
        ("attribute-group/Revision", "@by:~token?"),
        ("port-type/Pilotage", "operation~ping~{~input~{}~}"),
    ] {
        let to = if to.is_empty() { String::new() } else { format!(" --to {to}") };
        folder.run(&format!("add {DEMO} {notation}{to}")).ends(0).says("in saltmere/v1/pilotage.wsdl\n");
    }
    let checked = folder.run(&format!("check {DEMO}")).ends(0);
    assert!(!checked.out.contains("error "), "{}", checked.out);
}

#[test]
fn what_cannot_be_added_is_refused_and_nothing_is_lost() {
    let folder = Folder::with_demo();
    let before = folder.read(DEMO);
    let refused = |words: &str, why: &str| {
        folder.run(&format!("add {DEMO} {words}")).ends(2).complains(why);
        assert_eq!(folder.read(DEMO), before);
    };
    refused("type~Charge~=~string", "there is a type \"Charge\" already");
    refused("fields --to type/Chrage", "there is no \"type/Chrage\"");
    refused("type~Berth~=~string~lenth~3", "notation:1:21: \"lenth\" cannot stand here");
    refused("berth:~Berth", "\"berth\" cannot stand here");
    refused("berth:~Nowhere --to type/Charge", "there is no type \"Nowhere\"");
    refused("a:~string --to type/Money", "elements cannot stand in a type that holds text");
    refused("operation~findBoarding~{~input~{}~}", "there is an operation \"findBoarding\" already");
    refused("about~\"More.\" --to operation/findBoarding", "it has documentation already");
    refused("operation~1st~{}", "\"1\" cannot stand here");
    refused("port~A~=~B --to message/requestPilotInput", "cannot stand here");
    refused("binding~B~=~soap~1.3", "expected 1.1 or 1.2");
    refused("type~Berth~=~string --to type/xs:string", "there is no");
    // Someone who knows better may go on.
    folder.run(&format!("add {DEMO} berth:~Nowhere --to type/Charge --force")).ends(0);
}

#[test]
fn a_property_is_set_and_what_is_none_is_refused() {
    let folder = Folder::with_demo();
    let set = |words: &str| folder.run(&format!("set {DEMO} {words}"));
    set("type/Charge/purpose occurs=0..1 nillable=true type=token")
        .ends(0)
        .says("changed type/Charge/purpose\n");
    let line = "<xs:element name=\"purpose\" type=\"xs:token\" minOccurs=\"0\" nillable=\"true\"/>";
    assert!(folder.read(DEMO).contains(line));
    set("type/Charge/purpose occurs= nillable= type=string").ends(0);
    assert!(folder.read(DEMO).contains("<xs:element name=\"purpose\" type=\"xs:string\"/>"));
    set("contract namespace=urn:saltmere:pilotage:7").ends(0);
    let text = folder.read(DEMO);
    assert!(!text.contains("urn:saltmere:pilotage:1"), "{text}");
    folder.run(&format!("check {DEMO}")).ends(0).says("no findings");
    let before = folder.read(DEMO);
    set("type/Charge/purpose colour=red").ends(2).complains("there is no property \"colour\"");
    set("type/Charge/purpose ocurs=2").ends(2).complains("did you mean occurs?");
    set("type/Charge/purpose occurs=many").ends(2).complains("\"many\" is no value of occurs");
    set("type/Charge/purpose occurs").ends(2).complains("\"occurs\" is no setting");
    set("type/Charge address=http://a").ends(2).complains("that is set of a port");
    set("contract namespace=no").ends(2).complains("\"no\" is not a namespace");
    set("type/string about=no").ends(2).complains("\"type/string\" comes with the program");
    set("type/PageSize range=5..1").ends(2).complains("the change would do harm");
    assert_eq!(folder.read(DEMO), before);
}

#[test]
fn what_is_used_is_removed_only_with_its_uses() {
    let folder = Folder::with_demo();
    let refused = folder.run(&format!("remove {DEMO} type/Telephone")).ends(2);
    refused
        .complains("type/Telephone: it is still used")
        .err
        .contains("saltmere/v1/pilotage.wsdl:140:54  type/Contact/telephone")
        .then_some(())
        .expect("the place that uses it");
    folder
        .run(&format!("remove {DEMO} type/Telephone --with-references"))
        .ends(0)
        .says("removed type/Contact/telephone\nremoved type/Telephone\n");
    folder
        .run(&format!("remove {DEMO} --unused"))
        .ends(0)
        .err
        .contains("nothing changes")
        .then_some(())
        .unwrap();
    folder.run(&format!("add {DEMO} type~Lost~{{~a:~Found~}} --force")).ends(0);
    folder.run(&format!("add {DEMO} type~Found~=~string")).ends(0);
    folder.run(&format!("remove {DEMO} --unused")).ends(0).says("removed type/Found\nremoved type/Lost\n");
    folder.run(&format!("remove {DEMO}")).ends(2).complains("it is not said what to remove");
}

/// An editor that is a script.
#[cfg(unix)]
fn editor(folder: &Folder, script: &str) -> String {
    use std::os::unix::fs::PermissionsExt;
    folder.write("editor", format!("#!/bin/sh\n{script}\n"));
    let path = folder.path("editor");
    std::fs::set_permissions(&path, std::fs::Permissions::from_mode(0o755)).unwrap();
    path.display().to_string()
}

#[test]
#[cfg(unix)]
fn the_editor_is_given_the_notation_until_it_can_be_read() {
    let folder = Folder::with_demo();
    let edit = |script: &str| {
        let editor = editor(&folder, script);
        folder.run_with(&format!("edit {DEMO} type/Charge"), b"", &[("EDITOR", &editor), ("VISUAL", "")])
    };
    edit("sed -i 's/purpose: string/purpose: string length 1..40/' \"$1\"")
        .ends(0)
        .says("changed type/Charge/purpose");
    assert!(folder.read(DEMO).contains("<xs:maxLength value=\"40\"/>"));
    edit("true").ends(0).err.contains("nothing changes").then_some(()).unwrap();
    // The first attempt is wrong; the second finds the error at its line.
    let second = "if grep -q '^#! column 1[0-9]: ' \"$1\"; then sed -i 's/strng/token/' \"$1\"; else sed -i 's/purpose: string length 1..40/purpose: strng!/; s/amount: Money/# a word\\n  amount: Money/' \"$1\"; sed -i 's/strng!/strng !/' \"$1\"; fi; sed -i 's/token !/token/' \"$1\"";
    edit(second).ends(0).says("changed type/Charge/purpose");
    assert!(
        folder.read(DEMO).contains("<xs:element name=\"purpose\" type=\"xs:token\">")
            || folder.read(DEMO).contains("<xs:element name=\"purpose\" type=\"xs:token\"/>")
    );
    // Given up, the text is kept.
    let run = edit("grep -q '^#!' \"$1\" || echo '}' >> \"$1\"").ends(2);
    let kept = run.err.split("--with ").nth(1).unwrap().trim().to_owned();
    assert!(std::fs::read_to_string(kept).unwrap().ends_with("}\n}\n"));
    edit("exit 3").ends(2).complains("ended with an error");
    let run = folder.run_with(
        &format!("edit {DEMO} type/Charge"),
        b"",
        &[("EDITOR", "nothing-of-the-kind"), ("VISUAL", "")],
    );
    run.ends(2).complains("cannot be started");
    let run = folder.run_with(&format!("edit {DEMO} type/Charge"), b"", &[("EDITOR", ""), ("VISUAL", "")]);
    run.ends(2).complains("no editor is set");
}

#[test]
fn a_whole_contract_is_edited_as_text() {
    let folder = Folder::with_demo();
    let before = folder.read(DEMO);
    let text = folder.run(&format!("show {DEMO}")).ends(0).out;
    folder.write("whole.charter", &text);
    folder.run(&format!("edit {DEMO} --with whole.charter")).ends(0);
    assert_eq!(folder.read(DEMO), before);
    // A comment, a field in a schema of another file, and a changed port.
    let text = text
        .replace("    callSign: CallSign\n", "    callSign: CallSign  # the radio\n    flag: string?\n")
        .replace("at \"https://pilotage.saltmere.example/1\"", "at \"https://pilotage.saltmere.example/2\"");
    let vessel = folder.read("saltmere/v1/vessel.xsd");
    let run = folder.run_with(&format!("edit {DEMO} --with -"), text.as_bytes(), &[]).ends(0);
    run.says("added   type/Vessel/flag\n").says("in saltmere/v1/pilotage.wsdl\nin saltmere/v1/vessel.xsd\n");
    assert_eq!(folder.read("saltmere/v1/vessel.xsd").lines().count(), vessel.lines().count() + 1);
    assert_eq!(folder.read(DEMO), before.replace("example/1\"", "example/2\""));
    // As many errors as can be found in one pass, each at its place.
    let wrong = text
        .replace("tanks: positiveInteger", "tanks positiveInteger")
        .replace("pageSize: PageSize?", "pageSize:? PageSize");
    let run = folder.run_with(&format!("edit {DEMO} --with -"), wrong.as_bytes(), &[]).ends(2);
    assert_eq!(run.err.matches("charter: standard input:").count(), 2, "{}", run.err);
    assert!(
        run.err.contains("         | tanks positiveInteger\n         |       ^^^^^^^^^^^^^^^\n"),
        "{}",
        run.err
    );
}

#[test]
fn a_new_contract_from_signatures_is_as_a_careful_person_would_write_it() {
    let folder = Folder::empty();
    let signature = "moorVessel(vessel:~Vessel,~eta:~dateTime,~note:~string?)~->~berth:~string,~at:~dateTime";
    folder
        .run(&format!("new Berths --namespace urn:saltmere:berths:1 --operation {signature} --operation freeBerth(berth:~string) --soap 1.1 --soap 1.2 --address https://berths.saltmere.example/1 -o berths.wsdl"))
        .ends(0);
    folder.run("check berths.wsdl").ends(0).says("no findings");
    // Only the prefixes that something needs: an address is no name with the prefix http.
    let text = folder.read("berths.wsdl");
    assert_eq!(text.matches("xmlns:").count(), 5, "{text}");
    assert_eq!(
        folder.run("show berths.wsdl").ends(0).out,
        "contract Berths \"urn:saltmere:berths:1\" {
  type Vessel {}

  operation moorVessel {
    input { vessel: Vessel, eta: dateTime, note: string? }
    output { berth: string, at: dateTime }
  }

  operation freeBerth {
    input { berth: string }
    one-way
  }

  binding BerthsOverSoap11 = soap 1.1 document literal
  binding BerthsOverSoap12 = soap 1.2 document literal

  service BerthsService {
    port BerthsPort = BerthsOverSoap11 at \"https://berths.saltmere.example/1\"
    port BerthsPort12 = BerthsOverSoap12 at \"https://berths.saltmere.example/1\"
  }
}
"
    );
    folder
        .run(&format!(
            "new Berths --namespace urn:saltmere:berths:1 --operation {signature} --style rpc -o rpc.wsdl"
        ))
        .ends(2)
        .err
        .contains("operation:1:")
        .then_some(())
        .unwrap();
    folder.run("new Berths --namespace urn:saltmere:berths:1 --operation moor(vessel:~string)~->~berth:~string --style rpc -o rpc.wsdl").ends(0);
    folder.run("show rpc.wsdl").ends(0).says("input (vessel: string)").says("soap 1.1 rpc literal");
    folder.run("check rpc.wsdl").ends(0);
}

#[test]
fn a_contract_from_a_file_of_notation() {
    let folder = Folder::with_demo();
    let text = folder.run(&format!("show {DEMO}")).ends(0).out;
    folder.write("pilotage.charter", &text);
    for (schema, place) in [("embedded", "one"), ("beside", "two")] {
        folder.write(&format!("{place}/note"), "");
        folder
            .run(&format!("new --from pilotage.charter --schema {schema} -o {place}/pilotage.wsdl"))
            .ends(0);
        folder.run(&format!("check {place}/pilotage.wsdl")).ends(0).lacks("error");
        assert_eq!(folder.run(&format!("show {place}/pilotage.wsdl")).ends(0).out, text);
        for (old, new) in [
            (DEMO.to_owned(), format!("{place}/pilotage.wsdl")),
            (format!("{place}/pilotage.wsdl"), DEMO.to_owned()),
        ] {
            let report =
                folder.run(&format!("compare {old} {new} --reader strict --format json")).ends(0).json();
            assert_eq!(report["changes"].as_array().unwrap().len(), 0, "{report}");
        }
    }
    assert!(
        folder.path("two/vessel.xsd").exists() || folder.read("two/pilotage.wsdl").contains("schemaLocation")
    );
    folder.write(
        "wrong.charter",
        "contract Berths \"urn:b\" {\n  type A = strin length 3\n  tpe B {}\n  type C { a: }\n}\n",
    );
    let run = folder.run("new --from wrong.charter").ends(2);
    assert_eq!(run.err.matches("charter: wrong.charter:").count(), 2, "{}", run.err);
    assert!(run.err.contains("wrong.charter:3:3: \"tpe\" cannot stand here"), "{}", run.err);
    folder.run("new --from gone.txt").ends(2).complains("the notation cannot be read");
    folder
        .run("new --from pilotage.charter --schema beside")
        .ends(2)
        .complains("the contract is several files");
}

#[test]
fn a_contract_like_another_of_the_house() {
    let folder = Folder::with_demo();
    folder
        .run(&format!("new Towage --namespace urn:saltmere:towage:1 --like {DEMO} -o towage/towage.wsdl"))
        .ends(2);
    folder.write("towage/note", "");
    folder
        .run(&format!("new Towage --namespace urn:saltmere:towage:1 --like {DEMO} -o towage/towage.wsdl"))
        .ends(0);
    let text = folder.read("towage/towage.wsdl");
    assert!(text.contains("schemaLocation=\"../saltmere/v1/vessel.xsd\""), "{text}");
    assert!(!text.to_lowercase().contains("pilotage"), "{text}");
    assert!(text.contains(">\n\n  <wsdl:types>") && text.contains(">\n\n  <wsdl:portType"), "{text}");
    let run = folder.run("set towage/towage.wsdl contract namespace=urn:saltmere:towage:2").ends(0);
    run.says("changed contract\n");
    let shown = folder.run("show towage/towage.wsdl").ends(0);
    let shown = shown.says("message AgentCredentialsHeader (").says("message UnknownBookingFault (");
    shown
        .says("port TowagePort = TowageOverSoap11 at \"https://towage.saltmere.example/1\"")
        .lacks("requestPilot");
    folder
        .run(&format!(
            "new Towage --namespace urn:saltmere:towage:1 --like {DEMO} --keep-operations -o towage/all.wsdl"
        ))
        .ends(0);
    folder.run("show towage/all.wsdl").ends(0).says("operation requestPilot {");
    folder.run("check towage/all.wsdl").ends(0).says("no findings");
}

#[test]
fn names_follow_the_convention_of_the_team() {
    let folder = Folder::empty();
    folder.write(
        "charter.toml",
        "[names]\nservice = \"SV_*\"\nport-type = \"PT_*\"\nrequest-message = \"MI_*\"\n",
    );
    folder.run("new Berths --namespace urn:saltmere:berths:1 --operation free -o berths.wsdl").ends(0);
    let text = folder.read("berths.wsdl");
    for name in ["SV_Berths", "PT_Berths", "MI_free"] {
        assert!(text.contains(&format!("name=\"{name}\"")), "{name}\n{text}");
    }
    folder.run("show berths.wsdl").ends(0).says("  operation free {\n    input {}\n").lacks("PT_");
    folder.run("rename berths.wsdl operation/free leave").ends(0);
    assert!(folder.read("berths.wsdl").contains("name=\"MI_leave\""));
    folder.write("charter.toml", "[names]\nservise = \"SV_*\"\n");
    folder
        .run("show berths.wsdl")
        .ends(2)
        .complains("charter.toml:2:1: there is nothing named \"servise\" to settle in [names]");
    folder.write("charter.toml", "[names]\nservice = \"SV\"\n");
    folder.run("show berths.wsdl").ends(2).complains("\"SV\" makes no names");
    folder.write("charter.toml", "[names\n");
    folder.run("show berths.wsdl").ends(2).complains("charter.toml:1:7");
}

#[test]
fn an_operation_is_renamed_with_what_is_named_after_it() {
    let folder = Folder::with_demo();
    let before = folder.read(DEMO);
    folder
        .run(&format!("rename {DEMO} operation/requestPilot orderPilot"))
        .ends(0)
        .says("13 places in 1 file");
    assert!(folder.read(DEMO).contains("soapAction=\"urn:saltmere:pilotage:1:orderPilot\""));
    folder.run(&format!("rename {DEMO} operation/orderPilot requestPilot")).ends(0);
    assert_eq!(folder.read(DEMO), before);
    folder
        .run(&format!("rename {DEMO} operation/requestPilot orderPilot --only"))
        .ends(0)
        .says("3 places in 1 file")
        .says("still named after \"requestPilot\": message/requestPilotInput");
}

#[test]
#[cfg(unix)]
fn killed_at_any_moment_an_edit_leaves_the_old_file_or_the_new_one() {
    let folder = Folder::empty();
    // A file large enough for an edit to be caught in the middle of it.
    let many: String = (0..4000)
        .map(|n| {
            format!("<xs:simpleType name=\"Berth{n}\"><xs:restriction base=\"xs:string\"/></xs:simpleType>\n")
        })
        .collect();
    let text = contract(&[(
        "      <xs:simpleType name=\"Gauge\">",
        &format!("{many}      <xs:simpleType name=\"Gauge\">"),
    )]);
    folder.write("tides.wsdl", &text);
    let command = || {
        let mut command = Command::new(env!("CARGO_BIN_EXE_charter"));
        command.args(["set", "tides.wsdl", "type/Tide/height", "type=double"]).current_dir(folder.path(""));
        command.stdout(Stdio::null()).stderr(Stdio::null());
        command
    };
    let started = Instant::now();
    assert!(command().status().unwrap().success());
    let whole = started.elapsed();
    let new = folder.read("tides.wsdl");
    assert_ne!(new, text);
    let mut killed = 0;
    for moment in 0..24u32 {
        folder.write("tides.wsdl", &text);
        let mut child = command().spawn().unwrap();
        std::thread::sleep(whole * moment / 20 + Duration::from_micros(u64::from(moment) * 37));
        killed += u32::from(child.try_wait().unwrap().is_none());
        let _ = child.kill();
        child.wait().unwrap();
        let mut found = String::new();
        std::fs::File::open(folder.path("tides.wsdl")).unwrap().read_to_string(&mut found).unwrap();
        assert!(found == text || found == new, "a mixture after {moment}");
    }
    assert!(killed > 5, "{killed}");
}

#[test]
#[cfg(unix)]
fn permissions_and_links_are_kept_and_a_file_that_may_only_be_read_is_left_alone() {
    use std::os::unix::fs::{PermissionsExt, symlink};
    let folder = Folder::empty();
    folder.write("kept/tides.wsdl", contract(&[]));
    symlink(folder.path("kept/tides.wsdl"), folder.path("tides.wsdl")).unwrap();
    std::fs::set_permissions(folder.path("kept/tides.wsdl"), std::fs::Permissions::from_mode(0o640)).unwrap();
    folder.run("set tides.wsdl type/Tide/height type=double").ends(0);
    assert!(std::fs::symlink_metadata(folder.path("tides.wsdl")).unwrap().is_symlink());
    let mode = std::fs::metadata(folder.path("kept/tides.wsdl")).unwrap().permissions().mode();
    assert_eq!(mode & 0o777, 0o640);
    std::fs::set_permissions(folder.path("kept/tides.wsdl"), std::fs::Permissions::from_mode(0o440)).unwrap();
    let before = folder.read("tides.wsdl");
    folder.run("set tides.wsdl type/Tide/height type=float").ends(2).complains("may only be read");
    assert_eq!(folder.read("tides.wsdl"), before);
}

#[test]
fn files_that_are_no_contract_are_left_alone() {
    let folder = Folder::empty();
    folder.write("broken.wsdl", "<wsdl:definitions");
    folder.run("add broken.wsdl type~A~=~int").ends(2).complains("broken.wsdl:");
    folder.run("set gone.wsdl type/A about=x").ends(2).complains("gone.wsdl");
    folder.write("note.xml", "<note/>");
    folder.run("edit note.xml --with -").ends(2);
    assert_eq!(folder.read("note.xml"), "<note/>");
    // What came in by standard input goes out by standard output.
    let run = folder.run_with("set - type/Tide/height type=double", contract(&[]).as_bytes(), &[]).ends(0);
    assert_eq!(run.out, contract(&[("\"height\" type=\"xs:decimal\"", "\"height\" type=\"xs:double\"")]));
}

#[test]
#[cfg(unix)]
fn a_disk_that_is_full_costs_nothing() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let before = folder.read("tides.wsdl");
    // A limit on the size of files stands for a disk without room.
    let script = format!(
        "trap '' XFSZ; ulimit -f 1; exec '{}' set tides.wsdl type/Tide/height type=double",
        env!("CARGO_BIN_EXE_charter")
    );
    let output = Command::new("bash").args(["-c", &script]).current_dir(folder.path("")).output().unwrap();
    assert_eq!(output.status.code(), Some(2), "{output:?}");
    let told = String::from_utf8(output.stderr).unwrap();
    assert!(told.contains("it could not be written") && told.contains("nothing was changed"), "{told}");
    assert_eq!(folder.read("tides.wsdl"), before);
    let left = std::fs::read_dir(folder.path("")).unwrap().count();
    assert_eq!(left, 1, "a file was left behind");
}

#[test]
fn a_header_block_brings_its_element_along() {
    let folder = Folder::empty();
    let before = contract(&[]);
    for (header, element, envelope) in [
        ("header pass: Pass { user: string, until: date? }", "element/Pass", "<user>"),
        ("header seal: Seal = token in input", "element/Seal", "<Seal xmlns=\"urn:saltmere:tides:1\">"),
        ("header tag: Tag mixed { ship: string }", "element/Tag", "<ship>"),
    ] {
        folder.write("tides.wsdl", &before);
        folder
            .run(&format!("add tides.wsdl --to operation/nextTide {}", header.replace(' ', "~")))
            .ends(0)
            .says(element);
        folder.run("check tides.wsdl").ends(0).says("no findings");
        folder.run("message tides.wsdl nextTide").ends(0).says(envelope);
        let name = header.split([' ', ':']).nth(1).unwrap();
        folder.run("show tides.wsdl operation/nextTide").ends(0).says(&format!("header {name}: "));
    }
    // The same again is there already; something else by that name is refused.
    let run = folder.run("add tides.wsdl --to operation/nextTide header~mark:~Tag~{~ship:~int~}").ends(2);
    assert!(run.err.contains("charter: "), "{}", run.err);
    let run = folder.run("add tides.wsdl --to operation/nextTide header~p:~xs:string~=~int").ends(2);
    run.complains("is in another namespace and cannot be defined here");
}
