//! What the analyst has said and no value bears out.

use crate::verdict::case::Case;
use crate::verdict::contenders::contenders;
use crate::verdict::counts::counts;
use crate::verdict::finding::Finding;
use crate::verdict::found::Found;
use crate::verdict::model::Verdict;
use crate::verdict::origins::gives;

/// Known answers that several readings in play give, which differ elsewhere.
pub(super) fn answers_leave(case: &Case<'_>) -> Vec<Found> {
    if case.asserted.answers.is_empty() || !case.is_of_forms() {
        return Vec::new();
    }
    let gives_all = |alternative| {
        case.asserted.answers.iter().all(|answer| {
            let check = answer.checked(case.options);
            check.is_some_and(|check| check.consistent.contains(&alternative))
        })
    };
    let in_play = contenders(case).into_iter().filter(|contender| contender.survives);
    let orders: Vec<_> = in_play.map(|own| own.alternative).filter(|own| gives_all(*own)).collect();
    let rows = counts(case).contested;
    if orders.len() < 2 || rows == 0 {
        return Vec::new();
    }
    vec![Found::note(Finding::AnswersLeave { orders, rows })]
}

/// Known answers for values that are written as none of the column is.
pub(super) fn answers_elsewhere(case: &Case<'_>) -> Vec<Found> {
    let is_there = |answer: &&_| {
        let check = crate::verdict::answer::Answer::checked(answer, case.options);
        check.is_some_and(|check| case.evidence.groups.contains_key(&check.form))
    };
    // A number whose answer is what it counts stands where it stands.
    let counts =
        |answer: &&_| case.options.serials.is_some_and(|serials| gives(serials.epoch, answer));
    let answers = case.asserted.answers.iter().filter(|_| case.is_of_forms());
    let elsewhere = answers.filter(|answer| !counts(answer)).filter(|answer| !is_there(answer));
    let ask = |finding| Found::ask(Verdict::Undecided, finding, []);
    elsewhere.cloned().map(Finding::AnswerElsewhere).map(ask).collect()
}

/// Rows that were said to have an order which no form can have.
pub(super) fn no_such_part(case: &Case<'_>) -> Vec<Found> {
    let says = case.asserted.split.is_some() && case.is_of_forms();
    says.then(|| Found::ask(Verdict::Undecided, Finding::NoSuchPart, [])).into_iter().collect()
}
