//! What the stand-in bears: exchanges of the demo's typical request, both sides of a real connection, from a second process on
//! the same machine; how long one takes at half of that; how much memory it needs; and what is left of it while others send
//! garbage, open connections and say nothing, send slowly, send too much, and send entity bombs. Then how much longer an exchange
//! takes by a relay, and how many exchanges a rehearsal makes with a server that answers at once.
//!
//! `cargo bench --bench exchanges` prints it.

use std::io::{BufRead, BufReader, Read, Write};
use std::net::TcpStream;
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

/// Connections that are kept, each with a request at a time.
const CONNECTIONS: usize = 16;
const CONTRACT: &str = concat!(env!("CARGO_MANIFEST_DIR"), "/demo/v1/pilotage.wsdl");

fn main() {
    // `cargo test --benches` only wants to know that this runs.
    let quick = std::env::args().any(|argument| argument == "--test");
    let (seconds, most) = if quick { (1, 2_000) } else { (10, 500_000) };
    let server = Server::start();
    let request = Arc::new(request(&server.host));
    let before = server.memory();
    let (rate, _) = load(&server.host, &request, Duration::from_secs(seconds), None);
    println!("{:>44} {rate:>10.0} a second", "exchanges, as many as can be");
    let (half, mut took) = load(&server.host, &request, Duration::from_secs(seconds), Some(rate / 2.0));
    took.sort_unstable();
    let share = |share: f64| took[((took.len() - 1) as f64 * share) as usize];
    println!("{:>44} {half:>10.0} a second", "at half of that");
    println!(
        "{:>44} {:>10.2?} {:>10.2?} {:>10.2?}",
        "median, 99 %, 99.9 %",
        share(0.5),
        share(0.99),
        share(0.999)
    );
    let mut all = ((rate + half) * seconds as f64) as usize;
    while all < most {
        all += (load(&server.host, &request, Duration::from_secs(seconds), None).0 * seconds as f64) as usize;
    }
    let after = server.memory();
    println!(
        "{:>44} {:>10.1} MB before, {:.1} MB after {all}",
        "memory",
        before as f64 / 1e3,
        after as f64 / 1e3
    );
    let over = Arc::new(AtomicBool::new(false));
    let attacks: Vec<_> = attacks(&server.host, &over).collect();
    let (beside, _) = load(&server.host, &request, Duration::from_secs(seconds), None);
    over.store(true, Ordering::Relaxed);
    attacks.into_iter().for_each(|attack| attack.join().unwrap());
    println!("{:>44} {beside:>10.0} a second, {:.0} %", "beside attacks", beside / rate * 100.0);
    relayed(&server, &request, if quick { 50 } else { 5_000 });
    rehearsed(seconds);
}

/// How long an exchange takes by itself and by a relay, one after the other.
fn relayed(server: &Server, request: &[u8], count: usize) {
    let relay = Server::of(&["--relay", &format!("http://{}", server.host)]);
    let median = |host: &str| {
        let stream = TcpStream::connect(host).unwrap();
        stream.set_nodelay(true).unwrap();
        let (mut writer, mut reader) = (stream.try_clone().unwrap(), BufReader::new(stream));
        let mut took: Vec<Duration> = (0..count)
            .map(|_| {
                let clock = Instant::now();
                writer.write_all(request).unwrap();
                assert_eq!(status(&mut reader), Some(200));
                clock.elapsed()
            })
            .collect();
        took.sort_unstable();
        took[count / 2]
    };
    let (direct, by_relay) = (median(&server.host), median(&relay.host));
    println!("{:>44} {direct:>10.2?} alone, {by_relay:.2?} by a relay", "an exchange, at the median");
}

