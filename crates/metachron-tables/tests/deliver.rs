//! What is delivered is read by readers that are none of ours, and by ours again: the same values.
#![allow(clippy::unwrap_used, clippy::panic, clippy::disallowed_macros)]

#[path = "../../metachron-core/tests/numbers/mod.rs"]
mod numbers;

use std::fs::File;
use std::path::Path;
use std::process::Command;

use jiff::civil::{Date, DateTime, Time};
use jiff::{Timestamp, tz::Offset};
use metachron_core::duration::Duration;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::value::Value;
use metachron_tables::address::Secrets;
use metachron_tables::deliver::{
    Cell, Delivery, Existing, Holds, OutputField, Undelivered, Wish, writer,
};
use metachron_tables::table::Table;
use metachron_tables::wanted::Wanted;
use numbers::Numbers;

const ROWS: usize = 1_000;

fn fields() -> Vec<OutputField> {
    let of = |name: &str, holds, digits| OutputField { holds, digits, ..OutputField::text(name) };
    vec![
        of("day", Holds::Of(Kind::Date), 0),
        of("time", Holds::Of(Kind::Time), 9),
        of("clock", Holds::Of(Kind::DateTime), 6),
        of("moment", Holds::Of(Kind::Instant), 3),
        of("length", Holds::Of(Kind::Duration), 0),
        of("month", Holds::Of(Kind::Month), 0),
        of("weight", Holds::Number, 0),
        of("count", Holds::Whole, 0),
        of("ringed", Holds::Truth, 0),
        OutputField::text("note \"quoted\""),
    ]
}

/// Random rows, the first of them at the ends of what can be written, a tenth of the cells missing.
fn rows() -> Vec<Vec<Cell<'static>>> {
    let mut numbers = Numbers(11);
    let rows = (0..ROWS).map(|row| {
        let day = match row {
            0 => Date::new(1, 1, 1).unwrap(),
            1 => Date::new(9999, 12, 31).unwrap(),
            2 => Date::new(1900, 2, 28).unwrap(),
            3 => Date::new(1969, 12, 31).unwrap(),
            _ => Date::new(
                1 + numbers.below(9_999) as i16,
                1 + numbers.below(12) as i8,
                1 + numbers.below(28) as i8,
            )
            .unwrap(),
        };
        let time = |numbers: &mut Numbers, grain: i32| {
            let nanos = match row {
                1 => 999_999_999 / grain * grain,
                _ => numbers.below(1_000_000_000) as i32 / grain * grain,
            };
            let (hour, minute) = (numbers.below(24) as i8, numbers.below(60) as i8);
            Time::new(hour, minute, numbers.below(60) as i8, nanos).unwrap()
        };
        let clock = DateTime::from_parts(day, time(&mut numbers, 1_000));
        // The last days lie beyond what UTC can say.
        let moment = DateTime::from_parts(
            day.min(Date::new(9999, 12, 29).unwrap()),
            time(&mut numbers, 1_000_000),
        );
        let moment = Offset::UTC.to_timestamp(moment).unwrap();
        let seconds = i128::from(numbers.below(1_000_000)) * 1_000_000_000;
        let cells = [
            Cell::Typed(TypedValue::Date(day)),
            Cell::Typed(TypedValue::Time(time(&mut numbers, 1))),
            Cell::Typed(TypedValue::DateTime(clock)),
            Cell::Typed(TypedValue::Instant(moment)),
            Cell::Typed(TypedValue::Duration(Duration::of_nanos(seconds).unwrap())),
            Cell::Typed(TypedValue::Month(day.first_of_month())),
            Cell::Number(format!("{}.{}", numbers.below(1_000), 1 + numbers.below(9)).leak()),
            Cell::Number((numbers.next() as i64 / 2).to_string().leak()),
            Cell::Truth(row % 2 == 0),
            Cell::Text(format!("ring {row}, \"Skårholm\"; 鳥's\nnest").leak()),
        ];
        let cells = cells.into_iter().enumerate();
        cells
            .map(|(at, cell)| match row > 3 && (row + at) % 10 == 0 {
                true => Cell::Missing,
                false => cell,
            })
            .collect()
    });
    rows.collect()
}

fn wish(delivery: Delivery) -> Wish {
    Wish {
        delivery,
        table: "finds".to_owned(),
        existing: Existing::Stop,
        unix_times: false,
        date_code: None,
        secrets: Secrets::default(),
    }
}

