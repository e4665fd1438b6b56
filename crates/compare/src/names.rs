//! Pairs what two versions have by name.

/// Pairs the members of two lists by a key, in their orders: those in both, only in the old, only in the new.
/// Of several with one key, the first goes with the first.
pub(crate) fn pair<'k, T: Copy>(old: &[(&'k str, T)], new: &[(&'k str, T)]) -> (Vec<(T, T)>, Vec<T>, Vec<T>) {
    let mut places: charter_source::Map<&str, std::collections::VecDeque<usize>> = Default::default();
    for (index, (key, _)) in new.iter().enumerate() {
        places.entry(key).or_default().push_back(index);
    }
    let mut taken = vec![false; new.len()];
    let (mut both, mut gone) = (Vec::new(), Vec::new());
    for (key, member) in old {
        match places.get_mut(key).and_then(std::collections::VecDeque::pop_front) {
            Some(index) => {
                taken[index] = true;
                both.push((*member, new[index].1));
            }
            None => gone.push(*member),
        }
    }
    let come = new.iter().zip(taken).filter(|(_, taken)| !taken).map(|((_, member), _)| *member).collect();
    (both, gone, come)
}

/// Keys as slices, as [`pair`] takes them.
pub(crate) fn borrow<T: Copy>(keys: &[(String, T)]) -> Vec<(&str, T)> {
    keys.iter().map(|(key, value)| (key.as_str(), *value)).collect()
}
