//! What nobody else may know: it is not in a journal, nor in anything else that is shown of an exchange.

use charter_message::http::HttpMessage;
use charter_source::{FileId, Limits, Text, Tree, ns};

/// What stands in the place of a secret.
pub(crate) const HIDDEN: &str = "(hidden)";

/// The header fields that hold secrets.
const SECRET: [&str; 4] = ["Authorization", "Proxy-Authorization", "Cookie", "Set-Cookie"];

/// The value of a header field, as others may see it: how somebody proves who he is, but not the proof.
pub(crate) fn field(name: &str, value: &str) -> String {
    if !SECRET.iter().any(|secret| secret.eq_ignore_ascii_case(name)) {
        return value.to_owned();
    }
    match value.split_once(' ') {
        Some((scheme, _)) if name.to_ascii_lowercase().ends_with("authorization") => {
            format!("{scheme} {HIDDEN}")
        }
        _ => HIDDEN.to_owned(),
    }
}

/// The body as others may see it: unpacked, and without the passwords of WS-Security.
pub(crate) fn body(message: &HttpMessage) -> Vec<u8> {
    let octets = match message.clone().content() {
        Ok(content) => content.octets,
        Err(_) => return message.body.clone(),
    };
    let Ok(text) = std::str::from_utf8(&octets) else { return octets };
    if !text.contains(ns::WSSE) {
        return octets;
    }
    without_passwords(text).map_or(octets, String::into_bytes)
}

/// The text of an envelope without its passwords, if it has some. What cannot be read is cut where they might stand.
fn without_passwords(text: &str) -> Option<String> {
    let (tree, _) = Tree::parse(Text::from(text), FileId(0), Limits::default().depth);
    let Some(root) = tree.root() else {
        let at = text.find("Password").unwrap_or(text.len());
        return Some(format!("{}{HIDDEN}", &text[..at]));
    };
    let mut result = String::with_capacity(text.len());
    let mut from = 0;
    for password in root.descendants().filter(|node| node.has_tag_name((ns::WSSE, "Password"))) {
        for child in password.children().filter(|child| child.is_text()) {
            let range = child.range();
            result.push_str(tree.text().content().get(from..range.start)?);
            result.push_str(HIDDEN);
            from = range.end;
        }
    }
    if from == 0 {
        return None;
    }
    result.push_str(&tree.text().content()[from..]);
    Some(result)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn passwords_are_out_and_the_rest_stays() {
        assert_eq!(field("authorization", "Basic c2FsdG1lcmU="), "Basic (hidden)");
        assert_eq!(field("Cookie", "quay=4"), "(hidden)");
        assert_eq!(field("Host", "quay.example"), "quay.example");
        let text = format!(
            "<s:Security xmlns:s=\"{}\"><s:Username>ines</s:Username><s:Password Type=\"x\">grey&amp;stone</s:Password></s:Security>",
            ns::WSSE
        );
        let expected = text.replace("grey&amp;stone", HIDDEN);
        assert_eq!(without_passwords(&text), Some(expected));
        let cut = without_passwords(&text[..text.len() - 30]).unwrap();
        assert!(cut.contains("ines") && !cut.contains("grey"), "{cut}");
    }
}
