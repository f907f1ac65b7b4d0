"""Where what is said of samples begins and ends."""

from types import SimpleNamespace

import numpy as np
import pytest

from bright_tether.claims.rehearse import own_claim
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.words.readings.rehearse import sample_sentence


@pytest.mark.parametrize(("own", "is_truth"), [(5.0005, True), (5.0015, False)])
def test_your_own_value_is_the_truth_within_a_millionth_of_the_spread(own, is_truth, monkeypatch):
    one = SimpleNamespace(draws=10, truth=5.0, sd=1000.0, values=np.arange(10.0))
    monkeypatch.setattr("bright_tether.core.rehearse.sampling.share_as_far", lambda *_: 0.5)
    assert own_claim(own, one, by_rows=False).is_truth is is_truth
    assert own_claim(own, one, by_rows=True) is None


def test_a_sample_whose_points_are_not_kept_says_so():
    study = demo_study()
    findings = Findings(study, study.tethers[0])
    drawn = findings.samples.outcome
    kept = len(drawn.samples_x)
    assert not sample_sentence(findings, drawn, kept - 1).endswith("are not kept")
    assert sample_sentence(findings, drawn, kept).endswith("; its points are not kept")
