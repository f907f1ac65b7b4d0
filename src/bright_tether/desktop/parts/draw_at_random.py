"""A new column drawn at random."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox, QGridLayout, QLineEdit, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.study import column_changes
from bright_tether.study.edits import Edit, Several, SingleEdit
from bright_tether.study.row_changes import add_rows
from bright_tether.study.study import Study
from bright_tether.tables.cells import as_number
from bright_tether.tables.formula import Draw
from bright_tether.words.columns import DRAWS, draw_trouble

#: Rows that are asked for where there are none.
_USUAL_ROWS = "30"
_FIELDS = ("a", "b", "c")


class DrawAtRandom(Popup):
    """How to draw, its numbers, and for how many rows where the table has none."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Make a column at random", parent, 380)
        self._session = session
        self.kind, self.of_x = QComboBox(), QComboBox()
        self.kind.setAccessibleName("How to draw")
        for kind, how in DRAWS.items():
            self.kind.addItem(how.words, kind)
        self.of_x.setAccessibleName("x of the line")
        numeric = [column for column in session.table.columns if column.numeric]
        for column in numeric:
            self.of_x.addItem(column.name, column.id)
        filled = [column.id for column in numeric if column.missing < session.table.rows]
        likely = session.tether.x if session.tether.x in filled else filled[-1] if filled else None
        self.of_x.setCurrentIndex(max(self.of_x.findData(likely), 0))
        self.fields = {name: QLineEdit() for name in (*_FIELDS, "names", "rows", "seed")}
        self.fields["rows"].setText(_USUAL_ROWS)
        self.fields["seed"].setText(str(_free_seed(session)))
        self.fields["names"].setPlaceholderText("Weir, Ford")
        self.box.addWidget(self.kind)
        grid = QGridLayout()
        self._labels = {name: label(name, "quiet") for name in (*self.fields, "x")}
        self._labels["names"].setText("names, with commas")
        self._labels["rows"].setText("rows")
        for at, name in enumerate(self._labels):
            field = self.of_x if name == "x" else self.fields[name]
            if name != "x":
                field.setAccessibleName(f"Draw {name}")
            grid.addWidget(self._labels[name], at, 0)
            grid.addWidget(field, at, 1)
        self.box.addLayout(grid)
        self.name = QLineEdit()
        self.name.setPlaceholderText("name of the new column")
        self.name.setAccessibleName("Name of the random column")
        self.said = label(kind="quiet", wrap=True, name="draw says")
        self.box.addWidget(self.name)
        self.box.addWidget(self.said)
        self.box.addWidget(button("Add the column", self.add, "main", "Add the random column"))
        self.kind.currentIndexChanged.connect(self._kind_chosen)
        self._kind_chosen()

    def add(self) -> None:
        """Put the column in, and rows for it where there are none; what cannot be drawn is said."""
        session = self._session
        kind = self.kind.currentData()
        typed = {name: as_number(field.text()) for name, field in self.fields.items()}
        names = tuple(dict.fromkeys(filter(None, map(str.strip, self.fields["names"].text().split(",")))))
        x = self.of_x.currentData() if DRAWS[kind].of_x else None
        rows = typed["rows"] if not session.table.rows else float(session.table.rows)
        trouble = draw_trouble(kind, typed, names, x, rows, _seeds(session))
        if trouble:
            self.said.setText(trouble)
            return
        numbers = {name: typed[name] or 0.0 for name in _FIELDS if DRAWS[kind].fields.get(name)}
        numbers |= DRAWS[kind].fixed
        draw = Draw(kind=DRAWS[kind].kind, seed=int(typed["seed"] or 0), x=x, names=names, **numbers)
        name, table = self.name.text().strip() or "random", session.table.id

        def make(study: Study) -> Edit:
            edits: list[SingleEdit] = []
            if not study.table(table).rows:
                edits.append(add_rows(study, table, int(rows or 0)))
                study = edits[0].apply(study)
            put = column_changes.add_formula(study, table, name, draw)
            return Several(label=put.label, edits=(*edits, put)) if edits else put

        session.do_made(make, small=(rows or 0) <= IN_PLACE_ROWS)
        self.close()

    def _kind_chosen(self) -> None:
        how = DRAWS[self.kind.currentData()]
        for name in _FIELDS:
            words = how.fields.get(name)
            self._labels[name].setText(words[0] if words else "")
            if words:
                self.fields[name].setText(words[1])
        shown = {
            **{name: name in how.fields for name in _FIELDS},
            "names": how.named, "x": how.of_x, "rows": not self._session.table.rows, "seed": True,
        }  # fmt: skip
        for name, visible in shown.items():
            self._labels[name].setVisible(visible)
            (self.of_x if name == "x" else self.fields[name]).setVisible(visible)
        self.said.setText("")
        self.adjustSize()


def _seeds(session: Session) -> dict[int, str]:
    """The seeds of the table's drawn columns, and the columns drawn by them."""
    drawn = ((one.formula, one.short) for one in session.table.columns)
    return {formula.seed: name for formula, name in drawn if isinstance(formula, Draw)}


def _free_seed(session: Session) -> int:
    """A seed that no column of the table is drawn by: columns of one seed would go together."""
    return max(_seeds(session), default=0) + 1
