//! Identity constraints: unique, key and keyref (Part 1, 3.11.4, cvc-identity-constraint).
//!
//! A path is followed as a set of positions in its steps, one bit each, advanced by every element on the way down
//! and dropped on the way up. So each element costs as many steps as there are constraints open around it.

use std::rc::Rc;

use charter_source::NodeId;
use charter_source::{Map, Node, QName};

use crate::engine::Engine;
use crate::xpath::XPath;
use crate::{ConstraintId, ConstraintKind, ElementId, Value};

/// A constraint that is broken.
pub(super) struct Complaint<'d> {
    pub node: Node<'d>,
    pub message: String,
    pub help: String,
}

/// The paths of a constraint, ready to be followed.
struct Compiled {
    kind: ConstraintKind,
    selector: XPath,
    fields: Vec<XPath>,
}

/// The positions reached in each way of a path, one number a way, the innermost element last.
struct Trail {
    masks: Vec<u64>,
}

/// A constraint on an element that is open.
struct Scope<'d> {
    id: ConstraintId,
    compiled: Rc<Compiled>,
    depth: usize,
    trail: Trail,
    /// The values of keys and uniques so far.
    rows: Map<Vec<Value>, NodeId>,
    /// The values that keyrefs ask for.
    asked: Vec<(Vec<Value>, Node<'d>)>,
    number: usize,
}

/// An element that a selector found.
struct Target<'d> {
    scope: usize,
    compiled: Rc<Compiled>,
    node: Node<'d>,
    depth: usize,
    trails: Vec<Trail>,
    values: Vec<Option<Value>>,
    matched: Vec<bool>,
}

/// A field whose value is that of the element that is open at a depth, or of one of its attributes.
struct Waiting {
    depth: usize,
    target: NodeId,
    scope: usize,
    field: usize,
    /// The way of the field, for an attribute.
    way: Option<usize>,
}

/// Keys of a constraint below an element; `false` for one that stands in several places, and so means none.
type Table = Map<Vec<Value>, bool>;

/// All constraints that are open, and the keys found.
pub(super) struct Tables<'v, 'd> {
    engine: &'v Engine<'v>,
    compiled: Map<ConstraintId, Option<Rc<Compiled>>>,
    scopes: Vec<Scope<'d>>,
    targets: Vec<Target<'d>>,
    waiting: Vec<Waiting>,
    complaints: Vec<Complaint<'d>>,
    /// By depth, the keys below; kept only if there are keyrefs at all.
    levels: Vec<Map<ConstraintId, Table>>,
    keyrefs: bool,
    scopes_made: usize,
}

impl Trail {
    fn begin(path: &XPath) -> Trail {
        Trail { masks: vec![1; path.paths.len()] }
    }

    /// Goes down to an element.
    fn down(&mut self, path: &XPath, namespace: &str, local: &str) {
        let from = self.masks.len() - path.paths.len();
        for (number, way) in path.paths.iter().enumerate() {
            let before = self.masks[from + number];
            let mut after = u64::from(way.anywhere);
            for (at, step) in way.steps.iter().enumerate() {
                if before >> at & 1 == 1 && step.fits(namespace, local) {
                    after |= 1 << (at + 1);
                }
            }
            self.masks.push(after);
        }
    }

    fn up(&mut self, path: &XPath) {
        self.masks.truncate(self.masks.len() - path.paths.len());
    }

    /// The ways whose end is reached.
    fn reached<'p>(&'p self, path: &'p XPath) -> impl Iterator<Item = usize> + 'p {
        let from = self.masks.len() - path.paths.len();
        let ends = path.paths.iter().enumerate();
        ends.filter(move |(number, way)| self.masks[from + number] >> way.steps.len() & 1 == 1)
            .map(|(n, _)| n)
    }
}

impl<'v, 'd> Tables<'v, 'd> {
    pub fn new(engine: &'v Engine<'v>) -> Self {
        let keyrefs = engine.schemas.constraints.iter().any(|(_, it)| it.kind == ConstraintKind::KeyRef);
        Tables {
            engine,
            compiled: Map::default(),
            scopes: Vec::new(),
            targets: Vec::new(),
            waiting: Vec::new(),
            complaints: Vec::new(),
            levels: Vec::new(),
            keyrefs,
            scopes_made: 0,
        }
    }

    /// Whether the value of the element at this depth is wanted.
    pub fn asks_for(&self, depth: usize) -> bool {
        self.waiting.iter().rev().take_while(|it| it.depth == depth).any(|it| it.way.is_none())
    }

    /// Whether values of attributes of the element at this depth are wanted.
    pub fn asks_for_attributes(&self, depth: usize) -> bool {
        self.waiting.iter().rev().take_while(|it| it.depth == depth).any(|it| it.way.is_some())
    }

