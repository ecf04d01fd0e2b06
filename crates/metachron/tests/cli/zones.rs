//! Clock times and moments: zones said, zones named by rows and in the text, hours that were skipped or
//! came twice.

use crate::harness::Bench;

/// A logger at Skarholm across the autumn change of 2024, and a clock time that never was.
const LOG: &str = "clock,temp\n2024-10-27 01:30,5\n2024-10-27 02:10,5\n2024-10-27 02:40,4\n\
                   2024-10-27 02:10,4\n2024-10-27 03:10,3\n2024-03-31 02:30,1\n";

#[test]
fn hours_that_were_skipped_or_came_twice_are_never_resolved_silently() {
    let bench = Bench::with("a.csv", LOG);
    bench
        .run("convert a.csv --zone Europe/Oslo --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   6 rows\n\
             \x20 clock  → clock_typed  instant  2 read, 4 unreadable → r.csv; clocks read in \
             Europe/Oslo\n\
             metachron: 4 rows have an unreadable or contested cell (first row 2); r.csv lists \
             them, --tolerate 4 lets them stay\n",
        )
        .check();
    let rejects = bench.read("r.csv");
    for expected in [
        "02:10 on 2024-10-27 came twice in Europe/Oslo: the clocks went back from 03:00 to 02:00",
        "02:30 on 2024-03-31 did not exist in Europe/Oslo: the clocks went from 02:00 to 03:00",
        "repeated-clock",
        "skipped-clock",
    ] {
        assert!(rejects.contains(expected), "{rejects}");
    }
    let typed = |options: &str| -> Vec<String> {
        let command = format!("convert a.csv --zone Europe/Oslo {options} -o b.csv --tolerate 6");
        bench.run(&command).output();
        let table = bench.read("b.csv");
        let cell = |line: &str| line.split(',').nth(1).unwrap().to_owned();
        table.lines().skip(1).map(cell).collect()
    };
    for (options, expected) in [
        ("--skipped-clock before", ["", "", "", "2024-03-31T01:30:00Z"]),
        ("--skipped-clock after", ["", "", "", "2024-03-31T00:30:00Z"]),
        (
            "--repeated-clock first",
            ["2024-10-27T00:10:00Z", "2024-10-27T00:40:00Z", "2024-10-27T00:10:00Z", ""],
        ),
        (
            "--repeated-clock second",
            ["2024-10-27T01:10:00Z", "2024-10-27T01:40:00Z", "2024-10-27T01:10:00Z", ""],
        ),
        // A single row that came late looks so, too.
        ("--repeated-clock by-sequence", ["", "", "", ""]),
    ] {
        let typed = typed(options);
        let asked = [&typed[1], &typed[2], &typed[3], &typed[5]];
        assert_eq!(asked, expected, "{options}");
    }
    // Two logs in one table are told apart by their clocks.
    bench.write(
        "two.csv",
        "logger,clock\nA,2024-10-27 02:10\nB,2024-10-27 02:50\nA,2024-10-27 02:40\nA,2024-10-27 02:10\n\
         A,2024-10-27 02:40\nB,2024-10-27 03:50\n",
    );
    bench
        .run("convert two.csv --zone Europe/Oslo --repeated-clock by-sequence --sequence-by logger -o b.csv")
        .status(4)
        .stderr(
            "b.csv   6 rows\n\
             \x20 clock  → clock_typed  instant  5 read, 1 unreadable; clocks read in Europe/Oslo; \
             4 repeated clock times told\n\
             \x20                                apart by the rows around\n\
             metachron: 1 row has an unreadable or contested cell (row 2); --rejects FILE lists \
             it, --tolerate 1 lets it stay\n",
        )
        .check();
    assert_eq!(
        bench.read("b.csv"),
        "logger,clock,clock_typed\nA,2024-10-27 02:10,2024-10-27T00:10:00Z\nB,2024-10-27 02:50,\n\
         A,2024-10-27 02:40,2024-10-27T00:40:00Z\nA,2024-10-27 02:10,2024-10-27T01:10:00Z\n\
         A,2024-10-27 02:40,2024-10-27T01:40:00Z\nB,2024-10-27 03:50,2024-10-27T02:50:00Z\n"
    );
}

