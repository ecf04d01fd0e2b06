//! Columns with names of months, other calendars, clocks, zones, numbers and lengths of time.

use crate::scenarios::Numbers;

/// A table: its name, its columns, and the options with which it is looked at.
type Table = (String, Vec<(String, Vec<String>)>, String);

/// All of them.
pub fn tables() -> Vec<Table> {
    let mut all = by_locale();
    all.extend(other_calendars());
    all.extend(single_values());
    for (at, draw) in DRAWN.iter().enumerate() {
        for seed in 0..60 {
            all.push(draw(&mut Numbers(0xD4A7 ^ (at as u64) << 24 ^ seed), seed));
        }
    }
    all
}

fn corpus(name: &str) -> String {
    let path = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("../../corpus").join(name);
    std::fs::read_to_string(path).unwrap()
}

/// Some days of 2024 as each locale writes them, with its name said and without.
fn by_locale() -> Vec<Table> {
    let text = corpus("written-dates.tsv");
    let mut all = Vec::new();
    for (at, line) in text.lines().filter(|line| !line.starts_with('#')).enumerate() {
        let fields: Vec<&str> = line.split('\t').collect();
        let [locale, style, weekdays, digits, months @ ..] = &fields[..] else { continue };
        let weekdays: Vec<&str> = weekdays.split('|').collect();
        let mut numbers = Numbers(at as u64);
        let values = (0..14).map(|_| {
            let (month, day) = (numbers.below(12) as i8 + 1, numbers.below(28) as i8 + 1);
            let date = jiff::civil::date(2024, month, day);
            let weekday =
                weekdays[date.weekday().to_sunday_zero_offset() as usize % weekdays.len()];
            let text = months[month as usize - 1]
                .replace("{d}", &day.to_string())
                .replace("{D}", &format!("{day:02}"))
                .replace("{w}", weekday);
            in_digits(&text, digits)
        });
        let columns = vec![("seen".to_owned(), values.collect())];
        let options = match at % 3 {
            0 => format!("--written-in {locale}"),
            _ => String::new(),
        };
        all.push((format!("written {locale} {style}"), columns, options));
    }
    all
}

fn in_digits(text: &str, digits: &str) -> String {
    let digits: Vec<char> = digits.chars().collect();
    let digit = |c: char| match (c.to_digit(10), digits.len()) {
        (Some(digit), 10) if c.is_ascii_digit() => digits[digit as usize],
        _ => c,
    };
    text.chars().map(digit).collect()
}

fn other_calendars() -> Vec<Table> {
    let text = corpus("other-calendars.tsv");
    let mut all: Vec<(String, Vec<String>)> = Vec::new();
    for line in text.lines().filter(|line| !line.starts_with('#')) {
        let fields: Vec<&str> = line.split('\t').collect();
        let [locale, calendar, _, value] = fields[..] else { continue };
        let key = format!("{locale} {calendar}");
        match all.last_mut().filter(|(last, _)| *last == key) {
            Some((_, values)) => values.push(value.to_owned()),
            None => all.push((key, vec![value.to_owned()])),
        }
    }
    let table = |(key, values): (String, Vec<String>)| {
        let (locale, calendar) = key.split_once(' ').unwrap();
        let columns = vec![("seen".to_owned(), values)];
        let said = format!("--written-in {locale} --set 'seen: calendar={calendar}'");
        let only = format!("--written-in {locale}");
        [
            (format!("calendar {key} said"), columns.clone(), said),
            (format!("calendar {key} locale"), columns, only),
        ]
    };
    all.into_iter().flat_map(table).collect()
}

/// The values of the corpora that have the same layout, as a column.
fn single_values() -> Vec<Table> {
    let text = corpus("values.toml");
    let quoted = |line: &str, key: &str| {
        let rest = line.split_once(&format!("{key} = \""))?.1;
        Some(rest.split('"').next()?.to_owned())
    };
    let mut all: Vec<(String, Vec<String>)> = Vec::new();
    for line in text.lines() {
        let (Some(layout), Some(value)) = (quoted(line, "layout"), quoted(line, "value")) else {
            continue;
        };
        match all.iter_mut().find(|(own, _)| *own == layout) {
            Some((_, values)) => values.push(value),
            None => all.push((layout, vec![value])),
        }
    }
    let mut standards = String::new();
    for line in corpus("standards.toml").lines() {
        if let Some(name) = line.strip_prefix('[').and_then(|rest| rest.strip_suffix(']')) {
            name.clone_into(&mut standards);
        } else if let Some(value) = line.trim().strip_prefix("[\"") {
            let value = value.split('"').next().unwrap().to_owned();
            match all.iter_mut().find(|(own, _)| *own == standards) {
                Some((_, values)) => values.push(value),
                None => all.push((standards.clone(), vec![value])),
            }
        }
    }
    let mut tables = Vec::new();
    for (number, (layout, values)) in all.into_iter().enumerate() {
        let columns = vec![("seen".to_owned(), values)];
        let said = format!("--set 'seen: layouts=[\"{layout}\"], year=2024'");
        tables.push((format!("values {number} alone"), columns.clone(), String::new()));
        tables.push((format!("values {number} said"), columns, said));
    }
    tables
}

