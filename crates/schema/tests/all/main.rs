//! Everything that the crate promises, in one program: it is linked once.

mod components;
mod constraints;
mod derivation;
mod divided;
mod included;
mod inclusion;
mod inclusion_laws;
mod inclusion_values;
mod instances;
mod models;
mod order;
mod pairs;
mod samples;
mod values;
mod words;
