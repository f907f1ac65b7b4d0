"""The command: figures, formats, and one line for a bad call."""

import json

import pytest

from bright_tether.command.parser import run
from bright_tether.words import digits as d


@pytest.fixture
def call(capsys):
    def do(*arguments):
        code = run([str(argument) for argument in arguments], lambda files: 77)
        out, err = capsys.readouterr()
        return code, out, err

    return do


def told(call, *arguments):
    code, out, err = call("analyse", *arguments, "--format", "json")
    assert (code, err) == (0, "")
    return json.loads(out)


def test_json_holds_every_section(call, short_file):
    found = told(call, short_file, "--x", "depth (m)", "--y", "flow", "--at", "2.5,9", "--rows")
    assert list(found) == [
        "pairs",
        "x",
        "y",
        "correlation",
        "decision",
        "line",
        "checks",
        "rows",
        "predictions",
        "inverse",
        "inverse_mean",
        "notes",
    ]
    assert found["pairs"] == {
        "n": 5,
        "rows": 5,
        "missing": 0,
        "set_aside": 0,
        "filtered_out": 0,
        "zero_weight": 0,
    }
    assert found["x"] == {"name": "depth (m)", "unit": "m", "missing": 0, "n": 5, "mean": 3.0,
                          "sd": pytest.approx(1.5811388300841898), "min": 1.0, "q1": 2.0, "median": 3.0,
                          "q3": 4.0, "max": 5.0, "sum": 15.0}  # fmt: skip
    line = found["line"]
    assert line["slope"] == pytest.approx(1.99, rel=1e-14)
    assert line["intercept"] == pytest.approx(0.05, rel=1e-13)
    assert set(line["robust"]) == {"HC0", "HC1", "HC2", "HC3"}
    assert [row["row"] for row in found["rows"]] == [1, 2, 3, 4, 5]
    assert [p["outside"] for p in found["predictions"]] == [False, True]
    assert found["predictions"][1]["distance"] == pytest.approx(4 / 1.5811388300841898)
    assert found["correlation"]["pearson"]["df"] == 3
    assert found["decision"]["reject"] is True


STRENGTH = {
    "pearson": "r t df p ci critical",
    "spearman": "rho t df p p_exact ci critical",
    "kendall": "concordant discordant tied_x tied_y tied_both tau_a tau_b z p p_exact ci critical",
}


def test_strength_groups_and_agreement(call, csv_file):
    path = csv_file("x,y,g\n1,2,a\n2,4,a\n3,3,a\n4,7,b\n5,6,b\n6,9,b\n7,8,\n")
    found = told(call, path, "--x", "x", "--y", "y", "--group", "g", "--agreement", "--decide", "kendall")
    for name, keys in STRENGTH.items():
        assert set(keys.split()) <= set(found["correlation"][name])
    within = found["correlation"]["within_groups"]
    assert [(group["name"], group["n"]) for group in within["groups"]] == [("a", 3), ("b", 3)]
    assert (found["pairs"]["n"], found["pairs"]["missing"], found["x"]["missing"]) == (6, 1, 0)
    assert found["agreement"]["exact_matches"] == 1
    assert found["decision"]["statistic"] == found["correlation"]["kendall"]["tau_b"]
    code, text, _ = call("analyse", path, "--x", "x", "--y", "y", "--group", "g", "--agreement")
    assert code == 0
    assert "r, within groups" in text
    assert "limits of agreement" in text


KEYS = {
    "line": "slope intercept residual_df s mse se_slope se_intercept t_slope p_slope ci_slope t_intercept "
    "p_intercept ci_intercept ss_total ss_model ss_residual f p_f r r2 adj_r2 robust log10_condition",
    "decision": "test h0 h1 alpha alternative statistic critical p reject",
    "predictions": "x fitted leverage se_mean ci half_ci se_individual pi half_pi band outside distance",
    "rows": "row x y fitted residual leverage standardised studentised cooks_d dffits dfbeta_slope outlier_p",
}


def test_every_public_key_is_there(call, short_file):
    found = told(call, short_file, "--x", "depth", "--y", "flow", "--at", "2", "--rows")
    for name, keys in STRENGTH.items():
        assert set(keys.split()) <= set(found["correlation"][name])
    assert "covariance" in found["correlation"]
    for section, keys in KEYS.items():
        entry = found[section][0] if isinstance(found[section], list) else found[section]
        assert set(keys.split()) <= set(entry), section


def test_missing_values_say_why_in_words(call, csv_file):
    path = csv_file("x,y\n1,2\n2,4\n3,6\n")
    found = told(call, path, "--x", "x", "--y", "y", "--rows")
    assert found["line"]["t_slope"] is None
    assert "all residuals are zero" in found["line"]["why"]["t_slope"]
    assert found["rows"][0]["studentised"] is None
    assert found["rows"][0]["why"]["studentised"]
    assert found["decision"]["reject"] is None
    assert found["decision"]["why"]["p"]


