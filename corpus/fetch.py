"""Fetches the sources of the corpus and lays them out: see `scripts/corpus`.

Writes `FOLDER/files/LANGUAGE/` (as they are) and `FOLDER/formatted/LANGUAGE/` (as their formatter wrote them). What is there already
is not fetched again. What cannot be fetched, and what a formatter refuses or changes twice, is told and left out.
"""

import fnmatch
import os
import random
import shutil
import subprocess
import sys
import tarfile
import tomllib
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

MOST_FILES = 80  # of each language: a file more teaches little
SIZES = range(400, 40_000)  # bytes


def run(command, **options):
    done = subprocess.run(command, capture_output=True, text=True, **options)
    if done.returncode != 0:
        raise RuntimeError(f"{' '.join(map(str, command))}: {(done.stderr or done.stdout).strip()[-300:]}")
    return done.stdout


def unpack(archive, folder):
    folder.mkdir(parents=True, exist_ok=True)
    if archive.suffix in (".whl", ".zip"):
        with zipfile.ZipFile(archive) as opened:
            opened.extractall(folder)
    elif archive.suffix == ".deb":
        run(["dpkg-deb", "-x", archive, folder])
    else:
        with tarfile.open(archive) as opened:
            opened.extractall(folder, filter="data")


def fetch(source, folder):
    """Fetches a package into a folder of its own by the registry's ordinary client."""
    registry, package = source["registry"], source["package"]
    own = folder / registry / package.replace("/", "_").replace("=", "_")
    if (own / "fetched").exists():
        return own
    shutil.rmtree(own, ignore_errors=True)
    own.mkdir(parents=True)
    if registry == "npm":
        run(["npm", "pack", "--silent", package], cwd=own)
    elif registry == "pypi":
        run([sys.executable, "-m", "pip", "download", "-q", "--no-deps", "-d", own, package])
    elif registry == "debian":
        run(["apt-get", "download", package], cwd=own)
    elif registry == "crates":
        name, version = package.split("@")
        manifest = f'[package]\nname = "fetched"\nversion = "0.1.0"\n[workspace]\n[lib]\npath = "lib.rs"\n[dependencies]\n"{name}" = "={version}"\n'
        (own / "Cargo.toml").write_text(manifest)
        (own / "lib.rs").write_text("")
        # In a home of its own: tests read the packages of this build from the usual one.
        home = {**os.environ, "CARGO_HOME": str(folder / "cargo")}
        run(["cargo", "vendor", "-q", "--versioned-dirs"], cwd=own, env=home)
        for other in (own / "vendor").iterdir():
            if other.name != f"{name}-{version}":
                shutil.rmtree(other)
    for archive in list(own.iterdir()):
        if archive.suffix in (".tgz", ".whl", ".deb", ".gz", ".zip"):
            unpack(archive, own)
            archive.unlink()
    (own / "fetched").touch()
    return own


def taken(source, own):
    """The files of a package by language, each with a name that tells where it is from."""
    files = [path for path in own.rglob("*") if path.is_file() and not path.is_symlink()]
    found = {}
    for language, patterns in source["take"].items():
        for path in files:
            inner = str(path.relative_to(own))
            if any(fnmatch.fnmatch(inner, pattern) or fnmatch.fnmatch(inner, f"*/{pattern}") for pattern in patterns):
                if path.stat().st_size in SIZES and ".min." not in path.name and "testdata" not in path.parts:
                    found.setdefault(language, []).append(path)
    return found


def name_of(index, path):
    return f"{index:03}-{path.name}"


