//! The fold: what every rule has found becomes a verdict, with its sentences and what would settle it.

use super::case::{Case, Subject};
use super::contenders::{contenders, example};
use super::counts::{counts, fraction_digits};
use super::finding::Finding;
use super::form::{JudgedForm, State};
use super::found::{Effect, Found, Strength};
use super::hazards::{HAZARDS, ruled_out, signals};
use super::model::{Asserted, Contender, Judgement, Settle, Verdict};
use super::ways::{chosen_layouts, ways};
use crate::evidence::{Evidence, ObserveOptions, Witness};
use crate::layout::Layout;
use crate::order::{Alternative, Order};
use crate::reading::Reading;

/// What the evidence of a column amounts to.
///
/// ```
/// use metachron_core::evidence::{ObserveOptions, Observer};
/// use metachron_core::verdict::{Asserted, Verdict, judge};
///
/// let options = ObserveOptions::default();
/// let mut observer = Observer::new(options.clone(), 0);
/// for (row, value) in (1..).zip(["03/04/2024", "13/04/2024", "04/13/2024"]) {
///     observer.observe(row, value);
/// }
/// let asserted = Asserted::nothing(jiff::civil::date(2024, 6, 1));
/// let judgement = judge(&observer.finish(), &options, &asserted);
/// assert_eq!(judgement.verdict, Verdict::Mixed);
/// assert_eq!(judgement.counts.contested, 1);
/// ```
pub fn judge(evidence: &Evidence, options: &ObserveOptions, asserted: &Asserted) -> Judgement {
    let case = Case::new(evidence, options, asserted);
    let found = HAZARDS.iter().flat_map(|hazard| hazard(&case)).collect();
    folded(&case, found)
}

/// What it comes to. The order of what was found is that of the sentences, and nothing else.
fn folded(case: &Case<'_>, found: Vec<Found>) -> Judgement {
    let (forms, found) = settled(case, found);
    let mut verdict = verdict(case, &forms, &found);
    let told = told(&forms, found);
    let (contenders, example) = match case.is_of_forms() {
        true => (contenders(case), example(case)),
        false => (Vec::new(), None),
    };
    let mut settle = settle(case, &forms, &told);
    if verdict < Verdict::Mixed {
        with_an_answer(&mut settle, example.as_ref(), &contenders);
    }
    let chosen = chosen(case, &forms);
    if verdict == Verdict::Decided && chosen.is_none() {
        // The analyst asked for a kind or an order that none of the forms can have.
        verdict = Verdict::Undecided;
        let is_none_own = !case.kinds.iter().any(|(kind, _)| case.kind() == Some(*kind));
        let kind = case.kinds.iter().max_by_key(|(_, rows)| *rows);
        match kind.filter(|_| case.asserted.kind.is_some() && is_none_own) {
            Some((kind, _)) => settle.push(Settle::Kind(*kind)),
            None => {
                let possible = contenders.iter().filter(|contender| contender.fits > 0);
                let orders = possible.filter_map(|own| Order::try_from(own.alternative).ok());
                settle.extend(orders.map(|order| Settle::Order(order, 0)));
            }
        }
    }
    let leans_to = (verdict == Verdict::Leaning).then(|| leans_to(&told, &settle)).flatten();
    let mut findings: Vec<Finding> = told.into_iter().map(|found| found.finding).collect();
    // Tables may have thousands of columns.
    findings.shrink_to_fit();
    Judgement {
        verdict,
        kind: case.kind(),
        reading: reading(case, chosen, &settle),
        counts: counts(case),
        fraction_digits: fraction_digits(case),
        contenders,
        example,
        leans_to,
        findings,
        ruled_out: match verdict {
            Verdict::Decided if case.is_of_forms() => ruled_out(case),
            _ => Vec::new(),
        },
        signals: if case.is_of_forms() { signals(case) } else { Vec::new() },
        origins: match &case.subject {
            Subject::Numbers(numbers) => numbers.origins.clone(),
            _ => Vec::new(),
        },
        settle,
    }
}

/// The way that a column leans to: what soft evidence favours, or the only thing that its numbers may be. Where something casts
/// doubt, or asks, only a person can say.
fn leans_to(told: &[Found], settle: &[Settle]) -> Option<Settle> {
    let is_favoured = |found: &Found| match found.effect {
        Effect::Note | Effect::Lead(..) => true,
        Effect::Ask(_) => matches!(found.ways[..], [Settle::Epoch(_) | Settle::AsWritten(..)]),
        Effect::Doubt | Effect::LeanAtLeast => false,
    };
    // What is favoured comes first.
    let first = settle.first().filter(|_| told.iter().all(is_favoured));
    let is_one = |way: &&Settle| {
        use Settle::{AsWritten, Epoch, Layouts, Order};
        matches!(way, Order(..) | Layouts(..) | AsWritten(..) | Epoch(_))
    };
    first.filter(is_one).cloned()
}

