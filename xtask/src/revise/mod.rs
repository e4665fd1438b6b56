//! Revisions of a schema: each kind of change that people make, by its name.

mod edits;
mod fits;
mod rebuild;
mod words;

use fastrand::Rng;

use self::edits::*;
use self::fits::*;
use self::rebuild::*;
use self::words::*;
use crate::xml::Xml;

/// A kind of change; it says whether there was something to change.
type Change = fn(&mut Rng, &mut Xml) -> bool;

/// Makes a random change of a random kind, or of those that come after it; its name.
pub fn revise(rng: &mut Rng, schema: &mut Xml) -> Option<&'static str> {
    let start = rng.usize(..KINDS.len());
    (0..KINDS.len()).find_map(|step| {
        let (name, change) = KINDS[(start + step) % KINDS.len()];
        change(rng, schema).then_some(name)
    })
}

/// Makes a change of one kind.
pub fn of_kind(rng: &mut Rng, schema: &mut Xml, kind: usize) -> Option<&'static str> {
    let (name, change) = KINDS[kind % KINDS.len()];
    change(rng, schema).then_some(name)
}

/// Takes all identity constraints out.
pub fn without_constraints(schema: &mut Xml) {
    for path in schema.paths().into_iter().rev() {
        schema.at(&path).children.retain(|c| !(is(c, "key") || is(c, "unique") || is(c, "keyref")));
    }
}

/// Adds a constraint about something that is there.
pub fn constrain(rng: &mut Rng, schema: &mut Xml) {
    let kind = if rng.bool() { "unique" } else { "key" };
    identity(rng, schema, kind);
}

