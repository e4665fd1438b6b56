//! What might keep a change from breaking: for each kind of change some edits of the new version, the one that takes the least
//! of the revision back first. Whether they help is found out by trying (`trial.rs`).

use charter_compare::{Change, Kind, Version, What};
use charter_contract::{Component, Contract, Side};
use charter_notation::{ElementInfo, Value};
use charter_source::{Place, ns};

use crate::amend::Amendment;
use crate::spot::Spot;
use crate::way::{NoWay, Remedy, Respect, Step};

/// An edit of the new version that may help.
#[derive(Debug, Clone)]
pub(crate) struct Proposal {
    pub remedy: Remedy,
    /// The component that it changes.
    pub component: Component,
    pub step: Step,
    /// What becomes of elements, with the place of the component with a name around each.
    pub amendments: Vec<(Place, Amendment)>,
    /// What is taken over from the old version, with what it refers to.
    pub taken: Vec<ElementInfo>,
    /// What is taken over to stand beside the rest.
    pub beside: Vec<ElementInfo>,
}

/// The two versions, as proposals see them.
pub(crate) struct Proposer<'c> {
    /// The old version as it is written.
    pub original: &'c Contract,
    /// The old version beyond a move of its namespaces.
    pub old: &'c Contract,
    pub new: &'c Contract,
}

/// Attributes and elements of schemas that are put back together.
const OCCURRENCE: &[&str] = &["minOccurs", "maxOccurs"];
const GROUPS: &[&str] = &["sequence", "choice", "all", "group", "simpleContent", "complexContent"];
const INLINE: &[&str] = &["simpleType", "complexType"];
const DECLARED: &[&str] = &["element", "any", "group", "sequence", "choice", "all"];

impl<'c> Proposer<'c> {
    /// What may help against a change, the gentlest first; or why nothing can.
    pub fn proposals(&self, change: &Change) -> Result<Vec<Proposal>, NoWay> {
        if change.is_migration() {
            return Err(NoWay::Moved);
        }
        let was = change.old_place.and_then(|place| self.old_spot(place));
        let is = change.new_place.and_then(|place| Spot::at(self.new, place));
        let found = match (was, is) {
            (Some(was), Some(is)) => self.changed(change, was, is)?,
            (Some(was), None) => self.gone(change, was)?,
            (None, Some(is)) => self.come(change, is)?,
            (None, None) => Vec::new(),
        };
        Ok(found.into_iter().flatten().collect())
    }

