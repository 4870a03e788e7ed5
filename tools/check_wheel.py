"""Builds the wheel, installs it alone into a fresh environment, and checks that it holds what the app needs."""

import subprocess
import sys
import sysconfig
import tempfile
import venv
import zipfile
from pathlib import Path

ROOT = Path(__file__).parent.parent
NEEDED = (
    "vernus/data/families.json",
    "vernus/data/machines.json",
    "vernus/data/practice.json",
    "vernus/data/demo/mill.json",
    "vernus/data/fonts/B612-Regular.otf",
    "vernus/data/fonts/LICENSE-B612.txt",
    "vernus/data/arrow-light.svg",
    "vernus/data/share/vernus.desktop",
    "vernus/data/share/vernus.svg",
    "vernus/data/share/vernus-mime.xml",
    "vernus/data/share/example.vernus.Vernus.metainfo.xml",
    "vernus/data/share/vernus.1",
)


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        build = [sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "--no-build-isolation", "-w", name, str(ROOT)]
        subprocess.run(build, check=True)
        (wheel,) = folder.glob("vernus-*.whl")
        held = zipfile.ZipFile(wheel).namelist()
        missing = [n for n in NEEDED if n not in held]
        if missing or not any(n.endswith("licenses/LICENSE") for n in held):
            sys.exit(f"The wheel lacks {missing or 'LICENSE'}.")
        if any(n.startswith(("tests/", "tools/", "benchmarks/")) for n in held):
            sys.exit("The wheel holds tests or tools.")
        venv.create(folder / "fresh", with_pip=False)
        library = next((folder / "fresh").glob("lib/python*/site-packages"))
        zipfile.ZipFile(wheel).extractall(library)
        # The pinned requirements are lent from this environment; vernus itself must come from the wheel.
        (library / "lent.pth").write_text(sysconfig.get_paths()["purelib"] + "\n")
        python = folder / "fresh" / "bin" / "python"
        probe = (
            "import sys; sys.meta_path[:] = [f for f in sys.meta_path if 'editable' not in repr(f)];"
            "import vernus; assert 'fresh' in vernus.__file__, vernus.__file__;"
            "from vernus.cli.main import main; sys.exit(main(sys.argv[1:]))"
        )
        job, report, export = f"{name}/demo.vernus", f"{name}/demo.pdf", str(ROOT / "src/vernus/data/demo/mill.json")
        for words in (
            ["calc", "size", "--travel", "262"],
            ["import", export, "-o", job],
            ["report", job, "-o", report],
        ):
            subprocess.run([python, "-c", probe, *words], check=True, stdout=subprocess.DEVNULL)
        size_kb = (folder / "demo.pdf").stat().st_size / 1000
    print(f"The wheel holds what it needs; the demo report from it has {size_kb:.0f} kB.")


if __name__ == "__main__":
    main()
