//! Identity constraints (Part 1, 3.11.6: c-props-correct, c-selector-xpath, c-fields-xpaths).

use super::{Judge, named};
use crate::ConstraintKind;

impl Judge<'_> {
    pub(super) fn constraints(&mut self) {
        let engine = self.engine;
        for (_, constraint) in engine.schemas.constraints.iter() {
            let selector = constraint.selector.iter().map(|path| (path, false));
            for (path, field) in selector.chain(constraint.fields.iter().map(|path| (path, true))) {
                if let Err(message) = engine.xpath(path, field) {
                    let rule = if field { "c-fields-xpaths" } else { "c-selector-xpath" };
                    let help = "write names with / between them, .// at the beginning for any depth, @ before an attribute";
                    self.say(rule, path.place, message, help);
                }
            }
            let Some(refer) = constraint.refer.as_ref().filter(|_| constraint.kind == ConstraintKind::KeyRef)
            else {
                continue;
            };
            let Some(key) = refer.target.map(|id| &engine.schemas.constraints[id]) else { continue };
            if key.kind == ConstraintKind::KeyRef {
                let message = format!("{} is a keyref itself", named(&key.name));
                self.say("c-props-correct", refer.place, message, "name a key or a unique");
            } else if key.fields.len() != constraint.fields.len() {
                let message = format!(
                    "{} has {} fields, and this keyref {}",
                    named(&key.name),
                    key.fields.len(),
                    constraint.fields.len()
                );
                self.say("c-props-correct", refer.place, message, "give both the same number of fields");
            }
        }
    }
}
