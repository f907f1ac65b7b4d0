"""Results that are tested and given intervals by the rules in force."""

from __future__ import annotations

from typing import Protocol, TypeVar

from bright_tether.core.results import Alternative
from bright_tether.study.declared import Given, Result, result
from bright_tether.study.in_play import InPlay

A_contra = TypeVar("A_contra", contravariant=True)
T_co = TypeVar("T_co", covariant=True)


class Tested(Protocol[A_contra, T_co]):
    """A maker that takes the rules by name."""

    def __call__(
        self, given: A_contra, /, *, alpha: float, alternative: Alternative, level: float
    ) -> T_co: ...


def by_rules(make: Tested[A_contra, T_co], rests_on: Given[A_contra]) -> Result[T_co]:
    """A result made from one other, tested at α against the alternative, with intervals at the level."""

    def tested(given: A_contra, alpha: float, alternative: Alternative, level: float) -> T_co:
        return make(given, alpha=alpha, alternative=alternative, level=level)

    tested.__doc__ = make.__doc__
    return result(tested, rests_on, InPlay.alpha, InPlay.alternative, InPlay.level)
