//! Values that say less than a date: periods, and days without a year.

use crate::harness::Bench;

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
        .stderr_has(&["quarter_typed  date   3 read; periods are their end"])
        .check();
    // What is asked for is repeated in what is offered.
    bench
        .run("convert plan.csv --column month --anchor start")
        .status(3)
        .stderr_has(&["--layout '{month:short}-{year:2}' -o plan.out.csv"])
        .stderr_has(&["metachron convert plan.csv --anchor start --column month"])
        .check();
    bench
        .run("convert plan.csv --column month --anchor middle")
        .status(2)
        .stderr("metachron: --anchor \"middle\" is none of start, end\n")
        .check();
    bench
        .run("convert plan.csv --column month --kind fortnight")
        .status(2)
        .stderr_has(&["--kind \"fortnight\" is none of date, time,"])
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
        .stderr_has(&["4 values have a day and no year.", "--year 2023 -o log.out.csv"])
        .check();
    bench
        .run("convert log.csv --year 2023")
        .stdout(
            "clock,clock_typed\n\
             Nov  5 10:11:12,2023-11-05T10:11:12\n\
             Dec 31 23:59:59,2023-12-31T23:59:59\n\
             Jan  1 00:00:03,2024-01-01T00:00:03\n\
             Feb 29 10:00:00,2024-02-29T10:00:00\n",
        )
        .stderr_has(&["4 read; from 2023 on, the year turns at row 3"])
        .check();
    // A year of its own is needed in a layout too.
    bench
        .run("convert log.csv --layout '{month:short} {day} {hour}:{minute}:{second}'")
        .status(2)
        .stderr_has(&["without {year}, --year YEAR says it", "\n  ^^^^^^^^^^^^^"])
        .check();
    bench
        .run("convert log.csv --layout '{month:short} {day} {hour}:{minute}:{second}' --year 2023")
        .stdout_has(&["Jan  1 00:00:03,2024-01-01T00:00:03"])
        .stderr_has(&["4 read"])
        .check();
    // The saved year is that of the first row again.
    bench.run("survey log.csv --year 2023 --save log.toml").stdout_has(&[]).stderr_has(&[]).check();
    bench
        .run("convert log.csv --readings log.toml")
        .stdout_has(&["Feb 29 10:00:00,2024-02-29T10:00:00"])
        .stderr_has(&["4 read"])
        .check();
}

#[test]
fn rows_in_no_order_leave_the_year_open() {
    let bench = Bench::new();
    bench.write("seen.csv", "seen\n5 March\n9 December\n2 June\n7 January\n8 March\n");
    bench
        .run("convert seen.csv --year 2024")
        .status(4)
        .stdout_has(&["5 March,2024-03-05\n", "2 June,\n", "8 March,\n"])
        .stderr_has(&["1 read, 4 contested; the first row in 2024"])
        .check();
}

#[test]
fn a_known_answer_gives_the_year() {
    let bench = Bench::new();
    bench.write("tage.csv", "tag\n\"Samstag, 3. Mai\"\n\"Sonntag, 4. Mai\"\n\"Montag, 6. Mai\"\n");
    bench
        .run("convert tage.csv --known 'Samstag, 3. Mai=2025-05-03'")
        .status(4)
        .stdout_has(&["2025-05-03", "2025-05-04"])
        .stderr_has(&["2 read, 1 unreadable"])
        .check();
    bench.run("explain '5. März'").stdout_has(&["has no year; --year says it"]).check();
    bench.run("explain '5. März' --year 2024").stdout_has(&["2024-03-05"]).check();
}

#[test]
fn a_standard_of_several_kinds_is_read_as_the_most_frequent_one() {
    let bench = Bench::new();
    bench.write("iso.csv", "d\n2024-03-05\n2024-W10-2\n20240305\n2024-03-05T10,5\n2024-065\n");
    bench
        .run("convert iso.csv --layout iso-8601")
        .status(4)
        .stdout_has(&["2024-W10-2\t2024-03-05\n", "2024-03-05T10,5\t\n", "2024-065\t2024-03-05\n"])
        .stderr_has(&["date  4 read, 1 unreadable"])
        .check();
    bench
        .run("convert iso.csv --layout iso-8601 --kind datetime")
        .status(4)
        .stdout_has(&["2024-03-05T10,5\t2024-03-05T10:30:00\n", "20240305\t\n"])
        .stderr_has(&["datetime  1 read, 4 unreadable"])
        .check();
}
