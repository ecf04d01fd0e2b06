//! What the commands are held against: what a program of a few lines would do with the same libraries.

use std::fs::File;
use std::io::{BufRead, BufReader};
use std::time::Instant;

use calamine::Reader;
use jiff::civil::Date;
use parquet::column::reader::ColumnReader;
use parquet::column::writer::ColumnWriter;
use parquet::file::properties::WriterProperties;
use parquet::file::reader::{FileReader, SerializedFileReader};
use parquet::file::writer::SerializedFileWriter;

/// Runs one, if these words are of one.
pub fn run(words: &[String]) -> bool {
    match words.iter().map(String::as_str).collect::<Vec<_>>()[..] {
        ["copy", from, to] => copy(from, to),
        ["by-hand", from, to] => by_hand(from, to),
        ["decompress", from] => decompress(from),
        ["read", from] => read(from),
        ["write-parquet", from, to] => write_parquet(from, to),
        _ => return false,
    }
    true
}

/// Copies a file record by record.
fn copy(from: &str, to: &str) {
    let mut reader = csv::ReaderBuilder::new().has_headers(false).from_path(from).unwrap();
    let mut writer = csv::Writer::from_path(to).unwrap();
    let mut record = csv::ByteRecord::new();
    while reader.read_byte_record(&mut record).unwrap() {
        writer.write_byte_record(&record).unwrap();
    }
    writer.flush().unwrap();
}

/// What somebody would write who knows the layout: the third column as ISO 8601 beside it.
fn by_hand(from: &str, to: &str) {
    let mut reader = csv::Reader::from_path(from).unwrap();
    let mut writer = csv::Writer::from_path(to).unwrap();
    let mut header = reader.headers().unwrap().clone();
    header.push_field("released_typed");
    writer.write_record(&header).unwrap();
    let mut record = csv::StringRecord::new();
    while reader.read_record(&mut record).unwrap() {
        let date = Date::strptime("%d/%m/%Y", &record[2]).unwrap();
        record.push_field(&date.to_string());
        writer.write_record(&record).unwrap();
    }
    writer.flush().unwrap();
}

/// Reads a compressed file to its end.
fn decompress(from: &str) {
    let mut whole = flate2::read::MultiGzDecoder::new(File::open(from).unwrap());
    assert!(std::io::copy(&mut whole, &mut std::io::sink()).unwrap() > 0);
}

/// Reads a file of another format to its end, cell by cell.
fn read(from: &str) {
    let cells = match from.rsplit_once('.').unwrap().1 {
        "parquet" => read_parquet(from).iter().map(Values::len).sum(),
        "jsonl" => {
            let lines = BufReader::new(File::open(from).unwrap()).lines();
            let cells = |line: String| {
                let row: serde_json::Map<String, serde_json::Value> =
                    serde_json::from_str(&line).unwrap();
                row.len()
            };
            lines.map(|line| cells(line.unwrap())).sum()
        }
        "sqlite" => {
            let database = rusqlite::Connection::open(from).unwrap();
            let name: String = database
                .query_row("SELECT name FROM sqlite_master WHERE type = 'table'", [], |row| {
                    row.get(0)
                })
                .unwrap();
            let mut all = database.prepare(&format!("SELECT * FROM \"{name}\"")).unwrap();
            let columns = all.column_count();
            let mut rows = all.query([]).unwrap();
            let mut cells = 0;
            while let Some(row) = rows.next().unwrap() {
                cells += (0..columns).filter(|at| row.get_ref(*at).is_ok()).count();
            }
            cells
        }
        _ => {
            let mut book = calamine::open_workbook_auto(from).unwrap();
            let sheet = book.worksheet_range_at(0).unwrap().unwrap();
            sheet.rows().map(<[_]>::len).sum::<usize>()
        }
    };
    assert!(cells > 0);
}

/// The values of a column chunk.
enum Values {
    Days(Vec<i32>, Vec<i16>),
    Moments(Vec<i64>, Vec<i16>),
    Texts(Vec<parquet::data_type::ByteArray>, Vec<i16>),
}

impl Values {
    fn len(&self) -> usize {
        match self {
            Values::Days(all, _) => all.len(),
            Values::Moments(all, _) => all.len(),
            Values::Texts(all, _) => all.len(),
        }
    }
}

/// All values, column chunk by column chunk.
fn read_parquet(from: &str) -> Vec<Values> {
    let reader = SerializedFileReader::new(File::open(from).unwrap()).unwrap();
    let mut all = Vec::new();
    for group in 0..reader.num_row_groups() {
        let group = reader.get_row_group(group).unwrap();
        let rows = group.metadata().num_rows() as usize;
        for column in 0..group.num_columns() {
            let mut levels = Vec::new();
            all.push(match group.get_column_reader(column).unwrap() {
                ColumnReader::Int32ColumnReader(mut own) => {
                    let mut values = Vec::new();
                    own.read_records(rows, Some(&mut levels), None, &mut values).unwrap();
                    Values::Days(values, levels)
                }
                ColumnReader::Int64ColumnReader(mut own) => {
                    let mut values = Vec::new();
                    own.read_records(rows, Some(&mut levels), None, &mut values).unwrap();
                    Values::Moments(values, levels)
                }
                ColumnReader::ByteArrayColumnReader(mut own) => {
                    let mut values = Vec::new();
                    own.read_records(rows, Some(&mut levels), None, &mut values).unwrap();
                    Values::Texts(values, levels)
                }
                _ => unreachable!("the table has days, moments and texts"),
            });
        }
    }
    all
}

/// Writes the values of a file again, in row groups of the same size; only the writing counts.
fn write_parquet(from: &str, to: &str) {
    let values = read_parquet(from);
    let reader = SerializedFileReader::new(File::open(from).unwrap()).unwrap();
    let schema = reader.metadata().file_metadata().schema_descr().root_schema_ptr();
    let columns = reader.metadata().file_metadata().schema_descr().num_columns();
    let codec = reader.metadata().row_group(0).column(0).compression();
    let start = Instant::now();
    let properties = WriterProperties::builder().set_compression(codec).build();
    let mut writer =
        SerializedFileWriter::new(File::create(to).unwrap(), schema, properties.into()).unwrap();
    for group in values.chunks(columns) {
        let mut rows = writer.next_row_group().unwrap();
        for own in group {
            let mut column = rows.next_column().unwrap().unwrap();
            match (column.untyped(), own) {
                (ColumnWriter::Int32ColumnWriter(to), Values::Days(all, levels)) => {
                    to.write_batch(all, Some(levels), None).unwrap()
                }
                (ColumnWriter::Int64ColumnWriter(to), Values::Moments(all, levels)) => {
                    to.write_batch(all, Some(levels), None).unwrap()
                }
                (ColumnWriter::ByteArrayColumnWriter(to), Values::Texts(all, levels)) => {
                    to.write_batch(all, Some(levels), None).unwrap()
                }
                _ => unreachable!("what is read is written"),
            };
            column.close().unwrap();
        }
        rows.close().unwrap();
    }
    writer.close().unwrap();
    println!("seconds {}", start.elapsed().as_secs_f64());
}
