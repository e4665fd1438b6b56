//! Sends: one HTTP message to an address, and what comes back, within bounds.

use std::cell::OnceCell;
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use charter_message::http::{Headers, HttpMessage, Start};
use charter_source::{Address, Map};
use reqwest::header::{HeaderMap, HeaderName, HeaderValue};
use reqwest::{Method, redirect};
use tokio::runtime::Runtime;

use crate::tls::{self, TlsError, Trust};
use crate::words::cause;

/// What a reply may hold at most.
const MOST: usize = 64 << 20;

/// How long a connection may take at most, however long a reply may take.
const CONNECTED_WITHIN: Duration = Duration::from_secs(10);

/// How providers are reached.
#[derive(Debug, Clone)]
pub struct Reach {
    /// Whom the client trusts, and who it is.
    pub trust: Trust,
    /// Where requests go first.
    pub proxy: Option<String>,
    /// How long a whole exchange may take.
    pub timeout: Duration,
    /// How often a request is sent again to which no reply came.
    pub retries: u32,
    /// Header fields that go along with every request, those that prove who asks among them.
    pub fields: Headers,
}

impl Default for Reach {
    fn default() -> Self {
        let timeout = Duration::from_secs(30);
        Reach { trust: Trust::default(), proxy: None, timeout, retries: 0, fields: Headers::default() }
    }
}

/// Why there is no client.
#[derive(Debug, thiserror::Error)]
pub enum ClientError {
    /// Connections cannot be secured.
    #[error(transparent)]
    Tls(#[from] TlsError),
    /// The proxy is none.
    #[error("\"{0}\" is no address of a proxy")]
    Proxy(String),
    /// A header field has a name or a value that none has.
    #[error("\"{0}\" is no header field")]
    Field(String),
    /// The system refuses.
    #[error("nothing can be sent: {0}")]
    System(String),
}

/// Why there was no exchange.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum SendError {
    /// The address is none.
    #[error("\"{0}\" is no address to send to")]
    Address(String),
    /// The provider cannot be reached, so that it has not seen the request.
    #[error("{0} cannot be reached: {1}")]
    Unreached(String, String),
    /// It was reached, and what it said is no reply.
    #[error("{0} gave no reply of HTTP: {1}")]
    NoReply(String, String),
    /// It broke off in the middle of its reply.
    #[error("{0} broke off in the middle of its reply: {1}")]
    Broken(String, String),
    /// It takes too long.
    #[error("{0} did not answer within {1} s")]
    Late(String, u64),
    /// It says more than is read.
    #[error("the reply of {0} is larger than {1} MB")]
    TooLarge(String, usize),
}

/// What came back.
#[derive(Debug, Clone)]
pub struct Sent {
    /// The request, with the header fields that went along.
    pub request: HttpMessage,
    /// The reply.
    pub reply: HttpMessage,
    /// When the request began to be sent.
    pub began: jiff::Timestamp,
    /// How long it took until the head of the reply was there.
    pub first: Duration,
    /// How long it took until all of it was there.
    pub whole: Duration,
}

/// Sends, over connections that are kept for the next request.
#[derive(Clone)]
pub struct Client {
    http: reqwest::Client,
    reach: Reach,
    /// Where nobody answered, if it asks nobody twice.
    unreached: Option<Arc<Mutex<Map<String, SendError>>>>,
}

