//! A temporary folder to run the program in.

use std::fs;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::process::{Command, Stdio};

use tempfile::TempDir;

/// A folder that goes when the test ends.
pub struct Folder(TempDir);

/// What a run of the program came to.
pub struct Run {
    pub status: i32,
    pub out: String,
    pub err: String,
}

impl Folder {
    pub fn empty() -> Folder {
        Folder(TempDir::new().unwrap())
    }

    /// A folder with the demo data in `saltmere`.
    pub fn with_demo() -> Folder {
        let folder = Folder::empty();
        let source = concat!(env!("CARGO_MANIFEST_DIR"), "/demo");
        folder.copy(Path::new(source), "saltmere");
        folder
    }

    /// Copies a folder with everything in it.
    fn copy(&self, from: &Path, to: &str) {
        for entry in fs::read_dir(from).unwrap() {
            let entry = entry.unwrap();
            let name = format!("{to}/{}", entry.file_name().to_str().unwrap());
            match entry.file_type().unwrap().is_dir() {
                true => self.copy(&entry.path(), &name),
                false => self.write(&name, fs::read(entry.path()).unwrap()),
            }
        }
    }

    /// A folder with the example contract in two files: `parts/desk.wsdl` has its types, messages and port type, and
    /// `tides.wsdl` the rest, which imports them.
    pub fn with_parts() -> Folder {
        let folder = Folder::empty();
        let whole = contract(&[]);
        let (above, rest) = whole.split_once("  <wsdl:binding").unwrap();
        folder.write("parts/desk.wsdl", format!("{above}</wsdl:definitions>"));
        let head = above.split_once("  <wsdl:types>").unwrap().0;
        let import = "  <wsdl:import namespace=\"urn:saltmere:tides:1\" location=\"parts/desk.wsdl\"/>\n";
        folder.write("tides.wsdl", format!("{head}{import}  <wsdl:binding{rest}"));
        folder
    }

    pub fn path(&self, name: &str) -> PathBuf {
        self.0.path().join(name)
    }

    pub fn write(&self, name: &str, content: impl AsRef<[u8]>) {
        let path = self.path(name);
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, content).unwrap();
    }

    pub fn read(&self, name: &str) -> String {
        fs::read_to_string(self.path(name)).unwrap()
    }

    /// Runs git here, with nobody's settings.
    #[track_caller]
    pub fn git(&self, words: &[&str]) {
        let done = Command::new("git")
            .args([
                "-c",
                "user.name=Ines Calloway",
                "-c",
                "user.email=ines@saltmere.example",
                "-c",
                "init.defaultBranch=main",
            ])
            .args(words)
            .current_dir(self.path(""))
            .env("GIT_CONFIG_NOSYSTEM", "1")
            .env("GIT_CONFIG_GLOBAL", "/dev/null")
            .output()
            .unwrap();
        assert!(done.status.success(), "{words:?}: {}", String::from_utf8_lossy(&done.stderr));
    }

    /// Runs the program on words separated by spaces; a tilde stands for a space within a word.
    pub fn run(&self, words: &str) -> Run {
        self.run_with(words, b"", &[])
    }

    pub fn run_with(&self, words: &str, input: &[u8], environment: &[(&str, &str)]) -> Run {
        let mut child = Command::new(env!("CARGO_BIN_EXE_charter"))
            .args(words.split(' ').map(|word| word.replace('~', " ")))
            .current_dir(self.0.path())
            .env_remove("NO_COLOR")
            .env_remove("COLUMNS")
            .envs(environment.iter().copied())
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        // A program that fails early does not read its input.
        let _ = child.stdin.take().unwrap().write_all(input);
        let output = child.wait_with_output().unwrap();
        Run {
            status: output.status.code().expect("the program was killed"),
            out: String::from_utf8(output.stdout).unwrap(),
            err: String::from_utf8(output.stderr).unwrap(),
        }
    }
}

impl Run {
    #[track_caller]
    pub fn ends(self, status: i32) -> Run {
        assert_eq!(self.status, status, "\n{}\n{}", self.out, self.err);
        self
    }

