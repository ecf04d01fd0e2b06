//! Runs the program in a folder of its own, strictly: what a test does not mention must be empty,
//! and the exit status is a number.

use std::fs;
use std::io::Write;
use std::path::Path;
use std::process::{Child, Command, Stdio};

use tempfile::TempDir;

use crate::printed::Printed;

/// A folder with files, in which command lines are run.
pub struct Bench {
    dir: TempDir,
}

/// A command line and all that is expected of it.
pub struct Run<'b> {
    bench: &'b Bench,
    line: String,
    stdin: Vec<u8>,
    stdout: Expected,
    stderr: Expected,
    status: i32,
    environment: Vec<(String, String)>,
}

enum Expected {
    Exactly(String),
    Containing(Vec<String>),
}

impl Bench {
    pub fn new() -> Bench {
        Bench { dir: tempfile::tempdir().unwrap() }
    }

    /// A folder with one file.
    pub fn with(name: &str, content: impl AsRef<[u8]>) -> Bench {
        let bench = Bench::new();
        bench.write(name, content);
        bench
    }

    pub fn path(&self) -> &Path {
        self.dir.path()
    }

    pub fn write(&self, name: &str, content: impl AsRef<[u8]>) {
        fs::write(self.dir.path().join(name), content).unwrap();
    }

    pub fn read(&self, name: &str) -> String {
        fs::read_to_string(self.dir.path().join(name)).unwrap()
    }

    pub fn bytes(&self, name: &str) -> Vec<u8> {
        fs::read(self.dir.path().join(name)).unwrap()
    }

    /// The names of all files, sorted.
    pub fn files(&self) -> Vec<String> {
        let entries = fs::read_dir(self.dir.path()).unwrap();
        let mut names: Vec<String> =
            entries.map(|entry| entry.unwrap().file_name().into_string().unwrap()).collect();
        names.sort();
        names
    }

    /// A command line; words are cut at spaces outside single quotes.
    pub fn run(&self, line: &str) -> Run<'_> {
        Run {
            bench: self,
            line: line.to_owned(),
            stdin: Vec::new(),
            stdout: Expected::Exactly(String::new()),
            stderr: Expected::Exactly(String::new()),
            status: 0,
            environment: Vec::new(),
        }
    }

    pub fn command(&self, line: &str) -> Command {
        let mut command = Command::new(env!("CARGO_BIN_EXE_metachron"));
        command.args(words(line)).current_dir(self.path());
        command
    }
}

impl Run<'_> {
    pub fn stdin(mut self, content: impl AsRef<[u8]>) -> Self {
        self.stdin = content.as_ref().to_vec();
        self
    }

    pub fn stdout(mut self, text: impl Into<String>) -> Self {
        self.stdout = Expected::Exactly(text.into());
        self
    }

    pub fn stdout_has(mut self, texts: &[&str]) -> Self {
        self.stdout = Expected::Containing(texts.iter().map(|t| (*t).to_owned()).collect());
        self
    }

    pub fn stderr(mut self, text: impl Into<String>) -> Self {
        self.stderr = Expected::Exactly(text.into());
        self
    }

    pub fn stderr_has(mut self, texts: &[&str]) -> Self {
        self.stderr = Expected::Containing(texts.iter().map(|t| (*t).to_owned()).collect());
        self
    }

    pub fn status(mut self, status: i32) -> Self {
        self.status = status;
        self
    }

    pub fn env(mut self, name: &str, value: &str) -> Self {
        self.environment.push((name.to_owned(), value.to_owned()));
        self
    }

    /// Runs it; gives back what was written to standard output, whatever is said beside it.
    pub fn output(self) -> String {
        self.stdout_has(&[]).stderr_has(&[]).check()
    }

    /// Runs it and compares; gives back what was written to standard output.
    pub fn check(self) -> String {
        let mut child = started(&self.line, self.bench.path(), &self.environment);
        child.stdin.take().unwrap().write_all(&self.stdin).unwrap();
        let output = child.wait_with_output().unwrap();
        let stdout = String::from_utf8(output.stdout).unwrap();
        let stderr = String::from_utf8(output.stderr).unwrap();
        let all = format!("$ metachron {}\n{stdout}--- stderr\n{stderr}---", self.line);
        assert_eq!(output.status.code(), Some(self.status), "exit status of\n{all}");
        self.stdout.compare(&stdout, &all);
        match &self.stderr {
            Expected::Exactly(expected) if !expected.contains(CAME_OUT) => {
                assert_eq!(without_what_came_out(&stderr), *expected, "{all}");
            }
            expected => expected.compare(&stderr, &all),
        }
        let Run { bench, line, stdin, environment, .. } = &self;
        // The demo works in a folder of its own.
        let folder = match line.strip_prefix("demo --dir ") {
            Some(dir) => bench.path().join(dir),
            None => bench.path().to_owned(),
        };
        Printed { folder: &folder, stdin, environment }.follow(line, &(stdout.clone() + &stderr));
        stdout
    }
}

/// What came out of a conversion stands under this.
const CAME_OUT: &str = "\n\n  came out ";

/// What was said but for what came out, which has tests of its own: those that expect it compare it too.
fn without_what_came_out(said: &str) -> String {
    let mut parts = said.split(CAME_OUT);
    let mut text = parts.next().unwrap().to_owned();
    for part in parts {
        // It ends where a line is neither empty nor indented.
        let more =
            part.match_indices('\n').find(|(at, _)| !part[at + 1..].starts_with([' ', '\n']));
        text.push_str(more.map_or("", |(at, _)| &part[at..]));
    }
    text
}

impl Expected {
    fn compare(&self, found: &str, all: &str) {
        match self {
            Expected::Exactly(expected) => assert_eq!(found, expected, "{all}"),
            Expected::Containing(texts) => {
                for text in texts {
                    assert!(found.contains(text.as_str()), "no {text:?} in\n{all}");
                }
            }
        }
    }
}

/// The program, started with a command line in a folder; all that it takes and gives is piped.
pub fn started(line: &str, folder: &Path, environment: &[(String, String)]) -> Child {
    let mut command = Command::new(env!("CARGO_BIN_EXE_metachron"));
    // Whatever the locale of whoever runs the tests.
    command.args(words(line)).current_dir(folder).env("LC_ALL", "C.UTF-8");
    command.envs(environment.iter().cloned());
    command.stdin(Stdio::piped()).stdout(Stdio::piped()).stderr(Stdio::piped()).spawn().unwrap()
}

/// A table of these rows, under this header.
pub fn table(header: &str, rows: impl IntoIterator<Item = String>) -> String {
    rows.into_iter().fold(format!("{header}\n"), |table, row| table + &row + "\n")
}

/// The words of a command line; only single quotes quote, and a backslash one character.
pub fn words(line: &str) -> Vec<String> {
    let mut words = Vec::new();
    let mut word = None;
    let mut quoted = false;
    let mut chars = line.chars();
    while let Some(c) = chars.next() {
        match c {
            '\\' if !quoted => word.get_or_insert_with(String::new).extend(chars.next()),
            '\'' => {
                quoted = !quoted;
                word.get_or_insert_with(String::new);
            }
            ' ' if !quoted => words.extend(word.take()),
            _ => word.get_or_insert_with(String::new).push(c),
        }
    }
    words.extend(word);
    words
}
