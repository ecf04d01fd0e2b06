//! Numbers that count from an origin.

use rust_xlsxwriter::Workbook;

use crate::harness::{Bench, table};

/// A column of serials with an empty cell, a zero, a day that never was, and a word.
const SERIALS: &str = "ring,opened,weight\nLF1,45210,45123\nLF2,45211.8125,45200\nLF3,0,45111\n\
                       LF4,,45112\nLF5,60,45113\nLF6,soon,45114\n";

#[test]
fn serials_are_read_by_the_epoch_that_is_said() {
    let bench = Bench::with("a.csv", SERIALS);
    bench
        .run("convert a.csv --column opened --epoch sheet-1900 --rejects r.csv")
        .status(4)
        .stdout(
            "ring,opened,opened_typed,weight\n\
             LF1,45210,2023-10-11T00:00:00,45123\n\
             LF2,45211.8125,2023-10-12T19:30:00,45200\n\
             LF3,0,,45111\nLF4,,,45112\nLF5,60,,45113\nLF6,soon,,45114\n",
        )
        .stderr(
            "standard output   6 rows\n\
             \x20 opened  → opened_typed  datetime  2 read, 1 missing, 1 placeholder, 2 unreadable \
             → r.csv\n\
             metachron: 2 rows have an unreadable or contested cell (first row 5); r.csv lists \
             them, --tolerate 2 lets them stay\n",
        )
        .check();
    let rejects = bench.read("r.csv");
    assert!(rejects.contains("60 is 29 February 1900 in spreadsheets, a day that never was"));
    // The decision can be kept.
    bench
        .run("survey a.csv --column opened --epoch sheet-1900 --save a.toml")
        .stdout_has(&[
            "2 numbers are counted by sheet-1900, because you say so. 1 number is no date",
        ])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.csv --readings a.toml -o a.out.csv\n",
        )
        .check();
    assert!(bench.read("a.toml").contains("epoch = \"sheet-1900\""));
    bench
        .run("convert a.csv --readings a.toml -o b.csv")
        .status(4)
        .stderr(
            "b.csv   6 rows\n\
             \x20 opened  → opened_typed  datetime  2 read, 1 missing, 1 placeholder, 2 \
             unreadable\n\
             metachron: 2 rows have an unreadable or contested cell (first row 5); --rejects FILE \
             lists them, --tolerate 2 lets them stay\n",
        )
        .check();
    // Any other origin is spelled out; what it cannot count says what it can.
    bench
        .run("convert a.csv --column opened --epoch 1582-10-14/seconds -o c.csv")
        .status(4)
        .stderr(
            "c.csv   6 rows\n\
             \x20 opened  → opened_typed  datetime  3 read, 1 missing, 1 placeholder, 1 \
             unreadable; 3 dates before 15 October\n\
             \x20                                   1582, counted as if the Gregorian calendar had \
             begun before (--calendar\n\
             \x20                                   julian or --reform DATE reads Julian ones)\n\
             metachron: 1 row has an unreadable or contested cell (row 6); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    bench.write("far.csv", "n\n45210\n99999999\n1e999\nNaN\n");
    bench
        .run("convert far.csv --column n --epoch sheet-1900 --rejects r.csv -o d.csv --tolerate 3")
        .stderr(
            "d.csv   4 rows\n\
             \x20 n  → n_typed  date  1 read, 1 missing, 2 unreadable → r.csv\n",
        )
        .check();
    assert!(bench.read("r.csv").contains("outside what sheet-1900 can count, 1 to 2958465"));
}

#[test]
fn an_epoch_that_does_not_exist_is_refused_with_the_nearest() {
    let bench = Bench::with("a.csv", SERIALS);
    for (epoch, expected) in [
        ("sheet-1990", "did you mean sheet-1900?"),
        ("1582-10-14/fortnights", "no INSTANT/UNIT such as 1582-10-14/seconds"),
        ("yesterday/days", "no INSTANT/UNIT"),
    ] {
        bench
            .run(&format!("convert a.csv --column opened --epoch {epoch}"))
            .status(2)
            .stderr_has(&[expected])
            .check();
    }
    // Today's number is another one tomorrow.
    bench.run("list epochs --like julian").stdout_has(&["modified-julian-day  1858-11-17"]).check();
    bench
        .run("list epochs --like moon")
        .status(1)
        .stderr("metachron: nothing has \"moon\" in its name\n")
        .check();
    bench
        .run("list epochs --json --like sheet-1904")
        .stdout_has(&["\"zero\": \"1904-01-01\"", "\"kind\": \"date\""])
        .check();
}

