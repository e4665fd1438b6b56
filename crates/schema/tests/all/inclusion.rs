//! Whether everything that one schema allows is allowed by another, with the instance that shows where it is not.

use crate::included::{Found, asked, witnessed};

fn content(inner: &str) -> String {
    format!("<x:element name='r'><x:complexType>{inner}</x:complexType></x:element>")
}

fn value(inner: &str) -> String {
    format!("<x:element name='r'><x:simpleType>{inner}</x:simpleType></x:element>")
}

/// Asks both ways: whether the first is within the second, and what of the second is beyond the first.
#[track_caller]
fn grows(small: &str, large: &str, witness: &str) {
    assert_eq!(asked(small, large), Found::Within, "{small}\n{large}");
    let Found::Beyond(text) = asked(large, small) else { panic!("{small}\n{large}") };
    assert!(text.contains(witness), "{text}");
}

#[track_caller]
fn same(a: &str, b: &str) {
    assert_eq!(asked(a, b), Found::Within, "{a}\n{b}");
    assert_eq!(asked(b, a), Found::Within, "{b}\n{a}");
}

const A: &str = "<x:element name='a' type='x:int'/>";
const B: &str = "<x:element name='b' type='x:int'/>";
const C: &str = "<x:element name='c' type='x:int'/>";

#[test]
fn models_that_are_built_otherwise_and_allow_the_same() {
    let groups = [
        (
            format!("<x:sequence>{A}<x:sequence>{B}{C}</x:sequence></x:sequence>"),
            format!("<x:sequence>{A}{B}{C}</x:sequence>"),
        ),
        (
            format!("<x:sequence><x:choice minOccurs='0'>{A}</x:choice></x:sequence>"),
            "<x:sequence><x:element name='a' type='x:int' minOccurs='0'/></x:sequence>".to_owned(),
        ),
        (
            format!("<x:choice minOccurs='0' maxOccurs='unbounded'>{A}{B}</x:choice>"),
            format!("<x:choice minOccurs='0' maxOccurs='unbounded'><x:element name='b' type='x:int' maxOccurs='unbounded'/>{A}</x:choice>"),
        ),
        (
            "<x:sequence minOccurs='2' maxOccurs='2'><x:element name='a' type='x:int' minOccurs='3' maxOccurs='3'/></x:sequence>".to_owned(),
            "<x:sequence><x:element name='a' type='x:int' minOccurs='6' maxOccurs='6'/></x:sequence>".to_owned(),
        ),
        (
            "<x:all><x:element name='a' type='x:int'/></x:all>".to_owned(),
            format!("<x:sequence>{A}</x:sequence>"),
        ),
    ];
    for (a, b) in groups {
        same(&content(&a), &content(&b));
    }
}

#[test]
fn counts_and_orders() {
    let many = |least: &str, most: &str| {
        content(&format!(
            "<x:sequence><x:element name='a' type='x:int' minOccurs='{least}' maxOccurs='{most}'/></x:sequence>"
        ))
    };
    grows(&many("2", "3"), &many("1", "4"), "<a>");
    grows(&many("1500", "2500"), &many("1500", "unbounded"), "<a>");
    let all = content(&format!("<x:all>{A}{B}</x:all>"));
    grows(&content(&format!("<x:sequence>{A}{B}</x:sequence>")), &all, "</b> <a>");
    grows(&all, &content(&format!("<x:choice maxOccurs='unbounded'>{A}{B}</x:choice>")), "<r");
    // Three and three, six, but not five.
    let sixes = content(
        "<x:sequence minOccurs='0' maxOccurs='unbounded'><x:element name='a' type='x:int' minOccurs='3' maxOccurs='3'/></x:sequence>",
    );
    grows(&sixes, &many("0", "unbounded"), "<a>");
}

