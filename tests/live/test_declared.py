"""Every result names its maker and its inputs: leaving one out is caught, nothing stale is shown."""

import inspect

import msgspec
import numpy as np
import pytest

from bright_tether.core.results import Refusal, names_of
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study import cell_changes, changes
from bright_tether.study.declared import Family, Given, Result, Run, RunFamily, given, result
from bright_tether.study.derived import with_tether
from bright_tether.study.memory import Memory

DECLARED = {
    name: one
    for name, one in inspect.getmembers_static(Findings)
    if isinstance(one, Result | Family | Run | RunFamily)
}


@pytest.mark.parametrize("name", DECLARED)
def test_leaving_any_one_input_out_is_refused_when_the_module_is_read(name):
    one = DECLARED[name]
    settings = {Result: 0, Family: 1, Run: 1, RunFamily: 2}[type(one)]
    needed = [
        p for p in inspect.signature(one.make).parameters.values() if p.default is inspect.Parameter.empty
    ]
    if len(needed) < len(one.inputs) + settings:
        pytest.skip("its last inputs may be left out by its maker")
    for at in range(len(one.inputs)):
        fewer = (*one.inputs[:at], *one.inputs[at + 1 :])
        rest = (one.whole, fewer) if isinstance(one, Run | RunFamily) else (fewer,)
        with pytest.raises(TypeError, match="missing"):
            type(one)(one.make, *rest)


def test_a_maker_knows_only_what_it_is_handed():
    for name, one in DECLARED.items():
        cells = inspect.getclosurevars(one.make).nonlocals if inspect.isfunction(one.make) else {}
        assert not any(isinstance(value, Findings) for value in cells.values()), name
        assert all(isinstance(each, Given) for each in one.inputs), name


def changed_studies():
    """The demo study, and the same after each kind of change that a result may rest on."""
    study = demo_study()
    k1 = study.tether("k1")
    yield "as it is", study
    yield "a cell", cell_changes.set_cells(study, k1.table, {(3, k1.x): 41.5}).apply(study)
    yield "aside", changes.set_aside(study, k1, {5, 6}, "why").apply(study)
    for rule, value in (("alpha", 0.2), ("level", 0.5), ("alternative", "greater"), ("decide", "spearman")):
        yield rule, changes.change_rule(study, rule, value).apply(study)
    stage = study.table(k1.table).named("stage").id
    station = study.table(k1.table).named("station").id
    for fields in (
        {"errors": "HC3"}, {"slope_0": 1.0}, {"origin": True}, {"order": stage}, {"cluster": station},
        {"error_ratio": 4.0}, {"weights": stage}, {"weight_pattern": "inverse-x"}, {"intercept_0": 2.0},
    ):  # fmt: skip
        yield str(fields), changes.change_choice(study, k1, "line", "line", **fields).apply(study)
    for fields in ({"group": station}, {"second": stage}, {"group": station, "margin": 0.5}):
        yield str(fields), changes.change_choice(study, k1, "compare", "compare", **fields).apply(study)
    for fields in ({"draws": 40, "seed": 3}, {"source": "rows", "draws": 40}, {"purpose": "r power"}):
        yield str(fields), changes.change_choice(study, k1, "rehearse", "rehearse", **fields).apply(study)
    for fields in ({"tint": station}, {"x": stage}):
        yield str(fields), with_tether(study, msgspec.structs.replace(k1, **fields))


def told(value):
    """Numbers of a result as they can be compared, whatever it is made of."""
    if isinstance(value, np.ndarray):
        return value.tolist()
    if isinstance(value, dict):
        return {key: told(one) for key, one in value.items()}
    if isinstance(value, tuple | list):
        return [told(one) for one in value]
    if names := names_of(value):
        return {name: told(getattr(value, name)) for name in names if name != "why"}
    # what an object works out when it is asked is no part of what it is
    own = (
        {name: one for name, one in vars(value).items() if not hasattr(type(value), name)}
        if hasattr(value, "__dict__")
        else {}
    )
    return told(own) if type(value).__module__.startswith("bright_tether.core.doubts") else value


def asked(findings, name):
    try:
        return repr(told(getattr(findings, name)))
    except Refusal as refusal:
        return type(refusal).__name__


def test_what_memory_gives_is_what_is_made_anew_whatever_changed():
    memory = Memory()
    names = [name for name, one in DECLARED.items() if isinstance(one, Result)]
    for what, study in changed_studies():
        kept = Findings(study, study.tether("k1"), memory)
        fresh = Findings(study, study.tether("k1"), Memory())
        for name in names:
            assert asked(kept, name) == asked(fresh, name), (what, name)


def test_a_result_that_forgets_an_input_is_found_by_that_law():
    class Forgetful(Findings):
        @given
        def nothing(self):
            """An input that never changes."""
            return 0

        pearson = result(lambda nothing, seen=[]: seen or seen.append(1) or 0.5, nothing)

    study = demo_study()
    memory = Memory()
    first = Forgetful(study, study.tether("k1"), memory).pearson
    after = changes.change_rule(study, "alpha", 0.2).apply(study)
    assert Forgetful(after, after.tether("k1"), memory).pearson == first
    assert asked(Forgetful(after, after.tether("k1"), Memory()), "pearson") != repr(first)


@pytest.mark.parametrize("step", STEPS, ids=lambda step: step.id)
def test_what_a_step_needs_is_there_before_it_is_shown(step):
    """Readings, workings and tables of every view make nothing anew once its needs are made."""
    study = demo_study()
    k1 = study.tether("k1")
    station = study.table(k1.table).named("station").id
    study = changes.change_choice(study, k1, "compare", "compare", group=station).apply(study)
    study = changes.change_choice(study, study.tether("k1"), "rehearse", "fewer", draws=50).apply(study)
    for view in step.views_of(Findings(study, study.tether("k1"), Memory())):
        memory = Memory()
        findings = Findings(study, study.tether("k1"), memory)
        run = view.run(findings).outcome if view.run else None
        findings.prepare(step.all_needs(view.id))
        before = set(memory._kept)
        step.reading(Findings(study, study.tether("k1"), memory), view.id, run)
        late = {key[1] for key in set(memory._kept) - before}
        assert not late, (step.id, view.id)
