//! Policy expressions and their normal form (WS-Policy 1.5, section 4).

use charter_source::{Fault, FileId, Node, Place, QName, attribute_place, elements, ns, tag_place};

use super::{is_policy, name_of};

/// How many alternatives are looked at: each choice multiplies them.
pub const MOST_ALTERNATIVES: usize = 500;

/// A policy expression.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Expression {
    /// `wsp:Policy` and `wsp:All`: all of these.
    All(Vec<Expression>, Place),
    /// `wsp:ExactlyOne`: one of these.
    ExactlyOne(Vec<Expression>, Place),
    /// A requirement or capability.
    Assertion(Assertion),
    /// Another policy.
    Reference {
        /// Its URI.
        uri: String,
        /// Where it is referred to.
        place: Place,
    },
}

/// An assertion.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Assertion {
    /// Its name.
    pub name: QName,
    /// Its start tag.
    pub place: Place,
    /// Whether it may be left out (`wsp:Optional`).
    pub optional: bool,
    /// Whether it is of no matter to the other side (`wsp:Ignorable`).
    pub ignorable: bool,
    /// The policy in it.
    pub nested: Option<Box<Expression>>,
    /// The elements in it that are no policy.
    pub parameters: Vec<QName>,
}

/// A set of assertions that hold together, each without a choice left in it.
pub type Alternative = Vec<Assertion>;

impl Expression {
    /// Reads the expression that an element is; what is wrong with it is said.
    pub(super) fn read(file: FileId, node: Node<'_>, faults: &mut Vec<Fault>) -> Expression {
        let place = tag_place(file, node);
        if is_policy(node, "PolicyReference") {
            return Expression::Reference { uri: node.attribute("URI").unwrap_or("").to_owned(), place };
        }
        let parts = || elements(node).collect::<Vec<_>>();
        if is_policy(node, "Policy") || is_policy(node, "All") {
            let parts = parts().into_iter().map(|child| Expression::read(file, child, faults)).collect();
            return Expression::All(parts, place);
        }
        if is_policy(node, "ExactlyOne") {
            let parts = parts().into_iter().map(|child| Expression::read(file, child, faults)).collect();
            return Expression::ExactlyOne(parts, place);
        }
        Expression::Assertion(Assertion::read(file, node, faults))
    }

    /// Where it stands.
    pub fn place(&self) -> Place {
        match self {
            Expression::All(_, place)
            | Expression::ExactlyOne(_, place)
            | Expression::Reference { place, .. } => *place,
            Expression::Assertion(assertion) => assertion.place,
        }
    }

    /// The normal form: the alternatives, of which one must hold. `None` if there are more than
    /// [`MOST_ALTERNATIVES`]; none at all if nothing satisfies the policy.
    pub fn alternatives(&self) -> Option<Vec<Alternative>> {
        match self {
            Expression::All(parts, _) => {
                let mut all: Vec<Alternative> = vec![Vec::new()];
                for part in parts {
                    let own = part.alternatives()?;
                    if all.len() * own.len() > MOST_ALTERNATIVES {
                        return None;
                    }
                    if let [only] = own.as_slice() {
                        all.iter_mut().for_each(|left| left.extend(only.iter().cloned()));
                        continue;
                    }
                    let with = |left: &Alternative| {
                        own.iter()
                            .map(|right| left.iter().chain(right).cloned().collect())
                            .collect::<Vec<_>>()
                    };
                    all = all.iter().flat_map(with).collect();
                }
                Some(all)
            }
            Expression::ExactlyOne(parts, _) => {
                let mut all = Vec::new();
                for part in parts {
                    all.extend(part.alternatives()?);
                    if all.len() > MOST_ALTERNATIVES {
                        return None;
                    }
                }
                Some(all)
            }
            Expression::Assertion(assertion) => {
                let mut all = assertion.alternatives()?;
                if assertion.optional {
                    all.push(Vec::new());
                }
                Some(all)
            }
            Expression::Reference { .. } => Some(vec![Vec::new()]),
        }
    }
}

impl Assertion {
    fn read(file: FileId, node: Node<'_>, faults: &mut Vec<Fault>) -> Assertion {
        let place = tag_place(file, node);
        let name = name_of(node);
        let mut wrong = |place, message: String, help: &str| {
            faults.push(Fault::new("policy-structure", place, message).help(help));
        };
        if name.namespace.is_empty() {
            let message = format!("the assertion {} is in no namespace", name.local);
            wrong(place, message, "write it with the prefix of its standard");
        } else if ns::POLICY.contains(&&*name.namespace) {
            let message = format!("{} is no operator of a policy", name.local);
            wrong(place, message, "there is Policy, All, ExactlyOne and PolicyReference");
        }
        let mut flag = |local: &str| {
            let attribute = ns::POLICY.iter().find_map(|namespace| node.attribute_node((*namespace, local)));
            let Some(attribute) = attribute else { return false };
            match attribute.value().trim() {
                "true" | "1" => true,
                "false" | "0" => false,
                other => {
                    let message = format!("\"{other}\" is no value for {local}");
                    wrong(attribute_place(file, &attribute), message, "write true or false");
                    false
                }
            }
        };
        let (optional, ignorable) = (flag("Optional"), flag("Ignorable"));
        let policies: Vec<Node<'_>> = elements(node).filter(|child| is_policy(*child, "Policy")).collect();
        if let Some(second) = policies.get(1) {
            let message = format!("{} holds two policies", name.local);
            wrong(tag_place(file, *second), message, "join the two");
        }
        let nested = policies.first().map(|policy| Box::new(Expression::read(file, *policy, faults)));
        let parameters = elements(node).filter(|child| !is_policy(*child, "Policy")).map(name_of).collect();
        Assertion { name, place, optional, ignorable, nested, parameters }
    }

    /// The assertion once for each alternative of the policy in it.
    fn alternatives(&self) -> Option<Vec<Alternative>> {
        let plain = |nested: Option<Box<Expression>>| Assertion { nested, optional: false, ..self.clone() };
        let Some(nested) = &self.nested else { return Some(vec![vec![plain(None)]]) };
        let own = nested.alternatives()?;
        let one = |alternative: Alternative| {
            let parts = alternative.into_iter().map(Expression::Assertion).collect();
            vec![plain(Some(Box::new(Expression::All(parts, self.place))))]
        };
        Some(own.into_iter().map(one).collect())
    }

    /// The assertions in it, once it stands in a normal form.
    pub fn inner(&self) -> impl Iterator<Item = &Assertion> {
        let parts = match self.nested.as_deref() {
            Some(Expression::All(parts, _)) => parts.as_slice(),
            _ => &[],
        };
        parts.iter().filter_map(|part| match part {
            Expression::Assertion(assertion) => Some(assertion),
            _ => None,
        })
    }

    /// It and all assertions in it.
    pub fn all(&self) -> Vec<&Assertion> {
        let mut found = vec![self];
        let mut at = 0;
        while at < found.len() {
            let here: &Assertion = found[at];
            found.extend(here.inner());
            at += 1;
        }
        found
    }
}
