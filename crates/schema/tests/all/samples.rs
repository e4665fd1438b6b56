//! Samples: whatever the size, they are valid; hostile ones are refused for the reason they give.

use charter_schema::sample::{Hostile, SampleError, Sampler, Size, to_document};
use charter_schema::{Engine, Report, Schemas};
use charter_source::{Files, Limits, Location, Overlay, QName};
use proptest::prelude::*;

fn load(name: &str, text: &str) -> Files {
    Files::load(&Overlay::of(&[(name, text)]), &Location::from_argument(name), Limits::default()).unwrap()
}

fn with<T>(content: &str, work: impl FnOnce(&Engine<'_>) -> T) -> T {
    let text = format!(
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'>{content}</xs:schema>"
    );
    let files = load("t.xsd", &text);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    assert!(schemas.faults().is_empty(), "{:?}", schemas.faults());
    work(&Engine::new(&files, &schemas))
}

fn sample(engine: &Engine<'_>, size: Size) -> Result<String, SampleError> {
    let id = engine.schemas().element_named(&QName::new("urn:t", "a")).unwrap();
    Ok(to_document(&Sampler::new(engine, size).element(id)?))
}

fn judge(engine: &Engine<'_>, document: &str) -> Report {
    let files = load("a.xml", document);
    engine.validate(files.first().id, files.first().root().unwrap(), 10)
}

const RICH: &str = "<xs:simpleType name='Sign'><xs:restriction base='xs:token'><xs:pattern value='[A-Z]{2}[0-9]+'/><xs:length value='6'/></xs:restriction></xs:simpleType>
    <xs:simpleType name='Depths'><xs:restriction><xs:simpleType><xs:list itemType='xs:decimal'/></xs:simpleType><xs:minLength value='2'/><xs:maxLength value='4'/></xs:restriction></xs:simpleType>
    <xs:element name='notice' type='xs:token' abstract='true'/><xs:element name='fog' type='xs:token' substitutionGroup='t:notice'/>
    <xs:complexType name='Visit' abstract='true'><xs:sequence><xs:element name='eta' type='xs:dateTime'/></xs:sequence></xs:complexType>
    <xs:complexType name='Call'><xs:complexContent><xs:extension base='t:Visit'><xs:sequence><xs:element name='next' type='t:Visit' minOccurs='0'/></xs:sequence></xs:extension></xs:complexContent></xs:complexType>
    <xs:element name='a'><xs:complexType><xs:sequence>
      <xs:element name='sign' type='t:Sign'/><xs:element name='depths' type='t:Depths' minOccurs='0'/>
      <xs:choice maxOccurs='3'><xs:element name='berth'><xs:simpleType><xs:restriction base='xs:int'><xs:minInclusive value='3'/><xs:maxExclusive value='9'/></xs:restriction></xs:simpleType></xs:element><xs:element name='buoy' type='xs:string' nillable='true'/></xs:choice>
      <xs:element ref='t:notice' minOccurs='0' maxOccurs='unbounded'/><xs:element name='visit' type='t:Visit' minOccurs='0'/>
      <xs:element name='tug' minOccurs='0' maxOccurs='4'><xs:complexType><xs:attribute name='id' type='xs:ID' use='required'/><xs:attribute name='beside' type='xs:IDREF'/><xs:attribute name='number' type='xs:int' use='required'/></xs:complexType></xs:element>
      <xs:any namespace='##other' processContents='lax' minOccurs='0'/>
    </xs:sequence><xs:attribute name='kind' use='required'><xs:simpleType><xs:restriction base='xs:token'><xs:enumeration value='liner'/><xs:enumeration value='tramp'/></xs:restriction></xs:simpleType></xs:attribute></xs:complexType>
    <xs:unique name='tugs'><xs:selector xpath='t:tug'/><xs:field xpath='@number'/></xs:unique></xs:element>";

/// What must have an ID, and holds something that has no end: it is begun, and given up again.
const GIVEN_UP: &str = "<xs:element name='endless'><xs:complexType><xs:sequence><xs:element ref='t:endless'/></xs:sequence></xs:complexType></xs:element>
    <xs:complexType name='Marked'><xs:sequence><xs:element name='mark'><xs:complexType><xs:attribute name='id' type='xs:ID' use='required'/></xs:complexType></xs:element>
    <xs:element ref='t:endless'/></xs:sequence></xs:complexType>
    <xs:element name='a'><xs:complexType><xs:sequence><xs:element name='gone' type='t:Marked' minOccurs='0'/>
    <xs:element name='kept'><xs:complexType><xs:attribute name='id' type='xs:ID' use='required'/><xs:attribute name='to' type='xs:IDREF' use='required'/></xs:complexType></xs:element>
    </xs:sequence></xs:complexType></xs:element>";

#[test]
fn references_lead_to_what_is_there_in_the_end() {
    with(GIVEN_UP, |engine| {
        for size in [Size::Least, Size::Typical, Size::Most, Size::Random(3), Size::Random(4)] {
            let document = sample(engine, size).unwrap_or_else(|error| panic!("{size:?}: {error}"));
            let report = judge(engine, &document);
            assert!(report.is_valid(), "{size:?}: {:?}\n{document}", report.wrong);
        }
    });
}

#[test]
fn every_size_is_valid_and_holds_what_it_says() {
    with(RICH, |engine| {
        let text = |size| sample(engine, size).unwrap_or_else(|error| panic!("{size:?}: {error}"));
        for size in [Size::Least, Size::Typical, Size::Most] {
            let report = judge(engine, &text(size));
            assert!(report.is_valid(), "{size:?}: {:?}\n{}", report.wrong, text(size));
        }
        let least = text(Size::Least);
        for absent in ["depths", "notice", "fog", "visit", "tug", "second"] {
            assert!(!least.contains(absent), "{absent} in\n{least}");
        }
        let most = text(Size::Most);
        for present in
            ["depths", "fog", "visit", "type=\"t:Call\"", "<t:tug", "berth", "buoy", "other:anything"]
        {
            assert!(most.contains(present), "{present} not in\n{most}");
        }
    });
}

#[test]
fn every_hostile_message_is_refused_for_its_reason_alone() {
    with(RICH, |engine| {
        let id = engine.schemas().element_named(&QName::new("urn:t", "a")).unwrap();
        let hostile: Vec<Hostile> = Sampler::new(engine, Size::Typical).hostile(id).unwrap();
        for it in &hostile {
            let report = judge(engine, &to_document(&it.instance));
            assert_eq!(report.count, 1, "{it:?}");
            let wrong = &report.wrong[0];
            assert_eq!((wrong.fault.rule, &wrong.path), (it.clause, &it.path));
        }
        let clauses: std::collections::BTreeSet<&str> = hostile.iter().map(|it| it.clause).collect();
        for clause in [
            "cvc-complex-type",
            "cvc-datatype-valid",
            "cvc-elt",
            "cvc-enumeration-valid",
            "cvc-id",
            "cvc-maxExclusive-valid",
            "cvc-minInclusive-valid",
            "cvc-minLength-valid",
            "cvc-pattern-valid",
            "cvc-type",
        ] {
            assert!(clauses.contains(clause), "{clause} is not in {clauses:?}");
        }
    });
}

#[test]
fn what_nothing_can_satisfy_is_said_to_be_so() {
    let error =
        |content: &str| with(content, |engine| sample(engine, Size::Typical).unwrap_err().to_string());
    let of = |ty: &str| {
        format!(
            "<xs:element name='a'><xs:simpleType><xs:restriction base='xs:string'>{ty}</xs:restriction></xs:simpleType></xs:element>"
        )
    };
    assert!(error(&of("<xs:pattern value='(ab)+'/><xs:length value='7'/>")).contains("no value was found"));
    assert!(
        error("<xs:element name='a'><xs:complexType><xs:choice/></xs:complexType></xs:element>")
            .contains("nothing to choose from")
    );
    assert!(error("<xs:element name='a' type='t:A'/><xs:complexType name='A'><xs:sequence><xs:element name='b' type='t:A'/></xs:sequence></xs:complexType>").contains("must contain itself"));
}

#[test]
fn two_patterns_and_a_length_leave_something() {
    let schema = "<xs:simpleType name='S'><xs:restriction base='xs:string'><xs:pattern value='[a-m]+'/></xs:restriction></xs:simpleType><xs:element name='a'><xs:simpleType><xs:restriction base='t:S'><xs:pattern value='[k-z]+'/><xs:length value='40'/></xs:restriction></xs:simpleType></xs:element>";
    let text = with(schema, |engine| sample(engine, Size::Typical).unwrap());
    assert!(text.contains(">kkkkk") || text.contains(">l") || text.contains(">m"), "{text}");
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(200) })]

    #[test]
    fn random_samples_are_valid_and_the_same_for_the_same_seed(seed in any::<u64>()) {
        with(RICH, |engine| {
            let text = sample(engine, Size::Random(seed)).unwrap();
            let report = judge(engine, &text);
            prop_assert!(report.is_valid(), "{:?}\n{text}", report.wrong);
            prop_assert_eq!(&text, &sample(engine, Size::Random(seed)).unwrap());
            Ok(())
        })?;
    }
}

#[test]
fn what_stands_for_a_substitute_does_not_stand_for_a_head_that_blocks_it() {
    let content = "<xs:element name='h' type='xs:int' block='restriction'/>
        <xs:element name='m' type='xs:int' substitutionGroup='t:h'/>
        <xs:element name='n' type='xs:short' substitutionGroup='t:m'/>
        <xs:element name='a'><xs:complexType><xs:sequence><xs:element ref='t:h' maxOccurs='3'/></xs:sequence></xs:complexType></xs:element>";
    with(content, |engine| {
        let mut names = std::collections::BTreeSet::new();
        for seed in 0..200 {
            let text = sample(engine, Size::Random(seed)).unwrap();
            let report = judge(engine, &text);
            assert!(report.is_valid(), "{text}\n{:?}", report.wrong);
            names.extend(["h>", "m>", "n>"].into_iter().filter(|name| text.contains(name)));
        }
        assert_eq!(names.into_iter().collect::<Vec<_>>(), ["h>", "m>"]);
    });
}
