//! Edits that are killed, whose writes fail, that meet others: no file may be half or lost.

use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::time::{Duration, Instant};

use fastrand::Rng;

use super::{Attack, run};

const ABOVE: &str = r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:quay" targetNamespace="urn:saltmere:quay" name="Quay">
  <w:types><xs:schema targetNamespace="urn:saltmere:quay" elementFormDefault="qualified"><xs:element name="moor" type="xs:string"/></xs:schema></w:types>
  <w:message name="moorInput"><w:part name="p" element="t:moor"/></w:message>
  <w:portType name="P"><w:operation name="moor"><w:input message="t:moorInput"/></w:operation></w:portType>
</w:definitions>
"#;
const BELOW: &str = r#"<w:definitions xmlns:w="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/" xmlns:t="urn:saltmere:quay" targetNamespace="urn:saltmere:quay" name="Quay">
  <w:import namespace="urn:saltmere:quay" location="parts/above.wsdl"/>
  <w:binding name="B" type="t:P"><s:binding transport="http://schemas.xmlsoap.org/soap/http"/><w:operation name="moor"><s:operation soapAction="moor"/><w:input><s:body use="literal"/></w:input></w:operation></w:binding>
  <w:service name="S"><w:port name="Q" binding="t:B"><s:address location="https://quay.saltmere.example/"/></w:port></w:service>
</w:definitions>
"#;

/// The system calls by which files are changed.
const CALLS: &str = "openat,write,fsync,rename,renameat,renameat2,unlink,unlinkat,fchmod,fchown,fsetxattr,ftruncate,flock,fstat,statx,read";

fn words(line: &str) -> Vec<String> {
    line.split(' ').map(|word| word.replace('~', " ")).collect()
}

/// Both files, as they are.
fn both(folder: &Path) -> (String, String) {
    let read = |name: &str| std::fs::read_to_string(folder.join(name)).unwrap_or_default();
    (read("quay.wsdl"), read("parts/above.wsdl"))
}

/// The names of everything in a folder and below.
fn names(folder: &Path) -> Vec<PathBuf> {
    let mut found = Vec::new();
    let mut folders = vec![folder.to_owned()];
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).into_iter().flatten().flatten() {
            match entry.path().is_dir() {
                true => folders.push(entry.path()),
                false => found.push(entry.path()),
            }
        }
    }
    found.sort();
    found
}

fn fresh(folder: &Path) -> std::io::Result<()> {
    let _ = std::fs::remove_dir_all(folder);
    std::fs::create_dir_all(folder.join("parts"))?;
    std::fs::write(folder.join("quay.wsdl"), BELOW)?;
    std::fs::write(folder.join("parts/above.wsdl"), ABOVE)
}

const RENAME: &str = "rename quay.wsdl operation/moor tie";
const NEXT: &str = "set quay.wsdl service/S/port/Q address=https://quay.saltmere.example/";

impl Attack {
    /// What a rename makes of the two files.
    fn renamed(&self, folder: &Path) -> std::io::Result<(String, String)> {
        fresh(folder)?;
        self.program.run(folder, &words(RENAME))?;
        Ok(both(folder))
    }

    /// After an edit that did not come to its end: the next one leaves both files old or both new, and nothing else.
    fn whole(
        &mut self,
        kind: &'static str,
        folder: &Path,
        new: &(String, String),
        shown: &str,
    ) -> std::io::Result<()> {
        let old = (BELOW.to_owned(), ABOVE.to_owned());
        let outcome = self.program.run(folder, &words(NEXT))?;
        let found = both(folder);
        let clean = names(folder).len() == 2;
        let holds = outcome.status == Some(0) && clean && (found == old || found == *new);
        let what = format!(
            "{shown}: {:?} {} files, old {}, new {}",
            outcome.status,
            names(folder).len(),
            found == old,
            found == *new
        );
        self.hold(kind, holds, &what);
        Ok(())
    }

