//! Columns with known truth, drawn as whole scenarios. Nothing here uses the crate: numbers, calendar
//! and written forms are its own.

#[path = "../numbers/mod.rs"]
mod numbers;

pub use numbers::Numbers;

/// What a value really is: year, month, day.
pub type Truth = Option<(i32, u32, u32)>;

/// A column with what is known of it.
pub struct Column {
    pub scenario: &'static str,
    pub values: Vec<String>,
    pub truth: Vec<Truth>,
    pub resolved: Resolved,
}

/// Whether the values themselves say how they are to be read.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Resolved {
    /// By enough values that can only be read in one way.
    Yes,
    /// Not beyond doubt.
    No,
    /// They are no dates.
    NoDates,
}

impl Numbers {
    fn chance(&mut self, one_in: u64) -> bool {
        self.below(one_in) == 0
    }

    /// Rows of a column: mostly few, sometimes thousands.
    fn size(&mut self) -> usize {
        if self.chance(40) {
            return 2_000 + self.below(18_000) as usize;
        }
        let most = self.one(&[6, 20, 60, 200, 200, 600, 2_000]);
        3 + self.below(most) as usize
    }
}

type Day = (i32, u32, u32);

/// The day so many days after 1 March 2000 (Gregorian calendar, by counting whole cycles).
fn civil(days: i64) -> Day {
    let cycle = days.div_euclid(146_097);
    let of_cycle = days.rem_euclid(146_097);
    let year = (of_cycle - of_cycle / 1_460 + of_cycle / 36_524 - of_cycle / 146_096) / 365;
    let of_year = of_cycle - (365 * year + year / 4 - year / 100);
    let month = (5 * of_year + 2) / 153;
    let day = of_year - (153 * month + 2) / 5 + 1;
    let (month, carry) = if month < 10 { (month + 3, 0) } else { (month - 9, 1) };
    ((2000 + 400 * cycle + year + carry) as i32, month as u32, day as u32)
}

fn last_day(year: i32, month: u32) -> u32 {
    let leap = year % 4 == 0 && (year % 100 != 0 || year % 400 == 0);
    [31, if leap { 29 } else { 28 }, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month as usize - 1]
}

/// How somebody writes dates.
#[derive(Clone, Copy)]
pub struct Habit {
    order: &'static str,
    mark: char,
    padded: bool,
    short: bool,
    clock: bool,
}

impl Habit {
    fn any(numbers: &mut Numbers) -> Habit {
        let order = numbers.one(&["dmy", "dmy", "mdy", "mdy", "ymd"]);
        Habit {
            order,
            mark: numbers.one(&['/', '-', '.']),
            padded: numbers.chance(2),
            short: order != "ymd" && numbers.chance(4),
            clock: numbers.chance(4),
        }
    }

    fn write(&self, (year, month, day): Day, numbers: &mut Numbers) -> String {
        let two = |number: u32| match self.padded {
            true => format!("{number:02}"),
            false => number.to_string(),
        };
        let year =
            if self.short { format!("{:02}", year.rem_euclid(100)) } else { year.to_string() };
        let mark = self.mark;
        let mut text = match self.order {
            "dmy" => format!("{}{mark}{}{mark}{year}", two(day), two(month)),
            "mdy" => format!("{}{mark}{}{mark}{year}", two(month), two(day)),
            _ => format!("{year}{mark}{}{mark}{}", two(month), two(day)),
        };
        if self.clock {
            text.push_str(&format!(" {:02}:{:02}", numbers.below(24), numbers.below(60)));
        }
        text
    }
}

/// Whether enough different dates can only be read in the order in which they are written. Years of
/// two digits are another question and are left out.
fn is_told(habit: &Habit, days: &[Day]) -> Resolved {
    if habit.order == "ymd" && !habit.short {
        return Resolved::Yes;
    }
    let mut all: Vec<Day> = days.to_vec();
    all.sort_unstable();
    all.dedup();
    let telling = all.iter().filter(|(_, _, day)| *day > 12).count();
    let least = if all.len() > 12 { 3 } else { 2 };
    match !habit.short && telling >= least && telling * 100 > all.len() * 3 {
        true => Resolved::Yes,
        false => Resolved::No,
    }
}

