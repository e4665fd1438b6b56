//! Judges texts by simple types (Part 1, 3.14.4, cvc-simple-type; Part 2, 4.1.4, cvc-datatype-valid).

use super::datatype::{Accepted, Context, Datatype, Variety, is_id};
use super::patterns::Judgement;
use super::violation::Violation;
use crate::value::Decimal;
use crate::{Builtin, FacetKind, Value, WhiteSpace, is_lexical};
use std::sync::Arc;

impl Datatype {
    /// Judges a text as it stands in a document (Part 1, 3.14.4, cvc-simple-type; Part 2, 4.1.4,
    /// cvc-datatype-valid). The value is worked out if the type needs it, or if it is `wanted`.
    ///
    /// # Errors
    /// What is wrong with it, the first thing found.
    pub fn accept(&self, text: &str, context: &dyn Context, wanted: bool) -> Result<Accepted, Violation> {
        let text = self.white_space.normalize(text);
        let needed = wanted || self.enumeration.as_ref().is_some_and(|it| !it.is_of_strings());
        let accepted = match &self.variety {
            Variety::Atomic(builtin) => self.atomic(*builtin, &text, context, needed)?,
            Variety::List(item) => self.list(item, &text, context, needed)?,
            Variety::Union(members) => {
                // A member may want the value for itself; this type's own facets may want it as well.
                self.member(members, &text, context, needed)?
            }
        };
        let by_patterns = match self.variety {
            // A union treats no white space itself, but its patterns look at tidy text.
            Variety::Union(_) => self.patterns(&WhiteSpace::Collapse.normalize(&text)),
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
}
