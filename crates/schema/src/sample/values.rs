//! A value of a simple type, within its facets: one that suits the name of what holds it, or a random one.

use std::sync::Arc;

use charter_source::QName;
use fastrand::Rng;

use super::{Text, draw, words};
use crate::Builtin;
use crate::engine::{Context, Datatype, Engine, ExampleOf, Variety};

/// How deep lists and unions of each other are followed.
const DEEPEST: usize = 200;

/// What a value is for.
#[derive(Clone, Copy)]
pub(super) struct Hint<'h> {
    /// The name of the element or attribute.
    pub name: &'h str,
    /// The name of what holds it.
    pub holder: &'h str,
    /// Counts the values given so far: identifiers must differ.
    pub turn: usize,
    /// Whether this is part of the second of two.
    pub second: bool,
    /// Whether this is an item of a list, which holds no white space.
    pub item: bool,
    /// Whether the value must differ from others of the same name.
    pub distinct: bool,
}

/// What a sample says about names: only those without a prefix mean anything in it.
struct Plain<'e>(&'e Engine<'e>);

impl Context for Plain<'_> {
    fn name(&self, text: &str) -> Option<QName> {
        (!text.contains(':')).then(|| QName::new("", text))
    }

    fn has_notation(&self, name: &QName) -> bool {
        self.0.has_notation(name)
    }

    fn has_entity(&self, _: &str) -> bool {
        false
    }
}

/// Some values of a type: those that a sample would have, and a few random ones.
pub(crate) fn typical_values(engine: &Engine<'_>, ty: &Arc<Datatype>) -> Vec<String> {
    let hint = |second| Hint { name: "value", holder: "", turn: 0, second, item: false, distinct: false };
    let plain = |text: Option<Text>| match text? {
        Text::Plain(text) => Some(text),
        Text::Name(name) => Some(name.local.to_string()),
        Text::Names(_) => None,
    };
    let mut found = Vec::new();
    for second in [false, true] {
        found.extend(plain(Values { engine, rng: None }.value(ty, hint(second))));
    }
    for seed in 1..=6 {
        let rng = Some(Rng::with_seed(seed));
        found.extend(plain(Values { engine, rng }.value(ty, hint(false))));
    }
    found
}

/// Makes values of simple types.
pub(super) struct Values<'e> {
    pub engine: &'e Engine<'e>,
    /// Where random values come from; none if values are to be typical.
    pub rng: Option<Rng>,
}

