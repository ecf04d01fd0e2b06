//! Parquet files and SQLite databases.

use std::process::Command;
use std::sync::Arc;

use parquet::data_type::{ByteArray, ByteArrayType, Int32Type, Int64Type, Int96, Int96Type};
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
fn a_query_is_saved_and_gives_way_to_a_table() {
    let bench = Bench::new();
    database(&bench);
    let query = "SELECT captured AS day, ring FROM captures WHERE captured IS NOT NULL";
    let options = format!("--query '{query}' --make 'month = day | month' --where 'ring != LF1'");
    let converted = "day,day_typed,ring,month\n14/04/2024,2024-04-14,LF2,4\n";
    bench.run(&format!("convert a.db {options} --quiet")).stdout(converted).check();
    bench
        .run(&format!("survey a.db {options} --save a.toml"))
        .stdout_has(&[])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.db --readings a.toml -o a.out.csv\n",
        )
        .check();
    bench.run("convert a.db --readings a.toml --quiet").stdout(converted).check();
    let saved = bench.read("a.toml");
    assert!(saved.contains(&format!("[source]\nquery = \"{query}\"\n")), "{saved}");
    // What is said here and now is read instead, and saved instead.
    bench
        .run("survey a.db --readings a.toml --table captures --column captured --save b.toml")
        .status(1)
        .stderr_has(&["a.toml reads a column \"day\" that a.db does not have"])
        .check();
    bench
        .run("survey a.db --query 'SELECT * FROM captures' --save b.toml")
        .stdout_has(&["a.db   SQLite, 3 rows"])
        .stderr_has(&["decisions saved in b.toml"])
        .check();
    bench
        .run("survey a.db --readings b.toml --table captures --save b.toml")
        .stdout_has(&["table \"captures\""])
        .stderr_has(&["decisions saved in b.toml"])
        .check();
    let saved = bench.read("b.toml");
    assert!(saved.contains("[source]\ntable = \"captures\"\n"), "{saved}");
    assert!(!saved.contains("query"), "{saved}");
    bench.write("b.toml", "metachron = 1\n[source]\ntable = \"captures\"\nquery = \"SELECT 1\"\n");
    bench
        .run("convert a.db --readings b.toml")
        .status(1)
        .stderr("metachron: b.toml, line 4: a table is read, or what a query gives, not both\n")
        .check();
}

