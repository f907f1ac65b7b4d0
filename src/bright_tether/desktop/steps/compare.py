"""The step Compare: what with, the lines, the slopes on one scale, the rungs, every two."""

from __future__ import annotations

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QLineEdit, QSizePolicy, QWidget

from bright_tether.desktop.parts.comparable import FirstOffers, Offer, offers
from bright_tether.desktop.parts.entries import named as entry
from bright_tether.desktop.parts.flow import choice_of
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.one_line import OneLine
from bright_tether.desktop.parts.widgets import label, put_in
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.pictures.compare import RUNGS, ComparePicture, SlopesScale
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import shown
from bright_tether.theme.tokens import Tokens
from bright_tether.words.grids.compare import groups_grid
from bright_tether.words.readings.compare import comparison_of

#: Fields of the choice of which one says what is compared.
SOURCES = ("group", "second", "other")


class CompareStep(StageOfViews):
    """Choose what to compare with; everything else follows."""

    step_id = "compare"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.which, self.rows_are = QComboBox(), QComboBox()
        for field, name in ((self.which, "Compare with"), (self.rows_are, "A row is")):
            field.setAccessibleName(name)
        self.which.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.which.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.which.setMinimumContentsLength(13)
        self.which.setMaximumWidth(300)
        for value, words in (
            (None, "a row is …"),
            ("cases", "one case measured twice"),
            ("settings", "two experiments at one x"),
        ):
            self.rows_are.addItem(words, value)
        self.which.activated.connect(lambda _: self._choose(self.which.currentData()))
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
        self.offers = FirstOffers(self._choose)
        self.groups = figures_table("Line of each group")
        sure(self.groups.verticalHeader()).hide()
        lines = QWidget()
        column = column_of(lines)
        column.addWidget(self.picture, 1)
        column.addWidget(self.scale)
        column.addWidget(self.groups)
        self.pages.addWidget(lines)
        for table in self.tables.values():
            sure(table.verticalHeader()).hide()
            self.pages.addWidget(table)
        entries = choice_of(RUNGS, self.rungs, self._draw_rung, "Draw")
        for words, asked in (("within ±", self.margin), ("heights at", self.height_at)):
            entries.addWidget(entry(words, asked))
        entries.addWidget(self.rows_are)
        more = QWidget()
        more.setLayout(entries)
        self.line = OneLine(
            label("with", "quiet"), self.which, self.folding(), more=more, chooser=self.chooser
        )
        self.lay_out(self.line, self.offers, self.pages, tall=self.pages)

    def show_findings(self) -> None:
        """Bring choices and view up to date; where nothing is compared yet, what can be."""
        findings = self._session.findings
        choice = findings.tether.compare
        if not self._session.moving:  # what can be compared stays while the hand moves
            self._fill_which()
        asked = choice.second is not None
        self.rows_are.setVisible(asked)
        self.rows_are.setCurrentIndex(max(self.rows_are.findData(choice.rows_are), 0))
        if asked and choice.rows_are is None:
            self.line.open()  # a question that the comparison rests on
        put_in(self.margin, "" if choice.margin is None else shown(choice.margin))
        comparison = comparison_of(findings)
        comparable = comparison is None or not comparison.units_differ
        shared = comparison.height_at if comparison is not None and comparable else None
        at = choice.height_at if choice.height_at is not None else shared
        for part in (*self.rungs.buttons()[1:], self.margin, self.height_at):
            part.setEnabled(comparable)
        put_in(self.height_at, "" if at is None else shown(float(f"{at:.6g}")))
        nothing = not any(getattr(choice, source) for source in SOURCES)
        self.offers.setVisible(nothing)
        self.pages.setVisible(not nothing)
        if nothing:
            self.offers.show_offers(findings)
        self.line.fit()
        self._draw()

    def show_words(self) -> None:
        """Bring the table of the view up to date."""
        findings, table = self.findings, self.tables.get(self.view)
        if table is not None:
            grids = self.step.view(self.view).grids(findings)
            fill_grid(table, grids[0] if grids else None)
            return
        comparison = comparison_of(findings)
        fill_grid(self.groups, None if comparison is None else groups_grid(findings, comparison))
        lines = self.groups.rowCount()
        self.groups.setVisible(bool(lines))
        self.groups.setFixedHeight(min(30 * lines + 42, 136))

    def show_mark(self) -> None:
        """Ring the marked rows."""
        if self.picture.has_tether:
            self.picture.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        if self.picture.has_tether:
            self.picture.restyle(tokens)
        self.scale.restyle(tokens)

    def _fill_which(self) -> None:
        choice = self._session.findings.tether.compare
        self.which.clear()
        self.which.addItem("choose…", None)
        for one in offers(self._session.findings):
            self.which.addItem(one.words, one)
            if getattr(choice, one.source) == one.key:
                self.which.setCurrentIndex(self.which.count() - 1)
        # in widths of x, of which most letters take less
        self.which.setMinimumContentsLength(min(max(13, 3 * len(self.which.currentText()) // 4), 18))

    def _choose(self, chosen: Offer | None) -> None:
        fields: dict[str, object] = dict.fromkeys(SOURCES)
        if chosen is not None:
            fields[chosen.source] = chosen.key
        self._put(f"Compare with {chosen.words if chosen else 'nothing'}", **fields)

    def _put(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "compare", words, **fields))

    def _number(self, name: str, field: QLineEdit) -> None:
        text = field.text().strip()
        value = as_number(text) if text else None
        present = getattr(self._session.tether.compare, name)
        if (text and value is None) or (name == "margin" and value is not None and value <= 0):
            field.setModified(False)
            self.show_findings()
        elif value != present and not (name == "height_at" and present is None and not field.isModified()):
            self._put(field.accessibleName(), **{name: value})

    def _draw_rung(self, rung: str) -> None:
        self.picture.rung = rung
        self._draw()

    def _draw(self) -> None:
        if self.view not in self.tables:
            self.picture.draw(self.findings, self._session.mark)
            self.scale.draw(self.findings)
