"""Screen, text and plain data read the same results."""

import json

import numpy as np
import pytest

from bright_tether.account.record import Wanted, record
from bright_tether.account.text import text_account
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.readings.line import line_reading


@pytest.fixture(scope="module", params=[f"k{at}" for at in range(1, 8)])
def findings(request):
    study = demo_study()
    return Findings(study, study.tether(request.param))


def numbers_in(told):
    if isinstance(told, dict):
        for value in told.values():
            yield from numbers_in(value)
    elif isinstance(told, list):
        for value in told:
            yield from numbers_in(value)
    elif isinstance(told, float):
        yield told


def test_no_value_is_infinite_and_no_none_is_without_its_reason(findings):
    told = record(findings, Wanted(at=(1.0, 1e6), rows=True))
    assert json.loads(json.dumps(told, allow_nan=False)) == told
    assert all(np.isfinite(number) for number in numbers_in(told))

    def check(part):
        if isinstance(part, dict):
            for key, value in part.items():
                assert value is not None or key in ("unit", "instead_of") or part.get("why", {}).get(key), key
                check(value)
        elif isinstance(part, list):
            for value in part:
                check(value)

    check(told)


def test_text_holds_the_figures_of_the_screen(findings):
    text = text_account(findings, Wanted(at=(2.0,), rows=True))
    for figure in line_reading(findings).figures:
        assert f"{figure.name:<22} {figure.value:>12}" in text
    assert line_reading(findings).headline in text
    shown = d.coefficient(findings.pearson.r, findings.rules.digits)
    assert "Decided by r at α = 0.05, H0, no linear relationship, against H1, a linear relationship: " in text
    assert f"{shown} reaches ±" in text
    assert text.count("\n") > findings.pairs.n


def test_data_and_results_are_the_same_objects(findings):
    told = record(findings, Wanted(rows=True))
    assert told["line"]["slope"] == findings.line.slope
    assert told["correlation"]["pearson"]["r"] == findings.pearson.r == findings.line.r
    assert told["decision"]["p"] == told["correlation"]["pearson"]["p"]
    assert [row["residual"] for row in told["rows"]] == findings.rows.residual.tolist()
    pairs = told["pairs"]
    assert pairs["n"] + pairs["missing"] + pairs["set_aside"] + pairs["filtered_out"] == pairs["rows"]