fn write(path: &Path, wish: &Wish, rows: &[Vec<Cell>]) -> Result<Vec<String>, Undelivered> {
    let mut writer = writer(path, fields(), wish)?;
    for row in rows {
        writer.row(row)?;
    }
    writer.finish()
}

/// A table as this library reads it, as ISO texts.
fn read_again(path: &Path) -> Vec<Vec<String>> {
    let table = Table::open(path, &Wanted::default()).unwrap();
    let mut rows = Vec::new();
    let mut buffer = String::new();
    table
        .each_row(
            |error| panic!("{error}"),
            |_, row| {
                let cells =
                    (0..table.header.names.len()).map(|at| match row.cell(at, &mut buffer) {
                        Value::Missing => String::new(),
                        value => value.to_text().into_owned(),
                    });
                rows.push(cells.collect());
                Ok::<(), std::convert::Infallible>(())
            },
        )
        .unwrap();
    rows
}

fn texts(row: &[Cell]) -> Vec<String> {
    // As fine as each is, not as fine as its column.
    let plain = |cell: &Cell| match cell {
        Cell::Typed(moment) => moment.to_string(),
        cell => cell.to_text(0).into_owned(),
    };
    row.iter().map(plain).collect()
}

#[test]
fn parquet_has_the_types_and_values_that_its_own_reader_finds() {
    use parquet::basic::{LogicalType, TimeUnit};
    use parquet::file::reader::{FileReader, SerializedFileReader};
    use parquet::record::Field as Read;
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("finds.parquet");
    let rows = rows();
    let notes = write(&path, &wish(Delivery::Parquet), &rows).unwrap();
    assert_eq!(
        notes,
        [
            "time counts nanoseconds, clock counts microseconds, moment counts milliseconds, length counts seconds"
        ]
    );
    let reader = SerializedFileReader::new(File::open(&path).unwrap()).unwrap();
    let schema = reader.metadata().file_metadata().schema().get_fields().to_vec();
    let logical = |at: usize| schema[at].get_basic_info().logical_type_ref().cloned();
    assert_eq!(logical(0), Some(LogicalType::Date));
    assert_eq!(logical(1), Some(LogicalType::time(false, TimeUnit::NANOS)));
    assert_eq!(logical(2), Some(LogicalType::timestamp(false, TimeUnit::MICROS)));
    assert_eq!(logical(3), Some(LogicalType::timestamp(true, TimeUnit::MILLIS)));
    assert_eq!(logical(5), Some(LogicalType::String));
    let epoch = Date::new(1970, 1, 1).unwrap();
    let mut seen = 0;
    for (row, cells) in reader.get_row_iter(None).unwrap().zip(&rows) {
        let row = row.unwrap();
        for ((_, read), cell) in row.get_column_iter().zip(cells) {
            seen += 1;
            let same = match (read, cell) {
                (Read::Null, Cell::Missing) => true,
                (Read::Date(days), Cell::Typed(TypedValue::Date(day))) => {
                    epoch.checked_add(jiff::Span::new().days(*days)).unwrap() == *day
                }
                (Read::Long(nanos), Cell::Typed(TypedValue::Time(time))) => {
                    Time::midnight().until(*time).unwrap().total(jiff::Unit::Nanosecond).unwrap()
                        == *nanos as f64
                }
                (Read::TimestampMicros(micros), Cell::Typed(TypedValue::DateTime(clock))) => {
                    let (seconds, rest) =
                        (micros.div_euclid(1_000_000), micros.rem_euclid(1_000_000));
                    let days = epoch.until(clock.date()).unwrap().get_days();
                    let time = clock.time();
                    let of_day = i64::from(time.hour()) * 3_600
                        + i64::from(time.minute()) * 60
                        + i64::from(time.second());
                    seconds == i64::from(days) * 86_400 + of_day
                        && rest * 1_000 == i64::from(time.subsec_nanosecond())
                }
                (Read::TimestampMillis(millis), Cell::Typed(TypedValue::Instant(instant))) => {
                    Timestamp::from_millisecond(*millis).unwrap() == *instant
                }
                (Read::Long(seconds), Cell::Typed(TypedValue::Duration(own))) => {
                    i128::from(*seconds) * 1_000_000_000 == own.nanos()
                }
                (Read::Str(text), Cell::Typed(month)) => *text == month.to_string(),
                (Read::Str(text), Cell::Text(own)) => text == own,
                (Read::Double(number), Cell::Number(own)) => *number == own.parse::<f64>().unwrap(),
                (Read::Long(number), Cell::Number(own)) => number.to_string() == *own,
                (Read::Bool(truth), Cell::Truth(own)) => truth == own,
                _ => false,
            };
            assert!(same, "{read:?} {cell:?}");
        }
    }
    assert_eq!(seen, ROWS * fields().len());
    let again = read_again(&path);
    assert_eq!(again.len(), rows.len());
    for (read, row) in again.iter().zip(&rows) {
        assert_eq!(*read, texts(row));
    }
}

