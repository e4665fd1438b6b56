//! Finds the edges that close a circle, so that whoever follows references comes to an end.

/// The edges `(node, edge)` that lead back to a node they came from. Without them the graph has no circle.
/// `successors` lists the targets of a node's edges; an edge that leads nowhere is `None`.
pub(crate) fn back_edges(
    nodes: usize,
    mut successors: impl FnMut(usize) -> Vec<Option<usize>>,
) -> Vec<(usize, usize)> {
    #[derive(Clone, Copy, PartialEq)]
    enum State {
        New,
        Open,
        Done,
    }
    let mut states = vec![State::New; nodes];
    let mut found = Vec::new();
    for start in 0..nodes {
        if states[start] != State::New {
            continue;
        }
        states[start] = State::Open;
        // Node, its edges, and the next edge to follow: a stack on the heap, since chains may be long.
        let mut path = vec![(start, successors(start), 0)];
        while let Some((node, edges, next)) = path.last_mut() {
            let Some(target) = edges.get(*next) else {
                states[*node] = State::Done;
                path.pop();
                continue;
            };
            let edge = (*node, *next);
            *next += 1;
            match target.map(|target| (target, states[target])) {
                Some((_, State::Open)) => found.push(edge),
                Some((target, State::New)) => {
                    states[target] = State::Open;
                    path.push((target, successors(target), 0));
                }
                _ => {}
            }
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::back_edges;

    #[test]
    fn a_circle_is_cut_once_and_a_long_chain_is_none() {
        let circle = back_edges(3, |node| vec![Some((node + 1) % 3)]);
        assert_eq!(circle, [(2, 0)]);
        assert_eq!(back_edges(1, |_| vec![None, Some(0)]), [(0, 1)]);
        assert!(back_edges(100_000, |node| vec![(node < 99_999).then_some(node + 1)]).is_empty());
    }
}
