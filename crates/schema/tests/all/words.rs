//! What samples say: by the names that a schema has, within the types that it has.

use std::sync::Arc;

use charter_schema::sample::{Sampler, Size, Vocabulary, to_document};
use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay, QName};

/// A sample of the element `a` of a schema, in the words of a team.
fn sample(content: &str, words: Vocabulary, size: Size) -> String {
    let text = format!("<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'>{content}</xs:schema>");
    let store = Overlay::of(&[("t.xsd", &text)]);
    let files = Files::load(&store, &Location::from_argument("t.xsd"), Limits::default()).unwrap();
    let mut schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    schemas.vocabulary = Arc::new(words);
    let engine = Engine::new(&files, &schemas);
    let id = schemas.element_named(&QName::new("", "a")).unwrap();
    let document = to_document(&Sampler::new(&engine, size).element(id).unwrap());
    // Whatever it says, it is valid.
    let judged = Overlay::of(&[("a.xml", &document)]);
    let judged = Files::load(&judged, &Location::from_argument("a.xml"), Limits::default()).unwrap();
    let report = engine.validate(judged.first().id, judged.first().root().unwrap(), 5);
    assert!(report.is_valid(), "{:?}\n{document}", report.wrong);
    document
}

/// An element `a` with children of some names and types.
fn with(children: &[(&str, &str)]) -> String {
    let children: String =
        children.iter().map(|(name, ty)| format!("<xs:element name='{name}' type='xs:{ty}'/>")).collect();
    format!(
        "<xs:element name='a'><xs:complexType><xs:sequence>{children}</xs:sequence></xs:complexType></xs:element>"
    )
}

/// The value of a child of a name and a type.
fn value(name: &str, ty: &str) -> String {
    let document = sample(&with(&[(name, ty)]), Vocabulary::default(), Size::Typical);
    let (_, rest) = document.split_once(&format!("<{name}>")).unwrap();
    rest.split_once("</").unwrap().0.to_owned()
}

#[test]
fn names_are_told_by_their_last_words() {
    for (name, said) in [
        ("language", "en"),
        ("languageCode", "en"),
        ("userLanguage", "en"),
        ("country", "NL"),
        ("countryCode", "NL"),
        ("country_iso_code", "NL"),
        ("homeCountry", "NL"),
        ("countryName", "Netherlands"),
        ("currency", "EUR"),
        ("currencyCode", "EUR"),
        ("email", "kim.jansen@example.org"),
        ("contactEmail", "kim.jansen@example.org"),
        ("emailAddress", "kim.jansen@example.org"),
        ("firstName", "Kim"),
        ("lastName", "Jansen"),
        ("familyName", "Jansen"),
        ("userName", "k.jansen"),
        ("contactPerson", "Kim Jansen"),
        ("city", "Leiden"),
        ("postalCode", "2312 AB"),
        ("street", "Long Street 4"),
        ("fileName", "document.pdf"),
        ("hostName", "host.example.org"),
        ("website_url", "https://example.org/1"),
        ("ipAddress", "192.0.2.10"),
        ("remarks", "A short remark."),
        ("lastRemark", "A short remark."),
        ("title", "First title"),
        ("status", "open"),
        ("birthDate", "2026-03-14"),
        ("orderedAtTime", "06:30:00"),
        ("reference", "41702"),
        ("berthName", "First berth"),
        ("somethingElse", "something else"),
        ("x", "x"),
    ] {
        assert_eq!(value(name, "string"), said, "{name}");
    }
}

#[test]
fn the_type_has_the_last_word() {
    for (name, ty, said) in [
        ("country", "int", "12"),
        ("amount", "decimal", "120.00"),
        ("amount", "int", "120"),
        ("amount", "string", "120.00"),
        ("count", "positiveInteger", "3"),
        ("language", "language", "en"),
        ("email", "date", "2026-03-14"),
        ("email", "boolean", "true"),
        ("link", "anyURI", "https://example.org/1"),
        ("city", "anyURI", "https://example.org/1"),
        ("address", "anyURI", "https://example.org/1"),
        ("until", "date", "2026-03-16"),
        ("until", "dateTime", "2026-03-14T08:00:00Z"),
        ("year", "gYear", "2026"),
        ("year", "int", "2026"),
        ("latitude", "double", "52.16"),
        ("photo", "base64Binary", "U2FtcGxl"),
        ("digest", "hexBinary", "53616D70"),
        ("wait", "duration", "PT1H30M"),
    ] {
        assert_eq!(value(name, ty), said, "{name}: {ty}");
    }
}

