//! Works out how findings are mended, each way once.

use std::sync::Arc;

use charter_author::Editing;
use charter_source::{Map, Place, TextEdit};

use crate::finding::Finding;

/// The edits that mend findings. Several findings may have one fix, such as all that a binding leaves out: it is
/// worked out once, since that may mean to read the contract again.
///
/// ```
/// use charter_author::Editing;
/// use charter_check::{Fixes, check};
/// use charter_contract::Contract;
/// use charter_notation::Convention;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:t="urn:saltmere:quay"
///     xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" targetNamespace="urn:saltmere:quay">
///   <portType name="Quay"><operation name="moor"/><operation name="leave"/></portType>
///   <binding name="QuayOverSoap11" type="t:Quay"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/></binding>
/// </definitions>"#;
/// let store = Overlay::of(&[("quay.wsdl", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("quay.wsdl"), Limits::default())?;
/// let convention = Convention::default();
/// let mut fixes = Fixes::of(Editing::of(&contract, &store, &convention));
/// let findings = check(&contract);
/// let missing = || findings.iter().filter(|it| it.rule.name == "binding-operation-missing");
/// assert_eq!(missing().count(), 2);
/// let known: Vec<bool> = missing().map(|it| (fixes.knows(it), fixes.fix(it)).0).collect();
/// assert_eq!(known, [false, true]);
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub struct Fixes<'e> {
    editing: Editing<'e>,
    known: Map<(&'static str, Place), Option<Arc<[TextEdit]>>>,
}

impl<'e> Fixes<'e> {
    /// The fixes of what is found in a contract.
    pub fn of(editing: Editing<'e>) -> Fixes<'e> {
        Fixes { editing, known: Map::default() }
    }

    /// Whether the fix of a finding is worked out already, or it has none at all.
    pub fn knows(&self, finding: &Finding) -> bool {
        finding.rule.fix.is_none() || self.known.contains_key(&(finding.name, finding.place))
    }

    /// How many bytes are gone through to work out the fix of a finding, about.
    pub fn cost(&self, finding: &Finding) -> usize {
        let costly = finding.rule.fix.is_some_and(|fix| fix.through_notation) && !self.knows(finding);
        let files = self.editing.contract.files.iter().filter(|_| costly);
        files.map(|file| file.text().content().len()).sum()
    }

    /// The edits that mend a finding, if there is a safe way; the same as those of another finding if one mends both.
    pub fn fix(&mut self, finding: &Finding) -> Option<Arc<[TextEdit]>> {
        let fix = finding.rule.fix?;
        let editing = self.editing;
        let known = self.known.entry((finding.name, finding.place));
        known.or_insert_with(|| fix.edits(editing, finding.place).map(Arc::from)).clone()
    }
}
