"""The change by a line in logs, told in the columns as they were measured."""

import msgspec
import numpy as np
import pytest

from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import step_of
from bright_tether.study.history import History
from bright_tether.study.remedies import remedies
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(19)
SPAN = np.exp(DRAW.normal(2, 1, 40))
LOAD = 3 * SPAN**0.7 * np.exp(DRAW.normal(0, 0.4, 40))


def tied(remedy, y=LOAD):
    """The line after a remedy for a bend."""
    columns = (
        Column(id="x", name="span (m)", kind="number", cells=SPAN),
        Column(id="y", name="load (kg)", kind="number", cells=y),
    )
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(40))
    study = Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="x", y="y"),))
    if remedy:
        offered = remedies(study, study.tethers[0], "bend", frozenset())
        study = History(study).after(next(one for one in offered if one.words == remedy).edit).study
    return Findings(study, study.tether("k1"))


def said(findings):
    return [str(one) for one in step_of("line").reading(findings, "", None).sentences if "As measured" in one]


def test_a_line_in_both_logs_tells_what_twice_as_much_goes_with():
    findings = tied("Log of both")
    low, high = findings.coefficients.ci_slope
    (one,) = said(findings)
    assert one == (
        f"As measured, twice the span goes with {2**findings.line.slope:.3f} times the load "
        f"({2**low:.3f} … {2**high:.3f}, 95 %), by geometric means."
    )


def test_a_line_in_the_log_of_y_tells_what_each_step_multiplies_by():
    findings = tied("Log of y")
    (one,) = said(findings)
    low, high = (10**end for end in findings.coefficients.ci_slope)
    factor = 10**findings.line.slope
    assert one == (
        f"As measured, each extra m goes with {factor:.4f} times the load ({low:.4f} … {high:.4f}, 95 %), by geometric "
        "means."
    )


@pytest.mark.parametrize("way", [1, -1])
def test_a_line_in_the_log_of_x_tells_how_much_more_or_less(way):
    findings = tied("Log of x", way * np.log(SPAN) * 20 + DRAW.normal(0, 2, 40) + 200)
    (one,) = said(findings)
    twice = np.log10(2)
    ends = sorted(abs(end) * twice for end in findings.coefficients.ci_slope)
    size = f"{abs(findings.line.slope) * twice:.2f} kg {'more' if way > 0 else 'less'} load"
    assert one == f"As measured, twice the span goes with {size} ({ends[0]:.2f} … {ends[1]:.2f}, 95 %)."


def test_it_is_told_of_logs_alone_and_where_a_slope_is_shown():
    assert said(tied("")) == []
    assert said(tied("Square root of y")) == []
    assert said(tied("Log of y", np.exp(DRAW.normal(2, 1, 40)))) == []
    exact = said(tied("Log of both", 3 * SPAN**2))
    assert exact == ["As measured, twice the span goes with 4.00 times the load, by geometric means."]


def in_natural_logs(column):
    formula = msgspec.structs.replace(column.formula, text=column.formula.text.replace("log10", "log"))
    return msgspec.structs.replace(column, formula=formula, cells=column.cells * np.log(10))


def test_natural_logs_tell_the_same():
    findings = tied("Log of both")
    study = findings.study
    table = study.tables[0]
    columns = tuple(one if one.formula is None else in_natural_logs(one) for one in table.columns)
    table = msgspec.structs.replace(table, columns=columns)
    natural = Findings(msgspec.structs.replace(study, tables=(table,)), findings.tether)
    assert natural.x_way.scale == "log"
    assert said(natural) == said(findings)


@pytest.mark.parametrize(("widest", "said_of"), [(19.9, "1.1 times the span"), (20.1, "twice the span")])
def test_x_is_doubled_where_what_was_measured_spans_as_much(widest, said_of):
    span = np.geomspace(10, widest, 40)
    cells = {"span": span, "load": span**2 * np.exp(DRAW.normal(0, 0.05, 40))}
    columns = tuple(
        Column(id=at, name=name, kind="number", cells=one)
        for at, (name, one) in zip("xy", cells.items(), strict=True)
    )
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(40))
    study = Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="x", y="y"),))
    offered = remedies(study, study.tethers[0], "bend", frozenset())
    study = History(study).after(next(one for one in offered if one.words == "Log of both").edit).study
    assert said(Findings(study, study.tether("k1")))[0].startswith(f"As measured, {said_of} goes with ")
