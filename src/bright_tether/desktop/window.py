"""The window: head, shelf, stage, reading, drawer."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from bright_tether.desktop.actions import Actions
from bright_tether.desktop.parts.drawer import Drawer
from bright_tether.desktop.parts.finder import Finder
from bright_tether.desktop.parts.head import Head
from bright_tether.desktop.parts.notice import Notice
from bright_tether.desktop.parts.reading import ReadingPanel
from bright_tether.desktop.parts.shelf import Shelf
from bright_tether.desktop.session import STEPS, Session
from bright_tether.desktop.steps.gather import GatherStep
from bright_tether.desktop.steps.line import LineStep
from bright_tether.desktop.theme import Theme
from bright_tether.look.tokens import Tokens
from bright_tether.study import changes

_STAGES = {"Gather": GatherStep, "Line": LineStep}


class Window(QWidget):
    """One study in one window."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self.setObjectName("window")
        self.setWindowTitle("Bright Tether")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setAcceptDrops(True)
        self.session, self._theme = session, theme
        tokens = theme.tokens
        self.head, self.shelf = Head(session, tokens), Shelf(session, tokens)
        self.panel, self.drawer, self.notice = ReadingPanel(tokens), Drawer(session, tokens), Notice()
        self.steps: dict[str, GatherStep | LineStep] = {}
        self.stage = QStackedWidget()
        self._lay_out()
        self.actions_list = Actions(self)
        self._add_actions()
        session.findings_changed.connect(self.show_findings)
        session.mark_changed.connect(self.show_mark)
        session.step_changed.connect(self.show_step)
        session.noticed.connect(self.notice.say)
        theme.changed.connect(self.restyle)
        self.resize(1280, 800)
        self.setMinimumSize(1000, 640)
        self.show_step(session.step)

    def step(self, name: str) -> GatherStep | LineStep:
        """The stage of a step, built when it is first walked to."""
        if name not in self.steps:
            made = _STAGES[name](self.session, self._theme.tokens, self._theme.font)
            self.steps[name] = made
            self.stage.addWidget(made)
        return self.steps[name]

    def show_findings(self) -> None:
        """Bring the step on the stage, and its reading, up to date."""
        step = self.step(self.session.step)
        step.show_findings()
        refused = self.session.findings.refusal is not None
        self.panel.show_reading(step.reading(), None if refused else step.workings)

    def show_mark(self) -> None:
        """Ring the marked rows on the stage; in Gather the strip for them comes up."""
        self.drawer.setVisible(self.session.step != "Gather" or bool(self.session.mark))
        self.step(self.session.step).show_mark()

    def show_step(self, step: str) -> None:
        """Put a step on the stage."""
        self.stage.setCurrentWidget(self.step(step))
        self.drawer.setVisible(step != "Gather" or bool(self.session.mark))
        self.show_findings()

    def open_by_dialog(self) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(
            self, "Open measurements", "", "Separated text (*.csv *.tsv *.txt *.tab);;All files (*)"
        )
        if name:
            self.session.open_file(Path(name))

    def find_action(self) -> None:
        """Open the list of everything that can be done."""
        self.finder = Finder(self.actions_list, self)
        self.finder.show()
        self.finder.field.setFocus()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for part in (self.head, self.shelf, self.panel, self.drawer, *self.steps.values()):
            part.restyle(tokens)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Files may be dropped."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Open what was dropped."""
        for url in event.mimeData().urls():
            self.session.open_file(Path(url.toLocalFile()))
        event.acceptProposedAction()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Leave no thread behind."""
        self.session.close()
        super().closeEvent(event)

    def _lay_out(self) -> None:
        middle = QVBoxLayout()
        middle.setContentsMargins(0, 12, 0, 12)
        middle.addWidget(self.notice)
        middle.addWidget(self.stage, 1)
        right = QVBoxLayout()
        right.setContentsMargins(0, 12, 14, 12)
        right.addWidget(self.panel)
        body = QHBoxLayout()
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(12)
        body.addWidget(self.shelf)
        body.addLayout(middle, 1)
        body.addLayout(right)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.head)
        column.addLayout(body, 1)
        column.addWidget(self.drawer)

    def _add_actions(self) -> None:
        session, add = self.session, self.actions_list.add

        def at_hand() -> bool:
            return session.step == "Gather" and bool(self.step("Gather").grid.column_at_hand())

        def on_line() -> bool:
            return session.step == "Line"

        add("Open measurements…", "Ctrl+O", self.open_by_dialog)
        add("Undo the last change", "Ctrl+Z", session.undo, lambda: bool(session.history.done))
        add("Redo the change taken back", "Ctrl+Shift+Z", session.redo, lambda: bool(session.history.undone))
        for place, step in enumerate(STEPS):
            add(f"Go to the step {step}", f"Alt+{place + 1}", lambda s=step: session.show_step(s))
        add("Swap x and y", "Alt+S", self._swap)
        for axis in ("x", "y"):
            words, keys = f"Tie the column at the cursor as {axis}", f"Alt+{axis.upper()}"
            add(words, keys, lambda a=axis: self.step("Gather").tie_at_hand(a), at_hand)
        add("Tie a new tether on this table", "Ctrl+T", session.add_tether)
        add("Let this tether go", "", self._drop_tether, lambda: len(session.study.tethers) > 1)
        add("Set the marked rows aside…", "Ctrl+D", self._ask_aside, lambda: bool(session.mark))
        add("Bring the marked rows back", "Ctrl+Shift+D", self.drawer.bring_back, lambda: bool(session.mark))
        add(
            "Clear the mark",
            "Ctrl+Shift+A",
            lambda: session.mark_rows(frozenset()),
            lambda: bool(session.mark),
        )
        add("Mark every row", "", lambda: session.mark_rows(frozenset(session.table.row_ids.tolist())))
        add("Show or hide the rows", "Ctrl+R", self.drawer.toggle, lambda: session.step != "Gather")
        add("Move points by dragging", "Ctrl+M", lambda: self.step("Line").move_points.toggle(), on_line)
        add("Copy the equation", "Ctrl+E", lambda: self.step("Line").copy_equation(), on_line)
        add("Show or hide the working", "Ctrl+W", self.panel.toggle_working, on_line)
        add("Show everything in the picture", "Ctrl+0", lambda: self.step(session.step).picture.home())
        add("Change the ground rules", "Ctrl+G", self.head.rules.open)
        add("Find an action", "Ctrl+K", self.find_action)

    def _swap(self) -> None:
        self.session.do(changes.swap_axes(self.session.history.study, self.session.tether))

    def _ask_aside(self) -> None:
        self.drawer.show()
        self.drawer.ask_reason()

    def _drop_tether(self) -> None:
        session = self.session
        session.do(changes.drop_tether(session.history.study, session.tether))
