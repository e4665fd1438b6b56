//! Compares operations by their wire shapes, and gathers what reaches them.

use charter_contract::{
    Body, Component, Contract, HeaderBlock, OperationId, PortId, Side, WireElement, WireShape,
};
use charter_schema::Owner;
use charter_source::{Map, Place, QName, Set};

use crate::content::renaming;
use crate::names::pair;
use crate::report::{Change, Difference, Effect, Reader, Report, Touched, Verdict};
use crate::types::{Outcome, Pair, Types};

/// Compares two versions of a contract, for consumers that read as `reader` says.
///
/// ```
/// use charter_compare::{Reader, Verdict, compare};
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" targetNamespace="urn:saltmere:tide">
///   <w:portType name="Tides"><w:operation name="next"/><w:operation name="last"/></w:portType>
/// </w:definitions>"#;
/// let load = |text: &str| {
///     Contract::load(&Overlay::of(&[("t.wsdl", text)]), &Location::from_argument("t.wsdl"), Limits::default())
/// };
/// let (old, new) = (load(text)?, load(&text.replace(r#"<w:operation name="last"/>"#, ""))?);
/// let report = compare(&old, &new, Reader::Unknown);
/// assert_eq!((report.verdict, report.changes[0].path.as_str()), (Verdict::Breaks, "operation/last"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn compare(old: &Contract, new: &Contract, reader: Reader) -> Report {
    let mut comparison = Comparison {
        types: Types::new(old, new),
        old,
        new,
        reader,
        changes: Vec::new(),
        known: Map::default(),
        touched: Set::default(),
    };
    let operations = comparison.operations();
    comparison.ports();
    comparison.globals();
    let mut changes = comparison.changes;
    let mut broken: Set<&str> = Set::default();
    for change in changes.iter().filter(|change| change.verdict == Verdict::Breaks) {
        broken.extend(change.worst().map(|touched| touched.operation.as_str()));
    }
    let broken = broken.len();
    changes.sort_by(|a, b| b.verdict.cmp(&a.verdict).then_with(|| a.new_place.cmp(&b.new_place)));
    let verdict = changes.iter().map(|change| change.verdict).max().unwrap_or(Verdict::Keeps);
    Report { verdict, changes, operations, broken }
}

struct Comparison<'c> {
    types: Types<'c>,
    old: &'c Contract,
    new: &'c Contract,
    reader: Reader,
    changes: Vec<Change>,
    /// Changes by what tells them apart: one cause is one entry.
    known: Map<(String, &'static str, String), usize>,
    /// The sides that each change reaches.
    touched: Set<(usize, OperationId, Side)>,
}

/// The versions of one operation.
type Both = (OperationId, OperationId);