    fn old_spot(&self, place: Place) -> Option<Spot<'c>> {
        Spot::at(self.original, place)?.same_in(self.old)
    }

    /// What both versions have.
    fn changed(
        &self,
        change: &Change,
        was: Spot<'c>,
        is: Spot<'c>,
    ) -> Result<Vec<Option<Proposal>>, NoWay> {
        use Respect::{Abstract, Content, Fixed, Mixed, Nil, OtherAttributes, Use};
        let restored = |names, respect| vec![self.attributes(was, is, names, respect)];
        Ok(match change.kind {
            Kind::DefaultChanged => return Err(NoWay::OneMeaning),
            Kind::OccurrenceTightened | Kind::OccurrenceLoosened if is.is_xsd(DECLARED) => {
                vec![self.occurrence(change, was, is)]
            }
            Kind::NilAllowed | Kind::NilRefused => restored(&["nillable"], Nil),
            Kind::AbstractChanged => restored(&["abstract"], Abstract),
            Kind::FixedChanged => restored(&["fixed", "default"], Fixed),
            Kind::AttributeRequired | Kind::AttributeOptional => restored(&["use"], Use),
            Kind::MixedChanged => vec![
                self.attributes_inside(was, is, &["complexContent", "complexType"], &["mixed"], Mixed),
                self.inside(was, is, GROUPS, Content),
            ],
            Kind::IdentityChanged => {
                vec![self.content(was, is, &["key", "keyref", "unique"], Respect::Keys)]
            }
            Kind::WildcardChanged => vec![
                self.inside(was, is, &["anyAttribute"], OtherAttributes),
                self.inside(was, is, GROUPS, Content),
            ],
            Kind::ElementRenamed | Kind::AttributeRenamed => self.renamed(change, was, is),
            Kind::ActionChanged => vec![self.actions(change)],
            Kind::PathChanged | Kind::MethodChanged => {
                let names = &["location", "verb"];
                vec![self.attributes(was, is, names, Respect::Binding)]
            }
            Kind::SideAdded | Kind::SideRemoved => return Err(NoWay::OneExchange),
            Kind::OperationRenamed => vec![self.operation(was)],
            kind if is_of_values(kind) => vec![
                self.facets(change, was, is),
                self.typed(was, is),
                self.whole_type(was, is, Respect::Values),
            ],
            Kind::TypeChanged => vec![self.typed(was, is), self.whole_type(was, is, Respect::Type)],
            kind if is_of_the_wire(kind) => return Err(NoWay::OtherWire),
            _ => vec![
                self.inside(was, is, GROUPS, Content),
                self.replaced(was, is, Content),
                self.typed(was, is),
            ],
        })
    }

    /// What only the old version has.
    fn gone(&self, change: &Change, was: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        Ok(match change.kind {
            Kind::OperationRemoved | Kind::OperationRenamed => vec![self.operation(was)],
            Kind::PortRemoved => vec![self.port(was)],
            Kind::SideRemoved => return Err(NoWay::OneExchange),
            kind if is_of_the_wire(kind) && kind != Kind::HeaderRemoved => return Err(NoWay::OtherWire),
            Kind::ElementRemoved if only_sent(change) => {
                vec![self.put_back(was, Some("minOccurs")), self.put_back(was, None)]
            }
            Kind::AttributeRemoved => vec![self.put_back(was, None)],
            _ => vec![self.put_back(was, None)],
        })
    }

    /// What only the new version has.
    fn come(&self, change: &Change, is: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        Ok(match change.kind {
            Kind::SideAdded => return Err(NoWay::OneExchange),
            Kind::DemandAdded => return Err(NoWay::Demanded),
            Kind::ElementAdded => vec![self.left_out(change, is), self.taken_out(is)],
            Kind::AttributeAdded => vec![self.without_use(change, is), self.taken_out(is)],
            Kind::HeaderAdded => vec![self.header_taken_out(change, is)],
            kind if is_of_the_wire(kind) => return Err(NoWay::OtherWire),
            _ => vec![self.taken_out(is)],
        })
    }

    /// A proposal about elements of one component, made by editing it as a whole.
    fn edited(&self, remedy: Remedy, at: Spot<'c>, amendments: Vec<Amendment>) -> Option<Proposal> {
        let unit = at.unit();
        let place = unit.place();
        Some(Proposal {
            remedy,
            component: unit.component()?,
            step: Step::Edit,
            amendments: amendments.into_iter().map(|amendment| (place, amendment)).collect(),
            taken: Vec::new(),
            beside: Vec::new(),
        })
    }

    /// Attributes of an element as they were.
    fn attributes(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let like = was.info()?;
        let now = is.info()?;
        let differs = names.iter().any(|name| like.text(name) != now.text(name));
        let amendment = Amendment::Attributes { of: is.id(), names, like };
        differs.then(|| self.edited(Remedy::AsItWas(respect), is, vec![amendment]))?
    }

    fn attributes_inside(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        inside: &[&'static str],
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let pair = |name: &&'static str| Some((was.inner(&[*name])?, is.inner(&[*name])?));
        inside.iter().filter_map(pair).find_map(|(was, is)| self.attributes(was, is, names, respect))
    }

    /// What stands in an element as it was.
    fn content(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        let like = was.info()?;
        let taken = vec![like.clone()];
        let amendment = Amendment::Content { of: is.id(), names, like };
        Some(Proposal { taken, ..self.edited(Remedy::AsItWas(respect), is, vec![amendment])? })
    }

    /// What stands in the complex type at hand as it was.
    fn inside(
        &self,
        was: Spot<'c>,
        is: Spot<'c>,
        names: &'static [&'static str],
        respect: Respect,
    ) -> Option<Proposal> {
        const HOLDERS: [&[&str]; 3] = [&["extension", "restriction"], &["complexType"], &["group"]];
        let pair = |names: &&[&str]| Some((was.inner(names)?, is.inner(names)?));
        let (was, is) = HOLDERS.iter().find_map(pair)?;
        self.content(was, is, names, respect)
    }

    /// An element as a whole as it was.
    fn replaced(&self, was: Spot<'c>, is: Spot<'c>, respect: Respect) -> Option<Proposal> {
        if was.node.tag_name().name() != is.node.tag_name().name() {
            return None;
        }
        let by = was.info()?;
        let taken = vec![by.clone()];
        let amendment = Amendment::Replace { node: is.id(), by };
        Some(Proposal { taken, ..self.edited(Remedy::AsItWas(respect), is, vec![amendment])? })
    }

    /// A type as it was, whatever it was built like.
    fn whole_type(&self, was: Spot<'c>, is: Spot<'c>, respect: Respect) -> Option<Proposal> {
        (was.is_xsd(INLINE) && is.is_xsd(INLINE)).then(|| self.replaced(was, is, respect))?
    }

    /// The type of a declaration as it was.
    fn typed(&self, was: Spot<'c>, is: Spot<'c>) -> Option<Proposal> {
        if !is.is_xsd(&["element", "attribute"]) || !was.is_xsd(&["element", "attribute"]) {
            return None;
        }
        let like = was.info()?;
        let taken = vec![like.clone()];
        let amendments = vec![
            Amendment::Attributes { of: is.id(), names: &["type"], like: like.clone() },
            Amendment::Content { of: is.id(), names: INLINE, like },
        ];
        Some(Proposal { taken, ..self.edited(Remedy::AsItWas(Respect::Type), is, amendments)? })
    }

    fn occurrence(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Option<Proposal> {
        let proposal = self.attributes(was, is, OCCURRENCE, Respect::Occurrence)?;
        let like = was.info()?;
        let (least, most) = (like.text("minOccurs").unwrap_or("1"), like.text("maxOccurs").unwrap_or("1"));
        let is_free = least == "0" && is.info()?.text("minOccurs").is_none();
        let remedy = match (is_free, is.node.attribute("name")) {
            (true, Some(name)) => Remedy::LetBeLeftOut(name.to_owned()),
            _ => proposal.remedy.clone(),
        };
        Some(Proposal { remedy, ..self.set(change, proposal, "occurs", occurs(least, most)) })
    }

    /// The same made by setting a property, if the change is about a component that has it.
    fn set(&self, change: &Change, proposal: Proposal, key: &'static str, value: String) -> Proposal {
        match (change.subject.version, change.subject.component) {
            (Version::New, component @ (Component::Element(_) | Component::ElementUse(_)))
            | (Version::New, component @ (Component::Attribute(_) | Component::Type(_))) => {
                Proposal { component, step: Step::Set { key, value }, ..proposal }
            }
            _ => proposal,
        }
    }

    /// What came may be left out.
    fn left_out(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let info = is.info()?;
        if !is_sent(change) || info.text("minOccurs") == Some("0") || is.unit().id() == is.id() {
            return None;
        }
        let amendment = Amendment::Set { of: is.id(), name: "minOccurs", value: Some("0") };
        let remedy = Remedy::LetBeLeftOut(name_of(&info)?);
        let proposal = self.edited(remedy, is, vec![amendment])?;
        let value = occurs("0", info.text("maxOccurs").unwrap_or("1"));
        Some(self.set(change, proposal, "occurs", value))
    }

    /// The same of an attribute.
    fn without_use(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let info = is.info()?;
        if !is_sent(change) || info.text("use") != Some("required") {
            return None;
        }
        let amendment = Amendment::Set { of: is.id(), name: "use", value: None };
        let proposal = self.edited(Remedy::LetBeLeftOut(name_of(&info)?), is, vec![amendment])?;
        Some(self.set(change, proposal, "use", "optional".to_owned()))
    }

    /// What came goes again.
    fn taken_out(&self, is: Spot<'c>) -> Option<Proposal> {
        let name = name_of(&is.info()?)?;
        let is_whole = is.unit().id() == is.id();
        let amendment = Amendment::Remove { node: is.id() };
        (!is_whole).then(|| self.edited(Remedy::TakeOut(vec![name]), is, vec![amendment]))?
    }

    /// What went stands there again, so that it may be left out if an attribute for that is named.
    fn put_back(&self, was: Spot<'c>, optional: Option<&'static str>) -> Option<Proposal> {
        let mut info = was.info()?;
        let name = name_of(&info)?;
        if optional.is_some() && info.text("minOccurs") == Some("0") {
            return None;
        }
        if was.unit().id() == was.id() {
            return None;
        }
        if let Some(attribute) = optional {
            info.set(attribute, Value::Text("0".to_owned()));
        }
        let remedy = match optional {
            Some(_) => Remedy::PutBackOptional(name),
            None => Remedy::PutBack(vec![name]),
        };
        let taken = vec![info.clone()];
        let (into, insert) = self.inserted(was, info)?;
        Some(Proposal { taken, ..self.edited(remedy, into, vec![insert])? })
    }

    /// Puts something of the old version where it stood; with the groups around it that are not there any more.
    fn inserted(&self, was: Spot<'c>, info: ElementInfo) -> Option<(Spot<'c>, Amendment)> {
        let parent = was.parent()?;
        match parent.counterpart(self.new) {
            Some(into) => {
                let behind = was.before().find_map(|sibling| {
                    let there = sibling.counterpart(self.new)?;
                    (there.parent()?.id() == into.id()).then(|| there.id())
                });
                Some((into, Amendment::Insert { into: into.id(), behind, info }))
            }
            None if parent.unit().id() == parent.id() => None,
            None => {
                let mut around = parent.info()?;
                around.children.clear();
                self.inserted(parent, around.holding(info))
            }
        }
    }

    /// A declaration that goes by another name.
    fn renamed(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Vec<Option<Proposal>> {
        let both = || {
            let (old, new) = (was.info()?, is.info()?);
            let (old_name, new_name) = (name_of(&old)?, name_of(&new)?);
            (is.unit().id() != is.id()).then_some((old, new, old_name, new_name))
        };
        let either = || {
            let (mut old, mut new, was, now) = both()?;
            let mut choice = ElementInfo::xsd("choice");
            // What may be left out is the choice, not what is chosen.
            for info in [&mut old, &mut new] {
                let is_free = info.text("minOccurs") == Some("0");
                info.attributes.retain(|(name, _)| !is_free || !name.is("", "minOccurs"));
            }
            if is.node.attribute("minOccurs") == Some("0") {
                choice = choice.with("minOccurs", "0");
            }
            let taken = vec![old.clone()];
            let by = choice.holding(old).holding(new);
            let amendment = Amendment::Replace { node: is.id(), by };
            Some(Proposal { taken, ..self.edited(Remedy::Either { was, is: now }, is, vec![amendment])? })
        };
        let beside = || {
            let (old, _, name, now) = both()?;
            let is_attribute = is.is_xsd(&["attribute"]);
            let free = match is_attribute {
                true => Amendment::Set { of: is.id(), name: "use", value: None },
                false => Amendment::Set { of: is.id(), name: "minOccurs", value: Some("0") },
            };
            let behind = is.before().next().map(Spot::id);
            let taken = vec![old.clone()];
            let insert = Amendment::Insert { into: is.parent()?.id(), behind, info: old };
            let remedy = Remedy::Beside { was: name, is: now };
            Some(Proposal { taken, ..self.edited(remedy, is, vec![free, insert])? })
        };
        let back = self.attributes(was, is, &["name", "ref"], Respect::Name);
        let is_element = is.is_xsd(&["element"]);
        match only_sent(change) && is_element {
            true => vec![either(), beside(), back],
            false => vec![beside(), back],
        }
    }

    /// What values of a simple type are allowed, as it was in the respect that changed.
    fn facets(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Option<Proposal> {
        let names = facets_of(change.kind);
        let (old, new) = (was.inner(&["restriction"])?, is.inner(&["restriction"])?);
        let like = old.info()?;
        let remedy = match &change.what {
            What::ValuesGone { values } => Remedy::PutBack(values.0.clone()),
            What::ValuesNew { values } => Remedy::TakeOut(values.0.clone()),
            _ => Remedy::AsItWas(Respect::Values),
        };
        let set = setting(change.kind, &like);
        let amendment = Amendment::Content { of: new.id(), names, like };
        let proposal = self.edited(remedy, is, vec![amendment])?;
        Some(match set {
            Some((key, value)) => self.set(change, proposal, key, value),
            None => proposal,
        })
    }

    /// Actions as they were.
    fn actions(&self, change: &Change) -> Option<Proposal> {
        let subjects = match change.members.as_slice() {
            [] => std::slice::from_ref(&change.subject),
            members => members,
        };
        let mut amendments = Vec::new();
        let mut first: Option<Spot<'c>> = None;
        for subject in subjects {
            let Component::Operation(id) = subject.component else { continue };
            for (_, binding) in self.new.bindings.iter() {
                let bound = binding.operations.iter().filter(|it| {
                    it.operation == Some(id.index) && binding.port_type.target == Some(id.port_type)
                });
                for bound in bound {
                    let Some(is) = Spot::at(self.new, bound.extent).and_then(soap_operation) else { continue };
                    let Some(was) = is.counterpart(self.old) else { continue };
                    let (Some(like), Some(now)) = (was.info(), is.info()) else { continue };
                    if like.text("soapAction") == now.text("soapAction") {
                        continue;
                    }
                    first.get_or_insert(is);
                    let names = &["soapAction"];
                    amendments.push((is.unit().place(), Amendment::Attributes { of: is.id(), names, like }));
                }
            }
        }
        let proposal = self.edited(Remedy::AsItWas(Respect::Action), first?, Vec::new())?;
        Some(Proposal { amendments, ..proposal })
    }

    /// A header block that nobody has to send: taken out wherever it is bound so.
    fn header_taken_out(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let own = is.info()?;
        let name = change.path.as_str().rsplit('/').next()?.to_owned();
        let mut amendments = Vec::new();
        for (_, binding) in self.new.bindings.iter() {
            let Some(unit) = Spot::at(self.new, binding.extent) else { continue };
            let headers = unit.node.descendants().filter(|node| node.tag_name() == is.node.tag_name());
            for node in headers {
                let header = Spot { node, ..unit };
                let is_touched = || {
                    let operation = header.parent()?.parent()?.node.attribute("name")?;
                    let touched = |at: &charter_compare::Touched| {
                        at.at.version == Version::New
                            && *self.new.operation(at.at.operation).name.text == *operation
                            && (at.at.side == Side::Input) == header.parent().is_some_and(is_input)
                    };
                    Some(change.operations.iter().any(touched))
                };
                if header.info().as_ref() == Some(&own) && is_touched() == Some(true) {
                    amendments.push((unit.place(), Amendment::Remove { node: header.id() }));
                }
            }
        }
        let proposal = self.edited(Remedy::TakeOut(vec![name]), is, Vec::new())?;
        (!amendments.is_empty()).then_some(Proposal { amendments, ..proposal })
    }

    /// An operation that is gone, with its messages and how it is bound.
    fn operation(&self, was: Spot<'c>) -> Option<Proposal> {
        let was = was.node.ancestors().find(|it| it.has_tag_name((ns::WSDL, "operation")))?;
        let was = Spot::at(self.old, Place { file: self.file_of(was)?, span: was.range().into() })?;
        let name = was.node.attribute("name")?;
        let component = self.old.operations().find(|(_, it)| *it.name.text == *name)?.0;
        let info = was.info()?;
        let mut taken = vec![info.clone()];
        let (into, insert) = self.inserted(was, info)?;
        let mut proposal = self.edited(Remedy::PutBack(vec![name.to_owned()]), into, vec![insert])?;
        for (_, binding) in self.old.bindings.iter() {
            let is_own = binding.port_type.target == Some(component.port_type);
            let bound = binding.operations.iter().filter(|it| is_own && it.operation == Some(component.index));
            for bound in bound {
                let spot = Spot::at(self.old, bound.extent)?;
                let info = spot.info()?;
                taken.push(info.clone());
                if let Some((into, insert)) = self.inserted(spot, info) {
                    proposal.amendments.push((into.unit().place(), insert));
                }
            }
        }
        let from = self.original.path(Component::Operation(component));
        Some(Proposal { taken, step: Step::Add { from }, ..proposal })
    }

    fn file_of(&self, node: charter_source::Node<'_>) -> Option<charter_source::FileId> {
        let own = |file: &&charter_source::File| {
            file.root().is_some_and(|root| std::ptr::eq(root.document(), node.document()))
        };
        self.old.files.iter().find(own).map(|file| file.id)
    }

    /// A port that is gone, with its binding.
    fn port(&self, was: Spot<'c>) -> Option<Proposal> {
        let info = was.info()?;
        let name = name_of(&info)?;
        let taken = vec![info.clone()];
        let (into, insert) = self.inserted(was, info)?;
        Some(Proposal { taken, ..self.edited(Remedy::PutBack(vec![name]), into, vec![insert])? })
    }
}

fn is_input(spot: Spot<'_>) -> bool {
    spot.node.has_tag_name((ns::WSDL, "input"))
}

/// The element of a bound operation that has its action.
fn soap_operation(bound: Spot<'_>) -> Option<Spot<'_>> {
    let mut inside = charter_source::elements(bound.node);
    let node = inside.find(|it| it.tag_name().name() == "operation" && it.attribute("soapAction").is_some())?;
    Some(Spot { node, ..bound })
}

/// The name of what an element declares or refers to.
fn name_of(info: &ElementInfo) -> Option<String> {
    let name = info.text("name").map(str::to_owned);
    name.or_else(|| info.named("ref").map(|name| name.local.to_string()))
}

/// Whether a change does its worst to requests alone.
fn only_sent(change: &Change) -> bool {
    change.worst().all(|touched| touched.at.side == Side::Input) && change.worst().next().is_some()
}

/// Whether it does its worst to some request.
fn is_sent(change: &Change) -> bool {
    change.worst().any(|touched| touched.at.side == Side::Input)
}

/// How often something may occur, in the notation.
fn occurs(least: &str, most: &str) -> String {
    match (least, most) {
        ("0", "1") => "?".to_owned(),
        ("0", "unbounded") => "*".to_owned(),
        ("1", "1") => "1".to_owned(),
        (least, "unbounded") => format!("{least}.."),
        (least, most) => format!("{least}..{most}"),
    }
}

fn is_of_values(kind: Kind) -> bool {
    !facets_of(kind).is_empty()
}

/// The facets that a kind of change is about.
fn facets_of(kind: Kind) -> &'static [&'static str] {
    match kind {
        Kind::ValueAdded | Kind::ValueRemoved => &["enumeration"],
        Kind::RangeChanged | Kind::RangeNarrowed | Kind::RangeWidened => {
            &["minInclusive", "maxInclusive", "minExclusive", "maxExclusive"]
        }
        Kind::LengthChanged => &["length", "minLength", "maxLength"],
        Kind::PatternChanged => &["pattern"],
        Kind::DigitsChanged => &["totalDigits", "fractionDigits"],
        _ => &[],
    }
}

/// The property that says what the facets of a restriction say, in a line; nothing if it takes more.
fn setting(kind: Kind, like: &ElementInfo) -> Option<(&'static str, String)> {
    const MOST_LISTED: usize = 8;
    let values = |name: &str| -> Vec<&str> {
        like.elements().filter(|it| it.is_xsd(name)).filter_map(|it| it.text("value")).collect()
    };
    let one = |name: &str| values(name).first().copied();
    let is_plain = |value: &&str| !value.contains(['"', '\\', '\n']);
    Some(match kind {
        Kind::ValueAdded | Kind::ValueRemoved => {
            let all = values("enumeration");
            if all.is_empty() || all.len() > MOST_LISTED || !all.iter().all(is_plain) {
                return None;
            }
            let listed: Vec<String> = all.iter().map(|value| format!("\"{value}\"")).collect();
            ("one-of", listed.join(", "))
        }
        Kind::RangeChanged | Kind::RangeNarrowed | Kind::RangeWidened => {
            if one("minExclusive").or(one("maxExclusive")).is_some() {
                return None;
            }
            let (least, most) = (one("minInclusive").unwrap_or(""), one("maxInclusive").unwrap_or(""));
            let both = format!("{least}..{most}");
            ("range", if both == ".." { String::new() } else { both })
        }
        Kind::LengthChanged => match one("length") {
            Some(length) => ("length", length.to_owned()),
            None => {
                let (least, most) = (one("minLength").unwrap_or(""), one("maxLength").unwrap_or(""));
                let both = format!("{least}..{most}");
                ("length", if both == ".." { String::new() } else { both })
            }
        },
        _ => return None,
    })
}

/// Whether a kind of change is about how messages travel, not about what they hold.
fn is_of_the_wire(kind: Kind) -> bool {
    kind.entry().topic == charter_compare::Topic::Messages
}
