//! What words stand for.

/// What a word stands for, as one byte.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Code {
    MonthFull(u8),
    MonthShort(u8),
    MonthNarrow(u8),
    WeekdayFull(u8),
    WeekdayShort(u8),
    Am,
    Pm,
    Bce,
    Ce,
    Ordinal,
    /// A month of another calendar.
    OtherMonth(u8),
    /// The era of another calendar.
    OtherEra,
    /// An era beside BC and AD, in the order of the core's eras from 2 on.
    Era(u8),
    /// The same by a single letter, in a language that is known.
    EraLetter(u8),
    Noon,
    Midnight,
    /// A part of the day, by its place in the list of their hours.
    Period(u8),
}

impl Code {
    /// The byte.
    pub fn byte(self) -> u8 {
        match self {
            Code::MonthFull(n) => n,
            Code::MonthShort(n) => 12 + n,
            Code::MonthNarrow(n) => 24 + n,
            Code::WeekdayFull(n) => 40 + n,
            Code::WeekdayShort(n) => 47 + n,
            Code::Am => 61,
            Code::Pm => 62,
            Code::Bce => 65,
            Code::Ce => 66,
            Code::Ordinal => 70,
            Code::OtherMonth(n) => 70 + n,
            Code::Era(n) => 83 + n,
            Code::EraLetter(n) => 90 + n,
            Code::OtherEra => 99,
            Code::Noon => 100,
            Code::Midnight => 101,
            Code::Period(n) => 102 + n,
        }
    }

    /// Words with the same role exclude each other; the number tells whether they differ.
    pub fn role(self) -> (u8, u8) {
        match self {
            Code::MonthFull(n) | Code::MonthShort(n) | Code::MonthNarrow(n) => (0, n),
            Code::WeekdayFull(n) | Code::WeekdayShort(n) => (1, n),
            Code::Am => (2, 1),
            Code::Pm => (2, 2),
            Code::Bce => (3, 1),
            Code::Ce => (3, 2),
            Code::Ordinal => (4, 1),
            Code::OtherMonth(n) => (0, n),
            Code::Era(n) | Code::EraLetter(n) => (3, 1 + n),
            Code::OtherEra => (3, 1),
            Code::Noon => (2, 3),
            Code::Midnight => (2, 4),
            Code::Period(n) => (2, 5 + n),
        }
    }
}
