//! Messages of every kind of binding, on the contract of the harbour office.

use crate::program::folder::{Folder, Run, contract};

const OFFICE: &str = "saltmere/office/harbour.wsdl";

fn message(folder: &Folder, rest: &str) -> Run {
    folder.run(&format!("message {OFFICE} {rest}"))
}

/// The attribute of the first element of a name, in a namespace.
fn attribute(run: &Run, element: &str, namespace: &str, name: &str) -> Option<String> {
    let document =
        roxmltree::Document::parse(&run.out).unwrap_or_else(|error| panic!("{error}\n{}", run.out));
    let node = document.descendants().find(|node| node.tag_name().name() == element).unwrap();
    node.attribute((namespace, name)).map(str::to_owned)
}

const XSI: &str = "http://www.w3.org/2001/XMLSchema-instance";
const ENCODING: &str = "http://schemas.xmlsoap.org/soap/encoding/";
const ENVELOPE: &str = "http://schemas.xmlsoap.org/soap/envelope/";

#[test]
fn encoded_values_name_their_types_and_arrays_their_size() {
    let folder = Folder::with_demo();
    let run = message(&folder, "listBerths --side output").ends(0);
    assert_eq!(attribute(&run, "berths", XSI, "type").as_deref(), Some("harbour:Berths"));
    assert_eq!(attribute(&run, "berths", ENCODING, "arrayType").as_deref(), Some("harbour:Berth[2]"));
    assert_eq!(attribute(&run, "item", XSI, "type").as_deref(), Some("harbour:Berth"));
    assert_eq!(attribute(&run, "free", XSI, "type").as_deref(), Some("xs:boolean"));
    assert_eq!(attribute(&run, "listBerthsResponse", ENVELOPE, "encodingStyle").as_deref(), Some(ENCODING));
    assert!(run.err.contains("SOAP 1.1, encoded"), "{}", run.err);
    let least = message(&folder, "listBerths --side output --size least").ends(0);
    assert_eq!(attribute(&least, "berths", ENCODING, "arrayType").as_deref(), Some("harbour:Berth[0]"));
    // The literal binding has neither.
    let run = message(&folder, "listBerths --side output --port BerthingPort12").ends(0);
    assert_eq!(attribute(&run, "berths", XSI, "type"), None);
}

#[test]
fn header_blocks_and_faults_about_them() {
    let folder = Folder::with_demo();
    let run = message(&folder, "reserveBerth").ends(0);
    assert_eq!(attribute(&run, "desk", ENVELOPE, "encodingStyle").as_deref(), Some(ENCODING));
    let run = message(&folder, "reserveBerth --header-fault closed").ends(0).says("<opens");
    assert!(run.out.contains("Fault>") && !run.out.contains("<detail"), "{}", run.out);
    let run = message(&folder, "reserveBerth --header-fault open").ends(2);
    run.complains("no header fault \"open\"").complains("closed");
    message(&folder, "listBerths --header-fault closed").ends(2).complains("name no headerfault");
    message(&folder, "reserveBerth --fault BerthTaken").ends(0).says(":taken ");
}

#[test]
fn policies_ask_for_addressing_and_a_user_name() {
    let folder = Folder::with_demo();
    let run = message(&folder, "reserveBerth --port BerthingPort12").ends(0);
    let run = run.says(">urn:saltmere:harbour:1:reserveBerth</Action>").says("#PasswordDigest");
    let run = run.says("<ReplyTo").says("mustUnderstand=\"true\"");
    // Base64(SHA-1(nonce + created + password)) of the sample, worked out apart.
    run.says(">/iiqXNXOXB2BYci3iJW9IScA0ZY=<");
    let run = message(&folder, "reserveBerth --port BerthingPort12 --side output").ends(0);
    run.says("<RelatesTo").lacks("UsernameToken");
    // Elsewhere, an option asks.
    let run = message(&folder, "listBerths --user okker --password knot --addressing").ends(0);
    let run = run.says("<Username>okker</Username>").says(">knot</Password>").says("#PasswordText");
    run.says("mustUnderstand=\"1\"").says("<Action");
    // What an option adds is no reason to refuse the values that come with it.
    message(&folder, "listBerths depth=4 --user okker").ends(0).says("Username").says(">4<");
    message(&folder, "listBerths").ends(0).lacks("Action>").lacks("Username");
}

