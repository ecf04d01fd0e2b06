//! The files that really arrive: titles, encodings, dialects, compression, JSON.

use std::io::{Read, Write};

use parquet::data_type::ByteArrayType;
use parquet::file::writer::SerializedFileWriter;
use parquet::schema::parser::parse_message_type;

use metachron_tables::compress::Compression;
use metachron_tables::encoding::Charset;

use crate::harness::Bench;
use crate::records::{Cell, binary_workbook};

/// An export of a regional office: titles, semicolons, totals, blank columns.
const REGIONAL: &str = "Beringungszentrale Skarhölm;;;;\r\nStand: 31.12.2024;;;;\r\n\r\n\
    Ring;Fangtag;Gewicht;Größe;\r\nLF1;13.04.2024;12,5;73;\r\nLF2;14.04.2024;11,0;71;\r\n\r\n\
    LF3;02.05.2024;13,1;74;\r\nSumme;;36,6;;\r\n;;;;\r\nEnde des Berichts\r\n";

fn encoded(text: &str, name: &str) -> Vec<u8> {
    let mut encode = Charset::named(name).unwrap().encode(Vec::new());
    encode.write_all(text.as_bytes()).unwrap();
    encode.into_inner()
}

#[test]
fn titles_and_totals_are_listed_and_kept_out() {
    let bench = Bench::with("regional.csv", encoded(REGIONAL, "windows-1252"));
    bench
        .run("survey regional.csv")
        .stdout_has(&[
            "regional.csv   CSV, semicolon, decimal comma, windows-1252 (likely; --encoding overrides), header in line 4, 3\n               lines above it skipped, 3 rows\n",
            "  1 empty line that is no row (line 7)\n",
            "  a column without a name or a single value is called column_5\n",
            "  above the table, line 1: \"Beringungszentrale Skarhölm;;;;\"\n",
            "  above the table, line 3: \"\"\n",
            "  below the table, line 9: \"Summe;;36,6;;\"\n",
            "  below the table, line 10: \";;;;\"\n",
            "  below the table, line 11: \"Ende des Berichts\"\n",
            "  Fangtag   date  decided     {day}.{month}.{year}     3        0           0\n",
        ])
        .check();
    let rows = "Ring;Fangtag;Fangtag_typed;Gewicht;Größe;\r\nLF1;13.04.2024;2024-04-13;12,5;73;\r\n\
                LF2;14.04.2024;2024-04-14;11,0;71;\r\nLF3;02.05.2024;2024-05-02;13,1;74;\r\n";
    bench
        .run("convert regional.csv")
        .stdout(rows)
        .stderr(
            "standard output   3 rows\n  Fangtag  → Fangtag_typed  date  3 read\n  \
               1 empty line was no row and is left out (line 7)\n  \
               read as windows-1252 (likely; --encoding overrides)\n  \
               3 lines above the table and 3 lines below the table left out (--keep-preamble keeps what stands around it)\n",
        )
        .check();
    let (above, below) = REGIONAL.split_once("Ring;").unwrap();
    let below = &below[below.find("Summe").unwrap()..];
    bench
        .run("convert regional.csv --keep-preamble --quiet")
        .stdout(format!("{above}{rows}{below}"))
        .check();
    bench
        .run("convert regional.csv --drop-blank-columns --quiet")
        .stdout(rows.replace(";\r\n", "\r\n"))
        .check();
}

