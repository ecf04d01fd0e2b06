//! The case of a column: its evidence, what was said of it, and what follows from both without any rule. Built
//! once; every rule looks at the same case.

use super::answer::Answer;
use super::form::{JudgedForm, State, reads};
use super::model::Asserted;
use super::origins::{CountingNumbers, counting_numbers};
use super::weighing::weighed;
use crate::candidates::{Form, Style};
use crate::evidence::{Evidence, Fits, Group, ObserveOptions, Occurrences};
use crate::layout::Layout;
use crate::lexicon::{Difference, Lexicon, Locale};
use crate::order::Alternative;
use crate::reading::{Clocks, Unfit, Years, interpret};
use crate::text::normalise;
use crate::typed::Kind;

/// Numbers that are taken for dates only where that many valid ones by chance are as improbable.
const BY_CHANCE: f64 = 1e-6;

/// Everything that rules look at.
pub(super) struct Case<'e> {
    pub evidence: &'e Evidence,
    /// How the values were looked at.
    pub options: &'e ObserveOptions,
    pub asserted: &'e Asserted,
    /// Whether somebody has said that these are dates, or what numbers count.
    pub asked: bool,
    /// What the column is about, as far as it can be judged at all.
    pub subject: Subject,
    /// Rows by kind, the most frequent first.
    pub kinds: Vec<(Kind, u64)>,
    /// The forms with dates, those with the most rows first.
    pub forms: Vec<JudgedForm<'e>>,
}

/// What a column is about.
pub(super) enum Subject {
    /// The layouts that the analyst gave read it as this kind.
    Layouts(Kind),
    /// Its forms, most of which are of this kind.
    Forms(Kind),
    /// Numbers that may count from some origin.
    Numbers(CountingNumbers),
    /// Lengths of time none of which can be read as it stands.
    Amounts(UnreadAmounts),
    /// Amounts that are none of time but in some language, where nothing says that they are.
    Measures(UnreadAmounts),
    /// Dates in another language than this one, which was said.
    OtherLanguage(Locale),
    /// No dates.
    None,
}

