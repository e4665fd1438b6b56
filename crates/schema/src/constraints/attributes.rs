//! Attributes of types and groups (Part 1, 3.4.6, ct-props-correct.4 and .5, derivation-ok-restriction.2 to .4;
//! 3.5.6, au-props-correct; 3.6.6, ag-props-correct; 3.10.6, cos-aw-union and cos-aw-intersect).

use charter_source::{Map, NameKey, Place};

use super::inherited::{Attributes, Inherited, Own};
use super::{Judge, named};
use crate::{
    Attribute, AttributeGroup, AttributeUse, Builtin, ComplexType, Derivation, Ref, TypeId, Use,
    ValueConstraint, Wildcard,
};

impl<'e> Judge<'e> {
    /// Judges the attributes of a type; what it writes itself.
    pub(super) fn type_attributes(&mut self, complex: &'e ComplexType, inherited: &Inherited<'e>) -> Own<'e> {
        let plain = complex.attributes.is_empty()
            && complex.attribute_groups.is_empty()
            && complex.any_attribute.is_none();
        let schemas = self.engine.schemas;
        complex.attributes.iter().for_each(|usage| self.attribute_use(usage));
        let base =
            complex.base.target.filter(|base| complex.base.name.is_some() && *base != Builtin::AnyType.id());
        if plain && (base.is_none() || complex.derivation == Derivation::Extension) {
            return Own::attributes(Vec::new(), None);
        }
        let (uses, own) = schemas.written_attributes(complex);
        // What one group says by itself was judged with the group.
        if !complex.attributes.is_empty() || complex.attribute_groups.len() > 1 {
            self.distinct("ct-props-correct", &uses);
        }
        self.wildcards_agree(&complex.attribute_groups, complex.any_attribute.as_deref());
        let (before, any) = (&inherited.attributes, inherited.any.as_ref());
        match complex.derivation {
            _ if base.is_none() => {}
            Derivation::Extension => self.added(&uses, before, own.as_ref(), any),
            Derivation::Restriction => {
                self.narrowed("derivation-ok-restriction", &uses, before, own.as_ref(), any);
            }
        }
        Own::attributes(uses, own)
    }

    pub(super) fn attribute_groups(&mut self) {
        for (_, group) in self.engine.schemas.attribute_groups.iter() {
            group.attributes.iter().for_each(|usage| self.attribute_use(usage));
            let gathered = self.engine.schemas.gathered(
                &group.attributes,
                &group.groups,
                group.any_attribute.as_deref(),
            );
            self.distinct("ag-props-correct", &gathered.0);
            self.wildcards_agree(&group.groups, group.any_attribute.as_deref());
        }
    }

    /// No two attributes of one name, and no two IDs.
    fn distinct(&mut self, rule: &'static str, uses: &[&AttributeUse]) {
        let schemas = self.engine.schemas;
        let mut seen: Map<NameKey, Place> = Map::with_capacity_and_hasher(uses.len(), Default::default());
        let mut ids = 0;
        for usage in uses.iter().filter(|usage| usage.usage != Use::Prohibited) {
            let Some(decl) = usage.attribute.target else { continue };
            let declared = &schemas.attribute_decls[decl];
            if seen.insert(declared.name.key(), usage.place).is_some() {
                let message = format!("there are two attributes named {}", named(&declared.name));
                self.say(rule, usage.place, message, "rename or remove one of them");
            }
            ids += usize::from(self.is_id(declared.ty.target));
            if ids == 2 {
                ids += 1;
                let message = "there are two attributes of type ID";
                self.say(rule, usage.place, message, "keep one of them");
            }
        }
    }

    pub(super) fn is_id(&self, ty: Option<TypeId>) -> bool {
        let builtin = ty.and_then(|ty| self.engine.datatype(ty)).and_then(|datatype| datatype.builtin());
        builtin.is_some_and(|builtin| builtin.is_within(Builtin::Id))
    }

    /// A default or fixed value of a use, and whether it agrees with that of the declaration.
    fn attribute_use(&mut self, usage: &AttributeUse) {
        let schemas = self.engine.schemas;
        let Some(decl) = usage.attribute.target else { return };
        let declared = &schemas.attribute_decls[decl];
        // That of a declaration written here is judged with the declaration.
        if usage.attribute.name.is_none() {
            return;
        }
        let Some(own) = &usage.value else { return };
        let ty = declared.ty.target.unwrap_or(Builtin::AnySimpleType.id());
        self.value_fits("au-props-correct", ty, own, usage.place, usage.node);
        if let Some(ValueConstraint::Fixed(fixed)) = declared.value.as_deref() {
            let same = match &**own {
                ValueConstraint::Fixed(text) => self.same_value(ty, text, fixed),
                ValueConstraint::Default(_) => false,
            };
            if !same {
                let message =
                    format!("the declaration of {} fixes its value to \"{fixed}\"", named(&declared.name));
                self.say("au-props-correct", usage.place, message, "leave the value out, or write the same");
            }
        }
    }

    /// Whether two texts are one value of a type.
    pub(super) fn same_value(&self, ty: TypeId, a: &str, b: &str) -> bool {
        let Some(datatype) = self.engine.datatype(ty) else { return a == b };
        let here = self.engine.here(Place::default(), charter_source::NodeId::new(0));
        let value = |text: &str| datatype.accept(text, &here, true).ok().and_then(|accepted| accepted.value);
        a == b || value(a).is_some_and(|a| value(b) == Some(a))
    }

    /// Wildcards that meet must have something in common that a wildcard can say.
    fn wildcards_agree(&mut self, groups: &[Ref<AttributeGroup>], own: Option<&Wildcard>) {
        let schemas = self.engine.schemas;
        let mut so_far = own.map(|any| any.namespaces.clone());
        for group in groups {
            let Some(target) = group.target else { continue };
            let target = &schemas.attribute_groups[target];
            let (_, any) = schemas.gathered(&[], &target.groups, target.any_attribute.as_deref());
            let Some(any) = any else { continue };
            so_far = match so_far {
                None => Some(any.namespaces),
                Some(before) => match before.intersection(&any.namespaces) {
                    Some(both) => Some(both),
                    None => {
                        let message =
                            "what the wildcards here have in common cannot be written as one wildcard";
                        self.say("src-attribute_group", group.place, message, "use one wildcard");
                        Some(before)
                    }
                },
            };
        }
    }

    /// Attributes that an extension adds.
    fn added(
        &mut self,
        uses: &[&AttributeUse],
        inherited: &Attributes<'_>,
        own: Option<&Wildcard>,
        any: Option<&Wildcard>,
    ) {
        let schemas = self.engine.schemas;
        let mut has_id = inherited.has_id();
        for usage in uses.iter().filter(|usage| usage.usage != Use::Prohibited) {
            let Some(declared) = usage.attribute.target.map(|id| &schemas.attribute_decls[id]) else {
                continue;
            };
            let old = inherited.get(declared.name.key());
            // By a group that both types use, it is one and the same.
            if old.is_some_and(|old| std::ptr::eq(old.usage, *usage)) {
                continue;
            }
            if old.is_some() {
                let message =
                    format!("the base type has an attribute named {} already", named(&declared.name));
                self.say("ct-props-correct", usage.place, message, "rename it, or leave it out");
            } else if self.is_id(declared.ty.target) {
                if has_id {
                    let message = "the base type has an attribute of type ID already";
                    self.say("ct-props-correct", usage.place, message, "give it another type");
                }
                has_id = true;
            }
        }
        if let (Some(own), Some(any)) = (own, any)
            && own.namespaces.union(&any.namespaces).is_none()
        {
            let message =
                "this wildcard and that of the base type together cannot be written as one wildcard";
            self.say("src-ct", own.place, message, "use the same namespaces in both");
        }
    }

    /// Attributes that a restriction changes (derivation-ok-restriction.2 to .4).
    pub(super) fn narrowed(
        &mut self,
        rule: &'static str,
        uses: &[&AttributeUse],
        inherited: &Attributes<'_>,
        own: Option<&Wildcard>,
        any: Option<&Wildcard>,
    ) {
        let schemas = self.engine.schemas;
        for usage in uses {
            let Some(declared) = usage.attribute.target.map(|id| &schemas.attribute_decls[id]) else {
                continue;
            };
            let name = named(&declared.name);
            match inherited.get(declared.name.key()) {
                Some(old) if usage.usage == Use::Prohibited => {
                    if old.required {
                        let message = format!("the base type requires the attribute {name}");
                        self.say(rule, usage.place, message, "leave this out: it is inherited");
                    }
                }
                Some(old) => self.narrowed_attribute(rule, usage, old),
                None if usage.usage == Use::Prohibited => {}
                None if any.is_some_and(|any| any.namespaces.allows(&declared.name.namespace)) => {}
                None => {
                    let message = format!("the base type has no attribute {name}");
                    self.say(rule, usage.place, message, "remove it, or extend the base type");
                }
            }
        }
        match (own, any) {
            (Some(own), None) => {
                let message = "the base type has no wildcard for attributes";
                self.say(rule, own.place, message, "remove it");
            }
            (Some(own), Some(any)) if !own.namespaces.within(&any.namespaces) => {
                let message = "this wildcard lets in attributes that the base type does not";
                self.say(rule, own.place, message, "name fewer namespaces");
            }
            (Some(own), Some(any)) if !own.process.covers(any.process) => {
                let message = "this wildcard judges attributes less strictly than the base type";
                self.say(rule, own.place, message, "raise its processContents");
            }
            _ => {}
        }
    }

    fn narrowed_attribute(&mut self, rule: &'static str, usage: &AttributeUse, old: &Attribute<'_>) {
        let schemas = self.engine.schemas;
        let Some(declared) = usage.attribute.target.map(|id| &schemas.attribute_decls[id]) else { return };
        let name = named(&declared.name);
        if old.required && usage.usage != Use::Required {
            let message = format!("the attribute {name} is required in the base type");
            self.say(rule, usage.place, message, "add use=\"required\"");
        }
        let ty = declared.ty.target.unwrap_or(Builtin::AnySimpleType.id());
        if schemas.derivation(ty, old.ty).is_none() {
            let message = format!(
                "the type of {name} is not derived from {}, its type in the base type",
                self.type_name(old.ty)
            );
            self.say(rule, usage.place, message, "give it that type, or one derived from it");
        }
        if let Some(ValueConstraint::Fixed(fixed)) = old.value {
            let value = usage.value.as_deref().or(declared.value.as_deref());
            let same =
                matches!(value, Some(ValueConstraint::Fixed(text)) if self.same_value(old.ty, text, fixed));
            if !same {
                let message = format!("the value of {name} is fixed to \"{fixed}\" in the base type");
                self.say(rule, usage.place, message, format!("add fixed=\"{fixed}\""));
            }
        }
    }
}
