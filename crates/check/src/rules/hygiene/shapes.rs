//! Shapes of messages that do harm.

use charter_contract::{Contract, MessageId};
use charter_schema::{
    Builtin, ElementId, Owner, ParticleId, Schemas, SimpleDerivation, Term, TypeId, TypeKind,
};
use charter_source::{Fault, Set, elements, ns, schemas_in, tag_place};

/// Whether a part of the same name is carried both ways, told by the types that rpc style asks for.
pub(super) fn in_out_parts(contract: &Contract, faults: &mut Vec<Fault>) {
    for (_, operation) in contract.operations() {
        let message = |usage: &Option<charter_contract::MessageUse>| {
            usage.as_ref().and_then(|usage| usage.message.target).map(|id| (id, &contract.messages[id]))
        };
        let (Some((_, input)), Some((_, output))) = (message(&operation.input), message(&operation.output))
        else {
            continue;
        };
        for part in output.parts.iter().filter(|part| part.element.is_none()) {
            let twin =
                input.parts.iter().find(|other| other.name.text == part.name.text && other.element.is_none());
            if twin.is_some() {
                let text = format!(
                    "\"{}\" is a part of both input and output of \"{}\": generated code makes it an in-out parameter",
                    part.name.text, operation.name.text
                );
                let fault = Fault::new("in-out-part", part.name.place, text);
                faults.push(fault.help("name the two parts apart"));
            }
        }
    }
}

/// The particles of the schemas that people wrote, with those that types hold.
fn particles(schemas: &Schemas) -> impl Iterator<Item = (ParticleId, &charter_schema::Particle)> {
    schemas.particles.iter().filter(|(_, particle)| !schemas.is_known(particle.place))
}

/// The types that some messages lead to.
fn types_of(contract: &Contract, messages: impl Iterator<Item = MessageId>) -> Set<TypeId> {
    let parts = messages.flat_map(|id| &contract.messages[id].parts);
    let (mut elements, mut types): (Vec<ElementId>, Vec<TypeId>) = (Vec::new(), Vec::new());
    for part in parts {
        elements.extend(part.element.as_ref().and_then(|element| element.target));
        types.extend(part.ty.as_ref().and_then(|ty| ty.target));
    }
    contract.reachable(elements, types).1
}

pub(super) fn open_replies(contract: &Contract, faults: &mut Vec<Fault>) {
    let schemas = &contract.schemas;
    let any: Vec<_> = particles(schemas).filter(|(_, it)| matches!(it.term, Term::Any(_))).collect();
    if any.is_empty() {
        return;
    }
    let replies =
        contract.operations().flat_map(|(_, operation)| operation.output.iter().chain(&operation.faults));
    let types = types_of(contract, replies.filter_map(|usage| usage.message.target));
    for (_, particle) in any {
        if matches!(particle.owner, Owner::Type(id) if types.contains(&id)) {
            let fault = Fault::new("reply-wildcard", particle.place, "a reply may hold any element here");
            faults.push(fault.help("name the elements that come, or leave the place out"));
        }
    }
}

pub(super) fn unbounded_requests(contract: &Contract, faults: &mut Vec<Fault>) {
    let schemas = &contract.schemas;
    let lists: Vec<_> = particles(schemas).filter(|(_, it)| it.occurs.max.is_none()).collect();
    if lists.is_empty() {
        return;
    }
    let requests = contract.operations().filter_map(|(_, operation)| operation.input.as_ref());
    let types = types_of(contract, requests.filter_map(|usage| usage.message.target));
    for (_, particle) in lists {
        if matches!(particle.owner, Owner::Type(id) if types.contains(&id)) {
            let fault = Fault::new("list-unbounded", particle.place, "a request may repeat this without end");
            faults.push(fault.help("say how many the provider takes, in maxOccurs"));
        }
    }
}

pub(super) fn optional_nillable(contract: &Contract, faults: &mut Vec<Fault>) {
    let schemas = &contract.schemas;
    for (_, particle) in particles(schemas).filter(|(_, it)| it.occurs.min == 0 && it.occurs.max == Some(1)) {
        let element = match &particle.term {
            Term::Element(id) => &schemas.elements[*id],
            Term::ElementRef(reference) => match reference.target {
                Some(id) => &schemas.elements[id],
                None => continue,
            },
            _ => continue,
        };
        let simple =
            element.ty.target.is_some_and(|ty| matches!(schemas.types[ty].kind, TypeKind::Simple(_)));
        if element.nillable && simple {
            let message = format!("\"{}\" may be left out, and may be nil", element.name.local);
            let fault = Fault::new("optional-nillable", particle.place, message);
            faults.push(fault.help("take away nillable, or minOccurs=\"0\""));
        }
    }
}

