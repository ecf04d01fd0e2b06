//! What the values of a checked column show, in sentences: signs that they are not what they seem, what is required and
//! does not hold, and what is worth knowing beside.

use jiff::civil::Date;
use metachron_core::evidence::zones_that_skipped;
use metachron_core::lexicon::{Length, Lexicon};
use metachron_core::named::Named;
use metachron_core::text::{counted, grouped};
use metachron_core::timeline::{
    Gap, Holes, NamedPeriod, Requirement, Rule, Seen, SignKind, StandInHour, Step, Timeline,
};
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::verdict::Drift;
use metachron_core::zone::Zones;

use super::came_out::apart_in_words;
use crate::checking::{Checked, CheckedValues, ColumnCheck, Found};
use crate::choices::step_name;
use crate::conversion::TypedColumn;
use crate::words::{list, many, names_of_zones};

/// Something that a column shows.
pub struct Sign {
    /// Which one it is, if it may be right as it is.
    pub kind: Option<SignKind>,
    /// A word for it.
    pub code: &'static str,
    /// The same in sentences, without the last full stop.
    pub message: String,
    /// How many rows show it, and the first of them.
    pub rows: Option<(u64, u64)>,
}

impl Sign {
    fn of(kind: SignKind, message: String, rows: (u64, u64)) -> Sign {
        Sign { kind: Some(kind), ..Sign::new(kind.name(), message, rows) }
    }

    fn new(code: &'static str, message: String, rows: (u64, u64)) -> Sign {
        Sign { kind: None, code, message, rows: Some(rows).filter(|(rows, _)| *rows > 0) }
    }
}

/// What is looked at: a typed column, what its rows add up to, and what was looked at beside.
#[derive(Clone, Copy)]
pub struct Shown<'c> {
    /// The column.
    pub column: &'c TypedColumn<'c>,
    /// How its values lie in time.
    pub timeline: &'c Timeline,
    /// What was looked at beside.
    pub check: &'c ColumnCheck,
    /// What that has come to.
    pub tally: &'c CheckedValues,
}

impl Shown<'_> {
    fn name(&self) -> String {
        step_name(&self.column.source.plan.name)
    }

    fn rows(&self) -> u64 {
        self.tally.spacing.different + self.tally.spacing.repeats.rows
    }
}

/// Rows to come that are few among the others: one in so many.
const FEW: u64 = 10;
/// Rows to come that do not go on as rows came: one of so many.
const THINNER: u64 = 5;
/// Rows that are needed to be in the order of their texts by more than chance.
const IN_ORDER: u64 = 20;

/// Signs that the values of a column are not what they seem. The file may say by its name when they are of, and the column may
/// be its only one with dates.
pub fn signs(
    shown: Shown<'_>,
    (named, is_only): (Option<NamedPeriod>, bool),
    today: Date,
    zones: Zones,
) -> Vec<Sign> {
    let mut signs = Vec::new();
    apart(&mut signs, shown);
    signs.extend(to_come(shown, today).filter(|(is_sign, _)| *is_sign).map(|(_, sign)| sign));
    short_months(&mut signs, shown);
    stand_ins(&mut signs, shown);
    summer_time(&mut signs, shown, zones);
    text_order(&mut signs, shown);
    if let Some(named) = named {
        other_period(&mut signs, shown, named, is_only);
    }
    broken(&mut signs, shown);
    signs
}

fn apart(signs: &mut Vec<Sign>, shown: Shown<'_>) {
    for (apart, is_behind) in shown.timeline.days.apart().into_iter().zip([false, true]) {
        let Some(apart) = apart else { continue };
        let says = apart_in_words(&apart, is_behind);
        let help = "--fixes takes right answers for single cells";
        signs.push(Sign::of(SignKind::Apart, format!("{says} {help}"), (apart.rows, apart.first)));
    }
}

/// Rows after today, and whether they are few, and not as rows came before.
fn to_come(shown: Shown<'_>, today: Date) -> Option<(bool, Sign)> {
    // What lies outside of what was seen when the reading was saved is told as that.
    let is_told = |drift: &Drift| matches!(drift, Drift::OutOfRange { .. });
    if shown.column.source.drift().iter().any(is_told) {
        return None;
    }
    let Found { rows, first } = shown.tally.to_come;
    let first = first?;
    // Plans and dates of expiry lie in the time to come, and go on there as they came until now.
    let days = &shown.timeline.days;
    let before = days.iter().next_back().map_or(0, |(last, ..)| {
        let from = today.saturating_sub(last - today);
        days.iter().filter(|(day, ..)| from < *day && *day <= today).map(|(_, rows, _)| rows).sum()
    });
    let goes_on = before > 0 && rows * THINNER > before;
    let is_sign = rows * FEW <= shown.rows() && !goes_on;
    let mut says =
        format!("{} after today ({})", many(rows, "row", "lies", "lie"), first_seen(first));
    if is_sign {
        says.push_str(". --as-of says another day, --fixes takes right answers");
    }
    Some((is_sign, Sign::of(SignKind::AfterToday, says, (rows, first.row))))
}

