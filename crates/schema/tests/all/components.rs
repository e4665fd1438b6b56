//! Reading schemas: what a type allows once its derivation is followed.

use charter_schema::{
    Annotation, Bound, Builtin, Compositor, ConstraintKind, NamespaceConstraint, Occurs, Process, Schemas,
    SimpleVariety, Term, TypeId, TypeKind, ValueConstraint, WhiteSpace,
};
use charter_source::{Files, Limits, Location, Overlay, QName};

const HEAD: &str =
    "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:t='urn:t' targetNamespace='urn:t'";

fn read_files(texts: &[(&str, &str)]) -> (Files, Schemas) {
    let files =
        Files::load(&Overlay::of(texts), &Location::from_argument(texts[0].0), Limits::default()).unwrap();
    let root = (files.first().id, files.first().root().expect("well-formed").id());
    let schemas = Schemas::read(&files, [root]);
    (files, schemas)
}

fn read(content: &str) -> Schemas {
    read_files(&[("t.xsd", &format!("{HEAD} elementFormDefault='qualified'>{content}</xs:schema>"))]).1
}

/// A schema without faults.
#[track_caller]
fn sound(content: &str) -> Schemas {
    sound_files(content).1
}

/// The same, with its files.
#[track_caller]
fn sound_files(content: &str) -> (Files, Schemas) {
    let text = format!("{HEAD} elementFormDefault='qualified'>{content}</xs:schema>");
    let (files, schemas) = read_files(&[("t.xsd", &text)]);
    assert!(schemas.faults().is_empty(), "{:?}", schemas.faults());
    (files, schemas)
}

/// The rules that a schema breaks.
fn rules(content: &str) -> Vec<&'static str> {
    read(content).faults().iter().map(|fault| fault.rule).collect()
}

fn ty(schemas: &Schemas, name: &str) -> TypeId {
    schemas.type_named(&QName::new("urn:t", name)).unwrap_or_else(|| panic!("{name}"))
}

/// The elements that a type may hold, each as `name min max`.
fn children(schemas: &Schemas, name: &str) -> Vec<String> {
    let show = |occurs: Occurs| {
        format!("{} {}", occurs.min, occurs.max.map_or("*".to_owned(), |max| max.to_string()))
    };
    let all = schemas.children(ty(schemas, name));
    all.into_iter()
        .map(|(id, occurs)| format!("{} {}", schemas.elements[id].name.local, show(occurs)))
        .collect()
}

#[test]
fn extension_adds_and_restriction_replaces() {
    let schemas = sound(
        "<xs:complexType name='A'><xs:sequence><xs:element name='a' type='xs:int'/><xs:element name='b' type='xs:int' minOccurs='0'/></xs:sequence><xs:attribute name='x' type='xs:int'/></xs:complexType>
         <xs:complexType name='B'><xs:complexContent><xs:extension base='t:A'><xs:sequence><xs:element name='c' type='xs:int'/></xs:sequence><xs:attribute name='y' use='required'/></xs:extension></xs:complexContent></xs:complexType>
         <xs:complexType name='C'><xs:complexContent><xs:restriction base='t:B'><xs:sequence><xs:element name='a' type='xs:int'/></xs:sequence><xs:attribute name='x' use='prohibited'/></xs:restriction></xs:complexContent></xs:complexType>
         <xs:complexType name='D'><xs:complexContent><xs:extension base='t:C'/></xs:complexContent></xs:complexType>",
    );
    assert_eq!(children(&schemas, "A"), ["a 1 1", "b 0 1"]);
    assert_eq!(children(&schemas, "B"), ["a 1 1", "b 0 1", "c 1 1"]);
    assert_eq!(children(&schemas, "C"), ["a 1 1"]);
    assert_eq!(children(&schemas, "D"), ["a 1 1"]);
    let attributes = |name: &str| -> Vec<(String, bool)> {
        let (found, _) = schemas.attributes(ty(&schemas, name));
        found.into_iter().map(|attribute| (attribute.name.local.to_string(), attribute.required)).collect()
    };
    assert_eq!(attributes("B"), [("x".to_owned(), false), ("y".to_owned(), true)]);
    assert_eq!(attributes("C"), [("y".to_owned(), true)]);
    assert_eq!(attributes("D"), [("y".to_owned(), true)]);
}

