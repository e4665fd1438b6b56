//! A change log for consumers, in Markdown.

use charter_compare::{
    Advice, Beside, Change, Depends, Kind, SideOf, Verdict, Version, Versions, What, least_body, typical_body,
};
use charter_contract::{OperationId, Side};
use charter_schema::Engine;

use super::{Compared, lines};
use crate::alike;
use crate::escape::{block, code, markdown as plain};

/// The change log between two versions of a contract.
pub fn notes(compared: &Compared, advice: &Advice) -> String {
    let (old, new) = &compared.names;
    let name = compared.new.services.iter().next().map(|(_, service)| service.name.local.to_string());
    let mut text = format!("# Changes of {}\n\n", plain(&name.unwrap_or_else(|| compared.name.clone())));
    text.push_str(&format!("From {} to {}: {}.\n", code(old), code(new), summary(compared)));
    let version = match (&advice.current, &advice.next) {
        (Some(current), Some(next)) if current != next => {
            Some(format!("Version {} becomes {}.", plain(current), plain(next)))
        }
        _ => None,
    };
    let parts: Vec<String> = [version, beside(advice)].into_iter().flatten().collect();
    if !parts.is_empty() {
        text.push_str(&format!("\n{}\n", parts.join(" ")));
    }
    let changes = &compared.report.changes;
    let versions = Sides {
        versions: compared.versions(),
        pairs: &compared.report.operation_pairs,
        engines: [
            Engine::new(&compared.old.files, &compared.old.schemas),
            Engine::new(&compared.new.files, &compared.new.schemas),
        ],
        moved: compared.report.changes.iter().flat_map(moved).collect(),
        locals_moved: compared.report.changes.iter().any(
            |change| matches!(&change.what, What::Migrated { migration } if !migration.locals.is_empty()),
        ),
    };
    let versions = &versions;
    let of = |verdict: Verdict| {
        changes.iter().filter(move |change| change.verdict == verdict && change.accepted.is_none())
    };
    section(&mut text, versions, "What you must change", of(Verdict::Breaks), true);
    section(&mut text, versions, "What may concern you", of(Verdict::Bends), true);
    section(&mut text, versions, "What is new or easier", of(Verdict::Keeps), false);
    section(
        &mut text,
        versions,
        "What you know already",
        changes.iter().filter(|change| change.accepted.is_some()),
        false,
    );
    text
}

fn summary(compared: &Compared) -> String {
    match compared.report.verdict {
        Verdict::Keeps if compared.report.changes.is_empty() => {
            "nothing that you can see has changed".to_owned()
        }
        Verdict::Keeps => "all that you do still works".to_owned(),
        Verdict::Bends => "your messages still work; see what may concern you".to_owned(),
        Verdict::Breaks => "some of what you do no longer works".to_owned(),
    }
}

fn beside(advice: &Advice) -> Option<String> {
    Some(match advice.beside {
        Beside::OneAddress => "Both versions can be offered at one address for a time.".to_owned(),
        Beside::TwoAddresses => "While both versions are offered, each has an address of its own.".to_owned(),
        Beside::NoNeed => return None,
    })
}

/// Lines of a message that are shown.
const MOST_LINES: usize = 24;

/// The sides of both versions, with what messages are made of.
struct Sides<'c> {
    versions: Versions<'c>,
    pairs: &'c [(OperationId, OperationId)],
    engines: [Engine<'c>; 2],
    /// The namespaces that moved.
    moved: Vec<Moved>,
    /// Whether local names went into their namespaces or out of them.
    locals_moved: bool,
}

/// A namespace that moved.
struct Moved {
    was: String,
    is: String,
}

fn moved(change: &Change) -> Vec<Moved> {
    match &change.what {
        What::Migrated { migration } => {
            let pairs = migration.namespaces.iter();
            pairs.map(|(was, is)| Moved { was: was.clone(), is: is.clone() }).collect()
        }
        _ => Vec::new(),
    }
}

impl Sides<'_> {
    /// The same side in the other version.
    fn other(&self, at: SideOf) -> Option<SideOf> {
        let operation = self.pairs.iter().find_map(|(old, new)| match at.version {
            Version::Old => (*old == at.operation).then_some(*new),
            Version::New => (*new == at.operation).then_some(*old),
        })?;
        let version = at.version.other();
        let name = self.versions.side_name(at);
        let contract = self.versions.of(version);
        let side = contract
            .sides(operation)
            .into_iter()
            .find(|side| contract.side_name(operation, *side) == name)?;
        Some(SideOf { version, operation, side })
    }

    fn engine(&self, version: Version) -> &Engine<'_> {
        match version {
            Version::Old => &self.engines[0],
            Version::New => &self.engines[1],
        }
    }

    fn least(&self, at: SideOf) -> Option<String> {
        least_body(self.versions.of(at.version), self.engine(at.version), at)
    }

    fn typical(&self, at: SideOf) -> Option<String> {
        typical_body(self.versions.of(at.version), self.engine(at.version), at)
    }

    /// A message of today, and one as it is from now on: what shows the change, and the least message of the other version.
    fn before_and_after(&self, change: &Change) -> Option<(String, String)> {
        let witness = change.witness.as_ref()?;
        if self.locals_moved {
            // What moved is seen where there is something of it. What else changed stands in names of another namespace today.
            let own = |version| self.own(witness.at, version).and_then(|at| self.typical(at));
            return change.is_migration().then(|| Some((own(Version::Old)?, own(Version::New)?)))?;
        }
        let shown = witness.body.clone()?;
        let other = self.own(witness.at, witness.accepted_by.other()).and_then(|at| self.least(at))?;
        // Beyond a move, what consumers send today is shown in the names of today.
        let in_old_names = |mut text: String| {
            for Moved { was, is } in &self.moved {
                text = text.replace(&format!("\"{is}\""), &format!("\"{was}\""));
            }
            text
        };
        Some(match witness.accepted_by {
            Version::Old => (in_old_names(shown), other),
            Version::New => (other, shown),
        })
    }

    /// A side as a version has it.
    fn own(&self, at: SideOf, version: Version) -> Option<SideOf> {
        if at.version == version { Some(at) } else { self.other(at) }
    }
}