fn short_months(signs: &mut Vec<Sign>, shown: Shown<'_>) {
    let months = shown.timeline.days.months_that_stop();
    let Some(first) = months.iter().map(|own| own.first).min() else { return };
    let rows: u64 = months.iter().map(|own| own.rows).sum();
    let named = months.iter().map(|own| TypedValue::Month(own.month).to_string());
    let says = format!(
        "The days of {} stop at 12, in {} (first in row {}): as if day and month stood in each other's place where both can \
         be a month. metachron survey with --column {} shows how else they can be read",
        list(named, "and", "more"),
        counted(rows, "row"),
        grouped(first),
        shown.name()
    );
    signs.push(Sign::of(SignKind::DaysStop, says, (rows, first)));
}

fn stand_ins(signs: &mut Vec<Sign>, shown: Shown<'_>) {
    let is_clock = matches!(shown.check.kind, Kind::DateTime | Kind::Instant);
    if let Some(StandInHour { hour, rows, first, is_all }) =
        shown.timeline.clocks.stand_in().filter(|_| is_clock)
    {
        let hour = if hour == 0 { "midnight" } else { "noon" };
        let says = match is_all {
            true => format!(
                "{} clock times are {hour}: perhaps these are days. --make 'day = {} | date' writes them so",
                all_of(rows),
                shown.name()
            ),
            false => format!(
                "{} exactly {hour} (first in row {}), far more than any other hour has: perhaps days whose clock time was \
                 not known",
                many(rows, "clock time", "is", "are"),
                grouped(first)
            ),
        };
        signs.push(Sign::of(SignKind::ClocksStandStill, says, (rows, first)));
    }
    if let Some(spike) = shown.timeline.days.spike() {
        let says = format!(
            "{} {} (first in row {}), and of the other days hardly any has more than {}: perhaps it stands for a date that was \
             not known. --missing with the text of these cells makes them empty",
            many(spike.rows, "row", "has", "have"),
            spike.date,
            grouped(spike.first),
            grouped(spike.usual)
        );
        signs.push(Sign::of(SignKind::Spike, says, (spike.rows, spike.first)));
    }
}

fn all_of(rows: u64) -> String {
    if rows == 2 { "Both".to_owned() } else { format!("All {}", grouped(rows)) }
}

/// An hour that only clocks with summer time lack.
fn summer_time(signs: &mut Vec<Sign>, shown: Shown<'_>, zones: Zones) {
    const HOUR: i128 = 3_600_000_000_000;
    let Some(Rule { step: Step::Nanos(step), .. }) = shown.tally.spacing.rule() else { return };
    if shown.check.kind != Kind::DateTime || step > HOUR {
        return;
    }
    let Some(steps) = shown.tally.spacing.steps_of(step + HOUR) else { return };
    let Gap { from, to } = steps.first;
    let TypedValue::DateTime(clock) = from.value else { return };
    let Ok(step) = i64::try_from(step) else { return };
    let Ok(skipped) = clock.checked_add(jiff::Span::new().nanoseconds(step)) else { return };
    let found = zones_that_skipped(skipped, zones);
    if found.is_empty() {
        return;
    }
    let says = format!(
        "An hour is missing behind {} (row {}): there the clocks of {} were put forward. These are clock times of a place; \
         --zone reads them as moments",
        from.value,
        grouped(from.row),
        names_of_zones(&found)
    );
    signs.push(Sign::of(SignKind::SummerTime, says, (steps.count, to.row)));
}

fn text_order(signs: &mut Vec<Sign>, shown: Shown<'_>) {
    let (texts, order) = (&shown.tally.texts, &shown.timeline.order);
    let Some([(before, earlier), (row, later)]) = order.falls.first else { return };
    if !texts.is_sorted() || texts.rises.count < IN_ORDER {
        return;
    }
    let says = format!(
        "Rows are in the order of their texts, not of time: row {} ({later}) stands behind row {} ({earlier}). --sort-by {} \
         writes them in the order of time",
        grouped(row),
        grouped(before),
        shown.name()
    );
    signs.push(Sign::of(SignKind::SortedAsText, says, (order.falls.count, row)));
}