#[test]
fn numbers_are_a_question_where_a_name_speaks_of_dates_and_stay_alone_elsewhere() {
    let rows: String =
        (0..40).map(|n| format!("{},{}\n", 45_000 + n * 17, 44_000 + n * 31)).collect();
    let bench = Bench::with("a.csv", format!("opened,amount\n{rows}"));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "opened  date  undecided",
            "sheet-1900           2023-03-15 to 2025-01-06",
            "modified-julian-day  1982-01-31 to 1983-11-25",
            "metachron convert a.csv --set 'opened: epoch=sheet-1904' -o a.out.csv",
            "amount  -     not-a-date",
        ])
        .check();
    // One pair settles it.
    bench
        .run("convert a.csv --column opened --known 45000=2023-03-15 -o out.csv")
        .stderr(
            "out.csv   40 rows\n\
             \x20 opened  → opened_typed  date  40 read\n",
        )
        .check();
    bench
        .run("convert a.csv --column opened --known 45000=2023-03-16 -o out.csv")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 opened     No value is written in a form that dates have.\n\
             \x20            If it does hold dates, say how they are written by --set; how a value can be read is shown by:\n\
             \x20              metachron explain 45000\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert a.csv --column opened --set 'opened: convert=false' -o out.csv\n",
        )
        .check();
}

#[test]
fn a_column_that_an_import_half_converted_is_read_as_a_whole() {
    let bench = Bench::with("a.csv", "seen\n13/04/2024\n45210\n14/04/2024\n45211\n15/04/2024\n");
    bench
        .run("survey a.csv")
        .stdout_has(&["2 numbers are not written as a date", "--epoch sheet-1900 reads"])
        .check();
    bench
        .run("convert a.csv --epoch sheet-1900")
        .stdout("seen,seen_typed\n13/04/2024,2024-04-13\n45210,2023-10-11\n14/04/2024,2024-04-14\n45211,2023-10-12\n15/04/2024,2024-04-15\n")
        .stderr(
            "standard output   5 rows\n\
             \x20 seen  → seen_typed  date  5 read\n",
        )
        .check();
}

