//! A simple type made ready to judge values: its variety, its facets as values, its patterns as automata.

use std::sync::Arc;

use charter_source::QName;

use super::enumeration::Enumeration;
use super::patterns::{Judgement, PatternStep};
use super::violation::{Violation, shown};
use crate::value::Decimal;
use crate::{Builtin, FacetKind, TypeId, Value, WhiteSpace, is_lexical};

/// A simple type, or the simple content of a complex one, with its whole derivation in it.
#[derive(Debug, Clone)]
pub struct Datatype {
    /// The type that this judges for.
    pub id: TypeId,
    /// Atomic, list or union.
    pub form: Form,
    /// How white space is treated first.
    pub white_space: WhiteSpace,
    /// Exactly, at least, at most so long.
    pub length: Option<u64>,
    /// At least so long.
    pub min_length: Option<u64>,
    /// At most so long.
    pub max_length: Option<u64>,
    /// The patterns of every step.
    pub patterns: Option<Arc<PatternStep>>,
    /// The only values.
    pub enumeration: Option<Arc<Enumeration>>,
    /// The least value.
    pub min: Option<Limit>,
    /// The greatest value.
    pub max: Option<Limit>,
    /// Digits at most.
    pub total_digits: Option<u64>,
    /// Digits after the point at most.
    pub fraction_digits: Option<u64>,
    /// The facets that a derived type may not change, as bits.
    pub(crate) fixed: u16,
    /// Whether the range is narrower than that of the built-in type.
    pub(crate) narrowed: bool,
}

/// The variety of a datatype.
#[derive(Debug, Clone)]
pub enum Form {
    /// A value of the nearest built-in type.
    Atomic(Builtin),
    /// Values of one type, with spaces between them.
    List(Arc<Datatype>),
    /// A value of one of the types, the first that fits.
    Union(Arc<[Arc<Datatype>]>),
}

/// An end of a range.
#[derive(Debug, Clone, PartialEq)]
pub struct Limit {
    /// The value.
    pub value: Value,
    /// The value as it is written.
    pub text: Box<str>,
    /// Whether it is allowed itself.
    pub inclusive: bool,
}

/// What the text around a value says about names in it.
pub trait Context {
    /// The expanded name of a QName; `None` if its prefix is not declared.
    fn name(&self, text: &str) -> Option<QName>;
    /// Whether a notation of that name is declared.
    fn has_notation(&self, name: &QName) -> bool;
    /// Whether an unparsed entity of that name is declared.
    fn has_entity(&self, name: &str) -> bool;
}

/// A value that was accepted.
#[derive(Debug, Clone)]
pub struct Accepted {
    /// The value, if the type or the caller needed it.
    pub value: Option<Value>,
    /// The ID and IDREF values in it.
    pub ids: Vec<(Builtin, String)>,
}

impl Datatype {
    /// The nearest built-in type of an atomic one.
    pub fn builtin(&self) -> Option<Builtin> {
        match self.form {
            Form::Atomic(builtin) => Some(builtin),
            _ => None,
        }
    }

    /// Whether a facet may not be changed by a derived type.
    pub(crate) fn fixed_at(&self, kind: FacetKind) -> bool {
        self.fixed >> kind as u16 & 1 == 1
    }

    /// Whether values of this type may identify or refer to elements.
    pub fn has_ids(&self) -> bool {
        match &self.form {
            Form::Atomic(builtin) => is_id(*builtin),
            Form::List(item) => item.has_ids(),
            Form::Union(members) => members.iter().any(|member| member.has_ids()),
        }
    }

