//! Types judged with what they inherit: the verdict on each must be that on its whole content written in one place.

use std::collections::BTreeSet;

use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay};
use proptest::prelude::*;

/// What a particle of a type is, in a few letters.
#[derive(Debug, Clone, Copy)]
enum Item {
    /// A local element: its letter, whether its type is a number, and whether it may be left out and repeated.
    Local(char, bool, bool),
    /// The head of the substitution group, or a member of it.
    Global(bool, bool),
    /// Elements of other namespaces.
    Any,
}

impl Item {
    fn xml(self) -> String {
        let often = |loose: bool| if loose { " minOccurs='0' maxOccurs='unbounded'" } else { "" };
        match self {
            Item::Local(letter, number, loose) => {
                let ty = if number { "int" } else { "token" };
                format!("<xs:element name='{letter}' type='xs:{ty}'{}/>", often(loose))
            }
            Item::Global(head, loose) => {
                format!("<xs:element ref='t:{}'{}/>", if head { "head" } else { "member" }, often(loose))
            }
            Item::Any => "<xs:any namespace='##other' processContents='lax' minOccurs='0'/>".into(),
        }
    }
}

/// A type: which of the types before it is its base, what it adds, and the attributes it adds.
#[derive(Debug, Clone)]
struct Type {
    base: Option<usize>,
    items: Vec<Item>,
    attributes: BTreeSet<char>,
}

fn item() -> impl Strategy<Value = Item> {
    prop_oneof![
        8 => (prop::sample::select(vec!['a', 'b', 'c', 'd', 'e', 'f', 'm']), prop::bool::weighted(0.1), any::<bool>())
            .prop_map(|(letter, number, loose)| Item::Local(letter, number, loose)),
        2 => (any::<bool>(), any::<bool>()).prop_map(|(head, loose)| Item::Global(head, loose)),
        1 => Just(Item::Any),
    ]
}

fn types() -> impl Strategy<Value = Vec<Type>> {
    let attributes = prop::collection::btree_set(prop::sample::select(('p'..='z').collect::<Vec<_>>()), 0..2);
    let one = (any::<prop::sample::Index>(), prop::collection::vec(item(), 0..3), attributes);
    prop::collection::vec(one, 1..9).prop_map(|all| {
        let ty = |(at, (base, items, attributes)): (usize, (prop::sample::Index, _, _))| Type {
            // Most derivations are chains; some types have several derived from them.
            base: (at > 0).then(|| if base.index(3) > 0 { at - 1 } else { base.index(at) }),
            items,
            attributes,
        };
        all.into_iter().enumerate().map(ty).collect()
    })
}

/// A line each, so that the line of a finding tells the type.
fn written(types: &[Type]) -> String {
    let mut text = String::from(HEAD);
    for (at, ty) in types.iter().enumerate() {
        let items: String = ty.items.iter().map(|item| item.xml()).collect();
        let attributes: String =
            ty.attributes.iter().map(|name| format!("<xs:attribute name='{name}' type='xs:int'/>")).collect();
        let own = format!("<xs:sequence>{items}</xs:sequence>{attributes}");
        text += &match ty.base {
            None => format!("<xs:complexType name='T{at}'>{own}</xs:complexType>\n"),
            Some(base) => format!(
                "<xs:complexType name='T{at}'><xs:complexContent><xs:extension base='t:T{base}'>{own}</xs:extension></xs:complexContent></xs:complexType>\n"
            ),
        };
    }
    text + "</xs:schema>"
}

/// The first line holds what all types may refer to.
const HEAD: &str = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'><xs:element name='head' type='xs:token'/><xs:element name='member' type='xs:token' substitutionGroup='t:head'/><xs:element name='m' type='xs:token' substitutionGroup='t:head'/>\n";

/// The rules that are broken, each with the number of the type that it is broken in.
fn broken(text: &str) -> BTreeSet<(&'static str, usize)> {
    let store = Overlay::of(&[("t.xsd", text)]);
    let files = Files::load(&store, &Location::from_argument("t.xsd"), Limits::default()).unwrap();
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    assert!(schemas.faults().is_empty(), "{text}: {:?}", schemas.faults());
    let faults = Engine::new(&files, &schemas).judge();
    let line = |start| files.first().text().position(start).line;
    faults.into_iter().map(|fault| (fault.rule, line(fault.place.span.start) - 2)).collect()
}

/// A type and all that it is derived from, the first of them first.
fn line_of(types: &[Type], at: usize) -> Vec<usize> {
    let mut line: Vec<usize> = std::iter::successors(Some(at), |at| types[*at].base).collect();
    line.reverse();
    line
}

const CONTENT: [&str; 2] = ["cos-nonambig", "cos-element-consistent"];

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(400) })]

    #[test]
    fn content_is_judged_as_if_it_stood_in_one_place(types in types()) {
        let text = written(&types);
        let found = broken(&text);
        for at in 0..types.len() {
            let line = line_of(&types, at);
            let whole = Type {
                base: None,
                items: line.iter().flat_map(|at| types[*at].items.clone()).collect(),
                attributes: BTreeSet::new(),
            };
            let wrong = broken(&written(&[whole])).iter().any(|(rule, _)| CONTENT.contains(rule));
            // What is wrong is said once, at the type that brings it in.
            let said = line.iter().any(|at| CONTENT.iter().any(|rule| found.contains(&(*rule, *at))));
            prop_assert_eq!(said, wrong, "T{} of {}\n{:?}", at, text, found);
        }
    }

    #[test]
    fn an_attribute_of_the_base_is_not_declared_anew(types in types()) {
        let text = written(&types);
        let found = broken(&text);
        for (at, ty) in types.iter().enumerate() {
            let mut above = line_of(&types, at);
            above.pop();
            let twice = above.iter().any(|other| !types[*other].attributes.is_disjoint(&ty.attributes));
            prop_assert_eq!(found.contains(&("ct-props-correct", at)), twice, "T{} of {}", at, text);
        }
    }
}