    fn compile(&mut self, id: ConstraintId) -> Option<Rc<Compiled>> {
        let engine = self.engine;
        let compile = || {
            let written = &engine.schemas.constraints[id];
            let path = |path: &crate::WrittenPath, field: bool| engine.xpath(path, field).ok();
            Some(Rc::new(Compiled {
                kind: written.kind,
                selector: path(written.selector.as_ref()?, false)?,
                fields: written.fields.iter().map(|field| path(field, true)).collect::<Option<_>>()?,
            }))
        };
        self.compiled.entry(id).or_insert_with(compile).clone()
    }

    /// An element begins.
    pub fn enter(&mut self, node: Node<'d>, decl: Option<ElementId>, depth: usize) {
        let constraints = decl.map_or(&[][..], |id| &self.engine.schemas.elements[id].constraints);
        if self.scopes.is_empty() && constraints.is_empty() {
            return;
        }
        let name = node.tag_name();
        let (namespace, local) = (name.namespace().unwrap_or(""), name.name());
        for target in &mut self.targets {
            for (trail, field) in target.trails.iter_mut().zip(&target.compiled.fields) {
                trail.down(field, namespace, local);
            }
        }
        for scope in &mut self.scopes {
            scope.trail.down(&scope.compiled.selector, namespace, local);
        }
        for id in constraints {
            let Some(compiled) = self.compile(*id) else { continue };
            let trail = Trail::begin(&compiled.selector);
            self.scopes_made += 1;
            self.scopes.push(Scope {
                id: *id,
                compiled,
                depth,
                trail,
                rows: Map::default(),
                asked: Vec::new(),
                number: self.scopes_made,
            });
        }
        for scope in &self.scopes {
            if scope.trail.reached(&scope.compiled.selector).next().is_some() {
                let fields = scope.compiled.fields.len();
                self.targets.push(Target {
                    scope: scope.number,
                    compiled: scope.compiled.clone(),
                    node,
                    depth,
                    trails: scope.compiled.fields.iter().map(Trail::begin).collect(),
                    values: vec![None; fields],
                    matched: vec![false; fields],
                });
            }
        }
        for target in &self.targets {
            for (field, (trail, path)) in target.trails.iter().zip(&target.compiled.fields).enumerate() {
                for way in trail.reached(path) {
                    let way = path.paths[way].attribute.is_some().then_some(way);
                    let (target, scope) = (target.node.id(), target.scope);
                    self.waiting.push(Waiting { depth, target, scope, field, way });
                }
            }
        }
    }

    /// Whether the value of an attribute of the element at this depth is wanted.
    pub fn attribute_wanted(&self, name: &QName, depth: usize) -> bool {
        let here = self.waiting.iter().rev().take_while(|it| it.depth == depth);
        here.filter_map(|it| self.attribute_test(it)).any(|test| test.fits(&name.namespace, &name.local))
    }

    fn attribute_test(&self, waiting: &Waiting) -> Option<&crate::xpath::Test> {
        let target = self.target(waiting)?;
        self.targets[target].compiled.fields[waiting.field].paths[waiting.way?].attribute.as_ref()
    }

    fn target(&self, waiting: &Waiting) -> Option<usize> {
        let same = |it: &Target<'_>| it.scope == waiting.scope && it.node.id() == waiting.target;
        self.targets.iter().rposition(same)
    }

    /// An attribute of the element at this depth has a value.
    pub fn attribute(&mut self, name: &QName, value: Option<Value>, depth: usize) {
        let here = self.waiting.iter().rev().take_while(|it| it.depth == depth);
        let fits = |it: &&Waiting| {
            self.attribute_test(it).is_some_and(|test| test.fits(&name.namespace, &name.local))
        };
        let found: Vec<(usize, usize)> =
            here.filter(fits).filter_map(|it| Some((self.target(it)?, it.field))).collect();
        for (target, field) in found {
            self.set(target, field, value.clone());
        }
    }

    fn set(&mut self, target: usize, field: usize, value: Option<Value>) {
        let target = &mut self.targets[target];
        if std::mem::replace(&mut target.matched[field], true) {
            self.complaints.push(Complaint {
                node: target.node,
                message: format!("field {} of its identity constraint finds more than one value", field + 1),
                help: "leave one of them, or make the path of the field narrower".into(),
            });
        } else {
            target.values[field] = value;
        }
    }

