//! Lengths of time: surveyed, asked about, converted, saved; and tables sorted by what was read.

use crate::harness::{Bench, table};

const EFFORTS: &str = "net,effort,logger,lap\n\
    N1,1 day 4 hours 35 min,27:15,1:30\nN2,48 SECONDS,3:05,0:45\nN3,\"2 hrs, 5 mins\",51:20,59:59.5\n\
    N4,1h30m,8:00,2:10.25\nN5,,49:59,5:00.5\nN6,90 min,0:30,4:20\n";

#[test]
fn what_is_open_about_durations_is_asked() {
    let bench = Bench::with("a.csv", EFFORTS);
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "effort  duration  decided        5        1     0  {amounts} and {amounts:minutes}",
            "logger  duration  undecided      0        0     6  {hours}:{minutes} or {minutes}:{seconds}",
            "lap     duration  decided        6        0     0  {minutes}:{seconds} and {minutes}:{seconds}.{fraction}",
            "Values go up to PT51H20M, beyond a day: they are lengths of time, not times of day.",
            "\"27:15\" is 27 hours 15 minutes\n",
            "\"27:15\" is 27 minutes 15 seconds\n",
            "If they are minutes and seconds:\n               metachron convert a.csv --set 'logger: layouts=\"{minutes}:{seconds}\"' -o a.out.csv\n",
            "known=\"27:15=PT27H15M\"' -o a.out.csv",
            "Other values can only be lengths of time: so are the clock forms beside them. 3 values can only\n",
        ])
        .check();
    bench.run("convert a.csv").status(3).stderr_has(&["1 of 3 date columns is open"]).check();
    for (options, last) in [
        ("--column logger --layout '{hours}:{minutes}'", "N6,90 min,0:30,PT30M,4:20\n"),
        ("--column logger --known 3:05=PT185S", "N6,90 min,0:30,PT30S,4:20\n"),
        ("--column logger --known 3:05=PT3H5M", "N6,90 min,0:30,PT30M,4:20\n"),
        ("--column lap --kind duration", "N6,90 min,0:30,4:20,PT4M20S\n"),
        ("--column lap", "N6,90 min,0:30,4:20,PT4M20S\n"),
        ("--column lap --set 'lap: kind=duration'", "N6,90 min,0:30,4:20,PT4M20S\n"),
    ] {
        let table = bench.run(&format!("convert a.csv {options} --quiet")).output();
        assert!(table.ends_with(last), "{options}: {table}");
    }
}

#[test]
fn numbers_are_durations_where_their_unit_is_said() {
    let bench = Bench::with("a.csv", "n,awake\n1,3733\n2,0\n3,1.5\n4,\n");
    bench.run("survey a.csv").stdout_has(&["awake   -     not-a-date"]).check();
    bench
        .run("convert a.csv --column awake --kind duration")
        .status(3)
        .stderr_has(&[
            "3 values are numbers without a unit (first in row 1: \"3733\").",
            "metachron convert a.csv --column awake --set 'awake: kind=duration, unit=seconds' -o a.out.csv",
        ])
        .check();
    bench
        .run(
            "convert a.csv --column awake --unit seconds --quiet \
             --make 'clock = awake | show \"{hours}:{minutes}:{seconds}\"' --make 'min = awake | as minutes'",
        )
        .stdout(
            "n,awake,awake_typed,clock,min\n1,3733,PT1H2M13S,1:02:13,62.216666667\n2,0,PT0S,0:00:00,0\n\
             3,1.5,PT1.5S,0:00:01,0.025\n4,,,,\n",
        )
        .check();
    // What a spreadsheet leaves of a duration is a fraction of a day.
    bench
        .run("convert a.csv --column awake --unit days --quiet")
        .stdout(
            "n,awake,awake_typed\n\
             1,3733,PT89592H\n\
             2,0,PT0S\n\
             3,1.5,PT36H\n\
             4,,\n",
        )
        .check();
    bench
        .run("convert a.csv --column awake --unit secnds")
        .status(2)
        .stderr(
            "metachron: --unit \"secnds\" is none of years, quarters, months, weeks, days, hours, \
             minutes, seconds, milliseconds, microseconds, nanoseconds; did you mean seconds?\n",
        )
        .check();
}

