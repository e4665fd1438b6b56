//! Types from examples.

use crate::folder::Folder;

#[test]
fn types_from_messages_accept_them_all_and_go_into_a_contract() {
    let folder = Folder::with_demo();
    let mut names = Vec::new();
    for seed in 1..=12 {
        for (operation, side) in
            [("requestPilot", "input"), ("listBoardings", "output"), ("declareCargo", "input")]
        {
            let run = folder
                .run(&format!("message saltmere/v1/pilotage.wsdl {operation} --side {side} --seed {seed}"))
                .ends(0);
            let name = format!("{operation}{seed}.xml");
            folder.write(&name, run.out);
            names.push(name);
        }
    }
    let derived = folder.run(&format!("derive {}", names.join(" "))).ends(0);
    assert!(derived.err.is_empty() || derived.err.contains("xsi:type names"), "{}", derived.err);
    folder.write("derived.charter", &derived.out);
    folder.run("new --from derived.charter -o derived.xsd").ends(0);
    folder.run("check derived.xsd").ends(0);
    let derived = derived
        .says("element requestPilot: RequestPilot\n")
        .says("  type DeclareCargo {\n    callSign: string\n");
    derived.says("@revision: ").says("eta: dateTime");
}

#[test]
fn order_counts_values_and_mixtures() {
    let folder = Folder::empty();
    folder.write("a.xml", "<visits kind='day'><at>2026-11-03</at><pier>north</pier><pier>south</pier><pier>north</pier><note>Go <b>now</b></note><mark lit='true'>7</mark></visits>");
    folder.write("b.xml", "<visits><at>2026-11-04</at><pier>north</pier><pier>south</pier><pier>south</pier><mark lit='false'>8</mark><empty/></visits>");
    assert_eq!(
        folder.run("derive a.xml b.xml").ends(0).out,
        "element visits: Visits

type Visits {
  at: date
  pier: string+ one-of \"north\", \"south\"
  note: Note?
  mark: Mark
  empty: string?
  @kind: string?
}

mixed type Note {
  b: string
}

type Mark = int {
  @lit: boolean
}
"
    );
    // What has no order may come in any.
    folder.write("c.xml", "<log><b>1</b><a>2</a></log>");
    folder.write("d.xml", "<log><a>2</a><b>1</b></log>");
    folder.run("derive c.xml d.xml").ends(0).says("  choice {\n    b: int\n    a: int\n  }+\n");
}

#[test]
fn types_from_rows_and_from_a_table_definition() {
    let folder = Folder::with_demo();
    let rows: String =
        (0..9).map(|n| format!("V{n},Aurora {n},{}.5,{},\n", n + 3, ["cargo", "ferry"][n % 2])).collect();
    folder.write("known_vessels.csv", format!("call sign,name,draught,kind,remark\n{rows}"));
    let expected = "type KnownVessels {
  callSign: string about \"call sign\"
  name: string
  draught: decimal
  kind: string one-of \"cargo\", \"ferry\"
  remark: string?
}
";
    assert_eq!(folder.run("derive known_vessels.csv").ends(0).out, expected);
    folder.run("derive known_vessels.csv --name vessel --format json").ends(0).says("type Vessel {");
    folder.write(
        "port.sql",
        "CREATE TABLE berth (no INT PRIMARY KEY, quay VARCHAR(40) NOT NULL, state VARCHAR(9) DEFAULT 'free' CHECK (state IN ('free', 'taken')), depth DECIMAL(4,1));\nCREATE TABLE mooring (berth INT, ship CHAR(7), since TIMESTAMP, PRIMARY KEY (berth, ship));",
    );
    assert_eq!(
        folder.run("derive port.sql").ends(0).out,
        "type Berth {
  no: int
  quay: string length ..40
  state: string? one-of \"free\", \"taken\" default \"free\"
  depth: decimal? digits 4 decimals 1
}

type Mooring {
  berth: int
  ship: string length ..7
  since: dateTime?
}
"
    );
    // What is derived can be added as it is.
    let notation = expected.replace(' ', "~");
    folder
        .run(&format!("add saltmere/v1/pilotage.wsdl {notation}"))
        .ends(0)
        .says("added   type/KnownVessels\n");
}

#[test]
fn what_nothing_can_be_derived_from_is_said() {
    let folder = Folder::empty();
    let refused = |name: &str, text: &str, why: &str| {
        folder.write(name, text);
        folder.run(&format!("derive {name}")).ends(2).complains(why);
    };
    refused("a.csv", "a,b\n1\n", "a.csv:2:1: this row has 1 columns, the header 2");
    refused("b.csv", "", "there is no header row");
    refused("a.sql", "CREATE TABL", "this is no SQL");
    refused("b.sql", "SELECT 1", "no table is defined here");
    refused("a.xml", "<a>", "a.xml:1:4");
    folder.run("derive gone.xml").ends(2).complains("gone.xml");
    folder.run("derive gone.csv").ends(2).complains("gone.csv");
}

#[test]
fn types_that_elements_name_for_themselves_are_taken_over() {
    let folder = Folder::empty();
    let head = "xmlns:xsi=\"http://www.w3.org/2001/XMLSchema-instance\" xmlns:xs=\"http://www.w3.org/2001/XMLSchema\"";
    let message = |depth: &str, mark: &str| {
        format!(
            "<berth {head}><depth xsi:type=\"xs:{depth}\">7</depth><mark{mark}>3</mark><lit>true</lit></berth>"
        )
    };
    folder.write("a.xml", message("decimal", " xsi:type=\"xs:string\""));
    folder.write("b.xml", message("decimal", ""));
    let derived = folder.run("derive a.xml b.xml").ends(0);
    let derived = derived.says("depth: decimal").says("mark: anySimpleType").says("lit: boolean");
    assert!(!derived.err.contains("xsi:type"), "{}", derived.err);
    folder.write(
        "berths.charter",
        format!("contract Berths \"urn:saltmere:berths:1\" {{\n{}}}\n", derived.out),
    );
    // A type of somebody's own is not there to be named.
    folder.write("c.xml", message("Depth", ""));
    folder.run("derive c.xml").ends(0).says("depth: ");
}
