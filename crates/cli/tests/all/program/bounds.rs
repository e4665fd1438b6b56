//! Each bound of `docs/reliability.md`: just below it all is well; beyond it a plain message says so, and nothing is called safe.

use crate::program::folder::{Folder, contract};
use crate::program::hostile::{port, quick};

/// An element of these particles, which the operation takes and gives.
fn moor(content: &str) -> String {
    format!("<xs:element name=\"moor\"><xs:complexType>{content}</xs:complexType></xs:element>")
}

/// A first piece and others, each of which refers to the one before it.
fn chained(count: usize, first: &str, piece: impl Fn(usize, usize) -> String) -> String {
    first.to_owned() + &(1..count).map(|n| piece(n, n - 1)).collect::<String>()
}

/// Within a bound nothing is said; beyond it the check names it, and a comparison decides nothing.
#[track_caller]
fn bounded(within: &str, beyond: &str, words: &str) {
    let folder = Folder::empty();
    folder.write("within.wsdl", port(within));
    folder.write("beyond.wsdl", port(beyond));
    quick(&folder, "check within.wsdl").lacks("schema-size");
    quick(&folder, "compare within.wsdl within.wsdl").ends(0).says("keeps");
    quick(&folder, "check beyond.wsdl").ends(1).says(words).says("schema-size").says("a bound of this tool");
    let run = quick(&folder, "compare beyond.wsdl beyond.wsdl").ends(0);
    let run = run.lacks("keeps").says("bends  it was not decided");
    assert!(run.err.contains("compared as far as it could be read"), "{}", run.err);
    // What is not known is not called reached.
    quick(&folder, "check beyond.wsdl").says("not schema-valid");
}

#[test]
fn particles_of_groups_in_groups() {
    let first = "<xs:group name=\"g0\"><xs:sequence><xs:element name=\"a\" type=\"xs:int\"/></xs:sequence></xs:group>";
    let groups = |count| {
        chained(count, first, |n, m| {
            format!(
                "<xs:group name=\"g{n}\"><xs:sequence><xs:group ref=\"t:g{m}\"/><xs:group ref=\"t:g{m}\"/></xs:sequence></xs:group>"
            )
        })
    };
    let all = |count: usize| groups(count) + &moor(&format!("<xs:group ref=\"t:g{}\"/>", count - 1));
    bounded(&all(12), &all(20), "more than 100000 particles stand here");
}

#[test]
fn types_of_unions_in_unions() {
    let unions = |count: usize| {
        let all = chained(
            count,
            "<xs:simpleType name=\"T0\"><xs:restriction base=\"xs:int\"/></xs:simpleType>",
            |n, m| {
                format!(
                    "<xs:simpleType name=\"A{n}\"><xs:restriction base=\"t:T{m}\"><xs:pattern value=\"1.*\"/></xs:restriction></xs:simpleType><xs:simpleType name=\"T{n}\"><xs:union memberTypes=\"t:A{n} t:T{m}\"/></xs:simpleType>"
                )
            },
        );
        format!("{all}<xs:element name=\"moor\" type=\"t:T{}\"/>", count - 1)
    };
    bounded(&unions(8), &unions(40), "this union leads to more than 10000 types");
}

#[test]
fn attributes_of_groups_in_groups() {
    let first =
        "<xs:attributeGroup name=\"g0\"><xs:attribute name=\"a\" type=\"xs:int\"/></xs:attributeGroup>";
    let groups = |count: usize| {
        let all = chained(count, first, |n, m| {
            format!(
                "<xs:attributeGroup name=\"g{n}\"><xs:attributeGroup ref=\"t:g{m}\"/><xs:attributeGroup ref=\"t:g{m}\"/></xs:attributeGroup>"
            )
        });
        all + &moor(&format!("<xs:attributeGroup ref=\"t:g{}\"/>", count - 1))
    };
    bounded(&groups(40), &groups(3_000), "too many groups of attributes stand in each other");
}

#[test]
fn elements_that_stand_for_each_other() {
    let chain = |count| {
        let all = chained(count, "<xs:element name=\"s0\" type=\"xs:int\"/>", |n, m| {
            format!("<xs:element name=\"s{n}\" type=\"xs:int\" substitutionGroup=\"t:s{m}\"/>")
        });
        all + &moor("<xs:sequence><xs:element ref=\"t:s0\"/></xs:sequence>")
    };
    bounded(&chain(400), &chain(6_000), "too many elements are each a substitute of the next");
}