/// The contract of the tides with a policy in its binding, and its address on plain HTTP.
pub fn demanding(assertions: &str) -> String {
    let policy = format!(
        "<wsp:Policy xmlns:wsp=\"http://www.w3.org/ns/ws-policy\" xmlns:sp=\"http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702\">{assertions}</wsp:Policy>"
    );
    let text = contract(&[]);
    let at = text.find("<soap:binding").unwrap();
    format!("{}{policy}{}", &text[..at], &text[at..])
}

pub fn user_name(inner: &str) -> String {
    format!(
        "<sp:SupportingTokens><wsp:Policy><sp:UsernameToken><wsp:Policy>{inner}</wsp:Policy></sp:UsernameToken></wsp:Policy></sp:SupportingTokens>"
    )
}

pub fn https(inner: &str) -> String {
    format!(
        "<sp:TransportBinding><wsp:Policy><sp:TransportToken><wsp:Policy><sp:HttpsToken><wsp:Policy>{inner}</wsp:Policy></sp:HttpsToken></wsp:Policy></sp:TransportToken></wsp:Policy></sp:TransportBinding>"
    )
}

#[test]
fn a_user_name_without_a_password_gives_nothing_away() {
    let folder = Folder::empty();
    let plain = |policy: &str| {
        let text = demanding(policy).replace("location=\"https://", "location=\"http://");
        folder.write("tides.wsdl", text);
        let run = folder.run("check tides.wsdl --format json");
        let json = run.json();
        let findings = json["findings"].as_array().unwrap().clone();
        findings.iter().any(|it| it["message"].as_str().unwrap().contains("credentials"))
    };
    assert!(plain(&user_name("")));
    assert!(plain(&user_name("<sp:HashPassword/>")));
    assert!(!plain(&user_name("<sp:NoPassword/>")));
}

#[test]
fn a_certificate_of_the_client_that_nobody_asks_for_any_more_keeps() {
    let folder = Folder::empty();
    folder.write("with.wsdl", demanding(&https("<sp:RequireClientCertificate/>")));
    folder.write("without.wsdl", demanding(&https("")));
    let run = folder.run("compare with.wsdl without.wsdl").ends(0);
    run.says("keeps")
        .says("requests need no longer have: a certificate of the client")
        .lacks("must now have");
    let run = folder.run("compare without.wsdl with.wsdl").ends(1);
    run.says("requests must now have: a certificate of the client");
    folder.run("show with.wsdl").says("demands https with a certificate of the client");
}

#[test]
fn a_fresh_message_is_like_no_other() {
    let folder = Folder::with_demo();
    let id = |run: &Run| run.out.split("MessageID").nth(1).unwrap().to_owned();
    let words = "listBerths --port BerthingPort12";
    assert_eq!(id(&message(&folder, words)), id(&message(&folder, words)));
    let fresh = || message(&folder, &format!("{words} --fresh")).ends(0);
    let (one, two) = (fresh(), fresh());
    assert_ne!(id(&one), id(&two));
    one.lacks("2026-03-14T06:30:00Z</");
}