/// The same file read by a client in Python, where there is one.
#[test]
fn a_python_client_reads_parquet_where_there_is_one() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("finds.parquet");
    let rows = rows();
    write(&path, &wish(Delivery::Parquet), &rows).unwrap();
    let script = "import sys, pyarrow.parquet as pq\n\
        t = pq.read_table(sys.argv[1])\n\
        print([str(f.type) for f in t.schema])\n\
        print(t.num_rows, sum(c.null_count for c in t.columns), t['day'][0])\n\
        columns = [t['day'].cast('int32'), t['clock'].cast('int64'), t['moment'].cast('int64'), t['length'], t['count']]\n\
        print('\\n'.join(' '.join(str(v) for v in row) for row in zip(*(c.to_pylist() for c in columns))))";
    let has = |module: &str| {
        let import = Command::new("python3").args(["-c", &format!("import {module}")]).output();
        import.is_ok_and(|output| output.status.success())
    };
    if !has("pyarrow") {
        assert!(std::env::var_os("CI").is_none(), "CI must have pyarrow for python3");
        println!("SKIPPED: no pyarrow for python3 here, so Parquet is read by the crate alone");
        return;
    }
    let output = Command::new("python3").args(["-c", script]).arg(&path).output().unwrap();
    let said = String::from_utf8(output.stdout).unwrap();
    let missing = rows.iter().flatten().filter(|cell| **cell == Cell::Missing).count();
    let epoch = Date::new(1970, 1, 1).unwrap();
    let days = |date: Date| i64::from(epoch.until(date).unwrap().get_days());
    let number = |cell: &Cell| match cell {
        Cell::Missing => "None".to_owned(),
        Cell::Typed(TypedValue::Date(date)) => days(*date).to_string(),
        Cell::Typed(TypedValue::DateTime(clock)) => {
            let time = clock.time();
            let seconds = days(clock.date()) * 86_400
                + i64::from(time.hour()) * 3_600
                + i64::from(time.minute()) * 60
                + i64::from(time.second());
            (seconds * 1_000_000 + i64::from(time.subsec_nanosecond()) / 1_000).to_string()
        }
        Cell::Typed(TypedValue::Instant(instant)) => instant.as_millisecond().to_string(),
        Cell::Typed(TypedValue::Duration(own)) => (own.nanos() / 1_000_000_000).to_string(),
        cell => cell.to_text(0).into_owned(),
    };
    let expected: Vec<String> =
        rows.iter().map(|row| [0, 2, 3, 4, 7].map(|at| number(&row[at])).join(" ")).collect();
    let mut said = said.lines();
    assert_eq!(
        said.next(),
        Some(
            "['date32[day]', 'time64[ns]', 'timestamp[us]', 'timestamp[ms, tz=UTC]', 'int64', 'string', \
             'double', 'int64', 'bool', 'string']"
        ),
        "{}",
        String::from_utf8_lossy(&output.stderr)
    );
    assert_eq!(said.next(), Some(format!("{ROWS} {missing} 0001-01-01").as_str()));
    let found: Vec<&str> = said.collect();
    assert_eq!(found.len(), expected.len());
    for (found, expected) in found.iter().zip(&expected) {
        assert_eq!(found, expected);
    }
}

