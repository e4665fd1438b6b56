//! Messages of random contracts: every operation, side, port and size. Each must match the side that it was made for, give
//! its values and be made of them again, and each hostile one must be refused by the rule that it breaks. What fills
//! them is written out, so that another validator can judge it.

use std::collections::BTreeMap;
use std::path::Path;

use charter_contract::{Contract, WireElement, WireShape};
use charter_message::captured::split;
use charter_message::matching::{Matcher, Severity};
use charter_message::{Size, WireContent, assemble, hostile, sample, values};
use charter_schema::sample::to_document;
use charter_schema::{Engine, Schemas};
use charter_source::{Disk, Limits, Location};
use fastrand::Rng;

use crate::oracle::{self, Question};
use crate::schemas::Maker;

/// What was counted.
#[derive(Default)]
struct Counts {
    contracts: usize,
    shapes: usize,
    messages: usize,
    hostile: usize,
    without: usize,
    /// Exchanges over HTTP.
    exchanges: u64,
    /// Those whose request or reply no values can make.
    impossible: u64,
    /// What went wrong, by kind, with an example.
    wrong: BTreeMap<&'static str, (usize, Vec<String>)>,
}

impl Counts {
    fn wrong(&mut self, kind: &'static str, example: String) {
        let (times, examples) = self.wrong.entry(kind).or_default();
        *times += 1;
        // Those of one contract are mostly alike.
        let of = example.split(' ').next().unwrap_or("");
        if examples.len() < MOST_EXAMPLES && examples.iter().all(|known| !known.starts_with(of)) {
            examples.push(example);
        }
    }
}

/// Examples that are shown of a kind.
const MOST_EXAMPLES: usize = 6;
/// Seeds for each shape.
const SEEDS: u64 = 20;

/// Who judges beside us.
pub struct Others<'o> {
    /// Another validator.
    pub oracle: Option<&'o Path>,
    /// The program, which sends and answers.
    pub program: Option<&'o Path>,
}

pub fn messages(count: usize, rng: &mut Rng, folder: &Path, others: &Others<'_>) -> std::io::Result<()> {
    std::fs::create_dir_all(folder)?;
    let mut counts = Counts::default();
    let mut questions = Vec::new();
    let mut number = 0;
    // Some of the schemas are not sound.
    while counts.contracts < count && number < 20 * count {
        number += 1;
        let schema = Maker::new(rng).schema().to_text();
        let name = format!("m{number}.xsd");
        std::fs::write(folder.join(&name), &schema)?;
        let load = |name: &str| {
            Contract::load(&Disk, &Location::Path(folder.join(name)), Limits::default())
                .map_err(std::io::Error::other)
        };
        let alone = load(&name)?;
        if crate::judged(&alone).is_some() {
            continue;
        }
        let file = format!("m{number}.wsdl");
        let (text, parts) = contract(&schema, &alone.schemas, rng);
        std::fs::write(folder.join(&file), text)?;
        let target = alone.files.first().root().and_then(|root| root.attribute("targetNamespace"));
        std::fs::write(folder.join(format!("p{number}.xsd")), parts_schema(&parts, &name, target))?;
        let contract = load(&file)?;
        // A type in document style is allowed by WSDL, and by no profile.
        if let Some((rules, words)) = crate::judged(&contract)
            && rules.iter().any(|rule| *rule != "R2204")
        {
            counts.wrong("contract with errors", format!("{file}: {words}"));
            continue;
        }
        counts.contracts += 1;
        one(&contract, number, folder, &mut counts, &mut questions, rng)?;
        if let Some(program) = others.program {
            rehearsed(program, folder, &file, &mut counts)?;
        }
    }
    println!(
        "{} contracts, {} shapes, {} messages, {} hostile messages",
        counts.contracts, counts.shapes, counts.messages, counts.hostile
    );
    if others.program.is_some() {
        println!(
            "{} exchanges over HTTP, {} whose message is impossible",
            counts.exchanges, counts.impossible
        );
    }
    println!("{} shapes have no message of bearable size in some size", counts.without);
    for (kind, (times, examples)) in &counts.wrong {
        println!("{times} x {kind}:");
        examples.iter().for_each(|example| println!("    {example}"));
    }
    if let Some(oracle) = others.oracle {
        let answers = oracle::ask(oracle, folder, &questions)?;
        let mut kinds: BTreeMap<String, (usize, String)> = BTreeMap::new();
        let mut valid = 0;
        for (question, answer) in questions.iter().zip(&answers) {
            let Some(answer) = answer else {
                valid += 1;
                continue;
            };
            let kind: String = answer.chars().filter(|c| !c.is_ascii_digit()).take(90).collect();
            let example =
                format!("{} {}: {answer}", question.schema, question.message.as_deref().unwrap_or(""));
            kinds.entry(kind).or_insert((0, example)).0 += 1;
        }
        println!("{valid} of {} contents are valid for the other validator", questions.len());
        for (times, example) in kinds.values() {
            println!("{times} x {example}");
        }
    }
    Ok(())
}

