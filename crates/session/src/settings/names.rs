//! `[names]`: the naming convention of new components.

use charter_check::SettingsError;
use charter_notation::Convention;
use charter_source::is_ncname;

use super::table::Table;

pub(super) fn read(table: &Table<'_>, convention: &mut Convention) -> Result<(), SettingsError> {
    let known: Vec<&'static str> = convention.table().iter().map(|(name, _)| *name).collect();
    for (key, value) in table.entries(&known)? {
        let pattern = value.text()?;
        let needs_stem = !matches!(key, "part" | "fault-part");
        let stems = pattern.matches('*').count();
        if stems != usize::from(needs_stem) || !is_ncname(&pattern.replace('*', "x")) {
            let help = match needs_stem {
                true => "write * once, for the name that it follows from: \"*Service\", \"PT_*\"",
                false => "a part has one name, without *",
            };
            return Err(value.wrong(format!("\"{pattern}\" makes no names"), help));
        }
        if let Some((_, place)) = convention.table().into_iter().find(|(name, _)| *name == key) {
            pattern.clone_into(place);
        }
    }
    Ok(())
}
