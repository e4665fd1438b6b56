//! Which pairs lead to which, and which of them lead to anything that differs. Each pair is looked into once, however many
//! messages hold it, and going through what a message leads to is a walk over numbers.

use std::ops::Range;
use std::sync::Arc;

use charter_schema::{Outcome, Pair, Reached};
use charter_source::Map;

/// The pairs that were looked into.
#[derive(Default)]
pub(crate) struct Graph {
    numbers: Map<Pair, u32>,
    nodes: Vec<Node>,
    links: Vec<Link>,
}

struct Node {
    pair: Pair,
    /// Where it leads, among the links.
    links: Range<u32>,
    /// Whether anything differs there.
    differs: bool,
    /// Whether it leads to anything that differs.
    alive: bool,
    /// Whether what differs there is another matter for each pair that leads to it.
    by_place: bool,
}

/// What there is to know of a pair before it is asked whether anything differs there.
pub(crate) struct Looked {
    pub outcome: Arc<Outcome>,
    /// Whether what differs there is another matter for each pair that leads to it.
    pub by_place: bool,
}

/// One pair leads to another by the edge of that number.
#[derive(Clone, Copy)]
struct Link {
    from: u32,
    to: u32,
    edge: u32,
    /// Whether what differs at the other end is another matter for each pair that leads to it; known of kept links.
    by_place: bool,
}

/// No link, no place.
const NONE: u32 = u32::MAX;

impl Graph {
    /// Looks into all pairs that a pair leads to and that nobody has looked into yet. `differs` is asked about them when
    /// all have been looked into.
    pub fn explore(&mut self, start: Pair, look: &dyn Fn(Pair) -> Looked, differs: &dyn Fn(Pair) -> bool) {
        if self.numbers.contains_key(&start) {
            return;
        }
        let (first, first_link) = (self.nodes.len(), self.links.len());
        self.number(start);
        let mut at = first;
        while at < self.nodes.len() {
            let begin = self.links.len() as u32;
            let Looked { outcome, by_place } = look(self.nodes[at].pair);
            self.nodes[at].by_place = by_place;
            for (edge, (_, next)) in outcome.leads_to.iter().enumerate() {
                let to = self.number(*next);
                self.links.push(Link { from: at as u32, to, edge: edge as u32, by_place: false });
            }
            self.nodes[at].links = begin..self.links.len() as u32;
            at += 1;
        }
        for node in &mut self.nodes[first..] {
            node.differs = differs(node.pair);
            node.alive = node.differs;
        }
        self.spread_life(first_link);
        self.prune(first);
    }

    fn number(&mut self, pair: Pair) -> u32 {
        *self.numbers.entry(pair).or_insert_with(|| {
            self.nodes.push(Node { pair, links: 0..0, differs: false, alive: false, by_place: false });
            self.nodes.len() as u32 - 1
        })
    }

    /// Whatever leads to what is alive is alive, as far as the links from a number on say so: those before are done with.
    fn spread_life(&mut self, first_link: usize) {
        // The links that lead to each node, one behind the other.
        let mut last_to = vec![NONE; self.nodes.len()];
        let mut before = Vec::with_capacity(self.links.len() - first_link);
        let mut waiting = Vec::new();
        for (at, link) in self.links[first_link..].iter().enumerate() {
            let last = &mut last_to[link.to as usize];
            if *last == NONE && self.nodes[link.to as usize].alive {
                waiting.push(link.to);
            }
            before.push(*last);
            *last = at as u32;
        }
        while let Some(node) = waiting.pop() {
            let mut link = last_to[node as usize];
            while link != NONE {
                let from = self.links[first_link + link as usize].from;
                if !self.nodes[from as usize].alive {
                    self.nodes[from as usize].alive = true;
                    waiting.push(from);
                }
                link = before[link as usize];
            }
        }
    }

    /// Forgets the links to what leads to nothing that differs.
    fn prune(&mut self, first: usize) {
        let begin = |node: &Node| node.links.start as usize;
        let mut kept = self.nodes.get(first).map_or(self.links.len(), begin);
        for at in first..self.nodes.len() {
            let links = self.nodes[at].links.clone();
            let start = kept as u32;
            for link in links {
                let link = self.links[link as usize];
                let to = &self.nodes[link.to as usize];
                if to.alive {
                    self.links[kept] = Link { by_place: to.by_place, ..link };
                    kept += 1;
                }
            }
            self.nodes[at].links = start..kept as u32;
        }
        self.links.truncate(kept);
    }

    /// All pairs on ways from one to what differs, nearest first. What is another matter in each place is there once for
    /// each pair that leads to it.
    pub fn reach(&self, start: Pair) -> Reach<'_> {
        let mut reach = Reach { graph: self, steps: Vec::new(), differing: Vec::new() };
        let Some(start) = self.numbers.get(&start).filter(|start| self.nodes[**start as usize].alive) else {
            return reach;
        };
        let mut seen = vec![false; self.nodes.len()];
        seen[*start as usize] = true;
        reach.steps.push(Step { node: *start, before: NONE, edge: NONE, depth: 0 });
        let mut at = 0;
        while at < reach.steps.len() {
            let Step { node, depth, .. } = reach.steps[at];
            let node = &self.nodes[node as usize];
            if node.differs {
                reach.differing.push(at);
            }
            for link in &self.links[node.links.start as usize..node.links.end as usize] {
                let seen = std::mem::replace(&mut seen[link.to as usize], true);
                if !seen || link.by_place {
                    reach.steps.push(Step {
                        node: link.to,
                        before: at as u32,
                        edge: link.edge,
                        depth: depth + 1,
                    });
                }
            }
            at += 1;
        }
        reach
    }
}

/// The pairs that one leads to, nearest first.
pub(crate) struct Reach<'g> {
    graph: &'g Graph,
    steps: Vec<Step>,
    /// The places among them where something differs.
    pub differing: Vec<usize>,
}

/// A pair on the way.
#[derive(Clone, Copy)]
struct Step {
    node: u32,
    /// The place of the one before it, and the edge that leads here from that.
    before: u32,
    edge: u32,
    /// How many there are before it.
    depth: u32,
}

impl Reach<'_> {
    /// How many pairs there are on the way to a place.
    pub fn depth(&self, place: usize) -> usize {
        self.steps[place].depth as usize
    }

    /// The pair at a place.
    pub fn pair(&self, place: usize) -> Pair {
        self.graph.nodes[self.steps[place].node as usize].pair
    }

    /// Whether what differs at a place is another matter for each pair that leads to it.
    pub fn is_by_place(&self, place: usize) -> bool {
        self.graph.nodes[self.steps[place].node as usize].by_place
    }

    /// The pair at a place, the one before it, and so on up to the first.
    pub fn upwards(&self, place: usize) -> impl Iterator<Item = Pair> {
        self.steps_up(place).map(|step| self.graph.nodes[step.node as usize].pair)
    }

    fn steps_up(&self, place: usize) -> impl Iterator<Item = Step> {
        let before = |step: &Step| self.steps.get(step.before as usize).copied();
        std::iter::successors(Some(self.steps[place]), before)
    }

    /// The way to a place, from the beginning: the last is the pair there.
    pub fn way(&self, place: usize) -> Vec<Reached> {
        let mut steps: Vec<Step> = self.steps_up(place).collect();
        steps.reverse();
        let reached = |(at, step): (usize, &Step)| Reached {
            pair: self.graph.nodes[step.node as usize].pair,
            from: at.checked_sub(1).map(|before| (before, step.edge as usize)),
        };
        steps.iter().enumerate().map(reached).collect()
    }
}
