use crate::program::folder::{Folder, contract};

/// The lines that differ between two texts of the same number of lines.
fn changed(before: &str, after: &str) -> Vec<String> {
    assert_eq!(before.lines().count(), after.lines().count());
    before.lines().zip(after.lines()).filter(|(a, b)| a != b).map(|(_, b)| b.trim().to_owned()).collect()
}

#[test]
fn every_reference_follows_in_every_file() {
    let folder = Folder::with_demo();
    let before = (folder.read("saltmere/v1/pilotage.wsdl"), folder.read("saltmere/v1/vessel.xsd"));
    let run = folder.run("rename saltmere/v1/pilotage.wsdl type/Vessel Ship").ends(0);
    run.says("type/Vessel is now named Ship: 4 places in 2 files");
    assert_eq!(
        changed(&before.0, &folder.read("saltmere/v1/pilotage.wsdl")),
        ["<xs:element name=\"vessel\" type=\"v:Ship\"/>", "<xs:element name=\"vessel\" type=\"v:Ship\"/>"]
    );
    assert_eq!(
        changed(&before.1, &folder.read("saltmere/v1/vessel.xsd")),
        ["<xs:complexType name=\"Ship\">", "<xs:extension base=\"v:Ship\">"]
    );
    folder.run("check saltmere/v1/pilotage.wsdl").ends(0).says("no findings");
    folder.run("rename saltmere/v1/pilotage.wsdl type/Ship Vessel").ends(0);
    assert_eq!(before, (folder.read("saltmere/v1/pilotage.wsdl"), folder.read("saltmere/v1/vessel.xsd")));
}

#[test]
fn each_kind_of_component() {
    for (path, name, lines) in [
        ("operation/nextTide", "followingTide", 11),
        ("message/nextTideInput", "tideQuestion", 2),
        ("binding/TidesOverSoap11", "TidesOverSoap", 2),
        ("type/Gauge", "GaugeName", 3),
        ("element/nextTide", "followingTide", 2),
        ("type/Tide/height", "metres", 1),
        ("element/nextTide/gauge", "gaugeName", 1),
    ] {
        let folder = Folder::empty();
        let before = contract(&[]);
        folder.write("tides.wsdl", &before);
        folder.run(&format!("rename tides.wsdl {path} {name}")).ends(0);
        let after = folder.read("tides.wsdl");
        let lines_changed = changed(&before, &after);
        assert_eq!(lines_changed.len(), lines, "{path}: {lines_changed:?}");
        assert!(lines_changed.iter().all(|line| line.contains(name)), "{lines_changed:?}");
        folder.run("check tides.wsdl").ends(0).says("no findings");
        let back = format!("{}/{name}", path.rsplit_once('/').unwrap().0);
        let old = path.rsplit_once('/').unwrap().1;
        folder.run(&format!("rename tides.wsdl {back} {old}")).ends(0);
        assert_eq!(folder.read("tides.wsdl"), before, "{path}");
    }
}

#[test]
fn headers_keep_their_messages() {
    let folder = Folder::with_demo();
    folder
        .run("rename saltmere/v1/pilotage.wsdl message/AgentCredentialsHeader Credentials")
        .ends(0)
        .says("11 places");
    folder.run("check saltmere/v1/pilotage.wsdl").ends(0);
}

#[test]
fn what_keeps_the_old_name_is_said() {
    let folder = Folder::with_demo();
    let run = folder.run("rename saltmere/v1/pilotage.wsdl operation/settleDues showCosts --only").ends(0);
    run.says("still named after \"settleDues\": message/settleDuesInput, element/settleDues")
        .says("the action stays \"urn:saltmere:pilotage:1:settleDues\"");
    // A fault that several operations have is not one operation's to rename.
    let run = folder
        .run("rename saltmere/v1/pilotage.wsdl operation/findBoarding/fault/UnknownBooking NoBooking")
        .ends(0);
    run.says("still named after \"UnknownBooking\": message/UnknownBookingFault");
    folder.run("check saltmere/v1/pilotage.wsdl").ends(0);
}

