//! The rows of one form as they come.

use super::dates::{DateSieve, WrittenDate};
use super::{Fits, Group, Thinning};
use crate::candidates::Form;

/// See the module.
pub(super) struct GroupSums {
    pub form: Form,
    /// The rows, apart from their different dates.
    pub group: Group,
    dates: DateSieve,
}

impl GroupSums {
    pub(super) fn of(form: Form, all_digits: bool) -> GroupSums {
        let dates = DateSieve::up_to(Thinning::NONE.dates());
        GroupSums { form, group: Group::new(all_digits), dates }
    }

    /// Adds a date.
    pub(super) fn observe(&mut self, hash: u64, written: WrittenDate, fits: Fits) {
        self.dates.observe(hash, written, fits);
    }

    /// The group, which then is that of no rows; none if it is that already.
    pub(super) fn take(&mut self) -> Option<(Form, Group)> {
        if self.group.tallies.is_empty() {
            return None;
        }
        let none = GroupSums::of(self.form.clone(), self.group.all_digits);
        let GroupSums { form, group, dates } = std::mem::replace(self, none);
        Some((form, Group { dates: dates.finish(), ..group }))
    }

    /// Keeps so many different dates at most from now on.
    pub(super) fn keep_only(&mut self, dates: usize) {
        self.dates.keep_only(dates);
    }

    /// About how many bytes it takes.
    pub(super) fn weight(&self) -> usize {
        self.group.weight() + self.dates.weight()
    }
}
