//! Rows of values: a CSV file whose first row says what its columns are (RFC 4180).

/// The rows of a file.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Rows {
    /// What the columns are.
    pub heads: Vec<String>,
    /// The rows, or what is wrong with one, each with its number in the file.
    pub rows: Vec<(usize, Result<Vec<String>, String>)>,
}

impl Rows {
    /// Reads a file; nothing if it is empty. A row that is wrong leaves the others what they are.
    pub fn read(bytes: &[u8]) -> Option<Rows> {
        let mut reader = csv::ReaderBuilder::new().flexible(true).has_headers(false).from_reader(bytes);
        let mut heads: Option<Vec<String>> = None;
        let mut rows = Vec::new();
        for (number, record) in reader.records().enumerate() {
            let row = match record {
                Ok(record) => {
                    record.iter().map(|cell| cell.trim_start_matches('\u{feff}').to_owned()).collect()
                }
                Err(error) => {
                    rows.push((number + 1, Err(format!("it cannot be read: {error}"))));
                    continue;
                }
            };
            let row: Vec<String> = row;
            match &heads {
                None => heads = Some(row),
                Some(heads) if row.len() != heads.len() => {
                    let words = format!("it has {} values, and the header has {}", row.len(), heads.len());
                    rows.push((number + 1, Err(words)));
                }
                Some(_) => rows.push((number + 1, Ok(row))),
            }
        }
        Some(Rows { heads: heads?, rows })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_row_that_is_too_short_has_its_number_and_the_others_stay() {
        let rows = Rows::read("\u{feff}berth,\"depth, m\"\nN4,9.4\nS2\nN5,\n".as_bytes()).unwrap();
        assert_eq!(rows.heads, ["berth", "depth, m"]);
        assert_eq!(rows.rows[0], (2, Ok(vec!["N4".to_owned(), "9.4".to_owned()])));
        assert_eq!(rows.rows[1], (3, Err("it has 1 values, and the header has 2".to_owned())));
        assert_eq!(rows.rows[2].0, 4);
        assert_eq!(Rows::read(b""), None);
    }
}