#[test]
fn naming_a_zone_keeps_the_clock_and_showing_in_another_keeps_the_moment() {
    let bench = Bench::with("a.csv", "seen\n2024-07-01 12:00\n2024-12-01 12:00\n");
    let written = |options: &str| {
        bench.run(&format!("convert a.csv --replace-raw {options} --rejects r.csv")).output()
    };
    for (options, expected) in [
        ("--zone Europe/Oslo", "seen\n2024-07-01T10:00:00Z\n2024-12-01T11:00:00Z\n"),
        (
            "--zone Europe/Oslo --instants offset",
            "seen\n2024-07-01T12:00:00+02:00\n2024-12-01T12:00:00+01:00\n",
        ),
        (
            "--zone Europe/Oslo --to-zone America/Chicago",
            "seen\n2024-07-01T05:00:00-05:00\n2024-12-01T05:00:00-06:00\n",
        ),
        (
            "--zone Asia/Calcutta --instants zone",
            "seen\n2024-07-01T12:00:00+05:30[Asia/Kolkata]\n2024-12-01T12:00:00+05:30[Asia/Kolkata]\n",
        ),
        (
            "--zone -03:30 --instants local",
            "seen,seen_zone\n2024-07-01T12:00:00,-03:30\n2024-12-01T12:00:00,-03:30\n",
        ),
    ] {
        assert_eq!(written(options), expected, "{options}");
    }
    bench
        .run("convert a.csv --zone Asia/Calcutta --to-zone America/Chicago -o b.csv")
        .stderr(
            "b.csv   2 rows\n\
             \x20 seen  → seen_typed  instant  2 read; clocks read in Asia/Calcutta (now called \
             Asia/Kolkata); the same\n\
             \x20                              moments shown in America/Chicago\n",
        )
        .check();
    for (options, expected) in [
        ("--zone Europe/Olso", "did you mean Europe/Oslo"),
        ("--zone Europe/Oslo --to-zone Chicago", "--to-zone \"Chicago\" is no zone"),
        ("--zone IST", "is an abbreviation; the zone is a place, such as Asia/Kolkata"),
        ("--zone Europe/Oslo --skipped-clock later", "is none of reject, before, after"),
        ("--zone-from nowhere", "no column \"nowhere\""),
        ("--zone-data nowhere", "--zone-data nowhere"),
        ("--zone Europe/Oslo --abbreviation IST", "NAME=ZONE"),
    ] {
        let status = if options.contains("zone-data") { 1 } else { 2 };
        bench
            .run(&format!("convert a.csv {options}"))
            .status(status)
            .stderr_has(&[expected])
            .check();
    }
}

/// Captures of five stations, each by its own clocks.
const STATIONS: &str = "station,zone,seen\n\
    Skarholm,Europe/Oslo,13.05.2024 10:15\nPort Meridian,America/Chicago,14.05.2024 10:15\n\
    Hoshizaki,Japan,15.05.2024 10:15\nDar Wadi,,16.05.2024 10:15\nCabo Sereno,Brasil,17.05.2024 10:15\n";