def formatters(rules, folder):
    """The formatters by language, installed where a registry has them."""
    tools = {}
    for rule in rules:
        path = os.environ["PATH"]
        where = folder / "tools"
        try:
            if "npm" in rule:
                own = where / ("npm-" + "-".join(rule["npm"]).replace("/", "_"))
                if not (own / "node_modules").exists():
                    own.mkdir(parents=True, exist_ok=True)
                    run(["npm", "install", "--silent", "--no-audit", "--no-fund", "--prefix", own, *rule["npm"]])
                path = f"{own / 'node_modules/.bin'}:{path}"
                cwd = own
            elif "pypi" in rule:
                own = where / ("pypi-" + "-".join(rule["pypi"]))
                if not (own / "bin").exists():
                    run([sys.executable, "-m", "venv", own])
                    run([own / "bin/pip", "install", "-q", *rule["pypi"]])
                path = f"{own / 'bin'}:{path}"
                cwd = own
            elif "debian" in rule:
                own = where / f"debian-{rule['debian']}"
                if not own.exists():
                    own.mkdir(parents=True)
                    run(["apt-get", "download", rule["debian"]], cwd=own)
                    for archive in own.glob("*.deb"):
                        unpack(archive, own)
                path = f"{own / 'usr/bin'}:{path}"
                cwd = own
            else:
                cwd = folder
        except RuntimeError as error:
            print(f"no formatter for {', '.join(rule['languages'])}: {error}", file=sys.stderr)
            continue
        for language in rule["languages"]:
            tools[language] = (rule["commands"], {**os.environ, "PATH": path}, cwd)
    return tools


def is_mixed(text):
    """Whether a formatter that indents by tabs has left lines as they were, with their spaces."""
    lines = text.decode(errors="replace").splitlines()
    return any(line.startswith("\t") for line in lines) and any(line.startswith("    ") and line.strip() for line in lines)


def lay_out(tool, index, path):
    """Formats a file until it stays as it is. The files take turns with the settings of a formatter. Says whether it could."""
    commands, env, cwd = tool
    command = [path if part == "{}" else part for part in commands[index % len(commands)]]
    try:
        run(command, env=env, cwd=cwd, timeout=120)
        once = path.read_bytes()
        run(command, env=env, cwd=cwd, timeout=120)
    except (RuntimeError, OSError, subprocess.TimeoutExpired):
        path.unlink()
        return "refused"
    if path.read_bytes() != once or is_mixed(once):
        path.unlink()
        return "unstable"
    return "formatted"


def main():
    folder, table = Path(sys.argv[1]).resolve(), Path(__file__).with_name("sources.toml")
    with table.open("rb") as opened:
        told = tomllib.load(opened)
    found, laid_out = {}, set()
    for source in told["source"]:
        try:
            own = fetch(source, folder / "packages")
        except (RuntimeError, OSError) as error:
            print(f"left out: {source['registry']} {source['package']}: {error}", file=sys.stderr)
            continue
        for language, paths in taken(source, own).items():
            found.setdefault(language, []).extend(paths)
        laid_out.update(source.get("is_formatted", []))
    tools = formatters(told["formatter"], folder)
    for language, paths in sorted(found.items()):
        files, formatted = folder / "files" / language, folder / "formatted" / language
        if files.exists():
            continue
        paths.sort()
        random.Random(1).shuffle(paths)
        files.mkdir(parents=True)
        chosen = list(enumerate(paths[:MOST_FILES]))
        for index, path in chosen:
            shutil.copy(path, files / name_of(index, path))
        if language not in laid_out and language not in tools:
            print(f"{language}: {len(chosen)} files", file=sys.stderr)
            continue
        formatted.mkdir(parents=True, exist_ok=True)
        copies = [(index, shutil.copy(path, formatted / name_of(index, path))) for index, path in chosen]
        if language in laid_out:
            ends = []
        else:
            with ThreadPoolExecutor(os.cpu_count()) as pool:
                ends = list(pool.map(lambda each: lay_out(tools[language], *each), copies))
        refused, unstable = ends.count("refused"), ends.count("unstable")
        left = f", {refused} refused and {unstable} changed twice by the formatter" if refused + unstable else ""
        print(f"{language}: {len(chosen)} files{left}", file=sys.stderr)


main()
