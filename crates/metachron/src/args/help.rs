//! How the help is ordered: its groups, what the short one shows, and examples in the order of the work.

use clap::{Arg, Command};

/// The groups of options, in their order, with the options of each by their long names.
const GROUPS: [(&str, &[&str]); 8] = [
    (
        "Input",
        &[
            "delimiter",
            "encoding",
            "sheet",
            "table",
            "query",
            "skip-lines",
            "header-line",
            "no-header",
            "max-record",
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
    ("What is counted", &["per", "sum", "mean", "least", "most"]),
    ("New columns and rows", &["make", "where", "sort-by", "series", "by", "stamp", "into"]),
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
            "run-report",
        ],
    ),
    ("Cells not read", &["rejects", "note-column", "fixes", "fixes-by", "tolerate"]),
];

/// What the short help shows of each command with many options.
const SHORT: [(&str, &[&str]); 4] = [
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
    ("check", &["column", "set", "readings", "zone", "make", "where", "json"]),
    (
        "count",
        &[
            "column", "per", "sum", "mean", "least", "most", "by", "where", "to-zone", "output",
            "readings", "json",
        ],
    ),
];

/// Examples, in the order of the work.
const EXAMPLES: [(&str, &str); 6] = [
    (
        "survey",
        "Examples:\n  metachron survey captures.csv\n  metachron survey captures.csv --column released\n  \
         metachron survey captures.csv --set 'released: order=dmy' --save captures.toml",
    ),
    (
        "explain",
        "Examples:\n  metachron explain 03/04/05\n  metachron explain '3 listopad 2024'\n  \
         metachron explain 45210.5 --epoch sheet-1900",
    ),
    (
        "convert",
        "Examples:\n  metachron convert captures.csv -o captures.out.csv\n  metachron convert captures.csv \
         --set 'released: order=dmy' --rejects rejects.csv -o captures.out.csv\n  metachron convert spring.csv \
         --readings captures.toml -o spring.parquet",
    ),
    (
        "check",
        "Examples:\n  metachron check captures.csv\n  metachron check spring.csv --readings captures.toml\n  \
         metachron check spring.csv --readings captures.toml --json",
    ),
    (
        "count",
        "Examples:\n  metachron count captures.csv --column captured\n  metachron count captures.csv --column \
         captured --per week --by station\n  metachron count captures.csv --column captured --sum weight -o \
         weights.csv",
    ),
    (
        "list",
        "Examples:\n  metachron list zones --like oslo\n  metachron list locales --like portuguese\n  \
         metachron list steps",
    ),
];

/// The same program with its help in order.
pub fn ordered(program: Command) -> Command {
    program.mut_subcommands(|command| {
        let name = command.get_name().to_owned();
        let of = |table: &[(&str, &'static [&'static str])]| {
            table.iter().find(|(own, _)| *own == name).map(|(_, options)| *options)
        };
        let short = of(&SHORT);
        let command = command.mut_args(|option| grouped(option, short));
        match EXAMPLES.iter().find(|(own, _)| *own == name) {
            Some((_, examples)) => {
                let rest = "All options: metachron";
                match short {
                    Some(_) => command
                        .after_help(format!("{examples}\n\n{rest} {name} --help"))
                        .after_long_help(*examples),
                    None => command.after_help(*examples),
                }
            }
            None => command,
        }
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
