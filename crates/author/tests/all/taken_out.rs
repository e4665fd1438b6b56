//! What an edit takes out of a file: the lines that go, and what stays as it was around them.

use charter_author::{EditFailure, Editing, add, remove, set};
use charter_contract::Contract;
use charter_notation::Convention;
use charter_source::{Limits, Location, Overlay};

/// The content of a schema after an edit of it; what stands around it must not change.
#[track_caller]
fn after(
    content: &str,
    act: impl Fn(Editing<'_>) -> Result<charter_author::Change, EditFailure>,
) -> Result<String, EditFailure> {
    let head = "<x:schema xmlns:x=\"http://www.w3.org/2001/XMLSchema\" xmlns=\"urn:tides\" targetNamespace=\"urn:tides\">";
    let text = format!("{head}{content}</x:schema>");
    let store = Overlay::of(&[("tides.xsd", text.as_str())]);
    let contract = Contract::load(&store, &Location::from_argument("tides.xsd"), Limits::default()).unwrap();
    assert!(contract.faults().is_empty(), "{:?}", contract.faults());
    let convention = Convention::default();
    let change = act(Editing::of(&contract, &store, &convention))?;
    let after = String::from_utf8(change.files[0].after.bytes().into_owned()).unwrap();
    let inner = after.strip_prefix(head).and_then(|rest| rest.strip_suffix("</x:schema>"));
    Ok(inner.unwrap_or_else(|| panic!("what stands around it: {after}")).to_owned())
}

/// Removes a component.
#[track_caller]
fn without(content: &str, path: &str) -> String {
    after(content, |editing| remove(editing, editing.contract.find(path).unwrap(), false)).unwrap()
}

/// A type with a field on each line, as lines stand in a file.
fn tide(lines: &[&str]) -> String {
    format!(
        "\n  <x:complexType name=\"Tide\">\n    <x:sequence>\n{}\n    </x:sequence>\n  </x:complexType>\n",
        lines.join("\n")
    )
}

const HIGH: &str = "      <x:element name=\"high\" type=\"x:int\"/>";
const LOW: &str = "      <x:element name=\"low\" type=\"x:int\"/>";

#[test]
fn a_line_of_its_own_goes_whole() {
    assert_eq!(without(&tide(&[HIGH, LOW]), "type/Tide/low"), tide(&[HIGH]));
    assert_eq!(without(&tide(&[HIGH, LOW]), "type/Tide/high"), tide(&[LOW]));
    // White space behind it goes along, and so does the other half of a line end.
    let wide = format!("{LOW} \t ");
    assert_eq!(without(&tide(&[&wide, HIGH]), "type/Tide/low"), tide(&[HIGH]));
    let carriage = |text: String| text.replace('\n', "\r\n");
    assert_eq!(without(&carriage(tide(&[HIGH, LOW])), "type/Tide/low"), carriage(tide(&[HIGH])));
}

#[test]
fn what_shares_its_line_leaves_the_others_there() {
    let both = format!("{HIGH}{}", LOW.trim_start());
    assert_eq!(without(&tide(&[&both]), "type/Tide/low"), tide(&[HIGH]));
    assert_eq!(without(&tide(&[&both]), "type/Tide/high"), tide(&[LOW]));
    let three = format!("{both} <x:element name=\"at\" type=\"x:date\"/>");
    let rest = format!("{HIGH} <x:element name=\"at\" type=\"x:date\"/>");
    assert_eq!(without(&tide(&[&three]), "type/Tide/low"), tide(&[&rest]));
}

#[test]
fn a_comment_stays() {
    let behind = format!("{LOW} <!-- of the day -->");
    assert_eq!(
        without(&tide(&[HIGH, &behind]), "type/Tide/low"),
        tide(&[HIGH, "       <!-- of the day -->"])
    );
    let before = "      <!-- of the day -->";
    assert_eq!(without(&tide(&[HIGH, before, LOW]), "type/Tide/low"), tide(&[HIGH, before]));
    // An element that held a comment besides is not written as empty.
    let comment = "      <!-- none yet -->";
    assert_eq!(without(&tide(&[LOW, comment]), "type/Tide/low"), tide(&[comment]));
}

#[test]
fn a_blank_line_before_the_last_of_a_group_goes_along() {
    assert_eq!(without(&tide(&[HIGH, "", LOW]), "type/Tide/low"), tide(&[HIGH]));
    // Between two groups one stays.
    let at = "      <x:element name=\"at\" type=\"x:date\"/>";
    assert_eq!(without(&tide(&[HIGH, "", LOW, "", at]), "type/Tide/low"), tide(&[HIGH, "", at]));
    assert_eq!(without(&tide(&[HIGH, "", LOW, at]), "type/Tide/low"), tide(&[HIGH, "", at]));
}

#[test]
fn what_held_nothing_else_is_written_as_empty() {
    let bare = "\n  <x:complexType name=\"Tide\">\n    <x:sequence/>\n  </x:complexType>\n";
    assert_eq!(without(&tide(&[LOW]), "type/Tide/low"), bare);
    // One around the other: the outer one goes, with what was taken out of the inner one.
    let one_line = "<x:complexType name=\"Tide\"><x:sequence><x:element name=\"low\" type=\"x:int\"/></x:sequence></x:complexType>";
    let empty = "<x:complexType name=\"Tide\"><x:sequence/></x:complexType>";
    assert_eq!(without(one_line, "type/Tide/low"), empty);
    // A blank that was there before says nothing.
    let blank = one_line.replace("<x:sequence>", "<x:sequence> ");
    assert_eq!(without(&blank, "type/Tide/low"), empty);
}

#[test]
fn a_file_on_one_line_stays_on_it() {
    let types: String = ["A", "B", "C"]
        .map(|name| format!("<x:complexType name=\"{name}\"><x:sequence><x:element name=\"v\" type=\"x:int\"/></x:sequence></x:complexType>"))
        .concat();
    let left = types.replace("\"B\"", "\"b\"");
    let (start, end) =
        (left.find("<x:complexType name=\"b\"").unwrap(), left.find("<x:complexType name=\"C\"").unwrap());
    assert_eq!(without(&types, "type/B"), format!("{}{}", &types[..start], &types[end..]));
    let more = after(&types, |editing| add(editing, editing.contract.find("type/B").unwrap(), "w: string?"));
    let field = "<x:element name=\"w\" type=\"x:string\" minOccurs=\"0\"/>";
    let (before, behind) =
        types.split_at(types.find("</x:sequence></x:complexType><x:complexType name=\"C\"").unwrap());
    assert_eq!(more.unwrap(), format!("{before}{field}{behind}"));
}

#[test]
fn an_attribute_goes_with_the_space_before_it() {
    let optional = tide(&["      <x:element name=\"low\" minOccurs=\"0\" type=\"x:int\"/>"]);
    let set_to = |text: &str, property: &'static str, value: &'static str| {
        after(text, |editing| {
            set(editing, editing.contract.find("type/Tide/low").unwrap(), &[(property, value)])
        })
        .unwrap()
    };
    assert_eq!(set_to(&optional, "occurs", "1"), tide(&[LOW]));
    // On a line of its own, the line goes.
    let apart = tide(&[
        "      <x:element name=\"low\"\n                 minOccurs='0'\n                 type=\"x:int\"/>",
    ]);
    let rest = tide(&["      <x:element name=\"low\"\n                 type=\"x:int\"/>"]);
    assert_eq!(set_to(&apart, "occurs", "1"), rest);
    // A value keeps its quotes, whatever they are elsewhere.
    assert_eq!(
        set_to(&apart, "occurs", "2..3"),
        apart
            .replace("minOccurs='0'", "minOccurs='2'")
            .replace("type=\"x:int\"/>", "type=\"x:int\"\n                 maxOccurs=\"3\"/>")
    );
}
