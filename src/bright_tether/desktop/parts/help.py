"""Help where it is needed: the guide at the step in hand, and the terms on the screen."""

from __future__ import annotations

import re
from collections.abc import Callable
from importlib.resources import files

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QHeaderView, QLabel, QTextBrowser, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.steps.catalogue import STEPS, step_of
from bright_tether.words.reading import Working
from bright_tether.words.terms import Term, terms_in


def terms_on(window: QWidget) -> tuple[Term, ...]:
    """The terms that can be read in a window now."""
    labels = [piece.text() for piece in window.findChildren(QLabel) if piece.isVisible()]
    texts = labels + [piece.text() for piece in window.findChildren(QAbstractButton) if piece.isVisible()]
    for head in window.findChildren(QHeaderView):
        model = head.model()
        if head.isVisible() and model is not None and head.orientation() == Qt.Orientation.Horizontal:
            texts += [str(model.headerData(at, head.orientation()) or "") for at in range(head.count())]
    return terms_in(texts)


def guide_section(step_id: str) -> str:
    """The guide's words on a step, as Markdown without pictures."""
    text = files("bright_tether.guide").joinpath("guide.md").read_text(encoding="utf-8")
    title = step_of(step_id).title
    found = re.search(rf"^## \d {re.escape(title)}\n(.*?)(?=^## |\Z)", text, re.MULTILINE | re.DOTALL)
    words = re.sub(r"!\[[^\]]*\]\([^)]*\)\n*", "", found.group(1) if found else "")
    return re.sub(r"\[([^\]]*)\]\([^)]*\)", r"*\1*", words)


class Help(Popup):
    """The guide at a step, and the terms on the screen with their workings."""

    def __init__(
        self,
        session: Session,
        parent: QWidget,
        workings: tuple[Working, ...],
        open_working: Callable[[], object],
    ) -> None:
        super().__init__("Help", parent, 520)
        self._at = [one.id for one in STEPS].index(session.step)
        self._terms, self._workings, self._open_working = terms_on(parent), workings, open_working
        self._title = label(kind="heading", name="guide title")
        self.page = QTextBrowser()
        self.page.setAccessibleName("Guide")
        self.page.setOpenLinks(False)
        self.page.anchorClicked.connect(self._follow)
        self.page.setMinimumHeight(430)
        row = QHBoxLayout()
        row.addWidget(button("◂ The step before", lambda: self._turn(-1), "small"))
        row.addWidget(button("The step after ▸", lambda: self._turn(1), "small"))
        row.addStretch()
        row.addWidget(label("Esc closes", "quiet"))
        for piece in (self._title, self.page):
            self.box.addWidget(piece)
        self.box.addLayout(row)
        self.setFocusProxy(self.page)
        self._show(with_terms=True)

    def _turn(self, by: int) -> None:
        self._at = (self._at + by) % len(STEPS)
        self._show(with_terms=False)

    def _show(self, *, with_terms: bool) -> None:
        step = STEPS[self._at]
        self._title.setText(f"{self._at + 1} {step.title}")
        words = guide_section(step.id)
        if with_terms and self._terms:
            words += "\n\n### Terms on the screen\n"
            for term in self._terms:
                shown = any(_speaks_of(one, term) for one in self._workings)
                words += f"\n- **{term.name}**: {term.sentence}" + (
                    " [Its working](working:)" if shown else ""
                )
        self.page.setMarkdown(words)

    def _follow(self, _: object) -> None:
        self.close()
        self._open_working()


def _speaks_of(working: Working, term: Term) -> bool:
    return term in terms_in([working.title, *(step.what for step in working.steps)])