#[test]
fn every_finding_can_be_overridden_and_saved() {
    let bench = Bench::with("regional.csv", encoded(REGIONAL, "windows-1252"));
    bench
        .run("survey regional.csv --header-line 5")
        .stdout_has(&["header in line 5, 4\n               lines above it skipped", "13.04.2024"])
        .check();
    bench
        .run("survey regional.csv --skip-lines 4 --no-header")
        .stdout_has(&["no header, 3 rows", "  column_2  date  decided"])
        .check();
    bench
        .run("survey regional.csv --encoding koi8-r")
        .stdout_has(&["KOI8-R", "GrЖъe".split('Ж').next().unwrap()])
        .check();
    bench
        .run("survey regional.csv --encoding window-1252")
        .status(2)
        .stderr(
            "metachron: --encoding \"window-1252\" is no encoding; did you mean windows-1252?\n",
        )
        .check();
    bench
        .run("survey regional.csv --save r.toml")
        .stdout_has(&[])
        .stderr(
            "metachron: decisions saved in r.toml; review them, then\n\
         \x20 metachron convert regional.csv --readings r.toml -o regional.out.csv\n",
        )
        .check();
    let saved = bench.read("r.toml");
    assert!(
        saved
            .contains("[source]\ndelimiter = \";\"\nskip_lines = 3\nencoding = \"windows-1252\"\n"),
        "{saved}"
    );
    bench
        .run("convert regional.csv --readings r.toml --quiet")
        .stdout(
            "Ring;Fangtag;Fangtag_typed;Gewicht;Größe;\r\n\
         LF1;13.04.2024;2024-04-13;12,5;73;\r\n\
         LF2;14.04.2024;2024-04-14;11,0;71;\r\n\
         LF3;02.05.2024;2024-05-02;13,1;74;\r\n",
        )
        .check();
    bench.write("r.toml", saved.replace("skip_lines = 3", "header_lin = 4"));
    bench
        .run("convert regional.csv --readings r.toml")
        .status(1)
        .stderr("metachron: r.toml, line 8: there is no key \"header_lin\"; did you mean header_line?\n")
        .check();
    bench
        .run("convert regional.csv --no-header --header-line 2")
        .status(2)
        .stderr(
            "metachron: --no-header and --header-line exclude each other\n\
             \x20 what it takes: metachron convert --help\n",
        )
        .check();
    bench
        .run("survey regional.csv --header-line 3")
        .status(1)
        .stderr("metachron: regional.csv: line 3 is empty, but the names of the columns must stand there; --header-line says where they stand\n")
        .check();
}

#[test]
fn a_table_without_a_header_stays_one() {
    Bench::with("a.csv", "LF1,13/04/2024\nLF2,14/04/2024\n")
        .run("convert a.csv --no-header --quiet")
        .stdout("LF1,13/04/2024,2024-04-13\nLF2,14/04/2024,2024-04-14\n")
        .check();
}

#[test]
fn a_row_that_was_taken_for_the_header_is_mentioned() {
    let bench = Bench::with("a.csv", "LF1,13/04/2024\nLF2,14/04/2024\nLF3,15/04/2024\n");
    let said = "  a column is called \"13/04/2024\"; if line 1 is a row, add --no-header\n";
    bench.run("survey a.csv").stdout_has(&[said]).check();
    bench
        .run("convert a.csv")
        .stdout(
            "LF1,13/04/2024,13/04/2024_typed\n\
         LF2,14/04/2024,2024-04-14\n\
         LF3,15/04/2024,2024-04-15\n",
        )
        .stderr_has(&[said])
        .check();
}

#[test]
fn encodings_come_in_and_go_out() {
    for name in ["utf-8", "windows-1252", "utf-16le", "utf-16be", "macintosh", "iso-8859-15"] {
        let bench = Bench::with("regional.csv", encoded(REGIONAL, name));
        bench
            .run(&format!(
                "convert regional.csv --encoding {name} --output-encoding {name} -o out.csv --quiet"
            ))
            .check();
        let written = std::fs::read(bench.path().join("out.csv")).unwrap();
        let mut text = String::new();
        Charset::named(name).unwrap().decode(&written[..]).read_to_string(&mut text).unwrap();
        assert!(
            text.trim_start_matches('\u{FEFF}')
                .starts_with("Ring;Fangtag;Fangtag_typed;Gewicht;Größe;\r\n"),
            "{name}: {text}"
        );
    }
    let japanese = "鳥,捕獲日\n星崎の燕,2024/04/13\n星崎の雀,2024/04/14\n".to_owned()
        + &"星崎の森の中の燕,2024/05/01\n".repeat(30);
    let bench = Bench::with("hoshizaki.csv", encoded(&japanese, "shift_jis"));
    bench
        .run("survey hoshizaki.csv")
        .stdout_has(&["Shift_JIS (likely", "捕獲日  date  decided"])
        .check();
    bench
        .run("convert hoshizaki.csv --output-encoding windows-1252 -o out.csv --quiet")
        .status(1)
        .stderr("metachron: cannot write out.csv: windows-1252 has no character '鳥'; --output-encoding utf-8 has all\n")
        .check();
    assert_eq!(bench.files(), ["hoshizaki.csv"], "nothing is left behind");
    bench
        .run("survey hoshizaki.csv --encoding utf-8")
        .status(1)
        .stderr(
            "metachron: hoshizaki.csv: line 1, column 1 is not UTF-8 (byte 0x92); name another \
             --encoding\n",
        )
        .check();
}

