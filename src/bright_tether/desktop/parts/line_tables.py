"""Tables of the step Line: errors side by side, the split of variation, alternatives."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QBrush, QColor, QPainter
from PyQt6.QtWidgets import QHeaderView, QTableWidget, QVBoxLayout, QWidget

from bright_tether.core.line.errors import KINDS, NoErrors
from bright_tether.desktop.parts.pieces import label
from bright_tether.desktop.parts.tables import cell, figures_table
from bright_tether.desktop.session import Session
from bright_tether.look.tokens import Tokens
from bright_tether.study import changes
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.readings.alternatives import what_it_says
from bright_tether.words.readings.line import ERROR_NAMES


class ErrorsView(QWidget):
    """Slope and intercept by every rule of errors; a click puts one in force."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        self.table = figures_table("Errors side by side")
        self.table.cellClicked.connect(lambda row, _: self._choose(row))
        self.table.cellActivated.connect(lambda row, _: self._choose(row))
        self.table.verticalHeader().hide()
        self._said = label("", wrap=True, name="what the errors say")
        column = column_of(self, self._said, self.table)
        column.setStretch(1, 1)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        heads = [
            "errors",
            "se of slope",
            "t",
            "p",
            "interval of slope",
            "se of intercept",
            "interval of intercept",
        ]
        start_table(self.table, heads, len(KINDS))
        if findings.refusal and not isinstance(findings.refusal, NoErrors):
            return
        chosen, digits, told = findings.tether.line.errors, findings.rules.digits, {}
        for row, kind in enumerate(KINDS):
            bold = kind == chosen
            try:
                if kind == "clustered" and findings.clusters is None:
                    texts = [ERROR_NAMES[kind], "name the column of cases first", *[""] * 5]
                else:
                    by = findings.coefficients_by(kind)
                    told[kind] = by.se_slope
                    finest = d.decimals_for(by.se_slope, digits, findings.line.slope)
                    height = d.decimals_for(by.se_intercept, digits, findings.line.intercept or 0.0)
                    texts = [
                        ERROR_NAMES[kind],
                        d.figure(by.se_slope, digits),
                        d.figure(by.t_slope, digits),
                        d.p_value(by.p_slope),
                        d.between(by.ci_slope, finest),
                        d.figure(by.se_intercept, digits),
                        d.between(by.ci_intercept, height),
                    ]
            except NoErrors as none:
                texts = [ERROR_NAMES[kind], f"none: {cause(none.cause)}", *[""] * 5]
            fill_row(self.table, row, texts, bold=bold, tokens=self.tokens if bold else None)
        self._said.setText(self._difference(told, chosen))

    @staticmethod
    def _difference(told: dict, chosen: str) -> str:
        plain, robust = told.get("classical"), told.get("HC3")
        said = f"In force: {ERROR_NAMES[chosen]} errors, for every later step. Click a row to choose it."
        if not plain or not robust:
            return said
        ratio = robust / plain
        if 0.8 <= ratio <= 1.25:
            return f"Classical and robust errors tell much the same (ratio {d.figure(ratio, 3)}). {said}"
        more = "wider" if ratio > 1 else "narrower"
        return (
            f"Robust (HC3) errors are {d.figure(ratio, 3)} times the classical: the misses do not keep one "
            f"width, and robust intervals are {more}. {said}"
        )

    def _choose(self, row: int) -> None:
        session, kind = self._session, KINDS[row]
        if kind == "clustered" and session.findings.clusters is None:
            session.noticed.emit(
                "Name the column that says which rows are one case first: Settings of the line."
            )
            return
        label_ = f"{ERROR_NAMES[kind].capitalize()} errors in force"
        session.do(changes.change_line(session.history.study, session.tether, label_, errors=kind))


