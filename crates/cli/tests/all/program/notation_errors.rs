//! What is wrong in a text of notation is said at its line and column, with what was expected there.

use crate::program::folder::Folder;

/// A line of a contract, and all that is said of it: the place, the words, what to do.
const WRONG: &[(&str, &[&str])] = &[
    ("type", &["2:7 the end of the line cannot stand here; expected the name of the type"]),
    ("type Berth", &["2:13 the end of the line cannot stand here; expected \"{\""]),
    ("type Berth {", &["1:39 this block has no end; close it with }"]),
    ("type Berth { quay string }", &["2:21 \"string\" cannot stand here; expected the end of the line"]),
    ("type Berth { quay: }", &["2:22 \"}\" cannot stand here; expected the name of a type"]),
    (
        "type Berth { quay: string[ }",
        &["2:28 \"[\" cannot stand here; expected a number of occurrences, such as [2..5], [2..] or [3]"],
    ),
    (
        "type Berth { quay: string[2.. }",
        &["2:28 \"[\" cannot stand here; expected a number of occurrences, such as [2..5], [2..] or [3]"],
    ),
    (
        "type Berth { quay: string[x] }",
        &["2:28 \"[\" cannot stand here; expected a number of occurrences, such as [2..5], [2..] or [3]"],
    ),
    ("type Berth { quay: string?? }", &["2:29 \"?\" cannot stand here; expected the end of the line"]),
    ("type Berth { @: string }", &["2:17 \":\" cannot stand here; expected the name of an attribute"]),
    ("type Berth { @quay string }", &["2:22 \"string\" cannot stand here; expected the end of the line"]),
    ("type Berth { choice }", &["2:23 \"}\" cannot stand here; expected \"{\""]),
    ("type Berth { choice { }", &["1:39 this block has no end; close it with }"]),
    (
        "type Berth { any from }",
        &[
            "2:25 \"}\" cannot stand here; expected other namespaces, this namespace, no namespace, or one in quotes",
        ],
    ),
    (
        "type Berth { any from nowhere }",
        &[
            "2:25 \"nowhere\" cannot stand here; expected other namespaces, this namespace, no namespace, or one in quotes",
        ],
    ),
    (
        "type Berth { any from this namespace strictly }",
        &["2:40 \"strictly\" cannot stand here; expected the end of the line"],
    ),
    ("type Berth { any attribut }", &["2:20 \"attribut\" cannot stand here; expected the end of the line"]),
    ("type Berth { element }", &["2:24 \"}\" cannot stand here; expected the name of what is used here"]),
    ("type Berth { group }", &["2:22 \"}\" cannot stand here; expected the name of what is used here"]),
    (
        "type Berth { xml <quay> }",
        &[
            "1:39 this block has no end; close it with }",
            "2:20 this XML has no end; close every element that is opened",
        ],
    ),
    (
        "type Berth { xml <quay></berth> }",
        &["2:26 this XML is not well-formed: </berth> stands where </quay> must"],
    ),
    ("type Berth { xml <p:quay/> }", &["2:21 this XML is not well-formed: the prefix \"p\" is not declared"]),
    ("type Berth = ", &["3:1 \"}\" cannot stand here; expected the name of a type"]),
    (
        "type Berth = string length",
        &["2:29 the end of the line cannot stand here; expected a range, such as 0..30, 0<.. or ..<30"],
    ),
    (
        "type Berth = int range",
        &["2:25 the end of the line cannot stand here; expected a range, such as 0..30, 0<.. or ..<30"],
    ),
    ("type Berth = int digits", &["2:26 the end of the line cannot stand here; expected a value"]),
    (
        "type Berth = int digits 3 decimal 2",
        &["2:29 \"decimal\" cannot stand here; expected the end of the line"],
    ),
    (
        "type Berth = string like",
        &["2:27 the end of the line cannot stand here; expected a pattern in quotes"],
    ),
    ("type Berth = string like north", &["2:28 \"north\" cannot stand here; expected a pattern in quotes"]),
    ("type Berth = string one-of", &["3:1 \"}\" cannot stand here; expected a value in quotes"]),
    ("type Berth = string one-of north", &["2:30 \"north\" cannot stand here; expected a value in quotes"]),
    (
        "type Berth = string one-of \"north\" means",
        &["2:43 the end of the line cannot stand here; expected documentation in quotes"],
    ),
    (
        "type Berth = list",
        &["2:20 the end of the line cannot stand here; expected \"of\" and the type of the items"],
    ),
    ("type Berth = list of", &["2:23 the end of the line cannot stand here; expected the name of a type"]),
    ("type Berth = either", &["2:22 the end of the line cannot stand here; expected the name of a type"]),
    ("type Berth = either int or", &["3:1 \"}\" cannot stand here; expected the name of a type"]),
    ("type Berth = (list of date", &["2:29 the end of the line cannot stand here; expected \")\""]),
    (
        "type Berth = restricting",
        &["2:27 the end of the line cannot stand here; expected the name of a type"],
    ),
    ("type Berth extends", &["2:21 the end of the line cannot stand here; expected the name of a type"]),
    ("type Berth restricts { }", &["2:24 \"{\" cannot stand here; expected the name of a type"]),
    ("type 9th = string", &["2:8 \"9\" cannot stand here; expected the name of the type"]),
    ("type Berth: string", &["2:13 \":\" cannot stand here; expected \"{\""]),
    ("type \"Berth\" = string", &["2:8 \"\"\" cannot stand here; expected the name of the type"]),
    ("type {urn:a}Berth = string", &["2:8 \"{\" cannot stand here; expected the name of the type"]),
    ("type v:Berth = string", &["2:9 \":\" cannot stand here; expected \"{\""]),
    ("element", &["2:10 the end of the line cannot stand here; expected the name of an element"]),
    ("element berth = string", &["2:17 \"=\" cannot stand here; expected the end of the line"]),
    ("element berth: v:Quay", &["2:18 the prefix \"v\" is not declared; add a line: prefix v = \"…\""]),
    ("element berth: string nillable?", &["2:33 \"?\" cannot stand here; expected the end of the line"]),
    (
        "element berth: string replaces",
        &["2:33 the end of the line cannot stand here; expected the name of a global element"],
    ),
    (
        "element berth: string default north",
        &["2:33 \"north\" cannot stand here; expected the value in quotes"],
    ),
    ("attribute", &["2:12 the end of the line cannot stand here; expected the name of an attribute"]),
    ("attributes", &["2:13 the end of the line cannot stand here; expected the name of the group"]),
    ("attributes Revision", &["2:22 the end of the line cannot stand here; expected \"{\""]),
    ("group", &["2:8 the end of the line cannot stand here; expected the name of the group"]),
    ("group Berth", &["2:14 the end of the line cannot stand here; expected \"{\""]),
    ("unique once of \"visit\"", &["2:25 the end of the line cannot stand here; expected \"by\""]),
    ("unique by \"@no\"", &["2:13 \"\"\" cannot stand here; expected \"of\""]),
    (
        "key-reference r of \"visit\" by \"@no\"",
        &["2:38 the end of the line cannot stand here; expected an element before its constraint"],
    ),
    ("about", &["2:8 the end of the line cannot stand here; expected documentation in quotes"]),
    (
        "about \"unfinished",
        &["1:39 this block has no end; close it with }", "2:9 this text has no end; close it with \""],
    ),
    ("about de", &["2:11 the end of the line cannot stand here; expected documentation in quotes"]),
    ("prefix", &["2:9 the end of the line cannot stand here; expected a prefix"]),
    ("prefix v", &["2:11 the end of the line cannot stand here; expected \"=\""]),
    ("prefix v = urn:a", &["2:14 \"urn\" cannot stand here; expected a namespace in quotes"]),
    ("prefix v \"urn:a\"", &["2:12 \"\"\" cannot stand here; expected \"=\""]),
    ("schema", &["2:9 the end of the line cannot stand here; expected \"{\""]),
    ("schema urn:a { }", &["2:10 \"urn\" cannot stand here; expected \"{\""]),
    ("schema \"urn:a\"", &["2:17 the end of the line cannot stand here; expected \"{\""]),
    ("elements sometimes", &["2:12 \"sometimes\" cannot stand here; expected qualified or unqualified"]),
    (
        "block everything",
        &[
            "2:3 \"block\" cannot stand here; expected about, prefix, type, element, attributes, group, schema, message, operation, port-type, binding or service",
        ],
    ),
    ("with", &["2:7 the end of the line cannot stand here; expected the name of an attribute"]),
    (
        "with version",
        &["2:15 the end of the line cannot stand here; expected the value of the attribute in quotes"],
    ),
    (
        "with version = \"2\"",
        &["2:16 \"=\" cannot stand here; expected the value of the attribute in quotes"],
    ),
    ("operation", &["2:12 the end of the line cannot stand here; expected the name of the operation"]),
    ("operation moor", &["2:17 the end of the line cannot stand here; expected \"{\""]),
    ("operation moor { input { berth: Berth }", &["1:39 this block has no end; close it with }"]),
    ("operation moor { input (p Berth) }", &["2:29 \"Berth\" cannot stand here; expected \")\""]),
    ("operation moor { input (p: Berth, }", &["2:37 \"}\" cannot stand here; expected the name of a part"]),
    ("operation moor { fault }", &["2:26 \"}\" cannot stand here; expected the name of the fault"]),
    ("operation moor { fault { } }", &["2:26 \"{\" cannot stand here; expected the name of the fault"]),
    ("operation moor { header }", &["2:27 \"}\" cannot stand here; expected the name of the part"]),
    ("operation moor { header pass }", &["2:32 \"}\" cannot stand here; expected \":\""]),
    ("operation moor { reply }", &["2:26 \"}\" cannot stand here; expected \"header\""]),
    ("operation moor { parameters }", &["2:31 \"}\" cannot stand here; expected the name of a part"]),
    ("message", &["2:10 the end of the line cannot stand here; expected the name of the message"]),
    ("message M", &["2:12 the end of the line cannot stand here; expected \"(\""]),
    ("message M (p: )", &["2:17 \")\" cannot stand here; expected the name of a type"]),
    ("port-type", &["2:12 the end of the line cannot stand here; expected the name of the port type"]),
    ("port-type P", &["2:14 the end of the line cannot stand here; expected \"{\""]),
    ("binding", &["2:10 the end of the line cannot stand here; expected the name of the binding"]),
    ("binding B =", &["2:14 the end of the line cannot stand here; expected soap 1.1, soap 1.2 or http"]),
    ("binding B = soap", &["2:19 the end of the line cannot stand here; expected 1.1 or 1.2"]),
    ("binding B = soap 1.3 document literal", &["2:20 \"1\" cannot stand here; expected 1.1 or 1.2"]),
    (
        "binding B = soap 1.1 documents literal",
        &["2:24 \"documents\" cannot stand here; expected the end of the line"],
    ),
    (
        "binding B = soap 1.1 rpc encoded by",
        &["2:38 the end of the line cannot stand here; expected the URI of an encoding in quotes"],
    ),
    ("binding B = http", &["2:19 the end of the line cannot stand here; expected GET or POST"]),
    (
        "binding B = soap 1.1 document literal { omit }",
        &["2:48 \"}\" cannot stand here; expected the name of an operation"],
    ),
    (
        "binding B = soap 1.1 document literal { operation }",
        &["2:53 \"}\" cannot stand here; expected the name of an operation"],
    ),
    (
        "binding B = soap 1.1 document literal { operation moor action }",
        &["2:65 \"}\" cannot stand here; expected the action in quotes"],
    ),
    (
        "binding B = soap 1.1 document literal { operation moor { input { body parts } } }",
        &["2:79 \"}\" cannot stand here; expected the names of the parts in quotes"],
    ),
    ("service", &["2:10 the end of the line cannot stand here; expected the name of the service"]),
    ("service S", &["2:12 the end of the line cannot stand here; expected \"{\""]),
    ("service S { port }", &["2:20 \"}\" cannot stand here; expected the name of the port"]),
    ("service S { port P }", &["2:22 \"}\" cannot stand here; expected \"=\""]),
    ("service S { port P = }", &["2:24 \"}\" cannot stand here; expected the name of a binding"]),
    ("service S { port P = B at }", &["2:29 \"}\" cannot stand here; expected the address in quotes"]),
    (
        "service S { port P = B at nowhere }",
        &["2:29 \"nowhere\" cannot stand here; expected the address in quotes"],
    ),
    (
        "service S { port P = B at soap 1.3 \"http://quay.saltmere.example/\" }",
        &["2:34 \"1\" cannot stand here; expected 1.1 or 1.2"],
    ),
    ("}", &["3:1 nothing can stand behind the contract; put it into the contract, before its last }"]),
    (
        "!",
        &[
            "2:3 \"!\" cannot stand here; expected about, prefix, type, element, attributes, group, schema, message, operation, port-type, binding or service",
        ],
    ),
    (
        "\"berth\"",
        &[
            "2:3 \"\"\" cannot stand here; expected about, prefix, type, element, attributes, group, schema, message, operation, port-type, binding or service",
        ],
    ),
    (
        ": string",
        &[
            "2:3 \":\" cannot stand here; expected about, prefix, type, element, attributes, group, schema, message, operation, port-type, binding or service",
        ],
    ),
    (
        "berth: string",
        &[
            "2:3 \"berth\" cannot stand here; expected about, prefix, type, element, attributes, group, schema, message, operation, port-type, binding or service",
        ],
    ),
];

