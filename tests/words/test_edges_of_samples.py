"""Where what is said of samples begins and ends."""

from types import SimpleNamespace

import numpy as np
import pytest

from bright_tether.claims.rehearse import bias_claim, broken_claim, by_luck, own_claim, simulated_claim
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.words.readings.rehearse import sample_sentence
from bright_tether.words.readings.rehearsed import bias_sentence, caught_sentence


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


def a_run(share, promised=0.95, se=0.005):
    """A run of which this share of the intervals held the truth."""
    one = SimpleNamespace(
        statistic="slope", caught=share, caught_error=se, level=promised, judged="classical"
    )
    return str(caught_sentence(simulated_claim(one), one)).split("held the truth, ")[1]


def test_what_luck_alone_can_do_is_called_that_and_what_it_cannot_is_not():
    assert a_run(0.9599) == "the same as promised within simulation error."
    assert a_run(0.9601) == "more than promised, as about 1 run in 23 is by luck alone."
    assert a_run(0.9399) == "less than promised, as about 1 run in 23 is by luck alone."
    assert a_run(0.9649).startswith("more than promised, as about 1 run in 3")
    assert a_run(0.9651) == "more than promised: they are wider than they need be."
    assert a_run(0.9349) == "less than promised."


@pytest.mark.parametrize(("mean", "said"), [
    (10.1, "no more than simulation error."),
    (10.125, "more than twice the simulation error, as about 1 run in 81 is by luck alone."),
    (9.84, "more than simulation error explains: it comes out too low here."),
])  # fmt: skip
def test_a_mean_is_off_only_where_luck_does_not_explain_it(mean, said):
    one = SimpleNamespace(mean=mean, truth=10.0, mean_error=0.05)
    assert str(bias_sentence(bias_claim(one), False, 2)).endswith(said)
    assert by_luck(1.0, 1.0, 0.0) == 1.0 - by_luck(1.1, 1.0, 0.0) == 1.0


def broken(classical, after):
    """A broken assumption under which these shares of the intervals held the truth."""
    judged = {
        name: SimpleNamespace(statistic="slope", caught=share, caught_error=0.005, level=0.95, mean=1.0, truth=1.0,
                              mean_error=0.1)
        for name, share in (("classical", classical), ("HC3", after))
    }  # fmt: skip
    return broken_claim(SimpleNamespace(name="fanning", by=judged))


@pytest.mark.parametrize(("classical", "after", "verdict"), [
    (0.941, 0.95, "no harm"), (0.937, 0.95, "unsure"), (0.93, 0.95, "mended"), (0.90, 0.93, "in part"),
    (0.90, 0.905, "not mended"),
])  # fmt: skip
def test_an_assumption_does_harm_where_luck_does_not_explain_it(classical, after, verdict):
    claim = broken(classical, after)
    assert claim.verdict == verdict
    assert (claim.mended is None) == (verdict in ("no harm", "unsure"))
