//! What may come next: the leaves that are open from where a walk is.

use charter_source::Set;

use super::configuration::Configuration;
use crate::Compositor;
use crate::engine::model::{Model, Term};

/// Leaves that may come next, each once, and not many more than `most`.
pub(super) struct Leaves {
    most: usize,
    pub list: Vec<u32>,
    met: Set<u32>,
}

impl Leaves {
    pub fn most(most: usize) -> Leaves {
        Leaves { most, list: Vec::new(), met: Set::default() }
    }

    fn are_enough(&self) -> bool {
        self.list.len() >= self.most
    }
}

impl Model {
    /// Those that a particle may begin with.
    pub(super) fn first_leaves(&self, id: u32, found: &mut Leaves) {
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

    /// Those that may follow where a way is.
    pub(super) fn next_leaves(&self, configuration: &Configuration, found: &mut Leaves) {
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
                if !configuration.may_leave(self, group, frame) {
                    return;
                }
            }
            if frame.count < node.max {
                self.first_leaves(frame.node, found);
            }
            if !Configuration::is_enough(self, frame) {
                return;
            }
        }
    }
}
