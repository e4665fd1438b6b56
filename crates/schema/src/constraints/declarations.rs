//! Elements and attributes (Part 1, 3.2.6, a-props-correct; 3.3.6, e-props-correct and cos-valid-default).

use charter_source::NodeId;
use charter_source::Place;

use super::particles::emptiable;
use super::{Judge, named};
use crate::engine::{ContentKind, Datatype};
use crate::{
    AttributeDecl, Builtin, ElementDecl, ElementId, Ref, TypeDef, TypeId, TypeKind, ValueConstraint,
};

impl Judge<'_> {
    pub(super) fn declarations(&mut self) {
        let schemas = self.engine.schemas;
        for (id, element) in schemas.elements.iter() {
            self.element(id, element);
        }
        for (_, attribute) in schemas.attribute_decls.iter() {
            self.attribute(attribute);
        }
    }

    fn element(&mut self, id: ElementId, element: &ElementDecl) {
        if let Some(value) = &element.value {
            self.element_value(id, element, value);
        }
        self.plain_notation(&element.ty);
        let schemas = self.engine.schemas;
        let Some((head, reference)) =
            element.substitution_group.as_ref().and_then(|reference| Some((reference.target?, reference)))
        else {
            return;
        };
        let declared = &schemas.elements[head];
        let (ty, head_type) = (schemas.element_type(id), schemas.element_type(head));
        match schemas.derivation(ty, head_type) {
            None => {
                let name = self.type_name(head_type);
                let message = format!(
                    "the type of {} is not derived from {name}, that of {}",
                    named(&element.name),
                    named(&declared.name)
                );
                self.say(
                    "e-props-correct",
                    reference.place,
                    message,
                    format!("give it {name}, or a type derived from that"),
                );
            }
            Some(path) if path.methods.meets(declared.final_) => {
                let message = format!("{} is final for types derived in this way", named(&declared.name));
                self.say(
                    "e-props-correct",
                    reference.place,
                    message,
                    "derive the type in another way, or change its final",
                );
            }
            Some(_) => {}
        }
    }

    fn element_value(&mut self, id: ElementId, element: &ElementDecl, value: &ValueConstraint) {
        let schemas = self.engine.schemas;
        let ty = schemas.element_type(id);
        if self.is_id(Some(ty)) {
            let message = "an element of type ID can have neither default nor fixed value";
            return self.say("e-props-correct", element.place, message, "remove the value");
        }
        match self.engine.content_kind(ty) {
            ContentKind::Simple => self.value_fits("e-props-correct", ty, value, element.place, element.node),
            ContentKind::Mixed if self.engine.model(ty).is_none_or(|model| emptiable(model)) => {}
            _ => {
                let message = format!(
                    "{} has elements inside, so it can have no default or fixed value",
                    named(&element.name)
                );
                self.say("e-props-correct", element.place, message, "remove the value");
            }
        }
    }

    fn attribute(&mut self, attribute: &AttributeDecl) {
        let ty = attribute.ty.target.unwrap_or(Builtin::AnySimpleType.id());
        if attribute.ty.name.is_some() && !matches!(self.engine.schemas.types[ty].kind, TypeKind::Simple(_)) {
            return self.not_simple("src-resolve", attribute.ty.place, ty);
        }
        self.plain_notation(&attribute.ty);
        let Some(value) = &attribute.value else { return };
        if self.is_id(Some(ty)) {
            let message = "an attribute of type ID can have neither default nor fixed value";
            return self.say("a-props-correct", attribute.place, message, "remove the value");
        }
        self.value_fits("a-props-correct", ty, value, attribute.place, attribute.node);
    }

    /// NOTATION says nothing without a list of notations (Part 2, 3.2.19, enumeration-required-notation).
    fn plain_notation(&mut self, ty: &Ref<TypeDef>) {
        let datatype = ty.target.and_then(|id| self.engine.datatype(id));
        let plain = |datatype: &Datatype| {
            datatype.enumeration.is_none()
                && datatype.builtin().is_some_and(|it| it.is_within(Builtin::Notation))
        };
        if datatype.is_some_and(|datatype| plain(datatype)) {
            let message = "NOTATION cannot be used without an enumeration of notations";
            self.say("enumeration-required-notation", ty.place, message, "use a type that lists them");
        }
    }

    /// Whether a default or fixed value is one of its type.
    pub(super) fn value_fits(
        &mut self,
        rule: &'static str,
        ty: TypeId,
        value: &ValueConstraint,
        place: Place,
        node: NodeId,
    ) {
        let engine = self.engine;
        let (ValueConstraint::Default(text) | ValueConstraint::Fixed(text)) = value;
        let Some(datatype) = engine.datatype(ty) else { return };
        if let Err(violation) = datatype.accept(text, &engine.here(place, node), false) {
            let kind = if matches!(value, ValueConstraint::Fixed(_)) { "fixed" } else { "default" };
            let message = format!("{}, so it cannot be the {kind} value", violation.message);
            self.say(rule, place, message, violation.help);
        }
    }
}
