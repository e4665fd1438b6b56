//! Compares the attributes of two types.

use charter_source::{Map, QName};

use super::pairs::{Anywhere, forms, identifiers, same_value};
use super::{Counterexample, Inclusion, Kind, Outcome, Texts, Undecided, meaning, text};
use crate::engine::{Allowed, Engine};
use crate::sample::typical_values;
use crate::{AttributeId, Builtin, Process, TypeId, ValueConstraint, Wildcard};

/// An attribute as one side judges it.
#[derive(Clone, Copy)]
enum How {
    /// Its value is of that type.
    Type(TypeId),
    /// Any value.
    Anything,
    /// It must have a declaration, and has none.
    Unknown,
}

impl Inclusion<'_> {
    pub(super) fn attributes(&self, sub: TypeId, sup: TypeId, outcome: &mut Outcome) {
        let (ours, theirs) = (self.sub.allowed(sub), self.sup.allowed(sup));
        if ours.all().is_empty() && theirs.all().is_empty() && ours.wildcard.is_none() {
            return;
        }
        let by_name = named(self.sup, theirs);
        let known = named(self.sub, ours);
        for (at, own) in ours.all().iter().enumerate() {
            let name = name(self.sub, own.decl);
            // A reference that nothing can be the end of is never there.
            if self.is_idle_reference(own.ty) {
                continue;
            }
            match by_name.get(name) {
                Some(other) => self.both((sub, at), (sup, *other), outcome),
                None => self.by_wildcard(name, own.ty, own.value.as_ref(), theirs.wildcard.as_ref(), outcome),
            }
        }
        for at in &theirs.required {
            let name = name(self.sup, theirs.all()[*at].decl);
            let always = known.get(name).is_some_and(|own| ours.all()[*own].required);
            if !always {
                outcome.counterexamples.push(Counterexample::new(Kind::AttributeMissing(name.clone())));
            }
        }
        if let Some(wildcard) = &ours.wildcard {
            let before = outcome.counterexamples.len();
            self.wildcard(wildcard, (ours, theirs), outcome);
            outcome.counterexamples[before..].iter_mut().for_each(|found| found.open = true);
        }
    }

    /// Whether a type refers to identifiers, and there are none.
    fn is_idle_reference(&self, ty: TypeId) -> bool {
        let refers = |ty: TypeId| {
            let builtin = self.sub.datatype(ty).and_then(|ty| ty.builtin());
            builtin.is_some_and(|builtin| builtin.is_within(Builtin::IdRef))
        };
        refers(ty)
            && !*self.has_ids.get_or_init(|| {
                let schemas = self.sub.schemas;
                let is_id = |ty: TypeId| {
                    let builtin = self.sub.datatype(ty).and_then(|ty| ty.builtin());
                    builtin.is_some_and(|builtin| builtin.is_within(Builtin::Id))
                };
                schemas.attribute_decls.iter().any(|(_, decl)| decl.ty.target.is_some_and(is_id))
                    || schemas.elements.iter().any(|(id, _)| is_id(schemas.element_type(id)))
            })
    }

    /// An attribute that both declare.
    fn both(&self, sub: (TypeId, usize), sup: (TypeId, usize), outcome: &mut Outcome) {
        let (ours, theirs) = (self.sub.allowed(sub.0), self.sup.allowed(sup.0));
        let (own, other) = (&ours.all()[sub.1], &theirs.all()[sup.1]);
        let name = name(self.sub, own.decl).clone();
        let theirs = self.sup.datatype(other.ty);
        let of_own = self.sub.datatype(own.ty);
        // A fixed value is all that can be there, in any of its forms.
        let fixed_forms = match &own.value {
            Some(ValueConstraint::Fixed(fixed)) => of_own.map(|ty| forms(self.sub, ty, fixed)),
            _ => None,
        };
        if let Some(ValueConstraint::Fixed(fixed)) = &other.value {
            let likely = || of_own.map(|ty| text::likely(self.sub, ty)).unwrap_or_default();
            let values = fixed_forms.clone().unwrap_or_else(likely);
            if let Some(value) = values.into_iter().find(|value| !same_value(theirs, value, fixed)) {
                outcome.counterexamples.push(Counterexample::new(Kind::AttributeValue {
                    name,
                    value,
                    fixed: true,
                }));
                return;
            }
        }
        let stated = |value: Option<&ValueConstraint>| match value {
            Some(ValueConstraint::Default(text) | ValueConstraint::Fixed(text)) => Some(text.clone()),
            None => None,
        };
        let (was, is) = (stated(own.value.as_ref()), stated(other.value.as_ref()));
        let same = match (&was, &is) {
            (Some(was), Some(is)) => same_value(theirs, was, is),
            (was, is) => was == is,
        };
        if !same && !own.required {
            let attribute = Some(name.clone());
            outcome.counterexamples.push(Counterexample::new(Kind::Default { attribute, was, is }));
        }
        if let Some(forms) = fixed_forms {
            let refused = |text: &String| theirs.is_some_and(|ty| ty.refuses(text, &Anywhere));
            if let Some(value) = forms.into_iter().find(refused) {
                outcome.counterexamples.push(Counterexample::new(Kind::AttributeValue {
                    name,
                    value,
                    fixed: false,
                }));
            }
            return;
        }
        self.attribute_values(&name, own.ty, other.ty, outcome);
    }

    fn attribute_values(&self, name: &QName, sub: TypeId, sup: TypeId, outcome: &mut Outcome) {
        match self.texts(sub, sup) {
            Texts::Within => {}
            Texts::Beyond(value) => {
                let kind = Kind::AttributeValue { name: name.clone(), value, fixed: false };
                return outcome.counterexamples.push(Counterexample::new(kind));
            }
            Texts::Undecided(reason) => outcome.undecided.push(reason),
        }
        let (Some(a), Some(b)) = (self.sub.datatype(sub), self.sup.datatype(sup)) else { return };
        if let Some(meaning) = meaning::change(a, b) {
            let attribute = Some(name.clone());
            outcome.counterexamples.push(Counterexample::new(Kind::Meaning { attribute, meaning }));
            if self.may_be_attribute_field(name) {
                outcome.undecided.push(Undecided::OtherFields);
            }
        }
        let count = outcome.counterexamples.len();
        identifiers(a, b, outcome);
        for counterexample in &mut outcome.counterexamples[count..] {
            if let Kind::Value(value) = &counterexample.kind {
                counterexample.kind =
                    Kind::AttributeValue { name: name.clone(), value: value.clone(), fixed: false };
            }
        }
    }

    /// An attribute that the first side declares and the other has a wildcard for, or nothing.
    fn by_wildcard(
        &self,
        name: &QName,
        ty: TypeId,
        own: Option<&ValueConstraint>,
        wildcard: Option<&Wildcard>,
        outcome: &mut Outcome,
    ) {
        let value = || match own {
            Some(ValueConstraint::Fixed(value)) => value.clone(),
            _ => {
                let values = self.sub.datatype(ty).map(|ty| typical_values(self.sub, ty));
                values.and_then(|values| values.into_iter().next()).unwrap_or_default()
            }
        };
        let refused = |declared| Kind::Attribute { name: name.clone(), value: value(), declared };
        match wildcard.filter(|wildcard| wildcard.namespaces.allows(&name.namespace)) {
            None => outcome.counterexamples.push(Counterexample::new(refused(true))),
            Some(wildcard) => match how(self.sup, wildcard.process, name) {
                How::Anything => {}
                How::Unknown => outcome.counterexamples.push(Counterexample::new(refused(true))),
                How::Type(other) => self.attribute_values(name, ty, other, outcome),
            },
        }
    }

    /// Attributes that a wildcard of the first side lets in.
    fn wildcard(&self, wildcard: &Wildcard, (ours, theirs): (&Allowed, &Allowed), outcome: &mut Outcome) {
        let declared: Vec<&QName> = ours.all().iter().map(|own| name(self.sub, own.decl)).collect();
        let free = |name: &QName| wildcard.namespaces.allows(&name.namespace) && !declared.contains(&name);
        // Those that the other side declares itself.
        for other in theirs.all() {
            let name = name(self.sup, other.decl);
            if free(name) {
                let ours = how(self.sub, wildcard.process, name);
                self.let_in_attribute(name, ours, How::Type(other.ty), outcome);
            }
        }
        let mut names: Vec<QName> =
            self.namespaces(&wildcard.namespaces).iter().map(|it| QName::new(it, "unheardOf")).collect();
        for engine in [self.sub, self.sup] {
            let all =
                engine.schemas.attribute_decls.iter().filter(|(_, decl)| decl.owner == crate::Owner::Schema);
            names.extend(all.map(|(_, decl)| decl.name.clone()));
        }
        names.sort();
        names.dedup();
        let own = |name: &QName| theirs.all().iter().any(|other| self::name(self.sup, other.decl) == name);
        for name in names.iter().filter(|name| free(name) && !own(name)) {
            let ours = how(self.sub, wildcard.process, name);
            let other = match theirs.wildcard.as_ref().filter(|it| it.namespaces.allows(&name.namespace)) {
                Some(wildcard) => how(self.sup, wildcard.process, name),
                None => How::Unknown,
            };
            self.let_in_attribute(name, ours, other, outcome);
        }
    }

    fn let_in_attribute(&self, name: &QName, ours: How, theirs: How, outcome: &mut Outcome) {
        let one_of_many = |outcome: &Outcome| {
            outcome
                .counterexamples
                .iter()
                .any(|counterexample| matches!(counterexample.kind, Kind::Attribute { declared: false, .. }))
        };
        match (ours, theirs) {
            (How::Unknown, _) | (_, How::Anything) => {}
            (How::Anything, How::Type(ty)) => {
                if self.sup.datatype(ty).is_none() {
                    return;
                }
                match self.texts(Builtin::AnySimpleType.id(), ty) {
                    Texts::Within => {}
                    Texts::Beyond(value) => {
                        let kind = Kind::AttributeValue { name: name.clone(), value, fixed: false };
                        outcome.counterexamples.push(Counterexample::new(kind));
                    }
                    Texts::Undecided(reason) => outcome.open_undecided.push((reason, name.clone())),
                }
            }
            (How::Type(a), How::Type(b)) => {
                let decided = outcome.undecided.len();
                self.attribute_values(name, a, b, outcome);
                let open = outcome.undecided.drain(decided..).map(|reason| (reason, name.clone()));
                outcome.open_undecided.extend(open);
            }
            (ours, How::Unknown) if !one_of_many(outcome) => {
                let value = match ours {
                    How::Type(ty) => {
                        self.sub.datatype(ty).and_then(|ty| typical_values(self.sub, ty).into_iter().next())
                    }
                    _ => None,
                };
                let value = value.unwrap_or_else(|| "text".to_owned());
                outcome.counterexamples.push(Counterexample::new(Kind::Attribute {
                    name: name.clone(),
                    value,
                    declared: false,
                }));
            }
            _ => {}
        }
    }
}

fn how(engine: &Engine<'_>, process: Process, name: &QName) -> How {
    let key = engine.schemas.interner.key(&name.namespace, &name.local);
    let declared = key
        .and_then(|key| engine.global_attribute(key))
        .and_then(|id| engine.schemas.attribute_decls[id].ty.target);
    match (process, declared) {
        (Process::Skip, _) | (Process::Lax, None) => How::Anything,
        (Process::Strict, None) => How::Unknown,
        (_, Some(ty)) => How::Type(ty),
    }
}

fn name<'e>(engine: &Engine<'e>, id: AttributeId) -> &'e QName {
    &engine.schemas.attribute_decls[id].name
}

fn named<'e>(engine: &Engine<'e>, allowed: &Allowed) -> Map<&'e QName, usize> {
    allowed.all().iter().enumerate().map(|(at, own)| (name(engine, own.decl), at)).collect()
}
