//! Finds the order in which elements stand that are only known by name and number: the values of a message do not say
//! it where its content model does.

use charter_schema::{Leaf, Model, Symbol, Walk};

/// Elements that are put in order by trying, if taking each as soon as it fits leads nowhere.
const MOST_TRIED: usize = 60;
/// Steps of such a search.
const MOST_STEPS: usize = 20_000;

/// Why there is no order.
pub(crate) struct Stuck<'m> {
    /// The walk as far as it led.
    pub walk: Walk<'m>,
    /// What may stand where no element fits.
    pub expected: Vec<Leaf<'m>>,
    /// The names that are left over.
    pub left: Vec<usize>,
}

/// An order of elements that fits a model: the number of a name for each place, and what it was matched to. `names` are
/// in the order of the model, each with how often it is there. The same names always get the same order.
pub(crate) fn arrange<'m>(
    model: &'m Model,
    names: &[(Symbol<'_>, usize)],
) -> Result<Vec<(usize, Leaf<'m>)>, Stuck<'m>> {
    let mut left: Vec<usize> = names.iter().map(|(_, count)| *count).collect();
    let all: usize = left.iter().sum();
    let mut walk = Walk::new(model);
    let mut order = Vec::with_capacity(all);
    let mut from = 0;
    while order.len() < all {
        // The next name in the order of the model that fits, the one before it first.
        let next = (0..names.len()).map(|step| (from + step) % names.len()).find_map(|at| {
            if left[at] == 0 {
                return None;
            }
            walk.step(&names[at].0).map(|leaf| (at, leaf))
        });
        let Some((at, leaf)) = next else { break };
        left[at] -= 1;
        from = at;
        order.push((at, leaf));
    }
    if order.len() == all && walk.complete() {
        return Ok(order);
    }
    if all <= MOST_TRIED {
        let mut remaining: Vec<usize> = names.iter().map(|(_, count)| *count).collect();
        let mut tried = Vec::new();
        let mut steps = 0;
        if search(&Walk::new(model), names, &mut remaining, &mut tried, &mut steps) {
            return Ok(tried);
        }
    }
    let left = (0..names.len()).filter(|at| left[*at] > 0).collect();
    Err(Stuck { expected: walk.expected(8), walk, left })
}

fn search<'m>(
    walk: &Walk<'m>,
    names: &[(Symbol<'_>, usize)],
    left: &mut [usize],
    order: &mut Vec<(usize, Leaf<'m>)>,
    steps: &mut usize,
) -> bool {
    if left.iter().all(|count| *count == 0) {
        return walk.complete();
    }
    for at in 0..names.len() {
        *steps += 1;
        if *steps > MOST_STEPS {
            return false;
        }
        if left[at] == 0 {
            continue;
        }
        let mut next = walk.clone();
        if let Some(leaf) = next.step(&names[at].0) {
            left[at] -= 1;
            order.push((at, leaf));
            if search(&next, names, left, order, steps) {
                return true;
            }
            order.pop();
            left[at] += 1;
        }
    }
    false
}