    /// An element ends; what is found to be wrong now.
    pub fn leave(
        &mut self,
        node: Node<'d>,
        value: Option<Value>,
        simple: bool,
        nillable: bool,
        depth: usize,
    ) -> Vec<Complaint<'d>> {
        if self.scopes.is_empty() {
            self.merge_up(depth);
            return Vec::new();
        }
        while let Some(waiting) = self.waiting.pop_if(|it| it.depth == depth) {
            let Some(target) = self.target(&waiting).filter(|_| waiting.way.is_none()) else { continue };
            let key = self.targets[target].compiled.kind == ConstraintKind::Key;
            if !simple || (key && nillable) {
                let name = node.tag_name().name();
                let message = match simple {
                    false => {
                        format!("\"{name}\" has elements, so it cannot be a value of an identity constraint")
                    }
                    true => format!("\"{name}\" may be nil, so it cannot be a value of a key"),
                };
                let help = "correct the field in the schema".into();
                self.complaints.push(Complaint { node, message, help });
            }
            self.set(target, waiting.field, value.clone());
        }
        while let Some(target) = self.targets.pop_if(|it| it.depth == depth) {
            self.finish(target);
        }
        for target in &mut self.targets {
            for (trail, field) in target.trails.iter_mut().zip(&target.compiled.fields) {
                trail.up(field);
            }
        }
        let first = self.scopes.iter().position(|scope| scope.depth == depth).unwrap_or(self.scopes.len());
        let closing: Vec<Scope<'d>> = self.scopes.drain(first..).collect();
        for scope in &mut self.scopes {
            scope.trail.up(&scope.compiled.selector);
        }
        self.close(closing, depth);
        self.merge_up(depth);
        std::mem::take(&mut self.complaints)
    }

    /// The values of an element that a selector found are complete.
    fn finish(&mut self, target: Target<'d>) {
        let Some(scope) = self.scopes.iter_mut().find(|scope| scope.number == target.scope) else { return };
        let name = &self.engine.schemas.constraints[scope.id].name.local;
        let kind = target.compiled.kind;
        if target.values.iter().any(Option::is_none) {
            // A value that is there and wrong has been complained about already.
            if kind == ConstraintKind::Key && target.matched.iter().any(|matched| !matched) {
                self.complaints.push(Complaint {
                    node: target.node,
                    message: format!("the key {name} has no value here"),
                    help: "give each of its fields a value".into(),
                });
            }
            return;
        }
        let row: Vec<Value> = target.values.into_iter().flatten().collect();
        if kind == ConstraintKind::KeyRef {
            scope.asked.push((row, target.node));
            return;
        }
        let words = shown(&row);
        if scope.rows.insert(row, target.node.id()).is_some() {
            self.complaints.push(Complaint {
                node: target.node,
                message: format!("{words} stands twice, but {name} must be unique"),
                help: "change one of the two".into(),
            });
        }
    }

    /// The elements that hold these constraints end here: keys are kept for keyrefs, keyrefs are looked up.
    fn close(&mut self, closing: Vec<Scope<'d>>, depth: usize) {
        if !self.keyrefs {
            return;
        }
        let (references, keys): (Vec<_>, Vec<_>) =
            closing.into_iter().partition(|scope| scope.compiled.kind == ConstraintKind::KeyRef);
        self.reach(depth);
        for scope in keys {
            let table = self.levels[depth].entry(scope.id).or_default();
            // What stands here itself counts before what stands below.
            table.extend(scope.rows.into_keys().map(|row| (row, true)));
        }
        for scope in references {
            let written = &self.engine.schemas.constraints[scope.id];
            let table = written.refer.as_ref().and_then(|refer| self.levels[depth].get(&refer.target?));
            for (row, node) in scope.asked {
                if table.is_none_or(|table| table.get(&row) != Some(&true)) {
                    let key = written.refer.as_ref().and_then(|refer| refer.name.as_ref());
                    let key = key.map_or("its key", |name| &name.local);
                    self.complaints.push(Complaint {
                        node,
                        message: format!("{} refers to nothing: {key} has no such value", shown(&row)),
                        help: "correct the value, or add what it refers to".into(),
                    });
                }
            }
        }
    }

    fn reach(&mut self, depth: usize) {
        if self.levels.len() <= depth {
            self.levels.resize_with(depth + 1, Map::default);
        }
    }

    /// Hands the keys below an element on to its parent.
    fn merge_up(&mut self, depth: usize) {
        if !self.keyrefs || self.levels.len() <= depth {
            return;
        }
        let below = std::mem::take(&mut self.levels[depth]);
        let Some(above) = depth.checked_sub(1) else { return };
        for (id, table) in below {
            let parent = self.levels[above].entry(id).or_default();
            if parent.is_empty() {
                *parent = table;
                continue;
            }
            for (row, single) in table {
                parent.entry(row).and_modify(|it| *it = false).or_insert(single);
            }
        }
    }
}

/// A row of values in words.
fn shown(row: &[Value]) -> String {
    let words: Vec<String> = row.iter().map(|value| crate::engine::quoted(&value.to_string())).collect();
    words.join(", ")
}