#[test]
fn occurrences_multiply_through_groups() {
    let schemas = sound(
        "<xs:group name='G'><xs:sequence><xs:element name='g' type='xs:int' maxOccurs='3'/></xs:sequence></xs:group>
         <xs:complexType name='A'><xs:sequence maxOccurs='2'><xs:group ref='t:G' minOccurs='0' maxOccurs='4'/>
         <xs:choice><xs:element name='l' type='xs:int'/><xs:element name='r' type='xs:int' maxOccurs='unbounded'/></xs:choice></xs:sequence></xs:complexType>",
    );
    assert_eq!(children(&schemas, "A"), ["g 0 24", "l 0 2", "r 0 *"]);
}

#[test]
fn local_names_are_qualified_as_the_schema_and_the_form_say() {
    let content = "<xs:complexType name='A'><xs:sequence><xs:element name='a' type='xs:int'/><xs:element name='q' form='qualified' type='xs:int'/><xs:element name='u' form='unqualified' type='xs:int'/></xs:sequence><xs:attribute name='x' form='qualified'/><xs:attribute name='y'/></xs:complexType>";
    for (form, a) in [("", ""), (" elementFormDefault='qualified'", "urn:t")] {
        let (_, schemas) = read_files(&[("t.xsd", &format!("{HEAD}{form}>{content}</xs:schema>"))]);
        let namespaces: Vec<String> = schemas
            .children(ty(&schemas, "A"))
            .into_iter()
            .map(|(id, _)| schemas.elements[id].name.namespace.to_string())
            .collect();
        assert_eq!(namespaces, [a, "urn:t", ""]);
        let (attributes, _) = schemas.attributes(ty(&schemas, "A"));
        assert_eq!(attributes.iter().map(|a| &*a.name.namespace).collect::<Vec<_>>(), ["urn:t", ""]);
    }
}

#[test]
fn attribute_groups_and_wildcards() {
    let schemas = sound(
        "<xs:import namespace='http://www.w3.org/XML/1998/namespace'/><xs:attributeGroup name='Inner'><xs:attribute name='i' type='xs:int' default='4'/></xs:attributeGroup>
         <xs:attributeGroup name='Outer'><xs:attribute name='o' fixed='on'/><xs:attributeGroup ref='t:Inner'/><xs:anyAttribute namespace='##other' processContents='lax'/></xs:attributeGroup>
         <xs:complexType name='A'><xs:attributeGroup ref='t:Outer'/><xs:attribute ref='xml:lang'/></xs:complexType>",
    );
    let (attributes, any) = schemas.attributes(ty(&schemas, "A"));
    let shown: Vec<(&str, Option<&ValueConstraint>)> =
        attributes.iter().map(|a| (&*a.name.local, a.value)).collect();
    assert_eq!(
        shown,
        [
            ("o", Some(&ValueConstraint::Fixed("on".into()))),
            ("i", Some(&ValueConstraint::Default("4".into()))),
            ("lang", None)
        ]
    );
    let any = any.unwrap();
    assert_eq!((any.process, &any.namespaces), (Process::Lax, &NamespaceConstraint::Not("urn:t".into())));
    assert!(
        !any.namespaces.allows("urn:t") && !any.namespaces.allows("") && any.namespaces.allows("urn:else")
    );
}

#[test]
fn wildcards_of_elements() {
    let schemas = sound(
        "<xs:complexType name='A'><xs:sequence><xs:any minOccurs='0' maxOccurs='unbounded' processContents='skip' namespace='##targetNamespace ##local urn:x'/></xs:sequence></xs:complexType>",
    );
    let content = schemas.content(ty(&schemas, "A"));
    let (compositor, members) = schemas.particle_group(content[0]).unwrap();
    assert_eq!(compositor, Compositor::Sequence);
    let Term::Any(any) = &schemas.particles[members[0]].term else { panic!("no wildcard") };
    assert_eq!(any.process, Process::Skip);
    for (namespace, allowed) in [("urn:t", true), ("", true), ("urn:x", true), ("urn:y", false)] {
        assert_eq!(any.namespaces.allows(namespace), allowed, "{namespace}");
    }
    assert!(children(&schemas, "A").is_empty());
}

