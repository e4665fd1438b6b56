//! Many of one kind that meet many of another: what each run says is right, and it comes to its end in good time.

use crate::program::folder::{Folder, Run};
use crate::program::hostile::{port, quick};

/// A piece for each number.
fn each(count: usize, piece: impl Fn(usize) -> String) -> String {
    (0..count).map(piece).collect()
}

const MOOR: &str = "<xs:element name=\"moor\" type=\"xs:string\"/>";

/// A contract whose request and reply have these header blocks; each names a part by its number.
fn with_headers(declarations: &str, parts: &[&str]) -> String {
    let declared: String = (0..)
        .zip(parts)
        .map(|(n, element)| format!("<w:part name=\"h{n}\" element=\"t:{element}\"/>"))
        .collect();
    let bound = each(parts.len(), |n| format!("<s:header message=\"t:In\" part=\"h{n}\" use=\"literal\"/>"));
    port(&format!("{MOOR}{declarations}"))
        .replace("<w:part name=\"p\"", &format!("{declared}<w:part name=\"p\""))
        .replace("<s:body use", &format!("{bound}<s:body parts=\"p\" use"))
}

/// A message with these header blocks.
fn message(blocks: &str) -> String {
    format!(
        "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\" xmlns:t=\"urn:saltmere:quay\"><e:Header>{blocks}</e:Header><e:Body><t:moor>north</t:moor></e:Body></e:Envelope>"
    )
}

/// What is said of a message by a contract.
#[track_caller]
fn matched(folder: &Folder, contract: &str, blocks: &str) -> Run {
    folder.write("quay.wsdl", contract);
    folder.write("message.xml", message(blocks));
    quick(folder, "match quay.wsdl message.xml --notes --format json")
}

/// The findings of a rule.
fn of_rule(run: &Run, rule: &str) -> usize {
    let findings = run.json()["messages"][0]["findings"].as_array().unwrap().clone();
    findings.iter().filter(|finding| finding["rule"] == rule).count()
}

const WATCH: &str = "<xs:element name=\"watch\" type=\"xs:int\"/>";

#[test]
fn header_blocks_that_are_declared_alike_take_one_block_each() {
    let folder = Folder::empty();
    let twice = with_headers(WATCH, &["watch", "watch"]);
    let watch = |value: &str| format!("<t:watch>{value}</t:watch>");
    // Each is judged, the second as well as the first.
    matched(&folder, &twice, &(watch("1") + &watch("2"))).ends(0);
    matched(&folder, &twice, &(watch("1") + &watch("two"))).ends(1).says("\\\"two\\\"");
    // One block may be both; a third is one too many, which a receiver may ignore.
    matched(&folder, &twice, &watch("1")).ends(0);
    let run = matched(&folder, &twice, &(watch("1") + &watch("2") + &watch("3"))).ends(0);
    assert_eq!(of_rule(&run, "header-unknown"), 1, "{}", run.out);
    run.says("the header block \\\"watch\\\" is there more often than the contract has it");
    // None is not enough for either.
    let run = matched(&folder, &twice, "").ends(1);
    assert_eq!(of_rule(&run, "header-missing"), 2);
}

#[test]
fn what_stands_for_a_header_block_is_left_to_it() {
    let folder = Folder::empty();
    let elements = "<xs:element name=\"sign\" type=\"xs:string\"/><xs:element name=\"flag\" type=\"xs:string\" substitutionGroup=\"t:sign\"/><xs:element name=\"light\" type=\"xs:string\" substitutionGroup=\"t:sign\"/>";
    let one = with_headers(elements, &["sign"]);
    for block in ["<t:sign>A</t:sign>", "<t:flag>A</t:flag>", "<t:light>A</t:light>"] {
        let run = matched(&folder, &one, block).ends(0);
        assert_eq!(of_rule(&run, "header-unknown"), 0, "{block}: {}", run.out);
    }
    // Its own name comes first, whatever the order; what could have stood for it is one that nobody asked for.
    let run = matched(&folder, &one, "<t:flag>A</t:flag><t:sign>B</t:sign>").ends(0);
    assert_eq!(of_rule(&run, "header-unknown"), 1);
    run.says("header block \\\"flag\\\"");
    // Two are declared, and two others stand for them.
    let two = with_headers(elements, &["sign", "sign"]);
    let run = matched(&folder, &two, "<t:flag>A</t:flag><t:light>B</t:light>").ends(0);
    assert_eq!(of_rule(&run, "header-unknown"), 0, "{}", run.out);
    // What stands for one that is declared itself stands for that.
    let both = with_headers(elements, &["sign", "flag"]);
    let run = matched(&folder, &both, "<t:flag>A</t:flag><t:sign>B</t:sign>").ends(0);
    assert_eq!(of_rule(&run, "header-unknown"), 0, "{}", run.out);
    matched(&folder, &both, "<t:light>A</t:light>").ends(1).says("header-missing");
    // What is declared by its own name is not taken from it by what it could stand for.
    let run = matched(&folder, &both, "<t:flag>A</t:flag><t:light>B</t:light>").ends(0);
    assert_eq!(of_rule(&run, "header-unknown"), 0, "{}", run.out);
    // Its values are found where they stand.
    folder.write("quay.wsdl", &one);
    folder.write("message.xml", message("<t:light>A</t:light>"));
    quick(&folder, "match quay.wsdl message.xml --values").ends(0).says("sign\": \"A\"");
}

