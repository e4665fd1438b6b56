//! Pairs what two versions have by name, and what goes by another name by what it is.

use std::hash::Hash;

use charter_source::{Map, Set};

use crate::report::Confidence;

/// Pairs the members of two lists by a key, in their orders: those in both, only in the old, only in the new.
/// Of several with one key, the first goes with the first.
pub(crate) fn pair<K: Copy + Eq + Hash, T: Copy>(
    old: &[(K, T)],
    new: &[(K, T)],
) -> (Vec<(T, T)>, Vec<T>, Vec<T>) {
    let (places, taken) = places(old, new);
    let (mut both, mut gone) = (Vec::new(), Vec::new());
    for ((_, member), place) in old.iter().zip(places) {
        match place {
            Some(place) => both.push((*member, new[place as usize].1)),
            None => gone.push(*member),
        }
    }
    (both, gone, left(new, &taken))
}

/// Only those in one list alone: only in the old, only in the new.
pub(crate) fn apart<K: Copy + Eq + Hash, T: Copy>(old: &[(K, T)], new: &[(K, T)]) -> (Vec<T>, Vec<T>) {
    let (places, taken) = places(old, new);
    let gone = old.iter().zip(places).filter(|(_, place)| place.is_none());
    (gone.map(|((_, member), _)| *member).collect(), left(new, &taken))
}

fn left<K, T: Copy>(new: &[(K, T)], taken: &[bool]) -> Vec<T> {
    new.iter().zip(taken).filter(|(_, taken)| !**taken).map(|((_, member), _)| *member).collect()
}

/// Where in the new list each member of the old one is, and which members of the new one are in the old.
fn places<K: Copy + Eq + Hash, T>(old: &[(K, T)], new: &[(K, T)]) -> (Vec<Option<u32>>, Vec<bool>) {
    // The first of each key, and of each the next of the same key.
    let mut first: Map<K, u32> = Map::default();
    let mut next: Vec<Option<u32>> = vec![None; new.len()];
    for (index, (key, _)) in new.iter().enumerate().rev() {
        next[index] = first.insert(*key, index as u32);
    }
    let mut taken = vec![false; new.len()];
    let mut place = |key: &K| {
        let at = first.remove(key)?;
        taken[at as usize] = true;
        if let Some(next) = next[at as usize] {
            first.insert(*key, next);
        }
        Some(at)
    };
    let places = old.iter().map(|(key, _)| place(key)).collect();
    (places, taken)
}

/// Keys as slices, as [`pair`] takes them.
pub(crate) fn borrow<T: Copy>(keys: &[(String, T)]) -> Vec<(&str, T)> {
    keys.iter().map(|(key, value)| (key.as_str(), *value)).collect()
}

/// Pairs that are held against each other by how they are built, whatever they are called.
pub(crate) const MOST_LOOKED_AT: usize = 2_500;

/// One thing under two names.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Alike<T> {
    pub old: T,
    pub new: T,
    pub confidence: Confidence,
}

/// Takes pairs out of two lists that are one thing under two names, by the first test, then by the next. Of several that
/// fit, the first is taken.
pub(crate) fn renamed<T: Copy>(
    gone: &mut Vec<T>,
    come: &mut Vec<T>,
    tests: &[&dyn Fn(T, T) -> bool],
) -> Vec<Alike<T>> {
    let mut found = Vec::new();
    for fits in tests {
        gone.retain(|old| {
            let fitting: Vec<usize> = (0..come.len()).filter(|at| fits(*old, come[*at])).collect();
            let Some(first) = fitting.first() else { return true };
            let confidence = if fitting.len() == 1 { Confidence::Sure } else { Confidence::Likely };
            found.push(Alike { old: *old, new: come.remove(*first), confidence });
            false
        });
    }
    found
}

/// The same by what tells them apart, each as a text: one pass over both lists.
pub(crate) fn renamed_by_key<K: Eq + Hash, T: Copy>(
    gone: &mut Vec<T>,
    come: &mut Vec<T>,
    old_key: &dyn Fn(T) -> Option<K>,
    new_key: &dyn Fn(T) -> Option<K>,
) -> Vec<Alike<T>> {
    let mut places: Map<K, Vec<usize>> = Map::default();
    // The last is taken first from each list of places.
    for (at, member) in come.iter().enumerate().rev() {
        if let Some(key) = new_key(*member) {
            places.entry(key).or_default().push(at);
        }
    }
    let mut taken: Set<usize> = Set::default();
    let mut found = Vec::new();
    gone.retain(|old| {
        let Some(fitting) = old_key(*old).and_then(|key| places.get_mut(&key)) else { return true };
        let confidence = if fitting.len() == 1 { Confidence::Sure } else { Confidence::Likely };
        let Some(at) = fitting.pop() else { return true };
        taken.insert(at);
        found.push(Alike { old: *old, new: come[at], confidence });
        false
    });
    let mut at = 0;
    come.retain(|_| {
        at += 1;
        !taken.contains(&(at - 1))
    });
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pairs_are_found_by_the_first_test_that_fits() {
        let (mut gone, mut come) = (vec![10, 25, 31, 47], vec![11, 24, 95, 33]);
        let tens = |a: i32, b: i32| a / 10 == b / 10;
        let ones = |a: i32, b: i32| a % 10 == b % 10 || (a % 2 == 1 && b == 95);
        let found = renamed(&mut gone, &mut come, &[&tens, &ones]);
        let pairs: Vec<(i32, i32)> = found.iter().map(|alike| (alike.old, alike.new)).collect();
        assert_eq!(pairs, [(10, 11), (25, 24), (31, 33), (47, 95)]);
        assert!(gone.is_empty() && come.is_empty());
        assert!(found.iter().all(|alike| alike.confidence == Confidence::Sure));
    }

    #[test]
    fn by_keys_the_same_is_found_in_one_pass() {
        let (mut gone, mut come) = (vec![10, 11, 25, 47], vec![24, 13, 15, 99]);
        let tens = |number: i32| (number < 90).then(|| (number / 10).to_string());
        let found = renamed_by_key(&mut gone, &mut come, &tens, &tens);
        let told: Vec<(i32, i32, &str)> =
            found.iter().map(|alike| (alike.old, alike.new, alike.confidence.name())).collect();
        assert_eq!(told, [(10, 13, "likely"), (11, 15, "sure"), (25, 24, "sure")]);
        assert_eq!((gone, come), (vec![47], vec![99]));
    }

    #[test]
    fn of_several_that_fit_the_first_is_likely() {
        let (mut gone, mut come) = (vec![1, 2], vec![3, 4]);
        let found = renamed(&mut gone, &mut come, &[&|_, _| true]);
        let told: Vec<(i32, i32, &str)> =
            found.iter().map(|alike| (alike.old, alike.new, alike.confidence.name())).collect();
        assert_eq!(told, [(1, 3, "likely"), (2, 4, "sure")]);
    }

    #[test]
    fn members_of_one_key_are_paired_in_their_order() {
        let old = [("quay", 1), ("pier", 2), ("quay", 3), ("lock", 4), ("quay", 5)];
        let new = [("quay", 10), ("gate", 20), ("quay", 30), ("pier", 40)];
        let (both, gone, come) = pair(&old, &new);
        assert_eq!(both, [(1, 10), (2, 40), (3, 30)]);
        assert_eq!((&gone, &come), (&vec![4, 5], &vec![20]));
        assert_eq!(apart(&old, &new), (gone, come));
        assert_eq!(apart(&new, &old), (vec![20], vec![4, 5]));
        assert_eq!(pair::<&str, u8>(&[], &[]), (vec![], vec![], vec![]));
    }
}