impl<'e> Case<'e> {
    pub(super) fn new(
        evidence: &'e Evidence,
        options: &'e ObserveOptions,
        asserted: &'e Asserted,
    ) -> Case<'e> {
        let asked = !options.layouts.is_empty()
            || asserted.order.is_some()
            || asserted.kind.is_some()
            || !asserted.answers.is_empty()
            || options.serials.is_some();
        let mut case = Case::begun(evidence, options, asserted, asked);
        case.subject = case.find_subject();
        case.with_forms()
    }

    /// The case of the forms, whatever else the column may be: somebody has said that these are dates.
    pub(super) fn of_forms(
        evidence: &'e Evidence,
        options: &'e ObserveOptions,
        asserted: &'e Asserted,
    ) -> Case<'e> {
        let mut case = Case::begun(evidence, options, asserted, true);
        let kind = asserted.kind.map(|kind| asserted.reads(kind));
        let kind = kind.or(case.kinds.first().map(|(kind, _)| *kind));
        case.subject = kind.map_or(Subject::None, Subject::Forms);
        case.with_forms()
    }

    fn begun(
        evidence: &'e Evidence,
        options: &'e ObserveOptions,
        asserted: &'e Asserted,
        asked: bool,
    ) -> Case<'e> {
        let (subject, kinds, forms) = (Subject::None, Vec::new(), Vec::new());
        let mut case = Case { evidence, options, asserted, asked, subject, kinds, forms };
        case.kinds = case.rows_by_kind();
        case
    }

    fn with_forms(mut self) -> Case<'e> {
        self.forms = match self.subject {
            // Lengths of time beside times of day are of another kind.
            Subject::Forms(Kind::Time) => self.judged_forms(|style| style != Style::Length),
            _ => self.judged_forms(|_| true),
        };
        self
    }

    fn find_subject(&self) -> Subject {
        let Asserted { kind, written_in, .. } = self.asserted;
        if !self.options.layouts.is_empty() {
            let given = &self.evidence.given;
            let one = self.options.layouts.first().and_then(Layout::kind);
            let kind = kind.or(one).or(given.kind());
            return kind.map_or(Subject::None, |kind| Subject::Layouts(self.asserted.reads(kind)));
        }
        let speaks = self.asserted.speaks_of_dates;
        let numbers = || counting_numbers(self.evidence, self.asserted, self.values(), speaks);
        // Answers about numbers that no date in digits gives are about what they count.
        if self.answers_are_about_numbers()
            && let Some(numbers) = numbers()
        {
            return Subject::Numbers(numbers);
        }
        let (fit, values) = (self.fit(), self.values());
        let asserted = kind.map(|kind| self.asserted.reads(kind));
        let most = asserted.or(self.kinds.first().map(|(kind, _)| *kind));
        if let Some(kind) = most
            && fit > 0
            && (self.asked || fit * 2 >= values)
        {
            return Subject::Forms(kind);
        }
        if kind.is_none_or(|kind| kind == Kind::Duration)
            && let Some(amounts) = self.unread_amounts()
            && amounts.rows.rows * 2 >= values
        {
            return match self.are_measures() {
                true => Subject::Measures(amounts),
                false => Subject::Amounts(amounts),
            };
        }
        // Values that are dates in another language than the one that was said are no side issue.
        let foreign = self.evidence.foreign.rows;
        if let Some(locale) = written_in.filter(|_| foreign > 0 && foreign * 2 >= values) {
            return Subject::OtherLanguage(locale);
        }
        numbers().map_or(Subject::None, Subject::Numbers)
    }

    /// What the column becomes when it is read; none if it holds no dates.
    pub(super) fn kind(&self) -> Option<Kind> {
        match &self.subject {
            Subject::Layouts(kind) | Subject::Forms(kind) => Some(*kind),
            Subject::Numbers(numbers) => Some(numbers.kind),
            Subject::Amounts(_) => Some(Kind::Duration),
            Subject::Measures(_) | Subject::OtherLanguage(_) | Subject::None => None,
        }
    }

    /// Whether its forms are judged, as nobody gave layouts.
    pub(super) fn is_of_forms(&self) -> bool {
        matches!(self.subject, Subject::Forms(_))
    }

    /// Whether its forms are judged, and are of this kind.
    pub(super) fn is_of_forms_of(&self, kind: Kind) -> bool {
        matches!(self.subject, Subject::Forms(own) if own == kind)
    }

    /// Whether its values are read by layouts, those of its forms or given ones.
    pub(super) fn is_of_layouts(&self) -> bool {
        matches!(self.subject, Subject::Forms(_) | Subject::Layouts(_))
    }

    /// Whether forms are judged whose order nobody has said.
    pub(super) fn order_is_inferred(&self) -> bool {
        self.is_of_forms() && self.asserted.order.is_none()
    }

    /// The same, or layouts read them that were perhaps said of other rows.
    pub(super) fn order_is_unsaid(&self) -> bool {
        self.is_of_layouts() && self.asserted.order.is_none()
    }

    /// The one order by which given layouts can read the values of a form.
    pub(super) fn order_given(&self, form: &JudgedForm<'_>) -> Option<Alternative> {
        let given = self.options.layouts.iter().filter_map(Layout::order).map(Alternative::from);
        let mut given = given.filter(|order| form.alternatives.contains(order));
        let order = given.next()?;
        given.all(|other| other == order).then_some(order)
    }

    /// Whether its values may be no dates: nobody has said that they are, or layouts read them that were perhaps said of
    /// other rows.
    pub(super) fn may_be_none(&self) -> bool {
        self.may_doubt() || matches!(self.subject, Subject::Layouts(_))
    }

    /// The order by which the values of a form are read, if it is one.
    pub(super) fn order_of(&self, form: &JudgedForm<'_>) -> Option<Alternative> {
        match (self.order_given(form), form.state) {
            (None, State::Decided(own)) => Some(own),
            (given, _) => given,
        }
    }

    /// Whether forms that are decided may be doubted: nobody has said that they are dates.
    pub(super) fn may_doubt(&self) -> bool {
        self.is_of_forms() && !self.asked
    }

    /// Whether a kind of value is that of the column when it is read.
    pub(super) fn is_own(&self, kind: Kind) -> bool {
        self.kind() == Some(self.asserted.reads(kind))
    }

    /// Rows that stand for something.
    pub(super) fn values(&self) -> u64 {
        let Evidence { rows, missing, placeholder, .. } = self.evidence;
        rows.saturating_sub(*missing).saturating_sub(*placeholder)
    }

    /// Rows that some form can read.
    pub(super) fn fit(&self) -> u64 {
        self.kinds.iter().map(|(_, rows)| rows).sum()
    }

    /// Cells that their file has typed and that are of the column's kind when read.
    pub(super) fn typed_rows(&self) -> u64 {
        let kind = self.kind();
        kind.map_or(0, |kind| self.asserted.typed(self.evidence, kind).map(|own| own.rows).sum())
    }

    /// Rows that are counted as somebody has said, and what they are.
    pub(super) fn counted(&self) -> Option<(Kind, u64)> {
        let serials = self.options.serials?;
        let rows: u64 = self.evidence.given.read.values().sum();
        let fractions = self.evidence.numbers.fractions > 0;
        let kind = self.asserted.kind.unwrap_or(serials.epoch.kind(fractions));
        (rows > 0).then_some((kind, rows))
    }

    /// Values without a year: how many, and what is known of the years.
    pub(super) fn yearless(&self) -> Option<Yearless> {
        let rows = self.evidence.sequences.values().map(|sequence| sequence.rows).sum::<u64>();
        let (_, sequence) = self.evidence.sequences.first_key_value().filter(|_| rows > 0)?;
        let years = match (&self.options.years, self.asserted.year) {
            (Some(years), _) => Some(years.clone()),
            (None, year) => year.map(|year| sequence.years(year)),
        };
        Some(match years {
            Some(years) => Yearless::Told(years),
            None => Yearless::Open { rows, first: sequence.likely_first_year(self.asserted.as_of) },
        })
    }

    /// Whether nobody has said which year the first row has.
    pub(super) fn year_is_open(&self) -> bool {
        self.is_of_forms() && matches!(self.yearless(), Some(Yearless::Open { .. }))
    }

    /// Values written as lengths of time that cannot be read.
    pub(super) fn unread_amounts(&self) -> Option<UnreadAmounts> {
        let layout = Layout::parse("{amounts}").ok()?;
        let unfit = |fits: Fits| !fits.fits_any();
        let groups = self.evidence.groups.iter().filter(|(form, _)| form.style == Style::Length);
        let rows: Occurrences = groups.map(|(_, group)| group.occurrences(unfit)).sum();
        let first = rows.first.as_ref()?;
        let value = normalise(&first.value, &mut String::new()).to_owned();
        let why = interpret(&layout, &value, self.options.terms).err()?;
        (why != Unfit::Form).then_some(UnreadAmounts { rows, why })
    }

    fn are_measures(&self) -> bool {
        let amounts = &self.evidence.amounts;
        let said = self.asked || self.options.terms.written_in().is_some();
        !said && !self.asserted.speaks_of_lengths && amounts.measures * 2 > amounts.rows
    }

    fn answers_are_about_numbers(&self) -> bool {
        self.options.serials.is_none()
            && self.asserted.answers.first().is_some_and(|own| !own.is_given_by_some(self.options))
    }

    /// The forms, judged by their own values; those that may be dates by chance only if they are asked for.
    fn judged_forms(&self, wanted: impl Fn(Style) -> bool) -> Vec<JudgedForm<'e>> {
        let (evidence, options, asserted) = (self.evidence, self.options, self.asserted);
        let mut forms: Vec<JudgedForm<'_>> = evidence
            .groups
            .iter()
            // Where nothing fits, nothing is said for or against an order.
            .filter(|(_, group)| group.rows(Fits::fits_any) > 0)
            .filter(|(form, group)| self.may_be_dates(form, group))
            .filter(|(form, _)| wanted(form.style))
            .map(|(form, group)| weighed(form, group, evidence, options, asserted))
            .collect();
        // Of forms with equally many rows, that which sorts first stays first.
        forms.sort_by_key(|form| std::cmp::Reverse(form.rows()));
        forms
    }

    /// Whether values of a form are more than chance, or typing errors among others, or somebody says what they are.
    fn may_be_dates(&self, form: &Form, group: &Group) -> bool {
        match form.style {
            Style::Uneven => self.options.asked.is_some() || self.are_uneven(),
            _ => self.asked || !may_be_chance(form, group),
        }
    }

    /// Whether no value is written as a date but some with different marks between their parts.
    fn are_uneven(&self) -> bool {
        let read = |(_, group): &(&Form, &Group)| group.rows(Fits::fits_any) > 0;
        let mut groups = self.evidence.groups.iter().filter(read);
        groups.all(|(form, _)| form.style == Style::Uneven) && self.evidence.typed.is_empty()
    }

    /// Rows by kind that can be read in some way, over all forms.
    fn rows_by_kind(&self) -> Vec<(Kind, u64)> {
        let groups = self.evidence.groups.iter();
        let written = groups
            .filter(|(form, group)| self.may_be_dates(form, group))
            .flat_map(|(form, group)| group.tallies.iter().map(|tally| (form.style, tally)))
            .filter(|(style, ((fits, _), _))| reads(*style, *fits))
            .map(|(_, ((_, kind), tally))| (self.asserted.reads(*kind), tally.rows));
        let typed = self.evidence.typed.iter();
        let typed = typed.map(|(kind, tally)| (self.asserted.reads(*kind), tally.rows));
        let mut kinds: Vec<(Kind, u64)> = Vec::new();
        for (kind, rows) in written.chain(typed).chain(self.counted()) {
            match kinds.iter_mut().find(|(other, _)| *other == kind) {
                Some((_, others)) => *others += rows,
                None => kinds.push((kind, rows)),
            }
        }
        // Of equally frequent ones, the one that says most.
        kinds.sort_by_key(|(kind, rows)| std::cmp::Reverse((*rows, kind.precision())));
        kinds
    }
}

