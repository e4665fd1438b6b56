//! Runs the rules over a contract.

use charter_contract::Contract;
use charter_schema::Engine;
use charter_source::{Fault, Map, Place};

use crate::catalogue;
use crate::finding::{Checked, Finding};
use crate::level::Level;
use crate::profile::{self, Profile, Strength};
use crate::rule::Family;
use crate::rules::envelope;
use crate::settings::{Exception, Settings};

/// Everything that is wrong with a contract, or does harm, as far as nothing else is settled.
///
/// ```
/// use charter_contract::Contract;
/// use charter_source::{Limits, Location, Overlay};
///
/// let text = r#"<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema">
///   <xs:element name="draught" type="xs:decimel"/>
/// </xs:schema>"#;
/// let store = Overlay::of(&[("port.xsd", text)]);
/// let contract = Contract::load(&store, &Location::from_argument("port.xsd"), Limits::default())?;
/// let findings = charter_check::check(&contract);
/// assert_eq!(findings[0].rule.name, "src-resolve");
/// assert_eq!(findings[0].path.as_str(), "element/draught");
/// assert_eq!(findings[0].help.as_deref(), Some("did you mean \"decimal\"?"));
/// # Ok::<(), charter_source::ReadError>(())
/// ```
pub fn check(contract: &Contract) -> Vec<Finding> {
    check_by(contract, &Settings::default()).findings
}

/// Bytes of a contract whose rules are looked at beside its schemas.
const LARGE: usize = 1 << 20;

/// Everything that is wrong with a contract, or worth knowing, as it is settled.
pub fn check_by(contract: &Contract, settings: &Settings) -> Checked {
    let mut faults: Vec<Fault> = contract.faults().into_iter().cloned().collect();
    let size: usize = contract.files.iter().map(|file| file.text().content().len()).sum();
    let judge = || Engine::new(&contract.files, &contract.schemas).judge();
    if size < LARGE {
        faults.extend(judge());
        faults.extend(by_rules(contract, settings));
    } else {
        // The schemas are judged here, where there is more room for what is nested deep.
        std::thread::scope(|threads| {
            let rules = threads.spawn(|| by_rules(contract, settings));
            faults.extend(judge());
            faults.extend(rules.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)));
        });
    }
    // A message is no contract, but can be judged as what it is.
    if envelope::is_message(contract) {
        faults.retain(|fault| fault.rule != "not-a-contract");
    }
    faults.sort_by_key(|fault| fault.place);
    // One file read in two ways, or one prefix behind several names, says the same thing twice.
    faults.dedup();
    let profiles = settings.profiles.clone().unwrap_or_else(|| Profile::expected(contract));
    let asked = profile::asked(&profiles);
    let mut checked = Checked { profiles, ..Checked::default() };
    for fault in faults {
        let Some(level) = level(settings, &asked, &fault) else { continue };
        // To find the path of a component takes a while, which nobody wants to wait who does not hear of it.
        if level == Level::Note && !settings.notes && !settings.looks_at_paths(fault.rule) {
            checked.unsaid += 1;
            continue;
        }
        let Some(finding) = finding(contract, settings, level, fault) else { continue };
        if finding.level == Level::Note && !settings.notes {
            checked.unsaid += 1;
            continue;
        }
        match settings.exception(finding.name, finding.path.as_str()) {
            Some((_, true)) => checked.excepted.push(finding),
            Some((exception, false)) => checked.findings.push(ended(finding, exception)),
            None => checked.findings.push(finding),
        }
    }
    checked.findings.sort_by_key(|finding| {
        // From a file that is not there, most of the rest may follow.
        let gone = finding.rule.name.starts_with("import-") && finding.rule.family == Family::Xml;
        (finding.place.file, !gone, finding.level, finding.rule.family.ground(), finding.place.span)
    });
    checked
}

/// A finding that was allowed for a time which is over.
fn ended(mut finding: Finding, exception: &Exception) -> Finding {
    let until = exception.until.as_deref().unwrap_or("");
    let help = finding.help.take().map_or(String::new(), |help| format!("{help}; "));
    finding.help = Some(format!("{help}it was allowed until {until}: {}", exception.reason));
    finding
}

/// What the rules find that have a function of their own.
fn by_rules(contract: &Contract, settings: &Settings) -> Vec<Fault> {
    let mut faults = Vec::new();
    // What cannot be read at all has no components to look at.
    if contract.files.first().root().is_some() {
        for rule in catalogue::rules() {
            if let Some(look) = rule.look {
                look(contract, &mut faults);
            }
            if let Some(look) = rule.by_settings {
                look(contract, settings, &mut faults);
            }
        }
    }
    faults
}

/// The level of a fault, wherever it stands; `None` if its rule is off, or not in force.
fn level(settings: &Settings, asked: &Map<&'static str, Strength>, fault: &Fault) -> Option<Level> {
    let rule = catalogue::listed(fault.rule);
    let strength = asked.get(rule.name);
    if strength.is_none() && matches!(rule.family, Family::Interop | Family::Envelope) {
        return None;
    }
    // Whoever asks for a profile wants to hear of it as of an error.
    let level = match (&settings.profiles, strength) {
        (Some(_), Some(Strength::Must)) => Level::Error,
        (Some(_), Some(Strength::Should)) => rule.level.min(Level::Warning),
        _ => rule.level,
    };
    if settings.looks_at_paths(rule.name) { Some(level) } else { settings.level(rule.name, "", level) }
}

fn finding(contract: &Contract, settings: &Settings, level: Level, fault: Fault) -> Option<Finding> {
    let rule = catalogue::listed(fault.rule);
    let component = contract.component_at(fault.place);
    let path = contract.path(component);
    let level = if settings.looks_at_paths(rule.name) {
        settings.level(rule.name, path.as_str(), level)?
    } else {
        level
    };
    let at = standing_at(contract, fault.place);
    let Fault { rule: name, message, place, help } = fault;
    Some(Finding { name, rule, level, message, place, help, component, path, at })
}

/// Characters of what stands at a place that tell it from others.
const LONGEST: usize = 120;

/// What stands at a place, in a line; of an element, its local name.
fn standing_at(contract: &Contract, place: Place) -> String {
    let text = contract.files.slice(place);
    let element = text.strip_prefix('<').map(|name| name.rsplit(':').next().unwrap_or(name));
    let words = element.unwrap_or(text).split_ascii_whitespace();
    let mut line = words.take(LONGEST).collect::<Vec<_>>().join(" ");
    if let Some((end, _)) = line.char_indices().nth(LONGEST) {
        line.truncate(end);
    }
    line
}
