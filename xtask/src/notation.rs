//! The laws of the notation on random schemas, sound ones and others.

use charter_author::{SchemaPlace, fresh};
use charter_contract::Contract;
use charter_notation::{Child, Convention, ElementInfo, Prefixes, info_of, read, text_of};
use charter_source::{Limits, Location, Overlay};
use fastrand::Rng;

use crate::{change, schemas};

/// Sends as many random schemas through the notation and back, and says how many came back as they were.
pub fn round_trips(count: usize, rng: &mut Rng) {
    let (mut kept, mut verbatim) = (0, 0);
    for number in 0..count {
        let mut schema = schemas::Maker::new(rng).schema();
        if number % 2 == 1 {
            change::schema(rng, &mut schema);
        }
        let text = schema.to_text();
        match round_trip(&text) {
            Ok(notation) => {
                kept += 1;
                verbatim += usize::from(notation.contains("xml <"));
            }
            Err(why) => println!("schema {number}: {why}\n{text}\n"),
        }
    }
    println!("{kept} of {count} schemas came back as they were; {verbatim} have XML in their notation");
}

fn load(text: &str) -> Option<Contract> {
    let store = Overlay::of(&[("s.xsd", text)]);
    Contract::load(&store, &Location::from_argument("s.xsd"), Limits::default()).ok()
}

/// The notation of a schema, if both ways lead back.
fn round_trip(text: &str) -> Result<String, String> {
    let convention = Convention::default();
    let contract = load(text).ok_or("it cannot be read")?;
    let info = info_of(&contract);
    let notation = text_of(&info, &Prefixes::of(&contract), &convention);
    let written = read(&notation, &convention).map_err(|errors| format!("{errors:?}\n{notation}"))?;
    if text_of(&written.info, &written.prefixes, &convention) != notation {
        return Err(format!("another text\n{notation}"));
    }
    if sorted(written.info.clone()) != sorted(info.clone()) {
        return Err(format!("another form\n{notation}"));
    }
    let files = fresh(written.info, &written.prefixes, SchemaPlace::Embedded);
    let Some(first) = files.first() else { return Ok(notation) };
    let back = load(&first.text).ok_or("what was written cannot be read")?;
    // Other files are written beside the first; that alone is compared where it is all.
    if files.len() == 1 && sorted(info_of(&back)) != sorted(info) {
        return Err(format!("another schema\n{notation}\n{}", first.text));
    }
    Ok(notation)
}

fn sorted(mut info: ElementInfo) -> ElementInfo {
    for child in info.elements_mut() {
        *child = sorted(child.clone());
    }
    if ["types", "schema"].iter().any(|local| &*info.name.local == *local) {
        info.children.sort_by_key(|child| match child {
            Child::Element(info) => (info.name.local.to_string(), info.text("name").unwrap_or("").to_owned()),
            _ => Default::default(),
        });
    }
    info
}
