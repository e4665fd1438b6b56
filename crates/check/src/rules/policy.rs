//! Policies, addressing, and what they say of credentials.

use charter_contract::{Assertion, BindingId, Contract, Demands, Expression, ExtensionKind};
use charter_source::{Fault, FileId, Map, Node, Set, attribute_place, mentions, ns, tag_place, text_of};

use super::operations::is_absolute;
use crate::example::{Example, Slot};
use crate::level::Level;
use crate::rule::{Family, Rule};

const RULE: Rule = Rule::of(Family::Policy, Level::Error);

/// Named policies at the beginning of the contract.
macro_rules! policy {
    ($content:literal) => {
        concat!("<wsp:Policy wsu:Id=\"BerthsPolicy\">", $content, "</wsp:Policy>")
    };
}

/// A binding with a reference to a policy.
macro_rules! referring {
    ($uri:literal) => {
        concat!(
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <wsp:PolicyReference URI=\"",
            $uri,
            "\"/>\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation \
             name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body \
             use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  \
             </wsdl:operation>\n</wsdl:binding>"
        )
    };
}

/// A binding with a policy of its own.
macro_rules! demanding {
    ($content:literal) => {
        concat!(
            "<wsdl:binding name=\"BerthsOverSoap11\" type=\"tns:Berths\">\n  <wsp:Policy>",
            $content,
            "</wsp:Policy>\n  <soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>\n  <wsdl:operation \
             name=\"findBerth\">\n    <soap:operation soapAction=\"\"/>\n    <wsdl:input><soap:body \
             use=\"literal\"/></wsdl:input>\n    <wsdl:output><soap:body use=\"literal\"/></wsdl:output>\n  \
             </wsdl:operation>\n</wsdl:binding>"
        )
    };
}

const ADDRESSED: &str = demanding!("<wsam:Addressing/>");

