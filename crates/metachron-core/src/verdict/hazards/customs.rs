//! How regions write dates in digits: what the short forms of CLDR's locales have in common.

use std::sync::LazyLock;

use crate::layout::Layout;
use crate::lexicon::{Locale, LocaleFormat};
use crate::order::Alternative;
use crate::verdict::case::Case;
use crate::verdict::form::JudgedForm;
use crate::verdict::odds::best_two;
use crate::verdict::signal::{Custom, Signal, SignalKind};

/// Locales that are needed for a share of them.
const LOCALES: usize = 10;

/// How a locale writes a date in digits.
struct Short {
    order: Alternative,
    layout: &'static str,
    /// Whether its clock counts to twelve.
    twelve: Option<bool>,
}

/// The short forms of all locales, parsed once.
static SHORT: LazyLock<Vec<Short>> = LazyLock::new(|| {
    let of = |locale: Locale| {
        let layout = locale.format(LocaleFormat::DateShort)?;
        let order = Layout::parse(layout).ok()?.order()?.into();
        let twelve = locale.format(LocaleFormat::TimeShort).map(is_twelve);
        Some(Short { order, layout, twelve })
    };
    Locale::all().filter_map(of).collect()
});

fn is_twelve(layout: &str) -> bool {
    layout.contains("{ampm}")
}

/// The custom that is more usual with one order than with another: by a third at least.
fn custom(form: &JudgedForm<'_>, follows: impl Fn(&Short) -> bool) -> Option<Custom> {
    let mark = form.form.separators.as_str();
    let count = |order: Alternative| {
        let own = |short: &&Short| short.order == order && stands_between(mark, short.layout);
        let all = SHORT.iter().filter(own).count();
        let its = SHORT.iter().filter(own).filter(|short| follows(short)).count();
        (all >= LOCALES).then_some((its, all))
    };
    let share = |(its, all): &(usize, usize)| *its as f64 / *all as f64;
    let ((own, (its, all)), (rival, (others, of))) = best_two(&form.in_play, count, share)?;
    let tells = share(&(its, all)) > 0.5 && share(&(its, all)) * 3.0 > share(&(others, of)) * 4.0;
    tells.then_some(Custom { own: (own, its, all), rival: (rival, others, of) })
}

/// Whether a mark stands between the first two fields of a layout.
fn stands_between(mark: &str, layout: &str) -> bool {
    layout.split_once('}').is_some_and(|(_, rest)| rest.split('{').next() == Some(mark))
}

/// Points between the parts are usual where the day comes first; a stroke or a hyphen is typed
/// everywhere and says nothing.
pub(super) fn points(form: &JudgedForm<'_>) -> Option<Signal> {
    let is_point = |mark: char| mark == '.' || mark.is_whitespace();
    let marks = &form.form.separators;
    if !marks.contains('.') || !marks.chars().all(is_point) {
        return None;
    }
    let locales = |order: Alternative| {
        let writes = |short: &&Short| short.order == order && short.layout.contains('.');
        Some(SHORT.iter().filter(writes).count())
    };
    let ((favours, own), (_, rival)) = best_two(&form.in_play, locales, |locales| *locales as f64)?;
    (rival == 0).then_some(Signal { favours, what: SignalKind::Points { locales: own } })
}

/// Whether zeros are put before days and months below ten.
pub(super) fn padding(case: &Case<'_>, form: &JudgedForm<'_>) -> Option<Signal> {
    let mark = form.form.separators.as_str();
    let shapes = case.evidence.shapes.by_frequency();
    let padded = shapes.iter().filter_map(|(shape, _)| shortest_part(shape, mark)).min()? > 1;
    let pads = |text: &str| text.contains("{day:02}") && text.contains("{month:02}");
    let custom = custom(form, |short| pads(short.layout) == padded)?;
    Some(Signal { favours: custom.own.0, what: SignalKind::Padding { padded, custom } })
}

/// The digits of the shortest of the three parts with this mark between them.
fn shortest_part(shape: &str, mark: &str) -> Option<usize> {
    let mut rest = shape;
    let mut widths = [0; 3];
    for (at, width) in widths.iter_mut().enumerate() {
        rest = if at > 0 { rest.strip_prefix(mark)? } else { rest };
        *width = rest.bytes().take_while(|byte| *byte == b'0').count();
        rest = rest.get(*width..)?;
    }
    widths.into_iter().min().filter(|least| *least > 0)
}

/// Whether the clock beside the dates counts to twelve.
pub(super) fn clock(form: &JudgedForm<'_>) -> Option<Signal> {
    let mut clocks = form.layouts.iter().map(|(_, layout)| layout.to_string());
    let first = clocks.next().filter(|text| text.contains("{hour"))?;
    let twelve = is_twelve(&first);
    if clocks.any(|text| !text.contains("{hour") || is_twelve(&text) != twelve) {
        return None;
    }
    let custom = custom(form, |short| short.twelve == Some(twelve))?;
    let hours = if twelve { 12 } else { 24 };
    Some(Signal { favours: custom.own.0, what: SignalKind::Clock { hours, custom } })
}
