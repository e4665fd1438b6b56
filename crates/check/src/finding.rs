//! Runs the rules over a contract.

use charter_contract::{ComponentPath, Contract};
use charter_schema::Engine;
use charter_source::{Fault, Place};

use crate::{Level, Rule, catalogue};

/// One thing that is wrong with a contract.
#[derive(Debug, Clone)]
pub struct Finding {
    /// The rule that it breaks.
    pub rule: &'static Rule,
    /// How serious it is.
    pub level: Level,
    /// What is wrong, in one line.
    pub message: String,
    /// Where.
    pub place: Place,
    /// What to do about it, in one line.
    pub help: Option<String>,
    /// The component that it stands in.
    pub path: ComponentPath,
}

/// Everything that is wrong with a contract, in the order of its files.
///
/// ```
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
///   <xs:element name="draught" type="xs:decimel"/>
/// </xs:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let findings = charter_check::check(&contract);
/// assert_eq!(findings[0].rule.name, "src-resolve");
/// assert_eq!(findings[0].path.as_str(), "element/draught");
/// assert_eq!(findings[0].help.as_deref(), Some("did you mean \"decimal\"?"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn check(contract: &Contract) -> Vec<Finding> {
    let mut faults: Vec<Fault> = contract.faults().into_iter().cloned().collect();
    faults.extend(Engine::new(&contract.files, &contract.schemas).judge());
    // What cannot be read at all has no components to look at.
    if contract.files.first().root().is_some() {
        for look in catalogue::rules().filter_map(|rule| rule.look) {
            look(contract, &mut faults);
        }
    }
    faults.sort_by_key(|fault| fault.place);
    // One file read in two ways, or one prefix behind several names, says the same thing twice.
    faults.dedup();
    faults.into_iter().filter_map(|fault| finding(contract, fault)).collect()
}

fn finding(contract: &Contract, fault: Fault) -> Option<Finding> {
    let rule = catalogue::rule(fault.rule);
    debug_assert!(rule.is_some(), "the rule {} is not in the catalogue", fault.rule);
    let rule = rule?;
    let path = contract.path(contract.component_at(fault.place));
    let Fault { message, place, help, .. } = fault;
    Some(Finding { rule, level: rule.level, message, place, help, path })
}