    /// Judges a text as it stands in a document (Part 1, 3.14.4, cvc-simple-type; Part 2, 4.1.4,
    /// cvc-datatype-valid). The value is worked out if the type needs it, or if it is `wanted`.
    ///
    /// # Errors
    /// What is wrong with it, the first thing found.
    pub fn accept(&self, text: &str, context: &dyn Context, wanted: bool) -> Result<Accepted, Violation> {
        let text = self.white_space.normalize(text);
        let needed = wanted || self.enumeration.as_ref().is_some_and(|it| !it.is_of_strings());
        let accepted = match &self.form {
            Form::Atomic(builtin) => self.atomic(*builtin, &text, context, needed)?,
            Form::List(item) => self.list(item, &text, context, needed)?,
            Form::Union(members) => {
                // A member may want the value for itself; this type's own facets may want it as well.
                self.member(members, &text, context, needed)?
            }
        };
        let by_patterns = match self.form {
            // A union treats no white space itself, but its patterns look at tidy text.
            Form::Union(_) => self.patterns(&WhiteSpace::Collapse.normalize(&text)),
            _ => self.patterns(&text),
        };
        // What is listed can be told all the same.
        let open = match by_patterns {
            Err(violation) if !violation.is_open() => return Err(violation),
            open => open,
        };
        if let Some(enumeration) = &self.enumeration
            && !enumeration.lists(&text, accepted.value.as_ref())
        {
            return Err(Violation::not_listed(&text, &enumeration.texts));
        }
        open.map(|()| accepted)
    }

    /// Whether a text is refused for certain.
    pub fn refuses(&self, text: &str, context: &dyn Context) -> bool {
        self.accept(text, context, false).is_err_and(|violation| !violation.is_open())
    }

    /// The text as the first member of a union takes it.
    fn member(
        &self,
        members: &[Arc<Datatype>],
        text: &str,
        context: &dyn Context,
        needed: bool,
    ) -> Result<Accepted, Violation> {
        let mut open = None;
        for member in members {
            match member.accept(text, context, needed) {
                Ok(accepted) => return Ok(accepted),
                Err(violation) if violation.is_open() => open = Some(violation),
                Err(_) => {}
            }
        }
        Err(open.unwrap_or_else(|| Violation::no_member(text, members)))
    }

    fn atomic(
        &self,
        builtin: Builtin,
        text: &str,
        context: &dyn Context,
        needed: bool,
    ) -> Result<Accepted, Violation> {
        if !is_lexical(builtin, text) {
            return Err(Violation::not_a(text, builtin));
        }
        match builtin.primitive() {
            Builtin::Notation if !context.name(text).is_some_and(|name| context.has_notation(&name)) => {
                return Err(Violation::no_notation(text));
            }
            Builtin::QName if context.name(text).is_none() => return Err(Violation::no_prefix(text)),
            _ if builtin.is_within(Builtin::Entity) && !context.has_entity(text) => {
                return Err(Violation::no_entity(text));
            }
            _ => {}
        }
        let integer = builtin.is_within(Builtin::Integer);
        if self.total_digits.is_some() || (self.fraction_digits.is_some() && !integer) {
            self.digits(text)?;
        }
        let mut value = None;
        if needed || self.narrowed {
            value = Value::parse(builtin, text, |name| context.name(name));
        }
        if let Some(value) = value.as_ref().filter(|_| self.narrowed) {
            self.range(text, value)?;
        }
        self.sized(text, builtin)?;
        let ids = if is_id(builtin) { vec![(builtin, text.to_owned())] } else { Vec::new() };
        Ok(Accepted { value, ids })
    }

    fn list(
        &self,
        item: &Arc<Datatype>,
        text: &str,
        context: &dyn Context,
        needed: bool,
    ) -> Result<Accepted, Violation> {
        let mut values = Vec::new();
        let mut ids = Vec::new();
        let mut count = 0;
        for part in text.split(' ').filter(|part| !part.is_empty()) {
            let accepted = item.accept(part, context, needed)?;
            values.extend(accepted.value);
            ids.extend(accepted.ids);
            count += 1;
        }
        self.length_is(count, "item", text)?;
        Ok(Accepted { value: needed.then_some(Value::List(values)), ids })
    }

    fn sized(&self, text: &str, builtin: Builtin) -> Result<(), Violation> {
        if self.length.is_none() && self.min_length.is_none() && self.max_length.is_none() {
            return Ok(());
        }
        match builtin.primitive() {
            Builtin::HexBinary => self.length_is(text.len() as u64 / 2, "octet", text),
            Builtin::Base64Binary => {
                let octets = Value::parse(builtin, text, |_| None).and_then(|value| value.length());
                self.length_is(octets.unwrap_or(0), "octet", text)
            }
            // The length of a name is that of no string in particular (Part 2, 4.3.1.3).
            Builtin::QName | Builtin::Notation => Ok(()),
            _ => self.length_is(text.chars().count() as u64, "character", text),
        }
    }

