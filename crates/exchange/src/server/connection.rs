//! A connection: requests are read within bounds, and replies written.

use std::convert::Infallible;
use std::net::SocketAddr;
use std::pin::Pin;
use std::sync::Arc;
use std::task::{Context, Poll};
use std::time::{Duration, Instant};

use axum::Router;
use axum::body::Body;
use axum::extract::State;
use axum::http::request::Parts;
use axum::http::{HeaderValue, Request, Response, StatusCode, header};
use bytes::Bytes;
use charter_message::http::{Headers, HttpMessage, Start};
use http_body_util::{BodyExt, LengthLimitError, Limited};
use hyper::body::{Frame, Incoming};
use hyper::server::conn::http1;
use hyper::service::{Service, service_fn};
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulConnection;
use hyper_util::service::TowerToHyperService;
use tokio::sync::RwLock;

use super::packing::packed;
use super::{Desk, Told};
use crate::relay::{NotPassed, Relay};
use crate::script::Lost;
use crate::stand_in::{Answered, Caller};
use crate::{About, Bounds, Exchange, Finding};

/// A body from which on judging is left to threads that may take their time.
const LARGE: usize = 256 << 10;

/// How many times the size that is taken is read of a body that is refused.
const THROWN_AWAY: u64 = 4;

/// What all connections of a server have in common.
#[derive(Clone)]
pub(super) struct Serving {
    shared: Arc<Shared>,
    router: Router,
}

struct Shared {
    desk: Arc<Desk>,
    bounds: Bounds,
    told: Told,
    /// How the server is reached by who does not say how.
    base: String,
    /// Held for reading by whoever still has something to tell.
    pending: Arc<RwLock<()>>,
}

/// Who made a connection.
#[derive(Clone, Copy)]
pub(super) struct Peer {
    pub address: SocketAddr,
    /// Whether it is secure.
    pub secure: bool,
    /// Whether he has shown a certificate.
    pub certified: bool,
}

impl Serving {
    pub fn of(desk: Arc<Desk>, bounds: Bounds, told: Told, base: String) -> Serving {
        let shared = Arc::new(Shared { desk, bounds, told, base, pending: Arc::default() });
        let router = Router::new().fallback(handle).with_state(Arc::clone(&shared));
        Serving { shared, router }
    }

    /// Waits until all is told.
    pub async fn told_all(&self) {
        drop(self.shared.pending.write().await);
    }

    /// Serves a connection to its end.
    pub fn connection<S>(
        &self,
        stream: S,
        peer: Peer,
    ) -> impl GracefulConnection<Error = hyper::Error> + Send + use<S>
    where
        S: tokio::io::AsyncRead + tokio::io::AsyncWrite + Unpin + Send + 'static,
    {
        let router = TowerToHyperService::new(self.router.clone());
        let service = service_fn(move |mut request: Request<Incoming>| {
            request.extensions_mut().insert(peer);
            let answering = router.call(request);
            async move {
                let Ok(response) = answering.await;
                match response.extensions().get::<Dropped>() {
                    None => Ok(response),
                    Some(Dropped) => Err(std::io::Error::other("dropped")),
                }
            }
        });
        http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(self.shared.bounds.patience)
            .max_buf_size(self.shared.bounds.head)
            .preserve_header_case(self.shared.desk.relay.is_some())
            .title_case_headers(self.shared.desk.relay.is_none())
            .serve_connection(TokioIo::new(stream), service)
    }
}

/// Takes a request, and gives a reply.
async fn handle(
    State(shared): State<Arc<Shared>>,
    request: Request<Body>,
) -> Result<Response<Body>, Infallible> {
    let came = Came { began: jiff::Timestamp::now(), clock: Instant::now() };
    let (parts, body) = request.into_parts();
    let head: usize = parts.headers.iter().map(|(name, value)| name.as_str().len() + value.len() + 4).sum();
    if head > shared.bounds.head {
        let said = format!("the header is larger than {} octets\n", shared.bounds.head);
        return Ok(words(StatusCode::REQUEST_HEADER_FIELDS_TOO_LARGE, &said));
    }
    let octets = match read(body, &parts.headers, &shared.bounds).await {
        Ok(octets) => octets,
        Err(refused) => return Ok(refused),
    };
    Ok(match &shared.desk.relay {
        Some(relay) => passed(&shared, relay, came, &parts, octets).await,
        None => answered(&shared, came, &parts, octets).await,
    })
}

