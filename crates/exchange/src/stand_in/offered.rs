//! The contract as a stand-in hands it out: with its own address, and imports under addresses that work.

use charter_contract::{Contract, SoapVersion};
use charter_source::xml::{Escape, escaped};
use charter_source::{File, FileId, Place, Span, TextEdit, apply, ns};

use super::routes::Way;

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
    for way in Way::all(contract) {
        let address = way.port.and_then(|port| contract.port(port).address());
        if let Some(address) = address.filter(|address| address.place.file == file.id) {
            let replacement = written(&format!("{base}{}", way.target(contract)));
            edits.push(TextEdit { place: address.place, replacement });
        }
    }
    if file.id == FileId(0) {
        edits.extend(services(contract, file, base));
    }
    edits.extend(declaration(file.id, content));
    apply(content, &edits).unwrap_or_else(|_| content.to_owned())
}

/// Services for bindings that no port uses: whoever reads the contract is to find its way here.
fn services(contract: &Contract, file: &File, base: &str) -> Option<TextEdit> {
    let root = file.root().filter(|root| root.has_tag_name((ns::WSDL, "definitions")))?;
    let value = |text: &str| escaped(text, Escape::Value('"'));
    let mut text = String::new();
    for way in Way::all(contract).into_iter().filter(|way| way.port.is_none()) {
        let name = &contract.bindings[way.binding].name;
        let address = match contract.protocol(way.binding) {
            Some((SoapVersion::V11, _)) => ns::WSDL_SOAP11,
            Some((SoapVersion::V12, _)) => ns::WSDL_SOAP12,
            None => ns::WSDL_HTTP,
        };
        let (local, location) = (value(&name.local), value(&format!("{base}{}", way.target(contract))));
        text.push_str(&format!(
            "<service xmlns=\"{}\" xmlns:b=\"{}\" name=\"{local}StandIn\"><port name=\"{local}\" binding=\"b:{local}\"><address xmlns=\"{address}\" location=\"{location}\"/></port></service>\n",
            ns::WSDL,
            value(&name.namespace),
        ));
    }
    let end = root.range().end;
    let at = file.text().content()[..end].rfind("</")?;
    let place = Place { file: file.id, span: Span::new(at, at) };
    (!text.is_empty()).then_some(TextEdit { place, replacement: text })
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