#[test]
fn what_stands_for_something_else() {
    let group = |more: &str| {
        format!(
            "<x:element name='h' type='x:int'/><x:element name='m' type='x:int' substitutionGroup='t:h'/>{more}{}",
            content("<x:sequence><x:element ref='t:h'/></x:sequence>")
        )
    };
    grows(&group(""), &group("<x:element name='n' type='x:short' substitutionGroup='t:h'/>"), "<n>");
    let blocked = group("").replace("name='h'", "name='h' block='substitution'");
    grows(&blocked, &group(""), "<m>");
    let types = |derived: &str| {
        format!(
            "<x:complexType name='T'/>{derived}{}",
            content("<x:sequence><x:element name='v' type='t:T'/></x:sequence>")
        )
    };
    let derived = "<x:complexType name='D'><x:complexContent><x:extension base='t:T'><x:attribute name='i'/></x:extension></x:complexContent></x:complexType>";
    grows(&types(""), &types(derived), "D\"");
    // The name of the declared type is not on the wire.
    same(&types(""), &types("").replace("'T'", "'Other'").replace("t:T", "t:Other"));
}

#[test]
fn wildcards() {
    let any = |about: &str| content(&format!("<x:sequence><x:any {about}/></x:sequence>"));
    grows(
        &any("namespace='##other' processContents='lax'"),
        &any("namespace='##any' processContents='lax'"),
        "<r",
    );
    grows(
        &any("namespace='urn:o' processContents='lax'"),
        &any("namespace='urn:o' processContents='skip'"),
        "xsi:type",
    );
    let global = "<x:element name='g' type='x:int'/>";
    let with = |text: String| format!("{global}{text}");
    grows(
        &with(any("namespace='##targetNamespace' processContents='strict'")),
        &with(any("namespace='##targetNamespace' processContents='skip'")),
        "<r",
    );
    grows(&content(&format!("<x:sequence>{A}</x:sequence>")), &any("processContents='lax'"), "<r");
}

#[test]
fn values_by_their_texts() {
    let string = |facets: &str| value(&format!("<x:restriction base='x:string'>{facets}</x:restriction>"));
    let of =
        |base: &str, facets: &str| value(&format!("<x:restriction base='x:{base}'>{facets}</x:restriction>"));
    let pattern = |pattern: &str| string(&format!("<x:pattern value='{pattern}'/>"));
    grows(&pattern("[A-Z]{2}[0-9]{3}"), &pattern("[A-Z]+[0-9]*"), "<r");
    same(&pattern("(ab)*"), &pattern("(abab)*|ab(abab)*"));
    same(&pattern("[a-c]|d"), &string("<x:pattern value='[a-d]'/><x:maxLength value='1'/>"));
    grows(&string("<x:pattern value='a*'/><x:maxLength value='3'/>"), &pattern("a*"), "aaaa");
    // A range as digits, in every way to write it.
    grows(
        &of("int", "<x:minInclusive value='0'/><x:maxInclusive value='9'/><x:pattern value='[0-9]'/>"),
        &of("decimal", "<x:maxExclusive value='10'/>"),
        "<r",
    );
    same(&of("integer", "<x:minInclusive value='0'/>"), &of("nonNegativeInteger", ""));
    same(
        &of("decimal", "<x:fractionDigits value='0'/><x:pattern value='[+\\-]?[0-9]+'/>"),
        &of("integer", "<x:pattern value='[+\\-]?[0-9]+'/>"),
    );
    grows(&of("boolean", "<x:pattern value='true|false'/>"), &of("boolean", ""), "1");
    grows(&value("<x:list itemType='x:byte'/>"), &value("<x:list itemType='x:short'/>"), "<r");
    grows(
        &value("<x:union memberTypes='x:int x:boolean'/>"),
        &value("<x:union memberTypes='x:boolean x:decimal'/>"),
        "<r",
    );
    grows(
        &of("date", "<x:minInclusive value='2026-03-14'/>"),
        &of("date", "<x:minInclusive value='2026-01-01'/>"),
        "2026",
    );
    grows(
        &string("<x:enumeration value='north buoy'/>"),
        &string("<x:whiteSpace value='collapse'/><x:enumeration value='north buoy'/>"),
        " ",
    );
}

