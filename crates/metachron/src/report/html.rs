//! A survey and a check of a file as one page of HTML that needs nothing beside it: no network, no script.

use std::fmt::Write;

use metachron_core::named::Named;
use metachron_core::text::{counted, grouped};
use metachron_core::timeline::{Strip, Timeline};

use super::check::{CheckFinding, CheckReport};
use super::column::{CandidateFacts, ColumnFacts};
use super::facts::SurveyReport;
use super::paste::SettleFacts;
use crate::checking::{Checked, RivalTimelines};
use crate::message::plain;
use crate::survey::SurveyedTable;

/// Written forms that are listed.
const FORMS: usize = 12;
/// Bars of a small chart, and of one that has to show on which days of a month nothing is.
const BARS: u64 = 62;
const DAYS: u64 = 400;

/// What the page is made of.
pub struct HtmlReport<'r> {
    /// The table.
    pub table: &'r SurveyedTable,
    /// What was found of its columns.
    pub survey: &'r SurveyReport,
    /// What was found of its values.
    pub check: &'r CheckReport,
    /// What a conversion would come to; none if what is made of the table waits for an answer.
    pub checked: Option<&'r Checked<'r>>,
    /// How the values of open columns lie in time.
    pub rivals: &'r [RivalTimelines],
    /// The command lines that do it again.
    pub commands: Vec<(String, String)>,
    /// The release of the time zone database.
    pub zone_data: Option<&'static str>,
}

/// Text as HTML has it.
fn text(raw: &str) -> String {
    let mut out = String::with_capacity(raw.len());
    for c in plain(raw).chars() {
        match c {
            '&' => out.push_str("&amp;"),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            '"' => out.push_str("&quot;"),
            '\'' => out.push_str("&#39;"),
            c => out.push(c),
        }
    }
    out
}

const STYLE: &str = include_str!("report.css");

/// The page.
pub fn html(report: &HtmlReport<'_>) -> String {
    let mut out = String::new();
    let source = &report.survey.source;
    let title = format!("Dates of {}", source.file);
    // Writing to a string cannot fail.
    let _ = write!(
        out,
        "<!DOCTYPE html>\n<html lang=\"en\">\n<head>\n<meta charset=\"utf-8\">\n\
         <meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n\
         <meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src 'unsafe-inline'\">\n\
         <meta name=\"color-scheme\" content=\"light dark\">\n<title>{0}</title>\n<style>\n{STYLE}</style>\n</head>\n<body>\n\
         <a class=\"skip\" href=\"#columns\">To the columns</a>\n<header>\n<h1>{0}</h1>\n",
        text(&title)
    );
    source_lines(&mut out, report);
    out.push_str("</header>\n<main>\n");
    summary(&mut out, report);
    for facts in dates(report) {
        column(&mut out, report, facts);
    }
    unread(&mut out, report);
    again(&mut out, report);
    let zones = report.zone_data.map_or(String::new(), |own| format!(", time zones {own}"));
    let _ = write!(
        out,
        "</main>\n<footer><p>metachron {}{}</p></footer>\n</body>\n</html>\n",
        env!("CARGO_PKG_VERSION"),
        text(&zones)
    );
    out
}

/// The columns that hold dates, or were asked for.
fn dates<'r>(report: &'r HtmlReport<'_>) -> impl Iterator<Item = &'r ColumnFacts> {
    report.survey.columns.iter().filter(|facts| facts.is_temporal() || facts.is_open())
}

fn source_lines(out: &mut String, report: &HtmlReport<'_>) {
    let source = &report.survey.source;
    let mut parts = vec![source.format.to_owned()];
    parts.extend(source.dialect.clone());
    parts.extend(source.encoding.clone());
    parts.extend(source.part.as_ref().map(|part| format!("{} {}", part.kind, part.name)));
    parts.extend(source.header_line.map(|line| format!("header in line {}", grouped(line))));
    parts.push(counted(source.rows, "row"));
    parts.push(counted(source.columns as u64, "column"));
    let _ = writeln!(out, "<p>{}</p>", text(&parts.join(", ")));
    for note in &source.notes {
        let _ = writeln!(out, "<p class=\"soft\">{}</p>", text(note));
    }
    for (lines, place) in [(&source.preamble, "above"), (&source.footers, "below")] {
        if !lines.is_empty() {
            let all: Vec<String> = lines.iter().map(|line| text(&line.text)).collect();
            let _ = writeln!(out, "<p class=\"soft\">{place} the table: {}</p>", all.join(" · "));
        }
    }
}

