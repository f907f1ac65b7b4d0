"""Dates as they are written, and the moments they stand for."""

from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bright_tether.tables.clock import (
    Clock,
    as_written,
    canonical,
    duration,
    measured,
    moment,
    moment_of,
    moments,
    order_told,
    period,
    usual_clock,
    value_of,
    zones_of,
)
from bright_tether.tables.column import column_of_texts

DAY = 86_400


@pytest.mark.parametrize(
    ("text", "kept"),
    [("2021-03-04", "2021-03-04"), ("2021/3/4", "2021-03-04"), ("4 March 2021", "2021-03-04"),
     ("Mar 4, 2021", "2021-03-04"), ("04-Mar-2021", "2021-03-04"), ("2021-03-04T10:30:05", "2021-03-04T10:30:05"),
     ("2021-06", "2021-06"), ("2021-W05", "2021-W05"), ("2021-W05-3", "2021-W05-3"),
     ("25.4.2021 1:05 pm", "2021-04-25 13:05"), ("2021-03-04 12:30+0200", "2021-03-04 12:30+0200")],
)  # fmt: skip
def test_common_forms_are_one_day(text, kept):
    assert canonical(text, "day first") == kept
    assert order_told([text]) == "day first"


@pytest.mark.parametrize(
    "text",
    ["", "2021", "20210304", "31/02/2021", "2021-02-30", "2021-13", "13/13/2021", "1.5", "hello", "2021-W60",
     "4 Marchy 2021", "1/2/2021 25:00"],
)  # fmt: skip
def test_what_is_no_date(text):
    assert order_told([text]) is None
    assert np.isnan(moments(np.array([text], object))).all()


def test_day_and_month_are_told_by_the_column_or_asked_for():
    assert order_told(["03/04/2021", "05/04/2021"]) == "ask"
    assert order_told(["03/04/2021", "25/04/2021"]) == "day first"
    assert order_told(["03/04/2021", "04/25/2021"]) == "month first"
    assert order_told(["03/03/2021", "04/04/2021"]) == "day first"  # both readings are one
    assert order_told(["25/04/2021", "04/25/2021"]) is None
    asked = column_of_texts("c1", "when", ["03/04/2021", "05/04/2021", "06/04/2021"], range(3))
    assert asked.kind != "date"
    for order, first in (("day first", "2021-04-03"), ("month first", "2021-03-04")):
        said = column_of_texts("c1", "when", ["03/04/2021", "05/04/2021"], range(2), dates=order)
        assert (said.kind, said.dates, said.cells[0]) == ("date", order, first)
        assert said.read("7/8/2021") == ("2021-08-07" if order == "day first" else "2021-07-08")


def test_one_text_among_dates_is_kept_and_missing():
    texts = ["25/04/2021", "1/5/2021", "2/5/2021", "3/5/2021", "later", ""]
    column = column_of_texts("c1", "when", texts, range(6))
    assert column.kind == "date"
    assert column.cells.tolist()[3:] == ["2021-05-03", "later", ""]
    assert column.missing == 2


@given(st.datetimes(datetime(1583, 1, 1), datetime(2300, 1, 1)))
def test_moments_are_those_of_the_calendar(when):
    when = when.replace(microsecond=0)
    expected = (when - datetime(1970, 1, 1)).total_seconds()
    for text in (when.isoformat(), when.isoformat(" "), when.strftime("%d %B %Y %H:%M:%S")):
        assert moments(np.array([canonical(text, "day first")], object))[0] == expected
    assert moment(as_written(expected, 1)) == expected


def test_zones_are_turned_into_one():
    cells = np.array(
        ["2021-03-04 12:00Z", "2021-03-04 14:00+02:00", "2021-03-04 12:00", "2021-03-04"], object
    )
    assert moments(cells)[0] == moments(cells)[1] == datetime(2021, 3, 4, 12, tzinfo=UTC).timestamp()
    assert zones_of(cells) == {"Z", "+02:00", ""}


def test_weeks_and_months_stand_for_their_first_day():
    found = moments(np.array(["2021-06", "2021-W05", "2021-02-01"], object))
    assert as_written(found[0]) == "2021-06-01"
    assert found[1] == found[2]  # the Monday of the fifth week


def test_a_clock_measures_exactly_and_back():
    hours = moments(np.array([f"2021-03-04 {hour:02}:00" for hour in range(24)], object))
    clock = usual_clock(hours)
    assert clock == Clock("hours", "2021-03-04")
    assert measured(hours, clock).tolist() == list(range(24))
    assert [moment_of(value, clock) for value in range(24)] == hours.tolist()
    assert usual_clock(np.array([0.0, 30 * DAY])).unit == "days"
    assert usual_clock(np.array([0.0, 30 * 366 * DAY])).unit == "years"
    assert value_of("2021-03-05", clock) == 24
    assert value_of("5/3/2021", clock) is None


def test_a_period_ends_where_the_next_begins():
    for text, after in (("2021", "2022-01"), ("2021-12", "2022-01"), ("2021-02-28", "2021-03-01"),
                        ("2021-W05", "2021-W06"), ("2021-03-04 12:30", "2021-03-04 12:31")):  # fmt: skip
        assert period(text)[1] == moment(after)
    assert np.isnan(period("soon")).all()


def test_durations():
    assert (duration("1 hour"), duration("5 minutes"), duration("2 weeks")) == (3600, 300, 14 * DAY)
    assert duration("soon") is None


WRITTEN = ("2021-03-04", "2021-03-04 12:30", "2021-03-04T12:30:15", "", "later", "0123456789", "2021-02-31", "2021-06",
           "2021-03-04 12:30Z", "2021", "today")  # fmt: skip


@given(st.lists(st.sampled_from(WRITTEN), min_size=1))
def test_moments_of_many_are_those_of_each(texts):
    together = moments(np.array(texts, object))
    alone = [moments(np.array([text, "soon"], object))[0] for text in texts]  # "soon" takes the careful road
    np.testing.assert_array_equal(together, alone)
