//! The notation: a contract that fills pages of XML, on one screen.
//!
//! [`contract`] writes a whole contract, [`component`] one component, and [`field`] and [`type_line`] a
//! single line, as a list of changes shows it. What follows the naming [`convention`] is left
//! out, what departs from it is spelled out, and what has no short form stands as XML.

mod bindings;
pub mod convention;
mod names;
mod operations;
mod page;
mod schema;
mod simple;

use charter_contract::{Component, Contract};
use charter_schema::{ElementId, Occurs, Owner, TypeId};

use names::Names;
use page::Page;

/// The whole contract.
///
/// ```
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:saltmere:tide">
///   <xs:simpleType name="Gauge">
///     <xs:restriction base="xs:string"><xs:maxLength value="20"/></xs:restriction>
///   </xs:simpleType>
/// </xs:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// assert!(charter_notation::contract(&contract).contains("type Gauge = string length ..20"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn contract(contract: &Contract) -> String {
    let names = Names::new(contract);
    let mut page = Page::default();
    Writer { contract, names, page: &mut page }.whole();
    page.text()
}

/// One component, as it stands in the notation of the whole.
pub fn component(contract: &Contract, component: Component) -> String {
    let schemas = &contract.schemas;
    let names = match component {
        Component::Type(id) => Names::at(contract, schemas.types[id].place),
        Component::Element(id) => Names::at(contract, schemas.elements[id].place),
        Component::ElementUse(id) => Names::at(contract, schemas.particles[id].place),
        Component::Attribute(id) => Names::at(contract, schemas.attribute_decls[id].place),
        Component::Group(id) => Names::at(contract, schemas.groups[id].place),
        Component::AttributeGroup(id) => Names::at(contract, schemas.attribute_groups[id].place),
        _ => Names::new(contract),
    };
    let mut page = Page::default();
    Writer { contract, names, page: &mut page }.component(component);
    page.text()
}

/// An element as a line of the type that holds it; its content, if it is written in place, is left out.
///
/// ```text
/// draught: decimal? range 0..30
/// ```
pub fn field(contract: &Contract, element: ElementId, occurs: Occurs) -> String {
    Names::at(contract, contract.schemas.elements[element].place).field_line(element, occurs)
}

/// The first line of a type: all of a simple type, the head of a complex one.
pub fn type_line(contract: &Contract, ty: TypeId) -> String {
    Names::at(contract, contract.schemas.types[ty].place).type_head(ty)
}

/// The name of a type as a field shows it.
pub fn type_name(contract: &Contract, ty: TypeId) -> String {
    Names::new(contract).type_expression(ty)
}

/// Writes a contract or a component on a page.
struct Writer<'c, 'p> {
    contract: &'c Contract,
    names: Names<'c>,
    page: &'p mut Page,
}

impl Writer<'_, '_> {
    fn whole(&mut self) {
        let Some((_, first)) = self.contract.definitions.iter().next() else {
            return self.schemas_alone();
        };
        let name = convention::contract_name(self.contract);
        self.page.open(&format!("contract {name} {}", page::quoted(&first.namespace)));
        self.about(first.documentation.as_deref());
        self.prefixes();
        self.schemas();
        self.port_types();
        self.page.gap();
        for (id, _) in self.contract.bindings.iter() {
            self.binding(id);
        }
        for (id, _) in self.contract.services.iter() {
            self.page.gap();
            self.service(id);
        }
        self.page.close("");
    }

    fn component(&mut self, component: Component) {
        match component {
            Component::Contract => self.whole(),
            Component::Message(id) => self.message(id),
            Component::Part(id, index) => {
                let line = self.names.part(&self.contract.messages[id].parts[index]);
                self.page.line(&line);
            }
            Component::PortType(id) => self.port_type(id),
            Component::Operation(id) => self.operation(id),
            Component::OperationSide(id, side) => self.operation_side(id, side),
            Component::Binding(id) => self.binding(id),
            Component::BindingOperation(id, index) | Component::BindingSide(id, index, _) => {
                self.binding_operation(id, index, true);
            }
            Component::Service(id) => self.service(id),
            Component::Port(id) => self.port(id),
            Component::Type(id) => self.type_def(id),
            Component::Element(id) => match self.contract.schemas.elements[id].owner {
                Owner::Schema => self.global_element(id),
                _ => self.local_element(id),
            },
            Component::ElementUse(id) => self.particle(id),
            Component::Attribute(id) => {
                let line = self.names.attribute_declaration(id);
                self.page.line(&line);
            }
            Component::Group(id) => self.group(id),
            Component::AttributeGroup(id) => self.attribute_group(id),
        }
    }

    fn about(&mut self, documentation: Option<&str>) {
        if let Some(text) = documentation {
            self.page.line(&format!("about {}", page::quoted(text)));
        }
    }

    /// The prefixes that names from other namespaces carry.
    fn prefixes(&mut self) {
        let used = self.names.other_namespaces();
        if !used.is_empty() {
            self.page.gap();
        }
        for (prefix, namespace) in used {
            self.page.line(&format!("prefix {prefix} = {}", page::quoted(&namespace)));
        }
    }

    /// The source of an extension that the notation has no words for.
    fn verbatim(&mut self, extent: charter_source::Place) {
        let source = self.contract.files.slice(extent).to_owned();
        let mut lines = source.lines().map(str::trim_end);
        self.page.line(&format!("xml {}", lines.next().unwrap_or("")));
        lines.for_each(|line| self.page.line(&format!("  {}", line.trim_start())));
    }
}
