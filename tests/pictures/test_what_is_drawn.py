"""What pictures of the line and its residuals really draw: the points of each curve, not that one exists."""

import msgspec
import numpy as np
import pytest

from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.live.scenes import standing_apart
from bright_tether.live.sketches import MODES
from bright_tether.pictures.compare import ComparePicture
from bright_tether.pictures.density import shaded
from bright_tether.pictures.doubt import DoubtPicture
from bright_tether.pictures.fonts import shipped_font
from bright_tether.pictures.line import LinePicture
from bright_tether.pictures.scatter_view import LookPicture
from bright_tether.study.axes import choose_axes
from bright_tether.study.changes import change_choice
from bright_tether.study.choices import CompareChoice
from bright_tether.study.derived import with_tether
from bright_tether.theme.tokens import LIGHT

NOTHING = frozenset()


@pytest.fixture
def findings():
    study = demo_study()
    return Findings(study, study.tether("k1"))


@pytest.fixture
def made(qapp):
    """Makes a picture, and lets it go at the end."""
    pictures = []

    def make(kind):
        pictures.append(kind(LIGHT, shipped_font(), "Picture"))
        return pictures[-1]

    yield make
    for one in pictures:
        one.deleteLater()


def points(item):
    return [part if part is None else np.asarray(part) for part in item.getData()]


@pytest.mark.parametrize("mode", sorted({mode for modes in MODES.values() for mode in modes}))
def test_a_doubt_is_drawn_as_its_sketch_has_it(findings, made, mode):
    picture, wanted = made(DoubtPicture), findings.sketch(mode)
    picture.show_sketch(findings, wanted, ("across", "up"), NOTHING, (mode,))
    for curve, (x, y) in zip(picture.curves, wanted.curves, strict=False):
        drawn = points(curve)
        assert drawn[0].tolist() == np.asarray(x).tolist()
        assert drawn[1].tolist() == np.asarray(y).tolist()
    for curve in picture.curves[len(wanted.curves) :]:
        assert curve.getData()[0] is None or not len(curve.getData()[0])
    if wanted.bars is None:
        stamps = [*picture.points._groups, *picture.points._hollow]
        drawn = {(x, y) for one in stamps for x, y in zip(one.x.tolist(), one.y.tolist(), strict=True)}
        assert drawn == set(zip(wanted.x.tolist(), wanted.y.tolist(), strict=True))
    else:
        assert picture.bars.opts["y1"].tolist() == wanted.bars.counts.tolist()
        assert picture.bars.opts["x0"].tolist() == wanted.bars.edges[:-1].tolist()
    assert [level.value() for level in picture.levels if level.isVisible()] == list(wanted.levels)
    assert picture.bright.isVisible() == (wanted.bright is not None)
    assert (picture.axis_name("x"), picture.axis_name("y")) == ("across", "up")