fn other_period(signs: &mut Vec<Sign>, shown: Shown<'_>, named: NamedPeriod, is_only: bool) {
    let Found { rows, first: Some(first) } = shown.tally.outside else { return };
    let all = shown.rows();
    let exchanged = shown.tally.exchanged_inside;
    // Other columns of the file may tell of other times.
    let is_own = is_only || rows * FEW <= all || exchanged * 2 > rows;
    if !is_own {
        return;
    }
    let what = if named.value().kind() == Kind::Year { "year" } else { "month" };
    let inside = match exchanged * 2 > rows {
        true => format!(
            "; with day and month in each other's place {} would be of it. metachron survey with --column {} shows how else \
             they can be read",
            grouped(exchanged),
            shown.name()
        ),
        false => ". --where leaves rows out".to_owned(),
    };
    let says = format!(
        "The file is called {}, and {} of {} {} of another {what} ({}){inside}",
        named.value(),
        grouped(rows),
        counted(all, "row"),
        if rows == 1 { "is" } else { "are" },
        first_seen(first)
    );
    signs.push(Sign::of(SignKind::OtherPeriod, says, (rows, first.row)));
}

/// What is required and does not hold.
fn broken(signs: &mut Vec<Sign>, shown: Shown<'_>) {
    for (at, requirement) in shown.check.requirements.iter().enumerate() {
        if let Some((says, rows)) = breach(at, shown) {
            let says = format!("Required is {requirement}, but {says}");
            signs.push(Sign::new("required", says, rows));
        }
    }
}

/// How the requirement at a place does not hold, with how many rows show it and the first of them; none if it holds.
fn breach(at: usize, shown: Shown<'_>) -> Option<(String, (u64, u64))> {
    let spacing = &shown.tally.spacing;
    match &shown.check.requirements[at] {
        Requirement::Sorted => {
            let [_, (row, _)] = shown.timeline.order.falls.first?;
            Some((goes_back(shown)?, (shown.timeline.order.falls.count, row)))
        }
        Requirement::Unique => {
            let (_, again) = spacing.repeats.first?;
            Some((comes_again(shown)?, (spacing.repeats.rows, again)))
        }
        Requirement::Within(_) => {
            let Found { rows, first } = *shown.tally.out_of_range.get(at)?;
            let first = first?;
            let says = format!("{} not ({})", many(rows, "row", "is", "are"), first_seen(first));
            Some((says, (rows, first.row)))
        }
        Requirement::Complete(per) => {
            let holes = spacing.holes.iter().find(|own| own.per == *per)?;
            let Holes { count, first, .. } = holes;
            let first = (*first)?;
            let says =
                format!("{} no row, the first {first}", many(*count, per.name(), "has", "have"));
            Some((says, (0, 0)))
        }
        Requirement::Regular(step) => {
            let (unlike, first) = spacing.unlike(*step);
            let Gap { from, to } = first?;
            let says = format!(
                "{} of {} {} not, such as that from {} (row {}) to {} (row {})",
                grouped(unlike),
                counted(spacing.different - 1, "step"),
                if unlike == 1 { "is" } else { "are" },
                from.value,
                grouped(from.row),
                to.value,
                grouped(to.row)
            );
            Some((says, (unlike, to.row)))
        }
    }
}

/// Rows that lie before the one above them; none if no row does.
fn goes_back(shown: Shown<'_>) -> Option<String> {
    let falls = &shown.timeline.order.falls;
    let [(before, earlier), (row, later)] = falls.first?;
    Some(format!(
        "{} before the one above, first row {} ({later}) behind row {} ({earlier})",
        many(falls.count, "row", "lies", "lie"),
        grouped(row),
        grouped(before)
    ))
}

/// Rows that have the value of another; none if no row does.
fn comes_again(shown: Shown<'_>) -> Option<String> {
    let repeats = shown.tally.spacing.repeats;
    let (first, again) = repeats.first?;
    Some(format!(
        "{} the value of another, the earliest {} in rows {} and {}",
        many(repeats.rows, "row", "has", "have"),
        first.value,
        grouped(first.row),
        grouped(again)
    ))
}

fn first_seen(Seen { row, value }: Seen) -> String {
    format!("first in row {}: {value}", grouped(row))
}

/// Columns of which one lies before the other in nearly all rows, but not in all; each with the sentence, under the
/// column that should be the later one.
pub fn ends_before_beginnings(checked: &Checked<'_>) -> Vec<(usize, Sign)> {
    /// One in so many rows may be the other way around.
    const ODD: u64 = 20;
    let mut signs = Vec::new();
    for pair in &checked.tally.pairs {
        let (odd, usual, [earlier, later], first) = match pair.before >= pair.behind {
            true => (pair.behind, pair.before, pair.places, pair.first[1]),
            false => {
                let [first, second] = pair.places;
                (pair.before, pair.behind, [second, first], pair.first[0])
            }
        };
        let Some((row, values)) = first.filter(|_| odd * ODD <= usual && usual >= ODD) else {
            continue;
        };
        let name = |at: usize| step_name(&checked.plan.columns[at].source.plan.name);
        let mut values = values.map(|own| own.to_string());
        if pair.places != [earlier, later] {
            values.swap(0, 1);
        }
        let says = format!(
            "{} {} before {} (first in row {}: {} before {}); in {} it is the other way around. --where '{} | since {} | \
             as hours < 0' writes them alone",
            many(odd, "row", "has", "have"),
            name(later),
            name(earlier),
            grouped(row),
            values[1],
            values[0],
            counted(usual, "row"),
            name(later),
            name(earlier)
        );
        signs.push((later, Sign::of(SignKind::EndBeforeStart, says, (odd, row))));
    }
    signs
}

