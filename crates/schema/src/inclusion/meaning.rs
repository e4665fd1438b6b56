//! Whether the same text means the same to two types that both accept it (Part 2, 2.2: value spaces of different
//! primitive types have nothing in common).

use crate::engine::{Datatype, Variety};
use crate::{Builtin, WhiteSpace};

/// What becomes of a value that both sides accept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Meaning {
    /// It is another value.
    Other,
    /// It is read as a value of another kind.
    Kind,
    /// White space that was part of it is dropped, or the reverse.
    Space,
}

/// What changes in meaning from one type to another; `None` if nothing does.
pub(super) fn change(a: &Datatype, b: &Datatype) -> Option<Meaning> {
    let (Variety::Atomic(x), Variety::Atomic(y)) = (&a.variety, &b.variety) else {
        return match (&a.variety, &b.variety) {
            (Variety::List(x), Variety::List(y)) => change(x, y),
            (Variety::Union(x), Variety::Union(y)) if x.len() == y.len() => {
                x.iter().zip(y.iter()).find_map(|(x, y)| change(x, y))
            }
            (Variety::Union(_), Variety::Union(_)) => None,
            (_, Variety::Union(members)) => {
                members.iter().map(|member| change(a, member)).min_by_key(Option::is_some)?
            }
            (Variety::Union(members), _) => members.iter().find_map(|member| change(member, b)),
            _ => Some(Meaning::Kind),
        };
    };
    let (from, to) = (x.primitive(), y.primitive());
    if from == to {
        let trimmed = (a.white_space == WhiteSpace::Collapse) != (b.white_space == WhiteSpace::Collapse);
        return trimmed.then_some(Meaning::Space);
    }
    let number = |it| matches!(it, Builtin::Decimal | Builtin::Float | Builtin::Double);
    let octets = |it| matches!(it, Builtin::HexBinary | Builtin::Base64Binary);
    let other = (octets(from) && octets(to))
        || (from == Builtin::Boolean && number(to))
        || (number(from) && to == Builtin::Boolean)
        || (number(from) && octets(to))
        || (octets(from) && number(to));
    Some(if other { Meaning::Other } else { Meaning::Kind })
}
