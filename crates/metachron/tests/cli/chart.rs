//! Charts: the structure of what is drawn, and the pictures.

use std::collections::BTreeMap;

use serde_json::Value;

use crate::harness::{Bench, table};

fn day(month: u32, day: u32) -> String {
    format!("2024-{month:02}-{day:02}")
}

fn facts(bench: &Bench, line: &str) -> Value {
    serde_json::from_str(&bench.run(&format!("chart {line} --json")).output()).unwrap()
}

fn texts(axis: &Value) -> Vec<String> {
    let text = |tick: &Value| match tick["part_of"].as_str() {
        Some(part_of) => format!("{} | {part_of}", tick["label"].as_str().unwrap()),
        None => tick["label"].as_str().unwrap().to_owned(),
    };
    axis["ticks"].as_array().unwrap().iter().map(text).collect()
}

fn places(series: &Value) -> Vec<Vec<f64>> {
    serde_json::from_value(series["places"].clone()).unwrap()
}

#[test]
fn rows_are_counted_per_period_on_a_true_axis_of_time() {
    // Nothing in the second half of March: a gap is a gap.
    let days = (1..=4).flat_map(|month| (1..=28).map(move |own| (month, own)));
    let days = days.filter(|(month, own)| *month != 3 || *own <= 14);
    let rows = days.flat_map(|(month, own)| vec![day(month, own); own as usize % 3 + 1]);
    let bench = Bench::with("a.csv", table("seen", rows.clone()));
    let chart = facts(&bench, "a.csv --column seen --per day");
    assert_eq!(
        (&chart["per"], &chart["title"]),
        (&"day".into(), &"a.csv: rows per day of seen".into())
    );
    let mut expected: BTreeMap<String, f64> = BTreeMap::new();
    rows.for_each(|row| *expected.entry(row).or_default() += 1.0);
    let bars = places(&chart["panels"][0]["series"][0]);
    assert_eq!(
        bars.iter().map(|bar| bar[2]).collect::<Vec<_>>(),
        expected.values().copied().collect::<Vec<_>>()
    );
    // From 1 January to the end of 28 April: 119 days.
    assert_eq!((bars[0][0], bars.last().unwrap()[1]), (0.0, 1.0));
    let behind_gap = bars.iter().position(|bar| bar[0] > 0.7).unwrap();
    let gap = bars[behind_gap][0] - bars[behind_gap - 1][1];
    assert!((gap * 119.0 - 17.0).abs() < 0.01, "{gap}");
    assert_eq!(texts(&chart["x"]).first().unwrap(), "8 Jan | 2024");
    for (step, expected) in [
        ("1 month", vec!["Jan | 2024", "Feb", "Mar", "Apr"]),
        ("2 months", vec!["Jan | 2024", "Mar"]),
    ] {
        let chart = facts(&bench, &format!("a.csv --column seen --axis-step '{step}'"));
        assert_eq!(texts(&chart["x"]), expected);
    }
    let weekly = facts(&bench, "a.csv --column seen --axis-step '1 week' --show-in de-DE");
    assert_eq!(texts(&weekly["x"])[..2], ["1 Jan. | 2024", "8 Jan."]);
}

#[test]
fn numbers_are_drawn_where_their_time_is_and_gaps_are_seen() {
    let at = |minute: u32| format!("2024-03-05T{:02}:{:02}", minute / 60, minute % 60);
    let minutes = (0..60).map(|row| row * 10).filter(|minute| !(200..300).contains(minute));
    let rows = minutes.clone().map(|minute| format!("{},\"{},5\"", at(minute), minute % 70));
    let bench = Bench::with("a.csv", table("at,volts", rows));
    let chart = facts(&bench, "a.csv --column at --value volts");
    let series = &chart["panels"][0]["series"][0];
    assert_eq!((&series["marks"], &series["runs"]), (&"points".into(), &2.into()));
    let found = places(series);
    assert_eq!(found.len(), minutes.clone().count());
    for (place, minute) in found.iter().zip(minutes) {
        assert!((place[0] - f64::from(minute) / 590.0).abs() < 1e-4);
        assert_eq!(place[1], f64::from(minute % 70) + 0.5);
    }
    assert_eq!(texts(&chart["x"])[0], "00:00 | 5 Mar 2024");
    assert_eq!(texts(&chart["y"]), ["0", "10", "20", "30", "40", "50", "60", "70"]);
    // Lengths of time have a unit, and groups a series each.
    let rows = (1..=20).map(|own| {
        format!("{},PT{}M,{}", day(3, own), 50 * own, if own % 2 == 0 { "a" } else { "b" })
    });
    bench.write("b.csv", table("day,effort,net", rows));
    let chart = facts(&bench, "b.csv --column day --value effort --by net");
    assert_eq!(chart["y"]["title"], "effort in hours");
    let series = chart["panels"][0]["series"].as_array().unwrap();
    assert_eq!(
        series.iter().map(|own| own["name"].as_str().unwrap()).collect::<Vec<_>>(),
        ["a", "b"]
    );
    assert_eq!(
        places(&series[1])[0],
        [0.0, 0.83333].map(|own: f64| own)[..1]
            .iter()
            .copied()
            .chain([50.0 / 60.0])
            .collect::<Vec<_>>()
    );
}

