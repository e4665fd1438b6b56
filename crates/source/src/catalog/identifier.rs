//! The forms in which identifiers are compared (XML Catalogs 1.1, sections 6.2 to 6.4).

use std::path::{Path, absolute};

use crate::Location;
use crate::location::tidy;

/// An address with every character escaped that a URI cannot hold (section 6.3).
pub(super) fn address(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    for byte in text.trim().bytes() {
        match byte {
            0..=b' ' | 0x7f.. | b'"' | b'<' | b'>' | b'\\' | b'^' | b'`' | b'{' | b'|' | b'}' => {
                result.push_str(&format!("%{byte:02X}"));
            }
            _ => result.push(char::from(byte)),
        }
    }
    result
}

/// A public identifier with its white space folded (section 6.2), taken out of a `urn:publicid:` (section 6.4).
pub(super) fn public(text: &str) -> String {
    let text = text.trim();
    let prefix = "urn:publicid:";
    let unwrapped = match text.get(..prefix.len()) {
        Some(start) if start.eq_ignore_ascii_case(prefix) => unwrap(&text[prefix.len()..]),
        _ => text.to_owned(),
    };
    unwrapped.split_ascii_whitespace().collect::<Vec<_>>().join(" ")
}

/// The public identifier that the rest of a `urn:publicid:` stands for (RFC 3151, section 1.2).
fn unwrap(text: &str) -> String {
    let mut result = String::with_capacity(text.len());
    let mut rest = text;
    while let Some(c) = rest.chars().next() {
        let escaped = rest.get(..3).and_then(|three| {
            Some(match three {
                "%2B" | "%2b" => '+',
                "%3A" | "%3a" => ':',
                "%2F" | "%2f" => '/',
                "%3B" | "%3b" => ';',
                "%27" => '\'',
                "%3F" | "%3f" => '?',
                "%23" => '#',
                "%25" => '%',
                _ => return None,
            })
        });
        match (escaped, c) {
            (Some(c), _) => {
                result.push(c);
                rest = &rest[3..];
                continue;
            }
            (None, '+') => result.push(' '),
            (None, ':') => result.push_str("//"),
            (None, ';') => result.push_str("::"),
            (None, c) => result.push(c),
        }
        rest = &rest[c.len_utf8()..];
    }
    result
}

/// The absolute address of a location.
pub(super) fn of_location(location: &Location) -> Option<String> {
    match location {
        Location::Path(path) => file_address(path),
        Location::Remote(remote) => Some(address(remote)),
        Location::Standard | Location::Known(_) | Location::Revision { .. } => None,
    }
}

fn file_address(path: &Path) -> Option<String> {
    let whole = tidy(&absolute(path).ok()?);
    let text = whole.to_str()?.replace('\\', "/").replace('%', "%25");
    let slash = if text.starts_with('/') { "" } else { "/" };
    Some(address(&format!("file://{slash}{text}")))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn addresses_are_escaped() {
        assert_eq!(address(" http://saltmere.example/ä b|c "), "http://saltmere.example/%C3%A4%20b%7Cc");
        assert_eq!(address("a%20b"), "a%20b");
    }

    #[test]
    fn files_have_absolute_addresses() {
        let of = |path: &str| of_location(&Location::Path(path.into())).unwrap();
        assert_eq!(of("/port/a/../tide tables.xsd"), "file:///port/tide%20tables.xsd");
        assert!(of("tide.xsd").starts_with("file:///") && of("tide.xsd").ends_with("/tide.xsd"));
    }

    #[test]
    fn public_identifiers_are_folded_and_unwrapped() {
        assert_eq!(public("  -//Saltmere//Tide \n tables//EN "), "-//Saltmere//Tide tables//EN");
        assert_eq!(public("urn:publicid:-:Saltmere:Tide+tables:EN"), "-//Saltmere//Tide tables//EN");
        assert_eq!(public("urn:publicid:a%2Bb%3a;c%é"), "a+b:::c%é");
    }
}