impl Comparison<'_> {
    /// Compares all operations; how many both versions have.
    fn operations(&mut self) -> usize {
        let (old, new) = (operation_keys(self.old, self.new), operation_keys(self.new, self.old));
        let (both, gone, come) = pair(&borrow(&old), &borrow(&new));
        for id in gone {
            let operation = self.old.operation(id);
            let message = format!("the operation \"{}\" is gone", operation.name.text);
            self.component(
                Verdict::Breaks,
                "operation-removed",
                message,
                Some(Component::Operation(id)),
                None,
            );
        }
        for id in come {
            let operation = self.new.operation(id);
            let message = format!("the operation \"{}\" is new", operation.name.text);
            self.component(Verdict::Keeps, "operation-added", message, None, Some(Component::Operation(id)));
        }
        for operations in &both {
            self.operation(*operations);
        }
        both.len()
    }

    fn operation(&mut self, both: Both) {
        let sides = |contract: &Contract, id: OperationId| -> Vec<(String, Side)> {
            contract.sides(id).into_iter().map(|side| (contract.side_name(id, side), side)).collect()
        };
        let (old, new) = (sides(self.old, both.0), sides(self.new, both.1));
        let (kept, gone, come) = pair(&borrow(&old), &borrow(&new));
        for side in gone {
            let name = self.old.side_name(both.0, side);
            let (verdict, rule) = match side {
                Side::Fault(_) => (Verdict::Keeps, "fault-removed"),
                _ => (Verdict::Breaks, "pattern-changed"),
            };
            let operation = &self.old.operation(both.0).name.text;
            let message = format!("the {name} of \"{operation}\" is gone");
            self.component(verdict, rule, message, Some(Component::OperationSide(both.0, side)), None);
            self.touch_last(both, &name);
        }
        for side in come {
            let name = self.new.side_name(both.1, side);
            let (verdict, rule) = match side {
                // Whoever calls a service must be ready for a fault, but this one nobody knows by name.
                Side::Fault(_) => (Verdict::Bends, "fault-added"),
                _ => (Verdict::Breaks, "pattern-changed"),
            };
            let operation = &self.new.operation(both.1).name.text;
            let message = format!("the {name} of \"{operation}\" is new");
            self.component(verdict, rule, message, None, Some(Component::OperationSide(both.1, side)));
            self.touch_last(both, &name);
        }
        for (old_side, new_side) in kept {
            self.side(both, old_side, new_side);
        }
    }

    fn touch_last(&mut self, both: Both, side: &str) {
        let operation = self.new.operation(both.1).name.text.to_string();
        if let Some(change) = self.changes.last_mut() {
            change.operations.push(Touched { operation, side: side.to_owned(), verdict: change.verdict });
        }
    }

    /// Compares a side through each port that both versions have; without ports, as the binding has it.
    fn side(&mut self, both: Both, old_side: Side, new_side: Side) {
        let mut compared = false;
        for (old_port, new_port) in self.port_pairs() {
            let old = self.old.wire_shape(both.0, old_side, Some(old_port));
            let new = self.new.wire_shape(both.1, new_side, Some(new_port));
            if let (Ok(old), Ok(new)) = (old, new) {
                compared = true;
                self.shapes(both, &old, &new);
            }
        }
        if !compared {
            let old = self.old.wire_shape(both.0, old_side, None);
            let new = self.new.wire_shape(both.1, new_side, None);
            match (old, new) {
                (Ok(old), Ok(new)) => self.shapes(both, &old, &new),
                (Err(_), Err(_)) => {}
                (_, Err(error)) => self.unshaped(both, new_side, error.to_string(), Some(error.place)),
                (Err(error), _) => self.unshaped(both, new_side, error.to_string(), None),
            }
        }
    }

    fn unshaped(&mut self, both: Both, side: Side, reason: String, place: Option<Place>) {
        let difference = Difference {
            path: self.new.path(Component::OperationSide(both.1, side)).to_string(),
            rule: "not-compared",
            message: format!("the two versions could not be compared here: {reason}"),
            effect: Effect::UNDECIDED,
            old: None,
            new: None,
            old_place: None,
            new_place: place,
        };
        self.record(both, side, difference);
    }

    /// Ports that both versions have, by the names of service and port.
    fn port_pairs(&self) -> Vec<(PortId, PortId)> {
        let (old, new) = (ports(self.old), ports(self.new));
        pair(&borrow(&old), &borrow(&new)).0
    }

    fn shapes(&mut self, both: Both, old: &WireShape, new: &WireShape) {
        self.protocol(both, old, new);
        self.headers(both, old, new);
        let mut roots = Vec::new();
        match (&old.body, &new.body) {
            (Body::Elements(a), Body::Elements(b)) => self.elements(both, new, a, b, &mut roots),
            (Body::Content(a), Body::Content(b)) => {
                let side = |id, side| Component::OperationSide(id, side);
                let from = (side(both.0, old.side), side(both.1, new.side));
                roots.push(self.types.pair(*a, *b, Some(from)));
            }
            (Body::Wrapper { name: was, parts: a }, Body::Wrapper { name: is, parts: b }) => {
                if was != is {
                    let place = Some(self.new.operation(both.1).place);
                    self.body(both, new, "body-changed", renaming(was, is), Effect::OTHER, place);
                }
                let old_keys: Vec<(&str, _)> = a.iter().map(|part| (part.name.as_str(), part)).collect();
                let new_keys: Vec<(&str, _)> = b.iter().map(|part| (part.name.as_str(), part)).collect();
                let (kept, gone, come) = pair(&old_keys, &new_keys);
                for (was, is) in kept {
                    let from = (self.old.component_at(was.place), self.new.component_at(is.place));
                    roots.push(self.types.pair(was.ty, is.ty, Some(from)));
                }
                for part in gone {
                    let message = format!("the part \"{}\" is gone", part.name);
                    self.body(both, new, "part-removed", message, Effect::OTHER, None);
                }
                for part in come {
                    let message = format!("the part \"{}\" is new", part.name);
                    self.body(both, new, "part-added", message, Effect::NEW_REQUIRED, Some(part.place));
                }
            }
            _ => {
                let message = "the body is built differently".to_owned();
                let place = Some(self.new.operation(both.1).place);
                self.body(both, new, "body-changed", message, Effect::OTHER, place);
            }
        }
        self.follow(both, new.side, roots);
    }

    /// Everything that a consumer must do differently though the body is the same.
    fn protocol(&mut self, both: Both, old: &WireShape, new: &WireShape) {
        let binding = Component::Binding(new.binding);
        let place = Some(self.new.bindings[new.binding].place);
        let mut changes = Vec::new();
        if old.soap != new.soap {
            let words = format!("SOAP {} became SOAP {}", old.soap.number(), new.soap.number());
            changes.push(("soap-version-changed", words, old.soap.number(), new.soap.number()));
        }
        if old.style != new.style {
            let words = format!("the style {} became {}", old.style.name(), new.style.name());
            changes.push(("style-changed", words, old.style.name(), new.style.name()));
        }
        for (rule, message, was, is) in changes {
            let difference = Difference {
                path: self.new.path(binding).to_string(),
                rule,
                message,
                effect: Effect::OTHER,
                old: Some(was.to_owned()),
                new: Some(is.to_owned()),
                old_place: Some(self.old.bindings[old.binding].place),
                new_place: place,
            };
            self.record(both, new.side, difference);
        }
        if old.action != new.action {
            let shown = |action: &Option<String>| action.clone().unwrap_or_else(|| "none".to_owned());
            let difference = Difference {
                path: format!(
                    "{}/operation/{}",
                    self.new.path(binding),
                    self.new.operation(both.1).name.text
                ),
                rule: "action-changed",
                message: "the action is another: providers that look at it refuse the old one".to_owned(),
                effect: Effect::OTHER,
                old: Some(format!("action {}", shown(&old.action))),
                new: Some(format!("action {}", shown(&new.action))),
                old_place: Some(self.old.operation(both.0).place),
                new_place: Some(self.new.operation(both.1).place),
            };
            self.record(both, new.side, difference);
        }
    }

    fn headers(&mut self, both: Both, old: &WireShape, new: &WireShape) {
        let keys = |contract: &Contract, headers: &[HeaderBlock]| -> Vec<(String, usize)> {
            let name = |block: &HeaderBlock| element_name(contract, &block.content).to_string();
            headers.iter().enumerate().map(|(index, block)| (name(block), index)).collect()
        };
        let (old_keys, new_keys) = (keys(self.old, &old.headers), keys(self.new, &new.headers));
        let (kept, gone, come) = pair(&borrow(&old_keys), &borrow(&new_keys));
        let mut roots = Vec::new();
        for (was, is) in kept {
            roots.extend(self.element_pair(&old.headers[was].content, &new.headers[is].content));
        }
        self.follow(both, new.side, roots);
        let request = new.side == Side::Input;
        for index in gone {
            let block = &old.headers[index];
            let name = element_name(self.old, &block.content);
            let message = format!("the header \"{}\" is gone", name.local);
            // A header that is still sent may be ignored; one that was read is missed.
            let effect = if request { Effect::UNDECIDED } else { Effect::OTHER };
            self.header(both, new.side, "header-removed", message, effect, (Some(block), None));
        }
        for index in come {
            let block = &new.headers[index];
            let name = element_name(self.new, &block.content);
            let message = if request {
                format!("the header \"{}\" must now be sent", name.local)
            } else {
                format!("the header \"{}\" is new", name.local)
            };
            let effect = Effect::NEW_REQUIRED;
            self.header(both, new.side, "header-added", message, effect, (None, Some(block)));
        }
    }

    /// A header block that one version has and the other has not.
    fn header(
        &mut self,
        both: Both,
        side: Side,
        rule: &'static str,
        message: String,
        effect: Effect,
        (was, is): (Option<&HeaderBlock>, Option<&HeaderBlock>),
    ) {
        let line = |contract: &Contract, block: &HeaderBlock| {
            format!("header {}: {}", block.part, element_name(contract, &block.content).local)
        };
        let side_path = self.new.path(Component::OperationSide(both.1, side)).to_string();
        let path = |contract: &Contract, block: &HeaderBlock| match &block.content {
            WireElement::Declared(id) => contract.path(Component::Element(*id)).to_string(),
            WireElement::Typed { .. } => side_path.clone(),
        };
        let of_old = was.map(|was| path(self.old, was));
        let path = is.map(|is| path(self.new, is)).or(of_old).unwrap_or_default();
        let difference = Difference {
            path,
            rule,
            message,
            effect,
            old: was.map(|was| line(self.old, was)),
            new: is.map(|is| line(self.new, is)),
            old_place: was.map(|was| was.place),
            new_place: is.map(|is| is.place),
        };
        self.record(both, side, difference);
    }

    /// Compares the elements of a body.
    fn elements(
        &mut self,
        both: Both,
        new: &WireShape,
        a: &[WireElement],
        b: &[WireElement],
        roots: &mut Vec<Pair>,
    ) {
        if a.len() != b.len() {
            let message = format!("the body held {} elements and now holds {}", a.len(), b.len());
            let place = Some(self.new.operation(both.1).place);
            return self.body(both, new, "body-changed", message, Effect::OTHER, place);
        }
        for (was, is) in a.iter().zip(b) {
            let (old_name, new_name) = (element_name(self.old, was), element_name(self.new, is));
            if old_name != new_name {
                let place = match is {
                    WireElement::Declared(id) => self.new.schemas.elements[*id].place,
                    WireElement::Typed { .. } => self.new.operation(both.1).place,
                };
                self.body(
                    both,
                    new,
                    "element-renamed",
                    renaming(&old_name, &new_name),
                    Effect::OTHER,
                    Some(place),
                );
            }
            roots.extend(self.element_pair(was, is));
        }
    }

    fn element_pair(&self, was: &WireElement, is: &WireElement) -> Option<Pair> {
        Some(match (was, is) {
            (WireElement::Declared(was), WireElement::Declared(is)) => self.types.of_elements(*was, *is),
            _ => self.types.pair(self.wire_type(self.old, was), self.wire_type(self.new, is), None),
        })
    }

    fn wire_type(&self, contract: &Contract, element: &WireElement) -> charter_schema::TypeId {
        match element {
            WireElement::Declared(id) => contract.schemas.element_type(*id),
            WireElement::Typed { ty, .. } => *ty,
        }
    }

    fn body(
        &mut self,
        both: Both,
        new: &WireShape,
        rule: &'static str,
        message: String,
        effect: Effect,
        place: Option<Place>,
    ) {
        let difference = Difference {
            path: self.new.path(Component::OperationSide(both.1, new.side)).to_string(),
            rule,
            message,
            effect,
            old: None,
            new: None,
            old_place: None,
            new_place: place,
        };
        self.record(both, new.side, difference);
    }

    /// Records every difference that the pairs lead to, each pair once.
    fn follow(&mut self, both: Both, side: Side, roots: Vec<Pair>) {
        let mut seen: Set<Pair> = Set::default();
        let mut waiting = roots;
        while let Some(pair) = waiting.pop() {
            if !seen.insert(pair) {
                continue;
            }
            let outcome = self.types.outcome(pair);
            let Outcome { differences, leads_to } = self.types.get(outcome);
            waiting.extend(leads_to);
            for difference in differences.clone() {
                self.record(both, side, difference);
            }
        }
    }

    /// Adds what a difference does to one side, to the change that it belongs to.
    fn record(&mut self, both: Both, side: Side, difference: Difference) {
        let verdict = match side {
            Side::Input => difference.effect.sent(),
            _ => difference.effect.read(self.reader),
        };
        let key = (difference.path.clone(), difference.rule, difference.message.clone());
        let index = *self.known.entry(key).or_insert_with(|| {
            self.changes.push(Change {
                path: difference.path,
                verdict: Verdict::Keeps,
                rule: difference.rule,
                message: difference.message,
                old: difference.old,
                new: difference.new,
                old_place: difference.old_place,
                new_place: difference.new_place,
                operations: Vec::new(),
            });
            self.changes.len() - 1
        });
        let operation = self.new.operation(both.1).name.text.to_string();
        let touched = Touched { operation, side: self.new.side_name(both.1, side), verdict };
        let change = &mut self.changes[index];
        change.verdict = change.verdict.max(verdict);
        if self.touched.insert((index, both.1, side)) {
            change.operations.push(touched);
        }
    }

    /// A change of a whole component.
    fn component(
        &mut self,
        verdict: Verdict,
        rule: &'static str,
        message: String,
        was: Option<Component>,
        is: Option<Component>,
    ) {
        let path = match (was, is) {
            (_, Some(is)) => self.new.path(is),
            (Some(was), None) => self.old.path(was),
            (None, None) => self.new.path(Component::Contract),
        };
        self.changes.push(Change {
            path: path.to_string(),
            verdict,
            rule,
            message,
            old: None,
            new: None,
            old_place: was.map(|was| self.old.place(was)),
            new_place: is.map(|is| self.new.place(is)),
            operations: Vec::new(),
        });
    }

    /// Compares ports: whether they are there, and where.
    fn ports(&mut self) {
        let (old, new) = (ports(self.old), ports(self.new));
        let (both, gone, come) = pair(&borrow(&old), &borrow(&new));
        for port in gone {
            let message = format!("the port \"{}\" is gone", self.old.port(port).name.text);
            self.component(Verdict::Breaks, "port-removed", message, Some(Component::Port(port)), None);
        }
        for port in come {
            let message = format!("the port \"{}\" is new", self.new.port(port).name.text);
            self.component(Verdict::Keeps, "port-added", message, None, Some(Component::Port(port)));
        }
        for (old, new) in both {
            let text = |label: Option<&charter_contract::Label>| label.map(|label| label.text.to_string());
            let (was, is) = (text(self.old.port(old).address()), text(self.new.port(new).address()));
            if was != is {
                let message =
                    "the address is another: consumers must be told, or the old one must go on answering";
                let (of_old, of_new) = (Some(Component::Port(old)), Some(Component::Port(new)));
                self.component(Verdict::Bends, "address-changed", message.into(), of_old, of_new);
                if let Some(change) = self.changes.last_mut() {
                    (change.old, change.new) = (was, is);
                }
            }
        }
    }

    /// Global types and elements that came or went. On the wire only their use counts, which is compared
    /// above; but an architect wants to see them.
    fn globals(&mut self) {
        let types = |contract: &Contract| -> Vec<(String, Component)> {
            let own = contract.schemas.own_types();
            own.filter_map(|(id, ty)| Some((ty.name.as_ref()?.to_string(), Component::Type(id)))).collect()
        };
        let elements = |contract: &Contract| -> Vec<(String, Component)> {
            // An element that is a message part comes and goes with its operation or header.
            let parts = contract.messages.iter().flat_map(|(_, message)| &message.parts);
            let in_parts: Set<_> = parts.filter_map(|part| part.element.as_ref()?.target).collect();
            let all = contract.schemas.elements.iter().filter(|(_, element)| element.owner == Owner::Schema);
            all.filter(|(id, _)| !in_parts.contains(id))
                .map(|(id, element)| (element.name.to_string(), Component::Element(id)))
                .collect()
        };
        let kinds = [
            ("type", "type-removed", "type-added", types(self.old), types(self.new)),
            ("element", "element-removed", "element-added", elements(self.old), elements(self.new)),
        ];
        for (kind, removed, added, old, new) in kinds {
            let (_, gone, come) = pair(&borrow(&old), &borrow(&new));
            for component in gone {
                let path = self.old.path(component);
                let name = path.as_str().rsplit('/').next().unwrap_or("").to_owned();
                let message = format!("the {kind} \"{name}\" is gone");
                self.component(Verdict::Keeps, removed, message, Some(component), None);
            }
            for component in come {
                let path = self.new.path(component);
                let name = path.as_str().rsplit('/').next().unwrap_or("").to_owned();
                let message = format!("the {kind} \"{name}\" is new");
                self.component(Verdict::Keeps, added, message, None, Some(component));
            }
        }
    }
}