#[test]
fn compressed_files_come_in_and_go_out() {
    let text = "ring,seen\nLF1,13/04/2024\nLF2,14/04/2024\n";
    for ending in ["gz", "zst", "bz2", "xz"] {
        let name = format!("a.csv.{ending}");
        let compression = Compression::of(name.as_ref()).unwrap();
        let mut writer = compression.writer(Vec::new()).unwrap();
        writer.write_all(text.as_bytes()).unwrap();
        let bytes = writer.finish().unwrap();
        let bench = Bench::with(&name, &bytes);
        bench
            .run(&format!("survey {name}"))
            .stdout_has(&[&format!("compressed (.{ending})")])
            .check();
        bench.run(&format!("convert {name} -o b.csv.{ending} --quiet")).check();
        let written = std::fs::read(bench.path().join(format!("b.csv.{ending}"))).unwrap();
        let mut back = String::new();
        compression.reader(&written[..]).unwrap().read_to_string(&mut back).unwrap();
        assert_eq!(
            back,
            "ring,seen,seen_typed\nLF1,13/04/2024,2024-04-13\nLF2,14/04/2024,2024-04-14\n"
        );
        bench.write(&name, &bytes[..bytes.len() / 2]);
        bench
            .run(&format!("survey {name}"))
            .status(1)
            .stderr_has(&[&format!("metachron: {name}: is damaged or cut off (")])
            .check();
    }
}

#[test]
fn dialects_pass_through_as_they_stand() {
    for (text, typed) in [
        (
            "sep=|\na,b|c\n1,2|13/04/2024\n3|14/04/2024\n",
            "a,b|c|c_typed\n1,2|13/04/2024|2024-04-13\n3|14/04/2024|2024-04-14\n",
        ),
        (
            "a, b\n\"x\\\"y, z\", 13/04/2024\n\"\\\"\", 14/04/2024\n",
            "a, b,b_typed\n\"x\\\"y, z\", 13/04/2024,2024-04-13\n\"\\\"\", 14/04/2024,2024-04-14\n",
        ),
        (
            "a;b\n'x;y';13/04/2024\n'z';14/04/2024\n1;'15/04/2024'\n",
            "a;b;b_typed\n'x;y';13/04/2024;2024-04-13\n'z';14/04/2024;2024-04-14\n1;'15/04/2024';2024-04-15\n",
        ),
        (
            "a,b\r1,13/04/2024\r2,14/04/2024\r",
            "a,b,b_typed\r1,13/04/2024,2024-04-13\r2,14/04/2024,2024-04-14\r",
        ),
        (
            "a, b\n1, \"13/04/2024\"\n2, \"14/04/2024\"\n",
            "a, b,b_typed\n1, \"13/04/2024\",2024-04-13\n2, \"14/04/2024\",2024-04-14\n",
        ),
    ] {
        Bench::with("a.csv", text).run("convert a.csv --quiet").stdout(typed).check();
    }
}

const LOGGER: &str = "{\"logger\": \"L1\", \"at\": \"2024-03-05T10:15:00Z\", \"site\": {\"name\": \"Hoshizaki\", \"checked\": \"3/13/2024\"}, \"v\": 1.50}\n\
    {\"logger\":\"L2\",\"at\":null,\"site\":{\"checked\":\"3/14/2024\"},\"v\":1e3}\n\n\
    {\"at\": \"broken \\\"clock\\\"\", \"v\": [1, {\"x\": 2}]}\n\
    {\"at\": \"2024-03-05T11:15:00Z\"}\n";

