//! Generates the attributes of an element.

use charter_source::{NodeId, Place, QName, ns};

use super::content::a_namespace;
use super::generate::Generator;
use super::references::PENDING;
use super::{Element, SampleError, Size, Text};
use crate::{AttributeId, Process, TypeId, TypeKind, Value, ValueConstraint};

/// An attribute that an element may have.
struct Candidate<'s> {
    name: &'s QName,
    decl: AttributeId,
    ty: TypeId,
    required: bool,
    value: Option<&'s ValueConstraint>,
    /// Where the value is stated.
    stated: (Place, NodeId),
}

impl<'g> Generator<'g> {
    pub(crate) fn attributes(
        &mut self,
        element: &mut Element,
        ty: TypeId,
        name: &str,
    ) -> Result<(), SampleError> {
        if !matches!(self.schemas.types[ty].kind, TypeKind::Complex(_)) {
            return Ok(());
        }
        for attribute in self.candidates(ty) {
            let dispensable = self.size == Size::Least || !self.may_have(&attribute.name.local);
            if !attribute.required && (dispensable || self.chance(3)) {
                continue;
            }
            if !attribute.required && self.size == Size::Typical && self.is_bare(ty) {
                continue;
            }
            // What any encoded value may carry is for references, of which a sample has none.
            if !attribute.required && self.is_of_encoding(attribute.decl) {
                continue;
            }
            let text = match attribute.value {
                Some(ValueConstraint::Fixed(text) | ValueConstraint::Default(text)) => {
                    let (place, node) = attribute.stated;
                    Ok(self.stated(attribute.ty, text, place, node))
                }
                None => {
                    let place = self.schemas.attribute_decls[attribute.decl].place;
                    self.value(attribute.ty, &attribute.name.local, name, place)
                }
            };
            match text {
                // A reference needs an ID somewhere; what need not be there is not made to depend on one.
                Ok(Text::Plain(text))
                    if text.contains(PENDING) && !attribute.required && self.ids.is_empty() => {}
                Ok(text) => element.attributes.push((attribute.name.clone(), text)),
                Err(error) if attribute.required => return Err(error),
                Err(_) => {}
            }
        }
        if let Some(any) = &self.engine.allowed(ty).wildcard
            && (self.size == Size::Most || self.chance(3))
            && any.process != Process::Strict
            && let Some(namespace) = a_namespace(&any.namespaces)
        {
            let name = QName::new(namespace, "anything");
            let taken = element.attributes.iter().any(|(known, _)| *known == name);
            let declared = self.schemas.attribute_named(&name).is_some();
            if !taken && !declared {
                element.attributes.push((name, Text::Plain("some text".into())));
            }
        }
        Ok(())
    }

    /// The attributes that an element may have, in order; of the least one only those that it must have.
    fn candidates(&self, ty: TypeId) -> Vec<Candidate<'g>> {
        let (engine, schemas) = (self.engine, self.schemas);
        if self.size != Size::Least {
            let all = schemas.attributes(ty).0.into_iter().map(|it| Candidate {
                name: it.name,
                decl: it.decl,
                ty: it.ty,
                required: it.required,
                value: it.value,
                stated: (it.usage.place, it.usage.node),
            });
            return all.collect();
        }
        let allowed = engine.allowed(ty);
        let must = allowed.required.iter().map(|at| &allowed.all()[*at]).map(|it| Candidate {
            name: &schemas.attribute_decls[it.decl].name,
            decl: it.decl,
            ty: it.ty,
            required: true,
            value: it.value.as_ref(),
            stated: (it.place, it.node),
        });
        must.collect()
    }

    /// Whether an attribute belongs to the encoding of SOAP.
    fn is_of_encoding(&self, decl: AttributeId) -> bool {
        let document = self.schemas.document_of(self.schemas.attribute_decls[decl].place);
        document.is_some_and(|document| &*document.namespace == ns::SOAP11_ENCODING)
    }

    /// A value that the schema states itself; a name is written with a prefix of the sample.
    pub(super) fn stated(&self, ty: TypeId, text: &str, place: Place, node: NodeId) -> Text {
        let here = self.engine.here(place, node);
        let accepted = self.engine.datatype(ty).and_then(|datatype| datatype.accept(text, &here, true).ok());
        match accepted.and_then(|accepted| accepted.value) {
            Some(Value::Name(name) | Value::Notation(name)) => Text::Name(*name),
            _ => Text::Plain(text.to_owned()),
        }
    }
}
