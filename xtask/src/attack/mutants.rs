//! Files of the demo data and seeds of the fuzz targets, changed at random, and read by whatever reads them.

use std::path::{Path, PathBuf};

use fastrand::Rng;

use super::Attack;

#[path = "../../../fuzz/changes.rs"]
mod changes;

use changes::changed;

/// The files that mutants are made of, each with its name.
fn seeds() -> std::io::Result<Vec<(String, Vec<u8>)>> {
    let top = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let mut all = Vec::new();
    let mut folders: Vec<PathBuf> = vec![top.join("crates/cli/demo"), top.join("fuzz/seeds")];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder)? {
            let path = entry?.path();
            if path.is_dir() {
                folders.push(path);
            } else if let Some(name) = path.file_name() {
                all.push((name.to_string_lossy().into_owned(), std::fs::read(&path)?));
            }
        }
    }
    all.sort();
    Ok(all)
}

/// What reads a file of that name.
fn commands(name: &str, random: &mut Rng) -> Vec<String> {
    let end = name.rsplit('.').next().unwrap_or("");
    let all: &[&str] = match end {
        "wsdl" => &[
            "check X --notes",
            "check X --format json",
            "show X",
            "compare X X",
            "compare pilotage.wsdl X",
            "compare X pilotage.wsdl --as page",
            "message X requestPilot",
            "message X --all out --as http",
            "message X requestPilot --size random --seed 7",
            "match X message.xml",
            "set X contract about=Port",
            "rename X type/Vessel Ship",
            "remove X --unused",
            "check X --fix",
            "message X requestPilot --hostile",
            "add X operation~watch~{~input~{~a:~string~}~} --force",
        ],
        "xsd" => &[
            "check X",
            "show X",
            "match X message.xml",
            "compare X X",
            "rename X type/Vessel Ship",
            "set X type/Vessel about=Ship",
            "message X element/vessel",
        ],
        "toml" => &[
            "check pilotage.wsdl --baseline X",
            "compare pilotage.wsdl pilotage.wsdl --consumers records",
            "check settled/pilotage.wsdl",
        ],
        "charter" => &[
            "new --from X",
            "new --from X -o out.wsdl",
            "compare X X",
            "set X contract about=Port --dry-run",
            "edit pilotage.wsdl --with X --dry-run",
        ],
        "sql" | "csv" => {
            &["derive X", "message pilotage.wsdl requestPilot --values X -o out", "derive X --format json"]
        }
        "json" => &[
            "message pilotage.wsdl requestPilot --values X",
            "message pilotage.wsdl requestPilot --values X --fill --as http",
        ],
        _ => &[
            "match pilotage.wsdl X",
            "match pilotage.wsdl X --values",
            "check X",
            "match harbour.wsdl X --format json",
            "derive X",
            "match pilotage.wsdl X --learn learnt.toml",
        ],
    };
    let line = all[random.usize(..all.len())];
    line.split(' ')
        .map(|word| word.replace('~', " "))
        .map(|word| if word == "X" { name.to_owned() } else { word })
        .collect()
}

impl Attack {
    pub(super) fn mutants(&mut self, runs: usize, random: &mut Rng) -> std::io::Result<()> {
        let seeds = seeds()?;
        let demo = |name: &str| {
            seeds.iter().find(|(known, _)| known == name).map(|(_, bytes)| bytes.clone()).unwrap_or_default()
        };
        let folder = self.folder.join("mutants");
        for number in 0..runs {
            if number % 200 == 0 {
                let _ = std::fs::remove_dir_all(&folder);
                for sub in ["records", "settled", "out"] {
                    std::fs::create_dir_all(folder.join(sub))?;
                }
                for name in ["pilotage.wsdl", "vessel.xsd", "harbour.wsdl"] {
                    std::fs::write(folder.join(name), demo(name))?;
                    std::fs::write(folder.join("settled").join(name), demo(name))?;
                }
                std::fs::write(folder.join("message.xml"), demo("declare-cargo.xml"))?;
            }
            let (name, bytes) = &seeds[random.usize(..seeds.len())];
            let other = &seeds[random.usize(..seeds.len())].1;
            let bytes = changed(bytes.clone(), other, random);
            let name = format!("x-{name}");
            std::fs::write(folder.join(&name), &bytes)?;
            if name.ends_with(".toml") {
                std::fs::write(folder.join("records/x.toml"), &bytes)?;
                std::fs::write(folder.join("settled/charter.toml"), &bytes)?;
            }
            let words = commands(&name, random);
            let outcome = self.program.run(&folder, &words)?;
            // The demo data around it is read as well.
            let input = bytes.len() as u64;
            let shown = format!("mutant {number}: {}", words.join(" "));
            if outcome.wrong(input.into()).is_some() {
                std::fs::write(self.folder.join(format!("mutant-{number}-{name}")), &bytes)?;
            }
            self.note("mutants", &outcome, input, &shown);
            let _ = std::fs::remove_file(folder.join(&name));
        }
        Ok(())
    }
}
