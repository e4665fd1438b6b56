use crate::program::folder::Folder;

#[test]
fn the_whole_story_runs_and_can_be_told_again() {
    let folder = Folder::empty();
    let first = folder.run("demo").ends(0);
    for command in [
        "new", "show", "rename", "check", "explain", "message", "match", "answer", "send", "rehearse",
        "compare",
    ] {
        assert!(first.out.contains(&format!("$ charter {command} ")), "{command}");
    }
    assert!(first.out.contains("Try next"));
    for file in ["v1/pilotage.wsdl", "v1/vessel.xsd", "v3/vessel.xsd", "draft/towage.wsdl", "berths.wsdl"] {
        assert!(folder.path("saltmere").join(file).exists(), "{file}");
    }
    let second = folder.run("demo").ends(0);
    assert_eq!(without_times(&first.out), without_times(&second.out));
}

/// What is printed of exchanges, without when each was and how long it took.
pub fn without_times(text: &str) -> String {
    let timed = |line: &str| {
        let (before, after) = line.split_once(" ms  ").or_else(|| Some((line.strip_suffix(" ms")?, "")))?;
        let before = before.trim_end_matches(|c: char| c.is_ascii_digit() || c == '.').trim_end();
        Some(format!("{before} {after}\n"))
    };
    let is_time = |start: &str| start.bytes().all(|byte| byte.is_ascii_digit() || byte == b':');
    let lines = text.lines().map(|line| match line.split_at_checked(8) {
        Some((start, rest)) if is_time(start) && rest.starts_with("  ") => rest,
        _ => line,
    });
    let lines = lines.map(|line| timed(line).unwrap_or_else(|| format!("{line}\n")));
    lines.collect()
}

#[test]
fn the_story_fits_three_screens_and_all_of_it_is_to_be_had() {
    let folder = Folder::empty();
    let short = folder.run("demo").ends(0).out;
    assert!(short.lines().count() <= 141, "{}", short.lines().count());
    assert!(short.contains(" more lines\n") && short.contains("charter demo saltmere --all"), "{short}");
    let whole = folder.run("demo --all").ends(0).out;
    assert!(!whole.contains(" more lines\n") && whole.lines().count() > 500, "{}", whole.lines().count());
    // What is cut is the beginning of what is whole.
    let steps = |text: &str| -> Vec<String> {
        text.split("\n$ ").skip(1).map(|step| step.lines().next().unwrap().to_owned()).collect()
    };
    assert!(steps(&short).iter().all(|step| steps(&whole).contains(step)));
    let (short, whole) = (without_times(&short), without_times(&whole));
    for step in short.split("\n$ ").skip(1) {
        let said = step.split("... ").next().unwrap().split("\n\n").next().unwrap();
        assert!(whole.contains(said), "{said}");
    }
    // What breaks is shown with the message that proves it.
    assert!(short.contains("the new version accepts"), "{short}");
}

#[test]
fn what_it_says_to_try_next_works() {
    let folder = Folder::empty();
    let out = folder.run("demo").ends(0).out;
    let next = out.split_once("Try next").unwrap().1;
    let lines: Vec<&str> = next.lines().filter_map(|line| line.trim().strip_prefix("charter ")).collect();
    assert!(lines.len() >= 5);
    for line in lines {
        // The shell would open the stars.
        let line = line.replace("saltmere/*/*.wsdl", "saltmere/v1/pilotage.wsdl");
        // And would take what stands in quotes for one word.
        let words = line.split('\'').enumerate();
        let words =
            words.map(|(at, piece)| if at % 2 == 1 { piece.replace(' ', "~") } else { piece.to_owned() });
        let run = folder.run(&words.collect::<String>());
        assert_ne!(run.status, 2, "{line}\n{}", run.err);
    }
}

#[test]
fn a_folder_of_ones_choice_may_have_spaces() {
    let folder = Folder::empty();
    folder.run("demo the~port").ends(0).says("charter show 'the port/v1/pilotage.wsdl'");
    assert!(folder.path("the port/v2/pilotage.wsdl").exists());
}

#[test]
fn the_work_of_others_is_left_alone() {
    let folder = Folder::empty();
    folder.write("saltmere/v1/pilotage.wsdl", "mine");
    folder.run("demo").ends(2).complains("there already, with another text");
    assert_eq!(folder.read("saltmere/v1/pilotage.wsdl"), "mine");
    assert!(!folder.path("saltmere/v2").exists());
    folder.run("demo --format json").ends(2).complains("it has no JSON");
}
