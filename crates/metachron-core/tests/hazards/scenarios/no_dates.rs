//! Numbers that run on, seasons and measures: what is written like dates or lengths of time and is none.

use super::draw::{Days, EVERY_WAY, Numbers, civil, days, last_day};
use super::table::{Cell, Table};

fn nothing(texts: impl Iterator<Item = String>) -> Table {
    Table::of(texts.map(|text| (Cell::Text(text), None)).collect())
}

/// Numbers that begin anew with the month or the year, a few of which are missing.
fn running(numbers: &mut Numbers, in_months: bool) -> Table {
    let missing = numbers.one(&[0, 0, 5, 15]);
    let (first, count) = (2012 + numbers.below(12), 3 + numbers.below(14));
    let is_dashed = numbers.half();
    let mut rows = Vec::new();
    for period in 0..count {
        let (year, month) = (first + period / 12, period % 12 + 1);
        let last = if in_months { 12 + numbers.below(30) } else { 60 + numbers.below(300) };
        for number in 1..=last {
            if numbers.percent(missing) {
                continue;
            }
            rows.push(match (in_months, is_dashed) {
                (true, _) => format!("{year}{month:02}{number:02}"),
                (false, true) => format!("{}-{number:03}", first + period),
                (false, false) => format!("{}{number:03}", first + period),
            });
        }
    }
    nothing(rows.into_iter())
}

/// `20240113` for the thirteenth case of a month.
pub fn numbers_of_months(numbers: &mut Numbers) -> Table {
    running(numbers, true)
}

/// `2024-013` for the thirteenth case of a year.
pub fn numbers_of_years(numbers: &mut Numbers) -> Table {
    running(numbers, false)
}

/// Dates in digits alone.
pub fn dates_in_digits(numbers: &mut Numbers) -> Table {
    let size = 40 + numbers.size();
    let way = numbers.one(&EVERY_WAY);
    let rows = days(numbers, size, way).into_iter().map(|(year, month, day)| {
        let truth = format!("{year}-{month:02}-{day:02}");
        (Cell::Text(format!("{year}{month:02}{day:02}")), Some(truth))
    });
    Table::of(rows.collect())
}

/// Periods of years behind them, each in some rows, a few of which are missing; all of them are days of 2020, too.
fn periods_in_digits(numbers: &mut Numbers, last: u32, iso: fn(u32, u32) -> String) -> Table {
    let missing = numbers.one(&[0, 0, 10, 40]);
    let (first, years) = (2001 + numbers.below(8), 1 + numbers.below(5));
    let each = 1 + numbers.up_to(5);
    let mut rows = Vec::new();
    for _ in 0..each {
        for period in 0..years * u64::from(last) {
            let year = (first + period / u64::from(last)).min(2012) as u32;
            let period = (period % u64::from(last)) as u32 + 1;
            if !numbers.percent(missing) {
                rows.push((Cell::Text(format!("{year}{period:02}")), Some(iso(year, period))));
            }
        }
    }
    if numbers.half() {
        rows.sort_by(|a, b| a.1.cmp(&b.1));
    }
    Table::of(rows)
}

/// `201105` for May of 2011.
pub fn months_in_digits(numbers: &mut Numbers) -> Table {
    periods_in_digits(numbers, 12, |year, month| format!("{year}-{month:02}"))
}

/// `201105` for the fifth week of 2011, of half a year or of a whole one.
pub fn weeks_in_digits(numbers: &mut Numbers) -> Table {
    let last = numbers.one(&[26, 30, 52]);
    periods_in_digits(numbers, last, |year, week| format!("{year}-W{week:02}"))
}

/// Days of 2019 and 2020 in digits with two for the year.
pub fn days_of_2020(numbers: &mut Numbers) -> Table {
    let (first, count) = (6_880 + numbers.below(40) as i64, 200 + numbers.below(450) as i64);
    let all: Vec<_> = (first..first + count).map(civil).filter(|(year, ..)| *year < 2021).collect();
    let rows = all.iter().map(|(year, month, day)| {
        let truth = format!("{year}-{month:02}-{day:02}");
        (Cell::Text(format!("{}{month:02}{day:02}", year - 2000)), Some(truth))
    });
    // Of one year alone the first two digits may be the day of a series, too.
    let told = all.iter().filter(|(year, ..)| *year == 2020).count() > 31;
    Table { told, ..Table::of(rows.collect()) }
}

/// Days of the year (ISO 8601-1, 5.2.3), `2024-123`.
pub fn days_of_the_year(numbers: &mut Numbers) -> Table {
    let size = 40 + numbers.size();
    let way = numbers.one(&[Days::Any, Days::Sorted, Days::Weekly, Days::TwoAMonth]);
    let rows = days(numbers, size, way).into_iter().map(|(year, month, day)| {
        let of_year = (1..month).map(|own| last_day(year, own)).sum::<u32>() + day;
        let truth = format!("{year}-{month:02}-{day:02}");
        (Cell::Text(format!("{year}-{of_year:03}")), Some(truth))
    });
    Table::of(rows.collect())
}