/// When a request came.
#[derive(Clone, Copy)]
struct Came {
    began: jiff::Timestamp,
    clock: Instant,
}

impl Shared {
    /// Tells of an exchange.
    fn tell(
        &self,
        came: Came,
        took: Duration,
        parts: &Parts,
        messages: (HttpMessage, Option<HttpMessage>),
        about: About,
    ) {
        let peer = parts.extensions.get::<Peer>().map(|peer| peer.address.to_string());
        let (request, reply) = messages;
        (self.told)(Exchange { began: came.began, took, peer, request, reply, about });
    }
}

fn message(parts: &Parts, octets: Bytes) -> HttpMessage {
    let start = Start::Request { method: parts.method.to_string(), target: parts.uri.to_string() };
    HttpMessage { start, headers: fields(&parts.headers), body: octets.into() }
}

/// What the stand-in answers.
async fn answered(shared: &Arc<Shared>, came: Came, parts: &Parts, octets: Bytes) -> Response<Body> {
    let large = octets.len() >= LARGE;
    let request = message(parts, octets);
    let peer = parts.extensions.get::<Peer>();
    let (secure, certified) = peer.map_or((false, false), |peer| (peer.secure, peer.certified));
    let base = base(&parts.headers, secure).unwrap_or_else(|| shared.base.clone());
    let stand_in = shared.desk.now();
    // A database may let others wait.
    let takes_time = large || stand_in.keeps_rows();
    let judge = move || {
        let answered = stand_in.answer(&request, &Caller { base: &base, secure, certified });
        (request, answered)
    };
    let judged = if takes_time { tokio::task::spawn_blocking(judge).await } else { Ok(judge()) };
    let Ok((request, Answered { reply, about, after, lost })) = judged else {
        return words(StatusCode::INTERNAL_SERVER_ERROR, "the request could not be judged\n");
    };
    if !after.is_zero() {
        tokio::time::sleep(after).await;
    }
    let takes = request.headers.clone();
    shared.tell(came, came.clock.elapsed(), parts, (request, Some(reply.clone())), about);
    let packed = packed(reply, &takes);
    match lost {
        None => response(packed),
        Some(Lost::Half) => half(packed),
        Some(Lost::Whole) => {
            let mut dropped = Response::new(Body::empty());
            dropped.extensions_mut().insert(Dropped);
            dropped
        }
    }
}

/// Marks a reply that is not to go out: the connection ends instead.
#[derive(Clone, Copy)]
struct Dropped;

/// A reply of which half goes out before the connection ends.
fn half(message: HttpMessage) -> Response<Body> {
    let length = message.body.len();
    let cut = Bytes::from(message.body[..length / 2].to_vec());
    let mut response = response(HttpMessage { body: Vec::new(), ..message });
    response.headers_mut().insert(header::CONTENT_LENGTH, length.into());
    *response.body_mut() = Body::new(CutOff::Some(cut));
    response
}

/// A body that ends before it is over.
enum CutOff {
    /// Some of it is still to come.
    Some(Bytes),
    /// What came has to be written out before the connection ends.
    Written,
    Over,
}

impl hyper::body::Body for CutOff {
    type Data = Bytes;
    type Error = std::io::Error;

