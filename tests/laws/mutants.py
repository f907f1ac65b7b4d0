"""Small seeded mistakes put into the code, one at a time: does a test notice each?"""

import ast
import hashlib
import os
import shutil
import subprocess
import sys
from collections import Counter
from itertools import islice
from pathlib import Path
from typing import NamedTuple

from coverage import CoverageData

ROOT = Path(__file__).parents[2]
#: What need not be noticed.
SAME = Path(__file__).with_name("changing-nothing.txt")
#: Layers that are spoiled.
LAYERS = ("core", "live", "claims", "words", "study")
#: Folders of tests in the order in which they are asked.
_ORDER = ("truth/test_approved.py", "core", "tables", "study", "live", "words", "account", "truth", "command",
          "pictures", "desktop", "journeys")  # fmt: skip
_COMPARED = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq,
             ast.NotEq: ast.Eq, ast.Is: ast.IsNot, ast.IsNot: ast.Is}  # fmt: skip
_JOINED = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
#: No test should have to notice these: they say how long something may take, not what comes out.
_LEFT = ("_AT_ONCE", "_KEPT", "MOST_", "COMPENSATED", "__name__", "TYPE_CHECKING")


class Mutant(NamedTuple):
    """One mistake: in which file, on which line, and the lines before and after it."""

    path: Path
    line: int
    before: str
    after: str