    fn length_is(&self, found: u64, unit: &str, text: &str) -> Result<(), Violation> {
        if self.length.is_some_and(|length| found != length) {
            return Err(Violation::length(FacetKind::Length, text, found, self.length, unit));
        }
        if self.min_length.is_some_and(|least| found < least) {
            return Err(Violation::length(FacetKind::MinLength, text, found, self.min_length, unit));
        }
        if self.max_length.is_some_and(|most| found > most) {
            return Err(Violation::length(FacetKind::MaxLength, text, found, self.max_length, unit));
        }
        Ok(())
    }

    fn digits(&self, text: &str) -> Result<(), Violation> {
        let Some(number) = Decimal::parse(text) else { return Ok(()) };
        if let Some(most) = self.total_digits.filter(|most| number.total_digits() > *most) {
            return Err(Violation::digits(FacetKind::TotalDigits, text, number.total_digits(), most));
        }
        if let Some(most) = self.fraction_digits.filter(|most| number.fraction_digits() > *most) {
            return Err(Violation::digits(FacetKind::FractionDigits, text, number.fraction_digits(), most));
        }
        Ok(())
    }

    /// Whether the value is within the range; one that cannot be compared is not (Part 2, 4.3.7.3).
    fn range(&self, text: &str, value: &Value) -> Result<(), Violation> {
        use std::cmp::Ordering::{Equal, Greater, Less};
        if let Some(limit) = &self.min {
            let order = value.partial_cmp(&limit.value);
            if !(order == Some(Greater) || (limit.inclusive && order == Some(Equal))) {
                return Err(Violation::range(text, limit, true));
            }
        }
        if let Some(limit) = &self.max {
            let order = value.partial_cmp(&limit.value);
            if !(order == Some(Less) || (limit.inclusive && order == Some(Equal))) {
                return Err(Violation::range(text, limit, false));
            }
        }
        Ok(())
    }

    fn patterns(&self, text: &str) -> Result<(), Violation> {
        let mut step = self.patterns.as_ref();
        let mut open = false;
        while let Some(here) = step {
            match here.judge(text) {
                Judgement::Matches => {}
                Judgement::Differs => return Err(Violation::no_match(text, &here.texts)),
                Judgement::Open => open = true,
            }
            step = here.before.as_ref();
        }
        if open { Err(Violation::open(text)) } else { Ok(()) }
    }

    /// The type in a few words: `a decimal from 0 to 30`.
    pub fn describe(&self) -> String {
        let mut words = match &self.form {
            Form::Atomic(builtin) => article(builtin.name()),
            Form::List(item) => format!("a list, each item {}", item.describe()),
            Form::Union(members) => {
                let members: Vec<String> = members.iter().take(4).map(|member| member.describe()).collect();
                members.join(" or ")
            }
        };
        if let Some(enumeration) = &self.enumeration {
            return format!("one of {}", shown(enumeration.texts.iter(), enumeration.texts.len()));
        }
        let end = |limit: &Limit, inclusive: &str, exclusive: &str| {
            format!(" {} {}", if limit.inclusive { inclusive } else { exclusive }, limit.text)
        };
        if self.narrowed {
            words.extend(self.min.as_ref().map(|limit| end(limit, "from", "above")));
            words.extend(self.max.as_ref().map(|limit| end(limit, "to", "below")));
        }
        if let Some(step) = &self.patterns {
            words.push_str(&format!(
                " like {}",
                shown(step.texts.iter().map(|text| &**text), step.texts.len())
            ));
        }
        words
    }
}

/// A noun with its article.
pub(crate) fn article(name: &str) -> String {
    let vowel = name.starts_with(['a', 'e', 'i', 'o', 'A', 'E', 'I', 'O']);
    format!("{} {name}", if vowel { "an" } else { "a" })
}

fn is_id(builtin: Builtin) -> bool {
    builtin.is_within(Builtin::Id) || builtin.is_within(Builtin::IdRef)
}