#[test]
fn declarations_and_attributes() {
    let element = |about: &str| {
        content(&format!("<x:sequence><x:element name='a' type='x:int' {about}/></x:sequence>"))
    };
    grows(&element(""), &element("nillable='true'"), "nil=\"true\"");
    grows(&element(""), &element("default='7'"), "<a></a>");
    let attribute = |about: &str| content(&format!("<x:attribute name='i' type='x:int' {about}/>"));
    grows(&attribute("use='required'"), &attribute(""), "<r xmlns=\"urn:t\"/>");
    grows(&attribute("fixed='7'"), &attribute(""), "i=\"");
    grows(&content(""), &attribute(""), "i=\"");
    grows(&attribute(""), &content("<x:anyAttribute processContents='lax'/>"), "<r");
}

#[test]
fn types_within_themselves_come_to_an_end() {
    let tree = |leaf: &str| {
        format!(
            "<x:complexType name='T'><x:sequence><x:element name='t' type='t:T' minOccurs='0' maxOccurs='2'/><x:element name='u' type='t:U' minOccurs='0'/></x:sequence></x:complexType><x:complexType name='U'><x:sequence><x:element name='t' type='t:T' minOccurs='0'/><x:element name='leaf' type='{leaf}'/></x:sequence></x:complexType><x:element name='r' type='t:T'/>"
        )
    };
    grows(&tree("x:int"), &tree("x:long"), "<leaf>");
    // A type that must hold itself has no instance, so whatever it holds cannot be beyond anything.
    let endless = |leaf: &str| {
        format!(
            "<x:complexType name='E'><x:sequence><x:element name='e' type='t:E'/><x:element name='leaf' type='{leaf}'/></x:sequence></x:complexType>{}",
            content("<x:sequence><x:element name='e' type='t:E' minOccurs='0'/></x:sequence>")
        )
    };
    same(&endless("x:int"), &endless("x:string"));
}

#[test]
fn the_worst_ends_in_good_time() {
    // Choices in choices, each repeated; and bounds in the thousands within bounds in the thousands.
    let mut nested = A.to_owned();
    for _ in 0..40 {
        nested = format!("<x:choice maxOccurs='unbounded'>{nested}</x:choice>");
    }
    same(
        &content(&nested),
        &content("<x:sequence><x:element name='a' type='x:int' maxOccurs='unbounded'/></x:sequence>"),
    );
    let bounds = |most: u32| {
        content(&format!(
            "<x:sequence maxOccurs='3000'><x:element name='a' type='x:int' maxOccurs='3000'/><x:element name='b' type='x:int' maxOccurs='{most}'/></x:sequence>"
        ))
    };
    same(&bounds(3000), &bounds(3000));
    assert_eq!(asked(&bounds(2999), &bounds(3000)), Found::Within);
    assert_ne!(asked(&bounds(3000), &bounds(2999)), Found::Within);
    let pattern = |count: u32| {
        value(&format!(
            "<x:restriction base='x:string'><x:pattern value='(a|b)*a(a|b){{{count}}}'/></x:restriction>"
        ))
    };
    same(&pattern(8), &pattern(8));
    assert_ne!(asked(&pattern(16), &pattern(17)), Found::Within);
}

#[test]
fn what_is_there_no_time_at_all_is_not_there() {
    let never = "<x:element name='n' minOccurs='0' maxOccurs='0'/>";
    // Of the choice, only the other member is left, which must be there.
    grows(
        &content(&format!("<x:sequence><x:choice>{never}{A}</x:choice></x:sequence>")),
        &content(&format!("<x:sequence><x:choice minOccurs='0'>{never}{A}</x:choice></x:sequence>")),
        "<r",
    );
    same(
        &content(&format!("<x:sequence>{never}{A}</x:sequence>")),
        &content(&format!("<x:sequence>{A}{never}</x:sequence>")),
    );
    let left_out = asked(
        &content(&format!("<x:sequence>{never}</x:sequence>")),
        &content(&format!("<x:sequence><x:choice>{never}{A}</x:choice></x:sequence>")),
    );
    assert!(matches!(left_out, Found::Beyond(_)), "{left_out:?}");
}