#[test]
fn what_cannot_be_read_stays_with_its_reason() {
    let table = "effort\n1 h 30 min\n2 h\n3 hours\n\"1,500 h\"\n3 kg\n5 days 3\n1.2 months\n45\n90 min\n2 d\n";
    let bench = Bench::with("a.csv", table);
    bench
        .run("convert a.csv --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   10 rows\n\
             \x20 effort  → effort_typed  duration  5 read, 5 unreadable → r.csv\n\
             metachron: 5 rows have an unreadable or contested cell (first row 4); r.csv lists \
             them, --tolerate 5 lets them stay\n",
        )
        .check();
    let rejects = bench.read("r.csv");
    for says in [
        "\"1,500 h\",unclear-comma,\"the comma may be a decimal mark, or stand between thousands\"",
        "3 kg,unknown-form,",
        "5 days 3,no-unit,a number of it has no unit",
        "1.2 months,out-of-range,",
        "45,no-unit,a number of it has no unit",
    ] {
        assert!(rejects.contains(says), "{says} in {rejects}");
    }
    let table = bench
        .run("convert a.csv --unit minutes --tolerate 4")
        .stderr(
            "standard output   10 rows\n\
         \x20 effort  → effort_typed  duration  6 read, 4 unreadable\n",
        )
        .output();
    assert!(table.contains("45,PT45M\n"), "{table}");
    // A word that is another unit elsewhere is a question, which the language answers.
    bench.write("t.csv", "effort,n\n5 t,1\n3 t 20 min,2\n");
    bench
        .run("convert t.csv")
        .status(3)
        .stderr_has(&[
            "its unit is days in one language (de) and hours in another (nb)",
            "If they are written in Norwegian Bokmål:",
        ])
        .check();
    bench
        .run("convert t.csv --written-in nb --quiet")
        .stdout("effort,effort_typed,n\n5 t,PT5H,1\n3 t 20 min,PT3H20M,2\n")
        .check();
}

#[test]
fn durations_are_saved_and_read_again() {
    let bench = Bench::with("a.csv", EFFORTS);
    bench
        .run("survey a.csv --set 'logger: layouts=\"{hours}:{minutes}\"' --set 'lap: kind=duration' --save a.toml")
        .stdout_has(&[])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.csv --readings a.toml -o a.out.csv\n",
        )
        .check();
    let saved = bench.read("a.toml");
    assert!(
        saved.contains("kind = \"duration\"")
            && saved.contains("layouts = [\"{hours}:{minutes}\"]")
    );
    let table = bench.run("convert a.csv --readings a.toml --quiet").output();
    assert!(table.contains("N5,,,49:59,PT49H59M,5:00.5,PT5M0.5S\n"), "{table}");
    // What was written is decided when it is read again.
    bench.write("b.csv", &table);
    bench
        .run("survey b.csv --column effort_typed --column logger_typed --column lap_typed")
        .stdout_has(&["effort_typed   duration, decided", "iso-8601-duration"])
        .check();
    bench
        .run("convert a.csv --readings a.toml --where 'logger > \"1 day\" and effort < PT30H' --quiet")
        .stdout(
            "net,effort,effort_typed,logger,logger_typed,lap,lap_typed\n\
             N1,1 day 4 hours 35 min,PT28H35M,27:15,PT27H15M,1:30,PT1M30S\n\
             N3,\"2 hrs, 5 mins\",PT2H5M,51:20,PT51H20M,59:59.5,PT59M59.5S\n",
        )
        .check();
}

#[test]
fn single_durations_are_explained() {
    let bench = Bench::new();
    bench
        .run("explain 1:30 '3 m' '2 days, 3:04:05'")
        .stdout_has(&[
            "{hours}:{minutes}    PT1H30M   1 hour 30 minutes\n",
            "{minutes}:{seconds}  PT1M30S   1 minute 30 seconds\n",
            "{amounts:months}   P3M   3 months\n",
            "{days} days, {hours}:{minutes}:{seconds}  PT51H4M5S  51 hours 4 minutes 5 seconds\n",
        ])
        .check();
}

