//! Types from examples.

use crate::program::folder::Folder;

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
    refused("a.csv", "a,b\n1\n", "a.csv:2:1: this row has 1 column, the header 2");
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

/// The definition of a column, and the field that becomes of it.
const COLUMNS: &[(&str, &str)] = &[
    ("c INT", "c: int?"),
    ("c INT NOT NULL", "c: int"),
    ("c INT UNSIGNED NOT NULL", "c: unsignedInt"),
    ("c BIGINT UNSIGNED NOT NULL", "c: unsignedLong"),
    ("c SMALLINT UNSIGNED NOT NULL", "c: unsignedShort"),
    ("c DECIMAL NOT NULL", "c: decimal"),
    ("c DECIMAL(5) NOT NULL", "c: decimal digits 5 decimals 0"),
    ("c DECIMAL(5,5) NOT NULL", "c: decimal digits 5 decimals 5"),
    ("c NUMERIC(5,0) NOT NULL", "c: decimal digits 5 decimals 0"),
    ("c CHAR NOT NULL", "c: string length ..1"),
    ("c CHAR(3) NOT NULL", "c: string length ..3"),
    ("c VARCHAR(30) NOT NULL", "c: string length ..30"),
    ("c VARCHAR NOT NULL", "c: string"),
    ("c CHARACTER VARYING(8) NOT NULL", "c: string length ..8"),
    ("c TEXT NOT NULL", "c: string"),
    ("c CLOB NOT NULL", "c: string"),
    ("c BOOLEAN NOT NULL", "c: boolean"),
    ("c DATE NOT NULL", "c: date"),
    ("c TIME NOT NULL", "c: time"),
    ("c TIMESTAMP NOT NULL", "c: dateTime"),
    ("c DATETIME NOT NULL", "c: dateTime"),
    ("c INTERVAL NOT NULL", "c: string"),
    ("c BINARY(8) NOT NULL", "c: base64Binary"),
    ("c VARBINARY(8) NOT NULL", "c: base64Binary"),
    ("c BLOB NOT NULL", "c: base64Binary"),
    ("c BYTEA NOT NULL", "c: base64Binary"),
    (
        "c UUID NOT NULL",
        r#"c: string like "[0-9a-fA-F]{8}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{4}-[0-9a-fA-F]{12}""#,
    ),
    ("c REAL NOT NULL", "c: float"),
    ("c DOUBLE NOT NULL", "c: double"),
    ("c FLOAT NOT NULL", "c: double"),
    ("c JSON NOT NULL", "c: string"),
    ("c XML NOT NULL", "c: string"),
    ("c INT[] NOT NULL", "c: int*"),
    ("c ENUM('a','b') NOT NULL", r#"c: string one-of "a", "b""#),
    ("c SERIAL", "c: int"),
    ("c INT DEFAULT 5", r#"c: int? default "5""#),
    ("c VARCHAR(5) DEFAULT 'a'", r#"c: string? length ..5 default "a""#),
    ("c DATE DEFAULT CURRENT_DATE", "c: date?"),
    ("c VARCHAR(5) NOT NULL CHECK (c IN ('x','y'))", r#"c: string one-of "x", "y""#),
    ("c INT NOT NULL CHECK (c IN (1,2))", r#"c: int one-of "1", "2""#),
    ("c INT NOT NULL CHECK (c BETWEEN 1 AND 9)", "c: int range 1..9"),
    ("c INT NOT NULL CHECK (c >= 1)", "c: int range 1.."),
    ("c INT NOT NULL CHECK (c > 0 AND c < 10)", "c: int range 0<..<10"),
    ("c INT NOT NULL COMMENT 'How many.'", r#"c: int about "How many.""#),
    ("c POINT NOT NULL", "c: string"),
    ("c INT NOT NULL CHECK (10 > c)", "c: int range ..<10"),
    ("c INT NOT NULL CHECK (c <> 0)", "c: int"),
    (
        "c DECIMAL(4,1) NOT NULL CHECK (c BETWEEN -1.5 AND 30)",
        "c: decimal range -1.5..30 digits 4 decimals 1",
    ),
    ("c VARCHAR(9) NOT NULL CHECK (c > 'a')", "c: string length ..9"),
    ("c DECIMAL(6,2) UNSIGNED NOT NULL", "c: decimal range 0.. digits 6 decimals 2"),
    ("c TINYINT UNSIGNED NOT NULL", "c: unsignedByte"),
    ("c BIGSERIAL", "c: long"),
    ("c INT NOT NULL CHECK (c > d)", "c: int"),
    ("c INT NOT NULL CHECK (c = 4)", r#"c: int one-of "4""#),
    ("c TINYINT UNSIGNED NOT NULL CHECK (c < 1000)", "c: unsignedByte"),
    ("c INT NOT NULL CHECK (c > 0.5)", "c: int"),
];

#[test]
fn columns_become_fields_that_hold_what_they_hold() {
    let folder = Folder::empty();
    for (column, field) in COLUMNS {
        folder.write("port.sql", format!("CREATE TABLE berth ({column});"));
        let derived = folder.run("derive port.sql").ends(0).out;
        assert_eq!(derived, format!("type Berth {{\n  {field}\n}}\n"), "{column}");
        // It is a sound type.
        folder.write("port.charter", format!("contract Port \"urn:saltmere:port:1\" {{\n{derived}}}\n"));
        folder.run("new --from port.charter -o port.wsdl").ends(0);
        folder.run("check port.wsdl").ends(0);
        std::fs::remove_file(folder.path("port.wsdl")).unwrap();
    }
}

#[test]
fn conditions_of_a_table_belong_to_the_column_that_they_name() {
    let folder = Folder::empty();
    folder.write(
        "port.sql",
        "CREATE TABLE berth (depth INT NOT NULL, Side CHAR(4), CHECK (depth > 0 AND side IN ('east', 'west')), CHECK (depth <= 30));",
    );
    let derived = folder.run("derive port.sql").ends(0).out;
    assert_eq!(
        derived,
        "type Berth {\n  depth: int range 0<..30\n  side: string? one-of \"east\", \"west\"\n}\n"
    );
}