fn column(
    scenario: &'static str,
    numbers: &mut Numbers,
    habit: Habit,
    days: Vec<Day>,
    noise_percent: u64,
) -> Column {
    let (mut values, mut truth) = (Vec::new(), Vec::new());
    for day in days {
        if noise_percent > 0 && numbers.below(100) < noise_percent {
            values.push(noise(numbers, &habit));
            truth.push(None);
        } else {
            values.push(habit.write(day, numbers));
            truth.push(Some(day));
        }
    }
    let written: Vec<Day> = truth.iter().flatten().copied().collect();
    Column { scenario, values, resolved: is_told(&habit, &written), truth }
}

/// Typing errors, stray text, placeholders, nothing.
fn noise(numbers: &mut Numbers, habit: &Habit) -> String {
    let mark = habit.mark;
    match numbers.below(7) {
        0 => format!("31{mark}02{mark}2024"),
        1 => format!("13{mark}13{mark}2024"),
        2 => "?".to_owned(),
        3 => "see note".to_owned(),
        4 => "N/A".to_owned(),
        5 => "00/00/0000".to_owned(),
        _ => String::new(),
    }
}

fn spread(numbers: &mut Numbers, size: usize) -> Vec<Day> {
    let (from, span) = (5_000 + numbers.below(3_000) as i64, 30 + numbers.below(1_500));
    let mut days: Vec<i64> = (0..size).map(|_| from + numbers.below(span) as i64).collect();
    if numbers.chance(2) {
        days.sort_unstable();
    }
    days.into_iter().map(civil).collect()
}

/// Captures of a season, by whoever writes them.
fn plain(numbers: &mut Numbers) -> Column {
    let (habit, size) = (Habit::any(numbers), numbers.size());
    let days = spread(numbers, size);
    let noise = numbers.below(4);
    column("dates in every order", numbers, habit, days, noise)
}

/// The first twelve days of months only.
fn early_days(numbers: &mut Numbers) -> Column {
    let (habit, size) = (Habit::any(numbers), numbers.size());
    let days =
        spread(numbers, size).into_iter().map(|(y, m, d)| (y, m, (d - 1) % 12 + 1)).collect();
    let own = column("days up to 12", numbers, habit, days, 0);
    // So many dates and not a late one: an import may have lost those, whatever the order of the others.
    let different: std::collections::BTreeSet<Day> = own.truth.iter().flatten().copied().collect();
    let resolved = if different.len() >= 15 { Resolved::No } else { own.resolved };
    Column { resolved, ..own }
}

/// Reports on two days of every month.
fn reports(numbers: &mut Numbers) -> Column {
    let habit = Habit::any(numbers);
    let second = numbers.one(&[10, 12, 15, 16, 20]);
    let months = 3 + numbers.below(120) as u32;
    let days = (0..months)
        .flat_map(|index| [1, second].map(|day| (2012 + (index / 12) as i32, index % 12 + 1, day)));
    let days = days.collect();
    column("reports twice a month", numbers, habit, days, 0)
}

/// The last day of every month.
fn month_ends(numbers: &mut Numbers) -> Column {
    let habit = Habit::any(numbers);
    let months = 3 + numbers.below(150) as u32;
    let days = (0..months).map(|index| {
        let (year, month) = (2010 + (index / 12) as i32, index % 12 + 1);
        (year, month, last_day(year, month))
    });
    let days = days.collect();
    column("ends of months", numbers, habit, days, 0)
}

/// The first day of every month, with typing errors.
fn month_starts(numbers: &mut Numbers) -> Column {
    let habit = Habit::any(numbers);
    let months = 6 + numbers.below(150) as u32;
    let mut days: Vec<Day> =
        (0..months).map(|index| (2010 + (index / 12) as i32, index % 12 + 1, 1)).collect();
    if numbers.chance(3) {
        // One report came late.
        let at = numbers.below(days.len() as u64) as usize;
        days[at].2 = 13 + numbers.below(15) as u32;
    }
    column("starts of months", numbers, habit, days, 0)
}