/// The place of a column's section.
fn anchor(report: &HtmlReport<'_>, name: &str) -> String {
    let place = report.survey.columns.iter().position(|own| own.name == name).unwrap_or(0);
    format!("column-{}", place + 1)
}

fn verdict(word: &str) -> String {
    format!("<span class=\"verdict {word}\">{word}</span>")
}

fn summary(out: &mut String, report: &HtmlReport<'_>) {
    out.push_str(
        "<section id=\"columns\">\n<h2>Columns</h2>\n<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"Columns\">\n<table>\n<thead><tr><th scope=\"col\">column</th>\
         <th scope=\"col\">kind</th><th scope=\"col\">verdict</th><th scope=\"col\" class=\"n\">read</th>\
         <th scope=\"col\" class=\"n\">missing</th><th scope=\"col\" class=\"n\">not read</th>\
         <th scope=\"col\" class=\"n\">open</th></tr></thead>\n<tbody>\n",
    );
    let mut others = Vec::new();
    let shown: Vec<&str> = dates(report).map(|own| own.name.as_str()).collect();
    for facts in &report.survey.columns {
        if !shown.contains(&facts.name.as_str()) {
            others.push(text(&facts.name));
            continue;
        }
        let rows = &facts.rows;
        let _ = writeln!(
            out,
            "<tr><th scope=\"row\"><a href=\"#{}\">{}</a></th><td>{}</td><td>{}</td><td class=\"n\">{}</td>\
             <td class=\"n\">{}</td><td class=\"n\">{}</td><td class=\"n\">{}</td></tr>",
            anchor(report, &facts.name),
            text(&facts.name),
            facts.kind.as_deref().unwrap_or("-"),
            verdict(&facts.verdict),
            grouped(rows.read),
            grouped(rows.missing),
            grouped(rows.unreadable + rows.contested + rows.placeholder),
            grouped(rows.open),
        );
    }
    out.push_str("</tbody>\n</table>\n</div>\n");
    if !others.is_empty() {
        let _ = writeln!(out, "<p class=\"soft\">No dates: {}.</p>", others.join(", "));
    }
    out.push_str("</section>\n");
}

fn column(out: &mut String, report: &HtmlReport<'_>, facts: &ColumnFacts) {
    let _ = writeln!(
        out,
        "<section id=\"{}\">\n<h2>{} {}</h2>",
        anchor(report, &facts.name),
        text(&facts.name),
        verdict(&facts.verdict)
    );
    for reason in &facts.reasons {
        let _ = writeln!(out, "<p>{}</p>", text(reason));
    }
    if let Some(reading) = facts.reading.as_ref().filter(|_| !facts.is_open()) {
        let layouts: Vec<String> =
            reading.layouts.iter().map(|own| format!("<code>{}</code>", text(own))).collect();
        let counts =
            reading.epoch.iter().map(|own| format!("counted from <code>{}</code>", text(own)));
        let all: Vec<String> = layouts.into_iter().chain(counts).collect();
        if !all.is_empty() {
            let _ = writeln!(out, "<p>Read by {}.</p>", all.join(", "));
        }
    }
    let own = report.table.columns.iter().find(|own| own.plan.name == facts.name);
    let rivals =
        own.and_then(|own| report.rivals.iter().find(|rivals| rivals.index == own.plan.index));
    match (rivals, timeline(report, facts)) {
        (Some(rivals), _) => rival_readings(out, facts, rivals),
        (None, Some(timeline)) => {
            chart(out, timeline, BARS, &format!("rows of {} over time", facts.name));
            came_out(out, timeline);
        }
        _ => {}
    }
    signs(out, &report.check.findings, &facts.name, "Found");
    signs(out, &report.check.notes, &facts.name, "Worth knowing");
    shapes(out, facts);
    if !facts.ruled_out.is_empty() {
        let count = facts.ruled_out.len() as u64;
        let _ = writeln!(out, "<details><summary>Ruled out ({})</summary>\n<ul>", grouped(count));
        for own in &facts.ruled_out {
            let _ = writeln!(out, "<li>{}</li>", text(&own.message));
        }
        out.push_str("</ul></details>\n");
    }
    ways(out, &facts.settle);
    out.push_str("</section>\n");
}