/// `2003/04` for the winter that begins in 2003.
pub fn seasons(numbers: &mut Numbers) -> Table {
    let (first, span) = (1998 + numbers.below(4), 3 + numbers.below(8));
    let (size, in_order) = (4 + numbers.up_to(200) as u64, numbers.half());
    let mark = numbers.one(&['/', '-']);
    let of = |year: u64| format!("{year}{mark}{:02}", (year + 1) % 100);
    let years: Vec<u64> = (0..size)
        .map(|at| first + if in_order { at % span } else { numbers.below(span) })
        .collect();
    nothing(years.into_iter().map(of))
}

/// Months of such years.
pub fn months(numbers: &mut Numbers) -> Table {
    months_as(numbers, |year, mark, month| format!("{year}{mark}{month:02}"))
}

/// The same without a zero before them, and with their years behind them.
pub fn plain_months(numbers: &mut Numbers) -> Table {
    months_as(numbers, |year, mark, month| format!("{month}{mark}{year}"))
}

/// Some months of some years, in this form.
fn months_as(numbers: &mut Numbers, text: impl Fn(u64, char, u64) -> String) -> Table {
    let (first, span) = (1998 + numbers.below(20), 3 + numbers.below(8));
    let mark = numbers.one(&['/', '-']);
    let rows = (0..30 + numbers.up_to(200)).map(|_| {
        let (year, month) = (first + numbers.below(span), 1 + numbers.below(12));
        (Cell::Text(text(year, mark, month)), Some(format!("{year}-{month:02}")))
    });
    Table::of(rows.collect())
}

/// Lengths in millimetres.
pub fn measures(numbers: &mut Numbers) -> Table {
    let size = 3 + numbers.up_to(200);
    let unit = numbers.one(&["mm", "km", "kg", "g", "cm"]);
    nothing((0..size).map(|_| format!("{} {unit}", 40 + numbers.below(400))))
}

/// A length of time of so many seconds, as ISO 8601 has it without days.
fn duration(seconds: u64) -> String {
    let (hours, minutes, rest) = (seconds / 3600, seconds / 60 % 60, seconds % 60);
    let mut text = "PT".to_owned();
    for (count, unit) in [(hours, 'H'), (minutes, 'M'), (rest, 'S')] {
        if count > 0 {
            text.push_str(&format!("{count}{unit}"));
        }
    }
    if seconds == 0 { "PT0S".to_owned() } else { text }
}

/// Quarters of at least four years, beside their year.
pub fn quarters(numbers: &mut Numbers) -> Table {
    let (first, years) = (2008 + numbers.below(8) as i32, 4 + numbers.below(8) as i32);
    let year_first = numbers.half();
    let mark = numbers.one(&['/', '-']);
    let each = 1 + numbers.up_to(20);
    let mut rows = Vec::new();
    for _ in 0..each {
        for quarter in 4 * first..4 * (first + years) {
            let (year, quarter) = (quarter / 4, quarter % 4 + 1);
            let text = match year_first {
                true => format!("{year}{mark}{quarter}"),
                false => format!("{quarter}{mark}{year}"),
            };
            rows.push((Cell::Text(text), Some(format!("{year}-Q{quarter}"))));
        }
    }
    Table::of(rows)
}

/// Minutes with points between thousands, beside some with a decimal comma.
pub fn points_between_thousands(numbers: &mut Numbers) -> Table {
    let rows = (0..20 + numbers.up_to(200)).map(|_| match numbers.below(3) {
        0 => {
            let tenths = numbers.below(900);
            let text = format!("{},{} min", tenths / 10, tenths % 10);
            (Cell::Text(text), Some(duration(tenths * 6)))
        }
        1 => {
            let minutes = numbers.below(999) + 1;
            (Cell::Text(format!("{minutes} min")), Some(duration(minutes * 60)))
        }
        _ => {
            let (thousands, rest) = (1 + numbers.below(3), numbers.below(1000));
            let text = format!("{thousands}.{rest:03} min");
            (Cell::Text(text), Some(duration((thousands * 1000 + rest) * 60)))
        }
    });
    Table::of(rows.collect())
}

/// Minutes with decimals of one kind.
pub fn decimal_minutes(numbers: &mut Numbers) -> Table {
    let mark = numbers.one(&['.', ',']);
    let rows = (0..20 + numbers.up_to(200)).map(|_| {
        let tenths = numbers.below(900);
        let text = format!("{}{mark}{} min", tenths / 10, tenths % 10);
        (Cell::Text(text), Some(duration(tenths * 6)))
    });
    Table::of(rows.collect())
}
