//! Removes components: with what would refer to nothing, or with nothing but themselves.

use charter_contract::{Component, Contract, MessageId, OperationId, Side};
use charter_notation::{Child, ElementInfo, Piece};
use charter_schema::Owner;
use charter_source::{Map, Node, Place, QName, Set, element_around};

use crate::change::{Change, Meant, checked_change};
use crate::edit::patched_change;
use crate::editing::Editing;
use crate::failure::{EditFailure, Reference};
use crate::needed::needed_difference;
use crate::patch::Patch;
use crate::uses::Uses;

/// The change that removes a component.
///
/// An operation takes along what it alone uses: its messages, the elements in them, and its place in every binding. Faults
/// refer to the request and the reply of their operation: without both there are none.
///
/// # Errors
/// If something refers to it; with `references`, those are removed too. If the result would be wrong.
pub fn remove(editing: Editing<'_>, component: Component, references: bool) -> Result<Change, EditFailure> {
    let contract = editing.contract;
    if contract.is_built_in(component) {
        let path = contract.path(component);
        return Err(EditFailure::Unsupported(format!(
            "\"{path}\" comes with the program and cannot be removed"
        )));
    }
    match component {
        Component::Contract => {
            Err(EditFailure::Unsupported("the contract itself is a file: remove that".to_owned()))
        }
        Component::Operation(id) => operation(editing, id, &[]),
        Component::OperationSide(id, side) => {
            let faults = match side {
                Side::Fault(_) => Vec::new(),
                _ => faults(contract, id),
            };
            if !references && !faults.is_empty() {
                return Err(EditFailure::Used(references_of(contract, id, &faults)));
            }
            operation(editing, id, &[vec![side], faults].concat())
        }
        _ => elements(editing, component, references),
    }
}

/// The faults of an operation.
fn faults(contract: &Contract, id: OperationId) -> Vec<Side> {
    (0..contract.operation(id).faults.len()).map(Side::Fault).collect()
}

fn references_of(contract: &Contract, id: OperationId, sides: &[Side]) -> Vec<Reference> {
    let reference = |side: &Side| {
        let component = Component::OperationSide(id, *side);
        Some(Reference { path: contract.path(component).to_string(), place: contract.extent(component)? })
    };
    sides.iter().filter_map(reference).collect()
}

/// Removes sides of an operation, or all of it.
fn operation(editing: Editing<'_>, id: OperationId, sides: &[Side]) -> Result<Change, EditFailure> {
    let contract = editing.contract;
    let component = Component::Operation(id);
    let Some(piece) = Piece::of(contract, component, editing.convention) else {
        return Err(EditFailure::Nothing);
    };
    let base = piece.read(&piece.text()).map_err(EditFailure::Notation)?;
    let mut wanted = base.clone();
    let (mut messages, mut gone) = (Vec::new(), Vec::new());
    for container in wanted.elements_mut().filter(|it| it.is_wsdl("portType") || it.is_wsdl("binding")) {
        if sides.is_empty() {
            container.elements().for_each(|operation| named_messages(operation, &mut messages));
            container.children.retain(|child| !is(child, |info| info.is_wsdl("operation")));
        }
        for side in sides {
            without_side(contract, id, *side, container, &mut messages);
        }
    }
    let is_named = |info: &ElementInfo| messages.iter().any(|name| info.text("name") == Some(&*name.local));
    for message in wanted.elements().filter(|it| it.is_wsdl("message") && is_named(it)) {
        gone.extend(message.elements().filter_map(|part| part.named("element")).cloned());
    }
    wanted.children.retain(|child| !is(child, |info| info.is_wsdl("message") && is_named(info)));
    for schema in wanted.elements_mut().filter(|it| it.is_wsdl("types")).flat_map(ElementInfo::elements_mut) {
        let is_gone =
            |info: &ElementInfo| gone.iter().any(|name: &QName| info.text("name") == Some(&*name.local));
        schema.children.retain(|child| !is(child, is_gone));
    }
    let addition = needed_difference(contract, piece.actual(), base, wanted)?;
    let component = sides.first().map_or(component, |side| Component::OperationSide(id, *side));
    let path = contract.path(component).to_string();
    let prefixes = piece.prefixes().clone();
    drop(piece);
    patched_change(editing, addition, &prefixes, &|result| gone_in(result, &path))
}

