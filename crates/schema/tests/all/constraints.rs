//! Judging schemas: what the examples of the catalogue do not show, from both sides of each line.

use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay, QName};

/// The clauses that a schema breaks, the first of the files read.
fn broken_in(texts: &[(&str, &str)]) -> Vec<&'static str> {
    let files =
        Files::load(&Overlay::of(texts), &Location::from_argument(texts[0].0), Limits::default()).unwrap();
    let first = files.first();
    let schemas = Schemas::read(&files, [(first.id, first.root().expect("well-formed").id())]);
    let engine = Engine::new(&files, &schemas);
    schemas.faults().iter().cloned().chain(engine.judge()).map(|fault| fault.rule).collect()
}

#[test]
fn the_schemas_that_come_with_the_program_are_sound() {
    let namespaces = [
        "http://www.w3.org/XML/1998/namespace",
        "http://schemas.xmlsoap.org/soap/encoding/",
        "http://schemas.xmlsoap.org/soap/envelope/",
        "http://www.w3.org/2003/05/soap-envelope",
        "http://www.w3.org/2005/08/addressing",
    ];
    let imports = namespaces.map(|namespace| format!("<xs:import namespace='{namespace}'/>")).concat();
    let store = Overlay::of(&[("port.xsd", &document(&imports))]);
    let files = Files::load(&store, &Location::from_argument("port.xsd"), Limits::default()).unwrap();
    let known: Vec<_> = files.iter().filter(|file| file.is_known()).collect();
    assert_eq!(known.len(), namespaces.len());
    for file in known {
        // As a file of the user's own, so that nothing about it is passed over.
        let broken = broken_in(&[("own.xsd", file.text().content())]);
        // The standard has an element of the type NOTATION, which no schema should use as it is.
        let expected: &[&str] = if file.location.to_string().contains("encoding") {
            &["enumeration-required-notation"]
        } else {
            &[]
        };
        assert_eq!(broken, expected, "{}", file.location);
    }
}

fn document(content: &str) -> String {
    format!(
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'>{content}</xs:schema>"
    )
}

#[track_caller]
fn sound(content: &str) {
    assert_eq!(broken_in(&[("t.xsd", &document(content))]), Vec::<&str>::new(), "{content}");
}

#[track_caller]
fn breaks(content: &str, clause: &str) {
    let found = broken_in(&[("t.xsd", &document(content))]);
    assert_eq!(found, [clause], "{content}");
}

fn complex(name: &str, content: &str) -> String {
    format!("<xs:complexType name='{name}'>{content}</xs:complexType>")
}

fn derived(name: &str, how: &str, base: &str, content: &str) -> String {
    complex(
        name,
        &format!("<xs:complexContent><xs:{how} base='t:{base}'>{content}</xs:{how}></xs:complexContent>"),
    )
}

fn simple(name: &str, base: &str, facets: &str) -> String {
    format!(
        "<xs:simpleType name='{name}'><xs:restriction base='{base}'>{facets}</xs:restriction></xs:simpleType>"
    )
}

#[test]
fn facets_apply_by_variety_and_primitive_type() {
    let list = "<xs:simpleType name='L'><xs:list itemType='xs:int'/></xs:simpleType>";
    let union = "<xs:simpleType name='U'><xs:union memberTypes='xs:int xs:date'/></xs:simpleType>";
    sound(&format!("{list}{}", simple("M", "t:L", "<xs:maxLength value='3'/><xs:pattern value='[0-9 ]*'/>")));
    breaks(&format!("{list}{}", simple("M", "t:L", "<xs:maxInclusive value='3'/>")), "cos-applicable-facets");
    sound(&format!("{union}{}", simple("V", "t:U", "<xs:enumeration value='2026-03-14'/>")));
    breaks(&format!("{union}{}", simple("V", "t:U", "<xs:maxLength value='3'/>")), "cos-applicable-facets");
    breaks(&simple("B", "xs:boolean", "<xs:enumeration value='true'/>"), "cos-applicable-facets");
    sound(&simple("D", "xs:dateTime", "<xs:minInclusive value='2026-01-01T00:00:00Z'/>"));
}

