"""Results of the step that asks what would happen over and over."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.forecast import forecast
from bright_tether.core.line.plain import Fit
from bright_tether.core.pairs import Pairs
from bright_tether.core.rehearse.kinds import JUDGED, Design, Judged, Pattern, Purpose, Shape
from bright_tether.core.resampling.bootstrap import Bootstrap, bootstrap
from bright_tether.core.results import Alternative, Ints
from bright_tether.live.forecasting import ForecastResults
from bright_tether.study.choices import RehearseChoice, Source
from bright_tether.study.declared import given, result, run

if TYPE_CHECKING:
    from bright_tether.core.rehearse.draws import Draws
    from bright_tether.core.rehearse.planning import Checked, Plan, Wish
    from bright_tether.core.rehearse.sampling import Sampling
    from bright_tether.core.rehearse.truth import Truth

#: What is broken, one thing at a time: name, shape, pattern, likeness of neighbours.
BROKEN: tuple[tuple[str, Shape, Pattern, float], ...] = (
    ("as assumed", "normal", "even", 0.0),
    ("fanning", "normal", "fanning", 0.0),
    ("skewed", "skewed", "even", 0.0),
    ("heavy tails", "heavy", "even", 0.0),
    ("alike", "normal", "even", 0.6),
)
#: Samples that a plan is tried out with.
TRIED = 2000
#: A plan for more pairs than this is not tried out.
MOST_TRIED = 20_000
_JUDGED_BY: dict[str, Judged] = {"HC0": "HC3", "HC1": "HC3", "HC2": "HC3", "HC3": "HC3",
                                 "newey_west": "newey_west"}  # fmt: skip


class BrokenCase(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The slope under one broken assumption, its intervals judged in three ways."""

    name: str
    by: dict[Judged, Sampling]


class Stated(msgspec.Struct, frozen=True, kw_only=True):
    """What is said of the truth that is drawn from; None where it is as fitted. Source: the choices."""

    source: Source
    intercept: float | None = None
    slope: float | None = None
    sd: float | None = None
    n: int | None = None
    shape: Shape = "normal"
    pattern: Pattern = "even"
    alike: float = 0.0
    design: Design = "kept"


# Makers import what they draw with only when they are asked: starting need not wait for it.
def make_truth(plain: Fit, stated: Stated) -> Truth:
    """What samples are drawn from."""
    from bright_tether.core.rehearse.truth import fitted_truth, placed_x

    base = fitted_truth(plain, own=stated.source == "residuals" or stated.shape == "own")
    if stated.source != "truth":
        return base
    return replace(
        base,
        intercept=base.intercept if stated.intercept is None else stated.intercept,
        slope=base.slope if stated.slope is None else stated.slope,
        sd=base.sd if stated.sd is None else stated.sd,
        x=placed_x(base.x, stated.n or base.x.size, stated.design),
        shape=stated.shape,
        pattern=stated.pattern,
        alike=stated.alike,
        design=stated.design,
    )


def _samples(
    drawn_from: Fit | Truth, draws: int, seed: int, judged: Judged, cases: Ints | None,
    watch: Callable[[Draws], bool],
) -> Draws:  # fmt: skip
    """Samples drawn from the truth, or the rows themselves drawn again."""
    from bright_tether.core.rehearse.draws import draw_rows_again, draw_samples

    if isinstance(drawn_from, Fit):
        return draw_rows_again(drawn_from, draws, seed, cases=cases, watch=watch)
    return draw_samples(drawn_from, draws, seed, robust=judged != "classical", watch=watch)


def _luck(pairs: Pairs, draws: int, seed: int, watch: Callable[[Draws], bool]) -> Draws:
    """Samples without any relationship, at the x there are."""
    from bright_tether.core.rehearse.draws import draw_samples
    from bright_tether.core.rehearse.truth import Truth

    nothing = Truth(intercept=0.0, slope=0.0, sd=1.0, x=pairs.x)
    return draw_samples(nothing, draws, seed, watch=watch)


def _all_drawn(found: Draws, drawn_from: object, draws: int, *_: object) -> bool:
    return found.done == draws


