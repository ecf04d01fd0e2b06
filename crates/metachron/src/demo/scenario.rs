//! The Longshore Flyway: made-up bird-ringing stations along a migration route.

use std::fmt::Write;

use jiff::civil::{Date, date};
use metachron_core::layout::Layout;
use metachron_core::lexicon::{Length, Lexicon, Locale};
use metachron_core::write::spell;
use metachron_tables::encoding::Charset;

/// Stations, their usual offset from UTC in hours, and whether they write the month first.
const STATIONS: [(&str, i8, bool); 6] = [
    ("Skarholm", 1, false),
    ("Port Meridian", -6, true),
    ("Cabo Sereno", -3, false),
    ("Dar Wadi", 1, false),
    ("Hoshizaki", 9, false),
    ("Laguna Norte", -6, true),
];

const SPECIES: [&str; 6] =
    ["garden warbler", "northern wheatear", "barn swallow", "reed bunting", "grey plover", "robin"];

const ROWS: u64 = 2_480;

/// The stations of the next delivery: a new one, and one that has changed its habit.
const NEXT_STATIONS: [(&str, i8, bool); 7] = [
    ("Skarholm", 1, false),
    ("Port Meridian", -6, true),
    ("Cabo Sereno", -3, false),
    ("Dar Wadi", 1, false),
    ("Hoshizaki", 9, false),
    ("Laguna Norte", -6, false),
    ("Vestfjord", 1, false),
];

const NEXT_ROWS: u64 = 420;

/// SplitMix64 that look random and are the same in every run (SplitMix64).
struct SplitMix64(u64);