/// How many exchanges a rehearsal makes in a second, with a server that answers at once.
fn rehearsed(seconds: u64) {
    let reply = Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(["message", CONTRACT, "requestPilot", "--side", "output"])
        .output()
        .unwrap()
        .stdout;
    let head = format!(
        "HTTP/1.1 200 OK\r\nContent-Type: text/xml; charset=utf-8\r\nContent-Length: {}\r\n\r\n",
        reply.len()
    );
    let reply: Arc<Vec<u8>> = Arc::new([head.into_bytes(), reply].concat());
    let listener = std::net::TcpListener::bind("127.0.0.1:0").unwrap();
    let host = listener.local_addr().unwrap();
    std::thread::spawn(move || {
        for stream in listener.incoming().flatten() {
            let reply = Arc::clone(&reply);
            std::thread::spawn(move || answers_at_once(stream, &reply));
        }
    });
    let plan = std::env::temp_dir().join(format!("charter-bench-{}.toml", std::process::id()));
    std::fs::write(&plan, "[[exchange]]\noperation = \"requestPilot\"\nport = \"PilotagePort\"\n").unwrap();
    let run = Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(["rehearse", CONTRACT])
        .arg(&plan)
        .args(["--to", &format!("http://{host}"), "--together", "16", "--for", &format!("{seconds}s")])
        .args(["--format", "json"])
        .output()
        .unwrap();
    let _ = std::fs::remove_file(&plan);
    let said: serde_json::Value = serde_json::from_slice(&run.stdout).unwrap();
    assert_eq!(said["right"], true);
    let rate = said["figures"]["rate"].as_f64().unwrap();
    println!("{:>44} {rate:>10.0} a second", "a rehearsal, with a server that answers at once");
}

/// Answers every request on a connection with the same octets.
fn answers_at_once(stream: TcpStream, reply: &[u8]) {
    let _ = stream.set_nodelay(true);
    let Ok(mut writer) = stream.try_clone() else { return };
    let mut reader = BufReader::new(stream);
    let mut head = String::new();
    loop {
        head.clear();
        while !head.ends_with("\r\n\r\n") {
            if reader.read_line(&mut head).unwrap_or(0) == 0 {
                return;
            }
        }
        let length = head.lines().find_map(|line| {
            let (name, value) = line.split_once(':')?;
            value.trim().parse().ok().filter(|_: &usize| name.eq_ignore_ascii_case("content-length"))
        });
        let mut body = vec![0; length.unwrap_or(0)];
        if reader.read_exact(&mut body).is_err() || writer.write_all(reply).is_err() {
            return;
        }
    }
}

/// A stand-in in a process of its own.
struct Server {
    child: Child,
    host: String,
}

impl Server {
    fn start() -> Server {
        Server::of(&[])
    }

    /// One with more words.
    fn of(words: &[&str]) -> Server {
        let mut child = Command::new(env!("CARGO_BIN_EXE_charter"))
            .args(["answer", CONTRACT, "--port", "0", "--patience", "5"])
            .args(words)
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .unwrap();
        let mut lines = BufReader::new(child.stdout.take().unwrap()).lines();
        let port =
            lines.by_ref().map(Result::unwrap).find(|line| line.starts_with("  PilotagePort ")).unwrap();
        let host = port.split("//").nth(1).unwrap().split('/').next().unwrap().to_owned();
        // Somebody reads what it says.
        std::thread::spawn(move || lines.for_each(drop));
        Server { child, host }
    }