pub(crate) const RULES: &[Rule] = &[
    Rule {
        name: "policy-unknown",
        standard: "WS-Policy 1.5, section 4.3.4; WS-Policy 1.5 Attachment, section 3.4",
        asks: "Every policy that is referred to is there.",
        why: "Consumers that cannot find a policy either give up, or send messages that the provider refuses.",
        example: Example::of(Slot::Binding, referring!("#BerthPolicy"), ADDRESSED),
        look: Some(read),
        ..RULE
    },
    Rule {
        name: "policy-name",
        standard: "WS-Policy 1.5, section 4.2",
        asks: "Policies have identifiers of their own.",
        why: "A reference to the identifier could mean either.",
        example: Example::of(
            Slot::Imports,
            concat!(policy!("<wsam:Addressing/>"), "\n", policy!("<wsam:Addressing/>")),
            policy!("<wsam:Addressing/>"),
        ),
        ..RULE
    },
    Rule {
        name: "policy-structure",
        standard: "WS-Policy 1.5, sections 3.2, 4.1 and 4.3",
        asks: "A policy is made of operators, assertions and references, with flags that are true or false.",
        why: "What is no operator is taken for an assertion that nobody knows, and the message is refused.",
        example: Example::of(
            Slot::Imports,
            policy!("<wsp:OneOf><wsam:Addressing/></wsp:OneOf>"),
            policy!("<wsp:ExactlyOne><wsam:Addressing/></wsp:ExactlyOne>"),
        ),
        ..RULE
    },
    Rule {
        name: "policy-circle",
        standard: "WS-Policy 1.5, section 4.3.4",
        asks: "No policy refers to itself, through others neither.",
        why: "It has no end: some tools give up, others leave out what they have seen already.",
        example: Example::of(
            Slot::Imports,
            policy!("<wsp:PolicyReference URI=\"#BerthsPolicy\"/>"),
            policy!("<wsam:Addressing/>"),
        ),
        ..RULE
    },
    Rule {
        name: "policy-unsatisfiable",
        standard: "WS-Policy 1.5, sections 3.1 and 4.3.3",
        asks: "Every policy can be satisfied in one way at least.",
        why: "ExactlyOne without anything in it has no alternative: no message is ever right.",
        example: Example::of(Slot::Binding, demanding!("<wsp:ExactlyOne/>"), ADDRESSED),
        look: Some(satisfiable),
        ..RULE
    },
    Rule {
        name: "policy-nesting",
        standard: "WS-SecurityPolicy 1.2, section 2.2 and section 5; WS-Policy 1.5, section 4.3.2",
        asks: "What narrows an assertion of security stands in a policy in it.",
        why: "Outside of a nested policy it is a parameter that no tool looks at: a password is sent in the clear where it \
              was meant to be hashed.",
        example: Example::of(
            Slot::Binding,
            demanding!(
                "<sp:SupportingTokens><wsp:Policy><sp:UsernameToken><sp:HashPassword/></sp:UsernameToken></wsp:Policy></sp:SupportingTokens>"
            ),
            demanding!(
                "<sp:SupportingTokens><wsp:Policy><sp:UsernameToken><wsp:Policy><sp:HashPassword/></wsp:Policy></sp:UsernameToken></wsp:Policy></sp:SupportingTokens>"
            ),
        ),
        look: Some(nesting),
        ..RULE
    },
    Rule {
        name: "username-token",
        standard: "WS-SecurityPolicy 1.2, sections 5.1.1 and 5.4.1",
        asks: "A user name token says one thing about its password and its version, and who sends it by a known URI.",
        why: "A token without a password and with a hashed one cannot be made; an unknown URI means nothing to a consumer.",
        example: Example::of(
            Slot::Binding,
            demanding!(
                "<sp:SupportingTokens><wsp:Policy><sp:UsernameToken><wsp:Policy><sp:HashPassword/><sp:NoPassword/></wsp:Policy></sp:UsernameToken></wsp:Policy></sp:SupportingTokens>"
            ),
            demanding!(
                "<sp:SupportingTokens><wsp:Policy><sp:UsernameToken><wsp:Policy><sp:NoPassword/></wsp:Policy></sp:UsernameToken></wsp:Policy></sp:SupportingTokens>"
            ),
        ),
        look: Some(username_tokens),
        ..RULE
    },
    Rule {
        name: "addressing-place",
        standard: "WS-Addressing 1.0 Metadata, sections 3.1.1 and 4.4.1; WSDL Binding, sections 3.1 and 3.2",
        asks: "UsingAddressing stands in a binding or a port, Action on a side of a port type's operation.",
        why: "In any other place it says nothing, and consumers leave the addressing headers out.",
        example: Example::of(
            Slot::Bound,
            r#"<soap:operation soapAction=""/>
    <wsdl:input wsam:Action="urn:saltmere:berths:1:find"><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#,
            r#"<soap:operation soapAction=""/>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#,
        ),
        look: Some(addressing_places),
        ..RULE
    },
    Rule {
        name: "addressing-action",
        standard: "WS-Addressing 1.0 Metadata, section 4.4.1; SOAP Binding, section 6.2",
        asks: "The Action of an input is an absolute URI, and that of its SOAP binding, unless that is empty.",
        why: "A message bears both. Where they differ, the provider refuses it, or takes it for another operation.",
        example: Example::of(
            Slot::Operation,
            r#"<wsdl:input message="tns:findBerthInput" wsam:Action="urn:saltmere:berths:1:seek"/>
    <wsdl:output message="tns:findBerthOutput"/>"#,
            r#"<wsdl:input message="tns:findBerthInput" wsam:Action="urn:saltmere:berths:1:findBerth"/>
    <wsdl:output message="tns:findBerthOutput"/>"#,
        ),
        look: Some(addressing_actions),
        ..RULE
    },
    Rule {
        name: "addressing-anonymous",
        standard: "WS-Addressing 1.0 WSDL Binding, section 3.3",
        asks: "Anonymous says required, optional or prohibited.",
        why: "It says whether replies may go to an address of their own. Another word says nothing.",
        example: Example::of(
            Slot::Bound,
            r#"<soap:operation soapAction=""/>
    <wsaw:Anonymous>never</wsaw:Anonymous>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#,
            r#"<soap:operation soapAction=""/>
    <wsaw:Anonymous>prohibited</wsaw:Anonymous>
    <wsdl:input><soap:body use="literal"/></wsdl:input>
    <wsdl:output><soap:body use="literal"/></wsdl:output>"#,
        ),
        look: Some(anonymous),
        ..RULE
    },
];

/// What reading the policies found wrong.
fn read(contract: &Contract, faults: &mut Vec<Fault>) {
    faults.extend(contract.policies().faults().iter().cloned());
}

fn satisfiable(contract: &Contract, faults: &mut Vec<Fault>) {
    let policies = contract.policies();
    let mut known: Map<(FileId, &str), bool> = Map::default();
    for (place, expressions) in policies.attached() {
        for expression in expressions {
            let empty = || {
                let resolved = policies.resolved(place.file, expression);
                resolved.and_then(|it| it.alternatives()).is_some_and(|ways| ways.is_empty())
            };
            // A policy may be attached to many.
            let empty = match expression {
                Expression::Reference { uri, .. } => *known.entry((place.file, uri)).or_insert_with(empty),
                _ => empty(),
            };
            if empty {
                let fault =
                    Fault::new("policy-unsatisfiable", expression.place(), "nothing satisfies this policy");
                faults.push(fault.help("put the alternatives into ExactlyOne, or remove it"));
            }
        }
    }
}

