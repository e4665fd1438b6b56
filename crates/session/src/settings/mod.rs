//! The file `charter.toml`: what a team has settled for its contracts. It holds for the folder that it stands in, and for
//! those below. This is its one reader; what each of its tables means is known where it is used.

mod check;
pub mod environments;
mod names;
mod revisions;
pub mod table;
mod values;

use std::path::{Path, PathBuf};
use std::sync::Arc;

use charter_check::SettingsError;
use charter_compare::Policy;
use charter_notation::Convention;
use charter_schema::sample::Vocabulary;

use self::table::Table;
use crate::{Failure, Spot, read};

pub use environments::{Environment, Secret};
pub use revisions::Revisions;

/// The name of the file.
pub const NAME: &str = "charter.toml";

/// What is settled.
///
/// ```
/// use charter_session::Settings;
///
/// let settings = Settings::read("[check.levels]\naddress-localhost = \"error\"\n\n[names]\nservice = \"*Desk\"\n")?;
/// assert_eq!(settings.check.levels[0].rule, "address-localhost");
/// assert_eq!(settings.names.service, "*Desk");
/// let error = Settings::read("[check.levels]\naddress-localhots = \"error\"\n").unwrap_err();
/// assert_eq!(error.help, "did you mean \"address-localhost\"?");
/// # Ok::<(), charter_check::SettingsError>(())
/// ```
#[derive(Debug, Clone, Default)]
pub struct Settings {
    /// The folder that it is settled in, if anything is.
    pub folder: Option<PathBuf>,
    /// About checks: `[check]` and `[house]`.
    pub check: charter_check::Settings,
    /// About the names of new components: `[names]`.
    pub names: Convention,
    /// About comparisons: `[compare]`.
    pub compare: Revisions,
    /// What happens to version numbers: `[versions]`; nothing if nothing is said.
    pub versions: Option<Policy>,
    /// Where providers are, and how they are reached: `[environments.NAME]`.
    pub environments: Vec<(String, Environment)>,
    /// What samples say: `[values]`.
    pub values: Arc<Vocabulary>,
}

impl Settings {
    /// Reads the text of a `charter.toml`.
    ///
    /// # Errors
    /// The first thing in it that makes no sense, with its place.
    pub fn read(text: &str) -> Result<Settings, SettingsError> {
        let document =
            table::parse(text, "a line such as [check.levels], then lines such as type-unused = \"off\"")?;
        let mut settings = Settings::default();
        let known = ["names", "check", "house", "compare", "versions", "environments", "values"];
        for (key, value) in Table::root(document.get_ref()).entries(&known)? {
            let table = value.table(key)?;
            match key {
                "names" => names::read(&table, &mut settings.names)?,
                "check" => check::check(&table, &mut settings.check)?,
                "house" => settings.check.house = check::house(&table)?,
                "compare" => settings.compare = revisions::compare(&table)?,
                "environments" => settings.environments = environments::read(&table)?,
                "versions" => settings.versions = Some(revisions::versions(&table)?),
                _ => settings.values = Arc::new(values::read(&table)?),
            }
        }
        Ok(settings)
    }
}

/// What is settled for a file by the nearest `charter.toml`.
pub(crate) fn holding_for(file: &str) -> Result<Arc<Settings>, Failure> {
    let mut settings = Settings::default();
    if let Some(path) = nearest(Path::new(if file == "-" { "." } else { file })) {
        let shown = path.display().to_string();
        let text = read::small(&path).map_err(|error| {
            Failure::new(format!("it cannot be read: {error}"))
                .at(shown.as_str())
                .help("mend it, or move it away")
        })?;
        settings = Settings::read(&text).map_err(|error| failure(&shown, &text, error))?;
        settings.folder = path.parent().map(Path::to_owned);
        if let Some(folder) = &settings.folder {
            settings.environments.iter_mut().for_each(|(_, environment)| environment.within(folder));
        }
    }
    settings.check.today = today();
    Ok(Arc::new(settings))
}

/// What makes no sense in a file that people write, as the user is told.
pub fn failure(shown: &str, text: &str, error: SettingsError) -> Failure {
    Failure::new(error.message).at(Spot::within(shown, text, error.span.start)).help(error.help)
}

/// Today in the calendar of the world, as `2026-11-23`.
fn today() -> String {
    jiff::Timestamp::now().strftime("%Y-%m-%d").to_string()
}

/// The nearest file of settings, from the folder of a file upwards.
fn nearest(file: &Path) -> Option<PathBuf> {
    let whole = std::path::absolute(file).ok()?;
    let start = if whole.is_dir() { Some(whole.as_path()) } else { whole.parent() };
    start?.ancestors().map(|folder| folder.join(NAME)).find(|path| path.is_file())
}