    fn poll_frame(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Bytes>, std::io::Error>>> {
        match std::mem::replace(&mut *self, CutOff::Over) {
            CutOff::Some(some) => {
                *self = CutOff::Written;
                Poll::Ready(Some(Ok(Frame::data(some))))
            }
            CutOff::Written => {
                context.waker().wake_by_ref();
                Poll::Pending
            }
            CutOff::Over => Poll::Ready(Some(Err(std::io::Error::other("cut off")))),
        }
    }
}

/// What the provider answers, to which a request is passed on. It is judged when it is on its way back already.
async fn passed(
    shared: &Arc<Shared>,
    relay: &Relay,
    came: Came,
    parts: &Parts,
    octets: Bytes,
) -> Response<Body> {
    let stand_in = shared.desk.now();
    let came_back = relay.pass(&stand_in, parts, octets.clone()).await;
    let took = came.clock.elapsed();
    let (response, reply) = match came_back {
        Ok(response) => {
            let start = Start::Reply { status: response.status().as_u16() };
            let (head, body) = response.into_parts();
            let reply = HttpMessage { start, headers: fields(&head.headers), body: body.to_vec() };
            (Response::from_parts(head, Body::from(body)), Ok(reply))
        }
        Err(error) => {
            let status = match error {
                NotPassed::Late(..) => StatusCode::GATEWAY_TIMEOUT,
                NotPassed::Unreached(..) | NotPassed::TooLarge(_) => StatusCode::BAD_GATEWAY,
            };
            let lost = Finding::of_whole("envelope-missing", error.to_string(), "does the provider run?");
            (words(status, &format!("{error}\n")), Err(lost))
        }
    };
    let (shared, parts) = (Arc::clone(shared), parts.clone());
    let pending = Arc::clone(&shared.pending).read_owned().await;
    tokio::task::spawn_blocking(move || {
        let request = message(&parts, octets);
        let mut about = stand_in.judge(&request, reply.as_ref().ok());
        about.reply.extend(reply.as_ref().err().cloned());
        shared.tell(came, took, &parts, (request, reply.ok()), about);
        drop(pending);
    });
    response
}

/// Reads a body, within bounds.
async fn read(body: Body, headers: &axum::http::HeaderMap, bounds: &Bounds) -> Result<Bytes, Response<Body>> {
    let too_large = || {
        let said = format!("the body is larger than {} octets\n", bounds.body);
        words(StatusCode::PAYLOAD_TOO_LARGE, &said)
    };
    let length = headers.get(header::CONTENT_LENGTH).and_then(|value| value.to_str().ok()?.parse().ok());
    if let Some(length) = length.filter(|length: &u64| *length > bounds.body as u64) {
        // Whoever is still writing would not read why it is refused: what is not much more is taken, and thrown away.
        if length <= bounds.body as u64 * THROWN_AWAY {
            let _ = tokio::time::timeout(bounds.patience, drained(body)).await;
        }
        return Err(too_large());
    }
    let whole = Limited::new(body, bounds.body).collect();
    match tokio::time::timeout(bounds.patience, whole).await {
        Ok(Ok(whole)) => Ok(whole.to_bytes()),
        Ok(Err(error)) if error.is::<LengthLimitError>() => Err(too_large()),
        Ok(Err(_)) => Err(words(StatusCode::BAD_REQUEST, "the body did not come whole\n")),
        Err(_) => {
            let said = format!("the body did not come within {} s\n", bounds.patience.as_secs());
            Err(words(StatusCode::REQUEST_TIMEOUT, &said))
        }
    }
}

/// Reads a body to its end, and keeps nothing of it.
async fn drained(mut body: Body) {
    while let Some(Ok(_)) = body.frame().await {}
}

/// A reply in plain words, after which the connection is closed: what is left of the request is not read.
fn words(status: StatusCode, said: &str) -> Response<Body> {
    let mut response = Response::new(Body::from(said.to_owned()));
    *response.status_mut() = status;
    let plain = HeaderValue::from_static("text/plain; charset=utf-8");
    response.headers_mut().insert(header::CONTENT_TYPE, plain);
    response.headers_mut().insert(header::CONNECTION, HeaderValue::from_static("close"));
    response
}

fn fields(headers: &axum::http::HeaderMap) -> Headers {
    headers
        .iter()
        .map(|(name, value)| {
            (name.as_str().to_owned(), String::from_utf8_lossy(value.as_bytes()).into_owned())
        })
        .collect()
}

/// How the server is reached, as the request has it: whoever stands before it may know it by another name.
fn base(headers: &axum::http::HeaderMap, secure: bool) -> Option<String> {
    let scheme = if secure { "https" } else { "http" };
    let host = headers.get(header::HOST)?.to_str().ok()?;
    let fits = |c: char| c.is_ascii_alphanumeric() || matches!(c, '.' | '-' | '_' | ':' | '[' | ']');
    (!host.is_empty() && host.chars().all(fits)).then(|| format!("{scheme}://{host}"))
}

fn response(message: HttpMessage) -> Response<Body> {
    let status = message.start.status().and_then(|status| StatusCode::from_u16(status).ok());
    let mut response = Response::new(Body::from(message.body));
    *response.status_mut() = status.unwrap_or(StatusCode::INTERNAL_SERVER_ERROR);
    for (name, value) in message.headers.iter() {
        // Its length is that of the body as it is sent.
        if name.eq_ignore_ascii_case("Content-Length") {
            continue;
        }
        let pair = (header::HeaderName::from_bytes(name.as_bytes()), HeaderValue::from_str(value));
        if let (Ok(name), Ok(value)) = pair {
            response.headers_mut().append(name, value);
        }
    }
    response
}
