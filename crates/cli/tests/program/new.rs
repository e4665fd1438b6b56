use crate::folder::Folder;

#[test]
fn a_new_contract_is_valid_at_once() {
    let folder = Folder::empty();
    folder
        .run("new Berths --namespace urn:saltmere:berths:1 --operation assignBerth --operation freeBerth -o berths.wsdl")
        .ends(0);
    folder.run("check berths.wsdl").ends(0).says("berths.wsdl: no findings");
    let shown = folder.run("show berths.wsdl").ends(0);
    // All names follow the convention, so none but those given are said.
    assert_eq!(
        shown.out,
        r#"contract Berths "urn:saltmere:berths:1" {
  operation assignBerth {
    input {}
    output {}
  }

  operation freeBerth {
    input {}
    output {}
  }

  binding BerthsSoap = soap 1.1 document literal

  service BerthsService {
    port BerthsPort = BerthsSoap at "http://localhost:8080/berths"
  }
}
"#
    );
    folder.run("message berths.wsdl freeBerth").ends(0).says("<freeBerth xmlns=\"urn:saltmere:berths:1\"/>");
}

#[test]
fn without_operations_there_is_one_and_without_a_file_it_is_printed() {
    let folder = Folder::empty();
    let text = folder.run("new Berths --namespace http://saltmere.example/berths").ends(0).out;
    assert!(text.contains("soapAction=\"http://saltmere.example/berths/requestBerths\""), "{text}");
    folder.run_with("check -", text.as_bytes(), &[]).ends(0);
    assert_eq!(folder.run("new Berths --namespace http://saltmere.example/berths -o -").ends(0).out, text);
    assert!(!folder.path("-").exists());
}

#[test]
fn a_dry_run_writes_nothing() {
    let folder = Folder::empty();
    folder
        .run("new Berths --namespace urn:saltmere:berths:1 -o berths.wsdl --dry-run")
        .ends(0)
        .says("+++ berths.wsdl");
    assert!(!folder.path("berths.wsdl").exists());
}

#[test]
fn an_existing_file_is_left_alone() {
    let folder = Folder::empty();
    folder.write("berths.wsdl", "mine");
    folder
        .run("new Berths --namespace urn:saltmere:berths:1 -o berths.wsdl")
        .ends(2)
        .complains("there is such a file already");
    assert_eq!(folder.read("berths.wsdl"), "mine");
}

#[test]
fn names_and_namespaces_are_looked_at() {
    let folder = Folder::empty();
    folder
        .run("new 2Berths --namespace urn:saltmere:berths:1")
        .ends(2)
        .complains("\"2Berths\" is not a name");
    folder.run("new Berths --namespace berths").ends(2).complains("\"berths\" is not a namespace");
    folder
        .run("new Berths --namespace urn:a:b --operation free --operation free")
        .ends(2)
        .complains("the operation \"free\" is given twice");
    folder
        .run("new Berths --namespace urn:a:b -o gone/berths.wsdl")
        .ends(2)
        .complains("could not be written");
}

#[test]
fn json_holds_the_text() {
    let folder = Folder::empty();
    let run = folder.run("new Berths --namespace urn:saltmere:berths:1 -o b.wsdl --format json").ends(0);
    assert_eq!(run.json()["text"].as_str().unwrap(), folder.read("b.wsdl"));
    assert_eq!(run.json()["written"], true);
}
