//! Workbooks of binary records, put together as \[MS-XLSB\] has them.

use std::io::{Cursor, Write};

/// A cell.
pub enum Cell {
    Text(&'static str),
    /// A number that is formatted as a date.
    Date(f64),
    Number(f64),
}

/// A ZIP archive of these parts.
pub fn archive(parts: &[(&str, Vec<u8>)]) -> Vec<u8> {
    let mut bytes = Cursor::new(Vec::new());
    let mut writer = zip::ZipWriter::new(&mut bytes);
    for (name, part) in parts {
        let stored = zip::write::SimpleFileOptions::default()
            .compression_method(zip::CompressionMethod::Stored);
        writer.start_file(*name, stored).unwrap();
        writer.write_all(part).unwrap();
    }
    writer.finish().unwrap();
    bytes.into_inner()
}

/// A workbook with one sheet. `hidden` are rows and `merged` the first and last row, the first and
/// last column of ranges, all counted from 0.
pub fn binary_workbook(rows: &[Vec<Cell>], hidden: &[usize], merged: &[[u32; 4]]) -> Vec<u8> {
    let mut book = Vec::new();
    record(&mut book, 0x83, &[]); // BrtBeginBook
    record(&mut book, 0x99, &[0; 12]); // BrtWbProp: origin 1900
    record(&mut book, 0x8F, &[]); // BrtBeginBundleShs
    record(&mut book, 0x9C, &[longs(&[0, 1]), wide("rId1"), wide("Återfynd")].concat());
    record(&mut book, 0x90, &[]); // BrtEndBundleShs
    record(&mut book, 0x9D, &[0; 26]); // BrtCalcProp
    record(&mut book, 0x84, &[]); // BrtEndBook

    let mut styles = Vec::new();
    record(&mut styles, 0x116, &[]); // BrtBeginStyleSheet
    record(&mut styles, 0x269, &longs(&[2])); // BrtBeginCellXFs
    for format in [0_u16, 14] {
        // The second format is a date.
        record(&mut styles, 0x2F, &[&[0, 0], &format.to_le_bytes()[..], &[0; 12]].concat());
    }
    record(&mut styles, 0x26A, &[]); // BrtEndCellXFs

    let widest = rows.iter().map(Vec::len).max().unwrap_or(1) as u32;
    let mut sheet = Vec::new();
    record(&mut sheet, 0x81, &[]); // BrtBeginSheet
    record(&mut sheet, 0x94, &longs(&[0, rows.len() as u32 - 1, 0, widest - 1])); // BrtWsDim
    record(&mut sheet, 0x91, &[]); // BrtBeginSheetData
    for (number, row) in rows.iter().enumerate() {
        let flags = if hidden.contains(&number) { 0x10 } else { 0 };
        let header = [longs(&[number as u32, 0]), vec![0x2C, 0x01, 0, flags, 0], longs(&[0])];
        record(&mut sheet, 0x00, &header.concat()); // BrtRowHdr
        for (column, cell) in (0..).zip(row) {
            match cell {
                Cell::Text("") => {}
                Cell::Text(text) => {
                    record(&mut sheet, 0x06, &[longs(&[column, 0]), wide(text)].concat());
                }
                Cell::Date(value) | Cell::Number(value) => {
                    let format = u32::from(matches!(cell, Cell::Date(_)));
                    let body = [longs(&[column, format]), value.to_le_bytes().to_vec()].concat();
                    record(&mut sheet, 0x05, &body);
                }
            }
        }
    }
    record(&mut sheet, 0x92, &[]); // BrtEndSheetData
    record(&mut sheet, 0xB1, &longs(&[merged.len() as u32])); // BrtBeginMergeCells
    for range in merged {
        record(&mut sheet, 0xB0, &longs(range)); // BrtMergeCell
    }
    record(&mut sheet, 0xB2, &[]); // BrtEndMergeCells
    record(&mut sheet, 0x82, &[]); // BrtEndSheet

    let relations = r#"<?xml version="1.0"?><Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet1.bin"/></Relationships>"#;
    archive(&[
        ("[Content_Types].xml", b"<Types/>".to_vec()),
        ("xl/workbook.bin", book),
        ("xl/_rels/workbook.bin.rels", relations.as_bytes().to_vec()),
        ("xl/styles.bin", styles),
        ("xl/worksheets/sheet1.bin", sheet),
    ])
}

fn record(part: &mut Vec<u8>, kind: u16, body: &[u8]) {
    match kind {
        0..0x80 => part.push(kind as u8),
        _ => part.extend([kind as u8 & 0x7F | 0x80, (kind >> 7) as u8]),
    }
    assert!(body.len() < 0x80, "one byte of length is enough here");
    part.push(body.len() as u8);
    part.extend(body);
}

fn longs(numbers: &[u32]) -> Vec<u8> {
    numbers.iter().flat_map(|number| number.to_le_bytes()).collect()
}

fn wide(text: &str) -> Vec<u8> {
    let units: Vec<u8> = text.encode_utf16().flat_map(u16::to_le_bytes).collect();
    [longs(&[text.encode_utf16().count() as u32]), units].concat()
}
