//! WS-Policy 1.5, and 1.2: expressions, where they are attached (WS-Policy 1.5 Attachment, section 4), and what they come to
//! for an operation, in words.

mod demands;
mod expression;

pub use demands::{Addressing, Demand, Demands, Need, Password, Replies, demands_in_words};
pub use expression::{Alternative, Assertion, Expression, MOST_ALTERNATIVES};

use charter_source::{
    Attribute, Fault, FileId, Files, Map, Node, Place, QName, Suggestions, attribute_place, elements,
    mentions, ns, tag_place,
};

/// How many operators and assertions one policy may come to once its references are replaced: two references in each of a chain
/// of policies double it each time.
pub const MOST_RESOLVED: usize = 20_000;

/// The policies of a contract, and what is wrong with them.
#[derive(Debug, Default)]
pub struct Policies {
    /// Named expressions, by file and identifier.
    by_id: Map<(FileId, String), Expression>,
    /// Named expressions, by their absolute name.
    by_name: Map<String, Expression>,
    /// What is attached to an element, by the place of its start tag.
    attached: Map<Place, Vec<Expression>>,
    /// What is wrong.
    faults: Vec<Fault>,
    suggestions: Suggestions,
}

/// Whether an element is a policy operator or reference of that name.
pub(crate) fn is_policy(node: Node<'_>, local: &str) -> bool {
    let name = node.tag_name();
    name.name() == local && name.namespace().is_some_and(|namespace| ns::POLICY.contains(&namespace))
}

/// The identifier of a policy in its file.
fn id_of<'a>(node: Node<'a>) -> Option<Attribute<'a>> {
    node.attribute_node((ns::WSU, "Id")).or_else(|| node.attribute_node((ns::XML, "id")))
}

