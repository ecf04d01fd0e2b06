//! Derived columns: made from typed ones, joined from parts, refused before anything is written.

use crate::harness::Bench;

const CAPTURES: &str = "ring,captured,released,y,m,d,clock\n\
    LF1,13.05.2024,15.05.2024,2024,5,13,10:15\nLF2,31.01.2024,25.02.2024,2024,Jan,31,11:20\n\
    LF3,14.05.2024,,2024,2,30,\nLF4,20.05.2024,28.05.2024,24,5,20,09:00\n";

#[test]
fn columns_are_derived_from_typed_ones_and_from_each_other() {
    let bench = Bench::with("a.csv", CAPTURES);
    let derive = "--make 'stay = released | since captured | as days' --make 'next = captured | move +1 month' \
                  --make 'month = next | period month' --make 'elapsed = captured | since earliest | as weeks' \
                  --make 'first = captured | since first-row | as days' \
                  --make 'text = captured | show \"{day}. {month:name}\" in de'";
    bench
        .run(&format!("convert a.csv --column captured --column released {derive} -o b.csv"))
        .stderr_has(&[
            "→ stay            number  3 made, 1 missing",
            "→ next            date    4 made; 1 day that a month lacks became its last",
            "→ month           month   4 made",
            "→ text            text    4 made; text for readers, a date no longer",
        ])
        .check();
    let table = bench.read("b.csv");
    let expected = "ring,captured,captured_typed,released,released_typed,y,m,d,clock,stay,next,month,elapsed,first,text\n\
        LF1,13.05.2024,2024-05-13,15.05.2024,2024-05-15,2024,5,13,10:15,2,2024-06-13,2024-06,14.714285714,0,13. Mai\n\
        LF2,31.01.2024,2024-01-31,25.02.2024,2024-02-25,2024,Jan,31,11:20,25,2024-02-29,2024-02,0,-103,31. Januar\n\
        LF3,14.05.2024,2024-05-14,,,2024,2,30,,,2024-06-14,2024-06,14.857142857,1,14. Mai\n\
        LF4,20.05.2024,2024-05-20,28.05.2024,2024-05-28,24,5,20,09:00,8,2024-06-20,2024-06,15.714285714,7,20. Mai\n";
    assert_eq!(table, expected);
    // The same from a readings file; the command line replaces one of the same name.
    bench.write(
        "a.toml",
        "metachron = 1\n\n[[column]]\nfrom = \"clock\"\nconvert = false\n\n[[make]]\nname = \"stay\"\n\
         steps = \"released | since captured | as days\"\n\n[[make]]\nname = \"day\"\nsteps = \"captured | weekday\"\n",
    );
    let table =
        bench.run("convert a.csv --readings a.toml --make 'day = captured | yearday'").output();
    assert!(table.contains(",10:15,2,134\n") && table.contains(",clock,stay,day\n"), "{table}");
    bench.write("bad.toml", "metachron = 1\n\n[[make]]\nname = \"stay\"\nstep = \"x\"\n");
    bench
        .run("convert a.csv --readings bad.toml")
        .status(1)
        .stderr("metachron: bad.toml, line 5: there is no key \"step\"; did you mean steps?\n")
        .check();
}

#[test]
fn parts_in_columns_of_their_own_become_dates() {
    let bench = Bench::with("a.csv", CAPTURES);
    bench
        .run(
            "convert a.csv --column clock --make 'when = parts year=y month=m day=d time=clock' \
             --rejects r.csv -o b.csv",
        )
        .status(4)
        .stderr(
            "b.csv   4 rows\n\
             \x20 clock  → clock_typed  time      3 read, 1 missing\n\
             \x20        → when         datetime  3 made, 1 not to be made → r.csv\n\
             metachron: 1 row has an unreadable or contested cell (row 3); r.csv lists it, \
             --tolerate 1 lets it stay\n",
        )
        .check();
    let table = bench.read("b.csv");
    for expected in ["2024-05-13T10:15:00\n", "2024-01-31T11:20:00\n", "2024-05-20T09:00:00\n"] {
        assert!(table.contains(expected), "{table}");
    }
    let rejects = bench.read("r.csv");
    assert!(
        rejects.contains("3,4,when,2024; 2; 30; ,part-missing,a part of the date is missing"),
        "{rejects}"
    );
    bench
        .run("convert a.csv --column clock --make 'on = parts year=y month=m day=d' --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   4 rows\n\
             \x20 clock  → clock_typed  time  3 read, 1 missing\n\
             \x20        → on           date  3 made, 1 not to be made → r.csv\n\
             metachron: 1 row has an unreadable or contested cell (row 3); r.csv lists it, \
             --tolerate 1 lets it stay\n",
        )
        .check();
    assert!(bench.read("r.csv").contains("30 February 2024 does not exist"));
}

#[test]
fn numbers_are_numbers_in_json() {
    let bench = Bench::with(
        "a.jsonl",
        "{\"a\":\"13.05.2024\",\"n\":1}\n{\"a\":\"14.05.2024\",\"n\":2}\n{\"n\":3}\n",
    );
    assert_eq!(
        bench.run("convert a.jsonl --make 'day = a | weekday' --make 'leap = a | leap'").output(),
        "{\"a\":\"13.05.2024\",\"a_typed\":\"2024-05-13\",\"day\":1,\"leap\":true,\"n\":1}\n\
         {\"a\":\"14.05.2024\",\"a_typed\":\"2024-05-14\",\"day\":2,\"leap\":true,\"n\":2}\n{\"n\":3}\n"
    );
}