#[cfg(feature = "arrow")]
#[test]
fn arrow_files_have_the_types_and_values_of_the_rows() {
    use arrow_array::{Array, Date32Array, DurationNanosecondArray, TimestampMicrosecondArray};
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("finds.arrow");
    let rows = rows();
    write(&path, &wish(Delivery::Arrow), &rows).unwrap();
    let reader = arrow_ipc::reader::FileReader::try_new(File::open(&path).unwrap(), None).unwrap();
    let types: Vec<String> =
        reader.schema().fields().iter().map(|f| f.data_type().to_string()).collect();
    assert_eq!(types[..2], ["Date32", "Time64(ns)"], "{types:?}");
    let mut at = 0;
    for batch in reader {
        let batch = batch.unwrap();
        let days: &Date32Array = batch.column(0).as_any().downcast_ref().unwrap();
        let clocks: &TimestampMicrosecondArray = batch.column(2).as_any().downcast_ref().unwrap();
        let lengths: &DurationNanosecondArray = batch.column(4).as_any().downcast_ref().unwrap();
        for row in 0..batch.num_rows() {
            let epoch = Date::new(1970, 1, 1).unwrap();
            match &rows[at][0] {
                Cell::Typed(TypedValue::Date(day)) => {
                    assert_eq!(epoch.until(*day).unwrap().get_days(), days.value(row));
                }
                _ => assert!(days.is_null(row)),
            }
            match &rows[at][2] {
                Cell::Typed(TypedValue::DateTime(clock)) => {
                    let days = i64::from(epoch.until(clock.date()).unwrap().get_days());
                    assert_eq!(clocks.value(row).div_euclid(86_400_000_000), days);
                }
                _ => assert!(clocks.is_null(row)),
            }
            match &rows[at][4] {
                Cell::Typed(TypedValue::Duration(own)) => {
                    assert_eq!(i128::from(lengths.value(row)), own.nanos());
                }
                _ => assert!(lengths.is_null(row)),
            }
            at += 1;
        }
    }
    assert_eq!(at, ROWS);
}

#[test]
fn workbooks_have_cells_that_are_dates() {
    use calamine::{Data, Reader, Xlsx, open_workbook};
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("finds.xlsx");
    let rows = rows();
    let notes = write(&path, &wish(Delivery::Workbook), &rows).unwrap();
    let early = rows.iter().flat_map(|row| [&row[0], &row[2], &row[3]]).filter(|cell| match cell {
        Cell::Typed(moment) => moment.date().unwrap() < Date::new(1900, 3, 1).unwrap(),
        _ => false,
    });
    let early = early.count();
    assert!(early > 100, "{early}");
    assert_eq!(notes[0], "moment shows clock times of UTC, as sheets know no zones");
    assert!(notes[1].starts_with(&format!("{early} values are text")), "{notes:?}");
    let mut book: Xlsx<_> = open_workbook(&path).unwrap();
    let range = book.worksheet_range("finds").unwrap();
    assert_eq!(range.height(), ROWS + 1);
    for (read, cells) in range.rows().skip(1).zip(&rows) {
        for (read, cell) in read.iter().zip(cells) {
            // A sheet shows milliseconds. Floating point has about a microsecond for days of our time, forty for the
            // last ones.
            let near = |serial: f64, clock: DateTime| {
                let origin = Date::new(1899, 12, 30).unwrap();
                let time = clock.time();
                let seconds = f64::from(origin.until(clock.date()).unwrap().get_days()) * 86_400.0
                    + f64::from(time.hour()) * 3_600.0
                    + f64::from(time.minute()) * 60.0
                    + f64::from(time.second())
                    + f64::from(time.millisecond()) / 1e3;
                (serial * 86_400.0 - seconds).abs() < 1e-4
            };
            let same = match (read, cell) {
                (Data::Empty, Cell::Missing) => true,
                (Data::DateTime(serial), Cell::Typed(TypedValue::Date(day))) => {
                    near(serial.as_f64(), day.at(0, 0, 0, 0))
                }
                (Data::DateTime(serial), Cell::Typed(TypedValue::DateTime(clock))) => {
                    near(serial.as_f64(), *clock)
                }
                (Data::DateTime(serial), Cell::Typed(TypedValue::Instant(instant))) => {
                    near(serial.as_f64(), Offset::UTC.to_datetime(*instant))
                }
                (Data::DateTime(serial), Cell::Typed(TypedValue::Time(time))) => {
                    let day = Date::new(1899, 12, 30).unwrap();
                    near(serial.as_f64(), day.to_datetime(*time))
                }
                (Data::DateTime(serial), Cell::Typed(TypedValue::Duration(own))) => {
                    serial.is_duration()
                        && (serial.as_f64() * 86_400e9 - own.nanos() as f64).abs() < 1e6
                }
                (Data::String(text), Cell::Typed(moment)) => {
                    *text
                        == Cell::Typed(*moment).to_text(
                            fields()
                                .iter()
                                .find(|f| f.holds == Holds::Of(moment.kind()))
                                .unwrap()
                                .digits,
                        )
                }
                (Data::String(text), Cell::Text(own)) => text == own,
                (Data::Float(number), Cell::Number(own)) => *number == own.parse::<f64>().unwrap(),
                (Data::Bool(truth), Cell::Truth(own)) => truth == own,
                _ => false,
            };
            assert!(same, "{read:?} {cell:?}");
        }
    }
}