/// What is said where no message can be valid: of a request, and of a reply.
const IMPOSSIBLE: [&str; 2] = ["the request cannot be made: ", "no reply can be made by the contract: "];

/// Has the program send a request of each operation by each port to a stand-in, and judge both sides.
fn rehearsed(program: &Path, folder: &Path, file: &str, counts: &mut Counts) -> std::io::Result<()> {
    let words = ["rehearse", file, "--format", "json"];
    let done = std::process::Command::new(program).args(words).current_dir(folder).output()?;
    let said: serde_json::Value = serde_json::from_slice(&done.stdout).unwrap_or_default();
    let exchanges = said["exchanges"].as_array().cloned().unwrap_or_default();
    if exchanges.is_empty() {
        let words = String::from_utf8_lossy(&done.stderr).trim().replace('\n', " ");
        counts.wrong("contract that cannot be rehearsed", format!("{file} {words}"));
    }
    for exchange in exchanges {
        let words = exchange["unlike"][0]["message"].as_str().unwrap_or_default();
        // Types that no message can have are found among random ones; both sides say so.
        if IMPOSSIBLE.iter().any(|impossible| words.contains(impossible)) {
            counts.impossible += 1;
            continue;
        }
        counts.exchanges += 1;
        if exchange["right"] != true {
            counts.wrong("exchange that differs", format!("{file} {}: {words}", exchange["name"]));
        }
    }
    Ok(())
}

fn one(
    contract: &Contract,
    number: usize,
    folder: &Path,
    counts: &mut Counts,
    questions: &mut Vec<Question>,
    rng: &mut Rng,
) -> std::io::Result<()> {
    let engine = Engine::new(&contract.files, &contract.schemas);
    let matcher = Matcher::new(contract, &engine, 20);
    for (at, known) in matcher.known().iter().enumerate() {
        counts.shapes += 1;
        let shape = &known.shape;
        let sizes = [Size::Least, Size::Typical, Size::Most].into_iter();
        for (turn, size) in sizes.chain((0..SEEDS).map(|_| Size::Random(rng.u64(..)))).enumerate() {
            let Ok(wire_content) = sample(&engine, shape, size) else {
                counts.without += 1;
                break;
            };
            counts.messages += 1;
            let name = format!(
                "m{number} {}/{} {size:?}",
                contract.operation(shape.operation).name.text,
                contract.side_name(shape.operation, shape.side)
            );
            judge(contract, &engine, &matcher, shape, &wire_content, &name, counts);
            write_out(contract, shape, &wire_content, (number, at, turn), folder, questions)?;
        }
        refused(contract, &engine, &matcher, shape, number, counts);
    }
    Ok(())
}