    /// Resident memory, in KB.
    fn memory(&self) -> u64 {
        let status = std::fs::read_to_string(format!("/proc/{}/status", self.child.id())).unwrap_or_default();
        let line = status.lines().find_map(|line| line.strip_prefix("VmRSS:"));
        line.and_then(|line| line.split_whitespace().next()?.parse().ok()).unwrap_or(0)
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// The demo's typical request, as it goes over the wire.
fn request(host: &str) -> Vec<u8> {
    let made = Command::new(env!("CARGO_BIN_EXE_charter"))
        .args(["message", CONTRACT, "requestPilot", "--as", "http"])
        .output()
        .unwrap();
    let text = String::from_utf8(made.stdout).unwrap();
    text.replace("pilotage.saltmere.example", host).into_bytes()
}

/// Sends for so long, at some rate if one is given: how many exchanges a second were right, and how long each took.
fn load(host: &str, request: &Arc<Vec<u8>>, long: Duration, rate: Option<f64>) -> (f64, Vec<Duration>) {
    let began = Instant::now();
    let pause = rate.map(|rate| Duration::from_secs_f64(CONNECTIONS as f64 / rate));
    let one = || {
        let (host, request) = (host.to_owned(), Arc::clone(request));
        std::thread::spawn(move || {
            let mut took = Vec::new();
            let stream = TcpStream::connect(host).unwrap();
            stream.set_nodelay(true).unwrap();
            let (mut writer, mut reader) = (stream.try_clone().unwrap(), BufReader::new(stream));
            let mut due = began;
            while began.elapsed() < long {
                if let Some(pause) = pause {
                    due += pause;
                    std::thread::sleep(due.saturating_duration_since(Instant::now()));
                }
                let clock = Instant::now();
                writer.write_all(&request).unwrap();
                assert_eq!(status(&mut reader), Some(200));
                took.push(clock.elapsed());
            }
            took
        })
    };
    let threads: Vec<_> = (0..CONNECTIONS).map(|_| one()).collect();
    let took: Vec<Duration> = threads.into_iter().flat_map(|thread| thread.join().unwrap()).collect();
    (took.len() as f64 / began.elapsed().as_secs_f64(), took)
}

/// Reads a reply, and gives its status; nothing if the connection ended.
fn status(reader: &mut impl BufRead) -> Option<u16> {
    let mut head = String::new();
    while !head.ends_with("\r\n\r\n") {
        if reader.read_line(&mut head).ok()? == 0 {
            return None;
        }
    }
    let length =
        head.lines().find_map(|line| line.strip_prefix("Content-Length: ")?.parse().ok()).unwrap_or(0);
    let mut body = vec![0; length];
    reader.read_exact(&mut body).ok()?;
    head.split(' ').nth(1)?.parse().ok()
}

/// What others do meanwhile, each on a thread of its own, with a pause between, as they would over a network.
fn attacks(host: &str, over: &Arc<AtomicBool>) -> impl Iterator<Item = std::thread::JoinHandle<()>> {
    let head = "POST /1 HTTP/1.1\r\nHost: a\r\nContent-Type: text/xml\r\nSOAPAction: \"\"\r\n";
    let bomb = "<!DOCTYPE e [<!ENTITY a \"aaaaaaaaaa\"><!ENTITY b \"&a;&a;&a;&a;&a;&a;&a;&a;\"><!ENTITY c \"&b;&b;&b;&b;&b;&b;&b;&b;\">]><e>&c;</e>";
    let with_length =
        |length: usize, body: &str| format!("{head}Content-Length: {length}\r\n\r\n{body}").into_bytes();
    let all = [
        vec![0xff; 4096],
        b"POST /1 HT".to_vec(),
        with_length(5000, "<e:Env"),
        with_length(900_000_000, "<e>"),
        with_length(bomb.len(), bomb),
    ];
    let (host, over) = (host.to_owned(), Arc::clone(over));
    all.into_iter().map(move |bytes| {
        let (host, over) = (host.clone(), Arc::clone(&over));
        std::thread::spawn(move || {
            let mut kept = Vec::new();
            while !over.load(Ordering::Relaxed) {
                if let Ok(mut stream) = TcpStream::connect(&host) {
                    let _ = stream.write_all(&bytes);
                    kept.push(stream);
                }
                // They hold on to what they have opened, up to a bound.
                if kept.len() > 100 {
                    kept.remove(0);
                }
                std::thread::sleep(Duration::from_millis(5));
            }
        })
    })
}
