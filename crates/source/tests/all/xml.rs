//! The reader of XML against what the standard says, and against another parser on texts that were changed at random.

use std::fmt::Write as _;

use charter_source::xml::{Bounds, Document, Problem};

fn problem(text: &str) -> Problem {
    match Document::parse(text, Bounds::default()) {
        Ok(_) => panic!("taken: {text}"),
        Err(error) => error.problem,
    }
}

/// All that a tree of one of the parsers says, in one text.
macro_rules! told {
    ($document:expr) => {{
        let mut all = String::new();
        for node in $document.descendants().skip(1) {
            write!(all, "{} ", node.ancestors().count()).unwrap();
            if node.is_element() {
                let name = node.tag_name();
                write!(all, "<{}|{}>{:?}", name.namespace().unwrap_or(""), name.name(), node.range())
                    .unwrap();
                for it in node.attributes() {
                    let (space, name) = (it.namespace().unwrap_or(""), it.name());
                    write!(all, " {space}|{name}={:?}{:?}", it.value(), it.range()).unwrap();
                    write!(all, "{:?}{:?}", it.range_qname(), it.range_value()).unwrap();
                }
                let declared =
                    node.namespaces().map(|it| (it.name().unwrap_or("").to_owned(), it.uri().to_owned()));
                let mut declared: Vec<_> =
                    declared.filter(|(prefix, uri)| !prefix.is_empty() || !uri.is_empty()).collect();
                declared.sort();
                write!(all, "{declared:?}").unwrap();
            } else if node.is_comment() {
                write!(all, "comment {:?}{:?}", node.text(), node.range()).unwrap();
            } else if node.is_pi() {
                write!(all, "instruction {:?}", node.range()).unwrap();
            } else {
                write!(all, "{:?}", node.text()).unwrap();
            }
            writeln!(all).unwrap();
        }
        all
    }};
}

fn ours(text: &str) -> Result<String, Problem> {
    let document = Document::parse(text, Bounds::default()).map_err(|error| error.problem)?;
    Ok(told!(document))
}

fn theirs(text: &str) -> Option<String> {
    let options = roxmltree::ParsingOptions { allow_dtd: true, ..Default::default() };
    let document = roxmltree::Document::parse_with_options(text, options).ok()?;
    Some(told!(document))
}

/// What this reader refuses by the letter of the standard, and the other one lets pass.
fn is_stricter(problem: &Problem) -> bool {
    match problem {
        // In declarations, references and names of instructions.
        Problem::Expected(_) | Problem::Name | Problem::LoneAmpersand | Problem::NoCharacter(_) => true,
        Problem::LateDeclaration | Problem::LessThan | Problem::Doctype => true,
        Problem::ReservedNamespace(words) => *words == "a prefix cannot mean no namespace",
        _ => false,
    }
}

const PIECES: [&str; 44] = [
    "<",
    ">",
    "&",
    ";",
    "\"",
    "'",
    "/",
    "=",
    " ",
    "\r",
    "\r\n",
    "\t",
    "<!--",
    "-->",
    "--",
    "<![CDATA[",
    "]]>",
    "<?pi ",
    "?>",
    "&amp;",
    "&#10;",
    "&#x26;",
    "&#0;",
    "&lt;",
    "xmlns=\"\"",
    "xmlns:a=\"urn:a\" ",
    "a:b=\"1\" ",
    "x=\"1\" ",
    "</a>",
    "<a>",
    "<b/>",
    "é",
    "\u{FFFE}",
    "\u{1}",
    ":",
    "-",
    "1",
    "<a",
    "</",
    "&e;",
    "xml:lang='en'",
    "<!",
    "]",
    "[",
];

fn boundary(text: &str, mut at: usize) -> usize {
    while !text.is_char_boundary(at) {
        at -= 1;
    }
    at
}