def test_options_reach_the_figures(call, short_file):
    base = ["--x", "depth", "--y", "flow"]
    plain = told(call, short_file, *base)
    one = told(call, short_file, *base, "--alternative", "greater", "--alpha", "0.01", "--decide", "slope",
               "--slope-0", "2", "--at", "3", "--mean-of", "4")  # fmt: skip
    assert one["line"]["level"] == 0.99
    assert one["line"]["t_slope"] == pytest.approx((1.99 - 2) / plain["line"]["se_slope"])
    assert one["decision"]["h1"] == "slope > 2"
    assert one["decision"]["reject"] is False
    leverage, s = one["predictions"][0]["leverage"], one["line"]["s"]
    assert one["predictions"][0]["se_individual"] == pytest.approx(s * (1 / 4 + leverage) ** 0.5)


def test_text_and_json_agree(call, short_file):
    found = told(call, short_file, "--x", "depth", "--y", "flow")
    code, text, _ = call("analyse", short_file, "--x", "depth", "--y", "flow", "--at", "2.5")
    assert code == 0
    assert f"flow = {found['line']['intercept']:.2f} + {found['line']['slope']:.3f} · depth" in text
    r = found["correlation"]["pearson"]
    assert f"  {'r':<22} {d.coefficient(r['r'], 3):>12}  {d.coefficients(r['ci'], 3)}" in text
    assert "depth 2.5:" in text
    assert "p < 0.001" in text
    assert "p = 0.000" not in text


def test_standard_input(call, monkeypatch):
    import io
    import sys

    class Given:
        buffer = io.BytesIO(b"x,y\n1,2\n2,3\n3,7\n")

    monkeypatch.setattr(sys, "stdin", Given)
    assert told(call, "-", "--x", "x", "--y", "y")["pairs"]["n"] == 3


@pytest.mark.parametrize(
    ("text", "arguments", "words"),
    [
        ("x,y,w\n1,2,1\n2,3,-1\n", ["--x", "x", "--y", "y", "--weights", "w"], "weights must be 0 or more"),
        ("x,y,z\n1,2,a\n2,3,b\n", ["--x", "x", "--y", "y", "--second-response", "z"], "holds no numbers"),
        ("x,y\n1,2\n2,3\n3,5\n", ["--x", "x", "--y", "y", "--resample", "1e12"], "do not fit: up to"),
        ("x,y\n1,2\n2,3\n3,4\n", ["--x", "x", "--y", "q"], "no column “q”"),
        ("x,y\n1,a\n2,b\n3,c\n", ["--x", "x", "--y", "y"], "holds no numbers"),
        ("x,y\n1,2\n2,3,4\n", ["--x", "x", "--y", "y"], "ragged"),
        ("", ["--x", "x", "--y", "y"], "is empty"),
        ("x\n1\n2\n", ["--x", "x", "--y", "x"], "only one column"),
        ("x,y\n1,2\n2,3\n3,5\n", ["--x", "x"], "--y"),
        ("x,y\n1,2\n2,3\n3,5\n", ["--x", "x", "--y", "y", "--alpha", "2"], "between 0 and 1"),
        ("x,y\n1,2\n2,3\n3,5\n", ["--x", "x", "--y", "y", "--at", "1,b"], "--at"),
        ("x,y\n1,2\n2,3\n3,5\n", ["--x", "x", "--y", "y", "--nonsense"], "--nonsense"),
    ],
)
def test_bad_calls_get_one_line_and_exit_2(call, csv_file, text, arguments, words):
    code, out, err = call("analyse", csv_file(text), *arguments)
    assert (code, out) == (2, "")
    assert words in err
    assert err.startswith("bright-tether: ")
    assert err.count("\n") == 1


def test_missing_file_and_folder(call, tmp_path):
    for path, words in ((tmp_path / "none.csv", "no file"), (tmp_path, "is a folder")):
        code, _, err = call("analyse", path, "--x", "a", "--y", "b")
        assert code == 2
        assert words in err


def test_files_open_the_window(call, short_file):
    assert call(short_file)[0] == 77
    assert call()[0] == 77


WIDE = "x,y,z,g,w,t\n" + "".join(
    f"{i},{2 * i + (i * 7) % 5},{2.2 * i + (i * 5) % 7},{'ab'[i % 2]},{1 + i % 3},{(i * 11) % 20}\n"
    for i in range(20)
)


def told_by(call, path, *more):
    return told(call, path, "--x", "x", "--y", "y", *more)


