"""Tables of the step Line: errors side by side, the split of variation, alternatives."""

from __future__ import annotations

from contextlib import suppress
from functools import partial
from typing import Any

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QPainter
from PyQt6.QtWidgets import QWidget

from bright_tether.core.line.errors import KINDS, NoErrors
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.grids.line import alternatives_grid, errors_grid, variation_grid
from bright_tether.words.readings.alternatives import left_out


class ErrorsView(QWidget):
    """Slope and intercept by every rule of errors; a click puts one in force."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        self.table = figures_table("Errors side by side")
        self.table.cellClicked.connect(lambda row, _: self._choose(row))
        self.table.cellActivated.connect(lambda row, _: self._choose(row))
        sure(self.table.verticalHeader()).hide()
        self._said = label("", wrap=True, name="what the errors say")
        column = column_of(self, self._said, self.table)
        column.setStretch(1, 1)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        if findings.refusal and not isinstance(findings.refusal, NoErrors):
            fill_grid(self.table, None)
            return
        fill_grid(self.table, errors_grid(findings), self.tokens)
        by_kind = {}
        for kind in ("classical", "HC3"):
            with suppress(NoErrors):
                by_kind[kind] = findings.coefficients_by(kind).se_slope
        self._said.setText(self._difference(by_kind, findings.tether.line.errors))

    @staticmethod
    def _difference(by_kind: dict[str, Any], chosen: str) -> str:
        plain, robust = by_kind.get("classical"), by_kind.get("HC3")
        said = f"In force: {ERROR_NAMES[chosen]} errors, for every later step. Click a row to choose it."
        if not plain or not robust:
            return said
        ratio = robust / plain
        if 0.8 <= ratio <= 1.25:
            return f"Classical and robust errors tell much the same (ratio {d.figure(ratio, 3)}). {said}"
        more = "wider" if ratio > 1 else "narrower"
        return (
            f"Robust (HC3) errors are {d.figure(ratio, 3)} times the classical: the residuals do not keep one "
            f"width, and robust intervals are {more}. {said}"
        )

    def _choose(self, row: int) -> None:
        session, kind = self._session, KINDS[row]
        if kind == "clustered" and session.findings.clusters is None:
            session.notice("Name the column that says which rows are one case first: Settings of the line.")
            return
        label_ = f"{ERROR_NAMES[kind].capitalize()} errors in force"
        session.do(changes.change_choice(session.history.study, session.tether, "line", label_, errors=kind))


class SplitBar(QWidget):
    """All variation as one bar: what goes with the line, and what is left in the residuals."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.share: float | None = 0.0
        self.setFixedHeight(44)

    def show_split(self, share: float | None) -> None:
        """Show another split; None leaves the bar empty."""
        self.share = share
        words = "no variation to split" if share is None else f"line {d.percent(share)}"
        self.setAccessibleName("Picture of the split of variation")
        self.setAccessibleDescription(words)
        self.update()

    def paintEvent(self, event: Any) -> None:
        """The line's part in its own colour, the residuals' in teal."""
        if self.share is None:
            return
        painter, t = QPainter(self), self.tokens
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        edge = self.width() * self.share
        painter.fillRect(QRectF(0, 0, edge, 22), QColor(t.tether))
        soft = QColor(t.hues[0])
        soft.setAlpha(120)
        painter.fillRect(QRectF(edge, 0, self.width() - edge, 22), soft)
        painter.setPen(QColor(t.ink))
        left, right = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight
        below = QRectF(0, 25, self.width(), 18)
        painter.drawText(below, left, f"line {d.percent(self.share)}")
        painter.drawText(below, right, f"residuals {d.percent(1 - self.share)}")


class VariationView(QWidget):
    """The split of variation as a picture and a table, under what it means."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session = session
        self.table = figures_table("Split of variation")
        sure(self.table.verticalHeader()).hide()
        self._said = label("", wrap=True, name="what the line gains")
        self.bar = SplitBar(tokens)
        column_of(self, self._said, self.bar, self.table).setStretch(2, 1)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        self.bar.show_split(None if findings.refusal else findings.line.r2)
        fill_grid(self.table, None if findings.refusal else variation_grid(findings))
        if findings.refusal:
            return
        line, show = findings.line, partial(d.figure, digits=findings.rules.digits + 1)
        weighed = "" if findings.fit.weights is None else ", for a row of weight 1"
        y, unit = findings.y_summary, findings.y_column.unit or ""
        self._said.setText(
            f"Around the mean alone a typical residual of {findings.y_column.short} is {show(y.sd)} {unit} (sd); "
            f"around the line it is {show(line.s)} {unit} (s{weighed}). "
            f"r² = {show(line.r2)}, adjusted {show(line.adj_r2)}."
        )


class AlternativesTable(QWidget):
    """Every other line with slope, interval, typical residual and meaning. picked : which are ticked."""

    picked = pyqtSignal()

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        self.table = figures_table("Other lines")
        sure(self.table.verticalHeader()).hide()
        self.table.setMaximumHeight(238)
        self.table.itemChanged.connect(lambda _: self.picked.emit())
        self._ticked = {"theil-sen", "log-both"}
        self._kinds: tuple[str, ...] = ()
        self._left_out = label("", wrap=True, name="lines left out")
        column_of(self, self.table, self._left_out)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        said = "" if findings.refusal else left_out(findings.pairs.n)
        self._left_out.setText(said)
        self._left_out.setVisible(bool(said))
        self.table.blockSignals(True)
        fill_grid(self.table, None if findings.refusal else alternatives_grid(findings))
        self._kinds = () if findings.refusal else tuple(one.kind for one in findings.alternatives)
        for row in range(self.table.rowCount()):
            first = sure(self.table.item(row, 0))
            first.setFlags(first.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            ticked = self._kinds[row] in self._ticked
            first.setCheckState(Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
            first.setForeground(QBrush(QColor(self.tokens.hues[row % len(self.tokens.hues)])))
            last = sure(self.table.item(row, 4))
            last.setToolTip(last.text())
        self.table.blockSignals(False)

    def ticked(self) -> tuple[str, ...]:
        """The kinds of the lines to draw."""
        items = [(kind, self.table.item(row, 0)) for row, kind in enumerate(self._kinds)]
        kinds = tuple(kind for kind, item in items if item and item.checkState() == Qt.CheckState.Checked)
        self._ticked = set(kinds)
        return kinds
