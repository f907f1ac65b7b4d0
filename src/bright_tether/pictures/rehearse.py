"""Samples as they pile up: thin lines, the pile with theory on it, the ladder of intervals."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.rehearse.draws import Draws
from bright_tether.core.rehearse.sampling import Sampling, heights, sampling, theory_counts
from bright_tether.core.rehearse.truth import null_density, null_reach
from bright_tether.live.findings import Findings
from bright_tether.pictures.board import Board
from bright_tether.pictures.frame import number_axes, with_room
from bright_tether.pictures.points import Looks
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.reading import there
from bright_tether.words.readings.rehearse import what

#: Intervals of the ladder, thin lines in the scatter, bars of the pile.
RUNGS, THIN, BARS = 100, 60, 41
_MOST_POINTS = 2000


class SamplesPicture(Board):
    """Scatter with thin lines on the left, the pile on the right, the ladder below."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.lines, self.pile = self.add_plot(0, 0), self.add_plot(0, 1)
        self.main = self.pile
        self.ladder = self.add_plot(1, 0, 1, 2)
        self.ci.layout.setRowStretchFactor(0, 5)
        self.ci.layout.setRowStretchFactor(1, 3)
        self.thin, self.truth, self.bright, self.stepped = (pg.PlotCurveItem(connect=how) for how in
                                                            ("pairs", "all", "all", "all"))  # fmt: skip
        self.dots, self.step_dots = Looks("o", 6), Looks("t1", 7)
        for item in (self.thin, self.truth, self.bright, self.stepped, self.dots, self.step_dots):
            self.lines.addItem(item)
        self.bars = pg.BarGraphItem(x0=[], x1=[], y0=0, y1=[])
        self.theory = pg.PlotCurveItem()
        self.aim, self.own, self.here = (pg.InfiniteLine(0, angle=90) for _ in range(3))
        for item in (self.bars, self.theory, self.aim, self.own, self.here):
            self.pile.addItem(item)
        self.caught, self.missed, self.mine, self.held = (pg.PlotCurveItem(connect="pairs") for _ in range(4))
        self.level = pg.InfiniteLine(0, angle=0)
        self.ends = Looks("x", 7)
        for item in (self.caught, self.missed, self.mine, self.held, self.level, self.ends):
            self.ladder.addItem(item)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        faint = QColor(tokens.muted)
        faint.setAlpha(60)
        self.thin.setPen(pg.mkPen(faint))
        dashed = pg.mkPen(tokens.ink, width=1.6, style=Qt.PenStyle.DashLine)
        for item in (self.truth, self.aim, self.level):
            item.setPen(dashed)
        for item in (self.bright, self.own, self.mine):
            item.setPen(pg.mkPen(tokens.tether, width=3))
        for item in (self.stepped, self.here, self.held):
            item.setPen(pg.mkPen(tokens.hues[1], width=2.5))
        self.dots.style(pg.mkPen(tokens.card, width=0.8), pg.mkBrush(tokens.hues[0]), 6)
        self.step_dots.style(pg.mkPen(tokens.card, width=0.8), pg.mkBrush(tokens.hues[1]), 7)
        soft = QColor(tokens.hues[0])
        soft.setAlpha(120)
        self.bars.setOpts(brush=pg.mkBrush(soft), pen=pg.mkPen(tokens.card))
        self.theory.setPen(pg.mkPen(tokens.ink, width=1.8))
        self.caught.setPen(pg.mkPen(tokens.hues[0], width=1.6))
        self.missed.setPen(pg.mkPen(tokens.attention, width=2.4))
        self.ends.style(pg.mkPen(tokens.attention, width=2), pg.mkBrush(tokens.attention), 7)

    def draw(self, findings: Findings, drawn: Draws | None, step: int | None) -> None:
        """Show what has been drawn. step : the sample looked at by itself, from 0."""
        one = findings.sampled(drawn) if drawn is not None and drawn.done > 1 else None
        for item in (self.thin, self.truth, self.bright, self.stepped, self.theory, self.caught, self.missed,
                     self.mine, self.held):  # fmt: skip
            item.setData([], [])
        for looks in (self.dots, self.step_dots, self.ends):
            looks.put(np.zeros(0), np.zeros(0))
        for line in (self.aim, self.own, self.here, self.level):
            line.setVisible(False)
        self.bars.setOpts(x0=[], x1=[], y0=0, y1=[])
        number_axes(self, one is not None)
        if one is None or drawn is None:
            self.setAccessibleDescription("No samples drawn yet")
            return
        self._draw_lines(findings, drawn, step)
        self.draw_pile(findings, drawn, one, step)
        self._draw_ladder(findings, one, step)
        caught = "" if one.caught is None else f", {d.percent(one.caught)} of the intervals caught the truth"
        self.setAccessibleDescription(
            f"{d.grouped(one.draws)} samples: {what(findings)} on average {d.figure(one.mean, 5)}, "
            f"sd {d.figure(one.sd, 3)}{caught}"
        )

    def _draw_lines(self, findings: Findings, drawn: Draws, step: int | None) -> None:
        pairs, plain = findings.pairs, findings.plain_line
        ends = np.array([pairs.x.min(), pairs.x.max()], float)
        some = heights(drawn, slice(0, THIN), ends)
        self.thin.setData(np.tile(ends, len(some)), some.ravel())
        truth = drawn.truth
        self.truth.setData(ends, truth.intercept + truth.slope * ends)
        self.bright.setData(ends, there(plain.intercept) + there(plain.slope) * ends)
        if step is not None and step < drawn.done:
            self.stepped.setData(ends, heights(drawn, slice(step, step + 1), ends)[0])
        own = step is None or step >= len(drawn.samples_x)
        x, y = (pairs.x, pairs.y) if own else (drawn.samples_x[step], drawn.samples_y[step])
        thinned = slice(None, None, max(1, x.size // _MOST_POINTS))
        (self.dots if own else self.step_dots).put(x[thinned], y[thinned])
        names = findings.x_column.name, findings.y_column.name
        self.name(self.lines, *names)
        self.lines.setXRange(*with_room(*ends), padding=0)
        low, high = min(float(pairs.y.min()), float(some.min())), max(float(pairs.y.max()), float(some.max()))
        self.lines.setYRange(*with_room(low, high), padding=0)

    def draw_pile(self, findings: Findings, drawn: Draws, one: Sampling, step: int | None) -> None:
        """The pile as it stands, with theory's curve on it."""
        edges = pile_edges(one)
        counts = np.histogram(one.values, edges)[0]
        self.bars.setOpts(x0=edges[:-1], x1=edges[1:], y0=0, y1=counts)
        expected = theory_counts(drawn, one.statistic, findings.rehearsed_at, edges)
        self.theory.setData((edges[:-1] + edges[1:]) / 2, expected)
        here = one.values[step] if step is not None and step < one.draws else None
        for line, value in ((self.aim, one.truth), (self.own, findings.own_value), (self.here, here)):
            line.setVisible(value is not None)
            if value is not None:
                line.setValue(float(value))
        self.name(self.pile, what(findings), "samples")
        self.pile.setXRange(*with_room(float(edges[0]), float(edges[-1])), padding=0)
        self.pile.setYRange(0, 1.08 * max(float(counts.max()), float(expected.max())), padding=0)

    def _draw_ladder(self, findings: Findings, one: Sampling, step: int | None) -> None:
        none = f"{what(findings)} has no interval here"
        self.name(
            self.ladder, "the first hundred samples; your own at 0" if one.low.size else none, what(findings)
        )
        if not one.low.size:
            self.ladder.setXRange(-1, RUNGS + 1, padding=0)
            return
        low, high = one.low[:RUNGS], one.high[:RUNGS]
        place = np.arange(1, low.size + 1)
        caught = (low <= one.truth) & (one.truth <= high)
        for curve, mine in ((self.caught, caught), (self.missed, ~caught)):
            curve.setData(np.repeat(place[mine], 2), np.stack((low[mine], high[mine]), axis=1).ravel())
        self.ends.put(place[~caught].astype(float), ((low + high) / 2)[~caught])
        own = own_interval(findings)
        if own is not None:
            self.mine.setData([0.0, 0.0], list(own))
        if step is not None and step < low.size:
            self.held.setData([step + 1, step + 1], [low[step], high[step]])
        self.level.setVisible(True)
        self.level.setValue(one.truth)
        finite = np.concatenate((low[np.isfinite(low)], high[np.isfinite(high)]))
        self.ladder.setXRange(-1.5, RUNGS + 1.5, padding=0)
        self.ladder.setYRange(*with_room(float(finite.min()), float(finite.max())), padding=0)


def own_interval(findings: Findings) -> tuple[float, float] | None:
    """The interval of the sample at hand for the statistic rehearsed."""
    name, line = findings.tether.rehearse.statistic, findings.plain_line
    if name == "forecast":
        from bright_tether.core.forecast import forecast

        at = np.array([findings.rehearsed_at])
        return tuple(forecast(findings.plain, at, level=findings.rules.level).ci[0].tolist())
    return {"slope": line.ci_slope, "intercept": line.ci_intercept, "r": findings.pearson.ci}.get(name)


def pile_edges(one: Sampling) -> np.ndarray:
    """Equal bins over what was drawn and what theory expects, (BARS + 1,)."""
    low, high = np.nanquantile(one.values, (0.001, 0.999))
    reach = 3.5 * (one.formula or 0.0)
    low, high = min(low, one.truth - reach), max(high, one.truth + reach)
    if one.statistic in ("r", "r2"):
        low, high = max(low, -1.0 if one.statistic == "r" else 0.0), min(high, 1.0)
    if not high > low:
        low, high = low - 0.5, high + 0.5
    return np.linspace(low, high, BARS + 1)


class LuckPicture(Board):
    """True chance, evenly spread values, and the pile of r without a relationship."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.chance, self.spread = self.add_plot(0, 0), self.add_plot(0, 1)
        self.main = self.pile = self.add_plot(1, 0, 1, 2)
        self.dots = [Looks("o", 6), Looks("s", 6)]
        for item, looks in zip((self.chance, self.spread), self.dots, strict=True):
            item.addItem(looks)
        self.bars = pg.BarGraphItem(x0=[], x1=[], y0=0, y1=[])
        self.theory = pg.PlotCurveItem()
        self.reach = [pg.InfiniteLine(0, angle=90) for _ in range(2)]
        self.own = pg.InfiniteLine(0, angle=90)
        for item in (self.bars, self.theory, *self.reach, self.own):
            self.pile.addItem(item)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        for hue, looks in zip(tokens.hues, self.dots, strict=False):
            looks.style(pg.mkPen(tokens.card, width=0.8), pg.mkBrush(hue), 6)
        soft = QColor(tokens.hues[0])
        soft.setAlpha(120)
        self.bars.setOpts(brush=pg.mkBrush(soft), pen=pg.mkPen(tokens.card))
        self.theory.setPen(pg.mkPen(tokens.ink, width=1.8))
        for line in self.reach:
            line.setPen(pg.mkPen(tokens.ink, width=1.6, style=Qt.PenStyle.DashLine))
        self.own.setPen(pg.mkPen(tokens.tether, width=3))

    def draw(self, findings: Findings, drawn: Draws | None) -> None:
        """Show luck at this n."""
        one = sampling(drawn, "r", level=findings.rules.level) if drawn is not None else None
        shown = one is not None
        self.own.setVisible(shown)
        for line in self.reach:
            line.setVisible(shown)
        number_axes(self, shown)
        if one is None or drawn is None:
            self.bars.setOpts(x0=[], x1=[], y0=0, y1=[])
            self.theory.setData([], [])
            for looks in self.dots:
                looks.put(np.zeros(0), np.zeros(0))
            return
        n = min(findings.pairs.n, 400)
        draw = np.random.Generator(np.random.PCG64(drawn.seed))
        chance, spread = draw.random((n, 2)), evenly_spread(draw, n)
        words = ("true chance", "spread evenly: not chance")
        for item, looks, values, said in zip(
            (self.chance, self.spread), self.dots, (chance, spread), words, strict=True
        ):
            looks.put(values[:, 0].copy(), values[:, 1].copy())
            item.setXRange(0, 1, padding=0.05)
            item.setYRange(0, 1, padding=0.05)
            self.name(item, f"{said}, {n} points", "")
        reach = null_reach(findings.pairs.n, findings.rules.alpha)
        own = findings.pearson.r
        edges = np.linspace(
            *with_room(float(np.nanmin(one.values)), float(np.nanmax(one.values)), 0.02), BARS + 1
        )
        counts = np.histogram(one.values, edges)[0]
        self.bars.setOpts(x0=edges[:-1], x1=edges[1:], y0=0, y1=counts)
        r = np.linspace(max(edges[0], -0.9999), min(edges[-1], 0.9999), 200)
        density = null_density(r, findings.pairs.n) * one.draws * (edges[1] - edges[0])
        self.theory.setData(r, density)
        for line, value in zip(self.reach, (-reach, reach), strict=True):
            line.setValue(value)
        self.own.setVisible(own is not None)
        self.own.setValue(own or 0.0)
        ends = (min(-reach, float(edges[0]), own or 0.0), max(reach, float(edges[-1]), own or 0.0))
        self.name(self.pile, "r without a relationship; dashed: what luck reaches; bright: yours", "samples")
        self.pile.setXRange(*with_room(*ends), padding=0)
        self.pile.setYRange(0, 1.1 * max(float(counts.max()), float(np.max(density))), padding=0)
        self.setAccessibleDescription(
            f"{d.grouped(one.draws)} samples without a relationship; luck reaches |r| = {reach:.3f}"
        )


def evenly_spread(draw: np.random.Generator, n: int) -> np.ndarray:
    """Points that keep apart, as the eye takes chance to be, (n, 2): each the farthest of ten tries."""
    points = draw.random((n, 2))
    for at in range(1, n):
        tries = draw.random((10, 2))
        gaps = np.min(((tries[:, None, :] - points[None, :at, :]) ** 2).sum(axis=2), axis=1)
        points[at] = tries[int(np.argmax(gaps))]
    return points