/// Whether a message matches what it was made for, and goes into values and back.
fn judge(
    contract: &Contract,
    engine: &Engine<'_>,
    matcher: &Matcher<'_>,
    shape: &WireShape,
    wire_content: &WireContent,
    name: &str,
    counts: &mut Counts,
) {
    let message = assemble(engine, shape, wire_content.clone(), &[]);
    let bytes = message.http(contract).to_bytes();
    let captured = split("message", &bytes)[0].open();
    let matched = matcher.judge(&captured);
    if !matched.is_valid() {
        let first = matched.found.iter().find(|it| it.severity == Severity::Error);
        let words = first.map_or(String::new(), |it| format!("{}: {}", it.path, it.fault.message));
        counts.wrong("refused", format!("{name}: {words}"));
    } else if matcher.operation(&matched) != Some((shape.operation, shape.side)) {
        counts.wrong("taken for another", name.to_owned());
    } else if let Some(back) = matcher.wire_content(&captured, &matched) {
        let given = values::write(engine, shape, wire_content);
        let taken = values::write(engine, &matcher.known()[matched.shape.unwrap_or(0)].shape, &back);
        if given != taken {
            counts.wrong("other values from the wire", format!("{name}: {given} / {taken}"));
        }
    } else if shape.soap().is_some() {
        counts.wrong("no values from the wire", name.to_owned());
    }
    let given = values::write(engine, shape, wire_content);
    match values::read(engine, shape, &given) {
        Ok(again) => {
            let back = values::write(engine, shape, &again);
            if back != given {
                counts.wrong("other values", format!("{name}: {given} / {back}"));
            }
        }
        Err(errors) => counts.wrong("values refused", format!("{name}: {} in {given}", errors[0])),
    }
}

/// Whether every hostile message is refused, for its own reason.
fn refused(
    contract: &Contract,
    engine: &Engine<'_>,
    matcher: &Matcher<'_>,
    shape: &WireShape,
    number: usize,
    counts: &mut Counts,
) {
    for it in hostile(engine, shape, &[]).unwrap_or_default() {
        counts.hostile += 1;
        let bytes = it.message.http(contract).to_bytes();
        let captured = split("hostile", &bytes)[0].open();
        let matched = matcher.judge(&captured);
        let rules: Vec<&str> = matched
            .found
            .iter()
            .filter(|it| it.severity == Severity::Error)
            .map(|it| it.fault.rule)
            .collect();
        if matched.errors != 1 || rules != [it.rule] {
            let operation = &contract.operation(shape.operation).name.text;
            counts.wrong(
                "hostile, and not refused for its reason",
                format!("m{number} {operation} {} ({}): {rules:?}", it.rule, it.words),
            );
        }
    }
}

/// Writes the literal contents for another validator, each as a document of its own.
fn write_out(
    contract: &Contract,
    shape: &WireShape,
    wire_content: &WireContent,
    (number, at, turn): (usize, usize, usize),
    folder: &Path,
    questions: &mut Vec<Question>,
) -> std::io::Result<()> {
    for (index, (content, element)) in shape.contents().iter().zip(&wire_content.elements).enumerate() {
        if shape.is_encoded(index) || element.name.local.is_empty() {
            continue;
        }
        let schema = match content {
            WireElement::Declared(id) if contract.schemas.is_known(contract.schemas.elements[*id].place) => {
                continue;
            }
            WireElement::Declared(_) => format!("m{number}.xsd"),
            WireElement::Typed { name, .. } if name.local.starts_with('p') => format!("p{number}.xsd"),
            WireElement::Typed { .. } => continue,
        };
        let name = format!("m{number}-{at}-{turn}-{index}.xml");
        std::fs::write(folder.join(&name), to_document(element))?;
        questions.push(Question { schema, message: Some(name) });
    }
    Ok(())
}

