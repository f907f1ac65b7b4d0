"""What the stage of every step has: its place in the catalogue, its view, its reading."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar

from PyQt6.QtWidgets import QButtonGroup, QLayout, QStackedWidget, QVBoxLayout, QWidget

from bright_tether.desktop.parts.flow import Flow, choice_of
from bright_tether.desktop.parts.one_line import ViewChooser
from bright_tether.desktop.parts.widgets import card
from bright_tether.desktop.session import Needs, Session
from bright_tether.live.findings import Findings, Need
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import step_of
from bright_tether.steps.step import Step, always
from bright_tether.theme.tokens import Tokens
from bright_tether.words.reading import Reading, Working


class Stage(QWidget):
    """One step on the stage. extra : a widget of its own below the reading. wide : without a reading beside it."""

    step_id: ClassVar[str]
    wide: ClassVar[bool] = False
    extra: Any = None
    picture: Any

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self._session = session

    @property
    def step(self) -> Step:
        """What the catalogue says of it."""
        return step_of(self.step_id)

    @property
    def view(self) -> str:
        """The id of the view on show."""
        return self.step.views[0].id

    @property
    def findings(self) -> Findings:
        """What is known of the tether on the stage."""
        return self._session.findings

    def run_so_far(self) -> Any:
        """What the view's long run gave so far; None before it, and where it has none."""
        return None

    def reading(self) -> Reading:
        """What this view says."""
        return self.step.reading(self.findings, self.view, self.run_so_far())

    @property
    def workings(self) -> Callable[[], tuple[Working, ...]] | None:
        """What stands behind the figures, made when it is opened."""
        workings = self.step.workings
        return None if workings is None else lambda: workings(self.findings, self.view)

    def needs(self) -> Needs:
        """What has to be there before the stage is brought up to date, and then before its words are."""
        return self.drawn_needs(), self.step.said_needs

    def drawn_needs(self) -> tuple[Need, ...]:
        """What its picture rests on."""
        return self.step.drawn_needs(self.view)

    def show_findings(self) -> None:
        """Bring the stage up to date: its pictures, and what belongs to them."""
        raise NotImplementedError

    def show_words(self) -> None:
        """Bring up to date what is read on the stage: at a pace that can be read while the hand moves."""

    def show_mark(self) -> None:
        """Ring the marked rows."""

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        raise NotImplementedError

    def made(self, *names: str) -> list[Any]:
        """Of the parts that are made when they are first asked for: those that are there."""
        return [self.__dict__[name] for name in names if name in self.__dict__]

    def lay_out(self, *parts: QWidget | QLayout, tall: QWidget) -> None:
        """One card with these parts below each other. tall : the one that takes the room."""
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 10, 10)
        for part in parts:
            if isinstance(part, QWidget):
                box.addWidget(part, 1 if part is tall else 0)
            else:
                box.addLayout(part)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))


class StageOfViews(Stage):
    """A step with several views, one page each, of which one is on show."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.pages, self._choosers = QStackedWidget(), QButtonGroup(self)
        self._makers: list[Callable[[], QWidget] | None] = []
        ids = {view.title: view.id for view in self.step.views}
        #: The same choice where it folds into a list, None where it does not.
        self.chooser: ViewChooser | None = None
        self.choice: Flow = choice_of(tuple(ids), self._choosers, lambda title: self.show_view(ids[title]))
        session.findings_changed.connect(self._offer)
        self._offer()

    def fill(self, *makers: Callable[[], QWidget]) -> None:
        """A page a view, each made when it is first shown."""
        self._makers = list(makers)
        for _ in makers:
            self.pages.addWidget(QWidget())
        self._make(0)
        self.pages.setCurrentIndex(0)

    def _offer(self) -> None:
        """Offer the views there are for the table; one that is there no longer gives way to the first."""
        views, findings = self.step.views, self._session.findings
        for at, view in enumerate(views):
            if view.offered is not always:
                sure(self._choosers.button(at)).setVisible(view.offered(findings))
        if not self.step.view(self.view).offered(findings):
            self.show_view(views[0].id)

    def _make(self, at: int) -> None:
        make = self._makers[at] if at < len(self._makers) else None
        if make is not None:
            self._makers[at] = None
            empty = sure(self.pages.widget(at))
            self.pages.removeWidget(empty)
            empty.deleteLater()
            self.pages.insertWidget(at, make())

    def folding(self) -> ViewChooser:
        """The choice of a view as buttons that fold into a list."""
        titles = {view.id: view.title for view in self.step.views}
        self.chooser = ViewChooser("View", titles, self.choice, self.show_view)
        return self.chooser

    @property
    def view(self) -> str:
        """The id of the view on show."""
        return self.step.views[self._choosers.checkedId()].id

    def show_view(self, view_id: str) -> None:
        """Show one of the views."""
        at = [view.id for view in self.step.views].index(view_id)
        sure(self._choosers.button(at)).setChecked(True)
        if self.chooser is not None:
            self.chooser.show_view(view_id)
        self._make(at)
        self.pages.setCurrentIndex(at)
        self._session.ask()
