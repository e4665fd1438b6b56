//! URI references (Part 2, 3.2.17).

/// Whether a text is a URI reference once the characters that URIs have no room for are escaped (RFC 2396 with
/// RFC 2732; Part 2, 3.2.17 and XML Linking, 5.4).
///
/// Almost everything is: only a bad escape, a second `#`, and a colon in the wrong place are refused.
pub(super) fn is_uri(text: &str) -> bool {
    let (rest, fragment) = text.split_once('#').unwrap_or((text, ""));
    // Brackets hold an address of version 6, and stand nowhere else.
    let host = rest
        .find("//")
        .map_or(0..0, |at| at..at + 2 + rest[at + 2..].find(['/', '?']).unwrap_or(rest.len() - at - 2));
    if text.char_indices().any(|(at, c)| matches!(c, '[' | ']') && !host.contains(&at)) {
        return false;
    }
    if fragment.contains('#') || !escapes_are_whole(text) {
        return false;
    }
    let colon = rest.find(':');
    let Some(colon) = colon.filter(|colon| !rest[..*colon].contains(['/', '?'])) else {
        return authority_is_sound(rest);
    };
    let (scheme, rest) = (&rest[..colon], &rest[colon + 1..]);
    let names_scheme = scheme.starts_with(|c: char| c.is_ascii_alphabetic())
        && scheme.bytes().all(|byte| byte.is_ascii_alphanumeric() || b"+-.".contains(&byte));
    names_scheme && !rest.is_empty() && authority_is_sound(rest)
}

fn escapes_are_whole(text: &str) -> bool {
    let bytes = text.as_bytes();
    let hex = |at: usize| bytes.get(at).is_some_and(u8::is_ascii_hexdigit);
    (0..bytes.len()).filter(|at| bytes[*at] == b'%').all(|at| hex(at + 1) && hex(at + 2))
}

/// Whether a host after `//` has its brackets in pairs and its port in digits.
fn authority_is_sound(rest: &str) -> bool {
    let Some(authority) = rest.strip_prefix("//") else { return true };
    let authority = authority.split(['/', '?']).next().unwrap_or("");
    let host = authority.rsplit_once('@').map_or(authority, |(_, host)| host);
    if let Some(inside) = host.strip_prefix('[') {
        let Some((address, port)) = inside.split_once(']') else { return false };
        let address_is_sound = address.bytes().all(|b| b.is_ascii_hexdigit() || b == b':' || b == b'.');
        return address_is_sound && (port.is_empty() || port.starts_with(':'));
    }
    !host.contains(['[', ']'])
}

#[cfg(test)]
mod tests {
    use super::is_uri;

    #[test]
    fn references() {
        for right in [
            "",
            "urn:saltmere:pilotage:1",
            "http://localhost:8080/a b?c#d",
            "../é",
            "a/b:c",
            "//[::1]:80/x",
            "#top",
            "%20",
        ] {
            assert!(is_uri(right), "{right}");
        }
        for wrong in ["a#b#c", "%", "%2", "%zz", ":a", "a[b", "1a:b", "http://[::1/x", "urn:"] {
            assert!(!is_uri(wrong), "{wrong}");
        }
    }
}