impl Values<'_> {
    /// A value of the type; `None` if the type seems to have none.
    pub fn value(&mut self, ty: &Arc<Datatype>, hint: Hint<'_>) -> Option<Text> {
        if matches!(ty.builtin().map(Builtin::primitive), Some(Builtin::QName | Builtin::Notation))
            && let Some(enumeration) = &ty.enumeration
        {
            // Names are written with a prefix that is chosen later.
            let names = enumeration.names();
            return names.first().map(|name| Text::Name((*name).clone()));
        }
        let text = self.within(ty, hint, 0)?;
        // A name without a namespace may need that no default namespace is declared around it.
        let is_name = |ty: &Datatype| matches!(ty.builtin().map(Builtin::primitive), Some(Builtin::QName));
        Some(match &ty.variety {
            _ if is_name(ty) => Text::Name(QName::new("", text.trim())),
            Variety::List(item) if is_name(item) => {
                Text::Names(text.split_ascii_whitespace().map(|word| QName::new("", word)).collect())
            }
            _ => Text::Plain(text),
        })
    }

    fn fits(&self, ty: &Datatype, value: &str) -> bool {
        // What cannot be judged is as good as any.
        match ty.accept(value, &Plain(self.engine), false) {
            Ok(_) => true,
            Err(violation) => violation.is_open(),
        }
    }

    fn within(&mut self, ty: &Arc<Datatype>, hint: Hint<'_>, depth: usize) -> Option<String> {
        if depth > DEEPEST {
            return None;
        }
        if let Some(enumeration) = &ty.enumeration {
            let sound = |value: &&str| self.fits(ty, value) && single(hint, value);
            let mut sound: Vec<&str> = enumeration.texts.iter().filter(sound).collect();
            if let Some(rng) = &mut self.rng
                && !sound.is_empty()
            {
                return Some(sound.swap_remove(rng.usize(..sound.len())).to_string());
            }
            let turn = if hint.distinct { hint.turn } else { usize::from(hint.second) };
            let chosen = sound.get(turn % sound.len().max(1)).or(sound.first());
            return chosen.map(|value| value.to_string());
        }
        match &ty.variety {
            Variety::Atomic(builtin) => self.atomic(ty, *builtin, hint),
            Variety::List(item) => self.list(ty, item, hint, depth),
            Variety::Union(members) => {
                let start = self.rng.as_mut().map_or(0, |rng| rng.usize(..members.len().max(1)));
                let members = members.iter().cycle().skip(start).take(members.len());
                let members: Vec<_> = members.cloned().collect();
                members.iter().find_map(|member| {
                    self.within(member, hint, depth + 1).filter(|value| self.fits(ty, value))
                })
            }
        }
    }

    fn list(&mut self, ty: &Datatype, item: &Arc<Datatype>, hint: Hint<'_>, depth: usize) -> Option<String> {
        let least = ty.length.or(ty.min_length).unwrap_or(0);
        let most = ty.length.or(ty.max_length).unwrap_or(u64::MAX).max(least);
        let wish = self.rng.as_mut().map_or(2, |rng| rng.u64(..4));
        let count = wish.clamp(least, most).min(1000);
        let hint = Hint { item: true, ..hint };
        let Some(first) = self.within(item, hint, depth + 1) else {
            // A list need not have items, should none fit.
            return (least == 0 && self.fits(ty, "")).then(String::new);
        };
        let second = self
            .within(item, Hint { second: true, ..hint }, depth + 1)
            .filter(|second| *second != first)
            .or_else(|| self.another(item, &first))
            .unwrap_or_else(|| first.clone());
        let items: Vec<&str> =
            (0..count).map(|n| if n % 2 == 0 { first.as_str() } else { second.as_str() }).collect();
        let text = items.join(" ");
        self.fits(ty, &text).then_some(text)
    }

    /// Another item of a list of numbers: a little more than the first.
    fn another(&self, item: &Datatype, first: &str) -> Option<String> {
        let next = first.parse::<i64>().ok()?.checked_add(4)?.to_string();
        self.fits(item, &next).then_some(next)
    }

    fn atomic(&mut self, ty: &Datatype, builtin: Builtin, hint: Hint<'_>) -> Option<String> {
        if self.rng.is_some()
            && !builtin.is_within(Builtin::Id)
            && let Some(found) = self.random(ty, builtin, hint)
        {
            return Some(found);
        }
        let sound = |values: &Self, candidate: &str| values.fits(ty, candidate) && single(hint, candidate);
        let mut suited = words::candidates(&self.engine.schemas().vocabulary, hint.name, hint.holder);
        if builtin == Builtin::AnyUri {
            // Nearly any text is one by the letter, but nobody would write it.
            let written = |word: &&str| word.starts_with("urn:") || word.contains("://");
            suited.iter_mut().for_each(|group| group.retain(written));
        }
        if hint.distinct
            && let Some(found) = distinct(builtin, hint).into_iter().find(|candidate| sound(self, candidate))
        {
            return Some(found);
        }
        let fitting = suited.iter().find_map(|group| {
            let mut fitting = group.iter().filter(|candidate| sound(self, candidate));
            let first = fitting.next()?;
            // The second of two is another, if there is one.
            Some(if hint.second { fitting.next().unwrap_or(first) } else { first })
        });
        if let Some(found) = fitting {
            return Some((*found).to_owned());
        }
        if let Some(step) = &ty.patterns {
            let matching = |text: &str| draw::readable(text, hint.second).find(|found| sound(self, found));
            let of = ExampleOf { ty: ty.id, second: hint.second, item: hint.item };
            let made = || step.texts.iter().find_map(|text| matching(text));
            if let Some(found) = self.engine.automata.example(of, step, made) {
                return Some(found);
            }
        }
        if matches!(builtin.primitive(), Builtin::Decimal | Builtin::Float | Builtin::Double) {
            let found = numbers(ty, builtin).into_iter().find(|candidate| sound(self, candidate));
            return found.or_else(|| self.searched(ty, hint));
        }
        if builtin.is_within(Builtin::Id) {
            return Some(format!("{}-{}", identifier(hint.name), hint.turn + 1)).filter(|id| sound(self, id));
        }
        let mut all: Vec<String> = suited.concat().into_iter().map(str::to_owned).collect();
        all.extend(words::named(hint.name, hint.holder, hint.second));
        if hint.second && builtin.is_within(Builtin::DateTime) {
            all.push("2026-03-14T18:45:00Z".to_owned());
        }
        all.extend(typical(builtin, hint.name));
        all.extend([&ty.min, &ty.max].into_iter().flatten().map(|limit| limit.text.to_string()));
        all.extend([&ty.min, &ty.max].into_iter().flatten().flat_map(|limit| beside(builtin, &limit.text)));
        if let Some(found) = all.iter().find(|candidate| sound(self, candidate)) {
            return Some(found.clone());
        }
        let long = all.iter().filter(|candidate| single(hint, candidate));
        let mut long = long.filter_map(|candidate| stretched(candidate, ty, builtin));
        long.find(|candidate| sound(self, candidate)).or_else(|| self.searched(ty, hint))
    }

    /// Any value at all that the patterns and the length leave.
    fn searched(&self, ty: &Datatype, hint: Hint<'_>) -> Option<String> {
        let mut steps: Vec<Vec<&str>> = Vec::new();
        let mut step = ty.patterns.as_ref();
        while let Some(here) = step {
            if !here.is_usable() {
                return None;
            }
            steps.push(here.texts.iter().map(|text| &**text).collect());
            step = here.before.as_ref();
        }
        if steps.is_empty() {
            return None;
        }
        if hint.item {
            steps.push(vec![r"\S+"]);
        }
        let counted = matches!(ty.builtin()?.primitive(), Builtin::String | Builtin::AnyUri);
        let (least, most) = match counted {
            true => {
                (ty.length.or(ty.min_length).unwrap_or(0), ty.length.or(ty.max_length).unwrap_or(u64::MAX))
            }
            false => (0, u64::MAX),
        };
        draw::search(&steps, least, most).filter(|found| self.fits(ty, found))
    }

    /// A random value of the type, if one of some attempts fits.
    fn random(&mut self, ty: &Datatype, builtin: Builtin, hint: Hint<'_>) -> Option<String> {
        for _ in 0..12 {
            let rng = self.rng.as_mut()?;
            let candidate = match &ty.patterns {
                Some(step) => draw::random(&step.texts[rng.usize(..step.texts.len())], rng)?,
                None => thrown(ty, builtin, rng)?,
            };
            if single(hint, &candidate) && is_xml(&candidate) && self.fits(ty, &candidate) {
                return Some(candidate);
            }
        }
        None
    }
}

