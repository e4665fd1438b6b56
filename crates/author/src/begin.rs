//! Begins a contract: everything it needs, under one naming convention.

use charter_notation::{Child, Convention, ElementInfo, Prefixes, Value, Written, quoted, read};
use charter_source::xml::{Bounds, Document};
use charter_source::{QName, Set, Span, is_ncname, ns};

use crate::failure::EditFailure;
use crate::fresh::{NewFile, SchemaPlace, fresh};

/// What a new contract is to be.
#[derive(Debug, Clone)]
pub struct Beginning<'b> {
    /// Its name.
    pub name: &'b str,
    /// Its target namespace.
    pub namespace: &'b str,
    /// Its operations, by name or by signature; one is made up from the name if there are none.
    pub operations: &'b [String],
    /// Where its ports are; a place on this machine if it is not said.
    pub address: Option<&'b str>,
    /// The versions of SOAP that it is offered by, such as `1.1`.
    pub soap: &'b [String],
    /// Whether its operations are in rpc style instead of document style.
    pub rpc: bool,
    /// Where its schema stands.
    pub schema: SchemaPlace,
    /// How its components are named.
    pub convention: &'b Convention,
}

/// The files of a new contract in WSDL 1.1: schema, messages, port type, bindings, service, address.
///
/// Every name follows the convention, so the notation of the contract says only what was given. A type that a
/// signature names and nothing defines becomes a type without fields.
///
/// # Errors
/// If a name is no NCName or given twice, the namespace is no absolute URI, or a signature cannot be read.
///
/// ```
/// use charter_author::{Beginning, SchemaPlace, new_contract};
/// use charter_notation::Convention;
///
/// let operations = ["requestPilot(callSign: string, eta: dateTime) -> pilot: string".to_owned()];
/// let beginning = Beginning {
///     name: "Pilotage",
///     namespace: "urn:saltmere:pilotage:1",
///     operations: &operations,
///     address: None,
///     soap: &[],
///     rpc: false,
///     schema: SchemaPlace::Embedded,
///     convention: &Convention::default(),
/// };
/// let files = new_contract(&beginning).unwrap();
/// assert!(files[0].text.contains("<wsdl:operation name=\"requestPilot\">"));
/// ```
pub fn new_contract(beginning: &Beginning<'_>) -> Result<Vec<NewFile>, EditFailure> {
    let Beginning { name, namespace, operations, .. } = *beginning;
    if !is_ncname(name) {
        return Err(EditFailure::Name(name.to_owned()));
    }
    if !is_absolute_uri(namespace) {
        return Err(EditFailure::Namespace(namespace.to_owned()));
    }
    let made_up = [format!("request{name}")];
    let operations = if operations.is_empty() { &made_up[..] } else { operations };
    let mut names: Vec<&str> = Vec::new();
    let mut body = String::new();
    for text in operations {
        let signature = Signature::read(text)?;
        if names.contains(&signature.name) {
            return Err(EditFailure::Twice(signature.name.to_owned()));
        }
        names.push(signature.name);
        body.push_str(&signature.checked(text, beginning)?);
    }
    let text = format!("contract {name} {} {{\n{body}{}}}\n", quoted(namespace), offers(beginning));
    let mut written = read(&text, beginning.convention).map_err(EditFailure::Notation)?;
    define_missing(&mut written.info, namespace);
    Ok(fresh(written.info, &Prefixes::new(namespace), beginning.schema))
}

/// The files of the contract, or of the schemas, that a text of the notation says.
///
/// # Errors
/// Everything that the notation does not allow.
pub fn written_contract(
    text: &str,
    convention: &Convention,
    schema: SchemaPlace,
) -> Result<Vec<NewFile>, EditFailure> {
    let Written { info, prefixes } = read(text, convention).map_err(EditFailure::Notation)?;
    let files = fresh(info, &prefixes, schema);
    // XML that stands in the notation may be nested too deep where it comes to stand.
    for file in &files {
        Document::parse(&file.text, Bounds::default())
            .map_err(|error| EditFailure::Harm(format!("it could not be read again: {}", error.problem)))?;
    }
    Ok(files)
}

