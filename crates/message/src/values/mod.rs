//! Values: what a message says, as JSON, without how it is said.
//!
//! [`write()`] takes the values out of what fills a wire shape, [`read()`] puts them in again, and [`ByPath`] changes one by its
//! wire path. `docs/values.md` explains the mapping. It is unambiguous: of two messages that differ in a value, the
//! values differ, and the values that a message gives make the same message.

mod children;
mod known;
mod lead;
mod order;
mod path;
mod read;
mod scalar;
mod tree;
mod write;

pub use path::{ByPath, Step, steps};
pub use read::{read, read_anyway};
pub use tree::{element, wire_content};
pub(crate) use write::attribute_key as key_of_attribute;
pub use write::write;

use charter_contract::{Body, Carrier, HttpContent, WireElement, WireShape};
use charter_schema::{Engine, Schemas};
use charter_source::Map;

/// The key of header blocks.
pub(crate) const HEADER: &str = "$header";
/// The key of what goes along with an envelope.
pub(crate) const ATTACHED: &str = "$attached";
/// The key of a value beside attributes.
pub(crate) const TEXT: &str = "$text";
/// The key that says that an element with attributes is nil.
pub(crate) const NIL: &str = "$nil";
/// The key of the type that an element names for itself.
pub(crate) const TYPE: &str = "$type";
/// The key of content whose order counts.
pub(crate) const CONTENT: &str = "$content";

/// What is wrong with values.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("{path}: {message}")]
pub struct ValueError {
    /// The wire path.
    pub path: String,
    /// What is wrong, in one line.
    pub message: String,
    /// What to do about it.
    pub help: String,
}

impl ValueError {
    pub(crate) fn new(path: &str, message: impl Into<String>, help: impl Into<String>) -> ValueError {
        let path = if path.is_empty() { "values" } else { path };
        ValueError { path: path.to_owned(), message: message.into(), help: help.into() }
    }
}

/// Whether a type accepts the text of an element: else the rule, what is wrong, and what to do.
pub(crate) fn accepted(
    engine: &Engine<'_>,
    ty: charter_schema::TypeId,
    element: &crate::Element,
) -> Result<(), (&'static str, String, String)> {
    let Some(datatype) = engine.datatype(ty) else { return Ok(()) };
    let text = element.value();
    // What a prefix means, a form cannot say.
    if scalar::is_name(datatype) {
        return Ok(());
    }
    let accepted = datatype.accept(&text, &scalar::Free, false);
    accepted.map(drop).map_err(|violation| (violation.rule, violation.message, violation.help))
}

/// Which key the contents of a shape go by, in the order of [`WireShape::contents`].
pub(crate) struct Layout {
    /// The header blocks.
    pub headers: Vec<(String, WireElement)>,
    /// What fills the body.
    pub body: BodyLayout,
    /// What goes along.
    pub attached: Vec<(String, WireElement)>,
    /// Which of the contents are encoded.
    pub encoded: Vec<bool>,
}

/// How the body stands among the values.
pub(crate) enum BodyLayout {
    /// A single element, whose content stands at the top.
    Inline(WireElement),
    /// Several, each under its name.
    Named(Vec<(String, WireElement)>),
}

impl Layout {
    pub fn of(schemas: &Schemas, shape: &WireShape) -> Layout {
        let contents = shape.contents();
        let encoded = (0..contents.len()).map(|at| shape.is_encoded(at)).collect();
        let named = |elements: &[WireElement]| -> Vec<(String, WireElement)> {
            let mut count: Map<&str, usize> = Map::default();
            elements.iter().for_each(|it| *count.entry(&it.name(schemas).local).or_default() += 1);
            let name = |element: &WireElement| {
                let name = element.name(schemas);
                match count[&*name.local] {
                    1 => name.local.to_string(),
                    _ => name.to_string(),
                }
            };
            elements.iter().map(|element| (name(element), element.clone())).collect()
        };
        match &shape.carrier {
            Carrier::Soap(soap) => {
                let (headers, rest) = contents.split_at(soap.headers.len());
                let (body, attached) = rest.split_at(rest.len() - soap.attachments.len());
                let body = match (&soap.body, body) {
                    (Body::Elements(_) | Body::Content(_), [only]) => BodyLayout::Inline(only.clone()),
                    (_, several) => BodyLayout::Named(named(several)),
                };
                let names = soap.attachments.iter().map(|part| part.name.clone());
                let attached = names.zip(attached.iter().cloned()).collect();
                Layout { headers: named(headers), body, attached, encoded }
            }
            Carrier::Http(http) => {
                let names: Vec<String> = match &http.content {
                    HttpContent::Empty => Vec::new(),
                    HttpContent::Form(parts) | HttpContent::InPath(parts) => {
                        parts.iter().map(|part| part.name.clone()).collect()
                    }
                    HttpContent::Part(part) => vec![part.name.clone()],
                    HttpContent::Multipart(parts) => parts.iter().map(|part| part.name.clone()).collect(),
                };
                let body = BodyLayout::Named(names.into_iter().zip(contents).collect());
                Layout { headers: Vec::new(), body, attached: Vec::new(), encoded }
            }
        }
    }
}

/// Works between values and elements by the types of a contract.
pub(crate) struct Mapper<'e> {
    pub engine: &'e Engine<'e>,
    pub schemas: &'e Schemas,
    /// Whether what is worked on is written by the encoding of SOAP, where arrays are lists.
    pub encoded: std::cell::Cell<bool>,
    /// Whether a text is taken that its type does not accept.
    pub anyway: bool,
    known: std::cell::RefCell<charter_source::Map<charter_schema::TypeId, std::rc::Rc<known::Known>>>,
    suggestions: std::cell::RefCell<charter_source::Suggestions>,
}

impl<'e> Mapper<'e> {
    pub fn new(engine: &'e Engine<'e>) -> Mapper<'e> {
        Mapper {
            engine,
            schemas: engine.schemas(),
            encoded: std::cell::Cell::new(false),
            anyway: false,
            known: std::cell::RefCell::default(),
            suggestions: std::cell::RefCell::default(),
        }
    }

    /// What to do about a key that means nothing; the first who ask are told what it may have meant.
    pub fn advice(&self, key: &str, keys: impl FnOnce() -> Vec<String>) -> String {
        match self.suggestions.borrow_mut().one_more() {
            true => read::advice(key, &keys()),
            false => "correct the name, or leave it out".to_owned(),
        }
    }

    /// What a type holds that is an array here.
    pub fn array(&self, ty: charter_schema::TypeId) -> Option<charter_schema::EncodedArray> {
        if self.encoded.get() { self.engine.encoded_array(ty) } else { None }
    }
}
