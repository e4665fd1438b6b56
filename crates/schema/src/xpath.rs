//! The paths of selectors and fields: a small part of XPath (Part 1, 3.11.6, c-selector-xpath and c-fields-xpaths).

use crate::Builtin;

/// The alternatives of a selector or a field.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct XPath {
    pub paths: Vec<Path>,
}

/// One alternative.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Path {
    /// Whether it begins anywhere below: `.//`.
    pub anywhere: bool,
    /// The elements on the way down.
    pub steps: Vec<Test>,
    /// The attribute at the end, for a field.
    pub attribute: Option<Test>,
}

/// What a step asks of a name.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Test {
    Any,
    Namespace(String),
    Name(String, String),
}

/// Steps of one way, at most: they are the bits of one number.
const LONGEST: usize = 60;

impl Test {
    pub fn fits(&self, namespace: &str, local: &str) -> bool {
        match self {
            Test::Any => true,
            Test::Namespace(wanted) => wanted == namespace,
            Test::Name(wanted, name) => name == local && wanted == namespace,
        }
    }
}

impl XPath {
    /// Reads a path; `namespace` says what a prefix means, and `field` whether it may end in an attribute.
    ///
    /// # Errors
    /// What is wrong with it, in words.
    pub fn parse(
        text: &str,
        field: bool,
        namespace: &dyn Fn(&str) -> Option<String>,
    ) -> Result<XPath, String> {
        let paths =
            text.split('|').map(|path| parse_way(path, field, namespace)).collect::<Result<Vec<_>, _>>()?;
        Ok(XPath { paths })
    }
}

fn parse_way(text: &str, field: bool, namespace: &dyn Fn(&str) -> Option<String>) -> Result<Path, String> {
    let mut rest = text.trim();
    let mut path = Path { anywhere: false, steps: Vec::new(), attribute: None };
    if rest.is_empty() {
        return Err("a path is empty".into());
    }
    if let Some(after) = rest.strip_prefix('.')
        && let Some(after) = after.trim_start().strip_prefix("//")
    {
        path.anywhere = true;
        rest = after.trim_start();
    }
    loop {
        let (step, after) = match rest.split_once('/') {
            Some((step, after)) => (step.trim(), Some(after.trim_start())),
            None => (rest.trim(), None),
        };
        let attribute = step.strip_prefix('@').or_else(|| axis(step, "attribute"));
        match attribute {
            Some(name) if field && after.is_none() => path.attribute = Some(test(name.trim(), namespace)?),
            Some(_) if !field => return Err("a selector leads to elements, not to attributes".into()),
            Some(_) => return Err("an attribute can only stand at the end".into()),
            None if step == "." => {}
            None => path.steps.push(test(axis(step, "child").unwrap_or(step).trim(), namespace)?),
        }
        match after {
            Some(after) => rest = after,
            None if path.steps.len() > LONGEST => return Err("the path is too long".into()),
            None => return Ok(path),
        }
    }
}

/// The node test after an axis of that name.
fn axis<'t>(step: &'t str, name: &str) -> Option<&'t str> {
    step.strip_prefix(name)?.trim_start().strip_prefix("::")
}

fn test(text: &str, namespace: &dyn Fn(&str) -> Option<String>) -> Result<Test, String> {
    if text == "*" {
        return Ok(Test::Any);
    }
    let known =
        |prefix: &str| namespace(prefix).ok_or_else(|| format!("the prefix \"{prefix}\" is not declared"));
    if let Some(prefix) = text.strip_suffix(":*")
        && charter_source::is_ncname(prefix)
    {
        return Ok(Test::Namespace(known(prefix)?));
    }
    if !crate::is_lexical(Builtin::QName, text) {
        return Err(format!("\"{text}\" is not a step: write a name, *, or . for the element itself"));
    }
    // A name without a prefix is in no namespace, whatever the default namespace is.
    Ok(match text.split_once(':') {
        Some((prefix, local)) => Test::Name(known(prefix)?, local.to_owned()),
        None => Test::Name(String::new(), text.to_owned()),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn parse(text: &str, field: bool) -> Result<XPath, String> {
        XPath::parse(text, field, &|prefix| (prefix == "t").then(|| "urn:t".to_owned()))
    }

    #[test]
    fn paths_that_are_allowed() {
        for (text, field) in [
            ("berth", false),
            (".//t:berth | vessel/*", false),
            ("child::t:berth/child::*", false),
            (".", true),
            ("@number", true),
            (".//t:*/@t:number", true),
            ("a / b / attribute :: c", true),
            (". // a", true),
        ] {
            assert!(parse(text, field).is_ok(), "{text}: {:?}", parse(text, field));
        }
        let path = parse(".//t:a/./@b", true).unwrap();
        assert!(path.paths[0].anywhere);
        assert_eq!(path.paths[0].steps, [Test::Name("urn:t".into(), "a".into())]);
        assert_eq!(path.paths[0].attribute, Some(Test::Name(String::new(), "b".into())));
    }

    #[test]
    fn paths_that_are_not() {
        for (text, field) in [
            ("", false),
            ("@number", false),
            ("@a/b", true),
            ("//a", false),
            ("a//b", false),
            ("a[1]", false),
            ("u:a", false),
            ("../a", false),
            ("a|", false),
            ("/a", false),
            ("a/", true),
            ("parent::a", false),
            ("text()", true),
        ] {
            assert!(parse(text, field).is_err(), "{text}");
        }
    }
}