#[test]
fn rows_that_a_sheet_has_no_room_for_go_to_the_next() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.xlsx");
    let mut writer =
        writer(&path, vec![OutputField::text("n")], &wish(Delivery::Workbook)).unwrap();
    for _ in 0..1_048_580 {
        writer.row(&[Cell::Missing]).unwrap();
    }
    writer.row(&[Cell::Text("last")]).unwrap();
    assert_eq!(writer.finish().unwrap(), ["2 sheets, since one has room for 1,048,575 rows"]);
    use calamine::{Data, Reader, Xlsx, open_workbook};
    let mut book: Xlsx<_> = open_workbook(&path).unwrap();
    assert_eq!(book.sheet_names(), ["finds", "finds (2)"]);
    let range = book.worksheet_range("finds (2)").unwrap();
    assert_eq!(range.get_value((0, 0)), Some(&Data::String("n".to_owned())));
    assert_eq!(range.get_value((6, 0)), Some(&Data::String("last".to_owned())));
}

#[test]
fn databases_read_dates_by_their_own_functions() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("finds.sqlite");
    let rows = rows();
    write(&path, &wish(Delivery::Sqlite), &rows).unwrap();
    let database = rusqlite::Connection::open(&path).unwrap();
    let mut declared = database.prepare("SELECT type FROM pragma_table_info('finds')").unwrap();
    let declared: Vec<String> =
        declared.query_map([], |row| row.get(0)).unwrap().map(Result::unwrap).collect();
    assert_eq!(
        declared,
        [
            "DATE",
            "TIME",
            "TIMESTAMP",
            "TIMESTAMP",
            "TEXT",
            "TEXT",
            "REAL",
            "INTEGER",
            "INTEGER",
            "TEXT"
        ]
    );
    let mut query = database
        .prepare("SELECT date(day), time(time), strftime('%Y-%m-%dT%H:%M:%S', clock), unixepoch(moment) FROM finds")
        .unwrap();
    let found = query
        .query_map([], |row| Ok((row.get(0)?, row.get(1)?, row.get(2)?, row.get(3)?)))
        .unwrap()
        .map(Result::unwrap);
    let mut seen = 0;
    type Found = (Option<String>, Option<String>, Option<String>, Option<i64>);
    for ((day, time, clock, moment), cells) in found.zip(&rows) {
        let (day, time, clock, moment): Found = (day, time, clock, moment);
        let own = |at: usize, length: usize| match &cells[at] {
            Cell::Missing => None,
            cell => Some(cell.to_text(0)[..length].to_owned()),
        };
        assert_eq!((day, time, clock), (own(0, 10), own(1, 8), own(2, 19)));
        match (&cells[3], moment) {
            (Cell::Typed(TypedValue::Instant(instant)), Some(seconds)) => {
                assert_eq!(instant.as_nanosecond().div_euclid(1_000_000_000), i128::from(seconds));
            }
            (cell, read) => assert_eq!((cell, read), (&Cell::Missing, None)),
        }
        seen += 1;
    }
    assert_eq!(seen, ROWS);
    // A table that is there stops, is added to, or goes.
    let again = |existing| write(&path, &Wish { existing, ..wish(Delivery::Sqlite) }, &rows[..10]);
    let rows_now = || -> i64 {
        database.query_row("SELECT count(*) FROM finds", [], |row| row.get(0)).unwrap()
    };
    let stopped = again(Existing::Stop).unwrap_err();
    assert!(matches!(stopped, Undelivered::TableIsThere(_)), "{stopped}");
    assert_eq!(rows_now(), 1_000);
    again(Existing::Append).unwrap();
    assert_eq!(rows_now(), 1_010);
    again(Existing::Replace).unwrap();
    assert_eq!(rows_now(), 10);
    // What fails on the way leaves the database as it was.
    let wish = Wish { existing: Existing::Replace, ..wish(Delivery::Sqlite) };
    let mut broken = writer(&path, fields(), &wish).unwrap();
    broken.row(&rows[0]).unwrap();
    drop(broken);
    assert_eq!(rows_now(), 10);
}

