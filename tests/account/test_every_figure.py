"""The account as data: every figure in full with what it is, every sentence with its facts, every reference."""

import json
import re
from pathlib import Path

import jsonschema
import msgspec
import pytest

from account.test_page import TODAY
from bright_tether.account.composing import page_of
from bright_tether.account.every_figure import account_json, account_of, schema
from bright_tether.account.evidence import write_evidence
from bright_tether.account.freezing import frozen_of
from bright_tether.account.pieces import AllFindings, blocks_of, workings_of
from bright_tether.account.press import NO_PRESS
from bright_tether.core.results import Refusal
from bright_tether.demo.study import demo_study
from bright_tether.steps.catalogue import STEPS
from bright_tether.study.changes import take_back
from bright_tether.study.choices import CompareChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.package import open_study, save_study
from bright_tether.study.pin_changes import freeze
from bright_tether.study.pins import Figures, Grid, Pin
from bright_tether.words.meanings import meaning_of
from bright_tether.words.references import REFERENCES
from bright_tether.words.shown import Shown

DOCS = Path(__file__).parent.parent.parent / "docs"


def test_the_published_schema_is_current_and_describes_what_is_written(pinned):
    published = json.loads((DOCS / "figures.schema.json").read_text(encoding="utf-8"))
    assert published == json.loads(json.dumps(schema()))
    told = json.loads(account_json(page_of(pinned, today=TODAY), pinned))
    jsonschema.validate(told, published)
    del told["figures"][0]["value"]
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(told, published)


def test_every_number_of_the_tables_is_there_in_full_with_what_it_is(pinned):
    page = page_of(pinned, today=TODAY)
    told = account_of(page, pinned)
    line = AllFindings(pinned).of("k1").line
    first = next(one for one in told.figures if one.row == "slope")
    assert (first.value, first.shown, first.chapter) == (line.slope, "1.429", "turbidity ⟶ sediment")
    assert first.definition == "change of the line in y for one unit of x"
    by_caption = {one.table for one in told.figures}
    captions = [block.title for block in page.blocks if isinstance(block, Grid | Figures)]
    assert by_caption >= set(captions)
    assert {one.title for rows in page.rows for one in rows.grids} <= by_caption
    for one in told.figures:
        assert float(f"{one.value:.3g}") == pytest.approx(float(one.shown), rel=0.06), one
        assert one.definition or one.column in ("turbidity", "sediment"), one
        assert all(key in REFERENCES for key in one.references)
    says = [one for one in told.sentences if any(claim.kind == "change" for claim in one.claims)]
    assert says[0].claims[0].facts["slope"] == pytest.approx(line.slope, rel=1e-12)


def pinned_alone(study, **pin):
    return msgspec.structs.replace(study, pins=(Pin(id="p1", tether="k1", **pin),))


def test_a_working_gives_what_it_works_out_with_how(pinned):
    study = pinned_alone(pinned, part="working", step="line")
    told = account_of(page_of(study, today=TODAY), study)
    line = AllFindings(pinned).of("k1").line
    by_row = {
        (one.row, one.column): one for one in told.figures if "How the slope is worked out" in one.table
    }
    slope = by_row["slope", "result"]
    assert slope.value == line.slope
    assert slope.definition.startswith("b = Sxy / Sxx = ")
    assert [by_row["interval", end].value for end in ("low", "high")] == list(line.ci_slope)
    means = [by_row["means", name].value for name in ("mean of x", "mean of y")]
    sums = AllFindings(pinned).of("k1").line_sums
    assert means == [sums.mean_x, sums.mean_y]


def test_what_stands_beside_a_figure_is_a_figure_too(pinned):
    study = pinned_alone(pinned, part="figures", step="doubts", view="order")
    told = account_of(page_of(study, today=TODAY), study)
    checks = AllFindings(pinned).of("k1").checks
    values = {(one.row, one.column): one.value for one in told.figures}
    assert values["Durbin–Watson d", "p"] == checks.durbin_watson.p_two_sided
    assert values["signs + and −", "signs −"] == checks.runs.n_minus
    assert values["signs + and −", "z of the runs"] == checks.runs.z
    assert [one.row for one in told.figures if one.step == "doubts" and not one.definition] == []


