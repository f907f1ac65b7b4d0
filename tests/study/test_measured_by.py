"""A date measured by another clock: what was typed along it stays where it is in time."""

import msgspec
import pytest

from bright_tether.study.axes import choose_axes, entries_gone, measure_by, swap_axes
from bright_tether.study.choices import ForecastChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.study import Study
from bright_tether.study.table_changes import first_tether
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
