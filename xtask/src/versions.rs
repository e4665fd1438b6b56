//! Random contracts and revisions of what is no matter of schemas: messages, headers, faults, bindings, ports. What keeps
//! by the comparison must be taken by the other version, message by message.

use std::collections::BTreeMap;

use charter_compare::{OpenContent, Options, Report, UnknownContent, Verdict, compare_by};
use charter_contract::{Contract, OperationId, Side};
use charter_message::captured::split;
use charter_message::matching::{Matcher, Severity};
use charter_message::{Size, assemble, sample};
use charter_schema::{Engine, Term};
use charter_source::{Limits, Location, Overlay};
use fastrand::Rng;

use crate::schemas::Maker;

/// Makes a revision of the text of a contract, if there is something to revise.
type Change = fn(&str) -> Option<String>;

/// All kinds of changes. Those with an empty replacement take something out.
const KINDS: &[(&str, Change)] = &[
    ("nothing", |text| Some(text.to_owned())),
    ("prefix renamed", |text| Some(text.replace("xmlns:w=", "xmlns:v=").replace("\"w:", "\"v:"))),
    ("message renamed", |text| {
        swap_all(text, "\"w:in0\"", "\"w:asked0\"", "name=\"in0\"", "name=\"asked0\"")
    }),
    ("port type renamed", |text| {
        swap_all(text, "type=\"w:Doc\"", "type=\"w:Papers\"", "name=\"Doc\"", "name=\"Papers\"")
    }),
    ("binding renamed", |text| swap_all(text, "\"w:D11\"", "\"w:Bound\"", "name=\"D11\"", "name=\"Bound\"")),
    ("port renamed", |text| swap(text, "name=\"D11Port\"", "name=\"Way\"")),
    ("service renamed", |text| swap(text, "wsdl:service name=\"W\"", "wsdl:service name=\"Harbour\"")),
    ("part renamed in document style", |text| {
        swap_all(
            text,
            "<wsdl:part name=\"body\"",
            "<wsdl:part name=\"inner\"",
            "parts=\"body\"",
            "parts=\"inner\"",
        )
        .map(|text| text.replace("part=\"body\"", "part=\"inner\""))
    }),
    ("documentation added", |text| {
        swap(
            text,
            "<wsdl:portType name=\"Doc\">",
            "<wsdl:portType name=\"Doc\"><wsdl:documentation>Papers.</wsdl:documentation>",
        )
    }),
    ("header removed", |text| {
        swap(text, "<soap:header message=\"w:in0\" part=\"head\" use=\"literal\"/>", "")
    }),
    ("header added to a request", |text| {
        swap(
            text,
            "<wsdl:input><soap:header",
            "<wsdl:input><soap:header message=\"w:out0\" part=\"body\" use=\"literal\"/><soap:header",
        )
    }),
    ("header added to a reply", |text| {
        swap(
            text,
            "<wsdl:output><soap:body use=\"literal\"/>",
            "<wsdl:output><soap:header message=\"w:out0\" part=\"body\" use=\"literal\"/><soap:body use=\"literal\"/>",
        )
    }),
    ("header of another part", |text| {
        swap(
            text,
            "<soap:header message=\"w:in0\" part=\"head\"",
            "<soap:header message=\"w:in0\" part=\"body\"",
        )
    }),
    ("action changed", |text| swap(text, "soapAction=\"urn:w:d0\"", "soapAction=\"urn:w:other\"")),
    ("action removed", |text| swap(text, "<soap:operation soapAction=\"urn:w:d0\"/>", "<soap:operation/>")),
    ("actions of rpc changed", |text| swap(text, "soapAction=\"urn:w:call\"", "soapAction=\"urn:w:called\"")),
    ("encoded is literal", |text| {
        swap(
            text,
            "<wsdl:input><soap:body use=\"encoded\" namespace=\"urn:w\"/>",
            "<wsdl:input><soap:body use=\"literal\" namespace=\"urn:w\"/>",
        )
    }),
    ("literal is encoded", |text| {
        swap(
            text,
            "<wsdl:input><soap:body use=\"literal\" namespace=\"urn:w\"/>",
            "<wsdl:input><soap:body use=\"encoded\" namespace=\"urn:w\"/>",
        )
    }),
    ("wrapper in another namespace", |text| {
        swap(
            text,
            "<wsdl:input><soap:body use=\"literal\" namespace=\"urn:w\"/>",
            "<wsdl:input><soap:body use=\"literal\" namespace=\"urn:v\"/>",
        )
    }),
    ("wrapper of a reply in another namespace", |text| {
        swap(
            text,
            "<wsdl:output><soap:body use=\"literal\" namespace=\"urn:w\"/>",
            "<wsdl:output><soap:body use=\"literal\" namespace=\"urn:v\"/>",
        )
    }),
    ("encoded wrapper in another namespace", |text| {
        swap(
            text,
            "<wsdl:output><soap:body use=\"encoded\" namespace=\"urn:w\"/>",
            "<wsdl:output><soap:body use=\"encoded\" namespace=\"urn:v\"/>",
        )
    }),
    ("accessor renamed", |text| {
        swap(
            text,
            "<wsdl:message name=\"rpc\"><wsdl:part name=\"p0\"",
            "<wsdl:message name=\"rpc\"><wsdl:part name=\"q0\"",
        )
    }),
    ("accessor added", |text| {
        swap(
            text,
            "<wsdl:message name=\"rpc\">",
            "<wsdl:message name=\"rpc\"><wsdl:part name=\"more\" type=\"xs:date\"/>",
        )
    }),
    ("accessor removed", |text| {
        swap(
            text,
            "<wsdl:part name=\"pn\" type=\"xs:int\"/></wsdl:message>\n<wsdl:message name=\"fields\"",
            "</wsdl:message>\n<wsdl:message name=\"fields\"",
        )
    }),
    ("accessor moved", |text| {
        let text = swap(
            text,
            "<wsdl:part name=\"pn\" type=\"xs:int\"/></wsdl:message>\n<wsdl:message name=\"fields\"",
            "</wsdl:message>\n<wsdl:message name=\"fields\"",
        )?;
        swap(
            &text,
            "<wsdl:message name=\"rpc\">",
            "<wsdl:message name=\"rpc\"><wsdl:part name=\"pn\" type=\"xs:int\"/>",
        )
    }),
    ("accessor widened", |text| {
        swap(text, "<wsdl:part name=\"pn\" type=\"xs:int\"", "<wsdl:part name=\"pn\" type=\"xs:long\"")
    }),
    ("accessor narrowed", |text| {
        swap(text, "<wsdl:part name=\"pn\" type=\"xs:int\"", "<wsdl:part name=\"pn\" type=\"xs:short\"")
    }),
    ("accessor of another type", |text| {
        swap(text, "<wsdl:part name=\"pn\" type=\"xs:int\"", "<wsdl:part name=\"pn\" type=\"xs:date\"")
    }),
    ("field added", |text| {
        swap(
            text,
            "<wsdl:message name=\"fields\">",
            "<wsdl:message name=\"fields\"><wsdl:part name=\"more\" type=\"xs:date\"/>",
        )
    }),
    ("field widened", |text| {
        let at = text.find("<wsdl:message name=\"fields\">")?;
        Some(format!(
            "{}{}",
            &text[..at],
            swap(&text[at..], "name=\"pn\" type=\"xs:int\"", "name=\"pn\" type=\"xs:string\"")?
        ))
    }),
    ("only part of another type", |text| {
        let at = text.find("<wsdl:message name=\"one\">")?;
        let end = at + text[at..].find("/></wsdl:message>")?;
        Some(format!(
            "{}<wsdl:message name=\"one\"><wsdl:part name=\"only\" type=\"xs:dateTime\"{}",
            &text[..at],
            &text[end..]
        ))
    }),
    ("bodies exchanged", |text| {
        let of = |name: &str| {
            let from =
                text.find(&format!("<wsdl:message name=\"{name}\"><wsdl:part name=\"body\" element=\""))?;
            let from = from + text[from..].find("element=\"")? + 9;
            Some((from, from + text[from..].find('"')?))
        };
        let (out, one) = (of("out0")?, of("in0")?);
        Some(format!("{}{}{}", &text[..out.0], &text[one.0..one.1], &text[out.1..]))
    }),
    ("operation removed", |text| without_operation(text, "d0")),
    ("operation of rpc renamed", |text| {
        Some(text.replace("operation name=\"call\"", "operation name=\"summon\""))
    }),
    ("operation of documents renamed", |text| {
        Some(text.replace("operation name=\"d0\"", "operation name=\"paper\""))
    }),
    ("operation added", |text| {
        let text = swap(
            text,
            "<wsdl:operation name=\"call\"><wsdl:input",
            "<wsdl:operation name=\"summon\"><wsdl:input message=\"w:rpc\"/></wsdl:operation><wsdl:operation name=\"call\"><wsdl:input",
        )?;
        Some(text.replace("<wsdl:operation name=\"call\"><soap", "<wsdl:operation name=\"summon\"><SOAP:operation soapAction=\"urn:w:summon\"/><wsdl:input><SOAP:body use=\"literal\" namespace=\"urn:w\"/></wsdl:input></wsdl:operation><wsdl:operation name=\"call\"><soap"))
            .map(|text| in_version(&text))
    }),
    ("fault removed", |text| {
        let text = swap(text, "<wsdl:fault name=\"f\" message=\"w:out0\"/>", "")?;
        Some(["soap", "soap12"].iter().fold(text, |text, soap| {
            swap(
                &text,
                &format!("<wsdl:fault name=\"f\"><{soap}:fault name=\"f\" use=\"literal\"/></wsdl:fault>"),
                "",
            )
            .unwrap_or(text)
        }))
    }),
    ("fault added", |text| {
        let text = swap(
            text,
            "<wsdl:fault name=\"f\" message=\"w:out0\"/>",
            "<wsdl:fault name=\"f\" message=\"w:out0\"/><wsdl:fault name=\"g\" message=\"w:out0\"/>",
        )?;
        Some(["soap", "soap12"].iter().fold(text, |text, soap| {
            let fault = |name: &str| {
                format!(
                    "<wsdl:fault name=\"{name}\"><{soap}:fault name=\"{name}\" use=\"literal\"/></wsdl:fault>"
                )
            };
            swap(&text, &fault("f"), &(fault("f") + &fault("g"))).unwrap_or(text)
        }))
    }),
    ("reply removed", |text| {
        let text = swap(
            text,
            "<wsdl:input message=\"w:rpc\"/><wsdl:output message=\"w:rpc\"/></wsdl:operation></wsdl:portType>\n<wsdl:portType name=\"Coded\"",
            "<wsdl:input message=\"w:rpc\"/></wsdl:operation></wsdl:portType>\n<wsdl:portType name=\"Coded\"",
        )?;
        Some(["soap", "soap12"].iter().fold(text, |text, soap| {
            text.replace(
                &format!("<wsdl:output><{soap}:body use=\"literal\" namespace=\"urn:w\"/></wsdl:output>"),
                "",
            )
        }))
    }),
    ("reply added", |text| {
        let text = swap(
            text,
            "<wsdl:operation name=\"content\"><wsdl:input message=\"w:one\"/>",
            "<wsdl:operation name=\"content\"><wsdl:input message=\"w:one\"/><wsdl:output message=\"w:out0\"/>",
        )?;
        Some(["soap", "soap12"].iter().fold(text, |text, soap| {
            let bound = format!(
                "soapAction=\"urn:w:content\"/><wsdl:input><{soap}:body use=\"literal\"/></wsdl:input>"
            );
            let with = format!("{bound}<wsdl:output><{soap}:body use=\"literal\"/></wsdl:output>");
            text.replace(&bound, &with)
        }))
    }),
    ("port removed", |text| {
        swap(
            text,
            "<wsdl:port name=\"R12Port\" binding=\"w:R12\"><soap12:address location=\"http://w.saltmere.example/R12\"/></wsdl:port>",
            "",
        )
    }),
    ("port added", |text| {
        swap(
            text,
            "<wsdl:port name=\"R11Port\"",
            "<wsdl:port name=\"More\" binding=\"w:R11\"><soap:address location=\"http://w.saltmere.example/more\"/></wsdl:port><wsdl:port name=\"R11Port\"",
        )
    }),
    ("address changed", |text| {
        swap(text, "http://w.saltmere.example/D11", "http://w.saltmere.example/elsewhere")
    }),
    ("another transport", |text| {
        swap(
            text,
            "<soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>",
            "<soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/smtp\"/>",
        )
    }),
    ("another version of SOAP", |text| {
        let text = between(text, "<wsdl:binding name=\"R11\"", "</wsdl:binding>", &|inner| {
            inner.replace("<soap:", "<soap12:")
        })?;
        between(&text, "<wsdl:port name=\"R11Port\"", "</wsdl:port>", &|inner| {
            inner.replace("<soap:", "<soap12:")
        })
    }),
    ("another path", |text| swap(text, "location=\"form\"", "location=\"forms\"")),
    ("another verb", |text| {
        between(text, "<wsdl:binding name=\"Get\"", "</wsdl:binding>", &|inner| {
            inner.replace("verb=\"GET\"", "verb=\"POST\"")
        })
    }),
    ("another media type", |text| swap(text, "type=\"image/png\"", "type=\"image/gif\"")),
    ("another media type allowed", |text| {
        swap(
            text,
            "<mime:content part=\"file\" type=\"image/png\"/>",
            "<mime:content part=\"file\" type=\"image/png\"/><mime:content part=\"file\" type=\"image/gif\"/>",
        )
    }),
    ("attachment removed", |text| {
        swap(text, "<mime:part><mime:content part=\"file\" type=\"image/png\"/></mime:part>", "")
    }),
    ("password demanded", |text| {
        let text = swap(
            text,
            "<soap:binding style=\"rpc\"",
            "<p:Policy xmlns:p=\"http://www.w3.org/ns/ws-policy\" xmlns:sp=\"http://docs.oasis-open.org/ws-sx/ws-securitypolicy/200702\"><sp:SupportingTokens><p:Policy><sp:UsernameToken><p:Policy/></sp:UsernameToken></p:Policy></sp:SupportingTokens></p:Policy><soap:binding style=\"rpc\"",
        )?;
        Some(text)
    }),
];

