//! Which entry of which catalog applies.

use charter_source::{CatalogError, Catalogs, Location, Overlay, Wanted};
use proptest::prelude::*;

const NS: &str = "urn:oasis:names:tc:entity:xmlns:xml:catalog";

fn catalog(entries: &str) -> String {
    format!("<catalog xmlns='{NS}'>{entries}</catalog>")
}

fn load(texts: &[(&str, &str)]) -> Result<Catalogs, CatalogError> {
    let texts: Vec<(&str, String)> = texts.iter().map(|(name, entries)| (*name, catalog(entries))).collect();
    let texts: Vec<(&str, &str)> = texts.iter().map(|(name, text)| (*name, text.as_str())).collect();
    Catalogs::load(&Overlay::of(&texts), &[Location::from_argument(texts[0].0)])
}

/// Where the catalogs lead from an address and a namespace; empty for nowhere.
fn leads(texts: &[(&str, &str)], reference: &str, namespace: &str) -> String {
    let wanted = Wanted {
        reference: (!reference.is_empty()).then_some(reference),
        location: None,
        namespace: (!namespace.is_empty()).then_some(namespace),
    };
    let found = load(texts).unwrap().find(&wanted);
    found.map_or(String::new(), |location| location.to_string())
}

fn one(entries: &str, reference: &str, namespace: &str) -> String {
    leads(&[("port/catalog.xml", entries)], reference, namespace)
}

const TIDE: &str = "http://saltmere.example/schemas/tide.xsd";

#[test]
fn an_address_is_found_by_uri_and_by_system() {
    assert_eq!(one(&format!("<uri name='{TIDE}' uri='tide.xsd'/>"), TIDE, ""), "port/tide.xsd");
    assert_eq!(one(&format!("<system systemId='{TIDE}' uri='../tide.xsd'/>"), TIDE, ""), "tide.xsd");
    assert_eq!(
        one(&format!("<uri name='{TIDE}' uri='tide.xsd'/>"), "http://saltmere.example/other.xsd", ""),
        ""
    );
    let both = format!("<system systemId='{TIDE}' uri='system.xsd'/><uri name='{TIDE}' uri='uri.xsd'/>");
    assert_eq!(one(&both, TIDE, ""), "port/uri.xsd");
}

#[test]
fn the_first_of_two_entries_counts_and_the_longest_beginning() {
    let twice = format!("<uri name='{TIDE}' uri='first.xsd'/><uri name='{TIDE}' uri='second.xsd'/>");
    assert_eq!(one(&twice, TIDE, ""), "port/first.xsd");
    let entries = "<rewriteURI uriStartString='http://saltmere.example/' rewritePrefix='all/'/>\
        <rewriteURI uriStartString='http://saltmere.example/schemas/' rewritePrefix='schemas/'/>";
    assert_eq!(one(entries, TIDE, ""), "port/schemas/tide.xsd");
    assert_eq!(one(entries, "http://saltmere.example/a/b.xsd", ""), "port/all/a/b.xsd");
    let system =
        entries.replace("rewriteURI", "rewriteSystem").replace("uriStartString", "systemIdStartString");
    assert_eq!(one(&system, TIDE, ""), "port/schemas/tide.xsd");
}

#[test]
fn an_ending_counts_after_a_beginning() {
    let suffix = "<uriSuffix uriSuffix='/tide.xsd' uri='short.xsd'/><uriSuffix uriSuffix='schemas/tide.xsd' uri='long.xsd'/>";
    assert_eq!(one(suffix, TIDE, ""), "port/long.xsd");
    let both = format!("{suffix}<rewriteURI uriStartString='http://' rewritePrefix='net/'/>");
    assert_eq!(one(&both, TIDE, ""), "port/net/saltmere.example/schemas/tide.xsd");
    let system = "<systemSuffix systemIdSuffix='tide.xsd' uri='system.xsd'/>";
    assert_eq!(one(system, TIDE, ""), "port/system.xsd");
}

#[test]
fn a_namespace_is_found_as_public_identifier_and_as_uri() {
    let public = "<public publicId='urn:saltmere:tide' uri='tide.xsd'/>";
    assert_eq!(one(public, "", "urn:saltmere:tide"), "port/tide.xsd");
    assert_eq!(
        one("<uri name='urn:saltmere:tide' uri='tide.xsd'/>", "", "urn:saltmere:tide"),
        "port/tide.xsd"
    );
    let wrapped = "<public publicId='-//Saltmere//Tide tables//EN' uri='tide.xsd'/>";
    assert_eq!(one(wrapped, "", "urn:publicid:-:Saltmere:Tide+tables:EN"), "port/tide.xsd");
}

#[test]
fn a_catalog_that_prefers_system_minds_a_namespace_only_without_an_address() {
    let system = "<group prefer='system'><public publicId='urn:saltmere:tide' uri='tide.xsd'/></group>";
    assert_eq!(one(system, "tide-9.xsd", "urn:saltmere:tide"), "");
    assert_eq!(one(system, "", "urn:saltmere:tide"), "port/tide.xsd");
    let public = system.replace("'system'", "'public'");
    assert_eq!(one(&public, "tide-9.xsd", "urn:saltmere:tide"), "port/tide.xsd");
}

#[test]
fn a_base_is_what_targets_are_relative_to() {
    let entries = format!(
        "<group xml:base='schemas/'><uri name='{TIDE}' uri='tide.xsd'/>\
         <rewriteURI uriStartString='http://port/' rewritePrefix='net/' xml:base='../deep/'/></group>"
    );
    assert_eq!(one(&entries, TIDE, ""), "port/schemas/tide.xsd");
    assert_eq!(one(&entries, "http://port/a.xsd", ""), "port/deep/net/a.xsd");
    let file = format!("<uri xml:base='schemas/list.xml' name='{TIDE}' uri='tide.xsd'/>");
    assert_eq!(one(&file, TIDE, ""), "port/schemas/tide.xsd");
}