/// What is said of a file, a line for each error.
fn told(folder: &Folder, words: &str, name: &str) -> Vec<String> {
    let run = folder.run(words).ends(2);
    assert_eq!(run.out, "");
    let mut told: Vec<String> = Vec::new();
    // What is quoted of the text stands behind a bar.
    for line in run.err.lines().filter(|line| !line.contains(" | ")) {
        match line.strip_prefix(&format!("charter: {name}:")) {
            Some(error) => told.push(error.replacen(": ", " ", 1)),
            None => {
                let last = told.last_mut().unwrap_or_else(|| panic!("{}", run.err));
                last.push_str("; ");
                last.push_str(line.trim());
            }
        }
    }
    told
}

#[test]
fn each_error_stands_at_its_place_with_what_was_expected() {
    let folder = Folder::empty();
    for (line, expected) in WRONG {
        folder.write("quays.charter", format!("contract Quays \"urn:saltmere:quays:1\" {{\n  {line}\n}}\n"));
        let told = told(&folder, "new --from quays.charter -o quays.wsdl", "quays.charter");
        assert_eq!(told, *expected, "{line}");
        assert!(!folder.path("quays.wsdl").exists(), "{line}");
    }
}

#[test]
fn one_error_does_not_hide_the_next() {
    let folder = Folder::empty();
    let lines: Vec<&str> = WRONG.iter().map(|(line, _)| *line).filter(|line| is_closed(line)).collect();
    let text: String =
        lines.iter().map(|line| format!("  {line}\n  type Quay{} = string\n", line.len())).collect();
    folder.write("quays.charter", format!("contract Quays \"urn:saltmere:quays:1\" {{\n{text}}}\n"));
    let told = told(&folder, "new --from quays.charter -o quays.wsdl", "quays.charter");
    // As many are told as there are lines, up to a bound, in the order of the text.
    let places: Vec<usize> =
        told.iter().map(|error| error.split(':').next().unwrap().parse().unwrap()).collect();
    assert!(places.is_sorted(), "{places:?}");
    assert!(told.len() >= 20.min(lines.len()), "{} of {}", told.len(), lines.len());
}

