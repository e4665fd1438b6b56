//! The steps that an element may make from where a walk is: searched from the innermost particle outwards.

use charter_source::NameKey;

use super::configuration::{Configuration, Frame, Step};
use super::symbol::{Symbol, fits};
use crate::Compositor;
use crate::engine::model::{Group, Model, Term};

/// Is told of a step and the frames that follow. Says whether that is enough.
pub(super) type Emit<'e> = &'e mut dyn FnMut(Step, &[Frame]) -> bool;

impl Model {
    /// The first member of a sequence, from one position on, that may be the element of that name, if it is no group.
    pub(super) fn next_in_sequence(&self, sequence: u32, key: NameKey, from: u32) -> Option<u32> {
        let group = self.nodes[sequence as usize].group()?;
        if group.compositor != Compositor::Sequence {
            return None;
        }
        let last = group.required_from(from as usize);
        let at = group.beginning_with(key, from, last).next()?;
        matches!(self.nodes[group.members[at as usize] as usize].term, Term::Element { .. }).then_some(at)
    }

    /// Tells `emit` of every way from the beginning of a particle to a leaf that fits; stops when it says so.
    pub(super) fn enter(
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
    pub(super) fn onward(&self, configuration: &Configuration, symbol: &Symbol<'_>, emit: Emit<'_>) {
        let mut depth = configuration.frames.len();
        while depth > 0 {
            let frame = configuration.frames[depth - 1];
            let node = &self.nodes[frame.node as usize];
            if frame.count < node.max {
                let mut path = vec![Frame { at: 0, ..frame }];
                let stop = self.within(frame.node, symbol, &mut path, &mut |path| {
                    emit(Step { keep: depth, again: true, member: path[0].at }, &path[1..])
                });
                if stop {
                    return;
                }
            }
            if !Configuration::is_enough(self, &frame) {
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
        let mut emit = |at: u32, path: &[Frame]| emit(Step { keep: depth, again: false, member: at }, path);
        let mut path = Vec::new();
        let stop = match group.compositor {
            Compositor::Choice => false,
            Compositor::Sequence => {
                let last = group.required_from(frame.at as usize + 1);
                self.members(group, symbol, frame.at + 1, last, &mut |at| {
                    self.enter(group.members[at as usize], symbol, &mut path, &mut |path| emit(at, path))
                })
            }
            Compositor::All => self.members(group, symbol, 0, u32::MAX, &mut |at| {
                let member = group.members[at as usize];
                !configuration.has_seen(at)
                    && self.enter(member, symbol, &mut path, &mut |path| emit(at, path))
            }),
        };
        stop || !configuration.may_leave(self, group, &frame)
    }
}
