//! Compares simple types by what values they allow.

use std::cmp::Ordering;

use charter_contract::Contract;
use charter_schema::{
    Bound, Builtin, Derivation, Facets, Simple, SimpleDerivation, SimpleVariety, TypeId, TypeKind,
    compare_values,
};

use crate::describe::types::{Described, Pair, Types};
use crate::difference::Aspect;
use crate::effect::Effect;
use crate::kind::Kind;
use crate::what::{Bounds, Digits, End, Length, OneOf, Unit, Values, What};

/// How deep lists and unions of each other are followed.
const DEEPEST: usize = 20;

impl Types<'_> {
    /// Compares the values of two simple types, or of the simple content of two complex ones.
    pub(crate) fn values(&self, pair: Pair, was: &Simple<'_>, is: &Simple<'_>, outcome: &mut Described) {
        self.values_within(pair, was, is, 0, outcome);
    }

    /// The types whose own definitions differ: those of a pair, or the ones that they derive from if that is where all of
    /// the difference comes from.
    fn where_values_differ(&self, pair: Pair) -> Pair {
        let mut at = pair;
        while at.from.is_none()
            && let (Some(old), Some(new)) = (value_base(self.old, at.old), value_base(self.new, at.new))
            && !self.told_by_place(old, new)
            && self.adds_the_same(at)
        {
            at = Pair { old, new, from: None };
        }
        at
    }

    /// Whether two versions of a type add the same to what they derive from.
    fn adds_the_same(&self, pair: Pair) -> bool {
        // What extends a value adds attributes, and nothing to the value.
        let extends = |contract: &Contract, id| contract.schemas.complex(id).is_some();
        let line = |contract, id| charter_notation::type_line(contract, id);
        match (extends(self.old, pair.old), extends(self.new, pair.new)) {
            (true, true) => true,
            (false, false) => line(self.old, pair.old) == line(self.new, pair.new),
            _ => false,
        }
    }

    fn values_within(
        &self,
        pair: Pair,
        was: &Simple<'_>,
        is: &Simple<'_>,
        depth: usize,
        outcome: &mut Described,
    ) {
        let place = std::cell::OnceCell::new();
        let mut add = |kind, what, effect| {
            let at = *place.get_or_init(|| self.where_values_differ(pair));
            outcome.differences.push(self.at_pair(at, (kind, what), Aspect::Value, effect));
        };
        let same_kind = match (&was.variety, &is.variety) {
            (SimpleVariety::Atomic, SimpleVariety::Atomic) => {
                if let Some((what, effect)) = base_change(was.builtin, is.builtin) {
                    add(Kind::TypeChanged, what, effect);
                }
                was.builtin.primitive() == is.builtin.primitive()
            }
            (SimpleVariety::List(_), SimpleVariety::List(_)) => true,
            (SimpleVariety::Union(a), SimpleVariety::Union(b)) => {
                if a.len() != b.len() {
                    let (what, effect) = match b.len() > a.len() {
                        true => (What::UnionMore {}, Effect::MORE),
                        false => (What::UnionFewer {}, Effect::LESS),
                    };
                    add(Kind::TypeChanged, what, effect);
                }
                true
            }
            _ => {
                add(Kind::TypeChanged, What::VarietyOther {}, Effect::OTHER);
                false
            }
        };
        if same_kind {
            enumeration(&was.facets, &is.facets, &mut add);
            patterns(&was.facets, &is.facets, &mut add);
            lengths(was, is, &mut add);
            ranges(was, is, &mut add);
            digits(was, is, &mut add);
        }
        match (&was.variety, &is.variety) {
            (SimpleVariety::List(a), SimpleVariety::List(b)) => {
                self.parts(self.pair(*a, *b, pair.from), depth, outcome)
            }
            (SimpleVariety::Union(a), SimpleVariety::Union(b)) => {
                for (a, b) in a.iter().zip(b) {
                    self.parts(self.pair(*a, *b, pair.from), depth, outcome);
                }
            }
            _ => {}
        }
    }

    /// Compares the items of lists, or members of unions, that are not the same component of the standard.
    fn parts(&self, pair: Pair, depth: usize, outcome: &mut Described) {
        if depth > DEEPEST {
            return;
        }
        if let (Some(was), Some(is)) = (self.old.schemas.simple(pair.old), self.new.schemas.simple(pair.new))
        {
            self.values_within(pair, &was, &is, depth + 1, outcome);
        }
    }
}

