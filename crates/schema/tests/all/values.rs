//! The built-in types by documents: what each takes, which texts are one value, and which value is greater.

use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay};

fn load(text: &str) -> Files {
    Files::load(&Overlay::of(&[("t.xml", text)]), &Location::from_argument("t.xml"), Limits::default())
        .unwrap()
}

/// Whether a schema whose element `v` has this type takes the text as its content.
fn takes(schema: &str, text: &str) -> bool {
    let files = load(&format!(
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema' xmlns:p='urn:p'>{schema}<xs:notation name='chart' public='chart'/></xs:schema>"
    ));
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    let engine = Engine::new(&files, &schemas);
    let faults: Vec<_> = schemas.faults().iter().cloned().chain(engine.judge()).collect();
    assert!(faults.is_empty(), "{schema}: {faults:?}");
    let text = text.replace('<', "&lt;");
    let document = load(&format!(
        "<!DOCTYPE v [<!NOTATION chart PUBLIC 'chart'><!ENTITY map SYSTEM 'map' NDATA chart><!ENTITY plan SYSTEM 'plan' NDATA chart>]><v xmlns:p='urn:p'>{text}</v>"
    ));
    let root = document.first().root().unwrap_or_else(|| panic!("{text}: {:?}", document.faults()));
    engine.validate(document.first().id, root, 10).is_valid()
}

#[track_caller]
fn lexical(ty: &str, right: &[&str], wrong: &[&str]) {
    let schema = format!("<xs:element name='v' type='xs:{ty}'/>");
    for text in right {
        assert!(takes(&schema, text), "{ty} takes \"{text}\"");
    }
    for text in wrong {
        assert!(!takes(&schema, text), "{ty} does not take \"{text}\"");
    }
}

#[test]
fn texts() {
    lexical("string", &["", " a ", "two\nlines", "æ𝄞"], &[]);
    lexical("normalizedString", &["", " a  b "], &[]);
    lexical("token", &["", "a b", "  a  "], &[]);
    lexical(
        "language",
        &["en", "en-GB", "x-saltmere", "abcdefgh-12345678"],
        &["", "e1", "englishtongue", "en_GB", "en-"],
    );
    lexical("NMTOKEN", &["a", "1a", "-a.b:c"], &["", "a b", "a/b"]);
    lexical("NMTOKENS", &["a", "1 2 3", " a  b "], &["", "a /"]);
    lexical("Name", &["a", "_a", ":a", "a:b-1"], &["", "1a", "a b", "-a"]);
    lexical("NCName", &["a", "_a.b-1", "élan"], &["", "a:b", "1a"]);
    lexical("anyURI", &["", "http://saltmere.example/a?b#c", "a b", "../x", "ä"], &["http://[::1", "%zz"]);
    lexical("anySimpleType", &["", "anything at all"], &[]);
}

#[test]
fn names_and_references() {
    lexical("QName", &["a", "p:a", " p:a "], &["", "q:a", "p:", ":a", "p:a:b", "1a"]);
    lexical("ID", &["a", "_1"], &["", "1", "a b"]);
    lexical("IDREF", &[], &["nobody", "1"]);
    lexical("IDREFS", &[], &["", "nobody else"]);
    lexical("ENTITY", &["map", " plan "], &["", "chart", "map plan"]);
    lexical("ENTITIES", &["map", "map plan"], &["", "map other"]);
    let notation = "<xs:element name='v'><xs:simpleType><xs:restriction base='xs:NOTATION'><xs:enumeration value='chart'/></xs:restriction></xs:simpleType></xs:element>";
    assert!(takes(notation, "chart") && !takes(notation, "p:chart") && !takes(notation, "map"));
}

#[test]
fn numbers() {
    lexical(
        "decimal",
        &["0", "-0", "+1.", ".5", "00012.500", "123456789012345678901234567890.1"],
        &["", ".", "1e3", "1,5", "INF", "--1"],
    );
    lexical("integer", &["0", "-12", "+7", "99999999999999999999999999"], &["", "1.0", "1e2", "+"]);
    lexical("nonPositiveInteger", &["0", "-0", "-99999999999999999999"], &["1", "+1"]);
    lexical("negativeInteger", &["-1", "-99999999999999999999"], &["0", "1", "-0"]);
    lexical("nonNegativeInteger", &["0", "-0", "+5", "99999999999999999999"], &["-1"]);
    lexical("positiveInteger", &["1", "+1", "99999999999999999999"], &["0", "-1"]);
    lexical(
        "long",
        &["9223372036854775807", "-9223372036854775808", "+0"],
        &["9223372036854775808", "-9223372036854775809"],
    );
    lexical("int", &["2147483647", "-2147483648"], &["2147483648", "-2147483649", "1.0"]);
    lexical("short", &["32767", "-32768"], &["32768", "-32769"]);
    lexical("byte", &["127", "-128", "000127"], &["128", "-129"]);
    lexical("unsignedLong", &["18446744073709551615", "0"], &["18446744073709551616", "-1"]);
    lexical("unsignedInt", &["4294967295"], &["4294967296", "-1"]);
    lexical("unsignedShort", &["65535"], &["65536", "-1"]);
    lexical("unsignedByte", &["255", "-0"], &["256", "-1"]);
    lexical(
        "float",
        &["1", "-1.5E-3", ".5e+2", "INF", "-INF", "NaN", "1e999"],
        &["", "+INF", "inf", "nan", "1e", "1e1.5"],
    );
    lexical("double", &["0", "1.7976931348623157E308", "INF", "NaN"], &["", "Infinity", "1d", "0x1"]);
    lexical("boolean", &["true", "false", "0", "1", " true "], &["", "TRUE", "yes", "2"]);
}

