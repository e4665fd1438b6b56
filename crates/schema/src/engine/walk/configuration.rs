//! Where a walk is: the particles around the last element, and how often each has occurred.

use crate::Compositor;
use crate::engine::model::{Group, Model};

/// A particle on the way down to where the walk is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub(super) struct Frame {
    pub node: u32,
    /// How often it has occurred, the present time included.
    pub count: u32,
    /// The member that the walk is in.
    pub at: u32,
}

/// One way that the elements so far may have gone.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub(super) struct Configuration {
    pub frames: Vec<Frame>,
    /// The members of an `all` group that have been there.
    seen: Vec<u64>,
}

/// How a configuration changes by an element: what of it stays, and how the last of that goes on. The frames that follow go along
/// with it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Step {
    /// How many frames stay.
    pub keep: usize,
    /// Whether the last of them begins anew.
    pub again: bool,
    /// The member that it leads to.
    pub member: u32,
}

impl Step {
    /// The first, from nowhere.
    pub const FIRST: Step = Step { keep: 0, again: false, member: 0 };
}

impl Configuration {
    /// In these frames, with no member of an `all` group seen.
    pub fn of(frames: Vec<Frame>) -> Configuration {
        Configuration { frames, seen: Vec::new() }
    }

    /// Makes a step, with the frames that follow.
    pub fn make(&mut self, model: &Model, step: Step, rest: &[Frame]) {
        self.frames.truncate(step.keep);
        if let Some(frame) = self.frames.last_mut() {
            frame.at = step.member;
            if step.again {
                // Beyond what is asked, it makes no difference how often something without a bound has occurred.
                let node = &model.nodes[frame.node as usize];
                let more = frame.count.saturating_add(1);
                frame.count = if node.max == u32::MAX { more.min(node.min.max(1)) } else { more };
                self.seen.clear();
            }
        }
        // The frame of an all group marks the member that it leads to.
        let kept = self.frames.last().copied();
        self.frames.extend(rest);
        for frame in kept.iter().chain(rest) {
            let group = model.nodes[frame.node as usize].group();
            if group.is_some_and(|group| group.compositor == Compositor::All) {
                self.mark(frame.at);
            }
        }
    }

    /// Whether a particle has occurred as often as it must.
    pub fn is_enough(model: &Model, frame: &Frame) -> bool {
        let node = &model.nodes[frame.node as usize];
        frame.count >= node.min || node.emptiable
    }

    /// Whether the group of a frame may be left, the member that it is in being complete.
    pub fn may_leave(&self, model: &Model, group: &Group, frame: &Frame) -> bool {
        match group.compositor {
            Compositor::Choice => true,
            Compositor::Sequence => {
                group.required_from(frame.at as usize + 1) as usize == group.members.len()
            }
            Compositor::All => (0..group.members.len())
                .all(|at| self.has_seen(at as u32) || model.nodes[group.members[at] as usize].optional()),
        }
    }

    /// Whether the content may end here.
    pub fn may_end(&self, model: &Model) -> bool {
        self.frames.iter().enumerate().rev().all(|(depth, frame)| {
            let inner = depth + 1 < self.frames.len();
            let group = model.nodes[frame.node as usize].group().filter(|_| inner);
            Configuration::is_enough(model, frame)
                && group.is_none_or(|group| self.may_leave(model, group, frame))
        })
    }

    /// What tells it from others.
    pub fn key(&self) -> Vec<u32> {
        let mut key = vec![self.frames.len() as u32];
        self.frames.iter().for_each(|frame| key.extend([frame.node, frame.count, frame.at]));
        self.seen.iter().for_each(|word| key.extend([*word as u32, (*word >> 32) as u32]));
        key
    }

    pub fn has_seen(&self, member: u32) -> bool {
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
