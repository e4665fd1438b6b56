//! The stand-in: a provider that is not there yet. What it answers to an HTTP message is worked out here, without any network.
//!
//! `routes.rs` knows which ports are reached at which path, `operations.rs` judges a request and finds its reply,
//! `scripted.rs` makes it by a script, with rows that `rows.rs` looks up and keeps; `replying.rs` what is typical or refuses, `typical.rs` keeps what was made, `fault.rs` writes the faults of SOAP itself, `offered.rs` hands out the
//! contract, and `page.rs` shows it to a browser.

mod access;
mod asked;
mod fault;
mod nonces;
mod offered;
mod operations;
mod page;
mod put;
mod replying;
mod routes;
mod rows;
mod scripted;
mod typical;

use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

use charter_check::SettingsError;
use charter_contract::Contract;
use charter_message::http::{Headers, HttpMessage, Start};
use charter_message::matching::Matcher;
use charter_schema::Engine;
use charter_session::Loaded;
use self_cell::self_cell;

use crate::judge::{Said, judged, said};
use crate::script::{Lost, Script};
use crate::store::Store;
use crate::{About, Outcome};
pub use fault::FINDING;
use nonces::Nonces;
use operations::With;
use routes::{Routes, Way};
use typical::Typical;

self_cell!(
    /// A contract, and what answers for it.
    struct Whole {
        owner: Loaded,
        #[covariant]
        dependent: Answering,
    }
);

/// A stand-in for the provider of a contract.
///
/// ```
/// use charter_exchange::StandIn;
/// use charter_exchange::stand_in::Caller;
/// use charter_message::http::HttpMessage;
/// use charter_session::{Options, Session};
///
/// # let folder = tempfile::tempdir().unwrap();
/// # let file = folder.path().join("tides.wsdl");
/// # std::fs::write(&file, r#"<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:s="http://schemas.xmlsoap.org/wsdl/soap/"
/// #     xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:tides:1" targetNamespace="urn:saltmere:tides:1">
/// #   <message name="ask"><part name="berth" type="xs:string"/></message><message name="tell"><part name="depth" type="xs:int"/></message>
/// #   <portType name="Tides"><operation name="depth"><input message="t:ask"/><output message="t:tell"/></operation></portType>
/// #   <binding name="B" type="t:Tides"><s:binding style="rpc" transport="http://schemas.xmlsoap.org/soap/http"/>
/// #     <operation name="depth"><input><s:body use="literal" namespace="urn:saltmere:tides:1"/></input>
/// #     <output><s:body use="literal" namespace="urn:saltmere:tides:1"/></output></operation></binding>
/// #   <service name="S"><port name="P" binding="t:B"><s:address location="https://saltmere.example/tides"/></port></service>
/// # </definitions>"#).unwrap();
/// # let file = file.to_str().unwrap();
/// let stand_in = StandIn::of(Session::begin(&Options::default())?.open(file)?);
/// let request = "POST /tides HTTP/1.1\r\nContent-Type: text/xml\r\nSOAPAction: \"\"\r\n\r\n\
///     <e:Envelope xmlns:e='http://schemas.xmlsoap.org/soap/envelope/'><e:Body>\
///     <t:depth xmlns:t='urn:saltmere:tides:1'><berth>N4</berth></t:depth></e:Body></e:Envelope>";
/// let answered = stand_in.answer(&HttpMessage::read(request.as_bytes()).unwrap(), &Caller::at("http://localhost:8080"));
/// assert_eq!(answered.reply.start.status(), Some(200));
/// assert_eq!(answered.about.operation.as_deref(), Some("depth"));
/// # Ok::<(), charter_session::Failure>(())
/// ```
pub struct StandIn {
    whole: Whole,
    /// Where rows are kept, if its script keeps some.
    store: Option<Arc<Store>>,
}

/// How a request came.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Caller<'c> {
    /// How the stand-in is reached: `http://localhost:8080`.
    pub base: &'c str,
    /// Whether it came over a secure connection.
    pub secure: bool,
    /// Whether who sent it has shown a certificate of somebody who is trusted.
    pub certified: bool,
}

