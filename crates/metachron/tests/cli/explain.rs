//! `metachron explain` takes what its own answers recommend.

use crate::harness::Bench;

#[test]
fn what_answers_recommend_can_be_said() {
    let bench = Bench::new();
    for (line, says) in [
        ("03/04/2024 --order mdy", "can be read in one way\n  {month}/{day}/{year}  2024-03-04"),
        (
            "45210.5 --epoch sheet-1904",
            "can be read in one way\n  --epoch sheet-1904  2027-10-12T12:00:00",
        ),
        (
            "45210 --epoch 1970-01-01/hours",
            "can be read in one way\n  --epoch 1970-01-01/hours  1975-02-27T18:00:00",
        ),
        ("3:05 --kind time", "can be read in one way\n  {hour}:{minute}  03:05:00"),
        ("3:05 --kind duration", "{minutes}:{seconds}  PT3M5S"),
        ("5 --unit minutes", "{minutes:decimal}  PT5M"),
        ("'2024-07-01 12:30' --zone Europe/Oslo", "2024-07-01T10:30:00Z"),
        ("'2024-10-27 02:30' --zone Europe/Oslo", "came twice in Europe/Oslo"),
        ("'2024-03-31 02:30' --zone Europe/Oslo", "cannot be read"),
        ("'2024-03-01 10:15 IST' --abbreviation IST=Asia/Kolkata", "2024-03-01T04:45:00Z"),
        ("03/04/2024 --kind time", "It cannot be read as was said, only otherwise."),
    ] {
        bench.run(&format!("explain {line} --as-of 2024-06-01")).stdout_has(&[says]).check();
    }
    for (line, says) in [
        ("45210 --epoch excell", "--epoch \"excell\" is no name that list epochs has"),
        ("10:15 --zone Europe/Olso", "is no zone of the IANA database; did you mean Europe/Oslo"),
        ("x --abbreviation IST", "is not written NAME=ZONE"),
        ("x --order dym", "--order \"dym\" is none of dmy, mdy, ymd, ydm"),
    ] {
        bench.run(&format!("explain {line}")).status(2).stderr_has(&[says]).check();
    }
}

/// An instant fixes what counts as now, and a day what counts as today.
#[test]
fn today_and_now_can_be_said() {
    let bench = Bench::with("a.csv", "seen\n13 April 2024\n");
    for (as_of, now) in [
        ("2024-06-01", "2024-06-01T00:00:00Z"),
        ("2024-06-01T12:30Z", "2024-06-01T12:30:00Z"),
        ("2024-06-01T12:30+02:00", "2024-06-01T10:30:00Z"),
    ] {
        bench
            .run(&format!("convert a.csv --stamp run --as-of {as_of} --quiet"))
            .stdout(format!("seen,seen_typed,run\n13 April 2024,2024-04-13,{now}\n"))
            .check();
    }
    bench
        .run("convert a.csv --as-of yesterday")
        .status(2)
        .stderr_has(&["--as-of \"yesterday\" is neither a day, such as 2024-06-01, nor an instant"])
        .check();
}

/// An option that is about none of the values is refused; what only confirms a reading is none.
#[test]
fn what_is_about_no_value_is_refused() {
    let bench = Bench::new();
    for (line, option) in [
        ("12:30 --zone Europe/Oslo", "--zone"),
        ("03/14/2024 --zone Europe/Oslo", "--zone"),
        ("2024-03-05 --abbreviation IST=Asia/Kolkata", "--abbreviation"),
        ("2024-03-05 --year 2023", "--year"),
        ("'2 h' --unit minutes", "--unit"),
        ("'2 h' --epoch sheet-1900", "--epoch"),
    ] {
        bench
            .run(&format!("explain {line}"))
            .status(2)
            .stderr(format!("metachron: {option} has no effect: it is about none of the values\n"))
            .check();
    }
    for line in [
        "'2024-03-05 12:30' --zone Europe/Oslo",
        "12:30 '2024-03-05 12:30' --zone Europe/Oslo",
        "'2024-07-01 12:00 IST' --abbreviation IST=Asia/Kolkata",
        "'5 March' --year 2024",
        "90 --unit minutes --kind duration",
        "45210 --epoch sheet-1900",
        "2024-03-05 --layout '{year}-{month}-{day}'",
        "13/04/2024 --order dmy",
        "03/04/24 --two-digit-from 1950",
    ] {
        assert!(!bench.run(&format!("explain {line}")).output().is_empty(), "{line}");
    }
}
