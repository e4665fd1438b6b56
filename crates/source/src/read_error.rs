//! Why a file was not read.

use std::io;

/// Why a text cannot be had at all.
#[derive(Debug, thiserror::Error)]
pub enum ReadError {
    /// There is no such file.
    #[error("there is no such file")]
    Missing,
    /// The location is a folder.
    #[error("this is a folder, not a file")]
    Folder,
    /// The location is a pipe, a socket or a device.
    #[error("this is a pipe or a device, not a file")]
    Special,
    /// The file is larger than the limit.
    #[error("it is larger than {}", size(*.limit))]
    TooLarge {
        /// The limit, in bytes.
        limit: u64,
    },
    /// The text lies elsewhere, and the network is off.
    #[error("this lies on the network, which is not used")]
    Remote,
    /// The network was asked, and had no answer of use.
    #[error("{0}")]
    Network(String),
    /// The operating system refused.
    #[error("{0}")]
    System(#[from] io::Error),
}

/// A number of bytes in words.
fn size(bytes: u64) -> String {
    if bytes >= 1 << 20 && bytes.is_multiple_of(1 << 20) {
        format!("{} MB", bytes >> 20)
    } else {
        format!("{bytes} bytes")
    }
}