fn rules(content: &str) -> Vec<&'static str> {
    broken(&format!("{HEAD}{content}</xs:schema>")).into_iter().map(|(rule, _)| rule).collect()
}

fn extension(name: &str, base: &str, own: &str) -> String {
    format!(
        "<xs:complexType name='{name}'><xs:complexContent><xs:extension base='t:{base}'>{own}</xs:extension></xs:complexContent></xs:complexType>"
    )
}

fn restriction(name: &str, base: &str, own: &str) -> String {
    extension(name, base, own).replace("extension", "restriction")
}

const LOOSE: &str = "<xs:complexType name='A'><xs:sequence><xs:element name='a' type='xs:int' minOccurs='0'/></xs:sequence></xs:complexType>";

#[test]
fn a_restriction_begins_anew_and_an_extension_of_it_goes_on_from_there() {
    let again = "<xs:sequence><xs:element name='a' type='xs:int'/></xs:sequence>";
    assert_eq!(rules(&format!("{LOOSE}{}", extension("B", "A", again))), ["cos-nonambig"]);
    // Once the optional element is gone, one of its name may follow.
    let none = restriction("B", "A", "<xs:sequence/>");
    assert_eq!(rules(&format!("{LOOSE}{none}{}", extension("C", "B", again))), Vec::<&str>::new());
    let kept = restriction(
        "B",
        "A",
        "<xs:sequence><xs:element name='a' type='xs:int' minOccurs='0'/></xs:sequence>",
    );
    assert_eq!(rules(&format!("{LOOSE}{kept}{}", extension("C", "B", again))), ["cos-nonambig"]);
}

#[test]
fn two_types_with_one_base_do_not_meet() {
    let b = extension("B", "A", "<xs:sequence><xs:element name='b' type='xs:int'/></xs:sequence>");
    let c = extension("C", "A", "<xs:sequence><xs:element name='b' type='xs:token'/></xs:sequence>");
    assert_eq!(rules(&format!("{LOOSE}{b}{c}")), Vec::<&str>::new());
    let d = extension("D", "B", "<xs:sequence><xs:element name='b' type='xs:token'/></xs:sequence>");
    assert_eq!(rules(&format!("{LOOSE}{b}{c}{d}")), ["cos-element-consistent"]);
}

#[test]
fn ids_and_wildcards_come_down_the_line() {
    let with = |attributes: &str| format!("<xs:complexType name='A'>{attributes}</xs:complexType>");
    let id = |name: &str| format!("<xs:attribute name='{name}' type='xs:ID'/>");
    let between = extension("B", "A", "<xs:attribute name='n' type='xs:int'/>");
    assert_eq!(
        rules(&format!("{}{between}{}", with(&id("x")), extension("C", "B", &id("y")))),
        ["ct-props-correct"]
    );
    // A restriction may do without the ID, and then there is room for another.
    let without = restriction("B", "A", "<xs:attribute name='x' use='prohibited'/>");
    assert_eq!(
        rules(&format!("{}{without}{}", with(&id("x")), extension("C", "B", &id("y")))),
        Vec::<&str>::new()
    );
    let any = "<xs:anyAttribute namespace='##other' processContents='lax'/>";
    let narrower = restriction("C", "B", "<xs:anyAttribute namespace='urn:o' processContents='lax'/>");
    assert_eq!(rules(&format!("{}{between}{narrower}", with(any))), Vec::<&str>::new());
    let wider = restriction("C", "B", "<xs:anyAttribute namespace='##any' processContents='lax'/>");
    assert_eq!(rules(&format!("{}{between}{wider}", with(any))), ["derivation-ok-restriction"]);
}

#[test]
fn what_extends_anything_is_anything() {
    let open = "<xs:complexType name='A'><xs:complexContent mixed='true'><xs:extension base='xs:anyType'><xs:sequence><xs:element name='a' type='xs:int'/></xs:sequence></xs:extension></xs:complexContent></xs:complexType>";
    let more = extension("B", "A", "<xs:sequence><xs:element name='a' type='xs:token'/></xs:sequence>")
        .replace("<xs:complexContent>", "<xs:complexContent mixed='true'>");
    assert_eq!(rules(&format!("{open}{more}")), Vec::<&str>::new());
}

#[test]
fn a_content_model_grows_too_large_along_the_line() {
    let members = "<xs:element name='a' type='xs:int'/>".repeat(1_000);
    let group = format!("<xs:group name='g'><xs:sequence>{members}</xs:sequence></xs:group>");
    let uses = "<xs:group ref='t:g'/>".repeat(90);
    let a = format!("<xs:complexType name='A'><xs:sequence>{uses}</xs:sequence></xs:complexType>");
    let b = extension("B", "A", &format!("<xs:sequence>{uses}</xs:sequence>"));
    let c = extension("C", "B", &format!("<xs:sequence>{uses}</xs:sequence>"));
    let found = rules(&format!("{group}{a}{b}{c}"));
    assert_eq!(found, ["schema-size"]);
}
