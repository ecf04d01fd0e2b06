//! Columns in which both orders occur: what tells the rows apart, and how that is kept.

use crate::harness::{Bench, table};

/// Thirty captures of each of two stations, one of which writes the month first.
fn captures() -> String {
    let mut text = "ring,station,seen\n".to_owned();
    for row in 0..30 {
        let (day, month) = (1 + row * 11 % 28, 1 + row * 5 % 12);
        text.push_str(&format!("A{row},Skarholm,{day:02}/{month:02}/2024\n"));
        text.push_str(&format!("B{row},Port Meridian,{month:02}/{day:02}/2024\n"));
    }
    text
}

#[test]
fn a_station_tells_its_rows_apart_once_that_is_accepted() {
    let bench = Bench::new();
    bench.write("seen.csv", captures());
    bench
        .run("survey seen.csv")
        .stdout_has(&[
            "\"station\" tells them apart: day first for Skarholm; month",
            "telling values agree; by chance less than 1 in 100,000,000",
            "metachron survey seen.csv --save seen.toml --accept split",
            "--when 'seen where station=Skarholm: order=dmy' --when 'seen where station=Port Meridian: order=mdy' -o seen.out.csv",
        ])
        .check();
    // Not before somebody says so.
    bench.run("convert seen.csv").status(3).stderr_has(&["the date column is open"]).check();
    bench
        .run("survey seen.csv --save seen.toml")
        .stdout_has(&[""])
        .stderr(
            "metachron: decisions saved in seen.toml; review them, then\n\
             \x20 metachron convert seen.csv --readings seen.toml -o seen.out.csv\n",
        )
        .check();
    bench.run("convert seen.csv --readings seen.toml").status(3).stderr_has(&["is open"]).check();
    bench
        .run("survey seen.csv --save seen.toml --accept split")
        .stdout_has(&[""])
        .stderr(
            "metachron: seen is taken as found: \"station\" tells its rows apart\n\
             metachron: decisions saved in seen.toml; review them, then\n\
             \x20 metachron convert seen.csv --readings seen.toml -o seen.out.csv\n",
        )
        .check();
    let saved = bench.read("seen.toml");
    assert!(saved.contains("accepted = true"), "{saved}");
    assert!(saved.contains("where = { station = [\"Port Meridian\"] }"), "{saved}");
    let by_file = bench
        .run("convert seen.csv --readings seen.toml")
        .stdout_has(&[
            "A1,Skarholm,12/06/2024,2024-06-12\nB1,Port Meridian,06/12/2024,2024-06-12\n",
        ])
        .stderr(
            "standard output   60 rows\n\
             \x20 seen  → seen_typed  date  60 read, 0 contested; 30 day first, 30 month first by \
             station\n",
        )
        .check();
    let spelled = bench
        .run("convert seen.csv --order dmy --when 'seen where station=Port Meridian: order=mdy'")
        .stdout_has(&[""])
        .stderr(
            "standard output   60 rows\n\
             \x20 seen  → seen_typed  date  60 read; 30 day first, 30 month first by station\n",
        )
        .check();
    assert_eq!(by_file, spelled);
    // A station that was never seen: what can be read in one way is, the rest is left open.
    bench
        .write("next.csv", "ring,station,seen\nC1,Vestfjord,03/04/2024\nC2,Vestfjord,13/04/2024\n");
    bench
        .run("convert next.csv --readings seen.toml")
        .stdout("ring,station,seen,seen_typed\nC1,Vestfjord,03/04/2024,\nC2,Vestfjord,13/04/2024,2024-04-13\n")
        .stderr(
            "standard output   2 rows\n\
             \x20 seen  → seen_typed  date  1 read, 1 contested;  by station\n\
             metachron: seen: 2 rows are from station \"Vestfjord\", unknown to the readings file\n\
             metachron: seen: 1 of 2 rows could not be read; none of 60 when this was saved\n\
             metachron: 1 row has an unreadable or contested cell (row 1); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .status(4)
        .check();
    bench.write("gone.csv", "ring,seen\nC1,03/04/2024\n");
    bench
        .run("convert gone.csv --readings seen.toml")
        .status(2)
        .stderr(
            "metachron: gone.csv has no column \"station\"; metachron survey gone.csv lists them\n",
        )
        .check();
}

#[test]
fn rows_of_appended_files_hold_for_this_file_alone() {
    let bench = Bench::new();
    let mut text = "n,seen\n".to_owned();
    let days: Vec<(u32, u32)> = (0..80).map(|n| (1 + n * 5 % 28, 1 + n % 12)).collect();
    for (n, (day, month)) in days.iter().enumerate() {
        text.push_str(&match n < 40 {
            true => format!("{n},{day:02}/{month:02}/2024\n"),
            false => format!("{n},{month:02}/{day:02}/2024\n"),
        });
    }
    bench.write("seen.csv", &text);
    bench
        .run("survey seen.csv --save seen.toml --accept split")
        .stdout_has(&["Where they stand tells them apart, as if files had been put"])
        .stderr(
            "metachron: seen is taken as found: where they stand tells its rows apart\n\
             metachron: decisions saved in seen.toml; review them, then\n\
             \x20 metachron convert seen.csv --readings seen.toml -o seen.out.csv\n",
        )
        .check();
    assert!(bench.read("seen.toml").contains("digest = \"sha256:"));
    bench
        .run("convert seen.csv --readings seen.toml")
        .stdout_has(&["79,08/04/2024,2024-08-04\n"])
        .stderr(
            "standard output   80 rows\n\
             \x20 seen  → seen_typed  date  79 read, 1 contested; 40 day first, 38 month first by \
             rows\n\
             metachron: 1 row has an unreadable or contested cell (row 42); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .status(4)
        .check();
    bench.write("seen.csv", text + "80,01/02/2024\n");
    bench
        .run("convert seen.csv --readings seen.toml")
        .status(3)
        .stderr(
            "metachron: seen.csv is not the file whose rows were told apart: its content has \
             changed; look at it anew with metachron survey\n",
        )
        .check();
}

#[test]
fn clocks_tell_themselves_apart() {
    let bench = Bench::new();
    let mut text = "seen\n".to_owned();
    for n in 0..40 {
        let (day, month) = (1 + n * 11 % 28, 1 + n * 5 % 12);
        text.push_str(&format!("{day:02}/{month:02}/2024 14:{n:02}\n"));
        text.push_str(&format!("{month:02}/{day:02}/2024 2:{n:02} PM\n"));
    }
    bench.write("seen.csv", text);
    bench
        .run("survey seen.csv --save seen.toml --accept split")
        .stdout_has(&["What stands beside the date tells them apart: day"])
        .stderr(
            "metachron: seen is taken as found: the clock tells its rows apart\n\
             metachron: decisions saved in seen.toml; review them, then\n\
             \x20 metachron convert seen.csv --readings seen.toml -o seen.out.csv\n",
        )
        .check();
    bench
        .run("convert seen.csv --readings seen.toml")
        .stdout_has(&[
            "12/06/2024 14:01,2024-06-12T14:01:00\n06/12/2024 2:01 PM,2024-06-12T14:01:00\n",
        ])
        .stderr(
            "standard output   80 rows\n\
             \x20 seen  → seen_typed  datetime  80 read, 0 contested\n",
        )
        .check();
}

#[test]
fn what_is_said_of_some_rows_is_checked() {
    let bench = Bench::new();
    bench.write("seen.csv", captures());
    for (said, expected) in [
        ("--when 'seen where statoin=Skarholm: order=dmy'", "did you mean \"station\"?"),
        ("--when 'sen where station=Skarholm: order=dmy'", "did you mean \"seen\"?"),
        ("--when 'seen where station=Skarholm: ordr=dmy'", "did you mean order?"),
        ("--when 'seen: order=dmy'", "does not say of which rows"),
        (
            "--when 'seen where station=Skarholm: order=dmy' --when 'seen where ring=A1: order=mdy'",
            "every --when of \"seen\" must tell its rows apart by the same column",
        ),
    ] {
        bench.run(&format!("convert seen.csv {said}")).status(2).stderr_has(&[expected]).check();
    }
    bench
        .run("convert seen.csv --when 'seen where station=Skarholm: order=ymd'")
        .status(3)
        .stderr_has(&["no value is written in a form that can have"])
        .check();
    // What speaks against it is counted, and its values stay empty.
    bench
        .run("convert seen.csv --when 'seen where station=Skarholm: order=mdy' -o out.csv --rejects r.csv")
        .status(4)
        .stderr(
            "out.csv   60 rows\n\
             \x20 seen  → seen_typed  date  33 read, 27 contested → r.csv; 14 month first by \
             station\n\
             metachron: 27 rows have an unreadable or contested cell (first row 4); r.csv lists \
             them, --tolerate 27 lets them stay\n",
        )
        .check();
    assert!(bench.read("r.csv").contains("only by the layout of other rows"));
    for (toml, expected) in [
        ("rows = \"1..3\"\n", "the when needs its digest"),
        ("where = { station = [\"A\"], ring = [\"B\"] }\n", "where names one column"),
        ("where = [\"A\"]\n", "is written where = { station"),
        ("wher = { station = [\"A\"] }\n", "did you mean where?"),
        ("order = \"dmy\"\n", "a when says where, or which rows"),
    ] {
        let order = if toml.starts_with("order") { "" } else { "order = \"dmy\"\n" };
        bench.write(
            "bad.toml",
            format!("metachron = 1\n[[column]]\nfrom = \"seen\"\n[[column.when]]\n{order}{toml}"),
        );
        bench
            .run("convert seen.csv --readings bad.toml")
            .status(1)
            .stderr_has(&["bad.toml, line ", expected])
            .check();
    }
}

#[test]
fn votes_do_not_cross_to_a_station_that_nothing_tells() {
    let mut table = String::from("station,seen\n");
    for at in 0..120 {
        let (day, month, year) = (1 + at * 7 % 28, 1 + at % 12, 2020 + at % 4);
        table.push_str(&format!("Skarholm,{day:02}/{month:02}/{year}\n"));
        if at % 4 == 0 {
            // Month first, and never beyond the twelfth.
            let (day, month) = (1 + at / 4 % 12, 1 + at * 5 % 11);
            table.push_str(&format!("Port Meridian,{month:02}/{day:02}/{year}\n"));
            table.push_str(&format!("Port Meridian,{month:02}/{day:02}/{}\n", year + 1));
        }
    }
    let bench = Bench::with("captures.csv", table);
    let way = "--set 'seen: order=dmy' --when 'seen where station=Port Meridian: order=mdy'";
    bench
        .run("convert captures.csv")
        .status(3)
        .stderr_has(&[
            "Where \"station\" is Port Meridian, ",
            "another hand may",
            &format!("metachron convert captures.csv {way} -o captures.out.csv"),
            "metachron convert captures.csv --set 'seen: order=dmy' -o captures.out.csv",
        ])
        .check();
    bench.run(&format!("convert captures.csv {way} --quiet")).stdout_has(&[]).check();
    bench.run("convert captures.csv --column seen --order dmy --quiet").stdout_has(&[]).check();
}

/// An import read every date of a sorted file, by the other order where it could: the rows show it, and it can be undone.
#[test]
fn sorted_dates_that_were_exchanged_in_place_are_asked_about_and_put_back() {
    let last = |month: u32| if month == 2 { 28 } else { 30 + (month + month / 8) % 2 };
    let month_of =
        |year: i32, month: u32| (1..=last(month)).step_by(3).map(move |day| (year, month, day));
    let months = (2021..2023).flat_map(|year| (1..=12).map(move |month| (year, month)));
    let days: Vec<(i32, u32, u32)> =
        months.flat_map(|(year, month)| month_of(year, month)).collect();
    let iso = |(year, month, day): (i32, u32, u32)| format!("{year}-{month:02}-{day:02}");
    let shown =
        |(year, month, day)| if day <= 12 { (year, day, month) } else { (year, month, day) };
    let column = |shown: &dyn Fn((i32, u32, u32)) -> (i32, u32, u32)| {
        let rows: Vec<String> = days.iter().map(|day| iso(shown(*day))).collect();
        format!("captured\n{}\n", rows.join("\n"))
    };
    let bench = Bench::with("a.csv", column(&shown));
    let ways = ["--set 'captured: repair=half-swapped'", "--set 'captured: repair=none'"];
    bench.run("convert a.csv -o b.csv").status(3).stderr_has(&ways).check();
    for (way, truth) in [(ways[0], true), (ways[1], false)] {
        bench.run(&format!("convert a.csv {way} --replace-raw -o b.csv")).output();
        let expected = if truth { column(&|day| day) } else { column(&shown) };
        assert_eq!(bench.read("b.csv"), expected, "{way}");
    }
    // Nothing shows that these were exchanged.
    let bench = Bench::with("a.csv", column(&|day| day));
    bench.run("convert a.csv -o b.csv").output();
    bench
        .run("convert a.csv --column captured --repair half-swapped -o b.csv")
        .status(3)
        .stderr_has(&["nothing to repair"])
        .check();
}

/// A file that holds only what an import exchanged: many dates, none with a day above 12. Whoever knows it says so.
#[test]
fn a_column_of_which_every_date_was_exchanged_is_put_back() {
    let days = || (0..432).map(|at| (2020 + at / 144, at / 12 % 12 + 1, at % 12 + 1));
    let column = |swapped: bool| {
        table(
            "captured",
            days().map(|(year, month, day)| match swapped {
                true => format!("{year}-{day:02}-{month:02}"),
                false => format!("{year}-{month:02}-{day:02}"),
            }),
        )
    };
    let bench = Bench::with("a.csv", column(true));
    let way = "--set 'captured: repair=swapped'";
    bench
        .run("convert a.csv -o b.csv")
        .status(3)
        .stderr_has(&["a day above 12", way, "--set 'captured: repair=none'"])
        .check();
    bench
        .run(&format!("convert a.csv {way} --replace-raw -o b.csv"))
        .stderr_has(&["day and month exchanged back in every date"])
        .check();
    assert_eq!(bench.read("b.csv"), column(false));
    bench.run(&format!("survey a.csv {way} --save a.toml")).output();
    bench.run("convert a.csv --readings a.toml --replace-raw -o c.csv").output();
    assert_eq!(bench.read("c.csv"), column(false));
    // A day above 12 cannot have been a month.
    bench.write("d.csv", column(true) + "2021-03-17\n");
    bench
        .run(&format!("convert d.csv {way}"))
        .status(3)
        .stderr_has(&["1 different date has a day above 12, which cannot have been a month"])
        .check();
}
