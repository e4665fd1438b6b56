//! Values in an address and in forms (WSDL 1.1, 4.6 and 4.7; HTML 4.01, 17.13.4.1; RFC 3986, section 2).

use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, percent_decode_str, utf8_percent_encode};

/// All but the unreserved characters.
const RESERVED: &AsciiSet = &NON_ALPHANUMERIC.remove(b'-').remove(b'.').remove(b'_').remove(b'~');

/// Pairs of names and values as a form holds them.
pub(crate) fn encode(fields: &[(&str, String)]) -> String {
    let escaped = |text: &str| utf8_percent_encode(text, RESERVED).to_string().replace("%20", "+");
    let pairs = fields.iter().map(|(name, value)| format!("{}={}", escaped(name), escaped(value)));
    pairs.collect::<Vec<_>>().join("&")
}

/// The pairs of names and values in a form.
pub(crate) fn decode(text: &str) -> Vec<(String, String)> {
    let read = |text: &str| percent_decode_str(&text.replace('+', " ")).decode_utf8_lossy().into_owned();
    let pairs = text.split('&').filter(|pair| !pair.trim().is_empty());
    pairs
        .map(|pair| {
            let (name, value) = pair.split_once('=').unwrap_or((pair, ""));
            (read(name), read(value.trim_end_matches(['\r', '\n'])))
        })
        .collect()
}

/// Adds a query to an address.
pub(crate) fn add_query(address: &mut String, fields: &[(&str, String)]) {
    if !fields.is_empty() {
        address.push(if address.contains('?') { '&' } else { '?' });
        address.push_str(&encode(fields));
    }
}

/// An address with each name in parentheses replaced by its value.
pub(crate) fn replaced(address: &str, fields: &[(&str, String)]) -> String {
    let mut result = address.to_owned();
    for (name, value) in fields {
        result = result.replace(&format!("({name})"), &utf8_percent_encode(value, RESERVED).to_string());
    }
    result
}

/// The values in an address that was made from a pattern with names in parentheses; `None` if it does not fit it.
pub(crate) fn in_path(pattern: &str, path: &str) -> Option<Vec<(String, String)>> {
    let mut found = Vec::new();
    let (mut pattern, mut rest) = (pattern, path);
    while let Some(open) = pattern.find('(') {
        rest = rest.strip_prefix(&pattern[..open])?;
        let close = open + pattern[open..].find(')')?;
        let name = percent_decode_str(&pattern[open + 1..close]).decode_utf8_lossy().into_owned();
        pattern = &pattern[close + 1..];
        let next = pattern.find('(').map_or(pattern, |open| &pattern[..open]);
        let end = if next.is_empty() { rest.len() } else { rest.find(next)? };
        let value = percent_decode_str(&rest[..end]).decode_utf8_lossy().into_owned();
        found.push((name, value));
        rest = &rest[end..];
    }
    (pattern == rest).then_some(found)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn forms_come_back() {
        let fields = [("berth", "N 4 & north+quay".to_owned()), ("größe", "9,4 m=%".to_owned())];
        let text = encode(&fields);
        assert!(text.starts_with("berth=N+4+%26+north%2Bquay&gr%C3%B6%C3%9Fe="), "{text}");
        let back = decode(&text);
        assert_eq!(
            back.iter().map(|(name, value)| (name.as_str(), value.clone())).collect::<Vec<_>>(),
            fields
        );
    }

    #[test]
    fn values_stand_where_their_names_do() {
        let fields = [("berth", "N/4".to_owned()), ("day", "2026-03-14".to_owned())];
        let address = replaced("/tides/(berth)/on(day).txt", &fields);
        assert_eq!(address, "/tides/N%2F4/on2026-03-14.txt");
        let back = in_path("/tides/(berth)/on(day).txt", &address).unwrap();
        assert_eq!(
            back,
            [("berth".to_owned(), "N/4".to_owned()), ("day".to_owned(), "2026-03-14".to_owned())]
        );
        assert_eq!(in_path("/tides/(berth)", "/vessels/N4"), None);
    }
}
