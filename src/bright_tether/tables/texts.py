"""A column of texts as codes: each different text is held once, and a row holds four bytes that say which."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bright_tether.tables.arrow import arrow, by_words

#: From this many texts on, they are coded by pyarrow, which takes a while to load.
_MANY = 20_000
#: So many texts are looked for one by one among all words; more are by a dictionary of these.
_FEW = 32


class Texts:
    """(rows,) texts, "" where nothing stands; read like an array of str, and never changed in place.

    codes : (rows,) which of the words stands in each row. words : (k,) different texts, some of which may stand in no
    row any more.
    """

    __slots__ = ("codes", "words")
    dtype = np.dtype(object)
    __hash__ = None  # type: ignore[assignment]  # compared row by row, as arrays are

    def __init__(self, codes: NDArray[np.int32], words: NDArray[Any]) -> None:
        self.codes, self.words = codes, words

    @property
    def size(self) -> int:
        """How many rows there are."""
        return self.codes.size

    @property
    def shape(self) -> tuple[int]:
        """The same, as arrays have it."""
        return (self.codes.size,)

    @property
    def nbytes(self) -> int:
        """Bytes of the codes and of the words' places."""
        return self.codes.nbytes + self.words.nbytes

    @property
    def different(self) -> list[str]:
        """The texts that stand in some row, by where each stands first."""
        first = np.full(self.words.size, -1)
        first[self.codes[::-1]] = np.arange(self.size - 1, -1, -1)  # the first place is written last
        used = np.flatnonzero(first >= 0)
        order = used[np.argsort(first[used])]
        lots = range(0, order.size, _MANY)
        return [word for at in lots for word in self.words[order[at : at + _MANY]].tolist()]

    def named(self, name: Callable[[str], str] = str) -> tuple[NDArray[np.int64], tuple[str, ...]]:
        """Which name each row has, (rows,), and the names in the order in which they come; alike ones are one.

        name : what a text is called.
        """
        first = np.full(self.words.size, -1)
        first[self.codes[::-1]] = np.arange(self.size - 1, -1, -1)  # the first place is written last
        used = np.flatnonzero(first >= 0)
        known: dict[str, int] = {}
        of = np.zeros(self.words.size, np.int64)
        for at in used[np.argsort(first[used])].tolist():
            of[at] = known.setdefault(name(str(self.words[at])), len(known))
        return of[self.codes], tuple(known)

    def times(self) -> dict[str, int]:
        """In how many rows each text stands that stands in some, by where each stands first."""
        of = dict(
            zip(self.words.tolist(), np.bincount(self.codes, minlength=self.words.size).tolist(), strict=True)
        )
        return {text: of[text] for text in self.different}

    def __len__(self) -> int:
        return self.codes.size

    def __iter__(self) -> Iterator[str]:
        return iter(self.tolist())

    def __getitem__(self, at: Any) -> Any:
        """A text, or the texts of these places."""
        found = self.codes[at]
        return Texts(found, self.words) if isinstance(found, np.ndarray) else str(self.words[found])

    def copy(self) -> NDArray[Any]:
        """An array of str that may be changed."""
        return np.array(self)

    def tolist(self) -> list[str]:
        """Every text; alike ones are one object."""
        found: list[str] = self.words.astype(object)[self.codes].tolist() if self.size else []
        return found

    def __array__(self, dtype: Any = None, copy: bool | None = None) -> NDArray[Any]:
        there = self.words.astype(object)[self.codes] if self.size else np.empty(0, object)
        return there if dtype is None else there.astype(dtype)

    def __arrow_array__(self, type: Any = None) -> Any:  # the protocol's name
        pa = arrow()

        words = pa.array(self.words.tolist(), pa.string())
        decoded = pa.DictionaryArray.from_arrays(pa.array(self.codes), words).dictionary_decode()
        return decoded if type is None else decoded.cast(type)

    def __eq__(self, other: object) -> Any:
        """(rows,) whether each is this text, or the one in its row."""
        if isinstance(other, str):
            return self.by_word(lambda words: words == other)
        return np.asarray(self) == np.asarray(other, object)

    def __ne__(self, other: object) -> Any:
        return ~(self == other)

    def by_word(self, judge: Callable[[NDArray[Any]], NDArray[Any]]) -> NDArray[Any]:
        """(rows,) what comes of the text in each, worked out once for alike ones."""
        return judge(self.words)[self.codes]

    def with_texts(self, places: Sequence[int], texts: Sequence[str]) -> Texts:
        """The same with these texts in these places."""
        known = self._places_of(dict.fromkeys(texts))
        new = [text for text, at in known.items() if at is None]
        fresh = {text: self.words.size + at for at, text in enumerate(new)}
        codes = self.codes.copy()
        for place, text in zip(places, texts, strict=True):
            at = known[text]
            codes[place] = fresh[text] if at is None else at
        return Texts(codes, joined(self.words, new) if new else self.words)

    def _places_of(self, texts: Iterable[str]) -> dict[str, int | None]:
        """Where each of these texts stands among the words; of few of them, all words are held against each."""
        asked = list(texts)
        if len(asked) > _FEW:
            there = {word: at for at, word in enumerate(listed(self.words))}
            return {text: there.get(text) for text in asked}
        found: dict[str, int | None] = {}
        for text in asked:
            at = np.flatnonzero(self.words == text)
            found[text] = int(at[0]) if at.size else None
        return found

    def without(self, places: NDArray[Any]) -> Texts:
        """The same with these places gone."""
        return Texts(np.delete(self.codes, places), self.words)

    def with_blanks(self, before: NDArray[Any]) -> Texts:
        """The same with an empty text before each of these places."""
        at = self._places_of([""])[""]
        words = joined(self.words, [""]) if at is None else self.words
        return Texts(np.insert(self.codes, before, self.words.size if at is None else at), words)