#[test]
fn a_length_of_time_is_never_cut_off() {
    Bench::with("a.csv", "effort,seen\n25:30:00.25,2024-04-13 10:15:30.5\n30:00:00,2024-04-14 10:15\n")
        .run("convert a.csv --precision second")
        .stdout(
            "effort,effort_typed,seen,seen_typed\n\
             25:30:00.25,PT25H30M0.25S,2024-04-13 10:15:30.5,2024-04-13T10:15:30\n\
             30:00:00,PT30H,2024-04-14 10:15,2024-04-14T10:15:00\n",
        )
        .stderr(
            "standard output   2 rows\n\
             \x20 effort  → effort_typed  duration  2 read\n\
             \x20 seen    → seen_typed    datetime  2 read; 1 value cut off to what was asked for\n",
        )
        .check();
}

#[test]
fn rows_are_written_in_time() {
    let table = "station,seen,n\nSkarholm,14/03/2024,5\nDar Wadi,03/04/2024,2\nSkarholm,,1\n\
                 Dar Wadi,28/02/2024,7\nSkarholm,01/01/2024,3\nDar Wadi,29/02/2024,9";
    let bench = Bench::with("a.csv", table);
    bench
        .run("convert a.csv --sort-by seen -o b.csv")
        .stderr_has(&["a.csv", "sorted by seen\n"].map(|text| text.trim_start_matches("a.csv")))
        .check();
    assert_eq!(
        bench.read("b.csv"),
        "station,seen,seen_typed,n\nSkarholm,01/01/2024,2024-01-01,3\nDar Wadi,28/02/2024,2024-02-28,7\n\
         Dar Wadi,29/02/2024,2024-02-29,9\nSkarholm,14/03/2024,2024-03-14,5\n\
         Dar Wadi,03/04/2024,2024-04-03,2\nSkarholm,,,1"
    );
    bench
        .run("convert a.csv --make 'm = seen | month' --sort-by station,m --where 'm < 4' --quiet")
        .stdout(
            "station,seen,seen_typed,n,m\nDar Wadi,28/02/2024,2024-02-28,7,2\n\
             Dar Wadi,29/02/2024,2024-02-29,9,2\nSkarholm,01/01/2024,2024-01-01,3,1\n\
             Skarholm,14/03/2024,2024-03-14,5,3",
        )
        .check();
    bench.write(
        "a.json",
        "[{\"a\":\"14/03/2024\"},\n {\"a\":\"13/02/2024\"} ,{\"a\":\"15/02/2024\"}]\n",
    );
    let json = bench.run("convert a.json --sort-by a --quiet").output();
    assert_eq!(
        json,
        "[{\"a\":\"13/02/2024\",\"a_typed\":\"2024-02-13\"},\n \
         {\"a\":\"15/02/2024\",\"a_typed\":\"2024-02-15\"} ,{\"a\":\"14/03/2024\",\"a_typed\":\"2024-03-14\"}]\n"
    );
    bench
        .run("convert a.csv --sort-by sean")
        .status(2)
        .stderr("metachron: --sort-by \"sean\": a.csv has no such column; did you mean \"seen\"?\n")
        .check();
}