/// Takes one side out of the operations of a port type or a binding, and notes the messages that it names.
fn without_side(
    contract: &Contract,
    id: OperationId,
    side: Side,
    container: &mut ElementInfo,
    messages: &mut Vec<QName>,
) {
    let (local, name) = match side {
        Side::Input => ("input", None),
        Side::Output => ("output", None),
        Side::Fault(index) => ("fault", contract.operation(id).faults[index].name.as_ref()),
    };
    let matches = |info: &ElementInfo| {
        info.is_wsdl(local) && name.is_none_or(|name| info.text("name") == Some(&*name.text))
    };
    for operation in container.elements_mut().filter(|it| it.is_wsdl("operation")) {
        operation.elements().filter(|info| matches(info)).for_each(|info| named_messages(info, messages));
        operation.children.retain(|child| !is(child, matches));
    }
}

fn is(child: &Child, what: impl Fn(&ElementInfo) -> bool) -> bool {
    matches!(child, Child::Element(info) if what(info))
}

fn named_messages(info: &ElementInfo, found: &mut Vec<QName>) {
    found.extend(info.named("message").cloned());
    info.elements().for_each(|child| named_messages(child, found));
}

fn gone_in(result: &Contract, path: &str) -> Result<(), EditFailure> {
    match result.find(path) {
        Ok(_) => Err(EditFailure::Harm(format!("\"{path}\" would still be there"))),
        Err(_) => Ok(()),
    }
}

/// Elements of the files, each of one component.
fn elements(editing: Editing<'_>, component: Component, references: bool) -> Result<Change, EditFailure> {
    let contract = editing.contract;
    let uses = Uses::of(contract);
    let mut going: Set<Component> = Set::default();
    let mut extents: Vec<Place> = Vec::new();
    let mut open = vec![component];
    let mut used: Vec<Reference> = Vec::new();
    let mut headers = Headers::default();
    while let Some(next) = open.pop() {
        if !going.insert(next) {
            continue;
        }
        extents.extend(contract.extent(next));
        extents.extend(along(contract, &uses, next, &mut headers));
        if let Component::Part(id, _) = next
            && is_left_without_use(contract, &uses, id, &going)
        {
            open.push(Component::Message(id));
        }
        let own = contract.extent(next);
        for place in uses.of_component(contract, next) {
            if own.is_some_and(|own| own.file == place.file && own.span.covers(place.span)) {
                continue;
            }
            let user = contract.component_at(*place);
            if next == component {
                used.push(Reference { path: contract.path(user).to_string(), place: *place });
            }
            match user {
                Component::Contract => {}
                // A header block goes by itself; a message without which an operation is none takes that along.
                Component::BindingSide(..) => extents.extend(element_at(contract, *place)),
                Component::OperationSide(id, Side::Input | Side::Output) => {
                    open.push(Component::Operation(id))
                }
                user => open.push(around(contract, user)),
            }
        }
    }
    if !references && !used.is_empty() {
        used.sort_by_key(|reference| reference.place);
        used.dedup();
        return Err(EditFailure::Used(used));
    }
    let path = contract.path(component).to_string();
    // The second of two elements of a name may now be the first.
    let named_again = matches!(component, Component::Element(_) | Component::ElementUse(_));
    without(editing, extents, &|result| if named_again { Ok(()) } else { gone_in(result, &path) })
}

/// Whether a message has lost all its parts, and is no request or reply, which may be empty.
fn is_left_without_use(contract: &Contract, uses: &Uses, id: MessageId, going: &Set<Component>) -> bool {
    let parts = 0..contract.messages[id].parts.len();
    let is_body = |place: &Place| {
        matches!(contract.component_at(*place), Component::OperationSide(_, Side::Input | Side::Output))
    };
    parts.into_iter().all(|index| going.contains(&Component::Part(id, index)))
        && !uses.of_component(contract, Component::Message(id)).iter().any(is_body)
}

