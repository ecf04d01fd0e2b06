//! Values that say less than a date: periods, and days without a year.

use crate::harness::{Bench, table};

#[test]
fn periods_stay_what_they_are_unless_they_are_anchored() {
    let bench = Bench::new();
    bench.write("plan.csv", "month,quarter\nApr-22,Q3 2024\nMay-22,Q4 2024\nJun-22,Q1 2025\n");
    bench
        .run("convert plan.csv --set 'month: kind=month' --set 'quarter: anchor=end'")
        .stdout(
            "month,month_typed,quarter,quarter_typed\n\
             Apr-22,2022-04,Q3 2024,2024-09-30\n\
             May-22,2022-05,Q4 2024,2024-12-31\n\
             Jun-22,2022-06,Q1 2025,2025-03-31\n",
        )
        .stderr(
            "standard output   3 rows\n\
             \x20 month    → month_typed    month  3 read\n\
             \x20 quarter  → quarter_typed  date   3 read; periods are their end\n",
        )
        .check();
    // What is asked for is repeated in what is offered.
    bench
        .run("convert plan.csv --column month --anchor start")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 month      The two digits beside the month's name are likely a year; they could be a day whose year is\n\
             \x20            missing.\n\
             \x20            If each of them is a month, or a typing error:\n\
             \x20              metachron convert plan.csv --column month --anchor start --set 'month: layouts=\"{month:short}-{year:2}\"' -o plan.out.csv\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert plan.csv --column month --set 'month: convert=false' -o plan.out.csv\n",
        )
        .check();
    bench
        .run("convert plan.csv --column month --anchor middle")
        .status(2)
        .stderr("metachron: --anchor \"middle\" is none of start, end\n")
        .check();
    bench
        .run("convert plan.csv --column month --kind fortnight")
        .status(2)
        .stderr(
            "metachron: --kind \"fortnight\" is none of date, time, datetime, instant, month, \
             quarter, week, year, duration\n",
        )
        .check();
}

#[test]
fn a_log_without_years_asks_for_the_first_and_goes_on_at_new_year() {
    let bench = Bench::new();
    let log = "clock\nNov  5 10:11:12\nDec 31 23:59:59\nJan  1 00:00:03\nFeb 29 10:00:00\n";
    bench.write("log.csv", log);
    bench
        .run("convert log.csv --as-of 2024-06-01")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 clock      4 values have a day and no year.\n\
             \x20            If the first row is of 2023:\n\
             \x20              metachron convert log.csv --as-of 2024-06-01 --set 'clock: year=2023' -o log.out.csv\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert log.csv --as-of 2024-06-01 --set 'clock: convert=false' -o log.out.csv\n",
        )
        .check();
    // A year of its own is needed in a layout too.
    bench
        .run("convert log.csv --layout '{month:short} {day} {hour}:{minute}:{second}'")
        .status(2)
        .stderr(
            "metachron: {month:short} in \"{month:short} {day} {hour}:{minute}:{second}\" needs \
             the rest of its date: {year}, a month and {day}; without {year}, --year YEAR says it\n\
             \x20 {month:short} {day} {hour}:{minute}:{second}\n\
             \x20 ^^^^^^^^^^^^^\n",
        )
        .check();
    let layout = "--layout '{month:short} {day} {hour}:{minute}:{second}' --year 2023";
    for options in ["--year 2023", layout] {
        bench
            .run(&format!("convert log.csv {options}"))
            .stdout(
                "clock,clock_typed\n\
                 Nov  5 10:11:12,2023-11-05T10:11:12\n\
                 Dec 31 23:59:59,2023-12-31T23:59:59\n\
                 Jan  1 00:00:03,2024-01-01T00:00:03\n\
                 Feb 29 10:00:00,2024-02-29T10:00:00\n",
            )
            .stderr(
                "standard output   4 rows\n\
                 \x20 clock  → clock_typed  datetime  4 read; from 2023 on, the year turns at row 3\n",
            )
            .check();
    }
    // The saved year is that of the first row again.
    bench
        .run("survey log.csv --year 2023 --save log.toml")
        .stdout(
            "log.csv   CSV, one column (comma before new ones), UTF-8, header in line 1, 4 rows\n\
         \n\
         \x20 column  kind      verdict  read by                                       read  \
         missing  unreadable\n\
         \x20 clock   datetime  decided  {month:short} {day} {hour}:{minute}:{second}     4        \
         0           0\n\
         \n\
         \x20 clock      The values have no year; that of the first row is 2023, and another \
         begins at row 3.\n",
        )
        .stderr(
            "metachron: decisions saved in log.toml; review them, then\n\
         \x20 metachron convert log.csv --readings log.toml -o log.out.csv\n",
        )
        .check();
    bench
        .run("convert log.csv --readings log.toml")
        .stdout(
            "clock,clock_typed\n\
             Nov  5 10:11:12,2023-11-05T10:11:12\n\
             Dec 31 23:59:59,2023-12-31T23:59:59\n\
             Jan  1 00:00:03,2024-01-01T00:00:03\n\
             Feb 29 10:00:00,2024-02-29T10:00:00\n",
        )
        .stderr(
            "standard output   4 rows\n\
             \x20 clock  → clock_typed  datetime  4 read; from 2023 on, the year turns at row 3\n",
        )
        .check();
}

