use crate::program::folder::Folder;

#[test]
fn a_new_contract_is_valid_at_once() {
    let folder = Folder::empty();
    folder
        .run("new Berths --namespace urn:saltmere:berths:1 --operation assignBerth --operation freeBerth -o berths.wsdl")
        .ends(0);
    // What nobody has settled yet is where the service will be.
    folder.run("check berths.wsdl").ends(0).says("berths.wsdl: 1 warning").says("address-localhost");
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

  binding BerthsOverSoap11 = soap 1.1 document literal

  service BerthsService {
    port BerthsPort = BerthsOverSoap11 at "http://localhost:8080/berths"
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

/// A contract laid out unlike our own: tabs, single quotes, one line for the root, no blank lines, no prefix for WSDL.
const HOUSE: &str = r#"<?xml version="1.0" encoding="UTF-8"?>
<definitions name='Tides' targetNamespace='urn:saltmere:tides:1' xmlns='http://schemas.xmlsoap.org/wsdl/' xmlns:t='urn:saltmere:tides:1' xmlns:xsd='http://www.w3.org/2001/XMLSchema' xmlns:s='http://schemas.xmlsoap.org/wsdl/soap/'>
	<types>
		<xsd:schema targetNamespace='urn:saltmere:tides:1' elementFormDefault='qualified'>
			<xsd:complexType name='Gauge'>
				<xsd:sequence>
					<xsd:element name='name' type='xsd:string'/>
				</xsd:sequence>
			</xsd:complexType>
			<xsd:element name='nextTide' type='t:Gauge'/>
			<xsd:element name='nextTideResponse' type='xsd:date'/>
			<xsd:element name='credentials' type='xsd:string'/>
		</xsd:schema>
	</types>
	<message name='nextTideInput'>
		<part name='parameters' element='t:nextTide'/>
	</message>
	<message name='nextTideOutput'>
		<part name='parameters' element='t:nextTideResponse'/>
	</message>
	<message name='CredentialsHeader'>
		<part name='credentials' element='t:credentials'/>
	</message>
	<portType name='TidesPortType'>
		<operation name='nextTide'>
			<input message='t:nextTideInput'/>
			<output message='t:nextTideOutput'/>
		</operation>
	</portType>
	<binding name='TidesOverSoap11' type='t:TidesPortType'>
		<s:binding style='document' transport='http://schemas.xmlsoap.org/soap/http'/>
		<operation name='nextTide'>
			<s:operation soapAction='urn:saltmere:tides:1:nextTide'/>
			<input>
				<s:body use='literal'/>
				<s:header message='t:CredentialsHeader' part='credentials' use='literal'/>
			</input>
			<output>
				<s:body use='literal'/>
			</output>
		</operation>
	</binding>
	<service name='TidesService'>
		<port name='TidesPort' binding='t:TidesOverSoap11'>
			<s:address location='https://tides.saltmere.example/1'/>
		</port>
	</service>
</definitions>
"#;

#[test]
fn a_contract_like_another_is_laid_out_like_it() {
    for (line_end, name) in [("\n", "unix"), ("\r\n", "dos")] {
        let folder = Folder::empty();
        let house = HOUSE.replace('\n', line_end);
        folder.write("tides.wsdl", &house);
        let begin = "new Quays --namespace urn:saltmere:quays:1 --like tides.wsdl";
        folder.run(&format!("{begin} --keep-operations -o quays.wsdl")).ends(0);
        let named = house.replace("tides", "quays").replace("Tides", "Quays");
        assert_eq!(folder.read("quays.wsdl"), named, "{name}");
        folder.run(&format!("{begin} -o empty.wsdl")).ends(0);
        let empty = folder.read("empty.wsdl");
        // Every line that is left is one of the other's.
        let added = empty.lines().filter(|line| !named.contains(line.trim_end_matches(['/', '>']))).count();
        assert_eq!(added, 0, "{empty}");
        folder.run("add empty.wsdl operation~moor~{~input~{~ship:~string~}~output~{~}~}").ends(0);
        folder.run("check empty.wsdl").ends(0);
    }
}

#[test]
fn schemas_stand_where_those_of_the_other_do() {
    let folder = Folder::empty();
    let (above, rest) = HOUSE.split_once("\t\t<xsd:schema").unwrap();
    let (schema, below) = rest.split_once("\t\t</xsd:schema>\n").unwrap();
    let declared = "xmlns:t='urn:saltmere:tides:1' xmlns:xsd='http://www.w3.org/2001/XMLSchema'";
    folder.write("tides.xsd", format!("<xsd:schema {declared}{schema}</xsd:schema>\n"));
    let import = "\t\t<xsd:schema>\n\t\t\t<xsd:import namespace='urn:saltmere:tides:1' schemaLocation='tides.xsd'/>\n\t\t</xsd:schema>\n";
    folder.write("tides.wsdl", format!("{above}{import}{below}"));
    folder.run("check tides.wsdl").ends(0);
    let begin = "new Quays --namespace urn:saltmere:quays:1 --like tides.wsdl";
    folder.run(&format!("{begin} -o beside/quays.wsdl")).ends(2);
    folder.write("beside/note", "");
    folder.run(&format!("{begin} -o beside/quays.wsdl")).ends(0);
    assert!(!folder.read("beside/quays.wsdl").contains("complexType"));
    folder.run("check beside/quays.wsdl").ends(0);
    folder.run(&format!("{begin} --schema embedded -o quays.wsdl")).ends(0);
    assert!(folder.read("quays.wsdl").contains("complexType"));
}

#[test]
fn namespaces_and_addresses_are_quoted_as_the_notation_quotes() {
    let folder = Folder::empty();
    // A letter with a mark of its own, which other ways of quoting would write as a number.
    let namespace = "urn:saltmere:quai-e\u{301}troit";
    let address = "https://tides.saltmere.example/e\u{301}";
    folder
        .run(&format!("new Tides --namespace {namespace} --operation next --address {address} -o tides.wsdl"))
        .ends(0);
    let text = folder.read("tides.wsdl");
    assert!(text.contains(&format!("targetNamespace=\"{namespace}\"")), "{text}");
    assert!(text.contains(&format!("location=\"{address}\"")), "{text}");
}
