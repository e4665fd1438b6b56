//! Loading: what is read, what is refused, and where the trouble is said to be.

use charter_source::{
    FileId, Files, ImportKind, Limits, Location, Overlay, Position, ReadError, Text, elements, nearest, ns,
};

const XSD: &str = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'";

fn load(texts: &[(&str, &str)]) -> Files {
    Files::load(&Overlay::of(texts), &Location::from_argument(texts[0].0), Limits::default()).unwrap()
}

/// The rule and place of the only fault of a text.
#[track_caller]
fn fault(text: &str) -> (String, usize, usize) {
    let files = load(&[("x.xml", text)]);
    assert_eq!(files.faults().len(), 1, "{:?}", files.faults());
    let fault = &files.faults()[0];
    assert!(fault.help.is_some(), "{fault:?}");
    let Position { line, column } = files.first().text().position(fault.place.span.start);
    (format!("{}: {}", fault.rule, fault.message), line, column)
}

#[test]
fn what_is_not_well_formed_is_placed_and_said_in_plain_words() {
    for (text, words, line, column) in [
        ("<a>\n<b></a>", "xml-well-formed: </a> stands where </b> must", 2, 4),
        ("<a b='1' b='2'/>", "xml-well-formed: the attribute \"b\" stands twice on this element", 1, 10),
        ("<a>\n  <b", "xml-well-formed: the file ends before all its elements are closed", 2, 5),
        ("<a/><b/>", "xml-well-formed: ", 1, 5),
        ("<a>&</a>", "xml-well-formed: ", 1, 4),
        ("<p:a/>", "xml-prefix: the prefix \"p\" is not declared", 1, 2),
        ("<a p:b='1'/>", "xml-prefix: the prefix \"p\" is not declared", 1, 4),
        ("<a>&tide;</a>", "xml-entity: the entity \"tide\" is not declared", 1, 4),
        ("<!-- only a comment -->", "xml-well-formed: there is no root element", 1, 24),
        ("plain words", "xml-well-formed: ", 1, 1),
        ("<a>\u{1}</a>", "xml-well-formed: ", 1, 4),
    ] {
        let (message, at_line, at_column) = fault(text);
        assert!(message.starts_with(words), "{text}: {message}");
        assert_eq!((at_line, at_column), (line, column), "{text}: {message}");
    }
}

#[test]
fn a_file_without_a_tree_is_still_a_file() {
    let files = load(&[("x.xml", "<a>")]);
    assert!(files.first().root().is_none());
    assert!(!files.first().has_root("", "a"));
    assert_eq!(files.first().text().content(), "<a>");
}

#[test]
fn internal_entities_are_expanded() {
    let files = load(&[("x.xml", "<!DOCTYPE a [<!ENTITY town 'Saltmere'>]>\n<a b='&town;'>&town; port</a>")]);
    let root = files.first().root().unwrap();
    assert_eq!(root.attribute("b"), Some("Saltmere"));
    assert_eq!(charter_source::text_of(root), "Saltmere port");
}

#[test]
fn imports_of_all_kinds_are_followed_from_where_they_stand() {
    let wsdl = format!(
        "<w:definitions xmlns:w='{}'><w:import location='parts/desk.wsdl' namespace='urn:d'/><w:types>\
         {XSD}><xs:import namespace='urn:v' schemaLocation='types/vessel.xsd'/></xs:schema></w:types></w:definitions>",
        ns::WSDL
    );
    let desk = format!("<w:definitions xmlns:w='{}'/>", ns::WSDL);
    let vessel = format!(
        "{XSD}><xs:include schemaLocation='../common.xsd'/><xs:redefine schemaLocation='old.xsd'/></xs:schema>"
    );
    let plain = format!("{XSD}/>");
    let files = load(&[
        ("port/main.wsdl", &wsdl),
        ("port/parts/desk.wsdl", &desk),
        ("port/types/vessel.xsd", &vessel),
        ("port/common.xsd", &plain),
        ("port/types/old.xsd", &plain),
    ]);
    let names: Vec<String> = files.iter().map(|file| file.location.to_string()).collect();
    assert_eq!(
        names,
        [
            "port/main.wsdl",
            "port/parts/desk.wsdl",
            "port/types/vessel.xsd",
            "port/common.xsd",
            "port/types/old.xsd"
        ]
    );
    let kinds: Vec<ImportKind> = files.imports().iter().map(|import| import.kind).collect();
    use ImportKind::*;
    assert_eq!(kinds, [Contract, Schema, Include, Redefine]);
    assert!(files.faults().is_empty());
}

