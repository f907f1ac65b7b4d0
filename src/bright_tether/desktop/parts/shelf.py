"""The shelf: every tether with its stamp, the rows in play, and what tints the points."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import (
    QApplication,
    QComboBox,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from bright_tether.desktop.actions import Deed
from bright_tether.desktop.parts.menus import open_menu
from bright_tether.desktop.parts.renaming import AskName
from bright_tether.desktop.parts.tether_card import TetherCard
from bright_tether.desktop.parts.widgets import button, emptied, label, restyled
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.live.findings import Findings
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.study.memory import Memory
from bright_tether.study.names import tether_name
from bright_tether.study.study import Study
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.readings.rows import in_play, out_of_play
from bright_tether.words.slips import filter_sentence

#: Milliseconds without a change after which nothing else is to be done.
_IDLE = 100


class Swatch(QWidget):
    """The shape and hue of one group."""

    def __init__(self, place: int, tokens: Tokens) -> None:
        super().__init__()
        self.setFixedSize(14, 14)
        self._place, self._tokens = place, tokens

    def paintEvent(self, event: Any) -> None:
        """Paint the shape as the pictures do."""
        from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

        from bright_tether.theme.tokens import SHAPES

        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.translate(7, 7)
        painter.scale(10, 10)
        painter.setPen(QPen(Qt.PenStyle.NoPen))
        painter.setBrush(QColor(self._tokens.hues[self._place]))
        painter.drawPath(Symbols[SHAPES[self._place]])


class Shelf(QFrame):
    """Tethers above, rows in play and tint below."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("shelf")
        self.setFixedWidth(236)
        self._session, self._tokens = session, tokens
        self._cards: dict[str, TetherCard] = {}
        #: Whose cards these are: all that came of one study share its memory.
        self._of: Memory | None = None
        self._stood_on, self._followed = "", True
        #: What the choice of a tint shows.
        self._tinted: tuple[object, ...] | None = None
        #: Cards whose standing is worked out once nothing else is to be done.
        self._later: list[TetherCard] = []
        self._idle = QTimer(self)
        self._idle.setSingleShot(True)
        self._idle.timeout.connect(self._stand_one)
        top = QHBoxLayout()
        top.addWidget(label("Tethers", "section"))
        top.addStretch()
        top.addWidget(button("+ Tie", session.add_tether, name="Tie a new tether"))
        self._list = QVBoxLayout()
        self._list.setContentsMargins(0, 0, 0, 0)
        self._list.setSpacing(6)
        held = QWidget()
        held.setObjectName("shelfInner")
        box = QVBoxLayout(held)
        box.setContentsMargins(0, 0, 4, 0)
        box.addLayout(self._list)
        box.addStretch()
        self._scroll = scroll = QScrollArea()
        sure(scroll.verticalScrollBar()).actionTriggered.connect(
            lambda _: QTimer.singleShot(0, self._scrolled)
        )
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # its cards take the keyboard
        scroll.setWidgetResizable(True)
        scroll.setWidget(held)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._in_play = label(kind="strong", name="rows in play")
        self._out = label(kind="quiet", wrap=True, name="rows out of play")
        self._tint = QComboBox()
        self._tint.setAccessibleName("Tint by")
        self._tint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self._tint.activated.connect(self._choose_tint)
        self._legend = QGridLayout()
        self._legend.setHorizontalSpacing(6)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(14, 12, 4, 12)
        outer.addLayout(top)
        outer.addWidget(scroll, 1)
        head = QHBoxLayout()
        self.filter = button("Filter…", self.open_filter, "link", "Filter the rows")
        head.addWidget(label("Rows in play", "section"))
        head.addStretch()
        head.addWidget(self.filter)
        outer.addLayout(head)
        self._filter = label(kind="quiet", wrap=True, name="row filter")
        for widget in (self._in_play, self._out, self._filter, label("Tint by", "section")):
            outer.addWidget(widget)
        outer.addWidget(self._tint)
        outer.addLayout(self._legend)
        session.study_changed.connect(self._follow_study)
        session.findings_changed.connect(self.show_findings)
        self._follow_study()
        self.show_findings()

    def _follow_study(self) -> None:
        """Have a card for each tether at once, the one on the stage chosen; what it says comes with the findings."""
        study = self._session.study
        self._match_cards(study)
        for tether in study.tethers:
            card = self._cards[tether.id]
            card.call(tether_name(study, tether))
            restyled(card, "chosen", tether.id == self._session.tether_id)

    def show_findings(self) -> None:
        """Bring every card, the counts and the legend up to date."""
        study, session = self._session.study, self._session
        for tether in study.tethers:
            shown, card = tether.id == session.tether_id, self._cards[tether.id]
            rests_on = (tether, study.table(tether.table), study.rules)
            if shown:
                findings = session.findings
            elif card.stands_for(rests_on):
                card.call(tether_name(study, tether))
                continue  # nothing else that it shows has changed
            elif session.moving or study.table(tether.table).rows > IN_PLACE_ROWS:
                card.call(tether_name(study, tether))
                if not session.moving:  # too long to work out here, so it waits for the stage
                    card.wait(*rests_on)
                continue
            else:
                findings = Findings(study, tether)
            card.show_findings(findings, shown)
            if not session.moving:
                card.show_standing(at_hand=True)
            card.rests_on = None if shown else rests_on
            self._later = [*(one for one in self._later if one is not card), card]
        self._idle.start(_IDLE)
        self._show_rows(session.findings)
        self._show_tint(session.findings)
        self._followed = self._followed or self._stood_on != session.tether_id
        self._stood_on = session.tether_id
        QTimer.singleShot(0, self._bring_into_view)

    def _scrolled(self) -> None:
        """By hand: words that come leave what it chose, but keep the card of the stage whole where that is in view."""
        card = self._cards.get(self._session.tether_id)
        self._followed = card is not None and card.visibleRegion().boundingRect() == card.rect()

    def _bring_into_view(self) -> None:
        card, held = self._cards.get(self._session.tether_id), QApplication.focusWidget()
        by_key = held is not None and held is not card and sure(self._scroll.widget()).isAncestorOf(held)
        if card is not None and self._followed and not by_key:  # what the keyboard is on stays in view
            self._scroll.ensureWidgetVisible(card, 0, 0)

    def open_filter(self) -> None:
        """Build the row filter."""
        from bright_tether.desktop.parts.filters import FilterPanel

        FilterPanel(self._session, sure(self.window())).show_by(self.filter)

    def rename_tether(self) -> None:
        """Ask what the tether on the stage is to be called."""
        self._rename(self._session.tether_id)

    def _rename(self, tether_id: str) -> None:
        session, study = self._session, self._session.history.study

        def take(name: str) -> None:
            held = session.history.study
            session.do(changes.rename_tether(held, held.tether(tether_id), name))

        name = study.tether(tether_id).name or tether_name(study, study.tether(tether_id))
        gloss = "Left blank, it goes by the names of its columns again."
        AskName("Call this tether", name, take, self, gloss).show_by(self._cards[tether_id])

    def _open_menu(self, tether_id: str, spot: QPoint) -> None:
        session = self._session

        def drop() -> None:
            held = session.history.study
            session.do(changes.drop_tether(held, held.tether(tether_id)))

        several = lambda: len(session.study.tethers) > 1  # noqa: E731
        deeds = (
            Deed("Put it on the stage", "", lambda: session.show_tether(tether_id)),
            Deed("Call it something else…", "", lambda: self._rename(tether_id)),
            Deed("Let it go", "", drop, several),
        )
        open_menu("Tether menu", (deeds,), spot, self)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        for shown in self._cards.values():
            shown.stamp.restyle(tokens)
        self._show_tint(self._session.findings)

    def _stand_one(self) -> None:
        """Work out where one tether stands now that the hand rests, and come back for the next."""
        if self._later:
            self._later.pop(0).show_standing(at_hand=False)
            self._lay_out()
            self._bring_into_view()
        if self._later:
            self._idle.start(0)

    def _lay_out(self) -> None:
        """Move the cards apart at once; by itself the list would first show one over the next."""
        for card in self._cards.values():
            card.fit()
        held, room = sure(self._scroll.widget()), sure(self._scroll.viewport())
        box = sure(held.layout())
        box.invalidate()
        held.resize(held.width(), max(room.height(), box.totalHeightForWidth(held.width())))
        box.activate()

    def _match_cards(self, study: Study) -> None:
        wanted = [tether.id for tether in study.tethers]
        # a card of another study says nothing of this
        before = self._cards if self._of is study.memory else {}
        if list(before) == wanted:
            return
        self._of = study.memory
        while self._list.count():
            self._list.takeAt(0)
        self._cards, old = {}, self._cards
        for tether_id in wanted:
            self._cards[tether_id] = before.get(tether_id) or self._new_card(tether_id)
            self._list.addWidget(self._cards[tether_id])
        for card in old.values():
            if self._cards.get(card.tether_id) is not card:
                card.hide()
                card.deleteLater()
        self._later = [card for card in self._later if self._cards.get(card.tether_id) is card]

    def _new_card(self, tether_id: str) -> TetherCard:
        card = TetherCard(tether_id, self._tokens)
        card.wanted.connect(self._session.show_tether)
        card.menu_wanted.connect(self._open_menu)
        return card

    def _show_rows(self, findings: Findings) -> None:
        conditions = findings.tether.conditions
        self._filter.setVisible(bool(conditions))
        self._filter.setText(filter_sentence(conditions, findings.table))
        if findings.cloud is None:
            self._in_play.setText(d.count(findings.table.rows, "row"))
            shown = findings.tied and findings.x_column.numeric and findings.y_column.numeric
            why = (
                "too large or too small to be shown"
                if shown
                else "none in play until two number columns are tied"
            )
            self._out.setText(why)
            return
        self._in_play.setText(in_play(findings.counted))
        self._out.setText("\n".join(out_of_play(findings)))

    def _show_tint(self, findings: Findings) -> None:
        points = findings.cloud
        groups = () if points is None else tuple(zip(points.groups, points.counts(), strict=True))
        offered = tuple((one.short, one.id) for one in findings.table.columns if one.kind == "category")
        if (offered, findings.tether.tint, groups, self._tokens) == self._tinted:
            return
        self._tinted = offered, findings.tether.tint, groups, self._tokens
        self._tint.clear()
        self._tint.addItem("nothing", None)
        for name, column_id in offered:
            self._tint.addItem(name, column_id)
        self._tint.setCurrentIndex(max(self._tint.findData(findings.tether.tint), 0))
        emptied(self._legend)
        for place, (name, number) in enumerate(groups):
            self._legend.addWidget(Swatch(place, self._tokens), place, 0)
            self._legend.addWidget(label(f"{name} {d.grouped(number)}"), place, 1)
        self._legend.setColumnStretch(1, 1)

    def _choose_tint(self) -> None:
        session, column = self._session, self._tint.currentData()
        if column is None or session.table.has(column):  # else it went since the list was filled
            session.do(changes.tint_by(session.history.study, session.tether, column))
