//! What follows from the facets alone. It is most of what there is to decide, and costs nothing.

use std::cmp::Ordering;
use std::sync::Arc;

use super::compile::Gap;
use crate::engine::{Datatype, Limit, PatternStep, Variety};
use crate::{Builtin, WhiteSpace};

/// Whether everything that `b` asks is asked by `a`, facet by facet.
pub(super) fn implied(a: &Arc<Datatype>, b: &Arc<Datatype>) -> bool {
    if Arc::ptr_eq(a, b) {
        return true;
    }
    let form = match (&a.variety, &b.variety) {
        (Variety::Atomic(a), Variety::Atomic(b)) => a == b || (a.is_within(*b) && *b != Builtin::AnyType),
        (Variety::List(a), Variety::List(b)) => implied(a, b),
        (Variety::Union(a), Variety::Union(b)) => {
            // In another order, the same members accept the same texts.
            a.iter().all(|member| b.iter().any(|other| implied(member, other)))
        }
        _ => false,
    };
    let space = a.white_space == b.white_space || open(b);
    form && space
        && patterns_within(a, b)
        && lengths_within(a, b)
        && range_within(a, b)
        && digits_within(a, b)
        && (b.enumeration.is_none() || listed_within(a, b))
}

/// Whether surplus white space can make no difference to a type.
fn open(ty: &Datatype) -> bool {
    ty.enumeration.is_none()
        && ty.patterns.is_none()
        && ty.length.is_none()
        && ty.min_length.is_none()
        && ty.max_length.is_none()
}

/// Whether `a` lists its values, all of which `b` accepts, however they are written.
pub(super) fn finite(a: &Datatype, b: &Datatype, accepts: &dyn Fn(&str) -> bool) -> bool {
    let (Variety::Atomic(x), Some(listed)) = (&a.variety, &a.enumeration) else { return false };
    let space = a.white_space == b.white_space || a.white_space == WhiteSpace::Preserve || open(b);
    // Strings and URIs are written in one way; for others, the second must know all ways that the first does.
    let one_way = matches!(x.primitive(), Builtin::String | Builtin::AnyUri);
    let as_before = matches!(&b.variety, Variety::Atomic(y) if x.is_within(*y)) && b.patterns.is_none();
    space && (one_way || as_before) && listed.texts.iter().all(accepts)
}

/// Whether a union on the left is within the right member by member, or the left within one member of the right.
pub(super) fn by_members(
    a: &Arc<Datatype>,
    b: &Arc<Datatype>,
    within: &dyn Fn(&Arc<Datatype>, &Arc<Datatype>) -> bool,
) -> bool {
    let plain = |ty: &Datatype| ty.patterns.is_none() && ty.enumeration.is_none();
    if let Variety::Union(members) = &a.variety
        && members.iter().all(|member| within(member, b))
    {
        return true;
    }
    match (&a.variety, &b.variety) {
        (_, Variety::Union(members)) if plain(b) => members.iter().any(|member| within(a, member)),
        // A value without white space is a list of one.
        (Variety::Atomic(builtin), Variety::List(item)) if plain(b) && is_one_word(*builtin) => {
            let (least, most) = lengths(b);
            least <= 1 && most >= 1 && within(a, item)
        }
        (Variety::List(item), Variety::List(other)) if plain(b) => {
            lengths_within(a, b) && within(item, other)
        }
        (Variety::Atomic(x), Variety::Atomic(Builtin::AnyUri)) => open(b) && is_always_uri(*x),
        _ => false,
    }
}

/// Whether no value of a built-in type has white space in it, nor is nothing at all.
fn is_one_word(builtin: Builtin) -> bool {
    match builtin.primitive() {
        Builtin::String => {
            builtin.is_within(Builtin::NmToken)
                || builtin.is_within(Builtin::Name)
                || builtin.is_within(Builtin::Language)
        }
        Builtin::AnyUri | Builtin::Base64Binary | Builtin::HexBinary | Builtin::AnySimpleType => false,
        _ => true,
    }
}

/// Whether no text of a built-in type has anything in it that a URI has no room for: no colon, bracket or escape.
fn is_always_uri(builtin: Builtin) -> bool {
    use Builtin::*;
    match builtin.primitive() {
        String => builtin.is_within(NcName) || builtin.is_within(Language),
        Boolean | Decimal | Float | Double | HexBinary | Base64Binary | Duration => true,
        _ => false,
    }
}

/// Whether what the machine of `b` leaves out is asked by `a` as well.
pub(super) fn covers(a: &Datatype, b: &Datatype, gap: Gap) -> bool {
    let (Variety::Atomic(x), Variety::Atomic(y)) = (&a.variety, &b.variety) else { return false };
    let same = x.primitive() == y.primitive();
    same && match gap {
        Gap::Variety => true,
        Gap::Range => range_within(a, b),
        Gap::Length => lengths_within(a, b),
        Gap::Listed => listed_within(a, b),
        Gap::Patterns => patterns_within(a, b),
    }
}

fn lengths(ty: &Datatype) -> (u64, u64) {
    (ty.length.or(ty.min_length).unwrap_or(0), ty.length.or(ty.max_length).unwrap_or(u64::MAX))
}

fn lengths_within(a: &Datatype, b: &Datatype) -> bool {
    let (a, b) = (lengths(a), lengths(b));
    a.0 >= b.0 && a.1 <= b.1
}

fn range_within(a: &Datatype, b: &Datatype) -> bool {
    let inside = |a: &Option<Limit>, b: &Option<Limit>, inward: Ordering| match (a, b) {
        (_, None) => true,
        (None, Some(_)) => false,
        (Some(a), Some(b)) => match a.value.partial_cmp(&b.value) {
            Some(Ordering::Equal) => b.inclusive || !a.inclusive,
            order => order == Some(inward),
        },
    };
    inside(&a.min, &b.min, Ordering::Greater) && inside(&a.max, &b.max, Ordering::Less)
}

fn digits_within(a: &Datatype, b: &Datatype) -> bool {
    let most = |a: Option<u64>, b: Option<u64>| b.is_none_or(|b| a.is_some_and(|a| a <= b));
    most(a.total_digits, b.total_digits) && most(a.fraction_digits, b.fraction_digits)
}

fn patterns_within(a: &Datatype, b: &Datatype) -> bool {
    let mut asked = b.patterns.as_ref();
    while let Some(step) = asked {
        if !asks(a.patterns.as_ref(), step) {
            return false;
        }
        asked = step.before.as_ref();
    }
    true
}

/// Whether one of the steps allows no more patterns than this one.
fn asks(mut own: Option<&Arc<PatternStep>>, step: &PatternStep) -> bool {
    while let Some(here) = own {
        if here.texts.iter().all(|text| step.texts.contains(text)) {
            return true;
        }
        own = here.before.as_ref();
    }
    false
}

/// Whether all values that `a` lists are listed by `b`. Of names, the texts do not tell.
fn listed_within(a: &Datatype, b: &Datatype) -> bool {
    let named = |ty: &Datatype| {
        matches!(ty.builtin().map(Builtin::primitive), Some(Builtin::QName | Builtin::Notation))
    };
    let (Some(listed), Some(known)) = (&a.enumeration, &b.enumeration) else { return false };
    if named(a) || named(b) {
        let known = known.names();
        return listed.names().iter().all(|name| known.contains(name));
    }
    let known: charter_source::Set<&str> = known.texts.iter().collect();
    listed.texts.iter().all(|text| known.contains(text))
}