#[test]
fn a_table_without_dates_gets_regular_ones() {
    let bench = Bench::with(
        "a.csv",
        "station,rings\nSkarholm,5\nDar Wadi,2\nSkarholm,1\nDar Wadi,7\nSkarholm,3\n",
    );
    bench
        .run("convert a.csv --series 'month = 2024-11 / 1 month' --make 'first = day | weekday' --series 'day = 2024-01-31 / 1 month' -o b.csv")
        .stderr(
            "b.csv   5 rows\n\
             \x20 → month  month   5 made\n\
             \x20 → day    date    5 made\n\
             \x20 → first  number  5 made\n",
        )
        .check();
    assert_eq!(
        bench.read("b.csv"),
        "station,rings,month,day,first\nSkarholm,5,2024-11,2024-01-31,3\nDar Wadi,2,2024-12,2024-02-29,4\n\
         Skarholm,1,2025-01,2024-03-31,7\nDar Wadi,7,2025-02,2024-04-30,2\nSkarholm,3,2025-03,2024-05-31,5\n"
    );
    bench
        .run("convert a.csv --series 'at = 2024-03-05T10:00 / 90 minutes' --by station --make 'hours = at | since first-row | as hours' -o b.csv")
        .stderr(
            "b.csv   5 rows\n\
             \x20 → at     datetime  5 made, beginning anew in each of 2 groups\n\
             \x20 → hours  number    5 made\n",
        )
        .check();
    assert!(
        bench
            .read("b.csv")
            .ends_with("Dar Wadi,7,2024-03-05T11:30:00,1.5\nSkarholm,3,2024-03-05T13:00:00,3\n")
    );
    for (options, says) in [
        ("--series 'day = 2024-01-01 / 1 hour'", "a date has no clock"),
        ("--series 'rings = 2024-01-01 / 1 day'", "there is a column of that name"),
        ("--series day", "has no ="),
        ("--by station", "--by says of which rows"),
        ("--series 'd = 2024 / 1 year' --by sation", "did you mean \"station\"?"),
    ] {
        bench.run(&format!("convert a.csv {options}")).status(2).stderr_has(&[says]).check();
    }
}

#[test]
fn numbers_that_may_be_others_are_asked_about() {
    let bench = Bench::with("a.csv", "n,effort\n1,1.500 min\n2,\"2,5 min\"\n3,3 min\n");
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&[
            "1 value has a point that may stand between thousands (first in row 1: \"1.500 min\"); 1 value",
            "metachron convert a.csv --set 'effort: written_in=de' -o a.out.csv",
            "metachron convert a.csv --set 'effort: written_in=en' -o a.out.csv",
        ])
        .check();
    for (language, minutes) in [("de", "PT25H"), ("en", "PT1M30S")] {
        let table = bench.run(&format!("convert a.csv --written-in {language} --quiet")).output();
        let (first, second) = (format!("1,1.500 min,{minutes}\n"), "2,\"2,5 min\",PT2M30S\n");
        assert!(table.contains(&first) && table.contains(second), "{table}");
    }
    // Decimal points are shown by numbers that have other digits behind them.
    bench.write("b.csv", "n,effort\n1,1.500 s\n2,0.750 s\n3,3 s\n");
    bench
        .run("convert b.csv --quiet")
        .stdout("n,effort,effort_typed\n1,1.500 s,PT1.5S\n2,0.750 s,PT0.75S\n3,3 s,PT3S\n")
        .check();
    // Fractions of hours that never exceed .59 may be minutes.
    let clock = "n,shift\n1,7.45 h\n2,8 h\n3,8.15 h\n4,7.30 h\n";
    bench.write("c.csv", clock);
    bench
        .run("convert c.csv")
        .status(3)
        .stderr_has(&["Hours have 3 different fractions, none above .59: they may be minutes."])
        .check();
    for (layouts, first) in [
        ("[\"{hours}.{minutes} h\", \"{hours} h\"]", "1,7.45 h,PT7H45M\n"),
        ("\"{amounts}\"", "1,7.45 h,PT7H27M\n"),
    ] {
        let way = format!("--set 'shift: layouts={layouts}'");
        bench.run("convert c.csv").status(3).stderr_has(&[&way]).check();
        let table = bench.run(&format!("convert c.csv {way} --quiet")).output();
        assert!(table.contains(first) && table.contains("2,8 h,PT8H\n"), "{layouts}: {table}");
    }
    bench.write("d.csv", clock.replace("8.15", "8.75"));
    bench.run("convert d.csv --quiet").stdout_has(&["3,8.75 h,PT8H45M\n"]).check();
    // Measures of anything are no lengths of time.
    bench.write("e.csv", "n,wing\n1,183 mm\n2,190 mm\n");
    bench
        .run("survey e.csv")
        .stdout_has(&[
            "wing    -     not-a-date",
            "2 values are lengths of time only in languages such as Spanish, where their unit is months",
        ])
        .check();
}

