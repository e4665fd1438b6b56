//! Whether everything that the workspace is built of builds with the oldest Rust that it promises. Clippy says where the code itself
//! asks for more.

use std::io;
use std::path::Path;
use std::process::Command;

use serde_json::Value;

/// A version of Rust, as its numbers.
fn version(text: &str) -> Vec<u32> {
    let mut numbers: Vec<u32> = text.split('.').map(|number| number.parse().unwrap_or(0)).collect();
    numbers.resize(3, 0);
    numbers
}

/// Prints the packages that ask for a newer Rust than the workspace does; whether there is none.
pub fn oldest(root: &Path) -> io::Result<bool> {
    let cargo = std::env::var_os("CARGO").unwrap_or_else(|| "cargo".into());
    let output = Command::new(cargo)
        .args(["metadata", "--format-version", "1", "--locked"])
        .current_dir(root)
        .output()?;
    let metadata: Value = serde_json::from_slice(&output.stdout)?;
    let packages = metadata["packages"].as_array().map_or(&[][..], Vec::as_slice);
    let own = packages.iter().find(|package| package["name"] == "charter-source");
    let Some(promised) = own.and_then(|package| package["rust_version"].as_str()) else {
        return Err(io::Error::other("the workspace names no rust-version"));
    };
    let newer = |package: &&Value| {
        package["rust_version"].as_str().is_some_and(|wanted| version(wanted) > version(promised))
    };
    let found: Vec<&Value> = packages.iter().filter(newer).collect();
    for package in &found {
        println!("{} {} asks for Rust {}", package["name"], package["version"], package["rust_version"]);
    }
    println!("{} packages, {} of them ask for more than Rust {promised}", packages.len(), found.len());
    Ok(found.is_empty())
}

#[cfg(test)]
mod tests {
    use super::version;

    #[test]
    fn versions_are_compared_by_their_numbers() {
        assert!(version("1.9") < version("1.89") && version("1.89") < version("1.89.1"));
        assert_eq!(version("1.89"), version("1.89.0"));
    }
}