#[test]
fn thousands_of_header_blocks_meet_as_many() {
    let folder = Folder::empty();
    let names: Vec<String> = (0..1_500).map(|n| format!("watch{n}")).collect();
    let declared = each(1_500, |n| format!("<xs:element name=\"watch{n}\" type=\"xs:int\"/>"));
    let contract = with_headers(&declared, &names.iter().map(String::as_str).collect::<Vec<_>>());
    // All are there, in another order.
    let blocks = each(1_500, |n| format!("<t:watch{0}>1</t:watch{0}>", 1_499 - n));
    matched(&folder, &contract, &blocks).ends(0);
    // All have other names: the first few get advice, and all are counted.
    let blocks = each(1_500, |n| format!("<t:wach{n}>1</t:wach{n}>"));
    let run = matched(&folder, &contract, &blocks).ends(1);
    run.says("is \\\"wach0\\\" meant to be it?");
    let text = quick(&folder, "match quay.wsdl message.xml").ends(1);
    assert!(text.out.contains("1500 errors") || text.err.contains("1500"), "{} {}", text.out, text.err);
    // All are declared to be the same.
    let alike = with_headers(WATCH, &vec!["watch"; 1_500]);
    matched(&folder, &alike, &each(1_500, |n| format!("<t:watch>{n}</t:watch>"))).ends(0);
    folder.write("quay.wsdl", alike);
    quick(&folder, "remove quay.wsdl element/watch --with-references --dry-run").ends(0).says("-");
}

#[test]
fn accessors_of_other_names_are_each_told() {
    let folder = Folder::empty();
    let parts = each(2_000, |n| format!("<w:part name=\"part{n}\" type=\"xs:int\"/>"));
    let contract = port("")
        .replace("<w:part name=\"p\" element=\"t:moor\"/>", &parts)
        .replace("transport=", "style=\"rpc\" transport=")
        .replace("use=\"literal\"", "use=\"literal\" namespace=\"urn:saltmere:quay\"");
    folder.write("quay.wsdl", contract);
    let sent = |name: &str| {
        let accessors = each(2_000, |n| format!("<{name}{n}>1</{name}{n}>"));
        format!(
            "<e:Envelope xmlns:e=\"http://schemas.xmlsoap.org/soap/envelope/\"><e:Body><t:moor xmlns:t=\"urn:saltmere:quay\">{accessors}</t:moor></e:Body></e:Envelope>"
        )
    };
    folder.write("message.xml", sent("part"));
    quick(&folder, "match quay.wsdl message.xml").ends(0);
    folder.write("message.xml", sent("pard"));
    let run = quick(&folder, "match quay.wsdl message.xml --format json").ends(1);
    assert!(of_rule(&run, "part-surplus") >= 90, "{}", run.out.len());
    run.says("did you mean \\\"part0\\\"?").says("there are part0, part1, ").says(" and 1988 more");
    // The same in values.
    let values = each(2_000, |n| format!("\"pard{n}\": 1,"));
    folder.write("values.json", format!("{{{}}}", values.trim_end_matches(',')));
    let run = quick(&folder, "message quay.wsdl moor --values values.json").ends(2);
    assert!(run.err.contains("did you mean \"part0\"?"), "{}", &run.err[..400.min(run.err.len())]);
}