/// Whether a line opens nothing that it does not close.
fn is_closed(line: &str) -> bool {
    let count = |c: char| line.matches(c).count();
    count('{') == count('}') && count('(') == count(')') && count('"') % 2 == 0 && !line.contains('<')
}

/// A place is a line and a character of it, however the lines end; what is no UTF-8 is refused whole.
#[test]
fn places_are_counted_in_characters() {
    let folder = Folder::empty();
    let text = "contract Quays \"urn:saltmere:quays:1\" {\r\n  about \"Größe\" type\r\n  type Berth {\r\n    größe: string!\r\n  }\r\n}\r\n";
    let expected = [
        "2:17 \"type\" cannot stand here; expected the end of the line",
        "4:18 \"!\" cannot stand here; expected the end of the line",
    ];
    let bom = [b"\xEF\xBB\xBF".as_slice(), text.as_bytes()].concat();
    for bytes in [text.as_bytes().to_vec(), text.replace("\r\n", "\n").into_bytes(), bom] {
        folder.write("quays.charter", &bytes);
        assert_eq!(told(&folder, "new --from quays.charter", "quays.charter"), expected);
    }
    let utf16: Vec<u8> =
        [0xFF, 0xFE].into_iter().chain(text.encode_utf16().flat_map(u16::to_le_bytes)).collect();
    for bytes in [utf16, [text.as_bytes(), &[0xC3]].concat()] {
        folder.write("quays.charter", &bytes);
        folder
            .run("new --from quays.charter")
            .ends(2)
            .complains("quays.charter: the notation cannot be read: it is not UTF-8");
    }
}