/// What is known of the years of values that have none.
pub(super) enum Yearless {
    /// That of the first row was said, and the sequence shows the others.
    Told(Years),
    /// Nobody has said it; the first row may lie in this year.
    Open { rows: u64, first: i16 },
}

/// Values written as lengths of time that cannot be read.
pub(super) struct UnreadAmounts {
    pub rows: Occurrences,
    /// What is wrong with the first of them.
    pub why: Unfit,
}

/// Whether the values of a form are digits alone that may be dates by chance.
pub(super) fn may_be_chance(form: &Form, group: &Group) -> bool {
    // The share of all numbers of so many digits that are valid dates in some order, for the number
    // of digits where it is largest: of seven digits 9 days x 12 months, 9 months x 30.4 days or
    // 365.25 days, of 701 years, in 9,000,000 numbers; of five digits the same of 100 years in 90,000.
    // With a clock, of the minutes of 701 years in 12 digits, in three orders.
    let share: f64 = match form.style {
        Style::Digits => (9.0 * 12.0 + 9.0 * 30.4 + 365.25) * 701.0 / 9e6,
        Style::DigitsShortYear => (9.0 * 12.0 + 9.0 * 30.4) * 100.0 / 9e4,
        Style::DigitsClock => 3.0 * 701.0 * 365.25 * 1_440.0 / 9e11,
        _ => return false,
    };
    let fitting = group.dates.count(Fits::fits_any);
    let others = group.rows(|fits| !fits.fits_any());
    // Of that many different numbers so many at least: the binomial tail's first term, which is
    // larger than the rest of it together where it matters, with the ways to choose them.
    let all = fitting + others;
    let ways: f64 = (0..others.min(fitting))
        .map(|index| ((all - index) as f64 / (index + 1) as f64).ln())
        .sum();
    ways + fitting as f64 * share.ln() > BY_CHANCE.ln()
}