#[test]
fn facets_of_all_steps_are_in_force() {
    let schemas = sound(
        "<xs:simpleType name='A'><xs:restriction base='xs:string'><xs:maxLength value='40'/><xs:pattern value='[A-Z].*'/><xs:pattern value='[0-9].*'/></xs:restriction></xs:simpleType>
         <xs:simpleType name='B'><xs:restriction base='t:A'><xs:maxLength value='20'/><xs:minLength value='2'/><xs:pattern value='.*x'/><xs:whiteSpace value='collapse'/></xs:restriction></xs:simpleType>
         <xs:simpleType name='N'><xs:restriction base='xs:short'><xs:minExclusive value='4'/><xs:totalDigits value='3'/></xs:restriction></xs:simpleType>
         <xs:simpleType name='E'><xs:restriction base='xs:token'><xs:enumeration value='a'/><xs:enumeration value='b'/></xs:restriction></xs:simpleType>
         <xs:simpleType name='F'><xs:restriction base='t:E'><xs:enumeration value='b'/></xs:restriction></xs:simpleType>",
    );
    let b = schemas.simple(ty(&schemas, "B")).unwrap();
    assert_eq!((b.facets.min_length, b.facets.max_length), (Some(2), Some(20)));
    assert_eq!(b.facets.patterns, [vec![".*x"], vec!["[A-Z].*", "[0-9].*"]]);
    assert_eq!(b.facets.white_space, Some(WhiteSpace::Collapse));
    assert_eq!((b.builtin, b.variety), (Builtin::String, SimpleVariety::Atomic));
    let n = schemas.simple(ty(&schemas, "N")).unwrap();
    assert_eq!(n.facets.min, Some(Bound { value: "4", inclusive: false }));
    assert_eq!(n.facets.max, Some(Bound { value: "32767", inclusive: true }));
    assert_eq!((n.facets.total_digits, n.facets.fraction_digits), (Some(3), Some(0)));
    assert_eq!(schemas.simple(ty(&schemas, "F")).unwrap().facets.enumeration, Some(vec!["b"]));
}

#[test]
fn lists_and_unions() {
    let schemas = sound(
        "<xs:simpleType name='L'><xs:list itemType='xs:int'/></xs:simpleType>
         <xs:simpleType name='S'><xs:restriction base='t:L'><xs:maxLength value='3'/></xs:restriction></xs:simpleType>
         <xs:simpleType name='U'><xs:union memberTypes='xs:int xs:date'><xs:simpleType><xs:restriction base='xs:token'/></xs:simpleType></xs:union></xs:simpleType>",
    );
    let s = schemas.simple(ty(&schemas, "S")).unwrap();
    assert_eq!(s.variety, SimpleVariety::List(Builtin::Int.id()));
    assert_eq!(s.facets.max_length, Some(3));
    let SimpleVariety::Union(members) = schemas.simple(ty(&schemas, "U")).unwrap().variety else {
        panic!("no union")
    };
    assert_eq!(members.len(), 3);
    assert_eq!(members[..2], [Builtin::Int.id(), Builtin::Date.id()]);
    assert_eq!(
        schemas.simple(Builtin::NmTokens.id()).unwrap().variety,
        SimpleVariety::List(Builtin::NmToken.id())
    );
}

#[test]
fn simple_content_is_simple_with_attributes() {
    let schemas = sound(
        "<xs:complexType name='A'><xs:simpleContent><xs:extension base='xs:decimal'><xs:attribute name='unit'/></xs:extension></xs:simpleContent></xs:complexType>
         <xs:complexType name='B'><xs:simpleContent><xs:restriction base='t:A'><xs:maxInclusive value='9'/></xs:restriction></xs:simpleContent></xs:complexType>
         <xs:complexType name='C'><xs:simpleContent><xs:extension base='t:B'/></xs:simpleContent></xs:complexType>",
    );
    for name in ["A", "B", "C"] {
        let simple = schemas.simple(ty(&schemas, name)).unwrap();
        assert_eq!(simple.builtin, Builtin::Decimal);
        assert_eq!(simple.facets.max.map(|max| max.value), (name != "A").then_some("9"));
        assert_eq!(schemas.attributes(ty(&schemas, name)).0.len(), 1, "{name}");
        assert!(schemas.content(ty(&schemas, name)).is_empty());
    }
}

#[test]
fn elements_take_types_from_where_they_find_them() {
    let schemas = sound(
        "<xs:element name='head' type='xs:int'/><xs:element name='member' substitutionGroup='t:head'/><xs:element name='last' substitutionGroup='t:member'/>
         <xs:element name='any'/><xs:element name='inline'><xs:complexType/></xs:element>",
    );
    let of = |name: &str| schemas.element_type(schemas.element_named(&QName::new("urn:t", name)).unwrap());
    assert_eq!(of("member"), Builtin::Int.id());
    assert_eq!(of("last"), Builtin::Int.id());
    assert_eq!(of("any"), Builtin::AnyType.id());
    assert!(schemas.is_any(of("any")) && !schemas.is_any(of("inline")));
    assert!(matches!(schemas.types[of("inline")].kind, TypeKind::Complex(_)));
}