/// Whether every character may stand in XML, and is read as it is written.
fn is_xml(text: &str) -> bool {
    text.chars()
        .all(|c| matches!(c, '\t' | '\n' | ' '..='\u{D7FF}' | '\u{E000}'..='\u{FFFD}' | '\u{10000}'..))
}

/// Whether a value may stand where it is meant to: in a list, white space would part it.
fn single(hint: Hint<'_>, value: &str) -> bool {
    !hint.item || !(value.is_empty() || value.contains(|c: char| c.is_ascii_whitespace()))
}

/// Values that differ from one turn to the next.
fn distinct(builtin: Builtin, hint: Hint<'_>) -> Vec<String> {
    let turn = hint.turn + 1;
    match builtin.primitive() {
        Builtin::Decimal | Builtin::Float | Builtin::Double => vec![turn.to_string()],
        Builtin::Date => vec![format!("2026-{:02}-{:02}", turn / 28 % 12 + 1, turn % 28 + 1)],
        Builtin::DateTime => {
            vec![format!("2026-03-{:02}T{:02}:{:02}:00Z", turn / 1440 % 28 + 1, turn / 60 % 24, turn % 60)]
        }
        Builtin::String => {
            vec![format!("{}-{turn}", identifier(hint.name)), format!("{turn:04}"), format!("N{turn:03}")]
        }
        _ => Vec::new(),
    }
}

