"""The worked examples of CONTRIBUTING.md, run as they stand."""

import re
from pathlib import Path

import numpy as np
import pytest

from bright_tether.core.pairs import take_pairs
from bright_tether.demo.study import demo_study

EXAMPLES = dict(
    re.findall(
        r"```python\n# (\w+)\n(.*?)```", (Path(__file__).parents[2] / "CONTRIBUTING.md").read_text(), re.S
    )
)
IMPORTS = """
from typing import ClassVar
import msgspec
from bright_tether.claims.claim import Claim
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Why, reasons
from bright_tether.live.basis import Basis
from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step
from bright_tether.study.declared import result
from bright_tether.words.reading import Reading
from bright_tether.words.said import Said
"""
QT = """
import pyqtgraph as pg
from PyQt6.QtGui import QFont
from bright_tether.theme.tokens import Tokens
from bright_tether.pictures.scatter import ScatterPicture
"""


@pytest.fixture
def examples():
    """The names that the examples define, one after the other, without those that need a screen."""
    known = {"__name__": "examples"}
    exec(IMPORTS, known)
    for name in ("statistic", "result", "claim", "step"):
        exec(EXAMPLES[name], known)
    return known


def test_a_statistic_and_its_result(examples):
    assert examples["mid_range"](take_pairs(np.arange(3.0), np.array([1.0, 5.0, 2.0]))).mid_range == 3.0
    empty = examples["mid_range"](take_pairs(np.zeros(0), np.zeros(0)))
    assert (empty.mid_range, empty.why["mid_range"]) == (None, "no_pairs")
    study = demo_study()
    found = examples["MidRangeResults"](study, study.tethers[0])
    assert found.mid_range is examples["MidRangeResults"](study, study.tethers[0]).mid_range, "made once"


def test_a_step_that_states_a_claim(examples):
    study = demo_study()
    findings = examples["Findings"](study, study.tethers[0])
    step = examples["STEP"]
    findings.prepare(step.all_needs(""))
    assert step.reading_of(findings, "").headline == "The middle between the ends lies above the mean."
    assert (step.id, step.title, step.parts) == ("middle", "Middle", {"reading"})


def test_a_picture_that_draws_it(examples, qapp):
    from bright_tether.pictures.fonts import shipped_font
    from bright_tether.theme.tokens import LIGHT

    exec(QT + EXAMPLES["picture"], examples)
    study = demo_study()
    findings = examples["Findings"](study, study.tethers[0])
    picture = examples["MiddlePicture"](LIGHT, shipped_font(), "Middle picture")
    picture.draw(findings, frozenset())
    assert picture.level.value() == pytest.approx((findings.pairs.y.min() + findings.pairs.y.max()) / 2)
    picture.deleteLater()
