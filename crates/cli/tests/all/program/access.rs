//! Who may ask a stand-in for what: HTTP Basic, user names of WS-Security, values of the request, certificates.

use charter_message::blocks::digest;

use super::bindings::{demanding, https, user_name};
use super::folder::{Folder, contract};
use super::serving::{Came, Serving};
use super::stand_in::{ACTION, NEXT_TIDE, envelope};

const USERS: &str = "[users]\nquay-board = \"file:quay\"\nbuoy-watch = \"file:buoy\"\n";

/// The example contract, and a stand-in that asks who is there.
fn guarded(contract: String, access: &str) -> (Folder, Serving) {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract);
    folder.write("quay", "grey-heron-41");
    folder.write("buoy", "dunlin-7");
    folder.write("wrong", "grey-heron-42");
    folder.write("access.toml", format!("{USERS}{access}"));
    let serving = folder.serve("answer tides.wsdl --script access.toml");
    (folder, serving)
}

fn ask(serving: &Serving) -> Came {
    serving.post("/1", ACTION, &envelope("", NEXT_TIDE))
}

fn send(folder: &Folder, serving: &Serving, words: &str) -> super::folder::Run {
    folder.run(&format!("send tides.wsdl nextTide --anyway --to http://{} {words}", serving.host))
}

#[test]
fn basic_is_asked_for_and_told_so() {
    let (folder, serving) = guarded(contract(&[]), "[[access]]\nby = \"basic\"\nusers = [\"quay-board\"]\n");
    let came = ask(&serving);
    came.is(401).has("a user name and a password are asked for");
    assert!(
        came.head.contains("Www-Authenticate: Basic realm=\"TidesService\", charset=\"UTF-8\""),
        "{}",
        came.head
    );
    send(&folder, &serving, "--basic quay-board --password file:quay").ends(0);
    send(&folder, &serving, "--basic quay-board --password file:wrong").ends(1).says("401");
    // Known, but not for this.
    send(&folder, &serving, "--basic buoy-watch --password file:buoy")
        .ends(1)
        .says("buoy-watch may not ask for this");
    for field in ["Basic", "Basic !", "Bearer grey-heron-41", "Basic cXVheQ=="] {
        let head = format!(
            "POST /1 HTTP/1.1\nContent-Type: text/xml\nSOAPAction: \"{ACTION}\"\nAuthorization: {field}"
        );
        serving.ask(&head, envelope("", NEXT_TIDE)).is(401);
    }
    // Whoever reads the contract is not asked.
    serving.get("/1?wsdl").is(200);
    let run = serving.stop();
    assert!(!run.out.contains("heron"), "{}", run.out);
    run.says("the password is not that of quay-board");
}

#[test]
fn each_operation_and_port_may_ask_in_its_own_way() {
    let folder = Folder::with_demo();
    folder.write("quay", "grey-heron-41");
    folder.write("agents", "HL-2041");
    folder.write(
        "access.toml",
        "[users]\nquay-board = \"file:quay\"\ntolland-reeve = \"file:agents\"\n\n\
         [[access]]\noperation = \"listPilots\"\nby = \"nothing\"\n\n\
         [[access]]\noperation = \"requestPilot\"\nby = \"header\"\nuser = \"$header/AgentCredentials/agent\"\npassword = \"$header/AgentCredentials/licence\"\nfault = \"VesselRefused\"\n\n\
         [[access]]\nport = \"PilotagePort12\"\nby = \"password\"\n\n\
         [[access]]\nservice = \"PilotageService\"\nby = \"basic\"\n",
    );
    let serving = folder.serve("answer saltmere/v1/pilotage.wsdl --script access.toml");
    let send = |words: &str| {
        folder.run(&format!("send saltmere/v1/pilotage.wsdl {words} --to http://{}", serving.host))
    };
    send("listPilots").ends(0);
    send("findBoarding").ends(1).says("401");
    send("findBoarding --basic quay-board --password file:quay").ends(0);
    send("findBoarding --port PilotagePort12").ends(1).says("env:Subcode").says("InvalidSecurity");
    send("findBoarding --port PilotagePort12 --user quay-board --password file:quay").ends(0);
    send("requestPilot").ends(0);
    send("requestPilot $header/AgentCredentials/licence=HL-9").ends(1).says("<VesselRefused");
    serving.stop();
}

