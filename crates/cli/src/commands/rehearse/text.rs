//! A rehearsal for people at a terminal.

use charter_exchange::rehearsal::{Figures, Rehearsed, Unlike};

use super::{Report, words};
use crate::commands::send::shown_time;
use crate::findings::{counted, of};
use crate::paint;

/// How much is shown of one exchange.
const SHOWN: usize = 12;
/// How wide names and operations are, at least and at most.
const NAMES: (usize, usize) = (20, 44);

/// All of it.
pub fn report(report: &Report<'_>) -> String {
    let mut text = format!("rehearsing {} against {}\n", paint::strong(&report.title), report.against);
    if let Some(beside) = &report.beside {
        text.push_str(&format!("beside {}\n", beside.address));
    }
    if report.figures.is_none() {
        exchanges(report, &report.exchanges, &mut text);
    }
    if let Some(hostile) = &report.hostile {
        refused(report, hostile, &mut text);
    }
    if let Some(figures) = &report.figures {
        text.push_str(&measured(figures));
        if figures.unlike > 0 {
            text.push_str("some that were not as expected:\n");
            exchanges(report, &report.exchanges, &mut text);
        }
    }
    text.push_str(&summary(report));
    text
}

fn exchanges(report: &Report<'_>, all: &[Rehearsed], text: &mut String) {
    let longest = all.iter().map(|one| name(one).chars().count()).max().unwrap_or(0);
    let width = longest.clamp(NAMES.0, NAMES.1);
    let reasons = |one: &Rehearsed| -> Vec<String> {
        one.unlike.iter().take(SHOWN).map(|unlike| told(report, one, unlike)).collect()
    };
    // What is the same for several in a row is said once, below the last of them.
    for same in all.chunk_by(|one, next| !one.unlike.is_empty() && reasons(one) == reasons(next)) {
        for one in same {
            text.push_str(&line(one, report.beside.is_some(), width));
        }
        let first = &same[0];
        let each = if same.len() > 1 { format!("each of these {}: ", same.len()) } else { String::new() };
        for reason in reasons(first) {
            text.push_str(&format!("    {each}{reason}\n"));
        }
        if first.unlike.len() > SHOWN {
            text.push_str(&format!("    and {} more\n", first.unlike.len() - SHOWN));
        }
    }
}

/// What it is called, with its row.
pub fn name(one: &Rehearsed) -> String {
    match one.row {
        Some(row) => format!("{}, row {row}", one.name),
        None => one.name.clone(),
    }
}

fn line(one: &Rehearsed, beside: bool, width: usize) -> String {
    let right = if beside { "the same   " } else { "as expected" };
    let word = match one.unlike.is_empty() {
        true => paint::good(right),
        false => paint::error("differs    "),
    };
    let status = one.exchange.as_ref().and_then(|exchange| exchange.reply.as_ref()?.start.status());
    let status = status.map_or("---".to_owned(), |status| status.to_string());
    let took = one.exchange.as_ref().map_or(String::new(), |exchange| shown_time(exchange.took));
    let mut name = name(one);
    if name.chars().count() > width {
        name = format!("{}…", name.chars().take(width - 1).collect::<String>());
    }
    let name = format!("{name:width$}");
    format!("  {word}  {}  {status}  {}\n", paint::path(&name), paint::faint(&format!("{took:>9}")))
}

/// What is not as expected, with its wire path in colour.
fn told(report: &Report<'_>, one: &Rehearsed, unlike: &Unlike) -> String {
    let text = words::of(report.contract, one, unlike);
    match words::path(unlike) {
        Some(path) if text.starts_with(path) => format!("{}{}", paint::path(path), &text[path.len()..]),
        _ => text,
    }
}

/// Wrong requests: how many there were of each operation, and which were taken.
fn refused(report: &Report<'_>, hostile: &[Rehearsed], text: &mut String) {
    let mut rest = hostile;
    while let Some(first) = rest.first() {
        let of_same =
            rest.iter().take_while(|one| one.operation == first.operation && one.port == first.port).count();
        let (same, others) = rest.split_at(of_same);
        rest = others;
        let wrong: Vec<&Rehearsed> = same.iter().filter(|one| !one.unlike.is_empty()).collect();
        let word = match wrong.iter().any(|one| is_taken(one)) {
            _ if wrong.is_empty() => paint::good("refused    "),
            true => paint::error("taken      "),
            false => paint::error("differs    "),
        };
        let count = match wrong.len() {
            0 => format!("all of {}", of(same.len(), "wrong request")),
            wrong => format!("{wrong} of {}", of(same.len(), "wrong request")),
        };
        text.push_str(&format!("  {word}  {} by {}: {count}\n", paint::path(&first.operation), first.port));
        // One reason of several is said once.
        let mut reasons: Vec<String> = Vec::new();
        for reason in wrong.iter().flat_map(|one| one.unlike.iter().map(|unlike| told(report, one, unlike))) {
            if !reasons.contains(&reason) {
                reasons.push(reason);
            }
        }
        for reason in reasons.iter().take(SHOWN) {
            text.push_str(&format!("    {reason}\n"));
        }
        if reasons.len() > SHOWN {
            text.push_str(&format!("    and {} more\n", reasons.len() - SHOWN));
        }
    }
}

