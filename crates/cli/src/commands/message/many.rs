//! A message for each row of a CSV file.

use std::path::Path;

use charter_contract::WireShape;
use charter_session::{Rows, files};

use super::making::{Making, ending};
use crate::commands::Outcome;
use crate::console::{Console, Failure, Status};

pub fn run(making: &Making<'_>, shape: &WireShape, rows: &Rows, console: &mut Console) -> Outcome {
    let file = making.args.values.as_deref().unwrap_or_default();
    let Some(folder) = &making.args.output else {
        return Err(Failure::new("each row becomes a file").at(file).help("name a folder for them: -o DIR"));
    };
    make_folder(folder)?;
    let mut written = 0;
    let mut failed = 0;
    for (number, row) in &rows.rows {
        let made = match row {
            Ok(cells) => one(making, shape, &rows.heads, cells, console),
            Err(words) => Err(Failure::new(words.clone())
                .at(file)
                .help("give a value for each column, an empty one for none")),
        };
        let outcome = made.and_then(|(bytes, ending)| {
            let path = folder.join(format!("row-{number}.{ending}"));
            files::save_result(&making.common.session.writers, &path, &bytes)
        });
        match outcome {
            Ok(()) => written += 1,
            Err(mut failure) => {
                failed += 1;
                failure.message = format!("row {number}: {}", failure.message);
                console.fail(&failure);
            }
        }
    }
    files::keep_results(folder);
    let words = crate::findings::of(written, "message");
    console.out(&format!("wrote {words} into {}\n", folder.display()));
    Ok(if failed == 0 { Status::Yes } else { Status::NoAnswer })
}

fn one(
    making: &Making<'_>,
    shape: &WireShape,
    paths: &[String],
    cells: &[String],
    console: &mut Console,
) -> Result<(Vec<u8>, &'static str), Failure> {
    let wire_content = making.wire_content(shape, Some((paths, cells)), console)?;
    let form = making.form(shape);
    let bytes = making.rendered(shape, &wire_content, form)?;
    Ok((bytes, ending(form, &making.message(shape, wire_content))))
}

/// Makes a folder, if it is not there.
pub fn make_folder(folder: &Path) -> Result<(), Failure> {
    std::fs::create_dir_all(folder).map_err(|error| {
        Failure::new(format!("the folder could not be made: {error}"))
            .at(folder.display().to_string())
            .help("name another folder")
    })
}
