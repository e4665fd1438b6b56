//! The header fields of a message, or of one of its parts.

/// Header fields, in the order in which they came. Their names mean the same in capitals (RFC 9110, section 5.1).
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Headers(Vec<(String, String)>);

impl Headers {
    /// The value of the first field of a name.
    pub fn get(&self, name: &str) -> Option<&str> {
        self.iter().find(|(known, _)| known.eq_ignore_ascii_case(name)).map(|(_, value)| value)
    }

    /// Adds a field behind the others.
    pub fn push(&mut self, name: impl Into<String>, value: impl Into<String>) {
        self.0.push((name.into(), value.into()));
    }

    /// Gives a field a value, in the place of all that it has.
    pub fn set(&mut self, name: &str, value: impl Into<String>) {
        let first = self.0.iter().position(|(known, _)| known.eq_ignore_ascii_case(name));
        let mut value = Some(value.into());
        let mut at = 0;
        self.0.retain_mut(|(known, old)| {
            let here = at;
            at += 1;
            if !known.eq_ignore_ascii_case(name) {
                return true;
            }
            if Some(here) == first {
                *old = value.take().unwrap_or_default();
            }
            Some(here) == first
        });
        if let Some(value) = value {
            self.push(name, value);
        }
    }

    /// The same for a body from which what was done to it on its way is undone.
    pub fn unpacked(mut self) -> Headers {
        let of_way = ["Transfer-Encoding", "Content-Encoding"];
        self.0.retain(|(name, _)| !of_way.iter().any(|it| name.eq_ignore_ascii_case(it)));
        self
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// Names and values.
    pub fn iter(&self) -> impl Iterator<Item = (&str, &str)> {
        self.0.iter().map(|(name, value)| (name.as_str(), value.as_str()))
    }

    /// The media type of what follows, in lower case and without its parameters (RFC 9110, section 8.3).
    pub fn media_type(&self) -> Option<String> {
        self.get("Content-Type").map(media_type)
    }

    /// A parameter of the media type.
    pub fn media_parameter(&self, name: &str) -> Option<String> {
        parameter(self.get("Content-Type")?, name)
    }
}

impl<N: Into<String>, V: Into<String>> FromIterator<(N, V)> for Headers {
    fn from_iter<I: IntoIterator<Item = (N, V)>>(fields: I) -> Headers {
        Headers(fields.into_iter().map(|(name, value)| (name.into(), value.into())).collect())
    }
}

/// A media type in lower case, without its parameters.
pub(crate) fn media_type(value: &str) -> String {
    value.split(';').next().unwrap_or(value).trim().to_ascii_lowercase()
}

/// A parameter of a field's value: `boundary` in `multipart/related; boundary="x"` (RFC 9110, section 5.6.6).
pub fn parameter(value: &str, name: &str) -> Option<String> {
    let mut rest = value.split_once(';')?.1;
    loop {
        let (key, after) = rest.split_once('=')?;
        let after = after.trim_start();
        let (content, next) = match after.strip_prefix('"') {
            Some(quoted) => {
                let (content, behind) = unquoted(quoted)?;
                (content, behind.split_once(';').map(|(_, next)| next))
            }
            None => match after.split_once(';') {
                Some((content, next)) => (content.to_owned(), Some(next)),
                None => (after.to_owned(), None),
            },
        };
        if key.trim().eq_ignore_ascii_case(name) {
            return Some(content.trim().to_owned());
        }
        rest = next?;
    }
}

/// What stands up to the closing quote, where a backslash keeps the character behind it (RFC 9110, section 5.6.4), and the rest.
fn unquoted(text: &str) -> Option<(String, &str)> {
    let mut content = String::new();
    let mut chars = text.char_indices();
    while let Some((at, c)) = chars.next() {
        match c {
            '"' => return Some((content, &text[at + 1..])),
            '\\' => content.push(chars.next()?.1),
            c => content.push(c),
        }
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn parameters_are_found_quoted_or_not() {
        let value = "multipart/related; type=\"text/xml; a=b\"; start=\"<e@s>\"; Boundary=x-1";
        assert_eq!(parameter(value, "type").as_deref(), Some("text/xml; a=b"));
        assert_eq!(parameter(value, "boundary").as_deref(), Some("x-1"));
        assert_eq!(parameter(value, "charset"), None);
        let nested = r#"multipart/related; start-info="application/soap+xml; action=\"urn:a\""; boundary=b"#;
        let inner = parameter(nested, "start-info").unwrap();
        assert_eq!(parameter(&inner, "action").as_deref(), Some("urn:a"));
        assert_eq!(parameter(nested, "boundary").as_deref(), Some("b"));
    }

    #[test]
    fn a_name_is_found_in_any_case_and_set_once() {
        let mut headers: Headers =
            [("a", "1"), ("Content-TYPE", "Text/XML ; x=1"), ("A", "2")].into_iter().collect();
        assert_eq!((headers.get("A"), headers.media_type().as_deref()), (Some("1"), Some("text/xml")));
        headers.set("A", "3");
        headers.set("b", "4");
        let all: Vec<_> = headers.iter().collect();
        assert_eq!(all, [("a", "3"), ("Content-TYPE", "Text/XML ; x=1"), ("b", "4")]);
        assert!(!headers.is_empty() && Headers::default().is_empty());
    }
}
