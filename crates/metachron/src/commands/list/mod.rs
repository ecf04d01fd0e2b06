//! `metachron list`: what can be named in options.

mod epochs;
mod fields;
mod locales;
mod steps;
mod zones;

use metachron_core::text::{Accents, fold};
use serde::Serialize;

use super::{json, print};
use crate::ambient::Ambient;
use crate::args::{self, What};
use crate::choices::zone_data;
use crate::exit::Exit;
use crate::message::{Failure, quoted};

/// Lists.
pub fn run(list: &args::List, ambient: &Ambient) -> Result<Exit, Failure> {
    if list.at.is_some() && !matches!(list.what, What::Zones) {
        return Err(Failure::usage("--at is about zones: metachron list zones --at INSTANT"));
    }
    let width = ambient.width;
    let text = match list.what {
        What::Locales => listed(list, locales::all(list), |all| locales::view(all, width))?,
        What::Zones => {
            let zones = zone_data(list.zone_data.as_deref())?;
            let at = list.at.as_deref().map_or(Ok(ambient.now), zones::moment)?;
            let all = zones::all(list, zones, at);
            listed(list, all, |all| zones::view(all, at, zones, width))?
        }
        What::Epochs => {
            listed(list, epochs::all(list, ambient.today), |all| epochs::view(all, width))?
        }
        What::Steps => listed(list, steps::all(list), |all| steps::view(all, width))?,
        What::Fields => listed(list, fields::all(list), |all| fields::view(all, width))?,
    };
    print(&text, list.json)?;
    Ok(Exit::Done)
}

/// What was found, for programs or to be read.
fn listed<T: Serialize>(
    list: &args::List,
    all: Vec<T>,
    view: impl FnOnce(&[T]) -> String,
) -> Result<String, Failure> {
    match &list.like {
        Some(text) if all.is_empty() => {
            Err(Failure::could_not(format!("nothing has {} in its name", quoted(text))))
        }
        _ if list.json => json(&all),
        _ => Ok(view(&all)),
    }
}

/// Whether one of the texts has what is asked for, whatever its case and accents.
fn like(list: &args::List, texts: &[&str]) -> bool {
    let folded = |text: &str| fold(text, Accents::Dropped);
    list.like
        .as_deref()
        .is_none_or(|wanted| texts.iter().any(|text| folded(text).contains(&folded(wanted))))
}
