"""The step Forecast: type, paste or drag x; read what to expect."""

from __future__ import annotations

import re
from functools import cached_property, partial
from importlib import import_module
from pathlib import Path

import numpy as np
from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QSpinBox, QWidget

from bright_tether.account.tables import forecasts_csv
from bright_tether.core.widths import Widths
from bright_tether.desktop.parts.copying import copy_grids
from bright_tether.desktop.parts.entries import choice, named, number
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import figures_table, fill_grid
from bright_tether.desktop.parts.one_line import OneLine
from bright_tether.desktop.parts.widgets import button, label, stacked
from bright_tether.desktop.parts.widths import WidthsPart
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.pictures.forecast import ForecastPicture
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number, as_numbers
from bright_tether.tables.clock import Clock, as_written, moment_of, value_of
from bright_tether.tables.column import shown
from bright_tether.tables.writing import printable, put_whole
from bright_tether.theme.tokens import Tokens
from bright_tether.words.causes import said_of
from bright_tether.words.grids.forecast import forecast_grid
from bright_tether.words.readings.forecast import actual_sentence

#: Milliseconds after which a step that was walked to is looked at, and something else may be done beside it.
_LOOKED_AT = 800
#: Cases that are listed to choose from.
_MOST_CASES = 2000
#: A day with a time behind it is one entry.
_TIMED = re.compile(r"\d{4}-\d{2}-\d{2}[T ]\d{1,2}:\d{2}(?::\d{2})?|\S+")


def _row(layout: Flow) -> QWidget:
    held = QWidget()
    held.setLayout(layout)
    return held