#[test]
fn what_cannot_be_derived_is_refused_before_any_output() {
    let bench = Bench::with("a.csv", CAPTURES);
    for (derive, expected) in [
        ("stay", "has no =; write --make"),
        ("= captured | year", "names no column"),
        ("ring = captured | year", "there is a column of that name"),
        ("a = capture | year", "did you mean \"captured\"?"),
        ("a = captured | yer", "did you mean year?"),
        ("a = captured | hour", "hour takes a datetime or a time, but gets a date"),
        ("a = a | year", "a column cannot be derived from itself"),
        (
            "a = b | year' --make 'b = captured | start month",
            "\"b\" is derived after it; put its --make first",
        ),
        ("a = ring | year", "nothing has read \"ring\" yet"),
        (
            "1 = captured | since 2024-01-01",
            "a duration between two values is not written by itself",
        ),
        ("a = captured |", "a step is missing here"),
    ] {
        bench
            .run(&format!("convert a.csv --column captured --make '{derive}' -o b.csv"))
            .status(2)
            .stderr_has(&[expected])
            .check();
        assert!(!bench.files().contains(&"b.csv".to_owned()), "{derive}");
    }
    bench
        .run("convert a.csv --column captured --make 'a = captured | yer'")
        .status(2)
        .stderr(
            "metachron: \"a\": \"yer\" is no step; did you mean year?\n\
             \x20 captured | yer\n\
             \x20            ^^^\n",
        )
        .check();
    bench
        .run("list steps --like move")
        .stdout(
            "step  arguments       does\n\
         move  ±AMOUNT UNIT …  moved; a day that the month lacks becomes its last: move +18 \
         months\n\
         \n\
         A column begins with another one, or with: parts ROLE=COLUMN …  (roles: year month day \
         date time zone)\n",
        )
        .check();
}

#[test]
fn rows_are_kept_by_conditions_and_counted() {
    let bench = Bench::with("a.csv", CAPTURES);
    let common =
        "--column captured --column released --make 'stay = released | since captured | as days'";
    for (keep, rings) in [
        ("captured >= 2024-05-01", "LF1 LF3 LF4"),
        ("stay > 5", "LF2 LF4"),
        ("stay > 5' --where 'm != Jan", "LF4"),
        ("released is missing or (captured | month) = 1", "LF2 LF3"),
        ("captured | weekday between 6 and 7", ""),
        ("not ring = LF1", "LF2 LF3 LF4"),
    ] {
        bench
            .run(&format!("convert a.csv {common} --where '{keep}' -o b.csv"))
            .stderr_has(&["left out by --where"])
            .check();
        let table = bench.read("b.csv");
        let found: Vec<&str> = table.lines().skip(1).map(|line| &line[..3]).collect();
        assert_eq!(found.join(" "), rings, "{keep}");
    }
    bench
        .run(&format!("convert a.csv {common} --where 'captured > yesterday' -o c.csv"))
        .status(2)
        .stderr(
            "metachron: --where: \"yesterday\" is not a date such as 2024-01-31\n\
             \x20 captured > yesterday\n\
             \x20            ^^^^^^^^^\n",
        )
        .check();
    assert!(!bench.files().contains(&"c.csv".to_owned()));
    // What is left out is not rejected either.
    let on = "--column clock --make 'on = parts year=y month=m day=d' --where 'ring != LF3'";
    bench
        .run(&format!("convert a.csv {on} --rejects r.csv -o b.csv"))
        .stderr(
            "b.csv   3 rows of 4, 1 left out by --where\n\
             \x20 clock  → clock_typed  time  3 read, 1 missing\n\
             \x20        → on           date  3 made, 1 not to be made → r.csv\n",
        )
        .check();
    assert_eq!(bench.read("r.csv").lines().count(), 1);
}

#[test]
fn the_moment_of_preparation_is_the_same_in_every_row() {
    let bench = Bench::with("a.csv", "seen\n13.05.2024\n14.05.2024\n");
    assert_eq!(
        bench.run("convert a.csv --stamp prepared --as-of 2026-11-23").output(),
        "seen,seen_typed,prepared\n13.05.2024,2024-05-13,2026-11-23T00:00:00Z\n14.05.2024,2024-05-14,2026-11-23T00:00:00Z\n"
    );
    bench
        .run("convert a.csv --stamp seen_typed")
        .status(2)
        .stderr("metachron: --stamp \"seen_typed\": there is a column of that name\n")
        .check();
}

#[test]
fn a_name_that_steps_do_not_have_says_where_such_names_are_listed() {
    let bench = Bench::with("a.csv", "seen\n13.05.2024\n14.05.2024\n");
    for (option, says) in [
        (
            "--make 'd = seen | qqqqqqq'",
            "\"d\": \"qqqqqqq\" is no step; metachron list steps has them",
        ),
        ("--make 'd = seen | yaer'", "\"d\": \"yaer\" is no step; did you mean year?"),
        (
            "--make 'd = seen | at Hoshizaki'",
            "\"d\": \"Hoshizaki\" is no zone; metachron list zones has them",
        ),
        (
            "--make 'd = seen | at Europe/Olso'",
            "\"d\": \"Europe/Olso\" is no zone; did you mean Europe/Oslo?",
        ),
        (
            "--make 'd = seen | serial nets'",
            "\"d\": \"nets\" is no origin of numbers; metachron list epochs has them",
        ),
        (
            "--where 'seen | qqqqqqq = 3'",
            "--where: \"qqqqqqq\" is no step; metachron list steps has them",
        ),
    ] {
        // Below that line the place is underlined.
        let line = format!("metachron: {says}\n  ");
        bench.run(&format!("convert a.csv {option}")).status(2).stderr_has(&[&line]).check();
    }
}