#[test]
fn what_has_no_content_may_be_nil() {
    // Nothing is declared that the wildcard of the derived type could hold.
    let types = |attribute: &str| {
        let derived = format!(
            "<x:complexType name='D'><x:complexContent><x:extension base='t:T'><x:sequence><x:any namespace='urn:none' processContents='strict'/></x:sequence>{attribute}</x:extension></x:complexContent></x:complexType>"
        );
        let field = "<x:sequence><x:element name='v' type='t:T' nillable='true'/></x:sequence>";
        format!("<x:complexType name='T'/>{derived}{}", content(field))
    };
    grows(&types(""), &types("<x:attribute name='i' type='x:int'/>"), "nil=\"true\"");
    assert_eq!(
        asked(
            &types("<x:attribute name='i'/>").replace(" nillable='true'", ""),
            &types("").replace(" nillable='true'", "")
        ),
        Found::Within
    );
}

#[test]
fn a_strict_wildcard_lets_in_every_declared_element() {
    // Two are declared; the other side knows one of them.
    let declared = "<x:element name='g' type='x:int'/><x:element name='h' type='x:string'/>";
    let open = |inner: &str| format!("{declared}{}", content(&format!("<x:sequence>{inner}</x:sequence>")));
    let any = |process: &str| open(&format!("<x:any namespace='##any' processContents='{process}'/>"));
    let beyond = |sup: &str, name: &str| {
        let found = asked(&any("strict"), &open(sup));
        let Found::Beyond(text) = found else { panic!("{found:?}") };
        assert!(text.contains(&format!("<{name}")) || text.contains(&format!("<t:{name}")), "{text}");
    };
    beyond("<x:element ref='t:g'/>", "h");
    beyond("<x:element ref='t:h'/>", "g");
    beyond("<x:choice><x:element ref='t:g'/><x:element ref='t:h'/></x:choice>", "r");
    let all = "<x:choice><x:element ref='t:g'/><x:element ref='t:h'/><x:element ref='t:r'/></x:choice>";
    assert_eq!(asked(&open(all), &any("strict")), Found::Within);
    assert_ne!(asked(&any("lax"), &open(all)), Found::Within);
}

#[test]
fn what_is_abstract_is_nil_as_one_of_the_types_that_stand_for_it() {
    let types = "<x:complexType name='B' abstract='true'/><x:complexType name='D'><x:complexContent><x:extension base='t:B'/></x:complexContent></x:complexType>";
    let declared = |more: &str| format!("{types}<x:element name='r' type='t:B'{more}/>");
    let found = asked(&declared(" nillable='true'"), &declared(""));
    let Found::Beyond(text) = found else { panic!("{found:?}") };
    assert!(text.contains(":type=\"D\"") && text.contains(":nil=\"true\""), "{text}");
    // Where nothing may stand for it, there is no instance at all, and nothing that could be beyond.
    assert_eq!(asked(&declared(" nillable='true' block='extension'"), &declared("")), Found::Within);
    assert_eq!(asked(&declared(" block='#all'"), "<x:element name='r' type='x:int'/>"), Found::Within);
}

#[test]
fn an_abstract_head_that_blocks_what_stands_for_it_has_no_instance() {
    let head = |block: &str| {
        format!(
            "<x:element name='h' type='x:int' abstract='true'{block}/><x:element name='m' type='x:short' substitutionGroup='t:h'/>{}",
            content("<x:sequence><x:element ref='t:h'/></x:sequence>")
        )
    };
    let nothing = content("<x:sequence><x:element name='other' type='x:int'/></x:sequence>");
    assert_ne!(asked(&head(""), &nothing), Found::Within);
    for block in [" block='substitution'", " block='restriction'", " block='#all'"] {
        assert_eq!(asked(&head(block), &nothing), Found::Within, "{block}");
    }
}

#[test]
fn nothing_gets_past_a_choice_that_offers_nothing() {
    let dead = "<x:choice><x:element name='z' minOccurs='0' maxOccurs='0'/></x:choice>";
    let sub = content(&format!(
        "<x:sequence minOccurs='0'><x:element name='a' type='x:int' minOccurs='2' maxOccurs='3'/>{dead}</x:sequence>"
    ));
    assert_eq!(asked(&sub, &content("<x:sequence/>")), Found::Within);
}