/// A header block with a user name.
fn token(user: &str, password: &str, nonce: &[u8], created: &str) -> String {
    use base64::Engine as _;
    let nonce_text = base64::engine::general_purpose::STANDARD.encode(nonce);
    let hashed = digest(nonce, created, password);
    format!(
        "<s:Security e:mustUnderstand=\"1\" xmlns:s=\"http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-secext-1.0.xsd\" \
         xmlns:u=\"http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-wssecurity-utility-1.0.xsd\"><s:UsernameToken><s:Username>{user}</s:Username>\
         <s:Password Type=\"http://docs.oasis-open.org/wss/2004/01/oasis-200401-wss-username-token-profile-1.0#PasswordDigest\">{hashed}</s:Password>\
         <s:Nonce>{nonce_text}</s:Nonce><u:Created>{created}</u:Created></s:UsernameToken></s:Security>"
    )
}

fn now(offset: i64) -> String {
    let time = jiff::Timestamp::now() + jiff::SignedDuration::from_secs(offset);
    time.strftime("%Y-%m-%dT%H:%M:%SZ").to_string()
}

#[test]
fn a_digest_is_good_once_and_for_five_minutes() {
    let (folder, serving) = guarded(contract(&[]), "[[access]]\nby = \"digest\"\n");
    let post = |block: &str| serving.post("/1", ACTION, &envelope(block, NEXT_TIDE));
    let right = token("quay-board", "grey-heron-41", b"first", &now(0));
    post(&right).is(200);
    post(&right).is(500).has(":InvalidSecurityToken</faultcode>").has("this nonce was used before");
    post(&token("buoy-watch", "dunlin-7", b"first", &now(0))).is(200);
    for offset in [-400, 400] {
        post(&token("quay-board", "grey-heron-41", &offset.to_string().into_bytes(), &now(offset)))
            .is(500)
            .has("which is not within five minutes");
    }
    post(&token("quay-board", "grey-heron-42", b"second", &now(0)))
        .is(500)
        .has(":FailedAuthentication</faultcode>")
        .has("the password is not that of quay-board");
    // Whoever does not know the password uses no nonce up.
    post(&token("quay-board", "grey-heron-41", b"second", &now(0))).is(200);
    post(&token("nobody", "grey-heron-41", b"third", &now(0))).is(500).has("FailedAuthentication");
    let created = now(0);
    let torn = token("quay-board", "grey-heron-41", b"fourth", &created)
        .replace(&format!("<u:Created>{created}</u:Created>"), "");
    post(&torn).is(500).has("a digest needs its nonce, and when it was made");
    post(&token("quay-board", "grey-heron-41", b"fifth", "yesterday"))
        .is(500)
        .has("is no time with a time zone");
    ask(&serving).is(500).has(":InvalidSecurity</faultcode>");
    send(&folder, &serving, "--user quay-board --password file:quay")
        .ends(1)
        .says("UnsupportedSecurityToken");
    for _ in 0..3 {
        send(&folder, &serving, "--user quay-board --password file:quay --digest").ends(0);
    }
    serving.stop();
}

