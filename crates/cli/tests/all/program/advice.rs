//! Advice about a revision: the next version, the namespace, and whether both can be offered side by side.

use crate::program::folder::{Folder, contract};

/// Changes of the example contract: none at all, one that bends and one that breaks.
const NONE: (&str, &str) = ("name=\"Gauge\"", "name=\"Gauge\"");
const BENDS: (&str, &str) = (
    "<xs:element name=\"height\" type=\"xs:decimal\" minOccurs=\"0\"/>",
    "<xs:element name=\"height\" type=\"xs:decimal\" minOccurs=\"0\"/><xs:element name=\"low\" type=\"xs:dateTime\" minOccurs=\"0\"/>",
);
const BREAKS: (&str, &str) = (
    "<xs:element name=\"gauge\" type=\"tns:Gauge\"/>",
    "<xs:element name=\"gauge\" type=\"tns:Gauge\"/><xs:element name=\"day\" type=\"xs:date\"/>",
);
/// A new operation: all that was there still works.
const GROWS: (&str, &str) = (
    "  <wsdl:portType name=\"Tides\">",
    "  <wsdl:portType name=\"Buoys\"><wsdl:operation name=\"listBuoys\"/></wsdl:portType>\n  <wsdl:portType name=\"Tides\">",
);

/// The advice for a change of a contract whose namespace and settled versions are those.
fn advised(namespace: &str, change: (&str, &str), settled: &str) -> String {
    let folder = Folder::empty();
    let put = |text: String| text.replace("urn:saltmere:tides:1", namespace);
    folder.write("old.wsdl", put(contract(&[])));
    folder.write("new.wsdl", put(contract(&[change])));
    folder.write("charter.toml", format!("[versions]\n{settled}"));
    let out = folder.run("compare old.wsdl new.wsdl --allow breaks").ends(0).out;
    out.lines().find_map(|line| line.strip_prefix("advice: ")).unwrap_or("").to_owned()
}

#[test]
fn the_next_version_goes_by_the_verdict() {
    let next = |change, current: &str, more: &str| {
        advised(
            "urn:saltmere:tides:1",
            change,
            &format!("current = \"{current}\"\nnamespace = \"never\"\n{more}"),
        )
    };
    for (change, current, more, expected) in [
        (BREAKS, "2.4", "", "version 2.4 becomes 3.0"),
        (BREAKS, "2.4.7", "", "version 2.4.7 becomes 3.0.0"),
        (BREAKS, "2", "", "version 2 becomes 3"),
        (BREAKS, "v2.4", "", "version v2.4 becomes v3.0"),
        (BENDS, "2.4", "", "version 2.4 becomes 2.5"),
        (BENDS, "2.4.7", "bends = \"patch\"\n", "version 2.4.7 becomes 2.4.8"),
        (BENDS, "2.4", "bends = \"patch\"\n", "version 2.4 becomes 2.4.1"),
        (BENDS, "2.4", "bends = \"major\"\n", "version 2.4 becomes 3.0"),
        (BENDS, "2.4", "bends = \"same\"\n", ""),
        (GROWS, "2.4", "", "version 2.4 becomes 2.5"),
        (GROWS, "2.4", "keeps = \"same\"\n", ""),
        (NONE, "2.4", "", ""),
        (BREAKS, "spring", "", ""),
    ] {
        let found = next(change, current, more);
        let found = found.split(';').find(|part| part.starts_with("version ")).unwrap_or("");
        assert_eq!(found, expected, "{} {current} {more}", change.1);
    }
}

#[test]
fn the_next_namespace_goes_on_as_it_began() {
    for (namespace, expected) in [
        ("urn:saltmere:tides:1", "urn:saltmere:tides:2"),
        ("urn:saltmere:tides:9", "urn:saltmere:tides:10"),
        ("urn:saltmere:tides", "urn:saltmere:tides:2"),
        ("urn:saltmere:2026:03", "urn:saltmere:2026:04"),
        ("http://saltmere.example/tides", "http://saltmere.example/tides/2"),
        ("http://saltmere.example/tides/", "http://saltmere.example/tides/2"),
        ("http://saltmere.example/tides/v1", "http://saltmere.example/tides/v2"),
        ("http://saltmere.example/tides#", "http://saltmere.example/tides#2"),
    ] {
        let advice = advised(namespace, BREAKS, "");
        assert!(
            advice.contains(&format!("the target namespace must be another, such as {expected}")),
            "{namespace}: {advice}"
        );
    }
}

#[test]
fn when_the_namespace_must_be_another() {
    let says = |change, settled: &str| {
        advised("urn:saltmere:tides:1", change, settled).contains("the target namespace must be another")
    };
    for (change, settled, expected) in [
        (BREAKS, "", true),
        (BREAKS, "namespace = \"breaks\"\n", true),
        (BREAKS, "namespace = \"always\"\n", true),
        (BREAKS, "namespace = \"never\"\n", false),
        (BENDS, "", false),
        (BENDS, "namespace = \"always\"\n", true),
        (GROWS, "", false),
        (GROWS, "namespace = \"always\"\n", true),
        (NONE, "namespace = \"always\"\n", false),
    ] {
        assert_eq!(says(change, settled), expected, "{} {settled}", change.1);
    }
}

