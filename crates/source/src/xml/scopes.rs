//! Which prefix means which namespace, where.

use crate::Map;

/// No scope, or no namespace.
pub(super) const NONE: u32 = u32::MAX;
/// So many declarations are looked through one by one.
const FEW: usize = 8;

/// A stretch of what a document keeps: its text, then the texts of its entities, then what was decoded.
pub(super) type Stretch = (u32, u32);

/// A declaration of a prefix; the default namespace has an empty one.
#[derive(Debug, Clone, Copy)]
pub(super) struct Declaration {
    pub prefix: Stretch,
    /// The namespace, or [`NONE`] where the default one is taken back.
    pub namespace: u32,
}

/// What one element declares, within what is declared around it.
#[derive(Debug, Clone, Copy)]
pub(super) struct Scope {
    pub around: u32,
    from: u32,
    to: u32,
    /// Where its declarations stand in the order of their prefixes, if they are many.
    sorted: u32,
}

/// All scopes of a document.
#[derive(Debug, Default)]
pub(super) struct Scopes {
    scopes: Vec<Scope>,
    declarations: Vec<Declaration>,
    sorted: Vec<u32>,
    /// The namespaces by their names, each once.
    pub namespaces: Vec<Stretch>,
}

impl Scopes {
    /// A scope with these declarations.
    pub fn add<'s>(
        &mut self,
        around: u32,
        declarations: &[Declaration],
        text: impl Fn(Stretch) -> &'s str,
    ) -> u32 {
        let from = self.declarations.len() as u32;
        self.declarations.extend_from_slice(declarations);
        let to = self.declarations.len() as u32;
        let mut sorted = NONE;
        if declarations.len() > FEW {
            let start = self.sorted.len();
            self.sorted.extend(from..to);
            let of = |index: &u32| text(declarations[(*index - from) as usize].prefix);
            self.sorted[start..].sort_by(|a, b| of(a).cmp(of(b)));
            sorted = start as u32;
        }
        self.scopes.push(Scope { around, from, to, sorted });
        self.scopes.len() as u32 - 1
    }

    pub fn around(&self, scope: u32) -> u32 {
        self.scopes[scope as usize].around
    }

    /// What a scope declares itself.
    pub fn declared(&self, scope: u32) -> &[Declaration] {
        let scope = &self.scopes[scope as usize];
        &self.declarations[scope.from as usize..scope.to as usize]
    }

    /// What a prefix means in a scope.
    pub fn find<'s>(
        &self,
        mut scope: u32,
        prefix: &str,
        text: impl Fn(Stretch) -> &'s str,
    ) -> Option<Declaration> {
        while scope != NONE {
            let known = &self.scopes[scope as usize];
            let declared = &self.declarations[known.from as usize..known.to as usize];
            let found = if known.sorted == NONE {
                declared.iter().find(|it| text(it.prefix) == prefix)
            } else {
                let start = known.sorted as usize;
                let sorted = &self.sorted[start..start + declared.len()];
                let of = |index: &u32| text(self.declarations[*index as usize].prefix);
                let at = sorted.binary_search_by(|index| of(index).cmp(prefix)).ok();
                at.map(|at| &self.declarations[sorted[at] as usize])
            };
            if let Some(found) = found {
                return Some(*found);
            }
            scope = known.around;
        }
        None
    }
}

/// What the prefixes mean at the place that is being read.
#[derive(Debug, Default)]
pub(super) struct Current<'s> {
    /// Each declaration with the one of the same prefix that it hides.
    declared: Vec<(&'s str, Declaration, Option<usize>)>,
    latest: Map<&'s str, usize>,
}

impl<'s> Current<'s> {
    pub fn len(&self) -> usize {
        self.declared.len()
    }

    pub fn push(&mut self, prefix: &'s str, declaration: Declaration) {
        let hidden = self.latest.insert(prefix, self.declared.len());
        self.declared.push((prefix, declaration, hidden));
    }

    /// What was declared since there were so many declarations.
    pub fn since(&self, length: usize) -> Vec<Declaration> {
        self.declared[length..].iter().map(|(_, declaration, _)| *declaration).collect()
    }

    /// Whether a prefix was declared since then.
    pub fn declares(&self, length: usize, prefix: &str) -> bool {
        self.declared.len() > length && self.latest.get(prefix).is_some_and(|index| *index >= length)
    }

    /// Forgets all but the first declarations.
    pub fn truncate(&mut self, length: usize) {
        while self.declared.len() > length {
            if let Some((prefix, _, hidden)) = self.declared.pop() {
                match hidden {
                    Some(index) => _ = self.latest.insert(prefix, index),
                    None => _ = self.latest.remove(prefix),
                }
            }
        }
    }

    /// What a prefix means; [`NONE`] if it means no namespace, nothing if it is not declared.
    pub fn find(&self, prefix: &str) -> Option<u32> {
        if self.declared.len() <= FEW {
            return self.declared.iter().rev().find(|it| it.0 == prefix).map(|it| it.1.namespace);
        }
        self.latest.get(prefix).map(|index| self.declared[*index].1.namespace)
    }
}

/// The namespace of the prefix `xml`, which needs no declaration.
pub(super) const XML_NAMESPACE: u32 = u32::MAX - 1;
