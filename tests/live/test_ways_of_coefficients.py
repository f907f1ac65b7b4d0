"""Every other coefficient: each is what Strength, or a column held, tells when it is chosen."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims.other_choices import rows_path_claim
from bright_tether.core.strength.pearson import pearson
from bright_tether.demo.loggers import loggers_study
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.live.ways import Options
from bright_tether.study.asides import NO_ASIDES, Aside, Asides
from bright_tether.study.choices import HeldChoice, LineChoice, OtherwiseChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.rules import RuleChoices
from bright_tether.study.trail import LaterChange
from bright_tether.tables.column import Column
from bright_tether.words.readings.other_choices import other_choices_reading

COEFFICIENTS = OtherwiseChoice(what="coefficient")


def worked(study, tether, **fields):
    study = with_tether(study, msgspec.structs.replace(tether, otherwise=COEFFICIENTS, **fields))
    findings = Findings(study, study.tether(tether.id))
    found = findings.other_choices.outcome
    return findings, found, {one.options: one for one in found.ways}


def way(coefficient, rows="taken", scale="plain", held="none"):
    return Options(rows, scale, held=held, coefficient=coefficient)


def test_each_is_what_strength_tells():
    study = demo_study()
    findings, found, ways = worked(study, study.tethers[0])
    assert found.what == "coefficient"
    for name, value, ci in (
        ("pearson", findings.pearson.r, findings.pearson.ci),
        ("spearman", findings.spearman.rho, findings.spearman.ci),
        ("kendall", findings.kendall.tau_b, findings.kendall.ci),
        ("bent", findings.bent.r, findings.bent.ci),
    ):
        assert (ways[way(name)].value, ways[way(name)].ci) == (value, ci)
    every = msgspec.structs.replace(study.tethers[0], asides=NO_ASIDES)
    brought_back = Findings(with_tether(study, every), every)
    assert ways[way("kendall", "every")].value == brought_back.kendall.tau_b
    logs = np.corrcoef(np.log10(findings.pairs.x), np.log10(findings.pairs.y))[0, 1]
    assert ways[way("pearson", scale="log-both")].value == pytest.approx(logs, rel=1e-12)
    assert found.ways[found.present].options == way("pearson")
    assert [found.ways[at].options.rows for at in found.path] == ["every", "taken"]


def test_ranks_stand_once_and_nothing_else_is_left_away():
    study = demo_study()
    stage = study.table("t1").named("stage").id
    _, found, ways = worked(study, study.tethers[0], held=HeldChoice(columns=(stage,)))
    for one in ways:
        ranked = one.coefficient in ("spearman", "kendall")
        assert not ranked or (one.scale, one.held) == ("plain", "none")
        assert one.held == "none" or one.coefficient == "pearson"
        assert (one.line, one.weights, one.errors) == ("none", "none", "none")
    assert {axis for axis, _ in found.axes} == {"rows", "scale", "coefficient", "held"}
    assert {one.scale for one in ways} == {"plain", "log-x", "log-y", "log-both"}


def test_with_a_column_held_it_is_the_partial_r():
    study = demo_study()
    stage = study.table("t1").named("stage").id
    findings, _, ways = worked(study, study.tethers[0], held=HeldChoice(columns=(stage,)))
    held = findings.held_line.held
    one = ways[way("pearson", held="stage")]
    assert (one.value, one.ci) == (held.partial_r, held.partial_ci)
    keep = findings.held_line.keep
    z = findings.held_cells[0].cells[findings.pairs.at][keep]
    x, y = (np.asarray(v)[keep] for v in (findings.pairs.x, findings.pairs.y))
    r = np.corrcoef(np.array([x, y, z]))
    partial = (r[0, 1] - r[0, 2] * r[1, 2]) / np.sqrt((1 - r[0, 2] ** 2) * (1 - r[1, 2] ** 2))
    assert one.value == pytest.approx(partial, rel=1e-10)
    half = 1.959963984540054 / np.sqrt(keep.sum() - 1 - 3)
    ends = np.tanh(np.arctanh(partial) + np.array([-half, half]))
    assert one.ci == pytest.approx(tuple(ends), rel=1e-9)


def test_the_present_one_is_the_one_that_decides():
    study = msgspec.structs.replace(demo_study(), rules=RuleChoices(decide="kendall"))
    findings, found, _ = worked(study, study.tethers[0])
    assert found.ways[found.present].value == findings.kendall.tau_b
    assert found.axes[2][1][0] == "kendall"


def test_tau_moves_nothing_by_its_measure_alone():
    """It is smaller than r for the same pairs; only rows and scales can move it."""
    study = demo_study()
    _, found, _ = worked(study, study.tethers[0])
    assert found.ways[found.mover.way].options.coefficient != "kendall"
    study = msgspec.structs.replace(study, rules=RuleChoices(decide="kendall"))
    _, found, _ = worked(study, study.tethers[0])
    assert found.ways[found.mover.way].options.coefficient == "kendall"


def test_by_case_where_cases_decide():
    study = loggers_study()
    tether = study.tethers[2]
    site = study.table(tether.table).named("site").id
    findings, found, ways = worked(study, tether, line=LineChoice(errors="clustered", cluster=site))
    assert findings.case_decides
    for name in ("pearson", "spearman", "kendall"):
        one = findings.in_force(name)
        assert (ways[way(name)].value, ways[way(name)].ci) == (one.value, one.ci)
    assert {one.coefficient for one in ways} == {"pearson", "spearman", "kendall"}
    assert (
        pearson(findings.fit, alpha=0.05, alternative="two-sided", level=0.95).ci != ways[way("pearson")].ci
    )
    assert found.ways[found.present].ci == findings.in_force("pearson").ci


def test_cases_of_two_rows_decide_too():
    study = demo_study()
    tether = study.tethers[0]
    table = study.table(tether.table)
    pairs = np.repeat([f"case {at}" for at in range(table.rows // 2 + 1)], 2)[: table.rows].astype(object)
    columns = (*table.columns, Column(id="cases", name="case", kind="category", cells=pairs))
    tables = tuple(
        msgspec.structs.replace(one, columns=columns) if one is table else one for one in study.tables
    )
    study = msgspec.structs.replace(study, tables=tables)
    findings, _, ways = worked(study, tether, line=LineChoice(errors="clustered", cluster="cases"))
    assert np.bincount(findings.clusters).max() == 2
    assert ways[way("pearson")].ci == findings.in_force("pearson").ci != findings.pearson.ci


def test_where_every_case_has_one_row_intervals_are_by_rows():
    study = demo_study()
    table = study.table("t1")
    label = table.column(table.label_column).id if table.label_column else table.columns[0].id
    findings, _, ways = worked(study, study.tethers[0], line=LineChoice(errors="clustered", cluster=label))
    assert np.bincount(findings.clusters).max() == 1
    assert ways[way("pearson")].ci == findings.pearson.ci


def test_of_many_pairs_no_far_values_are_bent(monkeypatch):
    monkeypatch.setattr("bright_tether.live.ways.MOST_BENT", 60)
    study = demo_study()
    _, _, ways = worked(study, study.tethers[0])
    assert {one.coefficient for one in ways} == {"pearson", "spearman", "kendall"}


def trail_of(*entries):
    return tuple(
        LaterChange(what=what, before=before, after=after, when="2026-11-26T10:00", tether=tether)
        for what, before, after, tether in entries
    )


def test_the_path_goes_by_the_trail_of_what_decided_and_what_was_set_aside():
    """One reason before results were seen; then ρ decides, then another reason sets rows aside."""
    study = demo_study()
    first = study.tethers[0]
    more = (Aside(int(study.table("t1").row_ids[5]), "ice"), Aside(int(study.table("t1").row_ids[6]), "late"))
    trail = trail_of(("decide", "pearson", "spearman", None), ("set aside", "1", "ice", "k1"),
                     ("set aside", "1", "wrong tether", "k2"), ("set aside", "1", "late", "k1"))  # fmt: skip
    study = msgspec.structs.replace(study, trail=trail, rules=RuleChoices(decide="spearman"))
    findings, found, _ = worked(study, first, asides=Asides.told([*first.asides, *more]))
    assert findings.decisions_taken == (
        (0, "pearson"), (1, "pearson"), (1, "spearman"), (2, "spearman"), (3, "spearman"),
    )  # fmt: skip
    led = [(found.ways[at].options.rows, found.ways[at].options.coefficient) for at in found.path]
    assert led == [("every", "pearson"), ("after 1", "pearson"), ("after 1", "spearman"), ("after 2", "spearman"),
                   ("taken", "spearman")]  # fmt: skip
    claim = rows_path_claim(findings, found)
    assert (claim.reasons, claim.decided, claim.later) == (3, True, True)
    assert claim.before == pytest.approx(np.corrcoef(*every_row(findings))[0, 1], rel=1e-12)
    said = [str(one) for one in other_choices_reading(findings, found).sentences]
    assert any(
        one.startswith(
            "Setting rows aside and deciding by another coefficient, both after results were seen, led from"
        )
        for one in said
    )


def test_rows_set_aside_before_results_were_seen_are_told_so():
    study = demo_study()
    trail = trail_of(("decide", "pearson", "spearman", None))
    study = msgspec.structs.replace(study, trail=trail, rules=RuleChoices(decide="spearman"))
    findings, found, _ = worked(study, study.tethers[0])
    said = [str(one) for one in other_choices_reading(findings, found).sentences]
    assert any(
        one.startswith(
            "Setting rows aside and, after results were seen, deciding by another coefficient led from"
        )
        for one in said
    )


def test_a_decision_that_was_taken_back_leads_there_and_back():
    study = demo_study()
    trail = trail_of(("decide", "pearson", "kendall", None), ("decide", "kendall", "pearson", None))
    study = msgspec.structs.replace(study, trail=trail)
    findings, found, _ = worked(study, study.tethers[0])
    led = [found.ways[at].options.coefficient for at in found.path]
    assert led == ["pearson", "pearson", "kendall", "pearson"]
    assert rows_path_claim(findings, found).after == findings.pearson.r


def test_a_rule_of_the_tethers_own_follows_no_change_of_the_studys():
    study = demo_study()
    trail = trail_of(("decide", "pearson", "kendall", None))
    study = msgspec.structs.replace(study, trail=trail, rules=RuleChoices(decide="kendall"))
    _, found, _ = worked(study, study.tethers[0], rules=RuleChoices(decide="spearman"))
    assert {found.ways[at].options.coefficient for at in found.path} == {"spearman"}


def every_row(findings):
    x, y = findings.x_cells, findings.y_cells
    there = np.isfinite(x) & np.isfinite(y)
    return x[there], y[there]


def test_where_no_row_was_set_aside_the_path_is_what_decided():
    study = demo_study()
    trail = trail_of(("decide", "slope", "kendall", None))
    study = msgspec.structs.replace(study, trail=trail, rules=RuleChoices(decide="kendall"))
    findings, found, _ = worked(study, study.tether("k5"))
    assert [found.ways[at].options.coefficient for at in found.path] == ["pearson", "kendall"]
    said = [str(one) for one in other_choices_reading(findings, found).sentences]
    assert any(
        one.startswith("Deciding by another coefficient, after results were seen, led from") for one in said
    )
    slopes = Findings(study, study.tether("k5")).other_choices.outcome
    assert slopes.path == ()
