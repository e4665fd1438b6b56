//! What a session loads, and what it says where it cannot.

use charter_contract::DocumentKind;
use charter_session::{Failure, Loaded, Options, Session, Spot, find, is_contract};
use charter_source::{Location, Store};

use crate::shared::{CONTRACT, Folder, failed, schema, session};

#[test]
fn a_contract_comes_with_what_it_imports() {
    let folder = Folder::with_contract();
    let loaded = session().open(&folder.name("tides.wsdl")).unwrap();
    assert_eq!(loaded.contract().files.iter().count(), 2);
    assert_eq!(loaded.contract().kind(), DocumentKind::Contract);
    assert!(loaded.settings().folder.is_none());
    let (id, _) = loaded.contract().schemas.elements.iter().next().unwrap();
    let ty = loaded.contract().schemas.element_type(id);
    assert_eq!(loaded.engine().datatype(ty).unwrap().builtin().unwrap().name(), "decimal");
}

#[test]
fn a_loaded_contract_goes_where_it_is_needed() {
    let folder = Folder::with_contract();
    let loaded = session().open(&folder.name("tides.wsdl")).unwrap();
    let handed_on: Vec<Loaded> = vec![loaded];
    let in_thread = std::thread::spawn(move || handed_on[0].contract().operations().count());
    assert_eq!(in_thread.join().unwrap(), 1);
}

#[test]
fn what_is_no_contract_says_what_it_is() {
    let folder = Folder::with_contract();
    folder.write("letter.xml", "<letter/>");
    folder.write("torn.wsdl", "<wsdl:definitions");
    folder.write("desk.charter", "contract Desk \"urn:saltmere:desk:1\" { }");
    let session = session();
    let said = |failure: Failure| (failure.message, failure.help.unwrap_or_default());
    let (message, help) = said(failed(session.contract(&folder.name("tide.xsd"))));
    assert_eq!(
        (&*message, &*help),
        ("this is an XML Schema, not a contract", "give the WSDL file that imports it")
    );
    let (message, help) = said(failed(session.files(&folder.name("desk.charter"))));
    assert_eq!(message, "this is notation; a contract is wanted");
    assert!(help.starts_with("write the contract: charter new --from"), "{help}");
    assert!(session.load(&folder.name("letter.xml")).is_ok());
    for name in ["letter.xml", "torn.wsdl"] {
        let failure = failed(session.readable(&folder.name(name)));
        assert_eq!(failure.place.unwrap().position.map(|it| it.line), Some(1), "{name}");
    }
    let (message, help) = said(failed(session.readable(&folder.name("nothing.wsdl"))));
    assert_eq!((&*message, &*help), ("there is no such file", "check the path; - reads standard input"));
    assert!(is_contract(&session.load(&folder.name("tides.wsdl")).unwrap()).is_ok());
}

#[test]
fn components_are_found_by_their_paths() {
    let folder = Folder::with_contract();
    let contract = session().contract(&folder.name("tides.wsdl")).unwrap();
    assert!(find(&contract, "contract").is_ok() && find(&contract, "operation/nextTide").is_ok());
    let help = |path: &str| failed(find(&contract, path)).help.unwrap();
    assert_eq!(help("operation/nextTied"), "did you mean \"operation/nextTide\"?");
    assert!(help("operation/zzzzzz").starts_with("charter show "));
    assert!(help("nextTide").contains("write it like type/Vessel"));
}

#[test]
fn catalogs_lead_to_files() {
    let folder = Folder::empty();
    folder.write("tides.wsdl", CONTRACT.replace("tide.xsd", "https://saltmere.example/tide.xsd"));
    folder.write("local.xsd", schema("tide", "int"));
    let catalog = folder.write(
        "catalog.xml",
        "<catalog xmlns='urn:oasis:names:tc:entity:xmlns:xml:catalog'><uri name='https://saltmere.example/tide.xsd' uri='local.xsd'/></catalog>",
    );
    let missed = |session: &Session| {
        let contract = session.contract(&folder.name("tides.wsdl")).unwrap();
        contract.files.imports().iter().filter(|import| import.target.is_none()).count()
    };
    assert_eq!(missed(&session()), 1);
    let options = Options { catalogs: vec![catalog], ..Options::default() };
    assert_eq!(missed(&Session::begin(&options).unwrap()), 0);
    let broken = folder.write("broken.xml", "<catalog");
    let failure = failed(Session::begin(&Options { catalogs: vec![broken], ..Options::default() }));
    assert_eq!(failure.place.unwrap().position.unwrap().line, 1);
    let gone = folder.path("gone.xml");
    let failure = failed(Session::begin(&Options { catalogs: vec![gone], ..Options::default() }));
    assert!(failure.help.unwrap().contains("--catalog"));
}

