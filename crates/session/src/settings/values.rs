//! `[values]`: what samples say, by the names of elements and attributes.

use charter_check::SettingsError;
use charter_schema::sample::Vocabulary;

use super::table::Table;

pub(super) fn read(table: &Table<'_>) -> Result<Vocabulary, SettingsError> {
    let mut words = Vocabulary::default();
    for (name, value) in table.entries(&[])? {
        let values = value.texts()?;
        if values.is_empty() {
            let help = format!("write {name} = [\"…\", \"…\"], the likeliest first");
            return Err(value.wrong(format!("there is no value for \"{name}\""), help));
        }
        words.insert(name, values.into_iter().map(|(_, text)| text));
    }
    Ok(words)
}