#[test]
fn a_fraction_alone_is_a_time_of_day() {
    let bench = Bench::with("a.csv", "t\n0.25\n0\n0.8125\n1.5\n");
    bench
        .run("convert a.csv --column t --epoch sheet-1900 --kind time")
        .status(4)
        .stdout("t,t_typed\n0.25,06:00:00\n0,00:00:00\n0.8125,19:30:00\n1.5,\n")
        .stderr(
            "standard output   4 rows\n\
             \x20 t  → t_typed  time  3 read, 1 unreadable\n\
             metachron: 1 row has an unreadable or contested cell (row 4); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
}

#[test]
fn a_workbook_has_an_origin_of_its_own() {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write(0, 0, "net").unwrap();
    sheet.write(0, 1, "opened").unwrap();
    for row in 1..30_u32 {
        sheet.write(row, 0, row % 5).unwrap();
        // Plain numbers, as where the cells have lost their format.
        sheet.write(row, 1, f64::from(45_000 + row * 7)).unwrap();
    }
    let bench = Bench::with("a.xlsx", book.save_to_buffer().unwrap());
    let shown = bench
        .run("survey a.xlsx")
        .stdout_has(&["sheet-1900", "leaning", "counted from the workbook's own origin"])
        .check();
    assert!(!shown.contains("sheet-1904"), "{shown}");
    bench
        .run("convert a.xlsx --column opened --epoch sheet-1900 -o a.csv")
        .stderr(
            "a.csv   29 rows\n\
             \x20 opened  → opened_typed  date  29 read\n",
        )
        .check();
    assert!(bench.read("a.csv").contains("45007,2023-03-22"), "{}", bench.read("a.csv"));
}

#[test]
fn days_of_long_ago_are_counted_and_read_by_the_calendar_of_their_time() {
    let bench = Bench::with(
        "a.csv",
        "seen\n4 October 1582\n15 October 1582\n2 September 1752\n14 September 1752\n",
    );
    bench
        .run("convert a.csv --quiet --column seen --layout '{day} {month:name} {year}'")
        .stdout(
            "seen,seen_typed\n\
             4 October 1582,1582-10-04\n\
             15 October 1582,1582-10-15\n\
             2 September 1752,1752-09-02\n\
             14 September 1752,1752-09-14\n",
        )
        .check();
    bench
        .run("convert a.csv -o b.csv")
        .stderr(
            "b.csv   4 rows\n\
             \x20 seen  → seen_typed  date  4 read; 1 date before 15 October 1582, counted as if \
             the Gregorian calendar had\n\
             \x20                           begun before (--calendar julian or --reform DATE reads \
             Julian ones)\n",
        )
        .check();
    bench
        .run("convert a.csv --column seen --calendar julian --quiet")
        .stdout(
            "seen,seen_typed\n4 October 1582,1582-10-14\n15 October 1582,1582-10-25\n\
             2 September 1752,1752-09-13\n14 September 1752,1752-09-25\n",
        )
        .check();
    // Rome went over on 15 October 1582, England on 14 September 1752.
    bench
        .run("convert a.csv --column seen --reform 1582-10-15 --quiet")
        .stdout(
            "seen,seen_typed\n4 October 1582,1582-10-14\n15 October 1582,1582-10-15\n\
             2 September 1752,1752-09-02\n14 September 1752,1752-09-14\n",
        )
        .check();
    bench.write(
        "b.csv",
        "seen\n2 September 1752\n3 September 1752\n14 September 1752\n29 February 1700\n",
    );
    bench
        .run("convert b.csv --column seen --reform 1752-09-14 --rejects r.csv -o c.csv")
        .status(4)
        .stderr(
            "c.csv   4 rows\n\
             \x20 seen  → seen_typed  date  3 read, 1 unreadable → r.csv\n\
             metachron: 1 row has an unreadable or contested cell (row 2); r.csv lists it, \
             --tolerate 1 lets it stay\n",
        )
        .check();
    assert_eq!(
        bench.read("c.csv"),
        "seen,seen_typed\n2 September 1752,1752-09-13\n3 September 1752,\n\
         14 September 1752,1752-09-14\n29 February 1700,1700-03-11\n"
    );
    assert!(bench.read("r.csv").contains("the calendar was reformed on 1752-09-14"));
    bench
        .run("convert b.csv --column seen --reform 1500-01-01")
        .status(2)
        .stderr(
            "metachron: --reform \"1500-01-01\" is no day from 1582-10-15 on, such as 1752-09-14 \
             in England\n",
        )
        .check();
    bench
        .run("survey b.csv --column seen --reform 1752-09-14 --save b.toml")
        .stdout_has(&["seen"])
        .stderr(
            "metachron: decisions saved in b.toml; review them, then\n\
             \x20 metachron convert b.csv --readings b.toml -o b.out.csv\n",
        )
        .check();
    assert!(bench.read("b.toml").contains("reform = \"1752-09-14\""));
    // What is asked for is repeated in what is offered.
    bench.write("c.csv", "seen\n03/04/1751\n05/06/1752\n");
    bench
        .run("convert c.csv --column seen --reform 1752-09-14")
        .status(3)
        .stderr_has(&[
            "metachron convert c.csv --column seen --reform 1752-09-14 --set 'seen: order=dmy' -o c.out.csv",
        ])
        .check();
}

#[test]
fn placeholders_are_values_if_that_is_said() {
    let bench =
        Bench::with("a.csv", "seen,n\n9999-12-31,0\n2024-03-01,1\n1900-01-00,60\n2024-03-02,61\n");
    bench
        .run("convert a.csv --set 'n: epoch=sheet-1900' -o b.csv --tolerate 1")
        .stderr(
            "b.csv   4 rows\n\
             \x20 seen  → seen_typed  date  2 read, 2 placeholder\n\
             \x20 n     → n_typed     date  2 read, 1 placeholder, 1 unreadable\n",
        )
        .check();
    bench
        .run("convert a.csv --set 'n: epoch=sheet-1900' --keep-placeholders --quiet --tolerate 1")
        .stdout(
            "seen,seen_typed,n,n_typed\n9999-12-31,9999-12-31,0,1899-12-31\n2024-03-01,2024-03-01,1,1900-01-01\n\
             1900-01-00,,60,\n2024-03-02,2024-03-02,61,1900-03-01\n",
        )
        .check();
}

#[test]
fn explain_shows_what_a_number_may_count() {
    let bench = Bench::new();
    bench
        .run("explain 45210.8125 1700000000 12 --as-of 2026-11-23")
        .stdout_has(&[
            "\"45210.8125\" can be read as\n  --epoch sheet-1900           2023-10-11T19:30:00  Wednesday",
            "--epoch modified-julian-day  1982-08-29T19:30:00",
            "--epoch unix-seconds  2023-11-14T22:13:20Z",
            "Numbers are read as dates only by --epoch, or by one known pair.",
            "\"12\" is not written in a form that dates have",
        ])
        .check();
    // A layout that is given is the only way.
    bench
        .run("explain 20240305 --layout '{year}{month:02}{day:02}' --as-of 2026-11-23")
        .stdout_has(&["can be read in one way"])
        .check();
    let digits = bench.run("explain 20240305 --as-of 2026-11-23").stdout_has(&["{year}"]).check();
    assert!(!digits.contains("--epoch yyyymmdd"), "{digits}");
}

#[test]
fn another_column_of_dates_settles_the_origin() {
    let table = |wrong: u32| {
        let rows = (0..40).map(|row| {
            let serial = if row < wrong { 45_000 } else { 45_352 + row };
            format!("LF{row},2024-{:02}-{:02},{serial}\n", 3 + row / 31, 1 + row % 31)
        });
        format!("ring,captured,opened\n{}", rows.collect::<String>())
    };
    let bench = Bench::with("a.csv", table(1));
    bench
        .run("survey a.csv --column opened --column captured")
        .stdout_has(&[
            "40 numbers are counted by sheet-1900: so they are the day of \"captured\" in 39 of 40 rows",
        ])
        .check();
    bench
        .run("convert a.csv -o b.csv")
        .stderr(
            "b.csv   40 rows\n\
             \x20 captured  → captured_typed  date  40 read\n\
             \x20 opened    → opened_typed    date  40 read\n",
        )
        .check();
    assert!(bench.read("b.csv").contains("2024-03-02,2024-03-02,45353,2024-03-02"));
    // Dates that have nothing to do with it settle nothing.
    bench.write("c.csv", table(20));
    bench.run("convert c.csv").status(3).stderr_has(&["epoch=sheet-1904"]).check();
}

#[test]
fn fractions_say_how_far_they_may_be_off() {
    let bench = Bench::with("a.csv", "opened\n45210.8125\n45211.8127\n45212.25\n");
    assert_eq!(
        bench.run("convert a.csv --epoch sheet-1900 --replace-raw --rejects r.csv").output(),
        "opened\n2023-10-11T19:30:00\n2023-10-12T19:30:17\n2023-10-13T06:00:00\n"
    );
    bench
        .run("convert a.csv --epoch sheet-1900 -o b.csv")
        .stderr(
            "b.csv   3 rows\n\
             \x20 opened  → opened_typed  datetime  3 read; fractions of a day, give or take 4 s \
             by their last digit\n",
        )
        .check();
    bench
        .run("convert a.csv --epoch sheet-1900 --precision minute -o b.csv")
        .stderr(
            "b.csv   3 rows\n\
             \x20 opened  → opened_typed  datetime  3 read; fractions of a day, give or take 4 s \
             by their last digit; 1 value\n\
             \x20                                   cut off to what was asked for\n",
        )
        .check();
    assert!(bench.read("b.csv").contains("45211.8127,2023-10-12T19:30\n"));
    bench.run("convert a.csv --epoch sheet-1900 --precision milliseconds -o b.csv").output();
    assert!(bench.read("b.csv").contains("45211.8127,2023-10-12T19:30:17.000\n"));
}

#[test]
fn a_two_digit_year_beside_its_month_waits_for_its_century() {
    let bench =
        Bench::with("a.csv", "ring,year,month,day\nLF1,44,5,13\nLF2,98,1,31\nLF3,12,12,2\n");
    let derive = "--make 'date = parts year=year month=month day=day'";
    bench
        .run("survey a.csv --as-of 2026-11-01")
        .stdout_has(&[
            "two digits reach 2044, after 2026-11-01; they may belong to the century before.",
            &format!("metachron convert a.csv --as-of 2026-11-01 {derive} --two-digit-from 1969 -o a.out.csv"),
            &format!("metachron convert a.csv --as-of 2026-11-01 {derive} --two-digit-from 1927 -o a.out.csv"),
        ])
        .check();
    bench.run(&format!("convert a.csv {derive} --rejects r.csv -o b.csv")).status(4).output();
    assert!(bench.read("r.csv").contains("the year may be 1944 or 2044; --two-digit-from says"));
    assert!(
        bench
            .read("b.csv")
            .ends_with("LF1,44,5,13,\nLF2,98,1,31,1998-01-31\nLF3,12,12,2,2012-12-02\n")
    );
    let said = format!("convert a.csv {derive} --two-digit-from 1927 -o b.csv");
    bench.run(&said).output();
    assert!(bench.read("b.csv").contains("LF1,44,5,13,1944-05-13\n"));
}

#[test]
fn parts_in_columns_of_their_own_are_recognised() {
    let table = "ring,year,month,day,caught at\nLF1,2024,5,13,10:15\nLF2,2024,Jan,31,11:20\nLF3,23,12,2,09:40\n";
    let bench = Bench::with("a.csv", table);
    let said = bench
        .run("survey a.csv")
        .stdout_has(&[
            "The parts of a date stand in columns of their own: year in \"year\", month in \"month\", day in \"day\",",
            "--make 'date = parts year=year month=month day=day time=\"caught at\"' -o a.out.csv",
        ])
        .check();
    let command = said.lines().find(|line| line.contains("--make")).unwrap().trim();
    bench
        .run(command.strip_prefix("metachron ").unwrap())
        .stderr(
            "a.out.csv   3 rows\n\
             \x20 caught at  → caught at_typed  time      3 read\n\
             \x20            → date             datetime  3 made\n",
        )
        .check();
    assert!(bench.read("a.out.csv").contains("2023-12-02T09:40:00"));
    // Names that say nothing else are enough; numbers of other kinds are no parts where the names are not.
    bench.write("b.csv", "ring,year,month,day\nLF1,2024,5,13\nLF2,2024,13,31\n");
    assert!(bench.run("survey b.csv").output().contains("parts of a date"));
    bench.write("c.csv", "x,y,m\n1,2024,5\n2,3999,6\n");
    assert!(!bench.run("survey c.csv").output().contains("parts of a date"));
}

/// Numbers that lie where years do are years as likely as days from some origin: no origin is offered alone.
#[test]
fn years_are_rivals_of_every_origin() {
    let bench = Bench::with("a.csv", table("date", (1871..1931).map(|year| year.to_string())));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "date    year  undecided",
            "60 numbers may be years; or they count days from some origin.",
            "If they are years:\n",
            "If they count days from 1960-01-01:\n",
        ])
        .check();
    bench
        .run("convert a.csv --set 'date: layouts=\"{year}\"' --quiet")
        .stdout_has(&["date,date_typed\n1871,1871\n"])
        .check();
    // Whole numbers that run on are named; nothing is asked where no name speaks of dates.
    bench.write("b.csv", table("spring", (1871..1931).map(|year| year.to_string())));
    bench
        .run("survey b.csv")
        .stdout_has(&[
            "spring  -     not-a-date",
            "60 whole numbers from 1871 to 1930 may be years, and are left as they are; the layout '{year}'",
        ])
        .check();
    bench
        .run("convert b.csv --layout '{year}' --quiet")
        .stdout_has(&["spring,spring_typed\n1871,1871\n"])
        .check();
    let row = |at: u32| {
        format!("{},{at}", if at % 7 == 3 { String::new() } else { format!("{}.0", 1871 + at) })
    };
    bench.write("b.csv", table("spring,ringed", (0..60).map(row)));
    bench.run("survey b.csv").stdout_has(&["the layout '{year}[.0]'"]).check();
    bench
        .run("convert b.csv --column spring --layout '{year}[.0]' --quiet")
        .stdout_has(&["spring,spring_typed,ringed\n1871.0,1871,0\n"])
        .check();
    // Fractions that name no part of a year are left as they are.
    let odd = |at: u32| format!("{}.{:03}", 1960 + at / 4, at * 37 % 1_000);
    bench.write("c.csv", table("date", (0..96).map(odd)));
    bench
        .run("convert c.csv")
        .status(3)
        .stderr_has(&[
            "96 numbers may be years with a fraction that names no part of one",
            "--set 'date: convert=false'",
        ])
        .check();
}

