//! What scenarios are drawn from: numbers, days and hands that write them. Nothing here uses the crate: chance,
//! calendar and written forms are its own.

#[path = "../../numbers/mod.rs"]
mod numbers;

pub use numbers::Numbers;

/// A day: year, month, day.
pub type Day = (i32, u32, u32);

impl Numbers {
    pub fn percent(&mut self, share: u64) -> bool {
        self.below(100) < share
    }

    pub fn half(&mut self) -> bool {
        self.below(2) == 0
    }

    /// Rows of a column: mostly few, now and then thousands.
    pub fn size(&mut self) -> usize {
        if self.below(60) == 0 {
            return 2_000 + self.up_to(18_000);
        }
        let most = self.one(&[10, 20, 60, 200, 200, 600, 1_500]);
        2 + self.up_to(most)
    }
}

/// The day so many days after 1 March 2000 (Gregorian calendar, by counting whole cycles).
pub fn civil(days: i64) -> Day {
    let cycle = days.div_euclid(146_097);
    let of_cycle = days.rem_euclid(146_097);
    let year = (of_cycle - of_cycle / 1_460 + of_cycle / 36_524 - of_cycle / 146_096) / 365;
    let of_year = of_cycle - (365 * year + year / 4 - year / 100);
    let month = (5 * of_year + 2) / 153;
    let day = of_year - (153 * month + 2) / 5 + 1;
    let (month, carry) = if month < 10 { (month + 3, 0) } else { (month - 9, 1) };
    ((2000 + 400 * cycle + year + carry) as i32, month as u32, day as u32)
}

/// Days from 1899-12-30, as spreadsheets count them.
pub fn serial((year, month, day): Day) -> i64 {
    // 1899-12-30 lies 36,586 days before 2000-03-01.
    let (year, month) = if month > 2 { (year, month - 3) } else { (year - 1, month + 9) };
    let years = i64::from(year) - 2000;
    let days = 365 * years + years.div_euclid(4) - years.div_euclid(100) + years.div_euclid(400);
    days + i64::from((153 * month + 2) / 5) + i64::from(day) - 1 + 36_586
}

pub fn last_day(year: i32, month: u32) -> u32 {
    let leap = year % 4 == 0 && (year % 100 != 0 || year % 400 == 0);
    [31, if leap { 29 } else { 28 }, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month as usize - 1]
}

pub fn iso((year, month, day): Day) -> String {
    format!("{year:04}-{month:02}-{day:02}")
}

const MONTHS: [&str; 12] =
    ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

pub fn month_name(month: u32) -> &'static str {
    MONTHS[month as usize - 1]
}

/// How somebody writes dates.
#[derive(Clone, Copy, PartialEq)]
pub struct Habit {
    /// `dmy`, `mdy` or `ymd`.
    pub order: &'static str,
    pub mark: char,
    pub padded: bool,
}

impl Habit {
    /// A habit of regions that put the year last.
    pub fn regional(numbers: &mut Numbers) -> Habit {
        Habit {
            order: numbers.one(&["dmy", "mdy"]),
            mark: numbers.one(&['/', '-', '.']),
            padded: numbers.half(),
        }
    }

    /// The same with day and month the other way round.
    pub fn turned(self) -> Habit {
        Habit { order: if self.order == "dmy" { "mdy" } else { "dmy" }, ..self }
    }

    pub fn write(&self, (year, month, day): Day) -> String {
        let two = |number: u32| match self.padded {
            true => format!("{number:02}"),
            false => number.to_string(),
        };
        let mark = self.mark;
        match self.order {
            "dmy" => format!("{}{mark}{}{mark}{year}", two(day), two(month)),
            "mdy" => format!("{}{mark}{}{mark}{year}", two(month), two(day)),
            _ => format!("{year}{mark}{}{mark}{}", two(month), two(day)),
        }
    }
}

/// How days lie in time.
#[derive(Clone, Copy, PartialEq, Debug)]
pub enum Days {
    Any,
    Sorted,
    Weekly,
    MonthStarts,
    /// The 1st and the 15th.
    TwoAMonth,
    QuarterEnds,
}

pub const EVERY_WAY: [Days; 6] =
    [Days::Any, Days::Sorted, Days::Weekly, Days::MonthStarts, Days::TwoAMonth, Days::QuarterEnds];

/// So many days.
pub fn days(numbers: &mut Numbers, size: usize, way: Days) -> Vec<Day> {
    let (from, span) = (5_000 + numbers.below(3_000) as i64, 60 + numbers.below(1_500));
    let first_month = 2010 * 12 + numbers.below(60) as i64;
    let month = |index: i64| {
        let all = first_month + index;
        (all.div_euclid(12) as i32, all.rem_euclid(12) as u32 + 1)
    };
    match way {
        Days::Any | Days::Sorted => {
            let mut all: Vec<i64> = (0..size).map(|_| from + numbers.below(span) as i64).collect();
            if way == Days::Sorted {
                all.sort_unstable();
            }
            all.into_iter().map(civil).collect()
        }
        Days::Weekly => (0..size as i64).map(|week| civil(from + 7 * (week % 600))).collect(),
        Days::MonthStarts => (0..size as i64)
            .map(|index| month(index % 120))
            .map(|(year, month)| (year, month, 1))
            .collect(),
        Days::TwoAMonth => (0..size as i64)
            .map(|index| (month(index / 2 % 120), index % 2))
            .map(|((year, month), second)| (year, month, if second == 1 { 15 } else { 1 }))
            .collect(),
        Days::QuarterEnds => (0..size as i64)
            .map(|index| month(3 * (index % 40)))
            .map(|(year, month)| (year, month, last_day(year, month)))
            .collect(),
    }
}

#[test]
fn serial_numbers_count_from_the_thirtieth_of_december() {
    assert_eq!(serial((1899, 12, 30)), 0);
    assert_eq!(serial((2024, 1, 1)), 45_292);
    assert_eq!(serial((2000, 3, 1)), 36_586);
}