#[test]
fn no_byte_moves_that_need_not() {
    // Tabs, CRLF, single quotes, attributes on lines of their own, comments, odd prefixes, an entity.
    let text = "\u{FEFF}<?xml version='1.0'?>\r\n<!DOCTYPE definitions [<!ENTITY town 'Saltmere'>]>\r\n<definitions xmlns='http://schemas.xmlsoap.org/wsdl/'\r\n\ttargetNamespace='urn:saltmere:q'   xmlns:q = 'urn:saltmere:q'\r\n\txmlns:S='http://www.w3.org/2001/XMLSchema'><!-- kept -->\r\n\t<types><S:schema targetNamespace='urn:saltmere:q' xmlns='urn:saltmere:q'>\r\n\t\t<S:simpleType\r\n\t\t\tname = 'Quay'><S:restriction base='S:string'/></S:simpleType>\r\n\t\t<S:element name='quay' type=' Quay '/><S:annotation><S:documentation>Quay of &town;</S:documentation></S:annotation>\r\n\t\t<S:simpleType name='Quays'><S:list itemType='q:Quay'/></S:simpleType>\r\n\t\t<S:simpleType name='Any'><S:union memberTypes='q:Quays  Quay\tS:int'/></S:simpleType>\r\n\t</S:schema></types>\r\n</definitions>";
    let folder = Folder::empty();
    folder.write("quays.wsdl", text);
    folder.run("rename quays.wsdl type/Quay Wharf").ends(0).says("4 places in 1 file");
    let expected = text
        .replace("name = 'Quay'", "name = 'Wharf'")
        .replace("' Quay '", "' Wharf '")
        .replace("q:Quay'", "q:Wharf'")
        .replace("  Quay\t", "  Wharf\t");
    assert_eq!(folder.read("quays.wsdl"), expected);
}

#[test]
fn encodings_are_kept() {
    let folder = Folder::empty();
    let text = contract(&[("encoding=\"UTF-8\"", "encoding=\"UTF-16\"")]);
    let encode = |text: &str| -> Vec<u8> {
        [0xFF, 0xFE].into_iter().chain(text.encode_utf16().flat_map(u16::to_le_bytes)).collect()
    };
    folder.write("tides.wsdl", encode(&text));
    folder.run("rename tides.wsdl type/Gauge Pegel").ends(0);
    let expected = text.replace("name=\"Gauge\"", "name=\"Pegel\"").replace("tns:Gauge", "tns:Pegel");
    assert_eq!(std::fs::read(folder.path("tides.wsdl")).unwrap(), encode(&expected));

    let latin = contract(&[("encoding=\"UTF-8\"", "encoding=\"ISO-8859-1\""), ("\"pier\"", "\"m\u{F8}le\"")]);
    let bytes: Vec<u8> = latin.chars().map(|c| c as u8).collect();
    folder.write("tides.wsdl", &bytes);
    folder.run("rename tides.wsdl type/Gauge \u{42D}").ends(2).complains("has no character for the new name");
    assert_eq!(std::fs::read(folder.path("tides.wsdl")).unwrap(), bytes);
    folder.run("rename tides.wsdl type/Gauge P\u{E9}gel").ends(0);
    assert!(std::fs::read(folder.path("tides.wsdl")).unwrap().windows(5).any(|window| window == b"P\xE9gel"));
}

#[test]
fn a_dry_run_shows_the_diff_and_writes_nothing() {
    let folder = Folder::empty();
    let before = contract(&[]);
    folder.write("tides.wsdl", &before);
    let run = folder.run("rename tides.wsdl operation/nextTide followingTide --dry-run").ends(0);
    assert_eq!(run.out.lines().filter(|line| line.starts_with('-') && !line.starts_with("---")).count(), 11);
    run.says("+    <wsdl:operation name=\"followingTide\">");
    assert_eq!(folder.read("tides.wsdl"), before);
}