class SplitBar(QWidget):
    """All variation as one bar: what goes with the line, and what is left in the misses."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens, self.share = tokens, 0.0
        self.setFixedHeight(44)

    def show_split(self, share: float | None) -> None:
        """Show another split; None leaves the bar empty."""
        self.share = share
        told = "no variation to split" if share is None else f"line {d.percent(share)}"
        self.setAccessibleName("Picture of the split of variation")
        self.setAccessibleDescription(told)
        self.update()

    def paintEvent(self, event) -> None:
        """The line's part in its own colour, the misses' in teal."""
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
        painter.drawText(below, right, f"misses {d.percent(1 - self.share)}")


class VariationView(QWidget):
    """The split of variation as a picture and a table, under what it means."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session = session
        self.table = figures_table("Split of variation")
        self.table.verticalHeader().hide()
        self._said = label("", wrap=True, name="what the line gains")
        self.bar = SplitBar(tokens)
        column_of(self, self._said, self.bar, self.table).setStretch(2, 1)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        self.bar.show_split(None if findings.refusal else findings.line.r2)
        start_table(self.table, ["source", "sum of squares", "df", "mean square", "F", "p"], 3)
        if findings.refusal:
            return
        line, digits = findings.line, findings.rules.digits + 1
        show = lambda value: d.figure(value, digits)  # noqa: E731
        n = findings.pairs.n
        whole = n if findings.fit.origin else n - 1
        total = None if line.ss_total is None else line.ss_total / whole
        rows = (
            ["line", show(line.ss_model), "1", show(line.ss_model), show(line.f), d.p_value(line.p_f)],
            ["misses", show(line.ss_residual), str(line.residual_df), show(line.mse), "", ""],
            [
                "all about 0" if findings.fit.origin else "all about the mean",
                show(line.ss_total),
                str(whole),
                show(total),
                "",
                "",
            ],
        )
        for row, texts in enumerate(rows):
            fill_row(self.table, row, texts)
        weighed = "" if findings.fit.weights is None else ", for a row of weight 1"
        y, unit = findings.y_summary, findings.y_column.unit or ""
        self._said.setText(
            f"Around the mean alone a typical miss of {findings.y_column.short} is {show(y.sd)} {unit} (sd); "
            f"around the line it is {show(line.s)} {unit} (s{weighed}). "
            f"r² = {show(line.r2)}, adjusted {show(line.adj_r2)}."
        )


class AlternativesTable(QWidget):
    """Every other line with slope, interval, typical miss and meaning. picked : which are ticked."""

    picked = pyqtSignal()

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        self.table = figures_table("Other lines")
        self.table.verticalHeader().hide()
        self.table.setMaximumHeight(238)
        self.table.itemChanged.connect(lambda _: self.picked.emit())
        self._ticked = {"resistant (Theil–Sen)", "log of both"}
        column_of(self, self.table)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        told = () if findings.refusal else findings.alternatives
        self.table.blockSignals(True)
        start_table(self.table, ["line", "slope", "interval", "typical miss", "what it says"], len(told))
        digits = findings.rules.digits
        for row, one in enumerate(told):
            wide = None if one.ci is None else (one.ci[1] - one.ci[0]) / 4
            finest = d.decimals_for(wide, digits, one.slope or 0.0)
            texts = [one.name, d.fixed(one.slope, finest), d.between(one.ci, finest),
                     d.figure(one.typical, digits), what_it_says(findings, one)]  # fmt: skip
            fill_row(self.table, row, texts)
            first = self.table.item(row, 0)
            first.setFlags(first.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            ticked = one.name in self._ticked
            first.setCheckState(Qt.CheckState.Checked if ticked else Qt.CheckState.Unchecked)
            first.setForeground(QBrush(QColor(self.tokens.hues[row % len(self.tokens.hues)])))
            self.table.item(row, 4).setToolTip(texts[4])
        self.table.blockSignals(False)

    def ticked(self) -> tuple[str, ...]:
        """The names of the lines to draw."""
        names = []
        for row in range(self.table.rowCount()):
            item = self.table.item(row, 0)
            if item is not None and item.checkState() == Qt.CheckState.Checked:
                names.append(item.text())
        self._ticked = set(names)
        return tuple(names)


def column_of(widget: QWidget, *parts: QWidget) -> QVBoxLayout:
    column = QVBoxLayout(widget)
    column.setContentsMargins(0, 0, 0, 0)
    for part in parts:
        column.addWidget(part)
    return column


def start_table(table: QTableWidget, heads: list[str], rows: int) -> None:
    table.clear()
    table.setColumnCount(len(heads))
    table.setRowCount(rows)
    table.setHorizontalHeaderLabels(heads)
    head = table.horizontalHeader()
    for place in range(len(heads) - 1):
        head.setSectionResizeMode(place, QHeaderView.ResizeMode.ResizeToContents)
    head.setSectionResizeMode(len(heads) - 1, QHeaderView.ResizeMode.Stretch)


def fill_row(
    table: QTableWidget, row: int, texts: list[str], *, bold: bool = False, tokens: Tokens | None = None
) -> None:
    for place, text in enumerate(texts):
        made = cell(text, bold=bold)
        if tokens is not None:
            made.setBackground(QBrush(QColor(tokens.tether_soft)))
            made.setForeground(QBrush(QColor(tokens.on_soft)))
        table.setItem(row, place, made)