#[test]
fn many_points_keep_their_least_and_greatest() {
    let rows = (0..20_000_u64).map(|row| {
        let minute = row % 1440;
        let value = if row == 12_345 { 999 } else { row * 7_919 % 100 };
        format!("2024-03-{:02}T{:02}:{:02},{value}", row / 1440 + 1, minute / 60, minute % 60)
    });
    let bench = Bench::with("a.csv", table("at,value", rows));
    let chart = facts(&bench, "a.csv --column at --value value");
    let series = &chart["panels"][0]["series"][0];
    assert_eq!(
        (&series["marks"], &chart["panels"][0]["rows"]),
        (&"columns".into(), &20_000.into())
    );
    let columns = places(series);
    assert!(columns.len() <= 1_130);
    let most = columns.iter().map(|own| own[2]).fold(0.0, f64::max);
    let spike = columns.iter().find(|own| own[2] == most).unwrap();
    assert!(most == 999.0 && (spike[0] - 12_345.0 / 19_999.0).abs() < 2e-3, "{spike:?}");
    assert_eq!(columns.iter().map(|own| own[1]).fold(1e9, f64::min), 0.0);
}

#[test]
fn an_open_column_is_drawn_as_each_reading_has_it() {
    // In the last days of July somebody wrote only days up to 12.
    let rows =
        (1..=12).flat_map(|own| (1..=7).map(move |month| format!("{own:02}/{month:02}/2024")));
    let bench = Bench::with("a.csv", table("seen", rows.collect::<Vec<_>>()));
    let chart = facts(&bench, "a.csv --column seen");
    let panels = chart["panels"].as_array().unwrap();
    let titles: Vec<&str> = panels.iter().map(|own| own["title"].as_str().unwrap()).collect();
    assert_eq!(titles, ["If it is day first", "If it is month first"]);
    assert_eq!(
        (&panels[0]["latest"], &panels[1]["latest"]),
        (&"2024-07-12".into(), &"2024-12-07".into())
    );
    // An answer leaves one of them.
    let chart = facts(&bench, "a.csv --column seen --order dmy");
    assert_eq!(chart["panels"].as_array().unwrap().len(), 1);
}

#[test]
fn what_no_picture_can_show_is_asked_and_the_answers_draw() {
    let rows =
        (1..=40).map(|row| format!("{} {:02} 10:15:07", ["Jan", "Feb"][row / 21], row % 20 + 1));
    let bench = Bench::with("a.csv", table("seen,n", rows.map(|day| day + ",7")));
    // The harness runs each answer that is printed.
    bench
        .run("chart a.csv --column seen --value n -o a.png --as-of 2024-06-01")
        .status(3)
        .stderr_has(&[
            "metachron chart a.csv --column seen --value n --as-of 2024-06-01 --set 'seen: year=",
        ])
        .check();
}

#[test]
fn what_was_resolved_is_drawn_beside_what_was_first_read() {
    let rows = (1..=12).flat_map(|month| {
        (1..=28).map(move |own| match (month + own) % 2 {
            0 => format!("Skarholm,{own}/{month}/2024"),
            _ => format!("Port Meridian,{month}/{own}/2024"),
        })
    });
    let bench = Bench::with("a.csv", table("station,seen", rows.collect::<Vec<_>>()));
    bench.run("survey a.csv --save a.toml --accept split").output();
    let chart = facts(&bench, "a.csv --column seen --readings a.toml");
    let panels = chart["panels"].as_array().unwrap();
    assert_eq!(
        (&panels[0]["title"], &panels[1]["title"]),
        (&"As first read".into(), &"As resolved".into())
    );
    assert_eq!((&panels[1]["rows"], &panels[1]["left_out"]), (&336.into(), &0.into()));
    assert!(panels[0]["left_out"].as_u64().unwrap() > 50);
}

#[test]
fn times_of_day_and_lengths_have_axes_of_their_own() {
    let rows = (0..90).map(|own| format!("{:02}:{:02},PT{}M", 4 + own / 30, own % 30 * 2, own));
    let bench = Bench::with("a.csv", table("opened,stay", rows));
    let day = facts(&bench, "a.csv --column opened");
    let ticks = texts(&day["x"]);
    assert_eq!(
        (ticks.first().unwrap().as_str(), ticks.last().unwrap().as_str()),
        ("00:00", "24:00")
    );
    let bars = places(&day["panels"][0]["series"][0]);
    assert_eq!(bars.iter().map(|bar| bar[2]).sum::<f64>(), 90.0);
    assert!((bars[0][0] - 4.0 / 24.0).abs() < 1e-4);
    let lengths = facts(&bench, "a.csv --column stay --axis-step '30 minutes'");
    assert_eq!(texts(&lengths["x"]), ["0", "30 min", "1 h", "90 min"]);
}

