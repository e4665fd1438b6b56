//! Reads which module uses which, from the `use` lines and the paths in the code, and says where modules use each other in
//! a circle. A name counts for the file that defines it, wherever it is handed on. A module is made of those within it: that it
//! uses them is no arrow, that they use what it defines is one.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::{fs, io};

/// A module: the steps of its path within its crate.
type Module = Vec<String>;

/// What a file says.
#[derive(Default)]
struct Room {
    file: PathBuf,
    /// The names of the items that it defines.
    defines: BTreeSet<String>,
    /// Names that it hands on, with the path that each stands for.
    exports: Vec<(String, Vec<String>)>,
    /// What names stand for that it imports.
    imports: BTreeMap<String, Vec<String>>,
    /// The paths that it uses.
    uses: BTreeSet<Vec<String>>,
}

/// Prints the circles of all crates; whether there is none.
pub fn layers(root: &Path) -> io::Result<bool> {
    let mut crates: Vec<PathBuf> = fs::read_dir(root.join("crates"))?.flatten().map(|it| it.path()).collect();
    crates.push(root.join("xtask"));
    crates.sort();
    let (mut files, mut arrows, mut circles) = (0, 0, 0);
    for folder in crates.iter().filter(|folder| folder.join("src").is_dir()) {
        let house = House::read(&folder.join("src"))?;
        let ties = house.ties();
        files += house.rooms.len();
        arrows += ties.len();
        for circle in circles_of(&ties) {
            circles += 1;
            println!("{}: {} modules use each other in a circle", folder.display(), circle.len());
            for ((from, to), names) in &ties {
                if circle.contains(from) && circle.contains(to) {
                    let names: Vec<&str> = names.iter().map(String::as_str).collect();
                    println!("  {} -> {}: {}", house.shown(from), house.shown(to), names.join(", "));
                }
            }
        }
    }
    println!("{files} modules, {arrows} uses of one by another, {circles} circles");
    Ok(circles == 0)
}

/// All modules of a crate.
struct House {
    source: PathBuf,
    rooms: BTreeMap<Module, Room>,
}

/// Which module uses which, and what of it.
type Ties = BTreeMap<(Module, Module), BTreeSet<String>>;

impl House {
    fn read(source: &Path) -> io::Result<House> {
        let mut house = House { source: source.to_owned(), rooms: BTreeMap::new() };
        let mut folders = vec![(source.to_owned(), Vec::new())];
        while let Some((folder, module)) = folders.pop() {
            for entry in fs::read_dir(&folder)?.flatten() {
                let path = entry.path();
                let stem =
                    path.file_stem().map(|stem| stem.to_string_lossy().into_owned()).unwrap_or_default();
                let mut inner: Module = module.clone();
                if path.is_dir() {
                    inner.push(stem);
                    folders.push((path, inner));
                } else if path.extension().is_some_and(|end| end == "rs") {
                    if !["lib", "main", "mod"].contains(&&*stem) {
                        inner.push(stem);
                    }
                    let room = room(&path, &fs::read_to_string(&path)?);
                    house.rooms.insert(inner, room);
                }
            }
        }
        Ok(house)
    }

    fn shown(&self, module: &Module) -> String {
        let file = &self.rooms[module].file;
        file.strip_prefix(&self.source).unwrap_or(file).display().to_string()
    }

    fn ties(&self) -> Ties {
        let mut ties = Ties::new();
        for (module, room) in &self.rooms {
            for path in &room.uses {
                let path = room.as_imported(path);
                for (to, name) in self.resolved(module, &path, 0) {
                    if !to.starts_with(module) {
                        ties.entry((module.clone(), to)).or_default().insert(name);
                    }
                }
            }
        }
        ties
    }