/// How the values of a converted column lie in time.
fn timeline<'r>(report: &HtmlReport<'r>, facts: &ColumnFacts) -> Option<&'r Timeline> {
    let own = report.table.columns.iter().find(|own| own.plan.name == facts.name)?;
    Some(&report.checked?.of(own)?.came_out.timeline).filter(|own| own.ends().is_some())
}

fn rival_readings(out: &mut String, facts: &ColumnFacts, rivals: &RivalTimelines) {
    out.push_str("<div class=\"rivals\">\n");
    for (reading, timeline) in rivals.readings.iter().zip(&rivals.timelines) {
        let called = &reading.called;
        let candidate = facts.candidates.iter().find(|own: &&CandidateFacts| own.phrase == *called);
        let example =
            facts.example.as_ref().zip(candidate.and_then(|own| own.example_in_words.as_ref()));
        let example = example.map_or(String::new(), |(value, words)| {
            format!("<p><q>{}</q> is {}</p>", text(&value.value), text(words))
        });
        let _ = writeln!(out, "<figure>\n<figcaption>If it is {}</figcaption>", text(called));
        chart(out, timeline, DAYS, &format!("{} if it is {called}", facts.name));
        came_out(out, timeline);
        let _ = writeln!(out, "{example}</figure>");
    }
    out.push_str("</div>\n");
}

fn came_out(out: &mut String, timeline: &Timeline) {
    let Some([first, last]) = timeline.ends() else { return };
    let different = match timeline.different() {
        Some(count) => counted(count, "different value"),
        None => format!("more than {} different values", grouped(Timeline::MOST_DIFFERENT as u64)),
    };
    let _ = writeln!(out, "<p class=\"soft\">{} to {}, {different}</p>", first.value, last.value);
}

/// The rows over time as bars.
fn chart(out: &mut String, timeline: &Timeline, most_bars: u64, title: &str) {
    let Some(Strip { per, step, ends, counts }) = timeline.strip(most_bars) else { return };
    let most = counts.iter().copied().max().unwrap_or(1).max(1);
    const WIDTH: f64 = 640.0;
    const HEIGHT: f64 = 110.0;
    let bar = WIDTH / counts.len() as f64;
    let unit = if step == 1 { per.name().to_owned() } else { format!("{step} years") };
    let says =
        format!("{title}: {} to {}, at most {} per {unit}", ends[0], ends[1], counted(most, "row"));
    let _ = write!(
        out,
        "<svg viewBox=\"0 0 640 111\" role=\"img\" aria-label=\"{0}\"><title>{0}</title>",
        text(&says)
    );
    for (at, rows) in counts.iter().enumerate().filter(|(_, rows)| **rows > 0) {
        let height = (HEIGHT * *rows as f64 / most as f64).max(1.0);
        let (x, y) = (at as f64 * bar, HEIGHT - height);
        let width = (bar - if bar > 4.0 { 1.0 } else { 0.0 }).max(0.5);
        let _ = write!(
            out,
            "<rect x=\"{x:.1}\" y=\"{y:.1}\" width=\"{width:.1}\" height=\"{height:.1}\"/>"
        );
    }
    let _ = writeln!(
        out,
        "<line x1=\"0\" y1=\"{HEIGHT}\" x2=\"640\" y2=\"{HEIGHT}\"/></svg>\n\
         <p class=\"axis\" aria-hidden=\"true\"><span>{}</span><span>per {unit}, at most {}</span><span>{}</span></p>",
        ends[0],
        grouped(most),
        ends[1]
    );
}