/// Puts one text in the place of another, where that stands first.
fn swap(text: &str, from: &str, to: &str) -> Option<String> {
    text.contains(from).then(|| text.replacen(from, to, 1))
}

fn swap_all(text: &str, from: &str, to: &str, also: &str, with: &str) -> Option<String> {
    text.contains(from).then(|| text.replace(from, to).replace(also, with))
}

/// Changes what stands from one text to another.
fn between(text: &str, from: &str, to: &str, change: &dyn Fn(&str) -> String) -> Option<String> {
    let start = text.find(from)?;
    let end = start + text[start..].find(to)?;
    Some(format!("{}{}{}", &text[..start], change(&text[start..end]), &text[end..]))
}

/// Takes an operation out of its port type and out of all bindings.
fn without_operation(text: &str, name: &str) -> Option<String> {
    let begin = format!("<wsdl:operation name=\"{name}\">");
    let mut rest = text.to_owned();
    while let Some(start) = rest.find(&begin) {
        let end = start + rest[start..].find("</wsdl:operation>")? + "</wsdl:operation>".len();
        rest.replace_range(start..end, "");
    }
    (rest != text).then_some(rest)
}

/// Gives what was added to bindings the version of SOAP of what stands after it.
fn in_version(text: &str) -> String {
    let mut parts: Vec<String> = text.split("<wsdl:binding ").map(str::to_owned).collect();
    for part in &mut parts {
        let soap = if part.contains("<soap12:") { "soap12:" } else { "soap:" };
        *part = part.replace("SOAP:", soap);
    }
    parts.join("<wsdl:binding ")
}