type Draw = fn(&mut Numbers, u64) -> Table;

const DRAWN: [Draw; 9] =
    [clocks, lengths, serials, moments, spans, yearless, parts, periods, several_columns];

fn column(values: impl Iterator<Item = String>) -> Vec<String> {
    values.collect()
}

/// Times of day, with and without seconds, some of them beyond what a clock shows.
fn clocks(n: &mut Numbers, seed: u64) -> Table {
    let (size, way, beyond) = (4 + n.below(60), n.below(5), [24, 24, 30, 60][n.below(4) as usize]);
    let values = column((0..size).map(|_| {
        let (hour, minute, second) = (n.below(beyond), n.below(60), n.below(60));
        match way {
            0 => format!("{hour:02}:{minute:02}"),
            1 => format!("{hour}:{minute:02}:{second:02}"),
            2 => format!("{}:{minute:02} {}", hour % 12 + 1, ["AM", "PM"][n.below(2) as usize]),
            3 => format!("{hour}h{minute:02}"),
            _ => format!("{hour} h"),
        }
    }));
    let name = ["seen", "duration", "net_hours"][n.below(3) as usize];
    (format!("clocks {seed}"), vec![(name.to_owned(), values)], String::new())
}

/// Amounts with units, clock forms, ISO 8601 durations, numbers.
fn lengths(n: &mut Numbers, seed: u64) -> Table {
    let (size, way) = (4 + n.below(40), n.below(7));
    let values = column((0..size).map(|_| {
        let (a, b) = (n.below(90), n.below(60));
        match way {
            0 => format!("{a} min"),
            1 => format!("{a} h {b} min"),
            2 => format!("PT{a}H{b}M"),
            3 => format!("{a} m"),
            4 => format!("{a}:{b:02}"),
            5 => ["5 t", "1 hour", "3 Std.", "12 s", "2 jours"][n.below(5) as usize].to_owned(),
            _ => format!("{a}.{b}"),
        }
    }));
    let options = ["", "--set 'effort: kind=duration'", "--written-in de"][n.below(3) as usize];
    (format!("lengths {seed}"), vec![("effort".to_owned(), values)], options.to_owned())
}

/// Numbers that count from some origin, with zeros and blanks.
fn serials(n: &mut Numbers, seed: u64) -> Table {
    let (size, way) = (4 + n.below(60), n.below(6));
    let values = column((0..size).map(|row| {
        let day = 44_000 + n.below(1_500);
        match way {
            _ if n.below(20) == 0 => ["", "0", "60"][n.below(3) as usize].to_owned(),
            0 => day.to_string(),
            1 => format!("{day}.{:04}", n.below(10_000)),
            2 => (1_700_000_000 + n.below(40_000_000)).to_string(),
            3 => (1_700_000_000_000 + n.below(40_000_000_000)).to_string(),
            4 => format!("0.{:05}", n.below(100_000)),
            _ => format!("2024{:02}{:02}", 1 + row % 12, 1 + n.below(28)),
        }
    }));
    let name = ["opened", "count", "date"][n.below(3) as usize];
    let options = match n.below(3) {
        0 => format!("--set '{name}: epoch=sheet-1900'"),
        _ => String::new(),
    };
    (format!("serials {seed}"), vec![(name.to_owned(), values)], options)
}

/// Clock times with zones, offsets and abbreviations, around the changes of the clocks.
fn moments(n: &mut Numbers, seed: u64) -> Table {
    let (size, way) = (4 + n.below(60), n.below(5));
    let zone = ["Europe/Oslo", "America/Chicago", "Asia/Tokyo"];
    let zones = column((0..size).map(|_| zone[n.below(3) as usize].to_owned()));
    let values = column((0..size).map(|row| {
        let (day, hour, minute) = (20 + row * 12 / size, n.below(24), n.below(60));
        let clock = format!("2024-10-{day:02}T{hour:02}:{minute:02}:00");
        match way {
            0 => clock,
            1 => format!("{clock}+0{}:00", n.below(3)),
            2 => format!("{clock}Z"),
            3 => format!(
                "{} {}",
                clock.replace('T', " "),
                ["CET", "CEST", "IST"][n.below(3) as usize]
            ),
            _ => format!("2024-10-27 {:02}:{minute:02}", 1 + 3 * row / size),
        }
    }));
    let options = [
        "",
        "--set 'seen: zone=Europe/Oslo'",
        "--set 'seen: zone_from=zone'",
        "--set 'seen: zone=Europe/Oslo, repeated_clock=by-sequence'",
        "--set 'seen: zone=Europe/Oslo, skipped_clock=after, repeated_clock=first'",
    ][n.below(5) as usize];
    let columns = vec![("seen".to_owned(), values), ("zone".to_owned(), zones)];
    (format!("moments {seed}"), columns, options.to_owned())
}

