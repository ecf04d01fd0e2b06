//! Parquet files and SQLite databases.

use std::sync::Arc;

use parquet::data_type::{ByteArray, ByteArrayType, Int32Type, Int64Type};
use parquet::file::writer::SerializedFileWriter;
use parquet::schema::parser::parse_message_type;

use crate::harness::Bench;

/// Columns of every type that matters, three rows, the last one missing where it may be.
fn parquet() -> Vec<u8> {
    let schema = "message captures {
        required binary ring (UTF8);
        optional binary captured (UTF8);
        optional int32 released (DATE);
        optional int64 logged (TIMESTAMP(MICROS, true));
        optional int64 clock (TIMESTAMP(NANOS, false));
        required int32 wing;
    }";
    let schema = Arc::new(parse_message_type(schema).unwrap());
    let mut bytes = Vec::new();
    let mut writer = SerializedFileWriter::new(&mut bytes, schema, Default::default()).unwrap();
    let mut group = writer.next_row_group().unwrap();
    let texts =
        |texts: &[&str]| texts.iter().map(|text| ByteArray::from(*text)).collect::<Vec<_>>();
    let some = [1, 1, 0];
    let mut column = group.next_column().unwrap().unwrap();
    column
        .typed::<ByteArrayType>()
        .write_batch(&texts(&["LF1", "LF2", "LF3"]), None, None)
        .unwrap();
    column.close().unwrap();
    let mut column = group.next_column().unwrap().unwrap();
    column
        .typed::<ByteArrayType>()
        .write_batch(&texts(&["13/04/2024", "14/04/2024"]), Some(&some), None)
        .unwrap();
    column.close().unwrap();
    let mut column = group.next_column().unwrap().unwrap();
    column.typed::<Int32Type>().write_batch(&[19_826, -1], Some(&some), None).unwrap();
    column.close().unwrap();
    let mut column = group.next_column().unwrap().unwrap();
    column
        .typed::<Int64Type>()
        .write_batch(&[1_713_000_000_250_000, 0], Some(&some), None)
        .unwrap();
    column.close().unwrap();
    let mut column = group.next_column().unwrap().unwrap();
    column
        .typed::<Int64Type>()
        .write_batch(&[1_713_000_000_000_000_001, 0], Some(&some), None)
        .unwrap();
    column.close().unwrap();
    let mut column = group.next_column().unwrap().unwrap();
    column.typed::<Int32Type>().write_batch(&[70, 71, 72], None, None).unwrap();
    column.close().unwrap();
    group.close().unwrap();
    writer.close().unwrap();
    bytes
}

#[test]
fn parquet_columns_that_are_typed_pass_through() {
    let bench = Bench::with("a.parquet", parquet());
    bench
        .run("survey a.parquet")
        .stdout_has(&[
            "a.parquet   Parquet, 3 rows\n",
            "captured  date      decided     {day}/{month}/{year}     2        1           0\n",
            "released  date      decided     date cells               2        1           0  date cells 2\n",
            "logged    instant   decided     date cells ",
            "clock     datetime  decided     date cells ",
        ])
        .check();
    bench
        .run("convert a.parquet -o b.csv")
        .stderr(
            "b.csv   3 rows\n  captured  → captured_typed  date  2 read, 1 missing\n  \
               released                          typed already\n  logged                            typed already\n  \
               clock                             typed already\n",
        )
        .check();
    assert_eq!(
        bench.read("b.csv"),
        "ring,captured,captured_typed,released,logged,clock,wing\n\
         LF1,13/04/2024,2024-04-13,2024-04-13,2024-04-13T09:20:00.25Z,2024-04-13T09:20:00.000000001,70\n\
         LF2,14/04/2024,2024-04-14,1969-12-31,1970-01-01T00:00:00Z,1970-01-01T00:00:00,71\n\
         LF3,,,,,,72\n"
    );
    let whole = parquet();
    bench.write("a.parquet", &whole[..whole.len() - 9]);
    bench
        .run("survey a.parquet")
        .status(1)
        .stderr(
            "metachron: a.parquet: is damaged or cut off (Parquet error: Invalid Parquet file. \
             Corrupt footer)\n",
        )
        .check();
}

fn database(bench: &Bench) {
    let database = rusqlite::Connection::open(bench.path().join("a.db")).unwrap();
    database
        .execute_batch(
            "CREATE TABLE captures (ring TEXT, captured TEXT, wing REAL);
             INSERT INTO captures VALUES ('LF1', '13/04/2024', 70.5), ('LF2', '14/04/2024', NULL), ('LF3', NULL, 71);
             CREATE TABLE \"net hours\" (net INTEGER, opened TEXT);
             INSERT INTO \"net hours\" VALUES (1, '4/13/2024'), (2, '4/14/2024');",
        )
        .unwrap();
}

#[test]
fn databases_give_a_table_or_a_query() {
    let bench = Bench::new();
    database(&bench);
    bench
        .run("survey a.db")
        .stdout_has(&[
            "a.db   SQLite, table \"captures\", 3 rows\n  other tables (--table NAME): \"net hours\"\n",
            "captured  date  decided     {day}/{month}/{year}     2        1           0\n",
        ])
        .check();
    bench
        .run("convert a.db --table 'net hours' --quiet")
        .stdout("net,opened,opened_typed\n1,4/13/2024,2024-04-13\n2,4/14/2024,2024-04-14\n")
        .check();
    bench
        .run("convert a.db --query 'SELECT captured AS day, ring FROM captures WHERE captured IS NOT NULL' --quiet")
        .stdout("day,day_typed,ring\n13/04/2024,2024-04-13,LF1\n14/04/2024,2024-04-14,LF2\n")
        .check();
    bench
        .run("survey a.db --table 'net hours' --save a.toml")
        .stdout_has(&[])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.db --readings a.toml -o a.out.csv\n",
        )
        .check();
    bench
        .run("convert a.db --readings a.toml --quiet")
        .stdout(
            "net,opened,opened_typed\n\
         1,4/13/2024,2024-04-13\n\
         2,4/14/2024,2024-04-14\n",
        )
        .check();
}

#[test]
fn what_is_wrong_with_a_database_is_said() {
    let bench = Bench::new();
    database(&bench);
    for (options, message) in [
        ("--table capture", "it has no table \"capture\"; did you mean \"captures\"?"),
        ("--query 'SELECT weight FROM captures'", "no such column: weight"),
        (
            "--query 'DELETE FROM captures'",
            "the query would change the database; it must only read",
        ),
    ] {
        bench
            .run(&format!("survey a.db {options}"))
            .status(1)
            .stderr_has(&["metachron: a.db: the database cannot be read: ", message])
            .check();
    }
    let bytes = std::fs::read(bench.path().join("a.db")).unwrap();
    bench.write("b.db", &bytes[..2_000]);
    bench
        .run("survey b.db")
        .status(1)
        .stderr("metachron: b.db: the database cannot be read: database disk image is malformed\n")
        .check();
    bench
        .run("survey -")
        .stdin(&bytes)
        .status(1)
        .stderr("metachron: standard input: the database cannot be read: it must be a file; it cannot be piped in\n")
        .check();
}