def test_the_line_its_band_and_the_residuals_below_are_those_of_the_fit(findings, made):
    picture = made(LinePicture)
    picture.draw(findings, NOTHING)
    x, y = findings.pairs.x, findings.pairs.y
    slope, height = np.polyfit(x, y, 1)
    drawn_x, drawn_y = points(picture.bright)
    assert drawn_y == pytest.approx(height + slope * drawn_x, rel=1e-9)
    e = y - height - slope * x
    s = np.sqrt(e @ e / (x.size - 2))
    half = 1.9989715 * s * np.sqrt(1 / x.size + (drawn_x - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum())
    assert findings.band.ci[:, 1] == pytest.approx(height + slope * findings.band.x + half, rel=1e-6)
    kept = ~picture.cloud.aside
    assert picture.residuals[kept] == pytest.approx(e, abs=1e-9)
    assert np.isnan(picture.residuals[~kept]).all()


def test_the_trend_in_look_is_the_smooth_of_the_pairs(findings, made):
    picture = made(LookPicture)
    picture.draw(findings, NOTHING)
    x, y = points(picture.trend)
    assert x.tolist() == findings.smooth.x.tolist()
    assert y.tolist() == findings.smooth.y.tolist()
    straight_x, straight_y = points(picture.straight)
    slope, height = np.polyfit(findings.pairs.x, findings.pairs.y, 1)
    assert straight_y == pytest.approx(height + slope * straight_x, rel=1e-9)


def test_no_residual_stays_below_lines_that_are_gone(made):
    study = demo_study()
    group = study.tables[0].named("station").id
    with_groups = msgspec.structs.replace(study.tethers[0], compare=CompareChoice(group=group))
    picture = made(ComparePicture)
    picture.draw(Findings(with_tether(study, with_groups), with_groups), NOTHING)
    assert picture.below._groups[0].x.size
    picture.draw(Findings(study, study.tethers[0]), NOTHING)
    assert picture.residuals is None
    assert not any(one.x.size for one in picture.below._groups)


@pytest.mark.parametrize(("few", "whole"), [(9, True), (3, False)])
def test_bands_of_groups_are_in_view_unless_they_press_the_points_together(open_window, csv_file, few, whole):
    draw = np.random.default_rng(6)
    rows = []
    for name, many in (("North", 12), ("South", few)):
        x = np.linspace(1, 10, many)
        y = x + (8 if name == "North" else 0) + draw.normal(0, 1.5, many)
        rows += [f"{name},{a:.3f},{b:.3f}" for a, b in zip(x, y, strict=True)]
    window = open_window(csv_file("bank,x,y\n" + "\n".join(rows) + "\n"))
    session = window.session
    ids = {column.name: column.id for column in session.table.columns}
    session.do(choose_axes(session.history.study, session.tether, x=ids["x"], y=ids["y"]))
    session.do(change_choice(session.history.study, session.tether, "compare", "bank", group=ids["bank"]))
    session.show_step("compare")
    picture = window.steps["compare"].picture
    low, high = picture.main.viewRange()[1]
    ends = [edge.getData()[1] for pair in picture.edges[:2] for edge in pair]
    assert bool(low <= min(one.min() for one in ends) and max(one.max() for one in ends) <= high) is whole
    heights = session.findings.points.y
    assert low <= heights.min()
    assert np.ptp(heights) > 0.5 * (high - low)


def test_very_many_points_beyond_the_fences_stand_apart_to_both_ends():
    values = np.sort(np.random.default_rng(1).normal(size=30_000)) * 10
    there = standing_apart(values, 100.0)
    assert there.size <= 1003
    assert (there.min(), there.max()) == (values[0], values[-1])
    places = {int((value - values[0]) * 10) for value in there.tolist()}
    assert {int((value - values[0]) * 10) for value in values.tolist()} == places
    assert np.array_equal(standing_apart(values[:900], 100.0), values[:900])


def test_who_stands_alone_in_a_density_is_a_dot():
    ramp = np.repeat(np.arange(256, dtype=np.ubyte)[:, None], 4, axis=1)
    counts = np.zeros((30, 40), np.int64)
    counts[10:20, 15:25] = 50_000
    counts[0, 39], counts[4, 4], counts[10, 27] = 1, 2, 1  # the last of them beside the crowd
    plain = (np.log1p(counts) * (255 / np.log1p(50_000))).astype(np.ubyte)
    shown = shaded(counts, ramp)[..., 0]
    assert (shown[0, 39], shown[4, 4]) == (170, 170)
    assert shown[4, 3] == shown[5, 4] == shown[1, 39] == 170
    assert shown[5, 5] == shown[1, 38] == 30
    assert (shown[10, 27], shown[11, 27]) == (plain[10, 27], 0)
    assert np.array_equal(shown[10:20, 15:25], plain[10:20, 15:25])
    assert np.count_nonzero(shown) == 100 + 1 + 4 + 9