/// Whether a provider took a request that breaks the contract.
pub fn is_taken(one: &Rehearsed) -> bool {
    one.unlike.iter().any(|unlike| matches!(unlike, Unlike::Swallowed { .. }))
}

/// What was measured.
fn measured(figures: &Figures) -> String {
    let outcomes: Vec<String> = figures
        .outcomes
        .iter()
        .map(|(outcome, count)| format!("{} {}", grouped(*count), counted(*outcome, *count)))
        .collect();
    let row = |name: &str, value: String| format!("  {name:22}{value}\n");
    let mut text = row(
        "exchanges",
        format!("{} in {}: {}", grouped(figures.exchanges), shown_time(figures.took), outcomes.join(", ")),
    );
    text.push_str(&row("a second", grouped(figures.rate().round() as u64)));
    text.push_str(&row("half of them within", shown_time(figures.within(0.5))));
    text.push_str(&row("90 % within", shown_time(figures.within(0.9))));
    text.push_str(&row("99 % within", shown_time(figures.within(0.99))));
    text.push_str(&row("99.9 % within", shown_time(figures.within(0.999))));
    text.push_str(&row("the slowest", shown_time(figures.slowest())));
    let unlike = grouped(figures.unlike);
    let unlike = if figures.unlike == 0 { unlike } else { paint::error(&unlike) };
    text.push_str(&row("not as expected", unlike));
    text
}

/// A number in groups of three.
pub fn grouped(number: u64) -> String {
    let digits = number.to_string();
    let mut text = String::new();
    for (at, digit) in digits.chars().enumerate() {
        if at > 0 && (digits.len() - at).is_multiple_of(3) {
            text.push(',');
        }
        text.push(digit);
    }
    text
}

/// What came of it, in a line or two.
pub fn summary(report: &Report<'_>) -> String {
    let wrong = |all: &[Rehearsed]| all.iter().filter(|one| !one.unlike.is_empty()).count();
    let mut text = String::new();
    if let Some(figures) = &report.figures {
        let plural = if figures.repetitions == 1 { "" } else { "s" };
        let times = format!("{} repetition{plural}", grouped(figures.repetitions));
        return match figures.unlike {
            0 => format!("{times}: {}\n", paint::good("all as expected")),
            unlike => format!("{times}: {} not as expected\n", paint::error(&grouped(unlike))),
        };
    }
    let differ = wrong(&report.exchanges);
    let count = of(report.exchanges.len(), "exchange");
    text.push_str(&match (&report.beside, differ) {
        (Some(_), 0) => format!("{count}: {}", paint::good("all the same")),
        (Some(_), differ) => format!("{count}: {}", paint::error(&format!("{differ} differ"))),
        (None, 0) => format!("{count}: {}", paint::good("all as expected")),
        (None, differ) => format!("{count}: {} not as expected", paint::error(&differ.to_string())),
    });
    if let Some(left_out) = report.beside.as_ref().map(|beside| beside.left_out).filter(|count| *count > 0) {
        text.push_str(&format!("; {} left out, which vary by themselves", of(left_out, "value")));
    }
    if let Some(hostile) = &report.hostile {
        let taken = hostile.iter().filter(|one| is_taken(one)).count();
        let neither = wrong(hostile) - taken;
        let count = of(hostile.len(), "wrong request");
        let number = |number: usize| paint::error(&number.to_string());
        text.push_str(&match (taken, neither) {
            (0, 0) => format!("; {count}: {}", paint::good("all refused")),
            (taken, 0) => format!("; {count}: {} taken", number(taken)),
            (0, neither) => format!("; {count}: {} neither refused nor taken", number(neither)),
            (taken, neither) => {
                format!("; {count}: {} taken, {} neither refused nor taken", number(taken), number(neither))
            }
        });
    }
    text.push('\n');
    text
}
