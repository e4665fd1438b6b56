//! Lines of notation, made only of what is shown: most of what differs somewhere is told nowhere.

use charter_contract::{Component, Contract};
use charter_notation as notation;
use charter_schema::{AttributeId, ElementId, Occurs, TypeId};

/// A line that stands for something of one version.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Line {
    /// These words.
    Text(String),
    /// An element, as often as it may occur.
    Field(ElementId, Occurs),
    /// An attribute of that type, which may be left out or not.
    Attribute { decl: AttributeId, ty: TypeId, required: bool },
    /// A component, in its first line.
    Of(Component),
}

impl Line {
    /// The line, as the notation has it.
    pub fn text(&self, contract: &Contract) -> String {
        match self {
            Line::Text(text) => text.clone(),
            Line::Field(element, occurs) => notation::field(contract, *element, *occurs),
            Line::Attribute { decl, ty, required } => {
                let mark = if *required { "" } else { "?" };
                let name = &contract.schemas.attribute_decls[*decl].name.local;
                format!("@{name}: {}{mark}", notation::type_name(contract, *ty))
            }
            Line::Of(Component::Element(id)) => notation::field(contract, *id, Occurs::ONCE),
            Line::Of(Component::Type(id)) => notation::type_line(contract, *id),
            Line::Of(component) => {
                let whole = notation::component(contract, *component, &notation::Convention::default());
                whole.lines().next().unwrap_or_default().to_owned()
            }
        }
    }
}