/// All assertions of the policies that are attached, with those in them.
fn assertions(contract: &Contract) -> Vec<Assertion> {
    let policies = contract.policies();
    let mut found = Vec::new();
    let mut seen: Set<(FileId, &str)> = Set::default();
    // A policy may be attached to many.
    let mut waiting: Vec<Expression> = Vec::new();
    for (place, all) in policies.attached() {
        let new = all.iter().filter(|one| match one {
            Expression::Reference { uri, .. } => seen.insert((place.file, uri)),
            _ => true,
        });
        waiting.extend(new.filter_map(|one| policies.resolved(place.file, one)));
    }
    while let Some(expression) = waiting.pop() {
        match expression {
            Expression::All(parts, _) | Expression::ExactlyOne(parts, _) => waiting.extend(parts),
            Expression::Assertion(assertion) => {
                waiting.extend(assertion.nested.as_deref().cloned());
                found.push(assertion);
            }
            Expression::Reference { .. } => {}
        }
    }
    found.sort_by_key(|assertion| assertion.place);
    found.dedup_by_key(|assertion| assertion.place);
    found
}

fn is_security(assertion: &Assertion) -> bool {
    ns::SECURITY_POLICY.contains(&&*assertion.name.namespace)
}

/// Assertions of security that make sense only inside of another's policy.
const NESTED: [&str; 10] = [
    "HashPassword",
    "NoPassword",
    "RequireDerivedKeys",
    "RequireExplicitDerivedKeys",
    "RequireImpliedDerivedKeys",
    "WssUsernameToken10",
    "WssUsernameToken11",
    "UsernameToken",
    "X509Token",
    "HttpsToken",
];

fn nesting(contract: &Contract, faults: &mut Vec<Fault>) {
    for assertion in assertions(contract).iter().filter(|it| is_security(it)) {
        for inner in assertion.parameters.iter().filter(|it| NESTED.contains(&&*it.local)) {
            let message =
                format!("{} stands in {}, and not in a policy in it", inner.local, assertion.name.local);
            let fault = Fault::new("policy-nesting", assertion.place, message);
            faults.push(fault.help("put wsp:Policy around it"));
        }
    }
}

/// Pairs of assertions that contradict each other.
const CONTRARY: [(&str, &str); 2] =
    [("HashPassword", "NoPassword"), ("WssUsernameToken10", "WssUsernameToken11")];

fn username_tokens(contract: &Contract, faults: &mut Vec<Fault>) {
    for token in
        assertions(contract).iter().filter(|it| is_security(it) && &*it.name.local == "UsernameToken")
    {
        let ways = token.nested.as_deref().and_then(Expression::alternatives).unwrap_or_default();
        let both = |a: &str, b: &str| {
            ways.iter().any(|way| {
                let has = |local: &str| way.iter().any(|it| &*it.name.local == local);
                has(a) && has(b)
            })
        };
        if let Some((a, b)) = CONTRARY.iter().find(|(a, b)| both(a, b)) {
            let message = format!("this token is asked for with {a} and with {b}");
            let fault = Fault::new("username-token", token.place, message);
            faults.push(fault.help("keep one of the two, or put them into ExactlyOne"));
        }
        include_token(contract, token, faults);
    }
}

/// Who sends a token, which is said by a URI of the standard.
fn include_token(contract: &Contract, token: &Assertion, faults: &mut Vec<Fault>) {
    const WORDS: [&str; 5] = ["Never", "Once", "AlwaysToRecipient", "AlwaysToInitiator", "Always"];
    let root = contract.files.get(token.place.file).root();
    let node = root.and_then(|root| charter_source::element_at(root, token.place.span.start));
    let Some(node) = node else { return };
    let attribute =
        ns::SECURITY_POLICY.iter().find_map(|namespace| node.attribute_node((*namespace, "IncludeToken")));
    let Some(attribute) = attribute else { return };
    let known = attribute
        .value()
        .rsplit_once('/')
        .is_some_and(|(before, word)| WORDS.contains(&word) && before.ends_with("/IncludeToken"));
    if !known {
        let place = attribute_place(token.place.file, &attribute);
        let message = format!("\"{}\" does not say who sends the token", attribute.value());
        let fault = Fault::new("username-token", place, message);
        let namespace = ns::SECURITY_POLICY[0];
        faults.push(
            fault.help(format!("write {namespace}/IncludeToken/AlwaysToRecipient, or another of its URIs")),
        );
    }
}

