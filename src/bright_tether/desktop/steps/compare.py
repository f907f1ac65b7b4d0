"""The step Compare: what with, the lines, the slopes on one scale, the rungs, every two."""

from __future__ import annotations

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QLineEdit, QWidget

from bright_tether.desktop.parts.flow import Flow, choice_of
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.pictures.compare import RUNGS, ComparePicture, SlopesScale
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.study.names import tether_name
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import shown
from bright_tether.theme.tokens import Tokens
from bright_tether.words.readings.compare import comparison_of

_SOURCES = {"group": "the groups of", "second": "a second response,", "other": "another tether,"}


class CompareStep(StageOfViews):
    """Choose what to compare with; everything else follows."""

    step_id = "compare"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.source, self.which, self.rows_are = QComboBox(), QComboBox(), QComboBox()
        for field, name in (
            (self.source, "Compare with"),
            (self.which, "Which"),
            (self.rows_are, "A row is"),
        ):
            field.setAccessibleName(name)
        for key, words in _SOURCES.items():
            self.source.addItem(words, key)
        for value, words in (
            (None, "a row is …"),
            ("cases", "one case measured twice"),
            ("settings", "two experiments at one x"),
        ):
            self.rows_are.addItem(words, value)
        self.source.activated.connect(lambda _: self._fill_which())
        self.which.activated.connect(lambda _: self._choose())
        self.rows_are.activated.connect(
            lambda _: self._put("What a row is", rows_are=self.rows_are.currentData())
        )
        self.margin, self.height_at = QLineEdit(), QLineEdit()
        for typed, name in ((self.margin, "Margin of equivalence"), (self.height_at, "Heights at x")):
            typed.setAccessibleName(name)
            typed.setFixedWidth(88)
        self.margin.editingFinished.connect(lambda: self._number("margin", self.margin))
        self.height_at.editingFinished.connect(lambda: self._number("height_at", self.height_at))
        self.picture, self.scale = ComparePicture(tokens, font, "Compare picture"), SlopesScale(tokens, font)
        self.scale.margin_set.connect(lambda value: self._put("Margin of equivalence", margin=value))
        connect_points(self.picture, session)
        self.tables = {view.id: figures_table(view.title) for view in self.step.views[1:]}
        self.rungs = QButtonGroup(self)
        lines = QWidget()
        rung_row = choice_of(RUNGS, self.rungs, self._draw_rung, "Draw")
        rung_row.addWidget(label("within ±", "quiet"))
        rung_row.addWidget(self.margin)
        rung_row.addWidget(label("heights at", "quiet"))
        rung_row.addWidget(self.height_at)
        column = column_of(lines)
        column.addLayout(rung_row)
        column.addWidget(self.picture, 1)
        column.addWidget(self.scale)
        self.pages.addWidget(lines)
        for table in self.tables.values():
            sure(table.verticalHeader()).hide()
            self.pages.addWidget(table)
        head = Flow()
        head.addWidget(label("Compare with", "strong"))
        for field in (self.source, self.which, self.rows_are):
            head.addWidget(field)
        self.lay_out(head, self.choice, self.pages, tall=self.pages)

    def show_findings(self) -> None:
        """Bring choices and view up to date."""
        choice = self._session.findings.tether.compare
        present = next((key for key in _SOURCES if getattr(choice, key)), None)
        if present is not None:
            self.source.setCurrentIndex(self.source.findData(present))
        self._fill_which(keep=True)
        self.rows_are.setVisible(choice.second is not None)
        self.rows_are.setCurrentIndex(max(self.rows_are.findData(choice.rows_are), 0))
        self.margin.setText("" if choice.margin is None else shown(choice.margin))
        made = comparison_of(self._session.findings)
        comparable = made is None or not made.units_differ
        shared = made.height_at if made is not None and comparable else None
        at = choice.height_at if choice.height_at is not None else shared
        for asked in (*self.rungs.buttons()[1:], self.margin, self.height_at):
            asked.setEnabled(comparable)
        self.height_at.setText("" if at is None else shown(float(f"{at:.6g}")))
        self._show_page()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        if self.picture.has_tether:
            self.picture.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        if self.picture.has_tether:
            self.picture.restyle(tokens)
        self.scale.restyle(tokens)

    def _fill_which(self, *, keep: bool = False) -> None:
        session, source = self._session, self.source.currentData()
        tether, table = session.findings.tether, session.findings.table
        self.which.clear()
        self.which.addItem("choose…", None)
        if source == "group":
            named = [(c.short, c.id) for c in table.columns if c.kind in ("category", "text")]
        elif source == "second":
            named = [(c.short, c.id) for c in table.columns if c.numeric and c.id not in (tether.x, tether.y)]
        else:
            named = [
                (tether_name(session.study, t), t.id) for t in session.study.tethers if t.id != tether.id
            ]
        for words, key in named:
            self.which.addItem(words, key)
        if keep:
            self.which.setCurrentIndex(max(self.which.findData(getattr(tether.compare, source)), 0))

    def _choose(self) -> None:
        source, chosen = self.source.currentData(), self.which.currentData()
        fields: dict[str, object] = dict.fromkeys(_SOURCES)
        fields[source] = chosen
        self._put(f"Compare with {self.which.currentText()}", **fields)

    def _put(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "compare", words, **fields))

    def _number(self, name: str, field: QLineEdit) -> None:
        text = field.text().strip()
        value = as_number(text) if text else None
        present = getattr(self._session.tether.compare, name)
        if (text and value is None) or (name == "margin" and value is not None and value <= 0):
            self.show_findings()
        elif value != present and not (name == "height_at" and present is None and not field.isModified()):
            self._put(field.accessibleName(), **{name: value})

    def _draw_rung(self, rung: str) -> None:
        self.picture.rung = rung
        self._show_page()

    def _show_page(self) -> None:
        findings, table = self.findings, self.tables.get(self.view)
        if table is None:
            self.picture.draw(findings, self._session.mark)
            self.scale.draw(findings)
        else:
            grids = self.step.view(self.view).grids(findings)
            fill_grid(table, grids[0] if grids else None)
