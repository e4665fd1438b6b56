//! Tables of others: a CSV file, or a table of a SQLite database. They are read, and never written.

use std::path::Path;
use std::sync::{Mutex, PoisonError};

use charter_session::Rows;
use rusqlite::types::ValueRef;
use rusqlite::{Connection, OpenFlags, params_from_iter};
use serde_json::Value as Json;

use super::{Columns, StoreError, Stored, Wanted, keys};

/// A table that is only read.
pub(crate) enum ReadOnly {
    /// The rows of a CSV file.
    Csv { heads: Vec<String>, rows: Vec<Stored> },
    /// A table of a database.
    Sqlite { connection: Mutex<Connection>, table: String, heads: Vec<String> },
}

impl std::fmt::Debug for ReadOnly {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.debug_struct("ReadOnly").field("heads", &self.heads()).finish_non_exhaustive()
    }
}

impl ReadOnly {
    /// The rows of a CSV file; an empty cell is none.
    ///
    /// # Errors
    /// If it is empty, or one of its rows is wrong: which.
    pub fn csv(octets: &[u8]) -> Result<ReadOnly, String> {
        let Rows { heads, rows } = Rows::read(octets).ok_or("the file is empty")?;
        let stored = rows.into_iter().enumerate().map(|(at, (line, row))| {
            let cells = row.map_err(|words| format!("row {line}: {words}"))?;
            let cells = heads.iter().cloned().zip(cells).filter(|(_, cell)| !cell.is_empty());
            let columns = cells.map(|(head, cell)| (head, Json::String(cell))).collect();
            Ok(Stored { number: at as u64 + 1, columns })
        });
        let rows = stored.collect::<Result<_, String>>()?;
        Ok(ReadOnly::Csv { heads, rows })
    }

    /// A table of a database.
    ///
    /// # Errors
    /// If there is no such table.
    pub fn sqlite(path: &Path, table: &str) -> Result<ReadOnly, StoreError> {
        let unopened =
            |error: rusqlite::Error| StoreError::Unopened(path.display().to_string(), error.to_string());
        let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
        let connection = Connection::open_with_flags(path, flags).map_err(unopened)?;
        connection.busy_timeout(std::time::Duration::from_secs(10)).map_err(unopened)?;
        let statement = connection.prepare(&format!("SELECT * FROM {}", quoted(table)));
        let heads = statement
            .map(|statement| statement.column_names().iter().map(|name| (*name).to_owned()).collect());
        let heads = heads.map_err(unopened)?;
        Ok(ReadOnly::Sqlite { connection: Mutex::new(connection), table: table.to_owned(), heads })
    }

    /// The names of its columns.
    pub fn heads(&self) -> &[String] {
        match self {
            ReadOnly::Csv { heads, .. } | ReadOnly::Sqlite { heads, .. } => heads,
        }
    }

    /// The rows that have what is wanted; so many at most.
    ///
    /// # Errors
    /// If the database refuses.
    pub fn find(&self, wanted: &Wanted, most: usize) -> Result<Vec<Stored>, StoreError> {
        match self {
            ReadOnly::Csv { rows, .. } => {
                let has = |row: &&Stored| {
                    let keys = keys(&row.columns);
                    wanted.iter().all(|(name, value)| keys.get(name).and_then(Json::as_str) == Some(value))
                };
                Ok(rows.iter().filter(has).take(most).cloned().collect())
            }
            ReadOnly::Sqlite { connection, table, heads } => {
                let refused = |error: rusqlite::Error| StoreError::Refused(error.to_string());
                let connection = connection.lock().unwrap_or_else(PoisonError::into_inner);
                let mut query = format!("SELECT * FROM {}", quoted(table));
                for (at, (name, _)) in wanted.iter().enumerate() {
                    let word = if at == 0 { "WHERE" } else { "AND" };
                    query.push_str(&format!(" {word} {} = ?{}", quoted(name), at + 1));
                }
                query.push_str(&format!(" LIMIT {most}"));
                let mut statement = connection.prepare_cached(&query).map_err(refused)?;
                let values = params_from_iter(wanted.iter().map(|(_, value)| value));
                let mut rows = statement.query(values).map_err(refused)?;
                let mut found = Vec::new();
                while let Some(row) = rows.next().map_err(refused)? {
                    let mut columns = Columns::new();
                    for (at, head) in heads.iter().enumerate() {
                        let value = row.get_ref(at).map_err(refused)?;
                        value_of(value)
                            .into_iter()
                            .for_each(|value| drop(columns.insert(head.clone(), value)));
                    }
                    found.push(Stored { number: found.len() as u64 + 1, columns });
                }
                Ok(found)
            }
        }
    }
}

/// A value; nothing for none.
fn value_of(value: ValueRef<'_>) -> Option<Json> {
    Some(match value {
        ValueRef::Null => return None,
        ValueRef::Integer(number) => number.into(),
        ValueRef::Real(number) => Json::String(number.to_string()),
        ValueRef::Text(text) => Json::String(String::from_utf8_lossy(text).into_owned()),
        ValueRef::Blob(octets) => {
            use base64::Engine as _;
            Json::String(base64::engine::general_purpose::STANDARD.encode(octets))
        }
    })
}

/// A name in SQL.
fn quoted(name: &str) -> String {
    format!("\"{}\"", name.replace('"', "\"\""))
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn tables_of_both_kinds_are_found_in_alike() {
        let csv = ReadOnly::csv(b"berth,depth,note\nN4,9.40,\nS2,7,deep\n").unwrap();
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("harbour.db");
        let made = Connection::open(&path).unwrap();
        made.execute_batch(
            "CREATE TABLE \"the berths\" (berth TEXT, depth REAL, note TEXT, plan BLOB);
             INSERT INTO \"the berths\" VALUES ('N4', 9.40, NULL, x'0102'), ('S2', 7, 'deep', NULL);",
        )
        .unwrap();
        let sqlite = ReadOnly::sqlite(&path, "the berths").unwrap();
        assert_eq!(sqlite.heads(), ["berth", "depth", "note", "plan"]);
        let wanted = |name: &str, value: &str| [(name.to_owned(), value.to_owned())];
        for table in [&csv, &sqlite] {
            let found = table.find(&wanted("berth", "S2"), 9).unwrap();
            assert_eq!(found[0].columns["note"], "deep");
            assert_eq!(table.find(&[], 9).unwrap().len(), 2);
            assert_eq!(table.find(&wanted("berth", "X"), 9).unwrap(), []);
            assert!(!table.find(&[], 1).unwrap()[0].columns.contains_key("note"));
        }
        // Numbers are found as numbers.
        assert_eq!(sqlite.find(&wanted("depth", "7.0"), 9).unwrap().len(), 1);
        assert_eq!(sqlite.find(&wanted("berth", "N4"), 9).unwrap()[0].columns["plan"], json!("AQI="));
        assert!(ReadOnly::sqlite(&path, "sheds").is_err());
        assert_eq!(ReadOnly::csv(b"a,b\n1\n").unwrap_err(), "row 2: it has 1 values, and the header has 2");
    }
}
