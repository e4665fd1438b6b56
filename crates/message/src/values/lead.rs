//! Whether a wire path leads anywhere in the messages of a shape.

use charter_contract::{WireElement, WireShape};
use charter_schema::{Engine, TypeId};
use charter_source::Set;

use super::known::Found;
use super::path::{Step, steps};
use super::read::advice;
use super::{ATTACHED, BodyLayout, HEADER, Layout, Mapper, ValueError};

/// Says if a wire path names nothing that messages of a shape may hold.
///
/// # Errors
/// If it leads nowhere: at which step, and the nearest name.
pub fn leads(engine: &Engine<'_>, shape: &WireShape, path: &str) -> Result<(), ValueError> {
    let steps = steps(path)?;
    let mapper = Mapper::new(engine);
    let layout = Layout::of(engine.schemas(), shape);
    let in_header = steps[0].key == HEADER;
    let at = if in_header { 0 } else { layout.headers.len() };
    mapper.encoded.set(steps[0].key != ATTACHED && layout.encoded.get(at).copied().unwrap_or(false));
    let guide = Guide { mapper, path };
    match (steps[0].key.as_str(), &layout.body) {
        (HEADER, _) => guide.among(&layout.headers, &steps[1..]),
        (ATTACHED, _) => guide.among(&layout.attached, &steps[1..]),
        (_, BodyLayout::Named(entries)) => guide.among(entries, &steps),
        (_, BodyLayout::Inline(element)) => {
            let name = &element.name(engine.schemas()).local;
            let below = guide.within(element, &steps);
            // Findings name the body element too.
            match below {
                Err(_) if *steps[0].key == **name => guide.within(element, &steps[1..]),
                other => other,
            }
        }
    }
}

struct Guide<'e> {
    mapper: Mapper<'e>,
    path: &'e str,
}

impl Guide<'_> {
    /// One of several contents, by its name.
    fn among(&self, entries: &[(String, WireElement)], steps: &[Step]) -> Result<(), ValueError> {
        let Some((first, rest)) = steps.split_first() else { return Ok(()) };
        match entries.iter().find(|(key, _)| *key == first.key) {
            Some((_, element)) => self.within(element, rest),
            None => self.nothing(&first.key, entries.iter().map(|(key, _)| key.clone()).collect()),
        }
    }

    /// The steps below an element.
    fn within(&self, element: &WireElement, steps: &[Step]) -> Result<(), ValueError> {
        let mut types = vec![element.ty(self.mapper.schemas)];
        for step in steps {
            types = match self.step(types, step)? {
                Some(types) => types,
                // What a wildcard lets in may hold anything.
                None => return Ok(()),
            };
        }
        Ok(())
    }

    /// The types of what a step names, in any of some types or of those derived from them.
    fn step(&self, mut types: Vec<TypeId>, step: &Step) -> Result<Option<Vec<TypeId>>, ValueError> {
        let schemas = self.mapper.schemas;
        let mut seen: Set<TypeId> = types.iter().copied().collect();
        let (mut found, mut keys) = (Vec::new(), Vec::new());
        while let Some(ty) = types.pop() {
            types.extend(self.mapper.engine.relatives().derived(ty).iter().filter(|ty| seen.insert(**ty)));
            if schemas.is_any(ty) {
                return Ok(None);
            }
            if let Some(array) = self.mapper.array(ty) {
                // Values have no key for the members of an array, so that a path may leave them out.
                if *array.member.local == *step.key {
                    found.push(array.item);
                } else if seen.insert(array.item) {
                    types.push(array.item);
                }
                continue;
            }
            if let Some(name) = step.key.strip_prefix('@') {
                let (attributes, others) = schemas.attributes(ty);
                let name = name.rsplit('}').next().unwrap_or(name);
                let own = attributes.iter().find(|own| *own.name.local == *name);
                found.extend(own.map(|own| own.ty));
                keys.extend(attributes.iter().map(|own| format!("@{}", own.name.local)));
                if own.is_none() && (others.is_some() || name.contains(':')) {
                    return Ok(None);
                }
                continue;
            }
            let known = self.mapper.known(ty);
            match known.find(&step.key) {
                Found::Entry(at) => found.push(schemas.element_type(known.entries[at].element)),
                Found::Wild(_) => return Ok(None),
                Found::Several(names) => {
                    let message = format!("\"{}\" stands for several elements", step.key);
                    let help = format!("write one of {}", names.join(", "));
                    return Err(ValueError::new(self.path, message, help));
                }
                Found::Unknown if !known.wildcards.is_empty() => return Ok(None),
                Found::Unknown => keys.extend(known.keys()),
            }
        }
        if found.is_empty() { self.nothing(&step.key, keys) } else { Ok(Some(found)) }
    }

    fn nothing<T>(&self, key: &str, keys: Vec<String>) -> Result<T, ValueError> {
        Err(ValueError::new(self.path, format!("there is no \"{key}\""), advice(key, &keys)))
    }
}
