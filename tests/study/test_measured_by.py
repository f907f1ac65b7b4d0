"""A date measured by another clock: what was typed along it stays where it is in time."""

import msgspec
import pytest

from bright_tether.study.axes import choose_axes, entries_gone, measure_by, swap_axes
from bright_tether.study.choices import (
    CompareChoice,
    ForecastChoice,
    LineChoice,
    OtherwiseChoice,
    RehearseChoice,
)
from bright_tether.study.derived import with_tether
from bright_tether.study.study import Study
from bright_tether.study.table_changes import first_tether
from bright_tether.study.tether import Answer, View
from bright_tether.tables.clock import Clock
from bright_tether.tables.read_plan import guess_plan, read_content

TEXT = "day,flow\n2024-05-01,3\n2024-05-03,4\n2024-05-09,7\n2024-05-15,9\n"


@pytest.fixture
def study():
    content = TEXT.encode()
    table = read_content(content, "days.csv", "t1", guess_plan(content, "days.csv"))
    tether = first_tether(table, "k1")
    day, flow = (table.named(name).id for name in ("day", "flow"))
    tether = msgspec.structs.replace(
        tether, x=day, y=flow, chosen=True, clock=Clock("days", "2024-05-01"),
        forecast=ForecastChoice(at=(7.0, 14.0), cases=((21.0, 8.5),)),
    )  # fmt: skip
    return Study(tables=(table,), tethers=(tether,))


@pytest.mark.parametrize("view", [None, (0.0, None), (None, 14.0), (7.0, 28.0)])
def test_what_was_typed_stays_where_it_is_in_time(study, view):
    tether = study.tethers[0]
    tether = msgspec.structs.replace(tether, view=msgspec.structs.replace(tether.view, x=view))
    study = with_tether(study, tether)
    edit = measure_by(study, tether, Clock("weeks", "2024-05-08"))
    after = edit.apply(study).tethers[0]
    assert after.clock == Clock("weeks", "2024-05-08")
    assert after.forecast.at == (0.0, 1.0)
    assert after.forecast.cases == ((2.0, 8.5),)
    assert after.view.x == (
        None if view is None else tuple(None if one is None else one / 7 - 1 for one in view)
    )
    assert edit.label == "Measure x in weeks since 2024-05-08"
    assert edit.inverse().apply(edit.apply(study)).tethers == study.tethers
    assert measure_by(study, tether, tether.clock) is None


def test_what_goes_with_the_axes_is_named(study):
    tether = study.tethers[0]
    assert set(entries_gone(choose_axes(study, tether, x=tether.y, y=tether.y))) >= {"the kept cases"}
    bare = msgspec.structs.replace(tether, forecast=ForecastChoice())
    assert "the kept cases" not in entries_gone(choose_axes(study, bare, x=tether.y, y=tether.y))
    assert "the kept cases" not in entries_gone(swap_axes(study, tether))  # they only turn round
    assert entries_gone(measure_by(study, tether, Clock("weeks", "2024-05-08"))) == ()


#: Everything that is typed in the unit of an axis, or of the slope: where it stands, and what it is called.
TYPED = {
    "the slope that is tested against": ("line", LineChoice(slope_0=2.0)),
    "the smallest change that matters": ("line", LineChoice(matters=0.5)),
    "the intercept that is tested against": ("line", LineChoice(intercept_0=1.0)),
    "the weights by a rule": ("line", LineChoice(weight_pattern="inverse-x")),
    "the weight of a new case": ("line", LineChoice(new_weight=3.0)),
    "the margin of the comparison": ("compare", CompareChoice(margin=0.2)),
    "the x at which heights are compared": ("compare", CompareChoice(height_at=4.0)),
    "the stated intercept": ("rehearse", RehearseChoice(intercept=1.0)),
    "the stated slope": ("rehearse", RehearseChoice(slope=1.0)),
    "the stated sd": ("rehearse", RehearseChoice(sd=1.0)),
    "what is planned for": ("rehearse", RehearseChoice(goal=0.1)),
    "the effect that is planned for": ("rehearse", RehearseChoice(effect=0.1)),
    "the bandwidth of the smooth": ("forecast", ForecastChoice(bandwidth=2.0)),
    "the first x between which ways are compared": ("otherwise", OtherwiseChoice(first=2.0)),
    "the last x between which ways are compared": ("otherwise", OtherwiseChoice(last=5.0)),
    "the x to forecast at": ("forecast", ForecastChoice(at=(3.0,))),
    "the y to go back from": ("forecast", ForecastChoice(back=(5.0,))),
}
CHANGES = {
    "another x": lambda study, tether: choose_axes(study, tether, x="c3", y=tether.y),
    "another y": lambda study, tether: choose_axes(study, tether, x=tether.x, y="c3"),
    "swapped": swap_axes,
    "another clock": lambda study, tether: measure_by(study, tether, Clock("weeks", "2024-05-01")),
}
STAY = {"another x": {"the y to go back from"}, "another y": {"the x to forecast at"},
        "swapped": {"the x to forecast at", "the y to go back from"},
        "another clock": {"the x to forecast at", "the y to go back from"}}  # fmt: skip