#[test]
fn rows_name_their_zones() {
    let bench = Bench::with("a.csv", STATIONS);
    bench
        .run("convert a.csv --zone-from zone --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   5 rows\n\
             \x20 seen  → seen_typed  instant  3 read, 2 unreadable → r.csv; zone taken from \
             column zone\n\
             metachron: 2 rows have an unreadable or contested cell (first row 4); r.csv lists \
             them, --tolerate 2 lets them stay\n",
        )
        .check();
    assert!(bench.read("b.csv").contains("15.05.2024 10:15,2024-05-15T01:15:00Z"));
    let rejects = bench.read("r.csv");
    assert!(rejects.contains("nothing says in which zone its clock stood"), "{rejects}");
    assert!(rejects.contains("what says its zone is none"), "{rejects}");
    // What the names of stations mean stands in the readings file.
    let zones = "metachron = 1\n\n[[column]]\nfrom = \"seen\"\nlayouts = [\"{day}.{month}.{year} {hour}:{minute}\"]\n\
                 zone_from = \"station\"\n[column.zones]\nSkarholm = \"Europe/Oslo\"\n\"Port Meridian\" = \"America/Chicago\"\n\
                 Hoshizaki = \"Asia/Tokyo\"\n\"Dar Wadi\" = \"Africa/Casablanca\"\n\"Cabo Sereno\" = \"America/Sao_Paulo\"\n";
    bench.write("a.toml", zones);
    bench
        .run("convert a.csv --readings a.toml -o c.csv")
        .stderr(
            "c.csv   5 rows\n\
         \x20 seen  → seen_typed  instant  5 read; zone taken from column station\n",
        )
        .check();
    assert!(bench.read("c.csv").contains("17.05.2024 10:15,2024-05-17T13:15:00Z"));
    bench.run("survey a.csv --readings a.toml --save a.toml").output();
    let saved = bench.read("a.toml");
    assert!(
        saved.contains("zone_from = \"station\"") && saved.contains("\"Cabo Sereno\" = "),
        "{saved}"
    );
    bench.run("convert a.csv --readings a.toml -o d.csv").output();
    assert_eq!(bench.read("c.csv"), bench.read("d.csv"));
}

#[test]
fn some_rows_have_another_order_and_another_zone() {
    let mut table = "station,seen\n".to_owned();
    for day in 10..25 {
        table.push_str(&format!(
            "Skarholm,{day}/05/2024 10:15\nPort Meridian,05/{day}/2024 10:15\n"
        ));
    }
    let bench = Bench::with("a.csv", &table);
    let when = "--when 'seen where station=Port Meridian: order=mdy, zone=America/Chicago'";
    bench
        .run(&format!("convert a.csv {when} --set 'seen: order=dmy, zone=Europe/Oslo' -o b.csv"))
        .stderr(
            "b.csv   30 rows\n\
             \x20 seen  → seen_typed  instant  30 read; clocks read in the zones said, by station; \
             15 day first, 15 month\n\
             \x20                              first by station\n",
        )
        .check();
    let typed = bench.read("b.csv");
    assert!(typed.contains("Skarholm,13/05/2024 10:15,2024-05-13T08:15:00Z"), "{typed}");
    assert!(typed.contains("Port Meridian,05/13/2024 10:15,2024-05-13T15:15:00Z"), "{typed}");
    // Saved, it is the same again.
    bench
        .run(&format!(
            "survey a.csv {when} --set 'seen: order=dmy, zone=Europe/Oslo' --save a.toml"
        ))
        .output();
    bench.run("convert a.csv --readings a.toml -o c.csv").output();
    assert_eq!(bench.read("c.csv"), typed);
    // A zone of which nothing is said for a row.
    let other = "--when 'seen where station=Port Meridian: order=mdy, zone=America/Chicago' --set 'seen: order=dmy'";
    bench
        .run(&format!("convert a.csv {other} -o d.csv"))
        .status(4)
        .stderr(
            "d.csv   30 rows\n\
             \x20 seen  → seen_typed  instant  15 read, 15 unreadable; clocks read in the zones \
             said, by station; 15 month\n\
             \x20                              first by station\n\
             metachron: 15 rows have an unreadable or contested cell (first row 1); --rejects FILE \
             lists them, --tolerate 15 lets them stay\n",
        )
        .check();
}

