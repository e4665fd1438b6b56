//! Rows in a database of SQLite: a file, or memory.

use std::path::Path;
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use rusqlite::{Connection, OptionalExtension, Transaction, TransactionBehavior, params_from_iter};

use super::{Keeps, Make, NotWritten, StoreError, Stored, Wanted, columns, keys};

/// What tells our files from those of others: the application's number in their head.
const OWN: i64 = 0x4348_5452;
/// How long others may hold the file.
const PATIENCE: Duration = Duration::from_secs(10);

const SCHEMA: &str = "
    CREATE TABLE IF NOT EXISTS stand_in_number (tab TEXT PRIMARY KEY, last INTEGER NOT NULL) WITHOUT ROWID;
    CREATE TABLE IF NOT EXISTS stand_in_row (
        tab TEXT NOT NULL, number INTEGER NOT NULL, columns TEXT NOT NULL, PRIMARY KEY (tab, number)) WITHOUT ROWID;
    CREATE TABLE IF NOT EXISTS stand_in_key (
        tab TEXT NOT NULL, name TEXT NOT NULL, value TEXT NOT NULL, number INTEGER NOT NULL,
        PRIMARY KEY (tab, name, value, number)) WITHOUT ROWID;
";

/// A database.
pub(super) struct Sqlite {
    connection: Mutex<Connection>,
}

impl Sqlite {
    pub fn file(path: &Path) -> Result<Sqlite, StoreError> {
        let name = path.display().to_string();
        let unopened = |error: rusqlite::Error| StoreError::Unopened(name.clone(), error.to_string());
        let connection = Connection::open(path).map_err(unopened)?;
        let own: i64 =
            connection.query_row("PRAGMA application_id", [], |row| row.get(0)).map_err(unopened)?;
        let tables: i64 = connection
            .query_row("SELECT count(*) FROM sqlite_master", [], |row| row.get(0))
            .map_err(unopened)?;
        if own != OWN && tables > 0 {
            return Err(StoreError::Foreign(name));
        }
        // What is written before the program is killed is there afterwards; to wait for the disk each time would take most of it.
        Sqlite::of(connection, "PRAGMA journal_mode = WAL; PRAGMA synchronous = NORMAL;").map_err(unopened)
    }

    pub fn memory() -> Result<Sqlite, StoreError> {
        let unopened = |error: rusqlite::Error| StoreError::Unopened("memory".to_owned(), error.to_string());
        Sqlite::of(Connection::open_in_memory().map_err(unopened)?, "").map_err(unopened)
    }

    fn of(connection: Connection, pragmas: &str) -> Result<Sqlite, rusqlite::Error> {
        connection.busy_timeout(PATIENCE)?;
        connection.execute_batch(pragmas)?;
        connection.execute_batch(&format!("PRAGMA application_id = {OWN}; {SCHEMA}"))?;
        connection.set_prepared_statement_cache_capacity(64);
        Ok(Sqlite { connection: Mutex::new(connection) })
    }

    fn connection(&self) -> MutexGuard<'_, Connection> {
        self.connection.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Does something as a whole, or not at all.
    fn whole<T>(
        &self,
        what: impl FnOnce(&Transaction<'_>) -> Result<T, NotWritten>,
    ) -> Result<T, NotWritten> {
        let mut connection = self.connection();
        let transaction =
            connection.transaction_with_behavior(TransactionBehavior::Immediate).map_err(refused)?;
        let done = what(&transaction)?;
        transaction.commit().map_err(refused)?;
        Ok(done)
    }
}

fn refused(error: rusqlite::Error) -> StoreError {
    StoreError::Refused(error.to_string())
}

fn find(
    connection: &Connection,
    table: &str,
    wanted: &Wanted,
    most: usize,
) -> Result<Vec<Stored>, rusqlite::Error> {
    let mut query = "SELECT number, columns FROM stand_in_row AS r WHERE tab = ?1".to_owned();
    let mut values = vec![table.to_owned()];
    for (name, value) in wanted {
        let at = values.len();
        query.push_str(&format!(
            " AND EXISTS (SELECT 1 FROM stand_in_key AS k WHERE k.tab = ?1 AND k.name = ?{} AND k.value = ?{} AND k.number = r.number)",
            at + 1,
            at + 2
        ));
        values.extend([name.clone(), value.clone()]);
    }
    // The first thing that is wanted leads to the rows; the others are looked at in these.
    if !wanted.is_empty() {
        query = query.replacen(
            "WHERE tab = ?1",
            "WHERE tab = ?1 AND number IN (SELECT number FROM stand_in_key WHERE tab = ?1 AND name = ?2 AND value = ?3)",
            1,
        );
    }
    query.push_str(&format!(" ORDER BY number LIMIT {most}"));
    let mut statement = connection.prepare_cached(&query)?;
    let rows = statement.query_map(params_from_iter(values), |row| {
        let text: String = row.get(1)?;
        Ok(Stored { number: row.get::<_, i64>(0)? as u64, columns: columns(&text) })
    })?;
    rows.collect()
}

fn write(connection: &Connection, table: &str, row: &Stored) -> Result<(), rusqlite::Error> {
    let number = row.number as i64;
    let text = serde_json::to_string(&row.columns).unwrap_or_default();
    connection
        .prepare_cached("INSERT OR REPLACE INTO stand_in_row VALUES (?1, ?2, ?3)")?
        .execute((table, number, text))?;
    for (name, value) in keys(&row.columns).as_object().into_iter().flatten() {
        connection.prepare_cached("INSERT INTO stand_in_key VALUES (?1, ?2, ?3, ?4)")?.execute((
            table,
            name,
            value.as_str().unwrap_or_default(),
            number,
        ))?;
    }
    Ok(())
}

/// Takes out the texts by which a row was found.
fn forget(connection: &Connection, table: &str, row: &Stored) -> Result<(), rusqlite::Error> {
    for (name, value) in keys(&row.columns).as_object().into_iter().flatten() {
        connection
            .prepare_cached(
                "DELETE FROM stand_in_key WHERE tab = ?1 AND name = ?2 AND value = ?3 AND number = ?4",
            )?
            .execute((table, name, value.as_str().unwrap_or_default(), row.number as i64))?;
    }
    Ok(())
}

impl Keeps for Sqlite {
    fn find(&self, table: &str, wanted: &Wanted, most: usize) -> Result<Vec<Stored>, StoreError> {
        find(&self.connection(), table, wanted, most).map_err(refused)
    }