/// A revision of a contract of the kind of that number, counted round; nothing if there is nothing to revise so.
pub fn revised(text: &str, number: usize) -> Option<String> {
    let start = number % KINDS.len();
    KINDS[start..].iter().chain(&KINDS[..start]).find_map(|(_, change)| change(text))
}

#[derive(Default)]
struct Counts {
    contracts: usize,
    pairs: BTreeMap<&'static str, usize>,
    verdicts: BTreeMap<&'static str, BTreeMap<&'static str, usize>>,
    unsound: BTreeMap<&'static str, String>,
    messages: usize,
    refused: usize,
    asked: usize,
    wrong: usize,
}

/// Compares random contracts with a revision of each kind, and has messages of the one taken by the other.
pub fn versions(count: usize, rng: &mut Rng) {
    let mut counts = Counts::default();
    while counts.contracts < count {
        let schema = Maker::new(rng).schema().to_text();
        let Some(alone) = load("s.xsd", &schema).filter(|alone| crate::judged(alone).is_none()) else {
            continue;
        };
        let (text, _) = crate::messages::contract(&schema, &alone.schemas, rng);
        let Some(old) = load("c.wsdl", &text).filter(is_sound) else { continue };
        counts.contracts += 1;
        for (kind, change) in KINDS {
            let Some(revised) = change(&text) else { continue };
            let Some(new) = load("c.wsdl", &revised) else { continue };
            if !is_sound(&new) {
                counts
                    .unsound
                    .entry(kind)
                    .or_insert_with(|| crate::judged(&new).map_or(String::new(), |it| it.1));
                continue;
            }
            *counts.pairs.entry(kind).or_default() += 1;
            let options =
                Options { reader: UnknownContent::Refused, open: OpenContent::Named, ..Options::default() };
            let report = compare_by(&old, &new, options);
            let verdict = counts.verdicts.entry(kind).or_default();
            *verdict.entry(report.verdict.name()).or_default() += 1;
            let pair = Versions { old: &old, new: &new, report: &report, kind, apart: false };
            pair.all(rng, &mut counts);
        }
    }
    report(&counts);
}

