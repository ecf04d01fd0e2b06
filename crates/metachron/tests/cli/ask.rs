//! Questions and answers, through a pseudo-terminal.

use std::fs::File;
use std::io::{Read, Write};
use std::process::Stdio;

use rustix::pty::{OpenptFlags, grantpt, openpt, ptsname, unlockpt};

use crate::harness::Bench;

/// Runs a command line at a terminal on which these keys are typed; gives back what the terminal
/// shows.
fn at_a_terminal(bench: &Bench, line: &str, keys: &str) -> String {
    let terminal = openpt(OpenptFlags::RDWR | OpenptFlags::NOCTTY).unwrap();
    grantpt(&terminal).unwrap();
    unlockpt(&terminal).unwrap();
    let name = ptsname(&terminal, Vec::new()).unwrap().into_string().unwrap();
    let open = || File::options().read(true).write(true).open(&name).unwrap();
    let mut terminal = File::from(terminal);
    let mut child = {
        let mut command = bench.command(line);
        command.stdin(Stdio::from(open())).stderr(Stdio::from(open())).stdout(Stdio::null());
        command.spawn().unwrap()
    };
    terminal.write_all(keys.as_bytes()).unwrap();
    assert!(child.wait().unwrap().success());
    let mut shown = Vec::new();
    let mut buffer = [0; 4096];
    // The terminal is gone with the last who had it open, and says so by an error.
    while let Ok(read @ 1..) = terminal.read(&mut buffer) {
        shown.extend_from_slice(&buffer[..read]);
    }
    String::from_utf8(shown).unwrap().replace('\r', "")
}

const TABLE: &str = "caught,released,seen,station\n\
    03/04/2024,1.5.2024,13/04/2024,A\n05/06/2024,2.5.2024,04/14/2024,B\n07/08/2024,3.6.2024,01/02/2024,B\n";

#[test]
fn open_columns_are_asked_about_one_by_one() {
    let bench = Bench::with("a.csv", TABLE);
    let shown = at_a_terminal(&bench, "survey a.csv --ask", "9\n2\n1\ns\n");
    for expected in [
        "caught   \"03/04/2024\" is  1) 3 April 2024  2) 4 March 2024  s) leave\n> ",
        "1, 2 or s\n> ",
        "released   \"1.5.2024\" is  1) 1 May 2024  2) 5 January 2024  s) leave\n> ",
        "seen   \"01/02/2024\" is  1) 1 February 2024  2) 2 January 2024  s) leave\n> ",
        "decisions saved in a.toml",
    ] {
        assert!(shown.contains(expected), "no {expected:?} in\n{shown}");
    }
    let saved = bench.read("a.toml");
    assert!(saved.contains("order = \"mdy\""), "{saved}");
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
    assert!(shown.contains("s) leave") && !shown.contains("saved"), "{shown}");
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
    assert!(shown.contains("\"station\" tells them apart") && shown.contains("1) that is right"));
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