/// The type that the values of a type come from, if it has a name: what it restricts, or extends by attributes alone.
fn value_base(contract: &Contract, id: TypeId) -> Option<TypeId> {
    let schemas = &contract.schemas;
    let base = match &schemas.types[id].kind {
        TypeKind::Simple(simple) => match &simple.derivation {
            SimpleDerivation::Restriction(base) => base.target,
            _ => None,
        },
        TypeKind::Complex(complex) if complex.derivation == Derivation::Extension => complex.base.target,
        TypeKind::Complex(_) => None,
    }?;
    let named = schemas.types[base].name.is_some() && Builtin::from_id(base).is_none();
    (named && schemas.simple(base).is_some()).then_some(base)
}

/// What follows from another built-in type.
fn base_change(was: Builtin, is: Builtin) -> Option<(What, Effect)> {
    if was == is {
        return None;
    }
    let effect = match (is.is_within(was), was.is_within(is)) {
        (true, _) => Effect::LESS,
        (_, true) => Effect::MORE,
        _ if was.is_within(Builtin::Integer) && is.is_within(Builtin::Integer) => integers(was, is),
        _ => Effect::OTHER,
    };
    Some((What::BuiltinOther { was: OneOf(was), is: OneOf(is) }, effect))
}

/// What is gained and lost between two integer types of which neither derives from the other.
fn integers(was: Builtin, is: Builtin) -> Effect {
    let ((old_least, old_most), (new_least, new_most)) = (was.bounds(), is.bounds());
    // A bound that is not there is further out than any that is.
    let wider = |old: Option<&str>, new: Option<&str>, out: Ordering| match (old, new) {
        (None, _) => false,
        (Some(_), None) => true,
        (Some(old), Some(new)) => compare_values(Builtin::Integer, new, old) == Some(out),
    };
    Effect {
        more: wider(old_least, new_least, Ordering::Less) || wider(old_most, new_most, Ordering::Greater),
        less: wider(new_least, old_least, Ordering::Less) || wider(new_most, old_most, Ordering::Greater),
        ..Effect::NONE
    }
}

type Add<'a> = dyn FnMut(Kind, What, Effect) + 'a;

fn enumeration(was: &Facets<'_>, is: &Facets<'_>, add: &mut Add<'_>) {
    let owned = |values: &[&str]| Values(values.iter().map(|value| (*value).to_owned()).collect());
    match (&was.enumeration, &is.enumeration) {
        (Some(was), Some(is)) => {
            let (old, new): (charter_source::Set<&str>, charter_source::Set<&str>) =
                (was.iter().copied().collect(), is.iter().copied().collect());
            let gone: Vec<&str> = was.iter().copied().filter(|value| !new.contains(value)).collect();
            let come: Vec<&str> = is.iter().copied().filter(|value| !old.contains(value)).collect();
            if !gone.is_empty() {
                add(Kind::ValueRemoved, What::ValuesGone { values: owned(&gone) }, Effect::LESS);
            }
            if !come.is_empty() {
                add(Kind::ValueAdded, What::ValuesNew { values: owned(&come) }, Effect::MORE);
            }
        }
        (None, Some(is)) => add(Kind::ValueRemoved, What::ValuesOnly { values: owned(is) }, Effect::LESS),
        (Some(_), None) => add(Kind::ValueAdded, What::ValuesAny {}, Effect::MORE),
        (None, None) => {}
    }
}

fn patterns(was: &Facets<'_>, is: &Facets<'_>, add: &mut Add<'_>) {
    if was.patterns == is.patterns {
        return;
    }
    let (what, effect) = if was.patterns.is_empty() {
        (What::PatternNow {}, Effect::LESS)
    } else if is.patterns.is_empty() {
        (What::PatternNoMore {}, Effect::MORE)
    } else {
        (What::PatternOther {}, Effect::UNDECIDED)
    };
    add(Kind::PatternChanged, what, effect);
}