#[test]
fn next_catalogs_are_asked_in_order_and_circles_end() {
    let texts = [
        ("a.xml", "<nextCatalog catalog='b.xml'/><nextCatalog catalog='c.xml'/>"),
        ("b.xml", "<nextCatalog catalog='a.xml'/><uri name='urn:b' uri='b.xsd'/>"),
        ("c.xml", "<uri name='urn:b' uri='late.xsd'/><uri name='urn:c' uri='c.xsd'/>"),
    ];
    assert_eq!(leads(&texts, "urn:b", ""), "b.xsd");
    assert_eq!(leads(&texts, "urn:c", ""), "c.xsd");
    assert_eq!(leads(&texts, "urn:d", ""), "");
}

#[test]
fn who_delegates_leaves_the_answer_to_the_others() {
    let texts = [
        (
            "a.xml",
            "<delegateURI uriStartString='http://port/' catalog='all.xml'/>\
             <delegateURI uriStartString='http://port/tide/' catalog='tide.xml'/>\
             <nextCatalog catalog='late.xml'/>",
        ),
        (
            "all.xml",
            "<uri name='http://port/tide/a.xsd' uri='all.xsd'/><uri name='http://port/b.xsd' uri='b.xsd'/>",
        ),
        ("tide.xml", "<uri name='http://port/tide/a.xsd' uri='tide.xsd'/>"),
        ("late.xml", "<rewriteURI uriStartString='http://' rewritePrefix='late/'/>"),
    ];
    assert_eq!(leads(&texts, "http://port/tide/a.xsd", ""), "tide.xsd");
    assert_eq!(leads(&texts, "http://port/b.xsd", ""), "b.xsd");
    assert_eq!(leads(&texts, "http://port/none.xsd", ""), "", "the next catalog is not asked");
    assert_eq!(leads(&texts, "http://quay/none.xsd", ""), "late/quay/none.xsd");
}

#[test]
fn system_and_public_identifiers_are_delegated_too() {
    let texts = [
        (
            "a.xml",
            "<delegateSystem systemIdStartString='http://port/' catalog='system.xml'/>\
             <delegatePublic publicIdStartString='urn:saltmere:' catalog='public.xml'/>",
        ),
        (
            "system.xml",
            "<system systemId='http://port/a.xsd' uri='a.xsd'/><public publicId='urn:saltmere:a' uri='no.xsd'/>",
        ),
        ("public.xml", "<public publicId='urn:saltmere:a' uri='public.xsd'/>"),
    ];
    assert_eq!(leads(&texts, "http://port/a.xsd", "urn:saltmere:a"), "a.xsd");
    assert_eq!(leads(&texts, "http://port/b.xsd", "urn:saltmere:a"), "", "the address has settled it");
    assert_eq!(leads(&texts, "", "urn:saltmere:a"), "public.xsd");
    assert_eq!(leads(&texts, "", "urn:saltmere:b"), "");
}

#[test]
fn addresses_are_compared_in_one_form() {
    assert_eq!(
        one("<uri name='http://port/Æ b.xsd' uri='a.xsd'/>", "http://port/%C3%86%20b.xsd", ""),
        "port/a.xsd"
    );
}

#[test]
fn other_elements_are_passed_over() {
    let entries = format!(
        "<note xmlns='urn:saltmere:notes'><uri/></note><doctype/><uri name='{TIDE}' uri='tide.xsd'/>"
    );
    assert_eq!(one(&entries, TIDE, ""), "port/tide.xsd");
}

#[test]
fn a_catalog_that_says_too_little_is_refused_at_its_place() {
    let refused = |entries: &str| match load(&[("c.xml", entries)]).unwrap_err() {
        CatalogError::Content { position, message, .. } => (position.column, message),
        other => panic!("{other}"),
    };
    let column = catalog("").find("</").unwrap() + 1;
    assert_eq!(refused("<uri name='urn:a'/>"), (column, "this uri entry has no attribute uri".into()));
    assert_eq!(
        refused("<rewriteSystem rewritePrefix=''/>").1,
        "this rewriteSystem entry has no attribute systemIdStartString"
    );
    assert_eq!(refused("<group prefer='both'/>").1, "prefer is \"both\"");
    assert!(matches!(
        load(&[("c.xml", "<nextCatalog catalog='gone.xml'/>")]),
        Err(CatalogError::Read { location, .. }) if location.to_string() == "gone.xml"
    ));
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::default() })]

    /// Whatever the entries are, a search ends, and what it finds one of them names.
    #[test]
    fn a_search_always_ends(links in prop::collection::vec((0..4_usize, 0..4_usize, any::<bool>()), 0..12), wanted in 0..4_usize) {
        let names: Vec<String> = (0..4).map(|n| format!("c{n}.xml")).collect();
        let mut texts = vec![String::new(); 4];
        for (from, to, delegate) in links {
            texts[from] += &match delegate {
                true => format!("<delegateURI uriStartString='urn:a' catalog='c{to}.xml'/>"),
                false => format!("<nextCatalog catalog='c{to}.xml'/>"),
            };
        }
        texts[wanted] += "<uri name='urn:a:b' uri='found.xsd'/>";
        let all: Vec<(&str, &str)> = names.iter().zip(&texts).map(|(name, text)| (name.as_str(), text.as_str())).collect();
        let found = leads(&all, "urn:a:b", "");
        prop_assert!(found.is_empty() || found == "found.xsd");
        prop_assert!(wanted != 0 || !found.is_empty());
    }
}