/// When the ringers were born.
fn births(numbers: &mut Numbers) -> Column {
    let habit = Habit { short: numbers.chance(2), clock: false, ..Habit::any(numbers) };
    let size = numbers.size();
    // From 1927 to 2010: with two digits nobody could tell 1926 from 2026.
    let days = (0..size).map(|_| civil(-26_700 + numbers.below(30_300) as i64)).collect();
    column("birth dates", numbers, habit, days, 0)
}

/// Every seventh day.
fn weekly(numbers: &mut Numbers) -> Column {
    let (habit, size) = (Habit::any(numbers), numbers.size().min(400));
    let first = 5_000 + numbers.below(3_000) as i64;
    let days = (0..size as i64).map(|week| civil(first + 7 * week)).collect();
    column("every week", numbers, habit, days, 0)
}

/// Whether both orders show: where the days of one of them never go beyond 12, nobody who looks at
/// this column alone could know that there are two.
fn shows_both(days: &[(bool, Day)]) -> bool {
    [true, false].iter().all(|own| days.iter().any(|(one, (_, _, day))| one == own && *day > 12))
}

/// Two offices, one of which writes the month first; nothing in the value tells which.
fn two_offices(numbers: &mut Numbers) -> Column {
    let one = Habit { order: "dmy", short: false, ..Habit::any(numbers) };
    let other = Habit { order: "mdy", ..one };
    let size = numbers.size().max(40);
    let share = 2 + numbers.below(6);
    let mut days: Vec<(bool, Day)> = Vec::new();
    while !shows_both(&days) {
        days = spread(numbers, size).into_iter().map(|day| (numbers.chance(share), day)).collect();
    }
    let (mut values, mut truth) = (Vec::new(), Vec::new());
    for (is_other, day) in days {
        let habit = if is_other { other } else { one };
        values.push(habit.write(day, numbers));
        truth.push(Some(day));
    }
    Column { scenario: "two offices", values, truth, resolved: Resolved::No }
}

/// A second delivery appended below, in another order, with a gap between them.
fn appended(numbers: &mut Numbers) -> Column {
    let first = Habit { order: "mdy", short: false, ..Habit::any(numbers) };
    let second = Habit { order: "dmy", ..first };
    let size = 20 + numbers.below(300) as usize;
    let cut = size / 4 + numbers.below(size as u64 / 2) as usize;
    let mut days: Vec<(bool, Day)> = Vec::new();
    while !shows_both(&days) {
        let all = spread(numbers, size);
        days = all.into_iter().enumerate().map(|(at, day)| (at < cut, day)).collect();
    }
    let (mut values, mut truth) = (Vec::new(), Vec::new());
    for (is_first, day) in days {
        let habit = if is_first { first } else { second };
        values.push(habit.write(day, numbers));
        truth.push(Some(day));
    }
    Column { scenario: "an appended block", values, truth, resolved: Resolved::No }
}

/// What an import by the other order leaves: ISO text where it could, with day and month exchanged,
/// and some cells corrected by hand.
fn half_swapped(numbers: &mut Numbers) -> Column {
    let order = numbers.one(&["dmy", "mdy"]);
    let habit = Habit { order, short: false, clock: false, ..Habit::any(numbers) };
    let size = 12 + numbers.below(400) as usize;
    let days = spread(numbers, size);
    let corrected = numbers.below(4);
    let (mut values, mut truth) = (Vec::new(), Vec::new());
    for day in days {
        let (year, month, of_month) = day;
        values.push(match of_month {
            ..=12 => format!("{year}-{of_month:02}-{month:02}"),
            _ if numbers.below(100) < corrected => format!("{year}-{month:02}-{of_month:02}"),
            _ => habit.write(day, numbers),
        });
        truth.push(Some(day));
    }
    Column { scenario: "half swapped", values, truth, resolved: Resolved::No }
}