#[test]
fn what_is_wrong_is_found_beside_a_way_without_an_end() {
    // Both ways lack the same, and the first of them has no instance: its last element is abstract for good.
    let dead = "<x:choice><x:sequence><x:element name='b'/><x:element name='d' type='t:None'/></x:sequence><x:element name='c'/></x:choice>";
    let none = "<x:complexType name='None' abstract='true'/>";
    for outer in ["", " maxOccurs='unbounded'"] {
        let of = |least: u8| {
            let a = format!("<x:element name='a' type='x:int' minOccurs='{least}' maxOccurs='9'/>");
            none.to_owned() + &content(&format!("<x:sequence{outer}>{a}{dead}</x:sequence>"))
        };
        let Found::Beyond(text) = asked(&of(1), &of(3)) else { panic!("{outer}") };
        assert!(text.contains("<c"), "{text}");
        assert_eq!(asked(&of(3), &of(1)), Found::Within);
        // What is wrong on the way without an end alone is not wrong.
        let with = |inside: &str| of(1).replace("name='b'/>", &format!("name='b'/>{inside}"));
        assert_eq!(asked(&with("<x:element name='e'/>"), &with("")), Found::Within);
    }
}

#[test]
fn a_fixed_value_may_be_written_in_any_of_its_forms() {
    let element = |ty: &str, fixed: &str| format!("<x:element name='r' type='x:{ty}'{fixed}/>");
    let beyond = |sub: &str, sup: &str, words: &str| {
        let found = asked(sub, sup);
        let Found::Beyond(text) = found else { panic!("{found:?}") };
        assert!(text.contains(words), "{text}");
    };
    let one = " fixed='1'";
    // Surplus space is no matter for the one, and part of the value for the other.
    beyond(&element("token", one), &element("string", one), "> 1 <");
    assert_eq!(asked(&element("string", one), &element("token", one)), Found::Within);
    // The same number with a sign.
    beyond(&element("int", one), &element("token", one), ">+1<");
    assert_eq!(asked(&element("int", one), &element("decimal", one)), Found::Within);
    let attribute = |ty: &str, stated: &str| {
        format!(
            "<x:element name='r'><x:complexType><x:attribute name='a' type='x:{ty}'{stated}/></x:complexType></x:element>"
        )
    };
    beyond(&attribute("int", one), &attribute("token", one), "a=\"+1\"");
    beyond(&attribute("int", one), &attribute("NCName", ""), "a=\"1\"");
    beyond(&attribute("boolean", " fixed='true'"), &attribute("Name", ""), "a=\"1\"");
    assert_eq!(asked(&attribute("int", one), &attribute("int", "")), Found::Within);
    // What is empty takes the fixed value.
    assert_eq!(asked(&element("string", " fixed=''"), &element("string", one)), Found::Within);
}

#[test]
fn text_alone_is_compared_as_text() {
    let mixed = |inner: &str| {
        format!("<x:element name='r'><x:complexType mixed='true'>{inner}</x:complexType></x:element>")
    };
    let simple = |facets: &str| {
        format!(
            "<x:element name='r'><x:simpleType><x:restriction base='x:string'>{facets}</x:restriction></x:simpleType></x:element>"
        )
    };
    assert_eq!(asked(&mixed(""), &simple("")), Found::Within);
    for facets in ["<x:maxLength value='40'/>", "<x:minLength value='1'/>", "<x:pattern value='.*'/>"] {
        let found = asked(&mixed(""), &simple(facets));
        assert!(matches!(found, Found::Beyond(_)), "{facets}: {found:?}");
    }
    // An element is no text.
    let found = asked(&mixed("<x:sequence><x:element name='a' minOccurs='0'/></x:sequence>"), &simple(""));
    let Found::Beyond(text) = found else { panic!("{found:?}") };
    assert!(text.contains("<a"), "{text}");
    // Elements that are not there leave white space.
    let empty = "<x:element name='r'><x:complexType><x:sequence><x:element name='n' minOccurs='0' maxOccurs='0'/></x:sequence></x:complexType></x:element>";
    assert_eq!(asked(empty, &simple("")), Found::Within);
}

