//! How the help is ordered: its groups, what the short one shows, and examples in the order of the work.

use clap::{Arg, Command};

/// The groups of options, in their order, with the options of each by their long names.
const GROUPS: [(&str, &[&str]); 9] = [
    (
        "Input",
        &[
            "delimiter",
            "quote",
            "encoding",
            "sheet",
            "table",
            "query",
            "skip-lines",
            "header-line",
            "no-header",
            "max-record",
            "max-evidence",
            "threads",
            "first-rows",
            "merge",
        ],
    ),
    ("Decisions", &["readings", "save", "accept", "ask", "evidence"]),
    (
        "How columns are read",
        &[
            "column",
            "set",
            "when",
            "order",
            "layout",
            "written-in",
            "known",
            "kind",
            "unit",
            "epoch",
            "two-digit-from",
            "year",
            "calendar",
            "reform",
            "anchor",
            "missing",
            "keep-placeholders",
            "repair",
            "contested",
            "as-of",
        ],
    ),
    (
        "Clocks and zones",
        &[
            "zone",
            "zone-from",
            "to-zone",
            "instants",
            "skipped-clock",
            "repeated-clock",
            "sequence-by",
            "abbreviation",
            "offset-wins",
            "zone-data",
        ],
    ),
    (
        "What is counted or drawn",
        &["per", "value", "sum", "mean", "least", "most", "axis-step", "on-screen"],
    ),
    ("New columns and rows", &["make", "where", "sort-by", "series", "by", "stamp", "into"]),
    ("What must hold", &["require"]),
    (
        "Output",
        &[
            "output",
            "output-dir",
            "output-format",
            "output-delimiter",
            "output-encoding",
            "replace-raw",
            "precision",
            "iso-form",
            "show-in",
            "infer-types",
            "into-table",
            "existing-table",
            "sqlite-time",
            "keep-preamble",
            "drop-blank-columns",
            "describe",
            "compare",
            "run-report",
        ],
    ),
    ("Cells not read", &["rejects", "note-column", "fixes", "fixes-by", "tolerate"]),
];

/// What the short help shows of each command with many options.
const SHORT: [(&str, &[&str]); 6] = [
    (
        "survey",
        &[
            "column",
            "set",
            "order",
            "written-in",
            "known",
            "zone",
            "readings",
            "save",
            "accept",
            "ask",
            "first-rows",
            "json",
        ],
    ),
    (
        "convert",
        &[
            "output",
            "column",
            "set",
            "order",
            "written-in",
            "known",
            "zone",
            "readings",
            "make",
            "where",
            "replace-raw",
            "rejects",
            "tolerate",
        ],
    ),
    ("check", &["column", "set", "require", "readings", "zone", "make", "where", "json"]),
    (
        "count",
        &[
            "column", "per", "sum", "mean", "least", "most", "by", "where", "to-zone", "output",
            "readings", "json",
        ],
    ),
    (
        "chart",
        &[
            "column",
            "value",
            "by",
            "per",
            "axis-step",
            "where",
            "to-zone",
            "output",
            "on-screen",
            "readings",
            "json",
        ],
    ),
    ("report", &["column", "set", "readings", "zone", "make", "where", "output"]),
];

/// Three examples for each, in the order of the work.
const EXAMPLES: [(&str, [&str; 3]); 8] = [
    (
        "survey",
        [
            "captures.csv",
            "captures.csv --column released",
            "captures.csv --set 'released: order=dmy' --save captures.toml",
        ],
    ),
    ("explain", ["03/04/05", "'3 listopad 2024'", "45210.5 --epoch sheet-1900"]),
    (
        "convert",
        [
            "captures.csv -o captures.out.csv",
            "captures.csv --set 'released: order=dmy' --rejects rejects.csv -o captures.out.csv",
            "spring.csv --readings captures.toml -o spring.parquet",
        ],
    ),
    (
        "check",
        [
            "captures.csv",
            "spring.csv --readings captures.toml",
            "spring.csv --readings captures.toml --json",
        ],
    ),
    (
        "count",
        [
            "captures.csv --column captured",
            "captures.csv --column captured --per week --by station",
            "captures.csv --column captured --sum weight -o weights.csv",
        ],
    ),
    ("list", ["zones --like oslo", "locales --like portuguese", "steps"]),
    (
        "report",
        [
            "captures.csv -o captures.html",
            "captures.csv --column released -o released.html",
            "spring.csv --readings captures.toml -o spring.html",
        ],
    ),
    (
        "chart",
        [
            "captures.csv --column captured -o captured.png",
            "captures.csv --column released -o released.svg",
            "captures.csv --column captured --by station --on-screen",
        ],
    ),
];

/// The same program with its help in order.
pub fn ordered(program: Command) -> Command {
    program.mut_subcommands(|command| {
        let name = command.get_name().to_owned();
        let short = SHORT.iter().find(|(own, _)| *own == name).map(|(_, options)| *options);
        let command = command.mut_args(|option| grouped(option, short));
        let Some((_, examples)) = EXAMPLES.iter().find(|(own, _)| *own == name) else {
            return command;
        };
        let lines = examples.map(|line| format!("\n  metachron {name} {line}"));
        let examples = format!("Examples:{}", lines.concat());
        let rest =
            short.map_or(String::new(), |_| format!("\n\nAll options: metachron {name} --help"));
        command.after_help(format!("{examples}{rest}")).after_long_help(examples)
    })
}

/// An option in its group; where the short help shows some, it shows no others.
fn grouped(option: Arg, short: Option<&[&str]>) -> Arg {
    let Some(long) = option.get_long().map(str::to_owned) else { return option };
    let at = GROUPS.iter().enumerate().find_map(|(group, (heading, options))| {
        let place = options.iter().position(|own| *own == long)?;
        Some((*heading, 100 * group + place))
    });
    let option = match at {
        Some((heading, place)) => option.help_heading(heading).display_order(place),
        None => option,
    };
    match short {
        Some(shown) if !shown.contains(&long.as_str()) && long != "help" => {
            option.hide_short_help(true)
        }
        _ => option,
    }
}

#[cfg(test)]
mod tests {
    use clap::CommandFactory;

    use super::*;
    use crate::args::Arguments;

    /// How a report is shown belongs to no group.
    const NONE: [&str; 4] = ["json", "color", "quiet", "help"];

    #[test]
    fn every_option_has_its_group_and_every_name_is_an_option() {
        let program = Arguments::command();
        let options = |name: &str| -> Vec<String> {
            let command = program.find_subcommand(name).unwrap();
            command.get_arguments().filter_map(|own| own.get_long().map(str::to_owned)).collect()
        };
        let grouped: Vec<&str> = GROUPS.iter().flat_map(|(_, own)| own.iter().copied()).collect();
        let mut all = Vec::new();
        for (name, shown) in SHORT {
            let own = options(name);
            for option in own.iter().filter(|own| !NONE.contains(&own.as_str())) {
                assert!(grouped.contains(&option.as_str()), "{name} --{option}");
            }
            for option in shown {
                assert!(own.iter().any(|own| own == option), "{name} --{option}");
            }
            all.extend(own);
        }
        for option in grouped {
            assert!(all.iter().any(|own| own == option), "--{option}");
        }
    }
}