#[test]
fn the_network_is_left_alone_unless_it_is_allowed() {
    let location = Location::Remote("http://127.0.0.1:9/tide.xsd".to_owned());
    let error = session().store.read(&location, 100).unwrap_err();
    assert!(matches!(error, charter_source::ReadError::Remote));
    let session = Session::begin(&Options { online: true, ..Options::default() }).unwrap();
    let error = session.store.read(&location, 100).unwrap_err();
    assert!(matches!(error, charter_source::ReadError::Network(_)), "{error}");
    let other = Location::Remote("ftp://127.0.0.1/tide.xsd".to_owned());
    assert!(session.store.read(&other, 100).unwrap_err().to_string().contains("http: or https:"));
}

#[test]
fn what_is_too_large_is_not_read() {
    let folder = Folder::empty();
    folder.write("large.xsd", format!("{}{}", schema("tide", "int"), " ".repeat(2 << 20)));
    let session = Session::begin(&Options { size_limit: Some(1), ..Options::default() }).unwrap();
    assert_eq!(session.limits().bytes, 1 << 20);
    let failure = failed(session.load(&folder.name("large.xsd")));
    assert!(failure.help.unwrap().contains("--size-limit"));
}

#[test]
fn an_edit_is_made_on_what_was_opened_and_nobody_else_edits_meanwhile() {
    let folder = Folder::with_contract();
    let file = folder.name("tides.wsdl");
    let first = session();
    let opened = first.edit(&file, true).unwrap();
    let component = find(&opened.contract, "operation/nextTide").unwrap();
    let change = charter_author::rename(
        opened.editing(false),
        component,
        charter_author::Renaming { name: "nextHighTide", only: false },
    )
    .unwrap();
    assert!(opened.notation.is_none() && !change.files.is_empty());
    // Who only looks is not kept waiting.
    let second = session();
    assert!(second.edit(&file, false).is_ok() && second.contract(&file).is_ok());
    let failure = failed(second.edit(&file, true));
    assert_eq!(failure.message, "somebody else is editing here");
    let (change, contract) = opened.into_change(change, None).unwrap();
    assert!(contract.is_some());
    charter_session::files::replace(&first.writers, &change.files).unwrap();
    first.writers.leave();
    let renamed = second.edit(&file, true).unwrap();
    assert!(find(&renamed.contract, "operation/nextHighTide").is_ok());
}

#[test]
fn notation_is_edited_as_the_contract_that_it_stands_for() {
    let folder = Folder::empty();
    let text = "# Tides of Saltmere.\ncontract Tides \"urn:saltmere:tides:1\" {\n  operation nextTide {\n    input { day: date }\n    output { height: decimal }\n  }\n}\n";
    folder.write("tides.charter", text);
    let session = session();
    let opened = session.edit(&folder.name("tides.charter"), true).unwrap();
    assert_eq!(opened.notation.as_ref().unwrap().text(), text);
    let component = find(&opened.contract, "operation/nextTide").unwrap();
    let change = charter_author::rename(
        opened.editing(false),
        component,
        charter_author::Renaming { name: "nextHighTide", only: false },
    )
    .unwrap();
    let (change, contract) = opened.into_change(change, None).unwrap();
    assert!(contract.is_none());
    assert_eq!(change.files[0].after.text(), text.replace("nextTide", "nextHighTide"));
    folder.write("torn.charter", "contract Tides \"urn:saltmere:tides:1\" {\n  type = 4\n}\n");
    let failure = failed(session.edit(&folder.name("torn.charter"), true));
    let slips = failure.slips.expect("what is wrong in the text");
    assert!(slips.name.ends_with("torn.charter") && !slips.errors.is_empty());
}

#[test]
fn places_are_shown_by_file_line_and_column() {
    let folder = Folder::with_contract();
    let contract = session().contract(&folder.name("tides.wsdl")).unwrap();
    let (_, operation) = contract.operations().next().unwrap();
    let spot = Spot::of(&contract, operation.place);
    assert_eq!(spot.position.unwrap().line, 9);
    assert!(spot.to_string().ends_with("tides.wsdl:9:5"), "{spot}");
    assert_eq!(Spot::within("a", "one\ntwo", 5).to_string(), "a:2:2");
    assert_eq!(Spot::from("a").to_string(), "a");
}
