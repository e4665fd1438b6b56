//! Judging instances: each validation rule, by small schemas and documents.

use charter_schema::{Engine, Report, Schemas};
use charter_source::{Files, Limits, Location, Overlay};

fn load(name: &str, text: &str) -> Files {
    Files::load(&Overlay::of(&[(name, text)]), &Location::from_argument(name), Limits::default()).unwrap()
}

fn report(schema: &str, instance: &str) -> Report {
    let text = format!(
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'>{schema}</xs:schema>"
    );
    let files = load("t.xsd", &text);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    let engine = Engine::new(&files, &schemas);
    let faults: Vec<_> = schemas.faults().iter().cloned().chain(engine.judge()).collect();
    assert!(faults.is_empty(), "{schema}: {faults:?}");
    let files = load("t.xml", instance);
    let root = files.first().root().unwrap_or_else(|| panic!("{instance}: {:?}", files.faults()));
    engine.validate(files.first().id, root, 100)
}

/// Judges documents `<a xmlns='urn:t' …>`: what is wrong with each, as `rule path`.
#[track_caller]
fn all(schema: &str, cases: &[(&str, &[&str])]) {
    for (content, expected) in cases {
        let head = "<a xmlns='urn:t' xmlns:t='urn:t' xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:xsi='http://www.w3.org/2001/XMLSchema-instance'";
        let found = report(schema, &content.replacen("<a", head, 1));
        let words: Vec<String> =
            found.wrong.iter().map(|wrong| format!("{} {}", wrong.fault.rule, wrong.path)).collect();
        assert_eq!(words, *expected, "{content}\n{:?}", found.wrong);
    }
}

fn content(model: &str) -> String {
    format!("<xs:element name='a'><xs:complexType>{model}</xs:complexType></xs:element>")
}

#[test]
fn sequences_choices_and_their_bounds() {
    let model = content(
        "<xs:sequence><xs:element name='b' type='xs:int' minOccurs='2' maxOccurs='3'/><xs:choice minOccurs='0' maxOccurs='unbounded'><xs:element name='c'/><xs:element name='d'/></xs:choice><xs:element name='e' minOccurs='0'/></xs:sequence>",
    );
    all(
        &model,
        &[
            ("<a><b>1</b><b>2</b></a>", &[]),
            ("<a><b>1</b><b>2</b><b>3</b><d/><c/><d/><e/></a>", &[]),
            ("<a><b>1</b></a>", &["cvc-complex-type a"]),
            ("<a><b>1</b><b>2</b><b>3</b><b>4</b></a>", &["cvc-complex-type a/b[4]"]),
            ("<a><b>1</b><b>2</b><e/><c/></a>", &["cvc-complex-type a/c"]),
            ("<a><b>x</b><b>2</b></a>", &["cvc-datatype-valid a/b[1]"]),
            ("<a><b>1</b>text<b>2</b></a>", &["cvc-complex-type a"]),
        ],
    );
}

#[test]
fn counts_in_counts_are_exact() {
    let model = |inner: &str, outer: &str| {
        content(&format!("<xs:sequence {outer}><xs:element name='b' {inner}/></xs:sequence>"))
    };
    let times = |count: usize| format!("<a>{}</a>", "<b/>".repeat(count));
    for (inner, outer, right, wrong) in [
        ("minOccurs='2' maxOccurs='3'", "minOccurs='2' maxOccurs='2'", vec![4, 5, 6], vec![3, 7]),
        ("minOccurs='3' maxOccurs='3'", "minOccurs='1' maxOccurs='2'", vec![3, 6], vec![2, 4, 5, 7]),
        ("minOccurs='4' maxOccurs='5'", "maxOccurs='unbounded'", vec![4, 5, 8, 9, 10, 12], vec![3, 6, 7, 11]),
        ("minOccurs='0' maxOccurs='2'", "minOccurs='3' maxOccurs='3'", vec![0, 1, 6], vec![7]),
    ] {
        let schema = model(inner, outer);
        for count in right {
            all(&schema, &[(&times(count), &[])]);
        }
        for count in wrong {
            assert!(
                !report(&schema, &times(count).replacen("<a", "<a xmlns='urn:t'", 1)).is_valid(),
                "{inner} {count}"
            );
        }
    }
}

#[test]
fn bounds_of_a_million_cost_nothing() {
    let model = content(
        "<xs:sequence minOccurs='2' maxOccurs='2000000'><xs:element name='b' minOccurs='0' maxOccurs='999999999'/><xs:element name='c' minOccurs='3' maxOccurs='1000000'/></xs:sequence>",
    );
    all(
        &model,
        &[
            ("<a><b/><c/><c/><c/><c/><b/><c/><c/><c/></a>", &[]),
            ("<a><b/><c/><c/><c/></a>", &["cvc-complex-type a"]),
        ],
    );
}

