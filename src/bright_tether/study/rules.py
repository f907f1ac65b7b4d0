"""Ground rules: chosen for the study, overridable by a tether, and what they come to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import msgspec

from bright_tether.core.results import Alternative, Decider


class RuleChoices(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What was chosen on purpose; None where the default stands untouched."""

    alpha: float | None = None
    level: float | None = None
    alternative: Alternative | None = None
    decide: Decider | None = None
    digits: int | None = None


RULE_NAMES = RuleChoices.__struct_fields__
Origin = Literal["default", "study", "tether"]


@dataclass(frozen=True, slots=True, kw_only=True)
class GroundRules:
    """The rules in force for one tether, and where each comes from.

    level follows α (1 − α) until it is chosen.
    """

    alpha: float
    level: float
    alternative: Alternative
    decide: Decider
    digits: int
    origin: tuple[Origin, ...]

    def origin_of(self, name: str) -> Origin:
        """Where a rule comes from."""
        return self.origin[RULE_NAMES.index(name)]


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
        origin=origin,
    )


def level_beside(alpha: float) -> float:
    """1 − α without the dust of the subtraction: 0.95 beside 0.05."""
    return float(f"{1 - alpha:.12g}")


def _first(*values):
    return next(value for value in values if value is not None)
