"""Whole columns at once: as texts, in order, at places, held against those of another table."""

from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.tables.cells import number_cell
from bright_tether.tables.column import Column, column_of_texts, shown
from bright_tether.tables.made import likely_keys, matches
from bright_tether.tables.table import Join, Table
from bright_tether.tables.texts import Texts, coded, stacked

KEYS = st.lists(st.sampled_from(["", " ", "a", "A", "b ", "b", "c", "7", "7.5"]), min_size=1, max_size=12)
CELLS = st.lists(st.sampled_from(["", "1", "-0.5", "2e9", "two", "n.d.", "1.25"]), min_size=1, max_size=15)


def table(table_id, texts):
    cells = Column(id="c1", name="key", kind="text", cells=np.array(texts, object))
    return Table(id=table_id, name=table_id, columns=(cells,), row_ids=np.arange(len(texts)) * 3)


@given(KEYS, KEYS, st.booleans())
@settings(deadline=None)
def test_identifiers_are_held_against_each_other_as_row_by_row(first, second, loose):
    join = Join(first="t1", second="t2", first_key="c1", second_key="c1", loose=loose)
    found = matches(join, {"t1": table("t1", first), "t2": table("t2", second)})
    mine, theirs = ([(t.strip().casefold() if loose else t.strip()) for t in one] for one in (first, second))
    times, own = Counter(filter(None, theirs)), Counter(filter(None, mine))
    places = [-1 if not times[key] else -2 if times[key] > 1 else theirs.index(key) for key in mine]
    assert found.places.tolist() == places
    assert found.matched == sum(place >= 0 for place in places)

    def as_written(texts, keys):
        """Each as it stands where it comes first."""
        return tuple(next(t.strip() for t, key in zip(*texts, strict=True) if key == one) for one in keys)

    here, there = (first, mine), (second, theirs)
    assert found.unmatched == as_written(here, [key for key in own if not times[key]])
    assert found.doubled == as_written(here, [key for key in own if times[key] > 1])
    assert found.unused == as_written(there, [key for key in times if not own[key]])
    assert found.repeated == as_written(here, [key for key in own if own[key] > 1 and times[key] == 1])
    assert found.blank == sum(not key for key in mine)


def test_the_likely_identifier_shares_most_texts():
    assert likely_keys(table("t1", ["a", "b", "c"]), table("t2", ["b", "a", "x"])) == ("c1", "c1")


@given(CELLS)
@settings(deadline=None)
def test_a_column_read_as_another_kind_keeps_what_was_typed(texts):
    ids = np.arange(len(texts)) * 2 + 5
    numbers = column_of_texts("c1", "x", texts, ids.tolist()).of_kind("number", ids)
    for at, (row, text) in enumerate(zip(ids.tolist(), texts, strict=True)):
        assert numbers.cell(at, row) == number_cell(text)
    back = numbers.of_kind("text", ids)
    assert list(back.cells) == [shown(number_cell(text)) for text in texts]
    every = np.arange(len(texts))
    assert numbers.written(every, ids) == list(back.cells) == back.written(every, ids)


@pytest.mark.parametrize("texts", [["b", "", "a", "b", "ä"], ["b\ud800", "a", ""], [""]])
def test_ranks_go_by_letters_and_words_that_stand_nowhere_have_none(texts):
    held = coded(np.array([*texts, "gone"], object))[np.arange(len(texts))]
    ranks = held.ranks
    assert np.isnan(ranks[-1])
    assert [texts[at] for at in np.argsort(ranks[held.codes], kind="stable")] == sorted(texts)


@given(CELLS, st.data())
@settings(deadline=None)
def test_cells_at_places_or_blank(texts, data):
    at = np.array(data.draw(st.lists(st.integers(-1, len(texts) - 1), max_size=9)), np.int64)
    ids = np.arange(len(texts))
    wanted = [texts[one] if one >= 0 else "" for one in at]
    assert list(Column(id="c", name="c", kind="text", cells=coded(texts)).at_or_blank(at)) == wanted
    numbers = column_of_texts("c", "c", texts, ids.tolist()).of_kind("number", ids)
    found = numbers.at_or_blank(at)
    assert np.array_equal(found, [numbers.cells[one] if one >= 0 else np.nan for one in at], equal_nan=True)


@given(CELLS, CELLS)
@settings(deadline=None)
def test_texts_under_each_other(first, second):
    whole = stacked([coded(first), coded(second)])
    assert isinstance(whole, Texts)
    assert list(whole) == [*first, *second]
    assert len(set(whole.words.tolist())) == whole.words.size


def test_texts_are_found_by_a_part_of_them():
    texts = coded(["Weir", "", "Ford", "Weir", "Far ford", "gone"])[np.arange(5)]
    assert texts.holding("", 2) == (["Weir", "Ford"], 3)
    assert texts.holding("ord", 9) == (["Ford", "Far ford"], 3)