#[test]
fn doubtful_renames_change_nothing() {
    let folder = Folder::empty();
    let before = contract(&[]);
    folder.write("tides.wsdl", &before);
    for (path, name, words) in [
        ("type/Gauge", "Tide", "there is a type \"Tide\" already"),
        ("element/nextTide", "nextTideResponse", "there is an element \"nextTideResponse\" already"),
        ("message/nextTideInput", "nextTideOutput", "there is a message \"nextTideOutput\" already"),
        ("type/Gauge", "Gauge", "it is named \"Gauge\" already"),
        ("type/Gauge", "a~b", "\"a b\" is not a name"),
        ("type/string", "text", "cannot be renamed"),
        ("type/Gage", "Tide", "there is no \"type/Gage\""),
    ] {
        folder.run(&format!("rename tides.wsdl {path} {name}")).ends(2).complains(words);
        assert_eq!(folder.read("tides.wsdl"), before);
    }
    folder.write("broken.wsdl", &before[..before.len() / 2]);
    folder.run("rename broken.wsdl type/Gauge Pegel").ends(2).complains("the file ends before");
}

#[test]
fn a_name_behind_an_entity_is_left_to_its_author() {
    let folder = Folder::empty();
    let changes = [
        ("<wsdl:definitions", "<!DOCTYPE wsdl:definitions [<!ENTITY gauge 'Gauge'>]>\n<wsdl:definitions"),
        (
            "<xs:attribute name=\"gauge\" type=\"tns:Gauge\"/>",
            "<xs:attribute name=\"gauge\" type=\"tns:&gauge;\"/>",
        ),
    ];
    let before = contract(&changes);
    folder.write("tides.wsdl", &before);
    folder.run("check tides.wsdl").ends(0);
    folder.run("rename tides.wsdl type/Gauge Pegel").ends(2).complains("not written plainly");
    assert_eq!(folder.read("tides.wsdl"), before);
}

#[cfg(unix)]
#[test]
fn links_and_permissions_are_kept() {
    use std::os::unix::fs::PermissionsExt;
    let folder = Folder::empty();
    folder.write("real.wsdl", contract(&[]));
    std::os::unix::fs::symlink(folder.path("real.wsdl"), folder.path("link.wsdl")).unwrap();
    std::fs::set_permissions(folder.path("real.wsdl"), std::fs::Permissions::from_mode(0o640)).unwrap();
    folder.run("rename link.wsdl type/Gauge Pegel").ends(0);
    assert!(std::fs::symlink_metadata(folder.path("link.wsdl")).unwrap().is_symlink());
    assert!(folder.read("real.wsdl").contains("Pegel"));
    assert_eq!(std::fs::metadata(folder.path("real.wsdl")).unwrap().permissions().mode() & 0o777, 0o640);
    std::fs::set_permissions(folder.path("real.wsdl"), std::fs::Permissions::from_mode(0o440)).unwrap();
    folder.run("rename real.wsdl type/Pegel Gauge").ends(2).complains("the file may only be read");
}

#[test]
fn standard_input_goes_to_standard_output() {
    let folder = Folder::empty();
    let text = contract(&[]);
    let run = folder.run_with("rename - type/Gauge Pegel --dry-run", text.as_bytes(), &[]).ends(0);
    run.says("+      <xs:simpleType name=\"Pegel\">");
    let run = folder.run_with("rename - type/Gauge Pegel", text.as_bytes(), &[]).ends(0);
    assert_eq!(run.out, text.replace("name=\"Gauge\"", "name=\"Pegel\"").replace("tns:Gauge", "tns:Pegel"));
    assert!(run.err.contains("type/Gauge is now named Pegel: 3 places in 1 file"), "{}", run.err);
    let both = folder.run_with("rename - type/Gauge Pegel --format json", text.as_bytes(), &[]);
    both.ends(2).complains("cannot hold both");
}