#[test]
fn bounds_are_values_of_the_base_type() {
    let narrow = |first: &str, second: &str| {
        format!("{}{}", simple("A", "xs:decimal", first), simple("B", "t:A", second))
    };
    sound(&narrow("<xs:minExclusive value='3'/>", "<xs:minExclusive value='3'/>"));
    breaks(
        &narrow("<xs:minExclusive value='3'/>", "<xs:minInclusive value='3'/>"),
        "minInclusive-valid-restriction",
    );
    sound(&narrow("<xs:minInclusive value='3'/>", "<xs:minExclusive value='3.0'/>"));
    breaks(
        &narrow("<xs:minInclusive value='9'/>", "<xs:minInclusive value='8'/>"),
        "minInclusive-valid-restriction",
    );
    breaks(&simple("A", "xs:int", "<xs:minInclusive value='1.5'/>"), "schema-attribute");
    breaks(&simple("A", "xs:byte", "<xs:maxInclusive value='200'/>"), "schema-attribute");
    breaks(&narrow("<xs:enumeration value='1'/>", "<xs:minInclusive value='2'/>"), "schema-attribute");
    sound(&simple("A", "xs:duration", "<xs:minInclusive value='P1M'/><xs:maxInclusive value='P30D'/>"));
}

#[test]
fn lists_hold_no_lists_and_finals_are_kept() {
    let list = "<xs:simpleType name='L'><xs:list itemType='xs:int'/></xs:simpleType><xs:simpleType name='U'><xs:union memberTypes='xs:int t:L'/></xs:simpleType>";
    sound(list);
    breaks(
        &format!("{list}<xs:simpleType name='M'><xs:list itemType='t:U'/></xs:simpleType>"),
        "cos-st-restricts",
    );
    let closed = "<xs:simpleType name='C' final='list union'><xs:restriction base='xs:int'/></xs:simpleType>";
    sound(&format!("{closed}{}", simple("D", "t:C", "")));
    breaks(
        &format!("{closed}<xs:simpleType name='D'><xs:list itemType='t:C'/></xs:simpleType>"),
        "cos-st-restricts",
    );
    breaks(
        &format!("{closed}<xs:simpleType name='D'><xs:union memberTypes='t:C'/></xs:simpleType>"),
        "cos-st-restricts",
    );
}

#[test]
fn extensions_and_attributes() {
    let group = "<xs:attributeGroup name='G'><xs:attribute name='g' type='xs:int'/></xs:attributeGroup>";
    let used = "<xs:attributeGroup ref='t:G'/>";
    // By a group that both use, the attribute is one and the same.
    sound(&format!("{group}{}{}", complex("A", used), derived("B", "extension", "A", used)));
    let twice = "<xs:attribute name='a' type='xs:int'/>";
    breaks(&format!("{}{}", complex("A", twice), derived("B", "extension", "A", twice)), "ct-props-correct");
    let id = |name: &str| format!("<xs:attribute name='{name}' type='xs:ID'/>");
    breaks(&complex("A", &(id("a") + &id("b"))), "ct-props-correct");
    breaks(
        &format!("{}{}", complex("A", &id("a")), derived("B", "extension", "A", &id("b"))),
        "ct-props-correct",
    );
    let closed = "<xs:complexType name='A' final='extension'><xs:sequence/></xs:complexType>";
    breaks(&format!("{closed}{}", derived("B", "extension", "A", "")), "cos-ct-extends");
    sound(&format!("{closed}{}", derived("B", "restriction", "A", "")));
}

