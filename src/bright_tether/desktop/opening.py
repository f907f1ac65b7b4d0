"""What is opened or dropped: studies at once, everything else on a page of its own before it is taken in."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QStackedWidget

from bright_tether.desktop.document import SUFFIX, Document
from bright_tether.desktop.session import Session
from bright_tether.desktop.theming import Theme
from bright_tether.far.place import Place
from bright_tether.study.package import is_package
from bright_tether.tables.table import Stack, Table
from bright_tether.theme.tokens import Tokens

#: Pictures of plots, to read points off.
PICTURES = (".png", ".jpg", ".jpeg", ".bmp", ".webp")


class Opening(QObject):
    """The pages on which files stand before they are taken in. stage : where a page is put up."""

    def __init__(self, session: Session, document: Document, stage: QStackedWidget, theme: Theme) -> None:
        super().__init__(stage)
        self._session, self._document, self._stage, self._theme = session, document, stage, theme
        self.pages: dict[str, Any] = {}
        session.reread_found.connect(self.show_reread)
        session.moved.connect(self.point_to)

    def open_path(self, path: Path) -> None:
        """Open a study; show any other file before it is taken in."""
        if _is_study(path):
            self._document.open(path)
        elif path.suffix.lower() in PICTURES:
            self.read_picture(path)
        elif Place(path).too_large:
            self.look_at_far(path)
        else:
            self._preview(path)

    def open_paths(self, paths: Sequence[Path]) -> None:
        """Open files; several tables are offered as one, or one after the other."""
        tables = [path for path in paths if not _is_study(path) and path.suffix.lower() not in PICTURES]
        for path in paths:
            alone = len(tables) < 2 and not isinstance(self._session.table.recipe, Stack)
            if alone or path not in tables:
                self.open_path(path)
        if len(tables) > 1 or (tables and isinstance(self._session.table.recipe, Stack)):
            page = self._stack_page()
            page.show_files(tables, self._putting_up(page), self._open_each)

    def stack_tables(self) -> None:
        """Offer the study's tables as one."""
        page = self._stack_page()
        page.show_tables(self._session.history.study.tables, self._putting_up(page))

    def show_reread(self, table_id: str, fresh: Table) -> None:
        """Show what a table's file comes to now, before it is taken in."""
        from bright_tether.desktop.steps.rereading import RereadPage

        page = self._page("rereading", lambda: RereadPage(self._session))
        page.show_file(table_id, fresh, self._putting_up(page))

    def point_to(self, table_id: str) -> None:
        """Say where a table's file is now."""
        name, _ = QFileDialog.getOpenFileName(self._stage, "Where the file is now", "", "All files (*)")
        if name:
            self._session.reread(table_id, Path(name))

    def hold_against(self, path: Path | None = None) -> None:
        """Hold the study against another one. path : where that is, None to ask."""
        if path is None:
            name, _ = QFileDialog.getOpenFileName(
                self._stage, "The other study", "", f"Studies (*{SUFFIX} *{SUFFIX}~ *.zip);;All files (*)"
            )
            if not name:
                return
            path = Path(name)
        from bright_tether.desktop.steps.differing import DifferingPage

        page = self._page("differing", lambda: DifferingPage(self._session))
        page.show_other(path, self._putting_up(page))

    def look_at_columns(self) -> None:
        """Look at every column of the table at hand, and which of them go with y."""
        from bright_tether.desktop.steps.screening import ScreenPage

        page = self._page("screening", lambda: ScreenPage(self._session, self._theme.tokens))
        self._stage.setCurrentWidget(page)
        page.start()

    def look_at_far(self, path: Path) -> None:
        """Show a table that stays where it is, before a share of it is drawn."""
        from bright_tether.desktop.steps.far_table import FarTablePage

        def make() -> FarTablePage:
            page = FarTablePage(self._session)
            page.whole_wanted.connect(self._preview)
            return page

        page = self._page("far table", make)
        page.show_place(path, self._putting_up(page))

    def read_picture(self, path: Path | None) -> None:
        """Read points off a picture, from a file or the clipboard."""
        from bright_tether.desktop.steps.trace import TracePage

        page = self._page("trace", lambda: TracePage(self._session, self._theme.tokens))
        if page.show_file(path):
            self._stage.setCurrentWidget(page)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        if "trace" in self.pages:
            self.pages["trace"].plate.tokens = tokens
        if "screening" in self.pages:
            self.pages["screening"].restyle(tokens)

    def _preview(self, path: Path) -> None:
        from bright_tether.desktop.steps.preview import PreviewPage

        page = self._page("preview", lambda: PreviewPage(self._session))
        page.show_file(path, self._putting_up(page))

    def _open_each(self, paths: Sequence[Path]) -> None:
        for path in paths:
            self.open_path(path)

    def _stack_page(self) -> Any:
        from bright_tether.desktop.steps.stacking import StackPage

        return self._page("stacking", lambda: StackPage(self._session))

    def _putting_up(self, page: Any) -> Callable[[], object]:
        return lambda: self._stage.setCurrentWidget(page)

    def _page(self, name: str, make: Callable[[], Any]) -> Any:
        if name not in self.pages:
            self.pages[name] = page = make()
            page.done.connect(self._page_done)
            self._stage.addWidget(page)
        return self.pages[name]

    def _page_done(self, taken: bool) -> None:
        self._session.show_step("gather" if taken else self._session.step)


def _is_study(path: Path) -> bool:
    return path.suffix == SUFFIX or is_package(path)