def spots(path):
    """Every place of a file where a small mistake can be made: the node, and what to put there."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    annotations = set()
    for node in ast.walk(tree):
        parts = [getattr(node, name, None) for name in ("annotation", "returns")]
        for part in (*parts, *(node.decorator_list if hasattr(node, "decorator_list") else ())):
            if part is not None:
                annotations |= {id(one) for one in ast.walk(part)}
    inside = [node for top in tree.body if isinstance(top, ast.FunctionDef | ast.ClassDef)
              for node in ast.walk(top) if id(node) not in annotations]  # fmt: skip
    for node in inside:
        for changed in changes_of(node):
            if node.lineno == node.end_lineno:
                yield node, changed


def changes_of(node):
    """What may stand in place of a node."""
    if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARED:
        yield ast.Compare(node.left, [_COMPARED[type(node.ops[0])]()], node.comparators)
    elif isinstance(node, ast.BinOp) and type(node.op) in _JOINED and not _texts(node):
        yield ast.BinOp(node.left, _JOINED[type(node.op)](), node.right)
    elif isinstance(node, ast.BoolOp) and len(node.values) == 2:
        yield ast.BoolOp(ast.Or() if isinstance(node.op, ast.And) else ast.And(), node.values)
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not | ast.USub):
        yield node.operand
    elif (
        isinstance(node, ast.Constant)
        and isinstance(node.value, int | float)
        and type(node.value) is not bool
    ):
        yield ast.Constant(node.value + 1)
    elif isinstance(node, ast.IfExp):
        yield ast.IfExp(node.test, node.orelse, node.body)


def _texts(node):
    return any(isinstance(one, ast.JoinedStr) or (isinstance(one, ast.Constant) and isinstance(one.value, str))
               for one in ast.walk(node))  # fmt: skip


def mutants(layer, number, seed):
    """So many mistakes in a layer, drawn from a seed: each place as likely as any other.

    What is drawn rests on the lines themselves, so that a change elsewhere leaves the draw as it was.
    """
    known, found = changing_nothing(), []
    for path in sorted((ROOT / "src/bright_tether" / layer).rglob("*.py")):
        lines = path.read_text(encoding="utf-8").splitlines(keepends=True)
        seen = Counter()
        for node, changed in spots(path):
            line = lines[node.lineno - 1]
            held, start, end = line.encode(), node.col_offset, node.end_col_offset
            after = (held[:start] + b"(" + ast.unparse(changed).encode() + b")" + held[end:]).decode()
            told_as = told_alike(path, line, after)
            seen[told_as] += 1
            if told_as in known or any(word in line for word in _LEFT):
                continue
            lot = hashlib.blake2b(f"{seed} {told_as} {seen[told_as]}".encode()).digest()
            found.append((lot, Mutant(path, node.lineno, line, after), "".join(lines[: node.lineno - 1]),
                          "".join(lines[node.lineno :])))  # fmt: skip
    found.sort(key=lambda one: one[0])
    return list(islice((one for _, one, *around in found if _stands(one, *around)), number))


def _stands(mutant, before, behind):
    """Whether it is a program at all; inside the braces of a text it may be none."""
    try:
        ast.parse(f"{before}{mutant.after}{behind}")
    except SyntaxError:
        return False
    return True


def changing_nothing():
    """Mistakes that were read and found to change nothing that anybody could notice, as they are told."""
    return {
        line for line in SAME.read_text(encoding="utf-8").splitlines() if line and not line.startswith("#")
    }


def told_alike(path, before, after):
    """A mistake wherever its line stands in the file."""
    place = path.relative_to(ROOT / "src/bright_tether")
    return f"{place}: {before.strip()}  ->  {after.strip()}"


def map_lines(folder):
    """Which tests run which line: one run of the whole suite, each line noted with the tests that came by.

    Returns {file under src: {line: [test, …]}}, tests that need no window first.
    """
    data = folder / "lines.coverage"
    call = [sys.executable, "-m", "pytest", "-q", "-n", "2", "--dist", "worksteal", "--cov", "--cov-context=test",
            "--cov-report=", "--deselect", "tests/repo", "--ignore", "tests/repo"]  # fmt: skip
    environment = os.environ | {"COVERAGE_FILE": str(data), "QT_QPA_PLATFORM": "offscreen"}
    subprocess.run(call, cwd=ROOT, env=environment, capture_output=True, check=False)
    held = CoverageData(str(data))
    held.read()
    found = {}
    for name in held.measured_files():
        lines = {line: sorted({one.split("|")[0] for one in told if one}, key=_first)
                 for line, told in held.contexts_by_lineno(name).items()}  # fmt: skip
        found[str(Path(name).relative_to(ROOT / "src"))] = lines
    return found


def _first(test):
    """Tests in the order in which they are likely to notice, and to be quick."""
    return next(
        (at for at, folder in enumerate(_ORDER) if test.startswith(f"tests/{folder}")), len(_ORDER)
    ), test


def those_running(mutant, known):
    """The tests that run the line of a mutant; for a line read once, those of its file, or of its layer."""
    place = mutant.path.relative_to(ROOT / "src")
    lines = known.get(str(place), {})
    of_file = sorted({one for tests in lines.values() for one in tests}, key=_first)
    return lines.get(mutant.line) or of_file or ["tests/truth/test_approved.py", f"tests/{place.parts[1]}"]


def caught(mutant, folder, tests):
    """Whether one of the tests notices; what runs for ever is noticed, and what no test runs is not."""
    if not tests:
        return False
    shutil.copytree(ROOT / "src", folder / "src", dirs_exist_ok=True)
    place = folder / "src" / mutant.path.relative_to(ROOT / "src")
    lines = mutant.path.read_text(encoding="utf-8").splitlines(keepends=True)
    lines[mutant.line - 1] = mutant.after
    place.write_text("".join(lines), encoding="utf-8")
    environment = os.environ | {"PYTHONPATH": str(folder / "src"), "QT_QPA_PLATFORM": "offscreen",
                                "PYTHONDONTWRITEBYTECODE": "1"}  # fmt: skip
    listed = folder / "tests.txt"
    listed.write_text("\n".join(tests), encoding="utf-8")
    call = [sys.executable, "-m", "pytest", "-x", "-q", "--no-header", "-p", "no:cacheprovider", f"@{listed}"]
    try:
        ended = subprocess.run(call, cwd=ROOT, env=environment, capture_output=True, timeout=400, check=False)
    except subprocess.TimeoutExpired:
        return True
    return ended.returncode != 0


def told(mutant):
    """A mutant in one line."""
    return f"{mutant.line}: {told_alike(mutant.path, mutant.before, mutant.after)}"
