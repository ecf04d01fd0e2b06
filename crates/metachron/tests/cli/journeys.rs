//! Journeys from raw to delivered: a file as somebody else's system sends it is surveyed, answered and saved once,
//! its next delivery is checked and converted by what was saved, and every cell of both is compared.

use jiff::Span;
use jiff::civil::{Date, DateTime};
use jiff::tz::TimeZone;

use crate::harness::{Bench, table};

/// The rows of the first delivery, and those of both.
const FIRST: u32 = 60;
const BOTH: u32 = 100;

/// A file that comes again and again.
struct Journey<'j> {
    /// What its name ends with.
    ending: &'j str,
    header: &'j str,
    /// What a person answers about the first delivery, as options of survey.
    answers: &'j str,
    /// What is said of the output each time, beside the readings file.
    output: &'j str,
    /// The header of what is delivered.
    delivered: &'j str,
}

/// Delimited text of which nothing is asked.
const PLAIN: Journey<'static> =
    Journey { ending: "csv", header: "", answers: "", output: "", delivered: "" };

impl Journey<'_> {
    /// The way of both deliveries, row by row: what is sent, and what is delivered.
    fn goes(&self, row: impl Fn(u32) -> (String, String)) {
        let bench = Bench::new();
        let Journey { ending, header, answers, output, delivered } = self;
        for (name, rows) in [("first", 0..FIRST), ("next", FIRST..BOTH)] {
            bench
                .write(&format!("{name}.{ending}"), sent(header, rows.clone().map(|at| row(at).0)));
            if name == "first" {
                bench.run(&format!("survey first.{ending} {answers} --save r.toml")).output();
            } else {
                bench
                    .run(&format!("check next.{ending} --readings r.toml"))
                    .stdout_has(&["Nothing was found."])
                    .check();
            }
            bench
                .run(&format!(
                    "convert {name}.{ending} --readings r.toml {output} -o {name}.out.csv --quiet"
                ))
                .check();
            let expected = table(delivered, rows.map(|at| row(at).1));
            assert_eq!(bench.read(&format!("{name}.out.csv")), expected, "{name}");
        }
    }
}

fn sent(header: &str, rows: impl Iterator<Item = String>) -> String {
    // Lines of JSON have no header.
    if header.is_empty() { rows.map(|row| row + "\n").collect() } else { table(header, rows) }
}

/// A day of the season, five days after the one before.
fn day(at: u32) -> Date {
    jiff::civil::date(2023, 1, 5).saturating_add(Span::new().days(i64::from(at) * 5))
}

/// A clock time on it.
fn clock(at: u32) -> DateTime {
    day(at).at((at * 7 % 24) as i8, (at * 13 % 60) as i8, 0, 0)
}

/// A day as it is written.
fn shown(day: Date, form: &str) -> String {
    day.strftime(form).to_string()
}

fn in_utc(clock: DateTime, zone: &str) -> String {
    clock.to_zoned(TimeZone::get(zone).unwrap()).unwrap().timestamp().to_string()
}

#[test]
fn a_ring_book_of_days() {
    let journey = Journey {
        header: "ring,captured,station",
        delivered: "ring,captured,captured_typed,station",
        ..PLAIN
    };
    journey.goes(|at| {
        let (raw, typed) = (shown(day(at), "%d/%m/%Y"), day(at));
        (format!("LF{at},{raw},Skarholm"), format!("LF{at},{raw},{typed},Skarholm"))
    });
}

#[test]
fn a_book_of_another_office_with_semicolons() {
    let journey = Journey {
        header: "Ring;Gefangen;Dauer",
        delivered: "Ring;Gefangen;Gefangen_typed;Dauer;Dauer_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        let (raw, typed) = (shown(day(at), "%d.%m.%Y"), day(at));
        let (length, typed_length) =
            [("1,5 Std.", "PT1H30M"), ("45 Min.", "PT45M"), ("2 Std. 10 Min.", "PT2H10M")]
                [at as usize % 3];
        (format!("LF{at};{raw};{length}"), format!("LF{at};{raw};{typed};{length};{typed_length}"))
    });
}