def _broken(
    plain: Fit, stated: Stated, draws: int, seed: int, level: float, progress: Callable[[int], bool]
) -> tuple[BrokenCase, ...]:
    """The slope as assumed and with each assumption broken, from one seed; stops between cases."""
    from bright_tether.core.rehearse.draws import draw_samples
    from bright_tether.core.rehearse.sampling import sampling

    found: list[BrokenCase] = []
    for name, shape, pattern, alike in BROKEN:
        truth = make_truth(plain, replace(stated, shape=shape, pattern=pattern, alike=alike))
        drawn = draw_samples(truth, draws, seed, robust=True, watch=_counted(progress, len(found) * draws))
        by = {kind: sampling(drawn, "slope", level=level, judged=kind) for kind in JUDGED}
        kept = {kind: one for kind, one in by.items() if one is not None}
        if len(kept) < len(by) or drawn.done < draws:
            break
        found.append(BrokenCase(name=name, by=kept))
    return tuple(found)


def _counted(progress: Callable[[int], bool], before: int) -> Callable[[Draws], bool]:
    return lambda so_far: progress(before + so_far.done)


def _all_broken(found: tuple[BrokenCase, ...], *_: object) -> bool:
    return len(found) == len(BROKEN)


def _bootstrapped(
    plain: Fit, draws: int, seed: int, level: float, progress: Callable[[int], bool]
) -> Bootstrap:
    """Intervals from the rows drawn again."""
    return bootstrap(plain, draws, seed, level=level, progress=progress)


def _all_bootstrapped(found: Bootstrap, plain: Fit, draws: int, *_: object) -> bool:
    return found.draws == draws


def _wish(
    purpose: Purpose, goal: float | None, effect: float, sd: float, sd_x: float, away: float, n: int,
    alpha: float, level: float, alternative: Alternative,
) -> Wish:  # fmt: skip
    """What is planned for: as typed, else half the half-width there is, or 80 % power for the effect."""
    from bright_tether.core.rehearse.planning import Wish, value_at

    wish = Wish(purpose=purpose, goal=0.8 if goal is None else goal, sd=sd, sd_x=sd_x, away=away,
                effect=effect, alpha=alpha, level=level, alternative=alternative)  # fmt: skip
    if goal is not None or purpose.endswith("power"):
        return wish
    share = 1.0 if purpose == "case half-width" else 0.5
    return replace(wish, goal=float(f"{share * value_at(wish, n):.2g}"))


def _plan(wish: Wish) -> Plan:
    """How many pairs that takes."""
    from bright_tether.core.rehearse.planning import plan

    return plan(wish)


def _trial(plan: Plan, seed: int, progress: Callable[[int], bool]) -> Checked | None:
    """The plan tried out by simulation; None where no number of pairs would do, or too many would."""
    from bright_tether.core.rehearse.planning import try_out

    if plan.needed is None or plan.needed > MOST_TRIED:
        return None
    return try_out(plan.wish, plan.needed, TRIED, seed, progress=progress)


def _all_tried(found: Checked | None, *_: object) -> bool:
    return found is None or found.draws == TRIED


