//! Arenas: components side by side, named by small typed numbers.

use std::fmt;
use std::hash::{Hash, Hasher};
use std::marker::PhantomData;
use std::num::NonZeroU32;
use std::ops::{Index, IndexMut};

/// The number of a component in its arena.
pub struct Id<T> {
    /// One more than the number, so that an `Option` of an id is no larger than the id.
    number: NonZeroU32,
    of: PhantomData<fn() -> T>,
}

impl<T> Id<T> {
    pub(crate) const fn new(number: u32) -> Self {
        Id { number: NonZeroU32::MIN.saturating_add(number), of: PhantomData }
    }

    /// The number, for tables beside the arena.
    pub fn index(self) -> usize {
        self.number.get() as usize - 1
    }
}

impl<T> Clone for Id<T> {
    fn clone(&self) -> Self {
        *self
    }
}

impl<T> Copy for Id<T> {}

impl<T> PartialEq for Id<T> {
    fn eq(&self, other: &Self) -> bool {
        self.number == other.number
    }
}

impl<T> Eq for Id<T> {}

impl<T> PartialOrd for Id<T> {
    fn partial_cmp(&self, other: &Self) -> Option<std::cmp::Ordering> {
        Some(self.cmp(other))
    }
}

impl<T> Ord for Id<T> {
    fn cmp(&self, other: &Self) -> std::cmp::Ordering {
        self.number.cmp(&other.number)
    }
}

impl<T> Hash for Id<T> {
    fn hash<H: Hasher>(&self, state: &mut H) {
        self.number.hash(state);
    }
}

impl<T> fmt::Debug for Id<T> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "#{}", self.index())
    }
}

/// Components of one kind, in the order in which they were read.
#[derive(Debug, Clone)]
pub struct Arena<T>(Vec<T>);

impl<T> Default for Arena<T> {
    fn default() -> Self {
        Arena(Vec::new())
    }
}

impl<T> Arena<T> {
    /// Adds a component.
    pub fn add(&mut self, component: T) -> Id<T> {
        self.0.push(component);
        Id::new(self.0.len() as u32 - 1)
    }

    /// Makes room for more.
    pub(crate) fn reserve(&mut self, more: usize) {
        self.0.reserve(more);
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.0.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// All components with their ids.
    pub fn iter(&self) -> impl DoubleEndedIterator<Item = (Id<T>, &T)> {
        self.0.iter().enumerate().map(|(number, component)| (Id::new(number as u32), component))
    }

    /// All ids.
    pub fn ids(&self) -> impl Iterator<Item = Id<T>> + use<T> {
        (0..self.0.len() as u32).map(Id::new)
    }
}

impl<T> Index<Id<T>> for Arena<T> {
    type Output = T;
    fn index(&self, id: Id<T>) -> &T {
        &self.0[id.index()]
    }
}

impl<T> IndexMut<Id<T>> for Arena<T> {
    fn index_mut(&mut self, id: Id<T>) -> &mut T {
        &mut self.0[id.index()]
    }
}