#[test]
fn what_is_said_of_a_file_is_about_its_format() {
    let bench = Bench::with("a.csv", "ring,seen\nLF1,2024-04-13\n");
    database(&bench);
    bench.write("a.jsonl", "{\"seen\": \"2024-04-13\"}\n");
    bench.write("a.html", "<table><tr><th>seen</th></tr><tr><td>2024-04-13</td></tr></table>");
    bench.run("convert a.csv -o a.xlsx --quiet").check();
    bench.run("convert a.csv -o a.parquet --quiet").check();
    for (file, option, what) in [
        ("a.csv", "--sheet Birds", "workbooks"),
        ("a.csv", "--table captures", "databases"),
        ("a.csv", "--query 'SELECT 1'", "databases"),
        ("a.jsonl", "--skip-lines 0", "delimited text, workbooks and tables of pages"),
        ("a.html", "--delimiter ;", "delimited text"),
        ("a.html", "--sheet 1", "workbooks"),
        ("a.xlsx", "--encoding utf-16le", "text"),
        ("a.xlsx", "--max-record 5", "text"),
        ("a.parquet", "--delimiter ,", "delimited text"),
        ("a.parquet", "--table captures", "databases"),
        ("a.db", "--header-line 1", "delimited text, workbooks and tables of pages"),
        ("a.db", "--no-header", "delimited text, workbooks and tables of pages"),
        ("a.db", "--encoding utf-8", "text"),
    ] {
        let name = option.split(' ').next().unwrap();
        for command in ["survey", "convert", "check"] {
            bench
                .run(&format!(
                    "{command} {file} '{}'",
                    option.replace('\'', "").replacen(' ', "' '", 1)
                ))
                .status(2)
                .stderr(format!("metachron: {name} has no effect on {file}: it is about {what}\n"))
                .check();
        }
    }
    // What it is about, it changes.
    bench.run("survey a.xlsx --sheet 1 --skip-lines 0").stdout_has(&["sheet"]).check();
    bench.run("survey a.csv --encoding utf-8 --max-record 5").stdout_has(&["UTF-8"]).check();
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

/// A Parquet file of a text, a date in 32 bits, a timestamp in 64 and in 96, and bytes; the groups of rows are two.
fn parquet_of_extremes() -> Vec<u8> {
    let schema = "message captures {
        required binary captured (UTF8);
        required int32 released (DATE);
        required int64 logged (TIMESTAMP(MICROS, true));
        optional int96 read;
        required int96 kept;
        required binary mark;
    }";
    let schema = Arc::new(parse_message_type(schema).unwrap());
    let mut bytes = Vec::new();
    let mut writer = SerializedFileWriter::new(&mut bytes, schema, Default::default()).unwrap();
    // Julian day 2,460,414 is 2024-04-13.
    let wide = |nanos: u64, day: u32| {
        let mut value = Int96::new();
        value.set_data(nanos as u32, (nanos >> 32) as u32, day);
        value
    };
    let texts = |texts: &[&'static [u8]]| -> Vec<ByteArray> {
        texts.iter().map(|text| ByteArray::from(text.to_vec())).collect()
    };
    for group in [0, 1] {
        let mut rows = writer.next_row_group().unwrap();
        let last = group == 1;
        let mut column = rows.next_column().unwrap().unwrap();
        let captured = texts(&[b"13.4.2024", b"14.4.2024"]);
        column.typed::<ByteArrayType>().write_batch(&captured, None, None).unwrap();
        column.close().unwrap();
        let mut column = rows.next_column().unwrap().unwrap();
        let released = [19_826, if last { i32::MAX } else { -1 }];
        column.typed::<Int32Type>().write_batch(&released, None, None).unwrap();
        column.close().unwrap();
        let mut column = rows.next_column().unwrap().unwrap();
        let logged = [1_713_000_000_250_001, if last { i64::MAX } else { 0 }];
        column.typed::<Int64Type>().write_batch(&logged, None, None).unwrap();
        column.close().unwrap();
        let mut column = rows.next_column().unwrap().unwrap();
        let read = [wide(1_000_000_001, 2_460_414)];
        column
            .typed::<Int96Type>()
            .write_batch(&read, Some(&[i16::from(!last), i16::from(last)]), None)
            .unwrap();
        column.close().unwrap();
        let mut column = rows.next_column().unwrap().unwrap();
        let kept = [
            wide(86_399_999_999_999, 2_440_587),
            wide(u64::from(last) * 90_000_000_000_000, 2_460_414),
        ];
        column.typed::<Int96Type>().write_batch(&kept, None, None).unwrap();
        column.close().unwrap();
        let mut column = rows.next_column().unwrap().unwrap();
        let mark = texts(&[b"red", if last { b"\xFF\x00" } else { b"blue" }]);
        column.typed::<ByteArrayType>().write_batch(&mark, None, None).unwrap();
        column.close().unwrap();
        rows.close().unwrap();
    }
    writer.close().unwrap();
    bytes
}

