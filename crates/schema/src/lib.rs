//! XML Schema 1.0: its components, read from the trees of the loaded files.
//!
//! A [`Schemas`] holds every component that the schemas of a contract declare, each in an arena under a typed
//! [`Id`], with the [`Place`](charter_source::Place) it was read from. [`Schemas::read`] fills it and resolves the references;
//! what is wrong is kept as faults, and the rest stays usable. [`Schemas::content`], [`Schemas::attributes`]
//! and [`Schemas::simple`] then answer what a type allows once its derivation is taken into account.
//!
//! Built-in types are components like any other: [`Builtin`] is their table.

mod arena;
mod bounds;
mod builtin;
mod component;
mod constraints;
mod content;
mod cycles;
mod edges;
mod engine;
mod facet;
mod inclusion;
mod particle;
mod pattern;
mod read;
mod relatives;
mod resolve;
pub mod sample;
mod set;
mod simple;
mod validation;
mod value;
mod wildcard;
mod xpath;

pub use arena::{Arena, Id};
pub use builtin::{Builtin, Kind, WhiteSpace};
pub use component::{
    Annotation, AttributeDecl, AttributeGroup, AttributeUse, ComplexType, ConstraintKind, Content,
    Derivation, DerivationSet, ElementDecl, GroupDef, IdentityConstraint, NotationDecl, Owner, Ref,
    SimpleDerivation, SimpleType, TypeDef, TypeKind, Use, ValueConstraint, WrittenPath,
};
pub use content::Attribute;
pub use engine::{
    Accepted, Allowed, AllowedAttribute, Context, Datatype, EncodedArray, Engine, Enumeration, Leaf, Limit,
    Model, PatternStep, Symbol, Texts, Variety, Violation, Walk, expanded, written_array_type,
};
pub use facet::{Facet, FacetKind};
pub use inclusion::{
    Assessment, Counterexample, DeclaredType, Edge, Inclusion, Kind as CounterexampleKind, Meaning, Outcome,
    Pair, Reached, Route, Texts as IncludedTexts, Undecided, Weight, Witness,
};
pub use particle::{Compositor, Occurs, Particle, Term};
pub use pattern::{Pattern, PatternError, parse_pattern};
pub use relatives::Relatives;
pub use set::{SchemaDocument, Schemas};
pub use simple::{Bound, Facets, Simple, SimpleVariety};
pub use validation::{Assess, Paths, Report, Wrong, targets};
pub use value::{Duration, Moment, Value, compare_values, is_lexical};
pub use wildcard::{NamespaceConstraint, Process, Wildcard};

/// Names a type.
pub type TypeId = Id<TypeDef>;
/// Names an element declaration.
pub type ElementId = Id<ElementDecl>;
/// Names an attribute declaration.
pub type AttributeId = Id<AttributeDecl>;
/// Names a model group definition.
pub type GroupId = Id<GroupDef>;
/// Names an attribute group definition.
pub type AttributeGroupId = Id<AttributeGroup>;
/// Names a particle.
pub type ParticleId = Id<Particle>;
/// Names an identity constraint.
pub type ConstraintId = Id<IdentityConstraint>;
/// Names a notation declaration.
pub type NotationId = Id<NotationDecl>;