impl Client {
    /// A client that reaches providers in some way.
    ///
    /// # Errors
    /// If a certificate, the proxy or a header field is none.
    pub fn new(reach: Reach) -> Result<Client, ClientError> {
        let mut builder = reqwest::Client::builder()
            .tls_backend_preconfigured(tls::client_config(&reach.trust)?)
            // A request that is led elsewhere would be another one there.
            .redirect(redirect::Policy::none())
            .http1_title_case_headers()
            .tcp_nodelay(true)
            .pool_max_idle_per_host(usize::MAX)
            .connect_timeout(reach.timeout.min(CONNECTED_WITHIN))
            .timeout(reach.timeout);
        if let Some(address) = &reach.proxy {
            let proxy = reqwest::Proxy::all(address).map_err(|_| ClientError::Proxy(address.clone()))?;
            builder = builder.proxy(proxy);
        }
        for (name, value) in reach.fields.iter() {
            field(name, value).ok_or_else(|| ClientError::Field(name.to_owned()))?;
        }
        let http = builder.build().map_err(|error| ClientError::System(cause(&error)))?;
        Ok(Client { http, reach, unreached: None })
    }

    /// The same, which asks nobody again who could not be reached: of many requests, only the first waits for that.
    pub fn asking_once(self) -> Client {
        Client { unreached: Some(Arc::default()), ..self }
    }

    /// Another one, with connections of its own.
    ///
    /// # Errors
    /// As for [`Client::new`].
    pub fn another(&self) -> Result<Client, ClientError> {
        Client::new(self.reach.clone())
    }

    /// Sends a request whose target is its whole address.
    ///
    /// # Errors
    /// If nothing came back, or too much.
    pub async fn send(&self, request: HttpMessage) -> Result<Sent, SendError> {
        if let Some(error) = self.known_unreached(&request) {
            return Err(error);
        }
        let mut tries = 0;
        loop {
            let sent = self.send_once(request.clone()).await;
            match &sent {
                Err(SendError::Unreached(..) | SendError::NoReply(..) | SendError::Broken(..))
                    if tries < self.reach.retries =>
                {
                    tries += 1;
                    tokio::time::sleep(Duration::from_millis(200) * tries).await;
                }
                _ => {
                    if let (Some(known), Err(error @ SendError::Unreached(host, _))) =
                        (&self.unreached, &sent)
                    {
                        let mut known = known.lock().unwrap_or_else(PoisonError::into_inner);
                        known.insert(host.clone(), error.clone());
                    }
                    return sent;
                }
            }
        }
    }

    /// Why nobody was reached where a request goes, if that was tried.
    fn known_unreached(&self, request: &HttpMessage) -> Option<SendError> {
        let known = self.unreached.as_ref()?.lock().unwrap_or_else(PoisonError::into_inner);
        match &request.start {
            Start::Request { target, .. } => known.get(Address::parse(target)?.authority()).cloned(),
            Start::Reply { .. } => None,
        }
    }

    async fn send_once(&self, mut request: HttpMessage) -> Result<Sent, SendError> {
        let ready = self.ready(&mut request)?;
        let began = jiff::Timestamp::now();
        let came = self.send_ready(&ready).await?;
        let (first, whole) = (came.first, came.whole);
        Ok(Sent { request, reply: came.message(), began, first, whole })
    }

    /// A request that can be sent as often as one likes. What goes along with every request is put into it.
    ///
    /// # Errors
    /// If its target is no address.
    pub(crate) fn ready(&self, request: &mut HttpMessage) -> Result<Ready, SendError> {
        for (name, value) in self.reach.fields.iter() {
            request.headers.set(name, value);
        }
        let (method, address) = match &request.start {
            Start::Request { method, target } => (method, target),
            Start::Reply { .. } => return Err(SendError::Address(String::new())),
        };
        let wrong = || SendError::Address(address.clone());
        let host = Address::parse(address).map(|address| address.authority().to_owned()).ok_or_else(wrong)?;
        let method = Method::from_bytes(method.as_bytes()).unwrap_or(Method::POST);
        let mut outgoing = reqwest::Request::new(method, address.parse().map_err(|_| wrong())?);
        *outgoing.headers_mut() = fields(&request.headers);
        if !request.body.is_empty() {
            *outgoing.body_mut() = Some(request.body.clone().into());
        }
        Ok(Ready { outgoing, host })
    }

