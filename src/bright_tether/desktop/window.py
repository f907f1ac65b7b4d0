"""The window: head, shelf, stage, reading, drawer."""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from pathlib import Path
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import QEvent, Qt, QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import (
    QAbstractSpinBox,
    QApplication,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from bright_tether.core.results import OutOfRange
from bright_tether.desktop.actions import Actions
from bright_tether.desktop.background import Work
from bright_tether.desktop.collecting import Collector
from bright_tether.desktop.document import Document
from bright_tether.desktop.layout import remember_layout
from bright_tether.desktop.opening import Opening
from bright_tether.desktop.parts.drawer import Drawer
from bright_tether.desktop.parts.head import Head
from bright_tether.desktop.parts.hints import answered
from bright_tether.desktop.parts.notice import Notice
from bright_tether.desktop.parts.pinning import pin_part, pinnable
from bright_tether.desktop.parts.reading_panel import ReadingPanel
from bright_tether.desktop.parts.shelf import Shelf
from bright_tether.desktop.parts.tour import Tour
from bright_tether.desktop.session import Needs, Session
from bright_tether.desktop.sources import Sources
from bright_tether.desktop.steps.stage import Stage
from bright_tether.desktop.theming import Theme
from bright_tether.live.findings import Findings
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.small import SmallPlot
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.study.journal import throw_away
from bright_tether.study.pins import Part
from bright_tether.theme.tokens import Tokens
from bright_tether.words.document import refused_deed, saved_words
from bright_tether.words.reading import Reading
from bright_tether.words.readings.refused import beyond

#: Windows less wide than this have a narrow shelf and a narrow reading, in pixels.
NARROW = 1160
#: Stands in the reading until what a step shows of a long table is worked out.
WORKING = Reading(headline="Working it out…")


def _stage(name: str) -> Callable[[Session, Tokens, QFont], Stage]:
    """A step's stage; what is not on the stage at start is not even imported then."""
    module = import_module(f"bright_tether.desktop.steps.{name.replace('-', '_')}")
    kind: Callable[[Session, Tokens, QFont], Stage] = getattr(
        module, f"{''.join(map(str.capitalize, name.split('-')))}Step"
    )
    return kind


#: Milliseconds between two readings while the hand moves.
_WORDS = 60
#: Milliseconds for which words may still be those of the picture before.
_LATE = 800


class Window(QWidget):
    """One study in one window."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("window")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAcceptDrops(True)
        self.session, self._theme = session, theme
        self._collector = Collector(self)
        self.document = Document(session)
        self._leaving = False
        #: While the hand moves the picture follows it at once, the words at a pace that can be read.
        self._words = QTimer(self)
        self._words.setSingleShot(True)
        self._words.timeout.connect(lambda: self._show(words=True))
        #: What was drawn last before its words were there; words that do not come with their picture are taken away.
        self._drawn: Findings | None = None
        self._late = QTimer(self)
        self._late.setSingleShot(True)
        self._late.timeout.connect(lambda: self.panel.show_reading(WORKING, None))
        tokens = theme.tokens
        self.head, self.shelf = Head(session, tokens), Shelf(session, tokens)
        self.panel, self.drawer, self.notice = ReadingPanel(tokens), Drawer(session, tokens), Notice()
        self.tour = Tour(session)
        self.steps: dict[str, Stage] = {}
        self.stage = QStackedWidget()
        self.opening = Opening(session, self.document, self.stage, theme)
        self.sources = Sources(session)
        self._lay_out()
        self.actions_list = Actions(self, lambda words: session.notice(refused_deed(words)))
        self.document.state_changed.connect(self._show_saved)
        self.document.opened.connect(self.sources.look)
        session.study_changed.connect(self._name_window)
        self.head.name.clicked.connect(lambda: self.open_sheet())
        session.findings_changed.connect(self.show_findings)
        session.picture_ready.connect(self.draw_findings)
        session.mark_changed.connect(self.show_mark)
        session.step_changed.connect(self.show_step)
        session.needs = self._needs
        session.noticed.connect(self.notice.say)
        session.told.connect(self.notice.tell)
        session.asked.connect(self.notice.say)
        session.settling.connect(self.settle)
        self.panel.mark_wanted.connect(session.mark_rows)
        self.panel.pin_wanted.connect(self.pin)
        theme.changed.connect(self.restyle)
        self.resize(1280, 800)
        self.setMinimumSize(1000, 640)
        self.show_step(session.step)
        if session.table.rows:
            self.head.path.take_keys(session.step)
        self._name_window()

    def stage_of(self, name: str) -> Any:
        """The same, for what only that step has."""
        return self.step(name)

    def step(self, name: str) -> Stage:
        """The stage of a step, built when it is first walked to."""
        if name not in self.steps:
            stage: Stage = _stage(name)(self.session, self._theme.tokens, self._theme.font)
            self.steps[name] = stage
            self.stage.addWidget(stage)
        return self.steps[name]

    def show_findings(self) -> None:
        """Bring the step on the stage, and its reading, up to date."""
        if not self.session.moving:
            self._words.stop()
            self._show(words=True)
            return
        self._show(words=False)
        if not self._words.isActive():
            self._words.start(_WORDS)

    def draw_findings(self) -> None:
        """Draw what is there already of a long table; what is said of it follows, and stands in for what was said."""
        stage, findings = self.step(self.session.step), self.session.findings
        if not stage.step.view(stage.view).offered(findings):
            return
        try:
            stage.show_findings()
        except OutOfRange:
            return  # said where the words come
        self._drawn = findings
        if not self.session.moving:
            self._late.start(_LATE)

    def _show(self, *, words: bool) -> None:
        self._late.stop()
        drawn, self._drawn = self._drawn is self.session.findings, None
        try:
            if not drawn and not (words and self.session.moving):
                self.step(self.session.step).show_findings()
            if words:
                self._show_words()
            if not self.session.in_place:
                self._let_go()
        except OutOfRange:  # a value that this step alone needs lies beyond float64
            self.panel.show_reading(beyond(self.session.findings), None)

    def _let_go(self) -> None:
        """Hold nothing of long results that are no more: what is out of sight is drawn anew when it is walked to."""
        for picture in self.stage.findChildren(ScatterPicture):
            if picture.has_tether and picture.findings is not self.session.findings:
                picture.let_go()
        for small in self.stage.findChildren(SmallPlot):
            if not small.isVisible():
                small.draw(None)

    def _show_words(self) -> None:
        """What the stage and the panel beside it say."""
        step = self.step(self.session.step)
        step.show_words()
        self.panel.setHidden(step.wide)
        if step.wide:
            return
        refused = self.session.findings.refusal is not None
        self.panel.show_reading(step.reading(), None if refused else step.workings)
        self.panel.offer_pins(pinnable(self.session))
        self.panel.show_extra(step.extra)

    def pin(self, part: Part) -> None:
        """Keep a part of the step on the stage, in the view that it shows, for the write-up."""
        pin_part(self.session, self.step(self.session.step).view, part)

    def show_mark(self) -> None:
        """Ring the marked rows on the stage; in Gather the strip for them comes up."""
        self._show_drawer()
        self.step(self.session.step).show_mark()

    def show_step(self, step: str) -> None:
        """Put a step on the stage."""
        self.stage.setCurrentWidget(self.step(step))
        self._show_drawer()
        if not self.session.in_place:
            self.panel.show_reading(WORKING, None)
            self.panel.show_extra(None)  # of the step before
            self.panel.offer_pins(frozenset())
        self.session.ask()

    def _needs(self) -> Needs:
        """What the stage now shows, and says."""
        return self.step(self.session.step).needs()

    def _show_drawer(self) -> None:
        """Rows below the stage: in Gather only when some are marked, in Write-up never."""
        step = self.session.step
        self.drawer.setVisible(step != "write-up" and (step != "gather" or bool(self.session.mark)))

    def offer_unfinished(self) -> None:
        """Offer work that was never saved."""
        found = self.document.unfinished()
        if found:
            folder, sentence = found[0]
            deeds: dict[str, Callable[[], object]] = {
                "Take it up again": lambda: self.document.take_up(folder),
                "Throw it away": lambda: throw_away(folder),
            }
            self.notice.say(sentence, deeds)

    def rename_study(self) -> None:
        """Type another title in the head."""
        field = QLineEdit(self.session.study.title, self.head)
        field.setAccessibleName("Study title")
        field.setGeometry(54, 20, 220, 34)
        field.selectAll()
        field.show()
        field.setFocus()

        def take() -> None:
            field.blockSignals(True)
            self.session.do(changes.rename_study(self.session.history.study, field.text()))
            field.deleteLater()

        field.editingFinished.connect(take)

    def open_sheet(self) -> None:
        """Open what can be done with the study as a whole."""
        from bright_tether.desktop.parts.study_sheet import StudySheet

        StudySheet(self.session, self.actions_list, self).show_by(self.head.name)

    def open_help(self) -> None:
        """Open the guide at the step on the stage, with the terms that can be read there."""
        from bright_tether.desktop.parts.help import Help

        stage = self.step(self.session.step)
        there = stage.workings is not None and self.session.findings.refusal is None and self.session.in_place
        workings = stage.workings() if there and stage.workings is not None else ()
        Help(self.session, self, workings, self.panel.open_working).show_by(self.head.path)

    def event(self, event: QEvent | None) -> bool:
        """Say what a term means where the pointer rests on it; coming back, look at the files that were read."""
        if event is not None and event.type() == QEvent.Type.WindowActivate:
            self.sources.look()
        return answered(self, event) or super().event(event)

    def find_action(self) -> None:
        """Open the list of everything that can be done."""
        from bright_tether.desktop.parts.finder import Finder

        self.finder = Finder(self.actions_list, self)
        self.finder.show()
        self.finder.field.setFocus()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        parts: tuple[Any, ...] = (self.head, self.shelf, self.panel, self.drawer, *self.steps.values())
        for part in parts:
            part.restyle(tokens)
        self.opening.restyle(tokens)

    def dragEnterEvent(self, event: Any) -> None:
        """Files may be dropped."""
        if sure(event.mimeData()).hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: Any) -> None:
        """Open what was dropped."""
        self.opening.open_paths([Path(url.toLocalFile()) for url in sure(event.mimeData()).urls()])
        event.acceptProposedAction()

    def closeEvent(self, event: Any) -> None:
        """Leave no thread behind; what is not saved stays in its journal, and else the window asks first."""
        self.session.settle()
        self.session.turns.finish()
        if not self._leaving and self.document.put_at_risk():
            event.ignore()
            self.notice.say(
                "The unsaved work cannot be written down, so closing would lose it: save it first.",
                {"Close all the same": self._close_anyway},
            )
            return
        for panel in self.findChildren(QWidget):
            if panel.isWindow():
                panel.close()
        remember_layout(self)
        self.session.files.close()  # what is still read or changed comes in while there is a document to take it
        self.session.turns.close()
        for work in self.findChildren(Work):
            work.close()
        self.document.close()
        self.session.close()
        self._collector.close()
        super().closeEvent(event)

    def settle(self) -> None:
        """Put what is being typed into the study: leaving a field is what takes it there."""
        typed = QApplication.focusWidget()
        if isinstance(typed, QLineEdit | QPlainTextEdit | QAbstractSpinBox) and self.isAncestorOf(typed):
            typed.clearFocus()
            if not sip.isdeleted(typed) and typed.isVisible():
                typed.setFocus()

    def _close_anyway(self) -> None:
        self._leaving = True
        self.close()

    def resizeEvent(self, event: Any) -> None:
        """In a narrow window the stage keeps its room, and what stands beside it takes less."""
        super().resizeEvent(event)
        narrow = self.width() < NARROW
        self.shelf.setFixedWidth(204 if narrow else 236)
        self.panel.setFixedWidth(328 if narrow else 344)

    def _show_saved(self) -> None:
        self.head.saved = saved_words(self.document.state, self.document.unsaved)
        self.head.show_study()
        self._name_window()

    def _name_window(self) -> None:
        """The study's name, with the platform's mark for unsaved work."""
        self.setWindowTitle(f"{self.session.study.title}[*] – Bright Tether")
        self.setWindowModified(self.document.unsaved)

    def _lay_out(self) -> None:
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 12, 0, 12)
        middle.addWidget(self.notice)
        middle.addWidget(self.stage, 1)
        middle.addWidget(self.tour)
        right = QVBoxLayout()
        right.setContentsMargins(0, 12, 14, 12)
        right.addWidget(self.panel)
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(12)
        body.addWidget(self.shelf)
        body.addLayout(middle, 1)
        body.addLayout(right)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self.head)
        box.addLayout(body, 1)
        box.addWidget(self.drawer)
