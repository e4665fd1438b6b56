//! What is done with any bytes: one function for each kind of input. `cargo fuzz` runs them for as long as one likes, and a
//! test of the program runs them for a moment, from a fixed seed.

use std::sync::LazyLock;

use charter_author::{Change, Editing, Renaming, SchemaPlace, add, edit, fresh, remove, rename, set};
use charter_compare::{Options, ReadsReplies, Usage, UsedOperation, Verdict, compare_for};
use charter_contract::{Component, Contract, Side};
use charter_message::captured::split;
use charter_message::matching::Matcher;
use charter_message::{assemble, values};
use charter_notation::{Convention, merged, read, text_of};
use charter_schema::Engine;
use charter_schema::sample::{Sampler, Size};
use charter_source::xml::{Bounds, Document};
use charter_source::{Files, Limits, Location, Nowhere, Overlay};

const TIDES: &str = include_str!("tides.wsdl");
const PORT: &str = include_str!("port.xsd");
const HARBOUR: &str = include_str!("../crates/cli/demo/office/harbour.wsdl");

/// A contract or a schema of these bytes.
fn loaded(name: &str, bytes: &[u8]) -> Option<Contract> {
    let location = Location::from_argument(name);
    let mut store = Overlay::new(Nowhere);
    store.put(&location, bytes.to_vec());
    Contract::load(&store, &location, Limits::default()).ok()
}

static TIDES_LOADED: LazyLock<Contract> =
    LazyLock::new(|| loaded("tides.wsdl", TIDES.as_bytes()).expect("it is there"));
static HARBOUR_LOADED: LazyLock<Contract> =
    LazyLock::new(|| loaded("harbour.wsdl", HARBOUR.as_bytes()).expect("it is there"));

/// Two pieces of one input, with a line of its own between them.
fn halves(bytes: &[u8]) -> (&[u8], &[u8]) {
    const MARK: &[u8] = b"\n%%\n";
    match bytes.windows(MARK.len()).position(|window| window == MARK) {
        Some(at) => (&bytes[..at], &bytes[at + MARK.len()..]),
        None => (bytes, b""),
    }
}

/// Any text as XML: what is taken has its parts where it says.
pub fn xml(bytes: &[u8]) {
    let Ok(text) = std::str::from_utf8(bytes) else { return };
    match Document::parse(text, Bounds::default()) {
        Err(error) => assert!(text.get(error.at..).is_some(), "{error} at {}", error.at),
        Ok(document) => {
            for node in document.descendants() {
                assert!(text.get(node.range()).is_some());
                for attribute in node.attributes() {
                    assert!(text.get(attribute.range_value()).is_some());
                    let name = attribute.namespace().unwrap_or("");
                    assert!(node.has_attribute((name, attribute.name())));
                }
            }
        }
    }
}

/// Any bytes as a schema: it is loaded, checked, and samples are made of its elements.
pub fn schema(bytes: &[u8]) {
    let Some(contract) = loaded("port.xsd", bytes) else { return };
    charter_check::check(&contract);
    let engine = Engine::new(&contract.files, &contract.schemas);
    for id in contract.schemas.elements.ids().take(3) {
        for size in [Size::Least, Size::Most, Size::Random(4)] {
            let _ = Sampler::new(&engine, size).element(id);
        }
    }
}

/// Any bytes as an instance of a schema that uses much of the language.
pub fn instance(bytes: &[u8]) {
    let location = Location::from_argument("visit.xml");
    let mut store = Overlay::new(Nowhere);
    store.put(&location, bytes.to_vec());
    let Ok(instance) = Files::load(&store, &location, Limits::default()) else { return };
    let Some(contract) = loaded("port.xsd", PORT.as_bytes()) else { return };
    let engine = Engine::new(&contract.files, &contract.schemas);
    if let Some(root) = instance.first().root() {
        engine.validate(instance.first().id, root, 10);
    }
}