#[test]
fn all_groups() {
    let model = content(
        "<xs:all><xs:element name='b'/><xs:element name='c' minOccurs='0'/><xs:element name='d'/></xs:all>",
    );
    all(
        &model,
        &[
            ("<a><d/><b/></a>", &[]),
            ("<a><c/><b/><d/></a>", &[]),
            ("<a><d/></a>", &["cvc-complex-type a"]),
            ("<a><d/><b/><d/></a>", &["cvc-complex-type a/d[2]"]),
        ],
    );
}

#[test]
fn empty_mixed_and_simple_content() {
    let schema = "<xs:element name='a'><xs:complexType mixed='true'><xs:sequence><xs:element name='none' minOccurs='0'><xs:complexType/></xs:element><xs:element name='v' minOccurs='0'><xs:complexType><xs:simpleContent><xs:extension base='xs:int'><xs:attribute name='unit' type='xs:token' use='required'/></xs:extension></xs:simpleContent></xs:complexType></xs:element></xs:sequence></xs:complexType></xs:element>";
    all(
        schema,
        &[
            ("<a>text<none/>more<v unit='m'>7</v></a>", &[]),
            ("<a><none> </none></a>", &["cvc-complex-type a/none"]),
            ("<a><none><!-- nothing --></none></a>", &[]),
            ("<a><v>7</v></a>", &["cvc-complex-type a/v"]),
            ("<a><v unit='m'>7<none/></v></a>", &["cvc-complex-type a/v"]),
            ("<a><v unit='m' depth='2'>7</v></a>", &["cvc-complex-type a/v/@depth"]),
        ],
    );
}

#[test]
fn types_chosen_by_the_instance() {
    let schema = "<xs:complexType name='V'><xs:sequence><xs:element name='n' type='xs:int'/></xs:sequence></xs:complexType>
        <xs:complexType name='T'><xs:complexContent><xs:extension base='t:V'><xs:sequence><xs:element name='m' type='xs:int'/></xs:sequence></xs:extension></xs:complexContent></xs:complexType>
        <xs:complexType name='U' abstract='true'><xs:complexContent><xs:extension base='t:V'/></xs:complexContent></xs:complexType>
        <xs:element name='a'><xs:complexType><xs:sequence><xs:element name='v' type='t:V'/><xs:element name='fast' type='t:V' block='extension' minOccurs='0'/><xs:element name='any' minOccurs='0'/></xs:sequence></xs:complexType></xs:element>";
    all(
        schema,
        &[
            ("<a><v xsi:type='t:T'><n>1</n><m>2</m></v></a>", &[]),
            ("<a><v xsi:type='T'><n>1</n></v></a>", &["cvc-complex-type a/v"]),
            ("<a><v xsi:type='t:U'><n>1</n></v></a>", &["cvc-type a/v"]),
            ("<a><v xsi:type='t:Gone'><n>1</n></v></a>", &["cvc-elt a/v/@xsi:type"]),
            ("<a><v xsi:type='u:T'><n>1</n></v></a>", &["cvc-elt a/v/@xsi:type"]),
            ("<a><v xsi:type='xs:int'><n>1</n></v></a>", &["cvc-elt a/v/@xsi:type"]),
            ("<a><v><n>1</n></v><fast xsi:type='t:T'><n>1</n></fast></a>", &["cvc-elt a/fast/@xsi:type"]),
            ("<a><v><n>1</n></v><any xsi:type='xs:int'>x</any></a>", &["cvc-datatype-valid a/any"]),
        ],
    );
}

#[test]
fn nil_default_and_fixed() {
    let schema = "<xs:element name='a'><xs:complexType><xs:sequence><xs:element name='n' type='xs:int' nillable='true' minOccurs='0'/><xs:element name='d' type='xs:int' default='7' minOccurs='0'/><xs:element name='f' type='xs:decimal' fixed='1.50' minOccurs='0'/></xs:sequence><xs:attribute name='u' type='xs:decimal' fixed='2'/></xs:complexType></xs:element>";
    all(
        schema,
        &[
            ("<a><n xsi:nil='true'/><d/><f/></a>", &[]),
            ("<a u='2.0'><f>1.5</f></a>", &[]),
            ("<a><n xsi:nil='true'>4</n></a>", &["cvc-elt a/n"]),
            ("<a><n xsi:nil='false'>4</n></a>", &[]),
            ("<a><n xsi:nil='maybe'>4</n></a>", &["cvc-datatype-valid a/n/@xsi:nil"]),
            ("<a><d xsi:nil='true'/></a>", &["cvc-elt a/d/@xsi:nil"]),
            ("<a><f>1.6</f></a>", &["cvc-elt a/f"]),
            ("<a u='3'/>", &["cvc-attribute a/@u"]),
        ],
    );
}

