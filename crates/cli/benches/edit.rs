//! What an edit costs, as a ratio to reading the same contract and finding out what is wrong with it.
//!
//! `cargo bench --bench edit` prints the medians.

mod common;

use std::hint::black_box;
use std::time::Duration;

use charter_author::{Editing, Renaming, add, remove, rename, set};
use charter_contract::{Component, Contract};
use charter_notation::Convention;
use charter_schema::Engine;
use charter_source::{Limits, Location, Nowhere, Overlay};

use common::{median, time};

fn main() {
    // `cargo test --benches` only wants to know that this runs.
    let quick = std::env::args().any(|argument| argument == "--test");
    let sizes: &[usize] = if quick { &[20] } else { &[1_000, 10_000] };
    println!("{:>10} {:>10} {:>16} {:>12} {:>8}", "operations", "bytes", "what", "median", "ratio");
    for &operations in sizes {
        let text = contract(operations);
        let store = store(&text);
        let rounds = if quick { 1 } else { 15 };
        // In turn, so that each finds memory as worn as the others do.
        let edits = edits();
        let mut times: Vec<Vec<Duration>> = vec![Vec::new(); edits.len() + 2];
        for _ in 0..rounds {
            times[0].push(time(|| {
                black_box(judged(&store));
            }));
            times[1].push(time(|| {
                black_box(load(&store));
            }));
            for (times, (_, edit)) in times[2..].iter_mut().zip(&edits) {
                times.push(time(|| {
                    let contract = load(&store);
                    edit(&contract, &store);
                }));
            }
        }
        let read = median(times[0].clone());
        let names = ["read and judge", "read"].into_iter().chain(edits.iter().map(|(name, _)| *name));
        for (what, times) in names.zip(times) {
            let median = median(times);
            let ratio = median.as_secs_f64() / read.as_secs_f64();
            println!("{operations:>10} {:>10} {what:>16} {median:>12.2?} {ratio:>8.2}", text.len());
        }
    }
}

type Edit = Box<dyn Fn(&Contract, &Overlay<Nowhere>)>;

fn edits() -> Vec<(&'static str, Edit)> {
    fn on(contract: &Contract, store: &Overlay<Nowhere>, act: impl FnOnce(Editing<'_>)) {
        act(Editing::of(contract, store, &Convention::default()));
    }
    vec![
        (
            "set a type",
            Box::new(|contract, store| {
                on(contract, store, |editing| {
                    let component = contract.find("element/op7/a").unwrap();
                    black_box(set(editing, component, &[("type", "token")]).unwrap());
                });
            }),
        ),
        (
            "add a type",
            Box::new(|contract, store| {
                on(contract, store, |editing| {
                    black_box(add(editing, Component::Contract, "type Quay { name: string }").unwrap());
                });
            }),
        ),
        (
            "add an operation",
            Box::new(|contract, store| {
                on(contract, store, |editing| {
                    let text = "operation moor { input { ship: string } output {} }";
                    black_box(add(editing, Component::Contract, text).unwrap());
                });
            }),
        ),
        (
            "remove one",
            Box::new(|contract, store| {
                on(contract, store, |editing| {
                    black_box(remove(editing, contract.find("operation/op7").unwrap(), false).unwrap());
                });
            }),
        ),
        (
            "rename one",
            Box::new(|contract, store| {
                on(contract, store, |editing| {
                    let renaming = Renaming { name: "moor", only: false };
                    black_box(rename(editing, contract.find("operation/op7").unwrap(), renaming).unwrap());
                });
            }),
        ),
    ]
}

fn location() -> Location {
    Location::Path("memory/bench.wsdl".into())
}

fn store(text: &str) -> Overlay<Nowhere> {
    let mut store = Overlay::of(&[]);
    store.put(&location(), text.as_bytes().to_vec());
    store
}

fn load(store: &Overlay<Nowhere>) -> Contract {
    Contract::load(store, &location(), Limits::default()).unwrap()
}

/// A contract as it is read to be judged: its components, and what is wrong with them.
fn judged(store: &Overlay<Nowhere>) -> usize {
    let contract = load(store);
    contract.faults().len() + Engine::new(&contract.files, &contract.schemas).judge().len()
}

/// A contract of many operations, each with an element for its request and one for its reply.
fn contract(operations: usize) -> String {
    let each = |write: &dyn Fn(usize) -> String| (0..operations).map(write).collect::<String>();
    format!(
        "<wsdl:definitions name=\"Port\" targetNamespace=\"urn:saltmere:port\" xmlns:tns=\"urn:saltmere:port\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/soap/\" xmlns:wsdl=\"http://schemas.xmlsoap.org/wsdl/\">
  <wsdl:types>
    <xs:schema targetNamespace=\"urn:saltmere:port\" elementFormDefault=\"qualified\">
{}    </xs:schema>
  </wsdl:types>
{}  <wsdl:portType name=\"Port\">
{}  </wsdl:portType>
  <wsdl:binding name=\"PortOverSoap11\" type=\"tns:Port\">
    <soap:binding style=\"document\" transport=\"http://schemas.xmlsoap.org/soap/http\"/>
{}  </wsdl:binding>
</wsdl:definitions>
",
        each(&|n| format!(
            "      <xs:element name=\"op{n}\">
        <xs:complexType>
          <xs:sequence>
            <xs:element name=\"a\" type=\"xs:string\"/>
            <xs:element name=\"b\" type=\"xs:int\" minOccurs=\"0\"/>
          </xs:sequence>
        </xs:complexType>
      </xs:element>
      <xs:element name=\"op{n}Response\" type=\"xs:string\"/>\n"
        )),
        each(&|n| format!(
            "  <wsdl:message name=\"op{n}Input\">
    <wsdl:part name=\"parameters\" element=\"tns:op{n}\"/>
  </wsdl:message>
  <wsdl:message name=\"op{n}Output\">
    <wsdl:part name=\"parameters\" element=\"tns:op{n}Response\"/>
  </wsdl:message>\n"
        )),
        each(&|n| format!(
            "    <wsdl:operation name=\"op{n}\">
      <wsdl:input message=\"tns:op{n}Input\"/>
      <wsdl:output message=\"tns:op{n}Output\"/>
    </wsdl:operation>\n"
        )),
        each(&|n| format!(
            "    <wsdl:operation name=\"op{n}\">
      <soap:operation soapAction=\"urn:saltmere:port:op{n}\"/>
      <wsdl:input>
        <soap:body use=\"literal\"/>
      </wsdl:input>
      <wsdl:output>
        <soap:body use=\"literal\"/>
      </wsdl:output>
    </wsdl:operation>\n"
        )),
    )
}
