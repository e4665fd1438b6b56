//! Rows in a database of a PostgreSQL server, which several stand-ins may share.

use std::sync::{Mutex, PoisonError};

use postgres::config::SslMode;
use postgres::types::ToSql;
use postgres::{Client, Config, NoTls, Transaction};
use tokio_postgres_rustls::MakeRustlsConnect;

use super::{Keeps, Make, NotWritten, StoreError, Stored, Wanted, columns, keys};
use crate::tls::{Trust, client_config};

/// Two stand-ins that begin at the same time do not make the tables at the same time.
const SCHEMA: &str = "
    SELECT pg_advisory_xact_lock(4741702);
    CREATE TABLE IF NOT EXISTS stand_in_number (tab TEXT PRIMARY KEY, last BIGINT NOT NULL);
    CREATE TABLE IF NOT EXISTS stand_in_row (
        tab TEXT NOT NULL, number BIGINT NOT NULL, columns TEXT NOT NULL, keys JSONB NOT NULL, PRIMARY KEY (tab, number));
    CREATE INDEX IF NOT EXISTS stand_in_row_keys ON stand_in_row USING gin (keys jsonb_path_ops);
";

/// A database of a server: the connections that nobody uses just now.
pub(super) struct Postgres {
    config: Config,
    idle: Mutex<Vec<Client>>,
}

impl Postgres {
    pub fn connect(address: &str) -> Result<Postgres, StoreError> {
        // What is wrong with it may be a secret: it is not repeated.
        let unopened = |error: postgres::Error| {
            StoreError::Unopened("the database".to_owned(), crate::words::cause(&error))
        };
        let mut config: Config = address.parse().map_err(unopened)?;
        if config.get_application_name().is_none() {
            config.application_name("charter answer");
        }
        if config.get_connect_timeout().is_none() {
            config.connect_timeout(std::time::Duration::from_secs(10));
        }
        let store = Postgres { config, idle: Mutex::default() };
        let mut client = store.client()?;
        let made = client.transaction().and_then(|mut transaction| {
            transaction.batch_execute(SCHEMA)?;
            transaction.commit()
        });
        made.map_err(unopened)?;
        store.put_back(client);
        Ok(store)
    }

    /// A connection; one that is there, or a new one.
    fn client(&self) -> Result<Client, StoreError> {
        let mut idle = self.idle.lock().unwrap_or_else(PoisonError::into_inner);
        while let Some(client) = idle.pop() {
            if !client.is_closed() {
                return Ok(client);
            }
        }
        drop(idle);
        let unopened = |words: String| StoreError::Unopened("the database".to_owned(), words);
        let connected = match self.config.get_ssl_mode() {
            SslMode::Require => {
                let config = client_config(&Trust::default()).map_err(|error| unopened(error.to_string()))?;
                self.config.connect(MakeRustlsConnect::new(config))
            }
            _ => self.config.connect(NoTls),
        };
        connected.map_err(|error| unopened(crate::words::cause(&error)))
    }

    fn put_back(&self, client: Client) {
        self.idle.lock().unwrap_or_else(PoisonError::into_inner).push(client);
    }

    /// Does something as a whole, or not at all.
    fn whole<T>(
        &self,
        what: impl FnOnce(&mut Transaction<'_>) -> Result<T, NotWritten>,
    ) -> Result<T, NotWritten> {
        let mut client = self.client()?;
        let mut transaction = client.transaction().map_err(refused)?;
        // What goes wrong is taken back when the transaction is dropped.
        let done = what(&mut transaction)?;
        transaction.commit().map_err(refused)?;
        self.put_back(client);
        Ok(done)
    }
}

fn refused(error: postgres::Error) -> StoreError {
    StoreError::Refused(crate::words::cause(&error))
}

fn find(
    transaction: &mut Transaction<'_>,
    table: &str,
    wanted: &Wanted,
    most: usize,
    lock: bool,
) -> Result<Vec<Stored>, postgres::Error> {
    let wanted: serde_json::Map<_, _> =
        wanted.iter().map(|(name, value)| (name.clone(), value.clone().into())).collect();
    let wanted = serde_json::Value::Object(wanted).to_string();
    let lock = if lock { " FOR UPDATE" } else { "" };
    let query = format!(
        "SELECT number, columns FROM stand_in_row WHERE tab = $1 AND keys @> ($2::text)::jsonb ORDER BY number LIMIT $3{lock}"
    );
    let most = most as i64;
    let values: [&(dyn ToSql + Sync); 3] = [&table, &wanted, &most];
    let rows = transaction.query(&query, &values)?;
    Ok(rows
        .iter()
        .map(|row| Stored { number: row.get::<_, i64>(0) as u64, columns: columns(row.get(1)) })
        .collect())
}

impl Keeps for Postgres {
    fn find(&self, table: &str, wanted: &Wanted, most: usize) -> Result<Vec<Stored>, StoreError> {
        let found =
            self.whole(|transaction| Ok(find(transaction, table, wanted, most, false).map_err(refused)?));
        found.map_err(of_store)
    }

    fn add(&self, table: &str, make: &mut Make<'_>) -> Result<Stored, NotWritten> {
        self.whole(|transaction| {
            let row = transaction
                .query_one(
                    "INSERT INTO stand_in_number VALUES ($1, 1) ON CONFLICT (tab) DO UPDATE SET last = stand_in_number.last + 1 RETURNING last",
                    &[&table],
                )
                .map_err(refused)?;
            let mut row = Stored { number: row.get::<_, i64>(0) as u64, columns: Default::default() };
            row.columns = make(&row)?;
            let (text, keys) = written(&row);
            transaction
                .execute(
                    "INSERT INTO stand_in_row VALUES ($1, $2, $3, ($4::text)::jsonb)",
                    &[&table, &(row.number as i64), &text, &keys],
                )
                .map_err(refused)?;
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
            let Some(before) = find(transaction, table, wanted, 1, true).map_err(refused)?.pop() else {
                return Ok(None);
            };
            let row = Stored { number: before.number, columns: make(&before)? };
            let (text, keys) = written(&row);
            transaction
                .execute(
                    "UPDATE stand_in_row SET columns = $3, keys = ($4::text)::jsonb WHERE tab = $1 AND number = $2",
                    &[&table, &(row.number as i64), &text, &keys],
                )
                .map_err(refused)?;
            Ok(Some(row))
        })
    }

    fn remove(&self, table: &str, wanted: &Wanted) -> Result<Option<Stored>, StoreError> {
        let removed = self.whole(|transaction| {
            let Some(row) = find(transaction, table, wanted, 1, true).map_err(refused)?.pop() else {
                return Ok(None);
            };
            transaction
                .execute(
                    "DELETE FROM stand_in_row WHERE tab = $1 AND number = $2",
                    &[&table, &(row.number as i64)],
                )
                .map_err(refused)?;
            Ok(Some(row))
        });
        removed.map_err(of_store)
    }
}

fn written(row: &Stored) -> (String, String) {
    (serde_json::to_string(&row.columns).unwrap_or_default(), keys(&row.columns).to_string())
}

fn of_store(error: NotWritten) -> StoreError {
    match error {
        NotWritten::Store(error) => error,
        NotWritten::Filling(error) => StoreError::Refused(error.to_string()),
    }
}