#[test]
fn abbreviations_are_read_asked_for_or_refused() {
    let clocks = |names: &[&str]| {
        let rows = (1..).zip(names).map(|(day, name)| format!("2024-06-{day:02} 10:15 {name}\n"));
        format!("seen\n{}", rows.collect::<String>())
    };
    let bench = Bench::with("cest.csv", clocks(&["CEST", "CEST", "CET"]));
    assert_eq!(
        bench.run("convert cest.csv --replace-raw --rejects r.csv").output(),
        "seen\n2024-06-01T08:15:00Z\n2024-06-02T08:15:00Z\n2024-06-03T09:15:00Z\n"
    );
    bench
        .run("survey cest.csv --column seen")
        .stdout_has(&["CET stands in 1 value; for 1 of them it was the other season"])
        .check();
    // In the zone that is said, an abbreviation of the other season is a contradiction.
    bench
        .run("convert cest.csv --zone Europe/Oslo --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   3 rows\n\
             \x20 seen  → seen_typed  instant  2 read, 1 unreadable → r.csv; clocks read in \
             Europe/Oslo\n\
             metachron: 1 row has an unreadable or contested cell (row 3); r.csv lists it, \
             --tolerate 1 lets it stay\n",
        )
        .check();
    assert!(bench.read("r.csv").contains("+02:00 was not called CET at that moment"));
    bench.write("ist.csv", clocks(&["IST", "IST", "IST"]));
    bench
        .run("convert ist.csv")
        .status(3)
        .stderr_has(&["one thing in Asia/Kolkata", "--abbreviation IST=Asia/Jerusalem"])
        .check();
    assert!(
        bench
            .run("convert ist.csv --replace-raw --rejects r.csv --abbreviation IST=Asia/Jerusalem")
            .output()
            .contains("2024-06-01T08:15:00Z")
    );
    bench.write("own.csv", clocks(&["HZT", "HZT", "HZT"]));
    bench
        .run("convert own.csv --abbreviation HZT=Asia/Tokyo -o b.csv")
        .stderr(
            "b.csv   3 rows\n\
             \x20 seen  → seen_typed  instant  3 read\n",
        )
        .check();
    // An hour that came twice has two names.
    bench.write(
        "twice.csv",
        "seen\n2024-10-27 02:30 CEST\n2024-10-27 02:30 CET\n2024-10-28 02:30 CET\n",
    );
    assert_eq!(
        bench.run("convert twice.csv --replace-raw --rejects r.csv --zone Europe/Oslo").output(),
        "seen\n2024-10-27T00:30:00Z\n2024-10-27T01:30:00Z\n2024-10-28T01:30:00Z\n"
    );
}

#[test]
fn an_offset_that_its_zone_never_had_is_refused() {
    let bench =
        Bench::with("a.csv", "seen\n2024-07-01T12:00:00+02:00\n2024-07-02T12:00:00+01:00\n");
    bench
        .run("convert a.csv --zone Europe/Oslo --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   2 rows\n\
             \x20 seen  → seen_typed  instant  1 read, 1 unreadable → r.csv; clocks read in \
             Europe/Oslo\n\
             metachron: 1 row has an unreadable or contested cell (row 2); r.csv lists it, \
             --tolerate 1 lets it stay\n",
        )
        .check();
    assert!(bench.read("r.csv").contains("Europe/Oslo had the offset +02:00 at that moment"));
    bench
        .run("convert a.csv --zone Europe/Oslo --offset-wins -o b.csv")
        .stderr(
            "b.csv   2 rows\n\
             \x20 seen  → seen_typed  instant  2 read; clocks read in Europe/Oslo\n",
        )
        .check();
}

#[test]
fn offsets_and_clocks_that_change_with_the_season_are_noticed() {
    let mut offsets = "seen\n".to_owned();
    let mut clocks = "seen\n".to_owned();
    for month in 1..=12 {
        let offset = if (4..=10).contains(&month) { "+02:00" } else { "+01:00" };
        offsets.push_str(&format!("2024-{month:02}-14T12:00:00{offset}\n"));
        clocks.push_str(
            &(1..=8).map(|day| format!("2024-{month:02}-{day:02} 12:00\n")).collect::<String>(),
        );
        if month == 10 {
            clocks.push_str("2024-10-27 02:40\n2024-10-27 02:10\n");
        }
    }
    let bench = Bench::with("a.csv", &offsets);
    bench
        .run("survey a.csv --column seen")
        .stdout_has(&["change with the season as the clocks of Europe/Berlin"])
        .check();
    bench.write("b.csv", &clocks);
    bench
        .run("survey b.csv --column seen")
        .stdout_has(&[
            "goes forward but for row 82",
            "Europe/Berlin and others with the same rules",
        ])
        .check();
}

