//! See `targets.rs`.
#![no_main]

#[allow(dead_code)]
#[path = "../targets.rs"]
mod targets;

libfuzzer_sys::fuzz_target!(|bytes: &[u8]| targets::record(bytes));
