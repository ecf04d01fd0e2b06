//! Questions and answers, through a pseudo-terminal.

use std::fs::File;
use std::io::{Read, Write};
use std::process::{Child, Stdio};

use rustix::pty::{OpenptFlags, grantpt, openpt, ptsname, unlockpt};
use rustix::termios::{Winsize, tcsetwinsize};

use crate::harness::{Bench, table};

/// A terminal on which commands run.
struct Terminal {
    /// What is typed goes in here, and what is shown comes out.
    keys: File,
    /// How a program opens it.
    name: String,
}

impl Terminal {
    fn new() -> Terminal {
        let terminal = openpt(OpenptFlags::RDWR | OpenptFlags::NOCTTY).unwrap();
        grantpt(&terminal).unwrap();
        unlockpt(&terminal).unwrap();
        let name = ptsname(&terminal, Vec::new()).unwrap().into_string().unwrap();
        Terminal { keys: File::from(terminal), name }
    }

    fn of_columns(columns: u16) -> Terminal {
        let terminal = Terminal::new();
        let size = Winsize { ws_row: 50, ws_col: columns, ws_xpixel: 0, ws_ypixel: 0 };
        tcsetwinsize(&terminal.keys, size).unwrap();
        terminal
    }

    fn open(&self) -> Stdio {
        Stdio::from(File::options().read(true).write(true).open(&self.name).unwrap())
    }

    /// What a command shows that was started here, until it ends, and whether it succeeds; `shown` sees what there is so far.
    fn shown(
        mut self,
        mut child: Child,
        mut shown: impl FnMut(&[u8], &mut File),
    ) -> (bool, String) {
        let (mut all, mut buffer) = (Vec::new(), [0; 4096]);
        // The terminal is gone with the last who had it open, and says so by an error.
        while let Ok(read @ 1..) = self.keys.read(&mut buffer) {
            all.extend_from_slice(&buffer[..read]);
            shown(&all, &mut self.keys);
        }
        let succeeds = child.wait().unwrap().success();
        (succeeds, String::from_utf8(all).unwrap().replace('\r', ""))
    }
}

/// What a command line says at a terminal on which these keys are typed.
fn at_a_terminal(bench: &Bench, line: &str, keys: &str) -> String {
    let mut terminal = Terminal::new();
    let mut command = bench.command(line);
    command.stdin(terminal.open()).stderr(terminal.open()).stdout(Stdio::null());
    let child = command.spawn().unwrap();
    // What the command has open ends with it.
    drop(command);
    terminal.keys.write_all(keys.as_bytes()).unwrap();
    let (succeeds, shown) = terminal.shown(child, |_, _| ());
    assert!(succeeds, "{shown}");
    shown
}

/// What a command shows at a terminal on which these keys are typed once it has asked for them.
pub fn at_a_prompt(bench: &Bench, line: &str, prompt: &str, keys: &str) -> String {
    let terminal = Terminal::new();
    let mut command = bench.command(line);
    command.stdin(terminal.open()).stderr(terminal.open()).stdout(terminal.open());
    let child = command.env("HOME", "/nowhere").spawn().unwrap();
    drop(command);
    let mut is_typed = false;
    let typing = |shown: &[u8], terminal: &mut File| {
        if !is_typed && shown.ends_with(prompt.as_bytes()) {
            terminal.write_all(keys.as_bytes()).unwrap();
            is_typed = true;
        }
    };
    terminal.shown(child, typing).1
}

/// What a command shows at a terminal of so many columns.
fn at_a_width(bench: &Bench, line: &str, columns: u16) -> String {
    let terminal = Terminal::of_columns(columns);
    let mut command = bench.command(line);
    command.stdin(Stdio::null()).stderr(terminal.open()).stdout(terminal.open());
    let child = command.env("NO_COLOR", "1").spawn().unwrap();
    drop(command);
    terminal.shown(child, |_, _| ()).1
}

