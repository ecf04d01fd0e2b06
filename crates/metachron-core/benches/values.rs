//! What single values cost, beside general libraries for dates: nanoseconds a value, and instructions where valgrind is
//! installed, which are the same on every machine and in every run.
//!
//! `cargo bench -p metachron-core --bench values` prints them, and how many times as fast as the best of the others each
//! is. Every answer is held against that of the others.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

mod timing;

use std::cell::RefCell;
use std::fmt::Write;
use std::hint::black_box;
use std::process::{Command, Stdio};

use jiff::Timestamp;
use jiff::civil::{Date, DateTime};
use jiff::tz::{Offset, TimeZone};
use metachron_core::apply::LayoutProgram;
use metachron_core::layout::Layout;
use metachron_core::reading::Terms;
use metachron_core::typed::TypedValue;
use metachron_core::write::iso;
use metachron_core::zone::{Placed, Zones};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use timing::{ROWS, best};

/// Comes to an answer about each of the values; the answers add up to a number.
type Run = dyn Fn(&[String]) -> i64;

/// One way to do so.
struct Way {
    name: &'static str,
    run: Box<Run>,
}

/// What is measured: ours first, then the others.
struct Kernel {
    name: &'static str,
    values: Vec<String>,
    ways: Vec<Way>,
    goals: &'static str,
}

fn way(name: &'static str, each: impl Fn(&str) -> i64 + 'static) -> Way {
    let run = move |values: &[String]| {
        values.iter().fold(0_i64, |sum, value| sum.wrapping_add(each(black_box(value))))
    };
    Way { name, run: Box::new(run) }
}

/// The same about clock times, which no text stands for.
fn of_clocks(
    name: &'static str,
    clocks: &[DateTime],
    each: impl FnMut(DateTime) -> i64 + 'static,
) -> Way {
    let (clocks, each) = (clocks.to_vec(), RefCell::new(each));
    let run = move |_: &[String]| {
        let each = &mut *each.borrow_mut();
        clocks.iter().fold(0_i64, |sum, clock| sum.wrapping_add(each(black_box(*clock))))
    };
    Way { name, run: Box::new(run) }
}

/// Writes clock times, each into the same text.
fn writing(
    name: &'static str,
    clocks: &[DateTime],
    write: impl Fn(&mut String, DateTime) + 'static,
) -> Way {
    let mut text = String::new();
    of_clocks(name, clocks, move |clock| {
        text.clear();
        write(&mut text, clock);
        i64::from(text.as_bytes()[15])
    })
}

/// Reads by a layout.
fn ours(layout: &str) -> Way {
    let program = LayoutProgram::new(&Layout::parse(layout).unwrap());
    let terms = Terms::default();
    way("ours", move |value| number(program.read(value, terms).unwrap().moment))
}

fn number(moment: TypedValue) -> i64 {
    match moment {
        TypedValue::Date(date) => of_date(date),
        TypedValue::DateTime(clock) => of_clock(clock),
        TypedValue::Instant(moment) => moment.as_second(),
        _ => 0,
    }
}

fn of_date(date: Date) -> i64 {
    i64::from(date.year()) * 512 + i64::from(date.month()) * 32 + i64::from(date.day())
}

fn of_clock(clock: DateTime) -> i64 {
    of_date(clock.date()) * 2_048 + i64::from(clock.hour()) * 64 + i64::from(clock.minute())
}

fn of_chrono_date(date: chrono::NaiveDate) -> i64 {
    use chrono::Datelike;
    i64::from(date.year()) * 512 + i64::from(date.month()) * 32 + i64::from(date.day())
}

fn of_chrono(clock: chrono::NaiveDateTime) -> i64 {
    use chrono::Timelike;
    of_chrono_date(clock.date()) * 2_048 + i64::from(clock.hour()) * 64 + i64::from(clock.minute())
}