/// `Apr-22` taken for 22 April of the year of the import, a few years of months.
fn month_year(numbers: &mut Numbers) -> Column {
    let (first, import) = (8 + numbers.below(8) as u32, 2024 + numbers.below(3) as i32);
    let last = (first + 2 + numbers.below(6) as u32).min(24);
    let (mut values, mut truth) = (Vec::new(), Vec::new());
    for year in first..=last {
        for month in 1..=12 {
            values.push(format!("{import}-{month:02}-{year:02}"));
            truth.push(Some((2000 + year as i32, month, 1)));
        }
    }
    Column { scenario: "months taken for days", values, truth, resolved: Resolved::No }
}

/// Two forms side by side, both honest.
fn two_forms(numbers: &mut Numbers) -> Column {
    let iso = Habit { order: "ymd", mark: '-', padded: true, short: false, clock: false };
    let habit =
        Habit { order: "dmy", mark: '/', short: false, clock: false, ..Habit::any(numbers) };
    let size = numbers.size().max(12);
    let days = spread(numbers, size);
    let (mut values, mut truth, mut slashed) = (Vec::new(), Vec::new(), Vec::new());
    for day in days {
        let by = if numbers.chance(2) { iso } else { habit };
        if by.mark == '/' {
            slashed.push(day);
        }
        values.push(by.write(day, numbers));
        truth.push(Some(day));
    }
    let resolved = is_told(&habit, &slashed);
    Column { scenario: "two honest forms", values, truth, resolved }
}

/// An office that writes on a few weekdays only.
fn some_weekdays(numbers: &mut Numbers) -> Column {
    let (habit, size) = (Habit::any(numbers), numbers.size());
    let first = 5_001 + 7 * numbers.below(400) as i64;
    let days = (0..size)
        .map(|_| civil(first + 7 * numbers.below(120) as i64 + numbers.one(&[0, 2])))
        .collect();
    column("two weekdays only", numbers, habit, days, 1)
}

/// Ids, prices, phone and version numbers, postal codes, coordinates, free text.
fn no_dates(numbers: &mut Numbers) -> Column {
    let which = numbers.below(12);
    let size = numbers.size();
    let values: Vec<String> = (0..size)
        .map(|row| match which {
            0 => format!("SK-{:04}", numbers.below(10_000)),
            1 => format!("{}.{:02}", numbers.below(500), numbers.below(100)),
            2 => format!("{},{:02}", numbers.below(500), numbers.below(100)),
            3 => format!(
                "0{} {:03} {:02} {:02}",
                20 + numbers.below(60),
                numbers.below(1000),
                numbers.below(100),
                numbers.below(100)
            ),
            4 => format!("{}.{}.{}", numbers.below(4), numbers.below(30), numbers.below(60)),
            5 => format!("{:05}", numbers.below(100_000)),
            6 => format!("{}.{:05}", numbers.below(90), numbers.below(100_000)),
            7 => numbers
                .one(&["adult", "first year", "mar", "may be wet", "sun", "net 4"])
                .to_owned(),
            8 => format!("{}", 1_000_000 + 7 * row as u64),
            9 => format!("{}", 20_000_000 + numbers.below(1_000_000)),
            10 => format!("{}/{}", numbers.below(30), 30 + numbers.below(30)),
            _ => format!("192.168.{}.{}", numbers.below(4), numbers.below(256)),
        })
        .collect();
    let truth = vec![None; values.len()];
    Column { scenario: "no dates", values, truth, resolved: Resolved::NoDates }
}

/// Every scenario.
pub const ALL: [fn(&mut Numbers) -> Column; 14] = [
    plain,
    early_days,
    reports,
    month_ends,
    month_starts,
    births,
    weekly,
    two_offices,
    appended,
    half_swapped,
    month_year,
    two_forms,
    some_weekdays,
    no_dates,
];

/// A mixed column with what stands beside it.
pub struct Table {
    pub column: Column,
    pub beside: Vec<(&'static str, Vec<String>)>,
    /// The columns that really tell who has written a value.
    pub clues: &'static [&'static str],
}

const STATIONS: [&str; 8] = [
    "Skarholm",
    "Port Meridian",
    "Cabo Sereno",
    "Dar Wadi",
    "Hoshizaki",
    "Laguna Norte",
    "Ostrava Ridge",
    "Kingfisher Cay",
];

