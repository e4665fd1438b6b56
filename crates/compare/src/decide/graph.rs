//! Which pairs lead to which, and which of them lead to anything that differs. Each pair is looked into once, however many
//! messages hold it, and going through what a message leads to is a walk over numbers.

use std::ops::Range;
use std::sync::Arc;

use charter_schema::{Edge, Outcome, Pair, Reached};
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
    /// Looks into all pairs that a pair leads to by edges that are followed, and that nobody has looked into yet. `differs` is
    /// asked about them when all have been looked into.
    pub fn explore(
        &mut self,
        start: Pair,
        look: &dyn Fn(Pair) -> Looked,
        differs: &dyn Fn(Pair) -> bool,
        follows: &dyn Fn(Pair, &Edge, Pair) -> bool,
    ) {
        if self.numbers.contains_key(&start) {
            return;
        }
        let (first, first_link) = (self.nodes.len(), self.links.len());
        self.number(start);
        let mut at = first;
        while at < self.nodes.len() {
            let begin = self.links.len() as u32;
            let pair = self.nodes[at].pair;
            let Looked { outcome, by_place } = look(pair);
            self.nodes[at].by_place = by_place;
            let all = outcome.leads_to.iter().enumerate();
            for (edge, (_, next)) in all.filter(|(_, (edge, next))| follows(pair, edge, *next)) {
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

impl Reach<'_> {
    /// How many pairs there are.
    pub fn len(&self) -> usize {
        self.steps.len()
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

#[cfg(test)]
mod tests {
    use std::cell::RefCell;

    use charter_schema::{Builtin, TypeId};

    use super::*;

    /// Pairs by small numbers: types of the standard are at hand.
    fn pair(number: usize) -> Pair {
        let id: TypeId = Builtin::all().nth(number).unwrap().id();
        Pair::Types(id, id)
    }

    /// What stands where, and what was asked.
    struct World {
        links: &'static [(usize, &'static [usize])],
        differing: &'static [usize],
        by_place: &'static [usize],
        looked: RefCell<Vec<Pair>>,
        graph: Graph,
    }

    impl World {
        fn new(
            links: &'static [(usize, &'static [usize])],
            differing: &'static [usize],
            by_place: &'static [usize],
        ) -> World {
            World { links, differing, by_place, looked: RefCell::default(), graph: Graph::default() }
        }

        fn explore(&mut self, start: usize) {
            let World { links, differing, by_place, looked, graph } = self;
            let among = |list: &[usize], own: Pair| list.iter().any(|number| pair(*number) == own);
            let look = |own: Pair| {
                looked.borrow_mut().push(own);
                let to = links.iter().find(|(from, _)| pair(*from) == own).map_or(&[][..], |(_, to)| *to);
                let mut outcome = Outcome::default();
                outcome.leads_to.extend(to.iter().map(|to| (Edge::Same, pair(*to))));
                Looked { outcome: Arc::new(outcome), by_place: among(by_place, own) }
            };
            graph.explore(pair(start), &look, &|own| among(differing, own), &|_, _, _| true);
        }

        /// The ways to all that differs, each as numbers from the start.
        fn ways(&self, start: usize) -> Vec<Vec<usize>> {
            let reach = self.graph.reach(pair(start));
            let number = |own: Pair| (0..).find(|number| pair(*number) == own).unwrap();
            let way = |place: &usize| -> Vec<usize> {
                reach.way(*place).iter().map(|reached| number(reached.pair)).collect()
            };
            for place in &reach.differing {
                let mut upwards: Vec<Pair> = reach.upwards(*place).collect();
                upwards.reverse();
                assert_eq!(upwards, reach.way(*place).iter().map(|reached| reached.pair).collect::<Vec<_>>());
                assert_eq!(reach.depth(*place) + 1, upwards.len());
                assert_eq!(reach.pair(*place), *upwards.last().unwrap());
            }
            reach.differing.iter().map(way).collect()
        }
    }

    #[test]
    fn what_differs_is_reached_by_the_shortest_way() {
        let mut world = World::new(&[(0, &[1, 2]), (1, &[3]), (2, &[4]), (3, &[4]), (4, &[5])], &[4, 5], &[]);
        world.explore(0);
        assert_eq!(world.ways(0), [vec![0, 2, 4], vec![0, 2, 4, 5]]);
        assert_eq!(world.ways(3), [vec![3, 4], vec![3, 4, 5]]);
    }

    #[test]
    fn what_leads_to_nothing_that_differs_is_forgotten() {
        let mut world = World::new(&[(0, &[1, 2]), (1, &[3]), (2, &[4])], &[4], &[]);
        world.explore(0);
        assert_eq!(world.graph.links.len(), 2);
        assert_eq!(world.ways(0), [vec![0, 2, 4]]);
        assert!(world.ways(1).is_empty());
    }

    #[test]
    fn circles_come_to_an_end() {
        let mut world = World::new(&[(0, &[1]), (1, &[2, 0]), (2, &[1, 2])], &[0, 2], &[]);
        world.explore(0);
        assert_eq!(world.ways(0), [vec![0], vec![0, 1, 2]]);
        assert_eq!(world.ways(2), [vec![2], vec![2, 1, 0]]);
        // A circle in which nothing differs is forgotten as a whole.
        let mut world = World::new(&[(0, &[1]), (1, &[2]), (2, &[0])], &[], &[]);
        world.explore(0);
        assert!(world.graph.links.is_empty() && world.ways(0).is_empty());
    }

    #[test]
    fn a_second_start_looks_only_into_what_is_new() {
        let mut world = World::new(&[(0, &[1]), (1, &[2]), (3, &[1, 4]), (4, &[3])], &[2], &[]);
        world.explore(0);
        assert_eq!(*world.looked.borrow(), [pair(0), pair(1), pair(2)]);
        world.explore(3);
        assert_eq!(world.looked.borrow()[3..], [pair(3), pair(4)]);
        assert_eq!(world.ways(3), [vec![3, 1, 2]]);
        assert_eq!(world.ways(4), [vec![4, 3, 1, 2]]);
        world.explore(1);
        assert_eq!(world.looked.borrow().len(), 5);
    }

    #[test]
    fn what_is_another_matter_in_each_place_is_there_once_for_each() {
        let mut world = World::new(&[(0, &[1, 2, 3]), (1, &[4]), (2, &[4]), (3, &[5])], &[4], &[4]);
        world.explore(0);
        assert_eq!(world.ways(0), [vec![0, 1, 4], vec![0, 2, 4]]);
        let reach = world.graph.reach(pair(0));
        assert!(reach.differing.iter().all(|place| reach.is_by_place(*place)));
        // The same where it is the same matter everywhere.
        let mut world = World::new(&[(0, &[1, 2, 3]), (1, &[4]), (2, &[4]), (3, &[5])], &[4], &[]);
        world.explore(0);
        assert_eq!(world.ways(0), [vec![0, 1, 4]]);
    }

    #[test]
    fn nobody_knows_what_was_not_looked_into() {
        let world = World::new(&[(0, &[1])], &[1], &[]);
        assert!(world.ways(0).is_empty());
    }
}
