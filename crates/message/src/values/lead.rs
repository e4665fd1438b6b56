//! Whether a wire path leads anywhere in the messages of a shape.

use charter_contract::WireElement;
use charter_schema::{AllowedAttribute, TypeId};
use charter_source::Set;

use super::known::Found;
use super::path::{ByPath, Step, steps};
use super::{ATTACHED, BodyLayout, HEADER, Mapper, ValueError};

impl ByPath<'_> {
    /// Says if a wire path names nothing that messages of the shape may hold.
    ///
    /// # Errors
    /// If it leads nowhere: at which step, and the nearest name.
    pub fn leads(&self, path: &str) -> Result<(), ValueError> {
        let steps = steps(path)?;
        self.begin(&steps);
        let guide = Guide { mapper: &self.mapper, path };
        match (steps[0].key.as_str(), &self.layout.body) {
            (HEADER, _) => guide.among(&self.layout.headers, &steps[1..]),
            (ATTACHED, _) => guide.among(&self.layout.attached, &steps[1..]),
            (_, BodyLayout::Named(entries)) => guide.among(entries, &steps),
            (_, BodyLayout::Inline(element)) => {
                let name = &element.name(self.mapper.schemas).local;
                let below = guide.within(element, &steps);
                // Findings name the body element too.
                match below {
                    Err(_) if *steps[0].key == **name => guide.within(element, &steps[1..]),
                    other => other,
                }
            }
        }
    }
}

struct Guide<'g, 'e> {
    mapper: &'g Mapper<'e>,
    path: &'g str,
}

impl Guide<'_, '_> {
    /// One of several contents, by its name.
    fn among(&self, entries: &[(String, WireElement)], steps: &[Step]) -> Result<(), ValueError> {
        let Some((first, rest)) = steps.split_first() else { return Ok(()) };
        match entries.iter().find(|(key, _)| *key == first.key) {
            Some((_, element)) => self.within(element, rest),
            None => self.nothing(&first.key, || entries.iter().map(|(key, _)| key.clone()).collect()),
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
        let (mut found, mut without) = (Vec::new(), Vec::new());
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
                let allowed = self.mapper.engine.allowed(ty);
                let name = name.rsplit('}').next().unwrap_or(name);
                let is_own = |own: &&AllowedAttribute| *schemas.attribute_decls[own.decl].name.local == *name;
                let own = allowed.all().iter().find(is_own);
                found.extend(own.map(|own| own.ty));
                without.push(ty);
                if own.is_none() && (allowed.wildcard.is_some() || name.contains(':')) {
                    return Ok(None);
                }
                continue;
            }
            let known = self.mapper.known(ty);
            match known.find(&step.key) {
                Found::PossibleChild(at) => found.push(schemas.element_type(known.entries[at].element)),
                Found::Wild(_) => return Ok(None),
                Found::Several(names) => {
                    let message = format!("\"{}\" stands for several elements", step.key);
                    let help = format!("write one of {}", names.join(", "));
                    return Err(ValueError::new(self.path, message, help));
                }
                Found::Unknown if !known.wildcards.is_empty() => return Ok(None),
                Found::Unknown => without.push(ty),
            }
        }
        let keys = |ty: TypeId| match step.key.starts_with('@') {
            true => self.mapper.attribute_keys(ty),
            false => self.mapper.known(ty).keys().collect(),
        };
        match found.is_empty() {
            // A type that is derived from another has what that one has.
            true => self.nothing(&step.key, || {
                let mut known: Set<String> = Set::default();
                without.into_iter().flat_map(keys).filter(|key| known.insert(key.clone())).collect()
            }),
            false => Ok(Some(found)),
        }
    }

    fn nothing<T>(&self, key: &str, keys: impl FnOnce() -> Vec<String>) -> Result<T, ValueError> {
        let help = self.mapper.advice(key, keys);
        Err(ValueError::new(self.path, format!("there is no \"{key}\""), help))
    }
}
