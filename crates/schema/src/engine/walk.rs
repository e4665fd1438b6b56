//! A walk through a content model, an element at a time.

use std::ops::Range;

use charter_source::{NameKey, QName, Set};

use super::Engine;
use super::model::{Group, Leaf, Model, Term};
use crate::{Compositor, ElementId, Occurs};

/// Ways that are followed side by side; a model in which more are open is not followed any further.
const MOST_WAYS: usize = 2_000;
/// Frames in all moves that one element may make.
const MOST_MOVED: usize = 200_000;

/// An element of an instance, as a content model sees it.
#[derive(Debug, Clone, Copy)]
pub struct Symbol<'n> {
    /// Its name, if the schemas know it.
    pub key: Option<NameKey>,
    /// Its namespace.
    pub namespace: &'n str,
    /// The global element of that name.
    pub global: Option<ElementId>,
    /// The elements that it may stand for, with their keys.
    pub heads: &'n [(NameKey, ElementId)],
}

impl<'n> Symbol<'n> {
    /// An element of a name that the schemas know.
    pub(crate) fn of(engine: &'n Engine<'_>, name: &'n QName) -> Symbol<'n> {
        let global = engine.global_element(name.key()).filter(|_| engine.has_substitutes());
        Symbol {
            key: Some(name.key()),
            namespace: &name.namespace,
            global,
            heads: global.map_or(&[], |id| engine.heads(id)),
        }
    }
}

/// A particle on the way down to where the walk is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
struct Frame {
    node: u32,
    /// How often it has occurred, the present time included.
    count: u32,
    /// The member that the walk is in.
    at: u32,
}

/// One way that the elements so far may have gone.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
struct Configuration {
    frames: Vec<Frame>,
    /// The members of an `all` group that have been there.
    seen: Vec<u64>,
}

/// A walk through a model.
#[derive(Debug, Clone)]
pub struct Walk<'m> {
    model: &'m Model,
    configurations: Vec<Configuration>,
    begun: bool,
    /// Whether there were more ways than can be followed.
    lost: bool,
    /// The frames of the step that is being made.
    scratch: Vec<Frame>,
}

/// What a step found: the way it came from, the frames of it to keep, and those that follow.
struct Move {
    configuration: usize,
    keep: usize,
    /// Whether the last of the kept frames begins anew.
    again: bool,
    member: u32,
    /// Where in the frames of the step they stand.
    rest: Range<usize>,
}