/// Captures of several stations, some of which write the month first; the station and its country
/// stand beside, and so does who was there.
pub fn stations(numbers: &mut Numbers) -> Table {
    let one = Habit { order: "dmy", short: false, ..Habit::any(numbers) };
    let other = Habit { order: "mdy", ..one };
    let count = 2 + numbers.below(6) as usize;
    let month_first = 1 + numbers.below(count as u64 - 1) as usize;
    let size = 60 + numbers.size() * 2;
    let mut days: Vec<(bool, Day)> = Vec::new();
    let mut at: Vec<usize> = Vec::new();
    while !shows_both(&days) {
        at = (0..size).map(|_| numbers.below(count as u64) as usize).collect();
        let all = spread(numbers, size);
        days = all.into_iter().zip(&at).map(|(day, at)| (*at < month_first, day)).collect();
    }
    let text = |number: u64| format!("observer {number}");
    let observers = (0..size).map(|_| text(numbers.below(9))).collect();
    let (values, truth) = days
        .iter()
        .map(|(is_other, day)| {
            let habit = if *is_other { other } else { one };
            (habit.write(*day, numbers), Some(*day))
        })
        .unzip();
    let station = at.iter().map(|at| STATIONS[*at].to_owned()).collect();
    let country =
        at.iter().map(|at| if *at < month_first { "A" } else { "B" }.to_owned()).collect();
    Table {
        column: Column {
            scenario: "stations of two habits",
            values,
            truth,
            resolved: Resolved::No,
        },
        beside: vec![
            ("ring", ring_numbers(size)),
            ("station", station),
            ("by", observers),
            ("land", country),
        ],
        clues: &["station", "land"],
    }
}

fn ring_numbers(size: usize) -> Vec<String> {
    (0..size).map(|row| format!("LF{row:05}")).collect()
}

/// Two offices, and nothing beside the values tells which.
pub fn no_clue(numbers: &mut Numbers) -> Table {
    let mut column = two_offices(numbers);
    column.scenario = "two offices without a clue";
    let size = column.values.len();
    let mut some = |of: u64| (0..size).map(|_| numbers.below(of).to_string()).collect();
    let beside = vec![
        ("net", some(12)),
        ("wind", some(4)),
        ("age", some(3)),
        ("sex", some(2)),
        ("bag", some(40)),
    ];
    Table { column, beside, clues: &[] }
}

/// Two offices; beside them what an import that read the month first has made of the values.
pub fn computed(numbers: &mut Numbers) -> Table {
    let mut column = two_offices(numbers);
    column.scenario = "columns computed from the dates";
    let parts = |value: &String| -> Vec<u32> {
        value.split(|c: char| !c.is_ascii_digit()).filter_map(|part| part.parse().ok()).collect()
    };
    let first = column.values.iter().map(|value| parts(value)[0].to_string()).collect();
    let month = |value: &String| match parts(value)[0] {
        month @ 1..=12 => format!("month {month}"),
        _ => String::new(),
    };
    let months = column.values.iter().map(month).collect();
    let read = |value: &String| (parts(value)[0] <= 12).to_string();
    let valid = column.values.iter().map(read).collect();
    let beside = vec![("first", first), ("month", months), ("valid", valid)];
    Table { column, beside, clues: &[] }
}

/// Two offices in a column that is sorted as text.
pub fn sorted_as_text(numbers: &mut Numbers) -> Table {
    let mut column = two_offices(numbers);
    column.scenario = "two offices, sorted as text";
    let mut rows: Vec<(String, Truth)> = column.values.into_iter().zip(column.truth).collect();
    rows.sort();
    (column.values, column.truth) = rows.into_iter().unzip();
    Table { column, beside: Vec::new(), clues: &[] }
}

/// A second delivery below the first.
pub fn two_deliveries(numbers: &mut Numbers) -> Table {
    Table { column: appended(numbers), beside: Vec::new(), clues: &[] }
}

/// Every table.
pub const TABLES: [fn(&mut Numbers) -> Table; 5] =
    [stations, no_clue, computed, sorted_as_text, two_deliveries];
