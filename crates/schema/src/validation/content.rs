//! The elements in an element: each is led through the content model (Part 1, 3.4.4, cvc-complex-type.2;
//! 3.8.4, cvc-model-group; 3.9.4, cvc-particle; 3.10.4, cvc-wildcard).

use charter_source::{Node, nearest, tag_place};

use super::{Assess, Validator};
use crate::engine::{Leaf, Model, Symbol, Walk, quoted};
use crate::{ElementId, NamespaceConstraint, Process, TypeId, Wildcard};

/// Nodes in an element that is held against another's type.
const MOST_COMPARED: usize = 5_000;
/// How many of the names that would be right are shown.
pub(super) const SHOWN: usize = 6;

impl<'v, 'd> Validator<'v, 'd> {
    pub(super) fn content(&mut self, node: Node<'d>, ty: TypeId, mixed: bool) {
        let engine = self.engine;
        let model = engine.model(ty);
        if let Some(fitting) = model.and_then(|model| self.many_fitting(node, model, mixed)) {
            return self.side_by_side(&fitting);
        }
        let mut walk = model.map(|model| Walk::new(model));
        let mut astray = false;
        for child in node.children() {
            if child.is_text() {
                self.stray_text(node, child, mixed);
            }
            if !child.is_element() {
                continue;
            }
            match &mut walk {
                None => self.element(child, Assess::Lax),
                Some(_) if astray => self.guessed(child, ty),
                Some(walk) => astray = !self.child(child, node, walk, ty),
            }
        }
        if let (Some(walk), false) = (&walk, astray)
            && !walk.complete()
        {
            let (expected, _) = self.expected(walk, node);
            let message = format!("{} ends too early", quoted(node.tag_name().name()));
            let help = format!("go on with {expected}");
            self.wrong("cvc-complex-type", tag_place(self.file, node), node, None, message, help);
        }
    }

    fn stray_text(&mut self, node: Node<'d>, child: Node<'d>, mixed: bool) {
        let text = child.text().unwrap_or("");
        if mixed || is_space(text) {
            return;
        }
        // Only the words, not the white space around them.
        let range = child.range();
        let written = &child.document().input_text()[range.clone()];
        let start = range.start + (written.len() - written.trim_start().len());
        let span = charter_source::Span::new(start, start + written.trim().len());
        let place = charter_source::Place { file: self.file, span };
        let message = format!("{} holds elements, not text", quoted(node.tag_name().name()));
        self.wrong(
            "cvc-complex-type",
            place,
            node,
            None,
            message,
            "remove the text, or put it into an element",
        );
    }

    /// Leads a child through the model; whether it fitted.
    fn child(&mut self, child: Node<'d>, parent: Node<'d>, walk: &mut Walk<'_>, ty: TypeId) -> bool {
        match walk.step(&self.symbol(child)) {
            Some(Leaf::Element(decl)) => self.element(child, Assess::By(decl)),
            Some(Leaf::Any(wildcard)) => self.through(child, wildcard),
            None if walk.lost() => self.guessed(child, ty),
            None => match self.renamed(child, parent, walk) {
                Some(decl) => self.by_another_name(child, decl, walk),
                None => {
                    self.unexpected(child, parent, walk);
                    self.guessed(child, ty);
                    return false;
                }
            },
        }
        true
    }

    /// The declaration of an element that is wanted here and missing, and whose content this child has under another
    /// name.
    fn renamed(&self, child: Node<'d>, parent: Node<'d>, walk: &Walk<'_>) -> Option<ElementId> {
        let judged = self.report.admits() && child.children().any(|inner| inner.is_element());
        if !judged || child.descendants().nth(MOST_COMPARED).is_some() {
            return None;
        }
        let schemas = self.engine.schemas;
        let there = |id: ElementId| {
            let name = &schemas.elements[id].name;
            parent.children().any(|other| other.tag_name().name() == &*name.local)
        };
        walk.expected(SHOWN + 1).into_iter().find_map(|leaf| match leaf {
            Leaf::Element(id) if !there(id) && schemas.complex(schemas.element_type(id)).is_some() => {
                let mut trial = Validator::new(self.engine, self.file, 0);
                trial.element(child, Assess::As(schemas.element_type(id)));
                (trial.report.count == 0).then_some(id)
            }
            _ => None,
        })
    }

    /// Says that an element has another name, and goes on as if it had the right one.
    fn by_another_name(&mut self, child: Node<'d>, decl: ElementId, walk: &mut Walk<'_>) {
        let engine = self.engine;
        let name = &engine.schemas.elements[decl].name;
        let message = format!("{} has no place here", self.shown_name(child, walk));
        let help = format!("it holds what {} holds, which is missing: was it renamed?", quoted(&name.local));
        self.wrong("cvc-complex-type", tag_place(self.file, child), child, None, message, help);
        walk.step(&engine.symbol(&name.namespace, &name.local));
        self.element(child, Assess::As(engine.schemas.element_type(decl)));
    }