/// What goes with a component without naming it: operations and faults are bound by their names, parts go into header
/// blocks by theirs.
fn along(contract: &Contract, uses: &Uses, component: Component, headers: &mut Headers) -> Vec<Place> {
    match component {
        Component::Operation(id) => contract.bound(id).map(|bound| bound.operation.extent).collect(),
        Component::OperationSide(id, Side::Fault(index)) => {
            let Some(name) = &contract.operation(id).faults[index].name else { return Vec::new() };
            let faults = contract.bound(id).flat_map(|bound| &bound.operation.faults);
            let own = faults.filter(|fault| fault.name.as_ref().is_some_and(|own| own.text == name.text));
            own.map(|fault| fault.extent).collect()
        }
        Component::Part(id, index) => {
            let part = &contract.messages[id].parts[index].name.text;
            headers.of(contract, uses, id).get(&**part).cloned().unwrap_or_default()
        }
        _ => Vec::new(),
    }
}

/// The elements of bindings that name a message and a part of it, by the part, for each message that was asked for.
#[derive(Default)]
struct Headers(Map<MessageId, Map<String, Vec<Place>>>);

impl Headers {
    fn of(&mut self, contract: &Contract, uses: &Uses, id: MessageId) -> &Map<String, Vec<Place>> {
        self.0.entry(id).or_insert_with(|| {
            let mut found: Map<String, Vec<Place>> = Map::default();
            for place in uses.of_component(contract, Component::Message(id)) {
                if matches!(contract.component_at(*place), Component::BindingSide(..))
                    && let Some(part) = attribute_at(contract, *place, "part")
                {
                    found.entry(part.to_owned()).or_default().extend(element_at(contract, *place));
                }
            }
            found
        })
    }
}

/// The component to remove with a use: an anonymous type goes with what it is the type of.
fn around(contract: &Contract, component: Component) -> Component {
    match component {
        Component::Type(id) if contract.schemas.types[id].name.is_none() => {
            match contract.schemas.types[id].owner {
                Owner::Element(id) => Component::Element(id),
                Owner::Attribute(id) => Component::Attribute(id),
                Owner::Type(id) => around(contract, Component::Type(id)),
                _ => component,
            }
        }
        other => other,
    }
}

/// The element that a place in one of its attributes belongs to.
fn element_at(contract: &Contract, place: Place) -> Option<Place> {
    let node = node_at(contract, place)?;
    Some(Place { file: place.file, span: node.range().into() })
}

/// The value of another attribute of that element.
fn attribute_at<'c>(contract: &'c Contract, place: Place, name: &str) -> Option<&'c str> {
    node_at(contract, place)?.attribute(name)
}

fn node_at(contract: &Contract, place: Place) -> Option<Node<'_>> {
    element_around(contract.files.get(place.file).root()?, place.span)
}

/// The change that takes elements out.
fn without(editing: Editing<'_>, mut extents: Vec<Place>, meant: Meant<'_>) -> Result<Change, EditFailure> {
    extents.sort_by_key(|place| (place.file, place.span.start, std::cmp::Reverse(place.span.end)));
    extents.dedup();
    let mut outer: Option<Place> = None;
    extents.retain(|place| {
        let inside = outer.is_some_and(|outer| outer.file == place.file && outer.span.covers(place.span));
        if !inside {
            outer = Some(*place);
        }
        !inside
    });
    let mut patch = Patch::new(editing.contract, charter_notation::Prefixes::of(editing.contract));
    for place in extents {
        patch.remove(place)?;
    }
    checked_change(editing, patch.finish(), Vec::new(), meant)
}

