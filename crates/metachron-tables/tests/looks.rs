//! A table is looked at more than once: what changes in between is noticed.
#![allow(clippy::unwrap_used, clippy::panic)]

use std::fs;
use std::io::Write;
use std::path::Path;

use metachron_tables::error::TableError;
use metachron_tables::table::Table;
use metachron_tables::wanted::Wanted;

fn rows(table: &Table) -> Result<u64, TableError> {
    let mut rows = 0;
    table.each_row(
        |error| error,
        |_, _| {
            rows += 1;
            Ok(())
        },
    )?;
    Ok(rows)
}

/// The rows of the first look, and what the second comes to after a change.
fn looks(path: &Path, change: impl FnOnce(&Path)) -> (u64, Result<u64, TableError>) {
    let table = Table::open(path, &Wanted::default()).unwrap();
    let first = rows(&table).unwrap();
    assert_eq!(rows(&table).unwrap(), first, "nothing has changed");
    change(path);
    (first, rows(&table))
}

fn captures() -> String {
    let row = |row: u64| format!("LF{row},{}.3.2024\n", row % 28 + 1);
    format!("ring,seen\n{}", (0..20_000).map(row).collect::<String>())
}

fn is_noticed((rows, second): (u64, Result<u64, TableError>)) {
    assert_eq!(rows, 20_000);
    assert!(matches!(second, Err(TableError::Changed)), "{second:?}");
}

#[test]
fn a_file_that_is_cut_or_grows_or_is_edited_between_two_looks_is_noticed() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.csv");
    let text = captures();
    let write = |text: &str| fs::write(&path, text).unwrap();
    write(&text);
    is_noticed(looks(&path, |path| {
        fs::File::options().write(true).open(path).unwrap().set_len(100_000).unwrap();
    }));
    write(&text);
    is_noticed(looks(&path, |path| {
        let mut file = fs::File::options().append(true).open(path).unwrap();
        file.write_all(b"LF0,1.1.2024\n").unwrap();
    }));
    // The same length, and the same time.
    write(&text);
    is_noticed(looks(&path, |path| {
        let before = fs::metadata(path).unwrap().modified().unwrap();
        fs::write(path, text.replace("LF777,", "LF778,")).unwrap();
        fs::File::options().write(true).open(path).unwrap().set_modified(before).unwrap();
    }));
    write(&text);
    let (_, again) = looks(&path, |path| fs::write(path, &text).unwrap());
    assert_eq!(again.unwrap(), 20_000, "the same bytes are the same file");
}

#[test]
fn a_database_that_is_written_to_between_two_looks_is_noticed() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.db");
    let database = rusqlite::Connection::open(&path).unwrap();
    database
        .execute_batch(
            "CREATE TABLE finds (seen); WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n LIMIT \
             20000) INSERT INTO finds SELECT i FROM n",
        )
        .unwrap();
    is_noticed(looks(&path, |_| {
        database.execute_batch("INSERT INTO finds SELECT seen FROM finds").unwrap();
    }));
}

/// What is new in a database may stand in the log beside it.
#[cfg(feature = "sqlite")]
#[test]
fn a_row_that_is_only_in_the_log_of_a_database_is_noticed() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.sqlite");
    let writer = rusqlite::Connection::open(&path).unwrap();
    writer
        .execute_batch(
            "PRAGMA journal_mode=WAL; PRAGMA wal_autocheckpoint=0; CREATE TABLE rings (ring TEXT); \
             INSERT INTO rings VALUES ('LF1'), ('LF2'); PRAGMA wal_checkpoint(TRUNCATE)",
        )
        .unwrap();
    let before = fs::metadata(&path).unwrap();
    let (rows, second) = looks(&path, |_| {
        writer.execute_batch("INSERT INTO rings VALUES ('LF3')").unwrap();
    });
    let after = fs::metadata(&path).unwrap();
    assert_eq!(
        (before.len(), before.modified().unwrap()),
        (after.len(), after.modified().unwrap())
    );
    assert_eq!(rows, 2);
    assert!(matches!(second, Err(TableError::Changed)), "{second:?}");
}