#[test]
fn content_models_with_too_many_ways() {
    let counted = |last: usize| {
        let all: String = (2..22)
            .map(|count| {
                let most = if count == 21 { last } else { count };
                format!("<xs:sequence minOccurs=\"0\" maxOccurs=\"{most}\"><xs:element name=\"a\" type=\"xs:int\" minOccurs=\"0\" maxOccurs=\"{}\"/></xs:sequence>", count + 1)
            })
            .collect();
        port(&moor(&format!("<xs:sequence>{all}</xs:sequence>")))
    };
    let folder = Folder::empty();
    folder.write("old.wsdl", counted(21));
    folder.write("new.wsdl", counted(20));
    let run = quick(&folder, "compare old.wsdl new.wsdl").ends(0);
    run.says("bends  it was not decided; see what stood in the way")
        .says("depends on what was not decided: the content models have too many ways to be compared");
    quick(&folder, "compare old.wsdl old.wsdl").ends(0).says("keeps");
    // A message is still made, and judged by its elements.
    let message = quick(&folder, "message old.wsdl moor").ends(0).out;
    folder.write("message.xml", &message);
    quick(&folder, "match old.wsdl message.xml").ends(0);
    folder.write("message.xml", message.replacen("<a>12</a>", "<a>twelve</a>", 1));
    quick(&folder, "match old.wsdl message.xml").ends(1).says("twelve");
}

#[test]
fn hostile_messages_of_wide_content_are_fewer() {
    let folder = Folder::empty();
    let fields = |count: usize| {
        let all: String = (0..count)
            .map(|n| format!("<xs:element name=\"f{n}\" type=\"xs:int\" minOccurs=\"0\"/>"))
            .collect();
        port(&moor(&format!("<xs:sequence>{all}</xs:sequence>")))
    };
    folder.write("few.wsdl", fields(20));
    folder.write("many.wsdl", fields(4_000));
    let count = |file: &str| {
        let run = quick(&folder, &format!("message {file} moor --hostile --format json")).ends(0);
        assert!(run.out.len() < 40 << 20, "{}", run.out.len());
        run.json()["hostile"].as_array().unwrap().len()
    };
    let (few, many) = (count("few.wsdl"), count("many.wsdl"));
    assert!(few >= 10, "{few}");
    assert!((10..4_000).contains(&many), "{many}");
}

#[test]
fn settings_records_and_baselines_are_small() {
    let folder = Folder::with_demo();
    folder.write("tides.wsdl", contract(&[]));
    let large = format!("# {}\n", "x".repeat(17 << 20));
    folder.write("large.toml", &large);
    quick(&folder, "check tides.wsdl --baseline large.toml").ends(2).complains("larger than 16 MB");
    folder.write("consumers/large.toml", &large);
    let run = quick(&folder, "compare tides.wsdl tides.wsdl --consumers consumers").ends(2);
    run.complains("larger than 16 MB");
    folder.write("charter.toml", &large);
    quick(&folder, "check tides.wsdl").ends(2).complains("larger than 16 MB");
}

#[test]
fn files_are_as_large_as_they_may_be() {
    let folder = Folder::empty();
    let padding = format!("<!--{}-->", " ".repeat(3 << 20));
    folder.write("tides.wsdl", contract(&[("  <wsdl:types>", &format!("{padding}  <wsdl:types>"))]));
    quick(&folder, "check tides.wsdl").ends(0);
    for words in [
        "check tides.wsdl",
        "show tides.wsdl",
        "message tides.wsdl nextTide",
        "compare tides.wsdl tides.wsdl",
    ] {
        let run = quick(&folder, &format!("{words} --size-limit 2")).ends(2);
        assert!(run.err.contains("larger than 2 MB"), "{words}: {}", run.err);
    }
    // What is imported has the same bound.
    folder.write(
        "small.wsdl",
        "<definitions xmlns=\"http://schemas.xmlsoap.org/wsdl/\"><import namespace=\"urn:saltmere:tides:1\" location=\"tides.wsdl\"/></definitions>",
    );
    quick(&folder, "check small.wsdl --size-limit 2")
        .ends(1)
        .says("import-not-found")
        .says("larger than 2 MB");
}

#[test]
fn depth_of_elements_of_notation_and_of_sql() {
    let folder = Folder::empty();
    let nested = |depth: usize| {
        let inner = chained(depth, "<xs:element name=\"e\" type=\"xs:int\"/>", |_, _| String::new());
        let open = "<xs:sequence>".repeat(depth);
        port(&moor(&format!("{open}{inner}{}", "</xs:sequence>".repeat(depth))))
    };
    folder.write("within.wsdl", nested(400));
    quick(&folder, "check within.wsdl").ends(0).lacks("xml-depth");
    folder.write("beyond.wsdl", nested(600));
    quick(&folder, "check beyond.wsdl").ends(1).says("xml-depth");
    let blocks = |depth: usize| {
        format!(
            "contract Quay \"urn:saltmere:quay\" {{\n  type Deep {{\n{}    a: int\n{}  }}\n}}\n",
            "    a {\n".repeat(depth),
            "    }\n".repeat(depth)
        )
    };
    folder.write("beyond.charter", blocks(400));
    let run = quick(&folder, "new --from beyond.charter").ends(2);
    run.complains("beyond.charter:");
    let condition =
        |words: usize| format!("CREATE TABLE quay (no INT CHECK (no = 0{}));", " OR no = 1".repeat(words));
    folder.write("within.sql", condition(100));
    quick(&folder, "derive within.sql").ends(0).says("type Quay {\n  no: int?");
    folder.write("beyond.sql", condition(3_000));
    quick(&folder, "derive beyond.sql").ends(2).complains("beyond.sql");
}
