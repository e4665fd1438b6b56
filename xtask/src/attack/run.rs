//! One run of the program, watched.

use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

/// Longer than that, nothing is waited for.
const PATIENCE: Duration = Duration::from_secs(60);

/// The program that is attacked.
pub struct Program {
    path: PathBuf,
}

/// What came of a run.
#[derive(Debug)]
pub struct Outcome {
    /// What it ended with; nothing if it was killed.
    pub status: Option<i32>,
    pub took: Duration,
    /// The most memory that it was seen to have, in bytes.
    pub memory: u64,
    pub complaint: String,
}

/// How much a run reads.
#[derive(Debug, Clone, Copy)]
pub struct Input {
    /// Bytes of files.
    pub read: u64,
    /// What the memory goes by: for notation, the XML that it stands for, which is many times as much.
    pub stands_for: u64,
}

impl From<u64> for Input {
    fn from(bytes: u64) -> Input {
        Input { read: bytes, stands_for: bytes }
    }
}

impl Outcome {
    /// What must not be, for an input.
    pub fn wrong(&self, input: Input) -> Option<String> {
        let most = Duration::from_secs(if input.read < 1 << 20 { 5 } else { 20 });
        let input = input.stands_for;
        match self.status {
            _ if self.took > most => Some(format!("took {:.1} s", self.took.as_secs_f64())),
            Some(0..=2) if self.memory > 12 * input + (100 << 20) => {
                Some(format!("took {} MB for {input} bytes", self.memory >> 20))
            }
            Some(0..=2) if !self.complaint.contains("panicked") => None,
            status => Some(format!("ended with {status:?}: {}", self.complaint.lines().next().unwrap_or(""))),
        }
    }
}

impl Program {
    pub fn at(path: PathBuf) -> Program {
        Program { path }
    }

    pub fn command(&self, folder: &Path, words: &[String]) -> Command {
        let mut command = Command::new(&self.path);
        command.args(words).current_dir(folder).env("NO_COLOR", "1");
        command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::piped());
        command
    }

    /// The same under another program, whose words come first.
    pub fn under(&self, other: &str, before: &[String], folder: &Path, words: &[String]) -> Command {
        let mut command = Command::new(other);
        command.args(before).arg(&self.path).args(words).current_dir(folder);
        command.stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::piped());
        command
    }

    pub fn run(&self, folder: &Path, words: &[String]) -> std::io::Result<Outcome> {
        watched(self.command(folder, words).spawn()?)
    }
}

/// Waits for the end of a run, and sees how much memory it takes.
pub fn watched(mut child: Child) -> std::io::Result<Outcome> {
    let started = Instant::now();
    let status = format!("/proc/{}/status", child.id());
    let errors = child.stderr.take();
    let reader = std::thread::spawn(move || {
        let mut text = Vec::new();
        if let Some(mut errors) = errors {
            let _ = std::io::Read::read_to_end(&mut errors, &mut text);
        }
        String::from_utf8_lossy(&text[..text.len().min(2000)]).into_owned()
    });
    let mut memory = 0;
    let ended = loop {
        if let Some(status) = child.try_wait()? {
            break Some(status);
        }
        memory = memory.max(peak(&status));
        if started.elapsed() > PATIENCE {
            child.kill()?;
            child.wait()?;
            break None;
        }
        std::thread::sleep(Duration::from_micros(if started.elapsed().as_millis() < 20 {
            500
        } else {
            3000
        }));
    };
    let took = started.elapsed();
    let complaint = reader.join().unwrap_or_default();
    Ok(Outcome { status: ended.and_then(|status| status.code()), took, memory, complaint })
}

/// The most memory that a process has had so far.
fn peak(status: &str) -> u64 {
    let text = std::fs::read_to_string(status).unwrap_or_default();
    let line = text.lines().find_map(|line| line.strip_prefix("VmHWM:"));
    line.and_then(|line| line.trim().split(' ').next()?.parse::<u64>().ok()).unwrap_or(0) * 1024
}
