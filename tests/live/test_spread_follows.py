"""Weights by a fitted power: the line, its sentences and every forecast follow them."""

import msgspec
import numpy as np
import pytest
from scipy import stats

from bright_tether.live.findings import Findings
from bright_tether.study.choices import ForecastChoice, LineChoice
from bright_tether.study.remedies import remedies
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.readings.line import line_reading

DRAW = np.random.default_rng(121)
X = DRAW.uniform(2, 20, 60)
FAN = 10 + 4 * X + 0.4 * DRAW.normal(size=60) * X
EVEN = 10 + 4 * X + DRAW.normal(size=60)


def findings_of(y, pattern="power-x", x=X, **more):
    columns = {"x (m)": x, "y (kg)": y} | more
    named = tuple(Column(id=f"c{at}", name=name, kind="number", cells=np.asarray(cells, float))
                  for at, (name, cells) in enumerate(columns.items(), 1))  # fmt: skip
    table = Table(id="t1", name="t", columns=named, row_ids=np.arange(x.size))
    line = LineChoice(weight_pattern=pattern) if pattern else LineChoice(weights="c3")
    tether = Tether(
        id="k1", table="t1", x="c1", y="c2", line=line, forecast=ForecastChoice(at=(5.0, 15.0), back=(40.0,))
    )
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def said(findings):
    return " ".join(map(str, line_reading(findings).sentences))


@pytest.mark.parametrize("pattern", ["power-x", "power-fitted"])
def test_the_line_is_the_one_with_those_weights_in_a_column(pattern):
    found = findings_of(FAN, pattern)
    slope, height = np.polyfit(X, FAN, 1)
    size = X if pattern == "power-x" else np.abs(height + slope * X)
    by_column = findings_of(FAN, "", w=size ** (-2 * found.spread_power.power))
    assert found.line.slope == pytest.approx(by_column.line.slope, rel=1e-9)
    assert found.coefficients.se_slope == pytest.approx(by_column.coefficients.se_slope, rel=1e-9)


def test_one_case_is_forecast_with_the_spread_of_its_own_place():
    found = findings_of(FAN)
    theta = found.spread_power.power
    told = found.forecasts((5.0, 15.0))
    own = told.se_individual**2 - told.se_mean**2  # what the case adds to the line
    assert np.sqrt(own[1] / own[0]) == pytest.approx(3.0**theta, rel=1e-6)
    # t on the df of each place: fewer away from the middle of log x
    away = np.log([5.0, 15.0]) - np.log(X).mean()
    df = 2 / (2 / 58 + 4 * away**2 / (2 * np.sum((np.log(X) - np.log(X).mean()) ** 2)))
    assert told.half_pi / told.se_individual == pytest.approx(stats.t.ppf(0.975, df), rel=1e-9)
    assert told.half_ci / told.se_mean == pytest.approx(stats.t.ppf(0.975, df), rel=1e-9)
    near, far = found.expected
    assert near.half_pi == pytest.approx(told.half_pi[0])
    assert theta == pytest.approx(1.0, abs=0.35)
    even = findings_of(FAN, "inverse-x2").expected
    assert far.half_pi / even[1].half_pi == pytest.approx(1.0, abs=0.4)


def test_the_way_back_uses_it_too():
    found = findings_of(FAN)
    back = found.inverse(40.0, 1)
    assert back.x == pytest.approx((40.0 - found.line.intercept) / found.line.slope, rel=1e-9)
    assert back.ci[0] < back.x < back.ci[1]
    assert found.forecast_df(15.0) == pytest.approx(
        found.spread_power.df_at(np.array([15.0]), found.errors.df)[0]
    )
    assert findings_of(FAN, "inverse-x").forecast_df(15.0) == 58


def test_sentences_tell_the_power_and_whether_it_is_shown():
    words = said(findings_of(FAN))
    assert "Rows are weighted by a fitted power of |x|." in words
    assert "The spread follows x to the power " in words
    assert (
        "fitted by restricted likelihood. Forecasts rest on fewer degrees of freedom where that tells less"
        in words
    )
    words = said(findings_of(EVEN))
    assert "The spread is taken to follow x to the power " in words
    assert "that it follows any is not shown. Forecasts rest on fewer degrees of freedom" in words
    assert "The spread follows the fitted y to the power " in said(findings_of(FAN, "power-fitted"))
    three = findings_of(FAN[:4], x=X[:4])
    assert "No power of x could be fitted to the spread, so every row weighs the same." in said(three)
    assert three.line.slope == pytest.approx(np.polyfit(X[:4], FAN[:4], 1)[0])


def test_it_is_offered_where_the_spread_grows_and_x_is_above_zero():
    found = findings_of(FAN, "inverse-x")
    plain = msgspec.structs.replace(found.tether, line=LineChoice())
    study = msgspec.structs.replace(found.study, tethers=(plain,))
    offered = {one.words: one.edit for one in remedies(study, plain, "spread", frozenset())}
    edit = offered["Weights by a fitted power of x"]
    after = edit.apply(study)
    assert after.tethers[0].line.weight_pattern == "power-x"
    assert edit.inverse().apply(after).tethers == study.tethers
    assert "Weights by a fitted power of x" not in {
        one.words for one in remedies(after, after.tethers[0], "spread", frozenset())
    }
    below = findings_of(FAN, "inverse-x", x=X - 5)
    tether = msgspec.structs.replace(below.tether, line=LineChoice())
    words = {one.words for one in remedies(below.study, tether, "spread", frozenset())}
    assert "Weights by a fitted power of x" not in words
    assert "Weights by a fitted power of the fitted value" in words
