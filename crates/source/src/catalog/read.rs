//! Reads catalogs from their files (XML Catalogs 1.1, section 6.5).

use super::{CatalogError, CatalogFile, Catalogs, NAMESPACE, Prefer, PublicEntry, identifier};
use crate::{FileId, Location, Map, Node, Place, Store, Text, Tree, elements, ns, tag_place};

pub(super) fn load(store: &dyn Store, locations: &[Location]) -> Result<Catalogs, CatalogError> {
    let mut loader =
        Loader { store, known: Map::default(), waiting: Vec::new(), catalogs: Catalogs::default() };
    for location in locations {
        let index = loader.index(location.clone());
        loader.catalogs.start.push(index);
    }
    while let Some((index, location)) = loader.waiting.pop() {
        loader.catalogs.files[index] = loader.file(&location)?;
    }
    Ok(loader.catalogs)
}

struct Loader<'s> {
    store: &'s dyn Store,
    known: Map<Location, usize>,
    waiting: Vec<(usize, Location)>,
    catalogs: Catalogs,
}

/// What the elements around an entry settle for it.
#[derive(Clone)]
struct Setting {
    base: Location,
    prefer: Prefer,
}

impl Loader<'_> {
    /// The index of the catalog at a location, which is read later.
    fn index(&mut self, location: Location) -> usize {
        let next = self.catalogs.files.len();
        let index = *self.known.entry(self.store.identity(&location)).or_insert(next);
        if index == next {
            self.catalogs.files.push(CatalogFile::default());
            self.waiting.push((index, location));
        }
        index
    }

    fn file(&mut self, location: &Location) -> Result<CatalogFile, CatalogError> {
        let limits = self.store.limits();
        let bytes = self
            .store
            .read(location, limits.bytes)
            .map_err(|error| CatalogError::Read { location: location.clone(), error })?;
        let (tree, fault) = Tree::parse(Text::decode(bytes), FileId(0), limits.depth);
        let mut file = CatalogFile::default();
        let read = match (tree.root(), fault) {
            (Some(root), None) if root.has_tag_name((NAMESPACE, "catalog")) => {
                let setting = Setting { base: location.clone(), prefer: Prefer::Public };
                self.entries(root, &setting, &mut file)
            }
            (Some(root), None) => Err(Wrong {
                place: tag_place(FileId(0), root),
                message: format!("this is no catalog: its root is {}", root.tag_name().name()),
                help: format!("begin it with <catalog xmlns=\"{NAMESPACE}\">"),
            }),
            (_, fault) => {
                let fault =
                    fault.unwrap_or_else(|| crate::Fault::new("", Place::default(), "there is no root"));
                let help = fault.help.unwrap_or_else(|| "correct the catalog".to_owned());
                Err(Wrong { place: fault.place, message: fault.message, help })
            }
        };
        read.map(|()| file).map_err(|Wrong { place, message, help }| CatalogError::Content {
            location: location.clone(),
            position: tree.text().position(place.span.start),
            message,
            help,
        })
    }

    /// The entries in a `catalog` or a `group`. Elements that the standard does not name are passed over, as it asks.
    fn entries(&mut self, parent: Node<'_>, outer: &Setting, file: &mut CatalogFile) -> Result<(), Wrong> {
        let setting = outer.within(parent)?;
        for node in elements(parent).filter(|node| node.tag_name().namespace() == Some(NAMESPACE)) {
            if node.tag_name().name() == "group" {
                self.entries(node, &setting, file)?;
            } else {
                self.entry(node, &setting.within(node)?, file)?;
            }
        }
        Ok(())
    }

    fn entry(&mut self, node: Node<'_>, setting: &Setting, file: &mut CatalogFile) -> Result<(), Wrong> {
        let address = |name: &str| Ok(identifier::address(required(node, name)?));
        let target = |name: &str| Ok(setting.base.join(required(node, name)?));
        match node.tag_name().name() {
            "uri" => file.uri.exact.push((address("name")?, target("uri")?)),
            "system" => file.system.exact.push((address("systemId")?, target("uri")?)),
            "uriSuffix" => file.uri.suffix.push((address("uriSuffix")?, target("uri")?)),
            "systemSuffix" => file.system.suffix.push((address("systemIdSuffix")?, target("uri")?)),
            "rewriteURI" => {
                let prefix = present(node, "rewritePrefix")?.to_owned();
                file.uri.rewrite.push((address("uriStartString")?, setting.base.clone(), prefix));
            }
            "rewriteSystem" => {
                let prefix = present(node, "rewritePrefix")?.to_owned();
                file.system.rewrite.push((address("systemIdStartString")?, setting.base.clone(), prefix));
            }
            "delegateURI" => {
                file.uri.delegate.push((address("uriStartString")?, self.index(target("catalog")?)));
            }
            "delegateSystem" => {
                file.system.delegate.push((address("systemIdStartString")?, self.index(target("catalog")?)));
            }
            "public" => {
                let id = identifier::public(required(node, "publicId")?);
                file.public.push(PublicEntry { id, location: target("uri")?, prefer: setting.prefer });
            }
            "delegatePublic" => {
                let start = identifier::public(required(node, "publicIdStartString")?);
                file.delegate_public.push((start, self.index(target("catalog")?), setting.prefer));
            }
            "nextCatalog" => {
                let next = self.index(target("catalog")?);
                file.next.push(next);
            }
            _ => {}
        }
        Ok(())
    }
}

impl Setting {
    /// The same, as an element changes it by `xml:base` and `prefer`.
    fn within(&self, node: Node<'_>) -> Result<Setting, Wrong> {
        let mut setting = self.clone();
        if let Some(base) = node.attribute((ns::XML, "base")) {
            // A base that ends in a slash is a folder, and whatever file in it does as well.
            let file = if base.trim().ends_with('/') { "catalog.xml" } else { "" };
            setting.base = self.base.join(&format!("{}{file}", base.trim()));
        }
        match node.attribute("prefer").map(str::trim) {
            None => {}
            Some("public") => setting.prefer = Prefer::Public,
            Some("system") => setting.prefer = Prefer::System,
            Some(other) => {
                return Err(Wrong::at(
                    node,
                    format!("prefer is \"{other}\""),
                    "write public or system".to_owned(),
                ));
            }
        }
        Ok(setting)
    }
}

/// What is wrong with a catalog.
struct Wrong {
    place: Place,
    message: String,
    help: String,
}

impl Wrong {
    fn at(node: Node<'_>, message: String, help: String) -> Wrong {
        Wrong { place: tag_place(FileId(0), node), message, help }
    }
}

/// The value of an attribute, which may be empty.
fn present<'a>(node: Node<'a>, name: &str) -> Result<&'a str, Wrong> {
    node.attribute(name).map(str::trim).ok_or_else(|| missing(node, name))
}

/// The value of an attribute, which may not be empty.
fn required<'a>(node: Node<'a>, name: &str) -> Result<&'a str, Wrong> {
    present(node, name).and_then(|value| if value.is_empty() { Err(missing(node, name)) } else { Ok(value) })
}

fn missing(node: Node<'_>, name: &str) -> Wrong {
    let kind = node.tag_name().name();
    Wrong::at(
        node,
        format!("this {kind} entry has no attribute {name}"),
        format!("add {name}=\"…\", or remove the entry"),
    )
}
