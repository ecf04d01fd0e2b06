//! Asks about open columns one by one: every question that survey has, with every answer that it knows.

use std::io::{BufRead, Write};

use metachron_core::order::Alternative;
use metachron_core::verdict::{Contender, Judgement, Settle};

use crate::choices::Said;
use crate::message::{Failure, leaving, plain, quoted};
use crate::report::column::in_words;
use crate::report::paste::{favoured, no_date_phrase, taken};
use crate::survey::SurveyedColumn;
use crate::words::words;

/// An answer that can be given.
struct Choice {
    /// What it takes the column for.
    says: String,
    said: Said,
}

/// What a person has answered to a question.
enum Answered {
    Said(Said),
    Skipped,
    /// Nobody answers any more.
    Left,
}

/// Asks about each of these columns; gives back what was answered, and whether somebody still does.
pub fn ask(columns: &[&SurveyedColumn]) -> Result<(Vec<Said>, bool), Failure> {
    let mut answers = Vec::new();
    for column in columns {
        match ask_one(column)? {
            Answered::Said(said) => answers.push(said),
            Answered::Skipped => {}
            Answered::Left => return Ok((answers, false)),
        }
    }
    Ok((answers, true))
}

fn ask_one(column: &SurveyedColumn) -> Result<Answered, Failure> {
    let failed = |error: std::io::Error| Failure::could_not(format!("cannot ask: {error}"));
    let choices = choices(column);
    let reasons = column.inference.judgement.findings.iter().map(|own| words(own).to_string());
    let reasons = plain(&reasons.collect::<Vec<_>>().join(" "));
    let mut question = format!("\n{}   {reasons}\n", plain(&column.plan.name));
    for (number, choice) in (1..).zip(&choices) {
        question.push_str(&format!("  {number}) {}\n", choice.says));
    }
    let none = no_date_phrase(column);
    question.push_str(&format!("  n) {none}: leave it as it is\n  s) skip it (Enter)\n> "));
    let mut input = std::io::stdin().lock();
    loop {
        let mut out = std::io::stderr().lock();
        out.write_all(leaving(&question).as_bytes()).and_then(|()| out.flush()).map_err(failed)?;
        let mut line = String::new();
        if input.read_line(&mut line).map_err(failed)? == 0 {
            return Ok(Answered::Left);
        }
        let picked = line.trim().parse::<usize>().ok().and_then(|number| number.checked_sub(1));
        match (line.trim(), picked.and_then(|at| choices.get(at))) {
            ("" | "s" | "S", _) => return Ok(Answered::Skipped),
            ("n" | "N", _) => return Ok(Answered::Said(Said::no_date(&column.plan.name))),
            (_, Some(choice)) => return Ok(Answered::Said(choice.said.clone())),
            _ => question = format!("{}n or s\n> ", numbers(choices.len())),
        }
    }
}

/// `1, 2, ` before other answers.
fn numbers(count: usize) -> String {
    (1..=count).map(|number| format!("{number}, ")).collect()
}

/// The answers that settle a column, what survey leans to or has found marked.
fn choices(column: &SurveyedColumn) -> Vec<Choice> {
    let judgement = &column.inference.judgement;
    let favoured = favoured(column);
    let choice = |way: &Settle| {
        // That one value is right is an example, and no answer that can be picked.
        let is_example = matches!(way, Settle::Answer(..));
        let said = Said::by(way, &column.plan.name).filter(|_| !is_example)?;
        let mut says = taken(way, column);
        if let Some(example) = example(way, judgement) {
            says.push_str(&format!(": {example}"));
        }
        match favoured {
            Some(own) if own == way && !matches!(way, Settle::Split(_)) => {
                says.push_str(" (survey leans to it)");
            }
            _ => {}
        }
        Some(Choice { says: plain(&says), said })
    };
    judgement.settle.iter().filter_map(choice).collect()
}

/// What an order makes of a value that is read in several ways: `"03/04/2024" is 3 April 2024`.
fn example(way: &Settle, judgement: &Judgement) -> Option<String> {
    let order = match way {
        Settle::Order(order, _) => Alternative::from(*order),
        Settle::Layouts(order, _) => *order,
        _ => return None,
    };
    let value = judgement.example.as_ref()?;
    let is_it = |contender: &&Contender| contender.survives && contender.alternative == order;
    let moment = judgement.contenders.iter().find(is_it)?.example?;
    let said = in_words(moment).unwrap_or_else(|| moment.to_string());
    Some(format!("{} is {said}", quoted(&value.value)))
}