#[test]
fn pages_keep_within_the_terminal() {
    let bench = Bench::new();
    let rows = (0..60).map(|row| {
        let (day, month) = (row % 28 + 1, row % 12 + 1);
        let open = row % 12 + 1;
        format!("LF{row},{day:02}/{month:02}/2024,{open:02}/{month:02}/2024,2024-{month:02}-{day:02}T10:00:00Z,n/a\n")
    });
    bench.write(
        "a.csv",
        format!("ring,captured,released,logged,missing\n{}", rows.collect::<String>()),
    );
    for line in
        ["survey a.csv", "check a.csv", "survey a.csv --column released", "convert a.csv -o b.csv"]
    {
        let lengths: Vec<usize> = [80_u16, 120]
            .map(|columns| {
                let shown = at_a_width(&bench, line, columns);
                // A command line is never broken: it is there to be pasted.
                let lines = shown.lines().filter(|own| !own.trim_start().starts_with("metachron "));
                for own in lines {
                    let width = own.chars().count();
                    assert!(
                        width <= usize::from(columns),
                        "{columns}: {own:?} of {line} in\n{shown}"
                    );
                }
                shown.lines().count()
            })
            .into();
        assert!(lengths[0] >= lengths[1] && lengths[1] > 5, "{line}: {lengths:?}");
    }
    let narrow = at_a_width(&bench, "survey a.csv", 60);
    assert!(narrow.contains("\n    {day}/{month}/{year} or {month}/{day}/{year}\n"), "{narrow}");
}

const TABLE: &str = "caught,released,seen,station\n\
    03/04/2024,1.5.2024,13/04/2024,A\n05/06/2024,2.5.2024,04/14/2024,B\n07/08/2024,3.6.2024,01/02/2024,B\n";

#[test]
fn open_columns_are_asked_about_one_by_one() {
    let bench = Bench::with("a.csv", TABLE);
    let shown = at_a_terminal(&bench, "survey a.csv --ask", "9\n2\n1\ns\n");
    for expected in [
        "caught   All 3 dates fit both day first and month first",
        "  1) the day comes first: \"03/04/2024\" is 3 April 2024\n  2) the month comes first: \"03/04/2024\" is \
         4 March 2024\n  n) no date: leave it as it is\n  s) skip it (Enter)\n> ",
        "1, 2, n or s\n> ",
        "  1) the day comes first: \"1.5.2024\" is 1 May 2024 (survey leans to it)\n",
        "  1) the day comes first and the 1 value that does not fit is a typing error, to be left empty: \
         \"01/02/2024\" is 1 February 2024\n",
        "decisions saved in a.toml",
    ] {
        assert!(shown.contains(expected), "no {expected:?} in\n{shown}");
    }
    let saved = bench.read("a.toml");
    assert!(saved.contains("layouts = [\"{month}/{day}/{year}\"]"), "{saved}");
    bench
        .run("convert a.csv --readings a.toml --column caught --column released --quiet")
        .stdout(
            "caught,caught_typed,released,released_typed,seen,station\n\
             03/04/2024,2024-03-04,1.5.2024,2024-05-01,13/04/2024,A\n\
             05/06/2024,2024-05-06,2.5.2024,2024-05-02,04/14/2024,B\n\
             07/08/2024,2024-07-08,3.6.2024,2024-06-03,01/02/2024,B\n",
        )
        .check();
    // What was left is still open.
    bench.run("convert a.csv --readings a.toml").status(3).stderr_has(&["seen"]).check();
}

#[test]
fn whoever_says_nothing_has_answered_nothing() {
    let bench = Bench::with("a.csv", TABLE);
    // End of input at once.
    let shown = at_a_terminal(&bench, "survey a.csv --ask", "\u{4}");
    assert!(shown.contains("s) skip") && !shown.contains("saved"), "{shown}");
    assert_eq!(bench.files(), ["a.csv"]);
}

#[test]
fn what_tells_rows_apart_is_asked_too() {
    let mut table = "station,seen\n".to_owned();
    for row in 0..30 {
        let (day, month) = (1 + row * 11 % 28, 1 + row * 5 % 12);
        table.push_str(&format!("Skarholm,{day:02}/{month:02}/2024\n"));
        table.push_str(&format!("Port Meridian,{month:02}/{day:02}/2024\n"));
    }
    let bench = Bench::with("a.csv", table);
    let shown = at_a_terminal(&bench, "survey a.csv --ask --save b.toml", "1\n");
    assert!(
        shown.contains("\"station\" tells them apart")
            && shown.contains("1) \"station\" tells its rows apart")
    );
    bench
        .run("convert a.csv --readings b.toml -o out.csv")
        .stderr(
            "out.csv   60 rows\n\
             \x20 seen  → seen_typed  date  60 read, 0 contested; 30 day first, 30 month first by \
             station\n",
        )
        .check();
}

