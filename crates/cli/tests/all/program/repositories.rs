//! Repositories of others: what git is asked runs nothing that they name, and what it cannot say is no answer.
#![cfg(unix)]

use std::os::unix::fs::{PermissionsExt, symlink};
use std::process::Command;

use crate::program::folder::{Folder, contract};

fn git(folder: &Folder, inside: &str, words: &str) {
    let words = words.split(' ').map(|word| word.replace('~', " "));
    let settings = [
        "-c",
        "user.name=Port",
        "-c",
        "user.email=port@saltmere.example",
        "-c",
        "protocol.file.allow=always",
    ];
    let output =
        Command::new("git").args(settings).args(words).current_dir(folder.path(inside)).output().unwrap();
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
}

fn tides() -> Folder {
    let folder = Folder::with_parts();
    git(&folder, "", "init -q -b main");
    git(&folder, "", "add -A");
    git(&folder, "", "commit -q -m one");
    git(&folder, "", "tag v1");
    folder
}

#[test]
fn links_in_a_revision_lead_where_they_do_on_disk() {
    let folder = Folder::with_parts();
    std::fs::rename(folder.path("parts"), folder.path("kept")).unwrap();
    symlink("kept", folder.path("parts")).unwrap();
    symlink("tides.wsdl", folder.path("harbour.wsdl")).unwrap();
    git(&folder, "", "init -q -b main");
    git(&folder, "", "add -A");
    git(&folder, "", "commit -q -m one");
    for words in
        ["compare HEAD:tides.wsdl tides.wsdl", "compare HEAD:harbour.wsdl tides.wsdl", "compare --since HEAD"]
    {
        folder.run(words).ends(0).says("nothing that consumers can see has changed");
    }
    symlink("/etc/hostname", folder.path("away.wsdl")).unwrap();
    git(&folder, "", "add -A");
    git(&folder, "", "commit -q -m two");
    folder.run("compare HEAD:away.wsdl tides.wsdl").ends(2).complains("has no away.wsdl");
}

#[test]
fn contracts_of_repositories_within_are_the_same_as_before() {
    let inner = tides();
    let folder = Folder::empty();
    git(&folder, "", "init -q -b main");
    git(&folder, "", &format!("submodule add -q {} harbour", inner.path("").display()));
    git(&folder, "", "commit -q -m one");
    folder.run("compare --since HEAD").ends(0).says("nothing that consumers can see has changed");
    folder
        .run("compare HEAD:harbour/tides.wsdl harbour/tides.wsdl")
        .ends(0)
        .says("nothing that consumers can see");
    let text = folder.read("harbour/parts/desk.wsdl");
    folder.write(
        "harbour/parts/desk.wsdl",
        text.replace("name=\"height\" type=\"xs:decimal\"", "name=\"height\" type=\"xs:string\""),
    );
    folder.run("compare --since HEAD").ends(1).says("harbour/tides.wsdl");
}

#[test]
fn what_git_cannot_say_is_no_answer() {
    let folder = tides();
    for name in ["^v1", "v1..HEAD", "--all", ""] {
        folder.run(&format!("compare --since={name}")).ends(2);
    }
    // A tree is missing.
    let tree =
        Command::new("git").args(["rev-parse", "v1:parts"]).current_dir(folder.path("")).output().unwrap();
    let tree = String::from_utf8(tree.stdout).unwrap();
    let object = folder.path(&format!(".git/objects/{}/{}", &tree[..2], tree[2..].trim()));
    std::fs::remove_file(object).unwrap();
    folder.run("compare --since v1").ends(2).complains("git cannot list the files");
    // A bare repository has no files.
    let bare = Folder::empty();
    git(&bare, "", "init -q --bare");
    bare.write("tides.wsdl", contract(&[]));
    bare.run("compare --since v1").ends(2).complains("is bare");
    Folder::empty().run("compare --since v1").ends(2).complains("in no git repository");
}

#[test]
fn a_folder_that_cannot_be_read_is_named() {
    let folder = tides();
    folder.write("closed/harbour.wsdl", contract(&[]));
    std::fs::set_permissions(folder.path("closed"), std::fs::Permissions::from_mode(0o000)).unwrap();
    // Whoever may do anything may read it all the same.
    if std::fs::read_dir(folder.path("closed")).is_err() {
        folder.run("compare --since v1").ends(2).complains("closed: the folder cannot be read");
        let run = folder.run("check .").ends(2).complains("closed: the folder cannot be read");
        assert!(run.out.contains("tides.wsdl"), "{}", run.out);
    }
    std::fs::set_permissions(folder.path("closed"), std::fs::Permissions::from_mode(0o755)).unwrap();
}

#[test]
fn nothing_that_a_repository_names_is_run() {
    let folder = tides();
    let trap = "#!/bin/sh\ntouch \"$(dirname \"$0\")/sprung\"\nexit 1\n";
    folder.write("trap/run", trap);
    std::fs::set_permissions(folder.path("trap/run"), std::fs::Permissions::from_mode(0o755)).unwrap();
    let run = folder.path("trap/run").display().to_string();
    for hook in ["post-checkout", "reference-transaction", "post-index-change"] {
        folder.write(&format!(".git/hooks/{hook}"), trap);
        std::fs::set_permissions(
            folder.path(&format!(".git/hooks/{hook}")),
            std::fs::Permissions::from_mode(0o755),
        )
        .unwrap();
    }
    // A repository that lacks an object, and says whom to ask for it.
    for (key, value) in [
        ("core.fsmonitor", run.as_str()),
        ("core.sshCommand", &run),
        ("core.alternateRefsCommand", &run),
        ("core.pager", &run),
        ("credential.helper", &run),
        ("filter.trap.smudge", &run),
        ("diff.external", &run),
        ("alias.cat-file", "!false"),
        ("remote.origin.url", "ssh://harbour.invalid/tides.git"),
        ("remote.origin.promisor", "true"),
        ("remote.origin.partialclonefilter", "blob:none"),
        ("extensions.partialClone", "origin"),
        ("core.repositoryformatversion", "1"),
    ] {
        let output =
            Command::new("git").args(["config", key, value]).current_dir(folder.path("")).output().unwrap();
        assert!(output.status.success(), "{key}");
    }
    folder.write(".gitattributes", "*.wsdl filter=trap\n");
    let blob = Command::new("git")
        .args(["rev-parse", "v1:parts/desk.wsdl"])
        .current_dir(folder.path(""))
        .output()
        .unwrap();
    let blob = String::from_utf8(blob.stdout).unwrap();
    std::fs::remove_file(folder.path(&format!(".git/objects/{}/{}", &blob[..2], blob[2..].trim()))).unwrap();
    for words in [
        "compare --since v1",
        "compare v1:tides.wsdl tides.wsdl",
        "compare v1 HEAD",
        "compare v1:parts/desk.wsdl tides.wsdl",
    ] {
        folder.run(words);
    }
    assert!(!folder.path("trap/sprung").exists());
    assert!(!folder.path(".git/hooks/sprung").exists());
}