impl SplitMix64 {
    fn below(&mut self, bound: u64) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let z = (self.0 ^ (self.0 >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        let z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        (z ^ (z >> 31)) % bound
    }
}

/// A day of 2024.
fn day_of_2024(ordinal: u64) -> Date {
    date(2024, 1, 1).saturating_add(jiff::Span::new().days((ordinal % 366) as i64))
}

/// One row for each capture, sorted by day as the office files them.
///
/// - `captured` is day first, and some are missing.
/// - `released` is the day of the ring check, always early in a month: nothing tells day from month.
/// - `seen` is written as each station is used to.
/// - `logged` comes from the station's computer, with its offset.
/// - `entered` is typed by the office.
pub fn captures() -> String {
    delivery(2_024, ROWS, 366, &STATIONS)
}

/// The captures of the following spring.
pub fn spring() -> String {
    delivery(2_025, NEXT_ROWS, 151, &NEXT_STATIONS)
}

/// A delivery of so many rows from the first days of a year.
fn delivery(year: i16, rows: u64, days: u64, stations: &[(&str, i8, bool)]) -> String {
    let mut numbers = SplitMix64(year as u64);
    let mut text =
        String::from("ring,station,species,captured,released,seen,logged,entered,weight\r\n");
    let day = |ordinal: u64| {
        let first = date(year, 1, 1);
        first.saturating_add(jiff::Span::new().days((ordinal % days) as i64))
    };
    let months = days / 30;
    for row in 0..rows {
        let (station, offset, month_first) =
            stations[numbers.below(stations.len() as u64) as usize];
        let species = SPECIES[numbers.below(6) as usize];
        let captured = day(row * days / rows);
        let released = date(year, numbers.below(months) as i8 + 1, numbers.below(12) as i8 + 1);
        let seen = day(numbers.below(days));
        let (hour, minute, second) = (5 + numbers.below(14), numbers.below(60), numbers.below(60));
        let captured_text = match row {
            _ if row % 275 == 41 => String::new(),
            _ => written("{day:02}/{month:02}/{year}", captured),
        };
        let seen = written(
            if month_first { "{month}/{day}/{year}" } else { "{day}/{month}/{year}" },
            seen,
        );
        let logged = match row {
            _ if row % 206 == 97 => "-".to_owned(),
            311 => "2024-02-30T06:12:44+01:00".to_owned(),
            1_702 => "battery low".to_owned(),
            _ => format!("{captured}T{hour:02}:{minute:02}:{second:02}{offset:+03}:00"),
        };
        let later = captured.saturating_add(jiff::Span::new().days(numbers.below(9) as i64));
        let entered = written("{month:name} {day}, {year}", later);
        let weight = 9 + numbers.below(30);
        let tenth = numbers.below(10);
        // Writing to a string cannot fail.
        let _ = write!(
            text,
            "LF{:05},{station},{species},{captured_text},{},{seen},{logged},\"{entered}\",{weight}.{tenth}\r\n",
            i64::from(year - 2_023) * 10_000 + row as i64,
            written("{day:02}/{month:02}/{year}", released),
        );
    }
    text
}

/// When nets were closed, as serial numbers of a spreadsheet: with empty cells, a zero, and a number
/// that somebody typed.
pub fn nets() -> String {
    let mut numbers = SplitMix64(45);
    let mut text = String::from("net,closed,catch\n");
    for row in 0..90_u64 {
        let serial = 45_292 + row * 4;
        let minute = 17 * 60 + numbers.below(180);
        let catch = 40_000 + numbers.below(9_000);
        let closed = match row {
            _ if row % 11 == 4 => String::new(),
            23 => "0".to_owned(),
            51 => "60".to_owned(),
            // As many digits as a spreadsheet shows of a fraction of a day.
            _ => format!("{serial}.{:09}", minute * 1_000_000_000 / 1_440),
        };
        // Writing to a string cannot fail.
        let _ = writeln!(text, "N{:02},{closed},{catch}", 1 + row % 12);
    }
    text
}

/// What five stations saw at their own clocks, with the zone that each row names; one did not say.
pub fn watches() -> String {
    const PLACES: [(&str, &str); 5] = [
        ("Skarholm", "Europe/Oslo"),
        ("Port Meridian", "America/Chicago"),
        ("Cabo Sereno", "America/Sao_Paulo"),
        ("Dar Wadi", "Africa/Casablanca"),
        ("Hoshizaki", "Asia/Tokyo"),
    ];
    let mut numbers = SplitMix64(5);
    let mut text = String::from("station,zone,seen,birds\n");
    for row in 0..240_u64 {
        let (station, zone) = PLACES[numbers.below(5) as usize];
        let zone = if row == 77 { "" } else { zone };
        let day = day_of_2024(row * 3 / 2);
        let (hour, minute) = (4 + numbers.below(15), numbers.below(60));
        let birds = 1 + numbers.below(40);
        // Two that were up when the clocks were changed, and went by no clock.
        let (station, zone, day, hour, minute) = match row {
            60 => ("Skarholm", "Europe/Oslo", date(2024, 3, 31), 2, 30),
            205 => ("Port Meridian", "America/Chicago", date(2024, 11, 3), 1, 15),
            _ => (station, zone, day, hour, minute),
        };
        // Writing to a string cannot fail.
        let _ = writeln!(text, "{station},{zone},{day} {hour:02}:{minute:02},{birds}");
    }
    text
}

/// A nest box that is read every ten minutes by a clock that goes by the time of Skarholm, over the
/// night in October when it is put back.
pub fn nestbox() -> String {
    let oslo = jiff::tz::TimeZone::get("Europe/Oslo").unwrap_or(jiff::tz::TimeZone::UTC);
    let mut numbers = SplitMix64(27);
    let mut text = String::from("clock,degrees\n");
    let begin = date(2024, 10, 26).at(20, 0, 0, 0);
    for row in 0..72_i64 {
        let utc = begin.saturating_add(jiff::Span::new().minutes(row * 10));
        let moment = jiff::tz::Offset::UTC.to_timestamp(utc).unwrap_or_default();
        let clock = oslo.to_datetime(moment);
        let degrees = 4 + numbers.below(3);
        let _ = writeln!(
            text,
            "{} {},{degrees}.{}",
            clock.date(),
            clock.strftime("%H:%M"),
            numbers.below(10)
        );
    }
    text
}

/// When nets were open: the parts of the day in columns of their own, two clock times.
pub fn sessions() -> String {
    let mut numbers = SplitMix64(8);
    let mut text = String::from("net,year,month,day,opened,closed\n");
    for row in 0..60_u64 {
        let day = day_of_2024(row * 6);
        let (hour, minute) = (4 + numbers.below(4), 5 * numbers.below(12));
        let stay = 90 + 5 * numbers.below(60);
        let end = hour * 60 + minute + stay;
        let _ = writeln!(
            text,
            "N{:02},{},{},{},{hour:02}:{minute:02},{:02}:{:02}",
            1 + row % 12,
            day.year(),
            Lexicon::english().month(day.month() as u8, Length::Short, false),
            day.day(),
            end / 60,
            end % 60
        );
    }
    text
}

/// How long nets stood, as five stations write it, and how long their loggers ran.
pub fn efforts() -> String {
    let mut numbers = SplitMix64(9);
    let mut text = String::from("station,day,effort,logger\n");
    for row in 0..60_u64 {
        let day = day_of_2024(row * 6);
        let (hours, minutes) = (2 + numbers.below(5), 5 * numbers.below(12));
        let (station, effort) = match row % 5 {
            0 if row % 4 == 0 => ("Skarholm", format!("1 døgn {hours} timer")),
            0 => ("Skarholm", format!("{hours} timer {minutes} min")),
            1 if minutes == 0 => ("Port Meridian", format!("{hours} HOURS")),
            1 => ("Port Meridian", format!("{hours} hrs, {minutes} mins")),
            2 => ("Cabo Sereno", format!("{hours},5 horas")),
            3 => ("Dar Wadi", format!("{hours}h{minutes:02}")),
            _ => ("Hoshizaki", format!("{hours}時間{minutes}分")),
        };
        let logger = format!("{}:{:02}", 2 + numbers.below(70), numbers.below(60));
        let _ = writeln!(text, "{station},{day},\"{effort}\",{logger}");
    }
    text
}

/// A short list from the ringing trainees: tabs, and a twelve-hour clock.
pub fn ringing() -> String {
    let rows = [
        ("Astrid", "14.03.2024 7:05 am"),
        ("Benicio", "14.03.2024 12:40 pm"),
        ("Chiyo", "2.04.2024 6:55 am"),
        ("Driss", "30.04.2024 12:10 am"),
    ];
    let rows: String = rows.iter().map(|(who, opened)| format!("{who}\t{opened}\t12\n")).collect();
    format!("trainee\tnet opened\tnets\n{rows}")
}

/// What a regional office exports: titles, semicolons, decimal commas, its own encoding, totals.
pub fn regional() -> Vec<u8> {
    let mut numbers = SplitMix64(7);
    let mut text = String::from(
        "Beringungszentrale Skarhölm;;;;;\r\nStand: 31.12.2024;;;;;\r\n\r\n\
         Ring;Fangtag;Flügellänge;Gewicht;Beringer;\r\n",
    );
    for row in 0..240_u64 {
        let day = written("{day:02}.{month:02}.{year}", day_of_2024(row * 366 / 240));
        let (wing, grams) = (60 + numbers.below(40), 9 + numbers.below(30));
        let who = ["Jürgen", "Ängla", "Søren"][numbers.below(3) as usize];
        let tenth = numbers.below(10);
        let _ = write!(text, "SK{:04};{day};{wing},0;{grams},{tenth};{who};\r\n", 100 + row);
    }
    text.push_str("Summe;;;4711,5;;\r\nEnde des Berichts\r\n");
    encode(&text)
}

fn encode(text: &str) -> Vec<u8> {
    use std::io::Write as _;
    let mut bytes = Vec::new();
    if let Some(charset) = Charset::named("windows-1252") {
        let mut encode = charset.encode(&mut bytes);
        // The encoding has every character that is written here.
        let _ = encode.write_all(text.as_bytes());
    }
    bytes
}

/// Places where rings are found, how letters from there write a day, and in which language.
const FINDERS: [(&str, &str, &str); 6] = [
    ("Skarholm", "nb", "{day}. {month:name} {year}"),
    ("Port Meridian", "en", "{month:name} {day}, {year}"),
    ("Cabo Sereno", "pt", "{day} de {month:name} de {year}"),
    ("Dar Wadi", "fr", "{day} {month:name} {year}"),
    ("Hoshizaki", "ja", "{year}年{month}月{day}日"),
    ("Laguna Norte", "es", "{day} de {month:name} de {year}"),
];

/// What finders of rings write, each in a language of their own. `answered` is noted by a volunteer
/// at Skarholm, in Polish.
pub fn finds() -> String {
    let mut numbers = SplitMix64(17);
    let mut text = String::from("ring,place,found,answered\n");
    for row in 0..180_u64 {
        let (place, language, layout) = FINDERS[numbers.below(6) as usize];
        let found = day_of_2024(row * 2);
        let answered = found.saturating_add(jiff::Span::new().days(3 + numbers.below(20) as i64));
        let found = written_in(language, layout, found);
        let answered = written_in("pl", "{day} {month:name} {year}", answered);
        let _ =
            writeln!(text, "LF{:05},{place},\"{found}\",{answered}", 10_000 + numbers.below(2_480));
    }
    text
}

/// What the winter watch at Hoshizaki notes: a clock without a year that goes over New Year, and the
/// day when a logger was set up, by the emperor's era.
pub fn winter() -> String {
    let mut numbers = SplitMix64(29);
    let mut text = String::from("logger,noted,set_up\n");
    let mut day = jiff::civil::date(2023, 12, 11);
    for row in 0..60_u64 {
        let clock = [numbers.below(24), numbers.below(60), numbers.below(60)];
        let [hour, minute, second] = clock.map(|number| format!("{number:02}"));
        let noted = format!("{} {hour}:{minute}:{second}", written("{month:short} {day: 2}", day));
        // Heisei 30 and 31, Reiwa 1 and 2.
        let set_up = jiff::civil::date(
            2018 + numbers.below(3) as i16,
            1 + numbers.below(12) as i8,
            1 + numbers.below(28) as i8,
        );
        let (era, first) = match set_up < jiff::civil::date(2019, 5, 1) {
            true => ("平成", 1989),
            false => ("令和", 2019),
        };
        let year = match set_up.year() - first + 1 {
            1 => "元".to_owned(),
            year => year.to_string(),
        };
        let _ = writeln!(
            text,
            "W{},{noted},{era}{year}年{}月{}日",
            1 + row % 4,
            set_up.month(),
            set_up.day()
        );
        day = day.saturating_add(jiff::Span::new().days(1));
    }
    text
}

/// What a logger writes: one JSON object a line, with keys inside keys.
pub fn logger() -> String {
    let mut numbers = SplitMix64(11);
    let mut text = String::new();
    for row in 0..90_u64 {
        let day = day_of_2024(60 + row);
        let (hour, minute) = (4 + numbers.below(3), numbers.below(60));
        let checked = match row % 15 {
            0 => format!("\"{}\"", written("{month}/{day}/{year}", day)),
            _ => "null".to_owned(),
        };
        let _ = writeln!(
            text,
            "{{\"logger\": \"H{}\", \"at\": \"{day}T{hour:02}:{minute:02}:00+09:00\", \
             \"site\": {{\"name\": \"Hoshizaki\", \"checked\": {checked}}}, \"volts\": 3.{}0}}",
            1 + row % 3,
            numbers.below(10)
        );
    }
    text
}

/// A station's workbook: titles above the table, days as date cells, and as text where a trainee
/// typed them into cells that were formatted as text.
#[cfg(feature = "workbook")]
pub fn station_book() -> Result<Vec<u8>, rust_xlsxwriter::XlsxError> {
    use rust_xlsxwriter::{ExcelDateTime, Format};
    let mut numbers = SplitMix64(13);
    let mut book = metachron_tables::deliver::empty_book()?;
    let dates = Format::new().set_num_format("yyyy-mm-dd");
    let sheet = book.add_worksheet().set_name("Net hours")?;
    sheet.write(0, 0, "Cabo Sereno, net hours of 2024")?;
    for (column, name) in (0..).zip(["net", "opened", "hours", "remark"]) {
        sheet.write(2, column, name)?;
    }
    for row in 0..60_u32 {
        let day = day_of_2024(u64::from(row) * 6);
        sheet.write(3 + row, 0, 1 + row % 12)?;
        if row % 10 == 4 {
            sheet.write(3 + row, 1, written("{day} {month:name} {year}", day))?;
        } else {
            let serial =
                ExcelDateTime::from_ymd(day.year() as u16, day.month() as u8, day.day() as u8)?;
            sheet.write_with_format(3 + row, 1, &serial, &dates)?;
        }
        sheet.write(3 + row, 2, numbers.below(60) as f64 / 10.0)?;
    }
    sheet.write(63, 0, "Total")?;
    sheet.write(63, 2, 171.4)?;
    book.add_worksheet().set_name("Nets")?.write(0, 0, "Twelve nets of 9 m.")?;
    book.save_to_buffer()
}

/// The list of nets as a workbook, whose cells are numbers without a format: some are empty, and one is
/// zero.
#[cfg(feature = "workbook")]
pub fn nets_book() -> Result<Vec<u8>, rust_xlsxwriter::XlsxError> {
    let mut book = metachron_tables::deliver::empty_book()?;
    let sheet = book.add_worksheet().set_name("Nets")?;
    for (column, name) in (0..).zip(["net", "opened"]) {
        sheet.write(0, column, name)?;
    }
    for row in 0..40_u32 {
        sheet.write(1 + row, 0, format!("N{:02}", 1 + row % 12))?;
        match row {
            _ if row % 9 == 5 => {}
            17 => drop(sheet.write(1 + row, 1, 0)?),
            _ => drop(sheet.write(1 + row, 1, 45_300 + row * 8)?),
        }
    }
    book.save_to_buffer()
}

/// Retraps, typed day first and opened once by a program that reads the month first: what it could
/// take for a date became one, with day and month exchanged, and the rest stayed text. Two cells were
/// corrected by hand since.
#[cfg(feature = "workbook")]
pub fn retraps_book() -> Result<Vec<u8>, rust_xlsxwriter::XlsxError> {
    use rust_xlsxwriter::{ExcelDateTime, Format};
    let mut numbers = SplitMix64(31);
    let mut book = metachron_tables::deliver::empty_book()?;
    let dates = Format::new().set_num_format("yyyy-mm-dd");
    let sheet = book.add_worksheet().set_name("Retraps")?;
    for (column, name) in (0..).zip(["ring", "place", "retrapped"]) {
        sheet.write(0, column, name)?;
    }
    for row in 0..140_u32 {
        let day = day_of_2024(numbers.below(366));
        sheet.write(1 + row, 0, format!("LF{:05}", 10_000 + numbers.below(ROWS)))?;
        sheet.write(1 + row, 1, STATIONS[numbers.below(6) as usize].0)?;
        let (month, of_month) = (day.month() as u8, day.day() as u8);
        let cell = match of_month {
            ..=12 => Some((of_month, month)),
            _ if row % 45 == 20 => Some((month, of_month)),
            _ => None,
        };
        match cell {
            Some((month, of_month)) => {
                let serial = ExcelDateTime::from_ymd(2024, month, of_month)?;
                sheet.write_with_format(1 + row, 2, &serial, &dates)?;
            }
            None => {
                sheet.write(1 + row, 2, written("{day:02}/{month:02}/{year}", day))?;
            }
        }
    }
    book.save_to_buffer()
}

fn written(layout: &str, day: Date) -> String {
    written_in("en", layout, day)
}

fn written_in(language: &str, layout: &str, day: Date) -> String {
    let lexicon = Locale::named(language).map_or(Lexicon::english(), Lexicon::of);
    match Layout::parse_yearless(layout) {
        Ok(layout) => spell(&layout, day.at(0, 0, 0, 0), jiff::tz::Offset::UTC, lexicon),
        Err(error) => error.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_scenario_is_the_same_in_every_run() {
        assert_eq!(captures(), captures());
        assert_eq!(captures().lines().count() as u64, ROWS + 1);
        assert_eq!(spring().lines().count() as u64, NEXT_ROWS + 1);
    }
}