#[test]
fn a_chart_of_letters_needs_no_picture() {
    let rows = (1..=3).flat_map(|month| vec![format!("2024-{month:02}-05"); month * 4]);
    let bench = Bench::with("a.csv", table("seen", rows.collect::<Vec<_>>()));
    let page = bench.run("chart a.csv --column seen --per month --on-screen").output();
    let lines: Vec<&str> = page.lines().collect();
    assert_eq!(lines[0], "a.csv: rows per month of seen");
    let full = |line: &str| line.matches('█').count();
    // The bars stand for 4, 8 and 12 of an axis up to 12.
    let width = full(lines[2]);
    assert!((30..=36).contains(&width), "{page}");
    let lower = full(lines[16]);
    assert!((95..=110).contains(&lower), "{page}");
    assert!(
        lines[18].contains('┬') && lines[19].contains("Jan") && lines[20].contains("2024"),
        "{page}"
    );
}

/// A chunk of a PNG: its name and content (RFC 2083, 3.2).
fn chunks(png: &[u8]) -> Vec<(String, &[u8])> {
    let mut rest = png.strip_prefix(b"\x89PNG\r\n\x1a\n").unwrap();
    let mut chunks = Vec::new();
    while rest.len() >= 12 {
        let length = u32::from_be_bytes(rest[..4].try_into().unwrap()) as usize;
        chunks.push((String::from_utf8(rest[4..8].to_vec()).unwrap(), &rest[8..8 + length]));
        rest = &rest[12 + length..];
    }
    chunks
}

#[test]
fn pictures_are_png_or_svg_and_complete_in_themselves() {
    let rows = (1..=28).map(|own| format!("星崎{own},{},{own}", day(3, own)));
    let bench = Bench::with("a.csv", table("place,seen,value", rows));
    bench
        .run("chart a.csv --column seen -o a.png")
        .stderr("a.png   a.csv: rows per day of seen\n  28 rows, 2024-03-01 to 2024-03-28\n")
        .check();
    let png = bench.bytes("a.png");
    let all = chunks(&png);
    assert_eq!(all[0].0, "IHDR");
    assert_eq!(all[0].1[..8], [1_280_u32.to_be_bytes(), 800_u32.to_be_bytes()].concat()[..]);
    assert_eq!(all.last().unwrap().0, "IEND");
    bench.run("chart a.csv --column seen --value value -o a.svg --quiet").stderr("").check();
    let svg = bench.read("a.svg");
    assert!(svg.starts_with("<svg") && svg.trim_end().ends_with("</svg>"));
    for text in ["a.csv: value over seen", "10 Mar", "2024"] {
        assert!(svg.contains(text), "no {text}");
    }
    assert!(!svg.contains("href") && !svg.contains("<script"));
    // Letters that the font lacks are told, and months have other names.
    bench
        .run("chart a.csv --column seen --by place -o b.png --show-in ja-JP")
        .stderr_has(&["are drawn as question marks", "an SVG has"])
        .check();
    bench
        .run("chart a.csv --column seen -o c.png --show-in hi-IN")
        .stderr_has(&["days and months are in English"])
        .check();
    bench.run("chart a.csv --column seen -o c.svg --show-in hi-IN").output();
    assert!(bench.read("c.svg").contains("मार्च"));
}

#[test]
fn what_cannot_be_drawn_is_refused_with_what_can() {
    let bench = Bench::with("a.csv", "seen,note,at\n2024-03-05,x,10:15\n2024-03-06,y,10:30\n");
    for (line, says) in [
        ("a.csv -o a.png", "--column names the column whose dates are the axis of time"),
        (
            "a.csv --column seen",
            "say where the chart goes: -o FILE.png, -o FILE.svg, or --on-screen",
        ),
        (
            "a.csv --column seen -o a.pdf",
            "a chart is written as .png or .svg, which a.pdf does not end in",
        ),
        ("a.csv --column seen -o a.csv", "a chart is written as .png or .svg"),
        (
            "a.csv --column seen --axis-step often --on-screen",
            "--axis-step \"often\" has no amount of a unit",
        ),
        ("a.csv --column seen --axis-step '1 second' --on-screen", "would make 172,800 ticks"),
        (
            "a.csv --column seen --per fortnight --on-screen",
            "is none of hour, day, week, month, quarter, year",
        ),
        (
            "a.csv --column seen --per hour --on-screen",
            "a chart of \"seen\" has no hour; --per may be day, week",
        ),
        ("a.csv --column at --per hour --on-screen", "--per hour has no effect"),
        ("a.csv --column seen --per day --value note --on-screen", "--per day counts rows"),
        (
            "a.csv --column seen --to-zone Asia/Tokyo --on-screen",
            "--to-zone has no effect: \"seen\" holds no instants",
        ),
        (
            "a.csv --column at --show-in de-DE --on-screen",
            "--show-in has no effect: each value of \"at\" is a time without a date",
        ),
        ("a.csv --column nowhere --on-screen", "nowhere"),
    ] {
        bench.run(&format!("chart {line}")).status(2).stderr_has(&[says]).check();
    }
}