#[test]
fn a_logger_with_its_months_first() {
    let journey = Journey {
        header: "logger,seen",
        answers: "--column seen --zone America/Chicago",
        delivered: "logger,seen,seen_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        // By day: no clock is changed then.
        let own = day(at).at((at * 7 % 14 + 6) as i8, (at * 13 % 60) as i8, 0, 0);
        let raw = own.strftime("%m/%d/%Y %I:%M %p").to_string();
        let typed = in_utc(own, "America/Chicago");
        (format!("P{at},{raw}"), format!("P{at},{raw},{typed}"))
    });
}

#[test]
fn two_offices_in_one_file() {
    let journey = Journey {
        header: "station,seen",
        answers: "--accept split",
        delivered: "station,seen,seen_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        let (station, form) =
            [("Skarholm", "%d/%m/%Y"), ("Port Meridian", "%m/%d/%Y")][at as usize % 2];
        let raw = shown(day(at), form);
        (format!("{station},{raw}"), format!("{station},{raw},{}", day(at)))
    });
}

#[test]
fn serial_numbers_of_a_sheet() {
    let journey = Journey {
        header: "ring,date",
        answers: "--set 'date: epoch=sheet-1900'",
        delivered: "ring,date,date_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        let raw = (day(at) - jiff::civil::date(1899, 12, 30)).get_days();
        (format!("LF{at},{raw}"), format!("LF{at},{raw},{}", day(at)))
    });
}

#[test]
fn a_receiver_that_counts_milliseconds() {
    let journey =
        Journey { header: "tag,seen,rec", delivered: "tag,seen,seen_typed,rec,rec_typed", ..PLAIN };
    journey.goes(|at| {
        let moment = clock(at).to_zoned(TimeZone::UTC).unwrap().timestamp();
        let (seen, rec) =
            (clock(at).strftime("%Y-%m-%d %H:%M").to_string(), moment.as_millisecond());
        let typed = format!("{}Z", clock(at));
        (format!("T{at},{seen},{rec}"), format!("T{at},{seen},{},{rec},{typed}", clock(at)))
    });
}

#[test]
fn months_in_words() {
    const MONTHS: [&str; 12] = [
        "janeiro",
        "fevereiro",
        "março",
        "abril",
        "maio",
        "junho",
        "julho",
        "agosto",
        "setembro",
        "outubro",
        "novembro",
        "dezembro",
    ];
    let journey =
        Journey { header: "anilha,visto", delivered: "anilha,visto,visto_typed", ..PLAIN };
    journey.goes(|at| {
        let own = day(at);
        let raw =
            format!("{} de {} de {}", own.day(), MONTHS[own.month() as usize - 1], own.year());
        (format!("LF{at},{raw}"), format!("LF{at},{raw},{own}"))
    });
}

#[test]
fn parts_with_a_clock_in_one_number() {
    let journey = Journey {
        header: "year,month,day,opened,net",
        answers: "--set 'opened: layouts=\"{hourminute}\"'",
        output: "--make 'at = parts year=year month=month day=day time=opened'",
        delivered: "year,month,day,opened,opened_typed,net,at",
        ..PLAIN
    };
    journey.goes(|at| {
        let own = clock(at);
        let number = i32::from(own.hour()) * 100 + i32::from(own.minute());
        let date = format!("{},{},{},{number}", own.year(), own.month(), own.day());
        (format!("{date},N{at}"), format!("{date},{},N{at},{own}", own.time()))
    });
}

#[test]
fn a_series_of_months_as_decimal_years() {
    let journey = Journey {
        header: "time,count",
        answers: "--set 'time: layouts=\"{decimalyear:month}\"'",
        delivered: "time,time_typed,count",
        ..PLAIN
    };
    journey.goes(|at| {
        let raw = format!("{:.4}", 1960.0 + f64::from(at) / 12.0);
        let typed = format!("{}-{:02}", 1960 + at / 12, at % 12 + 1);
        (format!("{raw},{at}"), format!("{raw},{typed},{at}"))
    });
}

#[test]
fn days_as_they_are_written_at_hoshizaki() {
    let journey =
        Journey { header: "番号,日付", delivered: "番号,日付,日付_typed", ..PLAIN };
    journey.goes(|at| {
        let own = day(at);
        let raw = format!("令和{}年{}月{}日", own.year() - 2018, own.month(), own.day());
        (format!("H{at},{raw}"), format!("H{at},{raw},{own}"))
    });
}