#[test]
fn two_versions_stand_at_one_address_if_their_requests_tell_them_apart() {
    assert!(advised("urn:saltmere:tides:1", BREAKS, "").contains("at two addresses"));
    let folder = Folder::empty();
    folder.write("old.wsdl", contract(&[]));
    // Another action and another namespace.
    folder.write("new.wsdl", contract(&[BREAKS]).replace("urn:saltmere:tides:1", "urn:saltmere:tides:2"));
    folder.write("charter.toml", "[versions]\n");
    folder.run("compare old.wsdl new.wsdl --allow breaks").ends(0).says("at one address");
}

#[test]
fn what_is_settled_must_make_sense() {
    let folder = Folder::empty();
    folder.write("old.wsdl", contract(&[]));
    folder.write("new.wsdl", contract(&[BREAKS]));
    for (settled, words) in [
        ("[versions]\nbreaks = \"huge\"\n", "charter.toml:2:10: \"huge\" is not known here"),
        ("[versions]\nbreaks = 7\n", "charter.toml:2:10"),
        ("[versions]\nbrakes = \"major\"\n", "charter.toml:2:1"),
        ("[compare]\nallow = \"none\"\n", "charter.toml:2:9: \"none\" is not known here"),
        ("[compare]\nreader = \"slow\"\n", "charter.toml:2:10: \"slow\" is not known here"),
        ("[compare]\nsurface = \"deep\"\n", "charter.toml:2:11: \"deep\" is not known here"),
        ("[compare\n", "charter.toml:1:9"),
    ] {
        folder.write("charter.toml", settled);
        folder.run("compare old.wsdl new.wsdl").ends(2).complains(words);
    }
}

#[test]
fn what_is_settled_for_readers_and_code_holds_unless_an_option_says_otherwise() {
    let folder = Folder::empty();
    folder.write("old.wsdl", contract(&[]));
    folder.write("new.wsdl", contract(&[BENDS]));
    folder.run("compare old.wsdl new.wsdl").ends(0).says("bends  ");
    folder.write("charter.toml", "[compare]\nreader = \"strict\"\n");
    folder.run("compare old.wsdl new.wsdl").ends(1).says("breaks 1 of 1");
    folder.run("compare old.wsdl new.wsdl --reader lenient").ends(0).says("keeps  ");
    folder.write("charter.toml", "[compare]\nreader = \"lenient\"\nsurface = \"code\"\n");
    folder.run("compare old.wsdl new.wsdl").ends(0).says("depends on whether code is generated");
    folder.run("compare old.wsdl new.wsdl --surface wire").ends(0).lacks("code is generated");
    folder.write("charter.toml", "[compare]\nallow = \"keeps\"\n");
    folder.run("compare old.wsdl new.wsdl").ends(1);
    folder.run("compare old.wsdl new.wsdl --allow bends").ends(0);
}

#[test]
fn of_a_revision_the_next_version_goes_by_the_tags() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    folder.write("charter.toml", "[versions]\nnamespace = \"never\"\n");
    folder.git(&["init", "-q"]);
    folder.git(&["add", "."]);
    folder.git(&["commit", "-qm", "tides"]);
    let advice = |change| {
        folder.write("tides.wsdl", contract(&[change]));
        let out = folder.run("compare HEAD:tides.wsdl tides.wsdl --allow breaks").ends(0).out;
        let found = out.lines().find_map(|line| line.strip_prefix("advice: ")).unwrap_or("").to_owned();
        found.split(';').next().unwrap_or("").to_owned()
    };
    // Without tags, it is the number of the namespace.
    assert_eq!(advice(BREAKS), "version 1 becomes 2");
    folder.git(&["tag", "v1.4"]);
    assert_eq!(advice(BREAKS), "version v1.4 becomes v2.0");
    assert_eq!(advice(BENDS), "version v1.4 becomes v1.5");
    // What somebody has tagged elsewhere is given already; what is no version is no tag to go by.
    folder.git(&["tag", "v1.5"]);
    folder.git(&["tag", "-d", "v1.5"]);
    folder.git(&["commit", "-q", "--allow-empty", "-m", "later"]);
    folder.git(&["tag", "v1.5", "HEAD~1"]);
    folder.git(&["tag", "v2.0"]);
    assert_eq!(advice(BREAKS), "version v2.0 becomes v3.0");
    folder.git(&["commit", "-q", "--allow-empty", "-m", "last"]);
    folder.git(&["tag", "reviewed"]);
    assert_eq!(advice(BREAKS), "version v2.0 becomes v3.0");
    // What is settled goes first.
    folder.write("charter.toml", "[versions]\nnamespace = \"never\"\ncurrent = \"v1.4\"\n");
    assert_eq!(advice(BENDS), "version v1.4 becomes v1.6");
}