fn signs(out: &mut String, all: &[CheckFinding], column: &str, title: &str) {
    // What is open is said at length below.
    let is_own = |own: &&CheckFinding| own.column == column && own.code != "open";
    let own: Vec<&CheckFinding> = all.iter().filter(is_own).collect();
    if own.is_empty() {
        return;
    }
    let _ = writeln!(out, "<h3>{title}</h3>\n<ul>");
    for finding in own {
        let _ = writeln!(out, "<li>{}.</li>", text(&finding.message));
    }
    out.push_str("</ul>\n");
}

fn shapes(out: &mut String, facts: &ColumnFacts) {
    if facts.shapes.is_empty() {
        return;
    }
    let count = facts.shapes.len() as u64;
    let _ = writeln!(
        out,
        "<details><summary>Written forms ({})</summary>\n<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"Written forms of {}\"><table>\n<thead><tr><th scope=\"col\">form</th>\
         <th scope=\"col\" class=\"n\">rows</th><th scope=\"col\">first</th></tr></thead>\n<tbody>",
        grouped(count),
        text(&facts.name)
    );
    for shape in facts.shapes.iter().take(FORMS) {
        let _ = writeln!(
            out,
            "<tr><td><code>{}</code></td><td class=\"n\">{}</td><td>row {}: <q>{}</q></td></tr>",
            text(&shape.shape),
            grouped(shape.rows),
            grouped(shape.example.row),
            text(&shape.example.value)
        );
    }
    out.push_str("</tbody>\n</table></div></details>\n");
}

fn ways(out: &mut String, settle: &[SettleFacts]) {
    if settle.is_empty() {
        return;
    }
    out.push_str("<h3>What would settle it</h3>\n");
    for way in settle.iter().filter(|way| !way.is_second) {
        match &way.command {
            Some(command) => line(out, &way.message, command),
            None => {
                let _ = writeln!(out, "<p>{}</p>", text(&way.message));
            }
        }
    }
}

fn line(out: &mut String, when: &str, command: &str) {
    let _ = writeln!(
        out,
        "<p>{}:</p>\n<pre tabindex=\"0\"><code>{}</code></pre>",
        text(when),
        text(command)
    );
}

fn unread(out: &mut String, report: &HtmlReport<'_>) {
    let Some(checked) = report.checked.filter(|own| !own.tally.unread.is_empty()) else { return };
    let counts = checked
        .tally
        .converted
        .columns
        .iter()
        .map(|own| own.counts.unreadable + own.counts.contested + own.counts.placeholder);
    let all: u64 = counts.sum();
    let shown = checked.tally.unread.len() as u64;
    let title = if shown < all { format!("the first {}", grouped(shown)) } else { grouped(shown) };
    let _ = writeln!(
        out,
        "<section id=\"unread\">\n<h2>Cells not read ({title})</h2>\n<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"Cells not read\"><table>\n\
         <thead><tr><th scope=\"col\" class=\"n\">row</th><th scope=\"col\">column</th><th scope=\"col\">value</th>\
         <th scope=\"col\">why</th></tr></thead>\n<tbody>"
    );
    for cell in &checked.tally.unread {
        let name =
            checked.plan.columns.get(cell.column).map_or("", |own| own.source.plan.name.as_str());
        let _ = writeln!(
            out,
            "<tr><td class=\"n\">{}</td><td>{}</td><td><q>{}</q></td><td>{}</td></tr>",
            grouped(cell.row),
            text(name),
            text(&cell.value),
            text(&cell.why)
        );
    }
    out.push_str("</tbody>\n</table></div>\n</section>\n");
}

fn again(out: &mut String, report: &HtmlReport<'_>) {
    out.push_str("<section id=\"again\">\n<h2>To do it again</h2>\n");
    for (when, command) in &report.commands {
        line(out, when, command);
    }
    for way in report.survey.all_at_once.iter().chain(&report.check.extend) {
        if let Some(command) = &way.command {
            line(out, &way.message, command);
        }
    }
    out.push_str("</section>\n");
}
