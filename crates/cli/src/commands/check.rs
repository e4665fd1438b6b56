//! `charter check`

use charter_check::{Finding, Level, check};
use charter_contract::Contract;
use charter_source::Fault;
use serde::Serialize;

use super::Outcome;
use crate::args::Format;
use crate::console::{Console, Failure, Status};
use crate::findings::{self, Entry};
use crate::load::{self, Common};

#[derive(Serialize)]
struct Report {
    findings: Vec<Entry>,
    errors: usize,
    warnings: usize,
}

pub fn run(arguments: &[String], common: &Common, console: &mut Console) -> Outcome {
    let mut report = Report { findings: Vec::new(), errors: 0, warnings: 0 };
    let mut failures: Vec<Failure> = Vec::new();
    for argument in arguments {
        match load::load(common, argument) {
            Ok(contract) => judge(&contract, argument, common.format, &mut report, console),
            Err(failure) => failures.push(failure),
        }
    }
    if common.format == Format::Json {
        console.json(&report);
    } else if arguments.len() > 1 && failures.len() < arguments.len() {
        console.out(&format!("all: {}\n", findings::count(report.errors, report.warnings)));
    }
    for failure in &failures {
        console.fail(failure);
    }
    Ok(match (failures.is_empty(), report.errors) {
        (false, _) => Status::NoAnswer,
        (true, 0) => Status::Yes,
        (true, _) => Status::No,
    })
}

fn judge(contract: &Contract, name: &str, format: Format, report: &mut Report, console: &mut Console) {
    let found = check(contract);
    let errors = found.iter().filter(|finding| finding.level == Level::Error).count();
    report.errors += errors;
    report.warnings += found.len() - errors;
    if format == Format::Json {
        report.findings.extend(found.into_iter().map(|finding| entry(contract, finding)));
        return;
    }
    let width = console.width();
    for finding in &found {
        console.out(&findings::text(contract, finding, width));
    }
    console.out(&format!("{name}: {}\n", findings::count(errors, found.len() - errors)));
}

fn entry(contract: &Contract, finding: Finding) -> Entry {
    let Finding { rule, level, message, place, help, path } = finding;
    let fault = Fault { rule: rule.name, place, message, help };
    Entry::new(fault, level, path.to_string(), contract.files.get(place.file))
}
