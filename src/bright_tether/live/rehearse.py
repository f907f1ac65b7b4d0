"""Results of the step that asks what would happen over and over."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import msgspec
import numpy as np

from bright_tether.core.forecast import forecast
from bright_tether.core.rehearse.kinds import JUDGED, Judged, Pattern, Shape
from bright_tether.core.resampling.bootstrap import Bootstrap, bootstrap
from bright_tether.live.forecasting import ForecastResults
from bright_tether.study.choices import RehearseChoice

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
_JUDGED_BY: dict[str, Judged] = {"HC0": "HC3", "HC1": "HC3", "HC2": "HC3", "HC3": "HC3",
                                 "newey_west": "newey_west"}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class BrokenCase:
    """The slope under one broken assumption, its intervals judged in three ways."""

    name: str
    by: dict[Judged, Sampling]


class RehearseResults(ForecastResults):
    """Samples drawn again from the plain line, from a stated truth, or from the rows."""

    @property
    def judged(self) -> Judged:
        """The errors that samples' intervals take: as chosen, else those nearest to the ones in force."""
        chosen = self.tether.rehearse.judged
        if self.tether.rehearse.source == "rows":
            return "classical"
        return chosen or _JUDGED_BY.get(self.tether.line.errors, "classical")

    @property
    def rehearsed_at(self) -> float:
        """The x of forecasts that are rehearsed, on the line's own scale: the first one forecast."""
        placed = self.placed_x
        return placed[0][1] if placed else float(self.pairs.x.mean())

    @cached_property
    def truth(self) -> Truth:
        """What samples are drawn from."""
        return self._keep("truth", _truth, self.plain, _of_truth(self.tether.rehearse))

    def draw(self, watch: Callable[[Draws], bool] = lambda so_far: True) -> Draws:
        """Draw the samples asked for; not kept, since it may be stopped."""
        from bright_tether.core.rehearse.draws import draw_rows_again, draw_samples

        chosen = self.tether.rehearse
        if chosen.source == "rows":
            return draw_rows_again(self.plain, chosen.draws, chosen.seed, watch=watch)
        robust = self.judged != "classical"
        return draw_samples(self.truth, chosen.draws, chosen.seed, robust=robust, watch=watch)

    def keep_drawn(self, made: Draws) -> None:
        """Keep a whole run, so that nobody draws it again."""
        if made.done == self.tether.rehearse.draws:
            self._keep_drawn(lambda *_: made)

    @property
    def drawn(self) -> Draws:
        """The whole run; drawn now where nobody did before."""
        return self._keep_drawn(lambda *_: self.draw())

    def _keep_drawn(self, make):
        chosen = self.tether.rehearse
        by_rows = chosen.source == "rows"
        return self._keep("drawn", make, self.plain if by_rows else self.truth, by_rows, chosen.draws,
                          chosen.seed, self.judged)  # fmt: skip

    def sampled(self, made: Draws) -> Sampling | None:
        """The statistic asked for over the samples drawn so far."""
        from bright_tether.core.rehearse.sampling import sampling

        return sampling(made, self.tether.rehearse.statistic, level=self.rules.level, judged=self.judged,
                        at=self.rehearsed_at)  # fmt: skip

    @property
    def bootstrapped(self) -> Bootstrap:
        """Intervals from the rows drawn again, by the number of draws and the seed asked for."""
        chosen = self.tether.rehearse
        make = lambda *_: self.bootstrap(chosen.draws, chosen.seed)  # noqa: E731
        return self._keep("bootstrap", make, self.plain, self.rules.level, chosen.draws, chosen.seed)

    def bootstrap(
        self, draws: int, seed: int, progress: Callable[[int], bool] = lambda done: True
    ) -> Bootstrap:
        """The rows drawn again and again: kept by whoever asks, since it may be stopped."""
        return bootstrap(self.plain, draws, seed, level=self.rules.level, progress=progress)

    @property
    def own_value(self) -> float | None:
        """What the sample at hand gives for the statistic."""
        line, r = self.plain_line, self.pearson.r
        values = {
            "slope": line.slope,
            "intercept": line.intercept,
            "r": r,
            "r2": None if r is None else r * r,
            "forecast": float(forecast(self.plain, np.array([self.rehearsed_at]), level=0.95).fitted[0]),
        }
        return values[self.tether.rehearse.statistic]

    @cached_property
    def plain_line(self):
        """The plain line in figures, whatever line is in force."""
        from bright_tether.core.line.figures import line

        return (
            self.line if self.fit is self.plain else self._keep("plain line", line, self.plain, self.against)
        )

    def luck(self, watch: Callable[[Draws], bool] = lambda so_far: True) -> Draws:
        """Samples without any relationship, at the x there are."""
        from bright_tether.core.rehearse.draws import draw_samples
        from bright_tether.core.rehearse.truth import Truth

        chosen = self.tether.rehearse
        nothing = Truth(intercept=0.0, slope=0.0, sd=1.0, x=self.pairs.x)
        return draw_samples(nothing, chosen.draws, chosen.seed, watch=watch)

    @property
    def lucky(self) -> Draws:
        """The whole run without a relationship."""
        chosen = self.tether.rehearse
        make = lambda *_: self.luck()  # noqa: E731
        return self._keep("luck", make, self.pairs, chosen.draws, chosen.seed)

    def break_all(self, progress: Callable[[int], bool] = lambda done: True) -> tuple[BrokenCase, ...]:
        """The slope as assumed and with each assumption broken, from one seed; stops between cases."""
        from bright_tether.core.rehearse.draws import draw_samples
        from bright_tether.core.rehearse.sampling import sampling

        chosen, told = self.tether.rehearse, []
        for name, shape, pattern, alike in BROKEN:
            fields = {"source": "truth", "shape": shape, "pattern": pattern, "alike": alike, "design": "kept"}
            if chosen.source != "truth":
                fields |= dict.fromkeys(("intercept", "slope", "sd", "n"))
            truth = _truth(self.plain, _of_truth(msgspec.structs.replace(chosen, **fields)))
            before = len(told) * chosen.draws
            made = draw_samples(truth, chosen.draws, chosen.seed, robust=True,
                                watch=lambda so_far, b=before: progress(b + so_far.done))  # fmt: skip
            by = {kind: sampling(made, "slope", level=self.rules.level, judged=kind) for kind in JUDGED}
            if any(one is None for one in by.values()) or (made.done < chosen.draws):
                break
            told.append(BrokenCase(name=name, by=by))
        return tuple(told)

    def keep_broken(self, made: tuple[BrokenCase, ...]) -> None:
        """Keep a whole run of broken assumptions."""
        if len(made) == len(BROKEN):
            self._keep_broken(lambda *_: made)

    @property
    def broken(self) -> tuple[BrokenCase, ...]:
        """The whole run of broken assumptions; made now where nobody did before."""
        return self._keep_broken(lambda *_: self.break_all())

    def _keep_broken(self, make):
        chosen = self.tether.rehearse
        stated = (chosen.intercept, chosen.slope, chosen.sd, chosen.n) if chosen.source == "truth" else ()
        return self._keep("broken", make, self.plain, stated, chosen.draws, chosen.seed, self.rules.level)

    @cached_property
    def wish(self) -> Wish:
        """What is planned for: as typed, else half the half-width there is, or 80 % power for the effect."""
        from bright_tether.core.rehearse.planning import Wish, value_at

        chosen, rules = self.tether.rehearse, self.rules
        by_power = chosen.purpose.endswith("power")
        effect = chosen.effect
        if effect is None and by_power:
            found = self.pearson.r if chosen.purpose == "r power" else self.tether.line.matters
            effect = float(f"{found if found is not None else self.plain_line.slope:.3g}")
        wish = Wish(
            purpose=chosen.purpose,
            goal=chosen.goal if chosen.goal is not None else 0.8,
            sd=self.plain_line.s or 0.0,
            sd_x=self.x_summary.sd or 0.0,
            away=self.rehearsed_at - self.x_summary.mean,
            effect=effect or 0.0,
            alpha=rules.alpha,
            level=rules.level,
            alternative=rules.alternative,
        )
        if chosen.goal is None and not by_power:
            share = 1.0 if chosen.purpose == "case half-width" else 0.5
            from dataclasses import replace

            wish = replace(wish, goal=float(f"{share * value_at(wish, self.pairs.n):.2g}"))
        return wish

    @cached_property
    def plan(self) -> Plan:
        """How many pairs that takes."""
        from bright_tether.core.rehearse.planning import plan

        make = lambda *_: plan(self.wish)  # noqa: E731
        wish = self.wish
        told = (wish.purpose, wish.goal, wish.sd, wish.sd_x, wish.away, wish.effect, wish.alpha, wish.level,
                wish.alternative)  # fmt: skip
        return self._keep("plan", make, told)

    def try_plan(self, progress: Callable[[int], bool] = lambda done: True) -> Checked | None:
        """The plan tried out by simulation; None where no number of pairs would do, or too many would."""
        from bright_tether.core.rehearse.planning import try_out

        needed = self.plan.needed
        if needed is None or needed > 20_000:
            return None
        return try_out(self.wish, needed, TRIED, self.tether.rehearse.seed, progress=progress)

    def keep_tried(self, made: Checked | None) -> None:
        """Keep a whole trial."""
        if made is None or made.draws == TRIED:
            self._keep("tried", lambda *_: made, self.plan, self.tether.rehearse.seed)

    @property
    def tried(self) -> Checked | None:
        """The whole trial; made now where nobody did before."""
        return self._keep("tried", lambda *_: self.try_plan(), self.plan, self.tether.rehearse.seed)


def _of_truth(chosen: RehearseChoice) -> tuple:
    """What of a choice the truth rests on."""
    if chosen.source != "truth":
        return (chosen.source,)
    return (chosen.source, chosen.intercept, chosen.slope, chosen.sd, chosen.n, chosen.shape, chosen.pattern,
            chosen.alike, chosen.design)  # fmt: skip


def _truth(fit, told: tuple) -> Truth:
    from dataclasses import replace

    from bright_tether.core.rehearse.truth import fitted_truth, placed_x

    source, *stated = told
    base = fitted_truth(fit, own=source == "misses" or (bool(stated) and stated[4] == "own"))
    if source != "truth":
        return base
    intercept, slope, sd, n, shape, pattern, alike, design = stated
    return replace(
        base,
        intercept=base.intercept if intercept is None else intercept,
        slope=base.slope if slope is None else slope,
        sd=base.sd if sd is None else sd,
        x=placed_x(base.x, n or base.x.size, design),
        shape=shape,
        pattern=pattern,
        alike=alike,
        design=design,
    )
