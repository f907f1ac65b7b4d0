"""What was changed after results were seen stays in the study, and words for strength are checked."""

import pytest

from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from bright_tether.study.edits import with_trail
from bright_tether.study.package import open_study, save_study
from bright_tether.study.rules import ground_rules, words_from_text, words_in_text
from bright_tether.words.readings.trail import trail_lines

WHEN = "2026-03-04T10:15"


def test_only_what_follows_results_is_kept():
    study = demo_study()
    edit = changes.change_rule(study, "alpha", 0.1)
    assert with_trail(study, edit, set(), WHEN) is edit
    later = with_trail(study, edit, {"k1"}, WHEN)
    after = later.apply(study)
    assert [(one.what, one.before, one.after) for one in after.trail] == [("alpha", "0.05", "0.1")]
    assert later.inverse().apply(after).trail == ()
    digits = changes.change_rule(after, "digits", 5)
    assert with_trail(after, digits, {"k1"}, WHEN) is digits


def test_rows_are_kept_with_their_reason_for_their_own_tether():
    study = demo_study()
    tether = study.tether("k3")
    edit = changes.set_aside(study, tether, {2, 4}, "torn sheet")
    after = with_trail(study, edit, {"k3"}, WHEN).apply(study)
    assert with_trail(study, edit, {"k1"}, WHEN) is edit
    own, other = (Findings(after, after.tether(key)) for key in ("k3", "k1"))
    assert trail_lines(own) == ("2 rows set aside (“torn sheet”), 2026-03-04 10:15",)
    assert trail_lines(other) == ()
    back = with_trail(after, changes.take_back(after, after.tether("k3"), {2}), {"k3"}, WHEN).apply(after)
    assert trail_lines(Findings(back, back.tether("k3")))[-1].startswith("1 row brought back (“torn sheet”)")


def test_a_tethers_own_rule_is_kept_for_it_alone():
    study = demo_study()
    edit = changes.change_own_rule(study, study.tether("k3"), "alternative", "greater")
    after = with_trail(study, edit, {"k3"}, WHEN).apply(study)
    own, other = (Findings(after, after.tether(key)) for key in ("k3", "k1"))
    assert own.rules.alternative == "greater"
    assert own.rules.origin_of("alternative") == "tether"
    assert other.rules.alternative == "two-sided"
    assert trail_lines(own) == ("the alternative from two-sided to greater, 2026-03-04 10:15",)
    assert trail_lines(other) == ()


def test_the_trail_is_saved(tmp_path):
    study = demo_study()
    after = with_trail(study, changes.change_rule(study, "decide", "kendall"), {"k2"}, WHEN).apply(study)
    save_study(after, tmp_path / "s.tether")
    assert open_study(tmp_path / "s.tether").trail == after.trail
    assert trail_lines(Findings(after, after.tether("k2"))) == (
        "the deciding test from r to τ, 2026-03-04 10:15",
    )


def test_words_for_strength_go_to_text_and_back():
    usual = ground_rules(demo_study().rules)
    assert words_from_text(words_in_text(usual.words)) == usual.words
    assert usual.word_for(-0.85) == "very strong"
    assert usual.word_for(0.2) == "weak"
    told = words_from_text("0 faint, 0.5 clear")
    assert told == ((0.0, "faint"), (0.5, "clear"))


@pytest.mark.parametrize(
    "text", ["", "0.1 weak", "0 a, 0 b", "0 a, 0.5", "0 a, 1.2 b", "0 a, 1 b", "weak 0", "0 a, -1 b"]
)
def test_a_scale_that_is_none_is_refused(text):
    assert words_from_text(text) is None


def test_letting_a_doubt_stand_is_named_and_so_is_taking_it_up_again():
    study = demo_study()
    stand = changes.answer_doubt(study, study.tether("k1"), "spread", "gauged so")
    assert stand.label == "Let the doubt about spread stand"
    after = stand.apply(study)
    again = changes.answer_doubt(after, after.tether("k1"), "spread", "")
    assert again.label == "Take up the doubt about spread again"
    assert again.apply(after).tether("k1").answers == study.tether("k1").answers


def test_the_level_that_follows_α_is_no_change_of_its_own_and_one_that_was_typed_is():
    study = demo_study()
    told = []
    for name, value in (("alpha", 0.1), ("level", 0.8)):
        study = with_trail(study, changes.change_rule(study, name, value), {"k1"}, WHEN).apply(study)
        told.append([(one.what, one.after) for one in study.trail])
    assert told == [[("alpha", "0.1")], [("alpha", "0.1"), ("level", "0.8")]]