#[test]
fn json_lines_keep_every_byte() {
    let bench = Bench::with("log.jsonl", LOGGER);
    bench
        .run("survey log.jsonl")
        .stdout_has(&[
            "log.jsonl   JSON Lines, UTF-8, 4 rows\n",
            "  site.checked  date     decided     {month}/{day}/{year}     2        2 ",
        ])
        .check();
    bench
        .run("convert log.jsonl --tolerate 1 --quiet")
        .stdout(
            "{\"logger\": \"L1\", \"at\": \"2024-03-05T10:15:00Z\",\"at_typed\":\"2024-03-05T10:15:00Z\", \"site\": {\"name\": \"Hoshizaki\", \"checked\": \"3/13/2024\",\"checked_typed\":\"2024-03-13\"}, \"v\": 1.50}\n\
             {\"logger\":\"L2\",\"at\":null,\"at_typed\":null,\"site\":{\"checked\":\"3/14/2024\",\"checked_typed\":\"2024-03-14\"},\"v\":1e3}\n\n\
             {\"at\": \"broken \\\"clock\\\"\",\"at_typed\":null, \"v\": [1, {\"x\": 2}]}\n\
             {\"at\": \"2024-03-05T11:15:00Z\",\"at_typed\":\"2024-03-05T11:15:00Z\"}\n",
        )
        .check();
    bench.run("convert log.jsonl --tolerate 1 -o log.csv --rejects r.csv --quiet").check();
    assert_eq!(
        bench.read("log.csv"),
        "logger,at,at_typed,site.name,site.checked,site.checked_typed,v\n\
         L1,2024-03-05T10:15:00Z,2024-03-05T10:15:00Z,Hoshizaki,3/13/2024,2024-03-13,1.50\n\
         L2,,,,3/14/2024,2024-03-14,1e3\n\
         ,\"broken \"\"clock\"\"\",,,,,\"[1, {\"\"x\"\": 2}]\"\n\
         ,2024-03-05T11:15:00Z,2024-03-05T11:15:00Z,,,,\n"
    );
    assert!(bench.read("r.csv").contains("\n3,4,at,\"broken \"\"clock\"\"\",unknown-form,"));
}

#[test]
fn json_arrays_are_tables_too() {
    let text = "[\n  {\"seen\": \"13/04/2024\"},\n  {\"seen\": \"14/04/2024\"}\n]\n";
    Bench::with("a.json", text)
        .run("convert a.json --replace-raw --quiet")
        .stdout("[\n  {\"seen\": \"2024-04-13\"},\n  {\"seen\": \"2024-04-14\"}\n]\n")
        .check();
}

#[test]
fn what_is_wrong_with_json_is_said_with_its_line() {
    for (text, message) in [
        (
            "{\"a\": 1}\n{\"a\": 1, \"a\": 2}\n",
            "line 2 is no valid JSON: key \"a\" stands twice in one object",
        ),
        ("[1, 2]", "line 1 is no valid JSON: an object belongs here"),
        ("{\"a\": 1}\n17\n", "line 2 is no valid JSON: an object belongs here"),
        (
            "{\"a\": 1}\n{\"a\": 1\n",
            "line 2 is no valid JSON: the object that begins here is never closed",
        ),
    ] {
        Bench::with("a.json", text)
            .run("survey a.json")
            .status(1)
            .stderr(format!("metachron: a.json: {message}\n"))
            .check();
    }
}

