"""The lineup: the real residuals among simulated ones; the eye is tested before it is believed."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QSizePolicy, QSpinBox, QVBoxLayout, QWidget

from bright_tether.desktop.parts.long_run import LongRun
from bright_tether.desktop.parts.widgets import button, emptied, label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.live.sketches import Dealt, one_in
from bright_tether.pictures.small import SmallPlot
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.study.declared import Task
from bright_tether.study.tether import Picked
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

_ACROSS = 5


class LineupCell(QPushButton):
    """One picture to pick."""

    def __init__(self, tokens: Tokens, font: QFont, place: int) -> None:
        super().__init__()
        self.setAccessibleName(f"Picture {place + 1}")
        self.setCheckable(True)
        self.plot = SmallPlot(tokens, font)
        self.plot.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        box = QVBoxLayout(self)
        box.setContentsMargins(4, 4, 4, 4)
        box.addWidget(self.plot)
        self.setMinimumHeight(84)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)


class Lineup(QWidget):
    """Pick the odd one out, then be told. left : back to the board."""

    left = pyqtSignal()

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._session, self._tokens, self._font = session, tokens, font
        self.seed, self.real = 1, 0
        self.picked: int | None = None
        self.cells: list[LineupCell] = []
        self._task: Task[Dealt] | None = None
        self.run = LongRun("the lineup")
        self.run.ended.connect(self._lay)
        self.said = label("", "heading", wrap=True, name="lineup")
        self.many = QSpinBox()
        self.many.setRange(4, 30)
        self.many.setValue(20)
        self.many.setAccessibleName("Pictures in the lineup")
        sure(self.many.lineEdit()).setAccessibleName("Pictures in the lineup")
        self.many.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.many.editingFinished.connect(self.deal)
        self._grid = QGridLayout()
        self._grid.setSpacing(6)
        row = QHBoxLayout()
        row.addWidget(self.said, 1)
        row.addWidget(self.run.stop)
        row.addWidget(label("pictures", "quiet"))
        row.addWidget(self.many)
        row.addWidget(button("Deal again", self.again, "small"))
        row.addWidget(button("Back to the board", self.left.emit, "small"))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.said.setMinimumHeight(44)
        box.addLayout(row)
        box.addWidget(self.run)
        box.addLayout(self._grid, 1)

    def again(self) -> None:
        """Deal with the next seed."""
        self.seed += 1
        self.deal()

    def deal(self) -> None:
        """Lay the pictures out; the real one is among them."""
        findings = self._session.findings
        self._clear()
        if findings.refusal or findings.fit.exact:
            self.run.follow(None)
            self.said.setText("There are no residuals to look at: all are zero.")
            return
        self._dealt = self.seed + len(findings.tether.lineups) * 1000
        self._others = self.many.value() - 1
        task = self._task = findings.lineup((self._others, self._dealt))
        if dealt := self.run.follow(task, at_once=self._session.in_place):
            self._lay(dealt)
        else:
            self.said.setText("The others are drawn…")

    def keep_to(self, findings: Findings) -> bool:
        """Whether the pictures are of this line; those of another are taken off the table."""
        task = self._task
        there = task is not None and not findings.refusal and not findings.fit.exact
        if task is not None and there and findings.lineup((self._others, self._dealt)).same(task):
            return True
        self.run.follow(None)
        self._clear()
        return False

    def _clear(self) -> None:
        emptied(self._grid)
        self._task, self.cells, self.picked = None, [], None

    def _lay(self, dealt: Dealt) -> None:
        """Lay the pictures out."""
        self.real = dealt.real
        for place, sketch in enumerate(dealt.sketches):
            cell = LineupCell(self._tokens, self._font, place)
            cell.plot.draw(sketch)
            cell.clicked.connect(lambda _, p=place: self.pick(p))
            self._grid.addWidget(cell, place // _ACROSS, place % _ACROSS)
            self.cells.append(cell)
        n = self._session.findings.pairs.n
        few = one_in(n)
        some = f" One in {d.grouped(few)} rows is drawn in each, and those furthest out." if few > 1 else ""
        self.said.setText(f"One of these is yours, the others come from a true line. Which stands out?{some}")

    def pick(self, place: int) -> None:
        """Keep what was picked, then tell which was real."""
        if self.picked is not None:
            return
        self.picked = place
        session = self._session
        when = datetime.now().isoformat("T", "minutes")
        kept = Picked(picked=place, real=self.real, of=len(self.cells), seed=self._dealt, when=when)
        for at, cell in enumerate(self.cells):
            cell.setChecked(at in (place, self.real))
        luck = d.percent(1 / len(self.cells), 0)
        if place == self.real:
            words = f"Picture {place + 1} is yours: it stands out (by luck alone the chance was {luck})."
        else:
            words = (
                f"Picture {place + 1} was simulated; yours is picture {self.real + 1}. It does not stand out."
            )
        session.do(changes.keep_lineup(session.history.study, session.tether, kept))
        self.said.setText(words)