#[test]
fn names_that_lead_nowhere_by_the_thousand() {
    let folder = Folder::empty();
    let faults = each(1_500, |n| format!("<w:fault name=\"fault{n}\" message=\"t:In\"/>"));
    let bound = each(1_500, |n| format!("<w:fault name=\"fauld{n}\"/>"));
    let contract = port(MOOR)
        .replace("<w:output message=\"t:In\"/>", &format!("<w:output message=\"t:In\"/>{faults}"))
        .replace(
            "</w:output></w:operation></w:binding>",
            &format!("</w:output>{bound}</w:operation></w:binding>"),
        );
    folder.write("faults.wsdl", contract);
    let run = quick(&folder, "check faults.wsdl --format json").ends(1);
    run.says("did you mean \\\"fault0\\\"?").says("remove it here, or add it to the port type");
    let policy = "xmlns:wsp=\"http://www.w3.org/ns/ws-policy\"";
    let policies = each(2_000, |n| format!("<wsp:Policy {policy} xml:id=\"policy{n}\"/>"));
    let references = each(2_000, |n| format!("<wsp:PolicyReference {policy} URI=\"#polizy{n}\"/>"));
    let contract = port(MOOR)
        .replace("<w:types", &format!("{policies}<w:types"))
        .replace("<w:operation name=\"moor\"><s:", &format!("<w:operation name=\"moor\">{references}<s:"));
    folder.write("policies.wsdl", contract);
    let run = quick(&folder, "check policies.wsdl --format json").ends(1);
    run.says("did you mean \\\"#policy")
        .says("declare the policy with that wsu:Id, or correct the reference");
}

/// Of what differs by the thousand each is told, with a message for as many as there is time.
#[test]
fn contents_that_differ_by_the_thousand() {
    let folder = Folder::empty();
    let element = |content: &str| {
        port(&format!("<xs:element name=\"moor\"><xs:complexType>{content}</xs:complexType></xs:element>"))
    };
    folder.write("bare.wsdl", element(""));
    let pairs = [
        (
            "attributes",
            each(2_000, |n| format!("<xs:attribute name=\"a{n}\" type=\"xs:int\" use=\"required\"/>")),
            "attribute-added",
        ),
        (
            "patterns",
            format!(
                "<xs:sequence>{}</xs:sequence>",
                each(500, |n| format!(
                    "<xs:element name=\"f{n}\"><xs:simpleType><xs:restriction base=\"xs:string\"><xs:pattern value=\"[ab]{{1,250000}}{n}\"/></xs:restriction></xs:simpleType></xs:element>"
                ))
            ),
            "element-added",
        ),
    ];
    for (what, content, rule) in pairs {
        folder.write("full.wsdl", element(&content));
        let run = quick(&folder, "compare bare.wsdl full.wsdl --format json").ends(1);
        let changes = run.json()["changes"].as_array().unwrap().clone();
        let told = changes.iter().filter(|change| change["rule"] == rule).count();
        assert!(told >= 500, "{what}: {told}");
        assert!(changes.iter().any(|change| change["witness"].is_object()), "{what}");
        quick(&folder, "compare full.wsdl bare.wsdl");
    }
    // One name in many places is one step.
    let choice = "<xs:choice minOccurs=\"0\" maxOccurs=\"unbounded\"><xs:element name=\"a\" type=\"xs:int\"/><xs:element name=\"b\" type=\"xs:int\" minOccurs=\"0\"/></xs:choice>";
    folder.write("full.wsdl", element(&format!("<xs:sequence>{}</xs:sequence>", choice.repeat(2_000))));
    quick(&folder, "compare bare.wsdl full.wsdl").lacks("\nkeeps");
    quick(&folder, "compare full.wsdl bare.wsdl").lacks("\nkeeps");
}