/// The bindings and the service.
fn offers(beginning: &Beginning<'_>) -> String {
    let Beginning { name, convention, .. } = *beginning;
    let default = ["1.1".to_owned()];
    let soap = if beginning.soap.is_empty() { &default[..] } else { beginning.soap };
    let style = if beginning.rpc { "rpc" } else { "document" };
    let local = format!("http://localhost:8080/{}", name.to_lowercase());
    let address = beginning.address.unwrap_or(&local);
    let (mut bindings, mut ports) = (String::new(), String::new());
    for version in soap {
        let pattern = if version == "1.2" { &convention.binding_12 } else { &convention.binding };
        let binding = Convention::apply(pattern, name);
        bindings.push_str(&format!("binding {binding} = soap {version} {style} literal\n"));
        let mut port = Convention::apply(&convention.port, name);
        if soap.len() > 1 && version == "1.2" {
            port.push_str("12");
        }
        ports.push_str(&format!("port {port} = {binding} at {}\n", quoted(address)));
    }
    format!("{bindings}service {} {{\n{ports}}}\n", Convention::apply(&convention.service, name))
}

/// `requestPilot(vessel: Vessel, eta: dateTime) -> boarding: Boarding`: a name, what goes in, what comes out.
struct Signature<'t> {
    name: &'t str,
    input: &'t str,
    /// Nothing where nothing is answered at all.
    output: Option<&'t str>,
    /// Where the two begin in the text.
    starts: (usize, usize),
}

