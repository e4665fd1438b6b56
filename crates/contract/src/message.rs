//! Messages and their parts (WSDL 1.1, section 2.3).

use charter_schema::{ElementDecl, Ref, TypeDef};
use charter_source::{Place, QName};

use crate::{DefinitionsId, Label};

/// `wsdl:message` (2.3).
#[derive(Debug, Clone)]
pub struct Message {
    /// Its name.
    pub name: QName,
    /// Its name in the text.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// Where it is defined.
    pub definitions: DefinitionsId,
    /// Its parts.
    pub parts: Vec<Part>,
    /// What its author says about it.
    pub documentation: Option<String>,
}

/// `wsdl:part` (2.3).
#[derive(Debug, Clone)]
pub struct Part {
    /// Its name.
    pub name: Label,
    /// The start tag.
    pub place: Place,
    /// The whole element.
    pub extent: Place,
    /// The element that it is.
    pub element: Option<Ref<ElementDecl>>,
    /// The type that it has.
    pub ty: Option<Ref<TypeDef>>,
    /// What its author says about it.
    pub documentation: Option<String>,
}
