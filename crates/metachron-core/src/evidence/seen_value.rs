//! What a value of a column shows wherever it stands.

use jiff::civil::{Date, DateTime};

use super::dates::WrittenDate;
use super::padding::Padding;
use super::{Days, Fits};
use crate::order::Alternative;
use crate::reading::Fit;
use crate::typed::TypedValue;

/// What the candidates of a family make of a value. What is asked for in each of its rows stands first, so that it is in
/// one place of memory.
#[derive(Debug, Clone, Copy)]
#[repr(C)]
pub(super) struct SeenValue {
    pub fits: Fits,
    /// Whether it fits some of the alternatives of its form and not others.
    pub is_vote: bool,
    /// Whether those that fit make different things of it.
    pub differs: bool,
    /// How its first two numbers are written.
    pub padding: Padding,
    /// Whether what it is taken for has a day and no year.
    pub yearless: bool,
    /// Whether it stands in a leap second.
    pub leap_second: bool,
    /// The hash of the date as it is written.
    pub hash: u64,
    /// The date as it is written.
    pub dated: Option<WrittenDate>,
    /// Its day, as each order takes it.
    pub days: Option<Days>,
    /// What it is taken for, if that is a clock time without a zone.
    pub clock: Option<DateTime>,
    /// What those make of it that fit.
    taken: [Option<Taken>; MOST],
    /// What it is taken for: by the layouts that were said, if there are any.
    pub first: Option<Fit>,
}

/// A family has so many candidates at most.
const MOST: usize = 6;

/// What a candidate takes a value for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Taken {
    pub order: Alternative,
    pub moment: TypedValue,
    /// The day as it is written.
    pub written: Option<Date>,
    /// The digits of its fraction of a second.
    pub fraction_digits: u8,
}

impl SeenValue {
    /// Adds what the candidate of this number takes it for, if it fits.
    pub(super) fn take(&mut self, index: usize, order: Alternative, fit: Option<Fit>) {
        let Some(fit) = fit else {
            self.fits = self.fits.with(order, None);
            return;
        };
        let Fit { moment, written, fraction_digits, .. } = fit;
        let equal = self.taken().position(|other| other.moment == moment);
        self.fits = self.fits.with(order, Some(equal.unwrap_or(index) as u8));
        self.first.get_or_insert(fit);
        let room = self.taken.iter_mut().find(|own| own.is_none());
        if let Some(room) = room {
            *room = Some(Taken { order, moment, written, fraction_digits });
        }
    }

    /// Ends it, once all candidates were asked for these alternatives.
    pub(super) fn settle(&mut self, possible: &[Alternative]) {
        let fitting = possible.iter().filter(|own| self.fits.fits(**own)).count();
        self.is_vote = (1..possible.len()).contains(&fitting);
        self.differs = self.fits.differ(possible);
        self.days = Days::of(self.taken().filter_map(|own| Some((own.order, own.written?))));
        self.leap_second = self.first.is_some_and(|fit| fit.leap_second);
        self.take_for(self.first);
    }

    /// Of a value that only a layout which was said reads.
    pub(super) fn of_given(fit: Fit) -> SeenValue {
        let mut seen = SeenValue::NOTHING;
        seen.take_for(Some(fit));
        seen
    }

    /// It is taken for this.
    pub(super) fn take_for(&mut self, first: Option<Fit>) {
        self.clock = first.and_then(|fit| match fit.moment {
            TypedValue::DateTime(clock) => Some(clock),
            _ => None,
        });
        self.yearless = first.is_some_and(|fit| fit.yearless);
        self.first = first;
    }

    /// Of a value that nothing fits.
    pub(super) const NOTHING: SeenValue = SeenValue {
        fits: Fits::NONE,
        is_vote: false,
        differs: false,
        padding: Padding::NONE,
        yearless: false,
        leap_second: false,
        hash: 0,
        dated: None,
        days: None,
        clock: None,
        taken: [None; MOST],
        first: None,
    };

    /// What each candidate takes it for that fits.
    pub(super) fn taken(&self) -> impl Iterator<Item = &Taken> {
        // Behind the first place without one there are none: to look there would take as long as all else.
        self.taken.iter().map_while(Option::as_ref)
    }
}
