//! Which units a change can affect, and what must be at hand to judge them.
//!
//! A component that changes may affect what refers to it. What consists of it (extends it, restricts it, uses it as a
//! group or a reference) changes itself, and so affects its own users in turn; what only has it as the type of an
//! element is judged again, with what consists of *that*, and there it ends: no clause looks from one element through
//! its type to the types of the elements in there. In the other direction the same holds for what must be at hand.

use charter_contract::Contract;
use charter_source::{Map, Set, continues_name};

use super::mentions::{Bond, Mentions};
use super::units::Units;

/// The units to be read, and those of them that a change can affect.
pub(super) struct Affected {
    pub judged: Vec<bool>,
    pub kept: Vec<bool>,
}

/// How often the text is gone through before it is worked out who names what.
const LOOKED_THROUGH: usize = 4;

struct Search<'c> {
    contract: &'c Contract,
    units: &'c Units<'c>,
    /// How far a unit may have changed: not at all, in what it consists of two steps away, in itself.
    reached: Vec<Option<Bond>>,
    kept: Vec<Option<Bond>>,
    /// The elements that may stand in for an element of a name.
    substitutes: Map<&'c str, Vec<u32>>,
    /// The units that write characters by their numbers, so that any name may be in them.
    numbered: Vec<u32>,
}