#[test]
fn what_a_policy_demands_is_asked_for_by_itself() {
    // A user name, with anybody's password if nobody is known.
    let plain = Folder::empty();
    plain.write("tides.wsdl", demanding(&user_name("")));
    let serving = plain.serve("answer tides.wsdl");
    ask(&serving).is(500).has(":InvalidSecurity</faultcode>");
    plain.run(&format!("send tides.wsdl nextTide --to http://{}", serving.host)).ends(0);
    serving.stop();
    // With users, the password is theirs.
    let (folder, serving) = guarded(demanding(&user_name("")), "");
    send(&folder, &serving, "--user quay-board --password file:quay").ends(0);
    send(&folder, &serving, "--user quay-board --password file:wrong").ends(1).says("FailedAuthentication");
    serving.stop();
    let (folder, serving) = guarded(demanding(&user_name("<sp:HashPassword/>")), "");
    send(&folder, &serving, "--user quay-board --password file:quay --digest").ends(0);
    serving.stop();
    let (folder, serving) = guarded(demanding(&https("<sp:HttpBasicAuthentication/>")), "");
    ask(&serving).is(401);
    send(&folder, &serving, "--basic buoy-watch --password file:buoy").ends(0);
    serving.stop();
    folder.run("show tides.wsdl").says("demands https, user name and password by HTTP Basic");
}

/// A certificate for a client in PEM with its key, and the one that vouches for it.
fn client() -> (String, String) {
    let authority_key = rcgen::KeyPair::generate().unwrap();
    let mut authority = rcgen::CertificateParams::new(Vec::new()).unwrap();
    authority.distinguished_name.push(rcgen::DnType::CommonName, "Saltmere Quays");
    authority.is_ca = rcgen::IsCa::Ca(rcgen::BasicConstraints::Unconstrained);
    let vouching = authority.self_signed(&authority_key).unwrap();
    let issuer = rcgen::Issuer::new(authority, authority_key);
    let key = rcgen::KeyPair::generate().unwrap();
    let own = rcgen::CertificateParams::new(vec!["quay-board".to_owned()])
        .unwrap()
        .signed_by(&key, &issuer)
        .unwrap();
    (format!("{}{}", own.pem(), key.serialize_pem()), vouching.pem())
}

#[test]
fn a_stand_in_makes_a_certificate_and_asks_for_one() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    let serving = folder.serve("answer tides.wsdl --certificate own.pem");
    assert!(serving.began.contains("https://127.0.0.1:"), "{}", serving.began);
    let to = format!("send tides.wsdl nextTide --to https://{}", serving.host);
    folder.run(&format!("{to} --authorities own.pem")).ends(0);
    folder.run(&to).ends(2).complains("nobody who is trusted here vouches for its certificate");
    // The contract names the address by which it was asked for.
    let client = "import ssl, sys, urllib.request\ncontext = ssl.create_default_context(cafile='own.pem')\nprint(urllib.request.urlopen(sys.argv[1], context=context).read().decode())";
    let said = super::interop::python(&folder, client, &[&format!("https://{}/1?wsdl", serving.host)]);
    assert!(said.contains(&format!("location=\"https://{}/1\"", serving.host)), "{said}");
    // A relay trusts it as well, and stands before it.
    let relay = folder
        .serve(&format!("answer tides.wsdl --relay https://{} --relay-authorities own.pem", serving.host));
    folder.run(&format!("send tides.wsdl nextTide --to http://{}", relay.host)).ends(0);
    relay.stop().says("replied   nextTide");
    let run = serving.stop();
    assert!(run.err.contains("made a certificate, own.pem"), "{}", run.err);
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let mode = std::fs::metadata(folder.path("own.pem")).unwrap().permissions().mode();
        assert_eq!(mode & 0o077, 0, "{mode:o}");
    }
    // It is the same the next time; and now clients need one too.
    let (own, vouching) = self::client();
    folder.write("client.pem", own);
    folder.write("quays.pem", vouching);
    let before = folder.read("own.pem");
    let serving = folder.serve("answer tides.wsdl --certificate own.pem --clients quays.pem");
    assert_eq!(folder.read("own.pem"), before);
    let to = format!("send tides.wsdl nextTide --to https://{} --authorities own.pem", serving.host);
    folder.run(&format!("{to} --certificate client.pem")).ends(0);
    assert_eq!(folder.run(&to).status, 2);
    serving.stop().says("1 request: 1 replied");
    // Only some need one.
    folder.write("access.toml", "[[access]]\noperation = \"nextTide\"\nby = \"certificate\"\n");
    let serving =
        folder.serve("answer tides.wsdl --certificate own.pem --clients quays.pem --script access.toml");
    let to = format!("send tides.wsdl nextTide --to https://{} --authorities own.pem", serving.host);
    folder.run(&to).ends(1).says("403").says("a certificate of the client is asked for");
    folder.run(&format!("{to} --certificate client.pem")).ends(0);
    serving.stop();
    folder
        .run("answer tides.wsdl --certificate tides.wsdl --port 0")
        .ends(2)
        .complains("there is no certificate in it");
    folder
        .run("answer tides.wsdl --certificate none/own.pem --port 0")
        .ends(2)
        .complains("could not be written");
}