/// A piece of a text, changed at random in a few places.
fn changed(whole: &str, random: &mut fastrand::Rng) -> String {
    let start = if random.bool() { 0 } else { boundary(whole, random.usize(..whole.len())) };
    let start = whole[..start].rfind('<').unwrap_or(0);
    let end = boundary(whole, (start + random.usize(10..1500)).min(whole.len()));
    let mut text = whole[start..end].to_owned();
    if random.u8(..3) == 0 {
        text = format!("<r xmlns:xs='u' xmlns:wsdl='w'>{text}</r>");
    }
    if random.u8(..6) == 0 {
        let entities = "<!ENTITY e 'x<b>&amp;</b>y'><!ENTITY f '&#60;c/>&e;'>";
        text = format!("<!DOCTYPE r [{entities}]>{text}");
    }
    for _ in 0..random.usize(..4) {
        let at = boundary(&text, random.usize(..=text.len()));
        let to = boundary(&text, (at + random.usize(..12)).min(text.len())).max(at);
        match random.u8(..3) {
            0 => text.insert_str(at, PIECES[random.usize(..PIECES.len())]),
            1 => text.replace_range(at..to, ""),
            _ => {
                let piece = text[at..to].to_owned();
                let other = boundary(&text, random.usize(..=text.len()));
                text.insert_str(other, &piece);
            }
        }
    }
    text
}

#[test]
fn texts_that_were_changed_at_random_are_read_as_by_another_parser() {
    let demo = concat!(env!("CARGO_MANIFEST_DIR"), "/../cli/demo/");
    let read = |name: &str| std::fs::read_to_string(format!("{demo}{name}")).unwrap();
    let seeds =
        ["v1/pilotage.wsdl", "v1/vessel.xsd", "office/harbour.wsdl", "sent/declare-cargo.xml"].map(read);
    let mut random = fastrand::Rng::with_seed(19);
    let (mut taken, mut refused) = (0, 0);
    for _ in 0..30_000 {
        let text = changed(&seeds[random.usize(..seeds.len())], &mut random);
        match (ours(&text), theirs(&text)) {
            (Ok(ours), theirs) => {
                assert_eq!(Some(ours), theirs, "{text}");
                taken += 1;
            }
            (Err(problem), None) => {
                refused += 1;
                // What is wrong stands in the text.
                let error = Document::parse(&text, Bounds::default()).unwrap_err();
                assert!(error.at <= text.len() && text.is_char_boundary(error.at), "{problem} {text}");
            }
            (Err(problem), Some(_)) => assert!(is_stricter(&problem), "{problem} {text}"),
        }
    }
    assert!(taken > 500 && refused > 10_000, "{taken} {refused}");
}

#[test]
fn what_is_not_well_formed_is_told_where_it_is() {
    let at = |text: &str| {
        Document::parse(text, Bounds::default()).map(drop).map_err(|it| (it.problem.to_string(), it.at))
    };
    for (text, words, place) in [
        ("", "there is no root element", 0),
        ("<a>", "the file ends before all its elements are closed", 3),
        ("<a><b></a>", "</a> stands where </b> must", 6),
        ("<a/></b>", "</b> closes nothing", 4),
        ("<a/><b/>", "only one element may stand outside of all others, and no text", 4),
        ("x<a/>", "this is no XML: XML begins with \"<\"", 0),
        ("<a b='1'c='2'/>", "a space, \">\" or \"/>\" must stand here", 8),
        ("<a b='<'/>", "\"<\" may not stand in the value of an attribute", 6),
        ("<a b='1' b='2'/>", "the attribute \"b\" stands twice on this element", 9),
        (
            "<a xmlns:p='u' xmlns:q='u' p:b='1' q:b='2'/>",
            "the attribute \"b\" stands twice on this element",
            35,
        ),
        ("<a xmlns:p='u' xmlns:p='v'/>", "the prefix \"p\" is declared twice on this element", 15),
        ("<p:a/>", "the prefix \"p\" is not declared", 1),
        ("<a p:b=''/>", "the prefix \"p\" is not declared", 3),
        ("<a xmlns:p=''/>", "a prefix cannot mean no namespace", 3),
        ("<a xmlns:xml='u'/>", "the prefix \"xml\" means one namespace only", 3),
        ("<a xmlns:xmlns='u'/>", "the prefix \"xmlns\" may not be declared", 3),
        ("<xmlns:a/>", "no element and no attribute may have the prefix \"xmlns\"", 1),
        ("<a>&b;</a>", "the entity \"b\" is not declared", 3),
        ("<a>&b</a>", "an ampersand that begins no entity reference", 3),
        ("<a>&#xD800;</a>", "&#xD800; is no character of XML", 3),
        ("<a>&#99999999999;</a>", "&#99999999999; is no character of XML", 3),
        ("<a>]]></a>", "\"]]>\" may not stand in text", 3),
        ("<a><!-- -- --></a>", "a comment may not hold \"--\"", 8),
        ("<a>\u{b}</a>", "the character U+000B may not stand in XML", 3),
        ("<a>\u{ffff}</a>", "the character U+FFFF may not stand in XML", 3),
        ("<a><?xml version='1.0'?></a>", "an XML declaration may only stand at the very beginning", 3),
        (
            "<a><!DOCTYPE a></a>",
            "a document type declaration may only stand once, before the root element",
            3,
        ),
        ("<a><!oops></a>", "this is no markup that XML knows", 3),
        ("<1/>", "a name must stand here", 1),
        ("<a:b:c/>", "a space, \">\" or \"/>\" must stand here", 4),
        ("<!DOCTYPE a SYSTEM 'a.dtd'><a>&b;</a>", "the entity \"b\" lies outside this file", 30),
        (
            "<!DOCTYPE a [<!ENTITY b SYSTEM 'b.txt'>]><a>&b;</a>",
            "the entity \"b\" lies outside this file",
            44,
        ),
        ("<!DOCTYPE a [<!ENTITY b '<c>'>]><a>&b;</a>", "the entity \"b\" does not hold whole elements", 35),
        ("<!DOCTYPE a [<!ENTITY b '</a>'>]><a>&b;</a>", "the entity \"b\" does not hold whole elements", 36),
        (
            "<!DOCTYPE a [<!ENTITY b '&c;'><!ENTITY c '&b;'>]><a>&b;</a>",
            "the entity \"b\" refers to itself",
            52,
        ),
        ("<!DOCTYPE a [<!ENTITY b '&b;'>]><a x='&b;'/>", "the entity \"b\" refers to itself", 25),
        ("<!DOCTYPE a [<!ENTITY % p '<!ENTITY q \"1\">%p;'>]><a/>", "text without \"%\" must stand here", 42),
    ] {
        assert_eq!(at(text), Err((words.to_owned(), place)), "{text}");
    }
}

