"""Figures and sentences are those that were read and approved; a change of any is seen, and meant."""

import json

import pytest

from tests.truth.approved import (
    FOLDER,
    KEPT,
    demo_results,
    demo_words,
    differences,
    families,
    record_of,
    ways,
)
from tests.truth.spoken import spoken


@pytest.mark.parametrize(("family", "seed"), KEPT)
def test_figures_and_sentences_are_the_approved_ones(family, seed):
    kept = json.loads((FOLDER / f"{family}.json").read_text(encoding="utf-8"))
    assert not list(differences(kept, record_of(family, seed)))


def test_every_result_of_the_demo_is_the_approved_one():
    kept = json.loads((FOLDER / "results.json").read_text(encoding="utf-8"))
    assert not list(differences(kept, json.loads(json.dumps(demo_results()))))


def test_other_choices_of_the_demo_are_the_approved_ones():
    assert unlike("ways", ways()) == []


def unlike(name, now):
    """Where fingerprints are others than those kept."""
    kept = json.loads((FOLDER / f"{name}.json").read_text(encoding="utf-8"))
    assert kept.keys() == now.keys()
    return [
        (which, result, one, now[which].get(result))
        for which, results in kept.items()
        for result, one in results.items()
        if not alike(one, now[which].get(result))
    ]


def alike(one, other):
    """Whether two fingerprints are of the same, numbers to some digits."""
    return other is not None and one[0] == other[0] and one[1] == pytest.approx(other[1], rel=1e-5, abs=1e-5)


def test_every_word_of_the_demo_is_the_approved_one():
    kept, now = (FOLDER / "demo.txt").read_text(encoding="utf-8").splitlines(), demo_words().splitlines()
    assert [one for one in now if one not in set(kept)] == []
    assert kept == now


def test_words_and_results_of_every_family_are_the_approved_ones():
    words, prints = families()
    kept, now = (FOLDER / "families.txt").read_text(encoding="utf-8").splitlines(), words.splitlines()
    assert [one for one in now if one not in set(kept)] == []
    assert kept == now
    assert unlike("prints", prints) == []


def test_words_beyond_the_readings_of_the_demo_are_the_approved_ones():
    kept, now = (FOLDER / "spoken.txt").read_text(encoding="utf-8").splitlines(), spoken().splitlines()
    assert [one for one in now if one not in set(kept)] == []
    assert kept == now


def test_a_figure_that_moved_in_the_ninth_digit_is_seen():
    assert list(differences({"a": [1.0, "x"]}, {"a": [1.0 + 1e-6, "x"]})) == [(".a[0]", 1.0, 1.0 + 1e-6)]
    assert not list(differences({"a": 1.0}, {"a": 1.0 + 1e-12}))