    /// The modules that define what a path leads to, each with the name there.
    fn resolved(&self, from: &Module, path: &[String], depth: usize) -> Vec<(Module, String)> {
        let Some((mut at, rest)) = absolute(from, path).filter(|_| depth < 12) else { return Vec::new() };
        let mut rest = rest.as_slice();
        while let [step, more @ ..] = rest {
            let mut inner = at.clone();
            inner.push(step.clone());
            let is_item = self.rooms.get(&at).is_some_and(|room| room.defines.contains(step));
            if !self.rooms.contains_key(&inner) || (is_item && more.is_empty()) {
                break;
            }
            at = inner;
            rest = more;
        }
        let (Some(room), [name, ..]) = (self.rooms.get(&at), rest) else { return Vec::new() };
        if name == "*" || room.defines.contains(name) {
            return vec![(at, name.clone())];
        }
        let handed = room.exports.iter().filter(|(own, _)| own == name || own == "*");
        let mut found: Vec<(Module, String)> = Vec::new();
        for (own, path) in handed {
            let mut path = path.clone();
            if own == "*" {
                path.pop();
                path.push(name.clone());
            }
            found.extend(self.resolved(&at, &path, depth + 1));
        }
        found
    }
}

impl Room {
    /// A path whose head is a name that was imported, from where that comes.
    fn as_imported(&self, path: &[String]) -> Vec<String> {
        match path.split_first() {
            Some((head, rest)) if !rest.is_empty() => match self.imports.get(head) {
                Some(whole) if whole.len() > 1 => [whole, rest].concat(),
                _ => path.to_vec(),
            },
            _ => path.to_vec(),
        }
    }
}

/// The module at which a path begins, and the steps that are left.
fn absolute(from: &Module, path: &[String]) -> Option<(Module, Vec<String>)> {
    let (first, rest) = path.split_first()?;
    let mut at = match &**first {
        "crate" => Vec::new(),
        "self" => from.clone(),
        "super" => from[..from.len().checked_sub(1)?].to_vec(),
        // What stands in the crate itself may be named without a word for it.
        _ => return Some((from.clone(), path.to_vec())),
    };
    let mut rest = rest;
    while let [step, more @ ..] = rest
        && step == "super"
    {
        at.pop()?;
        rest = more;
    }
    Some((at, rest.to_vec()))
}

/// What a file says, without its tests.
fn room(file: &Path, text: &str) -> Room {
    let text = text.split("#[cfg(test)]\nmod tests").next().unwrap_or("");
    let code: String = text
        .lines()
        .filter(|line| !line.trim_start().starts_with("//"))
        .flat_map(|line| [line, "\n"])
        .collect();
    let mut room = Room { file: file.to_owned(), ..Room::default() };
    let mut others = String::new();
    let mut lines = code.lines();
    while let Some(line) = lines.next() {
        let Some((public, mut statement)) = use_statement(line) else {
            others.push_str(line);
            others.push('\n');
            if let Some(name) = defined(line) {
                room.defines.insert(name);
            }
            continue;
        };
        while !statement.contains(';') {
            let Some(more) = lines.next() else { break };
            statement.push_str(more.trim());
        }
        let statement = statement.split(';').next().unwrap_or("");
        for (name, path) in opened(statement) {
            if public {
                room.exports.push((name.clone(), path.clone()));
            }
            room.imports.insert(name, path.clone());
            room.uses.insert(path);
        }
    }
    room.uses.extend(paths_in(&others));
    room
}

/// What a `use` line imports, and whether it hands it on.
fn use_statement(line: &str) -> Option<(bool, String)> {
    let line = line.trim_start();
    let (public, rest) = match line.strip_prefix("pub") {
        Some(rest) if rest.starts_with(' ') => (true, rest.trim_start()),
        Some(rest) if rest.starts_with('(') => (true, rest.split_once(')')?.1.trim_start()),
        _ => (false, line),
    };
    rest.strip_prefix("use ").map(|statement| (public, statement.to_owned()))
}

/// The name of the item that a line at the margin defines.
fn defined(line: &str) -> Option<String> {
    let mut words = line.strip_suffix('{').unwrap_or(line);
    if words.starts_with(char::is_whitespace) {
        return None;
    }
    if let Some(rest) = words.strip_prefix("pub") {
        words = match rest.strip_prefix('(') {
            Some(rest) => rest.split_once(')')?.1,
            None => rest,
        };
    }
    let mut words = words.split_whitespace();
    let mut word = words.next()?;
    while ["async", "unsafe"].contains(&word) {
        word = words.next()?;
    }
    if word == "const" || word == "static" {
        let next = words.next()?;
        return Some(name_of(if ["fn", "mut"].contains(&next) { words.next()? } else { next }));
    }
    ["fn", "struct", "enum", "union", "type", "trait", "macro_rules!"]
        .contains(&word)
        .then(|| words.next().map(name_of))
        .flatten()
}