pub(super) fn any_types(contract: &Contract, faults: &mut Vec<Fault>) {
    let schemas = &contract.schemas;
    for (_, element) in schemas.elements.iter() {
        let any = element.ty.target.and_then(Builtin::from_id) == Some(Builtin::AnyType);
        // A member of a substitution group has the type of its head; an abstract head is there to be replaced.
        let open = any && element.substitution_group.is_none() && !element.is_abstract;
        // One whose type is misspelt, or stands in it wrongly written, was meant to have one.
        let meant = || {
            let node = contract.files.get(element.place.file).tree.node(element.node);
            node.is_some_and(|node| match node.attribute("type") {
                Some(ty) => ty.rsplit(':').next() == Some("anyType"),
                None => elements(node).all(|child| child.tag_name().name() == "annotation"),
            })
        };
        if open && !schemas.is_known(element.place) && meant() {
            let message = format!("\"{}\" may hold anything", element.name.local);
            let fault = Fault::new("type-any", element.place, message);
            faults.push(fault.help("give it a type"));
        }
    }
}

/// Words that names of sums of money are made of.
const MONEY: [&str; 14] = [
    "amount", "price", "fee", "fees", "cost", "costs", "charge", "charges", "money", "balance", "dues",
    "tariff", "payment", "salary",
];

/// The words of a name: `totalPrice`, `TotalPrice` and `total_price` have two.
fn words(name: &str) -> Vec<String> {
    let mut found: Vec<String> = Vec::new();
    let mut before = '_';
    for c in name.chars() {
        let begins = c.is_uppercase() && !before.is_uppercase() || !before.is_alphanumeric();
        if begins || found.is_empty() {
            found.push(String::new());
        }
        if let Some(word) = found.last_mut().filter(|_| c.is_alphanumeric()) {
            word.extend(c.to_lowercase());
        }
        before = c;
    }
    found
}

/// Whether a simple type is a restriction of float or double.
fn is_floating(schemas: &Schemas, ty: TypeId) -> bool {
    let mut here = ty;
    // Circles are cut where types are read, so this comes to an end.
    loop {
        if let Some(builtin) = Builtin::from_id(here) {
            return matches!(builtin, Builtin::Float | Builtin::Double);
        }
        let base = match &schemas.types[here].kind {
            TypeKind::Simple(simple) => match &simple.derivation {
                SimpleDerivation::Restriction(base) => base.target,
                _ => None,
            },
            TypeKind::Complex(complex) => match complex.content {
                charter_schema::Content::Simple { .. } => complex.base.target,
                _ => None,
            },
        };
        match base {
            Some(base) if base != here => here = base,
            _ => return false,
        }
    }
}

pub(super) fn floating_money(contract: &Contract, faults: &mut Vec<Fault>) {
    let schemas = &contract.schemas;
    let elements = schemas.elements.iter().map(|(_, it)| (&it.name, it.place, &it.ty));
    let attributes = schemas.attribute_decls.iter().map(|(_, it)| (&it.name, it.place, &it.ty));
    for (name, place, ty) in elements.chain(attributes) {
        let Some(ty) = ty.target.filter(|_| !schemas.is_known(place)) else { continue };
        let is_money = || words(&name.local).iter().any(|word| MONEY.contains(&&**word));
        if is_floating(schemas, ty) && is_money() {
            let message = format!("\"{}\" is money in a floating-point number", name.local);
            let fault = Fault::new("money-float", place, message);
            faults.push(fault.help("make it decimal, with fractionDigits"));
        }
    }
}

pub(super) fn unqualified(contract: &Contract, faults: &mut Vec<Fault>) {
    for file in contract.files.iter() {
        for schema in schemas_in(file) {
            let holds_local = schema.descendants().any(|node| {
                node.has_tag_name((ns::XSD, "element"))
                    && node.has_attribute("name")
                    && !node.has_attribute("form")
                    && node.parent_element() != Some(schema)
            });
            if schema.attribute("elementFormDefault") != Some("qualified") && holds_local {
                let message = "local elements of this schema are in no namespace";
                let fault = Fault::new("schema-unqualified", tag_place(file.id, schema), message);
                faults.push(fault.help("add elementFormDefault=\"qualified\""));
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::words;

    #[test]
    fn names_fall_into_words() {
        for name in ["totalPrice", "TotalPrice", "total_price", "total-price", "Total.Price"] {
            assert_eq!(words(name), ["total", "price"], "{name}");
        }
        assert_eq!(words("VATAmount"), ["vatamount"]);
        assert_eq!(words("coffee"), ["coffee"]);
    }
}