/// A schema that declares an element for each typed part.
fn parts_schema(parts: &[(String, String)], schema: &str, target: Option<&str>) -> String {
    let (of, import) = match target {
        Some(target) => (
            format!(" xmlns:t=\"{target}\""),
            format!("<xs:import namespace=\"{target}\" schemaLocation=\"{schema}\"/>"),
        ),
        None => (String::new(), format!("<xs:include schemaLocation=\"{schema}\"/>")),
    };
    let elements: String =
        parts.iter().map(|(name, ty)| format!("<xs:element name=\"{name}\" type=\"{ty}\"/>\n")).collect();
    format!("<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"{of}>{import}\n{elements}</xs:schema>\n")
}

/// A contract around a schema, and its typed parts: document and rpc, literal and encoded, both versions of SOAP, plain
/// HTTP, multipart.
pub fn contract(schema: &str, schemas: &Schemas, rng: &mut Rng) -> (String, Vec<(String, String)>) {
    let target = schema.contains("targetNamespace");
    let name = |local: &str| if target { format!("t:{local}") } else { local.to_owned() };
    let mut elements: Vec<String> = schemas
        .element_names()
        .filter(|name| {
            schemas.element_named(name).is_some_and(|id| {
                !schemas.is_known(schemas.elements[id].place) && !schemas.elements[id].is_abstract
            })
        })
        .map(|it| it.local.to_string())
        .collect();
    elements.sort_unstable();
    rng.shuffle(&mut elements);
    elements.truncate(4);
    let mut types: Vec<(String, bool)> = schemas
        .own_types()
        .filter_map(|(id, ty)| Some((ty.name.as_ref()?.local.to_string(), schemas.complex(id).is_none())))
        .collect();
    types.sort_unstable();
    rng.shuffle(&mut types);
    types.truncate(4);
    let mut parts: Vec<(String, String)> =
        types.iter().enumerate().map(|(n, (ty, _))| (format!("p{n}"), name(ty))).collect();
    parts.push(("pn".to_owned(), "xs:int".to_owned()));
    let mut simple: Vec<(String, String)> =
        parts.iter().zip(&types).filter(|(_, (_, simple))| *simple).map(|(part, _)| part.clone()).collect();
    simple.push(("pn".to_owned(), "xs:int".to_owned()));
    let typed = |parts: &[(String, String)]| -> String {
        parts.iter().map(|(name, ty)| format!("<part name=\"{name}\" type=\"{ty}\"/>")).collect()
    };
    let mut messages = format!(
        "<message name=\"rpc\">{}</message>\n<message name=\"fields\">{}</message>\n<message name=\"one\"><part name=\"only\" type=\"{}\"/></message>\n",
        typed(&parts),
        typed(&simple),
        parts[0].1
    );
    let (mut doc, mut doc_bound, mut mime, mut mime_bound) =
        (String::new(), String::new(), String::new(), String::new());
    for (n, element) in elements.iter().enumerate() {
        let other = &elements[(n + 1) % elements.len()];
        messages.push_str(&format!(
            "<message name=\"in{n}\"><part name=\"body\" element=\"{0}\"/><part name=\"head\" element=\"{1}\"/><part name=\"file\" type=\"xs:base64Binary\"/></message>\n<message name=\"out{n}\"><part name=\"body\" element=\"{1}\"/></message>\n",
            name(element),
            name(other)
        ));
        doc.push_str(&format!(
            "<operation name=\"d{n}\"><input message=\"w:in{n}\"/><output message=\"w:out{n}\"/><fault name=\"f\" message=\"w:out{n}\"/></operation>\n"
        ));
        mime.push_str(&format!("<operation name=\"m{n}\"><input message=\"w:in{n}\"/></operation>\n"));
        doc_bound.push_str(&format!(
            "<operation name=\"d{n}\"><SOAP:operation soapAction=\"urn:w:d{n}\"/><input><SOAP:header message=\"w:in{n}\" part=\"head\" use=\"literal\"/><SOAP:body parts=\"body\" use=\"literal\"/></input><output><SOAP:body use=\"literal\"/></output><fault name=\"f\"><SOAP:fault name=\"f\" use=\"literal\"/></fault></operation>\n"
        ));
        mime_bound.push_str(&format!(
            "<operation name=\"m{n}\"><SOAP:operation soapAction=\"urn:w:m{n}\"/><input><mime:multipartRelated><mime:part><SOAP:body parts=\"body\" use=\"literal\"/></mime:part><mime:part><mime:content part=\"file\" type=\"image/png\"/></mime:part></mime:multipartRelated></input></operation>\n"
        ));
    }
    let rpc_bound = |name: &str, kind: &str| {
        format!(
            "<operation name=\"{name}\"><SOAP:operation soapAction=\"urn:w:{name}\"/><input><SOAP:body use=\"{kind}\" namespace=\"urn:w\"/></input><output><SOAP:body use=\"{kind}\" namespace=\"urn:w\"/></output></operation>\n"
        )
    };
    let path: String = simple.iter().map(|(name, _)| format!("/{name}/({name})")).collect();
    let of_http = |content: &str, location: &str| {
        format!(
            "<operation name=\"ask\"><http:operation location=\"{location}\"/><input>{content}</input><output><mime:mimeXml part=\"body\"/></output></operation>\n"
        )
    };
    let one = "<operation name=\"content\"><SOAP:operation soapAction=\"urn:w:content\"/><input><SOAP:body use=\"literal\"/></input></operation>\n";
    let mut bindings = String::new();
    let mut services = String::new();
    let mut bind = |name: &str, port_type: &str, protocol: &str, inner: &str, address: &str| {
        bindings.push_str(&format!(
            "<binding name=\"{name}\" type=\"w:{port_type}\">{protocol}\n{inner}</binding>\n"
        ));
        services.push_str(&format!("<port name=\"{name}Port\" binding=\"w:{name}\"><{address}:address location=\"http://w.saltmere.example/{name}\"/></port>\n"));
    };
    for (version, soap) in [("11", "soap"), ("12", "soap12")] {
        let protocol = |style: &str| {
            format!("<{soap}:binding style=\"{style}\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>")
        };
        let with = |text: &str| text.replace("SOAP:", &format!("{soap}:"));
        bind(&format!("D{version}"), "Doc", &protocol("document"), &with(&doc_bound), soap);
        bind(&format!("M{version}"), "Mime", &protocol("document"), &with(&mime_bound), soap);
        bind(&format!("R{version}"), "Rpc", &protocol("rpc"), &with(&rpc_bound("call", "literal")), soap);
        bind(&format!("E{version}"), "Coded", &protocol("rpc"), &with(&rpc_bound("code", "encoded")), soap);
        bind(&format!("O{version}"), "One", &protocol("document"), &with(one), soap);
    }
    bind("Get", "Ask", "<http:binding verb=\"GET\"/>", &of_http("<http:urlEncoded/>", "ask"), "http");
    bind(
        "Path",
        "Ask",
        "<http:binding verb=\"GET\"/>",
        &of_http("<http:urlReplacement/>", path.trim_start_matches('/')),
        "http",
    );
    bind(
        "Form",
        "Ask",
        "<http:binding verb=\"POST\"/>",
        &of_http("<mime:content type=\"application/x-www-form-urlencoded\"/>", "form"),
        "http",
    );
    let (before, after) = whole_text(target, &messages, (&doc, &mime), &bindings, &services);
    let bare = schema.trim_start_matches(|c| c != '<');
    let bare = bare.split_once("?>").map_or(bare, |(_, rest)| rest);
    (format!("{before}{bare}{after}"), parts)
}

/// The text before and after the schema.
fn whole_text(
    target: bool,
    messages: &str,
    (doc, mime): (&str, &str),
    bindings: &str,
    services: &str,
) -> (String, String) {
    let declared = if target { " xmlns:t=\"urn:t\"" } else { "" };
    let before = format!(
        "<definitions xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\" xmlns:w=\"urn:w\" targetNamespace=\"urn:w\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"{declared} xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/soap/\" xmlns:soap12=\"http://schemas.xmlsoap.org/wsdl/soap12/\" xmlns:http=\"http://schemas.xmlsoap.org/wsdl/http/\" xmlns:mime=\"http://schemas.xmlsoap.org/wsdl/mime/\">\n<types>"
    );
    let after = format!(
        "</types>
{messages}<portType name=\"Doc\">
{doc}</portType>
<portType name=\"Mime\">
{mime}</portType>
<portType name=\"Rpc\"><operation name=\"call\"><input message=\"w:rpc\"/><output message=\"w:rpc\"/></operation></portType>
<portType name=\"Coded\"><operation name=\"code\"><input message=\"w:rpc\"/><output message=\"w:rpc\"/></operation></portType>
<portType name=\"One\"><operation name=\"content\"><input message=\"w:one\"/></operation></portType>
<portType name=\"Ask\"><operation name=\"ask\"><input message=\"w:fields\"/><output message=\"w:out0\"/></operation></portType>
{bindings}<service name=\"W\">
{services}</service>
</definitions>
"
    );
    let words = [
        "definitions",
        "types",
        "message",
        "part",
        "portType",
        "operation",
        "input",
        "output",
        "fault",
        "binding",
        "service",
        "port",
    ];
    let prefixed = |text: String| {
        words.iter().fold(text, |text, word| {
            let text = text
                .replace(&format!("<{word} "), &format!("<wsdl:{word} "))
                .replace(&format!("<{word}>"), &format!("<wsdl:{word}>"));
            text.replace(&format!("</{word}>"), &format!("</wsdl:{word}>"))
        })
    };
    (prefixed(before), prefixed(after))
}
