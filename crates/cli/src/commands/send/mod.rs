//! `charter send`

mod asking;
mod lost;
pub mod reaching;
mod shown;
mod table;

use charter_contract::{Contract, WireShape};
use charter_exchange::journal::{Journal, archive, line};
use charter_exchange::{Exchange, Sent, block_on, judged};
use charter_message::captured::Captured;
use charter_message::matching::Matcher;
use charter_message::values;
use charter_schema::Engine;
use charter_session::Rows;
use charter_source::ns;
use serde_json::{Value as Json, json};

use super::Outcome;
use super::message::chosen;
use super::message::making::{Making, rows};
use crate::args::{ExchangeForm, Format, SendArgs, ShowArg};
use crate::common::Common;
use crate::console::{Console, Failure, Status};
use crate::paint;
use asking::{Asking, Maker};
use reaching::{Reaching, Wanted};
use table::Table;

/// What options add to a request, whatever the contract says of it, is no mistake of it.
const ADDED: [&str; 2] = [ns::ADDRESSING, ns::WSSE];
/// How many things that are wrong with one message are shown.
const SHOWN: usize = 20;

pub fn run(args: &SendArgs, common: &Common, console: &mut Console) -> Outcome {
    let loaded = common.session.open(&args.contract)?;
    let (contract, engine) = (loaded.contract(), loaded.engine());
    charter_session::is_contract(contract)?;
    let wanted =
        Wanted { to: args.to.as_deref(), environment: args.environment.as_deref(), reach: &args.reach };
    let reaching = Reaching::of(&wanted, loaded.settings())?;
    let mut message_args = asking::message_args(args, &reaching);
    for setting in &mut message_args.settings {
        *setting = reaching.filled(setting)?;
    }
    let making = Making::of(contract, engine, &message_args, common);
    let making = if args.anyway { making.anyway() } else { making };
    let journal = args.journal.as_deref().map(super::answer::journal).transpose()?;
    let mut sending = Sending {
        args,
        common,
        contract,
        engine,
        reaching: &reaching,
        matcher: Matcher::new(contract, engine, SHOWN).understanding(&ADDED),
        journal,
        exchanges: Vec::new(),
        worst: Status::Yes,
    };
    let mut maker = Maker { making, reaching: &reaching, common };
    match (&args.message, args.all) {
        (_, true) => sending.all(&mut maker, console)?,
        (Some(file), _) => {
            let shape = asking::shape(contract, &message_args)?;
            let asking = maker.of_file(&shape, file)?;
            sending.one(&asking, &shape, console)?;
        }
        (None, _) => {
            let shape = asking::shape(contract, &message_args)?;
            match rows(&message_args, common)? {
                Some(rows) => sending.rows(&mut maker, &shape, &rows, console),
                None => {
                    let asking = maker.asking(&shape, None, console)?;
                    sending.one(&asking, &shape, console)?;
                }
            }
        }
    }
    sending.end(console);
    Ok(sending.worst)
}

/// What all requests of a run have in common, and what came of them.
struct Sending<'s> {
    args: &'s SendArgs,
    common: &'s Common,
    contract: &'s Contract,
    engine: &'s Engine<'s>,
    reaching: &'s Reaching,
    matcher: Matcher<'s>,
    journal: Option<Journal>,
    exchanges: Vec<(Exchange, Option<Json>)>,
    worst: Status,
}