#[test]
fn times() {
    lexical(
        "dateTime",
        &[
            "2026-03-14T06:30:00",
            "2026-03-14T06:30:00.123456789Z",
            "-0044-03-15T12:00:00+14:00",
            "12026-01-01T00:00:00-05:30",
            "2026-03-14T24:00:00",
        ],
        &[
            "2026-03-14",
            "2026-3-14T06:30:00",
            "0000-01-01T00:00:00",
            "2026-02-29T00:00:00",
            "2026-03-14T24:00:01",
            "2026-03-14T06:60:00",
            "2026-03-14T06:30:00+14:01",
            "2026-03-14T06:30:00.",
            "02026-03-14T06:30:00",
        ],
    );
    lexical(
        "date",
        &["2026-03-14", "2024-02-29Z", "-0001-01-01", "10000-01-01+01:00"],
        &["2025-02-29", "2026-13-01", "2026-00-10", "26-03-14", "2026-03-14T00:00:00"],
    );
    lexical(
        "time",
        &["06:30:00", "23:59:59.9Z", "24:00:00"],
        &["6:30:00", "06:30", "24:00:01", "25:00:00", "06:30:60"],
    );
    lexical("gYear", &["2026", "-0044", "12026Z"], &["26", "0000", "02026", "+2026"]);
    lexical("gYearMonth", &["2026-03", "2026-03-05:00"], &["2026-13", "2026", "2026-3"]);
    lexical("gMonth", &["--03", "--12Z"], &["--13", "-03", "--3", "--12--"]);
    lexical("gMonthDay", &["--02-29", "--12-31Z"], &["--02-30", "--04-31", "02-29"]);
    lexical("gDay", &["---31", "---01Z"], &["---32", "---00", "--31"]);
    lexical(
        "duration",
        &["P1Y2M3DT4H5M6.7S", "-P1D", "PT0S", "P0Y", "PT36H"],
        &["", "P", "P1DT", "1D", "P1H", "P-1D", "PT1.5H", "P1S"],
    );
}

#[test]
fn octets() {
    lexical("hexBinary", &["", "0a", "53414C54"], &["0", "0g", "0x00", "0 a0"]);
    lexical(
        "base64Binary",
        &["", "U2FsdA==", "U2 Fs\ndA = =", "AAAA"],
        &["U2FsdA", "U2FsdA=", "=AAA", "U2FsdB==", "A"],
    );
}

/// Whether a text is the same value as one that an enumeration lists.
fn same(ty: &str, listed: &str, text: &str) -> bool {
    let schema = format!(
        "<xs:element name='v'><xs:simpleType><xs:restriction base='xs:{ty}'><xs:enumeration value='{listed}'/></xs:restriction></xs:simpleType></xs:element>"
    );
    takes(&schema, text)
}

#[test]
fn one_value_may_be_written_in_several_ways() {
    for (ty, one, other) in [
        ("decimal", "1.50", "+01.5"),
        ("decimal", "-0.0", "0"),
        ("integer", "007", "7"),
        ("float", "1e2", "100.0"),
        ("float", "0.1", "0.10000000001"),
        ("double", "NaN", "NaN"),
        ("double", "-0", "0"),
        ("dateTime", "2026-03-14T06:30:00Z", "2026-03-14T08:30:00+02:00"),
        ("dateTime", "2026-03-14T24:00:00Z", "2026-03-15T00:00:00.000Z"),
        ("time", "12:00:00Z", "14:00:00+02:00"),
        ("date", "2026-03-14Z", "2026-03-14+00:00"),
        ("duration", "P1Y", "P12M"),
        ("duration", "PT36H", "P1DT12H"),
        ("hexBinary", "0a", "0A"),
        ("base64Binary", "AAAA", "AA AA"),
        ("QName", "p:a", " p:a"),
        ("token", "a b", " a  b "),
    ] {
        assert!(same(ty, one, other), "{ty}: {one} is {other}");
    }
    for (ty, one, other) in [
        ("string", "a", "a "),
        ("decimal", "1.5", "1.50000000000000000000000000000001"),
        ("double", "0.1", "0.10000000001"),
        ("dateTime", "2026-03-14T06:30:00", "2026-03-14T06:30:00Z"),
        ("duration", "P1M", "P30D"),
        ("gYear", "2026", "2026Z"),
        ("anyURI", "http://port/a", "http://port/%61"),
        ("QName", "p:a", "a"),
        ("hexBinary", "00", ""),
    ] {
        assert!(!same(ty, one, other), "{ty}: {one} is not {other}");
    }
}

