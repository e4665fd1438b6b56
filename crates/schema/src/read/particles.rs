//! Content models.

use charter_source::{Node, tag_place};

use super::scope::{Scope, extent};
use super::{SchemaReader, parts};
use crate::component::{Owner, Ref};
use crate::particle::{Compositor, Particle, Term};
use crate::{GroupDef, ParticleId};

impl SchemaReader<'_> {
    /// The particle that an element of a content model writes; `None` if it is not one, or has no name.
    pub(super) fn particle(&mut self, scope: &Scope, node: Node<'_>, owner: Owner) -> Option<ParticleId> {
        let term = match node.tag_name().name() {
            "element" => {
                self.element_rules(scope, node, false);
                match self.reference(scope, node, "ref") {
                    Some(reference) => Term::ElementRef(reference),
                    None => Term::Element(self.local_element(scope, node, owner)?),
                }
            }
            "sequence" => self.model_group(scope, node, owner, Compositor::Sequence),
            "choice" => self.model_group(scope, node, owner, Compositor::Choice),
            "all" => self.model_group(scope, node, owner, Compositor::All),
            "group" => {
                let nothing: Ref<GroupDef> =
                    Ref { name: None, place: tag_place(scope.file, node), target: None };
                Term::GroupRef(self.reference(scope, node, "ref").unwrap_or(nothing))
            }
            "any" => Term::Any(Box::new(self.wildcard(scope, node))),
            _ => return None,
        };
        let occurs = self.occurs(scope, node);
        Some(self.set.particles.add(Particle {
            occurs,
            term,
            place: tag_place(scope.file, node),
            extent: extent(scope, node),
            owner,
        }))
    }

    fn model_group(&mut self, scope: &Scope, node: Node<'_>, owner: Owner, compositor: Compositor) -> Term {
        let mut members = Vec::new();
        for child in parts(node) {
            members.extend(self.particle(scope, child, owner));
        }
        Term::Group(compositor, members)
    }
}