#[test]
fn the_same_table_in_every_format_has_the_same_verdicts_and_values() {
    let rows = [
        ("LF1", "13/04/2024", "2024-04-13T06:10:00+02:00"),
        ("LF2", "14/04/2024", ""),
        ("LF3", "31/02/2024", "2024-04-15T06:10:00Z"),
        ("LF4", "05/05/2024", "x"),
        ("LF5", "15/04/2024", "2024-04-15T06:10:00Z"),
    ];
    let bench = Bench::new();
    for (name, delimiter) in [("a.csv", ","), ("b.tsv", "\t"), ("c.csv", ";"), ("d.txt", "|")] {
        let body: String =
            rows.iter().map(|(a, b, c)| [*a, *b, *c].join(delimiter) + "\n").collect();
        bench.write(name, ["ring", "captured", "logged"].join(delimiter) + "\n" + &body);
    }
    let lines: Vec<String> = rows
        .iter()
        .map(|(a, b, c)| format!("{{\"ring\":\"{a}\",\"captured\":\"{b}\",\"logged\":\"{c}\"}}"))
        .collect();
    bench.write("e.jsonl", lines.join("\n"));
    bench.write("f.json", format!("[{}]", lines.join(",")));
    bench.write("g.csv", encoded(&("Titel\n\n".to_owned() + &bench.read("c.csv")), "utf-16le"));
    let mut book = rust_xlsxwriter::Workbook::new();
    let sheet = book.add_worksheet();
    let header = ("ring", "captured", "logged");
    for (number, (a, b, c)) in (0..).zip(std::iter::once(&header).chain(&rows)) {
        for (column, text) in (0..).zip([a, b, c]) {
            sheet.write(number, column, *text).unwrap();
        }
    }
    bench.write("h.xlsx", book.save_to_buffer().unwrap());
    let database = rusqlite::Connection::open(bench.path().join("i.db")).unwrap();
    database.execute("CREATE TABLE a (ring TEXT, captured TEXT, logged TEXT)", []).unwrap();
    for (a, b, c) in rows {
        database.execute("INSERT INTO a VALUES (?1, ?2, ?3)", [a, b, c]).unwrap();
    }
    drop(database);
    parquet_of(&bench.path().join("j.parquet"), &rows);
    let cells = rows.map(|(a, b, c)| vec![Cell::Text(a), Cell::Text(b), Cell::Text(c)]);
    let header = vec![Cell::Text("ring"), Cell::Text("captured"), Cell::Text("logged")];
    let cells: Vec<Vec<Cell>> = std::iter::once(header).chain(cells).collect();
    bench.write("k.xlsb", binary_workbook(&cells, &[], &[]));
    // Saved by another spreadsheet program, below a title and behind another sheet.
    bench.write("l.xls", include_bytes!("fixtures/captures.xls"));
    bench.write("m.ods", include_bytes!("fixtures/captures.ods"));
    let options = |name: &str| match name {
        "l.xls" | "m.ods" => "--sheet Återfynd",
        _ => "",
    };
    let columns = |name: &str| {
        let json =
            bench.run(&format!("survey {name} {} --json", options(name))).stdout_has(&[]).check();
        let report: serde_json::Value = serde_json::from_str(&json).unwrap();
        // What is suggested differs by the names of files only, and nothing is open here.
        report["columns"].to_string()
    };
    let values = |name: &str| {
        let text = name.ends_with("csv") || name.ends_with("tsv") || name.ends_with("txt");
        let out = if text { "out.txt" } else { "out.csv" };
        bench
            .run(&format!("convert {name} {} -o {out} --tolerate 2 --quiet", options(name)))
            .check();
        bench.read(out).replace(['\t', ';', '|'], ",")
    };
    let (expected, typed) = (columns("a.csv"), values("a.csv"));
    assert!(
        expected.contains("decided")
            && typed.contains("2024-04-13,2024-04-13T06:10:00+02:00,2024-04-13T04:10:00Z")
    );
    for name in [
        "b.tsv",
        "c.csv",
        "d.txt",
        "e.jsonl",
        "f.json",
        "g.csv",
        "h.xlsx",
        "i.db",
        "j.parquet",
        "k.xlsb",
        "l.xls",
        "m.ods",
    ] {
        assert_eq!(columns(name), expected, "{name}");
        assert_eq!(values(name), typed, "{name}");
    }
}

