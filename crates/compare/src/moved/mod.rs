//! A revision that gives its names another namespace, as versions mostly do, or puts local names into theirs: what moved, and the old version as it would be if
//! that had moved and nothing else. Everything else is compared beyond the move, so one namespace does not hide what differs.

mod carriers;
mod forms;
mod namespaces;
mod pieces;
mod rewrite;
mod written;

use charter_contract::Contract;
use charter_source::{Place, Span, TextEdit};

pub(crate) use carriers::Carriers;
pub(crate) use forms::{Form, Locals};
pub(crate) use namespaces::{Move, Moves};
pub(crate) use pieces::Piece;

/// The old version, moved.
pub(crate) struct Moved {
    /// It has the components of the old version under the same numbers.
    pub contract: Contract,
    /// Which namespaces stand in the place of which.
    pub namespaces: Moves,
    /// Which local names went into their namespaces or out of them.
    pub forms: Vec<Form>,
    /// How many actions followed.
    pub actions: usize,
    /// How many fixed values followed.
    pub fixed: usize,
    /// What was written otherwise for it, in the order of the text.
    edits: Vec<TextEdit>,
}

impl Moved {
    /// The old version beyond the move; `None` if nothing moved as a whole.
    pub fn of(old: &Contract, new: &Contract) -> Option<Moved> {
        let namespaces = namespaces::moved(old, new);
        let forms = forms::changed(old, new, &namespaces);
        if namespaces.0.is_empty() && forms.is_empty() {
            return None;
        }
        let mut written = rewrite::written(old, new, &namespaces);
        written.edits.extend(forms::written(old, &forms));
        written.edits.sort_by_key(|edit| (edit.place.file, edit.place.span.start));
        let contract = Contract::read(old.files.rewritten(&written.edits)?);
        let moved = Moved {
            contract,
            namespaces,
            forms,
            actions: written.actions,
            fixed: written.fixed,
            edits: written.edits,
        };
        same_components(old, &moved.contract).then_some(moved)
    }

    /// Where in the old version as it is written that stands, which stands there in the moved one.
    pub fn original(&self, place: Place) -> Place {
        Place {
            file: place.file,
            span: Span::new(self.before(place, place.span.start), self.before(place, place.span.end)),
        }
    }

    /// Where an offset of the moved text was before.
    fn before(&self, place: Place, offset: u32) -> usize {
        let offset = i64::from(offset);
        let mut shift = 0i64;
        for edit in self.edits.iter().filter(|edit| edit.place.file == place.file) {
            let span = edit.place.span;
            let (start, end) = (i64::from(span.start), i64::from(span.end));
            if offset <= start + shift {
                break;
            }
            let length = edit.replacement.len() as i64;
            // Within what was written otherwise, there is no place but the whole.
            if offset < start + shift + length {
                return start as usize;
            }
            shift += length - (end - start);
        }
        (offset - shift) as usize
    }
}

/// Whether two contracts have as many components of each kind, so that one number means the same in both.
fn same_components(a: &Contract, b: &Contract) -> bool {
    let count = |it: &Contract| {
        let schemas = &it.schemas;
        [
            schemas.types.len(),
            schemas.elements.len(),
            schemas.particles.len(),
            schemas.attribute_decls.len(),
            it.messages.len(),
            it.port_types.len(),
            it.bindings.len(),
            it.services.len(),
            it.operations().count(),
        ]
    };
    count(a) == count(b)
}