impl Sending<'_> {
    /// Sends a request, and shows what came of it.
    fn one(&mut self, asking: &Asking, shape: &WireShape, console: &mut Console) -> Result<(), Failure> {
        let (exchange, sent) = self.exchange(asking, console)?;
        if self.is_for_people() {
            let name =
                format!("{} by {}", paint::path(&format!("operation/{}", asking.operation)), asking.port);
            if self.args.show == ShowArg::Both {
                console.out(&format!("{}\n", shown::message(&exchange.request, "")));
            }
            if let (ShowArg::Both | ShowArg::Reply, Some(reply)) = (self.args.show, &exchange.reply) {
                let (first, whole) = (shown_time(sent.first), shown_time(sent.whole));
                let after = format!("  after {whole}, the first of it after {first}");
                console.out(&format!("{}\n", shown::message(reply, &paint::faint(&after))));
            }
            if self.args.show == ShowArg::Values {
                match self.values(&exchange) {
                    Some(values) => console.json(&values),
                    None => console.note("the reply has no values that the contract knows\n"),
                }
            }
            let mut end = shown::findings(&exchange.about.request, "request", &exchange.request);
            if let Some(reply) = &exchange.reply {
                end.push_str(&shown::findings(&exchange.about.reply, "reply", reply));
            }
            let others = match &self.args.port {
                None => chosen::other_ports(self.contract, shape),
                Some(_) => String::new(),
            };
            console.note(&format!("{end}{name}: {}{others}\n", shown::verdict(&exchange)));
        }
        self.count(exchange);
        Ok(())
    }

    fn is_for_people(&self) -> bool {
        self.common.format != Format::Json && self.args.form.is_none()
    }

    /// Sends a request: what came, judged, and kept.
    fn exchange(&mut self, asking: &Asking, console: &mut Console) -> Result<(Exchange, Sent), Failure> {
        let about = judged(self.contract, &self.matcher, &asking.by_contract, None);
        if shown::errors(&about.request) > 0 && !self.args.anyway {
            console.note(&shown::findings(&about.request, "request", &asking.request));
            return Err(Failure::new("the request is not what the contract asks for, so it was not sent")
                .of(format!("operation/{}", asking.operation))
                .help("mend it; or --anyway sends it, to see how it is refused"));
        }
        let sent = block_on(self.reaching.client.send(asking.request.clone()));
        let sent = sent.map_err(|error| Failure::new(format!("nothing can be sent: {error}")))?;
        let sent = sent.map_err(|error| {
            Failure::new(error.to_string())
                .of(format!("operation/{}", asking.operation))
                .help("is it the right address, and does the provider run?")
        })?;
        let exchange = Exchange {
            began: sent.began,
            took: sent.whole,
            peer: None,
            about: judged(self.contract, &self.matcher, &asking.by_contract, Some(&sent.reply)),
            request: sent.request.clone(),
            reply: Some(sent.reply.clone()),
        };
        if let Some(journal) = &mut self.journal {
            journal
                .keep(&exchange)
                .map_err(|error| Failure::new(format!("the journal cannot be written: {error}")))?;
        }
        Ok((exchange, sent))
    }

    fn count(&mut self, exchange: Exchange) {
        if !shown::is_right(&exchange) {
            self.worst = self.worst.max(Status::No);
        }
        let values = (self.common.format == Format::Json).then(|| self.values(&exchange)).flatten();
        self.exchanges.push((exchange, values));
    }

    /// The values of a reply, if the contract knows it.
    fn values(&self, exchange: &Exchange) -> Option<Json> {
        let captured = Captured::received("reply", exchange.reply.clone()?);
        let matched = self.matcher.judge(&captured);
        let shape = &self.matcher.known().get(matched.shape?)?.shape;
        let content = self.matcher.wire_content(&captured, &matched)?;
        Some(values::write(self.engine, shape, &content))
    }

    /// A request for each row; one that is wrong is told, and the others are sent.
    fn rows(&mut self, maker: &mut Maker<'_>, shape: &WireShape, rows: &Rows, console: &mut Console) {
        let file = self.args.values.as_deref().unwrap_or_default();
        let mut table = Table::default();
        for (number, row) in &rows.rows {
            let asked = match row {
                Ok(cells) => maker.asking(shape, Some((*number, rows, cells)), console),
                Err(words) => Err(Failure::new(words.clone())
                    .at(file)
                    .help("give a value for each column, an empty one for none")),
            };
            let name = format!("row {number}");
            self.row(asked, (&name, &format!("{name:10}")), &mut table, console);
        }
        self.table_end(table, console);
    }

    /// A request of each operation by each port.
    fn all(&mut self, maker: &mut Maker<'_>, console: &mut Console) -> Result<(), Failure> {
        let (shapes, missing) = asking::all(self.contract, self.args.port.as_deref())?;
        let mut table = Table::default();
        for (operation, failure) in missing {
            table.lost(&operation, failure);
            self.worst = Status::NoAnswer;
        }
        for shape in &shapes {
            if shape.other_transport().is_some() {
                continue;
            }
            let (operation, port) = asking::names(self.contract, shape);
            let head = format!("{}  {port:18}", paint::path(&format!("{operation:28}")));
            let asked = maker.asking(shape, None, console);
            self.row(asked, (&operation, &head), &mut table, console);
        }
        self.table_end(table, console);
        Ok(())
    }

    /// Sends one of many; `name` is what it is called, `head` how its row of the table begins.
    fn row(
        &mut self,
        asked: Result<Asking, Failure>,
        (name, head): (&str, &str),
        table: &mut Table,
        console: &mut Console,
    ) {
        let row = match asked.and_then(|asking| self.exchange(&asking, console)) {
            Ok((exchange, _)) => {
                let row = table.row(head, &exchange);
                self.count(exchange);
                row
            }
            Err(failure) => {
                self.worst = Status::NoAnswer;
                table.lost(name, failure);
                format!("{head}  ---  {:9}  {}\n", "", paint::error("nothing came"))
            }
        };
        if self.is_for_people() {
            console.out(&row);
        }
    }

    fn table_end(&self, table: Table, console: &mut Console) {
        let end = table.end();
        for failure in table.failures() {
            console.fail(&failure);
        }
        if self.is_for_people() {
            console.out(&end);
        }
    }

    /// Writes what is for programs.
    fn end(&self, console: &mut Console) {
        if self.args.form == Some(ExchangeForm::Har) {
            let all: Vec<Exchange> = self.exchanges.iter().map(|(exchange, _)| exchange.clone()).collect();
            console.data(&archive(&all));
        } else if self.common.format == Format::Json {
            let one = |(exchange, values): &(Exchange, Option<Json>)| {
                let mut one: Json = serde_json::from_str(&line(exchange)).unwrap_or_default();
                one["right"] = shown::is_right(exchange).into();
                if let Some(values) = values {
                    one["values"] = values.clone();
                }
                one
            };
            console.json(&json!({ "exchanges": self.exchanges.iter().map(one).collect::<Vec<_>>() }));
        }
    }
}

/// A time as people read it.
pub fn shown_time(took: std::time::Duration) -> String {
    let millis = took.as_secs_f64() * 1000.0;
    if millis < 1000.0 { format!("{millis:.1} ms") } else { format!("{:.2} s", millis / 1000.0) }
}