/// The nodes of contract files that mention a namespace of addressing.
fn addressed(contract: &Contract) -> impl Iterator<Item = (FileId, Node<'_>)> {
    let files = contract.files.iter().filter(|file| {
        let text = file.text().content();
        file.has_root(ns::WSDL, "definitions") && (mentions(text, ns::WSAW) || mentions(text, ns::WSAM))
    });
    files.flat_map(|file| {
        let nodes = file.root().into_iter().flat_map(|root| root.descendants());
        nodes.filter(Node::is_element).map(move |node| (file.id, node))
    })
}

fn is_in(node: Node<'_>, local: &str) -> bool {
    node.parent_element().is_some_and(|parent| parent.has_tag_name((ns::WSDL, local)))
}

fn addressing_places(contract: &Contract, faults: &mut Vec<Fault>) {
    for (file, node) in addressed(contract) {
        if node.has_tag_name((ns::WSAW, "UsingAddressing")) && !is_in(node, "binding") && !is_in(node, "port")
        {
            let parent = node.parent_element();
            // In a policy it is an assertion.
            let in_policy =
                parent.is_some_and(|it| it.tag_name().namespace().is_some_and(|it| ns::POLICY.contains(&it)));
            if !in_policy {
                let fault = Fault::new(
                    "addressing-place",
                    tag_place(file, node),
                    "UsingAddressing says nothing here",
                );
                faults.push(fault.help("put it into the binding or the port"));
            }
        }
        for namespace in [ns::WSAW, ns::WSAM] {
            let Some(action) = node.attribute_node((namespace, "Action")) else { continue };
            let side = ["input", "output", "fault"].iter().any(|side| node.has_tag_name((ns::WSDL, *side)));
            let abstract_side = side && node.ancestors().any(|it| it.has_tag_name((ns::WSDL, "portType")));
            if !abstract_side {
                let fault = Fault::new(
                    "addressing-place",
                    attribute_place(file, &action),
                    "Action says nothing here",
                );
                faults.push(fault.help("put it on the input, output or fault of the port type"));
            }
        }
    }
}

fn addressing_actions(contract: &Contract, faults: &mut Vec<Fault>) {
    for (file, node) in addressed(contract) {
        for namespace in [ns::WSAW, ns::WSAM] {
            let Some(action) = node.attribute_node((namespace, "Action")) else { continue };
            if !is_absolute(action.value().trim()) {
                let message = format!("the action \"{}\" is no absolute URI", action.value());
                let fault = Fault::new("addressing-action", attribute_place(file, &action), message);
                faults.push(fault.help("write an absolute URI"));
            }
        }
    }
    if addressed(contract).next().is_none() {
        return;
    }
    for bound in super::bound::operations(contract) {
        let Some(input) = bound.operation.and_then(|operation| operation.input.as_ref()) else { continue };
        let root = contract.files.get(input.place.file).root();
        let node = root.and_then(|root| charter_source::element_at(root, input.place.span.start));
        let own = node.and_then(|node| {
            node.attribute((ns::WSAM, "Action")).or_else(|| node.attribute((ns::WSAW, "Action")))
        });
        let of_soap = bound.bound.extensions.iter().find_map(|extension| match &extension.kind {
            ExtensionKind::SoapOperation { action, .. } => action.as_ref(),
            _ => None,
        });
        let (Some(own), Some(of_soap)) = (own, of_soap) else { continue };
        if !of_soap.text.is_empty() && *of_soap.text != *own.trim() {
            let message = format!(
                "\"{}\" has the action {own} for addressing, and another here",
                bound.bound.name.text
            );
            let fault = Fault::new("addressing-action", of_soap.place, message);
            faults.push(fault.help("write the same action in both places"));
        }
    }
}

fn anonymous(contract: &Contract, faults: &mut Vec<Fault>) {
    for (file, node) in addressed(contract) {
        let said = node.has_tag_name((ns::WSAW, "Anonymous")).then(|| text_of(node));
        let Some(said) = said.filter(|said| !["required", "optional", "prohibited"].contains(&&**said))
        else {
            continue;
        };
        let message = format!("\"{said}\" is not one of the words for it");
        let fault = Fault::new("addressing-anonymous", tag_place(file, node), message);
        faults.push(fault.help("write required, optional or prohibited"));
    }
}

/// Whether an operation of a binding is called with a user name and a password.
pub(crate) fn demands_credentials(contract: &Contract, binding: BindingId) -> bool {
    if contract.policies().is_empty() {
        return false;
    }
    let operations = contract.bindings[binding].operations.len();
    (0..operations).any(|bound| {
        contract.demand(binding, bound, None).is_some_and(|demands: Demands| demands.has_secrets())
    })
}
