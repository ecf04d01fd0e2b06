//! The offsets of a zone, laid out so that one clock time or moment is looked up in a few steps.

use jiff::Timestamp;
use jiff::tz::TimeZone;

/// Changes of offset are laid out up to this year; beyond it the zone's own rule is asked.
const LAST_YEAR: i16 = 2200;

/// What a zone's clocks do at some clock time.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Local {
    /// It comes once, at this offset in seconds.
    Once(i32),
    /// The clocks are put forward over it: the offset before, and the one after.
    Skipped(i32, i32),
    /// It comes twice: with the offset before, and with the one after.
    Twice(i32, i32),
    /// Ask the rule itself.
    Ask,
}

/// What holds from some moment on.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct OffsetPeriod {
    /// Seconds east of Greenwich.
    pub offset: i32,
    /// Whether it is summer time.
    pub is_summer: bool,
    /// What the offset is called there.
    pub abbreviation: Box<str>,
}

/// Values that hold up to some second each.
#[derive(Debug)]
struct OffsetSteps<T> {
    /// The first second behind each value's stretch.
    until: Vec<i64>,
    value: Vec<T>,
    /// For each stretch of 2²² seconds, the value that holds at its beginning.
    index: Vec<u16>,
    from: i64,
}

/// About 48 days: less than two changes of offset, as a rule.
const STRETCH: u32 = 22;

impl<T> OffsetSteps<T> {
    /// Of ends in rising order, the last of which is never reached.
    fn new(until: Vec<i64>, value: Vec<T>) -> OffsetSteps<T> {
        // The last period has no end: what stands in its place is no second of any clock.
        let ends = until.split_last().map_or(&[][..], |(_, ends)| ends);
        let from = ends.first().copied().unwrap_or(0);
        let to = ends.last().copied().unwrap_or(from);
        let stretches = ((to - from) >> STRETCH) + 2;
        let at = |stretch: i64| {
            let second = from + (stretch << STRETCH);
            until.partition_point(|until| *until <= second).min(usize::from(u16::MAX)) as u16
        };
        let index = (0..stretches).map(at).collect();
        OffsetSteps { until, value, index, from }
    }

    /// Which value holds at a second.
    #[inline]
    fn at(&self, second: i64) -> usize {
        // What changes no more holds for most values of most columns.
        let last = self.value.len() - 1;
        if last == 0 || second >= self.until[last - 1] {
            return last;
        }
        let stretch = ((second - self.from) >> STRETCH).clamp(0, self.index.len() as i64 - 1);
        let mut at = match second < self.from {
            true => 0,
            false => usize::from(self.index[stretch as usize]),
        };
        while self.until[at] <= second {
            at += 1;
        }
        at
    }
}

/// The rules of one zone.
#[derive(Debug)]
pub(super) struct ZoneRules {
    zone: TimeZone,
    moments: OffsetSteps<OffsetPeriod>,
    clocks: OffsetSteps<Local>,
}

impl ZoneRules {
    pub(super) fn new(zone: TimeZone) -> ZoneRules {
        let first = zone.to_offset_info(Timestamp::MIN);
        let mut period = OffsetPeriod {
            offset: first.offset().seconds(),
            is_summer: first.dst().is_dst(),
            abbreviation: first.abbreviation().into(),
        };
        let (mut moments, mut periods) = (Vec::new(), Vec::new());
        let mut clocks: Vec<(i64, Local)> = Vec::new();
        let mut push = |until: i64, local: Local| match clocks.last() {
            // Changes so close that a clock time is touched by both: the rule itself knows.
            Some((last, _)) if *last > until => {
                let last = *last;
                while clocks.last().is_some_and(|(end, _)| *end > until) {
                    clocks.pop();
                }
                clocks.push((last, Local::Ask));
            }
            Some((last, _)) if *last == until => {}
            _ => clocks.push((until, local)),
        };
        let mut ends = true;
        for change in zone.following(Timestamp::MIN) {
            let at = change.timestamp().as_second();
            if change.timestamp().to_zoned(TimeZone::UTC).year() > LAST_YEAR {
                ends = false;
                break;
            }
            let next = OffsetPeriod {
                offset: change.offset().seconds(),
                is_summer: change.dst().is_dst(),
                abbreviation: change.abbreviation().into(),
            };
            let (before, after) = (period.offset, next.offset);
            let (early, late) =
                (at + i64::from(before.min(after)), at + i64::from(before.max(after)));
            if before != after {
                push(early, Local::Once(before));
                let between = match after > before {
                    true => Local::Skipped(before, after),
                    false => Local::Twice(before, after),
                };
                push(late, between);
            }
            moments.push(at);
            periods.push(std::mem::replace(&mut period, next));
        }
        let last = if ends { Local::Once(period.offset) } else { Local::Ask };
        // What is beyond is asked one day early, so that both tables end before the next change.
        moments.push(i64::MAX);
        periods.push(period);
        push(i64::MAX, last);
        let (until, value) = clocks.into_iter().unzip();
        ZoneRules {
            zone,
            moments: OffsetSteps::new(moments, periods),
            clocks: OffsetSteps::new(until, value),
        }
    }

    /// What the clocks do at a clock time, in seconds from 1970-01-01T00:00 of the same clock.
    #[inline]
    pub(super) fn local(&self, second: i64) -> &Local {
        &self.clocks.value[self.clocks.at(second)]
    }

    /// The seconds between which the clocks do what they do at this one, where they skip or repeat.
    pub(super) fn stretch(&self, second: i64) -> Option<(i64, i64)> {
        let at = self.clocks.at(second);
        let changes = matches!(self.clocks.value[at], Local::Skipped(..) | Local::Twice(..));
        let from = at.checked_sub(1).map(|before| self.clocks.until[before])?;
        changes.then(|| (from, self.clocks.until[at]))
    }

    /// What holds at a moment; none beyond what is laid out.
    #[inline]
    pub(super) fn period(&self, moment: Timestamp) -> Option<&OffsetPeriod> {
        let at = self.moments.at(moment.as_second());
        let is_last = at + 1 == self.moments.value.len();
        (!is_last || self.clocks.value.last() != Some(&Local::Ask)).then(|| &self.moments.value[at])
    }

    /// The rule itself.
    pub(super) fn zone(&self) -> &TimeZone {
        &self.zone
    }
}