#[test]
fn attributes_of_restrictions() {
    let base = complex(
        "A",
        "<xs:attribute name='a' type='xs:decimal' use='required'/><xs:attribute name='b' type='xs:token' fixed='x'/><xs:anyAttribute namespace='##other' processContents='lax'/>",
    );
    let restricted = |content: &str| format!("{base}{}", derived("B", "restriction", "A", content));
    sound(&restricted(
        "<xs:attribute name='a' type='xs:int' use='required'/><xs:anyAttribute namespace='urn:x' processContents='strict'/>",
    ));
    for (content, clause) in [
        ("<xs:attribute name='a' type='xs:int'/>", "derivation-ok-restriction"),
        ("<xs:attribute name='a' use='prohibited'/>", "derivation-ok-restriction"),
        ("<xs:attribute name='b' type='xs:token' fixed='y'/>", "derivation-ok-restriction"),
        ("<xs:attribute name='c' type='xs:token'/>", "derivation-ok-restriction"),
        ("<xs:anyAttribute namespace='##any'/>", "derivation-ok-restriction"),
        ("<xs:anyAttribute namespace='urn:x' processContents='skip'/>", "derivation-ok-restriction"),
    ] {
        breaks(&restricted(content), clause);
    }
    sound(&restricted("<xs:attribute name='b' use='prohibited'/>"));
}

#[test]
fn restrictions_see_substitution_groups() {
    let elements = "<xs:element name='h' type='xs:decimal'/><xs:element name='m' type='xs:int' substitutionGroup='t:h'/><xs:element name='n' type='xs:byte' substitutionGroup='t:m'/>";
    let of = |base: &str, new: &str| {
        let wrap = |content: &str| format!("<xs:sequence>{content}</xs:sequence>");
        format!("{elements}{}{}", complex("A", &wrap(base)), derived("B", "restriction", "A", &wrap(new)))
    };
    sound(&of("<xs:element ref='t:h'/>", "<xs:element ref='t:m'/>"));
    sound(&of("<xs:element ref='t:h' maxOccurs='2'/>", "<xs:choice><xs:element ref='t:m'/></xs:choice>"));
    breaks(&of("<xs:element ref='t:m'/>", "<xs:element ref='t:h'/>"), "rcase-RecurseLax");
}

#[test]
fn substitutes_are_derived_and_their_heads_allow_it() {
    let head = "<xs:element name='h' type='xs:decimal' final='restriction'/>";
    breaks(&format!("{head}<xs:element name='m' type='xs:int' substitutionGroup='t:h'/>"), "e-props-correct");
    sound(&format!("{head}<xs:element name='m' type='xs:decimal' substitutionGroup='t:h'/>"));
    breaks(
        "<xs:element name='h' type='xs:int'/><xs:element name='m' type='xs:token' substitutionGroup='t:h'/>",
        "e-props-correct",
    );
    // A member of a union may stand for the union; a union among its members may not.
    let union = "<xs:simpleType name='I'><xs:union memberTypes='xs:int'/></xs:simpleType><xs:simpleType name='U'><xs:union memberTypes='t:I xs:date'/></xs:simpleType><xs:element name='h' type='t:U'/>";
    sound(&format!("{union}<xs:element name='m' type='xs:byte' substitutionGroup='t:h'/>"));
    breaks(&format!("{union}<xs:element name='m' type='t:I' substitutionGroup='t:h'/>"), "e-props-correct");
}

#[test]
fn ambiguity_with_wildcards_and_substitutes() {
    let model = |content: &str| {
        format!(
            "<xs:element name='h' type='xs:int'/><xs:element name='m' type='xs:int' substitutionGroup='t:h'/><xs:element name='a'><xs:complexType><xs:sequence>{content}</xs:sequence></xs:complexType></xs:element>"
        )
    };
    breaks(&model("<xs:element ref='t:h' minOccurs='0'/><xs:element ref='t:m'/>"), "cos-nonambig");
    breaks(
        &model("<xs:any namespace='##targetNamespace' minOccurs='0'/><xs:element ref='t:m'/>"),
        "cos-nonambig",
    );
    sound(&model("<xs:any namespace='##other' minOccurs='0'/><xs:element ref='t:m'/>"));
    breaks(&model("<xs:any namespace='##other' minOccurs='0'/><xs:any namespace='urn:x'/>"), "cos-nonambig");
    sound(&model("<xs:any namespace='urn:y' minOccurs='0'/><xs:any namespace='urn:x'/>"));
    sound(&model("<xs:element ref='t:h' minOccurs='2' maxOccurs='2'/><xs:element ref='t:m'/>"));
}