/// `1980s` is a decade to most people.
#[test]
fn decades_are_no_seconds() {
    let bench = Bench::with("a.csv", "seen\n1980s\n1990s\n1950s\n");
    let told = "3 values of four digits with an \"s\", tens all of them, may be decades as well as seconds.";
    bench.run("convert a.csv -o b.csv").status(3).stderr_has(&[told]).check();
    bench.run("convert a.csv --column seen --kind duration -o b.csv").output();
    assert!(bench.read("b.csv").contains("1980s,PT33M\n"));
    let bench = Bench::with("a.csv", "effort\n1980s\n1995s\n1951s\n");
    bench.run("convert a.csv -o b.csv").output();
}

/// Durations as hands write them: halves, fractions, numbers in words, marks.
#[test]
fn durations_by_hand() {
    let told = [
        ("half an hour", "PT30M"),
        ("two hours", "PT2H"),
        ("1½ h", "PT1H30M"),
        ("75'", "PT1H15M"),
        ("1h30", "PT1H30M"),
        ("¾ hour", "PT45M"),
        ("1 1/2 hours", "PT1H30M"),
        ("an hour and a half", "PT1H30M"),
        ("Twelve minutes", "PT12M"),
        ("two and a half days", "PT60H"),
        ("1h 30'", "PT1H30M"),
        ("en halv time", "PT30M"),
        ("to timer og 5 min", "PT2H5M"),
        ("halvannen time", "PT1H30M"),
        ("uma hora e meia", "PT1H30M"),
        ("doze minutos", "PT12M"),
        ("une demi-heure", "PT30M"),
        ("deux heures", "PT2H"),
        ("media hora", "PT30M"),
        ("dos horas y media", "PT2H30M"),
        ("eine halbe Stunde", "PT30M"),
        ("anderthalb Tage", "PT36H"),
        ("2時間半", "PT2H30M"),
        ("十二分", "PT12M"),
        // What is no number in the unit's language, and what has no unit, is none.
        ("fire hours", ""),
        ("half of them", ""),
        ("thirteen hours", ""),
        ("two", ""),
    ];
    let rows = || told.iter().map(|(value, _)| (*value).to_owned());
    let bench = Bench::with("a.csv", table("effort", rows()));
    let typed = told.iter().map(|(value, typed)| format!("{value},{typed}\n"));
    bench
        .run("convert a.csv --quiet --tolerate 4")
        .stdout(format!("effort,effort_typed\n{}", typed.collect::<String>()))
        .check();
    // Marks are feet and inches as well, unless the name speaks of lengths of time or other units stand beside.
    let quoted = |at: u32| format!("\"{}'{}\"\"\"", at % 3 + 4, at % 12);
    bench.write("b.csv", table("height", (0..40).map(quoted)));
    bench
        .run("survey b.csv")
        .stdout_has(&[
            "height  duration  leaning",
            "40 values have ' or \" for a unit: minutes and seconds of time, or feet and inches.",
            "If they are lengths of time:",
            "If it is no length of time, or to leave it as it is for now:",
        ])
        .check();
    bench
        .run("convert b.csv --set 'height: kind=duration' --quiet")
        .stdout_has(&["\"4'0\"\"\",PT4M\n\"5'1\"\"\",PT5M1S\n"])
        .check();
    bench.write("c.csv", table("duration", (0..40).map(quoted)));
    bench.run("survey c.csv").stdout_has(&["duration  duration  decided"]).check();
    // Dates with apostrophes are none.
    bench.write("d.csv", table("seen", (1..40).map(|at| format!("{}'5'2024", at % 28 + 1))));
    bench.run("survey d.csv").stdout_has(&["seen    date  decided"]).check();
}

