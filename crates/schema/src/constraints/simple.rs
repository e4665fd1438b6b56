//! Simple types: what they may be derived from (Part 1, 3.14.6, st-props-correct and cos-st-restricts).

use charter_source::Place;

use super::Judge;
use crate::engine::Variety;
use crate::{Builtin, Ref, SimpleDerivation, SimpleType, TypeDef, TypeId, TypeKind};

impl<'e> Judge<'e> {
    pub(super) fn simple_type(&mut self, id: TypeId, simple: &'e SimpleType) {
        match &simple.derivation {
            SimpleDerivation::Restriction(base) => self.restricted(id, base, simple),
            SimpleDerivation::List(item) => self.list_of(item),
            SimpleDerivation::Union(members) => {
                members.iter().for_each(|member| self.member(member));
            }
        }
    }

    fn restricted(&mut self, id: TypeId, base: &Ref<TypeDef>, simple: &'e SimpleType) {
        let Some(target) = base.target else { return };
        if target == Builtin::AnySimpleType.id() {
            // A definition that says nothing has been complained about already.
            if base.name.is_some() {
                let message = "xsd:anySimpleType cannot be restricted";
                self.say("cos-st-restricts", base.place, message, "name one of the built-in types below it");
            }
            return;
        }
        let TypeKind::Simple(_) = &self.engine.schemas.types[target].kind else {
            return self.not_simple("st-props-correct", base.place, target);
        };
        self.final_of("st-props-correct", base, |set| set.restriction, "restrictions");
        self.facets(id, target, &simple.facets);
    }

    fn list_of(&mut self, item: &Ref<TypeDef>) {
        let Some(target) = item.target else { return };
        let TypeKind::Simple(_) = &self.engine.schemas.types[target].kind else {
            return self.not_simple("cos-st-restricts", item.place, target);
        };
        self.final_of("cos-st-restricts", item, |set| set.list, "lists");
        if self.holds_list(target) {
            let message =
                format!("{} is a list, or may be one, and a list holds no lists", self.type_name(target));
            self.say("cos-st-restricts", item.place, message, "name a type that is no list");
        }
    }

    fn member(&mut self, member: &Ref<TypeDef>) {
        let Some(target) = member.target else { return };
        let TypeKind::Simple(_) = &self.engine.schemas.types[target].kind else {
            return self.not_simple("cos-st-restricts", member.place, target);
        };
        self.final_of("cos-st-restricts", member, |set| set.union, "unions");
    }

    /// Whether a type is a list, or a union with one in it.
    fn holds_list(&self, id: TypeId) -> bool {
        let mut waiting: Vec<_> = self.engine.datatype(id).into_iter().cloned().collect();
        while let Some(datatype) = waiting.pop() {
            match &datatype.variety {
                Variety::List(_) => return true,
                Variety::Union(members) => waiting.extend(members.iter().cloned()),
                Variety::Atomic(_) => {}
            }
        }
        false
    }

    pub(super) fn not_simple(&mut self, rule: &'static str, place: Place, target: TypeId) {
        let message =
            format!("{} is a complex type, and only a simple type can stand here", self.type_name(target));
        self.say(rule, place, message, "name a simple type");
    }

    /// Says so if the type that is derived from forbids it.
    pub(super) fn final_of(
        &mut self,
        rule: &'static str,
        base: &Ref<TypeDef>,
        forbidden: impl Fn(crate::DerivationSet) -> bool,
        what: &str,
    ) {
        let Some(target) = base.target else { return };
        if forbidden(self.engine.schemas.types[target].final_) {
            let message = format!("{} is final: it forbids {what}", self.type_name(target));
            self.say(rule, base.place, message, "derive from another type, or change its final");
        }
    }
}