#[test]
fn unix_times_are_integers() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.sqlite");
    let field = OutputField { holds: Holds::Of(Kind::Instant), ..OutputField::text("at") };
    let wish = Wish { unix_times: true, ..wish(Delivery::Sqlite) };
    let mut writer = writer(&path, vec![field], &wish).unwrap();
    let before = Timestamp::from_millisecond(-500).unwrap();
    writer.row(&[Cell::Typed(TypedValue::Instant(before))]).unwrap();
    writer.finish().unwrap();
    let database = rusqlite::Connection::open(&path).unwrap();
    let read: String = database
        .query_row("SELECT typeof(at) || ' ' || datetime(at, 'unixepoch') FROM finds", [], |row| {
            row.get(0)
        })
        .unwrap();
    assert_eq!(read, "integer 1969-12-31 23:59:59");
}

#[test]
fn json_is_what_it_was() {
    let folder = tempfile::tempdir().unwrap();
    let rows = rows();
    for (name, delivery) in [("a.jsonl", Delivery::JsonLines), ("a.json", Delivery::JsonArray)] {
        let path = folder.path().join(name);
        write(&path, &wish(delivery), &rows).unwrap();
        let text = std::fs::read_to_string(&path).unwrap();
        let objects: Vec<serde_json::Value> = match delivery {
            Delivery::JsonArray => serde_json::from_str(&text).unwrap(),
            _ => text.lines().map(|line| serde_json::from_str(line).unwrap()).collect(),
        };
        assert_eq!(objects.len(), ROWS);
        for (object, cells) in objects.iter().zip(&rows) {
            for (field, cell) in fields().iter().zip(cells) {
                let read = &object[field.name.as_str()];
                match cell {
                    Cell::Missing => assert!(read.is_null()),
                    Cell::Truth(truth) => assert_eq!(read.as_bool(), Some(*truth)),
                    Cell::Number(number) => assert_eq!(read.to_string(), *number),
                    cell => assert_eq!(read.as_str(), Some(&*cell.to_text(field.digits))),
                }
            }
        }
    }
    let empty = folder.path().join("none.json");
    write(&empty, &wish(Delivery::JsonArray), &[]).unwrap();
    assert_eq!(std::fs::read_to_string(&empty).unwrap(), "[]\n");
}

#[test]
fn nanoseconds_that_a_column_cannot_hold_are_refused_with_their_row() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("a.parquet");
    let field =
        OutputField { holds: Holds::Of(Kind::DateTime), digits: 9, ..OutputField::text("at") };
    let mut own = writer(&path, vec![field], &wish(Delivery::Parquet)).unwrap();
    let cell = |text: &str| [Cell::Typed(TypedValue::DateTime(text.parse().unwrap()))];
    own.row(&cell("2024-03-05T10:15:00.123456789")).unwrap();
    let error = own.row(&cell("0001-01-01T00:00:00")).unwrap_err().to_string();
    assert_eq!(
        error,
        "row 2, column \"at\": 0001-01-01T00:00:00.000000000 lies beyond what nanoseconds of 64 bits reach (1677 to 2262)"
    );
    drop(own);
    assert!(!path.exists() && std::fs::read_dir(folder.path()).unwrap().next().is_none());
    let field = OutputField { holds: Holds::Of(Kind::Duration), ..OutputField::text("length") };
    let mut own = writer(&path, vec![field], &wish(Delivery::Parquet)).unwrap();
    let month = Cell::Typed(TypedValue::Duration("P1M".parse().unwrap()));
    assert!(own.row(&[month]).unwrap_err().to_string().contains("has months"));
}

#[test]
fn of_two_runs_into_one_new_database_none_loses_the_others_table() {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join("flyway.db");
    let begin = |table: &str| {
        let wish = Wish { table: table.to_owned(), ..wish(Delivery::Sqlite) };
        writer(&path, vec![OutputField::text("ring")], &wish).unwrap()
    };
    let (mut one, mut other) = (begin("spring"), begin("autumn"));
    one.row(&[Cell::Text("LF1")]).unwrap();
    other.row(&[Cell::Text("LF2")]).unwrap();
    one.finish().unwrap();
    let refused = other.finish().unwrap_err();
    assert!(matches!(&refused, Undelivered::Refused(why) if why.contains("another run")));
    let mut again = begin("autumn");
    again.row(&[Cell::Text("LF2")]).unwrap();
    again.finish().unwrap();
    let database = rusqlite::Connection::open(&path).unwrap();
    for table in ["spring", "autumn"] {
        let count = format!("SELECT count(*) FROM {table}");
        assert_eq!(database.query_row(&count, [], |row| row.get::<_, i64>(0)).unwrap(), 1);
    }
}