/// Any text as notation: what can be read can be written, and read again as the same; and as what is to be added to a
/// contract, and as the laid-out text that an edit is carried into.
pub fn notation(bytes: &[u8]) {
    let Ok(text) = std::str::from_utf8(bytes) else { return };
    let convention = Convention::default();
    if let Ok(written) = read(text, &convention) {
        let canonical = text_of(&written.info, &written.prefixes, &convention);
        let again = read(&canonical, &convention).expect("what was written can be read");
        assert_eq!(text_of(&again.info, &again.prefixes, &convention), canonical);
        fresh(written.info, &written.prefixes, SchemaPlace::Beside);
        // The comments and the layout of a text never change what it says.
        if let Ok(kept) = read(&merged(text, &canonical), &convention) {
            assert_eq!(text_of(&kept.info, &kept.prefixes, &convention), canonical);
        }
    }
    let store = Overlay::of(&[("tides.wsdl", TIDES)]);
    let contract = &*TIDES_LOADED;
    let editing = Editing::of(contract, &store, &convention);
    for path in ["operation/nextTide", "type/Gauge"] {
        let component = contract.find(path).expect("the component is there");
        let _ = add(editing, component, text);
        let _ = edit(editing, component, text);
    }
    let _ = add(editing, Component::Contract, text);
}

/// Any text as the settings of a house, by which a contract is checked.
pub fn settings(bytes: &[u8]) {
    let Ok(text) = std::str::from_utf8(bytes) else { return };
    match charter_session::Settings::read(text) {
        Err(error) => assert!(error.span.start <= text.len() && !error.message.is_empty()),
        Ok(settings) => drop(charter_check::check_by(&TIDES_LOADED, &settings.check)),
    }
    let _ = charter_check::Baseline::read(text);
}

/// Any text as a consumer record: its operations and paths are looked for, and say whom a change meets.
pub fn record(bytes: &[u8]) {
    let Ok(text) = std::str::from_utf8(bytes) else { return };
    let Ok(table) = text.parse::<toml::Table>() else { return };
    let steps = |list: Option<&toml::Value>| -> Option<Vec<Vec<String>>> {
        let list = list?.as_array()?.iter().filter_map(toml::Value::as_str);
        Some(
            list.filter_map(|path| Some(values::steps(path).ok()?.into_iter().map(|it| it.key).collect()))
                .collect(),
        )
    };
    let operations = table.get("operations").and_then(toml::Value::as_table).into_iter().flatten();
    let used = operations.map(|(name, used)| UsedOperation {
        name: name.clone(),
        sends: steps(used.get("sends")),
        reads: steps(used.get("reads")),
    });
    let usage = Usage { reading: ReadsReplies::default(), ports: None, operations: used.collect() };
    let new = TIDES.replace("xs:decimal", "xs:string");
    let Some(new) = loaded("tides.wsdl", new.as_bytes()) else { return };
    compare_for(&TIDES_LOADED, &new, Options::default(), &[usage]);
}

/// Any text as table definitions.
pub fn tables(bytes: &[u8]) {
    let Ok(text) = std::str::from_utf8(bytes) else { return };
    if let Ok(derived) = charter_author::from_table_definitions(text) {
        derived.notation();
    }
    if let Ok(derived) = charter_author::from_rows(text, "Row") {
        derived.notation();
    }
}

/// Any bytes as captured messages of a contract that has every kind of binding: they are split, judged, and their
/// values taken out and put in again.
pub fn captured(bytes: &[u8]) {
    let contract = &*HARBOUR_LOADED;
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(contract, &engine, 20);
    for raw in split("captured", bytes) {
        let captured = raw.open();
        let matched = matcher.judge(&captured);
        for found in &matched.found {
            captured.file.text().position(found.fault.place.span.end);
        }
        let Some(wire_content) = matcher.wire_content(&captured, &matched) else { continue };
        let Some(at) = matched.shape else { continue };
        let shape = &matcher.known()[at].shape;
        let given = values::write(&engine, shape, &wire_content);
        if matched.is_valid() {
            // What is right can be said in values, and these make the same again.
            if let Ok(again) = values::read(&engine, shape, &given) {
                assert_eq!(values::write(&engine, shape, &again), given);
            }
        }
    }
}

