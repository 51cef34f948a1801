//! Sheets: drawings to keep, from what the application knows. The drawing itself is in the crate `draw`.

pub mod edit;
pub mod keys;
pub mod ledger;
pub mod listing;

use anyhow::{Context, Result, anyhow, bail};
use snarvel_draw::{Drawing, pdf_pages, svg_pages};
use snarvel_files::save;
use std::io::Write;
use std::path::Path;
use std::process::{Command, Stdio};

/// The command of the system that prints what it is given (POSIX.1-2024, utility `lp`).
const PRINTS: &str = "lp";

/// Hands drawings as PDF to the printer.
///
/// # Errors
/// There is no such command, or it has failed: with what it said.
pub fn print(pages: &[Drawing]) -> Result<()> {
    let bytes = pdf_pages(pages)?;
    let mut child =
        Command::new(PRINTS).stdin(Stdio::piped()).stdout(Stdio::null()).stderr(Stdio::piped()).spawn().map_err(
            |error| anyhow!("not printed: the command {PRINTS} cannot be run ({error}); draw it into a file"),
        )?;
    // Where it has ended already, what it said tells more.
    let _ = child.stdin.take().map(|mut input| input.write_all(&bytes));
    let done = child.wait_with_output().context("the printer")?;
    if !done.status.success() {
        let said = String::from_utf8_lossy(&done.stderr);
        bail!("not printed: {PRINTS} said: {}", said.lines().next().unwrap_or("nothing"));
    }
    Ok(())
}

/// Writes drawings into the file at `path`, as SVG or PDF by its ending: a page each, in SVG one below the other.
///
/// # Errors
/// Another ending; no such folder; a file that cannot be written, which then holds what it held.
pub fn write(pages: &[Drawing], path: &Path) -> Result<()> {
    let ending = path.extension().unwrap_or_default().to_string_lossy().to_lowercase();
    let bytes = match ending.as_str() {
        "svg" => svg_pages(pages).into_bytes(),
        "pdf" => pdf_pages(pages)?,
        _ => bail!("{} is neither .svg nor .pdf: a sheet is one of them", path.display()),
    };
    // A folder is not made by a slip of the finger.
    if let Some(folder) = path.parent().filter(|folder| !folder.as_os_str().is_empty() && !folder.is_dir()) {
        bail!("the sheet {}: there is no folder {}", path.display(), folder.display());
    }
    save::save(path, &bytes).map(drop).with_context(|| format!("the sheet {}", path.display()))
}