fn lengths(was: &Simple<'_>, is: &Simple<'_>, add: &mut Add<'_>) {
    let unit = match (&is.variety, is.builtin.primitive()) {
        (SimpleVariety::List(_), _) => Unit::Items,
        (_, Builtin::HexBinary | Builtin::Base64Binary) => Unit::Bytes,
        _ => Unit::Characters,
    };
    let least = |facets: &Facets<'_>| facets.length.or(facets.min_length).unwrap_or(0);
    let most = |facets: &Facets<'_>| facets.length.or(facets.max_length);
    let effect = |tighter: bool| if tighter { Effect::LESS } else { Effect::MORE };
    let (old, new) = (least(&was.facets), least(&is.facets));
    if old != new {
        let tighter = new > old;
        let length = Length { end: End::From, tighter, now: Some(new), unit };
        add(Kind::LengthChanged, What::LengthLeast { length }, effect(tighter));
    }
    let (old, new) = (most(&was.facets), most(&is.facets));
    if old != new {
        let tighter = new.unwrap_or(u64::MAX) < old.unwrap_or(u64::MAX);
        let length = Length { end: End::UpTo, tighter, now: new, unit };
        add(Kind::LengthChanged, What::LengthMost { length }, effect(tighter));
    }
}

fn ranges(was: &Simple<'_>, is: &Simple<'_>, add: &mut Add<'_>) {
    // Bounds that come with the built-in types have changed with these, which is said already.
    let same = was.builtin == is.builtin;
    let own = |pick: fn(&Simple<'_>) -> (Option<String>, Option<&'static str>)| {
        [was, is]
            .into_iter()
            .map(pick)
            .any(|(bound, inherent)| bound.is_some() && bound.as_deref() != inherent)
    };
    let least = |simple: &Simple<'_>| {
        (simple.facets.min.map(|bound| bound.value.to_owned()), simple.builtin.bounds().0)
    };
    let most = |simple: &Simple<'_>| {
        (simple.facets.max.map(|bound| bound.value.to_owned()), simple.builtin.bounds().1)
    };
    if same || own(least) {
        bound_change(is.builtin, was.facets.min, is.facets.min, Ordering::Greater, End::From, add);
    }
    if same || own(most) {
        bound_change(is.builtin, was.facets.max, is.facets.max, Ordering::Less, End::UpTo, add);
    }
}

/// How a bound moved; `inward` is the direction that makes the range smaller.
fn bound_change(
    builtin: Builtin,
    was: Option<Bound<'_>>,
    is: Option<Bound<'_>>,
    inward: Ordering,
    end: End,
    add: &mut Add<'_>,
) {
    let to = |is: Bound<'_>, was: Option<Bound<'_>>| What::RangeOther {
        bounds: Bounds {
            end,
            now: is.value.to_owned(),
            inclusive: is.inclusive,
            was: was.map(|was| was.value.to_owned()),
        },
    };
    let (what, effect) = match (was, is) {
        (None, None) => return,
        (None, Some(is)) => (to(is, None), Effect::LESS),
        (Some(was), None) => (What::RangeFree { end, was: was.value.to_owned() }, Effect::MORE),
        (Some(was), Some(is)) => {
            let effect = match compare_values(builtin, is.value, was.value) {
                Some(Ordering::Equal) if was.inclusive == is.inclusive => return,
                Some(Ordering::Equal) if was.inclusive => Effect::LESS,
                Some(Ordering::Equal) => Effect::MORE,
                Some(direction) if direction == inward => Effect::LESS,
                Some(_) => Effect::MORE,
                None if was == is => return,
                None => Effect::UNDECIDED,
            };
            (to(is, Some(was)), effect)
        }
    };
    let kind = match effect {
        Effect { less: true, .. } => Kind::RangeNarrowed,
        Effect { more: true, .. } => Kind::RangeWidened,
        _ => Kind::RangeChanged,
    };
    add(kind, what, effect);
}

fn digits(was: &Simple<'_>, is: &Simple<'_>, add: &mut Add<'_>) {
    let integer = |simple: &Simple<'_>| simple.builtin.is_within(Builtin::Integer);
    let told = integer(was) != integer(is);
    let (was, is) = (&was.facets, &is.facets);
    let kinds = [
        (was.total_digits, is.total_digits, Digits::All),
        (was.fraction_digits.filter(|_| !told), is.fraction_digits.filter(|_| !told), Digits::Fraction),
    ];
    for (was, is, of) in kinds {
        let (was, is) = (was.unwrap_or(u64::MAX), is.unwrap_or(u64::MAX));
        match was.cmp(&is) {
            Ordering::Equal => {}
            Ordering::Greater => add(Kind::DigitsChanged, What::DigitsFewer { count: is, of }, Effect::LESS),
            Ordering::Less => add(Kind::DigitsChanged, What::DigitsMore { of }, Effect::MORE),
        }
    }
}
