//! What might keep a change from breaking: for each kind of change some edits of the new version, the one that takes the least
//! of the revision back first. Whether they help is found out by trying (`trial.rs`).

use charter_compare::{Change, Kind, Version, What};
use charter_contract::{Component, Contract, Side};
use charter_notation::{ElementInfo, Prefixes, Value};
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
        if change.is_migration() || is_between_namespaces(&change.what) {
            return Err(NoWay::Moved);
        }
        let was = change.old_place.and_then(|place| self.old_spot(place));
        let is = change.new_place.and_then(|place| Spot::at(self.new, place));
        let mut found = match (was, is) {
            (Some(was), Some(is)) => self.changed(change, was, is)?,
            (Some(was), None) => self.gone(change, was)?,
            (None, Some(is)) => self.come(change, is)?,
            (None, None) => Vec::new(),
        };
        found.push(self.unit_as_it_was(was, is));
        Ok(found.into_iter().flatten().collect())
    }

    fn old_spot(&self, place: Place) -> Option<Spot<'c>> {
        Spot::at(self.original, place)?.same_in(self.old)
    }

    /// What both versions have.
    fn changed(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        use Respect::{Content, OtherAttributes};
        let kind = change.kind;
        let restored = |name, respect| vec![self.property(change, (was, is), name, respect)];
        Ok(match kind {
            Kind::DefaultChanged => return Err(NoWay::OneMeaning),
            Kind::OccurrenceTightened | Kind::OccurrenceLoosened if is.is_xsd(DECLARED) => {
                vec![self.occurrence(change, was, is)]
            }
            Kind::NilAllowed | Kind::NilRefused => {
                restored("nillable", Respect::Nil(kind == Kind::NilRefused))
            }
            Kind::AbstractChanged => {
                restored("abstract", Respect::Standing(is.node.attribute("abstract").is_some()))
            }
            Kind::FixedChanged => {
                restored("fixed", Respect::Fixed(matches!(change.what, What::FixedNoMore { .. })))
            }
            Kind::AttributeRequired | Kind::AttributeOptional => restored("use", Respect::Demanded),
            Kind::MixedChanged => {
                let respect = Respect::Mixed(matches!(change.what, What::MixedNoMore { .. }));
                vec![
                    self.attributes_inside(was, is, &["complexContent", "complexType"], &["mixed"], respect),
                    self.inside(was, is, GROUPS, respect),
                ]
            }
            Kind::IdentityChanged => {
                vec![self.content(was, is, &["key", "keyref", "unique"], Respect::Keys)]
            }
            Kind::WildcardChanged => vec![
                self.inside(was, is, &["anyAttribute"], OtherAttributes),
                self.inside(was, is, GROUPS, Content),
            ],
            Kind::SubstitutesChanged | Kind::DerivedChanged => vec![self.standing(change, is)],
            Kind::ElementRenamed | Kind::AttributeRenamed => self.renamed(change, was, is),
            Kind::HeaderRenamed => vec![self.replaced(was, is, Respect::Header)],
            Kind::ActionChanged => vec![self.actions(change, is), self.port_beside(change, is)],
            Kind::PathChanged | Kind::MethodChanged => {
                let names = &["location", "verb"];
                vec![self.attributes(was, is, names, Respect::Binding), self.port_beside(change, is)]
            }
            Kind::PartRenamed => {
                vec![self.attributes(was, is, &["name"], Respect::Name), self.port_beside(change, is)]
            }
            Kind::SideAdded | Kind::SideRemoved => return Err(NoWay::OneExchange),
            Kind::OperationRenamed => vec![self.operation(was)],
            kind if is_of_values(kind) => vec![
                self.facets(change, was, is),
                self.typed(change, was, is),
                self.whole_type(was, is, Respect::Values),
            ],
            Kind::TypeChanged => vec![self.typed(change, was, is), self.whole_type(was, is, Respect::Type)],
            kind if is_of_the_wire(kind) => vec![self.port_beside(change, is)],
            _ => vec![
                self.inside(was, is, GROUPS, Content),
                self.replaced(was, is, Content),
                self.typed(change, was, is),
            ],
        })
    }

    /// What only the old version has.
    fn gone(&self, change: &Change, was: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        let unit = was.unit();
        let of_wsdl = unit.node.tag_name().namespace() == Some(ns::WSDL);
        if of_wsdl && unit.counterpart_unit(self.new).is_none() {
            let has_place = |it: &charter_contract::Definitions| *it.namespace == *unit.namespace();
            return match self.new.definitions.iter().next().is_some_and(|(_, first)| has_place(first)) {
                true => Ok(vec![self.unit_put_back(unit)]),
                false => Err(NoWay::Elsewhere),
            };
        }
        Ok(match change.kind {
            Kind::OperationRemoved | Kind::OperationRenamed => vec![self.operation(was)],
            Kind::SideRemoved => return Err(NoWay::OneExchange),
            Kind::ElementRemoved if only_sent(change) => {
                vec![self.put_back(was, Some("minOccurs")), self.put_back(was, None)]
            }
            _ => vec![self.put_back(was, None)],
        })
    }

    /// What only the new version has.
    fn come(&self, change: &Change, is: Spot<'c>) -> Result<Vec<Option<Proposal>>, NoWay> {
        Ok(match change.kind {
            Kind::SideAdded => return Err(NoWay::OneExchange),
            Kind::ElementAdded => vec![self.left_out(change, is), self.taken_out(is)],
            Kind::AttributeAdded => vec![self.without_use(change, is), self.taken_out(is)],
            Kind::HeaderAdded => vec![self.header_taken_out(change, is)],
            Kind::OperationUnbound => vec![self.bound_again(change)],
            Kind::PartAdded => vec![self.taken_out(is), self.port_beside(change, is)],
            kind if is_of_the_wire(kind) => vec![self.port_beside(change, is)],
            _ => vec![self.taken_out(is)],
        })
    }

    /// Why nothing helps against a kind of change where nothing does.
    pub fn why_none(kind: Kind) -> NoWay {
        match kind {
            Kind::DemandAdded => NoWay::Demanded,
            kind if is_of_the_wire(kind) => NoWay::OtherWire,
            _ => NoWay::NotFound,
        }
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

    /// An attribute that stands for a property as it was.
    fn property(
        &self,
        change: &Change,
        (was, is): (Spot<'c>, Spot<'c>),
        name: &'static str,
        respect: Respect,
    ) -> Option<Proposal> {
        let names: &'static [&'static str] = match name {
            "fixed" => &["fixed", "default"],
            "use" => &["use"],
            "abstract" => &["abstract"],
            _ => &["nillable"],
        };
        let proposal = self.attributes(was, is, names, respect)?;
        let like = was.info()?;
        let own = like.text("name").unwrap_or("");
        let is_free = name == "use" && like.text("use").is_none();
        let value = match (name, like.text(name)) {
            ("use", None) => "optional".to_owned(),
            ("fixed", Some(value)) => value.to_owned(),
            (_, value) => value.unwrap_or("").to_owned(),
        };
        let remedy = match is_free {
            true => Remedy::LetBeLeftOut(format!("@{own}")),
            false => proposal.remedy.clone(),
        };
        let proposal = Proposal { remedy, ..proposal };
        // What stood for a value that is left out comes back with it.
        let alone = name != "fixed" || like.text("default") == is.info()?.text("default");
        Some(if alone { self.set(change, proposal, name, value) } else { proposal })
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

    /// The component with a name around what changed, as it was in every respect.
    fn unit_as_it_was(&self, was: Option<Spot<'c>>, is: Option<Spot<'c>>) -> Option<Proposal> {
        let new = is.map(Spot::unit).or_else(|| was?.unit().counterpart_unit(self.new))?;
        if new.node.tag_name().namespace() != Some(ns::XSD) {
            return None;
        }
        let old = new.counterpart_unit(self.old)?;
        self.replaced(old, new, Respect::Whole)
    }

    /// A type as it was, whatever it was built like.
    fn whole_type(&self, was: Spot<'c>, is: Spot<'c>, respect: Respect) -> Option<Proposal> {
        (was.is_xsd(INLINE) && is.is_xsd(INLINE)).then(|| self.replaced(was, is, respect))?
    }

    /// The type of a declaration as it was.
    fn typed(&self, change: &Change, was: Spot<'c>, is: Spot<'c>) -> Option<Proposal> {
        if !is.is_xsd(&["element", "attribute"]) || !was.is_xsd(&["element", "attribute"]) {
            return None;
        }
        let like = was.info()?;
        let like_named = like.named("type").cloned();
        let is_plain = !like.elements().any(|it| it.is_xsd("simpleType") || it.is_xsd("complexType"));
        let taken = vec![like.clone()];
        let amendments = vec![
            Amendment::Attributes { of: is.id(), names: &["type"], like: like.clone() },
            Amendment::Content { of: is.id(), names: INLINE, like },
        ];
        let proposal = Proposal { taken, ..self.edited(Remedy::AsItWas(Respect::Type), is, amendments)? };
        let now = is.info()?;
        let is_named = |info: &ElementInfo| {
            !info.elements().any(|it| it.is_xsd("simpleType") || it.is_xsd("complexType"))
        };
        Some(match (like_named, is_named(&now) && is_plain) {
            (Some(name), true) => {
                let value = Prefixes::of(self.new).seen_from(is.namespace()).type_name(&name);
                self.set(change, proposal, "type", value)
            }
            _ => proposal,
        })
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
            return self.declared_again(was, name);
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

    /// A service, a port type or the like that went stands there again, with what leads to it.
    fn unit_put_back(&self, unit: Spot<'c>) -> Option<Proposal> {
        let info = unit.info()?;
        let name = name_of(&info)?;
        let mut beside = vec![crate::amend::bare(info.clone())];
        let mut taken = vec![info];
        if let Some(Component::PortType(id)) = unit.component() {
            for (_, binding) in self.old.bindings.iter().filter(|(_, it)| it.port_type.target == Some(id)) {
                let bound = Spot::at(self.old, binding.extent)?;
                if bound.counterpart_unit(self.new).is_none() {
                    taken.push(bound.info()?);
                    beside.push(crate::amend::bare(bound.info()?));
                }
            }
        }
        Some(Proposal {
            remedy: Remedy::PutBack(vec![name]),
            component: Component::Contract,
            step: Step::Together,
            amendments: Vec::new(),
            taken,
            beside,
        })
    }

    /// A component of a schema that others may use is there again.
    fn declared_again(&self, was: Spot<'c>, name: String) -> Option<Proposal> {
        let own = charter_source::QName::new(was.namespace(), was.node.attribute("name")?);
        let user = match was.is_xsd(INLINE) {
            true => ElementInfo::xsd("element").naming("type", &own),
            false => ElementInfo::xsd(was.node.tag_name().name()).naming("ref", &own),
        };
        Some(Proposal {
            remedy: Remedy::PutBack(vec![name]),
            component: Component::Contract,
            step: Step::Together,
            amendments: Vec::new(),
            taken: vec![user],
            beside: Vec::new(),
        })
    }

    /// Puts something of the old version where it stood; with the groups around it that are not there any more.
    fn inserted(&self, was: Spot<'c>, info: ElementInfo) -> Option<(Spot<'c>, Amendment)> {
        let parent = was.parent()?;
        match parent.counterpart(self.new) {
            Some(into) => {
                let behind = was.nearest_before(into);
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
    fn actions(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let subjects = match change.members.as_slice() {
            [] => std::slice::from_ref(&change.subject),
            members => members,
        };
        let mut amendments = Vec::new();
        for subject in subjects {
            let Some(extent) = self.new.extent(subject.component) else { continue };
            let bound = Spot::at(self.new, extent).and_then(soap_operation);
            let Some((is, was)) = bound.and_then(|is| Some((is, is.counterpart(self.old)?))) else {
                continue;
            };
            let Some(like) = was.info() else { continue };
            let names = &["soapAction"];
            amendments.push((is.unit().place(), Amendment::Attributes { of: is.id(), names, like }));
        }
        let proposal = self.edited(Remedy::AsItWas(Respect::Action), is, Vec::new())?;
        let proposal = Proposal { amendments, ..proposal };
        let action = proposal.amendments.first().and_then(|(_, amendment)| match amendment {
            Amendment::Attributes { like, .. } => like.text("soapAction").map(str::to_owned),
            _ => None,
        });
        Some(match (subjects, action) {
            ([subject], Some(value)) => Proposal {
                component: subject.component,
                step: Step::Set { key: "action", value },
                ..proposal
            },
            _ => proposal,
        })
    }

    /// What stood in the place of something stands there again, and nothing else.
    fn standing(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let named = |contract: &'c Contract, name: &str| {
            let schemas = &contract.schemas;
            let element = schemas
                .elements
                .iter()
                .find(|(_, it)| &*it.name.local == name && it.owner == charter_schema::Owner::Schema);
            element.map(|(id, it)| (Component::Element(id), it.extent, it.name.clone()))
        };
        let remedy = Remedy::AsItWas(Respect::Substitutes);
        match &change.what {
            What::ElementStandsNoMore { name } | What::ElementStandsNow { name } => {
                let was = named(self.old, name);
                match named(self.new, name) {
                    Some((component, extent, _)) => {
                        let spot = Spot::at(self.new, extent)?;
                        let like = was
                            .and_then(|(_, extent, _)| Spot::at(self.old, extent)?.info())
                            .unwrap_or_else(|| ElementInfo::xsd("element"));
                        let names = &["substitutionGroup"];
                        let amendment = Amendment::Attributes { of: spot.id(), names, like };
                        Some(Proposal { component, ..self.edited(remedy, spot, vec![amendment])? })
                    }
                    None => {
                        let (_, _, name) = was?;
                        let taken = vec![ElementInfo::xsd("element").naming("ref", &name)];
                        Some(Proposal { taken, ..self.edited(remedy, is, Vec::new())? })
                    }
                }
            }
            What::TypeStandsNoMore { name } => {
                let is_it = |known: &&charter_source::QName| &*known.local == name.as_str();
                let name = self.old.schemas.type_names().find(is_it)?;
                let taken = vec![ElementInfo::xsd("element").naming("type", name)];
                Some(Proposal { taken, ..self.edited(remedy, is, Vec::new())? })
            }
            _ => {
                let was = is.counterpart(self.old)?;
                self.attributes(was, is, &["block", "final", "abstract"], Respect::Substitutes)
            }
        }
    }

    /// The ports that lead to what changed, as they were, and the new ones beside them under other names.
    fn port_beside(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let touched: Vec<_> = change.operations.iter().map(|it| it.at).collect();
        let binds = |binding: &charter_contract::Binding| {
            binding.extent == is.unit().place()
                || touched.iter().any(|at| {
                    at.version == Version::New && binding.port_type.target == Some(at.operation.port_type)
                })
        };
        let mut amendments = Vec::new();
        let mut taken = Vec::new();
        let mut beside: Vec<ElementInfo> = Vec::new();
        let mut names = Vec::new();
        let mut first = None;
        for (_, service) in self.new.services.iter() {
            for port in &service.ports {
                let Some(binding) = port.binding.target.map(|id| &self.new.bindings[id]) else { continue };
                let Some(now) = Spot::at(self.new, port.extent).filter(|_| binds(binding)) else { continue };
                let Some(was) = now.counterpart(self.old) else { continue };
                let (mut old_port, mut new_port) = (was.info()?, now.info()?);
                let bound = old_port.named("binding")?.clone();
                let old_binding = self.old.bindings.iter().find(|(_, it)| it.name == bound)?.1;
                let mut info = Spot::at(self.old, old_binding.extent)?.info()?;
                // The new version may have another binding of that name.
                let name = free_name(&bound.local, "Before", |name| {
                    self.new.bindings.iter().any(|(_, it)| *it.name.local == *name)
                });
                let renamed = charter_source::QName::new(&bound.namespace, &name);
                info.set("name", Value::Text(name));
                old_port.set("binding", Value::name(&renamed));
                let own = now.node.attribute("name")?.to_owned();
                let other =
                    free_name(&own, "Next", |name| service.ports.iter().any(|it| *it.name.text == *name));
                new_port.set("name", Value::Text(other));
                names.push(own);
                let place = now.unit().place();
                let parent = now.parent()?.id();
                amendments.push((
                    place,
                    Amendment::Insert { into: parent, behind: Some(now.id()), info: new_port },
                ));
                amendments.push((place, Amendment::Replace { node: now.id(), by: old_port }));
                taken.push(info.clone());
                if !beside.contains(&info) {
                    beside.push(info);
                }
                first = first.or(Some(now));
            }
        }
        let proposal = self.edited(Remedy::PortBeside(names), first?, Vec::new())?;
        let step = Step::Together;
        Some(Proposal {
            amendments,
            taken,
            beside: beside.into_iter().map(crate::amend::bare).collect(),
            step,
            ..proposal
        })
    }

    /// An operation that a port left out is bound again.
    fn bound_again(&self, change: &Change) -> Option<Proposal> {
        let touched = change.operations.first()?.at;
        let name = &self.new.operation(touched.operation).name.text;
        let mut amendments = Vec::new();
        let mut taken = Vec::new();
        let mut first = None;
        for (_, binding) in self.old.bindings.iter() {
            for bound in binding.operations.iter().filter(|it| *it.name.text == **name) {
                let was = Spot::at(self.old, bound.extent)?;
                if was.counterpart(self.new).is_some() {
                    continue;
                }
                let info = was.info()?;
                taken.push(info.clone());
                if let Some((into, insert)) = self.inserted(was, info) {
                    amendments.push((into.unit().place(), insert));
                    first = first.or(Some(into));
                }
            }
        }
        let proposal = self.edited(Remedy::PutBack(vec![name.to_string()]), first?, Vec::new())?;
        Some(Proposal { amendments, taken, ..proposal })
    }

    /// A header block that nobody has to send: taken out wherever it is bound so.
    fn header_taken_out(&self, change: &Change, is: Spot<'c>) -> Option<Proposal> {
        let own = is.info()?;
        let name = change.path.as_str().rsplit('/').next()?.to_owned();
        let mut amendments = Vec::new();
        for (_, binding) in self.new.bindings.iter() {
            let Some(unit) = Spot::at(self.new, binding.extent) else { continue };
            let headers = unit.node.descendants().filter(|node| node.tag_name().name() == "header");
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
                // The same block, in whatever version of SOAP.
                let is_same = header.info().is_some_and(|info| {
                    info.text("part") == own.text("part") && info.named("message") == own.named("message")
                });
                if is_same && is_touched() == Some(true) {
                    amendments.push((unit.place(), Amendment::Remove { node: header.id() }));
                }
            }
        }
        let proposal = self.edited(Remedy::TakeOut(vec![name]), is, Vec::new())?;
        let operation = change.operations.first()?.at.operation;
        let component = match change.operations.as_slice() {
            [one] if one.at.version == Version::New => Component::Operation(operation),
            _ => proposal.component,
        };
        (!amendments.is_empty()).then_some(Proposal { amendments, component, ..proposal })
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
            let bound =
                binding.operations.iter().filter(|it| is_own && it.operation == Some(component.index));
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
}

/// Whether names went from one namespace to another; a name may also get one, or lose it.
fn is_between_namespaces(what: &What) -> bool {
    matches!(what, What::MovedTogether { names } if !names.from.is_empty() && !names.to.is_empty())
}

/// A name that nothing goes by yet, made of another.
fn free_name(name: &str, ending: &str, is_taken: impl Fn(&str) -> bool) -> String {
    let numbered = (2..).map(|number| format!("{name}{ending}{number}"));
    let mut names = std::iter::once(format!("{name}{ending}")).chain(numbered);
    names.find(|name| !is_taken(name)).unwrap_or_default()
}

fn is_input(spot: Spot<'_>) -> bool {
    spot.node.has_tag_name((ns::WSDL, "input"))
}

/// The element of a bound operation that has its action.
fn soap_operation(bound: Spot<'_>) -> Option<Spot<'_>> {
    let mut inside = charter_source::elements(bound.node);
    let node =
        inside.find(|it| it.tag_name().name() == "operation" && it.attribute("soapAction").is_some())?;
    Some(Spot { node, ..bound })
}

/// The name of what an element declares or refers to.
fn name_of(info: &ElementInfo) -> Option<String> {
    let name = info.text("name").or_else(|| info.named("ref").map(|name| &*name.local))?;
    Some(format!("{}{name}", if info.is_xsd("attribute") { "@" } else { "" }))
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
        Kind::PatternChanged => match values("pattern").as_slice() {
            [] => ("like", String::new()),
            [one] if is_plain(one) => ("like", format!("\"{one}\"")),
            _ => return None,
        },
        _ => return None,
    })
}

/// Whether a kind of change is about how messages travel, not about what they hold.
fn is_of_the_wire(kind: Kind) -> bool {
    kind.entry().topic == charter_compare::Topic::Messages
}