/// The forms, as leads and doubts leave them, and what was found without the leads that led nowhere.
fn settled<'e>(case: &Case<'e>, found: Vec<Found>) -> (Vec<JudgedForm<'e>>, Vec<Found>) {
    let mut strongest: Vec<Option<Strength>> = vec![None; case.forms.len()];
    for own in &found {
        if let (Some(at), Effect::Lead(strength, _)) = (own.about, own.effect) {
            strongest[at] = strongest[at].max(Some(strength));
        }
    }
    let mut forms = case.forms.clone();
    let counts = |found: &Found| {
        let Some(at) = found.about else { return true };
        match (found.effect, case.forms[at].state) {
            (Effect::Lead(strength, to), State::Undecided) if strongest[at] == Some(strength) => {
                forms[at].state = to.map_or(State::Undecided, State::Leaning);
                true
            }
            (Effect::Lead(..), _) => false,
            (Effect::Doubt, State::Decided(own)) => {
                forms[at].state = State::Leaning(own);
                true
            }
            _ => true,
        }
    };
    let found = found.into_iter().filter(counts).collect();
    (forms, found)
}

/// The worst of what the forms come to and of what is asked.
fn verdict(case: &Case<'_>, forms: &[JudgedForm<'_>], found: &[Found]) -> Verdict {
    let base = match case.subject {
        Subject::Layouts(_) => Verdict::Decided,
        Subject::Forms(_) => {
            forms.iter().map(|form| form.state.verdict()).max().unwrap_or(Verdict::Decided)
        }
        _ => Verdict::NotADate,
    };
    let asked = found.iter().filter_map(|found| match found.effect {
        Effect::Ask(verdict) => Some(verdict),
        _ => None,
    });
    let verdict = asked.fold(base, Verdict::max);
    let leans = found.iter().any(|found| found.effect == Effect::LeanAtLeast);
    if leans && verdict == Verdict::Decided { Verdict::Leaning } else { verdict }
}

/// What is told, in the order of the table; what is said of a form stands together, open forms first.
fn told(forms: &[JudgedForm<'_>], found: Vec<Found>) -> Vec<Found> {
    let leans_only = |found: &Found| found.effect == Effect::LeanAtLeast;
    let open = found.iter().any(|found| matches!(found.effect, Effect::Ask(_)))
        || forms.iter().any(|form| form.state.is_open());
    let found: Vec<Found> =
        found.into_iter().filter(|found| !(open && leans_only(found))).collect();
    let at = found.iter().position(|found| found.about.is_some()).unwrap_or(found.len());
    let (about, mut told): (Vec<Found>, Vec<Found>) =
        found.into_iter().partition(|found| found.about.is_some());
    let is_open = |at: &usize| forms[*at].state.is_open();
    let places = || 0..forms.len();
    let mut of_forms: Vec<Found> = Vec::new();
    for form in places().filter(is_open).chain(places().filter(|at| !is_open(at))) {
        for own in about.iter().filter(|found| found.about == Some(form)) {
            // What several forms have in common is said once.
            if !of_forms.iter().any(|other| other.finding == own.finding) {
                of_forms.push(own.clone());
            }
        }
    }
    told.splice(at..at, of_forms);
    // That a form has one reading is worth saying only where there is nothing else to say.
    if told.len() > 1 {
        told.retain(|found| found.finding != Finding::OneForm);
    }
    told
}

/// What would settle it, in the order of the sentences.
fn settle(case: &Case<'_>, forms: &[JudgedForm<'_>], told: &[Found]) -> Vec<Settle> {
    let mut all: Vec<Settle> = Vec::new();
    for way in told.iter().flat_map(|found| &found.ways) {
        if !all.contains(way) {
            all.push(way.clone());
        }
    }
    // What tells the rows apart makes other ways to settle them second to it.
    if case.is_of_forms() && !all.iter().any(|way| matches!(way, Settle::Split(_))) {
        all.extend(ways(forms, case));
    }
    all
}

/// Adds a known answer as an example; one answer says nothing of a column in which both orders occur.
fn with_an_answer(ways: &mut Vec<Settle>, example: Option<&Witness>, contenders: &[Contender]) {
    let in_play = |contender: &&Contender| contender.survives && contender.example.is_some();
    if let Some(example) = example
        && let [first, _, ..] = contenders.iter().filter(in_play).collect::<Vec<_>>()[..]
        && let Some(moment) = first.example
    {
        // Before what only describes a value that would decide.
        let at = ways.iter().position(|way| matches!(way, Settle::Value(_)));
        ways.insert(at.unwrap_or(ways.len()), Settle::Answer(example.value.clone(), moment));
    }
}

