//! From a component path to the component.

use charter_source::{Map, nearest};

use crate::path::{KINDS, PathError, segments};
use crate::{Component, Contract};

/// Where the way of a path ends without a component.
enum Stuck<'p> {
    /// It does not begin with the kind of a component.
    Kind,
    /// Nothing of that kind has the name.
    Root(&'static str, &'p str),
    /// Several have it.
    Several(&'static str, &'p str, Vec<Component>),
    /// A component was found as far as a path leads, and nothing inside it goes by the next step.
    Inside(Component, String, String),
}

impl Contract {
    /// The component that a path names.
    ///
    /// # Errors
    /// If there is no such component, or several.
    pub fn find(&self, path: &str) -> Result<Component, PathError> {
        let step = &mut |from, step: &str| {
            self.inner(from).into_iter().find(|(name, _)| name == step).map(|(_, component)| component)
        };
        self.walk(path, step).map_err(|stuck| self.error(path, stuck))
    }

    /// Goes the way of a path, from what it begins with by `step` after `step`.
    fn walk<'p>(
        &self,
        path: &'p str,
        step: &mut dyn FnMut(Component, &str) -> Option<Component>,
    ) -> Result<Component, Stuck<'p>> {
        let segments = segments(path);
        let (Some(kind), Some(name)) = (segments.first(), segments.get(1)) else {
            let whole = segments.first() == Some(&"contract");
            return if whole { Ok(Component::Contract) } else { Err(Stuck::Kind) };
        };
        let kind = KINDS.iter().find(|known| *known == kind).ok_or(Stuck::Kind)?;
        let roots = self.roots(kind, name);
        let [root] = roots.as_slice() else {
            let none = roots.is_empty();
            return Err(if none { Stuck::Root(kind, name) } else { Stuck::Several(kind, name, roots) });
        };
        let mut here = *root;
        let mut done = 2;
        while let Some(next) = segments.get(done) {
            // A name such as "part" may also be that of an element.
            let two = matches!(*next, "part" | "port" | "operation" | "fault") && done + 1 < segments.len();
            let taken = [2, 1].into_iter().filter(|taken| *taken == 1 || two);
            let found = taken
                .map(|taken| (taken, segments[done..done + taken].join("/")))
                .find_map(|(taken, name)| Some((taken, step(here, &name)?)));
            let Some((taken, component)) = found else {
                let name = segments[done..done + 1 + usize::from(two)].join("/");
                return Err(Stuck::Inside(here, segments[..done].join("/"), name));
            };
            here = component;
            done += taken;
        }
        Ok(here)
    }

    /// The components of a kind that a name could mean, of itself.
    fn roots(&self, kind: &'static str, name: &str) -> Vec<Component> {
        let (namespace, local) = namespace_and_local(name);
        let (local, side) = match local.strip_suffix(')').and_then(|rest| rest.split_once('(')) {
            Some((local, side)) => (local, Some(side)),
            None => (local, None),
        };
        let all = self.names().roots.of(kind, local);
        let fits = |component: &Component| match component {
            Component::Operation(id) => {
                let operation = self.operation(*id);
                side.is_none_or(|side| {
                    operation.input_name().or(operation.output_name()).as_deref() == Some(side)
                })
            }
            other => namespace.is_none_or(|wanted| self.namespace(*other).is_some_and(|own| own == wanted)),
        };
        let mut found: Vec<Component> = all.filter(fits).collect();
        if found.is_empty() {
            found = self.names().built_in.of(kind, local).filter(fits).collect();
            // A type of XML Schema itself is what a bare name means first.
            if let Some(first) =
                found.iter().position(|it| self.namespace(*it) == Some(charter_source::ns::XSD))
            {
                found = vec![found[first]];
            }
        }
        found
    }

    fn error(&self, path: &str, stuck: Stuck<'_>) -> PathError {
        match stuck {
            Stuck::Kind => PathError::Kind(path.to_owned()),
            Stuck::Root(kind, name) => {
                let index = self.names();
                let mut names: Vec<&str> =
                    index.roots.names(kind).chain(index.built_in.names(kind)).collect();
                names.sort_unstable();
                let (_, local) = namespace_and_local(name);
                let local = local.split_once('(').map_or(local, |(local, _)| local);
                let nearest = nearest(local, names).map(|near| format!("{kind}/{near}"));
                PathError::Missing { path: format!("{kind}/{name}"), nearest }
            }
            Stuck::Several(kind, name, several) => {
                let candidates = several.iter().map(|component| self.path_text(*component)).collect();
                PathError::Ambiguous { path: format!("{kind}/{name}"), candidates }
            }
            Stuck::Inside(here, walked, step) => {
                let names = self.inner(here);
                let near = nearest(&step, names.iter().map(|(name, _)| name.as_str()));
                let nearest = near.map(|near| format!("{walked}/{near}"));
                PathError::Missing { path: format!("{walked}/{step}"), nearest }
            }
        }
    }
}

/// Looks many paths up in one contract: what stands in a component is listed once, however many of the paths lead there.
///
/// ```
/// use charter_contract::{Contract, Lookup};
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" targetNamespace="urn:saltmere:tides">
///   <message name="tides"><part name="north"/><part name="south"/></message>
/// </definitions>"#;
/// let store = Overlay::of(&[("tides.wsdl", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("tides.wsdl"), Limits::default())?;
/// let mut lookup = Lookup::of(&contract);
/// assert!(lookup.has("message/tides/part/south"));
/// assert!(!lookup.has("message/tides/part/east"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub struct Lookup<'c> {
    contract: &'c Contract,
    inner: Map<Component, Map<String, Component>>,
}

impl<'c> Lookup<'c> {
    /// Nothing looked up yet.
    pub fn of(contract: &'c Contract) -> Lookup<'c> {
        Lookup { contract, inner: Map::default() }
    }

    /// Whether a path names a component.
    pub fn has(&mut self, path: &str) -> bool {
        let Lookup { contract, inner } = self;
        let step = &mut |from, step: &str| {
            let listed = inner.entry(from).or_insert_with(|| {
                // Of two that go by one name, the first is meant.
                contract.inner(from).into_iter().rev().collect()
            });
            listed.get(step).copied()
        };
        contract.walk(path, step).is_ok()
    }
}

/// A name with its namespace in braces, or without.
fn namespace_and_local(name: &str) -> (Option<&str>, &str) {
    match name.strip_prefix('{').and_then(|rest| rest.split_once('}')) {
        Some((namespace, local)) => (Some(namespace), local),
        None => (None, name),
    }
}
