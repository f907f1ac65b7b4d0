"""The script beside an account: every figure it names agrees, and it says what it leaves."""

import json
import subprocess
import sys
from datetime import date

import pytest
from tests.truth.families import case

from bright_tether.account.composing import page_of
from bright_tether.account.evidence import write_evidence
from bright_tether.command.analyse import findings_of
from bright_tether.command.parser import command_parser, with_negatives
from bright_tether.tables.read_plan import guess_plan, read_content


def worked_out(folder, family, seed, **more):
    """What stands in the results of a set, and what the script says of it. more : options in place of its own."""
    one = case(family, seed)
    one.options.update(more)
    content = one.csv().encode()
    table = read_content(content, "pairs.csv", "t1", guess_plan(content, "pairs.csv"))
    options = command_parser().parse_args(with_negatives(["analyse", "pairs.csv", *one.call()]))
    study = findings_of(options, table).study
    write_evidence(page_of(study, today=date(2026, 1, 2)), study, folder, None)
    run = subprocess.run(
        [sys.executable, folder / "reproduce.py"], capture_output=True, text=True, check=False
    )
    return json.loads((folder / "results.json").read_text(encoding="utf-8"))["tethers"][0], run


@pytest.mark.parametrize(("family", "seed", "told", "left"), [
    ("plain", 7, ("p_tau_b", "rho_high", "r2", "p_f", "check RESET p", "check White", "check Shapiro-Wilk W"),
     "the p of Durbin–Watson and of Anderson–Darling, influence"),
    ("groups", 8, ("group 1 se", "parallel F", "same height p"), "every two groups"),
    ("two_groups", 3, ("slopes p", "slopes df", "coincident F"), "Welch’s and pooled differences"),
    ("pattern", 7, ("case_low[0]",), "checks of a line with weights or through the origin"),
    ("offset", 7, ("mean_low[0]", "check curvature t"), "rehearsals and lineups"),
    ("nearly_exact", 7, ("p_r", "r_low", "HC3 se", "newey_west se"), "lines of other shapes"),
    ("one_unit", 7, ("paired p", "resistant low", "both-error se"), "lines of other shapes"),
    ("clustered", 7, ("p_slope",), "what is judged by case, but for the slope"),
])  # fmt: skip
def test_every_figure_agrees(tmp_path, family, seed, told, left):
    results, run = worked_out(tmp_path / "e", family, seed)
    assert run.returncode == 0, run.stdout + run.stderr
    assert set(told) <= set(results["figures"])
    assert run.stdout.count(" agrees") == sum(one is not None for one in results["figures"].values()) + 1
    assert left in run.stdout


@pytest.mark.parametrize(("family", "rest"), [("plain", {}), ("pattern", {"weight_pattern": "inverse-x"})])
def test_intervals_by_ranks_are_found_again_by_fitting_with_the_case_where_the_line_is_plain(
    tmp_path, family, rest
):
    results, run = worked_out(tmp_path / "e", family, 7, width="ranks", at="3,8", **rest)
    assert run.returncode == 0, run.stdout + run.stderr
    assert ("case_low[1]" in results["figures"]) == (family == "plain")
    assert ("ranks of more rows, weights" in run.stdout) == (family != "plain")


@pytest.mark.parametrize("pattern", ["power-x", "power-fitted"])
def test_forecasts_by_a_fitted_power_are_worked_out_again_with_the_df_of_their_place(tmp_path, pattern):
    results, run = worked_out(tmp_path / "e", "pattern", 7, weight_pattern=pattern, at="3,8")
    assert run.returncode == 0, run.stdout + run.stderr
    assert {"mean_low[1]", "case_high[1]"} <= set(results["figures"])
    assert results["results"]["line"]["spread_power"]["of"] == pattern.removeprefix("power-")
    assert results["choices"]["df_at"][0] < results["results"]["line"]["residual_df"]
    assert "not worked out here: the power of the spread, which its weights take" in run.stdout


def test_the_difference_of_two_responses_is_worked_out_again(tmp_path):
    for seed in range(1, 30):
        results, run = worked_out(tmp_path / str(seed), "second_response", seed)
        if "same rows t" in results["figures"]:
            break
    assert run.returncode == 0, run.stdout + run.stderr
    assert {"same rows slope", "same rows t", "same rows p"} <= set(results["figures"])


def test_a_figure_that_is_wrong_is_named(tmp_path):
    results, _ = worked_out(tmp_path / "e", "two_groups", 3)
    whole = json.loads((tmp_path / "e" / "results.json").read_text(encoding="utf-8"))
    whole["tethers"][0]["figures"]["parallel F"] *= 1.001
    (tmp_path / "e" / "results.json").write_text(json.dumps(whole), encoding="utf-8")
    run = subprocess.run(
        [sys.executable, tmp_path / "e" / "reproduce.py"], capture_output=True, text=True, check=False
    )
    assert run.returncode == 1
    (line,) = [one for one in run.stdout.splitlines() if "DIFFERS" in one]
    assert line.split()[:2] == ["parallel", "F"]
    assert "1 figure differs" in run.stdout
    assert results["choices"]["weights_at"] == [1.0] * len(results["choices"]["at"])
