"""``bright-tether rehearse``: the screen's numbers from the same seed."""

import json

import pytest

from bright_tether.command.parser import run
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study.derived import with_tether

DATA = "depth (m),flow (m3/s)\n1,2.1\n2,3.9\n3,6.4\n4,7.7\n5,10.1\n6,11.6\n7,14.5\n"


def call(*arguments):
    return run(["rehearse", *map(str, arguments)], lambda files: 1)


@pytest.mark.parametrize("source", ["line", "residuals", "rows"])
def test_the_numbers_are_those_of_the_screen(csv_file, capsys, source):
    import msgspec

    study = demo_study()
    chosen = msgspec.structs.replace(study.tethers[4].rehearse, source=source, seed=9, draws=300)
    tether = msgspec.structs.replace(study.tethers[4], rehearse=chosen)
    findings = Findings(with_tether(study, tether), tether)
    x, y = findings.pairs.x.tolist(), findings.pairs.y.tolist()
    path = csv_file("x,y\n" + "".join(f"{a!r},{b!r}\n" for a, b in zip(x, y, strict=True)))
    assert call(path, "--x", "x", "--y", "y", "--from", source, "--samples", 300, "--seed", 9,
                "--format", "json") == 0  # fmt: skip
    told = json.loads(capsys.readouterr().out)
    one = findings.sampled(findings.samples.outcome)
    for name in ("mean", "sd", "bias", "caught", "formula", "mean_error", "sd_error", "caught_error"):
        assert told[name] == pytest.approx(getattr(one, name), rel=1e-12), name
    assert "values" not in told


def test_a_stated_truth_in_words(csv_file, capsys):
    path = csv_file(DATA)
    assert call(path, "--x", "depth (m)", "--y", "flow (m3/s)", "--from", "truth", "--true-slope", 2,
                "--pairs", 20, "--pattern", "fanning", "--judge", "HC3") == 0  # fmt: skip
    told = capsys.readouterr().out
    assert "Each sample has 20 pairs" in told
    assert "+ 2.000 · depth" in told
    assert "by robust (HC3) errors" in told


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (("--alike", "1"), "between −1 and 1"),
        (("--pairs", "2"), "three pairs or more"),
        (("--x", "width"), "There is no column “width”"),
        (("--count", "mode"), "invalid choice"),
    ],
)
def test_a_bad_call_says_one_line(csv_file, capsys, more, said):
    assert call(csv_file(DATA), "--x", "depth (m)", "--y", "flow (m3/s)", *more) == 2
    error = capsys.readouterr().err
    assert said in error
    assert error.count("\n") == 1


def test_an_exact_line_has_nothing_to_rehearse(csv_file, capsys):
    assert call(csv_file("x,y\n1,2\n2,4\n3,6\n4,8\n"), "--x", "x", "--y", "y") == 2
    assert "Every pair lies on the line" in capsys.readouterr().err


HELD = "x,y,z,w\n" + "".join(
    f"{i % 7 + i / 9},{2 * (i % 7) - i / 3 + (i * 7 % 5)},{i},{2 * i}\n" for i in range(30)
)


def test_columns_are_held_and_the_slope_alone_is_told_beside(csv_file, capsys):
    path = csv_file(HELD)
    base = (path, "--x", "x", "--y", "y", "--with", "z", "--samples", 200)
    assert call(*base) == 0
    assert "the slope with z held came out at" in capsys.readouterr().out
    assert call(*base, "--format", "json") == 0
    told = json.loads(capsys.readouterr().out)
    assert told["n"] == 30
    assert told["alone"]["names"] == ["z"]
    assert told["alone"]["held"] == told["truth"]
    assert call(*base, "--from", "rows", "--format", "json") == 0
    assert len(json.loads(capsys.readouterr().out)["percentile"]) == 2


@pytest.mark.parametrize(("more", "said"), [
    (("--with", "z", "--count", "r"), "--with rehearses the slope over the rows as they are"),
    (("--with", "z", "--pairs", "20"), "--with rehearses the slope over the rows as they are"),
    (("--with", "z,w"), "The other columns tell"),
    (("--with", "x"), "beside x and y"),
])  # fmt: skip
def test_what_cannot_be_held_says_one_line(csv_file, capsys, more, said):
    assert call(csv_file(HELD), "--x", "x", "--y", "y", *more) == 2
    assert said in capsys.readouterr().err