/// All kinds of changes.
pub const KINDS: &[(&str, Change)] = &[
    // Elements.
    ("element may be left out", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && local(x) && !has(x, "minOccurs"), "minOccurs", "0")
    }),
    ("element must be there", |rng, s| {
        drop_one(rng, s, &|x| is(x, "element") && value(x, "minOccurs") == Some("0"), "minOccurs")
    }),
    ("element may repeat", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && local(x) && !has(x, "maxOccurs"), "maxOccurs", "unbounded")
    }),
    ("element may stand twice", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && local(x) && !has(x, "maxOccurs"), "maxOccurs", "2")
    }),
    ("element stands once", |rng, s| {
        drop_one(
            rng,
            s,
            &|x| is(x, "element") && has(x, "maxOccurs") && value(x, "minOccurs") != Some("2"),
            "maxOccurs",
        )
    }),
    ("element bounds widened", |rng, s| {
        one(rng, s, &|x| is(x, "element") && number(x, "maxOccurs").is_some(), &|_, x| {
            bump(x, "maxOccurs", 1)
        })
    }),
    ("element bounds narrowed", |rng, s| {
        one(
            rng,
            s,
            &|x| {
                is(x, "element")
                    && number(x, "maxOccurs")
                        .is_some_and(|n| n > 1 && number(x, "minOccurs").unwrap_or(1) < n)
            },
            &|_, x| bump(x, "maxOccurs", -1),
        )
    }),
    ("element least raised", |rng, s| {
        one(rng, s, &|x| is(x, "element") && value(x, "maxOccurs") == Some("unbounded"), &|rng, x| {
            put(x, "minOccurs", &rng.u32(1..4).to_string())
        })
    }),
    ("element many times", |rng, s| {
        one(rng, s, &|x| is(x, "element") && local(x) && !has(x, "maxOccurs"), &|rng, x| {
            put(x, "maxOccurs", &rng.u32(3..40).to_string())
        })
    }),
    ("element removed", |rng, s| remove(rng, s, &|x| is(x, "element"))),
    ("element added at the end, optional", |rng, s| {
        insert(rng, s, &in_order, End::Last, |rng| fresh_element(rng).with("minOccurs", "0"))
    }),
    ("element added at the end, required", |rng, s| insert(rng, s, &in_order, End::Last, fresh_element)),
    ("element added at the front, optional", |rng, s| {
        insert(rng, s, &in_order, End::First, |rng| fresh_element(rng).with("minOccurs", "0"))
    }),
    ("element added at the front, required", |rng, s| insert(rng, s, &in_order, End::First, fresh_element)),
    ("element added somewhere, optional", |rng, s| {
        insert(rng, s, &in_order, End::Any, |rng| fresh_element(rng).with("minOccurs", "0"))
    }),
    ("element added somewhere, repeated", |rng, s| {
        insert(rng, s, &in_order, End::Any, |rng| {
            fresh_element(rng).with("minOccurs", "0").with("maxOccurs", "unbounded")
        })
    }),
    ("element renamed", |rng, s| {
        one(rng, s, &|x| is(x, "element") && local(x) && has(x, "name"), &|rng, x| {
            put(x, "name", &format!("n{}", rng.u32(..1000)))
        })
    }),
    ("elements swapped", |rng, s| swap(rng, s, &|x| is(x, "sequence") || is(x, "all"))),
    ("element moved to the end", |rng, s| {
        one(rng, s, &|x| is(x, "sequence") && x.children.len() > 1, &|rng, x| {
            let at = rng.usize(..x.children.len() - 1);
            let child = x.children.remove(at);
            x.children.push(child);
        })
    }),
    ("nil allowed", |rng, s| {
        set_one(
            rng,
            s,
            &|x| is(x, "element") && has(x, "name") && !has(x, "nillable") && !has(x, "fixed"),
            "nillable",
            "true",
        )
    }),
    ("nil refused", |rng, s| drop_one(rng, s, &|x| is(x, "element") && has(x, "nillable"), "nillable")),
    ("element default added", |rng, s| {
        one(rng, s, &|x| is(x, "element") && plain_type(x) && !stated(x), &|_, x| {
            put(x, "default", a_value(x))
        })
    }),
    ("element default changed", |rng, s| {
        one(rng, s, &|x| is(x, "element") && has(x, "default"), &|_, x| put(x, "default", a_second_value(x)))
    }),
    ("element default removed", |rng, s| {
        drop_one(rng, s, &|x| is(x, "element") && has(x, "default"), "default")
    }),
    ("element fixed", |rng, s| {
        one(rng, s, &|x| is(x, "element") && plain_type(x) && !stated(x) && !has(x, "nillable"), &|_, x| {
            put(x, "fixed", a_value(x))
        })
    }),
    ("element fixed to another", |rng, s| {
        one(rng, s, &|x| is(x, "element") && has(x, "fixed"), &|_, x| put(x, "fixed", a_second_value(x)))
    }),
    ("element no longer fixed", |rng, s| drop_one(rng, s, &|x| is(x, "element") && has(x, "fixed"), "fixed")),
    ("element of a wider type", |rng, s| {
        one(rng, s, &|x| is(x, "element") && wider(x, "type").is_some() && !stated(x), &|_, x| {
            let to = wider(x, "type").unwrap_or("xs:string");
            put(x, "type", to);
        })
    }),
    ("element of a narrower type", |rng, s| {
        one(rng, s, &|x| is(x, "element") && narrower(x, "type").is_some() && !stated(x), &|_, x| {
            let to = narrower(x, "type").unwrap_or("xs:byte");
            put(x, "type", to);
        })
    }),
    ("element of text", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && plain_type(x) && !stated(x), "type", "xs:string")
    }),
    ("element of anything", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && plain_type(x) && !stated(x), "type", "xs:anyType")
    }),
    ("element of any value", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && plain_type(x) && !stated(x), "type", "xs:anySimpleType")
    }),
    ("element of a named complex type", |rng, s| retype(rng, s, "complexType")),
    ("element of a named simple type", |rng, s| retype(rng, s, "simpleType")),
    ("simple type written in place", inline_simple),
    ("element qualified or not", |rng, s| {
        one(rng, s, &|x| is(x, "element") && local(x) && has(x, "name"), &|rng, x| {
            let to = if rng.bool() { "qualified" } else { "unqualified" };
            put(x, "form", to);
        })
    }),
    // Groups.
    ("sequence became choice", |rng, s| rename(rng, s, "sequence", "choice")),
    ("choice became sequence", |rng, s| rename(rng, s, "choice", "sequence")),
    ("sequence became all", |rng, s| {
        one(rng, s, &|x| is(x, "complexType") && x.children.first().is_some_and(flat), &|_, x| {
            "xs:all".clone_into(&mut x.children[0].name)
        })
    }),
    ("all became sequence", |rng, s| rename(rng, s, "all", "sequence")),
    ("group may be left out", |rng, s| {
        set_one(rng, s, &|x| group(x) && !has(x, "minOccurs"), "minOccurs", "0")
    }),
    ("group must be there", |rng, s| {
        drop_one(rng, s, &|x| group(x) && value(x, "minOccurs") == Some("0"), "minOccurs")
    }),
    ("group may repeat", |rng, s| {
        set_one(rng, s, &|x| order(x) && !has(x, "maxOccurs"), "maxOccurs", "unbounded")
    }),
    ("group stands once", |rng, s| {
        drop_one(
            rng,
            s,
            &|x| order(x) && has(x, "maxOccurs") && value(x, "minOccurs") != Some("2"),
            "maxOccurs",
        )
    }),
    ("group bounds", |rng, s| {
        one(rng, s, &order, &|rng, x| {
            let least = rng.u32(..3);
            put(x, "minOccurs", &least.to_string());
            put(x, "maxOccurs", &(least + rng.u32(1..4)).to_string());
        })
    }),
    ("group wrapped", |rng, s| {
        one(rng, s, &|x| in_order(x), &|_, x| {
            let inner = Xml { attributes: Vec::new(), ..x.clone() };
            x.children = vec![inner];
        })
    }),
    ("group split in two", |rng, s| {
        one(rng, s, &|x| is(x, "sequence") && x.children.len() > 1, &|_, x| {
            let tail = x.children.split_off(x.children.len() / 2);
            x.children.push(Xml::new("xs:sequence").holding(tail));
        })
    }),
    ("members shuffled", |rng, s| {
        one(rng, s, &|x| group(x) && x.children.len() > 1, &|rng, x| rng.shuffle(&mut x.children))
    }),
    ("alternative added", |rng, s| insert(rng, s, &|x| is(x, "choice"), End::Any, fresh_element)),
    ("alternative removed", |rng, s| {
        one(rng, s, &|x| is(x, "choice") && x.children.len() > 1, &|rng, x| {
            let at = rng.usize(..x.children.len());
            x.children.remove(at);
        })
    }),
    ("element became one of two", |rng, s| {
        one(rng, s, &|x| in_order(x) && x.children.iter().any(|c| is(c, "element")), &|rng, x| {
            if let Some(child) = x.children.iter_mut().find(|c| is(c, "element")) {
                let inner = child.clone();
                *child = Xml::new("xs:choice").holding([inner, fresh_element(rng)]);
            }
        })
    }),
    ("group named", name_group),
    ("named group written in place", inline_group),
    // Wildcards.
    ("wildcard added", |rng, s| {
        insert(rng, s, &|x| is(x, "sequence"), End::Last, |_| {
            Xml::new("xs:any")
                .with("namespace", "##other")
                .with("processContents", "lax")
                .with("minOccurs", "0")
        })
    }),
    ("wildcard added for all", |rng, s| {
        insert(rng, s, &|x| is(x, "sequence"), End::Last, |_| {
            Xml::new("xs:any")
                .with("namespace", "urn:p urn:q")
                .with("processContents", "skip")
                .with("minOccurs", "0")
                .with("maxOccurs", "unbounded")
        })
    }),
    ("wildcard removed", |rng, s| remove(rng, s, &|x| is(x, "any"))),
    ("wildcard widened", |rng, s| set_one(rng, s, &|x| is(x, "any"), "namespace", "##any")),
    ("wildcard narrowed", |rng, s| set_one(rng, s, &|x| is(x, "any"), "namespace", "urn:o")),
    ("wildcard of others", |rng, s| set_one(rng, s, &|x| is(x, "any"), "namespace", "##other")),
    ("wildcard of no namespace", |rng, s| set_one(rng, s, &|x| is(x, "any"), "namespace", "##local urn:o")),
    ("wildcard lax", |rng, s| set_one(rng, s, &|x| is(x, "any"), "processContents", "lax")),
    ("wildcard strict", |rng, s| set_one(rng, s, &|x| is(x, "any"), "processContents", "strict")),
    ("wildcard skips", |rng, s| set_one(rng, s, &|x| is(x, "any"), "processContents", "skip")),
    ("wildcard became element", |rng, s| {
        one(rng, s, &|x| is(x, "any"), &|rng, x| {
            let occurs: Vec<_> =
                x.attributes.iter().filter(|(n, _)| n.ends_with("Occurs")).cloned().collect();
            *x = fresh_element(rng);
            x.attributes.extend(occurs);
        })
    }),
    ("element became wildcard", |rng, s| {
        one(rng, s, &|x| is(x, "element") && local(x), &|_, x| {
            let occurs: Vec<_> =
                x.attributes.iter().filter(|(n, _)| n.ends_with("Occurs")).cloned().collect();
            *x = Xml::new("xs:any").with("processContents", "lax");
            x.attributes.extend(occurs);
        })
    }),
    // Attributes.
    ("attribute added", |rng, s| insert(rng, s, &holds_attributes, End::Attribute, fresh_attribute)),
    ("attribute added, required", |rng, s| {
        insert(rng, s, &holds_attributes, End::Attribute, |rng| fresh_attribute(rng).with("use", "required"))
    }),
    ("attribute removed", |rng, s| remove(rng, s, &|x| is(x, "attribute"))),
    ("attribute renamed", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && has(x, "name"), &|rng, x| {
            put(x, "name", &format!("b{}", rng.u32(..1000)))
        })
    }),
    ("attribute may be left out", |rng, s| {
        drop_one(rng, s, &|x| is(x, "attribute") && value(x, "use") == Some("required"), "use")
    }),
    ("attribute must be there", |rng, s| {
        set_one(rng, s, &|x| is(x, "attribute") && !has(x, "default"), "use", "required")
    }),
    ("attribute of a wider type", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && wider(x, "type").is_some() && !stated(x), &|_, x| {
            let to = wider(x, "type").unwrap_or("xs:string");
            put(x, "type", to);
        })
    }),
    ("attribute of a narrower type", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && narrower(x, "type").is_some() && !stated(x), &|_, x| {
            let to = narrower(x, "type").unwrap_or("xs:byte");
            put(x, "type", to);
        })
    }),
    ("attribute of text", |rng, s| {
        set_one(rng, s, &|x| is(x, "attribute") && plain_type(x) && !stated(x), "type", "xs:string")
    }),
    ("attribute default added", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && plain_type(x) && !stated(x) && !has(x, "use"), &|_, x| {
            put(x, "default", a_value(x))
        })
    }),
    ("attribute default changed", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && has(x, "default"), &|_, x| {
            put(x, "default", a_second_value(x))
        })
    }),
    ("attribute default removed", |rng, s| {
        drop_one(rng, s, &|x| is(x, "attribute") && has(x, "default"), "default")
    }),
    ("attribute fixed", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && plain_type(x) && !stated(x), &|_, x| {
            put(x, "fixed", a_value(x))
        })
    }),
    ("attribute no longer fixed", |rng, s| {
        drop_one(rng, s, &|x| is(x, "attribute") && has(x, "fixed"), "fixed")
    }),
    ("attributes of others added", |rng, s| {
        insert(
            rng,
            s,
            &|x| holds_attributes(x) && !x.children.iter().any(|c| is(c, "anyAttribute")),
            End::Very,
            |_| Xml::new("xs:anyAttribute").with("namespace", "##other").with("processContents", "lax"),
        )
    }),
    ("attributes of others removed", |rng, s| remove(rng, s, &|x| is(x, "anyAttribute"))),
    ("attributes of others elsewhere", |rng, s| {
        one(rng, s, &|x| is(x, "anyAttribute"), &|rng, x| {
            let to = ["##any", "##local", "urn:o", "##targetNamespace"][rng.usize(..4)];
            put(x, "namespace", to);
        })
    }),
    ("attributes of others judged", |rng, s| {
        one(rng, s, &|x| is(x, "anyAttribute"), &|rng, x| {
            let to = ["lax", "skip", "strict"][rng.usize(..3)];
            put(x, "processContents", to);
        })
    }),
    ("attributes named as a group", name_attributes),
    ("attribute qualified or not", |rng, s| {
        one(rng, s, &|x| is(x, "attribute") && has(x, "name") && has(x, "type"), &|rng, x| {
            let to = if rng.bool() { "qualified" } else { "unqualified" };
            put(x, "form", to);
        })
    }),
    // Values.
    ("value added", |rng, s| {
        one(rng, s, &|x| is(x, "restriction") && x.children.iter().any(|c| is(c, "enumeration")), &|_, x| {
            let to = more_values(x);
            x.children.push(Xml::new("xs:enumeration").with("value", to));
        })
    }),
    ("value removed", |rng, s| {
        one(
            rng,
            s,
            &|x| is(x, "restriction") && x.children.iter().filter(|c| is(c, "enumeration")).count() > 1,
            &|_, x| {
                if let Some(at) = x.children.iter().position(|c| is(c, "enumeration")) {
                    x.children.remove(at);
                }
            },
        )
    }),
    ("values no longer listed", |rng, s| {
        one(rng, s, &|x| is(x, "restriction") && x.children.iter().any(|c| is(c, "enumeration")), &|_, x| {
            x.children.retain(|c| !is(c, "enumeration"))
        })
    }),
    ("values listed", |rng, s| {
        one(
            rng,
            s,
            &|x| {
                is(x, "restriction")
                    && has(x, "base")
                    && first_value(value(x, "base").unwrap_or("")).is_some()
                    && x.children.is_empty()
            },
            &|_, x| {
                let to = first_value(value(x, "base").unwrap_or("")).unwrap_or("a");
                x.children.push(Xml::new("xs:enumeration").with("value", to));
            },
        )
    }),
    ("pattern added", |rng, s| {
        facet(rng, s, TEXTS, "pattern", |rng| PATTERNS[rng.usize(..PATTERNS.len())].to_owned())
    }),
    ("pattern changed", |rng, s| {
        one(rng, s, &|x| is(x, "pattern"), &|rng, x| put(x, "value", PATTERNS[rng.usize(..PATTERNS.len())]))
    }),
    ("pattern removed", |rng, s| remove(rng, s, &|x| is(x, "pattern"))),
    ("another pattern allowed", |rng, s| {
        one(rng, s, &|x| is(x, "restriction") && x.children.iter().any(|c| is(c, "pattern")), &|rng, x| {
            x.children.push(Xml::new("xs:pattern").with("value", PATTERNS[rng.usize(..PATTERNS.len())]))
        })
    }),
    ("longer allowed", |rng, s| {
        one(rng, s, &|x| is(x, "maxLength") && number(x, "value").is_some(), &|_, x| bump(x, "value", 1))
    }),
    ("shorter at most", |rng, s| {
        one(rng, s, &|x| is(x, "maxLength") && number(x, "value").is_some_and(|n| n > 2), &|_, x| {
            bump(x, "value", -1)
        })
    }),
    ("longer at least", |rng, s| {
        one(rng, s, &|x| is(x, "minLength") && number(x, "value").is_some(), &|_, x| bump(x, "value", 1))
    }),
    ("shorter allowed", |rng, s| {
        one(rng, s, &|x| is(x, "minLength") && number(x, "value").is_some_and(|n| n > 0), &|_, x| {
            bump(x, "value", -1)
        })
    }),
    ("another length", |rng, s| {
        one(rng, s, &|x| is(x, "length") && number(x, "value").is_some(), &|_, x| bump(x, "value", 1))
    }),
    ("length no longer limited", |rng, s| {
        remove(rng, s, &|x| is(x, "maxLength") || is(x, "length") || is(x, "minLength"))
    }),
    ("length limited", |rng, s| facet(rng, s, TEXTS, "maxLength", |rng| rng.u32(1..12).to_string())),
    ("range widened", |rng, s| {
        one(
            rng,
            s,
            &|x| (is(x, "maxInclusive") || is(x, "maxExclusive")) && number(x, "value").is_some(),
            &|_, x| bump(x, "value", 1),
        )
    }),
    ("range narrowed", |rng, s| {
        one(
            rng,
            s,
            &|x| (is(x, "maxInclusive") || is(x, "maxExclusive")) && number(x, "value").is_some(),
            &|_, x| bump(x, "value", -1),
        )
    }),
    ("range from below", |rng, s| {
        one(
            rng,
            s,
            &|x| (is(x, "minInclusive") || is(x, "minExclusive")) && number(x, "value").is_some(),
            &|rng, x| bump(x, "value", if rng.bool() { 1 } else { -1 }),
        )
    }),
    ("range limited", |rng, s| facet(rng, s, NUMBERS, "maxInclusive", |rng| rng.u32(1..200).to_string())),
    ("range no longer limited", |rng, s| {
        remove(rng, s, &|x| {
            is(x, "maxInclusive") || is(x, "minInclusive") || is(x, "maxExclusive") || is(x, "minExclusive")
        })
    }),
    ("end no longer in the range", |rng, s| rename(rng, s, "maxInclusive", "maxExclusive")),
    ("end in the range", |rng, s| rename(rng, s, "minExclusive", "minInclusive")),
    ("digits in all", |rng, s| facet(rng, s, NUMBERS, "totalDigits", |rng| rng.u32(1..6).to_string())),
    ("digits in all changed", |rng, s| {
        one(rng, s, &|x| is(x, "totalDigits"), &|rng, x| bump(x, "value", if rng.bool() { 1 } else { -1 }))
    }),
    ("digits after the point", |rng, s| {
        facet(rng, s, &["xs:decimal"], "fractionDigits", |rng| rng.u32(..4).to_string())
    }),
    ("digits after the point changed", |rng, s| {
        one(rng, s, &|x| is(x, "fractionDigits"), &|_, x| bump(x, "value", 1))
    }),
    ("white space", |rng, s| {
        facet(rng, s, &["xs:string"], "whiteSpace", |rng| ["replace", "collapse"][rng.usize(..2)].to_owned())
    }),
    ("wider base", |rng, s| {
        one(rng, s, &|x| is(x, "restriction") && wider(x, "base").is_some(), &|_, x| {
            let to = wider(x, "base").unwrap_or("xs:string");
            put(x, "base", to);
        })
    }),
    ("narrower base", |rng, s| {
        one(rng, s, &|x| is(x, "restriction") && narrower(x, "base").is_some(), &|_, x| {
            let to = narrower(x, "base").unwrap_or("xs:byte");
            put(x, "base", to);
        })
    }),
    ("items of another type", |rng, s| {
        one(
            rng,
            s,
            &|x| is(x, "list") && value(x, "itemType").is_some_and(|t| t.starts_with("xs:")),
            &|rng, x| put(x, "itemType", ["xs:int", "xs:token", "xs:decimal", "xs:NMTOKEN"][rng.usize(..4)]),
        )
    }),
    ("value became list", |rng, s| {
        one(
            rng,
            s,
            &|x| {
                is(x, "simpleType")
                    && x.children.first().is_some_and(|c| {
                        is(c, "restriction")
                            && value(c, "base").is_some_and(|b| b.starts_with("xs:") && b != "xs:NMTOKENS")
                    })
            },
            &|_, x| {
                let base = value(&x.children[0], "base").unwrap_or("xs:token").to_owned();
                x.children[0] = Xml::new("xs:list").with("itemType", base);
            },
        )
    }),
    ("member added to a union", |rng, s| {
        one(rng, s, &|x| is(x, "union"), &|rng, x| {
            let old = value(x, "memberTypes").unwrap_or("").to_owned();
            let more = ["xs:int", "xs:date", "xs:token", "xs:boolean"][rng.usize(..4)];
            put(x, "memberTypes", &format!("{old} {more}"));
        })
    }),
    ("member removed from a union", |rng, s| {
        one(
            rng,
            s,
            &|x| is(x, "union") && value(x, "memberTypes").is_some_and(|m| m.contains(' ')),
            &|_, x| {
                let old = value(x, "memberTypes").unwrap_or("").to_owned();
                put(x, "memberTypes", old.split_once(' ').map_or("", |it| it.1));
            },
        )
    }),
    ("members of a union reversed", |rng, s| {
        one(
            rng,
            s,
            &|x| is(x, "union") && value(x, "memberTypes").is_some_and(|m| m.contains(' ')),
            &|_, x| {
                let old = value(x, "memberTypes").unwrap_or("").to_owned();
                let mut all: Vec<&str> = old.split(' ').collect();
                all.reverse();
                put(x, "memberTypes", &all.join(" "));
            },
        )
    }),
    // Types.
    ("text among elements", |rng, s| {
        set_one(
            rng,
            s,
            &|x| {
                is(x, "complexType") && !has(x, "mixed") && !x.children.iter().any(|c| is(c, "simpleContent"))
            },
            "mixed",
            "true",
        )
    }),
    ("no text among elements", |rng, s| {
        drop_one(rng, s, &|x| is(x, "complexType") && has(x, "mixed"), "mixed")
    }),
    ("type abstract", |rng, s| {
        set_one(
            rng,
            s,
            &|x| is(x, "complexType") && has(x, "name") && !has(x, "abstract"),
            "abstract",
            "true",
        )
    }),
    ("type no longer abstract", |rng, s| {
        drop_one(rng, s, &|x| is(x, "complexType") && has(x, "abstract"), "abstract")
    }),
    ("type blocked", |rng, s| {
        set_one(rng, s, &|x| is(x, "complexType") && has(x, "name") && !has(x, "block"), "block", "#all")
    }),
    ("type no longer blocked", |rng, s| {
        drop_one(rng, s, &|x| is(x, "complexType") && has(x, "block"), "block")
    }),
    ("element blocked", |rng, s| {
        set_one(rng, s, &|x| is(x, "element") && has(x, "name") && !has(x, "block"), "block", "extension")
    }),
    ("derived type added", derive),
    ("derived type removed", |rng, s| {
        top(rng, s, &|x| is(x, "complexType") && x.children.iter().any(|c| is(c, "complexContent")))
    }),
    ("type renamed", rename_type),
    ("content removed", |rng, s| {
        one(rng, s, &|x| is(x, "complexType") && x.children.first().is_some_and(group), &|_, x| {
            x.children.remove(0);
        })
    }),
    ("content given", |rng, s| {
        one(
            rng,
            s,
            &|x| is(x, "complexType") && !x.children.iter().any(|c| group(c) || c.name.ends_with("Content")),
            &|rng, x| x.children.insert(0, Xml::new("xs:sequence").holding([fresh_element(rng)])),
        )
    }),
    // Substitution and identity.
    ("substitute added", |rng, s| substitute(rng, s)),
    ("substitute removed", |rng, s| drop_one(rng, s, &|x| has(x, "substitutionGroup"), "substitutionGroup")),
    ("head abstract", |rng, s| {
        one(rng, s, &|x| is(x, "schema"), &|rng, x| {
            let heads: Vec<usize> = (0..x.children.len())
                .filter(|at| {
                    is(&x.children[*at], "element") && value(&x.children[*at], "name") != Some("root")
                })
                .collect();
            if let Some(at) = heads.get(rng.usize(..heads.len().max(1))) {
                put(&mut x.children[*at], "abstract", "true");
            }
        })
    }),
    ("unique added", |rng, s| identity(rng, s, "unique")),
    ("key added", |rng, s| identity(rng, s, "key")),
    ("identity constraint removed", |rng, s| remove(rng, s, &|x| is(x, "unique") || is(x, "key"))),
    // The schema as a whole.
    ("elements qualified or not", |rng, s| {
        one(rng, s, &|x| is(x, "schema"), &|_, x| toggle(x, "elementFormDefault"))
    }),
    ("attributes qualified or not", |rng, s| {
        one(rng, s, &|x| is(x, "schema"), &|_, x| toggle(x, "attributeFormDefault"))
    }),
    ("all blocked", |rng, s| {
        one(rng, s, &|x| is(x, "schema"), &|rng, x| {
            put(x, "blockDefault", ["#all", "extension", "restriction", "substitution"][rng.usize(..4)])
        })
    }),
    ("parts in another order", |rng, s| {
        one(rng, s, &|x| is(x, "schema"), &|rng, x| rng.shuffle(&mut x.children))
    }),
    ("words added", |rng, s| {
        one(rng, s, &|x| is(x, "element") && has(x, "name"), &|_, x| {
            x.children.insert(0, Xml::new("xs:annotation"))
        })
    }),
];