/// The ends of spans, the weekday and the year beside them.
fn spans(n: &mut Numbers, seed: u64) -> Table {
    let size = 14 + n.below(80);
    let (early, order) = (n.below(2) == 0, n.below(2));
    let mut columns: [Vec<String>; 4] = Default::default();
    for row in 0..size {
        let day = jiff::civil::date(2023, 1, 1) + jiff::Span::new().days((row * 300 / size) as i64);
        let day = if early { day.with().day(day.day() % 12 + 1).build().unwrap() } else { day };
        let end = day + jiff::Span::new().days(n.below(9) as i64);
        let text = |d: jiff::civil::Date| match order {
            0 => format!("{:02}/{:02}/{}", d.day(), d.month(), d.year()),
            _ => format!("{}/{}/{}", d.month(), d.day(), d.year()),
        };
        columns[0].push(text(day));
        columns[1].push(text(end));
        columns[2].push(format!("{:?}", day.weekday()));
        columns[3].push(day.month().to_string());
    }
    let names = ["opened", "closed", "weekday", "month"].map(str::to_owned);
    (format!("spans {seed}"), names.into_iter().zip(columns).collect(), String::new())
}

/// Days without a year, over New Year; two-digit years; months with two digits beside them.
fn yearless(n: &mut Numbers, seed: u64) -> Table {
    let (size, way) = (6 + n.below(60), n.below(5));
    let values = column((0..size).map(|row| {
        let day =
            jiff::civil::date(2023, 10, 1) + jiff::Span::new().days((row * 200 / size) as i64);
        match way {
            0 => day.strftime("%d %b").to_string(),
            1 => day.strftime("%b %d %H:%M:%S").to_string(),
            2 => day.strftime("%b-%y").to_string(),
            3 => day.strftime("%d/%m/%y").to_string(),
            _ => format!("{:02}.{:02}.{:02}", n.below(28) + 1, n.below(12) + 1, n.below(100)),
        }
    }));
    let options = match (way, n.below(2)) {
        (0 | 1, 0) => "--set 'seen: year=2023'",
        _ => "",
    };
    (format!("yearless {seed}"), vec![("seen".to_owned(), values)], options.to_owned())
}

/// The parts of a date in columns of their own.
fn parts(n: &mut Numbers, seed: u64) -> Table {
    let size = 6 + n.below(40);
    let mut number = |from: u64, count: u64| -> Vec<String> {
        (0..size).map(|_| (from + n.below(count)).to_string()).collect()
    };
    let columns = vec![
        ("year".to_owned(), number(2020, 4)),
        ("month".to_owned(), number(1, 12)),
        ("day".to_owned(), number(1, 28)),
    ];
    (format!("parts {seed}"), columns, String::new())
}

/// Months, quarters, weeks, years; some of which do not exist.
fn periods(n: &mut Numbers, seed: u64) -> Table {
    let (size, way) = (4 + n.below(40), n.below(7));
    let values = column((0..size).map(|_| match way {
        0 => format!("{}/{}", 1 + n.below(12), 2018 + n.below(8)),
        1 => format!("{}/{}", 1 + n.below(13), 2018 + n.below(8)),
        2 => format!("Q{} {}", 1 + n.below(4), 2018 + n.below(8)),
        3 => format!("{}-W{:02}", 2018 + n.below(8), 1 + n.below(53)),
        4 => (1990 + n.below(35)).to_string(),
        5 => format!("{}-{:03}", 2018 + n.below(8), 1 + n.below(366)),
        _ => format!("2025-{:02}-{:02}", 1 + n.below(12), 18 + n.below(6)),
    }));
    (format!("periods {seed}"), vec![("seen".to_owned(), values)], String::new())
}

/// Several columns that are open or decided, so that one speaks for the other.
fn several_columns(n: &mut Numbers, seed: u64) -> Table {
    let size = 10 + n.below(120);
    let order = n.below(2);
    let mut columns: [Vec<String>; 3] = Default::default();
    for _ in 0..size {
        let text = |d: u64, m: u64, y: u64| match order {
            0 => format!("{d:02}.{m:02}.{y}"),
            _ => format!("{m:02}/{d:02}/{y}"),
        };
        columns[0].push(text(1 + n.below(28), 1 + n.below(12), 2024));
        columns[1].push(text(1 + n.below(12), 1 + n.below(12), 2024));
        columns[2].push(match n.below(6) {
            0 => "1900-01-01".to_owned(),
            1 => (45_000 + n.below(700)).to_string(),
            _ => format!("2024-{:02}-{:02}", 1 + n.below(12), 1 + n.below(28)),
        });
    }
    let names = ["captured", "released", "fecha"].map(str::to_owned);
    (format!("several {seed}"), names.into_iter().zip(columns).collect(), String::new())
}