/// Numbers alone in a delivery whose lengths of time had units: the readings file can be told what they count.
#[test]
fn a_delivery_without_units_is_told_apart() {
    let bench = Bench::with("a.csv", table("len", (1..60).map(|at| format!("{at} min"))));
    bench
        .run("survey a.csv --save a.toml")
        .stdout_has(&["len     duration  decided"])
        .stderr_has(&["decisions saved in a.toml"])
        .check();
    bench.write("b.csv", table("len", (1..60).map(|at| at.to_string())));
    let told = bench
        .run("check b.csv --readings a.toml")
        .status(4)
        .stdout_has(&[
            "59 values are unreadable (59 no-unit",
            "If numbers alone are hours, to tell a.toml so:",
        ])
        .check();
    let line = told.lines().skip_while(|line| !line.contains("numbers alone are minutes")).nth(1);
    bench.run(line.unwrap().trim().strip_prefix("metachron ").unwrap()).output();
    bench
        .run("convert b.csv --readings a.toml --quiet")
        .stdout_has(&["len,len_typed\n1,PT1M\n2,PT2M\n"])
        .check();
    bench.run("convert a.csv --readings a.toml --quiet").stdout_has(&["\n59 min,PT59M\n"]).check();
    // A unit beside layouts says nothing, whoever has said them.
    bench
        .run("convert b.csv --readings a.toml --set 'len: unit=hours'")
        .status(2)
        .stderr(
            "metachron: --unit has no effect on \"len\": the layouts say what its numbers are\n",
        )
        .check();
}

/// Hours and minutes of which many lie soon behind midnight, and none at noon or later, may be lengths of time.
#[test]
fn short_lengths_of_time_look_like_nights() {
    let minutes = |at: u32| 12 + at * 37 % 500;
    let row = |at: u32| format!("{}:{:02}", minutes(at) / 60, minutes(at) % 60);
    let bench = Bench::with("a.csv", table("watched", (0..60).map(row)));
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&[
            "60 values lie before noon, some of them soon after midnight: measured, or read off a clock;\n",
            "--set 'watched: kind=time'",
            "--set 'watched: kind=duration'",
        ])
        .check();
    // A night has its evening, a morning does not begin at midnight, and one night goes on to its end.
    for (first, hours) in [(20, 9), (4, 6)] {
        let minutes = |at: u32| (first * 60 + at * 37 % (hours * 60)) % 1_440;
        let row = |at: u32| format!("{}:{:02}", minutes(at) / 60, minutes(at) % 60);
        bench.write("a.csv", table("watched", (0..60).map(row)));
        bench.run("survey a.csv").stdout_has(&["watched  time  decided"]).check();
    }
    bench.write(
        "a.csv",
        table("logged", (0..60).map(|at| format!("{}:{:02}", at / 6, at % 6 * 10))),
    );
    bench.run("survey a.csv").stdout_has(&["logged  time  decided"]).check();
}

/// What `--unit` cannot answer, it is not asked for.
#[test]
fn a_last_number_without_its_unit_is_not_asked_about() {
    let bench = Bench::with("a.csv", "len;n\n1 hour, 5;1\n2 hours, 7;2\n40 min;3\n50 min;4\n");
    bench
        .run("convert a.csv --quiet --rejects r.csv --tolerate 2")
        .stdout("len;len_typed;n\n1 hour, 5;;1\n2 hours, 7;;2\n40 min;PT40M;3\n50 min;PT50M;4\n")
        .check();
    assert!(bench.read("r.csv").contains("no-unit,a number of it has no unit,write the unit,"));
    bench
        .run("convert a.csv --column len --unit minutes")
        .status(2)
        .stderr("metachron: --unit has no effect on \"len\": it holds no numbers alone\n")
        .check();
}

/// One day and several are written with other words, and each row is read whichever came first.
#[test]
fn days_before_a_clock_are_read_in_any_order() {
    let rows = ["1 day, 3:04:05", "2 days, 3:04:05", "3 days, 13:04:05"];
    for [a, b, c] in [[0, 1, 2], [1, 0, 2], [2, 1, 0]] {
        let [a, b, c] = [a, b, c].map(|at| format!("\"{}\"\n", rows[at]));
        let bench = Bench::with("a.csv", format!("held\n{a}{b}{c}"));
        let table = bench.run("convert a.csv --quiet").output();
        for read in ["PT27H4M5S", "PT51H4M5S", "PT85H4M5S"] {
            assert!(table.contains(read), "{table}");
        }
    }
}