#[test]
fn all_stands_alone() {
    let all = "<xs:all><xs:element name='x'/></xs:all>";
    let group = format!("<xs:group name='G'>{all}</xs:group>");
    sound(&format!("{group}{}", complex("A", "<xs:group ref='t:G' minOccurs='0'/>")));
    breaks(
        &format!("{group}{}", complex("A", "<xs:sequence><xs:group ref='t:G'/></xs:sequence>")),
        "cos-all-limited",
    );
    breaks(&format!("{group}{}", complex("A", "<xs:group ref='t:G' maxOccurs='2'/>")), "cos-all-limited");
    let more = derived("B", "extension", "A", "<xs:sequence><xs:element name='y'/></xs:sequence>");
    breaks(&format!("{}{more}", complex("A", all)), "cos-all-limited");
    sound(&format!("{}{}", complex("A", all), derived("B", "extension", "A", "<xs:attribute name='y'/>")));
}

#[test]
fn namespaces_are_seen_only_when_imported() {
    let other = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:o'><xs:element name='o' type='xs:int'/></xs:schema>";
    let bridge = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:b'><xs:import namespace='urn:o' schemaLocation='o.xsd'/></xs:schema>";
    let main = |import: &str| {
        document(&format!(
            "{import}<xs:element name='a'><xs:complexType><xs:sequence><xs:element xmlns:o='urn:o' ref='o:o'/></xs:sequence></xs:complexType></xs:element>"
        ))
    };
    let judged = |import: &str| broken_in(&[("t.xsd", &main(import)), ("o.xsd", other), ("b.xsd", bridge)]);
    assert!(judged("<xs:import namespace='urn:o' schemaLocation='o.xsd'/>").is_empty());
    assert!(
        judged("<xs:import namespace='urn:b' schemaLocation='b.xsd'/><xs:import namespace='urn:o'/>")
            .is_empty()
    );
    // The other schema imports it, which does not make it known here.
    assert_eq!(judged("<xs:import namespace='urn:b' schemaLocation='b.xsd'/>"), ["src-resolve"]);
}

const OLD: &str = "<xs:complexType name='V'><xs:sequence><xs:element name='a' type='xs:int'/></xs:sequence></xs:complexType><xs:simpleType name='S'><xs:restriction base='xs:token'/></xs:simpleType><xs:group name='G'><xs:sequence><xs:element name='g'/></xs:sequence></xs:group><xs:attributeGroup name='H'><xs:attribute name='h'/></xs:attributeGroup><xs:element name='v' type='t:V'/>";

fn redefined(content: &str) -> Vec<&'static str> {
    let main = document(&format!("<xs:redefine schemaLocation='old.xsd'>{content}</xs:redefine>"));
    broken_in(&[("t.xsd", &main), ("old.xsd", &document(OLD))])
}

#[test]
fn redefinitions_build_on_what_they_redefine() {
    for sound in [
        derived("V", "extension", "V", "<xs:sequence><xs:element name='b' type='xs:int'/></xs:sequence>"),
        simple("S", "t:S", "<xs:maxLength value='4'/>"),
        "<xs:group name='G'><xs:sequence><xs:group ref='t:G'/><xs:element name='more'/></xs:sequence></xs:group>".to_owned(),
        "<xs:attributeGroup name='H'><xs:attributeGroup ref='t:H'/><xs:attribute name='i'/></xs:attributeGroup>".to_owned(),
    ] {
        assert_eq!(redefined(&sound), Vec::<&str>::new(), "{sound}");
    }
    // What does not use itself allows no more than before.
    assert!(
        redefined(
            "<xs:group name='G'><xs:sequence><xs:element name='g' type='xs:int'/></xs:sequence></xs:group>"
        )
        .is_empty()
    );
    assert!(
        redefined("<xs:attributeGroup name='H'><xs:attribute name='h' type='xs:int'/></xs:attributeGroup>")
            .is_empty()
    );
    for wrong in [
        "<xs:group name='G'><xs:sequence><xs:element name='other'/></xs:sequence></xs:group>".to_owned(),
        "<xs:attributeGroup name='H'><xs:attribute name='other'/></xs:attributeGroup>".to_owned(),
        complex("V", "<xs:sequence/>"),
        simple("S", "xs:token", ""),
        derived("W", "extension", "W", ""),
        "<xs:group name='G'><xs:sequence><xs:group ref='t:G' minOccurs='0'/></xs:sequence></xs:group>"
            .to_owned(),
    ] {
        assert!(redefined(&wrong).contains(&"src-redefine"), "{wrong}: {:?}", redefined(&wrong));
    }
}

