//! Large documents are judged on several threads, and must be judged alike.

use charter_schema::{Engine, Report, Schemas};
use charter_source::{Files, Limits, Location, Overlay};
use proptest::prelude::*;

const SCHEMA: &str = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns='urn:t' targetNamespace='urn:t' elementFormDefault='qualified'>
  <xs:element name='day'><xs:complexType><xs:sequence>
    <xs:choice minOccurs='0' maxOccurs='unbounded'>
      <xs:element ref='note'/>
      <xs:element name='visit' maxOccurs='unbounded'><xs:complexType><xs:sequence>
        <xs:element name='draught' type='xs:decimal'/><xs:element name='after' type='xs:IDREF' minOccurs='0'/>
      </xs:sequence><xs:attribute name='id' type='xs:ID'/></xs:complexType></xs:element>
      <xs:any namespace='##other' processContents='lax'/>
    </xs:choice>
    <xs:element name='end' minOccurs='0'/>
  </xs:sequence></xs:complexType></xs:element>
  <xs:element name='note' type='xs:token'/>
  <xs:element name='remark' substitutionGroup='note' type='xs:token'/>
</xs:schema>";

fn load(text: &str) -> Files {
    Files::load(&Overlay::of(&[("t.xml", text)]), &Location::from_argument("t.xml"), Limits::default())
        .unwrap()
}

fn assessment(engine: &Engine<'_>, children: &str, padding: usize) -> Report {
    // What stands behind the root makes a document large, and changes no place in it.
    let files = load(&format!("<day xmlns='urn:t'>{children}</day><!--{}-->", "x".repeat(padding)));
    engine.validate(files.first().id, files.first().root().expect("well-formed"), 10_000)
}

fn with_engine<T>(work: impl FnOnce(&Engine<'_>) -> T) -> T {
    let files = load(SCHEMA);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    let engine = Engine::new(&files, &schemas);
    assert!(schemas.faults().is_empty() && engine.judge().is_empty(), "{:?}", engine.judge());
    work(&engine)
}

/// A child of the day: sound, or wrong in itself.
fn child() -> impl Strategy<Value = String> {
    let id = 0..400_u32;
    prop_oneof![
        20 => id.clone().prop_map(|id| format!("<visit id='v{}'><draught>{id}.5</draught></visit>", id + 1_000)),
        8 => Just("<visit><draught>9.4</draught></visit>".to_owned()),
        2 => (id.clone(), id).prop_map(|(id, to)| format!("<visit id='v{id}'><draught>1</draught><after>v{to}</after></visit>")),
        1 => Just("<visit><draught>deep</draught></visit>".to_owned()),
        1 => Just("<visit><after>v1</after></visit>".to_owned()),
        2 => Just("<remark>Fog.</remark>".to_owned()),
        1 => Just("<o:tide xmlns:o='urn:o'>high</o:tide>".to_owned()),
    ]
}

fn found(report: &Report) -> Vec<String> {
    let words = |wrong: &charter_schema::Wrong| {
        format!("{} {} {:?} {}", wrong.fault.rule, wrong.path, wrong.fault.place, wrong.fault.message)
    };
    let mut all: Vec<String> = report.wrong.iter().map(words).collect();
    all.sort();
    all
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(24) })]

    #[test]
    fn one_thread_and_several_find_the_same(children in prop::collection::vec(child(), 250..700), astray in prop::option::weighted(0.2, any::<prop::sample::Index>())) {
        let mut children = children;
        if let Some(at) = astray {
            let at = at.index(children.len());
            children[at] = "<end/>".to_owned();
        }
        let text = children.concat();
        with_engine(|engine| {
            let (one, several) = (assessment(engine, &text, 0), assessment(engine, &text, 300_000));
            prop_assert_eq!(one.count, several.count);
            prop_assert_eq!(found(&one), found(&several));
            Ok(())
        })?;
    }
}

#[test]
fn findings_come_in_the_order_of_the_document_and_the_first_are_kept() {
    let children: String = (0..2_000)
        .map(|n| format!("<visit><draught>{}</draught></visit>", if n % 2 == 0 { "deep" } else { "1" }))
        .collect();
    with_engine(|engine| {
        let files = load(&format!("<day xmlns='urn:t'>{children}</day><!--{}-->", "x".repeat(300_000)));
        let report = engine.validate(files.first().id, files.first().root().unwrap(), 5);
        assert_eq!((report.count, report.wrong.len()), (1_000, 5));
        let paths: Vec<&str> = report.wrong.iter().map(|wrong| wrong.path.as_str()).collect();
        let expected = [
            "day/visit[1]/draught",
            "day/visit[3]/draught",
            "day/visit[5]/draught",
            "day/visit[7]/draught",
            "day/visit[9]/draught",
        ];
        assert_eq!(paths, expected);
    });
}

#[test]
fn an_id_in_one_part_is_known_in_all() {
    let visit = |n: usize| format!("<visit id='v{n}'><draught>1</draught></visit>");
    let many: String = (0..1_000).map(visit).collect();
    with_engine(|engine| {
        let twice = assessment(engine, &format!("{many}{}", visit(3)), 300_000);
        assert_eq!(
            twice.wrong.iter().map(|wrong| wrong.path.as_str()).collect::<Vec<_>>(),
            ["day/visit[1001]/@id"]
        );
        let after = |to: &str| format!("<visit><draught>1</draught><after>{to}</after></visit>{many}");
        assert!(assessment(engine, &after("v999"), 300_000).is_valid());
        assert_eq!(assessment(engine, &after("v1000"), 300_000).wrong[0].path, "day/visit[1]/after");
    });
}