/// A Parquet file of three columns of text.
fn parquet_of(path: &std::path::Path, rows: &[(&str, &str, &str)]) {
    let schema = "message a { required binary ring (UTF8); required binary captured (UTF8); required binary logged (UTF8); }";
    let schema = std::sync::Arc::new(parse_message_type(schema).unwrap());
    let file = std::fs::File::create(path).unwrap();
    let mut writer = SerializedFileWriter::new(file, schema, Default::default()).unwrap();
    let mut group = writer.next_row_group().unwrap();
    let columns =
        [0, 1, 2].map(|column| rows.iter().map(move |row| [row.0, row.1, row.2][column].into()));
    for column in columns {
        let values: Vec<parquet::data_type::ByteArray> = column.collect();
        let mut writer = group.next_column().unwrap().unwrap();
        writer.typed::<ByteArrayType>().write_batch(&values, None, None).unwrap();
        writer.close().unwrap();
    }
    group.close().unwrap();
    writer.close().unwrap();
}

#[test]
fn utf_8_with_a_few_stray_bytes_is_kept_and_told() {
    let rows: String =
        (1..=28).map(|day| format!("LF{day};Skarh\u{f6}lm;{day}.3.2024\n")).collect();
    let stray = [b"ring;place;seen\n", rows.as_bytes(), b"L\xC5;Troms\xF8;29.3.2024\n"].concat();
    let bench = Bench::with("a.csv", &stray);
    let told = "2 characters are not UTF-8 and stand as \u{FFFD} (line 30 column \"ring\", line 30 column \
                \"place\"; byte 0xC5); --encoding NAME reads them, --encoding utf-8 leaves them so\n";
    bench
        .run("survey a.csv")
        .stdout_has(&[
            "a.csv   CSV, semicolon, UTF-8, header in line 1, 29 rows\n",
            &format!("  {told}"),
        ])
        .check();
    let run = bench.run("convert a.csv -o b.csv").status(4);
    run.stderr_has(&["29 read\n", &format!("metachron: a.csv: {told}")]).check();
    assert!(bench.read("b.csv").ends_with("L\u{FFFD};Troms\u{FFFD};29.3.2024;2024-03-29\n"));
    bench.run("check a.csv").status(4).stdout_has(&[told]).check();
    bench.run("convert a.csv --encoding utf-8 --quiet -o b.csv").check();
    bench.run("convert a.csv --encoding windows-1252 --quiet -o b.csv").check();
    assert!(bench.read("b.csv").ends_with("L\u{c5};Troms\u{f8};29.3.2024;2024-03-29\n"));

    // Cut off inside a character.
    let cut = stray.iter().rposition(|byte| *byte == 0xB6).unwrap();
    bench.write("a.csv", &stray[..cut]);
    bench
        .run("survey a.csv")
        .stdout_has(&["1 character is not UTF-8 ", "; the file ends inside a character; "])
        .check();
}

#[test]
fn quotation_marks_are_proven_or_said() {
    let bench = Bench::with("a.csv", "seen,note\n13/04/2024,'a\n14/04/2024,b'\n");
    bench
        .run("survey a.csv")
        .stdout_has(&["a.csv   CSV, comma, UTF-8, header in line 1, 2 rows\n"])
        .check();
    bench.write("b.csv", "seen,note\n'13/04/2024','a,b'\n");
    bench.write("next.csv", "seen,note\n'15/04/2024','a,b'\n'16/04/2024','c'\n");
    bench.run("survey b.csv").stdout_has(&["1 row with more cells than the header"]).check();
    let said = "survey b.csv --quote single --order dmy --save r.toml";
    bench.run(said).stdout_has(&["comma, single quotes"]).stderr_has(&["saved"]).check();
    assert!(bench.read("r.toml").contains("quote = \"single\""));
    bench
        .run("convert next.csv --readings r.toml --quiet")
        .stdout(
            "seen,seen_typed,note\n'15/04/2024',2024-04-15,'a,b'\n'16/04/2024',2024-04-16,'c'\n",
        )
        .check();
    bench.write("c.jsonl", "{\"seen\": \"13/04/2024\"}\n");
    for (line, message) in [
        (
            "survey c.jsonl --quote single",
            "--quote has no effect on c.jsonl: it is about delimited text",
        ),
        ("survey a.csv --quote triple", "--quote \"triple\" is none of double, single"),
    ] {
        bench.run(line).status(2).stderr(format!("metachron: {message}\n")).check();
    }
}
