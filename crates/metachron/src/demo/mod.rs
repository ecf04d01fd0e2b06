//! `metachron demo`: the whole work on made-up data, every command line with its real output.

mod scenario;

use std::fs;
use std::io::Write;
use std::path::Path;
use std::process::{Command, Stdio};

use crate::args;
use crate::exit::Exit;
use crate::message::{Failure, shown};
use crate::report::cut;

/// Columns of a shown file that fit a terminal.
const WIDTH: usize = 118;

/// What the analyst types, why, and how it must end.
struct Step {
    says: &'static str,
    arguments: &'static str,
    exit: Exit,
    /// Files that are shown afterwards, with the number of lines that suffice.
    shows: &'static [(&'static str, usize)],
}

impl Step {
    /// A step that comes to a good end.
    const fn new(says: &'static str, arguments: &'static str) -> Step {
        Step { says, arguments, exit: Exit::Done, shows: &[] }
    }

    /// The same with another end.
    const fn ends(self, exit: Exit) -> Step {
        Step { exit, ..self }
    }

    /// The same, and files that are shown afterwards.
    const fn shows(self, shows: &'static [(&'static str, usize)]) -> Step {
        Step { shows, ..self }
    }
}

const STEPS: &[Step] = &[
    Step::new(
        "A file arrives from the stations of the Longshore Flyway. What is in it?",
        "survey captures.csv",
    ),
    Step::new("What is the matter with released?", "survey captures.csv --column released"),
    Step::new(
        "Converting stops where the data do not decide.",
        "convert captures.csv -o captures.out.csv",
    )
    .ends(Exit::Question),
    Step::new(
        "The ringing office knows: released is day first, and that two stations write the month \
         first in seen is right. Keep these decisions.",
        "survey captures.csv --set 'released: order=dmy' --save captures.toml --accept split",
    )
    .shows(&[("captures.toml", usize::MAX)]),
    Step::new(
        "Convert with them; cells that cannot be read are listed with their reasons.",
        "convert captures.csv --readings captures.toml --rejects rejects.csv -o \
         captures.out.csv",
    )
    .ends(Exit::Left)
    .shows(&[("captures.out.csv", 4), ("rejects.csv", 4)]),
    Step::new(
        "Look at the result: the typed columns need no decision any more.",
        "survey captures.out.csv --column captured_typed --column logged_typed",
    ),
    Step::new(
        "In spring the next delivery arrives. Is it what the decisions were saved for?",
        "check spring.csv --readings captures.toml",
    )
    .ends(Exit::Left),
    Step::new(
        "Laguna Norte has taken to writing the day first. What contradicts stops; nothing is \
         converted wrongly.",
        "convert spring.csv --readings captures.toml -o spring.out.csv",
    )
    .ends(Exit::Question),
    Step::new(
        "A regional office exports titles, semicolons, decimal commas, an encoding of its own, \
         and totals. Nothing has to be said about it.",
        "survey regional.csv",
    ),
    Step::new(
        "Titles and totals stay out of the table, the blank column too.",
        "convert regional.csv --drop-blank-columns -o regional.out.csv",
    )
    .shows(&[("regional.out.csv", 3)]),
    #[cfg(feature = "workbook")]
    Step::new("A workbook holds date cells, and days that are only text.", "survey station.xlsx"),
    #[cfg(feature = "workbook")]
    Step::new("Both become the same kind of date.", "convert station.xlsx -o station.out.csv")
        .shows(&[("station.out.csv", 6)]),
    #[cfg(feature = "workbook")]
    Step::new(
        "Another workbook was opened once by a program that reads the month first.",
        "survey retraps.xlsx",
    ),
    #[cfg(feature = "workbook")]
    Step::new(
        "What it exchanged is exchanged back; what it left as text is read as it was written.",
        "convert retraps.xlsx --repair half-swapped -o retraps.out.csv",
    )
    .shows(&[("retraps.out.csv", 7)]),
    Step::new(
        "A list of nets was saved from a spreadsheet that had lost the format of its cells.",
        "survey nets.csv",
    ),
    Step::new(
        "The office knows the program. Zero stands for nothing; 60 is a day that never was.",
        "convert nets.csv --epoch sheet-1900 --rejects nets.rejects.csv -o nets.out.csv",
    )
    .ends(Exit::Left)
    .shows(&[("nets.out.csv", 6), ("nets.rejects.csv", 4)]),
    #[cfg(feature = "workbook")]
    Step::new(
        "In a workbook such numbers have an origin: that of the workbook itself.",
        "survey nets.xlsx",
    ),
    Step::new(
        "How many birds were caught in each month, and what did they weigh?",
        "count captures.csv --column captured --sum weight --mean weight",
    ),
    Step::new("The parts of a day stand in columns of their own.", "survey sessions.csv"),
    Step::new(
        "They are put together by name, and the hours of each net are worked out.",
        "convert sessions.csv --make 'date = parts year=year month=month day=day' --make 'hours \
         = closed | since opened | as hours' --make 'week = date | period week' -o \
         sessions.out.csv",
    )
    .shows(&[("sessions.out.csv", 4)]),
    Step::new(
        "How long the nets stood, as each station writes it; and clocks that go on beyond a \
         day.",
        "survey efforts.csv",
    ),
    Step::new(
        "Whether 27:15 is hours and minutes, only a person knows. Durations become decimal \
         numbers, or a clock; the rows are sorted by them.",
        "convert efforts.csv --set 'logger: layouts=\"{hours}:{minutes}\"' --make 'net_hours = \
         effort | as hours' --make 'days = logger | show \"{days} d {hours} h\"' --sort-by \
         effort -o efforts.out.csv",
    )
    .shows(&[("efforts.out.csv", 6)]),
    #[cfg(feature = "columnar")]
    Step::new(
        "The next program takes typed columns: Parquet, and what it holds.",
        "convert efforts.csv --column effort --column day --infer-types -o efforts.parquet",
    ),
    #[cfg(feature = "columnar")]
    Step::new(
        "Read again, nothing is left to decide.",
        "survey efforts.parquet --column day_typed --column effort_typed",
    ),
    Step::new(
        "Five stations note the time of their own clocks, and name their zone.",
        "convert watches.csv --zone-from zone --rejects watches.rejects.csv -o watches.out.csv",
    )
    .ends(Exit::Left)
    .shows(&[("watches.out.csv", 5), ("watches.rejects.csv", 4)]),
    Step::new(
        "A logger goes by the clock of Skarholm, over the night when it is put back.",
        "convert nestbox.csv --zone Europe/Oslo --rejects nestbox.rejects.csv -o \
         nestbox.out.csv",
    )
    .ends(Exit::Left)
    .shows(&[("nestbox.rejects.csv", 3)]),
    Step::new(
        "Its rows are in order, and the clock goes back once: that tells the two hours apart.",
        "convert nestbox.csv --zone Europe/Oslo --repeated-clock by-sequence --to-zone \
         America/Chicago -o nestbox.out.csv",
    )
    .shows(&[("nestbox.out.csv", 4)]),
    Step::new(
        "Finders of rings write in six languages, the office answers in a seventh.",
        "survey finds.csv",
    ),
    Step::new(
        "Names are read in all of them; no month is mistaken for another.",
        "convert finds.csv -o finds.out.csv",
    )
    .shows(&[("finds.out.csv", 7)]),
    Step::new(
        "The winter watch notes clock times without a year, and counts years by eras.",
        "survey winter.csv",
    ),
    Step::new(
        "The year of the first row is enough: it turns where the sequence shows it.",
        "convert winter.csv --column noted --year 2023 -o winter.out.csv",
    )
    .shows(&[("winter.out.csv", 3)]),
    Step::new("One value alone, and all that it could be.", "explain 03/04/05"),
    Step::new(
        "A logger writes JSON; every byte of it stays.",
        "convert logger.jsonl -o logger.out.jsonl",
    )
    .shows(&[("logger.out.jsonl", 2)]),
    Step::new("A short list, straight to standard output.", "convert ringing.tsv --quiet"),
];

