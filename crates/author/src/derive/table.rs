//! Types from rows: a CSV file with a header row.

use charter_notation::{ElementInfo, Prefixes, Value};

use super::{DeriveError, Derived, field_names, record, schema, type_name, values};

/// A type with a field for each column, from rows under a header. What separates the columns is seen from the header:
/// a comma, a semicolon or a tab.
///
/// ```
/// let rows = "call sign,draught,pilot\nMKLA7,7.20,yes\nOZRT2,11,\n";
/// let derived = charter_author::from_rows(rows, "vessels").unwrap();
/// assert!(derived.notation().contains("draught: decimal\n"));
/// assert!(derived.notation().contains("pilot: string?\n"));
/// ```
///
/// # Errors
/// If there is no header, or a row has more or fewer columns than it.
pub fn from_rows(text: &str, name: &str) -> Result<Derived, DeriveError> {
    let text = text.trim_start_matches('\u{feff}');
    let header = text.lines().next().unwrap_or("");
    let separator = [b',', b';', b'\t'].into_iter().max_by_key(|mark| {
        let count = header.bytes().filter(|byte| byte == mark).count();
        // Among equals, the first.
        (count, std::cmp::Reverse(*mark == b'\t'))
    });
    let mut reader = csv::ReaderBuilder::new()
        .delimiter(separator.unwrap_or(b','))
        .trim(csv::Trim::Headers)
        .from_reader(text.as_bytes());
    let headers = reader.headers().map_err(|error| wrong(text, &error))?.clone();
    if headers.iter().all(str::is_empty) {
        return Err(DeriveError::new("there is no header row").help("the first line names the columns"));
    }
    let mut columns: Vec<Vec<String>> = vec![Vec::new(); headers.len()];
    let mut rows = 0usize;
    for row in reader.records() {
        let row = row.map_err(|error| wrong(text, &error))?;
        rows += 1;
        for (column, value) in columns.iter_mut().zip(row.iter()) {
            column.push(value.to_owned());
        }
    }
    let names = field_names(headers.iter());
    let fields = names.iter().zip(headers.iter()).zip(&columns);
    let fields = fields.map(|((name, header), column)| field(name, header, column, rows)).collect();
    let types = ElementInfo::wsdl("types").holding(schema("", true, vec![record(&type_name(name), fields)]));
    Ok(Derived { info: types, prefixes: Prefixes::new(""), notes: Vec::new() })
}

fn field(name: &str, header: &str, column: &[String], rows: usize) -> ElementInfo {
    let mut info = ElementInfo::xsd("element").with("name", name);
    if header != name && !header.is_empty() {
        let said = ElementInfo::xsd("documentation");
        let said = ElementInfo { children: vec![charter_notation::Child::Text(header.to_owned())], ..said };
        info.push(ElementInfo::xsd("annotation").holding(said));
    }
    let filled = column.iter().map(String::as_str).filter(|value| !value.trim().is_empty());
    let count = filled.clone().count();
    values::give(&mut info, &values::of(filled));
    if count < rows || rows == 0 {
        info.set("minOccurs", Value::Text("0".to_owned()));
    }
    info
}

fn wrong(text: &str, error: &csv::Error) -> DeriveError {
    let at = error.position().map_or(0, |position| position.byte() as usize);
    let end = text[at.min(text.len())..].find('\n').map_or(text.len(), |newline| at + newline);
    match error.kind() {
        csv::ErrorKind::UnequalLengths { expected_len, len, .. } => {
            let columns = if *len == 1 { "1 column".to_owned() } else { format!("{len} columns") };
            DeriveError::new(format!("this row has {columns}, the header {expected_len}"))
                .at(at, end)
                .help("give every row a value for each column, if an empty one")
        }
        _ => DeriveError::new(format!("this is no table: {error}")).at(at, end),
    }
}