impl<'m> Walk<'m> {
    /// A walk that has not begun.
    pub fn new(model: &'m Model) -> Walk<'m> {
        Walk { model, configurations: Vec::new(), begun: false, lost: false, scratch: Vec::new() }
    }

    /// Leads an element through; what it was matched to, or nothing, and the walk stays where it was.
    pub fn step(&mut self, symbol: &Symbol<'_>) -> Option<Leaf<'m>> {
        if self.lost {
            return None;
        }
        if self.model.deterministic {
            return self.plain_step(symbol);
        }
        let model = self.model;
        let mut moves: Vec<Move> = Vec::new();
        let mut frames = std::mem::take(&mut self.scratch);
        frames.clear();
        let mut add = |configuration, keep, again, member, rest: &[Frame]| {
            moves.push(Move {
                configuration,
                keep,
                again,
                member,
                rest: frames.len()..frames.len() + rest.len(),
            });
            frames.extend_from_slice(rest);
            moves.len() + frames.len() > MOST_MOVED
        };
        if !self.begun {
            model.enter(model.root?, symbol, &mut Vec::new(), &mut |rest| add(0, 0, false, 0, rest));
        } else {
            for (number, configuration) in self.configurations.iter().enumerate() {
                let mut enough = false;
                model.onward(configuration, symbol, &mut |keep, again, member, rest| {
                    enough = add(number, keep, again, member, rest);
                    enough
                });
                if enough {
                    break;
                }
            }
        }
        let moved = moves.len() + frames.len();
        let leaf = moves.first().and_then(|first| match frames[first.rest.clone()].last() {
            Some(frame) => Some(frame.node),
            None => {
                self.configurations[first.configuration].frames.get(first.keep - 1).map(|frame| frame.node)
            }
        });
        if leaf.is_some() {
            // What it costs to look for the moves, and to tell them apart.
            let cost = moved as u64 + self.weight();
            let paid = model.budget.as_ref().is_none_or(|budget| budget.step(cost));
            match moved > MOST_MOVED || !paid {
                true => self.lost = true,
                false => self.take(&moves, &frames),
            }
        }
        self.scratch = frames;
        model.matched(leaf?, symbol)
    }

    /// A step where the first way found is the only one: made in place.
    fn plain_step(&mut self, symbol: &Symbol<'_>) -> Option<Leaf<'m>> {
        let model = self.model;
        if let Some(leaf) = self.near_step(symbol) {
            return model.matched(leaf, symbol);
        }
        let scratch = &mut self.scratch;
        scratch.clear();
        let mut found = None;
        if !self.begun {
            model.enter(model.root?, symbol, &mut Vec::new(), &mut |rest| {
                scratch.extend_from_slice(rest);
                found = Some((0, false, 0));
                true
            });
            found?;
            self.begun = true;
            self.configurations.push(Configuration::default());
        } else {
            model.onward(&self.configurations[0], symbol, &mut |keep, again, member, rest| {
                scratch.extend_from_slice(rest);
                found = Some((keep, again, member));
                true
            });
        }
        let (keep, again, member) = found?;
        model.apply(&mut self.configurations[0], keep, again, member, scratch);
        let leaf = self.configurations[0].frames.last()?.node;
        model.matched(leaf, symbol)
    }

    /// The steps that nearly all elements take, found without a search: the same element once more, or a later one of
    /// the same sequence. They are those that the search would find first.
    fn near_step(&mut self, symbol: &Symbol<'_>) -> Option<u32> {
        let model = self.model;
        let key = symbol.key.filter(|_| symbol.heads.is_empty())?;
        let Some(configuration) = self.configurations.first_mut() else {
            let root = model.root?;
            let at = model.next_in_sequence(root, key, 0)?;
            let leaf = model.nodes[root as usize].group()?.members[at as usize];
            let mut frames = Vec::with_capacity(4);
            frames.extend([Frame { node: root, count: 1, at }, Frame { node: leaf, count: 1, at: 0 }]);
            self.begun = true;
            self.configurations.push(Configuration { frames, seen: Vec::new() });
            return Some(leaf);
        };
        let [.., outer, last] = configuration.frames.as_slice() else { return None };
        let (outer, last, depth) = (*outer, *last, configuration.frames.len());
        let node = &model.nodes[last.node as usize];
        if last.count < node.max && matches!(node.term, Term::Element { key: own, .. } if own == key) {
            model.apply(configuration, depth, true, 0, &[]);
            return Some(last.node);
        }
        if last.count < node.min {
            return None;
        }
        let at = model.next_in_sequence(outer.node, key, outer.at + 1)?;
        let leaf = model.nodes[outer.node as usize].group()?.members[at as usize];
        model.apply(configuration, depth - 1, false, at, &[Frame { node: leaf, count: 1, at: 0 }]);
        Some(leaf)
    }

    /// Makes the moves: one in place, several as ways of their own.
    fn take(&mut self, moves: &[Move], frames: &[Frame]) {
        let first = !self.begun;
        self.begun = true;
        if first {
            self.configurations.push(Configuration::default());
        }
        let apply = |configuration: &mut Configuration, it: &Move| {
            self.model.apply(configuration, it.keep, it.again, it.member, &frames[it.rest.clone()]);
        };
        if let [only] = moves
            && let [configuration] = &mut *self.configurations
        {
            return apply(configuration, only);
        }
        let mut seen: Set<Configuration> = Set::default();
        let mut configurations: Vec<Configuration> = Vec::new();
        for found in moves {
            let mut configuration = self.configurations[found.configuration].clone();
            apply(&mut configuration, found);
            if seen.insert(configuration.clone()) {
                configurations.push(configuration);
            }
            if configurations.len() > MOST_WAYS {
                self.lost = true;
                break;
            }
        }
        self.configurations = configurations;
    }

    /// Whether the content may end here.
    pub fn complete(&self) -> bool {
        if self.lost {
            return true;
        }
        if !self.begun {
            return self.model.optional();
        }
        self.configurations.iter().any(|configuration| self.model.may_end(configuration))
    }

    /// What tells this place in the model from others: equal keys, equal ways on.
    pub(crate) fn key(&self) -> Vec<u32> {
        let mut configurations: Vec<Vec<u32>> = self.configurations.iter().map(Configuration::key).collect();
        configurations.sort_unstable();
        let mut key = vec![u32::from(self.begun) + 2 * u32::from(self.lost)];
        configurations.iter().for_each(|configuration| key.extend(configuration));
        key
    }

    /// Whether the walk was given up because there were too many ways.
    pub fn lost(&self) -> bool {
        self.lost
    }

    /// What a step may cost: about the moves that there are to look for.
    pub(crate) fn weight(&self) -> u64 {
        match self.model.deterministic {
            true => 1,
            false => self
                .configurations
                .iter()
                .map(|configuration| (configuration.frames.len() as u64).pow(2))
                .sum::<u64>()
                .max(1),
        }
    }

    /// How many groups the ways stand in.
    pub(crate) fn size(&self) -> usize {
        self.configurations.iter().map(|configuration| configuration.frames.len()).sum::<usize>() + 1
    }

    /// What may come next: the leaves with how often they may stand, at most `most` of them.
    pub fn expected(&self, most: usize) -> Vec<Leaf<'m>> {
        let mut found = Leaves { most, list: Vec::new(), met: Set::default() };
        match (self.begun, self.model.root) {
            (false, Some(root)) => self.model.first_leaves(root, &mut found),
            _ => self
                .configurations
                .iter()
                .for_each(|configuration| self.model.next_leaves(configuration, &mut found)),
        }
        let leaf = |node: u32| match &self.model.nodes[node as usize].term {
            Term::Element { element, .. } => Some(Leaf::Element(*element)),
            Term::Any(wildcard) => Some(Leaf::Any(wildcard)),
            Term::Group(_) => None,
        };
        found.list.into_iter().filter_map(leaf).collect()
    }

    /// How often the last element may occur at the place where it stands.
    pub fn bounds(&self) -> Option<Occurs> {
        let frame = self.configurations.first()?.frames.last()?;
        let node = &self.model.nodes[frame.node as usize];
        Some(Occurs { min: node.min, max: (node.max < u32::MAX).then_some(node.max) })
    }
}

/// Leaves that may come next, each once, and not many more than `most`.
struct Leaves {
    most: usize,
    list: Vec<u32>,
    met: Set<u32>,
}

impl Leaves {
    fn are_enough(&self) -> bool {
        self.list.len() >= self.most
    }
}

/// Is told of a move: the frames to keep, whether the last of them begins anew, its member, and the frames that
/// follow. Says whether that is enough.
type Emit<'e> = &'e mut dyn FnMut(usize, bool, u32, &[Frame]) -> bool;

impl Model {
    /// What a leaf that was found is to the symbol.
    fn matched(&self, leaf: u32, symbol: &Symbol<'_>) -> Option<Leaf<'_>> {
        match &self.nodes[leaf as usize].term {
            // A leaf of another name was found by the head that the element stands for.
            Term::Element { element, key, .. } if symbol.key == Some(*key) => Some(Leaf::Element(*element)),
            Term::Element { element, .. } => Some(Leaf::Element(symbol.global.unwrap_or(*element))),
            Term::Any(wildcard) => Some(Leaf::Any(wildcard)),
            Term::Group(_) => None,
        }
    }

    /// The first member of a sequence, from one position on, that may be the element of that name, if it is no group.
    fn next_in_sequence(&self, sequence: u32, key: NameKey, from: u32) -> Option<u32> {
        let group = self.nodes[sequence as usize].group()?;
        if group.compositor != Compositor::Sequence {
            return None;
        }
        let last = group.required_from(from as usize);
        let at = group.beginning_with(key, from, last).next()?;
        matches!(self.nodes[group.members[at as usize] as usize].term, Term::Element { .. }).then_some(at)
    }

    /// Tells `emit` of every way from the beginning of a particle to a leaf that fits; stops when it says so.
    fn enter(
        &self,
        id: u32,
        symbol: &Symbol<'_>,
        path: &mut Vec<Frame>,
        emit: &mut dyn FnMut(&[Frame]) -> bool,
    ) -> bool {
        path.push(Frame { node: id, count: 1, at: 0 });
        let stop = self.within(id, symbol, path, emit);
        path.pop();
        stop
    }

    /// The same for the term of a particle whose frame is the last of the path.
    fn within(
        &self,
        id: u32,
        symbol: &Symbol<'_>,
        path: &mut Vec<Frame>,
        emit: &mut dyn FnMut(&[Frame]) -> bool,
    ) -> bool {
        match &self.nodes[id as usize].term {
            Term::Group(group) => {
                let last = match group.compositor {
                    Compositor::Sequence => group.required_from(0),
                    _ => u32::MAX,
                };
                self.members(group, symbol, 0, last, &mut |at| {
                    if let Some(frame) = path.last_mut() {
                        frame.at = at;
                    }
                    self.enter(group.members[at as usize], symbol, path, emit)
                })
            }
            term => fits(term, symbol) && emit(path),
        }
    }

    /// The members from one position to another that may begin with the symbol.
    fn members(
        &self,
        group: &Group,
        symbol: &Symbol<'_>,
        from: u32,
        to: u32,
        each: &mut dyn FnMut(u32) -> bool,
    ) -> bool {
        let keys = symbol.key.iter().chain(symbol.heads.iter().map(|(key, _)| key));
        for key in keys {
            for at in group.beginning_with(*key, from, to) {
                if each(at) {
                    return true;
                }
            }
        }
        let start = group.wild.partition_point(|at| *at < from);
        group.wild[start..].iter().take_while(|at| **at <= to).any(|at| each(*at))
    }

    /// Tells `emit` of every way on from where a way is.
    fn onward(&self, configuration: &Configuration, symbol: &Symbol<'_>, emit: Emit<'_>) {
        let mut depth = configuration.frames.len();
        while depth > 0 {
            let frame = configuration.frames[depth - 1];
            let node = &self.nodes[frame.node as usize];
            if frame.count < node.max {
                let mut path = vec![Frame { at: 0, ..frame }];
                let stop = self.within(frame.node, symbol, &mut path, &mut |path| {
                    emit(depth, true, path[0].at, &path[1..])
                });
                if stop {
                    return;
                }
            }
            if frame.count < node.min && !node.emptiable {
                return;
            }
            depth -= 1;
            if depth > 0 && self.past(configuration, depth, symbol, emit) {
                return;
            }
        }
    }

    /// The ways on to other members of the group at that depth, the present one being complete. Whether that is
    /// all: because `emit` said so, or because the group cannot be left.
    fn past(&self, configuration: &Configuration, depth: usize, symbol: &Symbol<'_>, emit: Emit<'_>) -> bool {
        let frame = configuration.frames[depth - 1];
        let Some(group) = self.nodes[frame.node as usize].group() else { return false };
        let mut emit = |at: u32, path: &[Frame]| emit(depth, false, at, path);
        let mut path = Vec::new();
        match group.compositor {
            Compositor::Choice => false,
            Compositor::Sequence => {
                let last = group.required_from(frame.at as usize + 1);
                let stop = self.members(group, symbol, frame.at + 1, last, &mut |at| {
                    self.enter(group.members[at as usize], symbol, &mut path, &mut |path| emit(at, path))
                });
                stop || (last as usize) < group.members.len()
            }
            Compositor::All => {
                let stop = self.members(group, symbol, 0, u32::MAX, &mut |at| {
                    !configuration.has_seen(at)
                        && self
                            .enter(group.members[at as usize], symbol, &mut path, &mut |path| emit(at, path))
                });
                stop || !self.all_there(group, configuration)
            }
        }
    }

    /// Whether no member of an `all` group is missing.
    fn all_there(&self, group: &Group, configuration: &Configuration) -> bool {
        let missing = |at: usize| {
            !configuration.has_seen(at as u32) && !self.nodes[group.members[at] as usize].optional()
        };
        !(0..group.members.len()).any(missing)
    }

    fn may_end(&self, configuration: &Configuration) -> bool {
        configuration.frames.iter().enumerate().rev().all(|(depth, frame)| {
            let node = &self.nodes[frame.node as usize];
            let enough = frame.count >= node.min || node.emptiable;
            let inner = depth + 1 < configuration.frames.len();
            enough
                && match node.group() {
                    Some(group) if inner => match group.compositor {
                        Compositor::Choice => true,
                        Compositor::Sequence => {
                            group.required_from(frame.at as usize + 1) as usize == group.members.len()
                        }
                        Compositor::All => self.all_there(group, configuration),
                    },
                    _ => true,
                }
        })
    }

    fn apply(
        &self,
        configuration: &mut Configuration,
        keep: usize,
        again: bool,
        member: u32,
        rest: &[Frame],
    ) {
        configuration.frames.truncate(keep);
        if let Some(frame) = configuration.frames.last_mut() {
            frame.at = member;
            if again {
                // Beyond what is asked, it makes no difference how often something without a bound has occurred.
                let node = &self.nodes[frame.node as usize];
                let more = frame.count.saturating_add(1);
                frame.count = if node.max == u32::MAX { more.min(node.min.max(1)) } else { more };
                configuration.seen.clear();
            }
        }
        // The frame of an all group marks the member that it leads to.
        let kept = configuration.frames.last().copied();
        configuration.frames.extend(rest);
        for frame in kept.iter().chain(rest) {
            let group = self.nodes[frame.node as usize].group();
            if group.is_some_and(|group| group.compositor == Compositor::All) {
                configuration.mark(frame.at);
            }
        }
    }

    fn first_leaves(&self, id: u32, found: &mut Leaves) {
        if found.are_enough() {
            return;
        }
        match &self.nodes[id as usize].term {
            Term::Group(group) => {
                let last = match group.compositor {
                    Compositor::Sequence => group.required_from(0),
                    _ => u32::MAX,
                };
                let members = group.members.iter().enumerate().take_while(|(at, _)| *at as u32 <= last);
                members.for_each(|(_, member)| self.first_leaves(*member, found));
            }
            _ if found.met.insert(id) => found.list.push(id),
            _ => {}
        }
    }

    fn next_leaves(&self, configuration: &Configuration, found: &mut Leaves) {
        for (depth, frame) in configuration.frames.iter().enumerate().rev() {
            let node = &self.nodes[frame.node as usize];
            let inner = depth + 1 < configuration.frames.len();
            if let Some(group) = node.group().filter(|_| inner) {
                match group.compositor {
                    Compositor::Choice => {}
                    Compositor::Sequence => {
                        let next = frame.at as usize + 1;
                        let last = group.required_from(next) as usize;
                        let open = group.members.iter().take(last + 1).skip(next);
                        open.take(found.most).for_each(|member| self.first_leaves(*member, found));
                    }
                    Compositor::All => {
                        let members = group.members.iter().enumerate();
                        let open = members.filter(|(at, _)| !configuration.has_seen(*at as u32));
                        open.take(found.most).for_each(|(_, member)| self.first_leaves(*member, found));
                    }
                }
                let stuck = match group.compositor {
                    Compositor::Sequence => {
                        (group.required_from(frame.at as usize + 1) as usize) < group.members.len()
                    }
                    Compositor::All => !self.all_there(group, configuration),
                    Compositor::Choice => false,
                };
                if stuck {
                    return;
                }
            }
            if frame.count < node.max {
                self.first_leaves(frame.node, found);
            }
            if frame.count < node.min && !node.emptiable {
                return;
            }
        }
    }
}

impl Configuration {
    fn key(&self) -> Vec<u32> {
        let mut key = vec![self.frames.len() as u32];
        self.frames.iter().for_each(|frame| key.extend([frame.node, frame.count, frame.at]));
        self.seen.iter().for_each(|word| key.extend([*word as u32, (*word >> 32) as u32]));
        key
    }

    fn has_seen(&self, member: u32) -> bool {
        self.seen.get(member as usize / 64).is_some_and(|word| word >> (member % 64) & 1 == 1)
    }

    fn mark(&mut self, member: u32) {
        let word = member as usize / 64;
        if self.seen.len() <= word {
            self.seen.resize(word + 1, 0);
        }
        self.seen[word] |= 1 << (member % 64);
    }
}

/// Whether a leaf may stand for the symbol.
pub(crate) fn fits(term: &Term, symbol: &Symbol<'_>) -> bool {
    match term {
        Term::Element { element, key, global } => {
            symbol.key == Some(*key) || (*global && symbol.heads.iter().any(|(_, head)| head == element))
        }
        Term::Any(wildcard) => wildcard.namespaces.allows(symbol.namespace),
        Term::Group(_) => false,
    }
}