/// What there is to do, for those whom a change meets.
fn what_to_do(change: &Change) -> Option<&'static str> {
    let sends = change.worst().any(|touched| touched.at.side == Side::Input);
    Some(match change.kind {
        _ if change.verdict == Verdict::Keeps => return None,
        Kind::NamespaceMoved if matches!(&change.what, What::Migrated { migration } if migration.namespaces.is_empty()) => {
            "Build anew from the new contract: names in what you send and read are in another namespace."
        }
        Kind::NamespaceMoved => {
            "Build anew from the new contract: all that you send and read is in the new namespace."
        }
        Kind::OperationRemoved => "It can no longer be called: do without it.",
        Kind::OperationRenamed => "Call it by its new name.",
        Kind::PortRemoved => "Call another port.",
        Kind::AddressChanged => "Call the new address.",
        Kind::FaultAdded => "Be ready for this fault.",
        Kind::OpenContentChanged => "Look into it if you put content of your own there, or read such.",
        _ if change.worst().next().is_none() => return None,
        _ if sends => "Send it as the new version asks.",
        _ => "Be ready to read it so.",
    })
}

/// Lines that two messages share and that are shown, before what differs and behind it.
const AROUND: usize = 3;

/// A message of today and one as it is from now on, each cut to what differs and the lines around that.
fn messages(before: &str, after: &str) -> String {
    let (was, is): (Vec<&str>, Vec<&str>) =
        (before.trim_end().lines().collect(), after.trim_end().lines().collect());
    // The first line has the namespaces, which may be others.
    let (a, b) = (was.get(1..).unwrap_or_default(), is.get(1..).unwrap_or_default());
    let (same, same_end) = alike::ends(a, b);
    let cut = |lines: &[&str]| -> String {
        let from = 1 + same.saturating_sub(AROUND);
        let to = (lines.len() - same_end.min(lines.len()) + AROUND).clamp(from.min(lines.len()), lines.len());
        let to = to.min(from + MOST_LINES);
        let mut shown = vec![lines.first().copied().unwrap_or_default()];
        shown.extend((from > 1).then_some("..."));
        shown.extend(lines.get(from..to).unwrap_or_default());
        shown.extend((to < lines.len()).then_some("..."));
        shown.iter().map(|line| format!("{line}\n")).collect()
    };
    let block = |head: &str, lines: &[&str]| format!("\n  {head}\n\n{}", block("xml", &cut(lines), "  "));
    format!("{}{}\n", block("Today:", &was), block("From now on:", &is))
}

fn section<'c>(
    text: &mut String,
    sides: &Sides<'_>,
    title: &str,
    changes: impl Iterator<Item = &'c Change>,
    in_full: bool,
) {
    let changes: Vec<&Change> = changes.collect();
    if changes.is_empty() {
        return;
    }
    let versions = sides.versions;
    let all = versions.new.operations().count();
    text.push_str(&format!("\n## {title}\n\n"));
    for change in changes {
        let mut operations: Vec<&str> = Vec::new();
        for touched in change.worst() {
            let operation = versions.operation_name(touched.at);
            if !operations.contains(&operation) {
                operations.push(operation);
            }
        }
        let named: Vec<String> = operations.iter().map(|name| code(name)).collect();
        let of = match named.as_slice() {
            [] => String::new(),
            [_, _, ..] if named.len() == all => "all operations: ".to_owned(),
            named => format!("{}: ", named.join(", ")),
        };
        text.push_str(&format!("- {of}{} ({})", plain(&change.what.to_string()), code(change.path.as_str())));
        if let Some(reason) = &change.accepted {
            text.push_str(&format!(". {}", plain(reason)));
        }
        text.push('\n');
        if !in_full {
            continue;
        }
        if let Some(words) = what_to_do(change) {
            text.push_str(&format!("  {words}\n"));
        }
        if let Some(depends) = change.depends.filter(|depends| !matches!(depends, Depends::Surroundings)) {
            text.push_str(&format!("  It depends on {}.\n", depends.words()));
        }
        let (was, is) = lines::shown(change.old.as_deref(), change.new.as_deref());
        let lines = [("-", &was), ("+", &is)];
        let shown: Vec<String> = lines
            .iter()
            .filter_map(|(mark, text)| text.as_ref().map(|text| (mark, text)))
            .flat_map(|(mark, text)| text.lines().map(move |line| format!("{mark} {line}\n")))
            .collect();
        if !shown.is_empty() && change.old != change.new {
            text.push_str(&format!("\n{}", block("diff", &shown.concat(), "  ")));
        }
        let blocks = text.ends_with("```\n");
        if let Some((before, after)) = sides.before_and_after(change) {
            text.push_str(&messages(&before, &after));
        } else if blocks {
            text.push('\n');
        }
    }
}
