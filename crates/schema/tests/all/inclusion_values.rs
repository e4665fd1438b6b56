//! Whether one simple type is within another, against a pool of texts of all kinds: whatever the first accepts of it, the
//! second must, where that is what is said.

use crate::included::{Found, asked, files};
use charter_schema::{Engine, Schemas};
use charter_source::{Files, Limits, Location, Overlay};
use proptest::prelude::*;
use proptest::test_runner::RngSeed;

/// Types, each with texts that are values of it, from which facets and lists are made.
const TYPES: &[(&str, &[&str])] = &[
    ("decimal", &["-1", "0", "0.5", "1.50", "7", "127", "9223372036854775808"]),
    ("integer", &["-129", "-1", "0", "7", "255", "9223372036854775808"]),
    ("int", &["-128", "-1", "0", "7", "127", "32768"]),
    ("byte", &["-128", "-1", "0", "7", "127"]),
    ("unsignedShort", &["0", "7", "255", "65535"]),
    ("nonPositiveInteger", &["-129", "-1", "0"]),
    ("positiveInteger", &["1", "7", "255"]),
    ("float", &["-INF", "-0", "0", "1.5", "1e3", "3.4028235E38", "INF"]),
    ("double", &["-INF", "0", "1.5", "1e39", "INF", "NaN"]),
    ("boolean", &["true", "0"]),
    ("date", &["-0044-03-15", "2024-02-29", "2026-03-14", "2026-03-14Z", "2026-03-14+13:00"]),
    (
        "dateTime",
        &[
            "2026-03-14T06:30:00",
            "2026-03-14T06:30:00Z",
            "2026-03-14T24:00:00Z",
            "2026-03-14T06:30:00.5+02:00",
        ],
    ),
    ("time", &["06:30:00", "06:30:00Z", "23:59:59.999", "06:30:00-05:00"]),
    ("gYear", &["-0044", "2026", "2026Z"]),
    ("gYearMonth", &["2026-03", "2026-03Z"]),
    ("gMonthDay", &["--02-29", "--03-14"]),
    ("gDay", &["---14", "---31Z"]),
    ("duration", &["P1M", "P30D", "PT24H", "P1Y2M", "-P1D"]),
    ("hexBinary", &["0A", "FF00", ""]),
    ("base64Binary", &["AAAA", "Zg==", ""]),
    ("string", &["a", " a  b ", "", "x y z", "\u{1F6A2}"]),
    ("normalizedString", &["a", " a  b ", "x y z"]),
    ("token", &["a", "x y z", "en-GB"]),
    ("NMTOKEN", &["a", "-a", "12"]),
    ("Name", &["a", "a:b", "_x"]),
    ("NCName", &["a", "_x", "en-GB"]),
    ("language", &["a", "en-GB"]),
    ("anyURI", &["urn:saltmere:x", "a", "x%20y", ""]),
];

/// More texts that tell types apart.
const MORE: &[&str] = &[
    "+3",
    "007",
    "-0.0",
    "1.",
    ".5",
    "--1",
    "1e400",
    "+INF",
    "TRUE",
    "1",
    "false",
    "2026-02-30",
    "02026-03-14",
    "2026-03-14-00:00",
    "2026-03-14T00:00:00Z",
    "2026-03-15T00:00:00Z",
    "24:00:00",
    "00:00:00",
    "--03",
    "---32",
    "P",
    "P0D",
    "PT86400S",
    "P12M",
    "0a",
    "0A0",
    "A A A A",
    "Zg=",
    "a\tb",
    "a\nb",
    " 7 ",
    "7 7",
    "a b",
    "1 2 3",
    "true 0",
    "0A FF00",
    "2026 2027",
    "x:y:z",
    "~",
    "/ /",
    "h\u{e9}",
];

const PATTERNS: &[&str] =
    &["[0-9]+", "-?\\d{1,3}", "[a-z]*", ".*Z", "\\S+", "[^ ]*( [^ ]*)?", "\\i\\c*", "(true|0|7)", ".{0,3}"];

/// A restriction of a type, or the type itself.
fn atom() -> impl Strategy<Value = (usize, String)> {
    (0..TYPES.len(), 0..12usize, 0..9usize, 0..9usize, 0..PATTERNS.len()).prop_map(
        |(ty, which, one, other, pattern)| {
            let (name, values) = TYPES[ty];
            let value = |at: usize| values[at % values.len()];
            let facet = |name: &str, value: &str| format!("<x:{name} value='{value}'/>");
            let ordered = !matches!(
                name,
                "boolean"
                    | "hexBinary"
                    | "base64Binary"
                    | "string"
                    | "normalizedString"
                    | "token"
                    | "NMTOKEN"
                    | "Name"
                    | "NCName"
                    | "language"
                    | "anyURI"
            );
            let measured = !ordered && name != "boolean";
            let facets = match which {
                0 | 1 => String::new(),
                2 => facet("enumeration", value(one)),
                3 => facet("enumeration", value(one)) + &facet("enumeration", value(other)),
                4 => facet("pattern", PATTERNS[pattern]),
                5 if ordered => facet("minInclusive", value(one)),
                6 if ordered => facet("maxInclusive", value(one)),
                7 if ordered => facet("minExclusive", value(one)),
                8 if ordered => facet("maxExclusive", value(one)),
                5 if measured => facet("length", &(one % 4).to_string()),
                6 if measured => facet("minLength", &(one % 4).to_string()),
                7 | 8 if measured => facet("maxLength", &(one % 6).to_string()),
                9 if name.ends_with("ecimal") || name == "int" => {
                    facet("totalDigits", &(1 + one % 4).to_string())
                }
                9 if name == "string" => facet("whiteSpace", ["preserve", "replace", "collapse"][one % 3]),
                10 => facet("pattern", PATTERNS[pattern]) + &facet("pattern", PATTERNS[one % PATTERNS.len()]),
                _ => String::new(),
            };
            (
                ty,
                format!(
                    "<x:simpleType><x:restriction base='x:{name}'>{facets}</x:restriction></x:simpleType>"
                ),
            )
        },
    )
}