@pytest.mark.parametrize("part", ["reading", "figures", "table", "working"])
def test_what_is_frozen_keeps_its_numbers_and_claims_in_the_file(pinned, part, tmp_path):
    study = pinned_alone(pinned, part=part, step="line")
    live = account_of(page_of(study, today=TODAY), study)
    pin = study.pins[0]
    blocks = blocks_of(pin, AllFindings(study).of("k1"), NO_PRESS)
    study = freeze(study, pin, frozen_of(blocks, "2026-11-23T10:00")).apply(study)
    save_study(study, tmp_path / "s.tether")
    study = open_study(tmp_path / "s.tether")
    frozen = account_of(page_of(study, today=TODAY), study)

    def plain(account):
        return json.loads(msgspec.json.encode((account.figures, account.sentences)))

    assert plain(frozen) == plain(live)
    assert frozen.sentences[0].claims if part == "reading" else frozen.figures
    # and they stay what they were
    later = take_back(study, study.tethers[0], {one.row for one in study.tethers[0].asides}).apply(study)
    again = account_of(page_of(later, today=TODAY), later)
    assert plain(again)[1] == plain(live)[1]
    figures = [one for one in plain(again)[0] if one["step"] == "line"]
    assert figures == [one for one in plain(live)[0] if one["step"] == "line"]


def test_every_number_of_a_working_is_known_as_one():
    """Of every step of the demo: what has digits in its result stands for a number, but for what is set."""
    everything, plain = AllFindings(demo_study()), set()
    for findings in everything.every():
        for step in STEPS:
            for view in [one.id for one in step.views_of(findings)]:
                for working in workings_of(findings, step.id, view):
                    plain |= {one.what for one in working.steps
                              if re.search(r"\d", one.result) and not isinstance(one.result, Shown)}  # fmt: skip
    assert plain <= {"z of each row", "ranks", "hypotheses", "together"}


def test_every_figure_that_a_step_can_show_is_defined():
    """Of the steps of the demo, compared by groups and by responses too."""
    study = demo_study()
    rock = next(one.id for one in study.table("t4").columns if one.name == "rock")
    third = next(one.id for one in study.table("t3").columns if one.name.startswith("surveyor C"))
    for at, choice in ((3, CompareChoice(group=rock, margin=1.0)), (2, CompareChoice(second=third))):
        study = with_tether(study, msgspec.structs.replace(study.tethers[at], compare=choice))
    everything, unknown, seen = AllFindings(study), set(), 0
    for tether in study.tethers:
        for step in STEPS:
            for view in [one.id for one in step.views_of(everything.of(tether.id))]:
                if view == "widths" and tether.id != "k1":  # the same columns, worked out at length
                    continue
                for part in ("figures", "table"):
                    pin = Pin(id="p1", part=part, tether=tether.id, step=step.id, view=view)
                    try:
                        blocks = blocks_of(pin, everything.of(tether.id), NO_PRESS)
                    except (Refusal, KeyError):
                        continue
                    for block in blocks:
                        if isinstance(block, Figures):
                            names = [row[0] for row in block.rows]
                        elif isinstance(block, Grid):
                            names = (
                                [row[0] for row in block.rows] if "value" in block.heads else block.heads[1:]
                            )
                        else:
                            continue
                        seen += len(names)
                        unknown |= {(step.id, name) for name in names if not meaning_of(name, step.id)[0]}
    words = {
        "verdict",
        "what was found",
        "let stand because",
        "what it says",
        "against",
        "line",
        "value",
        "test",
        "option",
    }
    assert {one for one in unknown if one[1] not in words} == set()
    assert seen > 500


def test_references_go_along_for_programs_that_keep_them(pinned, tmp_path):
    write_evidence(page_of(pinned, today=TODAY), pinned, tmp_path / "e")
    told = json.loads((tmp_path / "e" / "references.json").read_text(encoding="utf-8"))
    assert {one["id"] for one in told} >= {"fisher1921", "kendall1990", "cook1977"}
    book = next(one for one in told if one["id"] == "kendall1990")
    assert (book["type"], book["publisher"], book["publisher-place"]) == ("book", "Edward Arnold", "London")
    paper = next(one for one in told if one["id"] == "cook1977")
    assert (paper["container-title"], paper["page"]) == ("Technometrics", "15–18")
    figures = json.loads((tmp_path / "e" / "figures.json").read_text(encoding="utf-8"))
    assert {one["id"] for one in figures["references"]} == {one["id"] for one in told}