    /// A child as a content model sees it.
    pub(super) fn symbol(&self, child: Node<'d>) -> Symbol<'v>
    where
        'd: 'v,
    {
        let key = self.key_of(child);
        let engine = self.engine;
        let global = match key {
            Some(key) if engine.has_substitutes() => engine.global_element(key),
            _ => None,
        };
        Symbol {
            key,
            namespace: child.tag_name().namespace().unwrap_or(""),
            global,
            heads: global.map_or(&[], |id| engine.heads(id)),
        }
    }

    /// An element that a wildcard lets in.
    fn through(&mut self, child: Node<'d>, wildcard: &Wildcard) {
        match wildcard.process {
            Process::Skip => {}
            Process::Lax => self.element(child, Assess::Lax),
            Process::Strict => self.element(child, Assess::Strict),
        }
    }

    /// Judges a child of content that has gone astray by the declaration that it most likely means.
    fn guessed(&mut self, child: Node<'d>, ty: TypeId) {
        let known = self.engine.model(ty).zip(self.key_of(child));
        let decl = known.and_then(|(model, key)| model.declared(key));
        self.element(child, decl.map_or(Assess::Lax, Assess::By));
    }

    fn unexpected(&mut self, child: Node<'d>, parent: Node<'d>, walk: &Walk<'_>) {
        if !self.report.admits() {
            self.report.count += 1;
            return;
        }
        let name = child.tag_name().name();
        let (expected, names) = self.expected(walk, child);
        let message = format!("{} has no place here", self.shown_name(child, walk));
        let help = match nearest(name, names.iter().map(String::as_str)) {
            Some(near) if near != name => format!("did you mean \"{near}\"?"),
            _ if expected.is_empty() => {
                format!("{} is complete: remove it", quoted(parent.tag_name().name()))
            }
            _ if walk.complete() => format!("here may stand {expected}, or nothing more"),
            _ => format!("here must stand {expected}"),
        };
        self.wrong("cvc-complex-type", tag_place(self.file, child), child, None, message, help);
    }

    /// The name of a child, with its namespace where nothing of that namespace could stand.
    fn shown_name(&self, child: Node<'_>, walk: &Walk<'_>) -> String {
        let name = child.tag_name();
        let namespace = name.namespace().unwrap_or("");
        let leaves = walk.expected(SHOWN + 1);
        let known = leaves.iter().any(|leaf| match leaf {
            Leaf::Element(id) => *self.engine.schemas.elements[*id].name.namespace == *namespace,
            Leaf::Any(_) => false,
        });
        match namespace {
            _ if known || leaves.is_empty() => quoted(name.name()),
            "" => format!("{} without a namespace", quoted(name.name())),
            namespace => format!("{} of {namespace}", quoted(name.name())),
        }
    }

    /// What may come next, in words, and the names among it.
    fn expected(&self, walk: &Walk<'_>, near: Node<'_>) -> (String, Vec<String>) {
        let leaves = walk.expected(SHOWN + 1);
        let mut words = Vec::new();
        let mut names = Vec::new();
        for leaf in &leaves {
            match leaf {
                Leaf::Element(id) => {
                    let name = &self.engine.schemas.elements[*id].name;
                    names.push(name.local.to_string());
                    let namespace = near.tag_name().namespace().unwrap_or("");
                    let elsewhere = near.tag_name().name() == &*name.local && *name.namespace != *namespace;
                    words.push(match &*name.namespace {
                        "" if elsewhere => format!("{} without a namespace", quoted(&name.local)),
                        other if elsewhere => format!("{} of {other}", quoted(&name.local)),
                        _ => quoted(&name.local),
                    });
                }
                Leaf::Any(wildcard) => words.push(wildcard_words(&wildcard.namespaces)),
            }
        }
        let more = words.len() > SHOWN;
        words.truncate(SHOWN);
        let mut text = words.join(" or ");
        if more {
            text.push_str(" or one of others");
        }
        (text, names)
    }
}

/// Whether a text is white space alone.
pub(super) fn is_space(text: &str) -> bool {
    text.bytes().all(|byte| matches!(byte, b' ' | b'\t' | b'\n' | b'\r'))
}

/// What a wildcard lets in.
pub(crate) fn wildcard_words(namespaces: &NamespaceConstraint) -> String {
    match namespaces {
        NamespaceConstraint::Any => "any element".into(),
        NamespaceConstraint::Not(not) if not.is_empty() => "an element of any namespace".into(),
        NamespaceConstraint::Not(not) => format!("an element of a namespace other than {not}"),
        NamespaceConstraint::OneOf(these) => {
            let name = |namespace: &std::sync::Arc<str>| match &**namespace {
                "" => "no namespace".to_owned(),
                other => other.to_owned(),
            };
            format!("an element of {}", these.iter().map(name).collect::<Vec<_>>().join(" or "))
        }
    }
}

impl Model {
    /// Whether the model has no particle at all.
    pub fn is_empty(&self) -> bool {
        self.root.is_none()
    }
}
