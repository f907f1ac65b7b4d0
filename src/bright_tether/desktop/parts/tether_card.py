"""The card of a tether on the shelf: what it comes to, and where it stands."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout

from bright_tether.core.results import Refusal
from bright_tether.desktop.parts.widgets import Pressable, label, restyled
from bright_tether.live.findings import Findings
from bright_tether.pictures.sure import sure
from bright_tether.pictures.thumbnail import Thumbnail
from bright_tether.study.names import tether_name
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.readings.standing import standing_sentence

#: Up to this many rows the standing of a tether that is not on the stage is worked out for its card.
STANDING_ROWS = 500
#: What a card says whose tether has to wait for the stage.
_LATER = "to be worked out"
#: What takes long of all that it rests on, the longest first.
_STANDS_ON = (Findings.doubts, Findings.clumps, Findings.within_clumps, Findings.within_groups)


class TetherCard(Pressable):
    """One tether: stamp, name, pairs, r, and where it stands."""

    wanted = pyqtSignal(str)
    menu_wanted = pyqtSignal(str, QPoint)

    def __init__(self, tether_id: str, tokens: Tokens) -> None:
        super().__init__("tetherCard", "Tether")
        self.tether_id = tether_id
        self.clicked.connect(lambda: self.wanted.emit(tether_id))
        self.stamp = Thumbnail(tokens)
        self._name = label(kind="strong", wrap=True)
        self._pairs, self._r = label(kind="quiet"), label(kind="quiet")
        self._standing = label(kind="quiet", wrap=True)
        self._findings: Findings | None = None
        self._said = ""
        #: What is said is said of these: the tether, its table, the ground rules.
        self._of: tuple[object, object, object] | None = None
        #: What the card was last shown for, None while its tether is on the stage.
        self.rests_on: tuple[object, ...] | None = None
        words = QVBoxLayout()
        words.setSpacing(1)
        for line in (self._name, self._pairs, self._r):
            words.addWidget(line)
        row = QHBoxLayout()
        row.addWidget(self.stamp, 0, Qt.AlignmentFlag.AlignTop)
        row.addLayout(words, 1)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(8, 8, 8, 8)
        whole.setSpacing(4)
        whole.addLayout(row)
        whole.addWidget(self._standing)

    def show_findings(self, findings: Findings, chosen: bool) -> None:
        """Say what the tether comes to."""
        self.call(tether_name(findings.study, findings.tether))
        restyled(self, "chosen", chosen)
        pairs = r = ""
        if findings.refusal is None:
            pairs = d.count(findings.pairs.n, "pair")
            r = d.relation("r", findings.pearson.r, findings.rules.digits)
        self._pairs.setText(pairs or "no line yet")
        self._r.setText(r)
        self._findings, self._said = findings, f"{pairs} {r}".strip()
        self._of = findings.tether, findings.table, findings.study.rules
        self.stamp.draw(findings)

    def wait(self, tether: object, table: object, rules: object) -> None:
        """Take back what is said of another tether, table or rules; it is worked out once it is on the stage."""
        if self._of is None or (self._of[0] is tether and self._of[1] is table and self._of[2] is rules):
            return
        self._standing.hide()
        if self._of[0] is not tether or self._of[1] is not table:
            self._findings, self._of, self._said = None, None, _LATER
            self._pairs.setText(_LATER)
            self._r.setText("")
            self.stamp.clear()
        self.setAccessibleDescription(self._said)

    def call(self, name: str) -> None:
        """Take a name, which others that read alike may change."""
        if name != self._name.text():
            self._name.setText(name)
            self.setAccessibleName(f"Tether {name}")

    def stands_for(self, rests_on: tuple[object, ...]) -> bool:
        """Whether the card shows just that already."""
        return self.rests_on is not None and all(a is b for a, b in zip(self.rests_on, rests_on, strict=True))

    def show_standing(self, *, at_hand: bool) -> None:
        """Say where the tether stands. at_hand : only where nothing has to be worked out for that."""
        if self._findings is None:
            return
        standing = _standing(self._findings, at_hand=at_hand)
        self._standing.setText(standing)
        self._standing.setVisible(bool(standing))
        self.setAccessibleDescription(f"{self._said} {standing}".strip())

    def event(self, event: QEvent | None) -> bool:
        """Keep the height of the words: a scroll area asks for it before a card within a card has told."""
        done = super().event(event)
        if event is not None and event.type() in (
            QEvent.Type.LayoutRequest,
            QEvent.Type.Resize,
            QEvent.Type.Show,
        ):
            self.fit()
        return done

    def fit(self) -> None:
        """Take the height of the words."""
        self.setMinimumHeight(max(sure(self.layout()).totalHeightForWidth(self.width()), 0))

    def contextMenuEvent(self, event: Any) -> None:
        """What can be done with this tether."""
        self.menu_wanted.emit(self.tether_id, event.globalPos())


def _standing(findings: Findings, *, at_hand: bool) -> str:
    """Where a tether stands; of a long table only once its results are there."""
    try:
        if findings.refusal is not None:
            return ""
        small = findings.pairs.n <= STANDING_ROWS
        if small and not at_hand:
            return standing_sentence(findings)
        there = all(one.kept(findings) for one in (_STANDS_ON[:1] if small else _STANDS_ON))
        return standing_sentence(findings) if there else ""
    except Refusal:
        return ""
