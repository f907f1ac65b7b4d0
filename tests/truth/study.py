"""A study of many cases: what was said, and what of it was wrong."""

from __future__ import annotations

import io
import json
import tempfile
from collections import Counter
from contextlib import redirect_stdout
from pathlib import Path

from bright_tether.command.parser import run
from tests.truth.check import faults
from tests.truth.families import FAMILIES, case


def said(one, *more):
    """The record of a case, as the command prints it."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "pairs.csv"
        file.write_text(one.csv(), encoding="utf-8")
        out = io.StringIO()
        with redirect_stdout(out):
            code = run(
                ["analyse", str(file), *one.call(), *more, "--readings", "--format", "json"], lambda files: 77
            )
    assert code == 0, (one.family, one.seed)
    return json.loads(out.getvalue())


def judged(family, seed):
    """What is wrong with one case, and how many claims of each kind it made."""
    one = case(family, seed)
    record = said(one)
    return faults(one, record), Counter(entry["kind"] for entry in record["readings"])


def many(seeds, families=tuple(FAMILIES)):
    """All cases of these seeds: wrong claims by family and seed, and the counts of each kind."""
    wrong, kinds = [], Counter()
    for family in families:
        for seed in seeds:
            found, counts = judged(family, seed)
            kinds += counts
            wrong += [(family, seed, *one) for one in found]
    return wrong, kinds
