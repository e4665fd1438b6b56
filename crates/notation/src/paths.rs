//! The paths of identity constraints: in element infos, namespaces in braces stand for prefixes.

/// A path with namespaces for prefixes; the prefix that `namespace` does not know, if there is one.
pub(crate) fn expanded(path: &str, namespace: &dyn Fn(&str) -> Option<String>) -> Result<String, String> {
    let mut result = String::new();
    let mut word = String::new();
    let mut characters = path.trim().chars().peekable();
    while let Some(c) = characters.next() {
        match c {
            c if c.is_alphanumeric() || matches!(c, '-' | '_' | '.') => word.push(c),
            // Two colons stand behind an axis.
            ':' if characters.next_if_eq(&':').is_some() => {
                result.push_str(&format!("{word}::"));
                word.clear();
            }
            ':' if !word.is_empty() => {
                result.push_str(&format!("{{{}}}", namespace(&word).ok_or_else(|| word.clone())?));
                word.clear();
            }
            other => {
                result.push_str(&word);
                word.clear();
                result.push(other);
            }
        }
    }
    result.push_str(&word);
    Ok(result)
}

/// A path with prefixes for namespaces.
pub fn prefixed(path: &str, prefix: &dyn Fn(&str) -> Option<String>) -> String {
    let mut result = String::new();
    for (index, piece) in path.split('{').enumerate() {
        match piece.split_once('}') {
            Some((namespace, rest)) if index > 0 => {
                let prefix = prefix(namespace)
                    .map_or_else(|| format!("{{{namespace}}}"), |prefix| format!("{prefix}:"));
                result.push_str(&prefix);
                result.push_str(rest);
            }
            _ => result.push_str(piece),
        }
    }
    result
}

/// The namespaces in a path.
pub fn namespaces(path: &str) -> impl Iterator<Item = &str> {
    path.split('{').skip(1).filter_map(|rest| rest.split_once('}').map(|(namespace, _)| namespace))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn prefixes_and_axes_are_told_apart() {
        let known = |prefix: &str| (prefix == "t").then(|| "urn:t".to_owned());
        for path in ["t:a/t:b|.//@t:c", "child::t:a/*", ".", "t:*", "attribute::b", "a.b/t:c-d"] {
            let whole = expanded(path, &known).unwrap();
            assert_eq!(prefixed(&whole, &|_| Some("t".to_owned())), path);
            assert_eq!(namespaces(&whole).count(), path.matches("t:").count());
        }
        assert_eq!(expanded("t:a/v:b", &known), Err("v".to_owned()));
    }
}
