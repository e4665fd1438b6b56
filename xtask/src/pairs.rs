//! Writes random contracts and revisions of them as files: what one build of the program says of them is compared with what
//! another says, byte by byte, where a change is to change nothing.

use std::path::Path;

use charter_contract::Contract;
use charter_source::{Limits, Location, Overlay};
use fastrand::Rng;

use crate::schemas::Maker;
use crate::{revise, versions};

/// Writes so many pairs, `NUMBER-old.wsdl` and `NUMBER-new.wsdl`: by turns with another schema, and with other messages,
/// bindings or ports.
pub fn pairs(count: usize, rng: &mut Rng, folder: &Path) -> std::io::Result<()> {
    std::fs::create_dir_all(folder)?;
    let mut number = 0;
    while number < count {
        let schema = Maker::new(rng).schema();
        let text = schema.to_text();
        let Some(alone) = load("s.xsd", &text).filter(|alone| crate::judged(alone).is_none()) else {
            continue;
        };
        let (old, _) = crate::messages::contract(&text, &alone.schemas, rng);
        let new = if number % 2 == 0 {
            let mut revised = schema.clone();
            if revise::of_kind(rng, &mut revised, number / 2).is_none() {
                revise::revise(rng, &mut revised);
            }
            Some(old.replacen(&text, &revised.to_text(), 1))
        } else {
            versions::revised(&old, number / 2)
        };
        let Some(new) = new else { continue };
        std::fs::write(folder.join(format!("{number}-old.wsdl")), old)?;
        std::fs::write(folder.join(format!("{number}-new.wsdl")), new)?;
        number += 1;
    }
    println!("{count} pairs in {}", folder.display());
    Ok(())
}

fn load(name: &str, text: &str) -> Option<Contract> {
    Contract::load(&Overlay::of(&[(name, text)]), &Location::from_argument(name), Limits::default()).ok()
}
