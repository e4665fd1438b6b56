//! References at an address: the examples of RFC 3986, section 5.4, and what schemas really say.

use charter_source::{Address, Location};

const BASE: &str = "http://a/b/c/d;p?q";

fn joined(reference: &str) -> String {
    Location::Remote(BASE.to_owned()).join(reference).to_string()
}

#[test]
fn the_normal_examples_of_the_standard() {
    for (reference, address) in [
        ("g", "http://a/b/c/g"),
        ("./g", "http://a/b/c/g"),
        ("g/", "http://a/b/c/g/"),
        ("/g", "http://a/g"),
        ("//g", "http://g/"),
        ("?y", "http://a/b/c/d;p?y"),
        ("g?y", "http://a/b/c/g?y"),
        ("#s", "http://a/b/c/d;p?q#s"),
        ("g#s", "http://a/b/c/g#s"),
        ("g?y#s", "http://a/b/c/g?y#s"),
        (";x", "http://a/b/c/;x"),
        ("g;x", "http://a/b/c/g;x"),
        ("g;x?y#s", "http://a/b/c/g;x?y#s"),
        (".", "http://a/b/c/"),
        ("./", "http://a/b/c/"),
        ("..", "http://a/b/"),
        ("../", "http://a/b/"),
        ("../g", "http://a/b/g"),
        ("../..", "http://a/"),
        ("../../", "http://a/"),
        ("../../g", "http://a/g"),
    ] {
        assert_eq!(joined(reference), address, "{reference}");
    }
}

#[test]
fn the_abnormal_examples_of_the_standard() {
    for (reference, address) in [
        ("../../../g", "http://a/g"),
        ("../../../../g", "http://a/g"),
        ("/./g", "http://a/g"),
        ("/../g", "http://a/g"),
        ("g.", "http://a/b/c/g."),
        (".g", "http://a/b/c/.g"),
        ("g..", "http://a/b/c/g.."),
        ("..g", "http://a/b/c/..g"),
        ("./../g", "http://a/b/g"),
        ("./g/.", "http://a/b/c/g/"),
        ("g/./h", "http://a/b/c/g/h"),
        ("g/../h", "http://a/b/c/h"),
        ("g;x=1/./y", "http://a/b/c/g;x=1/y"),
        ("g;x=1/../y", "http://a/b/c/y"),
        ("g?y/./x", "http://a/b/c/g?y/./x"),
        ("g?y/../x", "http://a/b/c/g?y/../x"),
        ("g#s/./x", "http://a/b/c/g#s/./x"),
        ("g#s/../x", "http://a/b/c/g#s/../x"),
    ] {
        assert_eq!(joined(reference), address, "{reference}");
    }
}

#[test]
fn an_address_of_its_own_stays_what_it_is() {
    for reference in
        ["http://tides.example/t.xsd", "https://tides.example", "urn:saltmere:tides", "jms:queue:tides"]
    {
        assert_eq!(joined(reference), reference);
        let of_file = Location::Path("port/pilotage.wsdl".into()).join(reference);
        assert_eq!(of_file, Location::Remote(reference.to_owned()));
    }
    // A drive is no scheme.
    assert!(matches!(Location::Path("a.wsdl".into()).join("C:/port/t.xsd"), Location::Path(_)));
}

#[test]
fn what_services_give_for_their_schemas_leads_back_to_them() {
    let base = "https://quay.saltmere.example:8443/services/tides?wsdl";
    for (reference, address) in [
        ("tides?xsd=1", "https://quay.saltmere.example:8443/services/tides?xsd=1"),
        ("?xsd=2", "https://quay.saltmere.example:8443/services/tides?xsd=2"),
        ("../schemas/tide types.xsd", "https://quay.saltmere.example:8443/schemas/tide%20types.xsd"),
        ("/größe.xsd", "https://quay.saltmere.example:8443/gr%C3%B6%C3%9Fe.xsd"),
        ("  t.xsd\n", "https://quay.saltmere.example:8443/services/t.xsd"),
    ] {
        assert_eq!(Location::Remote(base.to_owned()).join(reference).to_string(), address, "{reference}");
    }
}

#[test]
fn nothing_that_is_read_makes_an_address_fall_over() {
    let pieces = [
        "", "http:", "//", "/", "?", "#", "@", ":", "[", "]", "%", "%4", "%zz", "é", " ", "\\", "..", "a",
        "\0",
    ];
    for first in pieces {
        for second in pieces {
            for third in pieces {
                let text = format!("{first}{second}{third}");
                let _ = Location::Remote(BASE.to_owned()).join(&text).to_string();
                let _ = Location::Path("a/b.wsdl".into()).join(&text).to_string();
                if let Some(address) = Address::parse(&format!("http://quay/{text}")) {
                    assert!(address.target().starts_with('/') && address.target().is_ascii(), "{text:?}");
                    assert_eq!(address.host(), "quay", "{text:?}");
                    assert!(!address.target().contains(char::is_whitespace), "{text:?}");
                }
            }
        }
    }
}
