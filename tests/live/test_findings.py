"""Results are made once and again only when what they rest on changed."""

from weakref import ref

import msgspec
import pytest

import bright_tether.live.findings
import bright_tether.tables.computed
from bright_tether.claims.tether import claims_of
from bright_tether.core.results import TooFewPairs
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings, NothingTied, NotNumbers
from bright_tether.steps.step import EVERYWHERE
from bright_tether.study import cell_changes, changes
from bright_tether.study.choices import ForecastChoice, LineChoice
from bright_tether.study.column_changes import add_formula
from bright_tether.study.derived import with_tether
from bright_tether.study.memory import Memory
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.computed import expression


@pytest.fixture
def study(short_table):
    return Study(tables=(short_table,), tethers=(Tether(id="k1", table="t1", x="c1", y="c2"),))


def of(study, memory):
    return Findings(study, study.tethers[0], memory)


def test_a_rule_moves_only_what_rests_on_it(study):
    memory = Memory()
    first = of(study, memory)
    first.prepare(EVERYWHERE)
    made = memory.made
    changed = of(changes.change_rule(study, "digits", 5).apply(study), memory)
    changed.prepare(EVERYWHERE)
    assert memory.made == made
    assert changed.line is first.line
    level = of(changes.change_rule(study, "alpha", 0.01).apply(study), memory)
    assert level.fit is first.fit
    assert level.rows is first.rows
    assert level.line is not first.line
    assert level.line.level == 0.99


def test_a_cell_of_another_column_changes_nothing(study):
    memory = Memory()
    first = of(study, memory)
    elsewhere = of(cell_changes.set_cells(study, "t1", {(0, "c3"): "zz"}).apply(study), memory)
    assert elsewhere.fit is first.fit
    here = of(cell_changes.set_cells(study, "t1", {(0, "c1"): 1.5}).apply(study), memory)
    assert here.fit is not first.fit


def test_setting_aside_and_refusals(study):
    memory = Memory()
    out = of(changes.set_aside(study, study.tethers[0], {0, 1, 2}, "why").apply(study), memory)
    assert isinstance(out.refusal, TooFewPairs)
    out.prepare(EVERYWHERE)
    assert (out.pairs.n, out.pairs.set_aside) == (2, 3)
    assert out.cloud.aside.sum() == 3
    assert of(study, memory).refusal is None


def test_nothing_tied_and_no_numbers(study):
    tether = Tether(id="k1", table="t1", x=None, y="c2")
    assert isinstance(Findings(with_tether(study, tether), tether).refusal, NothingTied)
    tether = Tether(id="k1", table="t1", x="c3", y="c2")
    assert isinstance(Findings(with_tether(study, tether), tether).refusal, NotNumbers)


def test_groups_beyond_five_share_a_look(short_table):
    tether = Tether(id="k1", table="t1", x="c1", y="c2", tint="c3")
    study = Study(tables=(short_table,), tethers=(tether,))
    cloud = Findings(study, tether).cloud
    assert cloud.groups == ("a", "b", "c", "d", "e")
    assert cloud.counts() == (1, 1, 1, 1, 1)


def test_memory_forgets_tethers_that_are_gone(study):
    memory = Memory()
    of(study, memory).prepare(EVERYWHERE)
    made = memory.made
    memory.forget_others(set())
    of(study, memory).prepare(EVERYWHERE)
    assert memory.made == 2 * made


def test_findings_that_nobody_holds_are_gone_with_all_that_was_made(study):
    memory = Memory()
    found = of(study, memory)
    assert claims_of(found).decision
    found.prepare((Findings.rows, Findings.checks))
    first, fit, kept = ref(found), ref(found.fit), len(memory._kept)
    later = of(cell_changes.set_cells(study, "t1", {(2, "c2"): 41.5}).apply(study), memory)
    later.prepare((Findings.rows, Findings.sums))
    assert (
        len(memory._kept) < kept
    )  # what rests on the rows that were is gone; the rest is replaced when asked for
    del found
    assert first() is None
    assert fit() is None
    assert later.rows is later.rows


def test_the_case_of_a_forecast_needs_a_column_of_cases():
    study = demo_study()
    for case, expected in (("", None), ("1", None)):
        tether = msgspec.structs.replace(study.tethers[0], forecast=ForecastChoice(case=case))
        assert Findings(with_tether(study, tether), tether).case_code is expected


@pytest.mark.parametrize(
    ("text", "pattern"), [('1/"turbidity"**1', "inverse-x"), ('1/"turbidity"**2', "inverse-x2")]
)
def test_a_weight_that_is_worked_out_of_x_tells_what_a_new_case_weighs(text, pattern):
    study = demo_study()
    table, tether = study.table("t1"), study.tethers[0]
    study = add_formula(study, "t1", "weight", expression(text, table)).apply(study)
    tether = msgspec.structs.replace(tether, line=LineChoice(weights=study.table("t1").named("weight").id))
    found = Findings(with_tether(study, tether), tether).new_weight
    assert (found.pattern, found.power) == (pattern, None)


def test_a_result_of_nothing_takes_nothing_else_with_it():
    """What was made from a result that is gone goes too, but None is the same object wherever it stands."""
    memory, one, other = Memory(), [1], [2]
    made = memory.keep(("k", "made"), lambda x: [x], one)
    assert memory.keep(("k", "nothing"), lambda _: None, made) is None
    assert memory.keep(("k", "none at all"), lambda _: (), made) == ()
    beside = memory.keep(("k", "beside"), lambda none, empty, x: [x], None, (), other)
    memory.keep(("k", "made"), lambda x: [x], other)
    assert memory.find(("k", "nothing"), (made,)) is None
    assert memory.find(("k", "none at all"), (made,)) is None
    assert memory.find(("k", "beside"), (None, (), other)) == (beside,)


def test_slips_are_looked_for_in_the_column_that_changed_alone(study, monkeypatch):
    looked = []
    before = bright_tether.live.findings.column_slips

    def column_slips(column, row_ids, heads):
        looked.append(column.id)
        return before(column, row_ids, heads)

    monkeypatch.setattr("bright_tether.live.findings.column_slips", column_slips)
    assert Findings(study, study.tethers[0]).slips == ()
    assert set(looked) == {column.id for column in study.tables[0].columns}
    looked.clear()
    changed = cell_changes.set_cells(study, "t1", {(1, "c1"): "n.d."}).apply(study)
    [slip] = Findings(changed, changed.tethers[0]).slips
    assert (slip.column, slip.rows, looked) == ("c1", (1,), ["c1"])


def test_a_column_that_is_worked_out_is_worked_out_once(study, monkeypatch):
    times = []
    before = bright_tether.tables.computed.evaluated

    def evaluated(*given):
        times.append(1)
        return before(*given)

    monkeypatch.setattr("bright_tether.tables.computed.evaluated", evaluated)
    edit = add_formula(
        study, "t1", "twice", expression(f"{study.tables[0].columns[0].short}*2", study.tables[0])
    )
    there = edit.apply(study)
    again = edit.apply(edit.inverse().apply(there))
    assert len(times) == 1
    assert again.tables[0].columns[-1].cells is edit.column.cells
    cells_of = cell_changes.set_cells(there, "t1", {(1, "c1"): 50.0}).apply(there).tables[0]
    assert len(times) == 2
    assert cells_of.columns[-1].cells[cells_of.places([1])[0]] == 100.0
