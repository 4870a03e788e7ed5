"""Small changes to core/ or job/, one at a time, to see whether the tests notice; for a Python that has cosmic-ray.

Usage: PYTHON tools/mutate.py COUNT [SEED [OUT.json [core|job]]]; of job COUNT in each of its rooms. Takes a seeded
sample of the tool's changes (an operator turned, a comparison shifted, *and* for *or*, a sign) and of constants off by
7 %, each in a copy of the tree; runs the tests of its room, then all of its layer and what rests on that. Prints what
was noticed and every change that was not.
"""

import json
import random
import re
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from queue import Queue

from cosmic_ray import plugins
from cosmic_ray.ast import ast_nodes, get_ast_from_path
from cosmic_ray.mutating import mutate_code

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "src" / "vernus" / "core"
JOB = ROOT / "src" / "vernus" / "job"
PYTHON = ROOT / ".venv" / "bin" / "python"
MEANT = re.compile(
    r"ReplaceBinaryOperator_(Add_Sub|Sub_Add|Mul_Div|Div_Mul|Pow_Mul)|ReplaceComparisonOperator_(Lt_LtE|LtE_Lt|Gt_GtE|GtE_Gt"
    r"|Lt_Gt|Gt_Lt|Eq_NotEq|Is_IsNot|In_NotIn)|ReplaceAndWithOr|ReplaceOrWithAnd|ReplaceUnaryOperator_(USub_UAdd|Delete_Not"
    r"|Not_Nothing|USub_Nothing)|AddNot|ReplaceTrueWithFalse|ReplaceFalseWithTrue|ReplaceBreakWithContinue"
)
NUMBER = re.compile(r"(?<![\w.\"'])(\d+\.\d+|\d+e-?\d+)(?![\w\"'])")
LIMIT_S = 900


def changes(where):
    """(module, what, code after) of every change there is, made when it is drawn."""
    found = []
    names = [n for n in plugins.operator_names() if MEANT.search(n)]
    for path in sorted(where.rglob("*.py")):
        if path.name == "__init__.py" or path.name == "hardware_tables.py":
            continue
        tree = list(ast_nodes(get_ast_from_path(path)))
        for name in names:
            operator = plugins.get_operator(name)()
            count = sum(len(list(operator.mutation_positions(node))) for node in tree)
            found += [(path, name, n) for n in range(count)]
        code = path.read_text()
        found += [(path, "7 %", m.start()) for m in NUMBER.finditer(code) if not _in_words(code, m.start())]
    return found


def _in_words(code, at):
    line = code[code.rfind("\n", 0, at) + 1 : at]
    return line.count('"') % 2 == 1 or line.lstrip().startswith(("#", '"""')) or code[:at].count('"""') % 2 == 1


def changed(path, name, at):
    code = path.read_text()
    if name != "7 %":
        return mutate_code(code, plugins.get_operator(name)(), at)
    number = NUMBER.match(code, at)[1]
    return code[:at] + repr(float(number) * 1.07) + code[at + len(number) :]


def difference(path, after):
    """The line that changed, before and after."""
    lines = zip(path.read_text().splitlines(), after.splitlines(), strict=False)
    return next((f"{a.strip()}  →  {b.strip()}" for a, b in lines if a != b), "")


def _stages_of_core(tree, room):
    near = [p for p in (f"tests/core/{room}", f"tests/core/test_{room}.py", f"tests/job/{room}") if (tree / p).exists()]
    return [near[:1], near[1:], ["tests/core", "tests/reference", "tests/job/test_laws.py"]]


def noticed(tree, path, after):
    """By which tests, "" by none."""
    target = tree / path.relative_to(ROOT)
    before = target.read_text()
    target.write_text(after)
    layer = CORE if path.is_relative_to(CORE) else JOB
    room = path.relative_to(layer).parts[0].removesuffix(".py")
    near = [p for p in (f"tests/job/{room}", f"tests/job/test_{room}.py") if (tree / p).exists()]
    stages = [near, ["tests/job"], ["tests/paper", "tests/cli", "tests/stories", "tests/shop"]]
    if layer is CORE:
        stages = _stages_of_core(tree, room)
    try:
        for tests in filter(None, stages):
            command = [PYTHON, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
            environment = {"PYTHONPATH": str(tree / "src"), "PATH": "/usr/bin:/bin", "PYTHONDONTWRITEBYTECODE": "1",
                           "HOME": str(tree)}  # fmt: skip
            try:
                done = subprocess.run(
                    command, cwd=tree, env=environment, capture_output=True, timeout=LIMIT_S, check=False
                )
            except subprocess.TimeoutExpired:
                return "time"
            if done.returncode:
                return " ".join(tests)
        return ""
    finally:
        target.write_text(before)


def drawn(count, seed, layer):
    """A sample of the changes there are: of job so many in each room."""
    chance = random.Random(seed)
    if layer == "core":
        return chance.sample(changes(CORE), count)
    rooms = {}
    for change in changes(JOB):
        rooms.setdefault(change[0].relative_to(JOB).parts[0] if change[0].parent != JOB else "", []).append(change)
    return [c for room in rooms.values() for c in chance.sample(room, min(count, len(room)))]


def main(count, seed, out, layer):
    sample = drawn(count, seed, layer)
    trees = Queue()
    folder = Path(tempfile.mkdtemp())
    for n in range(2):
        tree = folder / str(n)
        for name in ("src", "tests", "tools", "docs", "benchmarks", "pyproject.toml"):
            source = ROOT / name
            (shutil.copytree if source.is_dir() else shutil.copy)(source, tree / name)
        trees.put(tree)

    def one(change):
        path, name, at = change
        after = changed(path, name, at)
        if after is None or after == path.read_text():
            return None
        tree = trees.get()
        try:
            by = noticed(tree, path, after)
        finally:
            trees.put(tree)
        row = {
            "module": str(path.relative_to(ROOT / "src" / "vernus")),
            "change": name,
            "line": difference(path, after),
            "by": by,
        }
        print("noticed" if by else "LEFT   ", row["module"], name.split("/")[-1], "|", row["line"], flush=True)
        return row

    module = CORE / "budget.py"
    whole = noticed(folder / "0", module, module.read_text())
    if whole:
        sys.exit(f"The tests are red without any change: {whole}. Nothing is measured by them.")
    with ThreadPoolExecutor(2) as pool:
        rows = [r for r in pool.map(one, sample) if r is not None]
    kept = sum(bool(r["by"]) for r in rows)
    print(f"{kept} of {len(rows)} noticed")
    if out:
        Path(out).write_text(json.dumps(rows, indent=1, ensure_ascii=False))
    shutil.rmtree(folder)


if __name__ == "__main__":
    given = [*sys.argv[1:], *(None, "1", "", "core")[len(sys.argv) - 1 :]]
    main(int(given[0]), int(given[1]), given[2], given[3])
