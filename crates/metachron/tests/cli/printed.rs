//! Every command line that the program prints is run, as a shell would run it, in a copy of its folder: it works, it
//! answers what it was printed for, it keeps what was typed, and it leads to no loop.

use std::collections::BTreeSet;
use std::fs;
use std::io::Write;
use std::path::Path;

use crate::harness::{started, words};

/// A run whose printed command lines are followed.
pub struct Printed<'r> {
    pub folder: &'r Path,
    pub stdin: &'r [u8],
    pub environment: &'r [(String, String)],
}

/// What a command line came to.
struct Came {
    status: i32,
    text: String,
}

/// Questions that follow on another, at most.
const DEPTH: usize = 6;

/// What belongs to one run, or says which columns are looked at.
const OF_ONE_RUN: [&str; 10] = [
    "--json",
    "--save",
    "--accept",
    "--ask",
    "--evidence",
    "--merge",
    "--first-rows",
    "--column",
    "-o",
    "--color",
];

/// What a readings file says of the file.
const OF_THE_FILE: [&str; 16] = [
    "--table",
    "--query",
    "--sheet",
    "--delimiter",
    "--quote",
    "--encoding",
    "--skip-lines",
    "--header-line",
    "--no-header",
    "--missing",
    "--keep-placeholders",
    "--make",
    "--where",
    "--sort-by",
    "--series",
    "--by",
];

impl Printed<'_> {
    /// Runs what a command line has printed, and what that prints; gives how many command lines it has run.
    pub fn follow(&self, line: &str, text: &str) -> u64 {
        let all = commands(text);
        if all.is_empty() || line.contains("://") || line.contains("--merge") {
            return 0;
        }
        let mut run = 0;
        for command in all {
            let mut path = BTreeSet::from([line.to_owned()]);
            self.follow_one(line, text, &command, (&mut path, &mut run));
        }
        run
    }

    fn follow_one(
        &self,
        line: &str,
        text: &str,
        command: &str,
        (path, run): (&mut BTreeSet<String>, &mut u64),
    ) {
        note(command);
        *run += 1;
        let came = self.run(command);
        let told = || {
            format!(
                "$ metachron {line}\n{text}---\nprinted, and it ends with {}:\n$ metachron {command}\n{}---",
                came.status, came.text
            )
        };
        // What is shown is no answer.
        let is_view = !command.starts_with("convert ") && !command.contains("--save");
        assert!(matches!(came.status, 0 | 3 | 4), "{}", told());
        if is_view {
            return;
        }
        if !line.starts_with("demo") {
            self.keeps(line, command, &told);
        }
        assert!(path.len() <= DEPTH, "questions without end\n{}", told());
        if came.status != 3 {
            return;
        }
        assert!(path.insert(command.to_owned()), "it leads back to itself\n{}", told());
        let again = commands(&came.text);
        assert!(
            !again.contains(&command.to_owned()),
            "the same answer is asked for again\n{}",
            told()
        );
        for column in answered(command) {
            if !answered(line).contains(&column) {
                let (before, after) = (block(text, &column), block(&came.text, &column));
                assert!(after.is_none() || before != after, "the same question\n{}", told());
            }
        }
        for next in again {
            let mut path = path.clone();
            self.follow_one(command, &came.text, &next, (&mut path, run));
        }
    }

    /// Whether what was typed is still there: all that does not say something of a column.
    fn keeps(&self, line: &str, command: &str, told: &dyn Fn() -> String) {
        let (typed, printed) = (words(line), words(command));
        let is_convert = command.starts_with("convert ");
        let is_same = typed.first() == printed.first();
        let of_column = [
            "--order",
            "--layout",
            "--known",
            "--kind",
            "--unit",
            "--calendar",
            "--reform",
            "--year",
            "--anchor",
            "--repair",
            "--epoch",
            "--zone",
            "--zone-from",
            "--contested",
            "--written-in",
            "--two-digit-from",
            "--skipped-clock",
            "--repeated-clock",
            "--offset-wins",
            "--abbreviation",
            "--set",
            "--when",
            "--into",
        ];
        for (at, word) in typed.iter().enumerate().filter(|(_, word)| word.starts_with("--")) {
            let option = word.split('=').next().unwrap();
            if OF_ONE_RUN.contains(&option) || of_column.contains(&option) {
                continue;
            }
            // What is of convert alone cannot be kept by a survey, and what was saved needs no word.
            let is_saved = line.contains("--save ")
                && command.contains("--readings ")
                && OF_THE_FILE.contains(&option);
            if !(is_convert || is_same) || is_saved {
                continue;
            }
            let value = typed.get(at + 1).filter(|value| !value.starts_with("--"));
            let is_kept = printed.contains(word) || printed.iter().any(|own| own == option);
            assert!(is_kept, "{option} is lost ({value:?})\n{}", told());
        }
    }

    fn run(&self, command: &str) -> Came {
        let copy = tempfile::tempdir().unwrap();
        copy_all(self.folder, copy.path());
        let mut child = started(command, copy.path(), self.environment);
        // Not every command reads what it is given.
        let _ = child.stdin.take().unwrap().write_all(self.stdin);
        let output = child.wait_with_output().unwrap();
        let text =
            [output.stdout, output.stderr].map(|own| String::from_utf8_lossy(&own).into_owned());
        Came { status: output.status.code().unwrap(), text: text.concat() }
    }
}

/// The command lines in a text, without the program's name.
pub fn commands(text: &str) -> Vec<String> {
    let of_line = |line: &str| {
        let command = line.strip_prefix("  ")?.trim_start().strip_prefix("metachron ")?;
        let name = command.split(' ').next()?;
        let is_one = ["survey", "convert", "check", "explain", "list"].contains(&name);
        is_one.then(|| command.to_owned())
    };
    let mut all: Vec<String> = text.lines().filter_map(of_line).collect();
    all.sort();
    all.dedup();
    all
}

/// The columns of which a command line says something.
fn answered(command: &str) -> BTreeSet<String> {
    let words = words(command);
    let pairs = words.iter().zip(words.iter().skip(1));
    let said = pairs.filter(|(option, _)| matches!(option.as_str(), "--set" | "--when"));
    said.filter_map(|(_, text)| Some(text.split([':', ' ']).next()?.to_owned())).collect()
}

/// What is asked about a column, without the command lines.
fn block(text: &str, column: &str) -> Option<String> {
    let lead = format!("  {column}");
    let mut lines = text.lines().skip_while(|line| {
        !line.strip_prefix(&lead).is_some_and(|rest| rest.is_empty() || rest.starts_with(' '))
    });
    let first = lines.next()?.to_owned();
    let rest = lines.take_while(|line| line.starts_with("      ") && !line.contains("metachron "));
    Some(rest.fold(first, |all, line| all + "\n" + line))
}

fn copy_all(from: &Path, to: &Path) {
    for entry in fs::read_dir(from).unwrap() {
        let entry = entry.unwrap();
        let target = to.join(entry.file_name());
        match entry.file_type().unwrap().is_dir() {
            true => {
                fs::create_dir(&target).unwrap();
                copy_all(&entry.path(), &target);
            }
            false => {
                let _ = fs::copy(entry.path(), target);
            }
        }
    }
}

/// Lists the command lines that were run, where a file for them is named.
fn note(command: &str) {
    if let Some(path) = std::env::var_os("PRINTED_COMMANDS") {
        let mut file = fs::File::options().create(true).append(true).open(path).unwrap();
        writeln!(file, "{command}").unwrap();
    }
}