#[test]
fn zones_are_listed_with_what_they_show() {
    let bench = Bench::new();
    bench
        .run("list zones --like america/new --at 2024-07-01")
        .stdout_has(&["America/New_York  -04:00  EDT, summer time  2024-11-03T06:00:00Z to -05:00"])
        .check();
    // An old name finds the zone.
    bench.run("list zones --like calcutta").stdout_has(&["Asia/Kolkata", "Asia/Calcutta"]).check();
    bench
        .run("list zones --like skarholm")
        .status(1)
        .stderr("metachron: nothing has \"skarholm\" in its name\n")
        .check();
    bench
        .run("list epochs --at 2024-07-01")
        .status(2)
        .stderr("metachron: --at is about zones: metachron list zones --at INSTANT\n")
        .check();
    bench.run("--version").stdout_has(&["time zones 20"]).check();
    bench.write("a.csv", "seen\n2024-07-01 12:00\n");
    bench.run("survey a.csv --json").stdout_has(&["\"zone_data\": \"20"]).check();
}

#[test]
fn letters_are_zones_only_by_a_layout() {
    let bench = Bench::with(
        "a.csv",
        "seen\n2024-07-01 1200A\n2024-07-01 1200R\n2024-07-01 1200Z\n2024-07-01 1200J\n",
    );
    bench
        .run("convert a.csv --layout '{year}-{month:02}-{day:02} {hour:02}{minute:02}{offset:military}' --rejects r.csv -o b.csv")
        .status(4)
        .stderr(
            "b.csv   4 rows\n\
             \x20 seen  → seen_typed  instant  3 read, 1 unreadable → r.csv\n\
             metachron: 1 row has an unreadable or contested cell (row 4); r.csv lists it, \
             --tolerate 1 lets it stay\n",
        )
        .check();
    let table = bench.read("b.csv");
    for expected in
        ["1200A,2024-07-01T11:00:00Z", "1200R,2024-07-01T17:00:00Z", "1200Z,2024-07-01T12:00:00Z"]
    {
        assert!(table.contains(expected), "{table}");
    }
    bench
        .run("convert a.csv -o c.csv")
        .status(1)
        .stderr(
            "metachron: no column of a.csv is to be converted; metachron survey a.csv shows what it \
             holds\n",
        )
        .check();
}

#[test]
fn an_abbreviation_whose_offset_has_changed_is_a_question_about_one_place() {
    let table = "at\n2012-05-05 10:00 MSK\n2013-05-05 11:00 MSK\n2015-05-05 11:00 MSK\n";
    let bench = Bench::with("a.csv", table);
    bench
        .run("convert a.csv")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 at         MSK stands in 2 values; its offset in Europe/Moscow was not always the same.\n\
             \x20            If MSK is that of Europe/Moscow:\n\
             \x20              metachron convert a.csv --abbreviation MSK=Europe/Moscow -o a.out.csv\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert a.csv --set 'at: convert=false' -o a.out.csv\n",
        )
        .check();
    bench
        .run("convert a.csv --column at --abbreviation MSK=Europe/Moscow --quiet")
        .stdout(
            "at,at_typed\n2012-05-05 10:00 MSK,2012-05-05T06:00:00Z\n\
             2013-05-05 11:00 MSK,2013-05-05T07:00:00Z\n2015-05-05 11:00 MSK,2015-05-05T08:00:00Z\n",
        )
        .check();
}

