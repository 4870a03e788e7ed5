"""What `make install` puts down and takes away, and that the files of the desktop are what their standards want."""

import importlib.util
import shutil
import subprocess
import sys
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeDatabase

import vernus
from vernus.cli.main import main

ROOT = Path(__file__).parents[1]
SHARE = ROOT / "src" / "vernus" / "data" / "share"


@pytest.fixture
def installer(own_home, monkeypatch):
    """The installer in an empty home."""
    own_home.mkdir(parents=True)
    monkeypatch.setenv("HOME", str(own_home))
    monkeypatch.delenv("XDG_DATA_HOME", raising=False)
    spec = importlib.util.spec_from_file_location("installer", ROOT / "tools" / "install.py")
    made = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(made)
    assert made.DATA.is_relative_to(own_home)
    return made


def files(folder):
    return sorted(p for p in folder.rglob("*") if p.is_file())


def test_what_is_put_down_is_taken_away_again_and_nothing_else(installer, own_home):
    mine = own_home / ".local" / "share" / "applications" / "mine.desktop"
    mine.parent.mkdir(parents=True)
    mine.write_text("[Desktop Entry]\n")
    installer.put_files()
    assert {t for _, t in installer.targets()} <= set(files(own_home))
    launcher = (own_home / ".local/share/applications/vernus.desktop").read_text()
    assert f'Exec="{installer.BIN}" %f' in launcher
    installer.take_files()
    assert [p for p in files(own_home) if p.name != "mimeinfo.cache"] == [mine]
    mine.unlink()
    installer.put_files()
    installer.take_files()
    assert files(own_home) == []


def test_what_is_the_users_is_neither_overwritten_nor_taken_away(installer, own_home, tmp_path):
    mine = installer.DATA / "bash-completion" / "completions" / "vernus"
    mine.parent.mkdir(parents=True)
    mine.write_text("complete -W 'my own words' vernus\n")
    elsewhere = tmp_path / "elsewhere"
    elsewhere.write_text("precious")
    link = installer.DATA / "applications" / "vernus.desktop"
    link.parent.mkdir(parents=True)
    link.symlink_to(elsewhere)
    installer.put_files()
    assert "my own words" in mine.read_text()
    assert elsewhere.read_text() == "precious"
    installer.take_files()
    assert mine.exists()
    assert link.is_symlink()


def test_a_home_with_a_space_is_quoted_in_the_launcher(installer):
    assert installer.quoted(Path("/home/my name/x")) == '"/home/my name/x"'
    assert installer.quoted(Path('/home/a"b$c%d')) == '"/home/a\\\\"b\\\\$c%%d"'


def run(*command):
    if shutil.which(command[0]) is None:
        pytest.skip(f"{command[0]} isn't here")
    return subprocess.run(command, capture_output=True, text=True, check=False)


def test_the_launcher_and_the_metainfo_are_valid():
    told = run("desktop-file-validate", str(SHARE / "vernus.desktop"))
    assert (told.returncode, told.stdout) == (0, "")
    told = run("appstreamcli", "validate", "--no-net", str(SHARE / "example.vernus.Vernus.metainfo.xml"))
    assert told.returncode == 0, told.stdout


def test_a_job_file_is_known_by_its_type_whatever_it_is_called(installer, own_home, tmp_path, monkeypatch):
    if shutil.which("update-mime-database") is None:
        pytest.skip("update-mime-database isn't here")
    installer.put_files()
    monkeypatch.setenv("XDG_DATA_HOME", str(installer.DATA))
    copied = Path(shutil.copy(ROOT / "tests" / "data" / "version-2" / "mill.vernus", tmp_path / "job"))
    types = QMimeDatabase()
    assert types.mimeTypeForFile(str(copied)).name() == "application/x-vernus-job"
    assert types.mimeTypeForFile("other.vernus").name() == "application/x-vernus-job"


def test_there_is_one_version():
    for name, place in (("example.vernus.Vernus.metainfo.xml", 'version="{}"'), ("vernus.1", '"vernus {}"')):
        assert place.format(vernus.__version__) in (SHARE / name).read_text()
    assert 'dynamic = ["version"]' in (ROOT / "pyproject.toml").read_text()


def test_icons_are_drawings_of_our_own_inks():
    for name in ("vernus.svg", "application-x-vernus-job.svg"):
        root = ElementTree.parse(SHARE / name).getroot()
        assert root.attrib["viewBox"] == "0 0 16 16", "drawn on the grid of the smallest size"
        assert not [e for e in root.iter() if e.tag.endswith(("image", "script", "text"))]


def named(words, capsys):
    """The words listed in a help text."""
    with pytest.raises(SystemExit):
        main([*words, "--help"])
    lines = capsys.readouterr().out.splitlines()
    return [line.split()[0] for line in lines if line.startswith("    ") and line[4] != " "]


def test_the_completion_and_the_manual_know_every_command(capsys):
    commands, calls = named([], capsys), named(["calc"], capsys)
    completion = (SHARE / "vernus.bash").read_text().replace('"', " ").split()
    manual = (SHARE / "vernus.1").read_text().replace(".BI", ".B")
    assert len(commands) >= 9
    assert len(calls) >= 20
    assert [c for c in commands if c not in completion or f".B {c}" not in manual] == []
    assert [c for c in calls if c not in completion] == []


@pytest.mark.parametrize("path", [None, ".:"])
def test_the_packaged_launcher_imports_nothing_from_the_folder_it_runs_in(tmp_path, monkeypatch, path):
    for name in ("vernus", "json", "sqlite3", "numpy", "pydantic", "argparse", "encodings", "site", "sitecustomize"):
        (tmp_path / f"{name}.py").write_text("print('trapped'); raise SystemExit(7)\n")
    home = tmp_path / ".local" / "lib" / f"python{sys.version_info.major}.{sys.version_info.minor}" / "site-packages"
    home.mkdir(parents=True)
    (home / "usercustomize.py").write_text("print('trapped'); raise SystemExit(7)\n")
    libraries = next(p for p in sys.path if p.endswith("site-packages"))
    words = (ROOT / "tools" / "launcher").read_text().replace("/usr/bin/python3", sys.executable)
    added = f'sys.path[1:1] = ["{ROOT / "src"}", "{libraries}"]'
    launcher = tmp_path / "launcher"
    launcher.write_text(words.replace('sys.path.insert(1, "/usr/lib/vernus")', added))
    assert added in launcher.read_text() and sys.executable in launcher.read_text()
    launcher.chmod(0o755)
    monkeypatch.setenv("HOME", str(tmp_path))
    monkeypatch.delenv("PYTHONPATH", raising=False)
    if path is not None:
        monkeypatch.setenv("PYTHONPATH", path)
    told = subprocess.run([launcher, "--version"], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert (told.returncode, told.stdout.strip()) == (0, f"vernus {vernus.__version__}"), told.stderr
    assert "tools/launcher" in (ROOT / "tools" / "deb").read_text()