#[test]
fn a_policy_that_demands_a_certificate_is_heard_over_https() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", demanding(&https("<sp:RequireClientCertificate/>")));
    folder.write(
        "access.toml",
        "[[access]]\nport = \"TidesPort\"\noperation = \"nextTide\"\nby = \"certificate\"\n",
    );
    let (own, vouching) = client();
    folder.write("client.pem", own);
    folder.write("quays.pem", vouching);
    let serving = folder.serve("answer tides.wsdl --certificate own.pem");
    let to = |serving: &Serving| {
        format!("send tides.wsdl nextTide --to https://{} --authorities own.pem", serving.host)
    };
    folder.run(&to(&serving)).ends(1).says("403");
    serving.stop();
    let serving = folder.serve("answer tides.wsdl --certificate own.pem --clients quays.pem");
    folder.run(&format!("{} --certificate client.pem", to(&serving))).ends(0);
    serving.stop();
}

#[test]
fn what_makes_no_sense_of_access_is_said_before_anybody_asks() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", contract(&[]));
    folder.write("quay", "x");
    let entry = "[users]\nquay = \"file:quay\"\n[[access]]\n";
    for (script, place, words) in [
        (
            "[users]\nquay = \"grey-heron-41\"\n".to_owned(),
            "2:8",
            "this says where a password is, and not the password",
        ),
        ("[users]\nquay = \"file:none\"\n".to_owned(), "2:8", "the secret cannot be read"),
        (format!("{entry}port = \"TidesPort\"\n"), "3:1", "nothing says how users prove who they are"),
        (format!("{entry}by = \"basik\"\n"), "4:6", "did you mean \"basic\"?"),
        (format!("{entry}by = \"header\"\n"), "4:6", "nothing says where the name is"),
        (format!("{entry}by = \"basic\"\nport = \"TidePort\"\n"), "5:8", "did you mean \"TidesPort\"?"),
        (
            format!("{entry}by = \"basic\"\nservice = \"TideService\"\n"),
            "5:11",
            "did you mean \"TidesService\"?",
        ),
        (format!("{entry}by = \"basic\"\nusers = [\"quai\"]\n"), "5:10", "did you mean \"quay\"?"),
        (format!("{entry}by = \"basic\"\nfault = \"Down\"\n"), "5:9", "a fault is one of an operation"),
        (
            format!("{entry}by = \"header\"\noperation = \"nextTide\"\nuser = \"gage\"\n"),
            "6:8",
            "did you mean \"gauge\"?",
        ),
    ] {
        folder.write("access.toml", &script);
        let run = folder.run("answer tides.wsdl --script access.toml --port 0").ends(2).complains(words);
        assert!(run.err.contains(&format!("access.toml:{place}: ")), "{script}{}", run.err);
        assert!(!run.err.contains("grey-heron"), "{}", run.err);
    }
}