#[test]
fn ringers_and_their_years_of_birth() {
    let journey = Journey {
        header: "ringer,born",
        answers: "--set 'born: two_digit_from=1927'",
        delivered: "ringer,born,born_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        let own = jiff::civil::date(
            1928 + (at * 7 % 80) as i16,
            (at % 12 + 1) as i8,
            (at * 5 % 28 + 1) as i8,
        );
        let raw = shown(own, "%d.%m.%y");
        (format!("R{at},{raw}"), format!("R{at},{raw},{own}"))
    });
}

#[test]
fn efforts_as_hands_write_them() {
    let journey = Journey {
        header: "net,effort",
        output: "--make 'hours = effort | as hours'",
        delivered: "net,effort,effort_typed,hours",
        ..PLAIN
    };
    journey.goes(|at| {
        let (raw, typed, hours) = [
            ("half an hour", "PT30M", "0.5"),
            ("1½ h", "PT1H30M", "1.5"),
            ("two hours", "PT2H", "2"),
            ("en halv time", "PT30M", "0.5"),
            ("1h30", "PT1H30M", "1.5"),
            ("3 hrs 15 min", "PT3H15M", "3.25"),
        ][at as usize % 6];
        (format!("N{at},{raw}"), format!("N{at},{raw},{typed},{hours}"))
    });
}

#[test]
fn lines_of_json_shown_where_the_birds_are() {
    let journey = Journey {
        ending: "jsonl",
        output: "--to-zone Africa/Casablanca --instants offset",
        delivered: "tag,seen,seen_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        let moment = clock(at).to_zoned(TimeZone::UTC).unwrap();
        let raw = moment.strftime("%Y-%m-%dT%H:%M:%SZ").to_string();
        let there = moment.with_time_zone(TimeZone::get("Africa/Casablanca").unwrap());
        let typed = there.strftime("%Y-%m-%dT%H:%M:%S%:z").to_string();
        (format!("{{\"tag\":\"T{at}\",\"seen\":\"{raw}\"}}"), format!("T{at},{raw},{typed}"))
    });
}

#[test]
fn a_sheet_that_half_an_import_has_swapped() {
    let journey = Journey {
        header: "ring,seen",
        answers: "--set 'seen: repair=half-swapped'",
        delivered: "ring,seen,seen_typed",
        ..PLAIN
    };
    journey.goes(|at| {
        let own = day(at);
        let raw = match own.day() {
            // Days up to 12 were taken for months.
            ..=12 => shown(own, "%Y-%d-%m"),
            _ => shown(own, "%d/%m/%Y"),
        };
        (format!("LF{at},{raw}"), format!("LF{at},{raw},{own}"))
    });
}

/// The next delivery holds what the first did not: it stops, says what is new, and what it prints lets it go on.
#[test]
fn an_office_that_is_new_in_the_next_delivery() {
    let offices =
        [("Skarholm", "%d/%m/%Y"), ("Port Meridian", "%m/%d/%Y"), ("Cabo Sereno", "%d/%m/%Y")];
    let row = |at: u32, offices: &[(&str, &str)]| {
        let (station, form) = offices[at as usize % offices.len()];
        let raw = shown(day(at), form);
        (format!("{station},{raw}"), format!("{station},{raw},{}", day(at)))
    };
    let bench = Bench::with(
        "first.csv",
        table("station,seen", (0..FIRST).map(|at| row(at, &offices[..2]).0)),
    );
    bench.run("survey first.csv --save r.toml --accept split").output();
    let next = (FIRST..2 * FIRST).map(|at| row(at, &offices).0);
    bench.write("next.csv", table("station,seen", next));
    let check = bench
        .run("check next.csv --readings r.toml")
        .status(4)
        .stdout_has(&["Cabo Sereno"])
        .check();
    let adds =
        check.lines().map(str::trim).find(|line| line.starts_with("metachron survey")).unwrap();
    bench.run(adds.strip_prefix("metachron ").unwrap()).output();
    bench.run("check next.csv --readings r.toml").stdout_has(&["Nothing was found."]).check();
    for (name, rows, offices) in
        [("first", 0..FIRST, &offices[..2]), ("next", FIRST..2 * FIRST, &offices[..])]
    {
        bench
            .run(&format!("convert {name}.csv --readings r.toml -o {name}.out.csv --quiet"))
            .check();
        let expected = table("station,seen,seen_typed", rows.map(|at| row(at, offices).1));
        assert_eq!(bench.read(&format!("{name}.out.csv")), expected);
    }
}