/// Compares random revisions with open content set apart; whether the other version takes all messages without such content of
/// what keeps, but for that.
pub fn apart(count: usize, rng: &mut Rng) -> bool {
    let mut counts = Counts::default();
    while counts.contracts < count {
        let seed = rng.u64(..);
        let Some(crate::alone::Revision { old, new, .. }) = crate::alone::revised(&mut Rng::with_seed(seed))
        else {
            continue;
        };
        if demands_open_content(&old) || demands_open_content(&new) {
            continue;
        }
        counts.contracts += 1;
        let options = Options { reader: UnknownContent::Refused, ..Options::default() };
        let report = compare_by(&old, &new, options);
        let (before, kind) = (counts.wrong, "several edits");
        Versions { old: &old, new: &new, report: &report, kind, apart: true }.all(rng, &mut counts);
        if counts.wrong > before {
            println!("  {seed}");
        }
    }
    println!(
        "{} revisions, {} messages without open content of what keeps but for that, {} sides refuse some",
        counts.contracts, counts.messages, counts.wrong
    );
    counts.wrong == 0
}

/// Whether a wildcard must be filled: then hardly a message is without open content.
fn demands_open_content(contract: &Contract) -> bool {
    let mut particles = contract.schemas.particles.iter();
    particles.any(|(_, it)| matches!(it.term, Term::Any(_)) && it.occurs.min > 0)
}

