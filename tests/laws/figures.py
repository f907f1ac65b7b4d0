"""The figures of a tether held against the command's on its exported rows."""

import io
import json
import math
from contextlib import redirect_stderr, redirect_stdout

from bright_tether.account.record import record
from bright_tether.command.parser import run
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings

_SECTIONS = ("correlation", "decision", "line", "checks")


def figures_differ(study, tether, folder):
    """Where window and command differ, or None. Sections with what the file cannot carry are left out."""
    findings = Findings(study, tether)
    chosen = tether.line
    if not findings.tied or not (findings.x_column.numeric and findings.y_column.numeric):
        return None
    if chosen.order or chosen.cluster or chosen.errors == "clustered":
        return None
    try:
        pairs = findings.pairs
        here = json.loads(json.dumps(record(findings), allow_nan=False))
    except Refusal:
        return None
    if not 3 <= pairs.n <= 500:
        return None
    weights = pairs.weights is not None and chosen.weight_pattern is None
    lines = ["x,y,w"]
    for at in range(pairs.n):
        weight = float(pairs.weights[at]) if weights else 1.0
        lines.append(f"{float(pairs.x[at])!r},{float(pairs.y[at])!r},{weight!r}")
    path = folder / "exported.csv"
    path.write_text("\n".join(lines) + "\n")
    rules = findings.rules
    call = ["analyse", str(path), "--x", "x", "--y", "y", "--format", "json", "--alpha", repr(rules.alpha),
            "--level", repr(rules.level), "--alternative", rules.alternative, "--decide", rules.decide,
            "--errors", chosen.errors, "--slope-0", repr(chosen.slope_0), "--intercept-0",
            repr(chosen.intercept_0), "--error-ratio", repr(chosen.error_ratio)]  # fmt: skip
    call += ["--weights", "w"] if weights and not chosen.origin else []
    call += ["--no-intercept"] if chosen.origin else []
    if not 0 < rules.level < 1:
        return None
    out, err = io.StringIO(), io.StringIO()
    with redirect_stdout(out), redirect_stderr(err):
        code = run(call, lambda _: 99)
    if code:
        return f"the command refuses: {err.getvalue()}"
    there = json.loads(out.getvalue())
    for section in _SECTIONS:
        for part in (here, there):
            part[section].pop("within_groups", None)
            part[section].pop("common_slope", None)
        for part in (here, there):
            if section == "checks":
                part[section]["fences"].pop("rows")
        found = _apart(here[section], there[section], section)
        if found:
            return found
    return None


def _apart(a, b, where):
    if isinstance(a, dict) and isinstance(b, dict):
        if a.keys() != b.keys():
            return f"{where}: {sorted(a.keys() ^ b.keys())}"
        return next((told for key in a if (told := _apart(a[key], b[key], f"{where}.{key}"))), None)
    if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        return next((told for i, (x, y) in enumerate(zip(a, b, strict=True))
                     if (told := _apart(x, y, f"{where}[{i}]"))), None)  # fmt: skip
    if isinstance(a, float) and isinstance(b, float):
        return None if math.isclose(a, b, rel_tol=1e-9, abs_tol=1e-300) else f"{where}: {a!r} and {b!r}"
    return None if a == b else f"{where}: {a!r} and {b!r}"
