"""The step Write-up: the pins, and the page as it will be exported."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime
from pathlib import Path
from typing import Any

from PyQt6 import sip
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QCheckBox, QFileDialog, QHBoxLayout, QTextBrowser, QVBoxLayout

from bright_tether.account.composing import entry_of, page_of
from bright_tether.account.export import KINDS, UnknownKind, export
from bright_tether.account.freezing import frozen_of
from bright_tether.account.handing_over import hand_over
from bright_tether.account.html import html_body
from bright_tether.account.page import Page
from bright_tether.account.pieces import AllFindings
from bright_tether.account.press import NoPress
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.pins import Pins
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.desktop.steps.stage import Stage
from bright_tether.live.findings import Findings
from bright_tether.pictures.fonts import shipped_font
from bright_tether.pictures.page import page_document, paint_ahead
from bright_tether.pictures.press import QtPress
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import step_of
from bright_tether.study.pin_changes import choose_style, freeze
from bright_tether.study.pins import Drawing
from bright_tether.study.study import Study
from bright_tether.tables.writing import printable
from bright_tether.theme.tokens import LIGHT, Tokens
from bright_tether.words.causes import said_of
from bright_tether.words.handing_over import left_behind

_STYLES = {"plain": "plain", "compact": "compact"}
#: Milliseconds that the page waits for the hand to rest.
_REST = 120
_MARGIN = 18


#: The page is set when every picture is there, or so many new ones are.
_PICTURES = 3


class _Prepares(NoPress):
    """Draws nothing, but has all worked out that a picture will need."""

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """Nothing yet."""
        findings.prepare(step_of(step).all_needs(view))
        return None


class _Patient:
    """Draws one new picture at a time, so that typing stays free; asks to be called again."""

    def __init__(self, press: QtPress) -> None:
        self._press = press
        self.drawn = 0
        self.more = False

    def draw(self, findings: Findings, step: str, view: str) -> Drawing | None:
        """A picture that is there already, or the one that this turn is for."""
        if self._press.has(findings, step, view):
            return self._press.draw(findings, step, view)
        if self.drawn:
            self.more = True
            return None
        self.drawn += 1
        return self._press.draw(findings, step, view)

    def pixels(self, drawing: Drawing) -> bytes:
        """As the press does."""
        return self._press.pixels(drawing)


class WriteUpStep(Stage):
    """Pins on the left, the page on the right; every change of the study shows at once."""

    step_id = "write-up"
    wide = True

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.press = QtPress(shipped_font())
        self.pins = Pins(session)
        self.pins.freeze_wanted.connect(self.freeze)
        self.page = QTextBrowser()
        self.page.setAccessibleName("The page")
        self.page.setOpenLinks(False)
        self.page.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.page.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOn)
        self.page.setObjectName("page")
        self.page.setStyleSheet(f"background: {LIGHT.card}; color: {LIGHT.ink};")  # paper in every theme
        self.style_of = choice("Style of the page", _STYLES, self._choose_style)
        self.evidence = QCheckBox("with evidence")
        self.evidence.setAccessibleName("With evidence")
        self.evidence.setToolTip(
            "Also a folder with pairs, tables, results, pictures and a script that checks them."
        )
        self.said = label("", "quiet", wrap=False, name="page note")
        head = Flow(
            label("The page", "heading"), self.style_of,
            button("Write it to a file…", self.write, "main", "Write the account to a file"), self.evidence,
            button("Hand it over…", self.hand_over, "small", "Hand over study, data, account and evidence"),
            button("Preview…", self.preview, "small", "Preview the print"),
            button("Print…", self.print, "small", "Print the account"), self.said,
        )  # fmt: skip
        right = QVBoxLayout()
        right.addLayout(head)
        right.addWidget(self.page, 1)
        row = QHBoxLayout()
        row.setContentsMargins(14, 10, 10, 10)
        row.setSpacing(12)
        row.addWidget(self.pins)
        row.addLayout(right, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 14, 0)
        outer.addWidget(card(row))
        #: Whether the account is being written to a file.
        self.writing = False
        #: The study of which all that its page says is worked out.
        self._worked_out: Study | None = None
        #: New pictures drawn since the page was set.
        self._held_back = 0
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.set_page)
        session.study_changed.connect(self._study_changed)

    def show_findings(self) -> None:
        """Bring pins and page up to date, the page when the hand rests."""
        self.pins.refresh()
        self.style_of.setCurrentIndex(self.style_of.findData(self._session.study.style))
        self._later.start(_REST)

    def show_mark(self) -> None:
        """The page has no marks."""

    def restyle(self, tokens: Tokens) -> None:
        """The page stays paper."""

    def set_page(self) -> None:
        """Set the page anew; pictures come one by one, and what rests on long tables off the interface thread first."""
        session, study = self._session, self._session.study
        if self._worked_out is not study and any(table.rows > IN_PLACE_ROWS for table in study.tables):
            self.said.setText("working it out…")

            def take(_: object) -> None:
                self._worked_out = study
                self._later.start(1)

            session.off(lambda: page_of(study, _Prepares(), today=date.today()), take)
            return
        patient = _Patient(self.press)
        page = page_of(session.study, patient, today=date.today())
        self.pins.name_pieces(page.called)
        if patient.drawn and self._held_back < _PICTURES:  # drawing and laying out are a turn each
            self._held_back += 1
            self.said.setText("drawing…")
            self._later.start(1)
            return
        width = max(sure(self.page.viewport()).width() - 2 * _MARGIN - 2, 280)
        if paint_ahead(page.drawings, width=width, style=page.style):  # painting one is a turn, too
            self._later.start(1)
            return
        self._held_back = 0
        document = page_document(html_body(page, session.study), page.drawings, width=width, style=page.style,
                                 tokens=LIGHT, on_screen=True, parent=self.page)  # fmt: skip
        document.setDocumentMargin(_MARGIN)
        bar = sure(self.page.verticalScrollBar())
        where = bar.value()
        self.page.setDocument(document)
        bar.setValue(where)
        live = sum(pin.frozen is None for pin in session.study.pins)
        frozen = len(session.study.pins) - live
        words = (
            f"{live} live, {frozen} frozen" if session.study.pins else "nothing pinned yet: this is proposed"
        )
        self.said.setText("drawing…" if patient.more else words)
        if patient.more:
            self._later.start(1)

    def freeze(self, pin_id: str) -> None:
        """Keep what a pin shows now."""
        study = self._session.history.study
        pin = next(one for one in study.pins if one.id == pin_id)
        entry = entry_of(pin, AllFindings(study, self._session.through), self.press)
        when = datetime.now().isoformat("T", "minutes")
        self._session.do(freeze(study, pin, frozen_of(entry.blocks, when)))

    def write(self) -> None:
        """Ask for the file, then write it."""
        kinds = (
            "HTML (*.html);;PDF (*.pdf);;Office Open XML (*.docx);;OpenDocument text (*.odt);;Markdown (*.md)"
        )
        start = f"{self._file_name()}.html"
        name, kind = QFileDialog.getSaveFileName(self, "Write the account", start, kinds)
        if name:
            path = Path(name)
            if path.suffix.lower() not in KINDS:
                path = path.with_name(path.name + kind[kind.index("*") + 1 : -1])
            self.write_to(path)

    def hand_over(self) -> None:
        """Ask for a place, then put everything there."""
        kinds = "One file (*.zip)"
        start = f"{self._file_name()}.zip"
        name, _ = QFileDialog.getSaveFileName(self, "Hand everything over", start, kinds)
        if name:
            path = Path(name)
            self.hand_over_to(path if path.suffix.lower() == ".zip" else path.with_name(f"{path.name}.zip"))

    def hand_over_to(self, path: Path) -> None:
        """Study, data, account, tables, pictures and script to one place; how it went is said."""
        study = self._session.study
        everything = AllFindings(study, self._session.through)

        def make(page: Page) -> str:
            missing = hand_over(page, study, path, self.press, everything=everything)
            return f"Handed over: {printable(str(path))}.{left_behind(missing)}"

        self._make(path, study, everything, make)

    def write_to(self, path: Path) -> None:
        """Write the account, with its evidence where that is ticked; how it went is said in place."""
        study = self._session.study
        everything = AllFindings(study, self._session.through)
        evidence = self.evidence.isChecked()

        def make(page: Page) -> str:
            written = export(page, study, path, self.press, evidence=evidence, everything=everything)
            more = f" and {len(written) - 1} files beside it" if len(written) > 1 else ""
            return f"Written: {printable(str(path))}{more}."

        self._make(path, study, everything, make, possible=path.suffix.lower() in KINDS)

    def _make(
        self,
        path: Path,
        study: Study,
        everything: AllFindings,
        make: Callable[[Page], str],
        *,
        possible: bool = True,
    ) -> None:
        """Pictures are drawn one by one, so that typing stays free; the rest is made off the interface thread."""
        session, today = self._session, date.today()

        def take(told: str | Exception | None) -> None:
            self.writing = False
            if isinstance(told, str):
                session.tell(told)
            elif told is not None:
                session.notice(f"“{printable(path.name)}” could not be written: {said_of(told)}")

        def draw() -> None:
            patient = _Patient(self.press)
            page = page_of(study, patient, today=today, everything=everything)
            if patient.more:
                self.said.setText("drawing…")
                QTimer.singleShot(1, lambda: None if sip.isdeleted(self) else draw())
                return
            self.said.setText("")
            session.off(lambda: make(page), take)

        self.writing = True
        if not possible:
            take(UnknownKind(path.suffix))
            return
        draw()

    def _file_name(self) -> str:
        return ("".join(c for c in self._session.study.title if c not in '\\/:*?"<>|') or "account")[:80]

    def preview(self) -> None:
        """Show the print before it is printed."""
        from PyQt6.QtPrintSupport import QPrintPreviewDialog

        dialog = QPrintPreviewDialog(self._printer(), self)
        dialog.setWindowTitle("How the account prints")
        dialog.paintRequested.connect(self.print_to)
        dialog.exec()

    def print(self) -> None:
        """Ask for the printer, then print."""
        from PyQt6.QtPrintSupport import QPrintDialog

        printer = self._printer()
        if QPrintDialog(printer, self).exec():
            self.print_to(printer)

    def print_to(self, printer: Any) -> None:
        """Set the page on a printer."""
        from bright_tether.pictures.page import print_on

        session = self._session
        page = page_of(session.study, self.press, today=date.today())
        print_on(printer, html_body(page, session.study), page.drawings, page.style)

    def resizeEvent(self, event: Any) -> None:
        """Set the page to its new width."""
        super().resizeEvent(event)
        if self.isVisible():
            self._later.start(_REST)

    def _printer(self) -> Any:
        from PyQt6.QtPrintSupport import QPrinter

        from bright_tether.pictures.page import a4

        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setPageLayout(a4())
        printer.setDocName(self._session.study.title)
        return printer

    def _study_changed(self) -> None:
        if self.isVisible():
            self.pins.refresh()
            self._later.start(_REST)

    def _choose_style(self, style: object) -> None:
        self._session.do(choose_style(self._session.history.study, style))  # type: ignore[arg-type]
