//! What is wrong with a command line, in the same voice as everything else.

use std::error::Error as _;
use std::ffi::OsString;

use clap::error::{ContextKind, ContextValue, Error, ErrorKind};
use clap::{Command, CommandFactory};
use metachron_core::error::nearest;

use super::Arguments;
use crate::message::{did_you_mean, quoted};

/// What is wrong, and where to read what would be right.
pub fn refusal(error: &Error, typed: &[OsString]) -> String {
    let all = Arguments::command();
    let command = typed.iter().skip(1).find_map(|word| all.find_subcommand(word));
    let name =
        command.map_or("metachron".to_owned(), |own| format!("metachron {}", own.get_name()));
    let says = says(error, typed, &all, command).unwrap_or_else(|| first_line(error));
    format!("{says}\n  what it takes: {name} --help")
}

fn first_line(error: &Error) -> String {
    let text = error.render().to_string();
    text.lines().next().unwrap_or_default().trim_start_matches("error: ").to_owned()
}

fn says(
    error: &Error,
    typed: &[OsString],
    all: &Command,
    command: Option<&Command>,
) -> Option<String> {
    let arg = || texts(error, ContextKind::InvalidArg).first().map(|text| option_name(text));
    let value = || texts(error, ContextKind::InvalidValue).first().cloned();
    Some(match error.kind() {
        ErrorKind::InvalidSubcommand => {
            let word = texts(error, ContextKind::InvalidSubcommand).first()?.clone();
            let names: Vec<&str> = all.get_subcommands().map(Command::get_name).collect();
            let near = nearest(&word, names.iter().copied());
            match near {
                Some(_) => format!("there is no command {}{}", quoted(&word), did_you_mean(near)),
                None => {
                    format!("there is no command {}; there are {}", quoted(&word), names.join(", "))
                }
            }
        }
        ErrorKind::UnknownArgument => unknown(&arg()?, all, command),
        ErrorKind::InvalidValue if value().is_none_or(|value| value.is_empty()) => {
            format!("{} needs a value", arg()?)
        }
        ErrorKind::InvalidValue => {
            let value = value()?;
            let words = texts(error, ContextKind::ValidValue);
            let near = nearest(&value, words.iter().map(String::as_str));
            let near = did_you_mean(near.filter(|_| words.len() > 6));
            format!("{} {} is none of {}{near}", arg()?, quoted(&value), words.join(", "))
        }
        ErrorKind::ValueValidation => {
            format!("{} {} {}", arg()?, quoted(&value()?), error.source()?)
        }
        ErrorKind::ArgumentConflict => {
            let arg = arg()?;
            let others = texts(error, ContextKind::PriorArg);
            let others = others.iter().map(|other| option_name(other));
            let mut names: Vec<String> = others.chain([arg.clone()]).collect();
            if names[0] == arg {
                return Some(format!("{arg} is said twice"));
            }
            // Of a group all options are named, whichever was said; and in no order of the user's.
            let words: Vec<String> =
                typed.iter().map(|word| option_name(&word.to_string_lossy())).collect();
            let place = |name: &String| words.iter().position(|word| word == name);
            if names.len() > 2 {
                names.retain(|name| place(name).is_some());
            }
            names.sort_by_key(place);
            format!("{} exclude each other", names.join(" and "))
        }
        ErrorKind::MissingRequiredArgument => {
            let missing = texts(error, ContextKind::InvalidArg);
            let name = command.map_or("metachron", Command::get_name);
            let first = missing.first()?;
            match first.starts_with("--") {
                true => format!("{} is needed as well", option_name(first)),
                false => {
                    let what = first.trim_matches(|c| "<>.".contains(c));
                    format!("{name} needs a {what}")
                }
            }
        }
        ErrorKind::TooManyValues => format!("{} takes no value", arg()?),
        _ => return None,
    })
}

/// An option that a command does not have: which is near, or which command has it.
fn unknown(option: &str, all: &Command, command: Option<&Command>) -> String {
    let Some(own) = command else {
        return format!("there is no option {option} before a command");
    };
    if !option.starts_with('-') {
        return format!("{} takes no further {}", own.get_name(), quoted(option));
    }
    let name = option.trim_start_matches('-');
    let longs = |command: &Command| -> Vec<String> {
        command.get_arguments().filter_map(clap::Arg::get_long).map(str::to_owned).collect()
    };
    let others = all.get_subcommands().filter(|other| longs(other).iter().any(|own| own == name));
    let others: Vec<&str> = others.map(Command::get_name).collect();
    if !others.is_empty() {
        return format!("{} has no {option}; {} has it", own.get_name(), others.join(" and "));
    }
    let own_longs = longs(own);
    let near = nearest(name, own_longs.iter().map(String::as_str)).map(|near| format!("--{near}"));
    format!("{} has no option {option}{}", own.get_name(), did_you_mean(near.as_deref()))
}

/// `--order` of `--order <ORDER>`.
fn option_name(text: &str) -> String {
    text.split([' ', '=']).next().unwrap_or(text).trim_matches(|c| "<>.".contains(c)).to_owned()
}

fn texts(error: &Error, kind: ContextKind) -> Vec<String> {
    match error.get(kind) {
        Some(ContextValue::String(text)) => vec![text.clone()],
        Some(ContextValue::Strings(texts)) => texts.clone(),
        _ => Vec::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_is_said_in_one_line_and_what_is_near() {
        for (line, says) in [
            ("survay a.csv", "there is no command \"survay\"; did you mean survey?"),
            ("survey a.csv --colum x", "survey has no option --colum; did you mean --column?"),
            ("check a.csv --replace-raw", "check has no --replace-raw; convert has it"),
            ("convert", "convert needs a FILE"),
            ("list", "list needs a WHAT"),
            ("list zonez", "WHAT \"zonez\" is none of locales, zones, epochs, fields, steps"),
            (
                "convert a.csv --existing-table x",
                "--existing-table \"x\" is none of stop, append, replace",
            ),
            ("convert a.csv --order", "--order needs a value"),
            ("convert a.csv --zone a --zone-from b", "--zone and --zone-from exclude each other"),
            ("convert a.csv --year x", "--year \"x\" is no whole number"),
            ("survey a.csv --first-rows 0", "--first-rows \"0\" is no whole number from 1 on"),
            ("survey a.csv --accept split", "--save is needed as well"),
            (
                "convert a.csv --as-of gestern",
                "--as-of \"gestern\" is neither a day, such as 2024-06-01, nor an instant, such as 2024-06-01T12:00Z",
            ),
        ] {
            let words: Vec<OsString> =
                ["metachron"].into_iter().chain(line.split(' ')).map(OsString::from).collect();
            let error = Arguments::command().try_get_matches_from(&words).unwrap_err();
            let said = refusal(&error, &words);
            assert_eq!(said.lines().next(), Some(says), "{line}");
            assert_eq!(said.lines().count(), 2, "{said}");
        }
    }
}
