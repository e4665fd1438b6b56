//! `check --fix` on what is mended at many places, in several files, or cannot be mended without harm.

use crate::program::folder::{Folder, contract};
use crate::program::hostile::quick;

/// The example with more operations in its port type, each with an element of its own, that the binding leaves out.
fn unbound(count: usize) -> String {
    let each = |piece: &dyn Fn(usize) -> String| (0..count).map(piece).collect::<String>();
    let elements = each(&|n| format!("<xs:element name=\"e{n}\" type=\"tns:Tide\"/>"));
    let messages = each(&|n| {
        format!("<wsdl:message name=\"m{n}\"><wsdl:part name=\"p\" element=\"tns:e{n}\"/></wsdl:message>")
    });
    let operations = each(&|n| {
        format!(
            "<wsdl:operation name=\"o{n}\"><wsdl:documentation>Asks.</wsdl:documentation><wsdl:input message=\"tns:m{n}\"/></wsdl:operation>"
        )
    });
    contract(&[
        ("</xs:schema>", &format!("{elements}</xs:schema>")),
        ("  <wsdl:portType", &format!("{messages}  <wsdl:portType")),
        ("  </wsdl:portType>", &format!("{operations}  </wsdl:portType>")),
    ])
}

#[test]
fn one_fix_for_many_findings_is_made_once() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", unbound(40));
    folder.run("check tides.wsdl").ends(1).says("40 errors");
    // Programs get the same edits with each of them: whichever is taken, all are mended.
    let json = folder.run("check tides.wsdl --format json").ends(1).json();
    let findings = json["findings"].as_array().unwrap();
    let missing: Vec<_> = findings.iter().filter(|it| it["rule"] == "binding-operation-missing").collect();
    assert_eq!(missing.len(), 40);
    assert!(missing.iter().all(|it| it["fix"] == missing[0]["fix"]), "{json}");
    assert!(missing[0]["fix"].to_string().contains("o39"), "{}", missing[0]);
    let run =
        folder.run("check tides.wsdl --fix").ends(0).says("mended  binding-operation-missing, 1 place\n");
    assert!(run.err.contains("now, no findings") || run.err.contains("0 errors"), "{}", run.err);
    folder.run("check tides.wsdl").ends(0).says("no findings");
    assert_eq!(folder.read("tides.wsdl").matches("<soap:body").count(), 2 + 40);
}

#[test]
fn edits_for_programs_are_bounded() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", unbound(1_500));
    let text = folder.run("check tides.wsdl --format json").ends(1).out;
    assert!(text.len() < 10 << 20, "{}", text.len());
    let json: serde_json::Value = serde_json::from_str(&text).unwrap();
    let findings = json["findings"].as_array().unwrap();
    assert_eq!(findings.len(), 1_500);
    let with = |it: &&serde_json::Value| it["fix"].as_array().is_some_and(|fix| !fix.is_empty());
    let fixed = findings.iter().filter(with).count();
    assert!((1..=200).contains(&fixed), "{fixed}");
    folder.run("check tides.wsdl --fix").ends(0).says("binding-operation-missing, 1 place");
}

#[test]
fn what_does_harm_is_left_and_the_rest_is_mended() {
    let folder = Folder::empty();
    // Once it is bound, the body of the second operation holds two elements and its parts have no place: that is worse.
    let text = contract(&[
        (
            "  <wsdl:portType",
            "  <wsdl:message name=\"two\">\n    <wsdl:part name=\"a\" element=\"tns:nextTide\"/>\n    <wsdl:part name=\"b\" element=\"tns:nextTideResponse\"/>\n  </wsdl:message>\n  <wsdl:portType",
        ),
        (
            "  </wsdl:portType>",
            "    <wsdl:operation name=\"both\">\n      <wsdl:input message=\"tns:two\"/>\n      <wsdl:output message=\"tns:two\"/>\n    </wsdl:operation>\n  </wsdl:portType>",
        ),
        ("xmlns:wsdl=", "xmlns:old=\"urn:saltmere:old\" xmlns:wsdl="),
        ("<soap:operation soapAction=\"urn:saltmere:tides:1:nextTide\"/>", "<soap:operation/>"),
    ]);
    folder.write("tides.wsdl", &text);
    let run = folder.run("check tides.wsdl --fix").ends(1);
    let run = run.says("mended  prefix-unused, 1 place\n").says("mended  soap-action, 1 place\n");
    run.lacks("binding-operation-missing");
    let mended = folder.read("tides.wsdl");
    assert!(!mended.contains("xmlns:old") && mended.contains("soapAction=\"\""), "{mended}");
    assert!(!mended.contains("<wsdl:operation name=\"both\">\n      <soap"), "{mended}");
    folder.run("check tides.wsdl").ends(1).says("1 error");
    // What is left cannot be mended, and is said to be so.
    let again = folder.run("check tides.wsdl --fix").ends(1);
    assert!(again.err.contains("nothing to mend"), "{}", again.err);
    assert_eq!(folder.read("tides.wsdl"), mended);
}