#[test]
fn what_no_cell_can_carry_is_a_reject_and_nothing_is_cut() {
    let bench = Bench::with("a.parquet", parquet_of_extremes());
    bench
        .run("convert a.parquet --rejects r.csv --quiet -o b.csv")
        .status(4)
        .stderr_has(&["1 row has an unreadable or contested cell (row 4)"])
        .check();
    assert_eq!(
        bench.read("b.csv"),
        "captured,captured_typed,released,released_typed,logged,logged_typed,read,kept,kept_typed,mark\n\
         13.4.2024,2024-04-13,2024-04-13,2024-04-13,2024-04-13T09:20:00.250001Z,2024-04-13T09:20:00.250001Z,\
         2024-04-13T00:00:01.000000001Z,1969-12-31T23:59:59.999999999Z,1969-12-31T23:59:59.999999999Z,red\n\
         14.4.2024,2024-04-14,1969-12-31,1969-12-31,1970-01-01T00:00:00Z,1970-01-01T00:00:00.000000Z,,\
         2024-04-13T00:00:00Z,2024-04-13T00:00:00.000000000Z,blue\n\
         13.4.2024,2024-04-13,2024-04-13,2024-04-13,2024-04-13T09:20:00.250001Z,2024-04-13T09:20:00.250001Z,,\
         1969-12-31T23:59:59.999999999Z,1969-12-31T23:59:59.999999999Z,red\n\
         14.4.2024,2024-04-14,2147483647,,9223372036854775807,,2024-04-13T00:00:01.000000001Z,\
         2460414 90000000000000,,0xFF00\n"
    );
    let rejects = bench.read("r.csv");
    for value in
        ["released,2147483647", "logged,9223372036854775807", "kept,2460414 90000000000000"]
    {
        assert!(rejects.contains(&format!("4,4,{value},out-of-range,")), "{rejects}");
    }
}

#[test]
fn text_that_is_none_is_shown_as_it_stands() {
    let bench = Bench::with(
        "a.jsonl",
        "{\"seen\": \"13.4.2024\", \"note\": \"\\ud800\"}\n{\"seen\": \"\\udc00\", \"note\": \"a\"}\n\
         {\"seen\": \"14.4.2024\", \"note\": \"b\"}\n",
    );
    bench.run("convert a.jsonl --rejects r.csv --tolerate 1 --quiet -o b.csv").check();
    assert_eq!(
        bench.read("b.csv"),
        "seen,seen_typed,note\n13.4.2024,2024-04-13,\\ud800\n\\udc00,,a\n14.4.2024,2024-04-14,b\n"
    );
    assert!(
        bench.read("r.csv").contains("2,2,seen,\\udc00,not-text,the bytes \\udc00 are no text,")
    );

    let database = rusqlite::Connection::open(bench.path().join("a.db")).unwrap();
    database
        .execute_batch(
            "CREATE TABLE t (seen); INSERT INTO t VALUES ('13.4.2024'), (CAST(x'31FF' AS TEXT)), (x'FE00'), \
             (x'31342e342e32303234');",
        )
        .unwrap();
    drop(database);
    bench
        .run("convert a.db --tolerate 2 --quiet")
        .stdout("seen,seen_typed\n13.4.2024,2024-04-13\n0x31FF,\n0xFE00,\n14.4.2024,2024-04-14\n")
        .check();
}

/// A table of every type that a column of single values can have, as another program writes it.
const EVERY_TYPE: &str = r#"
import datetime as d, decimal, pyarrow as pa, pyarrow.parquet as pq
n = None
t = {
    "seen": pa.array(["13/05/2024", "14/05/2024", "28/02/2024", n]),
    "text": pa.array(["a", "", n, "d"]),
    "bytes": pa.array([b"\xff\x00", b"a", n, b""], pa.binary()),
    "truth": pa.array([True, False, n, True]),
    "float": pa.array([0.1, float("nan"), n, float("-inf")], pa.float32()),
    "double": pa.array([1e300, -0.0, n, 0.1], pa.float64()),
    "decimal": pa.array([decimal.Decimal("-0.04"), decimal.Decimal("99999.99"), n, decimal.Decimal("7.00")], pa.decimal128(7, 2)),
    "large": pa.array([decimal.Decimal("12345678901234567890123456.789"), n, n, decimal.Decimal("-1.5")], pa.decimal128(29, 3)),
    "day": pa.array([0, -719162, 2932896, n], pa.date32()),
    "beyond": pa.array([2147483647, -2147483648, n, 3], pa.date32()),
    "noon": pa.array([43200000, 0, n, 86399999], pa.time32("ms")),
    "late": pa.array([86400000000, -1, n, 1], pa.time64("us")),
    "milli": pa.array([0, -62135596800000, 253402300799999, n], pa.timestamp("ms")),
    "micro": pa.array([253402300799999999, 2**63 - 1, n, 1], pa.timestamp("us")),
    "nano": pa.array([1, -2**63 + 1, n, 2**63 - 1], pa.timestamp("ns")),
    "moment": pa.array([1, 1709251200000000, n, -1], pa.timestamp("us", "UTC")),
}
for bits in (8, 16, 32, 64):
    t[f"i{bits}"] = pa.array([-2**(bits - 1), 2**(bits - 1) - 1, n, 0], getattr(pa, f"int{bits}")())
    t[f"u{bits}"] = pa.array([2**bits - 1, 0, n, 1], getattr(pa, f"uint{bits}")())
