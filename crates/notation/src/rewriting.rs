//! A change of some whole components of a contract, wherever they are written.

use charter_contract::Contract;
use charter_source::Place;

use crate::addition::Addition;
use crate::gather::Gathering;
use crate::info::ElementInfo;

/// What becomes of components that have names of their own: each as it is to be, and those that come.
#[derive(Debug, Clone, Default)]
pub struct Rewriting {
    /// Components that are there, by the place of their element, as they are to be.
    pub changed: Vec<(Place, ElementInfo)>,
    /// Components of schemas that are to come, each with its target namespace.
    pub come: Vec<(String, ElementInfo)>,
    /// Messages, bindings and the like that are to come.
    pub beside: Vec<ElementInfo>,
}

/// The change of a contract that a rewriting is; nothing, if a component is not where it should be, or if none of its schemas
/// has the namespace of one that is to come.
pub fn rewriting(contract: &Contract, wanted: Rewriting) -> Option<Addition> {
    let mut gathering = Gathering::new(contract);
    let types = gathering.types_head();
    let head = contract.definitions.iter().next().and_then(|(_, first)| gathering.head(first.file));
    // What is there, and what is wanted in its place: schemas with some of their components, and what stands beside them.
    let mut schemas: Vec<(ElementInfo, ElementInfo)> = Vec::new();
    let mut beside: Vec<(ElementInfo, ElementInfo)> = Vec::new();
    for (place, info) in wanted.changed {
        let actual = gathering.at(place)?;
        match contract.schemas.document_of(place) {
            Some(_) => {
                let schema = schema_of(&mut schemas, gathering.schema_head(place)?);
                schema.0.push(actual);
                schema.1.push(info);
            }
            None => beside.push((actual, info)),
        }
    }
    for (namespace, info) in wanted.come {
        let documents = &contract.schemas.documents;
        let is_own = |place: Place| !contract.schemas.is_known(place);
        let document = documents.iter().find(|it| *it.namespace == *namespace && is_own(it.place))?;
        schema_of(&mut schemas, gathering.schema_head(document.place)?).1.push(info);
    }
    let (mut before, mut after) = (types.clone(), types);
    for (was, is) in schemas {
        before.push(was);
        after.push(is);
    }
    let Some(head) = head else {
        return Some(Addition { actual: before.clone(), base: before, wanted: after });
    };
    let (mut base, mut whole) = (head.clone(), head);
    if !after.children.is_empty() {
        base.push(before);
        whole.push(after);
    }
    for (was, is) in beside {
        base.push(was);
        whole.push(is);
    }
    wanted.beside.into_iter().for_each(|info| whole.push(info));
    Some(Addition { actual: base.clone(), base, wanted: whole })
}

/// The schema of the namespace that a head has.
fn schema_of(
    schemas: &mut Vec<(ElementInfo, ElementInfo)>,
    head: ElementInfo,
) -> &mut (ElementInfo, ElementInfo) {
    let namespace = head.text("targetNamespace").unwrap_or("").to_owned();
    let is_this = |(it, _): &(ElementInfo, ElementInfo)| it.text("targetNamespace") == Some(&namespace);
    let at = schemas.iter().position(is_this).unwrap_or_else(|| {
        schemas.push((head.clone(), head));
        schemas.len() - 1
    });
    &mut schemas[at]
}
