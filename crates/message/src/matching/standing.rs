//! Which of the blocks in a header is which of those that the contract declares. There may be thousands of either.

use std::collections::VecDeque;

use charter_contract::WireElement;
use charter_schema::{ElementId, Engine};
use charter_source::{Map, Node, QName};

use super::names::name_of;

/// The blocks of a header by their names, and how many of each the declared ones have taken.
#[derive(Default)]
pub(super) struct Standing {
    groups: Vec<Group>,
    /// The group of each block.
    group_of: Vec<usize>,
    by_name: Map<QName, usize>,
    /// The groups that may stand for an element, those that are used up left out.
    substitutes: Map<ElementId, VecDeque<usize>>,
}

/// The blocks of one name.
#[derive(Default)]
struct Group {
    /// Their numbers, in order.
    all: Vec<usize>,
    /// How many are taken.
    taken: usize,
}

/// What a declared block finds.
#[derive(Debug, PartialEq, Eq)]
pub(super) enum Found {
    /// The block of that number.
    Block(usize),
    /// Only blocks that others declared alike have taken.
    Shared,
    /// None.
    Nothing,
}

impl Standing {
    /// Nothing is taken yet.
    pub fn of(engine: &Engine<'_>, blocks: &[Node<'_>]) -> Standing {
        let mut standing = Standing::default();
        for (number, block) in blocks.iter().enumerate() {
            let name = name_of(*block);
            let group = standing.by_name.get(&name).copied().unwrap_or_else(|| standing.add(engine, name));
            standing.groups[group].all.push(number);
            standing.group_of.push(group);
        }
        standing
    }

    fn add(&mut self, engine: &Engine<'_>, name: QName) -> usize {
        let group = self.groups.len();
        self.groups.push(Group::default());
        for (_, head) in engine.symbol(&name.namespace, &name.local).heads {
            self.substitutes.entry(*head).or_default().push_back(group);
        }
        self.by_name.insert(name, group);
        group
    }

    /// Finds for each declared block the one that it is: the first of its name that is left. What has none takes the first
    /// that may stand for it, and that nobody takes by its name.
    pub fn take<'d>(
        &mut self,
        engine: &Engine<'_>,
        declared: impl Iterator<Item = &'d WireElement> + Clone,
    ) -> Vec<Found> {
        let own: Vec<Option<usize>> = declared
            .clone()
            .map(|declared| self.groups[*self.by_name.get(declared.name(engine.schemas()))?].next())
            .collect();
        let found = declared.zip(own).map(|(declared, own)| match own {
            Some(block) => Found::Block(block),
            None => self.substitute(engine, declared),
        });
        found.collect()
    }

    /// What stands for a declared block of which none by its name is left.
    fn substitute(&mut self, engine: &Engine<'_>, declared: &WireElement) -> Found {
        let mut shared = self.by_name.contains_key(declared.name(engine.schemas()));
        if let WireElement::Declared(id) = declared
            && let Some(substitutes) = self.substitutes.get_mut(id)
        {
            shared = true;
            while let Some(group) = substitutes.front() {
                if let Some(block) = self.groups[*group].next() {
                    return Found::Block(block);
                }
                substitutes.pop_front();
            }
        }
        if shared { Found::Shared } else { Found::Nothing }
    }

    /// Whether no declared block has taken one, and others of its name are taken.
    pub fn is_one_more(&self, block: usize) -> bool {
        let group = &self.groups[self.group_of[block]];
        group.taken > 0 && !self.is_taken(block)
    }

    /// Whether a declared block has taken one.
    pub fn is_taken(&self, block: usize) -> bool {
        let group = &self.groups[self.group_of[block]];
        group.all[..group.taken].binary_search(&block).is_ok()
    }
}

impl Group {
    fn next(&mut self) -> Option<usize> {
        let next = self.all.get(self.taken).copied()?;
        self.taken += 1;
        Some(next)
    }
}