fn from(ty: &str, least: &str, text: &str) -> bool {
    let schema = format!(
        "<xs:element name='v'><xs:simpleType><xs:restriction base='xs:{ty}'><xs:minInclusive value='{least}'/></xs:restriction></xs:simpleType></xs:element>"
    );
    takes(&schema, text)
}

#[test]
fn values_are_ordered_as_far_as_they_are() {
    for (ty, least, more, less) in [
        ("decimal", "-1.5", "-1.4999999999999999999999", "-1.50000000000000000001"),
        ("integer", "100000000000000000000", "100000000000000000000", "99999999999999999999"),
        ("float", "-INF", "-INF", "NaN"),
        ("double", "1e300", "INF", "-INF"),
        ("date", "-0044-03-15", "0001-01-01", "-0045-12-31"),
        ("dateTime", "9999-12-31T23:59:59Z", "10000-01-01T00:00:00Z", "9999-12-31T23:59:58.999Z"),
        // Without a zone it may be up to fourteen hours off, either way.
        ("dateTime", "2026-03-14T12:00:00Z", "2026-03-15T02:00:01", "2026-03-15T01:00:00"),
        ("time", "06:30:00", "06:30:00.0", "06:29:59"),
        // A month has from 28 to 31 days.
        ("duration", "P1M", "P32D", "P30D"),
        ("duration", "P30D", "P2M", "P1M"),
        ("gMonthDay", "--02-29", "--03-01", "--02-28"),
        ("gDay", "---15", "---15", "---14"),
    ] {
        assert!(from(ty, least, more), "{ty}: {more} is at least {least}");
        assert!(!from(ty, least, less), "{ty}: {less} is not at least {least}");
    }
}

fn faceted(base: &str, facets: &[(&str, &str)], text: &str) -> bool {
    let facets: String = facets.iter().map(|(name, value)| format!("<xs:{name} value='{value}'/>")).collect();
    takes(
        &format!(
            "<xs:element name='v'><xs:simpleType><xs:restriction base='xs:{base}'>{facets}</xs:restriction></xs:simpleType></xs:element>"
        ),
        text,
    )
}

/// A base type, its facets by name and value, and texts that are right and wrong.
type Case =
    (&'static str, &'static [(&'static str, &'static str)], &'static [&'static str], &'static [&'static str]);

#[test]
fn facets_hold_for_values() {
    let cases: &[Case] = &[
        ("string", &[("length", "2")], &["ab", "𝄞𝄞"], &["a", "abc"]),
        ("token", &[("maxLength", "3")], &["  abc  "], &["a  bc d"]),
        ("hexBinary", &[("length", "2")], &["0a0b"], &["0a"]),
        ("base64Binary", &[("minLength", "4")], &["U2FsdA=="], &["AAAA"]),
        ("NMTOKENS", &[("length", "2")], &["a b", " a  b "], &["a", "a b c"]),
        (
            "decimal",
            &[("totalDigits", "3"), ("fractionDigits", "1")],
            &["12.50", "0012.5", "999"],
            &["123.4", "1.25", "1000"],
        ),
        ("decimal", &[("minExclusive", "0"), ("maxInclusive", "1")], &["0.001", "1.0"], &["0", "1.001"]),
        ("string", &[("pattern", "[a-c]+"), ("pattern", "\\d")], &["abc", "7"], &["a7", ""]),
        ("string", &[("whiteSpace", "collapse"), ("enumeration", "a b")], &[" a  b "], &["ab"]),
        ("integer", &[("pattern", "0\\d")], &["07"], &["7"]),
    ];
    for (base, facets, right, wrong) in cases {
        right
            .iter()
            .for_each(|text| assert!(faceted(base, facets, text), "{base} {facets:?} takes {text:?}"));
        wrong
            .iter()
            .for_each(|text| assert!(!faceted(base, facets, text), "{base} {facets:?} takes {text:?}"));
    }
}

#[test]
fn lists_and_unions_are_made_of_their_members() {
    let list =
        "<xs:simpleType name='L'><xs:list itemType='xs:int'/></xs:simpleType><xs:element name='v' type='L'/>";
    assert!(takes(list, "") && takes(list, " 1\n2 ") && !takes(list, "1 x"));
    let union = "<xs:simpleType name='U'><xs:union memberTypes='xs:int xs:boolean'><xs:simpleType><xs:restriction base='xs:token'><xs:enumeration value='high water'/></xs:restriction></xs:simpleType></xs:union></xs:simpleType><xs:element name='v' type='U'/>";
    assert!(
        takes(union, "12")
            && takes(union, "true")
            && takes(union, "high  water")
            && !takes(union, "low water")
    );
    // The value is that of the first member that takes the text, so 1 is a number here and not a truth.
    let narrowed = union.replace("name='v' type='U'", "name='w' type='U'")
        + "<xs:element name='v'><xs:simpleType><xs:restriction base='U'><xs:enumeration value='true'/></xs:restriction></xs:simpleType></xs:element>";
    assert!(takes(&narrowed, "true") && !takes(&narrowed, "1"));
}