def test_weights_origin_order_and_errors_in_force(csv_file, call):
    path = csv_file(WIDE)
    plain = told_by(call, path, "--at", "30", "--decide", "slope")
    weighted = told_by(call, path, "--weights", "w")
    origin = told_by(call, path, "--no-intercept")
    ordered = told_by(call, path, "--order", "t")
    robust = told_by(call, path, "--errors", "HC3", "--at", "30", "--decide", "slope")
    assert weighted["line"]["slope"] != plain["line"]["slope"]
    assert weighted["correlation"]["pearson"] == plain["correlation"]["pearson"]
    assert origin["line"]["intercept"] is None
    assert origin["line"]["r"] is None
    assert ordered["line"]["slope"] == plain["line"]["slope"]
    assert ordered["checks"]["durbin_watson"]["d"] != plain["checks"]["durbin_watson"]["d"]
    assert ordered["line"]["newey_west"]["se_slope"] != plain["line"]["newey_west"]["se_slope"]
    assert robust["decision"]["statistic"] == pytest.approx(plain["line"]["robust"]["HC3"]["t_slope"])
    assert robust["predictions"][0]["errors"] == "HC3"
    assert robust["predictions"][0]["se_mean"] != plain["predictions"][0]["se_mean"]
    for name in ("theil_sen", "deming", "newey_west"):
        assert {"slope", "intercept", "ci_slope"} <= set(plain["line"][name])


def test_comparison_inverse_and_resampling_in_json(csv_file, call):
    path = csv_file(WIDE)
    groups = told_by(call, path, "--group", "g", "--margin", "0.5", "--inverse-at", "20,25")
    made = groups["comparison"]
    assert [group["name"] for group in made["groups"]] == ["a", "b"]
    assert made["groups"][0]["slope"] != made["groups"][1]["slope"]
    assert made["slopes"]["separate"]["df"] == 16
    assert {"parallel", "same_height", "coincident", "pairwise", "equivalence"} <= set(made)
    assert [one["y"] for one in groups["inverse"]] == [20, 25]
    assert groups["inverse_mean"][0]["ci"][0] > groups["inverse"][0]["ci"][0]
    both = told_by(call, path, "--second-response", "z", "--margin", "1", "--rows-are", "settings")
    assert both["comparison"]["same_rows"]["df"] == 18
    assert both["comparison"]["decides"] == "separate"
    assert both["comparison"]["correlations"]["dependent"]["df"] == 17
    again = [told_by(call, path, "--resample", "200", "--seed", "4")["resampling"] for _ in range(2)]
    assert again[0] == again[1]
    assert {"se", "percentile", "bca"} <= set(again[0]["slope"])
    assert 0 < again[0]["permutation"]["p"] < 1
    clustered = told_by(call, path, "--cluster", "g", "--errors", "clustered", "--at", "3")
    assert clustered["line"]["clustered"]["se_slope"] > 0


@pytest.mark.parametrize(
    "more",
    [
        ["--group", "g", "--second-response", "z"],
        ["--group", "g", "--weights", "w"],
        ["--second-response", "z", "--no-intercept"],
        ["--weights", "w", "--no-intercept"],
        ["--errors", "clustered"],
        ["--weights", "low"],
        ["--margin", "-1"],
        ["--error-ratio", "0"],
        ["--seed", "-1"],
    ],
)
def test_what_does_not_go_together_is_refused_in_one_line(csv_file, call, more):
    path = csv_file(WIDE.replace("w,t", "w,low").replace(",0\n", ",-2\n"))
    code, out, err = call("analyse", path, "--x", "x", "--y", "y", *more)
    assert (code, out, err.count("\n")) == (2, "", 1)
    assert err.startswith("bright-tether: ")


def test_text_tells_checks_and_comparison(csv_file, call):
    code, said, _ = call(
        "analyse", csv_file(WIDE), "--x", "x", "--y", "y", "--group", "g", "--inverse-at", "20"
    )
    assert code == 0
    for words in (
        "Checks of the residuals",
        "Durbin–Watson d",
        "Lines side by side",
        "slopes apart",
        "gives this y",
    ):
        assert words in said


def test_every_other_way_is_told_where_it_is_asked_for(call, short_file):
    wanted = (short_file, "--x", "depth (m)", "--y", "flow", "--choices")
    found = told(call, *wanted, "--readings")
    ways = found["other_choices"]["ways"]
    (present,) = (one for one in ways if one["present"])
    first, last = found["other_choices"]["between"]
    assert present["value"] == pytest.approx(found["line"]["slope"] * (last - first), rel=1e-12)
    assert present["rows"] == "rows in play"
    values = [one["value"] for one in ways if one["value"] is not None]
    assert values == sorted(values)
    claims = [one for one in found["readings"] if one["kind"] == "other_choices"]
    assert claims[0]["facts"]["ways"] + claims[0]["facts"]["failed"] == len(ways)
    assert "other_choices" not in told(call, *wanted[:-1])
    assert claims[0]["says"] in call("analyse", *wanted)[1].replace("\n", " ")
    code, out, err = call("analyse", short_file, "--x", "depth (m)", "--y", "depth (m)", "--choices")
    assert code in (0, 2)
    assert "Traceback" not in out + err
