//! Wildcards (Part 1, 3.10), and what they come to put together: union, intersection and subset of what they let in (3.10.6).

use std::sync::Arc;

use charter_source::Place;

/// An element or attribute wildcard (Part 1, 3.10).
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Wildcard {
    /// The namespaces it lets in.
    pub namespaces: NamespaceConstraint,
    /// How what it lets in is judged.
    pub process: Process,
    /// Where it stands.
    pub place: Place,
}

/// The namespaces that a wildcard lets in; an empty name stands for names in no namespace.
#[derive(Debug, Clone, PartialEq, Eq, Hash)]
pub enum NamespaceConstraint {
    /// All.
    Any,
    /// All but this one, and not names in no namespace.
    Not(Arc<str>),
    /// These.
    OneOf(Vec<Arc<str>>),
}

/// How strictly what a wildcard lets in is judged.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Process {
    /// There must be a declaration.
    Strict,
    /// By its declaration, if there is one.
    Lax,
    /// Not at all.
    Skip,
}
impl NamespaceConstraint {
    /// Whether a name in `namespace` is let in (Part 1, 3.10.4, cvc-wildcard-namespace).
    pub fn allows(&self, namespace: &str) -> bool {
        match self {
            NamespaceConstraint::Any => true,
            NamespaceConstraint::Not(not) => !namespace.is_empty() && **not != *namespace,
            NamespaceConstraint::OneOf(these) => these.iter().any(|this| **this == *namespace),
        }
    }
}

impl NamespaceConstraint {
    fn has(set: &[Arc<str>], namespace: &str) -> bool {
        set.iter().any(|this| **this == *namespace)
    }

    /// Whether everything that this lets in is let in by the other (cos-ns-subset).
    pub fn within(&self, other: &NamespaceConstraint) -> bool {
        use NamespaceConstraint::{Any, Not, OneOf};
        match (self, other) {
            (_, Any) => true,
            (Any, _) => false,
            (Not(a), Not(b)) => a == b,
            (Not(_), OneOf(_)) => false,
            (OneOf(set), OneOf(larger)) => set.iter().all(|this| Self::has(larger, this)),
            (OneOf(set), Not(not)) => !Self::has(set, not) && !Self::has(set, ""),
        }
    }

    /// What either lets in (cos-aw-union); `None` if no wildcard says that.
    pub fn union(&self, other: &NamespaceConstraint) -> Option<NamespaceConstraint> {
        use NamespaceConstraint::{Any, Not, OneOf};
        Some(match (self, other) {
            (Any, _) | (_, Any) => Any,
            (OneOf(a), OneOf(b)) => {
                let more = b.iter().filter(|this| !Self::has(a, this));
                OneOf(a.iter().chain(more).cloned().collect())
            }
            (Not(a), Not(b)) if a == b => self.clone(),
            (Not(_), Not(_)) => Not("".into()),
            (Not(not), OneOf(set)) | (OneOf(set), Not(not)) => {
                match (Self::has(set, not), Self::has(set, ""), not.is_empty()) {
                    (_, true, true) | (true, true, _) => Any,
                    (_, false, true) | (true, false, _) => Not("".into()),
                    (false, true, false) => return None,
                    (false, false, false) => Not(not.clone()),
                }
            }
        })
    }

    /// What both let in (cos-aw-intersect); `None` if no wildcard says that.
    pub fn intersection(&self, other: &NamespaceConstraint) -> Option<NamespaceConstraint> {
        use NamespaceConstraint::{Any, Not, OneOf};
        Some(match (self, other) {
            (Any, it) | (it, Any) => it.clone(),
            (OneOf(a), OneOf(b)) => OneOf(a.iter().filter(|this| Self::has(b, this)).cloned().collect()),
            (Not(a), Not(b)) if a == b => self.clone(),
            (Not(a), Not(b)) if a.is_empty() => Not(b.clone()),
            (Not(a), Not(b)) if b.is_empty() => Not(a.clone()),
            (Not(_), Not(_)) => return None,
            (Not(not), OneOf(set)) | (OneOf(set), Not(not)) => {
                let left = set.iter().filter(|this| **this != *not && !this.is_empty());
                OneOf(left.cloned().collect())
            }
        })
    }

    /// Whether some name is let in by both.
    pub fn meets(&self, other: &NamespaceConstraint) -> bool {
        use NamespaceConstraint::OneOf;
        match (self, other) {
            (OneOf(set), it) | (it, OneOf(set)) => set.iter().any(|namespace| it.allows(namespace)),
            // Each of the others leaves endlessly many namespaces.
            _ => true,
        }
    }
}

impl Process {
    /// Whether this is at least as strict as the other.
    pub fn covers(self, other: Process) -> bool {
        let rank = |process| match process {
            Process::Skip => 0,
            Process::Lax => 1,
            Process::Strict => 2,
        };
        rank(self) >= rank(other)
    }
}

impl Wildcard {
    /// The wildcard of `anyType`: everything, judged where it can be.
    pub(crate) fn anything() -> Wildcard {
        Wildcard {
            namespaces: NamespaceConstraint::Any,
            process: Process::Lax,
            place: charter_source::Place::default(),
        }
    }

    /// This wildcard with other namespaces.
    pub(crate) fn letting(&self, namespaces: NamespaceConstraint) -> Wildcard {
        Wildcard { namespaces, ..self.clone() }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use NamespaceConstraint::{Any, Not, OneOf};

    fn one_of(names: &[&str]) -> NamespaceConstraint {
        OneOf(names.iter().map(|name| Arc::from(*name)).collect())
    }

    fn all() -> Vec<NamespaceConstraint> {
        let mut all = vec![Any, Not("".into()), Not("a".into()), Not("b".into())];
        all.extend([&[][..], &[""], &["a"], &["", "a"], &["a", "b"], &["", "b"]].map(one_of));
        all
    }

    #[test]
    fn union_and_intersection_mean_what_they_say() {
        for a in all() {
            for b in all() {
                for namespace in ["", "a", "b", "c"] {
                    let (in_a, in_b) = (a.allows(namespace), b.allows(namespace));
                    if let Some(union) = a.union(&b) {
                        assert_eq!(union.allows(namespace), in_a || in_b, "{a:?} {b:?} {namespace}");
                    }
                    if let Some(both) = a.intersection(&b) {
                        assert_eq!(both.allows(namespace), in_a && in_b, "{a:?} {b:?} {namespace}");
                    }
                    assert!(!a.within(&b) || !in_a || in_b, "{a:?} {b:?} {namespace}");
                    assert!(a.meets(&b) || !(in_a && in_b), "{a:?} {b:?} {namespace}");
                }
            }
        }
    }

    #[test]
    fn what_no_wildcard_says() {
        assert_eq!(Not("a".into()).union(&one_of(&[""])), None);
        assert_eq!(Not("a".into()).intersection(&Not("b".into())), None);
        assert_eq!(Not("a".into()).union(&Not("b".into())), Some(Not("".into())));
        assert_eq!(Not("a".into()).union(&one_of(&["a", ""])), Some(Any));
    }
}
