"""A column of texts as codes reads like the array of str that it stands for."""

import os
from collections import Counter

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bright_tether.study.codec import weight
from bright_tether.tables.arrow import arrow
from bright_tether.tables.clock import moments, order_told, zones_of
from bright_tether.tables.column import Column, column_of_texts
from bright_tether.tables.filters import Condition, kept_rows
from bright_tether.tables.texts import _MANY, Texts, coded, coded_by, coded_strings

WORDS = st.lists(
    st.sampled_from(["", "a", "b", " b", "Weir", "2021-03-01", "ü", "long text beyond fifteen bytes"])
)


def plain(words):
    return np.array([*words, None], object)[:-1]


@given(WORDS, st.data())
def test_it_reads_like_the_array(words, data):
    texts, array = coded(words), plain(words)
    assert texts.tolist() == list(texts) == array.tolist()
    assert (texts.size, len(texts), texts.shape) == (array.size, array.size, array.shape)
    assert (np.asarray(texts) == array).all()
    assert texts.different == list(dict.fromkeys(words))
    codes, names = texts.named(str.strip)
    assert [names[at] for at in codes] == [word.strip() for word in words]
    assert names == tuple(dict.fromkeys(word.strip() for word in words))
    assert list(texts.times().items()) == list(Counter(words).items())
    for one in ("", "a", "nowhere"):
        assert (texts == one).tolist() == [word == one for word in words]
        assert (texts != one).tolist() == [word != one for word in words]
    assert (texts == texts.copy()).all()
    if words:
        at = data.draw(st.integers(0, len(words) - 1))
        places = np.array(data.draw(st.lists(st.integers(0, len(words) - 1))), int)
        assert texts[at] == words[at]
        assert type(texts[at]) is str
        assert texts[places].tolist() == array[places].tolist()
        assert texts.without(places).tolist() == np.delete(array, places).tolist()
        assert texts.with_blanks(places).tolist() == np.insert(array, places, "").tolist()
        changed = array.copy()
        changed[at] = "new"
        assert texts.with_texts([at], ["new"]).tolist() == changed.tolist()
        assert texts.tolist() == words  # what it was made from is as it was


def test_alike_texts_are_held_once_and_a_row_costs_four_bytes():
    texts = coded(["north", "south"] * 5000)
    assert (texts.codes.dtype, texts.words.size, texts.codes.nbytes) == (np.int32, 2, 40_000)
    assert texts.nbytes == 40_000 + texts.words.nbytes
    assert weight(Column(id="c", name="c", kind="category", cells=texts)) == 40_000
    assert texts.with_texts([1], ["north"]).words is texts.words
    assert coded_by(["a", "b", "a"], np.array([0, 1, 2, 2])).words.tolist() == ["a", "b"]
    assert coded_by(["a", "b", "a"], np.array([0, 1, 2, 2])).tolist() == ["a", "b", "a", "a"]


@pytest.mark.parametrize("more", [-1, 0])
def test_many_are_coded_as_few_are(more):
    words = [f"sample {at % 700}" for at in range(_MANY + more)]
    texts = coded(np.array(words, object))
    assert texts.codes.dtype == np.int32
    assert texts.tolist() == words
    assert texts.words.size == 700


def test_halves_of_characters_are_held_as_they_are():
    words = ["\ud800", "b", "\ud800"] * 10_000
    assert coded(words).tolist() == words
    assert coded(words[:3]).with_texts([0], ["c\udfff"]).tolist() == ["c\udfff", "b", "\ud800"]


def test_a_column_codes_what_it_is_given():
    column = Column(id="c", name="c", kind="text", cells=np.array(["b", "a", "", "b"], object))
    assert isinstance(column.cells, Texts)
    assert column.texts is column.cells
    assert column.along[:2].tolist() == [2.0, 1.0]
    assert np.isnan(column.along[2])
    assert column.missing == 1
    assert column.cell(2, 2) is None
    assert column.cell(0, 0) == "b"
    number = Column(id="c", name="c", kind="number", cells=np.array([1.0, np.nan]))
    assert isinstance(number.cells, np.ndarray)


def test_dates_zones_and_conditions_ask_each_text_once():
    days = ["2021-03-01", "", "2021-03-02 10:00+02:00", "no date", "2021-03-01"]
    texts = coded(days)
    assert np.array_equal(moments(texts), moments(np.array(days, object)), equal_nan=True)
    assert zones_of(texts) == zones_of(np.array(days, object))
    for relation, told in (("is", ("no date",)), ("is not", ("",)), ("has", ("03-01",)), ("from", ("2021-03-02",)),
                           ("until", ("m",))):  # fmt: skip
        condition = Condition(column="c", relation=relation, texts=told)
        both = [kept_rows((condition,), (cells,)) for cells in (texts, np.array(days, object))]
        assert both[0].tolist() == both[1].tolist(), relation


def test_arrow_reads_it_as_strings():
    array = pa.array(coded(["b", "a", "b"]))
    assert array.type == pa.string()
    assert array.to_pylist() == ["b", "a", "b"]
    assert pa.array(coded(["b"]), pa.large_string()).type == pa.large_string()


@pytest.mark.parametrize(
    "words", [["x", "1", "2", "3", "4"], ["1", "2", "3", "4", "x"], ["1", "2", "x", "", "3", "4"]]
)
def test_four_in_five_filled_cells_make_a_column_of_numbers_wherever_the_fifth_stands(words):
    def kind_of(texts):
        return column_of_texts("c", "flow", texts, np.arange(len(texts))).kind

    assert kind_of(words) == "number"
    assert kind_of([*words, "y"]) != "number"
    often = [
        *["x"] * 2,
        *["1", "2", "3", "4", "5", "6", "7", "8"],
    ]  # what is alike counts as often as it stands
    assert kind_of(often) == "number"
    assert kind_of(["x", *often]) != "number"


@pytest.mark.parametrize("texts", [["?", *["2021-03-0" + str(day) for day in (1, 2, 3, 4)]],
                                   [*["2021-03-0" + str(day) for day in (1, 2, 3, 4)], "?"]])  # fmt: skip
def test_four_in_five_texts_make_dates_wherever_the_fifth_stands(texts):
    assert order_told(texts) == "day first"
    assert order_told([*texts, "!"]) is None
    assert order_told(["!", *texts]) is None
    assert order_told([]) is None
    assert order_told(["?"]) is None


def test_arrow_takes_its_memory_from_the_c_library():
    pa = arrow()
    assert pa.default_memory_pool().backend_name == "system"
    assert os.environ["ARROW_DEFAULT_MEMORY_POOL"] == "system"


def test_strings_of_arrow_are_coded_whatever_their_chunks():
    pa = arrow()
    cells = pa.chunked_array([pa.array(["b", "a"]), pa.array([], pa.string()), pa.array(["a", ""])])
    found = coded_strings(cells)
    assert found.tolist() == ["b", "a", "a", ""]
    assert found.words.size == 3
    assert coded_strings(pa.chunked_array([], pa.string())).tolist() == []
