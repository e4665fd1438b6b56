//! Groups that were redefined without use of themselves: they must allow no more than before (Part 1, 4.2.2,
//! src-redefine 6.2.2 and 7.2.2).

use super::Judge;
use super::inherited::Attributes;
use crate::Term;
use crate::engine::Model;

impl Judge<'_> {
    pub(super) fn redefinitions(&mut self) {
        let schemas = self.engine.schemas;
        for (new, old) in &schemas.redefined_groups {
            let group = &schemas.groups[*new];
            let (Some(particle), Some(before)) = (group.particle, schemas.groups[*old].particle) else {
                continue;
            };
            let of = |particle| Model::of(schemas, &[particle]);
            let (Some(model), Some(base)) = (of(particle), of(before)) else { continue };
            let uses_itself = model.nodes.iter().any(|node| {
                let written = node.particle.map(|particle| &schemas.particles[particle].term);
                matches!(written, Some(Term::GroupRef(used)) if used.target == Some(*old))
            });
            if !uses_itself {
                self.model_restricts("src-redefine", &model, &base, group.place);
            }
        }
        for (new, old) in &schemas.redefined_attribute_groups {
            let group = &schemas.attribute_groups[*new];
            if group.groups.iter().any(|used| used.target == Some(*old)) {
                continue;
            }
            let (uses, own) =
                schemas.gathered(&group.attributes, &group.groups, group.any_attribute.as_deref());
            let old = &schemas.attribute_groups[*old];
            let (inherited, any) =
                schemas.gathered(&old.attributes, &old.groups, old.any_attribute.as_deref());
            let inherited = Attributes::of(self, schemas, &inherited);
            self.narrowed("src-redefine", &uses, &inherited, own.as_ref(), any.as_ref());
        }
    }
}