#[test]
fn a_fix_may_turn_errors_into_what_is_less() {
    let folder = Folder::empty();
    // Two operations of one element: bound, they cannot be told by it, which is a warning.
    let text = contract(&[(
        "  </wsdl:portType>",
        "    <wsdl:operation name=\"again\">\n      <wsdl:input message=\"tns:nextTideInput\"/>\n    </wsdl:operation>\n  </wsdl:portType>",
    )]);
    folder.write("tides.wsdl", &text);
    folder.run("check tides.wsdl").ends(1).says("1 error");
    let run = folder.run("check tides.wsdl --fix").ends(0).says("binding-operation-missing, 1 place");
    assert!(run.err.contains("1 warning"), "{}", run.err);
    folder.run("check tides.wsdl").ends(0).says("R2710");
}

#[test]
fn the_files_of_a_contract_are_mended_together() {
    let folder = Folder::with_parts();
    for (name, prefix) in [("tides.wsdl", "xmlns:one"), ("parts/desk.wsdl", "xmlns:two")] {
        let text = folder.read(name);
        folder.write(
            name,
            text.replacen("xmlns:wsdl=", &format!("{prefix}=\"urn:saltmere:old\" xmlns:wsdl="), 1),
        );
    }
    let whole = || (folder.read("tides.wsdl"), folder.read("parts/desk.wsdl"));
    let before = whole();
    let dry = folder.run("check tides.wsdl --fix --dry-run").ends(0);
    dry.says("--- tides.wsdl\n").says("--- parts/desk.wsdl\n").says("xmlns:one").says("xmlns:two");
    assert_eq!(whole(), before);
    let run = folder.run("check tides.wsdl --fix").ends(0);
    run.says("prefix-unused, 4 places").says("in tides.wsdl").says("in parts/desk.wsdl");
    let (one, two) = whole();
    assert!(!one.contains("xmlns:one") && !two.contains("xmlns:two"), "{one}{two}");
    folder.run("check tides.wsdl").ends(0).says("no findings");
}

#[test]
fn one_of_several_contracts_that_cannot_be_read_stops_the_others_before_anything_is_written() {
    let folder = Folder::empty();
    let text = contract(&[("xmlns:wsdl=", "xmlns:old=\"urn:saltmere:old\" xmlns:wsdl=")]);
    folder.write("a.wsdl", &text);
    folder.run("check gone.wsdl a.wsdl --fix").ends(2).complains("gone.wsdl");
    folder.run("check a.wsdl --fix").ends(0).says("prefix-unused, 1 place");
    assert!(!folder.read("a.wsdl").contains("urn:saltmere:old"));
}

#[test]
fn thousands_of_fixes_are_made_in_good_time_or_said_to_be_left() {
    let folder = Folder::empty();
    let bindings: String = (0..1_500)
        .map(|n| format!("<wsdl:binding name=\"B{n}\" type=\"tns:Tides\"><soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/></wsdl:binding>"))
        .collect();
    folder.write("tides.wsdl", contract(&[("  <wsdl:service", &format!("{bindings}  <wsdl:service"))]));
    let errors = |folder: &Folder| {
        let json = folder.run("check tides.wsdl --format json").json();
        json["errors"].as_u64().unwrap()
    };
    let before = errors(&folder);
    let run = quick(&folder, "check tides.wsdl --fix");
    run.says("binding-operation-missing");
    let after = errors(&folder);
    assert!(after < before, "{before} {after}");
    // Bodies and actions, each in place, by the thousand.
    let operations: String = (0..1_500)
        .map(|n| {
            format!(
                "<wsdl:operation name=\"o{n}\"><wsdl:input message=\"tns:nextTideInput\"/></wsdl:operation>"
            )
        })
        .collect();
    let bound: String = (0..1_500)
        .map(|n| format!("<wsdl:operation name=\"o{n}\"><soap:operation/><wsdl:input><soap:body/></wsdl:input></wsdl:operation>"))
        .collect();
    folder.write(
        "tides.wsdl",
        contract(&[
            ("  </wsdl:portType>", &format!("{operations}  </wsdl:portType>")),
            ("  </wsdl:binding>", &format!("{bound}  </wsdl:binding>")),
        ]),
    );
    let run = quick(&folder, "check tides.wsdl --fix");
    run.says("soap-action, 1500 places").says("soap-use, 1500 places");
    assert_eq!(folder.read("tides.wsdl").matches("<soap:body/>").count(), 0);
}