#[test]
fn parameter_entities_declare_what_their_text_says() {
    let text =
        "<!DOCTYPE a [<!ENTITY % p '<!ENTITY q \"1&#38;#38;#60;\">'> %p; <!ENTITY q 'late'>]><a>&q;</a>";
    let document = Document::parse(text, Bounds::default()).unwrap();
    assert_eq!(document.root_element().text(), Some("1<"));
    // What lies outside is not read, and may declare anything.
    let outside = "<!DOCTYPE a [<!ENTITY % p SYSTEM 'p.ent'> %p;]><a>&q;</a>";
    assert_eq!(problem(outside), Problem::ExternalEntity("q".into()));
    assert!(
        Document::parse("<!DOCTYPE a [<!ENTITY % p SYSTEM 'p.ent'> %p;]><a/>", Bounds::default()).is_ok()
    );
}

#[test]
fn what_entities_hold_stands_where_they_are_declared() {
    let text = "<!DOCTYPE a [<!ENTITY e 'x<b c=\"1\"/>y'><!ENTITY f '&#60;d/>'>]><a>[&e;&f;]</a>";
    let document = Document::parse(text, Bounds::default()).unwrap();
    let elements: Vec<_> = document.descendants().filter(|node| node.is_element()).collect();
    assert_eq!(&text[elements[1].range()], "<b c=\"1\"/>");
    assert_eq!(&text[elements[1].attribute_node("c").unwrap().range_value()], "1");
    assert_eq!(&text[elements[2].range()], "&#60;d/>");
    let texts: Vec<_> =
        document.descendants().filter(|node| node.is_text()).map(|node| node.text().unwrap()).collect();
    assert_eq!(texts, ["[x", "y", "]"]);
}

#[test]
fn entities_cost_no_more_than_the_text_is_worth() {
    let bomb = |levels: usize, times: usize, seed: &str| {
        let mut text = format!("<!DOCTYPE a [<!ENTITY e0 '{seed}'>");
        for level in 1..levels {
            let body = format!("&e{};", level - 1).repeat(times);
            write!(text, "<!ENTITY e{level} '{body}'>").unwrap();
        }
        format!("{text}]><a>&e{};</a>", levels - 1)
    };
    // In depth, in breadth, and by entities that hold nothing.
    for text in [bomb(30, 2, "x"), bomb(12, 10, "lol"), bomb(3, 2_000, "x"), bomb(20, 4, "")] {
        assert!(matches!(problem(&text), Problem::EntityBudget(_)), "{}", text.len());
        let attribute = text.replace("<a>&", "<a b='&").replace(";</a>", ";'/>");
        assert!(matches!(problem(&attribute), Problem::EntityBudget(_)), "{}", text.len());
    }
    let parameters =
        "<!DOCTYPE a [<!ENTITY % p '<!ENTITY q \"\">'>".to_owned() + &"%p;".repeat(200_000) + "]><a/>";
    assert!(matches!(problem(&parameters), Problem::EntityBudget(_)));
    assert!(Document::parse(&bomb(4, 8, "text"), Bounds::default()).is_ok());
}

