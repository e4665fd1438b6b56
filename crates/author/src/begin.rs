//! Begins a contract: everything it needs, under one naming convention.

use charter_notation::{Convention, SideKind, convention};
use charter_source::is_ncname;

use crate::EditFailure;

/// What a new contract is to be.
#[derive(Debug, Clone)]
pub struct Beginning<'b> {
    /// Its name.
    pub name: &'b str,
    /// Its target namespace.
    pub namespace: &'b str,
    /// The names of its operations; one is made up from the name if there are none.
    pub operations: &'b [String],
}

/// The text of a new contract in WSDL 1.1: schema, messages, port type, SOAP 1.1 binding, service, address.
///
/// Every name follows the convention, so the notation of the contract says only what was given.
///
/// # Errors
/// If a name is no NCName or given twice, or the namespace is no absolute URI.
///
/// ```
/// use charter_author::{Beginning, new_contract};
///
/// let operations = ["requestPilot".to_owned()];
/// let beginning = Beginning { name: "Pilotage", namespace: "urn:saltmere:pilotage:1", operations: &operations };
/// let text = new_contract(&beginning).unwrap();
/// assert!(text.contains("<wsdl:operation name=\"requestPilot\">"));
/// ```
pub fn new_contract(beginning: &Beginning<'_>) -> Result<String, EditFailure> {
    let Beginning { name, namespace, operations } = *beginning;
    if let Some(wrong) =
        std::iter::once(name).chain(operations.iter().map(String::as_str)).find(|n| !is_ncname(n))
    {
        return Err(EditFailure::Name(wrong.to_owned()));
    }
    if !is_absolute_uri(namespace) {
        return Err(EditFailure::Namespace(namespace.to_owned()));
    }
    if let Some(twice) = operations.iter().enumerate().find(|(at, name)| operations[..*at].contains(name)) {
        return Err(EditFailure::Taken(format!("an operation \"{}\"", twice.1)));
    }
    let made_up = [format!("request{name}")];
    let operations = if operations.is_empty() { &made_up[..] } else { operations };
    let each = |write: &dyn Fn(&str) -> String| operations.iter().map(|name| write(name)).collect::<String>();
    Ok(format!(
        r#"<?xml version="1.0" encoding="UTF-8"?>
<wsdl:definitions name="{name}"
                  targetNamespace="{namespace}"
                  xmlns:tns="{namespace}"
                  xmlns:xs="http://www.w3.org/2001/XMLSchema"
                  xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/"
                  xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">

  <wsdl:types>
    <xs:schema targetNamespace="{namespace}" elementFormDefault="qualified">
{elements}    </xs:schema>
  </wsdl:types>

{messages}
  <wsdl:portType name="{port_type}">
{port_operations}  </wsdl:portType>

  <wsdl:binding name="{binding}" type="tns:{port_type}">
    <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
{bound_operations}  </wsdl:binding>

  <wsdl:service name="{service}">
    <wsdl:port name="{port}" binding="tns:{binding}">
      <soap:address location="http://localhost:8080/{path}"/>
    </wsdl:port>
  </wsdl:service>
</wsdl:definitions>
"#,
        elements = each(&|name| element(name, SideKind::Input) + &element(name, SideKind::Output)),
        messages = each(&|name| message(name, SideKind::Input) + &message(name, SideKind::Output)),
        port_type = Convention::apply("*", name),
        port_operations = each(&port_operation),
        binding = Convention::apply("*Soap", name),
        bound_operations = each(&|name| bound_operation(namespace, name)),
        service = Convention::apply("*Service", name),
        port = Convention::apply("*Port", name),
        path = name.to_lowercase(),
    ))
}

fn element(operation: &str, side: SideKind) -> String {
    let name = Convention::default().element(operation, side);
    format!(
        "      <xs:element name=\"{name}\">
        <xs:complexType>
          <xs:sequence/>
        </xs:complexType>
      </xs:element>\n"
    )
}

fn message(operation: &str, side: SideKind) -> String {
    let name = Convention::default().message(operation, side);
    let element = Convention::default().element(operation, side);
    let convention = Convention::default();
    let part = convention.part(side);
    format!(
        "  <wsdl:message name=\"{name}\">
    <wsdl:part name=\"{part}\" element=\"tns:{element}\"/>
  </wsdl:message>\n"
    )
}

fn port_operation(operation: &str) -> String {
    let input = Convention::default().message(operation, SideKind::Input);
    let output = Convention::default().message(operation, SideKind::Output);
    format!(
        "    <wsdl:operation name=\"{operation}\">
      <wsdl:input message=\"tns:{input}\"/>
      <wsdl:output message=\"tns:{output}\"/>
    </wsdl:operation>\n"
    )
}

fn bound_operation(namespace: &str, operation: &str) -> String {
    let action = convention::action(namespace, operation);
    format!(
        "    <wsdl:operation name=\"{operation}\">
      <soap:operation soapAction=\"{action}\"/>
      <wsdl:input>
        <soap:body use=\"literal\"/>
      </wsdl:input>
      <wsdl:output>
        <soap:body use=\"literal\"/>
      </wsdl:output>
    </wsdl:operation>\n"
    )
}

/// Whether this can stand in an attribute as an absolute URI: a scheme, and no character that a URI has not.
fn is_absolute_uri(namespace: &str) -> bool {
    let Some((scheme, rest)) = namespace.split_once(':') else { return false };
    let named = scheme.starts_with(|c: char| c.is_ascii_alphabetic())
        && scheme.chars().all(|c| c.is_ascii_alphanumeric() || matches!(c, '+' | '-' | '.'));
    let allowed = |c: char| !c.is_whitespace() && !c.is_control() && !"<>\"{}|\\^`&".contains(c);
    named && !rest.is_empty() && rest.chars().all(allowed)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn doubtful_names_are_refused() {
        let begin = |name, namespace, operations: &[&str]| {
            let operations: Vec<String> = operations.iter().map(|&name| name.to_owned()).collect();
            new_contract(&Beginning { name, namespace, operations: &operations })
        };
        assert!(begin("Pilotage", "urn:saltmere:pilotage:1", &[]).is_ok());
        assert!(matches!(begin("Pilot age", "urn:a:b", &[]), Err(EditFailure::Name(_))));
        assert!(matches!(begin("P", "urn:a:b", &["1st"]), Err(EditFailure::Name(_))));
        assert!(matches!(begin("P", "urn:a:b", &["a", "a"]), Err(EditFailure::Taken(_))));
        for namespace in ["", "pilotage", "urn:", "urn:a b", "urn:a\"b", "urn:a&b"] {
            assert!(matches!(begin("P", namespace, &[]), Err(EditFailure::Namespace(_))), "{namespace}");
        }
    }
}