/// The change that removes everything that no service leads to.
///
/// # Errors
/// If there is no service, or nothing to remove.
pub fn remove_unused(editing: Editing<'_>) -> Result<Change, EditFailure> {
    let contract = editing.contract;
    if contract.services.iter().next().is_none() {
        let why = "the contract has no service, so nothing in it is used";
        return Err(EditFailure::Unsupported(why.to_owned()));
    }
    let uses = Uses::of(contract);
    let all = removable(contract);
    // What the services lead to, and everything that stands in for it: a derived type, a substitute.
    let mut reached: Set<Place> = Set::default();
    let mut open: Vec<Place> = contract.services.iter().map(|(_, it)| it.extent).collect();
    let mut by_user: charter_source::Map<Place, Vec<Place>> = charter_source::Map::default();
    let holder = Holders::new(&all);
    for (component, extent) in &all {
        for place in uses.of_component(contract, *component) {
            let user = holder.of(*place).unwrap_or(*place);
            by_user.entry(user).or_default().push(*extent);
            if stands_in(contract, *place) {
                by_user.entry(*extent).or_default().push(user);
            }
        }
    }
    let roots: Vec<Place> = open.clone();
    for (user, targets) in &by_user {
        if roots.iter().any(|root| root.file == user.file && root.span.covers(user.span)) {
            open.extend(targets);
        }
    }
    while let Some(next) = open.pop() {
        if reached.insert(next) {
            open.extend(by_user.get(&next).into_iter().flatten());
        }
    }
    let unused: Vec<Place> =
        all.iter().map(|(_, extent)| *extent).filter(|extent| !reached.contains(extent)).collect();
    if unused.is_empty() {
        return Err(EditFailure::Nothing);
    }
    without(editing, unused, &|_| Ok(()))
}

/// All components that go by themselves: whatever has a name, but for services and operations.
fn removable(contract: &Contract) -> Vec<(Component, Place)> {
    let mut all: Vec<(Component, Place)> = Vec::new();
    all.extend(contract.messages.iter().map(|(id, it)| (Component::Message(id), it.extent)));
    all.extend(contract.port_types.iter().map(|(id, it)| (Component::PortType(id), it.extent)));
    all.extend(contract.bindings.iter().map(|(id, it)| (Component::Binding(id), it.extent)));
    let schemas = &contract.schemas;
    all.extend(
        schemas
            .own_types()
            .filter(|(_, it)| it.name.is_some())
            .map(|(id, it)| (Component::Type(id), it.extent)),
    );
    let global = |owner: Owner| owner == Owner::Schema;
    all.extend(
        schemas
            .elements
            .iter()
            .filter(|(_, it)| global(it.owner))
            .map(|(id, it)| (Component::Element(id), it.extent)),
    );
    let attributes = schemas.attribute_decls.iter().filter(|(_, it)| global(it.owner));
    all.extend(attributes.map(|(id, it)| (Component::Attribute(id), it.extent)));
    all.extend(schemas.groups.iter().map(|(id, it)| (Component::Group(id), it.extent)));
    all.extend(schemas.attribute_groups.iter().map(|(id, it)| (Component::AttributeGroup(id), it.extent)));
    all.retain(|(component, _)| !contract.is_built_in(*component));
    all
}

/// Whether a reference says that its holder may stand where its target does.
fn stands_in(contract: &Contract, place: Place) -> bool {
    let before = &contract.files.get(place.file).text().content()[..place.span.start as usize];
    let attribute =
        before.trim_end_matches(|c: char| !matches!(c, '=' | '<' | '>')).trim_end_matches('=').trim_end();
    attribute.ends_with("base") || attribute.ends_with("substitutionGroup")
}

/// Which global component a place stands in.
struct Holders {
    extents: Vec<Place>,
}

impl Holders {
    fn new(all: &[(Component, Place)]) -> Holders {
        let mut extents: Vec<Place> = all.iter().map(|(_, extent)| *extent).collect();
        extents.sort_unstable();
        Holders { extents }
    }

    fn of(&self, place: Place) -> Option<Place> {
        let at =
            self.extents.partition_point(|it| (it.file, it.span.start) <= (place.file, place.span.start));
        let found = self.extents[..at].last()?;
        (found.file == place.file && found.span.covers(place.span)).then_some(*found)
    }
}