#[test]
fn a_soap_message_has_no_entities() {
    let envelope = |prolog: &str, body: &str| {
        format!(
            "{prolog}<e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body>{body}</e:Body></e:Envelope>"
        )
    };
    let entities = "<!DOCTYPE e [<!ENTITY x 'text'>]>";
    assert_eq!(problem(&envelope(entities, "&x;")), Problem::Doctype);
    assert!(Document::parse(&envelope(entities, "&lt;"), Bounds::default()).is_ok());
}

#[test]
fn depth_is_bounded_and_so_are_names() {
    let nested = |depth: usize| "<a>".repeat(depth) + &"</a>".repeat(depth);
    assert!(Document::parse(&nested(500), Bounds::default()).is_ok());
    assert_eq!(problem(&nested(501)), Problem::TooDeep(500));
    let name = "n".repeat(65_536);
    assert_eq!(problem(&format!("<{name}/>")), Problem::LongName);
    assert!(Document::parse(&format!("<{}/>", &name[1..]), Bounds::default()).is_ok());
}

#[test]
fn attributes_and_prefixes_are_found_by_expanded_names() {
    let text =
        "<a xmlns='u' xmlns:p='v' p:name='foreign' name='ours' xml:lang='en'><p:b xmlns=''><c/></p:b></a>";
    let document = Document::parse(text, Bounds::default()).unwrap();
    let root = document.root_element();
    assert_eq!(root.attribute("name"), Some("ours"));
    assert_eq!(root.attribute(("", "name")), Some("ours"));
    assert_eq!(root.attribute(("v", "name")), Some("foreign"));
    assert_eq!(root.attribute("lang"), None);
    assert_eq!(root.attribute(("http://www.w3.org/XML/1998/namespace", "lang")), Some("en"));
    let inner = root.first_element_child().unwrap();
    let leaf = inner.first_element_child().unwrap();
    assert!(inner.has_tag_name(("v", "b")) && !inner.has_tag_name("b"));
    assert!(leaf.has_tag_name("c") && leaf.default_namespace().is_none());
    assert_eq!(leaf.lookup_namespace_uri(Some("p")), Some("v"));
    assert_eq!(leaf.lookup_namespace_uri(Some("q")), None);
    let only: &str = "<a p:name='x' xmlns:p='v'/>";
    assert_eq!(Document::parse(only, Bounds::default()).unwrap().root_element().attribute("name"), None);
}

#[test]
fn many_prefixes_and_attributes_are_found_too() {
    let mut text = "<a".to_owned();
    for number in 0..3_000 {
        write!(text, " xmlns:p{number}='u{number}' p{number}:x='{number}' y{number}=''").unwrap();
    }
    text.push_str("><p2999:b p1:z=''/></a>");
    let document = Document::parse(&text, Bounds::default()).unwrap();
    let root = document.root_element();
    assert_eq!(root.attributes().len(), 6_000);
    assert_eq!(root.attribute(("u2999", "x")), Some("2999"));
    assert_eq!(root.lookup_namespace_uri(Some("p1234")), Some("u1234"));
    assert!(root.first_element_child().unwrap().has_tag_name(("u2999", "b")));
    assert_eq!(problem(&text.replace("y2999=", "y0=")), Problem::AttributeTwice("y0".into()));
    assert_eq!(problem(&text.replace("xmlns:p2999=", "xmlns:p7=")), Problem::PrefixTwice("p7".into()));
}

#[test]
fn values_and_texts_are_read_as_the_standard_says() {
    let text = "<a b=' x\ty\r\nz&#10;&#9;&lt; '>1\r2\r\n3<![CDATA[<\r\n]]>&amp;<!-- c -->4</a>";
    let document = Document::parse(text, Bounds::default()).unwrap();
    let root = document.root_element();
    assert_eq!(root.attribute("b"), Some(" x y z\n\t< "));
    assert_eq!(root.text(), Some("1\n2\n3<\n&"));
    let comment = root.children().nth(1).unwrap();
    assert_eq!((comment.text(), comment.tail()), (Some(" c "), Some("4")));
}
