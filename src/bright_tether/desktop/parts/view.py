"""Titles, labels and limits of a scatter, typed."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QLineEdit, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.scatter_view import LookPicture
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import Clock, as_written, moment_of, value_of
from bright_tether.tables.column import shown


class ViewPanel(Popup):
    """Every entry takes effect as soon as it is complete."""

    def __init__(self, session: Session, picture: LookPicture, parent: QWidget) -> None:
        super().__init__("Titles and limits of this picture", parent)
        self._session, self._picture = session, picture
        view = session.tether.view
        grid = QGridLayout()
        self.texts: dict[str, QLineEdit] = {}
        for row, (name, words) in enumerate(
            (("title", "Title"), ("x_label", "Name of the x axis"), ("y_label", "Name of the y axis"))
        ):
            field = QLineEdit(getattr(view, name))
            field.setPlaceholderText("as the column is called" if row else "none")
            field.setAccessibleName(words)
            field.editingFinished.connect(lambda n=name, f=field: self._put(n, f.text().strip()))
            self.texts[name] = field
            grid.addWidget(label(words), row, 0)
            grid.addWidget(field, row, 1, 1, 3)
        self.limits: dict[str, tuple[QLineEdit, QLineEdit]] = {}
        for row, axis in enumerate("xy", 3):
            grid.addWidget(label(f"{axis} from"), row, 0)
            ends = (QLineEdit(), QLineEdit())
            for place, (field, words) in enumerate(zip(ends, ("from", "to"), strict=True)):
                field.setAccessibleName(f"{axis} {words}")
                field.editingFinished.connect(lambda a=axis: self._limit(a))
                grid.addWidget(field, row, 1 + 2 * place)
            grid.addWidget(label("to"), row, 2)
            self.limits[axis] = ends
        self.box.addLayout(grid)
        self.said = label(
            "An empty limit lets the picture choose that end. Names and limits hold in every step.",
            "quiet",
            wrap=True,
            name="limits note",
        )
        self.box.addWidget(self.said)
        self.box.addWidget(button("Let the picture choose its limits", self._free))
        self._show_limits()

    def _show_limits(self) -> None:
        for axis, ends in self.limits.items():
            limits = getattr(self._session.tether.view, axis)
            for field, value in zip(ends, limits or (None, None), strict=True):
                field.setText("" if value is None else self._shown(axis, value))

    def _limit(self, axis: str) -> None:
        texts = [field.text().strip() for field in self.limits[axis]]
        if not any(texts):
            self._put(axis, None)
            return
        low, high = (self._read(axis, text) for text in texts)
        wrong = next((t for t, number in zip(texts, (low, high), strict=True) if t and number is None), None)
        if wrong is not None:
            self.said.setText(
                f"“{wrong}” is no {'number' if self._clock(axis) is None else 'date such as 2021-03-04'}."
            )
        elif low is not None and high is not None and low >= high:
            self.said.setText("The first limit must be below the second.")
        elif any(one is not None and one <= 0 for one in (low, high)) and getattr(
            self._session.tether.view, f"log_{axis}"
        ):
            self.said.setText("A log scale has no place for 0 and below: start above 0.")
        else:
            self.said.setText("")
            self._put(axis, (low, high))

    def _clock(self, axis: str) -> Clock | None:
        findings = self._session.findings
        return getattr(findings, f"{axis}_column").clock if findings.tied else None

    def _shown(self, axis: str, value: float) -> str:
        clock = self._clock(axis)
        return shown(value) if clock is None else as_written(moment_of(value, clock), 60)

    def _read(self, axis: str, text: str) -> float | None:
        clock = self._clock(axis)
        dated = None if clock is None else value_of(text, clock)
        return as_number(text) if dated is None else dated

    def _free(self) -> None:
        self._do("Let the picture choose its limits", x=None, y=None)
        self._show_limits()

    def _put(self, name: str, value: object) -> None:
        words = {"title": "Title of the picture", "x": "Limits of x", "y": "Limits of y"}
        self._do(words.get(name, f"Name of the {name[0]} axis"), **{name: value})

    def _do(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "view", words, **fields))
        self._picture.home()
