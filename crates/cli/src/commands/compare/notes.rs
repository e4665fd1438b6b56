//! A change log for consumers, in Markdown.

use charter_compare::{Advice, Beside, Change, Depends, Verdict, Versions};

use super::{Compared, lines};
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
    let versions = compared.versions();
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

fn section<'c>(
    text: &mut String,
    versions: Versions<'_>,
    title: &str,
    changes: impl Iterator<Item = &'c Change>,
    in_full: bool,
) {
    let changes: Vec<&Change> = changes.collect();
    if changes.is_empty() {
        return;
    }
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
        let of = if named.is_empty() { String::new() } else { format!("{}: ", named.join(", ")) };
        text.push_str(&format!("- {of}{} ({})", plain(&change.what.to_string()), code(change.path.as_str())));
        if let Some(reason) = &change.accepted {
            text.push_str(&format!(". {}", plain(reason)));
        }
        text.push('\n');
        if !in_full {
            continue;
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
            text.push_str(&format!("\n{}\n", block("diff", &shown.concat(), "  ")));
        }
    }
}