    #[track_caller]
    pub fn says(self, words: &str) -> Run {
        assert!(self.out.contains(words), "{words:?} is not in\n{}\n{}", self.out, self.err);
        self
    }

    #[track_caller]
    pub fn lacks(self, words: &str) -> Run {
        assert!(!self.out.contains(words), "{words:?} is in\n{}", self.out);
        self
    }

    /// Standard error holds one message with these words, and nothing else went wrong.
    #[track_caller]
    pub fn complains(self, words: &str) -> Run {
        assert!(self.err.contains(words), "{words:?} is not in\n{}", self.err);
        assert_eq!(self.err.lines().filter(|line| line.starts_with("charter: ")).count(), 1, "{}", self.err);
        assert!(!self.err.contains("panicked"), "{}", self.err);
        self
    }

    #[track_caller]
    pub fn json(&self) -> serde_json::Value {
        serde_json::from_str(&self.out).unwrap_or_else(|error| panic!("{error}\n{}\n{}", self.out, self.err))
    }
}

/// A sound contract of one operation, with pieces of its text replaced.
pub fn contract(changes: &[(&str, &str)]) -> String {
    let mut text = String::from(
        r#"<?xml version="1.0" encoding="UTF-8"?>
<wsdl:definitions name="Tides" targetNamespace="urn:saltmere:tides:1" xmlns:tns="urn:saltmere:tides:1"
    xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:soap="http://schemas.xmlsoap.org/wsdl/soap/"
    xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/">
  <wsdl:types>
    <xs:schema targetNamespace="urn:saltmere:tides:1" elementFormDefault="qualified">
      <xs:simpleType name="Gauge">
        <xs:restriction base="xs:string">
          <xs:enumeration value="pier"/>
          <xs:enumeration value="lock"/>
        </xs:restriction>
      </xs:simpleType>
      <xs:complexType name="Tide">
        <xs:sequence>
          <xs:element name="high" type="xs:dateTime"/>
          <xs:element name="height" type="xs:decimal" minOccurs="0"/>
        </xs:sequence>
        <xs:attribute name="gauge" type="tns:Gauge"/>
      </xs:complexType>
      <xs:element name="nextTide">
        <xs:complexType>
          <xs:sequence>
            <xs:element name="gauge" type="tns:Gauge"/>
          </xs:sequence>
        </xs:complexType>
      </xs:element>
      <xs:element name="nextTideResponse" type="tns:Tide"/>
    </xs:schema>
  </wsdl:types>
  <wsdl:message name="nextTideInput">
    <wsdl:part name="parameters" element="tns:nextTide"/>
  </wsdl:message>
  <wsdl:message name="nextTideOutput">
    <wsdl:part name="parameters" element="tns:nextTideResponse"/>
  </wsdl:message>
  <wsdl:portType name="Tides">
    <wsdl:operation name="nextTide">
      <wsdl:input message="tns:nextTideInput"/>
      <wsdl:output message="tns:nextTideOutput"/>
    </wsdl:operation>
  </wsdl:portType>
  <wsdl:binding name="TidesOverSoap11" type="tns:Tides">
    <soap:binding style="document" transport="http://schemas.xmlsoap.org/soap/http"/>
    <wsdl:operation name="nextTide">
      <soap:operation soapAction="urn:saltmere:tides:1:nextTide"/>
      <wsdl:input><soap:body use="literal"/></wsdl:input>
      <wsdl:output><soap:body use="literal"/></wsdl:output>
    </wsdl:operation>
  </wsdl:binding>
  <wsdl:service name="TidesService">
    <wsdl:port name="TidesPort" binding="tns:TidesOverSoap11">
      <soap:address location="https://tides.saltmere.example/1"/>
    </wsdl:port>
  </wsdl:service>
</wsdl:definitions>
"#,
    );
    for (from, to) in changes {
        assert!(text.contains(from), "{from:?} is not in the contract");
        text = text.replace(from, to);
    }
    text
}