/// Writes the data and runs the steps.
pub fn run(demo: &args::Demo) -> Result<Exit, Failure> {
    let dir = &demo.dir;
    let failed = |error: std::io::Error| Failure::writing(dir, &error);
    if fs::read_dir(dir).is_ok_and(|mut entries| entries.next().is_some()) {
        return Err(Failure::could_not(format!(
            "{} is not empty; name a new folder with --dir",
            shown(dir)
        )));
    }
    fs::create_dir_all(dir).map_err(failed)?;
    for (name, bytes) in [
        ("captures.csv", scenario::captures().into_bytes()),
        ("spring.csv", scenario::spring().into_bytes()),
        ("nets.csv", scenario::nets().into_bytes()),
        ("watches.csv", scenario::watches().into_bytes()),
        ("nestbox.csv", scenario::nestbox().into_bytes()),
        ("sessions.csv", scenario::sessions().into_bytes()),
        ("efforts.csv", scenario::efforts().into_bytes()),
        ("ringing.tsv", scenario::ringing().into_bytes()),
        ("regional.csv", scenario::regional()),
        ("finds.csv", scenario::finds().into_bytes()),
        ("winter.csv", scenario::winter().into_bytes()),
        ("logger.jsonl", scenario::logger().into_bytes()),
        #[cfg(feature = "workbook")]
        ("station.xlsx", scenario::station_book().map_err(Failure::could_not)?),
        #[cfg(feature = "workbook")]
        ("nets.xlsx", scenario::nets_book().map_err(Failure::could_not)?),
        #[cfg(feature = "workbook")]
        ("retraps.xlsx", scenario::retraps_book().map_err(Failure::could_not)?),
    ] {
        fs::write(dir.join(name), bytes).map_err(failed)?;
    }
    say(&format!("The demo data is in {}.\n", shown(dir)))?;
    let program = std::env::current_exe().map_err(Failure::could_not)?;
    for step in STEPS {
        take(step, &program, demo)?;
    }
    Ok(Exit::Done)
}