/// A facet that a list or a union may have.
fn facet_of_several() -> impl Strategy<Value = String> {
    let texts = ["7", "a", "7 7", "true", "2026-03-14", "a b"];
    (0..5usize, 0..3usize, 0..texts.len(), 0..PATTERNS.len()).prop_map(
        move |(which, length, text, pattern)| {
            let facet = |name: &str, value: &str| format!("<x:{name} value='{value}'/>");
            match which {
                0 => facet("length", &length.to_string()),
                1 => facet("maxLength", &length.to_string()),
                2 => facet("minLength", &length.to_string()),
                3 => facet("enumeration", texts[text]),
                _ => facet("pattern", PATTERNS[pattern]),
            }
        },
    )
}

fn simple() -> impl Strategy<Value = String> {
    let atom = || atom().prop_map(|(_, ty)| ty).boxed();
    let list_of = |item: String| format!("<x:simpleType><x:list>{item}</x:list></x:simpleType>");
    let union_of = |members: Vec<String>| {
        format!("<x:simpleType><x:union>{}</x:union></x:simpleType>", members.concat())
    };
    let list = || atom().prop_map(list_of).boxed();
    let union = || prop::collection::vec(atom(), 1..4).prop_map(union_of).boxed();
    let several = || {
        let list_of_union = union().prop_map(list_of);
        let union_of_lists = (list(), atom()).prop_map(move |(list, other)| union_of(vec![list, other]));
        prop_oneof![3 => list(), 4 => union(), 1 => list_of_union, 1 => union_of_lists]
    };
    let restricted = (several(), facet_of_several()).prop_map(|(base, facet)| {
        format!("<x:simpleType><x:restriction>{base}{facet}</x:restriction></x:simpleType>")
    });
    prop_oneof![6 => atom(), 2 => several(), 2 => restricted]
}

/// Two types, which mostly have something to do with each other.
fn pair() -> impl Strategy<Value = (String, String)> {
    let near = (atom(), atom()).prop_map(|((ty, one), (_, other))| {
        // The same facets on the same base are seldom drawn by chance.
        let base = TYPES[ty].0;
        let start = other.find("base='x:").unwrap() + "base='x:".len();
        let end = start + other[start..].find('\'').unwrap();
        let moved = format!("{}{base}{}", &other[..start], &other[end..]);
        (one, moved)
    });
    prop_oneof![2 => (simple(), simple()), 2 => near, 1 => simple().prop_map(|ty| (ty.clone(), ty))]
}

fn schema(ty: &str) -> String {
    format!("<x:element name='r'>{ty}</x:element>")
}

/// Whether a schema says nothing that makes no sense: bounds of another type, for one.
fn is_sound(schema: &str) -> bool {
    let files = files(schema);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    schemas.faults().is_empty() && Engine::new(&files, &schemas).judge().is_empty()
}

/// Which texts of the pool an element accepts.
fn accepted(schema: &str, pool: &[&str]) -> Vec<bool> {
    let files = files(schema);
    let schemas = Schemas::read(&files, [(files.first().id, files.first().root().unwrap().id())]);
    let engine = Engine::new(&files, &schemas);
    let accepts = |text: &&str| {
        let text = format!("<t:r xmlns:t='urn:t'>{text}</t:r>");
        let message = Files::load(
            &Overlay::of(&[("m.xml", &text)]),
            &Location::from_argument("m.xml"),
            Limits::default(),
        )
        .unwrap();
        engine.validate(message.first().id, message.first().root().unwrap(), 1).is_valid()
    };
    pool.iter().map(accepts).collect()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 250, failure_persistence: None, rng_seed: RngSeed::Fixed(7), max_global_rejects: 100_000, ..ProptestConfig::default() })]

    #[test]
    fn values_of_all_kinds_are_within_as_the_pool_says((a, b) in pair()) {
        let (a, b) = (schema(&a), schema(&b));
        prop_assume!(is_sound(&a) && is_sound(&b));
        let pool: Vec<&str> = TYPES.iter().flat_map(|(_, values)| *values).chain(MORE).copied().collect();
        let (ours, theirs) = (accepted(&a, &pool), accepted(&b, &pool));
        let beyond = (0..pool.len()).find(|at| ours[*at] && !theirs[*at]);
        let found = asked(&a, &b);
        if let Some(at) = beyond {
            prop_assert!(found != Found::Within, "{:?} is accepted by\n{a}\nand not by\n{b}", pool[at]);
        }
        if a == b {
            prop_assert_eq!(found, Found::Within);
        }
    }
}
