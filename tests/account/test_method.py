"""What an account says of how its figures came about: definitions, references, version and files."""

import re
from datetime import date

import msgspec
import numpy as np
import pytest

from bright_tether.account.composing import page_of
from bright_tether.account.evidence import write_evidence
from bright_tether.account.html import html_file
from bright_tether.core.strength import by_case
from bright_tether.demo.loggers import loggers_study
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from bright_tether.study.pin_changes import put_pin
from bright_tether.study.study import Study
from bright_tether.study.table_changes import bring_in
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.read_plan import guess_plan, read_file
from bright_tether.tables.table import Table
from bright_tether.words.about import own_version
from bright_tether.words.readings.definitions import definition_sentences, source_sentences
from bright_tether.words.references import REFERENCES, bibtex, cited

TODAY = date(2026, 11, 23)


def findings_with(**line):
    study = demo_study()
    edit = changes.change_choice(study, study.tethers[0], "line", "Errors", **line) if line else None
    study = edit.apply(study) if edit else study
    return Findings(study, study.tethers[0])


@pytest.mark.parametrize(("errors", "said"), [
    ("classical", None), ("HC0", "White 1980"), ("HC3", "MacKinnon & White 1985"), ("newey_west", "Newey & West 1987"),
])  # fmt: skip
def test_errors_in_force_are_told_with_what_they_rest_on(errors, said):
    told = [words for words, _ in definition_sentences(findings_with(errors=errors), {"gather"})]
    assert told == ([] if said is None else [f"Standard errors after {said}; t on 62 df."])


def test_intervals_by_case_say_whether_one_case_or_a_set_of_them_is_left_out(monkeypatch):
    """More cases than can be left out one by one go together."""
    told = []
    for parts in (by_case._PARTS, 4):
        monkeypatch.setattr(by_case, "_PARTS", parts)
        monkeypatch.setattr(by_case, "_PAIRS", 1)
        study = loggers_study()
        found = Findings(study, study.tethers[2])
        told += [words for words, _ in definition_sentences(found, {"line"}) if "leaving" in words]
    assert told == [f"Intervals of coefficients by leaving one {one} after another out (Efron & Stein 1981)."
                    for one in ("case", "set of cases")]  # fmt: skip


def test_each_step_that_is_shown_brings_its_own_definitions():
    found = findings_with()
    assert definition_sentences(found, set()) == ()
    told = {
        step: [words for words, _ in definition_sentences(found, {step})]
        for step in ("line", "doubts", "compare")
    }
    assert told["line"] == ["The interval of r rests on atanh r (Fisher 1921)."]
    assert told["doubts"] == [
        "Even spread, independence and influence are checked after Koenker 1981, Durbin & Watson 1950 and Cook 1977."
    ]
    assert told["compare"] == []  # nothing is compared
    strength = [words for words, _ in definition_sentences(found, {"strength"})]
    assert "after Bonett & Wright 2000, Fieller et al. 1957 and Kendall & Gibbons 1990." in strength[1]


def test_only_what_there_is_has_a_definition():
    study = demo_study()
    edit = changes.change_choice(
        study, study.tethers[0], "compare", "Stations", group=study.tethers[0].tint, margin=1.0
    )
    study = edit.apply(study)
    told = [words for words, _ in definition_sentences(Findings(study, study.tethers[0]), {"compare"})]
    assert told == ["One line for all is tested after Chow 1960.",
                    "Equivalence is tested by two one-sided tests (Schuirmann 1987)."]  # fmt: skip
    exact = Table(id="t1", name="t", row_ids=np.arange(9), columns=tuple(
        Column(id=f"c{at}", name=name, kind="number", cells=np.arange(9.0) * at) for at, name in enumerate("xy", 1)
    ))  # fmt: skip
    tether = Tether(id="k1", table="t1", x="c1", y="c2")
    found = Findings(Study(tables=(exact,), tethers=(tether,)), tether)
    assert definition_sentences(found, {"line", "strength", "doubts", "compare"}) == ()


def test_the_page_ends_with_the_references_it_cites_and_names_the_version(tmp_path):
    study = demo_study()
    for step in ("line", "doubts"):
        study = put_pin(study, "reading", "Pin", tether="k1", step=step).apply(study)
    page = page_of(study, today=TODAY)
    assert [one.key for one in page.references] == ["cook1977", "durbin1950", "fisher1921", "koenker1981"]
    html = html_file(page, study)
    assert f"Written 23 November 2026 with Bright Tether {own_version()}." in html
    cook = "Cook, R. D. (1977). Detection of influential observation in linear regression. Technometrics 19, 15–18."
    assert f"<p>{cook}</p>" in html
    write_evidence(page, study, tmp_path / "evidence", None)
    kept = (tmp_path / "evidence" / "references.bib").read_text(encoding="utf-8")
    assert re.findall(r"@article\{(\w+),", kept) == ["cook1977", "durbin1950", "fisher1921", "koenker1981"]


def test_files_are_told_by_name_size_day_and_digest_and_no_folder(tmp_path):
    file = tmp_path / "murk.csv"
    file.write_text("x,y\n1,2\n2,5\n3,4\n5,9\n", encoding="utf-8")
    table = read_file(file, "t1", guess_plan(file.read_bytes(), "murk.csv"))
    edit, _ = bring_in(Study(), table)
    study = edit.apply(Study())
    (said,) = source_sentences(Findings(study, study.tethers[0]))
    day = date.fromtimestamp(file.stat().st_mtime).isoformat()
    assert re.fullmatch(rf"Data: “murk\.csv”, 20 bytes, of {day}, SHA-256 [0-9a-f]{{64}}\.", said)
    assert str(tmp_path) not in said
    bare = msgspec.structs.replace(table, source=msgspec.structs.replace(table.source, digest=""))
    study = msgspec.structs.replace(study, tables=(bare,))
    assert source_sentences(Findings(study, study.tethers[0])) == ()


def test_every_reference_is_whole():
    for one in REFERENCES.values():
        assert str(one.year) in one.key
        assert one.line.endswith(".")
        assert one.authors[0][0].lower().startswith(one.key.rstrip("0123456789")[:4])
    book = bibtex([REFERENCES["kendall1990"]])
    assert book.startswith("@book{kendall1990,")
    assert "author = {Kendall, M. G. and Gibbons, J. D.}" in book
    assert "pages = {3--32}" in bibtex([REFERENCES["fisher1921"]])
    assert cited("fieller1957") == "(Fieller et al. 1957)"