#[test]
fn two_of_a_kind_are_not_the_same() {
    let list = |name: &str, ty: &str| {
        let content = format!(
            "<xs:element name='a'><xs:complexType><xs:sequence><xs:element name='{name}' type='xs:{ty}' maxOccurs='unbounded'/></xs:sequence></xs:complexType></xs:element>"
        );
        let document = sample(&content, Vocabulary::default(), Size::Typical);
        let tag = format!("<{name}>");
        let values = document.split(&tag).skip(1);
        values.map(|rest| rest.split("</").next().unwrap().to_owned()).collect::<Vec<String>>()
    };
    for (name, ty, said) in [
        ("country", "string", ["NL", "DE"]),
        ("email", "string", ["kim.jansen@example.org", "office@example.org"]),
        ("amount", "int", ["120", "80"]),
        ("amount", "decimal", ["120.00", "80.00"]),
        ("id", "int", ["41702", "41703"]),
        ("id", "string", ["41702", "41703"]),
        ("from", "date", ["2026-03-14", "2026-03-15"]),
    ] {
        assert_eq!(list(name, ty), said, "{name}: {ty}");
    }
}

#[test]
fn a_team_is_heard_first_and_by_the_longest_name() {
    let mut words = Vocabulary::default();
    words.insert("name", ["Anyone"]);
    words.insert("vessel/name", ["Marsh Harrier"]);
    words.insert("draught", ["deep", "9.4", "9"]);
    words.insert("country", ["Saltmere"]);
    let content = "<xs:complexType name='Named'><xs:sequence><xs:element name='name' type='xs:string'/></xs:sequence></xs:complexType>\
        <xs:element name='a'><xs:complexType><xs:sequence><xs:element name='vessel' type='Named'/><xs:element name='pilot' type='Named'/>\
        <xs:element name='draught' type='xs:decimal'/><xs:element name='keelDraught' type='xs:int'/><xs:element name='country' type='xs:string'/>\
        <xs:element name='lastVesselName' type='xs:token'/></xs:sequence></xs:complexType></xs:element>";
    let document = sample(content, words, Size::Typical);
    for said in [
        "<draught>9.4</draught>",
        "<keelDraught>9</keelDraught>",
        "<country>Saltmere</country>",
        "<lastVesselName>Marsh Harrier</lastVesselName>",
        "<name>Anyone</name>",
    ] {
        assert!(document.contains(said), "{said} is not in\n{document}");
    }
}

#[test]
fn what_a_team_says_is_never_invalid() {
    let mut words = Vocabulary::default();
    for name in ["sign", "depth", "kind", "when", "many", "code"] {
        words.insert(name, ["", " ", "no such thing", "<&>", "7", "-1", "2026-03-14", "ABC123"]);
    }
    let content = "<xs:element name='a'><xs:complexType><xs:sequence>\
        <xs:element name='sign'><xs:simpleType><xs:restriction base='xs:token'><xs:pattern value='[A-Z]{3}[0-9]{3}'/></xs:restriction></xs:simpleType></xs:element>\
        <xs:element name='depth'><xs:simpleType><xs:restriction base='xs:decimal'><xs:minExclusive value='7'/><xs:fractionDigits value='1'/></xs:restriction></xs:simpleType></xs:element>\
        <xs:element name='kind'><xs:simpleType><xs:restriction base='xs:string'><xs:enumeration value='tug'/><xs:enumeration value='ferry'/></xs:restriction></xs:simpleType></xs:element>\
        <xs:element name='when' type='xs:dateTime'/>\
        <xs:element name='many'><xs:simpleType><xs:list itemType='xs:int'/></xs:simpleType></xs:element>\
        <xs:element name='code' type='xs:NCName'/>\
        </xs:sequence><xs:attribute name='code' type='xs:ID' use='required'/></xs:complexType></xs:element>";
    for size in [Size::Least, Size::Typical, Size::Most] {
        let document = sample(content, words.clone(), size);
        assert!(document.contains("<sign>ABC123</sign>"), "{document}");
        assert!(document.contains("<kind>tug</kind>"), "{document}");
    }
    for seed in 1..40 {
        sample(content, words.clone(), Size::Random(seed));
    }
}

#[test]
fn nothing_said_speaks_of_a_port() {
    let names = [
        "vessel", "ship", "pilot", "master", "tug", "berth", "quay", "harbour", "port", "draught", "agent",
        "company", "owner", "user", "password", "note", "remark", "reason", "message", "text", "title",
        "place", "town", "address", "url", "id",
    ];
    let children: Vec<(&str, &str)> = names.iter().map(|name| (*name, "string")).collect();
    let document = sample(&with(&children), Vocabulary::default(), Size::Typical).to_lowercase();
    for word in [
        "saltmere", "tolland", "calloway", "harrier", "plover", "heron", "noon", "fog", "arrival", "oakhaven",
    ] {
        assert!(!document.contains(word), "{word} is in\n{document}");
    }
}
