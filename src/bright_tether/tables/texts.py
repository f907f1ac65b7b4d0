"""A column of texts as codes: each different text is held once, and a row holds four bytes that say which."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from typing import Any

import numpy as np
from numpy.typing import NDArray

from bright_tether.tables.arrow import arrow, by_words
from bright_tether.tables.cells import hardly_any

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
        used = self._used()
        return listed(self.words if self._all(used) else self.words[used])

    def hardly_any(self, are: Callable[[str], bool]) -> bool:
        """``cells.hardly_any`` of the different texts, without a list of a million."""
        used = self._used()
        return hardly_any(range(used.size), lambda at: are(str(self.words[used[at]])))

    @property
    def ranks(self) -> NDArray[np.float64]:
        """(k,) the place of each word among those that stand in some row, by their letters; NaN of another."""
        used = self._used()
        ranks = np.full(self.words.size, np.nan)
        if self.words.dtype == object:  # halves of characters, which no array of texts takes
            ranks[sorted(used.tolist(), key=lambda at: str(self.words[at]))] = np.arange(used.size)
        else:
            ranks[used[np.argsort(self.words[used], kind="stable")]] = np.arange(used.size)
        return ranks

    def holding(self, part: str, most: int) -> tuple[list[str], int]:
        """The first texts in which this stands, no more than so many, and how many different ones there are."""
        used = self._used()
        used = used[(self.words != "")[used]]
        if part:
            there = [part in word for word in listed(self.words)]
            found = used[np.array(there, bool)[used]]
        else:
            found = used
        return [str(word) for word in self.words[found[:most]].tolist()], int(used.size)

    def _all(self, used: NDArray[np.int64]) -> bool:
        """Whether these are all words, as they stand: to take them one by one keeps others from the interpreter."""
        return used.size == self.words.size and bool(np.all(used[1:] > used[:-1]))

    def _used(self) -> NDArray[np.int64]:
        """Which words stand in some row, by where each stands first."""
        first = np.full(self.words.size, -1)
        first[self.codes[::-1]] = np.arange(self.size - 1, -1, -1)  # the first place is written last
        used = np.flatnonzero(first >= 0)
        along = first[used]
        return used if np.all(along[1:] > along[:-1]) else used[np.argsort(along)]

    def named(self, name: Callable[[str], str] = str) -> tuple[NDArray[np.int64], tuple[str, ...]]:
        """Which name each row has, (rows,), and the names in the order in which they come; alike ones are one.

        name : what a text is called.
        """
        known: dict[str, int] = {}
        of, used = np.zeros(self.words.size, np.int64), self._used()
        words = self.words if self._all(used) else self.words[used]
        of[used] = [known.setdefault(name(str(word)), len(known)) for lot in in_lots(words) for word in lot]
        return of[self.codes], tuple(known)

    def times(self) -> dict[str, int]:
        """In how many rows each text stands that stands in some, by where each stands first."""
        of = dict(
            zip(self.words.tolist(), np.bincount(self.codes, minlength=self.words.size).tolist(), strict=True)
        )
        return {text: of[text] for text in self.different}

    def at_or_blank(self, at: NDArray[np.int64]) -> Texts:
        """The texts of these places, an empty one for each below 0."""
        words, blank = self._with_blank()
        return Texts(
            np.where(at < 0, np.int32(blank), self.codes[at] if self.size else np.int32(blank)), words
        )

    def _with_blank(self) -> tuple[NDArray[Any], int]:
        """The words, an empty one among them, and where that is."""
        at = self._places_of([""])[""]
        return (joined(self.words, [""]), self.words.size) if at is None else (self.words, at)

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
        words, blank = self._with_blank()
        return Texts(np.insert(self.codes, before, blank), words)


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
    return [word for lot in in_lots(words) for word in lot]


def in_lots(words: NDArray[Any]) -> Iterator[list[str]]:
    """The same lot by lot, each gone before the next: other threads come to their turn between them."""
    return (words[first : first + _MANY].tolist() for first in range(0, words.size, _MANY))


def lots_of(found: Any) -> Iterator[list[Any]]:
    """The values of Arrow, some at a time: other threads come to their turn between them."""
    return (found[first : first + _MANY].to_pylist() for first in range(0, len(found), _MANY))


def stacked(pieces: Sequence[Texts]) -> Texts:
    """Texts one after the other."""
    starts = np.cumsum([0, *(one.words.size for one in pieces)])
    codes = [one.codes + start for one, start in zip(pieces, starts, strict=False)]
    words = [str(word) for one in pieces for word in listed(one.words)]
    return coded_by(words, np.concatenate(codes))


def coded_by(words: Sequence[str], codes: NDArray[Any]) -> Texts:
    """Texts by their words, which may hold one twice, and the place among them of each row's, (rows,)."""
    known: dict[str, int] = {}
    own = np.fromiter((known.setdefault(word, len(known)) for word in words), np.int32, len(words))
    return Texts(own[codes], words_of(known))