#[test]
fn without_a_terminal_nothing_can_be_asked() {
    let bench = Bench::with("a.csv", TABLE);
    bench.run("survey a.csv --ask").status(2).stderr("metachron: --ask needs a terminal; without one, the suggestions of survey can be pasted\n").check();
}

#[test]
fn hours_of_twelve_without_a_marker_are_asked_about() {
    // From six in the morning until seven in the evening, every hour but a few minutes.
    let clock = |hours: &dyn Fn(u32) -> u32| {
        let rows = (0..30_u32).map(|at| {
            let (day, minutes) = (at / 15 + 1, 360 + at % 15 * 53);
            format!("2024-03-0{day} {}:{:02}", hours(minutes / 60), minutes % 60)
        });
        table("seen", rows)
    };
    let bench = Bench::with("a.csv", clock(&|hour| (hour + 11) % 12 + 1));
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&[
            "The clocks of all 30 values show hours from 1 to 12, and 2 times go back from one row to the next",
            "metachron convert a.csv --set 'seen: layouts=\"{year}-{month}-{day} {hour}:{minute}\"' -o a.out.csv",
        ])
        .check();
    bench.write("b.csv", clock(&|hour| hour));
    bench
        .run("convert b.csv --quiet")
        .stdout_has(&["2024-03-01 18:22,2024-03-01T18:22:00\n"])
        .check();
    // A night's watch that goes on in time is no clock of twelve.
    bench.write("c.csv", clock(&|hour| hour - 5));
    bench
        .run("convert c.csv --quiet")
        .stdout_has(&["2024-03-01 13:22,2024-03-01T13:22:00\n"])
        .check();
    let night = "seen\n2024-03-01 1:05\n2024-03-01 2:10\n2024-03-01 3:15\n2024-03-01 4:20\n2024-03-01 5:25\n2024-03-01 6:30\n2024-03-01 7:35\n2024-03-01 8:40\n2024-03-01 9:45\n2024-03-01 10:50\n2024-03-01 11:55\n2024-03-01 12:58\n";
    bench.write("d.csv", night);
    bench
        .run("convert d.csv --quiet")
        .stdout_has(&["2024-03-01 12:58,2024-03-01T12:58:00\n"])
        .check();
}

#[test]
fn values_that_only_year_day_month_reads_are_told() {
    let drawn = |turned: usize| {
        let rows = (0..60).map(|at| {
            let (month, day) = (at % 12 + 1, at * 11 % 28 + 1);
            match at < turned {
                true => format!("2024-{day:02}-{month:02}"),
                false => format!("2024-{month:02}-{day:02}"),
            }
        });
        table("seen", rows)
    };
    let bench = Bench::with("a.csv", drawn(20));
    let both = "--set 'seen: layouts=[\"{year}-{month}-{day}\", \"{year}-{day}-{month}\"]'";
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&["values can be nothing but year, day, month (first in row ", both])
        .check();
    let said = bench.run(&format!("convert a.csv {both} --quiet")).status(4);
    said.stdout_has(&["2024-23-03,2024-03-23\n", "2024-05-01,\n"])
        .stderr_has(&["--rejects"])
        .check();
    bench.write("b.csv", drawn(60));
    bench
        .run("survey b.csv")
        .stdout_has(&[
            "can be nothing but year, day, month (first in row 3: \"2024-23-03\"); --column with",
        ])
        .check();
    let said = bench.run("convert b.csv --column seen --order ydm --quiet");
    said.stdout_has(&["2024-23-03,2024-03-23\n", "2024-01-01,2024-01-01\n"]).check();
    // One of them is a typing error, and told.
    bench.write("c.csv", drawn(0) + "2024-13-05\n");
    bench
        .run("convert c.csv -o d.csv --tolerate 1")
        .stderr_has(&["metachron: seen: 1 value can be nothing but year, day, month (first in row 61: \"2024-13-05\")\n"])
        .check();
}

