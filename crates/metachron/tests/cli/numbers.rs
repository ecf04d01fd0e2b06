//! Numbers that count from an origin.

use rust_xlsxwriter::Workbook;

use crate::harness::Bench;

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
        (
            "1582-10-14/fortnights",
            "no INSTANT/UNIT such as 1582-10-14/seconds (UNIT is one of weeks, days, hours, minutes, seconds",
        ),
        ("yesterday/days", "no INSTANT/UNIT"),
    ] {
        bench
            .run(&format!("convert a.csv --column opened --epoch {epoch}"))
            .status(2)
            .stderr_has(&[expected])
            .check();
    }
    // Whole weeks are days, and parts of them clock times.
    bench.write("b.csv", "w\n12\n12.5\n");
    bench
        .run("convert b.csv --column w --epoch 2024-01-01/weeks --quiet")
        .stdout("w,w_typed\n12,2024-03-25T00:00:00\n12.5,2024-03-28T12:00:00\n")
        .check();
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
             \x20 opened     No dates.\n\
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
