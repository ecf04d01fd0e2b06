//! The names of files that belong to an input.

use std::path::Path;

use metachron_tables::address::is_address;

/// The name of the output that a suggestion for this input writes: `captures.out.csv`.
pub fn suggested_output(path: &Path) -> String {
    if path == Path::new("-") || is_address(path) {
        return "table.out.csv".to_owned();
    }
    let name = path.to_string_lossy();
    let file = path.file_name().map_or(name.clone(), |file| file.to_string_lossy());
    let folder = &name[..name.len() - file.len()];
    // `captures.csv.gz` becomes `captures.out.csv.gz`.
    match file.char_indices().find(|(at, c)| *at > 0 && *c == '.') {
        // Workbooks, Parquet files and databases are converted to delimited text.
        Some((dot, _)) if is_binary(&file) => format!("{folder}{}.out.csv", &file[..dot]),
        Some((dot, _)) => format!("{folder}{}.out{}", &file[..dot], &file[dot..]),
        None => format!("{name}.out"),
    }
}

/// The name of the readings file that belongs to an input: `captures.toml`.
pub fn suggested_readings(path: &Path) -> String {
    if path == Path::new("-") || is_address(path) {
        return "readings.toml".to_owned();
    }
    let name = path.to_string_lossy();
    let file = path.file_name().map_or(name.clone(), |file| file.to_string_lossy());
    let folder = &name[..name.len() - file.len()];
    let stem =
        file.char_indices().find(|(at, c)| *at > 0 && *c == '.').map_or(file.len(), |(at, _)| at);
    format!("{folder}{}.toml", &file[..stem])
}

fn is_binary(name: &str) -> bool {
    let name = name.to_lowercase();
    [".xlsx", ".xlsm", ".xlsb", ".xls", ".ods", ".parquet", ".sqlite", ".sqlite3", ".db"]
        .iter()
        .any(|ending| name.ends_with(ending))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn outputs_are_suggested_beside_their_input() {
        for (input, output) in [
            ("captures.csv", "captures.out.csv"),
            ("a/b.c/captures.csv.gz", "a/b.c/captures.out.csv.gz"),
            ("station.XLSX", "station.out.csv"),
            ("captures", "captures.out"),
            (".hidden", ".hidden.out"),
            ("-", "table.out.csv"),
        ] {
            assert_eq!(suggested_output(Path::new(input)), output);
        }
    }
}
