//! Where the clocks stood: abbreviations with several meanings, and what values show of their zone.

use crate::typed::Kind;
use crate::verdict::case::Case;
use crate::verdict::finding::ZoneFinding;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::zone::Abbreviation;

/// Abbreviations that mean other zones from place to place.
pub(super) fn unclear_abbreviations(case: &Case<'_>) -> Vec<Found> {
    if !case.is_of_forms() || is_said(case) {
        return Vec::new();
    }
    let all = case.evidence.zones.abbreviations.iter().filter(|(_, own)| own.unclear > 0);
    all.filter_map(|(text, own)| {
        let name = Abbreviation::new(text)?;
        let ways = name.places().into_iter().map(|at| Settle::Abbreviation(name, at));
        let finding = ZoneFinding::UnclearAbbreviation { name, rows: own.unclear };
        Some(Found::ask(Verdict::Undecided, finding, ways))
    })
    .collect()
}

/// What is worth a word: where somebody said that the clocks stood, abbreviations of the other season, offsets
/// that change with the season, and a clock that was put back.
pub(super) fn shown(case: &Case<'_>) -> Vec<Found> {
    if !case.is_of_layouts() {
        return Vec::new();
    }
    if let Some(zoning) = case.asserted.zoning.as_ref().filter(|_| is_said(case)) {
        return vec![Found::note(ZoneFinding::PlacedBy(zoning.clone()))];
    }
    let (shown, zones) = (&case.evidence.zones, case.options.terms.zones);
    let mut found = Vec::new();
    let of_season = shown.abbreviations.iter().filter(|(_, own)| own.unclear == 0);
    for (text, own) in of_season.filter(|(_, own)| own.out_of_season > 0) {
        let Some(name) = Abbreviation::new(text) else { continue };
        let Some(meaning) = name.meanings().first() else { continue };
        let (place, rows, of) = (meaning.place, own.out_of_season, own.rows);
        found.push(Found::note(ZoneFinding::OutOfSeason { name, place, rows, of }));
    }
    if case.kind() == Some(Kind::Instant) {
        let seasonal = shown.seasonal(zones);
        if !seasonal.is_empty() {
            let offsets = shown.offsets.keys().copied().collect();
            found.push(Found::note(ZoneFinding::SeasonalOffsets { offsets, zones: seasonal }));
        }
    }
    if case.kind() == Some(Kind::DateTime)
        && let Some(back) = shown.backs.first()
    {
        let zones = shown.put_back(zones);
        if !zones.is_empty() {
            let (back, rows) = (back.clone(), shown.steps_back);
            found.push(Found::note(ZoneFinding::PutBack { back, rows, zones }));
        }
    }
    found
}

/// Whether somebody has said where the clocks stood, and there are some.
fn is_said(case: &Case<'_>) -> bool {
    case.asserted.zoning.is_some() && case.kind() == Some(Kind::Instant)
}
