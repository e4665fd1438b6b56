//! Files that are not what they should be: one clear message each, never a panic.

use crate::program::folder::{Folder, Run, contract};

/// Runs every command that reads a contract on a file; none may panic or be killed.
fn all_commands(folder: &Folder, file: &str) -> Vec<Run> {
    [
        format!("check {file}"),
        format!("show {file}"),
        format!("message {file} nextTide"),
        format!("message {file} nextTide --side output"),
        format!("rename {file} type/Gauge Pegel --dry-run"),
        format!("compare {file} {file}"),
    ]
    .iter()
    .map(|words| {
        let run = folder.run(words);
        assert!((0..=2).contains(&run.status), "{words}\n{}", run.err);
        assert!(!run.err.contains("panicked"), "{words}\n{}", run.err);
        run
    })
    .collect()
}

/// The check of a file finds one thing with these words at this place; other commands have no answer.
#[track_caller]
fn one_finding(content: impl AsRef<[u8]>, place: &str, words: &str) {
    let folder = Folder::empty();
    folder.write("x.wsdl", content);
    let runs = all_commands(&folder, "x.wsdl");
    let check = &runs[0];
    assert_eq!(check.status, 1, "{}", check.out);
    assert!(check.out.contains(words), "{words:?} is not in\n{}", check.out);
    assert!(check.out.contains(&format!(" x.wsdl:{place} ")), "{place} is not in\n{}", check.out);
    assert!(check.out.contains("\nx.wsdl: 1 error\n"), "{}", check.out);
    for run in &runs[1..] {
        assert_eq!(run.status, 2, "{}", run.out);
        assert!(run.err.contains(words), "{}", run.err);
    }
}

#[test]
fn nothing_at_all() {
    one_finding("", "1:1", "the file is empty");
    one_finding("  \n\n ", "1:1", "the file is empty");
}

#[test]
fn missing_files_and_folders() {
    let folder = Folder::empty();
    folder.write("folder/x", "");
    for run in all_commands(&folder, "gone.wsdl") {
        run.ends(2).complains("gone.wsdl: there is no such file");
    }
    let mut runs = all_commands(&folder, "folder").into_iter();
    // Of folders, check looks for contracts in them.
    let check = runs.next().unwrap();
    check.ends(2).complains("folder: there is no contract and no schema in this folder");
    for run in runs {
        let compares = run.err.contains("in the other version");
        run.ends(2).complains(match compares {
            true => "folder: there is no contract in this folder",
            false => "folder: this is a folder, not a file",
        });
    }
}

#[test]
fn binary_files() {
    one_finding(b"\x7fELF\x02\x01\x01\0\0\0\0", "1:1", "this is a binary file, not XML");
}

#[test]
fn a_file_cut_off() {
    let whole = contract(&[]);
    one_finding(
        &whole[..whole.find("  <wsdl:portType").unwrap()],
        "35:18",
        "the file ends before all its elements are closed",
    );
    for cut in (0..whole.len()).step_by(97) {
        let folder = Folder::empty();
        folder.write("x.wsdl", &whole[..cut]);
        let run = folder.run("check x.wsdl").ends(1);
        assert!(!run.err.contains("panicked"));
    }
}

#[test]
fn a_web_page() {
    one_finding(
        "<!DOCTYPE html>\n<html><body><br></body></html>\n",
        "2:17",
        "</body> stands where </br> must",
    );
    let folder = Folder::empty();
    folder.write("x.wsdl", "<!DOCTYPE html>\n<html><body><br></body></html>\n");
    folder.run("check x.wsdl").says("this looks like an HTML page");
    one_finding("<html><body/></html>", "1:1", "this is no contract: its root element is html");
}

#[test]
fn other_xml() {
    let folder = Folder::with_demo();
    folder
        .run("message saltmere/v1/vessel.xsd requestPilot")
        .ends(2)
        .complains("this is an XML Schema, not a contract");
    one_finding("<d:description xmlns:d='http://www.w3.org/ns/wsdl'/>", "1:1", "this is no contract");
    let envelope = "<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'/>";
    folder.write("x.wsdl", envelope);
    folder
        .run("show x.wsdl")
        .ends(2)
        .complains("its root element is")
        .complains("this is a message, not its contract");
    // Check has something to say about messages too.
    folder.run("check x.wsdl").ends(1).says("this envelope has no body");
}

#[test]
fn broken_encodings() {
    one_finding(b"<a>\n caf\xE9</a>", "2:5", "the byte 0xE9 is not part of any UTF-8 character");
    one_finding("<?xml version='1.0' encoding='SEA-7'?><a/>", "1:31", "the encoding \"SEA-7\" is not known");
    one_finding(b"\xFF\xFE<\0a\0/\0>", "1:4", "only one of its two bytes");
}

