//! What there is at a pair: declarations, what may stand in the place of a type, and two types.

use std::sync::Arc;

use super::inhabited::is_abstract;
use super::words::Wanted;
use super::{
    Assessment, Counterexample, DeclaredType, Edge, Inclusion, Kind, Outcome, Pair, Texts, Undecided, meaning,
};
use crate::engine::{ContentKind, Datatype, Engine};
use crate::sample::typical_values;
use crate::{Builtin, ElementId, TypeId, Value, ValueConstraint};

/// Whether the type of an element is not there.
fn is_typeless(judged: Assessment, engine: &Engine<'_>) -> bool {
    matches!(judged, Assessment::Element(id) if engine.is_element_typeless(id))
}

impl Inclusion<'_> {
    pub(super) fn compare(&self, pair: Pair) -> Outcome {
        let mut outcome = Outcome::default();
        match pair {
            Pair::Elements(sub, sup) => self.elements(sub, sup, &mut outcome),
            Pair::Declared(sub, sup) => self.standing(sub, sup, &mut outcome),
            Pair::Types(sub, sup) => self.types(sub, sup, &mut outcome),
            Pair::Wild(index) => self.wild(index, &mut outcome),
        }
        outcome
    }

    fn elements(&self, sub: Assessment, sup: Assessment, outcome: &mut Outcome) {
        // What is abstract does not stand itself.
        if !self.is_inhabited(sub) || sup == Assessment::Skipped || super::wild::is_abstract(self.sub, sub) {
            return;
        }
        match (sub, sup) {
            (_, Assessment::Unknown) => outcome.counterexamples.push(Counterexample::new(Kind::Undeclared)),
            (Assessment::Skipped, _) => outcome.counterexamples.push(Counterexample::new(Kind::Assessment)),
            _ => {
                let unread = |judged, engine: &Engine<'_>| matches!(judged, Assessment::Element(id) if engine.is_element_unread(id));
                let is_unread = unread(sub, self.sub) || unread(sup, self.sup);
                if is_unread {
                    outcome.undecided.push(Undecided::Unread);
                }
                self.declarations(sub, sup, outcome);
                // What holds anything for want of its type leads everywhere, and nothing there follows from it.
                if is_unread && (is_typeless(sub, self.sub) || is_typeless(sup, self.sup)) {
                    return;
                }
                // Where the other side has no declaration, any text is text and nothing else.
                let undeclared = sup == Assessment::Type(Builtin::AnyType.id()) && !self.encoded;
                if undeclared && matches!(sub, Assessment::Element(id) if self.is_simple(id)) {
                    return;
                }
                let mut stand = self.stand(sub, self.sub);
                stand.nil = matches!(sub, Assessment::Element(id) if self.sub.schemas.elements[id].nillable);
                outcome.leads_to.push((Edge::Same, Pair::Declared(stand, self.stand(sup, self.sup))));
            }
        }
    }

    /// Whether an element has a value and no attributes, of a type for which no other may stand that the second side does not
    /// know.
    fn is_simple(&self, id: ElementId) -> bool {
        let schemas = self.sub.schemas;
        let ty = schemas.element_type(id);
        let is_known = |id: &TypeId| {
            schemas.types[*id].name.as_ref().is_none_or(|name| self.sup.schemas.type_named(name).is_some())
        };
        let mut below = self.sub.relatives().derived(ty).to_vec();
        let mut at = 0;
        while let Some(id) = below.get(at).copied() {
            below.extend(self.sub.relatives().derived(id));
            at += 1;
        }
        schemas.complex(ty).is_none() && schemas.simple(ty).is_some() && below.iter().all(is_known)
    }

    fn stand(&self, judged: Assessment, engine: &Engine<'_>) -> DeclaredType {
        match judged {
            Assessment::Element(id) => {
                let ty = engine.schemas.element_type(id);
                DeclaredType::new(ty, engine.schemas.elements[id].block.with(engine.schemas.prohibited(ty)))
            }
            Assessment::Type(ty) => DeclaredType::new(ty, engine.schemas.prohibited(ty)),
            _ => DeclaredType::new(Builtin::AnyType.id(), crate::DerivationSet::default()),
        }
    }

    /// What two declarations say beside their types.
    fn declarations(&self, sub: Assessment, sup: Assessment, outcome: &mut Outcome) {
        let a = if let Assessment::Element(id) = sub { Some(id) } else { None };
        let b = if let Assessment::Element(id) = sup { Some(id) } else { None };
        let declared =
            |id: Option<ElementId>, engine: &Engine<'_>| id.map(|id| engine.schemas.elements[id].nillable);
        let (was, is) = (declared(a, self.sub), declared(b, self.sup));
        // What has no declaration may say that it is nil, which means nothing.
        if was == Some(true) && is == Some(false) && !self.encoded {
            outcome.counterexamples.push(Counterexample::new(Kind::Nil));
        }
        if was == Some(true)
            && is.is_none()
            && !self.sub.relatives().derived(self.stand(sub, self.sub).ty).is_empty()
        {
            outcome.undecided.push(Undecided::NilUndeclared);
        }
        if is == Some(true) && was != Some(true) && self.may_be_key(b) {
            outcome.undecided.push(Undecided::NilKey);
        }
        if self.other_field(sub, sup) {
            outcome.undecided.push(Undecided::OtherFields);
        }
        let mut counterexample = |kind| outcome.counterexamples.push(Counterexample::new(kind));
        if b.is_some_and(|id| self.sup.schemas.elements[id].is_abstract) {
            counterexample(Kind::AbstractElement);
        }
        let of = |id: Option<ElementId>, engine: &Engine<'_>| {
            id.and_then(|id| engine.schemas.elements[id].value.clone())
        };
        let (was, is) = (of(a, self.sub), of(b, self.sup));
        if let (Some(b), Some(ValueConstraint::Fixed(fixed))) = (b, is.as_deref())
            && let Some(other) = self.other_value(sub, was.as_deref(), b, fixed)
        {
            counterexample(Kind::Fixed(other));
        }
        self.defaults((sub, was.as_deref()), (sup, is.as_deref()), outcome);
        let new = self.new_constraints(a, b).into_iter();
        outcome.counterexamples.extend(new.map(|name| Counterexample::new(Kind::Identity(name))));
    }

    /// A value that the first side allows and that is not the fixed one of the other.
    fn other_value(
        &self,
        sub: Assessment,
        own: Option<&ValueConstraint>,
        sup: ElementId,
        fixed: &str,
    ) -> Option<String> {
        let ty = match sub {
            Assessment::Element(id) => self.sub.schemas.element_type(id),
            Assessment::Type(ty) => ty,
            _ => return None,
        };
        let theirs = self.sup.datatype(self.sup.schemas.element_type(sup));
        let Some(datatype) = self.sub.datatype(ty) else {
            let same = matches!(own, Some(ValueConstraint::Fixed(own)) if own == fixed);
            return (!same).then(|| "text".to_owned());
        };
        // What is empty takes the fixed value, whatever that is.
        let other = |value: &String| !value.is_empty() && !same_value(theirs, value, fixed);
        if let Some(ValueConstraint::Fixed(own)) = own {
            return forms(self.sub, datatype, own).into_iter().find(other);
        }
        super::text::likely(self.sub, datatype).into_iter().find(other)
    }

    /// What stands for an empty element.
    fn defaults(
        &self,
        (sub, was): (Assessment, Option<&ValueConstraint>),
        (sup, is): (Assessment, Option<&ValueConstraint>),
        outcome: &mut Outcome,
    ) {
        let stated = |value: Option<&ValueConstraint>| match value {
            Some(ValueConstraint::Default(text) | ValueConstraint::Fixed(text)) => Some(text.clone()),
            None => None,
        };
        let (was, is) = (stated(was), stated(is));
        let (Assessment::Element(a), Assessment::Element(b)) = (sub, sup) else { return };
        let theirs = self.sup.datatype(self.sup.schemas.element_type(b));
        let same = match (&was, &is) {
            (Some(was), Some(is)) => same_value(theirs, was, is),
            (was, is) => was == is,
        };
        if same {
            return;
        }
        let ours = self.sub.datatype(self.sub.schemas.element_type(a));
        let empty = |ty: Option<&Arc<Datatype>>| ty.is_none_or(|ty| ty.accept("", &Anywhere, false).is_ok());
        // Where nothing stands for it, an empty element must have a value of its own.
        if was.is_some() && is.is_none() && !empty(theirs) {
            outcome.counterexamples.push(Counterexample::new(Kind::Value(String::new())));
        } else if was.is_some() || empty(ours) {
            outcome.counterexamples.push(Counterexample::new(Kind::Default { attribute: None, was, is }));
        }
    }

    /// A declared type, and the types derived from it that `xsi:type` may name.
    fn standing(&self, sub: DeclaredType, sup: DeclaredType, outcome: &mut Outcome) {
        if !is_abstract(self.sub, sub.ty) {
            if is_abstract(self.sup, sup.ty) {
                outcome.counterexamples.push(Counterexample::new(Kind::AbstractType));
            } else {
                outcome.leads_to.push((Edge::Same, Pair::Types(sub.ty, sup.ty)));
            }
        }
        let (ours, theirs) = (self.sub.schemas, self.sup.schemas);
        if self.encoded && self.is_type_unknown(sub, sup) {
            outcome.counterexamples.push(Counterexample::new(Kind::TypeName(sub.ty)));
        }
        let mut waiting = self.sub.relatives().derived(sub.ty).to_vec();
        while let Some(id) = waiting.pop() {
            waiting.extend(self.sub.relatives().derived(id));
            let Some(name) = ours.types[id].name.as_ref().filter(|name| !name.local.contains(' ')) else {
                continue;
            };
            let usable = !is_abstract(self.sub, id) && (sub.nil || self.is_type_inhabited(id));
            if !usable || !ours.may_stand_for(id, sub.ty, sub.block()) {
                continue;
            }
            let other = theirs.type_named(name).filter(|other| {
                theirs.may_stand_for(*other, sup.ty, sup.block()) && !is_abstract(self.sup, *other)
            });
            match other {
                Some(other) => outcome.leads_to.push((Edge::Named(id), Pair::Types(id, other))),
                None => {
                    let open = sub.ty == Builtin::AnyType.id();
                    let kind = Kind::TypeName(id);
                    outcome.counterexamples.push(Counterexample { open, ..Counterexample::new(kind) });
                }
            }
        }
    }

    /// Whether a value that says its own type, as encoded values may (SOAP 1.1, 5.1), is refused for that alone: the other side
    /// knows no type of that name, or none that may stand there. Where the values differ as well, they say so.
    fn is_type_unknown(&self, sub: DeclaredType, sup: DeclaredType) -> bool {
        let usable = !is_abstract(self.sub, sub.ty) && (sub.nil || self.is_type_inhabited(sub.ty));
        if !usable || self.sub.encoded_array(sub.ty).is_some() {
            return false;
        }
        let name = self.sub.schemas.types[sub.ty].name.as_ref().filter(|name| !name.local.contains(' '));
        let Some(name) = name else { return false };
        let theirs = self.sup.schemas;
        match theirs.type_named(name) {
            None => true,
            // What else differs between two complex types is found out later.
            Some(_) if self.sub.datatype(sub.ty).is_none() => false,
            Some(other) => {
                !theirs.may_stand_for(other, sup.ty, sup.block())
                    && self.outcome(Pair::Types(sub.ty, sup.ty)).counterexamples.is_empty()
            }
        }
    }

    fn types(&self, sub: TypeId, sup: TypeId, outcome: &mut Outcome) {
        if self.sub.is_unread(sub) || self.sup.is_unread(sup) {
            outcome.undecided.push(Undecided::Unread);
        }
        if sub == sup && Builtin::from_id(sub).is_some() && sub != Builtin::AnyType.id() {
            return;
        }
        if self.arrays(sub, sup, outcome) {
            return;
        }
        self.attributes(sub, sup, outcome);
        // Without an instance, it can only be nil.
        if !self.is_type_inhabited(sub) {
            return;
        }
        let (ours, theirs) = (self.sub.content_kind(sub), self.sup.content_kind(sup));
        match (ours, theirs) {
            (ContentKind::Simple, ContentKind::Simple) => self.values(sub, sup, outcome),
            (ContentKind::Simple, _) => self.value_among_elements(sub, sup, theirs, outcome),
            (_, ContentKind::Simple) => self.elements_for_value((sub, ours), sup, outcome),
            _ => {
                if ours == ContentKind::Mixed && theirs != ContentKind::Mixed {
                    let open = self.sub.schemas.is_any(sub);
                    outcome.counterexamples.push(Counterexample { open, ..Counterexample::new(Kind::Mixed) });
                }
                self.content(sub, sup, outcome);
            }
        }
    }

    fn values(&self, sub: TypeId, sup: TypeId, outcome: &mut Outcome) {
        match self.texts(sub, sup) {
            Texts::Within => {}
            Texts::Beyond(text) => {
                return outcome.counterexamples.push(Counterexample::new(Kind::Value(text)));
            }
            Texts::Undecided(reason) => outcome.undecided.push(reason),
        }
        let (Some(a), Some(b)) = (self.sub.datatype(sub), self.sup.datatype(sup)) else { return };
        if let Some(meaning) = meaning::change(a, b) {
            outcome.counterexamples.push(Counterexample::new(Kind::Meaning { attribute: None, meaning }));
        }
        identifiers(a, b, outcome);
    }

    /// A value where the other side has elements, or text between elements.
    fn value_among_elements(&self, sub: TypeId, sup: TypeId, kind: ContentKind, outcome: &mut Outcome) {
        let empty = self.sup.model(sup).is_none_or(|model| model.optional());
        if kind == ContentKind::Mixed && empty {
            let meaning = super::Meaning::Kind;
            return outcome
                .counterexamples
                .push(Counterexample::new(Kind::Meaning { attribute: None, meaning }));
        }
        let values = self.sub.datatype(sub).map(|ty| typical_values(self.sub, ty)).unwrap_or_default();
        let refused = |value: &String| !empty || !value.trim_matches([' ', '\t', '\n', '\r']).is_empty();
        match values.into_iter().find(refused) {
            Some(value) => outcome.counterexamples.push(Counterexample::new(Kind::Value(value))),
            None => outcome.undecided.push(Undecided::EmptyValue),
        }
    }

    /// Elements, or text between them, where the other side has a value.
    fn elements_for_value(&self, (sub, kind): (TypeId, ContentKind), sup: TypeId, outcome: &mut Outcome) {
        let Some(value) = self.sup.datatype(sup) else { return };
        let accepts = |text: &str| value.accept(text, &Anywhere, false).is_ok();
        if self.sub.schemas.is_any(sub) {
            outcome.counterexamples.push(Counterexample::in_open_content(Kind::Elements));
            if !accepts("") {
                outcome.counterexamples.push(Counterexample::new(Kind::Value(String::new())));
            }
            return;
        }
        if self.holding(sub, &Wanted::Something, None).is_some() {
            return outcome.counterexamples.push(Counterexample::new(Kind::Elements));
        }
        match kind {
            // Where no element can be, there is text alone.
            ContentKind::Mixed => match self.texts(Builtin::String.id(), sup) {
                Texts::Within => {
                    let meaning = super::Meaning::Kind;
                    outcome
                        .counterexamples
                        .push(Counterexample::new(Kind::Meaning { attribute: None, meaning }));
                }
                Texts::Beyond(text) => outcome.counterexamples.push(Counterexample::new(Kind::Value(text))),
                Texts::Undecided(reason) => outcome.undecided.push(reason),
            },
            // Elements that are not there leave white space.
            ContentKind::Elements if accepts("") && !accepts(" ") => {
                outcome.counterexamples.push(Counterexample::new(Kind::Value(" ".to_owned())));
            }
            _ if accepts("") => {}
            _ => outcome.counterexamples.push(Counterexample::new(Kind::Elements)),
        }
    }
}