fn name_of(word: &str) -> String {
    word.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect()
}

/// The paths of a `use` statement, each with the name that it is known by.
fn opened(statement: &str) -> Vec<(String, Vec<String>)> {
    let statement = statement.trim();
    if let Some((before, rest)) = statement.split_once('{') {
        let prefix: Vec<String> =
            before.split("::").map(str::trim).filter(|it| !it.is_empty()).map(str::to_owned).collect();
        let inner = rest.rsplit_once('}').map_or(rest, |(inner, _)| inner);
        let with_prefix = |piece: &str| -> Vec<(String, Vec<String>)> {
            let all = opened(piece).into_iter();
            all.map(|(name, path)| {
                let whole: Vec<String> =
                    prefix.iter().cloned().chain(path.into_iter().filter(|it| it != "self")).collect();
                let name = if name == "self" { whole.last().cloned().unwrap_or_default() } else { name };
                (name, whole)
            })
            .collect()
        };
        return pieces(inner).into_iter().flat_map(with_prefix).collect();
    }
    let (path, alias) =
        statement.split_once(" as ").map_or((statement, None), |(path, alias)| (path, Some(alias)));
    let steps: Vec<String> = path.split("::").map(|it| it.trim().to_owned()).collect();
    let Some(last) = steps.last().filter(|last| !last.is_empty()) else { return Vec::new() };
    vec![(alias.map_or_else(|| last.clone(), |alias| alias.trim().to_owned()), steps)]
}

/// What stands between commas, those within braces aside.
fn pieces(list: &str) -> Vec<&str> {
    let (mut depth, mut start, mut found) = (0, 0, Vec::new());
    for (at, c) in list.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                found.push(&list[start..at]);
                start = at + 1;
            }
            _ => {}
        }
    }
    found.push(&list[start..]);
    found.retain(|piece| !piece.trim().is_empty());
    found
}

/// The paths in code that begin at the crate or beside the module.
fn paths_in(code: &str) -> Vec<Vec<String>> {
    let mut found = Vec::new();
    for word in ["crate::", "super::", "self::"] {
        for (at, _) in code.match_indices(word) {
            if code[..at].ends_with(|c: char| c.is_alphanumeric() || c == '_' || c == ':') {
                continue;
            }
            let path: String =
                code[at..].chars().take_while(|c| c.is_alphanumeric() || matches!(c, '_' | ':')).collect();
            found.push(path.split("::").filter(|it| !it.is_empty()).map(str::to_owned).collect());
        }
    }
    // A module that stands beside, or within, is named by itself.
    for (at, _) in code.match_indices("::") {
        let before = &code[..at];
        let start = before.rfind(|c: char| !(c.is_alphanumeric() || c == '_')).map_or(0, |it| it + 1);
        let first = &before[start..];
        let is_head = !before[..start].ends_with("::") && first.starts_with(|c: char| c.is_ascii_lowercase());
        if is_head && !["crate", "super", "self", "std", "core"].contains(&first) {
            let rest: String =
                code[start..].chars().take_while(|c| c.is_alphanumeric() || matches!(c, '_' | ':')).collect();
            found.push(rest.split("::").filter(|it| !it.is_empty()).map(str::to_owned).collect());
        }
    }
    found
}

/// The sets of modules that lead to each other.
fn circles_of(ties: &Ties) -> Vec<BTreeSet<Module>> {
    let mut leads: BTreeMap<&Module, BTreeSet<&Module>> = BTreeMap::new();
    for (from, to) in ties.keys() {
        leads.entry(from).or_default().insert(to);
    }
    let reach = |start: &Module| -> BTreeSet<Module> {
        let mut seen: BTreeSet<Module> = BTreeSet::new();
        let mut waiting = vec![start];
        while let Some(at) = waiting.pop() {
            for next in leads.get(at).into_iter().flatten() {
                if seen.insert((*next).clone()) {
                    waiting.push(next);
                }
            }
        }
        seen
    };
    let all: BTreeMap<Module, BTreeSet<Module>> = leads.keys().map(|it| ((*it).clone(), reach(it))).collect();
    let mut circles: Vec<BTreeSet<Module>> = Vec::new();
    for (module, reached) in &all {
        let back = |other: &&Module| all.get(*other).is_some_and(|theirs| theirs.contains(module));
        if reached.contains(module) && !circles.iter().any(|circle| circle.contains(module)) {
            circles.push(reached.iter().filter(back).cloned().collect());
        }
    }
    circles
}