#[test]
fn prefixes_that_nobody_declares() {
    one_finding(contract(&[("<soap:address", "<sop:address")]), "52:8", "the prefix \"sop\" is not declared");
}

#[test]
fn entities_that_multiply_or_lie_elsewhere() {
    let mut laughs = String::from("<!DOCTYPE d [<!ENTITY a0 'ha'>");
    for n in 1..30 {
        laughs.push_str(&format!("<!ENTITY a{n} '&a{0};&a{0};&a{0};&a{0};&a{0};&a{0};&a{0};&a{0};'>", n - 1));
    }
    laughs.push_str("]>\n<d>&a29;</d>");
    one_finding(&laughs, "2:4", "entities expand to more than");
    let external = "<!DOCTYPE d [<!ENTITY x SYSTEM 'file:///etc/hostname'>]>\n<d>&x;</d>";
    one_finding(external, "2:4", "the entity \"x\" lies outside this file");
    one_finding("<d>&x;</d>", "1:4", "the entity \"x\" is not declared");
}

#[test]
fn nesting_without_end() {
    let deep = "<a>".repeat(100_000) + &"</a>".repeat(100_000);
    one_finding(&deep, "1:1501", "elements are nested more than 500 deep here");
    let groups = format!(
        "<xs:complexType name=\"Deep\">{}{}</xs:complexType><xs:complexType name=\"Tide\">",
        "<xs:sequence>".repeat(100_000),
        "</xs:sequence>".repeat(100_000)
    );
    let folder = Folder::empty();
    folder.write("x.wsdl", contract(&[("<xs:complexType name=\"Tide\">", &groups)]));
    all_commands(&folder, "x.wsdl").into_iter().next().unwrap().ends(1).says("nested more than 500 deep");
}

#[test]
fn long_chains_do_not_overflow() {
    let folder = Folder::empty();
    // Types derived from each other, types within each other, and groups within each other.
    let mut chain = String::new();
    for n in 1..20_000 {
        chain.push_str(&format!("<xs:complexType name=\"T{n}\"><xs:complexContent><xs:extension base=\"tns:T{}\"/></xs:complexContent></xs:complexType>\n", n - 1));
        chain.push_str(&format!("<xs:complexType name=\"In{n}\"><xs:sequence><xs:element name=\"e\" type=\"tns:In{}\"/></xs:sequence></xs:complexType>\n", n - 1));
        chain.push_str(&format!(
            "<xs:group name=\"G{n}\"><xs:sequence><xs:group ref=\"tns:G{}\"/></xs:sequence></xs:group>\n",
            n - 1
        ));
        chain.push_str(&format!(
            "<xs:simpleType name=\"S{n}\"><xs:union memberTypes=\"tns:S{}\"/></xs:simpleType>\n",
            n - 1
        ));
    }
    chain.push_str("<xs:complexType name=\"T0\"/><xs:complexType name=\"In0\"/><xs:group name=\"G0\"><xs:sequence/></xs:group><xs:simpleType name=\"S0\"><xs:restriction base=\"xs:int\"/></xs:simpleType>");
    let uses = "<xs:element name=\"a\" type=\"tns:T19999\"/><xs:element name=\"b\" type=\"tns:In19999\" minOccurs=\"0\"/><xs:group ref=\"tns:G19999\"/><xs:element name=\"c\" type=\"tns:S19999\" minOccurs=\"0\"/>";
    let gauge = "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>";
    folder.write(
        "x.wsdl",
        contract(&[
            ("<xs:complexType name=\"Tide\">", &format!("{chain}<xs:complexType name=\"Tide\">")),
            (gauge, uses),
        ]),
    );
    let runs = all_commands(&folder, "x.wsdl");
    assert!(runs[0].out.contains("groups nest more than 1000 deep"));
    assert_eq!(runs[2].status, 0, "{}", runs[2].err);
    // Side by side there is as much room.
    folder.write("y.wsdl", folder.read("x.wsdl"));
    folder.run("check x.wsdl y.wsdl").ends(1).says("groups nest more than 1000 deep");
}