impl<'t> Signature<'t> {
    fn read(text: &'t str) -> Result<Signature<'t>, EditFailure> {
        let (name, rest) = text.split_once('(').unwrap_or((text, ""));
        let name = name.trim();
        if !is_ncname(name) {
            return Err(EditFailure::Name(name.to_owned()));
        }
        if !text.contains('(') {
            return Ok(Signature { name, input: "", output: Some(""), starts: (text.len(), text.len()) });
        }
        let start = text.len() - rest.len();
        let Some(end) = closing(rest) else {
            return Err(wrong(
                text,
                start.saturating_sub(1),
                "this parenthesis has no end",
                "close it with )",
            ));
        };
        let input = &rest[..end];
        let behind = rest[end + 1..].trim_start();
        let output = match behind.strip_prefix("->") {
            Some(output) => output,
            None if behind.is_empty() => {
                return Ok(Signature { name, input, output: None, starts: (start, text.len()) });
            }
            None => {
                let at = text.len() - behind.len();
                let help = "expected -> and what is answered, such as -> boarding: Boarding";
                return Err(wrong(text, at, "this cannot stand here", help));
            }
        };
        let trimmed = output.trim();
        let inner = trimmed.strip_prefix('(').and_then(|it| it.strip_suffix(')')).unwrap_or(trimmed);
        let inner = if inner.trim() == "nothing" { "" } else { inner };
        let at = if inner.is_empty() { text.len() } else { inner.as_ptr() as usize - text.as_ptr() as usize };
        Ok(Signature { name, input, output: Some(inner), starts: (start, at) })
    }

    /// The operation in the notation, once it is known that it can be read; errors stand where they are in the signature.
    fn checked(&self, text: &str, beginning: &Beginning<'_>) -> Result<String, EditFailure> {
        let (open, close) = if beginning.rpc { ("(", ")") } else { ("{", "}") };
        let mut words = format!("operation {} {{\ninput {open}", self.name);
        let input_at = words.len();
        words.push_str(self.input);
        words.push_str(&format!("{close}\n"));
        let mut output_at = words.len();
        if let Some(output) = self.output {
            words.push_str(&format!("output {open}"));
            output_at = words.len();
            words.push_str(&format!("{output}{close}\n"));
        }
        words.push_str("}\n");
        let head = format!("contract C {} {{\n", quoted(beginning.namespace));
        let whole = format!("{head}{words}}}\n");
        match read(&whole, beginning.convention) {
            Ok(_) => Ok(words),
            Err(mut errors) => {
                for error in &mut errors {
                    let back = |at: u32| {
                        let at = (at as usize).saturating_sub(head.len());
                        let moved = if at >= output_at {
                            at - output_at + self.starts.1
                        } else {
                            at.saturating_sub(input_at) + self.starts.0
                        };
                        moved.min(text.len())
                    };
                    error.span = Span::new(back(error.span.start), back(error.span.end));
                }
                Err(EditFailure::Notation(errors))
            }
        }
    }
}

/// The parenthesis that closes the one before a text.
fn closing(text: &str) -> Option<usize> {
    let mut depth = 0;
    let mut quoted = false;
    for (at, c) in text.char_indices() {
        match c {
            '"' => quoted = !quoted,
            '(' if !quoted => depth += 1,
            ')' if !quoted && depth == 0 => return Some(at),
            ')' if !quoted => depth -= 1,
            _ => {}
        }
    }
    None
}

fn wrong(text: &str, at: usize, message: &str, help: &str) -> EditFailure {
    let span = Span::new(at, (at + 1).min(text.len()));
    EditFailure::Notation(vec![charter_notation::NotationError {
        span,
        message: message.to_owned(),
        help: Some(help.to_owned()),
    }])
}

/// Defines the types of a namespace that are named and not there: without fields, to be filled.
fn define_missing(info: &mut ElementInfo, namespace: &str) {
    let mut named: Vec<QName> = Vec::new();
    types_named(info, &mut named);
    let defined: Set<String> = info
        .elements()
        .filter(|it| it.is_wsdl("types"))
        .flat_map(ElementInfo::elements)
        .flat_map(ElementInfo::elements)
        .filter(|it| it.is_xsd("complexType") || it.is_xsd("simpleType"))
        .filter_map(|it| it.text("name").map(str::to_owned))
        .collect();
    let mut missing: Vec<String> = Vec::new();
    for name in named.iter().filter(|name| *name.namespace == *namespace && !defined.contains(&*name.local)) {
        if !missing.iter().any(|known| *known == *name.local) {
            missing.push(name.local.to_string());
        }
    }
    if missing.is_empty() {
        return;
    }
    if !info.elements().any(|it| it.is_wsdl("types")) {
        let schema = ElementInfo::xsd("schema")
            .with("targetNamespace", namespace)
            .with("elementFormDefault", "qualified");
        info.children.insert(0, Child::Element(ElementInfo::wsdl("types").holding(schema)));
    }
    let types = info.elements_mut().find(|it| it.is_wsdl("types"));
    let schema = types.and_then(|types| types.elements_mut().next());
    if let Some(schema) = schema {
        let stubs = missing.iter().map(|name| {
            Child::Element(
                ElementInfo::xsd("complexType")
                    .with("name", name.as_str())
                    .holding(ElementInfo::xsd("sequence")),
            )
        });
        schema.children.splice(0..0, stubs);
    }
}

fn types_named(info: &ElementInfo, found: &mut Vec<QName>) {
    for (name, value) in &info.attributes {
        if let Value::Names(names) = value
            && ["type", "base", "itemType", "memberTypes"].iter().any(|known| name.is("", known))
            && (*info.name.namespace == *ns::XSD || info.is_wsdl("part"))
        {
            found.extend(names.iter().map(|name| (**name).clone()));
        }
    }
    info.elements().for_each(|child| types_named(child, found));
}

/// Whether this can stand in an attribute as an absolute URI: a scheme, and no character that a URI has not.
pub(crate) fn is_absolute_uri(namespace: &str) -> bool {
    let Some((scheme, rest)) = namespace.split_once(':') else { return false };
    let named = scheme.starts_with(|c: char| c.is_ascii_alphabetic())
        && scheme.chars().all(|c| c.is_ascii_alphanumeric() || matches!(c, '+' | '-' | '.'));
    let allowed = |c: char| !c.is_whitespace() && !c.is_control() && !"<>\"{}|\\^`&".contains(c);
    named && !rest.is_empty() && rest.chars().all(allowed)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn begin(name: &str, namespace: &str, operations: &[&str]) -> Result<Vec<NewFile>, EditFailure> {
        let operations: Vec<String> = operations.iter().map(|&name| name.to_owned()).collect();
        new_contract(&Beginning {
            name,
            namespace,
            operations: &operations,
            address: None,
            soap: &[],
            rpc: false,
            schema: SchemaPlace::Embedded,
            convention: &Convention::default(),
        })
    }

    #[test]
    fn doubtful_names_are_refused() {
        assert!(begin("Pilotage", "urn:saltmere:pilotage:1", &[]).is_ok());
        assert!(matches!(begin("Pilot age", "urn:a:b", &[]), Err(EditFailure::Name(_))));
        assert!(matches!(begin("P", "urn:a:b", &["1st"]), Err(EditFailure::Name(_))));
        assert!(matches!(begin("P", "urn:a:b", &["a", "a"]), Err(EditFailure::Twice(_))));
        for namespace in ["", "pilotage", "urn:", "urn:a b", "urn:a\"b", "urn:a&b"] {
            assert!(matches!(begin("P", namespace, &[]), Err(EditFailure::Namespace(_))), "{namespace}");
        }
    }

    #[test]
    fn errors_of_a_signature_stand_where_they_are_in_it() {
        for (signature, at) in [
            ("moor(berth: string!)", "!"),
            ("moor(berth: string) -> at: ?", "?"),
            ("moor(berth: string", "("),
            ("moor(berth: string) at: date", "at:"),
        ] {
            let Err(EditFailure::Notation(errors)) = begin("P", "urn:a:b", &[signature]) else {
                panic!("{signature}");
            };
            assert_eq!(errors[0].span.start as usize, signature.find(at).unwrap(), "{signature} {errors:?}");
        }
    }
}