/// Finds them, given the units that change and what their text says before and after.
pub(super) fn affected(
    contract: &Contract,
    units: &Units<'_>,
    changed: &[u32],
    said: &[Mentions<'_>],
) -> Affected {
    let none = vec![None; units.list.len()];
    let substitutes = substitutes(contract, units);
    let numbered = units_with(contract, units, &["&#"]);
    let mut search = Search { contract, units, reached: none.clone(), kept: none, substitutes, numbered };
    search.outward(changed, said);
    search.inward(said);
    Affected {
        judged: search.reached.iter().map(Option::is_some).collect(),
        kept: search.reached.iter().zip(&search.kept).map(|(a, b)| a.is_some() || b.is_some()).collect(),
    }
}

impl<'c> Search<'c> {
    fn text(&self, unit: u32) -> &'c str {
        self.contract.files.slice(self.units.list[unit as usize].place())
    }

    fn reach(&mut self, unit: u32, bond: Bond) -> bool {
        raise(&mut self.reached[unit as usize], bond)
    }

    /// Everything that the change may affect.
    fn outward(&mut self, changed: &[u32], said: &[Mentions<'_>]) {
        let mut asked: Map<String, Bond> = Map::default();
        let mut wanted: Map<String, Bond> = Map::default();
        let mut headed: Set<String> = Set::default();
        for unit in changed {
            self.reach(*unit, Bond::Content);
        }
        for mentions in said {
            mentions
                .declared
                .iter()
                .chain(&mentions.heads)
                .for_each(|name| ask(&mut wanted, name, Bond::Content));
            self.reach_heads(&mentions.heads, &mut headed);
        }
        let mut users: Option<Map<&str, Vec<u32>>> = None;
        for round in 0.. {
            if wanted.is_empty() {
                return;
            }
            if round == LOOKED_THROUGH {
                users = Some(self::users(self.contract, self.units));
            }
            let mut next: Map<String, Bond> = Map::default();
            let names: Map<String, Bond> = wanted
                .drain()
                .filter(|(name, bond)| asked.get(name).is_none_or(|known| known < bond))
                .collect();
            let found = match &users {
                None => self.occurrences(&names),
                Some(users) => {
                    let mut found: Vec<u32> =
                        names.keys().filter_map(|name| users.get(name.as_str())).flatten().copied().collect();
                    found.sort_unstable();
                    found.dedup();
                    found
                }
            };
            for unit in found {
                let mentions = Mentions::of(self.text(unit));
                let Some(bond) = bond_to(&mentions, &names) else { continue };
                if !self.reach(unit, bond) {
                    continue;
                }
                mentions.declared.iter().for_each(|name| ask(&mut next, name, bond));
                if bond == Bond::Content {
                    for head in &mentions.heads {
                        ask(&mut next, head, bond);
                    }
                    self.reach_heads(&mentions.heads, &mut headed);
                }
            }
            asked.extend(names);
            wanted = next;
        }
    }

    /// Reaches the elements of these names, each name once.
    fn reach_heads(&mut self, names: &[&str], done: &mut Set<String>) {
        for name in names {
            if done.insert((*name).to_owned()) {
                let heads: Vec<u32> = self.units.named(name).collect();
                heads.into_iter().for_each(|head| _ = self.reach(head, Bond::Content));
            }
        }
    }

    /// The units whose text has, or may have, one of the names in it.
    fn occurrences(&self, names: &Map<String, Bond>) -> Vec<u32> {
        let words: Vec<&str> = names.keys().map(String::as_str).filter(|name| !name.is_empty()).collect();
        if words.is_empty() {
            return Vec::new();
        }
        let mut found = units_with(self.contract, self.units, &words);
        found.extend(&self.numbered);
        found
    }

    /// Everything that must be at hand to judge it.
    fn inward(&mut self, said: &[Mentions<'_>]) {
        let mut open = Open::default();
        let mut keys: Map<String, Bond> = Map::default();
        for mentions in said {
            self.follow(mentions, Bond::Content, true, &mut open);
            mentions.keys.iter().for_each(|name| ask(&mut keys, name, Bond::Content));
        }
        let reached = (0..self.units.list.len() as u32).filter(|unit| self.reached[*unit as usize].is_some());
        open.units.extend(reached.map(|unit| (unit, Bond::Content)));
        while let Some((unit, bond)) = open.units.pop() {
            if !raise(&mut self.kept[unit as usize], bond) {
                continue;
            }
            let mentions = Mentions::of(self.text(unit));
            let wsdl = !self.units.list[unit as usize].in_schema;
            self.follow(&mentions, bond, wsdl, &mut open);
            // A component of the same name decides what the name means.
            for name in &mentions.declared {
                open.name(name, Bond::Kind, self.units);
                let substitutes = self.substitutes.get(name).into_iter().flatten();
                if bond == Bond::Content && open.headed.insert((*name).to_owned()) {
                    open.units.extend(substitutes.map(|it| (*it, Bond::Content)));
                }
            }
            if self.reached[unit as usize].is_some() {
                let new: Map<String, Bond> =
                    mentions.keys.iter().map(|name| ((*name).to_owned(), Bond::Content)).collect();
                keys.extend(new);
            }
        }
        for unit in self.occurrences(&keys) {
            raise(&mut self.kept[unit as usize], Bond::Kind);
        }
    }

    /// What a stretch names, as far as it matters. What a message names is there to be shown, with its types.
    fn follow(&self, mentions: &Mentions<'_>, bond: Bond, wsdl: bool, open: &mut Open) {
        for (name, via) in &mentions.named {
            let next = match (bond, via) {
                _ if wsdl => Bond::Content,
                (Bond::Kind, Bond::Kind) => continue,
                (bond, via) => bond.min(*via),
            };
            open.name(name, next, self.units);
        }
    }
}

/// The units that are still to be looked at, and the names that led to them: a name may be that of many units, and be written
/// in as many, but leads to all of them only once.
#[derive(Default)]
struct Open {
    units: Vec<(u32, Bond)>,
    named: Map<String, Option<Bond>>,
    headed: Set<String>,
}

impl Open {
    fn name(&mut self, name: &str, bond: Bond, units: &Units<'_>) {
        let known = match self.named.get_mut(name) {
            Some(known) => known,
            None => self.named.entry(name.to_owned()).or_default(),
        };
        if raise(known, bond) {
            self.units.extend(units.named(name).map(|unit| (unit, bond)));
        }
    }
}

/// Notes a bond, if it is closer than what is noted already.
fn raise(known: &mut Option<Bond>, bond: Bond) -> bool {
    let closer = known.is_none_or(|known| known < bond);
    if closer {
        *known = Some(bond);
    }
    closer
}

fn ask(wanted: &mut Map<String, Bond>, name: &str, bond: Bond) {
    let known = wanted.entry(name.to_owned()).or_insert(bond);
    *known = bond.max(*known);
}

/// How something is bound to what has changed, if at all.
fn bond_to(mentions: &Mentions<'_>, changed: &Map<String, Bond>) -> Option<Bond> {
    let named = mentions.named.iter().filter_map(|(name, via)| match (changed.get(*name)?, via) {
        (Bond::Kind, Bond::Kind) => None,
        (bond, via) => Some(*bond.min(via)),
    });
    let namesake = mentions.declared.iter().filter_map(|name| changed.get(*name).copied());
    // Names that are written in another way might be any.
    let disguised = mentions.disguised.then_some(Bond::Content);
    named.chain(namesake).chain(disguised).max()
}

/// More names than that are not looked for together, but each name in the text among them.
const MANY: usize = 200;

/// The units whose text has one of the words in it.
fn units_with(contract: &Contract, units: &Units<'_>, words: &[&str]) -> Vec<u32> {
    let all = || (0..units.list.len() as u32).collect();
    if words.len() > MANY {
        // What is no name could be anywhere.
        let names = words.iter().all(|word| word.chars().all(continues_name));
        return if names { units_naming(contract, units, &words.iter().copied().collect()) } else { all() };
    }
    let mut found: Vec<u32> = Vec::new();
    let search = aho_corasick::AhoCorasick::builder()
        .match_kind(aho_corasick::MatchKind::LeftmostLongest)
        .build(words);
    let Ok(search) = search else { return all() };
    for file in contract.files.iter().filter(|file| !file.is_known()) {
        let text = file.text().content();
        for hit in search.find_iter(text) {
            let ends = |end: Option<char>| !end.is_some_and(continues_name);
            let alone =
                ends(text[..hit.start()].chars().next_back()) && ends(text[hit.end()..].chars().next());
            if (alone || text[hit.range()].ends_with('#'))
                && let Some(unit) = units.at(file.id, hit.start() as u32)
                && found.last() != Some(&unit)
            {
                found.push(unit);
            }
        }
    }
    found
}

/// The same for many words, all of them names.
fn units_naming(contract: &Contract, units: &Units<'_>, names: &Set<&str>) -> Vec<u32> {
    let mut found: Vec<u32> = Vec::new();
    for file in contract.files.iter().filter(|file| !file.is_known()) {
        let text = file.text().content();
        for word in text.split(|c| !continues_name(c)).filter(|word| names.contains(word)) {
            let start = word.as_ptr().addr() - text.as_ptr().addr();
            if let Some(unit) = units.at(file.id, start as u32)
                && found.last() != Some(&unit)
            {
                found.push(unit);
            }
        }
    }
    found
}

/// Which units name what: worked out where a change goes through a contract in many steps.
fn users<'c>(contract: &'c Contract, units: &Units<'_>) -> Map<&'c str, Vec<u32>> {
    let mut users: Map<&str, Vec<u32>> = Map::default();
    for (number, unit) in units.list.iter().enumerate() {
        let mentions = Mentions::of(contract.files.slice(unit.place()));
        let named = mentions.named.iter().map(|(name, _)| *name);
        for name in named.chain(mentions.declared.iter().copied()) {
            let known = users.entry(name).or_default();
            if known.last() != Some(&(number as u32)) {
                known.push(number as u32);
            }
        }
    }
    users
}

/// The elements that may stand in for others, by the names of those.
fn substitutes<'c>(contract: &'c Contract, units: &Units<'_>) -> Map<&'c str, Vec<u32>> {
    let mut substitutes: Map<&str, Vec<u32>> = Map::default();
    for unit in units_with(contract, units, &["substitutionGroup"]) {
        let text = contract.files.slice(units.list[unit as usize].place());
        for head in Mentions::of(text).heads {
            substitutes.entry(head).or_default().push(unit);
        }
    }
    substitutes
}
