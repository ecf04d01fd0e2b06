//! Asks about open columns one by one, with real values read every way.

use std::io::{BufRead, Write};

use metachron_core::order::Alternative;
use metachron_core::reading::Written;
use metachron_core::typed::TypedValue;
use metachron_core::verdict::{Contender, Settle};

use crate::message::{Failure, plain, quoted};
use crate::report::column::in_words;
use crate::survey::SurveyedColumn;
use crate::words::words;

/// An answer that can be given, and what it says.
struct Choice {
    says: String,
    answer: Option<Written>,
}

/// The answers of a person, by column: how it is written, or that what was found is right.
pub fn ask(columns: &[SurveyedColumn]) -> Result<Vec<(String, Option<Written>)>, Failure> {
    let failed = |error: std::io::Error| Failure::could_not(format!("cannot ask: {error}"));
    let mut input = std::io::stdin().lock();
    let mut answers = Vec::new();
    for column in columns.iter().filter(|column| column.verdict().is_open()) {
        let (asked, choices) = choices(column);
        if choices.is_empty() {
            continue;
        }
        let mut question = format!("\n{}   {asked}", plain(&column.plan.name));
        for (number, choice) in (1..).zip(&choices) {
            question.push_str(&format!("  {number}) {}", choice.says));
        }
        question.push_str("  s) leave\n> ");
        let picked = loop {
            let mut out = std::io::stderr().lock();
            out.write_all(question.as_bytes()).and_then(|()| out.flush()).map_err(failed)?;
            let mut line = String::new();
            if input.read_line(&mut line).map_err(failed)? == 0 {
                return Ok(answers);
            }
            match line.trim() {
                "s" | "S" | "" => break None,
                text => match text.parse::<usize>().ok().and_then(|n| n.checked_sub(1)) {
                    Some(at) if at < choices.len() => break Some(at),
                    _ => question = format!("{} or s\n> ", numbers(choices.len())),
                },
            }
        };
        if let Some(choice) = picked.and_then(|at| choices.into_iter().nth(at)) {
            answers.push((column.plan.name.clone(), choice.answer));
        }
    }
    Ok(answers)
}

/// `1`, `1 or 2`, `1, 2 or 3` without the last `or`.
fn numbers(count: usize) -> String {
    (1..=count).map(|number| number.to_string()).collect::<Vec<_>>().join(", ")
}

/// What is asked about a column, and what can be answered.
fn choices(column: &SurveyedColumn) -> (String, Vec<Choice>) {
    let judgement = &column.inference.judgement;
    if let Some(found) = judgement.settle.iter().find_map(|way| match way {
        Settle::Split(found) => Some(found),
        _ => None,
    }) {
        let reason = metachron_core::verdict::Finding::Split(found.clone());
        let keep = Choice { says: "that is right".to_owned(), answer: None };
        return (plain(&words(&reason).to_string()), vec![keep]);
    }
    let in_play: Vec<&Contender> = judgement.contenders.iter().filter(|c| c.survives).collect();
    let Some(example) = judgement.example.as_ref().filter(|_| in_play.len() > 1) else {
        return (String::new(), Vec::new());
    };
    let said = |moment: TypedValue| in_words(moment).unwrap_or_else(|| moment.to_string());
    let choice = |contender: &&Contender| {
        let answer = judgement.settle.iter().find_map(|way| match way {
            Settle::Order(order, _) if Alternative::from(*order) == contender.alternative => {
                Some(Written::Order(*order))
            }
            Settle::Layouts(order, layouts) if *order == contender.alternative => {
                Some(Written::Layouts(layouts.clone()))
            }
            _ => None,
        })?;
        Some(Choice { says: said(contender.example?), answer: Some(answer) })
    };
    let choices: Vec<Choice> = in_play.iter().filter_map(choice).collect();
    (format!("{} is", quoted(&example.value)), choices)
}