/// Numbers to try: usual ones, and those near the bounds.
fn numbers(ty: &Datatype, builtin: Builtin) -> Vec<String> {
    let usual: &[&str] = if builtin.is_within(Builtin::Integer) {
        &["12", "3", "1", "100", "0", "-1"]
    } else {
        &["12.5", "3.5", "1", "0.5", "100", "0.01", "0", "-1"]
    };
    let mut found: Vec<String> = usual.iter().map(|&number| number.to_owned()).collect();
    if !ty.narrowed {
        return found;
    }
    for limit in [&ty.min, &ty.max].into_iter().flatten() {
        found.push(limit.text.to_string());
        if let Ok(number) = limit.text.parse::<f64>() {
            for step in [1.0, -1.0, 0.5, -0.5, 0.1, -0.1, 0.01, -0.01] {
                found.push(format!("{}", number + step));
            }
        }
        if let Ok(number) = limit.text.parse::<i128>() {
            found.extend([number + 1, number - 1].map(|number| number.to_string()));
        }
    }
    if let (Some(least), Some(most)) = (&ty.min, &ty.max)
        && let (Ok(least), Ok(most)) = (least.text.parse::<f64>(), most.text.parse::<f64>())
    {
        found.push(format!("{}", f64::midpoint(least, most)));
    }
    found
}

/// Dates and times a little before and after a bound that excludes itself.
fn beside(builtin: Builtin, bound: &str) -> Vec<String> {
    let zone = bound.ends_with('Z');
    let year = |text: &str| text.split('-').find_map(|part| part.parse::<i64>().ok()).unwrap_or(2026);
    let with = |text: String| if zone { format!("{text}Z") } else { text };
    let (before, after) = (year(bound) - 1, year(bound) + 1);
    let years = |form: &dyn Fn(i64) -> String| vec![with(form(before)), with(form(after))];
    match builtin.primitive() {
        Builtin::Date => years(&|year| format!("{year:04}-03-14")),
        Builtin::DateTime => years(&|year| format!("{year:04}-03-14T06:30:00")),
        Builtin::GYear => years(&|year| format!("{year:04}")),
        Builtin::GYearMonth => years(&|year| format!("{year:04}-03")),
        Builtin::Time => vec![with("00:00:01".into()), with("12:00:00".into()), with("23:59:59".into())],
        Builtin::Duration => {
            vec!["PT1S".into(), "P1D".into(), "P30D".into(), "P10Y".into(), "-P1D".into(), "-P10Y".into()]
        }
        _ => Vec::new(),
    }
}

/// What a value of a built-in type usually looks like.
fn typical(builtin: Builtin, name: &str) -> Vec<String> {
    use Builtin::*;
    let fixed: &[&str] = match builtin {
        Boolean => &["true"],
        Duration => &["PT1H30M"],
        DateTime => &["2026-03-14T06:30:00Z"],
        Time => &["06:30:00"],
        Date => &["2026-03-14"],
        GYearMonth => &["2026-03"],
        GYear => &["2026"],
        GMonthDay => &["--03-14"],
        GDay => &["---14"],
        GMonth => &["--03"],
        HexBinary => &["53616D70"],
        Base64Binary => &["U2FtcGxl"],
        AnyUri => &["https://example.org/1"],
        Language => &["en"],
        NmToken | Name | NcName | IdRef | Entity | QName | Notation => return vec![identifier(name)],
        _ => return vec![words::plain(name), "text".to_owned()],
    };
    fixed.iter().map(|&value| value.to_owned()).collect()
}

/// The name of an element as an identifier.
fn identifier(name: &str) -> String {
    let text = words::plain(name).replace(' ', "-");
    if text.starts_with(|c: char| c.is_ascii_alphabetic()) { text } else { format!("n-{text}") }
}

/// A text brought to the length that the facets ask for.
fn stretched(text: &str, ty: &Datatype, builtin: Builtin) -> Option<String> {
    let least = ty.length.or(ty.min_length).unwrap_or(0).min(100_000) as usize;
    let most = ty.length.or(ty.max_length).unwrap_or(u64::MAX).min(100_000) as usize;
    match builtin.primitive() {
        Builtin::String | Builtin::AnyUri => {
            // Cut anywhere, an address is none any more.
            let source = if text.is_empty() || text.contains(':') { "text" } else { text };
            let wanted = source.chars().count().clamp(least, most.max(least));
            // A language tag is made of short parts.
            if builtin.is_within(Builtin::Language) && wanted > 8 {
                let parts: String = "en-sample-".chars().cycle().take(wanted).collect();
                return Some(parts.strip_suffix('-').map_or(parts.clone(), |cut| format!("{}x", cut)));
            }
            let mut long: String = source.chars().cycle().take(wanted).collect();
            // A value must not end in white space that is taken away.
            if long.ends_with(' ') {
                long.pop();
                long.push('s');
            }
            Some(long)
        }
        Builtin::HexBinary => Some("5A".repeat(1.clamp(least, most.max(least)))),
        Builtin::Base64Binary => {
            let wanted = 1.clamp(least, most.max(least));
            let tail = ["", "Uw==", "U2E="][wanted % 3];
            Some("U2Ft".repeat(wanted / 3) + tail)
        }
        _ => None,
    }
}