#[cfg(test)]
mod tests {
    use super::*;

    fn house(files: &[(&str, &str)]) -> House {
        let folder = tempfile::tempdir().unwrap();
        for (name, text) in files {
            let path = folder.path().join(name);
            fs::create_dir_all(path.parent().unwrap()).unwrap();
            fs::write(path, text).unwrap();
        }
        House::read(folder.path()).unwrap()
    }

    fn circles(files: &[(&str, &str)]) -> Vec<Vec<String>> {
        let house = house(files);
        circles_of(&house.ties())
            .iter()
            .map(|circle| circle.iter().map(|it| house.shown(it)).collect())
            .collect()
    }

    #[test]
    fn two_that_use_each_other_are_a_circle() {
        let one = "use crate::pier::Pier;\npub struct Quay(Pier);\n";
        let other = "pub struct Pier;\nfn back() -> crate::quay::Quay { todo!() }\n";
        assert_eq!(
            circles(&[("lib.rs", "mod quay;\nmod pier;\n"), ("quay.rs", one), ("pier.rs", other)]).len(),
            1
        );
        let alone = "pub struct Pier;\n";
        assert!(circles(&[("lib.rs", ""), ("quay.rs", one), ("pier.rs", alone)]).is_empty());
    }

    #[test]
    fn a_name_counts_for_the_file_that_defines_it() {
        let files = [
            ("lib.rs", "mod harbour;\n"),
            (
                "harbour/mod.rs",
                "mod quay;\nmod pier;\npub use pier::{Pier, bollard as post};\npub use quay::*;\n",
            ),
            ("harbour/quay.rs", "use super::Pier;\nuse super::post;\npub fn moor(_: Pier) {}\n"),
            ("harbour/pier.rs", "pub struct Pier;\npub fn bollard() {}\n"),
        ];
        assert!(circles(&files).is_empty());
        let back = ("harbour/pier.rs", "pub struct Pier;\npub fn bollard() { super::moor(Pier) }\n");
        let found = circles(&[files[0], files[1], files[2], back]);
        assert_eq!(found, [["harbour/pier.rs", "harbour/quay.rs"]]);
    }

    #[test]
    fn what_stands_within_a_module_is_part_of_it() {
        let files = [
            ("lib.rs", "mod harbour;\nmod ship;\n"),
            ("harbour/mod.rs", "mod quay;\nuse quay::Quay;\npub struct Harbour(Quay);\n"),
            ("harbour/quay.rs", "pub struct Quay;\nfn of(_: super::Harbour) {}\n"),
            ("ship.rs", "pub struct Ship;\n"),
        ];
        assert!(circles(&files).is_empty());
        // But not what stands beside it.
        let quay = ("harbour/quay.rs", "pub struct Quay;\nfn of(_: crate::ship::Ship) {}\n");
        let ship = ("ship.rs", "pub struct Ship(crate::harbour::quay::Quay);\n");
        assert_eq!(circles(&[files[0], files[1], quay, ship]).len(), 1);
    }

    #[test]
    fn tests_and_comments_do_not_count() {
        let quay = "pub struct Quay;\n// use crate::pier::Pier;\n#[cfg(test)]\nmod tests {\n    use crate::pier::Pier;\n}\n";
        let pier = "use crate::quay::Quay;\npub struct Pier(Quay);\n";
        assert!(circles(&[("lib.rs", ""), ("quay.rs", quay), ("pier.rs", pier)]).is_empty());
    }

    #[test]
    fn braces_within_braces_are_opened() {
        let found = opened("crate::{a::{self, B as C}, d::E}");
        let shown: Vec<String> =
            found.iter().map(|(name, path)| format!("{name}={}", path.join("/"))).collect();
        assert_eq!(shown, ["a=crate/a", "C=crate/a/B", "E=crate/d/E"]);
        assert_eq!(defined("pub(crate) const fn berth() {").as_deref(), Some("berth"));
        assert_eq!(defined("pub static mut TIDE: u8 = 0;").as_deref(), Some("TIDE"));
        assert_eq!(defined("    fn inner() {"), None);
    }
}