fn report(counts: &Counts) {
    println!(
        "{} contracts, {} pairs of {} kinds of changes",
        counts.contracts,
        counts.pairs.values().sum::<usize>(),
        counts.pairs.len()
    );
    for (kind, verdicts) in &counts.verdicts {
        println!("  {kind}: {verdicts:?}");
    }
    for (kind, why) in &counts.unsound {
        println!("  {kind} made an unsound contract: {why}");
    }
    println!("{} messages of what keeps, {} of them refused", counts.messages, counts.wrong);
    println!(
        "{} of {} sides that break have a message among a few that is refused",
        counts.refused, counts.asked
    );
}

fn load(name: &str, text: &str) -> Option<Contract> {
    Contract::load(&Overlay::of(&[(name, text)]), &Location::from_argument(name), Limits::default()).ok()
}

/// A type in document style is allowed by WSDL, and by no profile.
fn is_sound(contract: &Contract) -> bool {
    crate::judged(contract).is_none_or(|(rules, _)| rules.iter().all(|rule| *rule == "R2204"))
}

struct Versions<'v> {
    old: &'v Contract,
    new: &'v Contract,
    report: &'v Report,
    kind: &'static str,
    /// Whether open content is set apart: then messages without any are tried, and what differs in it alone does not count.
    apart: bool,
}