/// Years whose fractions are quarters, months, weeks or days are typed as these, and written back as they were.
#[test]
fn years_with_a_fraction_name_a_part_of_them() {
    let bench = Bench::new();
    let quarter = |at: u32| (f64::from(at) / 4.0, format!("{}-Q{}", 1960 + at / 4, at % 4 + 1));
    let month = |at: u32| (f64::from(at) / 12.0, format!("{}-{:02}", 1960 + at / 12, at % 12 + 1));
    let middle = |at: u32| ((f64::from(at) + 0.5) / 12.0, month(at).1);
    let week = |at: u32| (f64::from(at) / 52.0, format!("{}-W{:02}", 1960 + at / 52, at % 52 + 1));
    let day = |at: u32| {
        let date = jiff::civil::date(1960, 1, 1).saturating_add(jiff::Span::new().days(at));
        (f64::from(at) / 366.0, date.to_string())
    };
    // How many years behind the first a part begins, and what it is called.
    type Part<'p> = &'p dyn Fn(u32) -> (f64, String);
    let cases: [(&str, Part<'_>); 5] = [
        ("quarter", &quarter),
        ("month", &month),
        ("month", &middle),
        ("week", &week),
        ("day", &day),
    ];
    for (part, of) in cases {
        let written: Vec<(String, String)> = (0..120)
            .map(of)
            .map(|(years, typed)| {
                let text = format!("{:.4}", 1960.0 + years);
                (text.trim_end_matches('0').trim_end_matches('.').to_owned(), typed)
            })
            .collect();
        // Also where no name speaks of dates: other numbers hardly run on so.
        for name in ["time", "level"] {
            bench.write("a.csv", table(name, written.iter().map(|(value, _)| value.clone())));
            bench
                .run("survey a.csv")
                .stdout_has(&[
                    "leaning",
                    &format!("120 numbers may be years with the fractions of {part}s"),
                    &format!("If each is a {part} of a year"),
                    "If they count days from 1960-01-01",
                    &format!("--set '{name}: convert=false'"),
                ])
                .check();
        }
        let typed = written.iter().map(|(value, typed)| format!("{value},{typed}\n"));
        bench
            .run(&format!(
                "convert a.csv --set 'level: layouts=\"{{decimalyear:{part}}}\"' --quiet"
            ))
            .stdout(format!("level,level_typed\n{}", typed.collect::<String>()))
            .check();
        // Begins are written back as they were, middles as begins.
        let back = bench
            .run(&format!(
                "convert a.csv --set 'level: layouts=\"{{decimalyear:{part}}}\"' --quiet --make 'back = level | show \
                 \"{{decimalyear:{part}}}\"'"
            ))
            .output();
        let same = back.lines().skip(1).all(|line| {
            let cells: Vec<&str> = line.split(',').collect();
            cells[0] == cells[2]
        });
        let begins = written[0].0 == "1960";
        assert_eq!(same, begins, "{back}");
    }
    // Measures that are anything do not look so.
    bench.write(
        "b.csv",
        table("height", (0..120).map(|at| format!("{}.{:03}", 1500 + at * 5, at * 37 % 1000))),
    );
    bench.run("survey b.csv").stdout_has(&["height  -     not-a-date"]).check();
    // Prices by quarters do not run on.
    bench.write(
        "c.csv",
        table(
            "price",
            (0..120_u32).map(|at| {
                format!("{}.{}", 1500 + at * 7919 % 600, ["25", "5", "75"][at as usize % 3])
            }),
        ),
    );
    bench.run("survey c.csv").stdout_has(&["price   -     not-a-date"]).check();
    // What names no part of a year is left empty, with the reason.
    bench.write("d.csv", table("time", ["1960.25", "1960.3", "1960.3333"].map(str::to_owned)));
    bench
        .run("convert d.csv --layout '{decimalyear:month}' --quiet --rejects r.csv --tolerate 1")
        .stdout("time,time_typed\n1960.25,1960-04\n1960.3,\n1960.3333,1960-05\n")
        .check();
    let said = bench.read("r.csv");
    assert!(
        said.contains("its fraction is neither the begin nor the middle of a month of that year"),
        "{said}"
    );
}

/// Hours and minutes in one number are times of day, also beside the parts of a date.
#[test]
fn clock_times_are_numbers() {
    let bench = Bench::new();
    let clock = |at: u32| (at * 7 % 24, at * 13 % 60);
    let row = |at: u32| {
        let (hour, minute) = clock(at);
        format!("2024,{},{},{},LF{at}", at % 12 + 1, at % 28 + 1, hour * 100 + minute)
    };
    bench.write("a.csv", table("year,month,day,net_opened,ring", (0..90).map(row)));
    let survey = bench.run("survey a.csv").output();
    for line in [
        "net_opened  time  leaning",
        "90 numbers may be hours and minutes (517 is 05:17), as the last two digits of all are below 60",
        "If they are hours and minutes of a clock:",
        "If it is no time, or to leave it as it is for now:",
    ] {
        assert!(survey.contains(line), "{line}\n{survey}");
    }
    let all = survey.lines().find(|line| line.contains("--make")).unwrap().trim();
    assert_eq!(
        all,
        "metachron convert a.csv --set 'net_opened: layouts=\"{hourminute}\"' --make 'date = parts year=year month=month \
         day=day time=net_opened' -o a.out.csv"
    );
    bench.run(all.strip_prefix("metachron ").unwrap()).output();
    let expected = (0..90).map(|at| {
        let (hour, minute) = clock(at);
        let (row, ring) = (row(at), format!("LF{at}"));
        let cells = row.strip_suffix(&format!(",{ring}")).unwrap();
        let date = format!("2024-{:02}-{:02}", at % 12 + 1, at % 28 + 1);
        format!("{cells},{hour:02}:{minute:02}:00,{ring},{date}T{hour:02}:{minute:02}:00\n")
    });
    let header = "year,month,day,net_opened,net_opened_typed,ring,date\n";
    assert_eq!(bench.read("a.out.csv"), format!("{header}{}", expected.collect::<String>()));
    // Such numbers are a time of day for `parts`, too, where the column is left as it is.
    bench
        .run(
            "convert a.csv --set 'net_opened: convert=false' --make 'at = parts year=year month=month day=day \
             time=net_opened' --quiet",
        )
        .stdout_has(&["2024,1,1,0,LF0,2024-01-01T00:00:00\n2024,2,2,713,LF1,2024-02-02T07:13:00\n"])
        .check();
    // Whole numbers with a fraction of nothing, as programs write columns in which some are missing.
    let row = |at: u32| {
        if at % 9 == 4 { String::new() } else { format!("{}.0", clock(at).0 * 100 + clock(at).1) }
    };
    bench.write("c.csv", table("net_opened,ring", (0..90).map(|at| format!("{},LF{at}", row(at)))));
    bench
        .run("survey c.csv")
        .stdout_has(&["--set 'net_opened: layouts=\"{hourminute}[.0]\"'"])
        .check();
    // Years, round numbers and any others are none.
    for (name, of) in [
        ("built", (|at| 1900 + at % 60) as fn(u32) -> u32),
        ("places", |at| at % 24 * 100),
        // On nine floors with forty rooms each.
        ("room", |at| (at * 7 % 9 + 1) * 100 + at * 11 % 40 + 1),
        ("counted", |at| at * 23 % 2_400),
    ] {
        bench.write("b.csv", table(name, (0..90).map(|at| of(at).to_string())));
        let survey = bench.run("survey b.csv").output();
        assert!(!survey.contains("hours and minutes"), "{survey}");
    }
}

/// Hours, minutes and seconds in columns of their own belong to the parts of a date.
#[test]
fn parts_with_hours_and_minutes() {
    let bench = Bench::with(
        "a.csv",
        "year,month,day,hour,minute,second\n2024,5,13,6,5,9\n2024,5,14,24,0,0\n2024,5,15,7,60,0\n2024,5,16,8,,0\n",
    );
    let make =
        "--make 'at = parts year=year month=month day=day hour=hour minute=minute second=second'";
    bench.run("survey a.csv").stdout_has(&["hour=hour minute=minute second=second"]).check();
    bench
        .run(&format!("convert a.csv {make} --quiet --rejects r.csv --tolerate 2"))
        .stdout(
            "year,month,day,hour,minute,second,at\n2024,5,13,6,5,9,2024-05-13T06:05:09\n\
             2024,5,14,24,0,0,2024-05-15T00:00:00\n2024,5,15,7,60,0,\n2024,5,16,8,,0,\n",
        )
        .check();
    assert!(bench.read("r.csv").contains("minute"), "{}", bench.read("r.csv"));
    for (roles, says) in [
        ("year=year month=month day=day minute=minute", "a minute needs its hour: hour=…"),
        (
            "year=year month=month day=day hour=hour second=second",
            "a second needs its minute: minute=…",
        ),
        ("year=year month=month hour=hour", "a time belongs to a day: day=…"),
    ] {
        bench
            .run(&format!("convert a.csv --make 'at = parts {roles}'"))
            .status(2)
            .stderr_has(&[says])
            .check();
    }
}

/// Parts of a date are found by the words of many languages, whatever their order, and beside some typing errors.
#[test]
fn parts_are_named_in_many_languages() {
    let (bench, mut missing) = (Bench::new(), Vec::new());
    for (year, month, day) in [
        ("year", "month", "day"),
        ("Jahr", "Monat", "Tag"),
        ("année", "mois", "jour"),
        ("año", "mes", "día"),
        ("ano", "mês", "dia"),
        ("anno", "mese", "giorno"),
        ("jaar", "maand", "dag"),
        ("år", "måned", "dag"),
        ("år", "månad", "dag"),
        ("vuosi", "kuukausi", "päivä"),
        ("rok", "miesiąc", "dzień"),
        ("rok", "měsíc", "den"),
        ("rok", "mesiac", "deň"),
        ("év", "hónap", "nap"),
        ("yıl", "ay", "gün"),
        ("год", "месяц", "день"),
        ("рік", "місяць", "день"),
        ("an", "lună", "zi"),
        ("έτος", "μήνας", "ημέρα"),
        ("година", "месец", "ден"),
        ("godina", "mjesec", "dan"),
        ("aasta", "kuu", "päev"),
        ("metai", "mėnuo", "diena"),
        ("gads", "mēnesis", "diena"),
        ("tahun", "bulan", "hari"),
        ("ár", "mánuður", "dagur"),
        ("年", "月", "日"),
        ("년", "월", "일"),
    ] {
        let row = |at: u32| {
            let month = if at == 7 { "x".to_owned() } else { (at % 12 + 1).to_string() };
            format!("{},{month},LF{at},2024", at % 28 + 1)
        };
        bench.write("a.csv", table(&format!("{day},{month},ring,{year}"), (0..60).map(row)));
        let survey = bench.run("survey a.csv").output();
        missing.extend(
            (!survey.contains(&format!("parts year={year} month={month} day={day}")))
                .then_some((year, month, day)),
        );
    }
    assert_eq!(missing, [], "languages in which parts are not found");
}

/// Numbers that nothing speaks of are moments since 1970 where another column holds these, by whatever clock.
#[test]
fn moments_of_another_column_are_named() {
    let bench = Bench::new();
    let second = |at: i64| 1_704_240_000 + at * 86_421 + at * at % 7_919;
    let local = |at: i64, form: &str| {
        let moment = jiff::Timestamp::from_second(second(at)).unwrap();
        moment.in_tz("Europe/Oslo").unwrap().strftime(form).to_string()
    };
    for (form, what) in [
        ("%Y-%m-%dT%H:%M:%S%:z", "moment"),
        ("%Y-%m-%d %H:%M:%S", "moment"),
        ("%Y-%m-%d %H:%M", "moment"),
    ] {
        let row = |at: i64| format!("{},{}{:03}", local(at, form), second(at), at * 37 % 1_000);
        bench.write("a.csv", table("seen,rec", (0..60).map(row)));
        let says = format!(
            "60 numbers are counted by unix-milliseconds: so they are the {what} of \"seen\" in 60 of 60 rows"
        );
        bench.run("survey a.csv").stdout_has(&[&says]).check();
        bench.run("survey a.csv --save a.toml").output();
        let converted = bench.run("convert a.csv --quiet").output();
        let first = jiff::Timestamp::from_second(second(0)).unwrap();
        let line = converted.lines().nth(1).unwrap();
        assert!(line.ends_with(&first.strftime("%Y-%m-%dT%H:%M:%S.000Z").to_string()), "{line}");
        bench.run("convert a.csv --readings a.toml --quiet").stdout(converted).check();
    }
    // The same numbers in other rows are numbers.
    let row = |at: i64| format!("{},{}000", local(at, "%Y-%m-%d %H:%M"), second(at * 7 % 60));
    bench.write("a.csv", table("seen,rec", (0..60).map(row)));
    bench.run("survey a.csv").stdout_has(&["rec     -         not-a-date"]).check();
}

/// Every unit that instruments count in, by name.
#[test]
fn an_origin_takes_every_unit() {
    let bench = Bench::new();
    for (number, unit) in [
        ("19675", "days"),
        ("472200", "hours"),
        ("28332000", "minutes"),
        ("1699920000", "seconds"),
        ("1699920000000", "milliseconds"),
        ("1699920000000000", "microseconds"),
        ("1699920000000000000", "nanoseconds"),
        ("16999200000000000", "'100 nanoseconds'"),
    ] {
        let epoch = format!("1970-01-01T00:00Z/{unit}").replace("/'", "/").replace('\'', "");
        bench
            .run(&format!("explain {number} --epoch '{epoch}' --as-of 2024-06-01"))
            .stdout_has(&["2023-11-14T00:00:00Z"])
            .check();
    }
}
