"""Odd data and odd calls: exit 0 with nulls and why, or one line; never a traceback."""

import contextlib
import io
import json
import os
import random
import subprocess
import sys
import warnings

import numpy as np
import pytest

from bright_tether.command.parser import run

BASE = ["--x", "x", "--y", "y", "--rows", "--at", "-5,3,1e308", "--inverse-at", "0,-1e308,1e-308"]
BASE += ["--mean-of", "3"]
CALLS = (
    [], ["--no-intercept"], ["--weights", "w"], ["--weights", "w", "--new-weight", "2"],
    ["--weight-pattern", "inverse-x2"], ["--weight-pattern", "inverse-x"],
    ["--weight-pattern", "inverse-fitted2"],
    ["--group", "g", "--margin", "1"], ["--second-response", "z", "--margin", "1"],
    ["--second-response", "z", "--rows-are", "settings"], ["--errors", "HC3"], ["--errors", "HC0"],
    ["--errors", "newey_west", "--order", "z"], ["--errors", "clustered", "--cluster", "g"],
    ["--cluster", "g"],
    ["--resample", "20", "--seed", "1"], ["--agreement"], ["--decide", "kendall"],
    ["--decide", "spearman", "--alternative", "less"], ["--slope-0", "2"], ["--slope-0", "1e308"],
    ["--alpha", "1e-300"], ["--level", "0.999999999999"], ["--group", "g", "--errors", "HC3"],
)  # fmt: skip
#: Never there, or there only when it was asked for.
FREE = ("unit", "instead_of", "equivalence", "lag", "why")


def columns():
    """Small, flat, exact, huge, tiny and gappy columns: x, y, weights, groups, another response."""
    draw = random.Random(3)

    def some(n, size=1.0):
        return [draw.gauss(0, size) for _ in range(n)]

    told = {}
    for n in (1, 2, 3, 4, 8):
        x = some(n)
        told[f"{n} rows"] = (
            x,
            [2 * one + draw.gauss(0, 0.3) for one in x],
            [1.5] * n,
            "ABABABAB"[:n],
            some(n),
        )
    told["one x"] = ([3] * 6, some(6), [1] * 6, "AABBCC", some(6))
    told["one y"] = (some(6), [3] * 6, [1] * 6, "AABBCC", some(6))
    told["exact"] = (range(6), [2 * at + 1 for at in range(6)], [1, 2, 3, 1, 2, 3], "AABBAB", range(0, 18, 3))
    told["a row alone"] = ([1, 1, 1, 1, 1, 9], some(6), [1] * 6, "ABABAB", some(6))
    told["no x"] = ([""] * 6, some(6), [1] * 6, "ABABAB", some(6))
    sizes = {"huge": (1e300, 1e300), "tiny": (1e-300, 1e-300), "apart": (1e300, 1e-300)}
    for name, (a, b) in (sizes | {"the limit": (1.7e308, 1.7e308), "the least": (5e-324, 1)}).items():
        x, y, z = ([draw.uniform(-1, 1) * size for _ in range(8)] for size in (a, b, b))
        told[name] = (x, y, [draw.uniform(0.1, 1) for _ in range(8)], "ABABABAB", z)
    x = some(8)
    x[3] = 9.96921e36
    told["a fill value"] = (x, some(8), [1] * 8, "ABABABAB", some(8))
    told["weights apart"] = (some(8), some(8), [1e300] * 7 + [1e-300], "AAAAABBC", some(8))
    return told


SETS = columns()


def call(folder, name, more, form):
    """Code, output and error of one call; a warning counts as an error."""
    path = folder / "odd.csv"
    rows = (",".join(map(str, row)) for row in zip(*SETS[name], strict=True))
    path.write_text("\n".join(("x,y,w,g,z", *rows)) + "\n")
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err), warnings.catch_warnings():
        warnings.simplefilter("error")
        code = run(["analyse", str(path), *BASE, *more, "--format", form], lambda _: 99)
    return code, out.getvalue(), err.getvalue()


def unexplained(part, above=()):
    """Every value that is missing without a reason."""
    if isinstance(part, dict):
        why = part.get("why") or {}
        for key, value in part.items():
            if value is None and key not in (*FREE, *why, *above):
                yield key
            yield from unexplained(value, ())
    elif isinstance(part, list):
        for value in part:
            yield from unexplained(value)


def faults(folder, names):
    told = []
    for name in names:
        for more in CALLS:
            code, out, err = call(folder, name, more, "json")
            if code or err:
                told.append((name, more, code, err))
            else:
                told += [(name, more, "without why", key) for key in unexplained(json.loads(out))]
            code, out, err = call(folder, name, more, "text")
            told += [(name, more, "text", code, err)] if code or err or not out else []
    return told


def test_data_that_allow_little_give_nulls_and_why(tmp_path):
    assert not faults(tmp_path, ("2 rows", "one x", "apart"))


@pytest.mark.verify
def test_every_odd_call(tmp_path, capsys):
    found = faults(tmp_path, SETS)
    with capsys.disabled():
        print(f"\nodd calls: {2 * len(SETS) * len(CALLS)}, {len(found)} faults")
    assert not found