impl Policies {
    /// Reads the policies of the files of a contract.
    pub(crate) fn read(files: &Files) -> Policies {
        let mut policies = Policies::default();
        let known = |text: &str| ns::POLICY.iter().any(|namespace| mentions(text, namespace));
        let files = files.iter().filter(|file| known(file.text().content()));
        let roots: Vec<(FileId, Node<'_>)> = files.filter_map(|file| Some((file.id, file.root()?))).collect();
        for (file, root) in &roots {
            for node in root.descendants().filter(|node| is_policy(*node, "Policy")) {
                policies.name(*file, node);
            }
        }
        for (file, root) in &roots {
            for node in root.descendants().filter(Node::is_element) {
                policies.attach(*file, node);
            }
        }
        policies.circles();
        policies
    }

    /// What is wrong with them.
    pub fn faults(&self) -> &[Fault] {
        &self.faults
    }

    /// Takes up a policy that has an identifier or a name.
    fn name(&mut self, file: FileId, node: Node<'_>) {
        let id = id_of(node);
        let name = node.attribute_node("Name");
        if id.is_none() && name.is_none() {
            return;
        }
        let expression = Expression::read(file, node, &mut self.faults);
        if let Some(id) = id {
            let known = self.by_id.insert((file, id.value().to_owned()), expression.clone());
            self.twice(known.is_some(), file, &id);
        }
        if let Some(name) = name {
            let known = self.by_name.insert(name.value().to_owned(), expression);
            self.twice(known.is_some(), file, &name);
        }
    }

    fn twice(&mut self, known: bool, file: FileId, attribute: &Attribute<'_>) {
        if known {
            let message = format!("there are two policies named \"{}\"", attribute.value());
            let fault = Fault::new("policy-name", attribute_place(file, attribute), message);
            self.faults.push(fault.help("rename one of them"));
        }
    }

    /// Takes up what is attached to an element: policies in it, references in it, and its `PolicyURIs`.
    fn attach(&mut self, file: FileId, node: Node<'_>) {
        let name = node.tag_name();
        let is_wsdl = name.namespace() == Some(ns::WSDL);
        let mut found = Vec::new();
        for namespace in ns::POLICY {
            if let Some(attribute) = node.attribute_node((namespace, "PolicyURIs")) {
                for uri in attribute.value().split_ascii_whitespace() {
                    let place = attribute_place(file, &attribute);
                    self.reference(file, uri, place);
                    found.push(Expression::Reference { uri: uri.to_owned(), place });
                }
            }
        }
        if is_policy(node, "PolicyReference") {
            let place = tag_place(file, node);
            match node.attribute_node("URI") {
                Some(uri) => self.reference(file, uri.value(), attribute_place(file, &uri)),
                None => {
                    let fault = Fault::new("policy-structure", place, "this reference names no policy");
                    self.faults.push(fault.help("add a URI attribute"));
                }
            }
        }
        if !is_wsdl {
            return;
        }
        for child in elements(node) {
            if is_policy(child, "Policy") {
                // Those in definitions stand there to be referred to; a named one has been read, faults and all.
                let mut faults = Vec::new();
                let expression = Expression::read(file, child, &mut faults);
                if id_of(child).is_none() && child.attribute("Name").is_none() {
                    self.faults.append(&mut faults);
                }
                if name.name() != "definitions" {
                    found.push(expression);
                }
            } else if is_policy(child, "PolicyReference") {
                let place = tag_place(file, child);
                found.extend(
                    child.attribute("URI").map(|uri| Expression::Reference { uri: uri.to_owned(), place }),
                );
            }
        }
        if !found.is_empty() {
            self.attached.insert(tag_place(file, node), found);
        }
    }

    /// Says where a reference leads nowhere.
    fn reference(&mut self, file: FileId, uri: &str, place: Place) {
        let remote = uri.contains(':') && !uri.starts_with('#');
        if self.target(file, uri).is_none() && !remote {
            let ids = self.by_id.keys().filter(|(of, _)| *of == file).map(|(_, id)| id.as_str());
            let near = self.suggestions.nearest(uri.trim_start_matches('#'), ids);
            let help = near.map_or_else(
                || "declare the policy with that wsu:Id, or correct the reference".to_owned(),
                |near| format!("did you mean \"#{near}\"?"),
            );
            let fault = Fault::new("policy-unknown", place, format!("there is no policy \"{uri}\""));
            self.faults.push(fault.help(help));
        }
    }

    /// The policy that a reference leads to.
    fn target(&self, file: FileId, uri: &str) -> Option<&Expression> {
        match uri.strip_prefix('#') {
            Some(id) => self.by_id.get(&(file, id.to_owned())),
            None => self.by_name.get(uri),
        }
    }

    /// Policies that refer to themselves, each said once.
    fn circles(&mut self) {
        let mut found = Vec::new();
        for ((file, id), expression) in &self.by_id {
            let mut open = vec![(*file, format!("#{id}"))];
            if self.leads_back(*file, expression, &mut open, 0) {
                found.push(expression.place());
            }
        }
        found.sort_unstable();
        for place in found {
            let fault = Fault::new("policy-circle", place, "this policy refers to itself");
            self.faults.push(fault.help("remove one of the references of the circle"));
        }
    }

    fn leads_back(
        &self,
        file: FileId,
        expression: &Expression,
        open: &mut Vec<(FileId, String)>,
        depth: usize,
    ) -> bool {
        match expression {
            Expression::All(parts, _) | Expression::ExactlyOne(parts, _) => {
                parts.iter().any(|part| self.leads_back(file, part, open, depth))
            }
            Expression::Assertion(assertion) => {
                assertion.nested.as_deref().is_some_and(|nested| self.leads_back(file, nested, open, depth))
            }
            Expression::Reference { uri, .. } => {
                let key = (file, uri.clone());
                if open.contains(&key) {
                    return open[0] == key;
                }
                // A circle that does not come back to the first is said where it does.
                let Some(target) = self.target(file, uri).filter(|_| depth < 50) else { return false };
                open.push(key);
                self.leads_back(file, target, open, depth + 1)
            }
        }
    }

    /// Whether all that is attached to some elements is there, and few enough to be looked at.
    pub fn is_known(&self, places: &[Place]) -> bool {
        let mut lost = false;
        let mut left = MOST_RESOLVED;
        let attached = places.iter().flat_map(|place| {
            self.attached.get(place).into_iter().flatten().map(|expression| (place.file, expression))
        });
        for (file, expression) in attached {
            if self.replaced(file, expression, 0, (&mut left, &mut lost)).is_none() {
                return false;
            }
        }
        !lost && self.effective(places).is_some()
    }

    /// The alternatives of what is attached to some elements together; `None` if there are too many of them.
    pub fn effective(&self, places: &[Place]) -> Option<Vec<Alternative>> {
        let mut parts = Vec::new();
        for place in places {
            for expression in self.attached.get(place).into_iter().flatten() {
                parts.push(self.resolved(place.file, expression)?);
            }
        }
        Expression::All(parts, Place::default()).alternatives()
    }

    /// Whether anything is attached anywhere.
    pub fn is_empty(&self) -> bool {
        self.attached.is_empty()
    }

    /// What is attached, by the start tag of the element that it is attached to.
    pub fn attached(&self) -> impl Iterator<Item = (Place, &[Expression])> {
        self.attached.iter().map(|(place, expressions)| (*place, expressions.as_slice()))
    }

    /// An expression with its references replaced by what they lead to; `None` if that is more than `MOST_RESOLVED`.
    pub fn resolved(&self, file: FileId, expression: &Expression) -> Option<Expression> {
        self.replaced(file, expression, 0, (&mut MOST_RESOLVED.clone(), &mut false))
    }

    fn replaced(
        &self,
        file: FileId,
        expression: &Expression,
        depth: usize,
        (left, lost): (&mut usize, &mut bool),
    ) -> Option<Expression> {
        *left = left.checked_sub(1)?;
        let mut all = |parts: &[Expression]| {
            parts
                .iter()
                .map(|part| self.replaced(file, part, depth, (left, lost)))
                .collect::<Option<Vec<_>>>()
        };
        Some(match expression {
            Expression::All(parts, place) => Expression::All(all(parts)?, *place),
            Expression::ExactlyOne(parts, place) => Expression::ExactlyOne(all(parts)?, *place),
            Expression::Assertion(assertion) => {
                let nested = match assertion.nested.as_deref() {
                    Some(nested) => Some(Box::new(self.replaced(file, nested, depth, (left, lost))?)),
                    None => None,
                };
                Expression::Assertion(Assertion { nested, ..assertion.clone() })
            }
            // What leads nowhere, or round in a circle, demands nothing.
            Expression::Reference { uri, place } => match self.target(file, uri).filter(|_| depth < 20) {
                Some(target) => self.replaced(file, target, depth + 1, (left, lost))?,
                None => {
                    *lost = true;
                    Expression::All(Vec::new(), *place)
                }
            },
        })
    }
}

/// The name of an element as a qualified name.
fn name_of(node: Node<'_>) -> QName {
    let name = node.tag_name();
    QName::new(name.namespace().unwrap_or(""), name.name())
}