#[test]
fn a_schema_inside_other_xml_imports_nothing() {
    let files =
        load(&[("x.xml", &format!("<box>{XSD}><xs:import schemaLocation='gone.xsd'/></xs:schema></box>"))]);
    assert!(files.imports().is_empty() && files.faults().is_empty());
}

#[test]
fn what_lies_on_the_network_is_not_fetched() {
    let text = format!(
        "{XSD}><xs:import namespace='urn:v' schemaLocation='https://saltmere.example/v.xsd'/>\
         <xs:import namespace='{}' schemaLocation='https://saltmere.example/xml.xsd'/></xs:schema>",
        ns::XML
    );
    let files = load(&[("x.xsd", &text)]);
    let rules: Vec<&str> = files.faults().iter().map(|fault| fault.rule).collect();
    // The attributes of the `xml:` prefix are known anyway.
    assert_eq!(rules, ["import-remote"]);
}

#[test]
fn limits_are_kept() {
    let tight = Limits { bytes: 40, depth: 3 };
    let store = Overlay::of(&[
        ("deep.xml", "<a><b><c><d/></c></b></a>"),
        ("wide.xml", "<a><b/><b/><c><d/></c></a>"),
        ("large.xml", "<a>This port is larger than forty bytes.</a>"),
    ]);
    let load = |name: &str| Files::load(&store, &Location::from_argument(name), tight);
    assert_eq!(load("deep.xml").unwrap().faults()[0].rule, "xml-depth");
    assert!(load("wide.xml").unwrap().faults().is_empty());
    assert!(matches!(load("large.xml"), Err(ReadError::TooLarge { limit: 40 })));
    assert!(matches!(load("gone.xml"), Err(ReadError::Missing)));
}

#[test]
fn tokens_of_a_value_keep_their_places() {
    let text = "<a list='\n  p:one\t two &#112;:three' plain=' p:four '/>";
    let files = load(&[("x.xml", text)]);
    let root = files.first().root().unwrap();
    let tokens = |name: &str| -> Vec<(String, String)> {
        let attribute = root.attribute_node(name).unwrap();
        charter_source::qname_tokens(FileId(0), root, &attribute)
            .map(|(token, place)| (token.to_owned(), files.slice(place).to_owned()))
            .collect()
    };
    assert_eq!(tokens("plain"), [("p:four".to_owned(), "four".to_owned())]);
    // One of them is written with a character reference, so none is where it seems to be.
    let list = tokens("list");
    assert_eq!(list.iter().map(|(token, _)| token.as_str()).collect::<Vec<_>>(), ["p:one", "two", "p:three"]);
    assert!(list.iter().all(|(_, slice)| slice.contains("&#112;")));
}

#[test]
fn children_that_are_no_elements_are_passed_over() {
    let files = load(&[("x.xml", "<a>text<!-- note --><b/><?pilot aboard?><c/></a>")]);
    let names: Vec<&str> =
        elements(files.first().root().unwrap()).map(|node| node.tag_name().name()).collect();
    assert_eq!(names, ["b", "c"]);
}

#[test]
fn lines_of_every_length_have_positions() {
    let text = Text::from("ä\n\n<b>ö</b>\r\nlast");
    let at = |needle: &str| {
        let Position { line, column } = text.position(text.content().find(needle).unwrap() as u32);
        (line, column)
    };
    assert_eq!((at("ä"), at("<b>"), at("ö"), at("last")), ((1, 1), (3, 1), (3, 4), (4, 1)));
    assert_eq!(text.line_count(), 4);
    assert_eq!(text.line_end(), "\n");
}

#[test]
fn a_slip_is_near_and_another_word_is_not() {
    let names = ["requestPilot", "amendBoarding", "cancelBoarding", "listBoardings"];
    for (slip, meant) in [
        ("requstPilot", Some("requestPilot")),
        ("RequestPilot", Some("requestPilot")),
        ("cancelBording", Some("cancelBoarding")),
        ("listBoarding", Some("listBoardings")),
        ("settleDues", None),
        ("", None),
    ] {
        assert_eq!(nearest(slip, names), meant, "{slip}");
    }
}