def test_two_pairs_tell_what_they_can(tmp_path):
    told = json.loads(call(tmp_path, "2 rows", [], "json")[1])
    assert told["pairs"]["n"] == 2
    assert abs(told["correlation"]["pearson"]["r"]) == 1
    assert told["correlation"]["kendall"]["z"] == pytest.approx(told["correlation"]["kendall"]["tau_b"])
    assert told["line"]["slope"] is not None
    assert "degrees of freedom" in told["line"]["why"]["s"]
    assert told["predictions"][1]["fitted"] is not None
    assert told["decision"]["reject"] is None


def test_the_slope_decides_where_only_it_can(tmp_path):
    told = json.loads(call(tmp_path, "8 rows", ["--errors", "HC3", "--decide", "kendall"], "json")[1])
    assert (told["decision"]["test"], told["decision"]["instead_of"]) == ("slope", "kendall")
    told = json.loads(call(tmp_path, "8 rows", [], "json")[1])
    assert (told["decision"]["test"], told["decision"]["instead_of"]) == ("pearson", None)


def test_units_that_differ_are_not_subtracted(tmp_path):
    path = tmp_path / "u.csv"
    rows = "".join(f"{at},{at * 2 + at % 3},{at * 5 - at % 4}\n" for at in range(9))
    path.write_text("x,a (kg),b (m)\n" + rows)
    out = io.StringIO()
    with contextlib.redirect_stdout(out):
        assert run(["analyse", str(path), "--x", "x", "--y", "a", "--second-response", "b", "--margin", "1",
                    "--format", "json"], lambda _: 99) == 0  # fmt: skip
    told = json.loads(out.getvalue())["comparison"]
    for name in ("slopes", "intercepts", "heights", "parallel", "coincident", "equivalence", "same_rows"):
        assert told[name] is None
        assert "different units" in told["why"][name]
    assert told["correlations"]["dependent"]["t"] is not None


COMMAND = [sys.executable, "-c", "import sys; from bright_tether.launcher import main; sys.exit(main())"]


@pytest.mark.parametrize("words", ["No space left on device", "went away"])
def test_output_that_nobody_takes_is_one_line(tmp_path, words):
    path = tmp_path / "a.csv"
    path.write_text("x,y\n" + "".join(f"{at},{at * at % 17}\n" for at in range(300)))
    ear, mouth = os.pipe()
    os.close(ear)
    if words != "went away":
        os.close(mouth)
        mouth = os.open("/dev/full", os.O_WRONLY)
    ended = subprocess.run([*COMMAND, "analyse", str(path), *BASE, "--format", "json"], stdout=mouth,
                           stderr=subprocess.PIPE, text=True, check=False)  # fmt: skip
    os.close(mouth)
    assert ended.returncode == 2
    assert words in ended.stderr
    assert ended.stderr.count("\n") == 1


def test_output_that_knows_few_letters(tmp_path):
    path = tmp_path / "a.csv"
    path.write_text("Größe,y\n1,2\n2,3\n3,7\n4,4\n")
    ended = subprocess.run([*COMMAND, "analyse", str(path), "--x", "Größe", "--y", "y"], capture_output=True,
                           env={"PYTHONIOENCODING": "ascii", "LC_ALL": "C.UTF-8"}, check=False)  # fmt: skip
    assert (ended.returncode, ended.stderr) == (0, b"")
    assert b"Gr??e" in ended.stdout


def test_weights_by_a_pattern_are_the_weights_of_a_column(tmp_path):
    x = [1.0, 2.0, 2.5, 4.0, 7.0, 9.0]
    y = [1.1, 2.3, 2.2, 4.6, 6.1, 9.9]
    line = np.polyfit(x, y, 1)
    weights = {"inverse-x": 1 / np.array(x), "inverse-x2": 1 / np.array(x) ** 2,
               "inverse-fitted2": 1 / np.polyval(line, x) ** 2}  # fmt: skip
    for pattern, column in weights.items():
        path = tmp_path / "w.csv"
        rows = (f"{a!r},{b!r},{float(w)!r}" for a, b, w in zip(x, y, column, strict=True))
        path.write_text("x,y,w\n" + "\n".join(rows) + "\n")
        told = []
        new = float(1 / 3.0 ** (1 if pattern == "inverse-x" else 2))
        new = float(1 / np.polyval(line, 3.0) ** 2) if pattern == "inverse-fitted2" else new
        for more in (["--weight-pattern", pattern], ["--weights", "w", "--new-weight", repr(new)]):
            out = io.StringIO()
            with contextlib.redirect_stdout(out):
                call_of = ["analyse", str(path), "--x", "x", "--y", "y", "--at", "3", "--format", "json"]
                assert run([*call_of, *more], lambda _: 99) == 0
            told.append(json.loads(out.getvalue()))
        one, two = told
        for name in ("slope", "se_slope", "s", "r2", "ss_total"):
            assert one["line"][name] == pytest.approx(two["line"][name], rel=1e-9), (pattern, name)
        assert one["predictions"][0]["pi"] == pytest.approx(two["predictions"][0]["pi"], rel=1e-9), pattern
        assert one["inverse"] == two["inverse"] == []
