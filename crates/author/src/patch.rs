//! Carries a change of element infos into the files that they were read from: what differs between what was and what is
//! wanted, and nothing else.

use charter_contract::Contract;
use charter_notation::{Child, ElementInfo, Prefixes};
use charter_source::{FileId, Files, Map, Node, Place, QName, Span, TextEdit, element_around, elements, ns};

use crate::align::{keys, pairs};
use crate::failure::EditFailure;
use crate::pen::{Pen, Position};

/// Makes changes, file by file.
pub(crate) struct Patch<'c> {
    files: &'c Files,
    pens: Map<FileId, Pen<'c>>,
    prefixes: Prefixes,
}

/// A child of what is wanted: it is there already, or it has just been put in.
#[derive(Clone, Copy)]
enum Sibling<'c> {
    There(Node<'c>),
    New(Position<'c>),
}

impl<'c> Patch<'c> {
    pub fn new(contract: &'c Contract, prefixes: Prefixes) -> Patch<'c> {
        Patch { files: &contract.files, pens: Map::default(), prefixes }
    }

    /// The edits that make the changes.
    pub fn finish(self) -> Vec<TextEdit> {
        self.pens.into_values().flat_map(Pen::finish).collect()
    }

    pub fn node(&self, info: &ElementInfo) -> Result<(FileId, Node<'c>), EditFailure> {
        let missing = || EditFailure::Unsupported(format!("\"{}\" is in none of the files", info.name.local));
        let origin = info.origin.ok_or_else(missing)?;
        let file = self.files.get(origin.file);
        if file.is_known() {
            return Err(EditFailure::Unsupported(format!(
                "{} comes with the program and cannot be changed",
                file.location
            )));
        }
        Ok((origin.file, file.tree.node(origin.node).ok_or_else(missing)?))
    }

    fn with_pen<T>(
        &mut self,
        file: FileId,
        act: impl FnOnce(&mut Pen<'c>, &dyn Fn(&str) -> Option<String>) -> T,
    ) -> T {
        let Patch { files, pens, prefixes } = self;
        let pen = pens.entry(file).or_insert_with(|| Pen::new(files.get(file)));
        act(pen, &|namespace| prefixes.of_namespace(namespace).map(str::to_owned))
    }

    /// Takes out the element at a place.
    pub fn remove(&mut self, place: Place) -> Result<(), EditFailure> {
        let file = self.files.get(place.file);
        if file.is_known() {
            return Err(EditFailure::Unsupported(format!(
                "{} comes with the program and cannot be changed",
                file.location
            )));
        }
        let around = file.root().and_then(|root| element_around(root, place.span));
        if let Some(node) = around.filter(|node| Span::from(node.range()) == place.span) {
            self.with_pen(place.file, |pen, _| pen.remove(node));
        }
        Ok(())
    }

    /// Changes `actual` as `base` differs from `wanted`.
    pub fn change(
        &mut self,
        actual: &ElementInfo,
        base: &ElementInfo,
        wanted: &ElementInfo,
    ) -> Result<(), EditFailure> {
        if base == wanted {
            return Ok(());
        }
        if actual.origin.is_none() {
            // Several files are held together by an element that is in none of them.
            return self.children(None, actual, base, wanted);
        }
        let (file, node) = self.node(actual)?;
        self.attributes(file, node, base, wanted)?;
        let is_text =
            |info: &ElementInfo| info.children.iter().any(|child| !matches!(child, Child::Element(_)));
        let is_open = !matches!(
            &*base.name.namespace,
            ns::XSD | ns::WSDL | ns::WSDL_SOAP11 | ns::WSDL_SOAP12 | ns::WSDL_HTTP | ns::WSDL_MIME
        );
        if (is_text(base) || is_text(wanted) || is_open) && base.children != wanted.children {
            self.with_pen(file, |pen, wished| pen.replace(node, wanted, wished));
            return Ok(());
        }
        self.children(Some(node), actual, base, wanted)
    }

    fn attributes(
        &mut self,
        file: FileId,
        node: Node<'c>,
        base: &ElementInfo,
        wanted: &ElementInfo,
    ) -> Result<(), EditFailure> {
        for (name, value) in &wanted.attributes {
            if base.attribute(name) != Some(value) {
                self.with_pen(file, |pen, wished| pen.set(node, wanted, name, value, wished))?;
            }
        }
        let gone: Vec<&QName> = base
            .attributes
            .iter()
            .map(|(name, _)| &**name)
            .filter(|name| wanted.attribute(name).is_none())
            .collect();
        for name in gone {
            self.with_pen(file, |pen, _| pen.unset(node, name));
        }
        Ok(())
    }

    fn children(
        &mut self,
        node: Option<Node<'c>>,
        actual: &ElementInfo,
        base: &ElementInfo,
        wanted: &ElementInfo,
    ) -> Result<(), EditFailure> {
        let old: Vec<&ElementInfo> = base.elements().collect();
        let new: Vec<&ElementInfo> = wanted.elements().collect();
        let pairs = pairs(&old, &new);
        let there: Vec<&ElementInfo> = actual.elements().collect();
        let there_keys = keys(there.iter().copied());
        let by_key: Map<&(String, usize), &ElementInfo> =
            there_keys.iter().zip(there.iter().copied()).collect();
        let old_keys = keys(old.iter().copied());
        let find = |at: usize| {
            let key = &old_keys[at];
            by_key.get(key).copied().ok_or_else(|| {
                EditFailure::Unsupported(format!("\"{}\" is not where it was expected", key.0.trim()))
            })
        };
        let mut kept = vec![false; old.len()];
        for at in pairs.iter().flatten() {
            kept[*at] = true;
        }
        for at in (0..old.len()).filter(|at| !kept[*at]) {
            let (file, gone) = self.node(find(at)?)?;
            self.with_pen(file, |pen, _| pen.remove(gone));
        }
        let mut siblings: Vec<Option<Sibling<'c>>> = Vec::new();
        for (index, pair) in pairs.iter().enumerate() {
            siblings.push(match pair {
                Some(at) => {
                    let same = find(*at)?;
                    self.change(same, old[*at], new[index])?;
                    // What is made of several files has no place of its own.
                    same.origin.map(|_| self.node(same)).transpose()?.map(|(_, node)| Sibling::There(node))
                }
                None => None,
            });
        }
        let gone: Vec<usize> = {
            let removed = (0..old.len()).filter(|at| !kept[*at]);
            removed
                .filter_map(|at| find(at).ok().and_then(|info| self.node(info).ok()))
                .map(|(_, node)| node.range().start)
                .collect()
        };
        for index in 0..new.len() {
            if pairs[index].is_none() {
                let node = match node {
                    Some(node) => node,
                    None => self.node(actual)?.1,
                };
                let position = self.position(node, &new, &siblings, index, &gone);
                let parent = match position {
                    Position::Behind(sibling) | Position::Before(sibling) => {
                        sibling.parent_element().unwrap_or(node)
                    }
                    Position::First => node,
                };
                let file = self.file_of(parent);
                self.with_pen(file, |pen, wished| pen.insert(parent, position, new[index], wished));
                siblings[index] = Some(Sibling::New(position));
            }
        }
        Ok(())
    }

    fn file_of(&self, node: Node<'c>) -> FileId {
        let same = self
            .files
            .iter()
            .find(|file| file.root().is_some_and(|root| std::ptr::eq(root.document(), node.document())));
        same.map_or(FileId(0), |file| file.id)
    }

    /// Where a new child goes: behind what comes before it and is of its kind, before what comes after it, or
    /// behind everything that comes before its kind.
    fn position(
        &self,
        node: Node<'c>,
        new: &[&ElementInfo],
        siblings: &[Option<Sibling<'c>>],
        index: usize,
        gone: &[usize],
    ) -> Position<'c> {
        let own = rank(node, &new[index].name);
        let of_kind = |at: &usize| rank(node, &new[*at].name) == own;
        let before = (0..index).rev().filter(of_kind).find_map(|at| siblings[at]);
        match before {
            Some(Sibling::There(node)) => return Position::Behind(node),
            Some(Sibling::New(position)) => return position,
            None => {}
        }
        let after = (index + 1..new.len()).filter(of_kind).find_map(|at| match siblings[at] {
            Some(Sibling::There(node)) => Some(node),
            _ => None,
        });
        if let Some(after) = after {
            return Position::Before(after);
        }
        let name =
            |node: Node<'_>| QName::new(node.tag_name().namespace().unwrap_or(""), node.tag_name().name());
        let stays = elements(node).filter(|child| !gone.contains(&child.range().start));
        let last = stays.filter(|child| rank(node, &name(*child)) <= own).last();
        last.map_or(Position::First, Position::Behind)
    }
}

/// In which order kinds of elements stand in another.
fn rank(parent: Node<'_>, child: &QName) -> u8 {
    let local = &*child.local;
    match (parent.tag_name().namespace().unwrap_or(""), parent.tag_name().name()) {
        (ns::WSDL, "definitions") => match local {
            _ if *child.namespace != *ns::WSDL => 2,
            "documentation" => 0,
            "import" => 1,
            "types" => 3,
            "message" => 4,
            "portType" => 5,
            "binding" => 6,
            _ => 7,
        },
        (ns::WSDL, _) => match local {
            "documentation" => 0,
            "operation" if *child.namespace == *ns::WSDL => 4,
            "input" => 4,
            "output" => 5,
            "fault" if *child.namespace == *ns::WSDL => 6,
            "header" | "fault" => 3,
            "port" => 5,
            _ => 2,
        },
        (ns::XSD, "schema") => match local {
            "import" | "include" | "redefine" => 1,
            "annotation" => 0,
            _ => 2,
        },
        (ns::XSD, "element" | "attribute") => match local {
            "annotation" => 0,
            "simpleType" | "complexType" => 1,
            _ => 2,
        },
        (ns::XSD, "complexType" | "extension" | "restriction") => match local {
            "annotation" => 0,
            "simpleType" | "simpleContent" | "complexContent" => 1,
            "attribute" | "attributeGroup" => 3,
            "anyAttribute" => 4,
            _ => 2,
        },
        _ => u8::from(local != "annotation"),
    }
}