/// The layouts of the reading that is decided or favoured; none where one stays open.
fn chosen(case: &Case<'_>, forms: &[JudgedForm<'_>]) -> Option<Vec<Layout>> {
    match case.subject {
        Subject::Layouts(_) => Some(case.options.layouts.clone()),
        // Cells and numbers need no layouts.
        Subject::Forms(_)
            if !forms.iter().any(|form| is_own(case, form))
                && (case.typed_rows() > 0 || case.counted().is_some()) =>
        {
            Some(Vec::new())
        }
        Subject::Forms(_) => chosen_layouts(forms, case, None),
        // A verdict on anything else is never decided.
        _ => None,
    }
}

/// Whether the values of a form are of the column's kind when they are read.
fn is_own(case: &Case<'_>, form: &JudgedForm<'_>) -> bool {
    form.layouts.iter().any(|(_, layout)| layout.kind().is_some_and(|kind| case.is_own(kind)))
}

fn reading(case: &Case<'_>, chosen: Option<Vec<Layout>>, settle: &[Settle]) -> Option<Reading> {
    let found = settle.iter().find_map(|way| match way {
        Settle::Split(found) => Some(found),
        _ => None,
    });
    // What tells the rows apart is a reading to be accepted.
    let (layouts, split) = match found {
        Some(found) => (Some(found.layouts.clone()), found.split.clone()),
        None => (chosen, case.options.split.clone().filter(|_| !case.is_of_forms())),
    };
    let layouts = layouts.filter(|_| !case.year_is_open())?;
    Some(Reading { split, ..case.asserted.reading(case.kind()?, layouts, case.options) })
}

/// The layouts of a column whose all-digit dates have this order; none if none can have it.
pub(crate) fn layouts_in_order(
    evidence: &Evidence,
    options: &ObserveOptions,
    asserted: &Asserted,
    order: Order,
) -> Option<Vec<Layout>> {
    let case = Case::of_forms(evidence, options, asserted);
    let order = Alternative::from(order);
    let found = HAZARDS.iter().flat_map(|hazard| hazard(&case)).collect();
    let (forms, _) = settled(&case, found);
    let mut layouts: Vec<Layout> = Vec::new();
    let mut possible = false;
    for form in &forms {
        let own = match form.state {
            _ if form.group.all_digits && form.alternatives.contains(&order) => Some(order),
            State::Decided(own) | State::Leaning(own) => Some(own),
            _ => None,
        };
        possible |= own == Some(order);
        let own = own.into_iter().flat_map(|own| form.layouts_of(own));
        for layout in own.filter(|layout| layout.kind().is_some_and(|kind| case.is_own(kind))) {
            if !layouts.contains(layout) {
                layouts.push(layout.clone());
            }
        }
    }
    possible.then_some(layouts)
}

#[cfg(test)]
mod tests {
    use jiff::civil::date;

    use super::*;
    use crate::evidence::Observer;

    #[test]
    fn rules_in_another_order_say_the_same_in_another_order() {
        let columns: [&[&str]; 12] = [
            &["03/04/2024", "05/06/2024", "07/08/2024"],
            &["03/04/2024", "13/04/2024", "04/13/2024"],
            &["03/04/2024", "13/04/2024", "14/04/2024", "3.4.2024", "5.6.2024"],
            &["3.4.2024", "5.6.2024", "7.8.2024", "03/04/2024 10:15", "05/06/2024 11:15"],
            &["01/01/2024", "01/02/2024", "01/03/2024", "01/04/2024", "01/05/2024"],
            &["1:30", "2:45", "1:30:15", "0:59:10", "12:20"],
            &["1:30", "25:10", "99:59"],
            &["Apr-22", "May-23", "Jun-24"],
            &["20240101", "20240102", "20240103", "20240201"],
            &["7/2024", "8/2024", "13/2024"],
            &["45292.5", "45293.25", "45294.75"],
            &["", "n/a", "no date at all"],
        ];
        let said = |all: Vec<String>| {
            let mut all = all;
            all.sort();
            all
        };
        for values in columns {
            let options = ObserveOptions::default();
            let mut observer = Observer::new(options.clone(), 0);
            for (row, value) in (1..).zip(values) {
                observer.observe(row, *value);
            }
            let evidence = observer.finish();
            let asserted = Asserted {
                speaks_of_dates: true,
                speaks_of_lengths: true,
                ..Asserted::nothing(date(2024, 6, 1))
            };
            let case = Case::new(&evidence, &options, &asserted);
            let found: Vec<Found> = HAZARDS.iter().flat_map(|own| own(&case)).collect();
            let backward = found.iter().rev().cloned().collect();
            let (one, other) = (folded(&case, found), folded(&case, backward));
            let facts = |own: &Judgement| {
                (
                    (own.verdict, own.kind, own.counts),
                    own.reading.clone(),
                    format!("{:?} {:?}", own.contenders, own.example),
                    said(own.findings.iter().map(|finding| format!("{finding:?}")).collect()),
                    said(own.settle.iter().map(|way| format!("{way:?}")).collect()),
                )
            };
            assert_eq!(facts(&one), facts(&other), "{values:?}");
        }
    }
}