/// Any text as values, whole or one by one, of the messages of a contract.
pub fn given(bytes: &[u8]) {
    let Ok(text) = std::str::from_utf8(bytes) else { return };
    let contract = &*HARBOUR_LOADED;
    let engine = Engine::new(&contract.files, &contract.schemas);
    let whole: Option<serde_json::Value> = serde_json::from_str(text).ok();
    for (id, _) in contract.operations().take(4) {
        let Ok(shape) = contract.wire_shape(id, Side::Input, None) else { continue };
        let fill = |values: &serde_json::Value| {
            if let Ok(wire_content) = values::read(&engine, &shape, values) {
                assemble(&engine, &shape, wire_content, &[]).http(contract);
            }
        };
        if let Some(whole) = &whole {
            fill(whole);
        }
        let mut all = serde_json::json!({});
        for line in text.lines().take(20) {
            if let Some((path, value)) = line.split_once('=') {
                let _ = values::ByPath::of(&engine, &shape).set(&mut all, path, value);
            }
        }
        fill(&all);
    }
}

/// Any edits of any contract: each reads back, or is refused.
pub fn edits(bytes: &[u8]) {
    let (text, edits) = halves(bytes);
    let Ok(edits) = std::str::from_utf8(edits) else { return };
    let text = if text.is_empty() { TIDES.as_bytes() } else { text };
    let convention = Convention::default();
    let location = Location::from_argument("tides.wsdl");
    let mut store = Overlay::new(Nowhere);
    store.put(&location, text.to_vec());
    for line in edits.lines().take(4) {
        let Ok(contract) = Contract::load(&store, &location, Limits::default()) else { return };
        let mut words = line.splitn(3, ' ');
        let (Some(verb), Some(path)) = (words.next(), words.next()) else { continue };
        let rest = words.next().unwrap_or("");
        let component = if path == "contract" { Ok(Component::Contract) } else { contract.find(path) };
        let Ok(component) = component else { continue };
        let editing = Editing::of(&contract, &store, &convention);
        let result = match verb {
            "set" => set(editing, component, &[rest.split_once('=').unwrap_or((rest, ""))]),
            "rename" => rename(editing, component, Renaming { name: rest, only: false }),
            "remove" => remove(editing, component, rest == "all"),
            "edit" => edit(editing, component, rest),
            _ => add(editing, component, rest),
        };
        let Ok(change) = result else { continue };
        reads_back(&contract, &change);
        for file in &change.files {
            store.put_text(&file.location, file.after.clone());
        }
    }
}

/// What a change makes is what it says, and can be read.
fn reads_back(contract: &Contract, change: &Change) {
    for file in &change.files {
        let known = contract.files.get(file.file);
        assert_eq!(known.text().content(), file.before.text());
        let again = loaded("tides.wsdl", &file.after.bytes()).expect("what was written can be read");
        assert_eq!(again.files.first().text().content(), file.after.text());
        assert!(again.files.first().root().is_some(), "{}", file.after.text());
    }
}

/// Any two contracts as versions of each other. None breaks its own consumers.
pub fn versions(bytes: &[u8]) {
    let (old, new) = halves(bytes);
    let (Some(old), Some(new)) = (loaded("tides.wsdl", old), loaded("tides.wsdl", new)) else { return };
    compare_for(&old, &new, Options::default(), &[Usage::default()]);
    let (report, _) = compare_for(&old, &old, Options::default(), &[]);
    assert_ne!(report.verdict, Verdict::Breaks, "{:?}", report.changes.first());
}