#[test]
fn plain_http_and_several_parts() {
    let folder = Folder::with_demo();
    let run = message(&folder, "nextTide").ends(0);
    assert_eq!(
        run.out,
        "GET /tides/next?berth=N4&day=2026-03-14 HTTP/1.1\r\nHost: harbour.saltmere.example\r\n\r\n"
    );
    let run = message(&folder, "nextTide --port TidesPathPort").ends(0);
    assert!(run.out.starts_with("GET /tides/at/N4/on/2026-03-14 HTTP/1.1"), "{}", run.out);
    let run = message(&folder, "nextTide --port TidesFormPort").ends(0);
    let run = run.says("Content-Type: application/x-www-form-urlencoded").says("Content-Length: 23");
    assert!(run.out.ends_with("\r\n\r\nberth=N4&day=2026-03-14"), "{}", run.out);
    let run = message(&folder, "nextTide --as envelope").ends(2);
    run.complains("this message has no envelope").complains("--as http or --as body");
    let run = message(&folder, "fileChart").ends(0).says("multipart/related; type=\"text/xml\"");
    run.says("Content-ID: <chart=").says("Content-Type: image/png").says("SOAPAction");
    // The envelope alone leaves the rest out.
    message(&folder, "fileChart --as envelope").ends(0).lacks("image/png").says("<sheet>");
    let json = message(&folder, "nextTide --format json").ends(0).json();
    assert!(json["soap"].is_null() && json["envelope"].is_null());
    assert_eq!(json["values"]["berth"], "N4");
}

#[test]
fn the_whole_http_message_counts_its_bytes() {
    let folder = Folder::with_demo();
    for rest in ["reserveBerth", "reserveBerth --comments", "fileChart", "reserveBerth --fault BerthTaken"] {
        let run = message(&folder, &format!("{rest} --as http")).ends(0);
        let (head, body) = run.out.split_once("\r\n\r\n").unwrap();
        let length = head.lines().find_map(|line| line.strip_prefix("Content-Length: ")).unwrap();
        assert_eq!(length.trim().parse::<usize>().unwrap(), body.len(), "{rest}");
    }
}

#[test]
fn every_message_of_a_contract_is_written_and_matches() {
    let folder = Folder::with_demo();
    for (number, options) in ["", "--size least", "--size most", "--seed 7", "--as http"].iter().enumerate() {
        for (contract, count) in [(OFFICE, 19), ("saltmere/v1/pilotage.wsdl", 56)] {
            let out = format!("out{number}-{count}");
            let words = format!("message {contract} --all {out} {options}");
            let run = folder.run(words.trim_end()).ends(0);
            run.says(&format!("wrote {count} messages"));
            let json = folder.run(&format!("match {contract} {out} --format json")).ends(0).json();
            for message in json["messages"].as_array().unwrap() {
                let name = message["file"].as_str().unwrap().rsplit('/').next().unwrap().to_owned();
                let mut parts = name.split('.');
                let operation = parts.next();
                // A fault may be that of several operations.
                if !name.contains(".fault-") {
                    assert_eq!(message["operation"].as_str(), operation, "{name}");
                }
                let side = message["side"].as_str().unwrap().replace(' ', "-");
                assert_eq!(Some(side.as_str()), parts.next(), "{name}");
                assert_eq!(message["valid"], true, "{message}");
            }
        }
    }
}

#[test]
fn hostile_messages_are_refused_by_the_rule_that_they_break() {
    let folder = Folder::with_demo();
    folder.run(&format!("message {OFFICE} --all hostile --hostile")).ends(0);
    let json = folder.run(&format!("match {OFFICE} hostile --format json")).ends(1).json();
    let messages = json["messages"].as_array().unwrap();
    assert!(messages.len() > 100, "{}", messages.len());
    let mut kinds = std::collections::BTreeSet::new();
    for message in messages {
        let name = message["file"].as_str().unwrap();
        let rule = name.trim_end_matches(".xml").trim_end_matches(".http").rsplit('.').next().unwrap();
        let broken: Vec<&str> =
            message["findings"].as_array().unwrap().iter().map(|it| it["rule"].as_str().unwrap()).collect();
        assert_eq!(broken, [rule], "{name}");
        kinds.insert(rule.to_owned());
    }
    for rule in
        ["part-order", "part-missing", "part-surplus", "part-namespace", "header-missing", "body-parts"]
    {
        assert!(kinds.contains(rule), "{rule} not among {kinds:?}");
    }
    let run = folder.run("message saltmere/v1/pilotage.wsdl declareCargo --hostile").ends(0);
    run.says("header-missing $header/credentials").says("messages that must be refused");
}