#[test]
fn what_survey_knows_is_told_when_a_table_is_converted_and_checked() {
    let mut table = "seen\n".to_owned();
    for at in 0..40 {
        table.push_str(&format!("2024-{:02}-{:02} 10:00 CET\n", at % 3 + 6, at * 11 % 28 + 1));
    }
    table.push_str("2099-12-31 00:00 CET\n");
    let bench = Bench::with("a.csv", &table);
    let season = "CET stands in 41 values; for 40 of them it was the other season";
    let stand_in = "1 value is 2099-12-31, which programs often write where they have no date";
    let saved = "survey a.csv --save a.toml";
    bench.run(saved).stdout_has(&["seen"]).stderr_has(&["a.toml"]).check();
    for readings in ["", " --readings a.toml"] {
        let said = bench.run(&format!("convert a.csv{readings} -o b.csv"));
        said.stderr_has(&[
            &format!("metachron: seen: {season}"),
            &format!("metachron: seen: {stand_in}"),
        ])
        .check();
    }
    let check = bench.run("check a.csv --readings a.toml --json").status(4);
    check.stdout_has(&["\"code\": \"other-season\"", "\"code\": \"stand-in\""]).check();
}

#[test]
fn what_is_decided_by_preference_is_counted() {
    let rows = (0..120).map(|at| {
        let (month, day) = (at % 12 + 1, at * 11 % 28 + 1);
        if at % 3 > 0 {
            format!("{day:02}/{month:02}/2024")
        } else {
            format!("{month:02}/{day:02}/2024")
        }
    });
    let bench = Bench::with("a.csv", table("seen", rows));
    let layouts = "--layout '{day}/{month}/{year}' --layout '{month}/{day}/{year}'";
    bench
        .run(&format!("convert a.csv {layouts} --contested prefer -o b.csv"))
        .stderr_has(&[
            "values are read by the layout that stands first, although others read them otherwise (first in row ",
            " are likely wrong\n",
        ])
        .check();
}

/// What an import did to one column it did to the others as well, also where these alone show nothing.
#[test]
fn a_harmed_column_makes_others_of_its_table_a_question() {
    let imported = |month: u32, day: u32| match day {
        ..=12 => format!("2023-{day:02}-{month:02}"),
        _ => format!("{day}/{month}/2023"),
    };
    // Every day from January on, and few releases, one of them exchanged.
    let rows = (0..70).map(|row| {
        let (month, day) = (1 + row / 14, 1 + row % 14 * 2);
        let released = match row {
            5 => imported(9, 4),
            20 | 30 | 40 => imported(8, row / 10 + 17),
            _ => String::new(),
        };
        let printed = format!("2024-{:02}-{:02}", 1 + row % 5, 1 + row % 28);
        format!("{},{released},{printed}", imported(month, day))
    });
    let rows: Vec<String> = rows.collect();
    let bench = Bench::with("a.csv", table("caught,released,printed", rows.clone()));
    let said = bench.run("survey a.csv").stdout_has(&[
        "  released  date  leaning",
        "  printed   date  decided",
        "none of 1 date has a day above 12",
        "so in \"caught\" beside",
        "metachron convert a.csv --set 'released: repair=half-swapped' -o a.out.csv",
    ]);
    said.check();
    bench.run("convert a.csv --column released --repair half-swapped -o b.csv").output();
    assert!(bench.read("b.csv").contains(",2023-04-09,2023-09-04,"));
    // Also where nothing was asked of that column, and a single date is left.
    let lost = rows.iter().map(|row| {
        ["19/8/2023", "20/8/2023", "21/8/2023"]
            .iter()
            .fold(row.clone(), |row, day| row.replace(day, ""))
    });
    let bench = Bench::with("a.csv", table("caught,released,printed", lost));
    bench
        .run("convert a.csv --column released -o b.csv")
        .status(3)
        .stderr_has(&["Its one date has no day above 12", "\"caught\" beside it."])
        .check();
    // Where nothing is wrong beside it, four dates are what they are.
    let honest = rows.iter().map(|row| row.split_once(',').map_or("", |(_, rest)| rest).to_owned());
    let bench = Bench::with("a.csv", table("released,printed", honest));
    bench.run("survey a.csv").stdout_has(&["  released  date  decided"]).check();
}
