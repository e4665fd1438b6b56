//! The XML in which test results are exchanged: a case for each exchange.

use charter_exchange::rehearsal::Rehearsed;

use super::text::name as named;
use super::{Report, words};
use crate::escape::xml as escaped;

pub fn report(report: &Report<'_>) -> String {
    let suites =
        [(String::new(), Some(&report.exchanges)), (" (wrong requests)".to_owned(), report.hostile.as_ref())];
    let suites: Vec<(String, &Vec<Rehearsed>)> = suites
        .into_iter()
        .filter_map(|(name, all)| Some((format!("{}{name}", report.title), all?)))
        .collect();
    let failures = |all: &[Rehearsed]| all.iter().filter(|one| !one.unlike.is_empty()).count();
    let tests: usize = suites.iter().map(|(_, all)| all.len()).sum();
    let failed: usize = suites.iter().map(|(_, all)| failures(all)).sum();
    let mut text = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites name=\"charter rehearse\" tests=\"{tests}\" failures=\"{failed}\">\n"
    );
    for (name, all) in suites {
        let name = escaped(&name);
        text.push_str(&format!(
            "  <testsuite name=\"{name}\" tests=\"{}\" failures=\"{}\" errors=\"0\">\n",
            all.len(),
            failures(all)
        ));
        all.iter().for_each(|one| case(report, one, &name, &mut text));
        text.push_str("  </testsuite>\n");
    }
    text.push_str("</testsuites>\n");
    text
}

fn case(report: &Report<'_>, one: &Rehearsed, suite: &str, text: &mut String) {
    let took = one.exchange.as_ref().map_or(0.0, |exchange| exchange.took.as_secs_f64());
    text.push_str(&format!(
        "    <testcase classname=\"{suite}.{}\" name=\"{}\" time=\"{took:.6}\"",
        escaped(&one.operation),
        escaped(&named(one))
    ));
    let Some(first) = one.unlike.first() else {
        text.push_str("/>\n");
        return;
    };
    let told = |unlike| escaped(&words::of(report.contract, one, unlike));
    text.push_str(&format!(
        ">\n      <failure type=\"{}\" message=\"{}\">",
        words::kind_word(first),
        told(first)
    ));
    for unlike in &one.unlike {
        text.push_str(&told(unlike));
        text.push('\n');
    }
    text.push_str("</failure>\n    </testcase>\n");
}