    pub(super) fn kills(&mut self, runs: usize, random: &mut Rng) -> std::io::Result<()> {
        let folder = self.folder.join("killed");
        let started = Instant::now();
        let new = self.renamed(&folder)?;
        let whole = started.elapsed();
        for number in 0..runs {
            fresh(&folder)?;
            let mut child = self.program.command(&folder, &words(RENAME)).stderr(Stdio::null()).spawn()?;
            let wait = whole.mul_f64(random.f64() * 1.1);
            std::thread::sleep(wait);
            let _ = child.kill();
            child.wait()?;
            self.whole("kills at random", &folder, &new, &format!("kill {number} after {wait:?}"))?;
        }
        Ok(())
    }

    /// Kills and failures at each system call, where `strace` is there to make them.
    pub(super) fn system_calls(&mut self, most: usize) -> std::io::Result<()> {
        let folder = self.folder.join("calls");
        let new = self.renamed(&folder)?;
        let old = (BELOW.to_owned(), ABOVE.to_owned());
        for (kind, fault) in [
            ("kills at each call", "signal=KILL"),
            ("no space at each call", "error=ENOSPC"),
            ("input and output errors", "error=EIO"),
            ("no permission", "error=EACCES"),
        ] {
            for number in 1..=most {
                fresh(&folder)?;
                let inject = format!("inject={CALLS}:{fault}:when={number}");
                let before = ["-f", "-qq", "-o", "/dev/null", "-e", &inject].map(str::to_owned);
                let mut command = self.program.under("strace", &before, &folder, &words(RENAME));
                let Ok(child) = command.spawn() else {
                    println!("there is no strace: system calls are not tried");
                    return Ok(());
                };
                let outcome = run::watched(child)?;
                let found = both(&folder);
                let shown = format!("{fault} at call {number}");
                if outcome.complaint.contains("loading shared libraries") {
                    // The program had not begun.
                    continue;
                }
                if fault.starts_with("error") {
                    // A failure that is told leaves all as it was, or comes after all is done.
                    let told = outcome.status == Some(2) || found == new;
                    let one = found == old || found == new;
                    self.hold(
                        kind,
                        told && one,
                        &format!(
                            "{shown}: {:?}, old {}, new {} {}",
                            outcome.status,
                            found == old,
                            found == new,
                            outcome.complaint
                        ),
                    );
                }
                let done = outcome.status == Some(0) && names(&folder).len() == 2;
                self.whole(kind, &folder, &new, &shown)?;
                if done && number > 400 {
                    break;
                }
            }
        }
        Ok(())
    }

    /// Writers that change the same files, and readers meanwhile.
    pub(super) fn crowds(&mut self, rounds: usize) -> std::io::Result<()> {
        let folder = self.folder.join("crowd");
        for round in 0..rounds {
            fresh(&folder)?;
            let add =
                |n: usize| words(&format!("add quay.wsdl operation~watch{n}~{{~input~{{~a:~string~}}~}}"));
            let writers: Vec<_> =
                (0..6).map(|n| self.program.command(&folder, &add(n)).spawn()).collect::<Result<_, _>>()?;
            let readers: Vec<_> = (0..6)
                .map(|_| self.program.command(&folder, &words("check quay.wsdl")).spawn())
                .collect::<Result<_, _>>()?;
            let mut added = Vec::new();
            for (n, writer) in writers.into_iter().enumerate() {
                if run::watched(writer)?.status == Some(0) {
                    added.push(n);
                }
            }
            for reader in readers {
                let outcome = run::watched(reader)?;
                self.hold(
                    "readers",
                    outcome.status == Some(0),
                    &format!("round {round}: {:?} {}", outcome.status, outcome.complaint),
                );
            }
            let (below, above) = both(&folder);
            let lost: Vec<_> = added
                .iter()
                .filter(|n| {
                    !above.contains(&format!("name=\"watch{n}\""))
                        || !below.contains(&format!("name=\"watch{n}\""))
                })
                .collect();
            self.hold(
                "writers",
                lost.is_empty() && !added.is_empty(),
                &format!("round {round}: of {added:?}, {lost:?} are lost"),
            );
            std::thread::sleep(Duration::from_millis(1));
        }
        Ok(())
    }
}
