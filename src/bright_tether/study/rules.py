"""Ground rules: chosen for the study, overridable by a tether, and what they come to."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated, Literal, TypeVar

import msgspec
from msgspec import Meta

from bright_tether.core.results import Alternative, Decider
from bright_tether.study.bounds import Share


class RuleChoices(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What was chosen on purpose; None where the default stands untouched."""

    alpha: Share | None = None
    level: Share | None = None
    alternative: Alternative | None = None
    decide: Decider | None = None
    digits: Annotated[int, Meta(ge=1, le=17)] | None = None
    words: tuple[tuple[float, str], ...] | None = None


#: Words for the size of a coefficient, each from its least size on.
Words = tuple[tuple[float, str], ...]
USUAL_WORDS: Words = (
    (0.0, "very weak"),
    (0.2, "weak"),
    (0.4, "moderate"),
    (0.6, "strong"),
    (0.8, "very strong"),
)
RULE_NAMES = RuleChoices.__struct_fields__
T = TypeVar("T")
Origin = Literal["default", "study", "tether"]


def words_in_text(words: Words) -> str:
    """A scale of words as it is typed: 0 very weak · 0.2 weak."""
    return " · ".join(f"{least:g} {word}" for least, word in words)


def words_from_text(text: str) -> Words | None:
    """The scale that a text says, or None where it is none: it starts at 0 and rises, below 1."""
    steps = []
    for part in text.replace(";", "·").replace(",", "·").split("·"):
        number, _, word = part.strip().partition(" ")
        try:
            steps.append((float(number), " ".join(word.split())))
        except ValueError:
            return None
    rising = all(a[0] < b[0] for a, b in pairwise(steps))
    if not rising or not steps or steps[0][0] != 0 or steps[-1][0] >= 1 or not all(word for _, word in steps):
        return None
    return tuple(steps)


class GroundRules(msgspec.Struct, frozen=True, kw_only=True):
    """The rules in force for one tether, and where each comes from.

    level follows α (1 − α) until it is chosen.
    """

    alpha: float
    level: float
    alternative: Alternative
    decide: Decider
    digits: int
    words: Words
    origin: tuple[Origin, ...]

    def origin_of(self, name: str) -> Origin:
        """Where a rule comes from."""
        return self.origin[RULE_NAMES.index(name)]

    def word_for(self, coefficient: float) -> str:
        """The word for a coefficient of this size."""
        return next(
            (word for least, word in reversed(self.words) if abs(coefficient) >= least), self.words[0][1]
        )


def ground_rules(study: RuleChoices, tether: RuleChoices | None = None) -> GroundRules:
    """The rules that result from both layers of choices over the defaults."""
    own = tether or RuleChoices()
    alpha = _first(own.alpha, study.alpha, 0.05)
    origin: tuple[Origin, ...] = tuple(
        "tether"
        if getattr(own, name) is not None
        else "study"
        if getattr(study, name) is not None
        else "default"
        for name in RULE_NAMES
    )
    return GroundRules(
        alpha=alpha,
        level=_first(own.level, study.level, level_beside(alpha)),
        alternative=_first(own.alternative, study.alternative, "two-sided"),
        decide=_first(own.decide, study.decide, "pearson"),
        digits=_first(own.digits, study.digits, 3),
        words=_first(own.words or None, study.words or None, USUAL_WORDS),
        origin=origin,
    )


def level_beside(alpha: float) -> float:
    """1 − α without the dust of the subtraction: 0.95 beside 0.05; below 1, whose interval has no ends."""
    return min(float(f"{1 - alpha:.12g}"), math.nextafter(1.0, 0.0))


def _first(*values: T | None) -> T:
    return next(value for value in values if value is not None)
