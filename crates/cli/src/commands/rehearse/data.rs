//! A rehearsal for programs: JSON.

use charter_exchange::journal::line;
use charter_exchange::rehearsal::{Figures, Rehearsed};
use serde_json::{Value as Json, json};

use super::{Report, words};

pub fn text(report: &Report<'_>) -> String {
    let all = |all: &[Rehearsed]| all.iter().map(|one| exchange(report, one)).collect::<Vec<_>>();
    let mut whole = json!({
        "rehearsal": report.title,
        "against": report.against,
        "right": report.is_right(),
        "exchanges": all(&report.exchanges),
    });
    if let Some(hostile) = &report.hostile {
        whole["hostile"] = all(hostile).into();
    }
    if let Some(beside) = &report.beside {
        whole["beside"] = json!({
            "address": beside.address,
            "left_out": beside.left_out,
            "exchanges": all(&beside.exchanges),
        });
    }
    if let Some(it) = &report.figures {
        whole["figures"] = figures(it);
    }
    format!("{}\n", serde_json::to_string_pretty(&whole).unwrap_or_default())
}

fn exchange(report: &Report<'_>, one: &Rehearsed) -> Json {
    let unlike = |unlike| {
        let mut shown = json!({
            "kind": words::kind_word(unlike),
            "message": words::of(report.contract, one, unlike),
        });
        if let Some(path) = words::path(unlike) {
            shown["path"] = path.into();
        }
        if let Some((expected, found)) = words::pair(unlike) {
            shown["expected"] = expected.into();
            shown["found"] = found.into();
        }
        shown
    };
    let mut shown = json!({
        "name": one.name,
        "operation": &*one.operation,
        "port": &*one.port,
        "right": one.unlike.is_empty(),
        "unlike": one.unlike.iter().map(unlike).collect::<Vec<_>>(),
    });
    if let Some(row) = one.row {
        shown["row"] = row.into();
    }
    if let Some(exchange) = &one.exchange {
        shown["exchange"] = serde_json::from_str(&line(exchange)).unwrap_or_default();
    }
    if let Some(values) = &one.values {
        shown["values"] = values.clone();
    }
    shown
}

fn figures(figures: &Figures) -> Json {
    let ms = |time: std::time::Duration| time.as_secs_f64() * 1e3;
    let outcomes: serde_json::Map<String, Json> = figures
        .outcomes
        .iter()
        .map(|(outcome, count)| (outcome.word().to_owned(), (*count).into()))
        .collect();
    let slices: Vec<Json> = figures
        .slices
        .iter()
        .map(|slice| {
            json!({ "at_ms": ms(slice.at), "exchanges": slice.exchanges, "median_ms": ms(slice.median),
                    "p99_ms": ms(slice.most), "max_ms": ms(slice.slowest) })
        })
        .collect();
    json!({
        "exchanges": figures.exchanges,
        "repetitions": figures.repetitions,
        "seconds": figures.took.as_secs_f64(),
        "rate": figures.rate(),
        "unlike": figures.unlike,
        "outcomes": outcomes,
        "median_ms": ms(figures.within(0.5)),
        "p90_ms": ms(figures.within(0.9)),
        "p99_ms": ms(figures.within(0.99)),
        "p999_ms": ms(figures.within(0.999)),
        "max_ms": ms(figures.slowest()),
        "slices": slices,
    })
}
