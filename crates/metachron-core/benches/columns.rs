//! What it costs to look at a column, and to convert it: nanoseconds a value.
//!
//! `cargo bench -p metachron-core` prints, for each kind of column, what observing its values costs
//! beside applying the reading that they came to; observing among neighbours is what survey does.
#![allow(clippy::disallowed_macros, clippy::disallowed_methods, clippy::unwrap_used)]

mod timing;

use std::hint::black_box;

use metachron_core::evidence::{Neighbours, ObserveOptions, Observer};
use metachron_core::infer::infer;
use metachron_core::reading::{Order, Serials};
use metachron_core::verdict::Asserted;
use timing::{ROWS, best};

fn main() {
    let day = |row: usize| {
        jiff::civil::date(2010, 1, 1) + jiff::Span::new().days((row * 7_919 % 1_800) as i64)
    };
    type Write = fn(jiff::civil::Date, usize) -> String;
    let columns: [(&str, Write); 8] = [
        ("dd/mm/yyyy", |d, _| format!("{:02}/{:02}/{}", d.day(), d.month(), d.year())),
        ("d.m.yy h:m", |d, row| {
            format!("{}.{}.{:02} {}:{:02}", d.day(), d.month(), d.year() % 100, row % 24, row % 60)
        }),
        ("yyyy-mm-dd", |d, _| d.to_string()),
        ("rfc 3339", |d, row| format!("{d}T{:02}:{:02}:{:02}Z", row % 24, row % 60, row * 7 % 60)),
        ("d month yyyy", |d, _| {
            let months = [
                "Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec",
            ];
            format!("{} {} {}", d.day(), months[d.month() as usize - 1], d.year())
        }),
        ("serial", |_, row| format!("{}", 40_000 + row * 7_919 % 1_800)),
        ("serial.time", |_, row| {
            format!("{}.{:09}", 40_000 + row * 7_919 % 1_800, row * 982_451 % 1_000_000_000)
        }),
        ("sorted", |_, row| {
            let d = jiff::civil::date(2010, 1, 1) + jiff::Span::new().days((row / 40) as i64);
            format!("{:02}/{:02}/{}", d.day(), d.month(), d.year())
        }),
    ];
    let nothing = Asserted::nothing(jiff::civil::date(2026, 1, 1));
    let stations = ["Skarholm", "Port Meridian", "Cabo Sereno", "Dar Wadi", "Hoshizaki"];
    println!(
        "{:<14}{:>10}{:>16}{:>10}{:>10}",
        "ns a value", "observe", "with 4 beside", "apply", "ratio"
    );
    for (name, write) in columns {
        let values: Vec<String> = (0..ROWS).map(|row| write(day(row), row)).collect();
        let epoch = "sheet-1900".parse().ok().filter(|_| name.starts_with("serial"));
        let serials = epoch.map(|epoch| Serials { epoch, are_times: false });
        let options = ObserveOptions { serials, ..ObserveOptions::default() };
        let observe = best(|| {
            let mut observer = Observer::new(options.clone(), 0);
            for (row, value) in (1..).zip(&values) {
                observer.observe(row, value.as_str());
            }
            black_box(observer.finish());
        });
        let among = best(|| {
            let mut observer = Observer::new(options.clone(), 0);
            let mut neighbours = Neighbours::of(["station", "by", "net", "age", "seen"]);
            for (row, value) in (1..).zip(&values) {
                for at in 0..4 {
                    neighbours.see(at, stations[(row as usize * (at + 3)) % (at + 2)]);
                }
                observer.observe_among(row.into(), value.as_str(), &neighbours);
            }
            black_box(observer.finish_among("seen", &neighbours));
        });
        // Two digits may be a day or a year.
        let order = name.contains("yy ").then_some(Order::Dmy);
        let known = Asserted { order, century: true, ..nothing.clone() };
        let inference = infer(values.iter().map(String::as_str), &options, &known);
        let compiled = inference.compiled.unwrap();
        let mut scratch = compiled.scratch();
        let apply = best(|| {
            for (row, value) in (1..).zip(&values) {
                black_box(scratch.apply(row, value.as_str()));
            }
        });
        println!("{name:<14}{observe:>10.0}{among:>16.0}{apply:>10.0}{:>10.1}", among / apply);
    }
}