/// What only shows in a whole document: identifiers that must differ, and references to them.
pub(super) fn identifiers(a: &Datatype, b: &Datatype, outcome: &mut Outcome) {
    let kind = |ty: &Datatype| {
        ty.builtin().filter(|builtin| builtin.is_within(Builtin::Id) || builtin.is_within(Builtin::IdRef))
    };
    let (was, is) = (kind(a), kind(b));
    if b.has_ids() && was != is && !(was.is_none() && is.is_none() && a.has_ids()) {
        match is {
            Some(is) if is.is_within(Builtin::IdRef) => {
                outcome.counterexamples.push(Counterexample::new(Kind::Value("unheard-of".into())));
            }
            _ => outcome.undecided.push(Undecided::Identifiers),
        }
    }
}

/// Whether two texts are the same value.
pub(super) fn same_value(ty: Option<&Arc<Datatype>>, a: &str, b: &str) -> bool {
    let value = |text: &str| ty.and_then(|ty| ty.accept(text, &Anywhere, true).ok()).and_then(|it| it.value);
    a == b || value(a).is_some_and(|a: Value| Some(a) == value(b))
}

/// Ways to write a value that is fixed: it may be written in any form that is that value, the stated one first.
pub(super) fn forms(engine: &Engine<'_>, ty: &Arc<Datatype>, fixed: &str) -> Vec<String> {
    let mut all = vec![fixed.to_owned(), format!(" {fixed} "), format!("+{fixed}"), format!("0{fixed}")];
    all.extend([format!("{fixed}.0"), fixed.to_uppercase(), fixed.to_lowercase()]);
    all.extend(["true", "false", "1", "0"].map(str::to_owned));
    all.extend(super::text::likely(engine, ty));
    all.retain(|text| ty.accept(text, &Anywhere, false).is_ok() && same_value(Some(ty), text, fixed));
    all
}

/// A context in which nothing is declared.
pub(super) struct Anywhere;

impl crate::engine::Context for Anywhere {
    fn name(&self, text: &str) -> Option<charter_source::QName> {
        Some(charter_source::QName::new("", text.rsplit(':').next().unwrap_or(text)))
    }

    fn has_notation(&self, _: &charter_source::QName) -> bool {
        true
    }

    fn has_entity(&self, _: &str) -> bool {
        true
    }
}
