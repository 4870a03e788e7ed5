"""Puts Vernus among the user's applications, or takes it away again; needs no root and touches no job.

Usage: tools/install.py install|uninstall. The program goes into a virtual environment of its own under
~/.local/lib/vernus, built from this checkout and the pinned requirements; launcher, icons, file type, metainfo, man
page and completion go into the places of the XDG base directories. Exactly what is put down there is taken away again.
"""

import os
import shutil
import subprocess
import sys
import venv
from pathlib import Path

ROOT = Path(__file__).parent.parent
SHARE = ROOT / "src" / "vernus" / "data" / "share"
HOME = Path.home()
DATA = Path(os.environ.get("XDG_DATA_HOME") or HOME / ".local" / "share")
PROGRAM = HOME / ".local" / "lib" / "vernus"
BIN = HOME / ".local" / "bin" / "vernus"
PUT = {
    "vernus.desktop": DATA / "applications",
    "vernus.svg": DATA / "icons" / "hicolor" / "scalable" / "apps",
    "application-x-vernus-job.svg": DATA / "icons" / "hicolor" / "scalable" / "mimetypes",
    "vernus-mime.xml": DATA / "mime" / "packages",
    "example.vernus.Vernus.metainfo.xml": DATA / "metainfo",
    "vernus.1": DATA / "man" / "man1",
    "vernus.bash": DATA / "bash-completion" / "completions",
}
NAMED = {"vernus.bash": "vernus"}


def main() -> None:
    if sys.argv[1:] == ["install"]:
        install()
    elif sys.argv[1:] == ["uninstall"]:
        uninstall()
    else:
        sys.exit(__doc__)


def targets() -> list[tuple[Path, Path]]:
    return [(SHARE / name, folder / NAMED.get(name, name)) for name, folder in PUT.items()]


def install() -> None:
    if BIN.exists() and not BIN.is_symlink():
        sys.exit(f"{BIN} is there already and is not ours; move it away first.")
    if not (PROGRAM / "bin" / "python").exists():
        venv.create(PROGRAM, with_pip=True)
    pip = [PROGRAM / "bin" / "python", "-m", "pip", "install", "-q", "--disable-pip-version-check"]
    subprocess.run([*pip, "--require-hashes", "-r", ROOT / "requirements" / "run.txt"], check=True)
    subprocess.run([*pip, "--no-deps", "--no-build-isolation", "--force-reinstall", ROOT], check=True)
    BIN.parent.mkdir(parents=True, exist_ok=True)
    BIN.unlink(missing_ok=True)
    BIN.symlink_to(PROGRAM / "bin" / "vernus")
    put_files()
    print(f"Vernus is among your applications; on the command line it is {BIN}.")


def put_files() -> None:
    for source, target in targets():
        if (target.exists() or target.is_symlink()) and not ours(source, target):
            print(f"{target} is there already and is not ours; it is left as it is.")
            continue
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_text(put_as(source))
    refresh()


def put_as(source: Path) -> str:
    """A file as it is put down. A desktop may not have ~/.local/bin in its path: the launcher names it in full."""
    text = source.read_text()
    return text.replace("Exec=vernus", f"Exec={quoted(BIN)}") if source.name == "vernus.desktop" else text


def quoted(path: Path) -> str:
    """A path as an argument of a launcher: in quotes, what means something inside them escaped, a per cent doubled."""
    escaped = "".join(f"\\{c}" if c in '"`$\\' else c for c in str(path)).replace("%", "%%")
    return '"' + escaped.replace("\\", "\\\\") + '"'


def ours(source: Path, target: Path) -> bool:
    """Whether an install of this or an earlier Vernus put a file down: no link, its words after the first line."""
    if target.is_symlink() or not target.is_file():
        return False
    there, here = target.read_text(errors="replace"), source.read_text()
    return there.splitlines()[1:5] == here.splitlines()[1:5]  # the first line may name a version


def uninstall() -> None:
    take_files()
    if BIN.is_symlink():
        BIN.unlink()
    shutil.rmtree(PROGRAM, ignore_errors=True)
    print("Vernus is no longer among your applications. Your jobs, templates and kit are where they were.")


def take_files() -> None:
    for source, target in targets():
        if ours(source, target):
            target.unlink()
    refresh()
    if not any((DATA / "mime" / "packages").glob("*")):
        shutil.rmtree(DATA / "mime", ignore_errors=True)  # only what was made from packages is left in it
    left = list((DATA / "applications").glob("*"))
    if [path.name for path in left] == ["mimeinfo.cache"]:
        left[0].unlink()
    for _, target in targets():
        for folder in target.parents:
            if folder == DATA or not folder.is_relative_to(DATA) or not folder.is_dir() or any(folder.iterdir()):
                break
            folder.rmdir()


def refresh() -> None:
    """Tell the desktop, where it has what is needed for that."""
    for command in (["update-mime-database", DATA / "mime"], ["update-desktop-database", DATA / "applications"]):
        if shutil.which(str(command[0])) and Path(command[1]).is_dir():
            subprocess.run(command, check=False, capture_output=True)


if __name__ == "__main__":
    main()