#[test]
fn mixed_abstract_nillable_block_and_final() {
    let schemas = sound(
        "<xs:complexType name='A' mixed='true' abstract='1' block='#all' final='extension'><xs:sequence/></xs:complexType>
         <xs:complexType name='B'><xs:complexContent mixed='true'><xs:extension base='t:A'/></xs:complexContent></xs:complexType>
         <xs:element name='e' type='t:B' nillable='true' abstract='true' default='7' block='substitution'/>",
    );
    let a = schemas.complex(ty(&schemas, "A")).unwrap();
    assert!(a.is_abstract && a.block.restriction && schemas.types[ty(&schemas, "A")].final_.extension);
    assert!(!schemas.types[ty(&schemas, "A")].final_.restriction);
    assert!(schemas.is_mixed(ty(&schemas, "B")));
    let e = &schemas.elements[schemas.element_named(&QName::new("urn:t", "e")).unwrap()];
    assert!(e.nillable && e.is_abstract && e.block.substitution && !e.block.extension);
    assert_eq!(e.value.as_deref(), Some(&ValueConstraint::Default("7".into())));
}

#[test]
fn identity_constraints_notations_and_annotations_are_kept() {
    let (files, schemas) = sound_files(
        "<xs:annotation><xs:documentation>Of the port.</xs:documentation><xs:appinfo source='x'/></xs:annotation>
         <xs:notation name='chart' public='-//Saltmere//Chart' system='chart.exe'/>
         <xs:element name='day'><xs:annotation><xs:documentation> One
           day. </xs:documentation></xs:annotation><xs:complexType/>
           <xs:key name='byBerth'><xs:selector xpath='t:visit'/><xs:field xpath='@berth'/><xs:field xpath='t:from'/></xs:key>
           <xs:keyref name='visits' refer='t:byBerth'><xs:selector xpath='t:note'/><xs:field xpath='@berth'/><xs:field xpath='@from'/></xs:keyref>
           <xs:unique name='once'><xs:selector xpath='.'/><xs:field xpath='@id'/></xs:unique></xs:element>",
    );
    assert_eq!(schemas.documents[0].documentation, ["Of the port."]);
    let day = &schemas.elements[schemas.element_named(&QName::new("urn:t", "day")).unwrap()];
    assert_eq!(day.constraints.len(), 3);
    let of = |n: usize| &schemas.constraints[day.constraints[n]];
    assert_eq!((of(0).kind, of(0).fields.len()), (ConstraintKind::Key, 2));
    assert_eq!(of(0).selector.as_ref().unwrap().text, "t:visit");
    assert_eq!(of(1).refer.as_ref().unwrap().target, Some(day.constraints[0]));
    assert_eq!(of(2).kind, ConstraintKind::Unique);
    let annotation = Annotation::read(&files, day.place.file, day.annotation);
    assert!(annotation.documentation[0].starts_with("One"));
    let (_, chart) = schemas.notations.iter().next().unwrap();
    assert_eq!(
        (chart.public.as_deref(), chart.system.as_deref()),
        (Some("-//Saltmere//Chart"), Some("chart.exe"))
    );
}

#[test]
fn includes_bring_components_and_a_schema_without_namespace_takes_that_of_its_host() {
    let (_, schemas) = read_files(&[
        (
            "t.xsd",
            &format!(
                "{HEAD}><xs:include schemaLocation='same.xsd'/><xs:include schemaLocation='none.xsd'/><xs:element name='a' type='t:Same'/><xs:element name='b' type='t:Lent'/></xs:schema>"
            ),
        ),
        (
            "same.xsd",
            &format!(
                "{HEAD}><xs:simpleType name='Same'><xs:restriction base='xs:int'/></xs:simpleType></xs:schema>"
            ),
        ),
        (
            "none.xsd",
            "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'><xs:complexType name='Lent'><xs:sequence><xs:element name='next' type='Lent' minOccurs='0'/></xs:sequence></xs:complexType></xs:schema>",
        ),
    ]);
    assert!(schemas.faults().is_empty(), "{:?}", schemas.faults());
    let lent = ty(&schemas, "Lent");
    assert_eq!(schemas.element_type(schemas.children(lent)[0].0), lent);
    assert!(schemas.documents.iter().any(|document| document.adopted && &*document.namespace == "urn:t"));
}

