//! Every kind of change that breaks has a way out that works, or says why there is none.

use charter_compare::{Options, UnknownContent, Verdict, compare_by, compare_whole, kinds};
use charter_contract::Contract;
use charter_remedy::{WayOut, ways_out};
use charter_source::{Limits, Location, Overlay, apply};

fn load(text: &str) -> Contract {
    let store = Overlay::of(&[("c.wsdl", text)]);
    Contract::load(&store, &Location::from_argument("c.wsdl"), Limits::default()).unwrap()
}

#[test]
fn every_kind_that_breaks_has_a_way_out_or_says_why_not() {
    for entry in kinds() {
        let texts = [entry.example.old_whole(), entry.example.new_whole()];
        for (old, new) in [(&texts[0], &texts[1]), (&texts[1], &texts[0])] {
            for reader in [UnknownContent::Open, UnknownContent::Refused] {
                let options = Options { reader, ..Options::default() };
                let (a, b) = (load(old), load(new));
                let compared = compare_whole(&a, &b, options, &[]);
                let ways = ways_out(&a, &b, &compared, options);
                let report = compared.report;
                for (number, change) in report.changes.iter().enumerate() {
                    if change.verdict != Verdict::Breaks {
                        continue;
                    }
                    let way = ways.of(number);
                    println!(
                        "{:?} {} {}: {}\n      {}",
                        reader,
                        change.kind,
                        change.path,
                        change.what,
                        match way {
                            Some(WayOut::Edit(way)) => format!(
                                "{} {} {:?} {:?} then {:?}",
                                way.path, way.remedy, way.step, way.notation, way.verdict
                            ),
                            Some(WayOut::None(why)) => format!("NONE {why}"),
                            None => "MISSING".to_owned(),
                        }
                    );
                }
                let text = apply(new, &ways.edits).unwrap();
                let after = compare_by(&a, &load(&text), options);
                println!("   after: {:?}", after.verdict);
            }
        }
    }
}