/// All operations, by names that both versions share: the name alone where it is the only one of its kind in
/// either version, else with its port type and the names of its sides, which tell overloaded ones apart.
fn operation_keys(contract: &Contract, other: &Contract) -> Vec<(String, OperationId)> {
    let mut counts: Map<&str, usize> = Map::default();
    for contract in [contract, other] {
        let mut here: Map<&str, usize> = Map::default();
        for (_, operation) in contract.operations() {
            *here.entry(&operation.name.text).or_default() += 1;
        }
        for (name, count) in here {
            let most = counts.entry(name).or_default();
            *most = count.max(*most);
        }
    }
    let key = |id: OperationId| {
        let operation = contract.operation(id);
        let name = &operation.name.text;
        if counts.get(&**name) == Some(&1) {
            return name.to_string();
        }
        let port_type = &contract.port_types[id.port_type].name.local;
        let side = |name: Option<String>| name.unwrap_or_default();
        format!("{port_type}/{name}/{}/{}", side(operation.input_name()), side(operation.output_name()))
    };
    contract.operations().map(|(id, _)| (key(id), id)).collect()
}

/// All ports, by the names of service and port.
fn ports(contract: &Contract) -> Vec<(String, PortId)> {
    let name = |id: PortId| &contract.services[id.service].name.local;
    contract.ports().map(|(id, port)| (format!("{}/{}", name(id), port.name.text), id)).collect()
}

fn borrow<T: Copy>(keys: &[(String, T)]) -> Vec<(&str, T)> {
    keys.iter().map(|(key, value)| (key.as_str(), *value)).collect()
}

fn element_name(contract: &Contract, element: &WireElement) -> QName {
    match element {
        WireElement::Declared(id) => contract.schemas.elements[*id].name.clone(),
        WireElement::Typed { name, .. } => name.clone(),
    }
}
