//! What belongs to a file besides its text: where it really lies, who may do what with it, and the names it has.

use std::fs::{self, File, OpenOptions};
use std::io::{self, Write};
use std::path::{Path, PathBuf};

/// How many links may lead from one to the next.
const LINKS: usize = 40;

/// Where a file really lies: links are followed, also one that leads to nothing yet.
pub fn resolved(path: &Path) -> io::Result<PathBuf> {
    let mut path = path.to_owned();
    for _ in 0..LINKS {
        match fs::read_link(&path) {
            Ok(leads) => path = folder_of(&path).join(leads),
            // Not a link, or nothing there yet.
            Err(_) => {
                let name = path.file_name().ok_or(io::ErrorKind::InvalidInput)?.to_owned();
                return Ok(fs::canonicalize(folder_of(&path))?.join(name));
            }
        }
    }
    Err(io::Error::other("its links lead from one to the next without end"))
}

/// The folder that a file lies in.
pub fn folder_of(path: &Path) -> &Path {
    path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."))
}

/// When a file must be on disk.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Lasting {
    /// Once it is written.
    AtOnce,
    /// Once [`sync_around`] has been called: it is one of many that can be made again.
    InTheEnd,
}

/// Has the system write down all that was written where a folder lies.
#[cfg(target_os = "linux")]
pub fn sync_around(folder: &Path) {
    if let Ok(folder) = File::open(folder) {
        let _ = rustix::fs::syncfs(folder);
    }
}

#[cfg(not(target_os = "linux"))]
pub fn sync_around(folder: &Path) {
    for entry in fs::read_dir(folder).into_iter().flatten().flatten() {
        sync(&entry.path());
    }
    sync(folder);
}

/// Has the system write down which names a folder holds, as far as it can.
pub fn sync(folder: &Path) {
    if let Ok(folder) = File::open(folder) {
        let _ = folder.sync_all();
    }
}

/// A new file with these bytes. `like` is the file whose place it is to take.
pub fn fresh(path: &Path, bytes: &[u8], like: Option<&Path>, lasting: Lasting) -> io::Result<()> {
    // The rights of a new file are what the user's mask leaves of them.
    let mut file = OpenOptions::new().write(true).create_new(true).open(path)?;
    let filled = file.write_all(bytes).and_then(|()| match like {
        Some(like) => take_after(&file, path, like),
        None => Ok(()),
    });
    let kept = filled.and_then(|()| if lasting == Lasting::AtOnce { file.sync_all() } else { Ok(()) });
    kept.inspect_err(|_| _ = fs::remove_file(path))
}

/// Gives a file another name, if nothing has it.
pub fn rename_new(from: PathBuf, to: &Path) -> io::Result<()> {
    tempfile::TempPath::try_from_path(from)?.persist_noclobber(to).map_err(|error| error.error)
}

/// Overwrites a file where it stands, so that it stays the same file in every other respect.
pub fn overwrite(path: &Path, bytes: &[u8]) -> io::Result<()> {
    let mut file = OpenOptions::new().write(true).open(path)?;
    file.write_all(bytes)?;
    file.set_len(bytes.len() as u64)?;
    file.sync_all()
}

/// Whether a file is one by itself, and a new one in its place could be all that it is. Otherwise it has several names
/// (hard links), or belongs to somebody whom files cannot be given to.
#[cfg(unix)]
pub fn replaceable(path: &Path) -> io::Result<bool> {
    use std::os::unix::fs::MetadataExt;
    let facts = fs::metadata(path)?;
    let me = rustix::process::geteuid();
    let mine = me.is_root()
        || facts.uid() == me.as_raw()
            && (facts.gid() == rustix::process::getegid().as_raw()
                || rustix::process::getgroups()
                    .is_ok_and(|all| all.iter().any(|it| it.as_raw() == facts.gid())));
    Ok(facts.nlink() == 1 && mine)
}

#[cfg(not(unix))]
pub fn replaceable(_: &Path) -> io::Result<bool> {
    Ok(true)
}

/// Gives a new file the rights, the owner and the extended attributes of another.
#[cfg(unix)]
fn take_after(file: &File, path: &Path, like: &Path) -> io::Result<()> {
    use std::os::unix::fs::{MetadataExt, fchown};
    let facts = fs::metadata(like)?;
    let own = file.metadata()?;
    if (own.uid(), own.gid()) != (facts.uid(), facts.gid()) {
        fchown(file, Some(facts.uid()), Some(facts.gid()))?;
    }
    file.set_permissions(facts.permissions())?;
    for name in xattr::list(like).into_iter().flatten() {
        // What the system keeps for itself cannot be set, and sets itself.
        if let Ok(Some(value)) = xattr::get(like, &name) {
            let _ = xattr::set(path, &name, &value);
        }
    }
    Ok(())
}

#[cfg(not(unix))]
fn take_after(file: &File, _: &Path, like: &Path) -> io::Result<()> {
    file.set_permissions(fs::metadata(like)?.permissions())
}

/// Whether a file was made by this user, is no link, and goes by one name alone.
#[cfg(unix)]
pub fn is_own(facts: &fs::Metadata) -> bool {
    use std::os::unix::fs::MetadataExt;
    facts.is_file() && facts.nlink() == 1 && facts.uid() == rustix::process::geteuid().as_raw()
}

#[cfg(not(unix))]
pub fn is_own(facts: &fs::Metadata) -> bool {
    facts.is_file()
}

/// What tells a file from every copy of it: its number, and when it last changed in any respect, which nobody can set.
#[cfg(unix)]
pub fn stamp(facts: &fs::Metadata) -> String {
    use std::os::unix::fs::MetadataExt;
    format!("{:x}-{:x}-{:x}.{:x}", facts.dev(), facts.ino(), facts.ctime(), facts.ctime_nsec())
}

#[cfg(not(unix))]
pub fn stamp(facts: &fs::Metadata) -> String {
    format!("{:?}-{:?}-{}", facts.created().ok(), facts.modified().ok(), facts.len())
}