/// A random text in the lexical space of a built-in type, mostly within the facets.
fn thrown(ty: &Datatype, builtin: Builtin, rng: &mut Rng) -> Option<String> {
    use Builtin::*;
    let digits = |rng: &mut Rng, count: usize| {
        (0..count).map(|_| (b'0' + rng.u8(..10)) as char).collect::<std::string::String>()
    };
    let moment = |rng: &mut Rng| {
        let zone = ["", "Z", "+01:00", "-11:30"][rng.usize(..4)];
        let date = format!("{:04}-{:02}-{:02}", rng.u32(1990..2040), rng.u32(1..13), rng.u32(1..29));
        let time = format!("{:02}:{:02}:{:02}", rng.u32(..24), rng.u32(..60), rng.u32(..60));
        (date, time, zone)
    };
    Some(match builtin.primitive() {
        Boolean => ["true", "false", "1", "0"][rng.usize(..4)].to_owned(),
        Decimal => {
            let sign = ["", "", "-", "+"][rng.usize(..4)];
            let count = rng.usize(1..6);
            let whole = digits(rng, count);
            let fraction = rng.usize(..4);
            match builtin.is_within(Integer) || fraction == 0 {
                true => format!("{sign}{whole}"),
                false => format!("{sign}{whole}.{}", digits(rng, fraction)),
            }
        }
        Float | Double => match rng.u32(..6) {
            0 => ["INF", "-INF", "NaN", "0", "-0"][rng.usize(..5)].to_owned(),
            1 => format!("{}E{}", rng.i32(-99..100), rng.i32(-9..10)),
            _ => format!("{}.{}", rng.i32(-999..1000), rng.u32(..100)),
        },
        Duration => format!(
            "{}P{}Y{}DT{}H{}.5S",
            ["", "-"][rng.usize(..2)],
            rng.u32(..3),
            rng.u32(..40),
            rng.u32(..30),
            rng.u32(..70)
        ),
        DateTime => {
            let (date, time, zone) = moment(rng);
            format!("{date}T{time}{zone}")
        }
        Time => {
            let (_, time, zone) = moment(rng);
            format!("{time}{zone}")
        }
        Date => {
            let (date, _, zone) = moment(rng);
            format!("{date}{zone}")
        }
        GYearMonth => format!("{:04}-{:02}", rng.u32(1..9999), rng.u32(1..13)),
        GYear => format!("{}{:04}", ["", "-"][rng.usize(..2)], rng.u32(1..12000)),
        GMonthDay => format!("--{:02}-{:02}", rng.u32(1..13), rng.u32(1..29)),
        GDay => format!("---{:02}", rng.u32(1..32)),
        GMonth => format!("--{:02}", rng.u32(1..13)),
        HexBinary => {
            let count = wish(ty, rng);
            (0..count).map(|_| format!("{:02x}", rng.u8(..))).collect()
        }
        Base64Binary | QName | Notation => return None,
        AnyUri => format!("urn:example:{}", rng.u32(..1000)),
        _ => {
            let count = wish(ty, rng);
            let letters: &[char] = match builtin {
                String | NormalizedString | Token | AnySimpleType => {
                    &['a', 'B', '7', ' ', '-', 'é', '&', '<', '\'']
                }
                Language => &['a', 'b', 'c'],
                _ => &['a', 'B', '7', '-', '.', '_'],
            };
            (0..count).map(|_| letters[rng.usize(..letters.len())]).collect()
        }
    })
}

/// A random length within the facets.
fn wish(ty: &Datatype, rng: &mut Rng) -> usize {
    let least = ty.length.or(ty.min_length).unwrap_or(0).min(10_000);
    let most = ty.length.or(ty.max_length).unwrap_or(least + 12).clamp(least, least + 50);
    rng.u64(least..=most) as usize
}
