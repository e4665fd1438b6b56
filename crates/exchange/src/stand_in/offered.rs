//! The contract as a stand-in hands it out: with its own address, and imports under addresses that work.

use charter_contract::Contract;
use charter_source::xml::{Escape, escaped};
use charter_source::{File, FileId, Place, Span, TextEdit, apply};

use super::routes::target;

/// The path below which the files of the contract are.
pub(super) const FILES: &str = "/-/contract/";

/// The text of a file of the contract, for who asks at `base`: `http://localhost:8080`.
pub(super) fn text(contract: &Contract, file: FileId, base: &str) -> String {
    let file = contract.files.get(file);
    let content = file.text().content();
    let mut edits = Vec::new();
    let written = |text: &str| escaped(text, Escape::Value('"')).replace('\'', "&apos;");
    for import in contract.files.imports().iter().filter(|import| import.place.file == file.id) {
        let target = import.target.map(|id| contract.files.get(id)).filter(|target| !target.is_known());
        if let (Some(target), Some(_)) = (target, &import.location) {
            let replacement = written(&format!("{base}{}", path(target)));
            edits.push(TextEdit { place: import.place, replacement });
        }
    }
    for (id, port) in contract.ports() {
        if let Some(address) = port.address().filter(|address| address.place.file == file.id) {
            let replacement = written(&format!("{base}{}", target(contract, id)));
            edits.push(TextEdit { place: address.place, replacement });
        }
    }
    edits.extend(declaration(file.id, content));
    apply(content, &edits).unwrap_or_else(|_| content.to_owned())
}

/// What is sent is UTF-8, whatever the file was kept in.
fn declaration(file: FileId, content: &str) -> Option<TextEdit> {
    let end = content.strip_prefix("<?xml").and_then(|_| content.find("?>"))?;
    let at = content[..end].find("encoding")?;
    let place = Place { file, span: Span::new(at, end) };
    Some(TextEdit { place, replacement: "encoding=\"UTF-8\"".to_owned() })
}

/// Where a file is: by its number, and the name that a reader knows.
pub(super) fn path(file: &File) -> String {
    let shown = file.location.to_string();
    let name = shown.rsplit(['/', '\\', ':']).next().unwrap_or_default();
    let safe = |c: char| c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | '_');
    let name: String = name.split('?').next().unwrap_or_default().chars().filter(|c| safe(*c)).collect();
    format!("{FILES}{}/{}", file.id.0, if name.is_empty() { "file.xml" } else { &name })
}

/// The file at a path.
pub(super) fn at(contract: &Contract, path: &str) -> Option<FileId> {
    let number: u32 = path.strip_prefix(FILES)?.split('/').next()?.parse().ok()?;
    contract.files.iter().map(|file| file.id).find(|id| id.0 == number)
}
