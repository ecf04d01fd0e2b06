//! Numbers that count from nothing: years, years with a fraction, clock times, parts of dates; and those that count the
//! moments of another column.

use crate::harness::{Bench, table};

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
    // What is called a year is left as it is.
    bench.write("b.csv", table("start_year", (1871..1931).map(|year| year.to_string())));
    bench.run("survey b.csv").stdout_has(&["start_year  -     not-a-date", "may be years"]).check();
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
        said.contains("its fraction is neither the start nor the middle of a month of that year"),
        "{said}"
    );
}

/// Hours and minutes in one number are times of day, also beside the parts of a date.
/// A year and its month or week in one number, whether it is a date in digits by chance or not.
#[test]
fn months_and_weeks_in_digits() {
    let months = |first: u32, years: u32| {
        let rows = (0..years * 12).map(move |at| format!("{}{:02}", first + at / 12, at % 12 + 1));
        table("period", rows)
    };
    let bench = Bench::with("a.csv", months(2021, 3));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "period  month  leaning",
            "36 numbers may be a year and its month (202403 is March 2024).",
            "If they are a year and its month:\n",
        ])
        .check();
    bench
        .run("convert a.csv --set 'period: layouts=\"{year}{month:02}\"' --quiet")
        .stdout_has(&["period,period_typed\n202101,2021-01\n", "\n202312,2023-12\n"])
        .check();
    // All of them are days of 2020 as well.
    bench.write("a.csv", months(2001, 12));
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&[
            "144 numbers may be a year and its month (202403 is March 2024). Years of two digits:",
            "If they are a year and its month:\n",
            "If the year comes first:\n",
        ])
        .check();
    let saved = "metachron = 1\n[[column]]\nfrom = \"period\"\nlayouts = \"{year}{month:02}\"\n";
    bench.write("b.toml", saved);
    bench
        .run("convert a.csv --readings b.toml --quiet")
        .stdout_has(&["period,period_typed\n200101,2001-01\n", "\n201212,2012-12\n"])
        .check();
    // What is numbered anew each year ends anywhere, and has no name that speaks of dates.
    let row = |at: u32| format!("{}{:02}", 2015 + at / 9, at % 9 + 1);
    bench.write("a.csv", table("report", (0..60).map(row)));
    bench.run("survey a.csv").stdout_has(&["report  -     not-a-date"]).check();
    bench.write("a.csv", table("since", (0..60).map(row)));
    bench
        .run("survey a.csv")
        .stdout_has(&["since   month  undecided", "If they are a year and its month:\n"])
        .check();
    // Weeks, by their number or by the name of the column.
    let weeks = |first: u32, last: u32| {
        (0..3 * last).map(move |at| format!("{}{:02}", first + at / last, at % last + 1))
    };
    bench.write("a.csv", table("period", weeks(2022, 52)));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "period  week  leaning",
            "156 numbers may be a year and its week (202415 is the fifteenth of 2024).",
        ])
        .check();
    bench
        .run("convert a.csv --set 'period: layouts=\"{weekyear}{week:02}\"' --quiet")
        .stdout_has(&["period,period_typed\n202201,2022-W01\n", "\n202452,2024-W52\n"])
        .check();
    for name in ["week", "period"] {
        bench.write("a.csv", table(name, weeks(2001, 52)));
        bench
            .run("survey a.csv")
            .stdout_has(&["leaning", "If they are a year and its week", "If the day comes first"])
            .check();
    }
    bench.write("a.csv", table("KW", weeks(2021, 10)));
    bench.run("survey a.csv").stdout_has(&["KW      week  leaning"]).check();
}

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

/// A month that goes beyond twelve beside a day that does not is a day.
#[test]
fn exchanged_names_of_parts_are_noticed() {
    let row = |at: u32| format!("2024,{},{}", at % 28 + 1, at % 12 + 1);
    let bench = Bench::with("a.csv", table("year,month,day", (0..60).map(row)));
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "year in \"year\", month in \"day\", day in \"month\".",
            "--make 'date = parts year=year month=day day=month'",
        ])
        .check();
    // Up to twelve both are what they are called.
    let row = |at: u32| format!("2024,{},{}", at % 12 + 1, at % 11 + 1);
    bench.write("a.csv", table("year,month,day", (0..60).map(row)));
    bench.run("survey a.csv").stdout_has(&["parts year=year month=month day=day'"]).check();
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
    // Events of the same day, all on quarters of an hour, are not the moments of another column.
    let row = |at: i64| {
        let (day, hour) = (1_704_240_000 + at * 86_400, at * 5 % 9);
        let seen = jiff::Timestamp::from_second(day + hour * 3_600).unwrap();
        let rec = day + (hour + 1) * 3_600 + at * 7 % 12 * 900;
        format!("{},{rec}000", seen.strftime("%Y-%m-%d %H:%M"))
    };
    bench.write("a.csv", table("seen,rec", (0..60).map(row)));
    bench.run("survey a.csv").stdout_has(&["rec     -         not-a-date"]).check();
    // The same numbers in other rows are numbers.
    let row = |at: i64| format!("{},{}000", local(at, "%Y-%m-%d %H:%M"), second(at * 7 % 60));
    bench.write("a.csv", table("seen,rec", (0..60).map(row)));
    bench.run("survey a.csv").stdout_has(&["rec     -         not-a-date"]).check();
}