class RehearseResults(ForecastResults):
    """Samples drawn again from the plain line, from a stated truth, or from the rows."""

    @property
    def rehearsed(self) -> RehearseChoice:
        """What is drawn again and again."""
        return self.tether.rehearse

    @given
    def draws(self) -> int:
        """How many samples are asked for."""
        return self.rehearsed.draws

    @given
    def seed(self) -> int:
        """The seed that they are drawn from."""
        return self.rehearsed.seed

    @given
    def judged(self) -> Judged:
        """The errors that samples' intervals take: as chosen, else those nearest to the ones in force."""
        if self.rehearsed.source == "rows":
            return "classical"
        return self.rehearsed.judged or _JUDGED_BY.get(self.tether.line.errors, "classical")

    @given
    def rehearsed_at(self) -> float:
        """The x of forecasts that are rehearsed, on the line's own scale: the first one forecast."""
        placed = self.placed_x
        return placed[0][1] if placed else float(self.pairs.x.mean())

    @given
    def stated(self) -> Stated:
        """What is said of the truth."""
        c = self.rehearsed
        if c.source != "truth":
            return Stated(source=c.source)
        return Stated(source=c.source, intercept=c.intercept, slope=c.slope, sd=c.sd, n=c.n, shape=c.shape,
                      pattern=c.pattern, alike=c.alike, design=c.design)  # fmt: skip

    @given
    def stated_line(self) -> Stated:
        """Of that, what broken assumptions keep: the line, its sd and the number of pairs."""
        c = self.rehearsed
        if c.source != "truth":
            return Stated(source="truth")
        return Stated(source="truth", intercept=c.intercept, slope=c.slope, sd=c.sd, n=c.n)

    truth = result(make_truth, ForecastResults.plain, stated)

    @given
    def drawn_from(self) -> Fit | Truth:
        """The plain line whose rows are drawn again, or the truth."""
        return self.plain if self.rehearsed.source == "rows" else self.truth

    @given
    def drawn_cases(self) -> Ints | None:
        """The case of each pair where whole cases are drawn: of rows drawn again, while cases decide."""
        return self.deciding_cases if self.rehearsed.source == "rows" else None

    samples = run(_samples, drawn_from, draws, seed, judged, drawn_cases, whole=_all_drawn)
    luck = run(_luck, ForecastResults.pairs, draws, seed, whole=_all_drawn)
    broken = run(_broken, ForecastResults.plain, stated_line, draws, seed, ForecastResults.level,
                 whole=_all_broken)  # fmt: skip
    bootstrapped = run(_bootstrapped, ForecastResults.plain, draws, seed, ForecastResults.level,
                       whole=_all_bootstrapped)  # fmt: skip

    def sampled(self, drawn: Draws) -> Sampling | None:
        """The statistic asked for over the samples drawn so far."""
        from bright_tether.core.rehearse.sampling import sampling

        return sampling(drawn, self.rehearsed.statistic, level=self.rules.level, judged=self.judged,
                        at=self.rehearsed_at)  # fmt: skip

    def bootstrap(self, draws: int, seed: int) -> Bootstrap:
        """The rows drawn again so often, from this seed."""
        return bootstrap(self.plain, draws, seed, level=self.rules.level)

    @property
    def own_value(self) -> float | None:
        """What the sample at hand gives for the statistic."""
        line, r = self.plain_line, self.pearson.r
        values: dict[str, Any] = {
            "slope": line.slope,
            "intercept": line.intercept,
            "r": r,
            "r2": None if r is None else r * r,
            "forecast": float(forecast(self.plain, np.array([self.rehearsed_at]), level=0.95).fitted[0]),
        }
        value: float | None = values[self.rehearsed.statistic]
        return value

    @given
    def purpose(self) -> Purpose:
        """What is planned."""
        return self.rehearsed.purpose

    @given
    def goal(self) -> float | None:
        """The half-width or the power wished for, as typed."""
        return self.rehearsed.goal

    @given
    def effect(self) -> float:
        """The true slope, or r, that a power is for: as typed, else what matters, else what was found."""
        typed, purpose = self.rehearsed.effect, self.purpose
        if typed is not None or not purpose.endswith("power"):
            return typed or 0.0
        found = self.pearson.r if purpose == "r power" else self.tether.line.matters
        return float(f"{(found if found is not None else self.plain_line.slope) or 0.0:.3g}")

    @given
    def own_sd(self) -> float:
        """The plain line's typical residual."""
        return self.plain_line.s or 0.0

    @given
    def own_sd_x(self) -> float:
        """The sd of x."""
        return self.x_summary.sd or 0.0

    @given
    def away(self) -> float:
        """How far the x of the forecast lies from the mean."""
        return self.rehearsed_at - (self.x_summary.mean or 0.0)

    @given
    def own_n(self) -> int:
        """The pairs there are."""
        return self.pairs.n

    wish = result(_wish, purpose, goal, effect, own_sd, own_sd_x, away, own_n, ForecastResults.alpha,
                  ForecastResults.level, ForecastResults.alternative)  # fmt: skip
    plan = result(_plan, wish)
    trial = run(_trial, plan, seed, whole=_all_tried)