def words_of(texts: Iterable[str]) -> NDArray[Any]:
    """Different texts as an array that holds no object for each."""
    listed = list(texts)
    words = np.empty(len(listed), np.dtypes.StringDType())
    try:
        for first in range(0, len(listed), _MANY):
            words[first : first + _MANY] = listed[first : first + _MANY]
        return words
    except UnicodeEncodeError:  # halves of characters are held as they are
        return np.array(listed, object)


def named(cells: Any, name: Callable[[str], str] = str) -> tuple[NDArray[np.int64], tuple[str, ...]]:
    """``Texts.named``, of numbers too."""
    texts = cells if isinstance(cells, Texts) else coded([str(cell) for cell in cells.tolist()])
    return texts.named(name)


def joined(words: NDArray[Any], more: list[str]) -> NDArray[Any]:
    """Words with these behind them."""
    added = words_of(more)
    if object in (added.dtype, words.dtype):
        return np.concatenate((words.astype(object), added.astype(object)))
    return np.concatenate((words, added))


def coded(texts: Sequence[str] | NDArray[Any]) -> Texts:
    """Any texts, (rows,), as codes."""
    if len(texts) >= _MANY:
        pa = arrow()

        with suppress(UnicodeEncodeError, pa.ArrowException):
            return _coded_by_arrow(pa.array(texts, pa.string()).dictionary_encode())
    known: dict[str, int] = {}
    codes = np.fromiter((known.setdefault(str(text), len(known)) for text in texts), np.int32, len(texts))
    return Texts(codes, words_of(known))


def coded_strings(cells: Any) -> Texts:
    """A column of Arrow of which every cell is a string, as codes."""
    return _coded_by_arrow(by_words(cells))


def _coded_by_arrow(found: Any) -> Texts:
    """A dictionary of Arrow. Its words are taken lot by lot: a million objects at once leave their room in use."""
    words = np.empty(len(found.dictionary), np.dtypes.StringDType())
    for at, lot in enumerate(lots_of(found.dictionary)):
        words[at * _MANY : at * _MANY + len(lot)] = lot
    return Texts(found.indices.to_numpy(), words)


def listed(words: NDArray[Any]) -> list[str]:
    """The same as a list, some at a time, likewise."""
    return [word for first in range(0, words.size, _MANY) for word in words[first : first + _MANY].tolist()]


def lots_of(found: Any) -> Iterator[list[Any]]:
    """The values of Arrow, some at a time: other threads come to their turn between them."""
    return (found[first : first + _MANY].to_pylist() for first in range(0, len(found), _MANY))


def coded_by(words: Sequence[str], codes: NDArray[Any]) -> Texts:
    """Texts by their words, which may hold one twice, and the place among them of each row's, (rows,)."""
    known: dict[str, int] = {}
    own = np.fromiter((known.setdefault(word, len(known)) for word in words), np.int32, len(words))
    return Texts(own[codes], words_of(known))