/// A record that names thousands of fields, and tables with thousands of columns.
#[test]
fn thousands_of_paths_lead_into_as_many_fields() {
    let folder = Folder::empty();
    let with_fields = |name: &str| {
        let fields =
            each(2_000, |n| format!("<xs:element name=\"{name}{n}\" type=\"xs:int\" minOccurs=\"0\"/>"));
        port(&format!(
            "<xs:element name=\"moor\"><xs:complexType><xs:sequence>{fields}</xs:sequence></xs:complexType></xs:element>"
        ))
    };
    folder.write("fields.wsdl", with_fields("field"));
    folder.write(
        "bare.wsdl",
        port("<xs:element name=\"moor\"><xs:complexType><xs:sequence/></xs:complexType></xs:element>"),
    );
    let columns = |name: &str| each(2_000, |n| format!("{name}{n},"));
    let cells = |name: &str| {
        format!("{}\n{}\n", columns(name).trim_end_matches(','), "7,".repeat(2_000).trim_end_matches(','))
    };
    folder.write("cells.csv", cells("field"));
    quick(&folder, "message fields.wsdl moor --values cells.csv -o out").ends(0).says("wrote 1 message");
    let message = folder.read("out/row-2.xml");
    assert!(message.contains("<field0>7</field0>") && message.contains("<field1999>7</field1999>"));
    // In a choice, each takes the place of those before it.
    let contract = with_fields("field")
        .replace("<xs:sequence>", "<xs:choice>")
        .replace("</xs:sequence>", "</xs:choice>");
    folder.write("choice.wsdl", contract);
    quick(&folder, "message choice.wsdl moor --values cells.csv -o chosen").ends(0);
    let message = folder.read("chosen/row-2.xml");
    assert!(
        !message.contains("<field0>") && message.contains("<field1999>7</field1999>"),
        "{}",
        message.len()
    );
    let record = |name: &str| {
        let paths = each(2_000, |n| format!("\"{name}{n}\", "));
        format!("name = \"Desk\"\n[operations.moor]\nsends = [{paths}]\nreads = [{paths}]\n")
    };
    folder.write("consumers/desk.toml", record("field"));
    let run = quick(&folder, "compare fields.wsdl fields.wsdl --consumers consumers").ends(0);
    assert!(run.err.is_empty(), "{}", run.err);
    let run = quick(&folder, "compare fields.wsdl bare.wsdl --consumers consumers --format json").ends(1);
    let because = run.json()["consumers"][0]["because"].as_array().unwrap().len();
    assert!(because >= 2_000, "{because}");
    // A record of another name is told of each, and what it names is not there to be broken.
    folder.write("consumers/desk.toml", record("fild"));
    let run = quick(&folder, "compare fields.wsdl fields.wsdl --consumers consumers").ends(2);
    assert!(
        run.err.contains("did you mean \"field0\"?") && run.err.contains("correct the name, or leave it out")
    );
    assert_eq!(run.err.lines().count(), 4_000);
    // A path is no deeper than elements may be.
    let deep = "field1/".repeat(100_000);
    folder.write(
        "consumers/desk.toml",
        format!("name = \"Desk\"\n[operations.moor]\nsends = [\"{}\"]\n", deep.trim_end_matches('/')),
    );
    let run = quick(&folder, "compare fields.wsdl bare.wsdl --consumers consumers");
    assert!(
        run.err.contains("the path has more than 500 steps") && run.err.len() < 2_000,
        "{}",
        run.err.len()
    );
    let setting = format!("message fields.wsdl moor {}=1", deep.trim_end_matches('/').get(..70_000).unwrap());
    quick(&folder, &setting).ends(2).complains("the path has more than 500 steps");
}

/// Of what consumers use, each difference of an element is told once, however many paths go that way.
#[test]
fn a_difference_on_the_way_of_many_paths_is_told_once() {
    let folder = Folder::empty();
    let berth = |more: &str| {
        port(&format!(
            "<xs:complexType name=\"Berth\"><xs:sequence><xs:element name=\"no\" type=\"xs:int\"/><xs:element name=\"side\" type=\"xs:string\"/>{more}</xs:sequence></xs:complexType><xs:element name=\"moor\"><xs:complexType><xs:sequence><xs:element name=\"berth\" type=\"t:Berth\"/><xs:element name=\"next\" type=\"t:Berth\"/></xs:sequence></xs:complexType></xs:element>"
        ))
    };
    folder.write("old.wsdl", berth(""));
    folder.write("new.wsdl", berth("<xs:element name=\"lit\" type=\"xs:boolean\"/>"));
    folder.write(
        "consumers/desk.toml",
        "name = \"Desk\"\n[operations.moor]\nsends = [\"berth/no\", \"berth/side\", \"next/no\"]\nreads = [\"berth/no\"]\n",
    );
    let run = quick(&folder, "compare old.wsdl new.wsdl --consumers consumers --format json").ends(1);
    let because = run.json()["consumers"][0]["because"].clone();
    let breaking = because.as_array().unwrap().iter().filter(|it| it["verdict"] == "breaks").count();
    assert_eq!(breaking, 1, "{because:#}");
}