impl<'c> Caller<'c> {
    /// Somebody who reaches the stand-in at an address, and says nothing of himself.
    pub fn at(base: &'c str) -> Caller<'c> {
        Caller { base, secure: base.starts_with("https:"), certified: false }
    }
}

/// What a stand-in replies, and why.
#[derive(Debug, Clone)]
pub struct Answered {
    /// The reply.
    pub reply: HttpMessage,
    /// What the request was.
    pub about: About,
    /// How long it is to take.
    pub after: Duration,
    /// How it gets lost on its way.
    pub lost: Option<Lost>,
}

impl Answered {
    /// A reply that goes out at once.
    fn at_once(reply: HttpMessage, about: About) -> Answered {
        Answered { reply, about, after: Duration::ZERO, lost: None }
    }
}

/// Where a port is reached.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Place {
    /// The service; empty for a binding that no port uses.
    pub service: String,
    /// The port, or that binding.
    pub port: String,
    /// What carries its messages: the number of a version of SOAP, or nothing for plain HTTP.
    pub soap: Option<&'static str>,
    /// The path and the query.
    pub target: String,
}

/// What answers for a contract.
struct Answering<'c> {
    contract: &'c Contract,
    engine: &'c Engine<'c>,
    routes: Routes<'c>,
    typical: Typical,
    script: Script,
    nonces: Nonces,
}

impl StandIn {
    /// A stand-in for a contract.
    pub fn of(loaded: Loaded) -> StandIn {
        let whole = Whole::new(loaded, |loaded| Answering::of(loaded, Script::default()));
        StandIn { whole, store: None }
    }

    /// The same with the text of a script, which says what it replies instead of what is typical. Files that the script names are
    /// found from `folder`.
    ///
    /// # Errors
    /// The first thing in the script that makes no sense, or that the contract does not have.
    pub fn scripted(loaded: Loaded, script: &str, folder: &Path) -> Result<StandIn, SettingsError> {
        let whole = Whole::try_new(loaded, |loaded| {
            Script::read(script, folder, loaded.contract(), loaded.engine())
                .map(|script| Answering::of(loaded, script))
        });
        Ok(StandIn { whole: whole?, store: None })
    }

    /// The files that its script has read.
    pub fn files(&self) -> &[PathBuf] {
        &self.whole.borrow_dependent().script.files
    }

    /// Whether its script keeps rows, for which it needs a store.
    pub fn keeps_rows(&self) -> bool {
        self.whole.borrow_dependent().script.keeps_rows()
    }

    /// The same with a place where rows are kept.
    pub fn with_store(self, store: Arc<Store>) -> StandIn {
        StandIn { store: Some(store), ..self }
    }

    /// The contract.
    pub fn loaded(&self) -> &Loaded {
        self.whole.borrow_owner()
    }

    /// Where its ports are reached, and bindings that have none.
    pub fn places(&self) -> Vec<Place> {
        let contract = self.loaded().contract();
        let place = |way: Way| Place {
            service: way.service(contract).to_owned(),
            port: way.name(contract).to_owned(),
            soap: contract.protocol(way.binding).map(|(version, _)| version.number()),
            target: way.target(contract),
        };
        Way::all(contract).into_iter().map(place).collect()
    }

    /// What an exchange with the real provider is by the contract.
    pub fn judge(&self, request: &HttpMessage, reply: Option<&HttpMessage>) -> About {
        let Answering { contract, .. } = self.whole.borrow_dependent();
        judged(contract, self.matcher(request), request, reply)
    }

    /// What both sides of such an exchange say; what is wrong says nothing.
    pub fn said(&self, request: &HttpMessage, reply: Option<&HttpMessage>) -> Vec<Said> {
        let Answering { contract, engine, .. } = self.whole.borrow_dependent();
        said(contract, (self.matcher(request), engine), request, reply)
    }

    /// Knows what is offered where a request goes.
    fn matcher(&self, request: &HttpMessage) -> &Matcher<'_> {
        let target = match &request.start {
            Start::Request { target, .. } => path_of(target),
            Start::Reply { .. } => "/",
        };
        let routes = &self.whole.borrow_dependent().routes;
        &routes.or_any(target.split('?').next().unwrap_or_default()).matcher
    }

    /// The path of the port that is reached at a path, and what follows it there.
    pub fn port_path<'p>(&self, path: &'p str) -> Option<(String, &'p str)> {
        let route = self.whole.borrow_dependent().routes.at(path)?;
        Some((route.path.clone(), path.strip_prefix(&route.path).unwrap_or_default()))
    }

    /// What it answers to a request.
    pub fn answer(&self, request: &HttpMessage, caller: &Caller<'_>) -> Answered {
        self.whole.borrow_dependent().answer(request, caller, self.store.as_deref())
    }

    /// Whether its script asks somebody for a certificate, and others for none.
    pub fn asks_for_certificates(&self) -> bool {
        self.whole.borrow_dependent().script.access.has_certificates()
    }
}