#[test]
fn imports_must_name_the_namespace_that_they_get() {
    let schema = |location: &str, namespace: &str| {
        let main =
            format!("{HEAD}><xs:import namespace='{namespace}' schemaLocation='{location}'/></xs:schema>");
        let other = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:o'/>";
        let (_, schemas) = read_files(&[("t.xsd", &main), ("o.xsd", other), ("page.xsd", "<page/>")]);
        schemas.faults().iter().map(|fault| fault.rule).collect::<Vec<_>>()
    };
    assert!(schema("o.xsd", "urn:o").is_empty());
    assert_eq!(schema("o.xsd", "urn:x"), ["src-import"]);
    assert_eq!(schema("page.xsd", "urn:o"), ["src-import"]);
    let include = format!("{HEAD}><xs:include schemaLocation='o.xsd'/></xs:schema>");
    let other = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' targetNamespace='urn:o'/>";
    let (_, schemas) = read_files(&[("t.xsd", &include), ("o.xsd", other)]);
    assert_eq!(schemas.faults()[0].rule, "src-include");
}

#[test]
fn what_is_wrong_is_said_once_and_the_rest_is_read() {
    for (content, rule) in [
        ("<xs:element name='a' type='t:Gone'/>", "src-resolve"),
        (
            "<xs:complexType name='A'><xs:sequence><xs:element ref='t:gone'/></xs:sequence></xs:complexType>",
            "src-resolve",
        ),
        ("<xs:complexType name='A'><xs:attribute ref='t:gone'/></xs:complexType>", "src-resolve"),
        ("<xs:complexType name='A'><xs:group ref='t:Gone'/></xs:complexType>", "src-resolve"),
        ("<xs:complexType name='A'><xs:attributeGroup ref='t:Gone'/></xs:complexType>", "src-resolve"),
        ("<xs:element name='a' substitutionGroup='t:gone'/>", "src-resolve"),
        ("<xs:element name='a' type='z:Gone'/>", "xml-prefix"),
        ("<xs:element name='a'/><xs:element name='a'/>", "sch-props-correct"),
        (
            "<xs:group name='G'><xs:sequence/></xs:group><xs:group name='G'><xs:choice/></xs:group>",
            "sch-props-correct",
        ),
        ("<xs:element type='xs:int'/>", "schema-name"),
        ("<xs:element name='4'/>", "name-syntax"),
        ("<xs:tide/>", "schema-structure"),
        ("<tide/>", "schema-structure"),
        ("<xs:simpleType name='S'/>", "schema-structure"),
        ("<xs:simpleType name='S'><xs:restriction/></xs:simpleType>", "src-simple-type"),
        (
            "<xs:complexType name='A'><xs:complexContent><xs:extension/></xs:complexContent></xs:complexType>",
            "schema-attribute",
        ),
        ("<xs:complexType name='A'><xs:sequence/><xs:choice/></xs:complexType>", "schema-structure"),
        ("<xs:complexType name='A'><xs:sequence maxOccurs='0'/></xs:complexType>", "p-props-correct"),
        (
            "<xs:complexType name='A'><xs:sequence><xs:element name='a' minOccurs='-1'/></xs:sequence></xs:complexType>",
            "schema-occurs",
        ),
        (
            "<xs:element name='a' type='xs:int'><xs:simpleType><xs:restriction base='xs:int'/></xs:simpleType></xs:element>",
            "src-element",
        ),
        ("<xs:simpleType name='S'><xs:list itemType='t:S'/></xs:simpleType>", "st-props-correct"),
        ("<xs:simpleType name='S'><xs:restriction base='t:S'/></xs:simpleType>", "st-props-correct"),
    ] {
        assert_eq!(rules(&format!("{content}<xs:element name='after' type='xs:int'/>")), [rule], "{content}");
        let schemas = read(&format!("{content}<xs:element name='after' type='xs:int'/>"));
        assert!(schemas.element_named(&QName::new("urn:t", "after")).is_some(), "{content}");
    }
}

#[test]
fn maxoccurs_zero_needs_minoccurs_zero_and_large_bounds_are_taken() {
    assert!(rules("<xs:complexType name='A'><xs:sequence><xs:element name='a' minOccurs='0' maxOccurs='0'/><xs:element name='b' maxOccurs='99999999999999999999'/></xs:sequence></xs:complexType>").is_empty());
}

#[test]
fn advice_tells_slips_from_wrong_prefixes_and_missing_imports() {
    let help = |content: &str| read(content).faults()[0].help.clone().unwrap();
    assert_eq!(
        help(
            "<xs:simpleType name='Tide'><xs:restriction base='xs:int'/></xs:simpleType><xs:element name='a' type='t:Tyde'/>"
        ),
        "did you mean \"Tide\"?"
    );
    assert_eq!(
        help("<xs:element name='a' type='t:int'/>"),
        "there is one in http://www.w3.org/2001/XMLSchema: is the prefix right?"
    );
    assert!(
        help("<xs:element xmlns:v='urn:v' name='a' type='v:Vessel'/>")
            .starts_with("no type in urn:v was read")
    );
}
