"""What pictures put on the page: points, strips, margins and groups, against NumPy on the raw columns."""

import msgspec
import numpy as np
import pytest
from scipy import stats
from tests.live.test_sketches import X, Y, findings_of

from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.live.scenes import FOREIGN
from bright_tether.study.choices import CompareChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.tether import View

STUDY = demo_study()


def of(tether):
    return Findings(with_tether(STUDY, tether), tether)


def test_the_strip_below_the_line_holds_the_residual_of_every_row_in_play():
    found = of(STUDY.tethers[0])
    strip, cloud = found.residual_strip, found.cloud
    x, y = cloud.x[~cloud.aside], cloud.y[~cloud.aside]
    slope, height = np.polyfit(x, y, 1)
    assert strip.heights[~cloud.aside] == pytest.approx(y - height - slope * x, abs=1e-9)
    assert np.isnan(strip.heights[cloud.aside]).all()
    assert strip.largest == pytest.approx(np.abs(y - height - slope * x).max())
    assert strip.dense is None


def test_a_column_by_itself_is_that_of_the_pairs_where_it_is_tied():
    tether = STUDY.tethers[0]
    found = of(tether)
    alone = found.by_itself(tether.y)
    assert alone.rising.tolist() == sorted(found.pairs.y.tolist())
    assert alone.dots.x.tolist() == found.pairs.y.tolist()
    assert alone.dots.row_ids.tolist() == found.row_ids[found.pairs.at].tolist()
    assert (alone.summary.max, alone.n) == (found.pairs.y.max(), found.pairs.n)
    low, high = np.percentile(found.pairs.y, [25, 75], method="weibull")
    far = 1.5 * (high - low)
    beyond = alone.rising[(alone.rising < low - far) | (alone.rising > high + far)]
    assert sorted(alone.beyond.tolist()) == beyond.tolist()
    assert found.by_itself(tether.y) is alone


def test_a_column_that_is_not_tied_stands_by_itself_with_every_value_in_play():
    tether = STUDY.tethers[0]
    found = of(tether)
    column = next(one for one in found.table.columns if one.numeric and one.id not in (tether.x, tether.y))
    alone = found.by_itself(column.id)
    aside = np.isin(found.row_ids, found.aside_rows)
    there = column.cells[~aside & np.isfinite(column.cells)]
    assert alone.rising.tolist() == sorted(there.tolist())


def test_ranks_stand_where_their_rows_do():
    found = of(STUDY.tethers[0])
    cloud, ranks = found.cloud, found.rank_points
    play = ~cloud.aside
    assert ranks.x.tolist() == stats.rankdata(cloud.x[play]).tolist()
    assert ranks.y.tolist() == stats.rankdata(cloud.y[play]).tolist()
    assert ranks.row_ids.tolist() == cloud.row_ids[play].tolist()
    assert (np.diff(ranks.x[ranks.rising]) >= 0).all()


@pytest.mark.parametrize("n", [2, 3, 30])
def test_a_log_scale_has_a_place_for_what_lies_above_0(n):
    x = X[:n].copy()
    x[0] = -1.0
    looked = findings_of(
        np.append(x, 25.0), np.append(np.abs(Y[:n]) + 1, 9.0), view=View(log_x=True)
    ).look_points
    assert looked.hidden == 1
    assert looked.points.x == pytest.approx(np.log10(np.append(x[1:], 25.0)))
    assert (looked.trend is not None) == (n >= 3)
    assert looked.across.counted.counts.sum() == n
    assert looked.across.fenced.median == pytest.approx(np.median(np.log10(np.append(x[1:], 25.0))))


def test_plain_scales_hide_nothing():
    found = findings_of()
    assert found.look_points.points is found.cloud
    assert found.look_points.trend is None  # the trend of the pairs is the one in force
    beyond = found.look_points.up.beyond
    low, high = np.quantile(Y, (0.25, 0.75))
    outside = (low - 1.5 * (high - low) > Y) | (high + 1.5 * (high - low) < Y)
    assert sorted(beyond) == sorted(Y[outside])


def test_rows_of_another_tether_cannot_be_marked():
    first = msgspec.structs.replace(STUDY.tethers[0], compare=CompareChoice(other="k2"))
    found = of(first)
    points, strip = found.compare_points.points, found.compare_points.strip
    own, other = (points.group == at for at in (0, 1))
    assert (points.row_ids[own] != FOREIGN).all()
    assert (points.row_ids[other] == FOREIGN).all()
    for mine in (own, other):
        x, y = points.x[mine], points.y[mine]
        slope, height = np.polyfit(x, y, 1)
        assert strip.heights[mine] == pytest.approx(y - height - slope * x, abs=1e-8)


def test_points_of_groups_stand_in_their_groups():
    table = STUDY.table(STUDY.tethers[0].table)
    station = table.named("station")
    found = of(msgspec.structs.replace(STUDY.tethers[0], compare=CompareChoice(group=station.id)))
    points = found.compare_points.points
    names = [points.groups[code] for code in points.group]
    assert names == [station.cells[at] for at in points.at]
    assert (points.row_ids != FOREIGN).all()
