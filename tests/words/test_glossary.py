"""Terms of the trade: each explained once, found where it stands, and none that the screens use left out."""

import pytest

from bright_tether.words.terms import TERMS, terms_in


def names(text):
    return {one.name for one in terms_in([text])}


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("t (62 df)", {"t", "df"}),
        ("slope", {"slope"}),
        ("r²", {"r²"}),
        ("r = +0.98", {"r"}),
        ("leverage and influence", {"leverage", "influence"}),
        ("τ-b", {"Kendall τ"}),
        ("one new case, 95 %", {"prediction interval"}),
        ("s, typical residual", {"s", "residual"}),
        ("the weather station", set()),
        ("it’s what a row is", set()),
        ("A RESIDUAL, and Leverage", {"residual", "leverage"}),
        ("T (62 rows), a step S, DF", set()),
    ],
)
def test_terms_are_found_as_words(text, found):
    assert names(text) == found


def test_each_term_is_one_plain_sentence_said_once():
    assert len({one.name for one in TERMS}) == len(TERMS)
    for one in TERMS:
        assert one.sentence[0].isupper() or one.sentence[0] in "ryαp"
        assert one.sentence.endswith(".")
        assert one.sentence.count(". ") == 0
        assert one.name in {found.name for found in terms_in([one.name])}