@pytest.fixture
def three(study):
    content = b"day,flow,rain\n2024-05-01,3,1\n2024-05-03,4,2\n2024-05-09,7,9\n2024-05-15,9,4\n"
    table = read_content(content, "days.csv", "t1", guess_plan(content, "days.csv"))
    tether = msgspec.structs.replace(study.tethers[0], forecast=ForecastChoice())
    return Study(tables=(table,), tethers=(tether,))


@pytest.mark.parametrize("change", CHANGES)
@pytest.mark.parametrize("name", TYPED)
def test_what_was_typed_goes_with_its_unit_and_that_is_said(three, name, change):
    part, chosen = TYPED[name]
    tether = msgspec.structs.replace(three.tethers[0], **{part: chosen})
    study = with_tether(three, tether)
    edit = CHANGES[change](study, tether)
    after = edit.apply(study).tethers[0]
    stays = name in STAY[change]
    assert entries_gone(edit) == (() if stays else (name,))
    kept = getattr(after, part)
    if not stays:
        assert kept == type(chosen)()
    elif change == "swapped":
        assert (kept.at, kept.back) == (chosen.back, chosen.at)
    else:
        assert len(kept.at) == len(chosen.at)
        assert kept.back == chosen.back
    assert edit.inverse().apply(edit.apply(study)).tethers == study.tethers


@pytest.mark.parametrize("change", CHANGES)
def test_limits_and_names_go_with_their_own_axis(three, change):
    view = View(x=(1.0, 5.0), y=(2.0, 9.0), x_label="day of the visit", y_label="flow here", log_y=True)
    tether = msgspec.structs.replace(three.tethers[0], view=view, answers=(Answer("order", "far apart"),))
    study = with_tether(three, tether)
    edit = CHANGES[change](study, tether)
    shown = edit.apply(study).tethers[0].view
    of_x, of_y = (view.x, view.x_label, view.log_x), (view.y, view.y_label, view.log_y)
    plain = (None, "", False)
    in_weeks = ((1 / 7, 5 / 7), *of_x[1:])
    wanted = {"another x": plain, "swapped": of_y, "another clock": in_weeks}.get(change, of_x)
    assert (shown.x, shown.x_label, shown.log_x) == wanted
    assert (shown.y, shown.y_label, shown.log_y) == {"another y": plain, "swapped": of_x}.get(change, of_y)
    assert entries_gone(edit) == ("the answers to doubts",)


def test_a_date_keeps_its_clock_while_it_stays_x(three):
    tether = msgspec.structs.replace(three.tethers[0], clock=Clock("weeks", "2024-04-01"))
    study = with_tether(three, tether)
    same = choose_axes(study, tether, x=tether.x, y="c3").apply(study).tethers[0]
    assert same.clock == tether.clock
    other = choose_axes(study, tether, x="c3", y=tether.y).apply(study)
    assert other.tethers[0].clock is None
    back = choose_axes(other, other.tethers[0], x=tether.x, y=tether.y).apply(other).tethers[0]
    assert back.clock == Clock("days", "2024-05-01")


def test_a_ratio_of_errors_turns_with_the_axes(three):
    tether = msgspec.structs.replace(three.tethers[0], line=LineChoice(error_ratio=4.0))
    study = with_tether(three, tether)
    assert swap_axes(study, tether).apply(study).tethers[0].line.error_ratio == 0.25
