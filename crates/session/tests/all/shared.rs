//! A folder with a contract in it.

use std::fs;
use std::path::{Path, PathBuf};

use charter_session::{Failure, Options, Session};
use tempfile::TempDir;

/// A contract that imports `tide.xsd`.
pub const CONTRACT: &str = r#"<wsdl:definitions xmlns:wsdl="http://schemas.xmlsoap.org/wsdl/" xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns:t="urn:saltmere:tides:1" targetNamespace="urn:saltmere:tides:1">
  <wsdl:types>
    <xs:schema targetNamespace="urn:saltmere:tides:1">
      <xs:include schemaLocation="tide.xsd"/>
    </xs:schema>
  </wsdl:types>
  <wsdl:message name="NextTide"><wsdl:part name="parameters" element="t:tide"/></wsdl:message>
  <wsdl:portType name="Tides">
    <wsdl:operation name="nextTide"><wsdl:input message="t:NextTide"/></wsdl:operation>
  </wsdl:portType>
</wsdl:definitions>
"#;

/// A schema with an element of a type of XML Schema.
pub fn schema(element: &str, ty: &str) -> String {
    format!(
        "<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" targetNamespace=\"urn:saltmere:tides:1\"><xs:element name=\"{element}\" type=\"xs:{ty}\"/></xs:schema>"
    )
}

/// A temporary folder.
pub struct Folder(TempDir);

impl Folder {
    /// An empty one.
    pub fn empty() -> Folder {
        Folder(TempDir::new().unwrap())
    }

    /// With the contract as `tides.wsdl`, and its schema.
    pub fn with_contract() -> Folder {
        let folder = Folder::empty();
        folder.write("tides.wsdl", CONTRACT);
        folder.write("tide.xsd", schema("tide", "decimal"));
        folder
    }

    pub fn path(&self, name: &str) -> PathBuf {
        self.0.path().join(name)
    }

    /// The path as an argument.
    pub fn name(&self, name: &str) -> String {
        self.path(name).to_str().unwrap().to_owned()
    }

    pub fn write(&self, name: &str, content: impl AsRef<[u8]>) -> PathBuf {
        let path = self.path(name);
        fs::create_dir_all(path.parent().unwrap_or(Path::new("."))).unwrap();
        fs::write(&path, content).unwrap();
        path
    }
}

/// A session as the program begins it.
pub fn session() -> Session {
    Session::begin(&Options::default()).unwrap()
}

/// What failed.
#[track_caller]
pub fn failed<T>(result: Result<T, Failure>) -> Failure {
    match result {
        Ok(_) => panic!("it should have failed"),
        Err(failure) => failure,
    }
}
