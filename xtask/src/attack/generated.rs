//! Runs of the program on hostile input of every kind.

use std::path::Path;

use fastrand::Rng;

use super::generators::{ALL, commands, envelope, moor, port};
use super::shapes::MORE;
use super::{Attack, Input};

impl Attack {
    /// How many bytes of XML a file of notation stands for; none if it is no notation.
    fn stands_for(&self, folder: &Path, name: &str) -> std::io::Result<u64> {
        let whole = folder.join("whole.wsdl");
        let _ = std::fs::remove_file(&whole);
        let words = ["new", "--from", name, "-o", "whole.wsdl"].map(str::to_owned);
        self.program.run(folder, &words)?;
        Ok(std::fs::metadata(whole).map_or(0, |facts| facts.len()))
    }

    pub(super) fn generators(&mut self, runs: usize, random: &mut Rng) -> std::io::Result<()> {
        let folder = self.folder.join("generated");
        std::fs::create_dir_all(folder.join("out"))?;
        for sub in ["records", "settled"] {
            std::fs::create_dir_all(folder.join(sub))?;
        }
        for name in ["quay.wsdl", "settled/quay.wsdl"] {
            std::fs::write(folder.join(name), port(&moor("")))?;
        }
        std::fs::write(folder.join("message.xml"), envelope("<moor xmlns=\"urn:saltmere:quay\"/>"))?;
        let every: usize = ALL.iter().chain(MORE).map(|(_, ending, _)| commands(ending).len()).sum();
        // All of them at least once, at sizes of up to a megabyte; then at random sizes.
        for round in 0..runs.div_ceil(every).max(1) {
            for (kind, ending, make) in ALL.iter().chain(MORE) {
                let size = if round == 0 { 8_000 } else { 1 + random.usize(..12_000) };
                let text = make(size.max(2));
                let name = format!("x.{ending}");
                let mut stands_for = text.len() as u64;
                if *ending == "charter" {
                    std::fs::write(folder.join(&name), &text)?;
                    stands_for = stands_for.max(self.stands_for(&folder, &name)?);
                }
                for line in commands(ending) {
                    std::fs::write(folder.join(&name), &text)?;
                    if *ending == "toml" {
                        std::fs::write(folder.join("records/x.toml"), &text)?;
                        std::fs::write(folder.join("settled/charter.toml"), &text)?;
                    }
                    let words: Vec<String> = line
                        .split(' ')
                        .map(|word| if word == "X" { name.clone() } else { word.to_owned() })
                        .collect();
                    let outcome = self.program.run(&folder, &words)?;
                    // Two versions are two files to read.
                    let files = words.iter().filter(|word| **word == name).count().max(1) as u64;
                    let input = Input { read: files * text.len() as u64, stands_for: files * stands_for };
                    self.note("hostile input", &outcome, input, &format!("{kind} of {size}: {line}"));
                }
            }
        }
        Ok(())
    }
}
