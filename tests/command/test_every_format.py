"""The command reads whatever the application opens, to the same figures."""

import json

import numpy as np
import pytest

from bright_tether.account.tables import SUFFIXES, export_table
from bright_tether.command.parser import run
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings


@pytest.fixture
def analysed(capsys):
    def analyse(path):
        call = ["analyse", str(path), "--x", "calcium", "--y", "conductance", "--format", "json"]
        assert run(call, lambda files: 9) == 0
        return json.loads(capsys.readouterr().out)

    return analyse


@pytest.mark.parametrize("suffix", [*SUFFIXES, ".json"])
def test_every_format_gives_the_figures_of_the_window(analysed, tmp_path, suffix):
    study = demo_study()
    table, tether = study.tables[3], study.tethers[3]
    path = tmp_path / f"springs{suffix}"
    if suffix == ".json":
        names = [column.name for column in table.columns]
        rows = zip(*(column.cells.tolist() for column in table.columns), strict=True)
        path.write_text(json.dumps([dict(zip(names, row, strict=True)) for row in rows]))
    else:
        export_table(table, path)
    told, shown = analysed(path), Findings(study, tether)
    assert told["line"]["slope"] == shown.line.slope
    assert told["correlation"]["pearson"]["p"] == shown.pearson.p
    assert told["pairs"]["n"] == shown.pairs.n


def test_a_long_file_gives_the_same_figures_as_a_short_road(analysed, tmp_path):
    draw = np.random.default_rng(6)
    x = np.round(draw.normal(50, 9, 60_000), 6)
    y = np.round(3 * x + draw.normal(0, 4, x.size), 6)
    lines = "".join(
        f"{a!r},{b!r},some words that make the file long\n"
        for a, b in zip(x.tolist(), y.tolist(), strict=True)
    )
    path = tmp_path / "long.csv"
    path.write_text("calcium (mg/L),conductance,note\n" + lines)
    assert path.stat().st_size > 2_000_000
    told = analysed(path)
    assert told["pairs"]["n"] == 60_000
    assert told["line"]["slope"] == pytest.approx(np.polyfit(x - x.mean(), y, 1)[0], rel=1e-11)


def test_an_index_column_named_on_purpose_is_read_as_numbers(capsys, csv_file):
    path = csv_file("id,y\n1,2\n2,3\n3,7\n4,8\n")
    assert run(["analyse", str(path), "--x", "id", "--y", "y", "--format", "json"], lambda files: 9) == 0
    assert json.loads(capsys.readouterr().out)["line"]["slope"] == pytest.approx(2.2)
