"""What may be said of a slope with other columns held."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

import numpy as np
from msgspec.structs import replace

from bright_tether.claims.claim import Claim
from bright_tether.core.line.errors import ErrorKind, NoErrors
from bright_tether.core.line.held import share_of_change
from bright_tether.core.line.unseen import Unseen, Yardstick, slope_left, to_alpha
from bright_tether.core.results import Cause, ConstantColumn, Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.held import HeldConstant, HeldLine, HeldMany, HeldTold, NotHeld, NothingHeld

#: A slope that is this share of itself smaller or larger is told to be so; below it keeps.
_TOLD = 0.2
#: From this inflation on x is hardly told apart from what is held.
_HARDLY = 10.0
HeldVerdict = Literal["keeps", "shrinks", "grows", "turns", "gone", "appears", "neither"]


class HeldClaim(Claim, frozen=True, kw_only=True):
    """The slope alone and with columns held, on the n pairs that have every value; lost : those that have not.

    names : of what is held. share : by what share of itself the slope is smaller once they are held, below 0 where it
    is larger. verdict : by p against α and the share. exact : with the columns held every residual is 0.
    """

    kind: ClassVar[str] = "held"
    names: tuple[str, ...]
    n: int
    lost: int
    slope_alone: float | None
    low_alone: float | None
    high_alone: float | None
    p_alone: float | None
    slope: float | None
    low: float | None
    high: float | None
    p: float | None
    df: int
    level: float
    alpha: float
    errors: ErrorKind
    share: float | None
    verdict: HeldVerdict
    exact: bool


class PartialClaim(Claim, frozen=True, kw_only=True):
    """r of what the held columns leave of x and of y."""

    kind: ClassVar[str] = "partial"
    r: float | None
    p: float | None
    df: int


class ToldApartClaim(Claim, frozen=True, kw_only=True):
    """How far x can be told from what is held. left : the share of its spread that they do not tell, 1 ÷ inflation.

    hardly : whether that is so little that the reader is warned.
    """

    kind: ClassVar[str] = "told_apart"
    inflation: float
    left: float
    hardly: bool


WhyNot = Literal[
    "nothing held",
    "not a plain line",
    "one value",
    "told by the others",
    "too few rows",
    "no errors",
    "many levels",
]


class NotHeldClaim(Claim, frozen=True, kw_only=True):
    """No slope is held, and why. name : the column in the way, where there is one."""

    kind: ClassVar[str] = "not_held"
    why: WhyNot
    name: str = ""


def not_held_claim(found: Refusal) -> NotHeldClaim:
    """What keeps a slope from being held."""
    match found:
        case NothingHeld():
            return NotHeldClaim(why="nothing held")
        case NotHeld():
            return NotHeldClaim(why="not a plain line")
        case HeldConstant(name=name):
            return NotHeldClaim(why="one value", name=name)
        case HeldTold(name=name):
            return NotHeldClaim(why="told by the others", name=name)
        case HeldMany(name=name):
            return NotHeldClaim(why="many levels", name=name)
        case ConstantColumn():
            return NotHeldClaim(why="one value")
        case NoErrors():
            return NotHeldClaim(why="no errors")
    return NotHeldClaim(why="too few rows")


class UnseenClaim(Claim, frozen=True, kw_only=True):
    """How strong an unseen column would have to be, with x and with y alike, as partial r².

    to_nothing : to explain the whole slope away; to_doubt : to bring its two-sided test to alpha, 0 where it is there
    already. shown : whether the slope is shown without it. like : the measured column that comes nearest to it, with
    the strength of an unseen one like it and what that does to the slope; "" where none is held.
    """

    kind: ClassVar[str] = "unseen"
    share: float
    to_nothing: float
    to_doubt: float
    alpha: float
    shown: bool
    like: str = ""
    with_x: float | None = None
    with_y: float | None = None
    does: Literal["nothing left", "in doubt", "shown still", "cannot be", ""] = ""


def unseen_claim(findings: Findings) -> UnseenClaim | None:
    """What it would take; None where nothing can be said of it."""
    try:
        line = findings.unseen_line
    except Refusal:
        return None
    if line is None or line.unseen.to_doubt is None:
        return None
    one = line.unseen
    claim = UnseenClaim(share=one.share, to_nothing=one.to_nothing, to_doubt=one.to_doubt or 0.0, alpha=one.alpha,
                        shown=bool(one.to_doubt))  # fmt: skip
    if not line.yardsticks or not claim.shown:
        return claim
    name, stick = min(line.yardsticks, key=lambda held: _left(one, held[1]))
    return replace(claim, like=name, with_x=stick.with_x, with_y=stick.with_y, does=_does(one, stick))


def _left(one: Unseen, stick: Yardstick) -> float:
    """The share of the slope that an unseen column like a measured one leaves."""
    if not stick.possible:
        return -math.inf
    return float(slope_left(one.t, one.df, np.array([stick.with_x]), np.array([stick.with_y]))[0])


def _does(one: Unseen, stick: Yardstick) -> Literal["nothing left", "in doubt", "shown still", "cannot be"]:
    if not stick.possible:
        return "cannot be"
    if _left(one, stick) <= 0:
        return "nothing left"
    edge = float(to_alpha(one.t, one.df, one.alpha, np.array([stick.with_x]))[0])
    return "in doubt" if stick.with_y >= edge else "shown still"


def held_of(findings: Findings) -> HeldLine | None:
    """The slope held, None where nothing is held or it cannot be."""
    try:
        return findings.held_line
    except Refusal:
        return None


def held_claim(findings: Findings, line: HeldLine) -> HeldClaim:
    """What becomes of the slope."""
    held, alpha = line.held, findings.rules.alpha
    low_alone, high_alone = held.alone.ci_slope or (None, None)
    low, high = held.held.ci_slope or (None, None)
    share = share_of_change(held)
    return HeldClaim(
        names=tuple(dict.fromkeys(one.short for one in line.terms)), n=held.n, lost=findings.pairs.n - held.n,
        slope_alone=held.slope_alone, low_alone=low_alone, high_alone=high_alone, p_alone=held.alone.p_slope,
        slope=held.held.slope, low=low, high=high, p=held.held.p_slope, df=held.held.df, level=findings.rules.level,
        alpha=alpha, errors=held.kind, share=share, exact=held.held.why.get("t_slope") is Cause.EXACT_FIT,
        verdict=_verdict(held.slope_alone, held.alone.p_slope, held.held.slope, held.held.p_slope, alpha, share),
    )  # fmt: skip


def _verdict(
    alone: float | None,
    p_alone: float | None,
    held: float | None,
    p: float | None,
    alpha: float,
    share: float | None,
) -> HeldVerdict:
    # an exact line has no p, and is shown all the same
    before, after = (
        bool(slope) and (one is None or one <= alpha) for slope, one in ((alone, p_alone), (held, p))
    )
    if not before or not after:
        return "gone" if before else "appears" if after else "neither"
    if (alone or 0.0) * (held or 0.0) < 0:
        return "turns"
    if share is None or abs(share) < _TOLD:
        return "keeps"
    return "shrinks" if share > 0 else "grows"


def partial_claim(line: HeldLine) -> PartialClaim:
    """The partial correlation."""
    held = line.held
    return PartialClaim(r=held.partial_r, p=held.partial_p, df=held.partial_df)


def told_apart_claim(line: HeldLine) -> ToldApartClaim:
    """How far x is told apart from what is held."""
    inflation = line.held.held.inflation
    return ToldApartClaim(inflation=inflation, left=1 / inflation, hardly=inflation >= _HARDLY)