#[test]
fn long_chains_of_what_stands_for_another_do_not_overflow() {
    let folder = Folder::empty();
    let mut chain = String::from(
        "<xs:element name=\"h0\" abstract=\"true\"/><xs:complexType name=\"A0\" abstract=\"true\"/>",
    );
    for n in 1..20_000 {
        chain.push_str(&format!(
            "<xs:element name=\"h{n}\" abstract=\"true\" substitutionGroup=\"tns:h{}\"/>\n",
            n - 1
        ));
    }
    // What a type allows is gathered along its whole chain, so that of the types is shorter.
    for n in 1..2_000 {
        chain.push_str(&format!("<xs:complexType name=\"A{n}\" abstract=\"true\"><xs:complexContent><xs:extension base=\"tns:A{}\"/></xs:complexContent></xs:complexType>\n", n - 1));
    }
    chain.push_str("<xs:element name=\"last\" type=\"xs:int\" substitutionGroup=\"tns:h19999\"/>");
    chain.push_str("<xs:complexType name=\"Last\"><xs:complexContent><xs:extension base=\"tns:A1999\"/></xs:complexContent></xs:complexType><xs:complexType name=\"Tide\">");
    let gauge = "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>";
    let uses = "<xs:element ref=\"tns:h0\"/><xs:element name=\"a\" type=\"tns:A0\"/>";
    folder.write("x.wsdl", contract(&[("<xs:complexType name=\"Tide\">", &chain), (gauge, uses)]));
    let runs = all_commands(&folder, "x.wsdl");
    assert!(runs[2].out.contains("<last>12</last>"), "{}{}", runs[2].out, runs[2].err);
    assert!(runs[2].out.contains(":type=\"Last\"") || runs[2].out.contains("Last\"/>"), "{}", runs[2].out);
}

#[test]
fn circles() {
    let folder = Folder::empty();
    let circles = "<xs:complexType name=\"A\"><xs:complexContent><xs:extension base=\"tns:B\"/></xs:complexContent></xs:complexType><xs:complexType name=\"B\"><xs:complexContent><xs:extension base=\"tns:A\"/></xs:complexContent></xs:complexType>\
        <xs:simpleType name=\"U\"><xs:union memberTypes=\"tns:U xs:int\"/></xs:simpleType>\
        <xs:group name=\"G\"><xs:sequence><xs:group ref=\"tns:G\"/></xs:sequence></xs:group>\
        <xs:attributeGroup name=\"H\"><xs:attributeGroup ref=\"tns:H\"/></xs:attributeGroup>\
        <xs:element name=\"s\" substitutionGroup=\"tns:s\" type=\"tns:A\"/><xs:complexType name=\"Tide\">";
    folder.write("x.wsdl", contract(&[("<xs:complexType name=\"Tide\">", circles)]));
    let runs = all_commands(&folder, "x.wsdl");
    assert_eq!(runs[0].out.matches(" is defined by itself").count(), 5, "{}", runs[0].out);
}

#[test]
fn imports_that_go_round_or_nowhere() {
    let folder = Folder::empty();
    let include = |name: &str| {
        let line = format!("<xs:include schemaLocation=\"{name}\"/>\n      <xs:simpleType name=\"Gauge\">");
        contract(&[("<xs:simpleType name=\"Gauge\">", &line)])
    };
    let schema =
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:saltmere:tides:1'>";
    folder.write("x.wsdl", include("a.xsd"));
    folder.write("a.xsd", format!("{schema}<xs:include schemaLocation='b.xsd'/></xs:schema>"));
    folder.write("b.xsd", format!("{schema}<xs:include schemaLocation='a.xsd'/></xs:schema>"));
    folder.run("check x.wsdl").ends(0).says("no findings");

    folder.write("x.wsdl", include("gone.xsd"));
    folder
        .run("check x.wsdl")
        .ends(1)
        .says("gone.xsd cannot be imported: there is no such file")
        .says("x.wsdl:7:35");
    folder.run("message x.wsdl nextTide").ends(0);

    folder.write("x.wsdl", include("https://saltmere.example/gone.xsd"));
    folder.run("check x.wsdl").ends(0).says("the network is not used").says("1 warning");

    folder.write("x.wsdl", include("page.xsd"));
    folder.write("page.xsd", "<html/>");
    folder.run("check x.wsdl").ends(1).says("page.xsd is not a schema: its root is html");

    folder.write("page.xsd", "not xml");
    folder.run("check x.wsdl").ends(1).says("page.xsd:1:1").says("x.wsdl: 1 error");
}

#[test]
fn huge_files_are_refused_before_they_are_read() {
    let folder = Folder::empty();
    let file = std::fs::File::create(folder.path("x.wsdl")).unwrap();
    file.set_len(300 << 20).unwrap();
    folder.run("check x.wsdl").ends(2).complains("it is larger than 256 MB");
}

#[test]
fn absurd_bounds_are_bounded() {
    let folder = Folder::empty();
    let gauge = "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>";
    let many = "<xs:element name=\"gauge\" type=\"tns:Gauge\" minOccurs=\"999999999\" maxOccurs=\"99999999999999\"/>";
    folder.write("x.wsdl", contract(&[(gauge, many)]));
    folder.run("check x.wsdl").ends(0);
    folder.run("message x.wsdl nextTide").ends(2).complains("the message would be too large");
    let odd = "<xs:element name=\"gauge\" type=\"tns:Gauge\" minOccurs=\"many\"/>";
    folder.write("x.wsdl", contract(&[(gauge, odd)]));
    folder.run("check x.wsdl").ends(1).says("\"many\" is not a number of occurrences");
}