#[test]
fn the_redefined_type_is_what_all_others_mean() {
    let new =
        derived("V", "extension", "V", "<xs:sequence><xs:element name='b' type='xs:int'/></xs:sequence>");
    let main = document(&format!("<xs:redefine schemaLocation='old.xsd'>{new}</xs:redefine>"));
    let old = document(OLD);
    let files = Files::load(
        &Overlay::of(&[("t.xsd", &main), ("old.xsd", &old)]),
        &Location::from_argument("t.xsd"),
        Limits::default(),
    )
    .unwrap();
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    let ty = schemas.element_type(schemas.element_named(&QName::new("urn:t", "v")).unwrap());
    let names: Vec<&str> =
        schemas.children(ty).into_iter().map(|(id, _)| &*schemas.elements[id].name.local).collect();
    assert_eq!(names, ["a", "b"]);
}

#[test]
fn counts_in_counts_are_ambiguous_only_if_they_are() {
    let pair = |inner: &str| {
        complex(
            "A",
            &format!(
                "<xs:sequence><xs:choice minOccurs='2' maxOccurs='2'><xs:element name='c'/>{inner}</xs:choice><xs:element name='c'/></xs:sequence>"
            ),
        )
    };
    // After four of them the choice has been made twice, after three it has not.
    sound(&pair("<xs:element name='a' minOccurs='2' maxOccurs='3'/>"));
    breaks(&pair("<xs:element name='a' minOccurs='1' maxOccurs='3'/>"), "cos-nonambig");
    // Wildcards and what may stand for others as well.
    sound(&pair("<xs:any namespace='##other' processContents='lax' minOccurs='2' maxOccurs='3'/>"));
    breaks(&pair("<xs:any processContents='lax' minOccurs='2' maxOccurs='3'/>"), "cos-nonambig");
    let heads = "<xs:element name='head' type='xs:token'/><xs:element name='member' type='xs:token' substitutionGroup='t:head'/>";
    let head = "<xs:element ref='t:head' minOccurs='2' maxOccurs='3'/>";
    sound(&format!("{heads}{}", pair(head)));
    let member = |text: String| {
        text.replacen("<xs:element name='c'/></xs:sequence>", "<xs:element ref='t:member'/></xs:sequence>", 1)
    };
    breaks(&format!("{heads}{}", member(pair(head))), "cos-nonambig");
    // What would take too long to write out stays as it seems, and nothing loops on nothing.
    breaks(&pair("<xs:element name='a' minOccurs='2000000' maxOccurs='3000000'/>"), "cos-nonambig");
    let nothing = "<xs:sequence minOccurs='0' maxOccurs='4000000000'><xs:sequence/></xs:sequence>";
    let after_nothing = pair("<xs:element name='a' minOccurs='2' maxOccurs='3'/>")
        .replace("<xs:choice", &format!("{nothing}<xs:choice"));
    sound(&after_nothing);
    let many = "<xs:element name='a' minOccurs='0' maxOccurs='2900'/>";
    breaks(
        &complex(
            "A",
            &format!(
                "<xs:sequence><xs:sequence minOccurs='0' maxOccurs='2'>{many}</xs:sequence>{many}</xs:sequence>"
            ),
        ),
        "cos-nonambig",
    );
}
