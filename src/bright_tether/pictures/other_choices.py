"""Every way to make an analysis: its result with its interval above, the choices that made it below."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont
from PyQt6.QtWidgets import QToolTip

from bright_tether.claims.other_choices import options_told
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices
from bright_tether.pictures.board import Board
from bright_tether.pictures.frame import Hand, with_room
from bright_tether.pictures.points import Looks
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of
from bright_tether.words.ways import AXIS_NAMES, option_name, way_in_words

#: Pixels of the names of options, and the room between two axes of choice, in rows.
_NAMES, _GAP = 196, 0.6
#: The share of the intervals that may end out of view, at either side.
_RARE = 0.06
#: They do where all would make the rest this much smaller.
_PRESSED = 1.6
#: Pixels of a row of choices, and of the axis below them.
_ROW, _AXIS = 14, 44


class OtherChoicesPicture(Board):
    """One column a way, smallest first; the bright column is the present one. Hover names a way, a click holds it."""

    picked = pyqtSignal(int)
    has_tether = True

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.main, self.below = self.add_plot(0, 0), self.add_plot(1, 0)
        self.below.setXLink(self.main)
        for plot in self.plots:
            plot.getAxis("left").setWidth(_NAMES)
        self.nothing = pg.InfiniteLine(0, angle=0)
        self.present = [pg.InfiniteLine(0, angle=90) for _ in range(2)]
        self.held = [pg.InfiniteLine(0, angle=90) for _ in range(2)]
        self.bars, self.path = pg.PlotCurveItem(connect="pairs"), pg.PlotCurveItem()
        self.dots, self.unclear = Looks("o", 6), Looks("o", 6)
        self.taken, self.taken_now = Looks("s", 5), Looks("s", 6)
        for item in (
            self.nothing,
            self.present[0],
            self.held[0],
            self.bars,
            self.path,
            self.unclear,
            self.dots,
        ):
            self.main.addItem(item, ignoreBounds=True)
        for item in (self.present[1], self.held[1], self.taken, self.taken_now):
            self.below.addItem(item, ignoreBounds=True)
        for plot in self.plots:
            plot.getViewBox().hand = Hand(
                nearest=self._nearest, mark_rows=lambda *_: None, mark_one=self._pick, may_move=lambda _: False,
                move=lambda *_: None, hover=self._hover,
            )  # fmt: skip
        self._findings: Findings | None = None
        self.found: OtherChoices | None = None
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        self.nothing.setPen(pg.mkPen(tokens.muted, style=Qt.PenStyle.DashLine))
        for line in self.present:
            line.setPen(pg.mkPen(tokens.tether, width=3))
        for line in self.held:
            line.setPen(pg.mkPen(tokens.ink, style=Qt.PenStyle.DotLine))
        soft = QColor(tokens.hues[0])
        soft.setAlpha(90)
        self.bars.setPen(pg.mkPen(soft, width=1.6))
        self.path.setPen(pg.mkPen(tokens.hues[1], width=2))
        self.dots.style(pg.mkPen(tokens.card, width=0.8), pg.mkBrush(tokens.hues[0]), 6)
        self.unclear.style(pg.mkPen(tokens.hues[0], width=1.4), pg.mkBrush(tokens.card), 6)
        self.taken.style(pg.mkPen(None), pg.mkBrush(tokens.muted), 5)
        self.taken_now.style(pg.mkPen(None), pg.mkBrush(tokens.tether), 7)

    def draw(self, findings: Findings, found: OtherChoices | None) -> None:
        """Show all ways that have a value and an interval."""
        self._findings, self.found = findings, found
        ways = () if found is None else found.told
        value = np.array([one.value for one in ways], float)
        ends = np.array([one.ci for one in ways], float).reshape(-1, 2)
        place, clear = np.arange(1.0, len(ways) + 1), np.array([one.clear for one in ways], bool)
        self.dots.put(place[clear], value[clear])
        self.unclear.put(place[~clear], value[~clear])
        self.bars.setData(np.repeat(place, 2), ends.ravel())
        self._show_present(findings, found)
        self.hold(None)
        if found is None or not ways:
            self.setAccessibleDescription("no ways to show")
            self._draw_choices(findings, None)
            return
        names = names_of(findings.x_column, findings.y_column)
        what = {"slope": f"slope, {names.slope_unit}", "change": f"change of {findings.y_column.name}",
                "coefficient": "coefficient of correlation"}[found.what]  # fmt: skip
        self.name(self.main, "", what)
        self.main.getAxis("bottom").setStyle(showValues=False)
        least, most = min(0.0, float(value.min())), max(0.0, float(value.max()))
        low, high = min(least, float(ends.min())), max(most, float(ends.max()))
        rare = np.quantile(ends[:, 0], _RARE), np.quantile(ends[:, 1], 1 - _RARE)
        least, most = min(least, float(rare[0])), max(most, float(rare[1]))
        if high - low > _PRESSED * (
            most - least
        ):  # a few would press all others flat: they run out of the frame
            low, high = least, most
        self.main.setYRange(*with_room(low, high), padding=0)
        self.main.setXRange(0.2, len(ways) + 0.8, padding=0)
        self._draw_choices(findings, found)
        self.setAccessibleDescription(
            f"{d.grouped(len(ways))} ways from {d.figure(value.min(), 4)} to {d.figure(value.max(), 4)}"
        )

    def hold(self, at: int | None) -> None:
        """Draw a line through one way, counted from 0; None through none."""
        for line in self.held:
            line.setVisible(at is not None)
            line.setValue(0 if at is None else at + 1)

    def _show_present(self, findings: Findings, found: OtherChoices | None) -> None:
        shown = () if found is None else found.told
        present = None if found is None or found.present is None else found.ways[found.present]
        there = present in shown
        for line in self.present:
            line.setVisible(there)
            line.setValue(shown.index(present) + 1 if there and present is not None else 0)
        path = [] if found is None else [found.ways[at] for at in found.path]
        path = [one for one in path if one in shown]
        self.path.setData([shown.index(one) + 1 for one in path], [one.value or 0.0 for one in path])

    def _draw_choices(self, findings: Findings, found: OtherChoices | None) -> None:
        """A row an option, top down, axes apart."""
        ticks: list[tuple[float, str]] = []
        x: list[np.ndarray] = []
        y: list[np.ndarray] = []
        height, axis = 0.0, ""
        for one in () if found is None else options_told(found):
            height -= _GAP if axis and one.axis != axis else 0.0
            first, axis = one.axis != axis, one.axis
            name = option_name(findings, one.axis, one.option)
            ticks.append((height, f"{AXIS_NAMES[axis]}: {name}" if first else name))
            mine = [place for place, way in enumerate(found.told, 1) if way.takes(axis) == one.option]  # type: ignore[union-attr]
            x.append(np.array(mine, float))
            y.append(np.full(len(mine), height))
            height -= 1.0
        across, up = (np.concatenate(one) if one else np.zeros(0) for one in (x, y))
        here = np.zeros(across.size, bool)
        if self.present[0].isVisible():
            here = across == self.present[0].value()
        self.taken.put(across[~here], up[~here])
        self.taken_now.put(across[here], up[here])
        self.below.getAxis("left").setTicks([ticks])
        self.name(self.below, "ways, smallest first", "")
        self.below.setYRange(height + 0.3, 0.7, padding=0)
        room = max(self.height() * 0.6, 150)
        self.ci.layout.setRowFixedHeight(1, min(_ROW * (0.4 - height) + _AXIS, room))

    def _nearest(self, at: QPointF) -> int | None:
        if self.found is None:
            return None
        place = round(self.main.getViewBox().mapSceneToView(at).x()) - 1
        return place if 0 <= place < len(self.found.told) else None

    def _pick(self, at: int | None, _: Qt.KeyboardModifier) -> None:
        self.hold(at)
        self.picked.emit(-1 if at is None else at)

    def _hover(self, at: int | None) -> None:
        if at is None:
            QToolTip.hideText()
            return
        spot = self.main.getViewBox().mapViewToScene(QPointF(at + 1, 0))
        QToolTip.showText(
            self.mapToGlobal(self.mapFromScene(spot)), self.in_words(at), self, QRectF().toRect()
        )

    def in_words(self, at: int) -> str:
        """A way with what it comes to."""
        assert self.found is not None
        assert self._findings is not None
        way, findings = self.found.told[at], self._findings
        fine = d.decimals_for(None, findings.rules.digits, way.value)
        value = f"{d.fixed(way.value, fine)} ({d.between(way.ci, fine)})"
        return f"{at + 1}: {value}, n = {d.grouped(way.n)} · {way_in_words(findings, self.found, way)}"