class ForecastStep(StageOfViews):
    """Entries above, the picture, the table below; or every way to find an interval for one case."""

    step_id = "forecast"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self._looked_at = QTimer(self)
        self._looked_at.setSingleShot(True)
        self._looked_at.timeout.connect(self._load)
        self._looked_at.start(_LOOKED_AT)
        self.picture = ForecastPicture(tokens, font, "Forecast picture")
        connect_points(self.picture, session)
        self.picture.mark_moved.connect(self._drag)
        self.fields: dict[str, QLineEdit] = {}
        self._of = ""
        self._named: dict[str, QWidget] = {}
        first, more = QWidget(), QWidget()
        shown_first, entries = QHBoxLayout(first), Flow()
        shown_first.setContentsMargins(0, 0, 0, 0)
        for name, words, hint in (
            ("at", "Forecast at x", "one or a list"),
            ("back", "Which x gives y", "one or more y"),
            ("levels", "More levels, %", "80 99"),
            ("actual", "An actual case: x y", "x y"),
            ("weight", "Weight of a new case", "a number"),
        ):
            field = QLineEdit()
            field.setPlaceholderText(hint)
            field.setAccessibleName(words)
            field.editingFinished.connect(lambda n=name: self._typed(n))
            self.fields[name] = field
            field.setMinimumWidth(60)
            field.setMaximumWidth(150)
            self._named[name] = named({"at": "at x", "back": "back from y"}.get(name, words), field)
            (shown_first if name in ("at", "back") else entries).addWidget(self._named[name])
        more.setLayout(entries)
        self.entries = OneLine(first, more=more)
        self.many = QSpinBox()
        self.many.setRange(1, 10_000)
        self.many.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.many.setAccessibleName("Mean of how many new cases")
        self.many.editingFinished.connect(lambda: self._put("Mean of new cases", mean_of=self.many.value()))
        sure(self.many.lineEdit()).setAccessibleName("Mean of how many new cases")
        entries.addWidget(named("mean of new cases", self.many))
        self.case = choice(
            "A further row of", {"": "no case"}, lambda case: self._put("A further row of a case", case=case)
        )
        self._named["case"] = named("a further row of", self.case)
        entries.addWidget(self._named["case"])
        self.band = button(
            "Band for the whole line",
            lambda: self._put("Band for the whole line", band=self.band.isChecked()),
            "small",
        )
        self.band.setCheckable(True)
        entries.addWidget(self.band)
        self.found_by = choice(
            "Interval for one case by",
            {"spread": "the spread about the line", "ranks": "ranks of residuals"},
            lambda width: self._put("Interval for one case by another way", width=width),
        )
        entries.addWidget(named("one case by", self.found_by))
        self.local = button(
            "Smooth beside it",
            lambda: self._put("Smooth beside the line", local=self.local.isChecked()),
            "small",
        )
        self.local.setCheckable(True)
        self.local.setToolTip(
            "Local lines with their band: where the straight line goes wrong. Drag its bandwidth."
        )
        entries.addWidget(self.local)
        self.bandwidth = number("Bandwidth of the smooth", self._take_bandwidth, hint="chosen")
        self._named["bandwidth"] = named("bandwidth ±", self.bandwidth)
        entries.addWidget(self._named["bandwidth"])
        self.picture.bandwidth_moved.connect(self._drag_bandwidth)
        self.said = label("", wrap=True, name="actual against expected")
        self.keep = button("Keep this case", self.keep_case, "small")
        self.forget = button(
            "Forget the kept cases", lambda: self._put("Forget the kept cases", cases=()), "small"
        )
        kept = Flow(self.keep, self.forget)
        self.table = figures_table("Forecasts")
        sure(self.table.verticalHeader()).hide()
        self.table.setFixedHeight(150)
        deeds = Flow(
            button("Copy the table", self.copy, "small"), button("Write it to a file…", self.write, "small")
        )
        self._tokens, self._font = tokens, font
        first_page = stacked(
            self.entries, self.said, _row(kept), self.picture, self.table, _row(deeds), tall=3
        )
        self.fill(lambda: first_page, lambda: self.ways)
        self.lay_out(self.choice, self.pages, tall=self.pages)

    def _load(self) -> None:
        """Have what its other widths need loaded beforehand: it takes half a second."""
        if self.isVisible():
            self._session.off(partial(import_module, "scipy.optimize"), lambda _: None)

    @cached_property
    def ways(self) -> WidthsPart:
        """Every way to find an interval for one case."""
        return WidthsPart(self._session, self._tokens, self._font)

    def run_so_far(self) -> Widths | None:
        """The ways, where they are shown and looked at."""
        return self.ways.outcome if self.view == "widths" else None

    def show_findings(self) -> None:
        """Bring the view up to date."""
        if self.view == "widths":
            self.ways.refresh()
        else:
            self._show_forecasts()

    def _show_forecasts(self) -> None:
        findings = self._session.findings
        chosen = findings.tether.forecast
        if findings.tether.id != self._of:  # what was typed belongs to the tether it was typed for
            self._of = findings.tether.id
            for field in self.fields.values():
                field.setModified(False)
            self.fields["actual"].clear()
        there = findings.refusal is None
        for name, values in (("at", findings.forecast_x if there else ()), ("back", chosen.back),
                             ("levels", tuple(100 * one for one in chosen.levels))):  # fmt: skip
            if not self.fields[name].isModified():  # what cannot be used stays as it was typed
                self.fields[name].setText("  ".join(self._shown(name, one) for one in values))
        weighted = there and findings.fit.weights is not None
        self._named["weight"].setVisible(weighted)
        if weighted and findings.tether.line.new_weight is None:
            self.entries.open()  # without a weight one new case has no interval
        if weighted and not self.fields["weight"].isModified():
            stated = findings.tether.line.new_weight
            self.fields["weight"].setText("" if stated is None else shown(stated))
        self._offer_cases()
        self.many.setValue(chosen.mean_of)
        self.band.setChecked(chosen.band)
        self.found_by.setCurrentIndex(self.found_by.findData(chosen.width))
        self.local.setChecked(chosen.local)
        self._named["bandwidth"].setVisible(chosen.local)
        if not self.bandwidth.hasFocus():
            self.bandwidth.setText("" if chosen.bandwidth is None else shown(chosen.bandwidth))
        self.picture.draw(findings, self._session.mark)

    def _offer_cases(self) -> None:
        findings = self._session.findings
        by_case = findings.refusal is None and findings.case_story is not None
        self._named["case"].setVisible(by_case)
        if not by_case or findings.cluster_cells is None:
            return
        cells = dict.fromkeys(str(cell) for cell in findings.cluster_cells[findings.pairs.at].tolist())
        offered = ["", *list(cells)[:_MOST_CASES]]
        if [self.case.itemData(at) for at in range(self.case.count())] != offered:
            self.case.clear()
            for one in offered:
                self.case.addItem(one or "no case", one)
        self.case.setCurrentIndex(max(self.case.findData(findings.tether.forecast.case), 0))

    def show_words(self) -> None:
        """Bring the table up to date, and how far the case typed or marked lies off."""
        if self.view == "widths":
            return
        findings = self._session.findings
        fill_grid(self.table, None if findings.refusal else forecast_grid(findings))
        self._say_actual()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        if self.view == "widths":
            self.ways.show_mark()
            return
        self.picture.show_mark(self._session.mark)
        self._say_actual()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.picture.restyle(tokens)
        if "ways" in self.__dict__:
            self.ways.restyle(tokens)

    def copy(self) -> None:
        """Put the table on the clipboard."""
        if self._session.findings.refusal is None:
            copy_grids((forecast_grid(self._session.findings),))

    def _typed(self, name: str) -> None:
        field = self.fields[name]
        if not field.isModified():
            return
        numbers = self._numbers(field.text(), dated=name in ("at", "actual"))
        if numbers is None:
            apart = "spaces" if self._session.number_style.decimal == "," else "spaces or commas"
            wanted = (
                f"numbers: set them apart by {apart}" if self._clock is None else "dates such as 2021-03-04"
            )
            self.said.setText(f"“{field.text()}” is not a list of {wanted}.")
            self.said.show()
            return
        field.setModified(False)
        if name == "actual":
            self._say_actual()
        elif name == "weight":
            self._weigh(numbers)
        elif name == "levels":
            shares = tuple(dict.fromkeys(one / 100 for one in numbers if 0 < one < 100))
            self._put("More levels", levels=tuple(float(f"{one:.12g}") for one in shares))
        else:
            self._put(field.accessibleName(), **{name: numbers})

    def _shown(self, name: str, value: float) -> str:
        clock = self._clock if name == "at" else None
        return shown(float(f"{value:.10g}")) if clock is None else as_written(moment_of(value, clock), 60)

    @property
    def _clock(self) -> Clock | None:
        findings = self._session.findings
        return findings.x_column.clock if findings.tied else None

    def _numbers(self, text: str, *, dated: bool = True) -> tuple[float, ...] | None:
        """The numbers of a list; of a date as x also days, set apart by spaces."""
        clock, style = self._clock, self._session.number_style
        if clock is None or not dated:
            return as_numbers(text, style)
        words = _TIMED.findall(text.replace(";", " ").replace(",", " "))
        found = [value_of(word, clock) for word in words]
        numbers = [
            as_number(word, style) if one is None else one for word, one in zip(words, found, strict=True)
        ]
        return None if None in numbers else tuple(one for one in numbers if one is not None)

    def _weigh(self, numbers: tuple[float, ...]) -> None:
        """State the weight of a new case; a blank field states none."""
        if len(numbers) > 1 or any(one <= 0 for one in numbers):
            self.said.setText("The weight of a new case is one number above 0.")
            self.said.show()
            return
        session, weight = self._session, numbers[0] if numbers else None
        words = "Weight of a new case"
        session.do(
            changes.change_choice(session.history.study, session.tether, "line", words, new_weight=weight)
        )

    def _say_actual(self) -> None:
        findings, numbers = self._session.findings, self._numbers(self.fields["actual"].text())
        said = ""
        if findings.refusal is None and numbers and len(numbers) == 2:
            try:
                said = actual_sentence(findings, findings.actual(*numbers))
            except ValueError as wrong:
                said = f"This case cannot be placed: {wrong}."
        elif self.fields["actual"].text().strip():
            said = "Type the case as its x, then its y."
        elif findings.refusal is None and len(self._session.mark) == 1:
            said = self._marked_case()
        self.said.setText(said)
        self.said.setVisible(bool(said))
        self.keep.setVisible(self._case() is not None)
        self.forget.setVisible(bool(findings.tether.forecast.cases))

    def _case(self) -> tuple[float, float] | None:
        """The actual case that stands beside the line now: typed, or the one row marked."""
        findings, numbers = self._session.findings, self._numbers(self.fields["actual"].text())
        if findings.refusal is not None or numbers is None:
            return None
        if len(numbers) == 2:
            return numbers[0], numbers[1]
        if numbers or len(self._session.mark) != 1:
            return None
        at = int(findings.table.places(self._session.mark)[0])
        x, y = float(findings.x_way.source.cells[at]), float(findings.y_way.source.cells[at])
        return (x, y) if np.isfinite([x, y]).all() else None

    def keep_case(self) -> None:
        """Keep the case in the study; the reading holds it against the line from now on."""
        case, kept = self._case(), self._session.tether.forecast.cases
        if case is not None and case not in kept:
            self._put("Keep an actual case", cases=(*kept, case))

    def _marked_case(self) -> str:
        """The one marked row against its forecast, on the columns' original scale."""
        findings, case = self._session.findings, self._case()
        if case is None:
            return ""
        at = int(findings.table.places(self._session.mark)[0])
        said = actual_sentence(findings, findings.actual(*case))
        used = " It helped to draw the line." if at in findings.pairs.at else ""
        return f"Row {at + 1}: {said}{used}"

    def write(self) -> None:
        """Write the table to a CSV file."""
        name, _ = QFileDialog.getSaveFileName(self, "Write the forecasts", "forecasts.csv", "CSV (*.csv)")
        if name:
            self.write_to(Path(name))

    def write_to(self, path: Path) -> None:
        """Write every forecast with all its digits; trouble is said in place."""
        if self._session.findings.refusal is not None:
            self._session.notice("There is no line to forecast from: nothing was written.")
            return
        session, text = self._session, forecasts_csv(self.findings)

        def take(error: Exception | None) -> None:
            if error is None:
                session.tell(f"Written: {printable(str(path))}.")
            else:
                session.notice(f"“{printable(path.name)}” could not be written: {said_of(error)}")

        session.off(lambda: put_whole(path, text.encode("utf-8", "replace")), take, small=True)

    def _drag(self, place: int, inner: float, last: bool) -> None:
        session = self._session
        findings = session.findings
        value = float(findings.x_way.back(np.array([inner]))[0])
        wide = float(findings.pairs.x.max() - findings.pairs.x.min())
        value = float(f"{value:.4g}") if wide else value
        at = [x for x, _ in findings.placed_x]
        at[place] = value
        edit = changes.change_choice(
            session.history.study, session.tether, "forecast", "Move the forecast mark", at=tuple(at)
        )
        (session.do if last else session.preview)(edit)

    def _take_bandwidth(self, text: str) -> None:
        """State half the window of the smooth in x; a blank field lets it be chosen."""
        value = as_number(text, self._session.number_style) if text else None
        if text and (value is None or not value > 0):
            self.said.setText("The bandwidth of the smooth is one number above 0, in units of x.")
            self.said.show()
        elif value != self._session.tether.forecast.bandwidth:
            self._put("Bandwidth of the smooth", bandwidth=value)

    def _drag_bandwidth(self, bandwidth: float, last: bool) -> None:
        session = self._session
        edit = changes.change_choice(session.history.study, session.tether, "forecast", "Bandwidth of the smooth",
                                     bandwidth=float(f"{bandwidth:.3g}"))  # fmt: skip
        (session.do if last else session.preview)(edit)

    def _put(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "forecast", words, **fields))