/// Before 1970 the clocks of another zone stand for those of many a one in the zone data: that is counted, and other data
/// may know better.
#[test]
fn clocks_before_1970_may_be_those_of_another_zone() {
    let bench =
        Bench::with("a.csv", "seen\n1959-07-01 12:00\n1969-12-31 23:00\n1975-07-01 12:00\n");
    bench
        .run("convert a.csv --zone Europe/Oslo")
        .stderr_has(&[
            "2 moments before 1970, where this zone data",
            "has the clocks of Europe/Berlin for Europe/Oslo (--zone-data system or a folder",
        ])
        .stdout_has(&["1959-07-01 12:00,1959-07-01T11:00:00Z\n"])
        .check();
    let says = |command: &str| {
        let output = bench.command(command).output().unwrap();
        String::from_utf8(output.stderr).unwrap().contains("before 1970")
    };
    assert!(!says("convert a.csv --zone Europe/Berlin"));
    assert!(!says("convert a.csv --zone +01:00"));
    // The clock by which moments are shown is one, too.
    bench.write("b.csv", "seen\n1959-07-01T10:00:00Z\n");
    assert!(says("convert b.csv --to-zone Europe/Oslo"));
    assert!(says("convert b.csv --to-zone Europe/Oslo --instants local"));
    assert!(!says("convert b.csv --to-zone Europe/Paris"));
    assert!(!says("convert b.csv"));
    // And so are those that steps name.
    assert!(says("convert a.csv --make 'at = seen | at Europe/Oslo'"));
    assert!(says("convert b.csv --make 'day = seen | in Europe/Oslo | date'"));
    assert!(!says("convert b.csv --make 'day = seen | in Europe/Paris | date'"));
    bench.write(
        "c.csv",
        "day,clock,place\n1959-07-01,12:00,Europe/Oslo\n1959-07-02,12:00,Europe/Paris\n",
    );
    bench
        .run("convert c.csv --make 'at = parts date=day time=clock zone=place'")
        .stderr_has(&["2 made; 1 moment before 1970, where this zone data has the clocks of"])
        .stdout_has(&["12:00,12:00:00,Europe/Oslo,1959-07-01T11:00:00Z\n"])
        .check();
    // Data in which the zone has clocks of its own, and such in which it has not.
    let summer = [(-331_776_000, 7_200), (-321_235_200, 3_600)];
    for (of_oslo, is_merged) in [(&summer[..], false), (&[][..], true)] {
        std::fs::create_dir_all(bench.path().join("zones/Europe")).unwrap();
        bench.write("zones/Europe/Oslo", zone_file(of_oslo));
        bench.write("zones/Europe/Berlin", zone_file(&[]));
        let command = "convert a.csv --zone Europe/Oslo --zone-data zones";
        assert_eq!(says(command), is_merged);
        let shown = if is_merged { "1959-07-01T11:00:00Z" } else { "1959-07-01T10:00:00Z" };
        bench.run(&format!("{command} --quiet")).stdout_has(&[shown]).check();
    }
}

/// A file of zone data (RFC 8536, version 2) of a zone an hour east of Greenwich whose clocks change at these seconds to
/// these offsets.
fn zone_file(changes: &[(i64, i32)]) -> Vec<u8> {
    let offsets: Vec<i32> = std::iter::once(3_600).chain(changes.iter().map(|own| own.1)).collect();
    let block = |changes: &[(i64, i32)], offsets: &[i32]| {
        let mut bytes = b"TZif2".to_vec();
        bytes.extend([0; 15]);
        for count in [0, 0, 0, changes.len(), offsets.len(), 4] {
            bytes.extend((count as u32).to_be_bytes());
        }
        changes.iter().for_each(|(second, _)| bytes.extend(second.to_be_bytes()));
        (1..=changes.len()).for_each(|at| bytes.push(at as u8));
        for offset in offsets {
            bytes.extend(offset.to_be_bytes());
            bytes.extend([u8::from(*offset != 3_600), 0]);
        }
        bytes.extend(b"CET\0");
        bytes
    };
    [block(&[], &[3_600]), block(changes, &offsets), b"\nCET-1\n".to_vec()].concat()
}