    fn add(&self, table: &str, make: &mut Make<'_>) -> Result<Stored, NotWritten> {
        self.whole(|transaction| {
            let number: i64 = transaction
                .prepare_cached(
                    "INSERT INTO stand_in_number VALUES (?1, 1) ON CONFLICT (tab) DO UPDATE SET last = last + 1 RETURNING last",
                )
                .and_then(|mut statement| statement.query_row([table], |row| row.get(0)))
                .map_err(refused)?;
            let mut row = Stored { number: number as u64, columns: Default::default() };
            row.columns = make(&row)?;
            write(transaction, table, &row).map_err(refused)?;
            Ok(row)
        })
    }

    fn change(
        &self,
        table: &str,
        wanted: &Wanted,
        make: &mut Make<'_>,
    ) -> Result<Option<Stored>, NotWritten> {
        self.whole(|transaction| {
            let Some(before) = find(transaction, table, wanted, 1).map_err(refused)?.pop() else {
                return Ok(None);
            };
            forget(transaction, table, &before).map_err(refused)?;
            let row = Stored { number: before.number, columns: make(&before)? };
            write(transaction, table, &row).map_err(refused)?;
            Ok(Some(row))
        })
    }

    fn remove(&self, table: &str, wanted: &Wanted) -> Result<Option<Stored>, StoreError> {
        let removed = self.whole(|transaction| {
            let Some(row) = find(transaction, table, wanted, 1).map_err(refused)?.pop() else {
                return Ok(None);
            };
            forget(transaction, table, &row).map_err(refused)?;
            transaction
                .prepare_cached("DELETE FROM stand_in_row WHERE tab = ?1 AND number = ?2")
                .and_then(|mut statement| statement.execute((table, row.number as i64)))
                .optional()
                .map_err(refused)?;
            Ok(Some(row))
        });
        removed.map_err(|error| match error {
            NotWritten::Store(error) => error,
            NotWritten::Filling(error) => StoreError::Refused(error.to_string()),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rows_in_memory_and_in_a_file_are_kept_the_same() {
        crate::store::tests::keeps_rows(&Sqlite::memory().unwrap());
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("rows.db");
        crate::store::tests::keeps_rows(&Sqlite::file(&path).unwrap());
        // It is still there for the next one, and the numbers go on.
        let again = Sqlite::file(&path).unwrap();
        assert_eq!(again.find("berths", &[], 9).unwrap().len(), 2);
        assert_eq!(again.add("berths", &mut |_| Ok(Default::default())).unwrap().number, 4);
    }

    #[test]
    fn whatever_is_done_to_rows_they_are_what_a_list_would_have() {
        let folder = tempfile::tempdir().unwrap();
        for seed in 0..20 {
            crate::store::tests::keeps_what_a_list_keeps(&Sqlite::memory().unwrap(), seed);
        }
        crate::store::tests::keeps_what_a_list_keeps(&Sqlite::file(&folder.path().join("a.db")).unwrap(), 20);
    }

    #[test]
    fn several_who_write_one_file_give_no_number_twice() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("rows.db");
        let mut numbers: Vec<u64> = std::thread::scope(|scope| {
            let writers: Vec<_> = (0..4)
                .map(|_| {
                    // Each as a program of its own would.
                    let rows = Sqlite::file(&path).unwrap();
                    scope.spawn(move || {
                        let add = || rows.add("berths", &mut |row| Ok(numbered(row.number))).unwrap();
                        (0..25).map(|_| add().number).collect::<Vec<u64>>()
                    })
                })
                .collect();
            writers.into_iter().flat_map(|writer| writer.join().unwrap()).collect()
        });
        numbers.sort_unstable();
        assert_eq!(numbers, (1..=100).collect::<Vec<u64>>());
        let all = Sqlite::file(&path).unwrap().find("berths", &[], 200).unwrap();
        assert!(all.len() == 100 && all.iter().all(|row| row.columns == numbered(row.number)));
    }

    fn numbered(number: u64) -> crate::store::Columns {
        [("booking".to_owned(), format!("SM-{number}").into())].into_iter().collect()
    }

    #[test]
    fn a_database_of_somebody_else_is_left_alone() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("harbour.db");
        let other = Connection::open(&path).unwrap();
        other.execute_batch("CREATE TABLE berth (name TEXT)").unwrap();
        assert!(matches!(Sqlite::file(&path), Err(StoreError::Foreign(_))));
        std::fs::write(&path, "no database, and longer than the head of one is, which has a hundred octets and begins otherwise").unwrap();
        assert!(matches!(Sqlite::file(&path), Err(StoreError::Unopened(..))));
    }
}