fn take(step: &Step, program: &Path, demo: &args::Demo) -> Result<(), Failure> {
    let dir = &demo.dir;
    let as_of = demo.as_of.map_or(String::new(), |day| format!(" --as-of {day}"));
    let arguments = format!("{}{as_of}", step.arguments);
    say(&format!("\n# {}\n$ metachron {arguments}\n", step.says))?;
    let status = Command::new(program)
        .args(words(&arguments))
        .current_dir(dir)
        // In one stream, so that the order is right wherever it goes.
        .stderr(Stdio::from(std::io::stdout()))
        .status()
        .map_err(Failure::could_not)?;
    if status.code() != Some(step.exit as i32) {
        return Err(Failure::could_not(format!("metachron {arguments} ended with {status}")));
    }
    if step.exit != Exit::Done {
        say(&format!("(exit status {})\n", step.exit as i32))?;
    }
    step.shows.iter().try_for_each(|(name, lines)| show(&dir.join(name), *lines))
}

/// The first lines of a file.
fn show(path: &Path, lines: usize) -> Result<(), Failure> {
    let text = fs::read_to_string(path)
        .map_err(|error| Failure::reading(path, &metachron_tables::error::TableError::Io(error)))?;
    let head = text.lines().take(lines);
    let head: String = head.map(|line| format!("  {}\n", cut(line, WIDTH))).collect();
    let name = path.file_name().map_or(String::new(), |name| name.to_string_lossy().into_owned());
    say(&format!("\n{name}:\n{head}"))
}

/// The words of a command line as a shell would cut them; single quotes only.
fn words(line: &str) -> Vec<String> {
    let mut words = vec![String::new()];
    let mut quoted = false;
    for c in line.chars() {
        match c {
            '\'' => quoted = !quoted,
            ' ' if !quoted => words.push(String::new()),
            _ => words.last_mut().into_iter().for_each(|word| word.push(c)),
        }
    }
    words.retain(|word| !word.is_empty());
    words
}

fn say(text: &str) -> Result<(), Failure> {
    let mut out = std::io::stdout();
    out.write_all(text.as_bytes())
        .and_then(|()| out.flush())
        .map_err(|error| Failure::writing(Path::new("-"), &error))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_are_cut_as_a_shell_does() {
        assert_eq!(
            words("survey 'a b' --set 'x: y=\"z\"'"),
            ["survey", "a b", "--set", "x: y=\"z\""]
        );
    }
}
