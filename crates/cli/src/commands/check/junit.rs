//! The XML in which test results are exchanged: a suite for each file, a case for each stage that it is to reach.

use charter_check::{Level, Stage};

use super::each::{CheckedFile, ReportedFinding};
use crate::escape::xml as escaped;

/// The cases of a file: the stages, and what keeps none of them back.
const OTHER: &str = "hygiene";

pub fn report(judged: &[CheckedFile]) -> String {
    let failed = |one: &CheckedFile| cases(one).iter().filter(|(_, shown)| !shown.is_empty()).count();
    let count = cases_of_each();
    let failures: usize = judged.iter().map(failed).sum();
    let mut text = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites name=\"charter check\" tests=\"{}\" failures=\"{failures}\">\n",
        judged.len() * count
    );
    for one in judged {
        let name = escaped(&one.name);
        text.push_str(&format!(
            "  <testsuite name=\"{name}\" tests=\"{count}\" failures=\"{}\" errors=\"0\">\n",
            failed(one)
        ));
        for (case, shown) in cases(one) {
            text.push_str(&format!("    <testcase classname=\"{name}\" name=\"{case}\""));
            if shown.is_empty() {
                text.push_str("/>\n");
                continue;
            }
            let first = &shown[0].entry;
            text.push_str(&format!(
                ">\n      <failure type=\"{}\" message=\"{}\">",
                first.rule(),
                escaped(&crate::findings::of(shown.len(), "finding"))
            ));
            for it in shown {
                text.push_str(&escaped(&it.entry.line()));
                text.push('\n');
            }
            text.push_str("</failure>\n    </testcase>\n");
        }
        let rest: Vec<String> = one
            .shown
            .iter()
            .filter(|shown| shown.finding.level != Level::Error)
            .map(|shown| format!("{}\n", escaped(&shown.entry.line())))
            .collect();
        if !rest.is_empty() {
            text.push_str(&format!("    <system-out>{}</system-out>\n", rest.concat()));
        }
        text.push_str("  </testsuite>\n");
    }
    text.push_str("</testsuites>\n");
    text
}

fn cases_of_each() -> usize {
    Stage::ALL.len() + 1
}

/// The errors of a file by stage.
fn cases(judged: &CheckedFile) -> Vec<(&'static str, Vec<&ReportedFinding>)> {
    let errors = || judged.shown.iter().filter(|shown| shown.finding.level == Level::Error);
    let stages = Stage::ALL.iter().map(|stage| {
        let own = errors().filter(|shown| shown.finding.rule.stage() == Some(*stage));
        (stage.name(), own.collect())
    });
    let other = errors().filter(|shown| shown.finding.rule.stage().is_none()).collect();
    stages.chain([(OTHER, other)]).collect()
}
