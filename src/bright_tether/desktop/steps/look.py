"""The step Look: see before computing."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, partial
from typing import Any

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from bright_tether.core.shape.histogram import Bins
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.view import ViewPanel
from bright_tether.desktop.parts.widgets import button, label, put_in
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import Stage
from bright_tether.live.basis import beyond_pictures
from bright_tether.live.findings import Findings, Need
from bright_tether.pictures.one_column import ColumnPicture, fences_in_words
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.scatter_view import LookPicture
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.causes import refusal
from bright_tether.words.readings.gather import place_in_words

_PARTS = {"trend": "Trend", "straight": "Line", "margins": "Margins"}
_VIEW = {"names": "Names", "zero": "Zero", "log_x": "Log x", "log_y": "Log y"}


class LookStep(Stage):
    """Both columns together, or one by itself."""

    step_id = "look"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.scatter = LookPicture(tokens, font, "Scatter picture")
        self._tokens, self._font = tokens, font
        connect_points(self.scatter, session)
        self.scatter.limits_pulled.connect(self._keep_limits)
        self._title = label(kind="heading", wrap=True, name="picture title")
        self._note = label(kind="quiet", wrap=True, name="picture note")
        self.switches: dict[str, QPushButton] = {}
        self.pages = QStackedWidget()
        self.pages.addWidget(self._scatter_page())
        self.choice = QComboBox()
        self.choice.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.choice.setAccessibleName("What to look at")
        self.choice.activated.connect(lambda _: self._choose())
        self._column: str | None = None
        head = QHBoxLayout()
        head.addWidget(self._title, 1)
        head.addWidget(button("What goes with y?", self._look_at_all, "small"))
        head.addWidget(label("look at", "quiet"))
        head.addWidget(self.choice)
        self.lay_out(head, self.pages, tall=self.pages)

    @cached_property
    def alone(self) -> ColumnPicture:
        """One column by itself; made when one is first looked at."""
        picture = connect_points(ColumnPicture(self._tokens, self._font, "Column picture"), self._session)
        picture.bins_changed.connect(self._show_bins)
        picture.bins_set.connect(self._set_bins)
        self.pages.addWidget(self._column_page(picture))
        return picture

    @property
    def picture(self) -> ScatterPicture:
        """The picture on show."""
        return self.scatter if self._column is None else self.alone

    def show_findings(self) -> None:
        """Bring the picture up to date."""
        findings = self._session.findings
        columns = [one for one in findings.table.columns if one.numeric or one.kind == "date"]
        names = ["x and y together", *(column.short for column in columns)]
        ids = [None, *(column.id for column in columns)]
        if self._column not in ids:
            self._column = None
        self.choice.blockSignals(True)
        self.choice.clear()
        for name, column_id in zip(names, ids, strict=True):
            self.choice.addItem(name, column_id)
        self.choice.setCurrentIndex(ids.index(self._column))
        self.choice.blockSignals(False)
        if self._column is None:
            self._show_scatter()
        else:
            self._show_column()
        self.pages.setCurrentIndex(0 if self._column is None else 1)

    def show_mark(self) -> None:
        """Ring the marked rows."""
        self.picture.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.scatter.restyle(tokens)
        for picture in self.made("alone"):
            picture.restyle(tokens)

    def look_at(self, column_id: str | None) -> None:
        """Look at one column, or at x and y together."""
        self._column = column_id
        self._session.ask()

    def drawn_needs(self) -> tuple[Need, ...]:
        """The column that is looked at by itself, too."""
        column = self._column

        def shown(findings: Findings) -> object:
            return findings.by_itself(column) if column and findings.table.has(column) else None

        return (*super().drawn_needs(), shown)

    def open_view(self) -> None:
        """Type titles, labels and limits."""
        ViewPanel(self._session, self.scatter, sure(self.window())).show_by(self._set)

    def _scatter_page(self) -> QWidget:
        page, row = QWidget(), Flow(spacing=5)
        for part, words in _PARTS.items():
            row.addWidget(self._switch(part, words, partial(self.scatter.show_part, part), on=True))
        for field, words in _VIEW.items():
            row.addWidget(self._switch(field, words, partial(self._view, field), on=False))
        mutual = self._switch("mutual", "Both lines", self._say_mutual, on=False)
        mutual.setToolTip("Neither column explains the other: draw y on x and x on y.")
        row.addWidget(mutual)
        self._set = button("Limits…", self.open_view, "small")
        row.addWidget(self._set)
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self._note)
        box.addWidget(self.scatter, 1)
        return page

    def _look_at_all(self) -> None:
        window: Any = self.window()
        window.opening.look_at_columns()

    def _column_page(self, picture: ColumnPicture) -> QWidget:
        page, row = QWidget(), Flow()
        self.bin_fields = {name: QLineEdit() for name in ("number", "width", "start")}
        row.addWidget(label("bins:", "quiet"))
        for name, field in self.bin_fields.items():
            field.setFixedWidth(72)
            field.setAccessibleName(f"Bins: {name}")
            field.editingFinished.connect(lambda n=name: self._type_bins(n))
            row.addWidget(label(name, "quiet"))
            row.addWidget(field)
        row.addWidget(button("By rule", lambda: self._set_bins(None), "small", "Bins by rule"))
        self.five = label(kind="strong", wrap=True, name="five numbers")
        self.binned = label(kind="quiet", wrap=True, name="bins and fences")
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(picture, 1)
        box.addWidget(self.five)
        box.addWidget(self.binned)
        return page

    def _switch(self, name: str, words: str, run: Callable[[bool], object], *, on: bool) -> QPushButton:
        switch = button(words, lambda: run(switch.isChecked()), "small", f"Picture: {words.lower()}")
        switch.setCheckable(True)
        switch.setChecked(on)
        self.switches[name] = switch
        return switch

    def _show_scatter(self) -> None:
        session = self._session
        findings, view = session.findings, session.findings.tether.view
        x, y = (findings.x_column.short, findings.y_column.short) if findings.tied else ("x", "y")
        self._title.setText(view.title or f"{y} against {x}")
        for field in _VIEW:
            self.switches[field].setChecked(getattr(view, field))
        self.switches["mutual"].setChecked(findings.tether.mutual)
        self.scatter.draw(findings, session.mark)
        hidden = self.scatter.hidden
        said = f"{d.count(hidden, 'row')} at or below 0 cannot stand on a log scale." if hidden else ""
        self._note.setText(said)
        self._note.setVisible(bool(said))

    def _show_column(self) -> None:
        findings = self._session.findings
        held = findings.table.column(self._column or "")
        column = findings.measured(held)
        self._title.setText(f"{held.short} by itself")
        self.alone.show_column(findings, column, self._session.mark)
        shown, digits = sure(self.alone.shown), findings.rules.digits
        if shown.dots is None:
            self.five.setText(refusal(beyond_pictures(column)) if shown.n else "no rows in play")
            self.binned.setText("")
            return
        summary = shown.summary
        ends = (summary.min, summary.q1, summary.median, summary.q3, summary.max)
        five = " · ".join(place_in_words(column, one, digits) for one in ends)
        mean, sd = place_in_words(column, summary.mean, digits), d.figure(summary.sd, digits)
        unit = f" {column.unit}" if column.unit and column.clock is None else ""
        sd += f" {column.unit}" if column.clock is not None else ""
        self.five.setText(f"n = {d.grouped(summary.n)}   mean {mean}   sd {sd}   five numbers {five}{unit}")
        self._show_bins()

    def _show_bins(self) -> None:
        bins, findings = self.alone.bins, self._session.findings
        if bins is None:
            return
        for name, value in (("number", str(bins.number)), ("width", d.entered(bins.width)),
                            ("start", d.entered(bins.start))):  # fmt: skip
            put_in(self.bin_fields[name], value)
        counted, column = sure(self.alone.counted), self.alone.looked_at
        out = counted.below + counted.above
        outside = f", {d.count(out, 'row')} outside the bins" if out else ""
        rule = "by hand" if self.alone.by_hand is not None else "by rule"
        fenced = fences_in_words(sure(sure(self.alone.shown).fenced), column, findings.rules.digits)
        self.binned.setText(
            f"{d.count(bins.number, 'bin')} of {d.entered(bins.width)} from {d.entered(bins.start)}, {rule}"
            f"{outside}; {fenced}"
        )

    def _type_bins(self, name: str) -> None:
        bins, value = self.alone.bins, as_number(self.bin_fields[name].text())
        self.bin_fields[name].setModified(False)
        if bins is None or value is None or (name != "start" and value <= 0):
            self._show_bins()
            return
        high = float(self.alone.values[-1])
        change = {"number": bins.of_number, "width": bins.of_width, "start": bins.from_start}[name]
        wanted = change(value, high)
        if wanted != bins:
            self._set_bins(wanted)

    def _set_bins(self, bins: Bins | None) -> None:
        session = self._session
        kept = None if bins is None else (bins.start, bins.width, bins.number)
        key = self.alone.looked_at.id
        session.do(changes.bin_by_hand(session.history.study, session.tether, key, kept))
        self._show_bins()

    def _choose(self) -> None:
        self.look_at(self.choice.currentData())

    def _view(self, field: str, on: bool) -> None:
        words = {"names": "Name the points", "zero": "Show zero", "log_x": "Log scale for x",
                 "log_y": "Log scale for y"}[field]  # fmt: skip
        self._change(words, **{field: on})

    def _change(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "view", words, **fields))

    def _say_mutual(self, on: bool) -> None:
        session = self._session
        session.do(changes.say_mutual(session.history.study, session.tether, on))

    def _keep_limits(self, axis: str, low: float, high: float) -> None:
        self._change(f"Limits of {axis}", **{axis: (float(f"{low:.6g}"), float(f"{high:.6g}"))})