#[test]
fn rows_in_no_order_leave_the_year_open() {
    let bench = Bench::new();
    bench.write("seen.csv", "seen\n5 March\n9 December\n2 June\n7 January\n8 March\n");
    bench
        .run("convert seen.csv --year 2024")
        .status(4)
        .stdout(
            "seen,seen_typed\n\
             5 March,2024-03-05\n\
             9 December,\n\
             2 June,\n\
             7 January,\n\
             8 March,\n",
        )
        .stderr(
            "standard output   5 rows\n\
             \x20 seen  → seen_typed  date  1 read, 4 contested; the first row in 2024\n\
             metachron: 4 rows have an unreadable or contested cell (first row 2); --rejects FILE \
             lists them, --tolerate 4 lets them stay\n",
        )
        .check();
}

#[test]
fn a_known_answer_gives_the_year() {
    let bench = Bench::new();
    bench.write("tage.csv", "tag\n\"Samstag, 3. Mai\"\n\"Sonntag, 4. Mai\"\n\"Montag, 6. Mai\"\n");
    bench
        .run("convert tage.csv --known 'Samstag, 3. Mai=2025-05-03'")
        .status(4)
        .stdout(
            "tag,tag_typed\n\
             \"Samstag, 3. Mai\",2025-05-03\n\
             \"Sonntag, 4. Mai\",2025-05-04\n\
             \"Montag, 6. Mai\",\n",
        )
        .stderr(
            "standard output   3 rows\n\
             \x20 tag  → tag_typed  date  2 read, 1 unreadable; all in the year 2025\n\
             metachron: 1 row has an unreadable or contested cell (row 3); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    bench
        .run("explain '5. März'")
        .stdout(
            "\"5. März\" cannot be read\n\
         \x20 {day}. {month:name}  has no year; --year says it\n",
        )
        .check();
    bench.run("explain '5. März' --year 2024").stdout_has(&["2024-03-05"]).check();
}

#[test]
fn a_standard_of_several_kinds_is_read_as_the_most_frequent_one() {
    let bench = Bench::new();
    bench.write("iso.csv", "d\n2024-03-05\n2024-W10-2\n20240305\n2024-03-05T10,5\n2024-065\n");
    bench
        .run("convert iso.csv --layout iso-8601")
        .status(4)
        .stdout(
            "d\td_typed\n\
             2024-03-05\t2024-03-05\n\
             2024-W10-2\t2024-03-05\n\
             20240305\t2024-03-05\n\
             2024-03-05T10,5\t\n\
             2024-065\t2024-03-05\n",
        )
        .stderr(
            "standard output   5 rows\n\
             \x20 d  → d_typed  date  4 read, 1 unreadable\n\
             metachron: 1 row has an unreadable or contested cell (row 4); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    bench
        .run("convert iso.csv --layout iso-8601 --kind datetime")
        .status(4)
        .stdout(
            "d\td_typed\n\
             2024-03-05\t\n\
             2024-W10-2\t\n\
             20240305\t\n\
             2024-03-05T10,5\t2024-03-05T10:30:00\n\
             2024-065\t\n",
        )
        .stderr(
            "standard output   5 rows\n\
             \x20 d  → d_typed  datetime  1 read, 4 unreadable\n\
             metachron: 4 rows have an unreadable or contested cell (first row 1); --rejects FILE \
             lists them, --tolerate 4 lets them stay\n",
        )
        .check();
}

#[test]
fn months_and_short_years_may_stand_together() {
    let drawn = |years: [u32; 3]| {
        let months = ["Jan", "Mar", "Apr", "Oct"];
        let rows = months.iter().flat_map(|month| years.map(|year| format!("{month}{year}")));
        table("month", rows)
    };
    let bench = Bench::with("a.csv", drawn([19, 20, 21]));
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&["they could be a day whose year is", "layouts=\"{month:short}{year:2}\""])
        .check();
    // No day is the 84th.
    bench.write("b.csv", drawn([19, 84, 97]));
    bench.run("convert b.csv --quiet").stdout_has(&["Jan84,1984-01\n", "Oct19,2019-10\n"]).check();
    let columns =
        "birthday,n\n21847,1\n24112,2\n30451,3\n28944,4\n33017,5\n19870,6\n26551,7\n29000,8\n";
    bench.write("c.csv", columns);
    bench
        .run("convert c.csv")
        .status(3)
        .stderr_has(&["metachron convert c.csv --set 'birthday: epoch=sheet-1900' -o c.out.csv"])
        .check();
}

/// `2024-05` is the fifth week where the name speaks of weeks, and nothing but the first twelve could tell.
#[test]
fn weeks_of_a_year_are_no_months() {
    let weeks = (1..=12).map(|week| format!("2024-{week:02},2024/{week:02}"));
    let bench = Bench::with("a.csv", table("iso_week,month", weeks));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "  iso_week  month  leaning",
            "  month     month  decided",
            "12 values could be months, and the name of the column speaks of weeks.",
        ])
        .check();
    for (layout, typed) in [("{weekyear}-{week:02}", "2024-W05"), ("{year}-{month:02}", "2024-05")]
    {
        let way = format!("--set 'iso_week: layouts=\"{layout}\"'");
        bench.run("survey a.csv").stdout_has(&[&way]).check();
        bench.run(&format!("convert a.csv {way} -o b.csv")).output();
        assert!(bench.read("b.csv").contains(&format!("2024-05,{typed},2024/05,2024-05\n")));
    }
}