#[test]
fn substitution_groups_and_wildcards() {
    let schema = "<xs:element name='head' type='xs:decimal' abstract='true'/><xs:element name='one' substitutionGroup='t:head' type='xs:int'/><xs:element name='two' substitutionGroup='t:one' type='xs:byte'/>
        <xs:element name='closed' type='xs:decimal' block='substitution'/><xs:element name='three' substitutionGroup='t:closed' type='xs:int'/>
        <xs:element name='a'><xs:complexType><xs:sequence><xs:element ref='t:head' maxOccurs='2'/><xs:element ref='t:closed' minOccurs='0'/><xs:any namespace='urn:x' processContents='lax' minOccurs='0'/><xs:any namespace='urn:s' processContents='strict' minOccurs='0'/></xs:sequence></xs:complexType></xs:element>";
    all(
        schema,
        &[
            ("<a><one>1</one><two>2</two></a>", &[]),
            ("<a><two>200</two></a>", &["cvc-datatype-valid a/two"]),
            ("<a><head>1</head></a>", &["cvc-elt a/head"]),
            ("<a><one>1</one><three>3</three></a>", &["cvc-complex-type a/three"]),
            ("<a><one>1</one><closed>3</closed><x:y xmlns:x='urn:x'><x:z/></x:y></a>", &[]),
            ("<a><one>1</one><s:z xmlns:s='urn:s'/></a>", &["cvc-elt a/z"]),
        ],
    );
}

#[test]
fn identity_constraints() {
    let schema = "<xs:element name='a'><xs:complexType><xs:sequence><xs:element name='b' minOccurs='0' maxOccurs='unbounded'><xs:complexType><xs:attribute name='n' type='xs:decimal'/><xs:attribute name='near' type='xs:decimal'/></xs:complexType></xs:element></xs:sequence></xs:complexType>
        <xs:key name='k'><xs:selector xpath='t:b'/><xs:field xpath='@n'/></xs:key><xs:keyref name='r' refer='t:k'><xs:selector xpath='.//t:b'/><xs:field xpath='@near'/></xs:keyref></xs:element>";
    all(
        schema,
        &[
            ("<a><b n='1'/><b n='2' near='1.0'/></a>", &[]),
            ("<a><b n='1'/><b n='01.0'/></a>", &["cvc-identity-constraint a/b[2]"]),
            ("<a><b/></a>", &["cvc-identity-constraint a/b"]),
            ("<a><b n='1' near='2'/></a>", &["cvc-identity-constraint a/b"]),
        ],
    );
}

#[test]
fn ids_and_references() {
    let schema = "<xs:element name='a'><xs:complexType><xs:sequence><xs:element name='b' minOccurs='0' maxOccurs='unbounded'><xs:complexType><xs:attribute name='id' type='xs:ID'/><xs:attribute name='near' type='xs:IDREFS'/></xs:complexType></xs:element></xs:sequence></xs:complexType></xs:element>";
    all(
        schema,
        &[
            ("<a><b near='y x'/><b id='x'/><b id='y'/></a>", &[]),
            ("<a><b id='x'/><b id='x'/></a>", &["cvc-id a/b[2]/@id"]),
            ("<a><b near='z'/></a>", &["cvc-id a/b"]),
        ],
    );
}

#[test]
fn many_things_wrong_are_counted_and_few_are_kept() {
    let schema =
        content("<xs:sequence><xs:element name='b' type='xs:int' maxOccurs='unbounded'/></xs:sequence>");
    let instance = format!("<a xmlns='urn:t'>{}</a>", "<b>x</b>".repeat(5_000));
    let found = report(&schema, &instance);
    assert_eq!((found.count, found.wrong.len()), (5_000, 100));
    assert_eq!(found.wrong[99].path, "a/b[100]");
}

#[test]
fn what_was_meant_is_suggested() {
    let schema = content("<xs:sequence><xs:element name='draught'/><xs:element name='beam'/></xs:sequence>");
    let help = |content: &str| {
        report(&schema, &content.replacen("<a", "<a xmlns='urn:t'", 1)).wrong[0].fault.help.clone().unwrap()
    };
    assert_eq!(help("<a><drought/></a>"), "did you mean \"draught\"?");
    assert_eq!(help("<a><draught/></a>"), "go on with \"beam\"");
    assert_eq!(help("<a><draught xmlns=''/></a>"), "here must stand \"draught\" of urn:t");
    assert_eq!(help("<a><draught/><beam/><tug/></a>"), "\"a\" is complete: remove it");
}