/// The language in which a name is what the known answers say, if there is one.
pub(crate) fn language_by_answers(
    difference: &Difference,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> Option<Locale> {
    let gives = |locale: &Locale| {
        let fits = |answer: &Answer| answer.fits_in(options, Lexicon::of(*locale));
        !asserted.answers.is_empty() && asserted.answers.iter().all(fits)
    };
    let mut fitting =
        difference.meanings.iter().filter_map(|(_, locales)| locales.iter().find(|l| gives(l)));
    match (fitting.next(), fitting.next()) {
        (Some(locale), None) => Some(*locale),
        _ => None,
    }
}

/// Whether the clock forms of a column are lengths of time: enough values of it can be nothing else, since
/// they go beyond 24 hours or name their units.
pub(crate) fn are_lengths(
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
) -> bool {
    if options.terms.clocks == Clocks::Elapsed
        || asserted.kind.is_some()
        || !options.layouts.is_empty()
    {
        return false;
    }
    let of = |style: Style| evidence.groups.iter().filter(move |(form, _)| form.style == style);
    let count = |style: Style, holds: fn(Fits) -> bool| -> u64 {
        of(style).map(|(_, group): (_, &Group)| group.dates.count(holds)).sum()
    };
    let named = count(Style::Length, Fits::fits_any);
    let beyond =
        count(Style::Time, |fits| fits.votes(Alternative::HoursMinutes, Alternative::Only));
    let clocks = count(Style::Time, Fits::fits_any);
    let (votes, all) = (named + beyond, named + clocks);
    clocks > 0 && votes >= if all > 12 { 3 } else { 2 } && votes * 100 > all * 3
}