/// `3/2021` is the third quarter where the name speaks of quarters, or where none of many goes beyond four.
#[test]
fn quarters_of_a_year_are_no_months() {
    let quarters = |years: std::ops::Range<i32>| {
        years.flat_map(|year| (1..=4).map(move |quarter| format!("{quarter}/{year}")))
    };
    let by_name = Bench::with("a.csv", table("quarter", quarters(2021..2022)));
    by_name
        .run("survey a.csv")
        .stdout_has(&["4 values could be months, and the name of the column speaks of quarters."])
        .check();
    // Four years of them, or four months of each year.
    let many = Bench::with("a.csv", table("period", quarters(2020..2024)));
    many.run("convert a.csv -o b.csv")
        .status(3)
        .stderr_has(&[
            "16 values could be months, but none of them goes beyond 4: they may be quarters.",
        ])
        .check();
    for (layout, typed) in [("{quarter}/{year}", "2021-Q3"), ("{month}/{year}", "2021-03")] {
        let way = format!("--set 'period: layouts=\"{layout}\"'");
        many.run("survey a.csv").stdout_has(&[&way]).check();
        many.run(&format!("convert a.csv {way} -o b.csv")).output();
        assert!(many.read("b.csv").contains(&format!("3/2021,{typed}\n")));
    }
    // Few may be a season, and whoever writes months with a zero means months.
    for values in [vec!["1/2021", "2/2021", "3/2021", "4/2021"], vec!["5/2021", "2/2021"]] {
        let bench = Bench::with("a.csv", table("period", values.iter().map(|own| own.to_string())));
        bench.run("convert a.csv -o b.csv").output();
    }
    let padded = quarters(2020..2024).map(|own| format!("0{own}"));
    Bench::with("a.csv", table("period", padded)).run("convert a.csv -o b.csv").output();
}

/// Something took `21` for a year of four digits.
#[test]
fn years_that_lost_their_century_are_told() {
    let days = (1..=28).map(|day| match day % 9 {
        0 => format!("0021-03-{day:02}"),
        _ => format!("20{}-03-{day:02}", 18 + day % 5),
    });
    let bench = Bench::with("a.csv", table("captured", days));
    let told = "3 different dates lie before the year 100, such as 0021-03-09, and all others in 2018 to 2022";
    bench.run("survey a.csv").stdout_has(&[told]).check();
    bench.run("convert a.csv -o b.csv").stderr_has(&[told]).check();
    // Annals of old years are as they are written.
    let old = (1..=9).map(|day| format!("00{}-03-0{day}", 10 * day));
    let bench = Bench::with("a.csv", table("captured", old));
    let said = bench.run("survey a.csv").output();
    assert!(!said.contains("before the year 100"), "{said}");
}