/// What is worth knowing of a column, and no sign of anything wrong.
pub fn notes(shown: Shown<'_>, today: Date) -> Vec<Sign> {
    let to_come = to_come(shown, today).filter(|(is_sign, _)| !is_sign);
    let mut notes: Vec<Sign> = to_come.map(|(_, sign)| sign).into_iter().collect();
    let mut say = |code: &'static str, message: String| {
        notes.push(Sign { kind: None, code, message, rows: None })
    };
    // Times of day and lengths of time follow each other in no table.
    if matches!(shown.check.kind, Kind::Time | Kind::Duration) {
        kept(shown, &mut say);
        return notes;
    }
    let order = &shown.timeline.order;
    match (goes_back(shown), order.rises.count) {
        (Some(_), 0) => say("sorted", "Sorted, the latest first".to_owned()),
        (Some(says), _) => say("unsorted", format!("Not in the order of time: {says}")),
        (None, 1..) => say("sorted", "Sorted".to_owned()),
        (None, 0) => {}
    }
    let has_clock = matches!(shown.check.kind, Kind::DateTime | Kind::Instant);
    if let Some(says) = comes_again(shown).filter(|_| has_clock) {
        say("repeats", says);
    }
    if let Some(rule) = shown.tally.spacing.rule() {
        regular(rule, shown, &mut say);
    }
    let weekdays = shown.timeline.days.absent_weekdays();
    if !weekdays.is_empty() {
        let english = Lexicon::english();
        let names = weekdays
            .iter()
            .map(|own| english.weekday(own.to_monday_one_offset().unsigned_abs(), Length::Full));
        say("no-weekday", format!("Never on a {}", list(names, "or", "more")));
    }
    let months = shown.timeline.days.absent_months();
    if !months.is_empty() {
        let english = Lexicon::english();
        let names = months.iter().map(|own| english.month(own.unsigned_abs(), Length::Full, false));
        say("no-month", format!("In no year in {}", list(names, "or", "more")));
    }
    kept(shown, &mut say);
    notes
}

/// What is required, and holds.
fn kept(shown: Shown<'_>, say: &mut impl FnMut(&'static str, String)) {
    let all = shown.check.requirements.iter().enumerate();
    let kept = all.filter(|(at, _)| breach(*at, shown).is_none());
    let kept: Vec<String> = kept.map(|(_, own)| own.to_string()).collect();
    if !kept.is_empty() {
        say("kept", format!("As required: {}", kept.join(", ")));
    }
}

/// Steps that most values keep.
fn regular(rule: Rule<'_>, shown: Shown<'_>, say: &mut impl FnMut(&'static str, String)) {
    /// Steps that show a rule, and the share in hundredths that keeps it.
    const STEPS: u64 = 10;
    const KEPT: u64 = 80;
    if rule.steps < STEPS || rule.kept * 100 < rule.steps * KEPT {
        return;
    }
    let every = match rule.step.to_string().split_once(' ') {
        Some(("1", unit)) => unit.to_owned(),
        _ => rule.step.to_string(),
    };
    let (gaps, missing) = rule.gaps();
    let mut says = format!("Every {every}");
    let mut but = Vec::new();
    if let (1.., Some(longest)) = (gaps, shown.tally.spacing.longest.first()) {
        let filled = match missing {
            0 => String::new(),
            1 => ", which 1 value would fill".to_owned(),
            _ => format!(", which {} values would fill", grouped(missing)),
        };
        but.push(format!(
            "{}{filled}, the longest {} from {} (row {})",
            counted(gaps, "gap"),
            longest.step(),
            longest.from.value,
            grouped(longest.from.row)
        ));
    }
    if rule.shorter() > 0 {
        but.push(format!(
            "{} that {} shorter",
            counted(rule.shorter(), "step"),
            if rule.shorter() == 1 { "is" } else { "are" }
        ));
    }
    match but.is_empty() {
        true => says.push_str(" without a gap"),
        false => {
            says.push_str(&format!(
                " in {} of {}, but for {}",
                grouped(rule.kept),
                counted(rule.steps, "step"),
                but.join(" and ")
            ));
        }
    }
    say("regular", says);
}
