"""Terms of the trade, each in one plain sentence."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache
from importlib.resources import files

import msgspec


class Term(msgspec.Struct, frozen=True):
    """One term. alike : other spellings of it on the screen."""

    name: str
    sentence: str
    alike: tuple[str, ...] = ()


def _read() -> tuple[Term, ...]:
    """The shipped list: a term a line, with its other spellings and its sentence."""
    text = files("bright_tether.words").joinpath("terms.txt").read_text(encoding="utf-8")
    parts = (line.split(" | ") for line in text.splitlines())
    return tuple(
        Term(name, sentence, tuple(filter(None, alike.split(", ")))) for name, alike, sentence in parts
    )


TERMS = _read()


def _pattern(term: Term) -> re.Pattern[str]:
    words = "|".join(re.escape(one) for one in sorted((term.name, *term.alike), key=len, reverse=True))
    # Single letters are terms only as such: “t” in “t = 3” and “t (62 df)”, never within a word.
    flags = 0 if len(term.name) <= 2 else re.IGNORECASE
    return re.compile(rf"(?<![\w’-])(?:{words})(?![\w²’]|-\w)", flags)


@cache
def _found_by() -> tuple[tuple[Term, re.Pattern[str]], ...]:
    return tuple((term, _pattern(term)) for term in TERMS)


def terms_in(texts: Iterable[str]) -> tuple[Term, ...]:
    """The terms that stand in some texts, in the order of the alphabet as listed."""
    whole = "\n".join(texts)
    return tuple(term for term, pattern in _found_by() if pattern.search(whole))