    /// Sends a request that is ready.
    ///
    /// # Errors
    /// If nothing came back, or too much.
    pub(crate) async fn send_ready(&self, ready: &Ready) -> Result<Came, SendError> {
        let Ready { outgoing, host } = ready;
        let late = || SendError::Late(host.clone(), self.reach.timeout.as_secs());
        // Its body is in memory, so that there always is another.
        let another = outgoing.try_clone().ok_or_else(|| SendError::Address(host.clone()))?;
        let clock = Instant::now();
        let mut response = self.http.execute(another).await.map_err(|error| match error {
            error if error.is_connect() => SendError::Unreached(host.clone(), cause(&error)),
            error if error.is_timeout() => late(),
            error => SendError::NoReply(host.clone(), cause(&error)),
        })?;
        let first = clock.elapsed();
        let mut body = Vec::new();
        loop {
            match response.chunk().await {
                Ok(Some(chunk)) if body.len() + chunk.len() > MOST => {
                    return Err(SendError::TooLarge(host.clone(), MOST >> 20));
                }
                Ok(Some(chunk)) => body.extend_from_slice(&chunk),
                Ok(None) => break,
                Err(error) if error.is_timeout() => return Err(late()),
                Err(error) => return Err(SendError::Broken(host.clone(), cause(&error))),
            }
        }
        let status = response.status().as_u16();
        let headers = std::mem::take(response.headers_mut());
        Ok(Came { status, headers, body, first, whole: clock.elapsed() })
    }
}

/// A request that can be sent as often as one likes.
pub(crate) struct Ready {
    outgoing: reqwest::Request,
    host: String,
}

/// What came back, as it came.
pub(crate) struct Came {
    pub status: u16,
    headers: HeaderMap,
    pub body: Vec<u8>,
    pub first: Duration,
    pub whole: Duration,
}

impl Came {
    /// The kind of its body.
    pub fn media_type(&self) -> &[u8] {
        self.headers.get("Content-Type").map_or(b"", HeaderValue::as_bytes)
    }

    pub fn message(self) -> HttpMessage {
        let headers = read_fields(&self.headers);
        HttpMessage { start: Start::Reply { status: self.status }, headers, body: self.body }
    }
}

/// Header fields for the client; what it says itself is left to it.
fn fields(headers: &Headers) -> HeaderMap {
    let own = ["Host", "Content-Length", "Connection", "Transfer-Encoding"];
    let mut map = HeaderMap::new();
    for (name, value) in
        headers.iter().filter(|(name, _)| !own.iter().any(|it| it.eq_ignore_ascii_case(name)))
    {
        if let Some((name, value)) = field(name, value) {
            map.append(name, value);
        }
    }
    map
}

fn field(name: &str, value: &str) -> Option<(HeaderName, HeaderValue)> {
    let mut value = HeaderValue::from_str(value).ok()?;
    value.set_sensitive(name.eq_ignore_ascii_case("authorization"));
    Some((HeaderName::from_bytes(name.as_bytes()).ok()?, value))
}

fn read_fields(headers: &HeaderMap) -> Headers {
    let text = |value: &HeaderValue| String::from_utf8_lossy(value.as_bytes()).into_owned();
    headers.iter().map(|(name, value)| (name.as_str().to_owned(), text(value))).collect()
}

thread_local! {
    /// Connections live as long as what waits for them, and are there for the next request of a thread.
    static WAITING: OnceCell<Runtime> = const { OnceCell::new() };
}

/// Runs what waits for others, one after the other.
///
/// # Errors
/// If the system has no timers left.
pub fn block_on<T>(future: impl Future<Output = T>) -> Result<T, std::io::Error> {
    WAITING.with(|waiting| {
        if waiting.get().is_none() {
            let _ = waiting.set(tokio::runtime::Builder::new_current_thread().enable_all().build()?);
        }
        match waiting.get() {
            Some(runtime) => Ok(runtime.block_on(future)),
            None => Err(std::io::ErrorKind::Other.into()),
        }
    })
}