fn kernels(rows: usize) -> Vec<Kernel> {
    let clocks: Vec<DateTime> = (0..rows as i64)
        .map(|row| {
            let second = 1_262_304_000 + row * 7_919 * 61 % 473_385_600;
            Offset::UTC.to_datetime(Timestamp::from_second(second).unwrap())
        })
        .collect();
    let written = |form: &str| -> Vec<String> {
        clocks.iter().map(|clock| clock.strftime(form).to_string()).collect()
    };
    let zone = Zones::bundled().named("Europe/Oslo").unwrap();
    let library = TimeZone::get("Europe/Oslo").unwrap();
    let fixed = "%d/%m/%Y";
    let names = "%-d %B %Y %-I:%M %p";
    vec![
        Kernel {
            name: "fixed width: 03/04/2024",
            values: written(fixed),
            ways: vec![
                ours("{day:02}/{month:02}/{year}"),
                way("jiff", move |value| of_date(Date::strptime(fixed, value).unwrap())),
                way("chrono", move |value| {
                    of_chrono_date(chrono::NaiveDate::parse_from_str(value, fixed).unwrap())
                }),
            ],
            goals: "jiff 8, chrono 15",
        },
        Kernel {
            name: "names: 3 April 2024 1:05 PM",
            values: written(names),
            ways: vec![
                ours("{day} {month:name} {year} {hour:12}:{minute:02} {ampm}"),
                way("jiff", move |value| of_clock(DateTime::strptime(names, value).unwrap())),
                way("chrono", move |value| {
                    of_chrono(chrono::NaiveDateTime::parse_from_str(value, names).unwrap())
                }),
            ],
            goals: "jiff 5, chrono 10",
        },
        Kernel {
            name: "ISO date: 2024-04-03",
            values: written("%F"),
            ways: vec![
                ours("{year}-{month:02}-{day:02}"),
                way("jiff", |value| of_date(value.parse().unwrap())),
            ],
            goals: "jiff 2",
        },
        Kernel {
            name: "RFC 3339: 2024-04-03T13:05:00Z",
            values: written("%FT%TZ"),
            ways: vec![
                ours("rfc-3339"),
                way("jiff", |value| value.parse::<Timestamp>().unwrap().as_second()),
                way("chrono", |value| {
                    chrono::DateTime::parse_from_rfc3339(value).unwrap().timestamp()
                }),
                way("time", |value| {
                    OffsetDateTime::parse(value, &Rfc3339).unwrap().unix_timestamp()
                }),
            ],
            goals: "best 1.5",
        },
        Kernel {
            name: "writing 2024-04-03T13:05:00",
            values: Vec::new(),
            ways: vec![
                writing("ours", &clocks, |text, clock| {
                    iso(text, TypedValue::DateTime(clock), 0).unwrap();
                }),
                writing("jiff", &clocks, |text, clock| write!(text, "{clock}").unwrap()),
            ],
            goals: "jiff 3",
        },
        Kernel {
            name: "clock in Europe/Oslo to instant",
            values: Vec::new(),
            ways: vec![
                of_clocks("ours", &clocks, move |clock| match zone.place(clock) {
                    Placed::Once(moment) => moment.as_second(),
                    _ => 0,
                }),
                of_clocks("jiff", &clocks, move |clock| {
                    let placed = library.to_ambiguous_timestamp(clock).unambiguous();
                    placed.map_or(0, |moment| moment.as_second())
                }),
            ],
            goals: "jiff 5",
        },
    ]
}

/// Values whose instructions are counted.
const COUNTED: usize = 5_000;

/// Instructions that one value takes: those of two rounds less those of one, if they can be counted.
fn instructions(kernel: usize, way: usize) -> Option<f64> {
    let collected = |rounds: usize| -> Option<f64> {
        let output = Command::new("valgrind")
            .args(["--tool=callgrind", "--callgrind-out-file=/dev/null"])
            .arg(std::env::current_exe().ok()?)
            .args(["run".to_owned(), kernel.to_string(), way.to_string(), rounds.to_string()])
            .stdin(Stdio::null())
            .output()
            .ok()?;
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        said.lines().find_map(|line| line.split_once("Collected : ")?.1.trim().parse().ok())
    };
    Some((collected(2)? - collected(1)?) / COUNTED as f64)
}

fn main() {
    let words: Vec<String> = std::env::args().skip(1).collect();
    if let [run, kernel, way, rounds] = &words[..]
        && run == "run"
    {
        let number = |text: &String| text.parse::<usize>().unwrap();
        let Kernel { values, ways, .. } = &kernels(COUNTED)[number(kernel)];
        (0..number(rounds)).for_each(|_| _ = black_box((ways[number(way)].run)(values)));
        return;
    }
    println!("{:<34}{:<8}{:>8}{:>14}{:>10}  goals", "", "", "ns", "instructions", "ours = 1");
    for (at, Kernel { name, values, ways, goals }) in kernels(ROWS).iter().enumerate() {
        let answer = (ways[0].run)(values);
        let mut first = None;
        for (number, way) in ways.iter().enumerate() {
            assert_eq!((way.run)(values), answer, "{name}: {}", way.name);
            let nanos = best(|| _ = black_box((way.run)(black_box(values))));
            let counted =
                instructions(at, number).map_or("-".to_owned(), |all| format!("{all:.0}"));
            let ours = *first.get_or_insert(nanos);
            let (name, goals) = if number == 0 { (*name, *goals) } else { ("", "") };
            println!(
                "{name:<34}{:<8}{nanos:>8.1}{counted:>14}{:>10.2}  {goals}",
                way.name,
                nanos / ours
            );
        }
    }
}