impl Versions<'_> {
    fn all(&self, rng: &mut Rng, counts: &mut Counts) {
        let (old, new) = (
            Engine::new(&self.old.files, &self.old.schemas),
            Engine::new(&self.new.files, &self.new.schemas),
        );
        let (before, after) = (Matcher::new(self.old, &old, 20), Matcher::new(self.new, &new, 20));
        self.sent((self.old, &old, &before), (self.new, &after), true, rng, counts);
        self.sent((self.new, &new, &after), (self.old, &before), false, rng, counts);
    }

    /// Sends messages of the one version to the other: requests of the old one, or what the new one answers.
    fn sent(
        &self,
        (from, engine, own): (&Contract, &Engine<'_>, &Matcher<'_>),
        (to, other): (&Contract, &Matcher<'_>),
        requests: bool,
        rng: &mut Rng,
        counts: &mut Counts,
    ) {
        for known in own.known().iter().filter(|known| (known.shape.side == Side::Input) == requests) {
            let shape = &known.shape;
            let pair = self
                .report
                .operation_pairs
                .iter()
                .find(|(old, new)| shape.operation == if requests { *old } else { *new });
            let Some((old, new)) = pair else { continue };
            let there = if requests { *new } else { *old };
            let side = from.side_name(shape.operation, shape.side);
            let verdict = self.verdict(&self.new.operation(*new).name.text, &side);
            // What is drawn at random may have anything where a wildcard lets it in.
            let drawn = if self.apart { 0 } else { 3 };
            let random = (0..drawn).map(|_| Size::Random(rng.u64(..)));
            let sizes = [Size::Least, Size::Typical].into_iter().chain(random);
            let mut refused = None;
            for size in sizes {
                let Ok(wire_content) = sample(engine, shape, size) else { break };
                let bytes = assemble(engine, shape, wire_content.clone(), &[]).http(from).to_bytes();
                // What must stand for a wildcard is open content all the same.
                if self.apart && String::from_utf8_lossy(&bytes).contains("urn:example:other") {
                    continue;
                }
                let captured = split("message", &bytes)[0].open();
                // What begins with a substitute may be taken for the message of another operation already.
                let is_own = |(operation, side): (OperationId, Side)| {
                    operation == shape.operation
                        && from.side_name(operation, side) == from.side_name(shape.operation, shape.side)
                };
                if self.apart && !own.operation(&own.judge(&captured)).is_some_and(is_own) {
                    continue;
                }
                let matched = other.judge(&captured);
                let first = matched.found.iter().find(|it| it.severity == Severity::Error);
                let as_paired = other.operation(&matched).is_some_and(|(operation, side_there)| {
                    operation == there && to.side_name(operation, side_there) == side
                });
                counts.messages += usize::from(verdict == Verdict::Keeps);
                if !matched.is_valid() || !as_paired {
                    refused =
                        Some(first.map_or("taken for another".to_owned(), |it| it.fault.message.clone()));
                }
            }
            match (verdict, refused) {
                (Verdict::Keeps, Some(why)) => {
                    counts.wrong += 1;
                    let operation = &from.operation(shape.operation).name.text;
                    println!("{}: {operation}/{side} keeps, but {why}", self.kind);
                }
                (Verdict::Breaks, why) => {
                    counts.asked += 1;
                    counts.refused += usize::from(why.is_some());
                }
                _ => {}
            }
        }
    }

    /// The worst of all changes that reach a side, or all sides.
    fn verdict(&self, operation: &str, side: &str) -> Verdict {
        let names = charter_compare::Versions { old: self.old, new: self.new };
        let is_here = |it: &&charter_compare::Touched| {
            names.operation_name(it.at) == operation && names.side_name(it.at) == side
        };
        let counting = self.report.changes.iter().filter(|change| !self.apart || change.open.is_none());
        let touched = counting.flat_map(|change| match change.operations.is_empty() {
            true => vec![change.verdict],
            false => change.operations.iter().filter(is_here).map(|it| it.verdict).collect(),
        });
        touched.max().unwrap_or(Verdict::Keeps)
    }
}