pq.write_table(pa.table(t), "a.parquet", store_decimal_as_integer=False)
pq.write_table(pa.table({k: t[k] for k in ("seen", "decimal", "u8")}), "b.parquet", store_decimal_as_integer=True)
wide = pa.table({"seen": t["seen"], "wide": pa.array([1, 1709251200000000123, n, -1], pa.timestamp("ns"))})
pq.write_table(wide, "c.parquet", use_deprecated_int96_timestamps=True)
times = [86400000000, -1] + [hour * 3600000000 for hour in range(20)]
pq.write_table(pa.table({"late": pa.array(times, pa.time64("us"))}), "d.parquet")
"#;

/// Tells what is not as it was of the columns that were only passed on.
const COMPARED: &str = r#"
import sys, pyarrow.parquet as pq
for name in "abc":
    a, b = pq.read_table(name + ".parquet"), pq.read_table(name + ".out.parquet")
    raw = pq.ParquetFile(name + ".parquet").schema, pq.ParquetFile(name + ".out.parquet").schema
    for at, column in enumerate(a.column_names):
        own, other = a[column], b[column]
        # NaN differs from itself.
        same = own.type == other.type and (own.equals(other) or column == "float" and str(own) == str(other))
        if not same: print(name, column, own.type, other.type, own, other)
        l, r = raw[0].column(at), raw[1].column(b.column_names.index(column))
        if (l.physical_type, str(l.logical_type)) != (r.physical_type, str(r.logical_type)): print(name, column, l, r)
    print(name, b["seen_typed"].type, [str(v) for v in b["seen_typed"].to_pylist()])
"#;

#[test]
fn from_parquet_to_parquet_columns_keep_their_types() {
    let bench = Bench::new();
    let python = |script: &str| {
        let output =
            Command::new("python3").args(["-c", script]).current_dir(bench.path()).output();
        let output = output.unwrap();
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        (output.status.success(), String::from_utf8(output.stdout).unwrap(), said)
    };
    if !python("import pyarrow").0 {
        assert!(std::env::var_os("CI").is_none(), "CI must have pyarrow for python3");
        println!("SKIPPED: no pyarrow for python3 here");
        return;
    }
    let (is_written, _, said) = python(EVERY_TYPE);
    assert!(is_written, "{said}");
    for name in ["a", "b", "c"] {
        bench
            .run(&format!("convert {name}.parquet --column seen -o {name}.out.parquet --quiet"))
            .check();
    }
    let (is_read, compared, said) = python(COMPARED);
    assert!(is_read, "{said}");
    let days = "date32[day] ['2024-05-13', '2024-05-14', '2024-02-28', 'None']\n";
    assert_eq!(compared, format!("a {days}b {days}c {days}"));
    // A time that is none of a day has no place in a typed column, and is told.
    bench
        .run("convert d.parquet --rejects r.csv --tolerate 2 -o d.csv")
        .stderr_has(&["late"])
        .check();
    let rejects = bench.read("r.csv");
    assert!(
        rejects.contains("late,86400000000,out-of-range")
            && rejects.contains("late,-1,out-of-range"),
        "{rejects}"
    );
}