/// A thousand fields with long names, and as many that are new.
#[test]
fn witnesses_have_a_budget_and_verdicts_have_none() {
    let fields = |count: usize, new: bool| {
        let field = |n: usize| {
            let new = if new { format!("<x:element name='new{n}' type='x:int'/>") } else { String::new() };
            format!("<x:element name='{}{n}' type='x:int'/>{new}", "a".repeat(90))
        };
        content(&format!("<x:sequence>{}</x:sequence>", (0..count).map(field).collect::<String>()))
    };
    let all = witnessed(&fields(1_000, true), &fields(1_000, false));
    assert_eq!(all.len(), 1_000);
    let shown = all.iter().filter(|witness| witness.is_some()).count();
    assert!((10..500).contains(&shown), "{shown}");
    // What there is no room for any more comes after what there was.
    assert!(all[..5].iter().all(Option::is_some));
    // Of a small content each is shown.
    let few = witnessed(&fields(10, true), &fields(10, false));
    assert!(few.len() == 10 && few.iter().all(Option::is_some));
}

/// One name at many places is one step, and the place that comes first has the say.
#[test]
fn a_name_that_stands_at_many_places_is_one() {
    let repeated = |count: usize, ty: &str| {
        let choice = format!(
            "<x:choice minOccurs='0' maxOccurs='unbounded'><x:element name='a' type='x:{ty}'/></x:choice>"
        );
        content(&format!("<x:sequence>{}</x:sequence>", choice.repeat(count)))
    };
    // A model of two thousand such choices has more ways than are followed.
    for (count, expected) in [(2, Found::Within), (2_000, Found::Undecided)] {
        assert_eq!(asked(&repeated(count, "int"), &repeated(1, "int")), expected, "{count}");
    }
    grows(&repeated(3, "int"), &repeated(1, "decimal"), "<a>");
}

#[test]
fn attributes_that_must_be_there_are_told_in_their_order() {
    let attributes = |names: &[&str]| -> String {
        names.iter().map(|name| format!("<x:attribute name='{name}' type='x:int' use='required'/>")).collect()
    };
    let schema = format!(
        "<x:complexType name='Base'>{}</x:complexType><x:element name='r'><x:complexType><x:complexContent><x:extension base='t:Base'>{}</x:extension></x:complexContent></x:complexType></x:element>",
        attributes(&["z", "b"]),
        attributes(&["y", "a"])
    );
    let files = crate::included::files(&schema);
    let root = files.first().root().unwrap();
    let schemas = charter_schema::Schemas::read(&files, [(files.first().id, root.id())]);
    let engine = charter_schema::Engine::new(&files, &schemas);
    let element = schemas.element_named(&charter_source::QName::new("urn:t", "r")).unwrap();
    let sampler = charter_schema::sample::Sampler::new(&engine, charter_schema::sample::Size::Least);
    let sample = charter_schema::sample::to_document(&sampler.element(element).unwrap());
    let order: Vec<usize> = [" z=", " b=", " y=", " a="].map(|name| sample.find(name).unwrap()).to_vec();
    assert!(order.is_sorted(), "{sample}");
    // The same where all are missing.
    let text = "<t:r xmlns:t='urn:t'/>";
    let store = charter_source::Overlay::of(&[("m.xml", text)]);
    let location = charter_source::Location::from_argument("m.xml");
    let message = charter_source::Files::load(&store, &location, charter_source::Limits::default()).unwrap();
    let report = engine.validate(message.first().id, message.first().root().unwrap(), 10);
    let told: Vec<String> = report.wrong.iter().map(|wrong| wrong.fault.message.clone()).collect();
    assert_eq!(told, ["z", "b", "y", "a"].map(|name| format!("the attribute \"{name}\" is missing")));
}
