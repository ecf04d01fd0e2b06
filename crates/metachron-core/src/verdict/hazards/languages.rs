//! Names of months that are others from language to language.

use crate::lexicon::Languages;
use crate::verdict::case::{Case, Subject, language_by_answers};
use crate::verdict::finding::{Finding, LanguageFinding};
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Telling, Verdict};

/// Languages that are offered where names leave several.
const MOST_LANGUAGES: usize = 6;

/// Several languages have all the names, and mean other months by them.
pub(super) fn collide(case: &Case<'_>) -> Vec<Found> {
    let Some(Languages::Differ(difference)) = shown(case) else { return Vec::new() };
    if language_by_answers(&difference, case.options, case.asserted).is_some() {
        return Vec::new();
    }
    let locales = difference.meanings.iter().flat_map(|(_, locales)| locales);
    let ways: Vec<Settle> = locales.take(MOST_LANGUAGES).copied().map(Settle::WrittenIn).collect();
    vec![Found::ask(Verdict::Undecided, LanguageFinding::NamesDiffer(difference), ways)]
}

/// Most values are dates in another language than the one that was said.
pub(super) fn not_as_said(case: &Case<'_>) -> Vec<Found> {
    let Subject::OtherLanguage(locale) = case.subject else { return Vec::new() };
    let rows = case.evidence.foreign.clone();
    let finding = LanguageFinding::OtherLanguage { locale, rows };
    vec![Found::ask(Verdict::Undecided, finding, [Settle::Value(Telling::NamesThemselves)])]
}

/// The language that the names are of.
pub(super) fn of_names(case: &Case<'_>) -> Vec<Found> {
    let shown = shown(case).filter(|_| case.is_of_forms());
    let finding: Finding = match shown {
        None | Some(Languages::None | Languages::English) => return Vec::new(),
        Some(Languages::One(locale)) => LanguageFinding::NamesOf(locale).into(),
        Some(Languages::Alike(languages)) => LanguageFinding::NamesAlike(languages).into(),
        Some(Languages::Several) => LanguageFinding::NamesOfSeveral.into(),
        Some(Languages::Differ(difference)) => {
            match language_by_answers(&difference, case.options, case.asserted) {
                Some(locale) => LanguageFinding::NamesOf(locale).into(),
                None => return Vec::new(),
            }
        }
    };
    vec![Found::note(finding)]
}

/// What the names show, unless it was said: that needs no asking.
fn shown(case: &Case<'_>) -> Option<Languages> {
    let asks = case.is_of_layouts() && case.asserted.written_in.is_none();
    asks.then(|| case.evidence.languages())
}
