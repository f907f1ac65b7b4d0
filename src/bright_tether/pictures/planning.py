"""Coverage under broken assumptions, and how many pairs a purpose needs."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont

from bright_tether.core.rehearse.kinds import JUDGED
from bright_tether.core.rehearse.planning import Checked
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BROKEN, BrokenCase
from bright_tether.pictures.board import Board
from bright_tether.pictures.frame import with_room
from bright_tether.pictures.points import Looks
from bright_tether.theme.tokens import SHAPES, Tokens
from bright_tether.words import digits as d
from bright_tether.words.readings.planning import BROKEN_NAMES, JUDGED_NAMES


class BrokenPicture(Board):
    """One line a case: the share of intervals that caught the truth, by each kind of errors."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.main = self.add_plot(0, 0)
        self.main.getAxis("left").setWidth(150)
        self.promised = pg.InfiniteLine(0, angle=90)
        self.main.addItem(self.promised)
        self.shares = [Looks(shape, 9) for shape in SHAPES[: len(JUDGED)]]
        self.errors = [pg.PlotCurveItem(connect="pairs") for _ in JUDGED]
        for item in (*self.errors, *self.shares):
            self.main.addItem(item)
        ticks = [(-at, BROKEN_NAMES[one[0]]) for at, one in enumerate(BROKEN)]
        self.main.getAxis("left").setTicks([ticks])
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        self.promised.setPen(pg.mkPen(tokens.ink, width=1.6, style=Qt.PenStyle.DashLine))
        for hue, looks, curve in zip(tokens.hues, self.shares, self.errors, strict=False):
            looks.style(pg.mkPen(tokens.card, width=0.8), pg.mkBrush(hue), 10)
            curve.setPen(pg.mkPen(hue, width=2))

    def draw(self, findings: Findings, cases: tuple[BrokenCase, ...] | None) -> None:
        """Show what there is of the cases."""
        level, cases = findings.rules.level, cases or ()
        self.promised.setValue(100 * level)
        lowest = 100 * level - 5
        for at, (kind, looks, curve) in enumerate(zip(JUDGED, self.shares, self.errors, strict=True)):
            caught = [case.by[kind] for case in cases]
            share = np.array([100 * (one.caught or 0.0) for one in caught])
            error = np.array([200 * (one.caught_error or 0.0) for one in caught])
            place = -np.arange(len(caught)) + 0.18 * (1 - at)
            looks.put(share, place)
            ends = np.stack((share - error, share + error), axis=1).ravel()
            curve.setData(ends, np.repeat(place, 2))
            lowest = min([lowest, *(share - error).tolist()])
        self.name(
            self.main, f"intervals that caught the true slope, %; dashed: the {100 * level:g} promised", ""
        )
        self.main.setXRange(*with_room(lowest, 100.0, 0.03), padding=0)
        self.main.setYRange(-len(BROKEN) + 0.4, 0.6, padding=0)
        self.setAccessibleDescription("; ".join(
            f"{BROKEN_NAMES[case.name]}: " + ", ".join(
                f"{JUDGED_NAMES[kind]} {d.percent(case.by[kind].caught)}" for kind in JUDGED)
            for case in cases))  # fmt: skip


class PlanPicture(Board):
    """The half-width or the power over the number of pairs, with the goal, the answer and the trial."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.main = self.add_plot(0, 0)
        self.curve = pg.PlotCurveItem()
        self.goal, self.floor = pg.InfiniteLine(0, angle=0), pg.InfiniteLine(0, angle=0)
        self.needed, self.here = pg.InfiniteLine(0, angle=90), pg.InfiniteLine(0, angle=90)
        self.tried, self.bar = Looks("s", 9), pg.PlotCurveItem()
        for item in (self.curve, self.goal, self.floor, self.needed, self.here, self.bar, self.tried):
            self.main.addItem(item)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        self.curve.setPen(pg.mkPen(tokens.ink, width=2))
        self.goal.setPen(pg.mkPen(tokens.muted, width=1.4, style=Qt.PenStyle.DashLine))
        self.floor.setPen(pg.mkPen(tokens.attention, width=1.4, style=Qt.PenStyle.DotLine))
        self.needed.setPen(pg.mkPen(tokens.hues[1], width=2))
        self.here.setPen(pg.mkPen(tokens.hues[0], width=1.6, style=Qt.PenStyle.DashDotLine))
        self.tried.style(pg.mkPen(tokens.card), pg.mkBrush(tokens.hues[1]), 10)
        self.bar.setPen(pg.mkPen(tokens.hues[1], width=2))

    def draw(self, findings: Findings, tried: Checked | None) -> None:
        """Show the plan."""
        plan = findings.plan
        by_power = plan.wish.purpose.endswith("power")
        scale = 100 if by_power else 1
        value = scale * plan.value
        self.curve.setData(plan.n, value)
        self.goal.setValue(scale * plan.wish.goal)
        self.floor.setVisible(plan.floor is not None)
        self.floor.setValue(plan.floor or 0.0)
        self.needed.setVisible(plan.needed is not None)
        self.needed.setValue(plan.needed or 0)
        self.here.setValue(findings.pairs.n)
        self.tried.put(np.zeros(0), np.zeros(0))
        self.bar.setData([], [])
        if tried is not None:
            found, error = scale * tried.found, 2 * scale * tried.error
            self.tried.put(np.array([float(tried.n)]), np.array([found]))
            self.bar.setData([tried.n, tried.n], [found - error, found + error])
        self.name(self.main, "pairs; plum: needed, with the trial; dash-dot: at hand; dashed: the goal",
                  "power, %" if by_power else "half-width")  # fmt: skip
        right = min(float(plan.n[-1]), 4.0 * findings.pairs.n) if plan.needed is None else float(plan.n[-1])
        self.main.setXRange(0, max(right, 1.05 * findings.pairs.n if findings.pairs.n < 3 * right else right),
                            padding=0.02)  # fmt: skip
        if by_power:
            self.main.setYRange(0, 103, padding=0)
        else:
            top = max(3 * plan.wish.goal, 1.2 * (plan.floor or 0.0))
            self.main.setYRange(0, top, padding=0)