impl<'c> Answering<'c> {
    fn of(loaded: &'c Loaded, script: Script) -> Answering<'c> {
        Answering {
            contract: loaded.contract(),
            engine: loaded.engine(),
            routes: Routes::of(loaded.contract(), loaded.engine(), script.access.has_tokens()),
            nonces: Nonces::remembered(access::REMEMBERED),
            typical: Typical::default(),
            script,
        }
    }
}

impl Answering<'_> {
    fn answer(&self, request: &HttpMessage, caller: &Caller<'_>, store: Option<&Store>) -> Answered {
        let base = caller.base;
        let Start::Request { method, target } = &request.start else {
            return refused(plain(400, "this is no request\n"));
        };
        let target = path_of(target);
        let (path, query) = target.split_once('?').unwrap_or((target, ""));
        let reads = matches!(method.as_str(), "GET" | "HEAD");
        if reads && asks_for_contract(query) {
            return other(self.file(charter_source::FileId(0), base));
        }
        if reads && let Some(file) = offered::at(self.contract, path) {
            return other(self.file(file, base));
        }
        if reads && path == page::SAMPLE {
            return other(page::sample(self, query, base));
        }
        let route = self.routes.at(path);
        let to_browser = request.headers.get("Accept").is_some_and(|kinds| kinds.contains("text/html"));
        let is_page = path == "/" || (route.is_some_and(|route| !route.plain) && to_browser);
        if reads && is_page {
            return other(page::page(self, base));
        }
        let Some(route) = route else {
            return refused(plain(404, &self.nothing_at(path, base)));
        };
        if method != "POST" && !route.plain {
            let words = format!(
                "an operation is sent with POST\nthe contract: {base}{path}?wsdl\na page for a browser: {base}/\n"
            );
            let mut reply = plain(405, &words);
            reply.headers.push("Allow", "POST");
            return refused(reply);
        }
        operations::answer(self, route, &With { caller, store }, request, target)
    }

    /// A file of the contract.
    fn file(&self, file: charter_source::FileId, base: &str) -> HttpMessage {
        let text = offered::text(self.contract, file, base);
        reply(200, "text/xml; charset=utf-8", text.into_bytes())
    }

    /// What is said where nothing is reached.
    fn nothing_at(&self, path: &str, base: &str) -> String {
        let mut words = format!("nothing is reached at {path}\n");
        match charter_source::nearest(path, self.routes.paths()) {
            Some(near) => words.push_str(&format!("did you mean {base}{near}?\n")),
            None => {
                self.routes.paths().for_each(|known| words.push_str(&format!("there is {base}{known}\n")))
            }
        }
        words
    }
}

/// The path and the query of a target, which may be a whole address (RFC 9112, section 3.2.2).
fn path_of(target: &str) -> &str {
    let behind = ["http://", "https://"].iter().find_map(|scheme| target.strip_prefix(scheme));
    match behind {
        Some(behind) => behind.find('/').map_or("/", |at| &behind[at..]),
        None => target,
    }
}

/// Whether a query asks for the contract: `?wsdl`, as everybody writes it.
fn asks_for_contract(query: &str) -> bool {
    query.split('&').any(|pair| pair.split('=').next().unwrap_or_default().eq_ignore_ascii_case("wsdl"))
}

/// A reply with a body.
fn reply(status: u16, media_type: &str, body: Vec<u8>) -> HttpMessage {
    let mut headers = Headers::default();
    headers.push("Content-Type", media_type);
    HttpMessage { start: Start::Reply { status }, headers, body }
}

/// A reply in plain words.
fn plain(status: u16, words: &str) -> HttpMessage {
    reply(status, "text/plain; charset=utf-8", words.as_bytes().to_vec())
}

/// A reply to what is no request of an operation, and should be one.
fn refused(reply: HttpMessage) -> Answered {
    Answered::at_once(reply, About { outcome: Outcome::Refused, ..About::default() })
}

/// A reply that has nothing to do with an operation.
fn other(reply: HttpMessage) -> Answered {
    Answered::at_once(reply, About { outcome: Outcome::Other, ..About::default() })
}
