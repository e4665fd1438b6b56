//! Asks another validator for its verdicts: a line in, a line out.

use std::io::{BufRead, BufReader, Write};
use std::path::Path;
use std::process::{Command, Stdio};

/// A question: a schema, and a message to judge by it.
#[derive(Debug, Clone)]
pub struct Question {
    pub schema: String,
    pub message: Option<String>,
}

/// The answers to many questions: nothing for valid, else the reason.
pub fn ask(program: &Path, folder: &Path, questions: &[Question]) -> std::io::Result<Vec<Option<String>>> {
    let mut child = Command::new(program)
        .current_dir(folder)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::null())
        .spawn()?;
    let mut input = child.stdin.take().ok_or_else(|| std::io::Error::other("no input"))?;
    let lines: String = questions
        .iter()
        .map(|question| match &question.message {
            None => format!("S\t{}\n", question.schema),
            Some(message) => format!("I\t{}\t{message}\n", question.schema),
        })
        .collect();
    let writer = std::thread::spawn(move || input.write_all(lines.as_bytes()));
    let output = child.stdout.take().ok_or_else(|| std::io::Error::other("no output"))?;
    let mut answers = Vec::with_capacity(questions.len());
    for line in BufReader::new(output).lines() {
        let line = line?;
        let verdict = line.rsplit('\t').next().unwrap_or("").to_owned();
        answers.push((verdict != "valid").then_some(verdict));
    }
    let _ = writer.join();
    child.wait()?;
    Ok(answers)
}
